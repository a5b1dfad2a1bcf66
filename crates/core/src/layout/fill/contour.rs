//! Loops in floor of any shape: lines that follow the boundary one inside the other, joined into one tube.
//!
//! Lines at growing depth from the boundary are taken in pairs; the floor between the two lines of a pair is a
//! *track*. Every track is cut open at one place and linked to the next track inside it on alternate sides of the
//! cut, so that tracks and links form one body without holes. Its outline is the loop: supply lies beside return
//! everywhere, and the tube leaves where it came in. Where the floor has necks the inner tracks fall into several
//! parts, and the body becomes a tree.
//!
//! After the iso-contours of H. Zhao et al., "Connected Fermat spirals for layered fabrication", ACM Transactions on
//! Graphics 35 (2016), with tracks and outlines in the place of spirals.

use crate::geometry::distance;
use crate::geometry::outline::polygon;
use crate::geometry::outline::sides;
use crate::geometry::outline::signed_area;
use crate::geometry::outline::within;
use crate::geometry::polygon::Around;
use crate::geometry::polygon::corners;
use crate::geometry::polygon::inset;
use crate::geometry::polygon::inset_evenly;
use crate::geometry::raster::within_reach;
use crate::geometry::segment::between_segments;
use crate::geometry::segment::to_segment;
use crate::job::Point;
use crate::layout::curve::relax::{relax, tight_places};
use crate::layout::rules::audit::SLACK_M;
use geo::{BooleanOps, MultiPolygon, Polygon, unary_union};

/// Spacings are tried shrunk and stretched by these factors, to find one that leaves no cold middle.
const STRETCHES: [f64; 15] =
    [1.0, 0.97, 1.03, 0.94, 1.06, 0.91, 1.09, 0.985, 1.015, 0.955, 1.045, 0.925, 1.075, 0.9, 1.1];
/// The first of them are always tried, the others where the floor is covered worse than by [`FAIR`].
const ALWAYS: usize = 7;
const FAIR: f64 = 0.97;
/// They are looked at in batches; of each so many are mended.
const BATCHES: [std::ops::Range<usize>; 4] = [0..1, 1..3, 3..7, 7..15];
const MENDED: usize = 3;
/// Before it is mended a tight bend counts like so much floor left cold; a spacing other than the wanted, like this much
/// for each whole.
const TIGHT: f64 = 0.002;
const ODD: f64 = 0.02;
/// Cuts and links reach this far over the lines that they join, m.
const OVER_M: f64 = 0.004;
/// Distance of the points at which coverage is looked at, m.
const RASTER_M: f64 = 0.08;
/// With more corners than this in a loop fewer spacings are tried.
const MANY_CORNERS: usize = 120;
/// With that much of the floor within reach no other spacing is tried.
const ENOUGH: f64 = 0.985;
/// More lines than this are not drawn.
const MOST_LINES: usize = 400;

/// A piece of floor for one loop.
#[derive(Debug, Clone)]
pub struct LoopFloor {
    /// Corners, anticlockwise.
    pub outline: Vec<Point>,
    /// Distance of the first line from each side, m.
    pub first_m: Vec<f64>,
    /// Whether a side is an outside wall.
    pub outside: Vec<bool>,
    /// Field spacing, m.
    pub core_m: f64,
    /// Spacing in the band along outside walls, m.
    pub edge_m: f64,
    /// Width of the band, m.
    pub band_m: f64,
    /// Smallest bend radius, m.
    pub radius_m: f64,
    /// Least distance of tube from tube, m.
    pub gap_m: f64,
}

/// A filled patch.
#[derive(Debug, Clone)]
pub struct Filled {
    /// Corners of the loop with its ways.
    pub route: Vec<Point>,
    /// Share of the patch within reach of the tube.
    pub coverage: f64,
    /// Bends tighter than the tube takes, and ways that come too near to others.
    pub tight: usize,
}

impl LoopFloor {
    /// Depth of line `j` from each side.
    fn depths(&self, j: usize, stretch: f64) -> Vec<f64> {
        self.first_m
            .iter()
            .zip(&self.outside)
            .map(|(first, outside)| {
                let mut depth = *first;
                for _ in 0..j {
                    let tight = *outside && depth < self.band_m;
                    depth += if tight { self.edge_m.min(self.core_m) } else { self.core_m } * stretch;
                }
                depth
            })
            .collect()
    }

    /// The loop of this patch that comes in near `gate` through its boundary, with the ways by which its left and right
    /// end are reached: of them the last corner may move, as long as they keep their distance from all `others`.
    pub fn fill(&self, gate: Point, ways: [&[Point]; 2], others: &[Vec<Point>]) -> Option<Filled> {
        let fixed = ways.map(|w| w.len().saturating_sub(1));
        let mut best: Option<(f64, Filled)> = None;
        let mut tries = STRETCHES.len();
        for batch in BATCHES {
            let fair = best.as_ref().is_some_and(|b| b.1.tight == 0 && b.1.coverage > FAIR);
            if fair && batch.start >= ALWAYS {
                break;
            }
            // mending bends takes the time: only what looks best before is mended
            let mut drafts: Vec<(f64, f64, Vec<Point>)> = Vec::new();
            for &stretch in STRETCHES.get(batch.start..batch.end.min(tries)).unwrap_or_default() {
                let lines = self.lines(stretch);
                for turn in [1.0, -1.0] {
                    let Some(field) = self.route(&lines, gate, stretch, turn) else { continue };
                    let whole: Vec<Point> = ways[0].iter().chain(&field).chain(ways[1].iter().rev()).copied().collect();
                    let tight = tight_places(&whole, self.radius_m).len();
                    let value = self.coverage(&whole) - TIGHT * tight as f64 - ODD * (stretch - 1.0).abs();
                    drafts.push((value, stretch, whole));
                }
            }
            drafts.sort_by(|a, b| b.0.total_cmp(&a.0));
            for (_, stretch, whole) in drafts.into_iter().take(MENDED) {
                let route = relax(&whole, self.radius_m, self.gap_m, fixed);
                if route.len() > MANY_CORNERS {
                    tries = 3;
                }
                let tight = tight_places(&route, self.radius_m).len()
                    + self.clashes(&route, fixed, others)
                    + self.strays(&route, fixed);
                let coverage = self.coverage(&route);
                // bends first; then rather the spacing that was asked for, where the floor is covered as well
                let value = coverage - tight as f64 - ODD * (stretch - 1.0).abs();
                if best.as_ref().is_none_or(|b| value > b.0 + 1e-9) {
                    best = Some((value, Filled { route, coverage, tight }));
                }
                if best.as_ref().is_some_and(|b| b.1.tight == 0 && b.1.coverage > ENOUGH) {
                    return best.map(|b| b.1);
                }
            }
        }
        best.map(|b| b.1)
    }

    /// The parts of the lines one inside the other.
    fn lines(&self, stretch: f64) -> Vec<Vec<Vec<Point>>> {
        let at = |j| inset(&self.outline, &self.depths(j, stretch));
        (0..MOST_LINES).map(at).take_while(|parts| !parts.is_empty()).collect()
    }

    fn route(&self, lines: &[Vec<Vec<Point>>], gate: Point, stretch: f64, turn: f64) -> Option<Vec<Point>> {
        let outer = lines.first()?;
        let first = outer
            .iter()
            .min_by(|a, b| Around::new(a).nearest(gate).1.total_cmp(&Around::new(b).nearest(gate).1))?
            .clone();
        let mut body = LinkedBands { lines, width: self.core_m * stretch, radius: self.radius_m, parts: vec![] };
        let around = Around::new(&first);
        let (at, _) = around.nearest(gate);
        body.track(0, &first, at, turn);
        let whole = unary_union(&body.parts);
        let half = body.width / 2.0;
        let ends = [around.at(at - half), around.at(at + half)];
        let body: Vec<Point> = whole
            .iter()
            .map(corners)
            .min_by(|a, b| Around::new(a).nearest(ends[0]).1.total_cmp(&Around::new(b).nearest(ends[0]).1))?;
        let outline = Around::new(&body);
        let [left, right] = ends.map(|p| outline.nearest(p).0);
        let mut route = outline.path(right, left);
        route.reverse();
        Some(route)
    }

    /// Stretches about the ends of a route that come too near to other ways.
    fn clashes(&self, route: &[Point], fixed: [usize; 2], others: &[Vec<Point>]) -> usize {
        let n = route.len() - 1;
        let ends = (0..(fixed[0] + 2).min(n)).chain(n.saturating_sub(fixed[1] + 2)..n);
        ends.filter(|&a| {
            let (p, q) = (route[a], route[a + 1]);
            others.iter().flat_map(|o| o.windows(2)).any(|w| between_segments(p, q, w[0], w[1]) < self.gap_m - 1e-6)
        })
        .count()
    }

    /// Corners of the field that mending has moved nearer to a side than its first line.
    fn strays(&self, route: &[Point], fixed: [usize; 2]) -> usize {
        let field = fixed[0] + 2..route.len().saturating_sub(fixed[1] + 2);
        let near = |p: &Point| {
            sides(&self.outline).zip(&self.first_m).any(|((a, b), first)| to_segment(*p, a, b) < first - SLACK_M)
        };
        route.get(field).unwrap_or_default().iter().filter(|p| near(p)).count()
    }

    /// Share of the patch within reach of a route.
    fn coverage(&self, route: &[Point]) -> f64 {
        let reach = 0.55 * self.core_m + 0.01;
        let [x0, y0, x1, y1] = crate::geometry::outline::bounds(&self.outline);
        let size = [x1 - x0, y1 - y0].map(|l| ((l / RASTER_M) as usize + 1).min(2000));
        let stretches: Vec<[Point; 2]> = route.windows(2).map(|w| [w[0], w[1]]).collect();
        let warm = within_reach([x0, y0], size, RASTER_M, &stretches, reach);
        let (mut all, mut covered) = (0usize, 0usize);
        for j in 0..size[1] {
            for i in 0..size[0] {
                let p = [x0 + i as f64 * RASTER_M, y0 + j as f64 * RASTER_M];
                if within(&self.outline, p) {
                    all += 1;
                    covered += usize::from(warm[j * size[0] + i]);
                }
            }
        }
        covered as f64 / all.max(1) as f64
    }
}

/// Tracks and links, as they are put together.
struct LinkedBands<'a> {
    /// Parts of the lines at each depth.
    lines: &'a [Vec<Vec<Point>>],
    width: f64,
    radius: f64,
    parts: Vec<Polygon>,
}

impl LinkedBands<'_> {
    fn inside(&self, level: usize, outer: &[Point]) -> Vec<&'_ Vec<Point>> {
        let parts = self.lines.get(level).map_or(&[][..], |l| l);
        parts.iter().filter(|p| within(outer, middle_of_side(p))).collect()
    }

    /// The track whose outer line is `outer`, entered `at` so far along it; the cut lies from there in the direction
    /// of `turn` (1 on, -1 back).
    fn track(&mut self, level: usize, outer: &[Point], at: f64, turn: f64) {
        let w = self.width;
        let around = Around::new(outer);
        let inner: Vec<Vec<Point>> = self.inside(level + 1, outer).into_iter().cloned().collect();
        let wide = !inset_evenly(outer, 0.98 * self.radius).is_empty();
        if inner.is_empty() || around.total < 6.0 * w {
            if wide {
                self.parts.push(polygon(outer));
            }
            return;
        }
        let mut ring: MultiPolygon = polygon(outer).into();
        for (k, hole) in inner.iter().enumerate() {
            ring = ring.difference(&polygon(hole));
            let rim = Around::new(hole);
            // beside the gate, or for further holes where they come nearest to it; straight across in any case
            let wanted = if k == 0 { at + turn * w } else { around.nearest(rim.at(rim.nearest(around.at(at)).0)).0 };
            let free = |s: f64| {
                let from_gate = (s - at).rem_euclid(around.total);
                k > 0 || from_gate.min(around.total - from_gate) > 0.99 * w
            };
            let cut = straight_across(&around, &rim, wanted, turn, w, free).unwrap_or(wanted);
            ring = ring.difference(&bridge(&around, &rim, cut, w));
            let mut children: Vec<Vec<Point>> = self.inside(level + 2, hole).into_iter().cloned().collect();
            let beyond = around.at(cut + turn * w);
            children.sort_by(|p, q| Around::new(p).nearest(beyond).1.total_cmp(&Around::new(q).nearest(beyond).1));
            for child in children {
                if inset_evenly(&child, 0.98 * self.radius).is_empty() {
                    continue;
                }
                let own = Around::new(&child);
                let near = own.nearest(beyond).0;
                // a link must not end at the cut
                let clear = |s: f64| {
                    let off = (around.nearest(own.at(s)).0 - cut).rem_euclid(around.total);
                    off.min(around.total - off) > 0.99 * w
                };
                let gate = straight_across(&own, &rim, near, turn, w, clear).unwrap_or(near);
                self.parts.push(bridge(&own, &rim, gate, w));
                self.track(level + 2, &child, gate, -turn);
            }
        }
        self.parts.extend(ring);
    }
}

/// From a place along one line on in the direction of `turn`, or else back, the first where a bridge of that width to
/// the other line is straight and square.
fn straight_across(
    from: &Around,
    to: &Around,
    near: f64,
    turn: f64,
    width: f64,
    allowed: impl Fn(f64) -> bool,
) -> Option<f64> {
    let step = 0.2 * width;
    let most = (0.5 * from.total / step) as usize;
    let square = |s: f64| {
        let ends = [s - 0.5 * width, s + 0.5 * width].map(|e| {
            let p = from.at(e);
            let (foot, d) = to.nearest(p);
            (p, to.at(foot), d)
        });
        let [(a, fa, da), (b, fb, db)] = ends;
        from.to_corner(s) >= 0.5 * width - 1e-6
            && (da - db).abs() < 1e-4
            && (distance(a, b) - width).abs() < 1e-4
            && (distance(fa, fb) - width).abs() < 1e-3
    };
    (0..=most).flat_map(|k| [k as f64, -(k as f64)]).map(|k| near + turn * k * step).find(|&s| allowed(s) && square(s))
}

/// The floor between two lines at a place along the first, as wide as a track.
fn bridge(from: &Around, to: &Around, at: f64, width: f64) -> Polygon {
    let across = |s: f64| {
        let p = from.at(s);
        (p, to.at(to.nearest(p).0))
    };
    quad(across(at - 0.5 * width), across(at + 0.5 * width))
}

fn middle_of_side(ring: &[Point]) -> Point {
    let longest = sides(ring).max_by(|a, b| distance(a.0, a.1).total_cmp(&distance(b.0, b.1)));
    longest.map_or([0.0; 2], |(a, b)| [(a[0] + b[0]) / 2.0, (a[1] + b[1]) / 2.0])
}

/// The quadrilateral between two crossings, a little longer than they are.
fn quad(a: (Point, Point), b: (Point, Point)) -> Polygon {
    let longer = |(p, q): (Point, Point)| {
        let l = distance(p, q).max(1e-9);
        let d = [(q[0] - p[0]) / l * OVER_M, (q[1] - p[1]) / l * OVER_M];
        ([p[0] - d[0], p[1] - d[1]], [q[0] + d[0], q[1] + d[1]])
    };
    let ((p, q), (r, s)) = (longer(a), longer(b));
    let mut ring = vec![p, r, s, q];
    if signed_area(&ring) < 0.0 {
        ring.reverse();
    }
    polygon(&ring)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::layout::curve::bend;
    use crate::layout::curve::relax::tests::least_gap;

    fn patch(outline: Vec<Point>, core_m: f64) -> LoopFloor {
        let n = outline.len();
        LoopFloor {
            outline,
            first_m: vec![0.1; n],
            outside: vec![false; n],
            core_m,
            edge_m: core_m,
            band_m: 0.8,
            radius_m: 0.08,
            gap_m: 0.04,
        }
    }

    fn hexagon() -> Vec<Point> {
        (0..6).map(|k| f64::from(k) * std::f64::consts::PI / 3.0).map(|a| [3.2 * a.cos(), 3.2 * a.sin()]).collect()
    }

    #[test]
    fn shapes_of_many_kinds_are_filled_without_touching() {
        let shapes: Vec<(&str, Vec<Point>, Point)> = vec![
            ("rectangle", vec![[0.0, 0.0], [5.0, 0.0], [5.0, 4.0], [0.0, 4.0]], [2.0, 0.0]),
            ("hexagon", hexagon(), [0.0, -2.77]),
            ("trapezoid", vec![[0.0, 0.0], [7.2, 0.0], [7.2, 3.2], [0.0, 5.6]], [2.0, 0.0]),
            ("skew", vec![[0.0, 0.0], [5.6, 0.7], [6.1, 4.6], [-0.4, 5.2]], [-0.2, 2.6]),
            ("triangle", vec![[0.0, 0.0], [6.0, 0.0], [0.0, 5.0]], [2.0, 0.0]),
            ("boot", vec![[0.0, 0.0], [7.0, 0.0], [6.6, 2.6], [3.0, 3.0], [2.8, 6.0], [0.0, 5.5]], [2.0, 0.0]),
        ];
        for (name, outline, gate) in shapes {
            let filled = patch(outline, 0.2).fill(gate, [&[], &[]], &[]).expect(name);
            assert!(filled.coverage > 0.96, "{name}: {}", filled.coverage);
            assert_eq!(filled.tight, 0, "{name}");
            // mended corners may come half a spacing nearer
            assert!(least_gap(&filled.route) > 0.1, "{name}: {}", least_gap(&filled.route));
            let (a, b) = (filled.route[0], filled.route[filled.route.len() - 1]);
            assert!((distance(a, b) - 0.2).abs() < 0.03, "{name}: the ends lie side by side: {a:?} {b:?}");
        }
    }

    #[test]
    fn the_band_is_tight_along_its_wall_only() {
        let mut room = patch(vec![[0.0, 0.0], [6.0, 0.0], [6.0, 5.0], [0.0, 5.0]], 0.3);
        room.edge_m = 0.15;
        room.outside[2] = true;
        assert_eq!(room.depths(2, 1.0), [0.7, 0.7, 0.4, 0.7]);
        let tube = |p: &LoopFloor| {
            crate::layout::curve::length(&bend(&p.fill([2.0, 0.0], [&[], &[]], &[]).expect("filled").route, 0.08, 0.08))
        };
        let banded = tube(&room);
        room.outside[2] = false;
        assert!(banded > 1.05 * tube(&room));
    }

    #[test]
    fn what_is_too_small_is_not_filled() {
        assert!(
            patch(vec![[0.0, 0.0], [0.3, 0.0], [0.3, 0.3], [0.0, 0.3]], 0.2)
                .fill([0.1, 0.0], [&[], &[]], &[])
                .is_none()
        );
    }
}

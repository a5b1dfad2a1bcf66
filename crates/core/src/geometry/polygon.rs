//! Regions of floor: areas that outlines share, insets by different depths, parts, places along a boundary.
//!
//! ```
//! use fuoco_core::geometry::polygon::{inset_evenly, shared_area};
//! let square = [[0.0, 0.0], [4.0, 0.0], [4.0, 4.0], [0.0, 4.0]];
//! let other = [[2.0, 2.0], [6.0, 2.0], [6.0, 6.0], [2.0, 6.0]];
//! assert_eq!(shared_area(&square, &other), 4.0);
//! assert_eq!(inset_evenly(&square, 0.5)[0].len(), 4);
//! ```

use super::outline::{bounds, polygon, sides, signed_area, within};
use super::segment::to_segment;
use super::{Point, distance};
use geo::{Area, BooleanOps, MultiPolygon, Polygon, unary_union};

/// Corners closer than this are one, m.
const SAME_M: f64 = 2e-4;
/// Pieces smaller than this are nothing, m².
const NOTHING_M2: f64 = 1e-4;

/// How far along a straight (a point and its direction) the sides of an outline cross it, either way.
pub fn crossings(outline: &[Point], from: Point, d: Point) -> impl Iterator<Item = f64> + '_ {
    sides(outline).filter_map(move |(p, q)| {
        let e = [q[0] - p[0], q[1] - p[1]];
        let cross = d[0] * e[1] - d[1] * e[0];
        let o = [p[0] - from[0], p[1] - from[1]];
        let (t, s) = ((o[0] * e[1] - o[1] * e[0]) / cross, (o[0] * d[1] - o[1] * d[0]) / cross);
        (cross.abs() > 1e-12 && (-1e-9..=1.0 + 1e-9).contains(&s)).then_some(t)
    })
}

/// The corners of a polygon's outer boundary, anticlockwise, without repeated or needless ones.
pub fn corners(p: &Polygon) -> Vec<Point> {
    let ring: Vec<Point> = p.exterior().coords().skip(1).map(|c| [c.x, c.y]).collect();
    let mut out = tidy(&ring);
    if signed_area(&out) < 0.0 {
        out.reverse();
    }
    out
}

/// Drops corners that repeat or lie on a straight.
pub fn tidy(ring: &[Point]) -> Vec<Point> {
    let mut out = ring.to_vec();
    loop {
        let n = out.len();
        let needless = (0..n).find(|&i| {
            let (a, b, c) = (out[(i + n - 1) % n], out[i], out[(i + 1) % n]);
            distance(a, b) < SAME_M || to_segment(b, a, c) < SAME_M
        });
        match needless {
            Some(i) if n > 3 => {
                out.remove(i);
            }
            _ => return out,
        }
    }
}

/// The part of some floor that holds a point.
pub fn part_with(floor: &MultiPolygon, at: Point) -> Option<Vec<Point>> {
    floor.iter().map(corners).find(|c| within(c, at))
}

/// The parts of an outline (anticlockwise, simple) that lie farther from each side than its depth, m; depths in the
/// order of the sides. Corners stay corners.
pub fn inset(outline: &[Point], depths: &[f64]) -> Vec<Vec<Point>> {
    let n = outline.len();
    let mut strips: Vec<Polygon> = Vec::with_capacity(2 * n);
    let normal = |i: usize| {
        let (a, b) = (outline[i], outline[(i + 1) % n]);
        let l = distance(a, b).max(1e-12);
        [(a[1] - b[1]) / l, (b[0] - a[0]) / l]
    };
    for i in 0..n {
        let (a, b, m, d) = (outline[i], outline[(i + 1) % n], normal(i), depths[i]);
        if d <= 0.0 {
            continue;
        }
        let into = |p: Point, s: f64| [p[0] + m[0] * s, p[1] + m[1] * s];
        strips.push(polygon(&[into(a, -0.01), into(b, -0.01), into(b, d), into(a, d)]));
        // at a corner that points into the floor the two strips leave a wedge between them
        let (next, e) = (normal((i + 1) % n), depths[(i + 1) % n]);
        let turn = m[0] * next[1] - m[1] * next[0];
        if turn < -1e-9 && e > 0.0 {
            let along = |k: Point, s: f64| [b[0] + k[0] * s, b[1] + k[1] * s];
            let (p, q) = (along(m, d), along(next, e));
            // where the two inset sides meet, unless that is far away
            let t = ((q[0] - p[0]) * next[0] + (q[1] - p[1]) * next[1]) / (-m[1] * next[0] + m[0] * next[1]);
            let tip = [p[0] - m[1] * t, p[1] + m[0] * t];
            if distance(tip, b) < 2.0 * d.max(e) {
                strips.push(polygon(&[b, q, tip, p]));
            } else {
                strips.push(polygon(&[b, q, p]));
            }
        }
    }
    let left = polygon(outline).difference(&unary_union(&strips));
    left.iter().map(corners).filter(|c| c.len() >= 3 && signed_area(c) > NOTHING_M2).collect()
}

/// The same depth from every side.
pub fn inset_evenly(outline: &[Point], depth: f64) -> Vec<Vec<Point>> {
    inset(outline, &vec![depth; outline.len()])
}

/// A rectangle along the axes, for the quick way.
fn aligned_box(outline: &[Point]) -> Option<[f64; 4]> {
    if outline.len() != 4 {
        return None;
    }
    let straight = (0..4).all(|i| {
        let (p, q) = (outline[i], outline[(i + 1) % 4]);
        (p[0] - q[0]).abs() < 1e-9 || (p[1] - q[1]).abs() < 1e-9
    });
    straight.then(|| bounds(outline))
}

/// Area that two outlines share, m².
pub fn shared_area(a: &[Point], b: &[Point]) -> f64 {
    let (p, q) = (bounds(a), bounds(b));
    let (w, h) = (p[2].min(q[2]) - p[0].max(q[0]), p[3].min(q[3]) - p[1].max(q[1]));
    if w <= 0.0 || h <= 0.0 {
        return 0.0;
    }
    if aligned_box(a).is_some() && aligned_box(b).is_some() {
        return w * h;
    }
    polygon(a).intersection(&polygon(b)).unsigned_area()
}

/// A closed boundary measured along from its first corner.
pub struct Around<'a> {
    ring: &'a [Point],
    starts: Vec<f64>,
    /// Length of the whole, m.
    pub total: f64,
}

impl<'a> Around<'a> {
    /// Measures a boundary.
    pub fn new(ring: &'a [Point]) -> Around<'a> {
        let mut total = 0.0;
        let starts = sides(ring)
            .map(|(a, b)| {
                let start = total;
                total += distance(a, b);
                start
            })
            .collect();
        Around { ring, starts, total }
    }

    /// The point at a distance along.
    pub fn at(&self, s: f64) -> Point {
        let s = s.rem_euclid(self.total.max(1e-9));
        let i = self.side(s);
        let (a, b) = (self.ring[i], self.ring[(i + 1) % self.ring.len()]);
        let t = (s - self.starts[i]) / distance(a, b).max(1e-12);
        [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t]
    }

    fn side(&self, s: f64) -> usize {
        self.starts.partition_point(|x| *x <= s).max(1) - 1
    }

    /// The nearest place on the boundary: how far along, and its distance.
    pub fn nearest(&self, p: Point) -> (f64, f64) {
        let mut best = (0.0, f64::INFINITY);
        for (i, (a, b)) in sides(self.ring).enumerate() {
            let d = to_segment(p, a, b);
            if d < best.1 - 1e-9 {
                let l = distance(a, b).max(1e-12);
                let t = ((p[0] - a[0]) * (b[0] - a[0]) + (p[1] - a[1]) * (b[1] - a[1])) / l;
                best = (self.starts[i] + t.clamp(0.0, l), d);
            }
        }
        best
    }

    /// Distance from a place to the nearest corner along the boundary.
    pub fn to_corner(&self, s: f64) -> f64 {
        let s = s.rem_euclid(self.total.max(1e-9));
        let i = self.side(s);
        let end = self.starts.get(i + 1).copied().unwrap_or(self.total);
        (s - self.starts[i]).min(end - s)
    }

    /// Corners passed from `from` on in the order of the boundary up to `to`, both ends included.
    pub fn path(&self, from: f64, to: f64) -> Vec<Point> {
        let (from, to) = (from.rem_euclid(self.total), to.rem_euclid(self.total));
        let length = (to - from).rem_euclid(self.total);
        let mut out = vec![self.at(from)];
        let mut passed: Vec<(f64, Point)> = self
            .starts
            .iter()
            .zip(self.ring)
            .map(|(s, p)| ((s - from).rem_euclid(self.total), *p))
            .filter(|(d, _)| *d > 1e-9 && *d < length - 1e-9)
            .collect();
        passed.sort_by(|a, b| a.0.total_cmp(&b.0));
        out.extend(passed.into_iter().map(|x| x.1));
        out.push(self.at(to));
        out
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const L: [Point; 6] = [[0.0, 0.0], [6.0, 0.0], [6.0, 3.0], [3.0, 3.0], [3.0, 5.0], [0.0, 5.0]];

    #[test]
    fn an_inset_keeps_its_corners_and_its_distances() {
        let inner = inset_evenly(&L, 0.5);
        assert_eq!(inner.len(), 1);
        assert_eq!(inner[0].len(), 6, "{inner:?}");
        // 5 × 2 below the notch, 2 × 2 beside it
        assert!((signed_area(&inner[0]) - 14.0).abs() < 1e-6);
        let uneven = inset(&L, &[1.0, 0.0, 0.0, 0.0, 0.0, 0.0]);
        assert!((signed_area(&uneven[0]) - 18.0).abs() < 1e-2);
    }

    #[test]
    fn a_neck_parts_an_inset() {
        let waist = [
            [0.0, 0.0],
            [3.0, 0.0],
            [3.0, 1.2],
            [5.0, 1.2],
            [5.0, 0.0],
            [8.0, 0.0],
            [8.0, 4.0],
            [5.0, 4.0],
            [5.0, 2.0],
            [3.0, 2.0],
            [3.0, 4.0],
            [0.0, 4.0],
        ];
        assert_eq!(inset_evenly(&waist, 0.3).len(), 1);
        assert_eq!(inset_evenly(&waist, 0.5).len(), 2);
        assert!(inset_evenly(&waist, 2.5).is_empty());
    }

    #[test]
    fn places_along_a_boundary() {
        let square = [[0.0, 0.0], [2.0, 0.0], [2.0, 2.0], [0.0, 2.0]];
        let around = Around::new(&square);
        assert_eq!(around.total, 8.0);
        assert_eq!(around.at(3.0), [2.0, 1.0]);
        assert_eq!(around.at(-1.0), [0.0, 1.0]);
        assert_eq!(around.nearest([1.0, -1.0]), (1.0, 1.0));
        assert_eq!(around.to_corner(2.5), 0.5);
        assert_eq!(around.path(7.0, 1.0), [[0.0, 1.0], [0.0, 0.0], [1.0, 0.0]]);
        assert_eq!(around.path(1.0, 7.0).len(), 5);
    }
}

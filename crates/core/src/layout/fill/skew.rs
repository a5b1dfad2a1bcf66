//! A room's own loops where not all is at right angles: the floor is cut into slices that spread from the entry, and
//! each slice is filled along its contour.

use crate::geometry::distance;
use crate::geometry::outline::polygon;
use crate::geometry::outline::sides;
use crate::geometry::outline::signed_area;
use crate::geometry::polygon::Around;
use crate::geometry::polygon::crossings;
use crate::geometry::polygon::part_with;
use crate::job::Point;
use crate::layout::fill::contour::LoopFloor;
use crate::layout::fill::region::{Frame, Region};
use crate::layout::topology::lanes::{Fan, entry_places};
use crate::layout::topology::task::{Lane, LoopKey, Obstruction, Own, RoomTask};
use geo::{BooleanOps, MultiPolygon};

/// With more loops than this the slices would be slivers: such a room is laid on a lattice, and keeps a margin of steps
/// along its skew walls.
pub(crate) const MOST_SLICES: usize = 4;
/// Lines are this much closer than the spacing: bends and what the slices leave between them take tube from the field.
const SKEW_DENSER: f64 = 0.95;
/// A cut is turned by bisection so many times.
const TURNS: usize = 40;

/// Lays the loops of a room in frame coordinates; `lanes` are the ways of the tubes that pass it.
pub(crate) fn own_loops(
    task: &RoomTask,
    frame: &Frame,
    region: &Region,
    lanes: &[&[Point]],
    entry: Point,
    opening: (f64, f64),
    passing: (usize, usize),
) -> Result<Own, Obstruction> {
    let k = task.loops;
    let c = task.wall_clearance_m;
    let outside: Vec<[Point; 2]> = task.outside.iter().map(|e| e.map(|p| frame.local(p))).collect();
    let on_outside = |a: Point, b: Point| {
        outside.iter().any(|w| {
            crate::geometry::segment::to_segment(a, w[0], w[1]) < 2e-3
                && crate::geometry::segment::to_segment(b, w[0], w[1]) < 2e-3
        })
    };
    // the wall through which the tubes come in
    let wall = sides(&region.outline)
        .find(|&(a, b)| crate::geometry::segment::to_segment(entry, a, b) < 3e-3)
        .ok_or(Obstruction::EntryBlocked)?;
    let width =
        if on_outside(wall.0, wall.1) { task.edge_m.min(task.core_m) } else { task.core_m }.max(2.0 * task.radius_m);
    let (from, to) = (wall.0[0].min(wall.1[0]) + c, wall.0[0].max(wall.1[0]) - c);
    let all = width * (2 * k - 1) as f64;
    if to - from < all {
        return Err(Obstruction::TooSmall);
    }
    let first = (entry[0] - all / 2.0).clamp(from, to - all);
    let goals: Vec<f64> = (0..2 * k).map(|j| first + width * j as f64).collect();
    let places = entry_places(task, &goals, (k - 1) / 2, entry[0], opening, passing);
    let own = &places[passing.0..passing.0 + 2 * k];
    let fan = Fan::new(task, own, &goals, entry[1], passing);

    // the floor without what lies in it
    let mut free: MultiPolygon = polygon(&region.outline).into();
    let strip = (0.7 * task.core_m - c).max(0.01);
    for w in lanes.iter().flat_map(|l| l.windows(2)) {
        free = free.difference(&polygon(&bar(w[0], w[1], strip)));
    }
    for (corners, clearance) in &region.holes {
        for shape in island(corners, clearance - c, &region.outline) {
            free = free.difference(&polygon(&shape));
        }
    }
    let mut floor_y = entry[1];
    if fan.top.is_finite() {
        floor_y = fan.top + task.radius_m.max(0.5 * task.core_m) - c;
        let x0 = own.iter().chain(&goals).copied().fold(f64::MAX, f64::min) - strip;
        let x1 = own.iter().chain(&goals).copied().fold(f64::MIN, f64::max) + strip;
        let y0 = entry[1] - 0.01;
        free = free.difference(&polygon(&[[x0, y0], [x1, y0], [x1, floor_y], [x0, floor_y]]));
    }
    let middle = (goals[0] + goals[2 * k - 1]) / 2.0;
    let floor = part_with(&free, [middle, floor_y + 0.05]).ok_or(Obstruction::TooSmall)?;

    let cuts: Vec<Point> = (1..k).map(|i| [(goals[2 * i - 1] + goals[2 * i]) / 2.0, floor_y]).collect();
    let slices = slice(&floor, &cuts);
    let mut out = Own { entry: places.clone(), lanes: vec![], fields: vec![] };
    for (i, (outline, seams)) in slices.into_iter().enumerate() {
        let is_seam = |a: Point, b: Point| {
            seams.iter().any(|s| {
                crate::geometry::segment::to_segment(a, s[0], s[1]) < 2e-3
                    && crate::geometry::segment::to_segment(b, s[0], s[1]) < 2e-3
            })
        };
        let first_m = sides(&outline).map(|(a, b)| if is_seam(a, b) { width / 2.0 } else { c }).collect();
        let cold = sides(&outline).map(|(a, b)| !is_seam(a, b) && on_outside(a, b)).collect();
        let patch = LoopFloor {
            outline,
            first_m,
            outside: cold,
            core_m: (SKEW_DENSER * task.core_m).max(task.least_m()),
            edge_m: (SKEW_DENSER * task.edge_m).max(task.least_m()),
            band_m: task.band_m,
            radius_m: task.radius_m,
            gap_m: task.gap_m.max(0.8 * task.lane_m),
        };
        let gate = [(goals[2 * i] + goals[2 * i + 1]) / 2.0, floor_y + c];
        let ways = [fan.way(2 * i), fan.way(2 * i + 1)];
        let others: Vec<Vec<Point>> = (0..2 * k).filter(|j| j / 2 != i).map(|j| fan.way(j)).collect();
        let mut left = patch.fill(gate, [&ways[0], &ways[1]], &others).ok_or(Obstruction::TooSmall)?.route;
        // the ways and the loop meet at the last corners of the ways, which may have moved
        let tail = ways[1].len().saturating_sub(1);
        let mut right: Vec<Point> = left.split_off(left.len() - tail - 1);
        right.reverse();
        let field = left.split_off(ways[0].len().saturating_sub(1));
        left.extend(field.first());
        let field: Vec<Point> = field.into_iter().chain(right.last().copied()).collect();
        let key = LoopKey { room: task.index, piece: i };
        out.lanes.push((Lane { key, right: false }, left));
        out.lanes.push((Lane { key, right: true }, right));
        out.fields.push((key, field));
    }
    Ok(out)
}

/// A bar of half width `half` about a stretch, with square ends.
fn bar(a: Point, b: Point, half: f64) -> [Point; 4] {
    let l = distance(a, b).max(1e-9);
    let d = [(b[0] - a[0]) / l * half, (b[1] - a[1]) / l * half];
    [
        [a[0] - d[0] + d[1], a[1] - d[1] - d[0]],
        [b[0] + d[0] + d[1], b[1] + d[1] - d[0]],
        [b[0] + d[0] - d[1], b[1] + d[1] + d[0]],
        [a[0] - d[0] - d[1], a[1] - d[1] + d[0]],
    ]
}

/// What stands free, grown, and a slit from it to the nearest wall: so the floor has no hole.
fn island(corners: &[Point], grow: f64, outline: &[Point]) -> [Vec<Point>; 2] {
    let grow = grow.max(0.0);
    let middle = [0, 1].map(|k| corners.iter().map(|p| p[k]).sum::<f64>() / corners.len() as f64);
    let grown: Vec<Point> = corners
        .iter()
        .map(|p| {
            let d = distance(*p, middle).max(1e-9);
            // each corner out by the growth along both of its sides
            let s = 1.0 + grow * std::f64::consts::SQRT_2 / d;
            [middle[0] + (p[0] - middle[0]) * s, middle[1] + (p[1] - middle[1]) * s]
        })
        .collect();
    let around = Around::new(outline);
    let nearest = grown.iter().copied().min_by(|a, b| around.nearest(*a).1.total_cmp(&around.nearest(*b).1));
    let from = nearest.unwrap_or(middle);
    let wall = around.at(around.nearest(from).0);
    [grown, bar(from, wall, 0.002).to_vec()]
}

/// Cuts a floor (anticlockwise) from left to right at `cuts` on its lower boundary into slices of equal area; with each
/// slice the cuts along which it meets its neighbours.
fn slice(floor: &[Point], cuts: &[Point]) -> Vec<(Vec<Point>, Vec<[Point; 2]>)> {
    let share = signed_area(floor) / (cuts.len() + 1) as f64;
    let mut rest = floor.to_vec();
    let mut seams: Vec<[Point; 2]> = vec![];
    let mut out = vec![];
    for &cut in cuts {
        let (mut low, mut high) = (0.03, std::f64::consts::PI - 0.03);
        let mut found = None;
        for _ in 0..TURNS {
            let angle = (low + high) / 2.0;
            let Some((left, right, end)) = split(&rest, cut, angle) else { break };
            // a steeper cut leaves less on the left
            if signed_area(&left) > share {
                low = angle;
            } else {
                high = angle;
            }
            found = Some((left, right, end));
        }
        let Some((left, right, end)) = found else { continue };
        seams.push([cut, end]);
        out.push((left, seams.clone()));
        rest = right;
    }
    out.push((rest, seams));
    out
}

/// Splits a floor by a straight from a point of its boundary to where that meets the boundary again: what is left of
/// the cut, what is right of it, and the cut's end.
fn split(floor: &[Point], from: Point, angle: f64) -> Option<(Vec<Point>, Vec<Point>, Point)> {
    let d = [angle.cos(), angle.sin()];
    let hit = crossings(floor, from, d).filter(|t| *t > 0.02).fold(f64::INFINITY, f64::min);
    if !hit.is_finite() {
        return None;
    }
    let end = [from[0] + d[0] * hit, from[1] + d[1] * hit];
    let around = Around::new(floor);
    let (s, e) = (around.nearest(from).0, around.nearest(end).0);
    let (right, left) =
        (crate::geometry::polygon::tidy(&around.path(s, e)), crate::geometry::polygon::tidy(&around.path(e, s)));
    (left.len() >= 3 && right.len() >= 3).then_some((left, right, end))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn slices_are_equal_and_make_up_the_floor() {
        let floor = [[0.0, 0.0], [7.2, 0.0], [7.2, 3.2], [0.0, 5.6]];
        for k in 1..=4usize {
            let cuts: Vec<Point> = (1..k).map(|i| [2.0 + 0.4 * i as f64, 0.0]).collect();
            let slices = slice(&floor, &cuts);
            assert_eq!(slices.len(), k);
            let whole: f64 = slices.iter().map(|s| signed_area(&s.0)).sum();
            assert!((whole - signed_area(&floor)).abs() < 1e-2);
            for (outline, _) in &slices {
                assert!((signed_area(outline) * k as f64 / whole - 1.0).abs() < 0.02, "{k}");
            }
        }
    }
}

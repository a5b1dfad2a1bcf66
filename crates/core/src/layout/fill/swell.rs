//! Turns back at a spacing tighter than the tube bends swell beyond their legs. Beside a wall or keep-out they lean to the
//! other side.

use crate::geometry::distance;
use crate::geometry::outline::to_sides;
use crate::job::Point;
use crate::layout::curve;
use crate::layout::rules::audit;
use crate::layout::topology::task::{RoomRoute, RoomTask, Run};
use std::f64::consts::PI;

/// Room beyond what the arcs need, m.
const SPARE_M: f64 = 0.01;

/// Whether a turn of the room's own fields swells into the clearance of a wall or keep-out.
pub(crate) fn swells(task: &RoomTask, route: &RoomRoute) -> bool {
    route.chains.iter().flat_map(|c| &c.runs).filter(|r| is_own(task, r)).any(|r| {
        let bulb = |s: &curve::Segment| match *s {
            curve::Segment::Arc { centre, radius_m, sweep, .. } => {
                sweep.abs() > PI + 1e-6 && is_near(spare(task, centre), radius_m)
            }
            curve::Segment::Line(..) => false,
        };
        curve::bend(&r.points, task.radius_m, task.radius_m).iter().any(bulb)
    })
}

/// Bends the turns that swell too near to something the other way, where their legs are long enough.
pub(crate) fn lean(task: &RoomTask, route: &mut RoomRoute) {
    for run in route.chains.iter_mut().flat_map(|c| &mut c.runs).filter(|r| is_own(task, r)) {
        run.points = leaned(&run.points, task.radius_m, |p| spare(task, p));
    }
}

fn is_own(task: &RoomTask, run: &Run) -> bool {
    run.field.is_some_and(|key| key.room == task.index)
}

/// How far a point is from the clearance of the nearest wall or keep-out, m; negative within.
fn spare(task: &RoomTask, p: Point) -> f64 {
    let keep_outs = task.keep_outs.iter().map(|k| k.distance_to(p) - k.clearance_m);
    keep_outs.fold(to_sides(&task.outline, p) - task.wall_clearance_m, f64::min)
}

fn is_near(spare_m: f64, radius_m: f64) -> bool {
    spare_m < radius_m - audit::SLACK_M
}

/// A route whose turns that swell lean away where `spare` is less than their radius.
fn leaned(route: &[Point], radius_m: f64, spare: impl Fn(Point) -> f64) -> Vec<Point> {
    let mut points = curve::straighten(route);
    let mut i = 1;
    while i + 2 < points.len() {
        if let Some(turn) = leaning([points[i - 1], points[i], points[i + 1], points[i + 2]], radius_m, &spare) {
            points.splice(i..=i + 1, turn);
            i += 2;
        }
        i += 1;
    }
    points
}

/// The turn from `b` to `c` between the legs from `a` and to `d` as two plain corners and a shift of one leg; none where it
/// does not swell too near to anything, or where there is no room for it.
fn leaning([a, b, c, d]: [Point; 4], r: f64, spare: impl Fn(Point) -> f64) -> Option<[Point; 4]> {
    let width = distance(b, c);
    let (before, after) = (distance(a, b), distance(c, d));
    if width >= 2.0 * r - 1e-6 || width < 1e-6 || before < 1e-6 || after < 1e-6 {
        return None;
    }
    let along = [(b[0] - a[0]) / before, (b[1] - a[1]) / before];
    let across = [(c[0] - b[0]) / width, (c[1] - b[1]) / width];
    let back = [(d[0] - c[0]) / after, (d[1] - c[1]) / after];
    let square = (along[0] * across[0] + along[1] * across[1]).abs() < 1e-3;
    if !square || along[0] * back[0] + along[1] * back[1] > -1.0 + 1e-3 {
        return None;
    }
    let middle = [0, 1].map(|k| f64::midpoint(b[k], c[k]) - along[k] * r);
    if !is_near(spare(middle), r) {
        return None;
    }
    let at = |p: Point, u: Point, by: f64| [p[0] + u[0] * by, p[1] + u[1] * by];
    let slope = (1.0 - (2.0 * r - width) / (2.0 * r)).acos();
    let depth = r + r * slope.sin() + SPARE_M;
    if before.min(after) < depth + r * slope.sin() + r + SPARE_M {
        return None;
    }
    // the leg nearer to what is in the way stays, the other one is shifted
    if spare(at(b, along, -r)) <= spare(at(c, along, -r)) {
        let far = at(b, across, 2.0 * r);
        Some([b, far, at(far, along, -depth), at(c, along, -depth)])
    } else {
        let far = at(c, across, -2.0 * r);
        Some([at(b, along, -depth), at(far, along, -depth), far, c])
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A turn back at a spacing of 0.1 m with a wall on its left or right, 0.1 m off.
    #[test]
    fn a_turn_leans_away_from_a_wall_on_either_side() {
        let r = 0.08;
        let route = [[0.1, 0.0], [0.1, 1.0], [0.2, 1.0], [0.2, 0.0]];
        let reach = |points: &[Point]| {
            let curve = curve::bend(points, r, r);
            assert_eq!(curve::tighter_than(&curve, r).count(), 0);
            let at = curve::points(&curve, 1e-4);
            at.iter().fold((f64::MAX, f64::MIN), |(lo, hi), p| (lo.min(p[0]), hi.max(p[0])))
        };
        let (low, high) = reach(&route);
        assert!(
            (low - 0.07).abs() < 1e-3 && (high - 0.23).abs() < 1e-3,
            "it swells by 30 mm to both sides: {low} {high}"
        );
        let (low, high) = reach(&leaned(&route, r, |p| p[0] - 0.1));
        assert!((low - 0.1).abs() < 1e-9 && (high - 0.26).abs() < 1e-3, "{low} {high}");
        let (low, high) = reach(&leaned(&route, r, |p| 0.2 - p[0]));
        assert!((low - 0.04).abs() < 1e-3 && (high - 0.2).abs() < 1e-9, "{low} {high}");
        let mut back = route;
        back.reverse();
        let (low, high) = reach(&leaned(&back, r, |p| p[0] - 0.1));
        assert!((low - 0.1).abs() < 1e-9 && (high - 0.26).abs() < 1e-3, "{low} {high}");
    }

    #[test]
    fn a_turn_stays_where_nothing_is_near_or_its_legs_are_short() {
        let route = [[0.1, 0.0], [0.1, 1.0], [0.2, 1.0], [0.2, 0.0]];
        assert_eq!(leaned(&route, 0.08, |p| p[0] - 0.05), route);
        assert_eq!(leaned(&route, 0.05, |p| p[0] - 0.1), route, "it does not swell");
        let short = [[0.1, 0.8], [0.1, 1.0], [0.2, 1.0], [0.2, 0.0]];
        assert_eq!(leaned(&short, 0.08, |p| p[0] - 0.1), short);
        let step = [[0.1, 0.0], [0.1, 1.0], [0.2, 1.0], [0.2, 2.0]];
        assert_eq!(leaned(&step, 0.08, |p| p[0] - 0.1), step, "a shift is no turn back");
    }
}

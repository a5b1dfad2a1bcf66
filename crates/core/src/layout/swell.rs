//! Turns back at a spacing tighter than the tube bends swell beyond their legs. Beside a wall or keep-out they lean to the
//! other side.

use super::task::{RoomRoute, RoomTask, Run};
use super::{audit, curve};
use crate::job::Point;
use crate::plan::distance;
use std::f64::consts::PI;

/// Room beyond what the arcs need, m.
const SPARE_M: f64 = 0.01;

/// Whether a turn of the room's own fields swells into the clearance of a wall or keep-out.
pub(super) fn swells(task: &RoomTask, route: &RoomRoute) -> bool {
    route.chains.iter().flat_map(|c| &c.runs).filter(|r| is_own(task, r)).any(|r| {
        let bulb = |s: &curve::Segment| match *s {
            curve::Segment::Arc { centre, radius_m, sweep, .. } => {
                sweep.abs() > PI + 1e-6 && is_near(task, centre, radius_m)
            }
            curve::Segment::Line(..) => false,
        };
        curve::bend(&r.points, task.radius_m, task.radius_m).iter().any(bulb)
    })
}

/// Bends the turns that swell too near to something the other way, where their legs are long enough.
pub(super) fn lean(task: &RoomTask, route: &mut RoomRoute) {
    for run in route.chains.iter_mut().flat_map(|c| &mut c.runs).filter(|r| is_own(task, r)) {
        let mut points = curve::straighten(&run.points);
        let mut i = 1;
        while i + 2 < points.len() {
            if let Some(turn) = leaning(task, [points[i - 1], points[i], points[i + 1], points[i + 2]]) {
                points.splice(i..=i + 1, turn);
                i += 2;
            }
            i += 1;
        }
        run.points = points;
    }
}

fn is_own(task: &RoomTask, run: &Run) -> bool {
    run.field.is_some_and(|key| key.room == task.index)
}

fn is_near(task: &RoomTask, centre: Point, radius_m: f64) -> bool {
    let near = |distance_m: f64, clearance_m: f64| distance_m - radius_m < clearance_m - audit::SLACK_M;
    near(audit::to_walls(task.room, centre), task.wall_clearance_m)
        || task.room.keep_outs.iter().any(|k| near(k.distance_to(centre), k.clearance_m))
}

/// The turn from `b` to `c` between the legs from `a` and to `d` as two plain corners and a shift of one leg; none where it
/// does not swell too near to anything, or where there is no room for it.
fn leaning(task: &RoomTask, [a, b, c, d]: [Point; 4]) -> Option<[Point; 4]> {
    let r = task.radius_m;
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
    if !is_near(task, middle, r) {
        return None;
    }
    // the leg nearer to what is in the way stays, the other one is shifted
    let room = |p: Point| {
        let keep_outs = task.room.keep_outs.iter().map(|k| k.distance_to(p) - k.clearance_m);
        keep_outs.fold(audit::to_walls(task.room, p) - task.wall_clearance_m, f64::min)
    };
    let at = |p: Point, u: Point, by: f64| [p[0] + u[0] * by, p[1] + u[1] * by];
    let slope = (1.0 - (2.0 * r - width) / (2.0 * r)).acos();
    let depth = r + r * slope.sin() + SPARE_M;
    if before.min(after) < depth + r * slope.sin() + r + SPARE_M {
        return None;
    }
    if room(at(b, along, -r)) <= room(at(c, along, -r)) {
        let far = at(b, across, 2.0 * r);
        Some([b, far, at(far, along, -depth), at(c, along, -depth)])
    } else {
        let far = at(c, across, -2.0 * r);
        Some([at(b, along, -depth), at(far, along, -depth), far, c])
    }
}

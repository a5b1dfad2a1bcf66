//! Straights of all loops with the room in which each lies: what holds tube is counted by them.

use crate::geometry::Point;
use crate::geometry::outline::within;
use crate::geometry::segment::{foot, to_segment};
use crate::study::Study;

/// Turns of less are steps aside that a fixing of their own does not need, degrees.
const LEAST_TURN_DEG: f64 = 30.0;

/// A straight and the turn at its end.
pub(crate) struct Run {
    /// Index of its loop.
    pub of_loop: usize,
    /// Index of the room in whose floor its middle lies; none in a doorway or wall.
    pub room: Option<usize>,
    pub from: Point,
    pub to: Point,
    /// Tube from the middle of one bend to the middle of the next, m.
    pub length_m: f64,
    /// Whether the tube turns at its end.
    pub turns: bool,
    /// Whether it turned where this begins.
    pub turned: bool,
}

/// The straights of every loop, in flow order.
pub(crate) fn runs(study: &Study) -> Vec<Run> {
    let mut out = Vec::new();
    for (i, (l, laid)) in study.loops.iter().zip(&study.layout.loops).enumerate() {
        let level = &study.job.rooms[laid.room].level_id;
        let mut turned = false;
        for step in &l.steps {
            let (sin, cos) = step.heading_deg.to_radians().sin_cos();
            let middle = [step.from[0] + sin * step.length_m / 2.0, step.from[1] + cos * step.length_m / 2.0];
            // a step begins in the middle of a bend, beside the line of its straight
            let aside = aside(&l.path, middle, [sin, cos]);
            let from = [step.from[0] + aside[0], step.from[1] + aside[1]];
            let to = [from[0] + sin * step.length_m, from[1] + cos * step.length_m];
            let rooms = study.job.rooms.iter();
            let room = rooms.enumerate().find(|(_, r)| r.level_id == *level && within(&r.outline, middle)).map(|r| r.0);
            let turns = step.turn_deg.abs() >= LEAST_TURN_DEG;
            out.push(Run { of_loop: i, room, from, to, length_m: step.length_m, turns, turned });
            turned = turns;
        }
    }
    out
}

/// From a point beside a straight of a path to that straight, square to its direction.
fn aside(path: &[Point], at: Point, along: [f64; 2]) -> Point {
    let far = |w: &&[Point]| to_segment(at, w[0], w[1]);
    let Some(w) = path.windows(2).min_by(|a, b| far(a).total_cmp(&far(b))) else { return [0.0; 2] };
    let nearest = foot(at, w[0], w[1]);
    let off = [nearest[0] - at[0], nearest[1] - at[1]];
    let on = off[0] * along[0] + off[1] * along[1];
    [off[0] - on * along[0], off[1] - on * along[1]]
}

//! Straights of all loops with the room in which each lies: what holds tube is counted by them.

use crate::geometry::outline::within;
use crate::geometry::segment::foot;
use crate::geometry::{Point, distance};
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
        // the piece of the path on which a straight has its middle, and the tube before it
        let (mut piece, mut before_m) = (0, l.riser_m / 2.0);
        for step in &l.steps {
            let (sin, cos) = step.heading_deg.to_radians().sin_cos();
            let middle = [step.from[0] + sin * step.length_m / 2.0, step.from[1] + cos * step.length_m / 2.0];
            // a step begins in the middle of a bend, beside the line of its straight
            while l.path.len() > piece + 2 && before_m + length(&l.path[piece..]) < step.along_m - step.length_m / 2.0 {
                before_m += length(&l.path[piece..]);
                piece += 1;
            }
            let aside = aside(&l.path[piece..], middle, [sin, cos]);
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

/// Of the first piece of a path, m.
fn length(path: &[Point]) -> f64 {
    distance(path[0], path[1])
}

/// From a point beside the first piece of a path to it, square to that direction.
fn aside(path: &[Point], at: Point, along: [f64; 2]) -> Point {
    let [a, b, ..] = *path else { return [0.0; 2] };
    let on_it = foot(at, a, b);
    let off = [on_it[0] - at[0], on_it[1] - at[1]];
    let on = off[0] * along[0] + off[1] * along[1];
    [off[0] - on * along[0], off[1] - on * along[1]]
}

//! How easily a crew lays a layout: turns, jogs, long straights, beside what the floor asks for at least.
//!
//! - *Quarter turns* are counted at the corners of a route, before they are bent.
//! - A *jog* is two opposite turns less than [`JOG_M`] apart: tube that only steps aside.
//! - The *ideal* of a floor is a serpentine whose runs lie across it wall to wall, in the better of two directions, every run
//!   ending in two quarter turns, and [`WAY_TURNS`] for each loop's way from the manifold and back.
//!
//! ```
//! use fuoco_core::layout::rules::buildability::Buildability;
//! // there and back, with a step aside on the way back
//! let route = [[0.0, 0.0], [3.0, 0.0], [3.0, 0.3], [1.5, 0.3], [1.5, 0.5], [0.0, 0.5]];
//! let b = Buildability::of(&route);
//! assert_eq!((b.quarter_turns, b.jogs), (4.0, 1));
//! assert_eq!((b.straight_m, b.tube_m), (6.0, 6.5));
//! ```

use crate::geometry::distance;
use crate::geometry::polygon::crossings;
use crate::job::{Job, KeepOut, Point};
use crate::layout::LaidLoop;
use std::f64::consts::FRAC_PI_2;

/// Opposite turns nearer to each other than this are a jog, m.
pub const JOG_M: f64 = 0.6;
/// A turn by less than this is none that makes a jog, radians.
const TURN: f64 = 0.5;
/// Straights from this length on are laid without thinking, m.
pub const LONG_M: f64 = 1.0;
/// Quarter turns that the way of a loop from its port into the field and back takes.
pub const WAY_TURNS: f64 = 4.0;

/// Figures of one route, or of several together.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Buildability {
    /// Turns over all, in quarter circles.
    pub quarter_turns: f64,
    /// Steps aside.
    pub jogs: usize,
    /// Tube in straights of [`LONG_M`] and more, m.
    pub straight_m: f64,
    /// All tube, along the corners, m.
    pub tube_m: f64,
}

impl Buildability {
    /// Of a route by its corners, m.
    pub fn of(corners: &[Point]) -> Buildability {
        let mut out = Buildability::default();
        // the last side and turn, and how far apart they are
        let mut before: Option<Point> = None;
        let mut last_turn = 0.0f64;
        for w in corners.windows(2) {
            let d = [w[1][0] - w[0][0], w[1][1] - w[0][1]];
            let l = d[0].hypot(d[1]);
            if l <= 1e-6 {
                continue;
            }
            out.tube_m += l;
            if l >= LONG_M - 1e-9 {
                out.straight_m += l;
            }
            if let Some(b) = before {
                let (cross, dot) = (b[0] * d[1] - b[1] * d[0], b[0] * d[0] + b[1] * d[1]);
                // most corners are square
                let turn = if dot.abs() <= 1e-9 * cross.abs() { FRAC_PI_2.copysign(cross) } else { cross.atan2(dot) };
                out.quarter_turns += turn.abs() / FRAC_PI_2;
                let apart = b[0].hypot(b[1]);
                if turn * last_turn < 0.0 && turn.abs() > TURN && last_turn.abs() > TURN && apart < JOG_M {
                    out.jogs += 1;
                }
                last_turn = turn;
            }
            before = Some(d);
        }
        out
    }

    /// Of several loops together.
    pub fn of_loops<'a>(loops: impl Iterator<Item = &'a LaidLoop>) -> Buildability {
        loops.map(|l| Buildability::of(&l.corners)).fold(Buildability::default(), |a, b| Buildability {
            quarter_turns: a.quarter_turns + b.quarter_turns,
            jogs: a.jogs + b.jogs,
            straight_m: a.straight_m + b.straight_m,
            tube_m: a.tube_m + b.tube_m,
        })
    }

    /// Quarter turns in ten metres of tube.
    pub fn turns_per_10m(&self) -> f64 {
        if self.tube_m > 0.0 { 10.0 * self.quarter_turns / self.tube_m } else { 0.0 }
    }

    /// Share of the tube in long straights.
    pub fn straight(&self) -> f64 {
        if self.tube_m > 0.0 { self.straight_m / self.tube_m } else { 0.0 }
    }
}

/// Quarter turns of an ideal serpentine on a floor: two for each run from wall to wall, at that spacing, in the direction
/// that needs fewer; along the floor's longest wall, or across it.
pub fn ideal_turns(outline: &[Point], keep_outs: &[KeepOut], spacing_m: f64) -> f64 {
    let longest = crate::geometry::outline::sides(outline)
        .max_by(|a, b| distance(a.0, a.1).total_cmp(&distance(b.0, b.1)))
        .map_or([1.0, 0.0], |(a, b)| {
            let l = distance(a, b).max(1e-9);
            [(b[0] - a[0]) / l, (b[1] - a[1]) / l]
        });
    let across = [-longest[1], longest[0]];
    let runs = |d: Point, n: Point| -> usize {
        let depth = |p: &Point| p[0] * n[0] + p[1] * n[1];
        let (lo, hi) = outline.iter().map(depth).fold((f64::MAX, f64::MIN), |(l, h), v| (l.min(v), h.max(v)));
        let rows = ((hi - lo) / spacing_m.max(0.02)).round().clamp(1.0, 2000.0) as usize;
        let pitch = (hi - lo) / rows as f64;
        (0..rows)
            .map(|k| {
                let at = lo + (k as f64 + 0.5) * pitch;
                let from = [n[0] * at, n[1] * at];
                let mut hits: Vec<f64> = crossings(outline, from, d).collect();
                hits.sort_by(f64::total_cmp);
                let blocked = |a: f64, b: f64| keep_outs.iter().filter(|k| splits(k, from, d, a, b, spacing_m)).count();
                hits.chunks_exact(2).filter(|c| c[1] - c[0] > spacing_m).map(|c| 1 + blocked(c[0], c[1])).sum::<usize>()
            })
            .sum()
    };
    2.0 * runs(longest, across).min(runs(across, longest)) as f64
}

/// Whether a keep-out parts the run from `a` to `b` along a line: both sides of it long enough for tube.
fn splits(k: &KeepOut, from: Point, d: Point, a: f64, b: f64, spacing_m: f64) -> bool {
    let c = k.clearance_m;
    let (x0, y0, x1, y1) = (k.x0_m - c, k.y0_m - c, k.x1_m + c, k.y1_m + c);
    let box_of = [[x0, y0], [x1, y0], [x1, y1], [x0, y1]];
    let hits: Vec<f64> = crossings(&box_of, from, d).collect();
    let (lo, hi) = hits.iter().fold((f64::MAX, f64::MIN), |(l, h), v| (l.min(*v), h.max(*v)));
    hits.len() >= 2 && lo > a + spacing_m && hi < b - spacing_m
}

/// The ideal of all floors that the loops heat, and of their ways.
pub fn ideal_of(job: &Job, loops: &[LaidLoop]) -> f64 {
    let heated = (0..job.rooms.len()).filter(|&r| loops.iter().any(|l| l.heats(r)));
    let rooms: f64 = heated
        .filter_map(|r| {
            let room = &job.rooms[r];
            let floor = room.heated_floor()?;
            Some(ideal_turns(&room.outline, &room.keep_outs, floor.spacing_core_m))
        })
        .sum();
    rooms + WAY_TURNS * loops.len() as f64
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::samples::cabinet;

    #[test]
    fn a_rectangle_asks_for_two_turns_a_run_the_long_way() {
        let room = [[0.0, 0.0], [6.0, 0.0], [6.0, 3.0], [0.0, 3.0]];
        assert_eq!(ideal_turns(&room, &[], 0.2), 2.0 * 15.0);
        // an island between the runs parts those that meet it
        let island = [cabinet("k", 2.5, 1.0, 3.5, 2.0)];
        assert!(ideal_turns(&room, &island, 0.2) > 30.0);
        // the two arms of an L are run along one direction
        let l = [[0.0, 0.0], [6.0, 0.0], [6.0, 2.0], [2.0, 2.0], [2.0, 5.0], [0.0, 5.0]];
        assert_eq!(ideal_turns(&l, &[], 0.2), 2.0 * 25.0);
    }

    #[test]
    fn a_turn_back_is_no_jog_and_a_far_step_is_none_either() {
        let back = [[0.0, 0.0], [2.0, 0.0], [2.0, 0.2], [0.0, 0.2]];
        assert_eq!(Buildability::of(&back).jogs, 0);
        let step = |by: f64| Buildability::of(&[[0.0, 0.0], [2.0, 0.0], [2.0, by], [4.0, by]]).jogs;
        assert_eq!((step(0.3), step(0.7)), (1, 0));
        assert_eq!(Buildability::of(&[[1.0, 1.0]]), Buildability::default());
    }
}

//! How good a layout is: the figures by which two layouts are compared, by room and by manifold.
//!
//! ```
//! use fuoco_core::layout::rules::score::spread;
//! // the longest of three loops is a tenth over their mean
//! assert!((spread(&[90.0, 100.0, 110.0]) - 0.1).abs() < 1e-9);
//! assert_eq!(spread(&[80.0]), 0.0);
//! ```

use crate::geometry;
use crate::geometry::outline;
use crate::geometry::outline::to_sides;
use crate::geometry::outline::within;
use crate::geometry::raster;
use crate::geometry::segment;
use crate::job::{Job, KeepOut, Point};
use crate::layout::rules::audit::{self, Coverage};
use crate::layout::{LaidLoop, Layout, Stretch, longest_loop};
use crate::plan::Plan;

/// Distance of the points at which the tube wanted is counted, m; in a large room larger, so that there are no more than
/// the next figure.
const RASTER_M: f64 = 0.1;
const MOST_POINTS: f64 = 2e5;

/// The figures of one room.
#[derive(Debug, Clone, PartialEq)]
pub struct RoomScore {
    /// Index of the room.
    pub room: usize,
    /// Floor that can be heated, m².
    pub area_m2: f64,
    /// Number of loops that heat it.
    pub loops: usize,
    /// Tube of its loops without their leaders, m.
    pub field_m: f64,
    /// Tube that the spacings ask for: the area of core and perimeter zone over their spacing, without
    /// the floor nearest to leaders, m.
    pub wanted_m: f64,
    /// Share of its floor within reach of a tube, 0…1.
    pub coverage: f64,
    /// The point farthest from any tube, and its distance, m.
    pub coldest: (Point, f64),
}

/// The figures of one manifold.
#[derive(Debug, Clone, PartialEq)]
pub struct ManifoldScore {
    /// Index of the manifold.
    pub manifold: usize,
    /// Lengths of its loops in the order of the ports, m.
    pub lengths_m: Vec<f64>,
    /// Largest deviation of a loop from their mean, as share of the mean.
    pub spread: f64,
    /// Largest share of its limit that a loop takes.
    pub of_limit: f64,
    /// Leaders' share of the tube.
    pub leaders: f64,
    /// Quarter turns of all loops.
    pub bends: f64,
}

/// A layout in figures.
#[derive(Debug, Clone, PartialEq)]
pub struct Score {
    /// Rooms with a heated floor, laid or not.
    pub rooms: Vec<RoomScore>,
    /// Manifolds with loops.
    pub manifolds: Vec<ManifoldScore>,
    /// Violations of the layout rules.
    pub violations: usize,
}

impl Score {
    /// All tube, m.
    pub fn tube_m(&self) -> f64 {
        self.manifolds.iter().flat_map(|m| &m.lengths_m).sum()
    }

    /// Coverage of all heated floor, by area; rooms without loops count as cold.
    pub fn coverage(&self) -> f64 {
        let area: f64 = self.rooms.iter().map(|r| r.area_m2).sum();
        let warm: f64 = self.rooms.iter().map(|r| r.area_m2 * r.coverage).sum();
        if area > 0.0 { warm / area } else { 0.0 }
    }

    /// Tube in the fields over the tube wanted.
    pub fn density(&self) -> f64 {
        let wanted: f64 = self.rooms.iter().map(|r| r.wanted_m).sum();
        let field: f64 = self.rooms.iter().map(|r| r.field_m).sum();
        if wanted > 0.0 { field / wanted } else { 0.0 }
    }
}

impl RoomScore {
    /// Tube in the field over the tube wanted.
    pub fn density(&self) -> f64 {
        if self.wanted_m > 0.0 { self.field_m / self.wanted_m } else { 0.0 }
    }
}

/// Scores a layout of a job.
pub fn score(job: &Job, plan: &Plan, layout: &Layout) -> Score {
    score_with(job, plan, layout, &audit::coverage(job, &layout.loops), audit::audit(job, plan, &layout.loops).len())
}

/// Scores a layout whose coverage and number of violations the audit has found.
pub fn score_with(job: &Job, plan: &Plan, layout: &Layout, coverage: &[Coverage], violations: usize) -> Score {
    let rooms = (0..job.rooms.len()).filter_map(|i| room_score(job, plan, i, layout, coverage)).collect();
    let manifolds = (0..job.manifolds.len()).filter_map(|m| manifold_score(job, m, layout)).collect();
    Score { rooms, manifolds, violations }
}

fn room_score(job: &Job, plan: &Plan, index: usize, layout: &Layout, coverage: &[Coverage]) -> Option<RoomScore> {
    let room = &job.rooms[index];
    room.heated_floor()?;
    let own = layout.loops.iter().flat_map(|l| &l.stretches).filter(|s| s.room == index);
    let covered = coverage.iter().find(|c| c.room == index);
    Some(RoomScore {
        room: index,
        area_m2: plan.heatable_m2[index],
        loops: layout.loops.iter().filter(|l| l.heats(index)).count(),
        field_m: own.map(|s| s.field_m).sum(),
        wanted_m: wanted(job, plan, index, &layout.loops),
        coverage: covered.map_or(0.0, |c| c.share),
        coldest: covered.map_or((room.outline[0], 0.0), |c| c.coldest),
    })
}

/// Tube that the spacings ask for in a room, m: every piece of floor that is not nearer to a leader than to a field asks
/// for its area over its spacing. What lies farther than half a spacing beyond the places that the clearances leave to
/// tube asks for none.
fn wanted(job: &Job, plan: &Plan, index: usize, loops: &[LaidLoop]) -> f64 {
    let room = &job.rooms[index];
    let Some(floor) = room.heated_floor() else { return 0.0 };
    let outside = plan.cold_walls(index);
    let [x0, y0, x1, y1] = outline::bounds(&room.outline);
    let step = RASTER_M.max(((x1 - x0) * (y1 - y0) / MOST_POINTS).sqrt());
    let lo = [x0 + step / 2.0, y0 + step / 2.0];
    let size = [x1 - x0, y1 - y0].map(|l| (l / step).ceil() as usize);
    let reach = floor.spacing_core_m.max(job.rules.wall_clearance_m);
    let [field, leaders] = field_and_leaders(index, loops).map(|near| raster::distances(lo, size, step, &near, reach));
    let mut out = 0.0;
    for (k, (to_field, to_leader)) in field.iter().zip(&leaders).enumerate() {
        let p = [lo[0] + (k % size[0]) as f64 * step, lo[1] + (k / size[0]) as f64 * step];
        if to_leader < to_field || !within(&room.outline, p) {
            continue;
        }
        let in_band = outside.iter().any(|w| segment::to_segment(p, w[0], w[1]) < job.rules.edge_band_m);
        let spacing_m = if in_band { floor.spacing_edge_m } else { floor.spacing_core_m };
        let lost = |clearance_m: f64, distance_m: f64| distance_m < clearance_m - spacing_m / 2.0;
        let beside = |k: &KeepOut| lost(k.clearance_m, k.distance_to(p)) || k.distance_to(p) <= 0.0;
        if !lost(job.rules.wall_clearance_m, to_sides(&room.outline, p)) && !room.keep_outs.iter().any(beside) {
            out += step * step / spacing_m;
        }
    }
    out
}

/// The tube of a room's own fields, and all other tube near it, as stretches.
fn field_and_leaders(room: usize, loops: &[LaidLoop]) -> [Vec<[Point; 2]>; 2] {
    let mut out = [vec![], vec![]];
    for l in loops.iter().filter(|l| l.rooms().any(|r| r == room)) {
        let mut along = 0.0;
        for w in l.points.windows(2) {
            let middle = along + geometry::distance(w[0], w[1]) / 2.0;
            along += geometry::distance(w[0], w[1]);
            let here = |s: &Stretch| s.room == room && (s.from_m..s.from_m + s.field_m).contains(&middle);
            out[usize::from(!l.stretches.iter().any(here))].push([w[0], w[1]]);
        }
    }
    out
}

/// Loops of a manifold count as equal when none deviates more from their mean than this share of it.
pub const EQUAL: f64 = 0.1;

/// Largest deviation of lengths from their mean, as share of the mean.
pub fn spread(lengths_m: &[f64]) -> f64 {
    let mean = lengths_m.iter().sum::<f64>() / lengths_m.len().max(1) as f64;
    lengths_m.iter().map(|l| (l / mean - 1.0).abs()).fold(0.0, f64::max)
}

fn manifold_score(job: &Job, manifold: usize, layout: &Layout) -> Option<ManifoldScore> {
    let own: Vec<_> = layout.loops.iter().filter(|l| l.manifold == manifold).collect();
    let lengths_m: Vec<f64> = own.iter().map(|l| l.length_m).collect();
    let total: f64 = lengths_m.iter().sum();
    let limit = |room: usize| {
        let tube = job.rooms[room].heated_floor().and_then(|f| job.tube(&f.tube_id));
        tube.map_or(f64::INFINITY, |t| longest_loop(job, t))
    };
    (!own.is_empty()).then(|| ManifoldScore {
        manifold,
        spread: spread(&lengths_m),
        of_limit: own.iter().map(|l| l.length_m / limit(l.room)).fold(0.0, f64::max),
        leaders: own.iter().map(|l| l.leader_length_m).sum::<f64>() / total,
        bends: own.iter().map(|l| l.quarter_turns).sum(),
        lengths_m,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::layout::{LaidLoop, Stretch, curve};
    use crate::samples::{box_room, cabinet, job_of, manifold};

    /// Two straight tubes in a room of 4 × 1 m, 0.4 m apart: the figures by hand.
    #[test]
    fn the_figures_of_two_straights() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 4.0, 1.0)]);
        job.manifolds.push(manifold("m", "A", "a", 3, 0.5));
        job.rules.longest_loop_m.insert("pex-16x2".into(), 20.0);
        let straight = |y: f64, length_m: f64, port| LaidLoop {
            room: 0,
            piece: port as usize - 1,
            manifold: 0,
            port,
            riser_m: 0.0,
            kept: None,
            spacing_m: 0.2,
            corners: vec![],
            curve: vec![curve::Segment::Line([0.0, y], [length_m, y])],
            points: vec![[0.0, y], [0.5, y], [length_m, y]],
            length_m,
            leader_length_m: 0.5,
            stretches: vec![Stretch { room: 0, from_m: 0.5, field_m: length_m - 0.5 }],
            leaders_in: Default::default(),
            quarter_turns: 3.0,
        };
        let layout = Layout { loops: vec![straight(0.3, 4.0, 1), straight(0.7, 3.0, 2)], problems: vec![] };
        let s = score_with(&job, &Plan::of(&job), &layout, &audit::coverage(&job, &layout.loops), 0);
        let (room, m) = (&s.rooms[0], &s.manifolds[0]);
        assert_eq!((room.loops, room.area_m2, room.field_m), (2, 4.0, 6.0));
        // of the first half metre the leaders take all but the strips beyond their reach of 0.2 m
        assert!((room.wanted_m - 3.6 / 0.2).abs() < 1e-9, "{}", room.wanted_m);
        assert!((s.density() - 6.0 / 18.0).abs() < 1e-9);
        assert!((m.spread - 0.5 / 3.5).abs() < 1e-9 && (m.of_limit - 0.2).abs() < 1e-9);
        assert!((m.leaders - 1.0 / 7.0).abs() < 1e-9);
        assert_eq!((m.bends, s.tube_m()), (6.0, 7.0));
        // three of the raster's eight or nine rows lie within 0.12 m of each, the second's for four fifths of the way
        assert!(room.coverage > 0.59 && room.coverage < 0.69, "{}", room.coverage);
        assert!(room.coldest.1 > 0.12);
    }

    /// Where clearances leave a strip that no line can serve, none is asked for.
    #[test]
    fn floor_that_tube_may_not_serve_asks_for_none() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 4.0, 3.0)]);
        let wanted = |job: &Job| wanted(job, &Plan::of(job), 0, &[]);
        assert!((wanted(&job) - 12.0 / 0.2).abs() < 1e-6);
        job.rules.wall_clearance_m = 0.4;
        // 0.3 m along every wall
        assert!((wanted(&job) - 3.4 * 2.4 / 0.2).abs() < 1e-6, "{}", wanted(&job));
        job.rules.wall_clearance_m = 0.1;
        job.rooms[0].keep_outs.push(cabinet("k", 1.0, 1.0, 2.0, 2.0));
        let clearance = job.rooms[0].keep_outs[0].clearance_m;
        assert!(clearance <= 0.1 && (wanted(&job) - 11.0 / 0.2).abs() < 1e-6, "{}", wanted(&job));
    }
}

//! A loop step by step: each straight with its direction, its length, what it passes of the lattice, and the turn at its end.
//! Runs are counted along the tube from middle to middle of the bends, as the marks on the tube are read.

use super::report::StepDesign;
use crate::geometry::distance;
use crate::geometry::outline::within;
use crate::job::{FloorLattice, Job, Point};
use crate::layout::LaidLoop;
use crate::layout::curve::{Segment, bends};

/// The steps of a loop in flow order; the last one ends at the return port, without a turn.
pub(crate) fn steps(job: &Job, l: &LaidLoop) -> Vec<StepDesign> {
    let from_port = l.riser_m / 2.0;
    let end = l.points.last().map(|&p| (p, l.length_m - from_port, 0.0));
    let bent = bends(&l.curve).into_iter().map(|(at, along, turn)| (at, from_port + along, turn));
    let ends: Vec<(Point, f64, f64)> = bent.chain(end).collect();
    let mut out: Vec<StepDesign> = Vec::with_capacity(ends.len());
    let mut from = l.points.first().copied().unwrap_or_default();
    let mut before = from_port;
    for ((to, along_m, turn), d) in ends.into_iter().zip(headings(&l.curve)) {
        out.push(StepDesign {
            from,
            heading_deg: d[0].atan2(d[1]).to_degrees().rem_euclid(360.0),
            length_m: along_m - before,
            passes: passes(job, l, from, to),
            turn_deg: turn.to_degrees(),
            along_m,
        });
        (from, before) = (to, along_m);
    }
    out
}

/// The directions before the first bend of a curve, between bends, and after the last one.
fn headings(curve: &[Segment]) -> Vec<Point> {
    let tangent = |angle: f64, sweep: f64| [-angle.sin(), angle.cos()].map(|v| v * sweep.signum());
    let mut out: Vec<Point> = vec![];
    // whether the direction before the next bend is known
    let mut known = false;
    let mut last = [0.0; 2];
    for s in curve {
        match *s {
            Segment::Line(a, b) => {
                if !known {
                    out.push([b[0] - a[0], b[1] - a[1]]);
                    known = true;
                }
            }
            Segment::Arc { start, sweep, .. } => {
                // a curve may begin with a bend
                if out.is_empty() {
                    out.push(tangent(start, sweep));
                }
                last = tangent(start + sweep, sweep);
                known = false;
            }
        }
    }
    // and end with one
    if !known {
        out.push(last);
    }
    out
}

/// Squares (or studs) along a run, or joists through which it goes, of the room in whose middle it lies.
fn passes(job: &Job, l: &LaidLoop, from: Point, to: Point) -> Option<u32> {
    let middle = [0, 1].map(|k| f64::midpoint(from[k], to[k]));
    let room = l.rooms().find(|&r| within(&job.rooms[r].outline, middle))?;
    match job.rooms[room].heated_floor()?.lattice? {
        FloorLattice::Squares { side_m, .. } => Some((distance(from, to) / side_m).round() as u32),
        FloorLattice::Joists { along, centres_m, one_m, .. } => {
            let k = 1 - along.index();
            let bay = |p: Point| ((p[k] - one_m) / centres_m).floor();
            Some((bay(from) - bay(to)).abs() as u32)
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::job::Axis;
    use crate::layout::lay_out;
    use crate::plan::Plan;
    use crate::samples::{box_room, job_of, manifold};

    fn laid(lattice: Option<FloorLattice>) -> (Job, LaidLoop) {
        let mut room = box_room("a", 0.0, 0.0, 4.0, 3.0);
        room.floor.as_mut().expect("heated").lattice = lattice;
        let mut job = job_of(vec![room]);
        job.manifolds.push(manifold("m", "A", "a", 0, 2.0));
        let l = lay_out(&job, &Plan::of(&job)).loops.remove(0);
        (job, l)
    }

    #[test]
    fn the_steps_add_up_to_the_loop_and_lead_from_one_to_the_next() {
        let (job, l) = laid(None);
        let steps = steps(&job, &l);
        assert!((steps.iter().map(|s| s.length_m).sum::<f64>() - l.length_m).abs() < 1e-6);
        assert_eq!(
            (steps[0].from, steps[0].heading_deg.round()),
            (l.points[0], 0.0),
            "off the south wall, up the sheet"
        );
        for w in steps.windows(2) {
            // what turns left heads so much less by the compass
            let turned = (w[0].heading_deg - w[1].heading_deg - w[0].turn_deg).rem_euclid(360.0);
            assert!(turned.min(360.0 - turned) < 0.5, "{turned}");
            assert!((w[0].along_m + w[1].length_m - w[1].along_m).abs() < 1e-9);
        }
        assert!(steps.iter().all(|s| s.passes.is_none()), "no lattice, nothing to count");
        assert_eq!(steps[steps.len() - 1].turn_deg, 0.0);
    }

    #[test]
    fn squares_and_joists_are_counted() {
        let (job, l) = laid(Some(FloorLattice::Squares { side_m: 0.1, cross: [0.05, 0.05] }));
        let long = steps(&job, &l).into_iter().max_by(|a, b| a.length_m.total_cmp(&b.length_m)).expect("steps");
        let counted = f64::from(long.passes.expect("a mesh"));
        assert!((counted * 0.1 - long.length_m).abs() < 0.15, "{counted} squares on {} m", long.length_m);
        let joists = FloorLattice::Joists { along: Axis::Y, centres_m: 0.4, width_m: 0.045, one_m: 0.1 };
        let (job, l) = laid(Some(joists));
        let all: u32 = steps(&job, &l).iter().filter_map(|s| s.passes).sum();
        assert_eq!(all as usize, crate::layout::rules::audit::holes(&job, &l, 0).len());
    }
}

//! A loop shaped by hand: a run or a corner is dragged, and the rest of the loop follows within the rules.
//!
//! A run is the straight between two corners of the route. Dragged sideways it takes the ends of its neighbours with it
//! and pushes parallel runs of the same loop ahead of it, never nearer than the tube can turn back (or than they lay
//! before). It stops where going on would violate the layout rules against a wall, a keep-out or another loop.
//!
//! ```
//! use fuoco_core::job::CheckedJob;
//! use fuoco_core::layout::{edit::hand, lay_out};
//! use fuoco_core::plan::Plan;
//! use fuoco_core::samples::{box_room, job_of, manifold};
//! let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
//! job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
//! let plan = Plan::of(&job);
//! let laid = lay_out(&job, &plan);
//! job.loops.push(hand::locked(&job, &laid.loops[0], "kept"));
//! let job = CheckedJob::new(job)?;
//! let locked = lay_out(&job, &plan);
//! // the sixth run moved by nothing stays where it lies
//! let lies = hand::drag(&job, &plan, &locked, "kept", hand::Grip::Run(5), [0.0, 0.0], true)?;
//! assert!(lies.corners.len() > 10 && lies.stop.is_none());
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use crate::error::FieldError;
use crate::geometry::distance;
use crate::job::{CheckedJob, Job, KeptLoop, MAX_PLACE_M, Point};
use crate::layout::Layout;
use crate::layout::curve;
use crate::layout::rules::audit::{self, Violation};
use crate::layout::{LaidLoop, sweep_of};
use crate::plan::Plan;
use serde::{Deserialize, Serialize};

/// How near to the end of what is valid a drag stops, as share of the drag: 2⁻⁷.
const HALVINGS: usize = 7;
/// Runs whose directions differ by less count as parallel, sine of the angle.
const PARALLEL: f64 = 0.02;

/// What is dragged.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "part", content = "index")]
pub enum Grip {
    /// The run from the corner of that index to the next.
    Run(usize),
    /// The corner of that index.
    Corner(usize),
}

/// Where a loop lies after a drag.
#[derive(Debug, Clone, PartialEq)]
pub struct Dragged {
    /// Its corners, m.
    pub corners: Vec<Point>,
    /// Why it did not go all the way.
    pub stop: Option<Stop>,
}

/// What stops a drag.
#[derive(Debug, Clone, PartialEq)]
pub enum Stop {
    /// Farther on it would violate a layout rule.
    Rule(Violation),
    /// Farther on the route would not be one: tube cannot turn there.
    Shape,
}

/// Where a locked loop of a job lies after a drag, as [`dragged`] has it.
///
/// # Errors
/// When the job keeps no such loop, the drag is none, or the loop would no longer be one.
pub fn drag(
    job: &CheckedJob,
    plan: &Plan,
    layout: &Layout,
    loop_id: &str,
    grip: Grip,
    by: Point,
    alone: bool,
) -> Result<Dragged, FieldError> {
    if !by.iter().all(|v| v.is_finite() && v.abs() <= MAX_PLACE_M) {
        return Err(FieldError::new("by", format!("must be within {MAX_PLACE_M} m")));
    }
    let kept = job.loops.iter().position(|l| l.id == loop_id);
    let index = layout.loops.iter().position(|l| l.kept.is_some() && l.kept == kept);
    let (Some(kept), Some(index)) = (kept, index) else {
        return Err(FieldError::new("loop_id", "names no locked loop of this job that is laid"));
    };
    let lies = dragged(job, plan, &layout.loops, index, grip, by, alone);
    let mut after = Job::clone(job);
    after.loops[kept].corners.clone_from(&lies.corners);
    CheckedJob::new(after).map_err(|e| FieldError::new("by", e.to_string()))?;
    Ok(lies)
}

/// A laid loop as one that is kept where it lies.
pub fn locked(job: &Job, l: &LaidLoop, id: &str) -> KeptLoop {
    KeptLoop {
        id: id.into(),
        manifold_id: job.manifolds[l.manifold].id.clone(),
        port: l.port,
        room_id: job.rooms[l.room].id.clone(),
        also_room_ids: l.stretches.iter().filter(|s| s.room != l.room).map(|s| job.rooms[s.room].id.clone()).collect(),
        corners: l.corners.clone(),
        leaders_m: l.leader_length_m,
        by_hand: false,
    }
}

/// The corners of a loop after a drag of `grip` by a vector, m. With `alone` nothing else moves and nothing stops it: the
/// audit will say what it thinks. A grip that the loop does not have leaves it as it is.
pub fn dragged(
    job: &Job,
    plan: &Plan,
    loops: &[LaidLoop],
    index: usize,
    grip: Grip,
    by: Point,
    alone: bool,
) -> Dragged {
    let whole = |corners| Dragged { corners, stop: None };
    let Some(l) = loops.get(index) else { return whole(vec![]) };
    let corners = curve::straighten(&l.corners);
    let shaped = |share: f64| {
        let by = by.map(|v| v * share);
        match grip {
            Grip::Run(i) => shift(job, l, &corners, i, by, alone),
            Grip::Corner(k) if k > 0 && k + 1 < corners.len() => {
                let first = shift(job, l, &corners, k - 1, by, alone)?;
                // pushing keeps the number of corners
                shift(job, l, &first, k, by, alone)
            }
            Grip::Corner(_) => None,
        }
    };
    if alone {
        return whole(shaped(1.0).unwrap_or(corners));
    }
    let mut all = loops.to_vec();
    let mut violations = |corners: &[Point]| {
        all[index] = l.rerouted(job, corners.to_vec(), l.leader_length_m);
        audit::audit_loop(job, plan, &all, index)
    };
    let before = violations(&corners);
    // the corners where they lie within the rules, else what is against it
    let mut tried = |share: f64| {
        let shape = shaped(share).ok_or(Stop::Shape)?;
        let now = violations(&shape);
        if now.len() <= before.len() {
            return Ok(shape);
        }
        let new = now.into_iter().find(|v| !before.iter().any(|b| b.kind == v.kind && b.loops == v.loops));
        Err(new.map_or(Stop::Shape, Stop::Rule))
    };
    let mut stop = match tried(1.0) {
        Ok(corners) => return whole(corners),
        Err(stop) => stop,
    };
    let (mut best, mut low, mut high) = (corners.clone(), 0.0, 1.0);
    for _ in 0..HALVINGS {
        let middle = f64::midpoint(low, high);
        match tried(middle) {
            Ok(corners) => (best, low) = (corners, middle),
            Err(nearer) => (stop, high) = (nearer, middle),
        }
    }
    Dragged { corners: best, stop: Some(stop) }
}

/// The corners after a run was moved sideways by the part of `by` across it; None where a run would turn round.
fn shift(job: &Job, l: &LaidLoop, corners: &[Point], run: usize, by: Point, alone: bool) -> Option<Vec<Point>> {
    let n = corners.len().checked_sub(1)?;
    if run >= n {
        return None;
    }
    let heading = |i: usize| {
        let (a, b) = (corners[i], corners[i + 1]);
        let length = distance(a, b).max(1e-12);
        [(b[0] - a[0]) / length, (b[1] - a[1]) / length]
    };
    let u = heading(run);
    let normal = [-u[1], u[0]];
    let dot = |p: Point, q: Point| p[0] * q[0] + p[1] * q[1];
    let d = dot(by, normal);
    let mut moved = vec![0.0; n];
    moved[run] = d;
    if !alone && d != 0.0 {
        push(job, l, corners, run, d, &mut moved);
    }
    let mut out = corners.to_vec();
    for (k, corner) in out.iter_mut().enumerate() {
        let before = (k > 0).then(|| k - 1).map(|i| (heading(i), moved[i]));
        let after = (k < n).then_some(k).map(|i| (heading(i), moved[i]));
        let across = |(h, m): (Point, f64)| {
            // a pushed run moves the way the dragged one does, whichever way it runs
            let own = [-h[1], h[0]];
            let way = if dot(own, normal) < 0.0 { -m } else { m };
            (own, way)
        };
        *corner = match (before, after) {
            (Some(a), Some(b)) => meet(*corner, across(a), across(b)),
            (Some(one), None) | (None, Some(one)) => {
                let (own, way) = across(one);
                [corner[0] + own[0] * way, corner[1] + own[1] * way]
            }
            (None, None) => *corner,
        };
    }
    let turned_round = |k: usize| {
        let (a, b) = (out[k], out[k + 1]);
        dot([b[0] - a[0], b[1] - a[1]], heading(k)) < -1e-9
    };
    let sound = alone || !(0..n).any(turned_round);
    // no farther than a job may say
    (sound && out.iter().flatten().all(|v| v.abs() <= MAX_PLACE_M)).then_some(out)
}

/// Where two lines through a corner meet after each was moved along its own normal.
fn meet(corner: Point, (n1, d1): (Point, f64), (n2, d2): (Point, f64)) -> Point {
    let cross = n1[0] * n2[1] - n1[1] * n2[0];
    if cross.abs() < PARALLEL {
        let d = if d1.abs() > d2.abs() { (n1, d1) } else { (n2, d2) };
        return [corner[0] + d.0[0] * d.1, corner[1] + d.0[1] * d.1];
    }
    [corner[0] + (d1 * n2[1] - d2 * n1[1]) / cross, corner[1] + (d2 * n1[0] - d1 * n2[0]) / cross]
}

/// How far the parallel runs ahead of a moved one have to give way.
fn push(job: &Job, l: &LaidLoop, corners: &[Point], run: usize, d: f64, moved: &mut [f64]) {
    let (_, least) = sweep_of(job, l.room);
    let (a, b) = (corners[run], corners[run + 1]);
    let length = distance(a, b).max(1e-12);
    let u = [(b[0] - a[0]) / length, (b[1] - a[1]) / length];
    let sign = d.signum();
    let ahead = [-u[1] * sign, u[0] * sign];
    let place = |p: Point, along: Point| p[0] * along[0] + p[1] * along[1];
    struct Run {
        index: usize,
        at: f64,
        span: [f64; 2],
    }
    let mut runs: Vec<Run> = (0..corners.len() - 1)
        .filter_map(|i| {
            let (p, q) = (corners[i], corners[i + 1]);
            let l = distance(p, q).max(1e-12);
            let off = ((q[0] - p[0]) * ahead[0] + (q[1] - p[1]) * ahead[1]) / l;
            let (s, t) = (place(p, u), place(q, u));
            // the ends at the manifold stay
            let held = i == 0 || i + 2 == corners.len();
            (off.abs() < PARALLEL && (!held || i == run)).then(|| Run {
                index: i,
                at: place(p, ahead),
                span: [s.min(t), s.max(t)],
            })
        })
        .collect();
    runs.sort_by(|x, y| x.at.total_cmp(&y.at));
    let Some(first) = runs.iter().position(|r| r.index == run) else { return };
    for j in first + 1..runs.len() {
        let mut give = 0.0_f64;
        for i in first..j {
            let (back, front) = (&runs[i], &runs[j]);
            let apart = front.at - back.at;
            let beside = back.span[1].min(front.span[1]) - back.span[0].max(front.span[0]);
            if apart < 1e-6 || beside < -least {
                continue;
            }
            let keep = apart.min(2.0 * least);
            give = give.max(moved[back.index].abs() - (apart - keep));
        }
        moved[runs[j].index] = sign * give.max(0.0);
    }
    // behind a run that goes away nothing has to follow
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::geometry::segment;
    use crate::layout::lay_out;
    use crate::samples::{box_room, cabinet, job_of, manifold};

    fn room() -> (Job, Vec<LaidLoop>) {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
        job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
        let loops = lay_out(&job, &Plan::of(&job)).loops;
        (job, loops)
    }

    /// The longest run and a unit vector across it that leads into the room.
    fn longest(corners: &[Point]) -> (usize, Point) {
        let i = (1..corners.len() - 2)
            .max_by(|&a, &b| distance(corners[a], corners[a + 1]).total_cmp(&distance(corners[b], corners[b + 1])))
            .expect("runs");
        let (p, q) = (corners[i], corners[i + 1]);
        let d = distance(p, q);
        let across = [-(q[1] - p[1]) / d, (q[0] - p[0]) / d];
        let middle = [2.5 - f64::midpoint(p[0], q[0]), 2.0 - f64::midpoint(p[1], q[1])];
        let inward = across[0] * middle[0] + across[1] * middle[1] > 0.0;
        (i, if inward { across } else { across.map(|v| -v) })
    }

    fn least_gap(corners: &[Point]) -> f64 {
        // without the leaders, which lie closer
        let runs: Vec<_> = corners[3..corners.len() - 3].windows(2).collect();
        let mut least = f64::MAX;
        for (i, a) in runs.iter().enumerate() {
            for b in &runs[(i + 2).min(runs.len())..] {
                least = least.min(segment::between_segments(a[0], a[1], b[0], b[1]));
            }
        }
        least
    }

    #[test]
    fn a_run_pushes_its_neighbours_and_stays_lawful() {
        let (job, loops) = room();
        let corners = &loops[0].corners;
        let (run, into) = longest(corners);
        for far in [0.03, 0.1, 0.5, 2.0] {
            let moved = dragged(&job, &Plan::of(&job), &loops, 0, Grip::Run(run), into.map(|v| v * far), false).corners;
            assert_eq!(moved.len(), corners.len());
            let mut all = loops.clone();
            all[0] = loops[0].rerouted(&job, moved.clone(), 0.0);
            let violations = audit::audit(&job, &Plan::of(&job), &all);
            assert!(violations.is_empty(), "{far}: {violations:?}");
            assert!(distance(moved[run], corners[run]) > 0.02, "{far}: it moved");
            assert!(least_gap(&moved) > 0.15, "{far}: {} is room to turn back", least_gap(&moved));
        }
        let back = dragged(&job, &Plan::of(&job), &loops, 0, Grip::Run(run), into.map(|v| -v), false);
        assert!(distance(back.corners[run], corners[run]) < 0.1, "the wall stops it");
        let Some(Stop::Rule(v)) = back.stop else { panic!("{:?}", back.stop) };
        assert_eq!((v.kind, v.loops), (audit::ViolationKind::Wall, vec![0]));
        assert_eq!(dragged(&job, &Plan::of(&job), &loops, 0, Grip::Run(run), [0.0; 2], false).stop, None);
    }

    #[test]
    fn alone_it_goes_where_it_is_put_and_the_audit_speaks() {
        let (job, loops) = room();
        let (run, into) = longest(&loops[0].corners);
        let put = dragged(&job, &Plan::of(&job), &loops, 0, Grip::Run(run), into.map(|v| -v), true).corners;
        assert!((distance(put[run], loops[0].corners[run]) - 1.0).abs() < 1e-9);
        let mut all = loops.clone();
        all[0] = loops[0].rerouted(&job, put.clone(), 0.0);
        assert!(audit::audit(&job, &Plan::of(&job), &all).iter().any(|b| b.kind == audit::ViolationKind::Wall));
    }

    #[test]
    fn a_corner_takes_both_its_runs_along() {
        let (job, loops) = room();
        let corners = &loops[0].corners;
        let (run, into) = longest(corners);
        let by = into.map(|v| v * 0.04);
        let moved = dragged(&job, &Plan::of(&job), &loops, 0, Grip::Corner(run), by, false).corners;
        assert!((distance(moved[run], corners[run]) - 0.04).abs() < 1e-6);
        assert_eq!((moved[0], moved.last()), (corners[0], corners.last()), "the ports stay");
        assert_eq!(
            dragged(&job, &Plan::of(&job), &loops, 0, Grip::Corner(0), by, false).corners,
            *corners,
            "a port is no corner"
        );
        assert_eq!(dragged(&job, &Plan::of(&job), &loops, 0, Grip::Run(9999), by, false).corners, *corners);
        assert!(dragged(&job, &Plan::of(&job), &loops, 99, Grip::Run(0), by, false).corners.is_empty());
    }

    #[test]
    fn a_keep_out_stops_it() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
        job.rooms[0].keep_outs.push(cabinet("k", 2.2, 1.8, 2.8, 2.4));
        job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
        let loops = lay_out(&job, &Plan::of(&job)).loops;
        for run in 1..loops[0].corners.len() - 2 {
            for by in [[0.3, 0.0], [-0.3, 0.0], [0.0, 0.3], [0.0, -0.3]] {
                let moved = dragged(&job, &Plan::of(&job), &loops, 0, Grip::Run(run), by, false).corners;
                let mut all = loops.clone();
                all[0] = loops[0].rerouted(&job, moved.clone(), 0.0);
                assert!(audit::audit(&job, &Plan::of(&job), &all).is_empty(), "run {run} by {by:?}");
            }
        }
    }
}

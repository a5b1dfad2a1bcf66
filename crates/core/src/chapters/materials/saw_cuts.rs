//! Where tube passes under saw cuts, and whether it lies deep enough there.

use crate::floor::part::{BuildUp, TubeFrom};
use crate::geometry::outline::within;
use crate::geometry::{Point, distance};
use crate::job::{Job, Mark, MarkKind};
use crate::study::Study;
use serde::{Deserialize, Serialize};

/// A loop under a saw cut.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SawCrossing {
    /// The mark of the cut.
    pub mark_id: String,
    /// The loop.
    pub loop_id: String,
    /// Where, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub at: Point,
    /// Tube from the supply port to there, m.
    pub along_m: f64,
    /// Top of the tube under the top of the slab, m.
    pub tube_depth_m: f64,
    /// Depth of the saw, m.
    pub saw_depth_m: f64,
    /// Concrete between them is less than the firm's rule.
    pub too_shallow: bool,
}

/// Top of a tube of that diameter under the top of its build-up's uppermost layer, m.
fn tube_depth_m(build_up: &BuildUp, od_m: f64) -> f64 {
    let above: f64 = build_up.layers[..build_up.tube_layer].iter().map(|l| l.thickness_m).sum();
    match build_up.tube_from {
        TubeFrom::Top => above + build_up.tube_gap_m,
        TubeFrom::Bottom => above + build_up.layers[build_up.tube_layer].thickness_m - build_up.tube_gap_m - od_m,
    }
}

/// Every place where a loop passes under a saw cut.
pub(crate) fn crossings(study: &Study) -> Vec<SawCrossing> {
    let job = &study.job;
    let rules = &job.purchasing.fixing;
    let mut out = vec![];
    for mark in job.marks.iter().filter(|m| m.kind == MarkKind::SawCut && m.points.len() == 2) {
        for (l, laid) in study.loops.iter().zip(&study.layout.loops) {
            if job.rooms[laid.room].level_id != mark.level_id {
                continue;
            }
            let mut along_m = l.riser_m / 2.0;
            for w in l.path.windows(2) {
                let at = crossing(w[0], w[1], mark.points[0], mark.points[1]);
                if let Some((at, depth)) = at.and_then(|at| Some((at, depth(job, mark, at)?))) {
                    out.push(SawCrossing {
                        mark_id: mark.id.clone(),
                        loop_id: l.id.clone(),
                        at,
                        along_m: along_m + distance(w[0], at),
                        tube_depth_m: depth.tube_m,
                        saw_depth_m: depth.saw_m,
                        too_shallow: depth.tube_m < depth.saw_m + rules.saw_cover_m - 1e-9,
                    });
                }
                along_m += distance(w[0], w[1]);
            }
        }
    }
    out
}

struct Depth {
    tube_m: f64,
    saw_m: f64,
}

/// How deep tube and saw go at a place; none where nothing poured is sawn there.
fn depth(job: &Job, mark: &Mark, at: Point) -> Option<Depth> {
    let room = job.rooms.iter().find(|r| r.level_id == mark.level_id && within(&r.outline, at))?;
    let floor = room.heated_floor()?;
    let (build_up, tube) = job.build_up(&floor.build_up_id).zip(job.tube(&floor.tube_id))?;
    if !build_up.laying.is_poured() {
        return None;
    }
    let slab_m: f64 = build_up.layers[..=build_up.tube_layer].iter().map(|l| l.thickness_m).sum();
    let saw_m = job.purchasing.fixing.saw_depth_m.unwrap_or(slab_m / 4.0);
    Some(Depth { tube_m: tube_depth_m(build_up, tube.od_m), saw_m })
}

/// Where a piece of tube crosses a line; its far end belongs to the next piece.
pub(super) fn crossing(a: Point, b: Point, c: Point, d: Point) -> Option<Point> {
    let cross = |u: Point, v: Point| u[0] * v[1] - u[1] * v[0];
    let (r, s, ac) = ([b[0] - a[0], b[1] - a[1]], [d[0] - c[0], d[1] - c[1]], [c[0] - a[0], c[1] - a[1]]);
    let across = cross(r, s);
    if across.abs() < 1e-12 {
        return None;
    }
    let (t, u) = (cross(ac, s) / across, cross(ac, r) / across);
    ((0.0..1.0).contains(&t) && (0.0..=1.0).contains(&u)).then(|| [a[0] + t * r[0], a[1] + t * r[1]])
}

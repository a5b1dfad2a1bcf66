//! Where the crew takes care on the way along a loop: in doorways, in walls, beside what is bolted to the floor.

use super::saw_cuts::crossing;
use crate::geometry::{Point, distance};
use crate::job::{KeepOut, KeepOutKind};
use crate::plan::passages::Passage;
use crate::study::Study;
use serde::{Deserialize, Serialize};

/// Tube that passes a bolt-down spot or column by less than this beyond its clearance is told, m: about a hand's breadth, as far
/// as a bracket or a drill strays.
const BESIDE_M: f64 = 0.1;

/// What the crew takes care of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CautionKind {
    /// A doorway: sills, plates and stops are screwed down there.
    Doorway,
    /// A sleeve through a wall.
    WallSleeve,
    /// A spot where something is bolted to the floor.
    BoltDown,
    /// A column.
    Column,
}

/// A place on a loop where the crew takes care.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Caution {
    /// What is there.
    pub kind: CautionKind,
    /// The loop.
    pub loop_id: String,
    /// What it is called, or the rooms on both sides.
    pub name: String,
    /// Where, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub at: Point,
    /// Tube from the supply port to there, m.
    pub along_m: f64,
}

/// Every such place, loop by loop in the order in which they are met.
pub(crate) fn cautions(study: &Study) -> Vec<Caution> {
    let job = &study.job;
    let mut out = vec![];
    for (l, laid) in study.loops.iter().zip(&study.layout.loops) {
        let level = &job.rooms[laid.room].level_id;
        let ways = || study.plan.passages.iter().filter(|p| job.rooms[p.rooms[0]].level_id == *level);
        let fixed = || job.rooms.iter().filter(|r| r.level_id == *level).flat_map(|r| &r.keep_outs);
        let mut found: Vec<Caution> = vec![];
        let mut say = |kind, name: String, at: Point, along_m: f64| {
            found.push(Caution { kind, loop_id: l.id.clone(), name, at, along_m });
        };
        let mut along_m = l.riser_m / 2.0;
        for w in l.path.windows(2) {
            for p in ways() {
                let [a, b] = middle(p);
                if let Some(at) = crossing(w[0], w[1], a, b) {
                    let kind = if p.is_sleeve { CautionKind::WallSleeve } else { CautionKind::Doorway };
                    let [from, to] = p.rooms.map(|r| job.rooms[r].name.as_str());
                    say(kind, format!("{from}, {to}"), at, along_m + distance(w[0], at));
                }
            }
            along_m += distance(w[0], w[1]);
        }
        for k in fixed() {
            let kind = match k.kind {
                KeepOutKind::BoltDown => CautionKind::BoltDown,
                KeepOutKind::Column => CautionKind::Column,
                _ => continue,
            };
            if let Some((at, along_m)) = nearest(k, &l.path, k.clearance_m + BESIDE_M) {
                say(kind, k.name.clone(), at, l.riser_m / 2.0 + along_m);
            }
        }
        found.sort_by(|a, b| a.along_m.total_cmp(&b.along_m));
        out.append(&mut found);
    }
    out
}

/// The line across a passage, halfway through its wall.
fn middle(p: &Passage) -> [Point; 2] {
    [0, 1].map(|end| [0, 1].map(|k| f64::midpoint(p.near[end][k], p.far[end][k])))
}

/// Where a path comes nearest to what stands there, and how far along, when it comes within `reach`.
fn nearest(of: &KeepOut, path: &[Point], reach: f64) -> Option<(Point, f64)> {
    let mut best = (reach, None);
    let mut along = 0.0;
    for w in path.windows(2) {
        let length = distance(w[0], w[1]);
        let at = |t: f64| [0, 1].map(|k| w[0][k] + t * (w[1][k] - w[0][k]));
        // no point of the piece is nearer than its middle by more than half of it
        if of.distance_to(at(0.5)) - length / 2.0 < best.0 {
            let (mut low, mut high) = (0.0, 1.0);
            // the distance to a rectangle falls and then rises along a straight: to a millimetre of any piece
            for _ in 0..24 {
                let third = (high - low) / 3.0;
                if of.distance_to(at(low + third)) <= of.distance_to(at(high - third)) {
                    high -= third
                } else {
                    low += third
                }
            }
            let t = f64::midpoint(low, high);
            let away = of.distance_to(at(t));
            if away < best.0 {
                best = (away, Some((at(t), along + t * length)));
            }
        }
        along += length;
    }
    best.1
}

//! Where a manifold might hang: spots on the walls, first by the rough length of all ways, the best few by their layout.
//!
//! ```
//! use fuoco_core::job::CheckedJob;
//! use fuoco_core::layout::topology::places::places;
//! use fuoco_core::samples::{box_room, doorway, job_of};
//! let mut hall = box_room("hall", 0.0, 0.0, 5.0, 4.0);
//! hall.openings.push(doorway("d", 1, 1.0, 0.9));
//! let job = CheckedJob::new(job_of(vec![hall, box_room("study", 5.12, 0.0, 9.0, 4.0)]))?;
//! let best = &places(&job, None)?[0];
//! assert_eq!(best.unreached, 0);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use crate::error::FieldError;
use crate::job::{CheckedJob, Job, Manifold, Room};
use crate::layout::rules::score;
use crate::layout::topology::parts;
use crate::layout::topology::tree::Tree;
use crate::layout::{lay_out, longest_loop};
use crate::plan;
use crate::plan::Plan;
use crate::watch::Watch;
use serde::{Deserialize, Serialize};

/// Clear wall to either side of a manifold's middle, m.
const HALF_M: f64 = 0.5;
/// Spots on one wall keep that distance, m.
const APART_M: f64 = 1.5;
/// Places told on one wall keep that distance, m.
const OTHER_M: f64 = 3.0;
/// So many spots are looked at roughly at most.
const MOST_SPOTS: usize = 240;
/// So many are laid out.
const LAID: usize = 6;
/// So many are told.
const TOLD: usize = 3;

/// A spot for a manifold and what hanging it there would give.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Place {
    /// The room.
    pub room_id: String,
    /// The wall.
    pub edge: usize,
    /// From the wall's first corner, m.
    pub offset_m: f64,
    /// Rooms with a heated floor that get no loop.
    pub unreached: usize,
    /// Loops of the whole job.
    pub loops: usize,
    /// Leaders of all loops, m.
    pub leaders_m: f64,
    /// All tube, m.
    pub tube_m: f64,
    /// Largest deviation of a loop's length from its manifold's mean, as share of the mean.
    pub spread: f64,
    /// Largest share of its limit that a loop takes.
    pub of_limit: f64,
    /// What the layout there could not do, and violations of its rules.
    pub problems: usize,
}

/// The best places for a manifold of the job (or for a new one) with the others as they hang, best first: rooms reached,
/// then leader metres. Locked loops of the manifold are left out of account.
///
/// # Errors
/// When the manifold is unknown.
pub fn places(job: &CheckedJob, manifold_id: Option<&str>) -> Result<Vec<Place>, FieldError> {
    let mut job = Job::clone(job);
    let index = match manifold_id {
        Some(id) => {
            let found = job.manifolds.iter().position(|m| m.id == id);
            found.ok_or_else(|| FieldError::new("manifold_id", "names no manifold of this job"))?
        }
        None => {
            let id = "a manifold to be placed".to_owned();
            job.manifolds.push(Manifold {
                id,
                letter: "?".into(),
                room_id: String::new(),
                edge: 0,
                offset_m: 0.0,
                ports: 24,
                risers: vec![],
                valve_table: vec![],
            });
            job.manifolds.len() - 1
        }
    };
    // wherever it hangs, the walls stay the same
    let plan = Plan::of(&job);
    let moved = job.manifolds[index].id.clone();
    job.loops.retain(|l| l.manifold_id != moved);
    let mut spots: Vec<(f64, Manifold)> = Vec::new();
    let all: Vec<Manifold> = job.rooms.iter().flat_map(|r| spots_of(r, &job.manifolds[index])).collect();
    for spot in all.iter().step_by(all.len() / MOST_SPOTS + 1) {
        job.manifolds[index] = spot.clone();
        spots.push((rough(&job, &plan), spot.clone()));
    }
    spots.sort_by(|a, b| a.0.total_cmp(&b.0));
    let mut out: Vec<Place> = Vec::new();
    // a metre more or less along one wall is no other place
    let mut apart: Vec<Manifold> = Vec::new();
    for (_, spot) in spots {
        let near = |m: &Manifold| {
            (&m.room_id, m.edge) == (&spot.room_id, spot.edge) && (m.offset_m - spot.offset_m).abs() < OTHER_M
        };
        if apart.len() < LAID && !apart.iter().any(near) {
            apart.push(spot);
        }
    }
    for spot in apart {
        job.manifolds[index] = spot;
        out.push(judged(&job, &plan, index));
    }
    let key = |p: &Place| 1e6 * p.unreached as f64 + 1e3 * p.problems as f64 + p.leaders_m;
    out.sort_by(|a, b| key(a).total_cmp(&key(b)));
    out.truncate(TOLD);
    Ok(out)
}

/// Spots on a room's walls clear of openings and corners.
pub(crate) fn spots_of(room: &Room, manifold: &Manifold) -> Vec<Manifold> {
    if !plan::is_simple(room) {
        return vec![];
    }
    let mut out = Vec::new();
    for e in plan::edges(room) {
        let free = e.length() - 2.0 * HALF_M;
        if free < 0.0 {
            continue;
        }
        let n = (free / APART_M).floor() as usize + 1;
        for k in 0..n {
            let at = HALF_M + if n > 1 { free * k as f64 / (n - 1) as f64 } else { free / 2.0 };
            let clear = room.openings.iter().filter(|o| o.edge == e.index).all(|o| {
                let (s, t) = e.stretch(o.offset_m, o.width_m);
                at + HALF_M < s || at - HALF_M > t
            });
            let p = e.at(at);
            let stands = |k: &crate::job::KeepOut| {
                let d = (k.x0_m - p[0]).max(p[0] - k.x1_m).max(0.0).hypot((k.y0_m - p[1]).max(p[1] - k.y1_m).max(0.0));
                d < HALF_M
            };
            if clear && !room.keep_outs.iter().any(stands) {
                let offset_m = (if e.reversed { e.length() - at } else { at } * 100.0).round() / 100.0;
                out.push(Manifold { room_id: room.id.clone(), edge: e.index, offset_m, ..manifold.clone() });
            }
        }
    }
    out
}

/// Leader metres by the rough ways over the doorways; rooms out of reach weigh heavily.
fn rough(job: &Job, plan: &Plan) -> f64 {
    let parted = parts::Parted::uncut(job, plan, &Watch::default());
    let tree = Tree::of(&parted, &mut vec![]);
    let of_room = |(i, room): (usize, &Room)| {
        let Some(floor) = room.heated_floor() else { return 0.0 };
        let Some(tube) = job.tube(&floor.tube_id) else { return 0.0 };
        let loops = (plan.heatable_m2[i] / floor.spacing_core_m / longest_loop(job, tube)).ceil();
        if tree.way[i].is_finite() { 2.0 * loops * tree.way[i] } else { 1e4 }
    };
    job.rooms.iter().enumerate().map(of_room).sum()
}

fn judged(job: &Job, plan: &Plan, index: usize) -> Place {
    let layout = lay_out(job, plan);
    let s = score::score(job, plan, &layout);
    let m = &job.manifolds[index];
    // how many ports it needs is no matter here: it gets them
    let real = |p: &&crate::layout::Problem| !matches!(p, crate::layout::Problem::Ports { .. });
    Place {
        room_id: m.room_id.clone(),
        edge: m.edge,
        offset_m: m.offset_m,
        unreached: s.rooms.iter().filter(|r| r.loops == 0).count(),
        loops: layout.loops.len(),
        leaders_m: layout.loops.iter().map(|l| l.leader_length_m).sum(),
        tube_m: s.tube_m(),
        spread: s.manifolds.iter().map(|m| m.spread).fold(0.0, f64::max),
        of_limit: s.manifolds.iter().map(|m| m.of_limit).fold(0.0, f64::max),
        problems: layout.problems.iter().filter(real).count() + s.violations,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::samples::{box_room, doorway, job_of, manifold, window};

    fn places(job: &Job, manifold: Option<&str>) -> Result<Vec<Place>, FieldError> {
        super::places(&CheckedJob::new(job.clone())?, manifold)
    }

    /// Three rooms in a row with doorways; the middle one has a window on its south wall.
    fn row() -> Job {
        let mut middle = box_room("middle", 5.1, 0.0, 10.1, 4.0);
        middle.openings = vec![doorway("d", 3, 1.5, 0.9), doorway("e", 1, 1.5, 0.9), window("w", 0, 0.2, 4.6, 1.2)];
        let rooms = vec![box_room("west", 0.0, 0.0, 5.0, 4.0), middle, box_room("east", 10.2, 0.0, 15.2, 4.0)];
        job_of(rooms)
    }

    #[test]
    fn the_middle_of_the_rooms_is_best_and_windows_are_left_free() {
        let found = places(&row(), None).expect("places");
        assert_eq!(found.len(), 3);
        let best = &found[0];
        assert_eq!((best.room_id.as_str(), best.unreached), ("middle", 0));
        assert!(found.iter().all(|p| p.room_id != "middle" || p.edge != 0), "the window's wall");
        assert!(found.windows(2).all(|p| p[0].leaders_m <= p[1].leaders_m || p[0].problems < p[1].problems));
        // and it is better than the far end
        let mut far = row();
        far.manifolds.push(manifold("m", "A", "west", 3, 2.0));
        let there = lay_out(&far, &Plan::of(&far)).loops.iter().map(|l| l.leader_length_m).sum::<f64>();
        assert!(best.leaders_m < 0.7 * there, "{} instead of {there}", best.leaders_m);
        let moved = places(&far, Some("m")).expect("places");
        assert_eq!(moved[0].room_id, "middle");
    }

    #[test]
    fn an_unknown_manifold_is_refused_and_no_rooms_have_no_place() {
        assert_eq!(places(&row(), Some("x")).expect_err("unknown").field, "manifold_id");
        assert!(places(&job_of(vec![]), None).expect("nothing").is_empty());
    }
}

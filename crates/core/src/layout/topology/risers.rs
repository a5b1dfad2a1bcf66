//! Manifolds that serve another level: their tubes come through its floor at risers, each of which the layout takes for a
//! manifold on its wall.
//!
//! Tube hangs free below joist bays: rooms with bays on a level without a manifold or riser are reached from below (or
//! above) wherever that is nearest, without a sleeve.
//!
//! ```
//! use fuoco_core::job::Riser;
//! use fuoco_core::layout::{lay_out, topology::risers::one_way_m};
//! use fuoco_core::plan::Plan;
//! use fuoco_core::samples::{box_room, job_of, manifold};
//! let mut job = job_of(vec![box_room("cellar", 0.0, 0.0, 5.0, 4.0), box_room("living", 0.0, 0.0, 5.0, 4.0)]);
//! job.levels.push(fuoco_core::job::Level { id: "up".into(), name: "Ground floor".into(), floor_m: 2.7, underlay: None });
//! (job.rooms[0].floor, job.rooms[1].level_id) = (None, "up".into());
//! job.manifolds.push(manifold("m", "A", "cellar", 0, 1.0));
//! assert!(lay_out(&job, &Plan::of(&job)).loops.is_empty());
//! let riser = Riser { room_id: "living".into(), edge: 0, offset_m: 2.0, tube_m: None };
//! // a metre along the wall and a storey up
//! assert!((one_way_m(&job, 0, &riser) - 3.7).abs() < 1e-9);
//! job.manifolds[0].risers.push(riser);
//! assert!(lay_out(&job, &Plan::of(&job)).loops[0].riser_m > 7.3);
//! ```

use crate::geometry::distance;
use crate::job::{FloorLattice, Job, Manifold, Point, Riser};
use crate::layout::topology::places::spots_of;
use crate::layout::{manifold_place, place_of};
use std::collections::BTreeSet;

/// A riser as the manifold that the layout takes it for.
pub(crate) fn as_manifold(manifold: &Manifold, riser: &Riser) -> Manifold {
    let Riser { room_id, edge, offset_m, .. } = riser.clone();
    Manifold { room_id, edge, offset_m, risers: vec![], ..manifold.clone() }
}

/// Tube from a manifold to one of its risers, one way, m: what is typed, or along the walls and the height between the two
/// floors.
pub fn one_way_m(job: &Job, manifold: usize, riser: &Riser) -> f64 {
    let from = manifold_place(job, manifold);
    let to = place_of(job, &as_manifold(&job.manifolds[manifold], riser));
    let along = from.zip(to).map_or(0.0, |(a, b)| (a.1[0] - b.1[0]).abs() + (a.1[1] - b.1[1]).abs());
    let floor_m = |room: Option<usize>| {
        let level = room.and_then(|r| job.levels.iter().find(|l| l.id == job.rooms[r].level_id));
        level.map_or(0.0, |l| l.floor_m)
    };
    riser.tube_m.unwrap_or(along + (floor_m(from.map(|p| p.0)) - floor_m(to.map(|p| p.0))).abs())
}

/// The risers of all manifolds, each with its manifold: those of the job, and those by which joist bays are reached.
pub(crate) fn risers(job: &Job) -> Vec<(usize, Riser)> {
    let typed = (0..job.manifolds.len()).flat_map(|m| job.manifolds[m].risers.iter().map(move |r| (m, r.clone())));
    let mut out: Vec<(usize, Riser)> = typed.collect();
    let level_of = |room_id: &str| job.room(room_id).map(|r| r.level_id.as_str());
    let served: BTreeSet<&str> = job
        .manifolds
        .iter()
        .flat_map(|m| m.risers.iter().map(|r| r.room_id.as_str()).chain([m.room_id.as_str()]))
        .filter_map(level_of)
        .collect();
    for room in job.rooms.iter().filter(|r| !served.contains(r.level_id.as_str())) {
        let Some(floor) = room.heated_floor().filter(|f| matches!(f.lattice, Some(FloorLattice::Joists { .. }))) else {
            continue;
        };
        let wanted = |m: &usize| floor.manifold_id.as_ref().is_none_or(|w| *w == job.manifolds[*m].id);
        let ways = (0..job.manifolds.len()).filter(wanted).flat_map(|m| {
            let spots = spots_of(room, &job.manifolds[m]).into_iter();
            spots.map(move |s| (m, Riser { room_id: s.room_id, edge: s.edge, offset_m: s.offset_m, tube_m: None }))
        });
        out.extend(ways.min_by(|a, b| one_way_m(job, a.0, &a.1).total_cmp(&one_way_m(job, b.0, &b.1))));
    }
    out
}

/// Where the tubes of a manifold stand on the level of a room: at the manifold, or at the riser nearest to `start`; and the tube
/// from the manifold to there, one way, m.
pub(crate) fn place_on_level(job: &Job, manifold: usize, level_id: &str, start: Point) -> Option<(Manifold, f64)> {
    let hung = &job.manifolds[manifold];
    if job.room(&hung.room_id).is_some_and(|r| r.level_id == level_id) {
        return Some((hung.clone(), 0.0));
    }
    let here = risers(job).into_iter().filter(|(m, _)| *m == manifold).filter_map(|(_, riser)| {
        let as_hung = as_manifold(hung, &riser);
        let (room, at, _) = place_of(job, &as_hung)?;
        (job.rooms[room].level_id == level_id).then(|| (distance(at, start), as_hung, one_way_m(job, manifold, &riser)))
    });
    here.min_by(|a, b| a.0.total_cmp(&b.0)).map(|(_, hung, tube_m)| (hung, tube_m))
}

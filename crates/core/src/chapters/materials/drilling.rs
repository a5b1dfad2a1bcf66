//! Holes through joists, joist by joist: what is marked before anyone drills.

use super::part::FixingRules;
use crate::geometry::Point;
use crate::job::{FloorLattice, Job};
use crate::layout::LaidLoop;
use crate::layout::rules::audit;
use serde::{Deserialize, Serialize};

/// A joist with its holes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DrilledJoist {
    /// The room under whose floor it lies.
    pub room_id: String,
    /// Its number in the room, from the left or from below.
    pub number: u32,
    /// Diameter of its holes, m.
    pub diameter_m: f64,
    /// From the wall at its left or lower end, in that order.
    pub holes: Vec<Hole>,
}

/// A hole.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Hole {
    /// Where, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub at: Point,
    /// From the wall to its middle, m.
    pub from_wall_m: f64,
    /// It lies in an outer quarter of the span, where rules for joists are the strictest.
    pub near_end: bool,
}

/// The joists of a room that are drilled, in their order; none without joists.
pub(crate) fn drilled(job: &Job, loops: &[LaidLoop], room: usize, rules: &FixingRules) -> Vec<DrilledJoist> {
    let Some(floor) = job.rooms[room].heated_floor() else { return vec![] };
    let Some(FloorLattice::Joists { along, centres_m, one_m, .. }) = floor.lattice else { return vec![] };
    let (axis, across) = (along.index(), 1 - along.index());
    let outline = &job.rooms[room].outline;
    let ends = |k: usize| outline.iter().fold([f64::MAX, f64::MIN], |[a, b], p| [a.min(p[k]), b.max(p[k])]);
    let ([from, to], [left, _]) = (ends(axis), ends(across));
    let diameter_m = job.tube(&floor.tube_id).map_or(0.0, |t| t.od_m) + rules.hole_over_m;
    let first = ((left - one_m) / centres_m).ceil() as i64;
    let mut by_joist: std::collections::BTreeMap<i64, Vec<Hole>> = std::collections::BTreeMap::new();
    for at in loops.iter().flat_map(|l| audit::holes(job, l, room)) {
        let joist = ((at[across] - one_m) / centres_m).round() as i64;
        let from_wall_m = at[axis] - from;
        let quarter = (to - from) / 4.0;
        let near_end = from_wall_m < quarter || to - at[axis] < quarter;
        by_joist.entry(joist).or_default().push(Hole { at, from_wall_m, near_end });
    }
    let joist = |(n, mut holes): (i64, Vec<Hole>)| {
        holes.sort_by(|a, b| a.from_wall_m.total_cmp(&b.from_wall_m));
        DrilledJoist { room_id: job.rooms[room].id.clone(), number: (n - first + 1).max(0) as u32, diameter_m, holes }
    };
    by_joist.into_iter().map(joist).collect()
}

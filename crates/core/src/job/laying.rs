//! Loops that are not left to the automatic layout.

use super::check::{count, range};
use super::{Job, Point};
use crate::error::FieldError;
use crate::geometry::distance;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// A route has at most this many corners.
pub const MAX_LOOP_CORNERS: usize = 2000;
/// Farthest from the sheet's origin that a corner may lie along either axis, m.
pub const MAX_PLACE_M: f64 = 1000.0;
/// A floor has at most this many splits.
pub const MAX_SPLITS: usize = 15;
/// A loop heats at most this many rooms beside its own.
const MAX_SHARED: usize = 15;
/// A loop is at least so long, m.
const SHORTEST_M: f64 = 0.1;
/// Loops that a job can keep: all ports of all its manifolds.
const MAX_KEPT: usize = 480;

/// A loop that lies where it lies: locked as the layout made it, or shaped by hand. The automatic layout goes round it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct KeptLoop {
    /// Stable id, unique in the job.
    pub id: String,
    /// The manifold it hangs on.
    pub manifold_id: String,
    /// Its port pair, 1…24, from the left as one faces the manifold.
    pub port: u32,
    /// The room that it heats; its tube is the loop's.
    pub room_id: String,
    /// Rooms of the same thermostat zone that it heats too, 15 at most.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub also_room_ids: Vec<String>,
    /// Corners of the route in flow order, from the supply port to the return port, m; 2 to 2000, each within ±1000,
    /// together at least 0.1 m of way. The tube's bends are put into them.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub corners: Vec<Point>,
    /// What of it is leaders even within its room, m, 0…300; tube outside its room always is.
    #[serde(default)]
    pub leaders_m: f64,
    /// Shaped by hand, not only locked.
    #[serde(default)]
    pub by_hand: bool,
}

impl KeptLoop {
    fn check<'a>(&'a self, job: &Job, path: &str, ids: &mut BTreeSet<&'a str>) -> Result<(), FieldError> {
        super::check::unique(ids, &format!("{path}.id"), &self.id)?;
        if !job.manifolds.iter().any(|m| m.id == self.manifold_id) {
            return Err(FieldError::new(format!("{path}.manifold_id"), "names no manifold of this job"));
        }
        if job.room(&self.room_id).is_none() {
            return Err(FieldError::new(format!("{path}.room_id"), "names no room of this job"));
        }
        count(&format!("{path}.also_room_ids"), self.also_room_ids.len(), 0, MAX_SHARED)?;
        let mut rooms = BTreeSet::from([&self.room_id]);
        for (k, id) in self.also_room_ids.iter().enumerate() {
            let field = format!("{path}.also_room_ids[{k}]");
            if job.room(id).is_none() {
                return Err(FieldError::new(field, "names no room of this job"));
            }
            if !rooms.insert(id) {
                return Err(FieldError::new(field, "names a room twice"));
            }
        }
        if !(1..=24).contains(&self.port) {
            return Err(FieldError::new(format!("{path}.port"), "must be 1 to 24"));
        }
        count(&format!("{path}.corners"), self.corners.len(), 2, MAX_LOOP_CORNERS)?;
        for (k, p) in self.corners.iter().enumerate() {
            for v in p {
                range(&format!("{path}.corners[{k}]"), *v, -MAX_PLACE_M, MAX_PLACE_M)?;
            }
        }
        let way: f64 = self.corners.windows(2).map(|w| distance(w[0], w[1])).sum();
        if way < SHORTEST_M {
            return Err(FieldError::new(
                format!("{path}.corners"),
                format!("must make a way of at least {SHORTEST_M} m"),
            ));
        }
        range(&format!("{path}.leaders_m"), self.leaders_m, 0.0, 300.0)
    }
}

impl Job {
    pub(super) fn check_loops<'a>(&'a self, ids: &mut BTreeSet<&'a str>) -> Result<(), FieldError> {
        count("loops", self.loops.len(), 0, MAX_KEPT)?;
        for (i, kept) in self.loops.iter().enumerate() {
            kept.check(self, &format!("loops[{i}]"), ids)?;
        }
        for (i, room) in self.rooms.iter().enumerate() {
            let Some(floor) = &room.floor else { continue };
            let path = format!("rooms[{i}].floor");
            if let Some(n) = floor.loops
                && !(1..=16).contains(&n)
            {
                return Err(FieldError::new(format!("{path}.loops"), "must be 1 to 16"));
            }
            if let Some(id) = &floor.manifold_id
                && !self.manifolds.iter().any(|m| &m.id == id)
            {
                return Err(FieldError::new(format!("{path}.manifold_id"), "names no manifold of this job"));
            }
            count(&format!("{path}.splits"), floor.splits.len(), 0, MAX_SPLITS)?;
            for (k, split) in floor.splits.iter().enumerate() {
                for v in split.iter().flatten() {
                    range(&format!("{path}.splits[{k}]"), *v, -MAX_PLACE_M, MAX_PLACE_M)?;
                }
            }
        }
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::samples::{box_room, job_of, manifold};

    #[test]
    fn each_field_is_refused_by_its_own_path() {
        let refused = |change: fn(&mut Job)| {
            let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
            job.manifolds.push(manifold("m", "A", "a", 0, 1.0));
            job.loops.push(KeptLoop {
                id: "loop".into(),
                manifold_id: "m".into(),
                port: 1,
                room_id: "a".into(),
                also_room_ids: vec![],
                corners: vec![[1.0, 0.0], [1.0, 1.0], [1.2, 1.0], [1.2, 0.0]],
                leaders_m: 0.0,
                by_hand: false,
            });
            job.check().expect("sound before the change");
            change(&mut job);
            job.check().expect_err("no longer sound").field
        };
        assert_eq!(refused(|j| j.loops[0].id = "m".into()), "loops[0].id");
        assert_eq!(refused(|j| j.loops[0].manifold_id = "n".into()), "loops[0].manifold_id");
        assert_eq!(refused(|j| j.loops[0].room_id = "b".into()), "loops[0].room_id");
        let also = "loops[0].also_room_ids[0]";
        assert_eq!(refused(|j| j.loops[0].also_room_ids = vec!["b".into()]), also);
        assert_eq!(refused(|j| j.loops[0].also_room_ids = vec!["a".into()]), also);
        assert_eq!(refused(|j| j.loops[0].port = 0), "loops[0].port");
        assert_eq!(refused(|j| j.loops[0].corners.truncate(1)), "loops[0].corners");
        assert_eq!(refused(|j| j.loops[0].corners = vec![[6.0, 0.0]; 3]), "loops[0].corners");
        assert_eq!(refused(|j| j.loops[0].corners[2][1] = f64::NAN), "loops[0].corners[2]");
        assert_eq!(refused(|j| j.loops[0].leaders_m = -1.0), "loops[0].leaders_m");
        assert_eq!(refused(|j| j.rooms[0].floor.iter_mut().for_each(|f| f.loops = Some(0))), "rooms[0].floor.loops");
        assert_eq!(
            refused(|j| j.rooms[0].floor.iter_mut().for_each(|f| f.manifold_id = Some("x".into()))),
            "rooms[0].floor.manifold_id"
        );
        assert_eq!(
            refused(|j| j.rooms[0].floor.iter_mut().for_each(|f| f.splits = vec![[[0.0, 0.0], [0.0, 1e9]]])),
            "rooms[0].floor.splits[0]"
        );
    }
}

//! Walls of two rooms that may be the two faces of one, but are too far apart or too much out of true to be taken for it.
//!
//! ```
//! use fuoco_core::plan::{Plan, nearly::nearly_shared};
//! use fuoco_core::samples::{box_room, job_of};
//! let job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.8, 0.0, 9.0, 4.0)]);
//! assert!((nearly_shared(&Plan::of(&job), &job)[0].gap_m - 0.8).abs() < 1e-9);
//! ```

use super::Plan;
use crate::geometry::{Point, distance};
use crate::job::Job;
use rstar::primitives::{GeomWithData, Line};
use rstar::{AABB, RTree};

/// A wall that stands to the outside before a wall of another room that does too, a little too far or too slanting to be the
/// two faces of one wall.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct NearlyShared {
    /// The two rooms, by index, the lower first.
    pub rooms: [usize; 2],
    /// The wall of the first, by its index in the outline.
    pub edge: usize,
    /// In the middle of what they have in common, on the first one's wall.
    pub at: Point,
    /// From face to face there, m.
    pub gap_m: f64,
}

/// Faces up to so far apart are asked about, m.
const ASKED_WALL_M: f64 = 1.0;
/// Faces that lean up to so much, as a sine, are asked about.
const ASKED_LEAN: f64 = 0.17;
/// Shorter stretches are not asked about, m.
const ASKED_LENGTH_M: f64 = 0.5;

/// All such walls, as they stand on the floor of one level; each pair of rooms once.
pub fn nearly_shared(plan: &Plan, job: &Job) -> Vec<NearlyShared> {
    type Face = GeomWithData<Line<Point>, usize>;
    let mut faces: Vec<Face> = Vec::new();
    let mut owners: Vec<(usize, usize)> = Vec::new();
    for (room, pieces) in plan.at_the_floor.iter().enumerate() {
        for p in pieces.iter().filter(|p| p.is_cold() && p.length() >= ASKED_LENGTH_M) {
            if let Some(e) = plan.edge(room, p.edge) {
                faces.push(GeomWithData::new(Line::new(e.at(p.from_m), e.at(p.to_m)), owners.len()));
                owners.push((room, p.edge));
            }
        }
    }
    let tree = RTree::bulk_load(faces.clone());
    let mut out: Vec<NearlyShared> = Vec::new();
    for face in &faces {
        let (room, edge) = owners[face.data];
        let (a, b) = (face.geom().from, face.geom().to);
        let length = distance(a, b);
        let d = [(b[0] - a[0]) / length, (b[1] - a[1]) / length];
        let grown = |k: usize, by: f64| if by < 0.0 { a[k].min(b[k]) + by } else { a[k].max(b[k]) + by };
        let reach = |by: f64| [grown(0, by), grown(1, by)];
        let near = tree.locate_in_envelope_intersecting(AABB::from_corners(reach(-ASKED_WALL_M), reach(ASKED_WALL_M)));
        for other in near {
            let (there, (p, q)) = (owners[other.data].0, (other.geom().from, other.geom().to));
            let e = [(q[0] - p[0]) / distance(p, q), (q[1] - p[1]) / distance(p, q)];
            let faces_it = d[0] * e[0] + d[1] * e[1] < 0.0 && (d[0] * e[1] - d[1] * e[0]).abs() < ASKED_LEAN;
            if there <= room || !faces_it || job.rooms[room].level_id != job.rooms[there].level_id {
                continue;
            }
            let along = |x: Point| (x[0] - a[0]) * d[0] + (x[1] - a[1]) * d[1];
            let (from, to) = (along(q).max(0.0), along(p).min(length));
            // outward is on the right of a face
            let off = |x: Point| (x[0] - a[0]) * d[1] - (x[1] - a[1]) * d[0];
            let share = (f64::midpoint(from, to) - along(p)) / (along(q) - along(p)).min(-1e-9);
            let gap_m = off(p) + (off(q) - off(p)) * share;
            let told = |o: &NearlyShared| o.rooms == [room, there];
            if to - from >= ASKED_LENGTH_M && (0.0..=ASKED_WALL_M).contains(&gap_m) && !out.iter().any(told) {
                let s = f64::midpoint(from, to);
                out.push(NearlyShared { rooms: [room, there], edge, at: [a[0] + d[0] * s, a[1] + d[1] * s], gap_m });
            }
        }
    }
    out.sort_by_key(|o| o.rooms);
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::samples::{box_room, job_of};

    #[test]
    fn thick_and_slanting_walls_between_rooms_are_asked_about() {
        let beside = |x: f64, lean: f64| {
            let mut b = box_room("b", x, 0.0, 10.0, 4.0);
            b.outline[3][0] += lean;
            let job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), b]);
            nearly_shared(&Plan::of(&job), &job)
        };
        assert_eq!(beside(5.3, 0.0), vec![], "one wall");
        assert_eq!(beside(5.3, 0.15), vec![], "one wall, two degrees out of true");
        let thick = beside(5.8, 0.0);
        assert!(thick.len() == 1 && (thick[0].gap_m - 0.8).abs() < 1e-9 && thick[0].edge == 1, "{thick:?}");
        assert_eq!(beside(5.1, 0.5).len(), 1, "seven degrees");
        assert_eq!(beside(7.0, 0.0), vec![], "two buildings");
    }
}

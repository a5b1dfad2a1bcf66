//! Ways for leaders from room to room: doorways and sleeves with one room behind their whole width.
//!
//! ```
//! use fuoco_core::plan::Plan;
//! use fuoco_core::samples::{box_room, doorway, job_of};
//! let mut hall = box_room("hall", 0.0, 0.0, 5.0, 4.0);
//! hall.openings.push(doorway("d", 1, 1.0, 0.9));
//! let plan = Plan::of(&job_of(vec![hall, box_room("study", 5.12, 0.0, 9.0, 4.0)]));
//! let door = &plan.passages[0];
//! assert_eq!((door.rooms, door.direction), ([0, 1], [1.0, 0.0]));
//! assert!((door.thickness_m - 0.12).abs() < 1e-9);
//! ```

use super::edge::Edge;
use super::walls::{Behind, WallPiece};
use crate::geometry::Point;
use crate::geometry::segment::foot;
use crate::job::{Job, OpeningKind};

/// A way for leaders from one room to the next: a doorway or a sleeve.
#[derive(Debug, Clone, PartialEq)]
pub struct Passage {
    /// The opening's id.
    pub id: String,
    /// A sleeve, else a doorway.
    pub is_sleeve: bool,
    /// The two rooms, by index: the one that owns the opening first.
    pub rooms: [usize; 2],
    /// The passage's two ends on the face of the first room, m.
    pub near: [Point; 2],
    /// The same before them on the face of the second room, m.
    pub far: [Point; 2],
    /// From the first room's face to the second's, m.
    pub thickness_m: f64,
    /// Unit vector from the first room to the second, square to the first one's wall.
    pub direction: Point,
    /// Unit vector into the second room, square to its own wall.
    pub into: Point,
}

/// All passages of the job, by the pieces of its walls at the floor. Tube stays on its level: a doorway without a room of the same
/// level behind it leads nowhere and is left out.
pub(super) fn passages(job: &Job, edges: &[Vec<Edge>], walls: &[Vec<WallPiece>]) -> Vec<Passage> {
    let mut out = Vec::new();
    for (index, room) in job.rooms.iter().enumerate() {
        let ways = room.openings.iter().filter(|o| matches!(o.kind, OpeningKind::Doorway | OpeningKind::Sleeve));
        for opening in ways {
            let Some(edge) = edges[index].iter().find(|e| e.index == opening.edge) else { continue };
            let (from, to) = edge.stretch(opening.offset_m, opening.width_m);
            let found = walls[index].iter().filter(|p| p.edge == edge.index).find_map(|p| match p.behind {
                Behind::Room { index: other, thickness_m }
                    if job.rooms[other].level_id == room.level_id && p.from_m <= from + 1e-6 && p.to_m >= to - 1e-6 =>
                {
                    let face = edges[other].iter().find(|e| Some(e.index) == p.other_edge)?;
                    Some((other, thickness_m, face))
                }
                _ => None,
            });
            if let Some((other, thickness_m, face)) = found {
                let inward = edge.inward();
                let near = [edge.at(from), edge.at(to)];
                out.push(Passage {
                    id: opening.id.clone(),
                    is_sleeve: opening.kind == OpeningKind::Sleeve,
                    rooms: [index, other],
                    near,
                    far: near.map(|p| foot(p, face.a, face.b)),
                    thickness_m,
                    direction: [-inward[0], -inward[1]],
                    into: face.inward(),
                });
            }
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Plan;
    use crate::samples::{box_room, job_of, window};

    fn passages(job: &Job) -> Vec<Passage> {
        Plan::of(job).passages
    }

    #[test]
    fn a_doorway_joins_the_two_rooms_that_share_the_wall() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.0, 9.0, 4.0)]);
        let mut door = window("d", 1, 1.0, 0.9, 2.0);
        door.kind = OpeningKind::Doorway;
        job.rooms[0].openings.push(door);
        let found = passages(&job);
        assert_eq!(found.len(), 1);
        assert_eq!(found[0].rooms, [0, 1]);
        assert_eq!(found[0].direction, [1.0, -0.0]);
        assert!((found[0].near[0][1] - 1.0).abs() < 1e-9);
        job.rooms[0].openings[0].offset_m = 3.5;
        assert!(passages(&job).is_empty(), "it would run into the corner");
    }

    /// Half a storey up the doorway still has a wall before it, but no tube goes through.
    #[test]
    fn no_leader_changes_the_level() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.0, 9.0, 4.0)]);
        job.levels.push(crate::job::Level { id: "up".into(), name: "Up".into(), floor_m: 0.0, underlay: None });
        job.rooms[0].openings.push(crate::samples::doorway("d", 1, 1.0, 0.9));
        assert_eq!(passages(&job).len(), 1);
        job.rooms[1].level_id = "up".into();
        assert!(passages(&job).is_empty());
    }
}

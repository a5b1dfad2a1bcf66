//! What lies above and below each room, from the overlap of the levels' plans; and the outlines with half the
//! walls, which close the gaps between rooms.
//!
//! ```
//! use fuoco_core::plan::Plan;
//! use fuoco_core::samples::building;
//! let job = building(2, 3);
//! let plan = Plan::of(&job);
//! let ground = job.rooms.iter().position(|r| r.level_id == job.levels[0].id).unwrap();
//! // the room above is shifted by 0.7 m: a strip has only roof above it
//! assert_eq!(plan.storeys[ground].above.len(), 1);
//! assert!(plan.storeys[ground].open_above_m2 > 0.0);
//! ```

use super::edge::Edge;
use super::walls::{Behind, WallPiece};
use crate::geometry::Point;
use crate::geometry::outline::bounds;
use crate::geometry::outline::signed_area;
use crate::geometry::polygon::shared_area;
use crate::heat_loss::construction;
use crate::job::{Beyond, Job};
use rstar::primitives::{GeomWithData, Rectangle};
use rstar::{AABB, RTree};

/// A floor upstairs lies at most this far above the ceiling below, m.
const THICKEST_CEILING_M: f64 = 1.0;
/// Shared floor below this area is neglected, m².
const SMALLEST_M2: f64 = 0.02;

/// A room above or below another and the area that both share.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Shared {
    /// The other room.
    pub room: usize,
    /// Area common to both clear insides, m².
    pub area_m2: f64,
    /// From the lower room's ceiling to the upper room's floor, m.
    pub thickness_m: f64,
}

/// Above and below one room.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Storey {
    /// Rooms above its ceiling.
    pub above: Vec<Shared>,
    /// Rooms below its floor.
    pub below: Vec<Shared>,
    /// Inside area that no room above covers, walls and all, m².
    pub open_above_m2: f64,
    /// Inside area that no room below carries, m².
    pub open_below_m2: f64,
    /// The same by outside faces, m².
    pub outer_open_above_m2: f64,
    /// The same by outside faces, m².
    pub outer_open_below_m2: f64,
    /// Outline by outside faces and middles of partitions; wall `i` as in the room.
    pub outer: Vec<Point>,
}

/// Thickness of the outside walls of a room's wall, m: its construction's, else the building's; none outdoors.
pub fn wall_thickness(job: &Job, room: usize, edge: usize) -> f64 {
    if job.outdoors.is_some() {
        return 0.0;
    }
    let own = job.rooms[room].walls.iter().find(|w| w.edge == edge).and_then(|w| w.construction_id.as_deref());
    let id = own.unwrap_or(&job.envelope.outside_wall_id);
    job.construction(id).and_then(construction::thickness).unwrap_or(job.envelope.ground.wall_m)
}

/// The outline moved outward: by the wall's thickness to the outside, by half of it to a neighbour. In the order of the
/// job's own corners.
pub(super) fn outer_outline(job: &Job, room: usize, walls: &[Edge], pieces: &[WallPiece]) -> Vec<Point> {
    let n = walls.len();
    let moves: Vec<f64> = walls
        .iter()
        .map(|w| {
            let (mut sum, mut length) = (0.0, 0.0);
            for f in pieces.iter().filter(|f| f.edge == w.index) {
                let by = match f.behind {
                    Behind::Room { thickness_m, .. } => thickness_m / 2.0,
                    Behind::Other(Beyond::Heated) => continue,
                    Behind::Other(_) => wall_thickness(job, room, w.index),
                };
                sum += by * f.length();
                length += f.length();
            }
            if length > 0.0 { sum / length } else { 0.0 }
        })
        .collect();
    let mut out = vec![[0.0, 0.0]; n];
    for i in 0..n {
        let (before, after) = (&walls[(i + n - 1) % n], &walls[i]);
        let (u, v) = (before.inward(), after.inward());
        let (s, t) = (-moves[(i + n - 1) % n], -moves[i]);
        let corner = after.a;
        // the point at distance s from one wall and t from the other; nearly straight on: the mean of both
        let cross = u[0] * v[1] - u[1] * v[0];
        let moved = if cross.abs() > 0.05 {
            [(s * v[1] - t * u[1]) / cross, (t * u[0] - s * v[0]) / cross]
        } else {
            let m = f64::midpoint(s, t);
            [(u[0] + v[0]) / 2.0 * m, (u[1] + v[1]) / 2.0 * m]
        };
        // where the anticlockwise wall starts at the outline's later corner, that corner is meant
        let index = if after.reversed { (after.index + 1) % n } else { after.index };
        out[index] = [corner[0] + moved[0], corner[1] + moved[1]];
    }
    out
}

/// Above and below every room. Outlines that cross themselves share nothing.
pub(super) fn storeys(
    job: &Job,
    edges: &[Vec<Edge>],
    walls: &[Vec<WallPiece>],
    is_simple: &[bool],
    floor_m: &[f64],
) -> Vec<Storey> {
    let n = job.rooms.len();
    let mut out: Vec<Storey> = (0..n)
        .map(|i| {
            let outer = outer_outline(job, i, &edges[i], &walls[i]);
            let (area, outer_area) = (signed_area(&job.rooms[i].outline).abs(), signed_area(&outer).abs());
            Storey {
                open_above_m2: area,
                open_below_m2: area,
                outer_open_above_m2: outer_area,
                outer_open_below_m2: outer_area,
                outer,
                ..Storey::default()
            }
        })
        .collect();
    let boxes = out.iter().enumerate().map(|(i, s)| {
        let [x0, y0, x1, y1] = bounds(&s.outer);
        GeomWithData::new(Rectangle::from_corners([x0, y0], [x1, y1]), i)
    });
    let index = RTree::bulk_load(boxes.collect());
    for lower in 0..n {
        let top = floor_m[lower] + job.rooms[lower].height_m;
        let [x0, y0, x1, y1] = bounds(&out[lower].outer);
        let near = index.locate_in_envelope_intersecting(AABB::from_corners([x0, y0], [x1, y1]));
        // in the job's order, whatever the order in the index
        let mut near: Vec<usize> = near.map(|g| g.data).collect();
        near.sort_unstable();
        for upper in near {
            let thickness_m = floor_m[upper] - top;
            if job.rooms[lower].level_id == job.rooms[upper].level_id
                || !(-0.05..=THICKEST_CEILING_M).contains(&thickness_m)
                || !is_simple[lower]
                || !is_simple[upper]
            {
                continue;
            }
            let (a, b) = (&job.rooms[lower].outline, &job.rooms[upper].outline);
            let covered = shared_area(a, &out[upper].outer);
            if covered < SMALLEST_M2 {
                continue;
            }
            let carried = shared_area(b, &out[lower].outer);
            let outer = shared_area(&out[lower].outer, &out[upper].outer);
            out[lower].open_above_m2 -= covered;
            out[upper].open_below_m2 -= carried;
            out[lower].outer_open_above_m2 -= outer;
            out[upper].outer_open_below_m2 -= outer;
            let area_m2 = shared_area(a, b);
            if area_m2 >= SMALLEST_M2 {
                let thickness_m = thickness_m.max(0.0);
                out[lower].above.push(Shared { room: upper, area_m2, thickness_m });
                out[upper].below.push(Shared { room: lower, area_m2, thickness_m });
            }
        }
    }
    for s in &mut out {
        for open in [&mut s.open_above_m2, &mut s.open_below_m2, &mut s.outer_open_above_m2, &mut s.outer_open_below_m2]
        {
            // rounding, and what two walls upstairs cover twice
            if *open < SMALLEST_M2 {
                *open = 0.0;
            }
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::job::{Level, Room};
    use crate::plan::Plan;
    use crate::samples::{box_room, job_of, shaped_room};

    fn two_levels(upper: Vec<Room>) -> Job {
        let mut job = job_of(vec![box_room("low", 0.0, 0.0, 8.0, 5.0)]);
        job.envelope.ground.wall_m = 0.3;
        job.levels.push(Level { id: "up".into(), name: "Up".into(), floor_m: 2.8, underlay: None });
        job.rooms.extend(upper.into_iter().map(|r| Room { level_id: "up".into(), ..r }));
        job
    }

    fn read(job: &Job) -> Vec<Storey> {
        Plan::of(job).storeys
    }

    #[test]
    fn a_room_lies_partly_under_a_room_and_partly_under_roof() {
        // upstairs is set back by 3 m from the east; its wall of 0.3 m stands on the ceiling
        let job = two_levels(vec![box_room("up", 0.0, 0.0, 4.7, 5.0)]);
        let s = &read(&job)[0];
        assert_eq!(s.above.len(), 1);
        assert!((s.above[0].area_m2 - 4.7 * 5.0).abs() < 1e-9);
        assert!((s.above[0].thickness_m - 0.3).abs() < 1e-9);
        assert!((s.open_above_m2 - 3.0 * 5.0).abs() < 1e-9);
        assert!(read(&job)[1].open_below_m2 < 1e-9, "all of upstairs stands on the room");
    }

    #[test]
    fn a_partition_upstairs_makes_no_strip_of_roof() {
        let job = two_levels(vec![box_room("a", 0.0, 0.0, 3.9, 5.0), box_room("b", 4.0, 0.0, 8.0, 5.0)]);
        let s = &read(&job)[0];
        assert_eq!(s.above.len(), 2);
        assert!(s.open_above_m2 < 1e-9, "{}", s.open_above_m2);
    }

    #[test]
    fn what_one_room_shares_the_other_shares_too() {
        let bay = shaped_room("bay", vec![[1.0, 1.0], [6.0, 1.0], [7.0, 3.0], [6.0, 4.5], [1.0, 4.5]]);
        let s = read(&two_levels(vec![bay]));
        assert!((s[0].above[0].area_m2 - s[1].below[0].area_m2).abs() < 1e-12);
        assert!((s[0].above[0].area_m2 - (5.0 * 3.5 + 0.5 * 1.0 * 3.5)).abs() < 1e-6);
    }

    #[test]
    fn a_hall_through_two_levels_has_nothing_above() {
        let mut job = two_levels(vec![box_room("up", 0.0, 0.0, 4.7, 5.0)]);
        job.rooms[0].height_m = 5.5;
        assert!(read(&job)[0].above.is_empty());
    }

    #[test]
    fn outside_faces_go_round_a_corner_and_meet_halfway_in_a_partition() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.2, 0.0, 9.0, 4.0)]);
        job.envelope.ground.wall_m = 0.3;
        let outer = read(&job)[0].outer.clone();
        let expected = [[-0.3, -0.3], [5.1, -0.3], [5.1, 4.3], [-0.3, 4.3]];
        for (p, q) in outer.iter().zip(expected) {
            assert!((p[0] - q[0]).abs() < 1e-9 && (p[1] - q[1]).abs() < 1e-9, "{outer:?}");
        }
        job.rooms[0].outline.reverse();
        let turned = read(&job)[0].outer.clone();
        assert!((signed_area(&turned).abs() - signed_area(&outer).abs()).abs() < 1e-9);
    }
}

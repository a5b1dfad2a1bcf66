//! What lies above and below each room, from the overlap of the levels' plans; and the outlines with half the
//! walls, which close the gaps between rooms.

use super::faces::{Face, floor_height};
use super::{Behind, edges, polygon, signed_area};
use crate::construction;
use crate::job::{Beyond, Job, Point};
use geo::{Area, BooleanOps};

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

/// Thickness of the outside walls of a room's wall, m: its construction's, else the building's.
pub fn wall_thickness(job: &Job, room: usize, edge: usize) -> f64 {
    let own = job.rooms[room].walls.iter().find(|w| w.edge == edge).and_then(|w| w.construction_id.as_deref());
    let id = own.unwrap_or(&job.envelope.outside_wall_id);
    job.construction(id).and_then(construction::thickness).unwrap_or(job.envelope.ground.wall_m)
}

/// The outline moved outward: by the wall's thickness to the outside, by half of it to a neighbour. In the order of the
/// job's own corners.
pub fn outer_outline(job: &Job, room: usize, faces: &[Face]) -> Vec<Point> {
    let walls = edges(&job.rooms[room]);
    let n = walls.len();
    let moves: Vec<f64> = walls
        .iter()
        .map(|w| {
            let (mut sum, mut length) = (0.0, 0.0);
            for f in faces.iter().filter(|f| f.edge == w.index) {
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

/// A rectangle along the axes, for the quick way.
fn aligned_box(outline: &[Point]) -> Option<[f64; 4]> {
    if outline.len() != 4 {
        return None;
    }
    let straight = (0..4).all(|i| {
        let (p, q) = (outline[i], outline[(i + 1) % 4]);
        (p[0] - q[0]).abs() < 1e-9 || (p[1] - q[1]).abs() < 1e-9
    });
    straight.then(|| bounds(outline))
}

pub(crate) fn bounds(outline: &[Point]) -> [f64; 4] {
    outline.iter().fold([f64::MAX, f64::MAX, f64::MIN, f64::MIN], |b, p| {
        [b[0].min(p[0]), b[1].min(p[1]), b[2].max(p[0]), b[3].max(p[1])]
    })
}

/// Area that two outlines share, m².
pub fn shared_area(a: &[Point], b: &[Point]) -> f64 {
    let (p, q) = (bounds(a), bounds(b));
    let (w, h) = (p[2].min(q[2]) - p[0].max(q[0]), p[3].min(q[3]) - p[1].max(q[1]));
    if w <= 0.0 || h <= 0.0 {
        return 0.0;
    }
    if aligned_box(a).is_some() && aligned_box(b).is_some() {
        return w * h;
    }
    polygon(a).intersection(&polygon(b)).unsigned_area()
}

/// Above and below every room. Outlines that cross themselves share nothing.
pub fn storeys(job: &Job, faces: &[Vec<Face>]) -> Vec<Storey> {
    let n = job.rooms.len();
    let sound: Vec<bool> = job.rooms.iter().map(super::is_simple).collect();
    let mut out: Vec<Storey> = (0..n)
        .map(|i| {
            let outer = outer_outline(job, i, &faces[i]);
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
    for lower in 0..n {
        let top = floor_height(job, lower) + job.rooms[lower].height_m;
        for upper in 0..n {
            let thickness_m = floor_height(job, upper) - top;
            if job.rooms[lower].level_id == job.rooms[upper].level_id
                || !(-0.05..=THICKEST_CEILING_M).contains(&thickness_m)
                || !sound[lower]
                || !sound[upper]
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
    use super::super::faces::faces;
    use super::*;
    use crate::job::{Level, Room};
    use crate::samples::{box_room, job_of, shaped_room};

    fn two_levels(upper: Vec<Room>) -> Job {
        let mut job = job_of(vec![box_room("low", 0.0, 0.0, 8.0, 5.0)]);
        job.envelope.ground.wall_m = 0.3;
        job.levels.push(Level { id: "up".into(), name: "Up".into(), floor_m: 2.8, underlay: None });
        job.rooms.extend(upper.into_iter().map(|r| Room { level_id: "up".into(), ..r }));
        job
    }

    fn read(job: &Job) -> Vec<Storey> {
        storeys(job, &faces(job))
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
        let f = faces(&job);
        let outer = outer_outline(&job, 0, &f[0]);
        let expected = [[-0.3, -0.3], [5.1, -0.3], [5.1, 4.3], [-0.3, 4.3]];
        for (p, q) in outer.iter().zip(expected) {
            assert!((p[0] - q[0]).abs() < 1e-9 && (p[1] - q[1]).abs() < 1e-9, "{outer:?}");
        }
        job.rooms[0].outline.reverse();
        let turned = outer_outline(&job, 0, &faces(&job)[0]);
        assert!((signed_area(&turned).abs() - signed_area(&outer).abs()).abs() < 1e-9);
    }
}

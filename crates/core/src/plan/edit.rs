//! Edits of rooms that need exact geometry: one room split by a wall, two rooms merged across the wall between them.
//! What hangs on walls or stands on the floor keeps its place.
//!
//! ```
//! use fuoco_core::job::CheckedJob;
//! use fuoco_core::plan::{areas::area, edit};
//! use fuoco_core::samples::{box_room, job_of};
//! let job = CheckedJob::new(job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]))?;
//! // a partition of 100 mm across the middle
//! let parted = edit::split(&job, "a", [2.5, 0.0], [2.5, 4.0], 0.1, "b")?;
//! assert!((area(&parted.rooms[0]) + area(&parted.rooms[1]) - 4.9 * 4.0).abs() < 1e-9);
//! // and taken out again
//! let merged = edit::merge(&parted, "a", "b")?;
//! assert!((area(&merged.rooms[0]) - 20.0).abs() < 1e-9);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::walls::Behind;
use super::{edges, is_simple};
use crate::error::FieldError;
use crate::geometry::distance;
use crate::geometry::outline::clean;
use crate::geometry::outline::nearest;
use crate::geometry::outline::polygon;
use crate::geometry::outline::sides;
use crate::geometry::outline::signed_area;
use crate::geometry::outline::within;
use crate::job::{CheckedJob, Field, Job, Point, Room, Slope, Wall};
use crate::plan::Plan;
use crate::plan::edge::Edge;
use geo::{BooleanOps, MultiPolygon};

/// A point this near to a wall is on it, m.
const ON_WALL_M: f64 = 0.002;
/// No corner is put nearer to another than this, m.
const LEAST_WALL_M: f64 = 0.05;
/// How far beside the outline the ends of a cut may be given, m.
const REACH_M: f64 = 0.5;
/// A room smaller than this is no room, m².
const SMALLEST_M2: f64 = 0.05;

/// Splits a room by a straight wall of `wall_m` from `from` to `to`, two points on its outline (or within half a metre of
/// it). The part on the left of the cut keeps the id, the other gets `new_id`.
///
/// # Errors
/// When there is no such room, an end is off the outline, the cut does not part the room in two, or the job is not sound
/// with what comes out (an id that is taken, too many rooms).
pub fn split(
    job: &CheckedJob,
    room_id: &str,
    from: Point,
    to: Point,
    wall_m: f64,
    new_id: &str,
) -> Result<CheckedJob, FieldError> {
    CheckedJob::new(parted(job, room_id, from, to, wall_m, new_id)?)
}

/// As [`split`], without a check of what comes out: the layout parts rooms for itself.
pub(crate) fn parted(
    job: &Job,
    room_id: &str,
    from: Point,
    to: Point,
    wall_m: f64,
    new_id: &str,
) -> Result<Job, FieldError> {
    let Some(index) = job.rooms.iter().position(|r| r.id == room_id) else {
        return Err(FieldError::new("room_id", "names no room of this job"));
    };
    if !(0.0..=super::walls::THICKEST_WALL_M).contains(&wall_m) {
        return Err(FieldError::new("wall_m", format!("must be between 0 and {}", super::walls::THICKEST_WALL_M)));
    }
    let room = &job.rooms[index];
    if !is_simple(room) {
        return Err(FieldError::new("room_id", "the outline of this room crosses itself"));
    }
    let outline: Vec<Point> = edges(room).iter().map(|e| e.a).collect();
    let foot = |field: &str, p: Point| {
        nearest(&outline, p)
            .filter(|n| n.2 <= REACH_M)
            .ok_or_else(|| FieldError::new(field, "must lie on a wall of the room"))
    };
    let (a, b) = (foot("from", from)?, foot("to", to)?);
    if a.0 == b.0 || distance(a.1, b.1) < 0.05 {
        return Err(FieldError::new("to", "must lie on another wall than the cut's first end"));
    }
    // round from b to a: the part on the left of the cut; round from a to b: the part on its right
    let half = wall_m / 2.0;
    let left = trimmed(&outline, b, a, half);
    let right = trimmed(&outline, a, b, half);
    let mut parts = Vec::new();
    for points in [left, right] {
        let part = Room { outline: clean(points), ..room.clone() };
        if part.outline.len() < 3 || !is_simple(&part) || signed_area(&part.outline) < SMALLEST_M2 {
            return Err(FieldError::new("to", "the cut does not part the room in two"));
        }
        parts.push(part);
    }
    let whole: f64 = parts.iter().map(|p| signed_area(&p.outline)).sum();
    if whole > signed_area(&outline) + 1e-6 {
        return Err(FieldError::new("to", "the cut leaves the room"));
    }
    let mut out = job.clone();
    let second = Room {
        id: new_id.into(),
        name: format!("{} 2", room.name),
        emitters: vec![],
        bridges: vec![],
        supply_m3_h: 0.0,
        extract_m3_h: 0.0,
        outline: parts[1].outline.clone(),
        ..room.clone()
    };
    out.rooms[index].outline = parts[0].outline.clone();
    out.rooms.insert(index + 1, second);
    // a split of the floor goes with the part in which it lies
    for part in &mut out.rooms[index..=index + 1] {
        let Room { outline, floor: Some(floor), .. } = part else { continue };
        floor.splits.retain(|s| within(outline, [0, 1].map(|k| f64::midpoint(s[0][k], s[1][k]))));
    }
    rehang(job, &[index], &mut out, &[index, index + 1]);
    Ok(out)
}

/// Merges two rooms of one level across the wall between them; the first keeps its id, name and figures. Doorways in
/// the wall that falls are dropped.
///
/// # Errors
/// When the two are not neighbours, or would enclose a third.
pub fn merge(job: &CheckedJob, first_id: &str, second_id: &str) -> Result<CheckedJob, FieldError> {
    let place = |field: &str, id: &str| {
        let found = job.rooms.iter().position(|r| r.id == id);
        found.ok_or_else(|| FieldError::new(field, "names no room of this job"))
    };
    let (a, b) = (place("first_id", first_id)?, place("second_id", second_id)?);
    if a == b || job.rooms[a].level_id != job.rooms[b].level_id {
        return Err(FieldError::new("second_id", "must be another room of the same level"));
    }
    if !is_simple(&job.rooms[a]) || !is_simple(&job.rooms[b]) {
        return Err(FieldError::new("first_id", "the outline of one of the two crosses itself"));
    }
    let outline = joined(job, a, b)?;
    let outline = with_corners(outline, job, [a, b]);
    if outline.len() > crate::job::MAX_CORNERS {
        return Err(FieldError::new("second_id", "the two together would have too many corners"));
    }
    let mut out = Job::clone(job);
    let gone = out.rooms[b].clone();
    out.rooms[a].outline = outline;
    out.rooms[a].emitters.extend(gone.emitters);
    out.rooms[a].bridges.extend(gone.bridges);
    out.rooms[a].supply_m3_h += gone.supply_m3_h;
    out.rooms[a].extract_m3_h += gone.extract_m3_h;
    if let (Some(floor), Some(other)) = (&mut out.rooms[a].floor, gone.floor) {
        floor.splits.extend(other.splits);
        floor.splits.truncate(crate::job::MAX_SPLITS);
    }
    for l in &mut out.loops {
        for id in l.also_room_ids.iter_mut().chain([&mut l.room_id]).filter(|id| *id == second_id) {
            *id = first_id.into();
        }
        let own = l.room_id.clone();
        l.also_room_ids.retain(|id| *id != own);
        l.also_room_ids.dedup();
    }
    out.rooms.remove(b);
    let merged = if b < a { a - 1 } else { a };
    rehang(job, &[a, b], &mut out, &[merged]);
    CheckedJob::new(out)
}

/// The outline of two rooms with the wall between them.
fn joined(job: &Job, a: usize, b: usize) -> Result<Vec<Point>, FieldError> {
    let walls = edges(&job.rooms[a]);
    let mut union: MultiPolygon = polygon(&job.rooms[a].outline).union(&polygon(&job.rooms[b].outline));
    let mut touching = false;
    for face in &Plan::of(job).walls[a] {
        let Behind::Room { index, thickness_m } = face.behind else { continue };
        let Some(wall) = walls.iter().find(|w| w.index == face.edge).filter(|_| index == b) else { continue };
        touching = true;
        // the stretch of wall between the two, a hair over both faces so that the three surely join
        let n = wall.inward();
        let (p, q) = (wall.at(face.from_m), wall.at(face.to_m));
        let at = |p: Point, d: f64| [p[0] + n[0] * d, p[1] + n[1] * d];
        let gap = [at(p, 1e-5), at(p, -thickness_m - 1e-5), at(q, -thickness_m - 1e-5), at(q, 1e-5)];
        union = union.union(&polygon(&gap));
    }
    let apart = || FieldError::new("second_id", "is no neighbour: no wall stands between the two");
    let [whole] = union.0.as_slice() else { return Err(apart()) };
    if !touching {
        return Err(apart());
    }
    if !whole.interiors().is_empty() {
        return Err(FieldError::new("second_id", "the two together would enclose another room"));
    }
    let ring = &whole.exterior().0;
    let mut outline = clean(ring[..ring.len() - 1].iter().map(|c| [c.x, c.y]).collect());
    if signed_area(&outline) < 0.0 {
        outline.reverse();
    }
    Ok(outline)
}

/// What is said of one wall, and the slope over it.
type Word = (Option<Wall>, Option<Slope>);

fn word(room: &Room, edge: usize) -> Word {
    let wall = room.walls.iter().find(|w| w.edge == edge).map(|w| Wall { edge: 0, ..w.clone() });
    (wall, room.slopes.iter().find(|s| s.edge == edge).map(|s| Slope { edge: 0, ..*s }))
}

/// The outline with a corner more wherever two walls of the old rooms lie on one of its own, and different things are said
/// of them.
fn with_corners(outline: Vec<Point>, job: &Job, old: [usize; 2]) -> Vec<Point> {
    let mut out = Vec::with_capacity(outline.len());
    for (a, b) in sides(&outline) {
        let new = Edge { index: 0, a, b, reversed: false };
        let d = new.direction();
        let along = |p: Point| (p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1];
        let mut on: Vec<(f64, f64, Word)> = Vec::new();
        for room in old.map(|i| &job.rooms[i]) {
            let walls = edges(room).into_iter().filter(|w| w.length() > ON_WALL_M && lies_on(w, &new));
            on.extend(walls.map(|w| (along(w.a), along(w.b), word(room, w.index))));
        }
        on.sort_by(|x, y| x.0.total_cmp(&y.0));
        out.push(a);
        for pair in on.windows(2).filter(|p| p[0].2 != p[1].2) {
            let at = new.at(pair[0].1);
            if distance(at, a) > LEAST_WALL_M && distance(at, b) > LEAST_WALL_M {
                out.push(at.map(|v| (v * 1e4).round() / 1e4));
            }
        }
    }
    out
}

/// Whether a wall lies along another, the inside on the same side.
fn lies_on(wall: &Edge, other: &Edge) -> bool {
    let (d, e) = (wall.direction(), other.direction());
    let near = |p: Point| crate::geometry::segment::to_segment(p, other.a, other.b) < ON_WALL_M;
    d[0] * e[0] + d[1] * e[1] > 0.99 && near(wall.a) && near(wall.b)
}

/// The outline from `start` round to `end`, closed by the cut moved `half` into the part.
fn trimmed(outline: &[Point], start: (usize, Point, f64), end: (usize, Point, f64), half: f64) -> Vec<Point> {
    let n = outline.len();
    let mut out = vec![start.1];
    let mut i = start.0;
    while i != end.0 {
        i = (i + 1) % n;
        out.push(outline[i]);
    }
    out.push(end.1);
    // the cut runs from the last point back to the first, the part on its left
    let (p, q) = (end.1, start.1);
    let l = distance(p, q).max(1e-9);
    let normal = [-(q[1] - p[1]) / l, (q[0] - p[0]) / l];
    let slide = |corner: Point, along: Point| {
        let d = [along[0] - corner[0], along[1] - corner[1]];
        let into = d[0] * normal[0] + d[1] * normal[1];
        if into.abs() < 1e-9 { corner } else { [corner[0] + d[0] * half / into, corner[1] + d[1] * half / into] }
    };
    let last = out.len() - 1;
    let (first_moved, last_moved) = (slide(out[0], out[1]), slide(out[last], out[last - 1]));
    out[0] = first_moved;
    out[last] = last_moved;
    out
}

/// Puts what hung on the walls and stood on the floor of the old rooms into the new ones.
fn rehang(job: &Job, old: &[usize], out: &mut Job, new: &[usize]) {
    let places: Vec<(usize, Vec<super::Edge>)> = new.iter().map(|&i| (i, edges(&out.rooms[i]))).collect();
    // the new wall on which a point lies, and how far along it in the outline's own direction
    let hang = |p: Point| {
        places.iter().find_map(|(room, walls)| {
            walls.iter().find_map(|w| {
                let d = w.direction();
                let (dx, dy) = (p[0] - w.a[0], p[1] - w.a[1]);
                let (along, off) = (dx * d[0] + dy * d[1], d[0] * dy - d[1] * dx);
                let on = off.abs() < ON_WALL_M && along > -ON_WALL_M && along < w.length() + ON_WALL_M;
                on.then(|| (*room, w.index, if w.reversed { w.length() - along } else { along }))
            })
        })
    };
    for &i in new {
        let room = &mut out.rooms[i];
        (room.openings, room.keep_outs, room.walls, room.slopes) = (vec![], vec![], vec![], vec![]);
        room.fields.clear();
    }
    for &i in old {
        let room = &job.rooms[i];
        let walls = edges(room);
        for o in &room.openings {
            let Some(w) = walls.iter().find(|w| w.index == o.edge) else { continue };
            let (s, t) = w.stretch(o.offset_m, o.width_m);
            if let Some((to, edge, along)) = hang(w.at(f64::midpoint(s, t))) {
                let offset_m = (along - o.width_m / 2.0).max(0.0);
                let offset_m = (offset_m * 1e4).round() / 1e4;
                out.rooms[to].openings.push(crate::job::Opening { edge, offset_m, ..o.clone() });
            }
        }
        for k in &room.keep_outs {
            let middle = [f64::midpoint(k.x0_m, k.x1_m), f64::midpoint(k.y0_m, k.y1_m)];
            let to = new.iter().find(|&&n| within(&out.rooms[n].outline, middle)).copied().unwrap_or(new[0]);
            out.rooms[to].keep_outs.push(k.clone());
        }
        for field in &room.fields {
            // a field goes with the wall that has most of its own; one in the ceiling with the largest part
            let at = field.edge.and_then(|edge| walls.iter().find(|w| w.index == edge));
            let place = match at {
                Some(wall) => most_of(wall, &places),
                None => largest(&out.rooms, new).map(|to| (to, None)),
            };
            if let Some((to, edge)) = place {
                out.rooms[to].fields.push(Field { edge, ..field.clone() });
            }
        }
        // a wall's word goes with each new wall that lies on it
        for (to, new_walls) in &places {
            for w in new_walls {
                let middle = w.at(w.length() / 2.0);
                let on = |v: &&Edge| {
                    let d = v.direction();
                    let (dx, dy) = (middle[0] - v.a[0], middle[1] - v.a[1]);
                    let along = dx * d[0] + dy * d[1];
                    (d[0] * dy - d[1] * dx).abs() < ON_WALL_M && along > 0.0 && along < v.length()
                };
                let Some(from) = walls.iter().find(on) else { continue };
                let to = &mut out.rooms[*to];
                let (wall, slope) = word(room, from.index);
                if !to.walls.iter().any(|o| o.edge == w.index) {
                    to.walls.extend(wall.map(|v| Wall { edge: w.index, ..v }));
                }
                if !to.slopes.iter().any(|o| o.edge == w.index) {
                    to.slopes.extend(slope.map(|v| Slope { edge: w.index, ..v }));
                }
            }
        }
        for m in 0..out.manifolds.len() {
            let manifold = &out.manifolds[m];
            let Some(w) = walls.iter().find(|w| w.index == manifold.edge).filter(|_| manifold.room_id == room.id)
            else {
                continue;
            };
            let at = hang(w.at(w.stretch(manifold.offset_m, 0.0).0));
            // on the wall that fell it has no place left: the first wall will do until someone moves it
            let (to, edge, offset_m) = at.unwrap_or((new[0], 0, 0.0));
            let room_id = out.rooms[to].id.clone();
            out.manifolds[m] = crate::job::Manifold { room_id, edge, offset_m, ..out.manifolds[m].clone() };
        }
        for riser in out.manifolds.iter_mut().flat_map(|m| &mut m.risers).filter(|r| r.room_id == room.id) {
            let Some(w) = walls.iter().find(|w| w.index == riser.edge) else { continue };
            let (to, edge, offset_m) = hang(w.at(w.stretch(riser.offset_m, 0.0).0)).unwrap_or((new[0], 0, 0.0));
            (riser.room_id, riser.edge, riser.offset_m) = (out.rooms[to].id.clone(), edge, offset_m);
        }
    }
}

/// The new wall that shares most with an old one: its room and index.
fn most_of(old: &Edge, places: &[(usize, Vec<Edge>)]) -> Option<(usize, Option<usize>)> {
    let d = old.direction();
    let along = |p: Point| (p[0] - old.a[0]) * d[0] + (p[1] - old.a[1]) * d[1];
    let off = |p: Point| ((p[0] - old.a[0]) * d[1] - (p[1] - old.a[1]) * d[0]).abs();
    let walls = places.iter().flat_map(|(room, walls)| walls.iter().map(|w| (*room, w)));
    let shared = walls.filter(|(_, w)| off(w.a) < ON_WALL_M && off(w.b) < ON_WALL_M).map(|(room, w)| {
        let (s, t) = (along(w.a).min(along(w.b)), along(w.a).max(along(w.b)));
        (t.min(old.length()) - s.max(0.0), room, w.index)
    });
    let most = shared.filter(|s| s.0 > 0.0).max_by(|x, y| x.0.total_cmp(&y.0))?;
    Some((most.1, Some(most.2)))
}

/// The largest of some rooms.
fn largest(rooms: &[Room], of: &[usize]) -> Option<usize> {
    let area = |i: usize| signed_area(&rooms[i].outline).abs();
    of.iter().copied().max_by(|&a, &b| area(a).total_cmp(&area(b)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::samples::{box_room, cabinet, doorway, job_of, manifold, shaped_room, window};

    fn checked(job: &Job) -> CheckedJob {
        CheckedJob::new(job.clone()).expect("sound")
    }

    fn split(job: &Job, room: &str, from: Point, to: Point, wall_m: f64, new: &str) -> Result<Job, FieldError> {
        super::split(&checked(job), room, from, to, wall_m, new).map(CheckedJob::into_job)
    }

    fn merge(job: &Job, first: &str, second: &str) -> Result<Job, FieldError> {
        super::merge(&checked(job), first, second).map(CheckedJob::into_job)
    }

    fn furnished() -> Job {
        let mut room = box_room("a", 0.0, 0.0, 8.0, 4.0);
        room.openings.push(window("west-window", 3, 1.0, 1.2, 1.2));
        room.openings.push(window("south-window", 0, 5.5, 1.0, 1.2));
        room.keep_outs.push(cabinet("k", 6.0, 1.0, 7.0, 1.5));
        let mut job = job_of(vec![room]);
        job.manifolds.push(manifold("m", "A", "a", 1, 2.0));
        job
    }

    #[test]
    fn a_wall_parts_a_room_and_everything_keeps_its_place() {
        let job = split(&furnished(), "a", [5.0, 4.0], [5.0, 0.0], 0.1, "b").expect("parts");
        job.check().expect("sound");
        let area = |i: usize| signed_area(&job.rooms[i].outline);
        // downward cut: the east part is on its left
        assert!((area(0) - 2.95 * 4.0).abs() < 1e-6 && (area(1) - 4.95 * 4.0).abs() < 1e-6);
        assert_eq!(job.rooms[0].openings[0].id, "south-window");
        assert_eq!(job.rooms[1].openings[0].id, "west-window");
        assert_eq!(job.rooms[0].keep_outs.len(), 1);
        assert_eq!(job.manifolds[0].room_id, "a");
        let w = &job.rooms[0].openings[0];
        let wall = edges(&job.rooms[0]).into_iter().find(|e| e.index == w.edge).expect("wall");
        let (s, _) = wall.stretch(w.offset_m, w.width_m);
        assert!(distance(wall.at(s), [5.5, 0.0]) < 1e-3, "the window stands where it stood");
    }

    #[test]
    fn merging_undoes_a_split() {
        let whole = furnished();
        let mut parted = split(&whole, "a", [5.0, 4.0], [5.0, 0.0], 0.1, "b").expect("parts");
        parted.rooms[0].openings.push(doorway("door", 0, 0.1, 0.5));
        let wall = edges(&parted.rooms[0]).into_iter().find(|e| e.direction()[1] < -0.9).expect("the new wall");
        parted.rooms[0].openings.last_mut().expect("door").edge = wall.index;
        let merged = merge(&parted, "a", "b").expect("merges");
        merged.check().expect("sound");
        assert_eq!(merged.rooms.len(), 1);
        assert!((signed_area(&merged.rooms[0].outline) - 32.0).abs() < 1e-3);
        assert_eq!(merged.rooms[0].outline.len(), 4);
        let mut ids: Vec<_> = merged.rooms[0].openings.iter().map(|o| o.id.as_str()).collect();
        ids.sort_unstable();
        assert_eq!(ids, ["south-window", "west-window"], "the door fell with its wall");
    }

    /// A wall field, a ceiling field, a wall's own construction and a slope, each on the wall on which it was.
    #[test]
    fn fields_walls_and_slopes_survive_a_split_and_a_merge() {
        let mut whole = furnished();
        let room = &mut whole.rooms[0];
        let field = |id: &str, edge, build_up: &str| Field {
            id: id.into(),
            edge,
            width_m: 1.0,
            height_m: 1.0,
            build_up_id: build_up.into(),
            tube_id: "pex-12x1.3".into(),
            spacing_m: 0.15,
        };
        room.fields = vec![field("north", Some(2), "wall-board"), field("above", None, "ceiling-board")];
        room.walls.push(Wall { edge: 0, beyond: None, u: Some(0.2), construction_id: None });
        room.slopes.push(Slope { edge: 3, knee_m: 1.5, pitch_deg: 45.0 });
        let looks = |job: &Job, id: &str, edge: usize| {
            let room = job.room(id).expect("there");
            edges(room).into_iter().find(|e| e.index == edge).expect("a wall").inward()
        };
        let parted = split(&whole, "a", [5.0, 4.0], [5.0, 0.0], 0.1, "b").expect("parts");
        let (east, west) = (&parted.rooms[0], &parted.rooms[1]);
        let ids: Vec<Vec<&str>> =
            parted.rooms.iter().map(|r| r.fields.iter().map(|f| f.id.as_str()).collect()).collect();
        assert_eq!(ids, [vec![], vec!["north", "above"]], "the west part has more of the wall, and of the ceiling");
        assert_eq!(looks(&parted, "b", west.fields[0].edge.expect("a wall")), [0.0, -1.0]);
        for room in [east, west] {
            assert_eq!(room.walls.len(), 1, "the south wall is in both");
            assert_eq!(looks(&parted, &room.id, room.walls[0].edge), [0.0, 1.0]);
        }
        assert_eq!((east.slopes.len(), west.slopes.len()), (0, 1));

        // with another word on the one part of the south wall, the merged room keeps both
        let mut other = parted.clone();
        other.rooms[0].walls[0].u = Some(0.5);
        let merged = merge(&other, "a", "b").expect("merges");
        let room = &merged.rooms[0];
        assert_eq!(room.outline.len(), 5, "a corner where the word changes: {:?}", room.outline);
        let us: Vec<_> = room.walls.iter().map(|w| w.u).collect();
        assert!(us.contains(&Some(0.2)) && us.contains(&Some(0.5)), "{us:?}");
        assert_eq!((room.fields.len(), room.slopes.len()), (2, 1));
        let same = merge(&parted, "a", "b").expect("merges");
        assert_eq!((same.rooms[0].outline.len(), same.rooms[0].walls.len()), (4, 1), "one word, one wall");
    }

    #[test]
    fn kept_loops_and_splits_go_with_their_rooms() {
        let mut whole = furnished();
        let split_at = |x: f64| [[x, 0.0], [x, 4.0]];
        whole.rooms[0].floor.as_mut().expect("heated").splits = vec![split_at(2.0), split_at(7.5)];
        let parted = split(&whole, "a", [5.0, 4.0], [5.0, 0.0], 0.1, "b").expect("parts");
        let splits = |job: &Job, i: usize| job.rooms[i].floor.as_ref().expect("heated").splits.clone();
        assert_eq!((splits(&parted, 0), splits(&parted, 1)), (vec![split_at(7.5)], vec![split_at(2.0)]));
        let mut kept = parted.clone();
        kept.loops.push(crate::job::KeptLoop {
            id: "loop".into(),
            manifold_id: "m".into(),
            port: 1,
            room_id: "b".into(),
            also_room_ids: vec!["a".into()],
            corners: vec![[1.0, 1.0], [2.0, 1.0], [2.0, 2.0]],
            leaders_m: 0.0,
            by_hand: true,
        });
        let merged = merge(&kept, "a", "b").expect("merges");
        merged.check().expect("its loop names a room that there is");
        assert_eq!((merged.loops[0].room_id.as_str(), merged.loops[0].also_room_ids.len()), ("a", 0));
        assert_eq!(splits(&merged, 0), [split_at(7.5), split_at(2.0)]);
    }

    #[test]
    fn rooms_of_other_lengths_and_with_a_bay_merge_into_one_outline() {
        let bay = shaped_room("bay", vec![[5.1, 1.0], [8.0, 1.0], [9.0, 2.0], [8.0, 3.0], [5.1, 3.0]]);
        let job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), bay]);
        let merged = merge(&job, "a", "bay").expect("merges");
        assert!((signed_area(&merged.rooms[0].outline) - (20.0 + 0.1 * 2.0 + 2.9 * 2.0 + 1.0)).abs() < 1e-3);
        assert_eq!(merged.rooms[0].outline.len(), 9);
    }

    #[test]
    fn an_oblique_wall_leaves_its_thickness_between_the_parts() {
        let job = split(&furnished(), "a", [3.0, 4.0], [5.0, 0.0], 0.12, "b").expect("parts");
        let sum: f64 = job.rooms.iter().map(|r| signed_area(&r.outline)).sum();
        let wall = 20.0_f64.sqrt() * 0.12;
        assert!((sum - (32.0 - wall)).abs() < 1e-3, "{sum}");
    }

    #[test]
    fn what_cannot_be_is_refused_by_its_field() {
        let job = furnished();
        let field = |r: Result<Job, FieldError>| r.expect_err("refused").field;
        assert_eq!(field(split(&job, "nobody", [5.0, 4.0], [5.0, 0.0], 0.1, "b")), "room_id");
        assert_eq!(field(split(&job, "a", [5.0, 2.0], [5.0, 0.0], 0.1, "b")), "from");
        assert_eq!(field(split(&job, "a", [5.0, 0.0], [6.0, 0.0], 0.1, "b")), "to");
        assert_eq!(field(split(&job, "a", [5.0, 4.0], [5.0, 0.0], 9.0, "b")), "wall_m");
        let l = shaped_room("l", vec![[0.0, 0.0], [6.0, 0.0], [6.0, 2.0], [2.0, 2.0], [2.0, 6.0], [0.0, 6.0]]);
        let job = job_of(vec![l, box_room("far", 20.0, 0.0, 24.0, 4.0)]);
        assert_eq!(field(split(&job, "l", [5.0, 2.0], [2.0, 5.0], 0.1, "b")), "to", "the cut leaves the room");
        assert_eq!(field(merge(&job, "l", "far")), "second_id");
        assert_eq!(field(merge(&job, "l", "l")), "second_id");
    }
}

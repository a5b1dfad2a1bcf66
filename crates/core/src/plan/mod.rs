//! The plan read: outlines put in order, what lies behind each piece of wall, passages between rooms,
//! floor that can be heated.
//!
//! A room is its clear inside outline; walls are the space between. A piece of wall is a partition where
//! another room's face runs parallel within [`THICKEST_WALL_M`]; elsewhere it stands to the outside unless
//! the surveyor says otherwise.

pub mod ceiling;
pub mod edit;
pub mod faces;
pub mod storeys;

use crate::job::{Beyond, Job, KeepOut, OpeningKind, Point, Room};
use geo::{Area, BooleanOps, Coord, LineString, MultiPolygon, Polygon, Rect, Validation};

/// Two faces farther apart than this are not the two sides of one wall, m.
pub const THICKEST_WALL_M: f64 = 0.6;
/// Pieces of wall shorter than this are neglected, m.
const SHORTEST_PIECE_M: f64 = 0.02;
/// Between two neighbours a stretch up to this length is the end of the wall that parts them, not outside, m.
const WALL_END_M: f64 = 0.4;
/// Two directions count as parallel below this sine.
const PARALLEL: f64 = 1e-3;

/// One straight wall of a room, with the inside on the left of `a → b`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Edge {
    /// Index of the wall in the job's outline.
    pub index: usize,
    /// Where the wall starts, m.
    pub a: Point,
    /// Where it ends, m.
    pub b: Point,
    /// True when the job's outline runs clockwise, so that `a` is the outline's later corner.
    pub reversed: bool,
}

impl Edge {
    /// Length, m.
    pub fn length(&self) -> f64 {
        distance(self.a, self.b)
    }

    /// Unit vector from `a` to `b`; zero for a wall without length.
    pub fn direction(&self) -> Point {
        let l = self.length();
        if l > 0.0 { [(self.b[0] - self.a[0]) / l, (self.b[1] - self.a[1]) / l] } else { [0.0, 0.0] }
    }

    /// Unit vector into the room.
    pub fn inward(&self) -> Point {
        let d = self.direction();
        [-d[1], d[0]]
    }

    /// The point at `s` metres from `a`.
    pub fn at(&self, s: f64) -> Point {
        let d = self.direction();
        [self.a[0] + d[0] * s, self.a[1] + d[1] * s]
    }

    /// Turns a stretch measured from the outline's own first corner of this wall into one measured from `a`.
    pub fn stretch(&self, offset_m: f64, width_m: f64) -> (f64, f64) {
        if self.reversed {
            let l = self.length();
            (l - offset_m - width_m, l - offset_m)
        } else {
            (offset_m, offset_m + width_m)
        }
    }
}

/// Distance of two points, m.
pub fn distance(a: Point, b: Point) -> f64 {
    // plain root: `hypot` guards against overflow, which plans do not reach, at several times the cost
    let (dx, dy) = (a[0] - b[0], a[1] - b[1]);
    (dx * dx + dy * dy).sqrt()
}

/// The room's walls, anticlockwise.
pub fn edges(room: &Room) -> Vec<Edge> {
    let n = room.outline.len();
    let clockwise = signed_area(&room.outline) < 0.0;
    let mut edges: Vec<Edge> = (0..n)
        .map(|i| {
            let (p, q) = (room.outline[i], room.outline[(i + 1) % n]);
            if clockwise {
                Edge { index: i, a: q, b: p, reversed: true }
            } else {
                Edge { index: i, a: p, b: q, reversed: false }
            }
        })
        .collect();
    if clockwise {
        edges.reverse();
    }
    edges
}

/// Shoelace area, positive for an anticlockwise outline, m².
pub fn signed_area(outline: &[Point]) -> f64 {
    let n = outline.len();
    (0..n)
        .map(|i| {
            let (p, q) = (outline[i], outline[(i + 1) % n]);
            p[0] * q[1] - q[0] * p[1]
        })
        .sum::<f64>()
        / 2.0
}

/// Whether the point lies within the outline (even–odd rule).
pub fn within(outline: &[Point], p: Point) -> bool {
    let n = outline.len();
    let mut inside = false;
    for i in 0..n {
        let (a, b) = (outline[i], outline[(i + 1) % n]);
        if (a[1] > p[1]) != (b[1] > p[1]) && p[0] < (b[0] - a[0]) * (p[1] - a[1]) / (b[1] - a[1]) + a[0] {
            inside = !inside;
        }
    }
    inside
}

pub(crate) fn polygon(outline: &[Point]) -> Polygon {
    Polygon::new(LineString::from(outline.iter().map(|p| Coord { x: p[0], y: p[1] }).collect::<Vec<_>>()), vec![])
}

/// Whether the outline is a simple polygon with an area.
pub fn is_simple(room: &Room) -> bool {
    is_simple_outline(&room.outline)
}

/// Whether these corners are a simple polygon with an area.
pub fn is_simple_outline(outline: &[Point]) -> bool {
    outline.len() >= 3 && signed_area(outline).abs() > 1e-6 && polygon(outline).is_valid()
}

/// A point inside an outline, as far from its walls as is easily had: where a name can stand.
pub fn inner_point(outline: &[Point]) -> Point {
    use geo::InteriorPoint;
    polygon(outline).interior_point().map_or_else(|| outline.first().copied().unwrap_or_default(), |p| [p.x(), p.y()])
}

/// Floor area within the outline, m².
pub fn area(room: &Room) -> f64 {
    signed_area(&room.outline).abs()
}

/// Floor area that can hold tube: without the keep-outs themselves, m². Zero for a self-crossing outline.
pub fn heatable_area(room: &Room) -> f64 {
    if !is_simple(room) {
        return 0.0;
    }
    let mut free = MultiPolygon::new(vec![polygon(&room.outline)]);
    for k in &room.keep_outs {
        free = free.difference(&rectangle(k, 0.0).to_polygon());
    }
    free.unsigned_area()
}

fn rectangle(k: &KeepOut, grow: f64) -> Rect {
    Rect::new(Coord { x: k.x0_m - grow, y: k.y0_m - grow }, Coord { x: k.x1_m + grow, y: k.y1_m + grow })
}

/// What is behind a piece of wall.
#[derive(Debug, Clone, PartialEq)]
pub enum Behind {
    /// Another room of the job, by index, and how far away its face is, m.
    Room {
        /// Index in `job.rooms`.
        index: usize,
        /// Thickness of the wall between, m.
        thickness_m: f64,
    },
    /// Outdoors, ground, an unheated or an equally warm space.
    Other(Beyond),
}

/// A stretch of one wall with one thing behind it.
#[derive(Debug, Clone, PartialEq)]
pub struct WallPiece {
    /// The wall, by its index in the outline.
    pub edge: usize,
    /// Where the piece starts, m from the edge's `a`.
    pub from_m: f64,
    /// Where it ends.
    pub to_m: f64,
    /// What it hides.
    pub behind: Behind,
}

impl WallPiece {
    /// Length, m.
    pub fn length(&self) -> f64 {
        self.to_m - self.from_m
    }

    /// Whether the weather is on the other side.
    pub fn is_outside(&self) -> bool {
        self.behind == Behind::Other(Beyond::Outside)
    }
}

/// The pieces of every wall of room `index`, anticlockwise.
pub fn wall_pieces(job: &Job, index: usize) -> Vec<WallPiece> {
    let room = &job.rooms[index];
    let mut pieces = Vec::new();
    for edge in edges(room) {
        let l = edge.length();
        if l < SHORTEST_PIECE_M {
            continue;
        }
        let word = room.walls.iter().find(|w| w.edge == edge.index).and_then(|w| w.beyond);
        if let Some(beyond) = word {
            pieces.push(WallPiece { edge: edge.index, from_m: 0.0, to_m: l, behind: Behind::Other(beyond) });
            continue;
        }
        let mut from = 0.0;
        for (lo, hi, other, gap) in neighbours(job, index, &edge) {
            let lo = lo.max(from);
            if hi - lo < SHORTEST_PIECE_M {
                continue;
            }
            if lo - from >= SHORTEST_PIECE_M {
                let wall_end = from > 0.0 && lo - from <= WALL_END_M;
                let beyond = if wall_end { Beyond::Heated } else { Beyond::Outside };
                pieces.push(WallPiece { edge: edge.index, from_m: from, to_m: lo, behind: Behind::Other(beyond) });
            }
            pieces.push(WallPiece {
                edge: edge.index,
                from_m: lo,
                to_m: hi,
                behind: Behind::Room { index: other, thickness_m: gap },
            });
            from = hi;
        }
        if l - from >= SHORTEST_PIECE_M {
            pieces.push(WallPiece { edge: edge.index, from_m: from, to_m: l, behind: Behind::Other(Beyond::Outside) });
        }
    }
    pieces
}

/// Faces of other rooms that look at this wall: `(from, to, room, distance)`, in order along the wall; where
/// two look at the same stretch the nearer one counts.
fn neighbours(job: &Job, index: usize, edge: &Edge) -> Vec<(f64, f64, usize, f64)> {
    let room = &job.rooms[index];
    let (d, inward, l) = (edge.direction(), edge.inward(), edge.length());
    let mut faces: Vec<(f64, f64, usize, f64)> = Vec::new();
    for (j, other) in job.rooms.iter().enumerate() {
        if j == index || other.level_id != room.level_id {
            continue;
        }
        for face in edges(other) {
            let e = face.direction();
            let facing = e[0] * d[0] + e[1] * d[1] < 0.0 && (e[0] * d[1] - e[1] * d[0]).abs() < PARALLEL;
            let (ax, ay) = (face.a[0] - edge.a[0], face.a[1] - edge.a[1]);
            let gap = -(ax * inward[0] + ay * inward[1]);
            if !facing || !(-1e-6..=THICKEST_WALL_M).contains(&gap) {
                continue;
            }
            let from = (face.b[0] - edge.a[0]) * d[0] + (face.b[1] - edge.a[1]) * d[1];
            let to = ax * d[0] + ay * d[1];
            let (from, to) = (from.max(0.0), to.min(l));
            if to - from >= SHORTEST_PIECE_M {
                faces.push((from, to, j, gap.max(0.0)));
            }
        }
    }
    let mut cuts: Vec<f64> = faces.iter().flat_map(|f| [f.0, f.1]).collect();
    cuts.sort_by(f64::total_cmp);
    cuts.dedup();
    let mut out: Vec<(f64, f64, usize, f64)> = Vec::new();
    for pair in cuts.windows(2) {
        let nearest = faces
            .iter()
            .filter(|f| f.0 <= pair[0] && f.1 >= pair[1])
            .min_by(|a, b| a.3.total_cmp(&b.3).then(a.2.cmp(&b.2)));
        let Some(&(_, _, j, gap)) = nearest else { continue };
        match out.last_mut() {
            Some(last) if last.2 == j && last.3 == gap && last.1 == pair[0] => last.1 = pair[1],
            _ => out.push((pair[0], pair[1], j, gap)),
        }
    }
    out
}

/// A way for leaders from one room to the next: a doorway or a sleeve.
#[derive(Debug, Clone, PartialEq)]
pub struct Passage {
    /// The opening's id.
    pub id: String,
    /// The two rooms, by index: the one that owns the opening first.
    pub rooms: [usize; 2],
    /// The passage's two ends on the face of the first room, m.
    pub near: [Point; 2],
    /// From the first room's face to the second's, m.
    pub thickness_m: f64,
    /// Unit vector from the first room to the second.
    pub direction: Point,
}

/// All passages of the job. A doorway without a room behind it leads nowhere and is left out.
pub fn passages(job: &Job) -> Vec<Passage> {
    let mut out = Vec::new();
    for (index, room) in job.rooms.iter().enumerate() {
        let pieces = wall_pieces(job, index);
        let edges = edges(room);
        for opening in &room.openings {
            if !matches!(opening.kind, OpeningKind::Doorway | OpeningKind::Sleeve) {
                continue;
            }
            let Some(edge) = edges.iter().find(|e| e.index == opening.edge) else { continue };
            let (from, to) = edge.stretch(opening.offset_m, opening.width_m);
            let found = pieces.iter().find_map(|p| match p.behind {
                Behind::Room { index: other, thickness_m }
                    if p.edge == opening.edge && p.from_m <= from + 1e-6 && p.to_m >= to - 1e-6 =>
                {
                    Some((other, thickness_m))
                }
                _ => None,
            });
            if let Some((other, thickness_m)) = found {
                let inward = edge.inward();
                out.push(Passage {
                    id: opening.id.clone(),
                    rooms: [index, other],
                    near: [edge.at(from), edge.at(to)],
                    thickness_m,
                    direction: [-inward[0], -inward[1]],
                });
            }
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::samples::{box_room, job_of, window};

    #[test]
    fn a_partition_is_where_a_neighbour_looks_back() {
        let job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.12, 1.0, 9.0, 3.0)]);
        let east: Vec<_> = wall_pieces(&job, 0).into_iter().filter(|p| p.edge == 1).collect();
        assert_eq!(east.len(), 3);
        assert!(east[0].is_outside() && east[2].is_outside());
        assert!((east[1].from_m - 1.0).abs() < 1e-9 && (east[1].to_m - 3.0).abs() < 1e-9);
        assert!(matches!(east[1].behind, Behind::Room { index: 1, thickness_m } if (thickness_m - 0.12).abs() < 1e-9));
    }

    #[test]
    fn the_end_of_a_wall_between_two_neighbours_is_not_outside() {
        let rooms = vec![
            box_room("a", 0.0, 0.0, 5.0, 4.0),
            box_room("b", 0.0, 4.1, 2.0, 6.0),
            box_room("c", 2.1, 4.1, 5.0, 6.0),
        ];
        let job = job_of(rooms);
        let north: Vec<_> = wall_pieces(&job, 0).into_iter().filter(|p| p.edge == 2).collect();
        assert_eq!(north.len(), 3);
        assert_eq!(north[1].behind, Behind::Other(Beyond::Heated));
        assert!((north[1].length() - 0.1).abs() < 1e-9);
    }

    #[test]
    fn pieces_cover_each_wall_and_the_direction_of_drawing_does_not_matter() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.0, 9.0, 4.0)]);
        let before: f64 = wall_pieces(&job, 0).iter().map(WallPiece::length).sum();
        assert!((before - 18.0).abs() < 1e-9);
        job.rooms[0].outline.reverse();
        let after = wall_pieces(&job, 0);
        assert!((after.iter().map(WallPiece::length).sum::<f64>() - 18.0).abs() < 1e-9);
        assert_eq!(after.iter().filter(|p| matches!(p.behind, Behind::Room { .. })).count(), 1);
    }

    #[test]
    fn the_surveyor_overrules() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
        job.rooms[0].walls.push(crate::job::Wall {
            edge: 0,
            beyond: Some(Beyond::Ground),
            u: None,
            construction_id: None,
        });
        assert_eq!(wall_pieces(&job, 0)[0].behind, Behind::Other(Beyond::Ground));
    }

    #[test]
    fn keep_outs_count_once_where_they_overlap_and_not_beyond_the_wall() {
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        room.keep_outs.push(crate::samples::cabinet("k1", 0.0, 0.0, 1.0, 1.0));
        room.keep_outs.push(crate::samples::cabinet("k2", 0.5, 0.0, 1.5, 1.0));
        room.keep_outs.push(crate::samples::cabinet("k3", 4.5, 3.0, 6.0, 5.0));
        assert!((heatable_area(&room) - (20.0 - 1.5 - 0.5)).abs() < 1e-6);
    }

    #[test]
    fn a_self_crossing_outline_is_noticed() {
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        assert!(is_simple(&room));
        room.outline.swap(1, 2);
        assert!(!is_simple(&room));
        assert_eq!(heatable_area(&room), 0.0);
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
}

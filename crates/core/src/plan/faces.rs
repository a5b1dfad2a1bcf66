//! Every wall of every room cut into faces: a stretch of wall between two heights with one thing behind it. Rooms of
//! all levels are seen, so that the high wall of a hall stands to the low room beside it below and to the weather
//! above, and a wall below the ground's surface stands to the ground.

use super::{Behind, Edge, PARALLEL, SHORTEST_PIECE_M, THICKEST_WALL_M, WALL_END_M, edges};
use crate::job::{Beyond, Job, Point};
use rstar::primitives::{GeomWithData, Rectangle};
use rstar::{AABB, RTree};

/// A strip between the ceiling of a neighbour and the own one up to this height is the thickness of a ceiling, m.
const THICKEST_CEILING_M: f64 = 0.6;
/// Strips lower than this are neglected, m.
const LOWEST_M: f64 = 0.02;

/// A stretch of one wall between two heights with one thing behind it.
#[derive(Debug, Clone, PartialEq)]
pub struct Face {
    /// The wall, by its index in the outline.
    pub edge: usize,
    /// Where it starts, m from the edge's `a`.
    pub from_m: f64,
    /// Where it ends.
    pub to_m: f64,
    /// Its lower edge over the room's floor, m.
    pub low_m: f64,
    /// Its upper edge over the room's floor, m; a slope may cut it lower.
    pub high_m: f64,
    /// What it hides.
    pub behind: Behind,
    /// The wall of the room behind.
    pub other_edge: Option<usize>,
}

impl Face {
    /// Length, m.
    pub fn length(&self) -> f64 {
        self.to_m - self.from_m
    }
}

/// Floor of a room over the datum, m.
pub fn floor_height(job: &Job, room: usize) -> f64 {
    job.level(&job.rooms[room].level_id).map_or(0.0, |l| l.floor_m)
}

struct Wall {
    room: usize,
    edge: Edge,
    low: f64,
    high: f64,
}

/// What one wall sees of another: the stretch, the heights over the datum, the distance.
struct Seen {
    wall: usize,
    from: f64,
    to: f64,
    low: f64,
    high: f64,
    gap: f64,
}

/// The faces of all rooms, by room, in the order of the walls, anticlockwise.
pub fn faces(job: &Job) -> Vec<Vec<Face>> {
    let mut walls = Vec::new();
    for (room, r) in job.rooms.iter().enumerate() {
        let low = floor_height(job, room);
        let edges = edges(r).into_iter().filter(|e| e.length() >= SHORTEST_PIECE_M);
        walls.extend(edges.map(|edge| Wall { room, edge, low, high: low + r.height_m }));
    }
    let tree = RTree::bulk_load(
        walls
            .iter()
            .enumerate()
            .map(|(i, w)| GeomWithData::new(Rectangle::from_corners(w.edge.a, w.edge.b), i))
            .collect(),
    );
    let mut out: Vec<Vec<Face>> = vec![Vec::new(); job.rooms.len()];
    for i in 0..walls.len() {
        wall_faces(job, &walls, &tree, i, &mut out[walls[i].room]);
    }
    out
}

fn wall_faces(
    job: &Job,
    walls: &[Wall],
    tree: &RTree<GeomWithData<Rectangle<Point>, usize>>,
    index: usize,
    out: &mut Vec<Face>,
) {
    let Wall { room, edge, low, high } = &walls[index];
    let length = edge.length();
    let whole = |behind| Face {
        edge: edge.index,
        from_m: 0.0,
        to_m: length,
        low_m: 0.0,
        high_m: high - low,
        behind,
        other_edge: None,
    };
    if let Some(beyond) = job.rooms[*room].walls.iter().find(|w| w.edge == edge.index).and_then(|w| w.beyond) {
        out.push(whole(Behind::Other(beyond)));
        return;
    }
    let grown = |k: usize| {
        let (a, b) = (edge.a[k].min(edge.b[k]), edge.a[k].max(edge.b[k]));
        (a - THICKEST_WALL_M, b + THICKEST_WALL_M)
    };
    let ((x0, x1), (y0, y1)) = (grown(0), grown(1));
    let mut seen: Vec<Seen> = tree
        .locate_in_envelope_intersecting(AABB::from_corners([x0, y0], [x1, y1]))
        .filter_map(|g| look(&walls[index], walls, g.data))
        .collect();
    // nearest first; the index decides between equals, so that the outcome does not depend on the tree
    seen.sort_by(|a, b| a.gap.total_cmp(&b.gap).then(a.wall.cmp(&b.wall)));
    let mut cuts: Vec<f64> = seen.iter().flat_map(|s| [s.from, s.to]).chain([0.0, length]).collect();
    cuts.sort_by(f64::total_cmp);
    cuts.dedup_by(|b, a| *b - *a < SHORTEST_PIECE_M);
    if let Some(last) = cuts.last_mut() {
        *last = length;
    }
    let strips: Vec<(f64, f64)> = cuts.windows(2).map(|c| (c[0], c[1])).collect();
    let looked_at = |&(from, to): &(f64, f64)| {
        let middle = f64::midpoint(from, to);
        seen.iter().any(|s| s.from <= middle && middle <= s.to)
    };
    for (k, strip) in strips.iter().enumerate() {
        let (from_m, to_m) = *strip;
        let mut add = |low_z: f64, high_z: f64, behind: Behind, other_edge: Option<usize>| {
            out.push(Face {
                edge: edge.index,
                from_m,
                to_m,
                low_m: low_z - low,
                high_m: high_z - low,
                behind,
                other_edge,
            });
        };
        // the end of a wall between two neighbours
        let between = k > 0 && k + 1 < strips.len() && looked_at(&strips[k - 1]) && looked_at(&strips[k + 1]);
        if !looked_at(strip) && between && to_m - from_m <= WALL_END_M {
            add(*low, *high, Behind::Other(Beyond::Heated), None);
            continue;
        }
        let middle = f64::midpoint(from_m, to_m);
        let mut free = vec![(*low, *high)];
        let mut taken: Vec<(f64, f64, usize, f64)> = Vec::new();
        for s in seen.iter().filter(|s| s.from <= middle && middle <= s.to) {
            let mut rest = Vec::new();
            for (a, b) in free {
                let (c, d) = (a.max(s.low), b.min(s.high));
                if d - c < LOWEST_M {
                    rest.push((a, b));
                    continue;
                }
                taken.push((c, d, s.wall, s.gap));
                rest.extend([(a, c), (d, b)].into_iter().filter(|r| r.1 - r.0 >= LOWEST_M));
            }
            free = rest;
        }
        for (a, b, other, gap) in &mut taken {
            // what is left by the thickness of a ceiling goes with the neighbour
            free.retain(|f| {
                let thin = f.1 - f.0 <= THICKEST_CEILING_M;
                if thin && (f.0 - *b).abs() < 1e-9 {
                    *b = f.1;
                } else if thin && (f.1 - *a).abs() < 1e-9 {
                    *a = f.0;
                } else {
                    return true;
                }
                false
            });
            let behind = Behind::Room { index: walls[*other].room, thickness_m: *gap };
            add(*a, *b, behind, Some(walls[*other].edge.index));
        }
        for (a, b) in free {
            // a slab a hand's breadth below the ground outside makes no cellar
            if a < -0.1 {
                add(a, b.min(0.0), Behind::Other(Beyond::Ground), None);
                if b > LOWEST_M {
                    add(0.0, b, Behind::Other(Beyond::Outside), None);
                }
            } else {
                add(a, b, Behind::Other(Beyond::Outside), None);
            }
        }
    }
}

fn look(wall: &Wall, walls: &[Wall], other: usize) -> Option<Seen> {
    let w = &walls[other];
    if w.room == wall.room {
        return None;
    }
    let (low, high) = (wall.low.max(w.low), wall.high.min(w.high));
    if high - low < LOWEST_M {
        return None;
    }
    let (d, inward) = (wall.edge.direction(), wall.edge.inward());
    let e = w.edge.direction();
    if e[0] * d[0] + e[1] * d[1] >= 0.0 || (e[0] * d[1] - e[1] * d[0]).abs() >= PARALLEL {
        return None;
    }
    let (ax, ay) = (w.edge.a[0] - wall.edge.a[0], w.edge.a[1] - wall.edge.a[1]);
    let gap = -(ax * inward[0] + ay * inward[1]);
    if !(-1e-6..=THICKEST_WALL_M).contains(&gap) {
        return None;
    }
    let from = (w.edge.b[0] - wall.edge.a[0]) * d[0] + (w.edge.b[1] - wall.edge.a[1]) * d[1];
    let to = ax * d[0] + ay * d[1];
    let (from, to) = (from.max(0.0), to.min(wall.edge.length()));
    (to - from >= SHORTEST_PIECE_M).then_some(Seen { wall: other, from, to, low, high, gap: gap.max(0.0) })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::job::Level;
    use crate::samples::{box_room, job_of};

    fn hall_and_office() -> Job {
        let mut hall = box_room("hall", 0.0, 0.0, 8.0, 6.0);
        hall.height_m = 4.0;
        let office = box_room("office", 8.1, 0.0, 11.0, 3.0);
        job_of(vec![hall, office])
    }

    fn east(job: &Job) -> Vec<Face> {
        faces(job)[0].iter().filter(|f| f.edge == 1).cloned().collect()
    }

    #[test]
    fn a_high_wall_stands_to_the_weather_above_its_low_neighbour() {
        let east = east(&hall_and_office());
        let to_office = east.iter().find(|f| matches!(f.behind, Behind::Room { index: 1, .. })).expect("the office");
        assert!((to_office.from_m, to_office.to_m, to_office.low_m) == (0.0, 3.0, 0.0));
        assert!((to_office.high_m - 2.5).abs() < 1e-9);
        assert_eq!(to_office.other_edge, Some(3));
        let above = east.iter().find(|f| f.low_m > 2.0).expect("the strip above");
        assert!(above.behind == Behind::Other(Beyond::Outside) && (above.high_m - 4.0).abs() < 1e-9);
        let area: f64 = east.iter().map(|f| f.length() * (f.high_m - f.low_m)).sum();
        assert!((area - 24.0).abs() < 1e-9, "faces cover the wall once");
    }

    #[test]
    fn a_room_upstairs_takes_the_upper_part() {
        let mut job = hall_and_office();
        job.levels.push(Level { id: "up".into(), name: "Up".into(), floor_m: 2.7, underlay: None });
        let mut up = box_room("up", 8.1, 0.0, 11.0, 3.0);
        up.level_id = "up".into();
        job.rooms.push(up);
        let east = east(&job);
        assert!(east.iter().any(|f| matches!(f.behind, Behind::Room { index: 2, .. }) && f.high_m > 3.9));
        // the 0.2 m between the two ceilings go with one of them, not with the weather
        assert!(!east.iter().any(|f| f.behind == Behind::Other(Beyond::Outside) && f.from_m < 1.0));
    }

    #[test]
    fn a_ceiling_a_little_lower_is_no_outside_wall() {
        let mut job = hall_and_office();
        job.rooms[0].height_m = 2.8;
        assert!(east(&job).iter().all(|f| f.from_m >= 3.0 - 1e-9 || f.low_m == 0.0));
    }

    #[test]
    fn a_cellar_wall_stands_to_the_ground_up_to_its_surface() {
        let mut job = job_of(vec![box_room("cellar", 0.0, 0.0, 5.0, 4.0)]);
        job.levels[0].floor_m = -2.0;
        let south: Vec<_> = faces(&job)[0].iter().filter(|f| f.edge == 0).cloned().collect();
        assert_eq!(south.len(), 2);
        assert!(south[0].behind == Behind::Other(Beyond::Ground) && (south[0].high_m - 2.0).abs() < 1e-9);
        assert!(south[1].behind == Behind::Other(Beyond::Outside) && (south[1].high_m - 2.5).abs() < 1e-9);
    }

    #[test]
    fn on_one_level_of_equal_heights_faces_are_the_wall_pieces() {
        let mut rooms = vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.12, 1.0, 9.0, 3.0)];
        rooms.push(box_room("c", 5.12, 3.1, 9.0, 6.0));
        rooms[2].outline.reverse();
        let job = job_of(rooms);
        for (i, faces) in faces(&job).iter().enumerate() {
            let pieces = super::super::wall_pieces(&job, i);
            assert_eq!(faces.len(), pieces.len(), "room {i}");
            for (f, p) in faces.iter().zip(&pieces) {
                assert_eq!((f.edge, &f.behind), (p.edge, &p.behind));
                assert!((f.from_m - p.from_m).abs() < 1e-9 && (f.to_m - p.to_m).abs() < 1e-9);
            }
        }
    }
}

//! Every wall of every room cut into pieces: a stretch of wall between two heights with one thing behind it. Rooms of
//! all levels are seen, so that the high wall of a hall stands to the low room beside it below and to the weather
//! above, and a wall below the ground's surface stands to the ground.
//!
//! ```
//! use fuoco_core::plan::{Plan, walls::Behind};
//! use fuoco_core::samples::{box_room, job_of};
//! // the second room stands before half of the first one's east wall
//! let job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.12, 2.0, 9.0, 4.0)]);
//! let plan = Plan::of(&job);
//! let east: Vec<_> = plan.walls[0].iter().filter(|w| w.edge == 1).collect();
//! let to_b: f64 = east.iter().filter(|w| matches!(w.behind, Behind::Room { index: 1, .. })).map(|w| w.length()).sum();
//! let outside: f64 = east.iter().filter(|w| w.is_outside()).map(|w| w.length()).sum();
//! assert!((to_b - 2.0).abs() < 0.1 && (to_b + outside - 4.0).abs() < 1e-9);
//! ```

use super::edge::Edge;
use crate::geometry::Point;
use crate::job::{Beyond, Job};
use rstar::primitives::{GeomWithData, Rectangle};
use rstar::{AABB, RTree};

/// Two faces farther apart than this are not the two sides of one wall, m.
pub const THICKEST_WALL_M: f64 = 0.6;
/// Pieces of wall shorter than this are neglected, m.
const SHORTEST_PIECE_M: f64 = 0.02;
/// Between two neighbours a stretch up to this length is the end of the wall that parts them, not outside, m.
const WALL_END_M: f64 = 0.4;
/// Walls that lean so much against each other, as a sine, still are the two faces of one wall: people trace and measure to
/// some centimetres.
const PARALLEL: f64 = 0.05;
/// And rooms traced a little into each other are still beside each other, m.
const OVERLAP_M: f64 = 0.03;
/// A strip between the ceiling of a neighbour and the own one up to this height is the thickness of a ceiling, m.
const THICKEST_CEILING_M: f64 = 0.6;
/// Strips lower than this are neglected, m.
const LOWEST_M: f64 = 0.02;

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

/// A stretch of one wall between two heights with one thing behind it.
#[derive(Debug, Clone, PartialEq)]
pub struct WallPiece {
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

impl WallPiece {
    /// Length, m.
    pub fn length(&self) -> f64 {
        self.to_m - self.from_m
    }

    /// Length times height, m²; a slope may cut it smaller.
    pub fn area(&self) -> f64 {
        self.length() * (self.high_m - self.low_m)
    }

    /// Whether the weather is on the other side.
    pub fn is_outside(&self) -> bool {
        self.behind == Behind::Other(Beyond::Outside)
    }

    /// Whether the weather or the ground is on the other side: perimeter zones lie along such walls.
    pub fn is_cold(&self) -> bool {
        matches!(self.behind, Behind::Other(Beyond::Outside | Beyond::Ground))
    }
}

/// The pieces of a room's walls as they stand on the floor, in order, and where the same stands behind two neighbours those
/// as one.
pub(super) fn at_the_floor(pieces: &[WallPiece]) -> Vec<WallPiece> {
    let mut out: Vec<WallPiece> = Vec::new();
    for strip in pieces.chunk_by(|a, b| a.edge == b.edge && a.from_m == b.from_m) {
        let Some(lowest) = strip.iter().min_by(|a, b| a.low_m.total_cmp(&b.low_m)) else { continue };
        let alike = |last: &WallPiece| match (&last.behind, &lowest.behind) {
            (Behind::Room { index: a, thickness_m: s }, Behind::Room { index: b, thickness_m: t }) => {
                a == b && (s - t).abs() < 1e-9
            }
            (a, b) => a == b,
        };
        match out.last_mut() {
            Some(last) if last.edge == lowest.edge && alike(last) => last.to_m = lowest.to_m,
            _ => out.push(lowest.clone()),
        }
    }
    out
}

/// Floor of a room over the ground outside, m.
pub(crate) fn floor_height(job: &Job, room: usize) -> f64 {
    job.level(&job.rooms[room].level_id).map_or(0.0, |l| l.floor_m)
}

struct Standing {
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

/// The pieces of all walls, by room, in the order of the walls, anticlockwise.
pub(super) fn pieces(job: &Job, edges: &[Vec<Edge>]) -> Vec<Vec<WallPiece>> {
    let mut walls = Vec::new();
    for (room, r) in job.rooms.iter().enumerate() {
        let low = floor_height(job, room);
        let long = edges[room].iter().filter(|e| e.length() >= SHORTEST_PIECE_M);
        walls.extend(long.map(|&edge| Standing { room, edge, low, high: low + r.height_m }));
    }
    let tree = RTree::bulk_load(
        walls
            .iter()
            .enumerate()
            .map(|(i, w)| GeomWithData::new(Rectangle::from_corners(w.edge.a, w.edge.b), i))
            .collect(),
    );
    let mut out: Vec<Vec<WallPiece>> = vec![Vec::new(); job.rooms.len()];
    for i in 0..walls.len() {
        wall_pieces(job, &walls, &tree, i, &mut out[walls[i].room]);
    }
    for (pieces, edges) in out.iter_mut().zip(edges) {
        inner_corners(edges, pieces);
    }
    out
}

/// In a corner that looks into the room two walls end before those of the room in the notch: by the thickness of the wall
/// between, and outside is nowhere near.
fn inner_corners(edges: &[Edge], pieces: &mut [WallPiece]) {
    let n = edges.len();
    for i in 0..n {
        let (before, after) = (&edges[(i + n - 1) % n], &edges[i]);
        let (d, e) = (before.direction(), after.direction());
        if d[0] * e[1] - d[1] * e[0] >= -PARALLEL {
            continue;
        }
        let end = short_end(pieces, before.index, |p| before.length() - p.to_m, |p| before.length() - p.from_m);
        let start = short_end(pieces, after.index, |p| p.from_m, |p| p.to_m);
        if !end.is_empty() && !start.is_empty() {
            end.into_iter().chain(start).for_each(|k| pieces[k].behind = Behind::Other(Beyond::Heated));
        }
    }
}

/// Pieces of a wall to the outside that stand in the corner from which `near` and `far` measure, where the wall goes on
/// before another room.
fn short_end(
    pieces: &[WallPiece],
    edge: usize,
    near: impl Fn(&WallPiece) -> f64,
    far: impl Fn(&WallPiece) -> f64,
) -> Vec<usize> {
    let is_short = |p: &WallPiece| p.edge == edge && near(p) < 1e-9 && far(p) <= WALL_END_M;
    let outside = |p: &WallPiece| matches!(p.behind, Behind::Other(Beyond::Outside | Beyond::Ground));
    let goes_on = |p: &WallPiece| {
        let beside = |q: &&WallPiece| q.edge == edge && (near(q) - far(p)).abs() < SHORTEST_PIECE_M;
        let same_height = |q: &&WallPiece| q.low_m < p.high_m && q.high_m > p.low_m;
        let mut next = pieces.iter().filter(beside).filter(same_height);
        next.any(|q| matches!(q.behind, Behind::Room { .. }))
    };
    (0..pieces.len()).filter(|&k| is_short(&pieces[k]) && outside(&pieces[k]) && goes_on(&pieces[k])).collect()
}

fn wall_pieces(
    job: &Job,
    walls: &[Standing],
    tree: &RTree<GeomWithData<Rectangle<Point>, usize>>,
    index: usize,
    out: &mut Vec<WallPiece>,
) {
    let Standing { room, edge, low, high } = &walls[index];
    let length = edge.length();
    let whole = |behind| WallPiece {
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
    let mut views: Vec<View> = strips.iter().map(|&strip| View::of(strip, *low, *high, &seen)).collect();
    for k in 0..views.len() {
        views[k].free = cut_by_neighbours(&views, k);
    }
    let ends: Vec<Vec<bool>> = (0..views.len())
        .map(|k| views[k].free.iter().map(|f| is_wall_end(&views, k, f64::midpoint(f.0, f.1))).collect())
        .collect();
    for (view, ends) in views.iter().zip(ends) {
        let (from_m, to_m) = view.strip;
        let mut add = |low_z: f64, high_z: f64, behind: Behind, other_edge: Option<usize>| {
            let (low_m, high_m) = (low_z - low, high_z - low);
            out.push(WallPiece { edge: edge.index, from_m, to_m, low_m, high_m, behind, other_edge });
        };
        for t in &view.taken {
            let behind = Behind::Room { index: walls[t.wall].room, thickness_m: t.gap };
            add(t.low, t.high, behind, Some(walls[t.wall].edge.index));
        }
        for (&(a, b), end) in view.free.iter().zip(ends) {
            // a slab a hand's breadth below the ground outside makes no cellar
            if end {
                add(a, b, Behind::Other(Beyond::Heated), None);
            } else if a < -0.1 {
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

/// What a strip of a wall, over its whole height, looks at.
struct View {
    strip: (f64, f64),
    /// Walls of other rooms, by height over the datum; the nearest counts where several do.
    taken: Vec<Taken>,
    /// Heights at which there is none.
    free: Vec<(f64, f64)>,
}

struct Taken {
    low: f64,
    high: f64,
    wall: usize,
    gap: f64,
}

impl View {
    /// `seen`: the nearest first.
    fn of(strip: (f64, f64), low: f64, high: f64, seen: &[Seen]) -> View {
        let middle = f64::midpoint(strip.0, strip.1);
        let mut free = vec![(low, high)];
        let mut taken: Vec<Taken> = Vec::new();
        for s in seen.iter().filter(|s| s.from <= middle && middle <= s.to) {
            let mut rest = Vec::new();
            for (a, b) in free {
                let (c, d) = (a.max(s.low), b.min(s.high));
                if d - c < LOWEST_M {
                    rest.push((a, b));
                    continue;
                }
                taken.push(Taken { low: c, high: d, wall: s.wall, gap: s.gap });
                rest.extend([(a, c), (d, b)].into_iter().filter(|r| r.1 - r.0 >= LOWEST_M));
            }
            free = rest;
        }
        // what is left by the thickness of a ceiling goes with the neighbour
        for t in &mut taken {
            free.retain(|f| {
                let thin = f.1 - f.0 <= THICKEST_CEILING_M;
                if thin && (f.0 - t.high).abs() < 1e-9 {
                    t.high = f.1;
                } else if thin && (f.1 - t.low).abs() < 1e-9 {
                    t.low = f.0;
                } else {
                    return true;
                }
                false
            });
        }
        View { strip, taken, free }
    }

    fn is_taken_at(&self, z: f64) -> bool {
        self.taken.iter().any(|t| t.low <= z && z <= t.high)
    }
}

/// The free heights of a strip, those of a short one cut where the walls beside it begin and end.
fn cut_by_neighbours(views: &[View], k: usize) -> Vec<(f64, f64)> {
    let view = &views[k];
    if view.strip.1 - view.strip.0 > WALL_END_M {
        return view.free.clone();
    }
    let beside = views[k.saturating_sub(2)..views.len().min(k + 3)].iter().flat_map(|v| &v.taken);
    let mut heights: Vec<f64> = beside.flat_map(|t| [t.low, t.high]).collect();
    heights.sort_by(f64::total_cmp);
    let mut out = Vec::new();
    for &(a, b) in &view.free {
        let mut from = a;
        for &z in heights.iter().filter(|z| **z > a + LOWEST_M && **z < b - LOWEST_M) {
            if z - from >= LOWEST_M {
                out.push((from, z));
                from = z;
            }
        }
        out.push((from, b));
    }
    out
}

/// Whether a strip is, at that height over the datum, the end of the wall that parts two neighbours: a short stretch
/// without a room behind it, between two with one.
fn is_wall_end(views: &[View], k: usize, z: f64) -> bool {
    let mut width = views[k].strip.1 - views[k].strip.0;
    let mut reaches = |strips: &mut dyn Iterator<Item = &View>| {
        for view in strips {
            if view.is_taken_at(z) {
                return true;
            }
            width += view.strip.1 - view.strip.0;
            if width > WALL_END_M {
                break;
            }
        }
        false
    };
    reaches(&mut views[..k].iter().rev()) && reaches(&mut views[k + 1..].iter()) && width <= WALL_END_M
}

fn look(wall: &Standing, walls: &[Standing], other: usize) -> Option<Seen> {
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
    let from = (w.edge.b[0] - wall.edge.a[0]) * d[0] + (w.edge.b[1] - wall.edge.a[1]) * d[1];
    let to = ax * d[0] + ay * d[1];
    // the other face before the middle of what they have in common
    let off = |p: Point| -((p[0] - wall.edge.a[0]) * inward[0] + (p[1] - wall.edge.a[1]) * inward[1]);
    let share = (f64::midpoint(from.max(0.0), to.min(wall.edge.length())) - to) / (from - to).min(-1e-9);
    let gap = off(w.edge.a) + (off(w.edge.b) - off(w.edge.a)) * share;
    if !(-OVERLAP_M..=THICKEST_WALL_M).contains(&gap) {
        return None;
    }
    let (from, to) = (from.max(0.0), to.min(wall.edge.length()));
    (to - from >= SHORTEST_PIECE_M).then_some(Seen { wall: other, from, to, low, high, gap: gap.max(0.0) })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::job::Level;
    use crate::plan::Plan;
    use crate::samples::{box_room, job_of};

    fn hall_and_office() -> Job {
        let mut hall = box_room("hall", 0.0, 0.0, 8.0, 6.0);
        hall.height_m = 4.0;
        let office = box_room("office", 8.1, 0.0, 11.0, 3.0);
        job_of(vec![hall, office])
    }

    fn all(job: &Job) -> Vec<Vec<WallPiece>> {
        Plan::of(job).walls
    }

    fn east(job: &Job) -> Vec<WallPiece> {
        all(job)[0].iter().filter(|f| f.edge == 1).cloned().collect()
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
        assert!((area - 24.0).abs() < 1e-9, "pieces cover the wall once");
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

    /// An L of 6 × 5 m with a bath in its notch, 0.12 m away on both sides.
    #[test]
    fn the_inner_corner_of_an_l_is_not_outside() {
        let mut l = box_room("l", 0.0, 0.0, 6.0, 5.0);
        l.outline = vec![[0.0, 0.0], [6.0, 0.0], [6.0, 2.0], [3.0, 2.0], [3.0, 5.0], [0.0, 5.0]];
        let job = job_of(vec![l, box_room("bath", 3.12, 2.12, 6.0, 5.0)]);
        let outside: f64 = all(&job)[0].iter().filter(|p| p.is_outside()).map(WallPiece::length).sum();
        assert!((outside - (6.0 + 2.0 + 3.0 + 5.0)).abs() < 1e-9, "{outside}");
        // without the bath the corner stands in the weather
        let alone = job_of(vec![job.rooms[0].clone()]);
        let outside: f64 = all(&alone)[0].iter().filter(|p| p.is_outside()).map(WallPiece::length).sum();
        assert!((outside - 22.0).abs() < 1e-9, "{outside}");
    }

    /// Two low offices beside a high hall, and a room over both: down between the offices is the end of their partition, up
    /// there the room.
    #[test]
    fn the_end_of_a_partition_is_one_at_its_own_height() {
        let mut hall = box_room("hall", 0.0, 0.0, 8.0, 6.0);
        hall.height_m = 5.6;
        let rooms = vec![hall, box_room("south", 8.1, 0.0, 11.0, 2.9), box_room("north", 8.1, 3.0, 11.0, 6.0)];
        let mut job = job_of(rooms);
        job.levels.push(Level { id: "up".into(), name: "Up".into(), floor_m: 3.1, underlay: None });
        job.rooms.push(box_room("over", 8.1, 0.0, 11.0, 6.0));
        job.rooms[3].level_id = "up".into();
        let between: Vec<_> = east(&job).into_iter().filter(|p| p.from_m > 2.8 && p.to_m < 3.1).collect();
        let behind: Vec<_> = between.iter().map(|p| (p.low_m < 1.0, p.behind.clone())).collect();
        assert!(behind.contains(&(true, Behind::Other(Beyond::Heated))), "{between:?}");
        assert!(behind.iter().any(|b| !b.0 && matches!(b.1, Behind::Room { index: 3, .. })), "{between:?}");
        job.rooms.truncate(3);
        let up = east(&job).into_iter().find(|p| p.from_m > 2.8 && p.to_m < 3.1 && p.low_m > 2.0).expect("above both");
        assert_eq!(up.behind, Behind::Other(Beyond::Outside), "nothing ends there");
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
        let south: Vec<_> = all(&job)[0].iter().filter(|f| f.edge == 0).cloned().collect();
        assert_eq!(south.len(), 2);
        assert!(south[0].behind == Behind::Other(Beyond::Ground) && (south[0].high_m - 2.0).abs() < 1e-9);
        assert!(south[1].behind == Behind::Other(Beyond::Outside) && (south[1].high_m - 2.5).abs() < 1e-9);
    }

    #[test]
    fn a_partition_is_where_a_neighbour_looks_back() {
        let job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.12, 1.0, 9.0, 3.0)]);
        let east: Vec<_> = Plan::of(&job).at_the_floor[0].clone().into_iter().filter(|p| p.edge == 1).collect();
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
        let north: Vec<_> = Plan::of(&job).at_the_floor[0].clone().into_iter().filter(|p| p.edge == 2).collect();
        assert_eq!(north.len(), 3);
        assert_eq!(north[1].behind, Behind::Other(Beyond::Heated));
        assert!((north[1].length() - 0.1).abs() < 1e-9);
    }

    #[test]
    fn pieces_cover_each_wall_and_the_direction_of_drawing_does_not_matter() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.0, 9.0, 4.0)]);
        let before: f64 = Plan::of(&job).at_the_floor[0].clone().iter().map(WallPiece::length).sum();
        assert!((before - 18.0).abs() < 1e-9);
        job.rooms[0].outline.reverse();
        let after = Plan::of(&job).at_the_floor[0].clone();
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
        assert_eq!(Plan::of(&job).at_the_floor[0].clone()[0].behind, Behind::Other(Beyond::Ground));
    }
}

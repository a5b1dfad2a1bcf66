//! The layout rules: checks every loop, whoever laid it, and reports each violation with its place.
//!
//! 1. tube keeps its distance from tube, save in the last half metre at a manifold;
//! 2. no bend tighter than the tube's radius;
//! 3. tube lies on heated floor, clear of walls and keep-outs, and passes walls only at doorways and sleeves;
//! 4. each loop has its own port pair and starts and ends at its manifold; its length is that of its path and
//!    within the limit;
//! 5. joists are crossed at holes, no tube runs within one;
//! 6. the heatable floor is covered.
//!
//! ```
//! use fuoco_core::layout::{lay_out, rules::audit::{audit, coverage}};
//! use fuoco_core::plan::Plan;
//! use fuoco_core::samples::{box_room, job_of, manifold};
//! let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
//! job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
//! let plan = Plan::of(&job);
//! let layout = lay_out(&job, &plan);
//! assert!(audit(&job, &plan, &layout.loops).is_empty());
//! assert!(coverage(&job, &layout.loops)[0].share > 0.97);
//! ```

use crate::geometry::distance;
use crate::geometry::outline;
use crate::geometry::outline::in_quadrangle;
use crate::geometry::outline::to_sides;
use crate::geometry::outline::within;
use crate::geometry::raster::within_reach;
use crate::geometry::segment::between_segments;
use crate::geometry::segment::boxes_apart;
use crate::geometry::segment::nearest_between;
use crate::geometry::segment::to_segment;
use crate::job::{FloorLattice, Job, KeepOut, Manifold, Point, Room};
use crate::layout::LaidLoop;
use crate::layout::topology::risers::{as_manifold, risers};
use crate::plan::Plan;
use crate::plan::passages::Passage;
use rstar::primitives::{GeomWithData, Line};
use rstar::{AABB, RTree};

/// Slack for rounding in positions, m.
pub(crate) const SLACK_M: f64 = 0.003;
/// Around a manifold tubes may lie side by side, m.
const AT_MANIFOLD_M: f64 = 0.5;
/// Floor is covered within half the spacing and this factor.
const COVER: f64 = 1.1;
/// Distance of the points at which coverage is looked at, m.
const RASTER_M: f64 = 0.1;

/// A violation of the layout rules.
#[derive(Debug, Clone, PartialEq)]
pub struct Violation {
    /// What is wrong.
    pub kind: ViolationKind,
    /// Indices of the loops concerned.
    pub loops: Vec<usize>,
    /// Where, m.
    pub at: Point,
    /// The measured value (m; ratio for length) and what it should be.
    pub measured: f64,
    /// The bound it misses.
    pub bound: f64,
}

/// Kinds of violation.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum ViolationKind {
    Gap,
    Bend,
    Wall,
    KeepOut,
    Length,
    PathSum,
    Port,
    OffManifold,
    /// The loop runs there and straight back: nothing of it is tube.
    NoTube,
    /// Tube runs within a joist, along it, instead of through a hole.
    Joist,
}

/// How much of a room's heatable floor has tube within reach.
#[derive(Debug, Clone, PartialEq)]
pub struct Coverage {
    /// Index of the room.
    pub room: usize,
    /// Covered share, 0…1.
    pub share: f64,
    /// The point farthest from any tube and its distance, m.
    pub coldest: (Point, f64),
}

/// Checks all loops of a job. At most one violation of a kind is reported for each loop (pair of loops for gaps).
pub fn audit(job: &Job, plan: &Plan, loops: &[LaidLoop]) -> Vec<Violation> {
    check(job, plan, loops, None)
}

/// Checks one loop beside the others.
pub fn audit_loop(job: &Job, plan: &Plan, loops: &[LaidLoop], index: usize) -> Vec<Violation> {
    check(job, plan, loops, Some(index))
}

fn check(job: &Job, plan: &Plan, loops: &[LaidLoop], only: Option<usize>) -> Vec<Violation> {
    let mut out = Vec::new();
    let hung = (0..job.manifolds.len()).map(|m| (m, job.manifolds[m].clone()));
    let risen = risers(job).into_iter().map(|(m, riser)| (m, as_manifold(&job.manifolds[m], &riser)));
    let bodies: Vec<Body> = hung.chain(risen).filter_map(|(m, h)| Body::of(job, plan, loops, m, &h)).collect();
    gaps(job, loops, &bodies, only, &mut out);
    ports(loops, only, &mut out);
    for (i, l) in loops.iter().enumerate().filter(|(i, _)| only.is_none_or(|o| o == *i)) {
        // the manifolds of another level excuse nothing here
        let level = &job.rooms[l.room].level_id;
        let here: Vec<&Body> = bodies.iter().filter(|b| b.level_id == *level).collect();
        bends(job, i, l, &mut out);
        joists(job, i, l, &here, &mut out);
        places(job, i, l, &plan.passages, &here, &mut out);
        lengths(job, i, l, &mut out);
        ends(i, l, &here, &mut out);
    }
    out
}

/// Loops that have one port pair.
fn ports(loops: &[LaidLoop], only: Option<usize>, out: &mut Vec<Violation>) {
    let mut seen = std::collections::BTreeMap::new();
    for (i, l) in loops.iter().enumerate() {
        if let Some(other) = seen.insert((l.manifold, l.port), i)
            && only.is_none_or(|o| o == i || o == other)
        {
            out.push(violation(ViolationKind::Port, &[other, i], start(l), f64::from(l.port), f64::from(l.port)));
        }
    }
}

/// Where a loop begins: a loop that runs there and straight back has no tube, but corners.
fn start(l: &LaidLoop) -> Point {
    l.points.first().or(l.corners.first()).copied().unwrap_or_default()
}

/// The length of a loop, against its limit and against its path.
fn lengths(job: &Job, i: usize, l: &LaidLoop, out: &mut Vec<Violation>) {
    if l.points.is_empty() {
        out.push(violation(ViolationKind::NoTube, &[i], start(l), 0.0, 0.0));
        return;
    }
    let limit = crate::layout::limit_of(job, l.room);
    if l.length_m > limit + SLACK_M {
        let middle = l.points.get(l.points.len() / 2).copied().unwrap_or_else(|| start(l));
        out.push(violation(ViolationKind::Length, &[i], middle, l.length_m, limit));
    }
    let sum: f64 = l.points.windows(2).map(|w| distance(w[0], w[1])).sum();
    // chords of arcs at the path's sagitta are at most 0.5 % short
    let sum = sum + l.riser_m;
    if (sum - l.length_m).abs() > 0.005 * l.length_m + SLACK_M {
        out.push(violation(ViolationKind::PathSum, &[i], start(l), sum, l.length_m));
    }
}

/// The ends of a loop at its manifold.
fn ends(i: usize, l: &LaidLoop, bodies: &[&Body], out: &mut Vec<Violation>) {
    for &p in l.points.first().into_iter().chain(l.points.last()) {
        let own = bodies.iter().filter(|b| b.manifold == l.manifold);
        let off = own.map(|b| b.distance_to(p)).fold(f64::INFINITY, f64::min);
        if off.is_finite() && off > SLACK_M {
            out.push(violation(ViolationKind::OffManifold, &[i], p, off, 0.0));
        }
    }
}

fn violation(kind: ViolationKind, loops: &[usize], at: Point, measured: f64, bound: f64) -> Violation {
    Violation { kind, loops: loops.to_vec(), at, measured, bound }
}

/// A tube comes down so far beside its port at most: it leaves in a bow, m.
const ASIDE_M: f64 = 0.2;

/// A manifold's body on its wall: from its first to its last tube. Beside a corner it moves off as far as its tubes need
/// to clear the corner.
struct Body<'a> {
    manifold: usize,
    level_id: &'a str,
    ends: [Point; 2],
}

impl<'a> Body<'a> {
    /// Of a manifold, or of a riser as the manifold that it is taken for.
    fn of(job: &'a Job, plan: &Plan, loops: &[LaidLoop], manifold: usize, hung: &Manifold) -> Option<Body<'a>> {
        let (room, place, inward) = crate::layout::place_of(job, hung)?;
        let level_id = &job.rooms[room].level_id;
        let here = |l: &&LaidLoop| l.manifold == manifold && job.rooms[l.room].level_id == *level_id;
        // loops that rooms share leave the places free that each would have had
        let own = loops.iter().filter(here);
        let tubes = 2.0 * own.map(|l| l.stretches.len().max(1)).sum::<usize>() as f64;
        // with leaders to both sides of a cut through the room before it, its tubes stand in two groups
        let half = job.rules.lane_spacing_m.max(0.05) * tubes / 2.0 + job.rules.wall_clearance_m + ASIDE_M;
        // beside locked loops the others keep off the corners of the floor that is left
        let kept = loops.iter().any(|l| here(&l) && l.kept.is_some());
        let half = if kept { half + 0.6 } else { half };
        let along = [inward[1], -inward[0]];
        let edge = plan.edge(room, hung.edge)?;
        // near its end `a` it moves toward `b`, and the other way round
        let near = |end: Point| (half - distance(place, end)).clamp(0.0, half);
        let ends = [-half - near(edge.a), half + near(edge.b)];
        let ends = ends.map(|s| [place[0] - along[0] * s, place[1] - along[1] * s]);
        Some(Body { manifold, level_id, ends })
    }

    fn distance_to(&self, p: Point) -> f64 {
        to_segment(p, self.ends[0], self.ends[1])
    }
}

fn gaps(job: &Job, loops: &[LaidLoop], bodies: &[Body], only: Option<usize>, out: &mut Vec<Violation>) {
    type Piece = GeomWithData<Line<Point>, (usize, f64, f64)>;
    let mut pieces: Vec<Piece> = Vec::new();
    // of one loop alone only what lies near it matters
    let near = only.and_then(|o| loops.get(o)).map(|l| outline::bounds(&l.points));
    let apart = |w: &[Point]| {
        near.is_some_and(|[x0, y0, x1, y1]| {
            let outside =
                |k: usize, lo: f64, hi: f64| w[0][k].max(w[1][k]) < lo - 1.0 || w[0][k].min(w[1][k]) > hi + 1.0;
            outside(0, x0, x1) || outside(1, y0, y1)
        })
    };
    for (i, l) in loops.iter().enumerate() {
        let mut along = 0.0;
        for w in l.points.windows(2) {
            let len = distance(w[0], w[1]);
            if apart(w) {
                along += len;
                continue;
            }
            pieces.push(GeomWithData::new(Line::new(w[0], w[1]), (i, along, along + len)));
            along += len;
        }
    }
    let gap = job.rules.min_gap_m;
    let level = |i: usize| job.rooms[loops[i].room].level_id.as_str();
    let tree = RTree::bulk_load(pieces.clone());
    let mut told = std::collections::BTreeSet::new();
    // the chords of an arc ask the index together
    for group in pieces.chunk_by(|a, b| a.data.0 == b.data.0 && is_chord(a.geom()) && is_chord(b.geom())) {
        if only.is_some_and(|o| o != group[0].data.0) {
            continue;
        }
        let mut reach = AABB::from_points(group.iter().flat_map(|a| [&a.geom().from, &a.geom().to]));
        reach = AABB::from_corners(reach.lower().map(|v| v - gap), reach.upper().map(|v| v + gap));
        for b in tree.locate_in_envelope_intersecting(reach) {
            for a in group {
                let ((i, a0, a1), (j, b0, b1)) = (a.data, b.data);
                // neighbours along one tube touch by nature; a bend cannot come back within three gaps
                let seen = if only.is_none() || i == j { (i, a0) >= (j, b0) } else { false };
                if seen || level(i) != level(j) || (i == j && b0 - a1 < 3.0 * gap && a0 - b1 < 3.0 * gap) {
                    continue;
                }
                let (p, q, r, s) = (a.geom().from, a.geom().to, b.geom().from, b.geom().to);
                if boxes_apart(p, q, r, s, gap) {
                    continue;
                }
                let d = between_segments(p, q, r, s);
                if d >= gap - SLACK_M {
                    continue;
                }
                let at = nearest_between(p, q, r, s);
                // beside the manifold tubes may come close, but none may lie on another
                let at_manifold = bodies.iter().any(|b| b.level_id == level(i) && b.distance_to(at) < AT_MANIFOLD_M);
                if at_manifold && (i == j || d > 1e-6) {
                    continue;
                }
                if told.insert((i.min(j), i.max(j))) {
                    out.push(violation(ViolationKind::Gap, &[i, j], at, d, gap));
                }
            }
        }
    }
}

fn is_chord(piece: &Line<Point>) -> bool {
    distance(piece.from, piece.to) < 0.06
}

fn bends(job: &Job, i: usize, l: &LaidLoop, out: &mut Vec<Violation>) {
    let tube = job.rooms[l.room].heated_floor().and_then(|f| job.tube(&f.tube_id));
    let Some(tube) = tube else { return };
    let tightest = l
        .curve
        .iter()
        .filter_map(|s| match *s {
            crate::layout::curve::Segment::Arc { centre, radius_m, .. } => Some((radius_m, centre)),
            crate::layout::curve::Segment::Line(..) => None,
        })
        .min_by(|a, b| a.0.total_cmp(&b.0));
    if let Some((radius, at)) = tightest
        && radius < tube.bend_radius_m - 1e-4
    {
        out.push(violation(ViolationKind::Bend, &[i], at, radius, tube.bend_radius_m));
    }
}

/// Where a loop passes through the joists of a room's floor: the middle of each hole, m.
pub fn holes(job: &Job, l: &LaidLoop, room: usize) -> Vec<Point> {
    let Some(FloorLattice::Joists { along, centres_m, one_m, .. }) = lattice_of(job, room) else { return vec![] };
    let k = 1 - along.index();
    let bay = |p: Point| ((p[k] - one_m) / centres_m).floor() as i64;
    let passed = |w: &[Point]| {
        let (a, b) = (w[0], w[1]);
        // one straight may pass many joists
        (bay(a).min(bay(b)) + 1..=bay(a).max(bay(b))).map(move |n| {
            let x = (one_m + n as f64 * centres_m - a[k]) / (b[k] - a[k]);
            [0, 1].map(|i| a[i] + (b[i] - a[i]) * x)
        })
    };
    // tube of another level passes above or below
    if job.rooms[l.room].level_id != job.rooms[room].level_id {
        return vec![];
    }
    l.points.windows(2).flat_map(passed).filter(|p| within(&job.rooms[room].outline, *p)).collect()
}

fn lattice_of(job: &Job, room: usize) -> Option<FloorLattice> {
    job.rooms[room].heated_floor().and_then(|f| f.lattice)
}

fn joists(job: &Job, i: usize, l: &LaidLoop, bodies: &[&Body], out: &mut Vec<Violation>) {
    for room in l.rooms() {
        let Some(FloorLattice::Joists { along, centres_m, width_m, one_m }) = lattice_of(job, room) else { continue };
        let (a, k) = (along.index(), 1 - along.index());
        let found = l.points.windows(2).find_map(|w| {
            let at = [0, 1].map(|i| f64::midpoint(w[0][i], w[1][i]));
            let off = (at[k] - one_m).rem_euclid(centres_m);
            let off = off.min(centres_m - off);
            // at a manifold tubes come through the floor where they must
            let at_manifold = bodies.iter().any(|b| b.distance_to(at) < AT_MANIFOLD_M);
            let lengthwise = !at_manifold && (w[1][a] - w[0][a]).abs() > (w[1][k] - w[0][k]).abs();
            let within = lengthwise && off < width_m / 2.0 - SLACK_M && within(&job.rooms[room].outline, at);
            within.then_some((at, off))
        });
        if let Some((at, off)) = found {
            out.push(violation(ViolationKind::Joist, &[i], at, off, width_m / 2.0));
            return;
        }
    }
}

fn places(job: &Job, i: usize, l: &LaidLoop, passages: &[Passage], bodies: &[&Body], out: &mut Vec<Violation>) {
    let level = &job.rooms[l.room].level_id;
    let rooms: Vec<&Room> = job.rooms.iter().filter(|r| &r.level_id == level).collect();
    let clearance = job.rules.wall_clearance_m;
    let doors: Vec<[Point; 4]> = passages.iter().map(|p| door_zone(p, clearance + 0.5)).collect();
    let (mut wall_told, mut keep_told) = (false, false);
    let mut here: Option<&Room> = None;
    for w in l.points.windows(2) {
        // most tube lies well inside its room: such a straight is done with at once
        if here.is_some_and(|r| within(&r.outline, w[0]) && lies_clear(r, w, clearance)) {
            continue;
        }
        let n = (distance(w[0], w[1]) / 0.1).ceil().max(1.0) as usize;
        for k in 0..n {
            let x = k as f64 / n as f64;
            let p = [w[0][0] + (w[1][0] - w[0][0]) * x, w[0][1] + (w[1][1] - w[0][1]) * x];
            if here.is_none_or(|r| !within(&r.outline, p)) {
                here = rooms.iter().find(|r| within(&r.outline, p)).copied();
            }
            if !wall_told {
                let clear = here.map_or(-1.0, |r| to_sides(&r.outline, p));
                let excused = clear >= clearance - SLACK_M
                    || doors.iter().any(|d| in_quadrangle(d, p))
                    || bodies.iter().any(|b| b.distance_to(p) < AT_MANIFOLD_M && clear > -SLACK_M)
                    || bodies.iter().any(|b| b.distance_to(p) < SLACK_M);
                if !excused {
                    wall_told = true;
                    out.push(violation(ViolationKind::Wall, &[i], p, clear.max(0.0), clearance));
                }
            }
            if !keep_told {
                let hit = here.into_iter().flat_map(|r| &r.keep_outs).find_map(|k| {
                    let d = k.distance_to(p);
                    (d < k.clearance_m - SLACK_M || d == 0.0).then_some((d, k.clearance_m))
                });
                if let Some((d, want)) = hit {
                    keep_told = true;
                    out.push(violation(ViolationKind::KeepOut, &[i], p, d, want));
                }
            }
        }
    }
}

/// Whether a straight that begins in a room stays clear of its walls and keep-outs. May say no of one that does.
fn lies_clear(room: &Room, w: &[Point], clearance: f64) -> bool {
    let clear = |(a, b): (Point, Point)| {
        let far = |d: f64| d >= clearance - SLACK_M && d > 0.0;
        boxes_apart(w[0], w[1], a, b, clearance.max(SLACK_M)) || far(between_segments(w[0], w[1], a, b))
    };
    // a keep-out is measured to its box, whose diagonal's box it is
    let beside = |k: &KeepOut| {
        let (low, high) = ([k.x0_m, k.y0_m], [k.x1_m, k.y1_m]);
        boxes_apart(w[0], w[1], low, high, k.clearance_m.max(SLACK_M))
    };
    room.keep_outs.iter().all(beside) && outline::sides(&room.outline).all(clear)
}

/// The floor of a passage and a stretch before and behind it, between its jambs.
fn door_zone(p: &Passage, depth: f64) -> [Point; 4] {
    let d = p.direction;
    let shift = |q: Point, s: f64| [q[0] + d[0] * s, q[1] + d[1] * s];
    let far = p.thickness_m + depth;
    [shift(p.near[0], -depth), shift(p.near[1], -depth), shift(p.near[1], far), shift(p.near[0], far)]
}

/// Share of the heatable floor (clear of walls and keep-outs) of each room with tube that lies within reach of any.
pub fn coverage(job: &Job, loops: &[LaidLoop]) -> Vec<Coverage> {
    let mut rooms: Vec<usize> = loops.iter().flat_map(LaidLoop::rooms).collect();
    rooms.sort_unstable();
    rooms.dedup();
    rooms.into_iter().filter_map(|r| room_coverage(job, loops, r)).collect()
}

fn room_coverage(job: &Job, loops: &[LaidLoop], index: usize) -> Option<Coverage> {
    let room = &job.rooms[index];
    let floor = room.heated_floor()?;
    let reach = floor.spacing_core_m / 2.0 * COVER + 0.01;
    let [x0, y0, x1, y1] = outline::bounds(&room.outline);
    let (lo, hi) = ([x0, y0], [x1, y1]);
    let size = [0, 1].map(|k| ((hi[k] - lo[k]) / RASTER_M).ceil() as usize + 1);
    if size[0] * size[1] > 4_000_000 {
        return None;
    }
    let place = |i: usize, j: usize| [lo[0] + i as f64 * RASTER_M, lo[1] + j as f64 * RASTER_M];
    let comes_near = |l: &LaidLoop| outline::comes_near(&l.points, [x0, y0, x1, y1], 1.0);
    let near: Vec<[Point; 2]> = loops
        .iter()
        .filter(|l| job.rooms[l.room].level_id == room.level_id && comes_near(l))
        .flat_map(|l| l.points.windows(2))
        .map(|w| [w[0], w[1]])
        .filter(|w| (0..2).all(|k| w[0][k].min(w[1][k]) < hi[k] + 1.0 && w[0][k].max(w[1][k]) > lo[k] - 1.0))
        .collect();
    let warm = within_reach(lo, size, RASTER_M, &near, reach);
    let mut all = 0usize;
    let mut cold: Vec<Point> = Vec::new();
    for j in 0..size[1] {
        for i in 0..size[0] {
            let p = place(i, j);
            if !within(&room.outline, p)
                || to_sides(&room.outline, p) < job.rules.wall_clearance_m
                || in_keep_out(&room.keep_outs, p)
            {
                continue;
            }
            all += 1;
            if !warm[j * size[0] + i] {
                cold.push(p);
            }
        }
    }
    // the coldest spot is looked for among a few of the cold points only: it is for the eye
    let few = cold.iter().step_by(cold.len() / 64 + 1);
    let coldest = few
        .map(|&p| (p, near.iter().map(|w| to_segment(p, w[0], w[1])).fold(f64::INFINITY, f64::min)))
        .max_by(|a, b| a.1.total_cmp(&b.1))
        .map(|(p, off)| (p, off.min(distance(lo, hi))))
        .unwrap_or((lo, 0.0));
    (all > 0).then(|| Coverage { room: index, share: 1.0 - cold.len() as f64 / all as f64, coldest })
}

pub(crate) fn in_keep_out(keep_outs: &[KeepOut], p: Point) -> bool {
    keep_outs.iter().any(|k| {
        let c = k.clearance_m;
        p[0] >= k.x0_m - c && p[0] <= k.x1_m + c && p[1] >= k.y0_m - c && p[1] <= k.y1_m + c
    })
}

//! One room: leaders of rooms beyond hug its walls to their doors, its own loops spread out from the entry and
//! fill the floor that is left.
//!
//! Seen from the entry, lanes keep one order from left to right through every room: first those that leave by
//! doors on the left (nearest door outermost), then the room's own loops, then those for doors on the right. In
//! that order no lane ever needs to cross another.

use super::fill::{self, Tree};
use super::lattice::{Cell, Lattice, Spacing, Stop, lines};
use super::region::{Frame, Rect, Region};
use crate::job::{Pattern, Point};

/// Clear floor between the jamb of a doorway and the first tube, m.
const JAMB_M: f64 = 0.04;
/// At most so many cells are left out of a loop because the tube cannot turn there.
const MOST_TRIMS: usize = 24;
/// So many places nearest to the entry are compared by the floor that they leave uncovered.
const NEAR_TRIES: usize = 2;
/// Another place is taken for this much more tube in the field.
const BETTER: f64 = 1.01;
/// Loops of one room need not be more even than this.
const EVEN: f64 = 0.04;
/// So many times at most they are evened out.
const MOST_EVENINGS: usize = 3;
/// So many places beside the entry are tried for loops without a turn that is too tight.
const MOST_TRIES: usize = 6;

/// What stands free and is longer than this stops the tube lines like a wall, m.
const LONG_M: f64 = 1.0;

/// A loop of a room: the room's index in the job and the loop's number in the room.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct LoopKey {
    /// Index of the room.
    pub room: usize,
    /// Number of the loop in the room, from the left.
    pub piece: usize,
}

/// One of the two tubes of a loop's leaders.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Lane {
    /// The loop.
    pub key: LoopKey,
    /// The right one of the two, seen from the entry.
    pub right: bool,
}

/// A routed lane.
#[derive(Debug, Clone)]
pub struct LanePath {
    /// Whose lane.
    pub lane: Lane,
    /// Corners from the entry's wall to the loop's field, job coordinates, m.
    pub points: Vec<Point>,
}

/// The routes of a room and of all rooms behind it.
#[derive(Debug, Clone, Default)]
pub struct RoomRoute {
    /// Lanes from left to right as seen from the entry.
    pub lanes: Vec<LanePath>,
    /// The fields: corners from the end of the left lane to the end of the right lane.
    pub fields: Vec<(LoopKey, Vec<Point>)>,
}

/// Where the tubes come into the room.
#[derive(Debug, Clone, Copy)]
pub struct Entry {
    /// The two ends of the opening, or of the manifold's place, on the room's face, m.
    pub ends: [Point; 2],
    /// Unit vector into the room.
    pub inward: Point,
    /// True for a manifold: its tubes come down where the layout wants them, not between jambs.
    pub manifold: bool,
}

/// A door to rooms that have been routed already.
#[derive(Debug, Clone)]
pub struct Exit {
    /// A point on this room's face within the door.
    pub at: Point,
    /// The routes behind it.
    pub route: RoomRoute,
}

/// What routing a room needs to know, all in m and job coordinates.
#[derive(Debug, Clone)]
pub struct RoomTask<'a> {
    /// Index of the room.
    pub index: usize,
    /// Outline and keep-outs.
    pub room: &'a crate::job::Room,
    /// Where the tubes come in.
    pub entry: Entry,
    /// Doors further on.
    pub exits: Vec<Exit>,
    /// Number of loops that the room itself gets; 0 for none.
    pub loops: usize,
    /// Spacing in the core.
    pub core_m: f64,
    /// Spacing in the edge band.
    pub edge_m: f64,
    /// Width of the edge band.
    pub band_m: f64,
    /// Outside walls: ends of each piece.
    pub outside: Vec<[Point; 2]>,
    /// Wanted pattern.
    pub pattern: Pattern,
    /// Smallest bend radius of the tube.
    pub radius_m: f64,
    /// By how much a turn at this spacing swells to either side, m.
    pub bulge_m: f64,
    /// First tube to wall, such a swelling included.
    pub wall_clearance_m: f64,
    /// Between lanes.
    pub lane_m: f64,
    /// Least distance of any two tubes.
    pub gap_m: f64,
}

impl RoomTask<'_> {
    /// The tightest spacing at which the tube can turn back: two bulbs side by side keep the least gap, and none swells
    /// more than was reckoned with, m.
    pub fn least_m(&self) -> f64 {
        (self.radius_m + self.gap_m / 2.0).max((2.0 * self.radius_m).min(0.85 * self.edge_m))
    }
}

/// Why a room, or the rooms behind it, cannot be laid.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Obstruction {
    /// A keep-out stands before the entry.
    EntryBlocked,
    /// Too many tubes for the opening.
    EntryTooNarrow,
    /// The way along the walls is too tight for the lanes to rooms behind.
    NoWayThrough,
    /// No place for even one turn of tube at this spacing.
    TooSmall,
}

/// Routes a room. On an obstruction of the room's own field the lanes to rooms behind are still routed, and the
/// obstruction is returned beside them.
///
/// # Errors
/// When nothing can pass at all.
pub fn route(task: RoomTask) -> Result<(RoomRoute, Option<Obstruction>), Obstruction> {
    let frame = Frame::new(task.entry.inward);
    let ends = task.entry.ends.map(|p| frame.local(p));
    let (w0, w1) = (ends[0][0].min(ends[1][0]), ends[0][0].max(ends[1][0]));
    let mut middle = [(w0 + w1) / 2.0, ends[0][1]];
    let walls: Vec<Point> = task.room.outline.iter().map(|&p| frame.local(p)).collect();
    if let Some(i) = wall_of(&walls, middle).filter(|_| task.entry.manifold) {
        // a manifold in the very corner
        let (a, b) = (walls[i][0], walls[(i + 1) % walls.len()][0]);
        if (a - b).abs() > 0.1 {
            middle[0] = middle[0].clamp(a.min(b) + 0.02, a.max(b) - 0.02);
        }
    }
    let mut region =
        Region::new(&task.room.outline, &task.room.keep_outs, &frame, middle, task.wall_clearance_m, task.bulge_m)
            .ok_or(Obstruction::EntryBlocked)?;
    let entry_y = middle[1];
    let (left, right) = sides(&region.outline, middle, &task.exits, &frame).ok_or(Obstruction::NoWayThrough)?;

    let passing = |exits: &[usize]| exits.iter().map(|&e| task.exits[e].route.lanes.len()).sum::<usize>();
    let (left_n, right_n) = (passing(&left), passing(&right));

    // Passing lanes are laid from provisional places at the entry first, to learn what floor they leave.
    let own_guess = 2 * task.loops;
    let lanes = left_n + right_n + own_guess;
    let middle = if task.entry.manifold { beside_corners(&task, &region.outline, middle, lanes) } else { middle };
    let pitch = pitch(&task, w1 - w0, left_n + right_n + own_guess)?;
    let provisional: Vec<f64> = packed(middle[0], pitch, left_n + right_n + own_guess);
    let base = region.clone();
    let mut stops = Vec::new();
    let (l, r) = hug_both(&task, &region.outline, entry_y, &frame, &left, &right, &provisional)?;
    for hugged in [&l, &r] {
        stops.extend(hugged.stops.iter().copied());
        for path in &hugged.paths {
            for w in path.windows(2).skip(1) {
                region.block(w[0], w[1], 0.7 * task.core_m);
            }
        }
    }

    let own = if task.loops == 0 {
        None
    } else {
        let (opening, passing) = ((w0, w1), (left_n, right_n));
        Some(if region.square || task.loops > super::skew::MOST_SLICES {
            own_loops(&task, &frame, &base, &region, &stops, middle, opening, passing)
        } else {
            let lanes: Vec<&[Point]> = l.paths.iter().chain(&r.paths).map(Vec::as_slice).collect();
            super::skew::own_loops(&task, &frame, &region, &lanes, middle, opening, passing)
        })
    };
    let (places, own, trouble) = match own {
        Some(Ok(o)) => (o.entry.clone(), Some(o), None),
        Some(Err(o)) => (packed(middle[0], pitch, left_n + right_n), None, Some(o)),
        None => (packed(middle[0], pitch, left_n + right_n), None, None),
    };

    let (l, r) = hug_both(&task, &base.outline, entry_y, &frame, &left, &right, &places)?;
    let mut out = RoomRoute::default();
    let through = |exits: &[usize], paths: &[Vec<Point>]| -> Vec<LanePath> {
        let lanes = exits.iter().flat_map(|&e| &task.exits[e].route.lanes);
        lanes
            .zip(paths)
            .map(|(lane, path)| {
                let mut points: Vec<Point> = path.iter().map(|&p| frame.global(p)).collect();
                points.extend(&lane.points);
                LanePath { lane: lane.lane, points }
            })
            .collect()
    };
    out.lanes = through(&left, &l.paths);
    if let Some(o) = &own {
        let turned = |points: &[Point]| points.iter().map(|&p| frame.global(p)).collect();
        out.lanes.extend(o.lanes.iter().map(|(lane, p)| LanePath { lane: *lane, points: turned(p) }));
        out.fields.extend(o.fields.iter().map(|(key, p)| (*key, turned(p))));
    }
    // on the right the walls are hugged from the outermost lane inwards: turn that round
    let from_the_left: Vec<usize> = right.iter().rev().copied().collect();
    let inner_first: Vec<Vec<Point>> = r.paths.into_iter().rev().collect();
    out.lanes.extend(through(&from_the_left, &inner_first));
    for exit in &task.exits {
        out.fields.extend(exit.route.fields.iter().cloned());
    }
    Ok((out, trouble))
}

/// The middle of a manifold's tubes: its place, or as far off the corner that the outermost tube keeps clear of it.
fn beside_corners(task: &RoomTask, outline: &[Point], middle: Point, lanes: usize) -> Point {
    let Some(i) = wall_of(outline, middle) else { return middle };
    let (a, b) = (outline[i][0], outline[(i + 1) % outline.len()][0]);
    let half = task.lane_m * (lanes.max(1) - 1) as f64 / 2.0 + task.wall_clearance_m;
    let (lo, hi) = (a.min(b) + half, a.max(b) - half);
    if lo > hi { middle } else { [middle[0].clamp(lo, hi), middle[1]] }
}

/// Distance between lanes at the entry: the rule's, or less where an opening is narrow.
fn pitch(task: &RoomTask, opening: f64, lanes: usize) -> Result<f64, Obstruction> {
    if lanes < 2 || task.entry.manifold {
        return Ok(task.lane_m);
    }
    let room = (opening - 2.0 * JAMB_M) / (lanes - 1) as f64;
    if room < task.gap_m { Err(Obstruction::EntryTooNarrow) } else { Ok(room.min(task.lane_m)) }
}

fn packed(middle: f64, pitch: f64, n: usize) -> Vec<f64> {
    let first = middle - pitch * (n.max(1) - 1) as f64 / 2.0;
    (0..n).map(|k| first + pitch * k as f64).collect()
}

/// The wall (by index of its first corner) on which a point lies.
fn wall_of(outline: &[Point], p: Point) -> Option<usize> {
    let n = outline.len();
    (0..n).find(|&i| super::audit::to_segment(p, outline[i], outline[(i + 1) % n]) < 3e-3)
}

/// Which exits are reached along the left and which along the right, each nearest first.
fn sides(outline: &[Point], entry: Point, exits: &[Exit], frame: &Frame) -> Option<(Vec<usize>, Vec<usize>)> {
    let n = outline.len();
    let along: Vec<f64> = (0..n)
        .scan(0.0, |sum, i| {
            let start = *sum;
            *sum += crate::plan::distance(outline[i], outline[(i + 1) % n]);
            Some(start)
        })
        .collect();
    let total: f64 = (0..n).map(|i| crate::plan::distance(outline[i], outline[(i + 1) % n])).sum();
    let position = |p: Point| wall_of(outline, p).map(|i| along[i] + crate::plan::distance(outline[i], p));
    let start = position(entry)?;
    let (mut left, mut right) = (vec![], vec![]);
    for (e, exit) in exits.iter().enumerate() {
        let way = (position(frame.local(exit.at))? - start).rem_euclid(total);
        if way <= total / 2.0 { right.push((way, e)) } else { left.push((total - way, e)) }
    }
    let sorted = |mut v: Vec<(f64, usize)>| {
        v.sort_by(|a, b| a.0.total_cmp(&b.0));
        v.into_iter().map(|x| x.1).collect()
    };
    Some((sorted(left), sorted(right)))
}

/// Lanes along the walls and the stops they set for the field.
#[derive(Default)]
struct Hugged {
    paths: Vec<Vec<Point>>,
    stops: Vec<(usize, Stop)>,
}

fn hug_both(
    task: &RoomTask,
    outline: &[Point],
    entry_y: f64,
    frame: &Frame,
    left: &[usize],
    right: &[usize],
    places: &[f64],
) -> Result<(Hugged, Hugged), Obstruction> {
    let flip = |p: Point| [-p[0], p[1]];
    let n = places.len();
    // ends of the lanes on this room's face: straight across the wall from where the next room takes them over
    let ends = |exits: &[usize], reverse: bool| -> Vec<Point> {
        exits
            .iter()
            .flat_map(|&e| {
                let exit = &task.exits[e];
                let wall = wall_of(outline, frame.local(exit.at));
                let mut ends: Vec<Point> = exit
                    .route
                    .lanes
                    .iter()
                    .map(|l| {
                        let p = frame.local(l.points[0]);
                        wall.map_or(p, |i| onto(p, outline[i], outline[(i + 1) % outline.len()]))
                    })
                    .collect();
                if reverse {
                    ends.reverse();
                }
                ends
            })
            .collect()
    };
    let right_ends = ends(right, true);
    let right_starts: Vec<f64> = places.iter().rev().take(right_ends.len()).copied().collect();
    let r = hug(task, outline, entry_y, &right_starts, &right_ends)?;

    let mirrored: Vec<Point> = outline.iter().rev().map(|&p| flip(p)).collect();
    let left_ends: Vec<Point> = ends(left, false).into_iter().map(flip).collect();
    let left_starts: Vec<f64> = places.iter().take(left_ends.len().min(n)).map(|x| -x).collect();
    let mut l = hug(task, &mirrored, entry_y, &left_starts, &left_ends)?;
    for path in &mut l.paths {
        path.iter_mut().for_each(|p| *p = flip(*p));
    }
    for (axis, stop) in &mut l.stops {
        if *axis == 0 {
            *stop = Stop { at: -stop.at, opens: !stop.opens };
        }
    }
    Ok((l, r))
}

/// Lanes from `starts` on the bottom wall, along the walls anticlockwise, to `ends` on walls; lane 0 runs next to
/// the wall and leaves first.
fn hug(
    task: &RoomTask,
    outline: &[Point],
    entry_y: f64,
    starts: &[f64],
    ends: &[Point],
) -> Result<Hugged, Obstruction> {
    let mut out = Hugged::default();
    let m = ends.len();
    if m == 0 {
        return Ok(out);
    }
    let n = outline.len();
    let first = wall_of(outline, [starts[0], entry_y]).ok_or(Obstruction::NoWayThrough)?;
    let steps: Vec<usize> = ends
        .iter()
        .map(|&e| wall_of(outline, e).map(|w| (w + n - first) % n).ok_or(Obstruction::NoWayThrough))
        .collect::<Result<_, _>>()?;
    let longest = *steps.iter().max().unwrap_or(&0);
    let direction = |i: usize| {
        let (a, b) = (outline[(first + i) % n], outline[(first + i + 1) % n]);
        let l = crate::plan::distance(a, b);
        [(b[0] - a[0]) / l, (b[1] - a[1]) / l]
    };
    // the line on which lane k runs along wall i: a point of it
    let depth = |k: usize, i: usize| {
        let rank = k - steps[..k].iter().filter(|&&s| s < i).count();
        task.wall_clearance_m + task.lane_m * rank as f64
    };
    let line = |k: usize, i: usize| {
        let (a, d, depth) = (outline[(first + i) % n], direction(i), depth(k, i));
        [a[0] - d[1] * depth, a[1] + d[0] * depth]
    };
    for k in 0..m {
        let mut path = vec![[starts[k], entry_y]];
        let mut at = [starts[k], line(k, 0)[1]];
        path.push(at);
        for i in 0..=steps[k] {
            let d = direction(i);
            let along = |p: Point| {
                let o = line(k, i);
                onto(p, o, [o[0] + d[0], o[1] + d[1]])
            };
            let next = if i == steps[k] {
                along(ends[k])
            } else {
                let (e, o, q) = (direction(i + 1), line(k, i), line(k, i + 1));
                let cross = d[0] * e[1] - d[1] * e[0];
                if cross.abs() < 1e-3 {
                    // walls in line: straight across from where the next one begins
                    along(outline[(first + i + 1) % n])
                } else {
                    let s = ((q[0] - o[0]) * e[1] - (q[1] - o[1]) * e[0]) / cross;
                    [o[0] + d[0] * s, o[1] + d[1] * s]
                }
            };
            let forward = (next[0] - at[0]) * d[0] + (next[1] - at[1]) * d[1];
            if forward < -1e-6 && i > 0 {
                return Err(Obstruction::NoWayThrough);
            }
            path.push(next);
            at = next;
        }
        path.push(ends[k]);
        out.paths.push(path);
    }
    // beyond the innermost lane of each wall that runs along an axis the field may begin
    for i in 0..=longest {
        let Some(k) = (0..m).rev().find(|&k| steps[k] >= i) else { continue };
        let d = direction(i);
        let axis = usize::from(d[0].abs() > 0.5);
        if d[1 - axis].abs() < 1.0 - 1e-9 {
            continue;
        }
        let sign = if axis == 1 { d[0] } else { -d[1] };
        out.stops.push((axis, Stop { at: line(k, i)[axis] + sign * 0.7 * task.core_m, opens: sign > 0.0 }));
    }
    Ok(out)
}

/// The foot of a point on a wall.
fn onto(p: Point, a: Point, b: Point) -> Point {
    let l = crate::plan::distance(a, b).max(1e-12);
    let d = [(b[0] - a[0]) / l, (b[1] - a[1]) / l];
    let t = (p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1];
    [a[0] + d[0] * t, a[1] + d[1] * t]
}

/// The loops of the room itself, in frame coordinates.
pub(super) struct Own {
    /// Places of all lanes at the entry, passing lanes included, left to right.
    pub entry: Vec<f64>,
    /// The ways from the entry to the fields.
    pub lanes: Vec<(Lane, Vec<Point>)>,
    /// The fields, each from the end of its left lane to the end of its right one.
    pub fields: Vec<(LoopKey, Vec<Point>)>,
}

#[allow(clippy::too_many_arguments, reason = "the parts of one room, each used once")]
fn own_loops(
    task: &RoomTask,
    frame: &Frame,
    base: &Region,
    region: &Region,
    strips: &[(usize, Stop)],
    entry: Point,
    opening: (f64, f64),
    passing: (usize, usize),
) -> Result<Own, Obstruction> {
    let outside: Vec<[Point; 2]> = task.outside.iter().map(|e| e.map(|p| frame.local(p))).collect();
    let axis = |k: usize| lines(&stops(task, base, strips, k), &spacing(task, &outside, base, k), task.gap_m);
    let lattice = Lattice::new(axis(0), axis(1), region);
    let k = task.loops;
    if lattice.columns() < k || lattice.rows() == 0 {
        return Err(Obstruction::TooSmall);
    }

    // the column before the entry, by preference one whose two lines lie within the opening
    let within = |i: usize| lattice.xs[2 * i] > opening.0 + JAMB_M && lattice.xs[2 * i + 1] < opening.1 - JAMB_M;
    let off = |i: usize| (lattice.middle((i, 0))[0] - entry[0]).abs();
    let front = (0..lattice.columns())
        .min_by(|&a, &b| (!within(a), off(a)).partial_cmp(&(!within(b), off(b))).unwrap_or(std::cmp::Ordering::Equal))
        .ok_or(Obstruction::TooSmall)?;
    let cells = lattice.all().count();
    if cells < k {
        return Err(Obstruction::TooSmall);
    }
    let before = lattice.all().filter(|c| c.0 < front).count();
    let left = (before * k / cells).min(k - 1);

    // try columns near the entry until the ways to them are clear
    let columns = lattice.columns() as i64;
    let wanted = (front as i64 - left as i64).clamp(0, columns - k as i64);
    let shifts = (0..columns).flat_map(|d| [d, -d]);
    let mut best: Option<(bool, f64, Own)> = None;
    let mut tried = 0;
    for shift in shifts {
        let first = wanted + shift;
        if first < 0 || first + k as i64 > columns || tried >= MOST_TRIES {
            continue;
        }
        if let Some((own, clean, covered)) =
            try_columns(task, &lattice, base, first as usize, left, entry, opening, passing, &outside)
        {
            // far from the entry only where nearer places do not do
            let enough = clean && tried >= NEAR_TRIES;
            tried += 1;
            if best.as_ref().is_none_or(|b| (clean, covered) > (b.0, b.1 * BETTER)) {
                best = Some((clean, covered, own));
            }
            if enough {
                break;
            }
        }
    }
    best.map(|b| b.2).ok_or(Obstruction::TooSmall)
}

/// Lays the loops from the columns `first..first + loops`; tells also whether every turn is wide enough, and the length
/// of the fields. None when the ways to the columns are blocked.
#[allow(clippy::too_many_arguments, reason = "the parts of one room, each used once")]
fn try_columns(
    task: &RoomTask,
    lattice: &Lattice,
    base: &Region,
    first: usize,
    left: usize,
    entry: Point,
    opening: (f64, f64),
    passing: (usize, usize),
    outside: &[[Point; 2]],
) -> Option<(Own, bool, f64)> {
    let k = task.loops;
    let goals: Vec<f64> = (first..first + k).flat_map(|i| [lattice.xs[2 * i], lattice.xs[2 * i + 1]]).collect();
    let places = entry_places(task, &goals, left, entry[0], opening, passing);

    let own = &places[passing.0..passing.0 + 2 * k];
    let fan = Fan::new(task, own, &goals, entry[1], passing);
    let top = fan.top;

    let mut lattice = lattice.clone();
    let mut roots: Vec<Cell> = Vec::new();
    for i in first..first + k {
        let row = (0..lattice.rows())
            .find(|&j| lattice.has((i, j)) && lattice.ys[2 * j] > top + task.radius_m.max(0.5 * task.core_m))?;
        roots.push((i, row));
    }
    let mut lanes = Vec::new();
    for j in 0..2 * k {
        let root = roots[j / 2];
        let end = [goals[j], lattice.ys[2 * root.1]];
        let mut points = fan.way(j);
        points.push(end);
        // clear of walls and keep-outs once it is past the entry's own wall
        let start_y = entry[1] + task.wall_clearance_m;
        let clear = points.windows(2).all(|w| {
            let mut r = Rect::spanning(w[0], w[1]);
            r.y0 = r.y0.max(start_y);
            r.y1 = r.y1.max(start_y);
            base.is_free(&r)
        });
        if !clear {
            return None;
        }
        lanes.push((Lane { key: LoopKey { room: task.index, piece: j / 2 }, right: j % 2 == 1 }, points));
    }
    // floor that the lanes use is not floor for cells
    let taken: Vec<Rect> = lanes.iter().flat_map(|(_, p)| p.windows(2).map(|w| Rect::spanning(w[0], w[1]))).collect();
    let clash: Vec<Cell> = lattice
        .all()
        .filter(|c| !roots.contains(c))
        .filter(|c| {
            let cell = Rect {
                x0: lattice.xs[2 * c.0],
                y0: lattice.ys[2 * c.1],
                x1: lattice.xs[2 * c.0 + 1],
                y1: lattice.ys[2 * c.1 + 1],
            };
            taken.iter().any(|t| near(&cell, t, 0.6 * task.edge_m.min(task.core_m)))
        })
        .collect();
    clash.into_iter().for_each(|c| lattice.remove(c));

    let mut owner = fill::deal(&lattice, &roots, left);
    // what the pieces really take is known when their loops are drawn: then they are evened out once more
    let mut best: Option<(f64, Fields, bool)> = None;
    for _ in 0..if k > 1 { MOST_EVENINGS } else { 1 } {
        let (fields, clean) = draw(task, &lattice, &owner, &roots, left, &lanes, outside);
        let lengths: Vec<f64> = fields
            .iter()
            .zip(lanes.chunks(2))
            .map(|(f, pair)| pair.iter().map(|l| length(&l.1)).sum::<f64>() + length(&f.1))
            .collect();
        let mean = lengths.iter().sum::<f64>() / k as f64;
        let spread = lengths.iter().map(|l| (l / mean - 1.0).abs()).fold(0.0, f64::max);
        let value = spread + if clean { 0.0 } else { 10.0 };
        if best.as_ref().is_none_or(|b| value < b.0) {
            best = Some((value, fields, clean));
        }
        if spread < EVEN {
            break;
        }
        let factors: Vec<f64> =
            lengths.iter().zip(fill::loads(&lattice, &owner, k)).map(|(l, load)| l / load.max(1e-3)).collect();
        fill::balance(&lattice, &mut owner, &roots, &factors);
    }
    let (_, fields, clean) = best?;
    let covered: f64 = fields.iter().map(|f| length(&f.1)).sum();
    Some((Own { entry: places, lanes, fields }, clean, covered))
}

/// The corners of loops, without their ways to the entry.
type Fields = Vec<(LoopKey, Vec<Point>)>;

/// The loops of all pieces, and whether every turn is wide enough and no piece hardly a column.
fn draw(
    task: &RoomTask,
    lattice: &Lattice,
    owner: &[Option<usize>],
    roots: &[Cell],
    left: usize,
    lanes: &[(Lane, Vec<Point>)],
    outside: &[[Point; 2]],
) -> (Fields, bool) {
    let k = roots.len();
    // one loop shut in by another makes columns that hardly do
    let size = |p: usize| owner.iter().filter(|o| **o == Some(p)).count() as f64;
    let mean = (0..k).map(size).sum::<f64>() / k as f64;
    let mut clean = (0..k).all(|p| size(p) >= 0.5 * mean);
    let fields = (0..k)
        .map(|p| {
            let tree = tree(task, lattice, owner, p, roots[p], left, outside);
            let mut links = fill::grow(lattice, owner, p, roots[p], tree);
            let mut field = fill::outline(lattice, &links, roots[p]);
            // short fingers that the tube cannot turn round are left out; the coverage tells what they cost
            for _ in 0..MOST_TRIMS {
                let Some(tight) = tight_spot(&lanes[2 * p].1, &field, &lanes[2 * p + 1].1, task) else { break };
                if !links.trim(lattice, roots[p], tight, 5.0 * task.core_m) {
                    break;
                }
                field = fill::outline(lattice, &links, roots[p]);
            }
            clean &= tight_spot(&lanes[2 * p].1, &field, &lanes[2 * p + 1].1, task).is_none();
            (LoopKey { room: task.index, piece: p }, field)
        })
        .collect();
    (fields, clean)
}

/// Length of a row of corners, m.
fn length(points: &[Point]) -> f64 {
    points.windows(2).map(|w| crate::plan::distance(w[0], w[1])).sum()
}

/// How the lanes spread from the entry to their goals: every lane that moves sideways has a track of its own; to the
/// left the leftmost takes the lowest.
pub(super) struct Fan<'a> {
    own: &'a [f64],
    goals: &'a [f64],
    entry_y: f64,
    tracks: Vec<Option<f64>>,
    /// The highest track or passing lane; minus infinity where there is none.
    pub top: f64,
}

impl<'a> Fan<'a> {
    pub fn new(task: &RoomTask, own: &'a [f64], goals: &'a [f64], entry_y: f64, passing: (usize, usize)) -> Fan<'a> {
        let n = goals.len();
        let moves_left = |j: usize| goals[j] < own[j] - 1e-6;
        let moves_right = |j: usize| goals[j] > own[j] + 1e-6;
        let height = |t: usize| entry_y + task.wall_clearance_m + task.lane_m * t as f64;
        let tracks: Vec<Option<f64>> = (0..n)
            .map(|j| {
                if moves_left(j) {
                    Some(height(passing.0 + (0..j).filter(|&i| moves_left(i)).count()))
                } else if moves_right(j) {
                    Some(height(passing.1 + (j + 1..n).filter(|&i| moves_right(i)).count()))
                } else {
                    None
                }
            })
            .collect();
        let passed = passing.0.max(passing.1);
        let strip = if passed > 0 { height(passed - 1) } else { f64::NEG_INFINITY };
        let top = tracks.iter().flatten().copied().fold(strip, f64::max);
        Fan { own, goals, entry_y, tracks, top }
    }

    /// Corners of lane `j` up to its track's end below its goal.
    pub fn way(&self, j: usize) -> Vec<Point> {
        let mut points = vec![[self.own[j], self.entry_y]];
        if let Some(y) = self.tracks[j] {
            points.extend([[self.own[j], y], [self.goals[j], y]]);
        }
        points
    }
}

/// A place where a loop bends tighter than the tube can.
fn tight_spot(left: &[Point], field: &[Point], right: &[Point], task: &RoomTask) -> Option<Point> {
    let route: Vec<Point> = left.iter().chain(field).chain(right.iter().rev()).copied().collect();
    super::curve::tighter_than(&super::curve::bend(&route, task.radius_m, task.radius_m), task.radius_m).next()
}

fn near(a: &Rect, b: &Rect, gap: f64) -> bool {
    a.x0 < b.x1 + gap && b.x0 < a.x1 + gap && a.y0 < b.y1 + gap && b.y0 < a.y1 + gap
}

/// Places of all lanes at the entry. The loop straight ahead comes in on its own two lines where the opening has
/// room for that; else all lanes are packed.
pub(super) fn entry_places(
    task: &RoomTask,
    goals: &[f64],
    left: usize,
    middle: f64,
    opening: (f64, f64),
    passing: (usize, usize),
) -> Vec<f64> {
    let n = passing.0 + goals.len() + passing.1;
    let g = task.lane_m;
    let (a, b) = (goals[2 * left], goals[2 * left + 1]);
    let on_left = passing.0 + 2 * left;
    let on_right = n - on_left - 2;
    if !task.entry.manifold
        && a - g * on_left as f64 >= opening.0 + JAMB_M
        && b + g * on_right as f64 <= opening.1 - JAMB_M
    {
        let mut places: Vec<f64> = (1..=on_left).rev().map(|m| a - g * m as f64).collect();
        places.extend([a, b]);
        places.extend((1..=on_right).map(|m| b + g * m as f64));
        return places;
    }
    let width = opening.1 - opening.0 - 2.0 * JAMB_M;
    let pitch = if task.entry.manifold || n < 2 { g } else { (width / (n - 1) as f64).min(g) };
    packed(middle, pitch, n)
}

/// Where tube may begin and end along an axis: at the walls, and beyond lanes that run along them.
fn stops(task: &RoomTask, base: &Region, strips: &[(usize, Stop)], axis: usize) -> Vec<Stop> {
    let n = base.outline.len();
    let mut out: Vec<Stop> = Vec::new();
    let c = task.wall_clearance_m;
    for i in 0..n {
        let (a, b) = (base.outline[i], base.outline[(i + 1) % n]);
        if (a[axis] - b[axis]).abs() > 1e-6 {
            continue;
        }
        // anticlockwise: a wall running down has the floor on its right, a wall to the right has it above
        let opens = if axis == 0 { b[1] < a[1] } else { b[0] > a[0] };
        let mut at = a[axis] + if opens { c } else { -c };
        // lanes along this very wall move the stop inward
        for (k, s) in strips {
            let off = if opens { s.at - a[axis] } else { a[axis] - s.at };
            if *k == axis && s.opens == opens && off > 0.0 && off < c + task.lane_m * 60.0 && (s.at - at).abs() < 2.5 {
                at = if opens { at.max(s.at) } else { at.min(s.at) };
            }
        }
        out.push(Stop { at, opens });
    }
    if !base.square {
        let [x0, y0, x1, y1] = crate::plan::storeys::bounds(&base.outline);
        let (low, high) = if axis == 0 { (x0, x1) } else { (y0, y1) };
        out.extend([Stop { at: low + c, opens: true }, Stop { at: high - c, opens: false }]);
    }
    // long things that stand free stop the tube like walls; lines need not meet small ones
    for r in base.standing() {
        let (low, high, across) = if axis == 0 { (r.x0, r.x1, r.y1 - r.y0) } else { (r.y0, r.y1, r.x1 - r.x0) };
        if across > LONG_M {
            out.extend([Stop { at: low, opens: false }, Stop { at: high, opens: true }]);
        }
    }
    out
}

/// Core spacing, with bands along the outside walls that cross this axis.
fn spacing(task: &RoomTask, outside: &[[Point; 2]], base: &Region, axis: usize) -> Spacing {
    let mut bands = Vec::new();
    if task.edge_m < task.core_m {
        for [a, b] in outside {
            if (a[axis] - b[axis]).abs() > 1e-3 {
                continue;
            }
            // which side of the wall is floor?
            let other = 1 - axis;
            let mut probe = [0.0; 2];
            probe[other] = (a[other] + b[other]) / 2.0;
            probe[axis] = a[axis] + 0.6 * task.wall_clearance_m + 0.15;
            let floor_above = base.is_free(&Rect::spanning(probe, probe));
            bands.push(if floor_above { (a[axis], a[axis] + task.band_m) } else { (a[axis] - task.band_m, a[axis]) });
        }
    }
    Spacing { core: task.core_m, edge: task.edge_m, least: task.least_m(), bands }
}

/// The kind of tree for a piece: see [`Pattern`].
fn tree(
    task: &RoomTask,
    lattice: &Lattice,
    owner: &[Option<usize>],
    piece: usize,
    root: Cell,
    left: usize,
    outside: &[[Point; 2]],
) -> Tree {
    let spiral = Tree::Spiral { left_hand: piece <= left };
    let (mut upright_cold, mut level_cold) = (0.0f64, 0.0f64);
    let mut sides = std::collections::BTreeSet::new();
    for [a, b] in outside {
        let (dx, dy) = ((a[0] - b[0]).abs(), (a[1] - b[1]).abs());
        if dx < 1e-3 && dy > 0.5 {
            upright_cold += dy;
            sides.insert((0, (a[0] * 10.0).round() as i64));
        } else if dy < 1e-3 && dx > 0.5 {
            level_cold += dx;
            sides.insert((1, (a[1] * 10.0).round() as i64));
        }
    }
    let comb = |upright: bool| {
        let mine: Vec<f64> =
            lattice.all().filter(|&c| owner[lattice.index(c)] == Some(piece)).map(|c| lattice.middle(c)[0]).collect();
        let mean = mine.iter().sum::<f64>() / mine.len().max(1) as f64;
        Tree::Comb { upright, spine_low: upright || lattice.middle(root)[0] <= mean }
    };
    match task.pattern {
        Pattern::Counterflow => spiral,
        Pattern::Auto if sides.len() != 1 => spiral,
        Pattern::Auto => comb(upright_cold > level_cold),
        Pattern::Serpentine if sides.len() == 1 => comb(upright_cold > level_cold),
        Pattern::Serpentine => {
            let mine: Vec<Point> =
                lattice.all().filter(|&c| owner[lattice.index(c)] == Some(piece)).map(|c| lattice.middle(c)).collect();
            let span = |k: usize| {
                let (lo, hi) = mine.iter().fold((f64::MAX, f64::MIN), |(l, h), p| (l.min(p[k]), h.max(p[k])));
                hi - lo
            };
            comb(span(1) >= span(0))
        }
    }
}

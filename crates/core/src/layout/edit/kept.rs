//! Loops that are kept as they lie, and the floor that they leave to the others.
//!
//! A locked loop with all that it encloses is cut out of the rooms that it crosses. What is left of a room is rooms of its
//! own, each with the doorways and the side of the manifold that it touches; the layout never needs to know why.

use crate::geometry::distance;
use crate::geometry::outline;
use crate::geometry::outline::polygon;
use crate::geometry::outline::within;
use crate::geometry::polygon as shape;
use crate::geometry::segment::{between_segments, boxes_apart};
use crate::job::{Job, Manifold, Opening, Point, Room};
use crate::layout::curve;
use crate::layout::topology::parts::{Parted, hang};
use crate::layout::topology::risers::place_on_level;
use crate::layout::{LaidLoop, Problem, Stretch, manifold_place, metres_by_room, place_of, sweep_of};
use crate::plan;
use crate::plan::edge::Edge;
use crate::plan::passages::Passage;
use geo::algorithm::buffer::{Buffer, BufferStyle, LineCap, LineJoin};
use geo::{BooleanOps, ConvexHull, LineString, MultiPolygon, Polygon};

/// A route that crosses itself more often is a scribble: all that it goes round is taken.
const MOST_CROSSINGS: usize = 100;
/// Gaps between tubes of locked loops up to this many spacings are floor that they heat.
const CLOSED_SPACINGS: f64 = 1.1;
/// An opening beside tubes of locked loops narrower than this lets no other pass, m.
const NARROW_M: f64 = 0.06;
/// A manifold's tubes come down at most this far beside those of its locked loops, m.
const BESIDE_MANIFOLD_M: f64 = 0.6;
/// Clear floor wanted before the middle of a manifold, m.
const CLEAR_M: f64 = 0.45;
/// Floor before a manifold wider than this is no neck, m.
const NECK_M: f64 = 1.2;
/// From a corner of the floor that is left to the middle of a manifold at least, m.
const CORNER_M: f64 = 0.15;
/// Of a cut room a piece smaller than this gets no loop, m².
const SMALL_M2: f64 = 0.5;
/// A point this near to a wall is on it, m.
const ON_WALL_M: f64 = 2e-3;

/// The locked loops of a job as they lie. One in a room without a heated floor is told and left out.
pub(crate) fn laid(job: &Job, problems: &mut Vec<Problem>) -> Vec<LaidLoop> {
    let mut out = Vec::new();
    for kept in 0..job.loops.len() {
        match lay(job, kept) {
            Some(l) => out.push(l),
            None => problems.push(Problem::KeptIdle { kept }),
        }
    }
    out
}

fn lay(job: &Job, index: usize) -> Option<LaidLoop> {
    let kept = &job.loops[index];
    let room = job.rooms.iter().position(|r| r.id == kept.room_id)?;
    let manifold = job.manifolds.iter().position(|m| m.id == kept.manifold_id)?;
    let floor = job.rooms[room].heated_floor()?;
    let (sweep, least) = sweep_of(job, room);
    let curve = curve::bend(&kept.corners, sweep, least);
    let points = curve::points(&curve, crate::layout::SAGITTA_M);
    let by_room = metres_by_room(job, &job.rooms[room].level_id, &points);
    // its own rooms in the order in which most of it passes them
    let also = kept.also_room_ids.iter().map(|id| job.rooms.iter().position(|r| &r.id == id));
    let mut own: Vec<usize> = [Some(room)].into_iter().chain(also).collect::<Option<_>>()?;
    if own.iter().any(|&r| job.rooms[r].heated_floor().is_none()) {
        return None;
    }
    own.sort_by(|&a, &b| half_passed(&job.rooms[a], &points).total_cmp(&half_passed(&job.rooms[b], &points)));
    let in_room = |r: usize| by_room.get(&Some(r)).copied().unwrap_or(0.0);
    let level_id = &job.rooms[room].level_id;
    let start = kept.corners.first().copied().unwrap_or_default();
    let riser_m = place_on_level(job, manifold, level_id, start).map_or(0.0, |p| p.1);
    let (all, inside) = (curve::length(&curve), own.iter().map(|&r| in_room(r)).sum::<f64>());
    let field_m = (all + 2.0 * riser_m - kept.leaders_m).clamp(0.0, inside);
    let stretch = |&r: &usize| {
        let field_m = field_m * in_room(r) / inside.max(1e-9);
        Stretch { room: r, from_m: riser_m + (half_passed(&job.rooms[r], &points) - field_m / 2.0).max(0.0), field_m }
    };
    let stretches = own.iter().map(stretch).collect();
    let leaders_in = by_room.iter().filter_map(|(r, m)| Some(((*r)?, *m))).filter(|(r, _)| !own.contains(r)).collect();
    let laid =
        LaidLoop { kept: Some(index), manifold, port: kept.port, riser_m: 2.0 * riser_m, ..LaidLoop::bare(room) };
    Some(laid.along(floor.spacing_core_m, kept.corners.clone(), curve, stretches, leaders_in))
}

/// Mean place along a path, m, of what of it lies in a room.
fn half_passed(room: &Room, points: &[Point]) -> f64 {
    let (mut along, mut inside, mut moment) = (0.0, 0.0, 0.0);
    for w in points.windows(2) {
        let l = distance(w[0], w[1]);
        if within(&room.outline, [0, 1].map(|k| f64::midpoint(w[0][k], w[1][k]))) {
            inside += l;
            moment += l * (along + l / 2.0);
        }
        along += l;
    }
    moment / inside.max(1e-9)
}

/// Takes the floor of the locked loops out of the rooms.
pub(crate) fn carve(parted: Parted, kept: &[LaidLoop]) -> Parted {
    if kept.is_empty() {
        return parted;
    }
    let job = &parted.job;
    // walls keep more distance than lanes: the cut lies a little inside the tubes of locked loops, so that lanes may follow them
    // closely; in doorways, where jambs keep less, it lies outside
    let lane = job.rules.lane_spacing_m.max(job.rules.min_gap_m);
    let by_level = |grow: f64| -> Vec<(&str, MultiPolygon)> {
        job.levels.iter().map(|l| (l.id.as_str(), taken_on(&parted, &l.id, kept, grow))).collect()
    };
    let (floors, doors) = (by_level(-0.4 * lane), by_level(0.5 * lane));
    fn on<'t>(taken: &'t [(&str, MultiPolygon)], id: &str) -> Option<&'t MultiPolygon> {
        taken.iter().find(|t| t.0 == id).map(|t| &t.1)
    }
    let passages = &parted.plan().passages;
    let mut out = Parted::empty(Job { rooms: vec![], manifolds: vec![], ..job.clone() }, &parted.search);
    out.taken = kept.iter().map(|l| (job_level(&parted, l).to_owned(), l.corners.clone())).collect();
    // rooms and their pieces; doorways come later
    let mut pieces: Vec<Vec<usize>> = Vec::with_capacity(job.rooms.len());
    for (i, room) in job.rooms.iter().enumerate() {
        let first = out.job.rooms.len();
        let floor = on(&floors, &room.level_id).filter(|t| plan::is_simple(room) && touches(t, room));
        let parts = match floor {
            Some(t) => left_over(room, t, job.rules.wall_clearance_m),
            None => vec![room.clone()],
        };
        // nothing is left of it: it stays as a room that nothing passes
        let parts = if parts.is_empty() { vec![Room { floor: None, ..room.clone() }] } else { parts };
        for mut part in parts {
            // of a room that is cut only its passages matter; they are put in again
            part.openings.retain(|o| floor.is_none() && !passages.iter().any(|p| p.id == o.id));
            out.job.rooms.push(part);
            out.rooms.push(parted.rooms[i]);
            out.outside.push(parted.outside[i].clone());
        }
        pieces.push((first..out.job.rooms.len()).collect());
    }
    for (m, manifold) in job.manifolds.iter().enumerate() {
        let Some((room, place, inward)) = manifold_place(job, m) else { continue };
        let untouched = pieces[room].len() == 1 && out.job.rooms[pieces[room][0]].outline == job.rooms[room].outline;
        let hung = if untouched {
            vec![Manifold { room_id: out.job.rooms[pieces[room][0]].id.clone(), ..manifold.clone() }]
        } else {
            let here = |l: &&LaidLoop| job_level(&parted, l) == job.rooms[room].level_id;
            let ends = kept.iter().filter(|l| l.manifold == parted.manifolds[m]).filter(here);
            let ends = ends.flat_map(|l| [l.corners.first(), l.corners.last()]).flatten();
            let reach = ends.map(|p| distance(*p, place)).fold(0.0, f64::max).min(1.5) + BESIDE_MANIFOLD_M;
            beside(&out.job, &pieces[room], manifold, (place, inward), reach)
        };
        // beyond a neck the floor of a piece begins anew, unless another side of the manifold hangs in the same piece
        let alone = hung.len() < 2 || hung[0].room_id != hung[1].room_id;
        for mut h in hung {
            let mut neck_m = 0.0;
            if let Some((room, at, inward)) = place_of(&out.job, &h).filter(|_| !untouched && alone)
                && let Some((outline, depth)) = beyond_neck(&out.job.rooms[room].outline, at, inward, NECK_M)
            {
                let part = Room { outline, ..out.job.rooms[room].clone() };
                let at = [0, 1].map(|k| at[k] + inward[k] * depth);
                if let Some(deeper) = hang(&part, &h, at, inward) {
                    (neck_m, h) = (depth, deeper);
                    out.job.rooms[room] = part;
                }
            }
            out.job.manifolds.push(h);
            out.manifolds.push(parted.manifolds[m]);
            out.riser_m.push(parted.riser_m[m]);
            out.necks.push(neck_m);
        }
    }
    for p in passages {
        let owner = &job.rooms[p.rooms[0]];
        let Some(opening) = owner.openings.iter().find(|o| o.id == p.id) else { continue };
        let blocked = on(&doors, &owner.level_id);
        for (from, to) in free_width(p, blocked) {
            open(&mut out.job, p, opening, [&pieces[p.rooms[0]], &pieces[p.rooms[1]]], from, to);
        }
    }
    out
}

fn job_level<'a>(parted: &'a Parted, l: &LaidLoop) -> &'a str {
    let room = parted.rooms.iter().position(|&r| r == l.room).unwrap_or(0);
    parted.job.rooms.get(room).map_or("", |r| r.level_id.as_str())
}

fn miter(by: f64) -> BufferStyle<f64> {
    BufferStyle::new(by).line_join(LineJoin::Miter(0.2)).line_cap(LineCap::Square)
}

/// The floor of all locked loops of a level, grown.
fn taken_on(parted: &Parted, level_id: &str, kept: &[LaidLoop], grow: f64) -> MultiPolygon {
    let mut all = MultiPolygon::new(vec![]);
    let mut close = 0.0_f64;
    for l in kept.iter().filter(|l| job_level(parted, l) == level_id) {
        let Some((first, second)) = l.corners.first().zip(l.corners.get(1)) else { continue };
        let Some((last, before)) = l.corners.last().zip(l.corners.get(l.corners.len().wrapping_sub(2))) else {
            continue;
        };
        let out_of = |end: &Point, from: &Point| {
            let d = distance(*end, *from).max(1e-9);
            [0, 1].map(|k| end[k] + (end[k] - from[k]) / d * 0.05)
        };
        let mut ring = vec![out_of(first, second)];
        ring.extend(&l.corners);
        ring.push(out_of(last, before));
        let line: LineString = ring.iter().map(|p| (p[0], p[1])).collect();
        if is_scribble(&l.corners) {
            // thousands of slivers between its runs are no floor for anything
            all = all.union(&line.convex_hull());
        } else {
            // the polygon may cross itself where the loop does: the union sorts that out
            let inside = Polygon::new(line.clone(), vec![]);
            all = all.union(&line.buffer_with_style(miter(0.001))).union(&inside);
        }
        close = close.max(CLOSED_SPACINGS * l.spacing_m / 2.0);
    }
    if all.0.is_empty() {
        return all;
    }
    all.buffer_with_style(miter(close)).buffer_with_style(miter(grow - close))
}

/// Whether a route crosses itself so often that nobody has drawn it for a loop.
fn is_scribble(corners: &[Point]) -> bool {
    let runs: Vec<&[Point]> = corners.windows(2).collect();
    let crossings = (0..runs.len()).flat_map(|i| (i + 2..runs.len()).map(move |j| (i, j)));
    let crosses = |&(i, j): &(usize, usize)| {
        let (a, b) = (runs[i], runs[j]);
        !boxes_apart(a[0], a[1], b[0], b[1], 0.0) && between_segments(a[0], a[1], b[0], b[1]) == 0.0
    };
    crossings.filter(crosses).nth(MOST_CROSSINGS).is_some()
}

fn touches(taken: &MultiPolygon, room: &Room) -> bool {
    use geo::Intersects;
    taken.intersects(&polygon(&room.outline))
}

/// What locked loops leave of a room, as rooms; strips in which no tube can lie are dropped.
fn left_over(room: &Room, taken: &MultiPolygon, clearance: f64) -> Vec<Room> {
    let whole = polygon(&room.outline);
    let slim = 0.9 * clearance;
    let rest = whole.difference(taken).buffer_with_style(miter(-slim)).buffer_with_style(miter(slim));
    let rest = rest.intersection(&whole);
    let mut out = Vec::new();
    for piece in &rest {
        let outline = shape::corners(piece);
        if outline.len() < 3 || outline::signed_area(&outline) < 0.02 {
            continue;
        }
        let mut part = Room {
            id: if out.is_empty() { room.id.clone() } else { format!("{} rest {}", room.id, out.len() + 1) },
            outline,
            // what is outside is known of the whole room
            walls: vec![],
            ..room.clone()
        };
        let core = room.floor.as_ref().map_or(0.2, |f| f.spacing_core_m);
        let wide = shape::inset_evenly(&part.outline, clearance + 0.75 * core);
        if outline::signed_area(&part.outline) < SMALL_M2 || wide.is_empty() {
            part.floor = None;
        }
        out.push(part);
    }
    out
}

/// How far along a wall a point lies, if it lies on it.
fn foot_on(wall: &Edge, p: Point) -> Option<f64> {
    let d = wall.direction();
    let (dx, dy) = (p[0] - wall.a[0], p[1] - wall.a[1]);
    let (along, off) = (dx * d[0] + dy * d[1], (d[0] * dy - d[1] * dx).abs());
    (off < ON_WALL_M && along > -ON_WALL_M && along < wall.length() + ON_WALL_M).then_some(along)
}

/// Stretches of a passage's width, m from its first end, that tubes of locked loops leave.
fn free_width(p: &Passage, taken: Option<&MultiPolygon>) -> Vec<(f64, f64)> {
    let width = distance(p.near[0], p.near[1]);
    let along = [0, 1].map(|k| (p.near[1][k] - p.near[0][k]) / width.max(1e-9));
    let at = |q: Point, s: f64| [q[0] + p.direction[0] * s, q[1] + p.direction[1] * s];
    let far = p.thickness_m + 0.02;
    let floor = polygon(&[at(p.near[0], -0.02), at(p.near[1], -0.02), at(p.near[1], far), at(p.near[0], far)]);
    let mut free = vec![(0.0, width)];
    let Some(taken) = taken else { return free };
    for piece in &floor.intersection(taken) {
        let places =
            piece.exterior().coords().map(|c| (c.x - p.near[0][0]) * along[0] + (c.y - p.near[0][1]) * along[1]);
        let (lo, hi) = places.fold((f64::MAX, f64::MIN), |(lo, hi), s| (lo.min(s), hi.max(s)));
        free = free
            .into_iter()
            .flat_map(|(a, b)| [(a, b.min(lo)), (a.max(hi), b)])
            .filter(|(a, b)| b - a > NARROW_M)
            .collect();
    }
    free
}

/// Puts a stretch of a passage into the pieces on either side of it.
fn open(job: &mut Job, p: &Passage, opening: &Opening, sides: [&[usize]; 2], from: f64, to: f64) {
    let width = distance(p.near[0], p.near[1]).max(1e-9);
    let along = [0, 1].map(|k| (p.near[1][k] - p.near[0][k]) / width);
    let on_near = |s: f64| [0, 1].map(|k| p.near[0][k] + along[k] * s);
    let on_far = |s: f64| [0, 1].map(|k| p.far[0][k] + (p.far[1][k] - p.far[0][k]) * s / width);
    let middle = f64::midpoint(from, to);
    let wall_at = |pieces: &[usize], at: Point| {
        pieces.iter().find_map(|&i| {
            let edges = plan::edges(&job.rooms[i]);
            let faces = |e: &Edge| {
                let n = e.inward();
                (n[0] * p.direction[0] + n[1] * p.direction[1]).abs() > 0.99
            };
            edges.into_iter().find(|e| faces(e) && foot_on(e, at).is_some()).map(|e| (i, e))
        })
    };
    let (Some((room, near)), Some((_, far))) = (wall_at(sides[0], on_near(middle)), wall_at(sides[1], on_far(middle)))
    else {
        return;
    };
    let place = |q: Point| (q[0] - p.near[0][0]) * along[0] + (q[1] - p.near[0][1]) * along[1];
    let (mut lo, mut hi) = (from, to);
    for e in [&near, &far] {
        let (a, b) = (place(e.a), place(e.b));
        (lo, hi) = (lo.max(a.min(b)), hi.min(a.max(b)));
    }
    if hi - lo < NARROW_M {
        return;
    }
    let s = foot_on(&near, on_near(f64::midpoint(lo, hi))).unwrap_or_default();
    let s = if near.reversed { near.length() - s } else { s };
    // a hair narrower, so that rounding does not put it beside its wall
    let width_m = hi - lo - 1e-5;
    let offset_m = (s - width_m / 2.0).max(0.0);
    let id = format!("{} {:.3}", opening.id, lo);
    job.rooms[room].openings.push(Opening { id, edge: near.index, offset_m, width_m, ..opening.clone() });
}

/// A manifold on each piece of its room that touches its wall near its place: one to either side of tubes of locked loops.
fn beside(
    job: &Job,
    pieces: &[usize],
    manifold: &Manifold,
    (place, inward): (Point, Point),
    reach: f64,
) -> Vec<Manifold> {
    let right = [inward[1], -inward[0]];
    let mut nearest: [Option<(f64, Manifold)>; 2] = [None, None];
    for &i in pieces {
        for e in plan::edges(&job.rooms[i]) {
            let n = e.inward();
            let off = (e.a[0] - place[0]) * inward[0] + (e.a[1] - place[1]) * inward[1];
            if n[0] * inward[0] + n[1] * inward[1] < 0.99 || off.abs() > ON_WALL_M || e.length() < NARROW_M {
                continue;
            }
            let side = |p: Point| (p[0] - place[0]) * right[0] + (p[1] - place[1]) * right[1];
            let (lo, hi) = (side(e.a).min(side(e.b)), side(e.a).max(side(e.b)));
            // off the very corner, where there is no floor before it
            let off = CORNER_M.min((hi - lo) / 2.0);
            // rounding may put the one past the other
            let nearest_s = 0.0_f64.max(lo + off).min(hi - off);
            let at_s = |s: f64| [0, 1].map(|k| place[k] + right[k] * s);
            // rather a little farther off than under a jog of the kept leaders
            let outline = &job.rooms[i].outline;
            let open = |s: f64, half: f64| {
                let above = |x: f64, y: f64| {
                    let p = at_s(s + x);
                    outline::within(outline, [p[0] + inward[0] * y, p[1] + inward[1] * y])
                };
                [-half, 0.0, half].iter().all(|&x| [0.02, 0.15, 0.3, CLEAR_M].iter().all(|&y| above(x, y)))
            };
            let steps = (0..16).flat_map(|k| [0.05, -0.05].map(|d| nearest_s + d * f64::from(k)));
            let on = |s: &f64| (lo + off..=hi - off).contains(s) && s.abs() < reach;
            let wide = [0.35, 0.25, CORNER_M].iter();
            let s =
                wide.flat_map(|&half| steps.clone().filter(on).find(|&s| open(s, half))).next().unwrap_or(nearest_s);
            let at = at_s(s);
            let slot = usize::from(f64::midpoint(lo, hi) > 0.0);
            if s.abs() < reach
                && nearest[slot].as_ref().is_none_or(|b| s.abs() < b.0)
                && let Some(hung) = hang(&job.rooms[i], manifold, at, inward)
            {
                nearest[slot] = Some((s.abs(), hung));
            }
        }
    }
    nearest.into_iter().flatten().map(|n| n.1).collect()
}

/// Between the leaders of locked loops on either side, or on a short wall of an apse, the way from a manifold into the room
/// is narrow, no wider than `neck_m`: the floor beyond that neck, and how deep it is, m.
pub(crate) fn beyond_neck(outline: &[Point], at: Point, inward: Point, neck_m: f64) -> Option<(Vec<Point>, f64)> {
    let right = [inward[1], -inward[0]];
    let chord = |depth: f64| {
        let from = [0, 1].map(|k| at[k] + inward[k] * depth);
        let hits: Vec<f64> = shape::crossings(outline, from, right).collect();
        let hi = hits.iter().copied().filter(|t| *t > 1e-6).fold(f64::INFINITY, f64::min);
        let lo = hits.iter().copied().filter(|t| *t < -1e-6).fold(f64::NEG_INFINITY, f64::max);
        (hi - lo).is_finite().then_some(hi - lo)
    };
    let first = chord(0.02)?;
    if first > neck_m {
        return None;
    }
    let depths: Vec<f64> = (1..=50).map(|k| 0.05 * f64::from(k)).collect();
    let widest = depths.iter().filter_map(|&d| chord(d)).fold(0.0, f64::max);
    let wanted = (0.6 * widest).min(2.5);
    if wanted < 1.5 * first {
        return None;
    }
    let depth = depths.into_iter().find(|&d| chord(d).is_some_and(|c| c >= wanted))?;
    let far = 1000.0;
    let corner = |s: f64, t: f64| [0, 1].map(|k| at[k] + right[k] * s + inward[k] * t);
    let beyond = polygon(&[corner(-far, depth), corner(far, depth), corner(far, far), corner(-far, far)]);
    let rest = polygon(outline).intersection(&beyond);
    Some((shape::part_with(&rest, corner(0.0, depth + 0.02))?, depth))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::layout::edit::hand::locked as keep;
    use crate::layout::{audit, lay_out};
    use crate::plan::Plan;
    use crate::samples::{box_room, doorway, job_of, manifold};

    fn hall() -> Job {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 12.0, 8.0)]);
        job.manifolds.push(manifold("m", "A", "a", 0, 6.0));
        job
    }

    #[test]
    fn a_locked_loop_is_the_loop_it_was() {
        let mut job = hall();
        let before = lay_out(&job, &Plan::of(&job));
        job.loops = before.loops.iter().enumerate().map(|(i, l)| keep(&job, l, &format!("k{i}"))).collect();
        let after = lay_out(&job, &Plan::of(&job));
        assert!(after.problems.is_empty(), "{:?}", after.problems);
        assert_eq!(after.loops.len(), before.loops.len(), "nothing is laid beside them");
        for (a, b) in after.loops.iter().zip(&before.loops) {
            assert_eq!((a.port, a.room, &a.points), (b.port, b.room, &b.points));
            assert!((a.length_m - b.length_m).abs() < 1e-9 && (a.leader_length_m - b.leader_length_m).abs() < 1e-9);
            assert!(a.kept.is_some());
        }
    }

    #[test]
    fn the_others_are_laid_round_a_locked_loop() {
        let whole = hall();
        let before = lay_out(&whole, &Plan::of(&whole));
        assert!(before.loops.len() >= 4, "{}", before.loops.len());
        // the outermost loop on either side, and both
        let last = before.loops.len() - 1;
        for locked in [vec![0], vec![last], vec![0, last]] {
            let mut job = whole.clone();
            job.loops = locked.iter().map(|&i| keep(&job, &before.loops[i], &format!("k{i}"))).collect();
            let after = lay_out(&job, &Plan::of(&job));
            assert!(after.problems.is_empty(), "{locked:?}: {:?}", after.problems);
            let violations = audit::audit(&job, &Plan::of(&job), &after.loops);
            assert!(violations.is_empty(), "{locked:?}: {violations:?}");
            let covered = audit::coverage(&job, &after.loops)[0].share;
            // beside a locked loop up to two spacings stay free: a lattice begins where it can
            assert!(covered > 0.9, "{locked:?}: {covered}");
            for &i in &locked {
                assert!(after.loops.iter().any(|l| l.kept.is_some() && l.points == before.loops[i].points));
            }
            let ports: std::collections::BTreeSet<u32> = after.loops.iter().map(|l| l.port).collect();
            assert_eq!(ports.len(), after.loops.len(), "a port pair each");
        }
    }

    #[test]
    fn what_locked_loops_shut_in_is_named() {
        let mut job = hall();
        let before = lay_out(&job, &Plan::of(&job));
        // the one in the middle would have to come in between two that lie side by side with it
        job.loops = [1, 3].iter().map(|&i| keep(&job, &before.loops[i], &format!("k{i}"))).collect();
        let after = lay_out(&job, &Plan::of(&job));
        assert!(after.problems.iter().any(|p| matches!(p, Problem::ShutIn { room: 0 })));
        let violations = audit::audit(&job, &Plan::of(&job), &after.loops);
        assert!(violations.is_empty(), "{violations:?}");
    }

    #[test]
    fn other_leaders_pass_the_door_beside_a_locked_loop() {
        let mut corridor = box_room("corridor", 0.0, 0.0, 8.0, 2.0);
        corridor.openings = vec![doorway("d", 2, 5.0, 1.0)];
        let mut job = job_of(vec![corridor, box_room("room", 0.0, 2.1, 8.0, 12.0)]);
        job.manifolds.push(manifold("m", "A", "corridor", 3, 1.0));
        let before = lay_out(&job, &Plan::of(&job));
        let behind: Vec<&LaidLoop> = before.loops.iter().filter(|l| l.room == 1).collect();
        assert!(behind.len() >= 3);
        job.loops = vec![keep(&job, behind[0], "k")];
        let after = lay_out(&job, &Plan::of(&job));
        let violations = audit::audit(&job, &Plan::of(&job), &after.loops);
        assert!(violations.is_empty(), "{violations:?}");
        assert!(after.problems.is_empty(), "{:?}", after.problems);
        assert_eq!(after.loops.iter().filter(|l| l.room == 1).count(), behind.len());
    }

    #[test]
    fn nonsense_by_hand_is_laid_as_it_is_and_said() {
        let mut job = hall();
        let mut kept = keep(&job, &lay_out(&job, &Plan::of(&job)).loops[0], "k");
        kept.corners = vec![[6.0, 0.0], [14.0, 9.0], [1.0, 1.0], [14.0, 2.0], [6.1, 0.0]];
        job.loops.push(kept);
        let layout = lay_out(&job, &Plan::of(&job));
        assert_eq!(layout.loops.iter().filter(|l| l.kept.is_some()).count(), 1);
        let told = audit::audit(&job, &Plan::of(&job), &layout.loops);
        assert!(told.iter().any(|b| b.kind == audit::ViolationKind::Wall), "{told:?}");
        job.rooms[0].floor = None;
        let layout = lay_out(&job, &Plan::of(&job));
        assert!(layout.loops.is_empty(), "a floor that is not heated has no loops");
        assert!(layout.problems.contains(&Problem::KeptIdle { kept: 0 }));
    }
}

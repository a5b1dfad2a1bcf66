//! The tubes of leaders in a room: their places at the entry, how they spread to the loops, and how they pass along the
//! walls to the doors of rooms beyond. All in the frame of the room.

use super::lattice::Stop;
use super::region::Frame;
use super::task::{Exit, Obstruction, RoomTask};
use crate::geometry::segment::foot;
use crate::job::Point;

/// Clear floor between the jamb of a doorway and the first tube, m.
pub(super) const JAMB_M: f64 = 0.04;

/// The middle of a manifold's tubes: its place, or as far off the corner that the outermost tube keeps clear of it.
pub(super) fn beside_corners(task: &RoomTask, outline: &[Point], middle: Point, lanes: usize) -> Point {
    let Some(i) = wall_of(outline, middle) else { return middle };
    let (a, b) = (outline[i][0], outline[(i + 1) % outline.len()][0]);
    let half = task.lane_m * (lanes.max(1) - 1) as f64 / 2.0 + task.wall_clearance_m;
    let (lo, hi) = (a.min(b) + half, a.max(b) - half);
    if lo > hi { middle } else { [middle[0].clamp(lo, hi), middle[1]] }
}

/// Distance between lanes at the entry: the rule's, or less where an opening is narrow.
pub(super) fn pitch(task: &RoomTask, opening: f64, lanes: usize) -> Result<f64, Obstruction> {
    if lanes < 2 || task.entry.manifold {
        return Ok(task.lane_m);
    }
    let room = (opening - 2.0 * JAMB_M) / (lanes - 1) as f64;
    if room < task.gap_m { Err(Obstruction::EntryTooNarrow) } else { Ok(room.min(task.lane_m)) }
}

pub(super) fn packed(middle: f64, pitch: f64, n: usize) -> Vec<f64> {
    let first = middle - pitch * (n.max(1) - 1) as f64 / 2.0;
    (0..n).map(|k| first + pitch * k as f64).collect()
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

/// The wall (by index of its first corner) on which a point lies.
pub(super) fn wall_of(outline: &[Point], p: Point) -> Option<usize> {
    let n = outline.len();
    (0..n).find(|&i| crate::geometry::segment::to_segment(p, outline[i], outline[(i + 1) % n]) < 3e-3)
}

/// Which exits are reached along the left and which along the right, each nearest first.
pub(super) fn sides(
    outline: &[Point],
    entry: Point,
    exits: &[Exit],
    frame: &Frame,
) -> Option<(Vec<usize>, Vec<usize>)> {
    let n = outline.len();
    let along: Vec<f64> = (0..n)
        .scan(0.0, |sum, i| {
            let start = *sum;
            *sum += crate::geometry::distance(outline[i], outline[(i + 1) % n]);
            Some(start)
        })
        .collect();
    let total: f64 = (0..n).map(|i| crate::geometry::distance(outline[i], outline[(i + 1) % n])).sum();
    let position = |p: Point| wall_of(outline, p).map(|i| along[i] + crate::geometry::distance(outline[i], p));
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

/// A strip of floor along a wall in which lanes run.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Strip {
    /// The axis across it.
    pub axis: usize,
    /// Where the field may begin beside it.
    pub stop: Stop,
    /// The share of its wall along which they run.
    pub share: f64,
}

/// Lanes along the walls and the strips that they take.
#[derive(Default)]
pub(super) struct Hugged {
    /// By lane; of two that are tied the second has the way from door to door, and the first has none.
    pub paths: Vec<Vec<Point>>,
    pub strips: Vec<Strip>,
}

/// The lanes on one side of the entry, in the order in which they leave by doors.
#[derive(Debug, Clone, Default)]
pub(super) struct Side {
    /// Exits, nearest first.
    pub exits: Vec<usize>,
    /// For each lane whether it is tied to the next: one tube from its door to the next one's.
    pub tied: Vec<bool>,
    /// Where the innermost lane ends before the entry, when it is tied to a tube further in: its place along the entry's
    /// wall, and the least height at which it comes there.
    pub inner: Option<(f64, f64)>,
}

impl Side {
    /// Lanes that come from the entry.
    pub fn entering(&self) -> usize {
        self.tied.len() - 2 * self.tied.iter().filter(|t| **t).count()
    }

    fn second(&self, lane: usize) -> bool {
        lane > 0 && self.tied[lane - 1]
    }
}

pub(super) fn hug_both(
    task: &RoomTask,
    outline: &[Point],
    entry_y: f64,
    frame: &Frame,
    left: &Side,
    right: &Side,
    places: &[f64],
) -> Result<(Hugged, Hugged), Obstruction> {
    let flip = |p: Point| [-p[0], p[1]];
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
                        wall.map_or(p, |i| foot(p, outline[i], outline[(i + 1) % outline.len()]))
                    })
                    .collect();
                if reverse {
                    ends.reverse();
                }
                ends
            })
            .collect()
    };
    let right_starts: Vec<f64> = places.iter().rev().take(right.entering()).copied().collect();
    let r = hug(task, outline, entry_y, right, &right_starts, &ends(&right.exits, true))?;

    let mirrored: Vec<Point> = outline.iter().rev().map(|&p| flip(p)).collect();
    let left_ends: Vec<Point> = ends(&left.exits, false).into_iter().map(flip).collect();
    let left_starts: Vec<f64> = places.iter().take(left.entering()).map(|x| -x).collect();
    let side = Side { inner: left.inner.map(|(x, y)| (-x, y)), ..left.clone() };
    let mut l = hug(task, &mirrored, entry_y, &side, &left_starts, &left_ends)?;
    for path in &mut l.paths {
        path.iter_mut().for_each(|p| *p = flip(*p));
    }
    for strip in l.strips.iter_mut().filter(|s| s.axis == 0) {
        strip.stop = Stop { at: -strip.stop.at, opens: !strip.stop.opens };
    }
    Ok((l, r))
}

/// Lanes from `starts` on the bottom wall, along the walls anticlockwise, to `ends` on walls; lane 0 runs next to
/// the wall and leaves first.
fn hug(
    task: &RoomTask,
    outline: &[Point],
    entry_y: f64,
    side: &Side,
    starts: &[f64],
    ends: &[Point],
) -> Result<Hugged, Obstruction> {
    let mut out = Hugged::default();
    let m = ends.len();
    if m == 0 {
        return Ok(out);
    }
    let n = outline.len();
    let bottom = starts.first().copied().or(side.inner.map(|i| i.0));
    let first = match bottom {
        Some(x) => wall_of(outline, [x, entry_y]).ok_or(Obstruction::NoWayThrough)?,
        // all are tied to each other: any wall will do to count from
        None => wall_of(outline, ends[0]).ok_or(Obstruction::NoWayThrough)?,
    };
    let steps: Vec<usize> = ends
        .iter()
        .map(|&e| wall_of(outline, e).map(|w| (w + n - first) % n).ok_or(Obstruction::NoWayThrough))
        .collect::<Result<_, _>>()?;
    let longest = *steps.iter().max().unwrap_or(&0);
    let direction = |i: usize| {
        let (a, b) = (outline[(first + i) % n], outline[(first + i + 1) % n]);
        let l = crate::geometry::distance(a, b);
        [(b[0] - a[0]) / l, (b[1] - a[1]) / l]
    };
    // a tied tube runs along the walls from door to door only
    let runs = |k: usize, i: usize| !side.tied[k] && i <= steps[k] && (!side.second(k) || i >= steps[k - 1]);
    // the line on which lane k runs along wall i: a point of it
    let depth = |k: usize, i: usize| {
        let rank = (0..k).filter(|&j| runs(j, i)).count();
        let least = side.inner.filter(|_| i == 0 && k + 1 == m).map_or(0.0, |(_, y)| y - entry_y);
        (task.wall_clearance_m + task.lane_m * rank as f64).max(least)
    };
    let line = |k: usize, i: usize| {
        let (a, d, depth) = (outline[(first + i) % n], direction(i), depth(k, i));
        [a[0] - d[1] * depth, a[1] + d[0] * depth]
    };
    let mut run = vec![0.0f64; longest + 1];
    let mut starts = starts.iter();
    for k in 0..m {
        if side.tied[k] {
            out.paths.push(vec![]);
            continue;
        }
        let on_line = |p: Point, i: usize| {
            let (o, d) = (line(k, i), direction(i));
            foot(p, o, [o[0] + d[0], o[1] + d[1]])
        };
        let inner = side.inner.filter(|_| k + 1 == m && !side.second(k));
        let (mut path, from) = if side.second(k) {
            (vec![ends[k - 1]], steps[k - 1])
        } else {
            let start = [*starts.next().ok_or(Obstruction::NoWayThrough)?, entry_y];
            (if inner.is_some() { vec![] } else { vec![start] }, 0)
        };
        let mut at = match (inner, path.first()) {
            (Some((x, _)), _) => [x, line(k, 0)[1]],
            (None, Some(&start)) if from == 0 && !side.second(k) => [start[0], line(k, 0)[1]],
            (None, start) => on_line(start.copied().unwrap_or_default(), from),
        };
        path.push(at);
        for i in from..=steps[k] {
            let d = direction(i);
            let next = if i == steps[k] {
                on_line(ends[k], i)
            } else {
                let (e, o, q) = (direction(i + 1), line(k, i), line(k, i + 1));
                let cross = d[0] * e[1] - d[1] * e[0];
                if cross.abs() < 1e-3 {
                    // walls in line: straight across from where the next one begins
                    on_line(outline[(first + i + 1) % n], i)
                } else {
                    let s = ((q[0] - o[0]) * e[1] - (q[1] - o[1]) * e[0]) / cross;
                    [o[0] + d[0] * s, o[1] + d[1] * s]
                }
            };
            let forward = (next[0] - at[0]) * d[0] + (next[1] - at[1]) * d[1];
            if forward < -1e-6 && i > 0 {
                return Err(Obstruction::NoWayThrough);
            }
            run[i] = run[i].max(forward);
            path.push(next);
            at = next;
        }
        path.push(ends[k]);
        out.paths.push(path);
    }
    // beyond the innermost lane of each wall that runs along an axis the field may begin
    for (i, run) in run.iter().enumerate() {
        let Some(k) = (0..m).rev().find(|&k| runs(k, i)) else { continue };
        let d = direction(i);
        let axis = usize::from(d[0].abs() > 0.5);
        if d[1 - axis].abs() < 1.0 - 1e-9 {
            continue;
        }
        let sign = if axis == 1 { d[0] } else { -d[1] };
        let wall_m = crate::geometry::distance(outline[(first + i) % n], outline[(first + i + 1) % n]);
        let stop = Stop { at: line(k, i)[axis] + sign * 0.7 * task.core_m, opens: sign > 0.0 };
        out.strips.push(Strip { axis, stop, share: run / wall_m });
    }
    Ok(out)
}

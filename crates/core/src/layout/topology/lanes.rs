//! The tubes of leaders in a room: their places at the entry, how they spread to the loops, and how they pass along the
//! walls to the doors of rooms beyond. All in the frame of the room.

use crate::geometry::distance;
use crate::geometry::segment::foot;
use crate::job::Point;
use crate::layout::fill::lattice::Stop;
use crate::layout::fill::region::Frame;
use crate::layout::topology::task::{Exit, Obstruction, RoomTask};

/// Clear floor between the jamb of a doorway and the first tube, m.
pub(crate) const JAMB_M: f64 = 0.04;
/// So much nearer than its bend radius a tube may pass a jamb: its arc cuts the clearance by 2 mm.
const CUT_M: f64 = 0.018;

/// The middle of a manifold's tubes: its place, or as far off the corner that the outermost tube keeps clear of it.
pub(crate) fn beside_corners(task: &RoomTask, outline: &[Point], middle: Point, lanes: usize) -> Point {
    let Some(i) = wall_of(outline, middle) else { return middle };
    let (a, b) = (outline[i][0], outline[(i + 1) % outline.len()][0]);
    let half = task.lane_m * (lanes.max(1) - 1) as f64 / 2.0 + task.wall_clearance_m;
    let (lo, hi) = (a.min(b) + half, a.max(b) - half);
    if lo > hi { middle } else { [middle[0].clamp(lo, hi), middle[1]] }
}

/// Clear floor wanted between a jamb and the first tube, m: with less, a tube that turns along the wall cuts its clearance by
/// more than the layout rules overlook. Where the opening is narrow there is less.
pub(crate) fn jamb_m(task: &RoomTask, opening_m: f64, lanes: usize) -> f64 {
    let wide = (task.radius_m - CUT_M).max(JAMB_M);
    let gaps = lanes.max(2) - 1;
    if task.entry.manifold || opening_m - 2.0 * wide < task.gap_m * gaps as f64 { JAMB_M } else { wide }
}

/// Distance between lanes at the entry: the rule's, or less where an opening is narrow.
pub(crate) fn pitch(task: &RoomTask, opening: f64, lanes: usize) -> Result<f64, Obstruction> {
    if lanes < 2 || task.entry.manifold {
        return Ok(task.lane_m);
    }
    let room = (opening - 2.0 * jamb_m(task, opening, lanes)) / (lanes - 1) as f64;
    if room < task.gap_m { Err(Obstruction::EntryTooNarrow) } else { Ok(room.min(task.lane_m)) }
}

pub(crate) fn packed(middle: f64, pitch: f64, n: usize) -> Vec<f64> {
    let first = middle - pitch * (n.max(1) - 1) as f64 / 2.0;
    (0..n).map(|k| first + pitch * k as f64).collect()
}

/// Places of all lanes at the entry. The loop straight ahead comes in on its own two lines where the opening has
/// room for that, and those beside it as near to theirs as the opening allows: what need not step aside makes no jog.
/// Else all lanes are packed.
pub(crate) fn entry_places(
    task: &RoomTask,
    goals: &[f64],
    left: usize,
    middle: f64,
    opening: (f64, f64),
    passing: (usize, usize),
) -> Vec<f64> {
    let n = passing.0 + goals.len() + passing.1;
    let g = task.lane_m;
    // beside a jamb the tube needs its bend before it turns along the wall
    let jamb = if task.entry.manifold { JAMB_M } else { task.radius_m.max(JAMB_M) };
    let (low, high) = (opening.0 + jamb, opening.1 - jamb);
    let (a, b) = (goals[2 * left], goals[2 * left + 1]);
    let on_left = passing.0 + 2 * left;
    let on_right = n - on_left - 2;
    if !task.packed && a - g * on_left as f64 >= low && b + g * on_right as f64 <= high {
        let mut places = vec![0.0; n];
        (places[on_left], places[on_left + 1]) = (a, b);
        for k in (0..on_left).rev() {
            let nearest = places[k + 1] - g;
            let wanted = if k < passing.0 { nearest } else { goals[k - passing.0] };
            places[k] = wanted.max(low + g * k as f64).min(nearest);
        }
        for k in on_left + 2..n {
            let nearest = places[k - 1] + g;
            let wanted = if k >= n - passing.1 { nearest } else { goals[k - passing.0] };
            places[k] = wanted.min(high - g * (n - 1 - k) as f64).max(nearest);
        }
        return places;
    }
    let width = opening.1 - opening.0;
    let width = width - 2.0 * jamb_m(task, width, n);
    let pitch = if task.entry.manifold || n < 2 { g } else { (width / (n - 1) as f64).min(g) };
    packed(middle, pitch, n)
}

/// How the lanes spread from the entry to their goals: every lane that moves sideways has a track of its own; to the
/// left the leftmost takes the lowest.
pub(crate) struct Fan<'a> {
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
pub(crate) fn wall_of(outline: &[Point], p: Point) -> Option<usize> {
    let n = outline.len();
    (0..n).find(|&i| crate::geometry::segment::to_segment(p, outline[i], outline[(i + 1) % n]) < 3e-3)
}

/// Which exits are reached along the left and which along the right, each nearest first.
pub(crate) fn sides(
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
pub(crate) struct Strip {
    /// The axis across it.
    pub axis: usize,
    /// Where the field may begin beside it.
    pub stop: Stop,
    /// The share of its wall along which they run.
    pub share: f64,
}

/// Lanes along the walls and the strips that they take.
#[derive(Default)]
pub(crate) struct Hugged {
    /// By lane; of two that are tied the second has the way from door to door, and the first has none.
    pub paths: Vec<Vec<Point>>,
    pub strips: Vec<Strip>,
}

/// The lanes on one side of the entry, in the order in which they leave by doors.
#[derive(Debug, Clone, Default)]
pub(crate) struct LaneSide {
    /// Exits, nearest first.
    pub exits: Vec<usize>,
    /// For each lane whether it is tied to the next: one tube from its door to the next one's.
    pub tied: Vec<bool>,
    /// Where the innermost lane ends before the entry, when it is tied to a tube further in: its place along the entry's
    /// wall, and the least height at which it comes there.
    pub inner: Option<(f64, f64)>,
}

impl LaneSide {
    /// Lanes that come from the entry.
    pub fn entering(&self) -> usize {
        self.tied.len() - 2 * self.tied.iter().filter(|t| **t).count()
    }

    fn second(&self, lane: usize) -> bool {
        lane > 0 && self.tied[lane - 1]
    }
}

pub(crate) fn hug_both(
    task: &RoomTask,
    outline: &[Point],
    entry_y: f64,
    frame: &Frame,
    left: &LaneSide,
    right: &LaneSide,
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
    let side = LaneSide { inner: left.inner.map(|(x, y)| (-x, y)), ..left.clone() };
    let mut l = hug(task, &mirrored, entry_y, &side, &left_starts, &left_ends)?;
    for path in &mut l.paths {
        path.iter_mut().for_each(|p| *p = flip(*p));
    }
    for strip in l.strips.iter_mut().filter(|s| s.axis == 0) {
        strip.stop = Stop { at: -strip.stop.at, opens: !strip.stop.opens };
    }
    Ok((l, r))
}

/// The way of one side's lanes along the walls, anticlockwise from the entry's.
struct Course<'a> {
    task: &'a RoomTask<'a>,
    outline: &'a [Point],
    entry_y: f64,
    side: &'a LaneSide,
    /// The wall of the entry.
    first: usize,
    /// How many walls on each lane leaves.
    steps: Vec<usize>,
}

impl<'a> Course<'a> {
    fn new(
        task: &'a RoomTask<'a>,
        outline: &'a [Point],
        entry_y: f64,
        side: &'a LaneSide,
        starts: &[f64],
        ends: &[Point],
    ) -> Result<Course<'a>, Obstruction> {
        let on = |p: Point| wall_of(outline, p).ok_or(Obstruction::NoWayThrough);
        let bottom = starts.first().copied().or(side.inner.map(|i| i.0));
        // where all are tied to each other any wall will do to count from
        let first = on(bottom.map_or(ends[0], |x| [x, entry_y]))?;
        let n = outline.len();
        let steps = ends.iter().map(|&e| on(e).map(|w| (w + n - first) % n)).collect::<Result<_, _>>()?;
        Ok(Course { task, outline, entry_y, side, first, steps })
    }

    /// Where wall `i` starts.
    fn corner(&self, i: usize) -> Point {
        self.outline[(self.first + i) % self.outline.len()]
    }

    fn direction(&self, i: usize) -> Point {
        let (a, b) = (self.corner(i), self.corner(i + 1));
        let l = distance(a, b);
        [(b[0] - a[0]) / l, (b[1] - a[1]) / l]
    }

    /// Whether lane `k` runs along wall `i`: a tied tube does from door to door only.
    fn runs(&self, k: usize, i: usize) -> bool {
        !self.side.tied[k] && i <= self.steps[k] && (!self.side.second(k) || i >= self.steps[k - 1])
    }

    /// A point of the line on which lane `k` runs along wall `i`.
    fn line(&self, k: usize, i: usize) -> Point {
        let rank = (0..k).filter(|&j| self.runs(j, i)).count();
        let inner = self.side.inner.filter(|_| i == 0 && k + 1 == self.steps.len());
        let least = inner.map_or(0.0, |(_, y)| y - self.entry_y);
        let depth = (self.task.wall_clearance_m + self.task.lane_m * rank as f64).max(least);
        let (a, d) = (self.corner(i), self.direction(i));
        [a[0] - d[1] * depth, a[1] + d[0] * depth]
    }

    /// The foot of a point on that line.
    fn on_line(&self, p: Point, k: usize, i: usize) -> Point {
        let (o, d) = (self.line(k, i), self.direction(i));
        foot(p, o, [o[0] + d[0], o[1] + d[1]])
    }

    /// Where lane `k` goes from wall `i` to the next.
    fn turn(&self, k: usize, i: usize) -> Point {
        let (d, e) = (self.direction(i), self.direction(i + 1));
        let cross = d[0] * e[1] - d[1] * e[0];
        if cross.abs() < 1e-3 {
            // walls in line: straight across from where the next one begins
            return self.on_line(self.corner(i + 1), k, i);
        }
        let (o, q) = (self.line(k, i), self.line(k, i + 1));
        let s = ((q[0] - o[0]) * e[1] - (q[1] - o[1]) * e[0]) / cross;
        [o[0] + d[0] * s, o[1] + d[1] * s]
    }

    /// The strips along walls that run along an axis: beyond the innermost lane of each the field may begin. `run`: how far
    /// lanes run along each wall, m.
    fn strips(&self, run: &[f64]) -> Vec<Strip> {
        let strip = |(i, run): (usize, &f64)| {
            let k = (0..self.steps.len()).rev().find(|&k| self.runs(k, i))?;
            let d = self.direction(i);
            let axis = usize::from(d[0].abs() > 0.5);
            if d[1 - axis].abs() < 1.0 - 1e-9 {
                return None;
            }
            let sign = if axis == 1 { d[0] } else { -d[1] };
            let wall_m = distance(self.corner(i), self.corner(i + 1));
            let stop = Stop { at: self.line(k, i)[axis] + sign * 0.7 * self.task.core_m, opens: sign > 0.0 };
            Some(Strip { axis, stop, share: run / wall_m })
        };
        run.iter().enumerate().filter_map(strip).collect()
    }
}

/// Lanes from `starts` on the bottom wall, along the walls anticlockwise, to `ends` on walls; lane 0 runs next to
/// the wall and leaves first.
fn hug(
    task: &RoomTask,
    outline: &[Point],
    entry_y: f64,
    side: &LaneSide,
    starts: &[f64],
    ends: &[Point],
) -> Result<Hugged, Obstruction> {
    let mut out = Hugged::default();
    let m = ends.len();
    if m == 0 {
        return Ok(out);
    }
    let course = Course::new(task, outline, entry_y, side, starts, ends)?;
    let longest = *course.steps.iter().max().unwrap_or(&0);
    let mut run = vec![0.0f64; longest + 1];
    let mut starts = starts.iter();
    for k in 0..m {
        if side.tied[k] {
            out.paths.push(vec![]);
            continue;
        }
        let inner = side.inner.filter(|_| k + 1 == m && !side.second(k));
        let (mut path, from) = if side.second(k) {
            (vec![ends[k - 1]], course.steps[k - 1])
        } else {
            let start = [*starts.next().ok_or(Obstruction::NoWayThrough)?, entry_y];
            (if inner.is_some() { vec![] } else { vec![start] }, 0)
        };
        let mut at = match (inner, path.first()) {
            (Some((x, _)), _) => [x, course.line(k, 0)[1]],
            (None, Some(&start)) if from == 0 && !side.second(k) => [start[0], course.line(k, 0)[1]],
            (None, start) => course.on_line(start.copied().unwrap_or_default(), k, from),
        };
        path.push(at);
        for (i, run) in run.iter_mut().enumerate().take(course.steps[k] + 1).skip(from) {
            let d = course.direction(i);
            let next = if i == course.steps[k] { course.on_line(ends[k], k, i) } else { course.turn(k, i) };
            let forward = (next[0] - at[0]) * d[0] + (next[1] - at[1]) * d[1];
            if forward < -1e-6 && i > 0 {
                return Err(Obstruction::NoWayThrough);
            }
            *run = run.max(forward);
            path.push(next);
            at = next;
        }
        path.push(ends[k]);
        out.paths.push(path);
    }
    out.strips = course.strips(&run);
    Ok(out)
}

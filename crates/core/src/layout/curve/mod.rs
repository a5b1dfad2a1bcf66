//! From the corners of a route to the curve that a tube can take: straights and arcs of at least the tube's
//! bend radius.
//!
//! Three kinds of turn: a plain corner becomes one arc; two opposite corners close together (a lane that shifts
//! sideways) become an S of two arcs; two like corners closer than twice the radius (a turn back at tight
//! spacing) become a bulb, which widens beyond its legs and closes again.
//!
//! ```
//! use fuoco_core::layout::curve::{bend, length};
//! // a right angle with legs of a metre, swept with 0.1 m: two straights of 0.9 m and a quarter circle
//! let curve = bend(&[[0.0, 0.0], [1.0, 0.0], [1.0, 1.0]], 0.1, 0.08);
//! assert!((length(&curve) - (1.8 + 0.1 * std::f64::consts::FRAC_PI_2)).abs() < 1e-9);
//! ```

pub mod relax;

use crate::geometry::distance;
use crate::job::Point;
use std::f64::consts::{FRAC_PI_2, PI};

/// Lengths below this are rounding, m.
const TINY: f64 = 1e-6;
/// Points closer than this are one point of the path, m.
const SAME: f64 = 5e-4;
/// One piece of a curve.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Segment {
    /// Straight from the first point to the second.
    Line(Point, Point),
    /// Round `centre` with `radius_m`, from the angle `start` on over `sweep` radians (positive: anticlockwise).
    Arc {
        /// Centre of the circle.
        centre: Point,
        /// Radius of the centre line.
        radius_m: f64,
        /// Angle of the first point seen from the centre.
        start: f64,
        /// Turned angle.
        sweep: f64,
    },
}

impl Segment {
    /// Length of the centre line, m.
    pub fn length(&self) -> f64 {
        match self {
            Segment::Line(a, b) => distance(*a, *b),
            Segment::Arc { radius_m, sweep, .. } => radius_m * sweep.abs(),
        }
    }

    fn end(&self) -> Point {
        match *self {
            Segment::Line(_, b) => b,
            Segment::Arc { centre, radius_m, start, sweep } => on_circle(centre, radius_m, start + sweep),
        }
    }
}

/// Centres of the arcs tighter than the tube bends, beyond rounding.
pub fn tighter_than(curve: &[Segment], radius_m: f64) -> impl Iterator<Item = Point> + '_ {
    curve.iter().filter_map(move |s| match *s {
        Segment::Arc { centre, radius_m: r, .. } if r < radius_m - 1e-4 => Some(centre),
        _ => None,
    })
}

fn on_circle(c: Point, r: f64, angle: f64) -> Point {
    [c[0] + r * angle.cos(), c[1] + r * angle.sin()]
}

/// A turn of the route and how much of its two legs it uses up.
#[derive(Debug, Clone, Copy)]
enum Turn {
    Corner { at: Point, radius: f64 },
    Bulb { from: Point, to: Point, radius: f64 },
}

/// Bends the route `corners` for a tube that wants `radius_m` and takes `least_m` where it must (both > 0,
/// `radius_m ≥ least_m`). Where two turns leave no room even for `least_m` the arc is as wide as fits and the
/// audit reports it. Fewer than two distinct corners give no curve.
pub fn bend(corners: &[Point], radius_m: f64, least_m: f64) -> Vec<Segment> {
    let corners = straighten(corners);
    if corners.len() < 2 {
        return vec![];
    }
    let mut turns = turns(&corners, radius_m, least_m);
    let narrow = |t: &Turn| matches!(*t, Turn::Corner { radius, .. } if radius < least_m - TINY);
    if radius_m > least_m && turns.iter().any(narrow) {
        // wide sweeps side by side may take each other's room
        turns = self::turns(&corners, least_m, least_m);
    }
    lay(corners[0], corners[corners.len() - 1], &turns)
}

/// Drops repeated points and points on a straight.
pub fn straighten(points: &[Point]) -> Vec<Point> {
    let mut out: Vec<Point> = Vec::with_capacity(points.len());
    for &p in points {
        if out.last().is_some_and(|&q| distance(p, q) < TINY) {
            continue;
        }
        while out.len() >= 2 {
            let (a, b) = (out[out.len() - 2], out[out.len() - 1]);
            let cross = (b[0] - a[0]) * (p[1] - b[1]) - (b[1] - a[1]) * (p[0] - b[0]);
            if cross.abs() > TINY * distance(a, b).max(distance(b, p)) {
                break;
            }
            out.pop();
        }
        if out.last().is_none_or(|&q| distance(p, q) >= TINY) {
            out.push(p);
        }
    }
    out
}

fn unit(a: Point, b: Point) -> Point {
    let l = distance(a, b).max(f64::MIN_POSITIVE);
    [(b[0] - a[0]) / l, (b[1] - a[1]) / l]
}

/// Signed angle from direction `u` to `v`.
fn angle(u: Point, v: Point) -> f64 {
    (u[0] * v[1] - u[1] * v[0]).atan2(u[0] * v[0] + u[1] * v[1])
}

fn turns(c: &[Point], radius: f64, least: f64) -> Vec<Turn> {
    let n = c.len();
    let leg = |i: usize| distance(c[i], c[i + 1]);
    let turn_at = |i: usize| angle(unit(c[i - 1], c[i]), unit(c[i], c[i + 1]));
    // polygons that were cut and joined are square to rounding only
    let square = |i: usize| (turn_at(i).abs() - FRAC_PI_2).abs() < 1e-3;
    let is_pair = |i: usize| i + 2 < n && square(i) && square(i + 1) && leg(i) < 2.0 * least - TINY;
    let mut out = Vec::new();
    let mut i = 1;
    let mut after_pair = false;
    while i + 1 < n {
        if is_pair(i) {
            let (d, before, after) = (leg(i), leg(i - 1), leg(i + 1));
            // a leg between two pairs belongs half to each; a plain corner needs its radius of it
            let share = |leg: f64, at_end: bool, pair: bool| {
                if at_end {
                    leg
                } else if pair {
                    leg / 2.0
                } else {
                    (leg - least).max(leg / 2.0)
                }
            };
            let room = share(before, i == 1, after_pair).min(share(after, i + 3 == n, is_pair(i + 2)));
            after_pair = true;
            if turn_at(i) * turn_at(i + 1) < 0.0 {
                if let Some(alpha) = s_bend(d, least, room) {
                    let (r, u) = (least, unit(c[i - 1], c[i]));
                    let back = r * alpha.sin() - r * (alpha / 2.0).tan();
                    let first = [c[i][0] - u[0] * back, c[i][1] - u[1] * back];
                    let second = [c[i + 1][0] + u[0] * back, c[i + 1][1] + u[1] * back];
                    out.push(Turn::Corner { at: first, radius: r });
                    out.push(Turn::Corner { at: second, radius: r });
                    i += 2;
                    continue;
                }
            } else if bulb_height(d, least) <= room + TINY {
                out.push(Turn::Bulb { from: c[i], to: c[i + 1], radius: least });
                i += 2;
                continue;
            }
        }
        out.push(Turn::Corner { at: c[i], radius });
        after_pair = false;
        i += 1;
    }
    share_legs(c[0], c[n - 1], &mut out);
    out
}

/// Slope of the S that shifts a lane by `d` with half its length on either side within `room`. It is as short as
/// the radius allows: lanes that shift side by side start one after the other and keep their distance.
fn s_bend(d: f64, least: f64, room: f64) -> Option<f64> {
    let alpha = (1.0 - d / (2.0 * least)).clamp(-1.0, 1.0).acos();
    (least * alpha.sin() <= room).then_some(alpha)
}

/// Angle by which a bulb flares before it turns.
fn flare(d: f64, r: f64) -> f64 {
    ((d / 2.0 + r) / (2.0 * r)).min(1.0).acos()
}

fn bulb_height(d: f64, r: f64) -> f64 {
    r + 2.0 * r * flare(d, r).sin()
}

fn first_point(t: &Turn) -> Point {
    match t {
        Turn::Corner { at, .. } => *at,
        Turn::Bulb { from, .. } => *from,
    }
}

fn last_point(t: &Turn) -> Point {
    match t {
        Turn::Corner { at, .. } => *at,
        Turn::Bulb { to, .. } => *to,
    }
}

/// Shrinks the radii of corners that together need more of a leg than there is.
fn share_legs(start: Point, end: Point, turns: &mut [Turn]) {
    let n = turns.len();
    // what a turn uses of a leg for each metre of its radius; a bulb's use is fixed
    let spans: Vec<(Point, Point)> = (0..n)
        .map(|i| {
            let before = if i == 0 { start } else { last_point(&turns[i - 1]) };
            let after = if i + 1 == n { end } else { first_point(&turns[i + 1]) };
            (before, after)
        })
        .collect();
    let half_tan = |i: usize| match turns[i] {
        Turn::Corner { at, .. } => (angle(unit(spans[i].0, at), unit(at, spans[i].1)).abs() / 2.0).tan(),
        Turn::Bulb { .. } => 0.0,
    };
    let tans: Vec<f64> = (0..n).map(half_tan).collect();
    let needs: Vec<f64> = (0..n)
        .map(|i| match turns[i] {
            Turn::Corner { radius, .. } => radius * tans[i],
            Turn::Bulb { from, to, radius } => bulb_height(distance(from, to), radius),
        })
        .collect();
    let mut allowed = needs.clone();
    for i in 0..=n {
        let a = if i == 0 { start } else { last_point(&turns[i - 1]) };
        let b = if i == n { end } else { first_point(&turns[i]) };
        let leg = distance(a, b);
        let left = if i == 0 { 0.0 } else { needs[i - 1] };
        let right = if i == n { 0.0 } else { needs[i] };
        if left + right <= leg {
            continue;
        }
        let fixed = |k: usize| matches!(turns[k], Turn::Bulb { .. });
        let half = |mine: f64, other: f64, other_fixed: bool| {
            if other_fixed { (leg - other).max(0.0) } else { mine.min((leg / 2.0).max(leg - other)) }
        };
        if i > 0 {
            allowed[i - 1] = allowed[i - 1].min(half(left, right, i < n && fixed(i)));
        }
        if i < n {
            allowed[i] = allowed[i].min(half(right, left, i > 0 && fixed(i - 1)));
        }
    }
    for i in 0..n {
        if let Turn::Corner { radius, .. } = &mut turns[i]
            && tans[i] > 0.0
        {
            *radius = radius.min(allowed[i] / tans[i]);
        }
    }
}

fn lay(start: Point, end: Point, turns: &[Turn]) -> Vec<Segment> {
    let mut out: Vec<Segment> = Vec::new();
    let mut pen = start;
    let line = |out: &mut Vec<Segment>, pen: Point, to: Point| {
        if distance(pen, to) > TINY {
            out.push(Segment::Line(pen, to));
        }
    };
    for (i, turn) in turns.iter().enumerate() {
        let before = if i == 0 { start } else { last_point(&turns[i - 1]) };
        let after = if i + 1 == turns.len() { end } else { first_point(&turns[i + 1]) };
        match *turn {
            Turn::Corner { at, radius } => {
                let (u, v) = (unit(before, at), unit(at, after));
                let sweep = angle(u, v);
                let t = radius * (sweep.abs() / 2.0).tan();
                let from = [at[0] - u[0] * t, at[1] - u[1] * t];
                line(&mut out, pen, from);
                let arc = arc(from, u, radius, sweep);
                pen = arc.end();
                out.push(arc);
            }
            Turn::Bulb { from, to, radius: r } => {
                let d = distance(from, to);
                let u = unit(before, from);
                let side = angle(u, unit(from, to)).signum();
                let (phi, height) = (flare(d, r), bulb_height(d, r));
                let begin = [from[0] - u[0] * height, from[1] - u[1] * height];
                line(&mut out, pen, begin);
                let mut heading = u;
                let mut at = begin;
                for sweep in [-side * phi, side * (PI + 2.0 * phi), -side * phi] {
                    let piece = arc(at, heading, r, sweep);
                    at = piece.end();
                    heading = [
                        heading[0] * sweep.cos() - heading[1] * sweep.sin(),
                        heading[0] * sweep.sin() + heading[1] * sweep.cos(),
                    ];
                    if piece.length() > TINY {
                        out.push(piece);
                    }
                }
                pen = at;
            }
        }
    }
    line(&mut out, pen, end);
    out
}

fn arc(from: Point, heading: Point, radius_m: f64, sweep: f64) -> Segment {
    let side = sweep.signum();
    let centre = [from[0] - heading[1] * radius_m * side, from[1] + heading[0] * radius_m * side];
    Segment::Arc { centre, radius_m, start: (from[1] - centre[1]).atan2(from[0] - centre[0]), sweep }
}

/// Points along the curve; between neighbours an arc strays at most `sagitta_m` from its chord.
pub fn points(curve: &[Segment], sagitta_m: f64) -> Vec<Point> {
    let mut out = Vec::new();
    for segment in curve {
        match *segment {
            Segment::Line(a, b) => {
                if out.is_empty() {
                    out.push(a);
                }
                out.push(b);
            }
            Segment::Arc { centre, radius_m, start, sweep } => {
                if out.is_empty() {
                    out.push(on_circle(centre, radius_m, start));
                }
                let step = 2.0 * (1.0 - (sagitta_m / radius_m).min(1.0)).acos();
                let n = ((sweep.abs() / step.max(1e-3)).ceil() as usize).clamp(1, 256);
                for k in 1..=n {
                    out.push(on_circle(centre, radius_m, start + sweep * k as f64 / n as f64));
                }
            }
        }
    }
    out
}

/// A path without points less than half a millimetre apart: their direction would be rounding. The ends stay.
pub fn apart(path: &[Point]) -> Vec<Point> {
    let mut out: Vec<Point> = Vec::with_capacity(path.len());
    for &p in path {
        match out.last() {
            Some(&q) if distance(p, q) < SAME && out.len() > 1 => {
                out.pop();
                out.push(p);
            }
            Some(&q) if distance(p, q) < SAME => {}
            _ => out.push(p),
        }
    }
    out
}

/// The turns of a curve: the middle of each bend, the length up to it, the angle turned to the left, radians. Arcs that
/// follow one another make one bend.
pub fn bends(curve: &[Segment]) -> Vec<(Point, f64, f64)> {
    let mut out: Vec<(Point, f64, f64)> = Vec::new();
    let mut along = 0.0;
    // the bend under way: where it began, its arcs, its angle
    let mut open: Option<(f64, Vec<Segment>, f64)> = None;
    let close = |open: &mut Option<(f64, Vec<Segment>, f64)>, out: &mut Vec<(Point, f64, f64)>| {
        let Some((begin, arcs, angle)) = open.take() else { return };
        let half = arcs.iter().map(Segment::length).sum::<f64>() / 2.0;
        let mut left = half;
        for a in arcs {
            if let Segment::Arc { centre, radius_m, start, sweep } = a {
                if left <= a.length() + TINY {
                    let part = sweep * (left / a.length().max(TINY)).min(1.0);
                    return out.push((on_circle(centre, radius_m, start + part), begin + half, angle));
                }
                left -= a.length();
            }
        }
    };
    for s in curve {
        match *s {
            Segment::Arc { sweep, .. } => {
                let (_, arcs, angle) = open.get_or_insert((along, vec![], 0.0));
                arcs.push(*s);
                *angle += sweep;
            }
            Segment::Line(..) => close(&mut open, &mut out),
        }
        along += s.length();
    }
    close(&mut open, &mut out);
    out
}

/// Length of the curve, m.
pub fn length(curve: &[Segment]) -> f64 {
    curve.iter().map(Segment::length).sum()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn continuous(curve: &[Segment]) {
        let p = points(curve, 1e-4);
        for w in p.windows(3) {
            let turn = angle(unit(w[0], w[1]), unit(w[1], w[2])).abs();
            assert!(turn < 0.2, "a kink of {turn} at {:?}", w[1]);
        }
    }

    #[test]
    fn bends_are_told_with_the_tube_up_to_them() {
        let u = bend(&[[0.0, 0.0], [2.0, 0.0], [2.0, 0.1], [0.0, 0.1]], 0.08, 0.08);
        let found = super::bends(&u);
        assert_eq!(found.len(), 1, "a bulb is one bend: {found:?}");
        assert!((found[0].2 - PI).abs() < 1e-9, "back the way it came");
        assert!((found[0].1 - length(&u) / 2.0).abs() < 1e-9, "half way");
        assert!((found[0].0[1] - 0.05).abs() < 1e-9 && found[0].0[0] < 2.0 + 1e-9, "{:?}", found[0].0);
        let z = bend(&[[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [2.0, 1.0]], 0.1, 0.1);
        let angles: Vec<f64> = super::bends(&z).iter().map(|b| b.2).collect();
        assert_eq!(angles.len(), 2);
        assert!((angles[0] - FRAC_PI_2).abs() < 1e-9 && (angles[1] + FRAC_PI_2).abs() < 1e-9);
        assert!(super::bends(&[]).is_empty());
    }

    #[test]
    fn a_corner_saves_what_an_arc_saves() {
        let curve = bend(&[[0.0, 0.0], [1.0, 0.0], [1.0, 1.0]], 0.1, 0.1);
        // 2 m less two tangents of r plus a quarter circle
        assert!((length(&curve) - (2.0 - 0.2 + 0.1 * FRAC_PI_2)).abs() < 1e-12);
        continuous(&curve);
    }

    #[test]
    fn a_wide_turn_back_is_a_half_circle() {
        let curve = bend(&[[0.0, 0.0], [1.0, 0.0], [1.0, 0.2], [0.0, 0.2]], 0.1, 0.08);
        assert!((length(&curve) - (2.0 * 0.9 + PI * 0.1)).abs() < 1e-9);
        continuous(&curve);
    }

    #[test]
    fn a_tight_turn_back_is_a_bulb_that_keeps_the_radius() {
        let curve = bend(&[[0.0, 0.0], [1.0, 0.0], [1.0, 0.15], [0.0, 0.15]], 0.08, 0.08);
        continuous(&curve);
        for s in &curve {
            if let Segment::Arc { radius_m, .. } = s {
                assert!((radius_m - 0.08).abs() < 1e-9);
            }
        }
        let p = points(&curve, 1e-4);
        let reach = p.iter().map(|q| q[0]).fold(0.0, f64::max);
        // points lie up to a sagitta off the crown
        assert!((reach - 1.0).abs() < 1.1e-4, "it ends where the plain turn would, {reach}");
        assert!(distance(*p.last().expect("points"), [0.0, 0.15]) < 1e-9);
    }

    #[test]
    fn a_small_shift_is_an_s() {
        let curve = bend(&[[0.0, 0.0], [1.0, 0.0], [1.0, 0.05], [2.0, 0.05]], 0.08, 0.08);
        continuous(&curve);
        assert_eq!(curve.iter().filter(|s| matches!(s, Segment::Arc { .. })).count(), 2);
        assert!(curve.iter().all(|s| !matches!(s, Segment::Arc { radius_m, .. } if *radius_m < 0.08 - 1e-9)));
        assert!(distance(*points(&curve, 1e-3).last().expect("points"), [2.0, 0.05]) < 1e-9);
    }

    #[test]
    fn no_room_gives_a_tighter_arc_not_a_broken_curve() {
        let curve = bend(&[[0.0, 0.0], [0.1, 0.0], [0.1, 0.1], [0.2, 0.1], [0.2, 0.0]], 0.08, 0.08);
        continuous(&curve);
        assert!(curve.iter().any(|s| matches!(s, Segment::Arc { radius_m, .. } if *radius_m < 0.08 - 1e-9)));
    }

    #[test]
    fn nothing_comes_of_nothing() {
        assert!(bend(&[], 0.1, 0.1).is_empty());
        assert!(bend(&[[1.0, 1.0], [1.0, 1.0]], 0.1, 0.1).is_empty());
        assert_eq!(straighten(&[[0.0, 0.0], [1.0, 0.0], [0.5, 0.0], [2.0, 0.0]]).len(), 2);
    }
}

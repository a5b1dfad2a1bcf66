//! Rooms as they are traced or measured: walls that are meant to be at right angles, and are so but for a few centimetres.
//! Such a room is laid as the room at right angles that lies within it, so that its runs are straight and its lines lie
//! on one lattice.
//!
//! ```
//! use fuoco_core::layout::fill::squared::squared;
//! let traced = [[0.01, -0.01], [4.02, 0.0], [3.99, 3.01], [-0.02, 2.98]];
//! let (outline, inward) = squared(&traced, [0.0, 1.0]).unwrap();
//! assert_eq!(outline, [[0.01, 0.0], [3.99, 0.0], [3.99, 2.98], [0.01, 2.98]]);
//! assert_eq!(inward, [0.0, 1.0]);
//! // a room that leans on purpose stays as it is
//! assert!(squared(&[[0.0, 0.0], [4.0, 0.6], [4.0, 3.0], [0.0, 3.0]], [-1.0, 0.0]).is_none());
//! ```

use crate::geometry::outline::{is_simple, sides, signed_area};
use crate::job::Point;
use std::f64::consts::FRAC_PI_2;

/// A wall whose ends differ by no more across its direction, m, is meant to be straight.
pub(crate) const OFF_M: f64 = 0.06;
/// And one that leans no more than this, as a slope.
const LEAN: f64 = 0.05;
/// The job's own axes are taken where they fit about as well as the walls' mean direction, m.
const SPARE_M: f64 = 0.03;

/// A wall in the turned axes.
#[derive(Clone, Copy)]
enum Line {
    /// Runs along y at this x.
    Upright(f64),
    /// Runs along x at this y.
    Level(f64),
    /// Leans.
    Leaning(Point, Point),
}

/// The outline with its near-square walls squared to the inside, and the direction into the room by a wall that it had
/// along `inward`. None where that changes nothing or too much.
pub fn squared(outline: &[Point], inward: Point) -> Option<(Vec<Point>, Point)> {
    let entry = fold(inward[1].atan2(inward[0]));
    let (mut sum, mut weight) = (0.0, 0.0);
    for (a, b) in sides(outline) {
        let (l, angle) = (crate::geometry::distance(a, b), (b[1] - a[1]).atan2(b[0] - a[0]));
        let off = fold(angle - entry);
        if off.abs() < LEAN {
            sum += l * off;
            weight += l;
        }
    }
    let mean = fold(entry + if weight > 0.0 { sum / weight } else { 0.0 });
    let by_mean = along(outline, mean);
    // lattices and keep-outs lie along the job's axes
    let by_axes = (mean.abs() < LEAN).then(|| along(outline, 0.0)).flatten();
    let (turn, (ring, most)) = match (by_axes, by_mean) {
        (Some(a), Some(m)) if a.1 > m.1 + SPARE_M => (mean, m),
        (Some(a), _) => (0.0, a),
        (None, m) => (mean, m?),
    };
    let exact = fold(turn - entry).abs() < 1e-9;
    if most < 1e-3 && exact {
        return None;
    }
    let quarters = ((inward[1].atan2(inward[0]) - turn) / FRAC_PI_2).round();
    let into = turn + quarters * FRAC_PI_2;
    let clean = |v: f64| if turn == 0.0 { v.round() } else { v };
    Some((ring, [clean(into.cos()), clean(into.sin())]))
}

/// An angle up to half a right angle either way.
fn fold(angle: f64) -> f64 {
    angle - (angle / FRAC_PI_2).round() * FRAC_PI_2
}

/// The outline squared along axes turned by `turn`, and by how much its walls moved at most, m.
fn along(outline: &[Point], turn: f64) -> Option<(Vec<Point>, f64)> {
    let (s, c) = turn.sin_cos();
    let local = |p: Point| [p[0] * c + p[1] * s, p[1] * c - p[0] * s];
    let global = |p: Point| if turn == 0.0 { p } else { [p[0] * c - p[1] * s, p[0] * s + p[1] * c] };
    let mut ring: Vec<Point> = outline.iter().map(|&p| local(p)).collect();
    let reversed = signed_area(&ring) < 0.0;
    if reversed {
        ring.reverse();
    }
    let mut most = 0.0f64;
    let mut lines: Vec<(Line, Point)> = Vec::new();
    let mut square_m = 0.0;
    for (a, b) in sides(&ring) {
        let (dx, dy) = (b[0] - a[0], b[1] - a[1]);
        let meant = |across: f64, run: f64| across.abs() <= OFF_M && across.abs() <= LEAN * run.abs().max(0.02);
        let line = if meant(dx, dy) {
            // the floor is on the left: a wall that runs up has it at lower x
            Line::Upright(if dy > 0.0 { a[0].min(b[0]) } else { a[0].max(b[0]) })
        } else if meant(dy, dx) {
            Line::Level(if dx > 0.0 { a[1].max(b[1]) } else { a[1].min(b[1]) })
        } else {
            Line::Leaning(a, b)
        };
        if !matches!(line, Line::Leaning(..)) {
            most = most.max(dx.abs().min(dy.abs()));
            square_m += dx.abs().max(dy.abs());
        }
        lines.push((line, a));
    }
    let all: f64 = sides(&ring).map(|(a, b)| crate::geometry::distance(a, b)).sum();
    if square_m < 0.5 * all {
        return None;
    }
    join_in_line(&mut lines, &ring);
    let n = lines.len();
    let mut out: Vec<Point> = Vec::new();
    for i in 0..n {
        let (before, (line, at)) = (lines[(i + n - 1) % n].0, lines[i]);
        match (before, line) {
            (Line::Upright(x), Line::Level(y)) | (Line::Level(y), Line::Upright(x)) => out.push([x, y]),
            (Line::Upright(x), Line::Upright(z)) => out.extend([[x, at[1]], [z, at[1]]]),
            (Line::Level(y), Line::Level(z)) => out.extend([[at[0], y], [at[0], z]]),
            (Line::Upright(x), Line::Leaning(a, b)) | (Line::Leaning(a, b), Line::Upright(x)) => {
                let t = (x - a[0]) / nonzero(b[0] - a[0])?;
                out.push([x, a[1] + (b[1] - a[1]) * t]);
            }
            (Line::Level(y), Line::Leaning(a, b)) | (Line::Leaning(a, b), Line::Level(y)) => {
                let t = (y - a[1]) / nonzero(b[1] - a[1])?;
                out.push([a[0] + (b[0] - a[0]) * t, y]);
            }
            (Line::Leaning(..), Line::Leaning(..)) => out.push(at),
        }
    }
    let out = crate::geometry::polygon::tidy(&out);
    let (was, is) = (signed_area(&ring), signed_area(&out));
    if !is_simple(&out) || is < 0.85 * was || is > was + 1e-6 + 0.01 * was {
        return None;
    }
    let mut out: Vec<Point> = out.into_iter().map(global).collect();
    if reversed {
        out.reverse();
    }
    Some((out, most))
}

/// Walls that follow each other on about one line become one.
fn join_in_line(lines: &mut Vec<(Line, Point)>, ring: &[Point]) {
    let mut i = 0;
    let ends: Vec<(Point, Point)> = sides(ring).collect();
    let runs_up = |k: usize| ends[k].1[1] > ends[k].0[1];
    let runs_right = |k: usize| ends[k].1[0] > ends[k].0[0];
    let mut of: Vec<usize> = (0..lines.len()).collect();
    while lines.len() > 4 && i < lines.len() {
        let next = (i + 1) % lines.len();
        let joint = match (lines[i].0, lines[next].0) {
            (Line::Upright(x), Line::Upright(z)) if (x - z).abs() <= OFF_M && runs_up(of[i]) == runs_up(of[next]) => {
                Some(Line::Upright(if runs_up(of[i]) { x.min(z) } else { x.max(z) }))
            }
            (Line::Level(y), Line::Level(z)) if (y - z).abs() <= OFF_M && runs_right(of[i]) == runs_right(of[next]) => {
                Some(Line::Level(if runs_right(of[i]) { y.max(z) } else { y.min(z) }))
            }
            _ => None,
        };
        match joint {
            Some(line) => {
                lines[i].0 = line;
                lines.remove(next);
                of.remove(next);
                i = i.min(lines.len() - 1);
            }
            None => i += 1,
        }
    }
}

fn nonzero(v: f64) -> Option<f64> {
    (v.abs() > 1e-3).then_some(v)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::geometry::outline::within;

    #[test]
    fn what_is_exact_stays_whichever_way_it_is_turned() {
        let l = [[0.0, 0.0], [6.0, 0.0], [6.0, 3.0], [3.0, 3.0], [3.0, 5.0], [0.0, 5.0]];
        assert!(squared(&l, [0.0, 1.0]).is_none());
        let turned: Vec<Point> = l.iter().map(|p| [p[0] * 0.8 - p[1] * 0.6, p[0] * 0.6 + p[1] * 0.8]).collect();
        assert!(squared(&turned, [-0.6, 0.8]).is_none());
    }

    #[test]
    fn a_traced_house_room_is_squared_within_itself() {
        let traced =
            [[0.013, -0.008], [3.1, 0.011], [6.02, -0.012], [5.985, 3.01], [3.02, 2.99], [2.99, 5.015], [-0.017, 4.98]];
        for turn in [0.0f64, 0.2, 1.9] {
            let (s, c) = turn.sin_cos();
            let turned: Vec<Point> = traced.iter().map(|p| [p[0] * c - p[1] * s, p[0] * s + p[1] * c]).collect();
            let (out, inward) = squared(&turned, [-s, c]).expect("squared");
            assert_eq!(out.len(), 6, "two walls in line become one: {out:?}");
            let lean = |(a, b): (Point, Point)| {
                let (x, y) = (
                    (b[0] - a[0]) * inward[0] + (b[1] - a[1]) * inward[1],
                    (b[0] - a[0]) * inward[1] - (b[1] - a[1]) * inward[0],
                );
                x.abs().min(y.abs())
            };
            assert!(sides(&out).all(|s| lean(s) < 1e-9), "{out:?}");
            assert!(signed_area(&out) > 0.97 * signed_area(&turned));
            // no corner lies outside of the walls by more than rounding
            let middle = |p: &Point| [0, 1].map(|k| p[k] + (turned[0][k].midpoint(turned[3][k]) - p[k]) * 1e-3);
            assert!(
                out.iter()
                    .all(|p| within(&turned, middle(p)) || crate::geometry::outline::to_sides(&turned, *p) < 0.02)
            );
        }
    }

    #[test]
    fn a_bay_keeps_its_slanting_walls() {
        let bay = [[0.0, 0.01], [6.0, 0.0], [5.99, 3.8], [5.0, 3.81], [4.0, 4.8], [2.6, 4.79], [1.6, 3.8], [0.01, 3.8]];
        let (out, _) = squared(&bay, [0.0, 1.0]).expect("squared");
        assert_eq!(out.len(), 8);
        assert_eq!((out[0], out[1]), ([0.01, 0.01], [5.99, 0.01]));
    }
}

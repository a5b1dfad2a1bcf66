//! Straights from one point to another.
//!
//! ```
//! use fuoco_core::geometry::segment::{foot, to_segment};
//! assert_eq!(to_segment([1.0, 2.0], [0.0, 0.0], [4.0, 0.0]), 2.0);
//! assert_eq!(foot([1.0, 2.0], [0.0, 0.0], [4.0, 0.0]), [1.0, 0.0]);
//! ```

use super::{Point, distance};

/// Distance of a point from a segment, m.
pub fn to_segment(p: Point, a: Point, b: Point) -> f64 {
    let d = [b[0] - a[0], b[1] - a[1]];
    let l2 = d[0] * d[0] + d[1] * d[1];
    let t = if l2 > 0.0 { (((p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1]) / l2).clamp(0.0, 1.0) } else { 0.0 };
    distance(p, [a[0] + d[0] * t, a[1] + d[1] * t])
}

/// Distance of two segments, m; 0 where they cross.
///
/// ```
/// use fuoco_core::geometry::segment::between_segments;
/// assert_eq!(between_segments([0.0, 0.0], [2.0, 0.0], [1.0, 0.5], [1.0, 3.0]), 0.5);
/// assert_eq!(between_segments([0.0, 0.0], [2.0, 0.0], [1.0, -1.0], [1.0, 1.0]), 0.0);
/// ```
pub fn between_segments(a: Point, b: Point, c: Point, d: Point) -> f64 {
    let side = |p: Point, q: Point, r: Point| (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
    if side(a, b, c) * side(a, b, d) < 0.0 && side(c, d, a) * side(c, d, b) < 0.0 {
        return 0.0;
    }
    to_segment(a, c, d).min(to_segment(b, c, d)).min(to_segment(c, a, b)).min(to_segment(d, a, b))
}

/// The place where two segments are nearest to each other: where they cross, or halfway between.
///
/// ```
/// use fuoco_core::geometry::segment::nearest_between;
/// assert_eq!(nearest_between([0.0, 0.0], [4.0, 0.0], [1.0, -1.0], [1.0, 3.0]), [1.0, 0.0]);
/// assert_eq!(nearest_between([0.0, 0.0], [4.0, 0.0], [3.0, 1.0], [3.0, 2.0]), [3.0, 0.5]);
/// ```
pub fn nearest_between(a: Point, b: Point, c: Point, d: Point) -> Point {
    let (u, v) = ([b[0] - a[0], b[1] - a[1]], [d[0] - c[0], d[1] - c[1]]);
    let cross = u[0] * v[1] - u[1] * v[0];
    if between_segments(a, b, c, d) == 0.0 && cross.abs() > 1e-12 {
        let t = ((c[0] - a[0]) * v[1] - (c[1] - a[1]) * v[0]) / cross;
        return [a[0] + u[0] * t, a[1] + u[1] * t];
    }
    let on = |p: Point, q: Point, r: Point| {
        let l = distance(q, r).max(1e-12);
        let t = ((p[0] - q[0]) * (r[0] - q[0]) + (p[1] - q[1]) * (r[1] - q[1])) / (l * l);
        [0, 1].map(|k| q[k] + (r[k] - q[k]) * t.clamp(0.0, 1.0))
    };
    let pairs = [(a, on(a, c, d)), (b, on(b, c, d)), (c, on(c, a, b)), (d, on(d, a, b))];
    let nearest = pairs.into_iter().min_by(|x, y| distance(x.0, x.1).total_cmp(&distance(y.0, y.1)));
    nearest.map_or(a, |(p, q)| [0, 1].map(|k| f64::midpoint(p[k], q[k])))
}

/// Whether the boxes round two segments lie at least `gap` m apart along an axis: then so do the segments. Cheap, for
/// asking before [`between_segments`].
///
/// ```
/// use fuoco_core::geometry::segment::boxes_apart;
/// assert!(boxes_apart([0.0, 0.0], [2.0, 0.0], [1.0, 0.5], [1.0, 3.0], 0.5));
/// assert!(!boxes_apart([0.0, 0.0], [2.0, 2.0], [1.0, 0.0], [3.0, 1.0], 0.1));
/// ```
pub fn boxes_apart(a: Point, b: Point, c: Point, d: Point, gap: f64) -> bool {
    (0..2).any(|k| c[k].min(d[k]) - a[k].max(b[k]) >= gap || a[k].min(b[k]) - c[k].max(d[k]) >= gap)
}

/// The foot of a point on a straight through two points.
pub fn foot(p: Point, a: Point, b: Point) -> Point {
    let l = distance(a, b).max(1e-12);
    let d = [(b[0] - a[0]) / l, (b[1] - a[1]) / l];
    let t = (p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1];
    [a[0] + d[0] * t, a[1] + d[1] * t]
}

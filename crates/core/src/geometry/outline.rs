//! A closed outline as the list of its corners, either way round.
//!
//! ```
//! use fuoco_core::geometry::outline::{bounds, is_simple, signed_area, within};
//! let l = [[0.0, 0.0], [6.0, 0.0], [6.0, 3.0], [3.0, 3.0], [3.0, 5.0], [0.0, 5.0]];
//! assert_eq!(signed_area(&l), 24.0);
//! assert_eq!(bounds(&l), [0.0, 0.0, 6.0, 5.0]);
//! assert!(is_simple(&l) && within(&l, [1.0, 4.0]) && !within(&l, [5.0, 4.0]));
//! ```

use super::segment::to_segment;
use super::{Point, distance};
use geo::{Coord, InteriorPoint, LineString, Polygon, Validation};

/// Shoelace area, positive for an anticlockwise outline, m².
pub fn signed_area(outline: &[Point]) -> f64 {
    let n = outline.len();
    (0..n)
        .map(|i| {
            let (p, q) = (outline[i], outline[(i + 1) % n]);
            p[0] * q[1] - q[0] * p[1]
        })
        .sum::<f64>()
        / 2.0
}

/// Whether the point lies within the outline (even–odd rule).
pub fn within(outline: &[Point], p: Point) -> bool {
    let n = outline.len();
    let mut inside = false;
    for i in 0..n {
        let (a, b) = (outline[i], outline[(i + 1) % n]);
        if (a[1] > p[1]) != (b[1] > p[1]) && p[0] < (b[0] - a[0]) * (p[1] - a[1]) / (b[1] - a[1]) + a[0] {
            inside = !inside;
        }
    }
    inside
}

/// The box round some points: least x, least y, greatest x, greatest y; of no points one turned inside out.
pub fn bounds(outline: &[Point]) -> [f64; 4] {
    outline.iter().fold([f64::MAX, f64::MAX, f64::MIN, f64::MIN], |b, p| {
        [b[0].min(p[0]), b[1].min(p[1]), b[2].max(p[0]), b[3].max(p[1])]
    })
}

/// Whether the box round some points comes within `reach` of another box, m.
pub fn comes_near(points: &[Point], [x0, y0, x1, y1]: [f64; 4], reach: f64) -> bool {
    let [a0, b0, a1, b1] = bounds(points);
    a0 < x1 + reach && a1 > x0 - reach && b0 < y1 + reach && b1 > y0 - reach
}

/// The outline as a polygon of the crate `geo`.
pub fn polygon(outline: &[Point]) -> Polygon {
    Polygon::new(LineString::from(outline.iter().map(|p| Coord { x: p[0], y: p[1] }).collect::<Vec<_>>()), vec![])
}

/// Whether these corners are a simple polygon with an area.
pub fn is_simple(outline: &[Point]) -> bool {
    outline.len() >= 3 && signed_area(outline).abs() > 1e-6 && polygon(outline).is_valid()
}

/// A point inside an outline, as far from its walls as is easily had: where a name can stand.
pub fn inner_point(outline: &[Point]) -> Point {
    polygon(outline).interior_point().map_or_else(|| outline.first().copied().unwrap_or_default(), |p| [p.x(), p.y()])
}

/// Distance of a point from the nearest side of an outline, m.
pub fn to_sides(outline: &[Point], p: Point) -> f64 {
    sides(outline).map(|(a, b)| to_segment(p, a, b)).fold(f64::INFINITY, f64::min)
}

/// Whether a point lies in a convex quadrangle or on its rim, whichever way round its corners are listed.
pub fn in_quadrangle(quad: &[Point; 4], p: Point) -> bool {
    let turns = [0, 1, 2, 3].map(|i| {
        let (a, b) = (quad[i], quad[(i + 1) % 4]);
        (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])
    });
    turns.iter().all(|&s| s >= -1e-9) || turns.iter().all(|&s| s <= 1e-9)
}

/// The sides of an outline in order.
pub fn sides(outline: &[Point]) -> impl Iterator<Item = (Point, Point)> + '_ {
    (0..outline.len()).map(move |i| (outline[i], outline[(i + 1) % outline.len()]))
}

/// The side nearest to a point: its place in the outline, the foot, the distance.
pub fn nearest(outline: &[Point], p: Point) -> Option<(usize, Point, f64)> {
    let n = outline.len();
    (0..n)
        .map(|i| {
            let (a, b) = (outline[i], outline[(i + 1) % n]);
            let (dx, dy) = (b[0] - a[0], b[1] - a[1]);
            let l2 = (dx * dx + dy * dy).max(1e-18);
            let t = (((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / l2).clamp(0.0, 1.0);
            let foot = [a[0] + dx * t, a[1] + dy * t];
            (i, foot, distance(p, foot))
        })
        .min_by(|x, y| x.2.total_cmp(&y.2))
}

/// Corners to a tenth of a millimetre, without those that fall together or lie on a straight wall.
pub fn clean(points: Vec<Point>) -> Vec<Point> {
    let mut out: Vec<Point> = points.iter().map(|p| p.map(|v| (v * 1e4).round() / 1e4)).collect();
    loop {
        let n = out.len();
        let needless = (0..n).find(|&i| {
            let (p, c, q) = (out[(i + n - 1) % n], out[i], out[(i + 1) % n]);
            let cross = (c[0] - p[0]) * (q[1] - p[1]) - (c[1] - p[1]) * (q[0] - p[0]);
            distance(p, c) < 3e-4 || cross.abs() / distance(p, q).max(1e-9) < 3e-4
        });
        match needless {
            Some(i) if n > 3 => drop(out.remove(i)),
            _ => return out,
        }
    }
}

/// The part of a polygon where a linear function is not negative (Sutherland and Hodgman). For a polygon that falls
/// apart the pieces stay joined by lines without area, which neither area nor centroid feel.
pub fn clip(polygon: &[Point], keep: impl Fn(Point) -> f64) -> Vec<Point> {
    let mut out = Vec::with_capacity(polygon.len() + 2);
    for (i, &p) in polygon.iter().enumerate() {
        let q = polygon[(i + 1) % polygon.len()];
        let (f, g) = (keep(p), keep(q));
        if f >= 0.0 {
            out.push(p);
        }
        if (f >= 0.0) != (g >= 0.0) {
            let t = f / (f - g);
            out.push([p[0] + (q[0] - p[0]) * t, p[1] + (q[1] - p[1]) * t]);
        }
    }
    out
}

/// Area (never negative) and centroid of a polygon.
pub fn moments(polygon: &[Point]) -> (f64, Point) {
    let (mut area, mut x, mut y) = (0.0, 0.0, 0.0);
    let Some(&origin) = polygon.first() else { return (0.0, [0.0, 0.0]) };
    for i in 0..polygon.len() {
        let (p, q) = (polygon[i], polygon[(i + 1) % polygon.len()]);
        let (p, q) = ([p[0] - origin[0], p[1] - origin[1]], [q[0] - origin[0], q[1] - origin[1]]);
        let cross = p[0] * q[1] - q[0] * p[1];
        area += cross / 2.0;
        x += (p[0] + q[0]) * cross / 6.0;
        y += (p[1] + q[1]) * cross / 6.0;
    }
    if area.abs() < 1e-12 { (0.0, origin) } else { (area.abs(), [origin[0] + x / area, origin[1] + y / area]) }
}

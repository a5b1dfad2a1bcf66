//! Points of an even grid near straights.
//!
//! ```
//! use fuoco_core::geometry::raster::within_reach;
//! // points 0.5 m apart, a straight along the lowest row
//! let warm = within_reach([0.0, 0.0], [3, 3], 0.5, &[[[0.0, 0.0], [1.0, 0.0]]], 0.6);
//! assert_eq!(warm, [true, true, true, true, true, true, false, false, false]);
//! ```

use super::Point;
use super::segment::to_segment;

/// Which points of a raster (row by row from `lo`, `step` apart) lie within reach of any of some stretches.
pub fn within_reach(lo: Point, size: [usize; 2], step: f64, near: &[[Point; 2]], reach: f64) -> Vec<bool> {
    let mut warm = vec![false; size[0] * size[1]];
    for w in near {
        beside(lo, size, step, w, reach, |at, p| warm[at] = warm[at] || to_segment(p, w[0], w[1]) <= reach);
    }
    warm
}

/// How far the points of a raster are from the nearest of some stretches, m; infinite well beyond reach.
pub fn distances(lo: Point, size: [usize; 2], step: f64, near: &[[Point; 2]], reach: f64) -> Vec<f64> {
    let mut out = vec![f64::INFINITY; size[0] * size[1]];
    for w in near {
        beside(lo, size, step, w, reach, |at, p| out[at] = to_segment(p, w[0], w[1]).min(out[at]));
    }
    out
}

/// The points of a raster, with their numbers, in the box of a stretch grown by `reach`.
fn beside(lo: Point, size: [usize; 2], step: f64, w: &[Point; 2], reach: f64, mut each: impl FnMut(usize, Point)) {
    let low = |k: usize| (((w[0][k].min(w[1][k]) - reach - lo[k]) / step).ceil()).max(0.0) as usize;
    let high = |k: usize| (((w[0][k].max(w[1][k]) + reach - lo[k]) / step).floor()).min(size[k] as f64 - 1.0);
    if high(0) < 0.0 || high(1) < 0.0 {
        return;
    }
    for j in low(1)..=high(1) as usize {
        for i in low(0)..=high(0) as usize {
            each(j * size[0] + i, [lo[0] + i as f64 * step, lo[1] + j as f64 * step]);
        }
    }
}

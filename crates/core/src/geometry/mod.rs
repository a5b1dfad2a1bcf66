//! Plane geometry: all of it that the crate needs, in metres, x to the right and y upward.
//!
//! | file | what |
//! |---|---|
//! | [`segment`] | distances of points and straights |
//! | [`outline`] | one closed outline as a list of corners: area, inside, bounds, cleaning, cutting by a line |
//! | [`polygon`] | regions: insets, parts, boundaries measured along, areas that outlines share |
//! | [`raster`] | points of an even grid near straights |
//!
//! Union, difference, intersection and validity come from the crate `geo`. What stands here as plain loops over corners does
//! so where it is asked hundreds of thousands of times in a design and building a `geo` polygon for it would cost more than
//! the answer: distances, the point-in-outline test, the overlap of rectangles.
//!
//! ```
//! use fuoco_core::geometry::{distance, midpoint};
//! assert_eq!(distance([0.0, 0.0], [3.0, 4.0]), 5.0);
//! assert_eq!(midpoint([0.0, 0.0], [3.0, 4.0]), [1.5, 2.0]);
//! ```

pub mod outline;
pub mod polygon;
pub mod raster;
pub mod segment;

/// A point on the plan of a level: metres, x to the right, y upward.
pub type Point = [f64; 2];

/// Distance of two points, m.
pub fn distance(a: Point, b: Point) -> f64 {
    // plain root: `hypot` guards against overflow, which plans do not reach, at several times the cost
    let (dx, dy) = (a[0] - b[0], a[1] - b[1]);
    (dx * dx + dy * dy).sqrt()
}

/// The point midway between two.
pub fn midpoint(a: Point, b: Point) -> Point {
    [f64::midpoint(a[0], b[0]), f64::midpoint(a[1], b[1])]
}

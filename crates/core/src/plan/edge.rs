//! The walls of a room in order: straights with the inside on their left, whichever way round the outline was drawn.
//!
//! ```
//! use fuoco_core::plan::edge::edges;
//! use fuoco_core::samples::box_room;
//! let walls = edges(&box_room("a", 0.0, 0.0, 5.0, 4.0));
//! assert_eq!((walls.len(), walls[1].length()), (4, 4.0));
//! // the inside is on the left
//! assert_eq!((walls[0].direction(), walls[0].inward()), ([1.0, 0.0], [0.0, 1.0]));
//! ```

use crate::geometry::outline::signed_area;
use crate::geometry::{Point, distance};
use crate::job::Room;

/// One straight wall of a room, with the inside on the left of `a → b`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Edge {
    /// Index of the wall in the job's outline.
    pub index: usize,
    /// Where the wall starts, m.
    pub a: Point,
    /// Where it ends, m.
    pub b: Point,
    /// True when the job's outline runs clockwise, so that `a` is the outline's later corner.
    pub reversed: bool,
}

impl Edge {
    /// Length, m.
    pub fn length(&self) -> f64 {
        distance(self.a, self.b)
    }

    /// Unit vector from `a` to `b`; zero for a wall without length.
    pub fn direction(&self) -> Point {
        let l = self.length();
        if l > 0.0 { [(self.b[0] - self.a[0]) / l, (self.b[1] - self.a[1]) / l] } else { [0.0, 0.0] }
    }

    /// Unit vector into the room.
    pub fn inward(&self) -> Point {
        let d = self.direction();
        [-d[1], d[0]]
    }

    /// The point at `s` metres from `a`.
    pub fn at(&self, s: f64) -> Point {
        let d = self.direction();
        [self.a[0] + d[0] * s, self.a[1] + d[1] * s]
    }

    /// Turns a stretch measured from the outline's own first corner of this wall into one measured from `a`.
    pub fn stretch(&self, offset_m: f64, width_m: f64) -> (f64, f64) {
        if self.reversed {
            let l = self.length();
            (l - offset_m - width_m, l - offset_m)
        } else {
            (offset_m, offset_m + width_m)
        }
    }
}

/// The room's walls, anticlockwise.
pub fn edges(room: &Room) -> Vec<Edge> {
    let n = room.outline.len();
    let clockwise = signed_area(&room.outline) < 0.0;
    let mut edges: Vec<Edge> = (0..n)
        .map(|i| {
            let (p, q) = (room.outline[i], room.outline[(i + 1) % n]);
            if clockwise {
                Edge { index: i, a: q, b: p, reversed: true }
            } else {
                Edge { index: i, a: p, b: q, reversed: false }
            }
        })
        .collect();
    if clockwise {
        edges.reverse();
    }
    edges
}

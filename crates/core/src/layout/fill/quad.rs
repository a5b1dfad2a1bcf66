//! Rooms of four walls that are not at right angles, laid as a rectangle: lines from wall to opposite wall, evenly divided
//! on each (a bilinear map). Straight lines along the rectangle's sides stay straight, and run along the room's walls.
//!
//! The rectangle is made so small that no distance shrinks on the way back: what keeps clear in it keeps clear in the room.
//!
//! ```
//! use fuoco_core::layout::fill::quad::Quad;
//! let room = [[0.0, 0.0], [4.0, 0.0], [4.3, 3.0], [0.2, 3.2]];
//! let quad = Quad::of(&room, [2.0, 0.0]).unwrap();
//! let p = quad.to_rectangle([2.0, 1.5]);
//! let back = quad.to_room(p);
//! assert!((back[0] - 2.0).abs() < 1e-9 && (back[1] - 1.5).abs() < 1e-9);
//! assert!(quad.scale() > 1.0 && quad.scale() < 1.2);
//! ```

use crate::geometry::segment::to_segment;
use crate::geometry::{distance, outline, polygon};
use crate::job::Point;

/// Corners may be so far from right angles, as the sine of the angle between the walls at least (20°).
const LEAST_SINE: f64 = 0.94;
/// Opposite walls may differ so much, as the shorter over the longer.
const LEAST_RATIO: f64 = 0.7;
/// So many steps of Newton's method find a point to rounding; it converges in three or four.
const STEPS: usize = 12;

/// A room of four walls and the rectangle it is laid as.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Quad {
    /// Corners anticlockwise from the left end of the wall with the entry, m.
    corners: [Point; 4],
    /// Width along that wall and depth of the rectangle, m.
    size: [f64; 2],
}

impl Quad {
    /// Of a room's outline with its entry on one of the walls; none where the room has not four walls or leans too much.
    pub fn of(room: &[Point], entry: Point) -> Option<Quad> {
        let mut ring = polygon::tidy(room);
        if outline::signed_area(&ring) < 0.0 {
            ring.reverse();
        }
        let [_, _, _, _] = ring[..] else { return None };
        let side = |i: usize| (ring[i % 4], ring[(i + 1) % 4]);
        let off = |i: &usize| to_segment(entry, side(*i).0, side(*i).1);
        let first = (0..4).min_by(|a, b| off(a).total_cmp(&off(b)))?;
        let corners = [0, 1, 2, 3].map(|k| ring[(first + k) % 4]);
        let length = |k: usize| distance(corners[k % 4], corners[(k + 1) % 4]);
        let sine = (0..4)
            .map(|k| {
                let (a, b, c) = (corners[k], corners[(k + 1) % 4], corners[(k + 2) % 4]);
                ((b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0])) / (length(k) * length(k + 1)).max(1e-9)
            })
            .fold(f64::INFINITY, f64::min);
        let ratio = |k: usize| length(k).min(length(k + 2)) / length(k).max(length(k + 2)).max(1e-9);
        if sine < LEAST_SINE || ratio(0).min(ratio(1)) < LEAST_RATIO {
            return None;
        }
        let size = [length(0).min(length(2)) * sine, length(1).min(length(3)) * sine];
        Some(Quad { corners, size })
    }

    /// Metres of the room in a metre of the rectangle, on average; at least 1.
    pub fn scale(&self) -> f64 {
        (outline::signed_area(&self.corners) / (self.size[0] * self.size[1])).sqrt()
    }

    /// A point of the rectangle in the room.
    pub fn to_room(&self, p: Point) -> Point {
        let [u, v] = [p[0] / self.size[0], p[1] / self.size[1]];
        let [a, b, c, d] = self.corners;
        [0, 1].map(|k| (1.0 - v) * ((1.0 - u) * a[k] + u * b[k]) + v * ((1.0 - u) * d[k] + u * c[k]))
    }

    /// A point of the room in the rectangle.
    pub fn to_rectangle(&self, p: Point) -> Point {
        let [a, b, c, d] = self.corners;
        let (mut u, mut v) = (0.5, 0.5);
        for _ in 0..STEPS {
            let at = self.to_room([u * self.size[0], v * self.size[1]]);
            let miss = [p[0] - at[0], p[1] - at[1]];
            let along = [0, 1].map(|k| (1.0 - v) * (b[k] - a[k]) + v * (c[k] - d[k]));
            let up = [0, 1].map(|k| (1.0 - u) * (d[k] - a[k]) + u * (c[k] - b[k]));
            let area = along[0] * up[1] - along[1] * up[0];
            if area.abs() < 1e-12 {
                break;
            }
            u += (miss[0] * up[1] - miss[1] * up[0]) / area;
            v += (along[0] * miss[1] - along[1] * miss[0]) / area;
        }
        [u * self.size[0], v * self.size[1]]
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const ROOM: [Point; 4] = [[0.0, 0.0], [5.0, 0.3], [5.4, 4.0], [-0.2, 4.4]];

    #[test]
    fn walls_go_to_walls_and_back() {
        let quad = Quad::of(&ROOM, [2.5, 0.15]).expect("four walls");
        for i in 0..4 {
            let (a, b) = (ROOM[i], ROOM[(i + 1) % 4]);
            for t in [0.0, 0.2, 0.9, 1.0] {
                let p = [0, 1].map(|k| a[k] + (b[k] - a[k]) * t);
                let q = quad.to_rectangle(p);
                let on = [q[0], q[0] - quad.size[0], q[1], q[1] - quad.size[1]];
                assert!(on.iter().any(|v| v.abs() < 1e-9), "{q:?}");
                assert!(distance(quad.to_room(q), p) < 1e-9);
            }
        }
        // beyond the walls too, where tubes come in
        let out = [2.4, -0.12];
        assert!(distance(quad.to_room(quad.to_rectangle(out)), out) < 1e-9);
    }

    /// Clearances that hold in the rectangle hold in the room.
    #[test]
    fn no_distance_shrinks_on_the_way_back() {
        let quad = Quad::of(&ROOM, [2.5, 0.15]).expect("four walls");
        let [w, h] = quad.size;
        for i in 0..10 {
            for j in 0..10 {
                let p = [w * f64::from(i) / 10.0, h * f64::from(j) / 10.0];
                for turn in 0..16 {
                    let (s, c) = (f64::from(turn) * 0.4).sin_cos();
                    let q = [p[0] + 0.05 * c, p[1] + 0.05 * s];
                    let long = distance(quad.to_room(p), quad.to_room(q));
                    // along a diagonal a little: its shear is within what the sine allows
                    assert!(long > 0.05 * 0.9 && long < 0.05 * 1.45, "{long}");
                    if turn == 0 {
                        assert!(long >= 0.05 * (1.0 - 1e-6));
                    }
                }
            }
        }
    }

    #[test]
    fn what_is_no_quadrangle_or_leans_too_much_stays() {
        assert!(Quad::of(&[[0.0, 0.0], [4.0, 0.0], [0.0, 3.0]], [1.0, 0.0]).is_none());
        assert!(Quad::of(&[[0.0, 0.0], [4.0, 0.0], [6.0, 3.0], [0.0, 3.0]], [1.0, 0.0]).is_none());
        // a corner on a straight wall is none
        let five = [[0.0, 0.0], [2.0, 0.1], [4.0, 0.2], [4.1, 3.0], [0.0, 3.3]];
        assert!(Quad::of(&five, [1.0, 0.05]).is_some());
    }
}

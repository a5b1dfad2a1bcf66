//! Floor areas of a room, and whether its outline is one.
//!
//! ```
//! use fuoco_core::plan::areas::{area, heatable_area, is_simple};
//! use fuoco_core::samples::{box_room, cabinet};
//! let mut kitchen = box_room("k", 0.0, 0.0, 5.0, 4.0);
//! kitchen.keep_outs.push(cabinet("units", 0.0, 0.0, 3.0, 0.6));
//! assert!(is_simple(&kitchen));
//! assert_eq!(area(&kitchen), 20.0);
//! // no tube within the walls' clearance nor under the cabinets
//! assert!(heatable_area(&kitchen) < 20.0 - 3.0 * 0.6);
//! ```

use crate::geometry::outline::{self, polygon, signed_area};
use crate::job::{KeepOut, Room};
use geo::{Area, BooleanOps, Coord, MultiPolygon, Rect};

/// Whether the outline is a simple polygon with an area.
pub fn is_simple(room: &Room) -> bool {
    outline::is_simple(&room.outline)
}

/// Floor area within the outline, m².
pub fn area(room: &Room) -> f64 {
    signed_area(&room.outline).abs()
}

/// Floor area that can hold tube: without the keep-outs themselves, m². Zero for a self-crossing outline.
pub fn heatable_area(room: &Room) -> f64 {
    if !is_simple(room) {
        return 0.0;
    }
    let mut free = MultiPolygon::new(vec![polygon(&room.outline)]);
    for k in &room.keep_outs {
        free = free.difference(&rectangle(k, 0.0).to_polygon());
    }
    free.unsigned_area()
}

fn rectangle(k: &KeepOut, grow: f64) -> Rect {
    Rect::new(Coord { x: k.x0_m - grow, y: k.y0_m - grow }, Coord { x: k.x1_m + grow, y: k.y1_m + grow })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::samples::box_room;

    #[test]
    fn keep_outs_count_once_where_they_overlap_and_not_beyond_the_wall() {
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        room.keep_outs.push(crate::samples::cabinet("k1", 0.0, 0.0, 1.0, 1.0));
        room.keep_outs.push(crate::samples::cabinet("k2", 0.5, 0.0, 1.5, 1.0));
        room.keep_outs.push(crate::samples::cabinet("k3", 4.5, 3.0, 6.0, 5.0));
        assert!((heatable_area(&room) - (20.0 - 1.5 - 0.5)).abs() < 1e-6);
    }

    #[test]
    fn a_self_crossing_outline_is_noticed() {
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        assert!(is_simple(&room));
        room.outline.swap(1, 2);
        assert!(!is_simple(&room));
        assert_eq!(heatable_area(&room), 0.0);
    }
}

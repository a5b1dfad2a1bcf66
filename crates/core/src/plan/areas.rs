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

use crate::geometry::Point;
use crate::geometry::outline::{self, polygon, signed_area};
use crate::job::{KeepOut, Room};
use geo::algorithm::buffer::{BufferStyle, LineCap, LineJoin};
use geo::{Area, BooleanOps, Buffer, Coord, LineString, MultiLineString, MultiPolygon, Rect};

/// Steps of the arcs at the ends of a band, as an angle: a zone is known to a few square centimetres.
const ARC: f64 = 0.2;

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
    free(room).unsigned_area()
}

/// The floor without the keep-outs.
fn free(room: &Room) -> MultiPolygon {
    let mut free = MultiPolygon::new(vec![polygon(&room.outline)]);
    for k in &room.keep_outs {
        free = free.difference(&rectangle(k, 0.0).to_polygon());
    }
    free
}

/// Of the floor that can hold tube, what lies within `band_m` of those stretches of wall, m².
pub fn area_along(room: &Room, walls: &[[Point; 2]], band_m: f64) -> f64 {
    if band_m <= 0.0 || walls.is_empty() {
        return 0.0;
    }
    let lines = walls.iter().map(|w| LineString::from(w.iter().map(|p| (p[0], p[1])).collect::<Vec<_>>()));
    let style = BufferStyle::new(band_m).line_cap(LineCap::Round(ARC)).line_join(LineJoin::Round(ARC));
    let near = MultiLineString::new(lines.collect()).buffer_with_style(style);
    free(room).intersection(&near).unsigned_area()
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

    /// 5 × 4 m, two cold walls that meet, a band of 0.8 m: 9 · 0.8 − 0.8² in the corner; a cabinet 3 m long and 0.6 m deep
    /// along the longer one leaves 0.2 m before it.
    #[test]
    fn the_perimeter_zone_counts_its_corner_once_and_no_cabinet() {
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        let walls = [[[0.0, 0.0], [5.0, 0.0]], [[0.0, 4.0], [0.0, 0.0]]];
        assert!((area_along(&room, &walls, 0.8) - 6.56).abs() < 0.01);
        room.keep_outs.push(crate::samples::cabinet("k", 1.0, 0.0, 4.0, 0.6));
        assert!((area_along(&room, &walls, 0.8) - 4.76).abs() < 0.01);
        // half a wall: the zone ends in a quarter circle
        let half = [[[0.0, 4.0], [0.0, 2.0]]];
        let quarter = std::f64::consts::PI / 4.0 * 0.64;
        assert!((area_along(&room, &half, 0.8) - (1.6 + quarter)).abs() < 0.01);
        assert_eq!(area_along(&room, &[], 0.8), 0.0);
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

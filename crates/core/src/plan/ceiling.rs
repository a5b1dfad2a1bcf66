//! Rooms under a pitched roof: the clear height is the least of the flat ceiling and the planes of the slopes. Areas
//! and volumes are exact: the outline is cut along the lines where one plane gives way to another, and a plane
//! over a polygon integrates to the area times its height at the centroid.
//!
//! ```
//! use fuoco_core::plan::{ceiling::Ceiling, edge::edges};
//! use fuoco_core::samples::box_room;
//! let room = box_room("loft", 0.0, 0.0, 5.0, 4.0);
//! let ceiling = Ceiling::of(&room, &edges(&room));
//! assert!(ceiling.is_flat());
//! assert!((ceiling.volume() - 20.0 * ceiling.height_at([2.5, 2.0])).abs() < 1e-9);
//! ```

use super::edge::Edge;
use crate::geometry::outline::clip;
use crate::geometry::outline::moments;
use crate::job::{Point, Room};

/// A plane of the ceiling: height over the floor is `x·a + y·b + c`.
#[derive(Debug, Clone, Copy)]
struct Plane {
    a: f64,
    b: f64,
    c: f64,
    /// Area of the plane over its area on the plan.
    stretch: f64,
    edge: Option<usize>,
}

impl Plane {
    fn at(&self, p: Point) -> f64 {
        self.a * p[0] + self.b * p[1] + self.c
    }
}

/// The underside of a room's ceiling.
#[derive(Debug, Clone)]
pub struct Ceiling {
    planes: Vec<Plane>,
    outline: Vec<Point>,
}

impl Ceiling {
    /// The ceiling of a room. Slopes on walls without length are left out.
    pub fn of(room: &Room, walls: &[Edge]) -> Ceiling {
        let mut planes = vec![Plane { a: 0.0, b: 0.0, c: room.height_m, stretch: 1.0, edge: None }];
        for slope in &room.slopes {
            let Some(wall) = walls.iter().find(|w| w.index == slope.edge && w.length() > 0.0) else { continue };
            let (n, pitch) = (wall.inward(), slope.pitch_deg.to_radians());
            let (a, b) = (n[0] * pitch.tan(), n[1] * pitch.tan());
            let c = slope.knee_m - a * wall.a[0] - b * wall.a[1];
            planes.push(Plane { a, b, c, stretch: 1.0 / pitch.cos(), edge: Some(slope.edge) });
        }
        Ceiling { planes, outline: walls.iter().map(|w| w.a).collect() }
    }

    /// Whether the ceiling is flat all over.
    pub fn is_flat(&self) -> bool {
        self.planes.len() == 1
    }

    /// Clear height over a point, m; never negative.
    pub fn height_at(&self, p: Point) -> f64 {
        self.planes.iter().map(|f| f.at(p)).fold(f64::MAX, f64::min).max(0.0)
    }

    /// Plan area, centroid-weighted height and true area of each plane: `(wall of the slope, plan m², m³, roof m²)`,
    /// the flat part first.
    pub fn parts(&self) -> Vec<(Option<usize>, f64, f64, f64)> {
        self.planes
            .iter()
            .enumerate()
            .map(|(k, plane)| {
                let mut region = self.outline.clone();
                for (j, other) in self.planes.iter().enumerate() {
                    if j != k {
                        // where two planes are the same the first has it
                        let tie = if j < k { -1e-12 } else { 0.0 };
                        region = clip(&region, |p| other.at(p) - plane.at(p) + tie);
                    }
                }
                region = clip(&region, |p| plane.at(p));
                let (area, centroid) = moments(&region);
                (plane.edge, area, area * plane.at(centroid).max(0.0), area * plane.stretch)
            })
            .collect()
    }

    /// Volume, m³.
    pub fn volume(&self) -> f64 {
        self.parts().iter().map(|p| p.2).sum()
    }

    /// Wall area between `from` and `to` metres along a wall and between two heights over the floor, m².
    pub fn wall_area(&self, wall: &Edge, from: f64, to: f64, low: f64, high: f64) -> f64 {
        if self.is_flat() {
            return (to - from).max(0.0) * (high.min(self.planes[0].c) - low).max(0.0);
        }
        // along a wall every plane is a line in s; the area lies under the least of them, kept within low and high
        let lines: Vec<(f64, f64)> = self
            .planes
            .iter()
            .map(|f| {
                let (h0, h1) = (f.at(wall.at(from)), f.at(wall.at(to)));
                (h0, h1)
            })
            .chain([(low, low), (high, high)])
            .collect();
        let mut cuts = vec![0.0, 1.0];
        for (i, p) in lines.iter().enumerate() {
            for q in &lines[..i] {
                let slope = (p.1 - p.0) - (q.1 - q.0);
                let t = (q.0 - p.0) / slope;
                if slope.abs() > 1e-12 && t > 0.0 && t < 1.0 {
                    cuts.push(t);
                }
            }
        }
        cuts.sort_by(f64::total_cmp);
        let n = self.planes.len();
        let height = |t: f64| {
            let h = lines[..n].iter().map(|l| l.0 + (l.1 - l.0) * t).fold(f64::MAX, f64::min);
            h.clamp(low, high.max(low)) - low
        };
        let length = (to - from).max(0.0);
        cuts.windows(2).map(|c| (c[1] - c[0]) * (height(c[0]) + height(c[1])) / 2.0).sum::<f64>() * length
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::job::Slope;
    use crate::plan::edges;
    use crate::samples::box_room;

    fn of(room: &Room) -> Ceiling {
        Ceiling::of(room, &edges(room))
    }

    /// 6 × 4 m, flat ceiling 2.4 m, one slope of 45° from a knee of 1.0 m at the south wall: the slope reaches the
    /// ceiling after 1.4 m. Volume 6·(1.4·1.7 + 2.6·2.4) = 51.72 m³; slope 6·1.4·√2 = 11.8794 m².
    fn attic() -> Room {
        let mut room = box_room("a", 0.0, 0.0, 6.0, 4.0);
        room.height_m = 2.4;
        room.slopes.push(Slope { edge: 0, knee_m: 1.0, pitch_deg: 45.0 });
        room
    }

    #[test]
    fn an_attic_by_hand() {
        let ceiling = of(&attic());
        assert!((ceiling.volume() - 51.72).abs() < 1e-9);
        let parts = ceiling.parts();
        assert!((parts[0].1 - 15.6).abs() < 1e-9, "flat part");
        assert!((parts[1].3 - 6.0 * 1.4 * 2.0_f64.sqrt()).abs() < 1e-9, "slope");
        let walls = edges(&attic());
        let area = |i: usize| ceiling.wall_area(&walls[i], 0.0, walls[i].length(), 0.0, 9.0);
        assert!((area(0) - 6.0).abs() < 1e-9, "knee wall");
        assert!((area(1) - (1.4 * 1.7 + 2.6 * 2.4)).abs() < 1e-9, "gable");
        assert!((area(2) - 14.4).abs() < 1e-9, "high wall");
        // above 1.7 m on the gable: triangle 0.7 · 0.7 / 2 and 2.6 · 0.7
        assert!((ceiling.wall_area(&walls[1], 0.0, 4.0, 1.7, 9.0) - (0.245 + 1.82)).abs() < 1e-9);
    }

    #[test]
    fn two_slopes_meet_in_a_ridge() {
        let mut room = attic();
        room.height_m = 6.0;
        room.slopes.push(Slope { edge: 2, knee_m: 1.0, pitch_deg: 45.0 });
        let ceiling = of(&room);
        assert!((ceiling.height_at([3.0, 2.0]) - 3.0).abs() < 1e-9);
        assert!((ceiling.volume() - 6.0 * 4.0 * 2.0).abs() < 1e-9);
        let parts = ceiling.parts();
        assert!(parts[0].1 < 1e-9, "nothing flat is left");
        assert!((parts.iter().map(|p| p.1).sum::<f64>() - 24.0).abs() < 1e-9, "the planes cover the floor");
    }

    #[test]
    fn the_same_slope_twice_covers_the_floor_once() {
        let mut room = attic();
        room.outline = vec![[0.0, 0.0], [3.0, 0.0], [6.0, 0.0], [6.0, 4.0], [0.0, 4.0]];
        room.slopes.push(Slope { edge: 1, knee_m: 1.0, pitch_deg: 45.0 });
        let parts = of(&room).parts();
        assert!((parts.iter().map(|p| p.1).sum::<f64>() - 24.0).abs() < 1e-6);
    }

    #[test]
    fn a_flat_ceiling_is_height_times_length() {
        let room = box_room("a", 0.0, 0.0, 6.0, 4.0);
        let ceiling = of(&room);
        assert!(ceiling.is_flat());
        assert!((ceiling.volume() - 60.0).abs() < 1e-9);
        assert!((ceiling.wall_area(&edges(&room)[0], 1.0, 3.0, 0.5, 9.0) - 4.0).abs() < 1e-9);
    }
}

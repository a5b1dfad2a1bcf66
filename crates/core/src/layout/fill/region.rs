//! The free floor of one room in a frame of its own: the wall by which the leaders come in lies at the bottom,
//! the room above it.
//!
//! ```
//! use fuoco_core::layout::fill::region::{Frame, is_square};
//! // leaders come in by the east wall
//! let frame = Frame::new([-1.0, 0.0]);
//! let p = frame.local([3.0, 1.0]);
//! assert_eq!(frame.global(p), [3.0, 1.0]);
//! assert!(is_square(&[[0.0, 0.0], [4.0, 0.0], [4.0, 3.0], [0.0, 3.0]]) && !is_square(&[[0.0, 0.0], [4.0, 1.0], [0.0, 3.0]]));
//! ```

use crate::geometry::distance;
use crate::geometry::outline;
use crate::geometry::polygon as shape;
use crate::geometry::segment;
use crate::geometry::segment::between_segments;
use crate::job::{KeepOut, Point};
use crate::layout::fill::quad::Quad;
use geo::{BooleanOps, ConvexHull, LineString, MultiPolygon, Polygon};

/// Coordinates closer than this are one, m.
const SNAP: f64 = 1e-4;
/// Floor left between a keep-out and a wall narrower than this holds no tube and is filled up, m.
const DEAD_STRIP: f64 = 0.3;

/// A turned coordinate system: `inward` becomes y, what lies right of it becomes x.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Frame {
    inward: Point,
    /// A room of four slanting walls is seen as a rectangle.
    quad: Option<Quad>,
}

impl Frame {
    /// A frame for a wall whose room lies in the direction of the unit vector `inward`.
    pub fn new(inward: Point) -> Frame {
        let near_axis = inward.iter().any(|v| v.abs() < 1e-6);
        Frame { inward: if near_axis { inward.map(f64::round) } else { inward }, quad: None }
    }

    /// The same for a room of four slanting walls, seen as a rectangle; and the metres of the room in a metre of it. None
    /// for any other room.
    pub fn of_quad(inward: Point, outline: &[Point], entry: Point) -> Option<(Frame, f64)> {
        let turned = Frame::new(inward);
        let corners: Vec<Point> = outline.iter().map(|&p| turned.local(p)).collect();
        let quad = Quad::of(&corners, turned.local(entry)).filter(|_| !is_square(&corners))?;
        Some((Frame { quad: Some(quad), ..turned }, quad.scale()))
    }

    /// Job coordinates to frame coordinates.
    pub fn local(&self, p: Point) -> Point {
        let [ix, iy] = self.inward;
        let turned = [p[0] * iy - p[1] * ix, p[0] * ix + p[1] * iy];
        self.quad.map_or(turned, |q| q.to_rectangle(turned))
    }

    /// Frame coordinates to job coordinates.
    pub fn global(&self, p: Point) -> Point {
        let [ix, iy] = self.inward;
        let p = self.quad.map_or(p, |q| q.to_room(p));
        [p[0] * iy + p[1] * ix, -p[0] * ix + p[1] * iy]
    }

    /// Which of a level frame's axes an axis of the job is.
    pub fn axis(&self, of_job: crate::job::Axis) -> usize {
        let turned = self.inward[0].abs() > 0.5;
        if turned { 1 - of_job.index() } else { of_job.index() }
    }

    /// Whether the frame lies along the job's axes.
    pub fn is_level(&self) -> bool {
        self.inward.contains(&0.0) && self.quad.is_none()
    }

    /// Whether a room of four slanting walls is seen as a rectangle.
    pub fn is_quad(&self) -> bool {
        self.quad.is_some()
    }

    /// The rectangle of the frame round what stands on the floor.
    fn around(&self, k: &KeepOut) -> Rect {
        let corners = [[k.x0_m, k.y0_m], [k.x1_m, k.y0_m], [k.x1_m, k.y1_m], [k.x0_m, k.y1_m]].map(|p| self.local(p));
        let [x0, y0, x1, y1] = crate::geometry::outline::bounds(&corners);
        Rect { x0, y0, x1, y1 }
    }
}

/// An axis-parallel rectangle.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Rect {
    /// Least x, m.
    pub x0: f64,
    /// Least y, m.
    pub y0: f64,
    /// Greatest x, m.
    pub x1: f64,
    /// Greatest y, m.
    pub y1: f64,
}

impl Rect {
    /// The rectangle between two corners.
    pub fn spanning(a: Point, b: Point) -> Rect {
        Rect { x0: a[0].min(b[0]), y0: a[1].min(b[1]), x1: a[0].max(b[0]), y1: a[1].max(b[1]) }
    }

    /// Whether the two come closer than `gap` in both directions.
    fn closer_than(&self, other: &Rect, gap: f64) -> bool {
        let g = gap - SNAP;
        self.x0 < other.x1 + g && other.x0 < self.x1 + g && self.y0 < other.y1 + g && other.y0 < self.y1 + g
    }
}

/// Something that tube keeps a distance from.
#[derive(Debug, Clone, Copy)]
struct Obstacle {
    rect: Rect,
    clearance: f64,
}

/// Free floor: an outline (keep-outs along the walls taken out) and what stands within.
#[derive(Debug, Clone)]
pub struct Region {
    /// Corners, anticlockwise, without the keep-outs at the walls.
    pub outline: Vec<Point>,
    /// Whether all is at right angles in the frame.
    pub square: bool,
    /// Corners of what stands free and its clearance, where the region is not square.
    pub holes: Vec<(Vec<Point>, f64)>,
    obstacles: Vec<Obstacle>,
    standing: Vec<Obstacle>,
    /// Walls, sides of holes and lanes with their clearance, where the region is not square.
    lines: Vec<(Point, Point, f64)>,
}

fn snap(v: f64) -> f64 {
    (v / SNAP).round() * SNAP
}

/// Whether every wall runs along an axis.
pub fn is_square(outline: &[Point]) -> bool {
    let n = outline.len();
    (0..n).all(|i| {
        let (p, q) = (outline[i], outline[(i + 1) % n]);
        (p[0] - q[0]).abs() < 1e-3 || (p[1] - q[1]).abs() < 1e-3
    })
}

impl Region {
    /// The free floor of a room with `outline` (job coordinates, any direction), seen in `frame`.
    /// `entry` is a point on its bottom wall in frame coordinates; the part of the floor connected to it counts.
    /// Turns may swell sideways by `bulge`, for which keep-outs get more clearance (`wall_clearance` includes it).
    /// None when a keep-out stands on the entry.
    pub fn new(
        outline: &[Point],
        keep_outs: &[KeepOut],
        frame: &Frame,
        entry: Point,
        wall_clearance: f64,
        bulge: f64,
    ) -> Option<Region> {
        let exact: Vec<Point> = outline.iter().map(|&p| frame.local(p)).collect();
        if !is_square(&exact) || !frame.is_level() && frame.quad.is_none() && !keep_outs.is_empty() {
            return Region::skew(exact, keep_outs, frame, entry, wall_clearance, bulge);
        }
        let corners: Vec<Point> = exact.into_iter().map(|p| p.map(snap)).collect();
        let mut standing = Vec::new();
        let mut at_wall = Vec::new();
        let [x0, y0, x1, y1] = crate::geometry::outline::bounds(&corners);
        let bounds = Rect { x0, y0, x1, y1 };
        for k in keep_outs {
            let rect = frame.around(k);
            match to_wall(rect, &corners) {
                Some(grown) => at_wall.push((grown, k.clearance_m)),
                None => standing.push(Obstacle { rect, clearance: k.clearance_m + bulge }),
            }
        }
        // a keep-out at the wall becomes part of the wall, moved so that wall clearance gives its own clearance
        let walls: Vec<Rect> = at_wall
            .iter()
            .map(|(r, c)| {
                let grow = (c + bulge - wall_clearance).max(0.0);
                Rect { x0: snap(r.x0 - grow), y0: snap(r.y0 - grow), x1: snap(r.x1 + grow), y1: snap(r.y1 + grow) }
            })
            .collect();
        let grid = Grid::new(&corners, &walls);
        let cell = grid.cell_above(entry)?;
        let outline = grid.outline_of(cell);
        let mut obstacles: Vec<Obstacle> =
            grid.solid_rects(cell).into_iter().map(|rect| Obstacle { rect, clearance: wall_clearance }).collect();
        let far = 1e4;
        for rect in [
            Rect { x0: -far, y0: -far, x1: far, y1: bounds.y0 },
            Rect { x0: -far, y0: bounds.y1, x1: far, y1: far },
            Rect { x0: -far, y0: -far, x1: bounds.x0, y1: far },
            Rect { x0: bounds.x1, y0: -far, x1: far, y1: far },
        ] {
            obstacles.push(Obstacle { rect, clearance: wall_clearance });
        }
        obstacles.extend(&standing);
        Some(Region { outline, square: true, holes: vec![], obstacles, standing, lines: vec![] })
    }

    /// The same where not all is at right angles.
    fn skew(
        mut outline: Vec<Point>,
        keep_outs: &[KeepOut],
        frame: &Frame,
        entry: Point,
        wall_clearance: f64,
        bulge: f64,
    ) -> Option<Region> {
        if crate::geometry::outline::signed_area(&outline) < 0.0 {
            outline.reverse();
        }
        let mut free: MultiPolygon = crate::geometry::outline::polygon(&outline).into();
        let mut holes = vec![];
        for k in keep_outs {
            let corners = |grow: f64| {
                let (x0, y0, x1, y1) = (k.x0_m - grow, k.y0_m - grow, k.x1_m + grow, k.y1_m + grow);
                [[x0, y0], [x1, y0], [x1, y1], [x0, y1]].map(|p| frame.local(p))
            };
            let near = |p: &Point, a: Point, b: Point| crate::geometry::segment::to_segment(*p, a, b) < DEAD_STRIP;
            let walls: Vec<(Point, Point)> =
                outline::sides(&outline).filter(|&(a, b)| corners(0.0).iter().any(|p| near(p, a, b))).collect();
            let grown = corners((k.clearance_m + bulge - wall_clearance).max(0.0));
            if walls.is_empty() {
                if corners(0.0).iter().all(|p| crate::geometry::outline::within(&outline, *p)) {
                    holes.push((corners(0.0).to_vec(), k.clearance_m + bulge));
                } else {
                    // it reaches out of the room
                    free = free.difference(&crate::geometry::outline::polygon(&grown));
                }
                continue;
            }
            for (a, b) in walls {
                // with its shadow on the wall, a little beyond it
                let l = distance(a, b).max(1e-9);
                let out = [(b[1] - a[1]) / l * 0.01, (a[0] - b[0]) / l * 0.01];
                let shadow = grown.map(|p| segment::foot(p, a, b)).map(|p| [p[0] + out[0], p[1] + out[1]]);
                let hull = LineString::from(grown.iter().chain(&shadow).map(|p| (p[0], p[1])).collect::<Vec<_>>());
                free = free.difference(&Polygon::new(hull.convex_hull().exterior().clone(), vec![]));
            }
        }
        let above = [entry[0], entry[1] + 0.02];
        let outline = shape::part_with(&free, above)?;
        let mut lines: Vec<(Point, Point, f64)> =
            outline::sides(&outline).map(|(a, b)| (a, b, wall_clearance)).collect();
        lines.extend(holes.iter().flat_map(|(h, c)| outline::sides(h).map(|(a, b)| (a, b, *c))));
        Some(Region { outline, square: false, holes, obstacles: vec![], standing: vec![], lines })
    }

    /// Tube within `clearance` of the straight from `a` to `b` is no longer free.
    pub fn block(&mut self, a: Point, b: Point, clearance: f64) {
        if self.square {
            self.obstacles.push(Obstacle { rect: Rect::spanning(a, b), clearance });
        } else {
            self.lines.push((a, b, clearance));
        }
    }

    /// What stands free on the floor, grown by its clearance.
    pub fn standing(&self) -> impl Iterator<Item = Rect> + '_ {
        self.standing.iter().map(|o| Rect {
            x0: o.rect.x0 - o.clearance,
            y0: o.rect.y0 - o.clearance,
            x1: o.rect.x1 + o.clearance,
            y1: o.rect.y1 + o.clearance,
        })
    }

    /// Whether tube may lie anywhere in the rectangle.
    pub fn is_free(&self, rect: &Rect) -> bool {
        if self.square {
            return !self.obstacles.iter().any(|o| rect.closer_than(&o.rect, o.clearance));
        }
        let corners = [[rect.x0, rect.y0], [rect.x1, rect.y0], [rect.x1, rect.y1], [rect.x0, rect.y1]];
        let within = |shape: &[Point]| crate::geometry::outline::within(shape, corners[0]);
        within(&self.outline)
            && !self.holes.iter().any(|(h, _)| within(h))
            && self.lines.iter().all(|&(a, b, clearance)| {
                !rect.closer_than(&Rect::spanning(a, b), clearance)
                    || outline::sides(&corners).all(|(p, q)| between_segments(p, q, a, b) > clearance - SNAP)
            })
    }
}

/// Extends a keep-out to the wall it stands at, or None for one that stands free.
fn to_wall(rect: Rect, corners: &[Point]) -> Option<Rect> {
    let n = corners.len();
    let mut grown = rect;
    let mut touches = false;
    for i in 0..n {
        let (p, q) = (corners[i], corners[(i + 1) % n]);
        let wall = Rect::spanning(p, q);
        let along_y = (p[0] - q[0]).abs() < SNAP * 10.0;
        let (overlaps, low, high, at) = if along_y {
            (wall.y0 < rect.y1 && rect.y0 < wall.y1, rect.x0, rect.x1, p[0])
        } else {
            (wall.x0 < rect.x1 && rect.x0 < wall.x1, rect.y0, rect.y1, p[1])
        };
        if !overlaps || at < low - DEAD_STRIP || at > high + DEAD_STRIP {
            continue;
        }
        touches = true;
        if along_y {
            grown.x0 = grown.x0.min(at);
            grown.x1 = grown.x1.max(at);
        } else {
            grown.y0 = grown.y0.min(at);
            grown.y1 = grown.y1.max(at);
        }
    }
    touches.then_some(grown)
}

/// A coordinate-compressed raster of a rectilinear polygon less some rectangles.
struct Grid {
    xs: Vec<f64>,
    ys: Vec<f64>,
    inside: Vec<bool>,
}

impl Grid {
    fn new(corners: &[Point], holes: &[Rect]) -> Grid {
        let cuts = |mut v: Vec<f64>| {
            v.sort_by(f64::total_cmp);
            v.dedup_by(|a, b| (*a - *b).abs() < SNAP * 1.5);
            v
        };
        let xs = cuts(corners.iter().map(|p| p[0]).chain(holes.iter().flat_map(|r| [r.x0, r.x1])).collect());
        let ys = cuts(corners.iter().map(|p| p[1]).chain(holes.iter().flat_map(|r| [r.y0, r.y1])).collect());
        let mut grid = Grid { inside: vec![false; xs.len() * ys.len()], xs, ys };
        for j in 0..grid.ys.len() - 1 {
            for i in 0..grid.xs.len() - 1 {
                let m = [(grid.xs[i] + grid.xs[i + 1]) / 2.0, (grid.ys[j] + grid.ys[j + 1]) / 2.0];
                let hole = holes.iter().any(|r| m[0] > r.x0 && m[0] < r.x1 && m[1] > r.y0 && m[1] < r.y1);
                let at = grid.index(i, j);
                grid.inside[at] = !hole && crate::geometry::outline::within(corners, m);
            }
        }
        grid
    }

    fn index(&self, i: usize, j: usize) -> usize {
        j * self.xs.len() + i
    }

    fn filled(&self, i: i64, j: i64) -> bool {
        i >= 0
            && j >= 0
            && (i as usize) + 1 < self.xs.len()
            && (j as usize) + 1 < self.ys.len()
            && self.inside[self.index(i as usize, j as usize)]
    }

    fn cell_above(&self, p: Point) -> Option<(usize, usize)> {
        let i = self.xs.windows(2).position(|w| w[0] <= p[0] && p[0] < w[1])?;
        let j = self.ys.windows(2).position(|w| w[0] - SNAP * 2.0 <= p[1] && p[1] < w[1] - SNAP * 2.0)?;
        self.inside[self.index(i, j)].then_some((i, j))
    }

    /// Cells connected to `start`.
    fn component(&self, start: (usize, usize)) -> Vec<bool> {
        let mut seen = vec![false; self.inside.len()];
        let mut stack = vec![(start.0 as i64, start.1 as i64)];
        while let Some((i, j)) = stack.pop() {
            if !self.filled(i, j) || std::mem::replace(&mut seen[self.index(i as usize, j as usize)], true) {
                continue;
            }
            stack.extend([(i + 1, j), (i - 1, j), (i, j + 1), (i, j - 1)]);
        }
        seen
    }

    /// Outer boundary of the component of `start`, anticlockwise, straight runs merged.
    fn outline_of(&self, start: (usize, usize)) -> Vec<Point> {
        let seen = self.component(start);
        let full = |i: i64, j: i64| self.filled(i, j) && seen[self.index(i as usize, j as usize)];
        // start at the lower left corner of the lowest, leftmost cell: certainly on the outer boundary
        let (mut i, mut j) = (start.0 as i64, start.1 as i64);
        'find: for jj in 0..self.ys.len() as i64 {
            for ii in 0..self.xs.len() as i64 {
                if full(ii, jj) {
                    (i, j) = (ii, jj);
                    break 'find;
                }
            }
        }
        // walk the grid's nodes with the floor on the left; at each node turn left if possible
        let origin = (i, j);
        let mut dir: (i64, i64) = (1, 0);
        let mut nodes = vec![];
        let left_cell = |n: (i64, i64), d: (i64, i64)| match d {
            (1, 0) => (n.0, n.1),
            (0, 1) => (n.0 - 1, n.1),
            (-1, 0) => (n.0 - 1, n.1 - 1),
            _ => (n.0, n.1 - 1),
        };
        let right_cell = |n: (i64, i64), d: (i64, i64)| match d {
            (1, 0) => (n.0, n.1 - 1),
            (0, 1) => (n.0, n.1),
            (-1, 0) => (n.0 - 1, n.1),
            _ => (n.0 - 1, n.1 - 1),
        };
        let mut node = origin;
        for _ in 0..4 * self.inside.len() + 8 {
            nodes.push(node);
            node = (node.0 + dir.0, node.1 + dir.1);
            if node == origin {
                break;
            }
            let left = (-dir.1, dir.0);
            let right = (dir.1, -dir.0);
            for d in [right, dir, left] {
                let (l, r) = (left_cell(node, d), right_cell(node, d));
                if full(l.0, l.1) && !full(r.0, r.1) {
                    dir = d;
                    break;
                }
            }
        }
        let points: Vec<Point> = nodes.iter().map(|n| [self.xs[n.0 as usize], self.ys[n.1 as usize]]).collect();
        merge_straights(&points)
    }

    /// The cells that do not belong to the component of `start`.
    fn solid_rects(&self, start: (usize, usize)) -> Vec<Rect> {
        let seen = self.component(start);
        let mut out = Vec::new();
        for j in 0..self.ys.len() - 1 {
            for i in 0..self.xs.len() - 1 {
                if !seen[self.index(i, j)] {
                    out.push(Rect { x0: self.xs[i], y0: self.ys[j], x1: self.xs[i + 1], y1: self.ys[j + 1] });
                }
            }
        }
        out
    }
}

fn merge_straights(points: &[Point]) -> Vec<Point> {
    let n = points.len();
    (0..n)
        .filter(|&i| {
            let (a, b, c) = (points[(i + n - 1) % n], points[i], points[(i + 1) % n]);
            ((b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0])).abs() > 1e-12
        })
        .map(|i| points[i])
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::geometry::outline::signed_area;
    use crate::samples::cabinet;

    const L: [Point; 6] = [[0.0, 0.0], [6.0, 0.0], [6.0, 3.0], [3.0, 3.0], [3.0, 5.0], [0.0, 5.0]];

    #[test]
    fn frames_turn_and_turn_back() {
        for inward in [[0.0, 1.0], [1.0, 0.0], [0.0, -1.0], [-1.0, 0.0]] {
            let frame = Frame::new(inward);
            let p = [1.25, -3.5];
            assert_eq!(frame.global(frame.local(p)), p);
            let up = frame.local([inward[0] * 2.0, inward[1] * 2.0]);
            assert_eq!(up.map(|v| v + 0.0), [0.0, 2.0]);
        }
    }

    #[test]
    fn a_cabinet_at_the_wall_becomes_wall() {
        let frame = Frame::new([0.0, 1.0]);
        let keep = [cabinet("k", 0.05, 4.0, 1.0, 4.95)];
        let region = Region::new(&L, &keep, &frame, [2.0, 0.0], 0.1, 0.0).expect("free entry");
        assert!((signed_area(&region.outline) - 23.0).abs() < 1e-6, "{:?}", region.outline);
        assert!(region.is_free(&Rect { x0: 0.1, y0: 0.1, x1: 2.9, y1: 3.9 }));
        assert!(!region.is_free(&Rect { x0: 0.05, y0: 0.1, x1: 2.9, y1: 3.9 }), "too near the wall");
        assert!(!region.is_free(&Rect { x0: 2.0, y0: 2.0, x1: 3.5, y1: 3.5 }), "across the notch");
    }

    #[test]
    fn a_post_stands_free() {
        let frame = Frame::new([0.0, 1.0]);
        let keep = [cabinet("k", 1.4, 2.0, 1.6, 2.2)];
        let region = Region::new(&L, &keep, &frame, [2.0, 0.0], 0.1, 0.0).expect("free entry");
        assert!((signed_area(&region.outline) - 24.0).abs() < 1e-6);
        assert!(!region.is_free(&Rect { x0: 1.0, y0: 1.97, x1: 2.0, y1: 1.97 }));
        assert!(region.is_free(&Rect { x0: 1.0, y0: 1.95, x1: 2.0, y1: 1.95 }));
    }

    #[test]
    fn a_blocked_entry_is_no_entry() {
        let frame = Frame::new([0.0, 1.0]);
        let keep = [cabinet("k", 1.5, 0.0, 2.5, 0.6)];
        assert!(Region::new(&L, &keep, &frame, [2.0, 0.0], 0.1, 0.0).is_none());
    }

    const SKEW: [Point; 4] = [[0.0, 0.0], [6.0, 0.0], [7.0, 4.0], [0.0, 5.0]];

    #[test]
    fn floor_beside_slanting_walls_is_free_by_its_distance() {
        let region = Region::new(&SKEW, &[], &Frame::new([0.0, 1.0]), [2.0, 0.0], 0.1, 0.0).expect("free entry");
        assert!(!region.square);
        // the right wall leans by atan(1/4): 0.1 m off it is 0.103 m along x
        let at = |gap: f64| Rect { x0: 5.0, y0: 2.0, x1: 6.5 - gap, y1: 2.0 };
        assert!(region.is_free(&at(0.104)) && !region.is_free(&at(0.102)));
    }

    #[test]
    fn keep_outs_in_a_skew_room_are_wall_hole_or_bite() {
        let keep = [
            cabinet("at the wall", 5.9, 1.5, 6.2, 2.5),
            cabinet("post", 2.0, 2.0, 2.3, 2.3),
            cabinet("reaching out", -1.0, 4.0, 1.0, 6.0),
        ];
        let region = Region::new(&SKEW, &keep, &Frame::new([0.0, 1.0]), [2.0, 0.0], 0.1, 0.0).expect("free entry");
        assert_eq!(region.holes.len(), 1);
        assert!(signed_area(&region.outline) < signed_area(&SKEW) - 1.0);
        let spot = |x: f64, y: f64| Rect::spanning([x, y], [x, y]);
        assert!(!region.is_free(&spot(6.3, 2.0)), "between the cabinet and its wall");
        assert!(!region.is_free(&spot(2.1, 2.1)) && !region.is_free(&spot(2.33, 2.1)), "in and at the post");
        assert!(!region.is_free(&spot(0.5, 4.5)), "in what reaches out of the room");
        assert!(region.is_free(&spot(3.0, 2.0)));
        let all = [cabinet("everything", -1.0, -1.0, 9.0, 9.0)];
        assert!(Region::new(&SKEW, &all, &Frame::new([0.0, 1.0]), [2.0, 0.0], 0.1, 0.0).is_none());
    }
}

//! One room: leaders of rooms beyond hug its walls to their doors, its own loops spread out from the entry and
//! fill the floor that is left.
//!
//! Seen from the entry, lanes keep one order from left to right through every room: first those that leave by
//! doors on the left (nearest door outermost), then the room's own loops, then those for doors on the right. In
//! that order no lane ever needs to cross another.

use crate::geometry::distance;
use crate::geometry::outline::to_sides;
use crate::geometry::raster::within_reach;
use crate::geometry::segment::between_segments;
use crate::job::{Pattern, Point};
use crate::layout::curve;
use crate::layout::fill::region::{Frame, Region};
use crate::layout::fill::skew;
use crate::layout::fill::square::{self, Start};
use crate::layout::rules::buildability::{WAY_TURNS, ideal_turns};
use crate::layout::rules::objective::{ENOUGH_FILLED, LABOUR, LEAST_FILLED, TIGHT_FILLED, WELL_FILLED};
use crate::layout::topology::lanes::{JAMB_M, Strip, beside_corners, hug_both, packed, pitch, sides, wall_of};
use crate::layout::topology::task::{Chain, Obstruction, Own, RoomRoute, RoomTask};
use crate::layout::topology::tie::{self, RoutedTube};

/// Strips of lanes that take no more than this share of their wall are tried without moving its lines.
const STRIP_SHARES: [f64; 2] = [0.3, 0.7];
/// A manifold's box is wider than its tubes by so much to either side, and no narrower than this, m.
const BOX_M: f64 = 0.15;
const LEAST_BOX_M: f64 = 0.6;
/// Distance of the points at which the filling of a floor is looked at, m.
const RASTER_M: f64 = 0.12;

/// What is known of loops that were tried.
#[derive(Clone, Copy)]
struct Trial {
    /// Share of the floor within reach of its own loops and of lanes that pass, less something for each bend that is too tight.
    filled: f64,
    /// Quarter turns, jogs counted, over those of an ideal serpentine.
    labour: f64,
}

impl Trial {
    fn worth(&self) -> f64 {
        self.filled.min(ENOUGH_FILLED) + 0.1 * (self.filled - ENOUGH_FILLED).max(0.0)
            - 2.0 * (LEAST_FILLED - self.filled).max(0.0)
            - LABOUR * self.labour
    }
}

/// Loops on the lattice. Strips of lanes that take part of a wall only may move its tube lines, or leave them near the
/// wall and interrupt them: what fills the floor better.
fn on_lattice(
    strips: &[Strip],
    worth: impl Fn(&Result<Own, Obstruction>) -> f64,
    lay: impl Fn(&[Strip]) -> Result<Own, Obstruction>,
) -> Result<Own, Obstruction> {
    let mut best = lay(strips);
    let mut left = strips.len();
    for share in STRIP_SHARES {
        let most: Vec<Strip> = strips.iter().copied().filter(|s| s.share > share).collect();
        if most.len() < left {
            left = most.len();
            let other = lay(&most);
            if worth(&other) > worth(&best) + 1e-9 {
                best = other;
            }
        }
    }
    best
}

/// The floor of a room that is left to its own loops, with all that lies round it (frame coordinates).
struct OwnFloor<'a> {
    task: &'a RoomTask<'a>,
    frame: &'a Frame,
    base: &'a Region,
    region: &'a Region,
    strips: &'a [Strip],
    lanes: &'a [&'a [Point]],
    middle: Point,
    opening: (f64, f64),
    passing: (usize, usize),
}

impl OwnFloor<'_> {
    /// Judges loops in frame coordinates.
    fn trial(&self, own: &Own) -> Trial {
        let (task, frame) = (self.task, self.frame);
        let outline: Vec<Point> = task.outline.iter().map(|&p| frame.local(p)).collect();
        let [x0, y0, x1, y1] = crate::geometry::outline::bounds(&outline);
        let size = [x1 - x0, y1 - y0].map(|l| ((l / RASTER_M) as usize + 1).min(2000));
        let ways = own.lanes.iter().map(|l| l.1.as_slice()).chain(own.fields.iter().map(|f| f.1.as_slice()));
        let stretches: Vec<[Point; 2]> =
            ways.chain(self.lanes.iter().copied()).flat_map(|w| w.windows(2).map(|v| [v[0], v[1]])).collect();
        let warm = within_reach([x0, y0], size, RASTER_M, &stretches, 0.55 * task.core_m + 0.01);
        let (mut all, mut covered) = (0usize, 0usize);
        for (k, warm) in warm.iter().enumerate() {
            let p = [x0 + (k % size[0]) as f64 * RASTER_M, y0 + (k / size[0]) as f64 * RASTER_M];
            let heatable = crate::geometry::outline::within(&outline, p)
                && !crate::layout::rules::audit::in_keep_out(task.keep_outs, frame.global(p))
                && to_sides(&outline, p) >= task.wall_clearance_m;
            if heatable {
                all += 1;
                covered += usize::from(*warm);
            }
        }
        let (mut tight, mut labour) = (0, 0.0);
        for (key, field) in &own.fields {
            let lane = |right: bool| own.lanes.iter().find(|l| l.0.key == *key && l.0.right == right).map(|l| &l.1);
            let (left, right) = (lane(false).into_iter().flatten(), lane(true).into_iter().flatten().rev());
            let route: Vec<Point> = left.chain(field).chain(right).copied().collect();
            tight += curve::tighter_than(&curve::bend(&route, task.radius_m, task.radius_m), task.radius_m).count();
            labour += square::labour(&route);
        }
        let ideal = ideal_turns(&task.outline, task.keep_outs, task.core_m) + WAY_TURNS * task.loops as f64;
        Trial {
            filled: covered as f64 / all.max(1) as f64 - TIGHT_FILLED * tight as f64,
            labour: labour / ideal.max(1.0),
        }
    }

    fn worth(&self, own: &Result<Own, Obstruction>) -> f64 {
        own.as_ref().map_or(f64::MIN, |o| self.trial(o).worth())
    }

    fn is_well_filled(&self, own: &Result<Own, Obstruction>) -> bool {
        own.as_ref().is_ok_and(|o| self.trial(o).filled >= WELL_FILLED)
    }

    /// The loops made first, or others where those do not fill the floor well and others are worth more.
    fn better(
        &self,
        first: Result<Own, Obstruction>,
        other: impl FnOnce() -> Result<Own, Obstruction>,
    ) -> Result<Own, Obstruction> {
        if self.is_well_filled(&first) {
            return first;
        }
        let other = other();
        if self.worth(&other) > self.worth(&first) { other } else { first }
    }

    /// The room's own loops: straight runs on the lattice, or lines along its walls where those do better.
    fn loops(&self) -> Result<Own, Obstruction> {
        let task = self.task;
        let bound = task.lattice.is_some() && self.frame.is_level();
        let on_lattice = self.on_lattice();
        if self.region.square || bound || task.loops > skew::MOST_SLICES {
            return on_lattice;
        }
        self.better(on_lattice, || {
            skew::own_loops(task, self.frame, self.region, self.lanes, self.middle, self.opening, self.passing)
        })
    }

    fn on_lattice(&self) -> Result<Own, Obstruction> {
        let lay_from = |task: &RoomTask, start: Start| {
            on_lattice(
                self.strips,
                |o| self.worth(o),
                |strips| {
                    let (base, region) = (self.base, self.region);
                    square::own_loops(
                        task,
                        self.frame,
                        base,
                        region,
                        strips,
                        self.middle,
                        self.opening,
                        self.passing,
                        start,
                    )
                },
            )
        };
        let lay = |task: &RoomTask| lay_from(task, Start::Entry);
        let mut first = lay(self.task);
        if !self.task.packed {
            first = self.better(first, || lay(&RoomTask { packed: true, ..self.task.clone() }));
        }
        if self.task.pattern == Pattern::Counterflow && self.task.loops == 1 {
            // rings that begin in a corner need no step aside
            for start in [Start::LeftCorner, Start::RightCorner] {
                let other = lay_from(self.task, start);
                if self.worth(&other) > self.worth(&first) {
                    first = other;
                }
            }
        }
        if self.region.square || self.task.pattern != Pattern::Auto {
            return first;
        }
        // fingers reach slanting walls better than rings
        self.better(first, || lay(&RoomTask { pattern: Pattern::Serpentine, ..self.task.clone() }))
    }
}

/// The middle of the entry, moved out of the very corner where a manifold hangs there.
fn off_the_corner(task: &RoomTask, frame: &Frame, mut middle: Point) -> Point {
    let walls: Vec<Point> = task.outline.iter().map(|&p| frame.local(p)).collect();
    if let Some(i) = wall_of(&walls, middle).filter(|_| task.entry.manifold) {
        let (a, b) = (walls[i][0], walls[(i + 1) % walls.len()][0]);
        if (a - b).abs() > 0.1 {
            middle[0] = middle[0].clamp(a.min(b) + 0.02, a.max(b) - 0.02);
        }
    }
    middle
}

/// Between which places on its wall a manifold's tubes may come down: what they take side by side and a little to either
/// side, as its box is wider than its ports.
fn manifold_width(task: &RoomTask, outline: &[Point], middle: Point, lanes: usize) -> (f64, f64) {
    let half = (task.lane_m * lanes as f64 / 2.0 + BOX_M).max(LEAST_BOX_M / 2.0);
    let wall = wall_of(outline, middle).map(|i| (outline[i][0], outline[(i + 1) % outline.len()][0]));
    let (a, b) = wall.unwrap_or((f64::NEG_INFINITY, f64::INFINITY));
    let clear = task.wall_clearance_m - JAMB_M;
    ((middle[0] - half).max(a.min(b) + clear), (middle[0] + half).min(a.max(b) - clear))
}

/// Takes the floor beside a stretch of tube that lies already.
fn block(region: &mut Region, w: &[Point; 2], half_m: f64) {
    // the lattice keeps rectangles free: of a slanting stretch many small ones
    let along = (w[0][0] - w[1][0]).abs() < 1e-3 || (w[0][1] - w[1][1]).abs() < 1e-3;
    let n = if along { 1.0 } else { (distance(w[0], w[1]) / 0.05).ceil().max(1.0) };
    let at = |k: f64| [0, 1].map(|i| w[0][i] + (w[1][i] - w[0][i]) * k / n);
    for k in 0..n as usize {
        region.block(at(k as f64), at(k as f64 + 1.0), half_m);
    }
}

/// Whether the own lanes come too near to passing ones beyond the entry.
fn crossed(task: &RoomTask, own: &Own, passing: [&[Vec<Point>]; 2], entry_y: f64) -> bool {
    let passing = || passing.iter().flat_map(|p| p.iter()).flat_map(|p| p.windows(2));
    let past_entry = |w: &[Point]| w[0][1].max(w[1][1]) > entry_y + task.wall_clearance_m;
    let least = 0.8 * task.gap_m.min(task.lane_m);
    let own = own.lanes.iter().flat_map(|(_, p)| p.windows(2)).filter(|w| past_entry(w));
    own.into_iter().any(|w| passing().any(|v| between_segments(w[0], w[1], v[0], v[1]) < least))
}

/// Routes a room. On an obstruction of the room's own field the lanes to rooms behind are still routed, and the
/// obstruction is returned beside them.
///
/// # Errors
/// When nothing can pass at all.
pub fn route(task: RoomTask) -> Result<(RoomRoute, Option<Obstruction>), Obstruction> {
    let frame = task.frame;
    let ends = task.entry.ends.map(|p| frame.local(p));
    let (w0, w1) = (ends[0][0].min(ends[1][0]), ends[0][0].max(ends[1][0]));
    let middle = off_the_corner(&task, &frame, [(w0 + w1) / 2.0, ends[0][1]]);
    let mut region = Region::new(&task.outline, task.keep_outs, &frame, middle, task.wall_clearance_m, task.bulge_m)
        .ok_or(Obstruction::EntryBlocked)?;
    let entry_y = middle[1];
    let (left, right) = sides(&region.outline, middle, &task.exits, &frame).ok_or(Obstruction::NoWayThrough)?;

    let (mut left, mut right) = (task.side(&left, false), task.side(&right, true));
    let (left_n, right_n) = (left.entering(), right.entering());
    let ties = task.ties(&left, &right);

    // Passing lanes are laid from provisional places at the entry first, to learn what floor they leave.
    let own_guess = 2 * task.loops;
    let lanes_in = left_n + right_n + own_guess;
    let middle = if task.entry.manifold { beside_corners(&task, &region.outline, middle, lanes_in) } else { middle };
    let pitch = pitch(&task, w1 - w0, left_n + right_n + own_guess)?;
    let provisional: Vec<f64> = packed(middle[0], pitch, left_n + right_n + own_guess);
    let base = region.clone();
    let mut strips = Vec::new();
    ties.guess(&mut left, &mut right, middle[0]);
    let (l, r) = hug_both(&task, &region.outline, entry_y, &frame, &left, &right, &provisional)?;
    for hugged in [&l, &r] {
        strips.extend(hugged.strips.iter().copied());
        for path in &hugged.paths {
            // but for the leg out of the entry
            let from_entry = path.first().is_some_and(|p| (p[1] - entry_y).abs() < 1e-6);
            for w in path.windows(2).skip(usize::from(from_entry)) {
                region.block(w[0], w[1], 0.7 * task.core_m);
            }
        }
    }

    let taken: Vec<[Point; 2]> = task.taken.iter().map(|w| w.map(|p| frame.local(p))).collect();
    taken.iter().for_each(|w| block(&mut region, w, 0.7 * task.core_m));

    let lain = taken.iter().map(|w| w.as_slice());
    let lanes: Vec<&[Point]> = l.paths.iter().chain(&r.paths).map(Vec::as_slice).chain(lain).collect();
    let floor = OwnFloor {
        task: &task,
        frame: &frame,
        base: &base,
        region: &region,
        strips: &strips,
        lanes: &lanes,
        middle,
        opening: if task.entry.manifold { manifold_width(&task, &base.outline, middle, lanes_in) } else { (w0, w1) },
        passing: (left_n, right_n),
    };
    let own = (task.loops > 0).then(|| floor.loops());
    let (places, own, trouble) = match own {
        Some(Ok(o)) => (o.entry.clone(), Some(o), None),
        Some(Err(o)) => (packed(middle[0], pitch, left_n + right_n), None, Some(o)),
        None => (packed(middle[0], pitch, left_n + right_n), None, None),
    };

    let ties = ties.meet(&mut left, &mut right, own.as_ref(), (&l, &r), middle[0]);
    let (l, r) = hug_both(&task, &base.outline, entry_y, &frame, &left, &right, &places)?;
    // beside tubes that lie there already passing lanes may not run as the own ones calculate: rather none than a crossing
    let (own, trouble) = match own {
        Some(o) if !task.taken.is_empty() && crossed(&task, &o, [&l.paths, &r.paths], entry_y) => {
            (None, Some(Obstruction::NoWayThrough))
        }
        own => (own, trouble),
    };
    let global = |points: &[Point]| -> Vec<Point> { points.iter().map(|&p| frame.global(p)).collect() };
    // all from left to right: on the right the walls are hugged from the outermost lane inwards
    let mut tubes: Vec<RoutedTube> = Vec::new();
    let mut chains: Vec<Chain> = Vec::new();
    let pass = |exits: &[usize],
                ways: &mut dyn Iterator<Item = &Vec<Point>>,
                tubes: &mut Vec<RoutedTube>,
                chains: &mut Vec<Chain>| {
        for route in exits.iter().map(|&e| &task.exits[e].route) {
            for (l, way) in route.lanes.iter().zip(&mut *ways) {
                tubes.push(RoutedTube { lane: l.lane, way: global(way), beyond: l.points.clone() });
            }
            chains.extend(route.chains.iter().cloned());
        }
    };
    pass(&left.exits, &mut l.paths.iter(), &mut tubes, &mut chains);
    for o in own.iter() {
        tubes.extend(o.lanes.iter().map(|(lane, p)| RoutedTube { lane: *lane, way: global(p), beyond: vec![] }));
        chains.extend(o.fields.iter().map(|(key, p)| Chain::of(*key, global(p))));
    }
    let inner_first: Vec<usize> = right.exits.iter().rev().copied().collect();
    pass(&inner_first, &mut r.paths.iter().rev(), &mut tubes, &mut chains);
    Ok((tie::joined_up(&task, &ties, &tubes, chains), trouble))
}

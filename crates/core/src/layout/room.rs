//! One room: leaders of rooms beyond hug its walls to their doors, its own loops spread out from the entry and
//! fill the floor that is left.
//!
//! Seen from the entry, lanes keep one order from left to right through every room: first those that leave by
//! doors on the left (nearest door outermost), then the room's own loops, then those for doors on the right. In
//! that order no lane ever needs to cross another.

use super::audit::between_segments;
use super::lanes::{beside_corners, hug_both, packed, pitch, sides, wall_of};
use super::region::{Frame, Region};
use super::tie::{self, Tube};
use super::{skew, square};
use crate::job::{FloorLattice, Pattern, Point};
use crate::plan::distance;
use std::collections::BTreeSet;

/// A loop of a room: the room's index in the job and the loop's number in the room.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct LoopKey {
    /// Index of the room.
    pub room: usize,
    /// Number of the loop in the room, from the left.
    pub piece: usize,
}

/// One of the two tubes of a loop's leaders.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Lane {
    /// The loop.
    pub key: LoopKey,
    /// The right one of the two, seen from the entry.
    pub right: bool,
}

/// A routed lane.
#[derive(Debug, Clone)]
pub struct LanePath {
    /// Whose lane.
    pub lane: Lane,
    /// Corners from the entry's wall to the loop's field, job coordinates, m.
    pub points: Vec<Point>,
}

/// The routes of a room and of all rooms behind it.
#[derive(Debug, Clone, Default)]
pub struct RoomRoute {
    /// Lanes from left to right as seen from the entry.
    pub lanes: Vec<LanePath>,
    /// What lies between the left lane and the right lane of each loop.
    pub chains: Vec<Chain>,
}

/// The field of a loop, or the fields of several rooms that share one, with the leaders between them.
#[derive(Debug, Clone)]
pub struct Chain {
    /// From the end of the left lane of the first to the end of the right lane of the last; not empty.
    pub runs: Vec<Run>,
}

/// A stretch of a loop: a field, or a leader from one field to the next.
#[derive(Debug, Clone)]
pub struct Run {
    /// Whose field; none for a leader.
    pub field: Option<LoopKey>,
    /// Corners in order, job coordinates, m.
    pub points: Vec<Point>,
}

impl Chain {
    /// One field.
    fn of(key: LoopKey, points: Vec<Point>) -> Chain {
        Chain { runs: vec![Run { field: Some(key), points }] }
    }

    /// The fields' keys, from left to right.
    pub fn keys(&self) -> impl DoubleEndedIterator<Item = LoopKey> + '_ {
        self.runs.iter().filter_map(|r| r.field)
    }
}

/// Where the tubes come into the room.
#[derive(Debug, Clone, Copy)]
pub struct Entry {
    /// The two ends of the opening, or of the manifold's place, on the room's face, m.
    pub ends: [Point; 2],
    /// Unit vector into the room.
    pub inward: Point,
    /// True for a manifold: its tubes come down where the layout wants them, not between jambs.
    pub manifold: bool,
}

/// A door to rooms that have been routed already.
#[derive(Debug, Clone)]
pub struct Exit {
    /// A point on this room's face within the door.
    pub at: Point,
    /// The routes behind it.
    pub route: RoomRoute,
}

/// What routing a room needs to know, all in m and job coordinates.
#[derive(Debug, Clone)]
pub struct RoomTask<'a> {
    /// Index of the room.
    pub index: usize,
    /// Outline and keep-outs.
    pub room: &'a crate::job::Room,
    /// Where the tubes come in.
    pub entry: Entry,
    /// Doors further on.
    pub exits: Vec<Exit>,
    /// Number of loops that the room itself gets; 0 for none.
    pub loops: usize,
    /// Spacing in the core.
    pub core_m: f64,
    /// Spacing in the edge band.
    pub edge_m: f64,
    /// Width of the edge band.
    pub band_m: f64,
    /// Outside walls: ends of each piece.
    pub outside: Vec<[Point; 2]>,
    /// Stretches of tube that lie there already.
    pub taken: Vec<[Point; 2]>,
    /// Wanted pattern.
    pub pattern: Pattern,
    /// Lines to which the tube is bound, if any.
    pub lattice: Option<FloorLattice>,
    /// Whether joist bays run away from the entry's wall, or along it; none where there are no joists.
    pub bays: Option<bool>,
    /// Neighbours from left to right that are to be one loop.
    pub joins: &'a BTreeSet<(LoopKey, LoopKey)>,
    /// Smallest bend radius of the tube.
    pub radius_m: f64,
    /// By how much a turn at this spacing swells to either side, m.
    pub bulge_m: f64,
    /// First tube to wall, such a swelling included.
    pub wall_clearance_m: f64,
    /// Between lanes.
    pub lane_m: f64,
    /// Least distance of any two tubes.
    pub gap_m: f64,
}

impl RoomTask<'_> {
    /// The tightest spacing at which the tube can turn back: two bulbs side by side keep the least gap, and none swells
    /// more than was reckoned with, m.
    pub fn least_m(&self) -> f64 {
        (self.radius_m + self.gap_m / 2.0).max((2.0 * self.radius_m).min(0.85 * self.edge_m))
    }
}

/// Why a room, or the rooms behind it, cannot be laid.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Obstruction {
    /// A keep-out stands before the entry.
    EntryBlocked,
    /// Too many tubes for the opening.
    EntryTooNarrow,
    /// The way along the walls is too tight for the lanes to rooms behind.
    NoWayThrough,
    /// No place for even one turn of tube at this spacing.
    TooSmall,
}

/// The loops of the room itself, in frame coordinates.
pub(super) struct Own {
    /// Places of all lanes at the entry, passing lanes included, left to right.
    pub entry: Vec<f64>,
    /// The ways from the entry to the fields.
    pub lanes: Vec<(Lane, Vec<Point>)>,
    /// The fields, each from the end of its left lane to the end of its right one.
    pub fields: Vec<(LoopKey, Vec<Point>)>,
}

/// Routes a room. On an obstruction of the room's own field the lanes to rooms behind are still routed, and the
/// obstruction is returned beside them.
///
/// # Errors
/// When nothing can pass at all.
pub fn route(task: RoomTask) -> Result<(RoomRoute, Option<Obstruction>), Obstruction> {
    let frame = Frame::new(task.entry.inward);
    let ends = task.entry.ends.map(|p| frame.local(p));
    let (w0, w1) = (ends[0][0].min(ends[1][0]), ends[0][0].max(ends[1][0]));
    let mut middle = [(w0 + w1) / 2.0, ends[0][1]];
    let walls: Vec<Point> = task.room.outline.iter().map(|&p| frame.local(p)).collect();
    if let Some(i) = wall_of(&walls, middle).filter(|_| task.entry.manifold) {
        // a manifold in the very corner
        let (a, b) = (walls[i][0], walls[(i + 1) % walls.len()][0]);
        if (a - b).abs() > 0.1 {
            middle[0] = middle[0].clamp(a.min(b) + 0.02, a.max(b) - 0.02);
        }
    }
    let mut region =
        Region::new(&task.room.outline, &task.room.keep_outs, &frame, middle, task.wall_clearance_m, task.bulge_m)
            .ok_or(Obstruction::EntryBlocked)?;
    let entry_y = middle[1];
    let (left, right) = sides(&region.outline, middle, &task.exits, &frame).ok_or(Obstruction::NoWayThrough)?;

    let (mut left, mut right) = (task.side(&left, false), task.side(&right, true));
    let (left_n, right_n) = (left.entering(), right.entering());
    let ties = task.ties(&left, &right);

    // Passing lanes are laid from provisional places at the entry first, to learn what floor they leave.
    let own_guess = 2 * task.loops;
    let lanes = left_n + right_n + own_guess;
    let middle = if task.entry.manifold { beside_corners(&task, &region.outline, middle, lanes) } else { middle };
    let pitch = pitch(&task, w1 - w0, left_n + right_n + own_guess)?;
    let provisional: Vec<f64> = packed(middle[0], pitch, left_n + right_n + own_guess);
    let base = region.clone();
    let mut stops = Vec::new();
    ties.guess(&mut left, &mut right, middle[0]);
    let (l, r) = hug_both(&task, &region.outline, entry_y, &frame, &left, &right, &provisional)?;
    for hugged in [&l, &r] {
        stops.extend(hugged.stops.iter().copied());
        for path in &hugged.paths {
            // but for the leg out of the entry
            let from_entry = path.first().is_some_and(|p| (p[1] - entry_y).abs() < 1e-6);
            for w in path.windows(2).skip(usize::from(from_entry)) {
                region.block(w[0], w[1], 0.7 * task.core_m);
            }
        }
    }

    let taken: Vec<[Point; 2]> = task.taken.iter().map(|w| w.map(|p| frame.local(p))).collect();
    for w in &taken {
        // the lattice keeps rectangles free: of a slanting stretch many small ones
        let along = (w[0][0] - w[1][0]).abs() < 1e-3 || (w[0][1] - w[1][1]).abs() < 1e-3;
        let n = if along { 1.0 } else { (distance(w[0], w[1]) / 0.05).ceil().max(1.0) };
        let at = |k: f64| [0, 1].map(|i| w[0][i] + (w[1][i] - w[0][i]) * k / n);
        for k in 0..n as usize {
            region.block(at(k as f64), at(k as f64 + 1.0), 0.7 * task.core_m);
        }
    }

    let own = if task.loops == 0 {
        None
    } else {
        let (opening, passing) = ((w0, w1), (left_n, right_n));
        let bound = task.lattice.is_some() && frame.is_level();
        Some(if region.square || bound || task.loops > skew::MOST_SLICES {
            square::own_loops(&task, &frame, &base, &region, &stops, middle, opening, passing)
        } else {
            let lain = taken.iter().map(|w| w.as_slice());
            let lanes: Vec<&[Point]> = l.paths.iter().chain(&r.paths).map(Vec::as_slice).chain(lain).collect();
            skew::own_loops(&task, &frame, &region, &lanes, middle, opening, passing)
        })
    };
    let (places, own, trouble) = match own {
        Some(Ok(o)) => (o.entry.clone(), Some(o), None),
        Some(Err(o)) => (packed(middle[0], pitch, left_n + right_n), None, Some(o)),
        None => (packed(middle[0], pitch, left_n + right_n), None, None),
    };

    let ties = ties.meet(&mut left, &mut right, own.as_ref(), (&l, &r), middle[0]);
    let (l, r) = hug_both(&task, &base.outline, entry_y, &frame, &left, &right, &places)?;
    // beside tubes that lie there already passing lanes may not run as the own ones reckon: rather none than a crossing
    let crossed = |o: &Own| {
        let passing = || l.paths.iter().chain(&r.paths).flat_map(|p| p.windows(2));
        let past_entry = |w: &[Point]| w[0][1].max(w[1][1]) > entry_y + task.wall_clearance_m;
        let own = o.lanes.iter().flat_map(|(_, p)| p.windows(2));
        own.filter(|w| past_entry(w))
            .any(|w| passing().any(|v| between_segments(w[0], w[1], v[0], v[1]) < 0.8 * task.gap_m.min(task.lane_m)))
    };
    let (own, trouble) = match own {
        Some(o) if !task.taken.is_empty() && crossed(&o) => (None, Some(Obstruction::NoWayThrough)),
        own => (own, trouble),
    };
    let global = |points: &[Point]| -> Vec<Point> { points.iter().map(|&p| frame.global(p)).collect() };
    // all from left to right: on the right the walls are hugged from the outermost lane inwards
    let mut tubes: Vec<Tube> = Vec::new();
    let mut chains: Vec<Chain> = Vec::new();
    let pass = |exits: &[usize],
                ways: &mut dyn Iterator<Item = &Vec<Point>>,
                tubes: &mut Vec<Tube>,
                chains: &mut Vec<Chain>| {
        for route in exits.iter().map(|&e| &task.exits[e].route) {
            for (l, way) in route.lanes.iter().zip(&mut *ways) {
                tubes.push(Tube { lane: l.lane, way: global(way), beyond: l.points.clone() });
            }
            chains.extend(route.chains.iter().cloned());
        }
    };
    pass(&left.exits, &mut l.paths.iter(), &mut tubes, &mut chains);
    for o in own.iter() {
        tubes.extend(o.lanes.iter().map(|(lane, p)| Tube { lane: *lane, way: global(p), beyond: vec![] }));
        chains.extend(o.fields.iter().map(|(key, p)| Chain::of(*key, global(p))));
    }
    let inner_first: Vec<usize> = right.exits.iter().rev().copied().collect();
    pass(&inner_first, &mut r.paths.iter().rev(), &mut tubes, &mut chains);
    Ok((tie::joined_up(&task, &ties, &tubes, chains), trouble))
}

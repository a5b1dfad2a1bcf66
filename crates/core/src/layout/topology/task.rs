//! What routing a room takes and gives.

use crate::job::{FloorLattice, KeepOut, Pattern, Point};
use crate::layout::fill::region::Frame;
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
    pub(crate) fn of(key: LoopKey, points: Vec<Point>) -> Chain {
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
    /// Outline of the floor, near-square walls squared, in any direction.
    pub outline: Vec<Point>,
    /// What stands on it.
    pub keep_outs: &'a [KeepOut],
    /// The room seen from the entry.
    pub frame: Frame,
    /// Where the tubes come in.
    pub entry: Entry,
    /// Doors further on.
    pub exits: Vec<Exit>,
    /// Number of loops that the room itself gets; 0 for none.
    pub loops: usize,
    /// Loops of equal length are asked for.
    pub equal: bool,
    /// What a loop may be long in the room and beyond, its way to the entry taken off the limit, m.
    pub longest_m: f64,
    /// Field spacing.
    pub core_m: f64,
    /// Spacing in the perimeter zone.
    pub edge_m: f64,
    /// Width of the perimeter zone.
    pub band_m: f64,
    /// Outside walls: ends of each piece.
    pub outside: Vec<[Point; 2]>,
    /// Stretches of tube that lie there already.
    pub taken: Vec<[Point; 2]>,
    /// Wanted pattern.
    pub pattern: Pattern,
    /// Its tubes come in side by side rather than on their lines.
    pub packed: bool,
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
    /// The tightest spacing at which turns back swell no more than was calculated with, m.
    pub fn least_m(&self) -> f64 {
        self.turn_m().max((2.0 * self.radius_m).min(0.85 * self.edge_m))
    }

    /// The tightest spacing at which the tube can turn back at all, with a bulb that keeps the least gap from another, m.
    pub fn turn_m(&self) -> f64 {
        self.radius_m + self.gap_m / 2.0
    }
}

impl RoomTask<'_> {
    /// All on which the route of a room depends that no leader passes and that shares its loops with none, but its index.
    /// None where that is not so.
    pub(crate) fn key(&self) -> Option<Vec<u64>> {
        let RoomTask {
            index,
            outline,
            keep_outs,
            frame,
            entry: Entry { ends, inward, manifold },
            exits,
            loops,
            equal,
            longest_m,
            core_m,
            edge_m,
            band_m,
            outside,
            taken,
            pattern,
            packed,
            lattice,
            bays,
            joins,
            radius_m,
            bulge_m,
            wall_clearance_m,
            lane_m,
            gap_m,
        } = self;
        if !exits.is_empty() || joins.iter().any(|(a, b)| a.room == *index || b.room == *index) {
            return None;
        }
        let lines = |list: &[[Point; 2]]| -> Vec<f64> {
            std::iter::once(list.len() as f64).chain(list.iter().flatten().flatten().copied()).collect()
        };
        let lattice = match lattice {
            None => vec![0.0],
            Some(FloorLattice::Squares { side_m, cross }) => vec![1.0, *side_m, cross[0], cross[1]],
            Some(FloorLattice::Joists { along, centres_m, width_m, one_m }) => {
                vec![2.0 + along.index() as f64, *centres_m, *width_m, *one_m]
            }
        };
        let mut out = vec![
            *loops as u64,
            u64::from(*manifold),
            *pattern as u64,
            u64::from(*packed),
            // the rest of it follows from the entry and the outline
            u64::from(frame.is_quad()),
            u64::from(*equal),
            match bays {
                None => 0,
                Some(upright) => 1 + u64::from(*upright),
            },
        ];
        out.push(outline.len() as u64);
        let floats = outline.iter().flatten().copied();
        let floats = floats.chain(ends.iter().flatten().copied()).chain(*inward);
        let floats = floats.chain([
            *longest_m,
            *core_m,
            *edge_m,
            *band_m,
            *radius_m,
            *bulge_m,
            *wall_clearance_m,
            *lane_m,
            *gap_m,
        ]);
        let things = keep_outs.iter().flat_map(|k| [k.x0_m, k.y0_m, k.x1_m, k.y1_m, k.clearance_m]);
        let floats = floats.chain(lattice).chain(lines(outside)).chain(lines(taken)).chain(things);
        out.extend(floats.map(f64::to_bits));
        Some(out)
    }
}

impl RoomRoute {
    /// The same route for a room of another index.
    pub(crate) fn of_room(mut self, room: usize) -> RoomRoute {
        self.lanes.iter_mut().for_each(|l| l.lane.key.room = room);
        let runs = self.chains.iter_mut().flat_map(|c| &mut c.runs);
        runs.filter_map(|r| r.field.as_mut()).for_each(|key| key.room = room);
        self
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
pub(crate) struct Own {
    /// Places of all lanes at the entry, passing lanes included, left to right.
    pub entry: Vec<f64>,
    /// The ways from the entry to the fields.
    pub lanes: Vec<(Lane, Vec<Point>)>,
    /// The fields, each from the end of its left lane to the end of its right one.
    pub fields: Vec<(LoopKey, Vec<Point>)>,
}

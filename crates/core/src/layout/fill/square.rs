//! A room's own loops on a lattice: columns before the entry take them in, pieces of cells are drawn as loops.

use crate::job::{FloorLattice, Pattern, Point};
use crate::layout::fill::cells::{self, Cut, Growth};
use crate::layout::fill::lattice::{self, Cell, Lattice, Spacing, Stop, lines};
use crate::layout::fill::region::{Frame, Rect, Region};
use crate::layout::fill::squared;
use crate::layout::rules::buildability::Buildability;
use crate::layout::rules::objective::{
    ACROSS_COLD, JOG_TURNS, LACKING_TURNS_PER_M, LOOP_M, ONE_SIDED, TIGHT_TURNS, TOO_LONG_M, TURN_M, UNEVEN_M,
    UNSERVED_M,
};
use crate::layout::rules::score::EQUAL;
use crate::layout::topology::lanes::{Fan, JAMB_M, Strip, entry_places};
use crate::layout::topology::task::{Lane, LoopKey, Obstruction, Own, RoomTask};

/// At most so many cells are left out of a loop because the tube cannot turn there.
const MOST_TRIMS: usize = 24;
/// So many places nearest to the entry are compared by the floor that they leave uncovered.
const NEAR_TRIES: usize = 2;
/// Ways to the entry may cut off a part of the floor: farther places are tried until this share of its tube is laid.
const REACHED: f64 = 0.85;
/// Another place is taken for this much more tube in the field.
const BETTER: f64 = 1.01;
/// Loops of one room need not be more even than this, where equal ones are asked, and where valves do it.
const EVEN: f64 = 0.04;
const UNASKED: f64 = 0.2;
/// So many times at most they are evened out.
const MOST_EVENINGS: usize = 3;
/// So many places beside the entry are tried for loops without a turn that is too tight.
const MOST_TRIES: usize = 6;
/// A turn between lines no farther apart than so many spacings is the end of a finger.
const FINGER: f64 = 1.6;
/// Fingers are lengthened up to so many spacings from other tube.
const APART: f64 = 0.9;
/// They are lengthened by no less, and no more than this, m.
const LEAST_REACH_M: f64 = 0.05;
const MOST_REACH_M: f64 = 1.0;
/// What stands free and is longer than this stops the tube lines like a wall, m.
const LONG_M: f64 = 1.0;

/// The field begins so many spacings beyond the tracks on which its tubes come.
const ABOVE_TRACKS: f64 = 0.4;
/// A shorter piece of outside wall makes no side cold, m.
const LEAST_COLD_M: f64 = 0.5;

/// Where loops begin: before the entry, or in a corner of the entry's wall, to which their ways run along the wall.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Start {
    Entry,
    LeftCorner,
    RightCorner,
}

/// The room's own loops. Where the ways to them leave no row of the lattice free, the lattice begins beyond those ways.
#[allow(clippy::too_many_arguments, reason = "the parts of one room, each used once")]
pub(crate) fn own_loops(
    task: &RoomTask,
    frame: &Frame,
    base: &Region,
    region: &Region,
    strips: &[Strip],
    entry: Point,
    opening: (f64, f64),
    passing: (usize, usize),
    start: Start,
) -> Result<Own, Obstruction> {
    let laid = |from: f64| loops_from(task, frame, base, region, strips, entry, opening, passing, start, from);
    let beyond_ways = || {
        let ways = 2 * task.loops + passing.0.max(passing.1);
        let top = entry[1] + task.wall_clearance_m + task.lane_m * (ways - 1) as f64;
        laid(top + task.radius_m.max(ABOVE_TRACKS * task.core_m) + 1e-6)
    };
    if start != Start::Entry {
        return beyond_ways();
    }
    match laid(f64::NEG_INFINITY) {
        Err(Obstruction::TooSmall) => beyond_ways(),
        done => done,
    }
}

/// The same on a lattice whose lowest line lies no lower than `from`.
#[allow(clippy::too_many_arguments, reason = "the parts of one room, each used once")]
fn loops_from(
    task: &RoomTask,
    frame: &Frame,
    base: &Region,
    region: &Region,
    strips: &[Strip],
    entry: Point,
    opening: (f64, f64),
    passing: (usize, usize),
    start: Start,
    from: f64,
) -> Result<Own, Obstruction> {
    let outside: Vec<[Point; 2]> = task.outside.iter().map(|e| e.map(|p| frame.local(p))).collect();
    let axis = |k: usize| {
        let (mut stops, spacing) = (stops(task, base, strips, k), spacing(task, &outside, base, k));
        if k == 1 {
            stops.iter_mut().filter(|s| s.opens).for_each(|s| s.at = s.at.max(from));
        }
        match task.lattice.filter(|_| frame.is_level()) {
            Some(FloorLattice::Squares { side_m, cross }) => {
                lattice::on_modules(&stops, &spacing, frame.local(cross)[k], side_m)
            }
            Some(FloorLattice::Joists { along, centres_m, one_m, .. }) if frame.axis(along) != k => {
                lattice::in_bays(&stops, task.turn_m(), frame.local([one_m; 2])[k], centres_m)
            }
            _ => lines(&stops, &spacing, task.gap_m),
        }
    };
    let lattice = Lattice::new(axis(0), axis(1), region);
    let k = task.loops;
    if lattice.columns() < k || lattice.rows() == 0 {
        return Err(Obstruction::TooSmall);
    }

    // the column before the entry, by preference one whose two lines lie within the opening
    let within = |i: usize| lattice.xs[2 * i] > opening.0 + JAMB_M && lattice.xs[2 * i + 1] < opening.1 - JAMB_M;
    let off = |i: usize| (lattice.middle((i, 0))[0] - entry[0]).abs();
    let front = (0..lattice.columns())
        .min_by(|&a, &b| (!within(a), off(a)).partial_cmp(&(!within(b), off(b))).unwrap_or(std::cmp::Ordering::Equal))
        .ok_or(Obstruction::TooSmall)?;
    let cells = lattice.all().count();
    if cells < k {
        return Err(Obstruction::TooSmall);
    }
    let before = lattice.all().filter(|c| c.0 < front).count();
    let left = (before * k / cells).min(k - 1);

    // try columns near the entry until the ways to them are clear
    let columns = lattice.columns() as i64;
    let wanted = match start {
        Start::Entry => (front as i64 - left as i64).clamp(0, columns - k as i64),
        Start::LeftCorner => 0,
        Start::RightCorner => columns - k as i64,
    };
    let shifts = (0..columns).flat_map(|d| [d, -d]).skip(1);
    let floor: f64 = lattice.all().map(|c| cells::tube(&lattice, c)).sum();
    let mut best: Option<(bool, f64, Own)> = None;
    let mut tried = 0;
    for shift in shifts {
        let first = wanted + shift;
        if first < 0 || first + k as i64 > columns || tried >= MOST_TRIES {
            continue;
        }
        if let Some((own, clean, covered)) =
            try_columns(task, &lattice, (base, region), first as usize, left, entry, opening, passing, &outside)
        {
            // far from the entry only where nearer places do not do
            let enough = start != Start::Entry || clean && tried >= NEAR_TRIES && covered > REACHED * floor;
            tried += 1;
            if best.as_ref().is_none_or(|b| (clean, covered) > (b.0, b.1 * BETTER)) {
                best = Some((clean, covered, own));
            }
            if enough {
                break;
            }
        }
    }
    best.map(|b| b.2).ok_or(Obstruction::TooSmall)
}

/// Lays the loops from the columns `first..first + loops`; tells also whether every turn is wide enough, and the length
/// of the fields. None when the ways to the columns are blocked.
#[allow(clippy::too_many_arguments, reason = "the parts of one room, each used once")]
fn try_columns(
    task: &RoomTask,
    lattice: &Lattice,
    (base, region): (&Region, &Region),
    first: usize,
    left: usize,
    entry: Point,
    opening: (f64, f64),
    passing: (usize, usize),
    outside: &[[Point; 2]],
) -> Option<(Own, bool, f64)> {
    let k = task.loops;
    let goals: Vec<f64> = (first..first + k).flat_map(|i| [lattice.xs[2 * i], lattice.xs[2 * i + 1]]).collect();
    let places = entry_places(task, &goals, left, entry[0], opening, passing);

    let own = &places[passing.0..passing.0 + 2 * k];
    let fan = Fan::new(task, own, &goals, entry[1], passing);
    let top = fan.top;

    let mut lattice = lattice.clone();
    let mut roots: Vec<Cell> = Vec::new();
    for i in first..first + k {
        let row = (0..lattice.rows()).find(|&j| {
            lattice.has((i, j)) && lattice.ys[2 * j] > top + task.radius_m.max(ABOVE_TRACKS * task.core_m)
        })?;
        roots.push((i, row));
    }
    let mut lanes = Vec::new();
    for j in 0..2 * k {
        let root = roots[j / 2];
        let end = [goals[j], lattice.ys[2 * root.1]];
        let mut points = fan.way(j);
        points.push(end);
        // clear of walls and keep-outs once it is past the entry's own wall
        let start_y = entry[1] + task.wall_clearance_m;
        let clear = points.windows(2).all(|w| {
            let mut r = Rect::spanning(w[0], w[1]);
            r.y0 = r.y0.max(start_y);
            r.y1 = r.y1.max(start_y);
            base.is_free(&r)
        });
        if !clear {
            return None;
        }
        lanes.push((Lane { key: LoopKey { room: task.index, piece: j / 2 }, right: j % 2 == 1 }, points));
    }
    // floor that the lanes use is not floor for cells
    let taken: Vec<Rect> = lanes.iter().flat_map(|(_, p)| p.windows(2).map(|w| Rect::spanning(w[0], w[1]))).collect();
    let clash: Vec<Cell> = lattice
        .all()
        .filter(|c| !roots.contains(c))
        .filter(|c| {
            let cell = Rect {
                x0: lattice.xs[2 * c.0],
                y0: lattice.ys[2 * c.1],
                x1: lattice.xs[2 * c.0 + 1],
                y1: lattice.ys[2 * c.1 + 1],
            };
            taken.iter().any(|t| near(&cell, t, 0.6 * task.edge_m.min(task.core_m)))
        })
        .collect();
    clash.into_iter().for_each(|c| lattice.remove(c));

    let mut best: Option<Dealt> = None;
    for cut in [Cut::Straight, Cut::Even] {
        let mut owner = cells::deal(&lattice, &roots, left, cut);
        // how each piece grows best is found out once
        let mut growths: Vec<Vec<(Growth, f64)>> = vec![];
        // what the pieces really take is known when their loops are drawn: then they are evened out once more
        for _ in 0..if k > 1 && cut == Cut::Even { MOST_EVENINGS } else { 1 } {
            let (mut fields, clean) = draw(task, &lattice, &owner, &roots, left, &lanes, outside, &mut growths);
            if task.lattice.is_none() {
                reach_out(task, region, &mut fields, &lanes);
            }
            let dealt = Dealt::new(task, fields, clean, &lanes);
            let (enough, spread) = (dealt.is_enough(task, cut), dealt.spread);
            let factors: Vec<f64> = dealt
                .lengths
                .iter()
                .zip(cells::loads(&lattice, &owner, k))
                .map(|(l, load)| l / load.max(1e-3))
                .collect();
            if best.as_ref().is_none_or(|b| dealt.cost(task) < b.cost(task)) {
                best = Some(dealt);
            }
            if enough || spread < EVEN {
                break;
            }
            if cut == Cut::Even {
                cells::balance(&lattice, &mut owner, &roots, &factors);
            }
        }
        if k == 1 || best.as_ref().is_some_and(|b| b.is_enough(task, cut)) {
            break;
        }
    }
    let best = best?;
    let covered: f64 = best.fields.iter().map(|f| length(&f.1)).sum();
    Some((Own { entry: places, lanes, fields: best.fields }, best.clean, covered))
}

/// A floor dealt out and drawn.
struct Dealt {
    fields: Fields,
    /// Every turn is wide enough, and no piece hardly a column.
    clean: bool,
    /// Lengths of the loops in the room, m.
    lengths: Vec<f64>,
    /// Largest deviation from their mean, as share of it.
    spread: f64,
    jogs: usize,
}

impl Dealt {
    fn new(task: &RoomTask, fields: Fields, clean: bool, lanes: &[(Lane, Vec<Point>)]) -> Dealt {
        let ways = fields.iter().zip(lanes.chunks(2));
        let lengths: Vec<f64> =
            ways.map(|(f, pair)| pair.iter().map(|l| length(&l.1)).sum::<f64>() + length(&f.1)).collect();
        let mean = lengths.iter().sum::<f64>() / task.loops.max(1) as f64;
        let spread = lengths.iter().map(|l| (l / mean - 1.0).abs()).fold(0.0, f64::max);
        let jogs = fields.iter().map(|f| Buildability::of(&f.1).jogs).sum();
        Dealt { fields, clean, lengths, spread, jogs }
    }

    /// By the objective, in metres of tube: loops too long, loops not equal where that is asked, jogs.
    fn cost(&self, task: &RoomTask) -> f64 {
        let tight = if self.clean { 0.0 } else { UNSERVED_M };
        let long = self.lengths.iter().filter(|l| **l > task.longest_m).count() as f64;
        // what the leaders make of it is not known here: some slack, and no cliff
        let uneven = if task.equal { UNEVEN_M * (self.spread / EQUAL).powi(2) } else { LOOP_M * self.spread };
        tight + TOO_LONG_M * long + uneven + TURN_M * JOG_TURNS * self.jogs as f64
    }

    /// Nothing better is looked for.
    fn is_enough(&self, task: &RoomTask, cut: Cut) -> bool {
        let even = if task.equal { EVEN } else { UNASKED };
        cut == Cut::Straight && self.clean && self.spread < even && self.lengths.iter().all(|l| *l <= task.longest_m)
    }
}

/// The corners of loops, without their ways to the entry.
type Fields = Vec<(LoopKey, Vec<Point>)>;

/// The loops of all pieces, and whether every turn is wide enough and no piece hardly a column. `known`: how each piece may
/// grow; from then on how it grows best.
#[allow(clippy::too_many_arguments, reason = "the parts of one room, each used once")]
fn draw(
    task: &RoomTask,
    lattice: &Lattice,
    owner: &[Option<usize>],
    roots: &[Cell],
    left: usize,
    lanes: &[(Lane, Vec<Point>)],
    outside: &[[Point; 2]],
    known: &mut Vec<Vec<(Growth, f64)>>,
) -> (Fields, bool) {
    let k = roots.len();
    // one loop shut in by another makes columns that hardly do
    let size = |p: usize| owner.iter().filter(|o| **o == Some(p)).count() as f64;
    let mean = (0..k).map(size).sum::<f64>() / k as f64;
    let mut clean = (0..k).all(|p| size(p) >= 0.5 * mean);
    let mut fields = Vec::new();
    for p in 0..k {
        let lanes = [lanes[2 * p].1.as_slice(), lanes[2 * p + 1].1.as_slice()];
        let piece = Piece { task, lattice, owner, piece: p, root: roots[p], lanes };
        if known.len() <= p {
            known.push(growths(task, &piece, left, outside));
        }
        let (field, wide, growth) = piece.easiest(&known[p]);
        known[p] = vec![(growth, 1.0)];
        clean &= wide;
        fields.push((LoopKey { room: task.index, piece: p }, field));
    }
    (fields, clean)
}

/// Lengthens fingers of the fields whose ends the lattice left off the next wall, keep-out or tube, each as far as there
/// is floor.
fn reach_out(task: &RoomTask, region: &Region, fields: &mut Fields, lanes: &[(Lane, Vec<Point>)]) {
    let apart = APART * task.core_m;
    for (_, field) in fields.iter_mut() {
        *field = crate::layout::curve::straighten(field);
    }
    for f in 0..fields.len() {
        for i in 1..fields[f].1.len().saturating_sub(2) {
            let [a, b, c, d] = [0, 1, 2, 3].map(|k| fields[f].1[i - 1 + k]);
            let axis = usize::from((a[0] - b[0]).abs() < 1e-6);
            let way = b[axis] - a[axis];
            if (d[axis] - c[axis]) * way >= 0.0 || crate::geometry::distance(b, c) > FINGER * task.core_m {
                continue;
            }
            let moved = |p: Point, by: f64| {
                let mut p = p;
                p[axis] += by * way.signum();
                p
            };
            // what may stand in the way
            let reach = Rect::spanning(b, moved(c, MOST_REACH_M));
            let ways = fields.iter().enumerate().map(|(g, (_, way))| (g == f, way.as_slice()));
            let beside: Vec<Rect> = ways
                .chain(lanes.iter().map(|l| (false, l.1.as_slice())))
                .flat_map(|(own, way)| {
                    way.windows(2).enumerate().filter(move |(k, _)| !own || !(i.saturating_sub(2)..=i + 2).contains(k))
                })
                .map(|(_, w)| Rect::spanning(w[0], w[1]))
                .filter(|r| near(r, &reach, apart))
                .collect();
            let free = |by: f64| {
                let swept = Rect::spanning(b, moved(c, by));
                region.is_free(&swept) && !beside.iter().any(|r| near(r, &swept, apart))
            };
            if !free(LEAST_REACH_M) {
                continue;
            }
            let (mut low, mut high) = (LEAST_REACH_M, MOST_REACH_M);
            while high - low > 0.005 {
                let middle = f64::midpoint(low, high);
                if free(middle) { low = middle } else { high = middle }
            }
            fields[f].1[i] = moved(b, low);
            fields[f].1[i + 1] = moved(c, low);
        }
    }
}

/// Length of a row of corners, m.
fn length(points: &[Point]) -> f64 {
    points.windows(2).map(|w| crate::geometry::distance(w[0], w[1])).sum()
}

/// A place where a route bends tighter than the tube can.
fn tight_spot(route: &[Point], task: &RoomTask) -> Option<Point> {
    crate::layout::curve::tighter_than(&crate::layout::curve::bend(route, task.radius_m, task.radius_m), task.radius_m)
        .next()
}

fn near(a: &Rect, b: &Rect, gap: f64) -> bool {
    a.x0 < b.x1 + gap && b.x0 < a.x1 + gap && a.y0 < b.y1 + gap && b.y0 < a.y1 + gap
}

/// Where tube may begin and end along an axis: at the walls, and beyond lanes that run along them.
fn stops(task: &RoomTask, base: &Region, strips: &[Strip], axis: usize) -> Vec<Stop> {
    let n = base.outline.len();
    let mut out: Vec<Stop> = Vec::new();
    let c = task.wall_clearance_m;
    for i in 0..n {
        let (a, b) = (base.outline[i], base.outline[(i + 1) % n]);
        if (a[axis] - b[axis]).abs() > 1e-6 {
            continue;
        }
        // anticlockwise: a wall running down has the floor on its right, a wall to the right has it above
        let opens = if axis == 0 { b[1] < a[1] } else { b[0] > a[0] };
        let mut at = a[axis] + if opens { c } else { -c };
        // lanes along this very wall move the stop inward
        for s in strips.iter().filter(|s| s.axis == axis).map(|s| s.stop) {
            let off = if opens { s.at - a[axis] } else { a[axis] - s.at };
            if s.opens == opens && off > 0.0 && off < c + task.lane_m * 60.0 && (s.at - at).abs() < 2.5 {
                at = if opens { at.max(s.at) } else { at.min(s.at) };
            }
        }
        out.push(Stop { at, opens });
    }
    if !base.square {
        let [x0, y0, x1, y1] = crate::geometry::outline::bounds(&base.outline);
        let (low, high) = if axis == 0 { (x0, x1) } else { (y0, y1) };
        out.extend([Stop { at: low + c, opens: true }, Stop { at: high - c, opens: false }]);
    }
    // long things that stand free stop the tube like walls; lines need not meet small ones
    for r in base.standing() {
        let (low, high, across) = if axis == 0 { (r.x0, r.x1, r.y1 - r.y0) } else { (r.y0, r.y1, r.x1 - r.x0) };
        if across > LONG_M {
            out.extend([Stop { at: low, opens: false }, Stop { at: high, opens: true }]);
        }
    }
    out
}

/// Core spacing, with bands along the outside walls that cross this axis.
fn spacing(task: &RoomTask, outside: &[[Point; 2]], base: &Region, axis: usize) -> Spacing {
    let mut bands = Vec::new();
    if task.edge_m < task.core_m {
        for [a, b] in outside {
            if !stands_across(a, b, axis) {
                continue;
            }
            // which side of the wall is floor?
            let other = 1 - axis;
            let mut probe = [0.0; 2];
            probe[other] = (a[other] + b[other]) / 2.0;
            probe[axis] = a[axis] + 0.6 * task.wall_clearance_m + 0.15;
            let floor_above = base.is_free(&Rect::spanning(probe, probe));
            bands.push(if floor_above { (a[axis], a[axis] + task.band_m) } else { (a[axis] - task.band_m, a[axis]) });
        }
    }
    Spacing { core: task.core_m, edge: task.edge_m, least: task.least_m(), clear: task.wall_clearance_m, bands }
}

/// One loop's share of the lattice.
struct Piece<'a> {
    task: &'a RoomTask<'a>,
    lattice: &'a Lattice,
    owner: &'a [Option<usize>],
    piece: usize,
    root: Cell,
    /// The two ways from the entry to the root.
    lanes: [&'a [Point]; 2],
}

impl Piece<'_> {
    /// The field of the growth that is easiest to lay, of those whose turns are wide enough; whether there is one.
    fn easiest(&self, growths: &[(Growth, f64)]) -> (Vec<Point>, bool, Growth) {
        let drawn = growths.iter().map(|&(growth, handicap)| {
            let links = cells::grow(self.lattice, self.owner, self.piece, self.root, growth);
            let field = cells::outline(self.lattice, &links, self.root);
            (handicap * labour(&self.route(&field)), links, field, growth)
        });
        let mut drawn: Vec<_> = drawn.collect();
        drawn.sort_by(|a, b| a.0.total_cmp(&b.0));
        let mut best: Option<(f64, Vec<Point>, Growth)> = None;
        for (cost, mut links, mut field, growth) in drawn {
            let whole = length(&field);
            let mut tight = tight_spot(&self.route(&field), self.task);
            // short fingers that the tube cannot turn round are left out; the coverage tells what they cost
            for _ in 0..MOST_TRIMS {
                let Some(at) = tight else { break };
                if !links.trim(self.lattice, self.root, at, 5.0 * self.task.core_m) {
                    break;
                }
                field = cells::outline(self.lattice, &links, self.root);
                tight = tight_spot(&self.route(&field), self.task);
            }
            if tight.is_none() && whole - length(&field) < 0.5 * self.task.core_m {
                return (field, true, growth);
            }
            let cost =
                cost + LACKING_TURNS_PER_M * (whole - length(&field)) + if tight.is_some() { TIGHT_TURNS } else { 0.0 };
            if best.as_ref().is_none_or(|b| cost < b.0) {
                best = Some((cost, field, growth));
            }
        }
        let none = (vec![], false, Growth::Spiral { left_hand: true });
        best.map_or(none, |(cost, field, growth)| (field, cost < TIGHT_TURNS, growth))
    }

    fn route(&self, field: &[Point]) -> Vec<Point> {
        self.lanes[0].iter().chain(field).chain(self.lanes[1].iter().rev()).copied().collect()
    }
}

/// What a route costs the crew, in quarter turns.
pub(crate) fn labour(route: &[Point]) -> f64 {
    let ease = Buildability::of(route);
    ease.quarter_turns + JOG_TURNS * ease.jogs as f64
}

/// The trees that may grow on a piece, each with a factor for what it does less well: see [`Pattern`].
fn growths(task: &RoomTask, piece: &Piece, left: usize, outside: &[[Point; 2]]) -> Vec<(Growth, f64)> {
    let combs = |upright: bool| [true, false].map(|spine_low| Growth::Comb { upright, spine_low });
    let zigzags = |upright: bool| [true, false].map(|even_low| Growth::Zigzag { upright, even_low });
    // the hand by which a spiral has its neighbours beside it comes first
    let spirals = [piece.piece <= left, piece.piece > left].map(|left_hand| Growth::Spiral { left_hand });
    if let Some(along) = task.bays {
        // joists are crossed at one end only, the manifold's
        let mine = |c: &Cell| piece.owner[piece.lattice.index(*c)] == Some(piece.piece);
        let at: Vec<f64> = piece.lattice.all().filter(mine).map(|c| piece.lattice.middle(c)[0]).collect();
        let mean = at.iter().sum::<f64>() / at.len().max(1) as f64;
        let spine_low = along || piece.lattice.middle(piece.root)[0] <= mean;
        return vec![(Growth::Comb { upright: along, spine_low }, 1.0)];
    }
    let cold = cold_sides(outside);
    let along_cold = |upright: bool| match cold {
        // the supply comes to the cold wall first where runs lie along it
        [x, y] if (x > 0.0) != (y > 0.0) => {
            if upright == (x > y) {
                1.0
            } else {
                ACROSS_COLD
            }
        }
        _ => 1.0,
    };
    let both = |f: &dyn Fn(bool) -> [Growth; 2], handicap: f64| -> Vec<(Growth, f64)> {
        [true, false].into_iter().flat_map(|up| f(up).map(|g| (g, handicap * along_cold(up)))).collect()
    };
    match task.pattern {
        Pattern::Counterflow => spirals.map(|g| (g, 1.0)).to_vec(),
        Pattern::DoubleSerpentine => both(&zigzags, 1.0),
        Pattern::Serpentine => both(&combs, 1.0),
        Pattern::Auto if one_cold_side(outside) => both(&combs, 1.0),
        Pattern::Auto => {
            let beside = spirals.map(|g| (g, 1.0)).into_iter().chain(both(&zigzags, 1.0));
            beside.chain(both(&combs, ONE_SIDED)).collect()
        }
    }
}

/// Whether a piece of wall stands across an axis; one that was traced leans a little.
fn stands_across(a: &Point, b: &Point, axis: usize) -> bool {
    let (off, run) = ((a[axis] - b[axis]).abs(), (a[1 - axis] - b[1 - axis]).abs());
    off <= squared::OFF_M && off < 0.1 * run
}

/// Metres of outside wall upright and level.
fn cold_sides(outside: &[[Point; 2]]) -> [f64; 2] {
    let of = |k: usize| {
        let along = outside.iter().filter(move |[a, b]| stands_across(a, b, k));
        along.map(|[a, b]| (a[1 - k] - b[1 - k]).abs()).filter(|l| *l > LEAST_COLD_M).sum::<f64>()
    };
    [of(0), of(1)]
}

/// Whether all outside walls of note lie on one line.
fn one_cold_side(outside: &[[Point; 2]]) -> bool {
    let sides = outside.iter().filter_map(|[a, b]| {
        let at = |k: usize| {
            (stands_across(a, b, k) && (a[1 - k] - b[1 - k]).abs() > LEAST_COLD_M)
                .then_some((k, (a[k] * 4.0).round() as i64))
        };
        at(0).or(at(1))
    });
    sides.collect::<std::collections::BTreeSet<_>>().len() == 1
}

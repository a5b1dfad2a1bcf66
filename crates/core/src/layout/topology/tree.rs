//! How the tubes reach the rooms: the ways over the doorways, and the routes of all rooms of a manifold.

use crate::geometry::distance;
use crate::geometry::outline;
use crate::geometry::segment;
use crate::job::{FloorLattice, Job, KeepOut, Pattern, Point};
use crate::layout::curve;
use crate::layout::curve::relax::relax;
use crate::layout::fill::region::{self, Frame};
use crate::layout::fill::room;
use crate::layout::fill::squared::squared;
use crate::layout::fill::swell::{lean, swells};
use crate::layout::topology::parts::Parted;
use crate::layout::topology::task::{Chain, Entry, Exit, LoopKey, Obstruction, RoomRoute, RoomTask};
use crate::layout::{
    LaidLoop, Layout, MOST_LOOPS, Problem, Stretch, limit_of, manifold_place, metres_by_room, sweep_of,
};
use crate::library;
use crate::plan::passages::Passage;
use lru::LruCache;
use std::cell::RefCell;
use std::collections::{BTreeMap, BTreeSet};
use std::num::NonZeroUsize;
use std::sync::{LazyLock, Mutex};

/// How the tubes reach the rooms: for each manifold a tree of rooms joined by passages.
pub(crate) struct Tree<'a> {
    parted: &'a Parted,
    passages: &'a [Passage],
    /// Manifold that serves a room, if any can.
    manifold: Vec<Option<usize>>,
    /// Passage by which the tubes come into a room; none in the manifold's own room.
    through: Vec<Option<usize>>,
    /// Rough length of the way from the manifold, m.
    pub way: Vec<f64>,
    /// Rooms whose outline does not cross itself.
    usable: &'a [bool],
    /// For each room, itself and the rooms whose tubes pass it.
    behind: Vec<Vec<usize>>,
    /// Neighbours that are to be one loop.
    joins: BTreeSet<(LoopKey, LoopKey)>,
    /// How each room is laid.
    pub variant: Vec<Variant>,
    /// Rooms routed before: from one round to the next only a few change the number of their loops.
    routed: RefCell<BTreeMap<Key, Routed>>,
    /// The same for whole manifolds, with their loops.
    laid: RefCell<BTreeMap<Key, Layout>>,
}

/// How a room is laid, where as it asks it would violate the layout rules.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Variant {
    /// By how much its spacings are stretched.
    pub stretch: f64,
    /// Its pattern, where it asks for none.
    pub pattern: Pattern,
    /// Its tubes come in side by side rather than on their lines.
    pub packed: bool,
    /// A room of four slanting walls is laid by its outline rather than as a rectangle.
    pub as_it_is: bool,
}

impl Variant {
    /// As it asks.
    pub const ASKED: Variant = Variant { stretch: 1.0, pattern: Pattern::Auto, packed: false, as_it_is: false };

    fn key(self) -> VariantKey {
        (self.stretch.to_bits(), self.pattern, self.packed, self.as_it_is)
    }
}

/// A room or manifold, with the number of loops and the variant of each room behind it.
type Key = (usize, Vec<(usize, VariantKey)>);
type VariantKey = (u64, Pattern, bool, bool);

/// What became of a room, and what is to be said of it and those behind it.
type Routed = (Option<RoomRoute>, Vec<Problem>);

impl<'a> Tree<'a> {
    /// Shortest ways over the doorways from all manifolds at once.
    pub fn of(parted: &'a Parted, problems: &mut Vec<Problem>) -> Tree<'a> {
        let job = &parted.job;
        let n = job.rooms.len();
        let (passages, usable) = (parted.plan().passages.as_slice(), parted.plan().is_simple.as_slice());
        let mut tree = Tree {
            parted,
            passages,
            manifold: vec![None; n],
            through: vec![None; n],
            way: vec![f64::INFINITY; n],
            usable,
            behind: vec![],
            joins: BTreeSet::new(),
            variant: vec![Variant::ASKED; n],
            routed: RefCell::default(),
            laid: RefCell::default(),
        };
        let mut at: Vec<Point> = vec![[0.0; 2]; n];
        for manifold in 0..job.manifolds.len() {
            match manifold_place(job, manifold) {
                Some((room, place, _)) if tree.usable[room] && tree.manifold[room].is_none() => {
                    tree.manifold[room] = Some(manifold);
                    tree.way[room] = tree.parted.riser_m[manifold];
                    at[room] = place;
                }
                _ => problems.push(Problem::ManifoldUnused { manifold }),
            }
        }
        let mut open: Vec<usize> = (0..n).filter(|&r| tree.way[r].is_finite()).collect();
        let mut done = vec![false; n];
        while let Some(k) =
            (0..open.len()).min_by(|&a, &b| tree.way[open[a]].total_cmp(&tree.way[open[b]]).then(open[a].cmp(&open[b])))
        {
            let room = open.swap_remove(k);
            if std::mem::replace(&mut done[room], true) {
                continue;
            }
            for (p, passage) in tree.passages.iter().enumerate() {
                let Some(side) = passage.rooms.iter().position(|&r| r == room) else { continue };
                let next = passage.rooms[1 - side];
                if done[next] || !tree.usable[next] {
                    continue;
                }
                let wanted = job.rooms[next].heated_floor().and_then(|f| f.manifold_id.as_ref());
                if wanted.is_some_and(|w| tree.manifold[room].is_none_or(|m| job.manifolds[m].id != *w)) {
                    continue;
                }
                let door = middle(passage.near);
                // a sleeve is drilled where it saves enough
                let dear = if passage.is_sleeve { job.rules.sleeve_saves_m } else { 0.0 };
                // along the walls rather than straight across
                let way = tree.way[room]
                    + dear
                    + (door[0] - at[room][0]).abs()
                    + (door[1] - at[room][1]).abs()
                    + passage.thickness_m;
                if way < tree.way[next] {
                    tree.way[next] = way;
                    tree.manifold[next] = tree.manifold[room];
                    tree.through[next] = Some(p);
                    at[next] = door;
                    open.push(next);
                }
            }
        }
        for (i, room) in job.rooms.iter().enumerate() {
            if room.heated_floor().is_none() || !tree.usable[i] {
                continue;
            }
            if job.manifolds.is_empty() {
                problems.push(Problem::NoManifold { room: i });
            } else if tree.manifold[i].is_none() {
                problems.push(Problem::NoWay { room: i });
            }
        }
        tree.behind = vec![vec![]; n];
        for room in 0..n {
            // up to the manifold's room: each passage leads to one that is nearer to it
            let mut at = room;
            tree.behind[at].push(room);
            while let Some(passage) = tree.through[at].map(|p| &tree.passages[p]) {
                at = if passage.rooms[0] == at { passage.rooms[1] } else { passage.rooms[0] };
                tree.behind[at].push(room);
            }
        }
        tree
    }

    /// The same ways for loops of which some are to be one with their neighbours.
    pub fn join(&mut self, joins: BTreeSet<(LoopKey, LoopKey)>) {
        self.joins = joins;
        self.routed.take();
        self.laid.take();
    }

    /// What the route of a room depends on beside the plan.
    fn key(&self, room: usize, counts: &[usize]) -> Key {
        (room, self.behind[room].iter().map(|&r| (counts[r], self.variant[r].key())).collect())
    }

    /// How many loops each room needs, from its area and the length of its leaders.
    pub fn first_counts(&self, job: &Job, problems: &mut Vec<Problem>) -> Vec<usize> {
        job.rooms
            .iter()
            .enumerate()
            .map(|(i, room)| {
                let Some(floor) = room.heated_floor().filter(|_| self.manifold[i].is_some()) else { return 0 };
                let limit = limit_of(job, i);
                let leader = 2.0 * self.way[i];
                if leader > 0.8 * limit {
                    problems.push(Problem::LeaderTooLong { room: i, leader_m: leader, limit_m: limit });
                    return 0;
                }
                let tube = 0.9 * self.parted.plan().heatable_m2[i] / floor.spacing_core_m;
                let wanted = floor.loops.map_or(0.0, |n| (f64::from(n) * self.parted.share(i)).round());
                (tube / (limit - leader)).ceil().max(wanted).clamp(1.0, MOST_LOOPS as f64) as usize
            })
            .collect()
    }

    /// The loops of all manifolds, with so many of each room.
    pub fn lay(&self, job: &Job, counts: &[usize]) -> Layout {
        self.parted.search.spend();
        let mut layout = Layout::default();
        for manifold in 0..job.manifolds.len() {
            self.lay_manifold(job, manifold, counts, &mut layout);
        }
        layout
    }

    fn lay_manifold(&self, job: &Job, manifold: usize, counts: &[usize], layout: &mut Layout) {
        let Some((root, ..)) = manifold_place(job, manifold) else { return };
        let (_, counts_of_tree) = self.key(root, counts);
        let key = (manifold, counts_of_tree);
        let own = remembered(&self.laid, key, || {
            let mut own = Layout::default();
            self.lay_manifold_anew(job, manifold, counts, &mut own);
            own
        });
        layout.loops.extend(own.loops);
        layout.problems.extend(own.problems);
    }

    fn lay_manifold_anew(&self, job: &Job, manifold: usize, counts: &[usize], layout: &mut Layout) {
        let Some((root, place, inward)) = manifold_place(job, manifold) else { return };
        if self.manifold[root] != Some(manifold) || self.through[root].is_some() {
            return;
        }
        let along = [inward[1], -inward[0]];
        let ends = [-0.3, 0.3].map(|s| [place[0] + along[0] * s, place[1] + along[1] * s]);
        let entry = Entry { ends, inward, manifold: true };
        let Some(route) = self.route(job, root, entry, counts, &mut layout.problems) else { return };
        // a room that was squared begins a little before its wall
        let from_wall = |points: &[Point]| -> Vec<Point> {
            let off = points.first().map_or(0.0, |p| (0..2).map(|k| (p[k] - place[k]) * inward[k]).sum());
            let start = points.first().filter(|_| off > 1e-6).map(|p| [0, 1].map(|k| p[k] - inward[k] * off));
            start.into_iter().chain(points.iter().copied()).collect()
        };
        let lanes: BTreeMap<(LoopKey, bool), Vec<Point>> =
            route.lanes.iter().map(|l| ((l.lane.key, l.lane.right), from_wall(&l.points))).collect();
        let chains: BTreeMap<LoopKey, &Chain> =
            route.chains.iter().filter_map(|c| Some((c.keys().next()?, c))).collect();
        // who faces the manifold sees the leftmost lane at the right
        for (k, lane) in route.lanes.iter().rev().filter(|l| !l.lane.right).enumerate() {
            let Some(chain) = chains.get(&lane.lane.key) else { continue };
            let Some(right) = chain.keys().next_back().and_then(|last| lanes.get(&(last, true))) else { continue };
            layout.loops.push(self.finish(job, manifold, k as u32 + 1, &from_wall(&lane.points), chain, right));
        }
    }

    fn route(
        &self,
        job: &Job,
        index: usize,
        entry: Entry,
        counts: &[usize],
        problems: &mut Vec<Problem>,
    ) -> Option<RoomRoute> {
        let (route, told) = remembered(&self.routed, self.key(index, counts), || {
            let mut told = vec![];
            (self.route_anew(job, index, entry, counts, &mut told), told)
        });
        problems.extend(told);
        route
    }

    fn route_anew(
        &self,
        job: &Job,
        index: usize,
        entry: Entry,
        counts: &[usize],
        problems: &mut Vec<Problem>,
    ) -> Option<RoomRoute> {
        if self.parted.search.is_given_up() {
            return None;
        }
        let exits = self.exits(job, index, counts, problems);
        if exits.is_empty() && counts[index] == 0 {
            return None;
        }
        let behind: Vec<LoopKey> = exits.iter().flat_map(|e| e.route.chains.iter().flat_map(Chain::keys)).collect();
        let task = self.task(job, index, entry, exits, counts)?;
        if task.lattice.is_some() && counts[index] > 0 && !task.frame.is_level() {
            problems.push(Problem::LatticeIdle { room: index });
        }
        match route_once(job, task, counts, problems) {
            Ok((route, trouble)) => {
                match trouble {
                    Some(Obstruction::TooSmall) if counts[index] == 1 && !behind.is_empty() => {
                        problems.push(Problem::ByLeaders { room: index });
                    }
                    Some(by) => problems.push(Problem::Blocked { room: index, by }),
                    None => {}
                }
                Some(route)
            }
            Err(by) => {
                let cut: BTreeSet<usize> = behind.iter().map(|k| k.room).chain([index]).collect();
                for room in cut.into_iter().filter(|&r| counts[r] > 0) {
                    problems.push(Problem::Blocked { room, by });
                }
                None
            }
        }
    }

    /// The doors of a room to rooms behind it, these routed.
    fn exits(&self, job: &Job, index: usize, counts: &[usize], problems: &mut Vec<Problem>) -> Vec<Exit> {
        let mut exits = Vec::new();
        for (p, passage) in self.passages.iter().enumerate() {
            let Some(side) = passage.rooms.iter().position(|&r| r == index) else { continue };
            let next = passage.rooms[1 - side];
            if self.through[next] != Some(p) || self.manifold[next] != self.manifold[index] {
                continue;
            }
            let (own_face, next_face, into) = if side == 0 {
                (passage.near, passage.far, passage.into)
            } else {
                (passage.far, passage.near, passage.direction.map(|v| -v))
            };
            let entry = Entry { ends: next_face, inward: into, manifold: false };
            if let Some(route) = self.route(job, next, entry, counts, problems)
                && !route.lanes.is_empty()
            {
                exits.push(Exit { at: middle(own_face), route });
            }
        }
        exits
    }

    /// What routing a room needs to know.
    fn task<'t>(
        &'t self,
        job: &'t Job,
        index: usize,
        entry: Entry,
        exits: Vec<Exit>,
        counts: &[usize],
    ) -> Option<RoomTask<'t>> {
        let room = &job.rooms[index];
        let floor = room.heated_floor();
        let tube = floor.and_then(|f| job.tube(&f.tube_id)).or(library::library().tubes.first())?;
        let variant = self.variant[index];
        let lattice = floor.and_then(|f| f.lattice);
        let (outline, entry, exits) = fitted(&room.outline, entry, exits);
        let quad = Frame::of_quad(entry.inward, &outline, middle(entry.ends));
        let quad = quad.filter(|_| lattice.is_none() && !variant.as_it_is);
        let (frame, scale) = quad.unwrap_or_else(|| (Frame::new(entry.inward), 1.0));
        let seen = |spacing_m: f64| spacing_m * variant.stretch / scale;
        let bays = match lattice {
            Some(FloorLattice::Joists { along, .. }) if frame.is_level() => Some(frame.axis(along) == 1),
            _ => None,
        };
        // round the corners of keep-outs the tube comes nearer than its straights
        let sweep = crate::layout::sweep_of(job, index).0;
        let round = |k: &KeepOut| round_corner(k.clearance_m, sweep) - k.clearance_m;
        let clearance_m = job.rules.wall_clearance_m;
        Some(RoomTask {
            index,
            outline,
            keep_outs: &room.keep_outs,
            frame,
            entry,
            exits,
            loops: counts[index],
            equal: job.rules.equal_loops,
            longest_m: limit_of(job, index) - 2.0 * self.way[index],
            core_m: seen(floor.map_or(0.2, |f| f.spacing_core_m)),
            edge_m: seen(floor.map_or(0.2, |f| f.spacing_edge_m)),
            band_m: job.rules.edge_band_m / scale,
            outside: self.parted.outside[index].clone(),
            taken: self.taken(job, index),
            pattern: floor.map(|f| f.pattern).filter(|p| *p != Pattern::Auto).unwrap_or(variant.pattern),
            packed: variant.packed,
            lattice,
            bays,
            joins: &self.joins,
            radius_m: tube.bend_radius_m,
            bulge_m: room.keep_outs.iter().map(round).fold(0.0, f64::max),
            wall_clearance_m: clearance_m.max(round_corner(clearance_m, tube.bend_radius_m)),
            lane_m: job.rules.lane_spacing_m.max(job.rules.min_gap_m).max(tube.od_m),
            gap_m: job.rules.min_gap_m.max(tube.od_m),
        })
    }

    /// Stretches of tube in or near a room that lie there already.
    fn taken(&self, job: &Job, index: usize) -> Vec<[Point; 2]> {
        let room = &job.rooms[index];
        let around = outline::bounds(&room.outline);
        let near = |w: &[Point]| outline::comes_near(w, around, 0.5);
        let here = self.parted.taken.iter().filter(|(level, _)| *level == room.level_id);
        here.flat_map(|(_, c)| c.windows(2)).filter(|w| near(w)).map(|w| [w[0], w[1]]).collect()
    }

    /// The loop of a chain with its two leaders. It counts as the loop of the room in which most of it lies.
    fn finish(
        &self,
        job: &Job,
        manifold: usize,
        port: u32,
        left: &[Point],
        chain: &Chain,
        right: &[Point],
    ) -> LaidLoop {
        let way = |points: &[Point]| points.windows(2).map(|w| distance(w[0], w[1])).sum::<f64>();
        let longest = chain.runs.iter().filter_map(|r| Some((r.field?, way(&r.points))));
        let key = longest.max_by(|a, b| a.1.total_cmp(&b.1)).map_or(LoopKey { room: 0, piece: 0 }, |l| l.0);
        let room = &job.rooms[key.room];
        let floor = room.heated_floor();
        let spacing_m = floor.map_or(0.2, |f| f.spacing_core_m);
        let (sweep, least) = sweep_of(job, key.room);
        let bent = |points: &[Point]| curve::length(&curve::bend(points, sweep, least));
        let riser_m = self.parted.riser_m[manifold];
        let mut along = riser_m + bent(left);
        let mut stretches: Vec<Stretch> = Vec::new();
        for r in &chain.runs {
            let (from_m, metres) = (along, bent(&r.points));
            along += metres;
            stretches.extend(r.field.map(|key| Stretch { room: key.room, from_m, field_m: metres }));
        }
        let mut corners: Vec<Point> = left.to_vec();
        corners.extend(chain.runs.iter().flat_map(|r| &r.points));
        corners.extend(right.iter().rev());
        let outside: Vec<[Point; 2]> =
            stretches.iter().flat_map(|s| self.parted.outside[s.room].iter().copied()).collect();
        if colder_late(&corners, &outside, job.rules.edge_band_m.max(0.5)) {
            corners.reverse();
            stretches.reverse();
            along += riser_m + bent(right);
            stretches.iter_mut().for_each(|s| s.from_m = along - s.from_m - s.field_m);
        }
        let mut curve = curve::bend(&corners, sweep, least);
        if curve::tighter_than(&curve, least).next().is_some() {
            corners = relax(&corners, least, job.rules.min_gap_m, [1, 1]);
            curve = curve::bend(&corners, sweep, least);
        }
        let mut leaders_in: BTreeMap<usize, f64> = BTreeMap::new();
        let between = chain.runs.iter().filter(|r| r.field.is_none()).map(|r| r.points.as_slice());
        for lane in [left, right].into_iter().chain(between) {
            for (r, metres) in metres_by_room(job, &room.level_id, lane) {
                if let Some(r) = r.filter(|r| stretches.iter().all(|s| s.room != *r)) {
                    *leaders_in.entry(r).or_default() += metres;
                }
            }
        }
        let loop_of = LaidLoop { manifold, port, riser_m: 2.0 * riser_m, piece: key.piece, ..LaidLoop::bare(key.room) };
        loop_of.along(spacing_m, corners, curve, stretches, leaders_in)
    }
}

/// What was made for a key before, or is made now.
fn remembered<K: Ord, V: Clone>(memo: &RefCell<BTreeMap<K, V>>, key: K, make: impl FnOnce() -> V) -> V {
    if let Some(known) = memo.borrow().get(&key) {
        return known.clone();
    }
    let made = make();
    memo.borrow_mut().insert(key, made.clone());
    made
}

/// Routes a room; where its leaders find no way, without the door that wants most of them, and so on: the rest is laid.
fn route_without(
    mut task: RoomTask,
    counts: &[usize],
    problems: &mut Vec<Problem>,
) -> Result<(RoomRoute, Option<Obstruction>), Obstruction> {
    loop {
        let by = match room::route(task.clone()) {
            Err(by) if task.exits.len() > 1 || task.loops > 0 && !task.exits.is_empty() => by,
            done => return done,
        };
        let most = (0..task.exits.len()).max_by_key(|&e| task.exits[e].route.lanes.len()).unwrap_or(0);
        let mut cut: Vec<usize> =
            task.exits.remove(most).route.chains.iter().flat_map(Chain::keys).map(|k| k.room).collect();
        cut.sort_unstable();
        cut.dedup();
        problems.extend(cut.into_iter().filter(|&r| counts[r] > 0).map(|room| Problem::Blocked { room, by }));
    }
}

/// What became of rooms that no leader passes, by all on which it depends: between two designs of a job, and between the ways
/// in which one is tried, most rooms stay as they are.
type Known = LruCache<Vec<u64>, Result<(RoomRoute, Option<Obstruction>), Obstruction>>;

/// So many rooms are remembered.
const KEPT: usize = 4096;

static KNOWN: LazyLock<Mutex<Known>> =
    LazyLock::new(|| Mutex::new(LruCache::new(NonZeroUsize::new(KEPT).unwrap_or(NonZeroUsize::MIN))));

/// Routes a room, or finds its route among those made before: the same task gives the same route.
fn route_once(
    job: &Job,
    task: RoomTask,
    counts: &[usize],
    problems: &mut Vec<Problem>,
) -> Result<(RoomRoute, Option<Obstruction>), Obstruction> {
    let Some(mut key) = task.key() else { return route_clear(job, task, counts, problems) };
    key.push(job.rules.wall_clearance_m.to_bits());
    let index = task.index;
    let known = || KNOWN.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
    let found = known().get(&key).cloned();
    let routed = found.unwrap_or_else(|| {
        // without exits nothing is told of other rooms
        let routed = route_clear(job, task, counts, &mut vec![]);
        known().put(key, routed.clone());
        routed
    });
    routed.map(|(route, trouble)| (route.of_room(index), trouble))
}

/// Routes a room so that turns that swell keep off its walls: on a lattice they may lean away from them; where they cannot,
/// all tube keeps so much more off the walls.
fn route_clear(
    job: &Job,
    task: RoomTask,
    counts: &[usize],
    problems: &mut Vec<Problem>,
) -> Result<(RoomRoute, Option<Obstruction>), Obstruction> {
    // spacings may come out a little tighter than wanted, to fit between walls
    let bulge_m = (task.radius_m - 0.85 * task.edge_m / 2.0).max(0.0);
    let square = region::is_square(&task.outline.iter().map(|&p| task.frame.local(p)).collect::<Vec<_>>());
    if square || bulge_m == 0.0 {
        let mut told = vec![];
        let mut routed = route_without(task.clone(), counts, &mut told);
        if let Ok((route, _)) = &mut routed
            && swells(&task, route)
        {
            lean(&task, route);
        }
        if !routed.as_ref().is_ok_and(|(route, _)| swells(&task, route)) {
            problems.extend(told);
            return routed;
        }
    }
    let roomy = RoomTask {
        bulge_m: bulge_m.max(task.bulge_m),
        wall_clearance_m: task.wall_clearance_m.max(job.rules.wall_clearance_m + bulge_m),
        ..task
    };
    route_without(roomy, counts, problems)
}

/// The outline of a room squared where it is nearly square, with the places at which tubes come and go moved onto its walls.
fn fitted(outline: &[Point], entry: Entry, mut exits: Vec<Exit>) -> (Vec<Point>, Entry, Vec<Exit>) {
    let Some((fitted, inward)) = squared(outline, entry.inward) else { return (outline.to_vec(), entry, exits) };
    let on_wall = |p: Point| outline::nearest(&fitted, p).map_or(p, |n| n.1);
    let middle = on_wall(middle(entry.ends));
    let along = [inward[1], -inward[0]];
    let half = distance(entry.ends[0], entry.ends[1]) / 2.0;
    let ends = [-half, half].map(|s| [0, 1].map(|k| middle[k] + along[k] * s));
    exits.iter_mut().for_each(|e| e.at = on_wall(e.at));
    (fitted, Entry { ends, inward, ..entry }, exits)
}

/// Distance from two walls at which an arc of that radius round their outward corner still keeps the clearance:
/// the arc comes nearer to the corner than its legs to the walls.
fn round_corner(clearance: f64, radius: f64) -> f64 {
    let root = std::f64::consts::SQRT_2;
    (clearance + radius * (root - 1.0)) / root
}

fn middle(ends: [Point; 2]) -> Point {
    [(ends[0][0] + ends[1][0]) / 2.0, (ends[0][1] + ends[1][1]) / 2.0]
}

/// Whether the route passes the outside walls in its second half rather than its first.
fn colder_late(corners: &[Point], outside: &[[Point; 2]], reach: f64) -> bool {
    let total: f64 = corners.windows(2).map(|w| distance(w[0], w[1])).sum();
    let (mut along, mut weight, mut moment) = (0.0, 0.0, 0.0);
    for w in corners.windows(2) {
        let l = distance(w[0], w[1]);
        let m = [(w[0][0] + w[1][0]) / 2.0, (w[0][1] + w[1][1]) / 2.0];
        if outside.iter().any(|e| segment::to_segment(m, e[0], e[1]) < reach) {
            weight += l;
            moment += l * (along + l / 2.0);
        }
        along += l;
    }
    weight > 0.0 && moment / weight > total / 2.0
}

//! Loops for the whole job: which manifold serves which room, how many loops a room needs, their routes and
//! curves. A pure function of the job; [`audit`] checks what comes out.
//!
//! Rooms at right angles are laid on a lattice, others along contours; leaders go along the walls through doorways and
//! sleeves; every manifold has a tree of rooms of its own, or a part of a room. What cannot be done is reported as a
//! [`Problem`] and the rest is laid.

pub mod audit;
pub mod contour;
pub mod curve;
pub mod fill;
pub mod hand;
mod kept;
mod lanes;
pub mod lattice;
mod parts;
pub mod places;
pub mod region;
pub mod room;
pub mod score;
pub mod shape;
mod skew;
mod square;

use crate::job::{Job, Point};
use crate::library::{self, Tube};
use crate::plan::{self, Passage, distance};
use room::{Entry, Exit, LoopKey, Obstruction, RoomRoute, RoomTask};
use std::cell::RefCell;
use std::collections::BTreeMap;

/// Points of a path stray at most this far from the exact arc, m.
const SAGITTA_M: f64 = 0.001;
/// A room is cut into at most this many loops.
const MOST_LOOPS: usize = 16;
/// The number of loops of each room settles in a few rounds; this many at most are tried.
const MOST_ROUNDS: usize = 24;
/// So many of them without a better layout end it.
const MOST_STALE: usize = 6;

/// One loop as it lies on the floor.
#[derive(Debug, Clone, PartialEq)]
pub struct LaidLoop {
    /// Index of the room that it heats.
    pub room: usize,
    /// Its number in the room.
    pub piece: usize,
    /// Index of its manifold.
    pub manifold: usize,
    /// Its port pair, from 1 at the left as one faces the manifold.
    pub port: u32,
    /// Which of the job's kept loops it is; none for one that the layout made.
    pub kept: Option<usize>,
    /// Spacing in the core of its room, m.
    pub spacing_m: f64,
    /// Corners of its route in flow order, before they are bent, m.
    pub corners: Vec<Point>,
    /// The exact curve in flow order.
    pub curve: Vec<curve::Segment>,
    /// Points along it, m.
    pub points: Vec<Point>,
    /// Length of the curve, m.
    pub length_m: f64,
    /// Both leaders: what does not lie in the field of its room, m.
    pub leader_length_m: f64,
    /// Leader metres in rooms other than its own, by index of the room.
    pub leaders_in: BTreeMap<usize, f64>,
    /// Arcs' turned angle over all, in quarter circles.
    pub quarter_turns: f64,
}

/// Why a room, or all of it, has no loops, or a manifold not enough ports.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs, reason = "each is worded where findings are")]
pub enum Problem {
    NoManifold {
        room: usize,
    },
    NoWay {
        room: usize,
    },
    ManifoldUnused {
        manifold: usize,
    },
    Blocked {
        room: usize,
        by: Obstruction,
    },
    /// Leaders that pass take so much of the floor that no loop of its own fits: they heat the room.
    ByLeaders {
        room: usize,
    },
    /// Loops that are locked leave no way to the room.
    ShutIn {
        room: usize,
    },
    LeaderTooLong {
        room: usize,
        leader_m: f64,
        limit_m: f64,
    },
    OverLimit {
        room: usize,
        length_m: f64,
        limit_m: f64,
    },
    Ports {
        manifold: usize,
        needed: usize,
    },
}

/// All loops of a job.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Layout {
    /// The loops, by manifold and port.
    pub loops: Vec<LaidLoop>,
    /// What could not be done.
    pub problems: Vec<Problem>,
}

/// Longest loop that the rules allow for a tube, m.
pub fn longest_loop(job: &Job, tube: &Tube) -> f64 {
    job.rules.longest_loop_m.get(&tube.id).copied().unwrap_or(tube.longest_loop_m)
}

/// Where a manifold hangs and which way its room lies; None when it is beyond its wall.
pub fn manifold_place(job: &Job, manifold: usize) -> Option<(usize, Point, Point)> {
    let m = &job.manifolds[manifold];
    let room = job.rooms.iter().position(|r| r.id == m.room_id)?;
    let edge = plan::edges(&job.rooms[room]).into_iter().find(|e| e.index == m.edge)?;
    let (at, _) = edge.stretch(m.offset_m, 0.0);
    (0.0..=edge.length()).contains(&at).then(|| (room, edge.at(at), edge.inward()))
}

/// Lays the loops of a checked job.
pub fn lay_out(job: &Job) -> Layout {
    let mut layout = parts::lay_out(job);
    if !job.loops.is_empty() {
        yield_to_kept(job, &mut layout);
    }
    for manifold in 0..job.manifolds.len() {
        let needed = layout.loops.iter().filter(|l| l.manifold == manifold).count();
        if needed > job.manifolds[manifold].ports as usize {
            layout.problems.push(Problem::Ports { manifold, needed });
        }
    }
    layout
}

/// Beside kept loops the floor that is left may be too odd for the rest: what would break the law there is not laid, and
/// its room is said to be shut in.
fn yield_to_kept(job: &Job, layout: &mut Layout) {
    for _ in 0..layout.loops.len() {
        let breaches = audit::audit(job, &layout.loops);
        let counted = |b: &&audit::Breach| !matches!(b.kind, audit::BreachKind::Length | audit::BreachKind::PathSum);
        // the loop with most breaches goes first: it may be the cause of its neighbours'
        let mut told = vec![0usize; layout.loops.len()];
        for b in breaches.iter().filter(counted) {
            b.loops.iter().for_each(|&i| told[i] += 1);
        }
        let worst = (0..told.len()).filter(|&i| told[i] > 0 && layout.loops[i].kept.is_none()).max_by_key(|&i| told[i]);
        let Some(worst) = worst else { return };
        let problem = Problem::ShutIn { room: layout.loops.remove(worst).room };
        if !layout.problems.contains(&problem) {
            layout.problems.push(problem);
        }
    }
}

/// Lays the loops of a job in whose rooms hangs one manifold at most.
fn lay_parts(parted: &parts::Parted) -> Layout {
    let job = &parted.job;
    let mut fixed = Vec::new();
    let plan = Tree::of(parted, &mut fixed);
    let mut counts = plan.first_counts(job, &mut fixed);
    // a room cannot be cut into more loops than have room side by side
    let mut most = vec![MOST_LOOPS; job.rooms.len()];
    // more loops do not always help in a room of awkward shape: the best of the rounds is kept
    let mut best: Option<(f64, Layout)> = None;
    let mut stale = 0;
    for round in 0.. {
        let mut layout = Layout { loops: vec![], problems: fixed.clone() };
        for manifold in 0..job.manifolds.len() {
            plan.lay_manifold(job, manifold, &counts, &mut layout);
        }
        let mut again = false;
        for p in &layout.problems {
            if let Problem::Blocked { room, by: Obstruction::TooSmall } = *p
                && counts[room] > 1
            {
                counts[room] -= 1;
                most[room] = counts[room];
                again = true;
            }
        }
        // a room whose loops came out too long gets one more
        let mut over: BTreeMap<usize, (f64, f64)> = BTreeMap::new();
        for l in &layout.loops {
            let limit = limit_of(job, l.room);
            if l.length_m > limit {
                let worst = over.entry(l.room).or_insert((l.length_m, limit));
                worst.0 = worst.0.max(l.length_m);
            }
        }
        for (&room, (length, limit)) in &over {
            if counts[room] < most[room] {
                // as many as the longest loop asks for, but no leap: the leaders of one more loop count too
                let wanted = (counts[room] as f64 * (length / limit).min(1.5)).ceil() as usize;
                counts[room] = wanted.clamp(counts[room] + 1, most[room]);
                again = true;
            }
        }
        let blocked = layout.problems.iter().filter(|p| matches!(p, Problem::Blocked { .. })).count();
        let excess: f64 = over.values().map(|(length, limit)| length / limit).sum();
        let by_leaders = layout.problems.iter().filter(|p| matches!(p, Problem::ByLeaders { .. })).count();
        let score = 1e3 * blocked as f64 + excess + 0.5 * by_leaders as f64;
        for (room, (length_m, limit_m)) in over {
            layout.problems.push(Problem::OverLimit { room, length_m, limit_m });
        }
        stale += 1;
        if best.as_ref().is_none_or(|b| score < b.0) {
            best = Some((score, layout));
            stale = 0;
        }
        if !again || round >= MOST_ROUNDS || stale > MOST_STALE {
            break;
        }
    }
    best.map(|b| b.1).unwrap_or_default()
}

fn limit_of(job: &Job, room: usize) -> f64 {
    let tube = job.rooms[room].heated_floor().and_then(|f| library::tube(&f.tube_id));
    tube.map_or(f64::INFINITY, |t| longest_loop(job, t))
}

/// How the tubes reach the rooms: for each manifold a tree of rooms joined by passages.
struct Tree<'a> {
    parted: &'a parts::Parted,
    passages: Vec<Passage>,
    /// Manifold that serves a room, if any can.
    manifold: Vec<Option<usize>>,
    /// Passage by which the tubes come into a room; none in the manifold's own room.
    through: Vec<Option<usize>>,
    /// Rough length of the way from the manifold, m.
    way: Vec<f64>,
    /// Rooms whose outline does not cross itself.
    usable: Vec<bool>,
    /// For each room, itself and the rooms whose tubes pass it.
    behind: Vec<Vec<usize>>,
    /// Rooms routed before: from one round to the next only a few change the number of their loops.
    routed: RefCell<BTreeMap<(usize, Vec<usize>), Routed>>,
    /// The same for whole manifolds, with their loops.
    laid: RefCell<BTreeMap<(usize, Vec<usize>), Layout>>,
}

/// What became of a room, and what is to be said of it and those behind it.
type Routed = (Option<RoomRoute>, Vec<Problem>);

impl<'a> Tree<'a> {
    /// Shortest ways over the doorways from all manifolds at once.
    fn of(parted: &'a parts::Parted, problems: &mut Vec<Problem>) -> Tree<'a> {
        let job = &parted.job;
        let n = job.rooms.len();
        let passages = plan::passages(job);
        let usable: Vec<bool> = job.rooms.iter().map(plan::is_simple).collect();
        let mut tree = Tree {
            parted,
            passages,
            manifold: vec![None; n],
            through: vec![None; n],
            way: vec![f64::INFINITY; n],
            usable,
            behind: vec![],
            routed: RefCell::default(),
            laid: RefCell::default(),
        };
        let mut at: Vec<Point> = vec![[0.0; 2]; n];
        for manifold in 0..job.manifolds.len() {
            match manifold_place(job, manifold) {
                Some((room, place, _)) if tree.usable[room] && tree.manifold[room].is_none() => {
                    tree.manifold[room] = Some(manifold);
                    tree.way[room] = 0.0;
                    at[room] = place;
                }
                _ => problems.push(Problem::ManifoldUnused { manifold }),
            }
        }
        let mut open: Vec<usize> = (0..n).filter(|&r| tree.way[r] == 0.0).collect();
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
                // along the walls rather than straight across
                let way = tree.way[room]
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
            if room.heated_floor().is_none() || !plan::is_simple(room) {
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

    /// What the route of a room depends on beside the plan.
    fn key(&self, room: usize, counts: &[usize]) -> (usize, Vec<usize>) {
        (room, self.behind[room].iter().map(|&r| counts[r]).collect())
    }

    /// How many loops each room needs, from its area and the length of its leaders.
    fn first_counts(&self, job: &Job, problems: &mut Vec<Problem>) -> Vec<usize> {
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
                let tube = 0.9 * plan::heatable_area(room) / floor.spacing_core_m;
                let wanted = floor.loops.map_or(0.0, |n| (f64::from(n) * self.parted.share(i)).round());
                (tube / (limit - leader)).ceil().max(wanted).clamp(1.0, MOST_LOOPS as f64) as usize
            })
            .collect()
    }

    fn lay_manifold(&self, job: &Job, manifold: usize, counts: &[usize], layout: &mut Layout) {
        let Some((root, ..)) = manifold_place(job, manifold) else { return };
        let (_, counts_of_tree) = self.key(root, counts);
        let key = (manifold, counts_of_tree);
        let known = self.laid.borrow().get(&key).cloned();
        let own = known.unwrap_or_else(|| {
            let mut own = Layout::default();
            self.lay_manifold_anew(job, manifold, counts, &mut own);
            self.laid.borrow_mut().insert(key, own.clone());
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
        let mut lanes: BTreeMap<LoopKey, [Vec<Point>; 2]> = BTreeMap::new();
        let mut order: Vec<LoopKey> = Vec::new();
        for l in route.lanes {
            let pair = lanes.entry(l.lane.key).or_default();
            pair[usize::from(l.lane.right)] = l.points;
            if !l.lane.right {
                order.push(l.lane.key);
            }
        }
        let fields: BTreeMap<LoopKey, Vec<Point>> = route.fields.into_iter().collect();
        // who faces the manifold sees the leftmost lane at the right
        for (k, key) in order.iter().rev().enumerate() {
            let (Some([left, right]), Some(field)) = (lanes.get(key), fields.get(key)) else { continue };
            layout.loops.push(self.finish(job, manifold, k as u32 + 1, *key, left, field, right));
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
        let key = self.key(index, counts);
        let known = self.routed.borrow().get(&key).cloned();
        let (route, told) = known.unwrap_or_else(|| {
            let mut told = vec![];
            let routed = (self.route_anew(job, index, entry, counts, &mut told), told);
            self.routed.borrow_mut().insert(key, routed.clone());
            routed
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
        let mut exits = Vec::new();
        for (p, passage) in self.passages.iter().enumerate() {
            let Some(side) = passage.rooms.iter().position(|&r| r == index) else { continue };
            let next = passage.rooms[1 - side];
            if self.through[next] != Some(p) || self.manifold[next] != self.manifold[index] {
                continue;
            }
            let d = passage.direction;
            let far = passage.near.map(|q| [q[0] + d[0] * passage.thickness_m, q[1] + d[1] * passage.thickness_m]);
            let (own_face, next_face, into) =
                if side == 0 { (passage.near, far, d) } else { (far, passage.near, [-d[0], -d[1]]) };
            let entry = Entry { ends: next_face, inward: into, manifold: false };
            if let Some(route) = self.route(job, next, entry, counts, problems)
                && !route.lanes.is_empty()
            {
                exits.push(Exit { at: middle(own_face), route });
            }
        }
        if exits.is_empty() && counts[index] == 0 {
            return None;
        }
        let room = &job.rooms[index];
        let floor = room.heated_floor();
        let tube = floor.and_then(|f| library::tube(&f.tube_id)).or(library::library().tubes.first())?;
        let behind: Vec<LoopKey> = exits.iter().flat_map(|e| e.route.fields.iter().map(|f| f.0)).collect();
        let edge_m = floor.map_or(0.2, |f| f.spacing_edge_m);
        // spacings may come out this much tighter than wanted, to fit between walls
        let bulge_m = (tube.bend_radius_m - 0.85 * edge_m / 2.0).max(0.0);
        let task = RoomTask {
            index,
            room,
            entry,
            exits,
            loops: counts[index],
            core_m: floor.map_or(0.2, |f| f.spacing_core_m),
            edge_m,
            band_m: job.rules.edge_band_m,
            outside: self.parted.outside[index].clone(),
            taken: self.taken(job, index),
            pattern: floor.map_or(crate::job::Pattern::Auto, |f| f.pattern),
            radius_m: tube.bend_radius_m,
            bulge_m,
            wall_clearance_m: (job.rules.wall_clearance_m + bulge_m)
                .max(round_corner(job.rules.wall_clearance_m, tube.bend_radius_m)),
            lane_m: job.rules.lane_spacing_m.max(job.rules.min_gap_m).max(tube.od_m),
            gap_m: job.rules.min_gap_m.max(tube.od_m),
        };
        match route_without(task, counts, problems) {
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
                let mut cut: Vec<usize> = behind.iter().map(|k| k.room).collect();
                cut.push(index);
                cut.sort_unstable();
                cut.dedup();
                for room in cut.into_iter().filter(|&r| counts[r] > 0) {
                    problems.push(Problem::Blocked { room, by });
                }
                None
            }
        }
    }

    /// Stretches of tube in or near a room that lie there already.
    fn taken(&self, job: &Job, index: usize) -> Vec<[Point; 2]> {
        let room = &job.rooms[index];
        let [x0, y0, x1, y1] = plan::storeys::bounds(&room.outline);
        let near = |w: &[Point]| {
            let [a0, b0, a1, b1] = plan::storeys::bounds(w);
            a0 < x1 + 0.5 && a1 > x0 - 0.5 && b0 < y1 + 0.5 && b1 > y0 - 0.5
        };
        let here = self.parted.taken.iter().filter(|(level, _)| *level == room.level_id);
        here.flat_map(|(_, c)| c.windows(2)).filter(|w| near(w)).map(|w| [w[0], w[1]]).collect()
    }

    #[allow(clippy::too_many_arguments, reason = "the parts of one loop, each used once")]
    fn finish(
        &self,
        job: &Job,
        manifold: usize,
        port: u32,
        key: LoopKey,
        left: &[Point],
        field: &[Point],
        right: &[Point],
    ) -> LaidLoop {
        let room = &job.rooms[key.room];
        let floor = room.heated_floor();
        let spacing_m = floor.map_or(0.2, |f| f.spacing_core_m);
        let (sweep, least) = sweep_of(job, key.room);
        let mut corners: Vec<Point> = left.to_vec();
        corners.extend_from_slice(field);
        corners.extend(right.iter().rev());
        if colder_late(&corners, &self.parted.outside[key.room], job.rules.edge_band_m.max(0.5)) {
            corners.reverse();
        }
        let mut curve = curve::bend(&corners, sweep, least);
        if curve::tighter_than(&curve, least).next().is_some() {
            corners = contour::relax(&corners, least, job.rules.min_gap_m, [1, 1]);
            curve = curve::bend(&corners, sweep, least);
        }
        let field_m: f64 = curve::length(&curve::bend(field, sweep, least));
        let leader_m = curve::length(&curve) - field_m;
        let mut leaders_in: BTreeMap<usize, f64> = BTreeMap::new();
        for lane in [left, right] {
            for (r, metres) in metres_by_room(job, &room.level_id, lane) {
                if let Some(r) = r.filter(|&r| r != key.room) {
                    *leaders_in.entry(r).or_default() += metres;
                }
            }
        }
        let loop_of = LaidLoop { manifold, port, piece: key.piece, ..LaidLoop::bare(key.room) };
        loop_of.along(spacing_m, corners, curve, leader_m, leaders_in)
    }
}

impl LaidLoop {
    fn bare(room: usize) -> LaidLoop {
        LaidLoop {
            room,
            piece: 0,
            manifold: 0,
            port: 0,
            kept: None,
            spacing_m: 0.0,
            corners: vec![],
            curve: vec![],
            points: vec![],
            length_m: 0.0,
            leader_length_m: 0.0,
            leaders_in: BTreeMap::new(),
            quarter_turns: 0.0,
        }
    }

    /// The loop along other corners.
    fn rerouted(&self, job: &Job, corners: Vec<Point>, leader_m: f64) -> LaidLoop {
        let (sweep, least) = sweep_of(job, self.room);
        let curve = curve::bend(&corners, sweep, least);
        let bare = LaidLoop {
            piece: self.piece,
            manifold: self.manifold,
            port: self.port,
            kept: self.kept,
            ..LaidLoop::bare(self.room)
        };
        bare.along(self.spacing_m, corners, curve, leader_m, self.leaders_in.clone())
    }

    /// The loop along a curve.
    fn along(
        self,
        spacing_m: f64,
        corners: Vec<Point>,
        curve: Vec<curve::Segment>,
        leader_m: f64,
        leaders_in: BTreeMap<usize, f64>,
    ) -> LaidLoop {
        let turned = |s: &curve::Segment| match s {
            curve::Segment::Arc { sweep, .. } => sweep.abs() / std::f64::consts::FRAC_PI_2,
            curve::Segment::Line(..) => 0.0,
        };
        let length_m = curve::length(&curve);
        LaidLoop {
            spacing_m,
            corners: curve::straighten(&corners),
            points: curve::apart(&curve::points(&curve, SAGITTA_M)),
            length_m,
            leader_length_m: leader_m.clamp(0.0, length_m),
            leaders_in,
            quarter_turns: curve.iter().map(turned).sum(),
            curve,
            ..self
        }
    }
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
        let mut cut: Vec<usize> = task.exits.remove(most).route.fields.iter().map(|f| f.0.room).collect();
        cut.sort_unstable();
        cut.dedup();
        problems.extend(cut.into_iter().filter(|&r| counts[r] > 0).map(|room| Problem::Blocked { room, by }));
    }
}

/// How wide a room's tube is swept round corners where there is room for it, and the least radius it takes, m.
fn sweep_of(job: &Job, room: usize) -> (f64, f64) {
    let floor = job.rooms[room].heated_floor();
    let least = floor.and_then(|f| library::tube(&f.tube_id)).map_or(0.08, |t| t.bend_radius_m);
    let spacing_m = floor.map_or(0.2, |f| f.spacing_core_m);
    // a wider sweep would cut the corner at a notch closer than tube may come to it
    (least.max((spacing_m / 2.0).min(job.rules.wall_clearance_m)), least)
}

/// Metres of a way in each room of a level; none for what lies outside all.
fn metres_by_room(job: &Job, level_id: &str, way: &[Point]) -> BTreeMap<Option<usize>, f64> {
    let mut out: BTreeMap<Option<usize>, f64> = BTreeMap::new();
    let mut here: Option<usize> = None;
    for w in way.windows(2) {
        let l = distance(w[0], w[1]);
        let n = (l / 0.1).ceil().max(1.0);
        for k in 0..n as usize {
            let x = (k as f64 + 0.5) / n;
            let p = [w[0][0] + (w[1][0] - w[0][0]) * x, w[0][1] + (w[1][1] - w[0][1]) * x];
            if here.is_none_or(|r| !audit::contains(&job.rooms[r], p)) {
                here = job.rooms.iter().position(|r| r.level_id == level_id && audit::contains(r, p));
            }
            *out.entry(here).or_default() += l / n;
        }
    }
    out
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

/// The ends of every piece of outside wall of a room.
fn outside_walls(job: &Job, index: usize) -> Vec<[Point; 2]> {
    let edges = plan::edges(&job.rooms[index]);
    plan::wall_pieces(job, index)
        .iter()
        .filter(|p| p.is_outside())
        .filter_map(|p| edges.iter().find(|e| e.index == p.edge).map(|e| [e.at(p.from_m), e.at(p.to_m)]))
        .collect()
}

/// Whether the route passes the outside walls in its second half rather than its first.
fn colder_late(corners: &[Point], outside: &[[Point; 2]], reach: f64) -> bool {
    let total: f64 = corners.windows(2).map(|w| distance(w[0], w[1])).sum();
    let (mut along, mut weight, mut moment) = (0.0, 0.0, 0.0);
    for w in corners.windows(2) {
        let l = distance(w[0], w[1]);
        let m = [(w[0][0] + w[1][0]) / 2.0, (w[0][1] + w[1][1]) / 2.0];
        if outside.iter().any(|e| audit::to_segment(m, e[0], e[1]) < reach) {
            weight += l;
            moment += l * (along + l / 2.0);
        }
        along += l;
    }
    weight > 0.0 && moment / weight > total / 2.0
}

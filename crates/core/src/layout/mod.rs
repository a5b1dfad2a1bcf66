//! Loops for the whole job: which manifold serves which room, how many loops a room needs, their routes and
//! curves. A pure function of the job; [`rules::audit`] checks what comes out.
//!
//! Rooms at right angles are laid on a lattice, others along contours; leaders go along the walls through doorways and
//! sleeves; every manifold has a tree of rooms of its own, or a part of a room. What cannot be done is reported as a
//! [`Problem`] and the rest is laid.
//!
//! ```
//! use fuoco_core::layout::{Problem, lay_out};
//! use fuoco_core::plan::Plan;
//! use fuoco_core::samples::{box_room, doorway, job_of, manifold};
//! let mut hall = box_room("hall", 0.0, 0.0, 5.0, 4.0);
//! hall.openings.push(doorway("d", 1, 1.0, 0.9));
//! let mut job = job_of(vec![hall, box_room("study", 5.12, 0.0, 9.0, 4.0)]);
//! // without a manifold nothing can be laid
//! assert!(lay_out(&job, &Plan::of(&job)).loops.is_empty());
//! job.manifolds.push(manifold("m", "A", "hall", 0, 2.5));
//! let layout = lay_out(&job, &Plan::of(&job));
//! assert!(layout.problems.is_empty() && (0..2).all(|room| layout.loops.iter().any(|l| l.heats(room))));
//! # let _: &[Problem] = &layout.problems;
//! ```

pub mod curve;
pub mod edit;
pub mod fill;
pub mod rules;
pub mod topology;

use crate::geometry::distance;
use crate::geometry::outline::within;
use crate::job::{HouseRules, Job, Manifold, Pattern, Point};
use crate::library::Tube;
use crate::plan;
use crate::plan::Plan;
use crate::watch::Watch;
use edit::kept;
use rules::audit;
use std::collections::{BTreeMap, BTreeSet};
use topology::task::Obstruction;
use topology::tree::{Tree, Variant};
use topology::{parts, share};

/// Points of a path stray at most this far from the exact arc, m.
const SAGITTA_M: f64 = 0.001;
/// A room is cut into at most this many loops.
const MOST_LOOPS: usize = 16;
/// The number of loops of each room settles in a few rounds; this many at most are tried.
const MOST_ROUNDS: usize = 24;
/// Where a room would violate the layout rules, its spacing is tried so much wider or closer.
const OTHER_SPACINGS: [f64; 8] = [1.05, 0.96, 1.1, 0.92, 1.15, 1.2, 1.35, 1.6];
/// Then such patterns, where it may choose.
const OTHER_PATTERNS: [Pattern; 3] = [Pattern::Serpentine, Pattern::DoubleSerpentine, Pattern::Counterflow];
/// And at last few lines, which is said.
const FEW_LINES: [f64; 2] = [2.0, 3.0];
/// A manifold's tubes may stand so far off its middle, m.
const EVENLY_M: f64 = 0.12;
/// So many rounds without a better layout end it.
const MOST_STALE: usize = 6;

/// One loop as it lies on the floor.
#[derive(Debug, Clone, PartialEq)]
pub struct LaidLoop {
    /// Index of the room that it heats, or most of it does; its tube is the loop's.
    pub room: usize,
    /// The rooms that it heats, in flow order: one, unless small rooms of a thermostat zone share it.
    pub stretches: Vec<Stretch>,
    /// Its number in the room.
    pub piece: usize,
    /// Index of its manifold.
    pub manifold: usize,
    /// Its port pair, from 1 at the left as one faces the manifold.
    pub port: u32,
    /// Tube between the manifold and the riser by which it comes to its level, both ways, m.
    pub riser_m: f64,
    /// Which of the job's locked loops it is; none for one that the layout made.
    pub kept: Option<usize>,
    /// Field spacing of its room, m.
    pub spacing_m: f64,
    /// Corners of its route in flow order, before they are bent, m.
    pub corners: Vec<Point>,
    /// The exact curve in flow order.
    pub curve: Vec<curve::Segment>,
    /// Points along it, m.
    pub points: Vec<Point>,
    /// Length of the curve and of its riser, m.
    pub length_m: f64,
    /// Both leaders: what does not lie in the field of its room, m.
    pub leader_length_m: f64,
    /// Leader metres in rooms other than its own, by index of the room.
    pub leaders_in: BTreeMap<usize, f64>,
    /// Arcs' turned angle over all, in quarter circles.
    pub quarter_turns: f64,
}

/// The field of a loop in one of the rooms that it heats.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Stretch {
    /// Index of the room.
    pub room: usize,
    /// Metres of the loop before the field, to some centimetres.
    pub from_m: f64,
    /// Tube of the field, m.
    pub field_m: f64,
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
    /// A locked loop (by its place in the job) is left out: the floor of its room is not heated.
    KeptIdle {
        kept: usize,
    },
    /// Tubes come into the room through a slanting wall: they cannot follow the lattice.
    LatticeIdle {
        room: usize,
    },
    /// A split of the room's floor cannot be made.
    SplitIdle {
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
    place_of(job, &job.manifolds[manifold])
}

pub(crate) fn place_of(job: &Job, m: &Manifold) -> Option<(usize, Point, Point)> {
    let room = job.rooms.iter().position(|r| r.id == m.room_id)?;
    let edge = plan::edges(&job.rooms[room]).into_iter().find(|e| e.index == m.edge)?;
    let (at, _) = edge.stretch(m.offset_m, 0.0);
    (0.0..=edge.length()).contains(&at).then(|| (room, edge.at(at), edge.inward()))
}

/// Lays the loops of a job, its plan read. The job must have passed its check.
pub fn lay_out(job: &Job, plan: &Plan) -> Layout {
    lay_out_watched(job, plan, &Watch::default())
}

/// The same, as long as somebody waits for it. What is given up is worth nothing.
pub fn lay_out_watched(job: &Job, plan: &Plan, watch: &Watch) -> Layout {
    let mut layout = lay_whole(job, plan, watch);
    if watch.is_stopped() {
        return layout;
    }
    if share::any_invalid(job, plan, &layout) {
        // whole rooms may not allow what their parts did: rather loops of their own than a violation
        let rules = HouseRules { share_below_m: 0.0, ..job.rules.clone() };
        layout = lay_whole(&Job { rules, ..job.clone() }, plan, watch);
    }
    if !job.loops.is_empty() {
        yield_to_kept(job, plan, &mut layout);
    }
    for manifold in 0..job.manifolds.len() {
        // a locked loop may have been given a port that the manifold lacks
        let needed = layout.loops.iter().filter(|l| l.manifold == manifold).map(|l| l.port as usize).max().unwrap_or(0);
        if needed > job.manifolds[manifold].ports as usize {
            layout.problems.push(Problem::Ports { manifold, needed });
        }
    }
    layout
}

/// Lays the loops of a job with any number of manifolds in its rooms.
fn lay_whole(job: &Job, plan: &Plan, watch: &Watch) -> Layout {
    let mut parted = parts::Parted::uncut(job, plan, watch);
    let mut told = Vec::new();
    let kept = kept::laid(job, &mut told);
    parted.share_rooms();
    parted.split_rooms(job, &mut told);
    let mut parted = kept::carve(parted, &kept);
    let mut layout = lay_parts(&parted, kinked);
    for manifold in 0..parted.job.manifolds.len() {
        // floor is given up before a neck only where the room cannot be laid with it
        let neck = if layout.problems.is_empty() { None } else { parted.past_neck(manifold) };
        let neck = neck.map(|tried| (lay_parts(&tried, kinked), tried));
        for (other, tried) in [across_evenly(&parted, manifold), neck].into_iter().flatten() {
            if tried.cost(&other) < parted.cost(&layout) {
                (parted, layout) = (tried, other);
            }
        }
    }
    // the whole set of rules is dear: it is asked once, of the best
    if !invalid(&parted.job, parted.plan(), &layout).is_empty() {
        layout = lay_parts(&parted, invalid);
    }
    let mut whole = parted.whole(job, layout, kept);
    whole.problems.extend(told);
    whole
}

/// A manifold's room cut across before it, so that its tubes stand evenly to both sides of its middle, and laid.
fn across_evenly(parted: &parts::Parted, manifold: usize) -> Option<(Layout, parts::Parted)> {
    let cut = parted.cut_across(manifold, 0.0)?;
    let laid = lay_parts(&cut, kinked);
    let aside = cut.off_middle(manifold, &laid);
    let even = (aside.abs() > EVENLY_M).then(|| parted.cut_across(manifold, aside)).flatten();
    Some(even.map_or((laid, cut), |even| (lay_parts(&even, kinked), even)))
}

/// Beside locked loops the floor that is left may be too odd for the rest: what would violate the layout rules there is not laid, and
/// its room is said to be shut in.
fn yield_to_kept(job: &Job, plan: &Plan, layout: &mut Layout) {
    let rooms = |l: &LaidLoop| l.rooms().collect::<BTreeSet<usize>>();
    let passed: BTreeSet<usize> = layout.loops.iter().filter(|l| l.kept.is_some()).flat_map(rooms).collect();
    let beside = |l: &LaidLoop| l.kept.is_none() && !rooms(l).is_disjoint(&passed);
    for _ in 0..layout.loops.len() {
        let violations = audit::audit(job, plan, &layout.loops);
        let counted =
            |b: &&audit::Violation| !matches!(b.kind, audit::ViolationKind::Length | audit::ViolationKind::PathSum);
        // the loop with most violations goes first: it may be the cause of its neighbours'
        let mut told = vec![0usize; layout.loops.len()];
        for b in violations.iter().filter(counted) {
            b.loops.iter().for_each(|&i| told[i] += 1);
        }
        let worst = (0..told.len()).filter(|&i| told[i] > 0 && beside(&layout.loops[i])).max_by_key(|&i| told[i]);
        let Some(worst) = worst else { return };
        let problem = Problem::ShutIn { room: layout.loops.remove(worst).room };
        if !layout.problems.contains(&problem) {
            layout.problems.push(problem);
        }
    }
}

/// Lays the loops of a job in whose rooms hangs one manifold at most; rooms that violate the layout rules as it is told are mended.
fn lay_parts(parted: &parts::Parted, rules: RuleCheck) -> Layout {
    let job = &parted.job;
    let mut fixed = Vec::new();
    let mut tree = Tree::of(parted, &mut fixed);
    let mut counts = tree.first_counts(job, &mut fixed);
    // a room cannot be cut into more loops than have room side by side
    let mut most = vec![MOST_LOOPS; job.rooms.len()];
    // more loops do not always help in a room of awkward shape: the best of the rounds is kept
    let mut best: Option<(f64, Layout, Vec<usize>)> = None;
    let mut stale = 0;
    for round in 0.. {
        let layout = tree.lay(job, &counts);
        let tried = counts.clone();
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
        let over = over_limit(job, &layout);
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
        stale += 1;
        if best.as_ref().is_none_or(|b| score < b.0) {
            best = Some((score, layout, tried));
            stale = 0;
        }
        if !again || round >= MOST_ROUNDS || stale > MOST_STALE || parted.search.is_over() {
            break;
        }
    }
    let Some((_, layout, counts)) = best else { return Layout::default() };
    let layout = mended(parted, &mut tree, &counts, layout, rules);
    let mut layout = share::share(parted, &mut tree, &counts, layout);
    let over = over_limit(job, &layout).into_iter();
    layout.problems.extend(fixed);
    layout.problems.extend(over.map(|(room, (length_m, limit_m))| Problem::OverLimit { room, length_m, limit_m }));
    layout
}

/// Tells which rooms' loops violate the layout rules, and how often.
type RuleCheck = fn(&Job, &Plan, &Layout) -> BTreeMap<usize, usize>;

/// Rooms whose loops bend tighter than their tube, and how often.
fn kinked(job: &Job, _: &Plan, layout: &Layout) -> BTreeMap<usize, usize> {
    let mut out = BTreeMap::new();
    for l in &layout.loops {
        let tight = curve::tighter_than(&l.curve, sweep_of(job, l.room).1 - 1e-4).count();
        if tight > 0 {
            *out.entry(l.room).or_default() += tight;
        }
    }
    out
}

/// Rooms whose loops violate the layout rules in any way but by their length.
fn invalid(job: &Job, plan: &Plan, layout: &Layout) -> BTreeMap<usize, usize> {
    let mut out = kinked(job, plan, layout);
    for b in audit::audit(job, plan, &layout.loops) {
        use audit::ViolationKind::{Gap, Joist, KeepOut, Wall};
        if matches!(b.kind, Gap | Joist | KeepOut | Wall) {
            b.loops.iter().for_each(|&l| *out.entry(layout.loops[l].room).or_default() += 1);
        }
    }
    out
}

/// Ways in which a room is laid otherwise, from the least change to the greatest.
fn variants() -> impl Iterator<Item = Variant> {
    let asked = Variant::ASKED;
    let packed = Variant { packed: true, ..asked };
    let as_it_is = Variant { as_it_is: true, ..asked };
    let spaced = |stretch: f64| Variant { stretch, ..asked };
    let patterns = OTHER_PATTERNS.map(|pattern| Variant { pattern, ..asked });
    let few = FEW_LINES.map(spaced);
    std::iter::once(packed).chain(OTHER_SPACINGS.map(spaced)).chain([as_it_is]).chain(patterns).chain(few)
}

/// Rooms that violate the layout rules, or whose loops are too long, laid otherwise as far as that helps.
fn mended(parted: &parts::Parted, tree: &mut Tree, counts: &[usize], layout: Layout, rules: RuleCheck) -> Layout {
    let job = &parted.job;
    let judged = |layout: &Layout| {
        let mut out = rules(job, parted.plan(), layout);
        over_limit(job, layout).into_keys().for_each(|room| *out.entry(room).or_default() += 1);
        out
    };
    let mut best = layout;
    let mut left = judged(&best);
    for variant in variants() {
        if left.is_empty() || parted.search.is_over() {
            break;
        }
        let before = tree.variant.clone();
        left.keys().for_each(|&room| tree.variant[room] = variant);
        let mut layout = tree.lay(job, counts);
        let mut tried = judged(&layout);
        // each room by itself: what helps one may harm another
        let helped = |room: usize| tried.get(&room).is_none_or(|n| *n < left[&room]);
        let harmed: Vec<usize> = left.keys().copied().filter(|&room| !helped(room)).collect();
        if !harmed.is_empty() && harmed.len() < left.len() {
            harmed.into_iter().for_each(|room| tree.variant[room] = before[room]);
            layout = tree.lay(job, counts);
            tried = judged(&layout);
        }
        if tried.values().sum::<usize>() < left.values().sum()
            && layout.problems.iter().all(|p| best.problems.contains(p))
        {
            (best, left) = (layout, tried);
        } else {
            tree.variant = before;
        }
    }
    without_own_loops(parted, tree, counts, best, &judged)
}

/// At last: where leaders pass a room and its own loops violate the rules beside them in every way, the leaders heat it.
fn without_own_loops(
    parted: &parts::Parted,
    tree: &mut Tree,
    counts: &[usize],
    mut best: Layout,
    judged: &dyn Fn(&Layout) -> BTreeMap<usize, usize>,
) -> Layout {
    let mut counts = counts.to_vec();
    let mut heated_by_leaders = Vec::new();
    let mut left = judged(&best);
    for room in left.keys().copied().collect::<Vec<usize>>() {
        let passed = best.loops.iter().any(|l| l.leaders_in.contains_key(&room));
        if !passed || counts[room] == 0 || parted.search.is_over() {
            continue;
        }
        let before = std::mem::replace(&mut counts[room], 0);
        let mut layout = tree.lay(&parted.job, &counts);
        let tried = judged(&layout);
        if tried.values().sum::<usize>() < left.values().sum()
            && layout.problems.iter().all(|p| best.problems.contains(p))
        {
            heated_by_leaders.push(Problem::ByLeaders { room });
            layout.problems.extend(&heated_by_leaders);
            (best, left) = (layout, tried);
        } else {
            counts[room] = before;
        }
    }
    best
}

/// The longest loop of each room with loops over their limit, and the limit, m.
fn over_limit(job: &Job, layout: &Layout) -> BTreeMap<usize, (f64, f64)> {
    let mut over: BTreeMap<usize, (f64, f64)> = BTreeMap::new();
    for l in &layout.loops {
        let limit = limit_of(job, l.room);
        if l.length_m > limit {
            let worst = over.entry(l.room).or_insert((l.length_m, limit));
            worst.0 = worst.0.max(l.length_m);
        }
    }
    over
}

fn limit_of(job: &Job, room: usize) -> f64 {
    let tube = job.rooms[room].heated_floor().and_then(|f| job.tube(&f.tube_id));
    tube.map_or(f64::INFINITY, |t| longest_loop(job, t))
}

impl LaidLoop {
    /// Whether it heats a room.
    pub fn heats(&self, room: usize) -> bool {
        self.stretches.iter().any(|s| s.room == room)
    }

    /// The rooms in which it lies: those that it heats, and those that its leaders cross.
    pub fn rooms(&self) -> impl Iterator<Item = usize> + '_ {
        self.stretches.iter().map(|s| s.room).chain(self.leaders_in.keys().copied())
    }

    fn bare(room: usize) -> LaidLoop {
        LaidLoop {
            room,
            stretches: vec![],
            piece: 0,
            manifold: 0,
            port: 0,
            riser_m: 0.0,
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

    /// The loop along other corners: what is longer or shorter is field, in proportion.
    fn rerouted(&self, job: &Job, corners: Vec<Point>, leader_m: f64) -> LaidLoop {
        let (sweep, least) = sweep_of(job, self.room);
        let curve = curve::bend(&corners, sweep, least);
        let bare = LaidLoop {
            piece: self.piece,
            manifold: self.manifold,
            port: self.port,
            riser_m: self.riser_m,
            kept: self.kept,
            ..LaidLoop::bare(self.room)
        };
        let field_m = (curve::length(&curve) + self.riser_m - leader_m).max(0.0);
        let before: f64 = self.stretches.iter().map(|s| s.field_m).sum();
        // the way to its first field stays, what comes after is longer or shorter
        let factor = field_m / before.max(1e-9);
        let first_m = self.stretches.first().map_or(0.0, |s| s.from_m);
        let from_m = |s: &Stretch| first_m + (s.from_m - first_m) * factor;
        let stretches = self.stretches.iter().map(|s| Stretch { from_m: from_m(s), field_m: s.field_m * factor, ..*s });
        let stretches = stretches.collect();
        bare.along(self.spacing_m, corners, curve, stretches, self.leaders_in.clone())
    }

    /// The loop along a curve; what of it is no field is leader.
    fn along(
        self,
        spacing_m: f64,
        corners: Vec<Point>,
        curve: Vec<curve::Segment>,
        stretches: Vec<Stretch>,
        leaders_in: BTreeMap<usize, f64>,
    ) -> LaidLoop {
        let turned = |s: &curve::Segment| match s {
            curve::Segment::Arc { sweep, .. } => sweep.abs() / std::f64::consts::FRAC_PI_2,
            curve::Segment::Line(..) => 0.0,
        };
        let length_m = curve::length(&curve) + self.riser_m;
        LaidLoop {
            spacing_m,
            corners: curve::straighten(&corners),
            points: curve::apart(&curve::points(&curve, SAGITTA_M)),
            length_m,
            leader_length_m: (length_m - stretches.iter().map(|s| s.field_m).sum::<f64>()).clamp(0.0, length_m),
            stretches,
            leaders_in,
            quarter_turns: curve.iter().map(turned).sum(),
            curve,
            ..self
        }
    }
}

/// How wide a room's tube is swept round corners where there is room for it, and the least radius it takes, m.
fn sweep_of(job: &Job, room: usize) -> (f64, f64) {
    let floor = job.rooms[room].heated_floor();
    let least = floor.and_then(|f| job.tube(&f.tube_id)).map_or(0.08, |t| t.bend_radius_m);
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
            if here.is_none_or(|r| !within(&job.rooms[r].outline, p)) {
                here = job.rooms.iter().position(|r| r.level_id == level_id && within(&r.outline, p));
            }
            *out.entry(here).or_default() += l / n;
        }
    }
    out
}

//! Loops that rooms share, and loops whose tube is bound to a lattice: the layout rules, the water and what is said of them.

use fuoco_core::findings::Severity;
use fuoco_core::fluid;
use fuoco_core::geometry::distance;
use fuoco_core::job::{Axis, FloorLattice, Job, Point};
use fuoco_core::layout::edit::hand::locked;
use fuoco_core::layout::rules::audit::{audit, holes};
use fuoco_core::layout::{Layout, lay_out};
use fuoco_core::plan::Plan;
use fuoco_core::samples::designed as design;
use fuoco_core::samples::*;
use proptest::prelude::*;
use std::collections::BTreeSet;

/// A bath and a closet behind a hall without a floor of its own, with one thermostat; in series they are one loop.
fn flat() -> Job {
    let mut hall = box_room("hall", 0.0, 0.0, 2.0, 3.0);
    hall.openings = vec![doorway("d", 1, 1.0, 0.9), doorway("e", 3, 1.0, 0.9)];
    hall.floor = None;
    let mut job = job_of(vec![hall, box_room("bath", -2.4, 0.0, -0.1, 3.0), box_room("closet", 2.1, 0.0, 4.4, 3.0)]);
    job.rooms[1..].iter_mut().for_each(|r| r.zone = Some("upstairs".into()));
    job.manifolds.push(manifold("m", "A", "hall", 0, 1.0));
    job
}

fn codes(job: &Job) -> Vec<String> {
    design(job).expect("designs").findings.into_iter().map(|f| f.code).collect()
}

#[test]
fn water_in_series_carries_the_heat_of_all_its_rooms() {
    let mut job = flat();
    job.rooms[1].openings.push(window("w", 3, 1.0, 1.5, 1.5));
    let d = design(&job).expect("designs");
    let [l] = &d.loops[..] else { panic!("{} loops", d.loops.len()) };
    assert_eq!(l.room_ids.iter().collect::<BTreeSet<_>>().len(), 2);
    // beside what its leaders give the hall, which has no floor of its own
    let rooms = d.rooms.iter().map(|r| r.flux_given_w_m2 * r.heatable_area_m2).sum::<f64>();
    let up = rooms + d.rooms.iter().find(|r| r.floor.is_none()).map_or(0.0, |r| r.leader_heat_w);
    assert!((l.output_up_w / up - 1.0).abs() < 1e-9, "{} {up}", l.output_up_w);
    let p = fluid::properties(&job.fluid, (l.supply_c + l.return_c) / 2.0).expect("water");
    let carried = l.flow_l_min / 60_000.0 * p.density * p.specific_heat * (l.supply_c - l.return_c);
    assert!((carried / (l.output_up_w + l.output_down_w) - 1.0).abs() < 1e-9);
    // one flow: one drop, and no room gets less than it needs
    let rooms: Vec<_> = d.rooms.iter().filter(|r| r.floor.is_some()).collect();
    assert_eq!(rooms[0].drop_k, rooms[1].drop_k);
    for r in &rooms {
        assert!(r.flux_given_w_m2 > 0.999 * r.flux_needed_w_m2, "{}: {}", r.name, r.flux_given_w_m2);
    }
    // the first room's water is warmer than the second's by about half the drop
    let excess = |id: &str| d.rooms.iter().find(|r| r.id == id).and_then(|r| r.floor.as_ref()).expect("floor").excess_k;
    let (first, second) = (excess(&l.room_ids[0]), excess(&l.room_ids[1]));
    let drop = l.supply_c - l.return_c;
    assert!((first - second - 0.5 * drop).abs() < 0.15 * drop, "{first} {second} of {drop}");
}

#[test]
fn the_room_that_comes_last_sets_the_water() {
    let shared = design(&flat()).expect("designs");
    let mut job = flat();
    job.rules.share_below_m = 0.0;
    let alone = design(&job).expect("designs");
    assert_eq!((shared.loops.len(), alone.loops.len()), (1, 2));
    let needed = |id: &str| shared.rooms.iter().find(|r| r.id == id).and_then(|r| r.supply_needed_c).expect("needed");
    let [first, last] = &shared.loops[0].room_ids[..] else { panic!("two rooms") };
    // like rooms: half a drop apart
    assert!((needed(last) - needed(first) - 0.5 * 7.0).abs() < 0.2, "{} {}", needed(first), needed(last));
    assert_eq!(shared.totals.hardest_room_id.as_ref(), Some(last));
    assert!(shared.totals.tube_m < alone.totals.tube_m + 1.0, "no tube is added");
    // twice the flow in one tube
    let flow = |d: &fuoco_core::design::Design| d.loops.iter().map(|l| l.flow_l_min).fold(0.0, f64::max);
    assert!(flow(&shared) > 1.8 * flow(&alone));
}

#[test]
fn a_room_that_gets_much_more_than_it_needs_is_told() {
    let mut job = flat();
    // a cold room last, a sheltered one first or the other way round: one of the two gets too much
    job.rooms[2].openings.push(window("big", 1, 0.2, 2.5, 2.2));
    job.rooms[2].air_changes_per_h = Some(1.5);
    let told = design(&job).expect("designs").findings;
    let told = told.iter().find(|f| f.code == "water.in_series").expect("told");
    assert_eq!((told.severity, told.subject.id.as_str()), (Severity::Note, "bath"));
    assert!(!codes(&flat()).contains(&"water.in_series".to_owned()), "like rooms do not");
}

#[test]
fn a_locked_loop_across_zones_is_an_error() {
    let mut job = flat();
    let laid = lay_out(&job, &Plan::of(&job));
    job.loops = vec![locked(&job, &laid.loops[0], "kept")];
    assert!(!codes(&job).contains(&"loops.two_zones".to_owned()));
    job.rooms[2].zone = None;
    let told = design(&job).expect("designs").findings;
    let told = told.iter().find(|f| f.code == "loops.two_zones").expect("told");
    assert_eq!((told.severity, told.subject.id.as_str()), (Severity::Error, "kept"));
}

/// A room of those sides with a manifold in the middle of a wall.
fn bound(w: f64, h: f64, edge: usize, lattice: FloorLattice, spacing: f64) -> Job {
    let mut room = box_room("a", 0.0, 0.0, w, h);
    let floor = room.floor.as_mut().expect("heated");
    floor.lattice = Some(lattice);
    (floor.spacing_core_m, floor.spacing_edge_m) = (spacing, spacing);
    let mut job = job_of(vec![room]);
    job.manifolds.push(manifold("m", "A", "a", edge, [w, h][edge % 2] / 2.0));
    job
}

/// Straights of at least that length, clear of the manifold's wall: the axis across them and where on it they lie.
fn straights(job: &Job, layout: &Layout, least: f64) -> Vec<(usize, f64)> {
    let (_, place, inward) = fuoco_core::layout::manifold_place(job, 0).expect("hangs");
    let clear = |p: Point| (p[0] - place[0]) * inward[0] + (p[1] - place[1]) * inward[1] > 0.6;
    let pairs = layout.loops.iter().flat_map(|l| l.corners.windows(2));
    pairs
        .filter(|w| distance(w[0], w[1]) >= least && clear(fuoco_core::geometry::midpoint(w[0], w[1])))
        .map(|w| {
            let across = usize::from((w[1][0] - w[0][0]).abs() > (w[1][1] - w[0][1]).abs());
            (across, w[0][across])
        })
        .collect()
}

#[test]
fn tube_lies_on_the_squares_of_its_mesh() {
    for (w, h, edge, side, spacing) in
        [(5.0, 4.0, 0, 0.15, 0.15), (5.13, 4.21, 1, 0.05, 0.2), (3.4, 6.2, 2, 0.1, 0.2), (7.0, 3.1, 3, 0.15, 0.3)]
    {
        let cross = [0.07, 0.03];
        let job = bound(w, h, edge, FloorLattice::Squares { side_m: side, cross }, spacing);
        let layout = lay_out(&job, &Plan::of(&job));
        assert!(layout.problems.is_empty() && audit(&job, &Plan::of(&job), &layout.loops).is_empty(), "{w} x {h}");
        let runs = straights(&job, &layout, 0.8);
        assert!(runs.len() > 10, "{}", runs.len());
        for (axis, at) in runs {
            let n = (at - cross[axis]) / side;
            assert!((n - n.round()).abs() < 1e-6, "{at} on axis {axis} of {w} x {h}");
        }
        assert!(!codes(&job).contains(&"loops.off_lattice".to_owned()));
    }
}

#[test]
fn two_tubes_a_bay_and_holes_at_one_end_only() {
    for (edge, along) in [(0, Axis::Y), (1, Axis::X), (2, Axis::Y), (3, Axis::X)] {
        let (centres, one) = (0.4, 0.13);
        let lattice = FloorLattice::Joists { along, centres_m: centres, width_m: 0.045, one_m: one };
        let job = bound(4.4, 4.0, edge, lattice, 0.2);
        let layout = lay_out(&job, &Plan::of(&job));
        assert!(layout.problems.is_empty() && audit(&job, &Plan::of(&job), &layout.loops).is_empty());
        let across = 1 - along.index();
        let runs: Vec<f64> = straights(&job, &layout, 1.0).into_iter().filter(|r| r.0 == across).map(|r| r.1).collect();
        let size = [4.4, 4.0][across];
        let inner = |x: &&f64| **x > centres + 0.1 && **x < size - centres - 0.1;
        for x in runs.iter().filter(inner) {
            let quarter = (x - one).rem_euclid(centres) / centres;
            assert!((quarter - 0.25).abs() < 1e-6 || (quarter - 0.75).abs() < 1e-6, "{x}");
        }
        // every joist is passed near the manifold's wall, and nowhere else
        let (_, place, inward) = fuoco_core::layout::manifold_place(&job, 0).expect("hangs");
        let all: Vec<Point> = layout.loops.iter().flat_map(|l| holes(&job, l, 0)).collect();
        // what passes a joist comes back through it: an even number of holes in each that lies between two bays with tube
        let mut by_joist = std::collections::BTreeMap::<i64, usize>::new();
        for p in &all {
            let n = (p[across] - one) / centres;
            assert!((n - n.round()).abs() < 1e-6, "{p:?} is beside its joist");
            *by_joist.entry(n.round() as i64).or_default() += 1;
        }
        let inner = ((size - 2.0 * centres) / centres) as usize;
        assert!(by_joist.len() >= inner && by_joist.values().all(|n| n % 2 == 0), "{by_joist:?}");
        for p in &all {
            let off = (p[0] - place[0]) * inward[0] + (p[1] - place[1]) * inward[1];
            assert!(off < 1.0, "a hole {off} m from the wall");
        }
        let d = design(&job).expect("designs");
        let told = d.findings.iter().find(|f| f.code == "loops.joist_holes").expect("told");
        assert!(told.message.contains(&format!("{} holes", all.len())), "{}", told.message);
        assert!(told.rule.contains("local code"), "{}", told.rule);
        // the coldest (farthest) bay of a loop comes first or last, never in between
        for l in &layout.loops {
            let places: Vec<f64> = l.points.iter().map(|p| p[across]).collect();
            let (lo, hi) = places.iter().fold((f64::MAX, f64::MIN), |(a, b), x| (a.min(*x), b.max(*x)));
            let first = l.points.windows(2).find(|w| (w[1][across] - lo).min(hi - w[1][across]) < 0.02);
            assert!(first.is_some(), "an outermost bay is reached");
        }
    }
}

#[test]
fn what_a_lattice_cannot_have_is_said() {
    let joists = |centres_m| FloorLattice::Joists { along: Axis::Y, centres_m, width_m: 0.045, one_m: 0.0 };
    let told = codes(&bound(4.0, 4.0, 0, joists(0.4), 0.15));
    assert!(told.contains(&"loops.off_lattice".to_owned()), "two tubes a bay lie 0.2 m apart");
    let told = codes(&bound(4.0, 4.0, 0, joists(0.3), 0.15));
    assert!(!told.contains(&"loops.off_lattice".to_owned()));
    // through a slanting wall
    let mut job = bound(4.0, 4.0, 1, joists(0.4), 0.2);
    job.rooms[0].outline = vec![[0.0, 0.0], [4.0, 0.0], [5.0, 4.0], [0.0, 4.0]];
    assert!(codes(&job).contains(&"loops.lattice_idle".to_owned()));
    // a loop that is moved onto a joist
    let job = bound(4.4, 4.0, 0, joists(0.4), 0.2);
    let mut kept = job.clone();
    let laid = lay_out(&job, &Plan::of(&job));
    kept.loops = vec![locked(&job, &laid.loops[0], "kept")];
    kept.loops[0].corners.iter_mut().for_each(|p| p[0] += 0.1);
    assert!(codes(&kept).contains(&"audit.joist".to_owned()));
    assert!(!codes(&job).contains(&"audit.joist".to_owned()));
}

/// Rooms along a corridor, some of them of one zone, some bound to a lattice, the manifold anywhere in the corridor.
fn random_row() -> impl Strategy<Value = Job> {
    let room = (1.2..4.5f64, 1.5..4.5f64, prop::option::of(0usize..2), 0.15..0.85f64, 0usize..8);
    (
        prop::collection::vec(room, 2..6),
        1.2..2.5f64,
        any::<bool>(),
        (0usize..4, 0.05..0.95f64),
        prop::sample::select(vec![40.0, 60.0, 120.0]),
        prop::sample::select(vec![0.15, 0.2, 0.3]),
    )
        .prop_map(|(rooms, depth, heated, (edge, along), share, spacing)| {
            let width: f64 = rooms.iter().map(|r| r.0 + 0.1).sum();
            let mut corridor = box_room("corridor", 0.0, 0.0, width, depth);
            corridor.zone = Some("z0".into());
            corridor.floor = corridor.floor.filter(|_| heated);
            let mut all = vec![];
            let mut x = 0.0;
            for (k, (w, h, zone, door, kind)) in rooms.into_iter().enumerate() {
                let mut r = box_room(&format!("r{k}"), x, depth + 0.1, x + w, depth + 0.1 + h);
                r.zone = zone.map(|z| format!("z{z}"));
                let floor = r.floor.as_mut().expect("heated");
                (floor.spacing_core_m, floor.spacing_edge_m) = (spacing, spacing);
                floor.lattice = match kind {
                    0 => Some(FloorLattice::Squares { side_m: 0.05, cross: [0.02, 0.01] }),
                    1 => Some(FloorLattice::Squares { side_m: 0.15, cross: [x, 0.0] }),
                    2 => Some(FloorLattice::Joists { along: Axis::Y, centres_m: 0.4, width_m: 0.045, one_m: x }),
                    3 => Some(FloorLattice::Joists { along: Axis::X, centres_m: 0.6, width_m: 0.06, one_m: 0.1 }),
                    _ => None,
                };
                let at = width - (x + w * door) - 0.4;
                corridor.openings.push(doorway(&format!("d{k}"), 2, at.clamp(0.0, width - 0.8), 0.8));
                all.push(r);
                x += w + 0.1;
            }
            let wall = if edge % 2 == 0 { width } else { depth };
            all.insert(0, corridor);
            let mut job = job_of(all);
            job.rules.share_below_m = share;
            job.manifolds.push(manifold("m", "A", "corridor", edge, along * wall));
            job.manifolds[0].ports = 24;
            job
        })
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 100, failure_persistence: None, ..ProptestConfig::default() })]

    /// Whatever shares and whatever is bound: no panic, no violation unsaid, no loop of two zones, no metre lost.
    #[test]
    fn rows_of_rooms_stay_within_the_law(job in random_row()) {
        let layout = lay_out(&job, &Plan::of(&job));
        let d = design(&job).expect("a checked job designs");
        let violations = audit(&job, &Plan::of(&job), &layout.loops);
        let named = d.findings.iter().filter(|f| f.code.starts_with("audit.")).count();
        prop_assert_eq!(named, violations.len());
        for (i, l) in layout.loops.iter().enumerate() {
            let zones: BTreeSet<_> = l.stretches.iter().map(|s| &job.rooms[s.room].zone).collect();
            prop_assert_eq!(zones.len(), 1);
            let shared = l.stretches.len() > 1;
            prop_assert!(!shared || job.rooms[l.room].zone.is_some());
            let own: Vec<_> = violations.iter().filter(|b| shared && b.loops.contains(&i)).collect();
            prop_assert!(own.is_empty(), "shared loops are lawful: {:?}", own);
            let field: f64 = l.stretches.iter().map(|s| s.field_m).sum();
            prop_assert!((field + l.leader_length_m - l.length_m).abs() < 1e-6);
        }
        for r in d.rooms.iter().filter(|r| r.floor.is_some()) {
            prop_assert!(r.flux_given_w_m2.is_finite() && r.drop_k.is_none_or(f64::is_finite));
        }
    }
}

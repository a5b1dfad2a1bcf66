//! Manifolds that hang below or above the floor that they serve.

use fuoco_core::design::design;
use fuoco_core::job::{Axis, CheckedJob, FloorLattice, Job, Level, Riser};
use fuoco_core::layout::edit::hand::locked;
use fuoco_core::layout::rules::audit::audit;
use fuoco_core::layout::{Layout, lay_out};
use fuoco_core::plan::Plan;
use fuoco_core::samples::{box_room, doorway, job_of, manifold};

/// A cellar with the manifold, and two rooms above it with a doorway between them.
fn house() -> Job {
    let mut living = box_room("living", 0.0, 0.0, 5.0, 4.0);
    living.openings.push(doorway("d", 1, 1.0, 0.9));
    let mut cellar = box_room("cellar", 0.0, 0.0, 9.0, 4.0);
    cellar.floor = None;
    let mut job = job_of(vec![cellar, living, box_room("bath", 5.12, 0.0, 9.0, 4.0)]);
    job.levels.push(Level { id: "up".into(), name: "Ground floor".into(), floor_m: 2.6, underlay: None });
    job.rooms[1..].iter_mut().for_each(|r| r.level_id = "up".into());
    job.manifolds.push(manifold("m", "A", "cellar", 3, 2.0));
    job
}

fn riser(room: &str, edge: usize, offset_m: f64) -> Riser {
    Riser { room_id: room.into(), edge, offset_m, tube_m: None }
}

fn laid(job: &Job) -> Layout {
    CheckedJob::new(job.clone()).expect("sound");
    let plan = Plan::of(job);
    let layout = lay_out(job, &plan);
    assert_eq!(audit(job, &plan, &layout.loops), [], "the rules hold");
    layout
}

#[test]
fn without_a_riser_no_tube_changes_the_level() {
    assert!(laid(&house()).loops.is_empty());
}

#[test]
fn the_tube_to_the_riser_is_part_of_every_loop() {
    let mut job = house();
    job.manifolds[0].risers.push(riser("living", 3, 2.0));
    let layout = laid(&job);
    assert!([1, 2].iter().all(|&room| layout.loops.iter().any(|l| l.heats(room))), "{:?}", layout.problems);
    for l in &layout.loops {
        // straight up: two storeys' height of tube
        assert!((l.riser_m - 2.0 * 2.6).abs() < 1e-9);
        let drawn: f64 = fuoco_core::layout::curve::length(&l.curve);
        assert!((l.length_m - drawn - l.riser_m).abs() < 1e-9);
        assert!(l.leader_length_m > l.riser_m && l.stretches[0].from_m > l.riser_m / 2.0);
        // it comes down on the riser's wall
        assert!(l.points[0][0].abs() < 1e-6 && (l.points[0][1] - 2.0).abs() < 0.5, "{:?}", l.points[0]);
    }
    // what is typed comes before what is calculated
    let before: f64 = layout.loops.iter().map(|l| l.length_m).sum();
    job.manifolds[0].risers[0].tube_m = Some(3.6);
    let typed = laid(&job);
    let after: f64 = typed.loops.iter().map(|l| l.length_m).sum();
    assert!((after - before - 2.0 * layout.loops.len() as f64).abs() < 1e-6);
    assert_eq!(typed.loops.len(), layout.loops.len());
}

#[test]
fn two_risers_and_the_cellar_share_the_ports() {
    let mut job = house();
    job.rooms[0].floor = job.rooms[1].floor.clone();
    job.rooms[1].openings.clear();
    job.manifolds[0].risers = vec![riser("living", 3, 2.0), riser("bath", 2, 2.0)];
    let layout = laid(&job);
    assert!((0..3).all(|room| layout.loops.iter().any(|l| l.heats(room))), "{:?}", layout.problems);
    let mut ports: Vec<u32> = layout.loops.iter().map(|l| l.port).collect();
    ports.sort_unstable();
    assert_eq!(ports, (1..=layout.loops.len() as u32).collect::<Vec<_>>());
    assert!(layout.loops.iter().filter(|l| l.heats(0)).all(|l| l.riser_m == 0.0));
}

/// Under joist bays no sleeve is wanted: every room with bays is reached from below by itself.
#[test]
fn joist_bays_are_reached_from_below() {
    let mut job = house();
    job.rooms[1].openings.clear();
    for room in &mut job.rooms[1..] {
        let floor = room.floor.as_mut().expect("heated");
        floor.lattice = Some(FloorLattice::Joists { along: Axis::Y, centres_m: 0.4, width_m: 0.045, one_m: 0.4 });
        (floor.spacing_core_m, floor.spacing_edge_m) = (0.2, 0.2);
    }
    let layout = laid(&job);
    assert!([1, 2].iter().all(|&room| layout.loops.iter().any(|l| l.heats(room))), "{:?}", layout.problems);
    assert!(layout.loops.iter().all(|l| l.riser_m >= 2.0 * 2.6 - 1e-9));
    // and the water's figures stand on it
    let design = design(&CheckedJob::new(job).expect("sound")).expect("designs");
    let l = &design.loops[0];
    // the design tells millimetres
    let end = l.steps.last().expect("steps").along_m;
    assert!((end + l.riser_m / 2.0 - l.length_m).abs() < 1e-3);
}

#[test]
fn a_loop_kept_on_another_level_has_its_riser_too() {
    let mut job = house();
    job.manifolds[0].risers.push(riser("living", 3, 2.0));
    let layout = laid(&job);
    let l = &layout.loops[0];
    job.loops.push(locked(&job, l, "k"));
    let kept = laid(&job);
    let same = kept.loops.iter().find(|k| k.kept.is_some()).expect("kept");
    assert!((same.length_m - l.length_m).abs() < 1e-3 && (same.riser_m - l.riser_m).abs() < 1e-9);
}

#[test]
fn a_riser_lies_on_another_level_on_a_wall() {
    let refused = |riser: Riser| {
        let mut job = house();
        job.manifolds[0].risers.push(riser);
        CheckedJob::new(job).expect_err("refused")
    };
    let own = refused(riser("cellar", 0, 1.0));
    assert_eq!(
        (own.field.as_str(), own.reason.as_str()),
        ("manifolds[0].risers[0].room_id", "lies on the manifold's own level")
    );
    assert_eq!(refused(riser("attic", 0, 1.0)).field, "manifolds[0].risers[0].room_id");
    assert_eq!(refused(riser("bath", 9, 1.0)).field, "manifolds[0].risers[0].edge");
    assert_eq!(refused(riser("bath", 0, -1.0)).field, "manifolds[0].risers[0].offset_m");
}

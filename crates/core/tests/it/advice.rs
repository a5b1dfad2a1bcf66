//! Advice is true: each remedy, taken, does what it said.

use fuoco_core::design::Design;
use fuoco_core::floor::compare::{Sweep, compare};
use fuoco_core::floor::remedy::{Remedy, RemedyKind};
use fuoco_core::job::*;
use fuoco_core::samples::random;
use fuoco_core::samples::*;

pub fn design(job: &Job) -> Design {
    designed(job).expect("designs")
}

/// The job with a remedy taken, as the front end takes it.
fn taken(job: &Job, room_id: &str, remedy: &Remedy) -> Option<Job> {
    let mut out = job.clone();
    let room = out.rooms.iter_mut().find(|r| r.id == room_id).expect("a room");
    match (&remedy.floor, &remedy.field, &remedy.emitter) {
        (Some(floor), _, _) => room.floor = Some(floor.clone()),
        (_, Some(field), _) => room.fields.push(Field { id: "new".into(), ..field.clone() }),
        (_, _, Some(emitter)) => room.emitters.push(Emitter { id: "new".into(), ..emitter.clone() }),
        _ => return None,
    }
    Some(out)
}

fn errors(d: &Design) -> usize {
    d.findings.iter().filter(|f| f.severity == fuoco_core::findings::Severity::Error).count()
}

/// Takes every remedy of a job's rooms and compares; how many there were.
fn all_true(job: &Job) -> usize {
    let before = design(job);
    let mut count = 0;
    for room in &before.rooms {
        for remedy in &room.remedies {
            let after = design(&taken(job, &room.id, remedy).expect("something to take"));
            let now = after.rooms.iter().find(|r| r.id == room.id).expect("still there");
            let told = format!("{} {}: {:?}", job.name, room.id, remedy);
            // the design document is rounded
            assert!((now.supplement_w - remedy.short_w).abs() < 0.1, "{told} leaves {}", now.supplement_w);
            assert_eq!(remedy.enough, now.supplement_w == 0.0, "{told}");
            let apart = now.supply_needed_c.zip(remedy.supply_c).map_or(0.0, |(a, b)| (a - b).abs());
            assert!(apart < 0.05, "{told} needs {:?}", now.supply_needed_c);
            assert!(now.supplement_w < room.supplement_w, "{told} helps");
            assert!(errors(&after) <= errors(&before), "{told} makes nothing else wrong");
            count += 1;
        }
    }
    count
}

/// Random plans in which rooms want more than their floors have.
fn wanting(number: u64) -> Job {
    let mut job = random::plan(number);
    job.site.outdoor_c = -22.0;
    for room in &mut job.rooms {
        room.air_changes_per_h = Some(1.6);
        if let Some(floor) = &mut room.floor {
            floor.covering_id = "solid-timber".into();
        }
    }
    job
}

#[test]
fn every_remedy_taken_comes_out_as_it_was_told() {
    let count: usize = (0..8).map(|n| all_true(&wanting(n))).sum();
    assert!(count > 30, "{count} remedies tried");
}

#[test]
fn a_lattice_is_offered_no_spacing_that_it_does_not_have() {
    let mut job = wanting(1);
    for room in &mut job.rooms {
        let Some(floor) = &mut room.floor else { continue };
        (floor.spacing_core_m, floor.spacing_edge_m) = (0.2, 0.2);
        floor.lattice =
            Some(FloorLattice::Joists { along: Axis::Y, centres_m: 0.4, width_m: 0.045, one_m: room.outline[0][0] });
    }
    all_true(&job);
    let d = design(&job);
    let spaced = |r: &Remedy| matches!(r.kind, RemedyKind::Spacing | RemedyKind::SpacingAndCovering);
    assert!(d.rooms.iter().any(|r| !r.remedies.is_empty()));
    assert!(d.rooms.iter().flat_map(|r| &r.remedies).all(|r| !spaced(r)), "two tubes to a bay, whatever is wished");
}

fn demo() -> Job {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/tamarack-dance-school.json");
    read_job(&std::fs::read_to_string(path).expect("the demo")).expect("sound")
}

/// A bath that does not set the water, with a towel rail for what its floor leaves over.
#[test]
fn a_towel_rail_takes_its_share_of_the_need() {
    let mut bath = box_room("b", 5.1, 0.0, 7.6, 2.5);
    (bath.usage, bath.room_c) = (Usage::Bath, 24.0);
    bath.openings.push(window("w", 1, 0.5, 1.5, 1.5));
    bath.air_changes_per_h = Some(1.5);
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), bath]);
    job.manifolds.push(manifold("m", "A", "a", 3, 1.0));
    job.rooms[0].openings.push(doorway("d", 1, 1.0, 0.9));
    let before = design(&job);
    let short_w = before.rooms[1].supplement_w;
    assert!(short_w > 50.0, "{short_w}");
    let rail = |kind, beside_w| Emitter {
        id: "rail".into(),
        length_m: 0.5,
        height_m: 1.2,
        rated_w: Some(600.0),
        beside_w,
        ..Emitter::of(kind)
    };
    // recorded alone it counts for nothing
    job.rooms[1].emitters = vec![rail(EmitterKind::TowelRail, None)];
    assert_eq!(design(&job).rooms[1].supplement_w, short_w);
    job.rooms[1].emitters = vec![rail(EmitterKind::TowelRail, Some(short_w + 20.0))];
    let after = design(&job);
    assert_eq!(after.rooms[1].supplement_w, 0.0);
    assert!((after.rooms[1].beside_w - short_w - 20.0).abs() < 0.1);
    assert!(after.findings.iter().any(|f| f.code == "floor.beside" && f.subject.id == "b"));
    // it hangs on the source as the floor does; an electric one does not
    job.rooms[1].emitters = vec![rail(EmitterKind::ElectricHeater, Some(short_w + 20.0))];
    let electric = design(&job);
    let (with, without) = (after.totals.source_w, electric.totals.source_w);
    assert!((with - without - short_w - 20.0).abs() < 0.2, "{with} {without}");
    assert!((electric.totals.electric_w - short_w - 20.0).abs() < 0.1);
}

#[test]
fn the_comparison_of_floors_has_the_room_as_the_design_has_it() {
    for job in (0..10).map(random::plan).chain((0..4).map(wanting)).chain([demo()]) {
        let study = studied(&job).expect("solves");
        let d = design(&job);
        for room in d.rooms.iter().filter(|r| r.floor.is_some() && r.supply_needed_c.is_some()) {
            let compared = compare(&study, &room.id, &Sweep::default(), 0, 1).expect("compares");
            let o = compared.variants[0].outcome.clone().expect("it is there");
            assert!(compared.variants[0].now);
            let needed_c = room.supply_needed_c.expect("heated");
            assert!((o.supply_c - needed_c).abs() < 0.15, "{} {}: {} {needed_c}", job.name, room.id, o.supply_c);
            // where it sets the water, or would, what it lacks is what it lacks
            if d.totals.hardest_room_id.as_ref() == Some(&room.id) {
                let apart = (o.short_w - room.supplement_w).abs();
                assert!(apart < 0.005 * room.heat_loss_w, "{}: {} {}", room.id, o.short_w, room.supplement_w);
            }
        }
    }
}

/// Two rooms whose water differs by six kelvin: the second circuit brings the others to what is told.
#[test]
fn a_circuit_of_its_own_leaves_the_others_the_water_that_is_told() {
    let mut rooms = vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.0, 9.0, 4.0)];
    rooms[0].openings = vec![window("w", 0, 0.5, 3.0, 2.0), doorway("d", 1, 1.0, 0.9)];
    rooms[0].floor.as_mut().expect("heated").covering_id = "carpet".into();
    let mut job = job_of(rooms);
    job.manifolds.push(manifold("m", "A", "a", 3, 1.0));
    let d = design(&job);
    let conflict = d.conflict.as_ref().expect("a conflict");
    assert_eq!(conflict.room_id, "a");
    job.rooms[0].governs = Some(false);
    let others_c = design(&job).totals.supply_c.expect("heated");
    assert!((others_c - conflict.others_c).abs() < 0.05, "{others_c} {}", conflict.others_c);
}

/// One cause, one sentence: three rooms behind a wall without a door.
#[test]
fn rooms_cut_off_together_are_told_together() {
    let room = |id: &str, x: f64| box_room(id, x, 0.0, x + 3.0, 3.0);
    let mut rooms = vec![room("a", 0.0), room("b", 3.1), room("c", 6.2), room("d", 9.3)];
    rooms[1].openings.push(doorway("bc", 1, 1.0, 0.9));
    rooms[2].openings.push(doorway("cd", 1, 1.0, 0.9));
    let mut job = job_of(rooms);
    job.manifolds.push(manifold("m", "A", "a", 3, 1.0));
    let d = design(&job);
    let told: Vec<&str> = d.findings.iter().filter(|f| f.code == "loops.no_way").map(|f| f.message.as_str()).collect();
    assert_eq!(
        told,
        ["No tube can reach Room b, Room c and Room d: no doorway or sleeve leads there from a manifold."]
    );
}

/// A narrow strip along an outside wall lies in the perimeter zone, and says so.
#[test]
fn a_loop_in_the_perimeter_zone_shows_its_spacing() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 6.0, 1.6)]);
    let floor = job.rooms[0].floor.as_mut().expect("heated");
    (floor.spacing_core_m, floor.spacing_edge_m) = (0.2, 0.1);
    job.manifolds.push(manifold("m", "A", "a", 3, 0.8));
    job.rules.edge_band_m = 1.0;
    assert!(design(&job).loops.iter().all(|l| l.spacing_m == 0.1));
    job.rules.edge_band_m = 0.1;
    assert!(design(&job).loops.iter().all(|l| l.spacing_m == 0.2));
}

//! Circuits of their own: each with its governing room and supply temperature.

use crate::advice::design;
use fuoco_core::design::{CircuitDesign, Design};
use fuoco_core::floor::remedy::RemedyKind;
use fuoco_core::job::*;
use fuoco_core::samples::*;
use fuoco_core::study::own_circuit;
use fuoco_core::watch::Watch;

/// A carpeted room with much glass beside an easy tiled one, a manifold in each.
fn two() -> Job {
    let mut rooms = vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.0, 9.0, 4.0)];
    rooms[0].openings = vec![window("w", 0, 0.5, 3.0, 2.0), doorway("d", 1, 1.0, 0.9)];
    rooms[0].floor.as_mut().expect("heated").covering_id = "carpet".into();
    let mut job = job_of(rooms);
    job.manifolds = vec![manifold("m", "A", "a", 3, 1.0), manifold("n", "B", "b", 1, 2.0)];
    job
}

fn circuit(id: &str, manifolds: &[&str]) -> FloorCircuit {
    FloorCircuit {
        id: id.into(),
        name: format!("Circuit {id}"),
        manifold_ids: manifolds.iter().map(|m| (*m).to_owned()).collect(),
        supply_c: None,
        feed: Feed::default(),
    }
}

fn of<'d>(d: &'d Design, id: &str) -> &'d CircuitDesign {
    d.circuits.iter().find(|c| c.id == id).expect("a circuit")
}

fn supply(d: &Design, id: &str) -> f64 {
    of(d, id).supply_c.expect("wants heat")
}

fn codes(d: &Design) -> Vec<&str> {
    d.findings.iter().map(|f| f.code.as_str()).collect()
}

#[test]
fn each_circuit_has_the_water_of_its_own_governing_room() {
    let mut job = two();
    let one = design(&job);
    assert_eq!((one.circuits.len(), one.circuits[0].id.as_str()), (1, ""));
    assert_eq!(one.circuits[0].supply_c, one.totals.supply_c);
    job.circuits = vec![circuit("hot", &["m"]), circuit("cool", &["n"])];
    let d = design(&job);
    assert_eq!(
        (of(&d, "hot").governing_room_id.as_deref(), of(&d, "cool").governing_room_id.as_deref()),
        (Some("a"), Some("b"))
    );
    assert!(supply(&d, "hot") > supply(&d, "cool") + 5.0, "{} {}", supply(&d, "hot"), supply(&d, "cool"));
    assert_eq!(d.totals.supply_c, of(&d, "hot").supply_c, "the warmest");
    // a room has its own circuit's water, and what it needs of it
    for room in &d.rooms {
        let c = d.circuits.iter().find(|c| c.room_ids.contains(&room.id)).expect("on a circuit");
        assert!((c.supply_c.expect("warm") - room.supply_needed_c.expect("wants heat")).abs() < 1e-6, "{}", room.id);
        assert!(room.supplement_w == 0.0);
    }
    for l in &d.loops {
        let c = d.circuits.iter().find(|c| c.manifold_ids.contains(&l.manifold_id)).expect("on a circuit");
        assert_eq!(Some(l.supply_c), c.supply_c, "{}", l.tag);
    }
    // heat and flow of the circuits are those of the job
    let sum = |f: fn(&CircuitDesign) -> f64| d.circuits.iter().map(f).sum::<f64>();
    assert!((sum(|c| c.heat_w) - d.totals.loops_w).abs() < 1e-6 * d.totals.loops_w);
    assert!((sum(|c| c.flow_l_min) - d.totals.flow_l_min).abs() < 1e-9);
}

#[test]
fn one_circuit_named_is_one_circuit_unnamed() {
    let mut job = two();
    let unnamed = design(&job);
    job.circuits = vec![circuit("all", &["m", "n"])];
    let named = design(&job);
    assert_eq!(named.rooms, unnamed.rooms);
    assert_eq!(named.loops, unnamed.loops);
}

#[test]
fn the_remedy_of_a_conflict_does_what_it_says() {
    let mut job = two();
    job.manifolds.truncate(1);
    let d = design(&job);
    let conflict = d.conflict.as_ref().expect("a conflict");
    assert!(conflict.remedies.iter().any(|r| r.kind == RemedyKind::OwnCircuit));
    let own = own_circuit(&CheckedJob::new(job.clone()).expect("sound"), &Watch::default()).expect("a place for it");
    assert_eq!(own.room_ids, ["a"]);
    let alone = CheckedJob::new(job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)])).expect("sound");
    assert!(own_circuit(&alone, &Watch::default()).expect_err("no conflict").reason.contains("go together"));
    own.apply(&mut job);
    let after = design(&job);
    assert!(after.conflict.is_none(), "{:?}", after.conflict);
    let new = of(&after, &own.circuits.last().expect("new").id);
    assert!((new.supply_c.expect("hot") - own.supply_c).abs() < 0.05, "{new:?} {own:?} {:?}", after.circuits);
    assert!((of(&after, &own.circuits[0].id).supply_c.expect("cool") - own.others_c).abs() < 0.05);
    assert!(own.others_c < d.totals.supply_c.expect("one water") - 3.0);
    assert_eq!(new.room_ids, ["a"]);
    assert_eq!(of(&after, &own.circuits[0].id).room_ids, ["b"]);
}

#[test]
fn a_valve_set_by_hand_asks_no_room_and_says_when_it_is_too_cool() {
    let mut job = two();
    job.circuits = vec![circuit("hot", &["m"]), circuit("cool", &["n"])];
    let needed = supply(&design(&job), "hot");
    job.circuits[0].supply_c = Some(needed - 4.0);
    let d = design(&job);
    assert_eq!((supply(&d, "hot"), of(&d, "hot").governing_room_id.clone()), (needed - 4.0, None));
    assert!(codes(&d).contains(&"circuit.cool") && d.rooms[0].supplement_w > 0.0, "{:?}", codes(&d));
    job.circuits[0].supply_c = Some(needed + 3.0);
    let warm = design(&job);
    assert!(!codes(&warm).contains(&"circuit.cool") && warm.rooms[0].supplement_w == 0.0);
    assert!(
        warm.loops[0].return_c < d.loops[0].return_c + 10.0 && warm.rooms[0].drop_k > design(&two()).rooms[0].drop_k,
        "throttled"
    );
}

#[test]
fn manifolds_named_twice_or_by_none_and_empty_circuits_are_told() {
    let mut job = two();
    job.circuits = vec![circuit("x", &["m"]), circuit("y", &["m"]), circuit("z", &[])];
    let d = design(&job);
    for code in ["circuit.twice", "circuit.none", "circuit.empty"] {
        assert!(codes(&d).contains(&code), "{code} of {:?}", codes(&d));
    }
    assert!(d.rooms.iter().all(|r| r.supply_needed_c.is_some()), "the rest is calculated");
    job.circuits[1].id = "m".into();
    assert_eq!(CheckedJob::new(job.clone()).expect_err("an id twice").field, "circuits[1].id");
    job.circuits = vec![FloorCircuit { supply_c: Some(200.0), ..circuit("x", &["m"]) }];
    assert_eq!(CheckedJob::new(job).expect_err("too hot").field, "circuits[0].supply_c");
}

//! What one reading of the plan, a checked job and a study cure: each of these went wrong before.

use fuoco_core::design::Design;
use fuoco_core::findings::Severity;
use fuoco_core::job::{Beyond, CheckedJob, FloorLattice, Job, KeptLoop, Level, Opening, OpeningKind};
use fuoco_core::layout::lay_out;
use fuoco_core::layout::rules::audit::{ViolationKind, audit, coverage, holes};
use fuoco_core::plan::Plan;
use fuoco_core::samples::{box_room, designed, doorway, job_of, manifold, studied, window};

fn codes(d: &Design) -> Vec<&str> {
    d.findings.iter().map(|f| f.code.as_str()).collect()
}

fn kept(id: &str, corners: Vec<[f64; 2]>) -> KeptLoop {
    KeptLoop {
        id: id.into(),
        manifold_id: "m".into(),
        port: 1,
        room_id: "a".into(),
        also_room_ids: vec![],
        corners,
        leaders_m: 0.0,
        by_hand: true,
    }
}

/// Two locked loops share a port, and one runs there and straight back: it panicked.
#[test]
fn a_loop_without_tube_is_told_not_a_panic() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 6.0, 5.0)]);
    job.manifolds.push(manifold("m", "A", "a", 0, 3.0));
    job.loops.push(kept("there-and-back", vec![[2.9, 0.0], [2.9, 3.0], [2.9, 0.0]]));
    job.loops.push(kept("other", vec![[3.1, 0.0], [3.1, 3.0], [4.0, 3.0], [4.0, 0.0]]));
    job.check().expect("such a job can be saved");
    let d = designed(&job).expect("designs");
    for code in ["audit.port", "audit.no_tube"] {
        assert!(codes(&d).contains(&code), "{code}: {:?}", codes(&d));
    }
    let told = d.findings.iter().find(|f| f.code == "audit.no_tube").expect("told");
    assert_eq!((told.severity, told.subject.id.as_str()), (Severity::Error, "there-and-back"));
}

/// A manifold right above excused tube at the wall below it.
#[test]
fn a_manifold_on_another_floor_excuses_nothing() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 6.0, 5.0), box_room("up", 0.0, 0.0, 6.0, 5.0)]);
    job.levels.push(Level { id: "upper".into(), name: "Upper".into(), floor_m: 2.8, underlay: None });
    job.rooms[1].level_id = "upper".into();
    job.rooms[1].floor = None;
    job.manifolds.push(manifold("m", "A", "a", 0, 1.0));
    // along the north wall, far from its own manifold, and nearer to the wall than tube may lie
    let corners =
        vec![[0.95, 0.0], [0.95, 2.5], [2.0, 2.5], [2.0, 4.97], [4.0, 4.97], [4.0, 2.0], [1.1, 2.0], [1.1, 0.0]];
    job.loops.push(kept("near", corners));
    let walls = |job: &Job| {
        let plan = Plan::of(job);
        let laid = lay_out(job, &plan);
        audit(job, &plan, &laid.loops).iter().filter(|v| v.kind == ViolationKind::Wall).count()
    };
    assert_eq!(walls(&job), 1);
    // one upstairs hangs over that very stretch
    job.manifolds.push(manifold("m2", "B", "up", 2, 3.0));
    assert_eq!(walls(&job), 1, "it hangs on another level");
}

/// Tube of a floor above covered the floor below, and passed through its joists.
#[test]
fn tube_of_another_floor_covers_nothing() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 6.0, 5.0), box_room("up", 0.0, 0.0, 6.0, 5.0)]);
    job.levels.push(Level { id: "upper".into(), name: "Upper".into(), floor_m: 2.8, underlay: None });
    job.rooms[1].level_id = "upper".into();
    job.manifolds.push(manifold("m", "A", "a", 0, 3.0));
    job.manifolds.push(manifold("m2", "B", "up", 0, 3.0));
    if let Some(floor) = &mut job.rooms[0].floor {
        let along = fuoco_core::job::Axis::X;
        floor.lattice = Some(FloorLattice::Joists { along, centres_m: 0.4, width_m: 0.05, one_m: 0.2 });
    }
    // below one loop along the south wall; above the whole floor
    job.loops.push(kept("below", vec![[2.9, 0.0], [2.9, 0.5], [0.5, 0.5], [0.5, 0.7], [3.1, 0.7], [3.1, 0.0]]));
    let laid = lay_out(&job, &Plan::of(&job));
    let alone: Vec<_> = laid.loops.iter().filter(|l| l.room == 0 && l.kept.is_some()).cloned().collect();
    let above: Vec<_> = laid.loops.iter().filter(|l| l.room == 1).cloned().collect();
    assert!(alone.len() == 1 && !above.is_empty());
    let before = coverage(&job, &alone)[0].share;
    assert!(before < 0.5, "{before}");
    let both: Vec<_> = alone.iter().chain(&above).cloned().collect();
    assert_eq!(coverage(&job, &both)[0].share, before);
    assert!(above.iter().any(|l| !l.points.is_empty()) && above.iter().all(|l| holes(&job, l, 0).is_empty()));
    assert!(!holes(&job, &alone[0], 0).is_empty());
}

/// The walls of a cellar stood to the outside in the drawing, and to the ground in the heat loss.
#[test]
fn a_cellar_wall_is_the_same_everywhere() {
    let mut job = job_of(vec![box_room("cellar", 0.0, 0.0, 6.0, 5.0)]);
    job.levels[0].floor_m = -2.4;
    let study = studied(&job).expect("studies");
    let d = Design::of(&study);
    assert!(d.walls.iter().all(|w| w.beyond == "ground"), "{:?}", d.walls);
    let lost = d.rooms[0].loss_parts.iter().filter(|p| p.edge.is_some()).map(|p| p.other);
    assert!(lost.clone().any(|o| o == fuoco_core::heat_loss::OtherSide::Ground));
    // and tight spacing goes along it as along any outside wall
    assert_eq!(study.plan.cold_walls(0).len(), 4);
}

/// A name that looks like the place of a figure was taken for one.
#[test]
fn a_room_by_a_strange_name_keeps_it() {
    let name = "{need} and {limit}";
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 6.0, 5.0), box_room("b", 6.1, 0.0, 9.0, 5.0)]);
    job.rooms[0].openings.push(window("w", 0, 0.5, 5.0, 2.2));
    job.rooms[0].openings.push(doorway("d", 1, 1.0, 0.9));
    job.rooms[1].below = Beyond::Outside;
    job.manifolds.push(manifold("m", "{v}", "a", 3, 2.0));
    job.rules.head_limit_pa = 1000.0;
    let plain = designed(&job).expect("designs");
    job.rooms.iter_mut().for_each(|r| r.name = name.into());
    let strange = designed(&job).expect("designs");
    let mut named = 0;
    for (p, s) in plain.findings.iter().zip(&strange.findings) {
        let expected = ["Room a", "Room b"].iter().fold(p.message.clone(), |m, n| m.replace(n, name));
        assert_eq!(s.message, expected, "{}", s.code);
        named += usize::from(s.message.contains(name));
    }
    assert!(named > 1, "some findings name a room");
    assert!(plain.findings.iter().any(|f| f.message.contains("Loop {v}1")), "and a loop");
}

/// The remedy proposed a wall field as wide as its wall and a little more.
#[test]
fn what_a_remedy_proposes_is_no_error_once_it_is_taken() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 3.03, 3.52)]);
    job.rooms[0].openings = vec![window("w", 0, 0.6, 1.61, 2.2), window("x", 1, 0.5, 2.0, 2.2)];
    job.rooms[0].air_changes_per_h = Some(2.0);
    job.manifolds.push(manifold("m", "A", "a", 3, 1.0));
    let d = designed(&job).expect("designs");
    let fields: Vec<_> = d.rooms[0].remedies.iter().filter_map(|r| r.field.clone()).collect();
    assert_eq!(fields.len(), 2, "a wall and a ceiling field: {:?}", d.rooms[0].remedies);
    for field in fields {
        let mut taken = job.clone();
        taken.rooms[0].fields.push(fuoco_core::job::Field { id: "field".into(), ..field.clone() });
        let after = designed(&taken).expect("designs");
        assert!(!codes(&after).contains(&"field.too_large"), "{field:?}");
    }
}

/// A doorway to a room of another level let leaders through, half a storey up or down.
#[test]
fn a_job_of_split_levels_is_laid_by_level() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.0, 9.0, 4.0)]);
    job.levels.push(Level { id: "half".into(), name: "Half up".into(), floor_m: 0.9, underlay: None });
    job.rooms[1].level_id = "half".into();
    job.rooms[0].openings.push(Opening { kind: OpeningKind::Doorway, ..doorway("d", 1, 1.0, 0.9) });
    job.manifolds.push(manifold("m", "A", "a", 3, 2.0));
    let d = designed(&job).expect("designs");
    assert!(d.loops.iter().all(|l| l.room_ids == ["a"]));
    assert!(codes(&d).contains(&"loops.no_way"));
}

/// Only the check makes a checked job, and it names what is wrong.
#[test]
fn nothing_unchecked_gets_in() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
    job.rooms[0].openings.push(window("w", 9, 0.0, 1.0, 1.0));
    assert_eq!(CheckedJob::new(job.clone()).expect_err("no such wall").field, "rooms[0].openings[0].edge");
    let text = serde_json::to_string(&job).expect("JSON");
    assert_eq!(CheckedJob::from_json(&text).expect_err("no such wall").field, "rooms[0].openings[0].edge");
}

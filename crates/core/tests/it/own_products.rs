//! A job's own tubes, coverings, pumps and sources count like the library's.

use fuoco_core::design::design;
use fuoco_core::job::{CheckedJob, Firm, Job, PumpControl, schools};
use fuoco_core::library::{self, CoveringKind};
use fuoco_core::materials::articles::Article;
use fuoco_core::study::Study;
use fuoco_core::units::Units;
use fuoco_core::water::trial::{WaterTrial, try_circuit};
use serde_json::json;

fn demo() -> Job {
    let job = CheckedJob::from_json(include_str!("../../../../demo/tamarack-dance-school.json")).expect("sound");
    job.into_job()
}

/// A job that has one of each, like one of the library.
fn with_own() -> Job {
    let mut job = demo();
    let mut tube = library::tube("pex-16x2").expect("there").clone();
    (tube.id, tube.name) = ("tube-1".into(), "Layered 16 mm".into());
    job.tubes.push(tube);
    let mut covering = library::covering("tile").expect("there").clone();
    (covering.id, covering.name) = ("covering-1".into(), "Terrazzo".into());
    job.coverings.push(covering);
    let mut pump = library::pump("pump-6").expect("there").clone();
    (pump.id, pump.name) = ("pump-own".into(), "The one on the shelf".into());
    job.pumps.push(pump);
    let source = job.plant.as_ref().expect("the demo has a plant").source.clone();
    job.sources.push(source);
    job
}

#[test]
fn an_own_tube_like_the_librarys_gives_the_same_design_and_an_article_of_its_own() {
    let plain = design(&CheckedJob::new(demo()).expect("sound")).expect("designs");
    let mut job = with_own();
    let used: Vec<usize> = (0..job.rooms.len())
        .filter(|i| job.rooms[*i].floor.as_ref().is_some_and(|f| f.tube_id == "pex-16x2"))
        .collect();
    assert!(!used.is_empty());
    for i in used {
        job.rooms[i].floor.as_mut().expect("heated").tube_id = "tube-1".into();
    }
    // the rules know longest loops by tube
    if let Some(longest) = job.rules.longest_loop_m.get("pex-16x2").copied() {
        job.rules.longest_loop_m.insert("tube-1".into(), longest);
    }
    let job = CheckedJob::new(job).expect("sound");
    let own = design(&job).expect("designs");
    assert_eq!(own.loops.len(), plain.loops.len());
    for (a, b) in own.loops.iter().zip(&plain.loops) {
        assert!((a.length_m - b.length_m).abs() < 1e-9 && (a.flow_l_min - b.flow_l_min).abs() < 1e-9, "{}", a.tag);
    }
    let coil = Article::of_job("coil/tube-1/240", &job).expect("an article");
    assert_eq!(coil.name, "Coil of 240 m, Layered 16 mm");
    assert!(Article::of_job("coil/tube-1/240", &Job::new("Annex")).is_none(), "no other job knows it");
}

#[test]
fn an_own_covering_takes_more_water_when_it_insulates_more() {
    let supply = |resistance_m2k_w| {
        let mut job = with_own();
        job.coverings[0].resistance_m2k_w = resistance_m2k_w;
        for room in job.rooms.iter_mut().filter(|r| r.unheated.is_none()) {
            if let Some(floor) = room.floor.as_mut().filter(|f| f.covering_id == "tile") {
                floor.covering_id = "covering-1".into();
            }
        }
        let design = design(&CheckedJob::new(job).expect("sound")).expect("designs");
        let of = design.rooms.iter().filter_map(|r| r.supply_needed_c);
        of.fold(0.0, f64::max)
    };
    let (tile, wood) = (supply(0.012), supply(0.12));
    assert!(wood > tile + 1.0, "{tile} {wood}");
}

#[test]
fn the_pump_on_the_shelf_comes_before_the_librarys_where_it_serves() {
    let mut job = with_own();
    job.plant = None;
    let design_of = |job: &Job| design(&CheckedJob::new(job.clone()).expect("sound")).expect("designs");
    let named = |job: &Job| {
        let choice = fuoco_core::job::PumpChoice::default();
        fuoco_core::water::pumps::choose(job, &choice, 10.0, 2.0).name
    };
    assert_eq!(named(&job), "The one on the shelf");
    // one that is too weak is passed over
    for point in &mut job.pumps[0].curve {
        point.head_m *= 0.1;
    }
    assert_eq!(named(&job), "Circulator, 4 m");
    assert!(!design_of(&job).loops.is_empty());
}

#[test]
fn what_is_wrong_with_an_own_product_is_named() {
    let refused = |change: &dyn Fn(&mut Job)| {
        let mut job = with_own();
        change(&mut job);
        CheckedJob::new(job).expect_err("refused").field
    };
    assert_eq!(refused(&|j| j.tubes[0].id = "pex-16x2".into()), "tubes[0].id");
    assert_eq!(refused(&|j| j.tubes[0].name.clear()), "tubes[0].name");
    assert_eq!(refused(&|j| j.tubes[0].wall_m = 0.006), "tubes[0].wall_m");
    assert_eq!(refused(&|j| j.tubes[0].od_m = f64::NAN), "tubes[0].od_m");
    assert_eq!(refused(&|j| j.tubes.push(j.tubes[0].clone())), "tubes[1].id");
    assert_eq!(refused(&|j| j.coverings[0].resistance_m2k_w = -0.1), "coverings[0].resistance_m2k_w");
    assert_eq!(refused(&|j| j.coverings[0].id = "tile".into()), "coverings[0].id");
    assert_eq!(refused(&|j| j.pumps[0].curve.truncate(1)), "pumps[0].curve");
    assert_eq!(refused(&|j| j.pumps[0].curve[1].head_m = 99.0), "pumps[0].curve[1].head_m");
    assert_eq!(refused(&|j| j.pumps[0].id = "pump-4".into()), "pumps[0].id");
    assert_eq!(refused(&|j| j.sources[0].name.clear()), "sources[0].name");
    assert_eq!(refused(&|j| j.sources[0].least_w = 1e6), "sources[0].least_w");
    assert_eq!(refused(&|j| j.sources.push(j.sources[0].clone())), "sources[1].name");
    assert_eq!(
        refused(&|j| j.rooms[0].floor.as_mut().expect("heated").tube_id = "tube-9".into()),
        "rooms[0].floor.tube_id"
    );
    let typo = with_own();
    let mut json = serde_json::to_value(&typo).expect("writes");
    json["coverings"][0]["thicknes_m"] = json!(0.01);
    assert!(CheckedJob::from_json(&json.to_string()).expect_err("misspelt").reason.contains("thicknes_m"));
}

#[test]
fn a_firm_gives_its_products_to_new_jobs() {
    let mut firm = Firm::default();
    firm.take(&with_own());
    let firm = Firm::from_json(&serde_json::to_string(&firm).expect("writes")).expect("reads back");
    let mut next = Job::new("Next");
    firm.equip(&mut next);
    let next = CheckedJob::new(next).expect("sound");
    assert_eq!(next.tube("tube-1").map(|t| t.name.as_str()), Some("Layered 16 mm"));
    assert_eq!(next.covering("covering-1").map(|c| c.kind), Some(CoveringKind::Hard));
    assert_eq!(next.pump("pump-own").map(|p| p.curve.len()), Some(3));
    assert_eq!(next.sources, with_own().sources);
}

/// Schools of control: a job without circuits of its own is fed as its rules say.
#[test]
fn rules_say_how_a_pump_is_run_where_nobody_else_does() {
    let control_of = |name: &str| {
        let mut job = demo();
        job.plant = None;
        job.circuits.clear();
        job.rules = schools(Units::Metric).into_iter().find(|s| s.name == name).expect("a school");
        let job = CheckedJob::new(job).expect("sound");
        let study = Study::of(&job).expect("solves");
        let trial = WaterTrial { circuit_id: study.circuits[0].id.clone(), ..WaterTrial::default() };
        try_circuit(&study, &trial).unwrap_or_else(|e| panic!("{e}")).pump.point.control
    };
    assert_eq!(control_of("Ordinary practice"), PumpControl::ConstantPressure);
    assert_eq!(control_of("Zone valves, pump at one speed"), PumpControl::FixedSpeed);
    assert_eq!(control_of("Continuous circulation on a reset line"), PumpControl::ConstantDifference);
}

//! `cargo bench -p fuoco-core`: the stages of a design and the whole of it, on the demo job.

use fuoco_core::floor::compare::{PlateChoice, Sweep, compare};
use fuoco_core::floor::{self, Curve, Duty, Parts};
use fuoco_core::job::CheckedJob;
use fuoco_core::job::Job;
use fuoco_core::plan::Plan;
use fuoco_core::section::film::Face;
use fuoco_core::section::{self, Section};
use fuoco_core::study::Study;
use fuoco_core::survey::climate;
use fuoco_core::watch::Watch;
use fuoco_core::{heat_loss, layout, library, samples};

fn main() {
    divan::main();
}

fn demo() -> Job {
    fuoco_core::samples::read_job(include_str!("../../../demo/tamarack-dance-school.json"))
        .expect("the demo job is sound")
}

#[divan::bench]
fn heat_loss_of_the_demo(bencher: divan::Bencher) {
    let job = demo();
    bencher.bench(|| heat_loss::heat_loss(divan::black_box(&job), &Plan::of(&job)));
}

fn section_of(build_up: &str) -> Option<Section> {
    let (build_up, tube) = (library::build_up(build_up)?, library::tube("pex-16x2")?);
    let covering = library::covering("tile");
    let parts = Parts { build_up, covering, rug_m2k_w: 0.0, tube, spacing_m: 0.2, insulation_m2k_w: None };
    floor::section(&parts, &library::material).ok()
}

/// One section from nothing, both meshes.
#[divan::bench(args = ["slab", "slab-raised", "panel-board", "joist-extruded", "joist-bare"])]
fn section_solved(bencher: divan::Bencher, build_up: &str) {
    let Some(section) = section_of(build_up) else { return };
    bencher.bench(|| section::solve_anew(divan::black_box(&section), 1));
}

/// What the design takes from a section that is known.
#[divan::bench]
fn curve_of_a_known_section(bencher: divan::Bencher) {
    let Some(section) = section_of("slab") else { return };
    let duty = Duty {
        face: Face::Floor,
        room_c: 20.0,
        below_c: 10.0,
        below_m2k_w: 0.17,
        water_film_w_m2k: 1500.0,
        film_up_w_m2k: None,
    };
    bencher.bench(|| Curve::new(divan::black_box(&section), duty));
}

/// A hundred variants of which none has been solved before: every round varies the insulation a little.
#[divan::bench(sample_count = 20, sample_size = 1)]
fn sweep_of_100_variants(bencher: divan::Bencher) {
    let job = CheckedJob::new(demo()).expect("the demo job is sound");
    let Some(room) = job.rooms.iter().find(|r| r.heated_floor().is_some()) else { return };
    let mut round = 0.0;
    bencher.bench_local(|| {
        round += 1.0;
        let sweep = Sweep {
            spacings_m: vec![0.1, 0.15, 0.2, 0.25, 0.3],
            tube_ids: ["pex-14x2", "pex-16x2", "pex-17x2", "pex-20x2"].map(String::from).to_vec(),
            covering_ids: ["tile", "vinyl", "laminate", "engineered", "carpet"].map(String::from).to_vec(),
            insulations_m2k_w: vec![2.0 + round * 1e-4],
            plates: vec![PlateChoice::AsBuilt],
            ..Sweep::default()
        };
        let study = Study::of(&job)?;
        compare(&study, &room.id, &sweep, 0, 1000)
    });
}

/// Plans of the corpus: a flat, a house, a school floor of 400 m², rooms of odd shape.
#[divan::bench(args = ["23-flat-5", "25-house-10", "27-school", "14-trapezoid", "16-round"])]
fn layout_of_a_plan(bencher: divan::Bencher, plan: &str) {
    let path = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join(format!("../../corpus/{plan}.json"));
    let text = std::fs::read_to_string(path).expect("a plan of the corpus");
    let job = fuoco_core::samples::read_job(&text).expect("the corpus is sound");
    bencher.bench(|| layout::lay_out(divan::black_box(&job), &Plan::of(&job)));
}

#[divan::bench]
fn layout_of_the_demo(bencher: divan::Bencher) {
    let job = demo();
    bencher.bench(|| layout::lay_out(divan::black_box(&job), &Plan::of(&job)));
}

#[divan::bench]
fn audit_of_the_demo(bencher: divan::Bencher) {
    let job = demo();
    let layout = layout::lay_out(&job, &Plan::of(&job));
    bencher.bench(|| {
        layout::rules::audit::audit(divan::black_box(&job), &Plan::of(&job), divan::black_box(&layout.loops))
    });
}

#[divan::bench]
fn coverage_of_the_demo(bencher: divan::Bencher) {
    let job = demo();
    let layout = layout::lay_out(&job, &Plan::of(&job));
    bencher.bench(|| layout::rules::audit::coverage(divan::black_box(&job), divan::black_box(&layout.loops)));
}

#[divan::bench]
fn whole_design_of_the_demo(bencher: divan::Bencher) {
    let job = CheckedJob::new(demo()).expect("the demo job is sound");
    bencher.bench(|| Study::solve(divan::black_box(&job).clone(), &Watch::default()));
}

/// Sixty rooms on three levels, each with a window and a doorway.
#[divan::bench]
fn heat_loss_of_60_rooms(bencher: divan::Bencher) {
    let job = samples::building(3, 20);
    bencher.bench(|| heat_loss::heat_loss(divan::black_box(&job), &Plan::of(&job)));
}

#[divan::bench(sample_count = 10)]
fn whole_design_of_60_rooms(bencher: divan::Bencher) {
    let job = CheckedJob::new(samples::building(3, 20)).expect("sound");
    bencher.bench(|| Study::solve(divan::black_box(&job).clone(), &Watch::default()));
}

/// The layout of those rooms alone: the rest of their design is the difference.
#[divan::bench(sample_count = 10)]
fn layout_of_60_rooms(bencher: divan::Bencher) {
    let job = samples::building(3, 20);
    let plan = Plan::of(&job);
    bencher.bench(|| layout::lay_out(divan::black_box(&job), &plan));
}

#[divan::bench]
fn plan_of_60_rooms(bencher: divan::Bencher) {
    let job = samples::building(3, 20);
    bencher.bench(|| Plan::of(divan::black_box(&job)));
}

/// Eighty rooms with bulging walls of 32 straights each, a manifold in every fourth.
#[divan::bench(sample_count = 5, sample_size = 1)]
fn whole_design_of_80_rooms_of_128_corners(bencher: divan::Bencher) {
    let job = CheckedJob::new(samples::bulging(80)).expect("sound");
    bencher.bench(|| Study::solve(divan::black_box(&job).clone(), &Watch::default()));
}

/// Loops of 38 to 100 m out of the lengths that are usually stocked.
#[divan::bench(args = [60, 200], sample_count = 5, sample_size = 1)]
fn coils(bencher: divan::Bencher, loops: u32) {
    use fuoco_core::coils::{Coil, CoilTask, LoopToCut, Objective, Reserve};
    let coils = [60.0, 90.0, 120.0, 150.0, 200.0, 240.0, 300.0, 500.0].map(|l: f64| Coil {
        id: l.to_string(),
        length_m: l,
        price: Some((1.3 * l + 22.0).round()),
        stock: None,
    });
    let loops = (0..loops)
        .map(|i| LoopToCut { id: i.to_string(), length_m: 38.0 + f64::from(i * 7919 % 6200) / 100.0 })
        .collect();
    let task = CoilTask { coils: coils.to_vec(), loops, reserve: Reserve::default(), objective: Objective::Price };
    bencher.bench(|| divan::black_box(&task).plan());
}

/// Two hundred loops on ten manifolds with a pump each, on the tees of a primary loop with its own; flows alone, and with heat.
#[divan::bench(args = [false, true])]
fn network_of_200_loops(bencher: divan::Bencher, heated: bool) {
    use fuoco_core::network::{Control, CurvePoint, Link, Network, NetworkFluid, Part};
    let pipe = |length_m, bore_m| Part::Pipe { length_m, bore_m, roughness_m: 7e-6, minor_k: 5.0, check: false };
    let curve = |scale: f64| {
        [(0.0, 6.0), (40.0, 5.0), (90.0, 1.0)].map(|(q, head_m)| CurvePoint { flow_l_min: q * scale, head_m })
    };
    let pump = |scale| Part::Pump { curve: curve(scale).to_vec(), control: Control::FixedSpeed {}, on: true };
    let mut links = Vec::new();
    let mut link = |from: String, to: String, part: Part| {
        links.push(Link { id: format!("l{}", links.len()), from, to, part });
    };
    let name = |k: &str, i: usize| format!("{k}{i}");
    let source = Part::Source { leaves_c: Some(50.0), heat_w: None, most_w: None, kv_m3_h: Some(20.0) };
    link("home".into(), "hot".into(), if heated { source } else { Part::Valve { kv_m3_h: 20.0, open: 1.0 } });
    link("hot".into(), name("t", 0), pump(4.0));
    for c in 0..10 {
        link(name("t", c), name("u", c), pipe(0.1, 0.05));
        link(name("u", c), name("t", c + 1), pipe(1.0, 0.05));
        link(name("t", c), name("s", c), pump(1.0));
        for l in 0..20 {
            let (middle, k) = (format!("m{c}-{l}"), 60.0 + 2.0 * l as f64);
            link(name("s", c), middle.clone(), pipe(k, 0.012));
            let load = Part::Load { heat_w: None, ua_w_k: Some(30.0), around_c: Some(20.0), kv_m3_h: Some(1.0) };
            link(middle, name("u", c), if heated { load } else { Part::Valve { kv_m3_h: 1.0, open: 1.0 } });
        }
    }
    link(name("t", 10), "home".into(), pipe(10.0, 0.05));
    let fluid = NetworkFluid::Known { fluid: Default::default(), temperature_c: Some(40.0) };
    let network = Network { fluid, pressure_node: "home".into(), links };
    network.solve().expect("solved");
    bencher.bench(|| divan::black_box(&network).solve());
}

#[divan::bench]
fn weather_file(bencher: divan::Bencher) {
    let text = include_str!("../../../demo/alderfell.epw");
    bencher.bench(|| climate::read_epw(divan::black_box(text)));
}

/// A run of a loop dragged across its room, the loops of its manifold locked.
#[divan::bench]
fn drag_of_a_run(bencher: divan::Bencher) {
    use fuoco_core::layout::edit::hand::{Grip, dragged};
    let job = locked_demo();
    bencher.bench(|| {
        let layout = layout::lay_out(&job, &Plan::of(&job));
        let index = layout.loops.iter().position(|l| l.kept.is_some()).expect("locked");
        dragged(&job, &Plan::of(&job), &layout.loops, index, Grip::Run(5), [0.3, 0.3], false)
    });
}

/// The demo laid round the loops of one manifold.
#[divan::bench]
fn layout_beside_locked_loops(bencher: divan::Bencher) {
    let job = locked_demo();
    bencher.bench(|| layout::lay_out(&job, &Plan::of(&job)));
}

fn locked_demo() -> Job {
    let mut job = demo();
    let layout = layout::lay_out(&job, &Plan::of(&job));
    job.loops = layout
        .loops
        .iter()
        .filter(|l| l.manifold == 1)
        .map(|l| layout::edit::hand::locked(&job, l, &format!("kept-{}", l.port)))
        .collect();
    job
}

/// Take-off, coils, panels, work and quote of the demo, its design being there.
#[divan::bench]
fn materials_of_the_demo(bencher: divan::Bencher) {
    let study = samples::studied(&demo()).expect("designed");
    bencher.bench_local(|| fuoco_core::materials::report::materials(divan::black_box(&study)));
}

/// A visit to the demo: every fault that it could have is run for the first readings, and known for the next.
#[divan::bench(args = [false, true], sample_count = 10)]
fn visit_of_the_demo(bencher: divan::Bencher, known: bool) {
    use fuoco_core::service::{Readings, Suspects, simulated};
    let study = samples::studied(&demo()).expect("designed");
    let readings = Readings(simulated(&study, -4.0, 40, 0.5).expect("a house").shows);
    let run = Suspects::new(&study, -4.0).expect("a house");
    bencher.bench_local(|| {
        if known { run.rank(&readings) } else { Suspects::new(&study, -4.0).and_then(|s| s.rank(&readings)) }
    });
}

const YEAR: &str = include_str!("../../../demo/alderfell.epw");

fn forecourt() -> std::sync::Arc<Study> {
    let job = fuoco_core::samples::read_job(include_str!("../../../demo/alderfell-forecourt.json"));
    samples::studied(&job.expect("the demo job is sound")).expect("designed")
}

/// 8760 hours of snow against one area, its file being read: the curve of flux alone, and with the slab for three ways of running it.
#[divan::bench(args = [false, true], sample_count = 20)]
fn storm_year(bencher: divan::Bencher, with_slab: bool) {
    use fuoco_core::outdoors::year::outdoor_year;
    use fuoco_core::snow::year::SnowYearTask;
    let hours = fuoco_core::survey::hours::hours(YEAR).expect("reads");
    let study = forecourt();
    let task =
        SnowYearTask::from_json(r#"{ "free_area_ratio": 0.5, "length_m": 8, "flux_w_m2": 220, "altitude_m": 640 }"#);
    let task = task.expect("reads");
    bencher.bench_local(|| {
        if with_slab { outdoor_year(&study, None, &hours).is_ok() } else { task.answer(&hours).is_ok() }
    });
}

/// The typed storm on one area, three ways of running it, and both warm-ups.
#[divan::bench]
fn storm_on_an_area(bencher: divan::Bencher) {
    let study = forecourt();
    let trial = fuoco_core::outdoors::storm::StormTrial::default();
    bencher.bench_local(|| fuoco_core::outdoors::storm::storm(&study, divan::black_box(&trial), None));
}

/// Gains, dew points and floors of the demo, hour by hour of a year.
#[divan::bench(sample_count = 20)]
fn cooling_year_of_the_demo(bencher: divan::Bencher) {
    let hours = fuoco_core::survey::hours::hours(YEAR).expect("reads");
    let study = samples::studied(&demo()).expect("designed");
    bencher.bench_local(|| fuoco_core::cooling::report::cooling_design(&study, divan::black_box(&hours)));
}

/// A year of the demo by hours, one way of running it: seven rooms with tube.
#[divan::bench(sample_count = 10)]
fn house_year_of_the_demo(bencher: divan::Bencher) {
    use fuoco_core::dynamics::{TimeSpan, TimeTrial, in_time};
    let hours = fuoco_core::survey::hours::hours(YEAR).expect("reads");
    let study = samples::studied(&demo()).expect("designed");
    let trial = TimeTrial { span: TimeSpan::Year, ..TimeTrial::default() };
    bencher.bench_local(|| in_time(&study, divan::black_box(&trial), Some(&hours)));
}

/// Four rooms of 100 m², each with its manifold.
fn wide_house() -> std::sync::Arc<Study> {
    let corner = |k: u32| [10.2 * f64::from(k % 2), 10.2 * f64::from(k / 2)];
    let room = |k: u32| {
        let [x, y] = corner(k);
        samples::box_room(&format!("r{k}"), x, y, x + 10.0, y + 10.0)
    };
    let mut job = samples::job_of((0..4).map(room).collect());
    for (k, letter) in ["A", "B", "C", "D"].into_iter().enumerate() {
        job.manifolds.push(samples::manifold(&format!("m{k}"), letter, &format!("r{k}"), 0, 5.0));
    }
    samples::studied(&job).expect("designed")
}

/// The thermal picture of 400 m² at 50 mm, at rest, with the distances from the tube.
#[divan::bench(sample_count = 10)]
fn picture_of_400_m2(bencher: divan::Bencher) {
    let study = wide_house();
    bencher.bench_local(|| fuoco_core::loops::map::floor_map(divan::black_box(&study), "ground"));
}

/// The same while it warms up: 120 steps.
#[divan::bench(sample_count = 3)]
fn warming_of_400_m2(bencher: divan::Bencher) {
    use fuoco_core::dynamics::picture::{ThermalTrial, warming};
    let study = wide_house();
    let trial = ThermalTrial { level_id: "ground".into(), ..ThermalTrial::default() };
    bencher.bench_local(|| warming(divan::black_box(&study), &trial));
}

/// A move at the practice rig.
#[divan::bench(sample_count = 50)]
fn move_at_the_rig(bencher: divan::Bencher) {
    use fuoco_core::rig::{Hand, Lesson, Move, RigTrial, VERSION, play};
    let mut turns = 0.5;
    bencher.bench_local(|| {
        turns += 0.001;
        let moves = vec![Move { at_s: 60.0, hand: Hand::Valve { port: 1, turns } }];
        play(None, &RigTrial { lesson: Lesson::Balance, version: VERSION, seed: 0, moves, now_s: 120.0, units: None })
    });
}

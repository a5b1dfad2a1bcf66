//! Areas outdoors: the load in the terms of the design, the slab in a storm, what is refused.

use fuoco_core::design::{Design, design};
use fuoco_core::job::{
    CheckedJob, Fluid, HouseFirst, Job, JobKind, KeepOut, KeepOutKind, Melt, MeltControl, MeltUse, Start,
};
use fuoco_core::outdoors::storm::{StormRun, StormTrial, storm};
use fuoco_core::outdoors::year::outdoor_year;
use fuoco_core::samples::{box_room, cabinet, manifold};
use fuoco_core::section::Films;
use fuoco_core::section::running::{Running, Sides};
use fuoco_core::section::warm_up::WarmUpFile;
use fuoco_core::study::Study;
use fuoco_core::survey::hours::{WeatherHour, hours};

/// A drive of 9 × 5 m with its manifold at the house's wall, and a drain across its lower end.
fn drive(melt: Melt) -> Job {
    let mut job = Start { kind: Some(JobKind::Outdoors), outdoor_c: Some(-18.0), ..Start::named("Drive") }.job();
    let first = job.first_room.clone().expect("a first area");
    let mut area = box_room("drive", 0.0, 0.0, 9.0, 5.0);
    area.level_id.clone_from(&job.levels[0].id);
    (area.floor, area.melt) = (Some(first.floor), Some(melt));
    area.keep_outs.push(KeepOut { kind: KeepOutKind::Drain, ..cabinet("drain", 8.7, 0.2, 8.9, 4.8) });
    job.rooms.push(area);
    job.manifolds.push(manifold("m", "S", "drive", 3, 2.5));
    job
}

fn checked(job: Job) -> CheckedJob {
    CheckedJob::new(job).expect("sound")
}

fn designed(job: Job) -> Design {
    design(&checked(job)).expect("designed")
}

fn through(job: Job) -> StormRun {
    storm(&Study::of(&checked(job)).expect("solved"), &StormTrial::default(), None).expect("runs")
}

fn with(free_area_ratio: f64) -> Melt {
    Melt { free_area_ratio, ..Melt::of(MeltUse::Public) }
}

#[test]
fn an_area_is_given_what_the_storm_takes_and_its_surface_is_just_above_freezing() {
    for ratio in [0.0, 0.5, 1.0] {
        let design = designed(drive(with(ratio)));
        let area = &design.outdoors.as_ref().expect("outdoors").areas[0];
        // by hand in docs/snow.md: 145 W/m² under snow, 314 free, at a humidity of 0.8 and 6 m; here 0.85 and √45 m
        let by_hand = 145.0 + ratio * (314.0 - 145.0);
        assert!((area.load.total - by_hand).abs() < 0.05 * by_hand, "{ratio}: {}", area.load.total);
        assert!((area.flux_w_m2 - area.load.total).abs() < 0.02 * area.load.total, "{ratio}: {}", area.flux_w_m2);
        let surface = area.surface_c.expect("heated");
        assert!((surface - 0.56).abs() < 0.35, "{ratio}: {surface}");
        assert!(area.coolest_c.expect("heated") < surface && surface < area.warmest_c.expect("heated"));
        assert!(area.down_w_m2 > 0.0 && area.down_w_m2 < 0.3 * area.load.total, "{}", area.down_w_m2);
        // loops of nearly the same length, their drop as wide as for melting
        let [short, long] = design
            .loops
            .iter()
            .fold([f64::INFINITY, 0.0], |[a, b]: [f64; 2], l| [a.min(l.length_m), b.max(l.length_m)]);
        assert!(long < 1.22 * short, "{short} to {long} m");
        let drop = design.circuits[0].supply_c.expect("warm") - design.circuits[0].return_c.expect("warm");
        assert!((11.9..16.1).contains(&drop), "{drop}");
        assert_eq!(design.building.heat_w, design.rooms[0].heat_loss_w);
        assert!(design.rooms[0].loss_parts.is_empty());
    }
}

#[test]
fn wider_tube_leaves_bands_of_snow_and_closer_tube_less() {
    let coolest = |spacing_m: f64| {
        let mut job = drive(with(1.0));
        let floor = job.rooms[0].floor.as_mut().expect("tube");
        (floor.spacing_core_m, floor.spacing_edge_m) = (spacing_m, spacing_m);
        let design = designed(job);
        let bands = design.findings.iter().any(|f| f.code == "outdoors.between_tubes");
        let c = design.outdoors.expect("outdoors").areas[0].coolest_c.expect("heated");
        assert_eq!(bands, c < 0.0, "{spacing_m}: {c}");
        c
    };
    let by_spacing = [0.15, 0.25, 0.4].map(coolest);
    assert!(by_spacing[0] > by_spacing[1] && by_spacing[1] > by_spacing[2], "{by_spacing:?}");
}

/// The same section by the other way in time: a step of the water, the room's air as it is.
#[test]
fn a_section_driven_step_by_step_is_the_section_warming_up() {
    let file = WarmUpFile::from_json(
        r#"{ "spacing_m": 0.2,
            "tube": { "od_m": 0.02, "wall_m": 0.002, "conductivity_w_mk": 0.35, "axis_depth_m": 0.07 },
            "layers": [{ "thickness_m": 0.15, "conductivity_w_mk": 1.65, "density_kg_m3": 2200, "heat_capacity_j_kgk": 1000 },
                       { "thickness_m": 0.05, "conductivity_w_mk": 0.035, "density_kg_m3": 30, "heat_capacity_j_kgk": 1400 }],
            "film_up_w_m2k": 20.0, "film_down_w_m2k": 3.0, "water_film_w_m2k": 900.0,
            "water_c": 35.0, "room_c": -5.0, "below_c": -5.0, "times_s": [900, 3600, 14400, 86400] }"#,
    )
    .expect("reads");
    let slow = file.answer().expect("answers");
    let films = Films { up: 20.0, down: 3.0, water: 900.0 };
    let cold = Sides { up: -5.0, down: -5.0, water: -5.0 };
    let mut slab = Running::new(&file.section.section().expect("a section"), &films, 300.0, cold).expect("solves");
    let mut told = 0;
    for k in 1..=288 {
        let now = slab.step(&Sides { water: 35.0, ..cold });
        if let Some(i) = slow.times_s.iter().position(|t| *t == f64::from(k) * 300.0) {
            // the warm-up extrapolates between two meshes: the coarser alone is 1 % off
            let end = slow.flux_up_w_m2[3];
            assert!(
                (now.up_w_m2 - slow.flux_up_w_m2[i]).abs() < 0.012 * end,
                "{k}: {} {}",
                now.up_w_m2,
                slow.flux_up_w_m2[i]
            );
            assert!((now.surface_c - slow.surface_mean_c[i]).abs() < 0.3);
            assert!((now.over_tube_c - slow.surface_max_c[i]).abs() < 0.3 && now.midway_c < now.over_tube_c);
            told += 1;
        }
    }
    assert_eq!(told, 4);
}

#[test]
fn no_snow_is_lost_and_what_is_asked_is_met() {
    let run = through(drive(with(1.0)));
    assert!((run.falls_mm - 12.0).abs() < 1e-9, "8 h of 1.5 mm: {}", run.falls_mm);
    assert!(run.warm_from_idle_h.expect("warms") < run.warm_from_cold_h.expect("warms"));
    let way = |control| run.ways.iter().find(|w| w.control == control).expect("there");
    let [hand, sensor, idle] = [MeltControl::ByHand, MeltControl::Sensor, MeltControl::Idle].map(way);
    assert!(idle.clear_share > 0.95, "idling keeps it clear: {}", idle.clear_share);
    assert!(idle.clear_share > sensor.clear_share && sensor.clear_share >= hand.clear_share);
    assert!(idle.heat_j_m2 > sensor.heat_j_m2, "idling costs");
    assert!(hand.most_snow_mm > sensor.most_snow_mm && sensor.most_snow_mm > idle.most_snow_mm);
    for w in [hand, sensor, idle] {
        assert!(w.most_snow_mm <= run.falls_mm && w.water_over_slab_k <= 35.0 + 1e-6, "{}", w.water_over_slab_k);
        let end = w.steps.last().expect("steps");
        assert!(end.snow_mm <= run.falls_mm);
        assert!(
            w.steps.iter().all(|s| s.heat_w_m2 <= run.power_w_m2 * 1.001 && s.surface_c < 60.0 && s.surface_c > -60.0)
        );
        // while snow lies the surface is held near freezing
        assert!(w.steps.iter().filter(|s| s.snow_mm > 3.0).all(|s| s.surface_c < 3.0));
    }
    assert!(sensor.clear_after_h.is_some() && idle.clear_after_h.is_some());
}

#[test]
fn a_gentler_controller_is_later_and_a_house_that_comes_first_leaves_snow() {
    let warm = |shock_k: f64| {
        let mut job = drive(with(1.0));
        job.outdoors.as_mut().expect("outdoors").shock_k = shock_k;
        through(job).warm_from_cold_h.unwrap_or(f64::INFINITY)
    };
    // in the storm the water is 26 K over the surface: less keeps it from its design
    assert!(warm(12.0) > 1.1 * warm(50.0) && warm(50.0) < 24.0);
    let mut job = drive(with(1.0));
    job.outdoors.as_mut().expect("outdoors").house =
        Some(HouseFirst { source_w: 14_000.0, w_per_k: 300.0, no_heat_above_c: 16.0 });
    let study = Study::of(&checked(job.clone())).expect("solved");
    let leaves = Design::of(&study).outdoors.expect("outdoors").house.expect("a house");
    // 300 W/K · 21 K = 6.3 kW of 14
    assert!((leaves.left_w - 7700.0).abs() < 1e-6 && leaves.share < 1.0);
    assert!(Design::of(&study).findings.iter().any(|f| f.code == "outdoors.house_first"));
    let left = through(job).ways[2].clear_share;
    assert!(left < through(drive(with(1.0))).ways[2].clear_share, "{left}");
}

fn year() -> Vec<WeatherHour> {
    hours(include_str!("../../../../demo/alderfell.epw")).expect("reads")
}

#[test]
fn a_year_tells_the_ways_apart_and_the_worst_storm_is_in_it() {
    let study = Study::of(&checked(drive(with(1.0)))).expect("solved");
    let year = year();
    let told = outdoor_year(&study, None, &year).expect("runs");
    assert!(told.hours.from_file && told.hours.snow_hours > 100);
    let way = |control| told.ways.iter().find(|w| w.control == control).expect("there");
    let (hand, sensor, idle) = (way(MeltControl::ByHand), way(MeltControl::Sensor), way(MeltControl::Idle));
    assert!(
        idle.clear_share >= sensor.clear_share && sensor.clear_share > hand.clear_share,
        "{} {} {}",
        hand.clear_share,
        sensor.clear_share,
        idle.clear_share
    );
    assert!(idle.heat_j_m2 > 1.5 * sensor.heat_j_m2, "{} {}", idle.heat_j_m2, sensor.heat_j_m2);
    assert!(idle.heated_hours > sensor.heated_hours && sensor.heated_hours > 0.0);
    let worst =
        storm(&study, &StormTrial { worst_of_the_year: true, ..StormTrial::default() }, Some(&year)).expect("runs");
    assert!(worst.falls_mm > 0.0 && worst.snows_s[1] > worst.snows_s[0]);
    // a file that does not say what falls needs the year's snow
    let dry: Vec<WeatherHour> = year.iter().map(|h| WeatherHour { falls_mm: None, ..*h }).collect();
    assert_eq!(outdoor_year(&study, None, &dry).unwrap_err().field, "outdoors.snow_mm");
    assert_eq!(outdoor_year(&study, Some("nowhere"), &year).unwrap_err().field, "area_id");
}

#[test]
fn what_cannot_be_is_named() {
    let refused = |change: &dyn Fn(&mut Job)| {
        let mut job = drive(with(1.0));
        change(&mut job);
        CheckedJob::new(job).expect_err("refused").field
    };
    assert_eq!(refused(&|j| j.rooms[0].melt.as_mut().unwrap().free_area_ratio = 2.0), "rooms[0].melt.free_area_ratio");
    assert_eq!(refused(&|j| j.outdoors.as_mut().unwrap().storm.snowfall_mm_h = 500.0), "outdoors.storm.snowfall_mm_h");
    assert_eq!(refused(&|j| j.outdoors.as_mut().unwrap().storm.humidity = 1.2), "outdoors.storm.humidity");
    assert_eq!(refused(&|j| j.outdoors.as_mut().unwrap().storm.humidity = 0.0), "outdoors.storm.humidity");
    assert_eq!(refused(&|j| j.outdoors.as_mut().unwrap().storm.wind_m_s = -1.0), "outdoors.storm.wind_m_s");
    assert_eq!(
        refused(&|j| j.rooms[0].floor.as_mut().unwrap().build_up_id = "slab".into()),
        "rooms[0].floor.build_up_id"
    );
    assert_eq!(refused(&|j| j.outdoors = None), "rooms[0].melt");
    let found = |change: &dyn Fn(&mut Job), code: &str| {
        let mut job = drive(with(1.0));
        assert!(!designed(job.clone()).findings.iter().any(|f| f.code == code), "{code} before the change");
        change(&mut job);
        let design = designed(job);
        assert!(design.findings.iter().any(|f| f.code == code), "{code}: {:?}", design.findings);
    };
    found(&|j| j.rooms[0].keep_outs.clear(), "outdoors.no_drain");
    found(&|j| j.fluid = Fluid::default(), "outdoors.frost");
    found(&|j| j.rooms[0].melt.as_mut().unwrap().slope = 0.0, "outdoors.flat");
    let drive_study = Study::of(&checked(drive(with(1.0)))).expect("solved");
    assert_eq!(fuoco_core::service::Suspects::new(&drive_study, 0.0).err().map(|e| e.field), Some("outdoors".into()));
    // what the design says of the climate is the site's, not what areas are read by
    assert_eq!(drive_study.asked().site.outdoor_c, -18.0);
    let house = Start::named("House").job();
    let study = Study::of(&checked(house)).expect("solved");
    assert_eq!(storm(&study, &StormTrial::default(), None).unwrap_err().field, "rooms");
}

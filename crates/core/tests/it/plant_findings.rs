//! Every finding of the plant on a plant that deserves it, and on its mended twin that does not.

use crate::plant::{house, study};
use fuoco_core::design::Design;
use fuoco_core::findings::{Finding, Severity};
use fuoco_core::job::*;
use fuoco_core::units::Units;

fn findings(job: &Job) -> Vec<Finding> {
    Design::of(&study(job.clone())).findings
}

fn of(job: &Job, code: &str) -> Option<Finding> {
    findings(job).into_iter().find(|f| f.code == code)
}

fn plant(job: &mut Job) -> &mut Plant {
    job.plant.as_mut().expect("a plant")
}

/// That it is told after the change, and not before.
fn told(arrangement: Arrangement, code: &str, change: impl Fn(&mut Job)) -> Finding {
    let mut job = house(arrangement);
    assert_eq!(of(&job, code).map(|f| f.message), None, "{code} before the change");
    change(&mut job);
    let found = of(&job, code).unwrap_or_else(|| panic!("{code} is not told after the change"));
    assert!(!found.message.contains('{') && !found.rule.contains('{') && !found.remedy.contains('{'), "{found:?}");
    assert!(!found.rule.is_empty() && !found.remedy.is_empty(), "{code}: what to do is said");
    found
}

const SERIES: Arrangement = Arrangement::TeesInSeries;

#[test]
fn a_source_too_small_is_an_error_and_one_too_large_a_warning() {
    let small = told(SERIES, "plant.small", |j| (plant(j).source.most_w, plant(j).source.least_w) = (1_500.0, 500.0));
    assert_eq!(small.severity, Severity::Error);
    assert!(small.message.contains("1500 W"), "{}", small.message);
    let large = told(SERIES, "plant.large", |j| plant(j).source.most_w = 60_000.0);
    assert_eq!(large.severity, Severity::Warning);
    let unused = told(SERIES, "plant.unused", |j| plant(j).source.most_w = 60_000.0);
    assert!(unused.message.contains("60000 W can never be used"), "{}", unused.message);
}

#[test]
fn water_too_cool_or_too_hot_is_told_by_its_circuit() {
    let cool = told(SERIES, "plant.cool", |j| plant(j).source.leaves_c = Some(40.0));
    assert!(cool.message.starts_with("Radiators rad-1 gets"), "{}", cool.message);
    // the second radiators have what the first leave, some kelvins more than they need
    let hot = |j: &Job| {
        let all = findings(j).into_iter().filter(|f| f.code == "plant.hot").map(|f| f.message);
        all.filter(|m| m.starts_with("Floors cool gets")).count()
    };
    let mut job = house(SERIES);
    assert_eq!(hot(&job), 0);
    job.circuits[1].feed.mixing = Mixing::None;
    assert_eq!(hot(&job), 1);
    let jumps = told(SERIES, "plant.authority", |j| {
        plant(j).arrangement = Arrangement::Direct;
        plant(j).source.kv_m3_h = 0.5;
    });
    assert!(jumps.message.contains("authority of"), "{}", jumps.message);
}

#[test]
fn weak_pumps_loud_mains_and_starved_sources_are_told() {
    let weak = told(SERIES, "plant.pump", |j| {
        let point = |flow_l_min, head_m| fuoco_core::network::CurvePoint { flow_l_min, head_m };
        j.circuits[0].feed.pump.curve = vec![point(0.0, 0.4), point(10.0, 0.2), point(30.0, 0.0)];
    });
    assert!(weak.message.starts_with("The pump of Floors warm (Typed curve)"), "{}", weak.message);
    let loud = told(SERIES, "plant.mains", |j| {
        let takes = Takes::Typed { heat_w: 4_000.0, supply_c: 50.0, return_c: 45.0, around_c: 20.0, always: false };
        let feed = Feed { mains_bore_m: Some(0.01), ..Feed::plain() };
        plant(j).users.push(HeatUser { id: "air".into(), name: "Air".into(), takes, feed });
    });
    assert!(loud.rule.contains("1.20 m/s"), "{}", loud.rule);
    let starved = told(SERIES, "plant.starved", |j| plant(j).source.kv_m3_h = 0.15);
    assert!(starved.message.starts_with("The source gets"), "{}", starved.message);
    told(SERIES, "plant.starved", |j| plant(j).source.least_flow_l_min = Some(300.0));
}

#[test]
fn cycling_condensing_and_cold_returns_are_told() {
    let cycles = |j: &mut Job| {
        (plant(j).source.least_w, plant(j).source.content_l, plant(j).source.differential_k) = (6_000.0, 0.5, 2.0);
    };
    let often = told(SERIES, "plant.cycling", cycles);
    assert!(often.remedy.contains(" L for ten minutes"), "{}", often.remedy);
    // the buffer of that size mends it
    let mut job = house(SERIES);
    cycles(&mut job);
    let size = Design::of(&study(job.clone())).plant.expect("a plant").size;
    (plant(&mut job).buffer_l, plant(&mut job).arrangement) = (size.buffer_l.ceil(), Arrangement::BufferTwoPipe);
    assert_eq!(of(&job, "plant.cycling"), None);
    let dry = told(SERIES, "plant.not_condensing", |j| {
        (plant(j).source.leaves_c, plant(j).source.rise_k) = (Some(80.0), 5.0);
    });
    assert!(dry.rule.contains("54.0 °C"), "{}", dry.rule);
    let eaten = told(SERIES, "plant.cold_return", |j| plant(j).source.least_return_c = Some(55.0));
    assert_eq!(eaten.severity, Severity::Warning);
}

#[test]
fn tees_apart_and_circuits_out_of_order_are_told() {
    let apart = told(SERIES, "plant.tees", |j| plant(j).tees_apart_m = 0.6);
    // four bores of 26 mm, less than 150 mm
    assert!(apart.rule.contains("104 mm"), "{}", apart.rule);
    let order = told(SERIES, "plant.order", |j| plant(j).order = vec!["cool".into()]);
    assert!(order.message.starts_with("Floors cool comes before"), "{}", order.message);
    // on a separator there is no order
    let mut job = house(Arrangement::Separator);
    (plant(&mut job).order, plant(&mut job).tees_apart_m) = (vec!["cool".into()], 0.6);
    assert_eq!((of(&job, "plant.order"), of(&job, "plant.tees")), (None, None));
}

#[test]
fn a_rail_on_the_rooms_line_is_told_and_a_tank_is_not() {
    let rail = |j: &mut Job| {
        let takes = Takes::Typed { heat_w: 300.0, supply_c: 45.0, return_c: 40.0, around_c: 22.0, always: true };
        plant(j).users.push(HeatUser { id: "rail".into(), name: "Rail".into(), takes, feed: Feed::plain() });
    };
    let found = told(SERIES, "plant.fixed_user", rail);
    assert!(found.message.starts_with("Rail wants 45.0 °C"), "{}", found.message);
    // a source that always makes hot water satisfies it
    let mut job = house(SERIES);
    rail(&mut job);
    plant(&mut job).source.leaves_c = Some(70.0);
    assert_eq!(of(&job, "plant.fixed_user"), None);
}

#[test]
fn a_vessel_that_cannot_be_and_glycol_that_is_too_strong_are_told() {
    let none = told(SERIES, "plant.vessel", |j| plant(j).static_m = Some(25.0));
    assert_eq!(none.severity, Severity::Error);
    assert!(none.message.contains("2.8 bar") && none.rule.contains("0.3 bar"), "{none:?}");
    told(SERIES, "plant.glycol", |j| j.fluid = Fluid { kind: FluidKind::PropyleneGlycol, mass_fraction: 0.55 });
}

#[test]
fn emitters_unknown_gone_named_twice_or_not_at_all_are_told() {
    let emitters = |j: &mut Job, k: usize, ids: &[&str]| {
        let emitter_ids = ids.iter().map(|i| (*i).to_owned()).collect();
        plant(j).users[k].takes = Takes::Emitters { emitter_ids, drop_k: 12.0 };
    };
    let unrated = told(SERIES, "plant.unrated", |j| j.rooms[2].emitters[0].rated_w = None);
    assert_eq!(unrated.subject.id, "c");
    told(SERIES, "plant.emitters_gone", |j| emitters(j, 0, &["r-c", "gone"]));
    told(SERIES, "plant.no_emitters", |j| emitters(j, 0, &[]));
    let mut job = house(SERIES);
    emitters(&mut job, 1, &["r-c", "r-d"]);
    let twice: Vec<Finding> = findings(&job).into_iter().filter(|f| f.code == "plant.emitter_twice").collect();
    assert_eq!(twice.len(), 1, "once for the pair");
    assert!(twice[0].message.starts_with("Radiators rad-1 and Radiators rad-2"), "{}", twice[0].message);
}

#[test]
fn a_plant_without_a_balance_is_an_error_and_the_rest_is_calculated() {
    let found = told(Arrangement::TwoSources, "plant.network", |j| plant(j).second = None);
    assert_eq!(found.severity, Severity::Error);
    assert!(found.message.contains("need a second source"), "{}", found.message);
    let mut job = house(Arrangement::TwoSources);
    plant(&mut job).second = None;
    let design = Design::of(&study(job));
    let told = design.plant.expect("told all the same");
    assert!(told.state.is_none() && told.vessel.least_l.is_some() && !told.lines.is_empty());
    assert!(!design.loops.is_empty());
}

#[test]
fn a_heat_pump_without_a_table_is_told() {
    told(SERIES, "plant.heat_pump_table", |j| plant(j).source.kind = SourceKind::HeatPumpAir);
}

#[test]
fn every_plant_carries_its_cautions_and_water_heaters_one_more() {
    let mut job = house(SERIES);
    let plain = of(&job, "plant.law").expect("always").message;
    plant(&mut job).source.kind = SourceKind::TankHeater;
    let heater = of(&job, "plant.law").expect("always").message;
    assert!(heater.starts_with(&plain) && heater.contains("drinking water"), "{heater}");
    job.plant = None;
    assert_eq!(of(&job, "plant.law"), None);
}

#[test]
fn sentences_are_in_the_jobs_units() {
    let mut job = house(SERIES);
    job.site.units = Units::Us;
    (plant(&mut job).source.most_w, plant(&mut job).tees_apart_m) = (60_000.0, 0.6);
    job.circuits[0].feed.mains_bore_m = Some(0.006);
    plant(&mut job).source.kv_m3_h = 0.15;
    for f in findings(&job).iter().filter(|f| f.code.starts_with("plant.")) {
        for sentence in [&f.message, &f.rule, &f.remedy] {
            for metric in [" W", " kW", "°C", "L/min", "m/s", " mm", " bar", " kPa"] {
                let word = |t: &str| t.split(metric).skip(1).any(|rest| !rest.starts_with(char::is_alphabetic));
                assert!(!word(sentence), "{}: {sentence}", f.code);
            }
        }
    }
}

//! The plant: arrangements against each other and against balances by hand.

use fuoco_core::error::FieldError;
use fuoco_core::job::*;
use fuoco_core::plant::source::source_at;
use fuoco_core::plant::state::{CircuitState, PlantState, PlantTrial, plant_state};
use fuoco_core::samples::*;
use fuoco_core::study::Study;
use std::sync::Arc;

pub fn boiler(most_w: f64) -> HeatSource {
    HeatSource {
        kind: SourceKind::CondensingGas,
        name: "Boiler".into(),
        most_w,
        least_w: 0.2 * most_w,
        most_c: 85.0,
        leaves_c: None,
        least_return_c: None,
        least_flow_l_min: None,
        rise_k: 15.0,
        kv_m3_h: 4.0,
        content_l: 6.0,
        differential_k: 6.0,
        points: vec![],
        pump: PumpChoice::default(),
    }
}

fn radiators(id: &str, emitters: &[&str]) -> HeatUser {
    HeatUser {
        id: id.into(),
        name: format!("Radiators {id}"),
        takes: Takes::Emitters { emitter_ids: emitters.iter().map(|e| (*e).to_owned()).collect(), drop_k: 12.0 },
        feed: Feed::plain(),
    }
}

fn tank() -> HeatUser {
    HeatUser {
        id: "tank".into(),
        name: "Tank".into(),
        takes: Takes::Tank {
            volume_l: 200.0,
            store_c: 55.0,
            coil_w: 15_000.0,
            coil_supply_c: 75.0,
            coil_flow_l_min: 16.0,
        },
        feed: Feed::plain(),
    }
}

/// Two floors on circuits of their own, two rooms with radiators, a tank.
pub fn house(arrangement: Arrangement) -> Job {
    let mut rooms = vec![
        box_room("a", 0.0, 0.0, 5.0, 4.0),
        box_room("b", 5.1, 0.0, 9.0, 4.0),
        box_room("c", 0.0, 4.1, 5.0, 8.0),
        box_room("d", 5.1, 4.1, 9.0, 8.0),
    ];
    rooms[0].floor.as_mut().expect("heated").covering_id = "carpet".into();
    for room in &mut rooms[2..] {
        room.floor = None;
        let rated_w = Some(1500.0);
        room.emitters = vec![Emitter { id: format!("r-{}", room.id), rated_w, ..Emitter::of(EmitterKind::Radiator) }];
    }
    let mut job = job_of(rooms);
    job.manifolds = vec![manifold("m", "A", "a", 3, 1.0), manifold("n", "B", "b", 1, 2.0)];
    let floors = |id: &str, m: &str| FloorCircuit {
        id: id.into(),
        name: format!("Floors {id}"),
        manifold_ids: vec![m.into()],
        supply_c: None,
        feed: Feed::default(),
    };
    job.circuits = vec![floors("warm", "m"), floors("cool", "n")];
    job.plant = Some(Plant {
        source: boiler(12_000.0),
        second: Some(boiler(8_000.0)),
        arrangement,
        order: vec![],
        users: vec![radiators("rad-1", &["r-c"]), radiators("rad-2", &["r-d"]), tank()],
        primary_bore_m: 0.026,
        primary_m: 6.0,
        tees_apart_m: 0.1,
        buffer_l: 0.0,
        exchanger_w_k: 3000.0,
        warm_weather_c: 18.0,
        static_m: None,
        relief_pa: 300_000.0,
    });
    job
}

pub fn study(job: Job) -> Arc<Study> {
    Study::of(&CheckedJob::new(job).expect("sound")).expect("solves")
}

fn at(study: &Study, trial: &PlantTrial) -> PlantState {
    plant_state(study, trial).unwrap_or_else(|e| panic!("{e}"))
}

fn of<'s>(s: &'s PlantState, id: &str) -> &'s CircuitState {
    s.circuits.iter().find(|c| c.id == id).expect("a circuit")
}

#[test]
fn in_every_arrangement_all_get_their_supply_and_no_heat_is_lost() {
    for arrangement in Arrangement::ALL {
        let study = study(house(arrangement));
        let s = at(&study, &PlantTrial::default());
        let taken: f64 = s.circuits.iter().map(|c| c.heat_w).sum();
        let given: f64 = s.sources.iter().map(|x| x.heat_w).sum();
        // what the source gives and what circuits take, both by flow and temperatures: the arithmetic's own error
        assert!((given / taken - 1.0).abs() < 1e-3, "{arrangement:?}: {given} {taken}");
        for c in s.circuits.iter().filter(|c| c.on) {
            let (needs, got) = (c.needs_c.expect("wants heat"), c.supply_c.expect("flows"));
            assert!(got > needs - 0.2, "{arrangement:?} {}: {got} of {needs}: {:?}", c.id, s.notes);
            if c.mixing == Mixing::ThreeWay {
                assert!((got - needs).abs() < 0.2, "{arrangement:?} {}: {got} {needs}", c.id);
            }
            assert!(c.flow_l_min > 0.9 * c.design_flow_l_min, "{arrangement:?} {}: {c:?}", c.id);
        }
        assert!(!of(&s, "tank").on && of(&s, "tank").flow_l_min.abs() < 0.1, "{arrangement:?}: {:?}", of(&s, "tank"));
        // every room is at least as warm as it should be: the boiler is large enough
        for room in &s.rooms {
            assert!(room.room_c > room.set_c - 0.5, "{arrangement:?}: {room:?}");
        }
        for p in &s.pipes {
            assert!(p.points.iter().all(|[x, y]| (0.0..=s.size[0]).contains(x) && (0.0..=s.size[1]).contains(y)));
        }
    }
}

#[test]
fn mixing_and_tees_balance_by_hand() {
    let study = study(house(Arrangement::TeesInSeries));
    let s = at(&study, &PlantTrial::default());
    let cool = of(&s, "cool");
    let share = cool.hot_share.expect("mixes");
    let (mix, back) = (cool.supply_c.expect("flows"), cool.return_c.expect("flows"));
    // the hot water of a mixing valve by its own balance: share·hot + (1 − share)·back = mix
    let hot = (mix - (1.0 - share) * back) / share;
    let source = &s.sources[0];
    let (leaves, returns) = (source.leaves_c.expect("flows"), source.returns_c.expect("flows"));
    assert!(hot <= leaves + 0.1 && hot >= returns - 0.1, "{hot} between {returns} and {leaves}");
    // the hottest are first, of the same temperature the smaller
    let needs: Vec<f64> = s.circuits.iter().filter_map(|c| c.needs_c).collect();
    assert!(needs.windows(2).all(|w| w[0] > w[1] - 1.01), "{needs:?}");
}

#[test]
fn series_needs_hotter_water_than_headers() {
    let mut job = house(Arrangement::TeesInSeries);
    let losses: Vec<f64> = study(job.clone()).rooms.iter().map(|d| d.heat_loss_w).collect();
    // two rooms of radiators that need the same water, and a source pump that moves little: what the first takes the second
    // lacks
    job.rooms[3].room_c = job.rooms[2].room_c;
    job.rooms[3].emitters[0].rated_w = Some(1500.0 * losses[3] / losses[2]);
    let plant = job.plant.as_mut().expect("a plant");
    plant.users.truncate(2);
    plant.source.rise_k = 25.0;
    let study = study(job);
    let source = |arrangement| {
        let s = at(&study, &PlantTrial { arrangement: Some(arrangement), ..PlantTrial::default() });
        s.sources[0].leaves_c.expect("flows")
    };
    let (series, headers) = (source(Arrangement::TeesInSeries), source(Arrangement::TeesWithHeaders));
    assert!(series > headers + 2.0, "{series} {headers}");
}

#[test]
fn a_circuit_that_moves_more_than_the_primary_mixes_its_own_return_in() {
    let mut job = house(Arrangement::TeesInSeries);
    {
        let plant = job.plant.as_mut().expect("a plant");
        plant.users.clear();
        plant.source.rise_k = 45.0;
        plant.source.most_c = 90.0;
    }
    job.circuits.iter_mut().for_each(|c| c.feed.mixing = Mixing::None);
    let study = study(job);
    let s = at(&study, &PlantTrial::default());
    assert!(s.notes.iter().any(|n| n.contains("flows back")), "{:?}", s.notes);
    // blending by flow: the supply lies between what the primary brings and the circuit's own return
    let first = &s.circuits[0];
    let (primary, got, back) =
        (s.sources[0].leaves_c.expect("flows"), first.supply_c.expect("flows"), first.return_c.expect("flows"));
    let by_flow = {
        let share = s.sources[0].flow_l_min / first.flow_l_min;
        share * primary + (1.0 - share) * back
    };
    assert!((got - by_flow).abs() < 0.3, "{got} against {by_flow}");
}

#[test]
fn hot_water_comes_first_and_everything_else_waits() {
    let study = study(house(Arrangement::TeesInSeries));
    let s = at(&study, &PlantTrial { charging: true, ..PlantTrial::default() });
    let tank = of(&s, "tank");
    assert!(tank.on && tank.heat_w > 10_000.0, "{tank:?}");
    assert!(s.circuits.iter().filter(|c| c.id != "tank").all(|c| !c.on && c.flow_l_min.abs() < 0.1));
    assert!(s.sources[0].heat_w <= 12_000.0 + 1.0, "no more than the boiler's most");
}

#[test]
fn a_source_too_small_is_told_and_a_second_follows() {
    let mut job = house(Arrangement::Separator);
    job.plant.as_mut().expect("a plant").source = boiler(1_500.0);
    let study = study(job);
    let alone = at(&study, &PlantTrial::default());
    assert!(alone.sources[0].at_most && (alone.sources[0].heat_w - 1500.0).abs() < 5.0, "{:?}", alone.sources);
    assert!(alone.notes.iter().any(|n| n.contains("all it can")), "{:?}", alone.notes);
    // the floors' valves take what they need; what hangs on the hot water itself is short
    for id in ["c", "d"] {
        let room = alone.rooms.iter().find(|r| r.id == id).expect("a room");
        assert!(room.room_c < room.set_c - 1.0, "{room:?}");
    }
    let both = at(&study, &PlantTrial { arrangement: Some(Arrangement::TwoSources), ..PlantTrial::default() });
    assert!(both.sources[1].runs && both.sources[1].heat_w > 500.0, "{:?}", both.sources);
    assert!(!both.sources.iter().all(|s| s.at_most));
}

#[test]
fn milder_weather_wants_cooler_water_and_warm_weather_none() {
    let study = study(house(Arrangement::TeesWithHeaders));
    let source = |outdoor| {
        let s = at(&study, &PlantTrial { outdoor_c: Some(outdoor), ..PlantTrial::default() });
        (s.sources[0].leaves_c.unwrap_or(0.0), s)
    };
    let (cold, mild) = (source(study.job.site.outdoor_c).0, source(5.0));
    assert!(cold > mild.0 + 5.0, "{cold} {}", mild.0);
    for room in &mild.1.rooms {
        assert!((room.room_c - room.set_c).abs() < 2.5, "the reset line keeps rooms: {room:?}");
    }
    let warm = source(19.0).1;
    assert!(warm.circuits.iter().all(|c| !c.on) && warm.sources[0].heat_w < 1.0);
}

#[test]
fn injection_brings_the_supply_that_a_valve_brings() {
    let mut job = house(Arrangement::TeesInSeries);
    let by_valve = of(&at(&study(job.clone()), &PlantTrial::default()), "cool").clone();
    job.circuits[1].feed.mixing = Mixing::Injection;
    let by_pump = of(&at(&study(job), &PlantTrial::default()), "cool").clone();
    let supply = |c: &CircuitState| c.supply_c.expect("flows");
    assert!((supply(&by_valve) - supply(&by_pump)).abs() < 0.5, "{by_valve:?} {by_pump:?}");
}

#[test]
fn a_heat_pump_is_read_off_its_table_and_never_beyond() {
    let point = |outdoor_c, water_c, output_w, cop| HeatPumpPoint { outdoor_c, water_c, output_w, cop };
    let mut source = boiler(9_000.0);
    source.kind = SourceKind::HeatPumpAir;
    source.points = vec![
        point(-10.0, 35.0, 6_000.0, 2.6),
        point(-10.0, 45.0, 5_600.0, 2.1),
        point(5.0, 35.0, 9_000.0, 4.2),
        point(5.0, 45.0, 8_400.0, 3.4),
    ];
    let (w, cop) = source_at(&source, -2.5, 40.0);
    assert!((w - 7_250.0).abs() < 1e-6 && (cop.expect("known") - 3.075).abs() < 1e-9, "{w} {cop:?}");
    assert_eq!(source_at(&source, -30.0, 60.0), (5_600.0, Some(2.1)), "held at the ends");
    source.points.clear();
    let cop = source_at(&source, 2.0, 35.0).1.expect("by Carnot");
    // 0.45 of Carnot between 40 °C and −3 °C: 0.45·313.15/43
    assert!((cop - 0.45 * 313.15 / 43.0).abs() < 1e-9, "{cop}");
}

#[test]
fn what_makes_no_plant_is_refused_by_name() {
    let refused = |change: &dyn Fn(&mut Job)| {
        let mut job = house(Arrangement::Direct);
        change(&mut job);
        CheckedJob::new(job).expect_err("refused").field
    };
    fn plant(j: &mut Job) -> &mut Plant {
        j.plant.as_mut().expect("a plant")
    }
    assert_eq!(refused(&|j| plant(j).source.most_w = -1.0), "plant.source.most_w");
    assert_eq!(refused(&|j| plant(j).source.least_w = 50_000.0), "plant.source.least_w");
    assert_eq!(refused(&|j| plant(j).users[1].id = "warm".into()), "plant.users[1].id");
    let pump = |p: PumpChoice| move |j: &mut Job| plant(j).source.pump = p.clone();
    let model = PumpChoice { model_id: Some("none".into()), ..PumpChoice::default() };
    assert_eq!(refused(&pump(model)), "plant.source.pump.model_id");
    let point = |flow_l_min, head_m| fuoco_core::network::CurvePoint { flow_l_min, head_m };
    let rises = PumpChoice { curve: vec![point(0.0, 2.0), point(10.0, 3.0)], ..PumpChoice::default() };
    assert_eq!(refused(&pump(rises)), "plant.source.pump.curve[1].head_m");
    let takes = |t: Takes| move |j: &mut Job| plant(j).users[2].takes = t.clone();
    let colder = Takes::Tank { volume_l: 200.0, store_c: 70.0, coil_w: 9e3, coil_supply_c: 60.0, coil_flow_l_min: 9.0 };
    assert_eq!(refused(&takes(colder)), "plant.users[2].takes.coil_supply_c");
    let warms = Takes::Typed { heat_w: 500.0, supply_c: 40.0, return_c: 45.0, around_c: 20.0, always: true };
    assert_eq!(refused(&takes(warms)), "plant.users[2].takes.return_c");
    let none = |r: Result<PlantState, FieldError>| r.expect_err("refused").field;
    let mut bare = house(Arrangement::Direct);
    bare.plant = None;
    assert_eq!(none(plant_state(&study(bare), &PlantTrial::default())), "plant");
    let mut one = house(Arrangement::TwoSources);
    plant(&mut one).second = None;
    assert_eq!(none(plant_state(&study(one), &PlantTrial::default())), "plant.second");
    let s = study(house(Arrangement::Direct));
    assert_eq!(
        none(plant_state(&s, &PlantTrial { outdoor_c: Some(f64::NAN), ..PlantTrial::default() })),
        "trial.outdoor_c"
    );
}

#[test]
fn no_weather_moves_a_circuit_to_another_place() {
    for arrangement in [Arrangement::TeesInSeries, Arrangement::TeesWithHeaders] {
        let mut job = house(arrangement);
        // a user that stays as hot when the radiators' line has dropped below it
        let takes = Takes::Typed { heat_w: 300.0, supply_c: 45.0, return_c: 40.0, around_c: 22.0, always: true };
        let rail = HeatUser { id: "rail".into(), name: "Rail".into(), takes, feed: Feed::plain() };
        job.plant.as_mut().expect("a plant").users.push(rail);
        let study = study(job);
        let at = |outdoor_c| at(&study, &PlantTrial { outdoor_c: Some(outdoor_c), ..PlantTrial::default() });
        let ids = |s: &PlantState| s.circuits.iter().map(|c| c.id.clone()).collect::<Vec<_>>();
        let places = |s: &PlantState| s.symbols.iter().map(|x| (x.id.clone(), x.at)).collect::<Vec<_>>();
        let cold = at(study.job.site.outdoor_c);
        for outdoor_c in [-5.0, 5.0, 12.0, 17.0, 19.0] {
            let mild = at(outdoor_c);
            assert_eq!(ids(&mild), ids(&cold), "{arrangement:?} at {outdoor_c}");
            assert_eq!(places(&mild), places(&cold), "{arrangement:?} at {outdoor_c}");
        }
    }
}

#[test]
fn a_typed_order_comes_first_and_what_it_leaves_out_follows() {
    let mut job = house(Arrangement::TeesInSeries);
    job.plant.as_mut().expect("a plant").order = vec!["cool".into(), "nobody".into(), "rad-2".into()];
    let s = at(&study(job), &PlantTrial::default());
    let ids: Vec<&str> = s.circuits.iter().map(|c| c.id.as_str()).collect();
    assert_eq!(ids, ["cool", "rad-2", "tank", "rad-1", "warm"]);
}

/// Plants by number: every arrangement with what may be changed of it, in any weather, with anything off.
#[test]
fn random_plants_rest_with_their_heat_balanced() {
    let mut chance = fastrand::Rng::with_seed(7);
    let mut pick = |n: usize| chance.usize(..n);
    let controls = [
        PumpControl::FixedSpeed,
        PumpControl::ConstantPressure,
        PumpControl::ProportionalPressure,
        PumpControl::ConstantDifference,
    ];
    let mixings = [Mixing::None, Mixing::Thermostatic, Mixing::ThreeWay, Mixing::Injection];
    let mut refused = Vec::new();
    for n in 0..120 {
        let mut job = house(Arrangement::ALL[pick(8)]);
        for c in &mut job.circuits {
            c.feed.mixing = mixings[pick(4)];
            c.feed.pump.control = controls[pick(4)];
            c.feed.mains_m = 2.0 + 10.0 * pick(3) as f64;
        }
        let plant = job.plant.as_mut().expect("a plant");
        plant.source.most_w = [2_000.0, 6_000.0, 20_000.0][pick(3)];
        plant.source.least_w = 1_000.0;
        plant.source.rise_k = [8.0, 15.0, 30.0][pick(3)];
        plant.source.leaves_c = [None, None, Some(60.0)][pick(3)];
        plant.source.pump.control = controls[pick(4)];
        for user in &mut plant.users {
            user.feed.mixing = mixings[pick(3)];
        }
        let off: Vec<String> =
            ["warm", "cool", "rad-1", "rad-2"].into_iter().filter(|_| pick(4) == 0).map(str::to_owned).collect();
        let trial = PlantTrial {
            outdoor_c: Some(-12.0 + 4.0 * pick(8) as f64),
            off,
            charging: pick(6) == 0,
            ..PlantTrial::default()
        };
        let told = format!("{n}: {:?} {trial:?}", job.plant.as_ref().map(|p| p.arrangement));
        match plant_state(&study(job), &trial) {
            Ok(s) => {
                let taken: f64 = s.circuits.iter().map(|c| c.heat_w).sum();
                let given: f64 = s.sources.iter().map(|x| x.heat_w).sum();
                // a source that is colder than its water gives nothing: all of the balance is what it gives
                assert!((given - taken).abs() < 2e-3 * given + 2.0, "{told}: {given} {taken}");
                assert!(s.pipes.iter().all(|p| p.flow_l_min.is_finite()), "{told}");
                assert!(s.rooms.iter().all(|r| (-40.0..=60.0).contains(&r.room_c)), "{told}");
            }
            Err(e) => refused.push(format!("{told}: {e}")),
        }
    }
    // where a source's flow by temperature and rooms chase each other no rest is found, and that is said: 2 of 1800 tried
    assert!(refused.len() <= 1 && refused.iter().all(|r| r.contains("do not come to rest together")), "{refused:#?}");
}

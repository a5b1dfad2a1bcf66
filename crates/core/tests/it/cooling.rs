//! Cooling: what the air allows, what the floor takes, what the sun brings.

use fuoco_core::cooling::report::{CoolingDesign, ShutFor, cooling_design};
use fuoco_core::design::design;
use fuoco_core::floor::{Parts, section};
use fuoco_core::job::{CheckedJob, Cooling, Job, JobKind, Start, Summer, Usage};
use fuoco_core::library;
use fuoco_core::moist_air::{dew_point_c, saturation_pa};
use fuoco_core::samples::{box_room, job_of, manifold, window};
use fuoco_core::section::{Films, solve};
use fuoco_core::study::Study;
use fuoco_core::survey::climate::read_epw;
use fuoco_core::survey::hours::{WeatherHour, hours};

const EPW: &str = include_str!("../../../../demo/alderfell.epw");

/// A studio with a south window, a bath beside it.
fn house() -> Job {
    let mut studio = box_room("studio", 0.0, 0.0, 8.0, 6.0);
    studio.usage = Usage::Hall;
    studio.openings.push(window("w", 0, 1.0, 5.0, 2.0));
    let mut bath = box_room("bath", 8.1, 0.0, 11.0, 4.0);
    (bath.usage, bath.room_c) = (Usage::Bath, 24.0);
    let mut job = job_of(vec![studio, bath]);
    job.manifolds.push(manifold("m", "A", "studio", 2, 3.0));
    job.site.weather = Some(read_epw(EPW).expect("reads"));
    job.cooling = Some(Cooling::default());
    job
}

fn year() -> Vec<WeatherHour> {
    hours(EPW).expect("reads")
}

fn cooled_in(job: Job, year: &[WeatherHour]) -> CoolingDesign {
    let study = Study::of(&CheckedJob::new(job).expect("sound")).expect("solved");
    cooling_design(&study, year).expect("designed")
}

fn with(change: impl FnOnce(&mut Job)) -> CoolingDesign {
    let mut job = house();
    change(&mut job);
    cooled_in(job, &year())
}

fn cooling(job: &mut Job) -> &mut Cooling {
    job.cooling.as_mut().expect("there")
}

#[test]
fn the_floor_takes_what_the_heating_solver_says_at_that_film() {
    let design = with(|_| {});
    let parts = Parts {
        build_up: library::build_up("slab").expect("there"),
        covering: library::covering("tile"),
        rug_m2k_w: 0.0,
        tube: library::tube("pex-16x2").expect("there"),
        spacing_m: 0.2,
        insulation_m2k_w: None,
    };
    let solution = solve(&section(&parts, &library::material).expect("builds")).expect("solves");
    // cooled floors have a film of 7 W/m²K; the film of the water hardly counts
    let at = |water: f64| solution.at(&Films { up: 7.0, down: 2.0, water }).up_w_m2k;
    let takes = design.rooms[0].takes_w_m2k.expect("tube");
    assert!(takes > 0.995 * at(300.0) && takes < 1.005 * at(4000.0), "{takes} in {} to {}", at(300.0), at(4000.0));
}

#[test]
fn a_typed_humidity_sets_the_water() {
    let design = with(|j| cooling(j).humidity = Some(0.55));
    // 26 °C at 55 %: 16.3 °C by any chart
    assert!((design.dew_point_c - 16.3).abs() < 0.1, "{}", design.dew_point_c);
    assert!((design.dew_point_c - dew_point_c(0.55 * saturation_pa(26.0))).abs() < 1e-9);
    assert!((design.supply_c - design.dew_point_c - 2.0).abs() < 1e-9 && design.dew_hour.is_none());
    let studio = &design.rooms[0];
    let under = 26.0 - design.supply_c - 1.5;
    let most = studio.takes_w_m2k.expect("tube") * under * 48.0;
    assert!(studio.floor_w <= studio.peak_w && studio.floor_w <= most * 1.001);
    // the floor is warmer than its water: bare metal sweats first
    assert!(studio.coolest_c.expect("cools") > design.supply_c + 1.0);
    assert!(studio.coolest_c.expect("cools") < studio.surface_c.expect("cools"));
    assert!(studio.floor_stands_c.expect("cools") < design.supply_c);
    let first = design.first_at.expect("a manifold");
    assert_eq!((first.manifold_id.as_str(), first.room_id.as_str()), ("m", "studio"));
}

#[test]
fn people_dampen_the_air_a_coil_dries_it_and_the_margin_is_kept() {
    // air from a dry country: what people give off shows
    let dry: Vec<WeatherHour> =
        year().iter().map(|h| WeatherHour { dew_point_c: h.dew_point_c.map(|d| d - 10.0), ..*h }).collect();
    let with = |change: &dyn Fn(&mut Job)| {
        let mut job = house();
        change(&mut job);
        cooled_in(job, &dry)
    };
    let few = Summer { people: 2.0, equipment_w: 0.0, from_h: 8, to_h: 22, shut: None };
    let usual = with(&|j| j.rooms[0].summer = Some(few));
    assert!(usual.dew_hour.is_some() && usual.week.len() == 168);
    assert!(
        usual.week.iter().any(|h| (h.dew_point_c - usual.dew_point_c).abs() < 1e-9),
        "the worst hour is in its week"
    );
    let full =
        with(&|j| j.rooms[0].summer = Some(Summer { people: 30.0, equipment_w: 0.0, from_h: 8, to_h: 22, shut: None }));
    assert!(full.dew_point_c > usual.dew_point_c + 0.5, "{} {}", full.dew_point_c, usual.dew_point_c);
    assert!(full.supply_c >= usual.supply_c);
    let dried = with(&|j| {
        j.rooms[0].summer = Some(Summer { people: 30.0, equipment_w: 0.0, from_h: 8, to_h: 22, shut: None });
        cooling(j).coil_humidity = Some(0.5);
    });
    assert!(dried.dew_point_c <= dew_point_c(0.5 * saturation_pa(26.0)) + 1e-6 && dried.coil_moist_w > 0.0);
    assert_eq!(usual.coil_moist_w, 0.0);
    let careful = with(&|j| {
        j.rooms[0].summer = Some(few);
        cooling(j).margin_k = 4.0;
    });
    assert!(careful.supply_c > usual.supply_c && careful.floor_share <= usual.floor_share);
    let held = with(&|j| {
        j.rooms[0].summer = Some(few);
        cooling(j).follows = false;
    });
    assert!(held.floor_share <= usual.floor_share, "a supply that follows takes more");
    for d in [&usual, &full, &dried, &careful, &held] {
        assert!((0.0..=1.0).contains(&d.floor_share) && d.supply_c <= 26.0);
        assert!(d.week.iter().all(|h| h.supply_c >= (h.dew_point_c).min(26.0) && h.floor_w <= h.need_w + 1e-6));
    }
}

#[test]
fn the_sun_is_what_heats_a_room_behind_glass() {
    let need = |change: &dyn Fn(&mut Job)| with(change).rooms[0].need_j;
    let usual = need(&|_| {});
    assert!(usual > 0.0);
    assert!(need(&|j| cooling(j).shades = 0.1) < 0.8 * usual, "shades help");
    assert!(need(&|j| j.rooms[0].openings[0].width_m = 2.0) < usual);
    let turned = |north_deg: f64| need(&|j| j.site.north_deg = north_deg);
    // the window looks north: turned by half a circle
    assert!(turned(180.0) < turned(0.0));
    assert!(need(&|j| cooling(j).room_c = 28.0) < usual);
    // radiation in the file goes before the clouds' model
    let dark: Vec<WeatherHour> =
        year().iter().map(|h| WeatherHour { direct_w_m2: Some(0.0), diffuse_w_m2: Some(0.0), ..*h }).collect();
    let in_the_dark = cooled_in(house(), &dark);
    assert!(in_the_dark.rooms[0].need_j < usual && !in_the_dark.sun_from_file);
}

/// In weather that does not change a room without sun and people wants what comes through its envelope: 5 conductances in steady
/// state by hand.
#[test]
fn steady_heat_by_hand() {
    let mut job = house();
    job.rooms.truncate(1);
    job.rooms[0].openings.clear();
    job.rooms[0].summer = Some(Summer { people: 0.0, equipment_w: 0.0, from_h: 0, to_h: 24, shut: None });
    let still = WeatherHour {
        air_c: 36.0,
        dew_point_c: Some(5.0),
        wind_m_s: None,
        cloud: Some(1.0),
        falls_mm: None,
        direct_w_m2: Some(0.0),
        diffuse_w_m2: Some(0.0),
    };
    let design = cooled_in(job.clone(), &vec![still; 8760]);
    let heat = design_loss(&job);
    // walls, roof, bridges against the mass, 9.1·3.0·48 W/K to the surfaces, 3.45·4.5·48 to the air; air straight on
    let (opaque, air) = heat;
    let (hms, his) = (9.1 * 3.0 * 48.0, 3.45 * 4.5 * 48.0);
    let hem = 1.0 / (1.0 / opaque - 1.0 / hms);
    let through = 1.0 / (1.0 / hem + 1.0 / hms + 1.0 / his);
    let by_hand = (through + air) * 10.0;
    assert!((design.rooms[0].peak_w - by_hand).abs() < 0.005 * by_hand, "{} {by_hand}", design.rooms[0].peak_w);
}

/// What walls, roof and bridges let through, and what the air carries, W/K.
fn design_loss(job: &Job) -> (f64, f64) {
    use fuoco_core::heat_loss::report::{Cause, OtherSide};
    let design = design(&CheckedJob::new(job.clone()).expect("sound")).expect("designed");
    let parts = design.rooms[0].loss_parts.iter().filter(|p| p.other == OtherSide::Outdoors);
    let (mut opaque, mut air) = (0.0, 0.0);
    for p in parts {
        let w = p.amount * p.per_kelvin;
        if matches!(p.cause, Cause::Air | Cause::Ventilation) { air += w } else { opaque += w }
    }
    (opaque, air)
}

#[test]
fn baths_and_carpets_are_shut_and_who_opens_them_is_told() {
    let design = with(|j| j.rooms[0].floor.as_mut().unwrap().covering_id = "carpet".into());
    assert_eq!(design.rooms.iter().map(|r| r.shut).collect::<Vec<_>>(), [Some(ShutFor::Carpet), Some(ShutFor::Bath)]);
    assert!(design.rooms.iter().all(|r| r.floor_w == 0.0 && r.share == 0.0));
    let mut job = house();
    job.rooms[1].floor.as_mut().unwrap().covering_id = "carpet".into();
    job.rooms[1].summer = Some(Summer { shut: Some(false), ..Summer::usual(Usage::Bath, 11.6) });
    let found = fuoco_core::design::design(&CheckedJob::new(job).unwrap()).unwrap().findings;
    let damp = found.iter().find(|f| f.code == "cooling.damp").expect("said");
    assert!(damp.message.contains("a bath with a carpet"), "{}", damp.message);
}

#[test]
fn what_cannot_be_is_named() {
    let refused = |change: &dyn Fn(&mut Job)| {
        let mut job = house();
        change(&mut job);
        CheckedJob::new(job).expect_err("refused").field
    };
    assert_eq!(refused(&|j| cooling(j).humidity = Some(1.2)), "cooling.humidity");
    assert_eq!(refused(&|j| cooling(j).room_c = 60.0), "cooling.room_c");
    let backward = Summer { people: 1.0, equipment_w: 0.0, from_h: 20, to_h: 8, shut: None };
    assert_eq!(refused(&|j| j.rooms[0].summer = Some(backward)), "rooms[0].summer.to_h");
    // a dew point above the room: nothing is left to cool with
    let mut damp = house();
    cooling(&mut damp).humidity = Some(1.0);
    let found = fuoco_core::design::design(&CheckedJob::new(damp.clone()).unwrap()).unwrap().findings;
    assert!(found.iter().any(|f| f.code == "cooling.dew_point"));
    let design = cooled_in(damp, &year());
    assert!(design.supply_c <= 26.0 && design.rooms[0].floor_w == 0.0);
    let study = |job: Job| Study::of(&CheckedJob::new(job).expect("sound")).expect("solved");
    let mut without = house();
    without.cooling = None;
    assert_eq!(cooling_design(&study(without), &year()).unwrap_err().field, "cooling");
    let mut nowhere = house();
    nowhere.site.weather = None;
    assert_eq!(cooling_design(&study(nowhere), &year()).unwrap_err().field, "site.weather");
    let mut outdoors = Start { kind: Some(JobKind::Outdoors), ..Start::named("Drive") }.job();
    outdoors.cooling = Some(Cooling::default());
    assert_eq!(CheckedJob::new(outdoors).unwrap_err().field, "cooling");
}

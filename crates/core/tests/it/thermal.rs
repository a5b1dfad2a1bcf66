//! The thermal picture in time: what a camera shows while the house warms up.

use fuoco_core::dynamics::picture::{NO_FLOOR, ThermalCourse, ThermalFrame, ThermalTrial, warming};
use fuoco_core::samples::{box_room, job_of, manifold, studied};
use fuoco_core::study::Study;
use std::sync::Arc;

/// Two rooms side by side on one manifold.
fn house() -> Arc<Study> {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.0, 10.1, 4.0)]);
    job.rooms[0].openings.push(fuoco_core::samples::doorway("d", 1, 2.0, 0.9));
    job.manifolds.push(manifold("m", "A", "a", 0, 4.0));
    studied(&job).expect("solves")
}

fn asked() -> ThermalTrial {
    ThermalTrial { level_id: "ground".into(), hours: 24.0, outdoor_c: Some(5.0), ..ThermalTrial::default() }
}

/// Mean of a frame's floor left or right of the wall between the rooms, °C.
fn side(course: &ThermalCourse, frame: &ThermalFrame, right: bool) -> f64 {
    let of = |(k, v): (usize, &u8)| {
        let x = course.raster.origin[0] + ((k % course.raster.columns) as f64 + 0.5) * course.raster.step_m;
        (*v != NO_FLOOR && (x > 5.05) == right).then(|| course.raster.low_c + f64::from(*v) * course.raster.per_k)
    };
    let all: Vec<f64> = frame.surface.iter().enumerate().filter_map(of).collect();
    all.iter().sum::<f64>() / all.len() as f64
}

fn ids(study: &Study, room: &str) -> Vec<String> {
    study.loops.iter().filter(|l| l.room_ids[0] == room).map(|l| l.id.clone()).collect()
}

#[test]
fn floors_warm_up_to_what_they_are_at_rest() {
    let study = house();
    let told = warming(&study, &ThermalTrial { hours: 96.0, outdoor_c: None, ..asked() }).expect("warms");
    let last = told.frames.last().expect("frames");
    assert_eq!(told.frames.len(), 61);
    for (room, design) in last.rooms.iter().zip(&study.rooms) {
        // on the design day with the design's water, rooms come to their design temperature but for what their walls still swallow
        let mean = design.surface_mean_c.expect("a floor");
        assert!((room.surface_c - mean).abs() < 0.8, "{} for {mean}", room.surface_c);
        assert!((room.felt_c - study.job.room(&design.id).expect("there").room_c).abs() < 1.2, "{}", room.felt_c);
    }
    // the picture's own figures are those of its rooms
    let left = side(&told, last, false);
    assert!((left - last.rooms[0].surface_c).abs() < 0.1, "{left} {}", last.rooms[0].surface_c);
    // and nothing cools on its way
    let warm = |f: &ThermalFrame| f.rooms.iter().map(|r| r.surface_c).sum::<f64>();
    assert!(told.frames.windows(2).all(|w| warm(&w[1]) > warm(&w[0]) - 1e-6));
}

#[test]
fn who_opens_one_of_a_swapped_pair_warms_the_other_floor() {
    let study = house();
    let (a, b) = (ids(&study, "a"), ids(&study, "b"));
    let swapped = Some([a[0].clone(), b[0].clone()]);
    let open = vec![a[0].clone()];
    let right = warming(&study, &ThermalTrial { open: open.clone(), ..asked() }).expect("warms");
    let wrong = warming(&study, &ThermalTrial { open, swapped, ..asked() }).expect("warms");
    let rises = |c: &ThermalCourse, right| side(c, &c.frames[20], right) - side(c, &c.frames[0], right);
    assert!(rises(&right, false) > rises(&right, true) + 3.0);
    assert!(rises(&wrong, true) > rises(&wrong, false) + 3.0);
}

#[test]
fn an_air_locked_loop_stays_cold_and_a_reversed_one_is_warm_at_its_end() {
    let study = house();
    let (a, b) = (ids(&study, "a"), ids(&study, "b"));
    let locked = warming(&study, &ThermalTrial { air_locked: b.clone(), ..asked() }).expect("warms");
    let frame = &locked.frames[20];
    assert!(side(&locked, frame, false) > side(&locked, frame, true) + 3.0);
    let of = |id: &String| frame.loops.iter().find(|l| l.id == *id).expect("told");
    assert!(of(&b[0]).return_c.is_none() && of(&b[0]).heat_w == 0.0 && of(&a[0]).heat_w > 100.0);
    // the spot where the supply enters the field is cooler where the loop runs backwards
    let both = [vec![], a.clone()].map(|reversed| warming(&study, &ThermalTrial { reversed, ..asked() }).expect("warms"));
    let differ = both[0].frames[20].surface.iter().zip(&both[1].frames[20].surface);
    let most = differ.map(|(x, y)| (f64::from(*x) - f64::from(*y)) * both[0].per_k).fold(0.0, f64::max);
    assert!(most > 0.5, "{most}");
}

/// The same house with a window of 2 by 1.5 m to the south in the first room, on the 21st of March.
fn sunny() -> ThermalCourse {
    let mut job = (*house()).job.clone().into_job();
    job.rooms[0].openings.push(fuoco_core::samples::window("w", 0, 1.5, 2.0, 1.5));
    let trial = ThermalTrial { sun_day: Some(79), outdoor_c: Some(2.0), ..asked() };
    warming(&studied(&job).expect("solves"), &trial).expect("followed")
}

/// Surface at a place, °C.
fn spot(course: &ThermalCourse, frame: &ThermalFrame, at: [f64; 2]) -> f64 {
    let r = &course.raster;
    let [i, j] = [0, 1].map(|k| ((at[k] - r.origin[k]) / r.step_m) as usize);
    let figure = frame.surface[j * r.columns + i];
    assert_ne!(figure, NO_FLOOR);
    r.low_c + f64::from(figure) * r.per_k
}

#[test]
fn the_sun_draws_the_window_onto_the_floor_and_moves_on() {
    let told = sunny();
    let at = |h: f64| {
        let far = |f: &&ThermalFrame| (f.time_s / 3600.0 - h).abs();
        told.frames.iter().min_by(|a, b| far(a).total_cmp(&far(b))).expect("frames")
    };
    // 45° north at the equinox: at noon the sun is 45° high, and the window is thrown as far in as it is tall
    let (inside, beyond) = ([2.5, 0.7], [2.5, 2.4]);
    let gain = |place: [f64; 2]| spot(&told, at(13.0), place) - spot(&told, at(5.0), place);
    assert!(gain(inside) > 3.0 && gain(inside) > gain(beyond) + 2.5, "{} {}", gain(inside), gain(beyond));
    // from the east in the morning, so on the western side of the room
    let lean = |h: f64| spot(&told, at(h), [0.9, 0.8]) - spot(&told, at(h), [4.1, 0.8]);
    assert!(lean(10.0) > lean(5.0) + 0.5 && lean(16.5) < lean(5.0) - 0.5, "{} {} {}", lean(5.0), lean(10.0), lean(16.5));
    // 3 m² of glass; what of it the floor takes, and none in the room without a window
    let (noon, night) = (&at(12.0).rooms, &at(1.0).rooms);
    assert!((400.0..1200.0).contains(&noon[0].sun_w), "{}", noon[0].sun_w);
    assert_eq!((noon[1].sun_w, night[0].sun_w, night[1].sun_w), (0.0, 0.0, 0.0));
}

#[test]
fn a_sunny_day_begins_at_rest_and_its_floor_takes_less_of_the_water() {
    let told = sunny();
    let before: Vec<_> = told.frames.iter().take_while(|f| f.time_s < 5.0 * 3600.0).collect();
    for pair in before.windows(2) {
        // the water follows the weather from the beginning: nothing warms up
        let change = pair[1].rooms[1].surface_c - pair[0].rooms[1].surface_c;
        assert!(change.abs() < 0.1, "{change} after {} s", pair[1].time_s);
    }
    let water = |f: &ThermalFrame| f.loops.iter().map(|l| l.heat_w).sum::<f64>();
    let noon = told.frames.iter().max_by(|a, b| a.rooms[0].sun_w.total_cmp(&b.rooms[0].sun_w)).expect("frames");
    let dawn = before.last().expect("night");
    assert!(water(noon) < water(dawn) - 0.1 * noon.rooms[0].sun_w, "{} {}", water(noon), water(dawn));
}

#[test]
fn what_makes_no_sense_is_named() {
    let study = house();
    let a = ids(&study, "a")[0].clone();
    let none = || "nowhere".to_owned();
    for (field, trial) in [
        ("trial.hours", ThermalTrial { hours: 0.0, ..asked() }),
        ("trial.begin_c", ThermalTrial { begin_c: f64::NAN, ..asked() }),
        ("trial.outdoor_c", ThermalTrial { outdoor_c: Some(90.0), ..asked() }),
        ("trial.sun_day", ThermalTrial { sun_day: Some(365), ..asked() }),
        ("trial.swapped[1]", ThermalTrial { swapped: Some([a.clone(), a.clone()]), ..asked() }),
        ("trial.swapped[1]", ThermalTrial { swapped: Some([a, none()]), ..asked() }),
        ("trial.open", ThermalTrial { open: vec![none()], ..asked() }),
        ("trial.air_locked", ThermalTrial { air_locked: vec![none()], ..asked() }),
        ("trial.reversed", ThermalTrial { reversed: vec![none()], ..asked() }),
        ("level_id", ThermalTrial { level_id: "attic".into(), ..asked() }),
    ] {
        assert_eq!(warming(&study, &trial).expect_err("no sense").field, field);
    }
}

/// Work is limited: a floor that is mapped is not followed through sixty pictures.
#[test]
fn a_floor_that_is_too_large_is_named() {
    let rooms = (0..8_u8).map(|k| {
        let (x, y) = (9.2 * f64::from(k % 4), 9.2 * f64::from(k / 4));
        box_room(&format!("r{k}"), x, y, x + 9.1, y + 9.1)
    });
    let mut job = job_of(rooms.collect());
    job.manifolds.push(manifold("m", "A", "r0", 0, 4.0));
    let study = studied(&job).expect("solves");
    let refused = warming(&study, &asked()).expect_err("660 m²");
    assert_eq!((refused.field.as_str(), refused.reason.contains("600 m²")), ("trial.level_id", true), "{refused}");
    let map = fuoco_core::loops::map::floor_map(&study, "ground").expect("is mapped");
    assert!(map.surface_c.iter().flatten().count() > 240_000);
}

//! Heat loss: the worked examples of `docs/worked-examples.md`, each with its arithmetic, and the invariants.

use fuoco_core::heat_loss::{Cause, HeatLoss, Measure, OtherSide, heat_loss};
use fuoco_core::job::*;
use fuoco_core::plan::Plan;
use fuoco_core::samples::{box_room, designed, doorway, job_of, shaped_room, typed, window};
use proptest::prelude::*;

/// Air at the site's height, Wh/m³K, by hand: at 640 m the pressure is 101 325·(1 − 2.25577e-5·640)^5.25588 = 93 866 Pa,
/// the density 93 866/(287.05·293.15) = 1.11547 kg/m³, times 1006/3600.
fn by(loss: &HeatLoss, room: &str, cause: Cause) -> f64 {
    let room = loss.rooms.iter().find(|r| r.room_id == room).expect("the room");
    room.parts.iter().filter(|p| p.cause == cause).map(|p| p.heat_w).sum()
}

fn total(loss: &HeatLoss, room: &str) -> f64 {
    loss.rooms.iter().find(|r| r.room_id == room).expect("the room").heat_w
}

fn near(got: f64, expected: f64, tolerance: f64) {
    assert!((got - expected).abs() <= tolerance, "{got} instead of {expected}");
}

/// Example 1. A box 4 × 3 × 2.5 m with one window of 1.5 × 1.2 m, −10 °C, sea level.
#[test]
fn example_1_a_box_with_one_window() {
    let mut room = box_room("a", 0.0, 0.0, 4.0, 3.0);
    room.openings.push(window("w", 0, 1.0, 1.5, 1.2));
    room.floor = None;
    let mut job = job_of(vec![room]);
    job.site.outdoor_c = -10.0;
    let loss = heat_loss(&job, &Plan::of(&job));
    near(by(&loss, "a", Cause::Window), 1.8 * (1.6 + 0.05) * 30.0, 1e-9); // 89.10
    near(by(&loss, "a", Cause::OutsideWall), (14.0 * 2.5 - 1.8) * 0.40 * 30.0, 1e-9); // 398.40
    near(by(&loss, "a", Cause::Roof), 12.0 * 0.27 * 30.0, 1e-9); // 97.20
    near(by(&loss, "a", Cause::Floor), 12.0 * 0.3 * 11.0, 1e-9); // 39.60
    near(by(&loss, "a", Cause::Air), 30.0 * 0.5 * 0.336_48 * 30.0, 0.01); // 151.42
    near(total(&loss, "a"), 775.72, 0.02);
}

/// Example 2. A corner room 5 × 4 m over a ventilated crawl space: A = 20 m², P = 18 m (all four sides), B′ = 2.2222;
/// floor between room and crawl space U = 0.3. d_g = 0.3 + 2·0.21 = 0.72; U_g = 4/(π·2.2222 + 0.72)·ln(π·2.2222/0.72 + 1)
/// = 4/7.701317·ln(10.696274) = 1.230652; U_x = (2·0.5·1.7 + 1450·0.0015·4·0.05)/2.2222 = 0.960750;
/// U = 1/(1/0.3 + 1/2.191402) = 0.263876.
#[test]
fn example_2_a_corner_room_over_a_crawl_space() {
    let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
    room.floor = None;
    room.below = Beyond::CrawlSpace;
    let mut job = job_of(vec![room]);
    job.site.outdoor_c = -12.0;
    let loss = heat_loss(&job, &Plan::of(&job));
    let part = loss.rooms[0].parts.iter().find(|p| p.cause == Cause::Floor).expect("floor");
    near(part.per_kelvin, 0.263_876, 1e-5);
    assert_eq!(part.other, OtherSide::CrawlSpace);
    near(part.heat_w, 20.0 * 0.263_876 * 32.0, 0.01); // 168.88
}

/// Example 3. An attic room 6 × 4 m, flat ceiling 2.4 m, one slope of 45° from a knee of 1.0 m (`plan::ceiling` has the
/// geometry by hand): volume 51.72 m³, slope 11.8794 m², flat 15.6 m² under a cold loft (b = 0.9), gables
/// 1.4·1.7 + 2.6·2.4 = 8.62 m² each, knee wall 6 m², high wall 14.4 m².
#[test]
fn example_3_an_attic_room() {
    let mut room = box_room("a", 0.0, 0.0, 6.0, 4.0);
    (room.height_m, room.below, room.above) = (2.4, Beyond::Heated, Beyond::Reduced { b: 0.9 });
    room.slopes.push(Slope { edge: 0, knee_m: 1.0, pitch_deg: 45.0 });
    room.floor = None;
    let mut job = job_of(vec![room]);
    job.site.outdoor_c = -10.0;
    let loss = heat_loss(&job, &Plan::of(&job));
    near(loss.rooms[0].volume_m3, 51.72, 1e-9);
    let slope = 6.0 * 1.4 * 2.0_f64.sqrt();
    near(by(&loss, "a", Cause::Roof), slope * 0.27 * 30.0 + 15.6 * 0.22 * 0.9 * 30.0, 1e-6); // 96.22 + 92.66
    near(by(&loss, "a", Cause::OutsideWall), (2.0 * 8.62 + 6.0 + 14.4) * 0.40 * 30.0, 1e-6); // 451.68
    near(by(&loss, "a", Cause::Air), 51.72 * 0.5 * 0.336_48 * 30.0, 0.01); // 261.04
}

/// Example 4. Two rooms side by side at 24 and 18 °C, partition 4 × 2.5 m with U = 1.8: 10·1.8·6 = 108 W from one into
/// the other; and an unheated store between a heated room and the weather, by its own balance.
#[test]
fn example_4_two_rooms_at_different_temperatures() {
    let mut job = job_of(vec![box_room("warm", 0.0, 0.0, 5.0, 4.0), box_room("cool", 5.1, 0.0, 9.0, 4.0)]);
    (job.rooms[0].room_c, job.rooms[1].room_c) = (24.0, 18.0);
    let loss = heat_loss(&job, &Plan::of(&job));
    near(by(&loss, "warm", Cause::Partition), 108.0, 1e-9);
    near(by(&loss, "cool", Cause::Partition), -108.0, 1e-9);

    // the store: 10 m²·1.8 to the room at 20 °C; out: walls (3.9 + 3.9 + 4)·2.5·0.4 = 11.8, roof 15.6·0.27 = 4.212,
    // floor to the ground at 9 °C 15.6·0.3 = 4.68, air 39 m³·1.0/h·0.33648 = 13.1227 W/K, at −10 °C:
    // (18·20 + 4.68·9 + (11.8 + 4.212 + 13.1227)·(−10))/(18 + 4.68 + 29.1347) = (402.12 − 291.347)/51.8147 = 2.138 °C
    let (room, store) = (&mut job.rooms[0], 1);
    room.room_c = 20.0;
    job.rooms[store].unheated = Some(Unheated::default());
    job.rooms[store].air_changes_per_h = Some(1.0);
    job.site.outdoor_c = -10.0;
    let loss = heat_loss(&job, &Plan::of(&job));
    near(loss.rooms[1].temperature_c, 2.138, 0.002);
    assert_eq!(loss.rooms[1].heat_w, 0.0);
    near(loss.rooms[1].parts.iter().map(|p| p.heat_w).sum(), 0.0, 1e-6);
    near(by(&loss, "warm", Cause::Partition), 18.0 * (20.0 - 2.138), 0.05);
}

/// Example 5. A house at 1500 m: 240 m³ at 0.5/h and 32 K. Sea level 240·0.5·0.33648·32 = 1292.1 W; at 1500 m the air has
/// 0.83451 of the pressure: 1078.3 W.
#[test]
fn example_5_a_house_at_1500_metres() {
    let mut room = box_room("a", 0.0, 0.0, 12.0, 8.0);
    room.floor = None;
    let mut job = job_of(vec![room]);
    job.site.outdoor_c = -12.0;
    near(by(&heat_loss(&job, &Plan::of(&job)), "a", Cause::Air), 1292.1, 0.1);
    job.site.altitude_m = 1500.0;
    near(by(&heat_loss(&job, &Plan::of(&job)), "a", Cause::Air), 1078.3, 0.3);
}

/// Example 6. The same room leaky (n50 = 8) and tight (n50 = 0.6), moderate shielding, all sides exposed (e = 0.03):
/// 0.24 and 0.018 /h by EN 12831-1, 0.40 and 0.03 /h divided by 20; 50 m³, 30 K. People's 0.5/h counts where it is more.
#[test]
fn example_6_leaky_and_tight_by_the_blower_door() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
    job.rooms[0].air_changes_per_h = None;
    job.site.outdoor_c = -10.0;
    for (method, n50, least, n) in [
        (AirMethod::BlowerDoor, 8.0, 0.0, 0.24),
        (AirMethod::BlowerDoor, 0.6, 0.0, 0.018),
        (AirMethod::Divided, 8.0, 0.0, 0.40),
        (AirMethod::Divided, 0.6, 0.0, 0.03),
        (AirMethod::BlowerDoor, 0.6, 0.5, 0.5),
    ] {
        job.air = Air { method, n50_per_h: n50, least_per_h: least, ..Air::default() };
        let loss = heat_loss(&job, &Plan::of(&job));
        near(loss.rooms[0].air_changes_per_h, n, 1e-12);
        near(by(&loss, "a", Cause::Air), 50.0 * n * 0.336_48 * 30.0, 0.02);
    }
}

/// A slab on ground by ISO 13370 toward the year's mean (`ground.rs` has U by hand) with the swing of EN 12831-1, and the
/// same by its perimeter.
#[test]
fn the_ground_by_three_methods() {
    let mut room = box_room("a", 0.0, 0.0, 10.0, 8.0);
    room.floor = None;
    let mut job = job_of(vec![room]);
    job.constructions.retain(|c| c.id != "own-floor");
    job.constructions.push(typed("own-floor", Position::Floor, 1.0 / 1.21)); // R = 1.0 between films
    job.site.outdoor_c = -12.0;
    job.site.annual_mean_c = Some(8.0);
    let b = 80.0 / 18.0_f64;
    job.envelope.ground.method = GroundMethod::Iso13370;
    near(by(&heat_loss(&job, &Plan::of(&job)), "a", Cause::Floor), 80.0 * 1.45 * 0.434_880 * 12.0, 0.01); // 605.35, U by hand in ground.rs
    near(heat_loss(&job, &Plan::of(&job)).building.ground_dimension_m.expect("a floor on ground"), b, 1e-9);
    job.envelope.ground.method = GroundMethod::PerimeterFactor;
    near(by(&heat_loss(&job, &Plan::of(&job)), "a", Cause::Floor), 36.0 * 0.9 * 32.0, 1e-9);
    job.envelope.ground.method = GroundMethod::GroundTemperature;
    near(by(&heat_loss(&job, &Plan::of(&job)), "a", Cause::Floor), 80.0 / 1.21 * 11.0, 1e-6);
}

#[test]
fn outside_dimensions_count_corners_and_thicknesses() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
    job.envelope.ground.wall_m = 0.25;
    let wall = |loss: &HeatLoss| {
        let parts = loss.rooms[0].parts.iter().filter(|p| p.cause == Cause::OutsideWall);
        parts.map(|p| p.amount).sum::<f64>()
    };
    near(wall(&heat_loss(&job, &Plan::of(&job))), 45.0, 1e-9);
    job.envelope.dimensions = Dimensions::Outside;
    let loss = heat_loss(&job, &Plan::of(&job));
    // 5.5 × 4.5 m outside; 2.5 m and 0.3 m each for roof and floor by typed U
    near(wall(&loss), 20.0 * 3.1, 1e-9);
    let roof = loss.rooms[0].parts.iter().find(|p| p.cause == Cause::Roof).expect("roof");
    near(roof.amount, 5.5 * 4.5, 1e-9);
    near(loss.rooms[0].volume_m3, 50.0, 1e-9);
}

#[test]
fn linear_bridges_take_their_lengths_from_the_plan() {
    let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
    room.openings.push(window("w", 0, 1.0, 2.0, 1.2));
    room.bridges.push(RoomBridge { name: "balcony".into(), psi_w_mk: 0.8, length_m: 2.5 });
    let mut job = job_of(vec![room]);
    job.envelope.bridges = Bridges::Linear {
        reveal_psi: 0.1,
        corner_psi: -0.05,
        roof_edge_psi: 0.08,
        floor_edge_psi: 0.2,
        storey_psi: 0.3,
    };
    let loss = heat_loss(&job, &Plan::of(&job));
    let bridges: Vec<_> = loss.rooms[0].parts.iter().filter(|p| p.cause == Cause::Bridge).collect();
    assert!(bridges.iter().all(|p| p.measure == Measure::Length));
    let of = |psi: f64| bridges.iter().find(|p| p.per_kelvin == psi).map(|p| p.amount);
    assert_eq!(of(0.08), Some(18.0), "round under the roof");
    assert_eq!(of(0.2), Some(18.0), "round at the floor");
    assert_eq!(of(-0.05), Some(10.0), "four corners of 2.5 m");
    assert_eq!(of(0.1), Some(6.4), "round the window");
    assert_eq!(of(0.8), Some(2.5), "the balcony");
    assert_eq!(of(0.3), None, "no storey above");
}

#[test]
fn heat_recovery_and_unbalanced_extract() {
    let mut job = job_of(vec![box_room("bed", 0.0, 0.0, 5.0, 4.0), box_room("bath", 5.1, 0.0, 8.0, 4.0)]);
    job.site.outdoor_c = -10.0;
    (job.rooms[0].supply_m3_h, job.rooms[1].extract_m3_h, job.rooms[1].room_c) = (60.0, 60.0, 24.0);
    job.air.recovery = 0.75;
    let loss = heat_loss(&job, &Plan::of(&job));
    near(by(&loss, "bed", Cause::Ventilation), 60.0 * 0.336_48 * 0.25 * 30.0, 0.01);
    // the bath's air comes over from the bedroom and is warmed by 4 K
    near(by(&loss, "bath", Cause::Ventilation), 60.0 * 0.336_48 * 4.0, 0.01);
    // 30 m³/h more are drawn in from outdoors through both rooms by their volumes, 50 and 29 m³
    job.rooms[1].extract_m3_h = 90.0;
    let more = heat_loss(&job, &Plan::of(&job));
    near(
        by(&more, "bed", Cause::Ventilation) - by(&loss, "bed", Cause::Ventilation),
        30.0 * 50.0 / 79.0 * 0.336_48 * 30.0,
        0.05,
    );
}

#[test]
fn a_cellar_loses_to_the_ground_by_its_depth() {
    let mut cellar = box_room("a", 0.0, 0.0, 6.0, 5.0);
    cellar.floor = None;
    let mut job = job_of(vec![cellar]);
    job.envelope.ground.method = GroundMethod::Iso13370;
    job.site.annual_mean_c = Some(8.0);
    let above_ground = total(&heat_loss(&job, &Plan::of(&job)), "a");
    job.levels[0].floor_m = -2.0;
    let loss = heat_loss(&job, &Plan::of(&job));
    assert!(total(&loss, "a") < above_ground, "the ground is warmer than the weather");
    let ground: f64 = loss.rooms[0]
        .parts
        .iter()
        .filter(|p| p.cause == Cause::OutsideWall && p.other == OtherSide::Ground)
        .map(|p| p.amount)
        .sum();
    near(ground, 22.0 * 2.0, 1e-9);
}

/// Two levels: rooms upstairs partly over rooms downstairs, all at one temperature.
fn stack(widths: &[f64], upper: &[f64], shift: f64) -> Job {
    let row = |widths: &[f64], x: f64, level: &str| {
        let mut x = x;
        let mut rooms = Vec::new();
        for (k, w) in widths.iter().enumerate() {
            let mut room = box_room(&format!("{level}{k}"), x, 0.0, x + w, 4.0);
            room.level_id = level.into();
            room.floor = None;
            x += w + 0.12;
            rooms.push(room);
        }
        rooms
    };
    let mut rooms = row(widths, 0.0, "ground");
    let mut above = row(upper, shift, "up");
    for r in &mut above {
        r.below = Beyond::Outside;
    }
    rooms.append(&mut above);
    let mut job = job_of(rooms);
    job.levels.push(Level { id: "up".into(), name: "Up".into(), floor_m: 2.8, underlay: None });
    job
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    /// Sum over rooms of equal temperature is the building's loss through its outer surfaces; what passes between rooms
    /// cancels whatever their temperatures; a warmer outdoors never costs more; the load line is straight.
    #[test]
    fn rooms_add_up_and_heat_between_them_cancels(
        widths in prop::collection::vec(2.0..6.0f64, 1..5),
        upper in prop::collection::vec(2.0..6.0f64, 1..5),
        shift in -2.0..3.0f64,
        temperatures in prop::collection::vec(15.0..24.0f64, 10),
        outdoor in -25.0..5.0f64,
        store in any::<bool>(),
    ) {
        let mut job = stack(&widths, &upper, shift);
        job.site.outdoor_c = outdoor;
        let even = heat_loss(&job, &Plan::of(&job));
        let across: f64 = even.rooms.iter().flat_map(|r| &r.parts).filter(|p| p.cause == Cause::Partition).map(|p| p.heat_w.abs()).sum();
        prop_assert!(across < 1e-9);
        for (room, t) in job.rooms.iter_mut().zip(&temperatures) {
            room.room_c = *t;
        }
        if store {
            job.rooms[0].unheated = Some(Unheated::default());
        }
        let loss = heat_loss(&job, &Plan::of(&job));
        let across: f64 = loss.rooms.iter().flat_map(|r| &r.parts).filter(|p| p.cause == Cause::Partition).map(|p| p.heat_w).sum();
        prop_assert!(across.abs() < 1e-6, "{across}");
        prop_assert!((loss.building.heat_w - loss.rooms.iter().map(|r| r.heat_w).sum::<f64>()).abs() < 1e-9);
        let causes: f64 = loss.building.causes.iter().map(|c| c.heat_w).sum();
        prop_assert!((causes - loss.building.heat_w).abs() < 1e-6);
        let mut warmer = job.clone();
        warmer.site.outdoor_c = outdoor + 5.0;
        let warm = heat_loss(&warmer, &Plan::of(&warmer));
        prop_assert!(warm.building.heat_w <= loss.building.heat_w + 1e-9);
        prop_assert!((loss.building.heat_w - 5.0 * loss.building.w_per_k - warm.building.heat_w).abs() < 1e-4);
        // unheated rooms lie between the coldest and the warmest around them
        for r in loss.rooms.iter().filter(|r| !r.heated) {
            prop_assert!(r.temperature_c >= outdoor.min(job.site.ground_c) - 1e-6 && r.temperature_c <= 24.0);
        }
    }

    /// Areas are accounted for once: floors and ceilings over all rooms cover what the plans cover.
    #[test]
    fn what_is_under_one_room_is_over_the_other(
        widths in prop::collection::vec(2.0..6.0f64, 1..5),
        upper in prop::collection::vec(2.0..6.0f64, 1..5),
        shift in -2.0..3.0f64,
    ) {
        let job = stack(&widths, &upper, shift);
        let loss = heat_loss(&job, &Plan::of(&job));
        for (i, r) in loss.rooms.iter().enumerate() {
            for p in r.parts.iter().filter(|p| p.cause == Cause::Partition && p.edge.is_none()) {
                let other = loss.rooms.iter().find(|o| Some(&o.room_id) == p.subject.as_ref()).expect("the other room");
                let back = other.parts.iter().find(|q| q.edge.is_none() && q.subject.as_ref() == Some(&job.rooms[i].id));
                prop_assert!((back.expect("seen from both sides").amount - p.amount).abs() < 1e-9);
            }
            // ceiling: rooms above, roof, and what walls upstairs stand on
            let up = job.rooms[i].level_id == "ground";
            let ceiling: f64 = r.parts.iter().filter(|p| p.cause == Cause::Roof).map(|p| p.amount).sum::<f64>()
                + if up { r.parts.iter().filter(|p| p.cause == Cause::Partition && p.edge.is_none()).map(|p| p.amount).sum() } else { 0.0 };
            let area = fuoco_core::plan::area(&job.rooms[i]);
            prop_assert!(ceiling <= area + 1e-6);
            prop_assert!(ceiling >= area - (upper.len() as f64 + 1.0) * 0.6 * 4.0 - 0.1, "{ceiling} of {area}");
        }
    }

    /// The direction of drawing, the place and the turn of a plan change nothing.
    #[test]
    fn a_turned_plan_loses_the_same(turn in 0.0..std::f64::consts::TAU, dx in -50.0..50.0f64, reversed in any::<bool>()) {
        let bay = vec![[0.0, 0.0], [3.0, 0.0], [3.6, -0.8], [5.0, -0.8], [5.6, 0.0], [7.0, 0.0], [7.0, 4.0], [0.0, 4.0]];
        let mut room = shaped_room("a", bay);
        room.openings.push(window("w", 2, 0.2, 1.0, 1.2));
        room.floor = None;
        let mut next = box_room("b", 7.1, 0.0, 10.0, 4.0);
        next.openings.push(doorway("d", 3, 1.0, 0.9));
        next.room_c = 16.0;
        next.floor = None;
        let job = job_of(vec![room, next]);
        let before = heat_loss(&job, &Plan::of(&job));
        let mut turned = job.clone();
        for r in &mut turned.rooms {
            for p in &mut r.outline {
                *p = [p[0] * turn.cos() - p[1] * turn.sin() + dx, p[0] * turn.sin() + p[1] * turn.cos()];
            }
        }
        if reversed {
            // the same corners the other way round: wall k becomes wall n − 2 − k, offsets count from the other end
            let r = &mut turned.rooms[0];
            let n = r.outline.len();
            r.outline.reverse();
            for o in &mut r.openings {
                let old = &job.rooms[0].outline;
                let (a, b) = (old[o.edge], old[(o.edge + 1) % n]);
                let length = fuoco_core::geometry::distance(a, b);
                o.offset_m = length - o.offset_m - o.width_m;
                o.edge = (2 * n - 2 - o.edge) % n;
            }
        }
        let after = heat_loss(&turned, &Plan::of(&turned));
        for (a, b) in before.rooms.iter().zip(&after.rooms) {
            prop_assert!((a.heat_w - b.heat_w).abs() < 1e-6 * a.heat_w.abs().max(1.0), "{} {}", a.heat_w, b.heat_w);
        }
    }
}

/// 6 × 4 m under a roof of 45° from a knee of 1 m at the south wall, flat at 2.5 m after 1.5 m: the slope has 6 · 1.5 · √2 =
/// 12.73 m²; a window of 0.78 × 1.18 m in it takes 0.92 m² of roof at U 0.22 and loses it at U 1.6.
#[test]
fn a_roof_window_takes_its_area_from_the_slope() {
    let mut room = box_room("a", 0.0, 0.0, 6.0, 4.0);
    room.slopes.push(Slope { edge: 0, knee_m: 1.0, pitch_deg: 45.0 });
    let bare = job_of(vec![room]);
    let mut job = bare.clone();
    let in_roof = |edge| Opening { kind: OpeningKind::RoofWindow, ..window("r", edge, 2.0, 0.78, 1.18) };
    job.rooms[0].openings.push(in_roof(0));
    let heat = |job: &Job| designed(job).expect("designs").rooms[0].heat_loss_w;
    let more = 0.78 * 1.18 * (1.6 - 0.22) * (20.0 - job.site.outdoor_c);
    assert!((heat(&job) - heat(&bare) - more).abs() < 0.2, "{} {more}", heat(&job) - heat(&bare));
    // over the north wall, which has no slope, it lies in the flat part: the same
    job.rooms[0].openings = vec![in_roof(2)];
    assert!((heat(&job) - heat(&bare) - more).abs() < 0.2);
    let codes = |job: &Job| designed(job).expect("designs").findings.into_iter().map(|f| f.code).collect::<Vec<_>>();
    assert!(!codes(&job).iter().any(|c| c.starts_with("opening.")), "{:?}", codes(&job));
    // under a room there is no roof
    job.levels.push(Level { id: "up".into(), name: "Up".into(), floor_m: 2.8, ..job.levels[0].clone() });
    let mut above = box_room("b", 0.0, 0.0, 6.0, 4.0);
    above.level_id = "up".into();
    job.rooms.push(above);
    assert!(codes(&job).contains(&"opening.beyond_roof".to_owned()));
}

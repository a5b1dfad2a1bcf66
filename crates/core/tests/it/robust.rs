//! No input makes the core panic, and no sound input gives figures that are none: random damage to the demo file,
//! random floors of several rooms, extremes of every range.

use fuoco_core::design::Design;
use fuoco_core::error::FieldError;
use fuoco_core::heat_loss::{Cause, heat_loss};
use fuoco_core::job::{Beyond, CheckedJob, Job, Point, Room, Unheated};
use fuoco_core::layout::lay_out;
use fuoco_core::layout::rules::audit::audit;
use fuoco_core::plan::Plan;
use fuoco_core::plan::{self, edit};
use fuoco_core::samples::designed as design;
use fuoco_core::samples::*;
use proptest::prelude::*;
use serde_json::{Value, json};

const DEMO: &str = include_str!("../../../../demo/tamarack-dance-school.json");

fn demo() -> Job {
    fuoco_core::samples::read_job(DEMO).expect("the demo is sound")
}

/// Paths of all values in a document.
fn pointers(value: &Value, at: String, out: &mut Vec<String>) {
    out.push(at.clone());
    match value {
        Value::Object(map) => map.iter().for_each(|(k, v)| pointers(v, format!("{at}/{k}"), out)),
        Value::Array(items) => items.iter().enumerate().for_each(|(i, v)| pointers(v, format!("{at}/{i}"), out)),
        _ => {}
    }
}

fn finite(d: &Design) -> bool {
    let text = serde_json::to_string(d).expect("a design is always JSON");
    let loops = d.loops.iter().all(|l| {
        [l.length_m, l.flow_l_min, l.velocity_m_s, l.reynolds, l.return_c, l.output_up_w, l.head_loss_pa]
            .iter()
            .all(|v| v.is_finite())
    });
    let rooms = d
        .rooms
        .iter()
        .all(|r| r.heat_loss_w.is_finite() && r.flux_needed_w_m2.is_finite() && r.flux_given_w_m2.is_finite());
    // JSON has no NaN: it would have become null inside a list of numbers
    loops && rooms && !text.contains("[null") && !text.contains(",null]")
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 400, failure_persistence: None, ..ProptestConfig::default() })]

    /// A value of the file replaced by something else: it is refused with a field, or designed.
    #[test]
    fn damaged_files_are_refused_or_designed(place in any::<prop::sample::Index>(), kind in 0usize..12, number in -1e3..1e3f64) {
        let mut document: Value = serde_json::from_str(DEMO).expect("JSON");
        let mut all = Vec::new();
        pointers(&document, String::new(), &mut all);
        // the days of the year are all alike: a few of them will do
        all.retain(|p| !p.contains("/days/") || p.contains("/days/7"));
        let with = [
            json!(null), json!(number), json!(number * 1e-3), json!(1e308), json!(-1e308), json!(0), json!(-1), json!(""),
            json!("ground"), json!([]), json!({}), json!([[0.0, 0.0], [1.0, 0.0], [number, 1.0], [0.0, number]]),
        ];
        let pointer = all[place.index(all.len())].clone();
        if let Some(value) = document.pointer_mut(&pointer) {
            *value = with[kind].clone();
        }
        match fuoco_core::samples::read_job(&document.to_string()) {
            Err(e) => prop_assert!(!e.field.is_empty() && !e.reason.is_empty() && !e.to_string().contains('\n')),
            Ok(job) => {
                if let Ok(d) = design(&job) {
                    prop_assert!(finite(&d), "{pointer}");
                }
            }
        }
    }

    /// Bytes that are no job at all.
    #[test]
    fn noise_is_refused(text in ".{0,200}") {
        prop_assert!(fuoco_core::samples::read_job(&text).is_err());
    }

    /// A corridor with rooms on both sides, doors and a manifold anywhere: laid within the layout rules or said.
    #[test]
    fn random_floors_are_laid_or_said(
        widths in prop::collection::vec(1.6..6.0f64, 2..6),
        depth in (1.8..7.0f64, 1.8..7.0f64),
        corridor in 1.2..3.0f64,
        doors in prop::collection::vec((0.0..1.0f64, 0.6..1.1f64), 12),
        at in (0usize..4, 0.05..0.95f64),
        spacing in prop::sample::select(vec![0.15, 0.2, 0.3]),
    ) {
        let job = corridor_job(&widths, depth, corridor, &doors, at, spacing);
        let layout = lay_out(&job, &Plan::of(&job));
        let d = design(&job).expect("a checked job designs");
        prop_assert!(finite(&d));
        let named = d.findings.iter().filter(|f| f.code.starts_with("audit.")).count();
        prop_assert_eq!(named, audit(&job, &Plan::of(&job), &layout.loops).len());
        for (i, room) in job.rooms.iter().enumerate() {
            let laid = layout.loops.iter().any(|l| l.room == i);
            let tells = |f: &fuoco_core::findings::Finding| {
                f.severity != fuoco_core::findings::Severity::Note || f.code == "loops.by_leaders"
            };
            let said = d.findings.iter().any(|f| (f.subject.id == room.id || f.also.iter().any(|s| s.id == room.id)) && tells(f));
            prop_assert!(laid || said, "{} has no loop and nobody says so", room.name);
        }
    }

    /// More insulation never loses more; heat between rooms cancels; a warmer outdoors never costs more.
    #[test]
    fn heat_loss_is_monotone_and_conserves(u in 0.1..3.0f64, rooms_c in (15.0..25.0f64, 15.0..25.0f64), outdoor in -30.0..10.0f64) {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.7, 9.0, 4.4)]);
        job.rooms[0].openings.push(window("w", 0, 1.0, 2.0, 1.2));
        (job.rooms[0].room_c, job.rooms[1].room_c) = rooms_c;
        job.site.outdoor_c = outdoor;
        job.constructions[0].u = Some(u);
        let total = |job: &Job| heat_loss(job, &Plan::of(job)).rooms.iter().map(|r| r.heat_w).sum::<f64>();
        let before = total(&job);
        let across: f64 = heat_loss(&job, &Plan::of(&job)).rooms.iter().flat_map(|r| &r.parts).filter(|p| p.cause == Cause::Partition).map(|p| p.heat_w).sum();
        prop_assert!(across.abs() < 1e-9);
        job.constructions[0].u = Some(u / 2.0);
        prop_assert!(total(&job) <= before);
        job.site.outdoor_c = outdoor + 1.0;
        prop_assert!(total(&job) <= before);
    }
}

/// Rooms above and below a corridor, each with a door to it.
fn corridor_job(
    widths: &[f64],
    depth: (f64, f64),
    corridor: f64,
    doors: &[(f64, f64)],
    at: (usize, f64),
    spacing: f64,
) -> Job {
    const WALL: f64 = 0.12;
    let length: f64 = widths.iter().sum::<f64>() + WALL * (widths.len() - 1) as f64;
    let mut hall = box_room("hall", 0.0, 0.0, length, corridor);
    let mut rooms: Vec<Room> = Vec::new();
    let mut x = 0.0;
    for (k, &w) in widths.iter().enumerate() {
        let (above, below) = (format!("up{k}"), format!("down{k}"));
        rooms.push(box_room(&above, x, corridor + WALL, x + w, corridor + WALL + depth.0));
        rooms.push(box_room(&below, x, -WALL - depth.1, x + w, -WALL));
        for (edge, name) in [(2usize, &above), (0, &below)] {
            let (place, width) = doors[(2 * k + edge / 2) % doors.len()];
            let offset = x + place * (w - width);
            let offset = if edge == 2 { length - offset - width } else { offset };
            hall.openings.push(doorway(&format!("door-{name}"), edge, offset, width));
        }
        x += w + WALL;
    }
    let wall = if at.0.is_multiple_of(2) { length } else { corridor };
    rooms.insert(0, hall);
    for room in &mut rooms {
        let floor = room.floor.as_mut().expect("heated");
        floor.spacing_core_m = spacing;
        floor.spacing_edge_m = spacing;
    }
    let mut job = job_of(rooms);
    job.manifolds.push(manifold("m", "A", "hall", at.0, at.1 * wall));
    job.manifolds[0].ports = 24;
    job
}

/// Every range at both of its ends, one field at a time, on a small job.
#[test]
fn the_ends_of_every_range_design() {
    type Change = fn(&mut Job, f64);
    let ends: [(&str, f64, f64, Change); 30] = [
        ("outdoor", -60.0, 25.0, |j, v| j.site.outdoor_c = v),
        ("ground", -20.0, 30.0, |j, v| j.site.ground_c = v),
        ("altitude", -430.0, 6000.0, |j, v| j.site.altitude_m = v),
        ("height", 1.5, 20.0, |j, v| j.rooms[0].height_m = v),
        ("room", 5.0, 35.0, |j, v| j.rooms[0].room_c = v),
        ("air", 0.0, 20.0, |j, v| j.rooms[0].air_changes_per_h = Some(v)),
        ("wall u", 0.05, 8.0, |j, v| j.constructions[0].u = Some(v)),
        ("level", -20.0, 200.0, |j, v| j.levels[0].floor_m = v),
        ("knee", 0.0, 20.0, |j, v| j.rooms[8].slopes[0].knee_m = v),
        ("pitch", 5.0, 85.0, |j, v| j.rooms[8].slopes[0].pitch_deg = v),
        ("supply air", 0.0, 100_000.0, |j, v| j.rooms[0].supply_m3_h = v),
        ("extract air", 0.0, 100_000.0, |j, v| j.rooms[0].extract_m3_h = v),
        ("recovery", 0.0, 0.95, |j, v| j.air.recovery = v),
        ("n50", 0.1, 40.0, |j, v| j.air.n50_per_h = v),
        ("thickness", 0.0001, 3.0, |j, v| j.constructions[0].layers[1].thickness_m = v),
        ("conductivity", 0.001, 500.0, |j, v| j.materials[0].conductivity_w_mk = v),
        ("studs", 0.01, 0.6, |j, v| j.constructions[1].layers[1].bridge.as_mut().expect("studs").share = v),
        ("soil", 0.3, 5.0, |j, v| j.envelope.ground.soil_w_mk = v),
        ("walls at the ground", 0.05, 2.0, |j, v| j.envelope.ground.wall_m = v),
        ("year", -30.0, 35.0, |j, v| j.site.annual_mean_c = Some(v)),
        ("store", -60.0, 60.0, |j, v| j.rooms[6].unheated = Some(Unheated { temperature_c: Some(v) })),
        ("sill", 0.0, 20.0, |j, v| j.rooms[0].openings[0].sill_m = v),
        ("share", 0.0, 1.0, |j, v| j.rooms[7].above = Beyond::Reduced { b: v }),
        ("insulation", 0.0, 20.0, |j, v| j.rooms[0].floor.as_mut().expect("heated").insulation_m2k_w = Some(v)),
        ("drop", 1.0, 25.0, |j, v| j.rules.temperature_drop_k = v),
        ("lane", 0.03, 0.3, |j, v| j.rules.lane_spacing_m = v),
        ("gap", 0.02, 0.2, |j, v| j.rules.min_gap_m = v),
        ("clearance", 0.05, 0.5, |j, v| j.rules.wall_clearance_m = v),
        ("band", 0.0, 3.0, |j, v| j.rules.edge_band_m = v),
        ("spacing", 0.05, 0.6, |j, v| {
            let floor = j.rooms[0].floor.as_mut().expect("heated");
            floor.spacing_core_m = v;
            floor.spacing_edge_m = v.min(floor.spacing_edge_m);
        }),
    ];
    for (name, low, high, change) in ends {
        for value in [low, high] {
            let mut job = demo();
            change(&mut job, value);
            job.check().unwrap_or_else(|e| panic!("{name} {value}: {e}"));
            let d = design(&job).unwrap_or_else(|e| panic!("{name} {value}: {e}"));
            assert!(finite(&d), "{name} {value}");
        }
    }
}

#[test]
fn a_job_of_the_largest_size_is_designed() {
    let mut rooms = Vec::new();
    for k in 0..fuoco_core::job::MAX_ROOMS {
        let (x, y) = ((k % 20) as f64 * 4.0, (k / 20) as f64 * 4.0);
        let mut room = box_room(&format!("r{k}"), x, y, x + 3.9, y + 3.9);
        if k % 20 != 19 {
            room.openings.push(doorway(&format!("d{k}"), 1, 1.0, 0.9));
        }
        room.above = Beyond::Heated;
        rooms.push(room);
    }
    let mut job = job_of(rooms);
    job.manifolds.push(manifold("m", "A", "r0", 3, 2.0));
    let d = design(&job).expect("designs");
    assert_eq!(d.rooms.len(), fuoco_core::job::MAX_ROOMS);
    assert!(finite(&d));
}

/// Every method of ground, bridges, dimensions and air with every kind of thing below and above: figures, and no panic.
#[test]
fn all_methods_go_together() {
    use fuoco_core::job::{AirMethod, Bridges, Dimensions, EdgeInsulation, GroundMethod, Shielding};
    let linear = Bridges::Linear {
        reveal_psi: 0.1,
        corner_psi: -0.05,
        roof_edge_psi: 0.1,
        floor_edge_psi: 0.2,
        storey_psi: 0.1,
    };
    let edge = EdgeInsulation::Horizontal { width_m: 1.0, resistance_m2k_w: 2.0, thickness_m: 0.1 };
    for method in [GroundMethod::Iso13370, GroundMethod::PerimeterFactor, GroundMethod::GroundTemperature] {
        for dimensions in [Dimensions::Inside, Dimensions::Outside] {
            for below in
                [Beyond::Ground, Beyond::CrawlSpace, Beyond::Outside, Beyond::Heated, Beyond::Reduced { b: 0.5 }]
            {
                let mut job = demo();
                job.envelope.ground.method = method;
                job.envelope.ground.edge = edge;
                job.envelope.dimensions = dimensions;
                job.envelope.bridges = linear.clone();
                (job.air.method, job.air.shielding) = (AirMethod::Divided, Shielding::None);
                job.levels[0].floor_m = -1.2;
                for room in &mut job.rooms {
                    room.below = below;
                    room.air_changes_per_h = None;
                    if room.id == "studio-a" {
                        room.floor = None;
                    }
                }
                let d = design(&job).expect("designs");
                assert!(finite(&d), "{method:?} {dimensions:?} {below:?}");
                let causes: f64 = d.building.causes.iter().map(|c| c.heat_w).sum();
                assert!((causes - d.totals.heat_loss_w).abs() < 1e-6);
            }
        }
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 200, failure_persistence: None, ..ProptestConfig::default() })]

    /// A cut anywhere through a room is refused or parts it: the parts are sound, lie within it, and merge back to it.
    #[test]
    fn any_cut_parts_a_room_or_is_refused(
        corners in prop::collection::vec((2.0..6.0f64, 0.05..0.95f64), 4..9),
        from in 0.0..1.0f64,
        to in 0.0..1.0f64,
        wall in 0.0..0.4f64,
    ) {
        // corners round a centre, at random distances: any star-shaped outline
        let n = corners.len() as f64;
        let outline: Vec<Point> = corners.iter().enumerate().map(|(i, (r, t))| {
            let a = (i as f64 + t) / n * std::f64::consts::TAU;
            [r * a.cos(), r * a.sin()]
        }).collect();
        let job = job_of(vec![shaped_room("a", outline)]);
        prop_assume!(plan::is_simple(&job.rooms[0]));
        let walls = plan::edges(&job.rooms[0]);
        let length: f64 = walls.iter().map(plan::edge::Edge::length).sum();
        let at = |share: f64| {
            let mut left = share * length;
            for w in &walls {
                if left <= w.length() {
                    return w.at(left);
                }
                left -= w.length();
            }
            walls[0].a
        };
        let before = plan::area(&job.rooms[0]);
        let job = CheckedJob::new(job).expect("sound");
        match edit::split(&job, "a", at(from), at(to), wall, "b") {
            Err(FieldError { field, .. }) => prop_assert!(["from", "to"].contains(&field.as_str()), "{field}"),
            Ok(parted) => {
                prop_assert!(parted.check().is_ok());
                prop_assert!(parted.rooms.iter().all(plan::is_simple));
                let parts: f64 = parted.rooms.iter().map(plan::area).sum();
                // corners are kept to a tenth of a millimetre
                prop_assert!(parts <= before + 1e-3 * length, "{parts} of {before}");
                if wall < 1e-9 {
                    prop_assert!((parts - before).abs() < 1e-3 * length);
                }
                if let Ok(merged) = edit::merge(&parted, "a", "b") {
                    prop_assert!(merged.check().is_ok());
                    prop_assert!(plan::area(&merged.rooms[0]) <= before + 1e-3 * length);
                    prop_assert!(plan::area(&merged.rooms[0]) >= parts - 1e-3 * length);
                }
            }
        }
    }
}

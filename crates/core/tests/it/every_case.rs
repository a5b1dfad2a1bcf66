//! Cases that independent checks found wrong once: each by hand, with its arithmetic.

use fuoco_core::design::Design;
use fuoco_core::heat_loss::air::AirBy;
use fuoco_core::heat_loss::ground::{from_crawl_space_u, slab_u};
use fuoco_core::heat_loss::{Cause, HeatLoss, heat_loss};
use fuoco_core::job::*;
use fuoco_core::plan::Plan;
use fuoco_core::samples::{box_room, designed, job_of, manifold, typed};

fn lost(job: &Job) -> HeatLoss {
    heat_loss(job, &Plan::of(job))
}

fn near(got: f64, expected: f64, tolerance: f64) {
    assert!((got - expected).abs() <= tolerance, "{got} instead of {expected}");
}

/// Lengths of linear thermal bridges of a room, by their ψ.
fn length_of(loss: &HeatLoss, room: usize, psi: f64) -> f64 {
    loss.rooms[room].parts.iter().filter(|p| p.cause == Cause::Bridge && p.per_kelvin == psi).map(|p| p.amount).sum()
}

fn bridged(mut job: Job) -> Job {
    job.envelope.bridges =
        Bridges::Linear { reveal_psi: 0.1, corner_psi: 0.2, roof_edge_psi: 0.3, floor_edge_psi: 0.4, storey_psi: 0.5 };
    job
}

/// A room of 6 × 4 m, and one over its western 3 m.
fn stepped() -> Job {
    let mut job = job_of(vec![box_room("low", 0.0, 0.0, 6.0, 4.0), box_room("up", 0.0, 0.0, 3.0, 4.0)]);
    job.levels.push(Level { id: "upper".into(), name: "Up".into(), floor_m: 2.8, underlay: None });
    job.rooms[1].level_id = "upper".into();
    job
}

#[test]
fn the_roofs_edge_goes_by_the_length_of_wall_under_it() {
    let loss = lost(&bridged(stepped()));
    // half of its floor is under the roof, but of its 20 m of wall all beyond the upper room's outside wall, 0.3 m thick
    near(length_of(&loss, 0, 0.3), 2.7 + 4.0 + 2.7, 1e-6);
    near(length_of(&loss, 0, 0.5), (3.3 + 4.0 + 3.3) / 2.0, 1e-6);
    near(length_of(&loss, 0, 0.4), 20.0, 1e-9);
    near(length_of(&loss, 1, 0.3), 14.0, 1e-9);
    // and the upper room's wall across the lower one's middle stands on it as the others do
    near(length_of(&loss, 1, 0.5), 14.0 / 2.0, 1e-6);
}

#[test]
fn a_round_wall_has_the_corners_that_it_turns() {
    let round = |n: usize| {
        let at = |k: usize| (k as f64 / n as f64 * std::f64::consts::TAU).sin_cos();
        let outline = (0..n).map(|k| [3.0 * at(k).1, 3.0 * at(k).0]).collect();
        lost(&bridged(job_of(vec![fuoco_core::samples::shaped_room("r", outline)])))
    };
    // four right angles of 2.5 m whatever the number of pieces
    for n in [4, 8, 24, 100] {
        near(length_of(&round(n), 0, 0.2), 4.0 * 2.5, 1e-6);
    }
}

#[test]
fn a_garage_is_no_part_of_the_floor_that_b_is_of() {
    let mut job = job_of(vec![box_room("house", 0.0, 0.0, 10.0, 8.0), box_room("garage", 10.2, 0.0, 14.2, 8.0)]);
    job.rooms[1].unheated = Some(Unheated { temperature_c: None });
    // ISO 13370: A = 80 m², P = 36 m with the wall to the garage: B′ = 4.444
    near(lost(&job).building.ground_dimension_m.expect("on ground"), 2.0 * 80.0 / 36.0, 1e-9);
}

#[test]
fn a_floor_over_a_room_is_the_ceiling_between_them() {
    let mut job = stepped();
    job.rooms[1].floor = None;
    job.rooms[0].room_c = 15.0;
    let ceiling_u = |job: &Job| {
        let parts = lost(job).rooms[1].parts.clone();
        parts.iter().find(|p| p.cause == Cause::Partition && p.edge.is_none()).expect("the ceiling").per_kelvin
    };
    let usual = ceiling_u(&job);
    job.constructions.push(typed("own", Position::Floor, 0.1));
    job.rooms[1].floor_id = Some("own".into());
    // it says: own construction of the floor where no room is below
    assert_eq!(ceiling_u(&job), usual);
}

fn under(job: &Job) -> f64 {
    let design = designed(job).expect("designs");
    design.rooms[0].floor.as_ref().expect("a floor").below_m2k_w
}

/// The underside of the heated floor's insulation has so much between it and the temperature below, by what the floor's own
/// insulation (`under_m2k_w`) leaves of the whole.
#[test]
fn what_is_below_a_heated_floor_by_each_method() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 8.0, 5.0)]);
    let insulation = designed(&job).expect("designs").rooms[0].floor.as_ref().expect("a floor").under_m2k_w;
    job.envelope.ground.method = GroundMethod::Iso13370;
    let b = 2.0 * 40.0 / 26.0;
    let soil = job.envelope.ground.clone();
    near(under(&job), 1.0 / slab_u(&soil, b, insulation, 0.0) - insulation - 0.17, 1e-9);
    // a factor per metre of edge: all of it together is A / (ψ·P)
    job.envelope.ground.method = GroundMethod::PerimeterFactor;
    job.envelope.ground.perimeter_w_mk = 0.3;
    near(under(&job), 40.0 / (0.3 * 26.0) - insulation - 0.17, 1e-9);
    let warm = designed(&job).expect("designs").rooms[0].floor.as_ref().expect("a floor").below_c;
    near(warm, job.site.outdoor_c, 1e-9);
    job.envelope.ground.method = GroundMethod::GroundTemperature;
    near(under(&job), 0.0, 1e-9);
    // a crawl space: the film of still air, then ground, walls and vents of the space side by side
    job.envelope.ground.method = GroundMethod::Iso13370;
    job.rooms[0].below = Beyond::CrawlSpace;
    near(under(&job), 0.17 + 1.0 / from_crawl_space_u(&soil, b), 1e-9);
}

#[test]
fn edge_insulation_holds_for_a_floor_a_hand_below_ground() {
    let u = |depth: f64, edge: EdgeInsulation| slab_u(&Ground { edge, ..Ground::default() }, 4.0, 1.0, depth);
    let edge = EdgeInsulation::Horizontal { width_m: 1.0, resistance_m2k_w: 2.0, thickness_m: 0.08 };
    let saved = |depth: f64| u(depth, EdgeInsulation::None) - u(depth, edge);
    assert!(saved(0.0) > 0.01 && saved(0.08) > 0.9 * saved(0.0), "{} {}", saved(0.0), saved(0.08));
}

fn two_storeys() -> Job {
    let mut job = job_of(vec![box_room("low", 0.0, 0.0, 5.0, 4.0), box_room("up", 0.0, 0.0, 5.0, 4.0)]);
    job.levels.push(Level { id: "upper".into(), name: "Up".into(), floor_m: 2.8, underlay: None });
    job.rooms[1].level_id = "upper".into();
    job.manifolds.push(manifold("m", "A", "low", 0, 2.5));
    job.manifolds.push(manifold("n", "B", "up", 0, 2.5));
    job.site.outdoor_c = -12.0;
    job
}

fn heat_into(d: &Design, room: usize) -> f64 {
    let r = &d.rooms[room];
    r.flux_given_w_m2 * r.heatable_area_m2 + r.neighbour_heat_w + r.fields.iter().map(|f| f.heat_w).sum::<f64>()
}

#[test]
fn what_a_floor_loses_to_the_room_below_heats_it() {
    let mut job = two_storeys();
    job.rooms[0].room_c = 18.0;
    let d = designed(&job).expect("designs");
    let upstairs = d.loops.iter().find(|l| l.room_ids == ["up"]).expect("a loop upstairs");
    assert!(d.rooms[0].neighbour_heat_w > 5.0 && d.rooms[1].neighbour_heat_w == 0.0);
    // what reaches the room is all that leaves downward, for there is nothing else below
    near(
        d.rooms[0].neighbour_heat_w,
        d.loops.iter().filter(|l| l.room_ids == ["up"]).map(|l| l.output_down_w).sum(),
        0.01,
    );
    assert!(upstairs.output_down_w > 0.0);
    // between heated rooms nothing is lost or made
    let between: f64 =
        d.rooms.iter().flat_map(|r| &r.loss_parts).filter(|p| p.cause == Cause::Partition).map(|p| p.heat_w).sum();
    near(between, 0.0, 1e-9);
    for room in 0..2 {
        near(heat_into(&d, room), d.rooms[room].heat_loss_w, 1e-3 * d.rooms[room].heat_loss_w);
    }
    // and the source gives what leaves the building
    let to_the_ground: f64 = d.loops.iter().filter(|l| l.room_ids == ["low"]).map(|l| l.output_down_w).sum();
    near(d.totals.down_w, to_the_ground, 0.01);
    near(d.totals.source_w, d.building.heat_w + to_the_ground, 0.01);
    near(d.totals.loops_w, d.totals.source_w, 1e-3 * d.totals.source_w);
}

#[test]
fn down_is_calculated_before_there_are_loops() {
    let mut job = two_storeys();
    let laid = designed(&job).expect("designs").totals.down_w;
    job.manifolds.clear();
    let planned = designed(&job).expect("designs");
    assert!(planned.loops.is_empty());
    // leaders and the exact tube aside the same
    near(planned.totals.down_w, laid, 0.1 * laid);
}

fn field(edge: Option<usize>, width_m: f64, height_m: f64) -> Field {
    let build_up_id = if edge.is_some() { "wall-board" } else { "ceiling-board" };
    Field {
        id: "f".into(),
        edge,
        width_m,
        height_m,
        build_up_id: build_up_id.into(),
        tube_id: "pex-16x2".into(),
        spacing_m: 0.15,
    }
}

#[test]
fn a_wall_field_takes_its_piece_of_wall_over() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.0, 9.0, 4.0)]);
    job.site.outdoor_c = -10.0;
    let before = lost(&job).rooms[0].heat_w;
    job.rooms[0].fields.push(field(Some(0), 3.0, 1.2));
    // 3.6 m² · (0.35 + 0.05) W/m²K · 30 K are the field's loss now, not the room's need
    near(before - lost(&job).rooms[0].heat_w, 3.6 * 0.40 * 30.0, 1e-9);
    let d = designed(&job).expect("designs");
    let back = d.rooms[0].fields[0].back_w;
    assert!(back > 3.6 * 0.15 * 30.0, "{back}");
    assert_eq!(d.rooms[1].neighbour_heat_w, 0.0);
    // on the inner wall its back heats the neighbour
    job.rooms[0].fields[0].edge = Some(1);
    let d = designed(&job).expect("designs");
    near(d.rooms[1].neighbour_heat_w, d.rooms[0].fields[0].back_w, 1e-9);
    assert!(d.rooms[1].neighbour_heat_w > 0.0);
    near(d.totals.source_w, d.building.heat_w + d.totals.down_w, 1e-9);
}

#[test]
fn circuits_of_fields_count_at_the_manifold() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
    job.site.outdoor_c = -25.0;
    job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
    job.rooms[0].fields.push(field(Some(1), 3.0, 1.2));
    let d = designed(&job).expect("designs");
    let (m, f) = (&d.manifolds[0], &d.rooms[0].fields[0]);
    assert!(f.flow_l_min > 0.0 && f.manifold_id.as_deref() == Some("m"));
    for (head, valve) in
        d.loops.iter().map(|l| (l.head_loss_pa, l.balancing_pa)).chain([(f.head_loss_pa, f.balancing_pa)])
    {
        near(head + valve, m.head_needed_pa, 1e-6);
    }
    let flows: Vec<(f64, f64)> = d
        .loops
        .iter()
        .map(|l| (l.flow_l_min, l.return_c))
        .chain([(f.flow_l_min, f.return_c.expect("flows"))])
        .collect();
    let all: f64 = flows.iter().map(|f| f.0).sum();
    near(m.return_c.expect("flows"), flows.iter().map(|f| f.0 * f.1).sum::<f64>() / all, 1e-9);
    near(d.totals.return_c.expect("flows"), m.return_c.expect("flows"), 1e-9);
    near(m.tube_m, d.loops.iter().map(|l| l.length_m).sum::<f64>() + f.tube_m, 1e-9);
}

#[test]
fn wind_does_not_blow_on_all_sides_of_a_building_at_once() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.0, 9.0, 4.0)]);
    job.air.method = AirMethod::BlowerDoor;
    (job.air.n50_per_h, job.air.least_per_h) = (12.0, 0.0);
    job.rooms.iter_mut().for_each(|r| r.air_changes_per_h = None);
    let mean = lost(&job);
    near(mean.building.heat_w, mean.rooms.iter().map(|r| r.heat_w).sum(), 1e-9);
    job.air.direction_factor = 2.0;
    let windy = lost(&job);
    let air = |l: &HeatLoss| {
        l.rooms.iter().flat_map(|r| &r.parts).filter(|p| p.cause == Cause::Air).map(|p| p.heat_w).sum::<f64>()
    };
    // EN 12831-1: rooms by the doubled figure, the building by half of their sum
    near(air(&windy), 2.0 * air(&mean), 1e-9);
    near(windy.building.heat_w, mean.building.heat_w, 1e-9);
    near(windy.building.windward_w, air(&mean), 1e-9);
    near(windy.building.w_per_k, mean.building.w_per_k, 1e-9);
    near(windy.building.causes.iter().map(|c| c.heat_w).sum(), windy.building.heat_w, 1e-9);
}

#[test]
fn the_air_change_says_where_it_comes_from() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
    let by = |job: &Job| designed(job).expect("designs").rooms[0].air_by;
    assert_eq!(by(&job), AirBy::Typed);
    // a ventilation and no leaks: nothing is typed, too
    (job.rooms[0].air_changes_per_h, job.rooms[0].supply_m3_h) = (Some(0.0), 60.0);
    assert_eq!(by(&job), AirBy::Typed);
    (job.rooms[0].air_changes_per_h, job.rooms[0].supply_m3_h) = (None, 0.0);
    assert_eq!(by(&job), AirBy::People);
    (job.air.method, job.air.n50_per_h) = (AirMethod::Divided, 20.0);
    assert_eq!(by(&job), AirBy::Leaks);
    job.rooms[0].extract_m3_h = 200.0;
    assert_eq!(by(&job), AirBy::Extract);
}

/// An easy room beside a hard one: throttled to what it needs its water would come back 20 K cooler.
#[test]
fn an_easy_room_keeps_the_least_flow_and_the_largest_drop() {
    let mut job = job_of(vec![box_room("hard", 0.0, 0.0, 5.0, 4.0), box_room("easy", 5.1, 0.0, 8.0, 3.0)]);
    job.site.outdoor_c = -20.0;
    (job.rooms[1].above, job.rooms[1].air_changes_per_h) = (Beyond::Heated, Some(0.0));
    job.rooms[0].air_changes_per_h = Some(2.0);
    job.manifolds.push(manifold("m", "A", "hard", 0, 2.5));
    job.manifolds.push(manifold("n", "B", "easy", 0, 1.4));
    let d = designed(&job).expect("designs");
    let easy = &d.rooms[1];
    assert!(easy.held_open && easy.flux_given_w_m2 > easy.flux_needed_w_m2);
    assert!(easy.drop_k <= Some(job.rules.largest_drop_k + 1e-9));
    let flow = d.loops.iter().find(|l| l.room_ids == ["easy"]).expect("a loop").flow_l_min;
    assert!(flow >= job.rules.least_flow_l_min - 1e-6, "{flow}");
    let said = d.findings.iter().find(|f| f.code == "water.held_open").expect("said");
    assert!(said.subject.id == "easy" && said.values["given"] > said.values["need"]);
    // without those two rules it is throttled to its need
    (job.rules.largest_drop_k, job.rules.least_flow_l_min) = (40.0, 0.0);
    let d = designed(&job).expect("designs");
    near(d.rooms[1].flux_given_w_m2, d.rooms[1].flux_needed_w_m2, 1e-3 * d.rooms[1].flux_needed_w_m2);
    assert!(!d.rooms[1].held_open && d.findings.iter().all(|f| f.code != "water.held_open"));
}

#[test]
fn a_kitchens_cabinets_take_its_perimeter_zone() {
    let mut job = job_of(vec![box_room("kitchen", 0.0, 0.0, 4.0, 3.0)]);
    let floor = job.rooms[0].floor.as_mut().expect("a floor");
    floor.spacing_edge_m = 0.1;
    job.rooms[0].walls =
        [1, 2, 3].map(|edge| Wall { edge, beyond: Some(Beyond::Heated), u: None, construction_id: None }).to_vec();
    let share = |job: &Job| designed(job).expect("designs").rooms[0].floor.as_ref().expect("a floor").edge_share;
    near(share(&job), 0.8 / 3.0, 1e-3);
    // cabinets of 0.6 m along the whole wall: 0.2 of 2.4 m are left
    job.rooms[0].keep_outs.push(fuoco_core::samples::cabinet("k", 0.0, 0.0, 4.0, 0.6));
    near(share(&job), 0.2 / 2.4, 1e-3);
}

#[test]
fn manifolds_in_doorways_and_corners_are_told() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.0, 9.0, 4.0)]);
    job.rooms[0].openings.push(fuoco_core::samples::doorway("d", 1, 1.0, 0.9));
    let told = |edge: usize, room: &str, offset: f64| {
        let mut job = job.clone();
        job.manifolds.push(manifold("m", "A", room, edge, offset));
        let d = designed(&job).expect("designs");
        d.findings.iter().map(|f| f.code.clone()).find(|c| c.starts_with("manifold.in_"))
    };
    assert_eq!(told(1, "a", 1.4).as_deref(), Some("manifold.in_doorway"));
    assert_eq!(told(3, "b", 2.6).as_deref(), Some("manifold.in_doorway"), "the doorway is the other room's");
    assert_eq!(told(0, "a", 0.02).as_deref(), Some("manifold.in_corner"));
    assert_eq!(told(0, "a", 2.5), None);
    assert_eq!(told(1, "a", 3.0), None, "beside the doorway");
}

#[test]
fn a_cupboard_does_not_set_the_water() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("niche", 5.1, 0.0, 5.15, 0.04)]);
    job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
    let d = designed(&job).expect("designs");
    assert_eq!(d.totals.hardest_room_id.as_deref(), Some("a"));
}

/// North American frame walls with a quarter of framing, by the limits of ISO 6946 with the library's conductivities.
#[test]
fn frame_walls_by_hand() {
    use fuoco_core::heat_loss::construction::u_in_place;
    use fuoco_core::library;
    for (id, u) in [("wall-frame-89", 0.5088), ("wall-frame-140", 0.3544), ("wall-frame-140-foam", 0.2783)] {
        let wall = library::library().constructions.iter().find(|c| c.id == id).expect("in the library");
        near(u_in_place(wall, Position::Wall, library::material), u, 1e-4);
    }
}

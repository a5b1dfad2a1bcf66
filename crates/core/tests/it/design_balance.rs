//! The whole design against what must hold whatever the job: heat given equals heat needed, water carries what the
//! floor gives, the worst loop sets the manifold, findings say what is wrong and nothing else.

use fuoco_core::design::{Better, Design};
use fuoco_core::findings::Severity;
use fuoco_core::job::{Axis, Beyond, FloorLattice, Fluid, FluidKind, Job};
use fuoco_core::samples::designed as design;
use fuoco_core::samples::*;
use fuoco_core::units::Units;
use fuoco_core::{flow, fluid};

fn demo() -> Job {
    fuoco_core::samples::read_job(include_str!("../../../../demo/tamarack-dance-school.json"))
        .expect("the demo is sound")
}

fn designed(job: &Job) -> Design {
    design(job).expect("designs")
}

fn codes(d: &Design) -> Vec<&str> {
    d.findings.iter().map(|f| f.code.as_str()).collect()
}

#[test]
fn every_room_of_the_demo_gets_what_it_needs() {
    let d = designed(&demo());
    let job = demo();
    assert!(d.rooms.iter().any(|r| !r.heated), "the garage");
    let heated = |id: &str| job.room(id).is_some_and(|r| r.heated_floor().is_some());
    for r in d.rooms.iter().filter(|r| heated(&r.id)) {
        // leaders settle to a milliwatt; easy rooms whose loops are held open get more, and it is said so
        let off = r.flux_given_w_m2 / r.flux_needed_w_m2 - 1.0;
        let (name, given, needed) = (&r.name, r.flux_given_w_m2, r.flux_needed_w_m2);
        assert!(if r.held_open { off > 0.0 } else { off.abs() < 1e-3 }, "{name}: {given} of {needed}");
        let parts: f64 = r.loss_parts.iter().map(|p| p.heat_w).sum();
        assert!((parts - r.heat_loss_w).abs() < 1e-6);
        assert!(r.surface_mean_c < r.surface_limit_c && r.surface_mean_c < r.surface_max_c);
    }
}

#[test]
fn heat_of_loops_is_heat_of_rooms_and_the_water_carries_it() {
    let job = demo();
    let d = designed(&job);
    let up: f64 = d.loops.iter().map(|l| l.output_up_w).sum();
    let given: f64 = d.rooms.iter().map(|r| r.flux_given_w_m2 * r.heatable_area_m2).sum();
    assert!((up / given - 1.0).abs() < 1e-9, "{up} {given}");
    for l in &d.loops {
        let p = fluid::properties(&job.fluid, (l.supply_c + l.return_c) / 2.0).expect("water");
        let carried = l.flow_l_min / 60_000.0 * p.density * p.specific_heat * (l.supply_c - l.return_c);
        assert!((carried / (l.output_up_w + l.output_down_w) - 1.0).abs() < 1e-9, "{}", l.tag);
    }
    assert!((d.totals.loops_w - up - d.totals.down_w).abs() < 1e-6);
    assert!((d.totals.heat_loss_w - d.rooms.iter().map(|r| r.heat_loss_w).sum::<f64>()).abs() < 1e-6);
}

#[test]
fn the_hardest_room_sets_the_water_and_the_others_are_throttled() {
    let job = demo();
    let d = designed(&job);
    let supply = d.totals.supply_c.expect("a supply temperature");
    let hardest = d
        .rooms
        .iter()
        .max_by(|a, b| a.supply_needed_c.partial_cmp(&b.supply_needed_c).expect("numbers"))
        .expect("rooms");
    assert_eq!(d.totals.hardest_room_id.as_deref(), Some(hardest.id.as_str()));
    assert!((hardest.supply_needed_c.expect("needed") - supply).abs() < 1e-9);
    assert!((hardest.drop_k.expect("drop") - job.rules.temperature_drop_k).abs() < 1e-6);
    assert!(d.rooms.iter().filter_map(|r| r.drop_k).all(|drop| drop >= job.rules.temperature_drop_k - 1e-6));
}

#[test]
fn the_worst_loop_is_open_and_the_valves_take_the_rest() {
    let d = designed(&demo());
    for m in &d.manifolds {
        let own: Vec<_> = d.loops.iter().filter(|l| l.manifold_id == m.id).collect();
        assert!(own.iter().any(|l| l.balancing_pa == 0.0));
        for l in &own {
            assert!((l.head_loss_pa + l.balancing_pa - m.head_needed_pa).abs() < 1e-6);
        }
        assert!((own.iter().map(|l| l.flow_l_min).sum::<f64>() - m.flow_l_min).abs() < 1e-9);
    }
}

#[test]
fn colder_outside_asks_for_hotter_water_and_more_flow() {
    let at = |outdoor_c: f64| {
        let mut job = demo();
        job.site.outdoor_c = outdoor_c;
        designed(&job).totals
    };
    let (mild, cold) = (at(-5.0), at(-20.0));
    assert!(cold.supply_c > mild.supply_c && cold.heat_loss_w > mild.heat_loss_w && cold.flow_l_min > mild.flow_l_min);
    let warm = at(25.0);
    assert!(warm.flow_l_min.is_finite());
}

#[test]
fn a_floor_that_cannot_carry_its_room_says_how_much_is_missing() {
    let mut job = demo();
    job.site.outdoor_c = -45.0;
    let d = designed(&job);
    let f = d.findings.iter().find(|f| f.code == "floor.over_capacity").expect("over capacity");
    let room = d.rooms.iter().find(|r| r.id == f.subject.id).expect("its room");
    let missing = room.heat_loss_w - room.flux_given_w_m2 * room.heatable_area_m2;
    assert!((f.values["short"] - missing).abs() < 1e-6 && missing > 0.0);
    // no floor goes over its limit for that
    assert!(
        room.surface_mean_c.expect("mean") <= room.surface_limit_c.expect("limit") + 0.6,
        "core and edge share the limit"
    );
    assert_eq!(d.findings[0].severity, Severity::Error);
}

#[test]
fn one_water_for_tile_and_timber_is_a_conflict_when_timber_cannot_stand_it() {
    // a tiled room that needs water above 48 °C (wide spacing, much air) beside one on solid timber that needs less
    let mut hard = box_room("hard", 0.0, 0.0, 5.0, 4.0);
    let floor = hard.floor.as_mut().expect("heated");
    (floor.spacing_core_m, floor.spacing_edge_m) = (0.45, 0.45);
    hard.air_changes_per_h = Some(1.2);
    let mut timber = box_room("timber", 5.1, 0.0, 9.0, 4.0);
    timber.floor.as_mut().expect("heated").covering_id = "solid-timber".into();
    (timber.above, timber.air_changes_per_h) = (Beyond::Heated, Some(0.1));
    let mut job = job_of(vec![hard, timber]);
    let d = designed(&job);
    let conflict = d.findings.iter().find(|f| f.code == "floor.supply_conflict").expect("a conflict");
    assert_eq!(conflict.subject.id, "timber");
    assert!(conflict.values["supply"] > conflict.values["ceiling"], "{:?}", conflict.values);
    assert!(conflict.remedy.contains("Room hard"));
    // with the same spacing as everyone the hard room is content with cooler water
    let floor = job.rooms[0].floor.as_mut().expect("heated");
    (floor.spacing_core_m, floor.spacing_edge_m) = (0.1, 0.1);
    assert!(!codes(&designed(&job)).contains(&"floor.supply_conflict"));
}

#[test]
fn glycol_costs_head() {
    let water = designed(&demo());
    let mut job = demo();
    job.fluid = Fluid { kind: FluidKind::PropyleneGlycol, mass_fraction: 0.4 };
    let glycol = designed(&job);
    for (w, g) in water.loops.iter().zip(&glycol.loops) {
        // it may even turn laminar, which costs heat and saves head
        assert!(g.reynolds < w.reynolds && (g.reynolds < 2300.0 || g.head_loss_pa > w.head_loss_pa), "{}", w.tag);
    }
    assert!(glycol.totals.supply_c > water.totals.supply_c, "a thicker film of water wants hotter water");
    job.fluid.mass_fraction = 0.05;
    assert!(design(&job).is_ok(), "thin mixes lie between water and the first column");
}

#[test]
fn findings_speak_the_units_of_the_job() {
    let mut job = demo();
    let metric = designed(&job);
    job.site.units = Units::Us;
    let us = designed(&job);
    assert_eq!(metric.findings.len(), us.findings.len());
    assert!(metric.findings.iter().any(|f| f.message.contains("W/m²")));
    assert!(
        us.findings
            .iter()
            .all(|f| !f.message.contains("°C") && !f.message.contains(" W/m²") && !f.message.contains('{'))
    );
    for (m, u) in metric.findings.iter().zip(&us.findings) {
        assert_eq!((&m.code, &m.values), (&u.code, &u.values), "units are for display only");
    }
}

#[test]
fn an_empty_job_and_a_job_without_floors_are_designs_too() {
    let d = designed(&Job::new("Empty"));
    assert_eq!(codes(&d), ["job.empty"]);
    let mut room = box_room("a", 0.0, 0.0, 4.0, 3.0);
    room.floor = None;
    let d = designed(&job_of(vec![room]));
    assert!(d.totals.supply_c.is_none() && d.loops.is_empty() && d.rooms[0].heat_loss_w > 0.0);
}

#[test]
fn a_room_that_gains_heat_gets_no_flow() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.0, 9.0, 4.0)]);
    job.manifolds.push(manifold("m", "A", "a", 0, 2.0));
    job.rooms[0].openings.push(doorway("d", 1, 1.0, 0.9));
    job.site.outdoor_c = 18.0;
    job.rooms[1].room_c = 10.0;
    job.rooms[1].above = Beyond::Heated;
    let d = designed(&job);
    for l in d.loops.iter().filter(|l| l.room_ids == ["b"]) {
        assert_eq!((l.flow_l_min, l.head_loss_pa), (0.0, 0.0));
    }
    assert!(d.loops.iter().any(|l| l.flow_l_min > 0.0));
}

#[test]
fn the_supply_temperature_is_the_textbook_one() {
    // EN 1264-2: 60 W/m² with K_H = 4 needs 15 K of mean excess; with 7 K of drop the supply is 20 + 7/(1 − e^−(7/15))
    let by_hand = 20.0 + 7.0 / (1.0 - (-7.0_f64 / 15.0).exp());
    assert!((flow::supply_for(20.0, 15.0, 7.0) - by_hand).abs() < 1e-12);
    assert!((by_hand - 38.7716).abs() < 1e-3, "{by_hand}");
}

#[test]
fn files_round_trip_unchanged() {
    let job = demo();
    let text = serde_json::to_string(&job).expect("writes");
    assert_eq!(fuoco_core::samples::read_job(&text).expect("reads"), job);
}

/// Heat of loops is heat of rooms on every plan of the corpus, and no room whose leaders are enough is heated beyond its need
/// by its own floor.
#[test]
fn heat_balances_on_every_plan_of_the_corpus() {
    let folder = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../corpus");
    for entry in std::fs::read_dir(folder).expect("the corpus") {
        let path = entry.expect("entry").path();
        let name = path.file_stem().expect("named").to_string_lossy().into_owned();
        let job = read_job(&std::fs::read_to_string(&path).expect("readable")).expect("sound");
        let d = designed(&job);
        let up: f64 = d.loops.iter().map(|l| l.output_up_w).sum();
        let down: f64 = d.loops.iter().map(|l| l.output_down_w).sum();
        let given: f64 = d.rooms.iter().map(|r| r.flux_given_w_m2 * r.heatable_area_m2).sum();
        assert!((up - given).abs() <= 1e-3 * given.max(1.0), "{name}: loops {up} W, rooms {given} W");
        assert!((d.totals.loops_w - up - down).abs() <= 1e-3 * up.max(1.0), "{name}");
        // the source gives what leaves the building, and what easy rooms get beyond their need
        let beyond: f64 = d
            .rooms
            .iter()
            .filter(|r| r.floor.is_some() && r.heated)
            .map(|r| r.flux_given_w_m2 * r.heatable_area_m2 + r.neighbour_heat_w - r.heat_loss_w)
            .sum();
        let unfloored: f64 = d.rooms.iter().filter(|r| r.floor.is_none() && r.heated).map(|r| r.heat_loss_w).sum();
        let passed: f64 = d.rooms.iter().map(|r| r.neighbour_heat_w).sum();
        let bare: f64 = d.totals.down_w + passed - down;
        let source = d.totals.source_w + beyond - unfloored - bare;
        assert!((d.totals.loops_w - source).abs() <= 1e-3 * source.max(1.0), "{name}: {} {source}", d.totals.loops_w);
        for r in d.rooms.iter().filter(|r| r.flux_needed_w_m2 > 0.0 && r.flux_given_w_m2 > 1.01 * r.flux_needed_w_m2) {
            // more than it needs only by leaders, on the water of another room, or held open
            let shared = d.loops.iter().any(|l| l.room_ids.len() > 1 && l.room_ids.contains(&r.id));
            let own = r.floor.as_ref().map_or(0.0, |f| f.flux_up_w_m2);
            assert!(
                shared || own < 1e-6 || r.held_open,
                "{name}, {}: {} of {}",
                r.name,
                r.flux_given_w_m2,
                r.flux_needed_w_m2
            );
        }
    }
}

#[test]
fn a_bath_does_not_set_the_water_of_the_house() {
    use fuoco_core::job::Usage;
    let mut bath = box_room("bath", 5.12, 0.0, 7.4, 4.0);
    (bath.usage, bath.room_c) = (Usage::Bath, 24.0);
    let mut living = box_room("living", 0.0, 0.0, 5.0, 4.0);
    living.openings.push(doorway("d", 1, 1.0, 0.9));
    let mut job = job_of(vec![living, bath]);
    job.site.outdoor_c = -16.0;
    job.manifolds.push(manifold("m", "A", "living", 0, 2.5));
    let house = designed(&job);
    assert_eq!(house.totals.hardest_room_id.as_deref(), Some("living"));
    let said = house.findings.iter().find(|f| f.code == "floor.not_governing").expect("said");
    assert_eq!((said.subject.id.as_str(), said.severity), ("bath", Severity::Warning));
    assert!(said.message.starts_with("Room bath does not set the water: at ") && said.values["short"] > 0.0);
    // where it is to, the water is warmer and nothing is lacking
    job.rooms[1].governs = Some(true);
    let warm = designed(&job);
    assert_eq!(warm.totals.hardest_room_id.as_deref(), Some("bath"));
    assert!(warm.totals.supply_c > house.totals.supply_c && !codes(&warm).contains(&"floor.not_governing"));
    // a bath alone sets its own
    job.rooms[1].governs = None;
    job.rooms[0].floor = None;
    assert_eq!(designed(&job).totals.hardest_room_id.as_deref(), Some("bath"));
}

#[test]
fn ports_of_fields_count_and_letters_are_told_apart() {
    let mut job = demo();
    for m in &mut job.manifolds {
        m.letter = "A".into();
    }
    let same = designed(&job);
    assert_eq!(codes(&same).iter().filter(|c| **c == "manifold.same_letter").count(), job.manifolds.len() - 1);
    let mut job = demo();
    let used = designed(&job).manifolds[0].ports_used;
    job.manifolds[0].ports = used;
    assert!(!codes(&designed(&job)).contains(&"manifold.ports"));
    job.manifolds[0].ports = used - 1;
    assert!(codes(&designed(&job)).contains(&"manifold.ports"));
}

/// The figures by which two layouts are compared are those of the loops, rooms and manifolds told beside them.
#[test]
fn layouts_are_told_in_the_figures_of_their_loops() {
    let d = designed(&demo());
    let names: std::collections::BTreeSet<&str> = d.layout.iter().map(|f| f.name.as_str()).collect();
    assert_eq!(names.len(), d.layout.len(), "each once");
    let of = |name: &str| d.layout.iter().find(|f| f.name == name).unwrap_or_else(|| panic!("{name}"));
    let value = |name: &str| of(name).value.expect("laid");
    assert_eq!((value("Loops") as usize, of("Loops").better), (d.loops.len(), Better::Less));
    let mut lengths: Vec<f64> = d.loops.iter().map(|l| l.length_m).collect();
    lengths.sort_by(f64::total_cmp);
    assert_eq!((value("Shortest loop"), value("Longest loop")), (lengths[0], lengths[lengths.len() - 1]));
    assert!((value("Tube") - lengths.iter().sum::<f64>()).abs() < 1e-6, "the demo has no fields");
    assert_eq!((of("Longest loop").better, of("Floor within reach of tube").better), (Better::Neither, Better::More));
    assert!((0.9..=1.0).contains(&value("Floor within reach of tube")), "weighed by floor area");
    assert!(d.rooms.iter().filter_map(|r| r.striping_k).all(|k| k <= value("Surface ripple, up to")));
    assert_eq!(value("Errors"), 0.0);
    // nothing laid: what depends on loops has no figure
    let empty = designed(&Job::new("Empty"));
    assert!(empty.layout.iter().filter(|f| f.value.is_none()).count() > 10);
    assert_eq!(empty.layout.iter().find(|f| f.name == "Loops").and_then(|f| f.value), Some(0.0));
}

#[test]
fn a_lattice_tells_the_spacings_that_it_gives() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
    assert_eq!(designed(&job).rooms[0].lattice_spacings_m, None);
    let floor = job.rooms[0].floor.as_mut().expect("heated");
    (floor.spacing_core_m, floor.spacing_edge_m) = (0.25, 0.2);
    floor.lattice = Some(FloorLattice::Squares { side_m: 0.15, cross: [0.0, 0.0] });
    assert_eq!(designed(&job).rooms[0].lattice_spacings_m, Some([0.3, 0.15]));
    job.rooms[0].floor.as_mut().expect("heated").lattice =
        Some(FloorLattice::Joists { along: Axis::X, centres_m: 0.4, one_m: 0.0, width_m: 0.045 });
    assert_eq!(designed(&job).rooms[0].lattice_spacings_m, Some([0.2, 0.2]));
}

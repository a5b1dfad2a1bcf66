//! Floors in their rooms: what is compared, what helps, patches, fields, own build-ups.

use fuoco_core::design::Design;
use fuoco_core::error::FieldError;
use fuoco_core::findings::Severity;
use fuoco_core::floor::compare::Compared;
use fuoco_core::floor::compare::{PlateChoice, Sweep, Variant};
use fuoco_core::floor::picture::{SectionPicture, Shown};
use fuoco_core::floor::remedy::RemedyKind;
use fuoco_core::floor::trial::BrokenLimit;
use fuoco_core::job::*;
use fuoco_core::samples::designed as design;
use fuoco_core::samples::studied;
use fuoco_core::samples::*;
use std::cmp::Ordering;

fn compare(job: &Job, room: &str, sweep: &Sweep, from: usize, most: usize) -> Result<Compared, FieldError> {
    fuoco_core::floor::compare::compare(&*studied(job)?, room, sweep, from, most)
}

fn section_picture(job: &Job, room: &str, shown: Shown) -> Result<SectionPicture, FieldError> {
    fuoco_core::floor::picture::section_picture(&*studied(job)?, room, shown)
}

fn job() -> Job {
    let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
    room.openings.push(window("w", 0, 1.0, 2.0, 1.5));
    let mut job = job_of(vec![room]);
    job.manifolds.push(manifold("m", "A", "a", 3, 1.0));
    job
}

fn floor(job: &mut Job) -> &mut Floor {
    job.rooms[0].floor.as_mut().expect("a heated floor")
}

fn designed(job: &Job) -> Design {
    design(job).expect("designs")
}

fn has(d: &Design, code: &str, severity: Severity) -> bool {
    d.findings.iter().any(|f| f.code == code && f.severity == severity)
}

fn all(job: &Job, sweep: &Sweep) -> Vec<Variant> {
    compare(job, "a", sweep, 0, 10_000).expect("compares").variants
}

fn by_rank(a: &Variant, b: &Variant) -> Ordering {
    a.rank.iter().zip(&b.rank).map(|(x, y)| x.total_cmp(y)).find(|o| o.is_ne()).unwrap_or(Ordering::Equal)
}

#[test]
fn tighter_spacing_wants_cooler_water_and_more_tube() {
    let sweep = Sweep { spacings_m: vec![0.3, 0.1, 0.2], ..Sweep::default() };
    let variants = all(&job(), &sweep);
    assert_eq!(variants.len(), 3);
    assert_eq!(variants.iter().filter(|v| v.now).count(), 1, "the room has one of them");
    let mut sorted = variants.clone();
    sorted.sort_by(by_rank);
    let spacings: Vec<f64> = sorted.iter().map(|v| v.choice.floor.spacing_core_m).collect();
    assert_eq!(spacings, [0.1, 0.2, 0.3], "cool water comes first");
    for pair in sorted.windows(2) {
        let (a, b) = (pair[0].outcome.as_ref().expect("solved"), pair[1].outcome.as_ref().expect("solved"));
        assert!(a.supply_c < b.supply_c && a.tube_m > b.tube_m && a.striping_k < b.striping_k && a.carries);
        // the same need is met by each
        assert!((a.given_w / b.given_w - 1.0).abs() < 1e-4);
    }
    let mut thrifty = job();
    thrifty.rules.prefer = Preference::LittleTube;
    let mut sorted = all(&thrifty, &sweep);
    sorted.sort_by(by_rank);
    assert_eq!(sorted[0].choice.floor.spacing_core_m, 0.2, "the least tube whose stripes nobody feels");
    assert_eq!(sorted[2].outcome.as_ref().expect("solved").breaches, [BrokenLimit::Striping]);
}

#[test]
fn a_variant_is_what_the_design_makes_of_it() {
    let sweep = Sweep { covering_ids: vec!["engineered".into()], spacings_m: vec![0.15], ..Sweep::default() };
    let v = all(&job(), &sweep).remove(0);
    let mut taken = job();
    taken.rooms[0].floor = Some(v.choice.floor.clone());
    let (d, o) = (designed(&taken), v.outcome.expect("solved"));
    let room = &d.rooms[0];
    // the comparison counts loops from the area, the design from the layout: the water's film may differ a little
    assert!(
        (room.supply_needed_c.expect("heated") - o.supply_c).abs() < 0.4,
        "{:?} {}",
        room.supply_needed_c,
        o.supply_c
    );
    assert!((room.surface_mean_c.expect("heated") - o.surface_mean_c).abs() < 0.05);
    assert!((room.floor.as_ref().expect("solved").time_constant_s / o.time_constant_s - 1.0).abs() < 0.03);
}

#[test]
fn depth_and_sheet_make_other_build_ups_that_can_be_added() {
    let mut j = job();
    floor(&mut j).build_up_id = "panel-board".into();
    let sweep = Sweep {
        plates: vec![PlateChoice::AsBuilt, PlateChoice::None, PlateChoice::Sealed, PlateChoice::Loose],
        ..Sweep::default()
    };
    let variants = all(&j, &sweep);
    let supply = |p: PlateChoice| {
        variants.iter().find(|v| v.choice.plate == p).and_then(|v| v.outcome.as_ref()).expect("solved").supply_c
    };
    assert!(supply(PlateChoice::Sealed) < supply(PlateChoice::AsBuilt));
    assert!(
        supply(PlateChoice::AsBuilt) < supply(PlateChoice::Loose)
            && supply(PlateChoice::Loose) < supply(PlateChoice::None)
    );
    let without = variants.iter().find(|v| v.choice.plate == PlateChoice::None).expect("there");
    let mut own = without.choice.build_up.clone().expect("another build-up");
    own.id = "own".into();
    j.build_ups.push(own);
    floor(&mut j).build_up_id = "own".into();
    j.check().expect("the job with it is sound");
    // a slab has no sheet to vary; a depth beyond its layer is refused with a reason
    let slab = job();
    assert_eq!(all(&slab, &sweep).len(), 1);
    let deep = all(&slab, &Sweep { covers_m: vec![0.02, 0.5], ..Sweep::default() });
    assert!(deep[0].outcome.is_some() && deep[1].refused.as_deref().is_some_and(|r| r.contains("layer")));
    assert!(
        deep[0].outcome.as_ref().expect("solved").supply_c < designed(&slab).rooms[0].supply_needed_c.expect("heated")
    );
}

#[test]
fn a_given_supply_says_what_it_gives() {
    let sweep = Sweep { supplies_c: vec![25.0, 45.0], ..Sweep::default() };
    let variants = all(&job(), &sweep);
    let (cool, warm) = (variants[0].outcome.as_ref().expect("solved"), variants[1].outcome.as_ref().expect("solved"));
    assert!(cool.short_w > 0.0 && cool.breaches.contains(&BrokenLimit::Short) && !cool.carries);
    assert!(warm.given_w > cool.given_w && warm.short_w == 0.0);
}

#[test]
fn batches_of_a_sweep_are_the_sweep_and_bad_ones_are_named() {
    let j = job();
    let sweep = Sweep {
        spacings_m: vec![0.1, 0.15, 0.2],
        tube_ids: vec!["pex-14x2".into(), "pex-20x2".into()],
        ..Sweep::default()
    };
    let whole = all(&j, &sweep);
    let mut parts = Vec::new();
    while parts.len() < 6 {
        let got = compare(&j, "a", &sweep, parts.len(), 4).expect("compares");
        assert_eq!(got.total, 6);
        parts.extend(got.variants);
    }
    assert_eq!(whole, parts);
    let refused = |sweep: &Sweep| compare(&j, "a", sweep, 0, 1).expect_err("refused").field;
    assert_eq!(refused(&Sweep { tube_ids: vec!["hose".into()], ..Sweep::default() }), "sweep.tube_ids[0]");
    assert_eq!(refused(&Sweep { spacings_m: vec![0.1, 7.0], ..Sweep::default() }), "sweep.spacings_m[1]");
    let many = (1..40).map(|k| 0.1 * f64::from(k)).collect();
    let lots =
        Sweep { insulations_m2k_w: many, spacings_m: vec![0.1; 39], covers_m: vec![0.03; 3], ..Sweep::default() };
    assert_eq!(refused(&lots), "sweep");
    assert_eq!(compare(&j, "x", &sweep, 0, 1).expect_err("no room").field, "room_id");
}

/// A room of glass under solid timber.
fn hard() -> Job {
    let mut j = job();
    floor(&mut j).covering_id = "solid-timber".into();
    j.rooms[0].openings[0] = window("w", 0, 0.2, 4.4, 2.4);
    j.rooms[0].openings.push(window("w2", 2, 0.2, 4.4, 2.4));
    j.rooms[0].air_changes_per_h = Some(1.5);
    j
}

#[test]
fn a_floor_that_cannot_carry_its_room_sizes_the_supplement_and_what_helps() {
    let j = hard();
    let d = designed(&j);
    let room = &d.rooms[0];
    assert!(room.supplement_w > 100.0);
    let given = room.flux_given_w_m2 * room.heatable_area_m2;
    assert!((given + room.supplement_w - room.heat_loss_w).abs() < 0.5, "need is what is given and what is missing");
    let backup = room.remedies.iter().find(|r| r.kind == RemedyKind::Backup).expect("backup");
    let backup_w = backup.heat_w.expect("so much");
    assert!(backup.enough && (room.supplement_w..room.supplement_w + 10.1).contains(&backup_w), "{backup_w}");
    let said =
        d.findings.iter().find(|f| f.code == "floor.over_capacity" || f.code == "floor.supply_limit").expect("said");
    assert!(said.remedy.contains("electric backup heat") && said.remedy.contains("wall field"), "{}", said.remedy);
}

#[test]
fn a_wall_field_gives_heat_takes_ports_and_keeps_its_limits() {
    let mut j = job();
    let before = designed(&j);
    let field = Field {
        id: "f".into(),
        edge: Some(1),
        width_m: 3.0,
        height_m: 1.0,
        build_up_id: "wall-board".into(),
        tube_id: "pex-12x1.3".into(),
        spacing_m: 0.15,
    };
    j.rooms[0].fields = vec![field.clone()];
    let d = designed(&j);
    let f = &d.rooms[0].fields[0];
    assert!(f.heat_w > 30.0 && f.surface_mean_c < f.surface_limit_c && f.circuits == 1 && f.head_loss_pa > 0.0);
    assert!((f.heat_w - f.flux_w_m2 * 3.0).abs() < 1e-9 && (f.tube_m - f.circuit_m).abs() < 1e-9 && f.circuit_m > 20.0);
    assert_eq!(f.manifold_id.as_deref(), Some("m"));
    assert_eq!(d.manifolds[0].ports_used, before.manifolds[0].ports_used + 1);
    assert!(d.rooms[0].supply_needed_c < before.rooms[0].supply_needed_c, "the floor has less to give");
    let given = d.rooms[0].flux_given_w_m2 * d.rooms[0].heatable_area_m2 + f.heat_w;
    assert!((given / d.rooms[0].heat_loss_w - 1.0).abs() < 1e-3);
    assert!(has(&d, "field.sound", Severity::Note));
    let mut large = j.clone();
    large.rooms[0].fields[0].width_m = 9.0;
    assert!(has(&designed(&large), "field.too_large", Severity::Error));
    // the room on its fields alone, walls and ceiling
    let mut alone = j.clone();
    alone.rooms[0].floor = None;
    alone.rooms[0].fields.push(Field {
        id: "c".into(),
        edge: None,
        width_m: 4.0,
        height_m: 3.0,
        build_up_id: "ceiling-board".into(),
        ..field
    });
    let d = designed(&alone);
    let sum: f64 = d.rooms[0].fields.iter().map(|f| f.heat_w).sum();
    assert!((sum + d.rooms[0].supplement_w - d.rooms[0].heat_loss_w).abs() < 0.01 * d.rooms[0].heat_loss_w);
    assert!(d.rooms[0].fields.iter().all(|f| f.surface_mean_c <= f.surface_limit_c + 0.01));
    // a build-up goes where it belongs
    alone.rooms[0].fields[0].build_up_id = "slab".into();
    assert_eq!(alone.check().expect_err("a slab is no wall").field, "rooms[0].fields[0].build_up_id");
}

#[test]
fn a_rug_costs_heat_and_warms_the_timber_under_it() {
    let mut j = job();
    floor(&mut j).covering_id = "engineered".into();
    let before = designed(&j);
    floor(&mut j).patches = vec![Patch { covering_id: None, rug_m2k_w: Some(0.2), area_m2: 6.0 }];
    let d = designed(&j);
    assert!(d.rooms[0].supply_needed_c > before.rooms[0].supply_needed_c);
    let patch = &d.rooms[0].floor.as_ref().expect("solved").patches[0];
    assert!(patch.flux_w_m2 < d.rooms[0].flux_given_w_m2 && patch.covering_c > patch.surface_mean_c + 1.0);
    assert!((patch.covering_c - patch.surface_mean_c - 0.2 * patch.flux_w_m2).abs() < 1e-9);
    floor(&mut j).patches[0].area_m2 = 60.0;
    assert!(has(&designed(&j), "floor.patches", Severity::Error));
    floor(&mut j).patches[0].covering_id = Some("straw".into());
    assert_eq!(j.check().expect_err("unknown").field, "rooms[0].floor.patches[0].covering_id");
}

#[test]
fn tile_beside_carpet_is_a_conflict_with_its_remedies() {
    let mut easy = box_room("b", 5.1, 0.0, 9.0, 4.0);
    easy.air_changes_per_h = Some(0.1);
    let mut j = hard();
    floor(&mut j).covering_id = "carpet".into();
    j.rooms.push(easy);
    let d = designed(&j);
    let c = d.conflict.as_ref().expect("a conflict");
    assert_eq!(c.room_id, "a");
    assert!(c.supply_c > c.others_c + 8.0);
    assert!(c.remedies.iter().any(|r| r.kind == RemedyKind::OwnCircuit));
    let covering = c.remedies.iter().find(|r| r.kind == RemedyKind::Covering).expect("a thinner covering");
    assert!(covering.supply_c.expect("calculated") < c.supply_c);
    let said = d
        .findings
        .iter()
        .find(|f| f.code.starts_with("floor.apart") || f.code == "floor.supply_conflict")
        .expect("said");
    assert!(said.remedy.contains("circuit of its own"), "{}", said.remedy);
    assert!(designed(&job()).conflict.is_none(), "a room alone has no conflict");
}

#[test]
fn no_insulation_over_open_air_is_an_error_that_names_the_room() {
    let mut j = job();
    j.rooms[0].below = Beyond::Outside;
    assert!(!has(&designed(&j), "floor.no_insulation", Severity::Error));
    floor(&mut j).insulation_m2k_w = Some(0.0);
    let d = designed(&j);
    assert!(has(&d, "floor.no_insulation", Severity::Error));
    assert!(d.rooms[0].down_w > 0.5 * d.rooms[0].heat_loss_w);
}

#[test]
fn own_build_ups_are_checked_by_field() {
    let own = |change: fn(&mut BuildUp)| {
        let mut j = job();
        let mut b = fuoco_core::library::build_up("slab").expect("there").clone();
        b.id = "own".into();
        change(&mut b);
        j.build_ups.push(b);
        floor(&mut j).build_up_id = "own".into();
        j.check().map_err(|e| e.field)
    };
    assert_eq!(own(|_| ()), Ok(()));
    let refused = |change| own(change).expect_err("refused");
    assert_eq!(refused(|b| b.id = "slab".into()), "build_ups[0].id");
    assert_eq!(refused(|b| b.layers.clear()), "build_ups[0].layers");
    assert_eq!(refused(|b| b.layers[0].thickness_m = 0.0), "build_ups[0].layers[0].thickness_m");
    assert_eq!(refused(|b| b.layers[1].material_id = "gold".into()), "build_ups[0].layers[1].material_id");
    assert_eq!(refused(|b| b.tube_layer = 5), "build_ups[0].tube_layer");
    assert_eq!(refused(|b| b.layers[0].thickness_m = 0.012), "rooms[0].floor.tube_id");
    assert_eq!(refused(|b| b.tube_gap_m = 0.06), "rooms[0].floor.build_up_id");
    assert_eq!(refused(|b| b.supply_limit_c = 500.0), "build_ups[0].supply_limit_c");
    let mut tight = job();
    floor(&mut tight).tube_id = "pex-1".into();
    (floor(&mut tight).spacing_core_m, floor(&mut tight).spacing_edge_m) = (0.05, 0.05);
    assert!(tight.check().is_ok(), "28.6 mm tube at 50 mm touches nothing");
    let mut outdoors = job();
    floor(&mut outdoors).build_up_id = "snow".into();
    assert_eq!(outdoors.check().expect_err("heats no room").field, "rooms[0].floor.build_up_id");
}

#[test]
fn the_picture_of_a_room_is_its_design() {
    let mut j = job();
    floor(&mut j).spacing_edge_m = 0.1;
    floor(&mut j).patches = vec![Patch { covering_id: Some("carpet".into()), rug_m2k_w: None, area_m2: 4.0 }];
    j.rooms[0].fields = vec![Field {
        id: "f".into(),
        edge: Some(0),
        width_m: 1.0,
        height_m: 1.0,
        build_up_id: "wall-plaster".into(),
        tube_id: "pex-10x1.3".into(),
        spacing_m: 0.1,
    }];
    let d = designed(&j);
    let of = |shown| section_picture(&j, "a", shown).expect("draws");
    let core = of(Shown::Core);
    assert!((core.water_c - 20.0 - d.rooms[0].floor.as_ref().expect("solved").excess_k).abs() < 1e-9);
    let mean: f64 = core.profile_c.iter().sum::<f64>() / core.profile_c.len() as f64;
    // nodes crowd above the tube, where it is warmest
    assert!((mean - core.surface_mean_c).abs() < 0.5, "{mean} {}", core.surface_mean_c);
    assert!(core.k_standard_w_m2k.is_some_and(|k| (k / core.k_reference_w_m2k.expect("too") - 1.0).abs() < 0.17));
    // a part of that is the water, which the standard's tables take to be turbulent
    let off = |k: Option<f64>| (core.k_standard_w_m2k.expect("in screed") / k.expect("too") - 1.0).abs();
    assert!(core.k_turbulent_w_m2k > core.k_reference_w_m2k);
    assert!(off(core.k_turbulent_w_m2k) < off(core.k_reference_w_m2k));
    assert_eq!(core.layers.first().map(|l| l.material_id.as_str()), Some("covering"));
    assert!(of(Shown::Edge).flux_up_w_m2 > core.flux_up_w_m2);
    assert!(of(Shown::Patch { index: 0 }).flux_up_w_m2 < core.flux_up_w_m2);
    let field = of(Shown::Field { index: 0 });
    assert!((field.flux_up_w_m2 / d.rooms[0].fields[0].flux_w_m2 - 1.0).abs() < 1e-3);
    assert_eq!(section_picture(&j, "a", Shown::Patch { index: 3 }).expect_err("none").field, "shown.index");
    assert_eq!(section_picture(&j, "x", Shown::Core).expect_err("none").field, "room_id");
}

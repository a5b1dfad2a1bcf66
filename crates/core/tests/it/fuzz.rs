//! Jobs made wrong by number (`samples::mutate`), of the demo and every plan of the corpus: none makes the core panic, give
//! figures that are none, or keep quiet about what is wrong. A bounded number runs with the tests; `cargo xtask fuzz` goes
//! on for as long as one likes.

use fuoco_core::design::Design;
use fuoco_core::findings::{Finding, Severity};
use fuoco_core::job::{CheckedJob, Job};
use fuoco_core::layout::rules::audit::audit;
use fuoco_core::outdoors::slab::Step;
use fuoco_core::outdoors::storm::{StormTrial, storm};
use fuoco_core::plan::Plan;
use fuoco_core::samples::mutate::mutated;
use fuoco_core::samples::read_job;
use fuoco_core::study::Study;
use fuoco_core::watch::Watch;
use std::panic::catch_unwind;
use std::time::{Duration, Instant};

/// With the tests runs this many.
const BOUNDED: u64 = 160;
/// Nothing may take longer; held in `cargo xtask fuzz`, not in a test on a busy machine.
const LONGEST: Duration = Duration::from_secs(10);

fn bases() -> Vec<Job> {
    let folder = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let mut files: Vec<_> =
        std::fs::read_dir(folder.join("corpus")).expect("the corpus").map(|e| e.expect("entry").path()).collect();
    files.push(folder.join("demo/tamarack-dance-school.json"));
    files.push(folder.join("demo/alderfell-forecourt.json"));
    files.sort();
    files.iter().map(|f| read_job(&std::fs::read_to_string(f).expect("readable")).expect("sound")).collect()
}

/// What is wrong with the answer to a document; refused documents have nothing wrong.
fn wrong_with(text: &str) -> Vec<String> {
    let job = match CheckedJob::from_json(text) {
        Err(e) if e.field.is_empty() || e.reason.is_empty() => return vec![format!("refused without words: {e}")],
        Err(_) => return vec![],
        Ok(job) => job,
    };
    let study = match Study::solve(job.clone(), &Watch::default()) {
        Err(e) if e.field.is_empty() => return vec![format!("refused without a field: {e}")],
        Err(_) => return vec![],
        Ok(study) => study,
    };
    let design = Design::of(&study);
    let mut out = figures(&design);
    if job.outdoors.is_some()
        && let Ok(run) = storm(&study, &StormTrial::default(), None)
    {
        let steps = run.ways.iter().flat_map(|w| &w.steps);
        let sound =
            |s: &Step| s.surface_c.is_finite() && s.snow_mm >= 0.0 && s.ice_mm >= 0.0 && s.heat_w_m2.is_finite();
        if steps.clone().any(|s| !sound(s)) {
            out.push("a storm that makes no sense".to_owned());
        }
    }
    let about = |f: &Finding, id: &str| f.subject.id == id || f.also.iter().any(|s| s.id == id);
    let told = |id: &str| design.findings.iter().any(|f| about(f, id) && f.severity != Severity::Note);
    let violations = audit(&job, &Plan::of(&job), &study.layout.loops);
    let said = design.findings.iter().filter(|f| f.code.starts_with("audit.")).count();
    if said != violations.len() {
        out.push(format!("{} violations, {said} told", violations.len()));
    }
    for room in job.rooms.iter().filter(|r| r.heated_floor().is_some()) {
        let area = design.rooms.iter().find(|r| r.id == room.id).map_or(0.0, |r| r.heatable_area_m2);
        let laid = design.loops.iter().any(|l| l.room_ids.contains(&room.id));
        let by_leaders = design.findings.iter().any(|f| f.subject.id == room.id && f.code == "loops.by_leaders");
        if area > 0.0 && !laid && !by_leaders && !told(&room.id) && !job.manifolds.is_empty() {
            out.push(format!("room {} has no tube and nobody says so", room.id));
        }
    }
    out
}

/// Figures that are none, in the document as everybody reads it.
fn figures(design: &Design) -> Vec<String> {
    let mut out = Vec::new();
    let text = fuoco_core::figures::json(design).expect("a design is always JSON");
    // JSON has no infinity and no NaN: they become null, where a number must stand
    if let Err(e) = serde_json::from_str::<Design>(&text) {
        out.push(format!("does not read back: {e}"));
    }
    if let Some(at) = text.find("-0.0,").or_else(|| text.find("-0.0}")) {
        out.push(format!("minus nothing: {}", &text[at.saturating_sub(60)..at + 4]));
    }
    for f in &design.findings {
        if [" inf", "NaN", " -0 ", " -0.0 "].iter().any(|w| f.message.contains(w)) {
            out.push(format!("{}: {}", f.code, f.message));
        }
    }
    for r in &design.rooms {
        let ordered = |(low, high): (Option<f64>, Option<f64>)| low.zip(high).is_none_or(|(l, h)| l <= h + 1e-9);
        if !ordered((r.surface_min_c, r.surface_mean_c)) || !ordered((r.surface_mean_c, r.surface_max_c)) {
            let [min, mean, max] = [r.surface_min_c, r.surface_mean_c, r.surface_max_c];
            out.push(format!("room {}: surface {min:?} {mean:?} {max:?}", r.id));
        }
    }
    out
}

#[test]
fn no_job_breaks_it_and_nothing_wrong_is_kept_quiet() {
    let from: u64 = std::env::var("FUOCO_FUZZ_FROM").ok().and_then(|v| v.parse().ok()).unwrap_or(0);
    let seconds: Option<u64> = std::env::var("FUOCO_FUZZ_SECONDS").ok().and_then(|v| v.parse().ok());
    let (bases, start) = (bases(), Instant::now());
    let (mut number, mut refused, mut failures) = (from, 0u64, Vec::new());
    let more = |number: u64| match seconds {
        Some(s) => start.elapsed() < Duration::from_secs(s),
        None => number < from + BOUNDED,
    };
    while more(number) {
        let text = mutated(number, &bases[number as usize % bases.len()]);
        refused += u64::from(CheckedJob::from_json(&text).is_err());
        let began = Instant::now();
        let mut wrong = catch_unwind(|| wrong_with(&text)).unwrap_or_else(|_| vec!["a panic".into()]);
        if seconds.is_some() && began.elapsed() > LONGEST {
            wrong.push(format!("{:.1} s", began.elapsed().as_secs_f64()));
        }
        if !wrong.is_empty() {
            // to be looked at
            let file = std::path::Path::new(env!("CARGO_TARGET_TMPDIR")).join(format!("fuzz-{number}.json"));
            std::fs::write(&file, &text).expect("writes");
            failures.extend(wrong.into_iter().map(|w| format!("{}: {w}", file.display())));
        }
        number += 1;
    }
    println!("jobs {from} to {number}: {refused} refused, {} with something wrong", failures.len());
    assert!(failures.is_empty(), "{}", failures.join("\n"));
}

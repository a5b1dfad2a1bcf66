//! What came of a design on site: the laying log.

use fuoco_core::job::Job;
use fuoco_core::onsite::laying::{LayingDesign, LoopLaid, OpenKind, laying};
use fuoco_core::onsite::pressure::{PressureTests, pressure_tests};
use fuoco_core::pressure_test::Verdict;
use fuoco_core::records::{Entry, LayStep, Record, SignedAs};
use fuoco_core::samples::{box_room, job_of, manifold, studied};
use serde_json::{Value, json};

fn two_rooms() -> Job {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 6.0, 5.0), box_room("b", 6.2, 0.0, 12.0, 5.0)]);
    job.manifolds.push(manifold("m", "A", "a", 0, 3.0));
    job
}

fn log(job: &Job, entries: &[Entry]) -> LayingDesign {
    laying(&studied(job).expect("solved"), entries)
}

/// Records in the order in which they came, one a minute from eight o'clock on.
fn entries(facts: &[Value]) -> Vec<Entry> {
    let made = |(k, fact): (usize, &Value)| {
        let mut record =
            json!({ "id": format!("record-{k}"), "at": format!("2026-11-30T08:{k:02}:00Z"), "fact": fact });
        for key in ["note", "corrects", "at", "place"] {
            if let Some(value) = fact.get(key) {
                record[key] = value.clone();
            }
        }
        if let Some(fact) = record["fact"].as_object_mut() {
            ["note", "corrects", "at", "place"].iter().for_each(|key| drop(fact.remove(*key)));
        }
        Entry {
            number: k as i64 + 1,
            received_at: "2026-11-30T18:00:00Z".into(),
            who: "Cleo".into(),
            record: Record::from_json(&record.to_string()).expect("a record"),
        }
    };
    facts.iter().enumerate().map(made).collect()
}

fn lies(l: &LoopLaid, step: &str, used_m: f64) -> Value {
    json!({ "kind": "laid", "loop_id": l.loop_id, "step": step, "coil": "K1", "start_m": 1.5, "end_m": 1.5 + used_m, "design_m": l.drawn_m })
}

#[test]
fn a_loop_goes_from_not_started_to_seen_and_the_open_list_shrinks_with_it() {
    let job = two_rooms();
    let none = log(&job, &[]);
    assert!(none.loops.len() >= 2 && none.loops.iter().all(|l| l.step == LayStep::NotStarted && l.coil.is_some()));
    let loops =
        |of: &LayingDesign| of.open.iter().filter(|o| matches!(o.kind, OpenKind::Loop | OpenKind::Look)).count();
    assert_eq!(loops(&none), none.loops.len());
    let first = &none.loops[0];
    let then = log(&job, &entries(&[lies(first, "on_floor", first.drawn_m), lies(first, "fixed", first.drawn_m)]));
    assert_eq!(then.loops[0].step, LayStep::Fixed);
    assert!((then.laid_m - first.drawn_m).abs() < 1e-9, "tube that lies is counted");
    assert!(then.open.iter().any(|o| o.kind == OpenKind::Look && o.id == first.loop_id));
    let seen = log(&job, &entries(&[lies(first, "seen", first.drawn_m)]));
    assert_eq!(loops(&seen), none.loops.len() - 1);
    // taken up again
    let up = log(
        &job,
        &entries(&[
            lies(first, "seen", first.drawn_m),
            json!({ "kind": "laid", "loop_id": first.loop_id, "step": "not_started" }),
        ]),
    );
    assert_eq!((up.loops[0].step, up.laid_m), (LayStep::NotStarted, 0.0));
}

#[test]
fn tube_that_does_not_come_out_as_drawn_asks_for_a_reason() {
    let job = two_rooms();
    let first = &log(&job, &[]).loops[0];
    let at = |used_m: f64| log(&job, &entries(&[lies(first, "fixed", used_m)])).loops[0].clone();
    // 3 % of a loop shorter than 67 m, two metres of a longer one
    assert!((first.tolerance_m - (0.03 * first.drawn_m).min(2.0)).abs() < 1e-12);
    assert!(!at(first.drawn_m + 0.9 * first.tolerance_m).wants_reason);
    assert!(
        at(first.drawn_m + 1.1 * first.tolerance_m).wants_reason
            && at(first.drawn_m - 1.1 * first.tolerance_m).wants_reason
    );
    let mut said = lies(first, "fixed", first.drawn_m + 5.0);
    said["reason"] = json!("round the hearth");
    let told = &log(&job, &entries(&[said])).loops[0];
    assert!(!told.wants_reason && told.reason == "round the hearth");
    // a coil unrolled from its other end counts down
    let down = json!({ "kind": "laid", "loop_id": first.loop_id, "step": "fixed", "start_m": 90.0, "end_m": 90.0 - first.drawn_m });
    let down = &log(&job, &entries(&[down])).loops[0];
    assert!((down.used_m.expect("used") - first.drawn_m).abs() < 1e-9 && !down.wants_reason);
}

#[test]
fn a_loop_laid_from_an_older_design_is_kept_and_said() {
    let job = two_rooms();
    let first = &log(&job, &[]).loops[0];
    let mut old = lies(first, "fixed", first.drawn_m + 6.0);
    old["design_m"] = json!(first.drawn_m + 6.0);
    let then = log(&job, &entries(&[old, json!({ "kind": "laid", "loop_id": "no-such-loop", "step": "fixed" })]));
    assert_eq!(then.loops[0].drawn_then_m, Some(first.drawn_m + 6.0));
    assert!(!then.loops[0].wants_reason, "it took what was drawn then");
    assert!(then.open.iter().any(|o| o.kind == OpenKind::Rerouted && o.id == first.loop_id));
    assert_eq!(then.gone, ["no-such-loop"]);
}

#[test]
fn notes_stand_where_they_were_pinned_until_they_are_taken_back() {
    let job = two_rooms();
    let level = &job.rooms[0].level_id;
    let text = |id: &str, more: &str| {
        let fact = r#""at": "2026-11-30T07:12:00Z", "note": "pipe""#;
        format!(r#"{{"id": "{id}", {fact}, {more}}}"#)
    };
    let pinned = format!(
        r#""fact": {{"kind": "note"}}, "place": {{"level_id": "{level}", "at": [1.0, 2.0], "facing_deg": 90.0}}"#
    );
    let entry = |number: i64, text: &str| Entry {
        number,
        received_at: "2026-11-30T18:00:00Z".into(),
        who: "Ada".into(),
        record: Record::from_json(text).expect("a record"),
    };
    let mut all =
        vec![entry(1, &text("record-1", &pinned)), entry(2, &text("record-2", r#""fact": {"kind": "note"}"#))];
    let pins = log(&job, &all).pins;
    assert_eq!(pins.len(), 1, "{pins:?}");
    assert_eq!((pins[0].spot.at, pins[0].spot.facing_deg, pins[0].who.as_str()), ([1.0, 2.0], Some(90.0), "Ada"));
    all.push(entry(3, &text("record-3", r#""fact": {"kind": "withdrawn"}, "corrects": "record-1""#)));
    assert!(log(&job, &all).pins.is_empty());
}

#[test]
fn harm_is_found_on_the_plan_by_its_mark_and_stays_until_it_is_mended() {
    let job = two_rooms();
    let study = studied(&job).expect("solved");
    let first = &log(&job, &[]).loops[0];
    let path = &study.loops.iter().find(|l| l.id == first.loop_id).expect("the loop").path;
    let kink = |mend: &str, mark: f64| json!({ "kind": "harm", "loop_id": first.loop_id, "harm": "kink", "mend": mend, "mark_m": mark });
    let at =
        |mark: f64| log(&job, &entries(&[lies(first, "fixed", first.drawn_m), kink("no", mark)])).harms[0].position;
    // the loop begins at mark 1.5: there is its supply port, and at its end its return port
    let near = |found: Option<[f64; 2]>, p: [f64; 2]| {
        let q = found.expect("on the loop");
        (q[0] - p[0]).hypot(q[1] - p[1]) < 0.02
    };
    assert!(near(at(1.5), path[0]) && near(at(1.5 + first.drawn_m), path[path.len() - 1]));
    assert_eq!(at(1.0), None, "before its beginning there is no loop");
    let found = log(&job, &entries(&[kink("no", 20.0)]));
    assert!(
        found
            .open
            .iter()
            .any(|o| o.kind == OpenKind::Harm && o.text == format!("A kink on loop {} is not mended", first.tag))
    );
    // the correction takes its place; the pin wins over the mark
    let mut mended = kink("coupling", 20.0);
    mended["corrects"] = json!("record-0");
    mended["place"] = json!({ "level_id": first.level_id, "at": [2.0, 2.5] });
    let after = log(&job, &entries(&[kink("no", 20.0), mended]));
    assert_eq!((after.harms.len(), after.harms[0].position), (1, Some([2.0, 2.5])));
    assert!(after.open.iter().all(|o| o.kind != OpenKind::Harm));
}

#[test]
fn the_order_in_which_records_come_in_changes_nothing() {
    let job = two_rooms();
    let first = &log(&job, &[]).loops[0];
    let mut all = entries(&[
        lies(first, "on_floor", first.drawn_m),
        json!({ "kind": "ticked", "item": "every/labels", "done": true }),
        lies(first, "fixed", first.drawn_m),
        json!({ "kind": "ticked", "item": "every/labels", "done": false }),
        lies(first, "seen", first.drawn_m),
    ]);
    let straight = log(&job, &all);
    assert_eq!(straight.loops[0].step, LayStep::Seen);
    assert!(straight.checks.iter().any(|c| c.item == "every/labels" && !c.done && c.who == "Cleo"));
    // a phone that was away sends last what was written first
    all.rotate_left(2);
    for (k, e) in all.iter_mut().enumerate() {
        e.number = k as i64 + 1;
    }
    assert_eq!(log(&job, &all), straight);
    // its clock stood at 1970: then it counts when it came
    all[4].record.at = "1970-01-01T00:00:00Z".into();
    assert_eq!(log(&job, &all).checks.iter().find(|c| c.item == "every/labels").map(|c| c.done), Some(true));
}

#[test]
fn what_a_build_up_asks_for_is_a_line_of_the_checklist() {
    let job = two_rooms();
    let log = log(&job, &[]);
    let floor = job.rooms[0].floor.as_ref().expect("a floor");
    let before = &job.build_up(&floor.build_up_id).expect("a build-up").before;
    let own: Vec<_> = log.checks.iter().filter(|c| c.item.starts_with("before/")).collect();
    assert!(!own.is_empty() && own.iter().all(|c| before.contains(&c.text) && !c.text.ends_with('.')));
    assert!(log.open.iter().filter(|o| o.kind == OpenKind::Check).count() == log.checks.len());
}

/// Air at 4 bar in manifold A, with readings at hours after eight: gauge in kPa, slab in °C.
fn pressure_log(job: &Job, readings: &[(f64, f64, f64, &str)], more: &[(f64, Value)]) -> PressureTests {
    let at = |hours: f64| {
        let minutes = (hours * 60.0).round() as i64 + 480;
        format!("2026-11-{:02}T{:02}:{:02}:00Z", 20 + minutes / 1440, minutes / 60 % 24, minutes % 60)
    };
    let test = json!({ "medium": "air", "volume_l": 40.0, "barometer_kpa": 100.0,
        "gauge": { "resolution_kpa": 2.0, "range_kpa": 600.0 }, "required": { "pressure_kpa": 380.0, "hours": 12.0 } });
    let begun = json!({ "kind": "test_begun", "name": "Manifold A", "test": test });
    let mut facts = vec![(0.0, "test-begun".to_owned(), begun)];
    for (k, (hours, kpa, slab, during)) in readings.iter().enumerate() {
        let read =
            json!({ "kind": "test_read", "test": "test-begun", "gauge_kpa": kpa, "slab_c": slab, "during": during });
        facts.push((*hours, format!("reading-{k:02}"), read));
    }
    facts.extend(more.iter().enumerate().map(|(k, (hours, fact))| (*hours, format!("further-{k:02}"), fact.clone())));
    let entries: Vec<Entry> = facts
        .iter()
        .enumerate()
        .map(|(k, (hours, id, fact))| Entry {
            number: k as i64 + 1,
            received_at: "2026-11-22T18:00:00Z".into(),
            who: "Cleo".into(),
            record: Record::from_json(&json!({ "id": id, "at": at(*hours), "fact": fact }).to_string())
                .expect("a record"),
        })
        .collect();
    pressure_tests(&studied(job).expect("solved"), &entries)
}

#[test]
fn a_test_through_a_cold_night_and_a_pour_is_tight_and_a_nail_is_told_at_once() {
    let job = two_rooms();
    let cold = |c: f64| 500.0 * (c + 273.15) / 293.15 - 100.0;
    let night = [
        (0.0, 400.0, 20.0, "before"),
        (8.0, cold(12.0), 12.0, "before"),
        (14.0, cold(15.0), 15.0, "pour"),
        (20.0, cold(18.0), 18.0, "after"),
    ];
    let log = pressure_log(&job, &night, &[]);
    let test = &log.tests[0];
    let result = test.result.as_ref().expect("judged");
    assert_eq!(
        (result.verdict, test.sudden, test.through_the_pour()),
        (Verdict::Tight, None, true),
        "{}",
        result.reason
    );
    // in the units of the job
    assert!(result.reason.contains(" bar"), "{}", result.reason);
    let mut us = job.clone();
    us.site.units = fuoco_core::units::Units::Us;
    assert!(pressure_log(&us, &night, &[]).tests[0].result.as_ref().expect("judged").reason.contains(" psi"));
    // a quarter of an hour later a nail
    let mut nailed = night.to_vec();
    nailed.push((20.25, cold(18.0) - 60.0, 18.0, "after"));
    let test = &pressure_log(&job, &nailed, &[]).tests[0];
    assert_eq!((test.sudden, test.result.as_ref().map(|r| r.verdict)), (Some(4), Some(Verdict::Leaking)));
    // readings that came in another order are the same test
    let mut mixed = nailed.clone();
    mixed.reverse();
    assert_eq!(pressure_log(&job, &mixed, &[]).tests[0].result, test.result);
}

#[test]
fn a_name_stands_under_what_was_read_before_it() {
    let job = two_rooms();
    let signed = |part: &str| json!({ "kind": "test_signed", "test": "test-begun", "name": "C. Ember", "part": part, "strokes": [[[0.1, 0.2], [0.4, 0.5], [0.9, 0.2], [1.4, 0.6]]] });
    let read = [(0.0, 400.0, 20.0, "before"), (13.0, 400.0, 20.0, "before"), (30.0, 400.0, 20.0, "after")];
    let test = &pressure_log(&job, &read, &[(14.0, signed("installer")), (31.0, signed("inspector"))]).tests[0];
    assert_eq!(test.signed.iter().map(|s| s.before_last).collect::<Vec<_>>(), [true, false]);
    assert!(!test.is_signed(SignedAs::Installer) && test.is_signed(SignedAs::Inspector));
}

#[test]
fn readings_that_do_not_go_together_are_kept_and_said() {
    let job = two_rooms();
    // read in pounds, typed as kilopascals: or a burst, which is told at once all the same
    let test = &pressure_log(&job, &[(0.0, 400.0, 20.0, "before"), (0.2, 58.0, 20.0, "before")], &[]).tests[0];
    let result = test.result.as_ref().expect("judged");
    assert!(test.sudden == Some(1) && result.doubts[0].contains("psi to kPa"), "{:?}", result.doubts);
    // beyond the end of the gauge
    let test = &pressure_log(&job, &[(0.0, 400.0, 20.0, "before"), (5.0, 900.0, 20.0, "before")], &[]).tests[0];
    assert_eq!((test.readings.len(), test.result.is_none()), (2, true));
    assert!(test.trouble.starts_with("reading 2 must be between 0 and 600"), "{}", test.trouble);
    assert!(pressure_log(&job, &[], &[]).tests[0].result.is_none());
}

//! Simulated instruments: what they show agrees with what the app makes of it.

use chrono::{DateTime, TimeDelta, Utc};
use fuoco_core::onsite::pressure::pressure_tests;
use fuoco_core::pressure_test::Verdict;
use fuoco_core::records::{Entry, Record};
use fuoco_core::samples::{read_job, studied};
use fuoco_core::service::{Fault, Measurand, ReadingOf, Readings, rank};
use fuoco_core::stand_in::{AtTest, Device, InstrumentReading, Measured, StandIn, readings};
use fuoco_core::startup::{SET_WITHIN, start_up};
use fuoco_core::study::Study;
use serde_json::{Value, json};
use std::sync::Arc;

const MORNING: &str = "2026-11-30T07:00:00Z";

fn house() -> Arc<Study> {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/tamarack-dance-school.json");
    let text = std::fs::read_to_string(path).expect("the demo");
    studied(&read_job(&text).expect("a job")).expect("solved")
}

fn at(hours: i64) -> DateTime<Utc> {
    MORNING.parse::<DateTime<Utc>>().expect("a time") + TimeDelta::hours(hours)
}

fn entry(number: i64, hours: i64, fact: &Value) -> Entry {
    let time = at(hours).to_rfc3339();
    let record = json!({ "id": format!("record-{number:08}"), "at": time, "fact": fact });
    let record = Record::from_json(&record.to_string()).expect("a record");
    Entry { number, received_at: time, who: "Ada".into(), record }
}

fn shown(all: &[InstrumentReading], quantity: Measured, subject: &str) -> f64 {
    let of = |r: &&InstrumentReading| r.quantity == quantity && r.subject == subject;
    all.iter().find(of).unwrap_or_else(|| panic!("{quantity:?} of {subject:?}")).value
}

/// A test begun in the morning, read by the simulated gauge every two hours for a day.
fn tested(medium: &str, house_number: u64) -> Vec<Entry> {
    let study = house();
    let test = json!({
        "medium": medium, "volume_l": 30.0, "gauge": { "resolution_kpa": 1.0, "range_kpa": 1000.0 },
        "altitude_m": 300.0, "required": { "pressure_kpa": 400.0, "hours": 12.0 }
    });
    let mut entries = vec![entry(1, 0, &json!({ "kind": "test_begun", "name": "Manifold A", "test": test }))];
    let id = entries[0].record.id.clone();
    let stand = StandIn { house: house_number, test: Some(id.clone()), ..StandIn::default() };
    for k in 0..13 {
        let all = readings(&study, &entries, &stand, at(2 * k)).expect("shown");
        let of = |what| shown(&all, Measured::Test(what), &id);
        let read = json!({
            "kind": "test_read", "test": id, "gauge_kpa": of(AtTest::GaugeKpa), "air_c": of(AtTest::AirC),
            "slab_c": of(AtTest::SlabC), "barometer_kpa": of(AtTest::BarometerKpa), "during": "before"
        });
        entries.push(entry(2 + k, 2 * k, &read));
    }
    entries
}

#[test]
fn a_sound_tube_is_proven_tight_through_a_day_and_one_with_a_hole_leaks() {
    let study = house();
    for medium in ["air", "water"] {
        let verdict = |house_number: u64| {
            let log = pressure_tests(&study, &tested(medium, house_number)).tests.remove(0);
            let swing = log.readings.iter().map(|r| r.read.gauge_kpa);
            let (low, high) = swing.fold((f64::MAX, f64::MIN), |(l, h), g| (l.min(g), h.max(g)));
            (log.result.expect("judged"), high - low)
        };
        let (sound, swing) = verdict(0);
        assert_eq!(sound.verdict, Verdict::Tight, "{medium}: {}", sound.reason);
        assert!(swing > 3.0, "{medium}: the day moves the gauge by {swing} kPa");
        // half of all houses leak: one of the first twenty does
        let leaking = (1..20).map(|n| verdict(n).0).find(|r| r.verdict == Verdict::Leaking);
        let leaking = leaking.unwrap_or_else(|| panic!("{medium}: no leak was found"));
        assert!(leaking.drop_kpa > 100.0 && leaking.leak_rate > leaking.least_leak, "{medium}: {leaking:?}");
    }
}

#[test]
fn a_leak_of_so_much_is_found_to_be_so_much() {
    // the simulated gauge and the judge are two ways through the same equations: 10 L of air lose 100 mL/h
    let entries = tested("air", 0);
    let log = pressure_tests(&house(), &entries).tests.remove(0);
    let mut test = log.begun.test;
    let first = log.readings[0].read.reading(MORNING.into());
    test.readings = [0, 6]
        .map(|h| {
            let mut r = first.clone();
            r.time = at(h).to_rfc3339();
            r.gauge_kpa = test.would_show(&first, h as f64, 15.0, 100.0);
            r
        })
        .to_vec();
    let judged = test.judge().expect("judged");
    // the pressure falls by 0.4 % of it over the test, and the leak with it
    assert!((judged.leak_rate / 100.0 - 1.0).abs() < 0.01, "{}", judged.leak_rate);
}

#[test]
fn valves_turned_by_the_list_bring_every_meter_to_its_figure() {
    let study = house();
    let cold = |turned: Vec<(String, f64)>, entries: &[Entry]| {
        let stand = StandIn { cold: true, turned, ..StandIn::default() };
        readings(&study, entries, &stand, at(1)).expect("shown")
    };
    let mut entries: Vec<Entry> = vec![];
    for pass in 1..=2_u8 {
        let list = start_up(&study, &entries).expect("a list").manifolds.remove(0);
        let turned = list.ports.iter().filter(|p| !p.wide_open).map(|p| (p.loop_id.clone(), p.shows_l_min)).collect();
        let all = cold(turned, &entries);
        for p in &list.ports {
            let flow = shown(&all, Measured::Heating(Measurand::FlowLMin), &p.loop_id);
            let number = entries.len() as i64 + 1;
            let fact = json!({ "kind": "meter_read", "loop_id": p.loop_id, "pass": pass, "flow_l_min": flow });
            entries.push(entry(number, i64::from(pass), &fact));
        }
    }
    let set = start_up(&study, &entries).expect("a list").manifolds.remove(0);
    // a hand and a meter with marks of 0.05 L/min: within twice what counts as set
    assert!(set.ports.iter().all(|p| p.off.is_some_and(|o| o.abs() < 2.0 * SET_WITHIN)), "{:?}", set.ports);
    let untouched = cold(vec![], &[]);
    let most =
        set.ports.iter().map(|p| shown(&untouched, Measured::Heating(Measurand::FlowLMin), &p.loop_id) / p.ends_l_min);
    assert!(most.fold(0.0, f64::max) > 1.1, "wide open, something runs too fast");
}

#[test]
fn what_the_instruments_show_of_a_faulty_house_leads_to_its_fault() {
    let study = house();
    let of = |house: u64| {
        let stand = StandIn { house, outdoor_c: Some(-5.0), ..StandIn::default() };
        let all = readings(&study, &[], &stand, at(0)).expect("shown");
        let of_it = |r: &InstrumentReading| match r.quantity {
            Measured::Heating(quantity) => {
                Some(ReadingOf { quantity, subject: r.subject.clone(), value: r.value, uncertainty: None })
            }
            Measured::Test(_) => None,
        };
        rank(&study, &Readings(all.iter().filter_map(of_it).collect())).expect("ranked")
    };
    assert_eq!(of(0).causes[0].fault, Fault::Nothing);
    let accused = (1..30).filter(|n| of(*n).causes[0].fault != Fault::Nothing).count();
    assert!(accused >= 20, "{accused} of 29 faulty houses showed it");
}

#[test]
fn the_same_minute_shows_the_same_and_nonsense_is_named() {
    let study = house();
    let all = |stand: &StandIn, hours: i64| readings(&study, &[], stand, at(hours));
    let stand = StandIn::default();
    assert_eq!(all(&stand, 0), all(&stand, 0));
    assert_ne!(all(&stand, 0).expect("shown")[3..], all(&stand, 1).expect("shown")[3..]);
    let sound = all(&stand, 0).expect("shown");
    assert!(sound.iter().any(|r| r.device == Device::ThermalCamera && r.unit == "°C"));
    assert!(sound.iter().all(|r| r.unit != "1" || r.value == 0.0 || r.value == 1.0), "eyes say yes or no");
    // a job without a loop has no meters, and no heating to read
    let empty = studied(&fuoco_core::samples::job_of(vec![])).expect("solved");
    let cold = StandIn { cold: true, ..StandIn::default() };
    let meters = readings(&empty, &[], &cold, at(0)).expect("shown");
    assert!(meters.iter().all(|r| r.device == Device::Refractometer), "{meters:?}");
    assert_eq!(readings(&empty, &[], &stand, at(0)).expect_err("refused").field, "readings");
    let refused = [
        (StandIn { outdoor_c: Some(200.0), ..StandIn::default() }, "outdoor_c"),
        (StandIn { turned: vec![(study.loops[0].id.clone(), 1.0); 201], ..StandIn::default() }, "turned"),
        (StandIn { test: Some("none".into()), ..StandIn::default() }, "test"),
        (StandIn { turned: vec![("loop-of-another".into(), 1.0)], ..StandIn::default() }, "turned"),
        (StandIn { turned: vec![(study.loops[0].id.clone(), f64::NAN)], cold: true, ..StandIn::default() }, "turned"),
    ];
    for (stand, field) in refused {
        assert_eq!(all(&stand, 0).expect_err("refused").field, field);
    }
}

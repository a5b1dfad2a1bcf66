//! Many people at once: each saves an edit and asks for its design, again and again. A few for a moment run with the tests;
//! `cargo xtask load` runs 50 for a minute and says how long they wait.

mod common;

use common::{DEMO, Server};
use serde_json::{Value, json};
use std::time::{Duration, Instant};

const JSON: &str = "Content-Type: application/json";
/// Between an answer and the next edit.
const THINKS: Duration = Duration::from_secs(3);

fn asked(name: &str, usual: u64) -> u64 {
    std::env::var(name).ok().and_then(|v| v.parse().ok()).unwrap_or(usual)
}

/// What one person waited for designs and for saves.
fn one_person(server: &Server, number: u64, until: Instant) -> [Vec<Duration>; 2] {
    let mut job: Value = serde_json::from_str(&std::fs::read_to_string(DEMO).expect("the demo")).expect("reads");
    let (status, made) = server.request("POST", "/api/jobs/from-file", &[JSON], &job.to_string());
    assert_eq!(status, 200, "{made:.300}");
    let id = serde_json::from_str::<Value>(&made).expect("reads")["id"].as_str().expect("an id").to_owned();
    let window = format!("X-Fuoco-Window: person-{number:04}");
    let (mut designs, mut saves) = (vec![], vec![]);
    // they do not all begin at once
    std::thread::sleep(THINKS.mul_f64(number as f64 * 0.618 % 1.0));
    let mut revision = 1;
    while Instant::now() < until {
        // every edit is another job: no design is kept from the last one
        job["rooms"][0]["room_c"] = json!(18.0 + number as f64 * 0.01 + revision as f64 * 0.001);
        let begun = Instant::now();
        let (status, answer) = server.request("POST", "/api/design", &[JSON, &window], &job.to_string());
        assert_eq!(status, 200, "{answer:.300}");
        designs.push(begun.elapsed());
        let begun = Instant::now();
        let path = format!("/api/jobs/{id}?revision={revision}&save=person-{number}-{revision}");
        let (status, answer) = server.request("PUT", &path, &[JSON], &job.to_string());
        assert_eq!(status, 200, "{answer:.300}");
        saves.push(begun.elapsed());
        revision += 1;
        std::thread::sleep(THINKS.min(until.saturating_duration_since(Instant::now())));
    }
    [designs, saves]
}

/// The largest resident memory of a process so far, MB.
fn memory_mb(pid: u32) -> f64 {
    let status = std::fs::read_to_string(format!("/proc/{pid}/status")).unwrap_or_default();
    let line = status.lines().find(|l| l.starts_with("VmHWM:")).unwrap_or_default();
    line.split_whitespace().nth(1).and_then(|kb| kb.parse::<f64>().ok()).unwrap_or(0.0) / 1024.0
}

#[test]
fn many_people_at_once_are_all_served() {
    let (people, seconds) = (asked("FUOCO_LOAD_PEOPLE", 6), asked("FUOCO_LOAD_SECONDS", 4));
    let folder = tempfile::tempdir().expect("folder");
    let server = Server::start(folder.path(), &[]);
    let until = Instant::now() + Duration::from_secs(seconds);
    let served = &server;
    let mut waits: [Vec<Duration>; 2] = std::thread::scope(|scope| {
        let all: Vec<_> = (0..people).map(|n| scope.spawn(move || one_person(served, n, until))).collect();
        all.into_iter().fold([vec![], vec![]], |mut sum: [Vec<Duration>; 2], person| {
            let [designs, saves] = person.join().expect("served");
            sum[0].extend(designs);
            sum[1].extend(saves);
            sum
        })
    });
    for (what, waits) in ["designs", "saves"].iter().zip(&mut waits) {
        waits.sort();
        assert!(waits.len() as u64 >= people, "everybody was served");
        let part = |share: f64| waits[((waits.len() - 1) as f64 * share) as usize].as_secs_f64() * 1e3;
        println!(
            "{people} people for {seconds} s: {} {what}, median {:.0} ms, 99 of 100 within {:.0} ms, slowest {:.0} ms",
            waits.len(),
            part(0.5),
            part(0.99),
            part(1.0)
        );
    }
    println!("most memory {:.0} MB", memory_mb(server.pid()));
}

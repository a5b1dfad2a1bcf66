//! The server killed in the middle of saves, again and again, stopped in the middle of work, and asked what no page of it asks.
//! A few rounds run with the tests; `cargo xtask torture` runs 110.

mod common;

use common::{DEMO, Server, wait_for_end};
use serde_json::{Value, json};
use std::process::Command;
use std::time::{Duration, Instant};

const JSON: &str = "Content-Type: application/json";

fn document(text: &str) -> Value {
    serde_json::from_str(text).unwrap_or_else(|e| panic!("{e}: {text}"))
}

fn demo() -> Value {
    document(&std::fs::read_to_string(DEMO).expect("the demo"))
}

fn rounds() -> u64 {
    std::env::var("FUOCO_TORTURE_ROUNDS").ok().and_then(|v| v.parse().ok()).unwrap_or(5)
}

/// Killed while saves are under way, the server has every one that it acknowledged; one that it did not is in whole or not at
/// all, and is known when it comes again.
#[test]
fn killed_in_the_middle_of_saves_it_has_all_that_it_acknowledged() {
    let folder = tempfile::tempdir().expect("folder");
    let mut job = demo();
    let server = Server::start(folder.path(), &[]);
    let id = document(&server.request("POST", "/api/jobs/from-file", &[JSON], &job.to_string()).1)["id"].clone();
    let id = id.as_str().expect("id").to_owned();
    server.kill();
    let (mut revision, mut acknowledged, mut repeated) = (1, 0, 0);
    for round in 0..rounds() {
        let server = Server::start(folder.path(), &[]);
        let stored = document(&server.request("GET", &format!("/api/jobs/{id}"), &[], "").1);
        assert_eq!(stored["revision"].as_i64(), Some(revision), "round {round}");
        // each round is killed a little later within its saves
        let pid = server.pid().to_string();
        let after = Duration::from_micros(2_000 + 1_700 * (round * 7 % 23));
        let killer = std::thread::spawn(move || {
            std::thread::sleep(after);
            Command::new("kill").args(["-9", &pid]).status().is_ok_and(|s| s.success())
        });
        let last = loop {
            let name = format!("Round {round}, from revision {revision}");
            job["name"] = json!(name);
            let last = (format!("/api/jobs/{id}?revision={revision}&save=round-{round}-{revision}"), name);
            let (status, body) = server.request("PUT", &last.0, &[JSON], &job.to_string());
            if status != 200 {
                assert_eq!(status, 0, "{body}");
                break last;
            }
            revision = document(&body)["revision"].as_i64().expect("a revision");
            acknowledged += 1;
        };
        assert!(killer.join().expect("the killer"), "killed");
        // the client sends its last save again, as it would
        let again = Server::start(folder.path(), &[]);
        let before = document(&again.request("GET", &format!("/api/jobs/{id}"), &[], "").1)["revision"].as_i64();
        let (status, body) = again.request("PUT", &last.0, &[JSON], &job.to_string());
        assert_eq!(status, 200, "{body}");
        revision += 1;
        assert_eq!(document(&body)["revision"].as_i64(), Some(revision), "it counts once");
        repeated += i64::from(before == Some(revision));
        let stored = document(&again.request("GET", &format!("/api/jobs/{id}"), &[], "").1);
        assert_eq!(stored["job"]["name"].as_str(), Some(last.1.as_str()));
        again.kill();
    }
    println!("{} kills: {acknowledged} saves acknowledged, none lost; {repeated} were in without an answer", rounds());
}

/// A PNG of one pixel, and a number after its end: each of these is another file.
fn photo(number: usize) -> Vec<u8> {
    const PIXEL: [u8; 69] = [
        0x89, b'P', b'N', b'G', 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, b'I', b'H', b'D', b'R', 0, 0, 0, 1, 0, 0, 0, 1, 8,
        2, 0, 0, 0, 0x90, 0x77, 0x53, 0xde, 0, 0, 0, 12, b'I', b'D', b'A', b'T', 8, 0xd7, 0x63, 0xf8, 0xcf, 0xc0, 0, 0,
        3, 1, 1, 0, 0x18, 0xdd, 0x8d, 0xb0, 0, 0, 0, 0, b'I', b'E', b'N', b'D', 0xae, 0x42, 0x60, 0x82,
    ];
    [&PIXEL[..], number.to_string().as_bytes()].concat()
}

/// A phone comes up from the cellar with 200 records and 60 photos, and the server is killed again and again while they are sent:
/// each arrives once, in the order in which it was written.
#[test]
fn records_and_photos_of_a_phone_arrive_once_each_though_the_server_is_killed() {
    let (records, photos) = (200, 60);
    let folder = tempfile::tempdir().expect("folder");
    let mut server = Server::start(folder.path(), &[]);
    let made = server.request("POST", "/api/jobs/from-file", &[JSON], &demo().to_string()).1;
    let id = document(&made)["id"].as_str().expect("id").to_owned();
    let mut kills = 0;
    for k in 0..records {
        let text = format!("record {k}");
        let mut record = json!({ "id": format!("record-{k:04}"), "at": "2026-11-30T07:12:00Z", "fact": { "kind": "note" }, "note": text });
        // every few records the server is gone before it can answer
        let doomed = k % 17 == 5;
        for attempt in 0..5 {
            if doomed && attempt == 0 {
                let pid = server.pid().to_string();
                let after = Duration::from_micros(300 * (k as u64 % 11));
                std::thread::spawn(move || {
                    std::thread::sleep(after);
                    Command::new("kill").args(["-9", &pid]).status().is_ok_and(|s| s.success())
                });
            }
            let shown = (k * photos / records..(k + 1) * photos / records)
                .map(|n| server.send_bytes(&format!("/api/jobs/{id}/photos"), "image/png", &photo(n)));
            let kept: Vec<_> = shown.collect();
            assert!(kept.iter().all(|(status, _)| [0, 200].contains(status)), "{kept:?}");
            if kept.iter().all(|(status, _)| *status == 200) {
                if !kept.is_empty() {
                    record["photos"] = kept.iter().map(|(_, body)| document(body)["id"].clone()).collect();
                }
                let (status, body) =
                    server.request("POST", &format!("/api/jobs/{id}/records"), &[JSON], &record.to_string());
                if status == 200 {
                    break;
                }
                assert_eq!(status, 0, "{body}");
            }
            assert!(attempt < 4, "record {k} does not get through");
            server.kill();
            kills += 1;
            server = Server::start(folder.path(), &[]);
        }
    }
    let entries = document(&server.request("GET", &format!("/api/jobs/{id}/records"), &[], "").1);
    let notes: Vec<_> =
        entries.as_array().expect("a list").iter().filter_map(|e| e["record"]["note"].as_str()).collect();
    assert_eq!(notes, (0..records).map(|k| format!("record {k}")).collect::<Vec<_>>());
    let shown: std::collections::BTreeSet<_> = entries
        .as_array()
        .expect("a list")
        .iter()
        .flat_map(|e| e["record"]["photos"].as_array().cloned().unwrap_or_default())
        .map(|p| p.to_string())
        .collect();
    assert_eq!(shown.len(), photos);
    assert!(kills >= 3, "it was killed in between");
    println!("{kills} kills: {records} records and {photos} photos, each once");
}

/// Told to stop while it computes, the server stops at once and says that all is well.
#[cfg(unix)]
#[test]
fn told_to_stop_in_the_middle_of_work_it_ends_well() {
    let folder = tempfile::tempdir().expect("folder");
    let server = Server::start(folder.path(), &[]);
    // a hall at 100 mm takes seconds
    let hall = concat!(env!("CARGO_MANIFEST_DIR"), "/../../corpus/21-hall-drain.json");
    let mut job = document(&std::fs::read_to_string(hall).expect("the corpus"));
    for room in job["rooms"].as_array_mut().expect("rooms") {
        (room["floor"]["spacing_core_m"], room["floor"]["spacing_edge_m"]) = (json!(0.1), json!(0.1));
    }
    let (pid, begun) = (server.pid().to_string(), Instant::now());
    let asked = server.send("POST", "/api/design", &[JSON], &job.to_string());
    assert!(asked.is_some());
    std::thread::sleep(Duration::from_millis(400));
    assert!(Command::new("kill").args(["-TERM", &pid]).status().expect("kill").success());
    assert_eq!(wait_for_end(server), Some(0));
    drop(asked);
    // grace and mercy are a second each; a minute would be the whole design and more on any machine
    assert!(begun.elapsed() < Duration::from_secs(60), "{:?}", begun.elapsed());
}

/// Bad arguments and documents to every way in: a problem document with its own status, never a failure of the server.
#[test]
fn no_request_makes_the_server_fail() {
    let folder = tempfile::tempdir().expect("folder");
    let server = Server::start(folder.path(), &["--demo"]);
    let api = document(&server.request("GET", "/api/openapi.json", &[], "").1);
    let bodies = [
        "",
        "null",
        "[]",
        "{}",
        "{\"job\":{}}",
        "{\"job\":null,\"level_id\":\"\"}",
        "\u{0}",
        "{\"format\":\"fuoco-job\"}",
        "{\"job\":{\"format\":\"fuoco-job\",\"version\":99}}",
    ];
    let deep = "[".repeat(100_000);
    let words = ["-", "..%2F..%2Fetc", "%00", "ground", "9999999999999999999999", "%F0%9F%94%A5"];
    let mut asked = 0;
    for (path, operations) in api["paths"].as_object().expect("paths") {
        for (method, operation) in operations.as_object().expect("operations") {
            for word in words {
                let mut at = path.clone();
                while let (Some(a), Some(b)) = (at.find('{'), at.find('}')) {
                    at.replace_range(a..=b, word);
                }
                let query: Vec<String> = operation["parameters"]
                    .as_array()
                    .into_iter()
                    .flatten()
                    .filter(|p| p["in"] == "query")
                    .map(|p| format!("{}={word}", p["name"].as_str().unwrap_or_default()))
                    .collect();
                let at = if query.is_empty() { at } else { format!("{at}?{}", query.join("&")) };
                let takes = operation.get("requestBody").is_some();
                for body in bodies.iter().copied().chain([deep.as_str()]).take(if takes { 10 } else { 1 }) {
                    let (status, answer) = server.request(&method.to_uppercase(), &at, &[JSON], body);
                    asked += 1;
                    assert!((200..500).contains(&status), "{method} {at} {body:.60}: {status} {answer:.300}");
                    if status >= 400 {
                        assert_eq!(document(&answer)["status"].as_u64(), Some(u64::from(status)), "{method} {at}");
                        let declared = operation["responses"].get(status.to_string()).is_some();
                        assert!(
                            declared || status == 404,
                            "{method} {path} answers {status}, which it does not declare"
                        );
                    }
                }
            }
        }
    }
    println!("{asked} requests");
    // and it still works
    let (status, answer) = server.request("POST", "/api/design", &[JSON], &demo().to_string());
    assert_eq!(status, 200, "{answer:.300}");
}

/// A client hoards connections of which it sends half a head; the system gave the server few descriptors. Others are served.
#[cfg(unix)]
#[test]
fn a_client_that_hoards_connections_keeps_nobody_out() {
    let folder = tempfile::tempdir().expect("folder");
    let mut command = Command::new("sh");
    command.args(["-c", "ulimit -Sn 200; exec \"$0\" \"$@\"", common::FUOCO]);
    let server = Server::start_as(command, folder.path(), &[]);
    let host = server.address.trim_start_matches("http://");
    let hoard: Vec<_> = (0..600)
        .map(|_| {
            let mut stream = std::net::TcpStream::connect(host).expect("connects");
            std::io::Write::write_all(&mut stream, b"GET /api/jobs HTTP/1.1\r\nHost: ").expect("half a head");
            stream
        })
        .collect();
    for _ in 0..5 {
        assert_eq!(server.request("GET", "/api/health", &[], "").0, 200);
        assert_eq!(server.request("POST", "/api/design", &[JSON], &demo().to_string()).0, 200);
    }
    drop(hoard);
    assert_eq!(server.request("GET", "/api/health", &[], "").0, 200);
}

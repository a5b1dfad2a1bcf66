//! Jobs: designed, drawn, printed, served, kept.

use crate::common::{DEMO, Server};
use crate::run;
use serde_json::{Value, json};

fn demo() -> Value {
    serde_json::from_str(&std::fs::read_to_string(DEMO).expect("the demo")).expect("reads")
}

/// Designs a job that is written to a file first.
fn design(job: &str) -> (Option<i32>, String, String) {
    let file = tempfile::NamedTempFile::new().expect("file");
    std::fs::write(file.path(), job).expect("written");
    run(&["design", &file.path().to_string_lossy()])
}

#[test]
fn the_demo_is_designed_with_the_names_of_the_contract() {
    let (code, out, _) = run(&["design", DEMO]);
    assert_eq!(code, Some(0));
    let d: Value = serde_json::from_str(&out).expect("JSON");
    for (list, names) in [
        (
            "rooms",
            "id name area_m2 heatable_area_m2 heat_loss_w flux_needed_w_m2 flux_given_w_m2 surface_mean_c surface_max_c surface_limit_c supply_needed_c",
        ),
        (
            "loops",
            "id tag manifold_id port room_ids tube_id length_m leader_length_m path spacing_m flow_l_min velocity_m_s reynolds supply_c return_c output_up_w output_down_w head_loss_pa balancing_pa",
        ),
        ("manifolds", "id level_id position ports flow_l_min head_needed_pa"),
        ("findings", "code severity subject message rule remedy"),
    ] {
        let items = d[list].as_array().expect(list);
        assert!(!items.is_empty(), "{list}");
        for name in names.split(' ') {
            assert!(items.iter().all(|i| i.get(name).is_some()), "{list}[].{name}");
        }
    }
    let errors: Vec<&Value> =
        d["findings"].as_array().expect("findings").iter().filter(|f| f["severity"] == "error").collect();
    assert!(errors.is_empty(), "{errors:?}");
}

#[test]
fn papers_are_written_and_what_cannot_be_made_is_told() {
    let folder = tempfile::tempdir().expect("folder");
    let out = folder.path().join("papers");
    let papers = |job: &str, more: &[&str]| {
        let out = out.to_string_lossy();
        let args: Vec<&str> = ["papers", job, "--out", &out].into_iter().chain(more.iter().copied()).collect();
        run(&args)
    };
    let firm = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/firm.json");
    let (code, told, err) = papers(DEMO, &["--firm", firm, "--format", "letter"]);
    assert_eq!(code, Some(0), "{err}");
    let (not, made): (Vec<&str>, Vec<&str>) = told.lines().partition(|l| l.contains(": not made: "));
    assert_eq!((made.len(), not.len()), (10, 3), "{told}");
    assert!(not.iter().all(|l| ["as-laid", "pressure-tests", "start-up"].iter().any(|p| l.starts_with(p))), "{told}");
    for line in made {
        let (file, _) = line.split_once(": ").expect("a file and its size");
        assert!(std::fs::read(out.join(file)).expect(file).starts_with(b"%PDF-"), "{file}");
    }
    // with the records of the site what was laid is a paper too
    let record = json!({ "id": "record-1", "at": "2026-11-30T07:12:00Z", "fact": { "kind": "note" }, "note": "wet" });
    let laid = json!({ "kind": "laid", "loop_id": "studio-a/1", "step": "fixed", "start_m": 0.5, "end_m": 89.0 });
    let mut entries = json!([{ "number": 1, "received_at": "2026-11-30T08:00:00Z", "who": "Cleo", "record": record }]);
    entries[0]["record"]["fact"] = laid;
    let file = folder.path().join("records.json");
    std::fs::write(&file, entries.to_string()).expect("written");
    let (code, told, err) = papers(DEMO, &["--only", "as-laid", "--records", &file.to_string_lossy()]);
    assert!(code == Some(0) && told.starts_with("as-laid.pdf: "), "{told}{err}");
    entries[0]["record"]["fact"]["end_m"] = json!(-1);
    std::fs::write(&file, entries.to_string()).expect("written");
    let (code, _, err) = papers(DEMO, &["--only", "as-laid", "--records", &file.to_string_lossy()]);
    assert!(code == Some(2) && err.contains("[0].record.fact.end_m"), "{err}");
    // a job without rooms has no papers, and is no error
    let bare = folder.path().join("bare.json");
    let mut job = demo();
    for list in ["rooms", "manifolds", "loops", "circuits", "marks"] {
        job[list] = json!([]);
    }
    job.as_object_mut().expect("a job").remove("plant");
    std::fs::write(&bare, job.to_string()).expect("written");
    let (code, told, err) = papers(&bare.to_string_lossy(), &["--only", "labels"]);
    assert_eq!((code, told.starts_with("labels: not made: No loops yet")), (Some(0), true), "{told}{err}");
    for (more, field) in [(["--only", "poem"], "--only"), (["--firm", DEMO], "format")] {
        let (code, _, err) = papers(DEMO, &more);
        assert!(code == Some(2) && err.contains(field), "{err}");
    }
}

#[test]
fn drawings_and_tables_are_written_on_request() {
    let folder = tempfile::tempdir().expect("folder");
    let out = folder.path().join("out");
    let (code, ..) = run(&["design", DEMO, "--out", &out.to_string_lossy()]);
    assert_eq!(code, Some(0));
    for name in ["loops.csv", "rooms.csv", "heat-loss.csv", "rooms.geojson", "rooms-2.dxf", "plan-1.svg"] {
        assert!(std::fs::metadata(out.join(name)).expect(name).len() > 200, "{name}");
    }
}

/// Bad jobs end with 2 and one line that names the field.
#[test]
fn bad_jobs_are_refused_with_the_field() {
    let change = |path: &str, value: Value| {
        let mut job = demo();
        *job.pointer_mut(path).expect(path) = value;
        job.to_string()
    };
    let many: Vec<Value> = (0..3000)
        .map(|k| {
            let mut r = demo()["rooms"][0].clone();
            r["id"] = json!(format!("r{k}"));
            r
        })
        .collect();
    let add = |path: &str, name: &str, value: Value| {
        let mut job = demo();
        job.pointer_mut(path).and_then(Value::as_object_mut).expect(path).insert(name.into(), value);
        job.to_string()
    };
    let kept = |corners: Value, also: Value| {
        let kept = json!({ "id": "kept", "manifold_id": "m-b", "port": 1, "room_id": "studio-b",
            "also_room_ids": also, "corners": corners });
        add("", "loops", json!([kept]))
    };
    let manifold = demo()["manifolds"][1]["id"].as_str().expect("an id").to_owned();
    let kept = |corners: Value, also: Value| kept(corners, also).replace("m-b", &manifold);
    let squares = |side: f64| json!({ "kind": "squares", "side_m": side, "cross": [0, 0] });
    for (job, field) in [
        (kept(json!([[1, 1], [1, 1]]), json!([])), "loops[0].corners"),
        (kept(json!([[1, 1], [1, 5000]]), json!([])), "loops[0].corners[1]"),
        (kept(json!([[1, 1], [1, 2]]), json!(["attic"])), "loops[0].also_room_ids[0]"),
        (kept(json!([[1, 1], [1, 2]]), json!(["studio-b"])), "loops[0].also_room_ids[0]"),
        (add("/rooms/0", "zone", json!(" ")), "rooms[0].zone"),
        (add("/rooms/0", "zone", json!("z".repeat(61))), "rooms[0].zone"),
        (add("/rules", "share_below_m", json!(-1)), "rules.share_below_m"),
        (add("/rooms/0/floor", "lattice", squares(0.0)), "rooms[0].floor.lattice.side_m"),
        (add("/rooms/0/floor", "lattice", json!({ "kind": "tiles" })), "rooms[0].floor.lattice"),
        (
            add(
                "/rooms/0/floor",
                "lattice",
                json!({ "kind": "joists", "along": "x", "centres_m": 9, "width_m": 0.05, "one_m": 0 }),
            ),
            "rooms[0].floor.lattice.centres_m",
        ),
        ("{ not json".to_owned(), "document"),
        ("[]".to_owned(), "document"),
        ("{}".to_owned(), "format"),
        (change("/version", json!(99)), "version"),
        (change("/version", json!("one")), "version"),
        (change("/site/outdoor_c", json!("cold")), "site.outdoor_c"),
        (change("/site/outdoor_c", json!(null)), "site.outdoor_c"),
        (change("/rooms/0/height_m", json!(-2.5)), "rooms[0].height_m"),
        (change("/rooms/0/outline/1/0", json!(1e300)), "rooms[0].outline[1]"),
        (change("/rooms/0/openings/0/height_m", json!(0)), "rooms[0].openings[0].height_m"),
        (change("/rooms/0/openings/0/edge", json!(9)), "rooms[0].openings[0].edge"),
        (change("/rooms/0/outline", json!([[0, 0], [1, 0]])), "rooms[0].outline"),
        (change("/rooms/1/id", json!("studio-a")), "rooms[1].id"),
        (change("/rooms/0/floor/tube_id", json!("garden hose")), "rooms[0].floor.tube_id"),
        (change("/rooms/0/floor/spacing_core_m", json!(0)), "rooms[0].floor.spacing_core_m"),
        (change("/rooms/0/keep_outs/0/x1_m", json!(-5)), "rooms[0].keep_outs[0].x1_m"),
        (change("/manifolds/0/room_id", json!("attic")), "manifolds[0].room_id"),
        (change("/envelope/window_id", json!("hole")), "envelope.window_id"),
        (change("/envelope/roof_id", json!("window-triple")), "envelope.roof_id"),
        (change("/envelope/bridges/delta_u", json!(-1)), "envelope.bridges.delta_u"),
        (change("/constructions/0/layers/0/thickness_m", json!(0)), "constructions[0].layers[0].thickness_m"),
        (change("/constructions/0/layers/0/material_id", json!("cheese")), "constructions[0].layers[0].material_id"),
        (change("/materials/0/conductivity_w_mk", json!(-1)), "materials[0].conductivity_w_mk"),
        (change("/air/n50_per_h", json!(0)), "air.n50_per_h"),
        (change("/levels/1/floor_m", json!(4000)), "levels[1].floor_m"),
        (change("/site/weather/days", json!([[0, 0, 0]])), "site.weather.days"),
        (change("/marks/0/points", json!([[0, 0]])), "marks[0].points"),
        (change("/rooms/8/slopes/0/pitch_deg", json!(90)), "rooms[8].slopes[0].pitch_deg"),
        (change("/rooms", Value::Array(many)), "rooms"),
        (demo().to_string().replace("\"altitude_m\"", "\"altitude\""), "site"),
    ] {
        let (code, out, err) = design(&job);
        assert_eq!(code, Some(2), "{field}: {err}");
        assert!(out.is_empty());
        assert_eq!(err.trim_end().lines().count(), 1, "{err}");
        assert!(err.contains(&format!("fuoco: {field}")), "{field} in {err}");
    }
    let (code, _, err) = run(&["design", "/nowhere/at/all.json"]);
    assert_eq!((code, err.lines().count()), (Some(2), 1));
}

/// What a range cannot tell is a finding: the job is designed all the same.
#[test]
fn odd_plans_are_designed_with_findings() {
    let with = |what: &dyn Fn(&mut Value)| {
        let mut job = demo();
        what(&mut job);
        let (code, out, err) = design(&job.to_string());
        assert_eq!(code, Some(0), "{err}");
        let d: Value = serde_json::from_str(&out).expect("JSON");
        let codes: Vec<String> = d["findings"]
            .as_array()
            .expect("findings")
            .iter()
            .map(|f| f["code"].as_str().unwrap_or_default().to_owned())
            .collect();
        (codes, out)
    };
    type Case<'a> = (&'a dyn Fn(&mut Value), &'a str);
    let cases: [Case; 9] = [
        (&|j| j["rooms"][0]["outline"] = json!([[0, 0], [9, 7], [9, 0], [0, 7]]), "room.self_crossing"),
        (&|j| j["rooms"][1]["outline"] = json!([[8, 4], [13, 4], [13, 9], [8, 9]]), "room.overlap"),
        (&|j| j["rooms"][0]["openings"][0]["width_m"] = json!(30), "opening.beyond_wall"),
        (&|j| j["manifolds"][0]["offset_m"] = json!(150), "manifold.off_wall"),
        (&|j| j["site"]["outdoor_c"] = json!(-60), "floor.over_capacity"),
        (
            &|j| {
                j["rooms"][5]["outline"] = json!([[0, 7.32], [9, 7.32], [9, 7.5], [0, 7.5]]);
                j["rooms"][5]["openings"] = json!([]);
                j["rooms"][5]["keep_outs"] = json!([])
            },
            "loops.no_way",
        ),
        (
            &|j| {
                j["rooms"][5]["outline"] = json!([[8.6, 7.32], [9, 7.32], [9, 11.2], [8.6, 11.2]]);
                j["rooms"][5]["openings"] = json!([]);
                j["rooms"][5]["keep_outs"] = json!([]);
                j["rooms"][5]["floor"]["spacing_core_m"] = json!(0.6)
            },
            "loops.too_small",
        ),
        (&|j| j["rooms"][1]["openings"] = json!([]), "loops.no_way"),
        (&|j| j["manifolds"][0]["ports"] = json!(2), "manifold.ports"),
    ];
    for (what, code) in cases {
        let (codes, out) = with(what);
        assert!(codes.iter().any(|c| c == code), "{code} in {codes:?}");
        assert!(!out.contains("null,null"), "no figure went astray");
    }
}

#[test]
fn the_schema_accepts_the_demo_by_its_own_words() {
    let (code, out, _) = run(&["schema"]);
    assert_eq!(code, Some(0));
    let schema: Value = serde_json::from_str(&out).expect("JSON");
    let validator = jsonschema::validator_for(&schema).expect("a schema");
    let job = demo();
    let errors: Vec<String> = validator.iter_errors(&job).map(|e| format!("{}: {e}", e.instance_path())).collect();
    assert!(errors.is_empty(), "{errors:?}");
    let mut wrong = job.clone();
    wrong["rooms"][0]["use"] = json!("casino");
    assert!(!validator.is_valid(&wrong));
}

const JSON: &str = "Content-Type: application/json";

#[test]
fn a_killed_server_has_lost_nothing() {
    let folder = tempfile::tempdir().expect("folder");
    let server = Server::start(folder.path(), &[]);
    let (status, body) = server.request("POST", "/api/jobs/from-file", &[JSON], &demo().to_string());
    assert_eq!(status, 200, "{body}");
    let id = serde_json::from_str::<Value>(&body).expect("JSON")["id"].as_str().expect("id").to_owned();
    let mut job = demo();
    for revision in 1..=20 {
        job["name"] = json!(format!("Save {revision}"));
        let (status, body) =
            server.request("PUT", &format!("/api/jobs/{id}?revision={revision}"), &[JSON], &job.to_string());
        assert_eq!(status, 200, "{body}");
    }
    server.kill();
    let again = Server::start(folder.path(), &[]);
    let (status, body) = again.request("GET", &format!("/api/jobs/{id}"), &[], "");
    assert_eq!(status, 200);
    let stored: Value = serde_json::from_str(&body).expect("JSON");
    assert_eq!((stored["revision"].as_i64(), stored["job"]["name"].as_str()), (Some(21), Some("Save 20")));
}

#[test]
fn careless_and_hostile_requests_are_refused_by_name() {
    let folder = tempfile::tempdir().expect("folder");
    let server = Server::start(folder.path(), &["--demo"]);
    let problem = |answer: (u16, String)| {
        let p: Value = serde_json::from_str(&answer.1).unwrap_or_else(|e| panic!("{e}: {}", answer.1));
        assert_eq!(p["status"].as_u64(), Some(u64::from(answer.0)), "{p}");
        p
    };
    let job = demo().to_string();
    let post = |headers: &[&str], body: &str| server.request("POST", "/api/design", headers, body);
    assert_eq!(post(&[JSON], &job).0, 200);
    assert_eq!(problem(post(&["Content-Type: text/plain"], &job))["title"], "Wrong content type");
    assert_eq!(problem(post(&[], &job))["status"], 415);
    assert_eq!(problem(post(&[JSON], &format!("{}{}", job, " ".repeat(5 << 20))))["status"], 413);
    let p = problem(post(&[JSON], &job.replace("\"altitude_m\":640,", "\"altitude_m\":1e9,")));
    assert_eq!((p["status"].as_u64(), p["field"].as_str()), (Some(422), Some("site.altitude_m")));
    let deep = "[".repeat(100_000);
    assert_eq!(problem(post(&[JSON], &deep))["status"], 422);
    // a page elsewhere whose name points here
    assert_eq!(server.request("GET", "/api/jobs", &["Host: evil.example"], "").0, 403);
    assert_eq!(problem(server.request("GET", "/api/nothing", &[], ""))["status"], 404);
    assert_eq!(problem(server.request("GET", "/api/jobs/%00/file", &[], ""))["status"], 404);
    assert_eq!(server.request("GET", "/../../etc/passwd", &[], "").0, 404);
    assert_eq!(problem(server.request("PUT", "/api/jobs/none?revision=1", &[JSON], &job))["status"], 404);
    let (_, list) = server.request("GET", "/api/jobs", &[], "");
    let id = serde_json::from_str::<Value>(&list).expect("JSON")[0]["id"].as_str().expect("id").to_owned();
    let stale = problem(server.request("PUT", &format!("/api/jobs/{id}?revision=7"), &[JSON], &job));
    assert_eq!((stale["status"].as_u64(), stale["current_revision"].as_i64()), (Some(409), Some(1)));
    assert_eq!(server.request("GET", "/api/openapi.json", &[], "").0, 200, "it still answers");
}

#[test]
fn the_same_job_gives_the_same_design_on_the_command_line_and_over_http() {
    let folder = tempfile::tempdir().expect("folder");
    let server = Server::start(folder.path(), &[]);
    let (_, http) = server.request("POST", "/api/design", &[JSON], &demo().to_string());
    let (_, line, _) = run(&["design", DEMO]);
    let a: Value = serde_json::from_str(&http).expect("JSON");
    let b: Value = serde_json::from_str(&line).expect("JSON");
    assert_eq!(a, b);
}

#[test]
fn each_room_is_printed_with_the_parts_of_its_loss() {
    let (code, out, _) = run(&["design", DEMO]);
    assert_eq!(code, Some(0));
    let d: Value = serde_json::from_str(&out).expect("JSON");
    let room =
        |id: &str| d["rooms"].as_array().expect("rooms").iter().find(|r| r["id"] == id).expect("the room").clone();
    for r in d["rooms"].as_array().expect("rooms").iter().filter(|r| r["heated"] == true) {
        let parts: f64 = r["loss_parts"].as_array().expect("parts").iter().filter_map(|p| p["heat_w"].as_f64()).sum();
        assert!((parts - r["heat_loss_w"].as_f64().expect("loss")).abs() < 1e-6, "{}", r["name"]);
    }
    // the garage finds a temperature between outdoors and the rooms
    let garage = room("garage")["temperature_c"].as_f64().expect("temperature");
    assert!((-14.0..10.0).contains(&garage), "{garage}");
    // the bay hangs over the outside, the rest of the floor stands on rooms below
    let causes = |id: &str, cause: &str| {
        room(id)["loss_parts"].as_array().expect("parts").iter().filter(|p| p["cause"] == cause).count()
    };
    assert_eq!(causes("music", "floor"), 1);
    assert!(causes("music", "partition") >= 4);
    assert_eq!(causes("changing", "roof"), 0, "all of it is under the upper floor");
    assert!(d["climate"]["degree_days"][1]["k_d"].as_f64().expect("degree-days") > 3000.0);
}

#[test]
fn a_weather_file_is_read_on_the_command_line() {
    let file = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/alderfell.epw");
    let (code, out, _) = run(&["climate", file]);
    let w: Value = serde_json::from_str(&out).expect("JSON");
    assert_eq!((code, w["p99_6_c"].as_f64(), w["days"].as_array().map(Vec::len)), (Some(0), Some(-15.3), Some(365)));
    let (code, _, said) = run(&["climate", DEMO]);
    assert_eq!(code, Some(2));
    assert!(said.contains("line 1") && said.trim().lines().count() == 1, "{said}");
}

/// Files that earlier versions wrote are designed as they are.
#[test]
fn a_job_of_the_first_version_is_designed() {
    let old = concat!(env!("CARGO_MANIFEST_DIR"), "/../core/tests/data/job-version-1.json");
    let (code, out, _) = run(&["design", old]);
    let d: Value = serde_json::from_str(&out).expect("JSON");
    assert_eq!((code, d["rooms"].as_array().map(Vec::len)), (Some(0), Some(6)));
}

/// The documented way: a backup while the server runs, and one after it was killed, hold what was answered as saved.
#[test]
fn a_backup_restores_what_was_saved() {
    let data = tempfile::tempdir().expect("folder");
    let path = |name: &str| data.path().join(name).to_string_lossy().into_owned();
    let server = Server::start(data.path(), &["--demo"]);
    let json = ["Content-Type: application/json"];
    assert_eq!(server.request("POST", "/api/jobs", &json, r#"{"name":"While it runs"}"#).0, 200);
    let running = run(&["backup", &path("running.db"), "--data", &path("")]);
    assert_eq!(running.0, Some(0), "{}", running.2);
    assert_eq!(server.request("POST", "/api/jobs", &json, r#"{"name":"Just before the kill"}"#).0, 200);
    server.kill();
    assert_eq!(run(&["backup", &path("killed.db"), "--data", &path("")]).0, Some(0));
    let nowhere = run(&["backup", &path("empty.db"), "--data", &path("mistyped")]);
    assert!(nowhere.0 == Some(1) && nowhere.2.contains("no jobs are kept in"), "{}", nowhere.2);
    assert!(!data.path().join("mistyped").exists() && !data.path().join("empty.db").exists());
    let again = run(&["backup", &path("killed.db"), "--data", &path("")]);
    assert!(again.0 == Some(1) && again.2.contains("is there already"), "{}", again.2);
    for (backup, jobs) in [("running.db", 3), ("killed.db", 4)] {
        let folder = path(&format!("restored-{jobs}"));
        assert_eq!(run(&["restore", &path(backup), "--data", &folder]).0, Some(0));
        let taken = run(&["restore", &path(backup), "--data", &folder]);
        assert!(taken.0 == Some(1) && taken.2.contains("is there already"), "{}", taken.2);
        let server = Server::start(std::path::Path::new(&folder), &[]);
        let list: Value = serde_json::from_str(&server.request("GET", "/api/jobs", &[], "").1).expect("JSON");
        assert_eq!(list.as_array().map(Vec::len), Some(jobs), "{list}");
    }
}

//! What calculates by itself: sections, networks, tests, visits, storms, coils, the tables of the documentation.

use crate::common::{DEMO, FUOCO, Server};
use crate::run;
use serde_json::{Value, json};
use std::process::Command;

/// Solves a section that is written to a file first.
fn section(section: &Value) -> (Option<i32>, String, String) {
    let file = tempfile::NamedTempFile::new().expect("file");
    std::fs::write(file.path(), section.to_string()).expect("written");
    run(&["section", &file.path().to_string_lossy()])
}

fn slab() -> Value {
    json!({
        "spacing_m": 0.2,
        "tube": { "od_m": 0.016, "wall_m": 0.002, "conductivity_w_mk": 0.35, "axis_depth_m": 0.068 },
        "layers": [
            { "thickness_m": 0.01, "resistance_m2k_w": 0.012 },
            { "thickness_m": 0.066, "conductivity_w_mk": 1.4 },
            { "thickness_m": 0.07, "conductivity_w_mk": 0.035 }
        ],
        "plate": null, "film_up_w_m2k": null, "film_down_w_m2k": 5.88, "water_film_w_m2k": null,
        "room_c": 20, "below_c": 10, "water_c": 38
    })
}

#[test]
fn a_section_is_solved_with_the_names_of_the_contract() {
    let (code, out, _) = section(&slab());
    assert_eq!(code, Some(0));
    let a: Value = serde_json::from_str(&out).expect("JSON");
    for name in "flux_up_w_m2 flux_down_w_m2 surface_mean_c surface_max_c surface_min_c k_up_w_m2k k_below_w_m2k grid_error heat_content_j_m2k time_constant_s".split(' ') {
        assert!(a[name].is_f64(), "{name}");
    }
    assert!(a["grid_error"].as_f64().expect("number") < 0.003);
    let (up, k) = (a["flux_up_w_m2"].as_f64().expect("up"), a["k_up_w_m2k"].as_f64().expect("k"));
    assert!((50.0..100.0).contains(&up) && (3.0..6.0).contains(&k), "{up} {k}");
}

#[test]
fn a_network_is_solved_with_the_names_of_the_contract_and_a_bad_one_names_its_part() {
    let solve = |network: &Value| {
        let file = tempfile::NamedTempFile::new().expect("a file");
        std::fs::write(file.path(), network.to_string()).expect("written");
        run(&["network", &file.path().to_string_lossy()])
    };
    let mut network = json!({
        "fluid": { "kind": "propylene_glycol", "mass_fraction": 0.3 },
        "pressure_node": "a",
        "links": [
            { "id": "heater", "kind": "source", "from": "a", "to": "b", "leaves_c": 45, "kv_m3_h": 4 },
            { "id": "pump", "kind": "pump", "from": "b", "to": "c", "on": true, "control": { "kind": "fixed_speed" },
              "curve": [{ "flow_l_min": 0, "head_m": 4 }, { "flow_l_min": 20, "head_m": 3 }, { "flow_l_min": 45, "head_m": 0.5 }] },
            { "id": "pipe", "kind": "pipe", "from": "c", "to": "d", "length_m": 80, "bore_m": 0.016, "roughness_m": 7e-6, "minor_k": 4 },
            { "id": "slab", "kind": "load", "from": "d", "to": "a", "ua_w_k": 150, "around_c": 20 }
        ]
    });
    let (code, out, _) = solve(&network);
    assert_eq!(code, Some(0));
    let a: Value = serde_json::from_str(&out).expect("JSON");
    for name in "id flow_l_min velocity_m_s reynolds head_m pressure_drop_pa from_c to_c".split(' ') {
        assert!(!a["links"][2][name].is_null(), "{name}");
    }
    for name in "id head_m temperature_c".split(' ') {
        assert!(!a["nodes"][1][name].is_null(), "{name}");
    }
    assert!(a["iterations"].is_u64() && a["residual"].as_f64().expect("a number") < 1e-6);
    assert_eq!(a["links"][0]["to_c"], json!(45.0));
    network["links"][2]["length_m"] = json!(0);
    let (code, out, err) = solve(&network);
    assert_eq!((code, out.as_str(), err.lines().count()), (Some(2), "", 1));
    assert!(err.contains("links[2] (pipe).length_m"), "{err}");
}

#[test]
fn a_pressure_test_is_judged_with_the_names_of_the_contract_and_readings_out_of_order_are_named() {
    let judge = |test: &Value| {
        let file = tempfile::NamedTempFile::new().expect("a file");
        std::fs::write(file.path(), test.to_string()).expect("written");
        run(&["pressure-test", &file.path().to_string_lossy()])
    };
    let mut test = json!({
        "medium": "air", "volume_l": 60, "gauge": { "resolution_kpa": 2, "range_kpa": 600 }, "altitude_m": 300,
        "required": { "pressure_kpa": 380, "hours": 12 },
        "readings": [
            { "time": "2026-11-30T18:00:00Z", "gauge_kpa": 400, "air_c": 20, "slab_c": 20 },
            { "time": "2026-12-01T07:00:00Z", "gauge_kpa": 390, "air_c": 9, "slab_c": 14 }
        ]
    });
    let (code, out, _) = judge(&test);
    assert_eq!(code, Some(0));
    let a: Value = serde_json::from_str(&out).expect("JSON");
    for name in "corrected drop_kpa uncertainty_kpa leak_rate least_leak verdict reason".split(' ') {
        assert!(!a[name].is_null(), "{name}");
    }
    assert_eq!((a["verdict"].as_str(), a["corrected"].as_array().map(Vec::len)), (Some("tight"), Some(2)));
    test["readings"][1]["time"] = json!("2026-11-30T17:00:00Z");
    let (code, out, err) = judge(&test);
    assert_eq!((code, out.as_str(), err.lines().count()), (Some(2), "", 1));
    assert!(err.contains("readings[1].time"), "{err}");
}

/// A document as a file.
fn kept(document: &Value) -> tempfile::NamedTempFile {
    let file = tempfile::NamedTempFile::new().expect("a file");
    std::fs::write(file.path(), document.to_string()).expect("written");
    file
}

#[test]
fn a_visit_is_ranked_with_the_names_of_the_contract_and_what_is_no_reading_is_named() {
    let demo = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/tamarack-dance-school.json");
    let rank = |readings: &Value| run(&["service", demo, &kept(readings).path().to_string_lossy()]);
    let mut readings = json!([
        { "quantity": "outdoor_c", "subject": "", "value": -5 },
        { "quantity": "flow_l_min", "subject": "A3", "value": 0.0 },
        { "quantity": "flow_l_min", "subject": "A5", "value": 2.5, "uncertainty": 0.3 },
        { "quantity": "actuator_open", "subject": "A3", "value": 0 }
    ]);
    let (code, out, _) = rank(&readings);
    assert_eq!(code, Some(0));
    let ranking: Value = serde_json::from_str(&out).expect("JSON");
    let first = &ranking["causes"][0];
    for name in "fault where misfit share explains next_check".split(' ') {
        assert!(!first[name].is_null(), "{name}");
    }
    assert_eq!((first["fault"].as_str(), first["where"].as_str()), (Some("actuator_dead"), Some("A3")));
    // the same within an object
    assert_eq!(rank(&json!({ "readings": readings })).1, out);
    readings[1]["value"] = json!(-1);
    let (code, out, err) = rank(&readings);
    assert_eq!((code, out.as_str(), err.lines().count()), (Some(2), "", 1));
    assert!(err.contains("readings[1].value"), "{err}");
}

#[test]
fn simulated_instruments_are_served_to_any_page_and_lead_to_what_is_wrong() {
    let mut command = Command::new(FUOCO);
    command.args(["simulate", DEMO, "--bind", "127.0.0.1:0", "--house", "4"]);
    let box_ = Server::listening(command);
    let (status, body) = box_.request("GET", "/readings?outdoor_c=-5", &["Origin: http://elsewhere.example"], "");
    let all: Vec<Value> = serde_json::from_str(&body).expect("a list");
    assert_eq!(status, 200);
    assert!(all.iter().all(|r| r["unit"].is_string() && r["time"].is_string() && r["device"].is_string()));
    // what it shows is what `fuoco service` reads
    let readings =
        all.iter().map(|r| json!({ "quantity": r["quantity"], "subject": r["subject"], "value": r["value"] }));
    let file = kept(&Value::from(readings.collect::<Vec<_>>()));
    let (code, out, err) = run(&["service", DEMO, &file.path().to_string_lossy()]);
    assert_eq!(code, Some(0), "{err}");
    let ranking: Value = serde_json::from_str(&out).expect("JSON");
    assert_eq!(
        ranking["causes"][0]["fault"], "valve_shut",
        "house 4 has the fourth of the faults: {}",
        ranking["causes"][0]
    );
    let (status, body) = box_.request("GET", "/readings?water=hot", &[], "");
    assert!(status == 422 && body.contains("water"), "{status} {body}");
    let (code, _, err) = run(&["simulate", "/nowhere.json"]);
    assert!(code == Some(2) && err.contains("/nowhere.json"), "{code:?} {err}");
    let (code, _, err) = run(&["simulate", DEMO, "--bind", "0.0.0.0:0"]);
    assert!(code == Some(2) && err.contains("--bind 0.0.0.0"), "{code:?} {err}");
}

#[test]
fn a_storm_is_weighed_with_the_names_of_the_contract_and_impossible_weather_is_named() {
    let melt = |storm: &Value| run(&["snow", &kept(storm).path().to_string_lossy()]);
    let mut storm = json!({ "air_c": -5, "wind_m_s": 4, "humidity": 0.8, "snowfall_mm_h": 1.5, "cloud": 1,
        "free_area_ratio": 1, "length_m": 6, "altitude_m": 0 });
    let (code, out, _) = melt(&storm);
    assert_eq!(code, Some(0));
    let load: Value = serde_json::from_str(&out).expect("JSON");
    let part = |name: &str| load[name].as_f64().unwrap_or_else(|| panic!("{name}"));
    let sum: f64 = ["sensible", "melting", "evaporation", "convection", "radiation"].into_iter().map(part).sum();
    assert!((sum - part("total")).abs() < 1e-9);
    storm["free_area_ratio"] = json!(2);
    let (code, out, err) = melt(&storm);
    assert_eq!((code, out.as_str(), err.lines().count()), (Some(2), "", 1));
    assert!(err.contains("free_area_ratio"), "{err}");
}

#[test]
fn a_year_of_storms_says_what_keeps_a_surface_clear_how_often() {
    let year = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/alderfell.epw");
    let of = |task: &Value| run(&["snow-year", &kept(task).path().to_string_lossy(), year]);
    let task = json!({ "free_area_ratio": 1.0, "length_m": 6.0, "flux_w_m2": 300.0, "altitude_m": 640.0 });
    let (code, out, err) = of(&task);
    assert_eq!(code, Some(0), "{err}");
    let got: Value = serde_json::from_str(&out).expect("JSON");
    let figure = |path: &str| got.pointer(path).and_then(Value::as_f64).unwrap_or_else(|| panic!("{path}: {out}"));
    assert!(got["from_file"] == true && (50.0..1500.0).contains(&figure("/snow_hours")), "{out}");
    assert!(figure("/idling/kwh_m2") > 2.0 * figure("/on_demand/kwh_m2"));
    assert!((0.5..1.0).contains(&figure("/clear_share")), "{out}");
    let mut wrong = task;
    wrong["free_area_ratio"] = json!(2.0);
    let (code, _, err) = of(&wrong);
    assert!(code == Some(2) && err.contains("free_area_ratio") && err.lines().count() == 1, "{err}");
}

#[test]
fn a_section_warms_up_with_the_names_of_the_contract() {
    let mut file = slab();
    file["times_s"] = json!([0.0, 1800.0, 1e6]);
    let (code, out, err) = run(&["warm-up", &kept(&file).path().to_string_lossy()]);
    assert_eq!(code, Some(0), "{err}");
    let got: Value = serde_json::from_str(&out).expect("JSON");
    for name in ["times_s", "flux_up_w_m2", "flux_down_w_m2", "surface_mean_c", "surface_max_c"] {
        assert_eq!(got[name].as_array().map(Vec::len), Some(3), "{name}: {out}");
    }
    assert!(got["reduced"]["order"].as_u64() > Some(2) && got["reduced"]["worst_error"].is_f64(), "{out}");
    file["times_s"] = json!([-1.0]);
    let (code, _, err) = run(&["warm-up", &kept(&file).path().to_string_lossy()]);
    assert!(code == Some(2) && err.contains("times_s[0]"), "{err}");
}

#[test]
fn coils_are_planned_with_the_names_of_the_contract_and_a_loop_that_is_too_long_is_named() {
    let plan = |task: &Value| {
        let file = tempfile::NamedTempFile::new().expect("a file");
        std::fs::write(file.path(), task.to_string()).expect("written");
        run(&["coils", &file.path().to_string_lossy()])
    };
    let mut task = json!({
        "coils": [{ "id": "240", "length_m": 240, "price": 310 }, { "id": "120", "length_m": 120, "price": 170, "stock": 2 }],
        "loops": [{ "id": "A1", "length_m": 78 }, { "id": "A2", "length_m": 81 }, { "id": "A3", "length_m": 76 }, { "id": "B1", "length_m": 96 }],
        "reserve": { "per_loop_m": 1, "share": 0 },
        "objective": "price"
    });
    let (code, out, _) = plan(&task);
    assert_eq!(code, Some(0));
    let a: Value = serde_json::from_str(&out).expect("JSON");
    for name in "coil from_m to_m loop_id".split(' ') {
        assert!(!a["cuts"][0][name].is_null(), "{name}");
    }
    assert_eq!((&a["total"], &a["bound"], &a["optimal"]), (&json!(480.0), &json!(480.0), &json!(true)));
    assert_eq!(
        a["bought"],
        json!([{ "coil": "K1", "coil_id": "240", "price": 310.0 }, { "coil": "K2", "coil_id": "120", "price": 170.0 }])
    );
    assert_eq!(a["offcuts"], json!([{ "coil": "K1", "length_m": 2.0 }, { "coil": "K2", "length_m": 23.0 }]));
    task["loops"][2]["length_m"] = json!(250);
    let (code, out, err) = plan(&task);
    assert_eq!((code, out.as_str(), err.lines().count()), (Some(2), "", 1));
    assert!(err.contains("loops[2].length_m") && err.contains("11.00 m longer"), "{err}");
}

#[test]
fn a_bad_section_exits_2_with_one_line_that_names_the_field() {
    for (pointer, value, field) in [
        ("/layers/1/thickness_m", json!(0.012), "tube.od_m"),
        ("/tube/axis_depth_m", json!(0.9), "tube.axis_depth_m"),
        ("/spacing_m", json!(0.01), "spacing_m"),
        ("/layers/2/conductivity_w_mk", json!(0), "layers[2].conductivity_w_mk"),
        ("/layers/2/conductivity_w_mk", json!(1e12), "layers[2].conductivity_w_mk"),
        ("/water_c", json!(5), "water_c"),
        ("/layers", json!("many"), "layers"),
    ] {
        let mut bad = slab();
        if pointer == "/layers/1/thickness_m" {
            bad["tube"]["axis_depth_m"] = json!(0.016);
        }
        *bad.pointer_mut(pointer).expect("there") = value;
        let (code, out, err) = section(&bad);
        assert_eq!((code, out.as_str()), (Some(2), ""), "{pointer}");
        assert!(err.starts_with(&format!("fuoco: {field}: ")) && err.trim_end().lines().count() == 1, "{err}");
    }
}

/// The tables in the documentation are those that the command prints.
#[test]
fn the_validation_in_the_documentation_is_what_the_command_prints() {
    // the last digits of a balance to rounding differ from machine to machine
    let plain = |s: &str| s.lines().filter(|l| !l.contains("e-")).map(str::trim_end).collect::<Vec<_>>().join("\n");
    for (chapter, page) in [("section", "physics"), ("time", "time"), ("picture", "thermal")] {
        let (code, out, _) = run(&["validate", chapter]);
        assert_eq!(code, Some(0), "{chapter}");
        let docs = format!("{}/../../docs/{page}.md", env!("CARGO_MANIFEST_DIR"));
        let text = std::fs::read_to_string(docs).expect("the page");
        assert!(plain(&text).contains(plain(&out).trim()), "renew it: fuoco validate {chapter}, into docs/{page}.md");
    }
    assert_eq!(run(&["validate", "moss"]).0, Some(2));
}

#[test]
fn layouts_are_put_into_figures_and_bad_files_named() {
    let plan = |name: &str| format!("{}/../../corpus/{name}.json", env!("CARGO_MANIFEST_DIR"));
    let (code, out, _) = run(&["layouts", &plan("14-trapezoid"), &plan("23-flat-5")]);
    assert_eq!(code, Some(0));
    let rows: Vec<Vec<&str>> = out.lines().map(|l| l.split('|').map(str::trim).collect()).collect();
    assert_eq!(rows.len(), 4, "head, rule and one row a plan");
    assert!(rows.iter().all(|r| r.len() == rows[0].len()));
    for row in &rows[2..] {
        let of = |name: &str| row[rows[0].iter().position(|h| *h == name).expect(name)];
        assert_eq!((of("violations"), of("not laid")), ("0", "0"), "{row:?}");
        assert!(of("loops").parse::<usize>().expect("a number") >= 2);
    }
    let file = tempfile::NamedTempFile::new().expect("file");
    std::fs::write(file.path(), "{}").expect("written");
    let (code, _, err) = run(&["layouts", &plan("01-rectangle"), &file.path().to_string_lossy()]);
    assert_eq!(code, Some(2));
    assert_eq!(err.trim().lines().count(), 1, "{err}");
    assert!(err.contains(&*file.path().file_name().expect("named").to_string_lossy()));
}

#[test]
fn the_table_of_layouts_is_what_the_command_prints() {
    let root = concat!(env!("CARGO_MANIFEST_DIR"), "/../..");
    let mut plans: Vec<String> = std::fs::read_dir(format!("{root}/corpus"))
        .expect("the corpus")
        .map(|e| e.expect("entry").path().to_string_lossy().into_owned())
        .collect();
    plans.sort();
    let mut args = vec!["layouts"];
    args.extend(plans.iter().map(String::as_str));
    let (code, out, _) = run(&args);
    assert_eq!(code, Some(0));
    let page = std::fs::read_to_string(format!("{root}/docs/layout.md")).expect("the page");
    assert!(page.contains(out.trim()), "renew it: fuoco layouts corpus/*.json, into docs/layout.md");
}

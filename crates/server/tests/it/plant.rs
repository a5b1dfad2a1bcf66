//! Water and plant tried over HTTP.

use crate::common::{Api, demo};
use serde_json::{Value, json};

fn number(v: &Value) -> f64 {
    v.as_f64().unwrap_or_else(|| panic!("{v} is no number"))
}

#[rocket::async_test]
async fn a_circuit_is_tried_with_its_ports_shut() {
    let api = Api::new().await;
    let ask = |trial: Value| json!({ "job": demo(), "trial": trial });
    let (status, all) = api.json("/api/water/try", &ask(json!({ "circuit_id": "c-front" }))).await;
    assert_eq!(status, 200, "{all}");
    let ids: Vec<&str> = all["ports"].as_array().expect("ports").iter().filter_map(|p| p["id"].as_str()).collect();
    assert!(ids.len() > 4 && all["controls"].as_array().is_some_and(|c| c.len() == 4));
    let (_, few) = api.json("/api/water/try", &ask(json!({ "circuit_id": "c-front", "shut": &ids[2..] }))).await;
    assert!(number(&few["pump"]["flow_l_min"]) < 0.6 * number(&all["pump"]["flow_l_min"]), "{}", few["pump"]);
    for (trial, field) in [
        (json!({ "circuit_id": "none" }), "trial.circuit_id"),
        (
            json!({ "circuit_id": "c-front", "blocked": { "loop_id": "none", "open_share": 0.5 } }),
            "trial.blocked.loop_id",
        ),
    ] {
        let (status, problem) = api.json("/api/water/try", &ask(trial)).await;
        assert_eq!((status, &problem["field"]), (422, &json!(field)), "{problem}");
    }
}

#[rocket::async_test]
async fn the_plant_follows_the_weather_and_its_arrangement() {
    let api = Api::new().await;
    let ask = |trial: Value| json!({ "job": demo(), "trial": trial });
    let source = |s: &Value| number(&s["sources"][0]["leaves_c"]);
    let (status, cold) = api.json("/api/plant/try", &ask(json!({}))).await;
    assert_eq!(status, 200, "{cold}");
    let (_, mild) = api.json("/api/plant/try", &ask(json!({ "outdoor_c": 0.0 }))).await;
    assert!(source(&mild) < source(&cold) - 3.0);
    let (_, apart) = api.json("/api/plant/try", &ask(json!({ "arrangement": "exchanger" }))).await;
    assert!(source(&apart) > source(&cold), "an exchanger costs temperature");
    let (status, year) = api.json("/api/plant/year", &ask(json!({}))).await;
    assert_eq!((status, &year["by_weather"]), (200, &json!(true)));
    let hours: f64 = year["points"].as_array().expect("points").iter().map(|p| number(&p["hours"])).sum();
    assert!((hours - number(&year["hours"])).abs() < 1e-6 && hours > 4000.0 && hours < 8760.0, "{hours}");
    let (status, all) = api.json("/api/plant/compare", &ask(json!({}))).await;
    assert_eq!(status, 200);
    let rows = all.as_array().expect("rows");
    assert_eq!(rows.len(), 8);
    assert!(rows.iter().all(|r| r["arrangement"] == "two_sources" || r["refused"].is_null()), "{all}");
}

#[rocket::async_test]
async fn a_job_without_a_plant_is_told_so() {
    let api = Api::new().await;
    let mut job = demo();
    job.as_object_mut().expect("a job").remove("plant");
    for path in ["/api/plant/try", "/api/plant/year", "/api/plant/compare"] {
        let (status, problem) = api.json(path, &json!({ "job": job })).await;
        assert_eq!((status, &problem["field"]), (422, &json!("plant")), "{path}: {problem}");
    }
    // what a new one would be comes with the design
    let (_, design) = api.json("/api/design", &job).await;
    assert!(number(&design["plant_to_begin"]["source"]["most_w"]) >= number(&design["totals"]["source_w"]));
}

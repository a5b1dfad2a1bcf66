//! Instruments: the simulated ones of a job, and those a server was started with.

use crate::common::{Api, demo};
use fuoco_server::{Instrument, Listen, build};
use fuoco_store::Store;
use rocket::http::uri::{Authority, Host};
use rocket::local::asynchronous::Client;
use serde_json::{Value, json};

fn shown(all: &Value, quantity: &str, subject: &str) -> f64 {
    let of = |r: &&Value| r["quantity"] == quantity && r["subject"] == subject;
    let found = all.as_array().expect("a list").iter().find(of);
    found.unwrap_or_else(|| panic!("{quantity} of {subject:?}"))["value"].as_f64().expect("a figure")
}

#[rocket::async_test]
async fn simulated_instruments_show_a_job_at_work_in_cold_water_and_under_test() {
    let api = Api::new().await;
    let id = api.json("/api/jobs/from-file", &demo()).await.1["id"].as_str().expect("an id").to_owned();
    let get = async |path: String| {
        let (status, _, bytes) = api.send("GET", &path, None, vec![]).await;
        (status.code, serde_json::from_slice::<Value>(&bytes).unwrap_or(Value::Null))
    };
    let at = |query: &str| format!("/api/jobs/{id}/stand-in/readings{query}");
    let (status, warm) = get(at("?outdoor_c=-4")).await;
    assert_eq!(status, 200, "{warm}");
    assert!((shown(&warm, "outdoor_c", "") + 4.0).abs() < 0.6, "a thermometer has its noise");
    let loop_id =
        warm.as_array().expect("a list").iter().find(|r| r["quantity"] == "flow_l_min" && r["device"] == "meter");
    assert!(loop_id.is_some(), "{warm}");

    // a valve that is turned until its meter shows half has half afterwards, within hand and marks
    let (_, start) = get(format!("/api/jobs/{id}/start-up")).await;
    let port = start["manifolds"][0]["ports"][0]["loop_id"].as_str().expect("an id").to_owned();
    let (_, open) = get(at("?water=cold")).await;
    let half = shown(&open, "flow_l_min", &port) / 2.0;
    let (_, turned) = get(at(&format!("?water=cold&turned={port}~{half}"))).await;
    assert!((shown(&turned, "flow_l_min", &port) / half - 1.0).abs() < 0.1);

    let begun = json!({ "id": "record-1", "at": chrono::Utc::now().to_rfc3339(), "fact": {
        "kind": "test_begun", "name": "Manifold A", "test": {
            "medium": "air", "volume_l": 30.0, "altitude_m": 300.0, "gauge": { "resolution_kpa": 2.0, "range_kpa": 600.0 },
            "required": { "pressure_kpa": 300.0, "hours": 2.0 } } } });
    assert_eq!(api.json(&format!("/api/jobs/{id}/records"), &begun).await.0, 200);
    let (_, test) = get(at("?test=record-1")).await;
    assert_eq!((shown(&test, "gauge_kpa", "record-1"), test.as_array().map(Vec::len)), (330.0, Some(4)));

    for (query, field) in [
        ("?water=hot", "water"),
        ("?house=one", "house"),
        ("?turned=A1", "turned"),
        ("?turned=nobody~1", "turned"),
        ("?outdoor_c=90", "outdoor_c"),
        ("?test=none", "test"),
    ] {
        let (status, refused) = get(at(query)).await;
        assert_eq!((status, &refused["field"]), (422, &json!(field)), "{query}: {refused}");
    }
    assert_eq!(get("/api/jobs/none/stand-in/readings".into()).await.0, 404);
}

#[rocket::async_test]
async fn a_page_may_ask_the_instruments_that_the_server_was_started_with_and_no_others() {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let gauge: Instrument = "Cellar gauge=http://192.168.1.20:8080/box/".parse().expect("reads");
    let listen = Listen { instruments: vec![gauge], ..Listen::here("127.0.0.1:0".parse().expect("address")) };
    let client = Client::untracked(build(store, listen)).await.expect("ignites");
    let mut request = client.get("/api/instruments");
    request.inner_mut().set_host(Host::from(Authority::parse("localhost").expect("host")));
    let answer = request.dispatch().await;
    let csp = answer.headers().get_one("Content-Security-Policy").unwrap_or_default().to_owned();
    assert!(csp.contains("connect-src 'self' http://192.168.1.20:8080;"), "{csp}");
    let list: Value = answer.into_json().await.expect("a list");
    assert_eq!(list, json!([{ "name": "Cellar gauge", "url": "http://192.168.1.20:8080/box" }]));

    for bad in [
        "http://host",
        "=http://host",
        "a=host",
        "a=ftp://host/x",
        "a=http://h/x?y=1",
        "a=http://h/;script-src *",
        "a=/x",
    ] {
        assert!(bad.parse::<Instrument>().is_err(), "{bad}");
    }
}

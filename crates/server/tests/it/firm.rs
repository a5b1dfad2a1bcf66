//! The firm over HTTP: kept, taken from a job, given to new jobs.

use crate::common::{Api, demo};
use rocket::http::ContentType;
use serde_json::{Value, json};

async fn get(api: &Api, path: &str) -> (u16, Value) {
    let (status, _, bytes) = api.send("GET", path, None, vec![]).await;
    (status.code, serde_json::from_slice(&bytes).unwrap_or(Value::Null))
}

async fn put(api: &Api, revision: i64, firm: &Value) -> (u16, Value) {
    let path = format!("/api/firm?revision={revision}");
    let (status, _, bytes) = api.send("PUT", &path, Some(ContentType::JSON), firm.to_string().into_bytes()).await;
    (status.code, serde_json::from_slice(&bytes).unwrap_or(Value::Null))
}

#[rocket::async_test]
async fn new_jobs_are_done_as_the_job_that_was_kept() {
    let api = Api::new().await;
    let (_, empty) = get(&api, "/api/firm").await;
    assert_eq!((&empty["revision"], &empty["firm"]["name"]), (&json!(0), &json!("")));
    let (_, made) = api.json("/api/jobs/from-file", &demo()).await;
    let (status, kept) = api.json("/api/firm/take", &json!({ "job_id": made["id"], "revision": 0 })).await;
    assert_eq!((status, &kept["revision"]), (200, &json!(1)), "{kept}");
    let (status, next) = api.json("/api/jobs", &json!({ "name": "Next", "units": "us" })).await;
    assert_eq!(status, 200, "{next}");
    // a price of 3 in the file comes back as 3.0: compared as figures
    let prices = |job: &Value| -> Vec<(String, Option<f64>)> {
        let rows = job["purchasing"]["prices"]["rows"].as_array().expect("rows");
        rows.iter().map(|r| (r["article"].as_str().expect("an article").to_owned(), r["price"].as_f64())).collect()
    };
    assert_eq!(prices(&next["job"]), prices(&demo()));
    assert_eq!(next["job"]["rules"]["name"], demo()["rules"]["name"]);
    // the job's own name, place and units stay its own
    assert_eq!((&next["job"]["name"], &next["job"]["site"]["units"]), (&json!("Next"), &json!("us")));
    let (status, problem) = api.json("/api/firm/take", &json!({ "job_id": "none", "revision": 1 })).await;
    assert_eq!(status, 404, "{problem}");
    let (status, problem) = api.json("/api/firm/take", &json!({ "job_id": made["id"], "revision": 0 })).await;
    assert_eq!((status, &problem["current_revision"]), (409, &json!(1)), "{problem}");
}

#[rocket::async_test]
async fn a_firm_that_would_give_unsound_jobs_is_refused_by_field() {
    let api = Api::new().await;
    let base = json!({ "format": "fuoco-firm", "version": 1, "name": "Fellside" });
    assert_eq!(put(&api, 0, &base).await.0, 200);
    let with = |key: &str, value: Value| {
        let mut firm = base.clone();
        firm[key] = value;
        firm
    };
    let mut rules = demo()["rules"].clone();
    rules["edge_band_m"] = json!(-1);
    let labour = json!({ "labour": { "lay_s_m": -2 } });
    for (firm, field) in [
        (with("rules", rules), "rules.edge_band_m"),
        (with("purchasing", labour), "purchasing.labour.lay_s_m"),
        (with("lines", json!(vec!["x"; 9])), "lines"),
        (with("logo", json!("x")), "logo"),
        (with("format", json!("fuoco-job")), "format"),
        (json!({}), "format"),
    ] {
        let (status, problem) = put(&api, 1, &firm).await;
        assert_eq!((status, &problem["field"]), (422, &json!(field)), "{problem}");
    }
    let (_, kept) = get(&api, "/api/firm").await;
    assert_eq!((&kept["revision"], &kept["firm"]["name"]), (&json!(1), &json!("Fellside")));
}

#[rocket::async_test]
async fn every_school_can_be_a_firms_rules() {
    let api = Api::new().await;
    let mut revision = 0;
    for units in ["metric", "us"] {
        let (status, schools) = get(&api, &format!("/api/schools?units={units}")).await;
        assert_eq!(status, 200);
        let schools = schools.as_array().expect("a list");
        assert!(schools.len() >= 4);
        for rules in schools {
            let (status, kept) =
                put(&api, revision, &json!({ "format": "fuoco-firm", "version": 1, "rules": rules })).await;
            assert_eq!(status, 200, "{kept}");
            revision += 1;
            let (_, made) = api.json("/api/jobs", &json!({ "name": "Next" })).await;
            assert_eq!(made["job"]["rules"]["name"], rules["name"]);
        }
    }
}

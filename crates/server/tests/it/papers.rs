//! Papers over HTTP: listed with what they lack, and sent as PDF.

use crate::common::{Api, demo};
use serde_json::{Value, json};

async fn list(api: &Api, job: &Value) -> (String, Vec<Value>) {
    let (_, made) = api.json("/api/jobs/from-file", job).await;
    let id = made["id"].as_str().expect("an id").to_owned();
    let (status, _, bytes) = api.send("GET", &format!("/api/jobs/{id}/papers"), None, vec![]).await;
    assert_eq!(status.code, 200);
    (id, serde_json::from_slice(&bytes).expect("a list"))
}

#[rocket::async_test]
async fn every_listed_paper_comes_as_pdf() {
    let api = Api::new().await;
    let (id, papers) = list(&api, &demo()).await;
    assert_eq!(papers.len(), 13);
    for paper in papers {
        let code = paper["code"].as_str().expect("a code");
        // nothing has been written down on this site
        let of_the_site = ["as-laid", "pressure-tests", "start-up"].contains(&code);
        assert_eq!(paper.get("missing").is_some(), of_the_site, "{paper}");
        let (status, kind, bytes) = api.send("GET", &format!("/api/jobs/{id}/papers/{code}.pdf"), None, vec![]).await;
        assert_eq!((status.code, kind.as_str()), (200, "application/pdf"), "{code}");
        assert!(bytes.starts_with(b"%PDF-") && bytes.trim_ascii_end().ends_with(b"%%EOF"), "{code}");
    }
}

#[rocket::async_test]
async fn what_a_paper_lacks_is_told_and_what_is_no_paper_is_not_found() {
    let api = Api::new().await;
    let (_, made) = api.json("/api/jobs", &json!({ "name": "Annex" })).await;
    let id = made["id"].as_str().expect("an id");
    let (_, _, bytes) = api.send("GET", &format!("/api/jobs/{id}/papers"), None, vec![]).await;
    let papers: Vec<Value> = serde_json::from_slice(&bytes).expect("a list");
    assert!(papers.iter().all(|p| p["missing"].as_str().is_some_and(|why| !why.is_empty())), "{papers:?}");
    for (path, expected) in [
        (format!("/api/jobs/{id}/papers/heat-loss.pdf?format=letter"), 200),
        (format!("/api/jobs/{id}/papers/heat-loss.pdf?format=a0"), 422),
        (format!("/api/jobs/{id}/papers/heat-loss"), 404),
        (format!("/api/jobs/{id}/papers/heatloss.pdf"), 404),
        ("/api/jobs/none/papers".into(), 404),
        ("/api/jobs/none/papers/pack.pdf".into(), 404),
    ] {
        let (status, ..) = api.send("GET", &path, None, vec![]).await;
        assert_eq!(status.code, expected, "{path}");
    }
}

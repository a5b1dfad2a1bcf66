//! The practice rig and the thermal picture over HTTP.

use crate::common::{Api, demo};
use serde_json::json;

#[rocket::async_test]
async fn lessons_are_listed_and_played() {
    let api = Api::new().await;
    let (status, _, body) = api.send("GET", "/api/rig", None, vec![]).await;
    assert_eq!(status.code, 200);
    let all: serde_json::Value = serde_json::from_slice(&body).expect("JSON");
    let lessons = all["lessons"].as_array().expect("lessons");
    assert_eq!(lessons.len(), 10);
    assert!(lessons.iter().all(|l| l["hints"].as_array().is_some_and(|h| h.len() == 3)));
    let trial = |moves: serde_json::Value| json!({ "lesson": "reversed", "version": all["version"], "moves": moves, "now_s": 120 });
    let (status, begun) = api.json("/api/rig", &json!({ "trial": trial(json!([])) })).await;
    assert_eq!((status, begun["debrief"].is_null()), (200, true), "{begun}");
    let tails = json!([{ "at_s": 60, "hand": { "what": "tails" } }]);
    let (status, done) = api.json("/api/rig", &json!({ "trial": trial(tails.clone()) })).await;
    assert_eq!((status, &done["debrief"]["moves"]), (200, &json!(1)), "{done}");
    let (status, shot) = api.json("/api/rig/camera", &json!({ "trial": trial(json!([])) })).await;
    let spots =
        shot["raster"]["columns"].as_u64().zip(shot["raster"]["rows"].as_u64()).map(|(c, r)| (c * r).div_ceil(3) * 4);
    assert_eq!((status, shot["surface"].as_str().map(|s| s.len() as u64)), (200, spots));
    // on a job of one's own: its manifold with most loops
    let (status, own) = api.json("/api/rig", &json!({ "job": demo(), "trial": trial(tails) })).await;
    assert_eq!((status, own["ports"].as_array().map(Vec::len)), (200, Some(11)), "{own}");
}

#[rocket::async_test]
async fn a_lesson_of_another_version_is_named() {
    let api = Api::new().await;
    let trial = json!({ "lesson": "balance", "version": 0, "now_s": 0 });
    let (status, problem) = api.json("/api/rig", &json!({ "trial": trial })).await;
    assert_eq!((status, &problem["field"]), (422, &json!("trial.version")), "{problem}");
    let trial = json!({ "lesson": "leak_or_temperature", "version": 1, "now_s": 0 });
    let (status, problem) = api.json("/api/rig", &json!({ "job": demo(), "trial": trial })).await;
    assert_eq!((status, &problem["field"]), (422, &json!("trial.lesson")), "{problem}");
}

#[rocket::async_test]
async fn the_picture_has_a_byte_for_every_spot() {
    let api = Api::new().await;
    let asked = json!({ "job": demo(), "trial": { "level_id": "ground", "hours": 6 } });
    let (status, told) = api.json("/api/time/picture", &asked).await;
    assert_eq!(status, 200, "{told}");
    let frames = told["frames"].as_array().expect("frames");
    assert_eq!(frames.len(), 61);
    let spots = told["raster"]["columns"].as_u64().expect("columns") * told["raster"]["rows"].as_u64().expect("rows");
    let letters = |f: &serde_json::Value| f["surface"].as_str().expect("Base64").len() as u64;
    assert!(frames.iter().all(|f| letters(f) == spots.div_ceil(3) * 4));
    let asked = json!({ "job": demo(), "trial": { "level_id": "ground", "air_locked": ["nowhere"] } });
    let (status, problem) = api.json("/api/time/picture", &asked).await;
    assert_eq!((status, &problem["field"]), (422, &json!("trial.air_locked")), "{problem}");
}

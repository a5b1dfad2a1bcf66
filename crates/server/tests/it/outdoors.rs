//! Storms, years and cooling over HTTP.

use crate::common::{Api, demo};
use fuoco_server::{DEMO_OUTDOORS, DEMO_YEAR};
use rocket::http::ContentType;
use serde_json::{Value, json};

fn forecourt() -> Value {
    serde_json::from_str(DEMO_OUTDOORS).expect("the demo")
}

/// The demo's weather file, kept.
async fn with_weather() -> Api {
    let api = Api::new().await;
    let (status, weather) = api.file("/api/weather", ContentType::Binary, DEMO_YEAR.as_bytes()).await;
    assert_eq!((status, &weather["file_id"]), (200, &forecourt()["site"]["weather"]["file_id"]));
    api
}

#[rocket::async_test]
async fn a_storm_is_watched_and_a_year_is_run() {
    let api = with_weather().await;
    let (status, typed) = api.json("/api/outdoors/storm", &json!({ "job": forecourt() })).await;
    assert_eq!((status, &typed["area_id"]), (200, &json!("forecourt")), "{typed}");
    let ways = typed["ways"].as_array().expect("ways");
    assert_eq!(ways.len(), 3);
    assert!(ways.iter().all(|w| w["steps"].as_array().is_some_and(|s| s.len() > 100)));
    let ramp = json!({ "job": forecourt(), "trial": { "area_id": "ramp", "worst_of_the_year": true } });
    let (status, worst) = api.json("/api/outdoors/storm", &ramp).await;
    assert_eq!((status, &worst["area_id"]), (200, &json!("ramp")));
    assert_ne!(worst["falls_mm"], typed["falls_mm"]);
    let (status, year) = api.json("/api/outdoors/year", &json!({ "job": forecourt(), "area_id": "ramp" })).await;
    assert_eq!((status, &year["hours"]["from_file"]), (200, &json!(true)), "{year}");
    assert_eq!(year["ways"].as_array().map(Vec::len), Some(3));
}

#[rocket::async_test]
async fn what_is_missing_is_named() {
    let api = Api::new().await;
    let refused = |path: &'static str, body: Value, status: u16, field: Value| {
        let api = &api;
        async move {
            let (got, problem) = api.json(path, &body).await;
            assert_eq!((got, &problem["field"]), (status, &field), "{path}: {problem}");
        }
    };
    // the file is not there, or the job names none
    let (status, _) = api.json("/api/outdoors/year", &json!({ "job": forecourt() })).await;
    assert_eq!(status, 404);
    let mut bare = forecourt();
    bare["site"].as_object_mut().expect("a site").remove("weather");
    refused("/api/outdoors/year", json!({ "job": bare }), 422, json!("site.weather")).await;
    let nowhere = json!({ "job": forecourt(), "trial": { "area_id": "nowhere" } });
    refused("/api/outdoors/storm", nowhere, 422, json!("area_id")).await;
    refused("/api/outdoors/storm", json!({ "job": demo() }), 422, json!("outdoors")).await;
    let mut windy = forecourt();
    windy["outdoors"]["storm"]["wind_m_s"] = json!(-3);
    refused("/api/outdoors/storm", json!({ "job": windy }), 422, json!("outdoors.storm.wind_m_s")).await;
    let api = with_weather().await;
    let mut warm = demo();
    warm.as_object_mut().expect("a job").remove("cooling");
    let (status, problem) = api.json("/api/cooling", &json!({ "job": warm })).await;
    assert_eq!((status, &problem["field"]), (422, &json!("cooling")), "{problem}");
}

#[rocket::async_test]
async fn the_demo_is_cooled() {
    let api = with_weather().await;
    let (status, cool) = api.json("/api/cooling", &json!({ "job": demo() })).await;
    assert_eq!(status, 200, "{cool}");
    let supply = cool["supply_c"].as_f64().expect("a supply");
    assert!((supply - cool["dew_point_c"].as_f64().expect("a dew point") - 2.0).abs() < 1e-9, "{supply}");
    assert_eq!(cool["week"].as_array().map(Vec::len), Some(168));
}

#[rocket::async_test]
async fn the_house_is_followed_in_time() {
    let api = with_weather().await;
    let (status, told) = api.json("/api/time", &json!({ "job": demo() })).await;
    assert_eq!(status, 200, "{told}");
    let rooms = told["runs"][0]["rooms"].as_array().expect("rooms");
    assert!(rooms.iter().any(|r| r["warm_h"].as_f64().is_some_and(|h| h > 1.0)), "{rooms:?}");
    let week = json!({ "job": demo(), "trial": { "span": "week", "variants": [{}, { "setback_k": 3 }] } });
    let (status, told) = api.json("/api/time", &week).await;
    assert_eq!((status, told["runs"].as_array().map(Vec::len)), (200, Some(2)));
    assert!(told["from_day"].as_u64().is_some());
    let wrong = json!({ "job": demo(), "trial": { "variants": [{ "differential_k": 0 }] } });
    let (status, problem) = api.json("/api/time", &wrong).await;
    assert_eq!((status, &problem["field"]), (422, &json!("trial.variants[0].differential_k")), "{problem}");
    // without a file a week is seven design days, and a year is not there
    let mut bare = demo();
    bare["site"].as_object_mut().expect("a site").remove("weather");
    let (status, told) = api.json("/api/time", &json!({ "job": bare, "trial": { "span": "week" } })).await;
    assert_eq!((status, &told["from_day"]), (200, &Value::Null));
    let (status, problem) = api.json("/api/time", &json!({ "job": bare, "trial": { "span": "year" } })).await;
    assert_eq!((status, &problem["field"]), (422, &json!("site.weather")));
}

#[rocket::async_test]
async fn a_sunny_day_is_followed_on_charts_and_on_the_plan() {
    let api = with_weather().await;
    let curtains = json!({ "span": "sun", "variants": [{ "control": "reset" }, { "control": "reset", "sun": 0 }] });
    let (status, told) = api.json("/api/time", &json!({ "job": demo(), "trial": curtains })).await;
    assert_eq!(status, 200, "{told}");
    let most = |run: usize, what: &str| {
        let course = told["runs"][run]["course"].as_array().expect("a course");
        course.iter().filter_map(|p| p[what].as_f64()).fold(0.0, f64::max)
    };
    assert!(most(0, "sun_w") > 500.0 && most(1, "sun_w") == 0.0, "{} {}", most(0, "sun_w"), most(1, "sun_w"));
    assert!(most(0, "felt_c") > most(1, "felt_c") + 0.5);
    let wrong = json!({ "job": demo(), "trial": { "span": "sun", "sun_on_floor": 1 } });
    let (status, problem) = api.json("/api/time", &wrong).await;
    assert_eq!((status, &problem["field"]), (422, &json!("trial.sun_on_floor")), "{problem}");
    let asked = |day: u32| json!({ "job": demo(), "trial": { "level_id": "ground", "hours": 24, "sun_day": day } });
    let (status, told) = api.json("/api/time/picture", &asked(79)).await;
    assert_eq!(status, 200, "{told}");
    let sun = |frame: usize| {
        let rooms = told["frames"][frame]["rooms"].as_array().expect("rooms");
        rooms.iter().filter_map(|r| r["sun_w"].as_f64()).sum::<f64>()
    };
    assert!(sun(0) == 0.0 && sun(31) > 500.0 && sun(60) == 0.0, "{} {} {}", sun(0), sun(31), sun(60));
    let (status, problem) = api.json("/api/time/picture", &asked(400)).await;
    assert_eq!((status, &problem["field"]), (422, &json!("trial.sun_day")), "{problem}");
}

#[rocket::async_test]
async fn a_window_that_waits_for_nothing_has_come_nowhere() {
    let api = Api::new().await;
    let (status, _, body) = api.send("GET", "/api/windows/a-window-of-nobody", None, vec![]).await;
    let told: Value = serde_json::from_slice(&body).expect("JSON");
    assert_eq!((status.code, &told["share"]), (200, &Value::Null));
    let (status, _, _) = api.send("DELETE", "/api/windows/a-window-of-nobody", None, vec![]).await;
    assert_eq!(status.code, 204, "and may leave");
}

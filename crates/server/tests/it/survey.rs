//! Pictures, weather, geometry and exchange over HTTP.

use crate::common::{Api, demo};
use fuoco_server::DEMO_YEAR;
use rocket::http::{ContentType, Status};
use serde_json::{Value, json};

/// A PNG of one white pixel.
const PNG: &[u8] = &[
    137, 80, 78, 71, 13, 10, 26, 10, 0, 0, 0, 13, 73, 72, 68, 82, 0, 0, 0, 1, 0, 0, 0, 1, 8, 0, 0, 0, 0, 58, 126, 155,
    85, 0, 0, 0, 10, 73, 68, 65, 84, 120, 156, 99, 248, 15, 0, 1, 1, 1, 0, 27, 182, 238, 86, 0, 0, 0, 0, 73, 69, 78,
    68, 174, 66, 96, 130,
];

#[rocket::async_test]
async fn a_picture_is_kept_and_comes_back_as_what_it_is() {
    let api = Api::new().await;
    // what the sender says of it does not count
    let (status, kept) = api.file("/api/pictures", ContentType::HTML, PNG).await;
    assert_eq!((status, kept["width_px"].as_u64()), (200, Some(1)), "{kept}");
    let id = kept["id"].as_str().expect("id");
    let (status, kind, bytes) = api.send("GET", &format!("/api/files/{id}"), None, vec![]).await;
    assert_eq!((status, kind.as_str(), bytes.as_slice()), (Status::Ok, "image/png", PNG));
    let none = "0".repeat(64);
    assert_eq!(api.send("GET", &format!("/api/files/{none}"), None, vec![]).await.0, Status::NotFound);
    assert_eq!(api.send("GET", "/api/files/..%2f..%2fpasswd", None, vec![]).await.0, Status::NotFound);
}

#[rocket::async_test]
async fn what_is_no_picture_is_refused_by_name() {
    let api = Api::new().await;
    for body in [&b"%PDF-1.7"[..], b"", b"<svg onload='alert(1)'/>", &PNG[..30]] {
        let (status, problem) = api.file("/api/pictures", ContentType::PNG, body).await;
        assert_eq!((status, problem["field"].as_str()), (422, Some("file")), "{problem}");
    }
    let large = vec![0_u8; 26 << 20];
    assert_eq!(api.file("/api/pictures", ContentType::PNG, &large).await.0, 413);
    // what another site's form could send
    for kind in [ContentType::Form, ContentType::FormData, ContentType::Plain] {
        assert_eq!(api.file("/api/pictures", kind, PNG).await.0, 415);
    }
}

#[rocket::async_test]
async fn a_weather_file_is_read_and_kept() {
    let api = Api::new().await;
    let (status, weather) = api.file("/api/weather", ContentType::Binary, DEMO_YEAR.as_bytes()).await;
    assert_eq!((status, weather["name"].as_str(), weather["p99_c"].as_f64()), (200, Some("Alderfell"), Some(-14.0)));
    // the demo names the same file
    assert_eq!(weather["file_id"], demo()["site"]["weather"]["file_id"]);
    assert_eq!(weather, demo()["site"]["weather"], "the demo's year is the file's");
    let (status, problem) = api.file("/api/weather", ContentType::Binary, &DEMO_YEAR.as_bytes()[..900_000]).await;
    assert_eq!((status, problem["title"].as_str()), (422, Some("Not taken")));
    assert!(problem["field"].as_str().is_some_and(|f| f.starts_with("line ")), "{problem}");
}

#[rocket::async_test]
async fn rooms_are_split_and_merged() {
    let api = Api::new().await;
    let split = json!({ "job": demo(), "room_id": "studio-a", "from": [4.5, 0], "to": [4.5, 7.2], "wall_m": 0.12, "new_id": "new" });
    let (status, after) = api.json("/api/plan/split", &split).await;
    assert_eq!((status, after["rooms"].as_array().map(Vec::len)), (200, Some(10)), "{after}");
    let merge = json!({ "job": after, "first_id": "studio-a", "second_id": "new" });
    let (status, merged) = api.json("/api/plan/merge", &merge).await;
    assert_eq!((status, merged["rooms"].as_array().map(Vec::len)), (200, Some(9)), "{merged}");
    let far = json!({ "job": demo(), "first_id": "studio-a", "second_id": "music" });
    let (status, problem) = api.json("/api/plan/merge", &far).await;
    assert_eq!((status, problem["field"].as_str()), (422, Some("second_id")));
    let mut bad = split.clone();
    bad["job"]["site"]["outdoor_c"] = json!(900);
    assert_eq!(api.json("/api/plan/split", &bad).await.1["field"], "site.outdoor_c");
}

#[rocket::async_test]
async fn files_go_out_and_come_in() {
    let api = Api::new().await;
    let (_, added) = api.json("/api/jobs/from-file", &demo()).await;
    let id = added["id"].as_str().expect("id").to_owned();
    let get = async |path: &str| api.send("GET", &format!("/api/jobs/{id}/{path}"), None, vec![]).await;
    let mut empty = demo();
    for list in ["rooms", "manifolds", "marks"] {
        empty[list] = json!([]);
    }
    for (path, kind, format) in [
        ("rooms.geojson", "application/geo+json", "geojson"),
        ("survey-rooms.csv", "text/csv; charset=utf-8", "csv"),
        ("rooms.dxf?level=upper", "image/vnd.dxf", "dxf"),
    ] {
        let (status, found, bytes) = get(path).await;
        assert_eq!((status, found.as_str()), (Status::Ok, kind), "{path}");
        let text = String::from_utf8(bytes).expect("text");
        let (status, read) = api
            .json("/api/import/rooms", &json!({ "job": empty, "level_id": "ground", "format": format, "text": text }))
            .await;
        let expected = if format == "dxf" { 2 } else { 9 };
        assert_eq!((status, read["added"].as_u64()), (200, Some(expected)), "{path}: {}", read["problems"]);
    }
    let (_, _, table) = get("survey-openings.csv").await;
    let text = String::from_utf8(table).expect("text");
    let (status, read) = api.json("/api/import/openings", &json!({ "job": demo(), "text": text })).await;
    assert_eq!((status, read["added"].as_u64(), read["job"] == added["job"]), (200, Some(0), true));
    assert_eq!(get("rooms.dxf?level=cellar").await.0, Status::NotFound);
    let (_, _, csv) = get("heat-loss.csv").await;
    assert!(String::from_utf8(csv).expect("text").starts_with("room,cause,construction"));
    let (_, _, json) = get("heat-loss.json").await;
    let losses: Value = serde_json::from_slice(&json).expect("JSON");
    assert_eq!(losses["rooms"].as_array().map(Vec::len), Some(9));
    let nowhere = json!({ "job": demo(), "level_id": "moon", "format": "csv", "text": "room\n" });
    assert_eq!(api.json("/api/import/rooms", &nowhere).await.1["field"], "level_id");
    let strange = json!({ "job": demo(), "level_id": "ground", "format": "doc", "text": "" });
    assert_eq!(api.json("/api/import/rooms", &strange).await.0, 422);
}

#[rocket::async_test]
async fn a_bundle_carries_records_and_pictures_along() {
    let (here, there) = (Api::new().await, Api::new().await);
    let (_, kept) = here.file("/api/pictures", ContentType::PNG, PNG).await;
    let mut job = demo();
    job["marks"][1]["photo_id"] = kept["id"].clone();
    let (_, added) = here.json("/api/jobs/from-file", &job).await;
    let id = added["id"].as_str().expect("id");
    let note = json!({ "id": "record-1", "at": "2026-11-30T07:12:00Z", "fact": { "kind": "note" }, "note": "wet" });
    assert_eq!(here.json(&format!("/api/jobs/{id}/records"), &note).await.0, 200);
    let path = format!("/api/jobs/{id}/bundle");
    let (status, kind, zip) = here.send("GET", &path, None, vec![]).await;
    assert_eq!((status, kind.as_str()), (Status::Ok, "application/zip"));
    let (status, opened) = there.file("/api/jobs/from-bundle", ContentType::ZIP, &zip).await;
    assert_eq!((status, &opened["job"]), (200, &added["job"]));
    let records = format!("/api/jobs/{}/records", opened["id"].as_str().expect("id"));
    let brought: Value = serde_json::from_slice(&there.send("GET", &records, None, vec![]).await.2).expect("a list");
    assert_eq!((brought[0]["record"]["note"].as_str(), brought.as_array().map(Vec::len)), (Some("wet"), Some(1)));
    let photo = format!("/api/files/{}", kept["id"].as_str().expect("id"));
    assert_eq!(there.send("GET", &photo, None, vec![]).await.2, PNG);
    let (status, problem) = there.file("/api/jobs/from-bundle", ContentType::ZIP, b"PK no zip").await;
    assert_eq!((status, problem["field"].as_str()), (422, Some("bundle")));
}

#[rocket::async_test]
async fn a_floor_is_drawn_and_compared() {
    let api = Api::new().await;
    let job = demo();
    let rooms = job["rooms"].as_array().expect("rooms");
    let room = rooms.iter().find(|r| r["floor"].is_object()).expect("a heated floor")["id"].clone();
    let ask = json!({ "job": job, "room_id": room, "shown": { "zone": "core" } });
    let (code, picture) = api.json("/api/floor/section", &ask).await;
    assert_eq!(code, 200);
    assert!(picture["isotherms"].as_array().is_some_and(|l| l.len() > 5) && picture["layers"][0]["name"].is_string());
    let mut compare =
        json!({ "job": job, "room_id": room, "sweep": { "spacings_m": [0.1, 0.2, 0.3] }, "from": 1, "most": 5 });
    let (code, got) = api.json("/api/floor/compare", &compare).await;
    assert_eq!((code, got["total"].as_u64(), got["variants"].as_array().map(Vec::len)), (200, Some(3), Some(2)));
    compare["sweep"] = json!({ "spacings_m": [9.0] });
    let (code, problem) = api.json("/api/floor/compare", &compare).await;
    assert_eq!((code, problem["field"].as_str()), (422, Some("sweep.spacings_m[0]")));
    compare["sweep"] = json!({ "spaces": [] });
    assert_eq!(api.json("/api/floor/compare", &compare).await.0, 422);
    compare["job"]["rooms"][0]["height_m"] = json!(-3);
    compare["sweep"] = json!({});
    let (code, problem) = api.json("/api/floor/compare", &compare).await;
    assert_eq!((code, problem["field"].as_str()), (422, Some("rooms[0].height_m")));
}

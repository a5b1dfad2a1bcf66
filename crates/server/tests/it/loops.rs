//! Loops shaped, mapped, placed and given out over HTTP.

use crate::common::{Api, demo};
use serde_json::{Value, json};

/// The demo with one of its loops locked.
async fn locked(api: &Api) -> (Value, Value) {
    let mut job = demo();
    let (_, design) = api.json("/api/design", &job).await;
    let l = design["loops"].as_array().expect("loops").iter().find(|l| l["tag"] == "B2").expect("B2").clone();
    job["loops"] = json!([{
        "id": "mine", "manifold_id": l["manifold_id"], "port": l["port"], "room_id": l["room_ids"][0], "corners": l["corners"],
    }]);
    (job, l)
}

#[rocket::async_test]
async fn a_locked_loop_keeps_its_way_and_can_be_dragged() {
    let api = Api::new().await;
    let (job, l) = locked(&api).await;
    let (status, design) = api.json("/api/design", &job).await;
    assert_eq!(status, 200);
    let mine = design["loops"].as_array().expect("loops").iter().find(|l| l["id"] == "mine").expect("kept");
    assert_eq!((&mine["locked"], &mine["tag"]), (&json!(true), &json!("B2")));
    let path = |l: &Value| serde_json::from_value::<Vec<[f64; 2]>>(l["path"].clone()).expect("points");
    let (was, is) = (path(&l), path(mine));
    // corners are told to a micrometre and points to a tenth of a millimetre
    let near = |(p, q): (&[f64; 2], &[f64; 2])| (p[0] - q[0]).abs() < 2e-4 && (p[1] - q[1]).abs() < 2e-4;
    assert!(was.len() == is.len() && was.iter().zip(&is).all(near));
    let drag = json!({ "job": job, "loop_id": "mine", "grip": { "part": "run", "index": 3 }, "by": [0.05, 0.05], "alone": true });
    let (status, moved) = api.json("/api/loops/drag", &drag).await;
    assert_eq!(status, 200, "{moved}");
    let (before, after) = (job["loops"][0]["corners"].as_array(), moved["corners"].as_array());
    assert_eq!(before.map(Vec::len), after.map(Vec::len));
    assert_ne!(before, after);
}

#[rocket::async_test]
async fn drags_of_what_is_not_there_are_refused_by_their_field() {
    let api = Api::new().await;
    let (job, _) = locked(&api).await;
    let drag =
        |loop_id: &str, grip: Value, by: Value| json!({ "job": job, "loop_id": loop_id, "grip": grip, "by": by });
    let run = json!({ "part": "run", "index": 1 });
    for (body, field) in [
        (drag("nobody", run.clone(), json!([0.1, 0.0])), "loop_id"),
        (drag("mine", run.clone(), json!([1e9, 0.0])), "by"),
    ] {
        let (status, problem) = api.json("/api/loops/drag", &body).await;
        assert_eq!((status, &problem["field"]), (422, &json!(field)), "{problem}");
    }
    let (status, _) = api.json("/api/loops/drag", &drag("mine", json!({ "part": "knot" }), json!([0.1, 0.0]))).await;
    assert_eq!(status, 422);
    // against a wall it stops, and says so in the job's units
    let told = drag("mine", json!({ "part": "run", "index": 3 }), json!([30.0, 30.0]));
    let (_, stopped) = api.json("/api/loops/drag", &told).await;
    assert!(stopped["stopped"].as_str().is_some_and(|t| t.starts_with("It stops there")), "{stopped}");
    // a run that the loop does not have moves nothing
    let far = drag("mine", json!({ "part": "run", "index": 99_999 }), json!([0.1, 0.0]));
    let (status, same) = api.json("/api/loops/drag", &far).await;
    assert_eq!(
        (status, same["corners"].as_array().map(Vec::len)),
        (200, job["loops"][0]["corners"].as_array().map(Vec::len))
    );
}

#[rocket::async_test]
async fn floors_are_mapped_and_manifolds_placed() {
    let api = Api::new().await;
    let (status, map) = api.json("/api/loops/map", &json!({ "job": demo(), "level_id": "ground" })).await;
    assert_eq!(status, 200);
    let n = map["columns"].as_u64().expect("columns") * map["rows"].as_u64().expect("rows");
    assert_eq!(map["surface_c"].as_array().map(Vec::len), Some(n as usize));
    assert!(map["distance_m"].as_array().expect("spots").iter().any(Value::is_null), "walls are no floor");
    let (status, problem) = api.json("/api/loops/map", &json!({ "job": demo(), "level_id": "attic" })).await;
    assert_eq!((status, &problem["field"]), (422, &json!("level_id")));
    // the demo's floors go together: there is nothing to part; with an office that wants hot water there is
    let (status, problem) = api.json("/api/loops/own-circuit", &json!({ "job": demo() })).await;
    assert_eq!((status, problem["field"].as_str()), (422, Some("job")));
    let mut two = demo();
    two.as_object_mut().expect("a job").retain(|k, _| k != "circuits" && k != "plant");
    let office =
        two["rooms"].as_array_mut().expect("rooms").iter_mut().find(|r| r["name"] == "Office").expect("an office");
    office["floor"]["covering_id"] = json!("carpet");
    office["floor"]["spacing_core_m"] = json!(0.3);
    office["floor"]["spacing_edge_m"] = json!(0.3);
    let (status, own) = api.json("/api/loops/own-circuit", &json!({ "job": two })).await;
    assert_eq!(status, 200, "{own}");
    assert!(own["supply_c"].as_f64().expect("hot") > own["others_c"].as_f64().expect("cool") + 3.0, "{own}");
    assert_eq!(own["circuits"].as_array().expect("circuits").len(), 2);
    let (status, found) = api.json("/api/loops/places", &json!({ "job": demo(), "manifold_id": "m-b" })).await;
    assert_eq!((status, found.as_array().map(Vec::len)), (200, Some(3)));
    let (status, problem) = api.json("/api/loops/places", &json!({ "job": demo(), "manifold_id": "x" })).await;
    assert_eq!((status, &problem["field"]), (422, &json!("manifold_id")));
}

#[rocket::async_test]
async fn loops_are_given_out_in_open_formats() {
    let api = Api::new().await;
    let (_, stored) = api.json("/api/jobs/from-file", &demo()).await;
    let id = stored["id"].as_str().expect("id");
    for (path, kind, begins) in [
        ("loop-points.csv", "text/csv", "loop,point,x (m)"),
        ("loops.geojson", "application/geo+json", "{"),
        ("loops.dxf?level=ground", "image/vnd.dxf", ""),
        ("plan.svg?level=upper&scale=20", "image/svg+xml", "<svg"),
        ("plan.svg", "image/svg+xml", "<svg"),
    ] {
        let (status, found, bytes) = api.send("GET", &format!("/api/jobs/{id}/{path}"), None, vec![]).await;
        assert_eq!(status.code, 200, "{path}");
        assert!(found.starts_with(kind), "{path}: {found}");
        assert!(String::from_utf8_lossy(&bytes).starts_with(begins) && !bytes.is_empty(), "{path}");
    }
    for (path, expected) in [("loops.dxf?level=attic", 404), ("plan.svg?scale=1", 422)] {
        let (status, ..) = api.send("GET", &format!("/api/jobs/{id}/{path}"), None, vec![]).await;
        assert_eq!(status.code, expected, "{path}");
    }
}

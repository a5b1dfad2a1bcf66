//! The API by its own client in memory: every route, its answers and its headers.

use fuoco_server::{DEMO, build, document, job_schema};
use fuoco_store::Store;
use rocket::http::uri::{Authority, Host};
use rocket::http::{ContentType, Header, Status};
use rocket::local::asynchronous::{Client, LocalResponse};
use serde_json::{Value, json};
use tempfile::TempDir;

/// What a browser would name as the host of its request.
fn host(name: &'static str) -> Host<'static> {
    Host::from(Authority::parse(name).expect("a host"))
}

struct Api {
    client: Client,
    _folder: TempDir,
}

impl Api {
    async fn new() -> Api {
        let folder = tempfile::tempdir().expect("folder");
        let store = Store::open(folder.path()).await.expect("opens");
        let bind = "127.0.0.1:0".parse().expect("an address");
        let client = Client::tracked(build(store, fuoco_server::Listen::here(bind))).await.expect("ignites");
        Api { client, _folder: folder }
    }

    async fn send<'c>(&'c self, method: &str, path: &'c str, body: Option<&Value>) -> LocalResponse<'c> {
        let method = method.parse().expect("a method");
        let mut request = self.client.req(method, path);
        request.inner_mut().set_host(host("localhost"));
        if let Some(body) = body {
            request = request.header(ContentType::JSON).body(body.to_string());
        }
        request.dispatch().await
    }

    async fn json(&self, method: &str, path: &str, body: Option<&Value>) -> (u16, Value) {
        let answer = self.send(method, path, body).await;
        let status = answer.status().code;
        let text = answer.into_string().await.unwrap_or_default();
        (status, serde_json::from_str(&text).unwrap_or(Value::Null))
    }

    async fn add_demo(&self) -> String {
        let demo: Value = serde_json::from_str(DEMO).expect("the demo");
        let (status, added) = self.json("POST", "/api/jobs/from-file", Some(&demo)).await;
        assert_eq!(status, 200, "{added}");
        added["id"].as_str().expect("an id").to_owned()
    }
}

#[rocket::async_test]
async fn a_job_from_its_making_to_its_end() {
    let api = Api::new().await;
    assert_eq!(api.json("GET", "/api/jobs", None).await, (200, json!([])));
    let (status, made) = api.json("POST", "/api/jobs", Some(&json!({ "name": "  Annex " }))).await;
    assert_eq!((status, made["job"]["name"].as_str(), made["revision"].as_i64()), (200, Some("Annex"), Some(1)));
    let id = made["id"].as_str().expect("an id");
    let at = format!("/api/jobs/{id}");

    let mut job = made["job"].clone();
    job["site"]["place"] = json!("Alderfell");
    assert_eq!(api.json("PUT", &format!("{at}?revision=1"), Some(&job)).await, (200, json!({ "revision": 2 })));
    assert_eq!(api.json("GET", &at, None).await.1["job"], job);

    let (status, copy) = api.json("POST", &format!("{at}/copy"), Some(&json!({ "name": "Annex two" }))).await;
    assert_eq!((status, copy["job"]["site"]["place"].as_str()), (200, Some("Alderfell")));
    assert_ne!(copy["id"], made["id"]);
    let renamed = api.json("POST", &format!("{at}/rename?revision=2"), Some(&json!({ "name": "West wing" }))).await;
    assert_eq!(renamed, (200, json!({ "revision": 3 })));
    let stale = api.json("POST", &format!("{at}/rename?revision=2"), Some(&json!({ "name": "East wing" }))).await;
    assert_eq!((stale.0, stale.1["current_revision"].as_i64()), (409, Some(3)));

    let (_, list) = api.json("GET", "/api/jobs", None).await;
    let names: Vec<&str> = list.as_array().expect("a list").iter().filter_map(|j| j["name"].as_str()).collect();
    assert_eq!(names, ["West wing", "Annex two"]);
    assert_eq!(api.send("DELETE", &at, None).await.status(), Status::NoContent);
    assert_eq!(api.json("GET", &at, None).await.0, 404);
    assert_eq!(api.send("PUT", &format!("{at}/restore"), None).await.status(), Status::NoContent);
    assert_eq!(api.json("GET", &at, None).await.0, 200);
    assert_eq!(api.json("PUT", &format!("{at}/restore"), None).await.0, 404, "it is not deleted");
}

#[rocket::async_test]
async fn names_that_are_no_names_are_refused() {
    let api = Api::new().await;
    for body in [json!({ "name": "   " }), json!({ "name": 7 }), json!({}), json!({ "name": "x", "more": 1 })] {
        let (status, problem) = api.json("POST", "/api/jobs", Some(&body)).await;
        assert_eq!(status, 422, "{body}");
        assert!(problem["detail"].as_str().is_some_and(|d| !d.is_empty()));
    }
    let long = json!({ "name": "n".repeat(3000) });
    assert_eq!(api.json("POST", "/api/jobs", Some(&long)).await.1["field"], "name");
    assert_eq!(api.json("GET", "/api/jobs", None).await.1, json!([]));
}

#[rocket::async_test]
async fn files_come_with_names_and_types_of_their_own() {
    let api = Api::new().await;
    let id = api.add_demo().await;
    for (what, kind, name, starts) in [
        ("file", "application/json", "tamarack-dance-school.json", "{"),
        ("loops.csv", "text/csv", "tamarack-dance-school-loops.csv", "loop,rooms,tube"),
        ("rooms.csv", "text/csv", "tamarack-dance-school-rooms.csv", "room,"),
        ("plan.svg", "image/svg+xml", "tamarack-dance-school-plan.svg", "<svg"),
    ] {
        let path = format!("/api/jobs/{id}/{what}");
        let answer = api.send("GET", &path, None).await;
        let header = |n: &str| answer.headers().get_one(n).unwrap_or_default().to_owned();
        assert!(header("Content-Type").starts_with(kind), "{what}: {}", header("Content-Type"));
        assert_eq!(header("Content-Disposition"), format!("attachment; filename=\"{name}\""));
        assert!(answer.into_string().await.expect("text").starts_with(starts), "{what}");
        assert_eq!(api.json("GET", &format!("/api/jobs/none/{what}"), None).await.0, 404);
    }
    let (_, file) = api.json("GET", &format!("/api/jobs/{id}/file"), None).await;
    assert_eq!(file, serde_json::from_str::<Value>(DEMO).map(with_defaults).expect("the demo"));
}

/// Floats and defaults as the program writes them.
fn with_defaults(demo: Value) -> Value {
    let job = fuoco_core::job::CheckedJob::from_json(&demo.to_string()).expect("reads");
    serde_json::to_value(job).expect("writes")
}

#[rocket::async_test]
async fn a_design_is_not_kept() {
    let api = Api::new().await;
    let demo: Value = serde_json::from_str(DEMO).expect("the demo");
    let (status, design) = api.json("POST", "/api/design", Some(&demo)).await;
    assert_eq!(status, 200);
    assert_eq!(design["rooms"].as_array().map(Vec::len), Some(9));
    assert_eq!(api.json("GET", "/api/jobs", None).await.1, json!([]));
    let (status, library) = api.json("GET", "/api/library", None).await;
    assert_eq!(status, 200);
    assert!(library["tubes"].as_array().is_some_and(|t| t.len() >= 10));
}

#[rocket::async_test]
async fn every_answer_tells_the_browser_what_not_to_do() {
    let api = Api::new().await;
    for path in ["/api/jobs", "/api/nothing", "/nowhere"] {
        let answer = api.send("GET", path, None).await;
        let header = |n: &str| answer.headers().get_one(n).unwrap_or_default().to_owned();
        assert!(header("Content-Security-Policy").contains("default-src 'self'"), "{path}");
        assert!(!header("Content-Security-Policy").contains("unsafe"), "{path}");
        assert_eq!(header("X-Content-Type-Options"), "nosniff");
        assert_eq!(header("Access-Control-Allow-Origin"), "", "no other origin reads this");
    }
}

#[rocket::async_test]
async fn a_host_by_another_name_gets_nothing() {
    let api = Api::new().await;
    for (name, status) in [
        ("localhost", 200),
        ("127.0.0.1:8642", 200),
        ("[::1]:80", 200),
        ("fuoco.example", 403),
        ("127.0.0.1.example", 403),
    ] {
        let mut request = api.client.get("/api/jobs");
        request.inner_mut().set_host(host(name));
        assert_eq!(request.dispatch().await.status().code, status, "{name}");
    }
}

/// What pages of other origins can send without being asked: forms, whose field `_method` the framework would take for the
/// method, and simple requests.
#[rocket::async_test]
async fn a_page_of_another_origin_changes_nothing() {
    let api = Api::new().await;
    let id = api.add_demo().await;
    let at = format!("/api/jobs/{id}");
    let restore = format!("{at}/restore");
    for (path, kind, body) in [
        (&at, ContentType::Form, "_method=DELETE"),
        (&restore, ContentType::Form, "_method=PUT&x=1"),
        (&at, ContentType::FormData, "_method=DELETE"),
    ] {
        let mut request = api.client.post(path).header(kind).body(body);
        request.inner_mut().set_host(host("localhost"));
        let answer = request.dispatch().await;
        assert_eq!(answer.status(), Status::UnsupportedMediaType, "{path}");
        let problem: Value = serde_json::from_str(&answer.into_string().await.expect("text")).expect("a problem");
        assert!(problem["detail"].as_str().is_some_and(|d| d.contains("never a form")));
    }
    let delete = async |header: Option<(&'static str, &'static str)>| {
        let mut request = api.client.delete(&at);
        request.inner_mut().set_host(host("localhost:8642"));
        if let Some((name, value)) = header {
            request = request.header(Header::new(name, value));
        }
        request.dispatch().await.status().code
    };
    for header in [
        ("Origin", "http://elsewhere.example"),
        ("Origin", "http://localhost:3000"),
        ("Origin", "null"),
        ("Sec-Fetch-Site", "cross-site"),
        ("Sec-Fetch-Site", "same-site"),
    ] {
        assert_eq!(delete(Some(header)).await, 403, "{header:?}");
    }
    assert_eq!(api.json("GET", &at, None).await.0, 200, "it is still there");
    assert_eq!(delete(Some(("Origin", "http://localhost:8642"))).await, 204, "the app's own pages can");
    assert_eq!(api.json("PUT", &restore, None).await.0, 204, "and what sends no origin at all, as scripts do");
}

#[test]
fn the_document_lists_every_route_and_every_reference_leads_somewhere() {
    let document: Value = serde_json::from_str(&document()).expect("JSON");
    let paths = document["paths"].as_object().expect("paths");
    for (path, method) in [
        ("/api/jobs", "get"),
        ("/api/jobs", "post"),
        ("/api/jobs/from-file", "post"),
        ("/api/jobs/{id}", "put"),
        ("/api/jobs/{id}/restore", "put"),
        ("/api/jobs/{id}/plan.svg", "get"),
        ("/api/design", "post"),
        ("/api/library", "get"),
    ] {
        assert!(paths[path].get(method).is_some(), "{method} {path}");
    }
    let schema: Value = serde_json::from_str(&job_schema()).expect("JSON");
    for (text, root) in [(document.to_string(), &document), (schema.to_string(), &schema)] {
        for reference in text.split("\"$ref\":\"").skip(1).filter_map(|r| r.split('"').next()) {
            let pointer = reference.trim_start_matches('#');
            assert!(root.pointer(pointer).is_some(), "{reference}");
        }
    }
    assert_eq!(document["components"]["schemas"]["StoredJob"]["properties"]["job"]["$ref"], "#/components/schemas/Job");
}

/// Versions of the job file from before take the same ways as today's: the floor's did not.
#[rocket::async_test]
async fn every_endpoint_that_takes_a_job_takes_an_older_one() {
    let api = Api::new().await;
    let old: Value = serde_json::from_str(include_str!("../../../core/tests/data/job-version-2.json")).expect("JSON");
    let room = old["rooms"][0]["id"].clone();
    let level = old["levels"][0]["id"].clone();
    let sweep = json!({ "spacings_m": [0.15] });
    for (path, body) in [
        ("/api/design", old.clone()),
        ("/api/floor/section", json!({ "job": old, "room_id": room, "shown": { "zone": "core" } })),
        ("/api/floor/compare", json!({ "job": old, "room_id": room, "sweep": sweep, "from": 0, "most": 1 })),
        ("/api/loops/map", json!({ "job": old, "level_id": level })),
        ("/api/import/openings", json!({ "job": old, "text": "room,wall,kind,width (m),height (m)\n" })),
    ] {
        let (status, answer) = api.json("POST", path, Some(&body)).await;
        assert_eq!(status, 200, "{path}: {answer}");
        let mut spoilt = body.clone();
        let job = if path == "/api/design" { &mut spoilt } else { &mut spoilt["job"] };
        job["rooms"][0]["height_m"] = json!(0);
        let (status, problem) = api.json("POST", path, Some(&spoilt)).await;
        assert_eq!((status, problem["field"].as_str()), (422, Some("rooms[0].height_m")), "{path}");
    }
}

/// Renaming wrote whatever was stored by then under the revision that the client had seen.
#[rocket::async_test]
async fn renaming_a_job_that_was_saved_since_changes_nothing() {
    let api = Api::new().await;
    let id = api.add_demo().await;
    let (_, read) = api.json("GET", &format!("/api/jobs/{id}"), None).await;
    let mut job = read["job"].clone();
    job["rooms"][0]["room_c"] = json!(17.0);
    assert_eq!(api.json("PUT", &format!("/api/jobs/{id}?revision=1"), Some(&job)).await.0, 200);
    let stale = api.json("POST", &format!("/api/jobs/{id}/rename?revision=1"), Some(&json!({ "name": "Other" }))).await;
    assert_eq!((stale.0, stale.1["current_revision"].as_i64()), (409, Some(2)));
    let ahead = api.json("POST", &format!("/api/jobs/{id}/rename?revision=3"), Some(&json!({ "name": "Other" }))).await;
    assert_eq!(ahead.0, 409, "nobody has seen a revision that is still to come");
    let (_, after) = api.json("GET", &format!("/api/jobs/{id}"), None).await;
    assert_eq!((after["revision"].as_i64(), &after["job"]), (Some(2), &job));
}

/// The ranges that the check reads, in the schema that forms can be made from.
#[test]
fn the_schema_has_every_range_default_and_quantity() {
    let schema: Value = serde_json::from_str(&job_schema()).expect("JSON");
    let field = |of: &str, name: &str| schema["$defs"][of]["properties"][name].clone();
    let height = field("Room", "height_m");
    let figure = |v: &Value, name: &str| v[name].as_f64();
    assert_eq!((figure(&height, "minimum"), figure(&height, "maximum")), (Some(1.5), Some(20.0)));
    assert_eq!(height["x-quantity"], "length");
    let outline = field("Room", "outline");
    assert_eq!((figure(&outline, "minItems"), figure(&outline, "maxItems")), (Some(3.0), Some(128.0)));
    assert_eq!(figure(&outline["items"]["items"], "maximum"), Some(1000.0));
    assert_eq!(figure(&field("HouseRules", "edge_band_m"), "default"), Some(0.8));
    assert_eq!(figure(&field("HouseRules", "longest_loop_m")["additionalProperties"], "minimum"), Some(10.0));
    assert_eq!(field("Air", "n50_per_h")["x-quantity"], "rate");
    let lattice = schema["$defs"]["FloorLattice"]["oneOf"].as_array().expect("variants");
    assert!(lattice.iter().any(|v| figure(&v["properties"]["side_m"], "maximum") == Some(0.4)));
    // no range is lost on the way: each stands in some field of its type
    for of in fuoco_core::chapters::ranges() {
        let text = schema["$defs"][of.name].to_string();
        for range in of.ranges {
            assert!(text.contains(&format!("\"{}\":{{", range.field)), "{}.{}", of.name, range.field);
        }
        assert!(text.contains("\"maximum\"") || text.contains("\"maxItems\""), "{}", of.name);
    }
    // and what the schema takes and refuses, the check does
    let validator = jsonschema::validator_for(&schema).expect("a schema");
    let mut job: Value = serde_json::from_str(DEMO).map(with_defaults).expect("the demo");
    assert!(validator.is_valid(&job));
    for (pointer, value) in [
        ("/rooms/0/height_m", json!(0)),
        ("/rooms/0/floor/spacing_core_m", json!(7)),
        ("/rules/spacings_m", json!([])),
        ("/manifolds/0/ports", json!(99)),
        ("/site/outdoor_c", json!(99)),
    ] {
        let before = std::mem::replace(job.pointer_mut(pointer).expect("there"), value);
        assert!(!validator.is_valid(&job), "{pointer}");
        assert!(fuoco_core::job::CheckedJob::from_json(&job.to_string()).is_err(), "{pointer}");
        *job.pointer_mut(pointer).expect("there") = before;
    }
}

/// What the docs say is what the code says.
#[test]
fn the_docs_tell_the_version_that_is_written() {
    let docs = include_str!("../../../../docs/job-format.md");
    assert!(docs.contains(&format!("`version` is {}.", fuoco_core::job::VERSION)));
}

#[rocket::async_test]
async fn a_job_begins_with_what_is_usual_and_is_summed_up_and_put_by() {
    let api = Api::new().await;
    let start = json!({ "name": "Barn", "kind": "hall", "units": "us", "place": "Alderfell", "outdoor_c": -20.0 });
    let (status, made) = api.json("POST", "/api/jobs", Some(&start)).await;
    assert_eq!(status, 200, "{made}");
    assert_eq!(made["job"]["site"]["units"], "us");
    assert_eq!(made["job"]["first_room"]["floor"]["build_up_id"], "slab-mesh");
    let (status, refused) = api.json("POST", "/api/jobs", Some(&json!({ "name": "Cold", "outdoor_c": -200.0 }))).await;
    assert_eq!((status, refused["field"].as_str()), (422, Some("site.outdoor_c")), "{refused}");
    let (status, refused) = api.json("POST", "/api/jobs", Some(&json!({ "name": "Odd", "kind": "igloo" }))).await;
    assert_eq!(status, 422, "{refused}");

    let at = format!("/api/jobs/{}", made["id"].as_str().expect("id"));
    let (_, empty) = api.json("GET", &format!("{at}/summary"), None).await;
    assert_eq!((empty["loops"].as_u64(), empty["stage"].as_str()), (Some(0), Some("new")), "{empty}");
    let id = api.add_demo().await;
    let (status, sum) = api.json("GET", &format!("/api/jobs/{id}/summary"), None).await;
    assert_eq!(status, 200);
    assert!(sum["loops"].as_u64() > Some(5) && sum["supply_c"].as_f64() > Some(30.0), "{sum}");
    assert_eq!((sum["errors"].as_u64(), sum["stage"].as_str()), (Some(0), Some("laid")), "{sum}");

    let path = format!("/api/jobs/{id}/thumbnail.svg");
    let picture = api.send("GET", &path, None).await;
    assert_eq!(picture.content_type(), Some(ContentType::SVG));
    assert!(picture.into_string().await.expect("svg").matches("<path").count() > 3);
    for path in ["summary", "thumbnail.svg"] {
        assert_eq!(api.json("GET", &format!("/api/jobs/none/{path}"), None).await.0, 404);
    }

    assert_eq!(api.json("PUT", &format!("{at}/archive"), None).await.0, 204);
    let (_, list) = api.json("GET", "/api/jobs", None).await;
    let archived: Vec<_> = list.as_array().expect("list").iter().map(|j| j["archived"].as_bool()).collect();
    assert_eq!(archived.iter().filter(|a| **a == Some(true)).count(), 1, "{list}");
    assert_eq!(api.json("DELETE", &format!("{at}/archive"), None).await.0, 204);
}

#[rocket::async_test]
async fn start_up_follows_its_records_in_the_units_asked_for_and_a_visit_is_ranked() {
    let api = Api::new().await;
    let id = api.add_demo().await;
    let start_up = |units: &str| format!("/api/jobs/{id}/start-up{units}");
    let (status, start) = api.json("GET", &start_up(""), None).await;
    assert_eq!((status, start["manifolds"][0]["pass"].as_i64()), (200, Some(1)), "{start}");
    let text = |start: &Value| start["steps"][2]["text"].as_str().expect("a text").to_owned();
    assert!(text(&start).contains("L/min"), "{}", text(&start));
    assert!(text(&api.json("GET", &start_up("?units=us"), None).await.1).contains("gpm"));
    let (status, refused) = api.json("GET", &start_up("?units=old"), None).await;
    assert_eq!((status, &refused["field"]), (422, &json!("units")));
    let ticked = json!({ "id": "record-1", "at": "2026-12-01T08:00:00Z",
        "fact": { "kind": "ticked", "item": "startup/flush", "done": true } });
    assert_eq!(api.json("POST", &format!("/api/jobs/{id}/records"), Some(&ticked)).await.0, 200);
    assert_eq!(api.json("GET", &start_up(""), None).await.1["steps"][0]["done"], json!(true));

    let job = api.json("GET", &format!("/api/jobs/{id}"), None).await.1["job"].clone();
    let visit = |value: f64| {
        let shut = json!({ "quantity": "valve_open", "subject": "A1", "value": 0 });
        let flow = json!({ "quantity": "flow_l_min", "subject": "A1", "value": value });
        let other = json!({ "quantity": "flow_l_min", "subject": "A5", "value": 2.6 });
        json!({ "job": job, "readings": [flow, other, shut] })
    };
    let (status, ranking) = api.json("POST", "/api/service", Some(&visit(0.0))).await;
    let first = &ranking["causes"][0];
    assert_eq!((status, &first["fault"], &first["where"]), (200, &json!("valve_shut"), &json!("A1")), "{first}");
    let (status, refused) = api.json("POST", "/api/service", Some(&visit(-1.0))).await;
    assert_eq!((status, &refused["field"]), (422, &json!("readings[0].value")), "{refused}");
}

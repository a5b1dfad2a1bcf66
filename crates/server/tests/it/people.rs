//! A server that others reach: signing in, roles, links, what is written down.

use fuoco_server::{DEMO, Listen, Reach, build};
use fuoco_store::{Role, Store};
use rocket::http::uri::{Authority, Host};
use rocket::http::{ContentType, Method, Status};
use rocket::local::asynchronous::{Client, LocalResponse};
use serde_json::{Value, json};
use tempfile::TempDir;

const PASSWORD: &str = "seven warm floors";

struct Firm {
    client: Client,
    store: Store,
    _folder: TempDir,
}

struct Answer {
    status: Status,
    body: Value,
    cookie: Option<String>,
    headers: Vec<(String, String)>,
}

impl Firm {
    /// A firm with an owner, a designer and one of a crew.
    async fn new() -> Firm {
        let folder = tempfile::tempdir().expect("folder");
        let store = Store::open(folder.path()).await.expect("opens");
        for (name, role) in [("Ada", Role::Owner), ("Ben", Role::Designer), ("Cleo", Role::Crew)] {
            store.add_person(name, role, PASSWORD).await.expect("a person");
        }
        let reach = Reach { exposed: true, names: vec!["office.example".into()], proxies: vec![] };
        let listen = Listen { bind: "127.0.0.1:0".parse().expect("address"), reach, tls: None, instruments: vec![] };
        let client = Client::untracked(build(store.clone(), listen)).await.expect("ignites");
        Firm { client, store, _folder: folder }
    }

    async fn ask(&self, method: Method, path: &str, cookie: Option<&str>, body: Option<Value>) -> Answer {
        let mut request = self.client.req(method, path.to_owned());
        request.inner_mut().set_host(Host::from(Authority::parse("office.example").expect("host")));
        request.set_remote("10.0.0.7:5000".parse().expect("address"));
        if let Some(token) = cookie {
            request = request.cookie(("__Host-fuoco", token.to_owned()));
        }
        if let Some(body) = body {
            request = request.header(ContentType::JSON).body(body.to_string());
        }
        read(request.dispatch().await).await
    }

    async fn get(&self, path: &str, cookie: &str) -> Answer {
        self.ask(Method::Get, path, Some(cookie), None).await
    }

    async fn sign_in(&self, name: &str) -> String {
        let body = json!({ "name": name, "password": PASSWORD });
        let answer = self.ask(Method::Post, "/api/session", None, Some(body)).await;
        assert_eq!(answer.status, Status::Ok, "{}", answer.body);
        answer.cookie.expect("a session")
    }

    async fn demo(&self, cookie: &str) -> String {
        let demo: Value = serde_json::from_str(DEMO).expect("the demo");
        let made = self.ask(Method::Post, "/api/jobs/from-file", Some(cookie), Some(demo)).await;
        made.body["id"].as_str().expect("an id").to_owned()
    }
}

async fn read(answer: LocalResponse<'_>) -> Answer {
    let status = answer.status();
    let headers: Vec<(String, String)> =
        answer.headers().iter().map(|h| (h.name().to_string(), h.value().to_owned())).collect();
    let cookie = headers
        .iter()
        .filter(|(n, _)| n.eq_ignore_ascii_case("set-cookie"))
        .filter_map(|(_, v)| v.strip_prefix("__Host-fuoco=")?.split(';').next())
        .find(|v| !v.is_empty())
        .map(str::to_owned);
    let body = serde_json::from_slice(&answer.into_bytes().await.unwrap_or_default()).unwrap_or(Value::Null);
    Answer { status, body, cookie, headers }
}

#[rocket::async_test]
async fn nobody_reads_anything_before_signing_in() {
    let firm = Firm::new().await;
    for path in [
        "/api/jobs",
        "/api/people",
        "/api/firm",
        "/api/library",
        "//api/people",
        "/api//people",
        "/api/jobs/",
        "/api/nothing",
    ] {
        let answer = firm.ask(Method::Get, path, None, None).await;
        assert!(matches!(answer.status.code, 401 | 404), "{path}: {}", answer.status);
        assert_ne!(answer.body["type"], json!(null), "{path}");
    }
    let job = json!({ "name": "x" });
    assert_eq!(firm.ask(Method::Post, "/api/jobs", None, Some(job)).await.status, Status::Unauthorized);
    let who = firm.ask(Method::Get, "/api/session", None, None).await;
    assert_eq!((who.status, &who.body["needed"], &who.body["role"]), (Status::Ok, &json!(true), &Value::Null));
    // what is made up is no session
    for made_up in ["", "x", &"0".repeat(64)] {
        assert_eq!(firm.get("/api/jobs", made_up).await.status, Status::Unauthorized);
    }
    for name in ["health", "version"] {
        assert_eq!(firm.ask(Method::Get, &format!("/api/{name}"), None, None).await.status, Status::Ok);
    }
}

#[rocket::async_test]
async fn each_role_does_what_is_its_own_and_saves_bear_a_name() {
    let firm = Firm::new().await;
    let (ada, ben, cleo) = (firm.sign_in("Ada").await, firm.sign_in("ben").await, firm.sign_in("Cleo").await);
    let id = firm.demo(&ben).await;
    assert_eq!(firm.get("/api/people", &ada).await.body.as_array().map(Vec::len), Some(3));
    assert_eq!(firm.get("/api/people", &ben).await.status, Status::Forbidden);
    // the crew reads the job without its prices, and saves nothing
    let priced = |job: &Value| job["job"]["purchasing"]["prices"]["rows"].as_array().map_or(0, Vec::len);
    let (his, hers) =
        (firm.get(&format!("/api/jobs/{id}"), &ben).await, firm.get(&format!("/api/jobs/{id}"), &cleo).await);
    assert!(priced(&his.body) > 0 && priced(&hers.body) == 0);
    let put =
        firm.ask(Method::Put, &format!("/api/jobs/{id}?revision=1"), Some(&cleo), Some(his.body["job"].clone())).await;
    assert_eq!(put.status, Status::Forbidden);
    assert_eq!(firm.get(&format!("/api/jobs/{id}/papers/quote.pdf"), &cleo).await.status, Status::Forbidden);
    let papers = firm.get(&format!("/api/jobs/{id}/papers"), &cleo).await.body;
    assert!(papers.as_array().expect("a list").iter().all(|p| p["code"] != "quote" && p["code"] != "materials"));

    let saved =
        firm.ask(Method::Put, &format!("/api/jobs/{id}?revision=1"), Some(&ada), Some(his.body["job"].clone())).await;
    assert_eq!(saved.body["revision"], 2);
    let history = firm.get(&format!("/api/jobs/{id}/revisions"), &ben).await.body;
    let who: Vec<_> = history.as_array().expect("a list").iter().map(|r| r["who"].as_str().expect("a name")).collect();
    assert_eq!(who, ["Ada", "Ben"]);
    let then = firm.get(&format!("/api/jobs/{id}/revisions/1/summary"), &ben).await.body;
    assert!(then["loops"].as_u64().expect("loops") > 3);

    assert_eq!(firm.ask(Method::Delete, &format!("/api/jobs/{id}"), Some(&ben), None).await.status, Status::NoContent);
    let deeds = firm.get("/api/deeds", &ada).await.body;
    assert!(
        deeds
            .as_array()
            .expect("a list")
            .iter()
            .any(|d| d["who"] == "Ben" && d["what"] == "deleted the job" && d["job_id"] == id)
    );
}

#[rocket::async_test]
async fn a_wrong_password_is_told_like_a_wrong_name_and_tries_take_longer() {
    let firm = Firm::new().await;
    let attempt = async |name: &str| {
        let body = json!({ "name": name, "password": "not this one at all" });
        firm.ask(Method::Post, "/api/session", None, Some(body)).await
    };
    let (known, unknown) = (attempt("Ada").await, attempt("Zoe").await);
    assert_eq!((known.status, known.body["detail"].clone()), (unknown.status, unknown.body["detail"].clone()));
    assert_eq!(known.status, Status::Unauthorized);
    for _ in 0..4 {
        attempt("Ada").await;
    }
    let refused = attempt("Ada").await;
    assert_eq!(refused.status, Status::TooManyRequests);
    assert!(refused.body["detail"].as_str().expect("why").contains("Try again in"));
    // the right one waits as well
    let right = json!({ "name": "Ada", "password": PASSWORD });
    assert_eq!(firm.ask(Method::Post, "/api/session", None, Some(right)).await.status, Status::TooManyRequests);
    assert_eq!(firm.sign_in("Ben").await.len(), 64, "others are not kept out");
    let deeds = firm.store.deeds(20).await.expect("deeds");
    let wrong = |who: &str| {
        deeds.iter().any(|d| d.who == who && d.what.contains("wrong name or password") && d.detail == "10.0.0.7")
    };
    // what is no name may be a password in the wrong field: it is not written down
    assert!(wrong("Ada") && wrong("somebody unknown") && deeds.iter().all(|d| d.who != "Zoe"));
}

#[rocket::async_test]
async fn a_session_ends_when_it_should() {
    let firm = Firm::new().await;
    let (one, two) = (firm.sign_in("Ben").await, firm.sign_in("Ben").await);
    let out = firm.ask(Method::Delete, "/api/session", Some(&one), None).await;
    assert_eq!(out.status, Status::NoContent);
    assert_eq!(firm.get("/api/jobs", &one).await.status, Status::Unauthorized);
    assert_eq!(firm.get("/api/jobs", &two).await.status, Status::Ok);
    // another password ends all others, and goes on with this one
    let change = json!({ "old": PASSWORD, "new": "eight warmer floors" });
    let changed = firm.ask(Method::Put, "/api/session/password", Some(&two), Some(change)).await;
    assert_eq!(changed.status, Status::NoContent, "{}", changed.body);
    assert_eq!(firm.get("/api/jobs", &two).await.status, Status::Unauthorized);
    let new = changed.cookie.expect("a new session");
    let deeds = firm.store.deeds(20).await.expect("deeds");
    assert!(deeds.iter().any(|d| d.who == "Ben" && d.what == "changed their password"));
    assert_eq!(firm.get("/api/jobs", &new).await.status, Status::Ok);
    let short = json!({ "old": "eight warmer floors", "new": "short" });
    let refused = firm.ask(Method::Put, "/api/session/password", Some(&new), Some(short)).await;
    assert_eq!((refused.status, refused.body["field"].clone()), (Status::UnprocessableEntity, json!("new")));
    // taken off the list
    let ada = firm.sign_in("Ada").await;
    let people = firm.get("/api/people", &ada).await.body;
    let id_of = |name: &str| {
        people.as_array().expect("a list").iter().find(|p| p["name"] == name).expect("there")["id"]
            .as_str()
            .expect("an id")
            .to_owned()
    };
    assert_eq!(
        firm.ask(Method::Delete, &format!("/api/people/{}", id_of("Ben")), Some(&ada), None).await.status,
        Status::NoContent
    );
    assert_eq!(firm.get("/api/jobs", &new).await.status, Status::Unauthorized);
    // somebody stays owner
    let last = firm.ask(Method::Delete, &format!("/api/people/{}", id_of("Ada")), Some(&ada), None).await;
    assert_eq!((last.status, last.body["field"].clone()), (Status::UnprocessableEntity, json!("role")));
}

#[rocket::async_test]
async fn a_link_leads_to_one_job_until_it_is_taken_back() {
    let firm = Firm::new().await;
    let ben = firm.sign_in("Ben").await;
    let (id, other) = (firm.demo(&ben).await, firm.demo(&ben).await);
    let make = |purpose: &str, days: u32| json!({ "purpose": purpose, "name": "Inspector of Alderfell", "days": days });
    let made = firm.ask(Method::Post, &format!("/api/jobs/{id}/links"), Some(&ben), Some(make("papers", 30))).await;
    let token = made.body["token"].as_str().expect("a token").to_owned();
    assert_eq!(made.body["address"], json!(format!("https://office.example/link#{token}")));
    assert!(made.body["code"].as_str().expect("a code").starts_with("<svg"));
    let opened = firm.ask(Method::Post, "/api/links/open", None, Some(json!({ "token": token }))).await;
    assert_eq!(opened.body["job_id"], json!(id));
    let guest = opened.cookie.expect("a session");
    let pdf = firm.get(&format!("/api/jobs/{id}/papers/owners-sheet.pdf"), &guest).await;
    assert_eq!(pdf.status, Status::Ok);
    for path in [
        format!("/api/jobs/{id}"),
        format!("/api/jobs/{id}/papers/quote.pdf"),
        format!("/api/jobs/{other}/papers/owners-sheet.pdf"),
        "/api/jobs".into(),
        "/api/firm".into(),
    ] {
        assert_eq!(firm.get(&path, &guest).await.status, Status::Forbidden, "{path}");
    }
    let crew = firm.ask(Method::Post, &format!("/api/jobs/{id}/links"), Some(&ben), Some(make("crew", 30))).await;
    let opened = firm.ask(Method::Post, "/api/links/open", None, Some(json!({ "token": crew.body["token"] }))).await;
    let on_site = opened.cookie.expect("a session");
    assert_eq!(firm.get(&format!("/api/jobs/{id}"), &on_site).await.status, Status::Ok);
    assert_eq!(firm.get(&format!("/api/jobs/{other}"), &on_site).await.status, Status::Forbidden);

    let link = made.body["link"]["id"].as_str().expect("an id");
    let back = firm.ask(Method::Delete, &format!("/api/jobs/{id}/links/{link}"), Some(&ben), None).await;
    assert_eq!(back.status, Status::NoContent);
    assert_eq!(firm.get(&format!("/api/jobs/{id}/papers"), &guest).await.status, Status::Unauthorized);
    let again = firm.ask(Method::Post, "/api/links/open", None, Some(json!({ "token": token }))).await;
    assert_eq!(again.status, Status::Unauthorized);
    for (body, field) in [(make("crew", 0), "days"), (json!({ "purpose": "crew", "name": " ", "days": 3 }), "name")] {
        let refused = firm.ask(Method::Post, &format!("/api/jobs/{id}/links"), Some(&ben), Some(body)).await;
        assert_eq!((refused.status, refused.body["field"].clone()), (Status::UnprocessableEntity, json!(field)));
    }
    // what is deleted is read by no link
    firm.ask(Method::Delete, &format!("/api/jobs/{id}"), Some(&ben), None).await;
    assert_eq!(firm.get(&format!("/api/jobs/{id}"), &on_site).await.status, Status::Unauthorized);
}

#[rocket::async_test]
async fn answers_of_the_api_are_kept_by_no_cache_and_numbered() {
    let firm = Firm::new().await;
    let ben = firm.sign_in("Ben").await;
    let answer = firm.get("/api/jobs", &ben).await;
    let header =
        |name: &str| answer.headers.iter().find(|(n, _)| n.eq_ignore_ascii_case(name)).map(|(_, v)| v.as_str());
    assert_eq!(header("Cache-Control"), Some("no-store"));
    assert!(header("X-Request-Id").is_some_and(|id| id.contains('-')));
    assert!(header("Strict-Transport-Security").is_some());
    let mut elsewhere = firm.client.get("/api/jobs").cookie(("__Host-fuoco", ben.clone()));
    elsewhere.inner_mut().set_host(Host::from(Authority::parse("evil.example").expect("host")));
    assert_eq!(elsewhere.dispatch().await.status(), Status::Forbidden);
}

#[rocket::async_test]
async fn behind_a_proxy_only_the_proxy_is_answered_and_only_it_is_believed() {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    store.add_person("Ada", Role::Owner, PASSWORD).await.expect("a person");
    let reach = Reach {
        exposed: true,
        names: vec!["office.example".into()],
        proxies: vec!["10.0.0.2".parse().expect("address")],
    };
    let listen = Listen { bind: "127.0.0.1:0".parse().expect("address"), reach, tls: None, instruments: vec![] };
    let client = Client::untracked(build(store.clone(), listen)).await.expect("ignites");
    let attempt = async |peer: &str, said: &str| {
        let mut request = client
            .post("/api/session")
            .header(ContentType::JSON)
            .body(r#"{"name":"Ada","password":"wrong wrong wrong"}"#);
        request.inner_mut().set_host(Host::from(Authority::parse("office.example").expect("host")));
        request.set_remote(format!("{peer}:99").parse().expect("address"));
        request.add_header(rocket::http::Header::new("X-Forwarded-For", said.to_owned()));
        read(request.dispatch().await).await.status
    };
    assert_eq!(attempt("10.0.0.3", "1.2.3.4").await, Status::Forbidden);
    // whatever a client writes before it, the proxy's own word comes last
    assert_eq!(attempt("10.0.0.2", "9.9.9.9, 1.2.3.4").await, Status::Unauthorized);
    assert_eq!(store.deeds(1).await.expect("deeds")[0].detail, "1.2.3.4");
    assert_eq!(attempt("10.0.0.2", "no address").await, Status::Unauthorized);
    assert_eq!(store.deeds(1).await.expect("deeds")[0].detail, "10.0.0.2");
}

#[rocket::async_test]
async fn word_of_saves_is_for_those_who_may_read_the_job() {
    let firm = Firm::new().await;
    let (ben, cleo) = (firm.sign_in("Ben").await, firm.sign_in("Cleo").await);
    let id = firm.demo(&ben).await;
    let path = format!("/api/jobs/{id}/events?window=window-of-cleo");
    assert_eq!(firm.ask(Method::Get, &path, None, None).await.status, Status::Unauthorized);
    let mut request = firm.client.get(path).cookie(("__Host-fuoco", cleo.clone()));
    request.inner_mut().set_host(Host::from(Authority::parse("office.example").expect("host")));
    let mut stream = request.dispatch().await;
    assert_eq!((stream.status(), stream.content_type()), (Status::Ok, Some(ContentType::EventStream)));
    let mut heard = String::new();
    let mut bytes = [0u8; 4096];
    let job = firm.get(&format!("/api/jobs/{id}"), &ben).await.body["job"].clone();
    let save = firm.ask(Method::Put, &format!("/api/jobs/{id}?revision=1"), Some(&ben), Some(job)).await;
    assert_eq!(save.body["revision"], 2);
    while !heard.contains(r#""revision":2"#) {
        use rocket::tokio::io::AsyncReadExt;
        let n = stream.read(&mut bytes).await.expect("reads");
        assert!(n > 0, "it ended: {heard}");
        heard += &String::from_utf8_lossy(&bytes[..n]);
    }
    assert!(heard.contains("event:people") && heard.contains(r#""name":"Cleo""#), "{heard}");
    assert!(heard.contains("event:saved") && heard.contains(r#""who":"Ben""#), "{heard}");
    for (path, status) in [
        (format!("/api/jobs/{id}/events?window=short"), Status::UnprocessableEntity),
        ("/api/jobs/none/events?window=window-of-cleo".into(), Status::NotFound),
    ] {
        assert_eq!(firm.get(&path, &cleo).await.status, status, "{path}");
    }
}

/// One red pixel.
const PHOTO: &[u8] = &[
    0x89, b'P', b'N', b'G', 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, b'I', b'H', b'D', b'R', 0, 0, 0, 1, 0, 0, 0, 1, 8, 2,
    0, 0, 0, 0x90, 0x77, 0x53, 0xde, 0, 0, 0, 12, b'I', b'D', b'A', b'T', 8, 0xd7, 0x63, 0xf8, 0xcf, 0xc0, 0, 0, 3, 1,
    1, 0, 0x18, 0xdd, 0x8d, 0xb0, 0, 0, 0, 0, b'I', b'E', b'N', b'D', 0xae, 0x42, 0x60, 0x82,
];

/// The demo's crew has been at work: its records are about loops that the demo has, and its test is not done.
#[rocket::async_test]
async fn the_demos_records_belong_to_its_loops() {
    let firm = Firm::new().await;
    let ben = firm.sign_in("Ben").await;
    let id = firm.demo(&ben).await;
    for record in fuoco_server::demo_records(std::time::SystemTime::now()).expect("they read") {
        firm.store.add_record(&id, &record).await.expect("kept");
    }
    // every kind of record is what the document of the API says
    let kept = firm.get(&format!("/api/jobs/{id}/records"), &ben).await.body;
    let mut schema: Value = serde_json::from_str(&fuoco_server::document()).expect("JSON");
    schema["$ref"] = json!("#/components/schemas/Entry");
    let validator = jsonschema::validator_for(&schema).expect("a schema");
    for entry in kept.as_array().expect("a list") {
        assert!(validator.is_valid(entry), "{entry}");
    }
    let mut wrong = kept[0].clone();
    wrong["record"]["fact"]["step"] = json!("sung");
    assert!(!validator.is_valid(&wrong));
    let log = firm.get(&format!("/api/jobs/{id}/laying"), &ben).await.body;
    let steps = |step: &str| log["loops"].as_array().expect("loops").iter().filter(|l| l["step"] == step).count();
    assert_eq!(
        (log["gone"].as_array().map(Vec::len), steps("seen"), steps("fixed"), steps("on_floor")),
        (Some(0), 2, 2, 1)
    );
    // marks that are wrong by a metre would ask for a reason
    assert!(log["loops"].as_array().expect("loops").iter().all(|l| l["wants_reason"] == false), "{log}");
    assert_eq!(
        (log["harms"].as_array().map(Vec::len), &log["harms"][0]["harm"]["mend"]),
        (Some(1), &json!("coupling"))
    );
    let tests = firm.get(&format!("/api/jobs/{id}/pressure-tests"), &ben).await.body;
    assert_eq!(
        (&tests["tests"][0]["result"]["verdict"], &tests["tests"][0]["trouble"]),
        (&json!("not_proven"), &json!("")),
        "{tests}"
    );
}

#[rocket::async_test]
async fn a_crew_adds_records_by_its_link_and_the_office_reads_them() {
    let firm = Firm::new().await;
    let ben = firm.sign_in("Ben").await;
    let (id, other) = (firm.demo(&ben).await, firm.demo(&ben).await);
    let open = async |purpose: &str| {
        let link = json!({ "purpose": purpose, "name": "Van 3", "days": 30 });
        let made = firm.ask(Method::Post, &format!("/api/jobs/{id}/links"), Some(&ben), Some(link)).await;
        let body = json!({ "token": made.body["token"] });
        firm.ask(Method::Post, "/api/links/open", None, Some(body)).await.cookie.expect("a session")
    };
    let (crew, owner) = (open("crew").await, open("papers").await);
    let record = |id: &str, fact: Value| json!({ "id": id, "at": "2026-11-30T07:12:00Z", "fact": fact });
    let add = async |who: &str, job: &str, body: Value| {
        firm.ask(Method::Post, &format!("/api/jobs/{job}/records"), Some(who), Some(body)).await
    };

    let log = firm.get(&format!("/api/jobs/{id}/laying"), &crew).await;
    let first = &log.body["loops"][0];
    let (loop_id, drawn) = (first["loop_id"].clone(), first["drawn_m"].as_f64().expect("a length"));
    assert_eq!(first["step"], "not_started");
    let laid = json!({ "kind": "laid", "loop_id": loop_id, "step": "fixed", "coil": "K1", "start_m": 2.0, "end_m": 2.0 + drawn + 3.0 });
    let kept = add(&crew, &id, record("record-1", laid.clone())).await;
    assert_eq!((kept.status, &kept.body["who"]), (Status::Ok, &json!("Van 3 (link)")), "{}", kept.body);
    assert_eq!(add(&crew, &id, record("record-1", laid.clone())).await.body["number"], kept.body["number"]);

    let log = firm.get(&format!("/api/jobs/{id}/laying"), &ben).await.body;
    let now =
        log["loops"].as_array().expect("loops").iter().find(|l| l["loop_id"] == loop_id).expect("the loop").clone();
    assert_eq!((&now["step"], &now["wants_reason"]), (&json!("fixed"), &json!(true)), "three metres more than drawn");
    // a photo first, then the record that shows it
    let harm = json!({ "kind": "harm", "loop_id": loop_id, "harm": "kink", "mend": "coupling", "mark_m": 7.5 });
    let mut shown = record("record-2", harm);
    shown["photos"] = json!(["0".repeat(64)]);
    let early = add(&crew, &id, shown.clone()).await;
    assert_eq!((early.status, &early.body["field"]), (Status::UnprocessableEntity, &json!("photos[0]")));
    let mut sending = firm.client.post(format!("/api/jobs/{id}/photos"));
    sending.inner_mut().set_host(Host::from(Authority::parse("office.example").expect("host")));
    sending.set_remote("10.0.0.7:5000".parse().expect("address"));
    let sent = sending.cookie(("__Host-fuoco", crew.clone())).header(ContentType::PNG).body(PHOTO).dispatch().await;
    let photo = read(sent).await.body["id"].clone();
    shown["photos"] = json!([photo]);
    assert_eq!(add(&crew, &id, shown).await.status, Status::Ok);
    let log = firm.get(&format!("/api/jobs/{id}/laying"), &ben).await.body;
    assert_eq!(log["harms"][0]["photos"], json!([photo]));
    assert!(log["harms"][0]["position"].is_array(), "the mark tells where on the plan it is");

    // what is not theirs
    assert_eq!(add(&crew, &other, record("record-3", laid.clone())).await.status, Status::Forbidden);
    assert_eq!(add(&owner, &id, record("record-3", laid.clone())).await.status, Status::Forbidden);
    assert_eq!(firm.get(&format!("/api/jobs/{id}/records"), &owner).await.status, Status::Forbidden);
    let mut changed = record("record-1", laid);
    changed["note"] = json!("changed");
    let replayed = add(&crew, &id, changed).await;
    assert_eq!((replayed.status, &replayed.body["field"]), (Status::UnprocessableEntity, &json!("id")));
    let late = firm.get(&format!("/api/jobs/{id}/records?after={}", kept.body["number"]), &ben).await.body;
    assert_eq!(late.as_array().map(Vec::len), Some(1));
}

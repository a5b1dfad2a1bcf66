//! What every request must show and every answer carries.

use rocket::data::{Data, FromData, Outcome};
use rocket::fairing::{Fairing, Info, Kind};
use rocket::http::{ContentType, Header, Method, Status};
use rocket::tokio::time::timeout;
use rocket::{Request, Response};
use std::net::IpAddr;
use std::time::Duration;

use crate::access::{self, May};
use crate::instruments::Instruments;
use crate::problem::Problem;
use fuoco_core::error::FieldError;
use fuoco_core::job::CheckedJob;

/// A body that has not come after so long does not come.
const LONGEST_BODY: Duration = Duration::from_secs(60);

/// Headers that keep a browser from doing what the app never needs.
pub struct Headers;

#[rocket::async_trait]
impl Fairing for Headers {
    fn info(&self) -> Info {
        Info { name: "headers", kind: Kind::Response }
    }

    async fn on_response<'r>(&self, request: &'r Request<'_>, response: &mut Response<'r>) {
        let exposed = access::reach(request).is_some_and(|r| r.exposed);
        if exposed {
            response.set_header(Header::new("Strict-Transport-Security", "max-age=31536000"));
        }
        if let Some(token) = &request.local_cache(access::Renewed::default).0 {
            response.adjoin_header(Header::from(access::cookie(token.clone(), true)));
        }
        // what one person reads is no other's, and no cache's
        if request.uri().path().starts_with("/api") && response.headers().get_one("Cache-Control").is_none() {
            response.set_header(Header::new("Cache-Control", "no-store"));
        }
        let known = request.rocket().state::<Instruments>().map_or(&[][..], |i| &i.0);
        let instruments: String = known.iter().map(|i| format!(" {}", i.origin())).collect();
        for (name, value) in [
            (
                "Content-Security-Policy",
                format!(
                    "default-src 'self'; connect-src 'self'{instruments}; img-src 'self' data: blob:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'none'"
                ),
            ),
            ("X-Content-Type-Options", "nosniff".into()),
            ("Referrer-Policy", "no-referrer".into()),
            ("Cross-Origin-Opener-Policy", "same-origin".into()),
            ("Cross-Origin-Resource-Policy", "same-origin".into()),
        ] {
            response.set_header(Header::new(name, value));
        }
    }
}

/// Why a request is not answered.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Refusal {
    /// It names another host: a page elsewhere lets its own name point here.
    Host,
    /// A page of another origin asks for a change.
    Origin,
    /// It comes past the proxies that this server stands behind.
    Proxy,
    /// First say who you are.
    SignIn,
    /// Whoever asks may not.
    Person,
    /// It is a form. Nothing here takes forms, and a form of any page can be sent here without being asked.
    Form,
}

/// Turns away what no page of this server sends, before any route sees it.
pub struct Gate;

#[rocket::async_trait]
impl Fairing for Gate {
    fn info(&self) -> Info {
        Info { name: "gate", kind: Kind::Request }
    }

    async fn on_request(&self, request: &mut Request<'_>, _: &mut Data<'_>) {
        let refusal = match refusal(request) {
            Some(refusal) => Some(refusal),
            None => unasked(request).await,
        };
        let Some(refusal) = refusal else { return };
        request.local_cache(|| Some(refusal));
        // there is no such route: the catcher answers with the refusal
        request.set_method(Method::Get);
        request.set_uri(rocket::uri!("/api/-/refused"));
    }
}

/// The refusal that the gate put on a request.
pub(crate) fn refused_by_gate(request: &Request<'_>) -> Option<Refusal> {
    *request.local_cache(|| None)
}

/// Whether whoever asks may have an answer.
async fn unasked(request: &Request<'_>) -> Option<Refusal> {
    let uri = request.uri().path();
    let mut parts = uri.segments();
    // pages are the same for everybody; what is on them comes from the API
    if parts.next() != Some("api") {
        return None;
    }
    let path: Vec<&str> = parts.collect();
    match access::find(request).await.may(request.method(), &path) {
        May::Yes => None,
        May::SignIn => Some(Refusal::SignIn),
        May::No => Some(Refusal::Person),
    }
}

fn refusal(request: &Request<'_>) -> Option<Refusal> {
    let reach = access::reach(request)?;
    // in memory, as tests ask, there is no peer
    let peer = request.remote().map(|r| r.ip());
    if !reach.proxies.is_empty() && peer.is_some_and(|p| !reach.proxies.contains(&p)) {
        return Some(Refusal::Proxy);
    }
    let host = request.host();
    let known = host.is_some_and(|h| {
        let name = h.domain().as_str().trim_matches(['[', ']']);
        let local = name == "localhost" || name.parse::<IpAddr>().is_ok_and(|ip| ip.is_loopback());
        local || reach.names.iter().any(|n| n.eq_ignore_ascii_case(name))
    });
    if !known {
        return Some(Refusal::Host);
    }
    // the framework lets a form's field `_method` stand for its method, so its method says nothing
    if request.content_type().is_some_and(|c| c.is_form() || c.is_form_data()) {
        return Some(Refusal::Form);
    }
    if matches!(request.method(), Method::Get | Method::Head) {
        return None;
    }
    let headers = request.headers();
    let origin = headers.get_one("Origin");
    let own = |origin: &str| host.is_some_and(|h| origin.split_once("://").is_some_and(|o| *h == *o.1));
    let elsewhere = headers.get_one("Sec-Fetch-Site").is_some_and(|site| site != "same-origin" && site != "none");
    (elsewhere || origin.is_some_and(|o| !own(o))).then_some(Refusal::Origin)
}

/// A JSON body of at most the server's limit, as text.
pub struct JsonText(pub String);

/// A JSON body that carries a whole file besides the job, as text.
pub struct LargeJsonText(pub String);

/// A file as it is, of at most the server's limit for pictures.
pub struct FileBytes(pub Vec<u8>);

/// A packed job with its files.
pub struct BundleBytes(pub Vec<u8>);

fn refused<T>(status: Status, title: &str, detail: impl Into<String>) -> Result<T, Problem> {
    Err(Problem::new(status, title, detail))
}

async fn bytes(request: &Request<'_>, data: Data<'_>, limit: &str) -> Result<Vec<u8>, Problem> {
    let limit = request.limits().get(limit).unwrap_or_default();
    let Ok(read) = timeout(LONGEST_BODY, data.open(limit).into_bytes()).await else {
        return refused(Status::RequestTimeout, "Too slow", "The rest of the request did not come in time.");
    };
    match read {
        Ok(bytes) if bytes.is_complete() => Ok(bytes.into_inner()),
        Ok(_) => refused(Status::PayloadTooLarge, "Too large", format!("More than {limit}.")),
        Err(e) => refused(Status::BadRequest, "Broken off", e.to_string()),
    }
}

async fn json(request: &Request<'_>, data: Data<'_>, limit: &str) -> Result<String, Problem> {
    if request.content_type() != Some(&ContentType::JSON) {
        return refused(Status::UnsupportedMediaType, "Wrong content type", "Send JSON.");
    }
    String::from_utf8(bytes(request, data, limit).await?)
        .or_else(|e| refused(Status::BadRequest, "Not text", e.to_string()))
}

/// Files are sent as what they are or as bytes, never as a form: another site's page cannot send that here.
async fn file(request: &Request<'_>, data: Data<'_>, limit: &str) -> Result<Vec<u8>, Problem> {
    let sent = request.content_type().map(|c| c.media_type().clone());
    let form = sent.as_ref().is_none_or(|m| m.is_form() || m.is_form_data() || m.is_plain());
    if form {
        let detail = "Send the file as application/octet-stream or as what it is.";
        return refused(Status::UnsupportedMediaType, "Wrong content type", detail);
    }
    bytes(request, data, limit).await
}

fn outcome<'r, T>(result: Result<T, Problem>) -> Outcome<'r, T, Problem> {
    match result {
        Ok(value) => Outcome::Success(value),
        Err(problem) => Outcome::Error((Status::new(problem.status), problem)),
    }
}

#[rocket::async_trait]
impl<'r> FromData<'r> for JsonText {
    type Error = Problem;

    async fn from_data(request: &'r Request<'_>, data: Data<'r>) -> Outcome<'r, Self> {
        outcome(json(request, data, "json").await.map(JsonText))
    }
}

#[rocket::async_trait]
impl<'r> FromData<'r> for LargeJsonText {
    type Error = Problem;

    async fn from_data(request: &'r Request<'_>, data: Data<'r>) -> Outcome<'r, Self> {
        outcome(json(request, data, "import").await.map(LargeJsonText))
    }
}

#[rocket::async_trait]
impl<'r> FromData<'r> for FileBytes {
    type Error = Problem;

    async fn from_data(request: &'r Request<'_>, data: Data<'r>) -> Outcome<'r, Self> {
        outcome(file(request, data, "file").await.map(FileBytes))
    }
}

#[rocket::async_trait]
impl<'r> FromData<'r> for BundleBytes {
    type Error = Problem;

    async fn from_data(request: &'r Request<'_>, data: Data<'r>) -> Outcome<'r, Self> {
        outcome(file(request, data, "bundle").await.map(BundleBytes))
    }
}

impl JsonText {
    /// The body as a checked job.
    pub fn job(&self) -> Result<CheckedJob, FieldError> {
        CheckedJob::from_json(&self.0)
    }
}

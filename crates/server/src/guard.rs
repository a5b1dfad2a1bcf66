//! What every request must show and every answer carries.

use rocket::data::{Data, FromData, Outcome};
use rocket::fairing::{Fairing, Info, Kind};
use rocket::http::{ContentType, Header, Status};
use rocket::request::{FromRequest, Outcome as RequestOutcome};
use rocket::{Request, Response};

use crate::problem::Problem;
use fuoco_core::error::FieldError;
use fuoco_core::job::Job;

/// Headers that keep a browser from doing what the app never needs.
pub struct Headers;

#[rocket::async_trait]
impl Fairing for Headers {
    fn info(&self) -> Info {
        Info { name: "headers", kind: Kind::Response }
    }

    async fn on_response<'r>(&self, _: &'r Request<'_>, response: &mut Response<'r>) {
        for (name, value) in [
            // Element Plus positions its poppers by inline style attributes
            (
                "Content-Security-Policy",
                "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'none'",
            ),
            ("X-Content-Type-Options", "nosniff"),
            ("Referrer-Policy", "no-referrer"),
            ("Cross-Origin-Opener-Policy", "same-origin"),
            ("Cross-Origin-Resource-Policy", "same-origin"),
        ] {
            response.set_header(Header::new(name, value));
        }
    }
}

/// The request names this server as its host: a page elsewhere that lets its own name point here does not.
pub struct Local;

#[rocket::async_trait]
impl<'r> FromRequest<'r> for Local {
    type Error = ();

    async fn from_request(request: &'r Request<'_>) -> RequestOutcome<Local, ()> {
        let host = request.host().map(|h| h.domain().to_string());
        let local = host.is_some_and(|h| {
            h == "localhost" || h.trim_matches(['[', ']']).parse::<std::net::IpAddr>().is_ok_and(|ip| ip.is_loopback())
        });
        if local { RequestOutcome::Success(Local) } else { RequestOutcome::Error((Status::Forbidden, ())) }
    }
}

/// A JSON body of at most the server's limit, as text.
pub struct JsonText(pub String);

/// A JSON body that carries a whole file besides the job, as text.
pub struct LargeJsonText(pub String);

/// A file as it is, of at most the server's limit for pictures.
pub struct FileBytes(pub Vec<u8>);

/// A packed job with its files.
pub struct BundleBytes(pub Vec<u8>);

fn refused<T>(status: Status, title: &str, detail: impl Into<String>) -> Result<T, (Status, Problem)> {
    Err((status, Problem::new(status, title, detail)))
}

async fn bytes(request: &Request<'_>, data: Data<'_>, limit: &str) -> Result<Vec<u8>, (Status, Problem)> {
    let limit = request.limits().get(limit).unwrap_or_default();
    match data.open(limit).into_bytes().await {
        Ok(bytes) if bytes.is_complete() => Ok(bytes.into_inner()),
        Ok(_) => refused(Status::PayloadTooLarge, "Too large", format!("More than {limit}.")),
        Err(e) => refused(Status::BadRequest, "Broken off", e.to_string()),
    }
}

async fn json(request: &Request<'_>, data: Data<'_>, limit: &str) -> Result<String, (Status, Problem)> {
    if request.content_type() != Some(&ContentType::JSON) {
        return refused(Status::UnsupportedMediaType, "Wrong content type", "Send JSON.");
    }
    String::from_utf8(bytes(request, data, limit).await?)
        .or_else(|e| refused(Status::BadRequest, "Not text", e.to_string()))
}

/// Files are sent as what they are or as bytes, never as a form: another site's page cannot send that here.
async fn file(request: &Request<'_>, data: Data<'_>, limit: &str) -> Result<Vec<u8>, (Status, Problem)> {
    let sent = request.content_type().map(|c| c.media_type().clone());
    let form = sent.as_ref().is_none_or(|m| m.is_form() || m.is_form_data() || m.is_plain());
    if form {
        let detail = "Send the file as application/octet-stream or as what it is.";
        return refused(Status::UnsupportedMediaType, "Wrong content type", detail);
    }
    bytes(request, data, limit).await
}

fn outcome<'r, T>(result: Result<T, (Status, Problem)>) -> Outcome<'r, T, Problem> {
    match result {
        Ok(value) => Outcome::Success(value),
        Err(e) => Outcome::Error(e),
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
    pub fn job(&self) -> Result<Job, FieldError> {
        Job::from_json(&self.0)
    }
}

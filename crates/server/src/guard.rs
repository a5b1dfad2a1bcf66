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

#[rocket::async_trait]
impl<'r> FromData<'r> for JsonText {
    type Error = Problem;

    async fn from_data(request: &'r Request<'_>, data: Data<'r>) -> Outcome<'r, Self> {
        if request.content_type() != Some(&ContentType::JSON) {
            let problem = Problem::new(Status::UnsupportedMediaType, "Wrong content type", "Send JSON.");
            return Outcome::Error((Status::UnsupportedMediaType, problem));
        }
        let limit = request.limits().get("json").unwrap_or_default();
        match data.open(limit).into_string().await {
            Ok(text) if text.is_complete() => Outcome::Success(JsonText(text.into_inner())),
            Ok(_) => {
                let problem = Problem::new(Status::PayloadTooLarge, "Too large", format!("More than {limit}."));
                Outcome::Error((Status::PayloadTooLarge, problem))
            }
            Err(e) => Outcome::Error((Status::BadRequest, Problem::new(Status::BadRequest, "Not text", e.to_string()))),
        }
    }
}

impl JsonText {
    /// The body as a checked job.
    pub fn job(&self) -> Result<Job, FieldError> {
        Job::from_json(&self.0)
    }
}

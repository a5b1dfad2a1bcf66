//! Errors on the wire: RFC 9457 `application/problem+json`.

use crate::guard::{self, Refusal};
use fuoco_core::error::FieldError;
use fuoco_store::StoreError;
use rocket::http::{ContentType, Status};
use rocket::response::{self, Responder};
use rocket::{Catcher, Request, Response, catch, catchers};
use serde::{Deserialize, Serialize};

/// A refused request.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct Problem {
    /// Which problem, where a program has to tell it from others of the same status.
    #[serde(rename = "type")]
    pub kind: String,
    /// HTTP status.
    pub status: u16,
    /// What kind of problem, in a few words.
    pub title: String,
    /// What is wrong with this request.
    pub detail: String,
    /// Path of the field at fault, where it is one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub field: Option<String>,
    /// Revision stored now, when a stale edit was refused.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub current_revision: Option<i64>,
}

impl Problem {
    pub(crate) fn new(status: Status, title: &str, detail: impl Into<String>) -> Problem {
        Problem {
            kind: "about:blank".into(),
            status: status.code,
            title: title.into(),
            detail: detail.into(),
            field: None,
            current_revision: None,
        }
    }

    fn of_kind(self, kind: &str) -> Problem {
        Problem { kind: format!("urn:fuoco:{kind}"), ..self }
    }
}

impl From<FieldError> for Problem {
    fn from(e: FieldError) -> Problem {
        let mut p = Problem::new(Status::UnprocessableEntity, "The job does not read", e.to_string());
        p.field = Some(e.field);
        p.of_kind("field")
    }
}

impl From<StoreError> for Problem {
    fn from(e: StoreError) -> Problem {
        let detail = e.to_string();
        match e {
            StoreError::NotFound(_) | StoreError::NoFile(_) | StoreError::NoPerson(_) => {
                Problem::new(Status::NotFound, "Not here", detail)
            }
            StoreError::Stale { current } => {
                let mut p = Problem::new(Status::Conflict, "Saved elsewhere since", detail);
                p.current_revision = Some(current);
                p.of_kind("stale")
            }
            StoreError::Full => {
                let detail = "There is no room left on the server's disk. What was saved before is untouched; make room, and save again.";
                Problem::new(Status::InsufficientStorage, "The disk is full", detail).of_kind("disk-full")
            }
            StoreError::Damaged(_) => {
                let detail = format!("{detail}. Stop the server, and restore its last backup.");
                Problem::new(Status::InternalServerError, "The database is damaged", detail).of_kind("damaged")
            }
            StoreError::Gone(_) => {
                let detail = format!(
                    "{detail}. Nothing that is saved now would be kept: keep a copy of your job as a file, and start the server again."
                );
                Problem::new(Status::InternalServerError, "The data folder is gone", detail).of_kind("folder-gone")
            }
            StoreError::Unreadable(e) => e.into(),
            StoreError::Database(_) | StoreError::Migration(_) | StoreError::Folder(_) | StoreError::Taken(_) => {
                Problem::new(Status::InternalServerError, "The store cannot be used", detail)
            }
        }
    }
}

impl<'r> Responder<'r, 'static> for Problem {
    fn respond_to(self, request: &'r Request<'_>) -> response::Result<'static> {
        let body = serde_json::to_string(&self).map_err(|_| Status::InternalServerError)?;
        Response::build_from(body.respond_to(request)?)
            .status(Status::new(self.status))
            .header(ContentType::new("application", "problem+json"))
            .ok()
    }
}

#[catch(default)]
fn any(status: Status, request: &Request) -> Problem {
    match guard::refused_by_gate(request) {
        Some(Refusal::Form) => {
            let detail = "Send JSON with the content type application/json, or the file as what it is; never a form.";
            return Problem::new(Status::UnsupportedMediaType, "Wrong content type", detail);
        }
        Some(Refusal::SignIn) => {
            return Problem::new(Status::Unauthorized, "Not signed in", "First sign in.").of_kind("sign-in");
        }
        Some(Refusal::Person) => {
            let detail = "That is for others to do. Ask whoever looks after this server.";
            return Problem::new(Status::Forbidden, "Not for you", detail).of_kind("role");
        }
        Some(Refusal::Proxy) => {
            let detail = "This server answers only through its proxy.";
            return Problem::new(Status::Forbidden, "Not from here", detail);
        }
        Some(Refusal::Host | Refusal::Origin) => {
            let detail = "This server answers only requests to its own address, made by its own pages.";
            return Problem::new(Status::Forbidden, "Not from here", detail);
        }
        None => {}
    }
    let (title, detail) = match status.code {
        404 => ("Not here", format!("There is nothing at {}.", request.uri().path())),
        413 => ("Too large", "The request is larger than this server takes.".to_owned()),
        415 => ("Wrong content type", "Send JSON with the content type application/json.".to_owned()),
        _ => (status.reason_lossy(), format!("The request failed: {status}.")),
    };
    Problem::new(status, title, detail)
}

pub(crate) fn catchers() -> Vec<Catcher> {
    catchers![any]
}

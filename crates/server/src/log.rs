//! A line in the log for every request that is answered.

use rocket::fairing::{Fairing, Info, Kind};
use rocket::{Data, Request, Response};
use std::time::Instant;

/// Writes the lines. The level is set by `FUOCO_LOG` (`error`, `warn`, `info`, `debug`).
pub struct Requests;

#[rocket::async_trait]
impl Fairing for Requests {
    fn info(&self) -> Info {
        Info { name: "request log", kind: Kind::Request | Kind::Response }
    }

    async fn on_request(&self, request: &mut Request<'_>, _: &mut Data<'_>) {
        request.local_cache(Instant::now);
    }

    async fn on_response<'r>(&self, request: &'r Request<'_>, response: &mut Response<'r>) {
        let started = request.local_cache(Instant::now);
        let (method, path, status) = (request.method().as_str(), request.uri().path(), response.status().code);
        let ms = started.elapsed().as_millis() as u64;
        // files of the front end are of no interest
        if path.starts_with("/api") {
            tracing::info!(method, path = %path, status, ms, "request");
        } else {
            tracing::debug!(method, path = %path, status, ms, "request");
        }
    }
}

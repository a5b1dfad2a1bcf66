//! A line in the log for every request that is answered.

use rocket::fairing::{Fairing, Info, Kind};
use rocket::{Data, Request, Response};
use std::sync::LazyLock;
use std::sync::atomic::{AtomicU64, Ordering};
use std::time::{Instant, SystemTime};

/// When a request came, and under which number it is told of.
struct Started {
    at: Instant,
    id: String,
}

impl Started {
    fn now() -> Started {
        static COUNT: AtomicU64 = AtomicU64::new(1);
        // the start of the program tells its requests from those of the one before
        static RUN: LazyLock<u64> =
            LazyLock::new(|| SystemTime::now().duration_since(SystemTime::UNIX_EPOCH).map_or(0, |d| d.as_secs()));
        Started { at: Instant::now(), id: format!("{:x}-{}", *RUN, COUNT.fetch_add(1, Ordering::Relaxed)) }
    }
}

/// Writes the lines. The level is set by `FUOCO_LOG` (`error`, `warn`, `info`, `debug`).
pub struct Requests;

#[rocket::async_trait]
impl Fairing for Requests {
    fn info(&self) -> Info {
        Info { name: "request log", kind: Kind::Request | Kind::Response }
    }

    async fn on_request(&self, request: &mut Request<'_>, _: &mut Data<'_>) {
        request.local_cache(Started::now);
    }

    async fn on_response<'r>(&self, request: &'r Request<'_>, response: &mut Response<'r>) {
        let Started { at, id } = request.local_cache(Started::now);
        response.set_raw_header("X-Request-Id", id.clone());
        let (method, path, status) = (request.method().as_str(), request.uri().path(), response.status().code);
        let ms = at.elapsed().as_millis() as u64;
        // files of the front end are of no interest
        if path.starts_with("/api") {
            tracing::info!(id, method, path = %path, status, ms, "request");
        } else {
            tracing::debug!(id, method, path = %path, status, ms, "request");
        }
    }
}

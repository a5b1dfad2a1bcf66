//! Whether the server works, and which one it is: for whoever watches over it.

use crate::api::Answer;
use crate::body::Json;
use crate::problem::Problem;
use fuoco_core::job::VERSION;
use fuoco_store::Store;
use rocket::http::Status;
use rocket::{State, get};
use serde::{Deserialize, Serialize};

/// The commit that this program was built from, where the build knew it.
pub const COMMIT: &str = match option_env!("FUOCO_COMMIT") {
    Some(commit) => commit,
    None => "unknown",
};

/// That the server works.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
pub struct Health {
    /// Always `ok`; what is not is answered as a problem.
    pub status: String,
}

/// Which program this is.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
pub struct VersionInfo {
    /// Its version.
    pub version: String,
    /// The commit that it was built from.
    pub commit: String,
    /// The version of the job file that it writes.
    pub job_format: u32,
}

/// Whether the server can read its store.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Health), (status = 503, body = Problem)))]
#[get("/health")]
pub async fn read_health(store: &State<Store>) -> Answer<Health> {
    if let Err(e) = store.ping().await {
        // whoever watches is not signed in: what is wrong stands in the log
        tracing::error!(error = %e, "health");
        return Err(Problem::new(Status::ServiceUnavailable, "Not well", "The store cannot be read."));
    }
    Ok(Json(Health { status: "ok".into() }))
}

/// Which program this is.
#[utoipa::path(context_path = "/api", responses((status = 200, body = VersionInfo)))]
#[get("/version")]
pub fn read_version() -> Json<VersionInfo> {
    Json(VersionInfo { version: env!("CARGO_PKG_VERSION").into(), commit: COMMIT.into(), job_format: VERSION })
}

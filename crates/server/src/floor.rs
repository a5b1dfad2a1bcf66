//! The floor's handlers: the section drawn, floors side by side.

use crate::api::{Answer, parse};
use crate::guard::JsonText;
use crate::problem::Problem;
use fuoco_core::design::compare::{Compared, Sweep, compare};
use fuoco_core::design::design;
use fuoco_core::design::picture::{SectionPicture, Shown, section_picture};
use fuoco_core::error::FieldError;
use fuoco_core::job::Job;
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{Route, post, routes};
use serde::{Deserialize, Serialize};

/// A part of a room to be drawn.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DrawSection {
    /// The job.
    pub job: Job,
    /// The room.
    pub room_id: String,
    /// Which part of it.
    pub shown: Shown,
}

/// Floors to be compared, a part of them at a time.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CompareFloors {
    /// The job.
    pub job: Job,
    /// The room.
    pub room_id: String,
    /// What is varied.
    pub sweep: Sweep,
    /// The first variant wanted.
    pub from: usize,
    /// How many at most.
    pub most: usize,
}

/// Computes off the threads that answer requests.
async fn blocking<T: Send + 'static>(
    work: impl FnOnce() -> Result<T, FieldError> + Send + 'static,
) -> Result<Json<T>, Problem> {
    let done = rocket::tokio::task::spawn_blocking(work).await;
    let done = done.map_err(|e| Problem::new(Status::InternalServerError, "The floor failed", e.to_string()))?;
    Ok(Json(done?))
}

/// The section of a part of a room at the design's water, to be drawn.
#[utoipa::path(context_path = "/api", request_body = DrawSection, responses((status = 200, body = SectionPicture), (status = 422, body = Problem)))]
#[post("/floor/section", data = "<body>")]
pub async fn draw_section(body: JsonText) -> Answer<SectionPicture> {
    let DrawSection { job, room_id, shown } = parse(&body.0)?;
    blocking(move || section_picture(&job, &design(&job)?, &room_id, shown)).await
}

/// Floors for a room side by side.
#[utoipa::path(context_path = "/api", request_body = CompareFloors, responses((status = 200, body = Compared), (status = 422, body = Problem)))]
#[post("/floor/compare", data = "<body>")]
pub async fn compare_floors(body: JsonText) -> Answer<Compared> {
    let CompareFloors { job, room_id, sweep, from, most } = parse(&body.0)?;
    blocking(move || compare(&job, &room_id, &sweep, from, most)).await
}

pub(crate) fn routes() -> Vec<Route> {
    routes![draw_section, compare_floors]
}

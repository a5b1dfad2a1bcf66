//! The floor's handlers: the section drawn, floors side by side.

use crate::api::{Answer, JobInput, parse};
use crate::body::Json;
use crate::guard::JsonText;
use crate::problem::Problem;
use crate::work::Workshop;
use fuoco_core::floor::compare::{Compared, Sweep, compare};
use fuoco_core::floor::picture::{SectionPicture, Shown, section_picture};
use fuoco_core::job::Job;
use fuoco_core::study::Study;
use rocket::{State, post};
use serde::{Deserialize, Serialize};

/// A part of a room to be drawn.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DrawSection {
    /// The job.
    #[schema(value_type = Job)]
    pub job: JobInput,
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
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// The room.
    pub room_id: String,
    /// What is varied.
    pub sweep: Sweep,
    /// The first variant wanted.
    pub from: usize,
    /// How many at most.
    pub most: usize,
}

/// The section of a part of a room at the design's water, to be drawn.
#[utoipa::path(context_path = "/api", request_body = DrawSection, responses((status = 200, body = SectionPicture), (status = 422, body = Problem)))]
#[post("/floor/section", data = "<body>")]
pub async fn draw_section(work: &State<Workshop>, body: JsonText) -> Answer<SectionPicture> {
    let DrawSection { job, room_id, shown } = parse(&body.0)?;
    Ok(Json(work.run(move || section_picture(&*Study::of(&job.checked()?)?, &room_id, shown)).await?))
}

/// Floors for a room side by side.
#[utoipa::path(context_path = "/api", request_body = CompareFloors, responses((status = 200, body = Compared), (status = 422, body = Problem)))]
#[post("/floor/compare", data = "<body>")]
pub async fn compare_floors(work: &State<Workshop>, body: JsonText) -> Answer<Compared> {
    let CompareFloors { job, room_id, sweep, from, most } = parse(&body.0)?;
    Ok(Json(work.run(move || compare(&*Study::of(&job.checked()?)?, &room_id, &sweep, from, most)).await?))
}

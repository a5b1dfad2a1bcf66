//! Handlers of the practice rig.

use crate::api::{Answer, JobInput, parse};
use crate::body::Json;
use crate::guard::JsonText;
use crate::problem::Problem;
use crate::work::Workshop;
use base64::Engine;
use base64::prelude::BASE64_STANDARD;
use fuoco_core::job::Job;
use fuoco_core::rig::{CameraRoom, Lesson, LessonText, RigNow, RigTrial, VERSION, camera, play};
use fuoco_core::study::Study;
use fuoco_core::thermal::Raster;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};

/// What there is to practise.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
pub struct Lessons {
    /// The rig's version: a lesson begun on another one is begun anew.
    pub version: u32,
    /// From the easiest.
    pub lessons: Vec<LessonText>,
}

/// A lesson as far as it has come, on the practice house or on a job.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RigPlayed {
    /// A job of one's own; absent: the practice house.
    #[serde(default)]
    #[schema(value_type = Option<Job>)]
    pub job: Option<JobInput>,
    /// The lesson and the moves.
    pub trial: RigTrial,
}

/// The ten lessons.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Lessons)))]
#[get("/rig")]
pub fn list_lessons() -> Json<Lessons> {
    Json(Lessons { version: VERSION, lessons: Lesson::ALL.map(Lesson::text).to_vec() })
}

/// What eyes and instruments see at a rig after those moves.
#[utoipa::path(context_path = "/api", request_body = RigPlayed, responses((status = 200, body = RigNow), (status = 422, body = Problem)))]
#[post("/rig", data = "<body>")]
pub async fn play_rig(work: &State<Workshop>, body: JsonText) -> Answer<RigNow> {
    let RigPlayed { job, trial } = parse(&body.0)?;
    trial.check()?;
    let job = job.as_ref().map(JobInput::checked).transpose()?;
    let run = move || {
        let own = job.map(|j| Study::of(&j)).transpose()?;
        play(own.as_ref(), &trial)
    };
    Ok(Json(work.run(run).await?))
}

/// A picture of a thermal camera over the rig's floors.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
pub struct CameraPicture {
    /// Where its spots lie.
    pub raster: Raster,
    /// Surface by spot, a byte each, 255 off the heated floors; in Base64.
    pub surface: String,
    /// The rooms that are seen.
    pub rooms: Vec<CameraRoom>,
}

/// What a thermal camera over the rig's floors shows after those moves.
#[utoipa::path(context_path = "/api", request_body = RigPlayed, responses((status = 200, body = CameraPicture), (status = 422, body = Problem)))]
#[post("/rig/camera", data = "<body>")]
pub async fn shoot_rig(work: &State<Workshop>, body: JsonText) -> Answer<CameraPicture> {
    let RigPlayed { job, trial } = parse(&body.0)?;
    trial.check()?;
    let job = job.as_ref().map(JobInput::checked).transpose()?;
    let run = move || {
        let own = job.map(|j| Study::of(&j)).transpose()?;
        let c = camera(own.as_ref(), &trial)?;
        let surface = BASE64_STANDARD.encode(&c.surface);
        Ok(CameraPicture { raster: c.raster, surface, rooms: c.rooms })
    };
    Ok(Json(work.run(run).await?))
}

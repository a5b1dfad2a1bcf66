//! Handlers of the practice rig.

use crate::api::{Answer, JobInput, parse};
use crate::body::Json;
use crate::guard::JsonText;
use crate::problem::Problem;
use crate::work::Workshop;
use base64::Engine;
use base64::prelude::BASE64_STANDARD;
use fuoco_core::job::{Job, Point};
use fuoco_core::rig::{CameraRoom, Lesson, LessonText, RigNow, RigTrial, VERSION, camera, play};
use fuoco_core::study::Study;
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
    /// Left lower corner of the first spot, m.
    #[schema(value_type = [f64; 2])]
    pub origin: Point,
    /// Width and height of a spot, m.
    pub step_m: f64,
    /// Spots in a row.
    pub columns: usize,
    /// Rows, from the lowest y on.
    pub rows: usize,
    /// The figure 0 stands for that, °C …
    pub low_c: f64,
    /// … and each more for so much, K.
    pub per_k: f64,
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
        let (origin, step_m, columns, rows) = (c.origin, c.step_m, c.columns, c.rows);
        Ok(CameraPicture { origin, step_m, columns, rows, low_c: c.low_c, per_k: c.per_k, surface, rooms: c.rooms })
    };
    Ok(Json(work.run(run).await?))
}

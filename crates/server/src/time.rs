//! Handler of the job in time.

use crate::api::{Answer, JobInput, parse};
use crate::body::Json;
use crate::guard::JsonText;
use crate::outdoors::kept_weather;
use crate::problem::Problem;
use crate::work::{Window, Workshop};
use base64::Engine;
use base64::prelude::BASE64_STANDARD;
use fuoco_core::dynamics::picture::{
    ThermalCourse, ThermalFrame, ThermalLoop, ThermalRoom, ThermalTrial, warming_watched,
};
use fuoco_core::dynamics::{InTime, TimeSpan, TimeTrial, in_time_watched};
use fuoco_core::job::Job;
use fuoco_core::study::Study;
use fuoco_core::survey::hours::hours;
use fuoco_core::thermal::Raster;
use fuoco_core::watch::Watch;
use fuoco_store::Store;
use rocket::{State, post};
use serde::{Deserialize, Serialize};

/// A job to be followed.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct JobInTime {
    /// The job.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// For how long, and how it is run.
    #[serde(default)]
    pub trial: TimeTrial,
}

/// The job in time: a warm-up, a week or a year for up to four ways of running it. A week has the weather file's hours where the job has
/// one; a year needs it.
#[utoipa::path(context_path = "/api", request_body = JobInTime, responses((status = 200, body = InTime), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/time", data = "<body>")]
pub async fn follow_job(
    store: &State<Store>,
    work: &State<Workshop>,
    window: Window,
    body: JsonText,
) -> Answer<InTime> {
    let JobInTime { job, trial } = parse(&body.0)?;
    let job = job.checked()?;
    trial.check()?;
    let has_file = job.site.weather.as_ref().is_some_and(|w| w.file_id.is_some());
    let asks = trial.span == TimeSpan::Year || trial.span != TimeSpan::WarmUp && has_file;
    let text = if asks { Some(kept_weather(store, &job).await?) } else { None };
    let run = move |watch: &Watch| {
        let year = text.map(|t| hours(&t)).transpose()?;
        in_time_watched(&*Study::of_watched(&job, watch)?, &trial, year.as_deref(), watch)
    };
    Ok(Json(work.run_for(window, run).await?))
}

/// A level whose floors are looked at while they warm up.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WarmingJob {
    /// The job.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// Where, for how long, and how it is piped.
    pub trial: ThermalTrial,
}

/// The thermal picture of a level in time.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
pub struct ThermalPicture {
    /// Where its spots lie.
    pub raster: Raster,
    /// From the beginning to the end, evenly.
    pub frames: Vec<PictureFrame>,
}

/// A moment of it.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
pub struct PictureFrame {
    /// From the beginning, s.
    pub time_s: f64,
    /// Surface by spot, a byte each, 255 off the heated floors; in Base64.
    pub surface: String,
    /// Rooms with a heated floor.
    pub rooms: Vec<ThermalRoom>,
    /// Loops.
    pub loops: Vec<ThermalLoop>,
}

impl From<ThermalCourse> for ThermalPicture {
    fn from(c: ThermalCourse) -> Self {
        let frame = |f: ThermalFrame| PictureFrame {
            time_s: f.time_s,
            surface: BASE64_STANDARD.encode(&f.surface),
            rooms: f.rooms,
            loops: f.loops,
        };
        ThermalPicture { raster: c.raster, frames: c.frames.into_iter().map(frame).collect() }
    }
}

/// What a thermal camera over a level's floors would show while the house warms up.
#[utoipa::path(context_path = "/api", request_body = WarmingJob, responses((status = 200, body = ThermalPicture), (status = 422, body = Problem)))]
#[post("/time/picture", data = "<body>")]
pub async fn watch_floors(work: &State<Workshop>, window: Window, body: JsonText) -> Answer<ThermalPicture> {
    let WarmingJob { job, trial } = parse(&body.0)?;
    let job = job.checked()?;
    trial.check()?;
    let run = move |watch: &Watch| {
        let study = Study::of_watched(&job, watch)?;
        warming_watched(&study, &trial, watch).map(ThermalPicture::from)
    };
    Ok(Json(work.run_for(window, run).await?))
}

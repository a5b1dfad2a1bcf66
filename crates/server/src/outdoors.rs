//! Handlers of areas outdoors: a storm on the slab, a year of weather.

use crate::api::{Answer, JobInput, parse};
use crate::body::Json;
use crate::guard::JsonText;
use crate::problem::Problem;
use crate::work::Workshop;
use fuoco_core::error::FieldError;
use fuoco_core::job::{CheckedJob, Job};
use fuoco_core::outdoors::storm::{StormRun, StormTrial, storm};
use fuoco_core::outdoors::year::{OutdoorYear, outdoor_year};
use fuoco_core::study::Study;
use fuoco_core::survey::hours::hours;
use fuoco_store::Store;
use rocket::{State, post};
use serde::{Deserialize, Serialize};

/// A storm to be watched.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TriedStorm {
    /// The job.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// Which area, which storm.
    #[serde(default)]
    pub trial: StormTrial,
}

/// A year to be run.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TriedOutdoorYear {
    /// The job.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// The area; the first with tube where none is named.
    #[serde(default)]
    pub area_id: Option<String>,
}

/// The weather file of a job as it was kept.
pub(crate) async fn kept_weather(store: &Store, job: &CheckedJob) -> Result<String, Problem> {
    let id = job.site.weather.as_ref().and_then(|w| w.file_id.as_deref());
    let none = || FieldError::new("site.weather", "must be there with its file: open a weather file at Site");
    let file = store.file(id.ok_or_else(none)?).await?;
    // older files are not always UTF-8; the figures are
    Ok(String::from_utf8_lossy(&file.bytes).into_owned())
}

/// A storm on an area, step by step, for each way of running it.
#[utoipa::path(context_path = "/api", request_body = TriedStorm, responses((status = 200, body = StormRun), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/outdoors/storm", data = "<body>")]
pub async fn watch_storm(store: &State<Store>, work: &State<Workshop>, body: JsonText) -> Answer<StormRun> {
    let TriedStorm { job, trial } = parse(&body.0)?;
    let job = job.checked()?;
    let text = if trial.worst_of_the_year { Some(kept_weather(store, &job).await?) } else { None };
    let run = move || {
        let year = text.map(|t| hours(&t)).transpose()?;
        storm(&*Study::of(&job)?, &trial, year.as_deref())
    };
    Ok(Json(work.run(run).await?))
}

/// A year of the job's weather file on an area.
#[utoipa::path(context_path = "/api", request_body = TriedOutdoorYear, responses((status = 200, body = OutdoorYear), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/outdoors/year", data = "<body>")]
pub async fn run_outdoor_year(store: &State<Store>, work: &State<Workshop>, body: JsonText) -> Answer<OutdoorYear> {
    let TriedOutdoorYear { job, area_id } = parse(&body.0)?;
    let job = job.checked()?;
    let text = kept_weather(store, &job).await?;
    Ok(Json(work.run(move || outdoor_year(&*Study::of(&job)?, area_id.as_deref(), &hours(&text)?)).await?))
}

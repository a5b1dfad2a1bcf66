//! Handler of the job in time.

use crate::api::{Answer, JobInput, parse};
use crate::body::Json;
use crate::guard::JsonText;
use crate::outdoors::kept_weather;
use crate::problem::Problem;
use crate::work::Workshop;
use fuoco_core::dynamics::{InTime, TimeSpan, TimeTrial, in_time};
use fuoco_core::job::Job;
use fuoco_core::study::Study;
use fuoco_core::survey::hours::hours;
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
pub async fn follow_job(store: &State<Store>, work: &State<Workshop>, body: JsonText) -> Answer<InTime> {
    let JobInTime { job, trial } = parse(&body.0)?;
    let job = job.checked()?;
    trial.check()?;
    let has_file = job.site.weather.as_ref().is_some_and(|w| w.file_id.is_some());
    let asks = trial.span == TimeSpan::Year || trial.span == TimeSpan::Week && has_file;
    let text = if asks { Some(kept_weather(store, &job).await?) } else { None };
    let run = move || {
        let year = text.map(|t| hours(&t)).transpose()?;
        in_time(&*Study::of(&job)?, &trial, year.as_deref())
    };
    Ok(Json(work.run(run).await?))
}

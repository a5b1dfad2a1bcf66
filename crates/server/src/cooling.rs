//! Handler of cooling: what the hours of the weather file allow and ask for.

use crate::api::{Answer, JobInput, parse};
use crate::body::Json;
use crate::guard::JsonText;
use crate::outdoors::kept_weather;
use crate::problem::Problem;
use crate::work::Workshop;
use fuoco_core::cooling::report::{CoolingDesign, cooling_design};
use fuoco_core::job::Job;
use fuoco_core::study::Study;
use fuoco_core::survey::hours::hours;
use fuoco_store::Store;
use rocket::{State, post};
use serde::{Deserialize, Serialize};

/// A job to be cooled.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CooledJob {
    /// The job.
    #[schema(value_type = Job)]
    pub job: JobInput,
}

/// The cooling of a job by its weather file.
#[utoipa::path(context_path = "/api", request_body = CooledJob, responses((status = 200, body = CoolingDesign), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/cooling", data = "<body>")]
pub async fn cool_job(store: &State<Store>, work: &State<Workshop>, body: JsonText) -> Answer<CoolingDesign> {
    let asked: CooledJob = parse(&body.0)?;
    let job = asked.job.checked()?;
    let text = kept_weather(store, &job).await?;
    Ok(Json(work.run(move || cooling_design(&*Study::of(&job)?, &hours(&text)?)).await?))
}

//! Handlers of materials: the take-off of a job, its price list and order list.

use crate::api::{Answer, Download, JobInput, parse};
use crate::body::Json;
use crate::guard::{JsonText, LargeJsonText};
use crate::problem::Problem;
use crate::work::Workshop;
use fuoco_core::job::Job;
use fuoco_core::materials::report::{MaterialsDesign, materials};
use fuoco_core::study::Study;
use fuoco_documents::exchange::{Imported, prices_csv};
use fuoco_store::Store;
use rocket::http::ContentType;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};

/// Everything that is bought and done for a job.
#[utoipa::path(context_path = "/api", request_body = Job, responses((status = 200, body = MaterialsDesign), (status = 422, body = Problem)))]
#[post("/materials", data = "<body>")]
pub async fn count_materials(work: &State<Workshop>, body: JsonText) -> Answer<MaterialsDesign> {
    let job: JobInput = parse(&body.0)?;
    Ok(Json(work.run(move || Ok(materials(&*Study::of(&job.checked()?)?))).await?))
}

/// A price list to take into a job.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PriceFile {
    /// The job before.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// The table as CSV.
    pub text: String,
}

/// Reads prices from a table; answers the job after, and what was not taken.
#[utoipa::path(context_path = "/api", request_body = PriceFile, responses((status = 200, body = Imported), (status = 413, body = Problem), (status = 422, body = Problem)))]
#[post("/import/prices", data = "<body>")]
pub async fn import_prices(work: &State<Workshop>, body: LargeJsonText) -> Answer<Imported> {
    let file: PriceFile = parse(&body.0)?;
    Ok(Json(work.run(move || prices_csv::read(&file.job.checked()?, &file.text)).await?))
}

/// The price list of a job with a row for every article that it takes.
#[utoipa::path(context_path = "/api", responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/prices.csv")]
pub async fn prices_table(store: &State<Store>, work: &State<Workshop>, id: &str) -> Result<Download, Problem> {
    let job = store.get(id).await?.job;
    let of = job.clone();
    let text = work.run(move || Ok(prices_csv::write(&of, &materials(&*Study::of(&of)?)))).await?;
    Ok(Download::new(&job, "-prices.csv", ContentType::CSV, text))
}

/// The order list of a job.
#[utoipa::path(context_path = "/api", responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/order.csv")]
pub async fn order_table(store: &State<Store>, work: &State<Workshop>, id: &str) -> Result<Download, Problem> {
    let job = store.get(id).await?.job;
    let of = job.clone();
    let text = work.run(move || Ok(prices_csv::order_list(&of, &materials(&*Study::of(&of)?)))).await?;
    Ok(Download::new(&job, "-order.csv", ContentType::CSV, text))
}

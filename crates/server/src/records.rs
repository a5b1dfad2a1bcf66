//! Records of the site: handlers. A record may come twice, and counts once.

use crate::access::{Access, Hands};
use crate::api::{Answer, JobInput, parse};
use crate::body::Json;
use crate::guard::{FileBytes, JsonText};
use crate::live::Live;
use crate::problem::Problem;
use crate::survey::KeptPicture;
use crate::work::Workshop;
use fuoco_core::error::FieldError;
use fuoco_core::job::{CheckedJob, Job};
use fuoco_core::onsite::laying::{LayingDesign, laying};
use fuoco_core::onsite::pressure::{PressureTests, pressure_tests};
use fuoco_core::readings::{ReadingOf, Readings};
use fuoco_core::records::{Entry, Record};
use fuoco_core::service::{Ranking, rank};
use fuoco_core::startup::{StartUpDesign, start_up};
use fuoco_core::study::Study;
use fuoco_documents::pictures;
use fuoco_store::Store;
use rocket::http::Status;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};

/// The records of a job, in the order in which they came; those after the number `after` only, where it is given.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<Entry>), (status = 404, body = Problem)))]
#[get("/jobs/<id>/records?<after>")]
pub async fn list_records(store: &State<Store>, id: &str, after: Option<i64>) -> Answer<Vec<Entry>> {
    Ok(Json(store.records(id, after.unwrap_or(0)).await?))
}

/// Adds a record. The same one once more is answered as it was kept the first time.
#[utoipa::path(context_path = "/api", request_body = Record, responses((status = 200, body = Entry), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/jobs/<id>/records", data = "<body>")]
pub async fn add_record(store: Hands, live: &State<Live>, access: Access, id: &str, body: JsonText) -> Answer<Entry> {
    let record = Record::from_json(&body.0).map_err(|e| Problem { title: "Not taken".into(), ..e.into() })?;
    let entry = store.add_record(id, &record).await?;
    live.recorded(id, entry.number, &access.name());
    Ok(Json(entry))
}

/// Keeps a photo for the records of a job (PNG or JPEG). The same bytes are kept once.
#[utoipa::path(context_path = "/api", request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses((status = 200, body = KeptPicture), (status = 404, body = Problem), (status = 413, body = Problem), (status = 415, body = Problem), (status = 422, body = Problem)))]
#[post("/jobs/<id>/photos", data = "<body>")]
pub async fn add_photo(store: &State<Store>, id: &str, body: FileBytes) -> Answer<KeptPicture> {
    store.get(id).await?;
    if body.0.len() > LARGEST_PHOTO {
        let detail = format!("A photo has {} MB at most: send it smaller.", LARGEST_PHOTO / 1_000_000);
        return Err(Problem::new(Status::PayloadTooLarge, "Too large", detail));
    }
    let picture = pictures::recognise(&body.0)?;
    let id = store.add_file(picture.media_type, &body.0).await?;
    Ok(Json(KeptPicture { id, width_px: picture.width_px, height_px: picture.height_px }))
}

/// The app makes photos smaller than this before it keeps them.
const LARGEST_PHOTO: usize = 10_000_000;

/// The laying log of a job: how far every loop is, by its records.
#[utoipa::path(context_path = "/api", responses((status = 200, body = LayingDesign), (status = 404, body = Problem)))]
#[get("/jobs/<id>/laying")]
pub async fn read_laying(store: &State<Store>, work: &State<Workshop>, id: &str) -> Answer<LayingDesign> {
    let job = store.get(id).await?.job;
    let entries = store.records(id, 0).await?;
    Ok(Json(work.run(move || Ok(laying(&*Study::of(&job)?, &entries))).await?))
}

/// The pressure tests of a job with their verdicts, by its records.
#[utoipa::path(context_path = "/api", responses((status = 200, body = PressureTests), (status = 404, body = Problem)))]
#[get("/jobs/<id>/pressure-tests")]
pub async fn read_tests(store: &State<Store>, work: &State<Workshop>, id: &str) -> Answer<PressureTests> {
    let job = store.get(id).await?.job;
    let entries = store.records(id, 0).await?;
    Ok(Json(work.run(move || Ok(pressure_tests(&*Study::of(&job)?, &entries))).await?))
}

/// The start-up of a job: filling, purging, flows, heat-up, by its records; worded in the units asked for, else in the job's.
#[utoipa::path(context_path = "/api", responses((status = 200, body = StartUpDesign), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/jobs/<id>/start-up?<units>")]
pub async fn read_start_up(
    store: &State<Store>,
    work: &State<Workshop>,
    id: &str,
    units: Option<&str>,
) -> Answer<StartUpDesign> {
    let mut job = store.get(id).await?.job;
    if let Some(wanted) = units {
        let units =
            serde_json::from_value(wanted.into()).map_err(|_| FieldError::new("units", "must be metric or us"))?;
        let mut worded = job.into_job();
        worded.site.units = units;
        job = CheckedJob::new(worded)?;
    }
    let entries = store.records(id, 0).await?;
    Ok(Json(work.run(move || start_up(&*Study::of(&job)?, &entries)).await?))
}

/// A visit to a floor that does not do what it should.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ServiceVisit {
    /// The job.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// What was read.
    #[serde(default)]
    pub readings: Vec<ReadingOf>,
}

/// What could be wrong, most likely first, by what was read.
#[utoipa::path(context_path = "/api", request_body = ServiceVisit, responses((status = 200, body = Ranking), (status = 422, body = Problem)))]
#[post("/service", data = "<body>")]
pub async fn rank_causes(work: &State<Workshop>, body: JsonText) -> Answer<Ranking> {
    let asked: ServiceVisit = parse(&body.0)?;
    Ok(Json(work.run(move || rank(&Study::of(&asked.job.checked()?)?, &Readings(asked.readings))).await?))
}

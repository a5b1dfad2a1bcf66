//! The API's handlers. `openapi.rs` lists them for the document.

use crate::access::{Access, Hands};
use crate::body::Json;
use crate::guard::JsonText;
use crate::live::Live;
use crate::problem::Problem;
use crate::work::{Window, Workshop};
use fuoco_core::design::{Design, design};
use fuoco_core::error::FieldError;
use fuoco_core::job::{CheckedJob, Job, Start};
use fuoco_core::library::{Library, library};
use fuoco_core::study::Study;
use fuoco_core::watch::Watch;
use fuoco_documents::tables;
use fuoco_documents::thumbnail::thumbnail as thumbnail_of;
use fuoco_store::{JobEntry, Store, StoreError, StoredJob};
use rocket::http::{ContentType, Header, Status};
use rocket::{Responder, State, delete, get, post, put};
use serde::{Deserialize, Serialize};

pub(crate) type Answer<T> = Result<Json<T>, Problem>;

/// The name for a copied or renamed job.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewName {
    /// 1 to 2000 characters.
    pub name: String,
}

/// What a save answers.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
pub struct Saved {
    /// The new revision.
    pub revision: i64,
}

/// A file to keep.
#[derive(Responder)]
pub struct Download {
    body: Vec<u8>,
    kind: ContentType,
    disposition: Header<'static>,
}

impl Download {
    pub(crate) fn new(job: &Job, ending: &str, kind: ContentType, body: impl Into<Vec<u8>>) -> Download {
        let stem: String =
            job.name.to_lowercase().chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '-' }).collect();
        let stem = stem.split('-').filter(|s| !s.is_empty()).collect::<Vec<_>>().join("-");
        let stem = if stem.is_empty() { "job".to_owned() } else { stem };
        let disposition = Header::new("Content-Disposition", format!("attachment; filename=\"{stem}{ending}\""));
        Download { body: body.into(), kind, disposition }
    }
}

pub(crate) fn parse<T: for<'a> Deserialize<'a>>(text: &str) -> Result<T, Problem> {
    serde_json::from_str(text)
        .map_err(|e| Problem::new(Status::UnprocessableEntity, "The request does not read", e.to_string()))
}

/// A job within a request, of this version or an older one.
#[derive(Debug, Deserialize, Serialize)]
#[serde(transparent)]
pub struct JobInput(serde_json::Value);

impl JobInput {
    /// The job, checked.
    ///
    /// # Errors
    /// As [`CheckedJob::from_json`].
    pub(crate) fn checked(&self) -> Result<CheckedJob, FieldError> {
        CheckedJob::from_json(&self.0.to_string())
    }
}

/// The level that was asked for, or the first.
pub(crate) fn level_of(job: &Job, level: Option<&str>) -> Result<String, Problem> {
    match level {
        Some(level) if job.level(level).is_none() => {
            Err(Problem::new(Status::NotFound, "Not here", "The job has no such level."))
        }
        Some(level) => Ok(level.to_owned()),
        None => Ok(job.levels.first().map(|l| l.id.clone()).unwrap_or_default()),
    }
}

/// All jobs, the one saved last first.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<JobEntry>)))]
#[get("/jobs")]
pub async fn list_jobs(store: &State<Store>) -> Answer<Vec<JobEntry>> {
    Ok(Json(store.list().await?))
}

/// Adds an empty job with what is usual for its kind and in its units, or what the firm keeps for new jobs.
#[utoipa::path(context_path = "/api", request_body = Start, responses((status = 200, body = StoredJob), (status = 422, body = Problem)))]
#[post("/jobs", data = "<body>")]
pub async fn create_job(store: Hands, body: JsonText) -> Answer<StoredJob> {
    let start: Start = parse(&body.0)?;
    let mut job = Start { name: start.name.trim().to_owned(), ..start }.job();
    store.firm().await?.firm.equip(&mut job);
    Ok(Json(store.add(CheckedJob::new(job)?).await?))
}

/// Adds the job of a file.
#[utoipa::path(context_path = "/api", request_body = Job, responses((status = 200, body = StoredJob), (status = 422, body = Problem)))]
#[post("/jobs/from-file", data = "<body>")]
pub async fn open_file(store: Hands, body: JsonText) -> Answer<StoredJob> {
    Ok(Json(store.add(body.job()?).await?))
}

/// One job.
#[utoipa::path(context_path = "/api", responses((status = 200, body = StoredJob), (status = 404, body = Problem)))]
#[get("/jobs/<id>")]
pub async fn read_job(store: &State<Store>, access: Access, id: &str) -> Answer<StoredJob> {
    let stored = store.get(id).await?;
    Ok(Json(if access.sees_prices() { stored } else { StoredJob { job: without_prices(stored.job)?, ..stored } }))
}

/// The job as those read it whose business its prices are not.
fn without_prices(job: CheckedJob) -> Result<CheckedJob, FieldError> {
    let mut job = job.into_job();
    job.purchasing.prices.rows.clear();
    job.purchasing.labour.hour_price = None;
    job.purchasing.quote = Default::default();
    CheckedJob::new(job)
}

/// Saves a job; refused when it has been saved since `revision`. `save` names this save: one whose answer was lost is sent
/// again under the same name, and counts once.
#[utoipa::path(context_path = "/api", request_body = Job, responses((status = 200, body = Saved), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/jobs/<id>?<revision>&<save>", data = "<body>")]
pub async fn save_job(
    store: Hands,
    live: &State<Live>,
    access: Access,
    id: &str,
    revision: i64,
    save: Option<&str>,
    body: JsonText,
) -> Answer<Saved> {
    if save.is_some_and(|s| !(8..=64).contains(&s.len())) {
        return Err(FieldError::new("save", "must have 8 to 64 characters").into());
    }
    let revision = store.save(id, revision, save, &body.job()?).await?;
    live.saved(id, revision, &access.name());
    Ok(Json(Saved { revision }))
}

/// A job at a glance.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
pub struct JobSummary {
    /// Heat loss, W.
    pub heat_loss_w: f64,
    /// Number of loops.
    pub loops: usize,
    /// Supply temperature, °C; none without loops.
    pub supply_c: Option<f64>,
    /// Errors in the verdict.
    pub errors: usize,
    /// Warnings in it.
    pub warnings: usize,
    /// How far it is.
    pub stage: JobStage,
}

/// How far a job is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum JobStage {
    /// No rooms yet.
    New,
    /// Rooms are drawn.
    Surveyed,
    /// Loops are laid.
    Laid,
}

/// A job at a glance: what its design comes to.
#[utoipa::path(context_path = "/api", responses((status = 200, body = JobSummary), (status = 404, body = Problem)))]
#[get("/jobs/<id>/summary")]
pub async fn sum_up(store: &State<Store>, work: &State<Workshop>, id: &str) -> Answer<JobSummary> {
    let (_, design) = designed(store, work, id).await?;
    Ok(Json(summary(&design)))
}

/// What a design comes to.
pub(crate) fn summary(design: &Design) -> JobSummary {
    let stage = match (design.rooms.is_empty(), design.loops.is_empty()) {
        (true, _) => JobStage::New,
        (false, true) => JobStage::Surveyed,
        (false, false) => JobStage::Laid,
    };
    JobSummary {
        heat_loss_w: design.totals.heat_loss_w,
        loops: design.loops.len(),
        supply_c: design.totals.supply_c,
        errors: design.stations.iter().map(|m| m.errors).sum(),
        warnings: design.stations.iter().map(|m| m.warnings).sum(),
        stage,
    }
}

/// The plan in small: the rooms of the level on which most of them lie, as a picture.
#[utoipa::path(context_path = "/api", responses((status = 200, body = String, content_type = "image/svg+xml"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/thumbnail.svg")]
pub async fn thumbnail(store: &State<Store>, id: &str) -> Result<(ContentType, String), Problem> {
    let job = store.get(id).await?.job;
    Ok((ContentType::SVG, thumbnail_of(&job)))
}

/// Puts a job by: it stays, and is listed apart.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem)))]
#[put("/jobs/<id>/archive")]
pub async fn archive_job(store: Hands, id: &str) -> Result<Status, Problem> {
    store.archive(id, true).await?;
    store.did("put the job by", id).await?;
    Ok(Status::NoContent)
}

/// Takes a job up again that was put by.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/jobs/<id>/archive")]
pub async fn unarchive_job(store: Hands, id: &str) -> Result<Status, Problem> {
    store.archive(id, false).await?;
    store.did("took the job up again", id).await?;
    Ok(Status::NoContent)
}

/// Takes a job off the list.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/jobs/<id>")]
pub async fn delete_job(store: Hands, id: &str) -> Result<Status, Problem> {
    store.delete(id).await?;
    store.did("deleted the job", id).await?;
    Ok(Status::NoContent)
}

/// Brings a deleted job back.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem)))]
#[put("/jobs/<id>/restore")]
pub async fn restore_job(store: Hands, id: &str) -> Result<Status, Problem> {
    store.restore(id).await?;
    store.did("brought the job back", id).await?;
    Ok(Status::NoContent)
}

/// The job by another name.
fn named(job: CheckedJob, name: &str) -> Result<CheckedJob, FieldError> {
    CheckedJob::new(Job { name: name.trim().to_owned(), ..job.into_job() })
}

/// Copies a job under a new name.
#[utoipa::path(context_path = "/api", request_body = NewName, responses((status = 200, body = StoredJob), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/jobs/<id>/copy", data = "<body>")]
pub async fn copy_job(store: Hands, id: &str, body: JsonText) -> Answer<StoredJob> {
    let NewName { name } = parse(&body.0)?;
    let job = named(store.get(id).await?.job, &name)?;
    Ok(Json(store.add(job).await?))
}

/// Gives a job another name.
#[utoipa::path(context_path = "/api", request_body = NewName, responses((status = 200, body = Saved), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/jobs/<id>/rename?<revision>", data = "<body>")]
pub async fn rename_job(
    store: Hands,
    live: &State<Live>,
    access: Access,
    id: &str,
    revision: i64,
    body: JsonText,
) -> Answer<Saved> {
    let NewName { name } = parse(&body.0)?;
    let stored = store.get(id).await?;
    // what is written is the job of that revision, not whichever was read
    if stored.revision != revision {
        return Err(StoreError::Stale { current: stored.revision }.into());
    }
    let job = named(stored.job, &name)?;
    let revision = store.save(id, revision, None, &job).await?;
    live.saved(id, revision, &access.name());
    Ok(Json(Saved { revision }))
}

/// The job as a file.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Job, content_type = "application/json"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/file")]
pub async fn download_job(store: &State<Store>, id: &str) -> Result<Download, Problem> {
    let job = store.get(id).await?.job;
    Ok(Download::new(&job, ".json", ContentType::JSON, job.text()?))
}

/// The table of loops.
#[utoipa::path(context_path = "/api", responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/loops.csv")]
pub async fn loops_csv(store: &State<Store>, work: &State<Workshop>, id: &str) -> Result<Download, Problem> {
    let (job, design) = designed(store, work, id).await?;
    Ok(Download::new(&job, "-loops.csv", ContentType::CSV, tables::loops(&job, &design)))
}

/// The table of the circuits of wall and ceiling fields.
#[utoipa::path(context_path = "/api", responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/fields.csv")]
pub async fn fields_csv(store: &State<Store>, work: &State<Workshop>, id: &str) -> Result<Download, Problem> {
    let (job, design) = designed(store, work, id).await?;
    Ok(Download::new(&job, "-fields.csv", ContentType::CSV, tables::fields(&job, &design)))
}

/// The table of rooms.
#[utoipa::path(context_path = "/api", responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/rooms.csv")]
pub async fn rooms_csv(store: &State<Store>, work: &State<Workshop>, id: &str) -> Result<Download, Problem> {
    let (job, design) = designed(store, work, id).await?;
    Ok(Download::new(&job, "-rooms.csv", ContentType::CSV, tables::rooms(&job, &design)))
}

pub(crate) async fn designed(store: &Store, work: &Workshop, id: &str) -> Result<(CheckedJob, Design), Problem> {
    let job = store.get(id).await?.job;
    work.run(move || design(&job).map(|d| (job, d))).await
}

/// Designs a job without keeping it.
#[utoipa::path(context_path = "/api", request_body = Job, responses((status = 200, body = Design), (status = 422, body = Problem)))]
#[post("/design", data = "<body>")]
pub async fn design_job(work: &State<Workshop>, window: Window, body: JsonText) -> Answer<Design> {
    let studied = move |watch: &Watch| Ok(Design::of(&*Study::of_watched(&body.job()?, watch)?));
    Ok(Json(work.run_for(window, studied).await?))
}

/// How far long work has come.
#[derive(Debug, Clone, Copy, Deserialize, Serialize, utoipa::ToSchema)]
pub struct WorkProgress {
    /// 0 to 1; none: the window waits for nothing.
    pub share: Option<f64>,
}

/// How far what a window of the browser waits for has come.
#[utoipa::path(context_path = "/api", responses((status = 200, body = WorkProgress)))]
#[get("/windows/<window>")]
pub fn read_progress(work: &State<Workshop>, window: &str) -> Json<WorkProgress> {
    Json(WorkProgress { share: work.share(window) })
}

/// Gives up what a window of the browser waits for: it has been closed, or has left the job.
#[utoipa::path(context_path = "/api", responses((status = 204)))]
#[delete("/windows/<window>")]
pub fn leave(work: &State<Workshop>, window: &str) -> Status {
    work.leave(window);
    Status::NoContent
}

/// Tubes, coverings and build-ups that ship with Fuoco.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Library)))]
#[get("/library")]
pub fn read_library() -> Json<&'static Library> {
    Json(library())
}

/// This API's own description.
#[get("/openapi.json")]
pub fn read_openapi() -> (ContentType, String) {
    (ContentType::JSON, crate::document())
}

//! What a job was: handlers.

use crate::api::{Answer, JobSummary, summary};
use crate::body::Json;
use crate::problem::Problem;
use crate::work::Workshop;
use fuoco_core::design::design;
use fuoco_store::{Revision, Store, StoredJob};
use rocket::{State, get};

/// The revisions of a job that are kept, the newest first: how it stood at the end of every stretch of work.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<Revision>), (status = 404, body = Problem)))]
#[get("/jobs/<id>/revisions")]
pub async fn list_revisions(store: &State<Store>, id: &str) -> Answer<Vec<Revision>> {
    Ok(Json(store.revisions(id).await?))
}

/// A job as it was.
#[utoipa::path(context_path = "/api", responses((status = 200, body = StoredJob), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/jobs/<id>/revisions/<revision>")]
pub async fn read_revision(store: &State<Store>, id: &str, revision: i64) -> Answer<StoredJob> {
    Ok(Json(store.revision(id, revision).await?))
}

/// A job as it was at a glance.
#[utoipa::path(context_path = "/api", responses((status = 200, body = JobSummary), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/jobs/<id>/revisions/<revision>/summary")]
pub async fn sum_up_revision(
    store: &State<Store>,
    work: &State<Workshop>,
    id: &str,
    revision: i64,
) -> Answer<JobSummary> {
    let job = store.revision(id, revision).await?.job;
    Ok(Json(summary(&work.run(move || design(&job)).await?)))
}

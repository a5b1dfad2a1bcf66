//! Handlers of the firm: what stands on its papers, and what new jobs take from it.

use crate::access::Hands;
use crate::api::{Answer, Saved, parse};
use crate::body::Json;
use crate::guard::JsonText;
use crate::problem::Problem;
use fuoco_core::job::{Firm, HouseRules, schools};
use fuoco_core::units::Units;
use fuoco_store::{Store, StoredFirm};
use rocket::{State, get, post, put};
use serde::{Deserialize, Serialize};

/// The firm.
#[utoipa::path(context_path = "/api", responses((status = 200, body = StoredFirm)))]
#[get("/firm")]
pub async fn read_firm(store: &State<Store>) -> Answer<StoredFirm> {
    Ok(Json(store.firm().await?))
}

/// Keeps the firm; refused when it has been changed since `revision`.
#[utoipa::path(context_path = "/api", request_body = Firm, responses((status = 200, body = Saved), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/firm?<revision>", data = "<body>")]
pub async fn save_firm(store: Hands, revision: i64, body: JsonText) -> Answer<Saved> {
    let firm = Firm::from_json(&body.0)?;
    Ok(Json(Saved { revision: store.keep_firm(revision, &firm).await? }))
}

/// A job whose ways are to be kept.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Kept {
    /// The job's id.
    pub job_id: String,
    /// The firm's revision.
    pub revision: i64,
}

/// Keeps for new jobs the rules, prices, rates, build-ups and constructions of a job.
#[utoipa::path(context_path = "/api", request_body = Kept, responses((status = 200, body = StoredFirm), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/firm/take", data = "<body>")]
pub async fn take_from_job(store: Hands, body: JsonText) -> Answer<StoredFirm> {
    let kept: Kept = parse(&body.0)?;
    let job = store.get(&kept.job_id).await?.job;
    let mut firm = store.firm().await?.firm;
    firm.take(&job);
    let firm = firm.check()?;
    let revision = store.keep_firm(kept.revision, &firm).await?;
    Ok(Json(StoredFirm { revision, firm }))
}

/// The rule sets that a firm can begin with, a school each, in whole sizes of `units`: `metric` or `us`.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<HouseRules>)))]
#[get("/schools?<units>")]
pub fn list_schools(units: Option<&str>) -> Json<Vec<HouseRules>> {
    Json(schools(if units == Some("us") { Units::Us } else { Units::Metric }))
}

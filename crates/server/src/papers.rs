//! Handlers of the papers: which can be made of a job, and each as PDF.

use crate::access::{Access, Reach};
use crate::api::{Answer, Download};
use crate::body::Json;
use crate::problem::Problem;
use crate::work::Workshop;
use fuoco_core::error::FieldError;
use fuoco_core::job::Firm;
use fuoco_papers::{Format, Paper, of_job};
use fuoco_store::Store;
use rocket::http::uri::Host;
use rocket::http::{ContentType, Status};
use rocket::{State, get};
use serde::{Deserialize, Serialize};

/// A paper of a job.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
pub struct PaperEntry {
    /// Its name in addresses: "heat-loss".
    pub code: String,
    /// Its name.
    pub title: String,
    /// Why it cannot be made yet.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub missing: Option<String>,
}

/// Every paper of a job, and which cannot be made yet.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<PaperEntry>), (status = 404, body = Problem)))]
#[get("/jobs/<id>/papers")]
pub async fn list_papers(
    store: &State<Store>,
    work: &State<Workshop>,
    access: Access,
    id: &str,
) -> Answer<Vec<PaperEntry>> {
    let job = store.get(id).await?.job;
    let entries = store.records(id, 0).await?;
    let listed = work
        .run(move || {
            of_job(&job, &entries, &Firm::default(), Format::A4, None, |papers| {
                let entry =
                    |p: Paper| PaperEntry { code: p.code(), title: p.title().into(), missing: papers.missing(p) };
                Ok(Paper::ALL.into_iter().filter(|p| access.reads_paper(&p.code())).map(entry).collect())
            })
        })
        .await?;
    Ok(Json(listed))
}

/// One paper as PDF: `heat-loss.pdf`. `format` is `a4` or `letter`; absent: what is usual where the job's units are.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<u8>, content_type = "application/pdf"), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/jobs/<id>/papers/<file>?<format>")]
pub async fn paper_pdf(
    store: &State<Store>,
    work: &State<Workshop>,
    id: &str,
    file: &str,
    format: Option<&str>,
    host: Option<&Host<'_>>,
    reach: &State<Reach>,
) -> Result<Download, Problem> {
    let paper = file.strip_suffix(".pdf").and_then(Paper::of_code);
    let paper = paper.ok_or_else(|| Problem::new(Status::NotFound, "Not here", "There is no such paper."))?;
    let job = store.get(id).await?.job;
    let format = match format {
        None => Format::usual(job.site.units),
        Some(word) => Format::of_word(word).ok_or_else(|| FieldError::new("format", "must be \"a4\" or \"letter\""))?,
    };
    let entries = store.records(id, 0).await?;
    let firm = store.firm().await?.firm;
    let scheme = if reach.exposed { "https" } else { "http" };
    let address = host.map(|h| format!("{scheme}://{h}/jobs/{id}"));
    let of = job.clone();
    let pdf = work
        .run(move || {
            of_job(&of, &entries, &firm, format, address.as_deref(), |papers| {
                papers.pdf(paper).map_err(|e| FieldError::new("papers", e.to_string()))
            })
        })
        .await?;
    Ok(Download::new(&job, &format!("-{}.pdf", paper.code()), ContentType::PDF, pdf))
}

//! What a job was: its revisions, each with when it was saved and by whom. Triggers of the database write them with the save
//! itself, so that none is ever missing.

use crate::{Result, Store, StoreError, StoredJob};
use fuoco_core::job::CheckedJob;
use serde::{Deserialize, Serialize};
use sqlx::Row;

/// One revision of a job that is kept.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct Revision {
    /// Its number.
    pub revision: i64,
    /// When it was saved, UTC, ISO 8601.
    pub saved_at: String,
    /// By whom; empty where nobody signs in.
    pub who: String,
    /// Rooms in it.
    pub rooms: i64,
    /// It does not read.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub damaged: bool,
}

/// Revisions older than so many days are thinned to the last of each day.
const THINNED_AFTER_DAYS: u32 = 90;

impl Store {
    /// The revisions of a job that are kept, the newest first: how it stood at the end of every stretch of work.
    ///
    /// # Errors
    /// When there is no such job.
    pub async fn revisions(&self, id: &str) -> Result<Vec<Revision>> {
        let there: i64 = sqlx::query_scalar("SELECT count(*) FROM jobs WHERE id = ? AND deleted_at IS NULL")
            .bind(id)
            .fetch_one(&self.pool)
            .await?;
        if there == 0 {
            return Err(StoreError::NotFound(id.into()));
        }
        let rows = sqlx::query(
            "SELECT revision, saved_at, who, NOT json_valid(body) AS damaged,
                    CASE WHEN json_valid(body) THEN json_array_length(body, '$.rooms') END AS rooms
             FROM revisions WHERE job_id = ? ORDER BY revision DESC LIMIT 1000",
        )
        .bind(id)
        .fetch_all(&self.pool)
        .await?;
        rows.iter()
            .map(|row| {
                Ok(Revision {
                    revision: row.try_get("revision")?,
                    saved_at: row.try_get("saved_at")?,
                    who: row.try_get("who")?,
                    rooms: row.try_get::<Option<i64>, _>("rooms")?.unwrap_or(0),
                    damaged: row.try_get::<i64, _>("damaged")? != 0,
                })
            })
            .collect()
    }

    /// A job as it was at a revision.
    ///
    /// # Errors
    /// When that revision is not kept, or does not read.
    pub async fn revision(&self, id: &str, revision: i64) -> Result<StoredJob> {
        let row = sqlx::query(
            "SELECT r.body FROM revisions r JOIN jobs j ON j.id = r.job_id
             WHERE r.job_id = ? AND r.revision = ? AND j.deleted_at IS NULL",
        )
        .bind(id)
        .bind(revision)
        .fetch_optional(&self.pool)
        .await?
        .ok_or_else(|| StoreError::NotFound(format!("{id}, revision {revision}")))?;
        Ok(StoredJob { id: id.into(), revision, job: CheckedJob::from_json(row.try_get("body")?)? })
    }

    /// Thins what is older than [`THINNED_AFTER_DAYS`] to the last revision of each day; what stands now always stays.
    pub(crate) async fn thin_history(&self) -> Result<u64> {
        let done = sqlx::query(
            "DELETE FROM revisions WHERE saved_at < strftime('%Y-%m-%dT%H:%M:%fZ', 'now', ?1)
               AND revision < (SELECT max(r.revision) FROM revisions r
                               WHERE r.job_id = revisions.job_id AND date(r.saved_at) = date(revisions.saved_at))",
        )
        .bind(format!("-{THINNED_AFTER_DAYS} days"))
        .execute(&self.pool)
        .await?;
        Ok(done.rows_affected())
    }
}

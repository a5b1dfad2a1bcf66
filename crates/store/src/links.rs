//! Links by which somebody without an account reads one job until a day: a crew, an owner, an inspector.

use crate::people::{digest, fresh_token};
use crate::{Result, Store, StoreError};
use fuoco_core::error::FieldError;
use serde::{Deserialize, Serialize};
use sqlx::Row;
use sqlx::sqlite::SqliteRow;

/// What a link is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, utoipa::ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Purpose {
    /// Reads the job on site, without its prices, and adds records.
    Crew,
    /// Reads the papers for owners and inspectors.
    Papers,
}

impl Purpose {
    fn code(self) -> &'static str {
        match self {
            Purpose::Crew => "crew",
            Purpose::Papers => "papers",
        }
    }
}

/// A link to a job.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct Link {
    /// Its id.
    pub id: String,
    /// The job it leads to.
    pub job_id: String,
    /// What it is for.
    pub purpose: Purpose,
    /// For whom.
    pub name: String,
    /// Who made it.
    pub made_by: String,
    /// When, UTC, ISO 8601.
    pub made_at: String,
    /// Until when it is good.
    pub until: String,
    /// When it was opened last.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub used_at: Option<String>,
    /// When it was taken back.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub revoked_at: Option<String>,
}

/// A link is good for so many days at most.
pub const MOST_DAYS: u32 = 730;
/// Links of one job.
const MOST_LINKS: i64 = 100;
const LIVE: &str = "revoked_at IS NULL AND until > strftime('%Y-%m-%dT%H:%M:%fZ', 'now')
     AND EXISTS (SELECT 1 FROM jobs WHERE jobs.id = links.job_id AND jobs.deleted_at IS NULL)";

fn link(row: &SqliteRow) -> Result<Link> {
    let purpose: String = row.try_get("purpose")?;
    Ok(Link {
        id: row.try_get("id")?,
        job_id: row.try_get("job_id")?,
        purpose: if purpose == "crew" { Purpose::Crew } else { Purpose::Papers },
        name: row.try_get("name")?,
        made_by: row.try_get("made_by")?,
        made_at: row.try_get("made_at")?,
        until: row.try_get("until")?,
        used_at: row.try_get("used_at")?,
        revoked_at: row.try_get("revoked_at")?,
    })
}

impl Store {
    /// A new link to a job, good for `days`, with its token, which is told this once.
    ///
    /// # Errors
    /// When there is no such job, or `name` or `days` is out of its range.
    pub async fn make_link(
        &self,
        job_id: &str,
        purpose: Purpose,
        name: &str,
        days: u32,
        made_by: &str,
    ) -> Result<(Link, String)> {
        let name = name.trim();
        if !(1..=200).contains(&name.chars().count()) {
            return Err(FieldError::new("name", "must have 1 to 200 characters: for whom is the link?").into());
        }
        if !(1..=MOST_DAYS).contains(&days) {
            return Err(FieldError::new("days", format!("must be between 1 and {MOST_DAYS}, not {days}")).into());
        }
        if self.links(job_id).await?.len() as i64 >= MOST_LINKS {
            return Err(FieldError::new("name", format!("the job has {MOST_LINKS} links already")).into());
        }
        let token = fresh_token()?;
        let row = sqlx::query(
            "INSERT INTO links (job_id, token, purpose, name, made_by, until)
             SELECT id, ?2, ?3, ?4, ?5, strftime('%Y-%m-%dT%H:%M:%fZ', 'now', ?6) FROM jobs WHERE id = ?1 AND deleted_at IS NULL
             RETURNING *",
        )
        .bind(job_id)
        .bind(digest(&token))
        .bind(purpose.code())
        .bind(name)
        .bind(made_by)
        .bind(format!("+{days} days"))
        .fetch_optional(&self.pool)
        .await?
        .ok_or_else(|| StoreError::NotFound(job_id.into()))?;
        Ok((link(&row)?, token))
    }

    /// The links of a job that are good, and those taken back or past; the newest first.
    pub async fn links(&self, job_id: &str) -> Result<Vec<Link>> {
        let rows = sqlx::query("SELECT * FROM links WHERE job_id = ? ORDER BY made_at DESC, id")
            .bind(job_id)
            .fetch_all(&self.pool)
            .await?;
        rows.iter().map(link).collect()
    }

    /// Takes a link back: whoever came by it is out at once.
    ///
    /// # Errors
    /// When the job has no such link.
    pub async fn revoke_link(&self, job_id: &str, id: &str) -> Result<()> {
        let mut change = self.pool.begin().await?;
        let done = sqlx::query(
            "UPDATE links SET revoked_at = coalesce(revoked_at, strftime('%Y-%m-%dT%H:%M:%fZ', 'now')) WHERE id = ? AND job_id = ?",
        )
        .bind(id)
        .bind(job_id)
        .execute(&mut *change)
        .await?;
        sqlx::query("DELETE FROM sessions WHERE link_id = ?").bind(id).execute(&mut *change).await?;
        change.commit().await?;
        if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound(format!("{job_id}, link {id}"))) }
    }

    /// Opens a link: the token of a session that may do what the link is for; none where it is not good.
    pub async fn open_link(&self, token: &str) -> Result<Option<(Link, String)>> {
        let row = sqlx::query(sqlx::AssertSqlSafe(format!(
            "UPDATE links SET used_at = strftime('%Y-%m-%dT%H:%M:%fZ', 'now') WHERE token = ? AND {LIVE} RETURNING *"
        )))
        .bind(digest(token))
        .fetch_optional(&self.pool)
        .await?;
        let Some(row) = row else { return Ok(None) };
        let link = link(&row)?;
        let session = self.begin_session("link_id", &link.id).await?;
        Ok(Some((link, session)))
    }

    /// The link of that id, while it is good.
    pub(crate) async fn live_link(&self, id: &str) -> Result<Option<Link>> {
        let row = sqlx::query(sqlx::AssertSqlSafe(format!("SELECT * FROM links WHERE id = ? AND {LIVE}")))
            .bind(id)
            .fetch_optional(&self.pool)
            .await?;
        row.as_ref().map(link).transpose()
    }
}

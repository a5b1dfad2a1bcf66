//! Records of the site: only ever added.

use crate::{Result, Store, StoreError};
use fuoco_core::error::FieldError;
use fuoco_core::records::{Entry, Record};
use sqlx::sqlite::SqliteRow;
use sqlx::{Row, SqliteConnection};

/// Records of one job.
pub const MOST_RECORDS: i64 = 20_000;

fn entry(row: &SqliteRow) -> Result<Entry> {
    Ok(Entry {
        number: row.try_get("number")?,
        received_at: row.try_get("received_at")?,
        who: row.try_get("who")?,
        record: Record::from_json(row.try_get("body")?)?,
    })
}

impl Store {
    /// Adds a record to a job. The same record once more is known, and answered as it was kept.
    ///
    /// # Errors
    /// When there is no such job, the record is out of its ranges, a photo is not here yet, the id was used for another record, or
    /// the job has [`MOST_RECORDS`].
    pub async fn add_record(&self, job_id: &str, record: &Record) -> Result<Entry> {
        record.check()?;
        for (k, id) in record.photos.iter().enumerate() {
            let here: bool = sqlx::query_scalar("SELECT EXISTS (SELECT 1 FROM files WHERE id = ?)")
                .bind(id)
                .fetch_one(&self.pool)
                .await?;
            if !here {
                return Err(FieldError::new(format!("photos[{k}]"), "is not here: send the photo first").into());
            }
        }
        let body = serde_json::to_string(record).map_err(|e| FieldError::new("document", e.to_string()))?;
        let row = sqlx::query(
            "INSERT INTO records (job_id, id, who, body)
             SELECT id, ?2, ?3, ?4 FROM jobs WHERE id = ?1 AND deleted_at IS NULL
               AND (SELECT count(*) FROM records WHERE job_id = ?1) < ?5
             ON CONFLICT (job_id, id) DO NOTHING RETURNING *",
        )
        .bind(job_id)
        .bind(&record.id)
        .bind(&*self.who)
        .bind(body)
        .bind(MOST_RECORDS)
        .fetch_optional(&self.pool)
        .await?;
        self.still_there()?;
        if let Some(row) = row {
            return entry(&row);
        }
        let kept = sqlx::query("SELECT * FROM records WHERE job_id = ? AND id = ?")
            .bind(job_id)
            .bind(&record.id)
            .fetch_optional(&self.pool)
            .await?;
        match kept.as_ref().map(entry).transpose()? {
            Some(kept) if kept.record == *record => Ok(kept),
            Some(_) => Err(FieldError::new("id", "is the id of another record of this job").into()),
            None => {
                self.live_job(job_id).await?;
                Err(FieldError::new("id", format!("the job has {MOST_RECORDS} records already")).into())
            }
        }
    }

    /// Takes over the records that came with a job from elsewhere, with their times and names, and who brought them.
    pub(crate) async fn take_records(
        &self,
        transaction: &mut SqliteConnection,
        job_id: &str,
        entries: &[Entry],
    ) -> Result<()> {
        if entries.len() as i64 > MOST_RECORDS {
            return Err(FieldError::new("records", format!("must be {MOST_RECORDS} at most")).into());
        }
        for entry in entries {
            entry.record.check()?;
            let body = serde_json::to_string(&entry.record).map_err(|e| FieldError::new("document", e.to_string()))?;
            let who = match &*self.who {
                "" => entry.who.clone(),
                brought if entry.who.is_empty() => format!("brought by {brought}"),
                brought => format!("{}, brought by {brought}", entry.who),
            };
            sqlx::query(
                "INSERT INTO records (job_id, id, who, body, received_at) VALUES (?, ?, ?, ?, ?)
                 ON CONFLICT (job_id, id) DO NOTHING",
            )
            .bind(job_id)
            .bind(&entry.record.id)
            .bind(who)
            .bind(body)
            .bind(&entry.received_at)
            .execute(&mut *transaction)
            .await?;
        }
        Ok(())
    }

    /// The records of a job that came after that number, in the order in which they came.
    ///
    /// # Errors
    /// When there is no such job.
    pub async fn records(&self, job_id: &str, after: i64) -> Result<Vec<Entry>> {
        self.live_job(job_id).await?;
        let rows = sqlx::query("SELECT * FROM records WHERE job_id = ? AND number > ? ORDER BY number")
            .bind(job_id)
            .bind(after)
            .fetch_all(&self.pool)
            .await?;
        rows.iter().map(entry).collect()
    }

    /// That the job is here, and not deleted.
    async fn live_job(&self, job_id: &str) -> Result<()> {
        let here: bool = sqlx::query_scalar("SELECT EXISTS (SELECT 1 FROM jobs WHERE id = ? AND deleted_at IS NULL)")
            .bind(job_id)
            .fetch_one(&self.pool)
            .await?;
        if here { Ok(()) } else { Err(StoreError::NotFound(job_id.into())) }
    }
}

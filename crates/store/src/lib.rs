//! Jobs and their files kept in one SQLite file, in write-ahead mode with full synchronisation: what was answered as saved survives
//! a killed server and a power cut. Each save names the revision it started from; a stale one is refused.

use fuoco_core::error::FieldError;
use fuoco_core::job::CheckedJob;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use sqlx::sqlite::{SqliteConnectOptions, SqliteJournalMode, SqlitePool, SqlitePoolOptions, SqliteSynchronous};
use sqlx::{Row, sqlite::SqliteRow};
use std::path::Path;
use std::time::Duration;
use thiserror::Error;

static MIGRATIONS: sqlx::migrate::Migrator = sqlx::migrate!();

/// A line in the list of jobs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct JobEntry {
    /// Id of the job in this store.
    pub id: String,
    /// Its name.
    pub name: String,
    /// How often it has been saved.
    pub revision: i64,
    /// When it was saved last, UTC, ISO 8601.
    pub changed_at: String,
    /// Rooms in it.
    pub rooms: i64,
    /// Place of the building.
    pub place: String,
}

/// A job with its revision.
#[derive(Debug, Clone, PartialEq, Serialize, utoipa::ToSchema)]
pub struct StoredJob {
    /// Id of the job in this store.
    pub id: String,
    /// Counts the saves; a save must name the one it started from.
    pub revision: i64,
    /// The document.
    #[schema(value_type = Object)]
    pub job: CheckedJob,
}

/// A picture, photo or weather file.
#[derive(Debug, Clone, PartialEq)]
pub struct StoredFile {
    /// What it is, for instance `image/png`.
    pub media_type: String,
    /// Its bytes.
    pub bytes: Vec<u8>,
}

/// Why the store could not do it.
#[derive(Debug, Error)]
pub enum StoreError {
    /// No such job, or it has been deleted.
    #[error("there is no job \"{0}\"")]
    NotFound(String),
    /// No such file.
    #[error("there is no stored file \"{0}\"")]
    NoFile(String),
    /// Someone else saved in between.
    #[error("the job has been saved elsewhere since: it is at revision {current}")]
    Stale {
        /// The revision that is stored now.
        current: i64,
    },
    /// The stored document does not read, for instance because a newer Fuoco wrote it.
    #[error("the stored job does not read: {0}")]
    Unreadable(#[from] FieldError),
    /// The database could not be made, opened, read or written.
    #[error("the store cannot be used: {0}")]
    Database(#[from] sqlx::Error),
    /// The database is from a newer version, or a migration failed.
    #[error("the store cannot be brought to this version: {0}")]
    Migration(#[from] sqlx::migrate::MigrateError),
    /// The folder could not be made, or a file in it not be used.
    #[error("the data folder cannot be used: {0}")]
    Folder(#[from] std::io::Error),
}

type Result<T> = std::result::Result<T, StoreError>;

/// The name of the database in its folder.
const FILE: &str = "fuoco.db";

/// Makes a data folder of a file that [`Store::back_up`] wrote. A folder that holds a database is left alone: its
/// write-ahead file would be taken for the restored one's.
///
/// # Errors
/// When the folder holds a database, the file is no database of Fuoco, or one of both cannot be used.
pub async fn restore(file: &Path, folder: &Path) -> Result<Store> {
    for taken in ["", "-wal", "-shm"].map(|end| folder.join(format!("{FILE}{end}"))) {
        if taken.exists() {
            return Err(std::io::Error::other(format!("{}: is there already", taken.display())).into());
        }
    }
    let backup = SqliteConnectOptions::new().filename(file).read_only(true).immutable(true);
    let backup = SqlitePoolOptions::new().max_connections(1).connect_with(backup).await?;
    let sound: String = sqlx::query_scalar("PRAGMA integrity_check").fetch_one(&backup).await?;
    let jobs: i64 = sqlx::query_scalar("SELECT count(*) FROM jobs").fetch_one(&backup).await?;
    backup.close().await;
    if sound != "ok" || jobs < 0 {
        return Err(std::io::Error::other(format!("{}: is damaged: {sound}", file.display())).into());
    }
    std::fs::create_dir_all(folder)?;
    std::fs::copy(file, folder.join(FILE))?;
    Store::open(folder).await
}

/// The jobs of one data folder.
#[derive(Debug, Clone)]
pub struct Store {
    pool: SqlitePool,
}

impl Store {
    /// Opens `fuoco.db` in `folder`, making both when they are missing, and brings it to this version.
    pub async fn open(folder: &Path) -> Result<Store> {
        std::fs::create_dir_all(folder)?;
        let options = SqliteConnectOptions::new()
            .filename(folder.join(FILE))
            .create_if_missing(true)
            .journal_mode(SqliteJournalMode::Wal)
            .synchronous(SqliteSynchronous::Full)
            .busy_timeout(Duration::from_secs(5));
        let pool = SqlitePoolOptions::new().max_connections(4).connect_with(options).await?;
        MIGRATIONS.run(&pool).await?;
        Ok(Store { pool })
    }

    /// Writes what is in memory and closes the file.
    pub async fn close(&self) {
        self.pool.close().await;
    }

    /// Writes all that is stored, as it stands, into one new file: also while the server runs, and with what a killed
    /// server left in its write-ahead file. [`restore`] makes a data folder of it.
    ///
    /// # Errors
    /// When the file is there already, or cannot be written.
    pub async fn back_up(&self, file: &Path) -> Result<()> {
        let named = |reason: &str| std::io::Error::other(format!("{}: {reason}", file.display()));
        if file.exists() {
            return Err(named("is there already").into());
        }
        let name = file.to_str().ok_or_else(|| named("has a name that cannot be written"))?;
        sqlx::query("VACUUM INTO ?").bind(name).execute(&self.pool).await?;
        Ok(())
    }

    /// Lets the file grow to that many pages only: for tests of what happens when the disk is full.
    #[doc(hidden)]
    pub async fn limit_pages(&self, pages: u32) -> Result<()> {
        // the limit belongs to a connection: every one of the pool takes it
        let mut held = Vec::new();
        for _ in 0..self.pool.options().get_max_connections() {
            let mut connection = self.pool.acquire().await?;
            sqlx::query(sqlx::AssertSqlSafe(format!("PRAGMA max_page_count = {pages}")))
                .execute(&mut *connection)
                .await?;
            held.push(connection);
        }
        Ok(())
    }

    /// All jobs, the one saved last first.
    pub async fn list(&self) -> Result<Vec<JobEntry>> {
        let rows = sqlx::query(
            "SELECT id, name, revision, changed_at, json_array_length(body, '$.rooms') AS rooms,
                    body ->> '$.site.place' AS place
             FROM jobs WHERE deleted_at IS NULL ORDER BY changed_at DESC, id",
        )
        .fetch_all(&self.pool)
        .await?;
        rows.iter().map(entry).collect()
    }

    /// One job.
    pub async fn get(&self, id: &str) -> Result<StoredJob> {
        let row = sqlx::query("SELECT revision, body FROM jobs WHERE id = ? AND deleted_at IS NULL")
            .bind(id)
            .fetch_optional(&self.pool)
            .await?
            .ok_or_else(|| StoreError::NotFound(id.into()))?;
        let job = CheckedJob::from_json(row.try_get("body")?)?;
        Ok(StoredJob { id: id.into(), revision: row.try_get("revision")?, job })
    }

    /// Adds a job under a new id.
    pub async fn add(&self, job: CheckedJob) -> Result<StoredJob> {
        let body = document(&job)?;
        let row = sqlx::query(
            "INSERT INTO jobs (id, name, revision, body) VALUES (lower(hex(randomblob(8))), ?, 1, ?) RETURNING id",
        )
        .bind(&job.name)
        .bind(body)
        .fetch_one(&self.pool)
        .await?;
        Ok(StoredJob { id: row.try_get("id")?, revision: 1, job })
    }

    /// Saves a job that was read at `revision`; returns the new revision.
    pub async fn save(&self, id: &str, revision: i64, job: &CheckedJob) -> Result<i64> {
        let body = document(job)?;
        let saved = sqlx::query(
            "UPDATE jobs SET name = ?, body = ?, revision = revision + 1,
                    changed_at = strftime('%Y-%m-%dT%H:%M:%fZ', 'now')
             WHERE id = ? AND revision = ? AND deleted_at IS NULL",
        )
        .bind(&job.name)
        .bind(body)
        .bind(id)
        .bind(revision)
        .execute(&self.pool)
        .await?;
        if saved.rows_affected() == 1 {
            return Ok(revision + 1);
        }
        let row = sqlx::query("SELECT revision FROM jobs WHERE id = ? AND deleted_at IS NULL")
            .bind(id)
            .fetch_optional(&self.pool)
            .await?;
        match row {
            Some(row) => Err(StoreError::Stale { current: row.try_get("revision")? }),
            None => Err(StoreError::NotFound(id.into())),
        }
    }

    /// Keeps a file under the SHA-256 of its bytes, which is its id; the same bytes are kept once.
    pub async fn add_file(&self, media_type: &str, bytes: &[u8]) -> Result<String> {
        let id: String = Sha256::digest(bytes).iter().map(|b| format!("{b:02x}")).collect();
        sqlx::query("INSERT INTO files (id, media_type, bytes) VALUES (?, ?, ?) ON CONFLICT (id) DO NOTHING")
            .bind(&id)
            .bind(media_type)
            .bind(bytes)
            .execute(&self.pool)
            .await?;
        Ok(id)
    }

    /// A kept file.
    pub async fn file(&self, id: &str) -> Result<StoredFile> {
        let row = sqlx::query("SELECT media_type, bytes FROM files WHERE id = ?")
            .bind(id)
            .fetch_optional(&self.pool)
            .await?
            .ok_or_else(|| StoreError::NoFile(id.into()))?;
        Ok(StoredFile { media_type: row.try_get("media_type")?, bytes: row.try_get("bytes")? })
    }

    /// Takes a job off the list; [`Store::restore`] brings it back.
    pub async fn delete(&self, id: &str) -> Result<()> {
        self.mark(
            id,
            "UPDATE jobs SET deleted_at = strftime('%Y-%m-%dT%H:%M:%fZ', 'now') WHERE id = ? AND deleted_at IS NULL",
        )
        .await
    }

    /// Brings a deleted job back.
    pub async fn restore(&self, id: &str) -> Result<()> {
        self.mark(id, "UPDATE jobs SET deleted_at = NULL WHERE id = ? AND deleted_at IS NOT NULL").await
    }

    async fn mark(&self, id: &str, statement: &'static str) -> Result<()> {
        let done = sqlx::query(statement).bind(id).execute(&self.pool).await?;
        if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound(id.into())) }
    }
}

fn document(job: &CheckedJob) -> Result<String> {
    serde_json::to_string(job).map_err(|e| StoreError::Unreadable(FieldError::new("document", e.to_string())))
}

fn entry(row: &SqliteRow) -> Result<JobEntry> {
    Ok(JobEntry {
        id: row.try_get("id")?,
        name: row.try_get("name")?,
        revision: row.try_get("revision")?,
        changed_at: row.try_get("changed_at")?,
        rooms: row.try_get::<Option<i64>, _>("rooms")?.unwrap_or(0),
        place: row.try_get::<Option<String>, _>("place")?.unwrap_or_default(),
    })
}

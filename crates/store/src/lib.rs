//! Jobs and their files kept in one SQLite file, in write-ahead mode with full synchronisation: what was answered as saved survives
//! a killed server and a power cut. Each save names the revision it started from; a stale one is refused.

mod history;
mod links;
mod people;
mod records;
mod upkeep;

pub use history::Revision;
pub use links::{Link, MOST_DAYS, Purpose};
pub use people::{Deed, Holder, LEAST_PASSWORD, Person, Role, Session, check_password};
pub use records::MOST_RECORDS;
pub use upkeep::{Checked, Hold, PURGED_AFTER_DAYS, Purged, hold, verify};

use fuoco_core::error::FieldError;
use fuoco_core::job::{CheckedJob, Firm};
use fuoco_core::records::Entry;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use sqlx::sqlite::{SqliteConnectOptions, SqliteJournalMode, SqlitePool, SqlitePoolOptions, SqliteSynchronous};
use sqlx::{Row, sqlite::SqliteRow};
use std::path::{Path, PathBuf};
use std::sync::Arc;
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
    /// For whom it is.
    #[serde(default)]
    pub customer: String,
    /// Where to drive.
    #[serde(default)]
    pub address: String,
    /// It has been put by.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub archived: bool,
    /// Its document is damaged: it cannot be opened until it is restored from a backup.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub damaged: bool,
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

/// The firm with its revision.
#[derive(Debug, Clone, PartialEq, Serialize, utoipa::ToSchema)]
pub struct StoredFirm {
    /// Counts the saves; a save must name the one it started from. 0: none yet.
    pub revision: i64,
    /// The document.
    pub firm: Firm,
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
    /// Nobody of that id may sign in.
    #[error("there is no person \"{0}\"")]
    NoPerson(String),
    /// Another server runs on the folder.
    #[error("{0}: another Fuoco serves this folder; stop it first, or name another folder with --data")]
    Taken(String),
    /// Someone else saved in between.
    #[error("the job has been saved elsewhere since: it is at revision {current}")]
    Stale {
        /// The revision that is stored now.
        current: i64,
    },
    /// The stored document does not read, for instance because a newer Fuoco wrote it.
    #[error("the stored job does not read: {0}")]
    Unreadable(#[from] FieldError),
    /// There is no room left for what was to be written; what was stored before is untouched.
    #[error("the disk is full")]
    Full,
    /// The database file is damaged.
    #[error("the database is damaged: {0}")]
    Damaged(String),
    /// The database file has been moved or deleted while it was open: what would be written now would be lost.
    #[error("{0}: has been moved or deleted while Fuoco was running")]
    Gone(String),
    /// The database could not be made, opened, read or written.
    #[error("the store cannot be used: {0}")]
    Database(#[source] sqlx::Error),
    /// The database is from a newer version, or a migration failed.
    #[error("the store cannot be brought to this version: {0}")]
    Migration(#[from] sqlx::migrate::MigrateError),
    /// The folder could not be made, or a file in it not be used.
    #[error("the data folder cannot be used: {0}")]
    Folder(#[from] std::io::Error),
}

impl From<sqlx::Error> for StoreError {
    fn from(error: sqlx::Error) -> StoreError {
        let code = error.as_database_error().and_then(|e| e.code()).and_then(|c| c.parse::<i32>().ok());
        // the primary result code is in the lowest byte (https://www.sqlite.org/rescode.html)
        match code.map(|c| c & 0xff) {
            Some(13) => StoreError::Full,
            Some(11 | 26) => StoreError::Damaged(error.to_string()),
            _ => StoreError::Database(error),
        }
    }
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
    private_folder(folder)?;
    std::fs::copy(file, folder.join(FILE))?;
    Store::open(folder).await
}

/// Makes a folder, where it is missing one that only its owner may enter.
fn private_folder(folder: &Path) -> std::io::Result<()> {
    let mut builder = std::fs::DirBuilder::new();
    builder.recursive(true);
    #[cfg(unix)]
    std::os::unix::fs::DirBuilderExt::mode(&mut builder, 0o700);
    builder.create(folder)
}

/// Makes a file that only its owner may read, or makes one such; what SQLite puts beside it takes after it.
fn private_file(file: &Path, new: bool) -> std::io::Result<()> {
    let mut options = std::fs::OpenOptions::new();
    options.write(true).create(true).create_new(new);
    #[cfg(unix)]
    std::os::unix::fs::OpenOptionsExt::mode(&mut options, 0o600);
    let file = options.open(file)?;
    #[cfg(unix)]
    file.set_permissions(std::os::unix::fs::PermissionsExt::from_mode(0o600))?;
    drop(file);
    Ok(())
}

/// Which file that is, whatever its name says later; none where the system does not tell.
#[cfg(unix)]
fn identity(file: &Path) -> Option<(u64, u64)> {
    use std::os::unix::fs::MetadataExt;
    std::fs::metadata(file).ok().map(|m| (m.dev(), m.ino()))
}

#[cfg(not(unix))]
fn identity(file: &Path) -> Option<(u64, u64)> {
    file.exists().then_some((0, 0))
}

/// The id of a file: the SHA-256 of its bytes.
pub(crate) fn file_id(bytes: &[u8]) -> String {
    people::hex(&Sha256::digest(bytes))
}

/// The jobs of one data folder.
#[derive(Debug, Clone)]
pub struct Store {
    pool: SqlitePool,
    file: PathBuf,
    identity: Option<(u64, u64)>,
    /// Who saves; empty where nobody signs in.
    who: Arc<str>,
}

impl Store {
    /// Opens `fuoco.db` in `folder`, making both when they are missing, and brings it to this version. What it was before stays
    /// beside it as `before-upgrade-N.db`, for the way back to the older program.
    pub async fn open(folder: &Path) -> Result<Store> {
        private_folder(folder)?;
        let file = folder.join(FILE);
        private_file(&file, false)?;
        let options = SqliteConnectOptions::new()
            .filename(&file)
            .create_if_missing(true)
            .journal_mode(SqliteJournalMode::Wal)
            .synchronous(SqliteSynchronous::Full)
            .busy_timeout(Duration::from_secs(5));
        let pool = SqlitePoolOptions::new().max_connections(4).connect_with(options).await?;
        let store = Store { pool, identity: identity(&file), file, who: "".into() };
        if let Some(was) = store.behind().await? {
            let kept = folder.join(format!("before-upgrade-{was}.db"));
            if !kept.exists() {
                store.back_up(&kept).await?;
            }
        }
        MIGRATIONS.run(&store.pool).await?;
        Ok(store)
    }

    /// The version of the database, where it is older than this program and not empty.
    async fn behind(&self) -> Result<Option<i64>> {
        let made: bool =
            sqlx::query_scalar("SELECT EXISTS (SELECT 1 FROM sqlite_schema WHERE name = '_sqlx_migrations')")
                .fetch_one(&self.pool)
                .await?;
        if !made {
            return Ok(None);
        }
        let was: Option<i64> =
            sqlx::query_scalar("SELECT max(version) FROM _sqlx_migrations").fetch_one(&self.pool).await?;
        let newest = MIGRATIONS.iter().map(|m| m.version).max();
        Ok(was.filter(|v| newest.is_some_and(|n| *v < n)))
    }

    /// The same store in somebody's hands: what they save bears their name.
    #[must_use]
    pub fn by(&self, who: &str) -> Store {
        Store { who: who.into(), ..self.clone() }
    }

    /// What of the store cannot be used, in words for whoever started the server: a damaged file, jobs that do not read.
    /// Nothing is changed.
    ///
    /// # Errors
    /// When the database cannot be read at all.
    pub async fn complaints(&self) -> Result<Vec<String>> {
        let mut out = Vec::new();
        let sound: String = sqlx::query_scalar("PRAGMA quick_check(1)").fetch_one(&self.pool).await?;
        if sound != "ok" {
            out.push(format!("{}: is damaged: {sound}", self.file.display()));
        }
        for job in self.list().await?.iter().filter(|j| j.damaged) {
            out.push(format!("job {} \"{}\": its document does not read and is set aside", job.id, job.name));
        }
        Ok(out)
    }

    /// That what has just been written is in the file that its folder shows, not in one that has been deleted since.
    fn still_there(&self) -> Result<()> {
        if identity(&self.file) == self.identity {
            return Ok(());
        }
        Err(StoreError::Gone(self.file.display().to_string()))
    }

    /// That the database can be read, and is the one that its folder shows.
    pub async fn ping(&self) -> Result<()> {
        sqlx::query("SELECT 1 FROM jobs LIMIT 1").fetch_optional(&self.pool).await?;
        self.still_there()
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
        // an empty file is one that SQLite may fill, and this one is private from the start
        private_file(file, true).map_err(|e| named(&e.to_string()))?;
        let written = sqlx::query("VACUUM INTO ?").bind(name).execute(&self.pool).await;
        if written.is_err() {
            // half a backup is none
            std::fs::remove_file(file)?;
        }
        written?;
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
            "SELECT id, name, revision, changed_at, NOT json_valid(body) AS damaged,
                    CASE WHEN json_valid(body) THEN json_array_length(body, '$.rooms') END AS rooms,
                    CASE WHEN json_valid(body) THEN body ->> '$.site.place' END AS place,
                    CASE WHEN json_valid(body) THEN body ->> '$.customer' END AS customer,
                    CASE WHEN json_valid(body) THEN body ->> '$.address' END AS address,
                    archived_at IS NOT NULL AS archived
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

    /// The firm with its revision; an empty one at revision 0 as long as none was kept.
    ///
    /// # Errors
    /// When what is stored does not read.
    pub async fn firm(&self) -> Result<StoredFirm> {
        let row = sqlx::query("SELECT revision, body FROM firm").fetch_optional(&self.pool).await?;
        let Some(row) = row else { return Ok(StoredFirm { revision: 0, firm: Firm::default() }) };
        Ok(StoredFirm { revision: row.try_get("revision")?, firm: Firm::from_json(row.try_get("body")?)? })
    }

    /// Keeps a firm that was read at `revision` and has been checked; returns the new revision.
    ///
    /// # Errors
    /// When it has been changed since.
    pub async fn keep_firm(&self, revision: i64, firm: &Firm) -> Result<i64> {
        let body = serde_json::to_string(firm).map_err(|e| FieldError::new("document", e.to_string()))?;
        let saved = sqlx::query(
            "INSERT INTO firm (only, revision, body) SELECT 1, 1, ?2 WHERE ?1 = 0 OR EXISTS (SELECT 1 FROM firm)
             ON CONFLICT (only) DO UPDATE SET revision = revision + 1, body = excluded.body WHERE revision = ?1
             RETURNING revision",
        )
        .bind(revision)
        .bind(body)
        .fetch_optional(&self.pool)
        .await?;
        let Some(row) = saved else { return Err(StoreError::Stale { current: self.firm().await?.revision }) };
        self.still_there()?;
        Ok(row.try_get("revision")?)
    }

    /// Adds a job under a new id.
    pub async fn add(&self, job: CheckedJob) -> Result<StoredJob> {
        self.add_with_records(job, &[]).await
    }

    /// Adds a job that comes from elsewhere with what its site wrote down: all of it or nothing.
    ///
    /// # Errors
    /// Also when a record is out of its ranges, or there are more than [`records::MOST_RECORDS`].
    pub async fn add_with_records(&self, job: CheckedJob, records: &[Entry]) -> Result<StoredJob> {
        let body = job.compact()?;
        let mut transaction = self.pool.begin().await?;
        let row = sqlx::query(
            "INSERT INTO jobs (id, name, revision, body, changed_by) VALUES (lower(hex(randomblob(8))), ?, 1, ?, ?) RETURNING id",
        )
        .bind(&job.name)
        .bind(body)
        .bind(&*self.who)
        .fetch_one(&mut *transaction)
        .await?;
        let id: String = row.try_get("id")?;
        self.take_records(&mut transaction, &id, records).await?;
        transaction.commit().await?;
        self.still_there()?;
        Ok(StoredJob { id, revision: 1, job })
    }

    /// Saves a job that was read at `revision`; returns the new revision.
    ///
    /// `save` names this save. When its answer is lost and it comes again, it is known to be in, and what has been changed
    /// in between follows it: neither is a stale edit.
    pub async fn save(&self, id: &str, revision: i64, save: Option<&str>, job: &CheckedJob) -> Result<i64> {
        let body = job.compact()?;
        let saved = sqlx::query(
            "UPDATE jobs SET name = ?1, body = ?2, save_id = ?3, revision = revision + 1, changed_by = ?6,
                    changed_at = strftime('%Y-%m-%dT%H:%M:%fZ', 'now')
             WHERE id = ?4 AND deleted_at IS NULL
                   AND (revision = ?5 OR save_id = ?3 AND revision > ?5 AND body <> ?2)
             RETURNING revision",
        )
        .bind(&job.name)
        .bind(body)
        .bind(save)
        .bind(id)
        .bind(revision)
        .bind(&*self.who)
        .fetch_optional(&self.pool)
        .await?;
        self.still_there()?;
        if let Some(row) = saved {
            return Ok(row.try_get("revision")?);
        }
        let row = sqlx::query("SELECT revision, save_id FROM jobs WHERE id = ? AND deleted_at IS NULL")
            .bind(id)
            .fetch_optional(&self.pool)
            .await?;
        match row {
            Some(row) => {
                let (current, last): (i64, Option<String>) = (row.try_get("revision")?, row.try_get("save_id")?);
                let repeated = save.is_some() && last.as_deref() == save && current > revision;
                if repeated { Ok(current) } else { Err(StoreError::Stale { current }) }
            }
            None => Err(StoreError::NotFound(id.into())),
        }
    }

    /// Keeps a file under the SHA-256 of its bytes, which is its id; the same bytes are kept once.
    pub async fn add_file(&self, media_type: &str, bytes: &[u8]) -> Result<String> {
        let id = file_id(bytes);
        sqlx::query("INSERT INTO files (id, media_type, bytes) VALUES (?, ?, ?) ON CONFLICT (id) DO NOTHING")
            .bind(&id)
            .bind(media_type)
            .bind(bytes)
            .execute(&self.pool)
            .await?;
        self.still_there()?;
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

    /// Puts a job by, or takes it up again.
    pub async fn archive(&self, id: &str, archived: bool) -> Result<()> {
        const BY: &str =
            "UPDATE jobs SET archived_at = strftime('%Y-%m-%dT%H:%M:%fZ', 'now') WHERE id = ? AND deleted_at IS NULL";
        const UP: &str = "UPDATE jobs SET archived_at = NULL WHERE id = ? AND deleted_at IS NULL";
        self.mark(id, if archived { BY } else { UP }).await
    }

    async fn mark(&self, id: &str, statement: &'static str) -> Result<()> {
        let done = sqlx::query(statement).bind(id).execute(&self.pool).await?;
        if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound(id.into())) }
    }
}

fn entry(row: &SqliteRow) -> Result<JobEntry> {
    Ok(JobEntry {
        id: row.try_get("id")?,
        name: row.try_get("name")?,
        revision: row.try_get("revision")?,
        changed_at: row.try_get("changed_at")?,
        rooms: row.try_get::<Option<i64>, _>("rooms")?.unwrap_or(0),
        place: row.try_get::<Option<String>, _>("place")?.unwrap_or_default(),
        customer: row.try_get::<Option<String>, _>("customer")?.unwrap_or_default(),
        address: row.try_get::<Option<String>, _>("address")?.unwrap_or_default(),
        archived: row.try_get::<i64, _>("archived")? != 0,
        damaged: row.try_get::<i64, _>("damaged")? != 0,
    })
}

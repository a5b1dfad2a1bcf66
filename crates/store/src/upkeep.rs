//! What keeps a store sound over years: one server at a time, checks, backups that are kept by a rule, and what is purged.

use crate::{FILE, Result, Store, StoreError, restore};
use fuoco_core::job::CheckedJob;
use fuoco_core::records::Record;
use serde::Serialize;
use sqlx::Row;
use std::collections::BTreeSet;
use std::fs::{File, OpenOptions, TryLockError};
use std::path::{Path, PathBuf};

/// A deleted job can be brought back for so many days; then it is purged, with its history and links.
pub const PURGED_AFTER_DAYS: u32 = 90;
/// A picture that no job and no revision shows is kept so many days: whoever put it there may not have saved yet.
const LOOSE_FILE_DAYS: u32 = 7;
/// What a backup of the rule is called: the rest is the time, UTC.
const BACKUP: &str = "fuoco-";
/// Letters of an id of a file.
const FILE_ID: usize = 64;

/// Held while a server runs on a folder.
#[derive(Debug)]
pub struct Hold {
    _file: File,
}

/// Takes a folder for one server, making it when it is missing.
///
/// # Errors
/// When another one runs on it, or the folder cannot be written.
pub fn hold(folder: &Path) -> Result<Hold> {
    crate::private_folder(folder)?;
    let file = folder.join("fuoco.lock");
    crate::private_file(&file, false)?;
    let open = OpenOptions::new().write(true).open(&file)?;
    match open.try_lock() {
        Ok(()) => Ok(Hold { _file: open }),
        Err(TryLockError::WouldBlock) => Err(StoreError::Taken(folder.display().to_string())),
        Err(TryLockError::Error(e)) => Err(e.into()),
    }
}

/// What a check found.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct Checked {
    /// Jobs, deleted ones included.
    pub jobs: u64,
    /// Revisions of them.
    pub revisions: u64,
    /// Records of sites.
    pub records: u64,
    /// Pictures, photos and weather files.
    pub files: u64,
    /// What is wrong, in words; empty: nothing.
    pub complaints: Vec<String>,
}

/// What was purged.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize)]
pub struct Purged {
    /// Deleted jobs whose time was up.
    pub jobs: u64,
    /// Revisions thinned.
    pub revisions: u64,
    /// Pictures that nothing shows.
    pub files: u64,
}

impl Store {
    /// Looks at all that is stored: the database's own structure, every job, every revision, every file against its id.
    ///
    /// # Errors
    /// When the database cannot be read at all.
    pub async fn check(&self) -> Result<Checked> {
        let mut out = Checked { jobs: 0, revisions: 0, records: 0, files: 0, complaints: vec![] };
        let sound: Vec<String> = sqlx::query_scalar("PRAGMA integrity_check(20)").fetch_all(&self.pool).await?;
        out.complaints.extend(sound.into_iter().filter(|s| s != "ok").map(|s| format!("the database: {s}")));
        let keys: Vec<String> =
            sqlx::query_scalar("SELECT \"table\" FROM pragma_foreign_key_check").fetch_all(&self.pool).await?;
        out.complaints.extend(keys.into_iter().map(|t| format!("a row of {t} belongs to nothing")));
        let jobs = sqlx::query("SELECT id, name, body FROM jobs").fetch_all(&self.pool).await?;
        let files: BTreeSet<String> =
            sqlx::query_scalar("SELECT id FROM files").fetch_all(&self.pool).await?.into_iter().collect();
        for row in &jobs {
            out.jobs += 1;
            let (id, name): (String, String) = (row.try_get("id")?, row.try_get("name")?);
            match CheckedJob::from_json(row.try_get("body")?) {
                Err(e) => out.complaints.push(format!("job {id} \"{name}\": {e}")),
                Ok(job) => {
                    let gone = job.file_ids().into_iter().filter(|f| !files.contains(*f));
                    out.complaints.extend(gone.map(|f| format!("job {id} \"{name}\": the file {f} is not there")));
                }
            }
        }
        let numbers: Vec<(String, i64)> =
            sqlx::query_as("SELECT job_id, revision FROM revisions").fetch_all(&self.pool).await?;
        for (id, revision) in numbers {
            out.revisions += 1;
            let body: String = sqlx::query_scalar("SELECT body FROM revisions WHERE job_id = ? AND revision = ?")
                .bind(&id)
                .bind(revision)
                .fetch_one(&self.pool)
                .await?;
            if let Err(e) = CheckedJob::from_json(&body) {
                out.complaints.push(format!("job {id}, revision {revision}: {e}"));
            }
        }
        let records: Vec<(i64, String, String)> =
            sqlx::query_as("SELECT number, job_id, body FROM records").fetch_all(&self.pool).await?;
        for (number, id, body) in records {
            out.records += 1;
            match Record::from_json(&body) {
                Err(e) => out.complaints.push(format!("job {id}, record {number}: {e}")),
                Ok(record) => {
                    let gone = record.photos.iter().filter(|f| !files.contains(*f));
                    out.complaints
                        .extend(gone.map(|f| format!("job {id}, record {number}: the photo {f} is not there")));
                }
            }
        }
        for id in files {
            out.files += 1;
            let bytes: Vec<u8> =
                sqlx::query_scalar("SELECT bytes FROM files WHERE id = ?").bind(&id).fetch_one(&self.pool).await?;
            if crate::file_id(&bytes) != id {
                out.complaints.push(format!("file {id}: is not what was stored"));
            }
        }
        Ok(out)
    }

    /// Takes away for good what nobody can ask for any more: jobs deleted [`PURGED_AFTER_DAYS`] ago, old revisions beyond the last of
    /// each day, pictures that neither a job nor a revision shows.
    ///
    /// # Errors
    /// When the database cannot be written.
    pub async fn purge(&self) -> Result<Purged> {
        let jobs = sqlx::query("DELETE FROM jobs WHERE deleted_at < strftime('%Y-%m-%dT%H:%M:%fZ', 'now', ?)")
            .bind(format!("-{PURGED_AFTER_DAYS} days"))
            .execute(&self.pool)
            .await?
            .rows_affected();
        let revisions = self.thin_history().await?;
        let files = self.purge_files().await?;
        Ok(Purged { jobs, revisions, files })
    }

    async fn purge_files(&self) -> Result<u64> {
        let old: Vec<String> =
            sqlx::query_scalar("SELECT id FROM files WHERE added_at < strftime('%Y-%m-%dT%H:%M:%fZ', 'now', ?)")
                .bind(format!("-{LOOSE_FILE_DAYS} days"))
                .fetch_all(&self.pool)
                .await?;
        if old.is_empty() {
            return Ok(0);
        }
        // any 64 digits in a document may be an id: a document that does not read keeps its pictures too
        let mut shown = BTreeSet::new();
        for table in ["jobs", "revisions", "records"] {
            let rows: Vec<i64> = sqlx::query_scalar(sqlx::AssertSqlSafe(format!("SELECT rowid FROM {table}")))
                .fetch_all(&self.pool)
                .await?;
            for row in rows {
                let body: Option<String> =
                    sqlx::query_scalar(sqlx::AssertSqlSafe(format!("SELECT body FROM {table} WHERE rowid = ?")))
                        .bind(row)
                        .fetch_optional(&self.pool)
                        .await?;
                shown.extend(
                    body.iter()
                        .flat_map(|b| b.split(|c: char| !c.is_ascii_hexdigit()))
                        .filter(|w| w.len() == FILE_ID)
                        .map(str::to_owned),
                );
            }
        }
        let mut gone = 0;
        for id in old.iter().filter(|id| !shown.contains(*id)) {
            gone += sqlx::query("DELETE FROM files WHERE id = ?").bind(id).execute(&self.pool).await?.rows_affected();
        }
        Ok(gone)
    }

    /// Writes a backup into a folder under the time of day, looks whether it can be restored, and keeps of the older ones the last of
    /// each of the latest `daily` days, and of each of the latest `monthly` months. Others in the folder are left alone.
    ///
    /// # Errors
    /// When it cannot be written, or what was written is no sound backup; older ones are then all kept.
    pub async fn back_up_by_rule(&self, folder: &Path, daily: usize, monthly: usize) -> Result<PathBuf> {
        crate::private_folder(folder)?;
        let now: String =
            sqlx::query_scalar("SELECT strftime('%Y-%m-%dT%H%M%SZ', 'now')").fetch_one(&self.pool).await?;
        let file = folder.join(format!("{BACKUP}{now}.db"));
        self.back_up(&file).await?;
        verify(&file).await?;
        let mut names: Vec<String> = std::fs::read_dir(folder)?
            .filter_map(|e| e.ok()?.file_name().into_string().ok())
            .filter(|n| is_backup(n))
            .collect();
        names.sort_unstable();
        for name in surplus(&names, daily, monthly) {
            std::fs::remove_file(folder.join(name))?;
        }
        Ok(file)
    }
}

/// Whether a backup can be restored: it is, into a folder that is thrown away.
///
/// # Errors
/// Says what is wrong with it.
pub async fn verify(file: &Path) -> Result<()> {
    let folder = file.with_extension("verify");
    let restored = async {
        let store = restore(file, &folder).await?;
        let found = store.check().await?;
        store.close().await;
        match found.complaints.iter().find(|c| c.starts_with("the database")) {
            None => Ok(()),
            Some(complaint) => Err(StoreError::Damaged(complaint.clone())),
        }
    }
    .await;
    // the folder is ours: it is named after the file
    for end in ["", "-wal", "-shm"] {
        let _ = std::fs::remove_file(folder.join(format!("{FILE}{end}")));
    }
    let _ = std::fs::remove_dir(&folder);
    restored
}

/// "fuoco-2026-11-30T081500Z.db"
fn is_backup(name: &str) -> bool {
    let time = name.strip_prefix(BACKUP).and_then(|n| n.strip_suffix(".db"));
    time.is_some_and(|t| {
        t.len() == 18
            && t.bytes()
                .zip(b"0000-00-00T000000Z")
                .all(|(c, like)| if *like == b'0' { c.is_ascii_digit() } else { c == *like })
    })
}

/// Which of the backups, sorted by time, the rule does not keep.
fn surplus(names: &[String], daily: usize, monthly: usize) -> Vec<&String> {
    // the time stands after the prefix: 10 characters of it are the day, 7 the month
    let last_of = |digits: usize, most: usize| {
        let mut seen = BTreeSet::new();
        let key = move |n: &String| n.get(BACKUP.len()..BACKUP.len() + digits).unwrap_or_default().to_owned();
        names.iter().rev().filter(|n| seen.insert(key(n))).take(most).collect::<BTreeSet<_>>()
    };
    let (days, months) = (last_of(10, daily), last_of(7, monthly));
    let newest = names.last();
    names.iter().filter(|n| Some(*n) != newest && !days.contains(n) && !months.contains(n)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_last_of_each_day_and_month_is_kept() {
        let names: Vec<String> = [
            "2026-08-31T220000Z",
            "2026-09-29T220000Z",
            "2026-09-30T220000Z",
            "2026-11-28T070000Z",
            "2026-11-28T220000Z",
            "2026-11-29T220000Z",
            "2026-11-30T070000Z",
            "2026-11-30T081500Z",
        ]
        .map(|t| format!("fuoco-{t}.db"))
        .to_vec();
        assert!(names.iter().all(|n| is_backup(n)));
        let gone = |daily, monthly| surplus(&names, daily, monthly).into_iter().map(|n| &n[6..19]).collect::<Vec<_>>();
        assert_eq!(gone(3, 2), ["2026-08-31T22", "2026-09-29T22", "2026-11-28T07", "2026-11-30T07"]);
        assert_eq!(gone(2, 12), ["2026-09-29T22", "2026-11-28T07", "2026-11-28T22", "2026-11-30T07"]);
        // the one just written always stays
        assert_eq!(gone(0, 0).len(), names.len() - 1);
        assert!(!is_backup("fuoco-2026.db") && !is_backup("fuoco.db") && !is_backup("fuoco-2026-11-30T0815000.db"));
    }
}

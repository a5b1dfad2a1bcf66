//! The store on real files.

use fuoco_core::job::{CheckedJob, Firm, Job};
use fuoco_store::{Store, StoreError, restore};

fn named(name: &str) -> CheckedJob {
    CheckedJob::new(Job::new(name)).expect("sound")
}

/// The same in that place.
fn placed(job: &CheckedJob, place: &str) -> CheckedJob {
    let mut job = Job::clone(job);
    job.site.place = place.into();
    CheckedJob::new(job).expect("sound")
}

#[tokio::test]
async fn what_was_saved_is_there_after_a_restart() {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let added = store.add(named("First")).await.expect("adds");
    let job = placed(&added.job, "Alderfell");
    assert_eq!(store.save(&added.id, 1, None, &job).await.expect("saves"), 2);
    // the server is killed: nothing is closed
    std::mem::forget(store);
    let again = Store::open(folder.path()).await.expect("opens again");
    let read = again.get(&added.id).await.expect("is there");
    assert_eq!((read.revision, read.job), (2, job));
    assert_eq!(again.list().await.expect("lists")[0].place, "Alderfell");
}

#[tokio::test]
async fn a_stale_save_changes_nothing() {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let added = store.add(named("First")).await.expect("adds");
    store.save(&added.id, 1, None, &named("Mine")).await.expect("saves");
    let refused = store.save(&added.id, 1, None, &named("Yours")).await;
    assert!(matches!(refused, Err(StoreError::Stale { current: 2 })));
    assert_eq!(store.get(&added.id).await.expect("is there").job.name, "Mine");
}

#[tokio::test]
async fn of_many_saves_from_one_revision_exactly_one_wins() {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let id = store.add(named("First")).await.expect("adds").id;
    let tasks: Vec<_> = (0..16)
        .map(|k| {
            let (store, id) = (store.clone(), id.clone());
            tokio::spawn(async move { store.save(&id, 1, None, &named(&format!("Writer {k}"))).await.is_ok() })
        })
        .collect();
    let mut won = 0;
    for task in tasks {
        won += usize::from(task.await.expect("runs"));
    }
    assert_eq!(won, 1);
    assert_eq!(store.get(&id).await.expect("is there").revision, 2);
}

#[tokio::test]
async fn a_deleted_job_can_be_brought_back() {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let id = store.add(named("First")).await.expect("adds").id;
    store.delete(&id).await.expect("deletes");
    assert!(store.list().await.expect("lists").is_empty());
    assert!(matches!(store.get(&id).await, Err(StoreError::NotFound(_))));
    assert!(matches!(store.save(&id, 1, None, &named("x")).await, Err(StoreError::NotFound(_))));
    assert!(matches!(store.delete(&id).await, Err(StoreError::NotFound(_))));
    store.restore(&id).await.expect("restores");
    assert_eq!(store.get(&id).await.expect("is there").job.name, "First");
}

/// What reaches the store has passed the check, and so has what comes out of it.
#[tokio::test]
async fn a_stored_job_that_is_no_longer_sound_is_named() {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let id = store.add(named("First")).await.expect("adds").id;
    let url = format!("sqlite://{}", folder.path().join("fuoco.db").display());
    let pool = sqlx::SqlitePool::connect(&url).await.expect("connects");
    let spoil = "UPDATE jobs SET body = json_set(body, '$.site.outdoor_c', 99)";
    sqlx::query(spoil).execute(&pool).await.expect("spoils it");
    let refused = store.get(&id).await;
    assert!(matches!(refused, Err(StoreError::Unreadable(e)) if e.field == "site.outdoor_c"));
}

#[tokio::test]
async fn a_folder_that_cannot_be_made_is_an_error() {
    let file = tempfile::NamedTempFile::new().expect("file");
    assert!(matches!(Store::open(&file.path().join("data")).await, Err(StoreError::Folder(_))));
}

#[tokio::test]
async fn a_database_of_a_newer_program_is_refused_and_left_alone() {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let id = store.add(named("First")).await.expect("adds").id;
    store.close().await;
    // as a later version would: a migration that this program does not know
    let url = format!("sqlite://{}", folder.path().join("fuoco.db").display());
    let pool = sqlx::SqlitePool::connect(&url).await.expect("connects");
    let newer = "INSERT INTO _sqlx_migrations (version, description, success, checksum, execution_time) VALUES (9999, 'later', 1, x'00', 0)";
    sqlx::query(newer).execute(&pool).await.expect("a newer migration");
    assert!(matches!(Store::open(folder.path()).await, Err(StoreError::Migration(_))));
    sqlx::query("DELETE FROM _sqlx_migrations WHERE version = 9999").execute(&pool).await.expect("taken back");
    pool.close().await;
    let again = Store::open(folder.path()).await.expect("opens again");
    assert_eq!(again.get(&id).await.expect("is there").job.name, "First");
}

/// The store as the first released version made it: its one migration, one job of version 1, closed.
#[tokio::test]
async fn a_store_of_the_first_version_opens_with_its_jobs() {
    let folder = tempfile::tempdir().expect("folder");
    let url = format!("sqlite://{}?mode=rwc", folder.path().join("fuoco.db").display());
    let pool = sqlx::SqlitePool::connect(&url).await.expect("connects");
    sqlx::migrate!("./tests/first-version").run(&pool).await.expect("the first schema");
    let body = include_str!("../../core/tests/data/job-version-1.json");
    sqlx::query("INSERT INTO jobs (id, name, revision, body) VALUES ('old', 'Old', 7, ?)")
        .bind(body)
        .execute(&pool)
        .await
        .expect("an old job");
    pool.close().await;
    let store = Store::open(folder.path()).await.expect("opens");
    let old = store.get("old").await.expect("reads");
    assert_eq!((old.revision, old.job.version), (7, fuoco_core::job::VERSION));
    assert_eq!(old.job.rooms.len(), 6);
    assert_eq!(store.list().await.expect("lists")[0].rooms, 6);
    assert_eq!(store.save("old", 7, None, &old.job).await.expect("saves in the new version"), 8);
    assert_eq!(store.get("old").await.expect("reads").job, old.job);
    store.add_file("image/png", b"bytes").await.expect("the new table is there");
    assert_eq!(store.firm().await.expect("the newest one too").revision, 0);
    assert!(store.records("old", 0).await.expect("and its records").is_empty());
    store.close().await;
    // the way back: the database as it was, with what the older program reads
    let back = tempfile::tempdir().expect("folder");
    std::fs::copy(folder.path().join("before-upgrade-1.db"), back.path().join("fuoco.db")).expect("is beside it");
    let url = format!("sqlite://{}", back.path().join("fuoco.db").display());
    let pool = sqlx::SqlitePool::connect(&url).await.expect("connects");
    sqlx::migrate!("./tests/first-version").run(&pool).await.expect("the older program takes it");
    let (revision, kept): (i64, String) =
        sqlx::query_as("SELECT revision, body FROM jobs WHERE id = 'old'").fetch_one(&pool).await.expect("reads");
    assert_eq!((revision, kept.as_str()), (7, body));
    pool.close().await;
    // opened once more, nothing is older any more, and what was kept stays as it was
    let kept =
        std::fs::metadata(folder.path().join("before-upgrade-1.db")).expect("is there").modified().expect("a time");
    Store::open(folder.path()).await.expect("opens again").close().await;
    let beside = std::fs::read_dir(folder.path())
        .expect("reads")
        .filter(|f| f.as_ref().is_ok_and(|f| f.file_name().to_string_lossy().starts_with("before-upgrade")));
    assert_eq!(beside.count(), 1);
    let still =
        std::fs::metadata(folder.path().join("before-upgrade-1.db")).expect("is there").modified().expect("a time");
    assert_eq!(kept, still);
}

#[tokio::test]
async fn the_firm_is_kept_and_a_window_that_is_behind_changes_nothing() {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let named = |name: &str| Firm { name: name.into(), lines: vec!["4 Mill Lane".into()], ..Firm::default() };
    assert_eq!(store.firm().await.expect("an empty one").firm, Firm::default());
    // one that was never read cannot be changed
    assert!(matches!(store.keep_firm(3, &named("None")).await, Err(StoreError::Stale { current: 0 })));
    assert_eq!(store.keep_firm(0, &named("First")).await.expect("kept"), 1);
    assert!(matches!(store.keep_firm(0, &named("Late")).await, Err(StoreError::Stale { current: 1 })));
    assert_eq!(store.keep_firm(1, &named("Second")).await.expect("kept"), 2);
    store.close().await;
    let again = Store::open(folder.path()).await.expect("opens again").firm().await.expect("reads");
    assert_eq!((again.revision, again.firm), (2, named("Second")));
}

#[tokio::test]
async fn of_many_windows_that_change_the_firm_exactly_one_wins() {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let tries: Vec<_> = (0..8)
        .map(|k| {
            let (store, firm) = (store.clone(), Firm { name: k.to_string(), ..Firm::default() });
            tokio::spawn(async move { store.keep_firm(0, &firm).await.is_ok() })
        })
        .collect();
    let mut won = 0;
    for t in tries {
        won += usize::from(t.await.expect("ran"));
    }
    assert_eq!(won, 1);
}

#[tokio::test]
async fn a_file_is_kept_once_under_the_hash_of_its_bytes() {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    // SHA-256 of "abc", FIPS 180-2
    let abc = "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad";
    assert_eq!(store.add_file("image/png", b"abc").await.expect("keeps"), abc);
    assert_eq!(store.add_file("image/jpeg", b"abc").await.expect("keeps"), abc);
    let file = store.file(abc).await.expect("is there");
    assert_eq!((file.media_type.as_str(), file.bytes.as_slice()), ("image/png", &b"abc"[..]));
    assert!(matches!(store.file("none").await, Err(StoreError::NoFile(_))));
    std::mem::forget(store);
    let again = Store::open(folder.path()).await.expect("opens again");
    assert_eq!(again.file(abc).await.expect("is there after a kill").bytes, b"abc");
}

/// A full disk: SQLite's own limit on pages stands in for it. What was saved stays, what is refused says so.
#[tokio::test]
async fn a_full_disk_loses_nothing_that_was_saved() {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let id = store.add(named("Kept")).await.expect("adds").id;
    store.limit_pages(40).await.expect("limits");
    let large = vec![7_u8; 400_000];
    assert!(matches!(store.add_file("image/png", &large).await, Err(StoreError::Full)));
    assert_eq!(store.get(&id).await.expect("is there").job.name, "Kept");
    let job = placed(&named("Changed"), "Alderfell");
    assert_eq!(store.save(&id, 1, None, &job).await.expect("small edits still fit"), 2);
}

/// The database's own file lacks what is still in the write-ahead file: a backup has all of it.
#[tokio::test]
async fn a_backup_after_a_kill_holds_what_was_saved() {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let id = store.add(named("Saved just before")).await.expect("adds").id;
    let file = store.add_file("image/png", b"a photo").await.expect("keeps");
    std::mem::forget(store);
    assert!(folder.path().join("fuoco.db-wal").metadata().expect("a write-ahead file").len() > 0);

    let store = Store::open(folder.path()).await.expect("opens again");
    let backup = folder.path().join("backup.db");
    store.back_up(&backup).await.expect("backs up while it is open");
    let refused = store.back_up(&backup).await;
    assert!(matches!(refused, Err(StoreError::Folder(_))), "an older backup is not overwritten");

    let other = tempfile::tempdir().expect("folder");
    let restored = restore(&backup, &other.path().join("new")).await.expect("restores");
    assert_eq!(restored.get(&id).await.expect("is there").job.name, "Saved just before");
    assert_eq!(restored.file(&file).await.expect("is there").bytes, b"a photo");
    assert!(
        matches!(restore(&backup, folder.path()).await, Err(StoreError::Folder(_))),
        "a folder in use is left alone"
    );
    assert_eq!(store.list().await.expect("lists").len(), 1);
}

#[tokio::test]
async fn what_is_no_backup_is_not_restored() {
    let folder = tempfile::tempdir().expect("folder");
    let file = folder.path().join("letter.txt");
    std::fs::write(&file, "Dear Sir").expect("writes");
    let new = folder.path().join("new");
    assert!(restore(&file, &new).await.is_err());
    assert!(restore(&folder.path().join("nowhere"), &new).await.is_err());
    assert!(!new.exists(), "nothing is made of it");
}

#[tokio::test]
async fn a_save_whose_answer_was_lost_is_known_when_it_comes_again() {
    let folder = tempfile::tempdir().expect("a folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let id = store.add(named("Mine")).await.expect("adds").id;
    let mine = named("Mine, changed");
    let save = Some("window-1-save-1");
    assert_eq!(store.save(&id, 1, save, &mine).await.expect("saves"), 2);
    assert_eq!(store.save(&id, 1, save, &mine).await.expect("known"), 2, "it counts once");
    // and goes on with what was changed since, as often as answers are lost
    assert_eq!(store.save(&id, 1, save, &named("Further")).await.expect("follows"), 3);
    assert_eq!(store.save(&id, 1, save, &named("Further still")).await.expect("follows"), 4);
    assert_eq!(store.get(&id).await.expect("there").job.name, "Further still");
    // another's save in between is a conflict, whatever the id says
    assert_eq!(store.save(&id, 4, Some("another-window"), &named("Yours")).await.expect("saves"), 5);
    let stale = store.save(&id, 1, save, &mine).await;
    assert!(matches!(stale, Err(StoreError::Stale { current: 5 })), "{stale:?}");
    assert_eq!(store.get(&id).await.expect("there").job.name, "Yours");
}

#[tokio::test]
async fn a_damaged_document_is_set_aside_and_the_rest_stays_readable() {
    let folder = tempfile::tempdir().expect("a folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let damaged = store.add(named("Damaged")).await.expect("adds").id;
    store.add(named("Sound")).await.expect("adds");
    assert_eq!(store.complaints().await.expect("reads"), Vec::<String>::new());
    let url = format!("sqlite://{}", folder.path().join("fuoco.db").display());
    let raw = sqlx::SqlitePool::connect(&url);
    let raw = raw.await.expect("opens");
    let mut connection = raw.acquire().await.expect("a connection");
    for statement in
        ["PRAGMA ignore_check_constraints = ON", "UPDATE jobs SET body = '{\"rooms\": [' WHERE name = 'Damaged'"]
    {
        sqlx::query(statement).execute(&mut *connection).await.expect("damages it");
    }
    let list = store.list().await.expect("still lists");
    assert_eq!(
        list.iter().map(|j| (j.name.as_str(), j.damaged)).collect::<std::collections::BTreeSet<_>>(),
        [("Damaged", true), ("Sound", false)].into()
    );
    assert!(matches!(store.get(&damaged).await, Err(StoreError::Unreadable(_))));
    let complaints = store.complaints().await.expect("reads");
    assert!(complaints.len() == 2 && complaints.iter().any(|c| c.contains(&damaged)), "{complaints:?}");
}

#[cfg(unix)]
#[tokio::test]
async fn nothing_is_said_to_be_saved_in_a_folder_that_is_gone_and_files_are_private() {
    use std::os::unix::fs::PermissionsExt;
    let above = tempfile::tempdir().expect("a folder");
    let folder = above.path().join("data");
    let store = Store::open(&folder).await.expect("opens");
    let id = store.add(named("Mine")).await.expect("adds").id;
    let mode = |p: &std::path::Path| std::fs::metadata(p).expect("there").permissions().mode() & 0o777;
    assert_eq!(mode(&folder), 0o700);
    for entry in std::fs::read_dir(&folder).expect("reads") {
        let path = entry.expect("an entry").path();
        assert_eq!(mode(&path), 0o600, "{}", path.display());
    }
    let backup = above.path().join("backup.db");
    store.back_up(&backup).await.expect("backs up");
    assert_eq!(mode(&backup), 0o600);
    std::fs::remove_dir_all(&folder).expect("deleted under it");
    let lost = store.save(&id, 1, None, &named("Mine, changed")).await;
    assert!(lost.is_err(), "{lost:?}");
    assert!(store.add(named("Another")).await.is_err());
}

#[tokio::test]
async fn a_job_put_by_stays_as_it_is_and_is_told_in_the_list() {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let mut job = Job::new("Done");
    (job.customer, job.address) = ("A customer".into(), "1 Mill Lane".into());
    let id = store.add(CheckedJob::new(job).expect("sound")).await.expect("adds").id;
    store.archive(&id, true).await.expect("puts by");
    let listed = &store.list().await.expect("lists")[0];
    assert!(listed.archived);
    assert_eq!((listed.revision, listed.customer.as_str(), listed.address.as_str()), (1, "A customer", "1 Mill Lane"));
    // it can still be opened and saved
    assert_eq!(store.save(&id, 1, None, &named("Done, again")).await.expect("saves"), 2);
    assert!(store.list().await.expect("lists")[0].archived);
    store.archive(&id, false).await.expect("takes up");
    assert!(!store.list().await.expect("lists")[0].archived);
    assert!(matches!(store.archive("none", true).await, Err(StoreError::NotFound(_))));
}

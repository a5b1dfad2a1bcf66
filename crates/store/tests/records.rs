//! What was written down on site is kept once, and as it was.

use fuoco_core::job::{CheckedJob, Job};
use fuoco_core::records::{Entry, Record};
use fuoco_store::{Store, StoreError};
use sqlx::sqlite::{SqliteConnectOptions, SqlitePool};
use tempfile::TempDir;

async fn with_job() -> (TempDir, Store, String) {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    let id = store.add(CheckedJob::new(Job::new("One")).expect("sound")).await.expect("adds").id;
    (folder, store, id)
}

fn note(id: &str, text: &str) -> Record {
    let json =
        format!(r#"{{"id": "{id}", "at": "2026-11-30T07:12:00Z", "fact": {{"kind": "note"}}, "note": "{text}"}}"#);
    Record::from_json(&json).expect("a record")
}

#[tokio::test]
async fn a_record_that_comes_again_counts_once() {
    let (_folder, store, id) = with_job().await;
    let cleo = store.by("Cleo");
    let first = cleo.add_record(&id, &note("aaaaaaaa", "wet")).await.expect("kept");
    let again = store.by("somebody else").add_record(&id, &note("aaaaaaaa", "wet")).await.expect("known");
    assert_eq!(first, again);
    let second = cleo.add_record(&id, &note("bbbbbbbb", "dry")).await.expect("kept");
    assert!(second.number > first.number);
    let all = store.records(&id, 0).await.expect("reads");
    assert_eq!(
        all.iter().map(|e| (e.who.as_str(), e.record.note.as_str())).collect::<Vec<_>>(),
        [("Cleo", "wet"), ("Cleo", "dry")]
    );
    assert_eq!(store.records(&id, first.number).await.expect("reads"), [second]);
    // a job from elsewhere brings its records along, and says who brought them
    let two = CheckedJob::new(Job::new("Two")).expect("sound");
    let brought = store.by("Ben").add_with_records(two.clone(), &all).await.expect("adds").id;
    let there = store.records(&brought, 0).await.expect("reads");
    assert!(there.iter().all(|e| e.who == "Cleo, brought by Ben"), "{there:?}");
    let facts = |all: &[Entry]| all.iter().map(|e| (e.received_at.clone(), e.record.clone())).collect::<Vec<_>>();
    assert_eq!(facts(&there), facts(&all));
    // all of it or nothing
    let mut broken = all.clone();
    broken[1].record.id = "short".into();
    assert!(store.add_with_records(two, &broken).await.is_err());
    assert_eq!(store.list().await.expect("lists").len(), 2);
    // another record under a used id is no repetition
    let other = store.add_record(&id, &note("aaaaaaaa", "changed")).await;
    assert!(matches!(other, Err(StoreError::Unreadable(e)) if e.field == "id"));
    assert_eq!(store.records(&id, 0).await.expect("reads").len(), 2);
}

#[tokio::test]
async fn forty_that_are_sent_at_once_and_twice_are_forty() {
    let (_folder, store, id) = with_job().await;
    let mut sent = tokio::task::JoinSet::new();
    for k in 0..80 {
        let (store, id) = (store.clone(), id.clone());
        sent.spawn(async move { store.add_record(&id, &note(&format!("record-{:02}", k % 40), "wet")).await });
    }
    while let Some(done) = sent.join_next().await {
        done.expect("no panic").expect("kept or known");
    }
    assert_eq!(store.records(&id, 0).await.expect("reads").len(), 40);
}

#[tokio::test]
async fn a_record_belongs_to_a_job_and_its_photos_are_kept_with_it() {
    let (folder, store, id) = with_job().await;
    assert!(matches!(store.add_record("no job", &note("aaaaaaaa", "wet")).await, Err(StoreError::NotFound(_))));
    let photo = store.add_file("image/jpeg", b"a photo").await.expect("kept");
    let mut record = note("aaaaaaaa", "wet");
    record.photos = vec![photo.clone(), "0".repeat(64)];
    let missing = store.add_record(&id, &record).await;
    assert!(matches!(missing, Err(StoreError::Unreadable(e)) if e.field == "photos[1]"));
    record.photos.pop();
    store.add_record(&id, &record).await.expect("kept");
    // a photo that a record shows is no loose file, however old
    let pool = SqlitePool::connect_with(SqliteConnectOptions::new().filename(folder.path().join("fuoco.db"))).await;
    let pool = pool.expect("opens");
    sqlx::query("UPDATE files SET added_at = '2020-01-01T00:00:00Z'").execute(&pool).await.expect("ages");
    assert_eq!(store.purge().await.expect("purges").files, 0);
    assert_eq!(store.check().await.expect("reads").complaints, Vec::<String>::new());
    // nobody changes one, not even behind the store's back
    assert!(sqlx::query("UPDATE records SET body = '{}'").execute(&pool).await.is_err());
    sqlx::query("DELETE FROM files").execute(&pool).await.expect("spoils");
    let found = store.check().await.expect("reads");
    assert!(found.records == 1 && found.complaints[0].contains(&photo), "{:?}", found.complaints);
    pool.close().await;
    store.delete(&id).await.expect("deletes");
    assert!(matches!(store.records(&id, 0).await, Err(StoreError::NotFound(_))));
}

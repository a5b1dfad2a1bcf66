//! What a server of a firm keeps beside its jobs: their history, people, sessions, links; and how all of it is kept sound.

use fuoco_core::job::{CheckedJob, Job};
use fuoco_store::{Holder, Purpose, Role, Store, StoreError, hold, verify};
use sqlx::sqlite::{SqliteConnectOptions, SqlitePool};
use tempfile::TempDir;

const PASSWORD: &str = "seven warm floors";

fn named(name: &str) -> CheckedJob {
    CheckedJob::new(Job::new(name)).expect("sound")
}

async fn store() -> (TempDir, Store) {
    let folder = tempfile::tempdir().expect("folder");
    let store = Store::open(folder.path()).await.expect("opens");
    (folder, store)
}

/// Sets clocks and spoils rows behind the store's back.
async fn behind(folder: &TempDir, statement: &'static str) {
    let options = SqliteConnectOptions::new().filename(folder.path().join("fuoco.db"));
    let pool = SqlitePool::connect_with(options).await.expect("opens");
    sqlx::query(statement).execute(&pool).await.expect(statement);
    pool.close().await;
}

async fn numbers(store: &Store, id: &str) -> Vec<(i64, String)> {
    store.revisions(id).await.expect("history").into_iter().map(|r| (r.revision, r.who)).collect()
}

#[tokio::test]
async fn history_has_a_row_for_each_stretch_of_work_of_each_person() {
    let (folder, store) = store().await;
    let (ada, ben) = (store.by("Ada"), store.by("Ben"));
    let id = ada.add(named("One")).await.expect("adds").id;
    for (revision, name) in [(1, "Two"), (2, "Three")] {
        ada.save(&id, revision, None, &named(name)).await.expect("saves");
    }
    // Ada's saves within ten minutes are one stretch
    assert_eq!(numbers(&store, &id).await, [(3, "Ada".to_owned())]);
    ben.save(&id, 3, None, &named("Four")).await.expect("saves");
    ada.save(&id, 4, None, &named("Five")).await.expect("saves");
    assert_eq!(numbers(&store, &id).await.len(), 3, "each person's stretch stays");
    behind(&folder, "UPDATE revisions SET began_at = strftime('%Y-%m-%dT%H:%M:%fZ', 'now', '-11 minutes')").await;
    ada.save(&id, 5, None, &named("Six")).await.expect("saves");
    let kept = numbers(&store, &id).await;
    assert_eq!(kept.iter().map(|k| k.0).collect::<Vec<_>>(), [6, 5, 4, 3]);
    for (revision, name) in [(6, "Six"), (5, "Five"), (4, "Four"), (3, "Three")] {
        assert_eq!(store.revision(&id, revision).await.expect("kept").job.name, name);
    }
    assert!(matches!(store.revision(&id, 2).await, Err(StoreError::NotFound(_))));
    // a refused save leaves no trace
    assert!(ben.save(&id, 3, None, &named("Late")).await.is_err());
    assert_eq!(numbers(&store, &id).await.len(), 4);
    store.delete(&id).await.expect("deletes");
    assert!(matches!(store.revisions(&id).await, Err(StoreError::NotFound(_))));
    assert!(matches!(store.revision(&id, 6).await, Err(StoreError::NotFound(_))));
}

#[tokio::test]
async fn old_revisions_are_thinned_and_what_is_deleted_long_ago_is_purged_with_its_pictures() {
    let (folder, store) = store().await;
    let kept = store.add(named("Kept")).await.expect("adds").id;
    let gone = store.add(named("Gone")).await.expect("adds").id;
    for revision in 1..=3 {
        behind(&folder, "UPDATE revisions SET began_at = '2020-01-01T00:00:00.000Z'").await;
        store.save(&kept, revision, None, &named(&format!("Kept {revision}"))).await.expect("saves");
    }
    behind(&folder, "UPDATE revisions SET saved_at = '2020-05-05T0' || revision || ':00:00.000Z' WHERE revision < 4")
        .await;
    let shown = store.add_file("image/png", b"shown").await.expect("kept");
    let loose = store.add_file("image/png", b"loose").await.expect("kept");
    let mut job = Job::new("Kept 4");
    job.marks = serde_json::from_value(serde_json::json!([{ "id": "m", "kind": "note", "level_id": "ground", "points": [[1.0, 1.0]], "text": "x", "photo_id": shown }])).expect("a mark");
    store.save(&kept, 4, None, &CheckedJob::new(job).expect("sound")).await.expect("saves");
    store.delete(&gone).await.expect("deletes");
    let fresh = store.purge().await.expect("purges");
    assert_eq!((fresh.jobs, fresh.files), (0, 0), "what is new may still be wanted");
    assert_eq!(fresh.revisions, 2, "of 1, 2 and 3, saved on one day years ago, the last stays");
    assert_eq!(store.revisions(&kept).await.expect("history").first().map(|r| r.revision), Some(5));
    behind(&folder, "UPDATE files SET added_at = '2020-01-01T00:00:00.000Z'").await;
    behind(&folder, "UPDATE jobs SET deleted_at = '2020-01-01T00:00:00.000Z' WHERE deleted_at IS NOT NULL").await;
    let purged = store.purge().await.expect("purges");
    assert_eq!((purged.jobs, purged.files), (1, 1));
    assert!(store.file(&shown).await.is_ok());
    assert!(matches!(store.file(&loose).await, Err(StoreError::NoFile(_))));
    assert!(matches!(store.restore(&gone).await, Err(StoreError::NotFound(_))));
}

#[tokio::test]
async fn sessions_go_on_under_new_tokens_and_end_in_time() {
    let (folder, store) = store().await;
    store.add_person("Ada", Role::Owner, PASSWORD).await.expect("added");
    assert!(store.sign_in("Ada", "seven cold floors!").await.expect("asks").is_none());
    assert!(store.sign_in("Eve", PASSWORD).await.expect("asks").is_none());
    let (ada, token) = store.sign_in(" ada ", PASSWORD).await.expect("asks").expect("right");
    let session = store.session(&token).await.expect("asks").expect("good");
    assert_eq!((session.holder, session.renewed), (Holder::Person(ada.clone()), None));
    // after an hour it goes on under another token; the old one is good for requests that are under way
    behind(&folder, "UPDATE sessions SET issued_at = strftime('%Y-%m-%dT%H:%M:%fZ', 'now', '-61 minutes')").await;
    let next = store.session(&token).await.expect("asks").expect("good").renewed.expect("a new token");
    assert!(next != token && store.session(&next).await.expect("asks").is_some());
    let old = store.session(&token).await.expect("asks").expect("for a minute");
    assert_eq!(old.renewed, None, "it is changed once");
    behind(&folder, "UPDATE sessions SET ends_at = strftime('%Y-%m-%dT%H:%M:%fZ', 'now', '-1 second') WHERE ends_at < strftime('%Y-%m-%dT%H:%M:%fZ', 'now', '+2 minutes')").await;
    assert!(store.session(&token).await.expect("asks").is_none());
    // idle for a week; a clock that was set back; the end after a month in any case
    for spoiled in [
        "UPDATE sessions SET seen_at = strftime('%Y-%m-%dT%H:%M:%fZ', 'now', '-8 days')",
        "UPDATE sessions SET began_at = strftime('%Y-%m-%dT%H:%M:%fZ', 'now', '+1 day'), seen_at = strftime('%Y-%m-%dT%H:%M:%fZ', 'now')",
        "UPDATE sessions SET ends_at = strftime('%Y-%m-%dT%H:%M:%fZ', 'now', '-1 second')",
    ] {
        let (_, token) = store.sign_in("Ada", PASSWORD).await.expect("asks").expect("right");
        assert!(store.session(&token).await.expect("asks").is_some());
        behind(&folder, spoiled).await;
        assert!(store.session(&token).await.expect("asks").is_none(), "{spoiled}");
    }
    // neither password nor token stands in the file
    let (_, token) = store.sign_in("Ada", PASSWORD).await.expect("asks").expect("right");
    let copy = folder.path().join("copy.db");
    store.back_up(&copy).await.expect("written");
    let bytes = std::fs::read(copy).expect("reads");
    for secret in [PASSWORD, &token] {
        assert!(!bytes.windows(secret.len()).any(|w| w == secret.as_bytes()));
    }
    assert!(bytes.windows(9).any(|w| w == b"$argon2id"));
}

#[tokio::test]
async fn people_have_names_of_their_own_and_passwords_that_are_not_guessed() {
    let (_folder, store) = store().await;
    let field = async |name: &str, password: &str| match store.add_person(name, Role::Owner, password).await {
        Err(StoreError::Unreadable(e)) => e.field,
        other => panic!("{other:?}"),
    };
    assert_eq!(field("", PASSWORD).await, "name");
    assert_eq!(field("a\nb", PASSWORD).await, "name");
    assert_eq!(field(&"x".repeat(61), PASSWORD).await, "name");
    for weak in ["short", "aaaaaaaaaaaaaaaa", "Ada Lovelace 1", &"x".repeat(201)] {
        assert_eq!(field("Ada Lovelace", weak).await, "password", "{weak}");
    }
    let ada = store.add_person("Ada", Role::Owner, PASSWORD).await.expect("added");
    assert_eq!(field("ADA", PASSWORD).await, "name");
    let refused = store.set_role(&ada.id, Role::Viewer).await;
    assert!(matches!(refused, Err(StoreError::Unreadable(e)) if e.field == "role"));
    let ben = store.add_person("Ben", Role::Owner, PASSWORD).await.expect("added");
    store.set_role(&ada.id, Role::Viewer).await.expect("Ben is owner");
    store.remove_person(&ada.id).await.expect("removed");
    assert!(store.remove_person(&ben.id).await.is_err());
    assert!(matches!(store.set_role("nobody", Role::Crew).await, Err(StoreError::NoPerson(_))));
}

#[tokio::test]
async fn a_link_is_good_until_its_day() {
    let (folder, store) = store().await;
    let id = store.add(named("One")).await.expect("adds").id;
    let (link, token) = store.make_link(&id, Purpose::Crew, "Site", 3, "Ada").await.expect("made");
    let (opened, session) = store.open_link(&token).await.expect("asks").expect("good");
    assert_eq!((opened.id, opened.purpose), (link.id, Purpose::Crew));
    assert!(matches!(store.session(&session).await.expect("asks").expect("good").holder, Holder::Link(_)));
    behind(&folder, "UPDATE links SET until = strftime('%Y-%m-%dT%H:%M:%fZ', 'now', '-1 second')").await;
    assert!(store.session(&session).await.expect("asks").is_none());
    assert!(store.open_link(&token).await.expect("asks").is_none());
    assert!(store.open_link("made up").await.expect("asks").is_none());
    assert!(matches!(store.make_link("no job", Purpose::Crew, "Site", 3, "").await, Err(StoreError::NotFound(_))));
    assert!(
        matches!(store.make_link(&id, Purpose::Crew, "Site", 731, "").await, Err(StoreError::Unreadable(e)) if e.field == "days")
    );
}

#[tokio::test]
async fn one_server_at_a_time_has_a_folder() {
    let (folder, _store) = store().await;
    let first = hold(folder.path()).expect("free");
    assert!(matches!(hold(folder.path()), Err(StoreError::Taken(_))));
    drop(first);
    hold(folder.path()).expect("free again");
}

#[tokio::test]
async fn a_check_names_what_is_damaged() {
    let (folder, store) = store().await;
    let id = store.add(named("One")).await.expect("adds").id;
    store.add_file("image/png", b"a picture").await.expect("kept");
    let sound = store.check().await.expect("reads");
    assert_eq!((sound.jobs, sound.revisions, sound.files, sound.complaints), (1, 1, 1, vec![]));
    behind(&folder, "UPDATE files SET bytes = x'00'").await;
    behind(&folder, "UPDATE revisions SET body = '{}'").await;
    behind(&folder, "UPDATE jobs SET body = json_set(body, '$.rooms', 'none')").await;
    let found = store.check().await.expect("reads").complaints;
    assert_eq!(found.len(), 3, "{found:?}");
    assert!(
        found[0].contains(&id)
            && found[0].contains("rooms")
            && found[1].contains("revision 1")
            && found[2].contains("is not what was stored")
    );
}

#[tokio::test]
async fn backups_by_rule_are_looked_at_and_older_ones_kept_by_day_and_month() {
    let (_folder, store) = store().await;
    store.add(named("One")).await.expect("adds");
    let to = tempfile::tempdir().expect("folder");
    for old in
        ["fuoco-2020-01-01T080000Z.db", "fuoco-2020-01-01T200000Z.db", "fuoco-2020-02-01T080000Z.db", "notes.txt"]
    {
        std::fs::write(to.path().join(old), "x").expect("written");
    }
    let file = store.back_up_by_rule(to.path(), 1, 2).await.expect("written");
    let mut names: Vec<String> = std::fs::read_dir(to.path())
        .expect("lists")
        .map(|e| e.expect("reads").file_name().into_string().expect("a name"))
        .collect();
    names.sort();
    let written = file.file_name().expect("a name").to_string_lossy().into_owned();
    assert_eq!(names, ["fuoco-2020-02-01T080000Z.db".to_owned(), written, "notes.txt".into()]);
    verify(&file).await.expect("sound");
    let broken = to.path().join("broken.db");
    let mut bytes = std::fs::read(&file).expect("reads");
    let half = bytes.len() / 2;
    bytes[half..].fill(0x55);
    std::fs::write(&broken, bytes).expect("written");
    assert!(verify(&broken).await.is_err());
    assert!(!broken.with_extension("verify").exists(), "nothing is left of looking");
}

//! Who looks at a job just now, and word of every save of it: server-sent events.

use crate::access::{Access, May, Token};
use crate::problem::Problem;
use fuoco_store::Store;
use rocket::http::{Method, Status};
use rocket::response::stream::{Event, EventStream};
use rocket::tokio::select;
use rocket::tokio::sync::broadcast::{Receiver, Sender, channel, error::RecvError};
use rocket::tokio::time::{Duration, interval};
use rocket::{Shutdown, State, get};
use serde::Serialize;
use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

/// Windows that listen at a time; more are told to come again.
const MOST_LISTENING: usize = 500;
/// And of one person or link.
const MOST_OF_ONE: usize = 20;
/// Words that wait for a slow window; it misses those before.
const WAITING: usize = 32;
/// So often a window is written to, so that one that has gone is found out, and its right to listen is looked at again.
const HEARTBEAT: Duration = Duration::from_secs(20);

/// A job has been saved.
#[derive(Debug, Clone, Serialize)]
pub(crate) struct SavedWord {
    revision: i64,
    who: String,
}

/// Something has been written down on site.
#[derive(Debug, Clone, Serialize)]
struct RecordedWord {
    number: i64,
    who: String,
}

/// Somebody at a window.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
struct Here {
    window: String,
    name: String,
}

#[derive(Debug, Clone)]
enum Word {
    Saved(SavedWord),
    Recorded(RecordedWord),
    People(Vec<Here>),
}

#[derive(Debug)]
struct Listened {
    to: Sender<Word>,
    here: Vec<(u64, Here)>,
}

/// Who listens to which job.
#[derive(Debug, Clone, Default)]
pub(crate) struct Live {
    jobs: Arc<Mutex<HashMap<String, Listened>>>,
}

/// A window that listens; it is gone when this is dropped.
struct Listener {
    live: Live,
    job_id: String,
    number: u64,
    words: Receiver<Word>,
}

impl Live {
    fn with<T>(&self, f: impl FnOnce(&mut HashMap<String, Listened>) -> T) -> T {
        f(&mut self.jobs.lock().unwrap_or_else(PoisonError::into_inner))
    }

    /// Tells everybody who looks at a job that it has been saved.
    pub fn saved(&self, job_id: &str, revision: i64, who: &str) {
        self.tell(job_id, Word::Saved(SavedWord { revision, who: who.to_owned() }));
    }

    /// Tells them that a record has been added.
    pub fn recorded(&self, job_id: &str, number: i64, who: &str) {
        self.tell(job_id, Word::Recorded(RecordedWord { number, who: who.to_owned() }));
    }

    fn tell(&self, job_id: &str, word: Word) {
        self.with(|jobs| {
            if let Some(of) = jobs.get(job_id) {
                let _ = of.to.send(word);
            }
        });
    }

    /// A window more; none where too many listen.
    fn listen(&self, job_id: &str, here: Here) -> Option<Listener> {
        static NUMBER: std::sync::atomic::AtomicU64 = std::sync::atomic::AtomicU64::new(0);
        let number = NUMBER.fetch_add(1, std::sync::atomic::Ordering::Relaxed);
        let words = self.with(|jobs| {
            let all = || jobs.values().flat_map(|j| &j.here);
            let own = all().filter(|(_, h)| h.name == here.name).count();
            if all().count() >= MOST_LISTENING || own >= MOST_OF_ONE {
                return None;
            }
            let of = jobs.entry(job_id.to_owned()).or_insert_with(|| Listened { to: channel(WAITING).0, here: vec![] });
            of.here.push((number, here));
            let words = of.to.subscribe();
            of.tell();
            Some(words)
        })?;
        Some(Listener { live: self.clone(), job_id: job_id.to_owned(), number, words })
    }
}

impl Listened {
    fn tell(&self) {
        let _ = self.to.send(Word::People(self.here.iter().map(|(_, h)| h.clone()).collect()));
    }
}

impl Drop for Listener {
    fn drop(&mut self) {
        self.live.with(|jobs| {
            let Some(of) = jobs.get_mut(&self.job_id) else { return };
            of.here.retain(|(n, _)| *n != self.number);
            if of.here.is_empty() {
                jobs.remove(&self.job_id);
            } else {
                of.tell();
            }
        });
    }
}

/// Word of a job, as server-sent events: `people`, everybody who looks at it by name and window; `saved`, its new revision and who
/// made it; `recorded`, the number of a new record and who wrote it. `window` names the one that listens.
#[utoipa::path(context_path = "/api", responses((status = 200, body = String, content_type = "text/event-stream"), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/jobs/<id>/events?<window>")]
pub async fn listen<'r>(
    store: &'r State<Store>,
    live: &State<Live>,
    access: Access,
    token: Token,
    id: &str,
    window: &str,
    mut end: Shutdown,
) -> Result<EventStream![Event + 'r], Problem> {
    if !(8..=64).contains(&window.len()) {
        return Err(Problem::new(Status::UnprocessableEntity, "No window", "window must have 8 to 64 characters"));
    }
    store.get(id).await?;
    let here = Here { window: window.to_owned(), name: access.name() };
    let mut listener = live
        .listen(id, here)
        .ok_or_else(|| Problem::new(Status::ServiceUnavailable, "Too many listen", "Come again later."))?;
    let job_id = id.to_owned();
    let Token(token) = token;
    Ok(EventStream! {
        let mut beat = interval(HEARTBEAT);
        beat.tick().await;
        loop {
            select! {
                word = listener.words.recv() => match word {
                    Ok(Word::Saved(saved)) => yield Event::json(&saved).event("saved"),
                    Ok(Word::Recorded(recorded)) => yield Event::json(&recorded).event("recorded"),
                    Ok(Word::People(people)) => yield Event::json(&people).event("people"),
                    // it has been too slow: the next word tells it where things are
                    Err(RecvError::Lagged(_)) => continue,
                    Err(RecvError::Closed) => break,
                },
                _ = beat.tick() => {
                    // whoever was signed out, or whose link was taken back, hears no more
                    if let Some(token) = &token {
                        let still = store.session(token).await.ok().flatten();
                        let may = still.map(|s| Access::of_holder(s.holder).may(Method::Get, &["jobs", &job_id, "events"]));
                        if may != Some(May::Yes) {
                            break;
                        }
                    }
                    yield Event::comment("");
                },
                () = &mut end => break,
            }
        }
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(window: &str, name: &str) -> Here {
        Here { window: window.into(), name: name.into() }
    }

    #[test]
    fn everybody_at_a_job_hears_who_comes_goes_and_saves() {
        let live = Live::default();
        let mut ada = live.listen("j", at("w1", "Ada")).expect("room");
        let ben = live.listen("j", at("w2", "Ben")).expect("room");
        let _other = live.listen("k", at("w3", "Cleo")).expect("room");
        live.saved("j", 7, "Ben");
        live.recorded("j", 31, "Cleo");
        drop(ben);
        let mut heard = vec![];
        while let Ok(word) = ada.words.try_recv() {
            heard.push(match word {
                Word::People(p) => p.into_iter().map(|h| h.name).collect::<Vec<_>>().join(" "),
                Word::Saved(s) => format!("{} by {}", s.revision, s.who),
                Word::Recorded(r) => format!("record {} by {}", r.number, r.who),
            });
        }
        assert_eq!(heard, ["Ada", "Ada Ben", "7 by Ben", "record 31 by Cleo", "Ada"]);
        drop(ada);
        assert!(live.with(|jobs| !jobs.contains_key("j")), "nothing is kept of a job at which nobody looks");
        live.saved("j", 8, "Ben");
    }

    #[test]
    fn no_more_listen_than_there_is_room_for() {
        let live = Live::default();
        let all: Vec<_> =
            (0..MOST_LISTENING).map(|k| live.listen("j", at("w", &k.to_string())).expect("room")).collect();
        assert!(live.listen("k", at("w", "late")).is_none());
        drop(all);
        let own: Vec<_> = (0..MOST_OF_ONE).map(|_| live.listen("j", at("w", "Ada")).expect("room")).collect();
        assert!(live.listen("k", at("w", "Ada")).is_none() && live.listen("k", at("w", "late")).is_some());
        drop(own);
        assert!(live.listen("k", at("w", "Ada")).is_some());
    }
}

//! Work that takes long: off the threads that answer requests, a few at a time, for so long and no longer, and given up when
//! nobody waits for it any more.

use crate::problem::Problem;
use fuoco_core::error::FieldError;
use fuoco_core::watch::Watch;
use rocket::Request;
use rocket::http::Status;
use rocket::request::{FromRequest, Outcome};
use rocket::tokio::sync::Semaphore;
use rocket::tokio::time::timeout;
use std::any::Any;
use std::collections::HashMap;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;

/// So many designs, comparisons and imports are worked on at a time; others wait for their turn.
const AT_A_TIME: usize = 2;
/// Longer than this nothing is waited for.
const LONGEST: Duration = Duration::from_secs(30);
/// More than this wait for no turn: they are told to come again.
const MOST_WAITING: usize = 100;

/// Where long work is done.
#[derive(Clone)]
pub(crate) struct Workshop {
    turns: Arc<Semaphore>,
    /// Places to wait for a turn.
    places: Arc<Semaphore>,
    longest: Duration,
    /// What each window of a browser waits for.
    windows: Arc<Mutex<HashMap<String, Watch>>>,
}

/// The window that asks, by its own word. A window waits for one design: its next one gives the last one up, and so does its
/// going away. (The framework does not tell when a connection has gone.)
pub(crate) struct Window(Option<String>);

#[rocket::async_trait]
impl<'r> FromRequest<'r> for Window {
    type Error = ();

    async fn from_request(request: &'r Request<'_>) -> Outcome<Window, ()> {
        let named = request.headers().get_one("X-Fuoco-Window").filter(|w| (8..=64).contains(&w.len()));
        Outcome::Success(Window(named.map(str::to_owned)))
    }
}

impl Default for Workshop {
    fn default() -> Workshop {
        Workshop {
            turns: Arc::new(Semaphore::new(AT_A_TIME)),
            places: Arc::new(Semaphore::new(AT_A_TIME + MOST_WAITING)),
            longest: LONGEST,
            windows: Arc::default(),
        }
    }
}

impl Workshop {
    /// As [`Workshop::run`], for a window: what it waited for until now is given up.
    ///
    /// # Errors
    /// As [`Workshop::run`].
    pub async fn run_for<T: Send + 'static>(
        &self,
        window: Window,
        f: impl FnOnce(&Watch) -> Result<T, FieldError> + Send + 'static,
    ) -> Result<T, Problem> {
        static UNNAMED: AtomicU64 = AtomicU64::new(1);
        let watch = Watch::default();
        let name = window.0.unwrap_or_else(|| format!("-{}", UNNAMED.fetch_add(1, Ordering::Relaxed)));
        self.leave(&name);
        self.windows.lock().unwrap_or_else(PoisonError::into_inner).insert(name, watch.clone());
        let working = watch.clone();
        let done = self
            .run(move || {
                // its turn may come when nobody waits any more
                working.check()?;
                f(&working)
            })
            .await;
        let given_up = watch.is_stopped();
        // whatever still runs of it is given up too
        watch.stop();
        // nothing is wrong with what was asked: the server stops, or the window has asked for its next one
        if given_up && done.as_ref().is_err_and(|p| p.status == Status::UnprocessableEntity.code) {
            return Err(Problem::new(
                Status::ServiceUnavailable,
                "Given up",
                "Nobody waits for it, or the server stops.",
            ));
        }
        done
    }

    /// How far what a window waits for has come, 0 to 1; none: it waits for nothing.
    pub fn share(&self, window: &str) -> Option<f64> {
        let windows = self.windows.lock().unwrap_or_else(PoisonError::into_inner);
        windows.get(window).filter(|w| !w.is_stopped()).map(Watch::share)
    }

    /// A window waits no more.
    pub fn leave(&self, window: &str) {
        let mut windows = self.windows.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(watch) = windows.remove(window) {
            watch.stop();
        }
        windows.retain(|_, w| !w.is_stopped());
    }

    /// The server stops: nobody waits for anything.
    pub fn close(&self) {
        let mut windows = self.windows.lock().unwrap_or_else(PoisonError::into_inner);
        windows.drain().for_each(|(_, watch)| watch.stop());
        self.turns.close();
    }

    /// Does `f` when its turn comes. Its turn ends when it does, not when the answer is given up.
    ///
    /// # Errors
    /// What `f` answers; 503 when it takes too long or too many wait; 500 with a number that stands in the log when it panics.
    pub async fn run<T: Send + 'static>(
        &self,
        f: impl FnOnce() -> Result<T, FieldError> + Send + 'static,
    ) -> Result<T, Problem> {
        let busy = || Problem::new(Status::ServiceUnavailable, "Too long", "This took longer than the server waits.");
        let crowded =
            || Problem::new(Status::ServiceUnavailable, "Too busy", "Too many wait here. Try again in a moment.");
        let _place = self.places.try_acquire().map_err(|_| crowded())?;
        let turns = Arc::clone(&self.turns);
        let work = async move {
            let turn = turns.acquire_owned().await.map_err(|e| failed(&e.to_string()))?;
            let done = rocket::tokio::task::spawn_blocking(move || {
                let done = catch_unwind(AssertUnwindSafe(f));
                drop(turn);
                done
            });
            match done.await {
                Ok(Ok(answer)) => answer.map_err(|e| Problem { title: "Not taken".into(), ..e.into() }),
                Ok(Err(panic)) => Err(failed(words(&*panic))),
                Err(e) => Err(failed(&e.to_string())),
            }
        };
        timeout(self.longest, work).await.unwrap_or_else(|_| Err(busy()))
    }
}

/// What a panic said.
fn words(panic: &(dyn Any + Send)) -> &str {
    let text = panic.downcast_ref::<&str>().copied();
    text.or_else(|| panic.downcast_ref::<String>().map(String::as_str)).unwrap_or("a panic without words")
}

/// A failure that is ours: the log has what happened under a number, which the answer names.
pub(crate) fn failed(what: &str) -> Problem {
    static NUMBER: AtomicU64 = AtomicU64::new(1);
    let number = NUMBER.fetch_add(1, Ordering::Relaxed);
    tracing::error!(number, what, "a failure of the server");
    let detail = format!("Something went wrong here, not in your job. The server's log has it under number {number}.");
    Problem::new(Status::InternalServerError, "A failure of the server", detail)
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::sync::mpsc;

    #[rocket::async_test]
    async fn a_panic_is_a_500_with_a_number_and_no_turn_is_lost() {
        let workshop = Workshop::default();
        for _ in 0..2 * AT_A_TIME {
            let problem = workshop.run::<()>(|| panic!("out of range")).await.expect_err("a failure");
            assert_eq!(problem.status, 500);
            assert!(problem.detail.contains("number ") && !problem.detail.contains("out of range"), "{problem:?}");
        }
        assert_eq!(workshop.run(|| Ok(7)).await.expect("still works"), 7);
        let refused = workshop.run::<()>(|| Err(FieldError::new("by", "is none"))).await.expect_err("refused");
        assert_eq!((refused.status, refused.field.as_deref()), (422, Some("by")));
    }

    #[rocket::async_test]
    async fn what_takes_too_long_is_given_up_and_only_so_many_run_at_a_time() {
        let workshop = Workshop { longest: Duration::from_millis(50), ..Workshop::default() };
        let (release, held) = mpsc::channel::<()>();
        let held = Arc::new(std::sync::Mutex::new(held));
        for _ in 0..AT_A_TIME {
            let held = Arc::clone(&held);
            let stuck = workshop.run(move || {
                let _ = held.lock().map(|h| h.recv());
                Ok(())
            });
            assert_eq!(stuck.await.expect_err("too long").status, 503);
        }
        assert_eq!(workshop.turns.available_permits(), 0, "both still work");
        assert_eq!(workshop.run(|| Ok(())).await.expect_err("no turn").status, 503);
        drop(release);
        let free = Workshop { longest: LONGEST, ..workshop };
        free.run(|| Ok(())).await.expect("their turns came back");
    }

    #[rocket::async_test]
    async fn the_next_design_of_a_window_and_its_leaving_give_the_last_one_up() {
        let workshop = Workshop::default();
        let window = || Window(Some("window-one".into()));
        let until_stopped = |watch: &Watch| {
            while !watch.is_stopped() {
                std::thread::yield_now();
            }
            watch.check()
        };
        let (first, second) = rocket::tokio::join!(workshop.run_for(window(), until_stopped), async {
            rocket::tokio::time::sleep(Duration::from_millis(20)).await;
            workshop.run_for(window(), |_| Ok(2)).await
        });
        assert_eq!(first.expect_err("given up").status, 503, "nothing was wrong with it");
        assert_eq!(second.expect("the newest"), 2);
        let (gone, ()) = rocket::tokio::join!(workshop.run_for(window(), until_stopped), async {
            rocket::tokio::time::sleep(Duration::from_millis(20)).await;
            workshop.leave("window-one");
        });
        assert!(gone.is_err());
        assert_eq!(workshop.turns.available_permits(), AT_A_TIME);
        assert!(workshop.windows.lock().expect("sound").is_empty());
    }

    #[rocket::async_test]
    async fn who_waits_is_told_how_far_it_has_come() {
        let workshop = Workshop::default();
        let (told, go_on) = (mpsc::channel::<()>(), mpsc::channel::<()>());
        let go_on_seen = Mutex::new(go_on.1);
        let work = workshop.run_for(Window(Some("window-one".into())), move |watch| {
            watch.comes_to(0.25);
            let _ = told.0.send(());
            let _ = go_on_seen.lock().map(|g| g.recv());
            Ok(())
        });
        let (done, share) = rocket::tokio::join!(work, async {
            let seen = rocket::tokio::task::spawn_blocking(move || told.1.recv()).await;
            assert!(seen.is_ok_and(|s| s.is_ok()));
            let share = workshop.share("window-one");
            let _ = go_on.0.send(());
            share
        });
        done.expect("done");
        assert_eq!((share, workshop.share("window-one"), workshop.share("window-two")), (Some(0.25), None, None));
    }

    #[rocket::async_test]
    async fn who_finds_too_many_waiting_is_sent_away_and_closing_gives_all_up() {
        let full = Workshop { places: Arc::new(Semaphore::new(0)), ..Workshop::default() };
        assert_eq!(full.run(|| Ok(())).await.expect_err("no place").status, 503);
        let workshop = Workshop::default();
        let until_stopped = |watch: &Watch| {
            while !watch.is_stopped() {
                std::thread::yield_now();
            }
            watch.check()
        };
        let (given_up, ()) = rocket::tokio::join!(workshop.run_for(Window(None), until_stopped), async {
            rocket::tokio::time::sleep(Duration::from_millis(20)).await;
            workshop.close();
        });
        assert_eq!(given_up.expect_err("given up").status, 503);
        assert!(workshop.run(|| Ok(())).await.is_err(), "no turn any more");
    }
}

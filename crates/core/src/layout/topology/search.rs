//! What the search for a layout may cost: the best that is found within it is taken, and nobody waits for more.
//!
//! Counted in tube, not in seconds, so that the same job always gets the same layout: each time that a plan is laid, its
//! largest room counts with the tube that it takes (others seldom change at the same time).

use crate::job::Job;
use crate::plan::Plan;
use crate::watch::Watch;
use std::cell::Cell;
use std::rc::Rc;

/// Of so much tube the search may make trial, m: a hundred times the living room of a house, twelve times a hall of 200 m² at
/// 100 mm.
const MOST_M: f64 = 24_000.0;

/// A search under way; its clones are the same search.
#[derive(Clone)]
pub struct Search {
    watch: Watch,
    largest_m: f64,
    laid_m: Rc<Cell<f64>>,
}

impl Search {
    /// The search for the layout of a job, as long as somebody waits for it.
    pub fn of(job: &Job, plan: &Plan, watch: &Watch) -> Search {
        let tube = |(i, area): (usize, &f64)| job.rooms[i].heated_floor().map_or(0.0, |f| area / f.spacing_core_m);
        let largest_m = plan.heatable_m2.iter().enumerate().map(tube).fold(0.0, f64::max);
        Search { watch: watch.clone(), largest_m, laid_m: Rc::default() }
    }

    /// The plan is laid once more.
    pub fn spend(&self) {
        self.laid_m.set(self.laid_m.get() + self.largest_m);
    }

    /// What has been found is taken.
    pub fn is_over(&self) -> bool {
        self.laid_m.get() > MOST_M || self.is_given_up()
    }

    /// Nobody waits any more: whatever comes out is worth nothing.
    pub fn is_given_up(&self) -> bool {
        self.watch.is_stopped()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::samples::{box_room, job_of};

    #[test]
    fn a_hall_has_fewer_trials_than_a_room_and_one_at_least() {
        let trials = |x: f64| {
            let job = job_of(vec![box_room("a", 0.0, 0.0, x, 10.0)]);
            let search = Search::of(&job, &Plan::of(&job), &Watch::default());
            let other = search.clone();
            (0..10_000)
                .take_while(|_| {
                    !std::mem::replace(&mut search.is_over(), {
                        other.spend();
                        false
                    })
                })
                .count()
        };
        // 50 m of tube a metre of length, at 0.2 m
        assert_eq!((trials(4.0), trials(40.0)), (121, 13));
        assert!(trials(1000.0) >= 1);
        let watch = Watch::default();
        let job = job_of(vec![box_room("a", 0.0, 0.0, 4.0, 10.0)]);
        let search = Search::of(&job, &Plan::of(&job), &watch);
        assert!(!search.is_over());
        watch.stop();
        assert!(search.is_over(), "nobody waits");
    }
}

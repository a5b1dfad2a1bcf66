//! Locked loops given back to the layout: what lies is not replaced by something worse unasked.
//!
//! ```
//! use fuoco_core::job::CheckedJob;
//! use fuoco_core::layout::edit::reroute::rerouted;
//! use fuoco_core::samples::{box_room, job_of, manifold};
//! let mut job = job_of(vec![box_room("hall", 0.0, 0.0, 5.0, 4.0)]);
//! job.manifolds.push(manifold("m", "A", "hall", 0, 2.5));
//! // nothing is locked: nothing changes, and nothing speaks against it
//! let again = rerouted(&CheckedJob::new(job)?, &[])?;
//! assert!(again.is_no_worse && again.message.is_empty());
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use crate::error::FieldError;
use crate::job::{CheckedJob, Job};
use crate::layout::lay_out;
use crate::layout::rules::objective::{LayoutFigures, Worse};
use crate::plan::Plan;
use crate::units::Quantity;
use serde::{Deserialize, Serialize};

/// What comes out when locked loops are laid anew.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Rerouted {
    /// The layout is no worse than the one that lies.
    pub is_no_worse: bool,
    /// In what it is worse; empty where it is not.
    pub message: String,
    /// The layout as it lies.
    pub before: LayoutFigures,
    /// The layout with those loops laid anew.
    pub after: LayoutFigures,
}

/// Lays locked loops anew, by their ids, and compares what comes out with what lies.
///
/// # Errors
/// When an id names no locked loop of the job.
pub fn rerouted(job: &CheckedJob, loop_ids: &[String]) -> Result<Rerouted, FieldError> {
    let unknown = (0..loop_ids.len()).find(|&i| job.loops.iter().all(|l| l.id != loop_ids[i]));
    if let Some(i) = unknown {
        return Err(FieldError::new(format!("loop_ids[{i}]"), "names no locked loop of this job"));
    }
    let plan = Plan::of(job);
    let mut given = Job::clone(job);
    given.loops.retain(|l| !loop_ids.contains(&l.id));
    let before = LayoutFigures::of(job, &plan, &lay_out(job, &plan));
    let after = LayoutFigures::of(&given, &plan, &lay_out(&given, &plan));
    let message = after.worse_than(&before).map_or_else(String::new, |w| said(job, w));
    Ok(Rerouted { is_no_worse: message.is_empty(), message, before, after })
}

fn said(job: &Job, worse: Worse) -> String {
    let count = |n: usize, one: &str| if n == 1 { format!("one {one}") } else { format!("{n} {one}s") };
    let what = match worse {
        Worse::Violations(n) => format!("{} would not hold", count(n, "layout rule")),
        Worse::BareRooms(n) => format!("{} more would have no tube", count(n, "room")),
        Worse::Problems(n) => format!("{} more would not fit", count(n, "thing")),
        Worse::TooLong(n) => format!("{} more would be over the limit", count(n, "loop")),
        Worse::BareFloor(m2) => {
            format!("{} more of the floor would stay bare", job.site.units.show(Quantity::Area, m2))
        }
        Worse::Dearer => "there would be more loops, turns or leaders".to_owned(),
    };
    format!("What lies is better: re-routed, {what}.")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::layout::edit::hand::locked as keep;
    use crate::samples::{box_room, doorway, job_of, manifold};

    /// Two rooms, all of whose loops are locked.
    fn locked() -> Job {
        let mut hall = box_room("hall", 0.0, 0.0, 5.0, 4.0);
        hall.openings.push(doorway("d", 1, 1.0, 0.9));
        let mut job = job_of(vec![hall, box_room("study", 5.12, 0.0, 9.0, 4.0)]);
        job.manifolds.push(manifold("m", "A", "hall", 0, 2.5));
        let layout = lay_out(&job, &Plan::of(&job));
        let kept = layout.loops.iter().enumerate().map(|(i, l)| keep(&job, l, &format!("k{i}")));
        job.loops = kept.collect();
        job
    }

    fn all(job: &Job) -> Vec<String> {
        job.loops.iter().map(|l| l.id.clone()).collect()
    }

    #[test]
    fn laid_anew_as_they_lay_they_are_no_worse() {
        let job = locked();
        let ids = all(&job);
        let again = rerouted(&CheckedJob::new(job).expect("sound"), &ids).expect("laid");
        assert!(again.is_no_worse, "{}", again.message);
        assert_eq!(again.before.loops, again.after.loops);
    }

    #[test]
    fn what_would_come_out_worse_is_told() {
        let mut job = locked();
        let ids = all(&job);
        // since then more loops were wanted
        job.rooms[0].floor.as_mut().expect("heated").loops = Some(6);
        let again = rerouted(&CheckedJob::new(job.clone()).expect("sound"), &ids).expect("laid");
        assert!(!again.is_no_worse && again.after.loops > again.before.loops);
        assert_eq!(again.message, "What lies is better: re-routed, there would be more loops, turns or leaders.");
        assert_eq!(
            said(&job, Worse::BareRooms(1)),
            "What lies is better: re-routed, one room more would have no tube."
        );
        assert!(said(&job, Worse::BareFloor(2.0)).contains("2.0 m² more of the floor"));
    }

    #[test]
    fn an_unknown_loop_is_refused() {
        let job = CheckedJob::new(locked()).expect("sound");
        assert_eq!(rerouted(&job, &["k0".into(), "x".into()]).expect_err("unknown").field, "loop_ids[1]");
    }
}

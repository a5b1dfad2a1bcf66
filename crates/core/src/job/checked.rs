//! A job that has passed the check, as a type: what takes one need not look again, and may trust every index and id.
//!
//! ```
//! use fuoco_core::job::{CheckedJob, Job};
//! let job = CheckedJob::new(Job::new("Annex"))?;
//! assert_eq!(job.name, "Annex");
//! let text = serde_json::to_string(&job).unwrap();
//! assert_eq!(CheckedJob::from_json(&text)?, job);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::Job;
use serde::{Serialize, Serializer};
use std::ops::Deref;

/// A job that has passed the check. Only the check makes one: see `CheckedJob::new` and `CheckedJob::from_json`, which
/// every file, request, import, plan edit and hand edit goes through.
#[derive(Debug, Clone, PartialEq)]
pub struct CheckedJob(Job);

impl CheckedJob {
    /// For the check alone.
    pub(crate) fn passed(job: Job) -> CheckedJob {
        CheckedJob(job)
    }

    /// The plain job, to be changed and checked again.
    pub fn into_job(self) -> Job {
        self.0
    }
}

impl Deref for CheckedJob {
    type Target = Job;

    fn deref(&self) -> &Job {
        &self.0
    }
}

impl Serialize for CheckedJob {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        self.0.serialize(serializer)
    }
}

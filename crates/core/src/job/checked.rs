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

use super::{Job, LARGEST_JOB, LARGEST_TEXT};
use crate::error::FieldError;
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

    /// The job as JSON without spaces, as it is kept and sent.
    ///
    /// # Errors
    /// When it is larger than [`LARGEST_JOB`].
    pub fn compact(&self) -> Result<String, FieldError> {
        let text = serde_json::to_string(self).map_err(|e| FieldError::new("document", e.to_string()))?;
        if text.len() > LARGEST_JOB {
            return Err(FieldError::new("document", format!("must not take more than {} MB", LARGEST_JOB >> 20)));
        }
        Ok(text)
    }

    /// The job as a file, indented for people as long as it then still reads.
    ///
    /// # Errors
    /// As [`CheckedJob::compact`].
    pub fn text(&self) -> Result<String, FieldError> {
        let indented = serde_json::to_string_pretty(self).ok().filter(|text| text.len() <= LARGEST_TEXT);
        indented.map_or_else(|| self.compact(), Ok)
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

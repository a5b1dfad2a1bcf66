//! What came of the design on site: its [records](crate::records) read against the study of the job.

pub mod laying;
pub mod pressure;

//! Why a job is refused: always with the path of the field that a form can point at.
//!
//! ```
//! use fuoco_core::error::FieldError;
//! let error = FieldError::new("rooms[2].height_m", "must be between 1.5 and 20, not 0");
//! assert_eq!(error.to_string(), "rooms[2].height_m: must be between 1.5 and 20, not 0");
//! ```

use thiserror::Error;

/// A value that Fuoco cannot work with.
#[derive(Debug, Clone, PartialEq, Error)]
#[error("{field}: {reason}")]
pub struct FieldError {
    /// Path of the field from the root of the document, for instance `rooms[2].height_m`.
    pub field: String,
    /// What is wrong and what would be right, as a short sentence without a full stop.
    pub reason: String,
}

impl FieldError {
    /// An error about `field`.
    pub fn new(field: impl Into<String>, reason: impl Into<String>) -> Self {
        FieldError { field: field.into(), reason: reason.into() }
    }
}

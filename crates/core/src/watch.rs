//! A sign that nobody waits for a result any more. Long work looks at it now and then, and ends early.
//!
//! ```
//! use fuoco_core::watch::Watch;
//! let watch = Watch::default();
//! assert!(watch.check().is_ok());
//! watch.stop();
//! assert_eq!(watch.check().unwrap_err().reason, "was given up: nobody waits for it any more");
//! ```

use crate::error::FieldError;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

/// Shared between who works and who waits.
#[derive(Debug, Clone, Default)]
pub struct Watch(Arc<AtomicBool>);

impl Watch {
    /// Nobody waits any more.
    pub fn stop(&self) {
        self.0.store(true, Ordering::Relaxed);
    }

    /// Whether the work is to end.
    pub fn is_stopped(&self) -> bool {
        self.0.load(Ordering::Relaxed)
    }

    /// Goes on only while somebody waits.
    ///
    /// # Errors
    /// When nobody does.
    pub fn check(&self) -> Result<(), FieldError> {
        if self.is_stopped() {
            return Err(FieldError::new("document", "was given up: nobody waits for it any more"));
        }
        Ok(())
    }
}

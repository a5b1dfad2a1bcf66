//! A sign that nobody waits for a result any more, and how far the work has come. Long work looks at it now and then, and ends early.
//!
//! ```
//! use fuoco_core::watch::Watch;
//! let watch = Watch::default();
//! assert!(watch.check().is_ok());
//! watch.comes_to(0.25);
//! assert_eq!(watch.share(), 0.25);
//! watch.stop();
//! assert_eq!(watch.check().unwrap_err().reason, "was given up: nobody waits for it any more");
//! ```

use crate::error::FieldError;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicU32, Ordering};

/// Shared between who works and who waits.
#[derive(Debug, Clone, Default)]
pub struct Watch(Arc<Seen>);

#[derive(Debug, Default)]
struct Seen {
    stopped: AtomicBool,
    /// How far it has come, in millionths.
    come: AtomicU32,
}

impl Watch {
    /// Nobody waits any more.
    pub fn stop(&self) {
        self.0.stopped.store(true, Ordering::Relaxed);
    }

    /// Whether the work is to end.
    pub fn is_stopped(&self) -> bool {
        self.0.stopped.load(Ordering::Relaxed)
    }

    /// The work has come so far, 0 to 1.
    pub fn comes_to(&self, share: f64) {
        self.0.come.store((share.clamp(0.0, 1.0) * 1e6) as u32, Ordering::Relaxed);
    }

    /// How far the work has come, 0 to 1.
    pub fn share(&self) -> f64 {
        f64::from(self.0.come.load(Ordering::Relaxed)) / 1e6
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

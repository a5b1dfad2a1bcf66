//! The floor: build-ups made into sections, what each zone does at a water temperature, what heats each room, floors
//! compared, the picture of a section, remedies where a floor does not meet its room's load.

pub mod assembly;
pub mod check;
pub mod compare;
pub mod curve;
pub mod en1264;
mod findings;
pub(crate) mod heating;
pub mod part;
pub mod picture;
pub mod remedy;
pub mod report;
pub mod trial;
pub mod validation;

use super::Chapter;

pub(crate) const CHAPTER: Chapter = Chapter { check: check::check, ranges: &[part::RANGES], rules: findings::RULES };

pub use assembly::{Parts, section};
pub use curve::{Curve, Duty};

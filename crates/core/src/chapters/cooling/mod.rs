//! Cooling: the tubes of winter with cool water in summer, as cold as the air's moisture allows.

pub mod check;
mod findings;
pub(crate) mod gains;
pub mod part;
pub mod report;
pub mod sun;

use super::Chapter;

pub(crate) const CHAPTER: Chapter = Chapter { check: check::check, ranges: &[part::RANGES], rules: findings::RULES };

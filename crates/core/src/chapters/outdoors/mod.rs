//! Outdoors: areas under the sky that are kept free of snow. What the storm takes, the slab in time, what it costs, what harms it.

pub mod check;
mod findings;
pub(crate) mod load;
pub mod part;
pub mod report;
pub mod slab;
pub mod storm;
pub mod year;

use super::Chapter;

pub(crate) const CHAPTER: Chapter = Chapter { check: check::check, ranges: &[part::RANGES], rules: findings::RULES };

//! Survey: place and climate, levels, rooms and what is in them.

pub mod check;
pub mod climate;
mod findings;
pub mod hours;
pub mod part;
pub mod report;
pub mod site;

use super::Chapter;

pub(crate) const CHAPTER: Chapter =
    Chapter { check: check::check, ranges: &[part::RANGES, site::RANGES], rules: findings::RULES };

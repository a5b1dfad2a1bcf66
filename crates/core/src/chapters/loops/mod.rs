//! Loops: manifolds, locked loops and what is wanted of the layout; the layout itself is the engine in [`crate::layout`].

pub mod check;
pub mod findings;
pub(crate) mod manifolds;
pub mod map;
pub mod part;
pub mod report;
pub(crate) mod spots;
pub(crate) mod steps;

use super::Chapter;

pub(crate) const CHAPTER: Chapter = Chapter { check: check::check, ranges: &[part::RANGES], rules: findings::RULES };

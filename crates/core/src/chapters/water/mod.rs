//! Water: the supply temperature of a circuit and what sets it, the flow and pressure drop of every loop.

pub mod check;
pub(crate) mod circuit;
mod findings;
pub(crate) mod loops;
pub mod part;
pub mod report;

use super::Chapter;

pub(crate) const CHAPTER: Chapter = Chapter { check: check::check, ranges: &[part::RANGES], rules: findings::RULES };

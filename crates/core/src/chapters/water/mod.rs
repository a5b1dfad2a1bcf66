//! Water: the supply temperature of a circuit and what sets it, the flow and pressure drop of every loop.

pub mod bypass;
pub mod check;
pub(crate) mod circuit;
mod findings;
pub(crate) mod loops;
pub mod part;
pub(crate) mod pipework;
pub mod pumps;
pub mod report;
pub(crate) mod rooms;
pub mod trial;
pub mod valves;

use super::Chapter;

pub(crate) const CHAPTER: Chapter = Chapter { check: check::check, ranges: &[part::RANGES], rules: findings::RULES };

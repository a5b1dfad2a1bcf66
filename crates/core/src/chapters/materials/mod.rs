//! Materials: what is bought for the drawn design, which loops come out of which coil, what it costs and how long it takes.
//!
//! Every quantity is counted from what is drawn; the rule of thumb stands beside it.

pub mod articles;
pub mod cautions;
pub mod check;
pub mod coils;
pub mod drilling;
mod findings;
pub mod fixing;
pub mod labour;
pub mod panels;
pub mod part;
mod plant_room;
pub mod quote;
pub mod report;
pub(crate) mod runs;
pub mod saw_cuts;
pub mod takeoff;

use super::Chapter;

pub(crate) const CHAPTER: Chapter =
    Chapter { check: check::check, ranges: &[part::RANGES, crate::coils::RANGES], rules: findings::RULES };

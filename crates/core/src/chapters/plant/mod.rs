//! Plant: the heat source, how its water comes to the circuits, users of heat beside floors, and the control over the year.

pub(crate) mod begin;
mod check;
pub mod emitters;
mod findings;
pub(crate) mod needs;
pub mod part;
pub(crate) mod piping;
pub mod report;
pub mod size;
pub mod source;
pub mod state;
pub mod usual;
pub(crate) mod work;
pub mod year;

use super::Chapter;

pub(crate) const CHAPTER: Chapter = Chapter { check: check::check, ranges: &[part::RANGES], rules: findings::RULES };

//! The trade's rules and physics: from a [`job::Job`] to a [`design::Design`], as pure functions in SI units.
//! No web, no database, no clock, no files.

pub mod air;
pub mod climate;
pub mod construction;
pub mod design;
pub mod error;
pub mod findings;
pub mod floor;
pub mod fluid;
pub mod geometry;
pub mod ground;
pub mod heat_loss;
pub mod job;
pub mod layout;
pub mod library;
pub mod plan;
#[doc(hidden)]
pub mod samples;
pub mod section;
pub mod units;
pub mod verdict;
pub mod water;

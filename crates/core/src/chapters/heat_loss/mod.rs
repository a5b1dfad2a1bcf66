//! Heat loss of rooms and building on the design day.
//!
//! [`surfaces`] reads the job into conductances: transmission `U·A` through every surface (ISO 6946), thermal bridges
//! as a surcharge or `ψ·l`, ground by ISO 13370 or a shortcut, air `ρ·cp·n·V`. This module puts temperatures to
//! them: unheated rooms find theirs by their own balance, and every conductance becomes a part of a room's loss. Frame:
//! EN 12831-1. A heated floor's own downward loss is not a need of the room: the floor stage calculates it, from [`Below`].
//!
//! ```
//! use fuoco_core::heat_loss::heat_loss;
//! use fuoco_core::plan::Plan;
//! use fuoco_core::samples::{box_room, job_of};
//! let job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
//! let losses = heat_loss(&job, &Plan::of(&job));
//! let parts: f64 = losses.rooms[0].parts.iter().map(|p| p.heat_w).sum();
//! assert!((parts - losses.building.heat_w).abs() < 1e-9);
//! ```

pub mod air;
mod air_flow;
pub mod below;
mod bridges;
pub mod check;
pub mod construction;
mod findings;
pub mod ground;
pub mod losses;
pub mod part;
pub mod report;
pub mod savings;
mod surfaces;

use super::Chapter;

pub(crate) const CHAPTER: Chapter = Chapter { check: check::check, ranges: &[part::RANGES], rules: findings::RULES };

pub use losses::{HeatLoss, heat_loss};
pub use report::{BuildingLoss, Cause, CauseHeat, LossPart, Measure, OtherSide, RoomLoss, Saving};

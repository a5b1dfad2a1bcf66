//! Loops that fill the floor of one room: straight runs on a lattice where all is at right angles, lines along the
//! contour elsewhere.

pub mod cells;
pub mod contour;
pub mod lattice;
pub mod quad;
pub mod region;
pub(crate) mod room;
mod skew;
mod square;
pub mod squared;
pub(crate) mod swell;

//! What is not left to the engine: loops shaped by hand, and loops that are locked.

pub mod hand;
pub(crate) mod kept;
pub mod reroute;

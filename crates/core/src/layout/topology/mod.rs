//! Which manifold serves which room, and how the tubes get there: parts of rooms, the tree of rooms behind a manifold,
//! lanes along walls and through doorways, loops that several rooms share.

pub(crate) mod lanes;
pub(crate) mod parts;
pub mod places;
pub mod remedies;
pub mod risers;
pub(crate) mod search;
pub(crate) mod share;
pub mod task;
pub(crate) mod tie;
pub(crate) mod tree;

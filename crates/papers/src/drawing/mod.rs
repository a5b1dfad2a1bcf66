//! Drawings of the papers that no other file format has.

pub mod piping;
pub mod square;

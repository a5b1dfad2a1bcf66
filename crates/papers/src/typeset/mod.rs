//! Setting type: what a paper says, laid on pages and written as PDF. Nothing here knows of the trade.
//!
//! Lengths are millimetres on paper from the upper left corner, sizes of type are points.

pub mod block;
pub mod flow;
pub mod pdf;
pub mod table;
pub mod text;

/// A point of type in millimetres.
pub const POINT: f64 = 25.4 / 72.0;

/// Shades in which a paper is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Ink {
    /// What is read.
    #[default]
    Dark,
    /// What stands beside it.
    Soft,
    /// What stops somebody.
    Alarm,
}

impl Ink {
    /// Its red, green and blue.
    pub fn rgb(self) -> [u8; 3] {
        match self {
            Ink::Dark => [0x22, 0x1d, 0x18],
            Ink::Soft => [0x5f, 0x56, 0x4b],
            Ink::Alarm => [0xa8, 0x32, 0x1a],
        }
    }
}

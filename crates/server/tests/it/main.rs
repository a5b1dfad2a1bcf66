//! The API asked in memory, as one program.

mod api;
mod common;
mod loops;
mod materials;
mod plant;
mod survey;

//! The API asked in memory, as one program.

mod api;
mod common;
mod firm;
mod instruments;
mod loops;
mod materials;
mod outdoors;
mod papers;
mod people;
mod plant;
mod rig;
mod survey;

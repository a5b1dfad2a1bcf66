//! The trade's rules and physics: from a [job](job::Job) to a [design](design::Design), as pure functions in SI units. No web,
//! no database, no clock, no files.
//!
//! | layer | modules |
//! |---|---|
//! | foundations | [`error`], [`units`], [`ranges`], [`geometry`], [`fluid`], [`flow`], [`watch`] |
//! | engines, usable alone | [`section`] (conduction through a floor), [`layout`] (routes of loops), [`network`] (water in pipes), [`coils`] (loops out of coils), [`pressure_test`], [`snow`] (what a surface outdoors takes) |
//! | what is known | [`job`] (the document), [`library`], [`plan`] (its plan, read once), [`records`] and [`readings`] (facts of the site) |
//! | [chapters] of the trade | [`survey`], [`heat_loss`], [`floor`], [`loops`], [`water`], [`plant`], [`materials`] |
//! | what comes out | [`study`] (the job solved), [`findings`], [`design`] (the document), [`onsite`] (what came of it), [`startup`] (filled, balanced, heated up), [`service`] (what is wrong with it) |
//!
//! Imports run from below upward in this table only; a test draws the graph and keeps it so.

pub mod chapters;
mod check;
pub mod coils;
pub mod design;
pub mod dynamics;
pub mod error;
pub mod figures;
pub mod findings;
pub mod flow;
pub mod fluid;
pub mod geometry;
pub mod job;
pub mod layout;
pub mod library;
pub mod moist_air;
pub mod network;
pub mod onsite;
pub mod plan;
pub mod pressure_test;
pub mod ranges;
pub mod readings;
pub mod records;
pub mod rig;
#[doc(hidden)]
pub mod samples;
pub mod section;
pub mod service;
pub mod snow;
pub mod stand_in;
pub mod startup;
pub mod study;
pub mod thermal;
pub mod units;
pub mod watch;
pub mod zone;

pub use chapters::{cooling, floor, heat_loss, loops, materials, outdoors, plant, survey, water};

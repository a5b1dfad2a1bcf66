//! A design in open formats: the plan with its loops as SVG, loops and rooms as CSV.

pub mod plan_svg;
pub mod tables;

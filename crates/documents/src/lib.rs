//! A job and its design in open formats: the plan with its loops as SVG, tables as CSV, rooms and loops as DXF and GeoJSON,
//! pictures and bundles.

pub mod bundle;
pub mod csv_text;
pub mod exchange;
pub mod loop_files;
pub mod pictures;
pub mod plan_svg;
pub mod tables;
pub mod thumbnail;

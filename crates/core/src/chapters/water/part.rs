//! Water's part of the job: what flows in the tubes, and the circuits.

use crate::ranges::ranges;
use serde::{Deserialize, Serialize};

/// What flows in the tubes.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Fluid {
    /// Water or a glycol solution.
    pub kind: FluidKind,
    /// Mass fraction of glycol; 0 for water.
    #[serde(default)]
    pub mass_fraction: f64,
}

/// The fluids of the property table.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum FluidKind {
    #[default]
    Water,
    PropyleneGlycol,
    EthyleneGlycol,
}

/// All that one pump or mixing valve feeds: manifolds on one supply temperature.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FloorCircuit {
    /// Stable id, unique in the job.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Its manifolds; those that no circuit names are the first circuit's.
    #[serde(default)]
    pub manifold_ids: Vec<String>,
    /// Supply temperature at which its mixing valve is set, °C; absent: what its governing room needs.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub supply_c: Option<f64>,
}

ranges! {
    of Fluid { mass_fraction: Share 0.0..=0.6 }
    of FloorCircuit { manifold_ids: items 0..=20, supply_c: Temperature 15.0..=90.0 }
}

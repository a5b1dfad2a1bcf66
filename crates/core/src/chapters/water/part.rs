//! Water's part of the job: what flows in the tubes.

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

ranges! {
    of Fluid { mass_fraction: Share 0.0..=0.6 }
}

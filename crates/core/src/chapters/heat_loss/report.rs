//! The heat loss's part of the report beside the losses themselves: the job's own constructions calculated.

use super::construction;
use crate::job::Job;
use serde::{Deserialize, Serialize};

/// A construction of the job, reckoned.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ConstructionDesign {
    /// The construction.
    pub id: String,
    /// Transmittance in its place, W/m²K.
    pub u: f64,
    /// Thickness of its layers, m; none for a typed U.
    pub thickness_m: Option<f64>,
}

/// Every construction of the job.
pub fn constructions(job: &Job) -> Vec<ConstructionDesign> {
    job.constructions
        .iter()
        .map(|c| {
            let u = construction::u_in_place(c, c.position, |id| job.material(id));
            ConstructionDesign { id: c.id.clone(), u, thickness_m: construction::thickness(c) }
        })
        .collect()
}

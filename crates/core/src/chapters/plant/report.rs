//! The plant's part of the report.

use super::needs::consumers;
use super::size::{SourceSize, VesselSize, source_size, vessel_size};
use super::state::{PlantState, PlantTrial, plant_state};
use super::year::{FixedUser, ResetLine, lines_of};
use crate::error::FieldError;
use crate::fluid;
use crate::study::solved::Solved;
use serde::{Deserialize, Serialize};

/// The plant designed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlantDesign {
    /// On the design day; none where the network found no balance.
    pub state: Option<PlantState>,
    /// Why there is none.
    pub refused: Option<String>,
    /// How the source fits.
    pub size: SourceSize,
    /// The expansion vessel.
    pub vessel: VesselSize,
    /// Supply temperatures by outdoor temperature.
    pub lines: Vec<ResetLine>,
    /// Users of fixed temperature against them.
    pub fixed: Vec<FixedUser>,
}

/// The plant of a study; none where the job has none.
pub(crate) fn plant_design(study: &Solved) -> Result<Option<PlantDesign>, FieldError> {
    let Some(plant) = &study.job.plant else { return Ok(None) };
    let water = fluid::properties(&study.job.fluid, 45.0)?;
    let (state, refused) = match plant_state(study, &PlantTrial::default()) {
        Ok(state) => (Some(state), None),
        Err(e) => (None, Some(format!("{}: {}", e.field, e.reason))),
    };
    let consumers = consumers(study, plant, study.job.site.outdoor_c, &water);
    let (lines, fixed) = lines_of(study, plant)?;
    Ok(Some(PlantDesign {
        size: source_size(study, plant, &consumers, state.as_ref(), &water),
        vessel: vessel_size(study, plant, &consumers, &water),
        state,
        refused,
        lines,
        fixed,
    }))
}

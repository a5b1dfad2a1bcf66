//! The floor's part of the report: heated floors, patches and fields as the design tells them.

use crate::water::valves::ValveSetting;
use serde::{Deserialize, Serialize};

/// The section of a room's floor at the design's water.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FloorDesign {
    /// Mean excess of its water over the room, K.
    pub excess_k: f64,
    /// Heat into the room over the floor's zones, W/m².
    pub flux_up_w_m2: f64,
    /// Heat to below, W/m².
    pub flux_down_w_m2: f64,
    /// Mean of the underside, °C.
    pub underside_c: f64,
    /// Temperature below, °C.
    pub below_c: f64,
    /// From the underside to that, m²K/W: a film, or the ground.
    pub below_m2k_w: f64,
    /// Film of the water in its loops, W/m²K.
    pub water_film_w_m2k: f64,
    /// Share of the perimeter zone, 0…1.
    pub edge_share: f64,
    /// Height it adds, with its covering, m.
    pub height_m: f64,
    /// Weight it adds, kg/m².
    pub weight_kg_m2: f64,
    /// Heat held per kelvin of water over room, J/m²K.
    pub heat_content_j_m2k: f64,
    /// Mean delay of the heat into the room after a step of the water's temperature, s.
    pub time_constant_s: f64,
    /// Estimated relative error of the grid.
    pub grid_error: f64,
    /// Resistance between the tube's layer and the underside, m²K/W.
    pub under_m2k_w: f64,
    /// Its patches, in the job's order.
    pub patches: Vec<PatchDesign>,
}

/// A patch of a floor under another covering or a rug.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PatchDesign {
    /// Heat into the room, W/m².
    pub flux_w_m2: f64,
    /// What one walks on, °C.
    pub surface_mean_c: f64,
    /// The covering itself, under its rug, °C.
    pub covering_c: f64,
}

/// A field in a wall or the ceiling, designed. Its leaders are an estimate: twice the way to the nearest manifold.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FieldDesign {
    /// The field.
    pub id: String,
    /// With tube, m².
    pub area_m2: f64,
    /// Heat into the room, W.
    pub heat_w: f64,
    /// Heat out at its back, W.
    pub back_w: f64,
    /// Heat into the room, W/m².
    pub flux_w_m2: f64,
    /// Mean surface, °C.
    pub surface_mean_c: f64,
    /// Warmest line, °C.
    pub surface_max_c: f64,
    /// Highest allowed mean surface, °C.
    pub surface_limit_c: f64,
    /// Highest supply temperature of its build-up, °C.
    pub supply_limit_c: f64,
    /// Tube with leaders, m.
    pub tube_m: f64,
    /// Circuits it takes by the longest loop of its tube.
    pub circuits: u32,
    /// Each of them with its leaders, m.
    pub circuit_m: f64,
    /// The manifold they are calculated to hang on.
    pub manifold_id: Option<String>,
    /// Drop, K.
    pub drop_k: Option<f64>,
    /// Return, °C; none without flow.
    pub return_c: Option<f64>,
    /// Flow of all its circuits, L/min.
    pub flow_l_min: f64,
    /// Velocity in each, m/s.
    pub velocity_m_s: f64,
    /// Head of each with its ports, Pa.
    pub head_loss_pa: f64,
    /// To be taken by the valve of each beside the worst loop of its manifold, Pa.
    pub balancing_pa: f64,
    /// How that valve is set; none where it stays wide open.
    pub valve: Option<ValveSetting>,
}

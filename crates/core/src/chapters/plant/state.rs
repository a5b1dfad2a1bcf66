//! The plant at work, as it is told and drawn; what is tried of it.

pub use super::work::plant_state;
pub use crate::water::pipework::{Symbol, SymbolKind};

use super::part::Arrangement;
use crate::water::part::Mixing;
use crate::water::pumps::PumpPoint;
use crate::water::trial::RoomState;
use serde::{Deserialize, Serialize};

/// What is tried of a plant.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PlantTrial {
    /// Outdoor temperature, °C; absent: the design day's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub outdoor_c: Option<f64>,
    /// Circuits and users that are switched off.
    #[serde(default)]
    pub off: Vec<String>,
    /// Loops whose ports are shut.
    #[serde(default)]
    pub shut: Vec<String>,
    /// Tanks of hot water are being heated: by priority, everything else waits.
    #[serde(default)]
    pub charging: bool,
    /// Another arrangement than the job's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub arrangement: Option<Arrangement>,
}

/// A plant at work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlantState {
    /// Outdoor temperature, °C.
    pub outdoor_c: f64,
    /// The arrangement.
    pub arrangement: Arrangement,
    /// The source, and the second one.
    pub sources: Vec<SourceState>,
    /// Circuits and users as the water meets them.
    pub circuits: Vec<CircuitState>,
    /// Heated rooms as they settle without a thermostat's hand.
    pub rooms: Vec<RoomState>,
    /// Electricity of all pumps of known models, W.
    pub pumps_w: f64,
    /// Pipes of the drawing.
    pub pipes: Vec<PipeState>,
    /// Symbols of the drawing.
    pub symbols: Vec<Symbol>,
    /// Width and height of the drawing, squares.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub size: [f64; 2],
    /// What does not work as it should.
    pub notes: Vec<String>,
}

/// A source at work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SourceState {
    /// `source` or `second`.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Whether it runs.
    pub runs: bool,
    /// Temperature at which its water should leave, °C.
    pub wanted_c: f64,
    /// At which it leaves, °C; none where nothing flows.
    pub leaves_c: Option<f64>,
    /// At which it comes back, °C.
    pub returns_c: Option<f64>,
    /// Flow through it, L/min.
    pub flow_l_min: f64,
    /// Heat it gives, W.
    pub heat_w: f64,
    /// Heat it can give at these temperatures, W.
    pub most_w: f64,
    /// It gives all it can, and that is not enough.
    pub at_most: bool,
    /// Its flue gas condenses; none where that is not its kind.
    pub condenses: Option<bool>,
    /// Heat over electricity of a heat pump.
    pub cop: Option<f64>,
    /// Its own pump.
    pub pump: Option<PumpPoint>,
}

/// A circuit or user at work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CircuitState {
    /// Its id.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Whether its pump runs.
    pub on: bool,
    /// Supply temperature that it needs, °C; none where it wants no heat.
    pub needs_c: Option<f64>,
    /// That it gets, °C; none where nothing flows.
    pub supply_c: Option<f64>,
    /// Return, °C.
    pub return_c: Option<f64>,
    /// Flow, L/min.
    pub flow_l_min: f64,
    /// The design's, L/min.
    pub design_flow_l_min: f64,
    /// Heat it takes, W.
    pub heat_w: f64,
    /// Heat it wants, W.
    pub wants_w: f64,
    /// Share of hot water in its supply, 0…1; none without mixing.
    pub hot_share: Option<f64>,
    /// Share of its mixing valve in all that takes pressure where its flow changes; none without one.
    pub authority: Option<f64>,
    /// How its supply is set.
    pub mixing: Mixing,
    /// It wants the same in all weather.
    pub always: bool,
    /// Its pump.
    pub pump: PumpPoint,
    /// Bore of its mains, m.
    pub mains_bore_m: f64,
    /// Velocity in them, m/s.
    pub mains_m_s: f64,
}

/// A pipe of the drawing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PipeState {
    /// Along the water's way where it flows forward, squares.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub points: Vec<[f64; 2]>,
    /// L/min; below 0 against the points.
    pub flow_l_min: f64,
    /// Its water, °C; none where it stands.
    pub temperature_c: Option<f64>,
}

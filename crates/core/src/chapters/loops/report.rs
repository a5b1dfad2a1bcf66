//! The loops' part of the report: every loop and manifold as the design tells them.

use crate::flow::Regime;
use crate::geometry::Point;
use crate::water::valves::ValveSetting;
use serde::{Deserialize, Serialize};

/// One loop designed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LoopDesign {
    /// Stable as long as the plan is.
    pub id: String,
    /// Manifold letter and port number.
    pub tag: String,
    /// The manifold.
    pub manifold_id: String,
    /// Port pair, from 1 at the left as one faces the manifold.
    pub port: u32,
    /// The rooms it heats.
    pub room_ids: Vec<String>,
    /// The tube.
    pub tube_id: String,
    /// From port to port, m.
    pub length_m: f64,
    /// Both leaders, m.
    pub leader_length_m: f64,
    /// What of them lies between the manifold and the riser by which it comes to its level, m; 0 on the manifold's level.
    pub riser_m: f64,
    /// Longest loop the rules allow, m.
    pub limit_m: f64,
    /// Centre line in flow order from the supply port to the return port, m.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub path: Vec<Point>,
    /// Water temperature at each point of the path, °C.
    pub path_c: Vec<f64>,
    /// Corners of its route, into which the bends are put, m.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub corners: Vec<Point>,
    /// Its turns in flow order, and the end.
    pub turns: Vec<TurnDesign>,
    /// The same as it is laid: straight by straight.
    pub steps: Vec<StepDesign>,
    /// Turns at its corners over all, in quarter circles.
    pub quarter_turns: f64,
    /// Steps aside: two opposite turns less than 0.6 m apart.
    pub jogs: u32,
    /// Tube in straights of a metre and more, m.
    pub straight_m: f64,
    /// Locked where it lies: it is the job's locked loop of the same id.
    pub locked: bool,
    /// Shaped by hand.
    pub by_hand: bool,
    /// Spacing at which most of its field lies, m.
    pub spacing_m: f64,
    /// Flow, L/min.
    pub flow_l_min: f64,
    /// Velocity, m/s.
    pub velocity_m_s: f64,
    /// Reynolds number.
    pub reynolds: f64,
    /// How it flows.
    pub regime: Regime,
    /// Supply temperature, °C.
    pub supply_c: f64,
    /// Return temperature, °C.
    pub return_c: f64,
    /// Heat upward into the rooms, leaders included, W.
    pub output_up_w: f64,
    /// Heat downward, W.
    pub output_down_w: f64,
    /// Head of loop and ports, Pa.
    pub head_loss_pa: f64,
    /// To be taken by the balancing valve so that the loop draws its flow beside the worst one, Pa.
    pub balancing_pa: f64,
    /// How that valve is set; none where it stays wide open.
    pub valve: Option<ValveSetting>,
}

/// A turn of a loop, as the crew finds it by the marks on the tube.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TurnDesign {
    /// Middle of the bend, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub at: Point,
    /// Tube from the supply port to there, its riser included, m.
    pub along_m: f64,
    /// Turned angle, degrees, positive to the left; 0 for the end.
    pub turn_deg: f64,
}

/// A straight of a loop and the turn at its end, as the crew lays them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StepDesign {
    /// The middle of the bend where it begins, or the supply port, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub from: Point,
    /// Its direction, degrees clockwise from up the sheet.
    pub heading_deg: f64,
    /// Tube from there to the middle of the next bend, m.
    pub length_m: f64,
    /// Squares or studs that it passes, or joists; none where the floor has no lattice.
    pub passes: Option<u32>,
    /// Angle turned at its end, degrees, positive to the left; 0 at the return port.
    pub turn_deg: f64,
    /// Tube from the supply port to its end, its riser included, m.
    pub along_m: f64,
}

/// One manifold designed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ManifoldDesign {
    /// The manifold.
    pub id: String,
    /// Letter of its tags.
    pub letter: String,
    /// Its level.
    pub level_id: String,
    /// Middle of the manifold on its wall, m; none when it is beyond its wall.
    #[cfg_attr(feature = "schema", schema(value_type = Option<[f64; 2]>))]
    pub position: Option<Point>,
    /// Unit vector into its room.
    #[cfg_attr(feature = "schema", schema(value_type = Option<[f64; 2]>))]
    pub inward: Option<Point>,
    /// Port pairs.
    pub ports: u32,
    /// Port pairs in use.
    pub ports_used: u32,
    /// Sum of its loops, L/min.
    pub flow_l_min: f64,
    /// Head of its worst loop, Pa.
    pub head_needed_pa: f64,
    /// Mixed return of its loops, °C.
    pub return_c: Option<f64>,
    /// Tube of its loops, m.
    pub tube_m: f64,
    /// Largest deviation of a loop's length from their mean, as share of the mean.
    pub spread: f64,
    /// The house rules want equal loops, and these are not.
    pub uneven: bool,
    /// Largest share of its limit that a loop takes.
    pub of_limit: f64,
    /// Leaders' share of the tube.
    pub leaders: f64,
    /// Bends of all loops in quarter turns.
    pub bends: f64,
    /// Where its tubes come to other levels.
    pub risers: Vec<RiserDesign>,
}

/// A place where a manifold's tubes come through the floor of another level.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RiserDesign {
    /// The level to which they come.
    pub level_id: String,
    /// The room.
    pub room_id: String,
    /// Their middle on its wall, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub position: Point,
    /// Unit vector into the room.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub inward: Point,
    /// Tube from the manifold to there, one way, m.
    pub tube_m: f64,
    /// Loops that come through it.
    pub loops: u32,
}

/// The point of a floor that is farthest from any tube.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ColdSpot {
    /// Where, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub at: Point,
    /// From there to the nearest tube, m.
    pub distance_m: f64,
}

/// The warmest spot of a floor.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WarmSpot {
    /// Where, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub at: Point,
    /// Its surface, °C.
    pub surface_c: f64,
}

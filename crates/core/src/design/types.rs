//! The design as a document: its names are an interface for scripts, explained in `docs/job-format.md`.

use super::remedy::{Conflict, Remedy};
use crate::findings::Finding;
use crate::heat_loss::{BuildingLoss, LossPart, Saving};
use crate::job::Point;
use serde::{Deserialize, Serialize};

/// The design of a job.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Design {
    /// Every room, in the job's order.
    pub rooms: Vec<RoomDesign>,
    /// Every loop, by manifold and port.
    pub loops: Vec<LoopDesign>,
    /// Every manifold.
    pub manifolds: Vec<ManifoldDesign>,
    /// What is behind each piece of wall.
    pub walls: Vec<WallDesign>,
    /// Outside faces of each room's walls.
    pub outlines: Vec<RoomOutline>,
    /// The job's own constructions reckoned.
    pub constructions: Vec<ConstructionDesign>,
    /// Heat loss of the building.
    pub building: BuildingLoss,
    /// The climate as the design takes it, and what the weather file says.
    pub climate: ClimateDesign,
    /// Sums for the job.
    pub totals: Totals,
    /// Floors that do not go together on one water temperature.
    pub conflict: Option<Conflict>,
    /// What is wrong, doubtful or worth knowing; gravest first.
    pub findings: Vec<Finding>,
}

/// One room designed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoomDesign {
    /// The room.
    pub id: String,
    /// Its name.
    pub name: String,
    /// Within the outline, m².
    pub area_m2: f64,
    /// Without the keep-outs, m².
    pub heatable_area_m2: f64,
    /// Whether it is heated at all.
    pub heated: bool,
    /// Wanted temperature, or what an unheated room finds on the design day, °C.
    pub temperature_c: f64,
    /// Volume of its air, m³.
    pub volume_m3: f64,
    /// Air changed with the outside by leaks and windows, per hour.
    pub air_changes_per_h: f64,
    /// Need on the design day, W; 0 for an unheated room.
    pub heat_loss_w: f64,
    /// What it is made of.
    pub loss_parts: Vec<LossPart>,
    /// What would help most.
    pub savings: Vec<Saving>,
    /// Heat by each of the house rules' flat rates, W, in their order.
    pub flat_rates_w: Vec<f64>,
    /// Need over the heatable area, W/m².
    pub flux_needed_w_m2: f64,
    /// What the floor gives at the design's water, leaders that cross the room included, W/m².
    pub flux_given_w_m2: f64,
    /// Largest flux within the surface limits, W/m².
    pub flux_limit_w_m2: Option<f64>,
    /// Mean floor surface, °C.
    pub surface_mean_c: Option<f64>,
    /// Warmest line of the floor, °C.
    pub surface_max_c: Option<f64>,
    /// Coolest line of the floor, °C.
    pub surface_min_c: Option<f64>,
    /// Highest allowed mean surface, °C.
    pub surface_limit_c: Option<f64>,
    /// Warmest minus coolest line of the floor's surface within one of its zones, K.
    pub striping_k: Option<f64>,
    /// Upward flux per kelvin of mean water excess, edge and core together, W/m²K.
    pub k_up_w_m2k: Option<f64>,
    /// Supply temperature at which the room gets what it needs (or what its floor may give), °C.
    pub supply_needed_c: Option<f64>,
    /// Highest supply temperature of covering and build-up, °C.
    pub supply_limit_c: Option<f64>,
    /// Drop of its water at the job's supply temperature, K.
    pub drop_k: Option<f64>,
    /// Downward loss, W.
    pub down_w: f64,
    /// Heat from leaders of other rooms that cross it, W.
    pub leader_heat_w: f64,
    /// Share of the heatable floor within reach of tube, 0…1; none without loops.
    pub coverage: Option<f64>,
    /// Its point farthest from any tube, and how far that is.
    pub coldest: Option<ColdSpot>,
    /// Where its floor is warmest because tubes lie close: leaders that meet.
    pub warmest: Option<WarmSpot>,
    /// Tube of its loops' fields over what its spacings ask for.
    pub density: Option<f64>,
    /// Where loops pass the joists of its floor: the middle of each hole, m.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub joist_holes: Vec<Point>,
    /// Its heated floor solved.
    pub floor: Option<FloorDesign>,
    /// Its fields in walls and ceiling, in the job's order.
    pub fields: Vec<FieldDesign>,
    /// What floor and fields leave over: to be given by something else, W.
    pub supplement_w: f64,
    /// What would carry the room where its floor does not, reckoned.
    pub remedies: Vec<Remedy>,
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
    /// Share of the edge band, 0…1.
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
    /// The manifold they are reckoned to hang on.
    pub manifold_id: Option<String>,
    /// Drop, K.
    pub drop_k: Option<f64>,
    /// Flow of all its circuits, L/min.
    pub flow_l_min: f64,
    /// Velocity in each, m/s.
    pub velocity_m_s: f64,
    /// Head of each with its ports, Pa.
    pub head_loss_pa: f64,
}

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
    /// Locked where it lies: it is the job's kept loop of the same id.
    pub locked: bool,
    /// Shaped by hand.
    pub by_hand: bool,
    /// Spacing in the core, m.
    pub spacing_m: f64,
    /// Flow, L/min.
    pub flow_l_min: f64,
    /// Velocity, m/s.
    pub velocity_m_s: f64,
    /// Reynolds number.
    pub reynolds: f64,
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
}

/// A turn of a loop, as the crew finds it by the marks on the tube.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TurnDesign {
    /// Middle of the bend, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub at: Point,
    /// Tube from the supply port to there, m.
    pub along_m: f64,
    /// Turned angle, degrees, positive to the left; 0 for the end.
    pub turn_deg: f64,
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
    /// Largest share of its limit that a loop takes.
    pub of_limit: f64,
    /// Leaders' share of the tube.
    pub leaders: f64,
    /// Bends of all loops in quarter turns.
    pub bends: f64,
}

/// A piece of wall and what is behind it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WallDesign {
    /// The room.
    pub room_id: String,
    /// The wall.
    pub edge: usize,
    /// Its two ends, m.
    #[cfg_attr(feature = "schema", schema(value_type = [[f64; 2]; 2]))]
    pub ends: [Point; 2],
    /// `outside`, `ground`, `heated`, `unheated` or `room`.
    pub beyond: String,
    /// The room behind it.
    pub beyond_room_id: Option<String>,
}

/// Sums.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Totals {
    /// Need of all rooms, W.
    pub heat_loss_w: f64,
    /// Downward losses of the heated floors, W.
    pub down_w: f64,
    /// Need and downward losses: what the heat source has to give, W.
    pub source_w: f64,
    /// Output of the old heat source by its label (its input where that is all there is) over `source_w`.
    pub old_source_ratio: Option<f64>,
    /// The house rules' flat rates.
    pub flat_rates: Vec<FlatRateHeat>,
    /// What the source has to give to the loops, W.
    pub loops_w: f64,
    /// Supply temperature, set by the hardest room, °C.
    pub supply_c: Option<f64>,
    /// Mixed return, °C.
    pub return_c: Option<f64>,
    /// The room that sets the supply temperature.
    pub hardest_room_id: Option<String>,
    /// Flow of all loops, L/min.
    pub flow_l_min: f64,
    /// Tube laid, m.
    pub tube_m: f64,
}

/// Heat by a flat rate, beside the reckoned figure.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FlatRateHeat {
    /// Name of the rate.
    pub name: String,
    /// Heat per floor area, W/m².
    pub w_m2: f64,
    /// Over all heated rooms, W.
    pub heat_w: f64,
    /// Over the reckoned heat loss; 0 where there is none.
    pub ratio: f64,
}

/// Outside faces of a room's walls, for drawing them in their thickness.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoomOutline {
    /// The room.
    pub room_id: String,
    /// Outline by outside faces and middles of partitions, in the order of the room's corners, m.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub outer: Vec<Point>,
}

/// The climate as the design takes it; without a weather file only the mean of the year.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ClimateDesign {
    /// Mean outdoor temperature of the year that the ground is reckoned toward, °C.
    pub annual_mean_c: f64,
    /// Heating degree-days below the usual bases.
    pub degree_days: Vec<DegreeDays>,
    /// Days that get colder than the design day at some hour.
    pub colder_days: Option<usize>,
    /// The ground's coldest month near half a metre of depth: depth, m, and temperature, °C.
    pub coldest_ground: Option<ColdestGround>,
}

/// The ground's coldest month.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ColdestGround {
    /// Depth, m.
    pub depth_m: f64,
    /// Mean of the month, °C.
    pub temperature_c: f64,
}

/// Heating degree-days below one base.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DegreeDays {
    /// The base, °C.
    pub base_c: f64,
    /// The sum of what the days' means fall short of it, K·d.
    pub k_d: f64,
}

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

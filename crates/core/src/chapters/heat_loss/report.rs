//! The heat loss's part of the report: every part of every room's loss, the building, what would help most, the job's own
//! constructions.

use super::air::AirBy;
use super::construction;
use crate::job::Job;
use serde::{Deserialize, Serialize};

/// What takes the heat.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Cause {
    /// Wall to the outside or the ground.
    OutsideWall,
    /// Window.
    Window,
    /// Door to the outside.
    OutsideDoor,
    /// Roof, or ceiling under an attic.
    Roof,
    /// Wall, ceiling or floor to another room or an unheated space.
    Partition,
    /// Floor to the ground, a crawl space or outdoors.
    Floor,
    /// Thermal bridge.
    Bridge,
    /// Infiltration.
    Air,
    /// Mechanical ventilation.
    Ventilation,
}

impl Cause {
    /// Air that is exchanged, by itself or by a fan.
    pub fn is_air(self) -> bool {
        matches!(self, Cause::Air | Cause::Ventilation)
    }

    /// A window or a door: no mass stands in its way.
    pub fn is_window_or_door(self) -> bool {
        matches!(self, Cause::Window | Cause::OutsideDoor)
    }
}

/// What `amount` and `per_kelvin` of a part measure.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Measure {
    /// m² and W/m²K.
    Area,
    /// m and W/mK.
    Length,
    /// m³/h and Wh/m³K.
    Air,
}

/// Which way a wall looks or a surface lies, for the words.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum OtherSide {
    Outdoors,
    Ground,
    Room,
    Unheated,
    CrawlSpace,
    Same,
}

/// One surface, or the air, and what it costs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LossPart {
    /// What takes the heat.
    pub cause: Cause,
    /// What the two figures below measure.
    pub measure: Measure,
    /// Wall index, where it is a wall or an opening in one.
    pub edge: Option<usize>,
    /// The opening or the neighbour room, by id.
    pub subject: Option<String>,
    /// The construction, where there is one.
    pub construction_id: Option<String>,
    /// What is on the other side.
    pub other: OtherSide,
    /// Area, m²; length, m; for air the volume changed in an hour, m³.
    pub amount: f64,
    /// Transmittance with its surcharge, W/m²K or W/mK; for air the heat held by a cubic metre, Wh/m³K.
    pub per_kelvin: f64,
    /// Temperature of the other side, °C.
    pub other_c: f64,
    /// Room minus other side, K.
    pub difference_k: f64,
    /// Heat that leaves the room, W; negative where it comes in.
    pub heat_w: f64,
}

impl LossPart {
    /// What it conducts, W/K.
    pub fn conducts_w_k(&self) -> f64 {
        self.amount * self.per_kelvin
    }
}

/// A room's heat loss with its parts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoomLoss {
    /// The room.
    pub room_id: String,
    /// Whether it is heated; the parts of an unheated one balance.
    pub heated: bool,
    /// Design temperature, or that at which an unheated room settles, °C.
    pub temperature_c: f64,
    /// Volume of its air, m³.
    pub volume_m3: f64,
    /// Air changed with the outside by leaks and windows, per hour.
    pub air_changes_per_h: f64,
    /// Which figure that comes from.
    pub air_by: AirBy,
    /// All parts, in the order of the walls, then ceiling, floor, bridges, air.
    pub parts: Vec<LossPart>,
    /// Their sum, W; 0 for an unheated room.
    pub heat_w: f64,
    /// What would help most, the most helpful first.
    pub savings: Vec<Saving>,
}

impl RoomLoss {
    /// What those of its parts conduct together, W/K.
    pub fn conducts_w_k(&self, of: impl Fn(&LossPart) -> bool) -> f64 {
        self.parts.iter().filter(|p| of(p)).map(LossPart::conducts_w_k).sum()
    }
}

/// Heat by one cause over the building.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CauseHeat {
    /// What takes the heat.
    pub cause: Cause,
    /// Over all heated rooms, W. Heat between two heated rooms cancels.
    pub heat_w: f64,
}

/// The building on the design day.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BuildingLoss {
    /// Sum of the heated rooms, less `windward_w`, W.
    pub heat_w: f64,
    /// What the wind on single rooms adds to them beyond the mean: it does not blow on all sides at once, W (EN 12831-1).
    pub windward_w: f64,
    /// The heat by cause.
    pub causes: Vec<CauseHeat>,
    /// Less heat for each kelvin that it is warmer outdoors, W/K: the slope of the load line.
    pub w_per_k: f64,
    /// Outdoor temperature at which the load line meets zero, °C.
    pub zero_load_c: Option<f64>,
    /// Characteristic dimension of the floor on ground, m.
    pub ground_dimension_m: Option<f64>,
    /// Transmittance to the ground of the unheated floor, or of the floor by its usual construction, W/m²K.
    pub ground_u: Option<f64>,
    /// What would help most over the building.
    pub savings: Vec<Saving>,
}

/// A measure and what it saves on the design day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Saving {
    /// The parts that would be better.
    pub cause: Cause,
    /// What they would become, by what it is.
    pub measure: String,
    /// Less heat, W.
    pub heat_w: f64,
}

/// A construction of the job, calculated.
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

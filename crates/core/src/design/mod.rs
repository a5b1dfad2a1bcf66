//! The design as a document: a rounding of the [study](crate::study). Its names are an interface for scripts, explained in
//! `docs/job-format.md`.
//!
//! ```
//! use fuoco_core::design::design;
//! use fuoco_core::job::CheckedJob;
//! use fuoco_core::samples::{box_room, job_of, manifold};
//! let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
//! job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
//! let design = design(&CheckedJob::new(job)?)?;
//! assert_eq!(design.rooms[0].area_m2, 20.0);
//! assert!(design.loops.iter().all(|l| l.length_m <= l.limit_m));
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use crate::chapters;
use crate::error::FieldError;
use crate::findings::Finding;
use crate::floor::remedy::Conflict;
use crate::geometry::Point;
use crate::heat_loss::report::BuildingLoss;
use crate::heat_loss::report::constructions;
use crate::job::{CheckedJob, Plant};
use crate::outdoors::report::outdoor_design;
use crate::plant::begin::suggested;
use crate::study::Study;
use crate::survey::report::{climate, outlines, walls};
use serde::{Deserialize, Serialize};

mod figures;
mod stations;

pub use crate::floor::report::{FieldDesign, FloorDesign, PatchDesign};
pub use crate::heat_loss::report::ConstructionDesign;
pub use crate::loops::report::{ColdSpot, LoopDesign, ManifoldDesign, StepDesign, TurnDesign, WarmSpot};
pub use crate::outdoors::report::{AreaDesign, ColdStart, HouseLeaves, OutdoorDesign};
pub use crate::plant::report::PlantDesign;
pub use crate::study::room::RoomDesign;
pub use crate::study::totals::{FlatRateHeat, Totals};
pub use crate::survey::report::{ClimateDesign, ColdestGround, DegreeDays, RoomOutline, WallDesign};
pub use crate::water::report::CircuitDesign;
pub use figures::{Better, LayoutFigure};
pub use stations::{Progress, StationMark};

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
    /// Every circuit, in the job's order.
    pub circuits: Vec<CircuitDesign>,
    /// What is behind each piece of wall.
    pub walls: Vec<WallDesign>,
    /// Outside faces of each room's walls.
    pub outlines: Vec<RoomOutline>,
    /// The job's own constructions calculated.
    pub constructions: Vec<ConstructionDesign>,
    /// The plant, where the job has one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub plant: Option<PlantDesign>,
    /// What is outdoors; none where the job has a roof.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub outdoors: Option<OutdoorDesign>,
    /// A plant to begin with, where the job has none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub plant_to_begin: Option<Plant>,
    /// Heat loss of the building.
    pub building: BuildingLoss,
    /// The climate as the design takes it, and what the weather file says.
    pub climate: ClimateDesign,
    /// Sums for the job.
    pub totals: Totals,
    /// The layout in the figures by which two layouts are compared.
    pub layout: Vec<LayoutFigure>,
    /// Floors that do not go together on one water temperature.
    pub conflict: Option<Conflict>,
    /// What is wrong, doubtful or worth knowing; gravest first.
    pub findings: Vec<Finding>,
    /// How far the work is at each station, in the order of the work.
    pub stations: Vec<StationMark>,
}

/// Designs a job: studies it, and writes down what came out.
///
/// # Errors
/// As [`Study::of`].
pub fn design(job: &CheckedJob) -> Result<Design, FieldError> {
    Ok(Design::of(&*Study::of(job)?))
}

impl Design {
    /// The document of a study: places to a tenth of a millimetre, temperatures along a loop to a hundredth of a kelvin.
    pub fn of(study: &Study) -> Design {
        let findings = chapters::findings(study);
        Design {
            stations: stations::marks(study, &findings),
            rooms: study.rooms.iter().map(rounded_room).collect(),
            loops: study.loops.iter().map(rounded_loop).collect(),
            manifolds: study.manifolds.clone(),
            circuits: study.circuits.clone(),
            walls: walls(&study.job, &study.plan),
            outlines: outlines(&study.job, &study.plan).into_iter().map(rounded_outline).collect(),
            constructions: constructions(&study.job),
            plant: study.plant.clone(),
            outdoors: outdoor_design(study),
            plant_to_begin: if study.plant.is_none() { suggested(study) } else { None },
            building: study.heat.building.clone(),
            climate: climate(study.asked()),
            totals: study.totals.clone(),
            layout: figures::layout_figures(study, &findings),
            conflict: study.conflict.clone(),
            findings,
        }
    }
}

fn round(v: f64, per_unit: f64) -> f64 {
    (v * per_unit).round() / per_unit
}

fn place(p: &Point) -> Point {
    p.map(|v| round(v, 10_000.0))
}

fn rounded_room(room: &RoomDesign) -> RoomDesign {
    RoomDesign { joist_holes: room.joist_holes.iter().map(place).collect(), ..room.clone() }
}

fn rounded_outline(outline: RoomOutline) -> RoomOutline {
    RoomOutline { outer: outline.outer.iter().map(place).collect(), ..outline }
}

fn rounded_loop(l: &LoopDesign) -> LoopDesign {
    let turn = |t: &TurnDesign| TurnDesign {
        at: place(&t.at),
        along_m: round(t.along_m, 1000.0),
        turn_deg: round(t.turn_deg, 10.0),
    };
    let step = |s: &StepDesign| StepDesign {
        from: place(&s.from),
        heading_deg: round(s.heading_deg, 10.0),
        length_m: round(s.length_m, 1000.0),
        turn_deg: round(s.turn_deg, 10.0),
        along_m: round(s.along_m, 1000.0),
        ..s.clone()
    };
    LoopDesign {
        path: l.path.iter().map(place).collect(),
        path_c: l.path_c.iter().map(|c| round(*c, 100.0)).collect(),
        // finer than the rest: a loop that is locked lies by them
        corners: l.corners.iter().map(|p| p.map(|v| round(v, 1e6))).collect(),
        turns: l.turns.iter().map(turn).collect(),
        steps: l.steps.iter().map(step).collect(),
        ..l.clone()
    }
}

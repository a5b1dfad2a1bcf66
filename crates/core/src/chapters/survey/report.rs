//! The survey's part of the report: walls as they are read, outlines with their walls, the climate.
//!
//! ```
//! use fuoco_core::plan::Plan;
//! use fuoco_core::samples::{box_room, job_of};
//! use fuoco_core::survey::report::{outlines, walls};
//! let job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
//! let plan = Plan::of(&job);
//! assert_eq!(walls(&job, &plan).len(), 4);
//! assert_eq!(outlines(&job, &plan)[0].room_id, "a");
//! ```

use super::climate::Weather;
use crate::geometry::Point;
use crate::job::{Beyond, Job};
use crate::plan::Plan;
use crate::plan::walls::Behind;
use serde::{Deserialize, Serialize};

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
    /// Mean outdoor temperature of the year that the ground is calculated toward, °C.
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

/// Every piece of wall, and what is behind it at the floor.
pub fn walls(job: &Job, plan: &Plan) -> Vec<WallDesign> {
    let mut out = Vec::new();
    for (i, room) in job.rooms.iter().enumerate() {
        for piece in &plan.at_the_floor[i] {
            let Some(edge) = plan.edge(i, piece.edge) else { continue };
            let (beyond, beyond_room_id) = match &piece.behind {
                Behind::Room { index, .. } => ("room", Some(job.rooms[*index].id.clone())),
                Behind::Other(b) => (
                    match b {
                        Beyond::Outside => "outside",
                        Beyond::Ground => "ground",
                        Beyond::Heated => "heated",
                        _ => "unheated",
                    },
                    None,
                ),
            };
            out.push(WallDesign {
                room_id: room.id.clone(),
                edge: piece.edge,
                ends: [edge.at(piece.from_m), edge.at(piece.to_m)],
                beyond: beyond.into(),
                beyond_room_id,
            });
        }
    }
    out
}

/// Outside faces of every room's walls.
pub fn outlines(job: &Job, plan: &Plan) -> Vec<RoomOutline> {
    let rooms = job.rooms.iter().zip(&plan.storeys);
    rooms.map(|(r, s)| RoomOutline { room_id: r.id.clone(), outer: s.outer.clone() }).collect()
}

/// What the climate is.
pub fn climate(job: &Job) -> ClimateDesign {
    let weather = job.site.weather.as_ref();
    let degree_days = |w: &Weather| [15.0, 18.0, 20.0].map(|base_c| DegreeDays { base_c, k_d: w.degree_days(base_c) });
    ClimateDesign {
        annual_mean_c: job.site.annual_mean(),
        degree_days: weather.map(|w| degree_days(w).to_vec()).unwrap_or_default(),
        colder_days: weather.map(|w| w.days.iter().filter(|d| d[0] < job.site.outdoor_c).count()),
        coldest_ground: weather
            .and_then(Weather::coldest_ground)
            .map(|(depth_m, temperature_c)| ColdestGround { depth_m, temperature_c }),
    }
}

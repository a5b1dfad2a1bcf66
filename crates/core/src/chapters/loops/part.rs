//! The loops' part of the job: manifolds, how a floor is to be laid, loops that are not left to the automatic layout.

use crate::geometry::Point;
use crate::ranges::ranges;
use serde::{Deserialize, Serialize};

/// A route has at most this many corners.
pub const MAX_LOOP_CORNERS: usize = 2000;
/// Farthest from the sheet's origin that a corner may lie along either axis, m.
pub const MAX_PLACE_M: f64 = 1000.0;
/// A floor has at most this many splits.
pub const MAX_SPLITS: usize = 15;

/// A loop that lies where it lies: locked as the layout made it, or shaped by hand. The automatic layout goes round it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct KeptLoop {
    /// Stable id, unique in the job.
    pub id: String,
    /// The manifold it hangs on.
    pub manifold_id: String,
    /// Its port pair, from the left as one faces the manifold.
    pub port: u32,
    /// The room that it heats; its tube is the loop's.
    pub room_id: String,
    /// Rooms of the same thermostat zone that it heats too, 15 at most.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub also_room_ids: Vec<String>,
    /// Corners of the route in flow order, from the supply port to the return port, m; 2 to 2000, each within ±1000,
    /// together at least 0.1 m of way. The tube's bends are put into them.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub corners: Vec<Point>,
    /// What of it is leaders even within its room, m; tube outside its room always is.
    #[serde(default)]
    pub leaders_m: f64,
    /// Shaped by hand, not only locked.
    #[serde(default)]
    pub by_hand: bool,
}

/// A manifold on a wall.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Manifold {
    /// Stable id.
    pub id: String,
    /// The letter of its loops' tags, 1 to 3 characters.
    pub letter: String,
    /// The room it hangs in.
    pub room_id: String,
    /// The wall it hangs on.
    pub edge: usize,
    /// From the wall's first corner to the manifold's middle, m
    pub offset_m: f64,
    /// Port pairs
    pub ports: u32,
    /// Where its tubes come up, or down, to rooms of other levels: sleeves through the floor along a wall; at most 12.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub risers: Vec<Riser>,
    /// Its balancing valves by their maker's leaflet, from shut to open: none, or 2 to 20 points. Turns are told by it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub valve_table: Vec<ValvePoint>,
}

/// A point of the table of a balancing valve.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct ValvePoint {
    /// Turns open
    pub turns: f64,
    /// Flow factor, m³/h at 1 bar
    pub kv_m3_h: f64,
}

/// A sleeve through a floor by which a manifold's tubes reach another level: from there they go on as from a manifold on that
/// wall.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Riser {
    /// The room in which the tubes come through its floor; it lies on another level than the manifold.
    pub room_id: String,
    /// The wall along which they come.
    pub edge: usize,
    /// From the wall's first corner to their middle, m
    pub offset_m: f64,
    /// Tube from the manifold to there, one way, m; absent: along the walls and the height between the levels.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tube_m: Option<f64>,
}

/// How a loop fills its part of a room.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Pattern {
    /// One cold side: serpentine along it; several or none: counterflow.
    Auto,
    /// Runs to and fro, the cold side first.
    Serpentine,
    /// Supply beside return, to and fro together.
    DoubleSerpentine,
    /// Supply beside return, wound inward.
    Counterflow,
}

/// Lines on which alone the tube of a floor can lie. They run along the axes of the sheet.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "kind", deny_unknown_fields)]
pub enum FloorLattice {
    /// The wires of a mesh, or the rows between the studs of a sheet: tube lies on whole squares.
    Squares {
        /// Side of a square, m
        side_m: f64,
        /// A point where two lines cross, m, each coordinate within ±1000.
        #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
        cross: Point,
    },
    /// Two tubes in every bay between joists, a quarter of the joists' distance from each; they cross joists at drilled
    /// holes only.
    Joists {
        /// Which way the joists run.
        along: Axis,
        /// Joist to joist, centres, m
        centres_m: f64,
        /// Width of a joist, m
        width_m: f64,
        /// Where the centre line of one joist lies on the other axis, m, within ±1000.
        one_m: f64,
    },
}

/// An axis of the sheet.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Axis {
    /// From left to right.
    X,
    /// From bottom to top.
    Y,
}

impl Axis {
    /// Index of its coordinate.
    pub fn index(self) -> usize {
        usize::from(self == Axis::Y)
    }
}

impl FloorLattice {
    /// The spacing nearest to `wanted_m` at which tube can lie in it, m.
    pub fn spacing_m(&self, wanted_m: f64) -> f64 {
        match self {
            FloorLattice::Squares { side_m, .. } => (wanted_m / side_m).round().max(1.0) * side_m,
            FloorLattice::Joists { centres_m, .. } => centres_m / 2.0,
        }
    }
}

ranges! {
    of KeptLoop {
        port: Count 1..=24,
        also_room_ids: items 0..=15,
        corners: items 2..=2000,
        corners: Length -1000.0..=1000.0,
        leaders_m: Tube 0.0..=300.0,
    }
    of Manifold { offset_m: Length 0.0..=200.0, ports: Count 1..=24, risers: items 0..=12, valve_table: items 0..=20 }
    of ValvePoint { turns: Factor 0.0..=100.0, kv_m3_h: Kv 0.001..=100.0 }
    of Riser { offset_m: Length 0.0..=200.0, tube_m: Tube 0.0..=100.0 }
    either FloorLattice {
        Squares { side_m: Size 0.02..=0.4, cross: Length -1000.0..=1000.0 }
        Joists { centres_m: Size 0.2..=1.5, width_m: Size 0.02..=0.2, one_m: Length -1000.0..=1000.0 }
    }
}

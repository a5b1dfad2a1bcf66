//! The floor's part of the job, what heats a room: its floor, and fields in walls and ceiling; the build-ups they are made of.

use crate::geometry::Point;
use crate::loops::part::{FloorLattice, Pattern};
use crate::ranges::ranges;
use crate::section::Wrap;
use crate::section::film::Face;
use serde::{Deserialize, Serialize};

/// A heating tube.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Tube {
    pub id: String,
    pub name: String,
    /// Outside diameter, m
    pub od_m: f64,
    /// Wall thickness, m
    pub wall_m: f64,
    /// Smallest bend radius of the centre line, m
    pub bend_radius_m: f64,
    /// Longest loop where the house rules name none, m
    pub longest_loop_m: f64,
}

impl Tube {
    /// Bore, m.
    pub fn bore_m(&self) -> f64 {
        self.od_m - 2.0 * self.wall_m
    }
}

/// What people walk on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Covering {
    pub id: String,
    pub name: String,
    pub kind: CoveringKind,
    /// Thickness, m; 0 where there is none
    pub thickness_m: f64,
    /// Of it as laid, m²K/W
    pub resistance_m2k_w: f64,
    /// Highest surface temperature that it stands, °C
    pub surface_limit_c: f64,
    /// Highest supply temperature under it, °C
    pub supply_limit_c: f64,
    /// How it is laid.
    pub note: String,
}

/// Kinds of coverings, by what they do to heat and by how they are harmed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum CoveringKind {
    Hard,
    Soft,
    Timber,
}

/// The floor of a room.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Floor {
    /// Build-up, an id of the job or the library.
    pub build_up_id: String,
    /// Covering, an id of the library.
    pub covering_id: String,
    /// Tube, an id of the library.
    pub tube_id: String,
    /// Field spacing, m
    pub spacing_core_m: f64,
    /// Spacing in the perimeter zone along outside walls, m, not wider than in the core.
    pub spacing_edge_m: f64,
    /// Insulation under the tube instead of the build-up's, m²K/W
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub insulation_m2k_w: Option<f64>,
    /// How the loops lie.
    pub pattern: Pattern,
    /// Number of loops wanted; absent: as few as the longest loop allows.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub loops: Option<u32>,
    /// Straights across the room, each from wall to wall, by which its floor is parted among its loops, m, each
    /// coordinate within ±1000; at most 15.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[[f64; 2]; 2]>))]
    pub splits: Vec<[Point; 2]>,
    /// Lines to which the tube is bound by what carries it; absent: it lies where the spacing wants it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lattice: Option<FloorLattice>,
    /// The manifold that shall serve it; absent: the nearest.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub manifold_id: Option<String>,
    /// Parts of the floor under another covering, or under a rug; at most 10.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub patches: Vec<Patch>,
}

/// A part of a heated floor that is covered otherwise.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Patch {
    /// Its covering, an id of the library; absent: the room's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub covering_id: Option<String>,
    /// A rug on top, m²K/W
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rug_m2k_w: Option<f64>,
    /// Heated floor under it, m²; all patches together no more than the room has.
    pub area_m2: f64,
}

/// Tube in a wall or the ceiling of a room.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Field {
    /// Stable id, unique in the job.
    pub id: String,
    /// The wall it is in, by its index; absent: the ceiling.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub edge: Option<usize>,
    /// Width along the wall, m; of a ceiling field one side.
    pub width_m: f64,
    /// Height from the floor, m; of a ceiling field the other side. On a wall only its low part is tubed.
    pub height_m: f64,
    /// Build-up, an id of the job or the library, for its wall or ceiling.
    pub build_up_id: String,
    /// Tube, an id of the library.
    pub tube_id: String,
    /// Spacing, m
    pub spacing_m: f64,
}

impl Field {
    /// Area with tube, m².
    pub fn area_m2(&self) -> f64 {
        self.width_m * self.height_m
    }

    /// Which way it looks.
    pub fn face(&self) -> Face {
        if self.edge.is_some() { Face::Wall } else { Face::Ceiling }
    }
}

/// A family of floors, walls or ceilings with tube: layers from just under the covering (behind a wall: from the room
/// outward), and where the tube sits in them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BuildUp {
    /// Stable id.
    pub id: String,
    /// Its name.
    pub name: String,
    /// What it is for.
    pub face: Face,
    /// Layers from the covering on; 1 to 20.
    pub layers: Vec<BuildLayer>,
    /// The layer that holds the tube.
    pub tube_layer: usize,
    /// The face of that layer from which the tube keeps its distance.
    pub tube_from: TubeFrom,
    /// Between that face and the tube's outside, m
    pub tube_gap_m: f64,
    /// Heat-transfer plate at the upper face of the tube's layer.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub plate: Option<BuildPlate>,
    /// Highest supply temperature, °C
    pub supply_limit_c: f64,
    /// Outdoors, for melting snow: it heats no room.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub outdoors: bool,
    /// How the tube is held, in words.
    #[serde(default)]
    pub fastening: String,
    /// What it is held by: fixings are counted by it.
    #[serde(default)]
    pub laying: Laying,
    /// What it is good for.
    #[serde(default)]
    pub note: String,
    /// What must be true before it is laid.
    #[serde(default)]
    pub before: String,
    /// Cautions.
    #[serde(default)]
    pub cautions: String,
}

/// What holds the tube of a build-up.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Laying {
    /// Staples into foam or timber.
    #[default]
    Staples,
    /// Ties to mesh or bar.
    Ties,
    /// The studs of a sheet; nothing else.
    Studs,
    /// The grooves of panels.
    Grooves,
    /// Heat-transfer plates.
    Plates,
    /// Clips under the subfloor.
    Hung,
    /// Rails with clips, on a wall.
    Rails,
}

impl Laying {
    /// Whether screed or concrete is poured over the tube.
    pub fn is_poured(self) -> bool {
        matches!(self, Laying::Staples | Laying::Ties | Laying::Studs)
    }
}

/// A layer of a build-up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BuildLayer {
    /// Its material, an id of the job or the library. Air is a still cavity, with the resistance of ISO 6946.
    pub material_id: String,
    /// Thickness, m
    pub thickness_m: f64,
    /// The insulation that a room's own figure replaces; one layer at most.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub insulation: bool,
    /// It is there already: no part of the height and weight that are added.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub existing: bool,
    /// Sleeper, joist or batten midway between two tubes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rib: Option<LayerRib>,
}

/// Solid that interrupts a layer midway between two tubes. Where it stands at every second or third midway only, its
/// width is shared among all.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct LayerRib {
    /// Its material.
    pub material_id: String,
    /// Width at every midway, m
    pub width_m: f64,
}

/// Upper or lower face.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum TubeFrom {
    Top,
    Bottom,
}

/// A heat-transfer plate at the upper face of the tube's layer.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BuildPlate {
    /// Thickness, m
    pub thickness_m: f64,
    /// Width, m; as wide as the spacing where that is less.
    pub width_m: f64,
    /// Conductivity, W/mK
    pub conductivity_w_mk: f64,
    /// Half of the tube it embraces.
    pub wrap: Wrap,
    /// Contact between tube and sheet, W/m²K; absent: perfect.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub contact_w_m2k: Option<f64>,
}

ranges! {
    of Tube {
        od_m: Size 0.006..=0.063,
        wall_m: Size 0.0005..=0.01,
        bend_radius_m: Size 0.01..=1.0,
        longest_loop_m: Tube 5.0..=500.0,
    }
    of Covering {
        thickness_m: Size 0.0..=0.1,
        resistance_m2k_w: Resistance 0.0..=0.5,
        surface_limit_c: Temperature 20.0..=50.0,
        supply_limit_c: Temperature 25.0..=80.0,
    }
    of Floor {
        spacing_core_m: Size 0.05..=0.6,
        spacing_edge_m: Size 0.05..=0.6,
        insulation_m2k_w: Resistance 0.0..=20.0,
        loops: Count 1..=16,
        splits: items 0..=15,
        splits: Length -1000.0..=1000.0,
        patches: items 0..=10,
    }
    of Patch { rug_m2k_w: Resistance 0.0..=1.0, area_m2: Area 0.01..=10_000.0 }
    of Field { width_m: Length 0.1..=200.0, height_m: Length 0.1..=200.0, spacing_m: Size 0.05..=0.6 }
    of BuildUp { layers: items 1..=20, tube_gap_m: Size 0.0..=1.0, supply_limit_c: Temperature 20.0..=90.0 }
    of BuildLayer { thickness_m: Size 0.0005..=2.0 }
    of LayerRib { width_m: Size 0.001..=0.5 }
    of BuildPlate {
        thickness_m: Thickness 0.000_05..=0.01,
        width_m: Size 0.005..=0.6,
        conductivity_w_mk: Linear 1.0..=500.0,
        contact_w_m2k: Transmittance 1.0..=100_000.0,
    }
}

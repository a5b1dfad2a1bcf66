//! What heats a room: its floor, and fields in walls and ceiling; the build-ups they are made of.

use super::check::{count, optional, range, text, unique, wall_index};
use super::{Job, MAX_ITEMS, Room};
use crate::error::FieldError;
use crate::library;
use crate::section::Wrap;
use crate::section::film::Face;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

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
    /// Spacing in the core, m, 0.05…0.6.
    pub spacing_core_m: f64,
    /// Spacing in the edge band along outside walls, m, 0.05…0.6, not wider than in the core.
    pub spacing_edge_m: f64,
    /// Insulation under the tube instead of the build-up's, m²K/W, 0…20.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub insulation_m2k_w: Option<f64>,
    /// How the loops lie.
    pub pattern: Pattern,
    /// Number of loops wanted, 1…16; absent: as few as the longest loop allows.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub loops: Option<u32>,
    /// Straights across the room, each from wall to wall, by which its floor is parted among its loops, m, each
    /// coordinate within ±1000; at most 15.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[[f64; 2]; 2]>))]
    pub splits: Vec<[super::Point; 2]>,
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
    /// A rug on top, m²K/W, 0…1.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rug_m2k_w: Option<f64>,
    /// Heated floor under it, m², 0.01…10000; all patches together no more than the room has.
    pub area_m2: f64,
}

/// How a loop fills its part of a room.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
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
        /// Side of a square, m, 0.02…0.4.
        side_m: f64,
        /// A point where two lines cross, m, each coordinate within ±1000.
        #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
        cross: super::Point,
    },
    /// Two tubes in every bay between joists, a quarter of the joists' distance from each; they cross joists at drilled
    /// holes only.
    Joists {
        /// Which way the joists run.
        along: Axis,
        /// Joist to joist, centres, m, 0.2…1.5.
        centres_m: f64,
        /// Width of a joist, m, 0.02…0.2.
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

    fn check(&self, path: &str) -> Result<(), FieldError> {
        let place = |field: &str, v: f64| range(&format!("{path}.{field}"), v, -1000.0, 1000.0);
        match *self {
            FloorLattice::Squares { side_m, cross } => {
                range(&format!("{path}.side_m"), side_m, 0.02, 0.4)?;
                cross.iter().try_for_each(|&v| place("cross", v))
            }
            FloorLattice::Joists { centres_m, width_m, one_m, .. } => {
                range(&format!("{path}.centres_m"), centres_m, 0.2, 1.5)?;
                range(&format!("{path}.width_m"), width_m, 0.02, 0.2)?;
                place("one_m", one_m)
            }
        }
    }
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
    /// Width along the wall, m, 0.1…200; of a ceiling field one side.
    pub width_m: f64,
    /// Height from the floor, m, 0.1…20; of a ceiling field the other side. On a wall only its low part is tubed.
    pub height_m: f64,
    /// Build-up, an id of the job or the library, for its wall or ceiling.
    pub build_up_id: String,
    /// Tube, an id of the library.
    pub tube_id: String,
    /// Spacing, m, 0.05…0.6.
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
    /// Between that face and the tube's outside, m, 0…1.
    pub tube_gap_m: f64,
    /// Metal sheet at the upper face of the tube's layer.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub plate: Option<BuildPlate>,
    /// Highest supply temperature, °C, 20…90.
    pub supply_limit_c: f64,
    /// Outdoors, for melting snow: it heats no room.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub outdoors: bool,
    /// How the tube is held.
    #[serde(default)]
    pub fastening: String,
    /// What it is good for.
    #[serde(default)]
    pub note: String,
    /// What must be true before it is laid.
    #[serde(default)]
    pub before: String,
    /// What to beware of.
    #[serde(default)]
    pub cautions: String,
}

/// A layer of a build-up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BuildLayer {
    /// Its material, an id of the job or the library. Air is a still cavity, with the resistance of ISO 6946.
    pub material_id: String,
    /// Thickness, m, 0.0005…2.
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
    /// Width at every midway, m, 0.001…0.5.
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

/// A metal sheet at the upper face of the tube's layer.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BuildPlate {
    /// Thickness, m, 0.00005…0.01.
    pub thickness_m: f64,
    /// Width, m, 0.005…0.6; as wide as the spacing where that is less.
    pub width_m: f64,
    /// Conductivity, W/mK, 1…500.
    pub conductivity_w_mk: f64,
    /// Half of the tube it embraces.
    pub wrap: Wrap,
    /// Contact between tube and sheet, W/m²K, 1…100000; absent: perfect.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub contact_w_m2k: Option<f64>,
}

impl BuildUp {
    fn check(&self, job: &Job, path: &str) -> Result<(), FieldError> {
        let bad = |field: String, reason: &str| Err(FieldError::new(field, reason));
        text(&format!("{path}.name"), &self.name, 1)?;
        for (field, value) in [
            ("fastening", &self.fastening),
            ("note", &self.note),
            ("before", &self.before),
            ("cautions", &self.cautions),
        ] {
            text(&format!("{path}.{field}"), value, 0)?;
        }
        count(&format!("{path}.layers"), self.layers.len(), 1, 20)?;
        for (i, layer) in self.layers.iter().enumerate() {
            let path = format!("{path}.layers[{i}]");
            if job.material(&layer.material_id).is_none() {
                return bad(format!("{path}.material_id"), "is neither in the job nor in the library");
            }
            range(&format!("{path}.thickness_m"), layer.thickness_m, 0.0005, 2.0)?;
            if let Some(rib) = &layer.rib {
                if job.material(&rib.material_id).is_none_or(|m| m.conductivity_w_mk <= 0.0) {
                    return bad(format!("{path}.rib.material_id"), "names no solid of the job or the library");
                }
                range(&format!("{path}.rib.width_m"), rib.width_m, 0.001, 0.5)?;
            }
        }
        if self.layers.iter().filter(|l| l.insulation).count() > 1 {
            return bad(format!("{path}.layers"), "only one of them can be the insulation");
        }
        if self.tube_layer >= self.layers.len() {
            return bad(format!("{path}.tube_layer"), "names no layer");
        }
        range(&format!("{path}.tube_gap_m"), self.tube_gap_m, 0.0, 1.0)?;
        if let Some(p) = &self.plate {
            range(&format!("{path}.plate.thickness_m"), p.thickness_m, 0.000_05, 0.01)?;
            range(&format!("{path}.plate.width_m"), p.width_m, 0.005, 0.6)?;
            range(&format!("{path}.plate.conductivity_w_mk"), p.conductivity_w_mk, 1.0, 500.0)?;
            optional(&format!("{path}.plate.contact_w_m2k"), p.contact_w_m2k, 1.0, 100_000.0)?;
        }
        range(&format!("{path}.supply_limit_c"), self.supply_limit_c, 20.0, 90.0)
    }
}

impl Job {
    pub(super) fn check_build_ups(&self) -> Result<(), FieldError> {
        count("build_ups", self.build_ups.len(), 0, MAX_ITEMS)?;
        let mut ids = BTreeSet::new();
        for (i, b) in self.build_ups.iter().enumerate() {
            let path = format!("build_ups[{i}]");
            unique(&mut ids, &format!("{path}.id"), &b.id)?;
            if library::build_up(&b.id).is_some() {
                return Err(FieldError::new(format!("{path}.id"), "is taken by the library"));
            }
            b.check(self, &path)?;
        }
        Ok(())
    }

    /// The build-up of that id, of the job or the library.
    pub fn build_up(&self, id: &str) -> Option<&BuildUp> {
        self.build_ups.iter().find(|b| b.id == id).or_else(|| library::build_up(id))
    }
}

impl Room {
    /// That what heats the room exists and can be built.
    pub(super) fn check_heating(&self, job: &Job, path: &str) -> Result<(), FieldError> {
        let missing = |field: String| Err(FieldError::new(field, "is neither in the job nor in the library"));
        let look = |field: String, id: &str, face: Face| match job.build_up(id) {
            None => missing(field),
            Some(b) if b.face != face || b.outdoors => {
                Err(FieldError::new(field, format!("is no build-up of a room's {}", face_word(face))))
            }
            Some(b) => Ok(b),
        };
        if let Some(f) = &self.floor {
            let path = format!("{path}.floor");
            let build_up = look(format!("{path}.build_up_id"), &f.build_up_id, Face::Floor)?;
            let Some(covering) = library::covering(&f.covering_id) else {
                return Err(FieldError::new(format!("{path}.covering_id"), "is not in the library"));
            };
            let Some(tube) = library::tube(&f.tube_id) else {
                return Err(FieldError::new(format!("{path}.tube_id"), "is not in the library"));
            };
            range(&format!("{path}.spacing_core_m"), f.spacing_core_m, 0.05, 0.6)?;
            range(&format!("{path}.spacing_edge_m"), f.spacing_edge_m, 0.05, 0.6)?;
            if f.spacing_edge_m > f.spacing_core_m {
                let reason = "must not be wider than the core's spacing";
                return Err(FieldError::new(format!("{path}.spacing_edge_m"), reason));
            }
            optional(&format!("{path}.insulation_m2k_w"), f.insulation_m2k_w, 0.0, 20.0)?;
            if let Some(lattice) = &f.lattice {
                lattice.check(&format!("{path}.lattice"))?;
            }
            count(&format!("{path}.patches"), f.patches.len(), 0, 10)?;
            for (i, patch) in f.patches.iter().enumerate() {
                let path = format!("{path}.patches[{i}]");
                if patch.covering_id.as_deref().is_some_and(|id| library::covering(id).is_none()) {
                    return Err(FieldError::new(format!("{path}.covering_id"), "is not in the library"));
                }
                optional(&format!("{path}.rug_m2k_w"), patch.rug_m2k_w, 0.0, 1.0)?;
                range(&format!("{path}.area_m2"), patch.area_m2, 0.01, 10_000.0)?;
            }
            buildable(job, build_up, Some(covering), tube, f.spacing_edge_m, f.insulation_m2k_w, &path)?;
        }
        for (i, field) in self.fields.iter().enumerate() {
            let path = format!("{path}.fields[{i}]");
            if let Some(edge) = field.edge {
                wall_index(&format!("{path}.edge"), edge, self)?;
            }
            range(&format!("{path}.width_m"), field.width_m, 0.1, 200.0)?;
            range(&format!("{path}.height_m"), field.height_m, 0.1, if field.edge.is_some() { 20.0 } else { 200.0 })?;
            let build_up = look(format!("{path}.build_up_id"), &field.build_up_id, field.face())?;
            let Some(tube) = library::tube(&field.tube_id) else {
                return Err(FieldError::new(format!("{path}.tube_id"), "is not in the library"));
            };
            range(&format!("{path}.spacing_m"), field.spacing_m, 0.05, 0.6)?;
            buildable(job, build_up, None, tube, field.spacing_m, None, &path)?;
        }
        Ok(())
    }
}

/// That tube and build-up go together at that spacing: a tube larger than its layer names the tube.
fn buildable(
    job: &Job,
    build_up: &BuildUp,
    covering: Option<&library::Covering>,
    tube: &library::Tube,
    spacing_m: f64,
    insulation_m2k_w: Option<f64>,
    path: &str,
) -> Result<(), FieldError> {
    let materials = |id: &str| job.material(id);
    let parts = crate::floor::Parts { build_up, covering, rug_m2k_w: 0.0, tube, spacing_m, insulation_m2k_w };
    crate::floor::section(&parts, &materials).and_then(|s| s.check()).map_err(|e| {
        let field = match e.field.as_str() {
            "spacing_m" => "spacing_edge_m",
            "plate.wrap" => "covering_id",
            "tube.od_m" | "tube.axis_depth_m" => "tube_id",
            _ => "build_up_id",
        };
        let field = if field == "spacing_edge_m" && covering.is_none() { "spacing_m" } else { field };
        FieldError::new(format!("{path}.{field}"), format!("{}: {}", build_up.name, e.reason))
    })
}

fn face_word(face: Face) -> &'static str {
    match face {
        Face::Floor => "floor",
        Face::Wall => "wall",
        Face::Ceiling => "ceiling",
    }
}

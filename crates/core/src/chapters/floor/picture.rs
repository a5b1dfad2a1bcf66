//! One zone of a room's floor, or a field in its wall or ceiling, at the design's water, ready to be drawn: layers, tube
//! and sheet to scale, isotherms, heat lines, the temperature across the surface.
//!
//! ```
//! use fuoco_core::floor::picture::{Shown, section_picture};
//! use fuoco_core::samples::{box_room, job_of, studied};
//! let study = studied(&job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]))?;
//! let picture = section_picture(&study, "a", Shown::Core)?;
//! assert!(picture.isotherms.len() >= 9);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::assembly::{self, DrawnLayer, Parts};
use super::curve::Curve;
use super::en1264;
use super::heating::{FIRST_FILM_W_M2K, floor_parts};
use crate::error::FieldError;
use crate::job::{Job, TubeFrom};
use crate::section::film::{Face, REFERENCE};
use crate::section::isotherms::{Line, Surroundings, picture};
use crate::section::{Films, Section, Wrap, solve};
use crate::study::Study;
use serde::{Deserialize, Serialize};

/// Which part of a room is drawn.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "zone", rename_all = "snake_case")]
pub enum Shown {
    /// The core of the floor.
    Core,
    /// The perimeter zone.
    Edge,
    /// A patch, by its index.
    Patch {
        /// Its index.
        index: usize,
    },
    /// A field, by its index.
    Field {
        /// Its index.
        index: usize,
    },
}

/// A layer to scale.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PictureLayer {
    /// `covering`, `rug` or the material's id.
    pub material_id: String,
    /// What it is called.
    pub name: String,
    /// Index in the build-up; none of covering and rug.
    pub index: Option<usize>,
    /// Upper face below the finished surface, m.
    pub top_m: f64,
    /// Lower face, m.
    pub bottom_m: f64,
    /// Conductivity as it is calculated with, W/mK; of a cavity its equivalent one.
    pub conductivity_w_mk: f64,
    /// Width of the rib midway between two tubes, m.
    pub rib_m: Option<f64>,
}

/// A sheet to scale.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct PicturePlate {
    pub depth_m: f64,
    pub thickness_m: f64,
    pub width_m: f64,
    pub wrap: Wrap,
}

/// A level line: pieces from one point to another, `[x, z, x, z]`, m from the tube's axis and below the surface.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct PictureLine {
    pub value: f64,
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 4]>))]
    pub pieces: Vec<[f64; 4]>,
}

/// A section to draw: half a cell from the tube's axis to midway between two tubes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SectionPicture {
    /// Which way it looks.
    pub face: Face,
    /// Spacing, m.
    pub spacing_m: f64,
    /// From the finished surface downward (outward).
    pub layers: Vec<PictureLayer>,
    /// Tube's outside diameter, m.
    pub tube_od_m: f64,
    /// Its wall, m.
    pub tube_wall_m: f64,
    /// Its axis below the finished surface, m.
    pub axis_depth_m: f64,
    /// The sheet.
    pub plate: Option<PicturePlate>,
    /// Isotherms, °C.
    pub isotherms: Vec<PictureLine>,
    /// Heat lines; between two neighbours the same share of the heat.
    pub heat_lines: Vec<PictureLine>,
    /// Distances from the tube's axis, m.
    pub profile_x_m: Vec<f64>,
    /// Surface temperature there, °C.
    pub profile_c: Vec<f64>,
    /// Room, °C.
    pub room_c: f64,
    /// Below, °C.
    pub below_c: f64,
    /// Mean water, °C.
    pub water_c: f64,
    /// Mean surface, °C.
    pub surface_mean_c: f64,
    /// Outside of the tube, mean, °C.
    pub tube_c: f64,
    /// Underside, mean, °C.
    pub underside_c: f64,
    /// Heat into the room, W/m².
    pub flux_up_w_m2: f64,
    /// Heat to below, W/m².
    pub flux_down_w_m2: f64,
    /// Heat into the room per kelvin of water over room, W/m²K.
    pub k_up_w_m2k: f64,
    /// The same by the tables of EN 1264-2, where they have such a floor, with their constant film, W/m²K.
    pub k_standard_w_m2k: Option<f64>,
    /// The section with that film, for the comparison, W/m²K.
    pub k_reference_w_m2k: Option<f64>,
    /// The same with turbulent water, which the tables take for granted, W/m²K.
    pub k_turbulent_w_m2k: Option<f64>,
    /// Heat held per kelvin of water over room, J/m²K.
    pub heat_content_j_m2k: f64,
    /// Mean delay of the heat into the room, s.
    pub time_constant_s: f64,
    /// Estimated relative error of the grid.
    pub grid_error: f64,
}

/// Isotherms of a picture are at least so many.
const ISOTHERMS: f64 = 9.0;
const HEAT_LINES: usize = 14;

/// What is drawn: its parts, what it does, and the mean excess of its water, K.
struct Drawn<'a> {
    parts: Parts<'a>,
    curve: Curve,
    excess: f64,
}

/// Without water in it, a part is drawn at this much over the room, K.
const STILL_K: f64 = 10.0;

/// The picture of a part of a room as it was solved.
///
/// # Errors
/// When the room has no such part, or it cannot be drawn.
pub fn section_picture(study: &Study, room_id: &str, shown: Shown) -> Result<SectionPicture, FieldError> {
    let job = &study.job;
    let room = job.rooms.iter().position(|r| r.id == room_id);
    let room = room.ok_or_else(|| FieldError::new("room_id", "names no room of this job"))?;
    let drawn = match shown {
        Shown::Field { index } => field(study, room, index)?,
        zone => floor(study, room, zone)?,
    };
    pictured(job, &drawn)
}

/// A field of a room.
fn field(study: &Study, room: usize, k: usize) -> Result<Drawn<'_>, FieldError> {
    let bad = |field: &str, reason: &str| FieldError::new(field, reason);
    let job = &study.job;
    let field = job.rooms[room].heated_fields().get(k).ok_or_else(|| bad("shown.index", "there is no such field"))?;
    let circuit = &study.water;
    let (Some(build_up), Some(tube), Some(state)) =
        (job.build_up(&field.build_up_id), job.tube(&field.tube_id), circuit.heating[room].fields.get(k))
    else {
        return Err(bad("room_id", "this field is not in the library"));
    };
    let parts =
        Parts { build_up, covering: None, rug_m2k_w: 0.0, tube, spacing_m: field.spacing_m, insulation_m2k_w: None };
    let flux = study.rooms[room].fields.get(k).map(|f| f.flux_w_m2);
    let excess = flux.map(|f| state.curve.excess_for(f)).filter(|e| *e > 0.1).unwrap_or(STILL_K);
    Ok(Drawn { parts, curve: state.curve.clone(), excess })
}

/// A zone of a room's floor.
fn floor(study: &Study, room: usize, shown: Shown) -> Result<Drawn<'_>, FieldError> {
    let bad = |field: &str, reason: &str| FieldError::new(field, reason);
    let job = &study.job;
    let no_floor = || bad("room_id", "this room has no heated floor");
    let floor = job.rooms[room].heated_floor().ok_or_else(no_floor)?;
    let state = study.water.heating[room].floor.as_ref().ok_or_else(no_floor)?;
    let mut parts = floor_parts(job, floor).ok_or_else(|| bad("room_id", "this floor is not in the library"))?;
    let curve = match shown {
        Shown::Edge => {
            parts.spacing_m = floor.spacing_edge_m;
            match state.edge() {
                Some(edge) => edge.clone(),
                // a floor without outside walls: as its perimeter zone would be
                None => Curve::new(&assembly::section(&parts, &|id: &str| job.material(id))?, *state.core().duty())?,
            }
        }
        Shown::Patch { index } => {
            let no_patch = || bad("shown.index", "there is no such patch");
            let patch = floor.patches.get(index).ok_or_else(no_patch)?;
            parts.covering = patch.covering_id.as_deref().and_then(|id| job.covering(id)).or(parts.covering);
            parts.rug_m2k_w = patch.rug_m2k_w.unwrap_or(0.0);
            state.patches().get(index).ok_or_else(no_patch)?.curve.clone()
        }
        _ => state.core().clone(),
    };
    let excess = study.rooms[room].floor.as_ref().map(|f| f.excess_k).filter(|e| *e > 0.1).unwrap_or(STILL_K);
    Ok(Drawn { parts, curve, excess })
}

fn pictured(job: &Job, drawn: &Drawn) -> Result<SectionPicture, FieldError> {
    let Drawn { parts, curve, excess } = drawn;
    let (section, layers_drawn) = assembly::drawn(parts, &|id: &str| job.material(id))?;
    let duty = *curve.duty();
    let films = Films { up: curve.film_at(*excess), down: duty.film_down(), water: duty.water_film_w_m2k };
    let around = Surroundings { room_c: duty.room_c, below_c: duty.below_c, water_c: duty.room_c + excess };
    let span = (around.water_c - around.below_c.min(around.room_c)).max(0.5);
    let step = [0.1, 0.2, 0.5, 1.0, 2.0, 5.0].into_iter().rev().find(|s| span / s >= ISOTHERMS).unwrap_or(0.1);
    let picture = picture(&section, &films, &around, step, HEAT_LINES)?;
    let solution = solve(&section)?;
    let profile = solution.profile(&films);
    let below_k = duty.below_c - duty.room_c;
    let at = |(w, b): (&f64, &f64)| duty.room_c + w * excess + b * below_k;
    let flux_up = curve.flux_up(*excess);
    let standard = type_a(parts, &section);
    let reference = Films { up: REFERENCE, ..films };
    Ok(SectionPicture {
        face: duty.face,
        spacing_m: section.spacing_m,
        layers: layers(&section, layers_drawn, parts, job),
        tube_od_m: section.tube.od_m,
        tube_wall_m: section.tube.wall_m,
        axis_depth_m: section.tube.axis_depth_m,
        plate: section.plate.map(|p| PicturePlate {
            depth_m: p.depth_m,
            thickness_m: p.thickness_m,
            width_m: p.width_m,
            wrap: p.wrap,
        }),
        isotherms: picture.isotherms.into_iter().map(line).collect(),
        heat_lines: picture.heat_lines.into_iter().map(line).collect(),
        profile_c: profile.water.iter().zip(&profile.below).map(at).collect(),
        profile_x_m: profile.x_m,
        room_c: duty.room_c,
        below_c: duty.below_c,
        water_c: around.water_c,
        surface_mean_c: curve.surface_mean(flux_up),
        tube_c: picture.tube_c,
        underside_c: curve.underside(*excess),
        flux_up_w_m2: flux_up,
        flux_down_w_m2: curve.flux_down(*excess),
        k_up_w_m2k: curve.k_up(*excess),
        k_reference_w_m2k: standard.as_ref().map(|_| solution.at(&reference).up_w_m2k),
        k_turbulent_w_m2k: standard
            .as_ref()
            .map(|_| solution.at(&Films { water: FIRST_FILM_W_M2K, ..reference }).up_w_m2k),
        k_standard_w_m2k: standard.map(|s| en1264::k(&s)),
        heat_content_j_m2k: curve.heat_content_j_m2k,
        time_constant_s: curve.time_constant_s,
        grid_error: curve.grid_error,
    })
}

fn line(line: Line) -> PictureLine {
    let round = |v: f64| (v * 1e5).round() / 1e5;
    PictureLine { value: (line.value * 1e3).round() / 1e3, pieces: line.pieces.iter().map(|p| p.map(round)).collect() }
}

fn layers(section: &Section, drawn: Vec<DrawnLayer>, parts: &Parts, job: &Job) -> Vec<PictureLayer> {
    section
        .layers
        .iter()
        .zip(drawn)
        .map(|(l, d)| PictureLayer {
            name: match d.material_id.as_str() {
                "rug" => "Rug".into(),
                "covering" => parts.covering.map(|c| c.name.clone()).unwrap_or_default(),
                id => job.material(id).map(|m| m.name.clone()).unwrap_or_default(),
            },
            material_id: d.material_id,
            index: d.index,
            top_m: d.top_m,
            bottom_m: d.bottom_m,
            conductivity_w_mk: l.conductivity_w_mk,
            rib_m: l.rib.map(|r| r.width_m),
        })
        .collect()
}

/// The floor of EN 1264-2's tables, where this is one: tube at the foot of a screed right under the covering.
fn type_a(parts: &Parts, section: &Section) -> Option<en1264::TypeA> {
    let b = parts.build_up;
    let screed = section.layers.get(section.tube_layer())?;
    let cover_m = b.layers.get(b.tube_layer)?.thickness_m - parts.tube.od_m;
    let fits = b.tube_layer == 0
        && b.plate.is_none()
        && b.face == Face::Floor
        && (b.tube_from == TubeFrom::Bottom && b.tube_gap_m < 0.004)
        && (0.01..=0.0701).contains(&cover_m)
        && (0.5..=2.5).contains(&screed.conductivity_w_mk)
        && parts.rug_m2k_w == 0.0;
    fits.then_some(en1264::TypeA {
        spacing_m: parts.spacing_m,
        covering_m2k_w: parts.covering.map_or(0.0, |c| c.resistance_m2k_w),
        cover_m,
        screed_w_mk: screed.conductivity_w_mk,
        od_m: parts.tube.od_m,
        wall_m: parts.tube.wall_m,
    })
}

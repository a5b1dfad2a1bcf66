//! Steady conduction of heat through a floor, wall or ceiling with tubes: solved from first principles for any layers,
//! tube, plate and rib.
//!
//! The cell is half a period, from the tube's axis to midway between two tubes, adiabatic on both sides; above a room,
//! below a space, in the bore water, each behind a film. Bilinear finite elements on a mesh that fits tube, plate and
//! layers ([`mesh`]), two refinements, and Richardson's extrapolation between them. The problem is linear, so each mesh
//! is factorised once and reduced to a handful of numbers that hold for any films ([`reduced`]): a change of load, water,
//! room, ground or flow needs no new solution.
//!
//! What a section does is a network of three conductances between water, room and below:
//!
//! | symbol | here | meaning |
//! |---|---|---|
//! | G_wr | `up_w_m2k` | heat into the room per kelvin of water over room |
//! | G_br | `through_w_m2k` | heat into the room per kelvin of below over room |
//! | G_wb | `down_w_m2k` | heat to below per kelvin of water over below |
//!
//! ```
//! use fuoco_core::floor::assembly::{Parts, section};
//! use fuoco_core::library;
//! use fuoco_core::section::{Films, solve};
//! let parts = Parts {
//!     build_up: library::build_up("slab").unwrap(),
//!     covering: library::covering("tile"),
//!     rug_m2k_w: 0.0,
//!     tube: library::tube("pex-16x2").unwrap(),
//!     spacing_m: 0.2,
//!     insulation_m2k_w: None,
//! };
//! let solution = solve(&section(&parts, &library::material)?)?;
//! let through = solution.at(&Films { up: 10.8, down: 5.9, water: 1500.0 });
//! // per kelvin of water over room, most of the heat goes up
//! assert!(through.up_w_m2k > 3.0 && through.up_w_m2k > 5.0 * through.down_w_m2k);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

mod elements;
pub mod file;
pub mod film;
pub mod isotherms;
mod mesh;
mod reduced;
pub mod running;
mod transient;
pub mod warm_up;

use crate::check::range;
use crate::error::FieldError;
use lru::LruCache;
use reduced::Reduced;
use serde::{Deserialize, Serialize};
use std::num::NonZeroUsize;
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::{Arc, LazyLock, Mutex};

/// A tube stands in its layer, and layers are told apart, to this length, m.
const TINY: f64 = 1e-7;
/// Sections kept solved; each takes a few kilobytes.
const KEPT: usize = 4096;
/// More layers than any floor has.
pub const MAX_LAYERS: usize = 40;

/// The geometry and materials of a section, from the finished surface downward (behind a wall: outward).
#[derive(Debug, Clone, PartialEq)]
pub struct Section {
    /// From tube to tube, m, 0.02…2.
    pub spacing_m: f64,
    /// From the finished surface downward.
    pub layers: Vec<Layer>,
    /// The tube.
    pub tube: SectionTube,
    /// A metal plate or sheet that touches it.
    pub plate: Option<Plate>,
    /// The bore is as warm as the water: no film of water, as tables of standards have it.
    pub imposed_bore: bool,
}

/// One layer.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Layer {
    /// Thickness, m, above 0, up to 5.
    pub thickness_m: f64,
    /// Conductivity, W/mK, 0.001…500; of a cavity its equivalent one.
    pub conductivity_w_mk: f64,
    /// Heat held, J/m³K.
    pub heat_j_m3k: f64,
    /// A rib (sleeper, joist, batten) midway between two tubes.
    pub rib: Option<Rib>,
}

/// Solid that interrupts a layer midway between two tubes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Rib {
    /// Width, m.
    pub width_m: f64,
    /// Conductivity, W/mK.
    pub conductivity_w_mk: f64,
    /// Heat held, J/m³K.
    pub heat_j_m3k: f64,
}

/// The tube in a section.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct SectionTube {
    /// Outside diameter, m.
    pub od_m: f64,
    /// Wall, m.
    pub wall_m: f64,
    /// Conductivity of the wall, W/mK.
    pub conductivity_w_mk: f64,
    /// Depth of the axis below the finished surface, m.
    pub axis_depth_m: f64,
    /// Density of the wall, kg/m³; polyethylene's where absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub density_kg_m3: Option<f64>,
    /// Its heat capacity, J/kgK; polyethylene's where absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub heat_capacity_j_kgk: Option<f64>,
}

/// Which half of the tube a plate embraces besides its flat part.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Wrap {
    /// Pressed over the tube from below a subfloor.
    Upper,
    /// Pressed into a groove, open above the tube.
    Lower,
    /// Flat only.
    #[default]
    None,
}

/// A metal plate or sheet, centred on the tube. One that embraces the tube is joined to its flat part by straight legs
/// where the two lie apart.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Plate {
    /// Depth of the flat part's upper face, m.
    pub depth_m: f64,
    /// Thickness, m.
    pub thickness_m: f64,
    /// Whole width, m; up to the spacing.
    pub width_m: f64,
    /// Conductivity, W/mK; one that conducts nothing is taken for none.
    pub conductivity_w_mk: f64,
    /// Half of the tube it embraces.
    #[serde(default)]
    pub wrap: Wrap,
    /// Conductance of the contact between tube and plate, W/m²K; none is perfect.
    #[serde(default)]
    pub contact_w_m2k: Option<f64>,
    /// Density, kg/m³; aluminium's where absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub density_kg_m3: Option<f64>,
    /// Heat capacity, J/kgK; aluminium's where absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub heat_capacity_j_kgk: Option<f64>,
}

/// The three films of a section, W/m²K.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Films {
    /// Between finished surface and room.
    pub up: f64,
    /// Between underside and what is below: a film, or film and ground in series.
    pub down: f64,
    /// Between water and bore, by the area of the bore; without meaning where the bore's temperature is imposed.
    pub water: f64,
}

/// What a section does under given films, per m² of surface.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Conductances {
    /// G_wr, W/m²K.
    pub up_w_m2k: f64,
    /// G_br, W/m²K.
    pub through_w_m2k: f64,
    /// G_wb, W/m²K.
    pub down_w_m2k: f64,
    /// Estimated relative error of `up_w_m2k` by the grid: a third of the step from the coarse to the fine mesh.
    pub grid_error: f64,
    /// Heat out of the water against heat up and down, relative: what rounding leaves.
    pub balance_error: f64,
    /// Heat held in the steady state per kelvin of water over room, below at room temperature, J/m²K.
    pub heat_content_j_m2k: f64,
    /// Mean delay of the heat into the room after a step of the water's temperature (Elmore's), s.
    pub time_constant_s: f64,
}

/// Temperatures across the surface, as warmth per kelvin of excess over the room, from above the tube to midway.
#[derive(Debug, Clone, PartialEq)]
pub struct Profile {
    /// Distance from the tube's axis, m.
    pub x_m: Vec<f64>,
    /// Per kelvin of water over room.
    pub water: Vec<f64>,
    /// Per kelvin of below over room.
    pub below: Vec<f64>,
}

/// A solved section: good for any films.
#[derive(Debug)]
pub struct Solution {
    /// Tells it from every other solution of this run.
    pub(crate) number: u64,
    coarse: Reduced,
    fine: Reduced,
}

impl Section {
    /// From finished surface to underside, m.
    pub fn height_m(&self) -> f64 {
        self.layers.iter().map(|l| l.thickness_m).sum()
    }

    /// Index of the layer that holds the tube's axis; at a face between two the thicker one.
    pub fn tube_layer(&self) -> usize {
        let mut top = 0.0;
        let mut best = 0;
        let mut found = false;
        for (i, layer) in self.layers.iter().enumerate() {
            let bottom = top + layer.thickness_m;
            let axis = self.tube.axis_depth_m;
            if axis >= top - TINY && axis <= bottom + TINY {
                if !found || layer.thickness_m > self.layers[best].thickness_m {
                    best = i;
                }
                found = true;
            }
            top = bottom;
        }
        best
    }

    /// Checks that it can be built and solved.
    ///
    /// # Errors
    /// Names the field as `fuoco section` reads it.
    pub fn check(&self) -> Result<(), FieldError> {
        let mm = |v: f64| (v * 1e4).round() / 10.0;
        range("tube.od_m", self.tube.od_m, 0.004, 0.2)?;
        range("spacing_m", self.spacing_m, 0.02, 2.0)?;
        if self.spacing_m <= self.tube.od_m + TINY {
            let reason =
                format!("must be more than the tube's {} mm, not {} mm", mm(self.tube.od_m), mm(self.spacing_m));
            return Err(FieldError::new("spacing_m", reason));
        }
        range("tube.wall_m", self.tube.wall_m, 0.0002, 0.45 * self.tube.od_m)?;
        range("tube.conductivity_w_mk", self.tube.conductivity_w_mk, 0.01, 500.0)?;
        check_heat("tube", self.tube.density_kg_m3, self.tube.heat_capacity_j_kgk)?;
        if self.layers.is_empty() || self.layers.len() > MAX_LAYERS {
            let reason = format!("must have 1 to {MAX_LAYERS} entries, not {}", self.layers.len());
            return Err(FieldError::new("layers", reason));
        }
        for (i, layer) in self.layers.iter().enumerate() {
            range(&format!("layers[{i}].thickness_m"), layer.thickness_m, 0.00005, 5.0)?;
            range(&format!("layers[{i}].conductivity_w_mk"), layer.conductivity_w_mk, 0.001, 500.0)?;
            range(&format!("layers[{i}].heat_j_m3k"), layer.heat_j_m3k, 100.0, 1e7)?;
            if let Some(rib) = layer.rib {
                range(&format!("layers[{i}].rib.width_m"), rib.width_m, 0.0001, self.spacing_m)?;
                range(&format!("layers[{i}].rib.conductivity_w_mk"), rib.conductivity_w_mk, 0.001, 500.0)?;
                range(&format!("layers[{i}].rib.heat_j_m3k"), rib.heat_j_m3k, 100.0, 1e7)?;
            }
        }
        let radius = self.tube.od_m / 2.0;
        let axis = self.tube.axis_depth_m;
        range("tube.axis_depth_m", axis, 0.0, 20.0)?;
        if axis - radius < -TINY || axis + radius > self.height_m() + TINY {
            let reason = format!(
                "the tube lies {} to {} mm deep, outside the section of {} mm",
                mm(axis - radius),
                mm(axis + radius),
                mm(self.height_m())
            );
            return Err(FieldError::new("tube.axis_depth_m", reason));
        }
        let holder = self.tube_layer();
        let room = self.layers[holder].thickness_m;
        if self.tube.od_m > room + TINY {
            let reason = format!(
                "a tube of {} mm does not fit into layer {} of {} mm",
                mm(self.tube.od_m),
                holder + 1,
                mm(room)
            );
            return Err(FieldError::new("tube.od_m", reason));
        }
        if let Some(rib) = self.layers[holder].rib
            && self.spacing_m - rib.width_m < self.tube.od_m - TINY
        {
            let reason = "leaves no room for the tube between two ribs";
            return Err(FieldError::new(format!("layers[{holder}].rib.width_m"), reason));
        }
        self.plate.as_ref().map_or(Ok(()), |plate| self.check_plate(plate))
    }

    fn check_plate(&self, plate: &Plate) -> Result<(), FieldError> {
        let (radius, axis) = (self.tube.od_m / 2.0, self.tube.axis_depth_m);
        range("plate.thickness_m", plate.thickness_m, 0.00002, 0.02)?;
        range("plate.width_m", plate.width_m, 0.001, self.spacing_m + TINY)?;
        range("plate.depth_m", plate.depth_m, 0.0, self.height_m() - plate.thickness_m + TINY)?;
        if plate.conductivity_w_mk != 0.0 {
            range("plate.conductivity_w_mk", plate.conductivity_w_mk, 0.01, 500.0)?;
        }
        check_heat("plate", plate.density_kg_m3, plate.heat_capacity_j_kgk)?;
        if let Some(contact) = plate.contact_w_m2k {
            range("plate.contact_w_m2k", contact, 0.1, 1e7)?;
        }
        if plate.wrap != Wrap::None {
            let outer = radius + plate.thickness_m;
            if 2.0 * outer >= self.spacing_m - TINY {
                return Err(FieldError::new("plate.thickness_m", "leaves no room between two wrapped tubes"));
            }
            if axis - outer < -TINY || axis + outer > self.height_m() + TINY {
                return Err(FieldError::new(
                    "plate.wrap",
                    "the wrapped tube comes through the surface or the underside",
                ));
            }
            if plate.width_m < 2.0 * outer - TINY {
                return Err(FieldError::new("plate.width_m", "must be at least as wide as the wrapped tube"));
            }
        }
        Ok(())
    }

    /// Its content as numbers, for telling sections apart.
    fn key(&self) -> Vec<u64> {
        let mut key = vec![self.spacing_m.to_bits(), u64::from(self.imposed_bore)];
        let mut put = |v: &[f64]| key.extend(v.iter().map(|x| x.to_bits()));
        put(&[self.tube.od_m, self.tube.wall_m, self.tube.conductivity_w_mk, self.tube.axis_depth_m]);
        put(&[self.tube.heat_j_m3k()]);
        match &self.plate {
            Some(p) => put(&[
                p.depth_m,
                p.thickness_m,
                p.width_m,
                p.conductivity_w_mk,
                f64::from(p.wrap as u8),
                p.contact_w_m2k.unwrap_or(-1.0),
                p.heat_j_m3k(),
            ]),
            None => put(&[-1.0]),
        }
        for l in &self.layers {
            put(&[l.thickness_m, l.conductivity_w_mk, l.heat_j_m3k]);
            if let Some(r) = l.rib {
                put(&[-1.0, r.width_m, r.conductivity_w_mk, r.heat_j_m3k]);
            }
        }
        key
    }
}

/// Polyethylene and aluminium: density, kg/m³, and heat capacity, J/kgK (ISO 10456, table 3, and makers' sheets).
const POLYETHYLENE: [f64; 2] = [940.0, 2300.0];
const ALUMINIUM: [f64; 2] = [2700.0, 900.0];

fn heat(given: [Option<f64>; 2], usual: [f64; 2]) -> f64 {
    given[0].unwrap_or(usual[0]) * given[1].unwrap_or(usual[1])
}

fn check_heat(of: &str, density: Option<f64>, capacity: Option<f64>) -> Result<(), FieldError> {
    density.map_or(Ok(()), |v| range(&format!("{of}.density_kg_m3"), v, 0.5, 25_000.0))?;
    capacity.map_or(Ok(()), |v| range(&format!("{of}.heat_capacity_j_kgk"), v, 50.0, 5000.0))
}

impl SectionTube {
    /// Heat held by its wall, J/m³K.
    pub fn heat_j_m3k(&self) -> f64 {
        heat([self.density_kg_m3, self.heat_capacity_j_kgk], POLYETHYLENE)
    }
}

impl Plate {
    /// Heat held, J/m³K.
    pub fn heat_j_m3k(&self) -> f64 {
        heat([self.density_kg_m3, self.heat_capacity_j_kgk], ALUMINIUM)
    }
}

type Kept = LruCache<Vec<u64>, Arc<Solution>>;

static SOLVED: LazyLock<Mutex<Kept>> =
    LazyLock::new(|| Mutex::new(LruCache::new(NonZeroUsize::new(KEPT).unwrap_or(NonZeroUsize::MIN))));

static NUMBERS: AtomicU64 = AtomicU64::new(0);

/// Solves a section, or finds it among those solved before: the same content gives the same solution.
///
/// # Errors
/// As [`Section::check`].
pub fn solve(section: &Section) -> Result<Arc<Solution>, FieldError> {
    let key = section.key();
    let kept = || SOLVED.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
    if let Some(known) = kept().get(&key) {
        return Ok(known.clone());
    }
    let solution = Arc::new(solve_anew(section, 1)?);
    kept().put(key, solution.clone());
    Ok(solution)
}

/// Solves a section whether it is known or not, every step of both meshes divided by `refinement`: 1 is what [`solve`]
/// takes; more is for measuring the error of the grid.
///
/// # Errors
/// As [`Section::check`].
pub fn solve_anew(section: &Section, refinement: usize) -> Result<Solution, FieldError> {
    section.check()?;
    let at = |refinement| {
        let mesh = mesh::Mesh::new(section, refinement);
        Reduced::new(&mesh, section).ok_or_else(|| FieldError::new("section", "cannot be solved"))
    };
    let number = NUMBERS.fetch_add(1, Ordering::Relaxed);
    Ok(Solution { number, coarse: at(refinement)?, fine: at(2 * refinement)? })
}

/// Between the values of two meshes, of which the fine one halves every step of the coarse one, toward the limit of ever
/// finer ones (Richardson): errors fall with the square of the step.
fn extrapolate(coarse: f64, fine: f64) -> f64 {
    fine + (fine - coarse) / 3.0
}

impl Solution {
    /// What the section does under those films.
    pub fn at(&self, films: &Films) -> Conductances {
        self.respond(films).0
    }

    /// Temperatures across the surface under those films.
    pub fn profile(&self, films: &Films) -> Profile {
        self.respond(films).1
    }

    /// Both at once.
    pub fn respond(&self, films: &Films) -> (Conductances, Profile) {
        let ((c, cp), (f, fp)) = (self.coarse.at(films), self.fine.at(films));
        let of = |get: fn(&reduced::Response) -> f64| extrapolate(get(&c), get(&f));
        let up = of(|r| r.up);
        let conductances = Conductances {
            up_w_m2k: up,
            through_w_m2k: of(|r| r.through),
            down_w_m2k: of(|r| r.down),
            grid_error: ((f.up - c.up) / 3.0 / up).abs(),
            balance_error: f.balance,
            heat_content_j_m2k: of(|r| r.heat),
            time_constant_s: of(|r| r.delay),
        };
        // the fine mesh halves every step of the coarse one: what one node gains by it its neighbours gain too
        let correct = |c: &[f64], f: &[f64]| -> Vec<f64> {
            let gain = |k: usize| f[2 * k] - c[k];
            let last = c.len() - 1;
            (0..f.len())
                .map(|i| {
                    let (k, part) = (i / 2, (i % 2) as f64 / 2.0);
                    f[i] + (gain(k) * (1.0 - part) + gain((k + 1).min(last)) * part) / 3.0
                })
                .collect()
        };
        let profile =
            Profile { water: correct(&cp.water, &fp.water), below: correct(&cp.below, &fp.below), x_m: fp.x_m };
        (conductances, profile)
    }
}

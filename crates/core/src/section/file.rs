//! One section as a document: what `fuoco section` reads and answers. Names are an interface, explained in
//! `docs/job-format.md`.
//!
//! ```
//! use fuoco_core::section::file::SectionFile;
//! let answer = SectionFile::from_json(r#"{
//!     "spacing_m": 0.2,
//!     "tube": { "od_m": 0.016, "wall_m": 0.002, "conductivity_w_mk": 0.35, "axis_depth_m": 0.053 },
//!     "layers": [
//!         { "thickness_m": 0.075, "conductivity_w_mk": 1.2 },
//!         { "thickness_m": 0.1, "conductivity_w_mk": 0.035 }
//!     ],
//!     "water_c": 40.0, "room_c": 20.0, "below_c": 15.0
//! }"#)?.answer()?;
//! assert!(answer.flux_up_w_m2 > 10.0 * answer.flux_down_w_m2);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::film::{self, Face, Mode};
use super::{Conductances, Films, Layer, Plate, Profile, Rib, Section, SectionTube, solve};
use crate::check::{range, read};
use crate::error::FieldError;
use crate::flow;
use crate::fluid;
use crate::water::part::Fluid;
use serde::{Deserialize, Serialize};

/// A section and the temperatures around it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct SectionFile {
    /// From tube to tube, m.
    pub spacing_m: f64,
    /// The tube.
    pub tube: SectionTube,
    /// From the finished surface downward.
    pub layers: Vec<FileLayer>,
    /// Heat-transfer plate that touches the tube.
    #[serde(default)]
    pub plate: Option<Plate>,
    /// Which way the surface looks; sets the films that are not given.
    #[serde(default)]
    pub face: Face,
    /// Heating or cooling; sets the film that is not given. A film of a cooled floor (up to 7.5) speaks for itself.
    #[serde(default)]
    pub mode: Option<Mode>,
    /// Film between surface and room, W/m²K; null: by `face` and `mode`, for a heated floor EN 1264-2, iterated.
    #[serde(default)]
    pub film_up_w_m2k: Option<f64>,
    /// Film between underside and below (or film and ground), W/m²K; null: by ISO 6946.
    #[serde(default)]
    pub film_down_w_m2k: Option<f64>,
    /// Film of the water by the area of the bore, W/m²K; null: by `flow`, and without that none: the bore is as warm as the water.
    #[serde(default)]
    pub water_film_w_m2k: Option<f64>,
    /// The flow that makes the film of the water.
    #[serde(default)]
    pub flow: Option<FileFlow>,
    /// Room, °C, -60…60.
    pub room_c: f64,
    /// What lies below (or behind), °C, -60…60.
    pub below_c: f64,
    /// Mean water, °C, -40…95.
    pub water_c: f64,
}

/// A layer: its conductivity, or its resistance in its place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct FileLayer {
    /// Thickness, m.
    pub thickness_m: f64,
    /// Conductivity, W/mK.
    #[serde(default)]
    pub conductivity_w_mk: Option<f64>,
    /// Resistance, m²K/W, instead of the conductivity.
    #[serde(default)]
    pub resistance_m2k_w: Option<f64>,
    /// Density, kg/m³; with the heat capacity for heat content and delay. Absent: usual for its conductivity.
    #[serde(default)]
    pub density_kg_m3: Option<f64>,
    /// Heat capacity, J/kgK.
    #[serde(default)]
    pub heat_capacity_j_kgk: Option<f64>,
    /// A rib midway between two tubes.
    #[serde(default)]
    pub rib: Option<FileRib>,
}

/// A rib midway between two tubes: sleeper, joist, batten.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct FileRib {
    pub width_m: f64,
    pub conductivity_w_mk: f64,
}

/// Water that flows.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct FileFlow {
    /// Flow, L/min, above 0, up to 1000.
    pub flow_l_min: f64,
    /// What flows.
    #[serde(default)]
    pub fluid: Fluid,
}

/// A section solved.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct SectionAnswer {
    /// Heat into the room, W/m²; negative when the surface cools it.
    pub flux_up_w_m2: f64,
    /// Heat to below, W/m².
    pub flux_down_w_m2: f64,
    /// Mean of the finished surface, °C.
    pub surface_mean_c: f64,
    /// Warmest line of it, °C.
    pub surface_max_c: f64,
    /// Coolest line of it, °C.
    pub surface_min_c: f64,
    /// Warmest minus coolest line, K.
    pub striping_k: f64,
    /// Mean of the underside, °C.
    pub underside_c: f64,
    /// Heat into the room per kelvin of water over room, below at room temperature, W/m²K.
    pub k_up_w_m2k: f64,
    /// Heat into the room per kelvin of below over room, water at room temperature, W/m²K.
    pub k_below_w_m2k: f64,
    /// Heat to below per kelvin of water over below, W/m²K.
    pub k_down_w_m2k: f64,
    /// The film between surface and room that came out, W/m²K.
    pub film_up_w_m2k: f64,
    /// The film of the water, W/m²K; null where the bore is as warm as the water.
    pub water_film_w_m2k: Option<f64>,
    /// Estimated relative error of `k_up_w_m2k` by the grid.
    pub grid_error: f64,
    /// Heat held in the steady state per kelvin of water over room, below at room temperature, J/m²K.
    pub heat_content_j_m2k: f64,
    /// Mean delay of the heat into the room after a step of the water's temperature, s.
    pub time_constant_s: f64,
}

/// Heat held by an ordinary building material of that conductivity, J/m³K: insulation, timber and boards, gypsum,
/// mineral, metal. For sections whose author names none.
pub fn usual_heat(conductivity_w_mk: f64) -> f64 {
    match conductivity_w_mk {
        c if c < 0.07 => 4e4,
        c if c < 0.25 => 9e5,
        c if c < 0.6 => 1e6,
        c if c < 10.0 => 2e6,
        _ => 2.4e6,
    }
}

/// A section under given temperatures, its upper film found where that depends on the flux.
#[derive(Debug, Clone)]
pub struct Steady {
    /// The films that came out.
    pub films: Films,
    /// What the section does under them.
    pub conductances: Conductances,
    /// Its surface.
    pub profile: Profile,
    /// Heat into the room, W/m².
    pub flux_up_w_m2: f64,
}

/// How a film that depends on its own flux is found: the flux changes with the film's tenth power, so that each round
/// gains more than a digit.
const ROUNDS: usize = 12;

impl SectionFile {
    /// Reads a section from JSON.
    ///
    /// # Errors
    /// Names the field that is missing, misspelt or of the wrong type.
    pub fn from_json(text: &str) -> Result<SectionFile, FieldError> {
        read(text)
    }

    fn cooling(&self) -> bool {
        self.mode == Some(Mode::Cooling) || self.mode.is_none() && self.film_up_w_m2k.is_some_and(|h| h <= 7.5)
    }

    /// The geometry, checked with the temperatures around it.
    ///
    /// # Errors
    /// Names the field that is out of range or does not go with the others.
    pub fn section(&self) -> Result<Section, FieldError> {
        let bad = |field: String, reason: &str| Err(FieldError::new(field, reason));
        let mut layers = Vec::with_capacity(self.layers.len());
        for (i, l) in self.layers.iter().enumerate() {
            let at = |field: &str| format!("layers[{i}].{field}");
            range(&at("thickness_m"), l.thickness_m, 0.00005, 5.0)?;
            let conductivity_w_mk = match (l.conductivity_w_mk, l.resistance_m2k_w) {
                (Some(c), None) => c,
                (None, Some(r)) => {
                    range(&at("resistance_m2k_w"), r, 1e-6, 50.0)?;
                    l.thickness_m / r
                }
                (None, None) => return bad(at("conductivity_w_mk"), "is missing, and there is no resistance_m2k_w"),
                (Some(_), Some(_)) => return bad(at("resistance_m2k_w"), "is one too many beside conductivity_w_mk"),
            };
            range(&at("conductivity_w_mk"), conductivity_w_mk, 0.001, 500.0)?;
            let heat_j_m3k = match (l.density_kg_m3, l.heat_capacity_j_kgk) {
                (None, None) => usual_heat(conductivity_w_mk),
                (density, capacity) => {
                    let (density, capacity) = (density.unwrap_or(1000.0), capacity.unwrap_or(1000.0));
                    range(&at("density_kg_m3"), density, 0.5, 12_000.0)?;
                    range(&at("heat_capacity_j_kgk"), capacity, 100.0, 5000.0)?;
                    density * capacity
                }
            };
            let rib = l.rib.as_ref().map(|r| Rib {
                width_m: r.width_m,
                conductivity_w_mk: r.conductivity_w_mk,
                heat_j_m3k: usual_heat(r.conductivity_w_mk),
            });
            layers.push(Layer { thickness_m: l.thickness_m, conductivity_w_mk, heat_j_m3k, rib });
        }
        let t = &self.tube;
        let section = Section {
            spacing_m: self.spacing_m,
            layers,
            tube: self.tube,
            plate: self.plate,
            imposed_bore: self.water_film_w_m2k.is_none() && self.flow.is_none(),
        };
        section.check()?;
        for (field, film) in [
            ("film_up_w_m2k", self.film_up_w_m2k),
            ("film_down_w_m2k", self.film_down_w_m2k),
            ("water_film_w_m2k", self.water_film_w_m2k),
        ] {
            film.map_or(Ok(()), |h| range(field, h, 0.01, 1e6))?;
        }
        range("room_c", self.room_c, -60.0, 60.0)?;
        range("below_c", self.below_c, -60.0, 60.0)?;
        range("water_c", self.water_c, -40.0, 95.0)?;
        if self.mode == Some(Mode::Cooling) && self.water_c > self.room_c {
            return bad("water_c".into(), "is warmer than the room, which it is to cool");
        }
        if !self.cooling() && self.water_c < self.room_c {
            return bad("water_c".into(), "is colder than the room, which it is to heat");
        }
        let base = t.axis_depth_m + t.od_m / 2.0;
        let mut top = 0.0;
        let mut under = 0.0;
        for l in &section.layers {
            let bottom = top + l.thickness_m;
            under += (bottom - base.max(top)).max(0.0) / l.conductivity_w_mk;
            top = bottom;
        }
        let open_air = self.film_down_w_m2k.is_some_and(|h| h >= 10.0) || self.below_c < 0.0;
        if under < 0.1 && open_air && self.below_c < self.room_c - 10.0 && !self.cooling() {
            return bad("layers".into(), "there is no insulation between the tube and the open air below");
        }
        Ok(section)
    }

    /// The section under its temperatures.
    ///
    /// # Errors
    /// As [`SectionFile::section`], and when the fluid has no properties at the water's temperature.
    pub fn steady(&self) -> Result<Steady, FieldError> {
        let section = self.section()?;
        let solution = solve(&section)?;
        let water_film = match (&self.flow, self.water_film_w_m2k) {
            (_, Some(h)) => h,
            (None, None) => 1.0,
            (Some(flow), None) => {
                range("flow.flow_l_min", flow.flow_l_min, 1e-3, 1000.0)?;
                let bore = self.tube.od_m - 2.0 * self.tube.wall_m;
                let velocity = flow::velocity(flow.flow_l_min / 60_000.0, bore);
                let properties = fluid::properties(&flow.fluid, self.water_c)
                    .map_err(|e| FieldError::new(format!("flow.{}", e.field), e.reason))?;
                film::water(bore, velocity, &properties)
            }
        };
        let mode = if self.cooling() { Mode::Cooling } else { Mode::Heating };
        let (water_k, below_k) = (self.water_c - self.room_c, self.below_c - self.room_c);
        let mut films = Films {
            up: self.film_up_w_m2k.unwrap_or_else(|| film::film(self.face, mode, 50.0)),
            down: self.film_down_w_m2k.unwrap_or(1.0 / film::back_m2k_w(self.face)),
            water: water_film,
        };
        let mut conductances = solution.at(&films);
        let flux = |c: &Conductances| c.up_w_m2k * water_k + c.through_w_m2k * below_k;
        if self.film_up_w_m2k.is_none() {
            for _ in 0..ROUNDS {
                films.up = film::film(self.face, mode, flux(&conductances).abs());
                conductances = solution.at(&films);
            }
        }
        Ok(Steady { films, conductances, profile: solution.profile(&films), flux_up_w_m2: flux(&conductances) })
    }

    /// The answer of `fuoco section`.
    ///
    /// # Errors
    /// As [`SectionFile::steady`].
    pub fn answer(&self) -> Result<SectionAnswer, FieldError> {
        let Steady { films, conductances: c, profile, flux_up_w_m2 } = self.steady()?;
        let (water_k, below_k) = (self.water_c - self.room_c, self.below_c - self.room_c);
        let surface: Vec<f64> =
            profile.water.iter().zip(&profile.below).map(|(w, b)| self.room_c + w * water_k + b * below_k).collect();
        let surface_max_c = surface.iter().copied().fold(f64::NEG_INFINITY, f64::max);
        let surface_min_c = surface.iter().copied().fold(f64::INFINITY, f64::min);
        let flux_down = c.down_w_m2k * (self.water_c - self.below_c) - c.through_w_m2k * below_k;
        Ok(SectionAnswer {
            flux_up_w_m2,
            flux_down_w_m2: flux_down,
            surface_mean_c: self.room_c + flux_up_w_m2 / films.up,
            surface_max_c,
            surface_min_c,
            striping_k: surface_max_c - surface_min_c,
            underside_c: self.below_c + flux_down / films.down,
            k_up_w_m2k: c.up_w_m2k,
            k_below_w_m2k: c.through_w_m2k,
            k_down_w_m2k: c.down_w_m2k,
            film_up_w_m2k: films.up,
            water_film_w_m2k: (self.water_film_w_m2k.is_some() || self.flow.is_some()).then_some(films.water),
            grid_error: c.grid_error,
            heat_content_j_m2k: c.heat_content_j_m2k,
            time_constant_s: c.time_constant_s,
        })
    }
}

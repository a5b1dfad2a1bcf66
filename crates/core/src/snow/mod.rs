//! Heat that keeps a surface outdoors free of snow, by the energy balance of ASHRAE (Handbook, HVAC Applications, "Snow Melting and
//! Freeze Protection"): what warms and melts the snow, and from the part of the surface that is free of it what evaporates, what the
//! wind takes, and what is radiated. Usable alone; `docs/snow.md` has the contract of `fuoco snow` and an example by hand.
//!
//! ```
//! use fuoco_core::snow::Storm;
//! let storm = Storm::from_json(r#"{ "air_c": -5, "wind_m_s": 4, "humidity": 0.8, "snowfall_mm_h": 1.5, "cloud": 1,
//!     "free_area_ratio": 1, "length_m": 6, "altitude_m": 0 }"#)?;
//! let free = storm.load()?;
//! // a surface that may stay under snow only melts it
//! let covered = Storm { free_area_ratio: 0.0, ..storm }.load()?;
//! assert_eq!(covered.total, covered.sensible + covered.melting);
//! assert!(free.total > 2.0 * covered.total);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

pub mod year;

use crate::check;
use crate::error::FieldError;
use crate::moist_air::{humidity_ratio, pressure_pa, saturation_pa};
use serde::{Deserialize, Serialize};

/// Meltwater film, °C.
pub(crate) const FILM_C: f64 = 0.56;
/// Snow melts, °C.
const MELTS_C: f64 = 0.0;
/// Specific heat of ice and of water, J/kgK.
const ICE_J_KGK: f64 = 2100.0;
const WATER_J_KGK: f64 = 4200.0;
/// Heat of fusion, J/kg.
pub(crate) const FUSION_J_KG: f64 = 334_000.0;
/// Heat of evaporation at the film, J/kg.
pub(crate) const EVAPORATION_J_KG: f64 = 2.5e6;
/// Emittance of a wet surface.
const EMITTANCE: f64 = 0.9;
const STEFAN_BOLTZMANN: f64 = 5.670_374e-8;
/// Prandtl and Schmidt number of air with vapour in it.
const PRANDTL: f64 = 0.7;
const SCHMIDT: f64 = 0.6;
/// Clouds are so much colder than the air at the ground, K.
const CLOUDS_BELOW_K: f64 = 19.2;
/// Specific heat of air, J/kgK, and its gas constant, J/kgK.
const AIR_J_KGK: f64 = 1006.0;
const AIR_GAS: f64 = 287.05;
const KELVIN: f64 = 273.15;

/// A storm, or an hour of weather, on a surface.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Storm {
    /// Air, °C, -50 to 40.
    pub air_c: f64,
    /// Wind over the surface, m/s, 0 to 50.
    pub wind_m_s: f64,
    /// Relative humidity, above 0 to 1; over ice below freezing, as psychrometric tables have it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub humidity: Option<f64>,
    /// Dew point (frost point below freezing) in its place, °C, no higher than the air.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub dew_point_c: Option<f64>,
    /// Snow as water, mm/h, 0 to 50.
    pub snowfall_mm_h: f64,
    /// Mean radiant temperature of sky and surroundings, °C; without it that of the air while snow falls, else by the clouds.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub sky_c: Option<f64>,
    /// Share of the sky under clouds, 0 to 1; all of it where nothing is said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cloud: Option<f64>,
    /// Share of the surface that is free of snow, 0 to 1.
    pub free_area_ratio: f64,
    /// Length of the surface along the wind, m, 0.1 to 1000.
    pub length_m: f64,
    /// Above the sea, m, -500 to 6000.
    #[serde(default)]
    pub altitude_m: f64,
}

/// What it takes, W/m² of surface: the parts as they stand in the total.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MeltLoad {
    /// To warm the snow to where it melts and its water to the film.
    pub sensible: f64,
    /// To melt it.
    pub melting: f64,
    /// What evaporates from the free part; below 0 where vapour condenses on it.
    pub evaporation: f64,
    /// What the wind takes from it.
    pub convection: f64,
    /// What it radiates.
    pub radiation: f64,
    /// All of it.
    pub total: f64,
    /// By the wind, W/m²K.
    pub convection_w_m2k: f64,
    /// Of vapour, m/s.
    pub mass_transfer_m_s: f64,
    /// Mean radiant temperature, °C.
    pub radiant_c: f64,
    /// Pressure of the air, Pa.
    pub air_pa: f64,
}

impl Storm {
    /// Reads and checks a storm.
    ///
    /// # Errors
    /// Names the field that is missing, unknown or out of its range.
    pub fn from_json(text: &str) -> Result<Storm, FieldError> {
        let storm: Storm = check::read(text)?;
        storm.check()?;
        Ok(storm)
    }

    /// # Errors
    /// Names the field.
    pub fn check(&self) -> Result<(), FieldError> {
        check::range("air_c", self.air_c, -50.0, 40.0)?;
        check::range("wind_m_s", self.wind_m_s, 0.0, 50.0)?;
        check::range("snowfall_mm_h", self.snowfall_mm_h, 0.0, 50.0)?;
        check::range("free_area_ratio", self.free_area_ratio, 0.0, 1.0)?;
        check::range("length_m", self.length_m, 0.1, 1000.0)?;
        check::range("altitude_m", self.altitude_m, -500.0, 6000.0)?;
        match (self.humidity, self.dew_point_c) {
            (Some(_), Some(_)) => {
                return Err(FieldError::new("dew_point_c", "must not stand beside humidity: one of the two"));
            }
            (None, None) => return Err(FieldError::new("humidity", "must be there, or dew_point_c in its place")),
            (Some(h), None) => {
                check::range("humidity", h, 0.0, 1.0)?;
                if h <= 0.0 {
                    return Err(FieldError::new("humidity", "must be above 0, as a share: 0.8 for 80 %"));
                }
            }
            (None, Some(dew)) => {
                check::range("dew_point_c", dew, -80.0, 40.0)?;
                if dew > self.air_c {
                    return Err(FieldError::new("dew_point_c", "must not be above the air's temperature"));
                }
            }
        }
        if let Some(sky) = self.sky_c {
            check::range("sky_c", sky, -120.0, 60.0)?;
        }
        if let Some(cloud) = self.cloud {
            check::range("cloud", cloud, 0.0, 1.0)?;
        }
        Ok(())
    }

    /// Mean radiant temperature of what the surface sees, K.
    fn radiant_k(&self, humidity: f64) -> f64 {
        let air = self.air_c + KELVIN;
        if let Some(sky) = self.sky_c {
            return sky + KELVIN;
        }
        // while it snows the air is full of what radiates
        if self.snowfall_mm_h > 0.0 {
            return air;
        }
        let clear =
            air - (1.1058e3 - 7.562 * air + 1.333e-2 * air * air - 31.292 * humidity + 14.58 * humidity * humidity);
        let cloud = self.cloud.unwrap_or(1.0);
        (cloud * (air - CLOUDS_BELOW_K).powi(4) + (1.0 - cloud) * clear.powi(4)).powf(0.25)
    }

    /// The load.
    ///
    /// # Errors
    /// As [`Storm::check`].
    pub fn load(&self) -> Result<MeltLoad, FieldError> {
        self.check()?;
        Ok(self.at_surface(FILM_C))
    }

    /// What a wet surface of that temperature gives in it: the load, where it is the film's. The storm must have passed its check.
    pub(crate) fn at_surface(&self, surface_c: f64) -> MeltLoad {
        let air_pa = pressure_pa(self.altitude_m);
        let saturated = saturation_pa(self.air_c);
        let vapour_pa = match (self.humidity, self.dew_point_c) {
            (_, Some(dew)) => saturation_pa(dew),
            (humidity, None) => humidity.unwrap_or(1.0) * saturated,
        };
        // air between surface and wind
        let film_k = f64::midpoint(surface_c, self.air_c) + KELVIN;
        let density = air_pa / (AIR_GAS * film_k);
        // Sutherland's law for both
        let viscosity = 1.458e-6 * film_k.powf(1.5) / (film_k + 110.4);
        let conductivity = 2.502e-3 * film_k.powf(1.5) / (film_k + 194.44);
        // turbulent flow along a flat plate from its edge on
        let reynolds = self.wind_m_s * self.length_m * density / viscosity;
        let convection_w_m2k = 0.037 * conductivity / self.length_m * reynolds.powf(0.8) * PRANDTL.cbrt();
        // Chilton and Colburn
        let mass_transfer_m_s = (PRANDTL / SCHMIDT).powf(2.0 / 3.0) * convection_w_m2k / (density * AIR_J_KGK);
        let wetter = humidity_ratio(saturation_pa(surface_c), air_pa) - humidity_ratio(vapour_pa, air_pa);
        let radiant_k = self.radiant_k(vapour_pa / saturated);
        // mm/h of water are kg/m²h
        let falls = self.snowfall_mm_h / 3600.0;
        let snow_j_kg =
            ICE_J_KGK * (MELTS_C - self.air_c).max(0.0) + WATER_J_KGK * (FILM_C - self.air_c.max(MELTS_C)).max(0.0);
        let free = self.free_area_ratio;
        let (sensible, melting) = (falls * snow_j_kg, falls * FUSION_J_KG);
        let evaporation = free * density * mass_transfer_m_s * wetter * EVAPORATION_J_KG;
        let convection = free * convection_w_m2k * (surface_c - self.air_c);
        let radiation = free * EMITTANCE * STEFAN_BOLTZMANN * ((surface_c + KELVIN).powi(4) - radiant_k.powi(4));
        MeltLoad {
            sensible,
            melting,
            evaporation,
            convection,
            radiation,
            total: sensible + melting + evaporation + convection + radiation,
            convection_w_m2k,
            mass_transfer_m_s,
            radiant_c: radiant_k - KELVIN,
            air_pa,
        }
    }
}

//! Outdoors' part of the job: a job whose areas lie under the sky and are kept free of snow.

use crate::ranges::ranges;
use serde::{Deserialize, Serialize};

/// What makes a job one of areas outdoors: the storm they are designed for, and how they are run. Its rooms are the areas.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct Outdoors {
    /// The storm it is designed for.
    pub storm: DesignStorm,
    /// How it is started.
    pub control: MeltControl,
    /// Idling: kept at that temperature of the surface, °C
    pub idle_surface_c: f64,
    /// Idling begins when the air is colder, °C
    pub idle_below_c: f64,
    /// By hand: switched on so long after the first flake, h
    pub late_h: f64,
    /// By hand: the timer runs so long, h
    pub timer_h: f64,
    /// Heated on so long after the last flake, until it is dry, h
    pub runs_on_h: f64,
    /// Largest difference of water over slab that the controller allows, K
    pub shock_k: f64,
    /// Snow of a year as water where the weather file does not say what falls, mm
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub snow_mm: Option<f64>,
    /// The house whose heat source melts the snow with what it has left.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub house: Option<HouseFirst>,
}

impl Default for Outdoors {
    fn default() -> Self {
        Outdoors {
            storm: DesignStorm::default(),
            control: MeltControl::Sensor,
            idle_surface_c: 1.0,
            idle_below_c: 2.0,
            late_h: 1.0,
            timer_h: 8.0,
            runs_on_h: 3.0,
            shock_k: 35.0,
            snow_mm: None,
            house: None,
        }
    }
}

/// A storm of even weather.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct DesignStorm {
    /// Air, °C
    pub air_c: f64,
    /// Wind over the surface, m/s
    pub wind_m_s: f64,
    /// Relative humidity, as a share
    pub humidity: f64,
    /// Snow as water, mm/h
    pub snowfall_mm_h: f64,
    /// How long it lasts, h
    pub lasts_h: f64,
}

impl Default for DesignStorm {
    fn default() -> Self {
        DesignStorm { air_c: -5.0, wind_m_s: 4.0, humidity: 0.85, snowfall_mm_h: 1.5, lasts_h: 8.0 }
    }
}

/// How melting is started.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum MeltControl {
    /// Somebody sees the snow and switches on; a timer switches off.
    ByHand,
    /// Kept above freezing whenever it is cold, in full when it snows.
    Idle,
    /// A sensor for snow and temperature switches on with the first flake, and off when it is dry.
    #[default]
    Sensor,
}

impl MeltControl {
    /// All of them.
    pub const ALL: [MeltControl; 3] = [Self::ByHand, Self::Sensor, Self::Idle];
}

/// A house that is heated before any snow is melted.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct HouseFirst {
    /// Rated output of its source, W
    pub source_w: f64,
    /// What it loses per kelvin, W/K
    pub w_per_k: f64,
    /// It wants no heat when it is warmer outdoors, °C
    pub no_heat_above_c: f64,
}

/// What an area outdoors is to be.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Melt {
    /// Who walks or drives there.
    #[serde(rename = "use")]
    pub usage: MeltUse,
    /// Part of it that has to be free of snow while it snows
    pub free_area_ratio: f64,
    /// Snow that may lie on the rest at the end of a storm, as water, mm
    pub may_lie_mm: f64,
    /// Its fall toward the drain
    pub slope: f64,
}

impl Melt {
    /// What is usual for that use.
    pub fn of(usage: MeltUse) -> Melt {
        let (free_area_ratio, may_lie_mm) = match usage {
            MeltUse::House => (0.5, 3.0),
            MeltUse::Public => (0.5, 1.0),
            MeltUse::Ramp | MeltUse::Critical => (1.0, 0.0),
        };
        Melt { usage, free_area_ratio, may_lie_mm, slope: 0.02 }
    }
}

/// What an area outdoors is used for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum MeltUse {
    /// The drive and walks of a house.
    House,
    /// Walks and forecourts of shops, schools, offices.
    Public,
    /// A ramp on which nothing may slide.
    Ramp,
    /// Hospitals, fire stations, steps: no snow at any time.
    Critical,
}

impl MeltUse {
    /// All of them.
    pub const ALL: [MeltUse; 4] = [Self::House, Self::Public, Self::Ramp, Self::Critical];
}

ranges! {
    of Outdoors {
        idle_surface_c: Temperature 0.5..=10.0,
        idle_below_c: Temperature -20.0..=10.0,
        late_h: Factor 0.0..=24.0,
        timer_h: Factor 0.5..=72.0,
        runs_on_h: Factor 0.0..=24.0,
        shock_k: Difference 5.0..=60.0,
        snow_mm: Snow 0.0..=5000.0,
    }
    of DesignStorm {
        air_c: Temperature -50.0..=5.0,
        wind_m_s: Velocity 0.0..=50.0,
        humidity: Share 0.01..=1.0,
        snowfall_mm_h: Snowfall 0.0..=50.0,
        lasts_h: Factor 0.5..=72.0,
    }
    of HouseFirst {
        source_w: Heat 500.0..=2_000_000.0,
        w_per_k: Slope 0.0..=100_000.0,
        no_heat_above_c: Temperature 0.0..=25.0,
    }
    of Melt { free_area_ratio: Share 0.0..=1.0, may_lie_mm: Snow 0.0..=100.0, slope: Share 0.0..=0.3 }
}

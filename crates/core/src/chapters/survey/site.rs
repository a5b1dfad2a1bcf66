//! Place and climate.
//!
//! ```
//! use fuoco_core::job::Job;
//! let site = Job::new("Annex").site;
//! assert!(site.annual_mean() > site.outdoor_c);
//! ```

use super::climate::Weather;
use crate::ranges::ranges;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Place and climate.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Site {
    /// Name of the place.
    pub place: String,
    /// Outdoor temperature of the design day, °C
    pub outdoor_c: f64,
    /// Temperature of the ground under the building in the heating season, °C
    pub ground_c: f64,
    /// Mean outdoor temperature of the year, °C; absent: the weather file's, else the ground's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub annual_mean_c: Option<f64>,
    /// Height above sea level, m; thins the air.
    pub altitude_m: f64,
    /// Where north is: clockwise from the top of the plan, degrees
    #[serde(default)]
    pub north_deg: f64,
    /// The year of a weather file.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub weather: Option<Weather>,
    /// Unit system for display.
    #[serde(default)]
    pub units: Units,
}

impl Site {
    /// Mean outdoor temperature of the year, °C: typed, else the weather file's, else the ground's.
    pub fn annual_mean(&self) -> f64 {
        self.annual_mean_c.or(self.weather.as_ref().map(|w| w.annual_mean_c)).unwrap_or(self.ground_c)
    }
}

ranges! {
    of Site {
        outdoor_c: Temperature -60.0..=25.0,
        ground_c: Temperature -20.0..=30.0,
        annual_mean_c: Temperature -30.0..=35.0,
        altitude_m: Length -430.0..=6000.0,
        north_deg: Angle -360.0..=360.0,
    }
}

//! A weather file hour by hour: what surfaces outdoors meet.
//!
//! ```
//! use fuoco_core::survey::hours::hours;
//! let head = "LOCATION,Alderfell,-,-,invented,000000,47.6,11.3,1.0,640.0\n".to_owned() + &"X\n".repeat(7);
//! let hour = "2001,1,1,1,60,?,-3.7,-6.2,83,93869".to_owned() + &",9999".repeat(11) + ",2.5,10,10" + &",9999".repeat(9) + ",0.6,1.0\n";
//! let year = hours(&(head + &hour.repeat(8760)))?;
//! assert_eq!((year[0].air_c, year[0].wind_m_s, year[0].cloud, year[0].falls_mm), (-3.7, Some(2.5), Some(1.0), Some(0.6)));
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::climate::{HEADER_LINES, read_epw};
use crate::error::FieldError;

/// One hour. What the file lacks is none.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WeatherHour {
    /// Air, °C.
    pub air_c: f64,
    /// Dew point, °C, no higher than the air.
    pub dew_point_c: Option<f64>,
    /// Wind, m/s.
    pub wind_m_s: Option<f64>,
    /// Share of the sky under clouds.
    pub cloud: Option<f64>,
    /// What falls, as water, mm.
    pub falls_mm: Option<f64>,
}

/// Columns of EPW, and what stands in them for a missing value (EnergyPlus, Auxiliary Programs, "EPW CSV Format").
const AIR: (usize, f64) = (6, 99.0);
const DEW: (usize, f64) = (7, 99.0);
const WIND: (usize, f64) = (21, 999.0);
const CLOUD: (usize, f64) = (22, 99.0);
const FALLS: (usize, f64) = (33, 999.0);

/// The hours of a weather file, those without a temperature as the hour before.
///
/// # Errors
/// As [`read_epw`].
pub fn hours(text: &str) -> Result<Vec<WeatherHour>, FieldError> {
    read_epw(text)?;
    let mut out: Vec<WeatherHour> = Vec::with_capacity(8784);
    for line in text.lines().skip(HEADER_LINES).filter(|l| !l.trim().is_empty()) {
        let fields: Vec<&str> = line.split(',').map(str::trim).collect();
        let read = |(column, missing): (usize, f64), low: f64, high: f64| {
            let value = fields.get(column)?.parse::<f64>().ok()?;
            (value < missing && (low..=high).contains(&value)).then_some(value)
        };
        let before = out.last().map_or(0.0, |h| h.air_c);
        let air_c = read(AIR, -90.0, 70.0).unwrap_or(before);
        out.push(WeatherHour {
            air_c,
            dew_point_c: read(DEW, -90.0, 60.0).map(|d| d.min(air_c)),
            wind_m_s: read(WIND, 0.0, 50.0),
            cloud: read(CLOUD, 0.0, 10.0).map(|tenths| tenths / 10.0),
            falls_mm: read(FALLS, 0.0, 300.0),
        });
    }
    Ok(out)
}

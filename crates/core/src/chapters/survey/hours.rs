//! A weather file hour by hour: what surfaces outdoors meet.
//!
//! ```
//! use fuoco_core::survey::hours::hours;
//! let head = "LOCATION,Alderfell,-,-,invented,000000,47.6,11.3,1.0,640.0\n".to_owned() + &"X\n".repeat(7);
//! let hour = "2001,1,1,1,60,?,-3.7,-6.2,83,93869".to_owned() + &",9999".repeat(11) + ",2.5,10,10" + &",9999".repeat(9) + ",0.6,1.0\n";
//! let year = hours(&(head.clone() + &hour.repeat(8760)))?;
//! assert_eq!((year[0].air_c, year[0].wind_m_s, year[0].cloud, year[0].falls_mm), (-3.7, Some(2.5), Some(1.0), Some(0.6)));
//! // a gap of an hour is bridged, and a wind that blows backward is named with its line
//! let mut rows: Vec<String> = (0..8760).map(|_| hour.clone()).collect();
//! rows[0] = rows[0].replace("-3.7", "99.9");
//! assert_eq!(hours(&(head.clone() + &rows.concat()))?[0].air_c, -3.7);
//! rows[1] = rows[1].replace(",2.5,", ",-2.5,");
//! assert_eq!(hours(&(head + &rows.concat())).unwrap_err().field, "line 10");
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::climate::{HEADER_LINES, bridge, read_epw};
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
    /// Sun straight on, across its rays, W/m².
    pub direct_w_m2: Option<f64>,
    /// From the sky, on the level, W/m².
    pub diffuse_w_m2: Option<f64>,
}

/// Columns of EPW, and what stands in them for a missing value (EnergyPlus, Auxiliary Programs, "EPW CSV Format").
const AIR: (usize, f64) = (6, 99.0);
const DEW: (usize, f64) = (7, 99.0);
const WIND: (usize, f64) = (21, 999.0);
const CLOUD: (usize, f64) = (22, 99.0);
const FALLS: (usize, f64) = (33, 999.0);
const DIRECT: (usize, f64) = (14, 9999.0);
const DIFFUSE: (usize, f64) = (15, 9999.0);

/// The hours of a weather file, gaps in its temperatures bridged as for the year.
///
/// # Errors
/// As [`read_epw`], and names the line where a figure does not read or is beyond anything on earth.
pub fn hours(text: &str) -> Result<Vec<WeatherHour>, FieldError> {
    read_epw(text)?;
    let rows = text.lines().enumerate().skip(HEADER_LINES).filter(|(_, l)| !l.trim().is_empty());
    let mut air = Vec::with_capacity(8784);
    let mut out: Vec<WeatherHour> = Vec::with_capacity(8784);
    for (line, row) in rows {
        let fields: Vec<&str> = row.split(',').map(str::trim).collect();
        let read = |what: &str, (column, missing): (usize, f64), [low, high]: [f64; 2]| {
            let Some(field) = fields.get(column).filter(|f| !f.is_empty()) else { return Ok(None) };
            let value = field.parse::<f64>().ok().filter(|v| *v >= missing || (low..=high).contains(v));
            let wrong = || FieldError::new(format!("line {}", line + 1), format!("the {what} \"{field}\" is none"));
            value.ok_or_else(wrong).map(|v| (v < missing).then_some(v))
        };
        air.push(read("temperature", AIR, [-90.0, 70.0])?);
        out.push(WeatherHour {
            air_c: 0.0,
            dew_point_c: read("dew point", DEW, [-90.0, 60.0])?,
            wind_m_s: read("wind", WIND, [0.0, 50.0])?,
            cloud: read("cover of the sky", CLOUD, [0.0, 10.0])?.map(|tenths| tenths / 10.0),
            falls_mm: read("precipitation", FALLS, [0.0, 300.0])?,
            direct_w_m2: read("direct radiation", DIRECT, [0.0, 1600.0])?,
            diffuse_w_m2: read("diffuse radiation", DIFFUSE, [0.0, 1600.0])?,
        });
    }
    // the year has read: its gaps are short
    let (air, _) = bridge(&air).map_err(|at| FieldError::new(format!("line {}", at + 1), "has no temperature"))?;
    for (hour, air_c) in out.iter_mut().zip(air) {
        hour.air_c = air_c;
        hour.dew_point_c = hour.dew_point_c.map(|d| d.min(air_c));
    }
    Ok(out)
}

//! A year of storms on a surface, hour by hour of a weather file: how much heat keeps it clear how often, and what that takes in a
//! year. What `fuoco snow-year` reads and answers; `docs/snow.md` says how.

use super::{FILM_C, Storm};
use crate::check;
use crate::error::FieldError;
use crate::survey::hours::WeatherHour;
use serde::{Deserialize, Serialize};

/// A surface and what it is given.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct SnowYearTask {
    /// Share of the surface that has to be free of snow, 0 to 1.
    pub free_area_ratio: f64,
    /// Length of the surface along the wind, m, 0.1 to 1000.
    pub length_m: f64,
    /// What the surface can be given, W/m², above 0, up to 2000.
    pub flux_w_m2: f64,
    /// Above the sea, m; the sea's height where nothing is said.
    #[serde(default)]
    pub altitude_m: f64,
    /// Idling: kept at 0.56 °C in all hours colder than this, °C, -20 to 10.
    #[serde(default = "idle_below_c")]
    pub idle_below_c: f64,
    /// Wind where the file has none, m/s, 0 to 50.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub wind_m_s: Option<f64>,
    /// Snow of a year as water, mm, where the file does not say what falls; 0 to 5000.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub snow_mm: Option<f64>,
}

fn idle_below_c() -> f64 {
    2.0
}

/// What falls below this is snow, °C.
const SNOW_BELOW_C: f64 = 1.0;
/// Less than this in an hour is nothing, mm.
const LEAST_MM: f64 = 0.05;
/// Where the file does not say what falls, so much falls in an hour, mm.
const RATE_MM: f64 = 1.0;
/// More than this in an hour is a slip of the file, mm.
const MOST_MM: f64 = 50.0;
/// Shares of the hours of snow for which a flux is told.
const SHARES: [f64; 7] = [0.5, 0.75, 0.9, 0.95, 0.98, 0.99, 1.0];

/// A year of storms on a surface.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SnowYear {
    /// Hours in which it snows.
    pub snow_hours: usize,
    /// Snow of the year as water, mm.
    pub snow_mm: f64,
    /// The file says what falls; else it was put into the dampest cold hours.
    pub from_file: bool,
    /// Flux that keeps the surface as clear as asked in so many of the hours of snow.
    pub curve: Vec<SnowShare>,
    /// Share of the hours of snow in which the flux at hand does.
    pub clear_share: f64,
    /// The hour that takes most, by its number in the year from 0; none without snow.
    pub worst_hour: Option<usize>,
    /// Heated while it snows.
    pub on_demand: SnowHeat,
    /// Kept above freezing whenever it is cold.
    pub idling: SnowHeat,
}

/// A point of the curve.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SnowShare {
    /// Share of the hours of snow.
    pub share: f64,
    /// For no part, half and all of the surface free of snow, W/m².
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 3]))]
    pub flux_w_m2: [f64; 3],
    /// For the share of it that was asked for, W/m².
    pub asked_w_m2: f64,
}

/// What a way of running it takes in a year.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SnowHeat {
    /// Hours in which it is heated.
    pub hours: usize,
    /// Heat into the surface, kWh/m².
    pub kwh_m2: f64,
}

/// An hour in which it snows, and what it takes, W/m².
struct SnowHour {
    hour: usize,
    asked: f64,
    classes: [f64; 3],
}

impl SnowYearTask {
    /// Reads a task from JSON and checks it.
    ///
    /// # Errors
    /// Names the field that is missing, unknown or out of its range.
    pub fn from_json(text: &str) -> Result<SnowYearTask, FieldError> {
        let task: SnowYearTask = check::read(text)?;
        task.check()?;
        Ok(task)
    }

    fn check(&self) -> Result<(), FieldError> {
        check::range("free_area_ratio", self.free_area_ratio, 0.0, 1.0)?;
        check::range("length_m", self.length_m, 0.1, 1000.0)?;
        check::range("flux_w_m2", self.flux_w_m2, 1.0, 2000.0)?;
        check::range("altitude_m", self.altitude_m, -500.0, 6000.0)?;
        check::range("idle_below_c", self.idle_below_c, -20.0, 10.0)?;
        self.wind_m_s.map_or(Ok(()), |v| check::range("wind_m_s", v, 0.0, 50.0))?;
        self.snow_mm.map_or(Ok(()), |v| check::range("snow_mm", v, 0.0, 5000.0))
    }

    /// The year.
    ///
    /// # Errors
    /// Names the field that is out of its range, or that the weather file lacks and the task does not give.
    pub fn answer(&self, hours: &[WeatherHour]) -> Result<SnowYear, FieldError> {
        self.check()?;
        let (falls, from_file) = snowfall(hours, self.snow_mm)?;
        let load = |h: &WeatherHour, snowfall_mm_h: f64, free_area_ratio: f64| -> Result<f64, FieldError> {
            let wind = h.wind_m_s.or(self.wind_m_s);
            let storm = Storm {
                air_c: h.air_c,
                wind_m_s: wind.ok_or_else(|| {
                    FieldError::new("wind_m_s", "must be there: the weather file lacks it in some hours")
                })?,
                humidity: h.dew_point_c.is_none().then_some(1.0),
                dew_point_c: h.dew_point_c,
                snowfall_mm_h,
                sky_c: None,
                cloud: h.cloud,
                free_area_ratio,
                length_m: self.length_m,
                altitude_m: self.altitude_m,
            };
            Ok(storm.load()?.total.max(0.0))
        };
        let mut snow: Vec<SnowHour> = vec![];
        let (mut on_demand, mut idling) = (SnowHeat { hours: 0, kwh_m2: 0.0 }, SnowHeat { hours: 0, kwh_m2: 0.0 });
        for (k, (h, mm)) in hours.iter().zip(&falls).enumerate() {
            if *mm > 0.0 {
                let asked = load(h, *mm, self.free_area_ratio)?;
                let classes = [load(h, *mm, 0.0)?, load(h, *mm, 0.5)?, load(h, *mm, 1.0)?];
                snow.push(SnowHour { hour: k, asked, classes });
                let given = asked.min(self.flux_w_m2) / 1000.0;
                for way in [&mut on_demand, &mut idling] {
                    way.hours += 1;
                    way.kwh_m2 += given;
                }
            } else if h.air_c < self.idle_below_c.min(FILM_C)
                || (h.air_c < self.idle_below_c && load(h, 0.0, 1.0)? > 0.0)
            {
                idling.hours += 1;
                idling.kwh_m2 += load(h, 0.0, 1.0)?.min(self.flux_w_m2) / 1000.0;
            }
        }
        let ranked = |of: &dyn Fn(&SnowHour) -> f64| {
            let mut all: Vec<f64> = snow.iter().map(of).collect();
            all.sort_by(f64::total_cmp);
            all
        };
        // the least flux that is enough in that share of the hours
        let at = |all: &[f64], share: f64| all[((share * all.len() as f64).ceil() as usize).clamp(1, all.len()) - 1];
        let asked = ranked(&|s| s.asked);
        let classes = [0, 1, 2].map(|c| ranked(&|s| s.classes[c]));
        let curve = SHARES.iter().filter(|_| !snow.is_empty()).map(|share| SnowShare {
            share: *share,
            flux_w_m2: [0, 1, 2].map(|c| at(&classes[c], *share)),
            asked_w_m2: at(&asked, *share),
        });
        let clear = snow.iter().filter(|s| s.asked <= self.flux_w_m2).count();
        Ok(SnowYear {
            snow_hours: snow.len(),
            snow_mm: falls.iter().sum(),
            from_file,
            curve: curve.collect(),
            clear_share: if snow.is_empty() { 1.0 } else { clear as f64 / snow.len() as f64 },
            worst_hour: snow.iter().max_by(|a, b| a.asked.total_cmp(&b.asked)).map(|s| s.hour),
            on_demand,
            idling,
        })
    }
}

/// Snow of each hour as water, mm, and whether the file says so; where it does not, `snow_mm` of the year fall into its dampest cold
/// hours.
///
/// # Errors
/// Names the field that must be there.
pub(crate) fn snowfall(hours: &[WeatherHour], snow_mm: Option<f64>) -> Result<(Vec<f64>, bool), FieldError> {
    let cold = |h: &WeatherHour| h.air_c <= SNOW_BELOW_C;
    if hours.iter().any(|h| h.falls_mm.is_some()) {
        let of = |h: &WeatherHour| h.falls_mm.filter(|mm| cold(h) && *mm >= LEAST_MM).unwrap_or(0.0).min(MOST_MM);
        return Ok((hours.iter().map(of).collect(), true));
    }
    let Some(year_mm) = snow_mm else {
        return Err(FieldError::new("snow_mm", "must be there: the weather file does not say what falls"));
    };
    let mut dampest: Vec<(usize, f64)> = hours
        .iter()
        .enumerate()
        .filter(|(_, h)| cold(h))
        .map(|(k, h)| (k, h.air_c - h.dew_point_c.unwrap_or(h.air_c)))
        .collect();
    dampest.sort_by(|a, b| a.1.total_cmp(&b.1).then(a.0.cmp(&b.0)));
    let mut out = vec![0.0; hours.len()];
    let mut left = year_mm;
    for (k, _) in dampest {
        out[k] = left.clamp(0.0, RATE_MM);
        left -= out[k];
    }
    Ok((out, false))
}

//! A year of weather on an area: the curve of flux against share of hours, and each way of running it hour by hour.

use super::load::{length_m, melt_of};
use super::part::MeltControl;
use super::slab::{Hour, Slab, area_of};
use crate::error::FieldError;
use crate::snow::year::{SnowYear, SnowYearTask};
use crate::study::solved::Solved;
use crate::survey::hours::WeatherHour;
use serde::{Deserialize, Serialize};

/// The steps of a year, s.
const STEP_S: f64 = 900.0;

/// A year on an area.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OutdoorYear {
    /// The area.
    pub area_id: String,
    /// What it can be given upward by its design, W/m².
    pub flux_w_m2: f64,
    /// Hour by hour as if the surface followed at once.
    pub hours: SnowYear,
    /// With the slab, each way of running it.
    pub ways: Vec<YearWay>,
}

/// A way of running an area for a year.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct YearWay {
    /// The way.
    pub control: MeltControl,
    /// Share of the hours of snow in which it met what is asked of the area.
    pub clear_share: f64,
    /// Most snow that lay, as water, mm.
    pub most_snow_mm: f64,
    /// Hours with ice on it.
    pub ice_hours: f64,
    /// Hours in which it is heated.
    pub heated_hours: f64,
    /// Heat of a year, J/m².
    pub heat_j_m2: f64,
    /// Heat of a year over the job's areas, as if all were like this one, J.
    pub heat_j: f64,
}

/// The year.
///
/// # Errors
/// Where the job has a roof, the area is none or has no tube, or the file lacks what is needed.
pub fn outdoor_year(study: &Solved, area_id: Option<&str>, hours: &[WeatherHour]) -> Result<OutdoorYear, FieldError> {
    let room = area_of(&study.job, area_id)?;
    let slab = Slab::of(study, room, STEP_S)?;
    let outdoors = study.job.outdoors.clone().unwrap_or_default();
    let water = &study.water.rooms[room];
    let state = study.water.heating[room].floor.as_ref();
    let flux_w_m2 = state.map_or(0.0, |f| f.flux_up(water.floor_excess_k));
    let task = SnowYearTask {
        free_area_ratio: melt_of(&study.job, room).free_area_ratio,
        length_m: length_m(&study.job, room),
        flux_w_m2: flux_w_m2.clamp(1.0, 2000.0),
        altitude_m: study.job.site.altitude_m,
        idle_below_c: outdoors.idle_below_c,
        wind_m_s: Some(outdoors.storm.wind_m_s),
        snow_mm: outdoors.snow_mm,
    };
    let by_hour = task.answer(hours).map_err(|e| FieldError::new(format!("outdoors.{}", e.field), e.reason))?;
    let weather: Vec<Hour> = slab.weather(hours)?.iter().map(|s| slab.hour(s)).collect();
    let areas: f64 = study.water.rooms.iter().map(|r| r.field_area).sum();
    let ways = MeltControl::ALL.map(|control| {
        let mut out = YearWay {
            control,
            clear_share: 1.0,
            most_snow_mm: 0.0,
            ice_hours: 0.0,
            heated_hours: 0.0,
            heat_j_m2: 0.0,
            heat_j: 0.0,
        };
        let (mut snowed, mut clear) = (0usize, 0usize);
        slab.run(&weather, control, control == MeltControl::Idle, |step| {
            if step.snowfall_mm_h > 0.0 {
                snowed += 1;
                clear += usize::from(slab.does(step));
            }
            out.most_snow_mm = out.most_snow_mm.max(step.snow_mm);
            let hour = STEP_S / 3600.0;
            out.ice_hours += if step.ice_mm > super::slab::NOTHING_MM { hour } else { 0.0 };
            out.heated_hours += if step.heated { hour } else { 0.0 };
            out.heat_j_m2 += step.heat_w_m2 * STEP_S;
        });
        if snowed > 0 {
            out.clear_share = clear as f64 / snowed as f64;
        }
        out.heat_j = out.heat_j_m2 * areas;
        out
    });
    Ok(OutdoorYear { area_id: study.job.rooms[room].id.clone(), flux_w_m2, hours: by_hour, ways: ways.to_vec() })
}

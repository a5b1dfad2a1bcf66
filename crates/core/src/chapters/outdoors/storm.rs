//! A storm on an area, minute by minute, for each way of running it; and how long it takes to be warm.

use super::part::MeltControl;
use super::slab::{Hour, NOTHING_MM, Slab, Step, area_of};
use crate::error::FieldError;
use crate::snow::Storm;
use crate::study::solved::Solved;
use crate::survey::hours::WeatherHour;
use serde::{Deserialize, Serialize};

/// The steps of a storm, s.
const STEP_S: f64 = 300.0;
/// Told every so many of them.
const TOLD_EVERY: usize = 3;
/// Dry hours before a storm and after it.
const BEFORE_H: usize = 6;
const AFTER_H: usize = 18;
/// Sky after a storm: it clears, and the surface radiates.
const CLEARS: f64 = 0.3;
/// Longest warm-up that is followed, h.
const LONGEST_H: usize = 96;

/// What is asked.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct StormTrial {
    /// The area; the first with tube where none is named.
    pub area_id: Option<String>,
    /// The worst storm of the weather file in place of the job's own.
    pub worst_of_the_year: bool,
}

/// A storm on an area.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StormRun {
    /// The area.
    pub area_id: String,
    /// The first flake and the last, s from the beginning.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub snows_s: [f64; 2],
    /// Snow that falls, as water, mm.
    pub falls_mm: f64,
    /// Most heat that the area can be given, W/m².
    pub power_w_m2: f64,
    /// Hours from a cold slab until its surface, and its coolest line, are above freezing; none: not within four days.
    pub warm_from_cold_h: Option<f64>,
    /// The same from idling.
    pub warm_from_idle_h: Option<f64>,
    /// Each way of running it.
    pub ways: Vec<StormWay>,
}

/// A way of running an area through a storm.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StormWay {
    /// The way.
    pub control: MeltControl,
    /// It met what is asked of the area while it snowed, as a share of that time.
    pub clear_share: f64,
    /// Most snow that lay, as water, mm.
    pub most_snow_mm: f64,
    /// Snow at the last flake, as water, mm.
    pub snow_left_mm: f64,
    /// Hours from the last flake until nothing lies; none: it still lies at the end.
    pub clear_after_h: Option<f64>,
    /// Meltwater that froze again, mm.
    pub frozen_mm: f64,
    /// Heat out of the water, J/m².
    pub heat_j_m2: f64,
    /// Largest difference of water over the surface, K.
    pub water_over_slab_k: f64,
    /// Steepest rise of the water that the controller has to keep, K/h.
    pub ramp_k_h: f64,
    /// Step by step.
    pub steps: Vec<Step>,
}

/// A storm on an area, by the job's own weather or by the hours of its weather file.
///
/// # Errors
/// Where the job has a roof, the area is none or has no tube, or the file lacks what is needed.
pub fn storm(study: &Solved, trial: &StormTrial, year: Option<&[WeatherHour]>) -> Result<StormRun, FieldError> {
    let room = area_of(&study.job, trial.area_id.as_deref())?;
    let slab = Slab::of(study, room, STEP_S)?;
    let weather = match year {
        Some(hours) if trial.worst_of_the_year => worst(&slab, hours)?,
        _ => typed(study, &slab),
    };
    let first = weather.iter().position(|s| s.snowfall_mm_h > 0.0).unwrap_or(0);
    let last = weather.iter().rposition(|s| s.snowfall_mm_h > 0.0).unwrap_or(first);
    let hours: Vec<Hour> = weather.iter().map(|s| slab.hour(s)).collect();
    let snows_s = [first as f64 * 3600.0, (last + 1) as f64 * 3600.0];
    let ways = MeltControl::ALL.map(|control| way(&slab, &hours, control, snows_s)).to_vec();
    Ok(StormRun {
        area_id: study.job.rooms[room].id.clone(),
        snows_s,
        falls_mm: weather.iter().map(|s| s.snowfall_mm_h).sum(),
        power_w_m2: slab.power_w_m2,
        warm_from_cold_h: warm_after(&slab, false),
        warm_from_idle_h: warm_after(&slab, true),
        ways,
    })
}

/// Even weather: cold, the storm, and a sky that clears.
fn typed(study: &Solved, slab: &Slab) -> Vec<Storm> {
    let storm = study.job.outdoors.as_ref().map_or_else(Default::default, |o| o.storm);
    let lasts = storm.lasts_h.ceil().max(1.0) as usize;
    let mut out = vec![slab.typed(0.0, 1.0); BEFORE_H];
    // the last hour has what is left of it
    out.extend((0..lasts).map(|k| slab.typed(storm.snowfall_mm_h * (storm.lasts_h - k as f64).min(1.0), 1.0)));
    out.extend(vec![slab.typed(0.0, CLEARS); AFTER_H]);
    out
}

/// The hours round the one of the year that takes most.
fn worst(slab: &Slab, hours: &[WeatherHour]) -> Result<Vec<Storm>, FieldError> {
    let storms = slab.weather(hours)?;
    let takes = |s: &Storm| s.at_surface(crate::snow::FILM_C).total;
    let snowy = storms.iter().enumerate().filter(|(_, s)| s.snowfall_mm_h > 0.0);
    let none = || FieldError::new("site.weather", "has no hour of snow");
    let (at, _) = snowy.max_by(|a, b| takes(a.1).total_cmp(&takes(b.1))).ok_or_else(none)?;
    // back to the first flake of that storm, and on to its last
    let dry_for = |k: usize, step: isize| {
        let mut at = k as isize;
        let mut dry = 0;
        let mut last = k;
        while dry < 6 && at >= 0 && (at as usize) < storms.len() {
            if storms[at as usize].snowfall_mm_h > 0.0 {
                (dry, last) = (0, at as usize);
            } else {
                dry += 1;
            }
            at += step;
        }
        last
    };
    let (from, to) = (dry_for(at, -1).saturating_sub(BEFORE_H), (dry_for(at, 1) + AFTER_H).min(storms.len() - 1));
    Ok(storms[from..=to].to_vec())
}

fn way(slab: &Slab, hours: &[Hour], control: MeltControl, snows_s: [f64; 2]) -> StormWay {
    let mut out = StormWay {
        control,
        clear_share: 1.0,
        most_snow_mm: 0.0,
        snow_left_mm: 0.0,
        clear_after_h: None,
        frozen_mm: 0.0,
        heat_j_m2: 0.0,
        water_over_slab_k: 0.0,
        ramp_k_h: 0.0,
        steps: vec![],
    };
    let (mut snowed, mut clear, mut count) = (0usize, 0usize, 0usize);
    let mut before: Option<Step> = None;
    slab.run(hours, control, control == MeltControl::Idle, |step| {
        let during = step.time_s > snows_s[0] && step.time_s <= snows_s[1];
        if during {
            snowed += 1;
            clear += usize::from(slab.does(step));
            out.snow_left_mm = step.snow_mm + step.ice_mm;
        } else if step.time_s > snows_s[1] && out.clear_after_h.is_none() && step.snow_mm + step.ice_mm <= NOTHING_MM {
            out.clear_after_h = Some((step.time_s - snows_s[1]) / 3600.0);
        }
        out.most_snow_mm = out.most_snow_mm.max(step.snow_mm);
        out.frozen_mm = step.frozen_mm;
        out.heat_j_m2 += step.heat_w_m2 * STEP_S;
        if step.heated {
            if let Some(b) = before {
                out.water_over_slab_k = out.water_over_slab_k.max(step.water_c - b.surface_c);
            }
            if let Some(b) = before.filter(|b| b.heated) {
                out.ramp_k_h = out.ramp_k_h.max((step.water_c - b.water_c) * 3600.0 / STEP_S);
            }
        }
        before = Some(*step);
        if count % TOLD_EVERY == 0 {
            out.steps.push(*step);
        }
        count += 1;
    });
    if snowed > 0 {
        out.clear_share = clear as f64 / snowed as f64;
    }
    out
}

/// Hours until the coolest line of the surface is above freezing in the storm's air, without snow.
fn warm_after(slab: &Slab, idles: bool) -> Option<f64> {
    // as if it snowed: the sensor has switched on, and nothing falls yet
    let dry = slab.hour(&slab.typed(0.0, 1.0)).about_to_snow();
    let mut at = None;
    slab.run(&vec![dry; LONGEST_H], if idles { MeltControl::Idle } else { MeltControl::Sensor }, idles, |step| {
        if at.is_none() && step.midway_c.min(step.surface_c) > 0.0 {
            at = Some(step.time_s / 3600.0);
        }
    });
    at
}

//! The heat that areas outdoors are to give, put in the terms of the other chapters: an area is a room of a temperature and a film
//! by which its surface gives the storm's load when it is as warm as the film of meltwater.
//!
//! Part of the area is free of snow: there the surface loses by wind, radiation and evaporation, more where it is warmer. On the rest
//! lies snow that melts at 0 °C under the film of water. Both together are a film coefficient
//! `h = A_r·dq_free/dθ + (1 − A_r)·q_melt/0.56 K`, and around it `θ = 0.56 °C − q/h`: the mean of the surface is as asked, and between two
//! tubes it is cooler as far as the section lets it.

use crate::heat_loss::losses::{HeatLoss, heat_loss};
use crate::heat_loss::report::BuildingLoss;
use crate::job::{Beyond, CheckedJob, Job, Melt, MeltUse, Usage};
use crate::plan::{Plan, areas};
use crate::snow::{FILM_C, MeltLoad, Storm};

/// Least film of an area, W/m²K: still air on a bare surface.
const LEAST_FILM: f64 = 2.0;
/// The film by wind and evaporation is its slope between so much less and more than the film's temperature, K.
const HALF_STEP_K: f64 = 0.5;
/// Areas are taken for steady in weather so much colder than what is around them, K: heat by the weather is counted from there.
const BELOW_AROUND_K: f64 = 20.0;

/// What an area has to give.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct MeltDuty {
    /// By the storm.
    pub load: MeltLoad,
    /// Between surface and what is around it, W/m²K.
    pub film_w_m2k: f64,
    /// What is around it, °C.
    pub around_c: f64,
}

/// What an area is to be: as the job says, else a house's.
pub(crate) fn melt_of(job: &Job, room: usize) -> Melt {
    job.rooms[room].melt.unwrap_or_else(|| Melt::of(MeltUse::House))
}

/// The storm of the job on an area.
pub(crate) fn storm_on(job: &Job, room: usize) -> Option<Storm> {
    let storm = job.outdoors.as_ref()?.storm;
    Some(Storm {
        air_c: storm.air_c,
        wind_m_s: storm.wind_m_s,
        humidity: Some(storm.humidity),
        dew_point_c: None,
        snowfall_mm_h: storm.snowfall_mm_h,
        sky_c: None,
        cloud: None,
        free_area_ratio: melt_of(job, room).free_area_ratio,
        length_m: length_m(job, room),
        altitude_m: job.site.altitude_m,
    })
}

/// Length of an area along the wind, which comes from anywhere, m: the side of the square of its size.
pub(crate) fn length_m(job: &Job, room: usize) -> f64 {
    areas::area(&job.rooms[room]).sqrt().clamp(0.1, 1000.0)
}

/// The duty of an area; none in a job that has a roof.
pub(crate) fn duty(job: &Job, room: usize) -> Option<MeltDuty> {
    let storm = storm_on(job, room)?;
    let load = storm.load().ok()?;
    let free = |c: f64| storm.at_surface(c).total;
    let by_weather = (free(FILM_C + HALF_STEP_K) - free(FILM_C - HALF_STEP_K)) / (2.0 * HALF_STEP_K);
    let by_snow = (1.0 - storm.free_area_ratio) * (load.sensible + load.melting).max(0.0) / FILM_C;
    let film_w_m2k = (by_weather + by_snow).max(LEAST_FILM);
    let around_c = FILM_C - load.total.max(0.0) / film_w_m2k;
    Some(MeltDuty { load, film_w_m2k, around_c })
}

/// A job of areas outdoors as the other chapters read it; none where the job has a roof.
pub(crate) fn prepared(job: &CheckedJob) -> Option<CheckedJob> {
    job.outdoors.as_ref()?;
    let mut out = Job::clone(job);
    let mut coldest = f64::INFINITY;
    for i in 0..out.rooms.len() {
        let around_c = duty(&out, i)?.around_c;
        coldest = coldest.min(around_c);
        let room = &mut out.rooms[i];
        (room.room_c, room.usage, room.unheated, room.below) = (around_c, Usage::Hall, None, Beyond::Ground);
        room.emitters.clear();
    }
    if coldest.is_finite() {
        out.site.outdoor_c = coldest - BELOW_AROUND_K;
    }
    Some(CheckedJob::passed(out))
}

/// The losses of a job, or what the storm takes from its areas.
pub(crate) fn losses(job: &Job, plan: &Plan) -> HeatLoss {
    let mut out = heat_loss(job, plan);
    if job.outdoors.is_none() {
        return out;
    }
    for (i, room) in out.rooms.iter_mut().enumerate() {
        let flux = duty(job, i).map_or(0.0, |d| d.load.total.max(0.0));
        room.heat_w = flux * plan.heatable_m2[i];
        room.parts.clear();
        room.savings.clear();
    }
    for below in &mut out.below {
        below.temperature_c = job.site.ground_c;
    }
    let heat_w = out.rooms.iter().map(|r| r.heat_w).sum();
    out.building = BuildingLoss { heat_w, ..BuildingLoss::default() };
    out
}

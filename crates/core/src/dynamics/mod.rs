//! The job in time: how a house warms up, what a set-back saves, how thermostats and reset differ, a week, a year.
//!
//! ```
//! use fuoco_core::dynamics::{TimeTrial, in_time};
//! use fuoco_core::samples::{box_room, job_of, manifold, studied};
//! let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
//! job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
//! let study = studied(&job)?;
//! let told = in_time(&study, &TimeTrial::default(), None)?;
//! // a slab takes hours, and gets there
//! let hours = told.runs[0].rooms[0].warm_h.unwrap();
//! assert!(hours > 3.0 && hours < 96.0, "{hours}");
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

mod follow;
mod house;
pub mod picture;
mod sunlight;
pub mod validation;
mod weather;

use crate::check;
use crate::cooling::gains::RoomSummer;
use crate::error::FieldError;
use crate::job::CheckedJob;
use crate::study::Study;
use crate::survey::hours::WeatherHour;
use crate::watch::Watch;
use follow::{follow, unshaded};
use serde::{Deserialize, Serialize};
use weather::Weather;

/// So many variants beside each other.
const MOST_VARIANTS: usize = 4;
/// A floor's sensor switches over so much, K.
const FLOOR_BAND_K: f64 = 0.5;
/// Weeks and sunny days begin within a year.
const LAST_DAY: u32 = 358;

/// What is followed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum TimeSpan {
    /// From cold on the design day.
    #[default]
    WarmUp,
    /// A week of the weather file; without one, seven design days.
    Week,
    /// The sunniest of the days that ask for a third of the design's heat, the day before and the day after; without a weather file on
    /// design days in March.
    Sun,
    /// The year of the weather file.
    Year,
}

/// How rooms are controlled.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum TimeControl {
    /// Water of the design day, on and off by each room's thermostat.
    #[default]
    Thermostat,
    /// Water that runs all the time, as warm as the weather asks for.
    Reset,
    /// As warm as the weather asks for, and a thermostat that shuts what is too warm.
    Both,
}

/// A way of running it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct TimeVariant {
    /// How rooms are controlled.
    pub control: TimeControl,
    /// On and off of a thermostat lie so far apart, K, 0.1 to 5.
    pub differential_k: f64,
    /// Cooler at night by, K, 0 to 10.
    pub setback_k: f64,
    /// From that hour of the day, 0 to 23 …
    pub setback_from_h: u32,
    /// … to that one.
    pub setback_to_h: u32,
    /// All floors on that build-up in place of their own.
    pub build_up_id: Option<String>,
    /// Under that covering in place of their own.
    pub covering_id: Option<String>,
    /// No heat at all in these hours from the beginning, a power cut: from, to, h; within the time that is followed.
    #[cfg_attr(feature = "schema", schema(value_type = Option<[f64; 2]>))]
    pub cut_h: Option<[f64; 2]>,
    /// A sensor in every floor keeps its surface between those, °C, 5 to 40, whatever the room asks for.
    #[cfg_attr(feature = "schema", schema(value_type = Option<[f64; 2]>))]
    pub floor_c: Option<[f64; 2]>,
    /// The set-back ends as early as yesterday's morning taught, so that rooms are warm when it should end.
    pub optimum_start: bool,
    /// Share of the sun that curtains and shades let in, 0 to 1.
    pub sun: f64,
}

impl Default for TimeVariant {
    fn default() -> Self {
        TimeVariant {
            control: TimeControl::Thermostat,
            differential_k: 0.5,
            setback_k: 0.0,
            setback_from_h: 22,
            setback_to_h: 5,
            build_up_id: None,
            covering_id: None,
            cut_h: None,
            floor_c: None,
            optimum_start: false,
            sun: 1.0,
        }
    }
}

/// What is asked.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct TimeTrial {
    /// What is followed.
    pub span: TimeSpan,
    /// The first day of the week or of the days around a sunny one, of the year from 0; absent: the coldest week, the sunniest day.
    pub from_day: Option<u32>,
    /// The room whose course is told; the first with tube where none is named.
    pub room_id: Option<String>,
    /// Ways of running it, 1 to 4.
    pub variants: Vec<TimeVariant>,
    /// Price of a kilowatt-hour that the source takes, 0 to 10; without one no costs are told.
    pub price_kwh: Option<f64>,
    /// Efficiency of a source without one of its own, 0.3 to 1.1.
    pub efficiency: f64,
    /// From the source's start until its water is warm, s, 0 to 3600.
    pub delay_s: f64,
    /// Of the sun that comes in, so much falls on a heated floor and stays there, 0 to 0.9; the rest reaches the other surfaces.
    pub sun_on_floor: f64,
}

impl Default for TimeTrial {
    fn default() -> Self {
        TimeTrial {
            span: TimeSpan::WarmUp,
            from_day: None,
            room_id: None,
            variants: vec![TimeVariant::default()],
            price_kwh: None,
            efficiency: 0.95,
            delay_s: 0.0,
            sun_on_floor: 0.4,
        }
    }
}

/// The job in time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct InTime {
    /// The room whose course is told.
    pub room_id: String,
    /// The first day, of the year from 0; none on design days.
    pub from_day: Option<u32>,
    /// Each variant, in their order.
    pub runs: Vec<TimeRun>,
}

/// A variant followed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TimeRun {
    /// The room's course.
    pub course: Vec<TimePoint>,
    /// Every heated room.
    pub rooms: Vec<RoomRun>,
    /// Heat out of the water, J.
    pub heat_j: f64,
    /// Of it downward, J.
    pub down_j: f64,
    /// What the source takes for it, J; and what that costs.
    pub taken_j: f64,
    /// By the price.
    pub cost: Option<f64>,
    /// The source's starts: whenever heat is asked for anew, and while less is asked for than its least output, as often as its water,
    /// the buffer's with it, warms and cools by its differential.
    pub starts: usize,
    /// Share of the heat for which its water comes back cool enough to condense; none where it never does.
    pub condensing: Option<f64>,
    /// Heat over electricity of a heat pump.
    pub seasonal: Option<f64>,
    /// By month, J; of a year only.
    pub months_j: Vec<f64>,
    /// What went in and is neither lost nor kept, as a share of what went in.
    pub balance_error: f64,
}

/// A moment of a room.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TimePoint {
    /// From the beginning, s.
    pub time_s: f64,
    /// Outdoors, °C.
    pub outdoor_c: f64,
    /// Its air, °C.
    pub air_c: f64,
    /// What is felt, °C.
    pub felt_c: f64,
    /// Mean of its floor, °C.
    pub surface_c: Option<f64>,
    /// Water that comes to it, °C; none while it is shut.
    pub supply_c: Option<f64>,
    /// Heat of all floors' water, W.
    pub heat_w: f64,
    /// Of it its own floor's, W.
    pub water_w: f64,
    /// Sun that comes into it, W.
    pub sun_w: f64,
    /// What is felt in every heated room, °C; in the order of the run's rooms.
    pub rooms_felt_c: Vec<f64>,
}

/// A room over the whole time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoomRun {
    /// The room.
    pub id: String,
    /// Hours until it is warm, from the beginning; none: not in this time, or it has no floor of its own.
    pub warm_h: Option<f64>,
    /// Coolest and warmest that is felt after it was warm, °C; where it never was, what is felt at the end.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub felt_c: [f64; 2],
    /// Hours in which it is more than a kelvin cooler than wanted.
    pub cool_h: f64,
    /// Warmest mean of its floor, °C.
    pub surface_c: Option<f64>,
    /// Heat of its water, J.
    pub heat_j: f64,
}

impl TimeTrial {
    /// # Errors
    /// Names the field.
    pub fn check(&self) -> Result<(), FieldError> {
        let n = self.variants.len();
        if n == 0 || n > MOST_VARIANTS {
            return Err(FieldError::new("trial.variants", format!("must have 1 to {MOST_VARIANTS} entries, not {n}")));
        }
        if self.from_day.is_some_and(|d| d > LAST_DAY) {
            return Err(FieldError::new("trial.from_day", format!("must be 0 to {LAST_DAY}")));
        }
        self.price_kwh.map_or(Ok(()), |p| check::range("trial.price_kwh", p, 0.0, 10.0))?;
        check::range("trial.efficiency", self.efficiency, 0.3, 1.1)?;
        check::range("trial.delay_s", self.delay_s, 0.0, 3600.0)?;
        check::range("trial.sun_on_floor", self.sun_on_floor, 0.0, 0.9)?;
        for (i, v) in self.variants.iter().enumerate() {
            let path = |field: &str| format!("trial.variants[{i}].{field}");
            check::range(&path("differential_k"), v.differential_k, 0.1, 5.0)?;
            check::range(&path("setback_k"), v.setback_k, 0.0, 10.0)?;
            check::range(&path("sun"), v.sun, 0.0, 1.0)?;
            for (field, hour) in [("setback_from_h", v.setback_from_h), ("setback_to_h", v.setback_to_h)] {
                check::range(&path(field), f64::from(hour), 0.0, 23.0)?;
            }
            if let Some([from, to]) = v.cut_h {
                check::range(&path("cut_h[0]"), from, 0.0, 8760.0)?;
                check::range(&path("cut_h[1]"), to, from, 8760.0)?;
            }
            if let Some([least, most]) = v.floor_c {
                check::range(&path("floor_c[0]"), least, 5.0, 40.0)?;
                check::range(&path("floor_c[1]"), most, 5.0, 40.0)?;
                if most < least + FLOOR_BAND_K {
                    let reason = format!("must be at least {FLOOR_BAND_K} K over the lower limit: the two cross");
                    return Err(FieldError::new(path("floor_c[1]"), reason));
                }
            }
        }
        Ok(())
    }
}

impl TimeVariant {
    /// The job with the variant's floors; none: they are as they are.
    fn on(&self, study: &Study) -> Result<Option<CheckedJob>, FieldError> {
        let (build_up, covering) = (&self.build_up_id, &self.covering_id);
        if build_up.is_none() && covering.is_none() {
            return Ok(None);
        }
        let mut job = study.asked().clone().into_job();
        for floor in job.rooms.iter_mut().filter_map(|r| r.floor.as_mut()) {
            build_up.iter().for_each(|id| floor.build_up_id.clone_from(id));
            covering.iter().for_each(|id| floor.covering_id.clone_from(id));
        }
        let unknown = covering.as_ref().is_some_and(|id| job.covering(id).is_none());
        let named = if unknown { "covering_id" } else { "build_up_id" };
        CheckedJob::new(job).map(Some).map_err(|e| FieldError::new(named, e.reason))
    }
}

/// The job in time, each variant.
///
/// # Errors
/// Names the field of the trial or the job that does not allow it.
pub fn in_time(study: &Study, trial: &TimeTrial, year: Option<&[WeatherHour]>) -> Result<InTime, FieldError> {
    in_time_watched(study, trial, year, &Watch::default())
}

/// As [`in_time`], as long as somebody waits for it; tells how far it has come.
///
/// # Errors
/// As [`in_time`], and when nobody waits any more.
pub fn in_time_watched(
    study: &Study,
    trial: &TimeTrial,
    year: Option<&[WeatherHour]>,
    watch: &Watch,
) -> Result<InTime, FieldError> {
    trial.check()?;
    if study.job.outdoors.is_some() {
        return Err(FieldError::new("outdoors", "a job outdoors has no rooms: its storms stand at Snow"));
    }
    let rooms = &study.job.rooms;
    let index = match &trial.room_id {
        Some(id) => rooms.iter().position(|r| r.id == *id),
        None => rooms.iter().position(|r| r.heated_floor().is_some()),
    };
    let named = trial.room_id.as_ref().map_or("rooms", |_| "trial.room_id");
    let index = index.ok_or_else(|| FieldError::new(named, "has no room with tube"))?;
    let (room, usual) = (&rooms[index], unshaded());
    let summer = RoomSummer::of(study, index, &usual);
    let weather =
        Weather::of(&study.job, trial, year, room.room_c, &|hour, sky| summer.gains(hour, sky, &usual).sun_w)?;
    let mut runs = Vec::with_capacity(trial.variants.len());
    for (i, variant) in trial.variants.iter().enumerate() {
        let come = |share: f64| {
            watch.comes_to((i as f64 + share) / trial.variants.len() as f64);
            watch.check()
        };
        let run = match variant
            .on(study)
            .map_err(|e| FieldError::new(format!("trial.variants[{i}].{}", e.field), e.reason))?
        {
            None => follow(study, trial, variant, &weather, &room.id, &come)?,
            Some(changed) => follow(&*Study::of_watched(&changed, watch)?, trial, variant, &weather, &room.id, &come)?,
        };
        runs.push(run);
    }
    Ok(InTime { room_id: room.id.clone(), from_day: weather.from_day, runs })
}

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

mod house;
pub mod picture;

use crate::check;
use crate::cooling::gains::RoomSummer;
use crate::cooling::sun::{Place, Sky};
use crate::error::FieldError;
use crate::job::{CheckedJob, Cooling};
use crate::plant::needs::floor_supply_c;
use crate::plant::source::source_at;
use crate::study::Study;
use crate::survey::hours::WeatherHour;
use crate::water::rooms::need_share;
use house::{Around, RoomNow};
use serde::{Deserialize, Serialize};

/// The steps, s: of a warm-up and a week, of a year.
const STEP_S: f64 = 300.0;
const YEAR_STEP_S: f64 = 900.0;
/// A warm-up is followed so long, h, and a power cut's return.
const WARM_UP_H: usize = 96;
const WEEK_H: usize = 168;
/// A room is warm within this of what is wanted, K.
const WARM_WITHIN_K: f64 = 0.5;
/// Told every quarter of an hour, of a year every day.
const TOLD_S: f64 = 900.0;
/// So many variants beside each other.
const MOST_VARIANTS: usize = 4;
/// A cold house is found in so many sweeps over its rooms, to that, K.
const MOST_SWEEPS: usize = 2000;
const SETTLED_K: f64 = 1e-6;
/// A floor's sensor switches over so much, K.
const FLOOR_BAND_K: f64 = 0.5;
/// An optimum start begins by so much before the end of the set-back, h, and learns from each morning.
const FIRST_LEAD_H: f64 = 2.0;
const MOST_LEAD_H: f64 = 10.0;
/// Water that every source has at least, L; and heat held by a litre, J/K.
const LEAST_CONTENT_L: f64 = 5.0;
const LITRE_J_K: f64 = 4180.0;
/// Weeks begin within a year.
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
    /// No heat at all in these hours from the beginning, a power cut: from, to, h; within the time that is followed.
    #[cfg_attr(feature = "schema", schema(value_type = Option<[f64; 2]>))]
    pub cut_h: Option<[f64; 2]>,
    /// A sensor in every floor keeps its surface between those, °C, 5 to 40, whatever the room asks for.
    #[cfg_attr(feature = "schema", schema(value_type = Option<[f64; 2]>))]
    pub floor_c: Option<[f64; 2]>,
    /// The set-back ends as early as yesterday's morning taught, so that rooms are warm when it should end.
    pub optimum_start: bool,
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
            cut_h: None,
            floor_c: None,
            optimum_start: false,
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
    /// The first day of the week, of the year from 0; absent: the coldest.
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
        for (i, v) in self.variants.iter().enumerate() {
            let path = |field: &str| format!("trial.variants[{i}].{field}");
            check::range(&path("differential_k"), v.differential_k, 0.1, 5.0)?;
            check::range(&path("setback_k"), v.setback_k, 0.0, 10.0)?;
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

/// Weather of a run: temperature and sky by hour.
struct Weather {
    air_c: Vec<f64>,
    skies: Vec<Sky>,
    from_hour: usize,
    from_day: Option<u32>,
}

fn weather(study: &Study, trial: &TimeTrial, year: Option<&[WeatherHour]>) -> Result<Weather, FieldError> {
    let job = &study.job;
    let design =
        |hours: usize| Weather { air_c: vec![job.site.outdoor_c; hours], skies: vec![], from_hour: 0, from_day: None };
    let (Some(year), true) = (year, trial.span != TimeSpan::WarmUp) else {
        return match trial.span {
            TimeSpan::WarmUp => Ok(design(WARM_UP_H)),
            TimeSpan::Week => Ok(design(WEEK_H)),
            TimeSpan::Year => Err(FieldError::new("site.weather", "must be there: open a weather file at Site")),
        };
    };
    if year.len() < 8760 {
        return Err(FieldError::new("site.weather", "must have a year of hours"));
    }
    let place = job.site.weather.as_ref().map_or(Place { latitude_deg: 45.0, longitude_deg: 0.0 }, |w| Place {
        latitude_deg: w.latitude_deg,
        longitude_deg: w.longitude_deg,
    });
    let (from, count) = match trial.span {
        TimeSpan::Year => (0, year.len()),
        _ => {
            let mean = |day: usize| year[day * 24..day * 24 + WEEK_H].iter().map(|h| h.air_c).sum::<f64>();
            let coldest = || (0..=LAST_DAY as usize).min_by(|a, b| mean(*a).total_cmp(&mean(*b))).unwrap_or(0);
            (trial.from_day.map_or_else(coldest, |d| d as usize) * 24, WEEK_H)
        }
    };
    let hours = &year[from..(from + count).min(year.len())];
    Ok(Weather {
        air_c: hours.iter().map(|h| h.air_c).collect(),
        skies: hours
            .iter()
            .enumerate()
            .map(|(k, h)| Sky::at(place, from + k, h.direct_w_m2, h.diffuse_w_m2, h.cloud))
            .collect(),
        from_hour: from,
        from_day: (trial.span == TimeSpan::Week).then_some((from / 24) as u32),
    })
}

/// The job in time, each variant.
///
/// # Errors
/// Names the field of the trial or the job that does not allow it.
pub fn in_time(study: &Study, trial: &TimeTrial, year: Option<&[WeatherHour]>) -> Result<InTime, FieldError> {
    trial.check()?;
    if study.job.outdoors.is_some() {
        return Err(FieldError::new("outdoors", "a job outdoors has no rooms: its storms stand at Snow"));
    }
    let weather = weather(study, trial, year)?;
    let heated = |r: &&crate::job::Room| r.heated_floor().is_some();
    let room = match &trial.room_id {
        Some(id) => study.job.rooms.iter().find(|r| r.id == *id),
        None => study.job.rooms.iter().find(heated),
    };
    let named = trial.room_id.as_ref().map_or("rooms", |_| "trial.room_id");
    let room = room.ok_or_else(|| FieldError::new(named, "has no room with tube"))?;
    let mut runs = Vec::with_capacity(trial.variants.len());
    for (i, variant) in trial.variants.iter().enumerate() {
        let run = match &variant.build_up_id {
            None => follow(study, trial, variant, &weather, &room.id)?,
            Some(id) => {
                let mut job = study.asked().clone().into_job();
                job.rooms.iter_mut().filter_map(|r| r.floor.as_mut()).for_each(|f| f.build_up_id.clone_from(id));
                let changed = CheckedJob::new(job)
                    .map_err(|e| FieldError::new(format!("trial.variants[{i}].build_up_id"), e.reason))?;
                follow(&*Study::of(&changed)?, trial, variant, &weather, &room.id)?
            }
        };
        runs.push(run);
    }
    Ok(InTime { room_id: room.id.clone(), from_day: weather.from_day, runs })
}

/// Whether the hour of the day lies in the set-back, which may go past midnight.
fn set_back(v: &TimeVariant, hour: u32) -> bool {
    match v.setback_from_h.cmp(&v.setback_to_h) {
        std::cmp::Ordering::Less => (v.setback_from_h..v.setback_to_h).contains(&hour),
        std::cmp::Ordering::Equal => false,
        std::cmp::Ordering::Greater => hour >= v.setback_from_h || hour < v.setback_to_h,
    }
}

fn follow(
    study: &Study,
    trial: &TimeTrial,
    variant: &TimeVariant,
    weather: &Weather,
    told_id: &str,
) -> Result<TimeRun, FieldError> {
    let job = &study.job;
    let step_s = if trial.span == TimeSpan::Year { YEAR_STEP_S } else { STEP_S };
    let mut rooms = house::rooms(study, step_s)?;
    let usual = Cooling { shades: 1.0, ..Cooling::default() };
    let summers: Vec<RoomSummer> = rooms.iter().map(|r| RoomSummer::of(study, r.index, &usual)).collect();
    let first_c = weather.air_c.first().copied().unwrap_or(job.site.outdoor_c);
    let felt_by_room = |rooms: &[RoomNow]| -> Vec<f64> {
        let mut out: Vec<f64> = job.rooms.iter().map(|r| r.room_c).collect();
        rooms.iter().for_each(|r| out[r.index] = r.felt_c);
        out
    };
    if trial.span == TimeSpan::WarmUp {
        // rooms are among each other: one after the other until none moves
        for _ in 0..MOST_SWEEPS {
            let mut moved = 0.0_f64;
            for k in 0..rooms.len() {
                let felt = felt_by_room(&rooms);
                moved = moved.max(rooms[k].cold(first_c, &|r| felt[r]));
            }
            if moved < SETTLED_K {
                break;
            }
        }
    } else {
        rooms.iter_mut().for_each(|r| r.warm(job.rooms[r.index].room_c));
    }
    let source = job.plant.as_ref().map(|p| &p.source);
    let condenses_c = source.and_then(|s| s.kind.condenses_below_c());
    let steps = (3600.0 / step_s).round() as usize;
    let told_every = (TOLD_S / step_s).round().max(1.0) as usize * if trial.span == TimeSpan::Year { 24 } else { 1 };
    let mut on = vec![true; rooms.len()];
    let mut too_warm = vec![false; rooms.len()];
    let (mut lead_h, mut asked_s, mut cycles) = (FIRST_LEAD_H, 0.0, 0.0);
    let content_j_k =
        job.plant.as_ref().map_or(LEAST_CONTENT_L, |p| (p.source.content_l + p.buffer_l).max(LEAST_CONTENT_L))
            * LITRE_J_K;
    let mut out = TimeRun {
        course: vec![],
        rooms: rooms.iter().map(|r| RoomRun::begin(&job.rooms[r.index].id)).collect(),
        heat_j: 0.0,
        down_j: 0.0,
        taken_j: 0.0,
        cost: None,
        starts: 0,
        condensing: condenses_c.map(|_| 0.0),
        seasonal: None,
        months_j: if trial.span == TimeSpan::Year { vec![0.0; 12] } else { vec![] },
        balance_error: 0.0,
    };
    let (mut ran, mut condensed_j, mut count) = (false, 0.0, 0usize);
    let held = |rooms: &[RoomNow]| rooms.iter().map(RoomNow::held_j).sum::<f64>();
    let (held_before, mut kept_j, mut came_j) = (held(&rooms), 0.0, 0.0);
    for (h, outdoor_c) in weather.air_c.iter().enumerate() {
        let hour_of_year = weather.from_hour + h;
        let hour = (hour_of_year % 24) as u32;
        if variant.optimum_start && hour == variant.setback_to_h && h > 0 {
            let late = rooms.iter().any(|r| r.is_heated() && r.felt_c < job.rooms[r.index].room_c - WARM_WITHIN_K);
            lead_h = f64::clamp(lead_h + if late { 1.0 } else { -0.5 }, 0.0, MOST_LEAD_H);
        }
        let early = variant.optimum_start && f64::from((variant.setback_to_h + 24 - hour) % 24) <= lead_h;
        let night = variant.setback_k > 0.0 && set_back(variant, hour) && !early;
        let down_k = if night { variant.setback_k } else { 0.0 };
        // the same line for a house that is wanted cooler: as if it were so much warmer outdoors
        let lines: Vec<Option<f64>> = (0..study.circuits.len())
            .map(|c| match variant.control {
                TimeControl::Thermostat => study.water.supplies[c].supply_c,
                TimeControl::Reset | TimeControl::Both => floor_supply_c(study, c, outdoor_c + down_k),
            })
            .collect();
        let sky = weather.skies.get(h);
        let gains: Vec<[f64; 3]> =
            summers.iter().map(|s| sky.map_or([0.0; 3], |sky| s.gains_w(hour_of_year, sky, &usual))).collect();
        for k in 0..steps {
            let time_h = h as f64 + k as f64 / steps as f64;
            let cut = variant.cut_h.is_some_and(|[from, to]| (from..to).contains(&time_h));
            let mut supplies: Vec<Option<f64>> = rooms
                .iter()
                .zip(&mut on)
                .zip(&mut too_warm)
                .map(|((r, on), too_warm)| {
                    let wanted = job.rooms[r.index].room_c - down_k;
                    let line = lines[study.water.of_room[r.index]].filter(|_| r.is_heated() && !cut)?;
                    match variant.control {
                        TimeControl::Reset => *on = true,
                        // shut above, open below: what is felt, as thermostats do
                        _ if r.felt_c > wanted + variant.differential_k / 2.0 => *on = false,
                        _ if r.felt_c < wanted - variant.differential_k / 2.0 => *on = true,
                        _ => {}
                    }
                    if let (Some([least, most]), Some(floor)) = (variant.floor_c, r.surface_c) {
                        *too_warm = floor > if *too_warm { most - FLOOR_BAND_K } else { most };
                        if floor < least {
                            return Some(line);
                        }
                    }
                    (*on && !*too_warm).then_some(line)
                })
                .collect();
            // the source has to come up first
            asked_s = if supplies.iter().any(Option::is_some) { asked_s + step_s } else { 0.0 };
            if asked_s <= trial.delay_s && trial.delay_s > 0.0 {
                supplies.fill(None);
            }
            limit(source.map(|s| source_at(s, *outdoor_c, warmest(&supplies)).0), &rooms, &mut supplies);
            let felt = felt_by_room(&rooms);
            let around = Around { outdoor_c: *outdoor_c, felt_c: &|r| felt[r] };
            for ((r, supply), gains) in rooms.iter_mut().zip(&supplies).zip(&gains) {
                let share = if cut { 0.0 } else { need_share(job, r.index, *outdoor_c) };
                r.step(step_s, &around, *supply, *gains, share);
            }
            let heat_w: f64 = rooms.iter().map(|r| r.heat_w.max(0.0)).sum();
            let supply = warmest(&supplies);
            out.heat_j += heat_w * step_s;
            let stays = |r: &RoomNow| r.heat_w + r.given_w - r.down_w - r.lost_w;
            kept_j += rooms.iter().map(stays).sum::<f64>() * step_s;
            came_j += rooms.iter().map(|r| r.heat_w.abs() + r.given_w.abs()).sum::<f64>() * step_s;
            out.down_j += rooms.iter().map(|r| r.down_w).sum::<f64>() * step_s;
            if let Some(month) = out.months_j.get_mut(month_of(hour_of_year)) {
                *month += heat_w * step_s;
            }
            let cop = source.and_then(|s| source_at(s, *outdoor_c, supply).1);
            out.taken_j += heat_w * step_s / cop.unwrap_or(trial.efficiency);
            let back_w: f64 = rooms.iter().filter_map(|r| Some(r.return_c? * r.heat_w.max(0.0))).sum();
            if condenses_c.is_some_and(|c| heat_w > 1.0 && back_w / heat_w < c) {
                condensed_j += heat_w * step_s;
            }
            let runs = heat_w > 1.0;
            out.starts += usize::from(runs && !ran);
            if let Some(s) = source.filter(|s| runs && heat_w < s.least_w) {
                // warms by what is over, cools by what is taken
                let swing_j = content_j_k * s.differential_k.max(0.5);
                cycles += step_s / (swing_j / (s.least_w - heat_w).max(1.0) + swing_j / heat_w);
            }
            ran = runs;
            for (told, r) in out.rooms.iter_mut().zip(&rooms) {
                told.take(r, time_h + step_s / 3600.0, step_s, job.rooms[r.index].room_c - down_k);
            }
            if count.is_multiple_of(told_every)
                && let Some((k, r)) = rooms.iter().enumerate().find(|(_, r)| job.rooms[r.index].id == told_id)
            {
                out.course.push(TimePoint {
                    time_s: time_h * 3600.0 + step_s,
                    outdoor_c: *outdoor_c,
                    air_c: r.air_c,
                    felt_c: r.felt_c,
                    surface_c: r.surface_c,
                    supply_c: supplies[k],
                    heat_w,
                    rooms_felt_c: rooms.iter().map(|r| (r.felt_c * 100.0).round() / 100.0).collect(),
                });
            }
            count += 1;
        }
    }
    for (told, r) in out.rooms.iter_mut().zip(&rooms) {
        // never warm: as it was at the end
        if !told.felt_c[0].is_finite() {
            told.felt_c = [r.felt_c; 2];
        }
    }
    out.starts += cycles as usize;
    out.balance_error = (kept_j - (held(&rooms) - held_before)).abs() / came_j.max(1.0);
    if let Some(share) = &mut out.condensing {
        *share = if out.heat_j > 0.0 { condensed_j / out.heat_j } else { 0.0 };
    }
    let is_pump = source.is_some_and(|s| s.kind.is_heat_pump());
    out.seasonal = (is_pump && out.taken_j > 0.0).then(|| out.heat_j / out.taken_j);
    out.cost = trial.price_kwh.map(|p| p * out.taken_j / 3.6e6);
    Ok(out)
}

fn warmest(supplies: &[Option<f64>]) -> f64 {
    supplies.iter().flatten().copied().fold(20.0, f64::max)
}

/// No more than the source has: all supplies are cooler by what brings them there.
fn limit(most_w: Option<f64>, rooms: &[RoomNow], supplies: &mut [Option<f64>]) {
    let Some(most) = most_w else { return };
    for _ in 0..4 {
        let draws = rooms.iter().zip(supplies.iter()).filter_map(|(r, s)| Some(r.draws((*s)?)));
        let (mut heat, mut per_k) = (0.0, 0.0);
        for d in draws.filter(|d| d.heat_w > 0.0) {
            (heat, per_k) = (heat + d.heat_w, per_k + d.per_k);
        }
        if heat <= most * 1.001 || per_k <= 0.0 {
            return;
        }
        let less = (heat - most) / per_k;
        supplies.iter_mut().flatten().for_each(|s| *s -= less);
    }
}

fn month_of(hour: usize) -> usize {
    const DAYS: [usize; 12] = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
    let mut left = hour / 24;
    DAYS.iter()
        .position(|d| {
            let here = left < *d;
            left = left.saturating_sub(*d);
            here
        })
        .unwrap_or(11)
}

impl RoomRun {
    fn begin(id: &str) -> RoomRun {
        RoomRun {
            id: id.into(),
            warm_h: None,
            felt_c: [f64::INFINITY, f64::NEG_INFINITY],
            cool_h: 0.0,
            surface_c: None,
            heat_j: 0.0,
        }
    }

    fn take(&mut self, r: &RoomNow, time_h: f64, step_s: f64, wanted_c: f64) {
        if self.warm_h.is_none() && r.is_heated() && r.felt_c >= wanted_c - WARM_WITHIN_K {
            self.warm_h = Some(time_h);
        }
        if self.warm_h.is_some() || !r.is_heated() {
            self.felt_c = [self.felt_c[0].min(r.felt_c), self.felt_c[1].max(r.felt_c)];
        }
        if r.felt_c < wanted_c - 1.0 {
            self.cool_h += step_s / 3600.0;
        }
        if let Some(c) = r.surface_c {
            self.surface_c = Some(self.surface_c.map_or(c, |s| s.max(c)));
        }
        self.heat_j += r.heat_w.max(0.0) * step_s;
    }
}

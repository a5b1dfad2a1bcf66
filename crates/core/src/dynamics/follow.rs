//! A variant followed hour by hour: controls, source, rooms.

use super::house::{self, Around, RoomNow};
use super::weather::Weather;
use super::{FLOOR_BAND_K, RoomRun, TimeControl, TimePoint, TimeRun, TimeSpan, TimeTrial, TimeVariant};
use crate::cooling::gains::{Gains, RoomSummer};
use crate::error::FieldError;
use crate::job::{Cooling, HeatSource, Job};
use crate::plant::needs::floor_supply_c;
use crate::plant::source::source_at;
use crate::study::Study;
use crate::water::rooms::need_share;

/// The steps, s: of a warm-up and a week, of a year.
const STEP_S: f64 = 300.0;
const YEAR_STEP_S: f64 = 900.0;
/// A room is warm within this of what is wanted, K.
const WARM_WITHIN_K: f64 = 0.5;
/// Told every quarter of an hour, of a year every six hours.
const TOLD_S: f64 = 900.0;
const TOLD_OF_YEAR: usize = 24;
/// A cold house is found in so many sweeps over its rooms, to that, K.
const MOST_SWEEPS: usize = 2000;
const SETTLED_K: f64 = 1e-6;
/// An optimum start begins by so much before the end of the set-back, h, and learns from each morning.
const FIRST_LEAD_H: f64 = 2.0;
const MOST_LEAD_H: f64 = 10.0;
/// Water that every source has at least, L; and heat held by a litre, J/K.
const LEAST_CONTENT_L: f64 = 5.0;
const LITRE_J_K: f64 = 4180.0;
/// Less heat than this is none, W.
const NO_HEAT_W: f64 = 1.0;

/// People and the sun in winter: nothing is shaded but by the variant.
pub(super) fn unshaded() -> Cooling {
    Cooling { shades: 1.0, ..Cooling::default() }
}

/// Whether the hour of the day lies in the set-back, which may go past midnight.
fn set_back(v: &TimeVariant, hour: u32) -> bool {
    match v.setback_from_h.cmp(&v.setback_to_h) {
        std::cmp::Ordering::Less => (v.setback_from_h..v.setback_to_h).contains(&hour),
        std::cmp::Ordering::Equal => false,
        std::cmp::Ordering::Greater => hour >= v.setback_from_h || hour < v.setback_to_h,
    }
}

/// Thermostats and floor sensors, by room.
struct Valves {
    on: Vec<bool>,
    too_warm: Vec<bool>,
}

impl Valves {
    fn of(rooms: usize) -> Valves {
        Valves { on: vec![true; rooms], too_warm: vec![false; rooms] }
    }

    /// The water that a room is given of what is there for it, °C; `wanted_c` is its set point now.
    fn opens(&mut self, k: usize, variant: &TimeVariant, room: &RoomNow, wanted_c: f64, line_c: f64) -> Option<f64> {
        let half = variant.differential_k / 2.0;
        match variant.control {
            TimeControl::Reset => self.on[k] = true,
            // shut above, open below: what is felt, as thermostats do
            _ if room.felt_c > wanted_c + half => self.on[k] = false,
            _ if room.felt_c < wanted_c - half => self.on[k] = true,
            _ => {}
        }
        if let (Some([least, most]), Some(floor)) = (variant.floor_c, room.surface_c) {
            self.too_warm[k] = floor > if self.too_warm[k] { most - FLOOR_BAND_K } else { most };
            if floor < least {
                return Some(line_c);
            }
        }
        (self.on[k] && !self.too_warm[k]).then_some(line_c)
    }
}

/// The source through the run.
struct Boiler<'a> {
    source: Option<&'a HeatSource>,
    /// Its water and the buffer's, J/K.
    holds_j_k: f64,
    asked_s: f64,
    runs: bool,
    starts: usize,
    cycles: f64,
    condensed_j: f64,
    taken_j: f64,
}

impl<'a> Boiler<'a> {
    fn of(job: &'a Job) -> Boiler<'a> {
        let content_l = job.plant.as_ref().map_or(0.0, |p| p.source.content_l + p.buffer_l).max(LEAST_CONTENT_L);
        Boiler {
            source: job.plant.as_ref().map(|p| &p.source),
            holds_j_k: content_l * LITRE_J_K,
            asked_s: 0.0,
            runs: false,
            starts: 0,
            cycles: 0.0,
            condensed_j: 0.0,
            taken_j: 0.0,
        }
    }

    /// Whether its water is warm yet, while anybody asks for it.
    fn is_up(&mut self, asked: bool, step_s: f64, delay_s: f64) -> bool {
        self.asked_s = if asked { self.asked_s + step_s } else { 0.0 };
        delay_s <= 0.0 || self.asked_s > delay_s
    }

    /// A step in which it gives that heat, W, at that supply.
    fn gives(&mut self, heat_w: f64, outdoor_c: f64, supply_c: f64, rooms: &[RoomNow], step_s: f64, efficiency: f64) {
        let cop = self.source.and_then(|s| source_at(s, outdoor_c, supply_c).1);
        self.taken_j += heat_w * step_s / cop.unwrap_or(efficiency);
        let runs = heat_w > NO_HEAT_W;
        let back_w: f64 = rooms.iter().filter_map(|r| Some(r.return_c? * r.heat_w.max(0.0))).sum();
        let condenses_c = self.source.and_then(|s| s.kind.condenses_below_c());
        if condenses_c.is_some_and(|c| runs && back_w / heat_w < c) {
            self.condensed_j += heat_w * step_s;
        }
        self.starts += usize::from(runs && !self.runs);
        if let Some(s) = self.source.filter(|s| runs && heat_w < s.least_w) {
            // warms by what is over, cools by what is taken
            let swing_j = self.holds_j_k * s.differential_k.max(0.5);
            self.cycles += step_s / (swing_j / (s.least_w - heat_w).max(1.0) + swing_j / heat_w);
        }
        self.runs = runs;
    }
}

/// The rooms as they begin: as cold as their envelope leaves them, or warm, their floors giving what that weather asks for.
fn begin(study: &Study, span: TimeSpan, rooms: &mut [RoomNow], first_c: f64) {
    let job = &study.job;
    if span != TimeSpan::WarmUp {
        for r in rooms {
            let supply = floor_supply_c(study, study.water.of_room[r.index], first_c);
            r.warm(job.rooms[r.index].room_c, supply);
        }
        return;
    }
    // rooms are among each other: one after the other until none moves
    for _ in 0..MOST_SWEEPS {
        let mut moved = 0.0_f64;
        for k in 0..rooms.len() {
            let felt = felt_by_room(job, rooms);
            moved = moved.max(rooms[k].cold(first_c, &|r| felt[r]));
        }
        if moved < SETTLED_K {
            break;
        }
    }
}

/// What is felt, by the job's rooms.
fn felt_by_room(job: &Job, rooms: &[RoomNow]) -> Vec<f64> {
    let mut out: Vec<f64> = job.rooms.iter().map(|r| r.room_c).collect();
    rooms.iter().for_each(|r| out[r.index] = r.felt_c);
    out
}

/// One variant; `come` is what share of it is done, which `watch` is told.
///
/// # Errors
/// Where a section cannot be solved, and when nobody waits any more.
pub(super) fn follow(
    study: &Study,
    trial: &TimeTrial,
    variant: &TimeVariant,
    weather: &Weather,
    told_id: &str,
    watch: &dyn Fn(f64) -> Result<(), FieldError>,
) -> Result<TimeRun, FieldError> {
    let job = &study.job;
    let of_year = trial.span == TimeSpan::Year;
    let step_s = if of_year { YEAR_STEP_S } else { STEP_S };
    let mut rooms = house::rooms(study, step_s)?;
    let usual = unshaded();
    let summers: Vec<RoomSummer> = rooms.iter().map(|r| RoomSummer::of(study, r.index, &usual)).collect();
    begin(study, trial.span, &mut rooms, weather.air_c.first().copied().unwrap_or(job.site.outdoor_c));
    let steps = (3600.0 / step_s).round() as usize;
    let told_every = (TOLD_S / step_s).round().max(1.0) as usize * if of_year { TOLD_OF_YEAR } else { 1 };
    let mut valves = Valves::of(rooms.len());
    let mut boiler = Boiler::of(job);
    let condenses = boiler.source.is_some_and(|s| s.kind.condenses_below_c().is_some());
    let mut lead_h = FIRST_LEAD_H;
    let mut out = TimeRun {
        course: vec![],
        rooms: rooms.iter().map(|r| RoomRun::begin(&job.rooms[r.index].id)).collect(),
        heat_j: 0.0,
        down_j: 0.0,
        taken_j: 0.0,
        cost: None,
        starts: 0,
        condensing: None,
        seasonal: None,
        months_j: if of_year { vec![0.0; 12] } else { vec![] },
        balance_error: 0.0,
    };
    let held = |rooms: &[RoomNow]| rooms.iter().map(RoomNow::held_j).sum::<f64>();
    let (held_before, mut kept_j, mut came_j, mut count) = (held(&rooms), 0.0, 0.0, 0_usize);
    for (h, &outdoor_c) in weather.air_c.iter().enumerate() {
        if h.is_multiple_of(24) {
            watch(h as f64 / weather.air_c.len() as f64)?;
        }
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
        let gains: Vec<Gains> = summers
            .iter()
            .map(|s| {
                let all = sky.map_or_else(Gains::default, |sky| s.gains(hour_of_year, sky, &usual));
                Gains { sun_w: all.sun_w * variant.sun, ..all }
            })
            .collect();
        for k in 0..steps {
            let time_h = h as f64 + k as f64 / steps as f64;
            let cut = variant.cut_h.is_some_and(|[from, to]| (from..to).contains(&time_h));
            for (r, gains) in rooms.iter_mut().zip(&gains) {
                r.shine(gains.sun_w * trial.sun_on_floor);
            }
            let mut supplies: Vec<Option<f64>> = rooms
                .iter()
                .enumerate()
                .map(|(k, r)| {
                    let line = lines[study.water.of_room[r.index]].filter(|_| r.is_heated() && !cut)?;
                    valves.opens(k, variant, r, job.rooms[r.index].room_c - down_k, line)
                })
                .collect();
            if !boiler.is_up(supplies.iter().any(Option::is_some), step_s, trial.delay_s) {
                supplies.fill(None);
            }
            limit(boiler.source.map(|s| source_at(s, outdoor_c, warmest(&supplies)).0), &rooms, &mut supplies);
            let felt = felt_by_room(job, &rooms);
            let around = Around { outdoor_c, felt_c: &|r| felt[r] };
            for ((r, supply), gains) in rooms.iter_mut().zip(&supplies).zip(&gains) {
                let share = if cut { 0.0 } else { need_share(job, r.index, outdoor_c) };
                r.step(step_s, &around, *supply, gains, share);
            }
            let heat_w: f64 = rooms.iter().map(|r| r.heat_w.max(0.0)).sum();
            out.heat_j += heat_w * step_s;
            let stays = |r: &RoomNow| r.heat_w + r.given_w - r.down_w - r.lost_w;
            kept_j += rooms.iter().map(stays).sum::<f64>() * step_s;
            came_j += rooms.iter().map(|r| r.heat_w.abs() + r.given_w.abs()).sum::<f64>() * step_s;
            out.down_j += rooms.iter().map(|r| r.down_w).sum::<f64>() * step_s;
            if let Some(month) = out.months_j.get_mut(month_of(hour_of_year)) {
                *month += heat_w * step_s;
            }
            boiler.gives(heat_w, outdoor_c, warmest(&supplies), &rooms, step_s, trial.efficiency);
            for (told, r) in out.rooms.iter_mut().zip(&rooms) {
                told.take(r, time_h + step_s / 3600.0, step_s, job.rooms[r.index].room_c - down_k);
            }
            if count.is_multiple_of(told_every)
                && let Some((k, r)) = rooms.iter().enumerate().find(|(_, r)| job.rooms[r.index].id == told_id)
            {
                out.course.push(TimePoint {
                    time_s: time_h * 3600.0 + step_s,
                    outdoor_c,
                    air_c: r.air_c,
                    felt_c: r.felt_c,
                    surface_c: r.surface_c,
                    supply_c: supplies[k],
                    heat_w,
                    water_w: r.heat_w.max(0.0),
                    sun_w: gains[k].sun_w,
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
    out.starts = boiler.starts + boiler.cycles as usize;
    out.taken_j = boiler.taken_j;
    out.balance_error = (kept_j - (held(&rooms) - held_before)).abs() / came_j.max(1.0);
    out.condensing = condenses.then(|| if out.heat_j > 0.0 { boiler.condensed_j / out.heat_j } else { 0.0 });
    let is_pump = boiler.source.is_some_and(|s| s.kind.is_heat_pump());
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

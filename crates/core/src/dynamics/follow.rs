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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::job::SourceKind;
    use crate::plant::usual;
    use crate::samples::{box_room, job_of, manifold, studied};
    use std::sync::Arc;

    fn study() -> Arc<Study> {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.0, 9.1, 4.0)]);
        job.rooms[0].openings.push(crate::samples::doorway("d", 1, 2.0, 0.9));
        job.manifolds.push(manifold("m", "A", "a", 0, 4.0));
        studied(&job).expect("solved")
    }

    #[test]
    fn a_set_back_goes_past_midnight_and_none_lasts_no_time() {
        let night = TimeVariant { setback_from_h: 22, setback_to_h: 5, ..TimeVariant::default() };
        let hours: Vec<u32> = (0..24).filter(|h| set_back(&night, *h)).collect();
        assert_eq!(hours, [0, 1, 2, 3, 4, 22, 23]);
        let noon = TimeVariant { setback_from_h: 11, setback_to_h: 13, ..night.clone() };
        assert_eq!((0..24).filter(|h| set_back(&noon, *h)).collect::<Vec<u32>>(), [11, 12]);
        let never = TimeVariant { setback_from_h: 7, setback_to_h: 7, ..night };
        assert!((0..24).all(|h| !set_back(&never, h)));
    }

    #[test]
    fn hours_belong_to_their_months() {
        assert_eq!([0, 743, 744, 59 * 24, 181 * 24, 8759].map(month_of), [0, 0, 1, 2, 6, 11]);
    }

    #[test]
    fn water_comes_after_the_delay_and_anew_after_each_pause() {
        let job = job_of(vec![]);
        let mut boiler = Boiler::of(&job);
        let asked = |boiler: &mut Boiler<'_>, all: [bool; 5]| all.map(|asked| boiler.is_up(asked, 60.0, 120.0));
        assert_eq!(asked(&mut boiler, [true; 5]), [false, false, true, true, true]);
        assert_eq!(asked(&mut boiler, [false, true, true, true, true]), [false, false, false, true, true]);
        assert!(boiler.is_up(true, 60.0, 0.0) && Boiler::of(&job).is_up(true, 60.0, 0.0), "without a delay at once");
    }

    /// The cycling of `docs/worked-plants.md`, example 6: 3300 W against 348 W, 13.2 L, 8 K: 2.5 times an hour.
    #[test]
    fn a_source_cycles_below_its_least_output() {
        let source =
            HeatSource { least_w: 3300.0, differential_k: 8.0, ..usual::source(SourceKind::CondensingGas, 16_500.0) };
        let mut job = job_of(vec![]);
        let mut boiler = Boiler { source: Some(&source), holds_j_k: 13.2 * 4186.0, ..Boiler::of(&job) };
        boiler.gives(348.0, 0.0, 35.0, &[], 3600.0, 0.95);
        assert!((boiler.cycles - 3600.0 / 1420.0).abs() < 0.02, "{}", boiler.cycles);
        assert_eq!(boiler.starts, 1);
        assert!((boiler.taken_j - 348.0 * 3600.0 / 0.95).abs() < 1e-6);
        // above it, it runs through
        let before = boiler.cycles;
        boiler.gives(5000.0, 0.0, 35.0, &[], 3600.0, 0.95);
        assert_eq!((boiler.cycles, boiler.starts), (before, 1));
        boiler.gives(0.0, 0.0, 35.0, &[], 3600.0, 0.95);
        boiler.gives(5000.0, 0.0, 35.0, &[], 3600.0, 0.95);
        assert_eq!(boiler.starts, 2, "a pause, and another start");
        // a source of no content still has its least
        job.plant = None;
        assert_eq!(Boiler::of(&job).holds_j_k, LEAST_CONTENT_L * LITRE_J_K);
    }

    #[test]
    fn a_thermostat_holds_between_its_two_ends_and_a_floor_sensor_goes_before_it() {
        let study = study();
        let mut room = house::rooms(&study, STEP_S).expect("rooms").remove(0);
        let plain = TimeVariant { differential_k: 1.0, ..TimeVariant::default() };
        let mut valves = Valves::of(1);
        let mut at = |valves: &mut Valves, variant: &TimeVariant, felt_c: f64, floor_c: f64| {
            (room.felt_c, room.surface_c) = (felt_c, Some(floor_c));
            valves.opens(0, variant, &room, 20.0, 38.0)
        };
        // 20 ± 0.5
        let felt = [19.0, 20.4, 20.6, 20.0, 19.6, 19.4];
        let open = felt.map(|c| at(&mut valves, &plain, c, 25.0).is_some());
        assert_eq!(open, [true, true, false, false, false, true]);
        // water that runs all the time asks no thermostat
        let reset = TimeVariant { control: TimeControl::Reset, ..plain.clone() };
        assert_eq!(at(&mut valves, &reset, 26.0, 25.0), Some(38.0));
        // above its limit the floor is shut, and open again half a kelvin below it; too cold a floor is opened in a warm room
        let sensor = TimeVariant { floor_c: Some([21.0, 29.0]), ..plain };
        let floors = [28.9, 29.1, 28.7, 28.4];
        assert_eq!(floors.map(|c| at(&mut valves, &sensor, 19.0, c).is_some()), [true, false, false, true]);
        assert_eq!([20.9, 21.1].map(|c| at(&mut valves, &sensor, 23.0, c).is_some()), [true, false]);
    }

    #[test]
    fn all_supplies_are_cooler_by_the_same_where_the_source_has_less() {
        let study = study();
        let mut rooms = house::rooms(&study, STEP_S).expect("rooms");
        rooms.iter_mut().for_each(|r| r.warm(20.0, None));
        let draws = |supplies: &[Option<f64>]| -> f64 {
            rooms.iter().zip(supplies).filter_map(|(r, s)| Some(r.draws((*s)?).heat_w)).sum()
        };
        let mut supplies = vec![Some(45.0), Some(40.0)];
        let whole = draws(&supplies);
        limit(Some(whole / 2.0), &rooms, &mut supplies);
        assert!((draws(&supplies) - whole / 2.0).abs() < 0.002 * whole, "{} of {whole}", draws(&supplies));
        assert!((supplies[0].expect("open") - supplies[1].expect("open") - 5.0).abs() < 1e-9);
        // one that has enough changes nothing, and neither does one without a figure
        let mut same = vec![Some(45.0), None];
        limit(Some(1e6), &rooms, &mut same);
        limit(None, &rooms, &mut same);
        assert_eq!(same, [Some(45.0), None]);
    }

    #[test]
    fn a_thicker_covering_is_slower_and_what_is_none_is_named() {
        use super::super::{TimeTrial, in_time};
        let study = study();
        let under = |id: &str| TimeVariant { covering_id: Some(id.into()), ..TimeVariant::default() };
        let trial = TimeTrial { variants: vec![under("tile"), under("carpet")], ..TimeTrial::default() };
        let told = in_time(&study, &trial, None).expect("followed");
        // both rooms are designed for what lies on them; more resistance asks for warmer water and takes longer all the same
        let water = |k: usize| told.runs[k].course.iter().filter_map(|p| p.supply_c).fold(0.0, f64::max);
        assert!(water(1) > water(0) + 1.0, "{} {}", water(0), water(1));
        let refused = |v: TimeVariant| {
            in_time(&study, &TimeTrial { variants: vec![v], ..TimeTrial::default() }, None).expect_err("refused").field
        };
        assert_eq!(refused(under("moss")), "trial.variants[0].covering_id");
        let both = TimeVariant { build_up_id: Some("moss".into()), ..under("tile") };
        assert_eq!(refused(both), "trial.variants[0].build_up_id");
    }
}

//! Cooling designed: what the air's moisture allows, what the floors then take, what is left over.

use super::gains::RoomSummer;
use super::part::Cooling;
use super::sun::{Place, Sky};
use crate::error::FieldError;
use crate::floor::assembly;
use crate::floor::curve::{Curve, Duty};
use crate::floor::heating::floor_parts;
use crate::flow;
use crate::fluid;
use crate::heat_loss::air::density;
use crate::job::{Cooling as Wanted, Covering, CoveringKind, Job, Usage};
use crate::moist_air::{dew_point_c, humidity_ratio, pressure_pa, saturation_pa, vapour_pa};
use crate::section::film::{self, Face, Mode};
use crate::study::solved::Solved;
use crate::survey::hours::WeatherHour;
use serde::{Deserialize, Serialize};

/// Water about the temperatures of cooling, °C.
const COOL_WATER_C: f64 = 18.0;
/// A chiller runs so long at the least, s, and its buffer swings by so much, K.
const LEAST_RUN_S: f64 = 600.0;
const BUFFER_SWING_K: f64 = 5.0;
/// Heat of evaporation at room temperature, J/kg.
const EVAPORATION_J_KG: f64 = 2.45e6;
/// Soft coverings with more than this are carpets, m²K/W.
const CARPET_M2K_W: f64 = 0.1;
/// Hours of the week that is told.
const WEEK: usize = 168;
/// Less need than this is none, W.
const NOTHING_W: f64 = 1.0;

/// Why a room's loops are shut in summer.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ShutFor {
    /// A bath: its air is damp when it is used.
    Bath,
    /// A soft covering holds back what little cold there is, and takes up moisture.
    Carpet,
    /// Its floor has no tube.
    NoTube,
    /// The job says so.
    Told,
}

/// Cooling designed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CoolingDesign {
    /// Lowest supply that is safe in every hour in which cold is wanted, °C.
    pub supply_c: f64,
    /// Highest dew point in those hours, °C, and the hour of the year, from 0.
    pub dew_point_c: f64,
    /// The hour of it; none where the humidity is typed.
    pub dew_hour: Option<usize>,
    /// Where it would condense first: the manifold with bare metal, and the room it hangs in.
    pub first_at: Option<Coldest>,
    /// Every heated room, in the job's order.
    pub rooms: Vec<RoomCooling>,
    /// Most that all rooms together want in one hour, W.
    pub peak_w: f64,
    /// What the floors take of a year's need, as a share, and the need, J.
    pub floor_share: f64,
    /// Of a year, J.
    pub need_j: f64,
    /// What is left to a coil at the worst hour: felt and moist, W.
    pub coil_w: f64,
    /// Moisture that a dehumidifying coil takes out at the worst hour, W; 0 without one.
    pub coil_moist_w: f64,
    /// Flow of all loops cooling, L/min.
    pub flow_l_min: f64,
    /// Pressure drop of the index loop at it, Pa.
    pub head_pa: f64,
    /// Buffer that lets the chiller run ten minutes, L; none where no chiller is named.
    pub buffer_l: Option<f64>,
    /// The most humid week in which cold is wanted, hour by hour.
    pub week: Vec<HumidHour>,
    /// The file has radiation; else it comes from the clouds.
    pub sun_from_file: bool,
}

/// Bare metal at the supply's temperature.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Coldest {
    /// The manifold.
    pub manifold_id: String,
    /// The room it hangs in.
    pub room_id: String,
    /// Dew point of that room's air in the worst hour, °C.
    pub dew_point_c: f64,
}

/// A room cooled.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoomCooling {
    /// The room.
    pub id: String,
    /// Why its loops are shut; none: they cool.
    pub shut: Option<ShutFor>,
    /// Most heat that has to be taken from it in an hour, W, and when, hour of the year from 0.
    pub peak_w: f64,
    /// The hour of it.
    pub peak_hour: usize,
    /// Of a year, J.
    pub need_j: f64,
    /// Highest dew point of its air while it wants cold, °C.
    pub dew_point_c: f64,
    /// Lowest supply that its floor's surface stands, °C.
    pub floor_stands_c: Option<f64>,
    /// Its floor takes, per kelvin of room over water, W/m²K.
    pub takes_w_m2k: Option<f64>,
    /// What its floor takes at the job's supply, W.
    pub floor_w: f64,
    /// Its surface then: mean and coolest line, °C.
    pub surface_c: Option<f64>,
    /// Its coolest line, °C.
    pub coolest_c: Option<f64>,
    /// Share of the year's need that its floor takes.
    pub share: f64,
    /// Flow for it, L/min; in winter it has.
    pub flow_l_min: f64,
    /// Flow on the design day of winter, L/min.
    pub winter_l_min: f64,
}

/// An hour of the most humid week.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HumidHour {
    /// Of the year, from 0.
    pub hour: usize,
    /// Outdoor air, °C.
    pub air_c: f64,
    /// Outdoor dew point, °C.
    pub outdoor_dew_c: f64,
    /// Highest dew point of any cooled room, °C.
    pub dew_point_c: f64,
    /// Lowest safe supply, °C.
    pub supply_c: f64,
    /// Heat that the rooms want taken out, W.
    pub need_w: f64,
    /// What the floors take of it, W.
    pub floor_w: f64,
}

/// A soft covering that holds back heat, and so cold: carpet, not sheet.
pub(crate) fn is_carpet(covering: &Covering) -> bool {
    covering.kind == CoveringKind::Soft && covering.resistance_m2k_w > CARPET_M2K_W
}

/// Whether and why a room's loops are shut.
pub(crate) fn shut(job: &Job, room: usize) -> Option<ShutFor> {
    let r = &job.rooms[room];
    let Some(floor) = r.heated_floor() else { return Some(ShutFor::NoTube) };
    match r.summer.and_then(|s| s.shut) {
        Some(true) => Some(ShutFor::Told),
        Some(false) => None,
        None if r.usage == Usage::Bath => Some(ShutFor::Bath),
        None => job.covering(&floor.covering_id).is_some_and(is_carpet).then_some(ShutFor::Carpet),
    }
}

/// A room's floor in cooling mode: what it takes per kelvin, and its surface.
pub(crate) struct Cold {
    curve: Curve,
    room_c: f64,
}

impl Cold {
    /// None without tube.
    pub fn of(study: &Solved, room: usize, cooling: &Cooling) -> Result<Option<Cold>, FieldError> {
        let job = &study.job;
        let Some(parts) = job.rooms[room].heated_floor().and_then(|f| floor_parts(job, f)) else { return Ok(None) };
        let section = assembly::section(&parts, &|id: &str| job.material(id))?;
        let winter = study.water.heating[room].floor.as_ref().map(|f| *f.core().duty());
        let duty = Duty {
            face: Face::Floor,
            room_c: cooling.room_c,
            // the ground is as warm as the room: what it takes is left out
            below_c: cooling.room_c,
            below_m2k_w: winter.map_or(0.17, |d| d.below_m2k_w),
            water_film_w_m2k: winter.map_or(1000.0, |d| d.water_film_w_m2k),
            film_up_w_m2k: Some(film::film(Face::Floor, Mode::Cooling, 1.0)),
        };
        Ok(Some(Cold { curve: Curve::new(&section, duty)?, room_c: cooling.room_c }))
    }

    /// Heat taken from the room, W/m² per kelvin of room over water.
    pub fn takes_w_m2k(&self) -> f64 {
        self.curve.k_up(-1.0)
    }

    /// Mean and coolest line of the surface with water that much cooler than the room, °C.
    pub fn surface(&self, under_k: f64) -> (f64, f64) {
        let film = self.curve.duty().film_up(1.0);
        let mean = self.room_c - self.takes_w_m2k() * under_k / film;
        let (one, other) = self.curve.surface_range(-under_k);
        (mean, one.min(other))
    }

    /// Water at which the coolest line has that temperature, °C.
    pub fn water_for(&self, coolest_c: f64) -> f64 {
        let per_k = self.room_c - self.surface(1.0).1;
        self.room_c - (self.room_c - coolest_c) / per_k.max(1e-6)
    }
}

/// A room's air by hour: its dew point, °C, and what a coil takes out of it, W. Air from outside and people change what is in it by the
/// hour as far as its air is changed in an hour; furnishings hold back more, and are left out.
fn dews_in(room: &RoomSummer, wanted: &Wanted, outdoors: &[f64], (pressure, air_kg_m3): (f64, f64)) -> Vec<(f64, f64)> {
    let most = |share: f64| humidity_ratio(share * saturation_pa(wanted.room_c), pressure);
    let (saturated, kept) = (most(1.0), wanted.coil_humidity.map(most));
    let air_kg_h = (room.air_m3_h * air_kg_m3).max(1e-3);
    let changed = 1.0 - (-room.air_m3_h / room.volume_m3).exp();
    let mut ratio = outdoors.first().copied().unwrap_or(0.0).min(saturated);
    let by_hour = outdoors.iter().enumerate().map(|(hour, outdoor)| {
        let people_g_h = if room.used(hour) { room.summer.people * wanted.person_g_h } else { 0.0 };
        let rest = outdoor + people_g_h / 1000.0 / air_kg_h;
        // no damper than saturated
        ratio = (ratio + (rest - ratio) * changed).min(saturated);
        let over = kept.map_or(0.0, |k| (ratio - k).max(0.0));
        ratio -= over;
        let dried_kg_h = over * room.volume_m3 * air_kg_m3;
        (dew_point_c(vapour_pa(ratio.max(1e-5), pressure)), dried_kg_h / 3600.0 * EVAPORATION_J_KG)
    });
    by_hour.collect()
}

/// The cooling of a job by the hours of its weather file.
///
/// # Errors
/// Where the job does not ask for cooling, has no weather file's place, or a floor cannot be solved.
pub fn cooling_design(study: &Solved, hours: &[WeatherHour]) -> Result<CoolingDesign, FieldError> {
    let job = &study.job;
    let wanted = job
        .cooling
        .clone()
        .ok_or_else(|| FieldError::new("cooling", "must be there: what rooms may have in summer"))?;
    let weather = job.site.weather.as_ref();
    let weather =
        weather.ok_or_else(|| FieldError::new("site.weather", "must be there: open a weather file at Site"))?;
    let place = Place { latitude_deg: weather.latitude_deg, longitude_deg: weather.longitude_deg };
    let skies: Vec<Sky> =
        hours.iter().enumerate().map(|(k, h)| Sky::at(place, k, h.direct_w_m2, h.diffuse_w_m2, h.cloud)).collect();
    let air_c: Vec<f64> = hours.iter().map(|h| h.air_c).collect();
    let pressure = pressure_pa(job.site.altitude_m);
    let moist = (pressure, density(job.site.altitude_m));
    let ratio = |h: &WeatherHour| {
        let dew = h.dew_point_c.unwrap_or(h.air_c).min(h.air_c);
        humidity_ratio(saturation_pa(dew), pressure)
    };
    let ratios: Vec<f64> = hours.iter().map(ratio).collect();
    let typed_dew = wanted.humidity.map(|share| dew_point_c(share * saturation_pa(wanted.room_c)));

    struct InSummer {
        index: usize,
        cold: Option<Cold>,
        shut: Option<ShutFor>,
        needs: Vec<f64>,
        dews: Vec<(f64, f64)>,
        area_m2: f64,
    }
    let mut rooms: Vec<InSummer> = vec![];
    for index in (0..job.rooms.len()).filter(|i| job.rooms[*i].is_heated()) {
        let summer = RoomSummer::of(study, index, &wanted);
        let needs = summer.needs(&air_c, &skies, &wanted);
        let cold = Cold::of(study, index, &wanted)?;
        let area_m2 = study.water.rooms[index].field_area;
        let dews = dews_in(&summer, &wanted, &ratios, moist);
        rooms.push(InSummer { index, cold, shut: shut(job, index), needs, dews, area_m2 });
    }
    let cools = |r: &InSummer| r.shut.is_none();
    let dew = |r: &InSummer, k: usize| match typed_dew {
        Some(dew) => (dew, 0.0),
        None => r.dews[k],
    };
    // hours in which any cooled room wants cold: there its water must be safe in all rooms that it passes
    let wants: Vec<usize> =
        (0..hours.len()).filter(|k| rooms.iter().any(|r| cools(r) && r.needs[*k] > NOTHING_W)).collect();
    let worst_in = |k: usize| rooms.iter().filter(|r| cools(r)).map(|r| dew(r, k).0).fold(f64::NEG_INFINITY, f64::max);
    let dews: Vec<(usize, f64)> = wants.iter().map(|k| (*k, worst_in(*k))).collect();
    // of hours as damp as each other the one in which most is wanted
    let rank = |(k, dew): (usize, f64)| ((dew * 100.0).round(), rooms.iter().map(|r| r.needs[k]).sum::<f64>());
    let damper = |a: &(usize, f64), b: &(usize, f64)| {
        let (a, b) = (rank(*a), rank(*b));
        a.0.total_cmp(&b.0).then(a.1.total_cmp(&b.1))
    };
    let worst = dews.iter().copied().max_by(damper);
    let dew_point_c = worst.map_or_else(|| typed_dew.unwrap_or(0.0), |w| w.1);
    // no warmer than the room: then it does not cool, and does not harm
    let safe = |dew: f64| (dew + wanted.margin_k).min(wanted.room_c);
    let supply_c = safe(dew_point_c);
    let water = fluid::properties(&job.fluid, COOL_WATER_C)?;
    let takes = |r: &InSummer, supply: f64| {
        let under = (wanted.room_c - supply - wanted.rise_k / 2.0).max(0.0);
        r.cold.as_ref().filter(|_| cools(r)).map_or(0.0, |c| c.takes_w_m2k() * under * r.area_m2)
    };
    let supply_at = |dew: f64| if wanted.follows { safe(dew) } else { supply_c };
    let mut out_rooms = Vec::with_capacity(rooms.len());
    for r in &rooms {
        let peak = most(r.needs.iter().copied());
        let need: f64 = r.needs.iter().sum::<f64>();
        let taken: f64 = dews.iter().map(|(k, d)| r.needs[*k].min(takes(r, supply_at(*d)))).sum();
        let own_dew =
            wants.iter().filter(|k| r.needs[**k] > NOTHING_W).map(|k| dew(r, *k).0).fold(f64::NEG_INFINITY, f64::max);
        let own_dew = if own_dew.is_finite() { own_dew } else { dew_point_c };
        let floor_w = takes(r, supply_c).min(peak.1);
        let under = (wanted.room_c - supply_c - wanted.rise_k / 2.0).max(0.0);
        let cold = r.cold.as_ref().filter(|_| cools(r));
        let surface = cold.map(|c| c.surface(under));
        let flow_l_min = floor_w / (water.specific_heat * water.density * wanted.rise_k) * 60_000.0;
        let id = &job.rooms[r.index].id;
        let own_loops = study.loops.iter().filter(|l| l.room_ids.contains(id));
        out_rooms.push(RoomCooling {
            id: id.clone(),
            shut: r.shut,
            peak_w: peak.1,
            peak_hour: peak.0,
            need_j: need * 3600.0,
            dew_point_c: own_dew,
            floor_stands_c: cold.map(|c| c.water_for(own_dew + wanted.margin_k) - wanted.rise_k / 2.0),
            takes_w_m2k: r.cold.as_ref().map(Cold::takes_w_m2k),
            floor_w,
            surface_c: surface.map(|s| s.0),
            coolest_c: surface.map(|s| s.1),
            share: if need > 0.0 { taken / need } else { 1.0 },
            flow_l_min,
            winter_l_min: own_loops.map(|l| l.flow_l_min / l.room_ids.len().max(1) as f64).sum(),
        });
    }
    let need_at = |k: usize| rooms.iter().map(|r| r.needs[k]).sum::<f64>();
    let floor_at = |k: usize, d: f64| rooms.iter().map(|r| r.needs[k].min(takes(r, supply_at(d)))).sum::<f64>();
    let peak = most((0..hours.len()).map(need_at));
    let need_j = (0..hours.len()).map(need_at).sum::<f64>() * 3600.0;
    let floors_j = dews.iter().map(|(k, d)| floor_at(*k, *d)).sum::<f64>() * 3600.0;
    let left = dews.iter().map(|(k, d)| need_at(*k) - floor_at(*k, *d)).fold(0.0, f64::max);
    let moist_at = |k: usize| rooms.iter().map(|r| dew(r, k).1).sum::<f64>();
    let flow_l_min: f64 = out_rooms.iter().map(|r| r.flow_l_min).sum();
    let first_at = first_at(
        study,
        &rooms.iter().map(|r| (r.index, dews_of(r.needs.as_slice(), |k| dew(r, k).0))).collect::<Vec<_>>(),
    );
    let half_week = WEEK / 2 / 24 * 24;
    let last_begin = hours.len().saturating_sub(WEEK);
    let week_from = worst.map_or(0, |(k, _)| (k / 24 * 24).saturating_sub(half_week).min(last_begin));
    let week = (week_from..(week_from + WEEK).min(hours.len())).map(|k| {
        let d = worst_in(k);
        let d = if d.is_finite() { d } else { 0.0 };
        HumidHour {
            hour: k,
            air_c: air_c[k],
            outdoor_dew_c: hours[k].dew_point_c.unwrap_or(air_c[k]),
            dew_point_c: d,
            supply_c: safe(d),
            need_w: need_at(k),
            floor_w: floor_at(k, d),
        }
    });
    Ok(CoolingDesign {
        supply_c,
        dew_point_c,
        dew_hour: worst.filter(|_| typed_dew.is_none()).map(|w| w.0),
        first_at,
        peak_w: peak.1,
        floor_share: if need_j > 0.0 { floors_j / need_j } else { 1.0 },
        need_j,
        coil_w: left,
        coil_moist_w: wants.iter().map(|k| moist_at(*k)).fold(0.0, f64::max),
        flow_l_min,
        head_pa: head(study, &out_rooms, &water),
        buffer_l: wanted.chiller_least_w.map(|w| {
            let least = (w - out_rooms.iter().map(|r| r.floor_w).fold(f64::INFINITY, f64::min).min(w)).max(0.0);
            LEAST_RUN_S * least / (water.density * water.specific_heat * BUFFER_SWING_K) * 1000.0
        }),
        week: week.collect(),
        sun_from_file: hours.iter().any(|h| h.direct_w_m2.is_some_and(|w| w > 0.0)),
        rooms: out_rooms,
    })
}

/// The first of the greatest, and where it stands.
fn most(of: impl Iterator<Item = f64>) -> (usize, f64) {
    of.enumerate().fold((0, 0.0), |best, (k, w)| if w > best.1 { (k, w) } else { best })
}

fn dews_of(needs: &[f64], dew: impl Fn(usize) -> f64) -> f64 {
    needs.iter().enumerate().filter(|(_, w)| **w > NOTHING_W).map(|(k, _)| dew(k)).fold(f64::NEG_INFINITY, f64::max)
}

/// The manifold in the dampest room: its metal is as cold as the supply.
fn first_at(study: &Solved, dews: &[(usize, f64)]) -> Option<Coldest> {
    let of = |m: &crate::job::Manifold| {
        let room = study.job.rooms.iter().position(|r| r.id == m.room_id)?;
        let dew = dews.iter().find(|d| d.0 == room).map(|d| d.1).filter(|d| d.is_finite());
        let highest = dews.iter().map(|d| d.1).filter(|d| d.is_finite()).fold(f64::NEG_INFINITY, f64::max);
        let dew_point_c = dew.unwrap_or(highest);
        dew_point_c.is_finite().then(|| Coldest { manifold_id: m.id.clone(), room_id: m.room_id.clone(), dew_point_c })
    };
    study.job.manifolds.iter().filter_map(of).max_by(|a, b| a.dew_point_c.total_cmp(&b.dew_point_c))
}

/// Pressure drop of the index loop with the flows of cooling, Pa.
fn head(study: &Solved, rooms: &[RoomCooling], water: &fluid::Properties) -> f64 {
    let of = |l: &crate::loops::report::LoopDesign| {
        let own = rooms.iter().find(|r| l.room_ids.first() == Some(&r.id))?;
        let tube = study.job.tube(&l.tube_id)?;
        let share = if own.winter_l_min > 0.0 { l.flow_l_min / own.winter_l_min } else { 0.0 };
        let kg_s = own.flow_l_min * share / 60_000.0 * water.density;
        Some(flow::flow(kg_s, tube.bore_m(), l.length_m, l.quarter_turns, water).head_pa)
    };
    study.loops.iter().filter_map(of).fold(0.0, f64::max)
}

//! A slab in weather: the section of an area driven step by step, with the snow, water and ice that lie on it.
//!
//! Where it is free of snow the surface gives heat as the load's equation has it, wet or dry. Snow that lies covers it, keeps the wind
//! off, and melts as fast as heat reaches it: [`CONTACT`] watts per square metre and kelvin over 0 °C. Meltwater runs off but for a film;
//! what is left freezes where the surface falls below 0 °C.

use super::load::{length_m, melt_of};
use super::part::{MeltControl, Outdoors};
use crate::error::FieldError;
use crate::floor::assembly;
use crate::floor::heating::floor_parts;
use crate::job::{Job, Melt};
use crate::section::running::{Line, Running, Sides};
use crate::section::{Films, Layer, Section};
use crate::snow::year::snowfall;
use crate::snow::{EVAPORATION_J_KG, FUSION_J_KG, Storm};
use crate::study::solved::Solved;
use crate::survey::hours::WeatherHour;
use serde::{Deserialize, Serialize};

/// Film by which the section is reduced, W/m²K; the surface's own exchange is put in its place at every step.
const REFERENCE_FILM: f64 = 20.0;
/// Heat into lying snow per kelvin of the surface over 0 °C, W/m²K: under the load's equation 0.56 K carry about 140 W/m².
const CONTACT: f64 = 250.0;
/// So much snow, as water, covers the surface wholly, mm; less lies in patches.
const COVERS_MM: f64 = 1.5;
/// Water that stays on a surface that falls toward its drain, and on one that does not, mm.
const FILM_MM: f64 = 0.3;
const PUDDLE_MM: f64 = 2.0;
/// A surface that falls less than this does not drain.
pub(crate) const DRAINS_FROM: f64 = 0.01;
/// Ground that warms with the slab, m, and the heat it holds, J/m³K (ISO 13370).
const SOIL_M: f64 = 0.5;
const SOIL_J_M3K: f64 = 2.0e6;
/// What is left of the ground's resistance below that, m²K/W.
const LEAST_BELOW: f64 = 0.05;
/// Less than this lies nowhere, mm.
pub(crate) const NOTHING_MM: f64 = 0.02;
/// What is left of a melting patch runs off at the end, mm.
const GONE_MM: f64 = 0.005;
/// A sensor's run ends so long after the last flake at the latest, s.
const LONGEST_RUN_ON_S: f64 = 48.0 * 3600.0;
/// An idling controller goes from off to full over so much of the surface's temperature, K.
const IDLING_BAND_K: f64 = 1.0;
/// An area is as free as asked within this share: what falls in a few minutes lies on any of it.
const NEARLY: f64 = 0.1;
/// Surfaces are sought between these, °C.
const SOUGHT_C: [f64; 2] = [-90.0, 120.0];

/// The section of an area with the ground that warms with it, and its films.
fn section_of(study: &Solved, room: usize) -> Result<(Section, Films, f64), FieldError> {
    let job = &study.job;
    let none = || FieldError::new(format!("rooms[{room}].floor"), "has no tube");
    let floor = job.rooms[room].heated_floor().ok_or_else(none)?;
    let parts = floor_parts(job, floor).ok_or_else(none)?;
    let state = study.water.heating[room].floor.as_ref().ok_or_else(none)?;
    let mut section = assembly::section(&parts, &|id: &str| job.material(id))?;
    let duty = state.core().duty();
    let soil_w_mk = job.envelope.ground.soil_w_mk;
    let mut below_m2k_w = duty.below_m2k_w;
    if below_m2k_w > SOIL_M / soil_w_mk + LEAST_BELOW {
        below_m2k_w -= SOIL_M / soil_w_mk;
        let soil = Layer { thickness_m: SOIL_M, conductivity_w_mk: soil_w_mk, heat_j_m3k: SOIL_J_M3K, rib: None };
        section.layers.push(soil);
    }
    let down = (1.0 / below_m2k_w.max(LEAST_BELOW)).clamp(1e-3, 1e6);
    Ok((section, Films { up: REFERENCE_FILM, down, water: duty.water_film_w_m2k }, duty.below_c))
}

/// An area's slab, and how it is heated.
pub(crate) struct Slab {
    running: Running,
    ground_c: f64,
    /// Mean of the water at its design, °C.
    water_c: f64,
    /// Most heat that it gets, W/m² of its heated surface.
    pub power_w_m2: f64,
    /// Heat of all areas, W: what an area gets of less is its share.
    whole_w: f64,
    pub melt: Melt,
    outdoors: Outdoors,
    length_m: f64,
    altitude_m: f64,
    step_s: f64,
}

impl Slab {
    /// # Errors
    /// Where the area has no tube, or the job has a roof.
    pub fn of(study: &Solved, room: usize, step_s: f64) -> Result<Slab, FieldError> {
        let job = &study.job;
        let no_area = || FieldError::new("outdoors", "must be there: this is a job with a roof");
        let outdoors = job.outdoors.clone().ok_or_else(no_area)?;
        let (section, films, ground_c) = section_of(study, room)?;
        let start = Sides { up: 0.0, down: ground_c, water: 0.0 };
        let running = Running::kept(&section, &films, step_s, start)?;
        let (water, design) = (&study.water.rooms[room], &study.rooms[room]);
        let area_m2 = water.field_area.max(0.1);
        let state = &study.water.heating[room].floor;
        let up = state.as_ref().map_or(0.0, |f| f.flux_up(water.floor_excess_k));
        Ok(Slab {
            running,
            ground_c,
            water_c: job.rooms[room].room_c + water.floor_excess_k,
            power_w_m2: up + design.down_w / area_m2,
            whole_w: study.circuits.iter().map(|c| c.heat_w).sum(),
            melt: melt_of(job, room),
            outdoors,
            length_m: length_m(job, room),
            altitude_m: job.site.altitude_m,
            step_s,
        })
    }

    /// An hour of weather on it.
    pub fn hour(&self, storm: &Storm) -> Hour {
        let wet = Storm { free_area_ratio: 1.0, snowfall_mm_h: 0.0, length_m: self.length_m, ..storm.clone() };
        // what falls keeps the sky as warm as the air
        let wet = if storm.snowfall_mm_h > 0.0 { Storm { sky_c: Some(storm.air_c), ..wet } } else { wet };
        let line = |of: &dyn Fn(f64) -> f64| {
            let (at_zero, at_two) = (of(0.0), of(2.0));
            [at_zero, (at_two - at_zero) / 2.0]
        };
        let evaporation = line(&|c| wet.at_surface(c).evaporation);
        let dry = line(&|c| {
            let l = wet.at_surface(c);
            l.convection + l.radiation
        });
        let wanted = storm.at_surface(crate::snow::FILM_C);
        let falls = storm.snowfall_mm_h / 3600.0;
        let house = self.outdoors.house;
        let spare = house
            .map_or(f64::INFINITY, |h| (h.source_w - h.w_per_k * (h.no_heat_above_c - storm.air_c).max(0.0)).max(0.0));
        let share = if self.whole_w > 0.0 { (spare / self.whole_w).min(1.0) } else { 1.0 };
        Hour {
            air_c: storm.air_c,
            falls_mm_s: falls,
            warms_j_kg: if falls > 0.0 { wanted.sensible / falls } else { 0.0 },
            dry,
            evaporation,
            power_w_m2: self.power_w_m2 * share,
        }
    }

    /// The storm of the job at its air, without snow or with it.
    pub fn typed(&self, snowfall_mm_h: f64, cloud: f64) -> Storm {
        let s = self.outdoors.storm;
        Storm {
            air_c: s.air_c,
            wind_m_s: s.wind_m_s,
            humidity: Some(s.humidity),
            dew_point_c: None,
            snowfall_mm_h,
            sky_c: None,
            cloud: Some(cloud),
            free_area_ratio: self.melt.free_area_ratio,
            length_m: self.length_m,
            altitude_m: self.altitude_m,
        }
    }

    /// The hours of a weather file as storms on it.
    ///
    /// # Errors
    /// Names what the file lacks.
    pub fn weather(&self, hours: &[WeatherHour]) -> Result<Vec<Storm>, FieldError> {
        let (falls, _) = snowfall(hours, self.outdoors.snow_mm)
            .map_err(|e| FieldError::new(format!("outdoors.{}", e.field), e.reason))?;
        let of = |(h, falls): (&WeatherHour, f64)| Storm {
            air_c: h.air_c.clamp(-50.0, 40.0),
            wind_m_s: h.wind_m_s.unwrap_or(self.outdoors.storm.wind_m_s),
            humidity: h.dew_point_c.is_none().then_some(1.0),
            dew_point_c: h.dew_point_c.map(|d| d.clamp(-80.0, h.air_c)),
            snowfall_mm_h: falls,
            cloud: h.cloud,
            ..self.typed(0.0, 1.0)
        };
        Ok(hours.iter().zip(falls).map(of).collect())
    }

    /// Whether what lies on it in that step is what is asked of it.
    pub fn does(&self, step: &Step) -> bool {
        let free = step.free >= self.melt.free_area_ratio - NEARLY && step.ice_mm <= NOTHING_MM;
        free || step.snow_mm + step.ice_mm <= self.melt.may_lie_mm
    }

    /// Runs it through weather that begins in its steady state, unheated or idling.
    pub fn run(&self, hours: &[Hour], control: MeltControl, idles_at_first: bool, mut each: impl FnMut(&Step)) {
        let Some(first) = hours.first() else { return };
        let mut s = State::begin(self, first, idles_at_first);
        let steps = (3600.0 / self.step_s).round().max(1.0) as usize;
        let mut plan = Switch::new(control, &self.outdoors);
        for (h, hour) in hours.iter().enumerate() {
            for k in 0..steps {
                let time_s = h as f64 * 3600.0 + k as f64 * self.step_s;
                let on = plan.on(time_s, hour, &s);
                let step = s.step(self, hour, on, time_s + self.step_s);
                each(&step);
            }
        }
    }
}

/// An hour of weather as a slab meets it.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Hour {
    pub air_c: f64,
    /// As water, mm/s.
    pub falls_mm_s: f64,
    /// To warm a kilogram of it to where it melts, and its water, J.
    warms_j_kg: f64,
    /// Heat of the free surface by wind and radiation, and by evaporation where it is wet: at 0 °C, and per kelvin, W/m².
    dry: [f64; 2],
    evaporation: [f64; 2],
    /// What the source has for it, W/m².
    power_w_m2: f64,
}

impl Hour {
    /// The sensor has switched on, and next to nothing falls.
    pub fn about_to_snow(self) -> Hour {
        Hour { falls_mm_s: f64::MIN_POSITIVE, ..self }
    }
}

/// How it is switched.
struct Switch<'a> {
    control: MeltControl,
    rules: &'a Outdoors,
    first_flake_s: Option<f64>,
    last_flake_s: Option<f64>,
    running: bool,
}

/// What is asked of the heating in a step.
#[derive(Debug, Clone, Copy, PartialEq)]
enum On {
    Off,
    /// No warmer than that, °C.
    Idling(f64),
    Full,
}

impl<'a> Switch<'a> {
    fn new(control: MeltControl, rules: &'a Outdoors) -> Switch<'a> {
        Switch { control, rules, first_flake_s: None, last_flake_s: None, running: false }
    }

    fn on(&mut self, time_s: f64, hour: &Hour, s: &State) -> On {
        let snows = hour.falls_mm_s > 0.0;
        if snows {
            // a new storm begins where the last one's snow is gone
            if self.first_flake_s.is_none() {
                self.first_flake_s = Some(time_s);
            }
            self.last_flake_s = Some(time_s);
        }
        let since = |t: Option<f64>| t.map_or(f64::INFINITY, |t| time_s - t);
        let full = match self.control {
            MeltControl::ByHand => {
                let (late, timer) = (self.rules.late_h * 3600.0, self.rules.timer_h * 3600.0);
                let at = since(self.first_flake_s);
                if at >= late + timer && at.is_finite() {
                    // whoever sees snow again switches it on again
                    self.first_flake_s = None;
                }
                at.is_finite() && at >= late && at < late + timer
            }
            MeltControl::Idle | MeltControl::Sensor => {
                let lies = s.snow_mm > NOTHING_MM || s.ice_mm > NOTHING_MM;
                let after = since(self.last_flake_s);
                let on = snows
                    || after < self.rules.runs_on_h * 3600.0
                    || (lies && self.running && after < LONGEST_RUN_ON_S);
                if !on {
                    self.first_flake_s = None;
                }
                on
            }
        };
        self.running = full;
        match self.control {
            _ if full => On::Full,
            MeltControl::Idle if hour.air_c < self.rules.idle_below_c => On::Idling(self.rules.idle_surface_c),
            _ => On::Off,
        }
    }
}

/// The slab and what lies on it.
struct State {
    running: Running,
    snow_mm: f64,
    water_mm: f64,
    ice_mm: f64,
    surface_c: f64,
    air_like_c: f64,
    frozen_mm: f64,
}

/// A step as it ended.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Step {
    /// From the beginning, s.
    pub time_s: f64,
    /// Air, °C.
    pub air_c: f64,
    /// What falls, as water, mm/h.
    pub snowfall_mm_h: f64,
    /// Snow that lies, as water, mm.
    pub snow_mm: f64,
    /// Ice that lies, mm.
    pub ice_mm: f64,
    /// Ice that has formed since the beginning, mm.
    pub frozen_mm: f64,
    /// Share of the surface that is free.
    pub free: f64,
    /// Mean of the surface, °C.
    pub surface_c: f64,
    /// Its line midway between two tubes, °C.
    pub midway_c: f64,
    /// Its line over the tube, °C.
    pub over_tube_c: f64,
    /// Mean of the water in the tube, °C.
    pub water_c: f64,
    /// Heat out of the water, W/m².
    pub heat_w_m2: f64,
    /// Heat to the ground, W/m².
    pub down_w_m2: f64,
    /// It is heated.
    pub heated: bool,
}

impl State {
    fn begin(slab: &Slab, first: &Hour, idles: bool) -> State {
        let mut running = slab.running.clone();
        let sides = Sides { up: first.air_c, down: slab.ground_c, water: first.air_c };
        running.settle(sides);
        // without heat the water is as warm as the slab: found where none leaves it
        let at_rest = |surface_c: f64| {
            let mut water_c = first.air_c;
            let mut r = running.clone();
            for _ in 0..60 {
                r.settle(Sides { up: surface_c, down: slab.ground_c, water: water_c });
                let q = r.expected(&Sides { up: surface_c, down: slab.ground_c, water: water_c }).water_w_m2;
                if q.abs() < 1e-6 {
                    break;
                }
                water_c -= q / 10.0;
            }
            (r, water_c)
        };
        let dry = |c: f64| first.dry[0] + first.dry[1] * c;
        let (mut air_like, mut surface_c) = (first.air_c, first.air_c);
        for _ in 0..8 {
            let (r, water_c) = at_rest(air_like);
            let now = r.expected(&Sides { up: air_like, down: slab.ground_c, water: water_c });
            surface_c = now.surface_c;
            // what is above the reference film gives the weather's own heat
            air_like = surface_c - dry(surface_c) / REFERENCE_FILM;
        }
        running = at_rest(air_like).0;
        if idles && first.air_c < slab.outdoors.idle_below_c {
            let wanted = slab.outdoors.idle_surface_c;
            let up = dry(wanted).max(0.0);
            let air = wanted - up / REFERENCE_FILM;
            // the water that gives it in the steady state
            let heat = |water: f64| {
                let mut r = running.clone();
                let sides = Sides { up: air, down: slab.ground_c, water };
                r.settle(sides);
                r.expected(&sides).up_w_m2
            };
            let (cool, warm) = (heat(0.0), heat(20.0));
            let water = if (warm - cool).abs() > 1e-9 { 20.0 * (up - cool) / (warm - cool) } else { 0.0 };
            running.settle(Sides { up: air, down: slab.ground_c, water });
            (surface_c, air_like) = (wanted, air);
        }
        State { running, snow_mm: 0.0, water_mm: 0.0, ice_mm: 0.0, surface_c, air_like_c: air_like, frozen_mm: 0.0 }
    }

    fn step(&mut self, slab: &Slab, hour: &Hour, on: On, time_s: f64) -> Step {
        let dt = slab.step_s;
        self.snow_mm += hour.falls_mm_s * dt;
        let line = self.running.line();
        let mut sides = Sides { up: self.air_like_c, down: slab.ground_c, water: 0.0 };
        let at_rest_c = line.water_for(&sides, 0.0);
        let heated_c = match on {
            On::Off => at_rest_c,
            On::Full | On::Idling(_) => {
                let shocks = self.surface_c + slab.outdoors.shock_k;
                slab.water_c.min(shocks).min(line.water_for(&sides, hour.power_w_m2)).max(at_rest_c)
            }
        };
        sides.water = heated_c;
        if let On::Idling(wanted_c) = on {
            let short = (wanted_c - self.surface_c) / IDLING_BAND_K + 0.5;
            sides.water = at_rest_c + (heated_c - at_rest_c) * short.clamp(0.0, 1.0);
        }
        let (surface_c, met) = self.meets(slab, hour, &line, &sides);
        sides.up = line.air_for(&sides, surface_c);
        let now = self.running.step(&sides);
        self.air_like_c = sides.up;
        self.surface_c = surface_c;
        // snow first, then ice
        let melted = met.melted_mm.min(self.snow_mm + self.ice_mm);
        let of_snow = melted.min(self.snow_mm);
        self.snow_mm -= of_snow;
        if self.snow_mm < GONE_MM {
            self.snow_mm = 0.0;
        }
        self.ice_mm = (self.ice_mm - (melted - of_snow)).max(0.0) + met.frozen_mm;
        self.frozen_mm += met.frozen_mm;
        let stays = if slab.melt.slope < DRAINS_FROM { PUDDLE_MM } else { FILM_MM };
        self.water_mm = (self.water_mm + melted - met.frozen_mm - met.dried_mm).clamp(0.0, stays);
        Step {
            time_s,
            air_c: hour.air_c,
            snowfall_mm_h: hour.falls_mm_s * 3600.0,
            snow_mm: self.snow_mm,
            ice_mm: self.ice_mm,
            frozen_mm: self.frozen_mm,
            free: 1.0 - covered(self.snow_mm),
            surface_c,
            midway_c: now.midway_c,
            over_tube_c: now.over_tube_c,
            water_c: sides.water,
            heat_w_m2: if on == On::Off { 0.0 } else { now.water_w_m2.max(0.0) },
            down_w_m2: now.down_w_m2,
            heated: on != On::Off && sides.water > at_rest_c + 1e-6,
        }
    }

    /// The surface at which what comes from below is what weather, snow and ice take: with what they do in the step.
    fn meets(&self, slab: &Slab, hour: &Hour, line: &Line, sides: &Sides) -> (f64, Met) {
        let [at_zero, per_k] = line.over_surface(sides);
        let takes = |c: f64| self.takes(hour, c, slab.step_s);
        let (mut low, mut high) = (SOUGHT_C[0], SOUGHT_C[1]);
        // what is taken grows with the surface, what comes falls: one crossing
        for _ in 0..40 {
            let middle = f64::midpoint(low, high);
            if takes(middle).0 > at_zero + per_k * middle { high = middle } else { low = middle }
        }
        let surface_c = f64::midpoint(low, high);
        (surface_c, takes(surface_c).1)
    }

    /// Heat that the surface of that temperature gives, W/m², and what it does in a step.
    fn takes(&self, hour: &Hour, surface_c: f64, dt: f64) -> (f64, Met) {
        let covered = covered(self.snow_mm);
        let wet = self.water_mm > NOTHING_MM || self.snow_mm > NOTHING_MM;
        let mut heat = (1.0 - covered) * (hour.dry[0] + hour.dry[1] * surface_c);
        let mut met = Met::default();
        if wet && surface_c > 0.0 {
            let evaporates = (1.0 - covered) * (hour.evaporation[0] + hour.evaporation[1] * surface_c);
            heat += evaporates;
            met.dried_mm = (evaporates / EVAPORATION_J_KG * dt).max(0.0).min(self.water_mm);
        }
        let lies = self.snow_mm + self.ice_mm;
        let melts_j_kg = FUSION_J_KG + hour.warms_j_kg;
        if surface_c > 0.0 && lies > 0.0 {
            let share = covered.max((self.ice_mm / COVERS_MM).min(1.0));
            let most = lies * melts_j_kg / dt;
            let into = (CONTACT * share * surface_c).min(most);
            heat += into;
            met.melted_mm = into * dt / melts_j_kg;
        } else if surface_c < 0.0 && self.water_mm > 0.0 {
            let most = self.water_mm * FUSION_J_KG / dt;
            let out = (CONTACT * -surface_c).min(most);
            heat -= out;
            met.frozen_mm = out * dt / FUSION_J_KG;
        }
        (heat, met)
    }
}

fn covered(snow_mm: f64) -> f64 {
    (snow_mm / COVERS_MM).clamp(0.0, 1.0)
}

/// What a surface does in a step, mm.
#[derive(Debug, Clone, Copy, Default)]
struct Met {
    melted_mm: f64,
    frozen_mm: f64,
    dried_mm: f64,
}

/// The first area with tube, or the one of that id.
///
/// # Errors
/// Where there is none.
pub(crate) fn area_of(job: &Job, id: Option<&str>) -> Result<usize, FieldError> {
    let found = match id {
        Some(id) => job.rooms.iter().position(|r| r.id == id),
        None => job.rooms.iter().position(|r| r.heated_floor().is_some()),
    };
    found.ok_or_else(|| match id {
        Some(id) => FieldError::new("area_id", format!("names no area: \"{id}\"")),
        None => FieldError::new("rooms", "has no area with tube"),
    })
}

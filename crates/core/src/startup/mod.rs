//! Start-up: the heating filled, purged, its flows set and the floor heated up, from the study of the job and the records of the
//! site. `docs/start-up.md` says how each figure comes about.
//!
//! ```
//! use fuoco_core::samples::{box_room, job_of, manifold, studied};
//! use fuoco_core::startup::start_up;
//! let mut job = job_of(vec![box_room("a", 0.0, 0.0, 7.0, 5.0)]);
//! job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
//! let start = start_up(&*studied(&job)?, &[])?;
//! assert!(start.steps.iter().all(|s| !s.done));
//! assert_eq!(start.manifolds[0].ports.len(), start.purge.len());
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

mod balance;
pub mod flows;
pub mod heat_up;
mod steps;

use crate::error::FieldError;
use crate::flow::GRAVITY;
use crate::fluid::{self, Properties};
use crate::loops::report::{LoopDesign, ManifoldDesign};
use crate::records::{Entry, Fact, Filled, HeatUpRead, standing};
use crate::study::Study;
use crate::water::part::{Fluid, FluidKind};
use crate::water::pipework::mains_pa;
pub(crate) use balance::{Balance, Reads};
use balance::{Lifts, circuit_of, manifold_set};
use chrono::{DateTime, Utc};
use heat_up::{HeatUpDay, Mass, programme};
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;
use steps::steps;

/// Water from the main is about so warm, °C: flows are set before the floor is heated.
pub(crate) const COLD_C: f64 = 15.0;
/// Air is carried down and along at this velocity, m/s.
const PURGE_M_S: f64 = 0.4;
/// Contents that have to go through for a loop to be free of air.
const PURGE_TIMES: f64 = 3.0;
/// A meter that shows within this share of its figure is set.
pub const SET_WITHIN: f64 = 0.05;
/// A freezing point within this of the wanted one is right, K.
const FREEZING_K: f64 = 1.5;
/// A supply within this of its programme is right, K.
const PROGRAMME_K: f64 = 3.0;

/// The start-up of a job.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StartUpDesign {
    /// What is done one after the other.
    pub steps: Vec<StartStep>,
    /// What it is filled with.
    pub filling: Filling,
    /// Every loop as it is purged.
    pub purge: Vec<PurgeDesign>,
    /// Every manifold as its flows are set.
    pub manifolds: Vec<SettingDesign>,
    /// The heat-up of every build-up that holds tube.
    pub heat_ups: Vec<HeatUpDesign>,
}

/// A step of the start-up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StartStep {
    /// Its line in the records: ticked by this.
    pub item: String,
    /// What is done.
    pub name: String,
    /// How, with the figures of this job.
    pub text: String,
    /// Somebody said that it is done.
    pub done: bool,
    /// Who.
    pub who: String,
    /// When.
    pub at: Option<String>,
}

/// What the heating is filled with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Filling {
    /// Content of all, plant included where the job has one, L.
    pub content_l: f64,
    /// Pressure cold, Pa over the air's; none without a plant.
    pub fill_pa: Option<f64>,
    /// Glycol as it is poured, L; 0 for water.
    pub glycol_l: f64,
    /// At which the wanted mix freezes, °C.
    pub freezing_c: f64,
    /// As it was last measured, °C.
    pub measured_c: Option<f64>,
    /// To be drained, L, and replaced by glycol or water; none where it is right, or was not measured.
    pub correct: Option<MixCorrection>,
}

/// A mix put right.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MixCorrection {
    /// To be drained, L.
    pub drain_l: f64,
    /// Glycol to be filled in its place, L.
    pub add_glycol_l: f64,
    /// Water to be filled in its place, L.
    pub add_water_l: f64,
}

/// A loop as it is purged.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PurgeDesign {
    /// The loop.
    pub loop_id: String,
    /// As it is called.
    pub tag: String,
    /// Flow that carries air along, L/min.
    pub flow_l_min: f64,
    /// What that takes, cold, all other ports shut, Pa.
    pub head_pa: f64,
    /// Time for three contents at that flow, s.
    pub seconds: f64,
    /// What the circuit's own pump gives at that flow, Pa.
    pub pump_pa: f64,
    /// Whether it can.
    pub own_pump: bool,
}

/// A manifold as its flows are set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SettingDesign {
    /// The manifold.
    pub manifold_id: String,
    /// Its letter.
    pub letter: String,
    /// The pass that comes next, from 1; the figures are those of this pass.
    pub pass: u8,
    /// Every meter was read after the last pass, and shows its figure within a twentieth.
    pub settled: bool,
    /// Its ports in the order in which they are set.
    pub ports: Vec<SetPort>,
    /// What the readings say beside that.
    pub remarks: Vec<String>,
}

/// A port as its flow is set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SetPort {
    /// The loop.
    pub loop_id: String,
    /// As it is called.
    pub tag: String,
    /// The rooms it heats, by name.
    pub rooms: Vec<String>,
    /// What its meter shall show when it is set, the others as they stand then, L/min.
    pub shows_l_min: f64,
    /// What it shows when all are set, the water still cold, L/min.
    pub ends_l_min: f64,
    /// The design's, warm, L/min.
    pub design_l_min: f64,
    /// Turns open by the valve's table, where there is one.
    pub turns: Option<f64>,
    /// It stays wide open.
    pub wide_open: bool,
    /// What it showed before anything was set, L/min.
    pub found_l_min: Option<f64>,
    /// What it showed after the last pass, L/min.
    pub left_l_min: Option<f64>,
    /// That against its figure, as share.
    pub off: Option<f64>,
    /// The likely reason where it is off.
    pub why: String,
}

/// The heat-up of a build-up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HeatUpDesign {
    /// The build-up.
    pub build_up_id: String,
    /// Its name.
    pub name: String,
    /// What is warmed.
    pub mass: Mass,
    /// Days to wait after the pour.
    pub wait_days: u32,
    /// Rooms that have it, by name.
    pub rooms: Vec<String>,
    /// Day by day.
    pub days: Vec<HeatUpDay>,
    /// What was read, in order.
    pub readings: Vec<HeatUpReading>,
    /// The day of the programme of the last reading, from 1.
    pub day: Option<u32>,
    /// It is through: the last day was read.
    pub done: bool,
}

/// A reading of the heat-up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HeatUpReading {
    /// When, UTC, ISO 8601.
    pub at: String,
    /// Who read it.
    pub who: String,
    /// The day of the programme, from 1; the day of the first reading is the first.
    pub day: u32,
    /// Supply, °C.
    pub supply_c: f64,
    /// What the programme has that day, °C; none after its end.
    pub wanted_c: Option<f64>,
    /// It is farther from that than it should be.
    pub off: bool,
    /// Moisture, % by mass.
    pub moisture_percent: Option<f64>,
}

/// The start-up of a job by its records.
///
/// # Errors
/// Where the job's fluid has no properties when cold.
pub fn start_up(study: &Study, entries: &[Entry]) -> Result<StartUpDesign, FieldError> {
    let standing = standing(entries);
    let filled: Vec<&Filled> = standing
        .iter()
        .filter_map(|e| match &e.record.fact {
            Fact::Filled(f) => Some(f),
            _ => None,
        })
        .collect();
    let water_c = filled.iter().rev().find_map(|f| f.water_c).unwrap_or(COLD_C);
    let water =
        fluid::properties(&study.job.fluid, water_c).or_else(|_| fluid::properties(&study.job.fluid, COLD_C))?;
    let filling = filling(study, &filled);
    let purge: Vec<PurgeDesign> = runs(study).map(|l| purge(study, l, &water)).collect();
    let used = |m: &&ManifoldDesign| runs(study).any(|l| l.manifold_id == m.id);
    let manifolds: Vec<SettingDesign> =
        study.manifolds.iter().filter(used).map(|m| manifold_set(study, m, &standing, water)).collect();
    let heat_ups = heat_ups(study, &standing);
    let steps = steps(study, &standing, &filling, &purge);
    Ok(StartUpDesign { steps, filling, purge, manifolds, heat_ups })
}

fn runs(study: &Study) -> impl Iterator<Item = &LoopDesign> {
    study.loops.iter().filter(|l| l.flow_l_min > 0.0)
}

fn bore_m(study: &Study, l: &LoopDesign) -> f64 {
    study.job.tube(&l.tube_id).map_or(0.012, crate::library::Tube::bore_m)
}

fn content_l(study: &Study, l: &LoopDesign) -> f64 {
    PI / 4.0 * bore_m(study, l).powi(2) * l.length_m * 1000.0
}

fn filling(study: &Study, filled: &[&Filled]) -> Filling {
    let fluid = &study.job.fluid;
    let vessel = study.plant.as_ref().map(|p| &p.vessel);
    let content = vessel.map_or_else(|| study.loops.iter().map(|l| content_l(study, l)).sum(), |v| v.content_l);
    let wanted = fluid::volume_fraction(fluid);
    let measured_c = filled.iter().rev().find_map(|f| f.freezing_c);
    let freezing_c = fluid::freezing_c(fluid);
    let correct = measured_c.filter(|c| fluid.kind != FluidKind::Water && (c - freezing_c).abs() > FREEZING_K);
    let correct = correct.map(|c| {
        let now = Fluid { mass_fraction: fluid::mass_fraction_for(fluid.kind, c), ..fluid.clone() };
        correct_mix(content, fluid::volume_fraction(&now), wanted)
    });
    let fill_pa = vessel.map(|v| v.fill_pa);
    Filling { content_l: content, fill_pa, glycol_l: content * wanted, freezing_c, measured_c, correct }
}

/// What is drained of a content (L) and filled in its place so that shares of glycol by volume come from `now` to `wanted`.
///
/// ```
/// use fuoco_core::startup::correct_mix;
/// // 100 L of a fifth: to a third, 16.7 L of it make way for glycol
/// let c = correct_mix(100.0, 0.2, 1.0 / 3.0);
/// assert!((c.drain_l - 16.67).abs() < 0.01 && c.add_glycol_l == c.drain_l);
/// assert!(((0.2 * (100.0 - c.drain_l) + c.add_glycol_l) / 100.0 - 1.0 / 3.0).abs() < 1e-12);
/// assert_eq!(correct_mix(100.0, 0.4, 0.2).add_water_l, 50.0);
/// ```
pub fn correct_mix(content_l: f64, now: f64, wanted: f64) -> MixCorrection {
    if wanted > now {
        let drain_l = content_l * (wanted - now) / (1.0 - now).max(1e-9);
        MixCorrection { drain_l, add_glycol_l: drain_l, add_water_l: 0.0 }
    } else {
        let drain_l = content_l * (now - wanted) / now.max(1e-9);
        MixCorrection { drain_l, add_glycol_l: 0.0, add_water_l: drain_l }
    }
}

fn purge(study: &Study, l: &LoopDesign, water: &Properties) -> PurgeDesign {
    let bore = bore_m(study, l);
    let m3_s = PURGE_M_S * PI / 4.0 * bore * bore;
    let flow_l_min = m3_s * 60_000.0;
    let head_pa = crate::flow::flow(m3_s * water.density, bore, l.length_m, l.quarter_turns, water).head_pa;
    let lifts = Lifts::of(study, circuit_of(study, &l.manifold_id), water);
    // purged at full speed, whatever it is set to
    let full = lifts.pump.head_m(flow_l_min) * water.density * GRAVITY - mains_pa(&lifts.feed, flow_l_min, water);
    PurgeDesign {
        loop_id: l.id.clone(),
        tag: l.tag.clone(),
        flow_l_min,
        head_pa,
        seconds: PURGE_TIMES * content_l(study, l) / flow_l_min * 60.0,
        pump_pa: full.max(0.0),
        own_pump: full >= head_pa,
    }
}

fn heat_ups(study: &Study, standing: &[&Entry]) -> Vec<HeatUpDesign> {
    let job = &study.job;
    let mut ids: Vec<&str> = vec![];
    let heated = || study.rooms.iter().enumerate().filter(|(_, d)| d.floor.is_some());
    for (r, _) in heated() {
        if let Some(floor) = job.rooms[r].heated_floor()
            && !ids.contains(&floor.build_up_id.as_str())
        {
            ids.push(&floor.build_up_id);
        }
    }
    let of = |id: &&str| {
        let build_up = job.build_up(id)?;
        let own = || heated().filter(|(r, _)| job.rooms[*r].heated_floor().is_some_and(|f| f.build_up_id == **id));
        let supply = own().filter_map(|(r, _)| study.water.supply_of(r)).fold(0.0, f64::max);
        if supply <= 0.0 {
            return None;
        }
        let material = build_up.layers.get(build_up.tube_layer).map_or("", |l| l.material_id.as_str());
        let mass = Mass::of_material(material);
        let days = programme(mass, supply.min(build_up.supply_limit_c));
        let read: Vec<(&Entry, &HeatUpRead)> = standing
            .iter()
            .filter_map(|e| match &e.record.fact {
                Fact::HeatUpRead(h) if h.build_up_id == **id => Some((*e, h)),
                _ => None,
            })
            .collect();
        let began: Option<DateTime<Utc>> = read.first().map(|(e, _)| e.written());
        let reading = |(e, h): &(&Entry, &HeatUpRead)| {
            let day = began.map_or(0, |b| (e.written() - b).num_days().max(0)) as u32 + 1;
            let wanted_c = days.get(day as usize - 1).map(|d| d.supply_c);
            HeatUpReading {
                at: e.record.at.clone(),
                who: e.who.clone(),
                day,
                supply_c: h.supply_c,
                wanted_c,
                off: wanted_c.is_some_and(|w| (h.supply_c - w).abs() > PROGRAMME_K),
                moisture_percent: h.moisture_percent,
            }
        };
        let readings: Vec<HeatUpReading> = read.iter().map(reading).collect();
        let day = readings.last().map(|r| r.day);
        Some(HeatUpDesign {
            build_up_id: build_up.id.clone(),
            name: build_up.name.clone(),
            mass,
            wait_days: mass.wait_days(),
            rooms: own().map(|(_, d)| d.name.clone()).collect(),
            done: day.is_some_and(|d| d as usize >= days.len()),
            days,
            readings,
            day,
        })
    };
    ids.iter().filter_map(of).collect()
}

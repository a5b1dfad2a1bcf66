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

pub mod flows;
pub mod heat_up;

use crate::error::FieldError;
use crate::flow::GRAVITY;
use crate::fluid::{self, Properties};
use crate::loops::report::{LoopDesign, ManifoldDesign};
use crate::records::{Entry, Fact, Filled, HeatUpRead, standing};
use crate::study::Study;
use crate::units::{Quantity as Q, Units};
use crate::water::part::{Feed, Fluid, FluidKind, PumpChoice, PumpControl};
use crate::water::pipework::{feed_of, floor_duty, mains_pa};
use crate::water::pumps::{ChosenPump, choose};
use crate::water::valves::kv_for;
use chrono::{DateTime, Utc};
use flows::{Bars, Port};
use heat_up::{HeatUpDay, Mass, programme};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::f64::consts::PI;

/// Water from the main is about so warm, °C: flows are set before the floor is heated.
const COLD_C: f64 = 15.0;
/// Air is carried down and along at this velocity, m/s.
const PURGE_M_S: f64 = 0.4;
/// Contents that have to go through for a loop to be free of air.
const PURGE_TIMES: f64 = 3.0;
/// A meter that shows within this share of its figure is set.
pub const SET_WITHIN: f64 = 0.05;
/// Below this share of its figure no water is worth the name.
const STANDS_SHARE: f64 = 0.15;
/// Loops that are off alike, as share of their figure: by so much on the mean, and by no more around it.
const ALIKE_OFF: f64 = 0.07;
const ALIKE_AROUND: f64 = 0.06;
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

fn circuit_of(study: &Study, manifold_id: &str) -> usize {
    study.circuits.iter().position(|c| c.manifold_ids.iter().any(|m| m == manifold_id)).unwrap_or(0)
}

/// A circuit's pump with what it is set to.
struct Lifts {
    feed: Feed,
    choice: PumpChoice,
    pump: ChosenPump,
    held_pa: f64,
    design_l_min: f64,
    density: f64,
}

impl Lifts {
    fn of(study: &Study, circuit: usize, water: &Properties) -> Lifts {
        let (feed, duty) = (feed_of(&study.job, circuit), floor_duty(study, circuit, water));
        let choice = feed.pump.clone();
        let pump = choose(&study.job, &choice, duty.flow_l_min, duty.head_pa / (water.density * GRAVITY));
        let held_pa = choice.head_pa.unwrap_or(duty.head_pa);
        Lifts { feed, choice, pump, held_pa, design_l_min: duty.flow_l_min, density: water.density }
    }

    /// At a flow, Pa. One that keeps a temperature difference is set to one speed while flows are set.
    fn pa(&self, flow_l_min: f64) -> f64 {
        let speed = self.choice.speed.unwrap_or(1.0);
        let full = self.pump.head_m(flow_l_min / speed) * speed * speed * self.density * GRAVITY;
        match self.choice.control {
            PumpControl::FixedSpeed | PumpControl::ConstantDifference => full,
            PumpControl::ConstantPressure => self.held_pa.min(full),
            PumpControl::ProportionalPressure => {
                let share = flow_l_min / self.design_l_min.max(1e-9);
                (self.held_pa * 0.5 * (1.0 + share.min(1.0))).min(full)
            }
        }
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

fn manifold_set(study: &Study, m: &ManifoldDesign, standing: &[&Entry], water: Properties) -> SettingDesign {
    let circuit = circuit_of(study, &m.id);
    let (lifts, loops): (Lifts, Vec<&LoopDesign>) =
        (Lifts::of(study, circuit, &water), runs(study).filter(|l| l.manifold_id == m.id).collect());
    let others = (study.circuits[circuit].flow_l_min - m.flow_l_min).max(0.0);
    // what the circuit has over is closed by the manifold's own balancing valve
    let spare = lifts.held_pa - m.head_needed_pa - mains_pa(&lifts.feed, m.flow_l_min, &water);
    let own_valve = kv_for(m.flow_l_min, spare, water.density);
    let head_pa = |q: f64| {
        let valve = own_valve.map_or(0.0, |kv| (q * 0.06 / kv).powi(2) * 1e5 * water.density / 1000.0);
        lifts.pa(q + others) - mains_pa(&lifts.feed, q, &water) - valve
    };
    let ports: Vec<Port> = loops
        .iter()
        .map(|l| Port {
            length_m: l.length_m,
            bore_m: bore_m(study, l),
            quarter_turns: l.quarter_turns,
            target_l_min: l.flow_l_min,
        })
        .collect();
    let bars = Bars { ports: &ports, water, head_pa: &head_pa };
    let mut reads: BTreeMap<(u8, &str), f64> = BTreeMap::new();
    for e in standing {
        if let Fact::MeterRead(r) = &e.record.fact {
            reads.insert((r.pass, &r.loop_id), r.flow_l_min);
        }
    }
    let read = |pass: u8, l: &LoopDesign| reads.get(&(pass, l.id.as_str())).copied();
    // the last pass after which every meter was read
    let whole = |pass: &u8| loops.iter().all(|l| read(*pass, l).is_some());
    let last = (0..=9_u8).rev().find(whole);
    let stand: Vec<Option<f64>> = match last {
        None => vec![None; ports.len()],
        Some(pass) => {
            let shown: Vec<f64> = loops.iter().map(|l| read(pass, l).unwrap_or(0.0)).collect();
            bars.standing(&shown)
        }
    };
    let list = bars.list(&stand);
    let after = last.filter(|p| *p > 0);
    let turns = |l: &LoopDesign, kv: Option<f64>| {
        let manifold = study.job.manifolds.iter().find(|x| x.id == m.id)?;
        crate::water::valves::turns_open(&manifold.valve_table, kv?).or(l.valve.and_then(|v| v.turns))
    };
    let mut out: Vec<SetPort> = list
        .order
        .iter()
        .map(|s| {
            let l = loops[s.port];
            let left_l_min = after.and_then(|p| read(p, l));
            SetPort {
                loop_id: l.id.clone(),
                tag: l.tag.clone(),
                rooms: l.room_ids.iter().filter_map(|id| study.job.room(id)).map(|r| r.name.clone()).collect(),
                shows_l_min: s.shows_l_min,
                ends_l_min: s.ends_l_min,
                design_l_min: l.flow_l_min,
                turns: turns(l, s.kv_m3_h),
                wide_open: s.kv_m3_h.is_none(),
                found_l_min: read(0, l),
                left_l_min,
                off: left_l_min.map(|q| q / s.ends_l_min.max(1e-9) - 1.0),
                why: String::new(),
            }
        })
        .collect();
    let remarks = reasons(&mut out);
    SettingDesign {
        manifold_id: m.id.clone(),
        letter: m.letter.clone(),
        pass: after.map_or(1, |p| p + 1),
        settled: after.is_some() && out.iter().all(|p| p.off.is_some_and(|o| o.abs() <= SET_WITHIN)),
        ports: out,
        remarks,
    }
}

/// Likely reasons where meters do not show what they should after a pass.
fn reasons(ports: &mut [SetPort]) -> Vec<String> {
    let stands = |p: &SetPort| p.off.is_some_and(|o| o < STANDS_SHARE - 1.0);
    let offs: Vec<f64> = ports.iter().filter(|p| !stands(p)).filter_map(|p| p.off).collect();
    let mean = offs.iter().sum::<f64>() / offs.len().max(1) as f64;
    let alike = offs.len() > 2 && mean.abs() > ALIKE_OFF && offs.iter().all(|o| (o - mean).abs() < ALIKE_AROUND);
    for p in ports.iter_mut() {
        let Some(off) = p.off else { continue };
        if stands(p) {
            p.why = "Hardly any water: air, a shut valve, or an actuator that does not open".into();
        } else if !alike && off < -SET_WITHIN && p.wide_open {
            p.why = "Its valve is open and it still lacks: dented, longer than drawn, or the pump too low".into();
        }
    }
    match alike {
        true if mean < 0.0 => {
            vec!["All are low alike: the pump is set too low, the strainer is dirty, or the mix is stronger than designed".into()]
        }
        true => vec!["All are high alike: the pump is set higher than designed".into()],
        false => vec![],
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

/// Ticks by this begin.
const ITEM: &str = "startup/";

fn steps(study: &Study, standing: &[&Entry], filling: &Filling, purge: &[PurgeDesign]) -> Vec<StartStep> {
    let units: Units = study.job.site.units;
    let show = |q: Q, v: f64| units.show(q, v);
    let fill = if filling.glycol_l > 0.0 {
        format!(
            "{} in all: {} of glycol and {} of water, mixed before they go in. It shall freeze at {}: read a drop with the \
             refractometer. Never glycol that is not made for heating.",
            show(Q::Content, filling.content_l),
            show(Q::Content, filling.glycol_l),
            show(Q::Content, filling.content_l - filling.glycol_l),
            show(Q::Temperature, filling.freezing_c)
        )
    } else {
        format!("{} of water, by the plant's maker's word on its quality.", show(Q::Content, filling.content_l))
    };
    let can = purge.iter().filter(|p| p.own_pump).count();
    let worst = purge.iter().max_by(|a, b| a.head_pa.total_cmp(&b.head_pa));
    let with = worst.map_or_else(String::new, |w| {
        format!(" The hardest, {}, wants {} at {}.", w.tag, show(Q::Flow, w.flow_l_min), show(Q::Head, w.head_pa))
    });
    let purging = format!(
        "Loop by loop, the other ports shut, until three contents are through and no bubbles come.{with} {}",
        match (can, purge.len()) {
            (c, n) if c == n => "The circuit's own pump can do it.".to_owned(),
            (0, _) => "Take a purge pump: the circuit's own cannot do it.".to_owned(),
            (c, n) => format!("The circuit's own pump can do {c} of {n}: take a purge pump for the others."),
        }
    );
    let pressure = filling.fill_pa.map_or_else(
        || "As the plant wants it, cold, and written down.".to_owned(),
        |pa| format!("{} cold, and written down.", show(Q::Pressure, pa)),
    );
    let all = [
        ("flush", "Flush", "Water through every loop until it comes clear: chips and sealant block valves.".to_owned()),
        ("fill", "Fill", fill),
        ("purge", "Purge", purging),
        ("pressure", "Pressure", pressure),
        ("vent", "Vent", "Every vent and high point, then the pressure once more.".to_owned()),
        ("pump", "Pump", pump_text(study)),
        ("flows", "Flows", "Each meter as the list has it, in its order; then every meter is read.".to_owned()),
        (
            "heat_up",
            "Heat-up",
            "By the programme of each floor, written down every day; its record goes to the flooring trade.".to_owned(),
        ),
    ];
    let tick = |item: &str| {
        standing.iter().rev().find_map(|e| match &e.record.fact {
            Fact::Ticked { item: i, done } if i == item => Some((*e, *done)),
            _ => None,
        })
    };
    all.into_iter()
        .map(|(id, name, text)| {
            let item = format!("{ITEM}{id}");
            let ticked = tick(&item);
            StartStep {
                done: ticked.is_some_and(|(_, done)| done),
                who: ticked.map(|(e, _)| e.who.clone()).unwrap_or_default(),
                at: ticked.map(|(e, _)| e.record.at.clone()),
                item,
                name: name.to_owned(),
                text: units.words(&text),
            }
        })
        .collect()
}

fn pump_text(study: &Study) -> String {
    let units = study.job.site.units;
    let Ok(water) = fluid::properties(&study.job.fluid, COLD_C) else { return String::new() };
    let of = |c: usize| {
        let lifts = Lifts::of(study, c, &water);
        let circuit = &study.circuits[c];
        let how = match lifts.choice.control {
            PumpControl::FixedSpeed => "at one speed".to_owned(),
            PumpControl::ConstantPressure => format!("holding {}", units.show(Q::Head, lifts.held_pa)),
            PumpControl::ProportionalPressure => {
                format!("holding {} at its full flow, less with less", units.show(Q::Head, lifts.held_pa))
            }
            PumpControl::ConstantDifference => {
                "at one speed while flows are set, then by temperature difference".to_owned()
            }
        };
        format!("{}: {}, {how}.", circuit.name, lifts.pump.name)
    };
    let on = (0..study.circuits.len()).filter(|c| study.circuits[*c].flow_l_min > 0.0);
    on.map(of).collect::<Vec<_>>().join(" ")
}

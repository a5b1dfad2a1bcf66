//! The ports of a manifold on the pump of its circuit: what its meters show, and the list by which they are set.

use super::flows::{Bars, Port};
use super::{SET_WITHIN, SetPort, SettingDesign, bore_m, runs};
use crate::flow::GRAVITY;
use crate::fluid::Properties;
use crate::loops::report::{LoopDesign, ManifoldDesign};
use crate::records::{Entry, Fact};
use crate::study::Study;
use crate::water::part::{Feed, PumpChoice, PumpControl};
use crate::water::pipework::{feed_of, floor_duty, mains_pa};
use crate::water::pumps::{ChosenPump, choose};
use crate::water::valves::kv_for;
use std::collections::BTreeMap;

/// Below this share of its figure no water is worth the name.
const STANDS_SHARE: f64 = 0.15;
/// Between these a port's valve is looked for, m³/h.
const LEAST_KV: f64 = 0.003;
const MOST_KV: f64 = 20.0;
/// Loops that are off alike, as share of their figure: by so much on the mean, and by no more around it.
const ALIKE_OFF: f64 = 0.07;
const ALIKE_AROUND: f64 = 0.06;

pub(super) fn circuit_of(study: &Study, manifold_id: &str) -> usize {
    study.circuits.iter().position(|c| c.manifold_ids.iter().any(|m| m == manifold_id)).unwrap_or(0)
}

/// A circuit's pump with what it is set to.
pub(super) struct Lifts {
    pub(super) feed: Feed,
    pub(super) choice: PumpChoice,
    pub(super) pump: ChosenPump,
    pub(super) held_pa: f64,
    design_l_min: f64,
    density: f64,
}

impl Lifts {
    pub(super) fn of(study: &Study, circuit: usize, water: &Properties) -> Lifts {
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

/// The ports of a manifold on the pump of its circuit, with water of some temperature in it.
pub(crate) struct Balance<'a> {
    pub(crate) loops: Vec<&'a LoopDesign>,
    ports: Vec<Port>,
    water: Properties,
    lifts: Lifts,
    /// What the circuit's other manifolds take, L/min.
    others_l_min: f64,
    /// The manifold's own balancing valve, m³/h: it closes what the circuit has over.
    own_valve: Option<f64>,
}

impl<'a> Balance<'a> {
    pub(crate) fn of(study: &'a Study, m: &ManifoldDesign, water: Properties) -> Balance<'a> {
        let circuit = circuit_of(study, &m.id);
        let lifts = Lifts::of(study, circuit, &water);
        let loops: Vec<&LoopDesign> = runs(study).filter(|l| l.manifold_id == m.id).collect();
        let spare = lifts.held_pa - m.head_needed_pa - mains_pa(&lifts.feed, m.flow_l_min, &water);
        let port = |l: &&LoopDesign| Port {
            length_m: l.length_m,
            bore_m: bore_m(study, l),
            quarter_turns: l.quarter_turns,
            target_l_min: l.flow_l_min,
        };
        Balance {
            ports: loops.iter().map(port).collect(),
            loops,
            water,
            lifts,
            others_l_min: (study.circuits[circuit].flow_l_min - m.flow_l_min).max(0.0),
            own_valve: kv_for(m.flow_l_min, spare, water.density),
        }
    }

    /// Does something with the ports between their bars.
    pub(crate) fn on<T>(&self, f: impl FnOnce(&Bars) -> T) -> T {
        let head_pa = |q: f64| {
            let valve = self.own_valve.map_or(0.0, |kv| (q * 0.06 / kv).powi(2) * 1e5 * self.water.density / 1000.0);
            self.lifts.pa(q + self.others_l_min) - mains_pa(&self.lifts.feed, q, &self.water) - valve
        };
        f(&Bars { ports: &self.ports, water: self.water, head_pa: &head_pa })
    }

    /// The valve of a port turned until its meter shows that; wide open where it cannot reach it, L/min and m³/h.
    pub(crate) fn turned_until(&self, valves: &[Option<f64>], port: usize, shows_l_min: f64) -> Option<f64> {
        let shown = |kv: Option<f64>| {
            let mut all = valves.to_vec();
            all[port] = kv;
            self.on(|bars| bars.meters(&all)[port])
        };
        if shown(None) <= shows_l_min {
            return None;
        }
        // more valve, more flow: halved on a scale of ratios until no hand could tell
        let (mut low, mut high) = (LEAST_KV, MOST_KV);
        while high / low > 1.001 {
            let mid = (low * high).sqrt();
            if shown(Some(mid)) < shows_l_min { low = mid } else { high = mid }
        }
        Some(high)
    }

    /// The valves as they stand by the records: by the last pass after which every meter was read; all open before there is one.
    pub(crate) fn standing(&self, reads: &Reads) -> Vec<Option<f64>> {
        let Some(pass) = self.last_pass(reads) else { return vec![None; self.ports.len()] };
        let shown: Vec<f64> = self.loops.iter().map(|l| reads.of(pass, &l.id).unwrap_or(0.0)).collect();
        self.on(|bars| bars.standing(&shown))
    }

    fn last_pass(&self, reads: &Reads) -> Option<u8> {
        (0..=9).rev().find(|pass| self.loops.iter().all(|l| reads.of(*pass, &l.id).is_some()))
    }
}

/// What the meters were read to show, by pass and loop.
pub(crate) struct Reads<'a>(BTreeMap<(u8, &'a str), f64>);

impl<'a> Reads<'a> {
    pub(crate) fn of_records(standing: &[&'a Entry]) -> Reads<'a> {
        let read = |e: &&'a Entry| match &e.record.fact {
            Fact::MeterRead(r) => Some(((r.pass, r.loop_id.as_str()), r.flow_l_min)),
            _ => None,
        };
        Reads(standing.iter().filter_map(read).collect())
    }

    fn of(&self, pass: u8, loop_id: &str) -> Option<f64> {
        self.0.get(&(pass, loop_id)).copied()
    }
}

pub(super) fn manifold_set(study: &Study, m: &ManifoldDesign, standing: &[&Entry], water: Properties) -> SettingDesign {
    let balance = Balance::of(study, m, water);
    let reads = Reads::of_records(standing);
    let loops = &balance.loops;
    let list = balance.on(|bars| bars.list(&balance.standing(&reads)));
    let after = balance.last_pass(&reads).filter(|p| *p > 0);
    let turns = |l: &LoopDesign, kv: Option<f64>| {
        let manifold = study.job.manifolds.iter().find(|x| x.id == m.id)?;
        crate::water::valves::turns_open(&manifold.valve_table, kv?).or(l.valve.and_then(|v| v.turns))
    };
    let mut out: Vec<SetPort> = list
        .order
        .iter()
        .map(|s| {
            let l = loops[s.port];
            let left_l_min = after.and_then(|p| reads.of(p, &l.id));
            SetPort {
                loop_id: l.id.clone(),
                tag: l.tag.clone(),
                rooms: l.room_ids.iter().filter_map(|id| study.job.room(id)).map(|r| r.name.clone()).collect(),
                shows_l_min: s.shows_l_min,
                ends_l_min: s.ends_l_min,
                design_l_min: l.flow_l_min,
                turns: turns(l, s.kv_m3_h),
                wide_open: s.kv_m3_h.is_none(),
                found_l_min: reads.of(0, &l.id),
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

//! A network laid out for solving, and the passes between flows, temperatures and controls until all of them rest.

use super::controls::{DifferenceState, MIXER_ENDS, MixerState};
use super::flows::{Carried, Flows, Law, Way, area};
use super::heat::{self, Carrying, Exchange, NoLevel, temperatures};
use super::pump::{Control, Curve, Running};
use super::{LinkFlow, Network, NetworkFluid, NodeState, Part, Solution};
use crate::error::FieldError;
use crate::flow::GRAVITY;
use crate::fluid::{self, Properties};
use crate::water::part::Fluid;
use std::collections::HashMap;

/// Passes of flows and temperatures.
const MOST_PASSES: usize = 400;
/// Temperatures settled, K.
const SETTLED_K: f64 = 0.002;
/// Flows settled, as share of the largest.
const SETTLED_FLOW: f64 = 1e-6;
/// Properties are taken within the table.
const TABLE_C: std::ops::RangeInclusive<f64> = -20.0..=TABLE_ENDS_C;
/// Its warm end, °C.
const TABLE_ENDS_C: f64 = 90.0;
/// Heat that a kilogram of water carries, where none is given, J/kgK.
const WATER_J_KGK: f64 = 4182.0;
/// Water without any other hint is as warm as a room.
const ROOM_C: f64 = 20.0;

/// A flow check opens against its spring, Pa. What else drives water through a pump that stands stays below.
const SPRING_PA: f64 = 2000.0;

/// Where a network came to rest: a like one begins there.
#[derive(Default, Clone)]
pub(crate) struct Rest {
    q: Vec<f64>,
    carried: Vec<Carried>,
    turns: Vec<f64>,
}

/// A network laid out for solving.
pub(super) struct Solver<'n> {
    network: &'n Network,
    nodes: Vec<&'n str>,
    pub(super) ways: Vec<Way>,
    exchanges: Vec<Exchange>,
    /// The way, or for a mixer the hot way, of each link.
    way_of: Vec<usize>,
    pub(super) mixers: Vec<MixerState>,
    pub(super) differences: Vec<DifferenceState>,
    /// Check valves in line with a pump that stands: shut until more than their spring pushes.
    sprung: Vec<(usize, Law)>,
    flows: Flows,
    pub(super) q: Vec<f64>,
    p: Vec<f64>,
    carried: Vec<Carried>,
    iterations: usize,
    residual: f64,
}

fn at(network: &Network, link: usize, reason: impl Into<String>) -> FieldError {
    FieldError::new(format!("links[{link}] ({})", network.links[link].id), reason)
}

impl<'n> Solver<'n> {
    pub fn new(network: &'n Network) -> Result<Solver<'n>, FieldError> {
        network.check()?;
        let mut nodes = Vec::new();
        let mut index: HashMap<&str, usize> = HashMap::new();
        let mut node = |name: &'n str| {
            *index.entry(name).or_insert_with(|| {
                nodes.push(name);
                nodes.len() - 1
            })
        };
        let (mut ways, mut exchanges, mut way_of) = (Vec::new(), Vec::new(), Vec::new());
        let (mut mixers, mut differences) = (Vec::new(), Vec::new());
        // sides of exchangers: their way, the other's name
        let mut partners: Vec<(usize, &str, f64)> = Vec::new();
        for (i, link) in network.links.iter().enumerate() {
            let (from, to) = (node(&link.from), node(&link.to));
            way_of.push(ways.len());
            let mut exchange = Exchange::None;
            let by_kv = |kv: &Option<f64>| kv.map_or(Law::Open, Law::Kv);
            let law = match &link.part {
                Part::Pipe { length_m, bore_m, roughness_m, minor_k, check } => Law::Tube {
                    length: *length_m,
                    bore: *bore_m,
                    roughness: *roughness_m,
                    minor: *minor_k,
                    check: *check,
                },
                Part::Valve { open, .. } if *open <= 0.0 => Law::Shut,
                Part::Valve { kv_m3_h, open } => Law::Kv(kv_m3_h * open),
                Part::Pump { curve, control, on } => {
                    let curve = Curve::new(curve).map_err(|e| at(network, i, e))?;
                    if let (Control::ConstantDifference { difference_k, between }, true) = (control, *on) {
                        let between = [node(&between[0]), node(&between[1])];
                        differences.push(DifferenceState {
                            way: ways.len(),
                            difference_k: *difference_k,
                            between,
                            asked: 0.0,
                            over: 0.0,
                            gain: 1.0,
                        });
                    }
                    Law::Pump(Running::new(curve, control, *on, None).map_err(|e| at(network, i, e))?)
                }
                Part::Source { leaves_c, heat_w, most_w, kv_m3_h } => {
                    exchange = match leaves_c {
                        Some(leaves_c) => {
                            Exchange::Leaves { leaves_c: *leaves_c, most_w: most_w.unwrap_or(f64::INFINITY) }
                        }
                        None => Exchange::Heat(heat_w.unwrap_or(0.0).min(most_w.unwrap_or(f64::INFINITY))),
                    };
                    by_kv(kv_m3_h)
                }
                Part::Load { heat_w, ua_w_k, around_c, kv_m3_h } => {
                    exchange = match (ua_w_k, around_c) {
                        (Some(ua_w_k), Some(around_c)) => Exchange::Toward { ua_w_k: *ua_w_k, around_c: *around_c },
                        _ => Exchange::Heat(-heat_w.unwrap_or(0.0)),
                    };
                    by_kv(kv_m3_h)
                }
                Part::Exchanger { with, ua_w_k, kv_m3_h } => {
                    partners.push((ways.len(), with.as_str(), *ua_w_k));
                    by_kv(kv_m3_h)
                }
                Part::Mixer { hot, cold, setpoint_c, kv_m3_h } => {
                    let hot = hot.as_deref().map_or(from, &mut node);
                    let cold = node(cold);
                    let state = MixerState {
                        link: i,
                        hot_way: ways.len(),
                        cold_way: ways.len() + 1,
                        setpoint_c: *setpoint_c,
                        kv: *kv_m3_h,
                        x: 0.0,
                        last: None,
                        turns: 0,
                        far: f64::INFINITY,
                        between: [-MIXER_ENDS, MIXER_ENDS],
                    };
                    let [hot_law, cold_law] = state.laws();
                    mixers.push(state);
                    ways.push(Way { from: hot, to, law: hot_law });
                    exchanges.push(Exchange::None);
                    ways.push(Way { from: cold, to, law: cold_law });
                    exchanges.push(Exchange::None);
                    continue;
                }
            };
            ways.push(Way { from, to, law });
            exchanges.push(exchange);
        }
        for (way, with, ua_w_k) in partners {
            if let Some(other) = network.links.iter().position(|l| l.id == with) {
                exchanges[way] = Exchange::With { way: way_of[other], ua_w_k };
            }
        }
        let count = nodes.len();
        for d in &differences {
            for k in d.between {
                if !ways.iter().any(|w| w.from == k || w.to == k) {
                    return Err(FieldError::new("links", format!("no link leads to node {} of a control", nodes[k])));
                }
            }
        }
        let Some(ground) = nodes.iter().position(|n| *n == network.pressure_node) else {
            return Err(FieldError::new("pressure_node", format!("no link leads to node {}", network.pressure_node)));
        };
        let parts = hanging_together(count, &ways, None);
        let mut grounds = vec![ground];
        for part in 0..=parts.iter().copied().max().unwrap_or(0) {
            if part != parts[ground] {
                grounds.extend(parts.iter().position(|p| *p == part));
            }
        }
        for (i, link) in network.links.iter().enumerate() {
            let way = &ways[way_of[i]];
            if matches!(link.part, Part::Pump { on: true, .. }) && !leads_back(count, &ways, way_of[i]) {
                let reason =
                    format!("no way leads back from {} to {}: nothing can flow", nodes[way.to], nodes[way.from]);
                return Err(at(network, i, reason));
            }
        }
        let sprung = in_line_with_stopped(count, &mut ways);
        let flows = Flows::new(count, &grounds, &ways)
            .ok_or_else(|| FieldError::new("links", "the network is too large to be solved"))?;
        let carried = network.carried(None)?;
        Ok(Solver {
            network,
            nodes,
            q: vec![0.0; ways.len()],
            p: vec![0.0; count],
            carried: vec![Carried { density: carried.density, viscosity: carried.viscosity }; ways.len()],
            ways,
            exchanges,
            way_of,
            mixers,
            differences,
            sprung,
            flows,
            iterations: 0,
            residual: 0.0,
        })
    }

    /// Begins where a network of the same parts came to rest.
    pub fn after(mut self, rest: &Rest) -> Solver<'n> {
        if rest.q.len() == self.q.len() && rest.turns.len() == self.mixers.len() {
            self.q.clone_from(&rest.q);
            self.carried.clone_from(&rest.carried);
            for (m, x) in self.mixers.iter_mut().zip(&rest.turns) {
                m.x = *x;
                let [hot_law, cold_law] = m.laws();
                self.ways[m.hot_way].law = hot_law;
                self.ways[m.cold_way].law = cold_law;
            }
            for d in &self.differences {
                if let Law::Pump(running) = &mut self.ways[d.way].law {
                    running.set_flow(self.q[d.way].max(1e-9));
                }
            }
        }
        self
    }

    /// Where it came to rest.
    pub fn rest(&self) -> Rest {
        Rest { q: self.q.clone(), carried: self.carried.clone(), turns: self.mixers.iter().map(|m| m.x).collect() }
    }

    pub fn run(&mut self) -> Result<Solution, FieldError> {
        let thermal = self.exchanges.iter().any(|e| *e != Exchange::None);
        let start_c = self.network.start_c();
        let mut warm: Option<heat::Temperatures> = None;
        // the way that moved in the last pass
        let mut moving = None;
        for _ in 0..MOST_PASSES {
            let before = self.q.clone();
            let found = self.flows.solve(&self.ways, &self.carried, &mut self.q, &mut self.p);
            let found = found.map_err(|way| self.at_way(way, "no balance of pressures was found here"))?;
            self.iterations += found.steps;
            self.residual = found.residual;
            let most = self.q.iter().fold(0.0_f64, |m, q| m.max(q.abs()));
            moving = (0..self.q.len()).find(|i| (self.q[*i] - before[*i]).abs() > SETTLED_FLOW * most);
            let (ways, p) = (&mut self.ways, &self.p);
            self.sprung.retain(|(i, law)| {
                let opens = p[ways[*i].from] - p[ways[*i].to] > SPRING_PA;
                if opens {
                    ways[*i].law = law.clone();
                    moving = Some(*i);
                }
                !opens
            });
            for (i, (way, q)) in self.ways.iter_mut().zip(&self.q).enumerate() {
                if let Law::Pump(running) = &mut way.law
                    && running.follow(*q) > SETTLED_FLOW
                {
                    moving = Some(i);
                }
            }
            if thermal {
                let now = self.temperatures(start_c)?;
                moving = moving.or(changed_way(warm.as_ref(), &now));
                self.properties(&now)?;
                // a valve finds its turn at flows that stay: a pump that follows temperatures waits for it
                moving = self.mix(&now).or_else(|| self.control_differences(&now)).or(moving);
                warm = Some(now);
            }
            if moving.is_none() {
                break;
            }
        }
        if let Some(way) = moving {
            return Err(self.at_way(way, "flows and temperatures do not come to rest here"));
        }
        self.check_temperatures(warm.as_ref())?;
        let mut notes = Vec::new();
        self.check_pumps(&mut notes)?;
        Ok(self.told(warm.as_ref(), notes))
    }

    fn temperatures(&self, start_c: f64) -> Result<heat::Temperatures, FieldError> {
        let all = self.ways.iter().zip(&self.exchanges).zip(&self.q);
        let carrying: Vec<Carrying> =
            all.map(|((w, exchange), q)| Carrying { from: w.from, to: w.to, flow: *q, exchange: *exchange }).collect();
        temperatures(self.nodes.len(), &carrying, self.network.per_m3_k()?, start_c).map_err(|e| match e {
            NoLevel::At(node) => FieldError::new(
                "links",
                format!(
                    "nothing says how warm the water at {} is: give a source a temperature, or a load surroundings",
                    self.nodes[node]
                ),
            ),
            NoLevel::Unsolved => FieldError::new("links", "no balance of heat was found"),
        })
    }

    /// Properties at the parts' mean temperatures.
    fn properties(&mut self, now: &heat::Temperatures) -> Result<(), FieldError> {
        for (carried, ends) in self.carried.iter_mut().zip(&now.ways) {
            if let Some([a, b]) = ends {
                let of = self.network.carried(Some(f64::midpoint(*a, *b)))?;
                *carried = Carried { density: of.density, viscosity: of.viscosity };
            }
        }
        Ok(())
    }

    /// An error that names the part of a way.
    fn at_way(&self, way: usize, reason: &str) -> FieldError {
        let link = self.way_of.partition_point(|w| *w <= way).saturating_sub(1);
        at(self.network, link, reason)
    }

    /// That the fluid's table reaches to the temperatures that came out: within the passes they were held to its ends.
    fn check_temperatures(&self, warm: Option<&heat::Temperatures>) -> Result<(), FieldError> {
        let (NetworkFluid::Known { .. }, Some(warm)) = (&self.network.fluid, warm) else { return Ok(()) };
        let hottest = |ends: &Option<[f64; 2]>| ends.map_or(f64::MIN, |[a, b]| a.max(b));
        match warm.ways.iter().position(|ends| hottest(ends) > TABLE_ENDS_C) {
            Some(way) => {
                let reason = format!(
                    "its water would be at {:.1} °C; the fluid's properties are known up to {TABLE_ENDS_C} °C",
                    hottest(&warm.ways[way])
                );
                Err(self.at_way(way, &reason))
            }
            None => Ok(()),
        }
    }

    fn check_pumps(&self, notes: &mut Vec<String>) -> Result<(), FieldError> {
        for (i, link) in self.network.links.iter().enumerate() {
            let Law::Pump(running) = &self.ways[self.way_of[i]].law else { continue };
            let q = self.q[self.way_of[i]];
            if !running.runs() {
                continue;
            }
            if q > running.end() * (1.0 + 1e-6) {
                let reason = format!(
                    "runs past the end of its curve: {:.2} L/min, the curve ends at {:.2}",
                    q * 60_000.0,
                    running.end() * 60_000.0
                );
                return Err(at(self.network, i, reason));
            }
            if q < 1e-4 * running.end() {
                let how =
                    if q < -1e-4 * running.end() { "is pushed back by others" } else { "runs against shut valves" };
                notes.push(format!("Pump {} {how}: nothing flows through it.", link.id));
            }
        }
        Ok(())
    }

    fn told(&self, warm: Option<&heat::Temperatures>, mut notes: Vec<String>) -> Solution {
        let density = self.carried.first().map_or(1000.0, |c| c.density);
        let mixer = |i: usize| self.mixers.iter().find(|m| m.link == i);
        let links = self.network.links.iter().enumerate().map(|(i, link)| {
            let w = self.way_of[i];
            let way = &self.ways[w];
            let mixed = mixer(i);
            let q = self.q[w] + mixed.map_or(0.0, |m| self.q[m.cold_way]);
            let drop = self.p[way.from] - self.p[way.to];
            let carried = self.carried[w];
            let (velocity, reynolds) = match &way.law {
                Law::Tube { bore, .. } => {
                    let v = q / area(*bore);
                    (v, carried.density * v.abs() * bore / carried.viscosity)
                }
                _ => (0.0, 0.0),
            };
            let ends = warm.and_then(|t| t.ways[w]);
            let mixed_c = mixed.and(warm).and_then(|t| t.nodes[way.to]);
            let head = drop / (carried.density * GRAVITY);
            LinkFlow {
                id: link.id.clone(),
                flow_l_min: q * 60_000.0,
                velocity_m_s: velocity,
                reynolds,
                head_m: if matches!(link.part, Part::Pump { .. }) { -head } else { head },
                pressure_drop_pa: drop,
                from_c: ends.map(|e| e[0]),
                to_c: mixed_c.or(ends.map(|e| e[1])),
                hot_share: mixed.filter(|_| q > 0.0).map(|_| (self.q[w] / q).clamp(0.0, 1.0)),
            }
        });
        let links: Vec<LinkFlow> = links.collect();
        self.heat_notes(warm, &links, &mut notes);
        let nodes = self.nodes.iter().enumerate().map(|(n, id)| NodeState {
            id: (*id).to_owned(),
            head_m: self.p[n] / (density * GRAVITY),
            temperature_c: warm.and_then(|t| t.nodes[n]),
        });
        Solution { links, nodes: nodes.collect(), iterations: self.iterations, residual: self.residual, notes }
    }

    /// Mixers short of their setpoint, sources colder than their water, loads that take more than there is.
    fn heat_notes(&self, warm: Option<&heat::Temperatures>, links: &[LinkFlow], notes: &mut Vec<String>) {
        let Some(warm) = warm else { return };
        for m in &self.mixers {
            let id = &self.network.links[m.link].id;
            let got = warm.nodes[self.ways[m.hot_way].to];
            if let Some(got) = got.filter(|got| (got - m.setpoint_c).abs() > 0.1) {
                notes.push(format!("Mixer {id} does not reach {:.1} °C: {got:.1} °C.", m.setpoint_c));
            }
        }
        for (link, flow) in self.network.links.iter().zip(links) {
            let (Some(a), Some(b)) = (flow.from_c, flow.to_c) else { continue };
            let (inlet, outlet) = if flow.flow_l_min < 0.0 { (b, a) } else { (a, b) };
            match &link.part {
                Part::Source { leaves_c: Some(leaves), most_w, .. } => {
                    if inlet > leaves + 0.01 {
                        notes.push(format!(
                            "Source {} is colder than its water: {leaves:.1} °C, and {inlet:.1} °C comes back.",
                            link.id
                        ));
                    } else if most_w.is_some() && outlet < leaves - 0.05 {
                        notes.push(format!(
                            "Source {} gives all it can: its water leaves at {outlet:.1} °C, not {leaves:.1} °C.",
                            link.id
                        ));
                    }
                }
                Part::Load { ua_w_k: Some(_), around_c: Some(around), .. } if inlet < around - 0.01 => {
                    notes.push(format!(
                        "Load {} is warmer than its water: {around:.1} °C, and {inlet:.1} °C comes.",
                        link.id
                    ));
                }
                Part::Load { heat_w: Some(_), .. } if outlet < *TABLE_C.start() => {
                    notes.push(format!(
                        "Load {} takes more than its flow brings: it would leave at {outlet:.0} °C.",
                        link.id
                    ));
                }
                _ => {}
            }
        }
    }
}

impl Network {
    /// Heat that a flow of 1 L/min carries per kelvin, W.
    ///
    /// # Errors
    /// As [`fluid::properties`].
    pub(crate) fn per_l_min_k(&self) -> Result<f64, FieldError> {
        Ok(self.per_m3_k()? / 60_000.0)
    }

    /// Properties at a temperature; without one, at that of the start.
    fn carried(&self, temperature_c: Option<f64>) -> Result<Properties, FieldError> {
        match &self.fluid {
            NetworkFluid::Known { fluid, .. } => {
                let t = temperature_c.unwrap_or_else(|| self.start_c());
                fluid::properties(fluid, t.clamp(*TABLE_C.start(), *TABLE_C.end()).max(lowest(fluid)))
            }
            NetworkFluid::Typed { density_kg_m3, viscosity_pa_s, heat_capacity_j_kgk } => Ok(Properties {
                density: *density_kg_m3,
                specific_heat: heat_capacity_j_kgk.unwrap_or(WATER_J_KGK),
                conductivity: 0.6,
                viscosity: *viscosity_pa_s,
            }),
        }
    }

    /// Heat that a cubic metre carries per kelvin, the same everywhere so that none is lost between parts, J/m³K.
    fn per_m3_k(&self) -> Result<f64, FieldError> {
        let warmest = self.links.iter().filter_map(|l| match &l.part {
            Part::Source { leaves_c, .. } => *leaves_c,
            _ => None,
        });
        let middle = warmest.reduce(f64::max).map(|t| f64::midpoint(t, ROOM_C + 10.0));
        let of = self.carried(middle)?;
        Ok(of.density * of.specific_heat)
    }

    fn start_c(&self) -> f64 {
        match &self.fluid {
            NetworkFluid::Known { temperature_c, .. } => temperature_c.unwrap_or(ROOM_C),
            NetworkFluid::Typed { .. } => ROOM_C,
        }
    }
}

/// Coldest temperature for which the table has water.
fn lowest(fluid: &Fluid) -> f64 {
    if fluid.mass_fraction > 0.0 { f64::NEG_INFINITY } else { 0.0 }
}

/// A way whose water is warmer or cooler than in the pass before.
fn changed_way(before: Option<&heat::Temperatures>, now: &heat::Temperatures) -> Option<usize> {
    let changed = |i: usize| match (before.and_then(|b| b.ways[i]), now.ways[i]) {
        (Some(a), Some(b)) => (0..2).any(|k| (a[k] - b[k]).abs() > SETTLED_K),
        (None, None) => false,
        _ => true,
    };
    (0..now.ways.len()).find(|i| changed(*i))
}

/// Shuts the check valves that lie in line with a pump that stands, and gives them back as they were.
fn in_line_with_stopped(nodes: usize, ways: &mut [Way]) -> Vec<(usize, Law)> {
    let mut beside = vec![Vec::new(); nodes];
    for (i, w) in ways.iter().enumerate() {
        beside[w.from].push(i);
        beside[w.to].push(i);
    }
    let mut found = Vec::new();
    for start in 0..ways.len() {
        if !matches!(&ways[start].law, Law::Pump(running) if !running.runs()) {
            continue;
        }
        for end in [ways[start].from, ways[start].to] {
            let (mut node, mut last) = (end, start);
            // on along the line as long as nothing branches off
            while beside[node].len() == 2 {
                let next = beside[node].iter().copied().find(|i| *i != last).unwrap_or(start);
                if next == start || found.contains(&next) {
                    break;
                }
                if matches!(ways[next].law, Law::Tube { check: true, .. }) {
                    found.push(next);
                    break;
                }
                node = if ways[next].from == node { ways[next].to } else { ways[next].from };
                last = next;
            }
        }
    }
    found.into_iter().map(|i| (i, std::mem::replace(&mut ways[i].law, Law::Shut))).collect()
}

/// For each node the number of the part that hangs together with it, one way left out.
fn hanging_together(nodes: usize, ways: &[Way], without: Option<usize>) -> Vec<usize> {
    let mut parts = vec![usize::MAX; nodes];
    let mut beside = vec![Vec::new(); nodes];
    for (_, w) in ways.iter().enumerate().filter(|(i, _)| Some(*i) != without) {
        beside[w.from].push(w.to);
        beside[w.to].push(w.from);
    }
    let mut part = 0;
    for start in 0..nodes {
        if parts[start] != usize::MAX {
            continue;
        }
        parts[start] = part;
        let mut next = vec![start];
        while let Some(n) = next.pop() {
            for m in &beside[n] {
                if parts[*m] == usize::MAX {
                    parts[*m] = part;
                    next.push(*m);
                }
            }
        }
        part += 1;
    }
    parts
}

/// Whether water can come back from a way's end to its beginning by others.
fn leads_back(nodes: usize, ways: &[Way], way: usize) -> bool {
    let parts = hanging_together(nodes, ways, Some(way));
    parts[ways[way].from] == parts[ways[way].to]
}

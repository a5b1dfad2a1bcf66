//! The plant as the network makes it at an outdoor temperature: which water leaves the source so that every circuit has its
//! supply, what flows where, what pumps take, how warm the rooms become.

use super::needs::{Consumer, Who, consumers, emitters_by_room};
use super::part::{Arrangement, HeatSource, Plant, Takes};
use super::piping::{BRANCH_PA, Settled, Site};
use super::source::source_at;
use super::state::{CircuitState, PipeState, PlantState, PlantTrial, SourceState};
use crate::error::FieldError;
use crate::flow;
use crate::fluid::{self, Properties};
use crate::network::{LinkFlow, Rest, Solution};
use crate::study::solved::Solved;
use crate::water::part::{Mixing, PumpControl};
use crate::water::pipework::{Changed, MIXER_PA, Pipework, network_error};
use crate::water::pumps::{ChosenPump, PumpPoint};
use crate::water::rooms::RoomsHeat;
use crate::water::trial::{Flows, RoomState, STANDS_L_MIN, per_l_min_k};
use std::collections::BTreeSet;

/// Supply temperatures are reached within this, K.
const REACHED_K: f64 = 0.05;
/// Rooms are settled within this, K.
const ROOMS_K: f64 = 0.02;
/// Rounds of network, users and source.
const MOST_ROUNDS: usize = 100;
/// Of the way that an injection pump has to go, a round.
const INJECTION_PART: f64 = 0.35;
/// Margin of the drawing, squares.
const MARGIN: f64 = 2.0;

/// The plant with what a trial changes of it.
fn tried(plant: &Plant, trial: &PlantTrial) -> Plant {
    let mut plant = plant.clone();
    if let Some(arrangement) = trial.arrangement {
        plant.arrangement = arrangement;
    }
    plant
}

/// The plant of a job at work.
///
/// # Errors
/// Names `plant` where the job has none, the figure of the trial that makes no sense, and the part for which the network found
/// no balance.
pub fn plant_state(study: &Solved, trial: &PlantTrial) -> Result<PlantState, FieldError> {
    let plant = study.job.plant.as_ref().ok_or_else(|| FieldError::new("plant", "this job has no plant"))?;
    if let Some(outdoor) = trial.outdoor_c {
        crate::check::range("trial.outdoor_c", outdoor, -60.0, 50.0)?;
    }
    let plant = tried(plant, trial);
    if plant.arrangement == Arrangement::TwoSources && plant.second.is_none() {
        return Err(FieldError::new("plant.second", "two sources in sequence need a second source"));
    }
    let water = fluid::properties(&study.job.fluid, 45.0)?;
    let outdoor_c = trial.outdoor_c.unwrap_or(study.job.site.outdoor_c);
    let consumers = consumers(study, &plant, outdoor_c, &water);
    if consumers.is_empty() {
        return Err(FieldError::new("plant", "nothing takes heat yet: lay loops, or add radiators or a tank"));
    }
    let mut work = Work::new(study, &plant, &consumers, trial, outdoor_c, water);
    let (pipework, solution) = work.settle()?;
    Ok(work.told(&pipework, &solution))
}

struct Work<'a> {
    study: &'a Solved,
    plant: &'a Plant,
    consumers: &'a [Consumer<'a>],
    trial: &'a PlantTrial,
    outdoor_c: f64,
    water: Properties,
    on: Vec<bool>,
    rooms: RoomsHeat<'a>,
    settled: Settled,
    leaves_c: f64,
    both: bool,
    /// Heat that 1 L/min carries per kelvin in the network, W.
    per: f64,
}

impl<'a> Work<'a> {
    fn new(
        study: &'a Solved,
        plant: &'a Plant,
        consumers: &'a [Consumer<'a>],
        trial: &'a PlantTrial,
        outdoor_c: f64,
        water: Properties,
    ) -> Work<'a> {
        let on = |c: &Consumer| {
            c.needs_c.is_some()
                && c.flow_l_min > 0.0
                && !trial.off.iter().any(|o| o == c.id)
                && c.first == trial.charging
        };
        let on: Vec<bool> = consumers.iter().map(on).collect();
        let needs = consumers.iter().zip(&on).filter(|(_, on)| **on).filter_map(|(c, _)| c.needs_c);
        let needed = needs.fold(20.0, f64::max);
        Work {
            study,
            plant,
            consumers,
            trial,
            outdoor_c,
            on,
            rooms: RoomsHeat::at(study, outdoor_c),
            settled: Settled::default(),
            leaves_c: plant.source.leaves_c.unwrap_or(needed).min(plant.source.most_c),
            both: false,
            per: per_l_min_k(&water),
            water,
        }
    }

    fn site(&self) -> Site<'_> {
        let most = |s: &HeatSource| source_at(s, self.outdoor_c, self.leaves_c).0;
        Site {
            study: self.study,
            plant: self.plant,
            consumers: self.consumers,
            on: &self.on,
            rooms: &self.rooms,
            settled: &self.settled,
            changed: Changed { shut: &self.trial.shut, ..Changed::default() },
            water: &self.water,
            leaves_c: self.leaves_c,
            most_w: [most(&self.plant.source), self.plant.second.as_ref().map_or(0.0, most)],
            both: self.both,
        }
    }

    fn pressure_node(&self) -> &'static str {
        if self.plant.arrangement == Arrangement::Direct { "return" } else { "source/out" }
    }

    /// Network, users, rooms and the source's temperature, round by round.
    fn settle(&mut self) -> Result<(Pipework, Solution), FieldError> {
        let free = self.plant.source.leaves_c.is_none();
        let (mut round, mut rest) = (0, Rest::default());
        loop {
            let pipework = self.site().build();
            let network = pipework.network(&self.study.job, self.pressure_node());
            let solution = network.solve_after(&mut rest).map_err(|e| self.named(&e))?;
            self.per = network.per_l_min_k()?;
            let flows = Flows::of(&solution);
            let nodes = Nodes::of(&solution);
            let at_most = flows.get("source").and_then(|s| s.to_c).is_some_and(|c| c < self.leaves_c - REACHED_K);
            let mut moves = self.follow(&flows, &nodes);
            if at_most && !self.both && self.plant.arrangement == Arrangement::TwoSources {
                (self.both, moves) = (true, true);
            }
            let gap = self.gap(&nodes);
            if free && !at_most && gap > REACHED_K && self.leaves_c < self.plant.source.most_c {
                self.leaves_c = (self.leaves_c + gap * 1.05).min(self.plant.source.most_c);
                moves = true;
            }
            round += 1;
            if !moves {
                return Ok((pipework, solution));
            }
            if round == MOST_ROUNDS {
                return Err(FieldError::new("plant", "piping, rooms and source do not come to rest together"));
            }
        }
    }

    /// By how much the circuit that lacks most is short of its supply, K.
    fn gap(&self, nodes: &Nodes) -> f64 {
        let short = |(c, on): (&Consumer, &bool)| {
            // an injection pump first gives what it can
            if c.feed.mixing == Mixing::Injection && self.injected_share(c) < 0.98 {
                return None;
            }
            let got = nodes.get(&format!("c/{}/supply", c.id))?;
            on.then_some(c.needs_c? - got)
        };
        self.consumers.iter().zip(&self.on).filter_map(short).fold(0.0, f64::max)
    }

    fn injected_share(&self, c: &Consumer) -> f64 {
        self.settled.injected.get(c.id).map_or(0.0, |q| q / c.flow_l_min.max(1e-9))
    }

    /// Users and rooms after a round; whether any of them still moves.
    fn follow(&mut self, flows: &Flows, nodes: &Nodes) -> bool {
        let mut moves = false;
        let more = self.beside_loops_w(flows);
        let mut supplies = vec![self.leaves_c; self.study.rooms.len()];
        for (c, on) in self.consumers.iter().zip(&self.on) {
            let supply = nodes.get(&format!("c/{}/supply", c.id)).unwrap_or(self.leaves_c);
            if let Who::Floors(i) = c.who {
                let ids = &self.study.circuits[i].room_ids;
                let own = self.study.rooms.iter().enumerate().filter(|(_, d)| ids.contains(&d.id));
                own.for_each(|(r, _)| supplies[r] = supply);
            }
            if let (Who::User(user), true) = (c.who, *on)
                && let Takes::Emitters { emitter_ids, .. } = &user.takes
            {
                for e in emitters_by_room(self.study, emitter_ids) {
                    let Some(link) = flows.get(&format!("u/{}/room/{}", user.id, e.room)) else { continue };
                    let Some((a, b)) = link.from_c.zip(link.to_c) else { continue };
                    supplies[e.room] = supply;
                    let now = flow::mean_excess(self.rooms.room_c(e.room), a, a - b);
                    let key = (user.id.clone(), e.room);
                    let was = self.settled.excess.insert(key, now).unwrap_or(f64::MAX);
                    moves |= (was - now).abs() > 0.02;
                }
            }
            if c.feed.mixing == Mixing::Injection && *on {
                let hot = nodes.get(&format!("c/{}/injected", c.id)).unwrap_or(self.leaves_c);
                let back = nodes.get(&format!("c/{}/back", c.id)).unwrap_or(20.0);
                let whole = flows.flow(&format!("c/{}/pump", c.id)).max(0.0);
                let wanted = c.needs_c.unwrap_or(back);
                let share = if hot > back + 0.1 { ((wanted - back) / (hot - back)).clamp(0.01, 1.0) } else { 1.0 };
                let was = self.settled.injected.get(c.id).copied().unwrap_or(0.5 * c.flow_l_min);
                // the return warms with what is injected: a part of the way each round, or it swings
                let next = was + INJECTION_PART * (share * whole - was);
                self.settled.injected.insert(c.id.to_owned(), next);
                moves |= (was - next).abs() > 1e-3 * whole;
            }
        }
        let shares = flows.shares(self.study);
        moves | (self.rooms.take(&shares, &more, &supplies) > ROOMS_K)
    }

    /// Heat that fields and emitters give each room, W.
    fn beside_loops_w(&self, flows: &Flows) -> Vec<f64> {
        let mut out = flows.fields_w(self.study, self.per);
        for c in self.consumers {
            let Who::User(user) = c.who else { continue };
            let Takes::Emitters { emitter_ids, .. } = &user.takes else { continue };
            for e in emitters_by_room(self.study, emitter_ids) {
                let link = flows.get(&format!("u/{}/room/{}", user.id, e.room));
                let heat = link.and_then(|l| Some(l.flow_l_min * (l.from_c? - l.to_c?) * self.per));
                out[e.room] += heat.unwrap_or(0.0);
            }
        }
        out
    }

    /// An error of the network with the parts' names as people know them.
    fn named(&self, e: &FieldError) -> FieldError {
        network_error(e, |part| {
            let mut parts = part.split('/');
            match (parts.next(), parts.next()) {
                (Some("c" | "u"), Some(of)) => {
                    let name = self.consumers.iter().find(|c| c.id == of).map_or(of, |c| c.name);
                    Some(format!("circuit {name}"))
                }
                (Some("source"), _) => Some("the source".into()),
                (Some("second"), _) => Some("the second source".into()),
                _ => None,
            }
        })
    }

    fn told(&self, pipework: &Pipework, solution: &Solution) -> PlantState {
        let (flows, nodes, site) = (Flows::of(solution), Nodes::of(solution), self.site());
        let circuits: Vec<CircuitState> =
            self.consumers.iter().zip(&self.on).map(|(c, on)| self.circuit(&site, c, *on, &flows, &nodes)).collect();
        let mut sources = vec![self.source("source", &self.plant.source, &site, &flows, site.most_w[0], true)];
        if let (Some(second), Arrangement::TwoSources) = (&self.plant.second, self.plant.arrangement) {
            sources.push(self.source("second", second, &site, &flows, site.most_w[1], self.both));
        }
        let pumps = circuits.iter().map(|c| &c.pump).chain(sources.iter().filter_map(|s| s.pump.as_ref()));
        let pumps_w = pumps.filter_map(|p| p.electric_w).sum();
        let pipes: Vec<PipeState> = pipework
            .strokes
            .iter()
            .map(|s| {
                let sum: f64 = s.links.iter().map(|l| flows.flow(l)).sum();
                let flow_l_min = sum - s.less.as_ref().map_or(0.0, |l| flows.flow(l));
                let temperature_c = nodes.get(&s.node).filter(|_| flow_l_min.abs() > STANDS_L_MIN);
                PipeState { points: s.points.clone(), flow_l_min, temperature_c }
            })
            .collect();
        let given = self.rooms.given(&flows.shares(self.study), &self.beside_loops_w(&flows));
        let served = self.served();
        let rooms = served.into_iter().map(|r| RoomState {
            id: self.study.rooms[r].id.clone(),
            room_c: self.rooms.room_c(r),
            set_c: self.study.job.rooms[r].room_c,
            heat_w: given[r],
        });
        let reach = |k: usize| {
            let of_pipes = pipes.iter().flat_map(|p| &p.points).map(|p| p[k]);
            let of_symbols = pipework.symbols.iter().map(|s| s.at[k] + s.size[k] / 2.0);
            of_pipes.chain(of_symbols).fold(0.0, f64::max) + MARGIN
        };
        let size = [reach(0), reach(1)];
        PlantState {
            outdoor_c: self.outdoor_c,
            arrangement: self.plant.arrangement,
            notes: self.notes(&circuits, &sources, &pipes),
            sources,
            circuits,
            rooms: rooms.collect(),
            pumps_w,
            pipes,
            symbols: pipework.symbols.clone(),
            size,
        }
    }

    /// Rooms that any circuit or user heats.
    fn served(&self) -> BTreeSet<usize> {
        let mut out = BTreeSet::new();
        for c in self.consumers {
            match c.who {
                Who::Floors(i) => {
                    let ids = &self.study.circuits[i].room_ids;
                    out.extend(
                        self.study.rooms.iter().enumerate().filter(|(_, d)| ids.contains(&d.id)).map(|(r, _)| r),
                    );
                }
                Who::User(u) => {
                    if let Takes::Emitters { emitter_ids, .. } = &u.takes {
                        out.extend(emitters_by_room(self.study, emitter_ids).iter().map(|e| e.room));
                    }
                }
            }
        }
        out
    }

    /// A pump at its operating point; one that is off takes nothing.
    fn point(
        &self,
        pump: &ChosenPump,
        control: PumpControl,
        on: bool,
        link: Option<&LinkFlow>,
        design: [f64; 2],
    ) -> PumpPoint {
        let at = link.filter(|_| on).map_or((0.0, 0.0), |l| (l.flow_l_min, -l.pressure_drop_pa));
        let point = pump.at(control, at, self.water.density, design);
        PumpPoint { electric_w: point.electric_w.map(|w| if on { w } else { 0.0 }), ..point }
    }

    fn circuit(&self, site: &Site, c: &Consumer, on: bool, flows: &Flows, nodes: &Nodes) -> CircuitState {
        let id = |what: &str| format!("c/{}/{what}", c.id);
        let (pump, head) = site.pump(c);
        let flow_l_min = flows.flow(&id("pump"));
        let moves = flow_l_min.abs() > STANDS_L_MIN;
        let temperature = |node: &str| nodes.get(&id(node)).filter(|_| moves);
        let (supply_c, return_c) = (temperature("supply"), temperature("back"));
        let bore = crate::water::pipework::mains_bore(&c.feed, c.flow_l_min, &self.water);
        let hot_share = match c.feed.mixing {
            Mixing::None => None,
            Mixing::Injection => moves.then(|| flows.flow(&id("ret")) / flow_l_min),
            _ => flows.get(&id("mix")).and_then(|m| m.hot_share),
        };
        CircuitState {
            id: c.id.into(),
            name: c.name.into(),
            on,
            needs_c: c.needs_c,
            supply_c,
            return_c,
            flow_l_min,
            design_flow_l_min: c.flow_l_min,
            heat_w: supply_c.zip(return_c).map_or(0.0, |(s, r)| flow_l_min * (s - r) * self.per),
            wants_w: c.heat_w,
            hot_share,
            authority: self.authority(site, c),
            mixing: c.feed.mixing,
            always: c.always,
            pump: self.point(&pump, c.feed.pump.control, on, flows.get(&id("pump")), [c.flow_l_min, head]),
            mains_bore_m: bore,
            mains_m_s: flow::velocity(flow_l_min.abs() / 60_000.0, bore),
        }
    }

    /// Share of a mixing valve, wide open at the design's flow, of what takes pressure where its flow changes: the pipes from
    /// the tees or the separator are short, a source straight behind it is not.
    fn authority(&self, site: &Site, c: &Consumer) -> Option<f64> {
        if !matches!(c.feed.mixing, Mixing::Thermostatic | Mixing::ThreeWay) {
            return None;
        }
        let changing = match self.plant.arrangement {
            Arrangement::Direct => {
                let source = &self.plant.source;
                let own = site.pump(c).1 - c.head_pa - MIXER_PA;
                own.max((c.flow_l_min * 0.06 / source.kv_m3_h).powi(2) * 1e5)
            }
            _ => BRANCH_PA,
        };
        Some(MIXER_PA / (MIXER_PA + changing))
    }

    fn source(
        &self,
        id: &str,
        source: &HeatSource,
        site: &Site,
        flows: &Flows,
        most_w: f64,
        runs: bool,
    ) -> SourceState {
        let link = flows.get(id);
        let flow_l_min = link.map_or(0.0, |l| l.flow_l_min);
        let moves = flow_l_min.abs() > STANDS_L_MIN;
        let ends = link.and_then(|l| l.from_c.zip(l.to_c)).filter(|_| moves);
        let heat_w = ends.map_or(0.0, |(from, to)| (flow_l_min * (to - from) * self.per).max(0.0));
        let own_pump = self.plant.arrangement != Arrangement::Direct;
        SourceState {
            id: id.into(),
            name: source.name.clone(),
            runs: runs && self.on.contains(&true),
            wanted_c: self.leaves_c,
            leaves_c: ends.map(|e| e.1),
            returns_c: ends.map(|e| e.0),
            flow_l_min,
            heat_w,
            most_w,
            at_most: runs && ends.is_some_and(|e| e.1 < self.leaves_c - 2.0 * REACHED_K && e.0 < self.leaves_c),
            condenses: source.kind.condenses_below_c().and_then(|below| ends.map(|e| e.0 < below)),
            cop: source_at(source, self.outdoor_c, self.leaves_c).1,
            pump: own_pump.then(|| {
                let (pump, flow, head) = site.source_pump(source);
                let on = runs && self.on.contains(&true);
                self.point(&pump, source.pump.control, on, flows.get(&format!("{id}/pump")), [flow, head])
            }),
        }
    }

    fn notes(&self, circuits: &[CircuitState], sources: &[SourceState], pipes: &[PipeState]) -> Vec<String> {
        let mut out = Vec::new();
        let show = |quantity, si| self.study.job.site.units.show(quantity, si);
        use crate::units::Quantity::{Flow, Heat, Temperature};
        for c in circuits.iter().filter(|c| c.on) {
            let name = &c.name;
            if let (Some(needs), Some(got)) = (c.needs_c, c.supply_c) {
                if got < needs - 0.3 {
                    out.push(format!("{name} gets {} and needs {}.", show(Temperature, got), show(Temperature, needs)));
                } else if got > needs + 2.0 && c.mixing == Mixing::None {
                    out.push(format!(
                        "{name} gets {}, more than the {} it needs: nothing mixes it down.",
                        show(Temperature, got),
                        show(Temperature, needs)
                    ));
                }
            }
            if c.flow_l_min < 0.01 * c.design_flow_l_min {
                out.push(format!("{name}: its pump runs against shut valves; nothing flows."));
            } else if c.flow_l_min < 0.9 * c.design_flow_l_min && c.pump.control != PumpControl::ConstantDifference {
                out.push(format!(
                    "{name} has {} of the {} it needs.",
                    show(Flow, c.flow_l_min),
                    show(Flow, c.design_flow_l_min)
                ));
            }
        }
        for c in circuits.iter().filter(|c| !c.on && c.flow_l_min > 0.02 * c.design_flow_l_min) {
            out.push(format!("{} is off and still has {}: ghost flow.", c.name, show(Flow, c.flow_l_min)));
        }
        for s in sources.iter().filter(|s| s.at_most) {
            let name = if s.name.is_empty() { "The source" } else { &s.name };
            out.push(format!("{name} gives all it can, {}, and that is not enough.", show(Heat, s.heat_w)));
        }
        if self.plant.arrangement == Arrangement::TeesInSeries || self.plant.arrangement == Arrangement::TeesWithHeaders
        {
            let back = pipes.iter().filter(|p| p.points.len() == 2 && p.flow_l_min < -0.05);
            let between_tees = |p: &&PipeState| (p.points[1][0] - p.points[0][0] - 2.0).abs() < 1e-9;
            let flows: Vec<f64> = back.filter(between_tees).map(|p| -p.flow_l_min).collect();
            if let Some(most) = flows.iter().copied().reduce(f64::max) {
                out.push(format!(
                    "Between the tees water flows back, up to {}: the circuit moves more than the source's pump and mixes its own return in.",
                    show(Flow, most)
                ));
            }
        }
        out
    }
}

/// Temperatures of nodes by name.
struct Nodes<'a>(std::collections::HashMap<&'a str, f64>);

impl<'a> Nodes<'a> {
    fn of(solution: &'a Solution) -> Nodes<'a> {
        Nodes(solution.nodes.iter().filter_map(|n| Some((n.id.as_str(), n.temperature_c?))).collect())
    }

    fn get(&self, id: &str) -> Option<f64> {
        self.0.get(id).copied()
    }
}

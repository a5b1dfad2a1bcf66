//! The plant as the network makes it at an outdoor temperature: which water leaves the source so that every circuit has its
//! supply, what flows where, what pumps take, how warm the rooms become.

use super::emitters::excess_for;
use super::needs::{Consumer, Who, consumers, emitters_by_room};
use super::part::{Arrangement, HeatSource, Plant, Takes};
use super::piping::{Settled, Site};
use crate::error::FieldError;
use crate::flow;
use crate::fluid::{self, Properties};
use crate::network::{Rest, Solution};
use crate::study::solved::Solved;
use crate::water::part::{Mixing, PumpControl};
use crate::water::pipework::{Changed, Pipework, Symbol};
use crate::water::pumps::ChosenPump;
use crate::water::rooms::RoomsHeat;
use crate::water::trial::{Flows, RoomState, per_l_min_k};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Supply temperatures are reached within this, K.
const REACHED_K: f64 = 0.05;
/// Rooms are settled within this, K.
const ROOMS_K: f64 = 0.02;
/// Rounds of network, users and source.
const MOST_ROUNDS: usize = 40;
/// A heat pump without figures of its own has this share of Carnot's efficiency …
const CARNOT_SHARE: f64 = 0.45;
/// … between temperatures so much beyond those of its water and its air or ground, K.
const APPROACH_K: f64 = 5.0;
const GRAVITY: f64 = 9.81;
/// Of the way that an injection pump has to go, a round.
const INJECTION_PART: f64 = 0.35;
/// Margin of the drawing, squares.
const MARGIN: f64 = 2.0;

/// What is tried of a plant.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PlantTrial {
    /// Outdoor temperature, °C; absent: the design day's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub outdoor_c: Option<f64>,
    /// Circuits and users that are switched off.
    #[serde(default)]
    pub off: Vec<String>,
    /// Loops whose ports are shut.
    #[serde(default)]
    pub shut: Vec<String>,
    /// Tanks of hot water are being heated: by priority, everything else waits.
    #[serde(default)]
    pub charging: bool,
    /// Another arrangement than the job's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub arrangement: Option<Arrangement>,
    /// Another order than the job's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub order: Option<Vec<String>>,
    /// The source's water leaves at that temperature, °C.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub source_c: Option<f64>,
}

/// A plant at work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlantState {
    /// Outdoor temperature, °C.
    pub outdoor_c: f64,
    /// The arrangement.
    pub arrangement: Arrangement,
    /// The source, and the second one.
    pub sources: Vec<SourceState>,
    /// Circuits and users as the water meets them.
    pub circuits: Vec<CircuitState>,
    /// Heated rooms as they settle without a thermostat's hand.
    pub rooms: Vec<RoomState>,
    /// Electricity of all pumps of known models, W.
    pub pumps_w: f64,
    /// Pipes of the drawing.
    pub pipes: Vec<PipeState>,
    /// Symbols of the drawing.
    pub symbols: Vec<Symbol>,
    /// Width and height of the drawing, squares.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub size: [f64; 2],
    /// What does not work as it should.
    pub notes: Vec<String>,
}

/// A source at work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SourceState {
    /// `source` or `second`.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Whether it runs.
    pub runs: bool,
    /// Temperature at which its water should leave, °C.
    pub wanted_c: f64,
    /// At which it leaves, °C; none where nothing flows.
    pub leaves_c: Option<f64>,
    /// At which it comes back, °C.
    pub returns_c: Option<f64>,
    /// Flow through it, L/min.
    pub flow_l_min: f64,
    /// Heat it gives, W.
    pub heat_w: f64,
    /// Heat it can give at these temperatures, W.
    pub most_w: f64,
    /// It gives all it can, and that is not enough.
    pub at_most: bool,
    /// Its flue gas condenses; none where that is not its kind.
    pub condenses: Option<bool>,
    /// Heat over electricity of a heat pump.
    pub cop: Option<f64>,
    /// Its own pump.
    pub pump: Option<PumpPoint>,
}

/// A circuit or user at work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CircuitState {
    /// Its id.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Whether its pump runs.
    pub on: bool,
    /// Supply temperature that it needs, °C; none where it wants no heat.
    pub needs_c: Option<f64>,
    /// That it gets, °C; none where nothing flows.
    pub supply_c: Option<f64>,
    /// Return, °C.
    pub return_c: Option<f64>,
    /// Flow, L/min.
    pub flow_l_min: f64,
    /// The design's, L/min.
    pub design_flow_l_min: f64,
    /// Heat it takes, W.
    pub heat_w: f64,
    /// Heat it wants, W.
    pub wants_w: f64,
    /// Share of hot water in its supply, 0…1; none without mixing.
    pub hot_share: Option<f64>,
    /// Share of its mixing valve in all that takes pressure where its flow changes; none without one.
    pub authority: Option<f64>,
    /// How its supply is set.
    pub mixing: Mixing,
    /// It wants the same in all weather.
    pub always: bool,
    /// Its pump.
    pub pump: PumpPoint,
    /// Bore of its mains, m.
    pub mains_bore_m: f64,
    /// Velocity in them, m/s.
    pub mains_m_s: f64,
}

/// A pump at its operating point.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PumpPoint {
    /// One of the library; none for a typed curve.
    pub model_id: Option<String>,
    /// What it is called.
    pub name: String,
    /// Whether it lifts what the design needs.
    pub serves: bool,
    /// How it is run.
    pub control: PumpControl,
    /// Flow, L/min.
    pub flow_l_min: f64,
    /// Head, Pa.
    pub head_pa: f64,
    /// Electricity, W; none for a typed curve.
    pub electric_w: Option<f64>,
    /// What the design needs of it, L/min.
    pub design_flow_l_min: f64,
    /// What the design needs of it, Pa.
    pub design_head_pa: f64,
}

/// A pipe of the drawing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PipeState {
    /// Along the water's way where it flows forward, squares.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub points: Vec<[f64; 2]>,
    /// L/min; below 0 against the points.
    pub flow_l_min: f64,
    /// Its water, °C; none where it stands.
    pub temperature_c: Option<f64>,
}

/// What a source gives at most with such water in such weather, W, and a heat pump's coefficient of performance.
pub fn source_at(source: &HeatSource, outdoor_c: f64, water_c: f64) -> (f64, Option<f64>) {
    if !source.kind.is_heat_pump() {
        return (source.most_w, None);
    }
    let points = &source.points;
    if points.is_empty() {
        let [warm, cold] = [water_c + APPROACH_K, outdoor_c - APPROACH_K];
        let cop = CARNOT_SHARE * (warm + 273.15) / (warm - cold).max(5.0);
        return (source.most_w, Some(cop.max(1.0)));
    }
    // by the water at each outdoor temperature of the table, then between these; never beyond its ends
    let at_water = |outdoor: f64| {
        let mut row: Vec<_> = points.iter().filter(|p| p.outdoor_c == outdoor).collect();
        row.sort_by(|a, b| a.water_c.total_cmp(&b.water_c));
        let between = |of: fn(&super::part::HeatPumpPoint) -> f64| {
            between(&row.iter().map(|p| (p.water_c, of(p))).collect::<Vec<_>>(), water_c)
        };
        (between(|p| p.output_w), between(|p| p.cop))
    };
    let mut outdoors: Vec<f64> = points.iter().map(|p| p.outdoor_c).collect();
    outdoors.sort_by(f64::total_cmp);
    outdoors.dedup();
    let rows: Vec<(f64, (f64, f64))> = outdoors.iter().map(|o| (*o, at_water(*o))).collect();
    let of =
        |pick: fn(&(f64, f64)) -> f64| between(&rows.iter().map(|(o, v)| (*o, pick(v))).collect::<Vec<_>>(), outdoor_c);
    (of(|v| v.0), Some(of(|v| v.1)))
}

/// Straight between points that grow in x, held at the ends.
fn between(points: &[(f64, f64)], x: f64) -> f64 {
    let Some(next) = points.iter().position(|p| p.0 >= x) else { return points.last().map_or(0.0, |p| p.1) };
    if next == 0 {
        return points[0].1;
    }
    let ((x0, y0), (x1, y1)) = (points[next - 1], points[next]);
    y0 + (y1 - y0) * (x - x0) / (x1 - x0)
}

/// The plant with what a trial changes of it.
pub(crate) fn tried(plant: &Plant, trial: &PlantTrial) -> Plant {
    let mut plant = plant.clone();
    if let Some(arrangement) = trial.arrangement {
        plant.arrangement = arrangement;
    }
    if let Some(order) = &trial.order {
        plant.order.clone_from(order);
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
    if let Some(source) = trial.source_c {
        crate::check::range("trial.source_c", source, 10.0, 90.0)?;
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
        let typed = trial.source_c.or(plant.source.leaves_c);
        Work {
            study,
            plant,
            consumers,
            trial,
            outdoor_c,
            on,
            rooms: RoomsHeat::at(study, outdoor_c),
            settled: Settled::default(),
            leaves_c: typed.unwrap_or(needed).min(plant.source.most_c),
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
        let free = self.trial.source_c.or(self.plant.source.leaves_c).is_none();
        let (mut round, mut rest) = (0, Rest::default());
        loop {
            let pipework = self.site().build();
            let network = pipework.network(&self.study.job, self.pressure_node());
            let solution = network.solve_after(&mut rest).map_err(|e| self.named(e))?;
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
            if !moves || round == MOST_ROUNDS {
                return Ok((pipework, solution));
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
        let per = self.per;
        let mut more = flows.fields_w(self.study, per);
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
                    more[e.room] += link.flow_l_min * (a - b) * per;
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

    /// An error of the network with the parts' names as people know them.
    fn named(&self, e: FieldError) -> FieldError {
        let id = e.field.split_once('(').and_then(|(_, rest)| rest.strip_suffix(')')).unwrap_or(&e.field).to_owned();
        let mut parts = id.split('/');
        let field = match (parts.next(), parts.next()) {
            (Some("c" | "u"), Some(of)) => {
                let name = self.consumers.iter().find(|c| c.id == of).map_or(of, |c| c.name);
                format!("circuit {name}")
            }
            (Some("source"), _) => "the source".into(),
            (Some("second"), _) => "the second source".into(),
            _ => id.clone(),
        };
        let what = if id.ends_with("pump") { "its pump " } else { "" };
        FieldError::new(field, format!("{what}{}", e.reason))
    }

    fn told(&self, pipework: &Pipework, solution: &Solution) -> PlantState {
        let (flows, nodes, site) = (Flows::of(solution), Nodes::of(solution), self.site());
        let per = self.per;
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
                let temperature_c = nodes.get(&s.node).filter(|_| flow_l_min.abs() > 1e-3);
                PipeState { points: s.points.clone(), flow_l_min, temperature_c }
            })
            .collect();
        let given = {
            let mut more = flows.fields_w(self.study, per);
            for c in self.consumers {
                let Who::User(user) = c.who else { continue };
                let Takes::Emitters { emitter_ids, .. } = &user.takes else { continue };
                for e in emitters_by_room(self.study, emitter_ids) {
                    let link = flows.get(&format!("u/{}/room/{}", user.id, e.room));
                    let heat = link.and_then(|l| Some(l.flow_l_min * (l.from_c? - l.to_c?) * per));
                    more[e.room] += heat.unwrap_or(0.0);
                }
            }
            self.rooms.given(&flows.shares(self.study), &more)
        };
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

    fn point(&self, pump: &ChosenPump, control: PumpControl, flows: &Flows, id: &str, design: [f64; 2]) -> PumpPoint {
        let link = flows.get(id);
        let (flow, head) = link.map_or((0.0, 0.0), |l| (l.flow_l_min, -l.pressure_drop_pa));
        let runs = flow > 1e-3;
        PumpPoint {
            model_id: pump.model_id.clone(),
            name: pump.name.clone(),
            serves: pump.serves,
            control,
            flow_l_min: if runs { flow } else { 0.0 },
            head_pa: if runs { head } else { 0.0 },
            electric_w: pump
                .electric_w(control, flow, head / (self.water.density * GRAVITY))
                .map(|w| if runs { w } else { 0.0 }),
            design_flow_l_min: design[0],
            design_head_pa: design[1],
        }
    }

    fn circuit(&self, site: &Site, c: &Consumer, on: bool, flows: &Flows, nodes: &Nodes) -> CircuitState {
        let id = |what: &str| format!("c/{}/{what}", c.id);
        let (pump, head) = site.pump(c);
        let flow_l_min = flows.flow(&id("pump"));
        let moves = flow_l_min.abs() > 1e-3;
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
            pump: self.point(&pump, c.feed.pump.control, flows, &id("pump"), [c.flow_l_min, head]),
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
        let valve = 3000.0;
        let changing = match self.plant.arrangement {
            Arrangement::Direct => {
                let source = &self.plant.source;
                let own = site.pump(c).1 - c.head_pa - valve;
                own.max((c.flow_l_min * 0.06 / source.kv_m3_h).powi(2) * 1e5)
            }
            _ => 200.0,
        };
        Some(valve / (valve + changing))
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
        let moves = flow_l_min.abs() > 1e-3;
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
                self.point(&pump, source.pump.control, flows, &format!("{id}/pump"), [flow, head])
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

/// What the emitters of a job can give together with water at a mean temperature, W.
pub fn emitters_can_w(study: &Solved, mean_c: f64) -> f64 {
    let rooms = study.job.rooms.iter();
    let of = |room: &crate::job::Room| {
        let ratings = room.emitters.iter().filter_map(super::emitters::rating);
        ratings.map(|r| r.output_w(mean_c - room.room_c)).sum::<f64>()
    };
    rooms.map(of).sum()
}

/// Mean water temperature at which emitters of a room give what it needs, °C; none where they are not known.
pub fn emitters_need_c(study: &Solved, room: usize) -> Option<f64> {
    let of = &study.job.rooms[room];
    let ratings: Vec<_> = of.emitters.iter().filter_map(super::emitters::rating).collect();
    excess_for(&ratings, study.rooms[room].heat_loss_w).map(|k| of.room_c + k)
}

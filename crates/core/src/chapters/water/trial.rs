//! A circuit of floors tried as the network makes it: the pump's operating point, the flow through every port, and the rooms
//! that result, with zones shut, without balancing valves, or with a loop half blocked. The source is taken to deliver the
//! supply temperature; what the plant makes of it is the plant's.
//!
//! ```
//! use fuoco_core::job::CheckedJob;
//! use fuoco_core::samples::{box_room, job_of, manifold};
//! use fuoco_core::study::Study;
//! use fuoco_core::water::trial::{WaterTrial, try_circuit};
//! let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
//! job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
//! let study = Study::of(&CheckedJob::new(job)?)?;
//! let tried = try_circuit(&study, &WaterTrial::default())?;
//! // the network gives each loop the flow that the design asks for
//! assert!((tried.ports[0].flow_l_min / tried.ports[0].design_flow_l_min - 1.0).abs() < 0.01);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::bypass::{Bypass, bypass};
use super::part::{PumpChoice, PumpControl};
pub use super::pipework::Blocked;
use super::pipework::{Changed, FloorDuty, Pipework, feed_of, fields, floor_duty, floors, manifolds_of, network_error};
use super::pumps::{ChosenPump, PumpPoint, choose, control};
use super::rooms::RoomsHeat;
use super::valves::ValveSetting;
use crate::error::FieldError;
use crate::flow::GRAVITY;
use crate::fluid::{self, Properties};
use crate::network::{Control, CurvePoint, Part, Rest, Solution};
use crate::study::solved::Solved;
use serde::{Deserialize, Serialize};
use std::collections::HashMap;

/// Rooms are settled within this, K.
const SETTLED_K: f64 = 0.01;
/// Rounds between network and rooms.
const MOST_ROUNDS: usize = 40;
/// Less than this is what leaks through shut valves, L/min.
pub(crate) const STANDS_L_MIN: f64 = 1e-3;
/// Points of the curves that are drawn.
const CURVE_POINTS: u32 = 16;

/// What is tried.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct WaterTrial {
    /// The circuit; empty: the only one.
    #[serde(default)]
    pub circuit_id: String,
    /// Loops whose ports are shut.
    #[serde(default)]
    pub shut: Vec<String>,
    /// Balancing valves wide open.
    #[serde(default)]
    pub without_valves: bool,
    /// A loop that is half blocked.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub blocked: Option<Blocked>,
    /// Another pump or control than the circuit's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pump: Option<PumpChoice>,
}

/// What comes of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WaterTried {
    /// The circuit.
    pub circuit_id: String,
    /// Its supply temperature, °C.
    pub supply_c: f64,
    /// Mixed return, °C; none where nothing flows.
    pub return_c: Option<f64>,
    /// Its pump at work.
    pub pump: PumpState,
    /// Every port, by manifold and number.
    pub ports: Vec<PortState>,
    /// Its rooms as they settle without a thermostat's hand.
    pub rooms: Vec<RoomState>,
    /// What each way of running the pump would make of the same.
    pub controls: Vec<ControlState>,
    /// The differential bypass that a pump at one speed wants where zones shut.
    pub bypass: Option<Bypass>,
    /// What does not work as it should.
    pub notes: Vec<String>,
}

/// A pump at work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PumpState {
    /// At its operating point.
    #[serde(flatten)]
    pub point: PumpPoint,
    /// Chosen by the program.
    pub chosen: bool,
    /// Its curve at full speed.
    pub curve: Vec<FlowHead>,
    /// Head that the piping takes by flow.
    pub system: Vec<FlowHead>,
}

/// A point of a curve.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FlowHead {
    /// L/min
    pub flow_l_min: f64,
    /// Pa
    pub head_pa: f64,
}

/// A port.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PortState {
    /// The loop, or the field as `f/ROOM/N`.
    pub id: String,
    /// Its tag; of a field the room's name.
    pub tag: String,
    /// The manifold.
    pub manifold_id: String,
    /// Rooms that it heats.
    pub room_ids: Vec<String>,
    /// Shut in this trial.
    pub shut: bool,
    /// Flow, L/min.
    pub flow_l_min: f64,
    /// The design's, L/min.
    pub design_flow_l_min: f64,
    /// Velocity, m/s.
    pub velocity_m_s: f64,
    /// Return temperature, °C; none where nothing flows.
    pub return_c: Option<f64>,
    /// Heat, W.
    pub heat_w: f64,
    /// Pressure drop of the loop's tube, its leaders left out, Pa.
    pub tube_pa: f64,
    /// Of its leaders, Pa.
    pub leaders_pa: f64,
    /// Of its port and fittings, Pa.
    pub port_pa: f64,
    /// Of its balancing valve, Pa.
    pub valve_pa: f64,
    /// How its balancing valve is set; none where it stays wide open.
    pub valve: Option<ValveSetting>,
    /// It takes most of its manifold's loops.
    pub index: bool,
}

/// A room as it settles.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoomState {
    /// The room.
    pub id: String,
    /// Its temperature, °C.
    pub room_c: f64,
    /// Its design temperature, °C.
    pub set_c: f64,
    /// Heat that the network gives it, W.
    pub heat_w: f64,
}

/// The same under another control.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ControlState {
    /// The control.
    pub control: PumpControl,
    /// Flow, L/min; none where the pump does not stand it.
    pub flow_l_min: Option<f64>,
    /// Head, Pa.
    pub head_pa: Option<f64>,
    /// Electricity, W.
    pub electric_w: Option<f64>,
    /// Fastest water in a loop, m/s.
    pub fastest_m_s: f64,
    /// Largest pressure across a port with its valve, Pa.
    pub port_pa: f64,
    /// Why there are no figures.
    pub refused: Option<String>,
}

/// A network's links by name.
pub(crate) struct Flows<'a>(HashMap<&'a str, &'a crate::network::LinkFlow>);

impl<'a> Flows<'a> {
    pub fn of(solution: &'a Solution) -> Flows<'a> {
        Flows(solution.links.iter().map(|l| (l.id.as_str(), l)).collect())
    }

    pub fn get(&self, id: &str) -> Option<&'a crate::network::LinkFlow> {
        self.0.get(id).copied()
    }

    pub fn flow(&self, id: &str) -> f64 {
        self.get(id).map_or(0.0, |l| l.flow_l_min)
    }

    fn drop_pa(&self, id: &str) -> f64 {
        self.get(id).map_or(0.0, |l| l.pressure_drop_pa)
    }

    /// What loops carry as shares of their design's heat.
    pub fn shares(&self, study: &Solved) -> Vec<f64> {
        let share = |l: &crate::loops::report::LoopDesign| {
            let design = l.flow_l_min * (l.supply_c - l.return_c);
            let now = self.get(&format!("l/{}/heat", l.id));
            let now = now.and_then(|f| Some(f.flow_l_min * (f.from_c? - f.to_c?))).unwrap_or(0.0);
            if design > 0.0 { now / design } else { 0.0 }
        };
        study.loops.iter().map(share).collect()
    }

    /// Heat of fields by room, W.
    pub fn fields_w(&self, study: &Solved, per_l_min_k: f64) -> Vec<f64> {
        let of = |(d, fields): (&str, &Vec<crate::floor::report::FieldDesign>)| {
            let one = |(k, f): (usize, &crate::floor::report::FieldDesign)| {
                let now = self.get(&format!("f/{d}/{k}"))?;
                let heat = now.flow_l_min * (now.from_c? - now.to_c?) * per_l_min_k;
                Some(heat * f.heat_w / (f.heat_w + f.back_w).max(1e-9))
            };
            fields.iter().enumerate().filter_map(one).sum()
        };
        study.rooms.iter().map(|d| of((&d.id, &d.fields))).collect()
    }
}

/// Heat that a flow of 1 L/min carries per kelvin, W.
pub(crate) fn per_l_min_k(water: &Properties) -> f64 {
    water.density * water.specific_heat / 60_000.0
}

struct Set<'a> {
    study: &'a Solved,
    circuit: usize,
    supply_c: f64,
    water: Properties,
    duty: FloorDuty,
    trial: &'a WaterTrial,
}

/// Tries a circuit.
///
/// # Errors
/// Names the circuit that is not there or carries no water, the loop or share that makes no sense, and the part for which the
/// network found no balance.
pub fn try_circuit(study: &Solved, trial: &WaterTrial) -> Result<WaterTried, FieldError> {
    let job = &study.job;
    let circuit = study
        .circuits
        .iter()
        .position(|c| c.id == trial.circuit_id)
        .ok_or_else(|| FieldError::new("trial.circuit_id", "there is no such circuit"))?;
    let design = &study.circuits[circuit];
    let supply_c = design.supply_c.filter(|_| design.flow_l_min > 0.0);
    let supply_c = supply_c.ok_or_else(|| FieldError::new("trial.circuit_id", "nothing on this circuit wants heat"))?;
    if let Some(blocked) = &trial.blocked {
        crate::check::range("trial.blocked.open_share", blocked.open_share, 0.01, 1.0)?;
        if !study.loops.iter().any(|l| l.id == blocked.loop_id) {
            return Err(FieldError::new("trial.blocked.loop_id", "there is no such loop"));
        }
    }
    let water = fluid::properties(&job.fluid, design.return_c.map_or(supply_c, |r| f64::midpoint(r, supply_c)))?;
    let set = Set { study, circuit, supply_c, duty: floor_duty(study, circuit, &water), water, trial };
    let choice = trial.pump.clone().unwrap_or_else(|| feed_of(job, circuit).pump);
    let pump = choose(job, &choice, set.duty.flow_l_min, set.head_m(set.duty.head_pa));
    let (solution, rooms) = set.settle(&pump, &choice)?;
    let flows = Flows::of(&solution);
    let ports = set.ports(&flows);
    let at = flows.get("pump").map_or((0.0, 0.0), |p| (p.flow_l_min, -p.pressure_drop_pa));
    let smallest = ports.iter().map(|p| p.design_flow_l_min).fold(f64::MAX, f64::min);
    let given = rooms.given(&flows.shares(study), &flows.fields_w(study, per_l_min_k(&set.water)));
    let states = study.rooms.iter().enumerate().filter(|(_, d)| design.room_ids.contains(&d.id)).map(|(r, d)| {
        RoomState { id: d.id.clone(), room_c: rooms.room_c(r), set_c: job.rooms[r].room_c, heat_w: given[r] }
    });
    let to_curve = |p: &CurvePoint| FlowHead { flow_l_min: p.flow_l_min, head_pa: set.pa(p.head_m) };
    let end = pump.curve.last().map_or(0.0, |p| p.flow_l_min);
    let curve = (0..=CURVE_POINTS).map(|k| end * f64::from(k) / f64::from(CURVE_POINTS));
    Ok(WaterTried {
        circuit_id: trial.circuit_id.clone(),
        supply_c,
        return_c: flows.get("pump").and_then(|p| p.from_c).filter(|_| at.0 > STANDS_L_MIN),
        pump: PumpState {
            point: pump.at(choice.control, at, set.water.density, [set.duty.flow_l_min, set.duty.head_pa]),
            chosen: choice.model_id.is_none() && choice.curve.is_empty(),
            curve: curve.map(|q| to_curve(&CurvePoint { flow_l_min: q, head_m: pump.head_m(q) })).collect(),
            system: set.system(&pump, at)?,
        },
        bypass: bypass(&pump, &choice, [set.duty.flow_l_min, set.duty.head_pa], smallest, set.water.density),
        ports,
        rooms: states.collect(),
        controls: set.controls(&choice),
        notes: solution.notes.iter().map(|n| n.replace("Pump pump", "The pump")).collect(),
    })
}

impl Set<'_> {
    fn head_m(&self, pa: f64) -> f64 {
        pa / (self.water.density * GRAVITY)
    }

    fn pa(&self, head_m: f64) -> f64 {
        head_m * self.water.density * GRAVITY
    }

    fn changed(&self) -> Changed<'_> {
        Changed {
            shut: &self.trial.shut,
            without_valves: self.trial.without_valves,
            blocked: self.trial.blocked.as_ref(),
        }
    }

    fn pipework(&self, rooms: &RoomsHeat, curve: Vec<CurvePoint>, control: Control) -> Pipework {
        let mut pipework = Pipework::default();
        let source = Part::Source { leaves_c: Some(self.supply_c), heat_w: None, most_w: None, kv_m3_h: None };
        pipework.link("source", "back", "hot", source);
        pipework.pump("pump", "hot", "supply", curve, control, true);
        floors(&mut pipework, self.study, self.circuit, ["supply", "back"], self.changed(), rooms, &self.water);
        pipework
    }

    /// An error of the network with the loops' tags.
    fn named(&self, e: &FieldError) -> FieldError {
        network_error(e, |part| match part.split('/').next() {
            Some("pump") => Some(format!("circuit {}", self.study.circuits[self.circuit].name)),
            // ids of loops have slashes of their own
            Some("l") => self
                .study
                .loops
                .iter()
                .find(|l| part.starts_with(&format!("l/{}/", l.id)))
                .map(|l| format!("loop {}", l.tag)),
            _ => None,
        })
    }

    /// Network and rooms until both rest.
    fn settle(&self, pump: &ChosenPump, choice: &PumpChoice) -> Result<(Solution, RoomsHeat<'_>), FieldError> {
        let mut rooms = RoomsHeat::at(self.study, self.study.job.site.outdoor_c);
        let control = control(choice, self.head_m(self.duty.head_pa), self.duty.drop_k, ["supply", "back"]);
        let (mut round, mut rest) = (0, Rest::default());
        loop {
            let pipework = self.pipework(&rooms, pump.curve.clone(), control.clone());
            let solution =
                pipework.network(&self.study.job, "back").solve_after(&mut rest).map_err(|e| self.named(&e))?;
            let flows = Flows::of(&solution);
            let fields = flows.fields_w(self.study, per_l_min_k(&self.water));
            let off = rooms.take(&flows.shares(self.study), &fields, &vec![self.supply_c; self.study.rooms.len()]);
            round += 1;
            if off < SETTLED_K {
                return Ok((solution, rooms));
            }
            if round == MOST_ROUNDS {
                return Err(FieldError::new("trial", "piping and rooms do not come to rest together"));
            }
        }
    }

    /// Head of the piping by flow: the pump made to give each flow.
    fn system(&self, pump: &ChosenPump, at: (f64, f64)) -> Result<Vec<FlowHead>, FieldError> {
        let rooms = RoomsHeat::at(self.study, self.study.job.site.outdoor_c);
        let end = pump.curve.last().map_or(0.0, |p| p.flow_l_min).min(1.6 * at.0.max(self.duty.flow_l_min));
        let mut out = vec![FlowHead { flow_l_min: 0.0, head_pa: 0.0 }];
        if at.0 < 0.01 * self.duty.flow_l_min {
            return Ok(out);
        }
        // strong enough for every flow on the way
        let strong = |head_m| CurvePoint { flow_l_min: if head_m > 0.0 { 0.0 } else { 10.0 * end }, head_m };
        for k in 1..=CURVE_POINTS / 2 {
            let flow_l_min = end * f64::from(k) / f64::from(CURVE_POINTS / 2);
            let curve = vec![strong(500.0), strong(0.0)];
            let pipework = self.pipework(&rooms, curve, Control::FixedFlow { flow_l_min });
            let solution = pipework.network(&self.study.job, "back").solve().map_err(|e| self.named(&e))?;
            let head_pa = Flows::of(&solution).get("pump").map_or(0.0, |p| -p.pressure_drop_pa);
            out.push(FlowHead { flow_l_min, head_pa });
        }
        Ok(out)
    }

    fn ports(&self, flows: &Flows) -> Vec<PortState> {
        let (study, trial) = (self.study, self.trial);
        let mut out = Vec::new();
        for m in manifolds_of(study, self.circuit) {
            let from = out.len();
            for l in study.loops.iter().filter(|l| l.manifold_id == m.id && l.flow_l_min > 0.0) {
                let id = |what: &str| format!("l/{}/{what}", l.id);
                let tube = flows.drop_pa(&id("warm")) + flows.drop_pa(&id("cool"));
                let both = flows.drop_pa(&id("port"));
                let leaders = tube * (l.leader_length_m / l.length_m.max(1e-9)).min(1.0);
                let valve = l.valve.filter(|_| !trial.without_valves);
                let port = valve.map_or(both, |v| both / (1.0 + (crate::flow::PORT_KV / v.kv_m3_h).powi(2)));
                let shut = trial.shut.contains(&l.id);
                let heat = flows.get(&id("heat"));
                out.push(PortState {
                    id: l.id.clone(),
                    tag: l.tag.clone(),
                    manifold_id: m.id.clone(),
                    room_ids: l.room_ids.clone(),
                    shut,
                    flow_l_min: flows.flow(&id("warm")),
                    design_flow_l_min: l.flow_l_min,
                    velocity_m_s: flows.get(&id("warm")).map_or(0.0, |f| f.velocity_m_s.abs()),
                    return_c: heat.and_then(|h| h.to_c).filter(|_| !shut),
                    heat_w: heat.map_or(0.0, |h| self.heat(h)),
                    tube_pa: tube - leaders,
                    leaders_pa: leaders,
                    port_pa: if shut { 0.0 } else { port },
                    valve_pa: if shut { both } else { both - port },
                    valve,
                    index: false,
                });
            }
            for (room, (r, k), f) in fields(study, &m.id) {
                let id = format!("f/{room}/{k}");
                let link = flows.get(&id);
                let drop = flows.drop_pa(&id);
                let whole = f.head_loss_pa + f.balancing_pa;
                let valve = if whole > 0.0 { drop * f.balancing_pa / whole } else { 0.0 };
                out.push(PortState {
                    id,
                    tag: study.rooms[r].name.clone(),
                    manifold_id: m.id.clone(),
                    room_ids: vec![room.to_owned()],
                    shut: false,
                    flow_l_min: link.map_or(0.0, |l| l.flow_l_min),
                    design_flow_l_min: f.flow_l_min,
                    velocity_m_s: f.velocity_m_s * link.map_or(0.0, |l| l.flow_l_min) / f.flow_l_min.max(1e-9),
                    return_c: link.and_then(|l| l.to_c),
                    heat_w: link.map_or(0.0, |l| self.heat(l)),
                    tube_pa: drop - valve,
                    leaders_pa: 0.0,
                    port_pa: 0.0,
                    valve_pa: valve,
                    valve: f.valve,
                    index: false,
                });
            }
            let taken = |p: &PortState| p.tube_pa + p.leaders_pa + p.port_pa;
            let open = out[from..].iter_mut().filter(|p| !p.shut);
            if let Some(worst) = open.max_by(|a, b| taken(a).total_cmp(&taken(b))) {
                worst.index = true;
            }
        }
        out
    }

    fn heat(&self, link: &crate::network::LinkFlow) -> f64 {
        let drop = link.from_c.zip(link.to_c).map_or(0.0, |(a, b)| a - b);
        link.flow_l_min * drop * per_l_min_k(&self.water)
    }

    /// Each way of running the pump.
    fn controls(&self, choice: &PumpChoice) -> Vec<ControlState> {
        let all = [
            PumpControl::FixedSpeed,
            PumpControl::ConstantPressure,
            PumpControl::ProportionalPressure,
            PumpControl::ConstantDifference,
        ];
        all.map(|control| {
            let choice = PumpChoice { control, ..choice.clone() };
            let pump = choose(&self.study.job, &choice, self.duty.flow_l_min, self.head_m(self.duty.head_pa));
            match self.settle(&pump, &choice) {
                Err(e) => ControlState {
                    control,
                    flow_l_min: None,
                    head_pa: None,
                    electric_w: None,
                    fastest_m_s: 0.0,
                    port_pa: 0.0,
                    refused: Some(e.reason),
                },
                Ok((solution, _)) => {
                    let flows = Flows::of(&solution);
                    let at = flows.get("pump").map_or((0.0, 0.0), |p| (p.flow_l_min, -p.pressure_drop_pa));
                    let ports = self.ports(&flows);
                    let open = || ports.iter().filter(|p| !p.shut);
                    ControlState {
                        control,
                        flow_l_min: Some(at.0),
                        head_pa: Some(at.1),
                        electric_w: pump.electric_w(control, at.0, self.head_m(at.1)),
                        fastest_m_s: open().map(|p| p.velocity_m_s).fold(0.0, f64::max),
                        port_pa: open().map(|p| p.port_pa + p.valve_pa).fold(0.0, f64::max),
                        refused: None,
                    }
                }
            }
        })
        .to_vec()
    }
}

//! The house as it would be with a fault: the circuits' network with what the fault changes, rooms that thermostats hold where
//! the heat is enough, and what instruments would show there.

use super::faults::{Fault, Place};
use crate::error::FieldError;
use crate::flow::{GRAVITY, PORT_KV};
use crate::fluid::{self, Properties};
use crate::loops::report::LoopDesign;
use crate::network::{Network, NetworkFluid, Part, Rest};
use crate::plant::needs::{consumers, floor_supply_c};
use crate::study::Study;
use crate::water::part::{Fluid, FluidKind, Mixing, PumpChoice, PumpControl};
use crate::water::pipework::{Changed, Pipework, blockage_k, feed_of, floor_duty, floors, in_line};
use crate::water::pumps::{choose, control};
use crate::water::rooms::RoomsHeat;
use crate::water::trial::{Flows, STANDS_L_MIN, per_l_min_k};

/// Rooms are settled within this, K.
const SETTLED_K: f64 = 0.02;
/// Rounds between network and rooms; whoever has not settled by then is near enough for a thermometer.
const MOST_ROUNDS: usize = 25;
/// A cold house begins so far below its thermostats, K.
const BEGINS_BELOW_K: f64 = 6.0;
/// Rooms follow their floors so much later, h.
const ROOM_LAGS_H: f64 = 12.0;
/// A cold slab takes so much more than a warm one at first, as share.
const SLAB_TAKES: f64 = 1.2;
/// Flux falls with the spacing to this power, between those of EN 1264's spacing factors for wet and dry floors.
const SPACING_POWER: f64 = 0.45;
/// The surface's excess grows with the flux to this power: EN 1264-2 has 8.92 (θF − θi)^1.1.
const SURFACE_POWER: f64 = 1.0 / 1.1;
/// Flow factor of a return that is not there to be felt, m³/h.
const WIDE_KV: f64 = 1000.0;

/// What hands have set where that is not as designed.
#[derive(Debug, Clone, Default, PartialEq)]
pub(crate) struct Hands {
    /// By loop of the study: the flow factor of its valve, m³/h; wide open without one. All as designed where there are none.
    pub valves: Vec<Option<f64>>,
    /// Loops whose actuators are shut.
    pub shut: Vec<String>,
    /// Every circuit's pump.
    pub pump: Option<PumpChoice>,
    /// The reset line is moved by, K.
    pub shift_k: f64,
    /// Water that comes whatever is asked for, °C: of a source that does not run.
    pub comes_c: Option<f64>,
    /// What is in the tubes has that all over, °C, rather than what the water has where it is.
    pub cold_c: Option<f64>,
    /// From supply to return beside the manifolds, m³/h.
    pub bypass_kv: Option<f64>,
}

/// What instruments would show in the house; by loop, room, circuit or manifold in the study's order.
#[derive(Debug, Clone, Default, PartialEq)]
pub(crate) struct Seen {
    pub source_supply_c: Option<f64>,
    pub source_target_c: Option<f64>,
    pub circuit_supply_c: Vec<Option<f64>>,
    pub circuit_return_c: Vec<Option<f64>>,
    pub circuit_target_c: Vec<Option<f64>>,
    pub circuit_flow_l_min: Vec<f64>,
    pub circuit_head_pa: Vec<f64>,
    pub manifold_supply_c: Vec<Option<f64>>,
    pub manifold_return_c: Vec<Option<f64>>,
    pub loop_flow_l_min: Vec<f64>,
    /// None where its water stands.
    pub loop_return_c: Vec<Option<f64>>,
    /// What standing water would have.
    pub loop_around_c: Vec<f64>,
    pub room_c: Vec<f64>,
    /// Held by its thermostat; else as warm as the heat makes it.
    pub room_held: Vec<bool>,
    pub thermostat_c: Vec<f64>,
    pub surface_c: Vec<Option<f64>>,
    pub freezing_c: f64,
    pub pressure_pa: Option<f64>,
    pub cold_pressure_pa: Option<f64>,
    pub hours_on: Option<f64>,
    pub gurgles: Vec<f64>,
    pub actuator_open: Vec<f64>,
    pub valve_open: Vec<f64>,
}

/// The house on the day of the visit, all thermostats calling.
pub(crate) struct House<'a> {
    study: &'a Study,
    pub outdoor_c: f64,
    /// Supply temperature that each circuit should have, °C; none where it is off.
    pub target_c: Vec<Option<f64>>,
    source_c: f64,
}

/// What a fault changes.
struct Spoilt {
    supply_c: Vec<Option<f64>>,
    target_c: Vec<Option<f64>>,
    source_c: f64,
    source_target_c: f64,
    fluid: Fluid,
    /// Share of the pump's head by circuit; 0: it stands.
    head: Vec<f64>,
    open: Vec<f64>,
    shut: Vec<String>,
    length: Vec<f64>,
    /// Heat per kelvin against the design's, by loop …
    ua: Vec<f64>,
    /// … and what of it goes up.
    up: Vec<f64>,
    swapped: Option<(usize, usize)>,
    /// What thermostats hold each room at.
    hold_c: Vec<f64>,
    /// How far floor and rooms have come, 0…1.
    come: [f64; 2],
    hands: Hands,
}

impl<'a> House<'a> {
    /// # Errors
    /// Where no circuit is on at that outdoor temperature.
    pub fn at(study: &'a Study, outdoor_c: f64) -> Result<House<'a>, FieldError> {
        let target_c: Vec<Option<f64>> = (0..study.circuits.len())
            .map(|c| floor_supply_c(study, c, outdoor_c).filter(|_| study.circuits[c].flow_l_min > 0.0))
            .collect();
        let most = target_c.iter().flatten().copied().reduce(f64::max).ok_or_else(|| {
            FieldError::new(
                "readings",
                "no floor is heated at that outdoor temperature: lay loops, or come in the cold",
            )
        })?;
        let source_c = match &study.job.plant {
            None => most,
            Some(plant) => {
                let water = fluid::properties(&study.job.fluid, most.clamp(10.0, 80.0))?;
                let all = consumers(study, plant, outdoor_c, &water);
                let heating = all.iter().filter(|c| !c.first).filter_map(|c| c.needs_c).fold(most, f64::max);
                plant.source.leaves_c.unwrap_or(heating).min(plant.source.most_c).max(most)
            }
        };
        Ok(House { study, outdoor_c, target_c, source_c })
    }

    fn sound(&self) -> Spoilt {
        let (study, n) = (self.study, self.study.loops.len());
        Spoilt {
            supply_c: self.target_c.clone(),
            target_c: self.target_c.clone(),
            source_c: self.source_c,
            source_target_c: self.source_c,
            fluid: study.job.fluid.clone(),
            head: vec![1.0; study.circuits.len()],
            open: vec![1.0; n],
            shut: vec![],
            length: vec![1.0; n],
            ua: vec![1.0; n],
            up: vec![1.0; n],
            swapped: None,
            hold_c: study.job.rooms.iter().map(|r| r.room_c).collect(),
            come: [1.0, 1.0],
            hands: Hands::default(),
        }
    }

    fn spoilt(&self, fault: Fault, place: Place, degree: f64) -> Spoilt {
        let mut s = self.sound();
        match (fault, place) {
            (Fault::WarmingUp, _) => {
                let slowest = self.study.rooms.iter().filter_map(|r| r.floor.as_ref()).map(|f| f.time_constant_s);
                let floor_h = slowest.fold(0.0, f64::max).max(3600.0) / 3600.0;
                let come = |lag_h: f64| 1.0 - (-degree / lag_h).exp();
                s.come = [come(floor_h), come(floor_h + ROOM_LAGS_H)];
                s.hold_c.iter_mut().for_each(|c| *c -= BEGINS_BELOW_K * (1.0 - s.come[1]));
                s.ua.iter_mut().for_each(|ua| *ua *= 1.0 + SLAB_TAKES * (1.0 - s.come[0]));
            }
            (Fault::LoopBlocked | Fault::AirLock, Place::Loop(l)) => s.open[l] = degree,
            (Fault::ValveShut | Fault::ActuatorDead, Place::Loop(l)) => s.shut.push(self.study.loops[l].id.clone()),
            (Fault::LoopsSwapped, Place::Pair(a, b)) => s.swapped = Some((a, b)),
            (Fault::PumpLow, Place::Circuit(c)) => s.head[c] = degree * degree,
            (Fault::PumpOff, Place::Circuit(c)) => s.head[c] = 0.0,
            (Fault::MixingStuck, Place::Circuit(c)) => {
                s.supply_c[c] = s.supply_c[c].map(|t| (t + degree).min(self.source_c));
            }
            (Fault::SourceWeak, _) => {
                s.source_c -= degree;
                s.supply_c.iter_mut().flatten().for_each(|t| *t = t.min(s.source_c));
            }
            (Fault::ResetWrong, _) => self.shift(&mut s, degree),
            (Fault::CoveringInsulating, Place::Room(r)) => {
                let k = self.study.rooms[r].k_up_w_m2k.unwrap_or(5.0);
                self.less_up(&mut s, r, 1.0 / (1.0 + degree * k), 0.0);
            }
            (Fault::SpacingWide, Place::Room(r)) => {
                self.less_up(&mut s, r, degree.powf(-SPACING_POWER), 0.0);
                for (l, w) in self.weights(r) {
                    s.length[l] = 1.0 - w * (1.0 - 1.0 / degree);
                }
            }
            (Fault::InsulationWet, Place::Room(r)) => self.less_up(&mut s, r, 1.0, degree),
            (Fault::SensorOff, Place::Room(r)) => s.hold_c[r] += degree,
            (Fault::GlycolStrong, _) => {
                if s.fluid.kind == FluidKind::Water {
                    s.fluid.kind = FluidKind::PropyleneGlycol;
                }
                s.fluid.mass_fraction = (s.fluid.mass_fraction + degree).min(0.6);
            }
            _ => {}
        }
        s
    }

    /// Moves the reset line.
    fn shift(&self, s: &mut Spoilt, by_k: f64) {
        for (c, target) in s.target_c.iter_mut().enumerate() {
            let follows = self.study.circuits[c].governing_room_id.is_some()
                && feed_of(&self.study.job, c).mixing != Mixing::Thermostatic;
            *target = target.map(|t| if follows { t + by_k } else { t });
        }
        if self.study.job.plant.as_ref().is_none_or(|p| p.source.leaves_c.is_none()) {
            s.source_c += by_k;
            s.source_target_c += by_k;
        }
        s.supply_c = s.target_c.iter().map(|t| t.map(|t| t.min(s.source_c))).collect();
    }

    /// Puts what hands have set on top of what is wrong.
    fn handled(&self, mut s: Spoilt, hands: &Hands) -> Spoilt {
        if hands.shift_k != 0.0 {
            let off: Vec<f64> =
                s.supply_c.iter().zip(&s.target_c).map(|(s, t)| s.zip(*t).map_or(0.0, |(s, t)| s - t)).collect();
            self.shift(&mut s, hands.shift_k);
            // a valve that sticks does not follow the line
            for (supply, off) in s.supply_c.iter_mut().zip(off) {
                *supply = supply.map(|c| if off.abs() > 1e-9 { c + off - hands.shift_k } else { c });
            }
        }
        if let Some(c) = hands.comes_c {
            s.source_c = c;
            s.supply_c.iter_mut().flatten().for_each(|t| *t = c);
        }
        s.shut.extend(hands.shut.iter().cloned());
        s.hands = hands.clone();
        s
    }

    /// Loops of a room, and which part of each is that room's.
    fn weights(&self, room: usize) -> Vec<(usize, f64)> {
        let id = &self.study.rooms[room].id;
        let of =
            |(l, d): (usize, &LoopDesign)| d.room_ids.contains(id).then(|| (l, 1.0 / d.room_ids.len().max(1) as f64));
        self.study.loops.iter().enumerate().filter_map(of).collect()
    }

    /// A room's loops with so much of their heat up, and so much more of it down, as shares of what goes up by design.
    fn less_up(&self, s: &mut Spoilt, room: usize, up: f64, more_down: f64) {
        for (l, w) in self.weights(room) {
            let d = &self.study.loops[l];
            let whole = (d.output_up_w + d.output_down_w).max(1e-9);
            let now_up = d.output_up_w * (1.0 - w + w * up);
            let now = now_up + d.output_down_w + w * more_down * d.output_up_w;
            s.ua[l] = now / whole;
            s.up[l] = now_up / d.output_up_w.max(1e-9) / s.ua[l].max(1e-9);
        }
    }

    /// What instruments would show.
    ///
    /// # Errors
    /// Names the part for which the network finds no balance.
    pub fn seen(&self, fault: Fault, place: Place, degree: f64) -> Result<Seen, FieldError> {
        self.seen_with(fault, place, degree, &Hands::default())
    }

    /// The same with what hands have set.
    ///
    /// # Errors
    /// As [`House::seen`].
    pub fn seen_with(&self, fault: Fault, place: Place, degree: f64, hands: &Hands) -> Result<Seen, FieldError> {
        let spoilt = self.handled(self.spoilt(fault, place, degree), hands);
        let mut rooms = RoomsHeat::at(self.study, self.outdoor_c);
        let mut rest = Rest::default();
        let middle = self.target_c.iter().flatten().fold(0.0, |m: f64, t| m.max(*t)) - 4.0;
        let water = fluid::properties(&spoilt.fluid, hands.cold_c.unwrap_or(middle.clamp(10.0, 80.0)))?;
        let within: Vec<[f64; 2]> = self
            .heats()
            .iter()
            .zip(&spoilt.hold_c)
            .map(|(own, c)| if *own { [f64::MIN, *c] } else { [*c, *c] })
            .collect();
        rooms.hold(&within, &rooms.all_c());
        for round in 1.. {
            let solution = self.network(&spoilt, &rooms, &water).solve_after(&mut rest)?;
            let flows = Flows::of(&solution);
            let shares = self.shares(&spoilt, &flows);
            let before = rooms.all_c();
            let per = per_l_min_k(&water);
            rooms.take(&shares, &flows.fields_w(self.study, per), &self.supplies(&spoilt));
            if rooms.hold(&within, &before) < SETTLED_K || round == MOST_ROUNDS {
                let mut seen = self.told(&spoilt, &flows, &rooms, &shares);
                self.beside(fault, place, degree, &mut seen);
                return Ok(seen);
            }
        }
        unreachable!("the last round returns")
    }

    /// Rooms that tubes heat: all others have their heat from elsewhere, as designed.
    fn heats(&self) -> Vec<bool> {
        let own = |d: &crate::study::room::RoomDesign| {
            let fields = d.fields.iter().any(|f| f.flow_l_min > 0.0);
            fields || self.study.loops.iter().any(|l| l.flow_l_min > 0.0 && l.room_ids.contains(&d.id))
        };
        self.study.rooms.iter().map(own).collect()
    }

    fn supplies(&self, spoilt: &Spoilt) -> Vec<f64> {
        let of = |d: &crate::study::room::RoomDesign| {
            let own = self.study.circuits.iter().position(|c| c.room_ids.contains(&d.id));
            own.and_then(|c| spoilt.supply_c[c]).unwrap_or(self.source_c)
        };
        self.study.rooms.iter().map(of).collect()
    }

    /// What goes up of each loop's heat, as shares of the design's.
    fn shares(&self, spoilt: &Spoilt, flows: &Flows) -> Vec<f64> {
        // what a cold slab swallows does not reach the room
        let arrives = 1.0 / (1.0 + SLAB_TAKES * (1.0 - spoilt.come[0]));
        flows.shares(self.study).iter().zip(&spoilt.up).map(|(s, up)| (s * up * arrives).max(0.0)).collect()
    }

    fn network(&self, spoilt: &Spoilt, rooms: &RoomsHeat, water: &Properties) -> Network {
        let (study, job) = (self.study, &self.study.job);
        let mut p = Pipework::default();
        for (c, supply_c) in spoilt.supply_c.iter().enumerate() {
            let Some(supply_c) = *supply_c else { continue };
            let node = |what: &str| format!("c/{c}/{what}");
            let source = Part::Source { leaves_c: Some(supply_c), heat_w: None, most_w: None, kv_m3_h: None };
            p.link(node("source"), "back", &node("hot"), source);
            let duty = floor_duty(study, c, water);
            let head_m = duty.head_pa / (water.density * GRAVITY);
            let choice = spoilt.hands.pump.clone().unwrap_or_else(|| feed_of(job, c).pump);
            let pump = choose(job, &choice, duty.flow_l_min, head_m);
            let share = spoilt.head[c];
            let wanted = control(&choice, head_m * share.max(0.01), duty.drop_k, [&node("supply"), &node("home")]);
            let curve =
                if choice.control == PumpControl::FixedSpeed || choice.control == PumpControl::ConstantDifference {
                    let weaker = |q: &crate::network::CurvePoint| crate::network::CurvePoint {
                        head_m: q.head_m * share.max(0.01),
                        flow_l_min: q.flow_l_min * share.max(0.01).sqrt(),
                    };
                    pump.curve.iter().map(weaker).collect()
                } else {
                    pump.curve
                };
            p.pump(&node("pump"), &node("hot"), &node("supply"), curve, wanted, share > 0.0);
            let changed = Changed { shut: &spoilt.shut, ..Changed::default() };
            floors(&mut p, study, c, [&node("supply"), &node("home")], changed, rooms, water);
            if let Some(kv_m3_h) = spoilt.hands.bypass_kv {
                p.link(node("bypass"), &node("supply"), &node("home"), Part::Valve { kv_m3_h, open: 1.0 });
            }
            p.link(node("way home"), &node("home"), "back", Part::Valve { kv_m3_h: WIDE_KV, open: 1.0 });
        }
        self.spoil(&mut p, spoilt);
        // the same properties everywhere where all of it is cold
        let fluid = match spoilt.hands.cold_c {
            Some(_) => NetworkFluid::Typed {
                density_kg_m3: water.density,
                viscosity_pa_s: water.viscosity,
                heat_capacity_j_kgk: Some(water.specific_heat),
            },
            None => NetworkFluid::Known { fluid: spoilt.fluid.clone(), temperature_c: None },
        };
        Network { fluid, pressure_node: "back".into(), links: p.links }
    }

    /// Puts what the fault changes into the loops' links.
    fn spoil(&self, p: &mut Pipework, spoilt: &Spoilt) {
        let kv = |l: &LoopDesign| l.valve.map(|v| v.kv_m3_h);
        for (i, l) in self.study.loops.iter().enumerate() {
            let own = format!("l/{}/", l.id);
            for link in p.links.iter_mut().filter(|k| k.id.starts_with(&own)) {
                match (&mut link.part, &link.id[own.len()..]) {
                    (Part::Pipe { length_m, minor_k, .. }, half) => {
                        *length_m *= spoilt.length[i];
                        if half == "warm" {
                            *minor_k += blockage_k(spoilt.open[i]);
                        }
                    }
                    (Part::Load { ua_w_k: Some(ua), .. }, _) => *ua *= spoilt.ua[i],
                    (Part::Valve { kv_m3_h, open }, "port") if *open > 0.0 && !spoilt.hands.valves.is_empty() => {
                        *kv_m3_h = in_line(PORT_KV, spoilt.hands.valves[i]);
                    }
                    (Part::Valve { kv_m3_h, open }, "port") if *open > 0.0 => {
                        let other = match spoilt.swapped {
                            Some((a, b)) if a == i => &self.study.loops[b],
                            Some((a, b)) if b == i => &self.study.loops[a],
                            _ => continue,
                        };
                        *kv_m3_h = in_line(PORT_KV, kv(other));
                    }
                    _ => {}
                }
            }
        }
    }

    fn told(&self, spoilt: &Spoilt, flows: &Flows, rooms: &RoomsHeat, shares: &[f64]) -> Seen {
        let (study, job) = (self.study, &self.study.job);
        let flow = |l: &LoopDesign| flows.flow(&format!("l/{}/warm", l.id)).max(0.0);
        let back = |l: &LoopDesign| {
            let link = flows.get(&format!("l/{}/heat", l.id))?;
            link.to_c.filter(|_| link.flow_l_min > STANDS_L_MIN)
        };
        let circuit = |c: usize, what: &str| flows.get(&format!("c/{c}/{what}"));
        let moves = |c: usize| circuit(c, "pump").is_some_and(|l| l.flow_l_min > STANDS_L_MIN);
        let supply = |c: usize| spoilt.supply_c[c].filter(|_| moves(c));
        let home = |c: usize| circuit(c, "way home").and_then(|l| l.from_c).filter(|_| moves(c));
        let circuits = 0..study.circuits.len();
        let of_manifold = |m: &crate::loops::report::ManifoldDesign| {
            study.circuits.iter().position(|c| c.manifold_ids.contains(&m.id)).unwrap_or(0)
        };
        let whole = rooms.given(&vec![1.0; study.loops.len()], &vec![0.0; study.rooms.len()]);
        let now = rooms.given(shares, &vec![0.0; study.rooms.len()]);
        let surface = |(r, d): (usize, &crate::study::room::RoomDesign)| {
            let over = d.surface_mean_c? - job.rooms[r].room_c;
            let share = if whole[r] > 0.0 { (now[r] / whole[r]).max(0.0) } else { return None };
            Some(rooms.room_c(r) + over * share.powf(SURFACE_POWER) * spoilt.come[0])
        };
        let (mut loop_flow_l_min, mut loop_return_c): (Vec<f64>, Vec<Option<f64>>) =
            study.loops.iter().map(|l| (flow(l), back(l))).unzip();
        if let Some((a, b)) = spoilt.swapped {
            loop_flow_l_min.swap(a, b);
            loop_return_c.swap(a, b);
        }
        let mixed = |m: &crate::loops::report::ManifoldDesign| {
            let own = study.loops.iter().filter(|l| l.manifold_id == m.id);
            let (sum, q) =
                own.filter_map(|l| Some((flow(l), back(l)?))).fold((0.0, 0.0), |(s, q), (f, c)| (s + f * c, q + f));
            (q > STANDS_L_MIN).then(|| sum / q)
        };
        let vessel = study.plant.as_ref().map(|p| (p.vessel.fill_pa, p.vessel.end_pa));
        Seen {
            source_supply_c: Some(spoilt.source_c),
            source_target_c: Some(spoilt.source_target_c),
            circuit_supply_c: circuits.clone().map(supply).collect(),
            circuit_return_c: circuits.clone().map(home).collect(),
            circuit_target_c: spoilt.target_c.clone(),
            circuit_flow_l_min: circuits.clone().map(|c| circuit(c, "pump").map_or(0.0, |l| l.flow_l_min)).collect(),
            circuit_head_pa: circuits
                .map(|c| circuit(c, "pump").map_or(0.0, |l| (-l.pressure_drop_pa).max(0.0)))
                .collect(),
            manifold_supply_c: study.manifolds.iter().map(|m| supply(of_manifold(m))).collect(),
            manifold_return_c: study.manifolds.iter().map(mixed).collect(),
            loop_flow_l_min,
            loop_return_c,
            loop_around_c: study.loops.iter().map(|l| rooms.around_c(l)).collect(),
            room_c: rooms.all_c(),
            room_held: rooms.all_c().iter().zip(&spoilt.hold_c).map(|(c, h)| *c > h - 0.05).collect(),
            thermostat_c: rooms.all_c(),
            surface_c: study.rooms.iter().enumerate().map(surface).collect(),
            freezing_c: fluid::freezing_c(&spoilt.fluid),
            // half way between cold and hottest on an ordinary day
            pressure_pa: vessel.map(|(fill, end)| f64::midpoint(fill, end)),
            cold_pressure_pa: vessel.map(|(fill, _)| fill),
            hours_on: None,
            gurgles: vec![0.04; study.loops.len()],
            actuator_open: vec![0.96; study.loops.len()],
            valve_open: vec![0.96; study.loops.len()],
        }
    }

    /// What a fault shows beside water and heat.
    fn beside(&self, fault: Fault, place: Place, degree: f64, seen: &mut Seen) {
        match (fault, place) {
            (Fault::WarmingUp, _) => seen.hours_on = Some(degree),
            (Fault::AirLock, Place::Loop(l)) => seen.gurgles[l] = 0.7,
            (Fault::ActuatorDead, Place::Loop(l)) => seen.actuator_open[l] = 0.05,
            (Fault::ValveShut, Place::Loop(l)) => seen.valve_open[l] = 0.05,
            // it shows what it believes: what it was set to
            (Fault::SensorOff, Place::Room(r)) => seen.thermostat_c[r] -= degree,
            (Fault::VesselFlat, _) => {
                seen.pressure_pa =
                    seen.pressure_pa.zip(self.study.plant.as_ref()).map(|(_, p)| p.vessel.end_pa + 40_000.0);
                seen.cold_pressure_pa = seen.cold_pressure_pa.map(|c| 0.35 * c);
            }
            (Fault::ManifoldReversed, Place::Manifold(m)) => {
                let (there, back) = (seen.manifold_supply_c[m], seen.manifold_return_c[m]);
                (seen.manifold_supply_c[m], seen.manifold_return_c[m]) = (back, there);
                let id = &self.study.manifolds[m].id;
                for (l, _) in self.study.loops.iter().enumerate().filter(|(_, d)| d.manifold_id == *id) {
                    // meters show nothing of water that comes from behind; the return bar has the warm water
                    seen.loop_flow_l_min[l] = 0.0;
                    seen.loop_return_c[l] = seen.loop_return_c[l].and(there);
                }
            }
            _ => {}
        }
    }
}

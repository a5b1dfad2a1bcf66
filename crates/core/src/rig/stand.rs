//! The rig itself: the house with what is wrong with it, what hands have set, and what follows slowly.

use super::{CameraRoom, Debrief, Hand, Lesson, RigCamera, RigNow, RigPort, RigPump, RigTest};
use crate::error::FieldError;
use crate::flow::{GRAVITY, PORT_KV};
use crate::loops::part::ValvePoint;
use crate::loops::report::LoopDesign;
use crate::network::CurvePoint;
use crate::pressure_test::{Gauge, Medium, PressureTest, Reading, Required, Verdict};
use crate::readings::Measurand;
use crate::service::Fault;
use crate::service::faults::Place;
use crate::service::house::{Hands, House, Seen};
use crate::stand_in::{Measured, as_shown};
use crate::study::Study;
use crate::thermal::{Level, quantised};
use crate::units::Units;
use crate::water::part::{PumpChoice, PumpControl};
use crate::water::pipework::{floor_duty, in_line};
use crate::water::valves::{USUAL, kv_at};
use chrono::{DateTime, Duration, SecondsFormat, Utc};
use std::f64::consts::TAU;
use std::sync::Arc;

/// A meter is right within this share of its figure.
const RIGHT: f64 = 0.1;
/// What follows slowly: the way back of a loop, a slab, the rooms behind it, s.
const RETURN_LAGS_S: f64 = 600.0;
const SLAB_LAGS_S: f64 = 9000.0;
const ROOM_LAGS_S: f64 = 12.0 * 3600.0;
/// A cold fluid warms by so much of what is missing in this, s, while the source runs.
const FLUID_LAGS_S: f64 = 1500.0;
/// A mix that has changed by no more is as thick as it was, K.
const SAME_FLUID_K: f64 = 0.02;
/// Between looks at what changes by itself, s.
const LOOK_S: f64 = 300.0;
/// A valve that takes more than this hisses, Pa (about 2 m; a rule of the trade, not a standard).
const HISSES_PA: f64 = 20_000.0;
/// A mild night and a cool week, °C; floors are then so much over their rooms, K.
const MILD_C: f64 = 8.0;
const COOL_C: f64 = 2.0;
const MILD_FLOOR_K: f64 = 2.0;
/// A loop with less of its flow has none that warms anything.
const LEAST_SHARE: f64 = 0.02;
/// A bubble that stands so high, m, holds back the water of its loop.
const BUBBLE_M: f64 = 2.0;
/// The rig's pump at full speed: flow, L/min, and head, m; of a job of one's own that needs more, as much wider.
const PUMP: [[f64; 2]; 4] = [[0.0, 8.0], [30.0, 7.2], [60.0, 5.0], [90.0, 1.5]];
const PUMP_FOR_L_MIN: f64 = 12.0;
/// A fully open bypass, m³/h.
const BYPASS_KV: f64 = 1.0;
/// A source that shut down for want of flow sends on what is in it, °C.
const STANDS_C: f64 = 22.0;
/// The source's least flow where its data sheet has none, L/min.
const LEAST_FLOW_L_MIN: f64 = 4.0;
/// The mix of the cold start begins at that, and is warm from there on, °C.
const COLD_START_C: f64 = -8.0;
const WARM_C: f64 = 24.0;
/// The pressure test of the last lesson: volume, pressure, hours, what a leak loses, mL/h.
const TEST_L: f64 = 60.0;
const TEST_KPA: f64 = 300.0;
const TEST_H: f64 = 4.0;
const LEAK_ML_H: f64 = 900.0;
const NIGHT_K: f64 = 5.0;

/// A rig at a time.
#[derive(Clone)]
pub(super) struct Rig {
    pub study: Arc<Study>,
    lesson: Lesson,
    seed: u64,
    pub units: Option<Units>,
    /// Its loops, by number in the study, from the left.
    loops: Vec<usize>,
    table: Vec<ValvePoint>,
    fault: Fault,
    place: Place,
    degree: f64,
    turns: Vec<f64>,
    open: Vec<bool>,
    control: PumpControl,
    head_m: f64,
    /// The head that its loops need, m.
    design_m: f64,
    line_k: f64,
    bypass: f64,
    reversed: bool,
    tripped: bool,
    fluid_c: Option<f64>,
    verdict: Option<bool>,
    at_s: f64,
    outdoor_c: f64,
    /// By what is steady with all this, and what follows it slowly.
    seen: Seen,
    room_c: Vec<f64>,
    surface_c: Vec<Option<f64>>,
    return_c: Vec<Option<f64>>,
    moves: usize,
    says: String,
    pub debrief: Option<Debrief>,
}

impl Rig {
    pub fn begin(study: Arc<Study>, lesson: Lesson, seed: u64) -> Result<Rig, FieldError> {
        if study.job.outdoors.is_some() {
            return Err(FieldError::new("outdoors", "the rig has rooms, and a job outdoors has none"));
        }
        let runs = |m: &str| -> Vec<usize> {
            let own = (0..study.loops.len()).filter(|l| study.loops[*l].manifold_id == m);
            let mut own: Vec<usize> = own.filter(|l| study.loops[*l].flow_l_min > 0.0).collect();
            own.sort_by_key(|l| study.loops[*l].port);
            own
        };
        // the manifold with most loops: there is most to do at it
        let most = study.manifolds.iter().map(|m| (runs(&m.id), m)).max_by_key(|(own, _)| own.len());
        let (loops, manifold) = most
            .filter(|(own, _)| own.len() > 1)
            .ok_or_else(|| FieldError::new("job", "has no manifold with two loops and more: lay loops first"))?;
        let at = study.manifolds.iter().position(|m| m.id == manifold.id).unwrap_or(0);
        let circuit = study.circuits.iter().position(|c| c.manifold_ids.contains(&manifold.id)).unwrap_or(0);
        let table = study.job.manifolds.iter().find(|m| m.id == manifold.id).map(|m| m.valve_table.clone());
        let table = table.filter(|t| !t.is_empty()).unwrap_or_else(|| USUAL.to_vec());
        let water = crate::fluid::properties(&study.job.fluid, 35.0)?;
        let design_m = floor_duty(&study, circuit, &water).head_pa / (water.density * GRAVITY);
        let n = loops.len();
        let picked = (seed % n as u64) as usize;
        let most_turns = table.last().map_or(3.0, |p| p.turns);
        let set = |l: &usize| study.loops[*l].valve.and_then(|v| v.turns).unwrap_or(most_turns);
        let mut rig = Rig {
            turns: loops.iter().map(set).collect(),
            open: vec![true; n],
            control: PumpControl::ConstantPressure,
            head_m: (design_m * 20.0).round() / 20.0,
            design_m,
            line_k: 0.0,
            bypass: 0.0,
            reversed: false,
            tripped: false,
            fluid_c: None,
            verdict: None,
            fault: Fault::Nothing,
            place: Place::House,
            degree: 1.0,
            at_s: 0.0,
            outdoor_c: study.job.site.outdoor_c,
            seen: Seen::default(),
            room_c: vec![],
            surface_c: vec![],
            return_c: vec![],
            moves: 0,
            says: String::new(),
            debrief: None,
            study: Arc::clone(&study),
            lesson,
            seed,
            units: None,
            table,
            loops,
        };
        match lesson {
            Lesson::PumpSetting => rig.head_m = ((0.3 * design_m).max(0.2) * 20.0).round() / 20.0,
            Lesson::ResetLow => (rig.fault, rig.degree) = (Fault::ResetWrong, -6.0),
            Lesson::Balance => rig.turns.fill(most_turns),
            Lesson::Reversed => {
                (rig.fault, rig.place, rig.reversed) = (Fault::ManifoldReversed, Place::Manifold(at), true)
            }
            Lesson::AirLock => {
                (rig.fault, rig.place, rig.degree) = (Fault::AirLock, Place::Loop(rig.loops[picked]), 0.004);
            }
            Lesson::MixingStuck => {
                (rig.fault, rig.place, rig.degree) = (Fault::MixingStuck, Place::Circuit(circuit), -9.0)
            }
            Lesson::NoisyZone => {
                rig.control = PumpControl::FixedSpeed;
                // the valves that are closed most hiss
                let mut set: Vec<usize> = (0..n).collect();
                let kv = |p: &usize| study.loops[rig.loops[*p]].valve.map_or(f64::INFINITY, |v| v.kv_m3_h);
                set.sort_by(|a, b| kv(a).total_cmp(&kv(b)));
                let alone = set[seed as usize % n.div_ceil(4)];
                rig.open = (0..n).map(|p| p == alone).collect();
            }
            Lesson::StarvedSource => rig.open = (0..n).map(|p| p == picked).collect(),
            Lesson::ColdGlycol => rig.fluid_c = Some(COLD_START_C),
            Lesson::LeakOrTemperature => {}
        }
        rig.outdoor_c = match lesson {
            Lesson::NoisyZone | Lesson::StarvedSource => rig.outdoor_c.max(MILD_C),
            Lesson::AirLock => rig.outdoor_c.max(COOL_C),
            _ => rig.outdoor_c,
        };
        rig.look()?;
        // what was so for days has settled; rooms that just stopped calling are as they should be
        rig.room_c = rig.seen.room_c.clone();
        rig.surface_c = rig.seen.surface_c.clone();
        if matches!(lesson, Lesson::NoisyZone | Lesson::StarvedSource) {
            rig.room_c = study.job.rooms.iter().map(|r| r.room_c).collect();
            rig.surface_c =
                rig.seen.surface_c.iter().zip(&rig.room_c).map(|(s, c)| s.map(|_| c + MILD_FLOOR_K)).collect();
        }
        rig.return_c = rig.seen.loop_return_c.clone();
        if rig.reached() {
            return Err(FieldError::new(
                "trial.lesson",
                "has nothing to show on this house: its aim is reached already",
            ));
        }
        Ok(rig)
    }

    fn most_turns(&self) -> f64 {
        self.table.last().map_or(3.0, |p| p.turns)
    }

    fn kv(&self, port: usize) -> Option<f64> {
        kv_at(&self.table, self.turns[port])
    }

    /// The circuit of its manifold.
    fn circuit(&self) -> usize {
        let id = &self.study.loops[self.loops[0]].manifold_id;
        self.study.circuits.iter().position(|c| c.manifold_ids.contains(id)).unwrap_or(0)
    }

    fn needs_flow(&self) -> Option<f64> {
        let source = self.study.job.plant.as_ref().and_then(|p| p.source.least_flow_l_min);
        matches!(self.lesson, Lesson::StarvedSource | Lesson::ColdGlycol).then(|| source.unwrap_or(LEAST_FLOW_L_MIN))
    }

    /// The house as it would be at rest with all that is set.
    fn look(&mut self) -> Result<(), FieldError> {
        let mut valves: Vec<Option<f64>> = self.study.loops.iter().map(|l| l.valve.map(|v| v.kv_m3_h)).collect();
        for (port, l) in self.loops.iter().enumerate() {
            valves[*l] = self.kv(port);
        }
        let wide = (self.study.circuits[self.circuit()].flow_l_min / PUMP_FOR_L_MIN).max(1.0);
        let shut = (self.loops.iter().zip(&self.open)).filter(|(_, open)| !**open);
        let mut hands = Hands {
            valves,
            shut: shut.map(|(l, _)| self.study.loops[*l].id.clone()).collect(),
            pump: Some(PumpChoice {
                control: self.control,
                head_pa: Some(self.head_m * 1000.0 * GRAVITY),
                curve: PUMP.map(|[flow_l_min, head_m]| CurvePoint { flow_l_min: flow_l_min * wide, head_m }).to_vec(),
                ..PumpChoice::default()
            }),
            shift_k: self.line_k,
            comes_c: self.tripped.then_some(STANDS_C),
            cold_c: self.fluid_c,
            bypass_kv: (self.bypass > 0.0).then_some(self.bypass * BYPASS_KV),
        };
        let outdoor_c = self.outdoor_c;
        let solve =
            |hands: &Hands| House::at(&self.study, outdoor_c)?.seen_with(self.fault, self.place, self.degree, hands);
        let mut seen = solve(&hands)?;
        if let Some(least) = self.needs_flow() {
            let tripped = seen.circuit_flow_l_min[self.circuit()] < least;
            if tripped != self.tripped {
                self.tripped = tripped;
                hands.comes_c = tripped.then_some(STANDS_C);
                seen = solve(&hands)?;
            }
        }
        self.seen = seen;
        Ok(())
    }

    /// Lets time pass.
    pub fn wait(&mut self, until_s: f64) -> Result<(), FieldError> {
        while self.at_s < until_s - 1e-9 && self.debrief.is_none() {
            let dt = (until_s - self.at_s).min(LOOK_S);
            self.at_s += dt;
            let toward = |now: f64, rest: f64, lag: f64| rest + (now - rest) * (-dt / lag).exp();
            for (now, rest) in self.room_c.iter_mut().zip(&self.seen.room_c) {
                *now = toward(*now, *rest, ROOM_LAGS_S);
            }
            for (now, rest) in self.surface_c.iter_mut().zip(&self.seen.surface_c) {
                *now = now.zip(*rest).map(|(n, r)| toward(n, r, SLAB_LAGS_S)).or(*rest);
            }
            for (now, rest) in self.return_c.iter_mut().zip(&self.seen.loop_return_c) {
                *now = rest.map(|r| now.map_or(r, |n| toward(n, r, RETURN_LAGS_S)));
            }
            if let Some(c) = &mut self.fluid_c {
                let circuit = self.study.circuits.get(self.seen.circuit_supply_c.len().saturating_sub(1));
                let warm = circuit.and_then(|c| c.supply_c.zip(c.return_c)).map_or(30.0, |(s, r)| f64::midpoint(s, r));
                let before = *c;
                if !self.tripped {
                    *c = toward(*c, warm, FLUID_LAGS_S);
                }
                // as thick as it was: nothing to solve again
                if (*c - before).abs() > SAME_FLUID_K {
                    self.look()?;
                }
            }
            self.judge();
        }
        Ok(())
    }

    /// Does a move.
    pub fn take(&mut self, hand: Hand) -> Result<(), FieldError> {
        let port_of = |port: u32| {
            let at = (port as usize).checked_sub(1).filter(|p| *p < self.loops.len());
            at.ok_or_else(|| FieldError::new("trial.moves.hand.port", format!("must be 1 to {}", self.loops.len())))
        };
        self.moves += 1;
        self.says.clear();
        match hand {
            Hand::Valve { port, turns } => {
                let at = port_of(port)?;
                self.turns[at] = turns.min(self.most_turns());
            }
            Hand::Actuator { port, open } => {
                let at = port_of(port)?;
                self.open[at] = open;
            }
            Hand::PumpHead { head_m } => self.head_m = head_m,
            Hand::PumpControl { control } => self.control = control,
            Hand::Line { by_k } => self.line_k = by_k,
            Hand::Bypass { open } => self.bypass = open,
            Hand::Mixer => {
                self.says = if self.fault == Fault::MixingStuck {
                    self.fault = Fault::Nothing;
                    "It was tight, then it gave way: now it turns with two fingers.".into()
                } else {
                    "It turns easily from end to end.".into()
                };
            }
            Hand::Tails => {
                self.reversed = !self.reversed;
                (self.fault, self.place) = if self.reversed {
                    let id = &self.study.loops[self.loops[0]].manifold_id;
                    let at = self.study.manifolds.iter().position(|m| m.id == *id).unwrap_or(0);
                    (Fault::ManifoldReversed, Place::Manifold(at))
                } else {
                    (Fault::Nothing, Place::House)
                };
                self.says = "Shut off, drained, exchanged, filled and vented again.".into();
            }
            Hand::Vent { port } => {
                let at = port_of(port)?;
                let here = self.fault == Fault::AirLock && self.place == Place::Loop(self.loops[at]);
                let lifts_m = self.seen.circuit_head_pa[self.circuit()] / 1000.0 / GRAVITY;
                self.says = if !here {
                    "Water comes at once, without a bubble.".into()
                } else if lifts_m < BUBBLE_M || !self.open[at] {
                    "A hiss, then nothing: the bubble does not move.".into()
                } else {
                    self.fault = Fault::Nothing;
                    "It spits and gurgles, then water comes without bubbles.".into()
                };
            }
            Hand::Verdict { tight } => self.verdict = Some(tight),
        }
        self.look()?;
        self.judge();
        Ok(())
    }

    fn flow(&self, port: usize) -> f64 {
        self.seen.loop_flow_l_min[self.loops[port]]
    }

    fn design(&self, port: usize) -> &LoopDesign {
        &self.study.loops[self.loops[port]]
    }

    fn all_right(&self) -> bool {
        (0..self.loops.len()).all(|p| (self.flow(p) / self.design(p).flow_l_min - 1.0).abs() <= RIGHT)
    }

    /// Pressure drop of a port's valve, Pa.
    fn valve_pa(&self, port: usize) -> f64 {
        let kv = in_line(PORT_KV, self.kv(port));
        (self.flow(port) * 0.06 / kv).powi(2) * 1e5
    }

    /// Whether the aim is reached.
    fn reached(&self) -> bool {
        match self.lesson {
            Lesson::PumpSetting | Lesson::Balance => self.all_right(),
            Lesson::AirLock => self.fault == Fault::Nothing && self.all_right(),
            Lesson::Reversed => !self.reversed,
            Lesson::ResetLow => {
                let warm = self.loops.iter().flat_map(|l| &self.study.loops[*l].room_ids).all(|id| {
                    let r = self.study.job.rooms.iter().position(|r| r.id == *id).unwrap_or(0);
                    self.room_c[r] > self.study.job.rooms[r].room_c - 0.5
                });
                // no warmer than needed: within what the design has, and a little
                warm && self.line_k + self.degree < 3.0
            }
            Lesson::MixingStuck => {
                let c = self.circuit();
                let off = self.seen.circuit_supply_c[c].zip(self.seen.circuit_target_c[c]).map(|(s, t)| s - t);
                off.is_some_and(|k| k.abs() < 1.0)
            }
            Lesson::NoisyZone => {
                let alone = self.open.iter().filter(|o| **o).count() == 1;
                let port = self.open.iter().position(|o| *o).unwrap_or(0);
                alone
                    && self.valve_pa(port) < HISSES_PA
                    && self.flow(port) > (1.0 - RIGHT) * self.design(port).flow_l_min
            }
            Lesson::StarvedSource => !self.tripped && self.open.iter().filter(|o| **o).count() == 1,
            Lesson::ColdGlycol => {
                !self.tripped && self.fluid_c.is_some_and(|c| c > WARM_C) && self.head_m < 1.2 * self.design_m
            }
            Lesson::LeakOrTemperature => {
                let proves = if self.leaks() { Verdict::Leaking } else { Verdict::Tight };
                self.verdict == Some(!self.leaks()) && self.test().is_some_and(|t| t.verdict == proves)
            }
        }
    }

    fn judge(&mut self) {
        if self.debrief.is_none() && self.reached() {
            self.debrief = Some(Debrief {
                at_s: self.at_s,
                moves: self.moves,
                best: self.best(),
                text: self.lesson.debrief().into(),
            });
        }
    }

    /// The least moves by which it can be done; the tests play them.
    fn best(&self) -> usize {
        match self.lesson {
            // every screw that is not wide open in the end
            Lesson::Balance => self.loops.iter().filter(|l| self.study.loops[**l].valve.is_some()).count(),
            // pump up, vent, pump back; a pump that lifts enough stays
            Lesson::AirLock if self.design_m < BUBBLE_M => 3,
            Lesson::ColdGlycol => 2,
            _ => 1,
        }
    }

    fn leaks(&self) -> bool {
        self.seed % 2 == 1
    }

    /// The gauge by the night's temperature, and by the leak.
    fn test(&self) -> Option<RigTest> {
        if self.lesson != Lesson::LeakOrTemperature {
            return None;
        }
        let evening: DateTime<Utc> = DateTime::UNIX_EPOCH + Duration::hours(18);
        let at = |s: f64| (evening + Duration::seconds(s as i64)).to_rfc3339_opts(SecondsFormat::Secs, true);
        let slab = |h: f64| 17.0 + NIGHT_K * ((TAU * h / 24.0).cos() - 1.0) / 2.0;
        let reading = |s: f64, gauge_kpa: f64| Reading {
            time: at(s),
            gauge_kpa,
            air_c: None,
            slab_c: Some((slab(s / 3600.0) * 10.0).round() / 10.0),
            barometer_kpa: None,
        };
        let mut test = PressureTest {
            medium: Medium::Air,
            volume_l: TEST_L,
            gauge: Gauge { resolution_kpa: 1.0, range_kpa: 600.0 },
            altitude_m: Some(self.study.job.site.altitude_m),
            barometer_kpa: None,
            required: Required { pressure_kpa: TEST_KPA, hours: TEST_H },
            tube: None,
            readings: vec![],
        };
        // put on with room for the night
        let first = reading(0.0, 1.1 * TEST_KPA);
        let leak = if self.leaks() { LEAK_ML_H } else { 0.0 };
        let shown = test.would_show(&first, self.at_s / 3600.0, slab(self.at_s / 3600.0), leak);
        let now = reading(self.at_s.max(60.0), shown.round());
        test.readings = vec![first.clone(), now.clone()];
        let judged = test.judge_in(self.units).ok()?;
        Some(RigTest {
            gauge_kpa: [first.gauge_kpa, now.gauge_kpa],
            slab_c: [first.slab_c?, now.slab_c?],
            drop_kpa: [judged.drop_kpa, judged.uncertainty_kpa],
            verdict: judged.verdict,
            reason: judged.reason,
        })
    }

    /// What a thermal camera over the floors shows: the floors at rest with the water as it runs now, each as far on its way there as its
    /// slab is.
    ///
    /// # Errors
    /// Where the floors find no balance.
    pub fn camera(&self) -> Result<RigCamera, FieldError> {
        let (study, job) = (&self.study, &self.study.job);
        let first = self.design(0).room_ids.first().and_then(|id| job.room(id));
        let level_id = first.map(|r| r.level_id.clone()).unwrap_or_default();
        let mut level = Level::of(study, &level_id)?;
        for course in &mut level.courses {
            let l = &study.loops[course.index];
            let own = self.loops.contains(&course.index);
            // meters show nothing of water that comes from behind, and it runs all the same
            let share = if own && self.reversed { 1.0 } else { self.seen.loop_flow_l_min[course.index] / l.flow_l_min };
            course.flow_w_k *= if share > LEAST_SHARE { share } else { 0.0 };
            course.reversed = own && self.reversed;
            let circuit = study.circuits.iter().position(|c| c.manifold_ids.contains(&l.manifold_id)).unwrap_or(0);
            course.supply_c = self.seen.circuit_supply_c[circuit].unwrap_or(STANDS_C);
        }
        let rooms_c: Vec<f64> = level.rooms.iter().map(|r| self.room_c[*r]).collect();
        let field = level.at_rest(&rooms_c)?;
        let come: Vec<f64> = (level.floors(&field, &rooms_c).iter().zip(&level.rooms).zip(&rooms_c))
            .map(|(((mean, _), r), room)| {
                let now = self.surface_c[*r].unwrap_or(*mean);
                if (mean - room).abs() > 0.2 { ((now - room) / (mean - room)).clamp(0.0, 1.5) } else { 1.0 }
            })
            .collect();
        let shows = |cell: u32| {
            let (floor, at_rest) = level.surface_of(&field, cell);
            (rooms_c[floor] + (at_rest - rooms_c[floor]) * come[floor]) as f32
        };
        let all: Vec<Option<f32>> = level.grid.cell_at.iter().map(|c| c.map(shows)).collect();
        let outline =
            |r: &usize| CameraRoom { name: job.rooms[*r].name.clone(), outline: job.rooms[*r].outline.clone() };
        let (low_c, per_k, surface) = quantised(&[&all]);
        Ok(RigCamera {
            raster: level.grid.raster(low_c, per_k),
            surface: surface.into_iter().flatten().collect(),
            rooms: level.rooms.iter().map(outline).collect(),
        })
    }

    /// What eyes and instruments see.
    pub fn now(&self) -> RigNow {
        let minute = (self.at_s / 60.0) as i64;
        let show = |q: Measurand, subject: &str, truth: f64| {
            as_shown(Measured::Heating(q), truth, (self.seed, subject, minute, self.moves))
        };
        let c = self.circuit();
        let maybe = |q: Measurand, subject: &str, truth: Option<f64>| truth.map(|t| show(q, subject, t));
        let ports = (0..self.loops.len()).map(|p| {
            let (l, d) = (self.loops[p], self.design(p));
            let r = self.study.job.rooms.iter().position(|r| Some(&r.id) == d.room_ids.first()).unwrap_or(0);
            RigPort {
                port: p as u32 + 1,
                tag: d.tag.clone(),
                room: self.study.job.rooms[r].name.clone(),
                turns: self.turns[p],
                open: self.open[p],
                meter_l_min: show(Measurand::FlowLMin, &d.id, self.flow(p)),
                design_l_min: d.flow_l_min,
                return_c: maybe(Measurand::ReturnC, &d.id, self.return_c[l]),
                room_c: show(Measurand::RoomC, &d.id, self.room_c[r]),
                wanted_c: self.study.job.rooms[r].room_c,
                surface_c: maybe(Measurand::SurfaceC, &d.id, self.surface_c[r]),
                hisses: self.valve_pa(p) > HISSES_PA,
                gurgles: self.fault == Fault::AirLock && self.place == Place::Loop(l),
            }
        });
        let id = &self.design(0).manifold_id;
        let m = self.study.manifolds.iter().position(|m| m.id == *id).unwrap_or(0);
        let head_m = self.seen.circuit_head_pa[c] / 1000.0 / GRAVITY;
        RigNow {
            ports: ports.collect(),
            most_turns: self.most_turns(),
            pump: RigPump {
                control: self.control,
                set_m: self.head_m,
                shows: [
                    show(Measurand::HeadKpa, "pump", head_m * GRAVITY) / GRAVITY,
                    show(Measurand::FlowLMin, "pump", self.seen.circuit_flow_l_min[c]),
                ],
            },
            outdoor_c: self.outdoor_c,
            source_c: show(Measurand::SupplyC, "source", self.seen.source_supply_c.unwrap_or(STANDS_C)),
            tripped: self.tripped,
            least_flow_l_min: self.needs_flow(),
            asked_c: maybe(Measurand::TargetC, "circuit", self.seen.circuit_target_c[c]),
            mixed_c: maybe(Measurand::SupplyC, "circuit", self.seen.circuit_supply_c[c]),
            bars_c: [
                maybe(Measurand::SupplyC, "supply bar", self.seen.manifold_supply_c[m]),
                maybe(Measurand::ReturnC, "return bar", self.seen.manifold_return_c[m]),
            ],
            line_k: self.line_k,
            bypass: self.bypass,
            fluid_c: self.fluid_c.map(|c| show(Measurand::SupplyC, "fluid", c)),
            test: self.test(),
            says: self.says.clone(),
            debrief: self.debrief.clone(),
        }
    }
}

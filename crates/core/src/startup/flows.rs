//! Setting the flows of a manifold. While one valve is set the others are still open, so its meter must show other than it will
//! in the end: what it shows now comes from the same pipes, with the valves set so far where they will stay. Pure hydraulics of
//! ports side by side between two bars; usable alone.
//!
//! ```
//! use fuoco_core::fluid::properties;
//! use fuoco_core::job::Fluid;
//! use fuoco_core::startup::flows::{Bars, Port};
//! let water = properties(&Fluid::default(), 15.0)?;
//! let port = |length_m, target_l_min| Port { length_m, bore_m: 0.012, quarter_turns: 20.0, target_l_min };
//! let ports = [port(90.0, 2.0), port(40.0, 1.0)];
//! let bars = Bars { ports: &ports, water, head_pa: &|_| 20_000.0 };
//! let list = bars.list(&[None, None]);
//! // the short loop is throttled first: now it shows what it will show, for this pump holds its head
//! assert_eq!(list.order[0].port, 1);
//! assert!((list.order[0].shows_l_min - list.order[0].ends_l_min).abs() < 0.01);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use crate::flow;
use crate::fluid::Properties;

/// Steps to a balance, and how near it is, Pa: far below what a gauge or a meter shows.
const MOST_STEPS: u32 = 100;
const NEAR_PA: f64 = 1e-3;
/// More flows through no port, L/min.
const MOST_L_MIN: f64 = 60.0;
/// A valve that has to take less is left wide open, Pa.
const OPEN_PA: f64 = 50.0;
/// A valve that is nearly shut, m³/h.
const LEAST_KV: f64 = 0.003;

/// A port with its loop.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Port {
    /// Tube from port to port, m, above 0.
    pub length_m: f64,
    /// Its bore, m.
    pub bore_m: f64,
    /// Turns at its corners, in quarter circles.
    pub quarter_turns: f64,
    /// Flow that it shall have, L/min, 0 and more.
    pub target_l_min: f64,
}

/// The two bars of a manifold with their ports.
pub struct Bars<'a> {
    /// The ports.
    pub ports: &'a [Port],
    /// What flows now.
    pub water: Properties,
    /// Pressure between the bars at a flow of all ports, L/min: Pa, falling.
    pub head_pa: &'a dyn Fn(f64) -> f64,
}

/// What the meters shall show while they are set one after the other.
#[derive(Debug, Clone, PartialEq)]
pub struct SettingList {
    /// In the order in which they are set.
    pub order: Vec<Setting>,
}

/// A valve to be set.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Setting {
    /// The port, by number from 0.
    pub port: usize,
    /// What its meter shall show at that moment, L/min.
    pub shows_l_min: f64,
    /// What it will show when all are set, L/min.
    pub ends_l_min: f64,
    /// Flow factor of its valve then, m³/h; none where it stays wide open.
    pub kv_m3_h: Option<f64>,
}

/// Where a rising function that begins below zero passes it; `high` where it does not. False position with the Illinois
/// weighting (Dowell and Jarratt 1971): a bracket that never opens.
fn root(high: f64, of: impl Fn(f64) -> f64) -> f64 {
    let (mut a, mut b) = ((0.0, of(0.0)), (high, of(high)));
    if a.1 >= 0.0 || b.1 <= 0.0 {
        return if a.1 >= 0.0 { 0.0 } else { high };
    }
    let mut side = 0;
    for _ in 0..MOST_STEPS {
        let x = (a.0 * b.1 - b.0 * a.1) / (b.1 - a.1);
        let y = of(x);
        if y.abs() < NEAR_PA || (b.0 - a.0).abs() < 1e-9 * high {
            return x;
        }
        if y < 0.0 {
            a = (x, y);
            b.1 *= if side == -1 { 0.5 } else { 1.0 };
            side = -1;
        } else {
            b = (x, y);
            a.1 *= if side == 1 { 0.5 } else { 1.0 };
            side = 1;
        }
    }
    f64::midpoint(a.0, b.0)
}

impl Bars<'_> {
    /// What tube and port take at a flow, Pa.
    fn tube_pa(&self, port: usize, flow_l_min: f64) -> f64 {
        let p = self.ports[port];
        let kg_s = flow_l_min / 60_000.0 * self.water.density;
        flow::flow(kg_s, p.bore_m, p.length_m, p.quarter_turns, &self.water).head_pa
    }

    fn valve_pa(&self, kv: Option<f64>, flow_l_min: f64) -> f64 {
        kv.map_or(0.0, |kv| (flow_l_min * 0.06 / kv).powi(2) * 1e5 * self.water.density / 1000.0)
    }

    fn at(&self, port: usize, kv: Option<f64>, pa: f64) -> f64 {
        root(MOST_L_MIN, |q| self.tube_pa(port, q) + self.valve_pa(kv, q) - pa)
    }

    /// What every meter shows with the valves so (flow factors, m³/h; none: wide open), L/min.
    pub fn meters(&self, kv: &[Option<f64>]) -> Vec<f64> {
        let all = |pa: f64| -> Vec<f64> { kv.iter().enumerate().map(|(k, kv)| self.at(k, *kv, pa)).collect() };
        let most = (self.head_pa)(0.0).max(0.0);
        // as the pressure between the bars rises, more flows, and the pump gives less
        let pa = root(most, |pa| pa - (self.head_pa)(all(pa).iter().sum()));
        all(pa)
    }

    /// The valves that give every port its target, with as little throttling as the pump allows: the pressure is that of the pump at
    /// the sum of the targets.
    pub fn valves(&self) -> Vec<Option<f64>> {
        let pa = (self.head_pa)(self.ports.iter().map(|p| p.target_l_min).sum()).max(0.0);
        let of = |k: usize| {
            let left = pa - self.tube_pa(k, self.ports[k].target_l_min);
            self.kv(self.ports[k].target_l_min, left)
        };
        (0..self.ports.len()).map(of).collect()
    }

    fn kv(&self, flow_l_min: f64, pa: f64) -> Option<f64> {
        let kv = flow_l_min * 0.06 / (pa.max(1.0) / 1e5 / (self.water.density / 1000.0)).sqrt();
        (pa > OPEN_PA).then_some(kv.max(LEAST_KV))
    }

    /// The valves as they stand, by what the meters show: whatever the tube does not take, the valve is taken to take.
    pub fn standing(&self, shown_l_min: &[f64]) -> Vec<Option<f64>> {
        let pa = (self.head_pa)(shown_l_min.iter().sum()).max(0.0);
        shown_l_min.iter().enumerate().map(|(k, q)| self.kv(*q, pa - self.tube_pa(k, *q))).collect()
    }

    /// The order and the figures for one pass over the manifold, from the valves as they stand. What changes most is set first: it
    /// moves the others most, and they are then set among neighbours that stay.
    pub fn list(&self, standing: &[Option<f64>]) -> SettingList {
        let last = self.valves();
        let ends = self.meters(&last);
        let now = self.meters(standing);
        let mut order: Vec<usize> = (0..self.ports.len()).collect();
        order.sort_by(|a, b| (now[*b] - ends[*b]).abs().total_cmp(&(now[*a] - ends[*a]).abs()));
        let mut kv = standing.to_vec();
        let set = |port: usize| {
            kv[port] = last[port];
            let shows_l_min = self.meters(&kv)[port];
            Setting { port, shows_l_min, ends_l_min: ends[port], kv_m3_h: last[port] }
        };
        SettingList { order: order.into_iter().map(set).collect() }
    }
}

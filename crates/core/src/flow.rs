//! Water: from the flux a room needs to supply temperature, flow, and head.
//!
//! Logarithmic mean excess `ΔθH = (θV − θR)/ln((θV − θi)/(θR − θi))` (EN 1264-2); for a drop σ it gives
//! `θV = θi + σ·e^x/(e^x − 1)`, `x = σ/ΔθH`. Head by Darcy–Weisbach with the friction factor of S. W. Churchill,
//! "Friction-factor equation spans all fluid-flow regimes", Chemical Engineering 84 (1977); bends as equivalent
//! length; manifold ports by their Kv.
//!
//! ```
//! use fuoco_core::flow::{mean_excess, supply_for};
//! // a floor that wants its water 15 K over a room of 20 °C on the mean, at a temperature drop of 5 K
//! let supply_c = supply_for(20.0, 15.0, 5.0);
//! assert!((supply_c - 37.6).abs() < 0.1);
//! assert!((mean_excess(20.0, supply_c, 5.0) - 15.0).abs() < 1e-9);
//! ```

use crate::fluid::Properties;
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;

/// Standard gravity, m/s².
pub const GRAVITY: f64 = 9.80665;
/// Roughness of plastic tube, m.
pub const ROUGHNESS_M: f64 = 0.000_007;
/// Equivalent length of a quarter circle beyond its own length, in bores.
pub const BORES_PER_QUARTER_TURN: f64 = 6.0;
/// Flow factor of a manifold's supply and return port together, wide open, m³/h at 1 bar.
pub const PORT_KV: f64 = 1.1;

/// Supply temperature that gives the mean excess with that drop, °C. All in K above zero; infinite where the drop
/// is so large against the excess that no water is hot enough.
pub fn supply_for(room_c: f64, excess_k: f64, drop_k: f64) -> f64 {
    if excess_k <= 0.0 {
        return room_c;
    }
    let x = drop_k / excess_k;
    // σ·e^x/(e^x − 1) = σ/(1 − e^−x)
    room_c + drop_k / -(-x).exp_m1()
}

/// Mean excess of water that comes at `supply_c` and leaves `drop_k` cooler, K; zero when it would leave colder
/// than the room.
pub fn mean_excess(room_c: f64, supply_c: f64, drop_k: f64) -> f64 {
    let (v, r) = (supply_c - room_c, supply_c - drop_k - room_c);
    if v <= 0.0 || r <= 0.0 {
        return 0.0;
    }
    if (v - r).abs() < 1e-9 { v } else { (v - r) / (v / r).ln() }
}

/// Drop at which water of `supply_c` has the wanted mean excess, K; None when even without a drop it has less.
pub fn drop_for(room_c: f64, supply_c: f64, excess_k: f64) -> Option<f64> {
    let most = supply_c - room_c;
    if most < excess_k || excess_k <= 0.0 {
        return None;
    }
    // the mean excess falls steadily with the drop
    Some(bisect(0.0, most, |drop| mean_excess(room_c, supply_c, drop) > excess_k))
}

/// What a room has of the loops that heat it in series with others: shares of its floor, and where on the way of the
/// water each lies, from 0 at the supply to 1 at the return.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Part {
    /// Share of the room's floor, 0…1; the parts of a room make 1.
    pub share: f64,
    /// Where the water comes in, 0…1.
    pub from: f64,
    /// Where it leaves, `from`…1.
    pub to: f64,
}

impl Part {
    /// Loops of the room's own.
    pub const WHOLE: Part = Part { share: 1.0, from: 0.0, to: 1.0 };
}

/// Mean excess in a room of water that loses `drop_k` evenly on its way through all rooms in series, K.
pub fn mean_excess_of(room_c: f64, supply_c: f64, drop_k: f64, parts: &[Part]) -> f64 {
    parts.iter().map(|p| p.share * mean_excess(room_c, supply_c - drop_k * p.from, drop_k * (p.to - p.from))).sum()
}

/// As [`supply_for`] for a room in series with others.
pub fn supply_for_parts(room_c: f64, excess_k: f64, drop_k: f64, parts: &[Part]) -> f64 {
    if parts == [Part::WHOLE] || excess_k <= 0.0 {
        return supply_for(room_c, excess_k, drop_k);
    }
    // hotter by the drop before it even at the very end
    let highest = supply_for(room_c, excess_k, drop_k) + drop_k;
    if !highest.is_finite() {
        return highest;
    }
    bisect(room_c, highest, |supply| mean_excess_of(room_c, supply, drop_k, parts) < excess_k)
}

/// As [`drop_for`] for a room in series with others.
pub fn drop_for_parts(room_c: f64, supply_c: f64, excess_k: f64, parts: &[Part]) -> Option<f64> {
    if parts == [Part::WHOLE] || supply_c - room_c < excess_k || excess_k <= 0.0 {
        return drop_for(room_c, supply_c, excess_k);
    }
    let most = supply_c - room_c;
    Some(bisect(0.0, most, |drop| mean_excess_of(room_c, supply_c, drop, parts) > excess_k))
}

/// Where a condition that holds at `low` ceases to hold.
fn bisect(mut low: f64, mut high: f64, holds: impl Fn(f64) -> bool) -> f64 {
    for _ in 0..60 {
        let mid = 0.5 * (low + high);
        if holds(mid) { low = mid } else { high = mid }
    }
    0.5 * (low + high)
}

/// Temperature of the water after the share `x` (0…1) of a loop of even heat transfer, °C: it decays
/// exponentially towards the room.
pub fn along(room_c: f64, supply_c: f64, return_c: f64, x: f64) -> f64 {
    let (v, r) = (supply_c - room_c, return_c - room_c);
    if v <= 0.0 || r <= 0.0 {
        return supply_c + (return_c - supply_c) * x;
    }
    room_c + v * (r / v).powf(x)
}

/// Darcy friction factor for any Reynolds number above 0 (Churchill 1977).
pub fn friction_factor(reynolds: f64, relative_roughness: f64) -> f64 {
    let a = (2.457 * (1.0 / ((7.0 / reynolds).powf(0.9) + 0.27 * relative_roughness)).ln()).powi(16);
    let b = (37_530.0 / reynolds).powi(16);
    8.0 * ((8.0 / reynolds).powi(12) + (a + b).powf(-1.5)).powf(1.0 / 12.0)
}

/// The same, and how it changes: d ln f / d ln Re.
///
/// ```
/// use fuoco_core::flow::{friction_factor, friction_and_slope};
/// let (f, slope) = friction_and_slope(500.0, 1e-4);
/// assert!((f / friction_factor(500.0, 1e-4) - 1.0).abs() < 1e-12);
/// assert!((slope + 1.0).abs() < 1e-3, "64/Re");
/// ```
pub fn friction_and_slope(reynolds: f64, relative_roughness: f64) -> (f64, f64) {
    let smooth = (7.0 / reynolds).powf(0.9);
    let inner = smooth + 0.27 * relative_roughness;
    let theta = 2.457 * (1.0 / inner).ln();
    let (a, b) = (theta.powi(16), (37_530.0 / reynolds).powi(16));
    let both = a + b;
    let turbulent = 1.0 / (both * both.sqrt());
    let laminar = (8.0 / reynolds).powi(12);
    let sum = laminar + turbulent;
    let grows = 16.0 * (a * 2.457 * 0.9 * smooth / (inner * theta) - b);
    let slope = (-laminar - 0.125 * turbulent * grows / both) / sum;
    // far below any flow one of the powers is beyond all figures
    (8.0 * sum.powf(1.0 / 12.0), if slope.is_finite() { slope } else { -1.0 })
}

/// The flow in one loop.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Flow {
    /// Mean velocity, m/s.
    pub velocity_m_s: f64,
    /// Reynolds number.
    pub reynolds: f64,
    /// Head of tube, bends and ports, Pa.
    pub head_pa: f64,
}

/// Up to this Reynolds number flow in a tube is laminar.
pub const LAMINAR_TO: f64 = 2300.0;
/// From this Reynolds number on it is turbulent.
pub const TURBULENT_FROM: f64 = 4000.0;

/// How the water flows.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Regime {
    /// It does not.
    Still,
    /// In layers: it takes up less heat.
    Laminar,
    /// Either may be.
    Transitional,
    /// Mixed through.
    Turbulent,
}

impl Regime {
    /// The regime at a Reynolds number (0 and more).
    ///
    /// ```
    /// use fuoco_core::flow::Regime;
    /// assert_eq!([0.0, 2300.0, 3000.0, 4000.0].map(Regime::at), [Regime::Still, Regime::Laminar, Regime::Transitional, Regime::Turbulent]);
    /// ```
    pub fn at(reynolds: f64) -> Regime {
        match reynolds {
            re if re <= 0.0 => Regime::Still,
            re if re <= LAMINAR_TO => Regime::Laminar,
            re if re < TURBULENT_FROM => Regime::Transitional,
            _ => Regime::Turbulent,
        }
    }
}

/// Mean velocity of that flow, m³/s, in a bore, m/s.
pub fn velocity(flow_m3_s: f64, bore_m: f64) -> f64 {
    flow_m3_s / (PI * bore_m * bore_m / 4.0)
}

/// What a flow of `flow_kg_s` costs in a tube. Zero flow costs nothing.
pub fn flow(flow_kg_s: f64, bore_m: f64, length_m: f64, quarter_turns: f64, fluid: &Properties) -> Flow {
    if flow_kg_s <= 0.0 {
        return Flow { velocity_m_s: 0.0, reynolds: 0.0, head_pa: 0.0 };
    }
    let velocity = velocity(flow_kg_s / fluid.density, bore_m);
    let reynolds = fluid.density * velocity * bore_m / fluid.viscosity;
    let f = friction_factor(reynolds, ROUGHNESS_M / bore_m);
    let length = length_m + BORES_PER_QUARTER_TURN * bore_m * quarter_turns;
    let tube = f * length / bore_m * fluid.density * velocity * velocity / 2.0;
    let m3_h = flow_kg_s / fluid.density * 3600.0;
    let ports = (m3_h / PORT_KV).powi(2) * 1e5 * fluid.density / 1000.0;
    Flow { velocity_m_s: velocity, reynolds, head_pa: tube + ports }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn laminar_and_turbulent_limits() {
        // Hagen–Poiseuille 64/Re below 2000: Churchill's blend is within 0.1 % at 1000
        assert!((friction_factor(1000.0, 1e-5) / 0.064 - 1.0).abs() < 1e-3);
        // smooth tube, Re = 1e5: Prandtl–Kármán gives 0.01799; Churchill's fit is within 1 %
        assert!((friction_factor(1e5, 0.0) / 0.01799 - 1.0).abs() < 0.01, "{}", friction_factor(1e5, 0.0));
        // Colebrook–White at Re = 4e4, k/d = 0.0005 gives 0.02371; within 2 %
        assert!((friction_factor(4e4, 0.0005) / 0.02371 - 1.0).abs() < 0.02, "{}", friction_factor(4e4, 0.0005));
    }

    #[test]
    fn the_slope_of_friction_is_that_of_its_differences() {
        for re in [50.0, 900.0, 2100.0, 2700.0, 3500.0, 6000.0, 5e4, 1e6] {
            for rough in [0.0, 5e-4, 0.02] {
                let (f, slope) = friction_and_slope(re, rough);
                assert!((f / friction_factor(re, rough) - 1.0).abs() < 1e-9);
                let step = 1e-5;
                let by_difference =
                    (friction_factor(re * (1.0 + step), rough) / friction_factor(re * (1.0 - step), rough)).ln()
                        / ((1.0 + step) / (1.0 - step)).ln();
                // the differences are right to about 1e-6 of the steepest slope, 5 in the transition
                assert!((slope - by_difference).abs() < 1e-4, "{re} {rough}: {slope} {by_difference}");
            }
        }
    }

    #[test]
    fn supply_drop_and_excess_agree() {
        for (room, excess, drop) in [(20.0, 15.0, 7.0), (24.0, 6.0, 10.0), (15.0, 30.0, 1.0)] {
            let supply = supply_for(room, excess, drop);
            assert!((mean_excess(room, supply, drop) - excess).abs() < 1e-9);
            let back = drop_for(room, supply, excess).expect("hot enough");
            assert!((back - drop).abs() < 1e-6);
        }
        assert_eq!(drop_for(20.0, 30.0, 12.0), None);
        assert_eq!(mean_excess(20.0, 25.0, 6.0), 0.0);
    }

    #[test]
    fn rooms_in_series_share_the_drop() {
        let parts = |from, to| [Part { share: 1.0, from, to }];
        let (first, second) = (parts(0.0, 0.6), parts(0.6, 1.0));
        // the first has the water of a loop of its own with six tenths of the drop, the second what is left of it
        assert_eq!(mean_excess_of(20.0, 35.0, 5.0, &first), mean_excess(20.0, 35.0, 3.0));
        assert_eq!(mean_excess_of(20.0, 35.0, 5.0, &second), mean_excess(20.0, 32.0, 2.0));
        for parts in
            [&first[..], &second, &[Part::WHOLE], &[Part { share: 0.5, ..first[0] }, Part { share: 0.5, ..second[0] }]]
        {
            let supply = supply_for_parts(20.0, 12.0, 5.0, parts);
            assert!((mean_excess_of(20.0, supply, 5.0, parts) - 12.0).abs() < 1e-9);
            let drop = drop_for_parts(20.0, supply, 12.0, parts).expect("hot enough");
            assert!((drop - 5.0).abs() < 1e-6, "{drop}");
        }
        assert!(supply_for_parts(20.0, 12.0, 5.0, &first) < supply_for(20.0, 12.0, 5.0));
        assert!(supply_for_parts(20.0, 12.0, 5.0, &second) > supply_for(20.0, 12.0, 5.0));
        assert_eq!(drop_for_parts(20.0, 25.0, 12.0, &second), None);
    }

    #[test]
    fn water_cools_from_supply_to_return() {
        assert!((along(20.0, 40.0, 33.0, 0.0) - 40.0).abs() < 1e-12);
        assert!((along(20.0, 40.0, 33.0, 1.0) - 33.0).abs() < 1e-12);
        assert!(along(20.0, 40.0, 33.0, 0.5) < 36.5, "faster at first");
    }

    /// 100 m of 16 × 2 at 2 L/min, 35 °C: v = 0.2947 m/s, Re = 4886; f by Blasius 0.0378 → 13.6 kPa without bends
    /// and ports. Churchill lies a little higher here; 6 % covers the two fits.
    #[test]
    fn a_hundred_metres_by_hand() {
        let water = Properties { density: 994.0, specific_heat: 4178.0, conductivity: 0.62, viscosity: 0.7194e-3 };
        let got = flow(2.0 / 60.0 * 0.994, 0.012, 100.0, 0.0, &water);
        assert!((got.velocity_m_s - 0.2947).abs() < 1e-4);
        assert!((got.reynolds - 4886.0).abs() < 5.0);
        let ports = (0.12_f64 / PORT_KV).powi(2) * 1e5 * 0.994;
        assert!(((got.head_pa - ports) / 13_600.0 - 1.0).abs() < 0.06, "{}", got.head_pa - ports);
    }

    #[test]
    fn head_grows_with_flow_and_nothing_flows_for_nothing() {
        let water = Properties { density: 994.0, specific_heat: 4178.0, conductivity: 0.62, viscosity: 0.7194e-3 };
        let mut last = 0.0;
        for k in 1..200 {
            let head = flow(f64::from(k) * 0.001, 0.012, 80.0, 40.0, &water).head_pa;
            assert!(head > last);
            last = head;
        }
        assert_eq!(flow(0.0, 0.012, 80.0, 40.0, &water).head_pa, 0.0);
    }
}

//! Valves: which flow factor a circuit needs, and how far that is open on its own valve.

use crate::loops::part::{Manifold, ValvePoint};
use serde::{Deserialize, Serialize};

/// Balancing that takes less is left wide open, Pa.
const BALANCED_PA: f64 = 10.0;

/// How a balancing valve is set.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ValveSetting {
    /// Flow factor, m³/h at 1 bar.
    pub kv_m3_h: f64,
    /// Turns open by the table of the manifold's valves; none without a table, or where the table begins above.
    pub turns: Option<f64>,
}

/// The setting of a valve that closes `drop_pa` at a flow of water of `density`, kg/m³; none where it stays wide open.
///
/// Kv = Q·√(ρ / 1000 / Δp), Q in m³/h and Δp in bar (EN 1267); between the points of the table the flow factor is a straight line.
pub fn setting(manifold: &Manifold, flow_l_min: f64, drop_pa: f64, density: f64) -> Option<ValveSetting> {
    let kv_m3_h = kv_for(flow_l_min, drop_pa, density)?;
    Some(ValveSetting { kv_m3_h, turns: turns_open(&manifold.valve_table, kv_m3_h) })
}

/// Flow factor of a valve that takes `drop_pa` at a flow, m³/h; none where it need not take anything.
pub(crate) fn kv_for(flow_l_min: f64, drop_pa: f64, density: f64) -> Option<f64> {
    (drop_pa > BALANCED_PA && flow_l_min > 0.0)
        .then(|| flow_l_min * 0.06 / (drop_pa / 1e5 / (density / 1000.0)).sqrt())
        .map(|kv| kv.clamp(1e-3, 1e4))
}

/// Turns open at a flow factor, m³/h; none below the first point, and the last point's beyond it.
pub(crate) fn turns_open(table: &[ValvePoint], kv_m3_h: f64) -> Option<f64> {
    let (first, last) = (table.first()?, table.last()?);
    if kv_m3_h < first.kv_m3_h {
        return None;
    }
    let within = table.windows(2).find(|w| (w[0].kv_m3_h..w[1].kv_m3_h).contains(&kv_m3_h));
    Some(within.map_or(last.turns, |w| {
        let share = (kv_m3_h - w[0].kv_m3_h) / (w[1].kv_m3_h - w[0].kv_m3_h);
        w[0].turns + share * (w[1].turns - w[0].turns)
    }))
}

/// Flow factor at so many turns, m³/h: the table read the other way round; none wide open, from its last point on. Without a table a
/// valve of usual make.
pub(crate) fn kv_at(table: &[ValvePoint], turns: f64) -> Option<f64> {
    let table = if table.is_empty() { &USUAL[..] } else { table };
    let (first, last) = (table.first()?, table.last()?);
    if turns >= last.turns {
        return None;
    }
    let within = table.windows(2).find(|w| (w[0].turns..w[1].turns).contains(&turns));
    Some(within.map_or(first.kv_m3_h * (turns / first.turns).max(0.0), |w| {
        w[0].kv_m3_h + (turns - w[0].turns) / (w[1].turns - w[0].turns) * (w[1].kv_m3_h - w[0].kv_m3_h)
    }))
    .map(|kv| kv.max(LEAST_KV))
}

/// A valve that is all but shut, m³/h.
const LEAST_KV: f64 = 1e-3;
/// A valve of usual make.
pub(crate) const USUAL: [ValvePoint; 3] = [
    ValvePoint { turns: 0.5, kv_m3_h: 0.08 },
    ValvePoint { turns: 1.5, kv_m3_h: 0.3 },
    ValvePoint { turns: 3.0, kv_m3_h: 0.9 },
];

#[cfg(test)]
mod tests {
    use super::*;

    const TABLE: [ValvePoint; 3] = [
        ValvePoint { turns: 0.5, kv_m3_h: 0.1 },
        ValvePoint { turns: 1.5, kv_m3_h: 0.3 },
        ValvePoint { turns: 3.0, kv_m3_h: 0.9 },
    ];

    #[test]
    fn turns_are_read_between_the_points_and_not_below_them() {
        let told = |kv| turns_open(&TABLE, kv);
        assert_eq!(told(0.1), Some(0.5));
        assert!((told(0.2).expect("within") - 1.0).abs() < 1e-12);
        assert!((told(0.6).expect("within") - 2.25).abs() < 1e-12);
        assert_eq!(told(2.0), Some(3.0), "as far open as it goes");
        assert_eq!(told(0.05), None, "it cannot be set so small");
        assert_eq!(turns_open(&[], 0.2), None);
        // and back
        for kv in [0.1, 0.2, 0.6] {
            let turns = told(kv).expect("within");
            assert!((kv_at(&TABLE, turns).expect("not wide open") - kv).abs() < 1e-12);
        }
        assert_eq!(kv_at(&TABLE, 3.0), None, "wide open");
        assert!(kv_at(&TABLE, 0.0).is_some_and(|kv| kv > 0.0 && kv < 0.01));
        assert!(kv_at(&[], 1.0).is_some_and(|kv| (kv - 0.19).abs() < 1e-12));
    }
}

//! What a plant starts with: ordinary sources of each kind, and users.
//!
//! ```
//! use fuoco_core::job::SourceKind;
//! use fuoco_core::plant::usual::source;
//! let boiler = source(SourceKind::CondensingGas, 12_000.0);
//! assert!(boiler.least_w < boiler.most_w && boiler.points.is_empty());
//! assert!(source(SourceKind::HeatPumpAir, 8_000.0).points.len() >= 9);
//! ```

use super::part::{HeatPumpPoint, HeatSource, HeatUser, SourceKind, Takes};
use crate::water::part::{Feed, PumpChoice};

/// An ordinary source of a kind for an output, W. Lowest output, waterways and content as is common for its kind and size.
pub fn source(kind: SourceKind, most_w: f64) -> HeatSource {
    let kw = most_w / 1000.0;
    // name, share of the lowest output, hottest water, coolest return, rise, flow factor and content of 10 kW
    let (name, least, most_c, least_return_c, rise_k, kv, content) = match kind {
        SourceKind::CondensingGas => ("Condensing gas boiler", 0.2, 80.0, None, 20.0, 1.8, 2.5),
        SourceKind::CondensingOil => ("Condensing oil boiler", 0.6, 80.0, None, 20.0, 3.0, 25.0),
        SourceKind::Boiler => ("Boiler", 1.0, 85.0, Some(55.0), 20.0, 5.0, 30.0),
        SourceKind::Electric => ("Electric boiler", 0.1, 80.0, None, 15.0, 3.0, 4.0),
        SourceKind::TankHeater => ("Tank water heater", 1.0, 65.0, None, 15.0, 3.0, 180.0),
        SourceKind::Combined => ("Combined water heater", 0.3, 75.0, None, 25.0, 1.0, 1.5),
        SourceKind::SolidFuel => ("Wood boiler", 0.6, 85.0, Some(60.0), 20.0, 5.0, 80.0),
        SourceKind::HeatPumpAir => ("Air-source heat pump", 0.4, 55.0, None, 6.0, 3.5, 3.0),
        SourceKind::HeatPumpGround => ("Ground-source heat pump", 0.5, 60.0, None, 6.0, 3.5, 3.0),
        SourceKind::Existing => ("Existing boiler", 1.0, 85.0, None, 15.0, 5.0, 30.0),
    };
    let is_tank = kind == SourceKind::TankHeater;
    HeatSource {
        kind,
        name: name.into(),
        most_w,
        least_w: least * most_w,
        most_c,
        leaves_c: None,
        least_return_c,
        least_flow_l_min: None,
        rise_k,
        kv_m3_h: kv * (kw / 10.0).max(0.5),
        content_l: if is_tank { content } else { content * (kw / 10.0).max(0.5) },
        differential_k: if kind.is_heat_pump() { 5.0 } else { 8.0 },
        points: heat_pump_points(kind, most_w),
        pump: PumpChoice::default(),
    }
}

/// A plain table of an inverter heat pump: output and COP by what is ordinary, rated at −7 °C (air) and 0 °C (ground loop) and
/// 35 °C water.
fn heat_pump_points(kind: SourceKind, most_w: f64) -> Vec<HeatPumpPoint> {
    // outdoor or ground temperature, share of the rated output, COP at 35 °C
    let rows: &[(f64, f64, f64)] = match kind {
        SourceKind::HeatPumpAir => &[(-20.0, 0.75, 2.0), (-7.0, 1.0, 2.7), (2.0, 1.12, 3.5), (12.0, 1.3, 5.0)],
        SourceKind::HeatPumpGround => &[(-5.0, 0.88, 3.9), (0.0, 1.0, 4.4), (5.0, 1.12, 5.0)],
        _ => &[],
    };
    // water, output and COP against 35 °C
    let waters = [(35.0, 1.0, 1.0), (45.0, 0.95, 0.78), (55.0, 0.9, 0.6)];
    let point = |row: &(f64, f64, f64), water: &(f64, f64, f64)| HeatPumpPoint {
        outdoor_c: row.0,
        water_c: water.0,
        output_w: (most_w * row.1 * water.1 / 10.0).round() * 10.0,
        cop: ((row.2 * water.2).max(1.0) * 100.0).round() / 100.0,
    };
    rows.iter().flat_map(|r| waters.iter().map(move |w| point(r, w))).collect()
}

/// One of each kind of user; its id is given when it is added.
pub fn users() -> Vec<HeatUser> {
    let user = |name: &str, takes| HeatUser { id: String::new(), name: name.into(), takes, feed: Feed::plain() };
    vec![
        user("Radiators", Takes::Emitters { emitter_ids: vec![], drop_k: 12.0 }),
        user(
            "Hot-water tank",
            Takes::Tank {
                volume_l: 200.0,
                store_c: 55.0,
                coil_w: 15_000.0,
                coil_supply_c: 70.0,
                coil_flow_l_min: 15.0,
            },
        ),
        user(
            "Towel rail",
            Takes::Typed { heat_w: 400.0, supply_c: 50.0, return_c: 42.0, around_c: 24.0, always: true },
        ),
        user(
            "Existing circuit",
            Takes::Typed { heat_w: 4000.0, supply_c: 60.0, return_c: 48.0, around_c: 20.0, always: false },
        ),
    ]
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ranges::Ranged;

    #[test]
    fn every_usual_source_and_user_lies_within_its_ranges() {
        for kind in SourceKind::ALL {
            for most_w in [4_000.0, 12_000.0, 200_000.0] {
                let s = source(kind, most_w);
                s.check_ranges("source").unwrap_or_else(|e| panic!("{kind:?}: {e}"));
                assert_eq!(s.points.is_empty(), !kind.is_heat_pump());
                for p in &s.points {
                    p.check_ranges("point").unwrap_or_else(|e| panic!("{kind:?}: {e}"));
                }
            }
        }
        for user in users() {
            user.takes.check_ranges("takes").unwrap_or_else(|e| panic!("{}: {e}", user.name));
        }
    }

    #[test]
    fn a_heat_pump_gives_less_in_the_cold_and_less_for_hot_water() {
        let points = source(SourceKind::HeatPumpAir, 8_000.0).points;
        for w in points.windows(2).filter(|w| w[0].outdoor_c == w[1].outdoor_c) {
            assert!(w[1].output_w < w[0].output_w && w[1].cop <= w[0].cop);
        }
        let at_35: Vec<f64> = points.iter().filter(|p| p.water_c == 35.0).map(|p| p.cop).collect();
        assert!(at_35.windows(2).all(|w| w[1] > w[0]));
    }
}

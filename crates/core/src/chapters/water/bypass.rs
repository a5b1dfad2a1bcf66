//! The differential bypass of a circuit whose pump runs at one speed: zones that shut leave the pump its way.

use super::part::{PumpChoice, PumpControl};
use super::pumps::ChosenPump;
use super::valves::kv_for;
use crate::flow::GRAVITY;
use serde::{Deserialize, Serialize};

/// It opens at so much more than the pump gives with every zone open: with less it would always be open.
const ABOVE: f64 = 1.1;
/// The pump's flow is found within this share of its curve's end.
const HALVINGS: u32 = 40;

/// How a differential bypass is set and how large it is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Bypass {
    /// Difference at which it opens, Pa.
    pub opens_pa: f64,
    /// What it carries when only the smallest loop is open, L/min.
    pub flow_l_min: f64,
    /// Its flow factor, m³/h at 1 bar.
    pub kv_m3_h: f64,
}

/// The bypass for a pump that is run as `choice` says, with the design's flow (L/min) and head (Pa) and the flow of the smallest
/// loop (L/min); water of `density`, kg/m³. None where the pump follows what is open, or has so flat a curve that it needs none.
///
/// The pump's flow at the difference at which the valve opens, less what the smallest loop takes then (its flow by the square
/// root of the pressure); at another speed the curve by the affinity laws.
pub fn bypass(
    pump: &ChosenPump,
    choice: &PumpChoice,
    [flow_l_min, head_pa]: [f64; 2],
    smallest_l_min: f64,
    density: f64,
) -> Option<Bypass> {
    if choice.control != PumpControl::FixedSpeed || head_pa <= 0.0 {
        return None;
    }
    let speed = choice.speed.unwrap_or(1.0);
    let lifts_pa = |q: f64| speed * speed * pump.head_m(q / speed) * density * GRAVITY;
    let opens_pa = ABOVE * lifts_pa(flow_l_min).max(head_pa);
    let (mut low, mut high) = (0.0, flow_l_min);
    if lifts_pa(low) <= opens_pa {
        return None;
    }
    for _ in 0..HALVINGS {
        let middle = f64::midpoint(low, high);
        if lifts_pa(middle) > opens_pa { low = middle } else { high = middle }
    }
    let flow_l_min = low - smallest_l_min * (opens_pa / head_pa).sqrt();
    let kv_m3_h = kv_for(flow_l_min, opens_pa, density)?;
    Some(Bypass { opens_pa, flow_l_min, kv_m3_h })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::network::CurvePoint;

    /// H = 5 m − 0.0125 m/(L/min)² · Q², typed at three points.
    fn pump() -> ChosenPump {
        let curve = [0.0, 10.0, 20.0].map(|q| CurvePoint { flow_l_min: q, head_m: 5.0 - 0.0125 * q * q });
        ChosenPump { model_id: None, name: String::new(), curve: curve.to_vec(), most_w: None, serves: true }
    }

    #[test]
    fn it_takes_what_the_smallest_loop_leaves_of_the_pump() {
        let fixed = PumpChoice { control: PumpControl::FixedSpeed, ..PumpChoice::default() };
        let got = bypass(&pump(), &fixed, [15.0, 20_000.0], 2.0, 1000.0).expect("steep enough");
        // by hand: 5 − 0.0125·15² = 2.1875 m; opens at 2.40625 m; there Q = √(2.59375/0.0125) = 14.405 L/min
        let opens = 2.40625 * 1000.0 * GRAVITY;
        let flow = 14.4049 - 2.0 * (opens / 20_000.0).sqrt();
        assert!((got.opens_pa / opens - 1.0).abs() < 1e-6, "{got:?}");
        assert!((got.flow_l_min / flow - 1.0).abs() < 1e-4, "{got:?} {flow}");
        assert!((got.kv_m3_h / (flow * 0.06 / (opens / 1e5).sqrt()) - 1.0).abs() < 1e-4, "{got:?}");
    }

    #[test]
    fn a_pump_that_follows_needs_none_nor_does_a_flat_curve() {
        assert_eq!(bypass(&pump(), &PumpChoice::default(), [15.0, 20_000.0], 2.0, 1000.0), None);
        let fixed = PumpChoice { control: PumpControl::FixedSpeed, ..PumpChoice::default() };
        let at_its_end = bypass(&pump(), &fixed, [3.0, 48_500.0], 2.0, 1000.0);
        assert_eq!(at_its_end, None, "no flow at all lifts the curve a tenth above that");
    }
}

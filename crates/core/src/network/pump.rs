//! Pump curves and what a pump's control makes of them.

use crate::water::part::CurvePoint;
use serde::{Deserialize, Serialize};

/// How a pump is run.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Control {
    /// At its full speed.
    FixedSpeed {},
    /// At a share of its full speed, above 0 to 1.
    Speed {
        /// The share.
        share: f64,
    },
    /// The same head at every flow, as far as full speed gives it.
    ConstantPressure {
        /// The head, m.
        head_m: f64,
    },
    /// Less head at less flow: a straight line.
    ProportionalPressure {
        /// Head where the line meets the curve of full speed, m.
        head_m: f64,
        /// Share of it at no flow.
        #[serde(default = "half")]
        at_no_flow: f64,
    },
    /// As much flow as keeps a temperature difference between two nodes.
    ConstantDifference {
        /// The difference, K.
        difference_k: f64,
        /// The warm node and the cool one.
        between: [String; 2],
    },
    /// The same flow against every head, as far as full speed gives it.
    FixedFlow {
        /// The flow, L/min.
        flow_l_min: f64,
    },
}

fn half() -> f64 {
    0.5
}

/// The curve at full speed: head of a flow, falling.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum Curve {
    /// `H = a − b·qᶜ` through three points that begin at no flow.
    Power { a: f64, b: f64, c: f64, end: f64 },
    /// Monotone cubic through the points (F. N. Fritsch, R. E. Carlson, SIAM J. Numer. Anal. 17, 1980); straight beyond.
    Cubic { q: Vec<f64>, h: Vec<f64>, slope: Vec<f64> },
}

const MOST_POINTS: usize = 12;
/// Exponents beyond are no pump's.
const EXPONENTS: std::ops::Range<f64> = 0.3..20.0;

impl Curve {
    /// From points, flows in m³/s.
    pub fn new(points: &[CurvePoint]) -> Result<Curve, String> {
        if !(2..=MOST_POINTS).contains(&points.len()) {
            return Err(format!("its curve must have 2 to {MOST_POINTS} points, not {}", points.len()));
        }
        let q: Vec<f64> = points.iter().map(|p| p.flow_l_min / 60_000.0).collect();
        let h: Vec<f64> = points.iter().map(|p| p.head_m).collect();
        let fine = |v: &f64| v.is_finite() && *v >= 0.0;
        if !q.iter().chain(&h).all(fine) {
            return Err("flows and heads of its curve must be 0 or more".into());
        }
        if q.windows(2).any(|w| w[1] <= w[0]) {
            return Err("the flows of its curve must grow from point to point".into());
        }
        if h.windows(2).any(|w| w[1] > w[0]) || h[0] <= h[h.len() - 1] {
            return Err("its curve rises: head must fall as flow grows".into());
        }
        if let ([q0, q1, q2], [h0, h1, h2]) = (&q[..], &h[..])
            && *q0 == 0.0
            && h0 > h1
            && h1 > h2
        {
            let c = ((h0 - h2) / (h0 - h1)).ln() / (q2 / q1).ln();
            if EXPONENTS.contains(&c) {
                return Ok(Curve::Power { a: *h0, b: (h0 - h1) / q1.powf(c), c, end: *q2 });
            }
        }
        Ok(Curve::Cubic { slope: monotone_slopes(&q, &h), q, h })
    }

    /// The flow at which it ends.
    pub fn end(&self) -> f64 {
        match self {
            Curve::Power { end, .. } => *end,
            Curve::Cubic { q, .. } => q[q.len() - 1],
        }
    }

    /// Head at no flow.
    pub fn shut_off(&self) -> f64 {
        self.at(0.0).0
    }

    /// Head of a flow of 0 and more, and its slope, which is negative.
    pub fn at(&self, flow: f64) -> (f64, f64) {
        match self {
            Curve::Power { a, b, c, end } => {
                // an exponent below or above one has no slope or an endless one at no flow
                let low = 1e-4 * end;
                if flow < low {
                    let slope = -b * low.powf(*c) / low;
                    return (a + slope * flow, slope);
                }
                (a - b * flow.powf(*c), -b * c * flow.powf(c - 1.0))
            }
            Curve::Cubic { q, h, slope } => {
                let last = q.len() - 1;
                let least = (h[0] - h[last]) / (q[last] - q[0]) * 1e-3;
                if flow <= q[0] {
                    let s = slope[0].min(-least);
                    return (h[0] + s * (flow - q[0]), s);
                }
                if flow >= q[last] {
                    let s = slope[last].min((h[last] - h[last - 1]) / (q[last] - q[last - 1])).min(-least);
                    return (h[last] + s * (flow - q[last]), s);
                }
                let i = q.partition_point(|v| *v <= flow) - 1;
                let step = q[i + 1] - q[i];
                let t = (flow - q[i]) / step;
                let (t2, t3) = (t * t, t * t * t);
                let head = h[i] * (2.0 * t3 - 3.0 * t2 + 1.0)
                    + h[i + 1] * (3.0 * t2 - 2.0 * t3)
                    + step * (slope[i] * (t3 - 2.0 * t2 + t) + slope[i + 1] * (t3 - t2));
                let s = (h[i] - h[i + 1]) * (6.0 * t2 - 6.0 * t) / step
                    + slope[i] * (3.0 * t2 - 4.0 * t + 1.0)
                    + slope[i + 1] * (3.0 * t2 - 2.0 * t);
                (head, s.min(-least))
            }
        }
    }

    /// Flow at which it gives that head; none where it never does.
    fn flow_of(&self, head: f64) -> Option<f64> {
        let (mut low, mut high) = (0.0, self.end());
        if head > self.at(low).0 || head < self.at(high).0 {
            return None;
        }
        for _ in 0..60 {
            let middle = f64::midpoint(low, high);
            if self.at(middle).0 > head { low = middle } else { high = middle }
        }
        Some(f64::midpoint(low, high))
    }
}

/// Head of a curve at a flow, m: through three points that begin at no flow the power law, through others a monotone cubic.
/// None beyond its end, and for points that make no curve.
pub fn head_of_curve(points: &[CurvePoint], flow_l_min: f64) -> Option<f64> {
    let curve = Curve::new(points).ok()?;
    let flow = flow_l_min / 60_000.0;
    (flow >= 0.0 && flow <= curve.end() * (1.0 + 1e-9)).then(|| curve.at(flow).0)
}

fn monotone_slopes(q: &[f64], h: &[f64]) -> Vec<f64> {
    let secants: Vec<f64> = q.windows(2).zip(h.windows(2)).map(|(q, h)| (h[1] - h[0]) / (q[1] - q[0])).collect();
    let last = secants.len();
    (0..=last)
        .map(|i| match (i.checked_sub(1).map(|k| secants[k]), secants.get(i)) {
            (Some(a), Some(b)) if a * b > 0.0 => {
                // harmonic mean by the lengths of both sides: never overshoots
                let (left, right) = (q[i] - q[i - 1], q[i + 1] - q[i]);
                let (u, v) = (2.0 * right + left, right + 2.0 * left);
                (u + v) / (u / a + v / b)
            }
            (Some(_), Some(_)) => 0.0,
            (None, Some(s)) => *s,
            (Some(s), None) => s,
            (None, None) => 0.0,
        })
        .collect()
}

/// A pump as it runs: head gained at a flow, m.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Running {
    curve: Curve,
    way: Way,
}

#[derive(Debug, Clone, Copy, PartialEq)]
enum Way {
    Off,
    Speed(f64),
    Constant(f64),
    /// Head at no flow, the flow and head where the line meets the curve, and the head at the flow of the last pass.
    Line {
        low: f64,
        meets: f64,
        head: f64,
        now: f64,
    },
    Flow(f64),
}

/// Head that holds a flow fast, m per m³/s: far above any curve's.
const STEEP: f64 = 1e12;

impl Running {
    /// `flow`: what a control by temperatures asks for at present, m³/s.
    pub fn new(curve: Curve, control: &Control, on: bool, flow: Option<f64>) -> Result<Running, String> {
        let shut_off = curve.shut_off();
        let head = |v: f64| {
            if v > 0.0 && v.is_finite() {
                Ok(v.min(shut_off))
            } else {
                Err(format!("its control's head must be above 0, not {v}"))
            }
        };
        let way = match *control {
            Control::Speed { share } if !(share > 0.0 && share <= 1.0) => {
                return Err(format!("its control's share of full speed must be above 0 and up to 1, not {share}"));
            }
            Control::ProportionalPressure { at_no_flow, .. } if !(0.0..=1.0).contains(&at_no_flow) => {
                return Err(format!("its control's share at no flow must be 0 to 1, not {at_no_flow}"));
            }
            Control::FixedFlow { flow_l_min } if !(flow_l_min > 0.0 && flow_l_min.is_finite()) => {
                return Err(format!("its control's flow must be above 0, not {flow_l_min}"));
            }
            Control::ConstantDifference { difference_k, .. } if !(difference_k > 0.0 && difference_k.is_finite()) => {
                return Err(format!("its control's difference must be above 0, not {difference_k}"));
            }
            _ if !on => Way::Off,
            Control::FixedSpeed {} => Way::Speed(1.0),
            Control::Speed { share } => Way::Speed(share),
            Control::ConstantPressure { head_m } => Way::Constant(head(head_m)?),
            Control::ProportionalPressure { head_m, at_no_flow } => {
                let head = head(head_m)?;
                Way::Line { low: head * at_no_flow, meets: curve.flow_of(head).unwrap_or(curve.end()), head, now: head }
            }
            Control::ConstantDifference { .. } => Way::Flow(flow.unwrap_or(0.5 * curve.end())),
            Control::FixedFlow { flow_l_min } => Way::Flow(flow_l_min / 60_000.0),
        };
        Ok(Running { curve, way })
    }

    /// Another flow for a control by temperatures.
    pub fn set_flow(&mut self, flow: f64) {
        if let Way::Flow(f) = &mut self.way {
            *f = flow;
        }
    }

    /// Takes the head that its control wants at that flow, where head depends on flow. Returns by how much that changes it,
    /// as share of the head. A line that rises with the flow would have no one answer within a pass, so it is followed from
    /// pass to pass; the system's curve is steeper, which makes the passes close in.
    pub fn follow(&mut self, flow: f64) -> f64 {
        let Way::Line { low, meets, head, now } = &mut self.way else { return 0.0 };
        let wanted = *low + (*head - *low) * (flow / *meets).clamp(0.0, 1.0);
        let change = (wanted - *now).abs() / *head;
        *now = wanted;
        change
    }

    /// Whether it is on.
    pub fn runs(&self) -> bool {
        self.way != Way::Off
    }

    /// The flow that it should not pass.
    pub fn end(&self) -> f64 {
        match self.way {
            Way::Speed(s) => self.curve.end() * s,
            _ => self.curve.end(),
        }
    }

    /// A flow in the middle of its curve.
    pub fn typical(&self) -> f64 {
        0.5 * self.end()
    }

    /// Head gained at a flow, and its slope, which is negative. What flows backward, and what flows through a pump that
    /// stands, meets the resistance of its wheel: at the curve's last flow as much as the head at no flow.
    pub fn at(&self, flow: f64) -> (f64, f64) {
        let wheel = self.curve.shut_off() / (self.curve.end() * self.curve.end());
        let least = 1e-6 * self.curve.end();
        let through = |q: f64| (-wheel * q * q.abs().max(least), -wheel * (2.0 * q.abs()).max(least));
        if self.way == Way::Off {
            return through(flow);
        }
        if flow < 0.0 {
            let (head, _) = self.forward(0.0);
            let (more, slope) = through(flow);
            return (head + more, slope);
        }
        self.forward(flow)
    }

    fn forward(&self, flow: f64) -> (f64, f64) {
        let full = || self.curve.at(flow);
        // a level line has a slope that can be divided by: a ten thousandth of the head over the whole curve
        let flat = -1e-4 * self.curve.shut_off() / self.curve.end();
        let lower = |held: (f64, f64)| {
            let full = full();
            if held.0 < full.0 { held } else { full }
        };
        match self.way {
            Way::Off => (0.0, flat),
            Way::Speed(s) => {
                let (head, slope) = self.curve.at(flow / s);
                (head * s * s, slope * s)
            }
            Way::Constant(head) => lower((head + flat * flow, flat)),
            Way::Line { now, .. } => lower((now + flat * flow, flat)),
            Way::Flow(wanted) => {
                if flow <= wanted {
                    full()
                } else {
                    let (head, slope) = self.curve.at(wanted);
                    (head - STEEP * (flow - wanted), slope - STEEP)
                }
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn points(list: &[(f64, f64)]) -> Vec<CurvePoint> {
        list.iter().map(|&(flow_l_min, head_m)| CurvePoint { flow_l_min, head_m }).collect()
    }

    #[test]
    fn three_points_from_no_flow_make_a_power_law_through_them() {
        let curve = Curve::new(&points(&[(0.0, 6.0), (20.0, 5.0), (50.0, 1.0)])).expect("a curve");
        assert!(matches!(curve, Curve::Power { .. }));
        for (flow, head) in [(20.0, 5.0), (50.0, 1.0)] {
            assert!((curve.at(flow / 60_000.0).0 - head).abs() < 1e-9);
        }
        assert!((curve.shut_off() - 6.0).abs() < 1e-9);
    }

    #[test]
    fn more_points_are_met_and_nothing_rises_between() {
        let list = [(0.0, 6.0), (10.0, 5.9), (20.0, 5.0), (30.0, 3.0), (50.0, 0.5)];
        let curve = Curve::new(&points(&list)).expect("a curve");
        for (flow, head) in list {
            assert!((curve.at(flow / 60_000.0).0 - head).abs() < 1e-9, "{flow}");
        }
        let mut last = f64::MAX;
        for k in 0..600 {
            let (head, slope) = curve.at(f64::from(k) * 0.1 / 60_000.0);
            assert!(head <= last + 1e-12 && slope < 0.0, "{k}: {head} after {last}");
            last = head;
        }
    }

    #[test]
    fn slopes_are_those_of_the_heads() {
        for list in [&[(0.0, 6.0), (20.0, 5.0), (50.0, 1.0)][..], &[(0.0, 4.0), (12.0, 3.9), (30.0, 2.0), (40.0, 0.4)]]
        {
            let curve = Curve::new(&points(list)).expect("a curve");
            for k in 1..45 {
                let (q, d) = (f64::from(k) / 60_000.0, 1e-9);
                let by_difference = (curve.at(q + d).0 - curve.at(q - d).0) / (2.0 * d);
                let slope = curve.at(q).1;
                assert!((by_difference - slope).abs() <= 0.02 * slope.abs() + 1.0, "{k}: {by_difference} {slope}");
            }
        }
    }

    #[test]
    fn half_the_speed_has_half_the_flow_at_a_quarter_of_the_head() {
        let curve = Curve::new(&points(&[(0.0, 6.0), (20.0, 5.0), (50.0, 1.0)])).expect("a curve");
        let half = Running::new(curve.clone(), &Control::Speed { share: 0.5 }, true, None).expect("runs");
        assert!((half.at(10.0 / 60_000.0).0 - 1.25).abs() < 1e-9);
        assert!((half.end() - 25.0 / 60_000.0).abs() < 1e-12);
    }

    #[test]
    fn what_is_no_curve_says_why() {
        let wrong = |list: &[(f64, f64)]| Curve::new(&points(list)).expect_err("no curve");
        assert!(wrong(&[(0.0, 5.0)]).contains("2 to 12 points"));
        assert!(wrong(&[(0.0, 5.0), (10.0, 5.5)]).contains("rises"));
        assert!(wrong(&[(0.0, 5.0), (10.0, 5.0)]).contains("rises"));
        assert!(wrong(&[(10.0, 5.0), (10.0, 4.0)]).contains("grow"));
        assert!(wrong(&[(0.0, f64::NAN), (10.0, 4.0)]).contains("0 or more"));
    }
}

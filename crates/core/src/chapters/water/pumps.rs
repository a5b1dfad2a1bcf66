//! Pumps: the first of the job's own, or the smallest of the library, that serves, how it is run, and about what electricity it takes.
//!
//! ```
//! use fuoco_core::job::Job;
//! use fuoco_core::water::part::PumpChoice;
//! use fuoco_core::water::pumps::choose;
//! let job = Job::new("Annex");
//! let pump = choose(&job, &PumpChoice::default(), 18.0, 2.0);
//! assert!(pump.serves && pump.head_m(18.0) > 2.0);
//! // no pump of the library lifts that
//! assert!(!choose(&job, &PumpChoice::default(), 18.0, 60.0).serves);
//! ```

use super::part::{PumpChoice, PumpControl};
use crate::flow::GRAVITY;
use crate::job::Job;
use crate::library::PumpModel;
use crate::network::{Control, CurvePoint, head_of_curve};
use serde::{Deserialize, Serialize};

/// A circulator without electronics takes so much of its most at no flow.
const IDLE_SHARE: f64 = 0.6;
/// One that follows takes at least so much of its most.
const LEAST_SHARE: f64 = 0.1;
/// Points at which the best of a curve is looked for.
const STEPS: u32 = 40;

/// A pump with its curve.
#[derive(Debug, Clone, PartialEq)]
pub struct ChosenPump {
    /// One of the job or the library; none for a typed curve.
    pub model_id: Option<String>,
    /// What it is called.
    pub name: String,
    /// Its curve at full speed.
    pub curve: Vec<CurvePoint>,
    /// Electricity that it takes at most, W; none for a typed curve.
    pub most_w: Option<f64>,
    /// Whether it lifts what is needed.
    pub serves: bool,
}

/// The pump that somebody chose, or the first of the job's own and then the smallest of the library that gives `head_m` (m of the fluid, 0 and more) at
/// `flow_l_min` (0 and more); the strongest where none does.
pub fn choose(job: &Job, choice: &PumpChoice, flow_l_min: f64, head_m: f64) -> ChosenPump {
    let gives = |curve: &[CurvePoint]| head_of_curve(curve, flow_l_min).is_some_and(|h| h >= head_m - 1e-9);
    if !choice.curve.is_empty() {
        let serves = gives(&choice.curve);
        return ChosenPump {
            model_id: None,
            name: "Typed curve".into(),
            curve: choice.curve.clone(),
            most_w: None,
            serves,
        };
    }
    let wished = choice.model_id.as_deref().and_then(|id| job.pump(id));
    let fits = || job.pumps().find(|p| gives(&p.curve));
    let lifts = |p: &PumpModel| head_of_curve(&p.curve, flow_l_min).unwrap_or(0.0);
    let strongest = || job.pumps().max_by(|a, b| lifts(a).total_cmp(&lifts(b)));
    let Some(model) = wished.or_else(fits).or_else(strongest) else {
        return ChosenPump { model_id: None, name: String::new(), curve: vec![], most_w: None, serves: false };
    };
    ChosenPump {
        model_id: Some(model.id.clone()),
        name: model.name.clone(),
        curve: model.curve.clone(),
        most_w: Some(model.most_w),
        serves: gives(&model.curve),
    }
}

/// A pump at its operating point.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PumpPoint {
    /// One of the job or the library; none for a typed curve.
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
    /// About what electricity it takes, W; none for a typed curve.
    pub electric_w: Option<f64>,
    /// What the design needs of it: flow, L/min.
    pub design_flow_l_min: f64,
    /// What the design needs of it: head, Pa.
    pub design_head_pa: f64,
}

impl ChosenPump {
    /// At a flow, L/min, and a head, Pa, with what the design needs of it.
    pub(crate) fn at(&self, control: PumpControl, at: (f64, f64), density: f64, design: [f64; 2]) -> PumpPoint {
        let (flow_l_min, head_pa) = at;
        PumpPoint {
            model_id: self.model_id.clone(),
            name: self.name.clone(),
            serves: self.serves,
            control,
            flow_l_min,
            head_pa,
            electric_w: self.electric_w(control, flow_l_min, head_pa / (density * GRAVITY)),
            design_flow_l_min: design[0],
            design_head_pa: design[1],
        }
    }

    /// Head at full speed, m; 0 beyond the end of its curve.
    pub fn head_m(&self, flow_l_min: f64) -> f64 {
        head_of_curve(&self.curve, flow_l_min).unwrap_or(0.0).max(0.0)
    }

    /// About what electricity it takes, W: a pump at one speed runs along a straight line up to its most; one that follows
    /// takes what its water takes, at the efficiency of its best point.
    pub fn electric_w(&self, control: PumpControl, flow_l_min: f64, head_m: f64) -> Option<f64> {
        let most = self.most_w?;
        let end = self.curve.last()?.flow_l_min;
        let flow = flow_l_min.clamp(0.0, end);
        if control == PumpControl::FixedSpeed {
            return Some(most * (IDLE_SHARE + (1.0 - IDLE_SHARE) * flow / end));
        }
        let hydraulic = |q: f64, h: f64| GRAVITY * q / 60.0 * h;
        let best = (1..STEPS).map(|k| end * f64::from(k) / f64::from(STEPS)).map(|q| hydraulic(q, self.head_m(q)));
        let best = best.fold(0.0, f64::max);
        Some((most * hydraulic(flow, head_m) / best.max(1e-9)).clamp(LEAST_SHARE * most, most))
    }
}

/// What the network makes of a choice: `head_m` and `difference_k` are the design's, for controls that name none; `between`
/// the nodes of supply and return.
pub(crate) fn control(choice: &PumpChoice, head_m: f64, difference_k: f64, between: [&str; 2]) -> Control {
    let head_m = choice.head_pa.map_or(head_m, |pa| pa / 1000.0 / GRAVITY).max(0.005);
    match choice.control {
        PumpControl::FixedSpeed => match choice.speed {
            Some(share) => Control::Speed { share },
            None => Control::FixedSpeed {},
        },
        PumpControl::ConstantPressure => Control::ConstantPressure { head_m },
        PumpControl::ProportionalPressure => Control::ProportionalPressure { head_m, at_no_flow: 0.5 },
        PumpControl::ConstantDifference => Control::ConstantDifference {
            difference_k: choice.difference_k.unwrap_or(difference_k).max(0.5),
            between: between.map(str::to_owned),
        },
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_smallest_that_serves_is_taken_and_a_wish_comes_before() {
        let job = Job::new("Annex");
        let free = PumpChoice::default();
        assert_eq!(choose(&job, &free, 10.0, 2.0).model_id.as_deref(), Some("pump-4"));
        assert_eq!(choose(&job, &free, 10.0, 5.0).model_id.as_deref(), Some("pump-6"));
        let wished = PumpChoice { model_id: Some("pump-8".into()), ..free.clone() };
        assert_eq!(choose(&job, &wished, 10.0, 2.0).name, "Circulator, 8 m");
        let point = |flow_l_min, head_m| CurvePoint { flow_l_min, head_m };
        let typed = PumpChoice { curve: vec![point(0.0, 3.0), point(20.0, 0.0)], ..wished };
        let typed = choose(&job, &typed, 10.0, 2.0);
        assert!(!typed.serves && typed.model_id.is_none(), "a straight line gives 1.5 m there");
        assert!((typed.head_m(10.0) - 1.5).abs() < 1e-9);
    }

    #[test]
    fn a_pump_that_follows_takes_less_than_one_at_full_speed() {
        let pump = choose(&Job::new("Annex"), &PumpChoice::default(), 15.0, 2.0);
        for flow in [2.0, 10.0, 20.0] {
            let fixed = pump.electric_w(PumpControl::FixedSpeed, flow, pump.head_m(flow)).expect("known");
            let follows = pump.electric_w(PumpControl::ConstantPressure, flow, 1.5).expect("known");
            assert!(follows < fixed && fixed <= pump.most_w.expect("known"), "{flow}: {follows} {fixed}");
        }
    }
}

//! Water's part of the job: what flows in the tubes, the circuits, how each is fed.

use crate::ranges::ranges;
use serde::{Deserialize, Serialize};

/// What flows in the tubes.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Fluid {
    /// Water or a glycol solution.
    pub kind: FluidKind,
    /// Mass fraction of glycol; 0 for water.
    #[serde(default)]
    pub mass_fraction: f64,
}

/// The fluids of the property table.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum FluidKind {
    #[default]
    Water,
    PropyleneGlycol,
    EthyleneGlycol,
}

/// All that one pump or mixing valve feeds: manifolds on one supply temperature.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FloorCircuit {
    /// Stable id, unique in the job.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Its manifolds; those that no circuit names are the first circuit's.
    #[serde(default)]
    pub manifold_ids: Vec<String>,
    /// Supply temperature at which its mixing valve is set, °C; absent: what its governing room needs.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub supply_c: Option<f64>,
    /// How it is fed.
    #[serde(default, skip_serializing_if = "Feed::is_usual")]
    pub feed: Feed,
}

/// How a circuit is fed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Feed {
    /// What sets its supply temperature.
    #[serde(default)]
    pub mixing: Mixing,
    /// Its pump.
    #[serde(default)]
    pub pump: PumpChoice,
    /// Length of its mains from the plant to the manifold or emitters, one way, m
    #[serde(default = "mains_length")]
    pub mains_m: f64,
    /// Bore of its mains, m; absent: by the flow.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mains_bore_m: Option<f64>,
}

fn mains_length() -> f64 {
    5.0
}

impl Default for Feed {
    fn default() -> Self {
        Feed { mixing: Mixing::default(), pump: PumpChoice::default(), mains_m: mains_length(), mains_bore_m: None }
    }
}

/// What sets a circuit's supply temperature.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Mixing {
    /// Nothing: it has the water of the pipe it hangs on; tees alone blend by flow.
    None,
    /// A thermostatic valve at a fixed setting.
    Thermostatic,
    /// A motorised three-way valve that follows the reset line.
    #[default]
    ThreeWay,
    /// A small pump that injects hot water into the circuit's own round.
    Injection,
}

/// A pump and how it is run.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PumpChoice {
    /// One of the library; absent: the smallest that serves.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub model_id: Option<String>,
    /// A curve of its own in place of the library's, 2 to 12 points, head falling.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub curve: Vec<CurvePoint>,
    /// How it is run.
    #[serde(default)]
    pub control: PumpControl,
    /// What that control holds: head, Pa; absent: what the design needs.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub head_pa: Option<f64>,
    /// Share of full speed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub speed: Option<f64>,
    /// Temperature difference it keeps, K; absent: the design's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub difference_k: Option<f64>,
}

/// A pump, described by what it does.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct PumpModel {
    pub id: String,
    pub name: String,
    /// Electricity that it takes at most, W
    pub most_w: f64,
    /// Its curve at full speed, 2 to 12 points, head falling.
    pub curve: Vec<CurvePoint>,
}

/// A point of a pump's curve.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct CurvePoint {
    /// Flow, L/min.
    pub flow_l_min: f64,
    /// Head, m of the fluid.
    pub head_m: f64,
}

/// How a pump is run.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum PumpControl {
    /// At one speed.
    FixedSpeed,
    /// The same head at every flow.
    #[default]
    ConstantPressure,
    /// Less head at less flow.
    ProportionalPressure,
    /// As much flow as keeps the temperature difference.
    ConstantDifference,
}

impl Feed {
    /// Whether it says nothing that a new one does not.
    pub fn is_usual(&self) -> bool {
        *self == Feed::default()
    }

    /// Without a mixing device.
    pub fn plain() -> Feed {
        Feed { mixing: Mixing::None, ..Feed::default() }
    }

    /// Whether it says nothing that [`Feed::plain`] does not.
    pub fn is_plain(&self) -> bool {
        *self == Feed::plain()
    }
}

ranges! {
    of PumpModel { most_w: Power 1.0..=10_000.0, curve: items 2..=12 }
    of Fluid { mass_fraction: Share 0.0..=0.6 }
    of FloorCircuit { manifold_ids: items 0..=20, supply_c: Temperature 15.0..=90.0 }
    of Feed { mains_m: Tube 0.5..=500.0, mains_bore_m: Size 0.006..=0.2 }
    of PumpChoice {
        curve: items 0..=12,
        head_pa: Head 1000.0..=300_000.0,
        speed: Share 0.1..=1.0,
        difference_k: Difference 1.0..=40.0,
    }
    of CurvePoint { flow_l_min: Flow 0.0..=10_000.0, head_m: Length 0.0..=100.0 }
}

//! Water in any network of pipes, valves, pumps, sources and loads: flows, pressures, temperatures. Usable alone; nothing
//! here knows what a primary loop or a manifold is. `fuoco network` reads and prints these types; `docs/networks.md` has the
//! contract.
//!
//! ```
//! use fuoco_core::network::Network;
//! let network = Network::from_json(r#"{
//!     "fluid": { "kind": "water", "mass_fraction": 0.0 },
//!     "pressure_node": "a",
//!     "links": [
//!         { "id": "boiler", "kind": "source", "from": "a", "to": "b", "leaves_c": 60.0 },
//!         { "id": "pump", "kind": "pump", "from": "b", "to": "c", "on": true, "control": { "kind": "fixed_speed" },
//!           "curve": [{ "flow_l_min": 0, "head_m": 4 }, { "flow_l_min": 20, "head_m": 3 }, { "flow_l_min": 40, "head_m": 0 }] },
//!         { "id": "pipe", "kind": "pipe", "from": "c", "to": "d", "length_m": 20, "bore_m": 0.02, "roughness_m": 7e-6 },
//!         { "id": "radiators", "kind": "load", "from": "d", "to": "a", "ua_w_k": 120, "around_c": 20, "kv_m3_h": 1.5 }
//!     ]
//! }"#)?;
//! let solution = network.solve()?;
//! let flow = solution.links[0].flow_l_min;
//! assert!(solution.links.iter().all(|l| (l.flow_l_min - flow).abs() < 1e-6 * flow));
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

mod controls;
mod flows;
mod heat;
mod pump;
mod read;
mod solve;

pub(crate) use solve::Rest;

pub use crate::water::part::CurvePoint;
pub use pump::{Control, head_of_curve};

use crate::error::FieldError;
use crate::water::part::Fluid;
use flows::SMOOTH;
use serde::{Deserialize, Serialize};

/// What flows.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[serde(untagged)]
pub enum NetworkFluid {
    /// A fluid of the tables.
    Known {
        /// Which, and how much glycol.
        #[serde(flatten)]
        fluid: Fluid,
        /// Its temperature where none are solved, and of water that only goes round, °C.
        #[serde(skip_serializing_if = "Option::is_none")]
        temperature_c: Option<f64>,
    },
    /// The same properties everywhere.
    Typed {
        /// kg/m³
        density_kg_m3: f64,
        /// Pa·s
        viscosity_pa_s: f64,
        /// J/kgK; that of water where none is given.
        #[serde(skip_serializing_if = "Option::is_none")]
        heat_capacity_j_kgk: Option<f64>,
    },
}

/// A network.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Network {
    /// What flows.
    pub fluid: NetworkFluid,
    /// The node from which pressures count: where the expansion vessel is.
    pub pressure_node: String,
    /// Its parts, 1 to 5000.
    pub links: Vec<Link>,
}

/// A part between two nodes.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Link {
    /// Its name, unique.
    pub id: String,
    /// The node where it begins.
    pub from: String,
    /// The node where it ends.
    pub to: String,
    /// What it is.
    #[serde(flatten)]
    pub part: Part,
}

/// What a part is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Part {
    /// Pipe or tube.
    Pipe {
        /// Length, m
        length_m: f64,
        /// Bore, m
        bore_m: f64,
        /// Roughness, m; that of plastic tube where none is given.
        #[serde(default = "smooth")]
        roughness_m: f64,
        /// Fittings: their losses in velocity heads.
        #[serde(default)]
        minor_k: f64,
        /// With a check valve: nothing flows back.
        #[serde(default)]
        check: bool,
    },
    /// A valve.
    Valve {
        /// Flow factor wide open, m³/h at 1 bar
        kv_m3_h: f64,
        /// Share of the flow factor that is open, 0…1.
        #[serde(default = "one")]
        open: f64,
    },
    /// A pump, from its suction to its discharge.
    Pump {
        /// Its curve at full speed.
        curve: Vec<CurvePoint>,
        /// How it is run.
        control: Control,
        /// Whether it is on.
        #[serde(default = "yes")]
        on: bool,
    },
    /// What heats the water.
    Source {
        /// Temperature at which its water leaves, °C.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        leaves_c: Option<f64>,
        /// Heat it gives, W, in place of a temperature.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        heat_w: Option<f64>,
        /// Heat it gives at most, W.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        most_w: Option<f64>,
        /// Its flow factor, m³/h at 1 bar; without resistance where none is given.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        kv_m3_h: Option<f64>,
    },
    /// What takes heat.
    Load {
        /// Heat it takes, W.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        heat_w: Option<f64>,
        /// What it gives its surroundings, W/K, in place of a heat.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        ua_w_k: Option<f64>,
        /// Their temperature, °C.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        around_c: Option<f64>,
        /// Its flow factor, m³/h at 1 bar; without resistance where none is given.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        kv_m3_h: Option<f64>,
    },
    /// One side of a heat exchanger in counterflow; the other side is another link that names this one.
    Exchanger {
        /// The link of the other side.
        with: String,
        /// Heat per kelvin of the mean difference, W/K; the same on both sides.
        ua_w_k: f64,
        /// Its flow factor, m³/h at 1 bar; without resistance where none is given.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        kv_m3_h: Option<f64>,
    },
    /// A mixing valve: hot and cold water come together and leave to the link's `to` at the setpoint, as far as they can.
    Mixer {
        /// The node of the hot water; the link's `from` where none is given.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        hot: Option<String>,
        /// The node of the cold water.
        cold: String,
        /// The temperature it mixes to, °C
        setpoint_c: f64,
        /// Its flow factor, m³/h at 1 bar.
        #[serde(default = "mixer_kv")]
        kv_m3_h: f64,
    },
}

fn smooth() -> f64 {
    SMOOTH
}
fn one() -> f64 {
    1.0
}
fn yes() -> bool {
    true
}
fn mixer_kv() -> f64 {
    6.3
}

/// What flows in a part.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct LinkFlow {
    /// The part.
    pub id: String,
    /// Flow, L/min; below 0 from `to` to `from`. Of a mixer what leaves it.
    pub flow_l_min: f64,
    /// Velocity in a pipe, m/s; 0 in other parts.
    pub velocity_m_s: f64,
    /// Reynolds number in a pipe; 0 in other parts.
    pub reynolds: f64,
    /// Head, m of the fluid: what a pump gives, what other parts cost from `from` to `to`.
    pub head_m: f64,
    /// Pressure at `from` less that at `to`, Pa: below 0 across a pump that works.
    pub pressure_drop_pa: f64,
    /// Temperature at its `from` end, °C; none where the water stands or no temperatures are solved.
    pub from_c: Option<f64>,
    /// Temperature at its `to` end, °C.
    pub to_c: Option<f64>,
    /// Share of hot water in what leaves a mixer, 0…1.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hot_share: Option<f64>,
}

/// A node.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct NodeState {
    /// Its name.
    pub id: String,
    /// Pressure over that of the pressure node, m of the fluid.
    pub head_m: f64,
    /// Temperature of the water that comes together there, °C.
    pub temperature_c: Option<f64>,
}

/// What comes out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Solution {
    /// Every part, in the network's order.
    pub links: Vec<LinkFlow>,
    /// Every node, in the order in which links name them.
    pub nodes: Vec<NodeState>,
    /// Steps of Newton's method over all passes.
    pub iterations: usize,
    /// How far the flows are from balance: the last step against the flow, as share of energy, its root.
    pub residual: f64,
    /// What does not work as it should, by name.
    pub notes: Vec<String>,
}

impl Network {
    /// Flows, pressures and temperatures.
    ///
    /// # Errors
    /// Names the part or node that makes no sense, the pump that is driven past its curve's end, or that no balance was found.
    pub fn solve(&self) -> Result<Solution, FieldError> {
        solve::Solver::new(self)?.run()
    }

    /// The same, beginning where a network of the same parts came to rest, and leaving there where this one does.
    ///
    /// # Errors
    /// As [`Network::solve`].
    pub(crate) fn solve_after(&self, rest: &mut Rest) -> Result<Solution, FieldError> {
        let mut solver = solve::Solver::new(self)?.after(rest);
        let solution = solver.run()?;
        *rest = solver.rest();
        Ok(solution)
    }
}

//! The firm's rules.

use crate::check::text;
use crate::error::FieldError;
use crate::ranges::{Ranged, ranges};
use crate::water::part::{Feed, Mixing, PumpChoice, PumpControl};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// The firm's limits and habits; every finding that comes from one says so.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct HouseRules {
    /// Name of the rule set.
    pub name: String,
    /// Why these rules, in the firm's words.
    #[serde(default)]
    pub reason: String,
    /// Longest loop with its leaders by tube id, m. A tube that is not named takes the library's figure.
    #[serde(default)]
    pub longest_loop_m: BTreeMap<String, f64>,
    /// Spacings the firm lays, m
    pub spacings_m: Vec<f64>,
    /// Width of the band of tighter spacing along outside walls, m
    pub edge_band_m: f64,
    /// Distance of the first tube from a wall, m
    pub wall_clearance_m: f64,
    /// Distance between the tubes of leaders laid side by side, m
    pub lane_spacing_m: f64,
    /// Leaders lie in insulating sleeves outside the rooms that they serve.
    #[serde(default)]
    pub insulated_leaders: bool,
    /// Leaders take a sleeve rather than go round through doorways where that shortens their way by more than this, m
    #[serde(default = "usual_sleeve_saves")]
    pub sleeve_saves_m: f64,
    /// Smallest distance between any two tube centre lines, m
    pub min_gap_m: f64,
    /// Mean floor surface where people stay, °C
    pub surface_limit_c: f64,
    /// Floor surface in the perimeter zone, °C
    pub surface_limit_edge_c: f64,
    /// Floor surface of a bath or shower above its room temperature, K
    pub surface_limit_bath_over_room_k: f64,
    /// Surface of a wall field, °C
    #[serde(default = "usual_wall_limit")]
    pub surface_limit_wall_c: f64,
    /// Surface of a ceiling field, °C
    #[serde(default = "usual_ceiling_limit")]
    pub surface_limit_ceiling_c: f64,
    /// Difference across the floor's surface from which bare feet feel the tubes, K
    #[serde(default = "usual_striping")]
    pub striping_limit_k: f64,
    /// What counts first when floors that meet their room's load are compared.
    #[serde(default)]
    pub prefer: Preference,
    /// Temperature drop in the loop of the governing room, K
    pub temperature_drop_k: f64,
    /// Largest drop that an easy room is throttled to, K
    pub largest_drop_k: f64,
    /// Least flow of a loop: what its flow meter can show and what carries air along, L/min
    #[serde(default = "usual_least_flow")]
    pub least_flow_l_min: f64,
    /// Head that one loop may need, Pa
    pub head_limit_pa: f64,
    /// The loops of a manifold must be of equal length (within a tenth) instead of balanced by valves.
    #[serde(default)]
    pub equal_loops: bool,
    /// Loops shorter than this are laid as one with a neighbour of the same thermostat zone where the limit allows, m;
    /// 0: every room has loops of its own.
    #[serde(default = "usual_share")]
    pub share_below_m: f64,
    /// How the pump of a circuit is run where nobody has said otherwise.
    #[serde(default)]
    pub pump_control: PumpControl,
    /// What sets the supply temperature of a circuit where nobody has said otherwise.
    #[serde(default)]
    pub mixing: Mixing,
    /// Rules of thumb by which heat is guessed in the trade, shown beside the calculated figure; at most 10.
    #[serde(default = "usual_flat_rates")]
    pub flat_rates: Vec<FlatRate>,
}

impl HouseRules {
    /// How a circuit is fed of which nothing else is said.
    pub fn feed(&self) -> Feed {
        let pump = PumpChoice { control: self.pump_control, ..PumpChoice::default() };
        Feed { mixing: self.mixing, pump, ..Feed::default() }
    }
}

fn usual_wall_limit() -> f64 {
    40.0
}

fn usual_ceiling_limit() -> f64 {
    32.0
}

fn usual_sleeve_saves() -> f64 {
    2.0
}

fn usual_least_flow() -> f64 {
    0.5
}

fn usual_share() -> f64 {
    40.0
}

fn usual_striping() -> f64 {
    2.0
}

/// What a firm looks at first among floors that meet their room's load.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Preference {
    /// The coolest water: boilers condense, heat pumps are thrifty.
    #[default]
    CoolWater,
    /// The least tube.
    LittleTube,
    /// The quickest response.
    Quick,
    /// The lowest height added.
    Low,
}

/// Heat by floor area alone, as a rule of thumb has it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FlatRate {
    /// How the trade calls it.
    pub name: String,
    /// Heat per floor area, W/m²
    pub w_m2: f64,
}

/// The two that one hears most often: 100 W/m², and 40 BTU/h·ft² for a slab in a dwelling.
fn usual_flat_rates() -> Vec<FlatRate> {
    let rate = |name: &str, w_m2| FlatRate { name: name.into(), w_m2 };
    vec![rate("Rule of thumb for old houses", 100.0), rate("Rule of thumb for slabs", 126.2)]
}

impl Default for HouseRules {
    fn default() -> Self {
        HouseRules {
            name: "Ordinary practice".into(),
            reason: String::new(),
            longest_loop_m: BTreeMap::new(),
            spacings_m: vec![0.1, 0.15, 0.2, 0.25, 0.3],
            edge_band_m: 0.8,
            wall_clearance_m: 0.1,
            lane_spacing_m: 0.05,
            insulated_leaders: false,
            min_gap_m: 0.04,
            surface_limit_c: 29.0,
            surface_limit_edge_c: 35.0,
            surface_limit_bath_over_room_k: 9.0,
            surface_limit_wall_c: usual_wall_limit(),
            surface_limit_ceiling_c: usual_ceiling_limit(),
            striping_limit_k: usual_striping(),
            prefer: Preference::default(),
            temperature_drop_k: 7.0,
            largest_drop_k: 15.0,
            least_flow_l_min: usual_least_flow(),
            head_limit_pa: 30_000.0,
            equal_loops: false,
            sleeve_saves_m: usual_sleeve_saves(),
            share_below_m: usual_share(),
            pump_control: PumpControl::default(),
            mixing: Mixing::default(),
            flat_rates: usual_flat_rates(),
        }
    }
}

ranges! {
    of HouseRules {
        longest_loop_m: items 0..=100,
        longest_loop_m: Tube 10.0..=300.0,
        spacings_m: items 1..=20,
        spacings_m: Size 0.05..=0.6,
        edge_band_m: Length 0.0..=3.0,
        wall_clearance_m: Size 0.05..=0.5,
        lane_spacing_m: Size 0.03..=0.3,
        min_gap_m: Size 0.02..=0.2,
        surface_limit_c: Temperature 20.0..=40.0,
        surface_limit_edge_c: Temperature 20.0..=45.0,
        surface_limit_bath_over_room_k: Difference 0.0..=20.0,
        surface_limit_wall_c: Temperature 20.0..=60.0,
        surface_limit_ceiling_c: Temperature 20.0..=50.0,
        striping_limit_k: Difference 0.1..=20.0,
        temperature_drop_k: Difference 1.0..=25.0,
        largest_drop_k: Difference 1.0..=40.0,
        least_flow_l_min: Flow 0.0..=5.0,
        head_limit_pa: Head 1000.0..=200_000.0,
        sleeve_saves_m: Length 0.0..=50.0,
        share_below_m: Tube 0.0..=300.0,
        flat_rates: items 0..=10,
    }
    of FlatRate { w_m2: Flux 1.0..=1000.0 }
}

/// That the rules are rules.
pub(super) fn check(rules: &HouseRules) -> Result<(), FieldError> {
    text("rules.name", &rules.name, 0)?;
    text("rules.reason", &rules.reason, 0)?;
    rules.check_ranges("rules")?;
    for (i, rate) in rules.flat_rates.iter().enumerate() {
        let path = format!("rules.flat_rates[{i}]");
        text(&format!("{path}.name"), &rate.name, 0)?;
        rate.check_ranges(&path)?;
    }
    Ok(())
}

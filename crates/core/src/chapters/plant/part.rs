//! Plant's part of the job: the heat source, the arrangement of the piping, and users of heat beside floors.

use crate::ranges::ranges;
use crate::water::part::{Feed, PumpChoice};
use serde::{Deserialize, Serialize};

/// Everything between the circuits and the flame.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Plant {
    /// What makes the heat.
    pub source: HeatSource,
    /// The one that follows where two work in sequence.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub second: Option<HeatSource>,
    /// How the source's water comes to the circuits.
    pub arrangement: Arrangement,
    /// Circuits and users by id as the water meets them; those left out follow, the hottest first.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub order: Vec<String>,
    /// What takes heat beside floors.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub users: Vec<HeatUser>,
    /// Bore of the primary piping, m
    #[serde(default = "primary_bore")]
    pub primary_bore_m: f64,
    /// Length of the primary piping there and back, tees left out, m
    #[serde(default = "primary_length")]
    pub primary_m: f64,
    /// Between the two tees of a circuit, m
    #[serde(default = "tees_apart")]
    pub tees_apart_m: f64,
    /// Content of the buffer tank, L
    #[serde(default, skip_serializing_if = "is_zero")]
    pub buffer_l: f64,
    /// Of the heat exchanger between source and circuits, W/K
    #[serde(default = "exchanger")]
    pub exchanger_w_k: f64,
    /// Rooms stay shut off when it is warmer outdoors, °C
    #[serde(default = "warm_weather")]
    pub warm_weather_c: f64,
    /// From the expansion vessel up to the highest point, m; absent: from the storeys.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub static_m: Option<f64>,
    /// Set pressure of the relief valve, Pa over the air's
    #[serde(default = "relief")]
    pub relief_pa: f64,
}

impl Plant {
    /// A plant of one source, straight on its circuits, with ordinary piping.
    pub fn of(source: HeatSource) -> Plant {
        Plant {
            source,
            second: None,
            arrangement: Arrangement::Direct,
            order: vec![],
            users: vec![],
            primary_bore_m: primary_bore(),
            primary_m: primary_length(),
            tees_apart_m: tees_apart(),
            buffer_l: 0.0,
            exchanger_w_k: exchanger(),
            warm_weather_c: warm_weather(),
            static_m: None,
            relief_pa: relief(),
        }
    }
}

fn is_zero(v: &f64) -> bool {
    *v == 0.0
}
fn primary_bore() -> f64 {
    0.026
}
fn primary_length() -> f64 {
    6.0
}
fn tees_apart() -> f64 {
    0.1
}
fn exchanger() -> f64 {
    3000.0
}
fn warm_weather() -> f64 {
    18.0
}
fn relief() -> f64 {
    300_000.0
}

/// How a source's water comes to the circuits.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Arrangement {
    /// Straight from the source on a pair of headers; no pump of the source's own.
    Direct,
    /// A source pump, and each circuit on closely spaced tees, one after the other.
    TeesInSeries,
    /// Closely spaced tees with a pair of headers each: the hot circuits first, the cool ones on their return.
    TeesWithHeaders,
    /// A hydraulic separator between the source and a pair of headers.
    Separator,
    /// A buffer tank beside the way of the water: it takes what the circuits do not.
    BufferTwoPipe,
    /// A buffer tank through which all water goes.
    BufferFourPipe,
    /// Two sources on one pair of headers: the second follows where the first is not enough.
    TwoSources,
    /// A heat exchanger keeps the source's water and the circuits' apart.
    Exchanger,
}

impl Arrangement {
    /// All of them, the simplest first.
    pub const ALL: [Arrangement; 8] = [
        Self::Direct,
        Self::TeesInSeries,
        Self::TeesWithHeaders,
        Self::Separator,
        Self::BufferTwoPipe,
        Self::BufferFourPipe,
        Self::TwoSources,
        Self::Exchanger,
    ];
}

/// What makes the heat.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct HeatSource {
    /// What it is.
    pub kind: SourceKind,
    /// What it is called.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub name: String,
    /// Rated output, W
    pub most_w: f64,
    /// Output at which it runs on at the least; below it is on and off, W
    pub least_w: f64,
    /// Hottest water that it makes, °C
    pub most_c: f64,
    /// Its water always leaves at that temperature, °C; absent: at what the circuits need.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub leaves_c: Option<f64>,
    /// Coolest return that it stands, °C; absent: any.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub least_return_c: Option<f64>,
    /// Least flow through it, L/min; absent: any.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub least_flow_l_min: Option<f64>,
    /// Largest temperature rise across it, K
    #[serde(default = "source_rise")]
    pub rise_k: f64,
    /// Flow factor of its waterways, m³/h at 1 bar
    pub kv_m3_h: f64,
    /// Water in it, L
    pub content_l: f64,
    /// Between its burner's on and off, K
    #[serde(default = "differential")]
    pub differential_k: f64,
    /// Output and efficiency of a heat pump.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub points: Vec<HeatPumpPoint>,
    /// Its pump.
    #[serde(default)]
    pub pump: PumpChoice,
}

fn source_rise() -> f64 {
    15.0
}
fn differential() -> f64 {
    6.0
}

/// Kinds of heat sources.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum SourceKind {
    CondensingGas,
    CondensingOil,
    Boiler,
    Electric,
    /// A domestic one used for heating, where code allows it.
    TankHeater,
    /// Heating and domestic hot water on the spot.
    Combined,
    SolidFuel,
    HeatPumpAir,
    HeatPumpGround,
    /// What stands there already.
    Existing,
}

impl SourceKind {
    /// All of them.
    pub const ALL: [SourceKind; 10] = [
        Self::CondensingGas,
        Self::CondensingOil,
        Self::Boiler,
        Self::Electric,
        Self::TankHeater,
        Self::Combined,
        Self::SolidFuel,
        Self::HeatPumpAir,
        Self::HeatPumpGround,
        Self::Existing,
    ];

    /// Return below which its flue gas condenses, °C.
    pub fn condenses_below_c(self) -> Option<f64> {
        match self {
            SourceKind::CondensingGas => Some(54.0),
            SourceKind::CondensingOil => Some(47.0),
            _ => None,
        }
    }

    /// Whether it is a heat pump.
    pub fn is_heat_pump(self) -> bool {
        matches!(self, SourceKind::HeatPumpAir | SourceKind::HeatPumpGround)
    }
}

/// What a heat pump gives at one outdoor and water temperature.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct HeatPumpPoint {
    /// Outdoor temperature, or of the ground loop's water, °C
    pub outdoor_c: f64,
    /// Temperature of its leaving water, °C
    pub water_c: f64,
    /// Output, W
    pub output_w: f64,
    /// Heat given over electricity taken.
    pub cop: f64,
}

/// What takes heat beside floors.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct HeatUser {
    /// Stable id, unique in the job.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// What it takes.
    pub takes: Takes,
    /// How it is fed.
    #[serde(default = "Feed::plain", skip_serializing_if = "Feed::is_plain")]
    pub feed: Feed,
}

/// What a user takes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Takes {
    /// Radiators, baseboards, convectors and towel rails as the survey has them: what their rooms need.
    Emitters {
        /// Which of the rooms' emitters.
        emitter_ids: Vec<String>,
        /// Temperature drop on the design day, K
        drop_k: f64,
    },
    /// A tank of domestic hot water with a coil, heated before all else.
    Tank {
        /// Its content, L
        volume_l: f64,
        /// Its hot water, °C
        store_c: f64,
        /// What its coil takes at the temperatures beside it, W
        coil_w: f64,
        /// Supply temperature of the coil, °C
        coil_supply_c: f64,
        /// Flow through the coil, L/min
        coil_flow_l_min: f64,
    },
    /// Typed: a load at its temperatures.
    Typed {
        /// Heat on the design day, W
        heat_w: f64,
        /// Supply temperature, °C
        supply_c: f64,
        /// Return temperature, °C
        return_c: f64,
        /// Temperature of what it heats, °C
        around_c: f64,
        /// It wants the same in all weather, as towel rails and coils do.
        #[serde(default)]
        always: bool,
    },
}

ranges! {
    of Plant {
        order: items 0..=40,
        users: items 0..=20,
        primary_bore_m: Size 0.01..=0.2,
        primary_m: Tube 0.5..=500.0,
        tees_apart_m: Size 0.01..=5.0,
        buffer_l: Content 0.0..=20_000.0,
        exchanger_w_k: Slope 10.0..=1_000_000.0,
        warm_weather_c: Temperature 5.0..=30.0,
        static_m: Length 0.0..=100.0,
        relief_pa: Pressure 100_000.0..=1_000_000.0,
    }
    of HeatSource {
        most_w: Heat 500.0..=2_000_000.0,
        least_w: Heat 0.0..=2_000_000.0,
        most_c: Temperature 30.0..=90.0,
        leaves_c: Temperature 20.0..=90.0,
        least_return_c: Temperature 10.0..=80.0,
        least_flow_l_min: Flow 0.0..=2000.0,
        rise_k: Difference 2.0..=50.0,
        kv_m3_h: Kv 0.05..=200.0,
        content_l: Content 0.1..=20_000.0,
        differential_k: Difference 1.0..=40.0,
        points: items 0..=60,
    }
    of HeatPumpPoint {
        outdoor_c: Temperature -40.0..=40.0,
        water_c: Temperature 20.0..=90.0,
        output_w: Heat 100.0..=2_000_000.0,
        cop: Factor 1.0..=12.0,
    }
    either Takes {
        Emitters { drop_k: Difference 2.0..=40.0 }
        Tank {
            volume_l: Content 20.0..=20_000.0,
            store_c: Temperature 35.0..=85.0,
            coil_w: Heat 500.0..=1_000_000.0,
            coil_supply_c: Temperature 40.0..=90.0,
            coil_flow_l_min: Flow 1.0..=1000.0,
        }
        Typed {
            heat_w: Heat 10.0..=1_000_000.0,
            supply_c: Temperature 20.0..=90.0,
            return_c: Temperature 5.0..=89.0,
            around_c: Temperature -30.0..=80.0,
        }
    }
}

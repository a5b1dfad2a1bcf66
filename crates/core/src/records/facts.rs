//! What records say: each kind of fact with its figures.

use crate::geometry::Point;
use crate::pressure_test::PressureTest;
use crate::readings::ReadingOf;
use serde::{Deserialize, Serialize};

/// What a record says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Fact {
    /// Words and photos only.
    Note,
    /// How far a loop is.
    Laid(Laid),
    /// Something that happened to the tube.
    Harm(Harm),
    /// A loop lies otherwise than it was drawn; the note or a photo says how.
    Differs {
        /// The loop.
        loop_id: String,
        /// The run as it lies, m; empty where only words and photos tell it.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
        run: Vec<Point>,
    },
    /// A line of a checklist.
    Ticked {
        /// The line's id.
        item: String,
        /// True: so it is. False: not, or no more.
        done: bool,
    },
    /// A pressure test begins; its readings name this record.
    TestBegun(TestBegun),
    /// A reading of a pressure test.
    TestRead(TestRead),
    /// Somebody puts their name to a pressure test.
    TestSigned(TestSigned),
    /// What the fluid in the heating is, as it was measured.
    Filled(Filled),
    /// What the flow meter of a loop shows.
    MeterRead(MeterRead),
    /// The heat-up of a floor, as it was read.
    HeatUpRead(HeatUpRead),
    /// A visit because something does not work.
    Visited(Visited),
    /// Nothing any more: what the corrected record said was a mistake.
    Withdrawn,
}

/// A pressure test as it begins.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TestBegun {
    /// What is tested: "Manifold A", 1 to 200 characters.
    pub name: String,
    /// What is tested, how, and what is asked for; its readings are records of their own.
    pub test: PressureTest,
}

/// A reading of a pressure test.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TestRead {
    /// The record that began the test.
    pub test: String,
    /// Gauge pressure, kPa.
    pub gauge_kpa: f64,
    /// Air beside the tubes, °C.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub air_c: Option<f64>,
    /// Slab or tube, °C.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub slab_c: Option<f64>,
    /// The barometer, kPa.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub barometer_kpa: Option<f64>,
    /// What went on.
    #[serde(default)]
    pub during: During,
    /// Read by an instrument, not by eye: its name.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub instrument: String,
}

/// What went on while a gauge was read.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum During {
    /// Before anything is poured.
    #[default]
    Before,
    /// While the floor is poured.
    Pour,
    /// Afterwards.
    After,
}

/// A name under a pressure test.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TestSigned {
    /// The record that began the test.
    pub test: String,
    /// Who signs, 1 to 200 characters.
    pub name: String,
    /// As what.
    pub part: SignedAs,
    /// The strokes of the hand, each a list of points within a sheet three wide and one high.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<Vec<[f64; 2]>>))]
    pub strokes: Vec<Vec<Point>>,
}

/// As what somebody signs.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum SignedAs {
    Installer,
    Inspector,
    Builder,
}

/// What the fluid in the heating is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Filled {
    /// Freezing point by refractometer, °C.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub freezing_c: Option<f64>,
    /// Temperature of the fluid, °C.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub water_c: Option<f64>,
    /// Gauge pressure, kPa.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pressure_kpa: Option<f64>,
}

/// What the flow meter of a loop shows.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct MeterRead {
    /// The loop.
    pub loop_id: String,
    /// After how many passes over the manifold, 0 to 9; 0: as found.
    pub pass: u8,
    /// L/min
    pub flow_l_min: f64,
}

/// The heat-up of a floor, as it was read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct HeatUpRead {
    /// The build-up whose programme it is.
    pub build_up_id: String,
    /// Supply temperature, °C.
    pub supply_c: f64,
    /// Moisture of the screed by the carbide method, % by mass.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub moisture_percent: Option<f64>,
}

/// A visit because something does not work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Visited {
    /// What people complain of.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub complaint: String,
    /// What was read.
    pub readings: Vec<ReadingOf>,
    /// What it was found to be; empty where nobody knows yet.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub cause: String,
    /// What was done.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub done: String,
}

/// How far a loop is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Laid {
    /// The loop.
    pub loop_id: String,
    /// How far.
    pub step: LayStep,
    /// The coil that it came out of.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub coil: String,
    /// The mark on the tube at its supply port, m.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub start_m: Option<f64>,
    /// The mark at its return port, m.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub end_m: Option<f64>,
    /// Its length in the design that was laid from, m: tells later whether the loop has been re-routed since.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub design_m: Option<f64>,
    /// Why it took more or less tube than drawn.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub reason: String,
}

/// How far a loop is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LayStep {
    /// Taken up again, or never begun.
    NotStarted,
    /// It lies.
    OnFloor,
    /// It is held everywhere.
    Fixed,
    /// Somebody else has looked at it.
    Seen,
}

/// Something that happened to the tube.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Harm {
    /// The loop.
    pub loop_id: String,
    /// The mark on the tube at which it is, m.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mark_m: Option<f64>,
    /// What.
    pub harm: HarmKind,
    /// How it was mended.
    pub mend: Mend,
}

/// What happened to a tube.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum HarmKind {
    Kink,
    Nick,
    Cut,
    Crushed,
    Burnt,
}

/// How a tube was mended.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Mend {
    /// Not yet.
    No,
    /// Bent back, with heat where the tube allows it.
    Straightened,
    /// A coupling, which stays on every later drawing.
    Coupling,
    /// A sleeve over it.
    Sleeve,
    /// The loop was laid anew.
    Replaced,
}

impl HarmKind {
    /// Its word, for the beginning of a line.
    pub fn word(self) -> &'static str {
        match self {
            HarmKind::Kink => "A kink",
            HarmKind::Nick => "A nick",
            HarmKind::Cut => "A cut",
            HarmKind::Crushed => "A crushed spot",
            HarmKind::Burnt => "A burnt spot",
        }
    }
}

impl Fact {
    /// The loop that it is about.
    pub fn loop_id(&self) -> Option<&str> {
        match self {
            Fact::Laid(Laid { loop_id, .. })
            | Fact::Harm(Harm { loop_id, .. })
            | Fact::MeterRead(MeterRead { loop_id, .. })
            | Fact::Differs { loop_id, .. } => Some(loop_id),
            _ => None,
        }
    }
}

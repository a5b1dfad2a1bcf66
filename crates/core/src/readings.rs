//! What is read of a heating at work: by eye, by instrument, by a nose. A reading is a quantity, of what, a figure, and how sure
//! that is. `docs/service.md` lists the quantities; simulated and real instruments speak the same.

use crate::check;
use crate::error::FieldError;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Readings of one visit.
pub const MOST_READINGS: usize = 400;

/// What was read.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Measurand {
    /// Outdoors, °C; without a subject.
    OutdoorC,
    /// Since the heating was turned on, h; without a subject.
    HoursOn,
    /// Supply, °C: of `source`, a circuit or a manifold.
    SupplyC,
    /// Return, °C: of a circuit, a manifold or a loop.
    ReturnC,
    /// Supply temperature that the controller shows as wanted, °C: of `source` or a circuit.
    TargetC,
    /// What the flow meter of a loop's port shows, or of a circuit's pump, L/min.
    FlowLMin,
    /// Head that the pump of a circuit shows, kPa.
    HeadKpa,
    /// A room's air, °C.
    RoomC,
    /// What a room's thermostat shows, °C.
    ThermostatC,
    /// A floor's surface between and over its tubes, mean, °C.
    SurfaceC,
    /// Gauge pressure of the heating, warm, kPa; without a subject.
    PressureKpa,
    /// Gauge pressure, cold, kPa; without a subject.
    ColdPressureKpa,
    /// Freezing point by refractometer, °C; without a subject.
    FreezingC,
    /// Whether a loop gurgles: 1 yes, 0 no.
    Gurgles,
    /// Whether the actuator of a loop shows open while it is called: 1 yes, 0 no.
    ActuatorOpen,
    /// Whether the valve of a loop is open by hand: 1 yes, 0 no.
    ValveOpen,
}

/// One reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct ReadingOf {
    /// What was read.
    pub quantity: Measurand,
    /// Of what: `source`, or the id, tag, letter or name of a circuit, manifold, loop or room; empty for the house.
    #[serde(default)]
    pub subject: String,
    /// In the unit that the quantity's name has; 1 and 0 for yes and no.
    pub value: f64,
    /// Standard uncertainty in the same unit, above 0; usual instruments where none is given. Of yes and no the chance of being
    /// wrong, up to 0.5.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub uncertainty: Option<f64>,
}

/// Readings of one visit, all thermostats calling for heat.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Readings(pub Vec<ReadingOf>);

impl Readings {
    /// Reads and checks: a list of readings, or an object with `readings`.
    ///
    /// # Errors
    /// Names the reading and field that does not read or is out of its range.
    pub fn from_json(text: &str) -> Result<Readings, FieldError> {
        #[derive(Deserialize)]
        #[serde(deny_unknown_fields)]
        struct Named {
            readings: Vec<ReadingOf>,
        }
        let readings = if text.trim_start().starts_with('{') {
            Readings(check::read::<Named>(text)?.readings)
        } else {
            Readings(check::read(text).map_err(|e| FieldError::new(format!("readings{}", e.field), e.reason))?)
        };
        readings.check()?;
        Ok(readings)
    }

    /// # Errors
    /// Names the reading and field that is out of its range.
    pub fn check(&self) -> Result<(), FieldError> {
        if self.0.len() > MOST_READINGS {
            return Err(FieldError::new("readings", format!("must be {MOST_READINGS} at most")));
        }
        for (k, r) in self.0.iter().enumerate() {
            let field = |name: &str| format!("readings[{k}].{name}");
            let [low, high] = r.quantity.range();
            check::range(&field("value"), r.value, low, high)?;
            check::text(&field("subject"), &r.subject, 0)?;
            if let Some(u) = r.uncertainty {
                check::range(&field("uncertainty"), u, 1e-3, if r.quantity.is_yes_or_no() { 0.5 } else { 1000.0 })?;
            }
        }
        Ok(())
    }

    pub(crate) fn of(&self, quantity: Measurand) -> Option<f64> {
        self.0.iter().rev().find(|r| r.quantity == quantity).map(|r| r.value)
    }
}

impl Measurand {
    /// All of them.
    pub const ALL: [Measurand; 16] = [
        Measurand::OutdoorC,
        Measurand::HoursOn,
        Measurand::SupplyC,
        Measurand::ReturnC,
        Measurand::TargetC,
        Measurand::FlowLMin,
        Measurand::HeadKpa,
        Measurand::RoomC,
        Measurand::ThermostatC,
        Measurand::SurfaceC,
        Measurand::PressureKpa,
        Measurand::ColdPressureKpa,
        Measurand::FreezingC,
        Measurand::Gurgles,
        Measurand::ActuatorOpen,
        Measurand::ValveOpen,
    ];

    /// Answered by yes or no.
    pub fn is_yes_or_no(self) -> bool {
        matches!(self, Measurand::Gurgles | Measurand::ActuatorOpen | Measurand::ValveOpen)
    }

    fn range(self) -> [f64; 2] {
        match self {
            Measurand::OutdoorC => [-60.0, 50.0],
            Measurand::HoursOn => [0.0, 100_000.0],
            Measurand::SupplyC | Measurand::ReturnC | Measurand::TargetC => [-20.0, 120.0],
            Measurand::FlowLMin => [0.0, 10_000.0],
            Measurand::HeadKpa => [0.0, 1000.0],
            Measurand::RoomC | Measurand::ThermostatC => [-30.0, 60.0],
            Measurand::SurfaceC => [-30.0, 90.0],
            Measurand::PressureKpa | Measurand::ColdPressureKpa => [0.0, 1600.0],
            Measurand::FreezingC => [-60.0, 5.0],
            Measurand::Gurgles | Measurand::ActuatorOpen | Measurand::ValveOpen => [0.0, 1.0],
        }
    }

    /// Of usual instruments: clip-on thermometers, flow meters of a manifold, a pointer gauge.
    pub(crate) fn usual_uncertainty(self, value: f64) -> f64 {
        match self {
            Measurand::OutdoorC | Measurand::HoursOn | Measurand::TargetC => 0.5,
            Measurand::SupplyC | Measurand::ReturnC => 0.8,
            Measurand::FlowLMin => 0.1 + 0.05 * value,
            Measurand::HeadKpa => 1.0 + 0.05 * value,
            Measurand::RoomC | Measurand::ThermostatC => 0.4,
            Measurand::SurfaceC => 0.8,
            Measurand::PressureKpa | Measurand::ColdPressureKpa => 10.0,
            Measurand::FreezingC => 1.0,
            Measurand::Gurgles | Measurand::ActuatorOpen | Measurand::ValveOpen => 0.05,
        }
    }

    /// The design is no closer to a sound house than this.
    pub(crate) fn of_the_model(self, value: f64) -> f64 {
        match self {
            Measurand::SupplyC => 0.5,
            Measurand::ReturnC | Measurand::RoomC => 0.7,
            Measurand::TargetC | Measurand::ThermostatC => 0.5,
            Measurand::FlowLMin => 0.04 + 0.05 * value,
            Measurand::HeadKpa => 0.5 + 0.08 * value,
            Measurand::SurfaceC => 0.8,
            Measurand::PressureKpa | Measurand::ColdPressureKpa => 25.0,
            Measurand::HoursOn => 1.0 + 0.4 * value,
            Measurand::FreezingC => 1.0,
            _ => 0.0,
        }
    }

    /// What it is called in a sentence, of a subject.
    pub(crate) fn words(self, of: &str) -> String {
        let what = match self {
            Measurand::OutdoorC => "outdoor temperature",
            Measurand::HoursOn => "time since the heating was turned on",
            Measurand::SupplyC => "supply",
            Measurand::ReturnC => "return",
            Measurand::TargetC => "supply wanted by the controller",
            Measurand::FlowLMin => "flow",
            Measurand::HeadKpa => "head of the pump",
            Measurand::RoomC => "air",
            Measurand::ThermostatC => "thermostat",
            Measurand::SurfaceC => "floor surface",
            Measurand::PressureKpa => "pressure, warm",
            Measurand::ColdPressureKpa => "pressure, cold",
            Measurand::FreezingC => "freezing point",
            Measurand::Gurgles => "gurgling",
            Measurand::ActuatorOpen => "actuator",
            Measurand::ValveOpen => "hand valve",
        };
        if of.is_empty() { what.to_owned() } else { format!("{of}: {what}") }
    }

    pub(crate) fn figure(self, value: f64, units: Units) -> String {
        use crate::units::Quantity as Q;
        match self {
            Measurand::HoursOn => format!("{value:.0} h"),
            Measurand::FlowLMin => units.show(Q::Flow, value),
            Measurand::HeadKpa => units.show(Q::Head, value * 1000.0),
            Measurand::PressureKpa | Measurand::ColdPressureKpa => units.show(Q::Gauge, value * 1000.0),
            Measurand::Gurgles => if value > 0.5 { "yes" } else { "no" }.to_owned(),
            Measurand::ActuatorOpen | Measurand::ValveOpen => if value > 0.5 { "open" } else { "shut" }.to_owned(),
            _ => units.show(Q::Temperature, value),
        }
    }
}

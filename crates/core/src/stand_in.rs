//! Simulated instruments: a gauge, flow meters, thermometers, a refractometer, a thermal camera and a pair of eyes at a job of one's
//! own, so that every screen can be tried, taught and tested without hardware. Real devices may speak the same: `docs/instruments.md`
//! has the form of a reading. What they show comes from the models that the app judges by, with the steps and the noise of usual
//! instruments; the same question at the same minute has the same answer.
//!
//! ```
//! use chrono::DateTime;
//! use fuoco_core::samples::{box_room, job_of, manifold, studied};
//! use fuoco_core::stand_in::{Device, StandIn, readings};
//! let mut job = job_of(vec![box_room("a", 0.0, 0.0, 7.0, 5.0)]);
//! job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
//! let study = studied(&job)?;
//! let shown = readings(&study, &[], &StandIn::default(), DateTime::UNIX_EPOCH)?;
//! assert_eq!(shown.iter().filter(|s| s.device == Device::Meter && s.subject == study.loops[0].id).count(), 1);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use crate::error::FieldError;
use crate::fluid;
use crate::onsite::pressure::{TestLog, pressure_tests};
use crate::readings::Measurand;
use crate::records::{Entry, standing};
use crate::service::simulated;
use crate::startup::{Balance, COLD_C, Reads};
use crate::study::Study;
use chrono::{DateTime, SecondsFormat, Utc};
use serde::{Deserialize, Serialize};
use std::f64::consts::TAU;
use std::hash::{DefaultHasher, Hash, Hasher};

/// Where the simulated instruments stand.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct StandIn {
    /// Outdoors, °C; the design's where absent.
    pub outdoor_c: Option<f64>,
    /// 0: a sound house. Any other number picks a fault, its place and how bad it is; and whether a tube under test leaks.
    pub house: u64,
    /// Cold water, valves as they are at start-up: the meters show that instead of the heating at work.
    pub cold: bool,
    /// Valves turned since the meters were last written down, in order: the loop, and what its meter showed when the hand stopped, L/min.
    pub turned: Vec<(String, f64)>,
    /// The record that began a pressure test: its gauge is read, and the temperatures beside it, nothing else.
    pub test: Option<String>,
}

/// What is read with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Device {
    Gauge,
    Meter,
    Thermometer,
    Refractometer,
    ThermalCamera,
    /// What controller and pump show.
    Display,
    /// Eyes and ears.
    Eye,
}

/// What is read at a tube under test.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum AtTest {
    /// Its gauge, kPa.
    GaugeKpa,
    /// Slab or tube, °C.
    SlabC,
    /// Air beside it, °C.
    AirC,
    /// The barometer, kPa, not reduced to the sea.
    BarometerKpa,
}

/// Anything that an instrument shows.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(untagged)]
pub enum Measured {
    /// Of a heating.
    Heating(Measurand),
    /// Of a tube under test.
    Test(AtTest),
}

/// A reading of an instrument.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct InstrumentReading {
    /// With what.
    pub device: Device,
    /// What.
    pub quantity: Measured,
    /// Of what: `source`, the id of a circuit, manifold, loop or room, the record that began a test; empty for the house.
    pub subject: String,
    /// "°C", "kPa", "L/min", "h", or "1" for yes and no.
    pub unit: String,
    /// The figure, in that unit; 1 is yes.
    pub value: f64,
    /// When, UTC, ISO 8601.
    pub time: String,
}

/// Slab and air beside a tube under test swing by this over a day either way, K; the slab follows late and by half.
const SWING_K: f64 = 4.0;
const LATE_H: f64 = 3.0;
/// A hand stops a valve within this of the figure it wants, as share.
const HAND: f64 = 0.02;
/// A leak that is drawn loses the required pressure in about so many hours.
const LEAKS_IN_H: f64 = 24.0;
/// More valves nobody turns in one pass.
const MOST_TURNED: usize = 200;
/// Where nobody has read a tube's temperature yet, °C.
const TUBE_C: f64 = 15.0;

impl Measured {
    fn device(self) -> Device {
        use Measurand as M;
        match self {
            Measured::Heating(M::PressureKpa | M::ColdPressureKpa)
            | Measured::Test(AtTest::GaugeKpa | AtTest::BarometerKpa) => Device::Gauge,
            Measured::Heating(M::FlowLMin) => Device::Meter,
            Measured::Heating(M::TargetC | M::HeadKpa | M::ThermostatC) => Device::Display,
            Measured::Heating(M::FreezingC) => Device::Refractometer,
            Measured::Heating(M::SurfaceC) => Device::ThermalCamera,
            Measured::Heating(M::HoursOn | M::Gurgles | M::ActuatorOpen | M::ValveOpen) => Device::Eye,
            Measured::Heating(M::OutdoorC | M::SupplyC | M::ReturnC | M::RoomC) | Measured::Test(_) => {
                Device::Thermometer
            }
        }
    }

    fn unit(self) -> &'static str {
        use Measurand as M;
        match self {
            Measured::Heating(M::PressureKpa | M::ColdPressureKpa | M::HeadKpa)
            | Measured::Test(AtTest::GaugeKpa | AtTest::BarometerKpa) => "kPa",
            Measured::Heating(M::FlowLMin) => "L/min",
            Measured::Heating(M::HoursOn) => "h",
            Measured::Heating(M::Gurgles | M::ActuatorOpen | M::ValveOpen) => "1",
            _ => "°C",
        }
    }

    /// The least step that the instrument shows, and its noise at a figure (standard).
    fn step_and_noise(self, value: f64) -> (f64, f64) {
        use Measurand as M;
        match self {
            Measured::Heating(M::FlowLMin) => (0.05, 0.02 * value),
            Measured::Heating(M::TargetC) => (1.0, 0.0),
            Measured::Heating(M::HeadKpa) => (0.1, 0.02 * value),
            Measured::Heating(M::PressureKpa | M::ColdPressureKpa) => (5.0, 3.0),
            Measured::Heating(M::FreezingC) => (0.5, 0.4),
            Measured::Heating(M::SurfaceC) => (0.1, 0.5),
            Measured::Heating(M::SupplyC | M::ReturnC) => (0.1, 0.4),
            Measured::Heating(M::HoursOn) => (1.0, 0.0),
            Measured::Test(AtTest::GaugeKpa) => (0.0, 0.0),
            _ => (0.1, 0.15),
        }
    }
}

/// A figure between 0 and 1 that goes with a house, an instrument and a minute.
fn chance(what: impl Hash) -> f64 {
    let mut hasher = DefaultHasher::new();
    what.hash(&mut hasher);
    fastrand::Rng::with_seed(hasher.finish()).f64()
}

/// What an instrument shows of a true figure; the same of the same `draw`.
pub(crate) fn as_shown(quantity: Measured, truth: f64, draw: impl Hash + Copy) -> f64 {
    let value = if quantity.unit() == "1" {
        // of yes and no the model gives a chance, for people look badly: these eyes see what is there
        truth.round()
    } else {
        let (step, noise) = quantity.step_and_noise(truth);
        // three uniform draws are near enough to a bell
        let noisy = truth + noise * 2.0 * ((0..3_u8).map(|k| chance((quantity, draw, k))).sum::<f64>() - 1.5);
        if step > 0.0 { (noisy / step).round() * step } else { noisy }
    };
    // flows and pressures have no side below zero, and 0.1 + 0.2 is 0.3 for people
    let least = if quantity.unit() == "°C" { f64::MIN } else { 0.0 };
    (value.max(least) * 1e6).round() / 1e6
}

/// The instruments of a job at a time.
struct Cellar<'a> {
    stand: &'a StandIn,
    at: DateTime<Utc>,
    out: Vec<InstrumentReading>,
}

impl Cellar<'_> {
    fn add(&mut self, quantity: Measured, subject: &str, truth: f64) {
        let minute = self.at.timestamp().div_euclid(60);
        self.out.push(InstrumentReading {
            device: quantity.device(),
            quantity,
            subject: subject.to_owned(),
            unit: quantity.unit().to_owned(),
            value: as_shown(quantity, truth, (self.stand.house, subject, minute)),
            time: self.at.to_rfc3339_opts(SecondsFormat::Secs, true),
        });
    }

    /// The heating at work, with what is wrong with it.
    fn at_work(&mut self, study: &Study) -> Result<(), FieldError> {
        let outdoor_c = self.stand.outdoor_c.unwrap_or(study.job.site.outdoor_c);
        let degree = chance(("degree", self.stand.house));
        let house = simulated(study, outdoor_c, self.stand.house, degree)?;
        self.add(Measured::Heating(Measurand::OutdoorC), "", outdoor_c);
        for r in &house.shows {
            self.add(Measured::Heating(r.quantity), &r.subject, r.value);
        }
        Ok(())
    }

    /// Cold water, the valves as the records have left them and as they were turned since.
    fn at_start_up(&mut self, study: &Study, entries: &[Entry]) -> Result<(), FieldError> {
        let records = standing(entries);
        let reads = Reads::of_records(&records);
        let water = fluid::properties(&study.job.fluid, COLD_C)?;
        let runs = |id: &str| study.loops.iter().any(|l| l.manifold_id == id && l.flow_l_min > 0.0);
        for m in study.manifolds.iter().filter(|m| runs(&m.id)) {
            let balance = Balance::of(study, m, water);
            let mut valves = balance.standing(&reads);
            for (n, (id, shows_l_min)) in self.stand.turned.iter().enumerate() {
                let Some(port) = balance.loops.iter().position(|l| l.id == *id) else { continue };
                let off = 1.0 + HAND * 2.0 * (chance(("hand", self.stand.house, id, n)) - 0.5);
                valves[port] = balance.turned_until(&valves, port, shows_l_min * off);
            }
            let shown = balance.on(|bars| bars.meters(&valves));
            for (l, q) in balance.loops.iter().zip(shown) {
                self.add(Measured::Heating(Measurand::FlowLMin), &l.id, q);
            }
        }
        self.add(Measured::Heating(Measurand::FreezingC), "", fluid::freezing_c(&study.job.fluid));
        Ok(())
    }

    /// A tube under pressure, from its first reading on.
    fn at_test(&mut self, log: &TestLog) {
        let test = &log.begun.test;
        let first = log.readings.first();
        let began = first.map_or(log.at.as_str(), |r| r.at.as_str());
        let hours =
            DateTime::parse_from_rfc3339(began).map_or(0.0, |b| (self.at - b.to_utc()).num_seconds() as f64 / 3600.0);
        let hours = hours.max(0.0);
        let mut start = first.map_or_else(
            || crate::pressure_test::Reading {
                time: began.to_owned(),
                gauge_kpa: (1.1 * test.required.pressure_kpa).min(test.gauge.range_kpa),
                air_c: None,
                slab_c: None,
                barometer_kpa: None,
            },
            |r| r.read.reading(r.at.clone()),
        );
        let begun_c = start.slab_c.or(start.air_c).unwrap_or(TUBE_C);
        start.slab_c = Some(begun_c);
        let wave = |h: f64| (TAU * h / 24.0).sin();
        let air_c = begun_c + SWING_K * wave(hours);
        let slab_c = begun_c + 0.5 * SWING_K * (wave(hours - LATE_H) - wave(-LATE_H));
        let leaks = self.stand.house != 0 && chance(("leak", self.stand.house)) < 0.5;
        let leak_ml_h = if leaks { test.would_lose_ml(test.required.pressure_kpa) / LEAKS_IN_H } else { 0.0 };
        let gauge = test.would_show(&start, hours, slab_c, leak_ml_h);
        let step = test.gauge.resolution_kpa;
        self.add(Measured::Test(AtTest::GaugeKpa), &log.id, (gauge / step).round() * step);
        self.add(Measured::Test(AtTest::SlabC), &log.id, slab_c);
        self.add(Measured::Test(AtTest::AirC), &log.id, air_c);
        let by_height =
            test.altitude_m.map_or(crate::pressure_test::barometer_kpa(0.0), crate::pressure_test::barometer_kpa);
        self.add(
            Measured::Test(AtTest::BarometerKpa),
            &log.id,
            start.barometer_kpa.or(test.barometer_kpa).unwrap_or(by_height),
        );
    }
}

/// Everything that the simulated instruments of a job show at a time.
///
/// # Errors
/// Names an outdoor temperature out of its range, a test that no record began, a loop turned that the job does not have.
pub fn readings(
    study: &Study,
    entries: &[Entry],
    stand: &StandIn,
    at: DateTime<Utc>,
) -> Result<Vec<InstrumentReading>, FieldError> {
    if stand.turned.len() > MOST_TURNED {
        return Err(FieldError::new("turned", format!("must be {MOST_TURNED} at most")));
    }
    for (id, shows_l_min) in &stand.turned {
        if !study.loops.iter().any(|l| l.id == *id) {
            return Err(FieldError::new("turned", format!("must be loops of the job; \"{id}\" is none")));
        }
        crate::check::range("turned", *shows_l_min, 0.0, 1000.0)?;
    }
    if let Some(c) = stand.outdoor_c {
        crate::check::range("outdoor_c", c, -60.0, 50.0)?;
    }
    let mut cellar = Cellar { stand, at, out: vec![] };
    let tests = pressure_tests(study, entries).tests;
    match &stand.test {
        // tubes are tested before anything is heated
        Some(id) => {
            let found = tests.iter().find(|t| t.id == *id);
            cellar.at_test(
                found.ok_or_else(|| FieldError::new("test", "must be the record that began a test of this job"))?,
            );
        }
        None if stand.cold => cellar.at_start_up(study, entries)?,
        None => cellar.at_work(study)?,
    }
    Ok(cellar.out)
}

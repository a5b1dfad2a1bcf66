//! The pressure test: is the tube tight, is that not proven, or does it leak?
//!
//! A gauge moves for three reasons: a leak, the temperature of what is in the tube, and the weather. This module takes the last two
//! out of the readings, says how far what is left can be trusted, and judges by both.
//!
//! | symbol | meaning |
//! |---|---|
//! | `p` | gauge pressure, kPa; `p_b` barometer, kPa; absolute `p + p_b` |
//! | `T` | temperature of tube and contents, K |
//! | `β` | volumetric expansion, 1/K, of water and of the tube's bore |
//! | `κ` | compliance `dV / (V dp)`, 1/Pa: of water, and of the tube's bore |
//!
//! **Air**: at constant volume and mass `(p + p_b) / T` is constant (ideal gas; air at 10 bar and room temperature differs from it by
//! less than 0.3 %). Corrected to the first reading's temperature `T₁`: `p' = (p + p_b) T₁ / T − p_b₁`.
//!
//! **Water**: warming by `ΔT` moves the pressure by `(β_w − β_t) ΔT / (κ_w + κ_t)`. The tube is a thick-walled cylinder held along its
//! axis (plane strain; Timoshenko & Goodier, *Theory of Elasticity*, §28): `κ_t = 2 (1 + ν) / E · (r_o² + (1 − 2ν) r_i²) / (r_o² −
//! r_i²)`, `β_t = 2 (1 + ν) α`. Plastic tube creeps in its first hours under pressure: what a gauge loses then proves nothing.
//!
//! **Uncertainty** follows the GUM (JCGM 100): gauge and thermometer as rectangular or normal, combined in squares, with a coverage
//! factor of 2 (about 95 %).

mod physics;

pub use physics::{TestTube, barometer_kpa};

use crate::check;
use crate::error::FieldError;
use crate::units::{Quantity, Units};
use chrono::{DateTime, NaiveDateTime};
use physics::{PEX, WATER_PER_PA, ZERO_K, stored_j, water_expansion};
use serde::{Deserialize, Serialize};

/// A pressure test as it was read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PressureTest {
    /// What is in the tubes.
    pub medium: Medium,
    /// How much, L, 0.1…100 000.
    pub volume_l: f64,
    /// The gauge.
    pub gauge: Gauge,
    /// Height above the sea, m, −500…5000: tells the barometer where nobody reads one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub altitude_m: Option<f64>,
    /// The barometer, kPa, 50…110: not reduced to the sea.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub barometer_kpa: Option<f64>,
    /// What is asked for: by local code, or the firm's rule.
    pub required: Required,
    /// The tube; absent: cross-linked polyethylene 16 × 2 mm. Of water only: air is far softer than any tube.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tube: Option<TestTube>,
    /// In order of time, up to 2000; none before the gauge is read.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub readings: Vec<Reading>,
}

/// What is in the tubes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Medium {
    Air,
    Water,
}

/// The gauge.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Gauge {
    /// The least step that can be read, kPa, 0.001…100.
    pub resolution_kpa: f64,
    /// The end of its scale, kPa, 1…10 000.
    pub range_kpa: f64,
}

/// What is asked for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Required {
    /// Least gauge pressure, kPa, 1…2000.
    pub pressure_kpa: f64,
    /// For so long, h, 0…1000.
    pub hours: f64,
}

/// One reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Reading {
    /// When, ISO 8601; without a zone UTC.
    pub time: String,
    /// Gauge pressure, kPa, 0 to the end of the gauge's scale.
    pub gauge_kpa: f64,
    /// Air beside the tubes, °C, −40…60.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub air_c: Option<f64>,
    /// Slab or tube, °C, −40…90: what the contents have.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub slab_c: Option<f64>,
    /// The barometer then, kPa, where it was read each time.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub barometer_kpa: Option<f64>,
}

/// What a test comes to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TestResult {
    /// Each reading as the gauge would have shown it at the temperature and the weather of the reading that the drop counts from, kPa.
    pub corrected: Vec<f64>,
    /// The reading that the drop counts from, from 0.
    pub from_reading: usize,
    /// Corrected pressure lost from there to the last reading, kPa; negative: gained.
    pub drop_kpa: f64,
    /// Of the drop, about 95 %, kPa.
    pub uncertainty_kpa: f64,
    /// The leak that loses that much, mL/h: of water, or of air as it comes out, at the barometer's pressure. None below zero.
    pub leak_rate: f64,
    /// The least leak that these readings would have shown, mL/h.
    pub least_leak: f64,
    /// How long the required pressure stood, h.
    pub hours: f64,
    /// The verdict.
    pub verdict: Verdict,
    /// Why.
    pub reason: String,
    /// What would prove it, where it is not proven.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub to_prove: Vec<String>,
    /// Readings that may have been taken in another unit.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub doubts: Vec<String>,
    /// What to take care of.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub cautions: Vec<String>,
    /// Where the uncertainty comes from, kPa each, 95 %: gauge, temperature, weather.
    pub parts_kpa: [f64; 3],
}

/// The verdict of a test.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    /// Nothing is lost that these readings could show, and they would show what matters.
    Tight,
    /// Neither can be said.
    NotProven,
    /// More is lost than temperature, weather and gauge account for.
    Leaking,
}

/// A thermometer that is read before and after: standard uncertainty of each reading, K.
const THERMOMETER_K: f64 = 0.3;
/// Tubes in a slab follow the air beside them late: of a change of the air, this share is not known (standard).
const BESIDE: f64 = 0.3;
/// Nobody read a temperature: it may have swung by this either way, K (rectangular).
const SWING_K: f64 = 5.0;
/// How much of a correction for water is not known, standard: tubes' modulus and expansion differ by make.
const TUBE_SHARE: f64 = 0.25;
/// Where nobody reads the barometer it drifts: standard, kPa over twelve hours, growing with the root of time.
const WEATHER_KPA: f64 = 0.5;
/// The weather moves no further, kPa, standard.
const WEATHER_MOST_KPA: f64 = 1.5;
/// Coverage factor for about 95 %.
const COVERAGE: f64 = 2.0;
/// A test shows what matters when it would have shown the loss of this share of the required pressure: of air.
const MATTERS_AIR: f64 = 0.03;
/// Of water in plastic, which gives way: a tenth of its pressure is still far less out of a hole than 3 % of air (through the same hole
/// air runs some fifty times as fast, as their viscosities are).
const MATTERS_WATER: f64 = 0.1;
/// Plastic tube under water creeps for so long, h.
const CREEPS_H: f64 = 2.0;
/// And takes no more than this share of the pressure with it: what loses more has a hole.
const CREEPS_SHARE: f64 = 0.4;
/// A simulated tube under water creeps by this share of its pressure, with this time constant, h.
const CREEP_SHARE: f64 = 0.06;
const CREEP_H: f64 = 0.5;
/// Above this an air test stores more energy than most rules allow without a special procedure, kPa.
const AIR_CAUTION_KPA: f64 = 300.0;
/// How figures of one pressure stand to each other in two units.
const UNITS: [(&str, f64); 3] = [("psi to kPa", 6.894_757), ("bar to kPa", 100.0), ("bar to psi", 14.503_774)];
/// Figures that stand so to each other within this share are taken for it.
const SAME: f64 = 0.05;

impl Reading {
    /// Hours since 1970.
    fn hours(&self) -> Option<f64> {
        let seconds = DateTime::parse_from_rfc3339(&self.time)
            .map(|t| t.timestamp_millis())
            .or_else(|_| self.time.parse::<NaiveDateTime>().map(|t| t.and_utc().timestamp_millis()));
        seconds.ok().map(|ms| ms as f64 / 3.6e6)
    }

    /// What tube and contents have, as far as it was read, °C.
    fn contents_c(&self) -> Option<f64> {
        self.slab_c.or(self.air_c)
    }
}

impl PressureTest {
    /// Reads and checks a test.
    ///
    /// # Errors
    /// Names the field that is missing, unknown or out of its range.
    pub fn from_json(text: &str) -> Result<PressureTest, FieldError> {
        let test: PressureTest = check::read(text)?;
        test.check()?;
        Ok(test)
    }

    /// That every figure can be.
    ///
    /// # Errors
    /// Names the field: out of its range, or out of order.
    pub fn check(&self) -> Result<(), FieldError> {
        check::range("volume_l", self.volume_l, 0.1, 100_000.0)?;
        check::range("gauge.resolution_kpa", self.gauge.resolution_kpa, 0.001, 100.0)?;
        check::range("gauge.range_kpa", self.gauge.range_kpa, 1.0, 10_000.0)?;
        check::range("required.pressure_kpa", self.required.pressure_kpa, 1.0, 2000.0)?;
        check::range("required.hours", self.required.hours, 0.0, 1000.0)?;
        if self.required.pressure_kpa > self.gauge.range_kpa {
            let reason = format!("the gauge ends at {} kPa, below what is required", self.gauge.range_kpa);
            return Err(FieldError::new("gauge.range_kpa", reason));
        }
        if let Some(v) = self.altitude_m {
            check::range("altitude_m", v, -500.0, 5000.0)?;
        }
        if let Some(v) = self.barometer_kpa {
            check::range("barometer_kpa", v, 50.0, 110.0)?;
        }
        if let Some(tube) = &self.tube {
            tube.check()?;
        }
        let each = !self.readings.is_empty() && self.readings.iter().all(|r| r.barometer_kpa.is_some());
        if self.medium == Medium::Air && self.altitude_m.is_none() && self.barometer_kpa.is_none() && !each {
            let reason = "is needed for air: read a barometer, or say the altitude_m";
            return Err(FieldError::new("barometer_kpa", reason));
        }
        if self.readings.len() > 2000 {
            return Err(FieldError::new("readings", "must be 2000 at most"));
        }
        let mut before: Option<f64> = None;
        for (k, r) in self.readings.iter().enumerate() {
            let field = |name: &str| format!("readings[{k}].{name}");
            let hours =
                r.hours().ok_or_else(|| FieldError::new(field("time"), "must be a time as 2026-11-30T07:12:00Z"))?;
            check::range(&field("gauge_kpa"), r.gauge_kpa, 0.0, self.gauge.range_kpa)?;
            if let Some(c) = r.air_c {
                check::range(&field("air_c"), c, -40.0, 60.0)?;
            }
            if let Some(c) = r.slab_c {
                check::range(&field("slab_c"), c, -40.0, 90.0)?;
            }
            if let Some(p) = r.barometer_kpa {
                check::range(&field("barometer_kpa"), p, 50.0, 110.0)?;
            }
            if before.is_some_and(|then| hours <= then) {
                return Err(FieldError::new(field("time"), "must be later than the reading before"));
            }
            before = Some(hours);
        }
        Ok(())
    }

    /// Readings that stand to the one before as the figure of one unit to that of another. They are judged as they are: it may be a
    /// burst.
    fn doubts(&self) -> Vec<String> {
        let mut out = vec![];
        for (k, pair) in self.readings.windows(2).enumerate() {
            let (least, most) = (pair[0].gauge_kpa.min(pair[1].gauge_kpa), pair[0].gauge_kpa.max(pair[1].gauge_kpa));
            for (units, per) in UNITS.iter().filter(|(_, per)| (least * per - most).abs() < SAME * most) {
                out.push(format!(
                    "Readings {} and {} stand to each other as {units} ({per:.1}): take back the one that was read in another unit.",
                    k + 1,
                    k + 2
                ));
            }
        }
        out
    }

    /// The verdict.
    ///
    /// ```
    /// use fuoco_core::pressure_test::{PressureTest, Verdict};
    /// // air at 400 kPa in a floor that cools by 6 K over night: the gauge falls by 10 kPa, and nothing leaks
    /// let test = PressureTest::from_json(r#"{
    ///     "medium": "air", "volume_l": 60, "gauge": {"resolution_kpa": 2, "range_kpa": 600}, "barometer_kpa": 100,
    ///     "required": {"pressure_kpa": 380, "hours": 12},
    ///     "readings": [{"time": "2026-11-30T18:00:00Z", "gauge_kpa": 400, "slab_c": 20},
    ///                  {"time": "2026-12-01T07:00:00Z", "gauge_kpa": 390, "slab_c": 14}]}"#)?;
    /// let result = test.judge()?;
    /// assert_eq!(result.verdict, Verdict::Tight);
    /// assert!(result.drop_kpa.abs() < 0.5);
    /// # Ok::<(), fuoco_core::error::FieldError>(())
    /// ```
    ///
    /// # Errors
    /// As [`PressureTest::check`], and when nothing has been read.
    pub fn judge(&self) -> Result<TestResult, FieldError> {
        self.judge_in(None)
    }

    /// The same, worded in a job's units; without them in kPa and L.
    ///
    /// # Errors
    /// As [`PressureTest::judge`].
    pub fn judge_in(&self, units: Option<Units>) -> Result<TestResult, FieldError> {
        self.check()?;
        if self.readings.is_empty() {
            return Err(FieldError::new("readings", "must not be empty"));
        }
        let hours: Vec<f64> = self.readings.iter().filter_map(Reading::hours).collect();
        let last = hours.len() - 1;
        let long_h = |from: usize| hours[last] - hours[from];
        // plastic under water: what it loses while it creeps says nothing
        let crept = hours.iter().position(|h| h - hours[0] >= CREEPS_H).filter(|k| *k < last);
        let from = if self.medium == Medium::Water { crept.unwrap_or(0) } else { 0 };
        let creeping = self.medium == Medium::Water && crept.is_none();
        let burst_kpa = CREEPS_SHARE * self.readings[0].gauge_kpa;
        let first = &self.readings[from];
        let corrected: Vec<f64> = self.readings.iter().map(|r| self.corrected(first, r)).collect();
        let drop_kpa = corrected[from] - corrected[last];
        let parts_kpa = self.parts(from, long_h(from));
        let uncertainty_kpa = parts_kpa.iter().map(|p| p * p).sum::<f64>().sqrt();
        let per_hour = |kpa: f64| if long_h(from) > 0.0 { self.lost_ml(first, kpa) / long_h(from) } else { 0.0 };
        let stood_h = self.stood_h(&hours);
        let share = if self.medium == Medium::Air { MATTERS_AIR } else { MATTERS_WATER };
        let matters_kpa = share * self.required.pressure_kpa;
        let short = stood_h + 1e-6 < self.required.hours;
        let kpa = |v: f64| pressure(v, units);
        let mut to_prove = vec![];
        let (verdict, reason) = if last == from {
            to_prove.push("read the gauge again later".to_owned());
            (Verdict::NotProven, "One reading says nothing of a loss.".to_owned())
        } else if creeping && drop_kpa <= burst_kpa {
            to_prove
                .push("go on: read again when the tubes have stood under pressure for more than two hours".to_owned());
            (
                Verdict::NotProven,
                "Plastic tube gives way in its first two hours under water: what the gauge loses then proves nothing."
                    .to_owned(),
            )
        } else if drop_kpa > uncertainty_kpa {
            (
                Verdict::Leaking,
                format!(
                    "{} are lost that neither temperature, weather nor gauge account for (together {} at most).",
                    kpa(drop_kpa),
                    kpa(uncertainty_kpa)
                ),
            )
        } else if short {
            let text = if stood_h > 0.0 { format!("for {stood_h:.1} h") } else { "at no two readings".to_owned() };
            to_prove.push(format!("{} at least, for {} h", kpa(self.required.pressure_kpa), self.required.hours));
            (
                Verdict::NotProven,
                format!(
                    "These readings show no loss, but {} stood {text}, not for {} h.",
                    kpa(self.required.pressure_kpa),
                    self.required.hours
                ),
            )
        } else if drop_kpa.max(0.0) + uncertainty_kpa > matters_kpa {
            to_prove.extend(self.to_prove(&parts_kpa, matters_kpa, units));
            (
                Verdict::NotProven,
                format!(
                    "A loss of {} would matter, and these readings could hide {}.",
                    kpa(matters_kpa),
                    kpa(drop_kpa.max(0.0) + uncertainty_kpa)
                ),
            )
        } else {
            (
                Verdict::Tight,
                format!(
                    "Corrected, the gauge {} within {}, less than the {} that would matter.",
                    if drop_kpa.abs() < 0.05 { "stood".to_owned() } else { format!("moved by {},", kpa(-drop_kpa)) },
                    kpa(uncertainty_kpa),
                    kpa(matters_kpa)
                ),
            )
        };
        Ok(TestResult {
            from_reading: from,
            leak_rate: per_hour(drop_kpa.max(0.0)),
            least_leak: per_hour(uncertainty_kpa),
            hours: stood_h,
            verdict,
            reason,
            to_prove,
            doubts: self.doubts(),
            cautions: self.cautions(units),
            corrected,
            drop_kpa,
            uncertainty_kpa,
            parts_kpa,
        })
    }

    /// The weather's pressure at a reading; where nobody read it, as typed for the test or by the height.
    fn barometer(&self, r: &Reading) -> f64 {
        let by_height = self.altitude_m.map_or(101.325, barometer_kpa);
        r.barometer_kpa.or(self.barometer_kpa).unwrap_or(by_height)
    }

    /// The same at two readings. One that was read says nothing of the change beside one that was not.
    fn barometers(&self, first: &Reading, r: &Reading) -> (f64, f64) {
        let at = self.barometer(first);
        let both = first.barometer_kpa.is_some() && r.barometer_kpa.is_some();
        (at, if both { self.barometer(r) } else { at })
    }

    /// What the gauge would have shown at the temperature and the weather of another reading, kPa.
    fn corrected(&self, first: &Reading, r: &Reading) -> f64 {
        let (then, now) = self.barometers(first, r);
        let (Some(from_c), Some(c)) = (first.contents_c(), r.contents_c()) else { return r.gauge_kpa + now - then };
        match self.medium {
            Medium::Air => (r.gauge_kpa + now) * (from_c + ZERO_K) / (c + ZERO_K) - then,
            Medium::Water => r.gauge_kpa + now - then - self.water_kpa_per_k((from_c + c) / 2.0) * (c - from_c),
        }
    }

    /// What has to go out of the tube for its pressure to fall by so much, mL: of water, or of air as it comes out.
    pub fn would_lose_ml(&self, kpa: f64) -> f64 {
        let at = Reading { time: String::new(), gauge_kpa: 0.0, air_c: None, slab_c: None, barometer_kpa: None };
        self.lost_ml(&at, kpa)
    }

    /// What a gauge would show so many hours after the pressure stood at `first`, of contents that have `now_c` then, when the tube
    /// loses so much, mL/h (water, or air as it comes out): the judgement turned round, kPa. For simulated gauges. The weather is that of
    /// the first reading. Water in plastic creeps first.
    pub fn would_show(&self, first: &Reading, hours: f64, now_c: f64, leak_ml_h: f64) -> f64 {
        let (barometer, from_c) = (self.barometer(first), first.contents_c().unwrap_or(now_c));
        let absolute = first.gauge_kpa + barometer;
        let shown = match self.medium {
            Medium::Air => {
                // what runs out of a hole goes with the pressure before it
                let per_hour = leak_ml_h * barometer / (absolute * self.volume_l * 1e3);
                absolute * (now_c + ZERO_K) / (from_c + ZERO_K) * (-per_hour * hours).exp() - barometer
            }
            Medium::Water => {
                let lost_kpa = leak_ml_h * hours / self.lost_ml(first, 1.0);
                let crept_kpa = CREEP_SHARE * first.gauge_kpa * (1.0 - (-hours / CREEP_H).exp());
                first.gauge_kpa + self.water_kpa_per_k(f64::midpoint(from_c, now_c)) * (now_c - from_c)
                    - lost_kpa
                    - crept_kpa
            }
        };
        shown.clamp(0.0, self.gauge.range_kpa)
    }

    /// How the pressure of water in the tube moves with its temperature, kPa/K.
    fn water_kpa_per_k(&self, c: f64) -> f64 {
        let (compliance, expansion) = self.tube.as_ref().unwrap_or(&PEX).bore();
        (water_expansion(c) - expansion) / (compliance + WATER_PER_PA) / 1e3
    }

    /// What has gone when so much pressure is lost, mL: of water, or of air at the barometer's pressure.
    fn lost_ml(&self, first: &Reading, kpa: f64) -> f64 {
        let ml = self.volume_l * 1e3;
        match self.medium {
            Medium::Air => ml * kpa / self.barometer(first),
            Medium::Water => ml * kpa * 1e3 * (self.tube.as_ref().unwrap_or(&PEX).bore().0 + WATER_PER_PA),
        }
    }

    /// Gauge, temperature, weather: each about 95 %, kPa.
    fn parts(&self, from: usize, long_h: f64) -> [f64; 3] {
        let (first, end) = (&self.readings[from], &self.readings[self.readings.len() - 1]);
        // two readings, each anywhere within half a step
        let gauge = (2.0_f64 / 12.0).sqrt() * self.gauge.resolution_kpa;
        let kelvin = match (first.contents_c(), end.contents_c()) {
            (Some(a), Some(b)) => {
                let beside = if first.slab_c.is_some() && end.slab_c.is_some() { 0.0 } else { BESIDE * (b - a) };
                (2.0 * THERMOMETER_K * THERMOMETER_K + beside * beside).sqrt()
            }
            _ => SWING_K / 3.0_f64.sqrt(),
        };
        let (p_abs, c) = (end.gauge_kpa + self.barometer(end), end.contents_c().unwrap_or(15.0));
        let temperature = match self.medium {
            Medium::Air => p_abs * kelvin / (c + ZERO_K),
            Medium::Water => {
                let per_k = self.water_kpa_per_k(c);
                let moved = first.contents_c().zip(end.contents_c()).map_or(0.0, |(a, b)| b - a);
                (per_k * kelvin).hypot(TUBE_SHARE * per_k * moved)
            }
        };
        let read = first.barometer_kpa.is_some() && end.barometer_kpa.is_some();
        // a gauge shows against the weather, whatever is in the tube
        let weather = if read { 0.05 } else { (WEATHER_KPA * (long_h / 12.0).sqrt()).min(WEATHER_MOST_KPA) };
        [gauge, temperature, weather].map(|u| COVERAGE * u)
    }

    /// For how long the required pressure stood without a break, up to the last reading at which it did, h.
    fn stood_h(&self, hours: &[f64]) -> f64 {
        let enough = |r: &Reading| r.gauge_kpa + 0.5 * self.gauge.resolution_kpa >= self.required.pressure_kpa;
        let mut longest = 0.0_f64;
        let mut since: Option<f64> = None;
        for (r, h) in self.readings.iter().zip(hours) {
            // what a falling temperature takes is no loss: the corrected pressure counts too
            let first = &self.readings[0];
            let stands =
                enough(r) || self.corrected(first, r) + 0.5 * self.gauge.resolution_kpa >= self.required.pressure_kpa;
            since = stands.then(|| since.unwrap_or(*h));
            longest = longest.max(since.map_or(0.0, |s| h - s));
        }
        longest
    }

    fn to_prove(&self, parts: &[f64; 3], matters_kpa: f64, units: Option<Units>) -> Vec<String> {
        let largest = parts.iter().copied().fold(0.0, f64::max);
        let mut out = vec![];
        if parts[0] > 0.5 * matters_kpa {
            out.push(format!("a gauge that shows {} or less", pressure(matters_kpa / 4.0, units)));
        }
        if parts[1] > 0.5 * matters_kpa {
            out.push(if self.readings.iter().all(|r| r.slab_c.is_some()) {
                "a reading at the temperature of the first one".to_owned()
            } else {
                "the temperature of slab or tube with every reading".to_owned()
            });
        }
        if parts[2] == largest && self.readings.iter().any(|r| r.barometer_kpa.is_none()) {
            out.push("the barometer with every reading".to_owned());
        }
        out.push("more time: a leak goes on, weather and temperature come back".to_owned());
        out
    }

    fn cautions(&self, units: Option<Units>) -> Vec<String> {
        let mut out = vec![];
        let most = self.readings.iter().map(|r| r.gauge_kpa).fold(0.0, f64::max);
        if self.medium == Medium::Air {
            let joule = stored_j(self.volume_l / 1e3, most, self.barometer(&self.readings[0]));
            out.push(format!(
                "Air under {} in {} holds {:.1} kJ: wear glasses, stand away from ends and fittings, let nobody work on it.",
                pressure(most, units),
                units.map_or_else(|| format!("{:.0} L", self.volume_l), |u| u.show(Quantity::Content, self.volume_l)),
                joule / 1e3
            ));
            if most > AIR_CAUTION_KPA {
                out.push(format!(
                    "Above {} many rules forbid air or ask for a procedure of its own: follow local code and the manufacturer's instructions.",
                    pressure(AIR_CAUTION_KPA, units)
                ));
            }
            out.push("Test with air only what is made for it.".to_owned());
        } else if self.readings.iter().any(|r| r.contents_c().is_some_and(|c| c < 3.0)) {
            out.push(
                "Water freezes in an unheated floor and bursts it: heat the building, or test with air.".to_owned(),
            );
        }
        out
    }
}

/// A pressure in words.
fn pressure(kpa: f64, units: Option<Units>) -> String {
    units.map_or_else(|| format!("{kpa:.1} kPa"), |u| u.show(Quantity::Gauge, kpa * 1e3))
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::{Value, json};

    fn test(medium: &str, resolution: f64, readings: &[(f64, f64, Option<f64>)]) -> Value {
        let rows: Vec<Value> = readings
            .iter()
            .map(|(h, kpa, c)| {
                let minutes = (h * 60.0).round() as i64;
                let time =
                    format!("2026-11-{:02}T{:02}:{:02}:00Z", 1 + minutes / 1440, minutes / 60 % 24, minutes % 60);
                json!({ "time": time, "gauge_kpa": kpa, "slab_c": c })
            })
            .collect();
        json!({ "medium": medium, "volume_l": 80.0, "gauge": { "resolution_kpa": resolution, "range_kpa": 1000.0 },
            "barometer_kpa": 100.0, "required": { "pressure_kpa": 300.0, "hours": 10.0 }, "readings": rows })
    }

    fn judged(value: &Value) -> TestResult {
        PressureTest::from_json(&value.to_string()).and_then(|t| t.judge()).unwrap_or_else(|e| panic!("{e}"))
    }

    fn refused(value: &Value) -> String {
        PressureTest::from_json(&value.to_string()).expect_err("refused").field
    }

    #[test]
    fn air_that_cools_loses_pressure_and_nothing_else() {
        // (400 + 100) kPa at 20 °C are 474.4 kPa at 5 °C by Gay-Lussac: 374.4 on the gauge
        let cold = 500.0 * 278.15 / 293.15 - 100.0;
        let result = judged(&test("air", 1.0, &[(0.0, 400.0, Some(20.0)), (12.0, cold, Some(5.0))]));
        assert!(result.drop_kpa.abs() < 1e-9 && (result.corrected[1] - 400.0).abs() < 1e-9);
        assert_eq!(result.verdict, Verdict::Tight, "{}", result.reason);
        // the same fall without a thermometer proves nothing: it may be cold, it may leak
        let blind = judged(&test("air", 1.0, &[(0.0, 400.0, None), (12.0, 391.0, None)]));
        assert_eq!(blind.verdict, Verdict::NotProven);
        assert!(blind.to_prove.iter().any(|p| p.contains("temperature")));
        // and at the same temperature it leaks
        let leak = judged(&test("air", 1.0, &[(0.0, 400.0, Some(20.0)), (12.0, 391.0, Some(20.0))]));
        assert_eq!(leak.verdict, Verdict::Leaking, "{}", leak.reason);
        // 9 kPa of 80 L are 7.2 L at 100 kPa in 12 h
        assert!((leak.leak_rate - 600.0).abs() < 1e-6 && leak.least_leak < leak.leak_rate);
    }

    #[test]
    fn a_gauge_that_rises_with_the_sun_may_hide_a_leak() {
        // 25 K more would have shown 442.6; it shows 430
        let result = judged(&test("air", 2.0, &[(0.0, 400.0, Some(15.0)), (11.0, 430.0, Some(40.0))]));
        assert_eq!(result.verdict, Verdict::Leaking);
        assert!((result.drop_kpa - (400.0 - (530.0 * 288.15 / 313.15 - 100.0))).abs() < 1e-9);
    }

    #[test]
    fn water_in_plastic_proves_nothing_in_its_first_two_hours() {
        let early = judged(&test(
            "water",
            1.0,
            &[(0.0, 600.0, Some(15.0)), (0.5, 560.0, Some(15.0)), (1.5, 540.0, Some(15.0))],
        ));
        assert_eq!((early.verdict, early.from_reading), (Verdict::NotProven, 0));
        assert!(early.reason.contains("first two hours"));
        let rows =
            [(0.0, 600.0, Some(15.0)), (2.0, 540.0, Some(15.0)), (7.0, 540.0, Some(15.0)), (14.0, 540.0, Some(15.0))];
        let later = judged(&test("water", 1.0, &rows));
        assert_eq!((later.verdict, later.from_reading), (Verdict::Tight, 1), "{}", later.reason);
        assert_eq!(later.drop_kpa, 0.0);
        let leak = judged(&test(
            "water",
            1.0,
            &[(0.0, 600.0, Some(15.0)), (2.0, 540.0, Some(15.0)), (14.0, 500.0, Some(15.0))],
        ));
        assert_eq!(leak.verdict, Verdict::Leaking);
        // thick cylinder by hand: κ = 2·1.46/700e6 · (64 + 0.08·36)/(64 − 36) = 9.965e-9; with water's 1.042e-8 1/Pa
        assert!((leak.leak_rate - 80_000.0 * 40e3 * 1.0424e-8 / 12.0).abs() < 0.05, "{}", leak.leak_rate);
        // steel is stiffer by far: the same fall is far less water
        let mut steel =
            test("water", 1.0, &[(0.0, 600.0, Some(15.0)), (2.0, 540.0, Some(15.0)), (14.0, 500.0, Some(15.0))]);
        steel["tube"] = json!({ "od_m": 0.022, "wall_m": 0.0015, "modulus_mpa": 200_000.0, "poisson": 0.3, "expansion_per_k": 1.2e-5 });
        assert!(judged(&steel).leak_rate < 0.1 * leak.leak_rate);
    }

    #[test]
    fn plastic_widens_more_than_water_so_a_warm_floor_shows_less() {
        let test: PressureTest =
            serde_json::from_value(test("water", 1.0, &[(0.0, 500.0, Some(15.0))])).expect("reads");
        // β_w at 15 °C is 1.5e-4 1/K (CRC), the bore's 4.38e-4
        let per_k = test.water_kpa_per_k(15.0);
        assert!((per_k - (1.509e-4 - 4.38e-4) / 1.0424e-8 / 1e3).abs() < 0.3, "{per_k}");
    }

    #[test]
    fn what_is_asked_for_has_to_stand_for_as_long_as_asked() {
        let short = judged(&test("air", 1.0, &[(0.0, 400.0, Some(20.0)), (9.5, 400.0, Some(20.0))]));
        assert_eq!(short.verdict, Verdict::NotProven);
        assert!((short.hours - 9.5).abs() < 1e-6 && short.reason.contains("9.5 h"));
        let low = judged(&test("air", 1.0, &[(0.0, 200.0, Some(20.0)), (12.0, 200.0, Some(20.0))]));
        assert_eq!((low.verdict, low.hours), (Verdict::NotProven, 0.0));
        let one = judged(&test("air", 1.0, &[(0.0, 400.0, Some(20.0))]));
        assert_eq!((one.verdict, one.leak_rate), (Verdict::NotProven, 0.0));
        // a coarse gauge could hide what matters
        let coarse = judged(&test("air", 20.0, &[(0.0, 400.0, Some(20.0)), (12.0, 400.0, Some(20.0))]));
        assert_eq!(coarse.verdict, Verdict::NotProven);
        assert!(coarse.to_prove[0].starts_with("a gauge that shows"));
    }

    #[test]
    fn the_weather_counts_when_it_is_read() {
        let mut t = test("air", 0.5, &[(0.0, 400.0, Some(20.0)), (12.0, 402.0, Some(20.0))]);
        for (k, p) in [101.0, 99.0].into_iter().enumerate() {
            t["readings"][k]["barometer_kpa"] = json!(p);
        }
        let result = judged(&t);
        // what is inside is the same: only the weather pushed less
        assert!(result.drop_kpa.abs() < 1e-9 && result.parts_kpa[2] < 0.2);
        assert_eq!(result.verdict, Verdict::Tight);
    }

    #[test]
    fn air_under_pressure_is_told_to_be_dangerous() {
        let result = judged(&test("air", 1.0, &[(0.0, 400.0, Some(20.0)), (12.0, 400.0, Some(20.0))]));
        assert!(
            result.cautions.iter().any(|c| c.contains("36.9 kJ"))
                && result.cautions.iter().any(|c| c.contains("local code"))
        );
    }

    #[test]
    fn bad_input_is_named() {
        let good = || test("air", 1.0, &[(0.0, 400.0, Some(20.0)), (12.0, 399.0, Some(20.0))]);
        let changed = |change: &dyn Fn(&mut Value)| {
            let mut value = good();
            change(&mut value);
            refused(&value)
        };
        assert_eq!(changed(&|t| t["readings"][1]["time"] = json!("2026-10-30T00:00:00Z")), "readings[1].time");
        assert_eq!(changed(&|t| t["readings"][1]["time"] = json!("soon")), "readings[1].time");
        assert_eq!(changed(&|t| t["readings"][1]["gauge_kpa"] = json!(1500.0)), "readings[1].gauge_kpa");
        assert_eq!(changed(&|t| t["barometer_kpa"] = Value::Null), "barometer_kpa");
        assert_eq!(changed(&|t| t["readings"] = json!(vec![t["readings"][0].clone(); 2001])), "readings");
        assert_eq!(changed(&|t| t["volume_l"] = json!(0.0)), "volume_l");
        assert_eq!(changed(&|t| t["gauge"]["range_kpa"] = json!(250.0)), "gauge.range_kpa");
        assert_eq!(changed(&|t| t["gauge"]["resolution_kpa"] = json!(f64::MAX)), "gauge.resolution_kpa");
        assert_eq!(changed(&|t| t["medium"] = json!("beer")), "medium");
        let mut empty = good();
        empty["readings"] = json!([]);
        let test = PressureTest::from_json(&empty.to_string()).expect("a test that is not read yet");
        assert_eq!(test.judge().expect_err("nothing to judge").field, "readings");
    }

    #[test]
    fn a_reading_in_another_unit_is_noticed_and_a_burst_is_still_told() {
        for (kpa, said) in [(58.0, "psi to kPa"), (4.0, "bar to kPa"), (27.6, "bar to psi")] {
            let result = judged(&test("air", 1.0, &[(0.0, 400.0, Some(20.0)), (12.0, kpa, Some(20.0))]));
            assert_eq!((result.verdict, result.doubts.len()), (Verdict::Leaking, 1), "{kpa}");
            assert!(
                result.doubts[0].starts_with("Readings 1 and 2") && result.doubts[0].contains(said),
                "{}",
                result.doubts[0]
            );
        }
        let sound = judged(&test("air", 1.0, &[(0.0, 400.0, Some(20.0)), (12.0, 370.0, Some(20.0))]));
        assert!(sound.doubts.is_empty());
        // in its first minutes plastic gives way a little, a burst takes all of it
        let burst = judged(&test("water", 1.0, &[(0.0, 600.0, Some(15.0)), (0.2, 90.0, Some(15.0))]));
        assert_eq!(burst.verdict, Verdict::Leaking, "{}", burst.reason);
    }

    #[test]
    fn a_barometer_that_was_read_once_makes_no_weather() {
        let mut t = test("air", 0.5, &[(0.0, 400.0, Some(20.0)), (12.0, 400.0, Some(20.0))]);
        t["readings"][1]["barometer_kpa"] = json!(96.0);
        let result = judged(&t);
        assert!(result.drop_kpa.abs() < 1e-9 && result.parts_kpa[2] > 0.9, "{result:?}");
    }
}

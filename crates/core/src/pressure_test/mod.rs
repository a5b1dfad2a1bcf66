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

mod judge;
mod physics;

pub use physics::{TestTube, barometer_kpa};

use crate::check;
use crate::error::FieldError;
use chrono::{DateTime, NaiveDateTime};
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

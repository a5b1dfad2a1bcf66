//! Readings corrected, what they could have shown, and the verdict.

use super::physics::{PEX, WATER_PER_PA, ZERO_K, stored_j, water_expansion};
use super::{Medium, PressureTest, Reading, TestResult, Verdict, barometer_kpa};
use crate::error::FieldError;
use crate::units::{Quantity, Units};

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

impl PressureTest {
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
    pub(super) fn water_kpa_per_k(&self, c: f64) -> f64 {
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

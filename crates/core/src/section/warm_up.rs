//! How a section warms up: what `fuoco warm-up` reads and answers. Explained in `docs/physics.md`.
//!
//! ```
//! use fuoco_core::section::warm_up::WarmUpFile;
//! let answer = WarmUpFile::from_json(r#"{
//!     "spacing_m": 0.2,
//!     "tube": { "od_m": 0.016, "wall_m": 0.002, "conductivity_w_mk": 0.35, "axis_depth_m": 0.053 },
//!     "layers": [
//!         { "thickness_m": 0.075, "conductivity_w_mk": 1.2 },
//!         { "thickness_m": 0.1, "conductivity_w_mk": 0.035 }
//!     ],
//!     "water_c": 40.0, "room_c": 20.0, "below_c": 20.0,
//!     "times_s": [0.0, 3600.0, 86400.0]
//! }"#)?.answer()?;
//! assert!(answer.flux_up_w_m2[0].abs() < 1e-6);
//! // a heavy floor has a third of its heat after an hour, and all of it after a day
//! let share = answer.flux_up_w_m2[1] / answer.flux_up_w_m2[2];
//! assert!((0.2..0.5).contains(&share) && answer.reduced.worst_error < 0.01);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::extrapolate;
use super::file::{SectionFile, Steady};
use super::transient::{Answer, Sides, Whole};
use crate::check::range;
use crate::error::FieldError;
use serde::{Deserialize, Serialize};
use serde_json::Value;

/// More times are refused.
const MOST_TIMES: usize = 10_000;
/// Later than this nothing is asked, s: thirty years.
const LATEST_S: f64 = 1e9;

/// Meshes twice as fine as those of the steady state: the first minutes are steep.
const REFINEMENTS: [usize; 2] = [2, 4];

/// A section, what is around it, and when it is asked for.
#[derive(Debug, Clone, PartialEq)]
pub struct WarmUpFile {
    /// The section; its water is what comes at the time 0, before which it was as warm as the room.
    pub section: SectionFile,
    /// Times, s, 0…10⁹, up to 10 000 of them.
    pub times_s: Vec<f64>,
}

/// How a section warms up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct WarmUpAnswer {
    /// The times asked for, s.
    pub times_s: Vec<f64>,
    /// Heat into the room, W/m².
    pub flux_up_w_m2: Vec<f64>,
    /// Heat to below, W/m².
    pub flux_down_w_m2: Vec<f64>,
    /// Mean of the finished surface, °C.
    pub surface_mean_c: Vec<f64>,
    /// Warmest line of it, °C.
    pub surface_max_c: Vec<f64>,
    /// The small model that it comes from.
    pub reduced: ReducedModel,
}

/// A small model of a section.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ReducedModel {
    /// Its states.
    pub order: usize,
    /// The most that any of its answers differed from those of the whole mesh at any time up to the last one, as share of what that
    /// answer changes by from beginning to end.
    pub worst_error: f64,
}

impl WarmUpFile {
    /// Reads a section with its times from JSON.
    ///
    /// # Errors
    /// Names the field that is missing, misspelt or of the wrong type.
    pub fn from_json(text: &str) -> Result<WarmUpFile, FieldError> {
        let mut all: serde_json::Map<String, Value> = crate::check::read(text)?;
        let times = all.remove("times_s").ok_or_else(|| FieldError::new("times_s", "is missing"))?;
        let times_s =
            serde_json::from_value(times).map_err(|_| FieldError::new("times_s", "must be a list of numbers"))?;
        Ok(WarmUpFile { section: SectionFile::from_json(&Value::Object(all).to_string())?, times_s })
    }

    /// The answer of `fuoco warm-up`: the upper film is that of the steady state it comes to.
    ///
    /// # Errors
    /// As [`SectionFile::steady`], and names the time that is out of its range.
    pub fn answer(&self) -> Result<WarmUpAnswer, FieldError> {
        if self.times_s.is_empty() || self.times_s.len() > MOST_TIMES {
            let reason = format!("must have 1 to {MOST_TIMES} entries, not {}", self.times_s.len());
            return Err(FieldError::new("times_s", reason));
        }
        for (k, t) in self.times_s.iter().enumerate() {
            range(&format!("times_s[{k}]"), *t, 0.0, LATEST_S)?;
        }
        let Steady { films, .. } = self.section.steady()?;
        let section = self.section.section()?;
        let SectionFile { room_c, below_c, water_c, .. } = self.section;
        let (before, after): (Sides, Sides) = ([room_c, below_c, room_c], [room_c, below_c, water_c]);
        let unsolved = || FieldError::new("section", "cannot be solved");
        let wholes = REFINEMENTS.map(|refinement| Whole::new(&section, refinement, &films));
        let [Some(coarse), Some(fine)] = [&wholes[0], &wholes[1]].map(Whole::modes) else { return Err(unsolved()) };
        let at = |t: f64| [&coarse, &fine].map(|m| figures(&m.after_step(before, after, t), room_c, films.up));
        let all: Vec<[[f64; 4]; 2]> = self.times_s.iter().map(|t| at(*t)).collect();
        let each = |k: usize| all.iter().map(|[c, f]| extrapolate(c[k], f[k])).collect();
        let last_s = self.times_s.iter().copied().fold(60.0, f64::max);
        let (begin, end) = (at(0.0)[0], at(LATEST_S)[0]);
        let mut worst_error = 0.0_f64;
        for (t, whole) in wholes[0].in_time(before, after, last_s).ok_or_else(unsolved)? {
            let (whole, small) = (figures(&whole, room_c, films.up), at(t)[0]);
            for k in (0..4).filter(|k| (end[*k] - begin[*k]).abs() > 1e-9) {
                worst_error = worst_error.max(((whole[k] - small[k]) / (end[k] - begin[k])).abs());
            }
        }
        Ok(WarmUpAnswer {
            times_s: self.times_s.clone(),
            flux_up_w_m2: each(0),
            flux_down_w_m2: each(1),
            surface_mean_c: each(2),
            surface_max_c: each(3),
            reduced: ReducedModel { order: fine.rates.len(), worst_error },
        })
    }
}

/// Flux up and down, mean and warmest of the surface.
fn figures(a: &Answer, room_c: f64, film_up: f64) -> [f64; 4] {
    let warmest = a.surface_c.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    [a.flux_up, a.flux_down, room_c + a.flux_up / film_up, warmest]
}

//! The heat-up programme of a floor, day by day. EN 1264-4: cement screed not before 21 days, calcium sulphate not before 7; three
//! days at 25 °C, then up to the highest supply of the design, held for four days. Between them 5 K a day, as screed makers ask.
//!
//! ```
//! use fuoco_core::startup::heat_up::{Mass, programme};
//! let days = programme(Mass::Cement, 38.0);
//! assert_eq!(days[0].supply_c, 25.0);
//! assert_eq!(days.iter().map(|d| d.supply_c).fold(0.0, f64::max), 38.0);
//! // never more than 5 K a day on the way up
//! assert!(days.windows(2).all(|w| w[1].supply_c - w[0].supply_c <= 5.0 + 1e-9));
//! ```

use serde::{Deserialize, Serialize};

/// The first days are no hotter, °C …
const FIRST_C: f64 = 25.0;
/// … for so many days.
const FIRST_DAYS: u32 = 3;
/// Then so much more each day, K.
const STEP_K: f64 = 5.0;
/// Held at the highest supply for so many days.
const HOLD_DAYS: u32 = 4;
/// Down again by so much a day, K.
const DOWN_K: f64 = 10.0;

/// What is warmed up.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Mass {
    /// Cement screed.
    Cement,
    /// Concrete slab.
    Concrete,
    /// Calcium sulphate screed or gypsum.
    Gypsum,
    /// Nothing that dries: panels, plates, timber.
    Dry,
}

/// A day of the programme.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HeatUpDay {
    /// From 1.
    pub day: u32,
    /// Supply temperature, °C.
    pub supply_c: f64,
}

impl Mass {
    /// Of the material that holds the tube.
    pub fn of_material(id: &str) -> Mass {
        match id {
            m if m.starts_with("screed-cement") => Mass::Cement,
            m if m.starts_with("concrete") => Mass::Concrete,
            m if m.contains("anhydrite") || m.starts_with("overlay-gypsum") || m.starts_with("plaster") => Mass::Gypsum,
            _ => Mass::Dry,
        }
    }

    /// Days to wait after it was poured. Its maker's word goes before.
    pub fn wait_days(self) -> u32 {
        match self {
            Mass::Cement => 21,
            Mass::Concrete => 28,
            Mass::Gypsum => 7,
            Mass::Dry => 0,
        }
    }
}

/// The programme up to the highest supply of the design, °C (15 to 90): day by day.
pub fn programme(mass: Mass, highest_c: f64) -> Vec<HeatUpDay> {
    let mut out: Vec<f64> = vec![];
    let mut now = FIRST_C.min(highest_c);
    // what does not dry only wants to be led up slowly
    let (first, hold) = if mass == Mass::Dry { (1, 1) } else { (FIRST_DAYS, HOLD_DAYS) };
    out.extend((0..first).map(|_| now));
    while now < highest_c - 1e-9 {
        now = (now + STEP_K).min(highest_c);
        out.push(now);
    }
    out.extend((1..hold).map(|_| now));
    if mass != Mass::Dry {
        while now > FIRST_C + 1e-9 {
            now = (now - DOWN_K).max(FIRST_C);
            out.push(now);
        }
    }
    out.iter().zip(1..).map(|(supply_c, day)| HeatUpDay { day, supply_c: *supply_c }).collect()
}

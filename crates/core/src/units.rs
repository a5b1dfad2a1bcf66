//! Figures as people read them. Everything inside Fuoco is SI; this module (and the front end, from the
//! same table `data/units.json`) is the one place where a figure gets another unit.
//!
//! ```
//! use fuoco_core::units::{Quantity, Units};
//! assert_eq!(Units::Metric.show(Quantity::Heat, 1234.4), "1234 W");
//! assert_eq!(Units::Us.show(Quantity::Length, 3.6576), "12' 0\"");
//! assert!((Units::Us.convert(Quantity::Temperature, 20.0) - 68.0).abs() < 1e-9);
//! ```

use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::LazyLock;

/// The unit system in which a job is shown. Display only: it never changes a stored figure.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Units {
    /// Metres, °C, W, L/min, kPa.
    #[default]
    Metric,
    /// Feet and inches, °F, BTU/h, gpm, feet of head.
    Us,
}

/// What a figure measures; the key into `data/units.json`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
#[allow(missing_docs, reason = "the names say it; the table gives the units")]
pub enum Quantity {
    Length,
    Tube,
    Size,
    Area,
    Temperature,
    Difference,
    Heat,
    Flux,
    Transmittance,
    Resistance,
    Flow,
    Velocity,
    Head,
    Volume,
    Volumetric,
    Linear,
    Airflow,
    Slope,
    Density,
    Angle,
    Perlength,
    Factor,
    Count,
    Rate,
    Share,
    Weight,
    Time,
    Thickness,
    Content,
    Pressure,
    Gauge,
    Energy,
    Power,
    Kv,
    Minutes,
    Pace,
    Areapace,
    Snow,
    Snowfall,
}

#[derive(Debug, Deserialize)]
struct Unit {
    symbol: String,
    factor: f64,
    offset: f64,
    digits: usize,
    /// In sentences and tables it is rounded to whole multiples of this.
    shown_to: Option<f64>,
    /// In sentences and tables its thousands are parted by commas.
    #[serde(default)]
    grouped: bool,
}

#[derive(Debug, Deserialize)]
struct Pair {
    metric: Unit,
    us: Unit,
}

static TABLE: LazyLock<BTreeMap<Quantity, Pair>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../data/units.json")).expect("the built-in unit table is well-formed")
});

/// Words that American fitters have another one for, each with theirs; longer ones first.
static DIALECT: LazyLock<Vec<(String, String)>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../data/dialect.json")).expect("the built-in table of words is well-formed")
});

/// The same with a capital.
fn capital(word: &str) -> String {
    let mut chars = word.chars();
    chars.next().map_or_else(String::new, |c| c.to_uppercase().chain(chars).collect())
}

impl Units {
    /// A sentence of ours in the words of those who have these units.
    ///
    /// ```
    /// use fuoco_core::units::Units;
    /// assert_eq!(Units::Us.words("Pressure drop; another build-up"), "Head loss; another floor assembly");
    /// assert_eq!(Units::Metric.words("Pressure drop"), "Pressure drop");
    /// ```
    pub fn words(self, text: &str) -> String {
        if self == Units::Metric {
            return text.to_owned();
        }
        DIALECT.iter().fold(text.to_owned(), |text, (word, theirs)| {
            text.replace(word.as_str(), theirs).replace(&capital(word), &capital(theirs))
        })
    }

    fn unit(self, quantity: Quantity) -> &'static Unit {
        let pair = &TABLE[&quantity];
        match self {
            Units::Metric => &pair.metric,
            Units::Us => &pair.us,
        }
    }

    /// The SI value in this system's unit, for instance 20.0 °C → 68.0 °F.
    pub fn convert(self, quantity: Quantity, si: f64) -> f64 {
        let unit = self.unit(quantity);
        si * unit.factor + unit.offset
    }

    /// The unit's symbol, for table headings.
    pub fn symbol(self, quantity: Quantity) -> &'static str {
        &self.unit(quantity).symbol
    }

    /// The figure alone, rounded to the digits that mean something to a fitter.
    pub fn figure(self, quantity: Quantity, si: f64) -> String {
        let text = format!("{:.*}", self.unit(quantity).digits, self.convert(quantity, si));
        // "-0" says nothing that "0" does not
        if text.trim_start_matches(['-', '0', '.']).is_empty() { text.trim_start_matches('-').to_owned() } else { text }
    }

    /// Figure and unit, ready for a sentence.
    pub fn show(self, quantity: Quantity, si: f64) -> String {
        if quantity == Quantity::Length && self == Units::Us {
            return feet_and_inches(si);
        }
        let symbol = self.symbol(quantity);
        let gap = if symbol.is_empty() || symbol == "%" { "" } else { " " };
        let unit = self.unit(quantity);
        let text = match unit.shown_to {
            // rounded in the unit, back to SI for the figure
            Some(step) => {
                self.figure(quantity, ((self.convert(quantity, si) / step).round() * step - unit.offset) / unit.factor)
            }
            None => self.figure(quantity, si),
        };
        let text = if unit.grouped { grouped(&text) } else { text };
        format!("{text}{gap}{symbol}")
    }
}

/// "40070" as "40,070".
fn grouped(text: &str) -> String {
    let digits = text.trim_start_matches('-');
    let whole = digits.find('.').unwrap_or(digits.len());
    let sign = &text[..text.len() - digits.len()];
    let mut out = String::from(sign);
    for (i, c) in digits.char_indices() {
        if i > 0 && i < whole && (whole - i).is_multiple_of(3) {
            out.push(',');
        }
        out.push(c);
    }
    out
}

/// Lengths of the building as a tape reads: feet and inches to the quarter inch.
fn feet_and_inches(m: f64) -> String {
    let quarters = (m.abs() / 0.0254 * 4.0).round();
    let (feet, rest) = ((quarters / 48.0).floor(), quarters % 48.0);
    let part = ["", " 1/4", " 1/2", " 3/4"][(rest % 4.0) as usize];
    format!("{}{feet}' {}{part}\"", if m < 0.0 && quarters > 0.0 { "-" } else { "" }, (rest / 4.0).floor())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn american_heat_is_told_to_the_ten_with_thousands_parted() {
        let told = |btu_h: f64| Units::Us.show(Quantity::Heat, btu_h / 3.412141633);
        assert_eq!(told(40_071.0), "40,070 BTU/h");
        assert_eq!(told(1_234_567.0), "1,234,570 BTU/h");
        assert_eq!([told(996.0), told(-1_004.0), told(3.0)], ["1,000 BTU/h", "-1,000 BTU/h", "0 BTU/h"]);
        assert_eq!(Units::Metric.show(Quantity::Heat, 11_744.0), "11744 W");
        // tables for programs keep every unit
        assert_eq!(Units::Us.figure(Quantity::Heat, 40_071.0 / 3.412141633), "40071");
    }

    #[test]
    fn shows_both_systems() {
        assert_eq!(Units::Us.show(Quantity::Temperature, 20.0), "68 °F");
        assert_eq!(Units::Metric.show(Quantity::Temperature, 20.0), "20.0 °C");
        assert_eq!(Units::Us.show(Quantity::Length, 4.2037), "13' 9 1/2\"");
        assert_eq!(Units::Us.show(Quantity::Length, -0.3048), "-1' 0\"");
        let inches = |v: f64| Units::Us.show(Quantity::Length, v * 0.0254);
        assert_eq!([inches(15.75), inches(6.3), inches(11.9)], ["1' 3 3/4\"", "0' 6 1/4\"", "1' 0\""]);
        assert_eq!(Units::Metric.show(Quantity::Share, 0.125), "12%");
        assert_eq!(Units::Metric.figure(Quantity::Heat, -0.2), "0");
    }

    #[test]
    fn factors_agree_with_exact_definitions() {
        // 1 ft = 0.3048 m, 1 in = 0.0254 m, 1 BTU = 1055.05585262 J, 1 US gal = 3.785411784 L: exact by definition.
        // 1 ft of water at 4 °C (conventional) = 2989.06692 Pa. Tolerance 1e-8 relative: the table has ten digits.
        let exact = [
            (Quantity::Length, 1.0 / 0.3048),
            (Quantity::Tube, 1.0 / 0.3048),
            (Quantity::Size, 1.0 / 0.0254),
            (Quantity::Area, 1.0 / 0.3048_f64.powi(2)),
            (Quantity::Heat, 3600.0 / 1055.05585262),
            (Quantity::Flux, 3600.0 / 1055.05585262 * 0.3048_f64.powi(2)),
            (Quantity::Transmittance, 3600.0 / 1055.05585262 * 0.3048_f64.powi(2) / 1.8),
            (Quantity::Resistance, 1.0 / (3600.0 / 1055.05585262 * 0.3048_f64.powi(2) / 1.8)),
            (Quantity::Flow, 1.0 / 3.785411784),
            (Quantity::Head, 1.0 / 2989.06692),
            (Quantity::Volume, 1.0 / 0.3048_f64.powi(3)),
            (Quantity::Linear, 3600.0 / 1055.05585262 * 0.3048 / 1.8),
            (Quantity::Airflow, 1.0 / 0.3048_f64.powi(3) / 60.0),
            (Quantity::Perlength, 0.3048 / 0.0254_f64.powi(2)),
            (Quantity::Slope, 3600.0 / 1055.05585262 / 1.8),
            (Quantity::Density, 0.3048_f64.powi(3) / 0.45359237),
            (Quantity::Content, 1.0 / 3.785411784),
            (Quantity::Energy, 1e-6 / 1055.05585262),
            // 1 psi = 6894.757293168 Pa; Cv: gpm at 1 psi against m³/h at 1 bar
            (Quantity::Pressure, 1.0 / 6894.757293168),
            (Quantity::Gauge, 1.0 / 6894.757293168),
            (Quantity::Kv, 1000.0 / 60.0 / 3.785411784 * 0.06894757293168_f64.sqrt()),
            (Quantity::Volumetric, 3600.0 / 1055.05585262 * 0.3048_f64.powi(3) / 1.8),
        ];
        for (quantity, factor) in exact {
            let got = Units::Us.convert(quantity, 1.0);
            assert!((got / factor - 1.0).abs() < 1e-8, "{quantity:?}: {got} against {factor}");
        }
    }
}

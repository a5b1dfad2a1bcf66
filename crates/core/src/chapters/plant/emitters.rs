//! What radiators, baseboards and coils give: by their plates, or from a tape measure.
//!
//! `Q = Q_rated · (Δ/Δ_rated)^n` with the mean excess Δ of the water over the room (EN 442-1), n about 1.3 for radiators, 1.4
//! for finned tube and convectors, 1 for coils with a fan. Cast radiators of columns and tubes by the trade's table of
//! equivalent direct radiation, each square foot 240 BTU/h at 215 °F mean water in 70 °F air.
//!
//! ```
//! use fuoco_core::job::{Emitter, EmitterKind, RadiatorPattern};
//! use fuoco_core::plant::emitters::rating;
//! // ten sections of 38 in with four columns: 80 ft² by the table, 19 200 BTU/h
//! let mut radiator = Emitter::of(EmitterKind::Radiator);
//! (radiator.pattern, radiator.columns, radiator.sections, radiator.height_m) = (Some(RadiatorPattern::Column), 4, 10, 38.0 * 0.0254);
//! let rated = rating(&radiator).unwrap();
//! assert!((rated.rated_w * 3.412141633 - 19_200.0).abs() < 1.0);
//! ```

use crate::job::{Emitter, EmitterKind, RadiatorPattern};
use serde::{Deserialize, Serialize};

/// 1 BTU/h, W.
const BTU_H_W: f64 = 1.0 / 3.412_141_633;
/// Equivalent direct radiation: 240 BTU/h·ft² at this mean excess, K (145 °F).
const EDR_EXCESS_K: f64 = 145.0 / 1.8;
const EDR_BTU_H_FT2: f64 = 240.0;
/// Residential finned tube, mean of common elements: 550 BTU/h·ft of fin at 180 °F mean water in 65 °F air.
const FIN_W_M: f64 = 550.0 * BTU_H_W / 0.3048;
const FIN_EXCESS_K: f64 = 115.0 / 1.8;
/// Mean excess of a rating that names none, K: EN 442-1.
const PLATE_EXCESS_K: f64 = 50.0;

/// How a rating came about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RatedBy {
    /// Its plate.
    Plate,
    /// The table of columns and tubes.
    Sections,
    /// Its length of fin.
    Fin,
}

/// What an emitter gives, and how that changes with its water.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Rating {
    /// W
    pub rated_w: f64,
    /// Mean water over room at that, K
    pub excess_k: f64,
    /// How output grows with the excess.
    pub exponent: f64,
    /// Where that comes from.
    pub by: RatedBy,
}

impl Rating {
    /// Output at a mean excess, W; 0 for none.
    pub fn output_w(&self, excess_k: f64) -> f64 {
        if excess_k > 0.0 { self.rated_w * (excess_k / self.excess_k).powf(self.exponent) } else { 0.0 }
    }
}

/// Square feet of equivalent radiation a section by height, in.
type Sizes = &'static [(f64, f64)];

const COLUMNS: [Sizes; 4] = [
    &[(20.0, 1.5), (23.0, 1.6667), (26.0, 2.0), (32.0, 2.5), (38.0, 3.0)],
    &[(20.0, 2.0), (23.0, 2.3333), (26.0, 2.6667), (32.0, 3.3333), (38.0, 4.0), (45.0, 5.0)],
    &[(18.0, 2.25), (22.0, 3.0), (26.0, 3.75), (32.0, 4.5), (38.0, 5.0), (45.0, 6.0)],
    &[(18.0, 3.0), (22.0, 4.0), (26.0, 5.0), (32.0, 6.5), (38.0, 8.0), (45.0, 10.0)],
];
/// Of three to seven tubes.
const TUBES: [Sizes; 5] = [
    &[(20.0, 1.75), (23.0, 2.0), (26.0, 2.3333), (32.0, 3.0), (38.0, 3.5)],
    &[(20.0, 2.25), (23.0, 2.5), (26.0, 2.75), (32.0, 3.5), (38.0, 4.25)],
    &[(20.0, 2.6667), (23.0, 3.0), (26.0, 3.5), (32.0, 4.3333), (38.0, 5.0)],
    &[(20.0, 3.0), (23.0, 3.5), (26.0, 4.0), (32.0, 5.0), (38.0, 6.0)],
    &[(14.0, 2.5), (17.0, 3.0), (20.0, 3.6667)],
];

/// Equivalent radiating area of a section, ft²; none beyond the table's heights and counts.
pub fn section_ft2(pattern: RadiatorPattern, columns: u32, height_m: f64) -> Option<f64> {
    let sizes = match pattern {
        RadiatorPattern::Column => COLUMNS.get((columns as usize).checked_sub(1)?)?,
        RadiatorPattern::Tube => TUBES.get((columns as usize).checked_sub(3)?)?,
        RadiatorPattern::Panel => return None,
    };
    let inches = height_m / 0.0254;
    // tape and casting are not exact
    let slack = 1.0;
    let (first, last) = (sizes.first()?, sizes.last()?);
    if inches < first.0 - slack || inches > last.0 + slack {
        return None;
    }
    let inches = inches.clamp(first.0, last.0);
    let next = sizes.iter().position(|s| s.0 >= inches)?.max(1);
    let (a, b) = (sizes[next - 1], sizes[next]);
    Some(a.1 + (b.1 - a.1) * (inches - a.0) / (b.0 - a.0))
}

/// What an emitter gives: its plate first, then sections by the table, then length of fin. None where the survey does not say
/// enough, and for electric ones.
pub fn rating(e: &Emitter) -> Option<Rating> {
    let exponent = match e.kind {
        EmitterKind::ElectricHeater => return None,
        EmitterKind::Radiator | EmitterKind::TowelRail => 1.3,
        EmitterKind::Baseboard | EmitterKind::Convector => 1.4,
        EmitterKind::FanCoil => 1.0,
    };
    if let Some(rated_w) = e.rated_w.filter(|w| *w > 0.0) {
        let usual = if e.kind == EmitterKind::Baseboard { FIN_EXCESS_K } else { PLATE_EXCESS_K };
        let excess_k = e.rated_excess_k.filter(|k| *k > 0.0).unwrap_or(usual);
        return Some(Rating { rated_w, excess_k, exponent, by: RatedBy::Plate });
    }
    match e.kind {
        EmitterKind::Radiator if e.sections > 0 => {
            let ft2 = section_ft2(e.pattern?, e.columns, e.height_m)? * f64::from(e.sections);
            let rated_w = ft2 * EDR_BTU_H_FT2 * BTU_H_W;
            Some(Rating { rated_w, excess_k: EDR_EXCESS_K, exponent, by: RatedBy::Sections })
        }
        EmitterKind::Baseboard if e.length_m > 0.0 => {
            Some(Rating { rated_w: FIN_W_M * e.length_m, excess_k: FIN_EXCESS_K, exponent, by: RatedBy::Fin })
        }
        _ => None,
    }
}

/// Mean excess at which emitters together give a heat, K; none for no emitters or no heat.
pub(crate) fn excess_for(ratings: &[Rating], heat_w: f64) -> Option<f64> {
    if heat_w <= 0.0 || ratings.is_empty() {
        return None;
    }
    let sum = |excess: f64| ratings.iter().map(|r| r.output_w(excess)).sum::<f64>();
    let (mut low, mut high) = (0.0, 1.0);
    while sum(high) < heat_w {
        high *= 2.0;
        if high > 1e4 {
            return None;
        }
    }
    for _ in 0..60 {
        let middle = f64::midpoint(low, high);
        if sum(middle) < heat_w { low = middle } else { high = middle }
    }
    Some(high)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn radiator(pattern: RadiatorPattern, columns: u32, inches: f64, sections: u32) -> Emitter {
        Emitter {
            pattern: Some(pattern),
            columns,
            sections,
            height_m: inches * 0.0254,
            ..Emitter::of(EmitterKind::Radiator)
        }
    }

    /// The trade's figures for a square foot: 240 BTU/h at 145 °F mean difference, 150 at 100 °F, 170 at 110 °F. They are
    /// rounded to the ten: 2 %.
    #[test]
    fn a_square_foot_gives_what_the_trade_says_at_lower_water() {
        let one = rating(&radiator(RadiatorPattern::Column, 2, 20.0, 1)).expect("in the table");
        for (fahrenheit, btu) in [(145.0, 240.0), (110.0, 170.0), (100.0, 150.0)] {
            let got = one.output_w(fahrenheit / 1.8) / BTU_H_W / 2.0;
            assert!((got / btu - 1.0).abs() < 0.02, "{fahrenheit}: {got}");
        }
    }

    #[test]
    fn sections_by_the_table_and_between_its_heights() {
        let ft2 = |p, c, inches: f64| section_ft2(p, c, inches * 0.0254);
        assert_eq!(ft2(RadiatorPattern::Tube, 6, 26.0), Some(4.0));
        let between = ft2(RadiatorPattern::Column, 3, 35.0).expect("between 32 and 38");
        assert!((between - 4.75).abs() < 1e-9, "{between}");
        assert_eq!(ft2(RadiatorPattern::Column, 3, 60.0), None, "no such height");
        assert_eq!(ft2(RadiatorPattern::Tube, 2, 26.0), None, "no such count");
        assert_eq!(ft2(RadiatorPattern::Panel, 2, 26.0), None, "by its rating only");
    }

    #[test]
    fn a_plate_comes_before_the_tape() {
        let mut e = radiator(RadiatorPattern::Column, 4, 38.0, 10);
        e.rated_w = Some(1000.0);
        let plate = rating(&e).expect("rated");
        assert_eq!((plate.rated_w, plate.excess_k, plate.by), (1000.0, PLATE_EXCESS_K, RatedBy::Plate));
        // EN 442: at ΔT 30 K a radiator of exponent 1.3 gives 0.515 of its rating at 50 K
        assert!((plate.output_w(30.0) / 1000.0 - 0.5147).abs() < 1e-3);
        assert_eq!(rating(&Emitter::of(EmitterKind::ElectricHeater)), None);
        assert_eq!(rating(&Emitter::of(EmitterKind::Convector)), None, "nothing is known of it");
    }

    #[test]
    fn a_metre_of_fin_is_fin_and_not_cover() {
        let fin = Emitter { length_m: 3.0, ..Emitter::of(EmitterKind::Baseboard) };
        let rated = rating(&fin).expect("by its fin");
        assert!((rated.rated_w / BTU_H_W - 550.0 * 3.0 / 0.3048).abs() < 0.1);
        // the trade's: at 140 °F water about 0.57 of what 180 °F gives
        let share = rated.output_w(75.0 / 1.8) / rated.rated_w;
        assert!((share - 0.55).abs() < 0.03, "{share}");
    }

    #[test]
    fn the_excess_that_gives_a_heat_gives_it() {
        let ratings = [
            rating(&radiator(RadiatorPattern::Tube, 5, 26.0, 8)).expect("rated"),
            rating(&Emitter { length_m: 2.0, ..Emitter::of(EmitterKind::Baseboard) }).expect("rated"),
        ];
        let excess = excess_for(&ratings, 1500.0).expect("they can");
        let sum: f64 = ratings.iter().map(|r| r.output_w(excess)).sum();
        assert!((sum - 1500.0).abs() < 1e-6);
        assert_eq!(excess_for(&[], 1500.0), None);
        assert_eq!(excess_for(&ratings, 0.0), None);
    }
}

//! Films: between a heated or cooled surface and its room, under a floor, and of the water in the tube.
//!
//! ```
//! use fuoco_core::section::film::{Face, Mode, excess, flux};
//! // a floor nine kelvin warmer than its room gives about a hundred watts per square metre
//! let q = flux(Face::Floor, Mode::Heating, 9.0);
//! assert!((q - 8.92 * 9f64.powf(1.1)).abs() < 1e-9 && (q - 100.0).abs() < 1.0);
//! assert!((excess(Face::Floor, Mode::Heating, q) - 9.0).abs() < 1e-9);
//! // it takes less when it cools
//! assert!(flux(Face::Floor, Mode::Cooling, 9.0) < q);
//! ```

use crate::flow::{LAMINAR_TO, TURBULENT_FROM};
use crate::fluid::Properties;
use crate::heat_loss::construction::Direction;
use serde::{Deserialize, Serialize};

/// Film between a heated floor and its room by the reference of EN 1264-2's tables, W/m²K.
pub const REFERENCE: f64 = 10.8;

/// Which way the finished surface looks.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Face {
    #[default]
    Floor,
    Wall,
    Ceiling,
}

/// Whether the surface gives heat or takes it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Mode {
    #[default]
    Heating,
    Cooling,
}

/// Flux of a surface whose mean is that much warmer (cooler when cooling) than the room, W/m². A heated floor by
/// `q = 8.92·Δθ^1.1` (EN 1264-2); the others by the constant films of ISO 11855-2: cooled floor 7, wall 8, heated
/// ceiling 6.5, cooled ceiling 10.8 W/m²K (as a heated floor: warm below cold).
pub fn flux(face: Face, mode: Mode, excess_k: f64) -> f64 {
    let excess = excess_k.max(0.0);
    match constant(face, mode) {
        None => 8.92 * excess.powf(1.1),
        Some(h) => h * excess,
    }
}

/// The inverse of [`flux`], K.
pub fn excess(face: Face, mode: Mode, flux_w_m2: f64) -> f64 {
    let flux = flux_w_m2.max(0.0);
    match constant(face, mode) {
        None => (flux / 8.92).powf(1.0 / 1.1),
        Some(h) => flux / h,
    }
}

/// The film that goes with a flux, W/m²K. As the flux vanishes that of a heated floor would too; it stays above that of
/// a hundredth of a watt.
pub fn film(face: Face, mode: Mode, flux_w_m2: f64) -> f64 {
    constant(face, mode).unwrap_or_else(|| {
        let flux = flux_w_m2.max(0.01);
        flux / excess(face, mode, flux)
    })
}

fn constant(face: Face, mode: Mode) -> Option<f64> {
    match (face, mode) {
        (Face::Floor, Mode::Heating) => None,
        (Face::Floor, Mode::Cooling) => Some(7.0),
        (Face::Wall, _) => Some(8.0),
        (Face::Ceiling, Mode::Heating) => Some(6.5),
        (Face::Ceiling, Mode::Cooling) => Some(10.8),
    }
}

/// Film at the back, m²K/W (ISO 6946): under a floor heat flows down, behind a wall level, over a ceiling up.
pub fn back_m2k_w(face: Face) -> f64 {
    match face {
        Face::Floor => Direction::Downward,
        Face::Wall => Direction::Horizontal,
        Face::Ceiling => Direction::Upward,
    }
    .film()
}

/// Film of the water by the area of the bore, W/m²K. Laminar (Re ≤ 2300) Nu = 4.0, between 3.66 at an even temperature
/// and 4.36 at an even flux; turbulent (Re ≥ 4000) by Gnielinski (1976), `Nu = (f/8)(Re − 1000)Pr /
/// (1 + 12.7·√(f/8)·(Pr^⅔ − 1))`, `f = (0.79·ln Re − 1.64)^−2`; straight between the two.
pub fn water(bore_m: f64, velocity_m_s: f64, fluid: &Properties) -> f64 {
    const LAMINAR: f64 = 4.0;
    let reynolds = fluid.density * velocity_m_s.abs() * bore_m / fluid.viscosity;
    let prandtl = fluid.viscosity * fluid.specific_heat / fluid.conductivity;
    let gnielinski = |re: f64| {
        let f = (0.79 * re.ln() - 1.64).powi(-2) / 8.0;
        f * (re - 1000.0) * prandtl / (1.0 + 12.7 * f.sqrt() * (prandtl.powf(2.0 / 3.0) - 1.0))
    };
    let nusselt = if reynolds <= LAMINAR_TO {
        LAMINAR
    } else if reynolds >= TURBULENT_FROM {
        gnielinski(reynolds)
    } else {
        let part = (reynolds - LAMINAR_TO) / (TURBULENT_FROM - LAMINAR_TO);
        LAMINAR + (gnielinski(TURBULENT_FROM) - LAMINAR) * part
    };
    nusselt.max(LAMINAR) * fluid.conductivity / bore_m
}

/// A film within this of the one that the flow makes is taken for it, as a share: in laminar flow, where the film counts
/// most, that is 0.1 % of a floor's heat.
pub const SETTLED: f64 = 0.015;
/// Films settle in two or three rounds; where the flow is about to turn turbulent, in some more.
pub const MOST_ROUNDS: usize = 12;
/// Films are told apart in steps of 2 %: finer ones change nothing but the number of sections to be solved.
const STEP: f64 = 0.02;

/// The film to be taken in the next round, W/m²K, when with the film `now` the flow makes `wanted`.
pub fn nearer(now: f64, wanted: f64, round: usize) -> f64 {
    if (wanted / now - 1.0).abs() <= SETTLED {
        return now;
    }
    // less flow makes a thicker film, which asks for more flow: half way, lest it swings
    let next = if round < 2 { wanted } else { (now * wanted).sqrt() };
    ((next.ln() / STEP).round() * STEP).exp()
}

#[cfg(test)]
mod tests {
    use super::*;

    const WATER: Properties =
        Properties { density: 994.0, specific_heat: 4178.0, conductivity: 0.62, viscosity: 0.7194e-3 };

    /// EN 1264-2: 9 K over the room is 100 W/m².
    #[test]
    fn the_floor_film_is_its_own_inverse_and_meets_the_standard() {
        use Face::Floor;
        use Mode::Heating;
        assert!((flux(Floor, Heating, 9.0) - 100.0).abs() < 0.5);
        for q in [5.0, 40.0, 100.0, 175.0] {
            assert!((flux(Floor, Heating, excess(Floor, Heating, q)) - q).abs() < 1e-9);
            assert!((film(Floor, Heating, q) * excess(Floor, Heating, q) - q).abs() < 1e-9);
        }
        assert_eq!(film(Face::Ceiling, Heating, 50.0), 6.5);
        assert_eq!(flux(Face::Wall, Heating, -3.0), 0.0);
    }

    /// Re 4886 in a bore of 12 mm, Pr = 4.848: f = 0.0389, Nu = 34.55 by hand.
    #[test]
    fn the_water_film_by_hand() {
        let h = water(0.012, 0.2947, &WATER);
        assert!((h - 34.55 * 0.62 / 0.012).abs() < 0.01 * h, "{h}");
        assert!((water(0.012, 0.05, &WATER) - 4.0 * 0.62 / 0.012).abs() < 1e-9);
    }

    #[test]
    fn films_settle_even_where_they_swing() {
        // a film that asks for the opposite of what it is: straight on it would go to and fro for ever
        let flow_makes = |film: f64| 400_000.0 / film;
        let mut film = 1500.0;
        let mut rounds = 0;
        while nearer(film, flow_makes(film), rounds) != film {
            film = nearer(film, flow_makes(film), rounds);
            rounds += 1;
            assert!(rounds < MOST_ROUNDS, "{film}");
        }
        // here a film that is off makes one as far off on the other side: twice
        assert!((flow_makes(film) / film - 1.0).abs() <= 2.0 * SETTLED);
    }

    #[test]
    fn the_water_film_never_falls_with_flow() {
        let mut last = 0.0;
        for k in 0..400 {
            let h = water(0.012, f64::from(k) * 0.005, &WATER);
            assert!(h >= last - 1e-9);
            last = h;
        }
    }
}

//! Heat to the ground by ISO 13370: slab on ground with edge insulation, heated basement, crawl space.
//!
//! Steady figures toward the mean temperature of the year; [`YEARLY_SWING`] brings them to the design day as
//! EN 12831-1 does.
//!
//! | symbol | here |
//! |---|---|
//! | A, P | area and exposed perimeter of the floor, m², m |
//! | B′ | characteristic dimension, A/(P/2), m |
//! | w | thickness of the outside walls, m |
//! | λ | conductivity of the ground, W/mK |
//! | d_t | equivalent thickness of the floor, m |
//! | z | depth of the floor below ground, m |
//!
//! ```
//! use fuoco_core::heat_loss::ground::{characteristic_dimension, slab_u};
//! use fuoco_core::job::Ground;
//! // ISO 13370: a floor of 10 × 8 m, all four edges exposed
//! let b = characteristic_dimension(80.0, 36.0);
//! assert!((b - 4.444).abs() < 1e-3);
//! assert!(slab_u(&Ground::default(), b, 3.0, 0.0) < slab_u(&Ground::default(), b, 0.0, 0.0));
//! ```

use super::part::{CrawlSpace, EdgeInsulation, Ground};
use std::f64::consts::PI;

/// Films of ISO 13370, m²K/W: on the floor (downward), on basement walls, outside.
const FILM_FLOOR: f64 = 0.17;
const FILM_WALL: f64 = 0.13;
const FILM_OUT: f64 = 0.04;

/// The ground is colder toward the end of winter than over the year: factor on the steady heat (EN 12831-1, annex B).
pub const YEARLY_SWING: f64 = 1.45;

/// Largest characteristic dimension taken, m: beyond, a floor has hardly any edge and the formula little sense.
const LARGEST_B: f64 = 200.0;

/// Characteristic dimension of a floor, m. Without any exposed edge it is the largest that is taken.
pub fn characteristic_dimension(area_m2: f64, perimeter_m: f64) -> f64 {
    if perimeter_m > 0.0 { (2.0 * area_m2 / perimeter_m).clamp(0.1, LARGEST_B) } else { LARGEST_B }
}

/// Transmittance of a slab on ground or of a basement floor, W/m²K, edge insulation included.
///
/// `floor_m2k_w`: resistance of the floor's layers; `depth_m`: floor below the ground's surface, 0 for a slab on ground.
pub fn slab_u(ground: &Ground, b_m: f64, floor_m2k_w: f64, depth_m: f64) -> f64 {
    let lambda = ground.soil_w_mk;
    let dt = ground.wall_m + lambda * (FILM_FLOOR + floor_m2k_w + FILM_OUT);
    let d = dt + 0.5 * depth_m.max(0.0);
    let u = if d < b_m { 2.0 * lambda / (PI * b_m + d) * (PI * b_m / d).ln_1p() } else { lambda / (0.457 * b_m + d) };
    // edge insulation acts along the perimeter: ψ·P/A = 2ψ/B′
    (u + 2.0 * edge_psi(ground, dt, depth_m.max(0.0)) / b_m).max(0.0)
}

/// Linear transmittance of edge insulation, W/mK, never positive (ISO 13370, annex B).
///
/// The annex is for slabs on ground. Below ground (`depth_m`) the way of the heat is longer by half the depth, as in the
/// standard's own formula for basement floors, and of standing insulation only what reaches below the floor helps it: so
/// the effect goes down to nothing without a step.
pub fn edge_psi(ground: &Ground, dt: f64, depth_m: f64) -> f64 {
    let lambda = ground.soil_w_mk;
    let dt = dt + 0.5 * depth_m;
    let (reach, resistance, thickness) = match ground.edge {
        EdgeInsulation::None => return 0.0,
        EdgeInsulation::Horizontal { width_m, resistance_m2k_w, thickness_m } => {
            (width_m, resistance_m2k_w, thickness_m)
        }
        // standing insulation works on both ways round its foot
        EdgeInsulation::Vertical { depth_m: down_m, resistance_m2k_w, thickness_m } => {
            (2.0 * (down_m - depth_m).max(0.0), resistance_m2k_w, thickness_m)
        }
    };
    let more = (resistance - thickness / lambda).max(0.0) * lambda;
    -lambda / PI * ((reach / dt).ln_1p() - (reach / (dt + more)).ln_1p())
}

/// Transmittance of a wall against ground over its whole depth, W/m²K.
///
/// `wall_m2k_w`: resistance of its layers; `floor_m2k_w`: of the basement's floor.
pub fn basement_wall_u(ground: &Ground, wall_m2k_w: f64, floor_m2k_w: f64, depth_m: f64) -> f64 {
    let lambda = ground.soil_w_mk;
    let z = depth_m.max(0.01);
    let dw = lambda * (FILM_WALL + wall_m2k_w + FILM_OUT);
    // the formula wants d_w ≥ d_t; a thicker floor is taken as thick as the wall
    let dt = (ground.wall_m + lambda * (FILM_FLOOR + floor_m2k_w + FILM_OUT)).min(dw.max(0.01));
    2.0 * lambda / (PI * z) * (1.0 + 0.5 * dt / (dt + z)) * (z / dw.max(0.01)).ln_1p()
}

/// Transmittance of a floor over a ventilated crawl space toward outdoors, W/m²K.
///
/// `floor_u`: of the floor between room and crawl space, films on both sides.
pub fn crawl_space_u(ground: &Ground, b_m: f64, floor_u: f64) -> f64 {
    1.0 / (1.0 / floor_u + 1.0 / from_crawl_space_u(ground, b_m))
}

/// From the air of a crawl space to outdoors, through its ground, its walls and its vents, W/m²K of the floor above.
pub fn from_crawl_space_u(ground: &Ground, b_m: f64) -> f64 {
    let CrawlSpace { height_m, wall_u, vents_m2_m, wind_m_s, shielding, base_m2k_w } = ground.crawl;
    let lambda = ground.soil_w_mk;
    let dg = ground.wall_m + lambda * (FILM_FLOOR + base_m2k_w + FILM_OUT);
    let ug = 2.0 * lambda / (PI * b_m + dg) * (PI * b_m / dg).ln_1p();
    let ux = 2.0 * height_m * wall_u / b_m + 1450.0 * vents_m2_m * wind_m_s * shielding / b_m;
    ug + ux
}

#[cfg(test)]
mod tests {
    use super::*;

    fn ground() -> Ground {
        Ground { wall_m: 0.3, soil_w_mk: 2.0, ..Ground::default() }
    }

    /// A = 80 m², P = 36 m: B′ = 4.444. Floor R = 1.0: d_t = 0.3 + 2·1.21 = 2.72 < B′.
    /// U = 4/(π·4.4444 + 2.72)·ln(π·4.4444/2.72 + 1) = 4/16.682632·ln(6.133320) = 0.239770·1.813736 = 0.434880.
    #[test]
    fn a_slab_on_ground_by_hand() {
        let b = characteristic_dimension(80.0, 36.0);
        assert!((b - 4.444_444).abs() < 1e-6);
        assert!((slab_u(&ground(), b, 1.0, 0.0) - 0.434_880).abs() < 2e-6);
        // R = 5: d_t = 0.3 + 2·5.21 = 10.72 > B′: U = 2/(0.457·4.4444 + 10.72) = 0.156849
        assert!((slab_u(&ground(), b, 5.0, 0.0) - 0.156_849).abs() < 1e-6);
    }

    /// Vertical edge insulation 0.6 m deep, 50 mm with R = 1.43: d′ = (1.43 − 0.025)·2 = 2.81, d_t = 2.72:
    /// ψ = −2/π·(ln(1.2/2.72 + 1) − ln(1.2/5.53 + 1)) = −0.636620·(0.365460 − 0.196387) = −0.107635.
    #[test]
    fn edge_insulation_by_hand() {
        let mut g = ground();
        g.edge = EdgeInsulation::Vertical { depth_m: 0.6, resistance_m2k_w: 1.43, thickness_m: 0.05 };
        assert!((edge_psi(&g, 2.72, 0.0) + 0.107_635).abs() < 2e-6, "{}", edge_psi(&g, 2.72, 0.0));
        assert!(slab_u(&g, 4.444, 1.0, 0.0) < slab_u(&ground(), 4.444, 1.0, 0.0));
    }

    #[test]
    fn edge_insulation_fades_with_the_depth_of_the_floor() {
        let lying = EdgeInsulation::Horizontal { width_m: 1.0, resistance_m2k_w: 2.0, thickness_m: 0.08 };
        let standing = EdgeInsulation::Vertical { depth_m: 0.6, resistance_m2k_w: 1.43, thickness_m: 0.05 };
        for edge in [lying, standing] {
            let g = Ground { edge, ..ground() };
            let psi = |depth| edge_psi(&g, 2.72, depth);
            // a floor 50 mm below ground keeps nearly all of it
            assert!(psi(0.0) < psi(0.05) && psi(0.05) < 0.85 * psi(0.0) && psi(0.05) < psi(0.3), "{edge:?}");
        }
        let deep = edge_psi(&Ground { edge: standing, ..ground() }, 2.72, 0.6);
        assert_eq!(deep, 0.0, "the insulation ends where the floor is");
    }

    #[test]
    fn deeper_wider_and_thicker_all_lose_less_per_area() {
        let g = ground();
        assert!(slab_u(&g, 5.0, 1.0, 2.0) < slab_u(&g, 5.0, 1.0, 0.5));
        assert!(slab_u(&g, 10.0, 1.0, 0.0) < slab_u(&g, 5.0, 1.0, 0.0));
        assert!(slab_u(&g, 5.0, 2.0, 0.0) < slab_u(&g, 5.0, 1.0, 0.0));
        assert!(basement_wall_u(&g, 1.0, 1.0, 2.0) < basement_wall_u(&g, 1.0, 1.0, 1.0));
        assert!(basement_wall_u(&g, 2.0, 1.0, 2.0) < basement_wall_u(&g, 1.0, 1.0, 2.0));
    }

    #[test]
    fn the_two_branches_meet() {
        // the formula's two branches agree within a few per cent where d_t = B′, as the standard accepts
        let g = ground();
        let r = (5.0 - 0.3) / 2.0 - 0.21;
        let (below, above) = (slab_u(&g, 5.001, r, 0.0), slab_u(&g, 4.999, r, 0.0));
        assert!((below / above - 1.0).abs() < 0.02, "{below} {above}");
    }

    /// Crawl space by hand: B′ = 5, U_f = 0.5, h = 0.5, U_w = 1.7, ε = 0.0015, v = 4, f_w = 0.05.
    /// d_g = 0.3 + 2·0.21 = 0.72; U_g = 4/(5π + 0.72)·ln(5π/0.72 + 1) = 4/16.427963·ln(22.816616) = 0.761504;
    /// U_x = 2·0.5·1.7/5 + 1450·0.0015·4·0.05/5 = 0.34 + 0.087 = 0.427; U = 1/(2 + 1/1.188504) = 0.351940.
    #[test]
    fn a_crawl_space_by_hand() {
        assert!(
            (crawl_space_u(&ground(), 5.0, 0.5) - 0.351_940).abs() < 1e-6,
            "{}",
            crawl_space_u(&ground(), 5.0, 0.5)
        );
    }

    #[test]
    fn a_floor_without_edge_stays_finite() {
        let b = characteristic_dimension(50.0, 0.0);
        let u = slab_u(&ground(), b, 0.0, 0.0);
        assert!(u > 0.0 && u < 0.1);
    }
}

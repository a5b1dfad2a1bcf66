//! The tabulated characteristic curve of EN 1264-2 (systems of type A and C: tube in screed), kept as the cross-check of
//! the solved section.
//!
//! `q = K_H·ΔθH` with `K_H = B·aB·aT^mT·aU^mU·aD^mD`, ΔθH the logarithmic mean excess of the water over the
//! room. Valid for spacing 0.05…0.375 m (beyond, the standard's own extension `q·0.375/T`), screed over the
//! tube from 0.010 to 0.065 m, tube 8…30 mm, covering up to 0.15 m²K/W (the standard's last column; thicker
//! coverings are added as a series resistance).
//!
//! | symbol | here |
//! |---|---|
//! | T | spacing, m |
//! | s_u, λ_E | screed over the tube, m, W/mK |
//! | R_λ,B | covering, m²K/W |
//! | D, s_R, λ_R | tube's outside diameter, wall, conductivity |
//!
//! ```
//! use fuoco_core::floor::en1264::{TypeA, k};
//! let floor = TypeA {
//!     spacing_m: 0.15,
//!     covering_m2k_w: 0.0,
//!     cover_m: 0.045,
//!     screed_w_mk: 1.0,
//!     od_m: 0.02,
//!     wall_m: 0.002,
//! };
//! // tighter tube gives more per kelvin
//! assert!(k(&TypeA { spacing_m: 0.1, ..floor }) > k(&floor));
//! ```

use super::assembly::TUBE_W_MK;
use crate::section::film::REFERENCE;
use std::sync::LazyLock;

/// A floor of type A.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct TypeA {
    pub spacing_m: f64,
    pub covering_m2k_w: f64,
    /// Screed over the tube's crown, m.
    pub cover_m: f64,
    pub screed_w_mk: f64,
    pub od_m: f64,
    pub wall_m: f64,
}

/// Upward flux per kelvin of mean water excess over the room, W/m²K.
pub fn k(floor: &TypeA) -> f64 {
    let f = &*FACTORS;
    let t = floor.spacing_m.min(0.375);
    let r_table = floor.covering_m2k_w.min(0.15);

    let su = floor.cover_m;
    let a_b = (1.0 / REFERENCE + 0.045) / (1.0 / REFERENCE + 0.045 / floor.screed_w_mk + r_table);
    let m_t = 1.0 - t / 0.075;
    let m_u = 100.0 * (0.045 - su);
    let m_d = 250.0 * (floor.od_m - 0.020);
    let product = a_b * f.a_t(r_table).powf(m_t) * f.a_u(t, r_table).powf(m_u) * f.a_d(t, r_table).powf(m_d);
    // B0 = 6.7 holds for a tube of 0.35 W/mK with a 2 mm wall; another wall is put right (EN 1264-2, eq. 9).
    let wall = |d: f64, s: f64, lambda: f64| (d / (d - 2.0 * s)).ln() / (2.0 * lambda);
    let d = floor.od_m;
    let b = 1.0
        / (1.0 / 6.7
            + 1.1 / std::f64::consts::PI * product * t * (wall(d, floor.wall_m, TUBE_W_MK) - wall(d, 0.002, 0.35)));
    let k = b * product * (t / floor.spacing_m);
    1.0 / (1.0 / k + floor.covering_m2k_w - r_table)
}

/// The standard's tables: aT by covering; aU and aD by spacing and covering.
struct Factors {
    a_t: [f64; 4],
    a_u: Vec<(f64, [f64; 4])>,
    a_d: Vec<(f64, [f64; 4])>,
}

static FACTORS: LazyLock<Factors> = LazyLock::new(|| {
    let mut factors = Factors { a_t: [0.0; 4], a_u: vec![], a_d: vec![] };
    for line in include_str!("../../../data/en1264_type_a.csv").lines().filter(|l| l.starts_with('a')) {
        let cells: Vec<&str> = line.split(',').collect();
        let row = [2, 3, 4, 5].map(|i| cells[i].parse::<f64>().expect("the built-in table holds numbers"));
        let spacing = cells[1].parse::<f64>().unwrap_or(0.0);
        match cells[0] {
            "aT" => factors.a_t = row,
            "aU" => factors.a_u.push((spacing, row)),
            _ => factors.a_d.push((spacing, row)),
        }
    }
    factors
});

impl Factors {
    fn a_t(&self, r: f64) -> f64 {
        across(&self.a_t, r)
    }

    fn a_u(&self, t: f64, r: f64) -> f64 {
        table(&self.a_u, t, r)
    }

    fn a_d(&self, t: f64, r: f64) -> f64 {
        table(&self.a_d, t, r)
    }
}

/// Linear between the columns R = 0, 0.05, 0.10, 0.15.
fn across(row: &[f64; 4], r: f64) -> f64 {
    let x = (r / 0.05).clamp(0.0, 3.0);
    let i = (x.floor() as usize).min(2);
    row[i] + (row[i + 1] - row[i]) * (x - i as f64)
}

/// Linear between the rows too.
fn table(rows: &[(f64, [f64; 4])], t: f64, r: f64) -> f64 {
    let i = rows.partition_point(|row| row.0 < t).clamp(1, rows.len() - 1);
    let ((t0, low), (t1, high)) = (&rows[i - 1], &rows[i]);
    let x = ((t - t0) / (t1 - t0)).clamp(0.0, 1.0);
    across(low, r) * (1.0 - x) + across(high, r) * x
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(spacing_m: f64, covering_m2k_w: f64) -> f64 {
        k(&TypeA { spacing_m, covering_m2k_w, cover_m: 0.045, screed_w_mk: 1.0, od_m: 0.020, wall_m: 0.002 })
    }

    /// With 45 mm of screed of 1.0 W/mK, a 20 × 2 tube and no covering all exponents but mT vanish:
    /// K_H = 6.7 · 1.23^(1 − T/0.075). By hand: T = 0.075 → 6.7; T = 0.15 → 5.4472; T = 0.30 → 3.6004.
    #[test]
    fn the_reference_floor_by_hand() {
        for (t, want) in [(0.075, 6.7), (0.15, 5.4472), (0.30, 3.6004)] {
            assert!((at(t, 0.0) - want).abs() < 1e-4, "{t}: {}", at(t, 0.0));
        }
        // R = 0.10: aB = (1/10.8 + 0.045)/(1/10.8 + 0.045 + 0.10) = 0.579112; aT = 1.156; T = 0.15
        let want = 6.7 * 0.579_112 / 1.156;
        assert!((at(0.15, 0.10) - want).abs() < 1e-4, "{}", at(0.15, 0.10));
    }

    #[test]
    fn wider_spacing_and_thicker_covering_give_less() {
        for r in [0.0, 0.03, 0.07, 0.12, 0.15, 0.2] {
            let mut last = f64::INFINITY;
            for t in [0.05, 0.1, 0.15, 0.2, 0.25, 0.3, 0.375, 0.45, 0.6] {
                assert!(at(t, r) < last && at(t, r) > 0.0, "T {t} R {r}");
                assert!(at(t, r + 0.01) < at(t, r), "T {t} R {r}");
                last = at(t, r);
            }
        }
    }

    #[test]
    fn a_thicker_tube_wall_costs_output() {
        let with = |wall_m: f64| {
            k(&TypeA { spacing_m: 0.2, covering_m2k_w: 0.0, cover_m: 0.05, screed_w_mk: 1.4, od_m: 0.016, wall_m })
        };
        assert!(with(0.003) < with(0.002) && with(0.002) < with(0.001));
    }
}

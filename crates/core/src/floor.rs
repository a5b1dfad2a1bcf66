//! The floor by the tabulated characteristic curve of EN 1264-2 (systems of type A and C: tube in screed).
//!
//! `q = K_H·ΔθH` with `K_H = B·aB·aT^mT·aU^mU·aD^mD`, ΔθH the logarithmic mean excess of the water over the
//! room. Valid for spacing 0.05…0.375 m (beyond, the standard's own extension `q·0.375/T`), screed over the
//! tube from 0.010 to 0.065 m, tube 8…30 mm, covering up to 0.15 m²K/W (the standard's last column; thicker
//! coverings are added as a series resistance, which the finding on coverings above 0.15 goes with).
//!
//! This is the first method of the floor stage and will stay as its cross-check. The rest of the design sees
//! only [`Curve`].
//!
//! | symbol | here |
//! |---|---|
//! | T | spacing, m |
//! | s_u, λ_E | screed over the tube, m, W/mK |
//! | R_λ,B | covering, m²K/W |
//! | D, s_R, λ_R | tube's outside diameter, wall, conductivity |

use crate::library::{BuildUp, Covering, Tube};
use std::sync::LazyLock;

/// Conductivity of cross-linked polyethylene tube, W/mK (EN 1264-2, table A.13).
const TUBE_W_MK: f64 = 0.35;
/// Film on the warm floor for the reference of the standard, W/m²K.
const FILM_W_M2K: f64 = 10.8;
/// Film under a floor, heat flowing down, m²K/W (ISO 6946).
pub const FILM_DOWN_M2K_W: f64 = 0.17;

/// What one zone of a floor is made of.
#[derive(Debug, Clone, Copy)]
pub struct Section<'a> {
    /// The build-up.
    pub build_up: &'a BuildUp,
    /// The covering.
    pub covering: &'a Covering,
    /// The tube.
    pub tube: &'a Tube,
    /// Spacing, m, 0.05…0.6.
    pub spacing_m: f64,
    /// Insulation under the tube, m²K/W.
    pub insulation_m2k_w: f64,
    /// From the underside of the insulation to the temperature below, m²K/W: a film, or the ground.
    pub below_m2k_w: f64,
}

/// What a section does: the plain interface between the floor stage and all others.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Curve {
    /// Upward flux per kelvin of mean water excess over the room, W/m²K.
    pub k_up_w_m2k: f64,
    /// From the tube's level up into the room, m²K/W.
    pub resistance_up_m2k_w: f64,
    /// From the tube's level down to what lies below, m²K/W.
    pub resistance_down_m2k_w: f64,
    /// Surface crest above the surface mean, K per W/m² of upward flux.
    pub ripple_m2k_w: f64,
}

impl Curve {
    /// Upward flux at that mean excess of water over room, W/m².
    pub fn flux_up(&self, excess_k: f64) -> f64 {
        self.k_up_w_m2k * excess_k
    }

    /// Mean excess of water over room that gives that flux, K.
    pub fn excess_for(&self, flux_w_m2: f64) -> f64 {
        flux_w_m2 / self.k_up_w_m2k
    }

    /// Downward flux beside that upward flux, W/m² (EN 1264-4, eq. 1): the tube's level is as warm as the upward
    /// flux needs, and leaks through what is below. Never negative.
    pub fn flux_down(&self, flux_up_w_m2: f64, room_c: f64, below_c: f64) -> f64 {
        ((self.resistance_up_m2k_w * flux_up_w_m2 + room_c - below_c) / self.resistance_down_m2k_w).max(0.0)
    }

    /// Mean surface temperature, °C, from `q = 8.92·(θF,m − θi)^1.1` (EN 1264-2).
    pub fn surface_mean(&self, flux_up_w_m2: f64, room_c: f64) -> f64 {
        room_c + surface_excess(flux_up_w_m2)
    }

    /// Warmest line of the surface, above the tubes, °C.
    pub fn surface_max(&self, flux_up_w_m2: f64, room_c: f64) -> f64 {
        self.surface_mean(flux_up_w_m2, room_c) + self.ripple_m2k_w * flux_up_w_m2
    }
}

/// Mean excess of the floor's surface over the room for that flux, K (EN 1264-2 basic curve).
pub fn surface_excess(flux_w_m2: f64) -> f64 {
    (flux_w_m2.max(0.0) / 8.92).powf(1.0 / 1.1)
}

/// Flux of a floor whose mean surface is that much warmer than the room, W/m² (EN 1264-2 basic curve).
pub fn flux_of_surface_excess(excess_k: f64) -> f64 {
    8.92 * excess_k.max(0.0).powf(1.1)
}

/// Solves one section by the tabulated curve.
pub fn curve(section: &Section) -> Curve {
    let f = &*FACTORS;
    let Section { build_up, covering, tube, .. } = section;
    let t = section.spacing_m.min(0.375);
    let r_table = covering.resistance_m2k_w.min(0.15);

    let su = build_up.screed_over_tube_m;
    let a_b = (1.0 / FILM_W_M2K + 0.045) / (1.0 / FILM_W_M2K + 0.045 / build_up.screed_w_mk + r_table);
    let m_t = 1.0 - t / 0.075;
    let m_u = 100.0 * (0.045 - su);
    let m_d = 250.0 * (tube.od_m - 0.020);
    let product = a_b * f.a_t(r_table).powf(m_t) * f.a_u(t, r_table).powf(m_u) * f.a_d(t, r_table).powf(m_d);
    // B0 = 6.7 holds for a tube of 0.35 W/mK with a 2 mm wall; another wall is put right (EN 1264-2, eq. 9).
    let wall = |d: f64, s: f64, lambda: f64| (d / (d - 2.0 * s)).ln() / (2.0 * lambda);
    let d = tube.od_m;
    let b = 1.0
        / (1.0 / 6.7
            + 1.1 / std::f64::consts::PI * product * t * (wall(d, tube.wall_m, TUBE_W_MK) - wall(d, 0.002, 0.35)));
    let mut k = b * product * (t / section.spacing_m);
    let beyond_table = covering.resistance_m2k_w - r_table;
    k = 1.0 / (1.0 / k + beyond_table);

    let up = 1.0 / FILM_W_M2K + covering.resistance_m2k_w + (su + d / 2.0) / build_up.screed_w_mk;
    Curve {
        k_up_w_m2k: k,
        resistance_up_m2k_w: up,
        resistance_down_m2k_w: section.insulation_m2k_w + section.below_m2k_w,
        ripple_m2k_w: ripple(section, su + d / 2.0),
    }
}

/// Crest of the surface above its mean per unit of flux: Fourier series of line sources at the lower face of a
/// plate of thickness `depth`, the covering and film on its top as one conductance `h`. For harmonic `n` with
/// `k = 2πn/T` the amplitude is `2 / (λk·sinh(k·depth) + h·cosh(k·depth))` at the top of the plate, of which the
/// part that falls across the film shows at the surface.
fn ripple(section: &Section, depth: f64) -> f64 {
    let lambda = section.build_up.screed_w_mk;
    let film = 1.0 / FILM_W_M2K;
    let h = 1.0 / (film + section.covering.resistance_m2k_w);
    let sum: f64 = (1..=12)
        .map(|n| {
            let k = 2.0 * std::f64::consts::PI * f64::from(n) / section.spacing_m;
            let x = k * depth;
            if x > 60.0 { 0.0 } else { 2.0 / (lambda * k * x.sinh() + h * x.cosh()) }
        })
        .sum();
    sum * film * h
}

/// The standard's tables: aT by covering; aU and aD by spacing and covering.
struct Factors {
    a_t: [f64; 4],
    a_u: Vec<(f64, [f64; 4])>,
    a_d: Vec<(f64, [f64; 4])>,
}

static FACTORS: LazyLock<Factors> = LazyLock::new(|| {
    let mut factors = Factors { a_t: [0.0; 4], a_u: vec![], a_d: vec![] };
    for line in include_str!("../data/en1264_type_a.csv").lines().filter(|l| l.starts_with('a')) {
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
    use crate::library;

    fn reference() -> (BuildUp, Covering, Tube) {
        let mut build_up = library::build_up("slab").expect("slab").clone();
        build_up.screed_over_tube_m = 0.045;
        build_up.screed_w_mk = 1.0;
        let mut covering = library::covering("bare").expect("bare").clone();
        covering.resistance_m2k_w = 0.0;
        (build_up, covering, library::tube("pex-20x2").expect("20 × 2").clone())
    }

    fn k(spacing_m: f64, r: f64) -> f64 {
        let (build_up, mut covering, tube) = reference();
        covering.resistance_m2k_w = r;
        curve(&Section {
            build_up: &build_up,
            covering: &covering,
            tube: &tube,
            spacing_m,
            insulation_m2k_w: 1.0,
            below_m2k_w: FILM_DOWN_M2K_W,
        })
        .k_up_w_m2k
    }

    /// With 45 mm of screed of 1.0 W/mK, a 20 × 2 tube and no covering all exponents but mT vanish:
    /// K_H = 6.7 · 1.23^(1 − T/0.075). By hand: T = 0.075 → 6.7; T = 0.15 → 5.4472; T = 0.30 → 3.6004.
    #[test]
    fn the_reference_floor_by_hand() {
        for (t, want) in [(0.075, 6.7), (0.15, 5.4472), (0.30, 3.6004)] {
            assert!((k(t, 0.0) - want).abs() < 1e-4, "{t}: {}", k(t, 0.0));
        }
        // R = 0.10: aB = (1/10.8 + 0.045)/(1/10.8 + 0.045 + 0.10) = 0.579112; aT = 1.156; T = 0.15
        let want = 6.7 * 0.579_112 / 1.156;
        assert!((k(0.15, 0.10) - want).abs() < 1e-4, "{}", k(0.15, 0.10));
    }

    #[test]
    fn wider_spacing_and_thicker_covering_give_less() {
        for r in [0.0, 0.03, 0.07, 0.12, 0.15, 0.2] {
            let mut last = f64::INFINITY;
            for t in [0.05, 0.1, 0.15, 0.2, 0.25, 0.3, 0.375, 0.45, 0.6] {
                assert!(k(t, r) < last && k(t, r) > 0.0, "T {t} R {r}");
                assert!(k(t, r + 0.01) < k(t, r), "T {t} R {r}");
                last = k(t, r);
            }
        }
    }

    #[test]
    fn a_thicker_tube_wall_costs_output() {
        let (build_up, covering, tube) = reference();
        let with = |wall_m: f64| {
            let tube = Tube { wall_m, ..tube.clone() };
            curve(&Section {
                build_up: &build_up,
                covering: &covering,
                tube: &tube,
                spacing_m: 0.2,
                insulation_m2k_w: 1.0,
                below_m2k_w: FILM_DOWN_M2K_W,
            })
            .k_up_w_m2k
        };
        assert!(with(0.003) < with(0.002) && with(0.002) < with(0.001));
    }

    #[test]
    fn the_surface_curve_is_its_own_inverse_and_meets_the_standard() {
        // EN 1264-2: 29 °C at 20 °C room is 100 W/m², 33 °C at 24 °C is the same 9 K
        assert!((flux_of_surface_excess(9.0) - 100.0).abs() < 0.5);
        for q in [5.0, 40.0, 100.0, 175.0] {
            assert!((flux_of_surface_excess(surface_excess(q)) - q).abs() < 1e-9);
        }
    }

    #[test]
    fn ripple_grows_with_spacing_and_fades_with_depth() {
        let (build_up, covering, tube) = reference();
        let at = |spacing_m: f64, cover: f64| {
            let build_up = BuildUp { screed_over_tube_m: cover, ..build_up.clone() };
            curve(&Section {
                build_up: &build_up,
                covering: &covering,
                tube: &tube,
                spacing_m,
                insulation_m2k_w: 1.0,
                below_m2k_w: FILM_DOWN_M2K_W,
            })
            .ripple_m2k_w
        };
        assert!(at(0.3, 0.045) > at(0.2, 0.045) && at(0.2, 0.045) > at(0.1, 0.045));
        assert!(at(0.3, 0.02) > at(0.3, 0.045));
        // barefoot nobody feels 0.2 K: at 100 W/m² a tight spacing under 45 mm stays below that
        assert!(at(0.1, 0.045) * 100.0 < 0.2, "{}", at(0.1, 0.045));
    }

    #[test]
    fn downward_flux_closes_the_two_resistance_balance() {
        let (build_up, covering, tube) = reference();
        let c = curve(&Section {
            build_up: &build_up,
            covering: &covering,
            tube: &tube,
            spacing_m: 0.2,
            insulation_m2k_w: 2.0,
            below_m2k_w: FILM_DOWN_M2K_W,
        });
        let (up, room, below) = (60.0, 20.0, 8.0);
        let tube_level = room + up * c.resistance_up_m2k_w;
        assert!((c.flux_down(up, room, below) - (tube_level - below) / 2.17).abs() < 1e-9);
        assert_eq!(c.flux_down(0.0, 10.0, 30.0), 0.0);
    }
}

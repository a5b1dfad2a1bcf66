//! The physics of a tube under pressure: weather, water, the tube's bore, energy in air.

use crate::check;
use crate::error::FieldError;
use serde::{Deserialize, Serialize};

/// A tube under test.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TestTube {
    /// Outside diameter, m, 0.005…0.2.
    pub od_m: f64,
    /// Wall, m, 0.0005…0.05.
    pub wall_m: f64,
    /// Modulus of elasticity over hours, MPa, 50…300 000.
    pub modulus_mpa: f64,
    /// Poisson's ratio, 0…0.5.
    pub poisson: f64,
    /// Linear expansion, 1/K, 0…0.001.
    pub expansion_per_k: f64,
}

/// Cross-linked polyethylene at room temperature: E and α as makers of such tube give them, between 600 and 900 MPa and 1.4 and
/// 2.0 × 10⁻⁴ 1/K.
pub(super) const PEX: TestTube =
    TestTube { od_m: 0.016, wall_m: 0.002, modulus_mpa: 700.0, poisson: 0.46, expansion_per_k: 1.5e-4 };

/// Celsius to kelvin.
pub(super) const ZERO_K: f64 = 273.15;
/// Compliance of water at 20 °C, 1/Pa (IAPWS-95: isothermal compressibility 4.59 × 10⁻¹⁰).
pub(super) const WATER_PER_PA: f64 = 4.59e-10;

/// Barometer at a height, kPa: the standard atmosphere (ISO 2533) below 11 km.
///
/// ```
/// use fuoco_core::pressure_test::barometer_kpa;
/// assert!((barometer_kpa(0.0) - 101.325).abs() < 1e-9);
/// assert!((barometer_kpa(1500.0) - 84.556).abs() < 0.01);
/// ```
pub fn barometer_kpa(altitude_m: f64) -> f64 {
    101.325 * (1.0 - 2.255_77e-5 * altitude_m).powf(5.255_88)
}

/// Volumetric expansion of water, 1/K, 0…90 °C: derivative of Kell's density (J. Chem. Eng. Data 20, 1975), in differences of 0.01 K.
pub(super) fn water_expansion(c: f64) -> f64 {
    let density = |t: f64| {
        let top = 999.839_52
            + t * (16.945_176 - t * (7.987_040_1e-3 + t * (46.170_461e-6 - t * (105.563_02e-9 - t * 280.542_53e-12))));
        top / (1.0 + 16.879_85e-3 * t)
    };
    -(density(c + 0.01) - density(c - 0.01)) / 0.02 / density(c)
}

impl TestTube {
    /// Compliance of the bore, 1/Pa, and its volumetric expansion, 1/K.
    pub(super) fn bore(&self) -> (f64, f64) {
        let (outer, inner) = ((self.od_m / 2.0).powi(2), (self.od_m / 2.0 - self.wall_m).powi(2));
        let v = self.poisson;
        let compliance =
            2.0 * (1.0 + v) / (self.modulus_mpa * 1e6) * (outer + (1.0 - 2.0 * v) * inner) / (outer - inner);
        (compliance, 2.0 * (1.0 + v) * self.expansion_per_k)
    }

    pub(super) fn check(&self) -> Result<(), FieldError> {
        check::range("tube.od_m", self.od_m, 0.005, 0.2)?;
        check::range("tube.wall_m", self.wall_m, 0.0005, (self.od_m / 2.0 - 0.001).min(0.05))?;
        check::range("tube.modulus_mpa", self.modulus_mpa, 50.0, 300_000.0)?;
        check::range("tube.poisson", self.poisson, 0.0, 0.5)?;
        check::range("tube.expansion_per_k", self.expansion_per_k, 0.0, 1e-3)
    }
}

/// What a gas sets free when it expands to the barometer's pressure without heat from outside, J: isentropic work of an ideal gas
/// with κ = 1.4, volume in m³, pressures in kPa.
pub(super) fn stored_j(volume_m3: f64, gauge_kpa: f64, barometer_kpa: f64) -> f64 {
    let (p, p_b, k) = ((gauge_kpa + barometer_kpa) * 1e3, barometer_kpa * 1e3, 1.4);
    p * volume_m3 / (k - 1.0) * (1.0 - (p_b / p).powf((k - 1.0) / k))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn water_is_densest_at_four_degrees() {
        // CRC handbook: 1.51e-4 1/K at 15 °C, 2.07e-4 at 20 °C
        for (c, per_k) in [(15.0, 1.509e-4), (20.0, 2.067e-4)] {
            assert!((water_expansion(c) - per_k).abs() < 2e-6, "{c}");
        }
        assert!(water_expansion(3.98).abs() < 1e-6);
    }

    #[test]
    fn a_bore_gives_way_as_a_thick_cylinder_and_a_thin_one_by_the_boiler_formula() {
        // by hand: 2·1.46/700e6·(64 + 0.08·36)/(64 − 36)
        assert!((PEX.bore().0 - 9.964e-9).abs() < 1e-12);
        // thin wall, plane strain: 2 r (1 − ν²) / (E t)
        let thin =
            TestTube { od_m: 0.1, wall_m: 0.0005, modulus_mpa: 200_000.0, poisson: 0.3, expansion_per_k: 1.2e-5 };
        let boiler = 2.0 * 0.05 * (1.0 - 0.09) / (200e9 * 0.0005);
        assert!((thin.bore().0 / boiler - 1.0).abs() < 0.02, "{} {boiler}", thin.bore().0);
    }

    #[test]
    fn energy_in_air_is_that_of_an_isentropic_expansion() {
        // 1 m³ at 500 kPa absolute to 100 kPa: 500e3/0.4·(1 − 0.2^(0.4/1.4)) = 460.8 kJ
        assert!((stored_j(1.0, 400.0, 100.0) - 460_790.0).abs() < 50.0, "{}", stored_j(1.0, 400.0, 100.0));
    }
}

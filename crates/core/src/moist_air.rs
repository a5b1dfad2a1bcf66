//! Moist air: pressure by height, saturation, humidity ratio, dew point. Hyland and Wexler (1983), as in ASHRAE Fundamentals.
//!
//! ```
//! use fuoco_core::moist_air::{dew_point_c, humidity_ratio, pressure_pa, saturation_pa, vapour_pa};
//! // 26 °C at half of saturation: dew point 14.8 °C, 10.5 g/kg
//! let vapour = 0.5 * saturation_pa(26.0);
//! assert!((dew_point_c(vapour) - 14.8).abs() < 0.1);
//! let ratio = humidity_ratio(vapour, pressure_pa(0.0));
//! assert!((ratio - 0.0105).abs() < 1e-4);
//! assert!((vapour_pa(ratio, pressure_pa(0.0)) - vapour).abs() < 1e-6);
//! ```

const KELVIN: f64 = 273.15;
/// Molar masses of water over dry air.
const WATER_OVER_AIR: f64 = 0.621_945;
/// Dew points are sought between these, °C.
const SOUGHT_C: [f64; 2] = [-90.0, 99.0];

/// Pressure of the air at a height above the sea, Pa (ICAO standard atmosphere).
pub fn pressure_pa(altitude_m: f64) -> f64 {
    101_325.0 * (1.0 - 2.255_77e-5 * altitude_m).powf(5.2559)
}

/// Pressure of saturated vapour, Pa: over ice below 0 °C, over water above.
pub fn saturation_pa(c: f64) -> f64 {
    let t = c + KELVIN;
    let ln = if c < 0.0 {
        -5.674_535_9e3 / t + 6.392_524_7 - 9.677_843e-3 * t + 6.221_570_1e-7 * t.powi(2) + 2.074_782_5e-9 * t.powi(3)
            - 9.484_024e-13 * t.powi(4)
            + 4.163_501_9 * t.ln()
    } else {
        -5.800_220_6e3 / t + 1.391_499_3 - 4.864_023_9e-2 * t + 4.176_476_8e-5 * t.powi(2) - 1.445_209_3e-8 * t.powi(3)
            + 6.545_967_3 * t.ln()
    };
    ln.exp()
}

/// Water in air, kg/kg of dry air.
pub fn humidity_ratio(vapour_pa: f64, pressure_pa: f64) -> f64 {
    WATER_OVER_AIR * vapour_pa / (pressure_pa - vapour_pa)
}

/// The inverse of [`humidity_ratio`], Pa.
pub fn vapour_pa(ratio: f64, pressure_pa: f64) -> f64 {
    pressure_pa * ratio / (WATER_OVER_AIR + ratio)
}

/// Temperature at which vapour of that pressure condenses, °C, within −90…99.
pub fn dew_point_c(vapour_pa: f64) -> f64 {
    let [mut low, mut high] = SOUGHT_C;
    for _ in 0..60 {
        let middle = f64::midpoint(low, high);
        if saturation_pa(middle) < vapour_pa { low = middle } else { high = middle }
    }
    f64::midpoint(low, high)
}

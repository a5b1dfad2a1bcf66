//! Scales in the ways of both unit systems.

use fuoco_core::units::Units;

const METRIC: [f64; 14] = [10.0, 15.0, 20.0, 25.0, 30.0, 40.0, 50.0, 75.0, 100.0, 125.0, 150.0, 200.0, 250.0, 500.0];
/// US scales by what they make of a foot, inches.
const TO_THE_FOOT: [(f64, &str); 10] = [
    (12.0, "1"),
    (16.0, "3/4"),
    (24.0, "1/2"),
    (32.0, "3/8"),
    (48.0, "1/4"),
    (64.0, "3/16"),
    (96.0, "1/8"),
    (128.0, "3/32"),
    (192.0, "1/16"),
    (384.0, "1/32"),
];

/// The largest scale at which a piece of building of `size` m fits into `room` mm; what fits at none is drawn at an odd one.
pub fn largest(units: Units, size: [f64; 2], room: [f64; 2]) -> f64 {
    let scales: Vec<f64> = if units == Units::Us { TO_THE_FOOT.iter().map(|s| s.0).collect() } else { METRIC.to_vec() };
    let needed = f64::max(size[0] * 1000.0 / room[0], size[1] * 1000.0 / room[1]);
    scales.into_iter().find(|s| *s >= needed - 1e-9).unwrap_or_else(|| needed.ceil())
}

/// "1:50", "1:48 (1/4" = 1')".
pub fn named(units: Units, scale: f64) -> String {
    match TO_THE_FOOT.iter().find(|(s, _)| units == Units::Us && *s == scale) {
        Some((_, inch)) => format!("1:{scale:.0} ({inch}\" = 1')"),
        None => format!("1:{scale:.0}"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_largest_scale_that_fits_is_taken() {
        assert_eq!(largest(Units::Metric, [10.0, 5.0], [210.0, 150.0]), 50.0);
        assert_eq!(largest(Units::Metric, [10.5, 5.0], [210.0, 150.0]), 50.0);
        assert_eq!(largest(Units::Metric, [10.51, 5.0], [210.0, 150.0]), 75.0);
        assert_eq!(largest(Units::Us, [10.0, 5.0], [210.0, 150.0]), 48.0);
        assert_eq!(largest(Units::Metric, [400.0, 5.0], [210.0, 150.0]), 1905.0);
        assert_eq!(named(Units::Us, 48.0), "1:48 (1/4\" = 1')");
        assert_eq!(named(Units::Metric, 48.0), "1:48");
    }
}

//! The invented year of Alderfell, as an EPW file.
//!
//! No measured weather is in it. The temperature of an hour is the sum of
//!
//! - the year: mean 7.4 °C, amplitude 10.6 K, coldest in the middle of January;
//! - the day: amplitude 2.2 K in winter to 5.5 K in summer, warmest at 15 h;
//! - weather that comes and goes: a random walk drawn back to zero over about four days (standard deviation 4.2 K in winter,
//!   3.0 K in summer);
//! - one cold spell: ten days from 12 January, up to 9 K colder.
//!
//! The random walk uses a small generator with a fixed seed, so that the file comes out the same everywhere. The site's
//! height is 640 m; pressure is the standard atmosphere's. Fronts come and go by a second walk, drawn back over a day and a half: where
//! it is high the sky is covered, higher still it rains or snows, the more the higher. Wind has a walk of its own, and is stronger in
//! fronts. Dew point follows from a depression by season, a fifth of it while something falls. All other columns hold the format's
//! marks for "missing".

use std::f64::consts::PI;
use std::fmt::Write;

const MONTHS: [u32; 12] = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];

/// Uniform numbers from 0 to 1: the 64-bit linear congruential generator of Knuth's MMIX.
struct Random(u64);

impl Random {
    fn next(&mut self) -> f64 {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 11) as f64 / (1_u64 << 53) as f64
    }

    /// Nearly normal, by the sum of twelve.
    fn normal(&mut self) -> f64 {
        (0..12).map(|_| self.next()).sum::<f64>() - 6.0
    }
}

/// The file's text.
pub fn epw() -> String {
    let mut random = Random(640);
    let mut out = String::from(
        "LOCATION,Alderfell,-,-,invented by Fuoco's generator,000000,47.60,11.30,1.0,640.0\n\
         DESIGN CONDITIONS,0\n\
         TYPICAL/EXTREME PERIODS,0\n",
    );
    // ground: the year's wave damped and late by depth (diffusivity 0.6e-6 m²/s)
    out += "GROUND TEMPERATURES,3";
    for depth in [0.5_f64, 2.0, 4.0] {
        let damping = (PI / (0.6e-6 * 365.0 * 86_400.0)).sqrt() * depth;
        let _ = write!(out, ",{depth},,,");
        for month in 0..12 {
            let day = 15.0 + 30.42 * f64::from(month);
            let t = 8.2 - 10.6 * (-damping).exp() * (2.0 * PI * (day - 17.0) / 365.0 - damping).cos();
            let _ = write!(out, ",{t:.1}");
        }
    }
    out += "\nHOLIDAYS/DAYLIGHT SAVINGS,No,0,0,0\n\
            COMMENTS 1,An invented year for demonstration; no measured weather\n\
            COMMENTS 2,Made by `cargo xtask weather`\n\
            DATA PERIODS,1,1,Data,Monday,1/1,12/31\n";
    let pressure = 101_325.0 * (1.0 - 2.255_77e-5 * 640.0_f64).powf(5.255_88);
    let mut wander = 0.0;
    // fronts and wind draw from numbers of their own: temperatures stay what they are
    let mut other = Random(641);
    let (mut front, mut gusts) = (0.0, 0.0);
    let mut drawn_back = |v: &mut f64, hours: f64| {
        let keep = (-1.0_f64 / hours).exp();
        *v = *v * keep + (1.0 - keep * keep).sqrt() * other.normal();
    };
    let mut day_of_year = 0.0;
    for (month, days) in MONTHS.iter().enumerate() {
        for day in 1..=*days {
            for hour in 1..=24 {
                let season = (2.0 * PI * (day_of_year - 17.0) / 365.0).cos();
                let spread = 3.6 + 0.6 * season;
                // drawn back over 96 hours, kept at the season's spread
                let keep = (-1.0_f64 / 96.0).exp();
                wander = wander * keep + spread * (1.0 - keep * keep).sqrt() * random.normal();
                let spell = if month == 0 && (12..22).contains(&day) {
                    -9.0 * (PI * (f64::from(day - 12) + f64::from(hour) / 24.0) / 10.0).sin()
                } else {
                    0.0
                };
                let swing = 3.85 - 1.65 * season;
                let t = 7.4 - 10.6 * season + swing * (2.0 * PI * f64::from(hour - 15) / 24.0).cos() + wander + spell;
                drawn_back(&mut front, 36.0);
                drawn_back(&mut gusts, 10.0);
                let falls = (1.1 * (front - 0.95)).max(0.0);
                let cloud = (5.0 + 5.0 * front).clamp(0.0, 10.0);
                let wind = (2.4 + 0.9 * front + 1.1 * gusts).max(0.2);
                let depression = (2.5 - 1.0 * season) + swing * 0.4;
                let dew = t - if falls > 0.0 { 0.2 * depression } else { depression };
                let humidity = 100.0 * (17.62 * dew / (243.12 + dew) - 17.62 * t / (243.12 + t)).exp();
                let _ = writeln!(
                    out,
                    "2001,{},{day},{hour},60,?9?9?9,{t:.1},{dew:.1},{humidity:.0},{pressure:.0},9999,9999,9999,9999,9999,9999,999999,999999,999999,9999,999,{wind:.1},{cloud:.0},{cloud:.0},9999.0,99999,9,999999999,999,0.999,999,99,999.0,{falls:.1},1.0",
                    month + 1
                );
            }
            day_of_year += 1.0;
        }
    }
    out
}

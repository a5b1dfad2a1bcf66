//! Sun on a surface by the hours of a weather file: its place in the sky, and where the file has no radiation a stated model.
//!
//! ```
//! use fuoco_core::cooling::sun::{Place, Sky};
//! // noon of a clear midsummer day at 47.6° north: 66° high in the south
//! let place = Place { latitude_deg: 47.6, longitude_deg: 15.0 };
//! let sky = Sky::at(place, 172 * 24 + 11, None, None, Some(0.0));
//! assert!((sky.elevation_deg() - 65.8).abs() < 1.0);
//! // a flat roof has most of it, a south window more than a north one
//! let on = |bearing: Option<f64>| sky.on(bearing);
//! assert!(on(None) > 700.0 && on(Some(180.0)) > 2.0 * on(Some(0.0)));
//! ```

/// Where a house stands.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Place {
    /// Degrees north.
    pub latitude_deg: f64,
    /// Degrees east; the clock is that of its hour, 15° wide.
    pub longitude_deg: f64,
}

/// The sky in an hour.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sky {
    /// Unit vector toward the sun: east, north, up.
    sun: [f64; 3],
    /// Straight from the sun, across its rays, W/m².
    direct: f64,
    /// From the sky, on the level, W/m².
    diffuse: f64,
}

/// Ground throws so much back.
const ALBEDO: f64 = 0.2;
/// Radiation straight from the sun that no sky lets through, W/m².
const MOST_DIRECT: f64 = 1100.0;

impl Sky {
    /// The sky in an hour of the year, from 0, with the file's radiation (straight and from the sky, W/m²) or, where it has none, by the
    /// share of the sky under clouds: Kasten and Czeplak (1980), `G = (910·sin h − 30)·(1 − 0.75·N^3.4)`, of which `0.3 + 0.7·N²` comes
    /// from the sky.
    pub fn at(place: Place, hour: usize, direct: Option<f64>, diffuse: Option<f64>, cloud: Option<f64>) -> Sky {
        Sky::at_moment(place, hour as f64 + 0.5, direct, diffuse, cloud)
    }

    /// As [`Sky::at`], at a moment of the year, h.
    pub fn at_moment(
        place: Place,
        moment_h: f64,
        direct: Option<f64>,
        diffuse: Option<f64>,
        cloud: Option<f64>,
    ) -> Sky {
        let day = (moment_h / 24.0).floor().rem_euclid(366.0);
        let clock = moment_h.rem_euclid(24.0);
        let angle = std::f64::consts::TAU * (day - 80.0) / 365.0;
        // Spencer's declination to half a degree, and the equation of time to a minute
        let declination = 23.45_f64.to_radians() * angle.sin();
        let b = std::f64::consts::TAU * (day - 81.0) / 364.0;
        let equation_h = (9.87 * (2.0 * b).sin() - 7.53 * b.cos() - 1.5 * b.sin()) / 60.0;
        let zone_deg = (place.longitude_deg / 15.0).round() * 15.0;
        let solar = clock + equation_h + (place.longitude_deg - zone_deg) / 15.0;
        let turn = ((solar - 12.0) * 15.0).to_radians();
        let latitude = place.latitude_deg.to_radians();
        let up = latitude.sin() * declination.sin() + latitude.cos() * declination.cos() * turn.cos();
        let north = latitude.cos() * declination.sin() - latitude.sin() * declination.cos() * turn.cos();
        let east = -declination.cos() * turn.sin();
        let sun = [east, north, up];
        let (direct, diffuse) = match (direct, diffuse) {
            (Some(direct), Some(diffuse)) => (direct, diffuse),
            _ if up <= 0.0 => (0.0, 0.0),
            _ => {
                let clouds = cloud.unwrap_or(0.5).clamp(0.0, 1.0);
                let level = ((910.0 * up - 30.0) * (1.0 - 0.75 * clouds.powf(3.4))).max(0.0);
                let from_sky = level * (0.3 + 0.7 * clouds * clouds);
                ((level - from_sky) / up.max(0.05), from_sky)
            }
        };
        Sky { sun, direct: if up > 0.0 { direct.clamp(0.0, MOST_DIRECT) } else { 0.0 }, diffuse: diffuse.max(0.0) }
    }

    /// The sun over the horizon, degrees.
    pub fn elevation_deg(&self) -> f64 {
        self.sun[2].clamp(-1.0, 1.0).asin().to_degrees()
    }

    /// Where the sun stands, degrees from north, clockwise.
    pub fn azimuth_deg(&self) -> f64 {
        self.sun[0].atan2(self.sun[1]).to_degrees().rem_euclid(360.0)
    }

    /// Straight from the sun, on the level, W/m².
    pub fn direct_on_level(&self) -> f64 {
        self.direct * self.sun[2].max(0.0)
    }

    /// Straight from the sun, on an upright surface that looks that way, W/m².
    pub fn direct_on(&self, bearing_deg: f64) -> f64 {
        let (s, c) = bearing_deg.to_radians().sin_cos();
        self.direct * (s * self.sun[0] + c * self.sun[1]).max(0.0)
    }

    /// Whether the sun is before an upright surface that looks that way.
    pub fn faces(&self, bearing_deg: f64) -> bool {
        self.direct_on(bearing_deg) > 0.0
    }

    /// On a surface, W/m²: upright and looking that way (degrees from north, clockwise), or none: flat on the roof.
    pub fn on(&self, bearing_deg: Option<f64>) -> f64 {
        let level = self.direct * self.sun[2].max(0.0) + self.diffuse;
        match bearing_deg {
            None => level,
            Some(bearing) => self.direct_on(bearing) + 0.5 * self.diffuse + 0.5 * ALBEDO * level,
        }
    }
}

//! Weather of a run: temperature and sky by hour.

use super::{LAST_DAY, TimeSpan, TimeTrial};
use crate::cooling::sun::{Place, Sky};
use crate::error::FieldError;
use crate::job::Job;
use crate::survey::hours::WeatherHour;

/// A warm-up is followed so long, h, and a power cut's return.
const WARM_UP_H: usize = 96;
const WEEK_H: usize = 168;
/// A sunny day between two others.
const SUNNY_H: usize = 72;
const YEAR_H: usize = 8760;
/// A day on which the sun matters to the heating asks for so much of the design's heat.
const HEATED_SHARE: f64 = 1.0 / 3.0;
/// A job without a weather file has its sunny day on the 1st of March, at 45° north, without a cloud, between two under clouds.
const MARCH: usize = 59;
const LATITUDE_DEG: f64 = 45.0;

/// Where the house stands.
pub(super) fn place_of(job: &Job) -> Place {
    job.site.weather.as_ref().map_or(Place { latitude_deg: LATITUDE_DEG, longitude_deg: 0.0 }, |w| Place {
        latitude_deg: w.latitude_deg,
        longitude_deg: w.longitude_deg,
    })
}

/// By hour.
pub(super) struct Weather {
    pub air_c: Vec<f64>,
    /// None on design days: they are dark.
    pub skies: Vec<Sky>,
    /// The first hour, of the year.
    pub from_hour: usize,
    /// The first day, where a part of a year is followed.
    pub from_day: Option<u32>,
}

impl Weather {
    /// What the trial follows: hours of `year`, or design days. `sun_w`: sun in the room that is told, by the hour of the year and its
    /// sky, W; `wanted_c`: its design temperature.
    ///
    /// # Errors
    /// Names the weather file where a year is asked for and there is none, or too short a one.
    pub fn of(
        job: &Job,
        trial: &TimeTrial,
        year: Option<&[WeatherHour]>,
        wanted_c: f64,
        sun_w: &dyn Fn(usize, &Sky) -> f64,
    ) -> Result<Weather, FieldError> {
        let design_days = |hours: usize| Weather {
            air_c: vec![job.site.outdoor_c; hours],
            skies: vec![],
            from_hour: 0,
            from_day: None,
        };
        let place = place_of(job);
        let hours = match (trial.span, year) {
            (TimeSpan::WarmUp, _) => return Ok(design_days(WARM_UP_H)),
            (TimeSpan::Week, None) => return Ok(design_days(WEEK_H)),
            (TimeSpan::Sun, None) => {
                let from = (MARCH - 1) * 24;
                let clouds = |k: usize| if (24..48).contains(&k) { 0.0 } else { 1.0 };
                let skies = (0..SUNNY_H).map(|k| Sky::at(place, from + k, None, None, Some(clouds(k)))).collect();
                return Ok(Weather { skies, from_hour: from, ..design_days(SUNNY_H) });
            }
            (TimeSpan::Year, None) => {
                return Err(FieldError::new("site.weather", "must be there: open a weather file at Site"));
            }
            (_, Some(year)) => year,
        };
        if hours.len() < YEAR_H {
            return Err(FieldError::new("site.weather", "must have a year of hours"));
        }
        let sky = |k: usize| Sky::at(place, k, hours[k].direct_w_m2, hours[k].diffuse_w_m2, hours[k].cloud);
        let mean_c = |from: usize, count: usize| {
            let part = &hours[from..from + count];
            part.iter().map(|h| h.air_c).sum::<f64>() / count as f64
        };
        let days = 0..=LAST_DAY as usize;
        let (from_day, count) = match trial.span {
            TimeSpan::Year => (0, hours.len()),
            TimeSpan::Sun => {
                // the middle one of three days is the sunny one
                let sun = |d: usize| (0..24).map(|h| sun_w((d + 1) * 24 + h, &sky((d + 1) * 24 + h))).sum::<f64>();
                let heated_below_c = wanted_c - HEATED_SHARE * (wanted_c - job.site.outdoor_c);
                let heated = |d: &usize| mean_c(d * 24, SUNNY_H) < heated_below_c;
                let sunniest = || days.clone().filter(heated).max_by(|a, b| sun(*a).total_cmp(&sun(*b))).unwrap_or(0);
                (trial.from_day.map_or_else(sunniest, |d| d as usize), SUNNY_H)
            }
            _ => {
                let coldest =
                    || days.min_by(|a, b| mean_c(a * 24, WEEK_H).total_cmp(&mean_c(b * 24, WEEK_H))).unwrap_or(0);
                (trial.from_day.map_or_else(coldest, |d| d as usize), WEEK_H)
            }
        };
        let from = from_day * 24;
        Ok(Weather {
            air_c: hours[from..from + count].iter().map(|h| h.air_c).collect(),
            skies: (from..from + count).map(sky).collect(),
            from_hour: from,
            from_day: (trial.span != TimeSpan::Year).then_some(from_day as u32),
        })
    }
}

#[cfg(test)]
mod tests {
    use super::super::validation::even_year;
    use super::*;
    use crate::samples::{box_room, job_of};

    fn job() -> Job {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
        job.site.outdoor_c = -12.0;
        job
    }

    fn of(span: TimeSpan, from_day: Option<u32>, year: Option<&[WeatherHour]>) -> Result<Weather, FieldError> {
        let trial = TimeTrial { span, from_day, ..TimeTrial::default() };
        Weather::of(&job(), &trial, year, 20.0, &|_, sky| sky.on(Some(180.0)))
    }

    #[test]
    fn design_days_are_dark_and_a_sunny_one_lies_between_two_under_clouds() {
        let warm_up = of(TimeSpan::WarmUp, None, None).expect("design days");
        assert_eq!((warm_up.air_c.len(), warm_up.skies.len(), warm_up.from_day), (96, 0, None));
        let sun = of(TimeSpan::Sun, None, None).expect("design days");
        assert!(sun.air_c.iter().all(|c| *c == -12.0) && sun.from_day.is_none());
        let on_south = |day: usize| sun.skies[day * 24..][..24].iter().map(|s| s.on(Some(180.0))).sum::<f64>();
        assert!(on_south(1) > 4.0 * on_south(0) && on_south(1) > 4.0 * on_south(2));
        // the 1st of March
        assert_eq!(sun.from_hour, 58 * 24);
    }

    #[test]
    fn the_sunniest_of_the_heated_days_is_clear_and_asks_for_heat() {
        let year = even_year();
        let sun = of(TimeSpan::Sun, None, Some(&year)).expect("days");
        let first = sun.from_day.expect("a part of a year") as usize;
        // every fifth day is clear: the one in the middle is
        assert!((first + 1).is_multiple_of(5), "{first}");
        // a third of the design's heat: below 20 − 32/3 °C
        assert!(sun.air_c.iter().sum::<f64>() / 72.0 < 20.0 - 32.0 / 3.0);
        // spring has more sun than the middle of winter, and summer is not heated
        assert!((40..130).contains(&first) || (250..300).contains(&first), "{first}");
        assert_eq!(of(TimeSpan::Sun, Some(10), Some(&year)).expect("days").from_hour, 240);
    }

    #[test]
    fn the_coldest_week_is_found_and_short_files_are_named() {
        let year = even_year();
        let week = of(TimeSpan::Week, None, Some(&year)).expect("a week");
        // around the 15th of January
        assert!((10..=13).contains(&week.from_day.expect("a part")), "{:?}", week.from_day);
        assert_eq!((week.air_c.len(), week.skies.len()), (168, 168));
        assert_eq!(of(TimeSpan::Year, None, Some(&year)).expect("a year").from_day, None);
        for span in [TimeSpan::Week, TimeSpan::Sun, TimeSpan::Year] {
            assert_eq!(of(span, None, Some(&year[..100])).err().expect("short").field, "site.weather");
        }
        assert_eq!(of(TimeSpan::Year, None, None).err().expect("none").field, "site.weather");
    }
}

//! The year of a weather file in the open EPW format: design temperatures by ranking the hours, degree-days, days,
//! ground temperatures.
//!
//! An EPW file has eight lines of header (LOCATION first, GROUND TEMPERATURES and DATA PERIODS among them) and a row
//! for every hour of the year; the seventh column is the air's temperature, 99.9 where it is missing.
//!
//! ```
//! use fuoco_core::survey::climate::read_epw;
//! assert_eq!(read_epw("no weather at all").unwrap_err().field, "line 1");
//! ```

use crate::error::FieldError;
use serde::{Deserialize, Serialize};

/// A larger file is no year of hours, bytes.
pub const LARGEST_FILE: usize = 8 << 20;
/// Gaps in the record up to this many hours are bridged by a straight line.
const LONGEST_GAP_H: usize = 6;
pub(super) const HEADER_LINES: usize = 8;

/// What the design needs of a weather file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Weather {
    /// The stored weather file, where it is kept.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub file_id: Option<String>,
    /// Name of the place by the file.
    pub name: String,
    /// Who made the file, by the file.
    #[serde(default)]
    pub source: String,
    /// Degrees north, -90…90.
    pub latitude_deg: f64,
    /// Degrees east, -180…180.
    pub longitude_deg: f64,
    /// Height above sea level, m, -430…6000.
    pub altitude_m: f64,
    /// Colder for 0.4 % of the year's hours, °C.
    pub p99_6_c: f64,
    /// Colder for 1 % of the year's hours, °C.
    pub p99_c: f64,
    /// Mean of the year, °C.
    pub annual_mean_c: f64,
    /// Hours that the record lacked and that were bridged.
    #[serde(default)]
    pub bridged_hours: u32,
    /// Lowest, mean and highest temperature of each of the 365 or 366 days, °C.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 3]>))]
    pub days: Vec<[f64; 3]>,
    /// Ground temperatures by depth, where the file has them.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub ground: Vec<GroundYear>,
}

/// Ground temperatures at one depth.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct GroundYear {
    /// Depth, m, 0…100.
    pub depth_m: f64,
    /// Means of the twelve months, °C.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<f64>))]
    pub monthly_c: [f64; 12],
}

impl Weather {
    /// Heating degree-days below `base_c`, K·d: the days' means that fall short of it.
    pub fn degree_days(&self, base_c: f64) -> f64 {
        self.days.iter().map(|d| (base_c - d[1]).max(0.0)).sum()
    }

    /// Coldest month of the ground at the depth nearest to half a metre: depth, m, and temperature, °C.
    pub fn coldest_ground(&self) -> Option<(f64, f64)> {
        let nearest = self.ground.iter().min_by(|a, b| (a.depth_m - 0.5).abs().total_cmp(&(b.depth_m - 0.5).abs()))?;
        nearest.monthly_c.iter().copied().min_by(f64::total_cmp).map(|c| (nearest.depth_m, c))
    }

    pub(crate) fn check(&self, path: &str) -> Result<(), FieldError> {
        let wrong = |field: &str, reason: &str| Err(FieldError::new(format!("{path}.{field}"), reason));
        if !matches!(self.days.len(), 365 | 366) {
            return wrong("days", "must have 365 or 366 entries");
        }
        let sane = |v: f64| v.is_finite() && (-90.0..=70.0).contains(&v);
        if let Some(i) = self.days.iter().position(|d| !d.iter().all(|&v| sane(v))) {
            return wrong(&format!("days[{i}]"), "must be three temperatures between -90 and 70");
        }
        for (name, v) in [("p99_6_c", self.p99_6_c), ("p99_c", self.p99_c), ("annual_mean_c", self.annual_mean_c)] {
            if !sane(v) {
                return wrong(name, "must be between -90 and 70");
            }
        }
        for (name, v, low, high) in [
            ("latitude_deg", self.latitude_deg, -90.0, 90.0),
            ("longitude_deg", self.longitude_deg, -180.0, 180.0),
            ("altitude_m", self.altitude_m, -430.0, 6000.0),
        ] {
            if !(low..=high).contains(&v) {
                return wrong(name, &format!("must be between {low} and {high}"));
            }
        }
        if self.ground.len() > 20 {
            return wrong("ground", "must have at most 20 entries");
        }
        for (i, g) in self.ground.iter().enumerate() {
            if !(0.0..=100.0).contains(&g.depth_m) || !g.monthly_c.iter().all(|&v| sane(v)) {
                return wrong(&format!("ground[{i}]"), "must be a depth of 0 to 100 m and twelve temperatures");
            }
        }
        if self.name.chars().count() > 2000 || self.source.chars().count() > 2000 {
            return wrong("name", "must not be longer than 2000 characters");
        }
        match &self.file_id {
            Some(id) if id.len() != 64 || !id.bytes().all(|b| b.is_ascii_hexdigit()) => {
                wrong("file_id", "must be the id of a stored file: 64 hexadecimal digits")
            }
            _ => Ok(()),
        }
    }
}

/// The temperature below which `share` of the hours lie, by ranking: with 8760 hours and 0.004 the 36th coldest.
///
/// Zero for no hours at all.
pub fn ranked(hours_c: &[f64], share: f64) -> f64 {
    let mut sorted = hours_c.to_vec();
    sorted.sort_by(f64::total_cmp);
    let index = (share * sorted.len() as f64).floor() as usize;
    sorted.get(index.min(sorted.len().saturating_sub(1))).copied().unwrap_or(0.0)
}

/// Reads an EPW file.
///
/// # Errors
/// Names the line: a file that is none, is cut off, has more than one row an hour, or lacks temperatures for longer
/// than six hours.
pub fn read_epw(text: &str) -> Result<Weather, FieldError> {
    let wrong = |line: usize, reason: String| FieldError::new(format!("line {line}"), reason);
    if text.len() > LARGEST_FILE {
        return Err(FieldError::new("file", format!("must not be larger than {} MB", LARGEST_FILE >> 20)));
    }
    let mut lines = text.lines().enumerate().map(|(i, l)| (i + 1, l));
    let (_, first) = lines.next().ok_or_else(|| FieldError::new("file", "is empty"))?;
    let place: Vec<&str> = first.trim_start_matches('\u{feff}').split(',').map(str::trim).collect();
    if !place.first().is_some_and(|f| f.eq_ignore_ascii_case("LOCATION")) || place.len() < 10 {
        return Err(wrong(1, "must be the line LOCATION of an EPW file with its ten fields".into()));
    }
    let number = |i: usize, what: &str, low: f64, high: f64| {
        let value = place[i].parse::<f64>().ok().filter(|v| (low..=high).contains(v));
        value.ok_or_else(|| wrong(1, format!("the {what} \"{}\" must be a number from {low} to {high}", place[i])))
    };
    let latitude_deg = number(6, "latitude", -90.0, 90.0)?;
    let longitude_deg = number(7, "longitude", -180.0, 180.0)?;
    let altitude_m = number(9, "elevation", -430.0, 6000.0)?;
    let name = [place[1], place[2], place[3]].into_iter().filter(|s| !s.is_empty() && *s != "-").collect::<Vec<_>>();

    let mut ground = Vec::new();
    for (line, text) in lines.by_ref().take(HEADER_LINES - 1) {
        let fields: Vec<&str> = text.split(',').map(str::trim).collect();
        match fields[0].to_ascii_uppercase().as_str() {
            "GROUND TEMPERATURES" => ground = ground_years(&fields, line)?,
            "DATA PERIODS" if fields.get(2).is_some_and(|f| *f != "1") => {
                return Err(wrong(line, format!("must have one row an hour, not {}", fields[2])));
            }
            _ => {}
        }
    }

    let mut hours: Vec<Option<f64>> = Vec::with_capacity(8784);
    for (line, text) in lines {
        if text.trim().is_empty() {
            continue;
        }
        let mut fields = text.split(',');
        let Some(field) = fields.nth(6) else {
            return Err(wrong(line, format!("is cut off: hour {} of the year has no temperature", hours.len() + 1)));
        };
        let value: f64 = field
            .trim()
            .parse()
            .map_err(|_| wrong(line, format!("the temperature \"{}\" is no number", field.trim())))?;
        // 99.9 stands for a missing value
        let missing = value >= 99.0;
        if !missing && !(-90.0..=70.0).contains(&value) {
            return Err(wrong(line, format!("the temperature {value} °C is beyond anything on earth")));
        }
        if hours.len() == 8784 {
            return Err(wrong(line, "there are more than 8784 hours".into()));
        }
        hours.push((!missing).then_some(value));
    }
    if hours.len() != 8760 && hours.len() != 8784 {
        return Err(wrong(
            HEADER_LINES + hours.len(),
            format!("the file ends after {} of 8760 hours: it is cut off", hours.len()),
        ));
    }
    let (hours, bridged) = bridge(&hours).map_err(|at| {
        wrong(HEADER_LINES + at + 1, format!("temperatures are missing for more than {LONGEST_GAP_H} hours"))
    })?;

    let tenth = |v: f64| (v * 10.0).round() / 10.0;
    let days: Vec<[f64; 3]> = hours
        .chunks(24)
        .map(|d| {
            let low = d.iter().copied().fold(f64::MAX, f64::min);
            let high = d.iter().copied().fold(f64::MIN, f64::max);
            [tenth(low), (d.iter().sum::<f64>() / d.len() as f64 * 100.0).round() / 100.0, tenth(high)]
        })
        .collect();
    Ok(Weather {
        file_id: None,
        name: name.join(", "),
        source: place[4].to_owned(),
        latitude_deg,
        longitude_deg,
        altitude_m,
        p99_6_c: ranked(&hours, 0.004),
        p99_c: ranked(&hours, 0.01),
        annual_mean_c: (hours.iter().sum::<f64>() / hours.len() as f64 * 100.0).round() / 100.0,
        bridged_hours: bridged,
        days,
        ground,
    })
}

/// `GROUND TEMPERATURES, n, (depth, conductivity, density, heat, twelve months) × n`.
fn ground_years(fields: &[&str], line: usize) -> Result<Vec<GroundYear>, FieldError> {
    let count: usize = fields.get(1).and_then(|f| f.parse().ok()).unwrap_or(0).min(20);
    let mut out = Vec::new();
    for k in 0..count {
        let from = 2 + 16 * k;
        let read = |i: usize| fields.get(i).and_then(|f| f.parse::<f64>().ok());
        let months: Option<Vec<f64>> = (from + 4..from + 16).map(read).collect();
        let (Some(depth_m), Some(months)) = (read(from), months) else {
            return Err(FieldError::new(format!("line {line}"), format!("ground temperatures {} do not read", k + 1)));
        };
        let Ok(monthly_c) = months.try_into() else { continue };
        out.push(GroundYear { depth_m, monthly_c });
    }
    Ok(out)
}

/// Bridges short gaps by straight lines; the year is a ring. Err: where a gap is too long.
pub(super) fn bridge(hours: &[Option<f64>]) -> Result<(Vec<f64>, u32), usize> {
    let n = hours.len();
    let Some(first) = hours.iter().position(Option::is_some) else { return Err(0) };
    let mut out = vec![0.0; n];
    let mut bridged = 0;
    let mut last = (first, hours[first].unwrap_or_default());
    for step in 0..=n {
        let i = (first + step) % n;
        let Some(value) = hours[i] else { continue };
        let gap = step - (last.0 - first);
        if gap > LONGEST_GAP_H + 1 {
            return Err(last.0 % n + 1);
        }
        for k in 1..gap {
            out[(last.0 + k) % n] = last.1 + (value - last.1) * k as f64 / gap as f64;
            bridged += 1;
        }
        out[i] = value;
        last = (first + step, value);
    }
    Ok((out, bridged))
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A year of hours with the given temperatures.
    pub(crate) fn epw(hours: impl Iterator<Item = f64>) -> String {
        let mut text = String::from(
            "LOCATION,Alderfell,-,-,invented,000000,47.50,11.20,1.0,640.0\nDESIGN CONDITIONS,0\n\
             TYPICAL/EXTREME PERIODS,0\nGROUND TEMPERATURES,1,0.5,,,,1,2,3,4,5,6,7,8,9,10,11,12\n\
             HOLIDAYS/DAYLIGHT SAVINGS,No,0,0,0\nCOMMENTS 1,\nCOMMENTS 2,\nDATA PERIODS,1,1,Data,Sunday,1/1,12/31\n",
        );
        for (i, t) in hours.enumerate() {
            text += &format!("2001,1,1,{},60,?,{t:.1},0.0,80\n", i % 24 + 1);
        }
        text
    }

    /// Hours from -20.00 upward in steps of 0.005 K, shuffled by a stride: the rank is known.
    fn ramp() -> impl Iterator<Item = f64> {
        (0..8760).map(|i| -20.0 + f64::from((i * 7919) % 8760) * 0.005)
    }

    #[test]
    fn ranks_hours_by_hand() {
        let hours: Vec<f64> = ramp().collect();
        // 0.004 · 8760 = 35.04: 35 hours are colder than −20 + 35·0.005
        assert!((ranked(&hours, 0.004) + 19.825).abs() < 1e-9);
        assert!((ranked(&hours, 0.01) - (-20.0 + 87.0 * 0.005)).abs() < 1e-9);
        assert_eq!(ranked(&[], 0.5), 0.0);
    }

    #[test]
    fn reads_place_ground_and_days() {
        let w = read_epw(&epw((0..8760).map(|i| f64::from(i % 24)))).expect("reads");
        assert_eq!((w.name.as_str(), w.altitude_m, w.days.len()), ("Alderfell", 640.0, 365));
        assert_eq!(w.days[100], [0.0, 11.5, 23.0]);
        assert!((w.annual_mean_c - 11.5).abs() < 1e-9);
        // every day is 11.5 on the mean: 6.5 K short of 18 °C
        assert!((w.degree_days(18.0) - 365.0 * 6.5).abs() < 1e-6);
        assert_eq!(w.coldest_ground(), Some((0.5, 1.0)));
        w.check("site.weather").expect("sound");
    }

    #[test]
    fn what_is_wrong_is_named_with_its_line() {
        let whole = epw(ramp());
        let refused = |text: &str| read_epw(text).expect_err("wrong");
        assert_eq!(refused("").field, "file");
        assert_eq!(refused("PK\u{3}\u{4}zip").field, "line 1");
        assert_eq!(refused(&whole.replace("47.50", "147.50")).field, "line 1");
        let cut: String = whole.lines().take(5000).map(|l| format!("{l}\n")).collect();
        assert!(refused(&cut).reason.contains("4992 of 8760"), "{}", refused(&cut));
        // cut off within a row
        assert!(refused(&whole[..whole.len() - 24]).reason.contains("cut off"));
        assert_eq!(refused(&whole.replace("DATA PERIODS,1,1", "DATA PERIODS,1,4")).field, "line 8");
        let mut lines: Vec<&str> = whole.lines().collect();
        lines[20] = "2001,1,1,1,60,?,cold,0.0,80";
        assert_eq!(refused(&lines.join("\n")).field, "line 21");
        lines[20] = "2001,1,1,1,60,?,-400,0.0,80";
        assert_eq!(refused(&lines.join("\n")).field, "line 21");
        assert_eq!(refused(&whole.replace("GROUND TEMPERATURES,1,0.5", "GROUND TEMPERATURES,1,deep")).field, "line 4");
        assert_eq!(refused(&"x".repeat(LARGEST_FILE + 1)).field, "file");
    }

    #[test]
    fn short_gaps_are_bridged_and_long_ones_refused() {
        let with_gap = |length: usize| {
            read_epw(&epw((0..8760).map(move |i| if (100..100 + length).contains(&i) { 99.9 } else { i as f64 % 7.0 })))
        };
        let w = with_gap(6).expect("short");
        assert_eq!(w.bridged_hours, 6);
        assert!(with_gap(7).is_err());
        // over the turn of the year
        let ring = read_epw(&epw((0..8760).map(|i| if !(3..8757).contains(&i) { 99.9 } else { 5.0 }))).expect("ring");
        assert_eq!((ring.bridged_hours, ring.p99_6_c), (6, 5.0));
    }
}

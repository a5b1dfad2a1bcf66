//! What the house in time is checked against, and examples of what it tells: `fuoco validate time` prints it, `docs/time.md` holds it.

use super::{TimeControl, TimePoint, TimeRun, TimeSpan, TimeTrial, TimeVariant, in_time};
use crate::error::FieldError;
use crate::job::Job;
use crate::samples::{box_room, job_of, manifold, studied, window};
use crate::section::warm_up::WarmUpFile;
use crate::survey::hours::WeatherHour;
use crate::zone::{Drive, Envelope, Zone};
use serde::Deserialize;
use serde_json::Value;
use std::f64::consts::TAU;
use std::fmt::Write;

/// Sections warmed up by an independent finite-element program.
#[derive(Debug, Deserialize)]
struct Reference {
    provenance: String,
    cases: Vec<Case>,
}

#[derive(Debug, Deserialize)]
struct Case {
    name: String,
    file: Value,
    flux_up_w_m2: Vec<f64>,
    flux_down_w_m2: Vec<f64>,
    surface_mean_c: Vec<f64>,
    surface_max_c: Vec<f64>,
}

/// All tables.
///
/// # Errors
/// Where a section of them cannot be solved.
pub fn tables() -> Result<String, FieldError> {
    let mut out = String::new();
    sections(&mut out)?;
    room(&mut out);
    balance(&mut out)?;
    examples(&mut out)?;
    Ok(out)
}

fn worst(got: &[f64], want: &[f64]) -> f64 {
    got.iter().zip(want).map(|(g, w)| (g - w).abs()).fold(0.0, f64::max)
}

fn sections(o: &mut String) -> Result<(), FieldError> {
    let text = include_str!("../../data/warm_up_fem.json");
    let reference: Reference = serde_json::from_str(text).map_err(|e| FieldError::new("reference", e.to_string()))?;
    let _ = writeln!(
        o,
        "### Sections that warm up, against an independent finite-element transient\n\n{}\n",
        reference.provenance
    );
    let _ = writeln!(
        o,
        "The most that each answer differs at any of the ten times: heat as share of what it comes to, temperatures in kelvin; states of \
         the reduced model, and its error against the whole mesh.\n"
    );
    let _ = writeln!(
        o,
        "| section | heat up | heat down | surface | warmest line | states | reduced |\n|---|---|---|---|---|---|---|"
    );
    for case in reference.cases {
        let got = WarmUpFile::from_json(&case.file.to_string())?.answer()?;
        let flux =
            |got: &[f64], want: &[f64]| 100.0 * worst(got, want) / want.last().map_or(1.0, |w| w.abs().max(1e-9));
        let _ = writeln!(
            o,
            "| {} | {:.2} % | {:.2} % | {:.3} K | {:.3} K | {} | {:.2} % |",
            case.name,
            flux(&got.flux_up_w_m2, &case.flux_up_w_m2),
            flux(&got.flux_down_w_m2, &case.flux_down_w_m2),
            worst(&got.surface_mean_c, &case.surface_mean_c),
            worst(&got.surface_max_c, &case.surface_max_c),
            got.reduced.order,
            100.0 * got.reduced.worst_error
        );
    }
    let _ = writeln!(o);
    Ok(())
}

/// A room by hand, of 20 m² with 10 W/K of glass, 20 of walls, 10 of air, heavy.
fn room(o: &mut String) {
    let of = Envelope { floor_m2: 20.0, windows_w_k: 10.0, opaque_w_k: 20.0, air_w_k: 10.0, heavy: true };
    let (surfaces, mass) = (3.45 * 4.5 * 20.0, 9.1 * 3.0 * 20.0);
    let outward = 1.0 / (1.0 / 20.0 - 1.0 / mass);
    let inward = 1.0 / (1.0 / (1.0 / (1.0 / 10.0 + 1.0 / surfaces) + 10.0) + 1.0 / mass);
    let heat_j_k = 260_000.0 * 20.0;
    let tau_s = heat_j_k / (outward + inward);
    let _ = writeln!(o, "### A room that warms up, by hand\n");
    let _ = writeln!(
        o,
        "20 m², 10 W/K of glass, 20 of walls, 10 of air, heavy. Surfaces 3.45 · 4.5 · 20 = {surfaces:.1} W/K, mass 9.1 · 3 · 20 = {mass:.0} W/K; \
         from the mass outward 1/(1/20 − 1/{mass:.0}) = {outward:.2} W/K, inward 1/(1/(1/(1/10 + 1/{surfaces:.1}) + 10) + 1/{mass:.0}) = \
         {inward:.2} W/K; 260 000 · 20 J/K over both: {:.2} h. Outdoors turns from 5 °C to 15 °C: the mass follows 15 − 10·exp(−t/{:.2} h).\n",
        tau_s / 3600.0,
        tau_s / 3600.0
    );
    let _ = writeln!(o, "| after | by hand | steps of 15 min | steps of 5 min |\n|---|---|---|---|");
    let zone = Zone::new(&of);
    let drive = Drive { outdoor_c: 15.0, behind_c: 15.0, ..Drive::default() };
    let stepped = |step_s: f64, hours: u32| {
        let steps = (f64::from(hours) * 3600.0 / step_s).round() as usize;
        (0..steps).fold(5.0, |mass_c, _| zone.step(mass_c, step_s, &drive).mass_c)
    };
    for hours in [1, 6, 24, 72] {
        let by_hand = 15.0 - 10.0 * (-f64::from(hours) * 3600.0 / tau_s).exp();
        let _ = writeln!(
            o,
            "| {hours} h | {by_hand:.4} °C | {:.4} °C | {:.4} °C |",
            stepped(900.0, hours),
            stepped(300.0, hours)
        );
    }
    let _ = writeln!(o);
}

/// The example: a room of 5 by 4 m with a window of 2.4 by 2 m to the south, at −12 °C and 48° north.
fn example(build_up: &str) -> Job {
    let mut living = box_room("living", 0.0, 0.0, 5.0, 4.0);
    living.openings.push(window("w", 0, 1.3, 2.4, 2.0));
    if let Some(floor) = &mut living.floor {
        floor.build_up_id = build_up.into();
    }
    let mut job = job_of(vec![living]);
    job.manifolds.push(manifold("m", "A", "living", 2, 2.0));
    job.site.outdoor_c = -12.0;
    job
}

/// A year by formula: 9 °C in the mean, 11 K less in the middle of January, 4 K less before dawn; every fifth day without a cloud.
pub fn even_year() -> Vec<WeatherHour> {
    let hour = |k: usize| {
        let (day, clock) = ((k / 24) as f64, (k % 24) as f64);
        let air_c = 9.0 - 11.0 * (TAU * (day - 15.0) / 365.0).cos() - 4.0 * (TAU * (clock - 3.0) / 24.0).cos();
        let cloud = Some(if (k / 24).is_multiple_of(5) { 0.0 } else { 0.9 });
        let (dew_point_c, wind_m_s, falls_mm) = (None, None, None);
        WeatherHour { air_c, dew_point_c, wind_m_s, cloud, falls_mm, direct_w_m2: None, diffuse_w_m2: None }
    };
    (0..8760).map(hour).collect()
}

const FLOORS: [(&str, &str); 2] = [("slab", "screed"), ("panel-board", "grooved board")];

fn control(control: TimeControl) -> TimeVariant {
    TimeVariant { control, ..TimeVariant::default() }
}

/// The week of the examples begins on the last days of November.
const LATE_NOVEMBER: u32 = 330;

/// Years and weeks are of the year by formula, the sunny day is a design day in March.
fn run(build_up: &str, span: TimeSpan, variants: Vec<TimeVariant>) -> Result<Vec<TimeRun>, FieldError> {
    let from_day = (span == TimeSpan::Week).then_some(LATE_NOVEMBER);
    let trial = TimeTrial { span, variants, from_day, ..TimeTrial::default() };
    let year = even_year();
    let year = (span != TimeSpan::Sun).then_some(&year[..]);
    Ok(in_time(&*studied(&example(build_up))?, &trial, year)?.runs)
}

fn balance(o: &mut String) -> Result<(), FieldError> {
    let _ = writeln!(o, "### Heat of a year\n");
    let _ = writeln!(
        o,
        "The room of the examples below in a year by formula (9 °C in the mean, ±11 K over the year, ±4 K over the day, every fifth day \
         clear): heat of the water, of it downward, starts, and how far heat in, heat lost and heat kept are apart.\n"
    );
    let _ = writeln!(o, "| floor | control | heat | downward | starts | apart |\n|---|---|---|---|---|---|");
    let kinds = [("thermostat", TimeControl::Thermostat), ("reset", TimeControl::Reset), ("both", TimeControl::Both)];
    for (build_up, name) in FLOORS {
        let runs = run(build_up, TimeSpan::Year, kinds.map(|k| control(k.1)).into())?;
        for ((kind, _), r) in kinds.iter().zip(&runs) {
            let _ = writeln!(
                o,
                "| {name} | {kind} | {:.0} kWh | {:.0} % | {} | {:.3} % |",
                r.heat_j / 3.6e6,
                100.0 * r.down_j / r.heat_j.max(1.0),
                r.starts,
                100.0 * r.balance_error
            );
        }
    }
    let _ = writeln!(o);
    Ok(())
}

fn examples(o: &mut String) -> Result<(), FieldError> {
    let _ = writeln!(o, "### Worked examples\n");
    let _ = writeln!(
        o,
        "A room of 5 × 4 m with a window of 2.4 × 2 m to the south, designed for −12 °C, tube at the library's usual spacing. Warm-up on the \
         design day from what the envelope leaves; the last week of November in the year by formula; a clear day between two under clouds \
         in March, at 45° north and −12 °C.\n"
    );
    let _ = writeln!(o, "| question | screed | grooved board |\n|---|---|---|");
    let none = || FieldError::new("runs", "has no course");
    let mut rows: Vec<(&str, Vec<String>)> = vec![];
    let mut told = |question: &'static str, answer: String| match rows.iter_mut().find(|r| r.0 == question) {
        Some(row) => row.1.push(answer),
        None => rows.push((question, vec![answer])),
    };
    for (build_up, _) in FLOORS {
        let warm = run(build_up, TimeSpan::WarmUp, vec![TimeVariant::default()])?;
        let hours = warm[0].rooms[0].warm_h.map_or("not in four days".into(), |h| format!("{h:.1} h"));
        told("warm after, from cold", hours);
        let plain = control(TimeControl::Both);
        let night = TimeVariant { setback_k: 3.0, ..plain.clone() };
        let cut = TimeVariant { cut_h: Some([48.0, 60.0]), ..plain.clone() };
        let week = run(build_up, TimeSpan::Week, vec![plain.clone(), night, cut, control(TimeControl::Thermostat)])?;
        // the first days belong to how it began
        let range = |r: &TimeRun, of: fn(&TimePoint) -> Option<f64>| {
            let late = r.course.iter().filter(|p| p.time_s >= 48.0 * 3600.0).filter_map(of);
            late.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), c| (low.min(c), high.max(c)))
        };
        let felt = |r: &TimeRun| range(r, |p| Some(p.felt_c));
        let swing = |(low, high): (f64, f64)| format!("{:.1} K", high - low);
        told("3 K cooler from 22 to 5 h saves", format!("{:.1} %", 100.0 * (1.0 - week[1].heat_j / week[0].heat_j)));
        told("and is at its coolest", format!("{:.1} °C, {:.1} °C without", felt(&week[1]).0, felt(&week[0]).0));
        told("and too cool in the week for", format!("{:.0} h", week[1].rooms[0].cool_h));
        told("without power for 12 h it falls to", format!("{:.1} °C", felt(&week[2]).0));
        told("the floor swings by, reset and thermostat", swing(range(&week[0], |p| p.surface_c)));
        told("the floor swings by, a thermostat alone", swing(range(&week[3], |p| p.surface_c)));
        told("and the room by", swing(felt(&week[3])));
        told("starts in the week, reset and thermostat; thermostat", format!("{}; {}", week[0].starts, week[3].starts));
        let runs = run(build_up, TimeSpan::Sun, vec![control(TimeControl::Reset), plain])?;
        let at = |r: &TimeRun, h: f64| {
            let far = |p: &TimePoint| (p.time_s - h * 3600.0).abs();
            r.course.iter().min_by(|a, b| far(a).total_cmp(&far(b))).cloned().ok_or_else(none)
        };
        let warmest = |r: &TimeRun| {
            let day = r.course.iter().filter(|p| (86_400.0..172_800.0).contains(&p.time_s));
            day.map(|p| p.felt_c).fold(f64::NEG_INFINITY, f64::max)
        };
        let (dawn, noon) = (at(&runs[0], 30.0)?, at(&runs[0], 37.0)?);
        told("sun in the room at 13 h", format!("{:.0} W", noon.sun_w));
        told("its floor's water gives at 6 h, reset alone", format!("{:.0} W", dawn.water_w));
        told("and at 13 h, in the sun", format!("{:.0} W", noon.water_w));
        told("warmest on that day, reset alone", format!("{:.1} °C", warmest(&runs[0])));
        told("warmest on that day, with a thermostat", format!("{:.1} °C", warmest(&runs[1])));
    }
    for (question, answers) in rows {
        let _ = writeln!(o, "| {question} | {} |", answers.join(" | "));
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_tables_are_whole() {
        let text = tables().expect("solved");
        let rows: Vec<&str> = text.lines().filter(|l| l.starts_with('|')).collect();
        let columns = |l: &str| l.matches('|').count();
        assert_eq!(rows.iter().filter(|r| r.starts_with("|---")).count(), 4, "{text}");
        for pair in rows.windows(2).filter(|p| !p[1].starts_with("| question") && columns(p[0]) != columns(p[1])) {
            assert!(
                ["| section", "| after", "| floor", "| question"].iter().any(|h| pair[1].starts_with(h)),
                "{pair:?}"
            );
        }
        assert!(!text.contains("NaN") && !text.contains("inf"), "{text}");
    }
}

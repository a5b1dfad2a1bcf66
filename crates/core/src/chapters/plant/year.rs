//! Control over the year: reset lines by the calculated supply temperatures, what hangs on them and wants fixed water, and the
//! plant over the hours of the weather file.

use super::needs::{Consumer, unordered};
use super::part::{Arrangement, Plant};
use super::state::{PlantState, PlantTrial, plant_state};
use crate::error::FieldError;
use crate::fluid::{self, Properties};
use crate::study::solved::Solved;
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;

/// Outdoor temperatures of a line and of a year's bins are so far apart, K.
const STEP_K: f64 = 2.0;
/// Points of a line at most.
const MOST_STEPS: usize = 60;

/// A circuit's supply temperature by outdoor temperature.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ResetLine {
    /// The circuit or user.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Outdoor and supply temperature, °C, coldest first: as calculated.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub curve: Vec<[f64; 2]>,
    /// The line through two points that is never short.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub two: Vec<[f64; 2]>,
    /// By how much it is too warm at most, K.
    pub two_over_k: f64,
    /// The line with a bend, on the curve at three points.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub three: Vec<[f64; 2]>,
    /// By how much that is short at most, K.
    pub three_short_k: f64,
}

/// A user of fixed temperature on a source that follows the weather.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FixedUser {
    /// The user.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// What it wants in all weather, °C.
    pub wants_c: f64,
    /// From this outdoor temperature on the line of the rooms lies below that, °C; none where it never does.
    pub below_from_c: Option<f64>,
    /// Least temperature at which the source has to be held for it, °C.
    pub safe_c: f64,
}

fn steps(study: &Solved, plant: &Plant) -> Vec<f64> {
    let (from, to) = (study.job.site.outdoor_c, plant.warm_weather_c);
    let count = (((to - from) / STEP_K).ceil() as usize).clamp(2, MOST_STEPS);
    // up to just below the temperature at which heating stays off
    (0..=count).map(|k| from + (to - from - 0.1) * k as f64 / count as f64).collect()
}

/// Lines of all circuits and users that follow the weather.
pub(crate) fn reset_lines(study: &Solved, plant: &Plant, water: &Properties) -> Vec<ResetLine> {
    let outdoors = steps(study, plant);
    let at: Vec<Vec<Consumer>> = outdoors.iter().map(|o| unordered(study, plant, *o, water)).collect();
    let Some(first) = at.first() else { return vec![] };
    let line = |c: &Consumer| {
        let needs =
            |(o, all): (&f64, &Vec<Consumer>)| Some([*o, all.iter().find(|x| x.id == c.id).and_then(|x| x.needs_c)?]);
        let curve: Vec<[f64; 2]> = outdoors.iter().zip(&at).filter_map(needs).collect();
        reset_line(c.id, c.name, curve)
    };
    first.iter().filter(|c| !c.always).filter_map(line).collect()
}

/// The lines that a controller takes through a calculated curve; none for a curve of fewer than three points.
fn reset_line(id: &str, name: &str, curve: Vec<[f64; 2]>) -> Option<ResetLine> {
    let (cold, warm) = (*curve.first()?, *curve.last()?);
    if curve.len() < 3 {
        return None;
    }
    // turned about the coldest point until no point of the curve lies above it
    let slope = curve[1..].iter().map(|p| (p[1] - cold[1]) / (p[0] - cold[0])).fold(f64::MIN, f64::max);
    let two = [cold, [warm[0], cold[1] + slope * (warm[0] - cold[0])]];
    let over = curve.iter().map(|p| cold[1] + slope * (p[0] - cold[0]) - p[1]).fold(0.0, f64::max);
    let middle = curve[curve.len() / 2];
    let three = [cold, middle, warm];
    let on = |p: &[f64; 2]| {
        let [a, b] = if p[0] <= middle[0] { [cold, middle] } else { [middle, warm] };
        a[1] + (b[1] - a[1]) * (p[0] - a[0]) / (b[0] - a[0]).max(1e-9)
    };
    let short = curve.iter().map(|p| p[1] - on(p)).fold(0.0, f64::max);
    Some(ResetLine {
        id: id.into(),
        name: name.into(),
        curve,
        two: two.to_vec(),
        two_over_k: over,
        three: three.to_vec(),
        three_short_k: short,
    })
}

/// Users of fixed temperature against the warmest of the lines.
pub(crate) fn fixed_users(study: &Solved, plant: &Plant, lines: &[ResetLine], water: &Properties) -> Vec<FixedUser> {
    let all = unordered(study, plant, study.job.site.outdoor_c, water);
    let of = |c: &Consumer| {
        let wants_c = c.needs_c?;
        let warmest = |outdoor: f64| {
            let at = lines.iter().filter_map(|l| l.curve.iter().find(|p| (p[0] - outdoor).abs() < 1e-6));
            at.map(|p| p[1]).fold(f64::MIN, f64::max)
        };
        let outdoors = lines.iter().map(|l| &l.curve).max_by_key(|c| c.len())?;
        let below = outdoors.iter().map(|p| p[0]).find(|o| warmest(*o) < wants_c);
        Some(FixedUser { id: c.id.into(), name: c.name.into(), wants_c, below_from_c: below, safe_c: wants_c })
    };
    all.iter().filter(|c| c.always).filter_map(of).collect()
}

/// The plant at one outdoor temperature of the year.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct YearPoint {
    /// °C
    pub outdoor_c: f64,
    /// Hours of the year about that temperature; 0 without a weather file.
    pub hours: f64,
    /// Heat that rooms and fixed users take, W; domestic hot water left out.
    pub load_w: f64,
    /// What the source can give, W.
    pub most_w: f64,
    /// What all radiators and baseboards can give with its hottest water, and floors as designed, W; 0 where none is rated.
    pub emitters_w: f64,
    /// Water of the source, °C; none where it stands.
    pub leaves_c: Option<f64>,
    /// °C
    pub returns_c: Option<f64>,
    /// Its flue gas condenses.
    pub condenses: Option<bool>,
    /// Heat over electricity of a heat pump.
    pub cop: Option<f64>,
    /// Electricity of pumps, W.
    pub pumps_w: f64,
    /// It cannot give all that is wanted.
    pub at_most: bool,
}

/// A plant over the year.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlantYear {
    /// Coldest first.
    pub points: Vec<YearPoint>,
    /// The hours come from the weather file.
    pub by_weather: bool,
    /// Heat of the year, J; domestic hot water left out.
    pub heat_j: f64,
    /// Hours of heating.
    pub hours: f64,
    /// Hours in which the flue gas condenses.
    pub condensing_h: Option<f64>,
    /// Hours in which the load lies below the source's lowest output: it cycles.
    pub cycling_h: f64,
    /// Heat over electricity of a heat pump over the year.
    pub seasonal: Option<f64>,
    /// Electricity of pumps, J.
    pub pumps_j: f64,
}

/// Hours of a year by temperature: each day swings between its lowest and highest as a cosine.
pub fn hours_by_temperature(days: &[[f64; 3]], low_c: f64, step_k: f64, bins: usize) -> Vec<f64> {
    let mut out = vec![0.0; bins];
    for [least, mean, most] in days {
        for hour in 0..24 {
            let swing = (2.0 * PI * (f64::from(hour) - 15.0) / 24.0).cos();
            let t = if swing > 0.0 { mean + (most - mean) * swing } else { mean + (mean - least) * swing };
            let bin = ((t - low_c) / step_k).floor().max(0.0) as usize;
            if let Some(hours) = out.get_mut(bin) {
                *hours += 1.0;
            }
        }
    }
    out
}

/// The plant from the design day to the end of heating, and over the hours of the weather file where the job has one.
///
/// # Errors
/// As [`plant_state`].
pub fn plant_year(study: &Solved, trial: &PlantTrial) -> Result<PlantYear, FieldError> {
    let plant = study.job.plant.as_ref().ok_or_else(|| FieldError::new("plant", "this job has no plant"))?;
    let outdoors = steps(study, plant);
    let step = outdoors.get(1).map_or(STEP_K, |o| o - outdoors[0]);
    let low = outdoors[0] - step / 2.0;
    let weather = study.job.site.weather.as_ref();
    let hours = weather.map(|w| hours_by_temperature(&w.days, low, step, outdoors.len()));
    let floors: f64 = study.circuits.iter().map(|c| c.heat_w).sum();
    let emitters = super::size::emitters_can_w(study, plant.source.most_c - 5.0);
    let emitters_w = if emitters > 0.0 { emitters + floors } else { 0.0 };
    let mut points = Vec::with_capacity(outdoors.len());
    for (k, outdoor_c) in outdoors.iter().enumerate() {
        let state = plant_state(study, &PlantTrial { outdoor_c: Some(*outdoor_c), charging: false, ..trial.clone() })?;
        points.push(year_point(&state, hours.as_ref().map_or(0.0, |h| h[k]), emitters_w));
    }
    let sum = |of: &dyn Fn(&YearPoint) -> f64| points.iter().map(|p| p.hours * of(p)).sum::<f64>();
    let heat = sum(&|p| p.load_w);
    let seasonal = weather.and_then(|_| {
        let electricity = sum(&|p| p.cop.map_or(0.0, |c| p.load_w.min(p.most_w) / c));
        (electricity > 0.0).then(|| sum(&|p| p.load_w.min(p.most_w)) / electricity)
    });
    let condenses = points.iter().any(|p| p.condenses.is_some());
    Ok(PlantYear {
        by_weather: weather.is_some(),
        heat_j: heat * 3600.0,
        hours: sum(&|_| 1.0),
        condensing_h: condenses.then(|| sum(&|p| f64::from(p.condenses == Some(true)))),
        cycling_h: sum(&|p| f64::from(p.load_w < plant.source.least_w)),
        seasonal: seasonal.filter(|_| plant.source.kind.is_heat_pump()),
        pumps_j: sum(&|p| p.pumps_w) * 3600.0,
        points,
    })
}

/// An arrangement beside the others.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ArrangementFigures {
    /// The arrangement.
    pub arrangement: Arrangement,
    /// Why it has no figures.
    pub refused: Option<String>,
    /// Water of the source on the design day, °C.
    pub source_c: Option<f64>,
    /// Its return, °C.
    pub returns_c: Option<f64>,
    /// Flow through it, L/min.
    pub flow_l_min: Option<f64>,
    /// By how much a circuit is short of its supply at most, K.
    pub short_k: Option<f64>,
    /// Electricity of pumps, W.
    pub pumps_w: Option<f64>,
    /// Hours of the year in which the flue gas condenses.
    pub condensing_h: Option<f64>,
    /// Heat over electricity of a heat pump over the year.
    pub seasonal: Option<f64>,
}

/// All arrangements of a job's plant, those without figures with the reason.
///
/// # Errors
/// Where the job has no plant.
pub fn compare_arrangements(study: &Solved, trial: &PlantTrial) -> Result<Vec<ArrangementFigures>, FieldError> {
    if study.job.plant.is_none() {
        return Err(FieldError::new("plant", "this job has no plant"));
    }
    let of = |arrangement: Arrangement| {
        let trial = PlantTrial { arrangement: Some(arrangement), ..trial.clone() };
        let year = plant_year(study, &trial).ok();
        match plant_state(study, &trial) {
            Err(e) => ArrangementFigures {
                arrangement,
                refused: Some(format!("{}: {}", e.field, e.reason)),
                source_c: None,
                returns_c: None,
                flow_l_min: None,
                short_k: None,
                pumps_w: None,
                condensing_h: None,
                seasonal: None,
            },
            Ok(state) => {
                let source = state.sources.first();
                let short = |c: &super::state::CircuitState| c.on.then_some(c.needs_c? - c.supply_c?);
                let hours = year.as_ref().filter(|y| y.by_weather);
                ArrangementFigures {
                    arrangement,
                    refused: None,
                    source_c: source.and_then(|s| s.leaves_c),
                    returns_c: source.and_then(|s| s.returns_c),
                    flow_l_min: source.map(|s| s.flow_l_min),
                    short_k: state.circuits.iter().filter_map(short).reduce(f64::max).map(|k| k.max(0.0)),
                    pumps_w: Some(state.pumps_w),
                    condensing_h: hours.and_then(|y| y.condensing_h),
                    seasonal: hours.and_then(|y| y.seasonal),
                }
            }
        }
    };
    Ok(Arrangement::ALL.map(of).to_vec())
}

fn year_point(state: &PlantState, hours: f64, emitters_w: f64) -> YearPoint {
    let first = &state.sources[0];
    YearPoint {
        outdoor_c: state.outdoor_c,
        hours,
        load_w: state.circuits.iter().filter(|c| c.on).map(|c| c.wants_w).sum(),
        most_w: state.sources.iter().map(|s| s.most_w).sum(),
        emitters_w,
        leaves_c: first.leaves_c,
        returns_c: first.returns_c,
        condenses: first.condenses,
        cop: first.cop.filter(|_| first.leaves_c.is_some()),
        pumps_w: state.pumps_w,
        at_most: state.sources.iter().all(|s| s.at_most),
    }
}

/// The lines of a job's plant.
pub(crate) fn lines_of(study: &Solved, plant: &Plant) -> Result<(Vec<ResetLine>, Vec<FixedUser>), FieldError> {
    let water = fluid::properties(&study.job.fluid, 45.0)?;
    let lines = reset_lines(study, plant, &water);
    let fixed = fixed_users(study, plant, &lines, &water);
    Ok((lines, fixed))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_year_of_days_has_all_its_hours() {
        let days = vec![[-5.0, 0.0, 5.0]; 365];
        let hours = hours_by_temperature(&days, -10.0, 2.0, 20);
        assert_eq!(hours.iter().sum::<f64>(), 8760.0);
        // a cosine dwells at its ends
        assert!(hours[2] > hours[4], "{hours:?}");
        assert_eq!(
            hours_by_temperature(&days, -10.0, 2.0, 3).iter().sum::<f64>(),
            8760.0 - hours[3..].iter().sum::<f64>()
        );
    }

    #[test]
    fn a_line_through_two_points_is_never_short_of_a_curve() {
        // as radiators' curves are: arched
        let curve: Vec<[f64; 2]> = (0..=15)
            .map(|k| (-12.0 + 2.0 * f64::from(k), k))
            .map(|(o, _)| [o, 20.0 + 40.0 * ((20.0 - o) / 32.0_f64).powf(0.77)])
            .collect();
        let line = reset_line("x", "X", curve).expect("long enough");
        let at = |o: f64| {
            line.two[0][1]
                + (line.two[1][1] - line.two[0][1]) * (o - line.two[0][0]) / (line.two[1][0] - line.two[0][0])
        };
        assert!(line.curve.iter().all(|p| at(p[0]) > p[1] - 1e-9));
        assert!(line.two_over_k > 0.1 && line.two_over_k < 8.0, "{}", line.two_over_k);
        assert!(line.three_short_k < 2.0, "{}", line.three_short_k);
        assert!(reset_line("x", "X", vec![[0.0, 30.0], [5.0, 28.0]]).is_none());
    }
}

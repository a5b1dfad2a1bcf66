//! Whether the plant is one: figures within their ranges, what it names is there.

use crate::check::{own, text, unique};
use crate::error::FieldError;
use crate::job::{CurvePoint, Feed, HeatSource, Job, PumpChoice, Takes};
use crate::library;
use crate::ranges::Ranged;
use std::collections::BTreeSet;

/// Entries of a list of emitters.
const MOST_EMITTERS: usize = 200;

pub(crate) fn check(job: &Job) -> Result<(), FieldError> {
    products(job)?;
    for (i, circuit) in job.circuits.iter().enumerate() {
        feed(job, &circuit.feed, &format!("circuits[{i}].feed"))?;
    }
    let Some(plant) = &job.plant else { return Ok(()) };
    plant.check_ranges("plant")?;
    source(job, &plant.source, "plant.source")?;
    if let Some(second) = &plant.second {
        source(job, second, "plant.second")?;
    }
    for (i, user) in plant.users.iter().enumerate() {
        let path = format!("plant.users[{i}]");
        text(&format!("{path}.name"), &user.name, 0)?;
        user.takes.check_ranges(&format!("{path}.takes"))?;
        feed(job, &user.feed, &format!("{path}.feed"))?;
        match &user.takes {
            Takes::Emitters { emitter_ids, .. } if emitter_ids.len() > MOST_EMITTERS => {
                let reason = format!("must have up to {MOST_EMITTERS} entries, not {}", emitter_ids.len());
                return Err(FieldError::new(format!("{path}.takes.emitter_ids"), reason));
            }
            Takes::Typed { supply_c, return_c, around_c, .. } if supply_c <= return_c || return_c <= around_c => {
                let reason = "must be below supply_c and above around_c: water cools toward what it heats";
                return Err(FieldError::new(format!("{path}.takes.return_c"), reason));
            }
            Takes::Tank { store_c, coil_supply_c, .. } if coil_supply_c <= store_c => {
                return Err(FieldError::new(format!("{path}.takes.coil_supply_c"), "must be above store_c"));
            }
            _ => {}
        }
    }
    Ok(())
}

/// The job's own pumps and sources.
fn products(job: &Job) -> Result<(), FieldError> {
    let mut ids = BTreeSet::new();
    for (i, p) in job.pumps.iter().enumerate() {
        let path = format!("pumps[{i}]");
        own(&mut ids, &path, (&p.id, &p.name), library::pump(&p.id).is_some())?;
        p.check_ranges(&path)?;
        curve(&p.curve, &path)?;
    }
    let mut names = BTreeSet::new();
    for (i, s) in job.sources.iter().enumerate() {
        let path = format!("sources[{i}]");
        unique(&mut names, &format!("{path}.name"), &s.name)?;
        source(job, s, &path)?;
    }
    Ok(())
}

fn source(job: &Job, source: &HeatSource, path: &str) -> Result<(), FieldError> {
    text(&format!("{path}.name"), &source.name, 0)?;
    source.check_ranges(path)?;
    if source.least_w > source.most_w {
        return Err(FieldError::new(format!("{path}.least_w"), "must not be above most_w"));
    }
    for (i, point) in source.points.iter().enumerate() {
        point.check_ranges(&format!("{path}.points[{i}]"))?;
    }
    pump(job, &source.pump, &format!("{path}.pump"))
}

fn feed(job: &Job, feed: &Feed, path: &str) -> Result<(), FieldError> {
    feed.check_ranges(path)?;
    pump(job, &feed.pump, &format!("{path}.pump"))
}

fn pump(job: &Job, pump: &PumpChoice, path: &str) -> Result<(), FieldError> {
    pump.check_ranges(path)?;
    curve(&pump.curve, path)?;
    match &pump.model_id {
        Some(id) if job.pump(id).is_none() => {
            Err(FieldError::new(format!("{path}.model_id"), format!("there is no pump {id} in the job or the library")))
        }
        _ => Ok(()),
    }
}

/// A pump's curve: head falls as flow grows.
fn curve(curve: &[CurvePoint], path: &str) -> Result<(), FieldError> {
    for (i, point) in curve.iter().enumerate() {
        point.check_ranges(&format!("{path}.curve[{i}]"))?;
    }
    if curve.len() == 1 {
        return Err(FieldError::new(format!("{path}.curve"), "must have 2 to 12 points, or none"));
    }
    for (i, w) in curve.windows(2).enumerate() {
        let field = |name: &str| format!("{path}.curve[{}].{name}", i + 1);
        if w[1].flow_l_min <= w[0].flow_l_min {
            return Err(FieldError::new(field("flow_l_min"), "must be above the point before"));
        }
        if w[1].head_m >= w[0].head_m {
            return Err(FieldError::new(field("head_m"), "must be below the point before: head falls as flow grows"));
        }
    }
    Ok(())
}

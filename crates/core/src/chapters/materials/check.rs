//! What of purchasing a range cannot say.

use super::part::Purchasing;
use crate::check::{text, unique};
use crate::error::FieldError;
use crate::job::Job;
use crate::ranges::Ranged;
use chrono::NaiveDate;
use std::collections::BTreeSet;

pub(super) fn check(job: &Job) -> Result<(), FieldError> {
    let p: &Purchasing = &job.purchasing;
    coils(job)?;
    p.fixing.check_ranges("purchasing.fixing")?;
    prices(p)?;
    p.labour.check_ranges("purchasing.labour")?;
    if let Some(day) = p.labour.first_day.as_deref().filter(|d| d.parse::<NaiveDate>().is_err()) {
        return Err(FieldError::new(
            "purchasing.labour.first_day",
            format!("must be a day as 2026-12-31, not \"{day}\""),
        ));
    }
    quote(p)
}

fn tube(job: &Job, field: String, id: &str) -> Result<(), FieldError> {
    match job.tube(id) {
        Some(_) => Ok(()),
        None => Err(FieldError::new(field, format!("no tube \"{id}\""))),
    }
}

fn coils(job: &Job) -> Result<(), FieldError> {
    let c = &job.purchasing.coils;
    c.check_ranges("purchasing.coils")?;
    c.reserve.check_ranges("purchasing.coils.reserve")?;
    let mut kinds = BTreeSet::new();
    for (i, s) in c.stocked.iter().enumerate() {
        let path = format!("purchasing.coils.stocked[{i}]");
        s.check_ranges(&path)?;
        tube(job, format!("{path}.tube_id"), &s.tube_id)?;
        if !kinds.insert((s.tube_id.as_str(), s.length_m.to_bits())) {
            return Err(FieldError::new(format!("{path}.length_m"), "that coil is listed twice"));
        }
    }
    let mut loops = BTreeSet::new();
    for (i, h) in c.by_hand.iter().enumerate() {
        let path = format!("purchasing.coils.by_hand[{i}]");
        h.check_ranges(&path)?;
        tube(job, format!("{path}.tube_id"), &h.tube_id)?;
        for (k, id) in h.loop_ids.iter().enumerate() {
            unique(&mut loops, &format!("{path}.loop_ids[{k}]"), id)?;
        }
    }
    Ok(())
}

fn prices(p: &Purchasing) -> Result<(), FieldError> {
    let list = &p.prices;
    list.check_ranges("purchasing.prices")?;
    text("purchasing.prices.name", &list.name, 0)?;
    if !(1..=3).contains(&list.currency.trim().chars().count()) {
        return Err(FieldError::new("purchasing.prices.currency", "must have 1 to 3 characters"));
    }
    let mut seen = BTreeSet::new();
    for (i, row) in list.rows.iter().enumerate() {
        let path = format!("purchasing.prices.rows[{i}]");
        row.check_ranges(&path)?;
        unique(&mut seen, &format!("{path}.article"), &row.article)?;
    }
    Ok(())
}

fn quote(p: &Purchasing) -> Result<(), FieldError> {
    let q = &p.quote;
    q.check_ranges("purchasing.quote")?;
    for (i, line) in q.exclusions.iter().enumerate() {
        text(&format!("purchasing.quote.exclusions[{i}]"), line, 1)?;
    }
    for (i, extra) in q.extras.iter().enumerate() {
        let path = format!("purchasing.quote.extras[{i}]");
        extra.check_ranges(&path)?;
        text(&format!("{path}.name"), &extra.name, 1)?;
    }
    for (i, option) in q.options.iter().enumerate() {
        let path = format!("purchasing.quote.options[{i}]");
        option.check_ranges(&path)?;
        text(&format!("{path}.name"), &option.name, 1)?;
        for (k, id) in option.without_extras.iter().enumerate() {
            if !q.extras.iter().any(|e| e.id == *id) {
                return Err(FieldError::new(format!("{path}.without_extras[{k}]"), format!("no extra line \"{id}\"")));
            }
        }
    }
    Ok(())
}

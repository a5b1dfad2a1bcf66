//! That every id of a job is one and names one thing.

use super::Job;
use crate::check::unique;
use crate::error::FieldError;
use std::collections::BTreeSet;

pub(super) fn check(job: &Job) -> Result<(), FieldError> {
    let mut levels = BTreeSet::new();
    for (i, level) in job.levels.iter().enumerate() {
        unique(&mut levels, &format!("levels[{i}].id"), &level.id)?;
    }
    let mut ids = BTreeSet::new();
    all(job, &mut |path, id| unique(&mut ids, path, id))
}

/// The first of `kind-1`, `kind-2` … that names nothing yet.
pub(crate) fn free(job: &Job, kind: &str) -> String {
    let mut used = BTreeSet::new();
    let _ = all(job, &mut |_, id| {
        used.insert(id.to_owned());
        Ok(())
    });
    (1..).map(|n| format!("{kind}-{n}")).find(|id| !used.contains(id)).unwrap_or_default()
}

/// Whether an id names nothing yet.
pub(crate) fn is_free(job: &Job, wanted: &str) -> bool {
    let mut free = true;
    let _ = all(job, &mut |_, id| {
        free &= id != wanted;
        Ok(())
    });
    free
}

/// Every id but those of levels, with its path.
fn all<'a>(job: &'a Job, each: &mut dyn FnMut(&str, &'a str) -> Result<(), FieldError>) -> Result<(), FieldError> {
    for (i, room) in job.rooms.iter().enumerate() {
        let path = format!("rooms[{i}]");
        each(&format!("{path}.id"), &room.id)?;
        for (k, o) in room.openings.iter().enumerate() {
            each(&format!("{path}.openings[{k}].id"), &o.id)?;
        }
        for (k, e) in room.emitters.iter().enumerate() {
            each(&format!("{path}.emitters[{k}].id"), &e.id)?;
        }
        for (k, o) in room.keep_outs.iter().enumerate() {
            each(&format!("{path}.keep_outs[{k}].id"), &o.id)?;
        }
        for (k, f) in room.fields.iter().enumerate() {
            each(&format!("{path}.fields[{k}].id"), &f.id)?;
        }
    }
    for (i, m) in job.manifolds.iter().enumerate() {
        each(&format!("manifolds[{i}].id"), &m.id)?;
    }
    for (i, c) in job.circuits.iter().enumerate() {
        each(&format!("circuits[{i}].id"), &c.id)?;
    }
    for (i, u) in job.plant.iter().flat_map(|p| &p.users).enumerate() {
        each(&format!("plant.users[{i}].id"), &u.id)?;
    }
    for (i, l) in job.loops.iter().enumerate() {
        each(&format!("loops[{i}].id"), &l.id)?;
    }
    for (i, e) in job.purchasing.quote.extras.iter().enumerate() {
        each(&format!("purchasing.quote.extras[{i}].id"), &e.id)?;
    }
    for (i, o) in job.purchasing.quote.options.iter().enumerate() {
        each(&format!("purchasing.quote.options[{i}].id"), &o.id)?;
    }
    for (i, mark) in job.marks.iter().enumerate() {
        each(&format!("marks[{i}].id"), &mark.id)?;
    }
    Ok(())
}

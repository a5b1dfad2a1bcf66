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
    for (i, room) in job.rooms.iter().enumerate() {
        let path = format!("rooms[{i}]");
        unique(&mut ids, &format!("{path}.id"), &room.id)?;
        for (k, o) in room.openings.iter().enumerate() {
            unique(&mut ids, &format!("{path}.openings[{k}].id"), &o.id)?;
        }
        for (k, e) in room.emitters.iter().enumerate() {
            unique(&mut ids, &format!("{path}.emitters[{k}].id"), &e.id)?;
        }
        for (k, o) in room.keep_outs.iter().enumerate() {
            unique(&mut ids, &format!("{path}.keep_outs[{k}].id"), &o.id)?;
        }
        for (k, f) in room.fields.iter().enumerate() {
            unique(&mut ids, &format!("{path}.fields[{k}].id"), &f.id)?;
        }
    }
    for (i, m) in job.manifolds.iter().enumerate() {
        unique(&mut ids, &format!("manifolds[{i}].id"), &m.id)?;
    }
    for (i, l) in job.loops.iter().enumerate() {
        unique(&mut ids, &format!("loops[{i}].id"), &l.id)?;
    }
    for (i, mark) in job.marks.iter().enumerate() {
        unique(&mut ids, &format!("marks[{i}].id"), &mark.id)?;
    }
    Ok(())
}

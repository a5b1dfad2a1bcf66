//! Whether manifolds hang on walls, and locked loops on manifolds.

use crate::error::FieldError;
use crate::geometry::distance;
use crate::job::{FloorLattice, Job, KeptLoop, Manifold, ValvePoint};
use crate::ranges::Ranged;
use crate::survey::check::wall_index;
use std::collections::BTreeSet;

/// A loop is at least so long, m.
const SHORTEST_M: f64 = 0.1;

pub(crate) fn check(job: &Job) -> Result<(), FieldError> {
    for (i, m) in job.manifolds.iter().enumerate() {
        manifold(job, m, &format!("manifolds[{i}]"))?;
    }
    for (i, l) in job.loops.iter().enumerate() {
        kept_loop(job, l, &format!("loops[{i}]"))?;
    }
    for (i, room) in job.rooms.iter().enumerate() {
        let Some(floor) = &room.floor else { continue };
        let path = format!("rooms[{i}].floor");
        if let Some(lattice) = &floor.lattice {
            FloorLattice::check_ranges(lattice, &format!("{path}.lattice"))?;
        }
        if let Some(id) = &floor.manifold_id {
            on_manifold(job, format!("{path}.manifold_id"), id)?;
        }
    }
    Ok(())
}

fn on_manifold(job: &Job, field: String, id: &str) -> Result<(), FieldError> {
    let found = job.manifolds.iter().any(|m| m.id == id);
    if found { Ok(()) } else { Err(FieldError::new(field, "names no manifold of this job")) }
}

fn manifold(job: &Job, m: &Manifold, path: &str) -> Result<(), FieldError> {
    if !(1..=3).contains(&m.letter.chars().count()) {
        return Err(FieldError::new(format!("{path}.letter"), "must have 1 to 3 characters"));
    }
    let Some(room) = job.room(&m.room_id) else {
        return Err(FieldError::new(format!("{path}.room_id"), "names no room of this job"));
    };
    wall_index(&format!("{path}.edge"), m.edge, room)?;
    m.check_ranges(path)?;
    for (k, riser) in m.risers.iter().enumerate() {
        let path = format!("{path}.risers[{k}]");
        let Some(into) = job.room(&riser.room_id) else {
            return Err(FieldError::new(format!("{path}.room_id"), "names no room of this job"));
        };
        if into.level_id == room.level_id {
            return Err(FieldError::new(format!("{path}.room_id"), "lies on the manifold's own level"));
        }
        wall_index(&format!("{path}.edge"), riser.edge, into)?;
        riser.check_ranges(&path)?;
    }
    valve_table(&m.valve_table, &format!("{path}.valve_table"))
}

fn valve_table(points: &[ValvePoint], path: &str) -> Result<(), FieldError> {
    if points.len() == 1 {
        return Err(FieldError::new(path, "one point is no table: none, or 2 to 20"));
    }
    for (k, point) in points.iter().enumerate() {
        point.check_ranges(&format!("{path}[{k}]"))?;
        let Some(before) = k.checked_sub(1).map(|k| &points[k]) else { continue };
        if point.turns <= before.turns {
            return Err(FieldError::new(format!("{path}[{k}].turns"), "must rise from point to point"));
        }
        if point.kv_m3_h <= before.kv_m3_h {
            return Err(FieldError::new(format!("{path}[{k}].kv_m3_h"), "must rise with the turns"));
        }
    }
    Ok(())
}

fn kept_loop(job: &Job, l: &KeptLoop, path: &str) -> Result<(), FieldError> {
    on_manifold(job, format!("{path}.manifold_id"), &l.manifold_id)?;
    if job.room(&l.room_id).is_none() {
        return Err(FieldError::new(format!("{path}.room_id"), "names no room of this job"));
    }
    let mut rooms = BTreeSet::from([&l.room_id]);
    for (k, id) in l.also_room_ids.iter().enumerate() {
        let field = format!("{path}.also_room_ids[{k}]");
        if job.room(id).is_none() {
            return Err(FieldError::new(field, "names no room of this job"));
        }
        if !rooms.insert(id) {
            return Err(FieldError::new(field, "names a room twice"));
        }
    }
    l.check_ranges(path)?;
    let way: f64 = l.corners.windows(2).map(|w| distance(w[0], w[1])).sum();
    if way < SHORTEST_M {
        let reason = format!("must make a way of at least {SHORTEST_M} m");
        return Err(FieldError::new(format!("{path}.corners"), reason));
    }
    Ok(())
}

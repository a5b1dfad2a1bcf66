//! Whether materials, constructions, envelope and air are what they must be.

use crate::check::{text, unique};
use crate::error::FieldError;
use crate::job::{Construction, Envelope, Job, Material, Position};
use crate::ranges::Ranged;
use std::collections::BTreeSet;

pub(crate) fn check(job: &Job) -> Result<(), FieldError> {
    let mut ids = BTreeSet::new();
    for (i, m) in job.materials.iter().enumerate() {
        let path = format!("materials[{i}]");
        unique(&mut ids, &format!("{path}.id"), &m.id)?;
        material(m, &path)?;
    }
    let mut ids = BTreeSet::new();
    for (i, c) in job.constructions.iter().enumerate() {
        let path = format!("constructions[{i}]");
        unique(&mut ids, &format!("{path}.id"), &c.id)?;
        construction(job, c, &path)?;
    }
    envelope(job, &job.envelope)?;
    job.air.check_ranges("air")
}

fn material(m: &Material, path: &str) -> Result<(), FieldError> {
    text(&format!("{path}.name"), &m.name, 0)?;
    text(&format!("{path}.source"), &m.source, 0)?;
    // 0 marks a layer of air
    if m.conductivity_w_mk != 0.0 {
        crate::check::range(&format!("{path}.conductivity_w_mk"), m.conductivity_w_mk, 0.001, 500.0)?;
    }
    m.check_ranges(path)
}

fn construction(job: &Job, c: &Construction, path: &str) -> Result<(), FieldError> {
    for (field, value) in [("name", &c.name), ("source", &c.source), ("class", &c.class)] {
        text(&format!("{path}.{field}"), value, 0)?;
    }
    c.check_ranges(path)?;
    if c.u.is_none() && c.layers.is_empty() {
        return Err(FieldError::new(format!("{path}.layers"), "must have 1 to 20 entries where no U is typed, not 0"));
    }
    let known = |field: String, id: &str| match job.material(id) {
        Some(_) => Ok(()),
        None => Err(FieldError::new(field, format!("\"{id}\" is no material of this job or the library"))),
    };
    for (i, layer) in c.layers.iter().enumerate() {
        let path = format!("{path}.layers[{i}]");
        known(format!("{path}.material_id"), &layer.material_id)?;
        layer.check_ranges(&path)?;
        if let Some(bridge) = &layer.bridge {
            known(format!("{path}.bridge.material_id"), &bridge.material_id)?;
            bridge.check_ranges(&format!("{path}.bridge"))?;
        }
    }
    Ok(())
}

fn envelope(job: &Job, e: &Envelope) -> Result<(), FieldError> {
    for (field, id, position) in [
        ("outside_wall_id", &e.outside_wall_id, Position::Wall),
        ("window_id", &e.window_id, Position::Window),
        ("outside_door_id", &e.outside_door_id, Position::Door),
        ("roof_id", &e.roof_id, Position::Roof),
        ("partition_id", &e.partition_id, Position::Partition),
        ("ceiling_id", &e.ceiling_id, Position::Ceiling),
        ("floor_id", &e.floor_id, Position::Floor),
    ] {
        job.check_construction(&format!("envelope.{field}"), Some(id), position)?;
    }
    e.bridges.check_ranges("envelope.bridges")?;
    e.ground.check_ranges("envelope.ground")?;
    e.ground.edge.check_ranges("envelope.ground.edge")?;
    e.ground.crawl.check_ranges("envelope.ground.crawl")
}

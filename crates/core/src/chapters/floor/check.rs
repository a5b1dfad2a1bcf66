//! Whether what heats the rooms exists and can be built.

use super::assembly::{Parts, section};
use crate::check::{own, text};
use crate::error::FieldError;
use crate::job::{BuildUp, Field, Floor, Job, Room};
use crate::library;
use crate::ranges::Ranged;
use crate::section::film::Face;
use crate::survey::check::wall_index;
use std::collections::BTreeSet;

pub(crate) fn check(job: &Job) -> Result<(), FieldError> {
    products(job)?;
    let mut ids = BTreeSet::new();
    for (i, b) in job.build_ups.iter().enumerate() {
        let path = format!("build_ups[{i}]");
        own(&mut ids, &path, (&b.id, &b.name), library::build_up(&b.id).is_some())?;
        build_up(job, b, &path)?;
    }
    if let Some(first) = &job.first_room {
        floor(job, &first.floor, "first_room.floor")?;
    }
    for (i, room) in job.rooms.iter().enumerate() {
        if let Some(f) = &room.floor {
            floor(job, f, &format!("rooms[{i}].floor"))?;
        }
        for (k, f) in room.fields.iter().enumerate() {
            field(job, room, f, &format!("rooms[{i}].fields[{k}]"))?;
        }
    }
    Ok(())
}

/// The job's own tubes and coverings.
fn products(job: &Job) -> Result<(), FieldError> {
    let mut ids = BTreeSet::new();
    for (i, t) in job.tubes.iter().enumerate() {
        let path = format!("tubes[{i}]");
        own(&mut ids, &path, (&t.id, &t.name), library::tube(&t.id).is_some())?;
        t.check_ranges(&path)?;
        if 3.0 * t.wall_m > t.od_m {
            return Err(FieldError::new(format!("{path}.wall_m"), "must be at most a third of od_m"));
        }
    }
    let mut ids = BTreeSet::new();
    for (i, c) in job.coverings.iter().enumerate() {
        let path = format!("coverings[{i}]");
        own(&mut ids, &path, (&c.id, &c.name), library::covering(&c.id).is_some())?;
        text(&format!("{path}.note"), &c.note, 0)?;
        c.check_ranges(&path)?;
    }
    Ok(())
}

fn build_up(job: &Job, b: &BuildUp, path: &str) -> Result<(), FieldError> {
    let bad = |field: String, reason: &str| Err(FieldError::new(field, reason));
    for (field, value) in
        [("fastening", &b.fastening), ("note", &b.note), ("before", &b.before), ("cautions", &b.cautions)]
    {
        text(&format!("{path}.{field}"), value, 0)?;
    }
    b.check_ranges(path)?;
    for (i, layer) in b.layers.iter().enumerate() {
        let path = format!("{path}.layers[{i}]");
        if job.material(&layer.material_id).is_none() {
            return bad(format!("{path}.material_id"), "is neither in the job nor in the library");
        }
        layer.check_ranges(&path)?;
        if let Some(rib) = &layer.rib {
            if job.material(&rib.material_id).is_none_or(|m| m.conductivity_w_mk <= 0.0) {
                return bad(format!("{path}.rib.material_id"), "names no solid of the job or the library");
            }
            rib.check_ranges(&format!("{path}.rib"))?;
        }
    }
    if b.layers.iter().filter(|l| l.insulation).count() > 1 {
        return bad(format!("{path}.layers"), "only one of them can be the insulation");
    }
    if b.tube_layer >= b.layers.len() {
        return bad(format!("{path}.tube_layer"), "names no layer");
    }
    b.plate.map_or(Ok(()), |p| p.check_ranges(&format!("{path}.plate")))
}

/// The build-up of that id, for a floor, wall or ceiling of a room.
fn look<'a>(job: &'a Job, field: String, id: &str, face: Face) -> Result<&'a BuildUp, FieldError> {
    match job.build_up(id) {
        None => Err(FieldError::new(field, "is neither in the job nor in the library")),
        Some(b) if b.face != face || b.outdoors != job.outdoors.is_some() => {
            let of = if job.outdoors.is_some() {
                "is no build-up for an area outdoors".to_owned()
            } else {
                format!("is no build-up of a room's {}", face_word(face))
            };
            Err(FieldError::new(field, of))
        }
        Some(b) => Ok(b),
    }
}

fn tube_of<'a>(job: &'a Job, path: &str, id: &str) -> Result<&'a library::Tube, FieldError> {
    job.tube(id).ok_or_else(|| FieldError::new(format!("{path}.tube_id"), "is neither in the job nor in the library"))
}

fn floor(job: &Job, f: &Floor, path: &str) -> Result<(), FieldError> {
    let unknown = |field: String| FieldError::new(field, "is neither in the job nor in the library");
    let build_up = look(job, format!("{path}.build_up_id"), &f.build_up_id, Face::Floor)?;
    let covering = job.covering(&f.covering_id).ok_or_else(|| unknown(format!("{path}.covering_id")))?;
    let tube = tube_of(job, path, &f.tube_id)?;
    f.check_ranges(path)?;
    if f.spacing_edge_m > f.spacing_core_m {
        let reason = "must not be wider than the field spacing";
        return Err(FieldError::new(format!("{path}.spacing_edge_m"), reason));
    }
    for (i, patch) in f.patches.iter().enumerate() {
        let path = format!("{path}.patches[{i}]");
        if patch.covering_id.as_deref().is_some_and(|id| job.covering(id).is_none()) {
            return Err(unknown(format!("{path}.covering_id")));
        }
        patch.check_ranges(&path)?;
    }
    buildable(job, build_up, Some(covering), tube, f.spacing_edge_m, f.insulation_m2k_w, path)
}

fn field(job: &Job, room: &Room, field: &Field, path: &str) -> Result<(), FieldError> {
    if let Some(edge) = field.edge {
        wall_index(&format!("{path}.edge"), edge, room)?;
        if field.height_m > 20.0 {
            let reason = format!("must be between 0.1 and 20 on a wall, not {}", field.height_m);
            return Err(FieldError::new(format!("{path}.height_m"), reason));
        }
    }
    field.check_ranges(path)?;
    let build_up = look(job, format!("{path}.build_up_id"), &field.build_up_id, field.face())?;
    let tube = tube_of(job, path, &field.tube_id)?;
    buildable(job, build_up, None, tube, field.spacing_m, None, path)
}

/// That tube and build-up go together at that spacing: a tube larger than its layer names the tube.
fn buildable(
    job: &Job,
    build_up: &BuildUp,
    covering: Option<&library::Covering>,
    tube: &library::Tube,
    spacing_m: f64,
    insulation_m2k_w: Option<f64>,
    path: &str,
) -> Result<(), FieldError> {
    let materials = |id: &str| job.material(id);
    let parts = Parts { build_up, covering, rug_m2k_w: 0.0, tube, spacing_m, insulation_m2k_w };
    section(&parts, &materials).and_then(|s| s.check()).map_err(|e| {
        let field = match e.field.as_str() {
            "spacing_m" => "spacing_edge_m",
            "plate.wrap" => "covering_id",
            "tube.od_m" | "tube.axis_depth_m" => "tube_id",
            _ => "build_up_id",
        };
        let field = if field == "spacing_edge_m" && covering.is_none() { "spacing_m" } else { field };
        FieldError::new(format!("{path}.{field}"), format!("{}: {}", build_up.name, e.reason))
    })
}

fn face_word(face: Face) -> &'static str {
    match face {
        Face::Floor => "floor",
        Face::Wall => "wall",
        Face::Ceiling => "ceiling",
    }
}

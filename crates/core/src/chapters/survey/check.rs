//! Whether the survey is one: levels, rooms and what is in them, marks, place and climate.

use crate::check::{file_id, text};
use crate::error::FieldError;
use crate::job::{Beyond, Job, KeepOut, MarkKind, Opening, Position, Room};
use crate::ranges::Ranged;
use std::collections::BTreeSet;

pub(crate) fn check(job: &Job) -> Result<(), FieldError> {
    site(job)?;
    levels(job)?;
    if let Some(first) = &job.first_room {
        first.check_ranges("first_room")?;
        beyond(&first.below, "first_room.below", true)?;
    }
    for (i, room) in job.rooms.iter().enumerate() {
        self::room(job, room, &format!("rooms[{i}]"))?;
    }
    marks(job)
}

fn site(job: &Job) -> Result<(), FieldError> {
    text("site.place", &job.site.place, 0)?;
    job.site.check_ranges("site")?;
    if let Some(weather) = &job.site.weather {
        weather.check("site.weather")?;
    }
    if let Some(old) = &job.old_source {
        text("old_source.name", &old.name, 0)?;
        old.check_ranges("old_source")?;
    }
    Ok(())
}

fn levels(job: &Job) -> Result<(), FieldError> {
    for (i, level) in job.levels.iter().enumerate() {
        let path = format!("levels[{i}]");
        text(&format!("{path}.name"), &level.name, 0)?;
        level.check_ranges(&path)?;
        if let Some(underlay) = &level.underlay {
            let path = format!("{path}.underlay");
            file_id(&format!("{path}.file_id"), Some(&underlay.file_id))?;
            text(&format!("{path}.name"), &underlay.name, 0)?;
            underlay.check_ranges(&path)?;
        }
    }
    Ok(())
}

/// That a wall of that index is there.
pub(crate) fn wall_index(field: &str, edge: usize, room: &Room) -> Result<(), FieldError> {
    if edge < room.outline.len() {
        Ok(())
    } else {
        Err(FieldError::new(field, format!("there are only {} walls", room.outline.len())))
    }
}

fn room(job: &Job, room: &Room, path: &str) -> Result<(), FieldError> {
    if job.level(&room.level_id).is_none() {
        return Err(FieldError::new(format!("{path}.level_id"), "names no level of this job"));
    }
    text(&format!("{path}.name"), &room.name, 0)?;
    room.check_ranges(path)?;
    if let Some(zone) = &room.zone {
        let field = format!("{path}.zone");
        text(&field, zone, 1)?;
        if zone.chars().count() > 60 {
            return Err(FieldError::new(field, "must not be longer than 60 characters"));
        }
    }
    if let Some(unheated) = &room.unheated {
        unheated.check_ranges(&format!("{path}.unheated"))?;
    }
    beyond(&room.above, &format!("{path}.above"), false)?;
    beyond(&room.below, &format!("{path}.below"), true)?;
    for (id, field, position) in
        [(&room.roof_id, "roof_id", Position::Roof), (&room.floor_id, "floor_id", Position::Floor)]
    {
        job.check_construction(&format!("{path}.{field}"), id.as_deref(), position)?;
    }
    walls(job, room, path)?;
    found_on_site(room, path)?;
    for (i, o) in room.openings.iter().enumerate() {
        opening(job, room, o, &format!("{path}.openings[{i}]"))?;
    }
    for (i, k) in room.keep_outs.iter().enumerate() {
        keep_out(k, &format!("{path}.keep_outs[{i}]"))?;
    }
    Ok(())
}

fn beyond(beyond: &Beyond, path: &str, floor: bool) -> Result<(), FieldError> {
    if *beyond == Beyond::CrawlSpace && !floor {
        return Err(FieldError::new(path, "a crawl space lies below a floor"));
    }
    beyond.check_ranges(path)
}

fn walls(job: &Job, room: &Room, path: &str) -> Result<(), FieldError> {
    let (mut told, mut sloped) = (BTreeSet::new(), BTreeSet::new());
    for (i, wall) in room.walls.iter().enumerate() {
        let path = format!("{path}.walls[{i}]");
        wall_index(&format!("{path}.edge"), wall.edge, room)?;
        if !told.insert(wall.edge) {
            return Err(FieldError::new(format!("{path}.edge"), "this wall is listed twice"));
        }
        if let Some(b) = &wall.beyond {
            beyond(b, &format!("{path}.beyond"), false)?;
        }
        wall.check_ranges(&path)?;
        job.check_construction(&format!("{path}.construction_id"), wall.construction_id.as_deref(), Position::Wall)?;
    }
    for (i, slope) in room.slopes.iter().enumerate() {
        let path = format!("{path}.slopes[{i}]");
        wall_index(&format!("{path}.edge"), slope.edge, room)?;
        if !sloped.insert(slope.edge) {
            return Err(FieldError::new(format!("{path}.edge"), "this wall has two slopes"));
        }
        slope.check_ranges(&path)?;
    }
    Ok(())
}

/// Thermal bridges calculated by hand, emitters.
fn found_on_site(room: &Room, path: &str) -> Result<(), FieldError> {
    for (i, bridge) in room.bridges.iter().enumerate() {
        let path = format!("{path}.bridges[{i}]");
        text(&format!("{path}.name"), &bridge.name, 0)?;
        bridge.check_ranges(&path)?;
    }
    for (i, emitter) in room.emitters.iter().enumerate() {
        let path = format!("{path}.emitters[{i}]");
        text(&format!("{path}.name"), &emitter.name, 0)?;
        emitter.check_ranges(&path)?;
        file_id(&format!("{path}.photo_id"), emitter.photo_id.as_deref())?;
    }
    Ok(())
}

fn opening(job: &Job, room: &Room, opening: &Opening, path: &str) -> Result<(), FieldError> {
    wall_index(&format!("{path}.edge"), opening.edge, room)?;
    opening.check_ranges(path)?;
    let position = if opening.kind.is_window() { Position::Window } else { Position::Door };
    job.check_construction(&format!("{path}.construction_id"), opening.construction_id.as_deref(), position)
}

fn keep_out(k: &KeepOut, path: &str) -> Result<(), FieldError> {
    text(&format!("{path}.name"), &k.name, 0)?;
    k.check_ranges(path)?;
    if k.x1_m <= k.x0_m {
        return Err(FieldError::new(format!("{path}.x1_m"), "must be greater than x0_m"));
    }
    if k.y1_m <= k.y0_m {
        return Err(FieldError::new(format!("{path}.y1_m"), "must be greater than y0_m"));
    }
    file_id(&format!("{path}.photo_id"), k.photo_id.as_deref())
}

fn marks(job: &Job) -> Result<(), FieldError> {
    for (i, mark) in job.marks.iter().enumerate() {
        let path = format!("marks[{i}]");
        if job.level(&mark.level_id).is_none() {
            return Err(FieldError::new(format!("{path}.level_id"), "names no level of this job"));
        }
        mark.check_ranges(&path)?;
        let points = if mark.kind == MarkKind::Note { 1 } else { 2 };
        if mark.points.len() != points {
            let reason = format!("must have {points} entries, not {}", mark.points.len());
            return Err(FieldError::new(format!("{path}.points"), reason));
        }
        text(&format!("{path}.text"), &mark.text, 0)?;
        file_id(&format!("{path}.photo_id"), mark.photo_id.as_deref())?;
    }
    Ok(())
}

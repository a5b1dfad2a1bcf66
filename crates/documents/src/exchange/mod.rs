//! Rooms and openings out of and into open formats: DXF, GeoJSON, CSV. An import takes what reads and names what does
//! not; nothing that reads is lost because a neighbour does not.

pub mod dxf;
pub mod geojson;
pub mod openings_csv;
pub mod prices_csv;
pub mod rooms_csv;
mod sheet;

use fuoco_core::error::FieldError;
use fuoco_core::geometry::outline;
use fuoco_core::job::{Beyond, CheckedJob, Job, MAX_CORNERS, MAX_ROOMS, Point, Room, Usage};
use serde::{Deserialize, Serialize};
use sheet::Row;
use std::collections::BTreeSet;

/// A file larger than this is refused, bytes.
pub const LARGEST_FILE: usize = 24 << 20;
/// At most this many problems are told; the rest are counted.
const MOST_PROBLEMS: usize = 50;
/// Of more rows than this none is checked by itself.
const MOST_ROWS_CHECKED: usize = 1000;
/// An outline smaller than this is furniture, m².
const SMALLEST_ROOM_M2: f64 = 0.4;

/// Something of a file that was not taken.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct ImportProblem {
    /// Line of the file, where it has lines.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub line: Option<usize>,
    /// What is wrong, or what was assumed.
    pub reason: String,
}

/// A job with what a file brought.
#[derive(Debug, Clone, PartialEq, Serialize, utoipa::ToSchema)]
pub struct Imported {
    /// The job with it.
    #[schema(value_type = Object)]
    pub job: CheckedJob,
    /// Rooms or openings added.
    pub added: usize,
    /// Rooms or openings changed.
    pub changed: usize,
    /// What was not taken, or assumed.
    pub problems: Vec<ImportProblem>,
}

/// A job while a file is taken into it.
#[derive(Clone)]
struct Import {
    job: Job,
    added: usize,
    changed: usize,
    problems: Vec<ImportProblem>,
}

impl Import {
    fn new(job: &CheckedJob) -> Import {
        Import { job: Job::clone(job), added: 0, changed: 0, problems: vec![] }
    }

    /// What was taken.
    ///
    /// # Errors
    /// When the job is no longer sound with it.
    fn done(self) -> Result<Imported, FieldError> {
        let Import { job, added, changed, problems } = self;
        let job = CheckedJob::new(job)?;
        // what is taken here can be saved
        job.compact()?;
        Ok(Imported { job, added, changed, problems })
    }

    /// Takes rows one after the other. Where the whole is not sound, each row is looked at by itself, and those after which
    /// the job is not are left out and named.
    ///
    /// # Errors
    /// When the job is not sound and there are too many rows to look at each.
    fn rows(
        self,
        rows: &[Row],
        take: impl Fn(&mut Import, &Row) -> Result<(), String>,
    ) -> Result<Imported, FieldError> {
        let mut all = self.clone();
        for row in rows {
            if let Err(reason) = take(&mut all, row) {
                all.problem(Some(row.line), reason);
            }
        }
        if all.job.check().is_ok() || rows.len() > MOST_ROWS_CHECKED {
            return all.done();
        }
        let mut sound = self;
        for row in rows {
            let mut with = sound.clone();
            match take(&mut with, row).and_then(|()| with.job.check().map_err(|e| e.to_string())) {
                Ok(()) => sound = with,
                Err(reason) => sound.problem(Some(row.line), reason),
            }
        }
        sound.done()
    }

    fn problem(&mut self, line: Option<usize>, reason: impl Into<String>) {
        if self.problems.len() < MOST_PROBLEMS {
            self.problems.push(ImportProblem { line, reason: reason.into() });
        } else if self.problems.len() == MOST_PROBLEMS {
            self.problems.push(ImportProblem { line: None, reason: "and more of the like".into() });
        }
    }

    /// Adds a room like the last one, or says why not.
    fn add_room(&mut self, level_id: &str, name: &str, outline: Vec<Point>, line: Option<usize>) -> Option<usize> {
        let outline: Vec<Point> = outline.iter().map(|p| p.map(|v| (v * 1e4).round() / 1e4)).collect();
        let who = if name.is_empty() { "an outline".to_owned() } else { format!("\"{name}\"") };
        if self.job.rooms.len() >= MAX_ROOMS {
            self.problem(line, format!("{who} is one too many: a job has at most {MAX_ROOMS} rooms"));
            return None;
        }
        if let Err(reason) = sound(&outline) {
            self.problem(line, format!("{who} {reason}"));
            return None;
        }
        let room = room_like(&self.job, level_id, name, outline);
        self.job.rooms.push(room);
        self.added += 1;
        Some(self.job.rooms.len() - 1)
    }
}

/// Whether an outline can be a room's; why not.
fn sound(outline: &[Point]) -> Result<(), String> {
    if !(3..=MAX_CORNERS).contains(&outline.len()) {
        let corners = if outline.len() == 1 { "corner" } else { "corners" };
        return Err(format!("has {} {corners}; a room has 3 to {MAX_CORNERS}", outline.len()));
    }
    if outline.iter().flatten().any(|v| !v.is_finite() || v.abs() > 1000.0) {
        return Err("lies more than 1000 m from the plan's origin".into());
    }
    if outline::signed_area(outline).abs() < SMALLEST_ROOM_M2 {
        return Err("is too small for a room".into());
    }
    if !outline::is_simple(outline) {
        return Err("crosses itself".into());
    }
    Ok(())
}

/// A new id of that kind, unused in the job.
fn new_id(job: &Job, kind: &str) -> String {
    let used: BTreeSet<&str> = job
        .rooms
        .iter()
        .flat_map(|r| {
            std::iter::once(r.id.as_str())
                .chain(r.openings.iter().map(|o| o.id.as_str()))
                .chain(r.keep_outs.iter().map(|k| k.id.as_str()))
                .chain(r.emitters.iter().map(|e| e.id.as_str()))
                .chain(r.fields.iter().map(|f| f.id.as_str()))
        })
        .chain(job.loops.iter().map(|l| l.id.as_str()))
        .chain(job.manifolds.iter().map(|m| m.id.as_str()))
        .chain(job.marks.iter().map(|m| m.id.as_str()))
        .collect();
    (1..).map(|n| format!("{kind}-{n}")).find(|id| !used.contains(id.as_str())).unwrap_or_default()
}

/// A room with the figures of the room before it: the likeliest ones.
fn room_like(job: &Job, level_id: &str, name: &str, outline: Vec<Point>) -> Room {
    let last = job.rooms.iter().rev().find(|r| r.is_heated());
    let name = if name.trim().is_empty() { format!("Room {}", job.rooms.len() + 1) } else { name.trim().to_owned() };
    Room {
        id: new_id(job, "room"),
        name: name.chars().take(200).collect(),
        level_id: level_id.to_owned(),
        usage: last.map_or(Usage::Living, |r| r.usage),
        outline,
        height_m: last.map_or(2.5, |r| r.height_m),
        room_c: last.map_or(20.0, |r| r.room_c),
        zone: None,
        governs: None,
        unheated: None,
        air_changes_per_h: last.and_then(|r| r.air_changes_per_h),
        supply_m3_h: 0.0,
        extract_m3_h: 0.0,
        above: last.map_or(Beyond::Outside, |r| r.above),
        below: last.map_or(Beyond::Ground, |r| r.below),
        roof_id: None,
        floor_id: None,
        slopes: vec![],
        bridges: vec![],
        emitters: vec![],
        walls: vec![],
        openings: vec![],
        keep_outs: vec![],
        floor: last.and_then(|r| r.floor.clone()),
        fields: vec![],
        melt: last.and_then(|r| r.melt),
        summer: None,
    }
}

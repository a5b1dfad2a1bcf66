//! Openings as a table: one row a window, door, doorway or sleeve. Walls count from 1 in the order of the outline.

use super::sheet::{Heading, Row, Sheet};
use super::{Import, Imported, new_id};
use crate::csv_text::{table, word};
use fuoco_core::error::FieldError;
use fuoco_core::job::{CheckedJob, Job, Opening, OpeningKind};
use fuoco_core::plan;
use fuoco_core::units::{Quantity as Q, Units};

const HEADINGS: [Heading; 10] = [
    ("room", None),
    ("wall", None),
    ("kind", None),
    ("from corner", Some(Q::Length)),
    ("width", Some(Q::Length)),
    ("height", Some(Q::Length)),
    ("sill", Some(Q::Length)),
    ("u", Some(Q::Transmittance)),
    ("g", None),
    ("id", None),
];
const MOST_OPENINGS: usize = 100;

/// The table of all openings in the job's units.
pub fn write(job: &Job) -> String {
    let units = job.site.units;
    let head = HEADINGS.iter().map(|(name, q)| match q {
        Some(Q::Length) => format!("{name} ({})", if units == Units::Us { "ft" } else { "m" }),
        Some(q) => format!("{name} ({})", units.symbol(*q)),
        None => (*name).to_owned(),
    });
    let figure = |q: Q, v: f64| format!("{}", (units.convert(q, v) * 1e4).round() / 1e4);
    let mut records = vec![head.collect::<Vec<_>>()];
    for (room, o) in job.rooms.iter().flat_map(|r| r.openings.iter().map(move |o| (r, o))) {
        let kind = serde_json::to_value(o.kind).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default();
        records.push(vec![
            word(&room.name),
            (o.edge + 1).to_string(),
            kind,
            figure(Q::Length, o.offset_m),
            figure(Q::Length, o.width_m),
            figure(Q::Length, o.height_m),
            figure(Q::Length, o.sill_m),
            o.u.map(|u| figure(Q::Transmittance, u)).unwrap_or_default(),
            o.g.map(|g| g.to_string()).unwrap_or_default(),
            word(&o.id),
        ]);
    }
    table(records)
}

/// Reads openings: those whose id the job has already are changed, others added.
///
/// # Errors
/// When the table's headings do not read.
pub fn read(job: &CheckedJob, text: &str) -> Result<Imported, FieldError> {
    let sheet = Sheet::read(text, &HEADINGS, &["room", "wall", "kind", "width", "height"], job.site.units)?;
    let rows: Vec<Row> = sheet.rows().collect();
    Import::new(job).rows(&rows, opening)
}

fn opening(out: &mut Import, row: &Row) -> Result<(), String> {
    let name = row.text("room");
    let index = out.job.rooms.iter().position(|r| r.name == name || r.id == name);
    let index = index.ok_or_else(|| format!("there is no room \"{name}\""))?;
    let walls = out.job.rooms[index].outline.len();
    let wall = row.text("wall").parse::<usize>().ok().filter(|w| (1..=walls).contains(w));
    let edge = wall.ok_or_else(|| format!("wall \"{}\" must be 1 to {walls}", row.text("wall")))? - 1;
    let word = row.text("kind").to_lowercase().replace(' ', "_");
    let kind: OpeningKind = serde_json::from_value(serde_json::Value::String(word)).map_err(|_| {
        format!("kind \"{}\" must be window, outside door, doorway, sleeve or roof window", row.text("kind"))
    })?;
    let needed = |v: Option<f64>, what: &str| v.ok_or_else(|| format!("{what} is missing"));
    let width_m = needed(row.within("width", 0.05, 50.0)?, "width")?;
    let height_m = needed(row.within("height", 0.02, 20.0)?, "height")?;
    let offset_m = row.within("from corner", 0.0, 200.0)?;
    let units = out.job.site.units;
    let shown = |m: f64| units.show(Q::Length, m);
    let room = &out.job.rooms[index];
    let length = plan::edges(room).iter().find(|e| e.index == edge).map_or(0.0, plan::edge::Edge::length);
    if offset_m.unwrap_or(0.0) + width_m > length + 1e-3 {
        return Err(format!("reaches beyond wall {} of \"{name}\", which is {} long", edge + 1, shown(length)));
    }
    let sill_m = row.within("sill", 0.0, 20.0)?.unwrap_or(0.0);
    if kind != OpeningKind::RoofWindow && sill_m + height_m > room.height_m + 1e-3 {
        return Err(format!("reaches above the ceiling of \"{name}\" at {}", shown(room.height_m)));
    }
    let u = row.within("u", 0.05, 8.0)?;
    let g = row.within("g", 0.0, 1.0)?;
    let id = row.text("id");
    let offset_m = offset_m.unwrap_or((length - width_m) / 2.0);
    let known = out.job.rooms.iter().position(|r| r.openings.iter().any(|o| o.id == id));
    let construction_id = None;
    let mut new = Opening { id: id.into(), kind, edge, offset_m, width_m, height_m, sill_m, u, g, construction_id };
    if let Some(owner) = known {
        let Some(at) = out.job.rooms[owner].openings.iter().position(|o| o.id == id) else { return Ok(()) };
        let old = out.job.rooms[owner].openings.remove(at);
        if old.kind == kind {
            new.construction_id = old.construction_id;
        }
        let place = if owner == index { at } else { out.job.rooms[index].openings.len() };
        out.job.rooms[index].openings.insert(place, new);
        out.changed += 1;
        return Ok(());
    }
    if room.openings.len() >= MOST_OPENINGS {
        return Err(format!("\"{name}\" has {MOST_OPENINGS} openings already"));
    }
    new.id = new_id(&out.job, "opening");
    out.job.rooms[index].openings.push(new);
    out.added += 1;
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn checked(job: &Job) -> CheckedJob {
        CheckedJob::new(job.clone()).expect("sound")
    }

    fn demo() -> Job {
        fuoco_core::samples::read_job(include_str!("../../../../demo/tamarack-dance-school.json"))
            .expect("the demo is sound")
    }

    #[test]
    fn a_table_that_came_out_changes_nothing() {
        let job = demo();
        let got = read(&checked(&job), &write(&job)).expect("reads");
        let openings: usize = job.rooms.iter().map(|r| r.openings.len()).sum();
        assert_eq!((got.added, got.changed, got.problems.len()), (0, openings, 0), "{:?}", got.problems);
        assert_eq!(*got.job, job);
    }

    #[test]
    fn windows_are_added_and_errors_told_by_line() {
        let mut job = Job::new("x");
        let hall = "room,width (m),depth (m)\nHall,5,4\n";
        job = super::super::rooms_csv::read(&checked(&job), "ground", hall).expect("reads").job.into_job();
        let text = "room,wall,kind,from corner (cm),width (mm),height (m),sill (in),u,g\n\
                    Hall,1,window,50,1200,1.2,36,1.1,0.5\n\
                    Hall,9,window,50,1200,1.2,36,,\n\
                    Attic,1,window,50,1200,1.2,36,,\n\
                    Hall,1,hatch,50,1200,1.2,36,,\n\
                    Hall,2,window,350,1200,1.2,36,,\n\
                    Hall,2,window,50,1200,2.2,36,,\n\
                    Hall,2,window,50,1200,1.2,36,0,\n\
                    Hall,2,outside door,,900,2.0,,,\n";
        let got = read(&checked(&job), text).expect("reads");
        assert_eq!(got.added, 2, "{:?}", got.problems);
        assert_eq!(got.problems.iter().filter_map(|p| p.line).collect::<Vec<_>>(), [3, 4, 5, 6, 7, 8]);
        let (w, d) = (&got.job.rooms[0].openings[0], &got.job.rooms[0].openings[1]);
        assert!((w.offset_m - 0.5).abs() < 1e-9 && (w.width_m - 1.2).abs() < 1e-9 && (w.sill_m - 0.9144).abs() < 1e-9);
        assert!((d.offset_m - (4.0 - 0.9) / 2.0).abs() < 1e-9, "in the middle of its wall");
        got.job.check().expect("a sound job");
    }
}

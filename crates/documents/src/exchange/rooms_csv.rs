//! Rooms as a table: one row a room, a rectangle by its corner and sides, any other outline by its corners.

use super::sheet::{Heading, Row, Sheet};
use super::{Import, Imported, sound};
use crate::csv_text::{table, word};
use fuoco_core::error::FieldError;
use fuoco_core::job::{CheckedJob, Job, Point, Room, Unheated, Usage};
use fuoco_core::units::Quantity as Q;

const HEADINGS: [Heading; 14] = [
    ("room", None),
    ("level", None),
    ("use", None),
    ("x", Some(Q::Length)),
    ("y", Some(Q::Length)),
    ("width", Some(Q::Length)),
    ("depth", Some(Q::Length)),
    ("height", Some(Q::Length)),
    ("temperature", Some(Q::Temperature)),
    ("heated", None),
    ("air changes", Some(Q::Rate)),
    ("supply air", None),
    ("extract air", None),
    ("outline m", None),
];

/// The table of all rooms in the job's units; outlines are always in metres.
pub fn write(job: &Job) -> String {
    let units = job.site.units;
    let head = HEADINGS.iter().map(|(name, q)| match q {
        Some(Q::Length) => format!("{name} ({})", if units == fuoco_core::units::Units::Us { "ft" } else { "m" }),
        Some(q) => format!("{name} ({})", units.symbol(*q)),
        None => (*name).to_owned(),
    });
    let figure = |q: Q, v: f64| format!("{}", (units.convert(q, v) * 1e4).round() / 1e4);
    let mut records = vec![head.collect::<Vec<_>>()];
    for r in &job.rooms {
        let level = job.level(&r.level_id).map_or("", |l| l.name.as_str());
        let usage = serde_json::to_value(r.usage).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default();
        let sides = rectangle(r).map(|s| s.map(|v| figure(Q::Length, v))).unwrap_or_default();
        let [x, y, width, depth] = sides;
        let corners: Vec<String> = r.outline.iter().map(|p| format!("{} {}", p[0], p[1])).collect();
        records.push(vec![
            word(&r.name),
            word(level),
            usage,
            x.clone(),
            y,
            width,
            depth,
            figure(Q::Length, r.height_m),
            figure(Q::Temperature, r.room_c),
            if r.is_heated() { "yes" } else { "no" }.to_owned(),
            r.air_changes_per_h.map(|n| figure(Q::Rate, n)).unwrap_or_default(),
            format!("{}", r.supply_m3_h),
            format!("{}", r.extract_m3_h),
            if x.is_empty() { corners.join("; ") } else { String::new() },
        ]);
    }
    table(records)
}

/// Corner and sides of a rectangle along the axes, drawn from its lower left corner anticlockwise.
fn rectangle(room: &Room) -> Option<[f64; 4]> {
    let o = &room.outline;
    let right = o.len() == 4 && o[0][1] == o[1][1] && o[1][0] == o[2][0] && o[2][1] == o[3][1] && o[3][0] == o[0][0];
    (right && o[0][0] < o[2][0] && o[0][1] < o[2][1]).then(|| [o[0][0], o[0][1], o[2][0] - o[0][0], o[2][1] - o[0][1]])
}

/// Reads rooms: those whose name a level has already are changed, others added.
///
/// # Errors
/// When the table's headings do not read.
pub fn read(job: &CheckedJob, level_id: &str, text: &str) -> Result<Imported, FieldError> {
    let sheet = Sheet::read(text, &HEADINGS, &["room"], job.site.units)?;
    let rows: Vec<Row> = sheet.rows().collect();
    Import::new(job).rows(&rows, |out, row| room(out, level_id, row))
}

fn room(out: &mut Import, level_id: &str, row: &Row) -> Result<(), String> {
    let name = row.text("room");
    if name.is_empty() {
        return Err("the room has no name".into());
    }
    let level = row.text("level");
    let level_id = if level.is_empty() {
        level_id.to_owned()
    } else {
        let found = out.job.levels.iter().find(|l| l.name.eq_ignore_ascii_case(level) || l.id == level);
        found.ok_or_else(|| format!("there is no level \"{level}\""))?.id.clone()
    };
    let outline = outline(row)?;
    let height = row.within("height", 1.5, 20.0)?;
    let temperature = row.within("temperature", 5.0, 35.0)?;
    let air = row.within("air changes", 0.0, 20.0)?;
    let supply = row.within("supply air", 0.0, 100_000.0)?;
    let extract = row.within("extract air", 0.0, 100_000.0)?;
    let heated = match row.text("heated").to_lowercase().as_str() {
        "" => None,
        "yes" | "true" | "1" => Some(true),
        "no" | "false" | "0" => Some(false),
        other => return Err(format!("heated \"{other}\" must be yes or no")),
    };
    let usage: Option<Usage> = match row.text("use") {
        "" => None,
        word => Some(serde_json::from_value(serde_json::Value::String(word.to_lowercase())).map_err(|_| {
            format!("use \"{word}\" must be living, bedroom, kitchen, bath, corridor, work, hall, store or plant")
        })?),
    };
    let known = out.job.rooms.iter().position(|r| r.name == name && r.level_id == level_id);
    let index = match (known, outline) {
        (Some(i), outline) => {
            if let Some(outline) = outline {
                // openings keep their walls as long as there are as many
                if outline.len() < out.job.rooms[i].outline.len() {
                    let room = &out.job.rooms[i];
                    let hung = room.openings.iter().map(|o| o.edge).chain(room.walls.iter().map(|w| w.edge));
                    if hung.chain(room.slopes.iter().map(|s| s.edge)).any(|e| e >= outline.len()) {
                        return Err(format!("\"{name}\" would lose walls that have openings"));
                    }
                }
                sound(&outline).map_err(|e| format!("\"{name}\" {e}"))?;
                out.job.rooms[i].outline = outline;
            }
            out.changed += 1;
            i
        }
        (None, Some(outline)) => match out.add_room(&level_id, name, outline, Some(row.line)) {
            Some(i) => i,
            None => return Ok(()),
        },
        (None, None) => return Err(format!("\"{name}\" is new and needs width and depth, or an outline")),
    };
    let room = &mut out.job.rooms[index];
    room.height_m = height.unwrap_or(room.height_m);
    room.room_c = temperature.unwrap_or(room.room_c);
    room.air_changes_per_h = air.or(room.air_changes_per_h);
    room.supply_m3_h = supply.unwrap_or(room.supply_m3_h);
    room.extract_m3_h = extract.unwrap_or(room.extract_m3_h);
    room.usage = usage.unwrap_or(room.usage);
    match heated {
        Some(true) => room.unheated = None,
        Some(false) if room.unheated.is_none() => room.unheated = Some(Unheated::default()),
        _ => {}
    }
    Ok(())
}

fn outline(row: &Row) -> Result<Option<Vec<Point>>, String> {
    let text = row.text("outline m");
    if !text.is_empty() {
        let corner = |c: &str| -> Option<Point> {
            let mut v = c.split_whitespace().map(|n| n.parse::<f64>());
            let p = [v.next()?.ok()?, v.next()?.ok()?];
            v.next().is_none().then_some(p)
        };
        let corners: Option<Vec<Point>> = text.split(';').map(corner).collect();
        return corners
            .map(Some)
            .ok_or_else(|| format!("outline \"{text}\" must be corners \"x y\" with semicolons between"));
    }
    let (width, depth) = (row.within("width", 0.3, 200.0)?, row.within("depth", 0.3, 200.0)?);
    let (Some(width), Some(depth)) = (width, depth) else { return Ok(None) };
    let x = row.within("x", -1000.0, 1000.0)?.unwrap_or(0.0);
    let y = row.within("y", -1000.0, 1000.0)?.unwrap_or(0.0);
    let r = |v: f64| (v * 1e4).round() / 1e4;
    Ok(Some(vec![[r(x), r(y)], [r(x + width), r(y)], [r(x + width), r(y + depth)], [r(x), r(y + depth)]]))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn checked(job: &Job) -> CheckedJob {
        CheckedJob::new(job.clone()).expect("sound")
    }
    use fuoco_core::units::Units;

    fn demo() -> Job {
        fuoco_core::samples::read_job(include_str!("../../../../demo/tamarack-dance-school.json"))
            .expect("the demo is sound")
    }

    #[test]
    fn a_table_goes_out_and_comes_back_in_both_systems() {
        for units in [Units::Metric, Units::Us] {
            let mut job = demo();
            job.site.units = units;
            let mut bare = job.clone();
            bare.rooms.clear();
            bare.manifolds.clear();
            bare.marks.clear();
            let got = read(&checked(&bare), "ground", &write(&job)).expect("reads");
            assert_eq!((got.added, got.problems.len()), (job.rooms.len(), 0), "{:?}", got.problems);
            for (a, b) in got.job.rooms.iter().zip(&job.rooms) {
                assert_eq!(
                    (&a.name, a.usage, a.is_heated(), &a.level_id),
                    (&b.name, b.usage, b.is_heated(), &b.level_id)
                );
                // a ten-thousandth of a foot in the table
                let near = |p: &Point, q: &Point| p.iter().zip(q).all(|(u, v)| (u - v).abs() < 1e-4);
                assert!(a.outline.iter().zip(&b.outline).all(|(p, q)| near(p, q)), "{}", a.name);
                assert!((a.height_m - b.height_m).abs() < 1e-4 && (a.room_c - b.room_c).abs() < 1e-4);
            }
            got.job.check().expect("a sound job");
        }
    }

    #[test]
    fn errors_are_told_by_line_and_the_rest_is_kept() {
        let text = "room;width (ft);depth (ft);temperature (°C);use\n\
                    Hall;13,5;10;21;hall\n\
                    Tiny;0,1;10;21;hall\n\
                    ;10;10;21;hall\n\
                    Cold;10;10;-40;hall\n\
                    Odd;10;10;21;palace\n\
                    Wordy;ten;10;21;hall\n\
                    Later;;;21;hall\n\
                    Last;10;12;20;bath\n";
        let got = read(&checked(&Job::new("x")), "ground", text).expect("reads");
        assert_eq!(got.added, 2);
        assert!((got.job.rooms[0].outline[2][0] - 13.5 * 0.3048).abs() < 1e-4);
        let lines: Vec<_> = got.problems.iter().map(|p| p.line).collect();
        assert_eq!(lines, [3, 4, 5, 6, 7, 8].map(Some), "{:?}", got.problems);
        // 0.3 m to 200 m, in the feet of the column
        assert_eq!(got.problems[0].reason, "width \"0,1\" must be between 0.98 and 656.17");
    }

    #[test]
    fn wrong_units_and_missing_headings_are_refused() {
        let refused = |t: &str| read(&checked(&Job::new("x")), "ground", t).expect_err("refused");
        assert!(refused("room,width (kg),depth (m)\nA,1,2\n").reason.contains("kg"));
        assert!(refused("name,width\nA,1\n").reason.contains("room"));
        assert_eq!(refused("").field, "line 1");
    }

    #[test]
    fn a_known_room_is_changed() {
        let job = demo();
        let name = &job.rooms[0].name;
        let got = read(&checked(&job), "ground", &format!("room,temperature (°F)\n\"{name}\",68\nNobody,60\n"))
            .expect("reads");
        assert_eq!((got.added, got.changed, got.problems.len()), (0, 1, 1));
        assert!((got.job.rooms[0].room_c - 20.0).abs() < 1e-6);
        assert_eq!(got.job.rooms[0].openings, job.rooms[0].openings);
    }

    /// A row that would leave a manifold without its wall was taken, and the next call refused the job.
    #[test]
    fn a_row_after_which_the_job_is_not_sound_is_left_out_and_named() {
        let mut job = Job::new("x");
        let corners = "room,outline m\nHall,0 0;6 0;6 3;3 3;3 5;0 5\n";
        job = read(&checked(&job), "ground", corners).expect("reads").job.into_job();
        let room_id = job.rooms[0].id.clone();
        let letter = "A".to_owned();
        job.manifolds.push(fuoco_core::job::Manifold {
            id: "m".into(),
            letter,
            room_id,
            edge: 5,
            offset_m: 1.0,
            ports: 8,
            risers: vec![],
            valve_table: vec![],
        });
        let table = "room,width (m),depth (m),temperature (°C)\nHall,6,5,19\nBath,2,2,24\n";
        let got = read(&checked(&job), "ground", table).expect("takes the rest");
        assert_eq!((got.added, got.changed, got.job.rooms.len()), (1, 0, 2));
        assert_eq!(got.job.rooms[0].outline.len(), 6, "the hall is as it was");
        let [problem] = got.problems.as_slice() else { panic!("{:?}", got.problems) };
        assert_eq!(problem.line, Some(2));
        assert!(problem.reason.contains("manifolds[0].edge"), "{problem:?}");
    }
}

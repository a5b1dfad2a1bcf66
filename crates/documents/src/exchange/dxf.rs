//! Room outlines as DXF: closed polylines (arcs as short segments) and closed chains of lines become rooms, a text
//! inside one its name. Where there are layers named for rooms, only those are read.

use super::{Import, Imported, LARGEST_FILE};
use dxf::entities::{Circle, Entity, EntityCommon, EntityType, LwPolyline, Text};
use dxf::enums::{AcadVersion, Units};
use dxf::{Drawing, LwPolylineVertex};
use fuoco_core::error::FieldError;
use fuoco_core::geometry::{self, outline};
use fuoco_core::job::{CheckedJob, Job, Point};
use fuoco_core::plan;
use std::collections::BTreeMap;

/// A drawing with more entities is refused.
const MOST_ENTITIES: usize = 200_000;
/// Sections, layers and the like that a drawing may have besides its entities.
const MOST_TABLE_ENTRIES: usize = 20_000;
/// A hole in a joist is drawn with this radius, m.
const HOLE_RADIUS_M: f64 = 0.015;
/// Ends of lines nearer than this meet, m.
const JOIN_M: f64 = 0.002;
/// An arc's segments stray at most this far from it, m.
const SAGITTA_M: f64 = 0.01;

/// Reads outlines into a level of the job. `unit_m`: metres for a unit of the drawing, where it does not say.
///
/// # Errors
/// When the file is no DXF, or too large.
pub fn read(job: &CheckedJob, level_id: &str, bytes: &[u8], unit_m: Option<f64>) -> Result<Imported, FieldError> {
    if bytes.len() > LARGEST_FILE {
        return Err(FieldError::new("file", format!("must not be larger than {} MB", LARGEST_FILE >> 20)));
    }
    // lines come in pairs of code and value, and code 0 starts an entity: counted before the whole is read
    let starts = bytes.split(|b| *b == b'\n').step_by(2).filter(|code| code.trim_ascii() == b"0").count();
    if starts > MOST_ENTITIES + MOST_TABLE_ENTRIES {
        return Err(FieldError::new("file", format!("must not have more than {MOST_ENTITIES} entities")));
    }
    // a damaged file must not take the server down with the library that reads it
    let drawing = std::panic::catch_unwind(|| Drawing::load(&mut std::io::Cursor::new(bytes)))
        .map_err(|_| FieldError::new("file", "is a damaged DXF"))?
        .map_err(|e| FieldError::new("file", format!("is no DXF that reads: {e}")))?;
    let entities: Vec<&Entity> = drawing.entities().take(MOST_ENTITIES + 1).collect();
    if entities.len() > MOST_ENTITIES {
        return Err(FieldError::new("file", format!("must not have more than {MOST_ENTITIES} entities")));
    }
    let mut out = Import::new(job);
    let unit = unit_m.or_else(|| metres(drawing.header.default_drawing_units));

    let mut loops: Vec<(String, Vec<Point>)> = Vec::new();
    let mut lines: BTreeMap<String, Vec<[Point; 2]>> = BTreeMap::new();
    let mut texts: Vec<(Point, String)> = Vec::new();
    let mut strange = 0;
    for e in &entities {
        let layer = e.common.layer.clone();
        match &e.specific {
            EntityType::LwPolyline(p) => {
                let corners: Vec<(Point, f64)> = p.vertices.iter().map(|v| ([v.x, v.y], v.bulge)).collect();
                loops.extend(closed(&corners, p.is_closed()).map(|l| (layer, l)));
            }
            EntityType::Polyline(p) => {
                let corners: Vec<(Point, f64)> =
                    p.vertices().map(|v| ([v.location.x, v.location.y], v.bulge)).collect();
                loops.extend(closed(&corners, p.is_closed()).map(|l| (layer, l)));
            }
            EntityType::Line(l) => lines.entry(layer).or_default().push([[l.p1.x, l.p1.y], [l.p2.x, l.p2.y]]),
            EntityType::Text(t) => texts.push(([t.location.x, t.location.y], t.value.clone())),
            EntityType::MText(t) => texts.push(([t.insertion_point.x, t.insertion_point.y], plain(&t.text))),
            _ => strange += 1,
        }
    }
    let extent = loops.iter().flat_map(|l| &l.1).chain(lines.values().flatten().flatten());
    let (low, high) = extent.fold(([f64::MAX; 2], [f64::MIN; 2]), |(l, h), p| {
        ([l[0].min(p[0]), l[1].min(p[1])], [h[0].max(p[0]), h[1].max(p[1])])
    });
    let unit = unit.unwrap_or_else(|| {
        let millimetres = (high[0] - low[0]).max(high[1] - low[1]) > 300.0;
        let words = if millimetres { "millimetres" } else { "metres" };
        out.problem(None, format!("the drawing does not say its unit: taken for {words}"));
        if millimetres { 0.001 } else { 1.0 }
    });
    // surveys lie far from zero
    let far = [low[0], low[1], high[0], high[1]].iter().any(|v| (v * unit).abs() > 900.0);
    let shift = if far && low[0] < high[0] {
        out.problem(None, "the drawing lies far from its origin: moved there");
        low
    } else {
        [0.0, 0.0]
    };
    let place = |p: &Point| [(p[0] - shift[0]) * unit, (p[1] - shift[1]) * unit];
    for (layer, segments) in lines {
        let segments: Vec<[Point; 2]> = segments.iter().map(|s| [place(&s[0]), place(&s[1])]).collect();
        loops.extend(chains(&segments).into_iter().map(|l| {
            // back to drawing units: placed with the others below
            (layer.clone(), l.iter().map(|p| [p[0] / unit + shift[0], p[1] / unit + shift[1]]).collect())
        }));
    }
    let is_room = |layer: &str| layer.to_lowercase().contains("room");
    if loops.iter().any(|l| is_room(&l.0)) {
        loops.retain(|l| is_room(&l.0));
    }
    if loops.is_empty() {
        out.problem(None, "no closed outline: rooms are closed polylines, or lines that meet end to end");
    }
    for (_, points) in loops {
        let outline: Vec<Point> = tidy(points.iter().map(place).collect());
        let name = texts.iter().find(|(at, _)| outline::within(&outline, place(at))).map_or("", |t| t.1.as_str());
        out.add_room(level_id, name, outline, None);
    }
    if strange > 0 {
        out.problem(None, format!("{strange} entities of other kinds were left out"));
    }
    out.done()
}

fn metres(units: Units) -> Option<f64> {
    match units {
        Units::Inches => Some(0.0254),
        Units::Feet | Units::USSurveyFeet => Some(0.3048),
        Units::Millimeters => Some(0.001),
        Units::Centimeters => Some(0.01),
        Units::Decimeters => Some(0.1),
        Units::Meters => Some(1.0),
        _ => None,
    }
}

/// Formatting codes of a multi-line text taken out.
fn plain(text: &str) -> String {
    let text = text.replace("\\P", " ");
    text.rsplit(['}', ';', '{']).find(|s| !s.trim().is_empty()).unwrap_or_default().trim().to_owned()
}

/// The corners of a closed polyline, arcs cut into short segments. None where it is open.
fn closed(corners: &[(Point, f64)], flagged: bool) -> Option<Vec<Point>> {
    let n = corners.len();
    let meets = n > 3 && geometry::distance(corners[0].0, corners[n - 1].0) < 1e-6;
    if !(3..=5000).contains(&n) || !(flagged || meets) {
        return None;
    }
    let n = if meets { n - 1 } else { n };
    let mut out = Vec::new();
    for i in 0..n {
        let (p, bulge) = corners[i];
        let q = corners[(i + 1) % n].0;
        out.push(p);
        let chord = geometry::distance(p, q);
        if bulge.abs() < 1e-6 || chord < 1e-9 || !bulge.is_finite() {
            continue;
        }
        // bulge = tan(angle / 4); centre on the chord's bisector
        let angle = 4.0 * bulge.atan();
        let radius = chord / (2.0 * (angle / 2.0).sin().abs());
        let apothem = chord / 2.0 * (1.0 - bulge * bulge) / (2.0 * bulge);
        let (dx, dy) = ((q[0] - p[0]) / chord, (q[1] - p[1]) / chord);
        let centre = [(p[0] + q[0]) / 2.0 - dy * apothem, (p[1] + q[1]) / 2.0 + dx * apothem];
        let step = 2.0 * (1.0 - (SAGITTA_M / radius).min(0.5)).acos();
        let pieces = ((angle.abs() / step).ceil() as usize).clamp(2, 24);
        let start = (p[1] - centre[1]).atan2(p[0] - centre[0]);
        for k in 1..pieces {
            let a = start + angle * k as f64 / pieces as f64;
            out.push([centre[0] + radius * a.cos(), centre[1] + radius * a.sin()]);
        }
    }
    Some(out)
}

/// Corners that fall together taken out.
fn tidy(points: Vec<Point>) -> Vec<Point> {
    let mut out: Vec<Point> = Vec::with_capacity(points.len());
    for p in points {
        if out.last().is_none_or(|l| geometry::distance(*l, p) > JOIN_M) {
            out.push(p);
        }
    }
    while out.len() > 1 && geometry::distance(out[0], out[out.len() - 1]) <= JOIN_M {
        out.pop();
    }
    out
}

/// Closed chains of segments, each end shared by exactly two of them.
fn chains(segments: &[[Point; 2]]) -> Vec<Vec<Point>> {
    let key = |p: Point| ((p[0] / JOIN_M).round() as i64, (p[1] / JOIN_M).round() as i64);
    let mut at: BTreeMap<(i64, i64), Vec<usize>> = BTreeMap::new();
    for (i, s) in segments.iter().enumerate() {
        if s.iter().flatten().all(|v| v.is_finite()) && geometry::distance(s[0], s[1]) > JOIN_M {
            at.entry(key(s[0])).or_default().push(i);
            at.entry(key(s[1])).or_default().push(i);
        }
    }
    let mut used = vec![false; segments.len()];
    let mut out = Vec::new();
    for first in 0..segments.len() {
        if used[first] {
            continue;
        }
        let (mut points, mut segment, mut end) = (vec![segments[first][0]], first, segments[first][1]);
        used[first] = true;
        loop {
            if key(end) == key(points[0]) {
                out.push(points);
                break;
            }
            points.push(end);
            let next =
                at.get(&key(end)).filter(|m| m.len() == 2).and_then(|m| m.iter().find(|&&i| i != segment)).copied();
            let Some(next) = next.filter(|&i| !used[i]) else { break };
            used[next] = true;
            let s = segments[next];
            end = if key(s[0]) == key(end) { s[1] } else { s[0] };
            segment = next;
        }
    }
    out
}

/// A line on a layer of its own, with its tag in the middle.
pub(crate) struct Line {
    pub layer: String,
    pub points: Vec<Point>,
    pub tag: String,
}

/// The rooms of a level as a DXF drawing in metres: outlines on the layer ROOMS, openings on OPENINGS, keep-outs on
/// KEEP-OUTS, names on NAMES.
pub fn write(job: &Job, level_id: &str) -> Vec<u8> {
    write_with(job, level_id, &[], &[])
}

/// The rooms with lines in them, and holes on the layer JOIST-HOLES.
pub(crate) fn write_with(job: &Job, level_id: &str, lines: &[Line], holes: &[Point]) -> Vec<u8> {
    let mut drawing = Drawing::new();
    // the first version that knows units and light polylines
    drawing.header.version = AcadVersion::R2000;
    drawing.header.default_drawing_units = Units::Meters;
    let mut add = |layer: &str, specific: EntityType| {
        let common = EntityCommon { layer: layer.into(), ..EntityCommon::default() };
        drawing.add_entity(Entity { common, specific });
    };
    let vertex = |p: &Point| LwPolylineVertex { x: p[0], y: p[1], ..LwPolylineVertex::default() };
    for room in job.rooms.iter().filter(|r| r.level_id == level_id) {
        let mut outline = LwPolyline { vertices: room.outline.iter().map(vertex).collect(), ..LwPolyline::default() };
        outline.set_is_closed(true);
        add("ROOMS", EntityType::LwPolyline(outline));
        let walls = plan::edges(room);
        for o in &room.openings {
            let Some(w) = walls.iter().find(|w| w.index == o.edge) else { continue };
            let (s, t) = w.stretch(o.offset_m, o.width_m);
            let vertices = vec![vertex(&w.at(s)), vertex(&w.at(t))];
            add("OPENINGS", EntityType::LwPolyline(LwPolyline { vertices, ..LwPolyline::default() }));
        }
        for k in &room.keep_outs {
            let corners = [[k.x0_m, k.y0_m], [k.x1_m, k.y0_m], [k.x1_m, k.y1_m], [k.x0_m, k.y1_m]];
            let mut box_ = LwPolyline { vertices: corners.iter().map(vertex).collect(), ..LwPolyline::default() };
            box_.set_is_closed(true);
            add("KEEP-OUTS", EntityType::LwPolyline(box_));
        }
        let at = outline::inner_point(&room.outline);
        let location = dxf::Point::new(at[0], at[1], 0.0);
        add(
            "NAMES",
            EntityType::Text(Text { location, text_height: 0.25, value: room.name.clone(), ..Text::default() }),
        );
    }
    for l in lines {
        let vertices = l.points.iter().map(vertex).collect();
        add(&l.layer, EntityType::LwPolyline(LwPolyline { vertices, ..LwPolyline::default() }));
        let Some(at) = l.points.get(l.points.len() / 2) else { continue };
        let location = dxf::Point::new(at[0], at[1], 0.0);
        add("TAGS", EntityType::Text(Text { location, text_height: 0.15, value: l.tag.clone(), ..Text::default() }));
    }
    for p in holes {
        add("JOIST-HOLES", EntityType::Circle(Circle::new(dxf::Point::new(p[0], p[1], 0.0), HOLE_RADIUS_M)));
    }
    let mut out = Vec::new();
    drawing.save(&mut out).expect("memory takes any drawing");
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    fn checked(job: &Job) -> CheckedJob {
        CheckedJob::new(job.clone()).expect("sound")
    }
    use proptest::prelude::*;

    fn demo() -> Job {
        fuoco_core::samples::read_job(include_str!("../../../../demo/tamarack-dance-school.json"))
            .expect("the demo is sound")
    }

    fn empty() -> Job {
        Job::new("x")
    }

    fn drawing(entities: &str) -> String {
        format!("0\nSECTION\n2\nENTITIES\n{entities}0\nENDSEC\n0\nEOF\n")
    }

    fn line(a: Point, b: Point) -> String {
        format!("0\nLINE\n8\nwalls\n10\n{}\n20\n{}\n11\n{}\n21\n{}\n", a[0], a[1], b[0], b[1])
    }

    #[test]
    fn what_is_written_reads_back() {
        let job = demo();
        let level = &job.levels[0].id;
        let back = read(&checked(&empty()), "ground", &write(&job, level), None).expect("reads");
        let rooms: Vec<_> = job.rooms.iter().filter(|r| r.level_id == *level).collect();
        assert_eq!(back.added, rooms.len(), "{:?}", back.problems);
        for (room, original) in back.job.rooms.iter().zip(rooms) {
            assert_eq!(room.name, original.name);
            assert_eq!(room.outline, original.outline);
        }
        back.job.check().expect("a sound job");
    }

    #[test]
    fn lines_that_meet_are_an_outline_and_millimetres_are_guessed() {
        let corners = [[0.0, 0.0], [5000.0, 0.0], [5000.0, 4000.0], [0.0, 4000.0]];
        let lines: String = (0..4).map(|i| line(corners[i], corners[(i + 1) % 4])).collect();
        let text = drawing(&(lines + "0\nCIRCLE\n10\n1\n20\n1\n40\n3\n0\nTEXT\n10\n100\n20\n100\n40\n2\n1\nHall\n"));
        let got = read(&checked(&empty()), "ground", text.as_bytes(), None).expect("reads");
        assert_eq!((got.added, got.job.rooms[0].name.as_str()), (1, "Hall"));
        assert!((outline::signed_area(&got.job.rooms[0].outline).abs() - 20.0).abs() < 1e-9);
        let said: Vec<_> = got.problems.iter().map(|p| p.reason.as_str()).collect();
        assert!(
            said.iter().any(|r| r.contains("millimetres")) && said.iter().any(|r| r.contains("1 entities")),
            "{said:?}"
        );
    }

    #[test]
    fn a_bulge_becomes_a_curved_wall() {
        // a half circle of radius 2 on the east side: bulge 1
        let mut p = LwPolyline::default();
        p.set_is_closed(true);
        for (x, y, bulge) in [(0.0, 0.0, 0.0), (5.0, 0.0, 1.0), (5.0, 4.0, 0.0), (0.0, 4.0, 0.0)] {
            p.vertices.push(LwPolylineVertex { x, y, bulge, ..LwPolylineVertex::default() });
        }
        let corners: Vec<(Point, f64)> = p.vertices.iter().map(|v| ([v.x, v.y], v.bulge)).collect();
        let outline = closed(&corners, true).expect("closed");
        let exact = 20.0 + std::f64::consts::PI * 2.0;
        // chords of 10 mm sagitta lose at most that over the arc's length
        assert!((outline::signed_area(&outline) - exact).abs() < 0.01 * 6.3, "{}", outline::signed_area(&outline));
        assert!(outline.iter().any(|p| (p[0] - 7.0).abs() < 0.05));
    }

    #[test]
    fn files_that_are_none_are_refused_and_empty_ones_explained() {
        for bytes in [&b""[..], b"not a drawing", b"\x89PNG\r\n\x1a\n", b"0\nSECTION\n2\nENTITIES\n0\nLWPOLYLINE\n90\n"]
        {
            let said = match read(&checked(&empty()), "ground", bytes, None) {
                Err(e) => e.reason,
                Ok(got) => {
                    assert_eq!(got.added, 0);
                    got.problems.iter().map(|p| p.reason.as_str()).collect::<Vec<_>>().join("; ")
                }
            };
            assert!(said.contains("DXF") || said.contains("no closed outline"), "{said}");
        }
        assert_eq!(
            read(&checked(&empty()), "ground", &vec![b' '; LARGEST_FILE + 1], None).expect_err("large").field,
            "file"
        );
    }

    #[test]
    fn too_many_entities_are_refused_and_slivers_left_out() {
        let text = drawing(&"0\nPOINT\n10\n1\n20\n1\n".repeat(MOST_ENTITIES + 1));
        assert!(
            read(&checked(&empty()), "ground", text.as_bytes(), None).expect_err("many").reason.contains("entities")
        );
        let mut thin = LwPolyline::default();
        thin.set_is_closed(true);
        let mut d = Drawing::new();
        d.header.version = AcadVersion::R2000;
        for (x, y) in [(0.0, 0.0), (5.0, 0.0), (5.0, 0.01)] {
            thin.vertices.push(LwPolylineVertex { x, y, ..LwPolylineVertex::default() });
        }
        d.add_entity(Entity::new(EntityType::LwPolyline(thin)));
        let mut bytes = Vec::new();
        d.save(&mut bytes).expect("writes");
        let got = read(&checked(&empty()), "ground", &bytes, Some(1.0)).expect("reads");
        assert!(got.added == 0 && got.problems[0].reason.contains("too small"), "{:?}", got.problems);
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(60))]
        /// A drawing with bytes changed at random is read or refused.
        #[test]
        fn damaged_drawings_never_panic(at in prop::collection::vec((0usize..100_000, any::<u8>()), 1..12), cut in 0usize..100_000) {
            let mut bytes = write(&demo(), "ground");
            for (i, b) in at {
                let n = bytes.len();
                bytes[i % n] = b;
            }
            let n = bytes.len();
            bytes.truncate(n - cut % n);
            if let Ok(got) = read(&checked(&empty()), "ground", &bytes, None) {
                prop_assert!(got.job.check().is_ok());
            }
        }
    }
}

//! Room outlines as GeoJSON (RFC 7946 geometry, plan coordinates in metres instead of degrees).

use super::{Import, Imported, LARGEST_FILE};
use fuoco_core::error::FieldError;
use fuoco_core::job::{CheckedJob, Job, Point, Room};
use geojson::{Feature, FeatureCollection, GeoJson, Geometry, GeometryValue as Value, JsonObject, Position};

/// Reads polygons into a level of the job; the property `name` is the room's name. Holes are left out.
///
/// # Errors
/// When the text is no GeoJSON.
pub fn read(job: &CheckedJob, level_id: &str, text: &str) -> Result<Imported, FieldError> {
    if text.len() > LARGEST_FILE {
        return Err(FieldError::new("file", format!("must not be larger than {} MB", LARGEST_FILE >> 20)));
    }
    let json: GeoJson =
        text.parse().map_err(|e: geojson::Error| FieldError::new("file", format!("is no GeoJSON that reads: {e}")))?;
    let mut out = Import::new(job);
    let mut polygons: Vec<(String, Vec<Vec<Vec<f64>>>)> = Vec::new();
    let mut strange = 0;
    let features = match json {
        GeoJson::FeatureCollection(c) => c.features,
        GeoJson::Feature(f) => vec![f],
        GeoJson::Geometry(g) => vec![Feature { geometry: Some(g), ..Feature::default() }],
    };
    for f in features {
        let name = f.property("name").and_then(|n| n.as_str()).unwrap_or_default().to_owned();
        match f.geometry.map(|g| g.value) {
            Some(Value::Polygon { coordinates }) => polygons.push((name, rings(&coordinates))),
            Some(Value::MultiPolygon { coordinates }) => {
                polygons.extend(coordinates.iter().map(|p| (name.clone(), rings(p))));
            }
            _ => strange += 1,
        }
    }
    let all = || polygons.iter().flat_map(|p| p.1.iter().flatten().flatten());
    let span = |k: usize| {
        let values = polygons.iter().flat_map(|p| p.1.iter().flatten()).filter_map(|p| p.get(k));
        values.fold((f64::MAX, f64::MIN), |s, v| (s.0.min(*v), s.1.max(*v)))
    };
    let ((x0, x1), (y0, y1)) = (span(0), span(1));
    if all().next().is_some() && x1 - x0 < 0.05 && y1 - y0 < 0.05 {
        return Err(FieldError::new("file", "seems to be in degrees: the plan wants metres"));
    }
    for (name, rings) in polygons {
        let Some(ring) = rings.first() else { continue };
        let mut outline: Vec<Point> = ring.iter().filter_map(|p| Some([*p.first()?, *p.get(1)?])).collect();
        if outline.len() > 1 && outline.first() == outline.last() {
            outline.pop();
        }
        if rings.len() > 1 {
            out.problem(None, format!("\"{name}\" has holes: left out, draw them as keep-outs"));
        }
        out.add_room(level_id, &name, outline, None);
    }
    if strange > 0 {
        out.problem(None, format!("{strange} features are no polygons and were left out"));
    }
    out.done()
}

fn rings(polygon: &[Vec<Position>]) -> Vec<Vec<Vec<f64>>> {
    polygon.iter().map(|r| r.iter().map(|p| p.as_slice().to_vec()).collect()).collect()
}

/// The rooms as a feature collection, coordinates in metres.
pub fn write(job: &Job) -> String {
    let feature = |r: &Room| {
        let mut ring: Vec<Vec<f64>> = r.outline.iter().map(|p| p.to_vec()).collect();
        // exterior rings run anticlockwise and end where they begin
        if fuoco_core::geometry::outline::signed_area(&r.outline) < 0.0 {
            ring.reverse();
        }
        ring.extend(ring.first().cloned());
        let mut properties = JsonObject::new();
        for (key, value) in [("name", r.name.clone()), ("level", r.level_id.clone()), ("units", "m".to_owned())] {
            properties.insert(key.into(), value.into());
        }
        properties.insert("height_m".into(), r.height_m.into());
        properties.insert("room_c".into(), r.room_c.into());
        Feature {
            geometry: Some(Geometry::new(Value::new_polygon([ring]))),
            id: Some(geojson::feature::Id::String(r.id.clone())),
            properties: Some(properties),
            ..Feature::default()
        }
    };
    let features = job.rooms.iter().map(feature).collect();
    GeoJson::from(FeatureCollection { bbox: None, features, foreign_members: None }).to_string()
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
    fn what_is_written_reads_back() {
        let job = demo();
        let got = read(&checked(&Job::new("x")), "ground", &write(&job)).expect("reads");
        assert_eq!(got.added, job.rooms.len(), "{:?}", got.problems);
        for (a, b) in got.job.rooms.iter().zip(&job.rooms) {
            assert_eq!((&a.name, a.outline.len()), (&b.name, b.outline.len()));
        }
    }

    #[test]
    fn what_is_none_or_in_degrees_is_refused_and_the_strange_is_told() {
        let field = |t: &str| read(&checked(&Job::new("x")), "ground", t).expect_err("refused");
        assert_eq!(field("{").field, "file");
        assert_eq!(field(r#"{"type":"Nonsense"}"#).field, "file");
        let degrees =
            r#"{"type":"Polygon","coordinates":[[[11.0,47.0],[11.0001,47.0],[11.0001,47.0001],[11.0,47.0]]]}"#;
        assert!(field(degrees).reason.contains("degrees"));
        let mixed = r#"{"type":"FeatureCollection","features":[
            {"type":"Feature","properties":{},"geometry":{"type":"Point","coordinates":[1,2]}},
            {"type":"Feature","properties":{"name":"Bow"},"geometry":{"type":"Polygon","coordinates":[[[0,0],[4,4],[4,0],[0,4],[0,0]]]}},
            {"type":"Feature","properties":{"name":"Good"},"geometry":{"type":"Polygon","coordinates":[[[0,0],[4,0],[4,4],[0,4],[0,0]]]}}]}"#;
        let got = read(&checked(&Job::new("x")), "ground", mixed).expect("reads");
        assert_eq!(
            (got.added, got.job.rooms[0].name.as_str(), got.problems.len()),
            (1, "Good", 2),
            "{:?}",
            got.problems
        );
    }
}

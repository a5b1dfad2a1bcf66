//! The loops as files that other programs read: points with running length as CSV, lines as GeoJSON and DXF.

use crate::csv_text::{table, word};
use crate::exchange::dxf::{self, Line};
use fuoco_core::design::{Design, LoopDesign};
use fuoco_core::geometry::distance;
use fuoco_core::job::{Job, Point};
use fuoco_core::units::Quantity as Q;
use geojson::{Feature, FeatureCollection, GeoJson, Geometry, GeometryValue, JsonObject};

/// Every point of every loop with the tube up to it and the water's temperature there, in flow order.
pub fn points_csv(job: &Job, design: &Design) -> String {
    let units = job.site.units;
    let head = ["loop", "point", "x (m)", "y (m)"].map(str::to_owned).into_iter();
    let head = head.chain([
        format!("running length ({})", units.symbol(Q::Length)),
        format!("water ({})", units.symbol(Q::Temperature)),
    ]);
    let mut records = vec![head.collect::<Vec<_>>()];
    for l in &design.loops {
        for (i, (p, along)) in l.path.iter().zip(running(l)).enumerate() {
            records.push(vec![
                word(&l.tag),
                (i + 1).to_string(),
                format!("{:.4}", p[0]),
                format!("{:.4}", p[1]),
                units.figure(Q::Length, along),
                units.figure(Q::Temperature, l.path_c[i]),
            ]);
        }
    }
    table(records)
}

/// Tube from the supply port to each point of the path, m; the chords of the path scaled to the exact length.
fn running(l: &LoopDesign) -> impl Iterator<Item = f64> + '_ {
    let chords: f64 = l.path.windows(2).map(|w| distance(w[0], w[1])).sum();
    let scale = if chords > 0.0 { (l.length_m - l.riser_m) / chords } else { 1.0 };
    let mut last: Option<Point> = None;
    let mut along = l.riser_m / 2.0;
    l.path.iter().map(move |&p| {
        along += last.map_or(0.0, |q| distance(p, q)) * scale;
        last = Some(p);
        along
    })
}

/// The loops as line strings, coordinates in metres.
pub fn geojson(design: &Design) -> String {
    let feature = |l: &LoopDesign| {
        let mut properties = JsonObject::new();
        properties.insert("tag".into(), l.tag.clone().into());
        properties.insert("manifold".into(), l.manifold_id.clone().into());
        properties.insert("port".into(), l.port.into());
        properties.insert("rooms".into(), l.room_ids.clone().into());
        properties.insert("tube".into(), l.tube_id.clone().into());
        properties.insert("length_m".into(), l.length_m.into());
        properties.insert("leader_length_m".into(), l.leader_length_m.into());
        properties.insert("flow_l_min".into(), l.flow_l_min.into());
        properties.insert("units".into(), "m".into());
        Feature {
            geometry: Some(Geometry::new(GeometryValue::new_line_string(l.path.iter().map(|p| p.to_vec())))),
            id: Some(geojson::feature::Id::String(l.id.clone())),
            properties: Some(properties),
            ..Feature::default()
        }
    };
    let features = design.loops.iter().map(feature).collect();
    GeoJson::from(FeatureCollection { bbox: None, features, foreign_members: None }).to_string()
}

/// A level with its loops as a DXF drawing in metres: beside the layers of the rooms one for every loop, TAGS, and
/// JOIST-HOLES where tube passes joists.
pub fn dxf(job: &Job, design: &Design, level_id: &str) -> Vec<u8> {
    let on_level = |l: &&LoopDesign| {
        let first = l.room_ids.first().and_then(|id| job.room(id));
        first.is_some_and(|r| r.level_id == level_id)
    };
    let lines: Vec<Line> = design
        .loops
        .iter()
        .filter(on_level)
        .map(|l| Line { layer: format!("LOOP-{}", layer(&l.tag)), points: l.path.clone(), tag: l.tag.clone() })
        .collect();
    let on_level = |id: &str| job.room(id).is_some_and(|r| r.level_id == level_id);
    let holes: Vec<_> =
        design.rooms.iter().filter(|r| on_level(&r.id)).flat_map(|r| r.joist_holes.iter().copied()).collect();
    dxf::write_with(job, level_id, &lines, &holes)
}

/// A tag as part of a layer's name: letters, digits and hyphens.
fn layer(tag: &str) -> String {
    tag.chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '-' }).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use fuoco_core::units::Units;

    fn demo() -> (Job, Design) {
        let job = fuoco_core::samples::read_job(include_str!("../../../demo/tamarack-dance-school.json"))
            .expect("the demo is sound");
        let design = fuoco_core::samples::designed(&job).expect("designs");
        (job, design)
    }

    #[test]
    fn the_running_length_ends_at_the_length_of_each_loop() {
        let (mut job, design) = demo();
        for units in [Units::Metric, Units::Us] {
            job.site.units = units;
            let text = points_csv(&job, &design);
            let mut reader = csv::Reader::from_reader(text.as_bytes());
            let rows: Vec<csv::StringRecord> = reader.records().map(|r| r.expect("row")).collect();
            assert_eq!(rows.len(), design.loops.iter().map(|l| l.path.len()).sum::<usize>());
            for l in &design.loops {
                let own: Vec<&csv::StringRecord> = rows.iter().filter(|r| r[0] == l.tag).collect();
                let at = |r: &csv::StringRecord| r[4].parse::<f64>().expect("number");
                let unit = if units == Units::Us { 0.3048 } else { 1.0 };
                // printed to a centimetre, or a hundredth of a foot
                assert!((at(own[own.len() - 1]) * unit - l.length_m).abs() < 0.02, "{}", l.tag);
                assert!(own.windows(2).all(|w| at(w[0]) <= at(w[1])));
            }
        }
    }

    #[test]
    fn geojson_has_every_loop_as_a_line() {
        let (_, design) = demo();
        let GeoJson::FeatureCollection(c) = geojson(&design).parse::<GeoJson>().expect("reads") else {
            panic!("a collection")
        };
        assert_eq!(c.features.len(), design.loops.len());
        for (f, l) in c.features.iter().zip(&design.loops) {
            assert_eq!(f.property("tag").and_then(|t| t.as_str()), Some(l.tag.as_str()));
            let Some(GeometryValue::LineString { coordinates }) = f.geometry.as_ref().map(|g| &g.value) else {
                panic!("a line")
            };
            assert_eq!(coordinates.len(), l.path.len());
        }
    }

    #[test]
    fn dxf_has_a_layer_for_every_loop_and_its_true_length() {
        let (job, design) = demo();
        let bytes = dxf(&job, &design, "ground");
        let drawing = ::dxf::Drawing::load(&mut std::io::Cursor::new(&bytes)).expect("reads");
        for l in &design.loops {
            let on_ground = job.room(&l.room_ids[0]).is_some_and(|r| r.level_id == "ground");
            let layer = format!("LOOP-{}", l.tag);
            let own: Vec<_> = drawing.entities().filter(|e| e.common.layer == layer).collect();
            assert_eq!(own.len(), usize::from(on_ground), "{layer}");
            for e in own {
                let ::dxf::entities::EntityType::LwPolyline(p) = &e.specific else { panic!("a polyline") };
                let v = &p.vertices;
                let sum: f64 = v.windows(2).map(|w| (w[1].x - w[0].x).hypot(w[1].y - w[0].y)).sum();
                // chords of arcs at a sagitta of a millimetre
                assert!((sum / l.length_m - 1.0).abs() < 0.005);
            }
        }
        assert!(drawing.entities().any(|e| e.common.layer == "ROOMS"));
    }

    #[test]
    fn dxf_shows_the_holes_in_joists() {
        let text = include_str!("../../../corpus/36-joists.json");
        let job = fuoco_core::samples::read_job(text).expect("the plan is sound");
        let design = fuoco_core::samples::designed(&job).expect("it designs");
        let bytes = dxf(&job, &design, &job.levels[0].id);
        let drawing = ::dxf::Drawing::load(&mut std::io::Cursor::new(&bytes)).expect("reads");
        let circles = drawing.entities().filter_map(|e| match &e.specific {
            ::dxf::entities::EntityType::Circle(c) if e.common.layer == "JOIST-HOLES" => Some([c.center.x, c.center.y]),
            _ => None,
        });
        let holes: Vec<_> = design.rooms.iter().flat_map(|r| r.joist_holes.iter().copied()).collect();
        assert!(holes.len() > 20);
        assert_eq!(circles.collect::<Vec<_>>(), holes);
    }
}

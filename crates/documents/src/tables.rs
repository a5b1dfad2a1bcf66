//! Tables as CSV (RFC 4180), figures in the job's units with the unit in the heading.

use crate::csv_text::{table, word};
use fuoco_core::design::{Design, FieldDesign, LoopDesign, RoomDesign};
use fuoco_core::heat_loss::{LossPart, Measure};
use fuoco_core::job::Job;
use fuoco_core::units::Quantity as Q;

/// One column of words: heading, text of a row.
type Name<'a, T> = (&'a str, &'a dyn Fn(&T) -> String);
/// One column of figures: heading, quantity, value of a row.
type Column<'a, T> = (&'a str, Q, &'a dyn Fn(&T) -> Option<f64>);

fn write<T>(job: &Job, names: &[Name<T>], figures: &[Column<T>], rows: &[T]) -> String {
    let units = job.site.units;
    let head = names.iter().map(|n| n.0.to_owned()).chain(figures.iter().map(|(name, q, _)| {
        let symbol = units.symbol(*q);
        if symbol.is_empty() { (*name).to_owned() } else { format!("{name} ({symbol})") }
    }));
    let mut records = vec![head.collect::<Vec<String>>()];
    for row in rows {
        let cells = names.iter().map(|n| word(&n.1(row)));
        let figures = figures.iter().map(|(_, q, f)| f(row).map_or_else(String::new, |v| units.figure(*q, v)));
        records.push(cells.chain(figures).collect());
    }
    table(records)
}

/// The table of loops.
pub fn loops(job: &Job, design: &Design) -> String {
    let rooms = |l: &LoopDesign| {
        let names = l.room_ids.iter().filter_map(|id| job.room(id)).map(|r| r.name.clone());
        names.collect::<Vec<_>>().join(", ")
    };
    write(
        job,
        &[("loop", &|l: &LoopDesign| l.tag.clone()), ("rooms", &rooms), ("tube", &|l| l.tube_id.clone())],
        &[
            ("length", Q::Tube, &|l| Some(l.length_m)),
            ("leaders", Q::Tube, &|l| Some(l.leader_length_m)),
            ("spacing", Q::Size, &|l| Some(l.spacing_m)),
            ("flow", Q::Flow, &|l| Some(l.flow_l_min)),
            ("velocity", Q::Velocity, &|l| Some(l.velocity_m_s)),
            ("supply", Q::Temperature, &|l| Some(l.supply_c)),
            ("return", Q::Temperature, &|l| Some(l.return_c)),
            ("up", Q::Heat, &|l| Some(l.output_up_w)),
            ("down", Q::Heat, &|l| Some(l.output_down_w)),
            ("head", Q::Head, &|l| Some(l.head_loss_pa)),
            ("balancing", Q::Head, &|l| Some(l.balancing_pa)),
        ],
        &design.loops,
    )
}

/// A field's circuits with the room that they heat.
type OfField<'a> = (&'a RoomDesign, &'a FieldDesign);

/// The table of the circuits of wall and ceiling fields, a row a field.
pub fn fields(job: &Job, design: &Design) -> String {
    let rows: Vec<OfField> = design.rooms.iter().flat_map(|r| r.fields.iter().map(move |f| (r, f))).collect();
    let letter = |f: &OfField| {
        let hung = job.manifolds.iter().find(|m| Some(&m.id) == f.1.manifold_id.as_ref());
        hung.map(|m| m.letter.clone()).unwrap_or_default()
    };
    write(
        job,
        &[
            ("manifold", &letter),
            ("room", &|f: &OfField| f.0.name.clone()),
            ("field", &|f| f.1.id.clone()),
            ("circuits", &|f| f.1.circuits.to_string()),
        ],
        &[
            ("tube of each", Q::Tube, &|f| Some(f.1.circuit_m)),
            ("flow of all", Q::Flow, &|f| Some(f.1.flow_l_min)),
            ("velocity", Q::Velocity, &|f| Some(f.1.velocity_m_s)),
            ("return", Q::Temperature, &|f| f.1.return_c),
            ("heat", Q::Heat, &|f| Some(f.1.heat_w)),
            ("back", Q::Heat, &|f| Some(f.1.back_w)),
            ("head", Q::Head, &|f| Some(f.1.head_loss_pa)),
            ("balancing", Q::Head, &|f| Some(f.1.balancing_pa)),
        ],
        &rows,
    )
}

/// The table of rooms.
pub fn rooms(job: &Job, design: &Design) -> String {
    write(
        job,
        &[("room", &|r: &RoomDesign| r.name.clone())],
        &[
            ("area", Q::Area, &|r| Some(r.area_m2)),
            ("heatable", Q::Area, &|r| Some(r.heatable_area_m2)),
            ("loss", Q::Heat, &|r| Some(r.heat_loss_w)),
            ("needed", Q::Flux, &|r| Some(r.flux_needed_w_m2)),
            ("given", Q::Flux, &|r| r.k_up_w_m2k.map(|_| r.flux_given_w_m2)),
            ("surface mean", Q::Temperature, &|r| r.surface_mean_c),
            ("surface limit", Q::Temperature, &|r| r.surface_limit_c),
            ("supply needed", Q::Temperature, &|r| r.supply_needed_c),
        ],
        &design.rooms,
    )
}

/// Every part of every room's heat loss, a row each: what an inspector can follow with a pocket calculator.
pub fn heat_loss(job: &Job, design: &Design) -> String {
    let parts: Vec<(&RoomDesign, &LossPart)> =
        design.rooms.iter().flat_map(|r| r.loss_parts.iter().map(move |p| (r, p))).collect();
    type Part<'a> = (&'a RoomDesign, &'a LossPart);
    let word = |v: serde_json::Value| v.as_str().unwrap_or_default().replace('_', " ");
    let cause = |p: &Part| serde_json::to_value(p.1.cause).map(word).unwrap_or_default();
    let other = |p: &Part| match p.1.subject.as_deref().and_then(|id| job.room(id)) {
        Some(room) => room.name.clone(),
        None => serde_json::to_value(p.1.other).map(word).unwrap_or_default(),
    };
    let construction = |p: &Part| {
        let id = p.1.construction_id.as_deref();
        id.and_then(|id| job.construction(id)).map(|c| c.name.clone()).unwrap_or_default()
    };
    let only = |measure: Measure, p: &Part, v: f64| (p.1.measure == measure).then_some(v);
    write(
        job,
        &[
            ("room", &|p: &Part| p.0.name.clone()),
            ("cause", &cause),
            ("construction", &construction),
            ("wall", &|p| p.1.edge.map(|e| (e + 1).to_string()).unwrap_or_default()),
            ("other side", &other),
        ],
        &[
            ("area", Q::Area, &|p| only(Measure::Area, p, p.1.amount)),
            ("U", Q::Transmittance, &|p| only(Measure::Area, p, p.1.per_kelvin)),
            ("length", Q::Length, &|p| only(Measure::Length, p, p.1.amount)),
            ("psi", Q::Linear, &|p| only(Measure::Length, p, p.1.per_kelvin)),
            ("air per hour", Q::Volume, &|p| only(Measure::Air, p, p.1.amount)),
            ("heat of air", Q::Volumetric, &|p| only(Measure::Air, p, p.1.per_kelvin)),
            ("room", Q::Temperature, &|p| Some(p.0.temperature_c)),
            ("other side", Q::Temperature, &|p| Some(p.1.other_c)),
            ("heat", Q::Heat, &|p| Some(p.1.heat_w)),
        ],
        &parts,
    )
}

#[cfg(test)]
mod tests {
    use super::*;
    use fuoco_core::job::Field;
    use fuoco_core::units::Units;

    fn demo() -> Job {
        fuoco_core::samples::read_job(include_str!("../../../demo/tamarack-dance-school.json"))
            .expect("the demo is sound")
    }

    #[test]
    fn every_loop_is_a_row_in_the_units_of_the_job() {
        let mut job = demo();
        job.rooms[0].name = "Studio \"A\", west".into();
        job.site.units = Units::Us;
        let design = fuoco_core::samples::designed(&job).expect("designs");
        let text = loops(&job, &design);
        let mut reader = csv::Reader::from_reader(text.as_bytes());
        let head = reader.headers().expect("head").clone();
        assert_eq!(head.get(3), Some("length (ft)"));
        let rows: Vec<csv::StringRecord> = reader.records().map(|r| r.expect("row")).collect();
        assert_eq!(rows.len(), design.loops.len());
        for (row, l) in rows.iter().zip(&design.loops) {
            assert_eq!(row.get(0), Some(l.tag.as_str()));
            let feet: f64 = row.get(3).expect("length").parse().expect("number");
            // printed to a foot
            assert!((feet - l.length_m / 0.3048).abs() < 0.501);
        }
        assert!(rows.iter().any(|r| r.get(1) == Some("Studio \"A\", west")), "quotes survive");
    }

    #[test]
    fn every_field_is_a_row_of_its_own() {
        let mut job = demo();
        let id = job.rooms[0].id.clone();
        job.rooms[0].fields.push(Field {
            id: "warm-wall".into(),
            edge: Some(0),
            width_m: 2.0,
            height_m: 1.0,
            build_up_id: "wall-board".into(),
            tube_id: "pex-16x2".into(),
            spacing_m: 0.15,
        });
        let design = fuoco_core::samples::designed(&job).expect("designs");
        let of = &design.rooms.iter().find(|r| r.id == id).expect("the room").fields[0];
        let text = fields(&job, &design);
        let mut reader = csv::Reader::from_reader(text.as_bytes());
        let rows: Vec<csv::StringRecord> = reader.records().map(|r| r.expect("row")).collect();
        assert_eq!((rows.len(), &rows[0][2]), (1, "warm-wall"));
        let heat: f64 = rows[0][8].parse().expect("number");
        assert!(of.heat_w > 1.0 && (heat - of.heat_w).abs() <= 0.5, "{heat} {}", of.heat_w);
    }

    #[test]
    fn no_name_becomes_a_formula() {
        let mut job = demo();
        job.rooms[0].name = "=1+1".into();
        job.rooms[1].name = "@home".into();
        let design = fuoco_core::samples::designed(&job).expect("designs");
        for text in [rooms(&job, &design), loops(&job, &design), heat_loss(&job, &design)] {
            let mut reader = csv::Reader::from_reader(text.as_bytes());
            let cells = reader.records().flat_map(|r| r.expect("row").iter().map(str::to_owned).collect::<Vec<_>>());
            // figures may be negative
            let formulas = cells.filter(|c| c.starts_with(['=', '+', '@', '-']) && c.parse::<f64>().is_err());
            assert_eq!(formulas.collect::<Vec<_>>(), Vec::<String>::new());
            assert!(text.contains("'=1+1"));
        }
    }

    #[test]
    fn rooms_without_a_heated_floor_have_empty_cells() {
        let mut job = demo();
        job.rooms[5].floor = None;
        let text = rooms(&job, &fuoco_core::samples::designed(&job).expect("designs"));
        let last = text.lines().find(|l| l.starts_with("Office,")).expect("the office");
        assert!(last.ends_with(",,,,"), "{last}");
    }

    #[test]
    fn the_parts_of_the_heat_loss_add_up_to_the_rooms() {
        let job = demo();
        let design = fuoco_core::samples::designed(&job).expect("designs");
        let text = heat_loss(&job, &design);
        let mut reader = csv::Reader::from_reader(text.as_bytes());
        let mut sums = std::collections::BTreeMap::<String, f64>::new();
        for row in reader.records() {
            let row = row.expect("row");
            let heat: f64 = row.get(13).expect("heat").parse().expect("number");
            *sums.entry(row[0].to_owned()).or_default() += heat;
        }
        for r in design.rooms.iter().filter(|r| r.heated) {
            // each row is printed to a watt
            assert!((sums[&r.name] - r.heat_loss_w).abs() < 0.5 * r.loss_parts.len() as f64, "{}", r.name);
        }
    }
}

//! The piping of the plant, with what has to be set: pumps, mixing, reset points, balancing, vessel.

use crate::drawing::piping;
use crate::typeset::block::{Block, Drawing, plain, text};
use crate::typeset::table::{Table, figures, words};
use crate::typeset::text::bold;
use crate::words::word;
use crate::{Papers, Part};
use fuoco_core::findings::{Severity, Station};
use fuoco_core::units::Quantity as Q;

pub fn parts(of: &Papers) -> Vec<Part> {
    let (Some(design), Some(plant)) = (&of.design.plant, &of.job.plant) else { return vec![] };
    let Some(state) = &design.state else { return vec![] };
    let sheet = of.format.lying();
    let [wide, high] = sheet.body();
    let (svg, shape) = piping::draw(state, of.units());
    let (width, height) =
        if wide / shape <= high - 40.0 { (wide, wide / shape) } else { ((high - 40.0) * shape, high - 40.0) };
    let pair = |p: &[f64; 2]| format!("{} at {}", of.s(Q::Temperature, p[1]), of.s(Q::Temperature, p[0]));
    let source =
        if plant.source.name.is_empty() { word("sources", plant.source.kind) } else { plant.source.name.clone() };
    let mut out = vec![Block::Title("Plant".into(), of.whom(of.day))];
    let error = of.design.findings.iter().find(|f| f.severity == Severity::Error && f.station == Station::Plant);
    out.extend(error.map(|e| Block::Stop("Do not pipe from this sheet:".into(), e.message.clone())));
    out.push(plain(format!(
        "{}; {source}, {}; figures at {} outdoors.",
        word("arrangements", state.arrangement),
        of.s(Q::Heat, plant.source.most_w),
        of.s(Q::Temperature, state.outdoor_c)
    )));
    out.push(Block::Drawing(Drawing { svg, width, height }));
    out.push(Block::NewPage);
    out.push(Block::Heading("Circuits".into()));
    let heads = [
        words("Circuit"),
        figures("Supply"),
        figures("Return"),
        figures("Flow"),
        figures("Heat"),
        words("Mixing"),
        words("Pump"),
        words("Run at"),
        figures("Pump head"),
        figures("Mains, bore"),
    ];
    let rows = state.circuits.iter().map(|c| {
        vec![
            bold(c.name.as_str()).into(),
            of.o(Q::Temperature, if c.on { c.supply_c } else { c.needs_c }).into(),
            of.o(Q::Temperature, c.return_c).into(),
            of.s(Q::Flow, if c.on { c.flow_l_min } else { c.design_flow_l_min }).into(),
            of.s(Q::Heat, if c.on { c.heat_w } else { c.wants_w }).into(),
            word("mixings", c.mixing).into(),
            c.pump.name.as_str().into(),
            word("controls", c.pump.control).into(),
            of.s(Q::Head, c.pump.design_head_pa).into(),
            of.s(Q::Size, c.mains_bore_m).into(),
        ]
    });
    out.push(Block::Table(Table::new(heads).rows(rows)));
    out.push(Block::Heading("Set at the controller".into()));
    let mut set: Vec<_> = state
        .circuits
        .iter()
        .filter_map(|c| Some((c, design.lines.iter().find(|l| l.id == c.id)?)))
        .map(|(c, l)| {
            let points = |of: &[[f64; 2]]| of.iter().map(pair).collect::<Vec<_>>().join(", ");
            vec![
                bold(c.name.as_str()),
                format!(": {}; with a middle point {}", points(&l.two), points(&l.three)).into(),
            ]
        })
        .collect();
    set.push(vec![format!("Rooms off from {} outdoors.", of.s(Q::Temperature, plant.warm_weather_c)).into()]);
    set.extend(design.fixed.iter().map(|f| {
        vec![bold(f.name.as_str()), format!(": {} whenever it calls.", of.s(Q::Temperature, f.wants_c)).into()]
    }));
    out.push(Block::List(set));
    out.push(Block::Heading("Filling".into()));
    let v = &design.vessel;
    out.push(plain(format!(
        "Content {}; vessel {}, its gas side and the plant cold at {}; relief valve {}. Purge points on every return of a circuit, isolating valves on both sides of each pump, an air separator where the water is hottest.",
        of.s(Q::Content, v.content_l),
        v.chosen_l.map_or_else(|| "none fits".into(), |l| of.s(Q::Content, l)),
        of.s(Q::Pressure, v.fill_pa),
        of.s(Q::Pressure, plant.relief_pa)
    )));
    out.push(text([bold("Caution:"), " figures are design aids; local code and the manufacturer's instructions come first. Fuel, flue, refrigerant and electrical work belong to licensed trades. Every source has its own relief valve with an open drain, and limits against scalding. Drinking water stays behind a heat exchanger.".into()]));
    vec![Part { sheet, blocks: out }]
}

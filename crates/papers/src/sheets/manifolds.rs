//! What is set at each manifold, a page each: it goes into the cabinet.

use crate::Papers;
use crate::typeset::block::{Block, plain};
use crate::typeset::table::{Table, figures, words};
use crate::typeset::text::bold;
use crate::words::{Circuit, circuits, is_index, setting};
use fuoco_core::design::ManifoldDesign;
use fuoco_core::units::Quantity as Q;

pub fn blocks(of: &Papers) -> Vec<Block> {
    let all = circuits(of.job, of.design);
    let mut out = vec![];
    for m in &of.design.manifolds {
        let on: Vec<&Circuit> = all.iter().filter(|c| c.manifold_id == m.id).collect();
        if !on.is_empty() {
            out.extend(chart(of, m, &on));
            out.push(Block::NewPage);
        }
    }
    out
}

fn chart(of: &Papers, m: &ManifoldDesign, on: &[&Circuit]) -> Vec<Block> {
    let circuit = of.design.circuits.iter().find(|c| c.manifold_ids.contains(&m.id));
    let level = of.job.levels.iter().find(|l| l.id == m.level_id).map_or("", |l| &l.name);
    let mut facts = vec![("Level".into(), level.to_owned())];
    if let Some(c) = circuit {
        facts.push(("Circuit".into(), c.name.clone()));
        facts.extend(c.supply_c.map(|t| ("Supply, design day".into(), of.s(Q::Temperature, t))));
    }
    facts.extend(m.return_c.map(|t| ("Return".into(), of.s(Q::Temperature, t))));
    facts.push(("Flow".into(), of.s(Q::Flow, m.flow_l_min)));
    facts.push((of.units().words("Pressure drop"), of.s(Q::Head, m.head_needed_pa)));
    facts.push(("Ports".into(), format!("{} of {} used", m.ports_used, m.ports)));
    let heads = [
        figures("Port"),
        words("Loop"),
        words("Room"),
        figures("Length"),
        figures("Flow meter"),
        words("Valve"),
        figures("Closes"),
        words("Set on"),
    ];
    let rows = on.iter().map(|c| {
        let open = is_index(c.balancing_pa);
        vec![
            c.port.map_or_else(String::new, |p| p.to_string()).into(),
            bold(c.tag.as_str()).into(),
            c.heats.as_str().into(),
            of.s(Q::Tube, c.length_m).into(),
            bold(of.s(Q::Flow, c.flow_l_min)).into(),
            if open { "open".into() } else { setting(of.units(), c.valve) }.into(),
            if open { String::new() } else { of.s(Q::Head, c.balancing_pa) }.into(),
            "____________".into(),
        ]
    });
    vec![
        Block::Title(format!("Manifold {}", m.letter), of.whom(of.day)),
        Block::Facts(facts),
        Block::Table(Table::new(heads).rows(rows).size(10.0)),
        plain(
            "Ports count from the left as you face the manifold. Set the flow meters with the circuit's pump running at its setting and every valve open; go round twice, because each loop takes from the others. The valve's setting is where to begin, the flow meter's reading is what counts.",
        ),
        plain(
            "Purge each loop alone, the others shut, until no more air comes. Actuators come off for purging and setting.",
        ),
        Block::Facts(vec![("Set by".into(), "_".repeat(30)), ("Date".into(), "_".repeat(16))]),
    ]
}

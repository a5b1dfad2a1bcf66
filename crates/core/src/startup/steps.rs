//! What is done one after the other at start-up, with the job's figures.

use super::balance::Lifts;
use super::{COLD_C, Filling, PurgeDesign, StartStep};
use crate::fluid;
use crate::records::{Entry, Fact};
use crate::study::Study;
use crate::units::{Quantity as Q, Units};
use crate::water::part::PumpControl;

/// Ticks by this begin.
const ITEM: &str = "startup/";

pub(super) fn steps(study: &Study, standing: &[&Entry], filling: &Filling, purge: &[PurgeDesign]) -> Vec<StartStep> {
    let units: Units = study.job.site.units;
    let show = |q: Q, v: f64| units.show(q, v);
    let fill = if filling.glycol_l > 0.0 {
        format!(
            "{} in all: {} of glycol and {} of water, mixed before they go in. It shall freeze at {}: read a drop with the \
             refractometer. Never glycol that is not made for heating.",
            show(Q::Content, filling.content_l),
            show(Q::Content, filling.glycol_l),
            show(Q::Content, filling.content_l - filling.glycol_l),
            show(Q::Temperature, filling.freezing_c)
        )
    } else {
        format!("{} of water, by the plant's maker's word on its quality.", show(Q::Content, filling.content_l))
    };
    let can = purge.iter().filter(|p| p.own_pump).count();
    let worst = purge.iter().max_by(|a, b| a.head_pa.total_cmp(&b.head_pa));
    let with = worst.map_or_else(String::new, |w| {
        format!(" The hardest, {}, wants {} at {}.", w.tag, show(Q::Flow, w.flow_l_min), show(Q::Head, w.head_pa))
    });
    let purging = format!(
        "Loop by loop, the other ports shut, until three contents are through and no bubbles come.{with} {}",
        match (can, purge.len()) {
            (c, n) if c == n => "The circuit's own pump can do it.".to_owned(),
            (0, _) => "Take a purge pump: the circuit's own cannot do it.".to_owned(),
            (c, n) => format!("The circuit's own pump can do {c} of {n}: take a purge pump for the others."),
        }
    );
    let pressure = filling.fill_pa.map_or_else(
        || "As the plant wants it, cold, and written down.".to_owned(),
        |pa| format!("{} cold, and written down.", show(Q::Pressure, pa)),
    );
    let all = [
        ("flush", "Flush", "Water through every loop until it comes clear: chips and sealant block valves.".to_owned()),
        ("fill", "Fill", fill),
        ("purge", "Purge", purging),
        ("pressure", "Pressure", pressure),
        ("vent", "Vent", "Every vent and high point, then the pressure once more.".to_owned()),
        ("pump", "Pump", pump_text(study)),
        ("flows", "Flows", "Each meter as the list has it, in its order; then every meter is read.".to_owned()),
        (
            "heat_up",
            "Heat-up",
            "By the programme of each floor, written down every day; its record goes to the flooring trade.".to_owned(),
        ),
    ];
    let tick = |item: &str| {
        standing.iter().rev().find_map(|e| match &e.record.fact {
            Fact::Ticked { item: i, done } if i == item => Some((*e, *done)),
            _ => None,
        })
    };
    all.into_iter()
        .map(|(id, name, text)| {
            let item = format!("{ITEM}{id}");
            let ticked = tick(&item);
            StartStep {
                done: ticked.is_some_and(|(_, done)| done),
                who: ticked.map(|(e, _)| e.who.clone()).unwrap_or_default(),
                at: ticked.map(|(e, _)| e.record.at.clone()),
                item,
                name: name.to_owned(),
                text: units.words(&text),
            }
        })
        .collect()
}

fn pump_text(study: &Study) -> String {
    let units = study.job.site.units;
    let Ok(water) = fluid::properties(&study.job.fluid, COLD_C) else { return String::new() };
    let of = |c: usize| {
        let lifts = Lifts::of(study, c, &water);
        let circuit = &study.circuits[c];
        let how = match lifts.choice.control {
            PumpControl::FixedSpeed => "at one speed".to_owned(),
            PumpControl::ConstantPressure => format!("holding {}", units.show(Q::Head, lifts.held_pa)),
            PumpControl::ProportionalPressure => {
                format!("holding {} at its full flow, less with less", units.show(Q::Head, lifts.held_pa))
            }
            PumpControl::ConstantDifference => {
                "at one speed while flows are set, then by temperature difference".to_owned()
            }
        };
        format!("{}: {}, {how}.", circuit.name, lifts.pump.name)
    };
    let on = (0..study.circuits.len()).filter(|c| study.circuits[*c].flow_l_min > 0.0);
    on.map(of).collect::<Vec<_>>().join(" ")
}

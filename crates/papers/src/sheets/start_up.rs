//! The start-up record: what it was filled with, the balance as found and as left, the heat-up for the flooring trade.

use super::site::when;
use crate::Papers;
use crate::typeset::block::{Block, note, plain};
use crate::typeset::table::{Table, figures, words};
use fuoco_core::startup::{HeatUpDesign, SettingDesign, StartUpDesign};
use fuoco_core::units::Quantity as Q;

/// Nothing of it was written down.
pub fn is_empty(s: &StartUpDesign) -> bool {
    s.steps.iter().all(|x| x.at.is_none())
        && s.filling.measured_c.is_none()
        && s.manifolds.iter().all(|m| !is_read(m))
        && s.heat_ups.iter().all(|h| h.readings.is_empty())
}

fn is_read(m: &SettingDesign) -> bool {
    m.ports.iter().any(|p| p.found_l_min.is_some() || p.left_l_min.is_some())
}

pub fn blocks(of: &Papers) -> Vec<Block> {
    let s = of.started;
    let mut out = vec![Block::Title("Start-up record".into(), of.whom(of.day))];
    out.push(Block::Heading("Steps".into()));
    let rows = s.steps.iter().map(|x| {
        let at = x.at.as_ref().filter(|_| x.done).map_or_else(|| "not done".to_owned(), |at| when(of, at));
        vec![x.name.as_str().into(), at.into(), x.who.as_str().into()]
    });
    out.push(Block::Table(Table::new([words("Step"), words("Done"), words("By")]).rows(rows)));
    out.push(Block::Heading("Filling".into()));
    let f = &s.filling;
    let mut facts = vec![("Contents".to_owned(), of.s(Q::Content, f.content_l))];
    if let Some(pa) = f.fill_pa {
        facts.push(("Pressure, cold".into(), of.s(Q::Gauge, pa)));
    }
    if f.glycol_l > 0.0 {
        facts.push(("Glycol".into(), of.s(Q::Content, f.glycol_l)));
        facts.push(("Shall freeze at".into(), of.s(Q::Temperature, f.freezing_c)));
        let measured = f.measured_c.map_or_else(|| "not measured".to_owned(), |c| of.s(Q::Temperature, c));
        facts.push(("Measured".into(), measured));
    }
    out.push(Block::Facts(facts));
    for m in s.manifolds.iter().filter(|m| is_read(m)) {
        balance(of, m, &mut out);
    }
    for h in s.heat_ups.iter().filter(|h| !h.readings.is_empty()) {
        heat_up(of, h, &mut out);
    }
    out.push(note("Follow local code and the manufacturer's instructions; the maker of screed and covering has the last word on its heat-up."));
    out
}

fn balance(of: &Papers, m: &SettingDesign, out: &mut Vec<Block>) {
    out.push(Block::Heading(format!("Balance of manifold {}", m.letter)));
    let verdict = if m.settled {
        "Every meter shows its figure within 5 %, the water cold."
    } else {
        "Not every meter shows its figure within 5 % yet."
    };
    out.push(plain(verdict));
    let heads = [
        words("Loop"),
        words("Rooms"),
        figures("Found"),
        figures("Left"),
        figures("Should be, cold"),
        figures("Off"),
        figures("Design, warm"),
        words(""),
    ];
    let mut ports: Vec<_> = m.ports.iter().collect();
    ports.sort_by_key(|p| of.design.loops.iter().position(|l| l.id == p.loop_id));
    let rows = ports.into_iter().map(|p| {
        vec![
            p.tag.as_str().into(),
            p.rooms.join(", ").into(),
            of.o(Q::Flow, p.found_l_min).into(),
            of.o(Q::Flow, p.left_l_min).into(),
            of.s(Q::Flow, p.ends_l_min).into(),
            p.off.map_or_else(String::new, |o| format!("{:+.0} %", o * 100.0)).into(),
            of.s(Q::Flow, p.design_l_min).into(),
            p.why.as_str().into(),
        ]
    });
    out.push(Block::Table(Table::new(heads).rows(rows)));
    out.extend(m.remarks.iter().map(|r| note(r.clone())));
}

fn heat_up(of: &Papers, h: &HeatUpDesign, out: &mut Vec<Block>) {
    out.push(Block::Heading(format!("Heat-up: {}", h.name)));
    out.push(plain(format!(
        "{}. {}",
        h.rooms.join(", "),
        if h.done { "The programme is through." } else { "The programme is not through yet." }
    )));
    let heads =
        [words("When"), figures("Day"), figures("Supply"), figures("Programme"), figures("Moisture"), words("By")];
    let rows = h.readings.iter().map(|r| {
        vec![
            when(of, &r.at).into(),
            r.day.to_string().into(),
            of.s(Q::Temperature, r.supply_c).into(),
            of.o(Q::Temperature, r.wanted_c).into(),
            r.moisture_percent.map_or_else(String::new, |v| format!("{v:.1} %")).into(),
            r.who.as_str().into(),
        ]
    });
    out.push(Block::Table(Table::new(heads).rows(rows)));
}

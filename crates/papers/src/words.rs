//! The trade's words for codes, and how figures are written on paper.

use fuoco_core::design::Design;
use fuoco_core::job::{Job, Room};
use fuoco_core::plan::edge::Edge;
use fuoco_core::units::{Quantity, Units};
use fuoco_core::water::valves::ValveSetting;
use serde::Serialize;
use std::collections::BTreeMap;
use std::sync::LazyLock;

/// The front end speaks from the same table.
static WORDS: LazyLock<BTreeMap<String, BTreeMap<String, String>>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../documents/data/words.json")).expect("the built-in words are well-formed")
});

/// What the table `of` calls a code; the code itself where it has no word.
pub fn word(of: &str, code: impl Serialize) -> String {
    let code = serde_json::to_value(code).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default();
    WORDS.get(of).and_then(|t| t.get(&code)).cloned().unwrap_or(code)
}

/// A figure with its unit, which stay on one line.
pub fn show(units: Units, quantity: Quantity, si: f64) -> String {
    units.show(quantity, si).replace(' ', "\u{a0}")
}

/// Currencies that stand before the figure.
const BEFORE: [&str; 2] = ["$", "£"];

/// Two decimals, thousands parted, and the currency.
pub fn money(value: f64, currency: &str) -> String {
    let cents = (value.abs() * 100.0).round();
    let whole = format!("{:.0}", (cents / 100.0).floor());
    let mut parted = String::new();
    for (i, c) in whole.chars().enumerate() {
        if i > 0 && (whole.len() - i).is_multiple_of(3) {
            parted.push(',');
        }
        parted.push(c);
    }
    let sign = if value < 0.0 && cents > 0.0 { "-" } else { "" };
    let figure = format!("{parted}.{:02.0}", cents % 100.0);
    if BEFORE.contains(&currency) {
        format!("{sign}{currency}{figure}")
    } else {
        format!("{sign}{figure}\u{a0}{currency}")
    }
}

const COMPASS: [&str; 8] = ["north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west"];

/// "north wall": by the way it looks, in a plan whose top is `north_deg` off.
pub fn wall_name(edge: &Edge, north_deg: f64) -> String {
    let [x, y] = edge.inward();
    let bearing = (-x).atan2(-y).to_degrees() - north_deg;
    format!("{} wall", COMPASS[((bearing / 45.0).round() as i64).rem_euclid(8) as usize])
}

/// Below this the valve of a circuit has nothing to close, Pa: it is the index loop of its manifold.
const INDEX_PA: f64 = 1.0;

/// Whether a circuit has nothing to throttle.
pub fn is_index(balancing_pa: f64) -> bool {
    balancing_pa < INDEX_PA
}

/// What is set at the valve of a circuit.
pub fn valve(units: Units, balancing_pa: f64, valve: Option<&ValveSetting>) -> String {
    if is_index(balancing_pa) {
        return "index loop: open".into();
    }
    let closes = show(units, Quantity::Head, balancing_pa);
    match valve {
        None => closes,
        Some(v) => format!("{closes}, {}", setting(units, Some(v))),
    }
}

/// Turns where the manifold's table tells them, else the flow factor.
pub fn setting(units: Units, valve: Option<&ValveSetting>) -> String {
    match valve {
        None => "open".into(),
        Some(ValveSetting { turns: Some(turns), .. }) => format!("{turns:.1}\u{a0}turns"),
        Some(v) => {
            let name = if units == Units::Us { "Cv" } else { "Kv" };
            format!("{name}\u{a0}{}", units.figure(Quantity::Kv, v.kv_m3_h))
        }
    }
}

/// The tube's name.
pub fn tube(job: &Job, id: &str) -> String {
    job.tube(id).map_or_else(|| id.to_owned(), |t| t.name.clone())
}

/// "Hall, Stairs".
pub fn rooms(job: &Job, ids: &[String]) -> String {
    ids.iter().filter_map(|id| job.room(id)).map(|r: &Room| r.name.as_str()).collect::<Vec<_>>().join(", ")
}

/// A circuit at a manifold, whether it is a loop of the floor or one of a wall or ceiling field.
pub struct Circuit<'a> {
    /// Its tag; of a field the manifold's letter.
    pub tag: String,
    /// Its manifold.
    pub manifold_id: &'a str,
    /// Port, for loops.
    pub port: Option<u32>,
    /// What it heats.
    pub heats: String,
    /// Its tube.
    pub tube: String,
    /// m
    pub length_m: f64,
    /// L/min
    pub flow_l_min: f64,
    /// °C
    pub return_c: Option<f64>,
    /// Pa
    pub head_loss_pa: f64,
    /// Pa
    pub balancing_pa: f64,
    /// How its valve is set.
    pub valve: Option<&'a ValveSetting>,
}

/// All circuits of the manifolds: loops first, then fields.
pub fn circuits<'a>(job: &'a Job, design: &'a Design) -> Vec<Circuit<'a>> {
    let mut out: Vec<Circuit> = design
        .loops
        .iter()
        .map(|l| Circuit {
            tag: l.tag.clone(),
            manifold_id: &l.manifold_id,
            port: Some(l.port),
            heats: rooms(job, &l.room_ids),
            tube: tube(job, &l.tube_id),
            length_m: l.length_m,
            flow_l_min: l.flow_l_min,
            return_c: Some(l.return_c),
            head_loss_pa: l.head_loss_pa,
            balancing_pa: l.balancing_pa,
            valve: l.valve.as_ref(),
        })
        .collect();
    for room in &job.rooms {
        let of = design.rooms.iter().find(|r| r.id == room.id).map_or(&[][..], |r| &r.fields);
        for f in of {
            let (Some(manifold_id), Some(field)) = (&f.manifold_id, room.fields.iter().find(|x| x.id == f.id)) else {
                continue;
            };
            let letter = job.manifolds.iter().find(|m| m.id == *manifold_id).map_or("–", |m| &m.letter);
            let what = if field.edge.is_some() { "wall field" } else { "ceiling field" };
            let count = if f.circuits == 1 { "1 circuit".to_owned() } else { format!("{} circuits", f.circuits) };
            out.push(Circuit {
                tag: letter.to_owned(),
                manifold_id,
                port: None,
                heats: format!("{}, {what}: {count}", room.name),
                tube: tube(job, &field.tube_id),
                length_m: f.tube_m,
                flow_l_min: f.flow_l_min,
                return_c: f.return_c,
                head_loss_pa: f.head_loss_pa,
                balancing_pa: f.balancing_pa,
                valve: f.valve.as_ref(),
            });
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn money_is_parted_and_rounded_to_the_cent() {
        let said = |v| money(v, "€");
        assert_eq!(
            [said(0.0), said(1234.5), said(1_234_567.891), said(-0.004), said(-12.3), said(999.995)],
            [
                "0.00\u{a0}€",
                "1,234.50\u{a0}€",
                "1,234,567.89\u{a0}€",
                "0.00\u{a0}€",
                "-12.30\u{a0}€",
                "1,000.00\u{a0}€"
            ]
        );
    }

    #[test]
    fn codes_have_words_and_unknown_ones_stay() {
        assert_eq!(word("causes", fuoco_core::heat_loss::Cause::OutsideWall), "Walls");
        assert_eq!(word("causes", "soot"), "soot");
        assert_eq!(word("nothing", 3), "");
    }
}

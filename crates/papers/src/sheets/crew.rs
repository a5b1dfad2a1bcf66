//! The order of laying, coil by coil, then every loop alone with its turns.

use super::loops::drawing;
use super::scale;
use crate::typeset::block::{Block, note, plain, text};
use crate::typeset::table::{Cell, Table, figures, words};
use crate::typeset::text::bold;
use crate::words::{rooms, tube, word};
use crate::{Papers, Part};
use fuoco_core::design::LoopDesign;
use fuoco_core::job::FloorLattice;
use fuoco_core::materials::cautions::CautionKind;
use fuoco_core::materials::coils::{CoilDesign, CutDesign};
use fuoco_core::units::{Quantity as Q, Units};
use fuoco_documents::plan_svg::{View, draw, extent};
use std::collections::BTreeMap;

pub fn parts(of: &Papers) -> Vec<Part> {
    let order = Part { sheet: of.format.upright(), blocks: order(of) };
    std::iter::once(order).chain(of.design.loops.iter().map(|l| alone(of, l))).collect()
}

fn coils<'a>(of: &Papers<'a>) -> impl Iterator<Item = (&'a str, &'a CoilDesign)> {
    of.materials.coils.iter().flat_map(|t| t.coils.iter().map(|c| (t.name.as_str(), c)))
}

fn order(of: &Papers) -> Vec<Block> {
    let m = of.materials;
    let mut out = vec![Block::Title("Order of laying".into(), of.whom(of.day))];
    out.extend(super::stop(of, "Do not lay from this sheet:"));
    out.push(plain(
        "Coil by coil, the farthest loops first; marks, those of the cautions too, count from a coil's free end. Each loop is cut with its tails.",
    ));
    for (tube, c) in coils(of) {
        let left = if c.missing_m > 0.0 {
            format!("{} missing", of.s(Q::Tube, c.missing_m))
        } else {
            format!("{} left", of.s(Q::Tube, c.left_m))
        };
        out.push(Block::Heading(format!("{}: {} of {tube}, {left}", c.coil, of.s(Q::Tube, c.length_m))));
        let heads = [
            words("Loop"),
            words("Room"),
            figures("Begins at mark"),
            figures("Cut at mark"),
            figures("On the floor"),
            words("Caution"),
            words("Laid"),
        ];
        let rows = c.cuts.iter().map(|cut| {
            let on = of.design.loops.iter().find(|l| l.id == cut.loop_id);
            vec![
                bold(cut.tag.as_str()).into(),
                on.map_or_else(String::new, |l| rooms(of.job, &l.room_ids)).into(),
                bold(of.s(Q::Tube, cut.from_m)).into(),
                bold(of.s(Q::Tube, cut.to_m)).into(),
                of.s(Q::Tube, cut.drawn_m).into(),
                cautions(of, &cut.loop_id, cut.port_m, on).join("; ").into(),
                "☐".into(),
            ]
        });
        out.push(Block::Table(Table::new(heads).rows(rows)));
    }
    if !m.work.tasks.is_empty() {
        out.push(Block::Heading("Tasks".into()));
        let rows = m
            .work
            .tasks
            .iter()
            .map(|t| vec![format!("☐ {}", t.name).into(), t.how.as_str().into(), of.s(Q::Time, t.time_s).into()]);
        out.push(Block::Table(Table::new([words(""), words(""), figures("")]).rows(rows)));
        let done = m.work.done.as_ref().map(|d| format!(", done on {d}")).unwrap_or_default();
        out.push(plain(format!("{:.1} working days of the crew{done}.", m.work.days)));
    }
    out.push(plain("Tubes stay under pressure while anything is poured; the gauge in sight."));
    out
}

/// What to take care of along a loop, with the length of tube at each place from `from_m` on.
fn cautions(of: &Papers, loop_id: &str, from_m: f64, on: Option<&LoopDesign>) -> Vec<String> {
    let m = of.materials;
    let at = |along: &[f64]| along.iter().map(|a| of.s(Q::Tube, from_m + a)).collect::<Vec<_>>().join(", ");
    let mut out = vec![];
    let saws: Vec<_> = m.saw_cuts.iter().filter(|c| c.loop_id == loop_id).collect();
    if let Some(first) = saws.first() {
        let deep = of.s(Q::Thickness, first.tube_depth_m);
        let along: Vec<f64> = saws.iter().map(|c| c.along_m).collect();
        out.push(format!("saw cut: sleeves at {}, {deep} deep", at(&along)));
    }
    let mut places: BTreeMap<(CautionKind, &str), Vec<f64>> = BTreeMap::new();
    for c in m.cautions.iter().filter(|c| c.loop_id == loop_id) {
        // doorways and walls are told by their kind, what stands on the floor by its name too
        let fixed = matches!(c.kind, CautionKind::BoltDown | CautionKind::Column);
        places.entry((c.kind, if fixed { &c.name } else { "" })).or_default().push(c.along_m);
    }
    for ((kind, name), along) in places {
        let name = if name.is_empty() { String::new() } else { format!(" {name}") };
        out.push(format!("{}{name} at {}", word("cautions", kind), at(&along)));
    }
    if on.is_some_and(|l| l.riser_m > 0.0) {
        out.push("through the floor".into());
    }
    out
}

/// One loop, as large as it goes, and its turns as a list that can be read kneeling.
fn alone(of: &Papers, l: &LoopDesign) -> Part {
    let units = of.units();
    let level = l.room_ids.first().and_then(|id| of.job.room(id)).map_or("", |r| r.level_id.as_str());
    let [lo, hi] = extent(of.job, level, Some(l));
    let size = [hi[0] - lo[0], hi[1] - lo[1]];
    let sheet = if size[1] > 0.9 * size[0] { of.format.upright() } else { of.format.lying() };
    let [wide, high] = sheet.body();
    // title, facts, and the notes below
    let scale = scale::largest(units, size, [wide, high - 48.0]);
    let coil = coils(of).find_map(|(_, c)| c.cuts.iter().find(|cut| cut.loop_id == l.id).map(|cut| (c, cut)));
    let letter = of.job.manifolds.iter().find(|m| m.id == l.manifold_id).map_or("", |m| &m.letter);
    let mut facts = vec![
        ("Tube".into(), tube(of.job, &l.tube_id)),
        ("Cut".into(), format!("{} + tails", of.s(Q::Tube, l.length_m))),
        ("Port".into(), format!("{letter}{}, from the left", l.port)),
    ];
    if l.riser_m > 0.0 {
        facts.push(("Through the floor".into(), format!("{} each way", of.s(Q::Tube, l.riser_m / 2.0))));
    }
    if let Some((c, cut)) = coil {
        facts.push(("Coil".into(), format!("{}, from mark {}", c.coil, of.s(Q::Tube, cut.from_m))));
    }
    facts.push(("Spacing".into(), of.s(Q::Size, l.spacing_m)));
    facts.push(("Scale".into(), scale::named(units, scale)));
    let drawn = draw(of.job, of.design, View { level_id: level, scale, only: Some(l) });
    let unit = if units == Units::Us { "feet" } else { "metres" };
    let mut blocks = vec![
        Block::Title(format!("Loop {}", l.tag), of.whom(&rooms(of.job, &l.room_ids))),
        Block::Facts(facts),
        drawing(drawn),
        note(format!(
            "Figures at the turns: {unit} of tube from the supply port, as the marks on the tube count, less the figure at the port. No splice."
        )),
    ];
    let care = cautions(of, &l.id, 0.0, None);
    if !care.is_empty() {
        let said = format!(" lengths from the port: {}.", care.join("; "));
        blocks.push(text([bold("Caution:"), said.into()]));
    }
    blocks.push(Block::Heading(format!("Loop {}, turn by turn", l.tag)));
    blocks.push(Block::Table(turns(of, l, coil.map(|(_, cut)| cut))));
    Part { sheet, blocks }
}

const ARROWS: [&str; 8] = ["↑", "↗", "→", "↘", "↓", "↙", "←", "↖"];

/// The turns in columns of rows that are read downward.
fn turns(of: &Papers, l: &LoopDesign, cut: Option<&CutDesign>) -> Table {
    let units = of.units();
    let run = if units == Units::Us { Q::Length } else { Q::Tube };
    let lattices = || l.room_ids.iter().filter_map(|id| of.job.room(id)?.floor.as_ref()?.lattice.as_ref());
    let counted = if lattices().any(|x| matches!(x, FloorLattice::Joists { .. })) {
        Some("Joists")
    } else {
        lattices().next().map(|_| "Squares")
    };
    let along = |m: f64| units.figure(run, m);
    let row = |k: usize| -> Vec<Cell> {
        let Some(t) = l.steps.get(k) else { return vec![] };
        let end = k + 1 == l.steps.len();
        let heading = ARROWS[((t.heading_deg / 45.0).round() as i64).rem_euclid(8) as usize];
        let then = match t.turn_deg {
            _ if end => "return port".into(),
            a if a.abs() < 20.0 => "shift".into(),
            a => format!("{:.0}° {}", a.abs(), if a > 0.0 { "left" } else { "right" }),
        };
        let mut cells: Vec<Cell> = vec![
            if end { String::new() } else { (k + 1).to_string() }.into(),
            heading.into(),
            along(t.length_m).into(),
        ];
        if counted.is_some() {
            cells.push(t.passes.map_or_else(String::new, |n| n.to_string()).into());
        }
        cells.push(bold(along(t.along_m)).into());
        if let Some(cut) = cut {
            cells.push(along(cut.port_m + t.along_m).into());
        }
        cells.push(then.into());
        cells
    };
    let unit = units.symbol(run);
    let mut heads = vec![figures("Turn"), words("Way"), figures(format!("Run, {unit}"))];
    heads.extend(counted.map(figures));
    heads.push(figures("From the port"));
    heads.extend(cut.map(|_| figures("Mark")));
    heads.push(words("Then"));
    let n = l.steps.len();
    // few turns are read in one column, many in two
    let columns = if n > 24 { 2 } else { 1 };
    let down = n.div_ceil(columns);
    let cells = heads.len();
    let all: Vec<_> = (0..columns).flat_map(|_| heads.clone()).collect();
    let rows = (0..down).map(|k| {
        (0..columns)
            .flat_map(|c| {
                let mut part = row(c * down + k);
                part.resize(cells, Cell::from(""));
                part
            })
            .collect()
    });
    Table::new(all).rows(rows).whole()
}

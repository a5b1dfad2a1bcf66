//! What goes into the van: every article with its amount, group by group, and the holes to be drilled. Without prices.

use crate::Papers;
use crate::typeset::block::{Block, plain};
use crate::typeset::table::{Table, figures, words};
use crate::typeset::text::bold;
use crate::words::word;
use fuoco_core::units::Quantity as Q;

pub fn blocks(of: &Papers) -> Vec<Block> {
    let m = of.materials;
    let mut out =
        vec![Block::Title("Materials".into(), of.whom(of.day)), plain("Counted from the drawing; packs are whole.")];
    let mut groups = m.lines.iter().map(|l| l.group).collect::<Vec<_>>();
    groups.dedup();
    for group in groups {
        out.push(Block::Heading(word("groups", group)));
        let rows = m.lines.iter().filter(|l| l.group == group).map(|l| {
            let amount = |v: f64| of.s(l.unit.quantity(), v);
            vec![l.name.as_str().into(), amount(l.quantity).into(), bold(amount(l.order)).into(), "☐".into()]
        });
        out.push(Block::Table(
            Table::new([words("Article"), figures("Counted"), figures("To order"), figures("In the van")]).rows(rows),
        ));
    }
    let coils = m.coils.iter().flat_map(|t| t.coils.iter().map(move |c| (t, c)));
    let rows: Vec<_> = coils
        .map(|(t, c)| {
            let tags = c.cuts.iter().map(|x| x.tag.as_str()).collect::<Vec<_>>().join(", ");
            vec![bold(c.coil.as_str()).into(), t.name.as_str().into(), of.s(Q::Tube, c.length_m).into(), tags.into()]
        })
        .collect();
    if !rows.is_empty() {
        out.push(Block::Heading("Coils".into()));
        out.push(Block::Table(
            Table::new([words("Coil"), words("Tube"), figures("Length"), words("Loops")]).rows(rows),
        ));
    }
    if !m.joists.is_empty() {
        out.push(Block::Heading("Drilling list".into()));
        out.push(plain("For approval before anyone drills: local code and the joist's maker come first."));
        let rows = m.joists.iter().map(|j| {
            let room = of.job.room(&j.room_id).map_or("", |r| &r.name);
            let holes = j.holes.iter().map(|h| of.s(Q::Length, h.from_wall_m)).collect::<Vec<_>>().join(", ");
            vec![room.into(), j.number.to_string().into(), of.s(Q::Thickness, j.diameter_m).into(), holes.into()]
        });
        let heads =
            [words("Room"), figures("Joist"), figures("Diameter"), words("From the wall to the middle of each hole")];
        out.push(Block::Table(Table::new(heads).rows(rows)));
    }
    out
}

//! What the customer reads: options side by side, what is not in them. Never what things cost the firm.

use crate::Papers;
use crate::typeset::block::{Block, list, plain};
use crate::typeset::table::{Cell, Column, Table, figures, words};
use crate::typeset::text::bold;
use crate::words::{money, word};
use fuoco_core::materials::quote::OptionDesign;
use fuoco_core::materials::report::MaterialsDesign;
use fuoco_core::units::Quantity as Q;

/// Why there is no quote yet: something in it has no price.
pub fn open(m: &MaterialsDesign) -> Option<String> {
    if m.lines.is_empty() || m.quote.is_empty() {
        return Some("Nothing to offer yet.".into());
    }
    let lacks: Vec<String> = m
        .quote
        .iter()
        .filter(|o| !o.missing.is_empty() || o.labour_missing)
        .map(|o| {
            let hour = o.labour_missing.then(|| "an hour of work".to_owned());
            let what: Vec<String> = o.missing.iter().cloned().chain(hour).collect();
            format!("{} is not complete: no price for {}.", o.name, what.join(", "))
        })
        .collect();
    (!lacks.is_empty()).then(|| format!("{} Put prices in at Materials.", lacks.join(" ")))
}

pub fn blocks(of: &Papers) -> Vec<Block> {
    let m = of.materials;
    let name = if m.quote.len() > 1 { "Offers" } else { "Offer" };
    let mut out = vec![Block::Title(format!("{name}: {}", of.job.name), of.day.to_owned())];
    if !of.from.name.is_empty() {
        let under = of.from.lines.iter().map(|l| format!(", {l}")).collect::<String>();
        out.push(crate::typeset::block::text([bold(of.from.name.as_str()), under.into()]));
    }
    if !of.job.customer.is_empty() {
        let place = if of.job.address.is_empty() { String::new() } else { format!(", {}", of.job.address) };
        out.push(plain(format!("For {}{place}", of.job.customer)));
    }
    out.push(Block::Table(table(of)));
    if !m.exclusions.is_empty() {
        out.push(Block::Heading("Not included".into()));
        out.push(list(m.exclusions.clone()));
    }
    out.push(plain(format!(
        "This offer holds for {} days. Work on gas, flues and electricity is done by licensed trades under local code.",
        m.valid_days
    )));
    out.push(Block::Facts(vec![("Ordered by".into(), "_".repeat(34)), ("Date".into(), "_".repeat(16))]));
    out
}

fn table(of: &Papers) -> Table {
    let m = of.materials;
    let cash = |v: f64| money(v, &m.currency);
    let row = |name: &str, of_option: &dyn Fn(&OptionDesign) -> Option<f64>| -> Vec<Cell> {
        let cells = m.quote.iter().map(|o| of_option(o).map_or_else(|| "not included".to_owned(), cash).into());
        std::iter::once(Cell::from(name)).chain(cells).collect()
    };
    let mut groups: Vec<_> = m.quote.iter().flat_map(|o| o.sums.iter().map(|s| s.group)).collect();
    groups.sort();
    groups.dedup();
    let mut extras: Vec<&str> = vec![];
    for name in m.quote.iter().flat_map(|o| o.extras.iter().map(|e| e.name.as_str())) {
        if !extras.contains(&name) {
            extras.push(name);
        }
    }
    let mut columns: Vec<Column> = vec![words("Contains")];
    columns.extend(m.quote.iter().map(|o| figures(o.name.as_str())));
    let sums = groups
        .into_iter()
        .map(|g| row(&word("offered", g), &|o| o.sums.iter().find(|s| s.group == g).map(|s| s.materials + s.labour)));
    let more = extras.into_iter().map(|name| {
        row(name, &|o| {
            let of: Vec<f64> = o.extras.iter().filter(|e| e.name == name).map(|e| e.price).collect();
            (!of.is_empty()).then(|| of.iter().sum())
        })
    });
    let mut table = Table::new(columns).rows(sums.chain(more)).size(10.0).foot(row("Sum", &|o| Some(o.net)));
    if m.quote.iter().any(|o| o.tax > 0.0) {
        table = table.foot(row(&format!("Tax {}", of.s(Q::Share, m.tax)), &|o| Some(o.tax)));
    }
    let pay = row("To pay", &|o| Some(o.gross)).into_iter().map(|mut c| {
        c.spans.iter_mut().for_each(|s| s.bold = true);
        c
    });
    table.foot(pay.collect())
}

//! The customer's page: sums by group with margin, extra lines, tax, options side by side. Never what things cost the firm.

use super::labour::WorkDesign;
use super::part::{Group, Quote, QuoteOption};
use super::takeoff::TakeOffLine;
use serde::{Deserialize, Serialize};

/// An offer.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OptionDesign {
    /// The option; empty where the quote has none.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// What the customer pays, group by group.
    pub sums: Vec<GroupSum>,
    /// Extra lines that belong to it.
    pub extras: Vec<ExtraSum>,
    /// Tax left out.
    pub net: f64,
    /// Tax.
    pub tax: f64,
    /// Both.
    pub gross: f64,
    /// Articles without a price: the sums are without them.
    pub missing: Vec<String>,
    /// An hour of work has no price: the sums are without it.
    pub labour_missing: bool,
}

/// A group of an offer.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GroupSum {
    /// The group.
    pub group: Group,
    /// Materials, margin included.
    pub materials: f64,
    /// Work, margin included.
    pub labour: f64,
}

/// An extra line of an offer.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ExtraSum {
    /// What it is.
    pub name: String,
    /// Tax left out.
    pub price: f64,
}

/// To the cent: what is added up on paper must add up.
fn cents(v: f64) -> f64 {
    (v * 100.0).round() / 100.0
}

/// All options of a quote; one of everything where it has none.
pub(crate) fn options(
    quote: &Quote,
    lines: &[TakeOffLine],
    work: &WorkDesign,
    hour_price: Option<f64>,
) -> Vec<OptionDesign> {
    let all = QuoteOption { id: String::new(), name: "Quote".into(), without: vec![], without_extras: vec![] };
    let options = if quote.options.is_empty() { std::slice::from_ref(&all) } else { &quote.options };
    options.iter().map(|o| option(quote, o, lines, work, hour_price)).collect()
}

fn option(
    quote: &Quote,
    o: &QuoteOption,
    lines: &[TakeOffLine],
    work: &WorkDesign,
    hour_price: Option<f64>,
) -> OptionDesign {
    let groups = Group::ALL.into_iter().filter(|g| !o.without.contains(g));
    let sum = |group: Group| {
        let materials: f64 = lines.iter().filter(|l| l.group == group).filter_map(|l| l.price).sum();
        let time_s: f64 = work.tasks.iter().filter(|t| t.group == group).map(|t| t.time_s).sum();
        let labour = time_s / 3600.0 * hour_price.unwrap_or(0.0);
        GroupSum {
            group,
            materials: cents(materials * (1.0 + quote.margin)),
            labour: cents(labour * (1.0 + quote.labour_margin)),
        }
    };
    let sums: Vec<GroupSum> = groups.map(sum).filter(|s| s.materials + s.labour > 0.0).collect();
    let extras: Vec<ExtraSum> = quote
        .extras
        .iter()
        .filter(|e| !o.without_extras.contains(&e.id))
        .map(|e| ExtraSum { name: e.name.clone(), price: cents(e.price) })
        .collect();
    let net =
        cents(sums.iter().map(|s| s.materials + s.labour).sum::<f64>() + extras.iter().map(|e| e.price).sum::<f64>());
    let tax = cents(net * quote.tax);
    let missing = lines.iter().filter(|l| l.price.is_none() && !o.without.contains(&l.group));
    OptionDesign {
        id: o.id.clone(),
        name: o.name.clone(),
        net,
        tax,
        gross: cents(net + tax),
        missing: missing.map(|l| l.name.clone()).collect(),
        labour_missing: hour_price.is_none() && work.time_s > 0.0,
        sums,
        extras,
    }
}

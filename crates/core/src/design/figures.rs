//! A layout in the figures by which layouts are judged, and which way each of them is better.

use crate::findings::{Finding, Severity};
use crate::study::Study;
use crate::units::Quantity;
use serde::{Deserialize, Serialize};

/// Which way a figure is better.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Better {
    /// The less of it.
    Less,
    /// The more of it.
    More,
    /// It tells two layouts apart, and neither way is better by itself.
    Neither,
}

/// One figure of a layout.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LayoutFigure {
    /// What it is called.
    pub name: String,
    /// What it measures.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub quantity: Quantity,
    /// How much; none where nothing is laid.
    pub value: Option<f64>,
    /// Which way it is better.
    pub better: Better,
}

fn most(values: impl Iterator<Item = f64>) -> Option<f64> {
    values.reduce(f64::max)
}

/// All figures of a layout, in the order in which they are read.
pub(super) fn layout_figures(study: &Study, findings: &[Finding]) -> Vec<LayoutFigure> {
    use Better::{Less, More, Neither};
    use Quantity::{Count, Difference, Flow, Head, Length, Share, Temperature, Tube};
    let (loops, manifolds, rooms, totals) = (&study.loops, &study.manifolds, &study.rooms, &study.totals);
    let count = loops.len() as f64;
    let laid = |v: f64| (count > 0.0).then_some(v);
    let sum = |f: fn(&crate::loops::report::LoopDesign) -> f64| loops.iter().map(f).sum::<f64>();
    let lengths = || loops.iter().map(|l| l.length_m);
    let turns = sum(|l| l.quarter_turns);
    let covered = || rooms.iter().filter_map(|r| Some((r.coverage?, r.heatable_area_m2)));
    let covered_m2: f64 = covered().map(|(_, area)| area).sum();
    let reached = covered().map(|(share, area)| share * area).sum::<f64>() / covered_m2;
    let found = |severity| findings.iter().filter(|f| f.severity == severity).count() as f64;
    let figure = |name: &str, quantity, value, better| LayoutFigure { name: name.into(), quantity, value, better };
    vec![
        figure("Loops", Count, Some(count), Less),
        figure("Tube", Tube, Some(totals.tube_m), Less),
        figure("Leaders", Tube, Some(sum(|l| l.leader_length_m)), Less),
        figure("Shortest loop", Tube, lengths().reduce(f64::min), Neither),
        figure("Longest loop", Tube, most(lengths()), Neither),
        figure(
            "Spread on a manifold, up to",
            Share,
            laid(most(manifolds.iter().map(|m| m.spread)).unwrap_or(0.0)),
            Less,
        ),
        figure("of the limit, up to", Share, laid(most(manifolds.iter().map(|m| m.of_limit)).unwrap_or(0.0)), Neither),
        figure("Quarter turns", Count, laid(turns), Less),
        figure("of an ideal serpentine's", Share, laid(turns / totals.ideal_turns.max(1.0)), Less),
        figure("Steps aside in a loop, on average", Count, laid(sum(|l| f64::from(l.jogs)) / count), Less),
        figure("Tube in long straights", Share, laid(sum(|l| l.straight_m) / sum(|l| l.length_m)), More),
        figure("Floor within reach of tube", Share, (covered_m2 > 0.0).then_some(reached), More),
        figure("Farthest spot from tube", Length, most(rooms.iter().filter_map(|r| Some(r.coldest?.distance_m))), Less),
        figure("Surface ripple, up to", Difference, most(rooms.iter().filter_map(|r| r.striping_k)), Less),
        figure("Warmest spot", Temperature, most(rooms.iter().filter_map(|r| Some(r.warmest?.surface_c))), Less),
        figure("Supply", Temperature, totals.supply_c, Less),
        figure("Flow", Flow, laid(totals.flow_l_min), Neither),
        figure(
            "Pressure drop of the index loop",
            Head,
            laid(most(manifolds.iter().map(|m| m.head_needed_pa)).unwrap_or(0.0)),
            Less,
        ),
        figure("Errors", Count, Some(found(Severity::Error)), Less),
        figure("Warnings, house rules among them", Count, Some(found(Severity::Warning)), Less),
    ]
}

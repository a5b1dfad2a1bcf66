//! What the heat loss says against what was found on site.

use crate::findings::{Findings, Rule, Said, Station, Subject};
use crate::study::Study;
use crate::units::Quantity as Q;

pub(super) const RULES: &[Rule] = &[existing_source];

/// The rating plate of the existing source against the load.
fn existing_source(study: &Study, out: &mut Findings) {
    let Some(ratio) = study.totals.old_source_ratio.filter(|r| !(0.9..=1.3).contains(r)) else { return };
    let words = if ratio > 1.0 { "more than the building needs" } else { "less than the building needs" };
    out.say(
        Said::note(
            Station::HeatLoss,
            "source.old_label",
            Subject::job(),
            format!("The existing source's rating plate says {{ratio}} of the heat calculated here: {words}."),
        )
        .value("ratio", Q::Share, ratio)
        .value("source", Q::Heat, study.totals.source_w)
        .rule("A source is sized by the heat loss, not by the rating plate of the old one."),
    );
}

//! What stands on each paper.

mod crew;
mod heat_loss;
mod labels;
mod loops;
mod manifolds;
mod materials;
mod owner;
mod plant;
pub mod quote;
mod scale;
mod site;
pub mod start_up;

use crate::typeset::block::{Block, list, plain};
use crate::typeset::table::{Table, figures, words};
use crate::{Paper, Papers, Part};

/// The parts of a paper that can be made.
pub fn parts(of: &Papers, paper: Paper) -> Vec<Part> {
    let upright = |blocks| vec![Part { sheet: of.format.upright(), blocks }];
    match paper {
        Paper::HeatLoss => upright(heat_loss::blocks(of)),
        Paper::LoopSheets => loops::parts(of),
        Paper::CrewSheets => crew::parts(of),
        Paper::PlantSheet => plant::parts(of),
        Paper::ManifoldCharts => upright(manifolds::blocks(of)),
        Paper::Materials => upright(materials::blocks(of)),
        Paper::Quote => upright(quote::blocks(of)),
        Paper::OwnersSheet => owner::parts(of),
        Paper::Labels => upright(labels::blocks(of)),
        Paper::AsLaid => site::laid(of),
        Paper::PressureTests => upright(site::tests(of)),
        Paper::StartUp => upright(start_up::blocks(of)),
        // it is put together of the others
        Paper::Pack => vec![],
    }
}

/// The first page of a pack: what is in it, and at which page.
pub fn contents(of: &Papers, rows: &[(String, usize, usize)], lacks: &[String]) -> Vec<Block> {
    let mut blocks = vec![Block::Title("Inspector's pack".into(), of.whom(of.day))];
    if !of.from.name.is_empty() {
        blocks
            .push(plain(std::iter::once(&of.from.name).chain(&of.from.lines).cloned().collect::<Vec<_>>().join(", ")));
    }
    blocks.extend(stop(of, "Do not approve as it stands:"));
    let rows = rows
        .iter()
        .map(|(name, from, pages)| vec![name.as_str().into(), pages.to_string().into(), from.to_string().into()]);
    blocks.push(Block::Table(
        Table::new([words("Contents"), figures("Pages"), figures("From page")]).rows(rows).size(10.5),
    ));
    if !lacks.is_empty() {
        blocks.push(Block::Heading("Not in this pack".into()));
        blocks.push(list(lacks.to_vec()));
    }
    blocks.push(Block::Heading("Cautions".into()));
    blocks.push(plain("Figures are design aids. Local code and the makers' instructions come first; work on gas, fuel, flues, refrigerant and electricity belongs to licensed trades."));
    blocks
}

/// A frame with the first error of the design, where it has one.
pub fn stop(of: &Papers, first: &str) -> Option<Block> {
    let errors: Vec<_> =
        of.design.findings.iter().filter(|f| f.severity == fuoco_core::findings::Severity::Error).collect();
    let count = if errors.len() == 1 { "1 error.".into() } else { format!("{} errors.", errors.len()) };
    errors.first().map(|e| Block::Stop(first.into(), format!("{count} {}", e.message)))
}

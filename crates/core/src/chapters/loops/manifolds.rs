//! Manifolds with what their loops and fields take.

use super::report::{LoopDesign, ManifoldDesign};
use crate::floor::report::FieldDesign;
use crate::job::Job;
use crate::layout;
use crate::layout::rules::score::Score;
use crate::water::loops::mixed_return;

pub(crate) fn manifold_designs<'a>(
    job: &Job,
    loops: &[LoopDesign],
    fields: impl Iterator<Item = &'a FieldDesign>,
    score: &Score,
) -> Vec<ManifoldDesign> {
    let all: Vec<&FieldDesign> = fields.collect();
    job.manifolds
        .iter()
        .enumerate()
        .map(|(i, m)| {
            let place = layout::manifold_place(job, i);
            let scored = score.manifolds.iter().find(|s| s.manifold == i);
            let own = || loops.iter().filter(|l| l.manifold_id == m.id);
            let fields = || all.iter().filter(|f| f.manifold_id.as_deref() == Some(m.id.as_str()));
            ManifoldDesign {
                id: m.id.clone(),
                letter: m.letter.clone(),
                level_id: job.room(&m.room_id).map(|r| r.level_id.clone()).unwrap_or_default(),
                position: place.map(|p| p.1),
                inward: place.map(|p| p.2),
                ports: m.ports,
                ports_used: own().count() as u32 + fields().map(|f| f.circuits).sum::<u32>(),
                flow_l_min: own().map(|l| l.flow_l_min).chain(fields().map(|f| f.flow_l_min)).sum(),
                head_needed_pa: own()
                    .map(|l| l.head_loss_pa)
                    .chain(fields().map(|f| f.head_loss_pa))
                    .fold(0.0, f64::max),
                return_c: mixed_return(own()),
                tube_m: own().map(|l| l.length_m).sum(),
                spread: scored.map_or(0.0, |s| s.spread),
                of_limit: scored.map_or(0.0, |s| s.of_limit),
                leaders: scored.map_or(0.0, |s| s.leaders),
                bends: scored.map_or(0.0, |s| s.bends),
            }
        })
        .collect()
}

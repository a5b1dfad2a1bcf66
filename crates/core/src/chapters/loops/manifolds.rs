//! Manifolds with what their loops and fields take.

use super::report::{LoopDesign, ManifoldDesign, RiserDesign};
use crate::floor::report::FieldDesign;
use crate::job::{Job, Riser};
use crate::layout;
use crate::layout::rules::score::EQUAL;
use crate::layout::rules::score::Score;
use crate::layout::topology::risers::{as_manifold, one_way_m, place_on_level, risers};
use crate::layout::{LaidLoop, Layout};
use crate::water::loops::mixed_return;

pub(crate) fn manifold_designs<'a>(
    job: &Job,
    layout: &Layout,
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
                return_c: mixed_return(own(), fields().copied()),
                tube_m: own().map(|l| l.length_m).chain(fields().map(|f| f.tube_m)).sum(),
                spread: scored.map_or(0.0, |s| s.spread),
                uneven: job.rules.equal_loops && scored.is_some_and(|s| s.spread > EQUAL),
                of_limit: scored.map_or(0.0, |s| s.of_limit),
                leaders: scored.map_or(0.0, |s| s.leaders),
                bends: scored.map_or(0.0, |s| s.bends),
                risers: riser_designs(job, layout, i),
            }
        })
        .collect()
}

fn riser_designs(job: &Job, layout: &Layout, manifold: usize) -> Vec<RiserDesign> {
    let design = |riser: &Riser| {
        let hung = as_manifold(&job.manifolds[manifold], riser);
        let (room, position, inward) = layout::place_of(job, &hung)?;
        let level_id = job.rooms[room].level_id.clone();
        // a loop comes by the riser of its level that is nearest to its start
        let comes_here = |l: &&LaidLoop| {
            let start = l.points.first().copied().unwrap_or_default();
            let by = place_on_level(job, manifold, &job.rooms[l.room].level_id, start);
            l.manifold == manifold && by.is_some_and(|b| b.0 == hung)
        };
        Some(RiserDesign {
            level_id,
            room_id: job.rooms[room].id.clone(),
            position,
            inward,
            tube_m: one_way_m(job, manifold, riser),
            loops: layout.loops.iter().filter(comes_here).count() as u32,
        })
    };
    let own = risers(job).into_iter().filter(|(m, _)| *m == manifold);
    own.filter_map(|(_, riser)| design(&riser)).collect()
}

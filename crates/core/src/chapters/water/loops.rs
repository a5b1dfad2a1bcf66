//! The water of every loop: flow, velocity, temperatures along the tube, pressure drop, and what its valve closes.

use super::circuit::Water;
use crate::error::FieldError;
use crate::floor::report::FieldDesign;
use crate::flow::{self, Regime};
use crate::fluid;
use crate::geometry::{self, segment};
use crate::job::Job;
use crate::layout::rules::buildability::Buildability;
use crate::layout::{self, LaidLoop, Layout};
use crate::loops::report::{LoopDesign, TurnDesign};
use crate::loops::steps::steps;
use crate::plan::Plan;
use crate::water::valves::setting;

/// Water of heated floors is about so warm, °C: its density for the valves.
const USUAL_C: f64 = 40.0;

pub(crate) fn loop_designs(
    job: &Job,
    plan: &Plan,
    layout: &Layout,
    water: &Water,
) -> Result<Vec<LoopDesign>, FieldError> {
    let mut out = Vec::with_capacity(layout.loops.len());
    for (l, heat) in layout.loops.iter().zip(&water.loops) {
        let room = &job.rooms[l.room];
        let manifold = &job.manifolds[l.manifold];
        let Some(tube) = room.heated_floor().and_then(|f| job.tube(&f.tube_id)) else { continue };
        let supply_c = water.supply_of(l.room).unwrap_or(room.room_c);
        let drop = water.rooms[l.room].drop_k.unwrap_or(0.0);
        let return_c = supply_c - drop;
        let properties = fluid::properties(&job.fluid, (supply_c + return_c) / 2.0)?;
        let total = heat.field + heat.leaders + heat.down;
        let flow_kg_s = if drop > 0.0 { total / (properties.specific_heat * drop) } else { 0.0 };
        let flow = flow::flow(flow_kg_s, tube.bore_m(), l.length_m, l.quarter_turns, &properties);
        let mut along = l.riser_m / 2.0;
        let mut last = l.points.first().copied().unwrap_or_default();
        let path_c = l
            .points
            .iter()
            .map(|&p| {
                along += geometry::distance(last, p);
                last = p;
                flow::along(room.room_c, supply_c, return_c, along / l.length_m.max(1e-9))
            })
            .collect();
        let kept = l.kept.and_then(|k| job.loops.get(k));
        let ease = Buildability::of(&l.corners);
        out.push(LoopDesign {
            id: kept.map_or_else(|| format!("{}/{}", room.id, l.piece + 1), |k| k.id.clone()),
            tag: format!("{}{}", manifold.letter, l.port),
            manifold_id: manifold.id.clone(),
            port: l.port,
            room_ids: l.stretches.iter().map(|s| job.rooms[s.room].id.clone()).collect(),
            tube_id: tube.id.clone(),
            length_m: l.length_m,
            leader_length_m: l.leader_length_m,
            riser_m: l.riser_m,
            limit_m: layout::longest_loop(job, tube),
            path: l.points.clone(),
            path_c,
            corners: l.corners.clone(),
            turns: turns(l),
            steps: steps(job, l),
            quarter_turns: ease.quarter_turns,
            jogs: ease.jogs as u32,
            straight_m: ease.straight_m,
            locked: kept.is_some(),
            by_hand: kept.is_some_and(|k| k.by_hand),
            spacing_m: spacing(job, plan, l),
            flow_l_min: flow_kg_s / properties.density * 60_000.0,
            velocity_m_s: flow.velocity_m_s,
            reynolds: flow.reynolds,
            regime: Regime::at(flow.reynolds),
            supply_c,
            return_c,
            output_up_w: heat.field + heat.leaders,
            output_down_w: heat.down,
            head_loss_pa: flow.head_pa,
            balancing_pa: 0.0,
            valve: None,
        });
    }
    Ok(out)
}

/// The spacing at which most of a loop lies, m: of the perimeter zone where that is the greater part of its field.
fn spacing(job: &Job, plan: &Plan, l: &LaidLoop) -> f64 {
    let Some(floor) = job.rooms[l.room].heated_floor().filter(|f| f.spacing_edge_m < f.spacing_core_m - 1e-6) else {
        return l.spacing_m;
    };
    let Some(field) = l.stretches.iter().find(|s| s.room == l.room) else { return l.spacing_m };
    let cold = plan.cold_walls(l.room);
    let (mut along, mut near, mut all) = (l.riser_m / 2.0, 0.0, 0.0);
    for w in l.points.windows(2) {
        let length = geometry::distance(w[0], w[1]);
        let middle = [0, 1].map(|k| f64::midpoint(w[0][k], w[1][k]));
        if (field.from_m..=field.from_m + field.field_m).contains(&(along + length / 2.0)) {
            all += length;
            if cold.iter().any(|c| segment::to_segment(middle, c[0], c[1]) < job.rules.edge_band_m) {
                near += length;
            }
        }
        along += length;
    }
    if near > 0.5 * all { floor.spacing_edge_m.min(l.spacing_m) } else { l.spacing_m }
}

/// What the valves of loops and of fields' circuits take beside the worst of their manifold.
///
/// # Errors
/// As [`fluid::properties`].
pub(crate) fn balance(job: &Job, loops: &mut [LoopDesign], fields: &mut [&mut FieldDesign]) -> Result<(), FieldError> {
    let density = fluid::properties(&job.fluid, USUAL_C)?.density;
    for manifold in &job.manifolds {
        let hung = |f: &FieldDesign| f.manifold_id.as_ref() == Some(&manifold.id) && f.flow_l_min > 0.0;
        let of_loops = loops.iter().filter(|l| l.manifold_id == manifold.id).map(|l| l.head_loss_pa);
        let of_fields = fields.iter().filter(|f| hung(f)).map(|f| f.head_loss_pa);
        let worst = of_loops.chain(of_fields).fold(0.0, f64::max);
        for l in loops.iter_mut().filter(|l| l.manifold_id == manifold.id) {
            l.balancing_pa = worst - l.head_loss_pa;
            l.valve = setting(manifold, l.flow_l_min, l.balancing_pa, density);
        }
        for f in fields.iter_mut().filter(|f| hung(f)) {
            f.balancing_pa = worst - f.head_loss_pa;
            // the flow is that of all its circuits
            f.valve = setting(manifold, f.flow_l_min / f64::from(f.circuits.max(1)), f.balancing_pa, density);
        }
    }
    Ok(())
}

fn turns(l: &layout::LaidLoop) -> Vec<TurnDesign> {
    let from_port = l.riser_m / 2.0;
    let bends = layout::curve::bends(&l.curve).into_iter().map(|(at, along, turn)| (at, from_port + along, turn));
    let end = l.points.last().map(|&p| (p, l.length_m - from_port, 0.0));
    bends.chain(end).map(|(at, along_m, turn)| TurnDesign { at, along_m, turn_deg: turn.to_degrees() }).collect()
}

/// Where the returns of loops and of fields' circuits meet, °C.
pub(crate) fn mixed_return<'a>(
    loops: impl IntoIterator<Item = &'a LoopDesign>,
    fields: impl IntoIterator<Item = &'a FieldDesign>,
) -> Option<f64> {
    let (mut flow, mut sum) = (0.0, 0.0);
    let of_loops = loops.into_iter().map(|l| (l.flow_l_min, Some(l.return_c)));
    for (l_min, return_c) in of_loops.chain(fields.into_iter().map(|f| (f.flow_l_min, f.return_c))) {
        let Some(return_c) = return_c else { continue };
        flow += l_min;
        sum += l_min * return_c;
    }
    (flow > 0.0).then(|| sum / flow)
}

//! What would help where a floor does not meet its room's load, or where floors do not go together on one water: each remedy
//! calculated for the very room, ready to be taken.

use super::assembly::Parts;
use super::heating::{field_flux, field_state, floor_parts};
use super::trial::{FloorTrial, Outcome};
use crate::flow;
use crate::geometry;
use crate::heat_loss::losses::HeatLoss;
use crate::job::{Field, Floor, Job};
use crate::plan;
use crate::plan::Plan;
use serde::{Deserialize, Serialize};

/// Kinds of remedies.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RemedyKind {
    /// The tightest spacing the firm lays.
    Spacing,
    /// Another covering.
    Covering,
    /// Both at once.
    SpacingAndCovering,
    /// Tube in the low part of the longest outside wall.
    WallField,
    /// Tube in the ceiling.
    CeilingField,
    /// Heat by something else.
    Backup,
    /// A circuit of its own, mixed to its own temperature.
    OwnCircuit,
}

/// One remedy.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Remedy {
    /// What it is.
    pub kind: RemedyKind,
    /// Whether it is enough.
    pub enough: bool,
    /// Supply temperature the room then needs, °C.
    pub supply_c: Option<f64>,
    /// What is still missing, W.
    pub short_w: f64,
    /// The heat it adds, of a field or of backup, W.
    pub heat_w: Option<f64>,
    /// The floor to take.
    pub floor: Option<Floor>,
    /// The field to add; its id is to be given by who takes it.
    pub field: Option<Field>,
}

/// Floors that do not go together on one supply temperature.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Conflict {
    /// The room that sets the water.
    pub room_id: String,
    /// The supply temperature it sets, °C.
    pub supply_c: f64,
    /// Supply temperature that all others need, °C.
    pub others_c: f64,
    /// Rooms whose floor or field does not stand the water.
    pub harmed_room_ids: Vec<String>,
    /// What would help, for the room that sets the water.
    pub remedies: Vec<Remedy>,
}

/// Rooms this far apart in the water they need are better off on two temperatures, K.
const APART_K: f64 = 8.0;
/// Height of a wall field that is proposed, m: the low part, under the window boards.
const LOW_PART_M: f64 = 1.0;

/// The supply temperature that a room needs, and the highest that what heats it allows, °C.
pub(crate) struct Need {
    pub supply_c: Option<f64>,
    pub limit_c: Option<f64>,
}

/// The conflict of rooms on one water of `supply`, set by the room `governing`, if there is one.
pub(crate) fn conflict(
    job: &Job,
    plan: &Plan,
    heat: &HeatLoss,
    needs: &[Need],
    supply: f64,
    governing: usize,
) -> Option<Conflict> {
    let others = needs.iter().enumerate().filter(|(i, _)| *i != governing).filter_map(|(_, n)| n.supply_c);
    let others_c = others.fold(f64::NEG_INFINITY, f64::max);
    let is_harmed = |n: &Need| n.supply_c.is_some() && n.limit_c.is_some_and(|limit| supply > limit + 0.05);
    let rooms = job.rooms.iter().zip(needs);
    let harmed: Vec<String> = rooms.filter(|(_, n)| is_harmed(n)).map(|(r, _)| r.id.clone()).collect();
    if !others_c.is_finite() || harmed.is_empty() && supply - others_c < APART_K {
        return None;
    }
    let mut remedies = floor_remedies(job, plan, heat, governing);
    remedies.retain(|r| r.supply_c.is_some_and(|s| s < supply - 0.5));
    remedies.push(Remedy {
        kind: RemedyKind::OwnCircuit,
        enough: true,
        supply_c: Some(supply),
        short_w: 0.0,
        heat_w: None,
        floor: None,
        field: None,
    });
    let room_id = job.rooms[governing].id.clone();
    Some(Conflict { room_id, supply_c: supply, others_c, harmed_room_ids: harmed, remedies })
}

fn of_floor(kind: RemedyKind, floor: Floor, outcome: &Outcome) -> Remedy {
    Remedy {
        kind,
        enough: outcome.carries,
        supply_c: Some(outcome.supply_c),
        short_w: outcome.short_w,
        heat_w: None,
        floor: Some(floor),
        field: None,
    }
}

/// Tighter spacing, a covering that lets more through or stands more, and both.
fn floor_remedies(job: &Job, plan: &Plan, heat: &HeatLoss, index: usize) -> Vec<Remedy> {
    let Some(now) = job.rooms[index].heated_floor() else { return vec![] };
    let Ok(task) = FloorTrial::new(job, plan, index, heat) else { return vec![] };
    let outcome = |floor: &Floor| {
        let parts: Parts = floor_parts(job, floor)?;
        task.outcome(floor, &parts, None).ok()
    };
    let Some(before) = outcome(now) else { return vec![] };
    let tightest = job.rules.spacings_m.iter().copied().fold(f64::INFINITY, f64::min);
    let tighter = Floor { spacing_core_m: tightest, spacing_edge_m: tightest.min(now.spacing_edge_m), ..now.clone() };
    let is_tighter = tightest < now.spacing_core_m - 1e-6;
    let thinner = |floor: &Floor| Floor { covering_id: "tile".into(), ..floor.clone() };
    let other = now.covering_id != "tile" && now.covering_id != "bare" && now.covering_id != "stone";
    let mut out = Vec::new();
    let mut propose = |kind, floor: Floor, worth: bool| {
        let better = |o: &Outcome| {
            o.short_w < before.short_w - 0.5 || o.carries && !before.carries || o.supply_c < before.supply_c - 0.5
        };
        if let (true, Some(o)) = (worth, outcome(&floor).filter(better)) {
            out.push(of_floor(kind, floor, &o));
        }
    };
    propose(RemedyKind::Spacing, tighter.clone(), is_tighter);
    propose(RemedyKind::Covering, thinner(now), other);
    propose(RemedyKind::SpacingAndCovering, thinner(&tighter), is_tighter && other);
    out
}

/// What would help a room whose floor leaves that much over at that supply temperature.
pub(crate) fn remedies(
    job: &Job,
    plan: &Plan,
    heat: &HeatLoss,
    index: usize,
    supply: f64,
    short_w: f64,
) -> Vec<Remedy> {
    let mut out = floor_remedies(job, plan, heat, index);
    out.extend(field_remedy(job, plan, heat, index, supply, short_w, true));
    out.extend(field_remedy(job, plan, heat, index, supply, short_w, false));
    out.push(Remedy {
        kind: RemedyKind::Backup,
        enough: true,
        supply_c: None,
        short_w: 0.0,
        heat_w: Some(short_w),
        floor: None,
        field: None,
    });
    out
}

/// A field in the longest outside wall, or in the ceiling, as large as it takes, at the job's water or its own limit.
fn field_remedy(
    job: &Job,
    plan: &Plan,
    heat: &HeatLoss,
    index: usize,
    supply: f64,
    short_w: f64,
    wall: bool,
) -> Option<Remedy> {
    let room = &job.rooms[index];
    let (edge, length) = if wall {
        let pieces = &plan.at_the_floor[index];
        let glass = |edge: usize| room.openings.iter().filter(|o| o.edge == edge).map(|o| o.width_m).sum::<f64>();
        let n = room.outline.len();
        let length = |e: usize| geometry::distance(room.outline[e], room.outline[(e + 1) % n]) - glass(e);
        let taken = |e: usize| room.fields.iter().any(|f| f.edge == Some(e));
        let outside = pieces.iter().filter(|p| p.is_outside() && !taken(p.edge)).map(|p| (p.edge, length(p.edge)));
        let (e, l) = outside.max_by(|a, b| a.1.total_cmp(&b.1))?;
        (Some(e), l)
    } else {
        if room.fields.iter().any(|f| f.edge.is_none()) {
            return None;
        }
        (None, plan::area(room).sqrt())
    };
    let mut field = Field {
        id: String::new(),
        edge,
        width_m: 1.0,
        height_m: if wall { LOW_PART_M.min(room.height_m) } else { 1.0 },
        build_up_id: if wall { "wall-board" } else { "ceiling-board" }.into(),
        tube_id: "pex-12x1.3".into(),
        spacing_m: 0.15,
    };
    let state = field_state(job, plan, index, &field, heat).ok()??;
    let water = supply.min(state.supply_limit_c);
    let excess = flow::mean_excess(room.room_c, water, job.rules.temperature_drop_k);
    let flux = field_flux(&state, excess);
    if flux < 1.0 || length < 0.3 {
        return None;
    }
    let wanted = short_w / flux;
    let area = if wall { length * field.height_m } else { 0.8 * plan::area(room) };
    let taken = wanted.min(area);
    if wall {
        // to the next 5 cm, but never beyond the wall
        field.width_m = ((taken / field.height_m * 20.0).ceil() / 20.0).min((length * 20.0).floor() / 20.0);
    } else {
        field.width_m = (taken.sqrt() * 20.0).ceil() / 20.0;
        field.height_m = (taken / field.width_m * 20.0).ceil() / 20.0;
    }
    field.width_m = field.width_m.max(0.1);
    field.height_m = field.height_m.max(0.1);
    let heat_w = flux * field.area_m2();
    Some(Remedy {
        kind: if wall { RemedyKind::WallField } else { RemedyKind::CeilingField },
        enough: heat_w >= short_w * 0.999,
        supply_c: Some(water),
        short_w: (short_w - heat_w).max(0.0),
        heat_w: Some(heat_w),
        floor: None,
        field: Some(field),
    })
}

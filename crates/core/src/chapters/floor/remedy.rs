//! What might help where a floor does not meet its room's load, or where floors do not go together on one water, ready to be
//! taken. The study [tries](crate::study::tried) each before it is offered.

use super::heating::{field_flux, field_state, floor_parts};
use super::trial::FloorTrial;
use crate::flow;
use crate::geometry;
use crate::heat_loss::losses::HeatLoss;
use crate::job::{Emitter, EmitterKind, Field, Floor, FloorCircuit, Job, Manifold, Room};
use crate::plan;
use crate::plan::Plan;
use serde::{Deserialize, Serialize};

/// Kinds of remedies.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RemedyKind {
    /// A tighter spacing of those the firm lays: the widest that is enough, or else the tightest.
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

/// One remedy. Its figures are those of the design after it is taken.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Remedy {
    /// What it is.
    pub kind: RemedyKind,
    /// Whether it is enough.
    pub enough: bool,
    /// Supply temperature the room then needs, °C; in a conflict that of the circuit.
    pub supply_c: Option<f64>,
    /// What the room then still lacks, W.
    pub short_w: f64,
    /// The heat it adds, of a field or of backup, W.
    pub heat_w: Option<f64>,
    /// The floor to take.
    pub floor: Option<Floor>,
    /// The field to add; its id is to be given by who takes it.
    pub field: Option<Field>,
    /// The emitter to add, likewise.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub emitter: Option<Emitter>,
}

/// Rooms on a circuit of their own: a manifold more, and the job's circuits then.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OwnCircuit {
    /// The manifold to hang.
    pub manifold: Manifold,
    /// All circuits of the job then.
    pub circuits: Vec<FloorCircuit>,
    /// Rooms on the new circuit.
    pub room_ids: Vec<String>,
    /// The manifold of every room then.
    pub served: Vec<Served>,
    /// Supply temperature of the new circuit, °C.
    pub supply_c: f64,
    /// Supply temperature of the old one then, °C.
    pub others_c: f64,
}

/// Which manifold serves a room.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Served {
    /// The room.
    pub room_id: String,
    /// Its manifold.
    pub manifold_id: String,
}

impl OwnCircuit {
    /// Puts it into a job.
    pub fn apply(&self, job: &mut Job) {
        job.manifolds.push(self.manifold.clone());
        job.circuits.clone_from(&self.circuits);
        for room in &mut job.rooms {
            let served = self.served.iter().find(|s| s.room_id == room.id);
            if let (Some(floor), Some(by)) = (&mut room.floor, served) {
                floor.manifold_id = Some(by.manifold_id.clone());
            }
        }
        // loops locked to the old manifold would hold the rooms there
        job.loops.retain(|l| !self.room_ids.contains(&l.room_id));
    }
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

/// Height of a wall field that is proposed, m: the low part, under the window boards.
const LOW_PART_M: f64 = 1.0;
/// Backup heat is proposed in steps of so many watts.
const BACKUP_STEP_W: f64 = 10.0;

/// A change of one room that might help.
#[derive(Debug, Clone)]
pub(crate) enum Change {
    Floor(Floor),
    Field(Field),
    Emitter(Emitter),
}

impl Change {
    /// The room with it; what is added has that id.
    pub fn apply(&self, room: &mut Room, id: &str) {
        match self {
            Change::Floor(floor) => room.floor = Some(floor.clone()),
            Change::Field(field) => room.fields.push(Field { id: id.into(), ..field.clone() }),
            Change::Emitter(emitter) => room.emitters.push(Emitter { id: id.into(), ..emitter.clone() }),
        }
    }
}

/// Spacings tighter than the room's that the firm lays and its lattice has: first the widest that the trial finds enough,
/// then tighter ones; the tightest where none is. Two at most.
pub(crate) fn tighter(job: &Job, now: &Floor, trial: &FloorTrial) -> Vec<f64> {
    let lies = |s: f64| now.lattice.is_none_or(|l| (l.spacing_m(s) / s - 1.0).abs() < 0.01);
    let mut offered: Vec<f64> =
        job.rules.spacings_m.iter().copied().filter(|s| *s < now.spacing_core_m - 1e-6 && lies(*s)).collect();
    offered.sort_by(|a, b| b.total_cmp(a));
    let carries = |s: &f64| {
        let floor = spaced(now, *s);
        floor_parts(job, &floor).and_then(|p| trial.outcome(&floor, &p, None).ok()).is_some_and(|o| o.carries)
    };
    let first = offered.iter().position(carries).unwrap_or(offered.len().saturating_sub(1));
    offered.into_iter().skip(first).take(2).collect()
}

/// A floor with that spacing; its perimeter zone is never wider.
pub(crate) fn spaced(floor: &Floor, spacing_m: f64) -> Floor {
    Floor { spacing_core_m: spacing_m, spacing_edge_m: spacing_m.min(floor.spacing_edge_m), ..floor.clone() }
}

/// A floor under a covering that lets more through and stands more; none where it has such a one.
pub(crate) fn thinner(floor: &Floor) -> Option<Floor> {
    let other = !matches!(floor.covering_id.as_str(), "tile" | "bare" | "stone");
    other.then(|| Floor { covering_id: "tile".into(), ..floor.clone() })
}

/// Electric heat for what is missing.
pub(crate) fn backup(short_w: f64) -> Emitter {
    let beside_w = Some((short_w / BACKUP_STEP_W).ceil() * BACKUP_STEP_W);
    Emitter { beside_w, ..Emitter::of(EmitterKind::ElectricHeater) }
}

/// A field in the longest outside wall, or in the ceiling, for that much heat at that supply temperature or its own limit, as
/// far as its place goes.
pub(crate) fn field(
    job: &Job,
    plan: &Plan,
    heat: &HeatLoss,
    index: usize,
    supply: f64,
    wanted_w: f64,
    wall: bool,
) -> Option<Field> {
    let room = &job.rooms[index];
    let (edge, length) = if wall {
        let pieces = &plan.at_the_floor[index];
        let glass = |edge: usize| room.openings.iter().filter(|o| o.is_in_wall(edge)).map(|o| o.width_m).sum::<f64>();
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
    let wanted = wanted_w / flux;
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
    Some(field)
}

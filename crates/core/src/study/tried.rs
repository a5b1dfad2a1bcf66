//! Remedies tried: the job with each is solved, and what comes out is what is told. What makes something else worse is not
//! offered.

use super::room::{RoomDesign, room_design};
use crate::floor::remedy::{self, Change, Conflict, Remedy, RemedyKind};
use crate::floor::trial::FloorTrial;
use crate::heat_loss::losses::{HeatLoss, heat_loss};
use crate::job::{CheckedJob, Floor, Job, Manifold};
use crate::layout::rules::audit;
use crate::layout::{Layout, Problem, lay_out_watched};
use crate::plan::Plan;
use crate::watch::Watch;
use crate::water::circuit::Circuit;
use std::rc::Rc;

/// Rooms this far apart in the water they need are better off on two temperatures, K: below it a mixing valve is not worth
/// its place.
const APART_K: f64 = 5.0;
/// So many rooms are helped, those that lack most first: more is a house to be insulated, not floors to be changed.
const MOST_ROOMS: usize = 8;
/// A change of spacing lays all loops anew. So many loops are laid for the sake of trying.
const MOST_LOOPS: usize = 40;
/// A field that falls short by the water it gets is made larger so many times.
const LARGER: usize = 3;
/// An id that no job has.
const TRIED: &str = "tried";

/// The design without remedies.
pub(super) struct Base<'a> {
    pub job: &'a CheckedJob,
    pub plan: &'a Plan,
    pub heat: &'a HeatLoss,
    pub layout: &'a Layout,
    pub circuit: &'a Circuit,
    pub violations: usize,
    pub watch: &'a Watch,
}

/// What came of a change.
struct After {
    faults: usize,
    rooms: Vec<RoomDesign>,
    supply_c: Option<f64>,
    governing: Option<usize>,
}

/// Remedies for the rooms that lack heat, and the conflict on one water, if there is one.
pub(super) fn help(base: &Base, rooms: &mut [RoomDesign]) -> Option<Conflict> {
    let supply_c = base.circuit.supply_c?;
    let mut short: Vec<usize> = (0..rooms.len()).filter(|&i| rooms[i].supplement_w > 0.0).collect();
    short.sort_by(|&a, &b| rooms[b].supplement_w.total_cmp(&rooms[a].supplement_w));
    let mut trials = Trials {
        base,
        faults: faults(base.job, base.layout, rooms, base.violations),
        before: rooms.to_vec(),
        loops_left: MOST_LOOPS.max(base.layout.loops.len()),
        laid: vec![],
    };
    for i in short.into_iter().take(MOST_ROOMS) {
        rooms[i].remedies = trials.remedies(i, supply_c);
    }
    trials.conflict(supply_c, base.circuit.governing?)
}

/// A layout, and how often it breaks the layout rules.
type Laid = Rc<(Layout, usize)>;

struct Trials<'a> {
    base: &'a Base<'a>,
    before: Vec<RoomDesign>,
    faults: usize,
    /// Loops that may still be laid.
    loops_left: usize,
    /// Layouts with the floor of a room changed: the covering makes none of its own.
    laid: Vec<(usize, Floor, Laid)>,
}

impl Trials<'_> {
    /// The design after a change of a room; none where it is refused or makes anything else worse.
    fn tried(&mut self, index: usize, change: &Change) -> Option<After> {
        let changed = self.changed(|job| change.apply(&mut job.rooms[index], TRIED))?;
        let now = self.base.job.rooms[index].floor.as_ref();
        let after = match change {
            Change::Floor(floor) if now.is_none_or(|n| !laid_alike(n, floor)) => {
                let laid = self.laid(index, floor, &changed)?;
                self.solved(&changed, &laid.0, laid.1)?
            }
            _ => self.solved(&changed, self.base.layout, self.base.violations)?,
        };
        let colder = after.rooms.iter().zip(&self.before).any(|(a, b)| a.supplement_w > b.supplement_w + 1.0);
        let harmed = harmed(&after.rooms, after.supply_c) > harmed(&self.before, self.base.circuit.supply_c);
        (!colder && !harmed && after.faults <= self.faults).then_some(after)
    }

    fn changed(&self, change: impl FnOnce(&mut Job)) -> Option<CheckedJob> {
        let mut job = self.base.job.clone().into_job();
        change(&mut job);
        CheckedJob::new(job).ok()
    }

    /// The loops of the job with that floor.
    fn laid(&mut self, index: usize, floor: &Floor, changed: &CheckedJob) -> Option<Laid> {
        if let Some((.., known)) = self.laid.iter().find(|(i, f, _)| *i == index && laid_alike(f, floor)) {
            return Some(Rc::clone(known));
        }
        let Base { plan, layout, watch, .. } = *self.base;
        self.loops_left = self.loops_left.checked_sub(layout.loops.len().max(1))?;
        let anew = lay_out_watched(changed, plan, watch);
        watch.check().ok()?;
        let violations = audit::audit(changed, plan, &anew.loops).len();
        let laid = Rc::new((anew, violations));
        self.laid.push((index, floor.clone(), Rc::clone(&laid)));
        Some(laid)
    }

    fn solved(&self, job: &CheckedJob, layout: &Layout, violations: usize) -> Option<After> {
        let plan = self.base.plan;
        let heat = heat_loss(job, plan);
        let circuit = Circuit::settle(job, plan, &heat, layout).ok()?;
        let design = |i: usize| room_design(job, plan, i, &heat.rooms[i], &circuit);
        let rooms: Vec<RoomDesign> = (0..job.rooms.len()).map(design).collect();
        let faults = faults(job, layout, &rooms, violations);
        Some(After { faults, rooms, supply_c: circuit.supply_c, governing: circuit.governing })
    }

    /// Tighter spacing, another covering, both.
    fn floors(&mut self, index: usize, better: impl Fn(&After) -> bool) -> Vec<(RemedyKind, Floor, After)> {
        let Base { job, plan, heat, circuit, layout, .. } = *self.base;
        let Some(now) = job.rooms[index].heated_floor() else { return vec![] };
        let Ok(trial) = FloorTrial::new(job, plan, index, heat, circuit, layout) else { return vec![] };
        let mut out = Vec::new();
        let thinner = remedy::thinner(now);
        let spaced = |floor: &Floor| -> Vec<Floor> {
            remedy::tighter(job, floor, &trial).into_iter().map(|s| remedy::spaced(floor, s)).collect()
        };
        let kinds = [
            (RemedyKind::Covering, thinner.iter().cloned().collect()),
            (RemedyKind::Spacing, spaced(now)),
            (RemedyKind::SpacingAndCovering, thinner.as_ref().map(spaced).unwrap_or_default()),
        ];
        for (kind, floors) in kinds {
            let mut best: Option<(Floor, After)> = None;
            for floor in floors {
                let Some(after) = self.tried(index, &Change::Floor(floor.clone())).filter(|a| better(a)) else {
                    continue;
                };
                let enough = after.rooms[index].supplement_w <= 0.0;
                if enough
                    || best.as_ref().is_none_or(|b| after.rooms[index].supplement_w < b.1.rooms[index].supplement_w)
                {
                    best = Some((floor, after));
                }
                if enough {
                    break;
                }
            }
            let enough = best.as_ref().is_some_and(|(_, a)| a.rooms[index].supplement_w <= 0.0);
            out.extend(best.map(|(floor, after)| (kind, floor, after)));
            if enough && kind == RemedyKind::Spacing {
                // both at once are more than it takes
                break;
            }
        }
        out
    }

    fn remedies(&mut self, index: usize, supply_c: f64) -> Vec<Remedy> {
        let short_w = self.before[index].supplement_w;
        let helps = |a: &After| a.rooms[index].supplement_w < short_w - 0.5;
        let floors = self.floors(index, helps);
        let mut out: Vec<Remedy> = floors
            .into_iter()
            .map(|(kind, floor, after)| Remedy { floor: Some(floor), ..remedy(kind, &after, index) })
            .collect();
        for (kind, wall) in [(RemedyKind::WallField, true), (RemedyKind::CeilingField, false)] {
            out.extend(self.field(kind, index, supply_c, wall));
        }
        let emitter = remedy::backup(short_w);
        if let Some(after) = self.tried(index, &Change::Emitter(emitter.clone())).filter(helps) {
            let heat_w = emitter.beside_w;
            out.push(Remedy { heat_w, emitter: Some(emitter), ..remedy(RemedyKind::Backup, &after, index) });
        }
        out
    }

    /// A field as large as it takes, as far as its place goes.
    fn field(&mut self, kind: RemedyKind, index: usize, supply_c: f64, wall: bool) -> Option<Remedy> {
        let Base { job, plan, heat, .. } = *self.base;
        let short_w = self.before[index].supplement_w;
        let mut wanted_w = short_w;
        let mut found: Option<Remedy> = None;
        for _ in 0..LARGER {
            let field = remedy::field(job, plan, heat, index, supply_c, wanted_w, wall)?;
            if found.as_ref().and_then(|f| f.field.as_ref()) == Some(&field) {
                break;
            }
            let after = self.tried(index, &Change::Field(field.clone()));
            let Some(after) = after.filter(|a| a.rooms[index].supplement_w < short_w - 0.5) else { break };
            let rest_w = after.rooms[index].supplement_w;
            let heat_w = after.rooms[index].fields.last().map(|f| f.heat_w);
            found = Some(Remedy { heat_w, field: Some(field), ..remedy(kind, &after, index) });
            if rest_w <= 0.0 {
                break;
            }
            wanted_w *= 1.05 * short_w / (short_w - rest_w);
        }
        found
    }

    /// The conflict of rooms on one water, set by the governing room, if there is one.
    fn conflict(&mut self, supply_c: f64, governing: usize) -> Option<Conflict> {
        let rooms = &self.before;
        let harmed_room_ids: Vec<String> =
            rooms.iter().filter(|r| is_harmed(r, supply_c)).map(|r| r.id.clone()).collect();
        // what it wants, not what its floor stands
        let wants_c = rooms[governing].supply_needed_c.unwrap_or(supply_c);
        let others = rooms.iter().enumerate().filter(|(i, _)| *i != governing);
        let others_c = others.filter_map(|(_, r)| r.supply_needed_c).fold(f64::NEG_INFINITY, f64::max);
        if !others_c.is_finite() || harmed_room_ids.is_empty() && wants_c - others_c < APART_K {
            return None;
        }
        let cooler = |a: &After| a.supply_c.is_some_and(|s| s < supply_c - 0.5);
        let floors = self.floors(governing, |a| cooler(a));
        let mut remedies: Vec<Remedy> = floors
            .into_iter()
            .map(|(kind, floor, after)| Remedy {
                floor: Some(floor),
                supply_c: after.supply_c,
                ..remedy(kind, &after, governing)
            })
            .collect();
        // the others' water, once this room does not set it
        let without = self.changed(|job| job.rooms[governing].governs = Some(false));
        let others = without.and_then(|job| self.solved(&job, self.base.layout, self.base.violations));
        let others_c = match others {
            Some(a) if a.governing != Some(governing) => a.supply_c.unwrap_or(others_c),
            _ => others_c,
        };
        let short_w = self.before[governing].supplement_w;
        remedies.push(Remedy {
            kind: RemedyKind::OwnCircuit,
            enough: short_w <= 0.0,
            supply_c: Some(supply_c),
            short_w,
            heat_w: None,
            floor: None,
            field: None,
            emitter: None,
        });
        let room_id = self.before[governing].id.clone();
        Some(Conflict { room_id, supply_c, others_c, harmed_room_ids, remedies })
    }
}

/// A remedy of that kind as it came out.
fn remedy(kind: RemedyKind, after: &After, index: usize) -> Remedy {
    let room = &after.rooms[index];
    Remedy {
        kind,
        enough: room.supplement_w <= 0.0,
        supply_c: room.supply_needed_c,
        short_w: room.supplement_w,
        heat_w: None,
        floor: None,
        field: None,
        emitter: None,
    }
}

/// Whether the loops of two floors lie alike: nothing but what is over them differs.
fn laid_alike(a: &Floor, b: &Floor) -> bool {
    Floor { covering_id: a.covering_id.clone(), ..b.clone() } == *a
}

/// Whether the water is too warm for what heats a room.
fn is_harmed(room: &RoomDesign, supply_c: f64) -> bool {
    room.supply_needed_c.is_some() && room.supply_limit_c.is_some_and(|limit| supply_c > limit + 0.05)
}

fn harmed(rooms: &[RoomDesign], supply_c: Option<f64>) -> usize {
    supply_c.map_or(0, |s| rooms.iter().filter(|r| is_harmed(r, s)).count())
}

/// What the layout could not do, what breaks its rules, and circuits beyond the port pairs of their manifolds.
fn faults(job: &Job, layout: &Layout, rooms: &[RoomDesign], violations: usize) -> usize {
    let beyond = |(m, manifold): (usize, &Manifold)| {
        let loops = layout.loops.iter().filter(|l| l.manifold == m).count();
        let fields = rooms.iter().flat_map(|r| &r.fields).filter(|f| f.manifold_id.as_ref() == Some(&manifold.id));
        (loops + fields.map(|f| f.circuits as usize).sum::<usize>()).saturating_sub(manifold.ports as usize)
    };
    let problems = layout.problems.iter().filter(|p| !matches!(p, Problem::Ports { .. })).count();
    violations + problems + job.manifolds.iter().enumerate().map(beyond).sum::<usize>()
}

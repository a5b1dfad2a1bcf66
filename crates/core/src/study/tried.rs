//! Remedies tried: the job with each is solved, and what comes out is what is told. What makes something else worse is not
//! offered.

use super::Study;
use super::room::{RoomDesign, room_design};
use crate::error::FieldError;
use crate::floor::remedy::{self, Change, Conflict, OwnCircuit, Remedy, RemedyKind, Served};
use crate::floor::trial::FloorTrial;
use crate::heat_loss::losses::{HeatLoss, heat_loss};
use crate::job::{CheckedJob, Floor, FloorCircuit, Job, Manifold, ids};
use crate::layout::rules::audit;
use crate::layout::topology::places::spots_of;
use crate::layout::{Layout, Problem, lay_out_watched};
use crate::plan::Plan;
use crate::watch::Watch;
use crate::water::circuit::Water;
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
/// A manifold beside another hangs so far from it, middle to middle, at least, m.
const BESIDE_M: f64 = 0.9;
/// Another wall counts as so far, m.
const OTHER_WALL_M: f64 = 100.0;
/// So many places for it are laid out.
const SPOTS: usize = 4;
/// As many as a job may have.
const MOST_MANIFOLDS: usize = 20;
/// An id that no job has.
const TRIED: &str = "tried";

/// The design without remedies.
pub(super) struct Base<'a> {
    pub job: &'a CheckedJob,
    pub plan: &'a Plan,
    pub heat: &'a HeatLoss,
    pub layout: &'a Layout,
    pub water: &'a Water,
    pub violations: usize,
    pub watch: &'a Watch,
}

/// What came of a change.
struct After {
    faults: usize,
    rooms: Vec<RoomDesign>,
    /// Supply temperature of each room's circuit, °C.
    supplies: Vec<Option<f64>>,
    /// The governing room of each room's circuit.
    governing: Vec<Option<usize>>,
}

/// Remedies for the rooms that lack heat, and the conflict on one water, if there is one.
pub(super) fn help(base: &Base, rooms: &mut [RoomDesign]) -> Option<Conflict> {
    base.water.warmest().supply_c?;
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
        let Some(supply_c) = base.water.supply_of(i) else { continue };
        rooms[i].remedies = trials.remedies(i, supply_c);
    }
    // one at a time: what solves the first may change the next
    let supplies = base.water.supplies.iter().enumerate();
    let set = supplies.filter_map(|(c, s)| Some((c, s.supply_c?, s.governing?)));
    set.collect::<Vec<_>>().into_iter().find_map(|(c, supply_c, governing)| trials.conflict(c, supply_c, governing))
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
        let supplies: Vec<_> = (0..self.before.len()).map(|r| self.base.water.supply_of(r)).collect();
        let harmed = harmed(&after.rooms, &after.supplies) > harmed(&self.before, &supplies);
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
        let water = Water::settle(job, plan, &heat, layout).ok()?;
        let design = |i: usize| room_design(job, plan, i, &heat.rooms[i], &water);
        let rooms: Vec<RoomDesign> = (0..job.rooms.len()).map(design).collect();
        let faults = faults(job, layout, &rooms, violations);
        let all = 0..job.rooms.len();
        let supplies = all.clone().map(|r| water.supply_of(r)).collect();
        let governing = all.map(|r| water.supplies[water.of_room[r]].governing).collect();
        Some(After { faults, rooms, supplies, governing })
    }

    /// Tighter spacing, another covering, both.
    fn floors(&mut self, index: usize, better: impl Fn(&After) -> bool) -> Vec<(RemedyKind, Floor, After)> {
        let Base { job, plan, heat, water, layout, .. } = *self.base;
        let Some(now) = job.rooms[index].heated_floor() else { return vec![] };
        let Ok(trial) = FloorTrial::new(job, plan, index, heat, water, layout) else { return vec![] };
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

    /// The conflict of rooms on one circuit's water, set by its governing room, if there is one.
    fn conflict(&mut self, circuit: usize, supply_c: f64, governing: usize) -> Option<Conflict> {
        let of_room = self.base.water.of_room.clone();
        let on_it = |i: usize| of_room[i] == circuit;
        let rooms = &self.before;
        let harmed: Vec<usize> = (0..rooms.len()).filter(|&i| on_it(i) && is_harmed(&rooms[i], supply_c)).collect();
        // what it wants, not what its floor stands
        let wants_c = rooms[governing].supply_needed_c.unwrap_or(supply_c);
        let others = rooms.iter().enumerate().filter(|(i, _)| *i != governing && on_it(*i));
        let others_c = others.filter_map(|(_, r)| r.supply_needed_c).fold(f64::NEG_INFINITY, f64::max);
        if !others_c.is_finite() || harmed.is_empty() && wants_c - others_c < APART_K {
            return None;
        }
        let harmed_room_ids: Vec<String> = harmed.iter().map(|&i| rooms[i].id.clone()).collect();
        let cooler = |a: &After| a.supplies[governing].is_some_and(|s| s < supply_c - 0.5);
        let floors = self.floors(governing, |a| cooler(a));
        let mut remedies: Vec<Remedy> = floors
            .into_iter()
            .map(|(kind, floor, after)| Remedy {
                floor: Some(floor),
                supply_c: after.supplies[governing],
                ..remedy(kind, &after, governing)
            })
            .collect();
        // the others' water, once this room does not set it
        let without = self.changed(|job| job.rooms[governing].governs = Some(false));
        let others = without.and_then(|job| self.solved(&job, self.base.layout, self.base.violations));
        let others_c = match others {
            Some(a) if a.governing[governing] != Some(governing) => a.supplies[governing].unwrap_or(others_c),
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

    /// Rooms of a conflict that go onto the hot circuit: those whose need is above what the others stand, or nearer to the
    /// hottest than to the rest.
    fn hot(&self, conflict: &Conflict, circuit: usize) -> Vec<usize> {
        let harmed = |d: &RoomDesign| conflict.harmed_room_ids.contains(&d.id);
        let stood = self.before.iter().filter(|d| harmed(d)).filter_map(|d| d.supply_limit_c);
        let apart_c = stood.reduce(f64::min).unwrap_or(f64::midpoint(conflict.supply_c, conflict.others_c));
        let wants = |d: &RoomDesign| d.id == conflict.room_id || d.supply_needed_c.is_some_and(|s| s > apart_c + 0.05);
        let rooms = self.before.iter().enumerate();
        rooms
            .filter(|(i, d)| self.base.water.of_room[*i] == circuit && !harmed(d) && wants(d))
            .map(|(i, _)| i)
            .collect()
    }

    /// The hot rooms on a manifold of their own, in their own room or beside the old one; none where no place is as good.
    fn own_circuit(&mut self, conflict: &Conflict) -> Option<OwnCircuit> {
        let Base { job, plan, layout, watch, water, .. } = *self.base;
        let governing = job.rooms.iter().position(|r| r.id == conflict.room_id)?;
        let circuit = water.of_room[governing];
        let hot = self.hot(conflict, circuit);
        if job.manifolds.len() >= MOST_MANIFOLDS {
            return None;
        }
        let on = |r: usize| layout.loops.iter().find(|l| l.heats(r)).map(|l| l.manifold);
        let old = &job.manifolds[on(governing)?];
        let loops = hot.iter().map(|&r| layout.loops.iter().filter(|l| l.heats(r)).count() as u32).sum::<u32>();
        let new = Manifold {
            id: ids::free(job, "manifold"),
            letter: free_letter(job),
            ports: (loops + 1).clamp(2, 24),
            risers: vec![],
            valve_table: vec![],
            ..old.clone()
        };
        let away = |m: &Manifold| if m.edge == old.edge { (m.offset_m - old.offset_m).abs() } else { OTHER_WALL_M };
        let mut beside = spots_of(job.room(&old.room_id)?, &new);
        beside.retain(|m| m.edge != old.edge || away(m) > BESIDE_M);
        beside.sort_by(|a, b| away(a).total_cmp(&away(b)));
        let own = spots_of(&job.rooms[governing], &new);
        // not all along one wall
        let apart = own.len() / SPOTS + 1;
        let spots: Vec<Manifold> = if old.room_id == conflict.room_id {
            beside.into_iter().take(2 * SPOTS).collect()
        } else {
            own.into_iter().step_by(apart).chain(beside.into_iter().take(SPOTS)).collect()
        };
        let now: Vec<(usize, usize)> = (0..job.rooms.len()).filter_map(|r| Some((r, on(r)?))).collect();
        for manifold in spots {
            // the hot rooms on the new one and the rest as they are; or as the layout likes it
            let added = job.manifolds.len();
            let wanted: Vec<(usize, usize)> =
                now.iter().map(|(r, m)| (*r, if hot.contains(r) { added } else { *m })).collect();
            for served in [Some(wanted), None] {
                let served: Option<Vec<(usize, usize)>> = served.or_else(|| {
                    let free = self.changed(|job| job.manifolds.push(manifold.clone()))?;
                    let laid = lay_out_watched(&free, plan, watch);
                    let on = |r: usize| laid.loops.iter().find(|l| l.heats(r)).map(|l| l.manifold);
                    Some((0..job.rooms.len()).filter_map(|r| Some((r, on(r)?))).collect())
                });
                watch.check().ok()?;
                let own = served.and_then(|served| self.parted(circuit, governing, &hot, &manifold, &served));
                if let Some(own) = own.and_then(|own| self.put_apart(own, governing, circuit, &hot)) {
                    return Some(own);
                }
            }
        }
        None
    }

    /// It laid out and solved; none where it makes anything worse or the others' water no cooler.
    fn put_apart(&self, own: OwnCircuit, governing: usize, circuit: usize, hot: &[usize]) -> Option<OwnCircuit> {
        let Base { plan, watch, water, .. } = *self.base;
        let changed = self.changed(|job| own.apply(job))?;
        let laid = lay_out_watched(&changed, plan, watch);
        let violations = audit::audit(&changed, plan, &laid.loops).len();
        let after = self.solved(&changed, &laid, violations)?;
        let others = (0..self.before.len()).find(|r| water.of_room[*r] == circuit && !hot.contains(r))?;
        let (supply_c, others_c) = (after.supplies[governing]?, after.supplies[others]?);
        (after.faults <= self.faults && others_c < supply_c - 0.5).then_some(OwnCircuit { supply_c, others_c, ..own })
    }

    /// The circuits where the hot rooms lie on other manifolds than the rest; none where they share one.
    fn parted(
        &self,
        circuit: usize,
        governing: usize,
        hot: &[usize],
        manifold: &Manifold,
        served: &[(usize, usize)],
    ) -> Option<OwnCircuit> {
        let job = self.base.job;
        let manifolds = || job.manifolds.iter().chain([manifold]);
        let own: Vec<usize> = served.iter().filter(|s| hot.contains(&s.0)).map(|s| s.1).collect();
        if own.is_empty() || served.iter().any(|s| !hot.contains(&s.0) && own.contains(&s.1)) {
            return None;
        }
        let id_of = |m: usize| manifolds().nth(m).map(|m| m.id.clone());
        let own: Vec<String> = own.into_iter().filter_map(id_of).collect();
        let mut circuits = job.circuits.clone();
        if circuits.is_empty() {
            let all = job.manifolds.iter().map(|m| m.id.clone()).collect();
            let id = ids::free(job, "circuit");
            circuits.push(FloorCircuit {
                id,
                name: "Floors".into(),
                manifold_ids: all,
                supply_c: None,
                feed: job.rules.feed(),
            });
        }
        circuits[circuit].manifold_ids.push(manifold.id.clone());
        circuits.iter_mut().for_each(|c| c.manifold_ids.retain(|m| !own.contains(m)));
        let taken = |id: &String| circuits.iter().any(|c| c.id == *id) || !ids::is_free(job, id);
        let id = (1..).map(|n| format!("circuit-{n}")).find(|id| !taken(id))?;
        let mut manifold_ids: Vec<String> = own;
        manifold_ids.sort();
        manifold_ids.dedup();
        circuits.push(FloorCircuit {
            id,
            name: job.rooms[governing].name.clone(),
            manifold_ids,
            supply_c: None,
            feed: job.rules.feed(),
        });
        let served_by = served
            .iter()
            .filter_map(|(r, m)| Some(Served { room_id: job.rooms[*r].id.clone(), manifold_id: id_of(*m)? }));
        Some(OwnCircuit {
            manifold: manifold.clone(),
            circuits: circuits.clone(),
            room_ids: hot.iter().map(|&r| job.rooms[r].id.clone()).collect(),
            served: served_by.collect(),
            supply_c: 0.0,
            others_c: 0.0,
        })
    }
}

/// The rooms of a job's conflict on a circuit of their own, laid out.
///
/// # Errors
/// When there is no conflict, no place as good as the old one, or it was given up.
pub fn own_circuit(job: &CheckedJob, watch: &Watch) -> Result<OwnCircuit, FieldError> {
    let study = Study::of_watched(job, watch)?;
    let Some(conflict) = &study.conflict else {
        return Err(FieldError::new("job", "its floors go together on one supply temperature"));
    };
    let base = Base {
        job,
        plan: &study.plan,
        heat: &study.heat,
        layout: &study.layout,
        water: &study.water,
        violations: study.violations.len(),
        watch,
    };
    let mut trials = Trials {
        base: &base,
        faults: faults(job, &study.layout, &study.rooms, study.violations.len()),
        before: study.rooms.clone(),
        loops_left: 0,
        laid: vec![],
    };
    let own = trials.own_circuit(conflict);
    watch.check()?;
    own.ok_or_else(|| {
        FieldError::new("manifolds", "no place for a second manifold was found that is as good as the one there is: hang one yourself, and put it on a circuit of its own at Water")
    })
}

/// A letter that no manifold has.
fn free_letter(job: &Job) -> String {
    let free = |l: &String| !job.manifolds.iter().any(|m| m.letter == *l);
    ('A'..='Z').map(String::from).find(free).unwrap_or_else(|| "Z2".into())
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

fn harmed(rooms: &[RoomDesign], supplies: &[Option<f64>]) -> usize {
    rooms.iter().zip(supplies).filter(|(r, s)| s.is_some_and(|s| is_harmed(r, s))).count()
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

//! Service: from what instruments, people and noses say of a floor that was once right, to what is wrong with it. The design is
//! run with every fault it could have, and the faults are ranked by how well each explains all readings together.
//! `docs/service.md` has the contract of `fuoco service`, how the ranking is made and what it takes for granted.
//!
//! ```
//! use fuoco_core::job::CheckedJob;
//! use fuoco_core::samples::{box_room, job_of, manifold};
//! use fuoco_core::service::{Fault, Readings, rank};
//! use fuoco_core::study::Study;
//! let mut job = job_of(vec![box_room("a", 0.0, 0.0, 7.0, 5.0)]);
//! job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
//! let study = Study::of(&CheckedJob::new(job)?)?;
//! let readings = Readings::from_json(r#"[
//!     { "quantity": "outdoor_c", "subject": "", "value": -5.0 },
//!     { "quantity": "flow_l_min", "subject": "A1", "value": 0.0 },
//!     { "quantity": "valve_open", "subject": "A1", "value": 0.0 }
//! ]"#)?;
//! let ranking = rank(&study, &readings)?;
//! assert_eq!(ranking.causes[0].fault, Fault::ValveShut);
//! assert_eq!(ranking.causes[0].place, "A1");
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

pub(crate) mod faults;
pub(crate) mod house;

pub use crate::readings::{Measurand, ReadingOf, Readings};
pub use faults::Fault;

use crate::check;
use crate::error::FieldError;
use crate::study::Study;
use faults::{Place, Suspect, place_name, suspects};
use house::{House, Seen};
use lru::LruCache;
use serde::{Deserialize, Serialize};
use std::hash::{DefaultHasher, Hash, Hasher};
use std::num::NonZeroUsize;
use std::sync::{Arc, LazyLock, Mutex, OnceLock};

/// Causes that are told.
const MOST_CAUSES: usize = 12;
/// Causes less likely than this are not told.
const LEAST_SHARE: f64 = 0.002;
/// A reading farther off than this counts by its distance, not by its square: one wrong reading does not decide.
const FAR: f64 = 3.5;
/// A cause explains a reading that is so many uncertainties off as designed.
const STRIKING: f64 = 1.5;
/// Two causes are told apart by a reading on which they differ by this, in uncertainties.
const APART: f64 = 2.0;
/// A second cause with so much of the first one's share is not told apart from it.
const NEAR: f64 = 0.25;
/// A house that has been heated for less is on its way up, h.
const STEADY_H: f64 = 60.0;
/// The least probability of an answer of yes or no.
const LEAST_P: f64 = 0.02;

/// What is wrong, most likely first.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Ranking {
    /// Outdoors, °C: as read, else the design's.
    pub outdoor_c: f64,
    /// The likely causes, most likely first; the shares of all that were weighed add up to 1.
    pub causes: Vec<LikelyCause>,
    /// The reading that would tell the first two apart, where they are close.
    pub tell_apart: Option<TellApart>,
    /// Everything that can be read, with what a sound house would show.
    pub expected: Vec<Expected>,
    /// Readings that say nothing about this design, and why.
    pub unused: Vec<String>,
}

/// A cause.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LikelyCause {
    /// What.
    pub fault: Fault,
    /// What one calls it.
    pub name: String,
    /// Where: the loop's tag, the room's or circuit's name, the manifold's letter; empty for the house.
    #[serde(rename = "where")]
    pub place: String,
    /// How far the readings are from it, in their uncertainties: root of the mean square.
    pub misfit: f64,
    /// How likely it is among all that were weighed, 0…1.
    pub share: f64,
    /// Readings that it explains and a sound house does not.
    pub explains: Vec<String>,
    /// What to look at next, the easiest first.
    pub next_check: String,
    /// What it costs to be wrong about it.
    pub if_wrong: String,
}

/// What would tell two causes apart.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TellApart {
    /// What to read; none where no reading tells them apart.
    pub quantity: Option<Measurand>,
    /// Of what.
    pub subject: String,
    /// In words.
    pub text: String,
}

/// What a sound house would show.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Expected {
    /// What can be read.
    pub quantity: Measurand,
    /// Of what: the id.
    pub subject: String,
    /// What people call that.
    pub name: String,
    /// What a sound house would show; none where the design does not say.
    pub value: Option<f64>,
}

/// Of what a reading is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Of {
    House,
    Source,
    Circuit(usize),
    Manifold(usize),
    Loop(usize),
    Room(usize),
}

/// All that can be read in this job.
fn readable(study: &Study) -> Vec<(Measurand, Of)> {
    let mut out = vec![(Measurand::OutdoorC, Of::House), (Measurand::HoursOn, Of::House)];
    out.extend([(Measurand::SupplyC, Of::Source), (Measurand::TargetC, Of::Source)]);
    for c in (0..study.circuits.len()).filter(|c| study.circuits[*c].flow_l_min > 0.0) {
        let all = [Measurand::TargetC, Measurand::SupplyC, Measurand::ReturnC, Measurand::FlowLMin, Measurand::HeadKpa];
        out.extend(all.map(|q| (q, Of::Circuit(c))));
    }
    let runs = |m: &usize| study.loops.iter().any(|l| l.manifold_id == study.manifolds[*m].id && l.flow_l_min > 0.0);
    for m in (0..study.manifolds.len()).filter(runs) {
        out.extend([Measurand::SupplyC, Measurand::ReturnC].map(|q| (q, Of::Manifold(m))));
    }
    for l in (0..study.loops.len()).filter(|l| study.loops[*l].flow_l_min > 0.0) {
        let all = [
            Measurand::FlowLMin,
            Measurand::ReturnC,
            Measurand::Gurgles,
            Measurand::ActuatorOpen,
            Measurand::ValveOpen,
        ];
        out.extend(all.map(|q| (q, Of::Loop(l))));
    }
    for (r, d) in study.rooms.iter().enumerate().filter(|(_, d)| d.heated) {
        out.extend([Measurand::RoomC, Measurand::ThermostatC].map(|q| (q, Of::Room(r))));
        if d.surface_mean_c.is_some() {
            out.push((Measurand::SurfaceC, Of::Room(r)));
        }
    }
    out.extend([Measurand::PressureKpa, Measurand::ColdPressureKpa, Measurand::FreezingC].map(|q| (q, Of::House)));
    out
}

/// Id and name of what is read.
fn called(study: &Study, of: Of) -> (String, String) {
    let pair = |id: &str, name: &str| (id.to_owned(), name.to_owned());
    match of {
        Of::House => pair("", ""),
        Of::Source => pair("source", "Source"),
        Of::Circuit(c) => pair(&study.circuits[c].id, &study.circuits[c].name),
        Of::Manifold(m) => pair(&study.manifolds[m].id, &format!("Manifold {}", study.manifolds[m].letter)),
        Of::Loop(l) => pair(&study.loops[l].id, &study.loops[l].tag),
        Of::Room(r) => pair(&study.rooms[r].id, &study.rooms[r].name),
    }
}

fn subject(study: &Study, quantity: Measurand, text: &str) -> Option<Of> {
    let is = |of: Of| {
        let (id, name) = called(study, of);
        let letter = matches!(of, Of::Manifold(m) if study.manifolds[m].letter == text);
        id == text || name.eq_ignore_ascii_case(text) || letter
    };
    let mut all = readable(study).into_iter().filter(|(q, _)| *q == quantity).map(|(_, of)| of);
    all.find(|of| is(*of))
}

/// What an instrument would show, and how much less sure that is than the design's figures.
fn shown(seen: &Seen, quantity: Measurand, of: Of) -> Option<(f64, f64)> {
    let sure = |v: Option<f64>| v.map(|v| (v, 0.0));
    let kpa = |pa: Option<f64>| pa.map(|p| (p / 1000.0, 0.0));
    match (quantity, of) {
        (Measurand::HoursOn, _) => sure(seen.hours_on),
        (Measurand::SupplyC, Of::Source) => sure(seen.source_supply_c),
        (Measurand::TargetC, Of::Source) => sure(seen.source_target_c),
        (Measurand::TargetC, Of::Circuit(c)) => sure(seen.circuit_target_c[c]),
        // standing water is about as warm as what it stands in
        (Measurand::SupplyC, Of::Circuit(c)) => seen.circuit_supply_c[c].map_or(Some((23.0, 5.0)), |v| Some((v, 0.0))),
        (Measurand::ReturnC, Of::Circuit(c)) => seen.circuit_return_c[c].map_or(Some((21.0, 4.0)), |v| Some((v, 0.0))),
        (Measurand::SupplyC, Of::Manifold(m)) => {
            seen.manifold_supply_c[m].map_or(Some((23.0, 5.0)), |v| Some((v, 0.0)))
        }
        (Measurand::ReturnC, Of::Manifold(m)) => {
            seen.manifold_return_c[m].map_or(Some((21.0, 4.0)), |v| Some((v, 0.0)))
        }
        (Measurand::ReturnC, Of::Loop(l)) => {
            seen.loop_return_c[l].map_or(Some((seen.loop_around_c[l] + 1.0, 2.0)), |v| Some((v, 0.0)))
        }
        (Measurand::FlowLMin, Of::Circuit(c)) => Some((seen.circuit_flow_l_min[c], 0.0)),
        (Measurand::FlowLMin, Of::Loop(l)) => Some((seen.loop_flow_l_min[l], 0.0)),
        (Measurand::HeadKpa, Of::Circuit(c)) => kpa(Some(seen.circuit_head_pa[c])),
        (Measurand::RoomC, Of::Room(r)) => Some((seen.room_c[r], 0.0)),
        (Measurand::ThermostatC, Of::Room(r)) => Some((seen.thermostat_c[r], 0.0)),
        (Measurand::SurfaceC, Of::Room(r)) => sure(seen.surface_c[r]),
        (Measurand::PressureKpa, _) => kpa(seen.pressure_pa),
        (Measurand::ColdPressureKpa, _) => kpa(seen.cold_pressure_pa),
        (Measurand::FreezingC, _) => Some((seen.freezing_c, 0.0)),
        (Measurand::Gurgles, Of::Loop(l)) => Some((seen.gurgles[l], 0.0)),
        (Measurand::ActuatorOpen, Of::Loop(l)) => Some((seen.actuator_open[l], 0.0)),
        (Measurand::ValveOpen, Of::Loop(l)) => Some((seen.valve_open[l], 0.0)),
        _ => None,
    }
}

/// How likely an answer of yes (`value` near 1) or no is where yes has that probability.
fn answer(value: f64, yes: f64, wrong: f64) -> f64 {
    let yes = yes * (1.0 - wrong) + (1.0 - yes) * wrong;
    (value * yes + (1.0 - value) * (1.0 - yes)).max(LEAST_P)
}

/// What all instruments may be off together: all flows by so much (share), all rooms that no thermostat holds, all returns (K).
const TOGETHER: [f64; 3] = [0.06, 0.8, 0.7];

/// A reading against a house: how far off, in uncertainties, and by how much the common causes would move that.
struct Off {
    sigmas: f64,
    together: [f64; 3],
}

fn off(r: &ReadingOf, of: Of, seen: &Seen) -> Option<Off> {
    let (value, unsure) = shown(seen, r.quantity, of)?;
    if r.quantity.is_yes_or_no() {
        let wrong = r.uncertainty.unwrap_or_else(|| r.quantity.usual_uncertainty(r.value)).min(0.5);
        // the same scale as the square of a distance
        let sigmas = (-2.0 * answer(r.value, value, wrong).ln()).max(0.0).sqrt();
        return Some(Off { sigmas, together: [0.0; 3] });
    }
    let of_it = r.uncertainty.unwrap_or_else(|| r.quantity.usual_uncertainty(r.value));
    let sigma = (of_it.powi(2) + r.quantity.of_the_model(value).powi(2) + unsure.powi(2)).sqrt();
    let free = matches!(of, Of::Room(room) if !seen.room_held[room]);
    let together = match r.quantity {
        Measurand::FlowLMin => [TOGETHER[0] * value / sigma, 0.0, 0.0],
        Measurand::RoomC | Measurand::SurfaceC | Measurand::ThermostatC if free => [0.0, TOGETHER[1] / sigma, 0.0],
        Measurand::ReturnC => [0.0, 0.0, TOGETHER[2] / sigma],
        _ => [0.0; 3],
    };
    Some(Off { sigmas: (r.value - value) / sigma, together })
}

/// Sum of the squares after what is common to all has taken its part.
fn square(all: &[Off]) -> f64 {
    let mut z = [0.0_f64; 3];
    let left = |o: &Off, z: &[f64; 3]| o.sigmas - o.together.iter().zip(z).map(|(u, z)| u * z).sum::<f64>();
    // least squares with a prior of 1 on each; they do not couple, one pass is exact
    for (k, z) in z.iter_mut().enumerate() {
        let add = |(top, below): (f64, f64), o: &Off| (top + o.together[k] * o.sigmas, below + o.together[k].powi(2));
        let (top, below) = all.iter().fold((0.0, 1.0), add);
        *z = top / below;
    }
    let of = |o: &Off| {
        let d = left(o, &z).abs();
        if d > FAR { FAR * (2.0 * d - FAR) } else { d * d }
    };
    all.iter().map(of).sum::<f64>() + z.iter().map(|z| z * z).sum::<f64>()
}

/// The degrees of one suspect: what would be seen of each; none where the network finds no balance.
type Shows = Vec<Option<Seen>>;

/// Everything that could be wrong with a house in some weather, with what would be seen of it. Readings are weighed against it;
/// a suspect is run when the first reading comes that has to do with its place.
pub struct Suspects {
    study: Arc<Study>,
    outdoor_c: f64,
    sound: Seen,
    all: Vec<(Suspect, OnceLock<Shows>)>,
}

/// A suspect weighed.
struct Judged<'a> {
    suspect: &'a Suspect,
    best: &'a Seen,
    square: f64,
    /// Logarithm of how likely it is, but for what is the same for all.
    weight: f64,
}

/// Houses of visits that go on: a reading more is weighed against what has been run for the one before.
const KEPT: usize = 4;

static RUN: LazyLock<Mutex<LruCache<u64, Arc<Suspects>>>> =
    LazyLock::new(|| Mutex::new(LruCache::new(NonZeroUsize::new(KEPT).unwrap_or(NonZeroUsize::MIN))));

impl Suspects {
    /// All that could be wrong with a house in such weather, with what of it was run before.
    ///
    /// # Errors
    /// As [`Suspects::new`].
    pub fn of(study: &Arc<Study>, outdoor_c: f64) -> Result<Arc<Suspects>, FieldError> {
        let mut hasher = DefaultHasher::new();
        (Arc::as_ptr(study) as usize, outdoor_c.to_bits()).hash(&mut hasher);
        let key = hasher.finish();
        let same = |s: &&Arc<Suspects>| Arc::ptr_eq(&s.study, study) && s.outdoor_c.to_bits() == outdoor_c.to_bits();
        if let Ok(mut kept) = RUN.lock()
            && let Some(suspects) = kept.get(&key).filter(same)
        {
            return Ok(Arc::clone(suspects));
        }
        let suspects = Arc::new(Suspects::new(study, outdoor_c)?);
        if let Ok(mut kept) = RUN.lock() {
            kept.put(key, Arc::clone(&suspects));
        }
        Ok(suspects)
    }

    /// The sound house in such weather, and what could be wrong with it; nothing of that is run yet.
    ///
    /// # Errors
    /// Names `outdoor_c` out of its range, and that no floor is heated in such weather.
    pub fn new(study: &Arc<Study>, outdoor_c: f64) -> Result<Suspects, FieldError> {
        check::range("outdoor_c", outdoor_c, -60.0, 50.0)?;
        if study.job.outdoors.is_some() {
            return Err(FieldError::new("outdoors", "faults are ranked by rooms, and a job outdoors has none"));
        }
        let sound = House::at(study, outdoor_c)?.seen(Fault::Nothing, Place::House, 1.0)?;
        let all = suspects(study).into_iter().map(|s| (s, OnceLock::new())).collect();
        Ok(Suspects { study: Arc::clone(study), outdoor_c, sound, all })
    }

    /// Whether a reading of that may tell something of a place. One loop of many hardly shows at its circuit's pump.
    fn concerns(&self, place: Place, of: Of) -> bool {
        let heats = |l: usize, r: usize| self.study.loops[l].room_ids.contains(&self.study.rooms[r].id);
        match (place, of) {
            (Place::Loop(a), Of::Loop(l)) => a == l,
            (Place::Pair(a, b), Of::Loop(l)) => a == l || b == l,
            (Place::Loop(a), Of::Room(r)) => heats(a, r),
            (Place::Pair(a, b), Of::Room(r)) => heats(a, r) || heats(b, r),
            (Place::Room(a), Of::Room(r)) => a == r,
            (Place::Room(a), Of::Loop(l)) => heats(l, a),
            (Place::Loop(_) | Place::Pair(..) | Place::Room(_), _) => false,
            (Place::House | Place::Circuit(_) | Place::Manifold(_), _) => true,
        }
    }

    /// Runs what those readings have to do with and has not been run, on all cores.
    fn run(&self, used: &[(&ReadingOf, Of)]) -> Result<(), FieldError> {
        let wanted = |s: &Suspect| s.fault != Fault::Nothing && used.iter().any(|(_, of)| self.concerns(s.place, *of));
        let todo: Vec<_> = self.all.iter().filter(|(s, shows)| shows.get().is_none() && wanted(s)).collect();
        if todo.is_empty() {
            return Ok(());
        }
        let house = House::at(&self.study, self.outdoor_c)?;
        let workers = std::thread::available_parallelism().map_or(1, std::num::NonZero::get).min(8);
        // neighbours in the list are alike: dealt out like cards, every worker has its part of the slow ones
        std::thread::scope(|scope| {
            for w in 0..workers {
                let (todo, house) = (&todo, &house);
                scope.spawn(move || {
                    for (s, shows) in todo.iter().skip(w).step_by(workers) {
                        shows.get_or_init(|| s.degrees.iter().map(|d| house.seen(s.fault, s.place, *d).ok()).collect());
                    }
                });
            }
        });
        Ok(())
    }

    /// A suspect against what was read; one that was not run shows what a sound house does.
    fn judge<'a>(
        &'a self,
        (suspect, shows): &'a (Suspect, OnceLock<Shows>),
        used: &[(&ReadingOf, Of)],
        hours: Option<f64>,
    ) -> Option<Judged<'a>> {
        let seen: Vec<&Seen> = shows.get().map_or_else(|| vec![&self.sound], |all| all.iter().flatten().collect());
        let square_of = |seen: &Seen| square(&used.iter().filter_map(|(r, of)| off(r, *of, seen)).collect::<Vec<_>>());
        let squares: Vec<f64> = seen.iter().map(|s| square_of(s)).collect();
        let (best, least) = squares.iter().copied().enumerate().min_by(|a, b| a.1.total_cmp(&b.1))?;
        // the mean over its degrees: a fault that may be anything explains less
        let mean = squares.iter().map(|s| (-(s - least) / 2.0).exp()).sum::<f64>() / squares.len() as f64;
        // who says for how long it has been on, has said whether it may still be on its way
        let young = match (suspect.fault, hours) {
            (_, None) => 1.0,
            (Fault::WarmingUp, Some(h)) if h < STEADY_H => 8.0,
            (Fault::WarmingUp, _) => 0.05,
            (_, Some(h)) if h < STEADY_H => 0.4,
            _ => 1.0,
        };
        let weight = (suspect.prior * young).ln() + mean.max(1e-12).ln() - least / 2.0;
        Some(Judged { suspect, best: seen[best], square: least, weight })
    }

    /// Ranks all suspects by how well they explain the readings together.
    ///
    /// # Errors
    /// As [`Suspects::new`].
    pub fn rank(&self, readings: &Readings) -> Result<Ranking, FieldError> {
        let (used, unused) = self.used(readings);
        self.run(&used)?;
        let hours = readings.of(Measurand::HoursOn);
        let mut judged: Vec<Judged> = self.all.iter().filter_map(|s| self.judge(s, &used, hours)).collect();
        let most = judged.iter().map(|j| j.weight).fold(f64::NEG_INFINITY, f64::max);
        let sum: f64 = judged.iter().map(|j| (j.weight - most).exp()).sum();
        judged.sort_by(|a, b| b.weight.total_cmp(&a.weight));
        let cause = |j: &Judged| {
            let fault = j.suspect.fault;
            LikelyCause {
                fault,
                name: fault.name().into(),
                place: place_name(&self.study, j.suspect.place),
                misfit: (j.square / used.len().max(1) as f64).sqrt(),
                share: (j.weight - most).exp() / sum,
                explains: self.explained(&used, j.best),
                next_check: fault.check().into(),
                if_wrong: fault.if_wrong().into(),
            }
        };
        let mut causes: Vec<LikelyCause> = judged.iter().take(MOST_CAUSES).map(cause).collect();
        let tell_apart = match (&judged[..], &causes[..]) {
            ([a, b, ..], [first, second, ..]) if second.share > NEAR * first.share => {
                Some(self.tell_apart([a.best, b.best], [first, second], &used))
            }
            _ => None,
        };
        if let (Some(t), Some(first)) = (&tell_apart, causes.first_mut()) {
            first.next_check = format!("{} {}", t.text, first.next_check);
        }
        let told = causes.iter().take_while(|c| c.share >= LEAST_SHARE).count().max(1);
        causes.truncate(told);
        Ok(Ranking { outdoor_c: self.outdoor_c, causes, tell_apart, expected: self.expected(), unused })
    }

    /// Readings that say something, and why others do not.
    fn used<'r>(&self, readings: &'r Readings) -> (Vec<(&'r ReadingOf, Of)>, Vec<String>) {
        let (mut used, mut unused) = (Vec::new(), Vec::new());
        for (k, r) in readings.0.iter().enumerate() {
            if r.quantity == Measurand::OutdoorC {
                continue;
            }
            let what = r.quantity.words(&r.subject);
            match subject(&self.study, r.quantity, &r.subject) {
                None => unused.push(format!("readings[{k}]: this design has no \"{what}\"")),
                Some(of) if r.quantity != Measurand::HoursOn && shown(&self.sound, r.quantity, of).is_none() => {
                    unused.push(format!("readings[{k}]: the design does not say what \"{what}\" should be"));
                }
                Some(of) => used.push((r, of)),
            }
        }
        (used, unused)
    }

    /// Readings that a sound house would hardly show, and this one does.
    fn explained(&self, used: &[(&ReadingOf, Of)], seen: &Seen) -> Vec<String> {
        let units = self.study.job.site.units;
        let of = |(r, of): &(&ReadingOf, Of)| {
            let (sound, here) = (off(r, *of, &self.sound)?, off(r, *of, seen)?);
            let better = sound.sigmas.abs() > STRIKING && here.sigmas.abs() < sound.sigmas.abs() - 0.5;
            if !better {
                return None;
            }
            let what = r.quantity.words(&called(&self.study, *of).1);
            if r.quantity.is_yes_or_no() {
                return Some((sound.sigmas.abs(), format!("{what} {}", r.quantity.figure(r.value, units))));
            }
            let figure = |seen: &Seen| shown(seen, r.quantity, *of).map(|(v, _)| r.quantity.figure(v, units));
            let text = format!(
                "{what} {}: with this fault {}, as designed {}",
                r.quantity.figure(r.value, units),
                figure(seen)?,
                figure(&self.sound)?
            );
            Some((sound.sigmas.abs(), text))
        };
        let mut all: Vec<(f64, String)> = used.iter().filter_map(of).collect();
        all.sort_by(|a, b| b.0.total_cmp(&a.0));
        all.into_iter().map(|(_, text)| text).collect()
    }

    /// The reading not yet taken on which two houses differ most.
    fn tell_apart(&self, seen: [&Seen; 2], causes: [&LikelyCause; 2], used: &[(&ReadingOf, Of)]) -> TellApart {
        let taken = |q: Measurand, of: Of| used.iter().any(|(r, o)| r.quantity == q && *o == of);
        let name = |c: &LikelyCause| {
            let what = c.name.to_lowercase();
            if c.place.is_empty() { format!("\"{what}\"") } else { format!("\"{what}\" ({})", c.place) }
        };
        let [a, b] = causes.map(name);
        let differ = |(q, of): (Measurand, Of)| {
            if q == Measurand::OutdoorC || taken(q, of) {
                return None;
            }
            let (x, unsure) = shown(seen[0], q, of)?;
            let (y, _) = shown(seen[1], q, of)?;
            if q.is_yes_or_no() {
                // as a distance: how much an answer would move the odds
                let gain = (answer(1.0, x, 0.05) / answer(1.0, y, 0.05)).ln().abs();
                return Some((gain, q, of, x, y));
            }
            let sigma = (q.usual_uncertainty(x).powi(2) + q.of_the_model(x).powi(2) + unsure.powi(2)).sqrt();
            Some(((x - y).abs() / sigma, q, of, x, y))
        };
        let best = readable(&self.study).into_iter().filter_map(differ).max_by(|a, b| a.0.total_cmp(&b.0));
        let Some((gain, q, of, x, y)) = best.filter(|b| b.0 > APART / 2.0) else {
            let text = format!("No reading of the design tells {a} from {b}: only a look does.");
            return TellApart { quantity: None, subject: String::new(), text };
        };
        let (id, called) = called(&self.study, of);
        let units = self.study.job.site.units;
        let what = q.words(&called);
        let text = if q.is_yes_or_no() {
            format!("To tell {a} from {b}, look at {what}.")
        } else {
            let weak = if gain < APART { " (a weak hint)" } else { "" };
            format!(
                "To tell {a} from {b}, read {what}: {} with the one, {} with the other{weak}.",
                q.figure(x, units),
                q.figure(y, units)
            )
        };
        TellApart { quantity: Some(q), subject: id, text }
    }

    fn expected(&self) -> Vec<Expected> {
        let of = |(quantity, of): (Measurand, Of)| {
            let (subject, name) = called(&self.study, of);
            let value =
                shown(&self.sound, quantity, of).map(|(v, _)| if quantity.is_yes_or_no() { v.round() } else { v });
            Expected { quantity, subject, name, value }
        };
        readable(&self.study).into_iter().map(of).collect()
    }
}

/// Ranks what could be wrong by how well it explains the readings of a visit.
///
/// # Errors
/// As [`Suspects::of`], and names the reading that makes no sense.
pub fn rank(study: &Arc<Study>, readings: &Readings) -> Result<Ranking, FieldError> {
    readings.check()?;
    let outdoor_c = readings.of(Measurand::OutdoorC).unwrap_or(study.job.site.outdoor_c);
    Suspects::of(study, outdoor_c)?.rank(readings)
}

/// A house with one fault as instruments would show it: for the simulated instruments and for trying the ranking. `pick` chooses
/// among all faults and places of the study (any number), `degree` how bad, 0…1 between the mildest and the worst.
///
/// # Errors
/// As [`Suspects::of`], and where the network finds no balance.
pub fn simulated(study: &Study, outdoor_c: f64, pick: u64, degree: f64) -> Result<Simulated, FieldError> {
    let house = House::at(study, outdoor_c)?;
    let all = suspects(study);
    // every kind of fault as often as the others, wherever it is
    let kinds = Fault::ALL.len() as u64;
    let fault = Fault::ALL[(pick % kinds) as usize];
    let own: Vec<&Suspect> = all.iter().filter(|s| s.fault == fault).collect();
    let suspect = match own.len() {
        0 => all.first(),
        n => own.get((pick / kinds) as usize % n).copied(),
    };
    let suspect = suspect.ok_or_else(|| FieldError::new("job", "nothing of it can be wrong yet: lay loops"))?;
    // one that both pushes and pulls has no middle between: its sides are taken one at a time
    let d = suspect.degrees;
    let side: Vec<f64> = d.iter().copied().filter(|x| (*x < 0.0) == (d[(pick / 7) as usize % d.len()] < 0.0)).collect();
    let (low, high) = side.iter().fold((f64::MAX, f64::MIN), |(l, h), x| (l.min(*x), h.max(*x)));
    let seen = house.seen(suspect.fault, suspect.place, low + degree.clamp(0.0, 1.0) * (high - low))?;
    let shows = |(quantity, of): (Measurand, Of)| {
        let (value, _) = shown(&seen, quantity, of)?;
        Some(ReadingOf { quantity, subject: called(study, of).0, value, uncertainty: None })
    };
    Ok(Simulated {
        fault: suspect.fault,
        place: place_name(study, suspect.place),
        shows: readable(study).into_iter().filter_map(shows).collect(),
    })
}

/// A simulated house.
#[derive(Debug, Clone, PartialEq)]
pub struct Simulated {
    /// What is wrong with it.
    pub fault: Fault,
    /// Where.
    pub place: String,
    /// Everything that can be read, without noise; of yes and no the chance of yes.
    pub shows: Vec<ReadingOf>,
}

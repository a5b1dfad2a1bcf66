//! Floors for one room side by side: every combination of what is varied, judged against the room's need and the house
//! rules, the best first.
//!
//! ```
//! use fuoco_core::floor::compare::{Sweep, compare};
//! use fuoco_core::samples::{box_room, job_of, studied};
//! let study = studied(&job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]))?;
//! let sweep = Sweep { spacings_m: vec![0.1, 0.2], ..Sweep::default() };
//! let variants = compare(&study, "a", &sweep, 0, 10)?.variants;
//! let supply = |i: usize| variants[i].outcome.as_ref().unwrap().supply_c;
//! assert!(supply(0) < supply(1), "tighter tube needs cooler water");
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::assembly::Parts;
use super::heating::floor_parts;
use super::trial::{FloorTrial, Outcome};
use crate::check::range;
use crate::error::FieldError;
use crate::job::{BuildUp, Floor, Job, Preference, TubeFrom};
use crate::library;
use crate::study::Study;
use crate::units::{Quantity, Units};
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// More variants than anybody reads.
pub const MAX_VARIANTS: usize = 2000;
/// More choices than an axis holds.
const MAX_CHOICES: usize = 40;

/// What is varied; an empty list leaves the room's own.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct Sweep {
    /// Build-ups.
    pub build_up_ids: Vec<String>,
    /// Coverings.
    pub covering_ids: Vec<String>,
    /// Tubes.
    pub tube_ids: Vec<String>,
    /// Spacings in the core, m; the edge is never wider.
    pub spacings_m: Vec<f64>,
    /// From the upper face of the tube's layer to its crown, m.
    pub covers_m: Vec<f64>,
    /// Insulation under the tube, m²K/W.
    pub insulations_m2k_w: Vec<f64>,
    /// Sheets.
    pub plates: Vec<PlateChoice>,
    /// Supply temperatures, °C: what the floor gives at each, instead of what it needs.
    pub supplies_c: Vec<f64>,
}

/// What is done about the heat-transfer plate.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum PlateChoice {
    /// As the build-up has it.
    AsBuilt,
    /// Left out.
    None,
    /// Half as wide.
    Narrow,
    /// Touching loosely: 0.5 mm of air.
    Loose,
    /// A bead of sealant in the contact.
    Sealed,
}

/// One combination.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Choice {
    /// The floor, as it would stand in the room.
    pub floor: Floor,
    /// The build-up where it is none of the job or the library, to be added to the job.
    pub build_up: Option<BuildUp>,
    /// What is done about the sheet.
    pub plate: PlateChoice,
    /// From the upper face of the tube's layer to its crown, m.
    pub cover_m: f64,
    /// The supply temperature asked for, °C.
    pub supply_c: Option<f64>,
}

/// A combination and what it does, or why it cannot be built.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Variant {
    /// The combination.
    pub choice: Choice,
    /// What it does; none where it cannot be built.
    pub outcome: Option<Outcome>,
    /// Why it cannot be built.
    pub refused: Option<String>,
    /// Where it stands by the house rules: to be compared number by number, the lowest first.
    pub rank: Vec<f64>,
    /// Whether it is what the room has now.
    pub now: bool,
}

impl Sweep {
    fn check(&self, job: &Job) -> Result<(), FieldError> {
        let known = |field: &str, ids: &[String], found: &dyn Fn(&str) -> bool| -> Result<(), FieldError> {
            match ids.iter().position(|id| !found(id)) {
                Some(i) => {
                    Err(FieldError::new(format!("sweep.{field}[{i}]"), "is neither in the job nor in the library"))
                }
                None => Ok(()),
            }
        };
        known("build_up_ids", &self.build_up_ids, &|id| job.build_up(id).is_some())?;
        known("covering_ids", &self.covering_ids, &|id| job.covering(id).is_some())?;
        known("tube_ids", &self.tube_ids, &|id| job.tube(id).is_some())?;
        for (field, values, low, high) in [
            ("spacings_m", &self.spacings_m, 0.05, 0.6),
            ("covers_m", &self.covers_m, 0.0, 1.0),
            ("insulations_m2k_w", &self.insulations_m2k_w, 0.0, 20.0),
            ("supplies_c", &self.supplies_c, 15.0, 90.0),
        ] {
            for (i, v) in values.iter().enumerate() {
                range(&format!("sweep.{field}[{i}]"), *v, low, high)?;
            }
        }
        let lengths = self.lengths();
        if lengths.iter().any(|n| *n > MAX_CHOICES) || lengths.iter().product::<usize>() > MAX_VARIANTS {
            let reason = format!("asks for more than {MAX_VARIANTS} variants, or more than {MAX_CHOICES} of one thing");
            return Err(FieldError::new("sweep", reason));
        }
        Ok(())
    }

    fn lengths(&self) -> [usize; 8] {
        [
            self.build_up_ids.len(),
            self.covering_ids.len(),
            self.tube_ids.len(),
            self.spacings_m.len(),
            self.covers_m.len(),
            self.insulations_m2k_w.len(),
            self.plates.len(),
            self.supplies_c.len(),
        ]
        .map(|n| n.max(1))
    }

    /// All combinations for a floor, in the order of the lists, each once.
    fn choices(&self, job: &Job, now: &Floor) -> Vec<Choice> {
        let lengths = self.lengths();
        let mut out: Vec<Choice> = Vec::new();
        let mut seen = HashSet::new();
        for k in 0..lengths.iter().product::<usize>() {
            let mut rest = k;
            // the last list turns fastest
            let mut at = [0; 8];
            for (i, n) in lengths.iter().enumerate().rev() {
                at[i] = rest % n;
                rest /= n;
            }
            let mut floor = now.clone();
            let pick = |list: &[String], i: usize, own: &mut String| {
                if let Some(id) = list.get(i) {
                    own.clone_from(id);
                }
            };
            pick(&self.build_up_ids, at[0], &mut floor.build_up_id);
            pick(&self.covering_ids, at[1], &mut floor.covering_id);
            pick(&self.tube_ids, at[2], &mut floor.tube_id);
            if let Some(&s) = self.spacings_m.get(at[3]) {
                floor.spacing_core_m = s;
                floor.spacing_edge_m = floor.spacing_edge_m.min(s);
            }
            if let Some(&r) = self.insulations_m2k_w.get(at[5]) {
                floor.insulation_m2k_w = Some(r);
            }
            let plate = self.plates.get(at[6]).copied().unwrap_or(PlateChoice::AsBuilt);
            let supply_c = self.supplies_c.get(at[7]).copied();
            let (Some(build_up), Some(tube)) = (job.build_up(&floor.build_up_id), job.tube(&floor.tube_id)) else {
                continue;
            };
            // where there is no sheet, nothing about it is chosen
            let plate = if build_up.plate.is_none() { PlateChoice::AsBuilt } else { plate };
            let asked = self.covers_m.get(at[4]).copied();
            let (build_up, changed) = built(build_up, tube, asked, plate, job.site.units);
            let plate =
                if build_up.plate.is_none() && plate != PlateChoice::None { PlateChoice::AsBuilt } else { plate };
            let cover_m = cover(&build_up, tube);
            let choice = Choice { floor, build_up: changed.then_some(build_up), plate, cover_m, supply_c };
            if seen.insert(serde_json::to_string(&choice).unwrap_or_default()) {
                out.push(choice);
            }
        }
        out
    }
}

/// Layer's upper face to the tube's crown, m.
fn cover(build_up: &BuildUp, tube: &library::Tube) -> f64 {
    let room = build_up.layers.get(build_up.tube_layer).map_or(0.0, |l| l.thickness_m);
    match build_up.tube_from {
        TubeFrom::Top => build_up.tube_gap_m,
        TubeFrom::Bottom => room - tube.od_m - build_up.tube_gap_m,
    }
}

/// A build-up with its tube at another depth and its sheet changed; whether that is another build-up.
fn built(
    from: &BuildUp,
    tube: &library::Tube,
    cover_m: Option<f64>,
    plate: PlateChoice,
    units: Units,
) -> (BuildUp, bool) {
    let mut out = from.clone();
    if let Some(c) = cover_m {
        out.tube_from = TubeFrom::Top;
        out.tube_gap_m = c;
    }
    match (plate, &mut out.plate) {
        (PlateChoice::None, p) => *p = None,
        (PlateChoice::Narrow, Some(p)) => p.width_m = (0.5 * p.width_m).max(0.04),
        // 0.026 W/mK through half a millimetre
        (PlateChoice::Loose, Some(p)) => p.contact_w_m2k = Some(52.0),
        (PlateChoice::Sealed, Some(p)) => p.contact_w_m2k = Some(1000.0),
        _ => {}
    }
    let moved = (cover(&out, tube) - cover(from, tube)).abs() > 1e-6;
    let changed = moved || out.plate != from.plate;
    if changed {
        let mut what = Vec::new();
        if moved {
            what.push(format!("tube {} deep", units.show(Quantity::Size, cover(&out, tube))));
        }
        if out.plate != from.plate {
            what.push(
                match plate {
                    PlateChoice::None => "no plate",
                    PlateChoice::Narrow => "narrow plate",
                    PlateChoice::Loose => "plate loose",
                    PlateChoice::Sealed => "plate sealed",
                    PlateChoice::AsBuilt => "",
                }
                .to_owned(),
            );
        }
        out.name = format!("{}, {}", from.name, what.join(", "));
        out.id = String::new();
    } else {
        out = from.clone();
    }
    (out, changed)
}

/// A part of a comparison.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Compared {
    /// How many variants there are in all.
    pub total: usize,
    /// Those asked for.
    pub variants: Vec<Variant>,
}

/// A part of a sweep in a room of a study, from variant `from` on, `most` of them at most, in the order of the lists. Work
/// is shared among two threads; the answer does not depend on them.
///
/// # Errors
/// Names what is wrong with the sweep, or that the room has no heated floor.
///
/// # Panics
/// When the work on a variant does: no variant is left out in silence.
pub fn compare(study: &Study, room_id: &str, sweep: &Sweep, from: usize, most: usize) -> Result<Compared, FieldError> {
    let job = &study.job;
    sweep.check(job)?;
    let index = job.rooms.iter().position(|r| r.id == room_id);
    let index = index.ok_or_else(|| FieldError::new("room_id", "names no room of this job"))?;
    let now = job.rooms[index].heated_floor();
    let now = now.ok_or_else(|| FieldError::new("room_id", "this room has no heated floor"))?;
    let trial = FloorTrial::new(job, &study.plan, index, &study.heat, &study.water, &study.layout)?;
    let choices = sweep.choices(job, now);
    let total = choices.len();
    let choices: Vec<Choice> = choices.into_iter().skip(from).take(most).collect();
    let variants = in_two(&choices, |c| variant(&trial, now, c));
    Ok(Compared { total, variants })
}

/// What comes of each item, in order, worked out by two threads. A panic of one goes on to the caller.
fn in_two<T: Sync, O: Send>(items: &[T], of: impl Fn(&T) -> O + Sync) -> Vec<O> {
    let half = items.len().div_ceil(2).max(1);
    std::thread::scope(|scope| {
        let workers: Vec<_> =
            items.chunks(half).map(|chunk| scope.spawn(|| chunk.iter().map(&of).collect::<Vec<O>>())).collect();
        let done = workers.into_iter().map(|w| w.join().unwrap_or_else(|panic| std::panic::resume_unwind(panic)));
        done.flatten().collect()
    })
}

fn variant(trial: &FloorTrial, now: &Floor, choice: &Choice) -> Variant {
    let is_now = choice.floor == *now && choice.build_up.is_none();
    let parts = floor_parts(trial.job, &choice.floor);
    let outcome = match &parts {
        Some(parts) => {
            let parts = Parts { build_up: choice.build_up.as_ref().unwrap_or(parts.build_up), ..*parts };
            if parts.build_up.face != crate::section::film::Face::Floor
                || parts.build_up.outdoors != trial.job.outdoors.is_some()
            {
                Err(FieldError::new("build_up_id", "is not for a room's floor"))
            } else {
                trial.outcome(&choice.floor, &parts, choice.supply_c)
            }
        }
        None => Err(FieldError::new("floor", "is not in the library")),
    };
    let (outcome, refused) = match outcome {
        Ok(o) => (Some(o), None),
        Err(e) => (None, Some(e.reason)),
    };
    let rank = rank(trial.job.rules.prefer, outcome.as_ref());
    Variant { choice: choice.clone(), outcome, refused, rank, now: is_now }
}

/// Where a variant stands by the house rules, to be compared number by number, the lowest first: those that carry the
/// room, then by how many rules they break, then by what the firm prefers, then by the water they need, or by what they
/// leave over.
fn rank(prefer: Preference, outcome: Option<&Outcome>) -> Vec<f64> {
    let Some(o) = outcome else { return vec![2.0] };
    let first = match prefer {
        Preference::CoolWater => o.supply_c,
        Preference::LittleTube => o.tube_m,
        Preference::Quick => o.time_constant_s,
        Preference::Low => o.height_m,
    };
    if o.carries {
        vec![0.0, o.breaches.len() as f64, first, o.supply_c, o.tube_m]
    } else {
        vec![1.0, o.breaches.len() as f64, o.short_w, first, o.supply_c]
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_worker_that_is_lost_is_not_lost_in_silence() {
        let items: Vec<u32> = (0..7).collect();
        assert_eq!(in_two(&items, |i| i * 2), [0, 2, 4, 6, 8, 10, 12]);
        let lost = std::panic::catch_unwind(|| in_two(&items, |i| assert_ne!(*i, 5)));
        assert!(lost.is_err(), "the variants of that worker would be missing");
    }
}

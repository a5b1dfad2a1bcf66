//! The laying log: how far every loop is, what tube it took, what happened to it, and what is still to be done before anything is
//! poured over it.

use crate::geometry::{Point, distance};
use crate::materials::coils::{CutDesign, tube_coils};
use crate::records::{Entry, Fact, Harm, Laid, LayStep, Mend, Spot, standing};
use crate::study::Study;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// A loop that took more or less than it was drawn with by this share of it asks for a reason.
const OFF_SHARE: f64 = 0.03;
/// And by this, m.
const OFF_M: f64 = 2.0;
/// Tube that the design has changed by since a loop was laid, m: less is rounding.
const REROUTED_M: f64 = 0.05;

/// The laying log of a job.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LayingDesign {
    /// The loops in the order of laying, those without a coil last.
    pub loops: Vec<LoopLaid>,
    /// What happened to tubes, in order of time.
    pub harms: Vec<HarmDesign>,
    /// Notes and photos with a place on the plan, in order of time.
    pub pins: Vec<PinDesign>,
    /// What must be so before the floor is covered.
    pub checks: Vec<CheckDesign>,
    /// Everything that is not done before the pour.
    pub open: Vec<OpenItem>,
    /// Tube of the loops that lie, m.
    pub laid_m: f64,
    /// Tube of all loops, m.
    pub all_m: f64,
    /// Records of loops that the design no longer has: their ids, each once.
    pub gone: Vec<String>,
}

/// How far a loop is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LoopLaid {
    /// The loop.
    pub loop_id: String,
    /// As it is called.
    pub tag: String,
    /// Its level.
    pub level_id: String,
    /// The rooms it heats, by name.
    pub rooms: Vec<String>,
    /// How far.
    pub step: LayStep,
    /// The coil of the plan: K1, K2 and so on; none where no coil is long enough.
    pub coil: Option<String>,
    /// The mark of the plan at its supply port, m.
    pub port_m: Option<f64>,
    /// As drawn, m.
    pub drawn_m: f64,
    /// More or less than this asks for a reason, m.
    pub tolerance_m: f64,
    /// The coil that it came out of.
    pub coil_used: String,
    /// The mark at its supply port, as read, m.
    pub start_m: Option<f64>,
    /// The mark at its return port, as read, m.
    pub end_m: Option<f64>,
    /// Tube that it took, m.
    pub used_m: Option<f64>,
    /// It took more or less than the tolerance, and nobody said why.
    pub wants_reason: bool,
    /// Why it did.
    pub reason: String,
    /// The design has changed since it was laid: its length then, m.
    pub drawn_then_m: Option<f64>,
    /// It lies otherwise than drawn, by the word of somebody who saw it.
    pub differs: bool,
    /// When that was written, as its device had it; none where nothing was.
    pub at: Option<String>,
    /// By whom.
    pub who: String,
}

/// Something that happened to a tube.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HarmDesign {
    /// The record.
    pub record_id: String,
    /// What.
    pub harm: Harm,
    /// As the loop is called; empty where the design no longer has it.
    pub tag: String,
    /// Where on the plan, m: as it was pinned, else by its mark.
    #[cfg_attr(feature = "schema", schema(value_type = Option<[f64; 2]>))]
    pub position: Option<Point>,
    /// The level.
    pub level_id: String,
    /// What there was to say.
    pub note: String,
    /// Photos.
    pub photos: Vec<String>,
}

/// A note with a place on the plan.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PinDesign {
    /// The record.
    pub record_id: String,
    /// Where, and which way its photos look.
    pub spot: Spot,
    /// What there was to say.
    pub note: String,
    /// Photos.
    pub photos: Vec<String>,
    /// When, by the record.
    pub at: String,
    /// Who wrote it.
    pub who: String,
}

/// A line of a checklist.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CheckDesign {
    /// Its id: the same as long as the build-up says the same.
    pub item: String,
    /// What must be so.
    pub text: String,
    /// For what.
    pub about: String,
    /// It is.
    pub done: bool,
    /// Who said so.
    pub who: String,
    /// When.
    pub at: Option<String>,
}

/// Something to be done before the pour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OpenItem {
    /// What is missing.
    pub kind: OpenKind,
    /// The loop, record or line of a checklist that it is about.
    pub id: String,
    /// In words.
    pub text: String,
}

/// What is missing before the pour.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum OpenKind {
    /// A loop does not lie, or is not held.
    Loop,
    /// Nobody else has looked at a loop.
    Look,
    /// It took other than the drawn length, and nobody said why.
    Reason,
    /// The design has changed since.
    Rerouted,
    /// Harm that is not mended.
    Harm,
    /// A line of a checklist.
    Check,
}

/// Reads the records of a job against its study.
///
/// ```
/// use fuoco_core::onsite::laying::laying;
/// use fuoco_core::samples::{box_room, job_of, manifold, studied};
/// let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
/// job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
/// let log = laying(&*studied(&job)?, &[]);
/// // nothing is laid yet, so everything is open
/// assert_eq!(log.laid_m, 0.0);
/// assert!(log.open.len() >= log.loops.len());
/// # Ok::<(), fuoco_core::error::FieldError>(())
/// ```
pub fn laying(study: &Study, entries: &[Entry]) -> LayingDesign {
    let standing = standing(entries);
    let mut last: BTreeMap<&str, (&Entry, &Laid)> = BTreeMap::new();
    let mut ticks: BTreeMap<&str, (&Entry, bool)> = BTreeMap::new();
    let mut differs: BTreeSet<&str> = BTreeSet::new();
    for e in &standing {
        match &e.record.fact {
            Fact::Laid(l) => drop(last.insert(&l.loop_id, (e, l))),
            Fact::Ticked { item, done } => drop(ticks.insert(item, (e, *done))),
            Fact::Differs { loop_id, .. } => drop(differs.insert(loop_id)),
            _ => {}
        }
    }
    let coils = tube_coils(study);
    let cuts: Vec<(&str, &CutDesign)> =
        coils.iter().flat_map(|t| &t.coils).flat_map(|c| c.cuts.iter().map(|cut| (c.coil.as_str(), cut))).collect();
    let order = |id: &str| cuts.iter().position(|(_, c)| c.loop_id == id).unwrap_or(usize::MAX);
    let mut loops: Vec<LoopLaid> = study
        .loops
        .iter()
        .map(|l| {
            let cut = cuts.iter().find(|(_, c)| c.loop_id == l.id);
            let tolerance_m = OFF_M.min(OFF_SHARE * l.length_m);
            let record = last.get(l.id.as_str());
            let laid = record.map(|(_, laid)| *laid);
            let lies = laid.is_some_and(|r| r.step > LayStep::NotStarted);
            // marks may count either way along a coil
            let used_m = laid.and_then(|r| Some((r.end_m? - r.start_m?).abs()));
            let drawn_then_m =
                laid.and_then(|r| r.design_m).filter(|then| lies && (then - l.length_m).abs() > REROUTED_M);
            let should_m = drawn_then_m.unwrap_or(l.length_m);
            let off = used_m.is_some_and(|used| (used - should_m).abs() > OFF_M.min(OFF_SHARE * should_m));
            let reason = laid.map(|r| r.reason.clone()).unwrap_or_default();
            let room = |id: &String| study.job.room(id);
            LoopLaid {
                loop_id: l.id.clone(),
                tag: l.tag.clone(),
                level_id: l.room_ids.iter().find_map(room).map(|r| r.level_id.clone()).unwrap_or_default(),
                rooms: l.room_ids.iter().filter_map(room).map(|r| r.name.clone()).collect(),
                step: laid.map_or(LayStep::NotStarted, |r| r.step),
                coil: cut.map(|(coil, _)| (*coil).to_owned()),
                port_m: cut.map(|(_, c)| c.port_m),
                drawn_m: l.length_m,
                tolerance_m,
                coil_used: laid.map(|r| r.coil.clone()).unwrap_or_default(),
                start_m: laid.and_then(|r| r.start_m),
                end_m: laid.and_then(|r| r.end_m),
                used_m,
                wants_reason: lies && off && reason.trim().is_empty(),
                reason,
                drawn_then_m,
                differs: differs.contains(l.id.as_str()),
                at: record.map(|(e, _)| e.record.at.clone()),
                who: record.map(|(e, _)| e.who.clone()).unwrap_or_default(),
            }
        })
        .collect();
    loops.sort_by_key(|l| order(&l.loop_id));
    let harms = harms(study, &standing, &loops);
    let checks = checks(study, &ticks);
    let gone: BTreeSet<&str> = standing
        .iter()
        .filter_map(|e| e.record.fact.loop_id())
        .filter(|id| study.loops.iter().all(|l| l.id != *id))
        .collect();
    LayingDesign {
        open: open(&loops, &harms, &checks),
        laid_m: loops.iter().filter(|l| l.step > LayStep::NotStarted).map(|l| l.used_m.unwrap_or(l.drawn_m)).sum(),
        all_m: loops.iter().map(|l| l.drawn_m).sum(),
        gone: gone.into_iter().map(str::to_owned).collect(),
        pins: standing.iter().filter_map(|e| pin(e)).collect(),
        loops,
        harms,
        checks,
    }
}

/// What happened to a tube has its own place, by the tube's mark.
fn pin(e: &Entry) -> Option<PinDesign> {
    let spot = e.record.place.clone().filter(|_| !matches!(e.record.fact, Fact::Harm(_)))?;
    Some(PinDesign {
        record_id: e.record.id.clone(),
        spot,
        note: e.record.note.clone(),
        photos: e.record.photos.clone(),
        at: e.record.at.clone(),
        who: e.who.clone(),
    })
}

fn harms(study: &Study, standing: &[&Entry], loops: &[LoopLaid]) -> Vec<HarmDesign> {
    let place = |harm: &Harm, on: &LoopLaid| -> Option<Point> {
        let drawn = study.loops.iter().find(|l| l.id == harm.loop_id)?;
        // by the marks as they were read, else as they were planned; a coil may be unrolled from either end
        let (start, sign) = match (on.start_m, on.end_m) {
            (Some(a), Some(b)) if b < a => (a, -1.0),
            (Some(a), _) => (a, 1.0),
            _ => (on.port_m?, 1.0),
        };
        point_along(&drawn.path, sign * (harm.mark_m? - start) - drawn.riser_m / 2.0)
    };
    let told = |e: &&Entry| {
        let Fact::Harm(harm) = &e.record.fact else { return None };
        let on = loops.iter().find(|l| l.loop_id == harm.loop_id);
        let pinned = e.record.place.as_ref();
        Some(HarmDesign {
            record_id: e.record.id.clone(),
            tag: on.map(|l| l.tag.clone()).unwrap_or_default(),
            position: pinned.map(|p| p.at).or_else(|| place(harm, on?)),
            level_id: pinned.map(|p| p.level_id.clone()).or(on.map(|l| l.level_id.clone())).unwrap_or_default(),
            note: e.record.note.clone(),
            photos: e.record.photos.clone(),
            harm: harm.clone(),
        })
    };
    standing.iter().filter_map(told).collect()
}

/// A mark is read to about this, m: a place so little beyond a loop's end is its end.
const MARK_M: f64 = 0.1;

/// The point of a line at that length from its beginning; none beyond its ends.
fn point_along(path: &[Point], along_m: f64) -> Option<Point> {
    let long: f64 = path.windows(2).map(|w| distance(w[0], w[1])).sum();
    if !(-MARK_M..=long + MARK_M).contains(&along_m) {
        return None;
    }
    let mut left = along_m.max(0.0);
    for w in path.windows(2) {
        let d = distance(w[0], w[1]);
        if (0.0..=d).contains(&left) && d > 0.0 {
            let t = left / d;
            return Some([w[0][0] + t * (w[1][0] - w[0][0]), w[0][1] + t * (w[1][1] - w[0][1])]);
        }
        left -= d;
    }
    path.last().copied()
}

/// What the build-ups in use ask for, each sentence a line.
fn checks(study: &Study, ticks: &BTreeMap<&str, (&Entry, bool)>) -> Vec<CheckDesign> {
    let job = &study.job;
    let heated = study.loops.iter().flat_map(|l| &l.room_ids);
    let mut ids: Vec<&str> = vec![];
    for floor in heated.filter_map(|id| job.room(id)?.floor.as_ref()) {
        if !ids.contains(&floor.build_up_id.as_str()) {
            ids.push(&floor.build_up_id);
        }
    }
    let mut out = vec![];
    let mut line = |item: String, text: &str, about: &str| {
        let tick = ticks.get(item.as_str());
        out.push(CheckDesign {
            done: tick.is_some_and(|(_, done)| *done),
            who: tick.map(|(e, _)| e.who.clone()).unwrap_or_default(),
            at: tick.map(|(e, _)| e.record.at.clone()),
            item,
            text: text.to_owned(),
            about: about.to_owned(),
        });
    };
    for b in ids.iter().filter_map(|id| job.build_up(id)) {
        for (k, text) in b.before.split_inclusive(". ").map(|s| s.trim().trim_end_matches('.')).enumerate() {
            if !text.is_empty() {
                line(format!("before/{}/{k}", b.id), text, &b.name);
            }
        }
    }
    for (item, text) in EVERY_FLOOR {
        line((*item).to_owned(), text, "Every floor");
    }
    out
}

/// What is looked at on every floor before it is covered.
const EVERY_FLOOR: [(&str, &str); 5] = [
    ("every/labels", "Both ends of every loop carry their label"),
    ("every/test", "The tubes are under pressure, and the gauge is in sight"),
    ("every/sleeves", "Sleeves sit at saw cuts, joints and walls"),
    ("every/photos", "Every room is photographed with a tape in the picture"),
    ("every/edge", "The edge strip stands without a gap, higher than the finished floor"),
];

fn open(loops: &[LoopLaid], harms: &[HarmDesign], checks: &[CheckDesign]) -> Vec<OpenItem> {
    let mut out = vec![];
    let mut say = |kind, id: &str, text: String| out.push(OpenItem { kind, id: id.to_owned(), text });
    for l in loops {
        let tag = &l.tag;
        match l.step {
            LayStep::NotStarted => say(OpenKind::Loop, &l.loop_id, format!("Loop {tag} does not lie yet")),
            LayStep::OnFloor => say(OpenKind::Loop, &l.loop_id, format!("Loop {tag} is not fixed yet")),
            LayStep::Fixed => say(OpenKind::Look, &l.loop_id, format!("Nobody else has looked at loop {tag}")),
            LayStep::Seen => {}
        }
        if l.wants_reason {
            say(OpenKind::Reason, &l.loop_id, format!("Loop {tag} took other than its drawn length: say why"));
        }
        if l.drawn_then_m.is_some() {
            let text = format!("Loop {tag} was laid from an older design: look where it lies, and draw it so");
            say(OpenKind::Rerouted, &l.loop_id, text);
        }
    }
    for h in harms.iter().filter(|h| h.harm.mend == Mend::No) {
        say(OpenKind::Harm, &h.record_id, format!("{} on loop {} is not mended", h.harm.harm.word(), h.tag));
    }
    for c in checks.iter().filter(|c| !c.done) {
        say(OpenKind::Check, &c.item, c.text.clone());
    }
    out
}

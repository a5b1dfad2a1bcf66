//! The practice rig: a manifold, its pump, source and rooms on which hands turn valves while time runs. It is the house by which
//! service ranks faults, with what hands have set on top, read with the simulated instruments; nothing of it is made up for teaching.
//!
//! A rig has no memory: what was done, and when, is sent with every question, and the same moves lead to the same house.
//!
//! ```
//! use fuoco_core::rig::{Hand, Lesson, Move, RigTrial, VERSION, play};
//! let mut trial = RigTrial { lesson: Lesson::Reversed, version: VERSION, seed: 1, moves: vec![], now_s: 60.0, units: None };
//! assert!(play(None, &trial)?.ports.iter().all(|p| p.meter_l_min < 0.1));
//! trial.moves.push(Move { at_s: 60.0, hand: Hand::Tails });
//! trial.now_s = 120.0;
//! let debrief = play(None, &trial)?.debrief.expect("done");
//! assert_eq!((debrief.moves, debrief.best), (1, 1));
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

mod lesson;
mod stand;

pub use lesson::{Lesson, LessonText, Tool};

use crate::check;
use crate::error::FieldError;
use crate::geometry::Point;
use crate::job::{CheckedJob, Job};
use crate::pressure_test::Verdict;
use crate::study::Study;
use crate::thermal::Raster;
use crate::units::Units;
use crate::water::part::{FluidKind, PumpControl};
use lru::LruCache;
use serde::{Deserialize, Serialize};
use stand::Rig;
use std::num::NonZeroUsize;
use std::sync::{Arc, LazyLock, Mutex};

/// Lessons are told apart by it from those of other versions of the app, whose houses were others.
pub const VERSION: u32 = 1;
/// The practice house.
pub const PRACTICE_HOUSE: &str = include_str!("../../data/practice.json");

/// The mix of the cold start: share of propylene glycol.
const MIX: f64 = 0.4;
/// Moves of a lesson at most, and its length, s: ten days.
const MOST_MOVES: usize = 400;
const LONGEST_S: f64 = 864_000.0;
/// What a hand does.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "what")]
pub enum Hand {
    /// Turns a loop's screw: so many turns open, 0 to 10.
    Valve {
        /// Port, from 1.
        port: u32,
        /// Turns from shut.
        turns: f64,
    },
    /// Opens or shuts a loop's actuator.
    Actuator {
        /// Port, from 1.
        port: u32,
        /// Open.
        open: bool,
    },
    /// Sets the pump's head, m, 0.2 to 8.
    PumpHead {
        /// Head.
        head_m: f64,
    },
    /// Sets what the pump keeps.
    PumpControl {
        /// How it is run.
        control: PumpControl,
    },
    /// Moves the reset line by so much from where it was found, K, -15 to 15.
    Line {
        /// By.
        by_k: f64,
    },
    /// Turns the mixing valve from end to end by its knob.
    Mixer,
    /// Exchanges supply and return at the manifold.
    Tails,
    /// Opens the bypass, 0 to 1.
    Bypass {
        /// Share.
        open: f64,
    },
    /// Opens the vent at the end of a loop.
    Vent {
        /// Port, from 1.
        port: u32,
    },
    /// Says whether the tube is tight.
    Verdict {
        /// Tight.
        tight: bool,
    },
}

/// A move.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Move {
    /// From the beginning, s; not before the one before it.
    pub at_s: f64,
    /// What was done.
    pub hand: Hand,
}

/// A lesson as far as it has come.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct RigTrial {
    /// Which.
    pub lesson: Lesson,
    /// The rig's version by which it was begun.
    pub version: u32,
    /// Which loop it is, whether the tube leaks: another number is another house.
    #[serde(default)]
    pub seed: u64,
    /// In order of time, 400 at most.
    #[serde(default)]
    pub moves: Vec<Move>,
    /// Now, s from the beginning; ten days at most.
    pub now_s: f64,
    /// Units of what is said.
    #[serde(default)]
    pub units: Option<Units>,
}

/// What eyes and instruments see now.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RigNow {
    /// Of the manifold, from its left.
    pub ports: Vec<RigPort>,
    /// Most turns of a screw.
    pub most_turns: f64,
    /// Pump.
    pub pump: RigPump,
    /// Outdoors, °C.
    pub outdoor_c: f64,
    /// Of the source, °C.
    pub source_c: f64,
    /// The source has shut down for want of flow.
    pub tripped: bool,
    /// Least flow of the source, L/min; none where the lesson has nothing to do with it.
    pub least_flow_l_min: Option<f64>,
    /// The controller asks for, °C.
    pub asked_c: Option<f64>,
    /// Behind the mixing valve, °C.
    pub mixed_c: Option<f64>,
    /// On the manifold's supply bar and return bar, °C.
    #[cfg_attr(feature = "schema", schema(value_type = [Option<f64>; 2]))]
    pub bars_c: [Option<f64>; 2],
    /// How far the line is moved, K.
    pub line_k: f64,
    /// Bypass, 0…1.
    pub bypass: f64,
    /// In the tubes, where that is what matters, °C.
    pub fluid_c: Option<f64>,
    /// The pressure test.
    pub test: Option<RigTest>,
    /// What came of the last move.
    pub says: String,
    /// It is done.
    pub debrief: Option<Debrief>,
}

/// A port.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RigPort {
    /// From 1.
    pub port: u32,
    /// The loop.
    pub tag: String,
    /// Its room.
    pub room: String,
    /// Turns of its screw.
    pub turns: f64,
    /// Its actuator.
    pub open: bool,
    /// Its meter, L/min.
    pub meter_l_min: f64,
    /// What it should show, L/min.
    pub design_l_min: f64,
    /// Its return, °C; none where its water stands.
    pub return_c: Option<f64>,
    /// Its room, °C.
    pub room_c: f64,
    /// What its thermostat wants, °C.
    pub wanted_c: f64,
    /// The mean of its floor by the camera, °C.
    pub surface_c: Option<f64>,
    /// What ears hear.
    pub hisses: bool,
    /// What ears hear.
    pub gurgles: bool,
}

/// A pump.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RigPump {
    /// How it is run.
    pub control: PumpControl,
    /// What it is set to, m.
    pub set_m: f64,
    /// What its display shows: head, m, and flow, L/min.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub shows: [f64; 2],
}

/// A gauge on tubes under air.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RigTest {
    /// When the pressure was put on, and now, kPa.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub gauge_kpa: [f64; 2],
    /// The slab then and now, °C.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub slab_c: [f64; 2],
    /// Corrected drop and its doubt, kPa.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub drop_kpa: [f64; 2],
    /// What the readings prove.
    pub verdict: Verdict,
    /// Why.
    pub reason: String,
}

/// What a thermal camera over the floors shows.
#[derive(Debug, Clone, PartialEq)]
pub struct RigCamera {
    /// Where its spots lie.
    pub raster: Raster,
    /// By spot; 255 off the heated floors.
    pub surface: Vec<u8>,
    /// The rooms that are seen.
    pub rooms: Vec<CameraRoom>,
}

/// A room under the camera.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CameraRoom {
    /// What it is called.
    pub name: String,
    /// Its outline, m.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub outline: Vec<Point>,
}

/// What came of a lesson.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Debrief {
    /// When it was done, s.
    pub at_s: f64,
    /// Moves until then.
    pub moves: usize,
    /// The least by which it can be done.
    pub best: usize,
    /// What the physics did.
    pub text: String,
}

/// The house of the lessons, solved once.
fn practice_house() -> Result<Arc<Study>, FieldError> {
    Study::of(&CheckedJob::from_json(PRACTICE_HOUSE)?)
}

/// The practice house's job.
///
/// # Errors
/// Never, as the tests hold.
pub fn practice_job() -> Result<Job, FieldError> {
    CheckedJob::from_json(PRACTICE_HOUSE).map(CheckedJob::into_job)
}

impl RigTrial {
    /// # Errors
    /// Names the field.
    pub fn check(&self) -> Result<(), FieldError> {
        if self.version != VERSION {
            let reason = format!("is {} and this app's rig is {VERSION}: begin the lesson anew", self.version);
            return Err(FieldError::new("trial.version", reason));
        }
        check::range("trial.now_s", self.now_s, 0.0, LONGEST_S)?;
        if self.moves.len() > MOST_MOVES {
            return Err(FieldError::new("trial.moves", format!("must be {MOST_MOVES} at most")));
        }
        let mut before = 0.0;
        for (i, m) in self.moves.iter().enumerate() {
            let path = |field: &str| format!("trial.moves[{i}].{field}");
            check::range(&path("at_s"), m.at_s, before, self.now_s)?;
            before = m.at_s;
            match m.hand {
                Hand::Valve { turns, .. } => check::range(&path("hand.turns"), turns, 0.0, 10.0)?,
                Hand::PumpHead { head_m } => check::range(&path("hand.head_m"), head_m, 0.2, 8.0)?,
                Hand::Line { by_k } => check::range(&path("hand.by_k"), by_k, -15.0, 15.0)?,
                Hand::Bypass { open } => check::range(&path("hand.open"), open, 0.0, 1.0)?,
                _ => {}
            }
            let needs = m.hand.tool();
            if !self.lesson.tools().contains(&needs) {
                return Err(FieldError::new(path("hand"), "is nothing that this lesson has"));
            }
        }
        Ok(())
    }
}

impl Hand {
    fn tool(self) -> Tool {
        match self {
            Hand::Valve { .. } => Tool::Valves,
            Hand::Actuator { .. } => Tool::Actuators,
            Hand::PumpHead { .. } => Tool::PumpHead,
            Hand::PumpControl { .. } => Tool::PumpControl,
            Hand::Line { .. } => Tool::Line,
            Hand::Mixer => Tool::Mixer,
            Hand::Tails => Tool::Tails,
            Hand::Bypass { .. } => Tool::Bypass,
            Hand::Vent { .. } => Tool::Vent,
            Hand::Verdict { .. } => Tool::Verdict,
        }
    }
}

/// Rigs that are kept, each after some moves: the next question goes on from there.
const KEPT: usize = 32;
static RIGS: LazyLock<Mutex<LruCache<String, Rig>>> =
    LazyLock::new(|| Mutex::new(LruCache::new(NonZeroUsize::new(KEPT).unwrap_or(NonZeroUsize::MIN))));

/// A lesson on the practice house, or on a job of one's own, as far as its moves have led.
///
/// # Errors
/// Names the field of the trial; and where the job has no manifold to practise on.
pub fn play(own: Option<&Arc<Study>>, trial: &RigTrial) -> Result<RigNow, FieldError> {
    played(own, trial).map(|rig| rig.now())
}

/// The floors under a thermal camera then.
///
/// # Errors
/// As [`play`]; where there is no water in the tubes yet.
pub fn camera(own: Option<&Arc<Study>>, trial: &RigTrial) -> Result<RigCamera, FieldError> {
    if trial.lesson == Lesson::LeakOrTemperature {
        return Err(FieldError::new("trial.lesson", "has no warm floors: its tubes are under air"));
    }
    played(own, trial)?.camera()
}

fn played(own: Option<&Arc<Study>>, trial: &RigTrial) -> Result<Rig, FieldError> {
    trial.check()?;
    if own.is_some() && !trial.lesson.on_own_job() {
        return Err(FieldError::new("trial.lesson", "is played on the practice house only"));
    }
    let study = match own {
        Some(study) => Arc::clone(study),
        None if trial.lesson == Lesson::ColdGlycol => {
            let mut job = practice_job()?;
            (job.fluid.kind, job.fluid.mass_fraction) = (FluidKind::PropyleneGlycol, MIX);
            Study::of(&CheckedJob::new(job)?)?
        }
        None => practice_house()?,
    };
    let key = |moves: &[Move]| {
        let own = own.map_or(0, |s| Arc::as_ptr(s) as usize);
        format!("{own} {:?} {} {moves:?}", trial.lesson, trial.seed)
    };
    let kept = |key: &str| RIGS.lock().ok().and_then(|mut rigs| rigs.get(key).cloned());
    // the longest beginning that is known, on the same study
    let known = (0..=trial.moves.len()).rev().find_map(|n| {
        let rig = kept(&key(&trial.moves[..n]))?;
        Arc::ptr_eq(&rig.study, &study).then_some((n, rig))
    });
    let (done, mut rig) = match known {
        Some(known) => known,
        None => (0, Rig::begin(study, trial.lesson, trial.seed)?),
    };
    for (n, m) in trial.moves.iter().enumerate().skip(done) {
        if rig.debrief.is_some() {
            break;
        }
        rig.wait(m.at_s)?;
        rig.take(m.hand)?;
        if let Ok(mut rigs) = RIGS.lock() {
            rigs.put(key(&trial.moves[..=n]), rig.clone());
        }
    }
    rig.units = trial.units;
    rig.wait(trial.now_s)?;
    Ok(rig)
}

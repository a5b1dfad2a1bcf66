//! The study of a job: the job solved, at full precision. Everything that is told or drawn of a job is read from its study:
//! the [design](crate::design) document, findings, maps of the floors, pictures of sections, comparisons, remedies.
//!
//! A study is a pure function of the job. The last few are kept, by what is in the job, so that a map or a picture asked for
//! after a design solves nothing again.
//!
//! ```
//! use fuoco_core::samples::{box_room, job_of, manifold};
//! use fuoco_core::job::CheckedJob;
//! use fuoco_core::study::Study;
//! let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
//! job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
//! let study = Study::of(&CheckedJob::new(job)?)?;
//! assert!(study.violations.is_empty());
//! // the heat of the loops is the room's loss and what goes down
//! let loops: f64 = study.loops.iter().map(|l| l.output_up_w).sum();
//! assert!((loops - study.rooms[0].heat_loss_w).abs() < 0.01 * loops);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

pub mod room;
pub(crate) mod solved;
pub mod totals;
mod tried;

pub use solved::Solved;
pub use tried::own_circuit;

use crate::error::FieldError;
use crate::floor::report::FieldDesign;
use crate::heat_loss::losses::HeatLoss;
use crate::job::{CheckedJob, Job};
use crate::layout::rules::audit;
use crate::layout::rules::score;
use crate::layout::{Layout, lay_out_watched};
use crate::loops::manifolds::manifold_designs;
use crate::loops::spots;
use crate::outdoors::load;
use crate::plan::Plan;
use crate::plant::report::{PlantDesign, plant_design};
use crate::watch::Watch;
use crate::water::circuit::Water;
use crate::water::loops::{balance, loop_designs};
use crate::water::report::circuit_designs;
use lru::LruCache;
use room::RoomDesign;
use std::hash::{DefaultHasher, Hash, Hasher};
use std::num::NonZeroUsize;
use std::ops::Deref;
use std::sync::{Arc, LazyLock, Mutex};

/// A job solved.
pub struct Study {
    /// The job as it was asked for: what is solved may read it in the terms of a room.
    asked: CheckedJob,
    solved: Solved,
    /// The plant, where the job has one.
    pub plant: Option<PlantDesign>,
}

impl Deref for Study {
    type Target = Solved;

    fn deref(&self) -> &Solved {
        &self.solved
    }
}

/// Studies that are kept.
const KEPT: usize = 6;

static STUDIES: LazyLock<Mutex<LruCache<u64, Arc<Study>>>> =
    LazyLock::new(|| Mutex::new(LruCache::new(NonZeroUsize::new(KEPT).unwrap_or(NonZeroUsize::MIN))));

impl Study {
    /// The job as it was asked for.
    pub fn asked(&self) -> &CheckedJob {
        &self.asked
    }

    /// The study of a job: one that is kept, or a new one.
    ///
    /// # Errors
    /// When the fluid has no properties at the temperatures of the design, or a floor cannot be solved.
    pub fn of(job: &CheckedJob) -> Result<Arc<Study>, FieldError> {
        Study::of_watched(job, &Watch::default())
    }

    /// The same, as long as somebody waits for it.
    ///
    /// # Errors
    /// As [`Study::of`], and when it was given up.
    pub fn of_watched(job: &CheckedJob, watch: &Watch) -> Result<Arc<Study>, FieldError> {
        let key = content(job);
        if let Ok(mut kept) = STUDIES.lock()
            && let Some(study) = kept.get(&key).filter(|s| s.asked == *job)
        {
            return Ok(Arc::clone(study));
        }
        let study = Arc::new(Study::solve(job.clone(), watch)?);
        if let Ok(mut kept) = STUDIES.lock() {
            kept.put(key, Arc::clone(&study));
        }
        Ok(study)
    }

    /// Solves a job, chapter by chapter.
    ///
    /// # Errors
    /// As [`Study::of_watched`].
    pub fn solve(asked: CheckedJob, watch: &Watch) -> Result<Study, FieldError> {
        let job = load::prepared(&asked).unwrap_or_else(|| asked.clone());
        let plan = Plan::of(&job);
        let heat = load::losses(&job, &plan);
        let layout = lay_out_watched(&job, &plan, watch);
        watch.check()?;
        let water = Water::settle(&job, &plan, &heat, &layout)?;

        let violations = audit::audit(&job, &plan, &layout.loops);
        let coverage = audit::coverage(&job, &layout.loops);
        let score = score::score_with(&job, &plan, &layout, &coverage, violations.len());
        let mut loops = loop_designs(&job, &plan, &layout, &water)?;
        let mut rooms = rooms(&job, &plan, &heat, &layout, &water);
        let mut fields: Vec<&mut FieldDesign> = rooms.iter_mut().flat_map(|r| &mut r.fields).collect();
        balance(&job, &mut loops, &mut fields)?;
        for (i, room) in rooms.iter_mut().enumerate() {
            room.coverage = coverage.iter().find(|c| c.room == i).map(|c| c.share);
            room.coldest = coverage.iter().find(|c| c.room == i).map(spots::coldest);
            room.warmest = water.heating[i].floor.as_ref().and_then(|f| spots::warmest(&job, i, f, &loops));
            room.density = score.rooms.iter().find(|s| s.room == i && s.loops > 0).map(score::RoomScore::density);
        }
        let manifolds = manifold_designs(&job, &layout, &loops, rooms.iter().flat_map(|r| &r.fields), &score);
        let totals = totals::totals(&job, &layout, heat.building.heat_w, &rooms, &loops, &water);
        let base = tried::Base {
            job: &job,
            plan: &plan,
            heat: &heat,
            layout: &layout,
            water: &water,
            violations: violations.len(),
            watch,
        };
        let conflict = tried::help(&base, &mut rooms);
        let circuits = circuit_designs(&job, &water, &rooms, &loops, &manifolds);
        let solved = Solved {
            job,
            plan,
            heat,
            layout,
            violations,
            coverage,
            score,
            water,
            circuits,
            rooms,
            loops,
            manifolds,
            totals,
            conflict,
        };
        let plant = plant_design(&solved)?;
        Ok(Study { asked, solved, plant })
    }
}

fn rooms(job: &Job, plan: &Plan, heat: &HeatLoss, layout: &Layout, water: &Water) -> Vec<RoomDesign> {
    let room = |i: usize| {
        let mut d = room::room_design(job, plan, i, &heat.rooms[i], water);
        d.joist_holes = layout.loops.iter().flat_map(|l| audit::holes(job, l, i)).collect();
        d.joist_holes_near_ends = spots::near_ends(&job.rooms[i], &d.joist_holes);
        d
    };
    (0..job.rooms.len()).map(room).collect()
}

/// A job by what is in it.
fn content(job: &CheckedJob) -> u64 {
    let mut hasher = DefaultHasher::new();
    serde_json::to_string(job).unwrap_or_default().hash(&mut hasher);
    hasher.finish()
}

//! A job solved as far as its loops' water: what plant and pumps are tried on.
//!
//! A study leads to it: whatever takes one takes a study.
//!
//! ```
//! use fuoco_core::job::CheckedJob;
//! use fuoco_core::samples::{box_room, job_of};
//! use fuoco_core::study::{Solved, Study};
//! fn rooms(solved: &Solved) -> usize {
//!     solved.rooms.len()
//! }
//! let study = Study::of(&CheckedJob::new(job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]))?)?;
//! assert_eq!(rooms(&study), 1);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::room::RoomDesign;
use super::totals::Totals;
use crate::floor::remedy::Conflict;
use crate::heat_loss::losses::HeatLoss;
use crate::job::CheckedJob;
use crate::layout::Layout;
use crate::layout::rules::audit::{Coverage, Violation};
use crate::layout::rules::score::Score;
use crate::loops::report::{LoopDesign, ManifoldDesign};
use crate::plan::Plan;
use crate::water::circuit::Water;
use crate::water::report::CircuitDesign;

/// A job solved, its plant left out.
pub struct Solved {
    /// The job.
    pub job: CheckedJob,
    /// Its plan, read.
    pub plan: Plan,
    /// Its heat loss.
    pub heat: HeatLoss,
    /// Its loops.
    pub layout: Layout,
    /// What of the layout breaks the layout rules.
    pub violations: Vec<Violation>,
    /// How much of each floor has tube within reach.
    pub coverage: Vec<Coverage>,
    /// The layout in figures.
    pub score: Score,
    /// The water, circuit by circuit.
    pub(crate) water: Water,
    /// The circuits as they are told.
    pub circuits: Vec<CircuitDesign>,
    /// Every room with what all chapters say of it, in the job's order.
    pub rooms: Vec<RoomDesign>,
    /// Every loop with its water, in the order of the layout.
    pub loops: Vec<LoopDesign>,
    /// Every manifold, in the job's order.
    pub manifolds: Vec<ManifoldDesign>,
    /// Sums.
    pub totals: Totals,
    /// Floors that do not go together on one water temperature.
    pub conflict: Option<Conflict>,
}

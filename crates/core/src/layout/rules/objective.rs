//! What is better: the one objective of the layout. Every search weighs by the figures that stand here, in the metres of tube
//! that a crew would rather lay than have the fault.
//!
//! In this order, each so much dearer than the next that it nearly always comes first: the rules hold; every room is served;
//! no loop is longer than its limit; the floor is covered; few loops; equal ones where that is asked; the supply along the
//! cold walls; few jogs and turns; short leaders.
//!
//! A search looks at what it can change: [`LayoutFigures::cost_m`] weighs a whole layout, `Parted::cost` the same without
//! the rules and the raster of the floor (for cuts and rounds of loop counts, of which there are many), `Trial::worth` the
//! loops of one room, and `square::labour` the ways to run one loop.
//!
//! ```
//! use fuoco_core::layout::{lay_out, rules::objective::LayoutFigures};
//! use fuoco_core::plan::Plan;
//! use fuoco_core::samples::{box_room, job_of, manifold};
//! let mut job = job_of(vec![box_room("hall", 0.0, 0.0, 5.0, 4.0)]);
//! let figures = |job: &_| LayoutFigures::of(job, &Plan::of(job), &lay_out(job, &Plan::of(job)));
//! let bare = figures(&job);
//! job.manifolds.push(manifold("m", "A", "hall", 0, 2.5));
//! let laid = figures(&job);
//! assert!(laid.cost_m() < bare.cost_m() && laid.is_better_than(&bare));
//! assert_eq!((bare.bare_rooms, laid.bare_rooms, laid.violations), (1, 0, 0));
//! ```

use crate::job::Job;
use crate::layout::rules::audit;
use crate::layout::rules::buildability::Buildability;
use crate::layout::rules::score::{EQUAL, spread};
use crate::layout::{Layout, Problem, limit_of};
use crate::plan::Plan;
use serde::{Deserialize, Serialize};

/// A violation of the layout rules: nothing is worth one.
const VIOLATION_M: f64 = 20_000.0;
/// A room that is not served, or something else that cannot be done.
pub(crate) const UNSERVED_M: f64 = 5_000.0;
/// A loop over its limit: it can be laid, but not pumped.
pub(crate) const TOO_LONG_M: f64 = 500.0;
/// Loops of a manifold that are not equal where the rules ask for it.
pub(crate) const UNEVEN_M: f64 = 100.0;
/// A floor whose loops do not follow its lattice, and the least for one that leaders alone heat.
pub(crate) const LATTICE_M: f64 = 20.0;
/// Bare floor is dearer than the tube that it lacks by this factor.
pub(crate) const BARE: f64 = 3.0;
/// One loop more: its port pair, its valve, its balancing.
pub(crate) const LOOP_M: f64 = 12.0;
/// A quarter turn: about the time in which a crew lays so much straight tube.
pub(crate) const TURN_M: f64 = 0.25;
/// What a crew would give, in quarter turns, to be spared a jog.
pub(crate) const JOG_TURNS: f64 = 3.0;
/// Less bare floor than this is not worth a word, m².
const BARE_M2: f64 = 0.05;
/// Costs nearer to each other than this are one.
const NOISE_M: f64 = 1.0;

/// Within one room: loops that fill so much of the floor are not tried in another way.
pub(crate) const WELL_FILLED: f64 = 0.98;
/// Below this share of the floor every bare spot counts three times: somebody feels it.
pub(crate) const LEAST_FILLED: f64 = 0.975;
/// Beyond this share more of it is worth a tenth: nobody does.
pub(crate) const ENOUGH_FILLED: f64 = 0.985;
/// This share of the floor is worth as much as the turns of an ideal serpentine, jogs counted: with 200 mm spacing and runs
/// of 5 m about [`BARE`] × its tube against [`TURN_M`] × its turns.
pub(crate) const LABOUR: f64 = 0.012;
/// A bend too tight for the tube counts like this share of bare floor: it is mended afterwards where it can be.
pub(crate) const TIGHT_FILLED: f64 = 0.004;

/// Within one loop, in quarter turns: a metre of tube that its field lacks.
pub(crate) const LACKING_TURNS_PER_M: f64 = 6.0;
/// A turn that the tube cannot make.
pub(crate) const TIGHT_TURNS: f64 = 1e4;
/// Runs that end at the only cold wall, rather than lie along it, count so much dearer.
pub(crate) const ACROSS_COLD: f64 = 1.35;
/// So does a floor that is warm on one side and cool on the other, where walls on several sides are cold.
pub(crate) const ONE_SIDED: f64 = 1.25;

/// The figures by which whole layouts are compared.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LayoutFigures {
    /// Violations of the layout rules, but for loops over their limit.
    pub violations: usize,
    /// Heated rooms without a loop, but for those that leaders heat.
    pub bare_rooms: usize,
    /// What else cannot be done.
    pub problems: usize,
    /// Loops over their limit.
    pub too_long: usize,
    /// Heatable floor out of the tube's reach, m².
    pub bare_m2: f64,
    /// The tube that it lacks, m.
    pub lacking_m: f64,
    /// Loops.
    pub loops: usize,
    /// Manifolds whose loops are not equal where the rules ask for it.
    pub uneven: usize,
    /// Turns at corners, in quarter turns.
    pub quarter_turns: f64,
    /// Steps aside.
    pub jogs: usize,
    /// All tube, m.
    pub tube_m: f64,
    /// Leaders of all loops, m.
    pub leaders_m: f64,
}

impl LayoutFigures {
    /// Of a layout, by the audit.
    pub fn of(job: &Job, plan: &Plan, layout: &Layout) -> LayoutFigures {
        let by_leaders = |room: usize| layout.problems.contains(&Problem::ByLeaders { room });
        let is_bare = |room: &usize| {
            let laid = layout.loops.iter().any(|l| l.heats(*room));
            job.rooms[*room].heated_floor().is_some() && !laid && !by_leaders(*room)
        };
        let counted = |v: &&audit::Violation| !matches!(v.kind, audit::ViolationKind::Length);
        let told = |p: &&Problem| !matches!(p, Problem::OverLimit { .. });
        let ease = Buildability::of_loops(layout.loops.iter());
        let (mut bare_m2, mut lacking_m) = (0.0, 0.0);
        for c in audit::coverage(job, &layout.loops) {
            let Some(floor) = job.rooms[c.room].heated_floor() else { continue };
            let bare = (1.0 - c.share) * plan.heatable_m2[c.room];
            bare_m2 += bare;
            lacking_m += bare / floor.spacing_core_m;
        }
        let is_uneven = |m: &usize| {
            let own = layout.loops.iter().filter(|l| l.manifold == *m);
            spread(&own.map(|l| l.length_m).collect::<Vec<f64>>()) > EQUAL
        };
        LayoutFigures {
            violations: audit::audit(job, plan, &layout.loops).iter().filter(counted).count(),
            bare_rooms: (0..job.rooms.len()).filter(is_bare).count(),
            problems: layout.problems.iter().filter(told).count(),
            too_long: layout.loops.iter().filter(|l| l.length_m > limit_of(job, l.room)).count(),
            bare_m2,
            lacking_m,
            loops: layout.loops.len(),
            uneven: if job.rules.equal_loops { (0..job.manifolds.len()).filter(is_uneven).count() } else { 0 },
            quarter_turns: ease.quarter_turns,
            jogs: ease.jogs,
            // nothing adds up to minus zero
            tube_m: 0.0 + layout.loops.iter().map(|l| l.length_m).sum::<f64>(),
            leaders_m: 0.0 + layout.loops.iter().map(|l| l.leader_length_m).sum::<f64>(),
        }
    }

    /// What is wrong with it: rules that do not hold, rooms not served, other problems, loops too long.
    pub fn faults(&self) -> usize {
        self.violations + self.bare_rooms + self.problems + self.too_long
    }

    /// The objective, in metres of tube; the less the better.
    pub fn cost_m(&self) -> f64 {
        VIOLATION_M * self.violations as f64
            + UNSERVED_M * (self.bare_rooms + self.problems) as f64
            + TOO_LONG_M * self.too_long as f64
            + UNEVEN_M * self.uneven as f64
            + BARE * self.lacking_m
            + LOOP_M * self.loops as f64
            + TURN_M * (self.quarter_turns + JOG_TURNS * self.jogs as f64)
            + self.leaders_m
    }

    /// Whether its layout is better by more than what cannot be told apart.
    pub fn is_better_than(&self, other: &LayoutFigures) -> bool {
        self.cost_m() < other.cost_m() - NOISE_M
    }

    /// In what the layout is worse than another, by the gravest; none where the other is not better.
    pub(crate) fn worse_than(&self, other: &LayoutFigures) -> Option<Worse> {
        if !other.is_better_than(self) {
            return None;
        }
        let more = |own: usize, others: usize| own.checked_sub(others).filter(|n| *n > 0);
        let counted = more(self.violations, other.violations)
            .map(Worse::Violations)
            .or_else(|| more(self.bare_rooms, other.bare_rooms).map(Worse::BareRooms))
            .or_else(|| more(self.problems, other.problems).map(Worse::Problems))
            .or_else(|| more(self.too_long, other.too_long).map(Worse::TooLong));
        let bare_m2 = self.bare_m2 - other.bare_m2;
        Some(counted.unwrap_or(if bare_m2 > BARE_M2 { Worse::BareFloor(bare_m2) } else { Worse::Dearer }))
    }
}

/// In what a layout is worse than another.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Worse {
    Violations(usize),
    BareRooms(usize),
    Problems(usize),
    TooLong(usize),
    /// So much more bare floor, m².
    BareFloor(f64),
    /// More loops, turns or leaders.
    Dearer,
}

#[cfg(test)]
mod tests {
    use super::*;

    fn figures() -> LayoutFigures {
        LayoutFigures {
            violations: 0,
            bare_rooms: 0,
            problems: 0,
            too_long: 0,
            bare_m2: 1.0,
            lacking_m: 5.0,
            loops: 4,
            uneven: 0,
            quarter_turns: 200.0,
            jogs: 10,
            tube_m: 320.0,
            leaders_m: 40.0,
        }
    }

    /// Each fault is dearer than any likely amount of the next ones.
    #[test]
    fn the_order_of_the_objective_holds() {
        let base = figures();
        let steps = [
            LayoutFigures { violations: 1, ..base },
            LayoutFigures { bare_rooms: 1, ..base },
            LayoutFigures { too_long: 1, ..base },
            LayoutFigures { lacking_m: base.lacking_m + 40.0, ..base },
            LayoutFigures { loops: base.loops + 1, ..base },
            LayoutFigures { jogs: base.jogs + 10, ..base },
            LayoutFigures { leaders_m: base.leaders_m + 5.0, ..base },
        ];
        assert!(steps.iter().all(|s| base.is_better_than(s)));
        assert!(steps.windows(2).all(|w| w[1].is_better_than(&w[0])), "{:?}", steps.map(|s| s.cost_m()));
        assert!(!base.is_better_than(&base));
    }

    #[test]
    fn what_is_worse_is_named_gravest_first() {
        let base = figures();
        let worse = LayoutFigures { bare_rooms: 2, bare_m2: 9.0, lacking_m: 45.0, ..base };
        assert_eq!(worse.worse_than(&base), Some(Worse::BareRooms(2)));
        assert_eq!(
            LayoutFigures { bare_m2: 1.5, lacking_m: 7.5, ..base }.worse_than(&base),
            Some(Worse::BareFloor(0.5))
        );
        assert_eq!(LayoutFigures { jogs: 40, ..base }.worse_than(&base), Some(Worse::Dearer));
        assert_eq!(base.worse_than(&worse), None);
    }
}

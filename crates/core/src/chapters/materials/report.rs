//! What the chapter gives: take-off, coils, panels, plates, drilling, saw cuts, work and quote in one document.

use super::cautions::{Caution, cautions};
use super::coils::{TubeCoils, tube_coils};
use super::drilling::{DrilledJoist, drilled};
use super::labour::{WorkDesign, last_day, task};
use super::part::Group;
use super::quote::{OptionDesign, options};
use super::runs::runs;
use super::saw_cuts::{SawCrossing, crossings};
use super::takeoff::{Amounts, Basis, PlacedPlate, RoomPanels, TakeOffLine, take_off};
use crate::study::Study;
use crate::units::Quantity as Q;
use serde::{Deserialize, Serialize};

/// Everything that is bought and done for a job.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MaterialsDesign {
    /// Every article with its count, group by group.
    pub lines: Vec<TakeOffLine>,
    /// The coils of every tube.
    pub coils: Vec<TubeCoils>,
    /// Grooved panels where they lie.
    pub panels: Vec<RoomPanels>,
    /// Heat-transfer plates where they lie.
    pub plates: Vec<PlacedPlate>,
    /// The drilling list.
    pub joists: Vec<DrilledJoist>,
    /// Loops under saw cuts.
    pub saw_cuts: Vec<SawCrossing>,
    /// Where the crew takes care on its way along a loop.
    pub cautions: Vec<Caution>,
    /// Work.
    pub work: WorkDesign,
    /// Offers, side by side.
    pub quote: Vec<OptionDesign>,
    /// What the offers do not contain.
    pub exclusions: Vec<String>,
    /// Days for which they hold.
    pub valid_days: u32,
    /// Tax on their sums, share.
    pub tax: f64,
    /// Currency of all prices.
    pub currency: String,
    /// What all that is ordered costs the firm, articles without a price left out.
    pub cost: f64,
    /// Articles without a price.
    pub missing_prices: usize,
}

/// Counts what a study takes.
///
/// ```
/// use fuoco_core::job::CheckedJob;
/// use fuoco_core::materials::report::materials;
/// use fuoco_core::samples::{box_room, job_of, manifold};
/// use fuoco_core::study::Study;
/// let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
/// job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
/// let study = Study::of(&CheckedJob::new(job)?)?;
/// let materials = materials(&study);
/// // every loop comes out of a coil, with its reserve
/// let cut: f64 = materials.coils[0].coils.iter().flat_map(|c| &c.cuts).map(|c| c.to_m - c.from_m).sum();
/// assert!((cut - materials.coils[0].cut_m).abs() < 1e-9 && cut > materials.coils[0].drawn_m);
/// # Ok::<(), fuoco_core::error::FieldError>(())
/// ```
pub fn materials(study: &Study) -> MaterialsDesign {
    let job = &study.job;
    let coils = tube_coils(study);
    let runs = runs(study);
    let joists: Vec<DrilledJoist> =
        (0..job.rooms.len()).flat_map(|r| drilled(job, &study.layout.loops, r, &job.purchasing.fixing)).collect();
    let saw_cuts = crossings(study);
    let cautions = cautions(study);
    let counted = take_off(&Basis {
        study,
        runs: &runs,
        coils: &coils,
        joists: &joists,
        saw_cuts: &saw_cuts,
        cautions: &cautions,
    });
    let work = work(study, &counted.amounts);
    let quote = options(&job.purchasing.quote, &counted.lines, &work, job.purchasing.labour.hour_price);
    MaterialsDesign {
        cost: counted.lines.iter().filter_map(|l| l.price).sum(),
        missing_prices: counted.lines.iter().filter(|l| l.price.is_none()).count(),
        lines: counted.lines,
        panels: counted.panels,
        plates: counted.plates,
        coils,
        joists,
        saw_cuts,
        cautions,
        work,
        quote,
        exclusions: job.purchasing.quote.exclusions.clone(),
        valid_days: job.purchasing.quote.valid_days,
        tax: job.purchasing.quote.tax,
        currency: job.purchasing.prices.currency.clone(),
    }
}

fn work(study: &Study, of: &Amounts) -> WorkDesign {
    let (r, units) = (&study.job.purchasing.labour, study.job.site.units);
    let manifolds = study.manifolds.iter().filter(|m| m.ports_used > 0).count() as f64;
    let loops = study.loops.len() as f64;
    let circuits = study.plant.as_ref().and_then(|p| p.state.as_ref()).map_or(0.0, |s| s.circuits.len() as f64);
    let sources = if study.plant.is_some() { 1.0 } else { 0.0 };
    let rows = [
        ("Make the floor ready", Group::Floor, Q::Area, of.floor_m2, r.prepare_s_m2),
        ("Drill joists", Group::Fixing, Q::Count, of.holes, r.hole_s),
        ("Lay grooved panels", Group::Floor, Q::Count, of.panels, r.panel_s),
        ("Hang manifolds", Group::Manifold, Q::Count, manifolds, r.manifold_s),
        ("Lay tube", Group::Tube, Q::Tube, of.laid_m, r.lay_s_m),
        ("Tie tube", Group::Tube, Q::Tube, of.tied_m, r.tie_s_m),
        ("Hang tube from below", Group::Tube, Q::Tube, of.below_m, r.below_s_m),
        ("Begin, cut, label and connect loops", Group::Tube, Q::Count, loops, r.loop_s),
        ("Place plates", Group::Fixing, Q::Count, of.plates, r.plate_s),
        ("Pressure test", Group::Manifold, Q::Count, manifolds, r.test_s),
        ("Pipe circuits", Group::Plant, Q::Count, circuits, r.circuit_s),
        ("Set and pipe the source", Group::Plant, Q::Count, sources, r.source_s),
        ("Flush, purge and set loops", Group::Manifold, Q::Count, loops, r.start_loop_s),
    ];
    let tasks: Vec<_> = rows
        .into_iter()
        .filter_map(|(name, group, q, amount, each)| task(name, group, q, amount, each, units))
        .collect();
    let time_s: f64 = tasks.iter().map(|t| t.time_s).sum();
    let days = time_s / (f64::from(r.crew) * r.day_s);
    WorkDesign {
        done: r.first_day.as_deref().filter(|_| time_s > 0.0).and_then(|first| last_day(first, days)),
        cost: r.hour_price.map(|p| p * time_s / 3600.0),
        tasks,
        time_s,
        days,
    }
}

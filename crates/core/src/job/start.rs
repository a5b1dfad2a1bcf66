//! New jobs: what a few answers say of the building, and the firm's units, set what is usual for it.
//!
//! ```
//! use fuoco_core::job::{JobKind, Start};
//! use fuoco_core::units::Units;
//! let start = Start { kind: Some(JobKind::RetrofitBelow), units: Some(Units::Us), ..Start::named("Attic") };
//! let job = start.job();
//! assert_eq!(job.first_room.unwrap().floor.build_up_id, "joist-extruded");
//! assert!(job.rules.spacings_m.contains(&(8.0 * 0.0254)));
//! ```

use super::{Axis, Beyond, FirstRoom, Floor, FloorLattice, Fluid, FluidKind, Job, Outdoors, Pattern, Usage};
use crate::fluid;
use crate::units::Units;
use serde::{Deserialize, Serialize};

pub(super) const INCH_M: f64 = 0.0254;
const FOOT_M: f64 = 12.0 * INCH_M;
const FAHRENHEIT_PER_K: f64 = 1.8;
/// Glycol outdoors freezes so much below the coldest night, K; no stronger than for that night, °C.
const GLYCOL_SPARE_K: f64 = 8.0;
const GLYCOL_LEAST_C: f64 = -40.0;

/// What is to be heated.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum JobKind {
    /// A new house whose floor is poured with its tube.
    HouseOnSlab,
    /// Rooms heated from below their subfloor, between joists.
    RetrofitBelow,
    /// Panels over a slab that is there.
    OverOldSlab,
    /// A hall or workshop on a thick slab.
    Hall,
    /// Areas outdoors, kept free of snow.
    Outdoors,
}

/// What is asked of a new job; all but the name may be left out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Start {
    /// The job's name, 1 to 2000 characters.
    pub name: String,
    /// What it is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub kind: Option<JobKind>,
    /// Units of the job; absent: metric.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub units: Option<Units>,
    /// Place of the building.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub place: String,
    /// Design outdoor temperature, °C; absent: −12.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub outdoor_c: Option<f64>,
}

impl Start {
    /// Of a job of which nothing but its name is known.
    pub fn named(name: &str) -> Start {
        Start { name: name.into(), kind: None, units: None, place: String::new(), outdoor_c: None }
    }

    /// The job, unchecked. Sizes are whole ones of its units.
    pub fn job(&self) -> Job {
        let us = self.units == Some(Units::Us);
        let mut job = Job::new(&self.name);
        job.site.place.clone_from(&self.place);
        job.site.units = self.units.unwrap_or(Units::Metric);
        job.site.outdoor_c = self.outdoor_c.unwrap_or(job.site.outdoor_c);
        if us {
            let rules = &mut job.rules;
            rules.spacings_m = [6.0, 8.0, 9.0, 12.0].map(|inches| inches * INCH_M).to_vec();
            rules.edge_band_m = 3.0 * FOOT_M;
            rules.wall_clearance_m = 4.0 * INCH_M;
            rules.lane_spacing_m = 2.0 * INCH_M;
            rules.sleeve_saves_m = 20.0 * FOOT_M;
            rules.share_below_m = 65.0 * FOOT_M;
            rules.temperature_drop_k = 10.0 / FAHRENHEIT_PER_K;
            rules.largest_drop_k = 20.0 / FAHRENHEIT_PER_K;
            job.purchasing.prices.currency = "$".into();
        }
        job.first_room = Some(first_room(self.kind.unwrap_or(JobKind::HouseOnSlab), us));
        if self.kind == Some(JobKind::Outdoors) {
            outdoors(&mut job, us);
        }
        job
    }
}

/// What is usual for areas outdoors: glycol that the coldest night does not freeze, an exchanger to the source, wide drops.
fn outdoors(job: &mut Job, us: bool) {
    job.outdoors = Some(Outdoors::default());
    job.levels[0].id = "outdoors".into();
    job.levels[0].name = "Outdoors".into();
    let freezes_c = (job.site.outdoor_c - GLYCOL_SPARE_K).max(GLYCOL_LEAST_C);
    let mass_fraction = fluid::mass_fraction_for(FluidKind::PropyleneGlycol, freezes_c);
    job.fluid = Fluid { kind: FluidKind::PropyleneGlycol, mass_fraction: (mass_fraction * 100.0).ceil() / 100.0 };
    // the ground under a slab that the frost reaches
    job.site.ground_c = 2.0;
    let rules = &mut job.rules;
    // cold ends show in the snow
    rules.equal_loops = true;
    rules.temperature_drop_k = if us { 20.0 / FAHRENHEIT_PER_K } else { 12.0 };
    rules.largest_drop_k = if us { 30.0 / FAHRENHEIT_PER_K } else { 16.0 };
}

pub(super) fn first_room(kind: JobKind, us: bool) -> FirstRoom {
    let size = |inches: f64, metric: f64| if us { inches * INCH_M } else { metric };
    let tube = if us { "pex-1/2" } else { "pex-16x2" };
    let floor = |build_up: &str, covering: &str, tube: &str, spacing: f64| Floor {
        build_up_id: build_up.into(),
        covering_id: covering.into(),
        tube_id: tube.into(),
        spacing_core_m: spacing,
        spacing_edge_m: spacing,
        insulation_m2k_w: None,
        pattern: Pattern::Auto,
        loops: None,
        splits: Vec::new(),
        lattice: None,
        manifold_id: None,
        patches: Vec::new(),
    };
    let room = |usage: Usage, height_m, below, floor| FirstRoom {
        usage,
        height_m,
        room_c: usage.usual_room_c(),
        below,
        floor,
    };
    let storey = size(96.0, 2.5);
    match kind {
        JobKind::HouseOnSlab => {
            room(Usage::Living, storey, Beyond::Ground, floor("slab", "tile", tube, size(8.0, 0.2)))
        }
        JobKind::RetrofitBelow => {
            let joists = FloorLattice::Joists {
                along: Axis::X,
                centres_m: size(16.0, 0.4),
                one_m: 0.0,
                width_m: size(1.5, 0.045),
            };
            let mut bays = floor("joist-extruded", "engineered", tube, size(8.0, 0.2));
            bays.lattice = Some(joists);
            room(Usage::Living, storey, Beyond::Unheated { temperature_c: 10.0 }, bays)
        }
        JobKind::OverOldSlab => {
            room(Usage::Living, storey, Beyond::Ground, floor("panel-slab", "engineered", tube, size(6.0, 0.15)))
        }
        JobKind::Outdoors => {
            let tube = if us { "pex-3/4" } else { "pex-20x2" };
            let mut slab = floor("snow", "bare", tube, size(8.0, 0.2));
            slab.pattern = Pattern::Counterflow;
            FirstRoom { room_c: 5.0, ..room(Usage::Hall, storey, Beyond::Ground, slab) }
        }
        JobKind::Hall => {
            let tube = if us { "pex-5/8" } else { "pex-20x2" };
            FirstRoom {
                room_c: 16.0,
                ..room(Usage::Work, size(168.0, 4.5), Beyond::Ground, floor("slab-mesh", "bare", tube, size(12.0, 0.3)))
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::job::CheckedJob;
    use crate::samples::{box_room, manifold};

    const KINDS: [Option<JobKind>; 6] = [
        None,
        Some(JobKind::HouseOnSlab),
        Some(JobKind::RetrofitBelow),
        Some(JobKind::OverOldSlab),
        Some(JobKind::Hall),
        Some(JobKind::Outdoors),
    ];

    fn starts() -> impl Iterator<Item = Start> {
        let units = [None, Some(Units::Metric), Some(Units::Us)];
        KINDS.into_iter().flat_map(move |kind| units.map(|units| Start { kind, units, ..Start::named("New") }))
    }

    #[test]
    fn every_start_is_a_job_whose_first_room_is_designed_without_an_error() {
        for start in starts() {
            let mut job = start.job();
            let first = job.first_room.clone().expect("a first room");
            let mut room = box_room("a", 0.0, 0.0, 6.0, 4.8);
            (room.usage, room.height_m, room.room_c) = (first.usage, first.height_m, first.room_c);
            (room.below, room.floor) = (first.below, Some(first.floor));
            room.level_id.clone_from(&job.levels[0].id);
            job.rooms.push(room);
            job.manifolds.push(manifold("m", "A", "a", 2, 3.0));
            let design = crate::samples::designed(&job).unwrap_or_else(|e| panic!("{start:?}: {e}"));
            assert!(!design.loops.is_empty(), "{start:?}");
            let spacings = &job.rules.spacings_m;
            assert!(
                spacings.iter().any(|s| (s - job.rooms[0].floor.as_ref().unwrap().spacing_core_m).abs() < 1e-9),
                "{start:?}"
            );
        }
    }

    #[test]
    fn sizes_of_a_us_job_are_whole_inches() {
        for start in starts().filter(|s| s.units == Some(Units::Us)) {
            let job = start.job();
            let first = job.first_room.as_ref().expect("a first room");
            let sizes = job.rules.spacings_m.iter().chain([
                &first.height_m,
                &first.floor.spacing_core_m,
                &job.rules.edge_band_m,
            ]);
            for size in sizes {
                assert!((size / INCH_M - (size / INCH_M).round()).abs() < 1e-9, "{start:?}: {size}");
            }
        }
    }

    #[test]
    fn a_us_job_is_priced_in_dollars() {
        for start in starts() {
            let us = start.units == Some(Units::Us);
            assert_eq!(start.job().purchasing.prices.currency, if us { "$" } else { "€" });
        }
    }

    #[test]
    fn what_is_typed_is_taken_and_checked() {
        let start = Start { place: "Alderfell".into(), outdoor_c: Some(-20.0), ..Start::named("Typed") };
        let job = CheckedJob::new(start.job()).expect("a job");
        assert_eq!((job.site.place.as_str(), job.site.outdoor_c), ("Alderfell", -20.0));
        let cold = Start { outdoor_c: Some(-200.0), ..start };
        assert!(CheckedJob::new(cold.job()).unwrap_err().to_string().contains("outdoor_c"));
    }
}

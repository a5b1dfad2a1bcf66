//! A job as a document: what the surveyor measured and what the designer chose. SI units, names in
//! `snake_case` with their unit. The same shape is the job file, the body of the API and the row in the store.
//!
//! ```
//! use fuoco_core::job::{CheckedJob, Job};
//! let mut job = Job::new("Annex");
//! job.site.outdoor_c = -200.0;
//! assert_eq!(CheckedJob::new(job).unwrap_err().field, "site.outdoor_c");
//! ```

pub mod checked;
mod firm;
pub(crate) mod ids;
mod lookup;
mod migrate;
pub mod rules;
pub mod start;
pub mod usual;

pub use crate::cooling::part::*;
pub use crate::floor::part::*;
pub use crate::geometry::Point;
pub use crate::heat_loss::part::*;
pub use crate::loops::part::*;
pub use crate::materials::part::*;
pub use crate::outdoors::part::*;
pub use crate::plant::part::*;
pub use crate::survey::part::*;
pub use crate::survey::site::*;
pub use crate::water::part::*;
pub use checked::CheckedJob;
pub use firm::{FIRM_FORMAT, Firm, schools};
pub use rules::*;
pub use start::{JobKind, Start};
pub use usual::Usual;

use crate::check::{read, text};
use crate::error::FieldError;
use crate::ranges::{Ranged, TypeRanges, ranges};
use crate::units::Units;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Marks a JSON document as a Fuoco job.
pub const FORMAT: &str = "fuoco-job";
/// The version of the format that this program writes.
pub const VERSION: u32 = 6;
/// A job larger than this is refused: the design must stay interactive.
pub const MAX_ROOMS: usize = 200;
/// A curved wall is drawn by short segments.
pub const MAX_CORNERS: usize = 128;

/// A job that takes more bytes as JSON without spaces is not kept.
pub const LARGEST_JOB: usize = 4 << 20;
/// A longer text is not read as a job: some spaces more than the largest job has.
pub const LARGEST_TEXT: usize = 5 << 20;

/// One heating job.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Job {
    /// Always `fuoco-job`.
    pub format: String,
    /// Version of the format, now 6.
    pub version: u32,
    /// The job's name as the list shows it.
    pub name: String,
    /// For whom it is; up to 2000 characters.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub customer: String,
    /// Where to drive; up to 2000 characters.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub address: String,
    /// Where the building stands.
    pub site: Site,
    /// The firm's rules for this job.
    pub rules: HouseRules,
    /// How well the building keeps its heat, where a room says nothing else.
    #[serde(default)]
    pub envelope: Envelope,
    /// The job's own materials, beside the library's.
    #[serde(default)]
    pub materials: Vec<Material>,
    /// The job's own constructions, beside the library's.
    #[serde(default)]
    pub constructions: Vec<Construction>,
    /// The job's own build-ups, beside the library's; at most 100.
    #[serde(default)]
    pub build_ups: Vec<BuildUp>,
    /// The job's own tubes, beside the library's; at most 100.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub tubes: Vec<Tube>,
    /// The job's own coverings, beside the library's; at most 100.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub coverings: Vec<Covering>,
    /// The job's own pumps, the first that serves before the library's; at most 100.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub pumps: Vec<PumpModel>,
    /// Heat sources to choose from, beside the usual ones; at most 100.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub sources: Vec<HeatSource>,
    /// Present where the job is one of areas outdoors, kept free of snow: its rooms are those areas.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub outdoors: Option<Outdoors>,
    /// Infiltration and ventilation.
    #[serde(default)]
    pub air: Air,
    /// Cooling with the same tubes in summer; absent: they heat only.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cooling: Option<Cooling>,
    /// What flows in the tubes.
    #[serde(default)]
    pub fluid: Fluid,
    /// The storeys.
    pub levels: Vec<Level>,
    /// The rooms.
    pub rooms: Vec<Room>,
    /// What the first room that is drawn starts with.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub first_room: Option<FirstRoom>,
    /// The manifolds.
    pub manifolds: Vec<Manifold>,
    /// The circuits of floors; none: all manifolds are on one.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub circuits: Vec<FloorCircuit>,
    /// The heat source and the piping up to the circuits.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub plant: Option<Plant>,
    /// Loops that are locked or shaped by hand; all others are laid by the program.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub loops: Vec<KeptLoop>,
    /// What is bought, what it costs, how long it takes.
    #[serde(default, skip_serializing_if = "Purchasing::is_usual")]
    pub purchasing: Purchasing,
    /// Notes and lines on the plan that are not rooms: saw cuts, drains, what the survey saw.
    #[serde(default)]
    pub marks: Vec<Mark>,
    /// The label of the heat source found on site, to compare with.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub old_source: Option<OldSource>,
}

impl Job {
    /// An empty job by today's ordinary practice.
    pub fn new(name: &str) -> Job {
        Job {
            format: FORMAT.into(),
            version: VERSION,
            name: name.into(),
            customer: String::new(),
            address: String::new(),
            site: Site {
                place: String::new(),
                outdoor_c: -12.0,
                ground_c: 9.0,
                annual_mean_c: None,
                altitude_m: 0.0,
                north_deg: 0.0,
                weather: None,
                units: Units::Metric,
            },
            rules: HouseRules::default(),
            envelope: Envelope::default(),
            materials: Vec::new(),
            constructions: Vec::new(),
            build_ups: Vec::new(),
            tubes: Vec::new(),
            coverings: Vec::new(),
            pumps: Vec::new(),
            sources: Vec::new(),
            outdoors: None,
            cooling: None,
            air: Air::default(),
            fluid: Fluid::default(),
            levels: vec![Level { id: "ground".into(), name: "Ground floor".into(), floor_m: 0.0, underlay: None }],
            rooms: Vec::new(),
            first_room: None,
            manifolds: Vec::new(),
            circuits: Vec::new(),
            plant: None,
            loops: Vec::new(),
            purchasing: Purchasing::default(),
            marks: Vec::new(),
            old_source: None,
        }
    }

    /// Reads a job of any version from JSON, without checking what it says.
    ///
    /// # Errors
    /// Names the field that is missing, misspelt or of the wrong type, or the version that this program does not know.
    pub(crate) fn read(text: &str) -> Result<Job, FieldError> {
        #[derive(Deserialize)]
        struct Head {
            format: Option<String>,
            version: Option<u64>,
        }
        let head: Head = read(text)?;
        if head.format.as_deref() != Some(FORMAT) {
            return Err(FieldError::new("format", format!("must be \"{FORMAT}\": this is not a Fuoco job file")));
        }
        match head.version {
            Some(v) if v == u64::from(VERSION) => read(text),
            Some(v) if (1..u64::from(VERSION)).contains(&v) => migrate::to_newest(read(text)?),
            Some(v) if v > u64::from(VERSION) => {
                let reason = format!("{v} was written by a newer Fuoco; this one reads up to {VERSION}");
                Err(FieldError::new("version", reason))
            }
            _ => Err(FieldError::new("version", format!("must be a whole number from 1 to {VERSION}"))),
        }
    }

    /// What belongs to no chapter: that it is a job of this version, its name and rules, the limits on its size, and that
    /// ids are unique.
    pub(crate) fn check_document(&self) -> Result<(), FieldError> {
        if self.format != FORMAT {
            return Err(FieldError::new("format", format!("must be \"{FORMAT}\"")));
        }
        if self.version != VERSION {
            return Err(FieldError::new("version", format!("must be {VERSION}")));
        }
        text("name", &self.name, 1)?;
        text("customer", &self.customer, 0)?;
        text("address", &self.address, 0)?;
        rules::check(&self.rules)?;
        // the root's fields have no path before them
        self.check_ranges("").map_err(|e| FieldError::new(e.field.trim_start_matches('.'), e.reason))?;
        ids::check(self)
    }

    /// The level of that id.
    pub fn level(&self, id: &str) -> Option<&Level> {
        self.levels.iter().find(|l| l.id == id)
    }

    /// Every stored file that the job refers to.
    pub fn file_ids(&self) -> BTreeSet<&str> {
        let underlays = self.levels.iter().filter_map(|l| l.underlay.as_ref()).map(|u| u.file_id.as_str());
        let marks = self.marks.iter().filter_map(|m| m.photo_id.as_deref());
        let things = self.rooms.iter().flat_map(|r| {
            let keep_outs = r.keep_outs.iter().filter_map(|k| k.photo_id.as_deref());
            keep_outs.chain(r.emitters.iter().filter_map(|e| e.photo_id.as_deref()))
        });
        let weather = self.site.weather.iter().filter_map(|w| w.file_id.as_deref());
        underlays.chain(marks).chain(things).chain(weather).collect()
    }

    /// The room of that id.
    pub fn room(&self, id: &str) -> Option<&Room> {
        self.rooms.iter().find(|r| r.id == id)
    }
}

ranges! {
    of Job {
        materials: items 0..=100,
        constructions: items 0..=100,
        build_ups: items 0..=100,
        tubes: items 0..=100,
        coverings: items 0..=100,
        pumps: items 0..=100,
        sources: items 0..=100,
        levels: items 1..=20,
        rooms: items 0..=200,
        manifolds: items 0..=20,
        circuits: items 0..=20,
        loops: items 0..=480,
        marks: items 0..=500,
    }
}

/// The ranges of what belongs to no chapter.
pub(crate) fn document_ranges() -> impl Iterator<Item = &'static TypeRanges> {
    RANGES.iter().chain(rules::RANGES)
}

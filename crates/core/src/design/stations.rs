//! How far the work is at each station, for a rail of marks.
//!
//! ```
//! use fuoco_core::design::{Progress, design};
//! use fuoco_core::job::CheckedJob;
//! use fuoco_core::samples::{box_room, job_of};
//! let marks = design(&CheckedJob::new(job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]))?)?.stations;
//! assert_eq!(marks.last().unwrap().progress, Progress::NotStarted, "no loops, no papers");
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```
use serde::{Deserialize, Serialize};

use crate::findings::{Finding, Severity, Station};
use crate::study::Study;

/// How far the work at a station is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Progress {
    /// Nothing to judge yet.
    NotStarted,
    /// An error or a warning belongs here; at the papers, an error anywhere.
    NeedsAttention,
    /// Begun, and nothing is open.
    Ok,
}

/// The mark of one station.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StationMark {
    /// The station.
    pub station: Station,
    /// How far its work is.
    pub progress: Progress,
    /// Errors to be mended here.
    pub errors: usize,
    /// Warnings that belong here.
    pub warnings: usize,
}

/// Every station in the order of the work.
pub(super) fn marks(study: &Study, findings: &[Finding]) -> Vec<StationMark> {
    let rooms = !study.job.rooms.is_empty();
    let loops = !study.loops.is_empty();
    let count = |station, severity| findings.iter().filter(|f| f.station == station && f.severity == severity).count();
    let mark = |station: Station| {
        let (errors, warnings) = (count(station, Severity::Error), count(station, Severity::Warning));
        let (begun, open) = match station {
            Station::Site => (!study.job.site.place.is_empty(), errors + warnings > 0),
            Station::Snow => (rooms && study.job.outdoors.is_some(), errors + warnings > 0),
            Station::Rooms | Station::HeatLoss | Station::Floor => (rooms, errors + warnings > 0),
            Station::Loops | Station::Water => (loops, errors + warnings > 0),
            // nothing of it is decided: it only shows
            Station::Time => (loops && study.job.outdoors.is_none(), errors + warnings > 0),
            Station::Cooling => (study.job.cooling.is_some(), errors + warnings > 0),
            Station::Plant => (study.job.plant.is_some(), errors + warnings > 0),
            Station::Materials => (loops && !study.job.purchasing.prices.rows.is_empty(), errors + warnings > 0),
            // how far it is stands in the records of the site, not in the job
            Station::Laying | Station::StartUp | Station::Service => (false, errors + warnings > 0),
            Station::Papers => (loops, loops && findings.iter().any(|f| f.severity == Severity::Error)),
        };
        let progress = match (open, begun) {
            (true, _) => Progress::NeedsAttention,
            (false, true) => Progress::Ok,
            (false, false) => Progress::NotStarted,
        };
        StationMark { station, progress, errors, warnings }
    };
    Station::ALL.map(mark).to_vec()
}

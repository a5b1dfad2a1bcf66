//! The chapters of the trade, in the order of the work.
//!
//! A chapter is a folder. It owns its part of the job (`part.rs`: types, defaults, ranges; `check.rs`), what it calculates, its
//! part of the report (`report.rs`) and its rules (`findings.rs`), with their tests. A new chapter is a folder and a line in
//! `CHAPTERS`; what it solves is a step of [`Study::solve`]. A new rule is a function in its chapter's list.
//!
//! ```
//! use fuoco_core::job::{CheckedJob, Job};
//! let mut job = Job::new("Annex");
//! job.rules.spacings_m.clear();
//! // what a chapter does not take comes back with the field's name
//! assert_eq!(CheckedJob::new(job).unwrap_err().field, "rules.spacings_m");
//! // and every range stands where the form and the schema find it
//! assert!(fuoco_core::chapters::ranges().iter().any(|t| t.name == "Room"));
//! ```

pub mod cooling;
pub mod floor;
pub mod heat_loss;
pub mod loops;
pub mod materials;
pub mod outdoors;
pub mod plant;
pub mod survey;
pub mod water;

use crate::error::FieldError;
use crate::findings::{Finding, Findings, Rule};
use crate::job::{self, CheckedJob, Job};
use crate::ranges::TypeRanges;
use crate::study::Study;

/// What a chapter gives to the whole.
pub(crate) struct Chapter {
    /// Whether its part of a job is sound.
    pub check: fn(&Job) -> Result<(), FieldError>,
    /// The ranges of that part's figures.
    pub ranges: &'static [&'static [TypeRanges]],
    /// Its rules, in the order of the work.
    pub rules: &'static [Rule],
}

const CHAPTERS: [Chapter; 9] = [
    survey::CHAPTER,
    heat_loss::CHAPTER,
    outdoors::CHAPTER,
    floor::CHAPTER,
    loops::CHAPTER,
    water::CHAPTER,
    plant::CHAPTER,
    cooling::CHAPTER,
    materials::CHAPTER,
];

impl Job {
    /// Checks every figure against its range, the limits on size, and that ids are unique and name something.
    ///
    /// What a range cannot tell (rooms that overlap, a window wider than its wall) is a finding of the design, not an error:
    /// such a job can be saved and mended.
    ///
    /// # Errors
    /// The first field that fails.
    pub fn check(&self) -> Result<(), FieldError> {
        self.check_document()?;
        CHAPTERS.iter().try_for_each(|chapter| (chapter.check)(self))
    }
}

impl CheckedJob {
    /// Checks a job.
    ///
    /// # Errors
    /// As [`Job::check`].
    pub fn new(job: Job) -> Result<CheckedJob, FieldError> {
        job.check()?;
        Ok(CheckedJob::passed(job))
    }

    /// Reads a job of this version or an older one from JSON and checks it.
    ///
    /// # Errors
    /// Names the field that is missing, misspelt, of the wrong type or out of range, or the version that this program does
    /// not know.
    pub fn from_json(text: &str) -> Result<CheckedJob, FieldError> {
        CheckedJob::new(Job::read(text)?)
    }
}

impl TryFrom<Job> for CheckedJob {
    type Error = FieldError;

    fn try_from(job: Job) -> Result<CheckedJob, FieldError> {
        CheckedJob::new(job)
    }
}

/// The ranges of every figure of a job.
pub fn ranges() -> Vec<TypeRanges> {
    let of_chapters = CHAPTERS.iter().flat_map(|c| c.ranges.iter().copied().flatten());
    job::document_ranges().chain(of_chapters).copied().collect()
}

/// The documents of the types that have defaults, each by its name in the JSON Schema.
pub fn defaults() -> Vec<(&'static str, serde_json::Value)> {
    fn document<T: Default + serde::Serialize>() -> serde_json::Value {
        serde_json::to_value(T::default()).unwrap_or_default()
    }
    vec![
        ("HouseRules", document::<job::HouseRules>()),
        ("Envelope", document::<job::Envelope>()),
        ("Ground", document::<job::Ground>()),
        ("CrawlSpace", document::<job::CrawlSpace>()),
        ("Air", document::<job::Air>()),
        ("Fluid", document::<job::Fluid>()),
        ("Outdoors", document::<job::Outdoors>()),
        ("Cooling", document::<job::Cooling>()),
    ]
}

/// What all rules have to say about a study, gravest first.
pub fn findings(study: &Study) -> Vec<Finding> {
    let mut out = Findings::new(&study.job);
    for rule in CHAPTERS.iter().flat_map(|c| c.rules) {
        rule(study, &mut out);
    }
    out.sorted()
}

#[cfg(test)]
mod tests {
    use crate::job::*;
    use crate::samples::{box_room, cabinet, job_of, manifold, window};

    fn refused(change: impl FnOnce(&mut Job)) -> String {
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        room.openings.push(window("w", 0, 1.0, 1.0, 1.0));
        room.keep_outs.push(cabinet("k", 1.0, 1.0, 2.0, 2.0));
        let mut job = job_of(vec![room]);
        job.manifolds.push(manifold("m", "A", "a", 0, 1.0));
        job.check().expect("sound before the change");
        change(&mut job);
        job.check().expect_err("no longer sound").field
    }

    #[test]
    fn each_field_is_refused_by_its_own_path() {
        assert_eq!(refused(|j| j.name = "  ".into()), "name");
        assert_eq!(refused(|j| j.site.place = "x".repeat(3000)), "site.place");
        assert_eq!(refused(|j| j.rules.spacings_m.clear()), "rules.spacings_m");
        assert_eq!(refused(|j| j.rules.spacings_m = vec![0.2, 9.0]), "rules.spacings_m[1]");
        assert_eq!(
            refused(|j| j.rules.longest_loop_m = [("pex-16x2".into(), 1.0)].into()),
            "rules.longest_loop_m.pex-16x2"
        );
        assert_eq!(refused(|j| j.fluid.mass_fraction = 0.3), "fluid.mass_fraction");
        assert_eq!(refused(|j| j.levels.clear()), "levels");
        assert_eq!(refused(|j| j.rooms[0].level_id = "attic".into()), "rooms[0].level_id");
        assert_eq!(refused(|j| j.rooms[0].outline.truncate(2)), "rooms[0].outline");
        assert_eq!(refused(|j| j.rooms[0].openings[0].id = "k".into()), "rooms[0].keep_outs[0].id");
        assert_eq!(
            refused(|j| j.rooms[0].above = Beyond::Unheated { temperature_c: 99.0 }),
            "rooms[0].above.temperature_c"
        );
        assert_eq!(refused(|j| j.rooms[0].keep_outs[0].clearance_m = -0.1), "rooms[0].keep_outs[0].clearance_m");
        assert_eq!(
            refused(|j| j.rooms[0].walls = vec![Wall { edge: 4, beyond: None, u: None, construction_id: None }]),
            "rooms[0].walls[0].edge"
        );
        let twice = Wall { edge: 1, beyond: None, u: Some(0.3), construction_id: None };
        assert_eq!(refused(|j| j.rooms[0].walls = vec![twice.clone(), twice]), "rooms[0].walls[1].edge");
        assert_eq!(refused(|j| j.manifolds[0].ports = 0), "manifolds[0].ports");
        assert_eq!(refused(|j| j.manifolds[0].letter = "ABCD".into()), "manifolds[0].letter");
        assert_eq!(refused(|j| j.manifolds[0].edge = 7), "manifolds[0].edge");
        let finer = |j: &mut Job| {
            if let Some(f) = &mut j.rooms[0].floor {
                f.spacing_edge_m = 0.3;
            }
        };
        assert_eq!(refused(finer), "rooms[0].floor.spacing_edge_m");
    }

    #[test]
    fn other_documents_are_told_apart() {
        let field = |text: &str| CheckedJob::from_json(text).expect_err("no job").field;
        assert_eq!(field(r#"{"format":"something-else","version":1}"#), "format");
        assert_eq!(field(r#"{"format":"fuoco-job"}"#), "version");
        assert_eq!(field(r#"{"format":"fuoco-job","version":0}"#), "version");
        let newer = CheckedJob::from_json(r#"{"format":"fuoco-job","version":7,"unheard":"of"}"#).expect_err("newer");
        assert!(newer.reason.contains("newer Fuoco"), "{newer}");
        let mut text = serde_json::to_string(&Job::new("x")).expect("writes");
        text.push_str(" {}");
        assert_eq!(field(&text), "document", "nothing may follow");
    }
}

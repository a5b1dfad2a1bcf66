//! A job as a document: what the surveyor measured and what the designer chose. SI units, names in
//! `snake_case` with their unit. The same shape is the job file, the body of the API and the row in the store.

mod check;
mod envelope;
mod floor;
mod laying;
mod migrate;
mod room;
mod rules;
mod site;

pub use crate::geometry::Point;
pub use envelope::*;
pub use floor::*;
pub use laying::*;
pub use room::*;
pub use rules::*;
pub use site::*;

use crate::error::FieldError;
use crate::units::Units;
use check::{count, file_id, optional, text, unique, wall_index};
pub(crate) use check::{range, read};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Marks a JSON document as a Fuoco job.
pub const FORMAT: &str = "fuoco-job";
/// The version of the format that this program writes.
pub const VERSION: u32 = 5;
/// A job larger than this is refused: the design must stay interactive.
pub const MAX_ROOMS: usize = 200;
/// A curved wall is drawn by short segments.
pub const MAX_CORNERS: usize = 128;
const MAX_ITEMS: usize = 100;
const MAX_MARKS: usize = 500;

/// One heating job.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Job {
    /// Always `fuoco-job`.
    pub format: String,
    /// Version of the format, now 4.
    pub version: u32,
    /// The job's name as the list shows it.
    pub name: String,
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
    /// Infiltration and ventilation.
    #[serde(default)]
    pub air: Air,
    /// What flows in the tubes.
    #[serde(default)]
    pub fluid: Fluid,
    /// The storeys.
    pub levels: Vec<Level>,
    /// The rooms.
    pub rooms: Vec<Room>,
    /// The manifolds.
    pub manifolds: Vec<Manifold>,
    /// Loops that are locked or shaped by hand; all others are laid by the program.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub loops: Vec<KeptLoop>,
    /// Notes and lines on the plan that are not rooms: saw cuts, drains, what the survey saw.
    #[serde(default)]
    pub marks: Vec<Mark>,
    /// The label of the heat source found on site, to compare with.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub old_source: Option<OldSource>,
}

/// What flows in the tubes.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Fluid {
    /// Water or a glycol solution.
    pub kind: FluidKind,
    /// Mass fraction of glycol, 0…0.6; 0 for water.
    #[serde(default)]
    pub mass_fraction: f64,
}

/// The fluids of the property table.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum FluidKind {
    #[default]
    Water,
    PropyleneGlycol,
    EthyleneGlycol,
}

/// A storey.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Level {
    /// Stable id.
    pub id: String,
    /// Its name.
    pub name: String,
    /// Height of the finished floor over the ground outside, m, -20…200; below zero for a basement.
    #[serde(default)]
    pub floor_m: f64,
    /// A picture of the plan under the sheet.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub underlay: Option<Underlay>,
}

/// A picture of a plan under the sheet of a level.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Underlay {
    /// The stored picture.
    pub file_id: String,
    /// Name of the file it came from.
    #[serde(default)]
    pub name: String,
    /// Width of the picture, pixels, 1…20000.
    pub width_px: u32,
    /// Height of the picture, pixels, 1…20000.
    pub height_px: u32,
    /// Where the picture's lower left corner lies, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub at: Point,
    /// Scale, m per pixel, 0.00001…10.
    pub m_per_px: f64,
    /// Turned anticlockwise about its lower left corner, degrees, -360…360.
    #[serde(default)]
    pub turn_deg: f64,
    /// How strongly it shows, 0…1.
    pub strength: f64,
}

/// Something on the plan that the crew must know of.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Mark {
    /// Stable id, unique in the job.
    pub id: String,
    /// The level it lies on.
    pub level_id: String,
    /// What it is.
    pub kind: MarkKind,
    /// One point for a note, two for a line, m.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub points: Vec<Point>,
    /// What is to be known.
    #[serde(default)]
    pub text: String,
    /// A stored photo of it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub photo_id: Option<String>,
}

/// Kinds of marks.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum MarkKind {
    /// Anything worth a word and a photo.
    Note,
    /// A line along which the slab will be cut: tube lies low under it, in a sleeve.
    SawCut,
}

/// What the label of the old heat source says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct OldSource {
    /// What it is.
    #[serde(default)]
    pub name: String,
    /// Input by its label, W, 0…10000000.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub input_w: Option<f64>,
    /// Output by its label, W, 0…10000000.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub output_w: Option<f64>,
}

/// A manifold on a wall.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Manifold {
    /// Stable id.
    pub id: String,
    /// The letter of its loops' tags, 1 to 3 characters.
    pub letter: String,
    /// The room it hangs in.
    pub room_id: String,
    /// The wall it hangs on.
    pub edge: usize,
    /// From the wall's first corner to the manifold's middle, m, 0…200.
    pub offset_m: f64,
    /// Port pairs, 1…24.
    pub ports: u32,
}

impl Job {
    /// An empty job by today's ordinary practice.
    pub fn new(name: &str) -> Job {
        Job {
            format: FORMAT.into(),
            version: VERSION,
            name: name.into(),
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
            air: Air::default(),
            fluid: Fluid::default(),
            levels: vec![Level { id: "ground".into(), name: "Ground floor".into(), floor_m: 0.0, underlay: None }],
            rooms: Vec::new(),
            manifolds: Vec::new(),
            loops: Vec::new(),
            marks: Vec::new(),
            old_source: None,
        }
    }

    /// Reads a job from JSON and checks it.
    ///
    /// # Errors
    /// Names the field that is missing, misspelt, of the wrong type or out of range, or the version that this
    /// program does not know.
    pub fn from_json(text: &str) -> Result<Job, FieldError> {
        #[derive(Deserialize)]
        struct Head {
            format: Option<String>,
            version: Option<u64>,
        }
        let head: Head = read(text)?;
        if head.format.as_deref() != Some(FORMAT) {
            return Err(FieldError::new("format", format!("must be \"{FORMAT}\": this is not a Fuoco job file")));
        }
        let job: Job = match head.version {
            Some(v) if v == u64::from(VERSION) => read(text)?,
            Some(v) if (1..u64::from(VERSION)).contains(&v) => migrate::to_newest(read(text)?)?,
            Some(v) if v > u64::from(VERSION) => {
                return Err(FieldError::new(
                    "version",
                    format!("{v} was written by a newer Fuoco; this one reads up to {VERSION}"),
                ));
            }
            _ => return Err(FieldError::new("version", format!("must be a whole number from 1 to {VERSION}"))),
        };
        job.check()?;
        Ok(job)
    }

    /// Checks every figure against the range in its description, the limits on size, and that ids are unique
    /// and refer to something.
    ///
    /// What a range cannot tell (rooms that overlap, a window wider than its wall) is a finding of the design,
    /// not an error: such a job can be saved and mended.
    ///
    /// # Errors
    /// The first field that fails.
    pub fn check(&self) -> Result<(), FieldError> {
        if self.format != FORMAT {
            return Err(FieldError::new("format", format!("must be \"{FORMAT}\"")));
        }
        if self.version != VERSION {
            return Err(FieldError::new("version", format!("must be {VERSION}")));
        }
        text("name", &self.name, 1)?;
        self.site.check()?;
        self.rules.check()?;
        self.check_constructions()?;
        self.check_build_ups()?;
        self.air.check()?;
        if let Some(old) = &self.old_source {
            text("old_source.name", &old.name, 0)?;
            optional("old_source.input_w", old.input_w, 0.0, 1e7)?;
            optional("old_source.output_w", old.output_w, 0.0, 1e7)?;
        }
        range("fluid.mass_fraction", self.fluid.mass_fraction, 0.0, 0.6)?;
        if self.fluid.kind == FluidKind::Water && self.fluid.mass_fraction != 0.0 {
            return Err(FieldError::new("fluid.mass_fraction", "must be 0 for water"));
        }
        count("levels", self.levels.len(), 1, 20)?;
        count("rooms", self.rooms.len(), 0, MAX_ROOMS)?;
        count("manifolds", self.manifolds.len(), 0, 20)?;

        let mut levels = BTreeSet::new();
        for (i, level) in self.levels.iter().enumerate() {
            text(&format!("levels[{i}].name"), &level.name, 0)?;
            unique(&mut levels, &format!("levels[{i}].id"), &level.id)?;
            range(&format!("levels[{i}].floor_m"), level.floor_m, -20.0, 200.0)?;
            if let Some(u) = &level.underlay {
                u.check(&format!("levels[{i}].underlay"))?;
            }
        }
        let mut ids = BTreeSet::new();
        for (i, room) in self.rooms.iter().enumerate() {
            unique(&mut ids, &format!("rooms[{i}].id"), &room.id)?;
            if !levels.contains(room.level_id.as_str()) {
                return Err(FieldError::new(format!("rooms[{i}].level_id"), "names no level of this job"));
            }
            room.check(&format!("rooms[{i}]"), &mut ids)?;
            room.check_constructions(self, &format!("rooms[{i}]"))?;
            room.check_heating(self, &format!("rooms[{i}]"))?;
        }
        for (i, manifold) in self.manifolds.iter().enumerate() {
            let path = format!("manifolds[{i}]");
            unique(&mut ids, &format!("{path}.id"), &manifold.id)?;
            let letters = manifold.letter.chars().count();
            if !(1..=3).contains(&letters) {
                return Err(FieldError::new(format!("{path}.letter"), "must have 1 to 3 characters"));
            }
            let Some(room) = self.room(&manifold.room_id) else {
                return Err(FieldError::new(format!("{path}.room_id"), "names no room of this job"));
            };
            wall_index(&format!("{path}.edge"), manifold.edge, room)?;
            range(&format!("{path}.offset_m"), manifold.offset_m, 0.0, 200.0)?;
            if !(1..=24).contains(&manifold.ports) {
                return Err(FieldError::new(format!("{path}.ports"), "must be 1 to 24"));
            }
        }
        self.check_loops(&mut ids)?;
        count("marks", self.marks.len(), 0, MAX_MARKS)?;
        for (i, mark) in self.marks.iter().enumerate() {
            let path = format!("marks[{i}]");
            unique(&mut ids, &format!("{path}.id"), &mark.id)?;
            if !levels.contains(mark.level_id.as_str()) {
                return Err(FieldError::new(format!("{path}.level_id"), "names no level of this job"));
            }
            let points = if mark.kind == MarkKind::Note { 1 } else { 2 };
            count(&format!("{path}.points"), mark.points.len(), points, points)?;
            for (k, v) in mark.points.iter().enumerate().flat_map(|(k, p)| p.iter().map(move |v| (k, *v))) {
                range(&format!("{path}.points[{k}]"), v, -1000.0, 1000.0)?;
            }
            text(&format!("{path}.text"), &mark.text, 0)?;
            file_id(&format!("{path}.photo_id"), mark.photo_id.as_deref())?;
        }
        Ok(())
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

impl Underlay {
    fn check(&self, path: &str) -> Result<(), FieldError> {
        file_id(&format!("{path}.file_id"), Some(&self.file_id))?;
        text(&format!("{path}.name"), &self.name, 0)?;
        range(&format!("{path}.width_px"), f64::from(self.width_px), 1.0, 20_000.0)?;
        range(&format!("{path}.height_px"), f64::from(self.height_px), 1.0, 20_000.0)?;
        range(&format!("{path}.at"), self.at[0], -10_000.0, 10_000.0)?;
        range(&format!("{path}.at"), self.at[1], -10_000.0, 10_000.0)?;
        range(&format!("{path}.m_per_px"), self.m_per_px, 1e-5, 10.0)?;
        range(&format!("{path}.turn_deg"), self.turn_deg, -360.0, 360.0)?;
        range(&format!("{path}.strength"), self.strength, 0.0, 1.0)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
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
        let field = |text: &str| Job::from_json(text).expect_err("no job").field;
        assert_eq!(field(r#"{"format":"something-else","version":1}"#), "format");
        assert_eq!(field(r#"{"format":"fuoco-job"}"#), "version");
        assert_eq!(field(r#"{"format":"fuoco-job","version":0}"#), "version");
        let newer = Job::from_json(r#"{"format":"fuoco-job","version":7,"unheard":"of"}"#).expect_err("newer");
        assert!(newer.reason.contains("newer Fuoco"), "{newer}");
        let mut text = serde_json::to_string(&Job::new("x")).expect("writes");
        text.push_str(" {}");
        assert_eq!(field(&text), "document", "nothing may follow");
    }
}

//! Records of a site: facts that somebody wrote down where they stood. A record is never changed; a later one corrects it. They
//! belong to a job but not to its document: undo does not touch them, and one about a loop that has been re-routed since stays.
//!
//! ```
//! use fuoco_core::records::Record;
//! let text = r#"{"id": "5e1f0c2a7b3d", "at": "2026-11-30T07:12:00Z",
//!     "fact": {"kind": "laid", "loop_id": "A1", "step": "on_floor", "coil": "K1", "start_m": 0.0, "end_m": 84.2}}"#;
//! assert!(Record::from_json(text).is_ok());
//! let error = Record::from_json(&text.replace("84.2", "-3.0")).unwrap_err();
//! assert_eq!(error.field, "fact.end_m");
//! ```

use crate::check;
use crate::error::FieldError;
use crate::geometry::Point;
use crate::pressure_test::{PressureTest, Reading};
use crate::readings::{ReadingOf, Readings};
use chrono::{DateTime, TimeDelta, Utc};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Photos of one record.
pub const MOST_PHOTOS: usize = 12;
/// The longest coil whose marks are taken down, m.
const LONGEST_COIL_M: f64 = 2000.0;
/// Figures of a plan lie within, m.
const FARTHEST_M: f64 = 10_000.0;

/// One fact.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Record {
    /// Made where the record was: 8 to 64 letters, digits and dashes. The same id comes twice only when an answer was lost.
    pub id: String,
    /// When, by the clock of the device, UTC, ISO 8601.
    pub at: String,
    /// What.
    pub fact: Fact,
    /// Where on the plan.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<Spot>,
    /// Photos: ids of stored files, 12 at most.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub photos: Vec<String>,
    /// What there is to say, up to 2000 characters.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
    /// The record that it takes the place of.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub corrects: Option<String>,
}

/// A place on the plan, and where one looks from there.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Spot {
    /// The level.
    pub level_id: String,
    /// Where, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub at: Point,
    /// Which way, degrees counterclockwise from the plan's x-axis, 0…360.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub facing_deg: Option<f64>,
}

/// A record as it is kept.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Entry {
    /// Its number: records that came later have higher ones.
    pub number: i64,
    /// When it came, UTC, ISO 8601.
    pub received_at: String,
    /// Who wrote it; empty where nobody signs in.
    pub who: String,
    /// The record.
    pub record: Record,
}

/// A clock this far ahead of the server's is wrong.
const AHEAD: TimeDelta = TimeDelta::minutes(10);
/// What was written longer ago than this did not wait in a phone: its clock is wrong.
const BEHIND: TimeDelta = TimeDelta::days(60);

impl Entry {
    /// When it was written: by its own clock, unless that cannot be; then when it came.
    ///
    /// ```
    /// use fuoco_core::records::{Entry, Record};
    /// let record = |at: &str| Record::from_json(&format!(
    ///     r#"{{"id": "5e1f0c2a7b3d", "at": "{at}", "fact": {{"kind": "note"}}, "note": "wet"}}"#)).unwrap();
    /// let came = "2026-11-30T18:00:00Z";
    /// let entry = |at: &str| Entry { number: 1, received_at: came.into(), who: String::new(), record: record(at) };
    /// assert!(!entry("2026-11-30T07:12:00Z").clock_wrong(), "it waited all day in a cellar");
    /// assert!(entry("1970-01-01T00:00:00Z").clock_wrong() && entry("2026-12-24T07:12:00Z").clock_wrong());
    /// assert_eq!(entry("1970-01-01T00:00:00Z").written().to_rfc3339(), "2026-11-30T18:00:00+00:00");
    /// ```
    pub fn written(&self) -> DateTime<Utc> {
        let came = self.came();
        match self.record.time() {
            Ok(at) if (came - BEHIND..=came + AHEAD).contains(&at) => at,
            _ => came,
        }
    }

    /// The device's clock was wrong.
    pub fn clock_wrong(&self) -> bool {
        self.record.time() != Ok(self.written())
    }

    fn came(&self) -> DateTime<Utc> {
        DateTime::parse_from_rfc3339(&self.received_at).map(|t| t.to_utc()).unwrap_or_default()
    }
}

/// Reads records as the server lists them.
///
/// # Errors
/// Names the field that does not read or is out of its range.
pub fn read_entries(text: &str) -> Result<Vec<Entry>, FieldError> {
    let entries: Vec<Entry> = check::read(text)?;
    for (k, e) in entries.iter().enumerate() {
        e.record.check().map_err(|e| FieldError::new(format!("[{k}].record.{}", e.field), e.reason))?;
        check::text(&format!("[{k}].who"), &e.who, 0)?;
        if DateTime::parse_from_rfc3339(&e.received_at).is_err() {
            return Err(FieldError::new(format!("[{k}].received_at"), "must be a time by ISO 8601"));
        }
    }
    Ok(entries)
}

/// The records that stand, in the order in which they were written: those that a later one corrects are left out.
pub fn standing(entries: &[Entry]) -> Vec<&Entry> {
    let corrected: BTreeSet<&str> = entries.iter().filter_map(|e| e.record.corrects.as_deref()).collect();
    let mut out: Vec<&Entry> = entries.iter().filter(|e| !corrected.contains(e.record.id.as_str())).collect();
    out.sort_by_key(|e| (e.written(), e.number));
    out
}

/// What a record says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Fact {
    /// Words and photos only.
    Note,
    /// How far a loop is.
    Laid(Laid),
    /// Something that happened to the tube.
    Harm(Harm),
    /// A loop lies otherwise than it was drawn; the note or a photo says how.
    Differs {
        /// The loop.
        loop_id: String,
        /// The run as it lies, m; empty where only words and photos tell it.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
        run: Vec<Point>,
    },
    /// A line of a checklist.
    Ticked {
        /// The line's id.
        item: String,
        /// True: so it is. False: not, or no more.
        done: bool,
    },
    /// A pressure test begins; its readings name this record.
    TestBegun(TestBegun),
    /// A reading of a pressure test.
    TestRead(TestRead),
    /// Somebody puts their name to a pressure test.
    TestSigned(TestSigned),
    /// What the fluid in the heating is, as it was measured.
    Filled(Filled),
    /// What the flow meter of a loop shows.
    MeterRead(MeterRead),
    /// The heat-up of a floor, as it was read.
    HeatUpRead(HeatUpRead),
    /// A visit because something does not work.
    Visited(Visited),
    /// Nothing any more: what the corrected record said was a mistake.
    Withdrawn,
}

/// A pressure test as it begins.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TestBegun {
    /// What is tested: "Manifold A", 1 to 200 characters.
    pub name: String,
    /// What is tested, how, and what is asked for; its readings are records of their own.
    pub test: PressureTest,
}

/// A reading of a pressure test.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TestRead {
    /// The record that began the test.
    pub test: String,
    /// Gauge pressure, kPa.
    pub gauge_kpa: f64,
    /// Air beside the tubes, °C.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub air_c: Option<f64>,
    /// Slab or tube, °C.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub slab_c: Option<f64>,
    /// The barometer, kPa.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub barometer_kpa: Option<f64>,
    /// What went on.
    #[serde(default)]
    pub during: During,
    /// Read by an instrument, not by eye: its name.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub instrument: String,
}

/// What went on while a gauge was read.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum During {
    /// Before anything is poured.
    #[default]
    Before,
    /// While the floor is poured.
    Pour,
    /// Afterwards.
    After,
}

/// A name under a pressure test.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TestSigned {
    /// The record that began the test.
    pub test: String,
    /// Who signs, 1 to 200 characters.
    pub name: String,
    /// As what.
    pub part: SignedAs,
    /// The strokes of the hand, each a list of points within a sheet three wide and one high.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<Vec<[f64; 2]>>))]
    pub strokes: Vec<Vec<Point>>,
}

/// As what somebody signs.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum SignedAs {
    Installer,
    Inspector,
    Builder,
}

/// What the fluid in the heating is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Filled {
    /// Freezing point by refractometer, °C.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub freezing_c: Option<f64>,
    /// Temperature of the fluid, °C.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub water_c: Option<f64>,
    /// Gauge pressure, kPa.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pressure_kpa: Option<f64>,
}

/// What the flow meter of a loop shows.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct MeterRead {
    /// The loop.
    pub loop_id: String,
    /// After how many passes over the manifold, 0 to 9; 0: as found.
    pub pass: u8,
    /// L/min
    pub flow_l_min: f64,
}

/// The heat-up of a floor, as it was read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct HeatUpRead {
    /// The build-up whose programme it is.
    pub build_up_id: String,
    /// Supply temperature, °C.
    pub supply_c: f64,
    /// Moisture of the screed by the carbide method, % by mass.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub moisture_percent: Option<f64>,
}

/// A visit because something does not work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Visited {
    /// What people complain of.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub complaint: String,
    /// What was read.
    pub readings: Vec<ReadingOf>,
    /// What it was found to be; empty where nobody knows yet.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub cause: String,
    /// What was done.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub done: String,
}

/// How far a loop is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Laid {
    /// The loop.
    pub loop_id: String,
    /// How far.
    pub step: LayStep,
    /// The coil that it came out of.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub coil: String,
    /// The mark on the tube at its supply port, m.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub start_m: Option<f64>,
    /// The mark at its return port, m.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub end_m: Option<f64>,
    /// Its length in the design that was laid from, m: tells later whether the loop has been re-routed since.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub design_m: Option<f64>,
    /// Why it took more or less tube than drawn.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub reason: String,
}

/// How far a loop is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LayStep {
    /// Taken up again, or never begun.
    NotStarted,
    /// It lies.
    OnFloor,
    /// It is held everywhere.
    Fixed,
    /// Somebody else has looked at it.
    Seen,
}

/// Something that happened to the tube.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Harm {
    /// The loop.
    pub loop_id: String,
    /// The mark on the tube at which it is, m.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mark_m: Option<f64>,
    /// What.
    pub harm: HarmKind,
    /// How it was mended.
    pub mend: Mend,
}

/// What happened to a tube.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum HarmKind {
    Kink,
    Nick,
    Cut,
    Crushed,
    Burnt,
}

/// How a tube was mended.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Mend {
    /// Not yet.
    No,
    /// Bent back, with heat where the tube allows it.
    Straightened,
    /// A coupling, which stays on every later drawing.
    Coupling,
    /// A sleeve over it.
    Sleeve,
    /// The loop was laid anew.
    Replaced,
}

impl HarmKind {
    /// Its word, for the beginning of a line.
    pub fn word(self) -> &'static str {
        match self {
            HarmKind::Kink => "A kink",
            HarmKind::Nick => "A nick",
            HarmKind::Cut => "A cut",
            HarmKind::Crushed => "A crushed spot",
            HarmKind::Burnt => "A burnt spot",
        }
    }
}

impl Fact {
    /// The loop that it is about.
    pub fn loop_id(&self) -> Option<&str> {
        match self {
            Fact::Laid(Laid { loop_id, .. })
            | Fact::Harm(Harm { loop_id, .. })
            | Fact::MeterRead(MeterRead { loop_id, .. })
            | Fact::Differs { loop_id, .. } => Some(loop_id),
            _ => None,
        }
    }
}

impl Record {
    /// Reads and checks a record.
    ///
    /// # Errors
    /// Names the field that is missing, unknown or out of its range.
    pub fn from_json(text: &str) -> Result<Record, FieldError> {
        let record: Record = check::read(text)?;
        record.check()?;
        Ok(record)
    }

    /// That every part of it can be what it says. Whether the job has such a loop is not asked: a record stays true when the
    /// design moves on.
    ///
    /// # Errors
    /// Names the field.
    pub fn check(&self) -> Result<(), FieldError> {
        named("id", &self.id, 8)?;
        self.time()?;
        if let Some(id) = &self.corrects {
            named("corrects", id, 8)?;
        }
        check::text("note", &self.note, 0)?;
        if self.photos.len() > MOST_PHOTOS {
            return Err(FieldError::new("photos", format!("must be {MOST_PHOTOS} at most")));
        }
        for (k, id) in self.photos.iter().enumerate() {
            check::file_id(&format!("photos[{k}]"), Some(id))?;
        }
        if let Some(place) = &self.place {
            named("place.level_id", &place.level_id, 1)?;
            for v in place.at {
                check::range("place.at", v, -FARTHEST_M, FARTHEST_M)?;
            }
            if let Some(deg) = place.facing_deg {
                check::range("place.facing_deg", deg, 0.0, 360.0)?;
            }
        }
        let loop_id = |id: &str| named("fact.loop_id", id, 1);
        match &self.fact {
            Fact::Note if self.note.trim().is_empty() && self.photos.is_empty() => {
                Err(FieldError::new("note", "must not be empty where no photo tells it"))
            }
            Fact::Withdrawn if self.corrects.is_none() => {
                Err(FieldError::new("corrects", "must name the record that is taken back"))
            }
            Fact::Note | Fact::Withdrawn => Ok(()),
            Fact::Laid(l) => {
                loop_id(&l.loop_id)?;
                check::text("fact.reason", &l.reason, 0)?;
                check::text("fact.coil", &l.coil, 0)?;
                for (field, value) in [("start_m", l.start_m), ("end_m", l.end_m), ("design_m", l.design_m)] {
                    if let Some(v) = value {
                        check::range(&format!("fact.{field}"), v, 0.0, LONGEST_COIL_M)?;
                    }
                }
                Ok(())
            }
            Fact::Harm(h) => {
                loop_id(&h.loop_id)?;
                h.mark_m.map_or(Ok(()), |v| check::range("fact.mark_m", v, 0.0, LONGEST_COIL_M))
            }
            Fact::Differs { loop_id: id, run } => {
                loop_id(id)?;
                if run.is_empty() && self.note.trim().is_empty() && self.photos.is_empty() {
                    return Err(FieldError::new("note", "must not be empty where neither a run nor a photo tells it"));
                }
                if run.len() > 2000 {
                    return Err(FieldError::new("fact.run", "must not have more than 2000 corners"));
                }
                run.iter().flatten().try_for_each(|v| check::range("fact.run", *v, -FARTHEST_M, FARTHEST_M))
            }
            Fact::Ticked { item, .. } => named("fact.item", item, 1),
            Fact::TestBegun(t) => t.check(),
            Fact::TestRead(r) => r.check(),
            Fact::TestSigned(s) => s.check(),
            Fact::Filled(f) => f.check(),
            Fact::MeterRead(m) => {
                loop_id(&m.loop_id)?;
                check::range("fact.pass", f64::from(m.pass), 0.0, 9.0)?;
                check::range("fact.flow_l_min", m.flow_l_min, 0.0, 1000.0)
            }
            Fact::HeatUpRead(h) => {
                named("fact.build_up_id", &h.build_up_id, 1)?;
                check::range("fact.supply_c", h.supply_c, -20.0, 120.0)?;
                h.moisture_percent.map_or(Ok(()), |v| check::range("fact.moisture_percent", v, 0.0, 100.0))
            }
            Fact::Visited(v) => v.check(),
        }
    }

    /// When, by the clock of the device.
    ///
    /// # Errors
    /// When it is no time.
    pub fn time(&self) -> Result<DateTime<Utc>, FieldError> {
        let no = || FieldError::new("at", "must be a time as 2026-11-30T07:12:00Z");
        let time = DateTime::parse_from_rfc3339(&self.at).map_err(|_| no())?;
        // a clock that lost its battery says 1970; one before this trade's tubes is none
        if !(1970..2200).contains(&chrono::Datelike::year(&time)) {
            return Err(no());
        }
        Ok(time.to_utc())
    }
}

impl TestBegun {
    fn check(&self) -> Result<(), FieldError> {
        check::text("fact.name", &self.name, 1)?;
        if !self.test.readings.is_empty() {
            return Err(FieldError::new("fact.test.readings", "must be empty: each reading is a record of its own"));
        }
        self.test.check().map_err(|e| FieldError::new(format!("fact.test.{}", e.field), e.reason))
    }
}

impl TestRead {
    fn check(&self) -> Result<(), FieldError> {
        named("fact.test", &self.test, 8)?;
        check::text("fact.instrument", &self.instrument, 0)?;
        check::range("fact.gauge_kpa", self.gauge_kpa, 0.0, 10_000.0)?;
        for (field, value, low, high) in [
            ("air_c", self.air_c, -40.0, 60.0),
            ("slab_c", self.slab_c, -40.0, 90.0),
            ("barometer_kpa", self.barometer_kpa, 50.0, 110.0),
        ] {
            if let Some(v) = value {
                check::range(&format!("fact.{field}"), v, low, high)?;
            }
        }
        Ok(())
    }

    /// The reading, at that time.
    pub fn reading(&self, time: String) -> Reading {
        Reading {
            time,
            gauge_kpa: self.gauge_kpa,
            air_c: self.air_c,
            slab_c: self.slab_c,
            barometer_kpa: self.barometer_kpa,
        }
    }
}

impl Filled {
    fn check(&self) -> Result<(), FieldError> {
        let figures = [
            ("freezing_c", self.freezing_c, -60.0, 5.0),
            ("water_c", self.water_c, -20.0, 100.0),
            ("pressure_kpa", self.pressure_kpa, 0.0, 1600.0),
        ];
        if figures.iter().all(|(_, value, _, _)| value.is_none()) {
            return Err(FieldError::new("fact", "must have a figure: freezing_c, water_c or pressure_kpa"));
        }
        let given = figures.iter().filter_map(|(field, value, low, high)| Some((field, (*value)?, *low, *high)));
        given.into_iter().try_for_each(|(field, v, low, high)| check::range(&format!("fact.{field}"), v, low, high))
    }
}

impl Visited {
    fn check(&self) -> Result<(), FieldError> {
        let texts = [("complaint", &self.complaint), ("cause", &self.cause), ("done", &self.done)];
        texts.iter().try_for_each(|(field, text)| check::text(&format!("fact.{field}"), text, 0))?;
        if self.readings.is_empty() && texts.iter().all(|(_, text)| text.trim().is_empty()) {
            return Err(FieldError::new("fact.complaint", "must not be empty where nothing was read or done"));
        }
        let within = |e: FieldError| FieldError::new(format!("fact.{}", e.field), e.reason);
        Readings(self.readings.clone()).check().map_err(within)
    }
}

impl TestSigned {
    fn check(&self) -> Result<(), FieldError> {
        named("fact.test", &self.test, 8)?;
        check::text("fact.name", &self.name, 1)?;
        let points: usize = self.strokes.iter().map(Vec::len).sum();
        if points < 4 {
            return Err(FieldError::new("fact.strokes", "must be a signature: it is empty"));
        }
        if points > 5000 {
            return Err(FieldError::new("fact.strokes", "must not have more than 5000 points"));
        }
        self.strokes.iter().flatten().try_for_each(|p| {
            check::range("fact.strokes", p[0], 0.0, 3.0)?;
            check::range("fact.strokes", p[1], 0.0, 1.0)
        })
    }
}

/// An id: letters, digits, dashes and underscores.
fn named(field: &str, id: &str, least: usize) -> Result<(), FieldError> {
    let good =
        (least..=64).contains(&id.len()) && id.bytes().all(|b| b.is_ascii_alphanumeric() || b"-_.:/".contains(&b));
    if good {
        Ok(())
    } else {
        Err(FieldError::new(field, format!("must have {least} to 64 letters, digits and dashes")))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    fn read(value: serde_json::Value) -> Result<Record, FieldError> {
        Record::from_json(&value.to_string())
    }

    fn with(fact: serde_json::Value) -> serde_json::Value {
        json!({"id": "0123456789ab", "at": "2026-11-30T07:12:00Z", "fact": fact})
    }

    #[test]
    fn whatever_cannot_be_is_refused_by_its_field() {
        let field = |value| read(value).expect_err("refused").field;
        let mut short = with(json!({"kind": "withdrawn"}));
        assert_eq!(field(short.clone()), "corrects");
        short["id"] = json!("short");
        assert_eq!(field(short), "id");
        let mut late = with(json!({"kind": "note"}));
        assert_eq!(field(late.clone()), "note");
        late["note"] = json!("wet");
        assert!(read(late.clone()).is_ok());
        for at in ["yesterday", "2026-02-30T07:00:00Z", "2026-11-30 07:00", "1412-11-30T07:00:00Z"] {
            late["at"] = json!(at);
            assert_eq!(field(late.clone()), "at", "{at}");
        }
        assert_eq!(
            field(with(json!({"kind": "harm", "loop_id": "A1", "harm": "kink", "mend": "no", "mark_m": 9e9}))),
            "fact.mark_m"
        );
        assert_eq!(field(with(json!({"kind": "laid", "loop_id": "", "step": "fixed"}))), "fact.loop_id");
        assert_eq!(field(with(json!({"kind": "differs", "loop_id": "A1"}))), "note");
        let begun = |volume: f64, barometer: Option<f64>, readings: serde_json::Value| {
            let gauge = json!({"resolution_kpa": 2, "range_kpa": 600});
            let test = json!({"medium": "air", "volume_l": volume, "barometer_kpa": barometer, "gauge": gauge,
                "required": {"pressure_kpa": 300, "hours": 12}, "readings": readings});
            with(json!({"kind": "test_begun", "name": "Manifold A", "test": test}))
        };
        assert!(read(begun(60.0, Some(100.0), json!([]))).is_ok());
        assert_eq!(field(begun(0.0, Some(100.0), json!([]))), "fact.test.volume_l");
        assert_eq!(field(begun(60.0, None, json!([]))), "fact.test.barometer_kpa");
        let reading = json!([{"time": "2026-11-30T07:12:00Z", "gauge_kpa": 300}]);
        assert_eq!(field(begun(60.0, Some(100.0), reading)), "fact.test.readings");
        let of = "0123456789ab";
        assert_eq!(field(with(json!({"kind": "test_read", "test": of, "gauge_kpa": -1.0}))), "fact.gauge_kpa");
        let signed = |strokes| {
            with(
                json!({"kind": "test_signed", "test": of, "name": "C. Ember", "part": "inspector", "strokes": strokes}),
            )
        };
        assert_eq!(field(signed(json!([[]]))), "fact.strokes");
        assert_eq!(field(signed(json!([[[0.1, 0.1], [9.0, 0.2], [0.3, 0.1], [0.4, 0.2]]]))), "fact.strokes");
        assert!(read(signed(json!([[[0.1, 0.1], [0.2, 0.2]], [[0.3, 0.1], [0.4, 0.2]]]))).is_ok());
        assert_eq!(field(with(json!({"kind": "filled"}))), "fact");
        assert_eq!(field(with(json!({"kind": "filled", "freezing_c": -99.0}))), "fact.freezing_c");
        let meter = |pass: u8, flow: f64| {
            with(json!({"kind": "meter_read", "loop_id": "A1", "pass": pass, "flow_l_min": flow}))
        };
        assert!(read(meter(1, 2.0)).is_ok());
        assert_eq!(field(meter(10, 2.0)), "fact.pass");
        assert_eq!(field(meter(1, -2.0)), "fact.flow_l_min");
        let heat = |supply: f64, moisture: f64| {
            with(
                json!({"kind": "heat_up_read", "build_up_id": "slab", "supply_c": supply, "moisture_percent": moisture}),
            )
        };
        assert_eq!(field(heat(300.0, 2.0)), "fact.supply_c");
        assert_eq!(field(heat(30.0, 200.0)), "fact.moisture_percent");
        let visit = |complaint: &str, value: f64| {
            let readings = json!([{"quantity": "room_c", "subject": "studio", "value": value}]);
            with(json!({"kind": "visited", "complaint": complaint, "readings": readings}))
        };
        assert!(read(visit("cold", 17.0)).is_ok());
        assert_eq!(field(visit("cold", 400.0)), "fact.readings[0].value");
        assert_eq!(field(with(json!({"kind": "visited", "readings": []}))), "fact.complaint");
        let mut photos = with(json!({"kind": "note"}));
        photos["photos"] = json!(["abc"]);
        assert_eq!(field(photos.clone()), "photos[0]");
        photos["photos"] = json!(vec!["a".repeat(64); 13]);
        assert_eq!(field(photos), "photos");
        assert!(read(with(json!({"kind": "sung"}))).is_err());
    }

    #[test]
    fn a_record_is_written_as_it_was_read() {
        let text = with(
            json!({"kind": "laid", "loop_id": "A1", "step": "on_floor", "coil": "K1", "start_m": 0.5, "end_m": 84.0}),
        );
        let record = read(text.clone()).expect("a record");
        assert_eq!(serde_json::to_value(&record).expect("json"), text);
        assert_eq!(record.fact.loop_id(), Some("A1"));
    }
}

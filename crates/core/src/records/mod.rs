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

mod checked;
mod facts;

pub use facts::*;

use crate::check;
use crate::error::FieldError;
use crate::geometry::Point;
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

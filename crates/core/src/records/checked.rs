//! That what records say can be.

use super::{FARTHEST_M, LONGEST_COIL_M, MOST_PHOTOS};
use super::{Fact, Filled, Record, TestBegun, TestRead, TestSigned, Visited};
use crate::check;
use crate::error::FieldError;
use crate::pressure_test::Reading;
use crate::readings::Readings;
use chrono::{DateTime, Utc};

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

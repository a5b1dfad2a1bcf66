//! The pressure tests of a job, put together from their records: readings, verdict, names, and a sudden fall.

use crate::error::FieldError;
use crate::pressure_test::{Medium, PressureTest, TestResult};
use crate::records::{During, Entry, Fact, SignedAs, TestBegun, TestRead, TestSigned, standing};
use crate::study::Study;
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;

/// Corrected pressure that is lost between two readings at such a pace is no weather and no creep, share of the pressure in an hour.
const SUDDEN_SHARE_H: f64 = 0.15;
/// And at least that, kPa.
const SUDDEN_KPA: f64 = 15.0;

/// The pressure tests of a job.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PressureTests {
    /// In the order in which they began.
    pub tests: Vec<TestLog>,
    /// What the tubes of each manifold hold, as drawn.
    pub contents: Vec<Contents>,
}

/// What the tubes of a manifold hold.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Contents {
    /// The manifold.
    pub manifold_id: String,
    /// Its letter.
    pub letter: String,
    /// L.
    pub litres: f64,
}

/// A pressure test.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TestLog {
    /// The record that began it.
    pub id: String,
    /// What was set then.
    pub begun: TestBegun,
    /// When, ISO 8601.
    pub at: String,
    /// Its readings in order of time.
    pub readings: Vec<ReadingLog>,
    /// What they come to; none where there are none, or they do not go together.
    pub result: Option<TestResult>,
    /// Why they do not.
    pub trouble: String,
    /// The readings between which the pressure fell at once, from 0: look now.
    pub sudden: Option<usize>,
    /// Names under it.
    pub signed: Vec<SignedLog>,
}

/// A reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ReadingLog {
    /// The record.
    pub record_id: String,
    /// When.
    pub at: String,
    /// What was read.
    pub read: TestRead,
    /// By whom.
    pub who: String,
}

/// A name under a test.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SignedLog {
    /// When.
    pub at: String,
    /// The name and the hand.
    pub signed: TestSigned,
    /// There was a reading after it: it stands under less than there is now.
    pub before_last: bool,
}

impl TestLog {
    /// Somebody of that part has signed all of it.
    pub fn is_signed(&self, part: SignedAs) -> bool {
        self.signed.iter().any(|s| s.signed.part == part && !s.before_last)
    }

    /// It is read while the floor is poured, or was.
    pub fn through_the_pour(&self) -> bool {
        self.readings.iter().any(|r| r.read.during == During::Pour)
    }
}

/// Puts the pressure tests of a job together.
///
/// ```
/// use fuoco_core::onsite::pressure::pressure_tests;
/// use fuoco_core::samples::{box_room, job_of, manifold, studied};
/// let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
/// job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
/// let study = studied(&job)?;
/// let tests = pressure_tests(&study, &[]);
/// // 16 × 2 mm holds 0.113 L a metre
/// let tube_m: f64 = study.loops.iter().map(|l| l.length_m).sum();
/// assert!((tests.contents[0].litres - 0.1131 * tube_m).abs() < 0.01);
/// # Ok::<(), fuoco_core::error::FieldError>(())
/// ```
pub fn pressure_tests(study: &Study, entries: &[Entry]) -> PressureTests {
    let standing = standing(entries);
    let time = |e: &Entry| e.written().to_rfc3339_opts(chrono::SecondsFormat::Millis, true);
    let mut tests = vec![];
    for e in &standing {
        let Fact::TestBegun(begun) = &e.record.fact else { continue };
        let id = &e.record.id;
        let readings: Vec<ReadingLog> = standing
            .iter()
            .filter_map(|r| match &r.record.fact {
                Fact::TestRead(read) if read.test == *id => Some(ReadingLog {
                    record_id: r.record.id.clone(),
                    at: time(r),
                    read: read.clone(),
                    who: r.who.clone(),
                }),
                _ => None,
            })
            .collect();
        let last = readings.last().map(|r| r.at.clone());
        let signed = standing
            .iter()
            .filter_map(|s| match &s.record.fact {
                Fact::TestSigned(signed) if signed.test == *id => {
                    let at = time(s);
                    Some(SignedLog { before_last: last.as_ref().is_some_and(|l| *l > at), at, signed: signed.clone() })
                }
                _ => None,
            })
            .collect();
        let test = PressureTest {
            readings: readings.iter().map(|r| r.read.reading(r.at.clone())).collect(),
            ..begun.test.clone()
        };
        let judged = if readings.is_empty() { Ok(None) } else { test.judge_in(Some(study.job.site.units)).map(Some) };
        let sudden = judged.as_ref().ok().and_then(|r| sudden(begun, &readings, r.as_ref()?));
        let (result, trouble) = match judged {
            Ok(result) => (result, String::new()),
            Err(e) => (None, said(&e)),
        };
        tests.push(TestLog {
            id: id.clone(),
            begun: begun.clone(),
            at: time(e),
            readings,
            result,
            trouble,
            sudden,
            signed,
        });
    }
    PressureTests { tests, contents: contents(study) }
}

/// An error in the words of somebody who sees a list of readings, not a document.
fn said(e: &FieldError) -> String {
    let number = e.field.strip_prefix("readings[").and_then(|f| f.split(']').next()?.parse::<usize>().ok());
    number.map_or_else(|| e.to_string(), |k| format!("reading {} {}", k + 1, e.reason))
}

/// The last reading before which the corrected pressure fell at once. Under water the first hours are left out: plastic creeps.
fn sudden(begun: &TestBegun, readings: &[ReadingLog], result: &TestResult) -> Option<usize> {
    let hours = |k: usize| {
        let at = chrono::DateTime::parse_from_rfc3339(&readings.get(k)?.at).ok()?;
        Some(at.timestamp_millis() as f64 / 3.6e6)
    };
    let from = if begun.test.medium == Medium::Water { result.from_reading + 1 } else { 1 };
    (from..readings.len()).rev().find(|k| {
        let fell = result.corrected[k - 1] - result.corrected[*k];
        let took = hours(*k).zip(hours(k - 1)).map_or(f64::INFINITY, |(b, a)| b - a);
        fell > SUDDEN_KPA && fell > SUDDEN_SHARE_H * result.corrected[k - 1] * took
    })
}

fn contents(study: &Study) -> Vec<Contents> {
    let litres = |id: &str| {
        let own = study.loops.iter().filter(|l| l.manifold_id == id);
        own.filter_map(|l| Some(l.length_m * PI / 4.0 * study.job.tube(&l.tube_id)?.bore_m().powi(2) * 1e3)).sum()
    };
    let of = |m: &crate::job::Manifold| Contents {
        manifold_id: m.id.clone(),
        letter: m.letter.clone(),
        litres: litres(&m.id),
    };
    study.job.manifolds.iter().map(of).filter(|c| c.litres > 0.0).collect()
}

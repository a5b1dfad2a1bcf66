//! Files made wrong by number (`samples::mutate::garbled`) at every import: none makes it panic; what is refused is refused
//! with a field and a reason, and what is taken is a job that can be saved and read again.

use fuoco_core::design::design;
use fuoco_core::error::FieldError;
use fuoco_core::job::CheckedJob;
use fuoco_core::samples::mutate::garbled;
use fuoco_core::survey::climate::read_epw;
use fuoco_documents::exchange::{Imported, dxf, geojson, openings_csv, rooms_csv};
use fuoco_documents::{bundle, loop_files, pictures};
use std::panic::{AssertUnwindSafe, catch_unwind};

/// With the tests runs this many of each kind of file.
const BOUNDED: u64 = 120;

type Taken = Result<Option<CheckedJob>, FieldError>;

fn demo() -> CheckedJob {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/tamarack-dance-school.json");
    CheckedJob::from_json(&std::fs::read_to_string(path).expect("the demo")).expect("sound")
}

/// Garbles a sound file again and again and hands it in.
fn hand_in(kind: &str, sound: &[u8], take: impl Fn(&[u8]) -> Taken) {
    take(sound).unwrap_or_else(|e| panic!("{kind}: the sound file is refused: {e}"));
    let many = std::env::var("FUOCO_FUZZ_FILES").ok().and_then(|v| v.parse().ok()).unwrap_or(BOUNDED);
    let mut refused = 0;
    for number in 0..many {
        let file = garbled(number, sound);
        let taken = catch_unwind(AssertUnwindSafe(|| take(&file)));
        match taken.unwrap_or_else(|_| panic!("{kind} {number} makes the import panic")) {
            Ok(None) => {}
            Ok(Some(job)) => {
                let text = job.compact().unwrap_or_else(|e| panic!("{kind} {number} cannot be saved: {e}"));
                let again = CheckedJob::from_json(&text).and_then(|j| j.compact());
                assert_eq!(again, Ok(text), "{kind} {number} is another job when it is read again");
            }
            Err(e) => {
                assert!(!e.field.is_empty() && !e.reason.is_empty(), "{kind} {number} is refused without words");
                refused += 1;
            }
        }
    }
    println!("{kind}: {many} files, {refused} refused");
}

fn text(bytes: &[u8]) -> std::borrow::Cow<'_, str> {
    String::from_utf8_lossy(bytes)
}

fn job_of(got: Result<Imported, FieldError>) -> Taken {
    got.map(|i| Some(i.job))
}

#[test]
fn no_garbled_file_breaks_an_import() {
    let job = demo();
    let level = job.levels[0].id.clone();
    hand_in("rooms.csv", rooms_csv::write(&job).as_bytes(), |b| job_of(rooms_csv::read(&job, &level, &text(b))));
    hand_in("openings.csv", openings_csv::write(&job).as_bytes(), |b| job_of(openings_csv::read(&job, &text(b))));
    hand_in("rooms.geojson", geojson::write(&job).as_bytes(), |b| job_of(geojson::read(&job, &level, &text(b))));
    hand_in("plan.dxf", &dxf::write(&job, &level), |b| job_of(dxf::read(&job, &level, b, None)));
    let loops = loop_files::dxf(&job, &design(&job).expect("designs"), &level);
    hand_in("loops.dxf", &loops, |b| job_of(dxf::read(&job, &level, b, Some(0.001))));
    // a picture of a single grey point
    let png: &[u8] = &[
        0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0x00, 0x00, 0x00, 0x0d, 0x49, 0x48, 0x44, 0x52, 0x00, 0x00,
        0x00, 0x01, 0x00, 0x00, 0x00, 0x01, 0x08, 0x00, 0x00, 0x00, 0x00, 0x3a, 0x7e, 0x9b, 0x55, 0x00, 0x00, 0x00,
        0x0a, 0x49, 0x44, 0x41, 0x54, 0x78, 0x9c, 0x63, 0x68, 0x00, 0x00, 0x00, 0x82, 0x00, 0x81, 0x77, 0xcd, 0x72,
        0xb6, 0x00, 0x00, 0x00, 0x00, 0x49, 0x45, 0x4e, 0x44, 0xae, 0x42, 0x60, 0x82,
    ];
    hand_in("picture", png, |b| pictures::recognise(b).map(|_| None));
    let packed = bundle::write(&job, &[], &[]).expect("packs");
    hand_in("bundle", &packed, |b| bundle::read(b).map(|got| Some(got.job)));
    hand_in("job.json", job.compact().expect("small").as_bytes(), |b| CheckedJob::from_json(&text(b)).map(Some));
}

/// A year of weather is a large file: fewer of them.
#[test]
fn no_garbled_weather_breaks_its_reading() {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/alderfell.epw");
    let sound = std::fs::read(path).expect("the demo's weather");
    let of = |bytes: &[u8]| read_epw(&text(bytes));
    let whole = of(&sound).expect("sound");
    for number in 0..24 {
        match of(&garbled(number, &sound)) {
            Ok(weather) => assert!(weather.degree_days(15.0).is_finite(), "{number}"),
            Err(e) => assert!(!e.field.is_empty() && !e.reason.is_empty(), "{number}"),
        }
    }
    assert!(whole.degree_days(15.0) > 0.0);
}

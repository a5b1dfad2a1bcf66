//! Older job files brought to this version, step by step.

use super::{Job, VERSION};
use crate::check::read;
use crate::error::FieldError;
use serde_json::{Map, Value, json};

/// Brings a document of any older version to [`VERSION`] and reads it.
pub(super) fn to_newest(mut document: Value) -> Result<Job, FieldError> {
    if document["version"] == 1 {
        from_1(&mut document)?;
    }
    // version 2 had all that version 3 has, but for own build-ups, patches and fields; version 3 all that version 4 has, but
    // for loops kept and what is wanted of a room's loops; version 4 knew no thermostat zones and no lattices, version 5 no
    // risers
    document["version"] = VERSION.into();
    read(&document.to_string())
}

/// Version 1 knew one figure of U for each part of the building, ground of one temperature under every floor, and
/// levels without height. Its figures of heat loss stay what they were.
fn from_1(document: &mut Value) -> Result<(), FieldError> {
    let missing = |field: &str| FieldError::new(field, "is missing");
    let old = document["envelope"].as_object().ok_or_else(|| missing("envelope"))?.clone();
    let mut envelope = Map::new();
    let mut constructions = Vec::new();
    for (figure, id, name, position) in [
        ("outside_wall_u", "own-wall", "Outside wall", "wall"),
        ("window_u", "own-window", "Window", "window"),
        ("outside_door_u", "own-door", "Outside door", "door"),
        ("roof_u", "own-roof", "Roof", "roof"),
        ("partition_u", "own-partition", "Partition", "partition"),
        ("floor_u", "own-floor", "Unheated floor", "floor"),
    ] {
        let u = old.get(figure).and_then(Value::as_f64).ok_or_else(|| missing(&format!("envelope.{figure}")))?;
        constructions.push(json!({ "id": id, "name": name, "position": position, "u": u }));
        envelope.insert(figure.replace("_u", "_id"), id.into());
    }
    let surcharge = old.get("bridge_surcharge_u").and_then(Value::as_f64);
    let surcharge = surcharge.ok_or_else(|| missing("envelope.bridge_surcharge_u"))?;
    envelope.insert("bridges".into(), json!({ "method": "surcharge", "delta_u": surcharge }));
    envelope.insert("ground".into(), json!({ "method": "ground_temperature" }));
    document["envelope"] = Value::Object(envelope);
    document["constructions"] = Value::Array(constructions);
    // levels had no heights: ordinary storeys
    if let Some(levels) = document["levels"].as_array_mut() {
        for (i, level) in levels.iter_mut().enumerate() {
            if let Some(level) = level.as_object_mut() {
                level.insert("floor_m".into(), json!(3.0 * i as f64));
            }
        }
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::heat_loss::heat_loss;
    use crate::plan::Plan;
    use crate::samples::read_job;

    /// A job as the first released version wrote it, and the losses that version calculated for it, W. All its rooms are
    /// equally high: that version took a wall beside a lower room for a partition up to its own ceiling.
    const FIRST: &str = include_str!("../../tests/data/job-version-1.json");
    const LOSSES: [(&str, f64); 6] = include!("../../tests/data/losses-version-1.in");

    #[test]
    fn a_job_of_the_first_version_reads_and_loses_what_it_lost() {
        let job = read_job(FIRST).expect("reads");
        assert_eq!(job.version, VERSION);
        let losses = heat_loss(&job, &Plan::of(&job));
        for (id, expected) in LOSSES {
            let got = losses.rooms.iter().find(|r| r.room_id == id).expect(id).heat_w;
            // the file has the old figures to a thousandth of a watt
            assert!((got - expected).abs() < 1e-3, "{id}: {got} instead of {expected}");
        }
    }

    /// Whether all that is said in one document is said in the other: nulls and empty lists say nothing.
    fn kept(before: &Value, after: &Value) -> bool {
        match (before, after) {
            (Value::Object(b), Value::Object(a)) => b.iter().all(|(k, v)| match v {
                Value::Null => true,
                Value::Array(list) if list.is_empty() => true,
                v => a.get(k).is_some_and(|a| kept(v, a)),
            }),
            (Value::Array(b), Value::Array(a)) => b.len() == a.len() && b.iter().zip(a).all(|(b, a)| kept(b, a)),
            (Value::Number(b), Value::Number(a)) => b.as_f64() == a.as_f64(),
            _ => before == after,
        }
    }

    /// A file as the second released version wrote it: its floors name the library, and nothing is lost.
    #[test]
    fn a_job_of_the_second_version_reads_unchanged() {
        const SECOND: &str = include_str!("../../tests/data/job-version-2.json");
        let mut before: Value = serde_json::from_str(SECOND).expect("json");
        assert_eq!(before["version"], 2);
        let job = read_job(SECOND).expect("reads");
        assert_eq!(job.version, VERSION);
        before["version"] = VERSION.into();
        assert!(kept(&before, &serde_json::to_value(&job).expect("writes")));
        let floors = job.rooms.iter().filter_map(|r| r.floor.as_ref());
        assert!(floors.clone().any(|f| f.build_up_id == "slab") && floors.clone().any(|f| f.build_up_id == "overlay"));
        crate::samples::designed(&job).expect("designs");
    }

    /// A file as the third released version wrote it.
    #[test]
    fn a_job_of_the_third_version_reads_unchanged() {
        const THIRD: &str = include_str!("../../tests/data/job-version-3.json");
        let mut before: Value = serde_json::from_str(THIRD).expect("json");
        assert_eq!(before["version"], 3);
        let job = read_job(THIRD).expect("reads");
        assert!(job.loops.is_empty(), "nothing was kept by hand then");
        before["version"] = VERSION.into();
        assert!(kept(&before, &serde_json::to_value(&job).expect("writes")));
    }

    /// A file as the fourth released version wrote it, with a loop kept by hand: it is laid as it was.
    #[test]
    fn a_job_of_the_fourth_version_reads_unchanged() {
        const FOURTH: &str = include_str!("../../tests/data/job-version-4.json");
        let mut before: Value = serde_json::from_str(FOURTH).expect("json");
        assert_eq!(before["version"], 4);
        let job = read_job(FOURTH).expect("reads");
        assert_eq!(job.loops.len(), 1);
        assert!(job.rooms.iter().all(|r| r.zone.is_none()), "every room had loops of its own");
        before["version"] = VERSION.into();
        assert!(kept(&before, &serde_json::to_value(&job).expect("writes")));
    }

    /// A file as the fifth released version wrote it, with rooms of one thermostat zone on one loop.
    #[test]
    fn a_job_of_the_fifth_version_reads_unchanged() {
        const FIFTH: &str = include_str!("../../tests/data/job-version-5.json");
        let mut before: Value = serde_json::from_str(FIFTH).expect("json");
        assert_eq!(before["version"], 5);
        let job = read_job(FIFTH).expect("reads");
        assert!(job.rooms.iter().any(|r| r.zone.is_some()) && job.manifolds.iter().all(|m| m.risers.is_empty()));
        before["version"] = VERSION.into();
        assert!(kept(&before, &serde_json::to_value(&job).expect("writes")));
    }

    #[test]
    fn what_a_file_of_the_first_version_lacks_is_named() {
        let mut document: Value = serde_json::from_str(FIRST).expect("json");
        if let Some(e) = document["envelope"].as_object_mut() {
            e.remove("roof_u");
        }
        assert_eq!(read_job(&document.to_string()).expect_err("incomplete").field, "envelope.roof_u");
        document["envelope"] = Value::Null;
        assert_eq!(read_job(&document.to_string()).expect_err("incomplete").field, "envelope");
        // fields that the first version did not know are refused under their name
        let mut strange: Value = serde_json::from_str(FIRST).expect("json");
        strange["rooms"][0]["unheard_of"] = json!(1);
        assert!(read_job(&strange.to_string()).expect_err("strange").reason.contains("unheard_of"));
    }
}

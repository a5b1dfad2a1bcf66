//! Heat losses of jobs against an independent calculation (`data/independent.json` says whose), and the table of them in
//! `docs/physics.md`.

use fuoco_core::heat_loss::heat_loss;
use fuoco_core::plan::Plan;
use fuoco_core::samples::read_job;
use serde_json::Value;

/// Both follow the same formulas with the same figures: what is left is rounding.
const SAME: f64 = 1e-5;

#[test]
fn rooms_and_buildings_agree_with_an_independent_calculation() {
    let data: Value = serde_json::from_str(include_str!("../data/independent.json")).expect("JSON");
    let page = include_str!("../../../../docs/physics.md");
    let jobs = data["jobs"].as_array().expect("jobs");
    assert!(jobs.len() >= 20 && data["provenance"].as_str().is_some_and(|p| p.contains("without Fuoco")));
    for of in jobs {
        let name = of["name"].as_str().expect("a name");
        let job = read_job(&of["job"].to_string()).expect(name);
        let loss = heat_loss(&job, &Plan::of(&job));
        for (id, watts) in of["rooms"].as_object().expect("rooms") {
            let got = loss.rooms.iter().find(|r| r.room_id == *id).expect("the room").heat_w;
            let watts = watts.as_f64().expect("a figure");
            assert!((got / watts - 1.0).abs() < SAME, "{name}, {id}: {got} W, independent {watts} W");
        }
        let (got, watts) = (loss.building.heat_w, of["building"].as_f64().expect("a figure"));
        assert!((got / watts - 1.0).abs() < SAME, "{name}: {got} W, independent {watts} W");
        let row = format!("| {name} | {watts:.1} | {got:.1} |");
        assert!(page.contains(&row), "docs/physics.md lacks {row}");
    }
}

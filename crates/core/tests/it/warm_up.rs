//! A section in time, against an independent finite-element transient and against what must hold of any section.

use fuoco_core::section::warm_up::{WarmUpAnswer, WarmUpFile};
use serde_json::{Value, json};

fn answer(file: &Value) -> WarmUpAnswer {
    WarmUpFile::from_json(&file.to_string()).expect("reads").answer().expect("solved")
}

fn slab() -> Value {
    json!({
        "spacing_m": 0.2,
        "tube": { "od_m": 0.016, "wall_m": 0.002, "conductivity_w_mk": 0.35, "axis_depth_m": 0.055 },
        "layers": [
            { "thickness_m": 0.075, "conductivity_w_mk": 1.2, "density_kg_m3": 2000.0, "heat_capacity_j_kgk": 1000.0 },
            { "thickness_m": 0.06, "conductivity_w_mk": 0.035, "density_kg_m3": 25.0, "heat_capacity_j_kgk": 1450.0 }
        ],
        "film_up_w_m2k": 10.8, "film_down_w_m2k": 5.9, "water_film_w_m2k": 1500.0,
        "water_c": 40.0, "room_c": 20.0, "below_c": 12.0,
        "times_s": [0.0, 600.0, 3600.0, 14400.0, 1e6]
    })
}

/// scikit-fem and SciPy, quadratic triangles of gmsh: 1 % of the flux then, or a thousandth of what it comes to where it has
/// hardly begun, and 0.1 K.
#[test]
fn fluxes_and_surface_follow_an_independent_transient() {
    let text = include_str!("../../data/warm_up_fem.json");
    let reference: Value = serde_json::from_str(text).expect("reads");
    for case in reference["cases"].as_array().expect("cases") {
        let name = case["name"].as_str().expect("a name");
        let got = answer(&case["file"]);
        let list = |of: &Value| of.as_array().expect("a list").iter().filter_map(Value::as_f64).collect::<Vec<f64>>();
        for (what, got) in [("flux_up_w_m2", &got.flux_up_w_m2), ("flux_down_w_m2", &got.flux_down_w_m2)] {
            let want = list(&case[what]);
            let end = want[want.len() - 1].abs();
            for ((got, want), t) in got.iter().zip(&want).zip(list(&case["file"]["times_s"])) {
                let off = (got - want).abs();
                assert!(off < 0.01 * want.abs() + 0.001 * end, "{name}: {what} after {t} s: {got} instead of {want}");
            }
        }
        for (what, got) in [("surface_mean_c", &got.surface_mean_c), ("surface_max_c", &got.surface_max_c)] {
            for (got, want) in got.iter().zip(list(&case[what])) {
                assert!((got - want).abs() < 0.1, "{name}: {what}: {got} instead of {want}");
            }
        }
        assert!(got.reduced.worst_error < 0.005, "{name}: {:?}", got.reduced);
    }
}

#[test]
fn it_begins_with_water_as_warm_as_the_room_and_ends_at_the_steady_section() {
    let file = slab();
    let got = answer(&file);
    let steady = |water_c: f64| {
        let mut section = file.clone();
        section["water_c"] = json!(water_c);
        section.as_object_mut().expect("an object").remove("times_s");
        fuoco_core::section::file::SectionFile::from_json(&section.to_string())
            .expect("reads")
            .answer()
            .expect("solved")
    };
    // the meshes are finer than the steady state's: two parts in ten thousand of the flux
    let near = |got: f64, want: f64, by: f64| assert!((got - want).abs() < by, "{got} {want}");
    for (k, want) in [(0, steady(20.0)), (4, steady(40.0))] {
        near(got.flux_up_w_m2[k], want.flux_up_w_m2, 0.02);
        near(got.flux_down_w_m2[k], want.flux_down_w_m2, 0.02);
        near(got.surface_mean_c[k], want.surface_mean_c, 0.002);
        near(got.surface_max_c[k], want.surface_max_c, 0.01);
    }
    assert!(got.flux_up_w_m2.windows(2).all(|w| w[1] >= w[0]), "{:?}", got.flux_up_w_m2);
}

/// Elmore's delay is the area between the flux and what it comes to: two ways to the same figure, one of them in time.
#[test]
fn the_area_above_the_curve_is_the_steady_solvers_delay() {
    let mut file = slab();
    file["below_c"] = file["room_c"].clone();
    let times: Vec<f64> = (0..=4000).map(|k| 50.0 * f64::from(k)).collect();
    file["times_s"] = json!(times);
    let got = answer(&file);
    file.as_object_mut().expect("an object").remove("times_s");
    let steady =
        fuoco_core::section::file::SectionFile::from_json(&file.to_string()).expect("reads").answer().expect("solved");
    let missing = |k: usize| 1.0 - got.flux_up_w_m2[k] / steady.flux_up_w_m2;
    let area: f64 = (1..times.len()).map(|k| 25.0 * (missing(k - 1) + missing(k))).sum();
    // trapezoids of 50 s over two days
    assert!((area / steady.time_constant_s - 1.0).abs() < 0.002, "{area} {}", steady.time_constant_s);
}

#[test]
fn a_heavier_tube_or_sheet_is_later() {
    let mut file = slab();
    file["times_s"] = json!([1800.0]);
    let flux = |file: &Value| answer(file).flux_up_w_m2[0];
    let usual = flux(&file);
    file["tube"]["density_kg_m3"] = json!(9000.0);
    assert!(flux(&file) < 0.97 * usual, "{} {usual}", flux(&file));
}

#[test]
fn what_cannot_be_asked_is_named() {
    let field = |change: fn(&mut Value)| {
        let mut file = slab();
        change(&mut file);
        match WarmUpFile::from_json(&file.to_string()) {
            Err(e) => e.field,
            Ok(f) => f.answer().expect_err("refused").field,
        }
    };
    assert_eq!(field(|f| f["times_s"] = json!([])), "times_s");
    assert_eq!(field(|f| f["times_s"] = json!([0.0, -1.0])), "times_s[1]");
    assert_eq!(field(|f| f["times_s"] = json!("soon")), "times_s");
    assert_eq!(field(|f| drop(f.as_object_mut().expect("an object").remove("times_s"))), "times_s");
    assert_eq!(field(|f| f["tube"]["heat_capacity_j_kgk"] = json!(1.0)), "tube.heat_capacity_j_kgk");
    assert_eq!(field(|f| f["water_c"] = json!(10.0)), "water_c");
    assert_eq!(field(|f| f["layers"][0]["thickness"] = json!(1.0)), "layers[0].thickness");
}

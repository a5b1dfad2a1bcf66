//! The load of snow against an independent calculation, and its invariants.

use fuoco_core::snow::{MeltLoad, Storm};
use serde_json::Value;

fn load(storm: &Storm) -> MeltLoad {
    storm.load().expect("a storm")
}

fn storm() -> Storm {
    Storm {
        air_c: -6.0,
        wind_m_s: 4.0,
        humidity: Some(0.8),
        dew_point_c: None,
        snowfall_mm_h: 1.5,
        sky_c: None,
        cloud: Some(1.0),
        free_area_ratio: 1.0,
        length_m: 6.0,
        altitude_m: 200.0,
    }
}

#[test]
fn ten_storms_are_within_three_per_cent_of_an_independent_calculation() {
    let all: Value = serde_json::from_str(include_str!("../data/snow.json")).expect("json");
    let cases = all["cases"].as_array().expect("cases");
    assert_eq!(cases.len(), 10);
    for (k, case) in cases.iter().enumerate() {
        let got = load(&Storm::from_json(&case["storm"].to_string()).expect("a storm"));
        let parts = [
            ("sensible", got.sensible),
            ("melting", got.melting),
            ("evaporation", got.evaporation),
            ("convection", got.convection),
            ("radiation", got.radiation),
            ("total", got.total),
            ("convection_w_m2k", got.convection_w_m2k),
        ];
        for (name, got) in parts {
            let want = case[name].as_f64().expect("a figure");
            // 3 %, or what a tenth of a watt is
            assert!((got - want).abs() <= (0.03 * want.abs()).max(0.1), "storm {k}, {name}: {got} for {want}");
        }
    }
}

#[test]
fn the_parts_are_the_whole_and_the_free_share_scales_what_only_it_loses() {
    let whole = load(&storm());
    let sum = |l: &MeltLoad| l.sensible + l.melting + l.evaporation + l.convection + l.radiation;
    assert!((sum(&whole) - whole.total).abs() < 1e-9);
    let half = load(&Storm { free_area_ratio: 0.5, ..storm() });
    assert_eq!((half.sensible, half.melting), (whole.sensible, whole.melting));
    for (a, b) in
        [(half.evaporation, whole.evaporation), (half.convection, whole.convection), (half.radiation, whole.radiation)]
    {
        assert!((a - b / 2.0).abs() < 1e-9);
    }
}

#[test]
fn wind_cold_and_dry_air_ask_for_more_and_clouds_for_less() {
    let base = load(&storm()).total;
    assert!(load(&Storm { wind_m_s: 8.0, ..storm() }).total > base);
    assert!(load(&Storm { air_c: -12.0, ..storm() }).total > base);
    assert!(load(&Storm { humidity: Some(0.5), ..storm() }).total > base);
    let dry = |cloud| load(&Storm { snowfall_mm_h: 0.0, cloud: Some(cloud), ..storm() }).radiation;
    assert!(dry(0.0) > dry(0.5) && dry(0.5) > dry(1.0));
    // without wind nothing is blown away, and nothing evaporates
    let calm = load(&Storm { wind_m_s: 0.0, ..storm() });
    assert_eq!((calm.convection, calm.evaporation), (0.0, 0.0));
    // air that is warmer and wetter than the film gives heat
    let thaw = load(&Storm { air_c: 3.0, humidity: Some(1.0), ..storm() });
    assert!(thaw.convection < 0.0 && thaw.evaporation < 0.0);
}

#[test]
fn a_dew_point_is_the_humidity_that_it_stands_for() {
    let by_share = load(&Storm { humidity: Some(1.0), ..storm() });
    let by_dew = load(&Storm { humidity: None, dew_point_c: Some(-6.0), ..storm() });
    assert!((by_share.total - by_dew.total).abs() < 1e-9);
}

#[test]
fn what_is_no_weather_is_refused_by_its_field() {
    let text = |key: &str, value: &str| {
        let mut all: Value = serde_json::to_value(storm()).expect("json");
        all[key] = serde_json::from_str(value).expect("a value");
        Storm::from_json(&all.to_string()).expect_err("refused").field
    };
    for (key, value) in [
        ("free_area_ratio", "2"),
        ("snowfall_mm_h", "500"),
        ("humidity", "0"),
        ("humidity", "1.2"),
        ("wind_m_s", "-1"),
        ("dew_point_c", "-7"),
        ("air_c", "90"),
        ("length_m", "0"),
        ("altitude_m", "9000"),
        ("cloud", "1.5"),
        ("sky_c", "-200"),
    ] {
        assert_eq!(text(key, value), key, "{value}");
    }
    let above = Storm { humidity: None, dew_point_c: Some(2.0), ..storm() };
    assert_eq!(above.check().expect_err("refused").field, "dew_point_c");
    let neither = Storm { humidity: None, ..storm() };
    assert_eq!(neither.check().expect_err("refused").field, "humidity");
    assert!(Storm::from_json(r#"{ "air_c": -5 }"#).is_err());
}

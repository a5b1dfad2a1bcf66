//! The load of snow against an independent calculation, and its invariants.

use fuoco_core::snow::year::SnowYearTask;
use fuoco_core::snow::{MeltLoad, Storm};
use fuoco_core::survey::hours::{WeatherHour, hours};
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

fn calm_year(hour: WeatherHour) -> Vec<WeatherHour> {
    vec![hour; 8760]
}

const MILD: WeatherHour = WeatherHour {
    air_c: 12.0,
    dew_point_c: Some(8.0),
    wind_m_s: Some(3.0),
    cloud: Some(0.5),
    falls_mm: Some(0.0),
    direct_w_m2: None,
    diffuse_w_m2: None,
};

fn task() -> SnowYearTask {
    SnowYearTask::from_json(r#"{ "free_area_ratio": 0.5, "length_m": 6, "flux_w_m2": 250, "altitude_m": 640 }"#)
        .expect("reads")
}

#[test]
fn a_year_with_two_storms_is_the_sum_of_its_hours() {
    let mut year = calm_year(MILD);
    let storm = |air_c: f64, mm: f64| WeatherHour { air_c, dew_point_c: Some(air_c - 1.0), falls_mm: Some(mm), ..MILD };
    // rain in July, a hard and a light hour of snow, a cold clear night
    year[4500] = storm(9.0, 6.0);
    year[100] = storm(-8.0, 2.5);
    year[101] = storm(-2.0, 0.5);
    year[200] = WeatherHour { air_c: -5.0, dew_point_c: Some(-9.0), cloud: Some(0.0), ..MILD };
    let got = task().answer(&year).expect("weighed");
    let load = |h: &WeatherHour, snowfall_mm_h: f64, free_area_ratio: f64| {
        let storm = Storm {
            air_c: h.air_c,
            wind_m_s: 3.0,
            humidity: None,
            dew_point_c: h.dew_point_c,
            snowfall_mm_h,
            sky_c: None,
            cloud: h.cloud,
            free_area_ratio,
            length_m: 6.0,
            altitude_m: 640.0,
        };
        storm.load().expect("a load").total
    };
    let (hard, light, night) = (load(&year[100], 2.5, 0.5), load(&year[101], 0.5, 0.5), load(&year[200], 0.0, 1.0));
    assert!(hard > 250.0 && light < 250.0, "{hard} {light}");
    assert_eq!((got.snow_hours, got.snow_mm, got.worst_hour, got.clear_share), (2, 3.0, Some(100), 0.5));
    assert!((got.on_demand.kwh_m2 - (250.0 + light) / 1000.0).abs() < 1e-12);
    assert_eq!((got.on_demand.hours, got.idling.hours), (2, 3));
    assert!((got.idling.kwh_m2 - (250.0 + light + night.min(250.0)) / 1000.0).abs() < 1e-12);
    let first = got.curve[0];
    assert_eq!((first.share, first.asked_w_m2), (0.5, light));
    assert_eq!(got.curve.last().map(|c| c.flux_w_m2[2]), Some(load(&year[100], 2.5, 1.0)));
}

#[test]
fn a_file_that_does_not_say_what_falls_needs_the_years_snow_and_gets_it_into_its_dampest_hours() {
    let mut year = calm_year(WeatherHour { falls_mm: None, air_c: -3.0, dew_point_c: Some(-8.0), ..MILD });
    for h in &mut year[1000..1200] {
        h.dew_point_c = Some(-3.2);
    }
    assert_eq!(task().answer(&year).expect_err("refused").field, "snow_mm");
    let typed = SnowYearTask { snow_mm: Some(150.5), ..task() };
    let got = typed.answer(&year).expect("weighed");
    assert_eq!((got.from_file, got.snow_hours, got.snow_mm), (false, 151, 150.5));
    assert!(got.worst_hour.is_some_and(|k| (1000..1200).contains(&k)), "{:?}", got.worst_hour);
    // and the wind, where the file has none
    year[1003].wind_m_s = None;
    assert_eq!(typed.answer(&year).expect_err("refused").field, "wind_m_s");
    assert!(SnowYearTask { wind_m_s: Some(2.0), ..typed }.answer(&year).is_ok());
}

#[test]
fn the_invented_year_of_the_demo_has_a_winter_and_its_curve_rises() {
    let hours = hours(include_str!("../../../../demo/alderfell.epw")).expect("reads");
    let got = task().answer(&hours).expect("weighed");
    assert!((100..1500).contains(&got.snow_hours), "{}", got.snow_hours);
    assert!(got.curve.windows(2).all(|w| w[1].asked_w_m2 >= w[0].asked_w_m2));
    for point in &got.curve {
        let [none, half, all] = point.flux_w_m2;
        assert!(none <= half && half <= all, "{point:?}");
        assert_eq!(half, point.asked_w_m2, "half is what was asked for");
    }
    assert!(got.idling.kwh_m2 > got.on_demand.kwh_m2 && got.idling.hours > got.on_demand.hours);
    // with the flux of its worst hour it is always clear
    let most = got.curve.last().expect("a curve").asked_w_m2;
    let more = SnowYearTask { flux_w_m2: most, ..task() }.answer(&hours).expect("weighed");
    assert_eq!(more.clear_share, 1.0);
}

#[test]
fn a_task_that_makes_no_sense_names_its_field() {
    for (text, field) in [
        (r#"{ "free_area_ratio": 2, "length_m": 6, "flux_w_m2": 250 }"#, "free_area_ratio"),
        (r#"{ "free_area_ratio": 1, "length_m": 6, "flux_w_m2": 0 }"#, "flux_w_m2"),
        (r#"{ "free_area_ratio": 1, "length_m": 6, "flux_w_m2": 250, "wind_m_s": -1 }"#, "wind_m_s"),
        (r#"{ "free_area_ratio": 1, "length_m": 6, "flux_w_m2": 250, "snow": 3 }"#, "snow"),
    ] {
        assert_eq!(SnowYearTask::from_json(text).expect_err("refused").field, field, "{text}");
    }
}

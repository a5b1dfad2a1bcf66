//! The worked examples of `docs/worked-plants.md`, number by number.

use crate::plant::{house, study};
use fuoco_core::flow::supply_for;
use fuoco_core::job::*;
use fuoco_core::network::{LinkFlow, Network, Solution};
use fuoco_core::plant::emitters::rating;
use fuoco_core::plant::size::cycles;
use serde_json::json;

const BTU_H: f64 = 3.412_141_633;

fn near(got: f64, by_hand: f64, share: f64) {
    assert!((got / by_hand - 1.0).abs() < share, "{got} against {by_hand} by hand");
}

fn solved(links: serde_json::Value) -> Solution {
    let fluid = json!({ "density_kg_m3": 990.0, "viscosity_pa_s": 0.0006, "heat_capacity_j_kgk": 4186.0 });
    let network = json!({ "fluid": fluid, "pressure_node": "a", "links": links });
    Network::from_json(&network.to_string()).expect("sound").solve().expect("solves")
}

fn link<'s>(s: &'s Solution, id: &str) -> &'s LinkFlow {
    s.links.iter().find(|l| l.id == id).expect("a link")
}

/// A pump that gives that flow against anything.
fn pump(id: &str, from: &str, to: &str, l_min: f64) -> serde_json::Value {
    json!({ "id": id, "kind": "pump", "from": from, "to": to, "on": true, "control": { "kind": "fixed_flow", "flow_l_min": l_min },
        "curve": [{ "flow_l_min": 0, "head_m": 20 }, { "flow_l_min": 30, "head_m": 15 }, { "flow_l_min": 60, "head_m": 0 }] })
}

fn pipe(id: &str, from: &str, to: &str) -> serde_json::Value {
    json!({ "id": id, "kind": "pipe", "from": from, "to": to, "length_m": 0.2, "bore_m": 0.026 })
}

#[test]
fn example_1_a_cast_radiator() {
    let e = Emitter {
        pattern: Some(RadiatorPattern::Column),
        columns: 4,
        sections: 10,
        height_m: 38.0 * 0.0254,
        ..Emitter::of(EmitterKind::Radiator)
    };
    let rated = rating(&e).expect("in the table");
    near(rated.rated_w * BTU_H, 19_200.0, 1e-6);
    near(rated.output_w(35.0), 1904.0, 1e-3);
}

#[test]
fn example_2_finned_tube() {
    let foot = Emitter { length_m: 0.3048, ..Emitter::of(EmitterKind::Baseboard) };
    near(rating(&foot).expect("rated").output_w(75.0 / 1.8) * BTU_H, 302.3, 1e-3);
}

#[test]
fn example_3_a_radiators_supply() {
    let rated = rating(&Emitter { rated_w: Some(1500.0), ..Emitter::of(EmitterKind::Radiator) }).expect("rated");
    let excess = |heat: f64| rated.excess_k * (heat / rated.rated_w).powf(1.0 / rated.exponent);
    near(rated.output_w(excess(780.0)), 780.0, 1e-9);
    near(supply_for(20.0, excess(780.0), 12.0), 56.63, 1e-3);
    near(supply_for(20.0, excess(390.0), 6.0), 40.91, 1e-3);
}

#[test]
fn example_4_a_three_way_valve() {
    // 10 L/min cooled from 41.5 to 31.8 °C
    let heat = 10.0 * 69.07 * (41.5 - 31.8);
    let s = solved(json!([
        { "id": "source", "kind": "source", "from": "a", "to": "hot", "leaves_c": 62.0 },
        { "id": "mix", "kind": "mixer", "from": "hot", "to": "mixed", "cold": "cool", "setpoint_c": 41.5 },
        pump("pump", "mixed", "supply", 10.0),
        { "id": "floors", "kind": "load", "from": "supply", "to": "cool", "heat_w": heat },
        pipe("back", "cool", "a")
    ]));
    near(link(&s, "mix").hot_share.expect("mixes"), 0.3212, 2e-3);
}

#[test]
fn example_5_tees_alone() {
    let heat = 10.0 * 69.069 * 7.0;
    let s = solved(json!([
        { "id": "source", "kind": "source", "from": "a", "to": "b", "leaves_c": 60.0 },
        pump("primary", "b", "tee", 4.0),
        pipe("between", "tee", "other"),
        pipe("home", "other", "a"),
        pump("circuit", "tee", "supply", 10.0),
        { "id": "floors", "kind": "load", "from": "supply", "to": "cool", "heat_w": heat },
        pipe("back", "cool", "other")
    ]));
    near(link(&s, "between").flow_l_min, -6.0, 1e-6);
    near(link(&s, "floors").from_c.expect("warm"), 49.5, 1e-3);
}

#[test]
fn example_6_cycling() {
    let c = cycles(3300.0, 348.0, 13.2, 8.0).expect("cycles");
    near(c.on_s, 149.7, 1e-3);
    near(c.per_h, 2.535, 1e-3);
    // with the buffer it runs for ten minutes
    near(cycles(3300.0, 348.0, 13.2 + 39.7, 8.0).expect("cycles").on_s, 600.0, 1e-3);
}

#[test]
fn example_7_a_source_that_starves() {
    let mut job = house(Arrangement::Separator);
    let source = &mut job.plant.as_mut().expect("a plant").source;
    (source.most_w, source.rise_k) = (16_500.0, 20.0);
    let size = study(job).plant.as_ref().expect("a plant").size.clone();
    // the water of the program at 45 °C carries 0.4 % less
    near(size.needs_flow_l_min, 11.94, 0.006);
}

#[test]
fn example_8_the_vessel() {
    let mut job = house(Arrangement::Separator);
    job.site.altitude_m = 640.0;
    let plant = job.plant.as_mut().expect("a plant");
    (plant.source.most_c, plant.static_m) = (80.0, Some(5.6));
    let v = study(job).plant.as_ref().expect("a plant").vessel.clone();
    // the table is for a few bar, 0.01 % denser
    near(v.expands_l / v.content_l, 999.7 / 971.8 - 1.0, 0.01);
    // by hand with g = 9.81
    near(v.fill_pa, 84_936.0, 4e-4);
    near(v.acceptance, 0.480, 2e-3);
    // the step from there to 17.9 L is a unit test of the vessel, on the example's own content
    assert!(v.chosen_l.expect("sold") >= v.least_l.expect("fits"));
}

#[test]
fn example_9_a_heat_exchanger() {
    let s = solved(json!([
        { "id": "source", "kind": "source", "from": "a", "to": "b", "leaves_c": 60.0 },
        pump("one", "b", "c", 12.0),
        { "id": "x", "kind": "exchanger", "from": "c", "to": "a", "with": "y", "ua_w_k": 1500.0 },
        pump("two", "f", "d", 8.0),
        { "id": "y", "kind": "exchanger", "from": "d", "to": "e", "with": "x", "ua_w_k": 1500.0 },
        // gives so much off that its water leaves at 30 °C
        { "id": "floors", "kind": "load", "from": "e", "to": "f", "ua_w_k": 1e6, "around_c": 30.0 }
    ]));
    near(link(&s, "x").to_c.expect("warm"), 43.69, 1e-3);
    near(link(&s, "y").to_c.expect("warm"), 54.46, 1e-3);
}

#[test]
fn example_10_a_loop_half_blocked() {
    let kink = |minor_k: f64| {
        let s = solved(json!([
            pump("pump", "a", "b", 2.0),
            { "id": "loop", "kind": "pipe", "from": "b", "to": "a", "length_m": 80, "bore_m": 0.012, "minor_k": minor_k }
        ]));
        link(&s, "loop").pressure_drop_pa
    };
    let k = (1.0 / (0.62 * 0.1) - 1.0_f64).powi(2);
    // by hand at 994 kg/m³, here 990
    near(kink(k) - kink(0.0), 9_882.0, 0.006);
}

#[test]
fn one_side_of_an_exchanger_alone_is_refused() {
    let one = json!({ "fluid": { "kind": "water" }, "pressure_node": "a", "links": [
        { "id": "x", "kind": "exchanger", "from": "a", "to": "b", "with": "y", "ua_w_k": 10.0 },
        { "id": "z", "kind": "pipe", "from": "b", "to": "a", "length_m": 1, "bore_m": 0.02 } ] });
    let refused = Network::from_json(&one.to_string()).expect_err("alone");
    assert!(refused.field.contains("links[0] (x).with"), "{refused}");
}

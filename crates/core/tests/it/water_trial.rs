//! A circuit as the network makes it: against the design, and with zones shut, without valves, half blocked.

use fuoco_core::design::Design;
use fuoco_core::job::{CheckedJob, Job, PumpChoice, PumpControl, ValvePoint};
use fuoco_core::network::CurvePoint;
use fuoco_core::samples::{box_room, job_of, manifold};
use fuoco_core::study::Study;
use fuoco_core::water::trial::{Blocked, ControlState, PortState, WaterTrial, WaterTried, try_circuit};
use std::sync::Arc;

fn demo() -> Arc<Study> {
    let job =
        fuoco_core::samples::read_job(include_str!("../../../../demo/tamarack-dance-school.json")).expect("reads");
    Study::of(&CheckedJob::new(job).expect("sound")).expect("solves")
}

/// The demo's first circuit.
fn first(study: &Study) -> WaterTrial {
    WaterTrial { circuit_id: study.circuits[0].id.clone(), ..WaterTrial::default() }
}

fn tried(study: &Study, trial: &WaterTrial) -> WaterTried {
    try_circuit(study, trial).unwrap_or_else(|e| panic!("{e}"))
}

fn port<'t>(t: &'t WaterTried, id: &str) -> &'t PortState {
    t.ports.iter().find(|p| p.id == id).expect("a port")
}

fn under(t: &WaterTried, control: PumpControl) -> &ControlState {
    t.controls.iter().find(|c| c.control == control).expect("every control")
}

#[test]
fn with_its_valves_set_every_loop_has_the_flow_of_the_design() {
    let study = demo();
    let t = tried(&study, &first(&study));
    for p in &t.ports {
        // the design takes each loop's properties at its mean temperature, the network those of its warm and of its cool half;
        // about the transition a little more viscosity changes the flow much
        let reynolds = study.loops.iter().find(|l| l.id == p.id).map_or(0.0, |l| l.reynolds);
        let close = if (1500.0..4500.0).contains(&reynolds) { 0.05 } else { 0.01 };
        assert!((p.flow_l_min / p.design_flow_l_min - 1.0).abs() < close, "{}: {p:?}", p.tag);
    }
    let sum: f64 = t.ports.iter().map(|p| p.flow_l_min).sum();
    assert!((sum - t.pump.point.flow_l_min).abs() < 1e-6 * sum, "nothing is lost between the ports and the pump");
    let heat: f64 = t.ports.iter().map(|p| p.heat_w).sum();
    let design: f64 = study.circuits[0].heat_w;
    assert!((heat / design - 1.0).abs() < 0.02, "{heat} {design}");
    assert_eq!(
        t.ports.iter().filter(|p| p.index).map(|p| p.tag.as_str()).collect::<Vec<_>>(),
        ["A5"],
        "one index loop"
    );
    for (room, d) in t.rooms.iter().map(|r| (r, study.rooms.iter().find(|d| d.id == r.id).expect("a room"))) {
        let short = d.supplement_w > 1.0;
        // a room that is given more than it needs grows warmer than it should, others are as warm as they should be
        assert!(short || room.room_c > room.set_c - 0.3, "{}: {room:?}", d.name);
    }
    // the system's curve goes through the operating point
    let at = t.pump.system.windows(2).find(|w| w[1].flow_l_min >= t.pump.point.flow_l_min).expect("drawn beyond it");
    let x = (t.pump.point.flow_l_min - at[0].flow_l_min) / (at[1].flow_l_min - at[0].flow_l_min);
    let there = at[0].head_pa + x * (at[1].head_pa - at[0].head_pa);
    assert!((there / t.pump.point.head_pa - 1.0).abs() < 0.03, "{there} {}", t.pump.point.head_pa);
}

#[test]
fn without_valves_short_loops_steal_and_long_ones_starve() {
    let study = demo();
    let (with, without) =
        (tried(&study, &first(&study)), tried(&study, &WaterTrial { without_valves: true, ..first(&study) }));
    let more = |p: &PortState| p.flow_l_min / port(&with, &p.id).flow_l_min;
    let loops = || without.ports.iter().filter(|p| p.valve.is_none() && !p.id.starts_with("f/"));
    let gains = loops().map(more).fold(0.0, f64::max);
    assert!(gains > 1.2, "the easiest loop takes more: {gains}");
    let index = without.ports.iter().filter(|p| p.index).map(more).fold(f64::MAX, f64::min);
    assert!(index < gains, "the index loop gains least: {index} of {gains}");
    let sum = |t: &WaterTried| t.ports.iter().map(|p| p.flow_l_min).sum::<f64>();
    assert!(sum(&without) > sum(&with), "less in the way");
}

#[test]
fn shut_zones_are_felt_by_a_pump_at_one_speed_and_not_by_one_that_follows() {
    let study = demo();
    let all = tried(&study, &first(&study));
    let shut: Vec<String> =
        all.ports.iter().filter(|p| !p.id.starts_with("f/")).skip(3).map(|p| p.id.clone()).collect();
    let few = tried(&study, &WaterTrial { shut: shut.clone(), ..first(&study) });
    assert!(few.ports.iter().filter(|p| p.shut).all(|p| p.flow_l_min.abs() < 1e-6 && p.return_c.is_none()));
    let (fixed, held, less) = (
        under(&few, PumpControl::FixedSpeed),
        under(&few, PumpControl::ConstantPressure),
        under(&few, PumpControl::ProportionalPressure),
    );
    assert!(fixed.port_pa > held.port_pa && held.port_pa >= less.port_pa, "{:?}", few.controls);
    assert!(fixed.fastest_m_s > held.fastest_m_s);
    assert!(fixed.electric_w > held.electric_w);
    // rooms whose loops are all shut cool down, far, since nobody else heats them
    let open = |id: &String| few.ports.iter().any(|p| p.room_ids.contains(id) && !p.shut);
    let cold: Vec<_> = few.rooms.iter().filter(|r| !open(&r.id) && r.heat_w < 1.0).collect();
    assert!(!cold.is_empty());
    for room in cold {
        assert!(room.room_c < room.set_c - 5.0, "{room:?}");
    }
    let every: Vec<String> = all.ports.iter().map(|p| p.id.clone()).collect();
    let dead = tried(&study, &WaterTrial { shut: every, ..first(&study) });
    assert!(dead.notes.iter().any(|n| n.contains("against shut valves")), "{:?}", dead.notes);
    assert!(dead.pump.point.flow_l_min.abs() < 1e-3 && dead.return_c.is_none());
}

#[test]
fn a_half_blocked_loop_loses_its_flow_and_its_room_its_heat() {
    let study = demo();
    let all = tried(&study, &first(&study));
    // the fastest: in slow water a dent is hardly felt
    let loops = all.ports.iter().filter(|p| !p.id.starts_with("f/"));
    let loop_id = loops.max_by(|a, b| a.velocity_m_s.total_cmp(&b.velocity_m_s)).expect("a loop").id.clone();
    let mut last = f64::MAX;
    for open_share in [1.0, 0.3, 0.15, 0.08] {
        let blocked = Some(Blocked { loop_id: loop_id.clone(), open_share });
        let t = tried(&study, &WaterTrial { blocked, ..first(&study) });
        let flow = port(&t, &loop_id).flow_l_min;
        assert!(flow < last, "{open_share}: {flow}");
        last = flow;
        let others = t.ports.iter().filter(|p| p.id != loop_id);
        for p in others {
            assert!((p.flow_l_min / port(&all, &p.id).flow_l_min - 1.0).abs() < 0.02, "the head is held: {}", p.tag);
        }
    }
    assert!(last < 0.8 * port(&all, &loop_id).flow_l_min, "a twelfth of the bore is felt: {last}");
}

/// A circuit of one loop by hand: with a typed pump of constant head at its full curve, the operating point is where tube,
/// port and mains take what the pump gives.
#[test]
fn a_typed_pump_meets_the_system_where_both_have_the_same_head() {
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 4.0, 4.0)]);
    job.manifolds.push(manifold("m", "A", "a", 0, 2.0));
    let study = Study::of(&CheckedJob::new(job).expect("sound")).expect("solves");
    let point = |flow_l_min, head_m| CurvePoint { flow_l_min, head_m };
    let curve = vec![point(0.0, 5.0), point(10.0, 3.0), point(20.0, 0.0)];
    let pump = Some(PumpChoice { curve, control: PumpControl::FixedSpeed, ..PumpChoice::default() });
    let t = tried(&study, &WaterTrial { pump, ..WaterTrial::default() });
    let (q, h) = (t.pump.point.flow_l_min, t.pump.point.head_pa);
    // power law through the three points: 5 − 2·(q/10)^c, c = ln(5/2)/ln 2
    let by_hand = 5.0 - 2.0 * (q / 10.0).powf(2.5_f64.ln() / 2.0_f64.ln());
    let density = 993.0;
    assert!((h / (density * 9.81) / by_hand - 1.0).abs() < 0.01, "{h} Pa, {by_hand} m at {q}");
    let p = &t.ports[0];
    let taken = p.tube_pa + p.leaders_pa + p.port_pa + p.valve_pa;
    assert!(taken < h && taken > 0.9 * h, "mains take the rest: {taken} of {h}");
}

#[test]
fn what_is_not_there_is_refused_by_name() {
    let study = demo();
    let field = |trial: WaterTrial| try_circuit(&study, &trial).expect_err("refused").field;
    assert_eq!(field(WaterTrial { circuit_id: "nowhere".into(), ..first(&study) }), "trial.circuit_id");
    let blocked = |loop_id: &str, open_share| WaterTrial {
        blocked: Some(Blocked { loop_id: loop_id.into(), open_share }),
        ..first(&study)
    };
    assert_eq!(field(blocked("no-loop", 0.5)), "trial.blocked.loop_id");
    assert_eq!(field(blocked("no-loop", 0.0)), "trial.blocked.open_share");
    let weak = PumpChoice {
        curve: vec![CurvePoint { flow_l_min: 0.0, head_m: 9.0 }, CurvePoint { flow_l_min: 2.0, head_m: 6.0 }],
        control: PumpControl::FixedSpeed,
        ..PumpChoice::default()
    };
    let past = try_circuit(&study, &WaterTrial { pump: Some(weak), ..first(&study) }).expect_err("past its end");
    assert_eq!(
        (past.field.as_str(), past.reason.as_str()),
        ("circuit Foyer side", "its pump runs past the end of its curve")
    );
}

#[test]
fn valves_are_set_by_kv_and_by_turns_of_their_own_table() {
    let mut job =
        fuoco_core::samples::read_job(include_str!("../../../../demo/tamarack-dance-school.json")).expect("reads");
    let point = |turns, kv_m3_h| ValvePoint { turns, kv_m3_h };
    let study = |table: &[ValvePoint], job: &mut Job| {
        job.manifolds.iter_mut().for_each(|m| m.valve_table = table.to_vec());
        Study::of(&CheckedJob::new(job.clone()).expect("sound")).expect("solves")
    };
    let set = study(&[point(0.25, 0.02), point(2.25, 1.02)], &mut job);
    let mut turned = 0;
    for l in &set.loops {
        let Some(valve) = l.valve else {
            assert!(l.balancing_pa <= 10.0, "{}: only what takes next to nothing is open", l.tag);
            continue;
        };
        // by hand: Kv = Q·√(ρ/1000/Δp), water of 40 °C has 992 kg/m³
        let kv = l.flow_l_min * 0.06 * (0.992 / (l.balancing_pa / 1e5)).sqrt();
        assert!((valve.kv_m3_h / kv - 1.0).abs() < 1e-3, "{}: {valve:?} {kv}", l.tag);
        // two turns for 1 m³/h, held at the table's end
        let turns = (0.25 + 2.0 * (valve.kv_m3_h - 0.02)).min(2.25);
        assert!((valve.turns.expect("within the table") - turns).abs() < 1e-9, "{}", l.tag);
        turned += 1;
    }
    assert!(turned > 5);
    let same = tried(&set, &first(&set));
    assert!(
        same.ports
            .iter()
            .filter(|p| !p.id.starts_with("f/"))
            .all(|p| p.valve == set.loops.iter().find(|l| l.id == p.id).expect("a loop").valve)
    );
    // a coarse valve: some loops would need less than it can be set to
    let coarse = study(&[point(0.5, 0.3), point(3.0, 2.0)], &mut job);
    let small: Vec<&str> =
        coarse.loops.iter().filter(|l| l.valve.is_some_and(|v| v.kv_m3_h < 0.3)).map(|l| l.id.as_str()).collect();
    let told = |study: &Study| -> Vec<String> {
        let findings = Design::of(study).findings.into_iter().filter(|f| f.code == "water.valve");
        findings.map(|f| f.subject.id).collect()
    };
    assert!(!small.is_empty() && small == told(&coarse), "{small:?} {:?}", told(&coarse));
    assert!(told(&set).is_empty());
}

#[test]
fn a_valve_table_that_does_not_rise_is_refused_by_name() {
    let refused = |points: &[[f64; 2]]| {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
        job.manifolds = vec![manifold("m", "A", "a", 3, 1.0)];
        job.manifolds[0].valve_table = points.iter().map(|&[turns, kv_m3_h]| ValvePoint { turns, kv_m3_h }).collect();
        CheckedJob::new(job).expect_err("refused").field
    };
    assert_eq!(refused(&[[1.0, 0.1]]), "manifolds[0].valve_table");
    assert_eq!(refused(&[[1.0, 0.1], [1.0, 0.2]]), "manifolds[0].valve_table[1].turns");
    assert_eq!(refused(&[[1.0, 0.1], [2.0, 0.1]]), "manifolds[0].valve_table[1].kv_m3_h");
    assert_eq!(refused(&[[1.0, 0.0], [2.0, 0.1]]), "manifolds[0].valve_table[0].kv_m3_h");
}

//! The practice rig: every lesson can be done, by the moves that its debrief calls the best, and by nothing less.

use fuoco_core::job::PumpControl;
use fuoco_core::rig::{Hand, Lesson, Move, RigCamera, RigNow, RigTrial, VERSION, camera, play, practice_job};
use fuoco_core::samples::studied;

fn begun(lesson: Lesson, seed: u64) -> RigTrial {
    RigTrial { lesson, version: VERSION, seed, moves: vec![], now_s: 60.0, units: None }
}

fn moved(trial: &mut RigTrial, hand: Hand, wait_s: f64) -> RigNow {
    trial.moves.push(Move { at_s: trial.now_s, hand });
    trial.now_s += wait_s;
    play(None, trial).expect("plays")
}

/// Plays the best moves of a lesson; what is seen at the end.
fn best(lesson: Lesson, seed: u64) -> RigNow {
    let mut t = begun(lesson, seed);
    let first = play(None, &t).expect("begins");
    assert!(first.debrief.is_none(), "{lesson:?} is not done before it begins");
    let job = practice_job().expect("a job");
    let design = fuoco_core::samples::designed(&job).expect("designs");
    let head = |m: f64| Hand::PumpHead { head_m: m };
    match lesson {
        // 1.4 m for what the practice house's loops and mains need
        Lesson::PumpSetting => moved(&mut t, head(right_head()), 60.0),
        Lesson::ResetLow => moved(&mut t, Hand::Line { by_k: 6.0 }, 5.0 * 86_400.0),
        Lesson::Balance => {
            let mut last = first;
            for l in design.loops.iter().filter(|l| l.valve.is_some()) {
                let turns = l.valve.and_then(|v| v.turns).expect("within its table");
                last = moved(&mut t, Hand::Valve { port: l.port, turns }, 60.0);
            }
            last
        }
        Lesson::Reversed => moved(&mut t, Hand::Tails, 60.0),
        Lesson::AirLock => {
            let cold = first
                .ports
                .iter()
                .min_by(|a, b| (a.meter_l_min / a.design_l_min).total_cmp(&(b.meter_l_min / b.design_l_min)));
            let port = cold.expect("ports").port;
            moved(&mut t, head(3.0), 60.0);
            moved(&mut t, Hand::Vent { port }, 60.0);
            moved(&mut t, head(right_head()), 60.0)
        }
        Lesson::MixingStuck => moved(&mut t, Hand::Mixer, 60.0),
        Lesson::NoisyZone => moved(&mut t, Hand::PumpControl { control: PumpControl::ConstantPressure }, 60.0),
        Lesson::StarvedSource => moved(&mut t, Hand::Bypass { open: 0.8 }, 60.0),
        Lesson::ColdGlycol => {
            let up = moved(&mut t, head(7.0), 7200.0);
            assert!(!up.tripped && up.fluid_c.expect("told") > 24.0, "{up:?}");
            moved(&mut t, head(right_head()), 600.0)
        }
        Lesson::LeakOrTemperature => {
            // a whole day: the slab is as warm as it was
            t.now_s = 86_400.0;
            moved(&mut t, Hand::Verdict { tight: seed.is_multiple_of(2) }, 60.0)
        }
    }
}

/// The head at which the practice house's meters are right, m: what its pump is set to where nothing is wrong with it.
fn right_head() -> f64 {
    play(None, &begun(Lesson::Reversed, 0)).expect("begins").pump.set_m
}

#[test]
fn every_lesson_is_done_by_its_best_moves() {
    for lesson in Lesson::ALL {
        for seed in 0..6 {
            let end = best(lesson, seed);
            let debrief = end.debrief.as_ref().unwrap_or_else(|| panic!("{lesson:?} {seed} is not done: {end:#?}"));
            assert_eq!(debrief.moves, debrief.best, "{lesson:?} {seed}");
            assert!(!debrief.text.is_empty());
        }
    }
}

#[test]
fn what_does_not_help_does_not_help() {
    // a stuck valve does not follow the line
    let mut t = begun(Lesson::MixingStuck, 0);
    let before = play(None, &t).expect("begins");
    let after = moved(&mut t, Hand::Line { by_k: 6.0 }, 60.0);
    assert!((after.mixed_c.expect("flows") - before.mixed_c.expect("flows")).abs() < 2.5);
    assert!(after.asked_c.expect("asked") > before.asked_c.expect("asked") + 4.0);
    assert!(after.debrief.is_none());
    // a bubble stays where the pump does not lift it
    let mut t = begun(Lesson::AirLock, 2);
    let gurgles = play(None, &t).expect("begins").ports.iter().find(|p| p.gurgles).expect("air").port;
    let after = moved(&mut t, Hand::Vent { port: gurgles }, 60.0);
    assert!(after.ports.iter().any(|p| p.gurgles) && after.says.contains("does not move"), "{}", after.says);
    // water warmer than needed is no answer to a low line
    let mut t = begun(Lesson::ResetLow, 0);
    assert!(moved(&mut t, Hand::Line { by_k: 14.0 }, 4.0 * 86_400.0).debrief.is_none());
    // a verdict before anything is proven is a guess
    for seed in [0, 1] {
        let mut t = begun(Lesson::LeakOrTemperature, seed);
        let early = moved(&mut t, Hand::Verdict { tight: seed == 0 }, 60.0);
        assert!(early.debrief.is_none(), "{:?}", early.test);
    }
}

#[test]
fn closing_a_screw_gives_its_water_to_the_others_and_the_pump_tells_it() {
    let mut t = begun(Lesson::Balance, 0);
    let before = play(None, &t).expect("begins");
    assert!(before.ports.iter().any(|p| p.meter_l_min > 1.3 * p.design_l_min));
    let after = moved(&mut t, Hand::Valve { port: 1, turns: 0.5 }, 60.0);
    let sum = |n: &RigNow, from: usize| n.ports[from..].iter().map(|p| p.meter_l_min).sum::<f64>();
    assert!(after.ports[0].meter_l_min < 0.6 * before.ports[0].meter_l_min);
    assert!(sum(&after, 1) > sum(&before, 1));
    // the same moves lead to the same house, from the beginning or from where it was kept
    let again = play(None, &t.clone()).expect("plays");
    assert_eq!(again, after);
}

#[test]
fn most_lessons_are_played_on_a_job_of_ones_own() {
    let study = studied(&practice_job().expect("a job")).expect("solves");
    for lesson in Lesson::ALL {
        let now = play(Some(&study), &begun(lesson, 1));
        if lesson.on_own_job() {
            assert_eq!(now.expect("plays").ports.len(), 6, "{lesson:?}");
        } else {
            assert_eq!(now.expect_err("practice house only").field, "trial.lesson");
        }
    }
    let bare = studied(&fuoco_core::samples::job_of(vec![])).expect("solves");
    assert_eq!(play(Some(&bare), &begun(Lesson::Balance, 0)).expect_err("no manifold").field, "job");
}

#[test]
fn what_makes_no_sense_is_named() {
    let with = |hand: Hand| RigTrial { moves: vec![Move { at_s: 0.0, hand }], ..begun(Lesson::Balance, 0) };
    for (field, trial) in [
        ("trial.version", RigTrial { version: VERSION + 1, ..begun(Lesson::Balance, 0) }),
        ("trial.now_s", RigTrial { now_s: f64::NAN, ..begun(Lesson::Balance, 0) }),
        ("trial.moves[0].hand.turns", with(Hand::Valve { port: 1, turns: -1.0 })),
        ("trial.moves[0].hand.head_m", with(Hand::PumpHead { head_m: 90.0 })),
        ("trial.moves[0].hand.by_k", with(Hand::Line { by_k: 40.0 })),
        ("trial.moves[0].hand", with(Hand::Tails)),
        ("trial.moves.hand.port", with(Hand::Actuator { port: 9, open: true })),
        ("trial.moves.hand.port", with(Hand::Actuator { port: 0, open: true })),
    ] {
        assert_eq!(play(None, &trial).expect_err("no sense").field, field);
    }
    let late = Move { at_s: 90.0, hand: Hand::Actuator { port: 1, open: true } };
    let trial = RigTrial { moves: vec![late], ..begun(Lesson::Balance, 0) };
    assert_eq!(play(None, &trial).expect_err("later than now").field, "trial.moves[0].at_s");
}

/// Mean of what the camera shows within a room, °C.
fn mean_of(c: &RigCamera, name: &str) -> f64 {
    let room = c.rooms.iter().find(|r| r.name == name).expect("seen");
    let ends = |k: usize| {
        let all = room.outline.iter().map(|p| p[k]);
        all.fold((f64::MAX, f64::MIN), |(l, h), v| (l.min(v), h.max(v)))
    };
    let (x, y) = (ends(0), ends(1));
    let (mut sum, mut n) = (0.0, 0.0);
    for (k, v) in c.surface.iter().enumerate().filter(|(_, v)| **v != 255) {
        let at = [k % c.raster.columns, k / c.raster.columns];
        let p = [0, 1].map(|i| c.raster.origin[i] + (at[i] as f64 + 0.5) * c.raster.step_m);
        if (x.0..x.1).contains(&p[0]) && (y.0..y.1).contains(&p[1]) {
            (sum, n) = (sum + c.raster.low_c + f64::from(*v) * c.raster.per_k, n + 1.0);
        }
    }
    sum / n
}

#[test]
fn the_camera_sees_the_cold_loop_and_what_the_meters_say() {
    let trial = begun(Lesson::AirLock, 3);
    let now = play(None, &trial).expect("begins");
    let shot = camera(None, &trial).expect("a picture");
    let cold = now.ports.iter().find(|p| p.gurgles).expect("air");
    for p in &now.ports {
        let (seen, said) = (mean_of(&shot, &p.room), p.surface_c.expect("a floor"));
        // the camera of a port has its noise, the picture its steps
        assert!((seen - said).abs() < 2.5, "{}: {seen} {said}", p.room);
        assert!(p.room == cold.room || seen > mean_of(&shot, &cold.room) + 3.0, "{}", p.room);
    }
    let none = camera(None, &begun(Lesson::LeakOrTemperature, 0)).expect_err("no water");
    assert_eq!(none.field, "trial.lesson");
}

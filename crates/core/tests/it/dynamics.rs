//! The house in time: heat is kept account of, slabs are slow and panels quick, what is asked wrongly is named.

use fuoco_core::dynamics::{InTime, TimeControl, TimeSpan, TimeTrial, TimeVariant, in_time, in_time_watched};
use fuoco_core::job::{CheckedJob, HeatSource, Job, JobKind, Plant, Start};
use fuoco_core::samples::{box_room, job_of, manifold, read_job, studied, window};
use fuoco_core::survey::climate::read_epw;
use fuoco_core::survey::hours::{WeatherHour, hours};

const EPW: &str = include_str!("../../../../demo/alderfell.epw");

/// Two rooms on slabs, one with a window.
fn house() -> Job {
    let mut living = box_room("living", 0.0, 0.0, 6.0, 5.0);
    living.openings.push(window("w", 0, 1.0, 2.0, 1.5));
    let mut job = job_of(vec![living, box_room("study", 6.12, 0.0, 9.0, 5.0)]);
    job.manifolds.push(manifold("m", "A", "living", 1, 2.0));
    job.rooms[0].openings.push(fuoco_core::samples::doorway("d", 1, 0.5, 0.9));
    job.site.weather = Some(read_epw(EPW).expect("reads"));
    job
}

fn year() -> Vec<WeatherHour> {
    hours(EPW).expect("reads")
}

fn told(job: &Job, trial: &TimeTrial) -> InTime {
    let year = year();
    in_time(&studied(job).expect("solved"), trial, Some(&year)).expect("followed")
}

fn of(span: TimeSpan, variants: Vec<TimeVariant>) -> TimeTrial {
    TimeTrial { span, variants, ..TimeTrial::default() }
}

fn variant(control: TimeControl, setback_k: f64) -> TimeVariant {
    TimeVariant { control, setback_k, ..TimeVariant::default() }
}

#[test]
fn heat_is_kept_account_of() {
    let trial = of(TimeSpan::Year, vec![variant(TimeControl::Both, 0.0), variant(TimeControl::Thermostat, 3.0)]);
    for run in told(&house(), &trial).runs {
        // the floor's modes leave out what follows at once
        assert!(run.balance_error < 1e-3, "{}", run.balance_error);
        assert!((run.months_j.iter().sum::<f64>() - run.heat_j).abs() < 1e-6 * run.heat_j);
        assert!(run.months_j[0] > 3.0 * run.months_j[6], "winter over summer: {:?}", run.months_j);
        assert!((run.rooms.iter().map(|r| r.heat_j).sum::<f64>() - run.heat_j).abs() < 1e-6 * run.heat_j);
    }
}

#[test]
fn a_warm_up_ends_where_the_design_is() {
    let job = house();
    let design = studied(&job).expect("solved");
    let run = &told(&job, &of(TimeSpan::WarmUp, vec![variant(TimeControl::Reset, 0.0)])).runs[0];
    let end = run.course.last().expect("a course");
    let loops: f64 = design.loops.iter().map(|l| l.output_up_w + l.output_down_w).sum();
    // two models of a room, one without mass: within a tenth
    assert!((end.heat_w - loops).abs() < 0.1 * loops, "{} {loops}", end.heat_w);
    assert!((end.felt_c - 20.0).abs() < 1.0, "{}", end.felt_c);
    let begin = run.course.first().expect("a course");
    assert!(begin.felt_c < 10.0 && begin.heat_w > end.heat_w, "{begin:?}");
    assert!(run.course.windows(2).all(|w| w[1].felt_c > w[0].felt_c - 0.05), "it only warms");
}

#[test]
fn a_slab_is_slow_and_a_panel_is_quick() {
    let panel = TimeVariant { build_up_id: Some("panel-slab".into()), ..variant(TimeControl::Thermostat, 0.0) };
    let warm = told(&house(), &of(TimeSpan::WarmUp, vec![variant(TimeControl::Thermostat, 0.0), panel.clone()]));
    let hours = |k: usize| warm.runs[k].rooms[0].warm_h.expect("warms");
    assert!(hours(0) > hours(1) + 2.0, "{} {}", hours(0), hours(1));
    // a night's set-back saves more where the floor follows
    let saves = |variant: &TimeVariant| {
        let set_back = TimeVariant { setback_k: 4.0, ..variant.clone() };
        let runs = told(&house(), &of(TimeSpan::Week, vec![variant.clone(), set_back])).runs;
        assert!(runs[1].heat_j < runs[0].heat_j && runs[1].rooms[0].felt_c[0] <= runs[0].rooms[0].felt_c[0]);
        1.0 - runs[1].heat_j / runs[0].heat_j
    };
    let (slab, quick) = (saves(&variant(TimeControl::Thermostat, 0.0)), saves(&panel));
    assert!(slab > 0.0 && quick > slab, "{slab} {quick}");
}

#[test]
fn thermostats_swing_and_reset_hardly_does() {
    let both = of(TimeSpan::Week, vec![variant(TimeControl::Thermostat, 0.0), variant(TimeControl::Both, 0.0)]);
    let runs = told(&house(), &TimeTrial { from_day: Some(100), ..both.clone() }).runs;
    let starts = |k: usize| runs[k].starts;
    assert!(starts(0) > starts(1), "{} {}", starts(0), starts(1));
    let hottest = |k: usize| runs[k].course.iter().filter_map(|p| p.supply_c).fold(0.0, f64::max);
    assert!(hottest(0) > hottest(1), "{} {}", hottest(0), hottest(1));
    assert_eq!(told(&house(), &both).from_day, Some(coldest_day()));
}

/// The first day of the coldest week, by adding up.
fn coldest_day() -> u32 {
    let year = year();
    let sum = |d: u32| (0..168).map(|h| year[d as usize * 24 + h].air_c).sum::<f64>();
    (0..=358).min_by(|a, b| sum(*a).total_cmp(&sum(*b))).expect("a day")
}

#[test]
fn a_power_cut_cools_a_slab_slowly_and_a_small_source_takes_longer() {
    let cut = TimeVariant { cut_h: Some([48.0, 60.0]), ..variant(TimeControl::Both, 0.0) };
    let runs = told(&house(), &of(TimeSpan::Week, vec![variant(TimeControl::Both, 0.0), cut])).runs;
    let coolest =
        |k: usize| runs[k].course.iter().filter(|p| p.time_s > 172_800.0).map(|p| p.felt_c).fold(99.0, f64::min);
    assert!(coolest(1) < coolest(0) - 0.5 && coolest(1) > coolest(0) - 8.0, "{} {}", coolest(0), coolest(1));
    assert!(runs[1].course.iter().filter(|p| (172_900.0..215_000.0).contains(&p.time_s)).all(|p| p.supply_c.is_none()));
    let warm = |most_w: f64| {
        let mut job = house();
        let design = fuoco_core::design::design(&CheckedJob::new(job.clone()).unwrap()).unwrap();
        let plant = design.plant_to_begin.expect("a load");
        job.plant = Some(Plant { source: HeatSource { most_w, least_w: 500.0, ..plant.source.clone() }, ..plant });
        told(&job, &TimeTrial::default()).runs[0].rooms[0].warm_h.unwrap_or(f64::INFINITY)
    };
    assert!(warm(2500.0) > warm(9000.0));
}

#[test]
fn the_demo_is_followed_and_so_are_its_costs() {
    let demo = read_job(include_str!("../../../../demo/tamarack-dance-school.json")).expect("sound");
    let priced = TimeTrial { price_kwh: Some(0.12), ..of(TimeSpan::Year, vec![variant(TimeControl::Both, 0.0)]) };
    let run = &told(&demo, &priced).runs[0];
    assert!(run.balance_error < 1e-3, "{}", run.balance_error);
    let kwh = run.taken_j / 3.6e6;
    assert!((run.cost.expect("priced") - 0.12 * kwh).abs() < 1e-9 && kwh > 10_000.0 && kwh < 60_000.0, "{kwh}");
    assert!(run.rooms.iter().all(|r| r.felt_c[0] > 5.0 && r.felt_c[1] < 45.0), "{:?}", run.rooms);
    assert!(run.condensing.is_some_and(|c| c > 0.9), "floors let it condense");
}

/// The room with the window, through the sunniest of the heated days.
fn in_the_sun(control: TimeControl, sun: f64, sun_on_floor: f64) -> fuoco_core::dynamics::TimeRun {
    let variants = vec![TimeVariant { sun, ..variant(control, 0.0) }];
    let trial = TimeTrial { sun_on_floor, ..of(TimeSpan::Sun, variants) };
    told(&house(), &trial).runs.remove(0)
}

#[test]
fn sun_on_a_floor_takes_heat_off_its_water() {
    let run = in_the_sun(TimeControl::Reset, 1.0, 0.6);
    // the day in the middle has the most sun, though an hour of its neighbours may have more
    let day = |d: usize| run.course.iter().filter(move |p| (p.time_s / 86_400.0) as usize == d);
    let sun = |d: usize| day(d).map(|p| p.sun_w).sum::<f64>();
    assert!(sun(1) >= sun(0) && sun(1) >= sun(2), "{} {} {}", sun(0), sun(1), sun(2));
    let height = day(1).max_by(|a, b| a.sun_w.total_cmp(&b.sun_w)).expect("a course");
    assert!(height.sun_w > 500.0, "{height:?}");
    let curtained = in_the_sun(TimeControl::Reset, 0.0, 0.6);
    let same = |of: &fuoco_core::dynamics::TimeRun| {
        let point = of.course.iter().find(|p| p.time_s == height.time_s).expect("the same steps");
        (point.water_w, point.surface_c.expect("a floor"), point.felt_c)
    };
    let (lit, dark) = (same(&run), same(&curtained));
    // with water that runs all the time the floor gives less by itself, by no more than comes in
    assert!(lit.0 < dark.0 - 0.1 * height.sun_w && lit.0 > dark.0 - height.sun_w, "{lit:?} {dark:?}");
    assert!(lit.1 > dark.1 + 0.5 && lit.2 > dark.2 + 0.3, "{lit:?} {dark:?}");
    // what falls on the floor is felt later than what falls elsewhere
    let beside = same(&in_the_sun(TimeControl::Reset, 1.0, 0.0));
    assert!(beside.1 < lit.1 && beside.2 > lit.2, "{beside:?} {lit:?}");
    // wherever it falls, heat is kept account of
    assert!(
        [&run, &curtained].iter().all(|r| r.balance_error < 1e-3),
        "{} {}",
        run.balance_error,
        curtained.balance_error
    );
    // and a thermostat shuts what the sun does
    let warmest = |r: &fuoco_core::dynamics::TimeRun| r.rooms[0].felt_c[1];
    assert!(warmest(&in_the_sun(TimeControl::Both, 1.0, 0.6)) < warmest(&run));
}

#[test]
fn a_sunny_day_needs_no_weather_file_and_days_begin_where_they_should() {
    let mut job = house();
    job.site.weather = None;
    let told = in_time(&studied(&job).expect("solved"), &of(TimeSpan::Sun, vec![TimeVariant::default()]), None)
        .expect("followed");
    let sun = |day: std::ops::Range<f64>| {
        let within = told.runs[0].course.iter().filter(|p| day.contains(&(p.time_s / 3600.0)));
        within.map(|p| p.sun_w).fold(0.0, f64::max)
    };
    assert!(
        told.from_day.is_none() && sun(24.0..48.0) > 3.0 * sun(0.0..24.0),
        "{} {}",
        sun(24.0..48.0),
        sun(0.0..24.0)
    );
    // a house that is followed from within its winter begins with floors that give what it needs
    let week = &self::told(&house(), &of(TimeSpan::Week, vec![variant(TimeControl::Both, 0.0)])).runs[0];
    let (first, last) = (&week.course[0], week.course.last().expect("a course"));
    assert!(first.heat_w > 0.5 * last.heat_w && first.heat_w < 2.0 * last.heat_w, "{} {}", first.heat_w, last.heat_w);
}

#[test]
fn a_run_that_nobody_waits_for_ends() {
    let (watch, year) = (fuoco_core::watch::Watch::default(), year());
    let study = studied(&house()).expect("solved");
    let trial = of(TimeSpan::Year, vec![TimeVariant::default()]);
    in_time_watched(&study, &trial, Some(&year), &watch).expect("followed");
    assert!(watch.share() > 0.99, "{}", watch.share());
    watch.stop();
    assert_eq!(in_time_watched(&study, &trial, Some(&year), &watch).unwrap_err().field, "document");
}

#[test]
fn what_cannot_be_is_named() {
    let study = studied(&house()).expect("solved");
    let refused =
        |trial: TimeTrial, year: Option<&[WeatherHour]>| in_time(&study, &trial, year).expect_err("refused").field;
    let one = |change: &dyn Fn(&mut TimeVariant)| {
        let mut v = TimeVariant::default();
        change(&mut v);
        refused(of(TimeSpan::WarmUp, vec![v]), None)
    };
    assert_eq!(one(&|v| v.differential_k = 0.0), "trial.variants[0].differential_k");
    assert_eq!(one(&|v| v.setback_k = 20.0), "trial.variants[0].setback_k");
    assert_eq!(one(&|v| v.setback_from_h = 25), "trial.variants[0].setback_from_h");
    assert_eq!(one(&|v| v.sun = 1.5), "trial.variants[0].sun");
    assert_eq!(refused(TimeTrial { sun_on_floor: 1.0, ..TimeTrial::default() }, None), "trial.sun_on_floor");
    assert_eq!(one(&|v| v.cut_h = Some([5.0, 2.0])), "trial.variants[0].cut_h[1]");
    assert_eq!(one(&|v| v.build_up_id = Some("moss".into())), "trial.variants[0].build_up_id");
    assert_eq!(refused(of(TimeSpan::WarmUp, vec![]), None), "trial.variants");
    assert_eq!(refused(TimeTrial { price_kwh: Some(-1.0), ..TimeTrial::default() }, None), "trial.price_kwh");
    assert_eq!(refused(TimeTrial { from_day: Some(364), ..TimeTrial::default() }, None), "trial.from_day");
    assert_eq!(refused(TimeTrial { room_id: Some("attic".into()), ..TimeTrial::default() }, None), "trial.room_id");
    assert_eq!(refused(of(TimeSpan::Year, vec![TimeVariant::default()]), None), "site.weather");
    let short: Vec<WeatherHour> = year()[..3].to_vec();
    assert_eq!(refused(of(TimeSpan::Year, vec![TimeVariant::default()]), Some(&short)), "site.weather");
    let drive = studied(&Start { kind: Some(JobKind::Outdoors), ..Start::named("Drive") }.job()).expect("solved");
    assert_eq!(in_time(&drive, &TimeTrial::default(), None).unwrap_err().field, "outdoors");
}

//! `cargo bench -p fuoco-core`: the stages of a design and the whole of it, on the demo job.

use fuoco_core::floor::{Section, curve};
use fuoco_core::job::Job;
use fuoco_core::{climate, design, heat_loss, layout, library, samples};

fn main() {
    divan::main();
}

fn demo() -> Job {
    Job::from_json(include_str!("../../../demo/tamarack-dance-school.json")).expect("the demo job is sound")
}

#[divan::bench]
fn heat_loss_of_the_demo(bencher: divan::Bencher) {
    let job = demo();
    bencher.bench(|| heat_loss::heat_loss(divan::black_box(&job)));
}

#[divan::bench]
fn curve_of_one_floor(bencher: divan::Bencher) {
    let (Some(build_up), Some(covering), Some(tube)) =
        (library::build_up("slab"), library::covering("tile"), library::tube("pex-16x2"))
    else {
        return;
    };
    let section = Section { build_up, covering, tube, spacing_m: 0.2, insulation_m2k_w: 2.0, below_m2k_w: 0.17 };
    bencher.bench(|| curve(divan::black_box(&section)));
}

#[divan::bench]
fn layout_of_the_demo(bencher: divan::Bencher) {
    let job = demo();
    bencher.bench(|| layout::lay_out(divan::black_box(&job)));
}

#[divan::bench]
fn audit_of_the_demo(bencher: divan::Bencher) {
    let job = demo();
    let layout = layout::lay_out(&job);
    bencher.bench(|| layout::audit::audit(divan::black_box(&job), divan::black_box(&layout.loops)));
}

#[divan::bench]
fn coverage_of_the_demo(bencher: divan::Bencher) {
    let job = demo();
    let layout = layout::lay_out(&job);
    bencher.bench(|| layout::audit::coverage(divan::black_box(&job), divan::black_box(&layout.loops)));
}

#[divan::bench]
fn whole_design_of_the_demo(bencher: divan::Bencher) {
    let job = demo();
    bencher.bench(|| design::design(divan::black_box(&job)));
}

/// Sixty rooms on three levels, each with a window and a doorway.
#[divan::bench]
fn heat_loss_of_60_rooms(bencher: divan::Bencher) {
    let job = samples::building(3, 20);
    bencher.bench(|| heat_loss::heat_loss(divan::black_box(&job)));
}

#[divan::bench(sample_count = 10)]
fn whole_design_of_60_rooms(bencher: divan::Bencher) {
    let job = samples::building(3, 20);
    bencher.bench(|| design::design(divan::black_box(&job)));
}

#[divan::bench]
fn weather_file(bencher: divan::Bencher) {
    let text = include_str!("../../../demo/alderfell.epw");
    bencher.bench(|| climate::read_epw(divan::black_box(text)));
}

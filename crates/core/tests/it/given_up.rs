//! Work that nobody waits for ends early, and leaves nothing behind.

use fuoco_core::job::CheckedJob;
use fuoco_core::samples::building;
use fuoco_core::study::Study;
use fuoco_core::watch::Watch;

#[test]
fn a_study_that_is_given_up_is_none_and_the_next_one_is_whole() {
    let job = CheckedJob::new(building(1, 8)).expect("sound");
    let gone = Watch::default();
    gone.stop();
    let refused = Study::of_watched(&job, &gone).map(|_| ()).expect_err("given up");
    assert!(refused.reason.contains("nobody waits"), "{refused}");
    let whole = Study::of(&job).expect("studies");
    assert!(!whole.loops.is_empty(), "nothing of the study that was given up is kept");
}

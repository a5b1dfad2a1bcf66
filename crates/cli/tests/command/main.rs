//! The command as scripts use it, and the server as a careless or hostile client does.

mod calculators;
#[path = "../common/mod.rs"]
mod common;
mod jobs;

use common::FUOCO;
use std::process::Command;

fn run(args: &[&str]) -> (Option<i32>, String, String) {
    let out = Command::new(FUOCO).args(args).output().expect("fuoco runs");
    let text = |b: &[u8]| String::from_utf8_lossy(b).into_owned();
    (out.status.code(), text(&out.stdout), text(&out.stderr))
}

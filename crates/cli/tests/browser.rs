//! The browser suite in `e2e/`, run against the real server on a free port with a temporary data folder.
//! Pictures for the documentation are taken when `FUOCO_SHOTS` names a folder.

mod common;

use common::Server;
use std::path::Path;
use std::process::Command;

#[test]
fn browser_suite() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    assert!(root.join("web/dist/index.html").is_file(), "the front end is not built: run `cargo xtask web` first");
    assert!(root.join("e2e/node_modules").is_dir(), "the suite is not installed: `cargo xtask test` does it");
    let data = tempfile::tempdir().expect("a temporary folder");
    let server = Server::start(data.path(), &["--demo"]);
    let mut suite = Command::new(if cfg!(windows) { "npx.cmd" } else { "npx" });
    suite.args(["--no-install", "playwright", "test"]).current_dir(root.join("e2e")).env("FUOCO_URL", &server.address);
    if std::env::var_os("FUOCO_SHOTS").is_some() {
        suite.arg("shots");
    }
    let status = suite.status().expect("npx runs");
    assert!(status.success(), "the browser suite failed");
}

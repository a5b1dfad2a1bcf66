//! The browser suite in `e2e/`, run against the real server on a free port with a temporary data folder.
//! Pictures for the documentation are taken when `FUOCO_SHOTS` names a folder.

mod common;

use common::{FUOCO, Server};
use std::io::Write;
use std::path::Path;
use std::process::{Command, Stdio};

/// A firm's server: encrypted, everybody signs in.
struct Office {
    server: Server,
    _folder: tempfile::TempDir,
}

impl Office {
    fn start() -> Office {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let path = |name: &str| folder.path().join(name).to_string_lossy().into_owned();
        let data = path("data");
        for (name, role) in [("Ada", "owner"), ("Ben", "designer"), ("Cleo", "crew")] {
            let mut add = Command::new(FUOCO)
                .args(["user", "add", name, "--role", role, "--data", &data])
                .stdin(Stdio::piped())
                .spawn()
                .expect("fuoco runs");
            add.stdin.take().expect("input").write_all(b"seven warm floors\n").expect("a password");
            assert!(add.wait().expect("ends").success(), "{name}");
        }
        let tls = path("tls");
        let made = Command::new(FUOCO).args(["certificate", "localhost", "127.0.0.1", "--out", &tls]).status();
        assert!(made.expect("fuoco runs").success());
        let [cert, key] = ["server.pem", "server-key.pem"].map(|f| format!("{tls}/{f}"));
        let options = ["--demo", "--name", "localhost", "--tls-cert", &cert, "--tls-key", &key];
        Office { server: Server::start(Path::new(&data), &options), _folder: folder }
    }
}

#[test]
fn browser_suite() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    assert!(root.join("web/dist/index.html").is_file(), "the front end is not built: run `cargo xtask web` first");
    assert!(root.join("e2e/node_modules").is_dir(), "the suite is not installed: `cargo xtask test` does it");
    let data = tempfile::tempdir().expect("a temporary folder");
    let server = Server::start(data.path(), &["--demo"]);
    let office = Office::start();
    let mut suite = Command::new(if cfg!(windows) { "npx.cmd" } else { "npx" });
    suite.args(["--no-install", "playwright", "test"]).current_dir(root.join("e2e")).env("FUOCO_URL", &server.address);
    suite.env("FUOCO_OFFICE_URL", &office.server.address);
    if std::env::var_os("FUOCO_SHOTS").is_some() {
        suite.arg("shots");
    }
    let status = suite.status().expect("npx runs");
    assert!(status.success(), "the browser suite failed");
}

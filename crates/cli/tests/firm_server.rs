//! The command as whoever looks after a firm's server uses it.

mod common;

use common::{FUOCO, Server};
use std::io::Write;
use std::path::Path;
use std::process::{Command, Stdio};

const PASSWORD: &str = "seven warm floors";

fn run(args: &[&str], input: &str) -> (Option<i32>, String, String) {
    let mut child = Command::new(FUOCO)
        .args(args)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .expect("fuoco runs");
    // it may have refused its arguments before it reads
    let _ = child.stdin.take().expect("input").write_all(input.as_bytes());
    let out = child.wait_with_output().expect("ends");
    let text = |b: &[u8]| String::from_utf8_lossy(b).into_owned();
    (out.status.code(), text(&out.stdout), text(&out.stderr))
}

fn path(folder: &Path, name: &str) -> String {
    folder.join(name).to_string_lossy().into_owned()
}

#[test]
fn beyond_this_machine_it_says_what_is_missing() {
    let folder = tempfile::tempdir().expect("folder");
    let data = path(folder.path(), "data");
    let beyond = |more: &[&str]| {
        let args: Vec<&str> =
            ["serve", "--data", &data, "--bind", "0.0.0.0:0"].into_iter().chain(more.iter().copied()).collect();
        let (code, _, err) = run(&args, "");
        assert_eq!(code, Some(2), "{err}");
        assert_eq!(err.trim().lines().count(), 1, "{err}");
        err
    };
    assert!(beyond(&[]).contains("--tls-cert"));
    assert!(beyond(&["--behind-proxy", "10.0.0.2"]).contains("--name"));
    assert!(beyond(&["--behind-proxy", "10.0.0.2", "--name", "office.example"]).contains("fuoco user add"));
    assert!(beyond(&["--behind-proxy", "10.0.0.2", "--name", "https://office.example"]).contains("--name: \"https"));
    let gone = path(folder.path(), "gone.pem");
    assert!(beyond(&["--tls-cert", &gone, "--tls-key", &gone, "--name", "office.example"]).contains("--tls-cert"));
}

#[test]
fn people_are_added_changed_and_taken_off_by_the_command() {
    let folder = tempfile::tempdir().expect("folder");
    let data = path(folder.path(), "data");
    let user = |args: &[&str], input: &str| {
        let all: Vec<&str> = ["user"].into_iter().chain(args.iter().copied()).chain(["--data", &data]).collect();
        run(&all, input)
    };
    let (code, out, err) = user(&["add", "Ada", "--role", "owner"], &format!("{PASSWORD}\n"));
    assert_eq!((code, out.trim()), (Some(0), "Ada may sign in as owner"), "{err}");
    let (code, _, err) = user(&["add", "Ben", "--role", "crew"], "short\n");
    assert!(code == Some(2) && err.contains("password: must have 12 to 200 characters"), "{err}");
    assert_eq!(user(&["add", "Ben", "--role", "crew"], &format!("{PASSWORD}\n")).0, Some(0));
    let (_, list, _) = user(&["list"], "");
    assert!(list.lines().count() == 2 && list.contains("Ben\tcrew"), "{list}");
    assert_eq!(user(&["role", "Ben", "designer"], "").0, Some(0));
    assert!(user(&["list"], "").1.contains("Ben\tdesigner"));
    assert_eq!(user(&["password", "ben"], "eight warmer floors\n").0, Some(0));
    let (code, _, err) = user(&["remove", "Ada"], "");
    assert!(code == Some(2) && err.contains("somebody must be owner"), "{err}");
    let (code, _, err) = user(&["remove", "Zoe"], "");
    assert!(code == Some(2) && err.contains("there is no person \"Zoe\""), "{err}");
    assert_eq!(user(&["remove", "Ben"], "").0, Some(0));
    let (code, _, err) = run(&["user", "list", "--data", &path(folder.path(), "elsewhere")], "");
    assert!(code == Some(1) && err.contains("no jobs are kept"), "{err}");
}

#[test]
fn a_certificate_is_made_for_names_and_keys_are_private() {
    let folder = tempfile::tempdir().expect("folder");
    let out = path(folder.path(), "tls");
    let (code, said, err) = run(&["certificate", "office.example", "192.168.1.5", "--out", &out], "");
    assert_eq!(code, Some(0), "{err}");
    assert!(said.contains("--name office.example --name 192.168.1.5") && said.contains("authority.pem"), "{said}");
    let read = |name: &str| std::fs::read_to_string(Path::new(&out).join(name)).expect(name);
    let (authority, first) = (read("authority.pem"), read("server.pem"));
    assert!(first.starts_with("-----BEGIN CERTIFICATE-----"));
    #[cfg(unix)]
    for key in ["authority-key.pem", "server-key.pem"] {
        use std::os::unix::fs::PermissionsExt;
        let mode = std::fs::metadata(Path::new(&out).join(key)).expect(key).permissions().mode();
        assert_eq!(mode & 0o077, 0, "{key}");
    }
    // another one is of the same authority, which phones trust already
    assert_eq!(run(&["certificate", "office.example", "--out", &out], "").0, Some(0));
    assert_eq!(read("authority.pem"), authority);
    assert_ne!(read("server.pem"), first);
    for wrong in ["not a name", "-x.example", "office..example", ""] {
        let (code, _, err) = run(&["certificate", "office.example", "--out", &out, "--", wrong], "");
        assert!(code == Some(2) && err.contains("NAMES"), "{wrong}: {err}");
    }
}

#[test]
fn one_server_has_a_folder_and_a_check_and_a_backup_go_beside_it() {
    let kept = tempfile::tempdir().expect("folder");
    let _server = Server::start(kept.path(), &["--demo"]);
    let data = kept.path().to_string_lossy().into_owned();
    let (code, _, err) = run(&["serve", "--data", &data, "--bind", "127.0.0.1:0"], "");
    assert!(code == Some(1) && err.contains("another Fuoco serves this folder"), "{err}");
    let (code, out, err) = run(&["check", "--data", &data], "");
    assert!(code == Some(0) && out.contains("2 jobs, 2 revisions, 1 files looked at"), "{out} {err}");
    let folder = tempfile::tempdir().expect("folder");
    let to = folder.path().to_string_lossy().into_owned();
    let (code, out, err) = run(&["backup", &to, "--data", &data], "");
    assert!(code == Some(0) && Path::new(out.trim()).is_file(), "{out} {err}");
    let restored = path(folder.path(), "restored");
    assert_eq!(run(&["restore", out.trim(), "--data", &restored], "").0, Some(0));
    assert_eq!(run(&["check", "--data", &restored], "").0, Some(0));
}

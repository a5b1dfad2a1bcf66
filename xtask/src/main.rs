//! Set-up, demo and tests of the whole project.
//!
//! `cargo xtask demo` sets everything up and starts Fuoco with the demo job. `cargo xtask test` sets everything up
//! and runs every check and test.

mod dist;
mod weather;

use std::env;
use std::fs;
use std::path::{Path, PathBuf};
use std::process::{Command, ExitCode};
use std::time::Instant;

const HELP: &str = "\
cargo xtask COMMAND
  demo     set up and start Fuoco with the demo job (more arguments go to `fuoco serve`)
  test     set up and run every check and test
  web      set up and build the front end
  client   make the TypeScript client anew from the server's API
  weather  make the invented year of the demo's place anew
  shots    take the pictures in docs/screenshots anew
  bench    run the benchmarks
  dist     make dist/: the optimised program, service files, licences, bill of materials, checksums
  audit    look for known weaknesses in the dependencies, with `cargo audit` and `npm audit`
  fuzz     design jobs made wrong by number for [SECONDS], 60 unless said, beginning at [NUMBER]
  torture  kill the server in the middle of saves, [ROUNDS] times, 110 unless said
  load     [PEOPLE] at once for [SECONDS], 50 and 60 unless said: how long they wait
";

fn main() -> ExitCode {
    let mut args = env::args().skip(1);
    let command = args.next().unwrap_or_default();
    let rest: Vec<String> = args.collect();
    let done = match command.as_str() {
        "demo" => demo(&rest),
        "test" => test(),
        "web" => web(),
        "client" => client(),
        "weather" => fs::write(root().join("demo/alderfell.epw"), weather::epw()).map_err(|e| e.to_string()),
        "dist" => dist::dist(),
        "audit" => dist::audit(),
        "shots" => shots(),
        "fuzz" => fuzz(&rest),
        "torture" => torture(&rest),
        "load" => load(&rest),
        "bench" => run(cargo(["bench", "--workspace", "--benches"])),
        _ => {
            print!("{HELP}");
            return if command.is_empty() || command == "help" { ExitCode::SUCCESS } else { ExitCode::from(2) };
        }
    };
    match done {
        Ok(()) => ExitCode::SUCCESS,
        Err(reason) => {
            eprintln!("xtask: {reason}");
            ExitCode::FAILURE
        }
    }
}

type Done = Result<(), String>;

/// The project's folder, by where cargo runs this from: clones that share a target folder share this binary too.
fn root() -> PathBuf {
    let here =
        env::var_os("CARGO_MANIFEST_DIR").map_or_else(|| PathBuf::from(env!("CARGO_MANIFEST_DIR")), PathBuf::from);
    here.parent().map(Path::to_path_buf).unwrap_or_default()
}

fn step(what: &str) -> Instant {
    println!("── {what}");
    Instant::now()
}

fn run(mut command: Command) -> Done {
    let status = command.status().map_err(|e| format!("{}: {e}", command.get_program().display()))?;
    if status.success() { Ok(()) } else { Err(format!("{command:?} failed")) }
}

fn timed(what: &str, command: Command) -> Done {
    let start = step(what);
    run(command)?;
    println!("   {:.0} s", start.elapsed().as_secs_f64());
    Ok(())
}

fn cargo<const N: usize>(args: [&str; N]) -> Command {
    let mut c = Command::new(env::var("CARGO").unwrap_or_else(|_| "cargo".into()));
    c.args(args).current_dir(root());
    c
}

fn npm<const N: usize>(folder: &str, args: [&str; N]) -> Command {
    let mut c = Command::new(if cfg!(windows) { "npm.cmd" } else { "npm" });
    c.args(args).current_dir(root().join(folder));
    c
}

/// Installs a folder's packages unless they are as the lock file says.
fn packages(folder: &str) -> Done {
    let dir = root().join(folder);
    let lock = fs::read(dir.join("package-lock.json")).map_err(|e| format!("{folder}/package-lock.json: {e}"))?;
    let stamp = dir.join("node_modules").join(".fuoco-lock");
    if fs::read(&stamp).is_ok_and(|s| s == lock) {
        return Ok(());
    }
    timed(&format!("packages of {folder}"), npm(folder, ["ci", "--no-audit", "--no-fund", "--ignore-scripts"]))?;
    fs::write(&stamp, lock).map_err(|e| e.to_string())
}

/// Builds the front end.
fn web() -> Done {
    packages("web")?;
    timed("front end", npm("web", ["run", "--silent", "build"]))
}

fn demo(rest: &[String]) -> Done {
    web()?;
    step("Fuoco (the first build takes ten minutes or more)");
    let mut c = cargo(["run", "--quiet", "--package", "fuoco-cli", "--bin", "fuoco", "--", "serve", "--demo"]);
    c.args(rest);
    run(c)
}

/// Jobs made wrong by number, for as long as one likes.
fn fuzz(rest: &[String]) -> Done {
    let mut c = cargo(["test", "--quiet", "--package", "fuoco-core", "--test", "it", "--", "fuzz::", "--nocapture"]);
    c.env("FUOCO_FUZZ_SECONDS", rest.first().map_or("60", String::as_str));
    c.env("FUOCO_FUZZ_FROM", rest.get(1).map_or("0", String::as_str));
    run(c)
}

/// The server killed in the middle of saves.
fn torture(rest: &[String]) -> Done {
    web()?;
    let mut c = cargo(["test", "--quiet", "--package", "fuoco-cli", "--test", "torture", "--", "--nocapture"]);
    c.env("FUOCO_TORTURE_ROUNDS", rest.first().map_or("110", String::as_str));
    run(c)
}

/// Many people at once, on the program as it is shipped.
fn load(rest: &[String]) -> Done {
    web()?;
    let mut c =
        cargo(["test", "--release", "--quiet", "--package", "fuoco-cli", "--test", "load", "--", "--nocapture"]);
    c.env("FUOCO_LOAD_PEOPLE", rest.first().map_or("50", String::as_str));
    c.env("FUOCO_LOAD_SECONDS", rest.get(1).map_or("60", String::as_str));
    run(c)
}

/// The program as the tests run it: the same build, so that nothing is compiled twice.
fn fuoco() -> Result<PathBuf, String> {
    timed("programs and tests built", cargo(["test", "--workspace", "--no-run", "--quiet"]))?;
    let mut c = cargo(["metadata", "--no-deps", "--format-version", "1"]);
    let out = c.output().map_err(|e| e.to_string())?;
    let text = String::from_utf8_lossy(&out.stdout);
    let folder = text.split("\"target_directory\":\"").nth(1).and_then(|t| t.split('"').next());
    let folder = folder.ok_or("cargo metadata names no target folder")?;
    Ok(Path::new(folder).join("debug").join(format!("fuoco{}", env::consts::EXE_SUFFIX)))
}

fn openapi() -> Result<String, String> {
    let out = Command::new(fuoco()?).arg("openapi").output().map_err(|e| e.to_string())?;
    if !out.status.success() {
        return Err(format!("fuoco openapi: {}", String::from_utf8_lossy(&out.stderr)));
    }
    String::from_utf8(out.stdout).map_err(|e| e.to_string())
}

/// Writes `web/openapi.json` and the TypeScript types made from it.
fn client() -> Done {
    packages("web")?;
    fs::write(root().join("web/openapi.json"), openapi()?).map_err(|e| e.to_string())?;
    run(npm("web", ["run", "--silent", "client"]))
}

/// Fails when the committed client is not what `client` would write.
fn client_is_current() -> Done {
    step("TypeScript client is current");
    let files = ["web/openapi.json", "web/src/api/schema.generated.ts", "web/src/api/fields.generated.json"]
        .map(|f| root().join(f));
    let before: Vec<_> = files.iter().map(|f| fs::read_to_string(f).unwrap_or_default()).collect();
    client()?;
    let after: Vec<_> = files.iter().map(|f| fs::read_to_string(f).unwrap_or_default()).collect();
    if before == after {
        Ok(())
    } else {
        Err("the TypeScript client was stale; `cargo xtask client` has renewed it, commit that".into())
    }
}

/// Finds Chromium, or installs it from Debian's packages where that is possible.
fn chromium() -> Done {
    let found = || {
        env::var_os("CHROMIUM").map(PathBuf::from).or_else(|| {
            let path = env::var_os("PATH")?;
            env::split_paths(&path)
                .flat_map(|p| ["chromium", "chromium-browser"].map(|n| p.join(n)))
                .find(|p| p.is_file())
        })
    };
    if found().is_some() {
        return Ok(());
    }
    step("Chromium from Debian's packages");
    let apt = |args: &[&str]| {
        Command::new("apt-get").args(args).env("DEBIAN_FRONTEND", "noninteractive").status().is_ok_and(|s| s.success())
    };
    if (apt(&["install", "-y", "--no-install-recommends", "chromium"])
        || (apt(&["update"]) && apt(&["install", "-y", "--no-install-recommends", "chromium"])))
        && found().is_some()
    {
        return Ok(());
    }
    Err("the browser tests need Chromium: install the package `chromium`, or name its binary in CHROMIUM".into())
}

fn test() -> Done {
    let start = Instant::now();
    packages("web")?;
    packages("e2e")?;
    chromium()?;
    timed("formatting", cargo(["fmt", "--all", "--check"]))?;
    timed("clippy", cargo(["clippy", "--workspace", "--all-targets", "--quiet", "--", "-D", "warnings"]))?;
    timed("front end", npm("web", ["run", "--silent", "build"]))?;
    client_is_current()?;
    timed("types of the front end", npm("web", ["run", "--silent", "check"]))?;
    timed("lint of the front end", npm("web", ["run", "--silent", "lint"]))?;
    timed("tests of the front end's own functions", npm("web", ["run", "--silent", "test"]))?;
    timed("types of the browser suite", npm("e2e", ["run", "--silent", "check"]))?;
    timed("tests (the browser suite among them)", cargo(["test", "--workspace", "--quiet"]))?;
    println!("── all checks and tests passed in {:.0} s", start.elapsed().as_secs_f64());
    Ok(())
}

/// Takes the pictures of the documentation from the demo job.
fn shots() -> Done {
    web()?;
    packages("e2e")?;
    chromium()?;
    let mut c = cargo(["test", "--quiet", "--package", "fuoco-cli", "--test", "browser"]);
    c.env("FUOCO_SHOTS", root().join("docs/screenshots"));
    run(c)
}

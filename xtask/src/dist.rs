//! What is given to others: one program with the front end inside, how to run it as a service, what it is made of, checksums.

use crate::{Done, cargo, root, run, step, web};
use serde_json::{Value, json};
use sha2::{Digest, Sha256};
use std::collections::BTreeMap;
use std::fs;
use std::path::{Path, PathBuf};
use std::process::Command;

/// Runs Fuoco as a service of systemd; the folder of its data is its own.
const SERVICE: &str = "\
[Unit]
Description=Fuoco, a design tool for radiant floors
After=network.target

[Service]
ExecStart=/usr/local/bin/fuoco serve --data /var/lib/fuoco --bind 127.0.0.1:8642 --backups /var/lib/fuoco/backups
# for the whole firm: add --bind 0.0.0.0:8642 --tls-cert ... --tls-key ... --name ..., see docs/operations.md
DynamicUser=yes
StateDirectory=fuoco
StateDirectoryMode=0700
Restart=on-failure
NoNewPrivileges=yes
ProtectSystem=strict
ProtectHome=yes
PrivateTmp=yes
PrivateDevices=yes
RestrictAddressFamilies=AF_INET AF_INET6 AF_UNIX
SystemCallFilter=@system-service
MemoryMax=1G

[Install]
WantedBy=multi-user.target
";

/// A container with the program and nothing else of ours; put it behind a proxy that encrypts, or give it a certificate.
const CONTAINERFILE: &str = "\
FROM docker.io/library/debian:stable-slim
COPY fuoco /usr/local/bin/fuoco
RUN useradd --system --home /data fuoco && install -d -o fuoco -m 0700 /data
USER fuoco
VOLUME /data
EXPOSE 8642
ENTRYPOINT [\"/usr/local/bin/fuoco\"]
CMD [\"serve\", \"--data\", \"/data\", \"--bind\", \"127.0.0.1:8642\"]
";

/// A part of the program that others wrote.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
struct Part {
    name: String,
    version: String,
    licence: String,
    /// Package URL without its version: "pkg:cargo/serde".
    url: String,
}

fn text(value: &Value, key: &str) -> String {
    value[key].as_str().unwrap_or("").to_owned()
}

/// The crates that are linked in, from `cargo metadata`: what the command needs on any way that is no test or build step.
fn crates(metadata: &Value) -> Vec<Part> {
    let packages: BTreeMap<String, &Value> =
        metadata["packages"].as_array().into_iter().flatten().map(|p| (text(p, "id"), p)).collect();
    let nodes: BTreeMap<String, &Value> =
        metadata["resolve"]["nodes"].as_array().into_iter().flatten().map(|n| (text(n, "id"), n)).collect();
    let mut wanted: Vec<String> =
        packages.values().filter(|p| p["name"] == "fuoco-cli").map(|p| text(p, "id")).collect();
    let mut seen = BTreeMap::new();
    while let Some(id) = wanted.pop() {
        if seen.contains_key(&id) {
            continue;
        }
        for dep in nodes.get(&id).and_then(|n| n["deps"].as_array()).into_iter().flatten() {
            let linked = dep["dep_kinds"].as_array().into_iter().flatten().any(|k| k["kind"].is_null());
            if linked {
                wanted.push(text(dep, "pkg"));
            }
        }
        seen.insert(id.clone(), packages.get(&id).copied());
    }
    let mut parts: Vec<Part> = seen
        .into_values()
        .flatten()
        // our own have no source
        .filter(|p| !p["source"].is_null())
        .map(|p| Part {
            name: text(p, "name"),
            version: text(p, "version"),
            licence: text(p, "license"),
            url: format!("pkg:cargo/{}", text(p, "name")),
        })
        .collect();
    parts.sort();
    parts
}

/// The packages of the front end, from its lock file: those that are no tools of its making.
fn packages_of_the_page(lock: &Value) -> Vec<Part> {
    let mut parts: Vec<Part> = lock["packages"]
        .as_object()
        .into_iter()
        .flatten()
        // of the tool that makes the service worker, what runs in the browser is shipped
        .filter(|(path, p)| !path.is_empty() && p["link"] != true && (p["dev"] != true || in_service_worker(path)))
        .map(|(path, p)| {
            let name = path.rsplit("node_modules/").next().unwrap_or(path).to_owned();
            let url = format!("pkg:npm/{}", name.replace('@', "%40"));
            Part { name, version: text(p, "version"), licence: text(p, "license"), url }
        })
        .collect();
    parts.sort();
    parts.dedup();
    parts
}

/// What of the service worker's maker runs in the browser.
fn in_service_worker(path: &str) -> bool {
    let name = path.rsplit("node_modules/").next().unwrap_or(path);
    name.starts_with("workbox-") && name != "workbox-build"
}

/// The bill of materials as CycloneDX 1.5.
fn bill(parts: &[Part], version: &str, commit: &str) -> Value {
    let component = |p: &Part| {
        json!({
            "type": "library", "name": p.name, "version": p.version, "purl": format!("{}@{}", p.url, p.version),
            "licenses": [{ "expression": p.licence.replace('/', " OR ") }],
        })
    };
    json!({
        "bomFormat": "CycloneDX", "specVersion": "1.5", "version": 1,
        "metadata": { "component": { "type": "application", "name": "fuoco", "version": format!("{version}+{commit}") } },
        "components": parts.iter().map(component).collect::<Vec<_>>(),
    })
}

fn read_json(command: &mut Command) -> Result<Value, String> {
    let out = command.output().map_err(|e| format!("{command:?}: {e}"))?;
    serde_json::from_slice(&out.stdout).map_err(|e| format!("{command:?}: {e}"))
}

fn write(folder: &Path, name: &str, text: &str) -> Done {
    fs::write(folder.join(name), text).map_err(|e| format!("{name}: {e}"))
}

/// `SHA256SUMS` of everything else in a folder.
fn checksums(folder: &Path) -> Result<String, String> {
    let mut names: Vec<PathBuf> =
        fs::read_dir(folder).map_err(|e| e.to_string())?.filter_map(|e| Some(e.ok()?.path())).collect();
    names.sort();
    let mut out = String::new();
    for path in names {
        let name = path.file_name().unwrap_or_default().to_string_lossy().into_owned();
        if name == "SHA256SUMS" || !path.is_file() {
            continue;
        }
        let bytes = fs::read(&path).map_err(|e| format!("{name}: {e}"))?;
        let sum: String = Sha256::digest(bytes).iter().map(|b| format!("{b:02x}")).collect();
        out += &format!("{sum}  {name}\n");
    }
    Ok(out)
}

/// Makes `dist/`.
pub fn dist() -> Done {
    web()?;
    let git = Command::new("git").args(["rev-parse", "--short=12", "HEAD"]).current_dir(root()).output();
    let commit = git.ok().filter(|o| o.status.success()).map(|o| String::from_utf8_lossy(&o.stdout).trim().to_owned());
    let commit = commit.unwrap_or_else(|| "unknown".into());
    step("the program, optimised (ten minutes or more on two cores)");
    let mut build = cargo(["build", "--release", "--locked", "--package", "fuoco-cli", "--quiet"]);
    build.env("FUOCO_COMMIT", &commit);
    run(build)?;
    let metadata = read_json(&mut cargo(["metadata", "--format-version", "1", "--locked"]))?;
    let folder = root().join("dist");
    fs::create_dir_all(&folder).map_err(|e| format!("dist: {e}"))?;
    let name = format!("fuoco{}", std::env::consts::EXE_SUFFIX);
    let built = Path::new(&text(&metadata, "target_directory")).join("release").join(&name);
    fs::copy(&built, folder.join(&name)).map_err(|e| format!("{}: {e}", built.display()))?;
    let lock = fs::read_to_string(root().join("web/package-lock.json")).map_err(|e| e.to_string())?;
    let lock: Value = serde_json::from_str(&lock).map_err(|e| format!("web/package-lock.json: {e}"))?;
    let parts: Vec<Part> = crates(&metadata).into_iter().chain(packages_of_the_page(&lock)).collect();
    if let Some(p) = parts.iter().find(|p| p.licence.is_empty()) {
        return Err(format!("{} {} says no licence", p.name, p.version));
    }
    let version = env!("CARGO_PKG_VERSION");
    let listed: String = parts.iter().map(|p| format!("{} {}: {}\n", p.name, p.version, p.licence)).collect();
    write(&folder, "LICENCES.txt", &format!("Fuoco {version} is MIT OR Apache-2.0. It contains:\n\n{listed}"))?;
    let bill = serde_json::to_string_pretty(&bill(&parts, version, &commit)).map_err(|e| e.to_string())?;
    write(&folder, "bill-of-materials.cdx.json", &bill)?;
    write(&folder, "fuoco.service", SERVICE)?;
    write(&folder, "Containerfile", CONTAINERFILE)?;
    write(&folder, "SHA256SUMS", &checksums(&folder)?)?;
    println!("   dist/ has {} parts of others in it, commit {commit}", parts.len());
    Ok(())
}

/// Looks whether known weaknesses are in what is built from, with the tools of both registries.
pub fn audit() -> Done {
    step("crates (cargo audit)");
    let crates = run(cargo(["audit"]));
    if crates.is_err() {
        println!("   where it is missing: cargo install cargo-audit --locked");
    }
    step("packages of the front end (npm audit)");
    let npm = if cfg!(windows) { "npm.cmd" } else { "npm" };
    let mut page = Command::new(npm);
    page.args(["audit", "--omit=dev"]).current_dir(root().join("web"));
    crates.and(run(page))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_linked_in_is_listed_and_tools_are_not() {
        let dep = |pkg: &str, kind: Value| json!({ "pkg": pkg, "dep_kinds": [{ "kind": kind }] });
        let package = |id: &str, source: Value| json!({ "id": id, "name": id, "version": "1.0.0", "license": "MIT", "source": source });
        let metadata = json!({
            "packages": [package("fuoco-cli", Value::Null), package("fuoco-core", Value::Null), package("serde", json!("r")),
                package("tester", json!("r")), package("builder", json!("r"))],
            "resolve": { "nodes": [
                { "id": "fuoco-cli", "deps": [dep("fuoco-core", Value::Null), dep("tester", json!("dev"))] },
                { "id": "fuoco-core", "deps": [dep("serde", Value::Null), dep("builder", json!("build"))] },
                { "id": "serde", "deps": [] }, { "id": "tester", "deps": [] }, { "id": "builder", "deps": [] },
            ] },
        });
        let names: Vec<String> = crates(&metadata).into_iter().map(|p| p.name).collect();
        assert_eq!(names, ["serde"]);
        let lock = json!({ "packages": {
            "": { "name": "web" },
            "node_modules/vue": { "version": "3.5.0", "license": "MIT" },
            "node_modules/@scope/part": { "version": "1.2.3", "license": "Apache-2.0" },
            "node_modules/vite": { "version": "8.0.0", "license": "MIT", "dev": true },
        } });
        let parts = packages_of_the_page(&lock);
        assert_eq!(parts.iter().map(|p| p.name.as_str()).collect::<Vec<_>>(), ["@scope/part", "vue"]);
        let bill = bill(&parts, "0.1.0", "abc");
        assert_eq!(bill["components"][0]["purl"], "pkg:npm/%40scope/part@1.2.3");
        assert_eq!(bill["metadata"]["component"]["version"], "0.1.0+abc");
    }

    #[test]
    fn this_projects_own_parts_all_say_their_licence() {
        let lock = fs::read_to_string(root().join("web/package-lock.json")).expect("the lock file");
        let parts = packages_of_the_page(&serde_json::from_str(&lock).expect("JSON"));
        assert!(parts.len() > 5 && parts.iter().any(|p| p.name == "vue"));
        let silent: Vec<&Part> = parts.iter().filter(|p| p.licence.is_empty()).collect();
        assert!(silent.is_empty(), "{silent:?}");
    }
}

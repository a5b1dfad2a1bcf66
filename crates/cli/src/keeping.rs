//! What keeps a firm's server: people, certificates, backups, checks.

use crate::{Failure, failed, folder, print};
use clap::{Args, Subcommand};
use fuoco_server::{KEPT_DAILY, KEPT_MONTHLY, health::COMMIT, on_store};
use fuoco_store::{Person, Role, Store, StoreError};
use rcgen::{
    BasicConstraints, CertificateParams, DnType, ExtendedKeyUsagePurpose, IsCa, Issuer, KeyPair, KeyUsagePurpose,
};
use std::io::{BufRead, IsTerminal, Write};
use std::net::IpAddr;
use std::path::{Path, PathBuf};
use std::sync::LazyLock;
use time::{Duration, OffsetDateTime};

/// What `fuoco --version` says: the program, the commit, the formats.
pub static VERSION: LazyLock<String> =
    LazyLock::new(|| format!("{} (commit {COMMIT}, job file {})", env!("CARGO_PKG_VERSION"), fuoco_core::job::VERSION));

/// Browsers take no certificate that is good for longer.
const SERVER_DAYS: i64 = 820;
const AUTHORITY_DAYS: i64 = 3650;

#[derive(Args)]
pub struct Kept {
    /// Folder of the database [default: fuoco in the user's data folder]
    #[arg(long, value_name = "DIR")]
    data: Option<PathBuf>,
}

#[derive(Subcommand)]
pub enum User {
    /// Let somebody sign in; the password is asked for, or read from standard input
    Add {
        /// The name to sign in with
        name: String,
        /// owner, designer, crew or viewer
        #[arg(long, value_parser = ["owner", "designer", "crew", "viewer"])]
        role: String,
        #[command(flatten)]
        kept: Kept,
    },
    /// Who may sign in
    List {
        #[command(flatten)]
        kept: Kept,
    },
    /// Another password for somebody who has lost theirs; they are signed out everywhere
    Password {
        /// Their name
        name: String,
        #[command(flatten)]
        kept: Kept,
    },
    /// Another role for somebody
    Role {
        /// Their name
        name: String,
        /// owner, designer, crew or viewer
        #[arg(value_parser = ["owner", "designer", "crew", "viewer"])]
        role: String,
        #[command(flatten)]
        kept: Kept,
    },
    /// Somebody may no longer sign in
    Remove {
        /// Their name
        name: String,
        #[command(flatten)]
        kept: Kept,
    },
}

/// The password, twice from a terminal, or one line of standard input.
fn password() -> Result<String, Failure> {
    let broken = |e: std::io::Error| failed(1, format!("password: {e}"));
    if !std::io::stdin().is_terminal() {
        let mut line = String::new();
        std::io::stdin().lock().read_line(&mut line).map_err(broken)?;
        return Ok(line.trim_end_matches(['\r', '\n']).to_owned());
    }
    let first = rpassword::prompt_password("Password: ").map_err(broken)?;
    let again = rpassword::prompt_password("The same again: ").map_err(broken)?;
    if first == again { Ok(first) } else { Err(failed(2, "password: the two are not the same")) }
}

fn named(people: Vec<Person>, name: &str) -> Result<Person, StoreError> {
    let found = people.into_iter().find(|p| p.name.eq_ignore_ascii_case(name.trim()));
    found.ok_or_else(|| StoreError::NoPerson(name.into()))
}

/// Wrong input ends with 2, anything else with 1.
fn told(e: fuoco_server::ServeError) -> Failure {
    use fuoco_server::ServeError;
    let code = if matches!(e, ServeError::Store(StoreError::Unreadable(_) | StoreError::NoPerson(_))) { 2 } else { 1 };
    match e {
        ServeError::Store(StoreError::Unreadable(field)) => failed(code, field),
        other => failed(code, other),
    }
}

fn role_of(code: &str) -> Role {
    Role::of_code(code).unwrap_or(Role::Viewer)
}

impl User {
    pub fn run(self) -> Result<(), Failure> {
        match self {
            User::Add { name, role, kept } => {
                let data = folder(kept.data)?;
                // the first one may be added before the server has ever run
                if !data.join("fuoco.db").is_file() {
                    fuoco_server::begin(&data).map_err(told)?;
                }
                let password = password()?;
                let role = role_of(&role);
                let added = on_store(&data, async move |store: Store| store.add_person(&name, role, &password).await);
                let added = added.map_err(told)?;
                print(&format!("{} may sign in as {}", added.name, added.role.code()))
            }
            User::List { kept } => {
                let people = on_store(&folder(kept.data)?, async |store: Store| store.people().await).map_err(told)?;
                people.iter().try_for_each(|p| print(&format!("{}\t{}\tsince {}", p.name, p.role.code(), p.created_at)))
            }
            User::Password { name, kept } => {
                let password = password()?;
                on_store(&folder(kept.data)?, async move |store: Store| {
                    store.set_password(&named(store.people().await?, &name)?.id, &password).await
                })
                .map_err(told)
            }
            User::Role { name, role, kept } => on_store(&folder(kept.data)?, async move |store: Store| {
                store.set_role(&named(store.people().await?, &name)?.id, role_of(&role)).await
            })
            .map_err(told),
            User::Remove { name, kept } => on_store(&folder(kept.data)?, async move |store: Store| {
                store.remove_person(&named(store.people().await?, &name)?.id).await
            })
            .map_err(told),
        }
    }
}

/// Writes a backup: as that file, or in that folder under the time.
pub fn back_up(data: &Path, to: &Path) -> Result<(), Failure> {
    let (file, by_rule) = (to.to_owned(), to.is_dir());
    let written = on_store(data, async move |store: Store| {
        if by_rule {
            return store.back_up_by_rule(&file, KEPT_DAILY, KEPT_MONTHLY).await.map(Some);
        }
        store.back_up(&file).await?;
        fuoco_store::verify(&file).await?;
        Ok(None)
    });
    match written.map_err(told)? {
        Some(file) => print(&file.display().to_string()),
        None => Ok(()),
    }
}

/// Looks at everything and tells what is damaged.
pub fn check(data: &Path) -> Result<(), Failure> {
    let found = on_store(data, async |store: Store| store.check().await).map_err(told)?;
    found.complaints.iter().try_for_each(|c| print(c))?;
    print(&format!("{} jobs, {} revisions, {} files looked at", found.jobs, found.revisions, found.files))?;
    match found.complaints.len() {
        0 => Ok(()),
        n => Err(failed(1, format!("{n} of what is stored is damaged; restore the last backup that is sound"))),
    }
}

/// Writes a file that only its owner may read.
fn write_private(file: &Path, text: &str) -> Result<(), Failure> {
    let mut options = std::fs::OpenOptions::new();
    options.write(true).create(true).truncate(true);
    #[cfg(unix)]
    std::os::unix::fs::OpenOptionsExt::mode(&mut options, 0o600);
    let written = options.open(file).and_then(|mut f| f.write_all(text.as_bytes()));
    written.map_err(|e| failed(1, format!("{}: {e}", file.display())))
}

/// That all of them are names of hosts or addresses: no scheme, no port.
pub fn check_names(option: &str, names: &[String]) -> Result<(), Failure> {
    let wrong = |n: &&String| n.parse::<IpAddr>().is_err() && !is_host(n);
    names
        .iter()
        .find(wrong)
        .map_or(Ok(()), |name| Err(failed(2, format!("{option}: \"{name}\" is no name of a host and no address"))))
}

/// "office.example": labels of letters, digits and hyphens (RFC 1123).
fn is_host(name: &str) -> bool {
    let label = |l: &str| {
        (1..=63).contains(&l.len())
            && l.bytes().all(|b| b.is_ascii_alphanumeric() || b == b'-')
            && !l.starts_with('-')
            && !l.ends_with('-')
    };
    name.len() <= 253 && name.split('.').all(label)
}

/// A private authority in a folder, made once, and a certificate of it for these names.
pub fn certificate(names: &[String], out: &Path) -> Result<(), Failure> {
    check_names("NAMES", names)?;
    let broken = |e: rcgen::Error| failed(2, format!("NAMES: {e}"));
    let at = |name: &str| out.join(name);
    std::fs::create_dir_all(out).map_err(|e| failed(1, format!("--out: {}: {e}", out.display())))?;
    let read =
        |name: &str| std::fs::read_to_string(at(name)).map_err(|e| failed(1, format!("{}: {e}", at(name).display())));
    let now = OffsetDateTime::now_utc();
    let good_for = |params: &mut CertificateParams, days: i64| {
        // clocks of phones are a little off
        params.not_before = now - Duration::days(1);
        params.not_after = now + Duration::days(days);
    };
    if !at("authority-key.pem").exists() {
        let mut params = CertificateParams::default();
        params.distinguished_name.push(DnType::CommonName, "Fuoco, our own authority");
        params.is_ca = IsCa::Ca(BasicConstraints::Constrained(0));
        params.key_usages = vec![KeyUsagePurpose::KeyCertSign, KeyUsagePurpose::CrlSign];
        good_for(&mut params, AUTHORITY_DAYS);
        let key = KeyPair::generate().map_err(broken)?;
        let authority = params.self_signed(&key).map_err(broken)?;
        write_private(&at("authority-key.pem"), &key.serialize_pem())?;
        std::fs::write(at("authority.pem"), authority.pem()).map_err(|e| failed(1, format!("authority.pem: {e}")))?;
    }
    let key = KeyPair::from_pem(&read("authority-key.pem")?).map_err(broken)?;
    let authority = Issuer::from_ca_cert_pem(&read("authority.pem")?, key).map_err(broken)?;
    let mut params = CertificateParams::new(names.to_vec()).map_err(broken)?;
    params.distinguished_name.push(DnType::CommonName, names[0].as_str());
    params.key_usages = vec![KeyUsagePurpose::DigitalSignature];
    params.extended_key_usages = vec![ExtendedKeyUsagePurpose::ServerAuth];
    params.use_authority_key_identifier_extension = true;
    good_for(&mut params, SERVER_DAYS);
    let server = KeyPair::generate().map_err(broken)?;
    let signed = params.signed_by(&server, &authority).map_err(broken)?;
    write_private(&at("server-key.pem"), &server.serialize_pem())?;
    std::fs::write(at("server.pem"), signed.pem()).map_err(|e| failed(1, format!("server.pem: {e}")))?;
    let called: String = names.iter().map(|n| format!(" --name {n}")).collect();
    let folder = out.display();
    print(&format!(
        "The certificate is good for {SERVER_DAYS} days; make another one then, with the same authority.\n\
         Serve with it:\n  fuoco serve --bind 0.0.0.0:8642 --tls-cert {folder}/server.pem --tls-key {folder}/server-key.pem{called}\n\
         Every computer and phone has to trust {folder}/authority.pem once: docs/operations.md says how.\n\
         Keep {folder}/authority-key.pem to yourself: whoever has it can make certificates that your phones trust."
    ))
}

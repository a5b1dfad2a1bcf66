//! Fuoco's HTTP API and its front end. Handlers are thin: they read, call the core or the store, and answer;
//! errors are RFC 9457 problems with the path of the field at fault.

mod access;
mod api;
mod body;
mod cooling;
mod firm;
mod floor;
mod guard;
pub mod health;
mod history;
mod instruments;
mod links;
mod live;
mod log;
mod loops;
mod materials;
mod openapi;
mod outdoors;
mod pages;
mod papers;
mod patience;
mod people;
mod plant;
pub mod problem;
mod records;
mod rig;
mod survey;
mod time;
mod work;

use chrono::{DateTime, SecondsFormat, Utc};
use fuoco_core::error::FieldError;
use fuoco_core::job::{CheckedJob, Firm, LARGEST_TEXT};
use fuoco_core::records::Record;
use fuoco_store::{Purged, Role, Store, StoreError};
use rocket::config::{Ident, LogLevel, Shutdown, TlsConfig};
use rocket::data::{Limits, ToByteUnit};
use rocket::fairing::AdHoc;
use rocket::tokio::time::sleep;
use serde_json::Value;
use std::net::{IpAddr, SocketAddr};
use std::path::{Path, PathBuf};
use std::time::{Duration, SystemTime};
use thiserror::Error;

pub use access::Reach;
pub use instruments::{Instrument, simulate};
pub use openapi::{document, job_schema};

/// How to serve.
#[derive(Debug, Clone)]
pub struct Options {
    /// Folder of the database.
    pub data: PathBuf,
    /// Where to listen; port 0 for any free one.
    pub bind: SocketAddr,
    /// Certificate and key, PEM.
    pub tls: Option<(PathBuf, PathBuf)>,
    /// The only addresses that may connect: proxies that do the encrypting.
    pub proxies: Vec<IpAddr>,
    /// Names and addresses by which browsers call it, besides loopback's.
    pub names: Vec<String>,
    /// Folder for a backup every day; none: none are made.
    pub backups: Option<PathBuf>,
    /// Instruments that the app may read.
    pub instruments: Vec<Instrument>,
    /// Put the demo job in when there is none of its name yet.
    pub demo: bool,
}

/// Why the server did not start, or stopped.
#[derive(Debug, Error)]
pub enum ServeError {
    /// Beyond loopback passwords must not travel in the clear.
    #[error(
        "--bind {0}: beyond this machine Fuoco is served encrypted: give --tls-cert and --tls-key (`fuoco certificate` makes them), or --behind-proxy"
    )]
    NotEncrypted(IpAddr),
    /// Beyond loopback everybody signs in, and somebody must be able to.
    #[error(
        "--bind {0}: beyond this machine everybody signs in, and nobody can yet: `fuoco user add NAME --role owner`"
    )]
    NoOwner(IpAddr),
    /// Requests are answered under known names only.
    #[error(
        "--bind {0}: say by which names and addresses browsers call this server: --name office.example --name 192.168.1.5"
    )]
    NoName(IpAddr),
    /// Certificate and key cannot be used.
    #[error("a certificate or key does not read: {0}")]
    Certificate(String),
    /// The store did not open.
    #[error(transparent)]
    Store(#[from] StoreError),
    /// The address is taken, or another failure of the server.
    #[error("cannot serve: {0}")]
    Rocket(String),
}

/// Daily and monthly backups that are kept.
pub const KEPT_DAILY: usize = 14;
/// See [`KEPT_DAILY`].
pub const KEPT_MONTHLY: usize = 12;
/// Connections and files that are open at a time, as far as the system allows it.
const MOST_OPEN: u64 = 8192;
/// The demo job that ships with the program.
pub const DEMO: &str = include_str!("../../../demo/tamarack-dance-school.json");
/// The forecourt before it, kept free of snow: a job of its own.
pub const DEMO_OUTDOORS: &str = include_str!("../../../demo/alderfell-forecourt.json");
/// The invented year of its place.
pub const DEMO_YEAR: &str = include_str!("../../../demo/alderfell.epw");
/// What its crew has written down so far, by hours before it is put in.
pub const DEMO_RECORDS: &str = include_str!("../../../demo/records.json");
/// The invented firm that designs it.
pub const DEMO_FIRM: &str = include_str!("../../../demo/firm.json");

/// Serves until it is told to stop; prints the address once it listens.
///
/// # Errors
/// See [`ServeError`].
pub fn serve(options: Options) -> Result<(), ServeError> {
    let ip = options.bind.ip();
    let exposed = !ip.is_loopback() || !options.proxies.is_empty() || options.tls.is_some();
    if exposed && options.tls.is_none() && options.proxies.is_empty() {
        return Err(ServeError::NotEncrypted(ip));
    }
    if exposed && options.names.is_empty() {
        return Err(ServeError::NoName(ip));
    }
    let reach = Reach { exposed, names: options.names.clone(), proxies: options.proxies.clone() };
    // a client that hoards connections leaves room for others: as many as the system lets this program have
    if let Err(e) = rlimit::increase_nofile_limit(MOST_OPEN) {
        tracing::warn!(error = %e, "limit of open connections");
    }
    rocket::execute(async move {
        // before a newer program brings the database to its version under an older one that still runs
        let _hold = fuoco_store::hold(&options.data)?;
        let store = Store::open(&options.data).await?;
        if exposed && !store.people().await?.iter().any(|p| p.role == Role::Owner) {
            return Err(ServeError::NoOwner(ip));
        }
        for complaint in store.complaints().await? {
            eprintln!("fuoco: {complaint}");
        }
        if options.demo {
            let outdoors = CheckedJob::from_json(DEMO_OUTDOORS).map_err(StoreError::from)?;
            if !store.list().await?.iter().any(|j| j.name == outdoors.name) {
                store.add_file(survey::EPW, DEMO_YEAR.as_bytes()).await?;
                store.add(outdoors).await?;
            }
            let demo = CheckedJob::from_json(DEMO).map_err(StoreError::from)?;
            if !store.list().await?.iter().any(|j| j.name == demo.name) {
                store.add_file(survey::EPW, DEMO_YEAR.as_bytes()).await?;
                let id = store.add(demo).await?.id;
                for record in demo_records(SystemTime::now()).map_err(StoreError::from)? {
                    store.add_record(&id, &record).await?;
                }
            }
            if store.firm().await?.revision == 0 {
                store.keep_firm(0, &Firm::from_json(DEMO_FIRM).map_err(StoreError::from)?).await?;
            }
        }
        let rocket = build(
            store.clone(),
            Listen { bind: options.bind, reach, tls: options.tls, instruments: options.instruments },
        )
        .ignite()
        .await
        .map_err(|e| ServeError::Rocket(e.to_string()))?;
        let upkeep = rocket::tokio::spawn(look_after(store.clone(), options.backups));
        let outcome = rocket.launch().await;
        upkeep.abort();
        store.close().await;
        outcome.map(drop).map_err(|e| ServeError::Rocket(e.to_string()))
    })
}

/// The demo's records, as they would have been written before that time.
///
/// # Errors
/// When the file does not read.
pub fn demo_records(now: SystemTime) -> Result<Vec<Record>, FieldError> {
    let wrong = |e: &dyn std::fmt::Display| FieldError::new("demo/records.json", e.to_string());
    let rows: Vec<serde_json::Map<String, Value>> = serde_json::from_str(DEMO_RECORDS).map_err(|e| wrong(&e))?;
    rows.into_iter()
        .map(|mut row| {
            let hours = row.remove("hours_ago").and_then(|h| h.as_f64()).unwrap_or(0.0);
            let at = DateTime::<Utc>::from(now - Duration::from_secs_f64(hours * 3600.0));
            row.insert("at".into(), Value::from(at.to_rfc3339_opts(SecondsFormat::Millis, true)));
            Record::from_json(&Value::Object(row).to_string())
        })
        .collect()
}

/// What is done once a day, beginning a minute after the start.
async fn look_after(store: Store, backups: Option<PathBuf>) {
    const FIRST: Duration = Duration::from_secs(60);
    const DAILY: Duration = Duration::from_secs(24 * 3600);
    sleep(FIRST).await;
    loop {
        match store.purge().await {
            Ok(gone) if gone != Purged::default() => tracing::info!(?gone, "purged"),
            Ok(_) => {}
            Err(e) => tracing::error!(error = %e, "purge"),
        }
        match store.complaints().await {
            Ok(complaints) => complaints.iter().for_each(|c| tracing::error!(complaint = %c, "check")),
            Err(e) => tracing::error!(error = %e, "check"),
        }
        if let Some(folder) = &backups {
            match store.back_up_by_rule(folder, KEPT_DAILY, KEPT_MONTHLY).await {
                Ok(file) => tracing::info!(file = %file.display(), "backup"),
                Err(e) => tracing::error!(error = %e, "backup"),
            }
        }
        sleep(DAILY).await;
    }
}

/// Makes the store of a data folder that has none.
///
/// # Errors
/// See [`ServeError`].
pub fn begin(data: &Path) -> Result<(), ServeError> {
    rocket::execute(async {
        Store::open(data).await?.close().await;
        Ok(())
    })
}

/// Does something with the store of a data folder, whether a server runs on it or not. The store makes what is missing, so a folder
/// without one is refused: it is mistyped.
///
/// # Errors
/// See [`ServeError`].
pub fn on_store<T, F>(data: &Path, f: impl FnOnce(Store) -> F + Send) -> Result<T, ServeError>
where
    T: Send,
    F: Future<Output = Result<T, StoreError>> + Send,
{
    rocket::execute(async {
        if !data.join("fuoco.db").is_file() {
            let missing = std::io::Error::other(format!("--data: no jobs are kept in {}", data.display()));
            return Err(StoreError::Folder(missing).into());
        }
        let store = Store::open(data).await?;
        let done = f(store.clone()).await;
        store.close().await;
        Ok(done?)
    })
}

/// Makes a new data folder of such a file.
///
/// # Errors
/// See [`ServeError`].
pub fn restore(file: &Path, data: &Path) -> Result<(), ServeError> {
    rocket::execute(async {
        fuoco_store::restore(file, data).await?.close().await;
        Ok(())
    })
}

/// Where and for whom to listen.
#[derive(Debug, Clone)]
pub struct Listen {
    /// Address and port.
    pub bind: SocketAddr,
    /// From where it is reached.
    pub reach: Reach,
    /// Certificate and key, PEM.
    pub tls: Option<(PathBuf, PathBuf)>,
    /// Instruments that the app may read.
    pub instruments: Vec<Instrument>,
}

impl Listen {
    /// On loopback, for whoever sits at the machine.
    pub fn here(bind: SocketAddr) -> Listen {
        Listen { bind, reach: Reach::default(), tls: None, instruments: vec![] }
    }
}

/// The server over a store, not yet listening: for [`serve`] and for tests.
pub fn build(store: Store, listen: Listen) -> rocket::Rocket<rocket::Build> {
    let Listen { bind, reach, tls, instruments } = listen;
    let encrypted = tls.is_some();
    let config = rocket::Config {
        address: bind.ip(),
        port: bind.port(),
        workers: 4,
        log_level: LogLevel::Off,
        ident: Ident::none(),
        cli_colors: false,
        limits: Limits::default()
            .limit("json", LARGEST_TEXT.bytes())
            .limit("string", LARGEST_TEXT.bytes())
            .limit("import", 40.mebibytes())
            .limit("file", 25.mebibytes())
            .limit("bundle", 200.mebibytes()),
        tls: tls.map(|(cert, key)| TlsConfig::from_paths(cert, key)),
        shutdown: Shutdown { grace: 1, mercy: 1, ..Shutdown::default() },
        ..rocket::Config::release_default()
    };
    rocket::custom(config)
        .manage(store)
        .manage(work::Workshop::default())
        .manage(reach)
        .manage(instruments::Instruments(instruments))
        .manage(live::Live::default())
        .manage(patience::Patience::default())
        .attach(guard::Gate)
        .attach(guard::Headers)
        .attach(log::Requests)
        .attach(AdHoc::on_shutdown("work", |rocket| {
            Box::pin(async move {
                if let Some(work) = rocket.state::<work::Workshop>() {
                    work.close();
                }
            })
        }))
        .attach(AdHoc::on_liftoff("address", move |rocket| {
            Box::pin(async move {
                let c = rocket.config();
                let scheme = if encrypted { "https" } else { "http" };
                println!("Fuoco is ready at {scheme}://{}", SocketAddr::new(c.address, c.port));
            })
        }))
        .mount("/", pages::routes())
        .mount("/api", openapi::routes())
        .register("/", pages::catchers())
        .register("/api", problem::catchers())
}

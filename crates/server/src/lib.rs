//! Fuoco's HTTP API and its front end. Handlers are thin: they read, call the core or the store, and answer;
//! errors are RFC 9457 problems with the path of the field at fault.

mod api;
mod body;
mod firm;
mod floor;
mod guard;
mod log;
mod loops;
mod materials;
mod openapi;
mod pages;
mod papers;
mod plant;
pub mod problem;
mod survey;
mod work;

use fuoco_core::job::{CheckedJob, Firm, LARGEST_TEXT};
use fuoco_store::{Store, StoreError};
use rocket::config::{Ident, LogLevel, Shutdown};
use rocket::data::{Limits, ToByteUnit};
use rocket::fairing::AdHoc;
use std::net::{IpAddr, SocketAddr};
use std::path::{Path, PathBuf};
use thiserror::Error;

pub use openapi::{document, job_schema};

/// How to serve.
#[derive(Debug, Clone)]
pub struct Options {
    /// Folder of the database.
    pub data: PathBuf,
    /// Where to listen; loopback only, port 0 for any free one.
    pub bind: SocketAddr,
    /// Put the demo job in when there is none of its name yet.
    pub demo: bool,
}

/// Why the server did not start, or stopped.
#[derive(Debug, Error)]
pub enum ServeError {
    /// Listening beyond loopback needs sign-in, which this version does not have.
    #[error("--bind {0}: only loopback addresses, for this version has no sign-in")]
    NotLoopback(IpAddr),
    /// The store did not open.
    #[error(transparent)]
    Store(#[from] StoreError),
    /// The address is taken, or another failure of the server.
    #[error("cannot serve: {0}")]
    Rocket(String),
}

/// The demo job that ships with the program.
pub const DEMO: &str = include_str!("../../../demo/tamarack-dance-school.json");
/// The invented year of its place.
pub const DEMO_YEAR: &str = include_str!("../../../demo/alderfell.epw");
/// The invented firm that designs it.
pub const DEMO_FIRM: &str = include_str!("../../../demo/firm.json");

/// Serves until it is told to stop; prints the address once it listens.
///
/// # Errors
/// See [`ServeError`].
pub fn serve(options: Options) -> Result<(), ServeError> {
    if !options.bind.ip().is_loopback() {
        return Err(ServeError::NotLoopback(options.bind.ip()));
    }
    rocket::execute(async move {
        let store = Store::open(&options.data).await?;
        for complaint in store.complaints().await? {
            eprintln!("fuoco: {complaint}");
        }
        if options.demo {
            let demo = CheckedJob::from_json(DEMO).map_err(StoreError::from)?;
            if !store.list().await?.iter().any(|j| j.name == demo.name) {
                store.add_file(survey::EPW, DEMO_YEAR.as_bytes()).await?;
                store.add(demo).await?;
            }
            if store.firm().await?.revision == 0 {
                store.keep_firm(0, &Firm::from_json(DEMO_FIRM).map_err(StoreError::from)?).await?;
            }
        }
        let rocket =
            build(store.clone(), options.bind).ignite().await.map_err(|e| ServeError::Rocket(e.to_string()))?;
        let outcome = rocket.launch().await;
        store.close().await;
        outcome.map(drop).map_err(|e| ServeError::Rocket(e.to_string()))
    })
}

/// Writes all jobs and files of a data folder into one new file; whether a server runs on it does not matter.
///
/// # Errors
/// See [`ServeError`].
pub fn back_up(data: &Path, file: &Path) -> Result<(), ServeError> {
    rocket::execute(async {
        let store = Store::open(data).await?;
        store.back_up(file).await?;
        store.close().await;
        Ok(())
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

/// The server over a store, not yet listening: for [`serve`] and for tests.
pub fn build(store: Store, bind: SocketAddr) -> rocket::Rocket<rocket::Build> {
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
        shutdown: Shutdown { grace: 1, mercy: 1, ..Shutdown::default() },
        ..rocket::Config::release_default()
    };
    rocket::custom(config)
        .manage(store)
        .manage(work::Workshop::default())
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
        .attach(AdHoc::on_liftoff("address", |rocket| {
            Box::pin(async move {
                let c = rocket.config();
                println!("Fuoco is ready at http://{}", SocketAddr::new(c.address, c.port));
            })
        }))
        .mount("/", pages::routes())
        .mount("/api", openapi::routes())
        .register("/", pages::catchers())
        .register("/api", problem::catchers())
}

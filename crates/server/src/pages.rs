//! The front end, embedded in release builds and read from `web/dist` in development.

use rocket::http::{ContentType, Header, Status};
use rocket::{Catcher, Request, Responder, Route, catch, catchers, get, routes};
use rust_embed::RustEmbed;
use std::path::{Path, PathBuf};

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
#[allow_missing = true]
struct Files;

/// A file of the front end.
#[derive(Responder)]
struct File {
    body: Vec<u8>,
    kind: ContentType,
    cache: Header<'static>,
}

fn file(path: &str) -> Option<File> {
    let found = Files::get(path)?;
    let kind = Path::new(path)
        .extension()
        .and_then(|e| ContentType::from_extension(&e.to_string_lossy()))
        .unwrap_or(ContentType::Binary);
    let kind = if path.ends_with(".webmanifest") { ContentType::new("application", "manifest+json") } else { kind };
    // names under assets/ carry a hash of the content
    let cache = if path.starts_with("assets/") { "public, max-age=31536000, immutable" } else { "no-cache" };
    Some(File { body: found.data.into_owned(), kind, cache: Header::new("Cache-Control", cache) })
}

/// The app, under an address that it knows.
#[get("/")]
fn home() -> Option<File> {
    file("index.html")
}

#[get("/jobs/<_id>/<_station>")]
fn station(_id: &str, _station: &str) -> Option<File> {
    file("index.html")
}

#[get("/jobs/<_id>")]
fn job(_id: &str) -> Option<File> {
    file("index.html")
}

#[get("/<_page>", rank = 10)]
fn page(_page: Page) -> Option<File> {
    file("index.html")
}

#[get("/handover/<_id>")]
fn handover(_id: &str) -> Option<File> {
    file("index.html")
}

/// The app's pages beside the list of jobs.
struct Page;

impl<'r> rocket::request::FromParam<'r> for Page {
    type Error = ();

    fn from_param(name: &'r str) -> Result<Page, ()> {
        if ["firm", "people", "practice", "sign-in", "link"].contains(&name) { Ok(Page) } else { Err(()) }
    }
}

#[get("/<path..>", rank = 20)]
fn asset(path: PathBuf) -> Option<File> {
    file(&path.to_string_lossy())
}

/// Anything else: the app too, which shows what it has to say about addresses it does not know.
#[catch(404)]
fn missing(_: &Request) -> Result<(Status, File), (Status, &'static str)> {
    match file("index.html") {
        Some(app) => Ok((Status::NotFound, app)),
        None => Err((Status::NotFound, "The front end has not been built: run `cargo xtask web`.")),
    }
}

pub(crate) fn routes() -> Vec<Route> {
    routes![home, job, station, handover, page, asset]
}

pub(crate) fn catchers() -> Vec<Catcher> {
    catchers![missing]
}

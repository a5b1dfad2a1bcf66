//! Handlers of the survey: pictures, weather, edits that need exact geometry, exchange in open formats.

use crate::access::Hands;
use crate::api::{Answer, Download, JobInput, designed, level_of, parse};
use crate::body::Json;
use crate::guard::{BundleBytes, FileBytes, JsonText, LargeJsonText};
use crate::problem::Problem;
use crate::work::{Workshop, failed};
use fuoco_core::error::FieldError;
use fuoco_core::job::{CheckedJob, Job, Point};
use fuoco_core::plan::edit;
use fuoco_core::study::Study;
use fuoco_core::survey::climate::{Weather, read_epw};
use fuoco_documents::bundle::Bundle;
use fuoco_documents::exchange::{Imported, dxf, geojson, openings_csv, rooms_csv};
use fuoco_documents::{bundle, pictures, tables};
use fuoco_store::{Store, StoreError, StoredJob};
use rocket::http::{ContentType, Header};
use rocket::{Responder, State, get, post};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Media type under which weather files are kept.
pub(crate) const EPW: &str = "text/x-epw";

/// A picture that was kept.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
pub struct KeptPicture {
    /// Its id, to be referred to by the job.
    pub id: String,
    /// Pixels across.
    pub width_px: u32,
    /// Pixels down.
    pub height_px: u32,
}

/// Keeps a picture (PNG or JPEG), as a plan under the sheet or a photo.
#[utoipa::path(context_path = "/api", request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses((status = 200, body = KeptPicture), (status = 413, body = Problem), (status = 415, body = Problem), (status = 422, body = Problem)))]
#[post("/pictures", data = "<body>")]
pub async fn add_picture(store: &State<Store>, body: FileBytes) -> Answer<KeptPicture> {
    let picture = pictures::recognise(&body.0)?;
    let id = store.add_file(picture.media_type, &body.0).await?;
    Ok(Json(KeptPicture { id, width_px: picture.width_px, height_px: picture.height_px }))
}

/// A kept file: its content never changes under its id.
#[derive(Responder)]
pub struct Kept {
    body: Vec<u8>,
    kind: ContentType,
    cache: Header<'static>,
    /// Whatever it is, it is only looked at.
    policy: Header<'static>,
}

/// A kept file.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<u8>, content_type = "application/octet-stream"), (status = 404, body = Problem)))]
#[get("/files/<id>")]
pub async fn read_file(store: &State<Store>, id: &str) -> Result<Kept, Problem> {
    let file = store.file(id).await?;
    Ok(Kept {
        body: file.bytes,
        kind: ContentType::parse_flexible(&file.media_type).unwrap_or(ContentType::Binary),
        cache: Header::new("Cache-Control", "private, max-age=31536000, immutable"),
        policy: Header::new("Content-Disposition", "inline"),
    })
}

/// Reads and keeps an EPW weather file.
#[utoipa::path(context_path = "/api", request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses((status = 200, body = Weather), (status = 413, body = Problem), (status = 422, body = Problem)))]
#[post("/weather", data = "<body>")]
pub async fn read_weather(store: &State<Store>, work: &State<Workshop>, body: FileBytes) -> Answer<Weather> {
    let (mut weather, bytes) = work
        .run(move || {
            // older files are not always UTF-8; the figures are
            let text = String::from_utf8_lossy(&body.0);
            let weather = read_epw(&text)?;
            drop(text);
            Ok((weather, body.0))
        })
        .await?;
    weather.file_id = Some(store.add_file(EPW, &bytes).await?);
    Ok(Json(weather))
}

/// A wall through a room.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Split {
    /// The job before.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// The room.
    pub room_id: String,
    /// One end of the wall, m.
    #[schema(value_type = [f64; 2])]
    pub from: Point,
    /// The other.
    #[schema(value_type = [f64; 2])]
    pub to: Point,
    /// Its thickness, m, 0…0.6.
    pub wall_m: f64,
    /// Id for the part on the right of the wall.
    pub new_id: String,
}

/// Two rooms to be one.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Merge {
    /// The job before.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// The room that stays.
    pub first_id: String,
    /// The room that is taken in.
    pub second_id: String,
}

/// Splits a room by a straight wall; answers the job after.
#[utoipa::path(context_path = "/api", request_body = Split, responses((status = 200, body = Job), (status = 422, body = Problem)))]
#[post("/plan/split", data = "<body>")]
pub async fn split_room(work: &State<Workshop>, body: JsonText) -> Answer<CheckedJob> {
    let s: Split = parse(&body.0)?;
    let done = work.run(move || {
        let Split { job, room_id, from, to, wall_m, new_id } = s;
        edit::split(&job.checked()?, &room_id, from, to, wall_m, &new_id)
    });
    Ok(Json(done.await?))
}

/// Merges two neighbours across the wall between them; answers the job after.
#[utoipa::path(context_path = "/api", request_body = Merge, responses((status = 200, body = Job), (status = 422, body = Problem)))]
#[post("/plan/merge", data = "<body>")]
pub async fn merge_rooms(work: &State<Workshop>, body: JsonText) -> Answer<CheckedJob> {
    let m: Merge = parse(&body.0)?;
    let done = work.run(move || edit::merge(&m.job.checked()?, &m.first_id, &m.second_id));
    Ok(Json(done.await?))
}

/// Formats that rooms are read from.
#[derive(Debug, Clone, Copy, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(rename_all = "lowercase")]
#[allow(missing_docs)]
pub enum RoomFormat {
    Dxf,
    Geojson,
    Csv,
}

/// A file of rooms to take into a job.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RoomFile {
    /// The job before.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// The level that the rooms are put on, where the file does not say.
    pub level_id: String,
    /// What the file is.
    pub format: RoomFormat,
    /// The file.
    pub text: String,
    /// Metres for a unit of a DXF drawing that does not say its unit.
    #[serde(default)]
    pub unit_m: Option<f64>,
}

/// Reads rooms from a file; answers the job after, and what was not taken.
#[utoipa::path(context_path = "/api", request_body = RoomFile, responses((status = 200, body = Imported), (status = 413, body = Problem), (status = 422, body = Problem)))]
#[post("/import/rooms", data = "<body>")]
pub async fn import_rooms(work: &State<Workshop>, body: LargeJsonText) -> Answer<Imported> {
    let f: RoomFile = parse(&body.0)?;
    let done = work.run(move || {
        let job = f.job.checked()?;
        if job.level(&f.level_id).is_none() {
            return Err(FieldError::new("level_id", "names no level of this job"));
        }
        match f.format {
            RoomFormat::Dxf => dxf::read(&job, &f.level_id, f.text.as_bytes(), f.unit_m),
            RoomFormat::Geojson => geojson::read(&job, &f.level_id, &f.text),
            RoomFormat::Csv => rooms_csv::read(&job, &f.level_id, &f.text),
        }
    });
    Ok(Json(done.await?))
}

/// A table of openings to take into a job.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OpeningFile {
    /// The job before.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// The table.
    pub text: String,
}

/// Reads openings from a CSV table; answers the job after, and what was not taken.
#[utoipa::path(context_path = "/api", request_body = OpeningFile, responses((status = 200, body = Imported), (status = 413, body = Problem), (status = 422, body = Problem)))]
#[post("/import/openings", data = "<body>")]
pub async fn import_openings(work: &State<Workshop>, body: LargeJsonText) -> Answer<Imported> {
    let f: OpeningFile = parse(&body.0)?;
    Ok(Json(work.run(move || openings_csv::read(&f.job.checked()?, &f.text)).await?))
}

/// The rooms as a table that reads back.
#[utoipa::path(context_path = "/api", responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/survey-rooms.csv")]
pub async fn rooms_table(store: &State<Store>, id: &str) -> Result<Download, Problem> {
    let job = store.get(id).await?.job;
    Ok(Download::new(&job, "-survey-rooms.csv", ContentType::CSV, rooms_csv::write(&job)))
}

/// The openings as a table that reads back.
#[utoipa::path(context_path = "/api", responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/survey-openings.csv")]
pub async fn openings_table(store: &State<Store>, id: &str) -> Result<Download, Problem> {
    let job = store.get(id).await?.job;
    Ok(Download::new(&job, "-survey-openings.csv", ContentType::CSV, openings_csv::write(&job)))
}

/// The outlines of all rooms as GeoJSON in metres.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Object, content_type = "application/geo+json"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/rooms.geojson")]
pub async fn outlines_geojson(store: &State<Store>, id: &str) -> Result<Download, Problem> {
    let job = store.get(id).await?.job;
    Ok(Download::new(&job, ".geojson", ContentType::new("application", "geo+json"), geojson::write(&job)))
}

/// The outlines of a level's rooms as DXF in metres; the first level where none is named.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<u8>, content_type = "image/vnd.dxf"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/rooms.dxf?<level>")]
pub async fn outlines_dxf(store: &State<Store>, id: &str, level: Option<&str>) -> Result<Download, Problem> {
    let job = store.get(id).await?.job;
    let level = level_of(&job, level)?;
    Ok(Download::new(&job, ".dxf", ContentType::new("image", "vnd.dxf"), dxf::write(&job, &level)))
}

/// Every part of every room's heat loss as a table.
#[utoipa::path(context_path = "/api", responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/heat-loss.csv")]
pub async fn heat_loss_csv(store: &State<Store>, work: &State<Workshop>, id: &str) -> Result<Download, Problem> {
    let (job, design) = designed(store, work, id).await?;
    Ok(Download::new(&job, "-heat-loss.csv", ContentType::CSV, tables::heat_loss(&job, &design)))
}

/// Heat loss of rooms and building as JSON.
#[utoipa::path(context_path = "/api", responses((status = 200, body = fuoco_core::heat_loss::HeatLoss), (status = 404, body = Problem)))]
#[get("/jobs/<id>/heat-loss.json")]
pub async fn heat_loss_json(store: &State<Store>, work: &State<Workshop>, id: &str) -> Result<Download, Problem> {
    let job = store.get(id).await?.job;
    let (job, study) = work.run(move || Study::of(&job).map(|s| (job, s))).await?;
    let text = serde_json::to_string_pretty(&study.heat).map_err(|e| failed(&e.to_string()))?;
    Ok(Download::new(&job, "-heat-loss.json", ContentType::JSON, text))
}

/// The job with its records, pictures and weather file in one ZIP.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<u8>, content_type = "application/zip"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/bundle")]
pub async fn bundle_job(store: &State<Store>, work: &State<Workshop>, id: &str) -> Result<Download, Problem> {
    let job = store.get(id).await?.job;
    let records = store.records(id, 0).await?;
    let photos = records.iter().flat_map(|e| e.record.photos.iter().map(String::as_str));
    let wanted: BTreeSet<&str> = job.file_ids().into_iter().chain(photos).collect();
    let mut files = Vec::new();
    for file in wanted {
        match store.file(file).await {
            Ok(kept) => files.push((file.to_owned(), kept.bytes)),
            // a job opened from its bare file refers to pictures that were never here
            Err(StoreError::NoFile(_)) => {}
            Err(e) => return Err(e.into()),
        }
    }
    let (job, bytes) = work.run(move || bundle::write(&job, &records, &files).map(|b| (job, b))).await?;
    Ok(Download::new(&job, ".zip", ContentType::ZIP, bytes))
}

/// Adds the job of a bundle with its records and files.
#[utoipa::path(context_path = "/api", request_body(content = Vec<u8>, content_type = "application/zip"), responses((status = 200, body = StoredJob), (status = 413, body = Problem), (status = 422, body = Problem)))]
#[post("/jobs/from-bundle", data = "<body>")]
pub async fn open_bundle(store: Hands, work: &State<Workshop>, body: BundleBytes) -> Answer<StoredJob> {
    let Bundle { job, records, files } = work.run(move || bundle::read(&body.0)).await?;
    for bytes in files {
        // only what is known by its bytes is kept
        let media_type = match pictures::recognise(&bytes) {
            Ok(picture) => picture.media_type,
            Err(_) if bytes.starts_with(b"LOCATION,") => EPW,
            Err(e) => return Err(e.into()),
        };
        store.add_file(media_type, &bytes).await?;
    }
    Ok(Json(store.add_with_records(job, &records).await?))
}

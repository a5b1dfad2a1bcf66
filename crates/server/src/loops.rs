//! Handlers of the loops: shaping by hand, maps of the floor, places for manifolds, files.

use crate::api::{Answer, Download, JobInput, designed, level_of, parse};
use crate::body::Json;
use crate::guard::JsonText;
use crate::problem::Problem;
use crate::work::Workshop;
use fuoco_core::error::FieldError;
use fuoco_core::floor::remedy::OwnCircuit;
use fuoco_core::job::{Job, Point};
use fuoco_core::layout::edit::hand::{self, Grip};
use fuoco_core::layout::edit::reroute::{Rerouted, rerouted};
use fuoco_core::layout::topology::places::{Place, places};
use fuoco_core::layout::topology::remedies::{LayoutRemedies, remedies};
use fuoco_core::loops::findings::stopped;
use fuoco_core::loops::map::{FloorMap, floor_map};
use fuoco_core::study::{Study, own_circuit};
use fuoco_core::watch::Watch;
use fuoco_documents::{loop_files, plan_svg};
use fuoco_store::Store;
use rocket::http::ContentType;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};

/// A run or corner of a locked loop, dragged.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Drag {
    /// The job before.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// One of its locked loops.
    pub loop_id: String,
    /// What of it is dragged.
    pub grip: Grip,
    /// How far, m.
    #[schema(value_type = [f64; 2])]
    pub by: Point,
    /// Nothing else moves, and nothing stops it.
    #[serde(default)]
    pub alone: bool,
}

/// Where a loop lies after a drag.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
pub struct Dragged {
    /// Its corners, m.
    #[schema(value_type = Vec<[f64; 2]>)]
    pub corners: Vec<Point>,
    /// Why it did not go all the way, in the job's units.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub stopped: Option<String>,
}

/// A level to be mapped.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Mapped {
    /// The job.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// The level.
    pub level_id: String,
}

/// A manifold to be placed.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Placing {
    /// The job.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// The manifold to be moved; none for a new one.
    #[serde(default)]
    pub manifold_id: Option<String>,
}

/// A layout that wants help.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Helped {
    /// The job.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// The room without tube; none to look for shorter ways of the whole job.
    #[serde(default)]
    pub room_id: Option<String>,
}

/// Locked loops to be laid anew.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Rerouting {
    /// The job.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// The locked loops that are given back.
    pub loop_ids: Vec<String>,
}

/// The corners of a locked loop after a run or a corner was dragged: the rest follows within the rules.
#[utoipa::path(context_path = "/api", request_body = Drag, responses((status = 200, body = Dragged), (status = 422, body = Problem)))]
#[post("/loops/drag", data = "<body>")]
pub async fn drag_loop(work: &State<Workshop>, body: JsonText) -> Answer<Dragged> {
    let drag: Drag = parse(&body.0)?;
    let dragged = work
        .run(move || {
            let job = drag.job.checked()?;
            // all steps of a drag start from the same job: its study is kept
            let study = Study::of(&job)?;
            let lies = hand::drag(&job, &study.plan, &study.layout, &drag.loop_id, drag.grip, drag.by, drag.alone)?;
            let stopped = lies.stop.map(|stop| stopped(&study, &stop));
            Ok(Dragged { corners: lies.corners, stopped })
        })
        .await?;
    Ok(Json(dragged))
}

/// How far from tube and how warm each spot of a level's heated floors is.
#[utoipa::path(context_path = "/api", request_body = Mapped, responses((status = 200, body = FloorMap), (status = 422, body = Problem)))]
#[post("/loops/map", data = "<body>")]
pub async fn map_floor(work: &State<Workshop>, body: JsonText) -> Answer<FloorMap> {
    let asked: Mapped = parse(&body.0)?;
    Ok(Json(work.run(move || floor_map(&*Study::of(&asked.job.checked()?)?, &asked.level_id)).await?))
}

/// A job whose floors do not go together on one supply temperature.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Apart {
    /// The job.
    #[schema(value_type = Job)]
    pub job: JobInput,
}

/// The rooms of the job's conflict on a circuit of their own, laid out.
#[utoipa::path(context_path = "/api", request_body = Apart, responses((status = 200, body = OwnCircuit), (status = 422, body = Problem)))]
#[post("/loops/own-circuit", data = "<body>")]
pub async fn put_apart(work: &State<Workshop>, body: JsonText) -> Answer<OwnCircuit> {
    let asked: Apart = parse(&body.0)?;
    Ok(Json(work.run(move || own_circuit(&asked.job.checked()?, &Watch::default())).await?))
}

/// The best places for a manifold, best first.
#[utoipa::path(context_path = "/api", request_body = Placing, responses((status = 200, body = Vec<Place>), (status = 422, body = Problem)))]
#[post("/loops/places", data = "<body>")]
pub async fn place_manifold(work: &State<Workshop>, body: JsonText) -> Answer<Vec<Place>> {
    let asked: Placing = parse(&body.0)?;
    Ok(Json(work.run(move || places(&asked.job.checked()?, asked.manifold_id.as_deref())).await?))
}

/// What would bring tube to a room, or shorten the leaders of a job: each change laid out, best first.
#[utoipa::path(context_path = "/api", request_body = Helped, responses((status = 200, body = LayoutRemedies), (status = 422, body = Problem)))]
#[post("/loops/remedies", data = "<body>")]
pub async fn help_layout(work: &State<Workshop>, body: JsonText) -> Answer<LayoutRemedies> {
    let asked: Helped = parse(&body.0)?;
    Ok(Json(work.run(move || remedies(&asked.job.checked()?, asked.room_id.as_deref())).await?))
}

/// What comes out when locked loops are laid anew, against what lies.
#[utoipa::path(context_path = "/api", request_body = Rerouting, responses((status = 200, body = Rerouted), (status = 422, body = Problem)))]
#[post("/loops/reroute", data = "<body>")]
pub async fn reroute_loops(work: &State<Workshop>, body: JsonText) -> Answer<Rerouted> {
    let asked: Rerouting = parse(&body.0)?;
    Ok(Json(work.run(move || rerouted(&asked.job.checked()?, &asked.loop_ids)).await?))
}

/// Every point of every loop with its running length.
#[utoipa::path(context_path = "/api", responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/loop-points.csv")]
pub async fn points_csv(store: &State<Store>, work: &State<Workshop>, id: &str) -> Result<Download, Problem> {
    let (job, design) = designed(store, work, id).await?;
    Ok(Download::new(&job, "-loop-points.csv", ContentType::CSV, loop_files::points_csv(&job, &design)))
}

/// The loops as lines in GeoJSON, in metres.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Object, content_type = "application/geo+json"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/loops.geojson")]
pub async fn loops_geojson(store: &State<Store>, work: &State<Workshop>, id: &str) -> Result<Download, Problem> {
    let (job, design) = designed(store, work, id).await?;
    let kind = ContentType::new("application", "geo+json");
    Ok(Download::new(&job, "-loops.geojson", kind, loop_files::geojson(&design)))
}

/// A level with its loops as DXF in metres, a layer for each loop.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<u8>, content_type = "image/vnd.dxf"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/loops.dxf?<level>")]
pub async fn loops_dxf(
    store: &State<Store>,
    work: &State<Workshop>,
    id: &str,
    level: Option<&str>,
) -> Result<Download, Problem> {
    let (job, design) = designed(store, work, id).await?;
    let level = level_of(&job, level)?;
    let kind = ContentType::new("image", "vnd.dxf");
    Ok(Download::new(&job, "-loops.dxf", kind, loop_files::dxf(&job, &design, &level)))
}

/// A level's plan with its loops, true to scale (1:50 where none is named, 1:5 to 1:1000).
#[utoipa::path(context_path = "/api", responses((status = 200, body = String, content_type = "image/svg+xml"), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/jobs/<id>/plan.svg?<level>&<scale>")]
pub async fn plan_drawing(
    store: &State<Store>,
    work: &State<Workshop>,
    id: &str,
    level: Option<&str>,
    scale: Option<f64>,
) -> Result<Download, Problem> {
    let scale = scale.unwrap_or(50.0);
    if !(5.0..=1000.0).contains(&scale) {
        return Err(FieldError::new("scale", "must be between 5 and 1000").into());
    }
    let (job, design) = designed(store, work, id).await?;
    let level = level_of(&job, level)?;
    Ok(Download::new(&job, "-plan.svg", ContentType::SVG, plan_svg::plan(&job, &design, &level, scale)))
}

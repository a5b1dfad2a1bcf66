//! Handlers of water and plant: circuits tried, the plant at work, its year, its arrangements side by side.

use crate::api::{Answer, JobInput, parse};
use crate::body::Json;
use crate::guard::JsonText;
use crate::problem::Problem;
use crate::work::Workshop;
use fuoco_core::job::Job;
use fuoco_core::plant::state::{PlantState, PlantTrial, plant_state};
use fuoco_core::plant::year::{ArrangementFigures, PlantYear, compare_arrangements, plant_year};
use fuoco_core::study::Study;
use fuoco_core::water::trial::{WaterTrial, WaterTried, try_circuit};
use rocket::{State, post};
use serde::{Deserialize, Serialize};

/// A circuit to be tried.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TriedCircuit {
    /// The job.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// What is tried.
    #[serde(default)]
    pub trial: WaterTrial,
}

/// A plant to be tried.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TriedPlant {
    /// The job.
    #[schema(value_type = Job)]
    pub job: JobInput,
    /// What is tried.
    #[serde(default)]
    pub trial: PlantTrial,
}

/// A circuit of floors as the network makes it: zones shut, valves away, a loop half blocked, another pump.
#[utoipa::path(context_path = "/api", request_body = TriedCircuit, responses((status = 200, body = WaterTried), (status = 422, body = Problem)))]
#[post("/water/try", data = "<body>")]
pub async fn try_water(work: &State<Workshop>, body: JsonText) -> Answer<WaterTried> {
    let asked: TriedCircuit = parse(&body.0)?;
    Ok(Json(work.run(move || try_circuit(&*Study::of(&asked.job.checked()?)?, &asked.trial)).await?))
}

/// The plant at work: at an outdoor temperature, with circuits off, in another arrangement or order.
#[utoipa::path(context_path = "/api", request_body = TriedPlant, responses((status = 200, body = PlantState), (status = 422, body = Problem)))]
#[post("/plant/try", data = "<body>")]
pub async fn try_plant(work: &State<Workshop>, body: JsonText) -> Answer<PlantState> {
    let asked: TriedPlant = parse(&body.0)?;
    Ok(Json(work.run(move || plant_state(&*Study::of(&asked.job.checked()?)?, &asked.trial)).await?))
}

/// The plant from the design day to the end of heating.
#[utoipa::path(context_path = "/api", request_body = TriedPlant, responses((status = 200, body = PlantYear), (status = 422, body = Problem)))]
#[post("/plant/year", data = "<body>")]
pub async fn run_year(work: &State<Workshop>, body: JsonText) -> Answer<PlantYear> {
    let asked: TriedPlant = parse(&body.0)?;
    Ok(Json(work.run(move || plant_year(&*Study::of(&asked.job.checked()?)?, &asked.trial)).await?))
}

/// All arrangements of the plant side by side.
#[utoipa::path(context_path = "/api", request_body = TriedPlant, responses((status = 200, body = Vec<ArrangementFigures>), (status = 422, body = Problem)))]
#[post("/plant/compare", data = "<body>")]
pub async fn compare_plants(work: &State<Workshop>, body: JsonText) -> Answer<Vec<ArrangementFigures>> {
    let asked: TriedPlant = parse(&body.0)?;
    Ok(Json(work.run(move || compare_arrangements(&*Study::of(&asked.job.checked()?)?, &asked.trial)).await?))
}

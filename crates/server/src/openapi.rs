//! The OpenAPI document and the job file's JSON Schema, both from the types in the code.

use crate::{api, floor, loops, survey};
use serde_json::{Value, json};
use utoipa::OpenApi;

#[derive(OpenApi)]
#[openapi(
    info(title = "Fuoco", description = "Designs radiant floors: jobs, and the design of a job."),
    paths(
        api::list_jobs,
        api::create_job,
        api::open_file,
        api::read_job,
        api::save_job,
        api::delete_job,
        api::restore_job,
        api::copy_job,
        api::rename_job,
        api::download_job,
        api::loops_csv,
        api::rooms_csv,
        api::design_job,
        api::read_library,
        floor::draw_section,
        floor::compare_floors,
        loops::drag_loop,
        loops::map_floor,
        loops::place_manifold,
        loops::points_csv,
        loops::loops_geojson,
        loops::loops_dxf,
        loops::plan_drawing,
        survey::add_picture,
        survey::read_file,
        survey::read_weather,
        survey::split_room,
        survey::merge_rooms,
        survey::import_rooms,
        survey::import_openings,
        survey::rooms_table,
        survey::openings_table,
        survey::outlines_geojson,
        survey::outlines_dxf,
        survey::heat_loss_csv,
        survey::heat_loss_json,
        survey::bundle_job,
        survey::open_bundle
    )
)]
struct Api;

fn value() -> Value {
    let mut value = serde_json::to_value(Api::openapi()).unwrap_or_default();
    // the store knows the job only as a document; the API says which
    for stored in ["StoredJob", "Imported"] {
        if let Some(job) = value.pointer_mut(&format!("/components/schemas/{stored}/properties/job")) {
            *job = json!({ "$ref": "#/components/schemas/Job", "description": "The document." });
        }
    }
    value
}

/// The OpenAPI document, indented JSON.
pub fn document() -> String {
    serde_json::to_string_pretty(&value()).unwrap_or_default()
}

/// The JSON Schema of the job file, indented JSON.
pub fn job_schema() -> String {
    let api = value();
    let mut definitions = serde_json::Map::new();
    let mut wanted = vec!["Job".to_owned()];
    while let Some(name) = wanted.pop() {
        if definitions.contains_key(&name) {
            continue;
        }
        let schema = api["components"]["schemas"][&name].clone();
        references(&schema, &mut wanted);
        definitions.insert(name, schema);
    }
    let text = json!({
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Fuoco job file",
        "$ref": "#/$defs/Job",
        "$defs": definitions,
    });
    serde_json::to_string_pretty(&text).unwrap_or_default().replace("#/components/schemas/", "#/$defs/")
}

fn references(schema: &Value, out: &mut Vec<String>) {
    match schema {
        Value::Object(map) => {
            if let Some(name) = map.get("$ref").and_then(Value::as_str) {
                out.extend(name.strip_prefix("#/components/schemas/").map(str::to_owned));
            }
            map.values().for_each(|v| references(v, out));
        }
        Value::Array(items) => items.iter().for_each(|v| references(v, out)),
        _ => {}
    }
}

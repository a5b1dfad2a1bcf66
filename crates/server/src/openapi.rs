//! The OpenAPI document and the job file's JSON Schema, both from the types in the code.

use crate::{
    api, cooling, firm, floor, health, history, instruments, links, live, loops, materials, outdoors, papers, people,
    plant, records, rig, survey, time,
};
use fuoco_core::ranges::{Bounds, Range};
use rocket::Route;
use serde_json::{Value, json};
use utoipa::OpenApi;

/// Every endpoint once: what is listed here is mounted, and stands in the OpenAPI document.
macro_rules! endpoints {
    ($($module:ident::$name:ident),* $(,)?) => {
        pub(crate) fn routes() -> Vec<Route> {
            rocket::routes![api::read_openapi, $($module::$name),*]
        }

        #[derive(OpenApi)]
        #[openapi(
            info(title = "Fuoco", description = "Designs radiant floors: jobs, and the design of a job."),
            paths($($module::$name),*)
        )]
        struct Api;
    };
}

endpoints![
    api::list_jobs,
    api::create_job,
    api::open_file,
    api::read_job,
    api::save_job,
    api::delete_job,
    api::restore_job,
    api::copy_job,
    api::sum_up,
    api::thumbnail,
    api::archive_job,
    api::unarchive_job,
    api::rename_job,
    api::download_job,
    api::loops_csv,
    api::fields_csv,
    api::rooms_csv,
    api::design_job,
    api::leave,
    api::read_progress,
    api::read_library,
    firm::read_firm,
    firm::save_firm,
    firm::take_from_job,
    firm::list_schools,
    health::read_health,
    health::read_version,
    history::list_revisions,
    history::read_revision,
    history::sum_up_revision,
    people::read_session,
    people::sign_in,
    people::sign_out,
    people::change_password,
    people::list_people,
    people::add_person,
    people::change_person,
    people::remove_person,
    people::list_deeds,
    links::list_links,
    links::make_link,
    links::revoke_link,
    links::open_link,
    records::list_records,
    records::add_record,
    records::add_photo,
    records::read_laying,
    records::read_tests,
    records::read_start_up,
    records::rank_causes,
    instruments::list_instruments,
    instruments::read_stand_in,
    live::listen,
    floor::draw_section,
    floor::compare_floors,
    loops::drag_loop,
    loops::map_floor,
    loops::place_manifold,
    loops::put_apart,
    loops::help_layout,
    loops::reroute_loops,
    loops::points_csv,
    loops::loops_geojson,
    loops::loops_dxf,
    loops::plan_drawing,
    cooling::cool_job,
    materials::count_materials,
    materials::import_prices,
    materials::prices_table,
    materials::order_table,
    outdoors::watch_storm,
    outdoors::run_outdoor_year,
    papers::list_papers,
    papers::paper_pdf,
    plant::try_water,
    plant::try_plant,
    plant::run_year,
    plant::compare_plants,
    rig::list_lessons,
    rig::play_rig,
    rig::shoot_rig,
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
    survey::open_bundle,
    time::follow_job,
    time::watch_floors,
];

fn value() -> Value {
    let mut value = serde_json::to_value(Api::openapi()).unwrap_or_default();
    // the store knows the job only as a document; the API says which
    for stored in ["StoredJob", "Imported"] {
        if let Some(job) = value.pointer_mut(&format!("/components/schemas/{stored}/properties/job")) {
            *job = json!({ "$ref": "#/components/schemas/Job", "description": "The document." });
        }
    }
    bound(&mut value["components"]["schemas"]);
    tagged(&mut value["components"]["schemas"]);
    problems(&mut value);
    value
}

/// A variant that takes its fields from a type of its own has its tag beside them: the type must let it stand.
fn tagged(schemas: &mut Value) {
    let Some(all) = schemas.as_object_mut() else { return };
    let variants = all.values().filter_map(|s| s["oneOf"].as_array()).flatten().filter_map(|v| v["allOf"].as_array());
    let mut of_variants = vec![];
    variants.flatten().for_each(|part| references(part, &mut of_variants));
    for name in of_variants {
        if let Some(schema) = all.get_mut(&name).and_then(Value::as_object_mut) {
            schema.remove("additionalProperties");
        }
    }
}

/// What every endpoint can answer besides its own: refusals, all of them as problems.
fn problems(api: &mut Value) {
    let problem = json!({ "application/problem+json": { "schema": { "$ref": "#/components/schemas/Problem" } } });
    let Some(paths) = api["paths"].as_object_mut() else { return };
    for operation in paths.values_mut().filter_map(Value::as_object_mut).flat_map(|p| p.values_mut()) {
        let takes_body = operation.get("requestBody").is_some();
        let Some(responses) = operation["responses"].as_object_mut() else { continue };
        for (status, response) in responses.iter_mut() {
            if !status.starts_with('2') {
                response["content"] = problem.clone();
            }
        }
        let mut add = |status: &str, description: &str| {
            let answer = json!({ "description": description, "content": problem.clone() });
            responses.entry(status).or_insert(answer);
        };
        add("400", "The request does not read");
        add("401", "First sign in");
        add("403", "Not made by a page of this server, or not for this person");
        add("404", "There is nothing here");
        add("405", "No such method here");
        add("500", "A failure of the server, or its store cannot be used");
        add("503", "Too busy, or it took too long");
        if takes_body {
            add("408", "The body did not come in time");
            add("413", "The body is too large");
            add("415", "Wrong content type");
            add("422", "What was sent does not read");
            add("507", "The disk is full");
        }
    }
}

/// Puts the ranges of the job's figures, what they measure and their defaults into the schemas.
fn bound(schemas: &mut Value) {
    for of in fuoco_core::chapters::ranges() {
        let Some(schema) = schemas.get_mut(of.name) else { continue };
        // an enum has its fields in its variants
        let variants = schema.get("oneOf").and_then(Value::as_array).map_or(0, Vec::len);
        let mut parts = vec![String::new()];
        parts.extend((0..variants).map(|i| format!("/oneOf/{i}")));
        for part in parts {
            for range in of.ranges {
                if let Some(field) = schema.pointer_mut(&format!("{part}/properties/{}", range.field)) {
                    bound_field(field, range);
                }
            }
        }
    }
    for (name, document) in fuoco_core::chapters::defaults() {
        let Value::Object(fields) = document else { continue };
        for (field, value) in fields.into_iter().filter(|(_, v)| v.is_number() || v.is_string() || v.is_boolean()) {
            let at = schemas.pointer_mut(&format!("/{name}/properties/{field}")).and_then(Value::as_object_mut);
            if let Some(schema) = at.filter(|s| !s.contains_key("$ref")) {
                schema.insert("default".into(), value);
            }
        }
    }
}

fn bound_field(field: &mut Value, range: &Range) {
    let figure = |v: f64| if v.fract() == 0.0 { json!(v as i64) } else { json!(v) };
    match range.bounds {
        Bounds::Items => {
            // a map counts its entries, not items
            let (least, most) = match field.get("additionalProperties") {
                Some(_) => ("minProperties", "maxProperties"),
                None => ("minItems", "maxItems"),
            };
            field[least] = figure(range.least);
            field[most] = figure(range.most);
        }
        Bounds::Figure(quantity) => {
            // of a list, a map or a point each figure is bounded
            let mut at = field;
            while let Some(inner) = ["items", "additionalProperties"].into_iter().find(|k| at[*k].is_object()) {
                at = &mut at[inner];
            }
            at["minimum"] = figure(range.least);
            at["maximum"] = figure(range.most);
            at["x-quantity"] = serde_json::to_value(quantity).unwrap_or_default();
        }
    }
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

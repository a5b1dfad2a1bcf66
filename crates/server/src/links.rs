//! Links to one job for those without an account: handlers.

use crate::access::{self, Access, Reach};
use crate::api::{Answer, parse};
use crate::body::Json;
use crate::guard::JsonText;
use crate::patience::Patience;
use crate::people::Client;
use crate::problem::Problem;
use fuoco_papers::square_code;
use fuoco_store::{Link, Purpose, Store};
use rocket::http::uri::Host;
use rocket::http::{CookieJar, Status};
use rocket::{State, delete, get, post};
use serde::{Deserialize, Serialize};
use std::time::Instant;

/// A link to be.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewLink {
    /// What it is for.
    pub purpose: Purpose,
    /// For whom; 1 to 200 characters.
    pub name: String,
    /// For how many days; 1 to 730.
    pub days: u32,
}

/// A link just made.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
pub struct MadeLink {
    /// The link.
    pub link: Link,
    /// What opens it; it is told this once, and kept nowhere.
    pub token: String,
    /// Its address: the token stands behind the `#`, which no browser sends.
    pub address: String,
    /// The same as a square code, SVG.
    pub code: String,
}

/// A link to open.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OpenLink {
    /// What opens it.
    pub token: String,
}

/// The links of a job.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<Link>)))]
#[get("/jobs/<id>/links")]
pub async fn list_links(store: &State<Store>, id: &str) -> Answer<Vec<Link>> {
    Ok(Json(store.links(id).await?))
}

/// Makes a link to a job.
#[utoipa::path(context_path = "/api", request_body = NewLink, responses((status = 200, body = MadeLink), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/jobs/<id>/links", data = "<body>")]
pub async fn make_link(
    store: &State<Store>,
    reach: &State<Reach>,
    access: Access,
    host: &Host<'_>,
    id: &str,
    body: JsonText,
) -> Answer<MadeLink> {
    let NewLink { purpose, name, days } = parse(&body.0)?;
    let (link, token) = store.make_link(id, purpose, &name, days, &access.name()).await?;
    store.note_deed(&access.name(), &format!("made a link for {}", link.name), id, &link.until).await?;
    let scheme = if reach.exposed { "https" } else { "http" };
    let address = format!("{scheme}://{host}/link#{token}");
    let code = square_code(&address);
    Ok(Json(MadeLink { link, token, address, code }))
}

/// Takes a link back.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/jobs/<id>/links/<link>")]
pub async fn revoke_link(store: &State<Store>, access: Access, id: &str, link: &str) -> Result<Status, Problem> {
    store.revoke_link(id, link).await?;
    store.note_deed(&access.name(), "took a link back", id, link).await?;
    Ok(Status::NoContent)
}

/// Opens a link in this browser. Its token comes in the body: it stands in no address that a log or another site could see.
#[utoipa::path(context_path = "/api", request_body = OpenLink, responses((status = 200, body = Link), (status = 401, body = Problem), (status = 429, body = Problem)))]
#[post("/links/open", data = "<body>")]
pub async fn open_link(
    store: &State<Store>,
    patience: &State<Patience>,
    client: Client,
    cookies: &CookieJar<'_>,
    body: JsonText,
) -> Answer<Link> {
    let OpenLink { token } = parse(&body.0)?;
    let left = patience.wait(None, client.0, Instant::now());
    if !left.is_zero() {
        let detail = format!("Too many wrong links. Try again in {} s.", left.as_secs() + 1);
        return Err(Problem::new(Status::TooManyRequests, "Wait", detail));
    }
    let Some((link, session)) = store.open_link(&token).await? else {
        patience.wrong(None, client.0, Instant::now());
        let detail =
            "This link is past its day, was taken back, or is not whole. Ask whoever gave it to you for another.";
        return Err(Problem::new(Status::Unauthorized, "The link is no longer good", detail));
    };
    store.note_deed(&format!("{} (link)", link.name), "opened the link", &link.job_id, "").await?;
    cookies.add(access::cookie(session, true));
    Ok(Json(link))
}

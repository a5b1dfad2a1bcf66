//! Signing in and out, and who may: handlers.

use crate::access::{self, Access, Reach};
use crate::api::{Answer, parse};
use crate::body::Json;
use crate::guard::JsonText;
use crate::patience::Patience;
use crate::problem::Problem;
use fuoco_core::error::FieldError;
use fuoco_store::{Deed, Person, Purpose, Role, Store};
use rocket::http::{CookieJar, Status};
use rocket::request::{FromRequest, Outcome};
use rocket::{Request, State, delete, get, post, put};
use serde::{Deserialize, Serialize};
use std::net::IpAddr;
use std::time::{Duration, Instant};

/// Longest list of deeds.
const MOST_DEEDS: u32 = 500;

/// Name and password.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SignIn {
    /// The name.
    pub name: String,
    /// The password.
    pub password: String,
}

/// Who is signed in.
#[derive(Debug, Clone, PartialEq, Eq, Deserialize, Serialize, utoipa::ToSchema)]
pub struct SessionInfo {
    /// This server asks everybody who they are.
    pub needed: bool,
    /// Who; empty: nobody, or whoever sits at the machine.
    pub name: String,
    /// What they may do; none: nothing before they sign in.
    pub role: Option<Role>,
    /// The one job that a link leads to.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub job_id: Option<String>,
    /// What the link is for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub purpose: Option<Purpose>,
}

impl SessionInfo {
    fn of(access: &Access, needed: bool) -> SessionInfo {
        let (role, job_id, purpose) = match access {
            Access::Here => (Some(Role::Owner), None, None),
            Access::Nobody => (None, None, None),
            Access::Person(p) => (Some(p.role), None, None),
            Access::Link(l) => {
                let role = if l.purpose == Purpose::Crew { Role::Crew } else { Role::Viewer };
                (Some(role), Some(l.job_id.clone()), Some(l.purpose))
            }
        };
        let name = match access {
            Access::Link(l) => l.name.clone(),
            _ => access.name(),
        };
        SessionInfo { needed, name, role, job_id, purpose }
    }
}

/// A person to be.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewPerson {
    /// The name to sign in with; 1 to 60 characters.
    pub name: String,
    /// What they may do.
    pub role: Role,
    /// Their first password; 12 to 200 characters.
    pub password: String,
}

/// What changes about a person; what is absent stays.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PersonChange {
    /// Another role.
    #[serde(default)]
    pub role: Option<Role>,
    /// Another password; they are signed out everywhere.
    #[serde(default)]
    pub password: Option<String>,
}

/// One's own new password.
#[derive(Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewPassword {
    /// The one that is good now.
    pub old: String,
    /// The next one; 12 to 200 characters.
    pub new: String,
}

/// From where a request comes.
pub(crate) struct Client(pub Option<IpAddr>);

#[rocket::async_trait]
impl<'r> FromRequest<'r> for Client {
    type Error = ();

    async fn from_request(request: &'r Request<'_>) -> Outcome<Client, ()> {
        Outcome::Success(Client(access::client(request)))
    }
}

fn wait(left: Duration) -> Problem {
    let s = left.as_secs() + 1;
    let detail = format!("Too many wrong tries. Try again in {s} s.");
    Problem::new(Status::TooManyRequests, "Wait", detail)
}

/// Who is signed in.
#[utoipa::path(context_path = "/api", responses((status = 200, body = SessionInfo)))]
#[get("/session")]
pub fn read_session(access: Access, reach: &State<Reach>) -> Json<SessionInfo> {
    Json(SessionInfo::of(&access, reach.exposed))
}

/// Signs in. A wrong name and a wrong password are told alike, after the same time.
#[utoipa::path(context_path = "/api", request_body = SignIn, responses((status = 200, body = SessionInfo), (status = 401, body = Problem), (status = 429, body = Problem)))]
#[post("/session", data = "<body>")]
pub async fn sign_in(
    store: &State<Store>,
    reach: &State<Reach>,
    patience: &State<Patience>,
    client: Client,
    cookies: &CookieJar<'_>,
    body: JsonText,
) -> Answer<SessionInfo> {
    let SignIn { name, password } = parse(&body.0)?;
    if !reach.exposed {
        return Ok(Json(SessionInfo::of(&Access::Here, false)));
    }
    let left = patience.wait(Some(&name), client.0, Instant::now());
    if !left.is_zero() {
        return Err(wait(left));
    }
    // counted before it is known to be right: many tries at once do not slip through
    patience.wrong(Some(&name), client.0, Instant::now());
    let from = client.0.map_or_else(String::new, |ip| ip.to_string());
    let Some((person, token)) = store.sign_in(&name, &password).await? else {
        // what is no name may be a password, typed into the wrong field
        let known = store.people().await?.into_iter().find(|p| p.name.eq_ignore_ascii_case(name.trim()));
        let tried = known.map_or_else(|| "somebody unknown".to_owned(), |p| p.name);
        store.note_deed(&tried, "tried to sign in with a wrong name or password", "", &from).await?;
        return Err(Problem::new(Status::Unauthorized, "Not signed in", "Name or password is wrong."));
    };
    patience.right(&name, client.0);
    store.note_deed(&person.name, "signed in", "", &from).await?;
    cookies.add(access::cookie(token, true));
    Ok(Json(SessionInfo::of(&Access::Person(person), true)))
}

/// Signs out: this browser, or with `everywhere` all of them.
#[utoipa::path(context_path = "/api", responses((status = 204)))]
#[delete("/session?<everywhere>")]
pub async fn sign_out(
    store: &State<Store>,
    reach: &State<Reach>,
    access: Access,
    cookies: &CookieJar<'_>,
    everywhere: Option<bool>,
) -> Result<Status, Problem> {
    let name = access::cookie_name(reach.exposed);
    if let Some(cookie) = cookies.get(name) {
        store.sign_out(cookie.value()).await?;
        let mut gone = access::cookie(String::new(), reach.exposed);
        gone.make_removal();
        cookies.add(gone);
    }
    if let (Access::Person(p), Some(true)) = (&access, everywhere) {
        store.sign_out_everywhere(&p.id).await?;
    }
    Ok(Status::NoContent)
}

/// Changes one's own password; every other browser is signed out.
#[utoipa::path(context_path = "/api", request_body = NewPassword, responses((status = 204), (status = 401, body = Problem), (status = 422, body = Problem), (status = 429, body = Problem)))]
#[put("/session/password", data = "<body>")]
pub async fn change_password(
    store: &State<Store>,
    patience: &State<Patience>,
    client: Client,
    access: Access,
    cookies: &CookieJar<'_>,
    body: JsonText,
) -> Result<Status, Problem> {
    let NewPassword { old, new } = parse(&body.0)?;
    let Access::Person(person) = access else {
        return Err(Problem::new(Status::Forbidden, "Not signed in", "Nobody signs in here."));
    };
    let left = patience.wait(Some(&person.name), client.0, Instant::now());
    if !left.is_zero() {
        return Err(wait(left));
    }
    patience.wrong(Some(&person.name), client.0, Instant::now());
    if store.known(&person.name, &old).await?.is_none() {
        return Err(Problem::new(Status::Unauthorized, "Not changed", "The old password is wrong."));
    }
    patience.right(&person.name, client.0);
    store.set_password(&person.id, &new).await.map_err(|e| of_field(e, "new"))?;
    store.note_deed(&person.name, "changed their password", "", "").await?;
    if let Some((_, token)) = store.sign_in(&person.name, &new).await? {
        cookies.add(access::cookie(token, true));
    }
    Ok(Status::NoContent)
}

/// The problem of a password, under the name of its field here.
fn of_field(e: fuoco_store::StoreError, field: &str) -> Problem {
    let mut p = Problem::from(e);
    if p.field.as_deref() == Some("password") {
        p.field = Some(field.into());
    }
    p
}

/// Everybody who may sign in.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<Person>)))]
#[get("/people")]
pub async fn list_people(store: &State<Store>) -> Answer<Vec<Person>> {
    Ok(Json(store.people().await?))
}

/// Lets somebody sign in.
#[utoipa::path(context_path = "/api", request_body = NewPerson, responses((status = 200, body = Person), (status = 422, body = Problem)))]
#[post("/people", data = "<body>")]
pub async fn add_person(store: &State<Store>, access: Access, body: JsonText) -> Answer<Person> {
    let NewPerson { name, role, password } = parse(&body.0)?;
    let person = store.add_person(&name, role, &password).await?;
    store.note_deed(&access.name(), &format!("let {} sign in as {}", person.name, role.code()), "", "").await?;
    Ok(Json(person))
}

/// Gives somebody another role or password.
#[utoipa::path(context_path = "/api", request_body = PersonChange, responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[put("/people/<id>", data = "<body>")]
pub async fn change_person(store: &State<Store>, access: Access, id: &str, body: JsonText) -> Result<Status, Problem> {
    let PersonChange { role, password } = parse(&body.0)?;
    let name = store.person(id).await?.name;
    if role.is_none() && password.is_none() {
        return Err(FieldError::new("role", "or password must be there").into());
    }
    if let Some(password) = password {
        store.set_password(id, &password).await?;
        store.note_deed(&access.name(), &format!("gave {name} another password"), "", "").await?;
    }
    if let Some(role) = role {
        store.set_role(id, role).await?;
        store.note_deed(&access.name(), &format!("made {name} {}", role.code()), "", "").await?;
    }
    Ok(Status::NoContent)
}

/// Somebody may no longer sign in.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[delete("/people/<id>")]
pub async fn remove_person(store: &State<Store>, access: Access, id: &str) -> Result<Status, Problem> {
    let name = store.person(id).await?.name;
    store.remove_person(id).await?;
    store.note_deed(&access.name(), &format!("took {name} off the list of people"), "", "").await?;
    Ok(Status::NoContent)
}

/// Who did what, the newest first.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<Deed>)))]
#[get("/deeds")]
pub async fn list_deeds(store: &State<Store>) -> Answer<Vec<Deed>> {
    Ok(Json(store.deeds(MOST_DEEDS).await?))
}

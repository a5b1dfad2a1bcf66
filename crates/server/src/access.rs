//! Who asks, and what they may do. A server on loopback serves whoever sits at the machine, without sign-in; one that others
//! reach asks everybody who they are.

use fuoco_store::{Holder, Link, Person, Purpose, Role, Store};
use rocket::http::{Cookie, Method, SameSite};
use rocket::request::{FromRequest, Outcome};
use rocket::time::Duration;
use rocket::{Request, State};
use std::net::IpAddr;
use std::ops::Deref;

/// From where a server is reached.
#[derive(Debug, Clone, Default)]
pub struct Reach {
    /// Others reach it: everybody signs in.
    pub exposed: bool,
    /// Host names and addresses by which it may be called, besides loopback's.
    pub names: Vec<String>,
    /// The only addresses that may connect, where it stands behind proxies; what they say of the client is believed.
    pub proxies: Vec<IpAddr>,
}

/// Who asks.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum Access {
    /// Whoever sits at the machine.
    Here,
    /// Nobody that is known.
    Nobody,
    /// Somebody signed in.
    Person(Person),
    /// Whoever came by a link.
    Link(Link),
}

/// What a request comes to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum May {
    /// It is answered.
    Yes,
    /// First say who you are.
    SignIn,
    /// This one may not.
    No,
}

/// Papers that owners and inspectors read: none with a price.
pub(crate) const OPEN_PAPERS: [&str; 10] = [
    "heat-loss",
    "loop-sheets",
    "plant-sheet",
    "manifold-charts",
    "owners-sheet",
    "labels",
    "as-laid",
    "pressure-tests",
    "start-up",
    "pack",
];
/// Papers that a crew reads on site.
pub(crate) const CREW_PAPERS: [&str; 9] = [
    "crew-sheets",
    "loop-sheets",
    "plant-sheet",
    "manifold-charts",
    "owners-sheet",
    "labels",
    "as-laid",
    "pressure-tests",
    "start-up",
];
/// First parts of paths under which something is kept: a POST there changes it. Elsewhere a POST only calculates.
const KEPT: [&str; 8] = ["jobs", "firm", "files", "pictures", "weather", "people", "deeds", "session"];

impl Access {
    /// Whom a session belongs to.
    pub fn of_holder(holder: Holder) -> Access {
        match holder {
            Holder::Person(p) => Access::Person(p),
            Holder::Link(l) => Access::Link(l),
        }
    }

    /// By what name deeds are written down; empty on loopback.
    pub fn name(&self) -> String {
        match self {
            Access::Here | Access::Nobody => String::new(),
            Access::Person(p) => p.name.clone(),
            Access::Link(l) => format!("{} (link)", l.name),
        }
    }

    /// Prices and rates are the firm's own business.
    pub fn sees_prices(&self) -> bool {
        match self {
            Access::Here => true,
            Access::Person(p) => p.role != Role::Crew,
            Access::Nobody | Access::Link(_) => false,
        }
    }

    /// Whether it may read that paper.
    pub fn reads_paper(&self, code: &str) -> bool {
        match self {
            Access::Here => true,
            Access::Nobody => false,
            Access::Person(p) => p.role != Role::Crew || CREW_PAPERS.contains(&code),
            Access::Link(l) if l.purpose == Purpose::Crew => CREW_PAPERS.contains(&code),
            Access::Link(_) => OPEN_PAPERS.contains(&code),
        }
    }

    /// Whether a request of it is answered: `path` are the parts after `/api`.
    pub fn may(&self, method: Method, path: &[&str]) -> May {
        let read = matches!(method, Method::Get | Method::Head);
        match path {
            // who one is, is asked of everybody
            ["health" | "version" | "session"] | ["links", "open"] => return May::Yes,
            _ => {}
        }
        let calculates = method == Method::Post && path.first().is_some_and(|p| !KEPT.contains(p) && *p != "links");
        // records and photos are added by whoever works on site
        let writes = method == Method::Post && matches!(path, ["jobs", _, "records" | "photos"]);
        // how far it has come what one's own window waits for, and that it waits no more
        let waits = (read || method == Method::Delete) && matches!(path, ["windows", _]);
        let yes = match self {
            Access::Here => true,
            Access::Nobody => return May::SignIn,
            Access::Person(p) => match (p.role, path) {
                (Role::Owner, _) => true,
                (_, ["session", ..]) => true,
                (_, ["people" | "deeds", ..]) => false,
                (role, ["firm", ..]) => read && role != Role::Crew,
                (Role::Designer, _) => true,
                (_, ["jobs", _, "links", ..]) => false,
                (Role::Crew, ["jobs", _, rest @ ..]) => writes || read && reads(self, Purpose::Crew, rest),
                _ => read || calculates || waits,
            },
            Access::Link(l) => match path {
                ["jobs", id, rest @ ..] => {
                    let crew = l.purpose == Purpose::Crew;
                    *id == l.job_id && (writes && crew || read && reads(self, l.purpose, rest))
                }
                ["library" | "schools" | "instruments"] | ["files", _] => read && l.purpose == Purpose::Crew,
                _ => l.purpose == Purpose::Crew && (calculates || waits),
            },
        };
        if yes { May::Yes } else { May::No }
    }
}

/// What of a job those read who do not see its prices; `rest` are the parts after the job's id.
fn reads(who: &Access, purpose: Purpose, rest: &[&str]) -> bool {
    match rest {
        ["papers"] => true,
        ["papers", file] => who.reads_paper(file.strip_suffix(".pdf").unwrap_or_default()),
        [] | ["thumbnail.svg" | "summary" | "events" | "records" | "laying" | "pressure-tests" | "start-up"] => {
            purpose == Purpose::Crew
        }
        ["stand-in", "readings"] => purpose == Purpose::Crew,
        _ => false,
    }
}

/// The cookie of a session: bound to this very host where it is encrypted.
pub(crate) fn cookie_name(exposed: bool) -> &'static str {
    if exposed { "__Host-fuoco" } else { "fuoco" }
}

/// Puts a session into the browser: no script reads it, no other site sends it.
pub(crate) fn cookie(token: String, exposed: bool) -> Cookie<'static> {
    Cookie::build((cookie_name(exposed), token))
        .path("/")
        .http_only(true)
        .secure(exposed)
        .same_site(SameSite::Strict)
        .max_age(Duration::days(30))
        .build()
}

/// Who asks, as the gate found it.
pub(crate) fn of(request: &Request<'_>) -> Access {
    request.local_cache(|| Access::Nobody).clone()
}

/// What the gate leaves with a request: a session's new token.
#[derive(Debug, Clone, Default)]
pub(crate) struct Renewed(pub Option<String>);

/// Finds out who asks, and remembers it with the request.
pub(crate) async fn find(request: &Request<'_>) -> Access {
    let exposed = reach(request).is_some_and(|r| r.exposed);
    if !exposed {
        return request.local_cache(|| Access::Here).clone();
    }
    let token = request.cookies().get(cookie_name(true)).map(|c| c.value().to_owned());
    let session = match (token, request.rocket().state::<Store>()) {
        (Some(token), Some(store)) => store.session(&token).await.unwrap_or_else(|e| {
            tracing::error!(error = %e, "session");
            None
        }),
        _ => None,
    };
    let access = match session {
        None => Access::Nobody,
        Some(session) => {
            if session.renewed.is_some() {
                request.local_cache(|| Renewed(session.renewed.clone()));
            }
            Access::of_holder(session.holder)
        }
    };
    request.local_cache(|| access.clone());
    access
}

pub(crate) fn reach<'r>(request: &'r Request<'_>) -> Option<&'r Reach> {
    request.rocket().state::<Reach>()
}

/// From where a request comes: what a proxy says of it counts only where the proxy is one of ours.
pub(crate) fn client(request: &Request<'_>) -> Option<IpAddr> {
    let peer = request.remote().map(|r| r.ip())?;
    let trusted = reach(request).is_some_and(|r| r.proxies.contains(&peer));
    if !trusted {
        return Some(peer);
    }
    // the last entry is what our own proxy saw; those before it anybody can write
    let said = request.headers().get("X-Forwarded-For").last().and_then(|h| h.rsplit(',').next()?.trim().parse().ok());
    Some(said.unwrap_or(peer))
}

#[rocket::async_trait]
impl<'r> FromRequest<'r> for Access {
    type Error = ();

    async fn from_request(request: &'r Request<'_>) -> Outcome<Access, ()> {
        Outcome::Success(of(request))
    }
}

/// The token with which a request came; none where nobody is asked.
pub(crate) struct Token(pub Option<String>);

#[rocket::async_trait]
impl<'r> FromRequest<'r> for Token {
    type Error = ();

    async fn from_request(request: &'r Request<'_>) -> Outcome<Token, ()> {
        let exposed = reach(request).is_some_and(|r| r.exposed);
        let cookie = request.cookies().get(cookie_name(true)).filter(|_| exposed);
        Outcome::Success(Token(cookie.map(|c| c.value().to_owned())))
    }
}

/// The store in the hands of whoever asks: what they save bears their name.
pub(crate) struct Hands(Store);

impl Deref for Hands {
    type Target = Store;

    fn deref(&self) -> &Store {
        &self.0
    }
}

#[rocket::async_trait]
impl<'r> FromRequest<'r> for Hands {
    type Error = ();

    async fn from_request(request: &'r Request<'_>) -> Outcome<Hands, ()> {
        match request.guard::<&State<Store>>().await {
            Outcome::Success(store) => Outcome::Success(Hands(store.by(&of(request).name()))),
            Outcome::Error(e) => Outcome::Error(e),
            Outcome::Forward(f) => Outcome::Forward(f),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn person(role: Role) -> Access {
        Access::Person(Person { id: "p".into(), name: "Ada".into(), role, created_at: String::new() })
    }

    fn link(purpose: Purpose) -> Access {
        Access::Link(Link {
            id: "l".into(),
            job_id: "j1".into(),
            purpose,
            name: "Crew".into(),
            made_by: "Ada".into(),
            made_at: String::new(),
            until: String::new(),
            used_at: None,
            revoked_at: None,
        })
    }

    /// Who may do each thing: here, nobody, owner, designer, crew, viewer, crew's link, papers' link.
    const TABLE: [(Method, &str, &str); 33] = [
        (Method::Get, "session", "yyyyyyyy"),
        (Method::Post, "session", "yyyyyyyy"),
        (Method::Get, "health", "yyyyyyyy"),
        (Method::Post, "links/open", "yyyyyyyy"),
        (Method::Put, "session/password", "ysyyyynn"),
        (Method::Get, "jobs", "ysyyyynn"),
        (Method::Post, "jobs", "ysyynnnn"),
        (Method::Get, "jobs/j1", "ysyyyyyn"),
        (Method::Get, "jobs/j2", "ysyyyynn"),
        (Method::Put, "jobs/j1", "ysyynnnn"),
        (Method::Delete, "jobs/j1", "ysyynnnn"),
        (Method::Get, "jobs/j1/papers/owners-sheet.pdf", "ysyyyyyy"),
        (Method::Get, "jobs/j1/papers/crew-sheets.pdf", "ysyyyyyn"),
        (Method::Get, "jobs/j1/papers/quote.pdf", "ysyynynn"),
        (Method::Get, "jobs/j2/papers/owners-sheet.pdf", "ysyyyynn"),
        (Method::Get, "jobs/j1/file", "ysyynynn"),
        (Method::Get, "jobs/j1/records", "ysyyyyyn"),
        (Method::Post, "jobs/j1/records", "ysyyynyn"),
        (Method::Post, "jobs/j2/records", "ysyyynnn"),
        (Method::Post, "jobs/j1/photos", "ysyyynyn"),
        (Method::Get, "jobs/j1/laying", "ysyyyyyn"),
        (Method::Get, "jobs/j1/pressure-tests", "ysyyyyyn"),
        (Method::Get, "jobs/j1/links", "ysyynnnn"),
        (Method::Post, "jobs/j1/links", "ysyynnnn"),
        (Method::Post, "design", "ysyyyyyn"),
        (Method::Delete, "windows/w1234567", "ysyyyyyn"),
        (Method::Post, "pictures", "ysyynnnn"),
        (Method::Get, "firm", "ysyynynn"),
        (Method::Put, "firm", "ysynnnnn"),
        (Method::Get, "people", "ysynnnnn"),
        (Method::Post, "people", "ysynnnnn"),
        (Method::Get, "deeds", "ysynnnnn"),
        (Method::Get, "library", "ysyyyyyn"),
    ];

    #[test]
    fn everybody_may_do_what_is_theirs_and_nothing_else() {
        let who = [
            Access::Here,
            Access::Nobody,
            person(Role::Owner),
            person(Role::Designer),
            person(Role::Crew),
            person(Role::Viewer),
            link(Purpose::Crew),
            link(Purpose::Papers),
        ];
        for (method, path, expected) in TABLE {
            let parts: Vec<&str> = path.split('/').collect();
            let found: String = who
                .iter()
                .map(|w| match w.may(method, &parts) {
                    May::Yes => 'y',
                    May::SignIn => 's',
                    May::No => 'n',
                })
                .collect();
            assert_eq!(found, expected, "{method} {path}");
        }
    }

    #[test]
    fn prices_are_shown_to_those_whose_business_they_are() {
        assert!(Access::Here.sees_prices() && person(Role::Viewer).sees_prices());
        assert!(!person(Role::Crew).sees_prices() && !link(Purpose::Crew).sees_prices());
        assert!(!person(Role::Crew).reads_paper("quote") && !link(Purpose::Papers).reads_paper("materials"));
        assert!(link(Purpose::Papers).reads_paper("heat-loss") && !Access::Nobody.reads_paper("heat-loss"));
    }

    #[test]
    fn a_sessions_cookie_is_read_by_no_script_and_sent_by_no_other_site() {
        let c = cookie("t".into(), true).to_string();
        for part in ["__Host-fuoco=t", "HttpOnly", "SameSite=Strict", "Secure", "Path=/"] {
            assert!(c.contains(part), "{c}");
        }
    }
}

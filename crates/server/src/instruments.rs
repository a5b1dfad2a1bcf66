//! Instruments: those that the app may read, and the simulated ones of a job. `docs/instruments.md` has the form of a reading.

use crate::api::Answer;
use crate::body::Json;
use crate::problem::{self, Problem};
use crate::work::Workshop;
use chrono::Utc;
use fuoco_core::error::FieldError;
use fuoco_core::job::CheckedJob;
use fuoco_core::records::Entry;
use fuoco_core::stand_in::{InstrumentReading, StandIn, readings};
use fuoco_core::study::Study;
use fuoco_store::Store;
use rocket::config::{Ident, LogLevel};
use rocket::fairing::AdHoc;
use rocket::form::FromForm;
use rocket::http::Header;
use rocket::http::uri::Absolute;
use rocket::{State, get};
use serde::{Deserialize, Serialize};
use std::net::SocketAddr;
use std::str::FromStr;

/// An instrument on the network, or a box that speaks for several.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct Instrument {
    /// What people call it.
    pub name: String,
    /// Under this, `/readings` answers with its readings.
    pub url: String,
}

impl FromStr for Instrument {
    type Err = String;

    /// `NAME=URL`, of HTTP.
    fn from_str(text: &str) -> Result<Instrument, String> {
        let (name, url) = text.split_once('=').ok_or("must be NAME=URL")?;
        let read = Absolute::parse(url).map_err(|_| format!("\"{url}\" is no address"))?;
        let http = (read.scheme() == "http" || read.scheme() == "https") && read.authority().is_some();
        // it goes into a header, and readings are asked for under it
        if !http || read.query().is_some() || url.contains([' ', ';', ',', '\'', '"']) {
            return Err(format!("\"{url}\" must be http:// or https://, a host and a path"));
        }
        match name.trim() {
            "" => Err("a name must stand before the =".into()),
            name => Ok(Instrument { name: name.into(), url: url.trim_end_matches('/').into() }),
        }
    }
}

impl Instrument {
    /// The origin that a page must be allowed to ask.
    pub(crate) fn origin(&self) -> String {
        let read = Absolute::parse(&self.url).ok();
        read.and_then(|u| Some(format!("{}://{}", u.scheme(), u.authority()?))).unwrap_or_default()
    }
}

/// Those that this server was started with.
pub(crate) struct Instruments(pub(crate) Vec<Instrument>);

/// What simulated instruments are asked for. Real ones may leave it aside.
#[derive(Debug, FromForm)]
pub struct Asked {
    house: Option<String>,
    water: Option<String>,
    outdoor_c: Option<String>,
    test: Option<String>,
    turned: Vec<String>,
}

impl Asked {
    fn read(self) -> Result<StandIn, FieldError> {
        fn number<T: FromStr>(field: &str, text: &str) -> Result<T, FieldError> {
            text.parse().map_err(|_| FieldError::new(field, format!("must be a number; \"{text}\" is none")))
        }
        let cold = match self.water.as_deref() {
            None | Some("warm") => false,
            Some("cold") => true,
            Some(_) => return Err(FieldError::new("water", "must be warm or cold")),
        };
        let turned = |t: &String| {
            let (id, shows) = t.rsplit_once('~').ok_or_else(|| FieldError::new("turned", "must be LOOP~L/MIN"))?;
            Ok((id.to_owned(), number("turned", shows)?))
        };
        Ok(StandIn {
            outdoor_c: self.outdoor_c.map(|t| number("outdoor_c", &t)).transpose()?,
            house: self.house.map_or(Ok(0), |t| number("house", &t))?,
            cold,
            turned: self.turned.iter().map(turned).collect::<Result<_, FieldError>>()?,
            test: self.test.filter(|t| !t.is_empty()),
        })
    }
}

/// The instruments that this server was started with.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<Instrument>)))]
#[get("/instruments")]
pub fn list_instruments(instruments: &State<Instruments>) -> Json<Vec<Instrument>> {
    Json(instruments.0.clone())
}

/// What simulated instruments show at a job now. `house`: 0 a sound one, any other number one with a fault that goes with it;
/// `water`: `warm` at work, `cold` at start-up; `turned`: valves turned since the meters were written down, each LOOP~L/MIN in order;
/// `test`: the record that began a pressure test, of which the gauge is read and nothing else.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<InstrumentReading>), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/jobs/<id>/stand-in/readings?<asked..>")]
pub async fn read_stand_in(
    store: &State<Store>,
    work: &State<Workshop>,
    id: &str,
    asked: Asked,
) -> Answer<Vec<InstrumentReading>> {
    let stand = asked.read().map_err(|e| Problem { title: "Not read".into(), ..e.into() })?;
    let job = store.get(id).await?.job;
    let entries = store.records(id, 0).await?;
    Ok(Json(work.run(move || readings(&*Study::of(&job)?, &entries, &stand, Utc::now())).await?))
}

/// The job at which the instruments of `fuoco simulate` stand.
struct Cellar {
    job: CheckedJob,
    entries: Vec<Entry>,
    house: u64,
}

#[get("/readings?<asked..>")]
async fn read_cellar(cellar: &State<Cellar>, work: &State<Workshop>, asked: Asked) -> Answer<Vec<InstrumentReading>> {
    let of_command = asked.house.is_none().then_some(cellar.house);
    let mut stand = asked.read().map_err(|e| Problem { title: "Not read".into(), ..e.into() })?;
    stand.house = of_command.unwrap_or(stand.house);
    let (job, entries) = (cellar.job.clone(), cellar.entries.clone());
    Ok(Json(work.run(move || readings(&*Study::of(&job)?, &entries, &stand, Utc::now())).await?))
}

/// Simulated instruments at a job, served by themselves: `GET /readings`. Pages of any origin may read them.
///
/// # Errors
/// Where the address is taken or cannot be listened on.
pub fn simulate(job: CheckedJob, entries: Vec<Entry>, house: u64, bind: SocketAddr) -> Result<(), crate::ServeError> {
    let config = rocket::Config {
        address: bind.ip(),
        port: bind.port(),
        workers: 2,
        log_level: LogLevel::Off,
        ident: Ident::none(),
        cli_colors: false,
        ..rocket::Config::release_default()
    };
    let rocket = rocket::custom(config)
        .manage(Cellar { job, entries, house })
        .manage(Workshop::default())
        .attach(AdHoc::on_response("any page", |_, answer| {
            Box::pin(async move {
                answer.set_header(Header::new("Access-Control-Allow-Origin", "*"));
            })
        }))
        .attach(AdHoc::on_liftoff("address", |rocket| {
            Box::pin(async move {
                let c = rocket.config();
                println!("Instruments are read at http://{}/readings", SocketAddr::new(c.address, c.port));
            })
        }))
        .mount("/", rocket::routes![read_cellar])
        .register("/", problem::catchers());
    rocket::execute(rocket.launch()).map(drop).map_err(|e| crate::ServeError::Rocket(e.to_string()))
}

//! The `fuoco` command: serve the app, design a job file, print the job file's schema.

mod keeping;

use clap::{Parser, Subcommand};
use fuoco_core::coils::CoilTask;
use fuoco_core::job::{CheckedJob, Firm};
use fuoco_core::layout::lay_out;
use fuoco_core::layout::rules::buildability::{Buildability, ideal_of};
use fuoco_core::layout::rules::score::{ManifoldScore, score};
use fuoco_core::network::Network;
use fuoco_core::plan::Plan;
use fuoco_core::pressure_test::PressureTest;
use fuoco_core::readings::Readings;
use fuoco_core::records::{Entry, read_entries};
use fuoco_core::section::{file::SectionFile, warm_up::WarmUpFile};
use fuoco_core::service::rank;
use fuoco_core::snow::Storm;
use fuoco_core::snow::year::SnowYearTask;
use fuoco_core::study::Study;
use fuoco_core::survey::climate::read_epw;
use fuoco_core::survey::hours::hours;
use fuoco_core::{design::design, error::FieldError};
use fuoco_documents::exchange::{dxf, geojson, openings_csv, rooms_csv};
use fuoco_documents::{loop_files, plan_svg, tables};
use fuoco_papers::{Format, Paper, of_job};
use std::net::{IpAddr, SocketAddr};
use std::path::{Path, PathBuf};
use std::process::ExitCode;

/// A design tool for radiant floors.
#[derive(Parser)]
#[command(name = "fuoco", version = keeping::VERSION.as_str(), about)]
struct Cli {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Serve the app in the browser
    Serve {
        /// Folder of the database [default: fuoco in the user's data folder]
        #[arg(long, value_name = "DIR")]
        data: Option<PathBuf>,
        /// Put the demo job in
        #[arg(long)]
        demo: bool,
        /// Address to listen on; port 0 takes a free one. Beyond this machine it is served encrypted, and everybody signs in
        #[arg(long, value_name = "ADDR", default_value = "127.0.0.1:8642")]
        bind: SocketAddr,
        /// Certificate to serve with, PEM; `fuoco certificate` makes one
        #[arg(long, value_name = "FILE", requires = "tls_key")]
        tls_cert: Option<PathBuf>,
        /// Its key, PEM
        #[arg(long, value_name = "FILE", requires = "tls_cert")]
        tls_key: Option<PathBuf>,
        /// Address of a proxy that does the encrypting; only such may then connect. May be given several times
        #[arg(long, value_name = "IP")]
        behind_proxy: Vec<IpAddr>,
        /// Name or address by which browsers call this server. May be given several times
        #[arg(long, value_name = "NAME")]
        name: Vec<String>,
        /// Folder for a backup every day
        #[arg(long, value_name = "DIR")]
        backups: Option<PathBuf>,
        /// An instrument that the app may read, by name and address. May be given several times
        #[arg(long, value_name = "NAME=URL")]
        instrument: Vec<fuoco_server::Instrument>,
    },
    /// Write all jobs and files into one new file, also while the server runs. In a folder it is named by the time, looked at, and
    /// older ones are kept by a rule: the last of each of 14 days and 12 months
    Backup {
        /// The file to write, or a folder that is there
        file: PathBuf,
        /// Folder of the database [default: fuoco in the user's data folder]
        #[arg(long, value_name = "DIR")]
        data: Option<PathBuf>,
    },
    /// Make a new data folder of a backup
    Restore {
        /// The file that `fuoco backup` wrote
        file: PathBuf,
        /// The folder to make; it must hold no database [default: fuoco in the user's data folder]
        #[arg(long, value_name = "DIR")]
        data: Option<PathBuf>,
    },
    /// Look at everything that is stored and tell what is damaged
    Check {
        /// Folder of the database [default: fuoco in the user's data folder]
        #[arg(long, value_name = "DIR")]
        data: Option<PathBuf>,
    },
    /// Say who may sign in to a server that others reach
    User {
        #[command(subcommand)]
        what: keeping::User,
    },
    /// Make a private authority and a certificate for this machine's names, so that browsers on the firm's network reach it encrypted
    Certificate {
        /// Names and addresses by which browsers call this machine
        #[arg(required = true)]
        names: Vec<String>,
        /// The folder to write into
        #[arg(long, value_name = "DIR")]
        out: PathBuf,
    },
    /// Design a job file and print the design as JSON
    Design {
        /// The job file; - for standard input
        job: PathBuf,
        /// Also write drawings and tables into this folder
        #[arg(long, value_name = "DIR")]
        out: Option<PathBuf>,
    },
    /// Make the papers of a job as PDF
    Papers {
        /// The job file; - for standard input
        job: PathBuf,
        /// The folder to write into
        #[arg(long, value_name = "DIR")]
        out: PathBuf,
        /// The paper in the printer [default: what is usual with the job's units]
        #[arg(long, value_parser = ["a4", "letter"])]
        format: Option<String>,
        /// One paper only: heat-loss, loop-sheets, crew-sheets, plant-sheet, manifold-charts, materials, quote, owners-sheet,
        /// labels, as-laid, pressure-tests, start-up or pack
        #[arg(long, value_name = "PAPER")]
        only: Option<String>,
        /// The firm's file: its name and address stand on the papers
        #[arg(long, value_name = "FILE")]
        firm: Option<PathBuf>,
        /// Records of the site, as the server lists them: what was laid and tested
        #[arg(long, value_name = "FILE")]
        records: Option<PathBuf>,
        /// Where the job is opened in the app: the codes on the labels lead there
        #[arg(long, value_name = "URL")]
        address: Option<String>,
    },
    /// Lay the loops of job files and print the figures of each layout as a table in Markdown
    Layouts {
        /// The job files
        #[arg(required_unless_present = "random")]
        jobs: Vec<PathBuf>,
        /// Also so many plans made up by number, as the tests have them
        #[arg(long, value_name = "N", value_parser = clap::value_parser!(u64).range(1..=100_000))]
        random: Option<u64>,
        /// Also draw each plan into this folder, an SVG for each level
        #[arg(long, value_name = "FOLDER")]
        pictures: Option<PathBuf>,
    },
    /// Solve one floor section and print its fluxes, temperatures and coefficients as JSON
    Section {
        /// The section file; - for standard input
        section: PathBuf,
    },
    /// Warm one floor section up and print its fluxes and surface in time as JSON
    WarmUp {
        /// The section file with its times; - for standard input
        section: PathBuf,
    },
    /// Solve one network of pipes, valves, pumps, sources and loads and print its flows, pressures and temperatures as JSON
    Network {
        /// The network file; - for standard input
        network: PathBuf,
    },
    /// Plan which loops are cut from which coil and print the cuts, the coils to buy and a proved bound as JSON
    Coils {
        /// The coil file; - for standard input
        coils: PathBuf,
    },
    /// Judge a pressure test and print its corrected readings, what it could have shown and the verdict as JSON
    PressureTest {
        /// The test file; - for standard input
        test: PathBuf,
    },
    /// Rank what could be wrong with a floor by readings of a visit, and print the causes as JSON
    Service {
        /// The job file; - for standard input
        job: PathBuf,
        /// The readings; - for standard input
        readings: PathBuf,
    },
    /// Serve simulated instruments at a job: gauge, flow meters, thermometers, refractometer, thermal camera
    Simulate {
        /// The job file; - for standard input
        job: PathBuf,
        /// Address of this machine to listen on; port 0 takes a free one
        #[arg(long, value_name = "ADDR", default_value = "127.0.0.1:8643")]
        bind: SocketAddr,
        /// Records of the site, as the server lists them: what is under test, how the valves stand
        #[arg(long, value_name = "FILE")]
        records: Option<PathBuf>,
        /// 0: a sound house; any other number picks what is wrong with it
        #[arg(long, value_name = "N", default_value_t = 0)]
        house: u64,
    },
    /// Print the heat that keeps a surface outdoors free of snow, by its parts, as JSON
    Snow {
        /// The storm file; - for standard input
        storm: PathBuf,
    },
    /// Weigh a year of storms on a surface outdoors, hour by hour of a weather file, and print how much heat keeps it clear how often
    /// as JSON
    SnowYear {
        /// The task file; - for standard input
        task: PathBuf,
        /// The EPW weather file
        weather: PathBuf,
    },
    /// Check what is calculated against standards, independent solutions and figures by hand, and print the tables as Markdown
    Validate {
        /// Of one chapter only
        #[arg(value_enum)]
        chapter: Option<Chapter>,
    },
    /// Read an EPW weather file and print its design temperatures, degree-days and days as JSON
    Climate {
        /// The weather file; - for standard input
        weather: PathBuf,
    },
    /// Print the JSON Schema of the job file
    Schema,
    /// Print the OpenAPI document of the server
    Openapi,
}

/// What is validated.
#[derive(Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
enum Chapter {
    /// The section solver
    Section,
    /// The house in time
    Time,
    /// The thermal picture
    Picture,
}

fn main() -> ExitCode {
    let done = match Cli::parse().command {
        Command::Serve { data, demo, bind, tls_cert, tls_key, behind_proxy, name, backups, instrument } => folder(data)
            .and_then(|data| {
                let tls = tls_cert.zip(tls_key);
                let (proxies, names, instruments) = (behind_proxy, name, instrument);
                serve(fuoco_server::Options { data, bind, tls, proxies, names, backups, instruments, demo })
            }),
        Command::Backup { file, data } => folder(data).and_then(|data| keeping::back_up(&data, &file)),
        Command::Check { data } => folder(data).and_then(|data| keeping::check(&data)),
        Command::User { what } => what.run(),
        Command::Certificate { names, out } => keeping::certificate(&names, &out),
        Command::Restore { file, data } => {
            folder(data).and_then(|data| fuoco_server::restore(&file, &data).map_err(|e| failed(1, e)))
        }
        Command::Design { job, out } => design_file(&job, out.as_deref()),
        Command::Papers { job, out, format, only, firm, address, records } => {
            let files = [firm.as_deref(), records.as_deref()];
            papers(&job, &out, format.as_deref(), only.as_deref(), files, address.as_deref())
        }
        Command::Layouts { jobs, random, pictures } => layouts(&jobs, random.unwrap_or(0), pictures.as_deref()),
        Command::Section { section } => solve_section(&section),
        Command::WarmUp { section } => warm_up(&section),
        Command::Network { network } => solve_network(&network),
        Command::Coils { coils } => plan_coils(&coils),
        Command::PressureTest { test } => judge_test(&test),
        Command::Service { job, readings } => rank_causes(&job, &readings),
        Command::Simulate { job, bind, records, house } => simulate(&job, records.as_deref(), house, bind),
        Command::Snow { storm } => melt_snow(&storm),
        Command::SnowYear { task, weather } => snow_year(&task, &weather),
        Command::Validate { chapter } => validate(chapter),
        Command::Climate { weather } => climate(&weather),
        Command::Schema => print(&fuoco_server::job_schema()),
        Command::Openapi => print(&fuoco_server::document()),
    };
    match done {
        Ok(()) => ExitCode::SUCCESS,
        Err(Failure { code, reason }) => {
            eprintln!("fuoco: {}", reason.replace('\n', " "));
            ExitCode::from(code)
        }
    }
}

/// Why a command failed: 2 for bad input, 1 for anything else.
struct Failure {
    code: u8,
    reason: String,
}

impl From<FieldError> for Failure {
    fn from(e: FieldError) -> Failure {
        Failure { code: 2, reason: e.to_string() }
    }
}

fn failed(code: u8, what: impl std::fmt::Display) -> Failure {
    Failure { code, reason: what.to_string() }
}

/// The tables of a chapter, or of all of them.
fn validate(chapter: Option<Chapter>) -> Result<(), Failure> {
    let all = [Chapter::Section, Chapter::Time, Chapter::Picture];
    for (k, one) in all.into_iter().filter(|c| chapter.is_none_or(|asked| asked == *c)).enumerate() {
        let tables = match one {
            Chapter::Section => fuoco_core::floor::validation::tables(),
            Chapter::Time => fuoco_core::dynamics::validation::tables()?,
            Chapter::Picture => fuoco_core::thermal::validation::tables()?,
        };
        print(&format!("{}{}", if k > 0 { "\n" } else { "" }, tables.trim_end()))?;
    }
    Ok(())
}

/// One row for each job: what the layout reaches, and what is wrong with it.
fn layouts(jobs: &[PathBuf], random: u64, pictures: Option<&Path>) -> Result<(), Failure> {
    let shown = |name: &str, job: &CheckedJob| {
        print(&layout_row(name, job))?;
        pictures.map_or(Ok(()), |folder| draw(folder, name, job))
    };
    print(
        "| plan | floor m² | loops | tube m | coverage | least room | spread | of limit | tube/wanted | leaders | turns/10 m | of ideal | jogs/loop | straight | violations | not laid |\n|---|---|---|---|---|---|---|---|---|---|---|---|---|---|---|---|",
    )?;
    for path in jobs {
        let job = CheckedJob::from_json(&read(path)?).map_err(|e| failed(2, format!("{}: {e}", path.display())))?;
        shown(&path.file_stem().unwrap_or_default().to_string_lossy(), &job)?;
    }
    (0..random).try_for_each(|number| {
        let job = CheckedJob::new(fuoco_core::samples::random::plan(number))?;
        shown(&number.to_string(), &job)
    })
}

/// Draws the levels of a plan that have rooms, 1:50.
fn draw(folder: &Path, name: &str, job: &CheckedJob) -> Result<(), Failure> {
    let design = design(job)?;
    std::fs::create_dir_all(folder).map_err(|e| failed(1, format!("{}: {e}", folder.display())))?;
    let levels: Vec<&str> = job.levels.iter().map(|l| l.id.as_str()).collect();
    let built = levels.iter().filter(|id| job.rooms.iter().any(|r| r.level_id == **id));
    for (k, level) in built.enumerate() {
        let file = folder.join(if k == 0 { format!("{name}.svg") } else { format!("{name}-{}.svg", k + 1) });
        std::fs::write(&file, plan_svg::plan(job, &design, level, 50.0))
            .map_err(|e| failed(1, format!("{}: {e}", file.display())))?;
    }
    Ok(())
}

fn layout_row(name: &str, job: &CheckedJob) -> String {
    let plan = Plan::of(job);
    let layout = lay_out(job, &plan);
    let score = score(job, &plan, &layout);
    let most = |f: fn(&ManifoldScore) -> f64| score.manifolds.iter().map(f).fold(0.0, f64::max);
    let leaders: f64 = score.manifolds.iter().map(|m| m.leaders * m.lengths_m.iter().sum::<f64>()).sum();
    let ease = Buildability::of_loops(layout.loops.iter());
    format!(
        "| {name} | {:.1} | {} | {:.0} | {:.1} % | {:.1} % | {:.0} %{} | {:.0} % | {:.2} | {:.0} % | {:.1} | {:.2} | {:.1} | {:.0} % | {} | {} |",
        score.rooms.iter().map(|r| r.area_m2).sum::<f64>(),
        layout.loops.len(),
        score.tube_m(),
        100.0 * score.coverage(),
        100.0 * score.rooms.iter().map(|r| r.coverage).fold(1.0, f64::min),
        100.0 * most(|m| m.spread),
        if job.rules.equal_loops { " asked" } else { "" },
        100.0 * most(|m| m.of_limit),
        score.density(),
        100.0 * leaders / score.tube_m().max(1.0),
        ease.turns_per_10m(),
        ease.quarter_turns / ideal_of(job, &layout.loops).max(1.0),
        ease.jogs as f64 / layout.loops.len().max(1) as f64,
        100.0 * ease.straight(),
        score.violations,
        layout.problems.len(),
    )
}

/// Prints, and takes a reader that has gone away for success.
fn print(text: &str) -> Result<(), Failure> {
    use std::io::Write;
    match writeln!(std::io::stdout(), "{text}") {
        Err(e) if e.kind() != std::io::ErrorKind::BrokenPipe => Err(failed(1, e)),
        _ => Ok(()),
    }
}

fn serve(options: fuoco_server::Options) -> Result<(), Failure> {
    use fuoco_server::ServeError;
    // to standard error: standard output has the address
    let filter = tracing_subscriber::EnvFilter::try_from_env("FUOCO_LOG").unwrap_or_else(|_| "warn".into());
    tracing_subscriber::fmt().with_env_filter(filter).with_writer(std::io::stderr).with_ansi(false).init();
    keeping::check_names("--name", &options.names)?;
    if let Some((cert, key)) = &options.tls {
        for (option, file) in [("--tls-cert", cert), ("--tls-key", key)] {
            std::fs::File::open(file).map_err(|e| failed(2, format!("{option}: {}: {e}", file.display())))?;
        }
    }
    fuoco_server::serve(options).map_err(|e| {
        let asked = matches!(e, ServeError::NotEncrypted(_) | ServeError::NoOwner(_) | ServeError::NoName(_));
        failed(if asked { 2 } else { 1 }, e)
    })
}

/// The data folder that was named, or the user's own.
fn folder(named: Option<PathBuf>) -> Result<PathBuf, Failure> {
    named.or_else(data_folder).ok_or_else(|| failed(2, "--data: there is no user data folder here; name one"))
}

/// `$XDG_DATA_HOME/fuoco`, or the platform's usual place.
fn data_folder() -> Option<PathBuf> {
    let var = |name: &str| std::env::var_os(name).filter(|v| !v.is_empty()).map(PathBuf::from);
    let base = var("XDG_DATA_HOME")
        .or_else(|| var("LOCALAPPDATA"))
        .or_else(|| var("HOME").map(|h| h.join(".local").join("share")))?;
    Some(base.join("fuoco"))
}

/// The text of a file, or of standard input for `-`.
fn read(path: &Path) -> Result<String, Failure> {
    use std::io::Read;
    let named = |e: std::io::Error| failed(2, format!("{}: {e}", path.display()));
    let mut bytes = Vec::new();
    if path == Path::new("-") {
        std::io::stdin().read_to_end(&mut bytes).map_err(named)?;
    } else {
        bytes = std::fs::read(path).map_err(named)?;
    }
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}

fn solve_section(path: &Path) -> Result<(), Failure> {
    let answer = SectionFile::from_json(&read(path)?)?.answer()?;
    print(&serde_json::to_string_pretty(&answer).map_err(|e| failed(1, e))?)
}

fn warm_up(path: &Path) -> Result<(), Failure> {
    let answer = WarmUpFile::from_json(&read(path)?)?.answer()?;
    print(&serde_json::to_string_pretty(&answer).map_err(|e| failed(1, e))?)
}

fn solve_network(path: &Path) -> Result<(), Failure> {
    let solution = Network::from_json(&read(path)?)?.solve()?;
    print(&serde_json::to_string_pretty(&solution).map_err(|e| failed(1, e))?)
}

fn plan_coils(path: &Path) -> Result<(), Failure> {
    let plan = CoilTask::from_json(&read(path)?)?.plan()?;
    print(&serde_json::to_string_pretty(&plan).map_err(|e| failed(1, e))?)
}

fn judge_test(path: &Path) -> Result<(), Failure> {
    let result = PressureTest::from_json(&read(path)?)?.judge()?;
    print(&serde_json::to_string_pretty(&result).map_err(|e| failed(1, e))?)
}

fn melt_snow(path: &Path) -> Result<(), Failure> {
    let load = Storm::from_json(&read(path)?)?.load()?;
    print(&serde_json::to_string_pretty(&load).map_err(|e| failed(1, e))?)
}

fn rank_causes(job: &Path, readings: &Path) -> Result<(), Failure> {
    let job = CheckedJob::from_json(&read(job)?)?;
    let ranking = rank(&Study::of(&job)?, &Readings::from_json(&read(readings)?)?)?;
    print(&serde_json::to_string_pretty(&ranking).map_err(|e| failed(1, e))?)
}

/// Instruments where there are none: until it is stopped.
fn simulate(job: &Path, records: Option<&Path>, house: u64, bind: SocketAddr) -> Result<(), Failure> {
    if !bind.ip().is_loopback() {
        return Err(failed(
            2,
            format!("--bind {}: nobody signs in to simulated instruments: on this machine only", bind.ip()),
        ));
    }
    let job = CheckedJob::from_json(&read(job)?)?;
    // a job that does not solve is refused here, not at every reading
    Study::of(&job)?;
    let entries = entries_of(records)?;
    fuoco_server::simulate(job, entries, house, bind).map_err(|e| failed(1, e))
}

/// The records of a file; none without one.
fn entries_of(file: Option<&Path>) -> Result<Vec<Entry>, Failure> {
    file.map_or_else(|| Ok(vec![]), |file| read(file).and_then(|text| Ok(read_entries(&text)?)))
}

fn snow_year(task: &Path, weather: &Path) -> Result<(), Failure> {
    let task = SnowYearTask::from_json(&read(task)?)?;
    let hours = hours(&read(weather)?).map_err(|e| failed(2, format!("{}: {e}", weather.display())))?;
    print(&serde_json::to_string_pretty(&task.answer(&hours)?).map_err(|e| failed(1, e))?)
}

/// What a weather file says, with the degree-days below the usual bases.
fn climate(path: &Path) -> Result<(), Failure> {
    let weather = read_epw(&read(path)?)?;
    let days = [15.0, 18.0, 20.0].map(|base| serde_json::json!({ "base_c": base, "k_d": weather.degree_days(base) }));
    let mut out = serde_json::to_value(&weather).map_err(|e| failed(1, e))?;
    out["degree_days"] = serde_json::json!(days);
    print(&out.to_string())
}

/// Writes every paper that can be made, and says of each what became of it.
fn papers(
    path: &Path,
    out: &Path,
    format: Option<&str>,
    only: Option<&str>,
    [firm, records]: [Option<&Path>; 2],
    address: Option<&str>,
) -> Result<(), Failure> {
    let only = match only {
        None => None,
        Some(code) => Some(Paper::of_code(code).ok_or_else(|| {
            let codes = Paper::ALL.map(Paper::code).join(", ");
            failed(2, format!("--only: there is no paper \"{code}\"; there are {codes}"))
        })?),
    };
    let job = CheckedJob::from_json(&read(path)?)?;
    let firm =
        firm.map_or_else(|| Ok(Firm::default()), |file| read(file).and_then(|text| Ok(Firm::from_json(&text)?)))?;
    let records = entries_of(records)?;
    let format = format.and_then(Format::of_word).unwrap_or_else(|| Format::usual(job.site.units));
    let written = |e: std::io::Error| failed(1, format!("{}: {e}", out.display()));
    std::fs::create_dir_all(out).map_err(written)?;
    let made = of_job(&job, &records, &firm, format, address, |papers| {
        let wanted = Paper::ALL.into_iter().filter(|p| only.is_none_or(|o| o == *p));
        wanted
            .map(|p| match papers.missing(p) {
                Some(why) => Ok((p, Err(why))),
                None => papers.pdf(p).map(|pdf| (p, Ok(pdf))).map_err(|e| FieldError::new("papers", e.to_string())),
            })
            .collect::<Result<Vec<_>, _>>()
    })?;
    for (paper, pdf) in made {
        match pdf {
            Ok(pdf) => {
                let file = format!("{}.pdf", paper.code());
                std::fs::write(out.join(&file), &pdf).map_err(written)?;
                print(&format!("{file}: {} kB", pdf.len().div_ceil(1000)))?;
            }
            Err(why) => print(&format!("{}: not made: {why}", paper.code()))?,
        }
    }
    Ok(())
}

fn design_file(path: &Path, out: Option<&Path>) -> Result<(), Failure> {
    let text = read(path)?;
    let job = CheckedJob::from_json(&text)?;
    let design = design(&job)?;
    if let Some(folder) = out {
        let written = |e: std::io::Error| failed(1, format!("{}: {e}", folder.display()));
        std::fs::create_dir_all(folder).map_err(written)?;
        std::fs::write(folder.join("loops.csv"), tables::loops(&job, &design)).map_err(written)?;
        std::fs::write(folder.join("rooms.csv"), tables::rooms(&job, &design)).map_err(written)?;
        std::fs::write(folder.join("heat-loss.csv"), tables::heat_loss(&job, &design)).map_err(written)?;
        std::fs::write(folder.join("rooms.geojson"), geojson::write(&job)).map_err(written)?;
        std::fs::write(folder.join("survey-rooms.csv"), rooms_csv::write(&job)).map_err(written)?;
        std::fs::write(folder.join("survey-openings.csv"), openings_csv::write(&job)).map_err(written)?;
        std::fs::write(folder.join("loop-points.csv"), loop_files::points_csv(&job, &design)).map_err(written)?;
        std::fs::write(folder.join("loops.geojson"), loop_files::geojson(&design)).map_err(written)?;
        for (i, level) in job.levels.iter().enumerate() {
            std::fs::write(folder.join(format!("loops-{}.dxf", i + 1)), loop_files::dxf(&job, &design, &level.id))
                .map_err(written)?;
            let name = format!("plan-{}.svg", i + 1);
            std::fs::write(folder.join(format!("rooms-{}.dxf", i + 1)), dxf::write(&job, &level.id))
                .map_err(written)?;
            std::fs::write(folder.join(name), plan_svg::plan(&job, &design, &level.id, 50.0)).map_err(written)?;
        }
    }
    print(&fuoco_core::figures::json(&design).map_err(|e| failed(1, e))?)
}

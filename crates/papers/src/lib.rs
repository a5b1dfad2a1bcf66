//! The papers of a job as PDF, made without a browser: what the customer, the crew, the inspector and the owner get in hand.
//!
//! [`Papers`] has what they tell of; [`Papers::pdf`] sets one of them. What stands on a paper is in `sheets`, how it comes on a
//! page in `typeset`, which knows nothing of the trade.

mod drawing;
mod sheets;
pub mod typeset;
mod words;

use fuoco_core::design::Design;
use fuoco_core::error::FieldError;
use fuoco_core::job::{CheckedJob, Firm, Job};
use fuoco_core::materials::report::{MaterialsDesign, materials};
use fuoco_core::onsite::laying::{LayingDesign, laying};
use fuoco_core::onsite::pressure::{PressureTests, pressure_tests};
use fuoco_core::records::Entry;
use fuoco_core::startup::{StartUpDesign, start_up};
use fuoco_core::study::Study;
use fuoco_core::units::{Quantity, Units};
use serde::{Deserialize, Serialize};
use typeset::block::Block;
use typeset::flow::{Mark, Page, Sheet, pages};
use typeset::{Ink, pdf};

pub use drawing::square::of as square_code;
pub use typeset::pdf::NotWritten;

/// One of the papers.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Paper {
    /// Heat loss with its inputs, room by room.
    HeatLoss,
    /// The plan of every level with its loops, to scale, and their table.
    LoopSheets,
    /// Order of laying, then every loop alone, turn by turn.
    CrewSheets,
    /// Piping and what is set at it.
    PlantSheet,
    /// What is set at every manifold: for its cabinet.
    ManifoldCharts,
    /// What goes into the van.
    Materials,
    /// What the customer pays for.
    Quote,
    /// What the owner has to know.
    OwnersSheet,
    /// Labels for both ends of every loop and for the cabinets.
    Labels,
    /// How it was laid: marks, repairs at their places, checklists.
    AsLaid,
    /// The record of every pressure test.
    PressureTests,
    /// How it was filled, balanced and heated up.
    StartUp,
    /// What the inspector gets: several of these as one file.
    Pack,
}

impl Paper {
    /// All, in the order of the job.
    pub const ALL: [Paper; 13] = [
        Paper::HeatLoss,
        Paper::LoopSheets,
        Paper::CrewSheets,
        Paper::PlantSheet,
        Paper::ManifoldCharts,
        Paper::Materials,
        Paper::Quote,
        Paper::OwnersSheet,
        Paper::Labels,
        Paper::AsLaid,
        Paper::PressureTests,
        Paper::StartUp,
        Paper::Pack,
    ];
    /// What the inspector's pack holds.
    pub const IN_PACK: [Paper; 8] = [
        Paper::HeatLoss,
        Paper::LoopSheets,
        Paper::PlantSheet,
        Paper::ManifoldCharts,
        Paper::AsLaid,
        Paper::PressureTests,
        Paper::StartUp,
        Paper::OwnersSheet,
    ];

    /// Its name in addresses and of its file: "heat-loss".
    pub fn code(self) -> String {
        serde_json::to_value(self).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default()
    }

    /// The paper of this code.
    pub fn of_code(code: &str) -> Option<Paper> {
        Paper::ALL.into_iter().find(|p| p.code() == code)
    }

    /// Its name.
    pub fn title(self) -> &'static str {
        match self {
            Paper::HeatLoss => "Heat loss report",
            Paper::LoopSheets => "Loop sheets",
            Paper::CrewSheets => "Crew sheets",
            Paper::PlantSheet => "Plant sheet",
            Paper::ManifoldCharts => "Manifold charts",
            Paper::Materials => "Materials",
            Paper::Quote => "Quote",
            Paper::OwnersSheet => "Owner's sheet",
            Paper::Labels => "Tube labels",
            Paper::AsLaid => "As laid",
            Paper::PressureTests => "Pressure tests",
            Paper::StartUp => "Start-up record",
            Paper::Pack => "Inspector's pack",
        }
    }
}

/// The paper that is in the printer.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Format {
    /// 210 × 297 mm.
    A4,
    /// 8.5 × 11 in.
    Letter,
}

impl Format {
    /// By its name: "a4" or "letter".
    pub fn of_word(word: &str) -> Option<Format> {
        match word {
            "a4" => Some(Format::A4),
            "letter" => Some(Format::Letter),
            _ => None,
        }
    }

    /// What is usual where these units are.
    pub fn usual(units: Units) -> Format {
        if units == Units::Us { Format::Letter } else { Format::A4 }
    }

    /// An upright page.
    pub fn upright(self) -> Sheet {
        let [width, height] = match self {
            Format::A4 => [210.0, 297.0],
            Format::Letter => [215.9, 279.4],
        };
        Sheet { width, height, margin: 15.0 }
    }

    /// A lying page.
    pub fn lying(self) -> Sheet {
        let s = self.upright();
        Sheet { width: s.height, height: s.width, margin: 13.0 }
    }
}

/// Who hands the papers over.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Letterhead {
    /// The firm.
    pub name: String,
    /// Its address, telephone and what else stands under its name.
    pub lines: Vec<String>,
}

/// Everything that papers tell of.
#[derive(Debug, Clone, Copy)]
pub struct Papers<'a> {
    /// The job.
    pub job: &'a Job,
    /// Its design.
    pub design: &'a Design,
    /// What it takes.
    pub materials: &'a MaterialsDesign,
    /// How it was laid.
    pub laying: &'a LayingDesign,
    /// How it was tested.
    pub tests: &'a PressureTests,
    /// How it was filled, balanced and heated up.
    pub started: &'a StartUpDesign,
    /// The paper in the printer.
    pub format: Format,
    /// The day, as it is to be written.
    pub day: &'a str,
    /// Who hands them over.
    pub from: &'a Letterhead,
    /// Where the job is opened in the app: the labels' codes lead there.
    pub address: Option<&'a str>,
}

/// What the papers of a job and of its records are made from, as of today, handed to `f`.
///
/// # Errors
/// When the job cannot be solved, or as `f`.
pub fn of_job<T>(
    job: &CheckedJob,
    entries: &[Entry],
    firm: &Firm,
    format: Format,
    address: Option<&str>,
    f: impl FnOnce(&Papers) -> Result<T, FieldError>,
) -> Result<T, FieldError> {
    let study = Study::of(job)?;
    let (design, materials) = (Design::of(&study), materials(&study));
    let (laying, tests) = (laying(&study, entries), pressure_tests(&study, entries));
    let started = start_up(&study, entries)?;
    let from = Letterhead { name: firm.name.clone(), lines: firm.lines.clone() };
    let form = if job.site.units == Units::Us { "%B %-d, %Y" } else { "%-d %B %Y" };
    let day = chrono::Local::now().format(form).to_string();
    f(&Papers {
        job,
        design: &design,
        materials: &materials,
        laying: &laying,
        tests: &tests,
        started: &started,
        format,
        day: &day,
        from: &from,
        address,
    })
}

/// A page with the name that runs over it.
type Running = (Page, String);
/// A chapter's name, and the page from 0 on at which it begins.
pub type Chapter = (String, usize);

/// Blocks on pages of one size.
pub(crate) struct Part {
    pub sheet: Sheet,
    pub blocks: Vec<Block>,
}

impl Papers<'_> {
    /// Why a paper cannot be made yet.
    pub fn missing(&self, paper: Paper) -> Option<String> {
        let loops =
            || self.design.loops.is_empty().then(|| "No loops yet: hang a manifold and draw doorways.".to_owned());
        match paper {
            Paper::HeatLoss if self.job.outdoors.is_some() => {
                Some("A job outdoors has no heat loss: what the storm takes stands at Snow.".into())
            }
            Paper::HeatLoss | Paper::OwnersSheet => {
                self.job.rooms.is_empty().then(|| "No rooms yet: draw them at Rooms.".to_owned())
            }
            Paper::LoopSheets | Paper::CrewSheets | Paper::Labels | Paper::ManifoldCharts => loops(),
            Paper::PlantSheet => match &self.design.plant {
                None => Some("No plant yet: begin one at Plant.".into()),
                Some(p) => p.refused.as_ref().map(|why| format!("The plant is not calculated: {why}")),
            },
            Paper::Materials => self.materials.lines.is_empty().then(|| "Nothing to be bought yet.".to_owned()),
            Paper::Quote => sheets::quote::open(self.materials),
            Paper::AsLaid => {
                let l = self.laying;
                let none = l.harms.is_empty() && l.loops.iter().all(|x| x.at.is_none());
                none.then(|| "Nothing has been written down yet: see Laying.".to_owned())
            }
            Paper::PressureTests => self
                .tests
                .tests
                .is_empty()
                .then(|| "No pressure test has been written down: begin one at Laying.".to_owned()),
            Paper::StartUp => {
                let none = sheets::start_up::is_empty(self.started);
                none.then(|| "Nothing has been written down yet: see Start-up.".to_owned())
            }
            Paper::Pack => Paper::IN_PACK
                .iter()
                .all(|p| self.missing(*p).is_some())
                .then(|| "None of its papers can be made yet.".to_owned()),
        }
    }

    /// One paper as PDF. A paper that cannot be made yet says why on its page.
    ///
    /// # Errors
    /// When the PDF cannot be written; no job that passed the check does that.
    pub fn pdf(&self, paper: Paper) -> Result<Vec<u8>, NotWritten> {
        let title = format!("{}: {}", self.job.name, paper.title());
        let (pages, chapters) = self.pages(paper);
        pdf::write(&title, &pages, &chapters)
    }

    /// The pages of a paper, and the page at which each of its chapters begins.
    pub fn pages(&self, paper: Paper) -> (Vec<Page>, Vec<Chapter>) {
        let (mut set, chapters) = if paper == Paper::Pack { self.pack() } else { self.one(paper) };
        let count = set.len();
        for (k, (page, name)) in set.iter_mut().enumerate() {
            self.run(page, name, k + 1, count);
        }
        (set.into_iter().map(|(page, _)| page).collect(), chapters)
    }

    /// A paper's pages with the name that runs over each, and its bookmarks.
    fn one(&self, paper: Paper) -> (Vec<Running>, Vec<Chapter>) {
        let parts = match self.missing(paper) {
            Some(why) => vec![Part {
                sheet: self.format.upright(),
                blocks: vec![Block::Title(paper.title().into(), self.job.name.clone()), typeset::block::plain(why)],
            }],
            None => sheets::parts(self, paper),
        };
        let mut out = Vec::new();
        let mut chapters = vec![];
        for part in parts {
            if let Some(Block::Title(name, _)) = part.blocks.first() {
                chapters.push((name.clone(), out.len()));
            }
            out.extend(pages(part.sheet, &part.blocks).into_iter().map(|p| (p, paper.title().to_owned())));
        }
        (out, chapters)
    }

    /// The inspector's pack: contents, then every paper that can be made.
    fn pack(&self) -> (Vec<Running>, Vec<Chapter>) {
        let held: Vec<Paper> = Paper::IN_PACK.into_iter().filter(|p| self.missing(*p).is_none()).collect();
        let papers: Vec<_> = held.iter().map(|p| self.one(*p).0).collect();
        let lacks: Vec<String> = Paper::IN_PACK
            .into_iter()
            .filter_map(|p| self.missing(p).map(|why| format!("{}: {why}", p.title())))
            .collect();
        // the contents are set twice: how many pages they take is known only then
        let contents = |first: usize| {
            let mut at = first;
            let rows: Vec<(String, usize, usize)> = held
                .iter()
                .zip(&papers)
                .map(|(p, set)| {
                    let from = at;
                    at += set.len();
                    (p.title().to_owned(), from, set.len())
                })
                .collect();
            pages(self.format.upright(), &sheets::contents(self, &rows, &lacks))
        };
        let first = contents(2);
        let front = if first.len() == 1 { first } else { contents(first.len() + 1) };
        let mut out: Vec<Running> = front.into_iter().map(|p| (p, Paper::Pack.title().to_owned())).collect();
        let mut chapters = vec![("Contents".to_owned(), 0)];
        for (paper, set) in held.iter().zip(papers) {
            chapters.push((paper.title().to_owned(), out.len()));
            out.extend(set);
        }
        (out, chapters)
    }

    /// What runs over and under every page: job and paper, firm, day, number.
    fn run(&self, page: &mut Page, name: &str, number: usize, of: usize) {
        let Sheet { width, height, margin } = page.sheet;
        let mut put = |x: f64, y: f64, text: String, to_the_right: bool| {
            const SIZE: f64 = 7.5;
            // what runs is never wider than its half of the page
            let room = (width / 2.0 - margin - 3.0) / (SIZE * typeset::POINT);
            let Some(line) = typeset::text::lines(&[text.into()], room).into_iter().next() else { return };
            let wide = line.width() * SIZE * typeset::POINT;
            let x = if to_the_right { x - wide } else { x };
            page.marks.push(Mark::Words { at: [x, y], size: SIZE, line, ink: Ink::Soft });
        };
        put(margin, margin - 4.0, self.job.name.clone(), false);
        put(width - margin, margin - 4.0, name.to_owned(), true);
        put(
            margin,
            height - margin + 5.5,
            [self.from.name.as_str(), self.day].into_iter().filter(|t| !t.is_empty()).collect::<Vec<_>>().join(", "),
            false,
        );
        put(width - margin, height - margin + 5.5, format!("Page {number} of {of}"), true);
    }

    pub(crate) fn units(&self) -> Units {
        self.job.site.units
    }

    /// A figure with its unit.
    pub(crate) fn s(&self, quantity: Quantity, si: f64) -> String {
        words::show(self.units(), quantity, si)
    }

    /// A figure with its unit; nothing where there is none.
    pub(crate) fn o(&self, quantity: Quantity, si: Option<f64>) -> String {
        si.map_or_else(String::new, |v| self.s(quantity, v))
    }

    /// Who it is for and where: under a title.
    pub(crate) fn whom(&self, what: &str) -> String {
        let place = if self.job.address.is_empty() { &self.job.site.place } else { &self.job.address };
        let parts = [self.job.name.as_str(), &self.job.customer, place, what];
        parts.into_iter().filter(|p| !p.is_empty()).collect::<Vec<_>>().join(" · ")
    }
}

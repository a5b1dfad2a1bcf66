//! Findings as data: code, severity, subject, values, and the sentence rendered from them in the job's units.
//!
//! A rule builds one with [`Said`] and hands it to [`Findings::say`]. In its sentences `{name}` stands for the value of that
//! name; what people have typed (names of rooms, tags) goes through [`plain`], so that it is never taken for one.

use crate::job::{Job, Room};
use crate::study::Study;
use crate::units::{Quantity, Units};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// How grave a finding is; in this order.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Severity {
    /// The job cannot be built like this.
    Error,
    /// It may, but someone has to look.
    Warning,
    /// Good to know.
    Note,
}

/// Kinds of things a finding can be about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum SubjectKind {
    Job,
    Room,
    Opening,
    KeepOut,
    Manifold,
    Loop,
}

/// What a finding is about; clicking the finding selects it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Subject {
    /// What kind of thing.
    pub kind: SubjectKind,
    /// Its id; empty for the job.
    pub id: String,
    /// The place on the plan, where there is one, m.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(value_type = Option<[f64; 2]>))]
    pub at: Option<[f64; 2]>,
}

/// The station of the work where the cause is mended.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Station {
    Site,
    Rooms,
    HeatLoss,
    Snow,
    Floor,
    Loops,
    Water,
    Plant,
    Cooling,
    Time,
    Materials,
    Laying,
    StartUp,
    Service,
    Papers,
}

impl Station {
    /// In the order of the work.
    pub const ALL: [Station; 15] = [
        Self::Site,
        Self::Rooms,
        Self::HeatLoss,
        Self::Snow,
        Self::Floor,
        Self::Loops,
        Self::Water,
        Self::Plant,
        Self::Cooling,
        Self::Time,
        Self::Materials,
        Self::Laying,
        Self::StartUp,
        Self::Service,
        Self::Papers,
    ];
}

/// One finding.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Finding {
    /// Stable code, for scripts.
    pub code: String,
    /// How grave.
    pub severity: Severity,
    /// Where to mend it.
    pub station: Station,
    /// What it is about.
    pub subject: Subject,
    /// Others that it is about as well.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub also: Vec<Subject>,
    /// The figures in the sentence, SI.
    pub values: BTreeMap<String, f64>,
    /// The sentence.
    pub message: String,
    /// The rule that produced it.
    pub rule: String,
    /// What would help.
    pub remedy: String,
}

impl Subject {
    /// The job as a whole.
    pub(crate) fn job() -> Subject {
        Subject::of(SubjectKind::Job, "")
    }

    /// A thing by its id.
    pub(crate) fn of(kind: SubjectKind, id: &str) -> Subject {
        Subject { kind, id: id.into(), at: None }
    }

    /// A room.
    pub(crate) fn room(room: &Room) -> Subject {
        Subject::of(SubjectKind::Room, &room.id)
    }

    /// The same at a place.
    pub(crate) fn at(self, place: [f64; 2]) -> Subject {
        Subject { at: Some(place), ..self }
    }
}

/// A finding as a rule says it.
pub(crate) struct Said {
    severity: Severity,
    station: Station,
    code: &'static str,
    subject: Subject,
    also: Vec<Subject>,
    message: String,
    values: Vec<(&'static str, Quantity, f64)>,
    rule: String,
    remedy: String,
}

impl Said {
    pub fn new(
        severity: Severity,
        station: Station,
        code: &'static str,
        subject: Subject,
        message: impl Into<String>,
    ) -> Said {
        let (values, rule, remedy) = (vec![], String::new(), String::new());
        Said { severity, station, code, subject, also: vec![], message: message.into(), values, rule, remedy }
    }

    pub fn error(station: Station, code: &'static str, subject: Subject, message: impl Into<String>) -> Said {
        Said::new(Severity::Error, station, code, subject, message)
    }

    pub fn warning(station: Station, code: &'static str, subject: Subject, message: impl Into<String>) -> Said {
        Said::new(Severity::Warning, station, code, subject, message)
    }

    pub fn note(station: Station, code: &'static str, subject: Subject, message: impl Into<String>) -> Said {
        Said::new(Severity::Note, station, code, subject, message)
    }

    /// What else it is about.
    pub fn also(mut self, others: impl IntoIterator<Item = Subject>) -> Said {
        self.also.extend(others);
        self
    }

    /// A figure that the sentences may name.
    pub fn value(mut self, name: &'static str, quantity: Quantity, si: f64) -> Said {
        self.values.push((name, quantity, si));
        self
    }

    /// Whose rule it is, or what it says.
    pub fn rule(mut self, rule: impl Into<String>) -> Said {
        self.rule = rule.into();
        self
    }

    /// The same of the firm's own.
    pub fn house_rule(self, rule: &str) -> Said {
        self.rule(format!("House rules: {rule}"))
    }

    /// What to do.
    pub fn remedy(mut self, remedy: impl Into<String>) -> Said {
        self.remedy = remedy.into();
        self
    }
}

/// Stand for braces in what people have typed, until the sentence is filled. From Unicode's private use area.
const PLAIN: [(char, char); 2] = [('{', '\u{E000}'), ('}', '\u{E001}')];

/// What people have typed, to be put into a sentence.
pub(crate) fn plain(typed: &str) -> String {
    PLAIN.iter().fold(typed.to_owned(), |text, (brace, stand_in)| text.replace(*brace, &stand_in.to_string()))
}

/// Names as one says them: "A", "A and B", "A, B and C".
pub(crate) fn listed(names: &[String]) -> String {
    match names {
        [] => String::new(),
        [one] => one.clone(),
        [most @ .., last] => format!("{} and {last}", most.join(", ")),
    }
}

/// Puts values into the places of a sentence.
fn filled(text: &str, values: &[(&'static str, Quantity, f64)], units: Units) -> String {
    let with = values.iter().fold(units.words(text), |text, (name, quantity, si)| {
        text.replace(&format!("{{{name}}}"), &units.show(*quantity, *si))
    });
    PLAIN.iter().fold(with, |text, (brace, stand_in)| text.replace(*stand_in, &brace.to_string()))
}

/// A rule: it looks at a study and says what there is to say.
pub(crate) type Rule = fn(&Study, &mut Findings);

/// What the rules have said so far.
pub(crate) struct Findings<'a> {
    job: &'a Job,
    out: Vec<Finding>,
}

impl<'a> Findings<'a> {
    pub fn new(job: &'a Job) -> Findings<'a> {
        Findings { job, out: vec![] }
    }

    /// Adds a finding, its sentences in the job's units.
    pub fn say(&mut self, said: Said) {
        let fill = |text: &str| filled(text, &said.values, self.job.site.units);
        self.out.push(Finding {
            code: said.code.into(),
            severity: said.severity,
            station: said.station,
            values: said.values.iter().map(|(name, _, si)| ((*name).to_owned(), *si)).collect(),
            message: fill(&said.message),
            rule: fill(&said.rule),
            remedy: fill(&said.remedy),
            subject: said.subject,
            also: said.also,
        });
    }

    /// A figure in the job's units.
    pub fn show(&self, quantity: Quantity, si: f64) -> String {
        self.job.site.units.show(quantity, si)
    }

    /// All of them, gravest first; within one severity in the order of the work.
    pub fn sorted(mut self) -> Vec<Finding> {
        self.out.sort_by_key(|f| f.severity);
        self.out
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_people_typed_is_no_place_for_a_value() {
        let job = Job::new("x");
        let mut findings = Findings::new(&job);
        let said =
            Said::note(Station::Floor, "x", Subject::job(), format!("{} needs {{need}}.", plain("{need} {x} }{")));
        findings.say(said.value("need", Quantity::Flux, 66.0).rule("{need}").remedy("none"));
        let found = &findings.sorted()[0];
        assert_eq!((found.message.as_str(), found.rule.as_str()), ("{need} {x} }{ needs 66 W/m².", "66 W/m²"));
    }
}

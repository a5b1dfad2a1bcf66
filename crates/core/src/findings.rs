//! Findings as data: code, severity, subject, values, and the sentence rendered from them.

use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// How grave a finding is; in this order.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Severity {
    /// The job does not stand up.
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
    Floor,
    Loops,
    Water,
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
    /// The figures in the sentence, SI.
    pub values: BTreeMap<String, f64>,
    /// The sentence.
    pub message: String,
    /// The rule that produced it.
    pub rule: String,
    /// What would help.
    pub remedy: String,
}

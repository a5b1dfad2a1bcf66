//! What a design has to say, gravest first: each finding with the rule behind it and the remedy, its sentence in
//! the job's units.

mod floors;
mod loops;
mod survey;

use crate::design::{Design, RoomDesign};
use crate::findings::{Finding, Severity, Station, Subject, SubjectKind};
use crate::job::{Job, Room};
use crate::layout::Layout;
use crate::layout::audit::{Breach, Coverage};
use crate::plan::Plan;
use crate::units::Quantity as Q;

struct Writer<'a> {
    job: &'a Job,
    out: Vec<Finding>,
}

/// A figure in a sentence: its name in `values`, what it measures, its SI value.
type Value<'v> = (&'v str, Q, f64);

impl Writer<'_> {
    /// Adds a finding; `{name}` in the sentence or remedy stands for a value, `{id}` names are filled by the caller.
    #[allow(clippy::too_many_arguments, reason = "the parts of one finding")]
    fn add(
        &mut self,
        severity: Severity,
        station: Station,
        code: &str,
        subject: Subject,
        message: &str,
        values: &[Value],
        rule: &str,
        remedy: &str,
    ) {
        let fill = |text: &str| {
            values.iter().fold(text.to_owned(), |text, (name, q, v)| {
                text.replace(&format!("{{{name}}}"), &self.job.site.units.show(*q, *v))
            })
        };
        self.out.push(Finding {
            code: code.into(),
            severity,
            station,
            subject,
            values: values.iter().map(|(name, _, v)| ((*name).to_owned(), *v)).collect(),
            message: fill(message),
            rule: fill(rule),
            remedy: fill(remedy),
        });
    }
}

fn subject(kind: SubjectKind, id: &str) -> Subject {
    Subject { kind, id: id.into(), at: None }
}

fn of_room(room: &Room) -> Subject {
    subject(SubjectKind::Room, &room.id)
}

const RULES: &str = "House rules: ";

/// Everything there is to say about a design, gravest first.
pub fn judge(
    job: &Job,
    plan: &Plan,
    design: &Design,
    layout: &Layout,
    breaches: &[Breach],
    coverage: &[Coverage],
) -> Vec<Finding> {
    let mut w = Writer { job, out: vec![] };
    survey::survey(&mut w, plan);
    survey::levels(&mut w, plan);
    survey::climate(&mut w, design);
    floors::floors(&mut w, design);
    floors::one_water(&mut w, design);
    floors::fields(&mut w, design);
    loops::problems(&mut w, design, layout);
    loops::law(&mut w, design, breaches);
    loops::covered(&mut w, coverage);
    loops::shared(&mut w, design);
    loops::lattices(&mut w, design);
    loops::warm_patches(&mut w, design);
    loops::other_manifolds(&mut w, design);
    loops::loops(&mut w, design);
    summary(&mut w, design);
    // stable: within one severity in the order of the work
    w.out.sort_by_key(|f| f.severity);
    w.out
}

fn summary(w: &mut Writer, design: &Design) {
    let job = w.job;
    let t = &design.totals;
    if job.rooms.is_empty() {
        return;
    }
    let whole = || subject(SubjectKind::Job, "");
    if let Some(supply) = t.supply_c {
        let hardest = floors::hardest_name(job, design);
        w.add(
            Severity::Note,
            Station::Water,
            "water.supply",
            whole(),
            &format!("{hardest} sets the water: {{supply}} supply for a building that loses {{loss}}."),
            &[("supply", Q::Temperature, supply), ("loss", Q::Heat, t.heat_loss_w)],
            &format!("{RULES}{{drop}} drop in the hardest room")
                .replace("{drop}", &job.site.units.show(Q::Difference, job.rules.temperature_drop_k)),
            "",
        );
    }
    let laid: Vec<&RoomDesign> = design.rooms.iter().filter(|r| r.coverage.is_some()).collect();
    if !laid.is_empty() {
        w.add(Severity::Note, Station::Loops, "caution.law", whole(),
            "Local code and the manufacturer's instructions prevail over every figure here. Pressure-test before the pour and keep the gauge in sight; air under pressure stores energy. Limit the supply temperature so that nobody is scalded and no floor is harmed.",
            &[], "Cautions that every job carries", "");
    }
}

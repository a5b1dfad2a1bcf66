//! What the figures of areas outdoors say, and the cautions that go with them.

use super::load::melt_of;
use super::report::outdoor_design;
use super::slab::DRAINS_FROM;
use crate::findings::{Findings, Rule, Said, Station, Subject, SubjectKind, plain};
use crate::job::{FluidKind, KeepOutKind, MarkKind};
use crate::study::Study;
use crate::units::Quantity as Q;

pub(super) const RULES: &[Rule] =
    &[frost, shock, between_tubes, drains, falls, short, uneven, cold_start, house, joints, caution];

/// The fluid stays fluid so far below the coldest night, K.
const BELOW_THE_NIGHT_K: f64 = 3.0;
/// Loops of a manifold within this of their mean need little balancing.
const EVEN: f64 = 0.1;
/// A pump sees so much more at the start before that is told.
const TOLD_TIMES: f64 = 2.0;
/// Areas get so much of the storm's load before something is said.
const ENOUGH: f64 = 0.98;
/// Slabs without a joint crack beyond this, m.
const JOINT_EVERY_M: f64 = 6.0;

/// What lies under the sky freezes.
fn frost(study: &Study, out: &mut Findings) {
    if study.job.outdoors.is_none() || study.loops.is_empty() {
        return;
    }
    let asked = study.asked().site.outdoor_c - BELOW_THE_NIGHT_K;
    let freezes = crate::fluid::freezing_c(&study.job.fluid);
    if freezes > asked {
        let water = study.job.fluid.kind == FluidKind::Water;
        let what = if water { "water" } else { "the mix" };
        out.say(
            Said::error(
                Station::Snow,
                "outdoors.frost",
                Subject::job(),
                format!("Outdoors {what} freezes at {{freezes}}, and the coldest night has {{night}}."),
            )
            .value("freezes", Q::Temperature, freezes)
            .value("night", Q::Temperature, study.asked().site.outdoor_c)
            .rule("The fluid stands idle in the slab through every night of the winter.")
            .remedy("Glycol that freezes below the coldest night, behind a heat exchanger."),
        );
    }
}

/// A controller that keeps the slab from its own design.
fn shock(study: &Study, out: &mut Findings) {
    let (Some(design), Some(outdoors)) = (outdoor_design(study), study.job.outdoors.as_ref()) else { return };
    for (i, room) in study.job.rooms.iter().enumerate() {
        let area = design.areas.iter().find(|a| a.id == room.id);
        let Some(surface_c) = area.and_then(|a| a.surface_c) else { continue };
        let needs_k = room.room_c + study.water.rooms[i].floor_excess_k - surface_c;
        if needs_k > outdoors.shock_k {
            out.say(
                Said::warning(
                    Station::Snow,
                    "outdoors.shock",
                    Subject::room(room),
                    format!(
                        "{}: in the storm its fluid is {{needs}} warmer than the surface, and the controller allows {{allows}}.",
                        plain(&room.name)
                    ),
                )
                .value("needs", Q::Difference, needs_k)
                .value("allows", Q::Difference, outdoors.shock_k)
                .rule("Hot fluid in a frozen slab cracks it; a limit below the design keeps it from melting.")
                .remedy("Tube closer together, so that cooler fluid will do; or another limit by the slab's designer."),
            );
        }
    }
}

/// Between two tubes the surface is too cold.
fn between_tubes(study: &Study, out: &mut Findings) {
    let Some(design) = outdoor_design(study) else { return };
    for a in &design.areas {
        let Some(room) = study.job.room(&a.id) else { continue };
        let Some(coolest) = a.coolest_c.filter(|c| *c < 0.0 && a.free_area_ratio > 0.0) else { continue };
        out.say(
            Said::warning(
                Station::Snow,
                "outdoors.between_tubes",
                Subject::room(room),
                format!(
                    "{}: midway between two tubes the surface has {{coolest}} in the storm: snow stays in bands.",
                    plain(&room.name)
                ),
            )
            .value("coolest", Q::Temperature, coolest)
            .rule("A surface that has to be free is above freezing between its tubes too.")
            .remedy("Tube closer together, or deeper in the slab."),
        );
    }
}

/// Where does the water go?
fn drains(study: &Study, out: &mut Findings) {
    if study.job.outdoors.is_none() {
        return;
    }
    let drained = |r: &crate::job::Room| r.keep_outs.iter().any(|k| k.kind == KeepOutKind::Drain);
    for room in study.job.rooms.iter().filter(|r| r.heated_floor().is_some() && !drained(r)) {
        out.say(
            Said::warning(
                Station::Rooms,
                "outdoors.no_drain",
                Subject::room(room),
                format!("{} has no drain: meltwater runs off its edge and freezes there.", plain(&room.name)),
            )
            .rule("What melts has to be led away in the warm.")
            .remedy("Draw its drain, with tube beside it and under its outlet."),
        );
    }
}

/// A surface that does not fall keeps its water.
fn falls(study: &Study, out: &mut Findings) {
    for (i, room) in study.job.rooms.iter().enumerate().filter(|_| study.job.outdoors.is_some()) {
        let melt = melt_of(&study.job, i);
        if melt.slope < DRAINS_FROM {
            out.say(
                Said::warning(
                    Station::Snow,
                    "outdoors.flat",
                    Subject::room(room),
                    format!("{} falls by {{slope}}: puddles stay, and freeze when the heat is off.", plain(&room.name)),
                )
                .value("slope", Q::Share, melt.slope)
                .rule("A surface sheds its water from a fall of about 1 %.")
                .remedy("A fall toward the drain."),
            );
        }
    }
}

/// Areas that do not get what the storm takes.
fn short(study: &Study, out: &mut Findings) {
    let Some(design) = outdoor_design(study) else { return };
    for a in design.areas.iter().filter(|a| a.flux_w_m2 > 0.0 && a.flux_w_m2 < ENOUGH * a.load.total) {
        let Some(room) = study.job.room(&a.id) else { continue };
        out.say(
            Said::warning(
                Station::Snow,
                "outdoors.short",
                Subject::room(room),
                format!("{} gets {{given}} where the storm takes {{load}}.", plain(&room.name)),
            )
            .value("given", Q::Flux, a.flux_w_m2)
            .value("load", Q::Flux, a.load.total)
            .rule("What is missing lies as snow.")
            .remedy("Tube closer together, warmer fluid within the build-up's limit, or a class that lets snow lie."),
        );
    }
}

/// Loops of one manifold that differ.
fn uneven(study: &Study, out: &mut Findings) {
    if study.job.outdoors.is_none() {
        return;
    }
    for m in &study.manifolds {
        let loops: Vec<_> = study.loops.iter().filter(|l| l.manifold_id == m.id).collect();
        let mean = loops.iter().map(|l| l.length_m).sum::<f64>() / loops.len().max(1) as f64;
        let off = |l: &&&crate::loops::report::LoopDesign| (l.length_m / mean - 1.0).abs();
        let Some(most) = loops.iter().max_by(|a, b| off(a).total_cmp(&off(b))) else { continue };
        if off(&most) <= EVEN {
            continue;
        }
        let letter = study.job.manifolds.iter().find(|j| j.id == m.id).map_or("", |j| j.letter.as_str());
        out.say(
            Said::note(
                Station::Loops,
                "outdoors.uneven",
                Subject::of(SubjectKind::Manifold, &m.id),
                format!(
                    "Manifold {}: loop {} has {{length}} where the mean is {{mean}}: cold ends show in the snow.",
                    plain(letter),
                    plain(&most.tag)
                ),
            )
            .value("length", Q::Tube, most.length_m)
            .value("mean", Q::Tube, mean)
            .rule("Loops of one manifold outdoors within 10 % of each other.")
            .remedy("Another number of loops, or long and short ones on manifolds of their own."),
        );
    }
}

/// Glycol is thick when it is cold.
fn cold_start(study: &Study, out: &mut Findings) {
    let Some(design) = outdoor_design(study) else { return };
    for start in design.starts.iter().filter(|s| s.cold_pa > TOLD_TIMES * s.warm_pa) {
        out.say(
            Said::note(
                Station::Snow,
                "outdoors.cold_start",
                Subject::job(),
                "At the start the fluid has {cold}: its loops take {cold_head} in place of {warm_head}, or carry {share} of the flow."
                    .to_owned(),
            )
            .value("cold", Q::Temperature, start.fluid_c)
            .value("cold_head", Q::Head, start.cold_pa)
            .value("warm_head", Q::Head, start.warm_pa)
            .value("share", Q::Share, start.flow_share)
            .rule("A pump for glycol is chosen for the cold start, or time is given to it.")
            .remedy("A pump with head to spare, larger tube, or shorter loops."),
        );
    }
}

/// The house comes first.
fn house(study: &Study, out: &mut Findings) {
    let Some(house) = outdoor_design(study).and_then(|d| d.house).filter(|h| h.share < 1.0) else { return };
    out.say(
        Said::warning(
            Station::Snow,
            "outdoors.house_first",
            Subject::job(),
            "In the storm's air the house leaves {left}, {share} of what melting takes.".to_owned(),
        )
        .value("left", Q::Heat, house.left_w)
        .value("share", Q::Share, house.share)
        .rule("Snow has the lowest priority: the house is not to cool for it.")
        .remedy("A source of its own or a larger one, a smaller area, idling before the storm."),
    );
}

/// Joints.
fn joints(study: &Study, out: &mut Findings) {
    if study.job.outdoors.is_none() {
        return;
    }
    for room in study.job.rooms.iter().filter(|r| r.heated_floor().is_some()) {
        let [x0, y0, x1, y1] = crate::geometry::outline::bounds(&room.outline);
        let long = (x1 - x0).max(y1 - y0);
        let cut = study.job.marks.iter().any(|m| m.kind == MarkKind::SawCut && m.level_id == room.level_id);
        if long > JOINT_EVERY_M && !cut {
            out.say(
                Said::note(
                    Station::Rooms,
                    "outdoors.joints",
                    Subject::room(room),
                    format!("{} is {{long}} long and has no joint drawn.", plain(&room.name)),
                )
                .value("long", Q::Length, long)
                .rule("A slab outdoors is cut into fields of about 6 m; tube passes a joint low and in a sleeve.")
                .remedy("Draw the saw cuts that the slab's designer asks for."),
            );
        }
    }
}

/// What is always to be said.
fn caution(study: &Study, out: &mut Findings) {
    if study.job.outdoors.is_none() || study.loops.is_empty() {
        return;
    }
    out.say(
        Said::note(
            Station::Snow,
            "outdoors.caution",
            Subject::job(),
            "A surface kept free still turns slippery: when heat is off, in freezing rain, at its edges.".to_owned(),
        )
        .rule(
            "Local code decides on glycol, backflow and where meltwater may go; sensors and their wiring outdoors are an electrician's work.",
        )
        .remedy("Ask the authority before the pour; tell the owner what the class does not promise."),
    );
}

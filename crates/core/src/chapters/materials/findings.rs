//! What coils, panels, joists and saw cuts have against the design.

use super::articles::Article;
use super::coils::{Piece, offered, pieces};
use super::saw_cuts::crossings;
use crate::findings::{Findings, Rule, Said, Station, Subject, SubjectKind, listed, plain};
use crate::floor::part::Laying;
use crate::geometry::outline::bounds;
use crate::study::Study;
use crate::units::Quantity as Q;
use std::collections::BTreeMap;

pub(super) const RULES: &[Rule] =
    &[too_long, by_hand, joists_unknown, panel_too_wide, saw_cuts, unknown_articles, caution];

/// Longer by less is the arithmetic, m.
const SAME_M: f64 = 0.005;

/// Loops for which no coil is long enough.
fn too_long(study: &Study, out: &mut Findings) {
    let p = &study.job.purchasing;
    for (tube_id, pieces) in pieces(study) {
        let coils = offered(&study.job, &tube_id);
        let longest = coils.iter().filter(|c| c.stock != Some(0)).map(|c| c.length_m).fold(0.0, f64::max);
        for piece in pieces.iter().filter(|l| p.coils.reserve.cut_m(l.length_m) > longest + SAME_M) {
            let cut = p.coils.reserve.cut_m(piece.length_m);
            let message = if longest > 0.0 {
                "Loop {tag}: {cut} with its reserve, the longest coil has {longest}: {missing} are missing."
            } else {
                "Loop {tag}: no coil of its tube is in stock."
            };
            out.say(
                Said::warning(
                    Station::Materials,
                    "materials.coil",
                    Subject::of(SubjectKind::Loop, &piece.id),
                    message.replace("{tag}", &plain(&piece.tag)),
                )
                .value("cut", Q::Tube, cut)
                .value("longest", Q::Tube, longest)
                .value("missing", Q::Tube, cut - longest)
                .rule("A loop has no joint")
                .remedy("Split the room into more loops, a wider spacing, or a longer coil."),
            );
        }
    }
}

/// Coils filled by hand with more than they hold.
fn by_hand(study: &Study, out: &mut Findings) {
    let choice = &study.job.purchasing.coils;
    let all: BTreeMap<String, Piece> = pieces(study).into_values().flatten().map(|p| (p.id.clone(), p)).collect();
    for coil in &choice.by_hand {
        let own: Vec<&Piece> = coil.loop_ids.iter().filter_map(|id| all.get(id)).collect();
        let cut: f64 = own.iter().map(|p| choice.reserve.cut_m(p.length_m)).sum();
        if cut <= coil.length_m + SAME_M {
            continue;
        }
        let tags = listed(&own.iter().map(|p| plain(&p.tag)).collect::<Vec<_>>());
        let message = if own.iter().map(|p| p.length_m).sum::<f64>() <= coil.length_m {
            format!("{tags} fit their coil of {{length}} on paper only: with reserves {{missing}} are missing.")
        } else {
            format!("{tags} on a coil of {{length}}: {{missing}} are missing.")
        };
        out.say(
            Said::error(Station::Materials, "materials.by_hand", Subject::job(), message)
                .value("length", Q::Tube, coil.length_m)
                .value("missing", Q::Tube, cut - coil.length_m)
                .house_rule("tails and measuring loss are cut beyond every loop")
                .remedy("Put a loop on another coil, take a longer coil, shorten the loops by another split or spacing, or plan the coils again."),
        );
    }
}

/// Tube in joist bays without joists.
fn joists_unknown(study: &Study, out: &mut Findings) {
    for room in &study.job.rooms {
        let Some(floor) = room.heated_floor().filter(|f| f.lattice.is_none()) else { continue };
        let Some(build_up) = study.job.build_up(&floor.build_up_id) else { continue };
        // bays have ribs beside the tube and air around it
        let in_bays = matches!(build_up.laying, Laying::Hung | Laying::Plates)
            && build_up.layers[build_up.tube_layer].material_id == "air";
        if in_bays {
            let message = format!("{}: its joists are not known, so no holes are counted.", plain(&room.name));
            out.say(
                Said::warning(Station::Materials, "materials.joists", Subject::room(room), message)
                    .rule("Tube in joist bays passes from bay to bay through drilled holes")
                    .remedy("Say which way the joists run and how far apart they are, at the station Loops."),
            );
        }
    }
}

/// Grooved panels wider or longer than the room.
fn panel_too_wide(study: &Study, out: &mut Findings) {
    let rules = &study.job.purchasing.fixing;
    for room in &study.job.rooms {
        let Some(floor) = room.heated_floor() else { continue };
        if study.job.build_up(&floor.build_up_id).is_none_or(|b| b.laying != Laying::Grooves) {
            continue;
        }
        let [x0, y0, x1, y1] = bounds(&room.outline);
        let least = (x1 - x0).min(y1 - y0);
        if rules.panel_width_m > least {
            let message = format!(
                "{}: a grooved panel is {{panel}} wide, the room {{room}}: every panel is ripped.",
                plain(&room.name)
            );
            out.say(
                Said::note(Station::Materials, "materials.panel", Subject::room(room), message)
                    .value("panel", Q::Length, rules.panel_width_m)
                    .value("room", Q::Length, least)
                    .remedy("A narrower panel, or another build-up in this room."),
            );
        }
    }
}

/// Saw cuts that come too near to the tube.
fn saw_cuts(study: &Study, out: &mut Findings) {
    let mut shallow: BTreeMap<String, (Vec<String>, f64, f64)> = BTreeMap::new();
    for c in crossings(study).into_iter().filter(|c| c.too_shallow) {
        let tag = study.loops.iter().find(|l| l.id == c.loop_id).map_or(String::new(), |l| plain(&l.tag));
        let of = shallow.entry(c.mark_id).or_insert((vec![], c.tube_depth_m, c.saw_depth_m));
        if !of.0.contains(&tag) {
            of.0.push(tag);
        }
    }
    for (tags, tube, saw) in shallow.into_values() {
        let loops = if tags.len() == 1 { "Loop" } else { "Loops" };
        let message = format!(
            "{loops} {} under a saw cut: tube {{tube}} deep, saw {{saw}}, cover {{cover}} wanted.",
            listed(&tags)
        );
        out.say(
            Said::error(Station::Materials, "materials.saw_cut", Subject::job(), message)
                .value("tube", Q::Thickness, tube)
                .value("saw", Q::Thickness, saw)
                .value("cover", Q::Thickness, study.job.purchasing.fixing.saw_cover_m)
                .house_rule("tube lies {cover} below the bottom of a saw cut at least")
                .remedy(
                    "Lay the tube lower under the cut, a shallower cut, or move the cut; sleeve the tube at the joint.",
                ),
        );
    }
}

/// Prices of what Fuoco does not count.
fn unknown_articles(study: &Study, out: &mut Findings) {
    let rows = &study.job.purchasing.prices.rows;
    let unknown: Vec<String> =
        rows.iter().filter(|r| Article::of_job(&r.article, &study.job).is_none()).map(|r| plain(&r.article)).collect();
    if let Some(first) = unknown.first() {
        let message = format!(
            "The price list names {} articles that the take-off does not have, such as {first}.",
            unknown.len()
        );
        out.say(
            Said::note(Station::Materials, "materials.articles", Subject::job(), message)
                .remedy("Write the price list out for the codes that the take-off uses."),
        );
    }
}

/// What every list carries.
fn caution(study: &Study, out: &mut Findings) {
    if study.rooms.iter().any(|r| !r.joist_holes.is_empty()) {
        out.say(
            Said::note(
                Station::Materials,
                "materials.caution",
                Subject::job(),
                "Holes weaken joists: size, place and number are limited by code, those of engineered joists by their maker.",
            )
            .rule("Local code and the manufacturer's instructions come first")
            .remedy("Have the drilling list approved before anyone drills."),
        );
    }
}

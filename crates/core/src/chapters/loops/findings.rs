//! What could not be laid, what violates the layout rules, what the floors lack.

use crate::findings::{Findings, Rule, Said, Severity, Station, Subject, SubjectKind, listed, plain};
use crate::geometry::{distance, segment};
use crate::job::{Job, OpeningKind};
use crate::layout::edit::hand::Stop;
use crate::layout::rules::audit::{Violation, ViolationKind};
use crate::layout::rules::score::EQUAL;
use crate::layout::topology::task::Obstruction;
use crate::layout::{Problem, manifold_place};
use crate::study::Study;
use crate::units::Quantity as Q;
use std::collections::BTreeMap;

pub(super) const RULES: &[Rule] = &[
    off_the_wall,
    in_the_way,
    no_manifold,
    no_ways,
    no_room_on_the_way,
    problems,
    port_pairs,
    same_letter,
    violations,
    covered,
    shared,
    off_lattice,
    joist_holes,
    warm_patches,
    other_manifolds,
    equal_loops,
    crowded,
];

/// Manifolds are made up to so many port pairs; a few more are two side by side.
const MOST_ON_ONE: usize = 12;

/// Manifolds on which more loops hang than one has ports for.
fn crowded(study: &Study, out: &mut Findings) {
    for m in &study.manifolds {
        let loops = m.ports_used as usize;
        if loops <= MOST_ON_ONE {
            continue;
        }
        let wanted = loops.div_ceil(MOST_ON_ONE);
        let message = format!(
            "Manifold {} carries {loops} circuits: {wanted} manifolds, each near its rooms, would have shorter leaders.",
            plain(&m.letter)
        );
        out.say(
            Said::note(Station::Loops, "manifold.crowded", Subject::of(SubjectKind::Manifold, &m.id), message)
                .rule(format!("Manifolds are made up to {MOST_ON_ONE} port pairs."))
                .remedy("Hang another one: Loops finds good places for it."),
        );
    }
}

/// A room so far covered is heated, whatever of it is left.
const MOSTLY: f64 = 0.9;

fn off_the_wall(study: &Study, out: &mut Findings) {
    for (i, m) in study.job.manifolds.iter().enumerate() {
        if manifold_place(&study.job, i).is_none() {
            out.say(
                Said::error(
                    Station::Loops,
                    "manifold.off_wall",
                    Subject::of(SubjectKind::Manifold, &m.id),
                    format!("Manifold {} hangs beyond the end of its wall.", plain(&m.letter)),
                )
                .rule("A manifold hangs on a wall of its room.")
                .remedy("Click a wall to hang it there."),
            );
        }
    }
}

/// Nearer to the end of its wall than this a manifold's box does not fit, m.
const BOX_M: f64 = 0.15;

/// Manifolds in doorways and in corners.
fn in_the_way(study: &Study, out: &mut Findings) {
    for (i, m) in study.job.manifolds.iter().enumerate() {
        let Some((room, at, _)) = manifold_place(&study.job, i) else { continue };
        let Some(edge) = study.plan.edge(room, m.edge) else { continue };
        let own = study.job.rooms[room].openings.iter().filter(|o| o.is_in_wall(m.edge) && o.sill_m < BOX_M);
        let own = own.filter(|o| o.kind != OpeningKind::Sleeve).map(|o| {
            let (from, to) = edge.stretch(o.offset_m, o.width_m);
            [edge.at(from), edge.at(to)]
        });
        // a doorway may belong to the room on its other side
        let others = study.plan.passages.iter().filter(|p| !p.is_sleeve && p.rooms[1] == room).map(|p| p.far);
        let in_one = own.chain(others).any(|d| segment::to_segment(at, d[0], d[1]) < 0.05);
        let in_corner = distance(at, edge.a).min(distance(at, edge.b)) < BOX_M;
        let letter = plain(&m.letter);
        let (code, message) = match (in_one, in_corner) {
            (true, _) => ("manifold.in_doorway", format!("Manifold {letter} hangs in a doorway.")),
            (_, true) => ("manifold.in_corner", format!("Manifold {letter} hangs at the very end of its wall.")),
            _ => continue,
        };
        out.say(
            Said::error(Station::Loops, code, Subject::of(SubjectKind::Manifold, &m.id), message)
                .rule("A manifold hangs on a piece of wall that takes its box.")
                .remedy("Drag it along the wall, or click another one."),
        );
    }
}

fn no_manifold(study: &Study, out: &mut Findings) {
    if study.job.manifolds.is_empty() && study.job.rooms.iter().any(|r| r.heated_floor().is_some()) {
        out.say(
            Said::warning(
                Station::Loops,
                "loops.no_manifold",
                Subject::job(),
                "No manifold yet: no loops can be drawn.",
            )
            .remedy("Press M and click the wall where it will hang."),
        );
    }
}

/// What the layout could not do.
fn problems(study: &Study, out: &mut Findings) {
    for p in &study.layout.problems {
        let said = match *p {
            Problem::NoManifold { .. } => None,
            // said once for all rooms that no tube reaches
            Problem::NoWay { .. } => None,
            Problem::ShutIn { room } => Some(shut_in(study, room)),
            Problem::KeptIdle { kept } => kept_idle(&study.job, kept),
            Problem::LatticeIdle { room } => Some(lattice_idle(study, room)),
            Problem::SplitIdle { room } => Some(split_idle(study, room)),
            Problem::ManifoldUnused { manifold } => unused(&study.job, manifold),
            Problem::ByLeaders { room } => Some(by_leaders(study, room)),
            Problem::Blocked { room, by: by @ (Obstruction::EntryBlocked | Obstruction::TooSmall) } => {
                Some(blocked(study, &[room], by))
            }
            // what is in the way of one room is in the way of those beyond it: said once
            Problem::Blocked { .. } => None,
            Problem::LeaderTooLong { room, leader_m, limit_m } => Some(
                of_room(study, Severity::Error, "loops.leader_too_long", room, |name| {
                    format!("The leaders to {name} alone take {{leader}} of {{limit}}.")
                })
                .value("leader", Q::Tube, leader_m)
                .value("limit", Q::Tube, limit_m)
                .house_rule("longest loop")
                .remedy("Hang a manifold nearer."),
            ),
            Problem::OverLimit { room, length_m, limit_m } => Some(
                of_room(study, Severity::Error, "loops.over_limit", room, |name| {
                    format!("A loop of {name} is {{length}} long; the limit is {{limit}}.")
                })
                .value("length", Q::Tube, length_m)
                .value("limit", Q::Tube, limit_m)
                .house_rule("longest loop")
                .remedy("A thicker tube, a nearer manifold, or a longer limit with a stronger pump."),
            ),
            // the circuits of fields count too
            Problem::Ports { .. } => None,
        };
        if let Some(said) = said {
            out.say(said);
        }
    }
}

/// Something about the loops of a room.
fn of_room(
    study: &Study,
    severity: Severity,
    code: &'static str,
    room: usize,
    message: impl Fn(&str) -> String,
) -> Said {
    of_rooms(study, severity, code, &[room], message)
}

/// The same of several rooms; a click goes to the first.
fn of_rooms(
    study: &Study,
    severity: Severity,
    code: &'static str,
    rooms: &[usize],
    message: impl Fn(&str) -> String,
) -> Said {
    let names: Vec<String> = rooms.iter().map(|&r| plain(&study.job.rooms[r].name)).collect();
    let mut subjects = rooms.iter().map(|&r| Subject::room(&study.job.rooms[r]));
    let first = subjects.next().unwrap_or_else(Subject::job);
    Said::new(severity, Station::Loops, code, first, message(&listed(&names))).also(subjects)
}

/// Rooms that no tube can reach, once for each manifold that they want.
fn no_ways(study: &Study, out: &mut Findings) {
    let mut cut_off: BTreeMap<Option<&str>, Vec<usize>> = BTreeMap::new();
    for p in &study.layout.problems {
        if let Problem::NoWay { room } = *p {
            cut_off.entry(wanted_manifold(&study.job, room)).or_default().push(room);
        }
    }
    for (wanted, rooms) in cut_off {
        let said = of_rooms(study, Severity::Error, "loops.no_way", &rooms, |names| match wanted.map(plain) {
            Some(letter) => format!("No tube of manifold {letter} can reach {names}: rooms of another lie between."),
            None => format!("No tube can reach {names}: no doorway or sleeve leads there from a manifold."),
        });
        out.say(
            said.rule(
                "Walls are crossed at doorways and sleeves only, and a room is passed by the tubes of one manifold.",
            )
            .remedy("Place the doorway, or a sleeve through the wall or the floor, or hang a manifold in the room."),
        );
    }
}

/// Rooms whose tubes find no room on their way, once for all of them.
fn no_room_on_the_way(study: &Study, out: &mut Findings) {
    for by in [Obstruction::EntryTooNarrow, Obstruction::NoWayThrough] {
        let of = |p: &Problem| match *p {
            Problem::Blocked { room, by: it } if it == by => Some(room),
            _ => None,
        };
        let rooms: Vec<usize> = study.layout.problems.iter().filter_map(of).collect();
        if !rooms.is_empty() {
            out.say(blocked(study, &rooms, by));
        }
    }
}

fn shut_in(study: &Study, room: usize) -> Said {
    // a strip that was dragged free is no room without heat
    let mostly = study.rooms[room].coverage.is_some_and(|c| c > MOSTLY);
    let severity = if mostly { Severity::Warning } else { Severity::Error };
    of_room(study, severity, "loops.shut_in", room, |name| {
        format!("No tube can reach all of {name}: locked loops lie in the way.")
    })
    .rule("No loop crosses another, and locked ones stay where they are.")
    .remedy("Unlock the loop beside it, or all of its manifold.")
}

fn kept_idle(job: &Job, kept: usize) -> Option<Said> {
    let l = &job.loops[kept];
    let room = job.room(&l.room_id)?;
    let letter = job.manifolds.iter().find(|m| m.id == l.manifold_id).map_or("", |m| &m.letter);
    let message = format!(
        "Locked loop {}{} is left out: the floor of {} is not heated.",
        plain(letter),
        l.port,
        plain(&room.name)
    );
    Some(
        Said::warning(Station::Loops, "loops.kept_idle", Subject::room(room), message)
            .rule("A loop heats a floor with a build-up.")
            .remedy("Heat the floor again (Rooms), or unlock the loop (Loops, Unlock all)."),
    )
}

fn lattice_idle(study: &Study, room: usize) -> Said {
    of_room(study, Severity::Warning, "loops.lattice_idle", room, |name| {
        format!("The loops of {name} do not follow its lattice.")
    })
    .rule("A lattice runs along the sheet; these tubes come in through a slanting wall.")
    .remedy("Bring them in through a wall along the sheet, or turn the plan so that the lattice runs along it.")
}

fn split_idle(study: &Study, room: usize) -> Said {
    of_room(study, Severity::Warning, "loops.split_idle", room, |name| {
        format!("A split of the floor of {name} is left out.")
    })
    .rule("A split runs across the floor from wall to wall, clear of doors and windows.")
    .remedy("Drag its ends to clear stretches of wall, or delete it.")
}

fn unused(job: &Job, manifold: usize) -> Option<Said> {
    manifold_place(job, manifold)?;
    let m = &job.manifolds[manifold];
    let message = format!("Manifold {} is not used.", plain(&m.letter));
    Some(
        Said::warning(Station::Loops, "manifold.unused", Subject::of(SubjectKind::Manifold, &m.id), message)
            .rule("One manifold serves a room with its neighbours.")
            .remedy("Delete it, or hang it in another room."),
    )
}

fn by_leaders(study: &Study, room: usize) -> Said {
    let d = &study.rooms[room];
    let severity = if d.supplement_w > 0.0 { Severity::Warning } else { Severity::Note };
    of_room(study, severity, "loops.by_leaders", room, |name| {
        format!("No loop fits into {name} beside the leaders that pass; they give {{given}} of the {{need}} it needs.")
    })
    .value("given", Q::Heat, d.leader_heat_w)
    .value("need", Q::Heat, d.heat_loss_w)
    .rule("Leaders heat the rooms through which they pass.")
    .remedy("Hang the manifold elsewhere, or a second one, so that fewer leaders pass; or heat the rest another way.")
}

fn blocked(study: &Study, rooms: &[usize], by: Obstruction) -> Said {
    type Message = fn(&str) -> String;
    let (code, message, remedy): (_, Message, _) = match by {
        Obstruction::EntryBlocked => (
            "loops.blocked",
            |name| format!("A keep-out stands where the tubes for {name} come in."),
            "Move it, move the doorway, or bring the tubes in by a sleeve beside it.",
        ),
        Obstruction::EntryTooNarrow => (
            "loops.narrow",
            |name| format!("More tubes than fit the opening on the way to {name}."),
            "Widen the opening, add a sleeve beside it, or hang a second manifold.",
        ),
        Obstruction::NoWayThrough => (
            "loops.tight",
            |name| format!("The leaders to {name} find no room along the walls on their way."),
            "Hang a manifold nearer, clear the wall, or lay the rooms beyond wider, so that fewer tubes pass.",
        ),
        Obstruction::TooSmall => (
            "loops.too_small",
            |name| format!("{name} is too small for a loop at this spacing, or its floor is cut up too much."),
            "Tighter spacing, a thinner tube, or a keep-out taken away; or warm it with its neighbour's loop (one thermostat zone).",
        ),
    };
    of_rooms(study, Severity::Error, code, rooms, message)
        .rule("Loops stay clear of walls, keep-outs and each other.")
        .remedy(remedy)
}

/// Manifolds with more loops and circuits of wall and ceiling fields than port pairs.
fn port_pairs(study: &Study, out: &mut Findings) {
    // a locked loop may have been given a port beyond the last one
    let asked = |m: usize| {
        study.layout.problems.iter().find_map(|p| match *p {
            Problem::Ports { manifold, needed } if manifold == m => Some(needed),
            _ => None,
        })
    };
    for (i, m) in study.manifolds.iter().enumerate() {
        let needed = asked(i).unwrap_or(0).max(m.ports_used as usize);
        if needed <= m.ports as usize {
            continue;
        }
        let message = format!("Manifold {} has {} port pairs; the floor needs {needed}.", plain(&m.letter), m.ports);
        out.say(
            Said::error(Station::Loops, "manifold.ports", Subject::of(SubjectKind::Manifold, &m.id), message)
                .rule("Each loop, and each circuit of a wall or ceiling field, has a port pair of its own.")
                .remedy("Give it more ports, or hang a second manifold."),
        );
    }
}

/// Manifolds whose loops have the same tags.
fn same_letter(study: &Study, out: &mut Findings) {
    for (i, m) in study.job.manifolds.iter().enumerate() {
        if study.job.manifolds[..i].iter().all(|other| other.letter != m.letter) {
            continue;
        }
        let message =
            format!("Two manifolds have the letter {}: the tags of their loops are the same.", plain(&m.letter));
        out.say(
            Said::error(Station::Loops, "manifold.same_letter", Subject::of(SubjectKind::Manifold, &m.id), message)
                .rule("A tag names one loop on the plan, the papers and the valve.")
                .remedy("Give one of them another letter."),
        );
    }
}

/// What violates the layout rules.
fn violations(study: &Study, out: &mut Findings) {
    for v in &study.violations {
        let Some(first) = v.loops.first().and_then(|&i| study.loops.get(i)) else { continue };
        let other = v.loops.get(1).and_then(|&i| study.loops.get(i)).unwrap_or(first);
        let (code, message, rule) = violation(v, &plain(&first.tag), &plain(&other.tag));
        let subject = Subject::of(SubjectKind::Loop, &first.id).at(v.at);
        let said = Said::error(Station::Loops, code, subject, message)
            .rule(rule)
            .remedy("Change the spacing, the pattern or the place of the manifold; do not lay it like this.");
        let quantity = measure(v.kind);
        out.say(match v.kind {
            ViolationKind::Port => said,
            _ => said.value("measured", quantity, v.measured).value("bound", quantity, v.bound),
        });
    }
}

/// Why a drag went no farther, in the job's units.
pub fn stopped(study: &Study, stop: &Stop) -> String {
    let Stop::Rule(v) = stop else { return "It stops there: farther on the tube could not turn back.".into() };
    let tag = |k: usize| v.loops.get(k).and_then(|&i| study.loops.get(i)).map_or("", |l| l.tag.as_str());
    let (_, _, rule) = violation(v, "", "");
    let rule = rule.replace("{bound}", &study.job.site.units.show(measure(v.kind), v.bound));
    let beside = match v.kind {
        ViolationKind::Gap if v.loops.first() != v.loops.get(1) && v.loops.len() > 1 => {
            format!(", and loops {} and {} would come nearer", tag(0), tag(1))
        }
        _ => String::new(),
    };
    format!("It stops there{beside}. {rule}")
}

fn measure(kind: ViolationKind) -> Q {
    match kind {
        ViolationKind::Length | ViolationKind::PathSum => Q::Tube,
        _ => Q::Size,
    }
}

/// Code, message and rule of a violation by one loop, or by two.
fn violation(v: &Violation, tag: &str, other: &str) -> (&'static str, String, &'static str) {
    match v.kind {
        ViolationKind::Gap => (
            "audit.gap",
            format!("Loops {tag} and {other} come within {{measured}} of each other."),
            "Tube keeps {bound} from tube.",
        ),
        ViolationKind::Bend => (
            "audit.bend",
            format!("Loop {tag} has a bend of {{measured}} radius."),
            "The tube bends to {bound}; tighter it kinks.",
        ),
        ViolationKind::Wall => (
            "audit.wall",
            format!("Loop {tag} lies {{measured}} from a wall, or crosses it."),
            "Tube keeps {bound} from walls and crosses them at doorways and sleeves only.",
        ),
        ViolationKind::KeepOut => (
            "audit.keep_out",
            format!("Loop {tag} lies {{measured}} from a keep-out."),
            "The clearance of this keep-out is {bound}.",
        ),
        ViolationKind::Length => {
            ("audit.length", format!("Loop {tag} is {{measured}} long."), "House rules: longest loop {bound}.")
        }
        ViolationKind::PathSum => (
            "audit.path",
            format!("Loop {tag}'s path adds up to {{measured}}, not {{bound}}."),
            "Length is the length of the path.",
        ),
        ViolationKind::NoTube => (
            "audit.no_tube",
            format!("Loop {tag} runs there and straight back: it is no loop of tube."),
            "A loop encloses floor.",
        ),
        ViolationKind::Port => (
            "audit.port",
            format!("Loops {tag} and {other} share a port pair."),
            "Each loop has a port pair of its own.",
        ),
        ViolationKind::OffManifold => (
            "audit.manifold",
            format!("Loop {tag} ends {{measured}} beside its manifold."),
            "A loop starts and ends at its ports.",
        ),
        ViolationKind::Joist => (
            "audit.joist",
            format!("Loop {tag} runs within a joist, {{measured}} from its middle."),
            "Joists are crossed at drilled holes; tube lies {bound} or more from their middle otherwise.",
        ),
    }
}

fn covered(study: &Study, out: &mut Findings) {
    for c in study.coverage.iter().filter(|c| c.share < 0.97) {
        let room = &study.job.rooms[c.room];
        let severity = if c.share < 0.9 { Severity::Warning } else { Severity::Note };
        let message = format!(
            "{{share}} of the heatable floor of {} has tube within reach; the coldest spot is {{far}} from any.",
            plain(&room.name)
        );
        out.say(
            Said::new(severity, Station::Loops, "loops.coverage", Subject::room(room).at(c.coldest.0), message)
                .value("share", Q::Share, c.share)
                .value("far", Q::Length, c.coldest.1)
                .rule("Every point within half the spacing of a tube, and a tenth.")
                .remedy("Another pattern or spacing, or move the manifold or keep-outs."),
        );
    }
}

/// Loops that several rooms share: of one thermostat zone only.
fn shared(study: &Study, out: &mut Findings) {
    for l in study.loops.iter().filter(|l| l.room_ids.len() > 1) {
        let rooms: Vec<_> = l.room_ids.iter().filter_map(|id| study.job.room(id)).collect();
        let zone = rooms.first().and_then(|r| r.zone.as_ref());
        if zone.is_some() && rooms.iter().all(|r| r.zone.as_ref() == zone) {
            continue;
        }
        let names = rooms.iter().map(|r| plain(&r.name)).collect::<Vec<_>>().join(", ");
        out.say(
            Said::error(
                Station::Loops,
                "loops.two_zones",
                Subject::of(SubjectKind::Loop, &l.id),
                format!("Loop {} heats rooms with thermostats of their own: {names}.", plain(&l.tag)),
            )
            .rule("A loop serves one thermostat zone.")
            .remedy("Put the rooms into one zone (Rooms), or unlock the loop so that it is routed again."),
        );
    }
}

/// Spacings that a lattice cannot have.
fn off_lattice(study: &Study, out: &mut Findings) {
    for room in &study.job.rooms {
        let Some((floor, lattice)) = room.heated_floor().and_then(|f| Some((f, f.lattice?))) else { continue };
        let lies = lattice.spacing_m(floor.spacing_core_m);
        if (lies / floor.spacing_core_m - 1.0).abs() <= 0.05 {
            continue;
        }
        out.say(
            Said::warning(
                Station::Floor,
                "loops.off_lattice",
                Subject::room(room),
                format!("The floor of {} is calculated with {{wanted}}, its lattice has {{lies}}.", plain(&room.name)),
            )
            .value("wanted", Q::Size, floor.spacing_core_m)
            .value("lies", Q::Size, lies)
            .rule("Tube lies on whole squares of a mesh, or two to a joist bay.")
            .remedy("Set the spacing to {lies}."),
        );
    }
}

fn joist_holes(study: &Study, out: &mut Findings) {
    for (room, d) in study.job.rooms.iter().zip(&study.rooms).filter(|(_, d)| !d.joist_holes.is_empty()) {
        let near = d.joist_holes_near_ends;
        let (severity, ends) = match near {
            0 => (Severity::Note, String::new()),
            _ => (Severity::Warning, format!(", {near} of them in the outer quarters of a joist's span")),
        };
        out.say(
            Said::new(
                severity,
                Station::Loops,
                "loops.joist_holes",
                Subject::room(room),
                format!("The loops of {} pass joists at {{holes}} holes{ends}.", plain(&room.name)),
            )
            .value("holes", Q::Count, d.joist_holes.len() as f64)
            .rule("Holes belong at mid-depth, away from a joist's ends. Where and how large a joist may be drilled is for the local code and, beyond it, a structural engineer.")
            .remedy(
                "The plan marks each hole. Drill before the tube is uncoiled; sleeve or bush holes with sharp edges.",
            ),
        );
    }
}

/// Floors that get too warm where leaders lie close.
fn warm_patches(study: &Study, out: &mut Findings) {
    for (room, d) in study.job.rooms.iter().zip(&study.rooms) {
        let (Some(spot), Some(limit)) = (d.warmest, d.surface_limit_c) else { continue };
        let edge = limit.max(study.job.rules.surface_limit_edge_c);
        // the raster and the mean of the floor differ by some tenths
        if spot.surface_c < limit + 0.5 {
            continue;
        }
        let severity = if spot.surface_c > edge { Severity::Warning } else { Severity::Note };
        let message = format!("Where tubes lie close the floor of {} reaches {{spot}}.", plain(&room.name));
        out.say(
            Said::new(severity, Station::Loops, "loops.warm_patch", Subject::room(room).at(spot.at), message)
                .value("spot", Q::Temperature, spot.surface_c)
                .value("limit", Q::Temperature, limit)
                .value("edge", Q::Temperature, edge)
                .rule("Mean surface up to {limit} in the occupied zone, up to {edge} in the perimeter zone")
                .remedy(
                    "Insulate the leaders (Site, house rules), hang the manifold where nobody stays, or a second one.",
                ),
        );
    }
}

/// Letter of the manifold that shall serve a room.
fn wanted_manifold(job: &Job, room: usize) -> Option<&str> {
    let id = job.rooms[room].heated_floor()?.manifold_id.as_ref()?;
    job.manifolds.iter().find(|m| &m.id == id).map(|m| m.letter.as_str())
}

/// Rooms whose loops hang on another manifold than was wanted.
fn other_manifolds(study: &Study, out: &mut Findings) {
    for (i, room) in study.job.rooms.iter().enumerate() {
        let (Some(letter), Some(id)) =
            (wanted_manifold(&study.job, i), room.heated_floor().and_then(|f| f.manifold_id.as_ref()))
        else {
            continue;
        };
        let Some(other) = study.loops.iter().find(|l| l.room_ids.contains(&room.id) && l.manifold_id != *id) else {
            continue;
        };
        let message = format!(
            "{} wants manifold {}, but loop {} hangs on another.",
            plain(&room.name),
            plain(letter),
            plain(&other.tag)
        );
        out.say(
            Said::warning(Station::Loops, "loops.other_manifold", Subject::room(room), message)
                .rule("A manifold serves the room in which it hangs; a locked loop stays on its own.")
                .remedy("Choose the manifold that hangs there, hang it elsewhere, or unlock the loop."),
        );
    }
}

/// Loops of a manifold of equal length, where the firm asks for it.
fn equal_loops(study: &Study, out: &mut Findings) {
    if !study.job.rules.equal_loops {
        return;
    }
    for m in &study.manifolds {
        let own: Vec<_> = study.loops.iter().filter(|l| l.manifold_id == m.id).collect();
        let mean = own.iter().map(|l| l.length_m).sum::<f64>() / own.len().max(1) as f64;
        for l in own.iter().filter(|_| own.len() > 1) {
            let off = l.length_m / mean - 1.0;
            if off.abs() <= EQUAL {
                continue;
            }
            let word = if off > 0.0 { "longer" } else { "shorter" };
            out.say(
                Said::warning(
                    Station::Loops,
                    "loops.unequal",
                    Subject::of(SubjectKind::Loop, &l.id),
                    format!("Loop {} is {{off}} {word} than its manifold's mean.", plain(&l.tag)),
                )
                .value("off", Q::Share, off.abs())
                .house_rule("equal loops, within a tenth")
                .remedy(
                    "Balance by valves instead (Site, house rules), or change the limit so that rooms split alike.",
                ),
            );
        }
    }
}

//! What could not be laid, what breaks the law of the layout, what the loops' figures say.

use super::{RULES, Writer, of_room, subject};
use crate::design::Design;
use crate::findings::{Severity, Station, Subject, SubjectKind};
use crate::job::Job;
use crate::layout::audit::{Breach, BreachKind, Coverage};
use crate::layout::task::Obstruction;
use crate::layout::{self, Layout, Problem};
use crate::units::Quantity as Q;

/// A room so far covered is heated, whatever of it is left.
const MOSTLY: f64 = 0.9;

pub(super) fn problems(w: &mut Writer, design: &Design, layout: &Layout) {
    use Severity::{Error, Warning};
    let job = w.job;
    if job.manifolds.is_empty() && job.rooms.iter().any(|r| r.heated_floor().is_some()) {
        w.add(
            Warning,
            Station::Loops,
            "loops.no_manifold",
            subject(SubjectKind::Job, ""),
            "No manifold yet: no loops can be drawn.",
            &[],
            "",
            "Press M and click the wall where it will hang.",
        );
    }
    for p in &layout.problems {
        match *p {
            Problem::NoManifold { .. } => {}
            Problem::NoWay { room } => w.add(
                Error,
                Station::Loops,
                "loops.no_way",
                of_room(&job.rooms[room]),
                &match wanted_manifold(job, room) {
                    Some(letter) => format!(
                        "No tube of manifold {letter} can reach {}: rooms of another lie between.",
                        job.rooms[room].name
                    ),
                    None => format!(
                        "No tube can reach {}: no doorway or sleeve leads there from a manifold.",
                        job.rooms[room].name
                    ),
                },
                &[],
                "Walls are crossed at doorways and sleeves only, and a room is passed by the tubes of one manifold.",
                "Place the doorway, or a sleeve through the wall, or hang a manifold in the room.",
            ),
            Problem::ShutIn { room } => w.add(
                // a strip that was dragged free is no room without heat
                if design.rooms[room].coverage.is_some_and(|c| c > MOSTLY) { Warning } else { Error },
                Station::Loops,
                "loops.shut_in",
                of_room(&job.rooms[room]),
                &format!("No tube can reach all of {}: locked loops lie in the way.", job.rooms[room].name),
                &[],
                "No loop crosses another, and locked ones stay where they are.",
                "Unlock the loop beside it, or all of its manifold.",
            ),
            Problem::KeptIdle { kept } => {
                let l = &job.loops[kept];
                let Some(room) = job.room(&l.room_id) else { continue };
                let letter = job.manifolds.iter().find(|m| m.id == l.manifold_id).map_or("", |m| &m.letter);
                w.add(
                    Warning,
                    Station::Loops,
                    "loops.kept_idle",
                    of_room(room),
                    &format!("Locked loop {letter}{} is left out: the floor of {} is not heated.", l.port, room.name),
                    &[],
                    "A loop heats a floor with a build-up.",
                    "Heat the floor again (Rooms), or unlock the loop (Loops, Unlock all).",
                );
            }
            Problem::LatticeIdle { room } => w.add(
                Warning,
                Station::Loops,
                "loops.lattice_idle",
                of_room(&job.rooms[room]),
                &format!("The loops of {} do not follow its lattice.", job.rooms[room].name),
                &[],
                "A lattice runs along the sheet; these tubes come in through a slanting wall.",
                "Bring them in through a wall along the sheet, or turn the plan so that the lattice runs along it.",
            ),
            Problem::SplitIdle { room } => w.add(
                Warning,
                Station::Loops,
                "loops.split_idle",
                of_room(&job.rooms[room]),
                &format!("A split of the floor of {} is left out.", job.rooms[room].name),
                &[],
                "A split runs across the floor from wall to wall, clear of doors and windows.",
                "Drag its ends to clear stretches of wall, or delete it.",
            ),
            Problem::ManifoldUnused { manifold } => {
                let m = &job.manifolds[manifold];
                if layout::manifold_place(job, manifold).is_some() {
                    w.add(
                        Warning,
                        Station::Loops,
                        "manifold.unused",
                        subject(SubjectKind::Manifold, &m.id),
                        &format!("Manifold {} is not used.", m.letter),
                        &[],
                        "One manifold serves a room with its neighbours.",
                        "Delete it, or hang it in another room.",
                    );
                }
            }
            Problem::ByLeaders { room } => {
                let d = &design.rooms[room];
                w.add(
                    if d.supplement_w > 0.0 { Severity::Warning } else { Severity::Note },
                    Station::Loops,
                    "loops.by_leaders",
                    of_room(&job.rooms[room]),
                    &format!(
                        "No loop fits into {} beside the leaders that pass; they give {{given}} of the {{need}} it needs.",
                        job.rooms[room].name
                    ),
                    &[("given", Q::Heat, d.leader_heat_w), ("need", Q::Heat, d.heat_loss_w)],
                    "Leaders heat the rooms through which they pass.",
                    "Hang the manifold elsewhere, or a second one, so that fewer leaders pass; or heat the rest another way.",
                );
            }
            Problem::Blocked { room, by } => {
                let name = &job.rooms[room].name;
                let (code, message, remedy) = match by {
                    Obstruction::EntryBlocked => (
                        "loops.blocked",
                        format!("A keep-out stands where the tubes for {name} come in."),
                        "Move it or the doorway.",
                    ),
                    Obstruction::EntryTooNarrow => (
                        "loops.narrow",
                        format!("More tubes than fit the opening on the way to {name}."),
                        "Widen the opening, add a sleeve beside it, or hang a second manifold.",
                    ),
                    Obstruction::NoWayThrough => (
                        "loops.tight",
                        format!("The leaders to {name} find no room along the walls on their way."),
                        "Hang the manifold nearer, or clear the wall.",
                    ),
                    Obstruction::TooSmall => (
                        "loops.too_small",
                        format!("{name} is too small for a loop at this spacing, or its floor is cut up too much."),
                        "Tighter spacing, or take a keep-out away.",
                    ),
                };
                w.add(
                    Error,
                    Station::Loops,
                    code,
                    of_room(&job.rooms[room]),
                    &message,
                    &[],
                    "Loops stay clear of walls, keep-outs and each other.",
                    remedy,
                );
            }
            Problem::LeaderTooLong { room, leader_m, limit_m } => w.add(
                Error,
                Station::Loops,
                "loops.leader_too_long",
                of_room(&job.rooms[room]),
                &format!("The leaders to {} alone take {{leader}} of {{limit}}.", job.rooms[room].name),
                &[("leader", Q::Tube, leader_m), ("limit", Q::Tube, limit_m)],
                &format!("{RULES}longest loop"),
                "Hang a manifold nearer.",
            ),
            Problem::OverLimit { room, length_m, limit_m } => w.add(
                Error,
                Station::Loops,
                "loops.over_limit",
                of_room(&job.rooms[room]),
                &format!("A loop of {} is {{length}} long; the limit is {{limit}}.", job.rooms[room].name),
                &[("length", Q::Tube, length_m), ("limit", Q::Tube, limit_m)],
                &format!("{RULES}longest loop"),
                "A thicker tube, a nearer manifold, or a longer limit with a stronger pump.",
            ),
            Problem::Ports { manifold, needed } => {
                let m = &job.manifolds[manifold];
                w.add(
                    Error,
                    Station::Loops,
                    "manifold.ports",
                    subject(SubjectKind::Manifold, &m.id),
                    &format!("Manifold {} has {} port pairs; the floor needs {needed}.", m.letter, m.ports),
                    &[],
                    "Each loop has a port pair of its own.",
                    "Give it more ports, or hang a second manifold.",
                );
            }
        }
    }
}

/// Letter of the manifold that shall serve a room.
fn wanted_manifold(job: &Job, room: usize) -> Option<&str> {
    let id = job.rooms[room].heated_floor()?.manifold_id.as_ref()?;
    job.manifolds.iter().find(|m| &m.id == id).map(|m| m.letter.as_str())
}

/// Rooms whose loops hang on another manifold than was wanted.
pub(super) fn other_manifolds(w: &mut Writer, design: &Design) {
    for (i, room) in w.job.rooms.iter().enumerate() {
        let (Some(letter), Some(id)) =
            (wanted_manifold(w.job, i), room.heated_floor().and_then(|f| f.manifold_id.as_ref()))
        else {
            continue;
        };
        let other = design.loops.iter().find(|l| l.room_ids.contains(&room.id) && l.manifold_id != *id);
        if let Some(other) = other {
            w.add(
                Severity::Warning,
                Station::Loops,
                "loops.other_manifold",
                of_room(room),
                &format!("{} wants manifold {letter}, but loop {} hangs on another.", room.name, other.tag),
                &[],
                "A manifold serves the room in which it hangs; a locked loop stays on its own.",
                "Choose the manifold that hangs there, hang it elsewhere, or unlock the loop.",
            );
        }
    }
}

/// A room in series with another gets so much more than it needs before that is told.
const MUCH: f64 = 1.4;

/// Loops that several rooms share: of one thermostat zone only, and what sharing costs.
pub(super) fn shared(w: &mut Writer, design: &Design) {
    let job = w.job;
    let of_id = |id: &String| job.room(id).zip(design.rooms.iter().find(|r| r.id == *id));
    for l in design.loops.iter().filter(|l| l.room_ids.len() > 1) {
        let rooms: Vec<_> = l.room_ids.iter().filter_map(of_id).collect();
        let names = rooms.iter().map(|r| r.0.name.as_str()).collect::<Vec<_>>().join(", ");
        let zone = rooms.first().and_then(|r| r.0.zone.as_ref());
        if zone.is_none() || rooms.iter().any(|r| r.0.zone.as_ref() != zone) {
            w.add(
                Severity::Error,
                Station::Loops,
                "loops.two_zones",
                subject(SubjectKind::Loop, &l.id),
                &format!("Loop {} heats rooms with thermostats of their own: {names}.", l.tag),
                &[],
                "A loop serves one thermostat zone.",
                "Put the rooms into one zone (Rooms), or unlock the loop so that it is laid anew.",
            );
        }
        for (room, d) in rooms.iter().filter(|r| r.1.floor.is_some()) {
            let (need, given) = (d.flux_needed_w_m2, d.flux_given_w_m2);
            if need > 0.0 && given > MUCH * need {
                w.add(
                    Severity::Note,
                    Station::Water,
                    "water.in_series",
                    of_room(room),
                    &format!(
                        "{} gets {{given}} where it needs {{need}}: on loop {} it has the water that {names} need together.",
                        room.name, l.tag
                    ),
                    &[("given", Q::Flux, given), ("need", Q::Flux, need)],
                    "Rooms on one loop have one flow; none of them can be throttled alone.",
                    "A wider spacing there, or a zone and a loop of its own.",
                );
            }
        }
    }
}

/// Floors that get too warm where leaders lie close.
pub(super) fn warm_patches(w: &mut Writer, design: &Design) {
    let rules = &w.job.rules;
    for (room, d) in w.job.rooms.iter().zip(&design.rooms) {
        let (Some(spot), Some(limit)) = (d.warmest, d.surface_limit_c) else { continue };
        let edge = limit.max(rules.surface_limit_edge_c);
        // the raster and the mean of the floor differ by some tenths
        if spot.surface_c < limit + 0.5 {
            continue;
        }
        let severity = if spot.surface_c > edge { Severity::Warning } else { Severity::Note };
        w.add(
            severity,
            Station::Loops,
            "loops.warm_patch",
            Subject { at: Some(spot.at), ..of_room(room) },
            &format!("Where tubes lie close the floor of {} reaches {{spot}}.", room.name),
            &[
                ("spot", Q::Temperature, spot.surface_c),
                ("limit", Q::Temperature, limit),
                ("edge", Q::Temperature, edge),
            ],
            "Mean surface up to {limit} where people stay, up to {edge} along the walls",
            "Insulate the leaders (Site, house rules), hang the manifold where nobody stays, or a second one.",
        );
    }
}

pub(super) fn law(w: &mut Writer, design: &Design, breaches: &[Breach]) {
    for b in breaches {
        let Some(first) = b.loops.first().and_then(|&i| design.loops.get(i)) else { continue };
        let tag = &first.tag;
        let other = b.loops.get(1).and_then(|&i| design.loops.get(i)).map_or(tag, |l| &l.tag);
        let values = [("measured", Q::Size, b.measured), ("bound", Q::Size, b.bound)];
        let lengths = [("measured", Q::Tube, b.measured), ("bound", Q::Tube, b.bound)];
        let at = Subject { at: Some(b.at), ..subject(SubjectKind::Loop, &first.id) };
        let (code, message, values, rule) = match b.kind {
            BreachKind::Gap => (
                "audit.gap",
                format!("Loops {tag} and {other} come within {{measured}} of each other."),
                &values[..],
                "Tube keeps {bound} from tube.",
            ),
            BreachKind::Bend => (
                "audit.bend",
                format!("Loop {tag} has a bend of {{measured}} radius."),
                &values[..],
                "The tube bends to {bound}; tighter it kinks.",
            ),
            BreachKind::Wall => (
                "audit.wall",
                format!("Loop {tag} lies {{measured}} from a wall, or crosses it."),
                &values[..],
                "Tube keeps {bound} from walls and crosses them at doorways and sleeves only.",
            ),
            BreachKind::KeepOut => (
                "audit.keep_out",
                format!("Loop {tag} lies {{measured}} from a keep-out."),
                &values[..],
                "This keep-out wants {bound}.",
            ),
            BreachKind::Length => (
                "audit.length",
                format!("Loop {tag} is {{measured}} long."),
                &lengths[..],
                "House rules: longest loop {bound}.",
            ),
            BreachKind::PathSum => (
                "audit.path",
                format!("Loop {tag}'s path adds up to {{measured}}, not {{bound}}."),
                &lengths[..],
                "Length is the length of the path.",
            ),
            BreachKind::Port => (
                "audit.port",
                format!("Loops {tag} and {other} share a port pair."),
                &[][..],
                "Each loop has a port pair of its own.",
            ),
            BreachKind::OffManifold => (
                "audit.manifold",
                format!("Loop {tag} ends {{measured}} beside its manifold."),
                &values[..],
                "A loop starts and ends at its ports.",
            ),
            BreachKind::Joist => (
                "audit.joist",
                format!("Loop {tag} runs within a joist, {{measured}} from its middle."),
                &values[..],
                "Joists are crossed at drilled holes; tube lies {bound} or more from their middle otherwise.",
            ),
        };
        w.add(
            Severity::Error,
            Station::Loops,
            code,
            at,
            &message,
            values,
            rule,
            "Change the spacing, the pattern or the place of the manifold; do not lay it like this.",
        );
    }
}

/// Floors whose tube is bound to a lattice: spacings that it cannot have, and holes through joists.
pub(super) fn lattices(w: &mut Writer, design: &Design) {
    for (room, d) in w.job.rooms.iter().zip(&design.rooms) {
        let Some((floor, lattice)) = room.heated_floor().and_then(|f| Some((f, f.lattice?))) else { continue };
        let lies = lattice.spacing_m(floor.spacing_core_m);
        if (lies / floor.spacing_core_m - 1.0).abs() > 0.05 {
            w.add(
                Severity::Warning,
                Station::Floor,
                "loops.off_lattice",
                of_room(room),
                &format!("The floor of {} is reckoned with {{wanted}}, its lattice has {{lies}}.", room.name),
                &[("wanted", Q::Size, floor.spacing_core_m), ("lies", Q::Size, lies)],
                "Tube lies on whole squares of a mesh, or two to a joist bay.",
                "Set the spacing to {lies}.",
            );
        }
        let holes = d.joist_holes.len();
        if holes > 0 {
            w.add(
                Severity::Note,
                Station::Loops,
                "loops.joist_holes",
                of_room(room),
                &format!("The loops of {} pass joists at {{holes}} holes.", room.name),
                &[("holes", Q::Count, holes as f64)],
                "Where and how large a joist may be drilled is for the local code and, beyond it, a structural engineer.",
                "The plan marks each hole. Drill before the tube is uncoiled; sleeve or bush holes with sharp edges.",
            );
        }
    }
}

pub(super) fn covered(w: &mut Writer, coverage: &[Coverage]) {
    for c in coverage {
        let room = &w.job.rooms[c.room];
        if c.share < 0.97 {
            let severity = if c.share < 0.9 { Severity::Warning } else { Severity::Note };
            let at = Subject { at: Some(c.coldest.0), ..of_room(room) };
            w.add(severity, Station::Loops, "loops.coverage", at,
                &format!("{{share}} of the heatable floor of {} has tube within reach; the coldest spot is {{far}} from any.", room.name),
                &[("share", Q::Share, c.share), ("far", Q::Length, c.coldest.1)],
                "Every point within half the spacing of a tube, and a tenth.", "Another pattern or spacing, or move the manifold or keep-outs.");
        }
    }
}

pub(super) fn loops(w: &mut Writer, design: &Design) {
    use Severity::{Note, Warning};
    let job = w.job;
    let rules = &job.rules;
    for l in &design.loops {
        let at = || subject(SubjectKind::Loop, &l.id);
        if l.head_loss_pa > rules.head_limit_pa {
            w.add(
                Warning,
                Station::Water,
                "water.head",
                at(),
                &format!("Loop {} needs {{head}} of head.", l.tag),
                &[("head", Q::Head, l.head_loss_pa), ("limit", Q::Head, rules.head_limit_pa)],
                &format!("{RULES}up to {{limit}} for a loop"),
                "A shorter limit (more loops), a thicker tube, or a larger temperature drop.",
            );
        }
        if l.velocity_m_s > 0.9 {
            w.add(
                Warning,
                Station::Water,
                "water.fast",
                at(),
                &format!("The water in loop {} runs at {{v}}: it may be heard.", l.tag),
                &[("v", Q::Velocity, l.velocity_m_s)],
                "Quiet tubes: up to 0.9 m/s",
                "A thicker tube or shorter loops.",
            );
        }
    }
    for (room, d) in job.rooms.iter().zip(&design.rooms) {
        let own: Vec<_> = design.loops.iter().filter(|l| l.room_ids.contains(&room.id)).collect();
        let slow: Vec<&str> =
            own.iter().filter(|l| l.flow_l_min > 0.0 && l.velocity_m_s < 0.1).map(|l| l.tag.as_str()).collect();
        if !slow.is_empty() {
            w.add(
                Note,
                Station::Water,
                "water.slow",
                of_room(room),
                &format!("The water in {} ({}) hardly moves: {{v}}.", slow.join(", "), room.name),
                &[("v", Q::Velocity, own.iter().map(|l| l.velocity_m_s).fold(f64::MAX, f64::min))],
                "Below about 0.1 m/s air is not carried and valves cannot be set well",
                "Purge loop by loop at full flow; a smaller drop or fewer loops make it faster.",
            );
        }
        if let Some(drop) = d.drop_k.filter(|&k| k > rules.largest_drop_k && !own.is_empty()) {
            w.add(
                Warning,
                Station::Water,
                "water.drop",
                of_room(room),
                &format!(
                    "{} is so easy that its water has to cool by {{drop}} at the job's supply temperature.",
                    room.name
                ),
                &[("drop", Q::Difference, drop), ("limit", Q::Difference, rules.largest_drop_k)],
                &format!("{RULES}largest drop {{limit}}"),
                "Wider spacing here, tighter in the hardest room, or let its thermostat shut it now and then.",
            );
        }
    }
    for m in &design.manifolds {
        let lengths: Vec<f64> = design.loops.iter().filter(|l| l.manifold_id == m.id).map(|l| l.length_m).collect();
        if lengths.len() < 2 || !rules.equal_loops {
            continue;
        }
        let mean = lengths.iter().sum::<f64>() / lengths.len() as f64;
        for l in design.loops.iter().filter(|l| l.manifold_id == m.id) {
            let off = l.length_m / mean - 1.0;
            if off.abs() > 0.1 {
                let (word, share) = if off > 0.0 { ("longer", off) } else { ("shorter", -off) };
                w.add(
                    Warning,
                    Station::Loops,
                    "loops.unequal",
                    subject(SubjectKind::Loop, &l.id),
                    &format!("Loop {} is {{off}} {word} than its manifold's mean.", l.tag),
                    &[("off", Q::Share, share)],
                    &format!("{RULES}equal loops, within a tenth"),
                    "Balance by valves instead (Site, house rules), or change the limit so that rooms split alike.",
                );
            }
        }
    }
}

//! What a design has to say, gravest first: each finding with the rule behind it and the remedy, its sentence in
//! the job's units.

use crate::design::{Design, RoomDesign};
use crate::findings::{Finding, Severity, Station, Subject, SubjectKind};
use crate::job::{Job, OpeningKind, Room};
use crate::layout::audit::{Breach, BreachKind, Coverage};
use crate::layout::room::Obstruction;
use crate::layout::{self, Layout, Problem};
use crate::library;
use crate::plan;
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
pub fn judge(job: &Job, design: &Design, layout: &Layout, breaches: &[Breach], coverage: &[Coverage]) -> Vec<Finding> {
    let mut w = Writer { job, out: vec![] };
    survey(&mut w);
    floors(&mut w, design);
    problems(&mut w, layout);
    law(&mut w, design, breaches);
    covered(&mut w, coverage);
    loops(&mut w, design);
    summary(&mut w, design);
    // stable: within one severity in the order of the work
    w.out.sort_by_key(|f| f.severity);
    w.out
}

fn survey(w: &mut Writer) {
    use Severity::{Error, Note, Warning};
    use SubjectKind as S;
    let job = w.job;
    if job.rooms.is_empty() {
        w.add(
            Note,
            Station::Rooms,
            "job.empty",
            subject(S::Job, ""),
            "No rooms yet.",
            &[],
            "",
            "Draw the first room: press R, click a corner, type its size.",
        );
        return;
    }
    let passages = plan::passages(job);
    for (i, room) in job.rooms.iter().enumerate() {
        if !plan::is_simple(room) {
            w.add(
                Error,
                Station::Rooms,
                "room.self_crossing",
                of_room(room),
                &format!("The outline of {} crosses itself.", room.name),
                &[],
                "A room is one closed outline.",
                "Move its corners until no wall crosses another.",
            );
            continue;
        }
        for other in &job.rooms[..i] {
            let shared = plan::overlap(room, other);
            if shared > 0.01 {
                w.add(
                    Error,
                    Station::Rooms,
                    "room.overlap",
                    of_room(room),
                    &format!("{} and {} share {{area}} of floor.", room.name, other.name),
                    &[("area", Q::Area, shared)],
                    "A room is its clear inside; walls lie between rooms.",
                    "Move one of the two walls.",
                );
            }
        }
        let edges = plan::edges(room);
        for (k, o) in room.openings.iter().enumerate() {
            let Some(edge) = edges.iter().find(|e| e.index == o.edge) else { continue };
            let what = match o.kind {
                OpeningKind::Window => "window",
                OpeningKind::OutsideDoor => "outside door",
                OpeningKind::Doorway => "doorway",
                OpeningKind::Sleeve => "sleeve",
            };
            let at = subject(S::Opening, &o.id);
            if o.offset_m + o.width_m > edge.length() + 1e-6 {
                w.add(
                    Error,
                    Station::Rooms,
                    "opening.beyond_wall",
                    at.clone(),
                    &format!("A {what} of {} reaches beyond its wall: {{end}} along a wall of {{wall}}.", room.name),
                    &[("end", Q::Length, o.offset_m + o.width_m), ("wall", Q::Length, edge.length())],
                    "An opening lies within one wall.",
                    "Make it narrower or move it along the wall.",
                );
            }
            if o.height_m > room.height_m + 1e-6 {
                w.add(
                    Error,
                    Station::Rooms,
                    "opening.too_high",
                    at.clone(),
                    &format!("A {what} of {} is {{high}} high in a room of {{room}}.", room.name),
                    &[("high", Q::Length, o.height_m), ("room", Q::Length, room.height_m)],
                    "An opening lies within one wall.",
                    "Correct its height or the room's.",
                );
            }
            for p in &room.openings[..k] {
                if p.edge == o.edge
                    && p.offset_m < o.offset_m + o.width_m - 1e-6
                    && o.offset_m < p.offset_m + p.width_m - 1e-6
                {
                    w.add(
                        Warning,
                        Station::Rooms,
                        "opening.overlap",
                        at.clone(),
                        &format!("A {what} of {} lies over another opening.", room.name),
                        &[],
                        "Openings lie side by side.",
                        "Move one of the two along the wall.",
                    );
                }
            }
            let passage = matches!(o.kind, OpeningKind::Doorway | OpeningKind::Sleeve);
            if passage && !passages.iter().any(|p| p.id == o.id) {
                w.add(
                    Warning,
                    Station::Rooms,
                    "doorway.nowhere",
                    at.clone(),
                    &format!("A {what} of {} has no room behind its whole width.", room.name),
                    &[],
                    "A passage joins two rooms.",
                    "Move it to where the other room is, or make it an outside door.",
                );
            }
            if !passage && plan::wall_pieces(job, i).iter().all(|p| p.edge != o.edge || !p.is_outside()) {
                w.add(
                    Warning,
                    Station::Rooms,
                    "opening.inside",
                    at,
                    &format!(
                        "A {what} of {} is in a wall that does not stand to the outside: it costs nothing here.",
                        room.name
                    ),
                    &[],
                    "Windows and outside doors lose heat to the outside.",
                    "Move it, or say on the wall that it stands to the outside.",
                );
            }
        }
        for k in &room.keep_outs {
            let corners = [[k.x0_m, k.y0_m], [k.x1_m, k.y0_m], [k.x1_m, k.y1_m], [k.x0_m, k.y1_m]];
            let middle = [(k.x0_m + k.x1_m) / 2.0, (k.y0_m + k.y1_m) / 2.0];
            if !corners.iter().chain([&middle]).any(|&c| layout::audit::contains(room, c)) {
                w.add(
                    Warning,
                    Station::Rooms,
                    "keep_out.outside",
                    subject(S::KeepOut, &k.id),
                    &format!("A keep-out of {} lies outside the room.", room.name),
                    &[],
                    "Keep-outs take floor from their own room.",
                    "Move it in, or delete it.",
                );
            }
        }
        if plan::heatable_area(room) <= 0.0 && room.heated_floor().is_some() {
            w.add(
                Error,
                Station::Rooms,
                "room.no_floor",
                of_room(room),
                &format!("Keep-outs cover the whole floor of {}.", room.name),
                &[],
                "A heated floor needs floor.",
                "Take keep-outs out, or do not heat this floor.",
            );
        }
    }
    for (i, m) in job.manifolds.iter().enumerate() {
        if layout::manifold_place(job, i).is_none() {
            w.add(
                Error,
                Station::Loops,
                "manifold.off_wall",
                subject(S::Manifold, &m.id),
                &format!("Manifold {} hangs beyond the end of its wall.", m.letter),
                &[],
                "A manifold hangs on a wall of its room.",
                "Click a wall to hang it there.",
            );
        }
    }
}

fn floors(w: &mut Writer, design: &Design) {
    use Severity::{Error, Note, Warning};
    let job = w.job;
    for (room, d) in job.rooms.iter().zip(&design.rooms) {
        let (Some(floor), Some(limit), Some(surface_limit)) = (room.heated_floor(), d.flux_limit_w_m2, d.surface_limit_c)
        else {
            continue;
        };
        if d.heatable_area_m2 <= 0.0 {
            continue;
        }
        let Some(covering) = library::covering(&floor.covering_id) else { continue };
        let need = ("need", Q::Flux, d.flux_needed_w_m2);
        let limit_name = if surface_limit < covering.surface_limit_c - 1e-9 {
            format!("{RULES}floor surface up to {{surface}}")
        } else {
            format!("Covering {}: surface up to {{surface}}", covering.name)
        };
        let surface = ("surface", Q::Temperature, surface_limit);
        let short = d.heat_loss_w - d.flux_given_w_m2 * d.heatable_area_m2;
        if surface_limit <= room.room_c {
            w.add(
                Error,
                Station::Floor,
                "floor.limit_below_room",
                of_room(room),
                &format!("{} is wanted at {{room}} and its floor may only be {{surface}}.", room.name),
                &[("room", Q::Temperature, room.room_c), surface],
                &limit_name,
                "Another covering, or a cooler room.",
            );
        } else if d.flux_needed_w_m2 > limit * 1.001 {
            w.add(Error, Station::Floor, "floor.over_capacity", of_room(room),
                &format!("{} needs {{need}}; its floor may give {{limit}}. {{short}} are missing.", room.name),
                &[need, ("limit", Q::Flux, limit), ("short", Q::Heat, short), surface], &limit_name,
                "Lose less (glass, air, walls), tighten the edge band, take a covering that stands more, or add a wall field or backup heat for what is missing.");
        } else if short > 0.01 * d.heat_loss_w.max(1.0) && d.supply_needed_c.is_some() {
            let needed = d.supply_needed_c.unwrap_or(0.0);
            let ceiling = d.supply_limit_c.unwrap_or(0.0);
            w.add(
                Error,
                Station::Floor,
                "floor.supply_limit",
                of_room(room),
                &format!(
                    "{} would need water at {{needed}}; its floor stands {{ceiling}}. {{short}} are missing.",
                    room.name
                ),
                &[("needed", Q::Temperature, needed), ("ceiling", Q::Temperature, ceiling), ("short", Q::Heat, short)],
                "Supply limits of covering and build-up",
                "Tighter spacing, less covering, or a smaller loss.",
            );
        } else if let (Some(mean), true) = (d.surface_mean_c, d.flux_needed_w_m2 > 0.0) {
            w.add(
                Note,
                Station::Floor,
                "floor.sound",
                of_room(room),
                &format!(
                    "{} needs {{need}}; its floor may give {{limit}} and does it at {{mean}} surface. Sound.",
                    room.name
                ),
                &[need, ("limit", Q::Flux, limit), ("mean", Q::Temperature, mean), surface],
                &limit_name,
                "",
            );
        }
        if let (Some(supply), Some(ceiling), Some(needed)) =
            (design.totals.supply_c, d.supply_limit_c, d.supply_needed_c)
            && supply > ceiling + 0.05
            && needed <= ceiling
        {
            let hardest = hardest_name(job, design);
            w.add(
                Error,
                Station::Floor,
                "floor.supply_conflict",
                of_room(room),
                &format!("The water is {{supply}} for {hardest}; the floor of {} stands {{ceiling}}.", room.name),
                &[("supply", Q::Temperature, supply), ("ceiling", Q::Temperature, ceiling)],
                "Supply limits of covering and build-up",
                &format!("Give {hardest} a tighter spacing or a thinner covering, or a mixed circuit of its own."),
            );
        }
        if covering.resistance_m2k_w > 0.15 + 1e-9 {
            w.add(
                Warning,
                Station::Floor,
                "floor.covering",
                of_room(room),
                &format!("The covering of {} holds back {{r}}.", room.name),
                &[("r", Q::Resistance, covering.resistance_m2k_w)],
                "Coverings over a heated floor stay below 0.15 m²K/W (EN 1264)",
                "A thinner covering.",
            );
        }
        if d.striping_k.is_some_and(|s| s > 2.0) {
            w.add(
                Warning,
                Station::Floor,
                "floor.striping",
                of_room(room),
                &format!("Bare feet feel the tubes in {}: {{stripes}} from line to line.", room.name),
                &[("stripes", Q::Difference, d.striping_k.unwrap_or(0.0))],
                "Comfort: about 2 K",
                "Tighter spacing, or more screed over the tube.",
            );
        }
        if !job.rules.spacings_m.iter().any(|s| (s - floor.spacing_core_m).abs() < 1e-6)
            || !job.rules.spacings_m.iter().any(|s| (s - floor.spacing_edge_m).abs() < 1e-6)
        {
            w.add(
                Warning,
                Station::Floor,
                "floor.spacing_not_offered",
                of_room(room),
                &format!("{} has a spacing that the firm does not lay.", room.name),
                &[],
                &format!("{RULES}spacings offered"),
                "Pick one of the spacings offered, or add this one to the rules.",
            );
        }
    }
}

fn hardest_name(job: &Job, design: &Design) -> String {
    let id = design.totals.hardest_room_id.as_deref().unwrap_or_default();
    job.room(id).map_or_else(|| "the hardest room".to_owned(), |r| r.name.clone())
}

fn problems(w: &mut Writer, layout: &Layout) {
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
                &format!(
                    "No tube can reach {}: no doorway or sleeve leads there from a manifold.",
                    job.rooms[room].name
                ),
                &[],
                "Walls are crossed at doorways and sleeves only.",
                "Place the doorway, or a sleeve through the wall, or hang a manifold in the room.",
            ),
            Problem::NotSquare { room } => w.add(
                Warning,
                Station::Loops,
                "loops.shape",
                of_room(&job.rooms[room]),
                &format!(
                    "{} has walls that are not square to the sheet; its loops are not drawn.",
                    job.rooms[room].name
                ),
                &[],
                "This version lays rooms with right angles.",
                "Draw the room by right angles, or lay it by hand.",
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

fn law(w: &mut Writer, design: &Design, breaches: &[Breach]) {
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

fn covered(w: &mut Writer, coverage: &[Coverage]) {
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

fn loops(w: &mut Writer, design: &Design) {
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

fn summary(w: &mut Writer, design: &Design) {
    let job = w.job;
    let t = &design.totals;
    if job.rooms.is_empty() {
        return;
    }
    let whole = || subject(SubjectKind::Job, "");
    if let Some(supply) = t.supply_c {
        let hardest = hardest_name(job, design);
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

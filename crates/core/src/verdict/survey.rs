//! What the survey itself leaves open: outlines, openings, levels, climate.

use crate::geometry::outline::within;
use super::{Writer, of_room, subject};
use crate::design::Design;
use crate::findings::{Severity, Station, SubjectKind};
use crate::geometry::polygon::shared_area;
use crate::job::{Beyond, Job, OpeningKind, Room};
use crate::layout;
use crate::plan::Plan;
use crate::plan::edge::Edge;
use crate::plan::walls::{Behind, WallPiece};
use crate::units::Quantity as Q;

pub(super) fn survey(w: &mut Writer, plan: &Plan) {
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
    for (i, room) in job.rooms.iter().enumerate() {
        if !plan.is_simple[i] {
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
        for (k, other) in job.rooms[..i].iter().enumerate() {
            if other.level_id != room.level_id || !plan.is_simple[k] {
                continue;
            }
            let shared = shared_area(&room.outline, &other.outline);
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
        let edges = &plan.edges[i];
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
            // under a slope the wall is lower than the room
            let middle = edge.stretch(o.offset_m + o.width_m / 2.0, 0.0).0;
            let height = plan.ceilings[i].height_at(edge.at(middle.clamp(0.0, edge.length())));
            if o.sill_m + o.height_m > height + 0.01 {
                w.add(
                    Error,
                    Station::Rooms,
                    "opening.too_high",
                    at.clone(),
                    &format!("A {what} of {} reaches up to {{top}} in a wall of {{wall}}.", room.name),
                    &[("top", Q::Length, o.sill_m + o.height_m), ("wall", Q::Length, height)],
                    "An opening lies within one wall.",
                    "Correct its sill, its height or the room's.",
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
            if passage && !plan.passages.iter().any(|p| p.id == o.id) {
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
            if !passage && plan.walls[i].iter().filter(|f| f.edge == o.edge).all(|f| is_as_warm(job, room, f)) {
                w.add(
                    Warning,
                    Station::Rooms,
                    "opening.inside",
                    at,
                    &format!("A {what} of {} stands to a space as warm as here: it costs nothing.", room.name),
                    &[],
                    "Windows and outside doors lose heat to the outside.",
                    "Move it, or say on the wall that it stands to the outside.",
                );
            }
        }
        slivers(w, room, edges, &plan.walls[i]);
        for k in &room.keep_outs {
            let corners = [[k.x0_m, k.y0_m], [k.x1_m, k.y0_m], [k.x1_m, k.y1_m], [k.x0_m, k.y1_m]];
            let middle = [(k.x0_m + k.x1_m) / 2.0, (k.y0_m + k.y1_m) / 2.0];
            if !corners.iter().chain([&middle]).any(|&c| within(&room.outline, c)) {
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
        if plan.heatable_m2[i] <= 0.0 && room.heated_floor().is_some() {
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

/// Whether a face stands to a room that is heated like its own, or to a space as warm.
fn is_as_warm(job: &Job, room: &Room, face: &WallPiece) -> bool {
    match face.behind {
        Behind::Room { index, .. } => job.rooms[index].is_heated() == room.is_heated(),
        Behind::Other(beyond) => beyond == Beyond::Heated,
    }
}

/// Walls too short to be meant, and gaps to a neighbour too thin for a wall.
fn slivers(w: &mut Writer, room: &Room, edges: &[Edge], faces: &[WallPiece]) {
    let job = w.job;
    if let Some(short) = edges.iter().find(|e| e.length() < 0.03) {
        let mut at = of_room(room);
        at.at = Some(short.a);
        w.add(
            Severity::Warning,
            Station::Rooms,
            "room.sliver",
            at,
            &format!("{} has a wall of only {{length}}.", room.name),
            &[("length", Q::Size, short.length())],
            "A wall shorter than a hand is mostly a slip.",
            "Pull its corners together, or delete one of them.",
        );
    }
    for face in faces {
        let Behind::Room { index, thickness_m } = face.behind else { continue };
        let other = &job.rooms[index];
        if (0.001..0.04).contains(&thickness_m) && room.id < other.id && face.low_m < 0.05 {
            let mut at = of_room(room);
            at.at = edges.iter().find(|e| e.index == face.edge).map(|e| e.at(f64::midpoint(face.from_m, face.to_m)));
            w.add(
                Severity::Warning,
                Station::Rooms,
                "room.gap",
                at,
                &format!("{} and {} are only {{gap}} apart.", room.name, other.name),
                &[("gap", Q::Size, thickness_m)],
                "Between two rooms stands a wall, or nothing.",
                "Move one of the two walls, or merge the rooms.",
            );
        }
    }
}

/// Levels in the order of their heights, and no room growing into the one above.
pub(super) fn levels(w: &mut Writer, plan: &Plan) {
    let job = w.job;
    for pair in job.levels.windows(2) {
        if pair[1].floor_m <= pair[0].floor_m {
            w.add(
                Severity::Warning,
                Station::Rooms,
                "level.order",
                subject(SubjectKind::Job, ""),
                &format!("{} stands before {}, but does not lie below it.", pair[0].name, pair[1].name),
                &[("lower", Q::Length, pair[0].floor_m), ("upper", Q::Length, pair[1].floor_m)],
                "Levels are listed from the lowest to the highest.",
                "Correct the heights of their floors.",
            );
        }
    }
    for (i, lower) in job.rooms.iter().enumerate() {
        let top = plan.floor_m[i] + lower.height_m;
        for (k, upper) in job.rooms.iter().enumerate() {
            let floor = plan.floor_m[k];
            let into = top - floor;
            if lower.level_id == upper.level_id
                || into <= 0.05
                || floor < plan.floor_m[i]
                || (floor == plan.floor_m[i] && i > k)
                || !plan.is_simple[i]
                || !plan.is_simple[k]
                || shared_area(&lower.outline, &upper.outline) < 0.05
            {
                continue;
            }
            w.add(
                Severity::Error,
                Station::Rooms,
                "room.grows_into",
                of_room(lower),
                &format!("{} reaches {{into}} into {} above it.", lower.name, upper.name),
                &[("into", Q::Length, into)],
                "Two rooms cannot share their air.",
                "Correct its height or the height of the upper level's floor.",
            );
        }
    }
}

/// Whether the design day fits the weather file, and the old source the building.
pub(super) fn climate(w: &mut Writer, design: &Design) {
    let job = w.job;
    let whole = || subject(SubjectKind::Job, "");
    if let Some(weather) = &job.site.weather
        && job.site.outdoor_c > weather.p99_c + 0.05
    {
        w.add(
            Severity::Warning,
            Station::Site,
            "site.too_mild",
            whole(),
            &format!(
                "The design day of {{design}} is milder than {} has it: {{p99}} for one hour in a hundred.",
                weather.name
            ),
            &[("design", Q::Temperature, job.site.outdoor_c), ("p99", Q::Temperature, weather.p99_c)],
            "Design for the 99 % or 99.6 % temperature",
            "Take the temperature of the weather file, or say why not.",
        );
    }
    if let Some(ratio) = design.totals.old_source_ratio
        && !(0.9..=1.3).contains(&ratio)
    {
        let words = if ratio > 1.0 { "more than the building needs" } else { "less than the building needs" };
        w.add(
            Severity::Note,
            Station::HeatLoss,
            "source.old_label",
            whole(),
            &format!("The old source's label says {{ratio}} of the heat reckoned here: {words}."),
            &[("ratio", Q::Share, ratio), ("source", Q::Heat, design.totals.source_w)],
            "A source is sized by the heat loss, not by the label of the old one.",
            "",
        );
    }
    for (room, d) in job.rooms.iter().zip(&design.rooms) {
        if !room.is_heated() && room.floor.is_some() {
            w.add(
                Severity::Warning,
                Station::Rooms,
                "room.unheated_floor",
                of_room(room),
                &format!("{} is unheated, and yet has a heated floor: no loops are laid in it.", room.name),
                &[("found", Q::Temperature, d.temperature_c)],
                "An unheated room finds its own temperature.",
                "Heat the room, or take its floor heating out.",
            );
        }
    }
}

//! What the survey itself leaves open: outlines, openings, keep-outs, levels, climate.

use crate::findings::{Findings, Rule, Said, Station, Subject, SubjectKind, plain};
use crate::geometry::midpoint;
use crate::geometry::outline::within;
use crate::geometry::polygon::shared_area;
use crate::job::{Beyond, Opening, OpeningKind, Room};
use crate::plan::edge::Edge;
use crate::plan::nearly::nearly_shared;
use crate::plan::walls::{Behind, THICKEST_WALL_M, WallPiece};
use crate::study::Study;
use crate::units::Quantity as Q;

pub(super) const RULES: &[Rule] = &[
    no_rooms,
    outlines,
    openings,
    slivers,
    gaps,
    walls_nearly_shared,
    keep_outs,
    no_floor,
    level_order,
    rooms_in_rooms,
    mild_design_day,
    unheated_floors,
];

/// Rooms whose outline is one, with their indices.
fn sound(study: &Study) -> impl Iterator<Item = (usize, &Room)> {
    study.job.rooms.iter().enumerate().filter(|(i, _)| study.plan.is_simple[*i])
}

fn no_rooms(study: &Study, out: &mut Findings) {
    if study.job.rooms.is_empty() {
        out.say(
            Said::note(Station::Rooms, "job.empty", Subject::job(), "No rooms yet.")
                .remedy("Draw the first room: press R, click a corner, type its size."),
        );
    }
}

/// Outlines that cross themselves or another.
fn outlines(study: &Study, out: &mut Findings) {
    for (i, room) in study.job.rooms.iter().enumerate() {
        if !study.plan.is_simple[i] {
            out.say(
                Said::error(
                    Station::Rooms,
                    "room.self_crossing",
                    Subject::room(room),
                    format!("The outline of {} crosses itself.", plain(&room.name)),
                )
                .rule("A room is one closed outline.")
                .remedy("Move its corners until no wall crosses another."),
            );
            continue;
        }
        for (_, other) in sound(study).take_while(|(k, _)| *k < i).filter(|(_, o)| o.level_id == room.level_id) {
            let shared = shared_area(&room.outline, &other.outline);
            if shared > 0.01 {
                out.say(
                    Said::error(
                        Station::Rooms,
                        "room.overlap",
                        Subject::room(room),
                        format!("{} and {} share {{area}} of floor.", plain(&room.name), plain(&other.name)),
                    )
                    .value("area", Q::Area, shared)
                    .rule("A room is its clear inside; walls lie between rooms.")
                    .remedy("Move one of the two walls."),
                );
            }
        }
    }
}

fn openings(study: &Study, out: &mut Findings) {
    for (i, room) in sound(study) {
        for (k, o) in room.openings.iter().enumerate() {
            let Some(edge) = study.plan.edge(i, o.edge) else { continue };
            fits_its_wall(study, i, o, edge, out);
            if room.openings[..k].iter().any(|p| overlap(o, p)) {
                out.say(
                    Said::warning(
                        Station::Rooms,
                        "opening.overlap",
                        Subject::of(SubjectKind::Opening, &o.id),
                        format!("A {} of {} lies over another opening.", word(o), plain(&room.name)),
                    )
                    .rule("Openings lie side by side.")
                    .remedy("Move one of the two along the wall."),
                );
            }
            leads_somewhere(study, i, o, out);
        }
    }
}

fn word(o: &Opening) -> &'static str {
    match o.kind {
        OpeningKind::Window => "window",
        OpeningKind::OutsideDoor => "outside door",
        OpeningKind::Doorway => "doorway",
        OpeningKind::Sleeve => "sleeve",
        OpeningKind::RoofWindow => "roof window",
    }
}

fn overlap(o: &Opening, p: &Opening) -> bool {
    let is_above = |o: &Opening| o.kind == OpeningKind::RoofWindow;
    p.edge == o.edge
        && is_above(p) == is_above(o)
        && p.offset_m < o.offset_m + o.width_m - 1e-6
        && o.offset_m < p.offset_m + p.width_m - 1e-6
}

/// An opening longer or higher than its wall.
fn fits_its_wall(study: &Study, room: usize, o: &Opening, edge: &Edge, out: &mut Findings) {
    let name = plain(&study.job.rooms[room].name);
    let subject = || Subject::of(SubjectKind::Opening, &o.id);
    if o.offset_m + o.width_m > edge.length() + 1e-6 {
        let message = format!("A {} of {name} reaches beyond its wall: {{end}} along a wall of {{wall}}.", word(o));
        out.say(
            Said::error(Station::Rooms, "opening.beyond_wall", subject(), message)
                .value("end", Q::Length, o.offset_m + o.width_m)
                .value("wall", Q::Length, edge.length())
                .rule("An opening lies within one wall.")
                .remedy("Make it narrower or move it along the wall."),
        );
    }
    if o.kind == OpeningKind::RoofWindow {
        return;
    }
    // under a slope the wall is lower than the room
    let middle = edge.stretch(o.offset_m + o.width_m / 2.0, 0.0).0;
    let height = study.plan.ceilings[room].height_at(edge.at(middle.clamp(0.0, edge.length())));
    if o.sill_m + o.height_m > height + 0.01 {
        let message = format!("A {} of {name} reaches up to {{top}} in a wall of {{wall}}.", word(o));
        out.say(
            Said::error(Station::Rooms, "opening.too_high", subject(), message)
                .value("top", Q::Length, o.sill_m + o.height_m)
                .value("wall", Q::Length, height)
                .rule("An opening lies within one wall.")
                .remedy("Correct its sill, its height or the room's."),
        );
    }
}

/// A passage without a room on its other side, or a window to a room.
fn leads_somewhere(study: &Study, room: usize, o: &Opening, out: &mut Findings) {
    let subject = Subject::of(SubjectKind::Opening, &o.id);
    let name = plain(&study.job.rooms[room].name);
    if matches!(o.kind, OpeningKind::Doorway | OpeningKind::Sleeve) {
        if !study.plan.passages.iter().any(|p| p.id == o.id) {
            let message = format!("A {} of {name} has no room on the other side of its whole width.", word(o));
            out.say(
                Said::warning(Station::Rooms, "doorway.nowhere", subject, message)
                    .rule("A passage joins two rooms.")
                    .remedy("Move it to where the other room is, or make it an outside door."),
            );
        }
        return;
    }
    if o.kind == OpeningKind::RoofWindow {
        // what does not fit lies under rooms above, or is larger than its slope
        let seen: f64 =
            study.heat.rooms[room].parts.iter().filter(|p| p.subject.as_deref() == Some(&o.id)).map(|p| p.amount).sum();
        let area = o.width_m * o.height_m;
        if seen < 0.99 * area {
            let message = format!("A roof window of {name} has {{area}}; its roof has room for {{seen}}.");
            out.say(
                Said::error(Station::Rooms, "opening.beyond_roof", subject, message)
                    .value("area", Q::Area, area)
                    .value("seen", Q::Area, seen)
                    .rule("A roof window lies in a slope, or in a roof with nothing above it.")
                    .remedy("Make it smaller, give the wall below it a slope, or move it to another one."),
            );
        }
        return;
    }
    let as_warm = |p: &WallPiece| match p.behind {
        Behind::Room { index, .. } => study.job.rooms[index].is_heated() == study.job.rooms[room].is_heated(),
        Behind::Other(beyond) => beyond == Beyond::Heated,
    };
    if study.plan.walls[room].iter().filter(|p| p.edge == o.edge).all(as_warm) {
        let message =
            format!("A {} of {name} leads to a space heated to the same temperature: it loses no heat.", word(o));
        out.say(
            Said::warning(Station::Rooms, "opening.inside", subject, message)
                .rule("Windows and outside doors lose heat to the outside.")
                .remedy("Move it, or say on the wall that the other side is outside."),
        );
    }
}

/// Walls too short to be meant.
fn slivers(study: &Study, out: &mut Findings) {
    for (i, room) in sound(study) {
        let Some(short) = study.plan.edges[i].iter().find(|e| e.length() < 0.03) else { continue };
        out.say(
            Said::warning(
                Station::Rooms,
                "room.sliver",
                Subject::room(room).at(short.a),
                format!("{} has a wall of only {{length}}.", plain(&room.name)),
            )
            .value("length", Q::Size, short.length())
            .rule("A wall shorter than a hand is mostly a slip.")
            .remedy("Pull its corners together, or delete one of them."),
        );
    }
}

/// Gaps to a neighbour too thin for a wall.
fn gaps(study: &Study, out: &mut Findings) {
    for (i, room) in sound(study) {
        for piece in &study.plan.walls[i] {
            let Behind::Room { index, thickness_m } = piece.behind else { continue };
            let other = &study.job.rooms[index];
            if !(0.001..0.04).contains(&thickness_m) || room.id >= other.id || piece.low_m >= 0.05 {
                continue;
            }
            let middle = f64::midpoint(piece.from_m, piece.to_m);
            let at = study.plan.edge(i, piece.edge).map(|e| e.at(middle));
            out.say(
                Said::warning(
                    Station::Rooms,
                    "room.gap",
                    Subject { at, ..Subject::room(room) },
                    format!("{} and {} are only {{gap}} apart.", plain(&room.name), plain(&other.name)),
                )
                .value("gap", Q::Size, thickness_m)
                .rule("Between two rooms stands a wall, or nothing.")
                .remedy("Move one of the two walls, or merge the rooms."),
            );
        }
    }
}

/// Two walls to the outside that may be the faces of one inner wall.
fn walls_nearly_shared(study: &Study, out: &mut Findings) {
    for near in nearly_shared(&study.plan, &study.job) {
        let [a, b] = near.rooms.map(|r| &study.job.rooms[r]);
        out.say(
            Said::warning(
                Station::Rooms,
                "wall.maybe_inner",
                Subject { at: Some(near.at), ..Subject::room(a) },
                format!(
                    "{} and {} face each other at {{gap}} or out of true; both walls are taken to stand outside.",
                    plain(&a.name),
                    plain(&b.name)
                ),
            )
            .value("gap", Q::Size, near.gap_m)
            .rule("Two faces up to {thickest} apart and three degrees out of true are the sides of one wall.")
            .value("thickest", Q::Size, THICKEST_WALL_M)
            .remedy(
                "Where it is an inner wall, move one of them, or say on both what is on the other side: a space heated to the same temperature.",
            ),
        );
    }
}

fn keep_outs(study: &Study, out: &mut Findings) {
    for (_, room) in sound(study) {
        for k in &room.keep_outs {
            let corners = [[k.x0_m, k.y0_m], [k.x1_m, k.y0_m], [k.x1_m, k.y1_m], [k.x0_m, k.y1_m]];
            let middle = midpoint(corners[0], corners[2]);
            if corners.iter().chain([&middle]).any(|&c| within(&room.outline, c)) {
                continue;
            }
            out.say(
                Said::warning(
                    Station::Rooms,
                    "keep_out.outside",
                    Subject::of(SubjectKind::KeepOut, &k.id),
                    format!("A keep-out of {} lies outside the room.", plain(&room.name)),
                )
                .rule("Keep-outs take floor from their own room.")
                .remedy("Move it in, or delete it."),
            );
        }
    }
}

/// A heated floor of which keep-outs leave nothing.
fn no_floor(study: &Study, out: &mut Findings) {
    for (i, room) in sound(study) {
        if study.plan.heatable_m2[i] <= 0.0 && room.heated_floor().is_some() {
            out.say(
                Said::error(
                    Station::Rooms,
                    "room.no_floor",
                    Subject::room(room),
                    format!("Keep-outs cover the whole floor of {}.", plain(&room.name)),
                )
                .rule("A heated floor needs floor.")
                .remedy("Take keep-outs out, or do not heat this floor."),
            );
        }
    }
}

/// Levels are listed by their heights.
fn level_order(study: &Study, out: &mut Findings) {
    for pair in study.job.levels.windows(2).filter(|p| p[1].floor_m <= p[0].floor_m) {
        out.say(
            Said::warning(
                Station::Rooms,
                "level.order",
                Subject::job(),
                format!(
                    "{} is listed before {}, but does not lie below it.",
                    plain(&pair[0].name),
                    plain(&pair[1].name)
                ),
            )
            .value("lower", Q::Length, pair[0].floor_m)
            .value("upper", Q::Length, pair[1].floor_m)
            .rule("Levels are listed from the lowest to the highest.")
            .remedy("Correct the heights of their floors."),
        );
    }
}

/// No room grows into the one above it.
fn rooms_in_rooms(study: &Study, out: &mut Findings) {
    let plan = &study.plan;
    for (i, lower) in sound(study) {
        let top = plan.floor_m[i] + lower.height_m;
        for (k, upper) in sound(study) {
            let into = top - plan.floor_m[k];
            let is_above = plan.floor_m[k] > plan.floor_m[i] || plan.floor_m[k] == plan.floor_m[i] && i < k;
            if lower.level_id == upper.level_id
                || into <= 0.05
                || !is_above
                || shared_area(&lower.outline, &upper.outline) < 0.05
            {
                continue;
            }
            out.say(
                Said::error(
                    Station::Rooms,
                    "room.grows_into",
                    Subject::room(lower),
                    format!("{} reaches {{into}} into {} above it.", plain(&lower.name), plain(&upper.name)),
                )
                .value("into", Q::Length, into)
                .rule("Two rooms cannot share their air.")
                .remedy("Correct its height or the height of the upper level's floor."),
            );
        }
    }
}

/// The design day is no milder than the weather file has it.
fn mild_design_day(study: &Study, out: &mut Findings) {
    let Some(weather) = &study.job.site.weather else { return };
    if study.asked().site.outdoor_c > weather.p99_c + 0.05 {
        out.say(
            Said::warning(
                Station::Site,
                "site.too_mild",
                Subject::job(),
                format!(
                    "The design temperature of {{design}} is milder than {{p99}}, below which {} has one hour in a hundred.",
                    plain(&weather.name)
                ),
            )
            .value("design", Q::Temperature, study.asked().site.outdoor_c)
            .value("p99", Q::Temperature, weather.p99_c)
            .rule("Design for the 99 % or 99.6 % temperature")
            .remedy("Take the temperature of the weather file, or say why not."),
        );
    }
}

fn unheated_floors(study: &Study, out: &mut Findings) {
    for (room, d) in study.job.rooms.iter().zip(&study.rooms) {
        if !room.is_heated() && room.floor.is_some() {
            out.say(
                Said::warning(
                    Station::Rooms,
                    "room.unheated_floor",
                    Subject::room(room),
                    format!("{} is unheated, and yet has a heated floor: no loops are laid in it.", plain(&room.name)),
                )
                .value("found", Q::Temperature, d.temperature_c)
                .rule("An unheated room settles at its own temperature.")
                .remedy("Heat the room, or take its floor heating out."),
            );
        }
    }
}

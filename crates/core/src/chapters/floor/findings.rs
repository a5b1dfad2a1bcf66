//! Whether each floor meets its room's load, and what fields in walls and ceilings do.

use super::remedy::{Remedy, RemedyKind};
use crate::findings::{Findings, Rule, Said, Severity, Station, Subject, listed, plain};
use crate::geometry::distance;
use crate::job::{Beyond, Floor, Job, Room};
use crate::library::Covering;
use crate::study::Study;
use crate::study::room::RoomDesign;
use crate::units::Quantity as Q;
use crate::water::circuit::governs;

pub(super) const RULES: &[Rule] = &[
    capacity,
    open_below,
    patches,
    rugs,
    thick_coverings,
    ripple,
    spacings,
    one_water,
    beside,
    fields_fit,
    fields_meet,
];

/// A room whose floor can be judged.
struct Judged<'a> {
    job: &'a Job,
    room: &'a Room,
    d: &'a RoomDesign,
    floor: &'a Floor,
    covering: &'a Covering,
    limit_w_m2: f64,
    surface_limit_c: f64,
}

/// Rooms with a heated floor to be judged. What is missing where no loop could be laid is said with the loops.
fn judged(study: &Study) -> impl Iterator<Item = Judged<'_>> {
    study.job.rooms.iter().zip(&study.rooms).filter_map(|(room, d)| {
        let floor = room.heated_floor()?;
        let (limit_w_m2, surface_limit_c) = (d.flux_limit_w_m2?, d.surface_limit_c?);
        let bare = d.leader_heat_w > 0.0 && !study.loops.iter().any(|l| l.room_ids.contains(&room.id));
        let covering = study.job.covering(&floor.covering_id)?;
        (d.heatable_area_m2 > 0.0 && !bare).then_some(Judged {
            job: &study.job,
            room,
            d,
            floor,
            covering,
            limit_w_m2,
            surface_limit_c,
        })
    })
}

/// Whether the floor meets the room's load within the limits of its surface and of its water.
fn capacity(study: &Study, out: &mut Findings) {
    for j in judged(study) {
        let (d, name) = (j.d, plain(&j.room.name));
        let limit_name = if j.surface_limit_c < j.covering.surface_limit_c - 1e-9 {
            "House rules: floor surface up to {surface}".to_owned()
        } else {
            format!("Covering {}: surface up to {{surface}}", plain(&j.covering.name))
        };
        let said = if j.surface_limit_c <= j.room.room_c {
            Said::error(
                Station::Floor,
                "floor.limit_below_room",
                Subject::room(j.room),
                format!("{name} has a design temperature of {{room}}; its floor surface is limited to {{surface}}."),
            )
            .value("room", Q::Temperature, j.room.room_c)
            .remedy("Another covering, or a cooler room.")
        } else if d.supplement_w > 0.0 && d.flux_needed_w_m2 > j.limit_w_m2 * 1.001 {
            over_capacity(&j, &name, out).value("limit", Q::Flux, j.limit_w_m2)
        } else if let Some(supply_c) = left_behind(study, &j) {
            not_governing(&j, &name, supply_c, out)
        } else if d.supplement_w > 0.0 && d.supply_needed_c.is_some() {
            over_supply_limit(&j, &name, out)
        } else if let (Some(mean), true) = (d.surface_mean_c, d.flux_needed_w_m2 > 0.0) {
            let message = if study.job.outdoors.is_some() {
                format!("{name} needs {{need}} and gets {{given}} in the storm, at {{mean}} surface. OK.")
            } else if d.held_open {
                format!(
                    "{name} needs {{need}} and gets {{given}}, at {{mean}} surface; its floor gives up to {{limit}}. OK."
                )
            } else {
                format!("{name} needs {{need}}; its floor gives that at {{mean}} surface, and up to {{limit}}. OK.")
            };
            Said::note(Station::Floor, "floor.sound", Subject::room(j.room), message)
                .value("need", Q::Flux, d.flux_needed_w_m2)
                .value("given", Q::Flux, d.flux_given_w_m2)
                .value("limit", Q::Flux, j.limit_w_m2)
                .value("mean", Q::Temperature, mean)
        } else {
            continue;
        };
        let by_water = said_by_water(&j);
        let said = said.value("surface", Q::Temperature, j.surface_limit_c);
        out.say(if by_water { said.rule("Supply limits of covering and build-up") } else { said.rule(limit_name) });
    }
}

/// Whether it is the water's limit that keeps the floor from meeting the load, not the surface's.
fn said_by_water(j: &Judged) -> bool {
    j.surface_limit_c > j.room.room_c
        && j.d.supplement_w > 0.0
        && j.d.flux_needed_w_m2 <= j.limit_w_m2 * 1.001
        && j.d.supply_needed_c.is_some()
}

fn over_capacity(j: &Judged, name: &str, out: &Findings) -> Said {
    Said::error(
        Station::Floor,
        "floor.over_capacity",
        Subject::room(j.room),
        format!("{name} needs {{need}}; its floor gives up to {{limit}}. Short by {{short}}."),
    )
    .value("need", Q::Flux, j.d.flux_needed_w_m2)
    .value("short", Q::Heat, j.d.supplement_w)
    .remedy(format!("Lose less heat (glass, air, walls), or: {}", remedies(j.job, out, &j.d.remedies)))
}

/// The supply temperature, where it leaves a room short that could do with a warmer one but does not set it.
fn left_behind(study: &Study, j: &Judged) -> Option<f64> {
    let (supply_c, needed_c) = (study.totals.supply_c?, j.d.supply_needed_c?);
    let ceiling_c = j.d.supply_limit_c.unwrap_or(f64::INFINITY);
    let short = j.d.supplement_w > 0.0 && needed_c > supply_c + 0.05 && needed_c <= ceiling_c + 0.05;
    (short && !governs(j.room)).then_some(supply_c)
}

fn not_governing(j: &Judged, name: &str, supply_c: f64, out: &Findings) -> Said {
    Said::warning(
        Station::Floor,
        "floor.not_governing",
        Subject::room(j.room),
        format!("{name} does not set the water: at {{supply}} supply its floor lacks {{short}} (it wants {{needed}})."),
    )
    .value("supply", Q::Temperature, supply_c)
    .value("short", Q::Heat, j.d.supplement_w)
    .value("needed", Q::Temperature, j.d.supply_needed_c.unwrap_or(0.0))
    .remedy(format!("A towel rail for the rest, or: {}", remedies(j.job, out, &j.d.remedies)))
}

fn over_supply_limit(j: &Judged, name: &str, out: &Findings) -> Said {
    Said::error(
        Station::Floor,
        "floor.supply_limit",
        Subject::room(j.room),
        format!("{name} needs {{needed}} supply; the maximum of its floor is {{ceiling}}. Short by {{short}}."),
    )
    .value("needed", Q::Temperature, j.d.supply_needed_c.unwrap_or(0.0))
    .value("ceiling", Q::Temperature, j.d.supply_limit_c.unwrap_or(0.0))
    .value("short", Q::Heat, j.d.supplement_w)
    .remedy(format!("Lose less heat, or: {}", remedies(j.job, out, &j.d.remedies)))
}

/// Heat that goes down into open air.
fn open_below(study: &Study, out: &mut Findings) {
    for j in judged(study) {
        let Some(f) = &j.d.floor else { continue };
        let open = matches!(j.room.below, Beyond::Outside | Beyond::CrawlSpace);
        if open && f.under_m2k_w < 0.1 && f.below_c < j.room.room_c - 10.0 {
            out.say(
                Said::error(
                    Station::Floor,
                    "floor.no_insulation",
                    Subject::room(j.room),
                    format!(
                        "Under the tubes of {} there is no insulation, and open air below: {{down}} go down.",
                        plain(&j.room.name)
                    ),
                )
                .value("down", Q::Flux, f.flux_down_w_m2)
                .rule("A heated floor over open air is insulated")
                .remedy("Insulation under the tubes."),
            );
        }
    }
}

/// More patches than floor.
fn patches(study: &Study, out: &mut Findings) {
    for j in judged(study) {
        let patched: f64 = j.floor.patches.iter().map(|p| p.area_m2).sum();
        if patched > j.d.heatable_area_m2 + 0.005 {
            out.say(
                Said::error(
                    Station::Floor,
                    "floor.patches",
                    Subject::room(j.room),
                    format!(
                        "The patches of {} take {{patched}}; it has {{area}} of heated floor.",
                        plain(&j.room.name)
                    ),
                )
                .value("patched", Q::Area, patched)
                .value("area", Q::Area, j.d.heatable_area_m2)
                .rule("Patches lie on heated floor")
                .remedy("Smaller patches."),
            );
        }
    }
}

/// Coverings that get too warm under a rug.
fn rugs(study: &Study, out: &mut Findings) {
    for j in judged(study) {
        for (patch, p) in j.floor.patches.iter().zip(j.d.floor.iter().flat_map(|f| &f.patches)) {
            let under = patch.covering_id.as_deref().and_then(|id| study.job.covering(id)).unwrap_or(j.covering);
            if patch.rug_m2k_w.is_some_and(|r| r > 0.0) && p.covering_c > under.surface_limit_c + 0.05 {
                out.say(
                    Said::warning(
                        Station::Floor,
                        "floor.rug",
                        Subject::room(j.room),
                        format!(
                            "Under the rug in {} the covering reaches {{warm}}; the maximum for {} is {{limit}}.",
                            plain(&j.room.name),
                            plain(&under.name)
                        ),
                    )
                    .value("warm", Q::Temperature, p.covering_c)
                    .value("limit", Q::Temperature, under.surface_limit_c)
                    .rule("Covering: highest surface")
                    .remedy("A thinner rug, or none on a heated floor."),
                );
            }
        }
    }
}

fn thick_coverings(study: &Study, out: &mut Findings) {
    for j in judged(study).filter(|j| j.covering.resistance_m2k_w > 0.15 + 1e-9) {
        out.say(
            Said::warning(
                Station::Floor,
                "floor.covering",
                Subject::room(j.room),
                format!("The covering of {} has a resistance of {{r}}.", plain(&j.room.name)),
            )
            .value("r", Q::Resistance, j.covering.resistance_m2k_w)
            .rule("Coverings over a heated floor stay below 0.15 m²K/W (EN 1264)")
            .remedy("A thinner covering."),
        );
    }
}

/// Surface ripple that bare feet feel.
fn ripple(study: &Study, out: &mut Findings) {
    let limit = study.job.rules.striping_limit_k;
    for j in judged(study) {
        let Some(ripple) = j.d.striping_k.filter(|s| *s > limit) else { continue };
        out.say(
            Said::warning(
                Station::Floor,
                "floor.striping",
                Subject::room(j.room),
                format!(
                    "Surface ripple in {}: {{ripple}} from the warmest to the coolest line. Bare feet feel it.",
                    plain(&j.room.name)
                ),
            )
            .value("ripple", Q::Difference, ripple)
            .value("limit", Q::Difference, limit)
            .house_rule("surface ripple up to {limit}")
            .remedy("Tighter spacing, or more screed over the tube."),
        );
    }
}

/// Spacings that the firm lays.
fn spacings(study: &Study, out: &mut Findings) {
    let offered = |s: f64| study.job.rules.spacings_m.iter().any(|o| (o - s).abs() < 1e-6);
    for j in judged(study).filter(|j| !offered(j.floor.spacing_core_m) || !offered(j.floor.spacing_edge_m)) {
        out.say(
            Said::warning(
                Station::Floor,
                "floor.spacing_not_offered",
                Subject::room(j.room),
                format!("{} has a spacing that the firm does not lay.", plain(&j.room.name)),
            )
            .house_rule("spacings offered")
            .remedy("Pick one of the spacings offered, or add this one to the rules."),
        );
    }
}

/// What a remedy changes about a floor.
fn floor_words(job: &Job, out: &Findings, kind: RemedyKind, floor: &Floor) -> String {
    let spacing = out.show(Q::Size, floor.spacing_core_m);
    let covering = job.covering(&floor.covering_id).map_or(String::new(), |c| plain(&c.name.to_lowercase()));
    match kind {
        RemedyKind::Spacing => format!("{spacing} spacing"),
        RemedyKind::Covering => covering,
        _ => format!("{spacing} spacing under {covering}"),
    }
}

/// Remedies as one sentence, with the figures that were calculated for them.
fn remedies(job: &Job, out: &Findings, remedies: &[Remedy]) -> String {
    let one = |r: &Remedy| {
        let heat = out.show(Q::Heat, r.heat_w.unwrap_or(0.0));
        let what = match (&r.floor, &r.field) {
            (Some(floor), _) => floor_words(job, out, r.kind, floor),
            (None, Some(field)) => {
                let place = if field.edge.is_some() { "wall" } else { "ceiling" };
                format!("{} of {place} field for {heat}", out.show(Q::Area, field.area_m2()))
            }
            (None, None) => format!("{heat} of electric backup heat"),
        };
        match (r.enough, r.supply_c) {
            (true, Some(s)) if r.floor.is_some() => {
                format!("{what} (enough, at {} supply)", out.show(Q::Temperature, s))
            }
            (true, _) => format!("{what} (enough)"),
            (false, _) => format!("{what} (still short by {})", out.show(Q::Heat, r.short_w)),
        }
    };
    let all: Vec<String> = remedies.iter().map(one).collect();
    if all.is_empty() { "heat it another way.".to_owned() } else { format!("{}.", all.join("; ")) }
}

/// Floors that do not go together on one supply temperature.
fn one_water(study: &Study, out: &mut Findings) {
    let job = &study.job;
    let Some(c) = &study.conflict else { return };
    let Some(governing) = job.room(&c.room_id) else { return };
    let name = plain(&governing.name);
    let cooler: Vec<String> = c
        .remedies
        .iter()
        .filter_map(|r| {
            let what = floor_words(&study.job, out, r.kind, r.floor.as_ref()?);
            Some(format!("{what} in {name} brings it to {}", out.show(Q::Temperature, r.supply_c?)))
        })
        .collect();
    let short = c.remedies.iter().find(|r| r.kind == RemedyKind::OwnCircuit && !r.enough);
    let still = short.map_or(String::new(), |r| format!(" (still short by {})", out.show(Q::Heat, r.short_w)));
    let own = format!("A circuit of its own for {name}, mixed to {{supply}}{still}, and {{others}} for the others");
    let remedy = if cooler.is_empty() { format!("{own}.") } else { format!("{own}; or {}.", cooler.join(", ")) };
    let said = |said: Said| {
        said.value("supply", Q::Temperature, c.supply_c)
            .value("others", Q::Temperature, c.others_c)
            .remedy(remedy.clone())
    };
    if c.harmed_room_ids.is_empty() {
        let message = format!("{name} needs {{supply}} supply, all others {{others}}.");
        let apart = Said::warning(Station::Floor, "floor.apart", Subject::room(governing), message);
        out.say(said(apart).rule("One supply temperature for floors that need the same"));
    }
    let harmed: Vec<_> =
        job.rooms.iter().zip(&study.rooms).filter(|(r, _)| c.harmed_room_ids.contains(&r.id)).collect();
    let limit = |d: &RoomDesign| d.supply_limit_c.unwrap_or(f64::INFINITY);
    // said once, of the floor that stands least, and who else is harmed
    let Some((room, d)) = harmed.iter().min_by(|a, b| limit(a.1).total_cmp(&limit(b.1))) else { return };
    let others: Vec<String> = harmed.iter().filter(|h| h.0.id != room.id).map(|h| plain(&h.0.name)).collect();
    let also =
        if others.is_empty() { String::new() } else { format!(" It is too warm for {} as well.", listed(&others)) };
    let message =
        format!("The supply is {{supply}} for {name}; the maximum for {} is {{ceiling}}.{also}", plain(&room.name));
    let conflict = Said::error(Station::Floor, "floor.supply_conflict", Subject::room(room), message);
    let others = harmed.iter().filter(|h| h.0.id != room.id).map(|h| Subject::room(h.0));
    let conflict = conflict.also(others).value("ceiling", Q::Temperature, limit(d));
    out.say(said(conflict).rule("Supply limits of covering and build-up"));
}

/// Emitters counted beside the tubes.
fn beside(study: &Study, out: &mut Findings) {
    for (room, d) in study.job.rooms.iter().zip(&study.rooms).filter(|(_, d)| d.beside_w > 0.0) {
        let message =
            format!("{} has {{beside}} by emitters beside the tubes, of the {{need}} it needs.", plain(&room.name));
        let said = Said::note(Station::Rooms, "floor.beside", Subject::room(room), message)
            .value("beside", Q::Heat, d.beside_w)
            .value("need", Q::Heat, d.heat_loss_w);
        out.say(said.rule("What emitters give on the design day, by the surveyor"));
    }
}

/// Fields in walls and ceilings: whether they fit, and what they do.
fn fields_fit(study: &Study, out: &mut Findings) {
    for (room, d) in study.job.rooms.iter().zip(&study.rooms) {
        for (field, f) in room.heated_fields().iter().zip(&d.fields) {
            let n = room.outline.len();
            let length = |e: usize| distance(room.outline[e], room.outline[(e + 1) % n]);
            let (place, too_large) = match field.edge {
                Some(e) => ("wall", field.width_m > length(e) + 0.005 || field.height_m > room.height_m + 0.005),
                None => ("ceiling", field.area_m2() > d.area_m2 + 0.005),
            };
            let name = plain(&room.name);
            let said = |severity, code, message: String| {
                Said::new(severity, Station::Floor, code, Subject::room(room), message)
            };
            if too_large {
                out.say(
                    said(
                        Severity::Error,
                        "field.too_large",
                        format!("The {place} field of {name} is larger than its {place}."),
                    )
                    .value("area", Q::Area, f.area_m2)
                    .rule("A field fits its place")
                    .remedy("Make it smaller."),
                );
            }
            out.say(
                said(
                    Severity::Note,
                    "field.sound",
                    format!("The {place} field of {name} gives {{heat}} at {{surface}} surface."),
                )
                .value("heat", Q::Heat, f.heat_w)
                .value("surface", Q::Temperature, f.surface_mean_c)
                .value("limit", Q::Temperature, f.surface_limit_c)
                .value("supply", Q::Temperature, f.supply_limit_c)
                .house_rule("surface up to {limit}; supply up to {supply}")
                .remedy("Mark where its tubes are before anybody drills there."),
            );
        }
    }
}

/// Rooms heated by fields alone.
fn fields_meet(study: &Study, out: &mut Findings) {
    for (room, d) in study.job.rooms.iter().zip(&study.rooms) {
        if room.heated_floor().is_some() || d.fields.is_empty() || d.supplement_w <= 0.0 {
            continue;
        }
        let remedy = remedies(&study.job, out, &d.remedies);
        out.say(
            Said::error(
                Station::Floor,
                "field.over_capacity",
                Subject::room(room),
                format!("{} loses {{loss}}; its fields are short by {{short}}.", plain(&room.name)),
            )
            .value("loss", Q::Heat, d.heat_loss_w)
            .value("short", Q::Heat, d.supplement_w)
            .rule("Surface and supply limits of the fields")
            .remedy(remedy),
        );
    }
}

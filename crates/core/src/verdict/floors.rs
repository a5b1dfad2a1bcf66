//! Whether each floor carries its room.

use super::{RULES, Writer, of_room};
use crate::design::Design;
use crate::design::remedy::{Remedy, RemedyKind};
use crate::findings::{Severity, Station};
use crate::geometry;
use crate::job::{Beyond, Floor, Job};
use crate::library;
use crate::units::{Quantity as Q, Units};

pub(super) fn floors(w: &mut Writer, design: &Design) {
    use Severity::{Error, Note, Warning};
    let job = w.job;
    for (room, d) in job.rooms.iter().zip(&design.rooms) {
        let (Some(floor), Some(limit), Some(surface_limit)) =
            (room.heated_floor(), d.flux_limit_w_m2, d.surface_limit_c)
        else {
            continue;
        };
        // what is missing where no loop could be laid is said with the loops
        let bare = d.leader_heat_w > 0.0 && !design.loops.iter().any(|l| l.room_ids.contains(&room.id));
        if d.heatable_area_m2 <= 0.0 || bare {
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
        let short = d.supplement_w;
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
        } else if short > 0.0 && d.flux_needed_w_m2 > limit * 1.001 {
            w.add(
                Error,
                Station::Floor,
                "floor.over_capacity",
                of_room(room),
                &format!("{} needs {{need}}; its floor may give {{limit}}. {{short}} are missing.", room.name),
                &[need, ("limit", Q::Flux, limit), ("short", Q::Heat, short), surface],
                &limit_name,
                &format!("Lose less (glass, air, walls), or: {}", remedies(w.job, &d.remedies)),
            );
        } else if short > 0.0 && d.supply_needed_c.is_some() {
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
                &format!("Lose less, or: {}", remedies(w.job, &d.remedies)),
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
        if let Some(f) = &d.floor
            && f.under_m2k_w < 0.1
            && f.below_c < room.room_c - 10.0
            && matches!(room.below, Beyond::Outside | Beyond::CrawlSpace)
        {
            w.add(
                Error,
                Station::Floor,
                "floor.no_insulation",
                of_room(room),
                &format!(
                    "Under the tubes of {} there is no insulation, and open air below: {{down}} go down.",
                    room.name
                ),
                &[("down", Q::Flux, f.flux_down_w_m2)],
                "A heated floor over open air is insulated",
                "Insulation under the tubes.",
            );
        }
        let patched: f64 = floor.patches.iter().map(|p| p.area_m2).sum();
        if patched > d.heatable_area_m2 + 0.005 {
            w.add(
                Error,
                Station::Floor,
                "floor.patches",
                of_room(room),
                &format!("The patches of {} take {{patched}}; it has {{area}} of heated floor.", room.name),
                &[("patched", Q::Area, patched), ("area", Q::Area, d.heatable_area_m2)],
                "Patches lie on heated floor",
                "Smaller patches.",
            );
        }
        for (patch, p) in floor.patches.iter().zip(d.floor.iter().flat_map(|f| &f.patches)) {
            let under = patch.covering_id.as_deref().and_then(library::covering).unwrap_or(covering);
            if patch.rug_m2k_w.is_some_and(|r| r > 0.0) && p.covering_c > under.surface_limit_c + 0.05 {
                w.add(
                    Warning,
                    Station::Floor,
                    "floor.rug",
                    of_room(room),
                    &format!(
                        "Under the rug in {} the covering gets {{warm}}; {} stands {{limit}}.",
                        room.name, under.name
                    ),
                    &[("warm", Q::Temperature, p.covering_c), ("limit", Q::Temperature, under.surface_limit_c)],
                    "Covering: highest surface",
                    "A thinner rug, or none on a heated floor.",
                );
            }
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
        if d.striping_k.is_some_and(|s| s > job.rules.striping_limit_k) {
            w.add(
                Warning,
                Station::Floor,
                "floor.striping",
                of_room(room),
                &format!("Bare feet feel the tubes in {}: {{stripes}} from line to line.", room.name),
                &[("stripes", Q::Difference, d.striping_k.unwrap_or(0.0))],
                &format!("{RULES}striping up to {}", job.site.units.show(Q::Difference, job.rules.striping_limit_k)),
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

/// What a remedy changes about a floor.
fn floor_words(units: Units, kind: RemedyKind, floor: &Floor) -> String {
    let spacing = units.show(Q::Size, floor.spacing_core_m);
    let covering = library::covering(&floor.covering_id).map_or(String::new(), |c| c.name.to_lowercase());
    match kind {
        RemedyKind::Spacing => format!("{spacing} spacing"),
        RemedyKind::Covering => covering,
        _ => format!("{spacing} spacing under {covering}"),
    }
}

/// Remedies as one sentence, with the figures that were reckoned for them.
fn remedies(job: &Job, remedies: &[Remedy]) -> String {
    let units = job.site.units;
    let one = |r: &Remedy| {
        let heat = units.show(Q::Heat, r.heat_w.unwrap_or(0.0));
        let what = match (&r.floor, &r.field) {
            (Some(floor), _) => floor_words(units, r.kind, floor),
            (None, Some(field)) => {
                let place = if field.edge.is_some() { "wall" } else { "ceiling" };
                format!("{} of {place} field for {heat}", units.show(Q::Area, field.area_m2()))
            }
            (None, None) => format!("{heat} of backup heat"),
        };
        match (r.enough, r.supply_c) {
            (true, Some(s)) if r.floor.is_some() => {
                format!("{what} (enough, at {} supply)", units.show(Q::Temperature, s))
            }
            (true, _) => format!("{what} (enough)"),
            (false, _) => format!("{what} ({} still missing)", units.show(Q::Heat, r.short_w)),
        }
    };
    let all: Vec<String> = remedies.iter().map(one).collect();
    format!("{}.", all.join("; "))
}

/// Floors that do not go together on one water.
pub(super) fn one_water(w: &mut Writer, design: &Design) {
    let job = w.job;
    let Some(c) = &design.conflict else { return };
    let Some(hardest) = job.room(&c.room_id) else { return };
    let units = job.site.units;
    let cooler: Vec<String> = c
        .remedies
        .iter()
        .filter_map(|r| {
            let what = floor_words(units, r.kind, r.floor.as_ref()?);
            Some(format!("{what} in {} brings it to {}", hardest.name, units.show(Q::Temperature, r.supply_c?)))
        })
        .collect();
    let own = format!("A circuit of its own for {}, mixed to {{supply}}, and {{others}} for the others", hardest.name);
    let remedy = if cooler.is_empty() { format!("{own}.") } else { format!("{own}; or {}.", cooler.join(", ")) };
    let supply = ("supply", Q::Temperature, c.supply_c);
    let others = ("others", Q::Temperature, c.others_c);
    if c.harmed_room_ids.is_empty() {
        w.add(
            Severity::Warning,
            Station::Floor,
            "floor.apart",
            of_room(hardest),
            &format!("{} needs water of {{supply}}, all others {{others}}.", hardest.name),
            &[supply, others],
            "One water temperature for floors that want the same",
            &remedy,
        );
    }
    for (room, d) in job.rooms.iter().zip(&design.rooms).filter(|(r, _)| c.harmed_room_ids.contains(&r.id)) {
        let ceiling = ("ceiling", Q::Temperature, d.supply_limit_c.unwrap_or(0.0));
        w.add(
            Severity::Error,
            Station::Floor,
            "floor.supply_conflict",
            of_room(room),
            &format!("The water is {{supply}} for {}; what heats {} stands {{ceiling}}.", hardest.name, room.name),
            &[supply, ceiling, others],
            "Supply limits of covering and build-up",
            &remedy,
        );
    }
}

/// Fields in walls and ceilings: whether they fit, and what they do.
pub(super) fn fields(w: &mut Writer, design: &Design) {
    let job = w.job;
    for (room, d) in job.rooms.iter().zip(&design.rooms) {
        for (field, f) in room.heated_fields().iter().zip(&d.fields) {
            let n = room.outline.len();
            let length = |e: usize| geometry::distance(room.outline[e], room.outline[(e + 1) % n]);
            let (place, too_large) = match field.edge {
                Some(e) => ("wall field", field.width_m > length(e) + 0.005 || field.height_m > room.height_m + 0.005),
                None => ("ceiling field", field.area_m2() > d.area_m2 + 0.005),
            };
            if too_large {
                w.add(
                    Severity::Error,
                    Station::Floor,
                    "field.too_large",
                    of_room(room),
                    &format!(
                        "The {place} of {} is larger than its {}.",
                        room.name,
                        if field.edge.is_some() { "wall" } else { "ceiling" }
                    ),
                    &[("area", Q::Area, f.area_m2)],
                    "A field fits its place",
                    "Make it smaller.",
                );
            }
            w.add(
                Severity::Note,
                Station::Floor,
                "field.sound",
                of_room(room),
                &format!("The {place} of {} gives {{heat}} at {{surface}} surface.", room.name),
                &[
                    ("heat", Q::Heat, f.heat_w),
                    ("surface", Q::Temperature, f.surface_mean_c),
                    ("limit", Q::Temperature, f.surface_limit_c),
                    ("supply", Q::Temperature, f.supply_limit_c),
                ],
                &format!("{RULES}surface up to {{limit}}; supply up to {{supply}}"),
                "Mark where its tubes are before anybody drills there.",
            );
        }
        let carried_by_fields = room.heated_floor().is_none() && !d.fields.is_empty();
        if carried_by_fields && d.supplement_w > 0.0 {
            w.add(
                Severity::Error,
                Station::Floor,
                "field.over_capacity",
                of_room(room),
                &format!("{} loses {{loss}}; its fields leave {{short}} over.", room.name),
                &[("loss", Q::Heat, d.heat_loss_w), ("short", Q::Heat, d.supplement_w)],
                "Surface and supply limits of the fields",
                &remedies(job, &d.remedies),
            );
        }
    }
}

pub(super) fn hardest_name(job: &Job, design: &Design) -> String {
    let id = design.totals.hardest_room_id.as_deref().unwrap_or_default();
    job.room(id).map_or_else(|| "the hardest room".to_owned(), |r| r.name.clone())
}

//! Whether each floor carries its room.

use super::{RULES, Writer, of_room};
use crate::design::Design;
use crate::findings::{Severity, Station};
use crate::job::Job;
use crate::library;
use crate::units::Quantity as Q;

pub(super) fn floors(w: &mut Writer, design: &Design) {
    use Severity::{Error, Note, Warning};
    let job = w.job;
    for (room, d) in job.rooms.iter().zip(&design.rooms) {
        let (Some(floor), Some(limit), Some(surface_limit)) =
            (room.heated_floor(), d.flux_limit_w_m2, d.surface_limit_c)
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

pub(super) fn hardest_name(job: &Job, design: &Design) -> String {
    let id = design.totals.hardest_room_id.as_deref().unwrap_or_default();
    job.room(id).map_or_else(|| "the hardest room".to_owned(), |r| r.name.clone())
}

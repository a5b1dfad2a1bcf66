//! What can be said of cooling without the weather's hours.

use super::report::{ShutFor, is_carpet, shut};
use crate::findings::{Findings, Rule, Said, Station, Subject, listed, plain};
use crate::job::{Room, Usage};
use crate::study::Study;
use crate::units::Quantity as Q;

pub(super) const RULES: &[Rule] = &[damp_rooms, dew_over_room, caution];

/// Rooms that the job cools against the rule.
fn damp_rooms(study: &Study, out: &mut Findings) {
    if study.job.cooling.is_none() {
        return;
    }
    for (i, room) in study.job.rooms.iter().enumerate() {
        let told = room.summer.and_then(|s| s.shut) == Some(false);
        let soft = room.heated_floor().and_then(|f| study.job.covering(&f.covering_id));
        let soft = soft.is_some_and(is_carpet);
        if told && (room.usage == Usage::Bath || soft) && shut(&study.job, i).is_none() {
            let why = match (room.usage == Usage::Bath, soft) {
                (true, true) => "a bath with a carpet",
                (true, false) => "a bath",
                _ => "carpeted",
            };
            out.say(
                Said::warning(
                    Station::Cooling,
                    "cooling.damp",
                    Subject::room(room),
                    format!("{} is {why} and its loops are left open in summer.", plain(&room.name)),
                )
                .rule("Damp rooms and soft coverings are shut while the house is cooled: they gather water before the dew point's guard sees it.")
                .remedy("Shut its loops in summer."),
            );
        }
    }
    let closed: Vec<&Room> = (0..study.job.rooms.len())
        .filter(|i| matches!(shut(&study.job, *i), Some(ShutFor::Bath | ShutFor::Carpet)))
        .map(|i| &study.job.rooms[i])
        .collect();
    if let Some(first) = closed.first() {
        let names: Vec<String> = closed.iter().map(|r| plain(&r.name)).collect();
        out.say(
            Said::note(
                Station::Cooling,
                "cooling.shut",
                Subject::room(first),
                format!("Loops shut while the house is cooled: {}.", listed(&names)),
            )
            .also(closed[1..].iter().map(|r| Subject::room(r)))
            .rule("Baths and carpets are not cooled from the floor")
            .remedy("Actuators that shut on the change-over's signal."),
        );
    }
}

/// A typed humidity that leaves nothing to cool with.
fn dew_over_room(study: &Study, out: &mut Findings) {
    let Some(cooling) = &study.job.cooling else { return };
    let Some(share) = cooling.humidity else { return };
    let dew = crate::moist_air::dew_point_c(share * crate::moist_air::saturation_pa(cooling.room_c));
    if dew + cooling.margin_k + cooling.rise_k / 2.0 >= cooling.room_c {
        out.say(
            Said::error(
                Station::Cooling,
                "cooling.dew_point",
                Subject::job(),
                "The air's dew point is {dew}: water that is safe is no cooler than the rooms at {room}.".to_owned(),
            )
            .value("dew", Q::Temperature, dew)
            .value("room", Q::Temperature, cooling.room_c)
            .rule("Nothing is colder than the dew point and the margin")
            .remedy("Dry the air first: a dehumidifying coil."),
        );
    }
}

/// What is always to be said.
fn caution(study: &Study, out: &mut Findings) {
    if study.job.cooling.is_none() {
        return;
    }
    out.say(
        Said::note(
            Station::Cooling,
            "cooling.caution",
            Subject::job(),
            "Cold water sweats where it is not insulated: manifolds, mains, valves; a sensor of the dew point stands there, and shuts.",
        )
        .rule("Vapour-tight insulation on all cold piping; refrigerant and electrical work belong to licensed trades.")
        .remedy("The guard at the manifold in the dampest room, wired so that it stops the chiller."),
    );
}

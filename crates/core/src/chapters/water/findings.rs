//! What the water's figures say.

use crate::findings::{Findings, Rule, Said, Station, Subject, SubjectKind, plain};
use crate::study::Study;
use crate::study::room::RoomDesign;
use crate::units::Quantity as Q;
use crate::water::circuit::circuit_of_manifold;

pub(super) const RULES: &[Rule] = &[in_series, pressure_drop, fast, slow, held_open, valves, circuits, supply, caution];

/// A room in series with another gets so much more than it needs before that is told.
const MUCH: f64 = 1.4;
/// A room held open gets so much more than it needs before that is told, as a share.
const TOLD: f64 = 0.05;
/// Water is heard above this velocity, m/s.
const LOUD_M_S: f64 = 0.9;
/// Air is not carried below this velocity, m/s.
const STILL_M_S: f64 = 0.1;

/// Valves that cannot be set so small as a loop needs.
fn valves(study: &Study, out: &mut Findings) {
    for m in study.job.manifolds.iter() {
        let Some(least) = m.valve_table.first() else { continue };
        for l in study.loops.iter().filter(|l| l.manifold_id == m.id) {
            let Some(valve) = l.valve.filter(|v| v.turns.is_none()) else { continue };
            out.say(
                Said::warning(
                    Station::Water,
                    "water.valve",
                    Subject::of(SubjectKind::Loop, &l.id),
                    format!(
                        "Loop {}: its valve would have to be set to {{wanted}}, its table begins at {{least}}.",
                        plain(&l.tag)
                    ),
                )
                .value("wanted", Q::Kv, valve.kv_m3_h)
                .value("least", Q::Kv, least.kv_m3_h)
                .rule("Below its table a valve cannot be set, and clogs.")
                .remedy("A longer loop or a manifold of its own; else it takes more water than it needs."),
            );
        }
    }
}

/// What it costs to share a loop.
fn in_series(study: &Study, out: &mut Findings) {
    for l in study.loops.iter().filter(|l| l.room_ids.len() > 1) {
        let of_id = |id: &String| study.job.room(id).zip(study.rooms.iter().find(|r| r.id == *id));
        let rooms: Vec<_> = l.room_ids.iter().filter_map(of_id).collect();
        let names = rooms.iter().map(|r| plain(&r.0.name)).collect::<Vec<_>>().join(", ");
        for (room, d) in rooms.iter().filter(|r| r.1.floor.is_some()) {
            let (need, given) = (d.flux_needed_w_m2, d.flux_given_w_m2);
            if need <= 0.0 || given <= MUCH * need {
                continue;
            }
            let message = format!(
                "{} gets {{given}} where it needs {{need}}: on loop {} it has the water that {names} need together.",
                plain(&room.name),
                plain(&l.tag)
            );
            out.say(
                Said::note(Station::Water, "water.in_series", Subject::room(room), message)
                    .value("given", Q::Flux, given)
                    .value("need", Q::Flux, need)
                    .rule("Rooms on one loop have one flow; none of them can be throttled alone.")
                    .remedy("A thermostat zone and a loop of its own, if it must not."),
            );
        }
    }
}

fn pressure_drop(study: &Study, out: &mut Findings) {
    let limit = study.job.rules.head_limit_pa;
    for l in study.loops.iter().filter(|l| l.head_loss_pa > limit) {
        out.say(
            Said::warning(
                Station::Water,
                "water.head",
                Subject::of(SubjectKind::Loop, &l.id),
                format!("Loop {}: pressure drop {{head}}, house limit {{limit}}.", plain(&l.tag)),
            )
            .value("head", Q::Head, l.head_loss_pa)
            .value("limit", Q::Head, limit)
            .house_rule("up to {limit} for a loop")
            .remedy("A shorter limit (more loops), a thicker tube, or a larger temperature drop."),
        );
    }
}

fn fast(study: &Study, out: &mut Findings) {
    for l in study.loops.iter().filter(|l| l.velocity_m_s > LOUD_M_S) {
        out.say(
            Said::warning(
                Station::Water,
                "water.fast",
                Subject::of(SubjectKind::Loop, &l.id),
                format!("Loop {}: {{v}}; the water may be heard.", plain(&l.tag)),
            )
            .value("v", Q::Velocity, l.velocity_m_s)
            .value("quiet", Q::Velocity, LOUD_M_S)
            .rule("Quiet tubes: up to {quiet}")
            .remedy("A thicker tube or shorter loops."),
        );
    }
}

fn slow(study: &Study, out: &mut Findings) {
    for room in &study.job.rooms {
        let own: Vec<_> = study.loops.iter().filter(|l| l.room_ids.contains(&room.id)).collect();
        let slow: Vec<String> =
            own.iter().filter(|l| l.flow_l_min > 0.0 && l.velocity_m_s < STILL_M_S).map(|l| plain(&l.tag)).collect();
        if slow.is_empty() {
            continue;
        }
        let word = if slow.len() > 1 { "Loops" } else { "Loop" };
        out.say(
            Said::note(
                Station::Water,
                "water.slow",
                Subject::room(room),
                format!("{word} {} ({}): {{v}}; air may not purge.", slow.join(", "), plain(&room.name)),
            )
            .value("v", Q::Velocity, own.iter().map(|l| l.velocity_m_s).fold(f64::MAX, f64::min))
            .value("still", Q::Velocity, STILL_M_S)
            .rule("Below about {still} air is not carried and valves cannot be set well")
            .remedy("Purge loop by loop at full flow; a smaller temperature drop or fewer loops raise the velocity."),
        );
    }
}

/// Easy rooms whose loops are held open: what it costs, once for all of them.
fn held_open(study: &Study, out: &mut Findings) {
    // all that the room has, not its floor alone
    let given = |d: &RoomDesign| {
        let fields: f64 = d.fields.iter().map(|f| f.heat_w).sum();
        d.flux_given_w_m2 * d.heatable_area_m2 + d.neighbour_heat_w + d.beside_w + fields
    };
    let more = |d: &RoomDesign| given(d) - d.heat_loss_w;
    let rooms = study.job.rooms.iter().zip(&study.rooms);
    let mut open: Vec<_> = rooms.filter(|(_, d)| d.held_open && more(d) > TOLD * d.heat_loss_w).collect();
    open.sort_by(|a, b| more(b.1).total_cmp(&more(a.1)));
    let Some((room, worst)) = open.first() else { return };
    let name = plain(&room.name);
    let when = if study.job.outdoors.is_some() { "in the storm" } else { "on the design day" };
    let others = match open.len() {
        1 => String::new(),
        2 => format!("; {} too gets more", plain(&open[1].0.name)),
        n => format!("; {} other rooms too get more", n - 1),
    };
    out.say(
        Said::note(
            Station::Water,
            "water.held_open",
            Subject::room(room),
            format!("{name} gets {{given}} where it needs {{need}} {when}{others}. Loops are not throttled below the least flow, nor beyond the largest drop."),
        )
        .value("given", Q::Heat, given(worst))
        .value("need", Q::Heat, worst.heat_loss_w)
        .value("drop", Q::Difference, study.job.rules.largest_drop_k)
        .value("flow", Q::Flow, study.job.rules.least_flow_l_min)
        .house_rule("drop up to {drop}, flow of a loop from {flow}")
        .remedy("Let its thermostat shut it now and then."),
    );
}

/// The supply temperature of each circuit, and the room that sets it.
fn supply(study: &Study, out: &mut Findings) {
    let job = &study.job;
    for c in &study.circuits {
        let Some(supply_c) = c.supply_c.filter(|_| !job.rooms.is_empty()) else { continue };
        let named = if study.circuits.len() > 1 { format!("Circuit {}: ", plain(&c.name)) } else { String::new() };
        let room = c.governing_room_id.as_deref().and_then(|id| job.room(id));
        let (message, rule) = match room {
            Some(room) => (
                format!(
                    "{named}{} sets the supply temperature: {{supply}}. The circuit carries {{heat}}.",
                    plain(&room.name)
                ),
                format!(
                    "House rules: temperature drop {} in the governing room",
                    out.show(Q::Difference, job.rules.temperature_drop_k)
                ),
            ),
            None => (
                format!("{named}the mixing valve is set to {{supply}}. The circuit carries {{heat}}."),
                "Set by hand".to_owned(),
            ),
        };
        out.say(
            Said::note(Station::Water, "water.supply", Subject::job(), message)
                .value("supply", Q::Temperature, supply_c)
                .value("heat", Q::Heat, c.heat_w)
                .rule(rule),
        );
    }
}

/// Manifolds named twice or not at all, circuits without any, rooms fed from two.
fn circuits(study: &Study, out: &mut Findings) {
    let job = &study.job;
    if job.circuits.is_empty() {
        return;
    }
    for m in &job.manifolds {
        let by: Vec<String> =
            job.circuits.iter().filter(|c| c.manifold_ids.contains(&m.id)).map(|c| plain(&c.name)).collect();
        let subject = Subject::of(SubjectKind::Manifold, &m.id);
        let letter = plain(&m.letter);
        match by.as_slice() {
            [_] => {}
            [] => out.say(
                Said::warning(
                    Station::Water,
                    "circuit.none",
                    subject,
                    format!("Manifold {letter} is on no circuit; it is taken for {}.", plain(&job.circuits[0].name)),
                )
                .rule("A manifold has the water of one circuit.")
                .remedy("Choose its circuit at Water."),
            ),
            _ => out.say(
                Said::error(
                    Station::Water,
                    "circuit.twice",
                    subject,
                    format!("Manifold {letter} is on {} circuits: {}.", by.len(), by.join(", ")),
                )
                .rule("A manifold has the water of one circuit.")
                .remedy("Choose one at Water."),
            ),
        }
    }
    for c in job.circuits.iter().filter(|c| !job.manifolds.iter().any(|m| c.manifold_ids.contains(&m.id))) {
        out.say(
            Said::warning(
                Station::Water,
                "circuit.empty",
                Subject::job(),
                format!("Circuit {} has no manifold.", plain(&c.name)),
            )
            .rule("A circuit feeds manifolds.")
            .remedy("Give it one at Water, or delete it."),
        );
    }
    for (room, d) in job.rooms.iter().zip(&study.rooms) {
        let mut on: Vec<usize> = study
            .loops
            .iter()
            .filter(|l| l.room_ids.contains(&d.id))
            .map(|l| circuit_of_manifold(job, &l.manifold_id))
            .collect();
        on.sort_unstable();
        on.dedup();
        if on.len() > 1 {
            out.say(
                Said::warning(
                    Station::Water,
                    "circuit.mixed",
                    Subject::room(room),
                    format!(
                        "{} has loops on two circuits; the first one's water is taken for all of them.",
                        plain(&room.name)
                    ),
                )
                .rule("A room has the water of one circuit.")
                .remedy("Choose the manifold that serves it."),
            );
        }
    }
    for (c, set) in study.circuits.iter().zip(&job.circuits).filter_map(|(c, j)| Some((c, j.supply_c?))) {
        let needs =
            study.rooms.iter().filter(|r| c.room_ids.contains(&r.id)).filter_map(|r| Some((r, r.supply_needed_c?)));
        if let Some((room, needed)) = needs.max_by(|a, b| a.1.total_cmp(&b.1)).filter(|(_, n)| *n > set + 0.05) {
            out.say(
                Said::warning(
                    Station::Water,
                    "circuit.cool",
                    Subject::of(SubjectKind::Room, &room.id),
                    format!("Circuit {} is set to {{set}}; {} needs {{needed}}.", plain(&c.name), plain(&room.name)),
                )
                .value("set", Q::Temperature, set)
                .value("needed", Q::Temperature, needed)
                .rule("The governing room sets the supply temperature.")
                .remedy("Set the mixing valve by the governing room."),
            );
        }
    }
}

/// The cautions that every job with loops carries.
fn caution(study: &Study, out: &mut Findings) {
    if study.coverage.is_empty() {
        return;
    }
    out.say(
        Said::note(
            Station::Loops,
            "caution.law",
            Subject::job(),
            "Figures are design aids. Follow local code and the manufacturer's instructions. Pressure-test before the pour and keep the gauge in sight; air under pressure stores energy. Limit the supply temperature so that nobody is scalded and no floor is harmed.",
        )
        .rule("Cautions that every job carries"),
    );
}

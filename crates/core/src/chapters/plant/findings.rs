//! What the plant's figures say.

use super::emitters::rating;
use super::part::{Arrangement, HeatUser, Plant, SourceKind, Takes};
use super::report::PlantDesign;
use super::state::CircuitState;
use crate::findings::{Findings, Rule, Said, Station, Subject, SubjectKind, plain};
use crate::study::Study;
use crate::units::Quantity as Q;
use crate::water::part::Mixing;

pub(super) const RULES: &[Rule] =
    &[network, supplies, pumps, output, cycling, starved, condensing, tees, fixed, vessel, users, law];

/// Larger than the load by so much and more is told.
const OVERSIZE: f64 = 1.5;
/// What takes heat together is so much less than the source gives before that is told.
const UNUSED: f64 = 1.1;
/// More starts an hour wear a burner.
const CYCLES: f64 = 6.0;
/// A circuit is short of its supply by so much before that is told, K.
const SHORT_K: f64 = 0.3;
/// And hotter than it needs, without mixing, by so much.
const HOT_K: f64 = 2.0;
/// Tees farther apart than this let the circuits push each other, m; nor more than four bores.
const TEES_M: f64 = 0.15;
const TEES_BORES: f64 = 4.0;
/// A mixing valve with less authority jumps.
const AUTHORITY: f64 = 0.3;
/// Mains hum above this velocity, m/s.
const MAINS_LOUD_M_S: f64 = 1.2;

fn of(study: &Study) -> Option<(&Plant, &PlantDesign)> {
    Some((study.job.plant.as_ref()?, study.plant.as_ref()?))
}

fn warns(code: &'static str, message: impl Into<String>) -> Said {
    Said::warning(Station::Plant, code, Subject::job(), message)
}

fn notes(code: &'static str, message: impl Into<String>) -> Said {
    Said::note(Station::Plant, code, Subject::job(), message)
}

/// That water flows at all.
fn network(study: &Study, out: &mut Findings) {
    let Some((_, design)) = of(study) else { return };
    let Some(refused) = &design.refused else { return };
    out.say(
        Said::error(
            Station::Plant,
            "plant.network",
            Subject::job(),
            format!("The plant is not calculated: {}.", plain(refused)),
        )
        .rule("Every pump has a way back for its water, and works within its curve.")
        .remedy("Mend the part that is named."),
    );
}

fn on(design: &PlantDesign) -> impl Iterator<Item = &CircuitState> {
    design.state.iter().flat_map(|s| &s.circuits).filter(|c| c.on)
}

/// Supply temperatures that are not reached, or that nothing mixes down.
fn supplies(study: &Study, out: &mut Findings) {
    let Some((plant, design)) = of(study) else { return };
    for c in on(design) {
        let (Some(needs), Some(got)) = (c.needs_c, c.supply_c) else { continue };
        if got < needs - SHORT_K {
            let remedy = if needs > plant.source.most_c - 0.1 {
                "A source that makes hotter water, or more floor or radiator for this circuit."
            } else {
                "More flow from the source, this circuit earlier on the tees, or headers in place of tees in series."
            };
            out.say(
                warns("plant.cool", format!("{} gets {{got}} and needs {{needs}}.", plain(&c.name)))
                    .value("got", Q::Temperature, got)
                    .value("needs", Q::Temperature, needs)
                    .rule("Heat must get there, and at the right temperature.")
                    .remedy(remedy),
            );
        }
        if got > needs + HOT_K && c.mixing == Mixing::None && !c.always {
            out.say(
                warns("plant.hot", format!("{} gets {{got}}, more than the {{needs}} it needs.", plain(&c.name)))
                    .value("got", Q::Temperature, got)
                    .value("needs", Q::Temperature, needs)
                    .rule("What a circuit does not need it must be mixed down from; floors are harmed by hot water.")
                    .remedy("A mixing valve or an injection pump, or later on the tees."),
            );
        }
        if let Some(authority) = c.authority.filter(|a| *a < AUTHORITY) {
            out.say(
                notes(
                    "plant.authority",
                    format!("The mixing valve of {} has an authority of {{authority}}.", plain(&c.name)),
                )
                .value("authority", Q::Share, authority)
                .rule("Below about a third a valve hardly mixes until it is almost shut.")
                .remedy("Closely spaced tees or a separator take the source out of its way."),
            );
        }
    }
}

/// Pumps that do not lift enough, mains in which water is heard.
fn pumps(study: &Study, out: &mut Findings) {
    let Some((_, design)) = of(study) else { return };
    let Some(state) = &design.state else { return };
    let circuits = state.circuits.iter().map(|c| (c.name.as_str(), &c.pump));
    let sources = state.sources.iter().filter_map(|s| Some(("the source", s.pump.as_ref()?)));
    for (name, pump) in circuits.chain(sources).filter(|(_, p)| !p.serves) {
        out.say(
            warns(
                "plant.pump",
                format!("The pump of {} ({}) does not lift {{head}} at {{flow}}.", plain(name), plain(&pump.name)),
            )
            .value("head", Q::Head, pump.design_head_pa)
            .value("flow", Q::Flow, pump.design_flow_l_min)
            .rule("A pump's curve lies above what its circuit needs.")
            .remedy("A stronger pump, wider mains, or more and shorter loops."),
        );
    }
    for c in state.circuits.iter().filter(|c| c.mains_m_s > MAINS_LOUD_M_S) {
        out.say(
            warns("plant.mains", format!("{{v}} in the mains of {}: water is heard.", plain(&c.name)))
                .value("v", Q::Velocity, c.mains_m_s)
                .value("quiet", Q::Velocity, MAINS_LOUD_M_S)
                .rule("Quiet mains: up to {quiet}")
                .remedy("Wider mains."),
        );
    }
}

/// Whether the source is large enough, and not much too large.
fn output(study: &Study, out: &mut Findings) {
    let Some((plant, design)) = of(study) else { return };
    let size = &design.size;
    if size.needs_w <= 0.0 {
        return;
    }
    let at_most = design.state.as_ref().is_some_and(|s| s.sources.iter().all(|x| x.at_most));
    if size.ratio < 0.995 || at_most {
        out.say(
            Said::error(
                Station::Plant,
                "plant.small",
                Subject::job(),
                "The source gives {most} where {needs} are needed.",
            )
            .value("most", Q::Heat, size.most_w)
            .value("needs", Q::Heat, size.needs_w)
            .rule("Building load, downward losses and fixed users; domestic hot water by priority.")
            .remedy("A larger source, a second one that follows, or less heat loss."),
        );
    } else if size.ratio > OVERSIZE && study.job.outdoors.as_ref().is_none_or(|o| o.house.is_none()) {
        out.say(
            warns("plant.large", "The source is {ratio} of what is needed: {most} for {needs}.")
                .value("ratio", Q::Share, size.ratio)
                .value("most", Q::Heat, size.most_w)
                .value("needs", Q::Heat, size.needs_w)
                .rule("A source much too large costs more, cycles more and condenses less.")
                .remedy("The next smaller one; check the load before, not the old plate."),
        );
    }
    let floors: f64 = study.circuits.iter().map(|c| c.heat_w).sum();
    let can = (size.emitters_w + floors + size.users_w).max(size.tank_w);
    if size.emitters_w > 0.0 && size.most_w > UNUSED * can {
        out.say(
            notes("plant.unused", "All that takes heat can give off {can}; the source's {most} can never be used.")
                .value("can", Q::Heat, can)
                .value("most", Q::Heat, size.most_w)
                .rule("A source larger than what gives its heat off is never used to its end.")
                .remedy("A smaller source."),
        );
    }
    if plant.source.kind.is_heat_pump() && plant.source.points.is_empty() {
        out.say(
            notes(
                "plant.heat_pump_table",
                "The heat pump has no table of output and COP: it is taken as a share of Carnot's.",
            )
            .rule("Output and COP change with the weather and the water.")
            .remedy("Enter its points, at least two outdoor temperatures at two water temperatures."),
        );
    }
}

fn cycling(study: &Study, out: &mut Findings) {
    let Some((_, design)) = of(study) else { return };
    let size = &design.size;
    let Some(cycles) = size.cycles.filter(|c| c.per_h > CYCLES) else { return };
    let room = size.smallest_room_id.as_deref().and_then(|id| study.job.room(id));
    let name = room.map_or(String::new(), |r| plain(&r.name));
    out.say(
        warns(
            "plant.cycling",
            format!(
                "With {name} alone in mild weather the source goes on {{times}} times an hour and runs for {{on}}."
            ),
        )
        .value("times", Q::Count, cycles.per_h)
        .value("on", Q::Time, cycles.on_s)
        .value("buffer", Q::Content, size.buffer_l)
        .rule("Lowest output against the smallest zone, with the water that is warmed and the burner's differential")
        .remedy("A buffer tank of {buffer} for ten minutes, fewer and larger zones, or a source that goes lower."),
    );
}

/// A source whose pump cannot carry its heat away.
fn starved(study: &Study, out: &mut Findings) {
    let Some((plant, design)) = of(study) else { return };
    let size = &design.size;
    let needed = size.needs_flow_l_min.min(size.needs_w / plant.source.most_w.max(1.0) * size.needs_flow_l_min);
    let least = plant.source.least_flow_l_min.unwrap_or(0.0);
    let now = design.state.as_ref().and_then(|s| s.sources.first()).map_or(size.has_flow_l_min, |s| s.flow_l_min);
    let decoupled = plant.arrangement != Arrangement::Direct;
    if size.has_flow_l_min < 0.95 * needed.max(least) || (design.state.is_some() && now < 0.98 * least) {
        let remedy = if decoupled {
            "A stronger pump for the source, wider primary piping, or a source with wider waterways."
        } else {
            "A pump of its own and closely spaced tees or a separator; a source with wider waterways."
        };
        out.say(
            warns("plant.starved", "The source gets {has}; to give its heat it needs {needs}.")
                .value("has", Q::Flow, size.has_flow_l_min.min(now.max(0.0)))
                .value("needs", Q::Flow, needed.max(least))
                .value("rise", Q::Difference, plant.source.rise_k)
                .rule("Output over the heat of the water at a rise of {rise}; its own least flow")
                .remedy(remedy),
        );
    }
}

/// Condensing, and returns that a source does not stand.
fn condensing(study: &Study, out: &mut Findings) {
    let Some((plant, design)) = of(study) else { return };
    let Some(source) = design.state.as_ref().and_then(|s| s.sources.first()) else { return };
    let Some(returns) = source.returns_c else { return };
    if let Some(least) = plant.source.least_return_c.filter(|l| returns < l - 0.5) {
        out.say(
            warns("plant.cold_return", "Water comes back to the source at {returns}; it stands {least} and more.")
                .value("returns", Q::Temperature, returns)
                .value("least", Q::Temperature, least)
                .rule("Flue gas that condenses in a source not made for it eats it.")
                .remedy("A mixing valve that holds its return, or a source that may condense."),
        );
    }
    if let (Some(false), Some(below)) = (source.condenses, plant.source.kind.condenses_below_c()) {
        out.say(
            notes(
                "plant.not_condensing",
                "On the design day water comes back at {returns}: the source does not condense.",
            )
            .value("returns", Q::Temperature, returns)
            .value("below", Q::Temperature, below)
            .rule("Flue gas condenses on a return below about {below}.")
            .remedy(
                "Larger radiators, cooler floors, or headers in which the cool circuits take the hot ones' return.",
            ),
        );
    }
}

/// Tees that are too far apart, circuits out of order.
fn tees(study: &Study, out: &mut Findings) {
    let Some((plant, design)) = of(study) else { return };
    if !matches!(plant.arrangement, Arrangement::TeesInSeries | Arrangement::TeesWithHeaders) {
        return;
    }
    let limit = TEES_M.min(TEES_BORES * plant.primary_bore_m);
    if plant.tees_apart_m > limit + 1e-6 {
        out.say(
            warns("plant.tees", "The tees are {apart} apart; the circuits push each other.")
                .value("apart", Q::Size, plant.tees_apart_m)
                .value("limit", Q::Size, limit)
                .rule("Closely spaced tees: up to {limit}, four bores at most")
                .remedy("Put them closer."),
        );
    }
    let all: Vec<&CircuitState> = on(design).collect();
    for w in all.windows(2) {
        let (Some(first), Some(then)) = (w[0].needs_c, w[1].needs_c) else { continue };
        if then > first + 2.0 && plant.arrangement == Arrangement::TeesInSeries {
            out.say(
                notes(
                    "plant.order",
                    format!("{} comes before {}, which needs hotter water.", plain(&w[0].name), plain(&w[1].name)),
                )
                .rule("Hottest users first; of equal temperature the smaller load first")
                .remedy("Drag it to the front."),
            );
        }
    }
}

/// Users of fixed temperature on a line that drops below them.
fn fixed(study: &Study, out: &mut Findings) {
    let Some((plant, design)) = of(study) else { return };
    if plant.source.leaves_c.is_some() {
        return;
    }
    for user in &design.fixed {
        // a tank calls for its own water, before all others
        let tank = |u: &super::part::HeatUser| u.id == user.id && matches!(u.takes, Takes::Tank { .. });
        let Some(from) = user.below_from_c.filter(|_| !plant.users.iter().any(tank)) else { continue };
        out.say(
            notes(
                "plant.fixed_user",
                format!("{} wants {{wants}} in all weather; from {{from}} outdoors the rooms' line lies below.", plain(&user.name)),
            )
            .value("wants", Q::Temperature, user.wants_c)
            .value("from", Q::Temperature, from)
            .value("safe", Q::Temperature, user.safe_c)
            .rule("A user of fixed temperature that hangs on a reset line keeps the burner running and is never satisfied.")
            .remedy("Let its call hold the source at {safe}, or give it its own thermostat that calls by priority."),
        );
    }
}

fn vessel(study: &Study, out: &mut Findings) {
    let Some((plant, design)) = of(study) else { return };
    let vessel = &design.vessel;
    if vessel.least_l.is_none() {
        out.say(
            Said::error(
                Station::Plant,
                "plant.vessel",
                Subject::job(),
                "No expansion vessel fits: filled to {fill} the relief valve, set to {relief}, opens before the water is hot.",
            )
            .value("fill", Q::Pressure, vessel.fill_pa)
            .value("relief", Q::Pressure, plant.relief_pa)
            .value("top", Q::Pressure, super::size::TOP_PA)
            .value("end", Q::Pressure, vessel.end_pa)
            .rule("Filled to the height of the water and {top} at the top; {end} at the most when hottest")
            .remedy("A relief valve for a higher pressure, where every part stands it."),
        );
    }
    if study.job.fluid.mass_fraction > 0.5 {
        out.say(
            warns("plant.glycol", "{share} of glycol carry little heat and are hard to pump.")
                .value("share", Q::Share, study.job.fluid.mass_fraction)
                .rule("As much as the coldest weather needs, and no more.")
                .remedy("Less glycol, only in the circuit that may freeze, behind a heat exchanger."),
        );
    }
}

/// Emitters that nobody has rated, that are gone, or that hang on two users.
fn users(study: &Study, out: &mut Findings) {
    let Some((plant, _)) = of(study) else { return };
    let emitters = || study.job.rooms.iter().flat_map(|r| r.emitters.iter().map(move |e| (r, e)));
    for (at, user) in plant.users.iter().enumerate() {
        let Takes::Emitters { emitter_ids, .. } = &user.takes else { continue };
        let gone = emitter_ids.iter().filter(|id| !emitters().any(|(_, e)| e.id == **id)).count();
        if gone > 0 {
            out.say(
                warns(
                    "plant.emitters_gone",
                    format!("{} names {{gone}} emitters that are no longer in any room.", plain(&user.name)),
                )
                .value("gone", Q::Count, gone as f64)
                .rule("A user's emitters are those of the survey.")
                .remedy("Choose its emitters anew at Plant."),
            );
        }
        if emitter_ids.is_empty() {
            out.say(
                warns("plant.no_emitters", format!("{} has no emitters: nothing flows there.", plain(&user.name)))
                    .rule("A user's emitters are those of the survey.")
                    .remedy("Choose its emitters at Plant, or delete it."),
            );
        }
        let names_one = |o: &&HeatUser| match &o.takes {
            Takes::Emitters { emitter_ids: theirs, .. } => theirs.iter().any(|id| emitter_ids.contains(id)),
            _ => false,
        };
        // told once, by the first of them
        for other in plant.users[at + 1..].iter().filter(names_one) {
            out.say(
                warns(
                    "plant.emitter_twice",
                    format!(
                        "{} and {} name the same emitter: its heat counts twice.",
                        plain(&user.name),
                        plain(&other.name)
                    ),
                )
                .rule("An emitter hangs on one circuit.")
                .remedy("Take it from one of them at Plant."),
            );
        }
        for (room, e) in emitters().filter(|(_, e)| emitter_ids.contains(&e.id) && rating(e).is_none()) {
            out.say(
                Said::warning(
                    Station::Rooms,
                    "plant.unrated",
                    Subject::of(SubjectKind::Room, &room.id),
                    format!("An emitter in {} has no output: it counts for nothing.", plain(&room.name)),
                )
                .also([Subject::of(SubjectKind::Room, &e.id)])
                .rule("By its plate, by sections, columns and height, or by metres of fin")
                .remedy("Measure it: sections, columns and height of a radiator, the finned length of a baseboard."),
            );
        }
    }
}

/// The cautions that every plant carries.
fn law(study: &Study, out: &mut Findings) {
    let Some((plant, _)) = of(study) else { return };
    let more = match plant.source.kind {
        SourceKind::TankHeater | SourceKind::Combined => {
            " A water heater may heat rooms only where code and its maker allow it; drinking water stays behind a heat exchanger."
        }
        _ => "",
    };
    out.say(
        notes(
            "plant.law",
            format!("Fuel, flue, combustion air, refrigerant and electrical work belong to licensed trades; local code comes first. Every source has its own relief valve with an open drain, and limits that keep people from being scalded.{more}"),
        )
        .rule("Cautions that every plant carries"),
    );
}

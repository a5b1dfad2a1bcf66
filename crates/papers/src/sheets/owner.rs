//! What the owner has to know: where nobody drills, how it is set, what is normal.

use super::loops::{level, supply};
use super::scale;
use crate::typeset::block::{Block, list, plain, text};
use crate::typeset::text::bold;
use crate::{Papers, Part};
use fuoco_core::job::Outdoors;
use fuoco_core::units::Quantity as Q;

pub fn parts(of: &Papers) -> Vec<Part> {
    let mut out = vec![Part { sheet: of.format.upright(), blocks: told(of) }];
    let tubes = !of.design.loops.is_empty();
    for l in of.job.levels.iter().filter(|l| tubes && of.job.rooms.iter().any(|r| r.level_id == l.id)) {
        let (sheet, drawing, scale) = level(of, &l.id, 2.0);
        let blocks = vec![
            Block::Title(format!("{}: do not drill here", l.name), of.whom(of.day)),
            plain(format!(
                "Every line is a tube in the floor. No screw, nail, drill or saw goes in there; also not where a wall field is drawn in a room's papers. Scale {}, printed at 100 %.",
                scale::named(of.units(), scale)
            )),
            drawing,
        ];
        out.push(Part { sheet, blocks });
    }
    out
}

/// What the owner of an area outdoors has to know.
fn told_outdoors(of: &Papers, outdoors: &Outdoors) -> Vec<Block> {
    let storm = outdoors.storm;
    let mut out = vec![Block::Title("Your snow melting".into(), of.whom(of.day))];
    out.push(Block::Facts(vec![
        ("Fluid to the slab in the storm".into(), supply(of)),
        (
            "Built for".into(),
            format!(
                "{} of snow as water at {}, wind {}",
                of.s(Q::Snowfall, storm.snowfall_mm_h),
                of.s(Q::Temperature, storm.air_c),
                of.s(Q::Velocity, storm.wind_m_s)
            ),
        ),
        ("Heat then".into(), of.s(Q::Heat, of.design.totals.source_w)),
    ]));
    out.push(Block::Heading("Where you must not drill".into()));
    out.push(plain("The tubes lie in the slab. No anchor, sign post, drill or saw goes in there; the plan on the next pages shows where. Keep it with the house's papers and give it to whoever works here."));
    out.push(Block::Heading("What it does, and what it does not".into()));
    out.push(list([
        "A cold slab takes hours until it melts. In heavier storms than it was built for snow lies, and goes later.",
        "A surface that is kept free still turns slippery: when the heat is off, in freezing rain, at its edges and where its water goes.",
        "It is started slowly. Hot fluid in a frozen slab cracks it: leave the controller's limit as it is set.",
        "When a house is heated by the same source, the house comes first.",
    ]));
    out.push(Block::Heading("Every autumn".into()));
    out.push(list([
        "Have the glycol looked at: freezing point and age. It is refilled with the same kind only, by whoever is licensed to, and never let into a drain.",
        "Clean the drains and what is warm under them, so that meltwater gets away.",
        "Clean the sensor in the surface and run it once before the first snow.",
        "Read the gauge; a plant that wants fluid again and again has a leak: call us.",
    ]));
    out.push(text([bold("When something is wrong:"), " fluid on the slab, a gauge that falls, a smell of gas or smoke: shut off and call. Gas, flue and electricity are for licensed trades only.".into()]));
    if !of.from.name.is_empty() {
        out.push(plain(std::iter::once(&of.from.name).chain(&of.from.lines).cloned().collect::<Vec<_>>().join(", ")));
    }
    out
}

fn told(of: &Papers) -> Vec<Block> {
    let (job, design) = (of.job, of.design);
    if let Some(outdoors) = &job.outdoors {
        return told_outdoors(of, outdoors);
    }
    let mut out = vec![Block::Title("Your heating".into(), of.whom(of.day))];
    let mut facts = vec![("Water to the floor on the coldest day".into(), supply(of))];
    facts.push(("Built for".into(), format!("{} outdoors", of.s(Q::Temperature, job.site.outdoor_c))));
    facts.push(("Heat then".into(), of.s(Q::Heat, design.totals.source_w)));
    out.push(Block::Facts(facts));
    out.push(Block::Heading("Where you must not drill".into()));
    out.push(plain("The tubes lie in the floor, and in walls or ceilings where a field was built. The plan on the next pages shows where. Keep it with the house's papers and give it to whoever works here."));
    out.push(Block::Heading("How it is set".into()));
    let mut set = vec![vec![
        "Leave the thermostats where they are comfortable. A floor takes hours to follow: turning it far up makes it no faster, it only goes too far later.".into(),
    ]];
    if let (Some(plant), Some(of_plant)) = (&job.plant, &design.plant) {
        for l in &of_plant.lines {
            let points = l
                .two
                .iter()
                .map(|p| format!("{} at {} outdoors", of.s(Q::Temperature, p[1]), of.s(Q::Temperature, p[0])));
            set.push(vec![bold(l.name.as_str()), format!(": water {}", points.collect::<Vec<_>>().join(", ")).into()]);
        }
        set.push(vec![
            format!("From {} outdoors on the rooms are left alone.", of.s(Q::Temperature, plant.warm_weather_c)).into(),
        ]);
        set.push(vec![
            format!(
                "The gauge at the source stands near {} when everything is cold.",
                of.s(Q::Pressure, of_plant.vessel.fill_pa)
            )
            .into(),
        ]);
    }
    out.push(Block::List(set));
    out.push(Block::Heading("What is normal".into()));
    out.push(list([
        "The first warm-up takes days: the floor dries and warms slowly, and it must not be hurried.",
        "Warm and less warm stripes in hard frost; the floor feels only lukewarm on most days.",
        "Quiet clicks of actuators, and of plates or timber as they warm up.",
        "Some rooms show no flow at their meter when they are warm enough.",
    ]));
    let rugs: Vec<String> = design
        .rooms
        .iter()
        .filter_map(|r| {
            Some(format!("{}: the surface stays below {}", r.name, of.s(Q::Temperature, r.surface_limit_c?)))
        })
        .collect();
    if !rugs.is_empty() {
        out.push(Block::Heading("How warm the floors may get".into()));
        out.push(list(rugs));
        out.push(plain("Thick rugs and closed furniture hold heat back. Another covering needs another setting: ask before it is laid."));
    }
    out.push(Block::Heading("Every year".into()));
    out.push(list([
        "Read the gauge; a plant that wants water again and again has a leak: call us.",
        "Have source, relief valve, vessel and filter looked at by whoever is licensed to.",
        "Turn every valve and thermostat once, so that none sticks.",
    ]));
    out.push(text([bold("When something is wrong:"), " water on the floor, a gauge that falls, a smell of gas or smoke: shut off and call. Gas, flue and electricity are for licensed trades only.".into()]));
    if !of.from.name.is_empty() {
        out.push(plain(std::iter::once(&of.from.name).chain(&of.from.lines).cloned().collect::<Vec<_>>().join(", ")));
    }
    out
}

//! The heat loss to be handed over: inputs, assumptions, results by room, method and sources.

use super::stop;
use crate::Papers;
use crate::typeset::block::{Block, list, note};
use crate::typeset::table::{Cell, Table, figures, words};
use crate::typeset::text::bold;
use crate::words::{wall_name, word};
use fuoco_core::design::RoomDesign;
use fuoco_core::findings::{Severity, Station};
use fuoco_core::heat_loss::{Cause, LossPart, Measure};
use fuoco_core::job::{AirMethod, Bridges, Construction, Dimensions, EdgeInsulation, GroundMethod, Shielding};
use fuoco_core::library;
use fuoco_core::units::Quantity as Q;
use std::collections::BTreeSet;

pub fn blocks(of: &Papers) -> Vec<Block> {
    let design = of.design;
    let mut out = vec![Block::Title("Heat loss on the design day".into(), of.whom(of.day))];
    let open = design.findings.iter().filter(|f| {
        f.severity == Severity::Warning && matches!(f.station, Station::Site | Station::Rooms | Station::HeatLoss)
    });
    out.extend(stop(of, "Open:"));
    out.extend(open.map(|f| crate::typeset::block::text([bold("Open:"), format!(" {}", f.message).into()])));
    out.push(Block::Facts(vec![
        ("Heat loss".into(), of.s(Q::Heat, design.building.heat_w)),
        ("Down from heated floors".into(), of.s(Q::Heat, design.totals.down_w)),
        ("For the source".into(), of.s(Q::Heat, design.totals.source_w)),
        ("Load line".into(), of.s(Q::Slope, design.building.w_per_k)),
    ]));
    out.push(Block::Heading("Rooms".into()));
    out.push(Block::Table(rooms(of)));
    out.push(Block::Heading("By cause".into()));
    let causes =
        design.building.causes.iter().map(|c| vec![word("causes", c.cause).into(), of.s(Q::Heat, c.heat_w).into()]);
    out.push(Block::Table(Table::new([words(""), figures("")]).rows(causes).narrow()));
    out.push(Block::Heading("Inputs and assumptions".into()));
    out.push(Block::Pairs(inputs(of)));
    out.push(Block::Table(
        Table::new([words("Construction"), words("Layers, inside out"), figures("U")])
            .rows(used(of).into_iter().map(|c| vec![c.name.as_str().into(), layers(of, c).into(), u(of, c).into()])),
    ));
    out.push(Block::Heading("Room by room".into()));
    for r in design.rooms.iter().filter(|r| r.heated) {
        out.push(Block::Minor(format!(
            "{}, {}, {}",
            r.name,
            of.s(Q::Temperature, r.temperature_c),
            of.s(Q::Volume, r.volume_m3)
        )));
        let heads =
            ["Cause", "What", "To"].map(words).into_iter().chain(["Amount", "each", "Difference", "Heat"].map(figures));
        out.push(Block::Table(
            Table::new(heads.collect::<Vec<_>>())
                .rows(r.loss_parts.iter().map(|p| part(of, r, p)))
                .foot(vec![Cell::over(6, "Loss"), bold(of.s(Q::Heat, r.heat_loss_w)).into()])
                .size(8.5),
        ));
    }
    out.push(Block::Heading("Method and sources".into()));
    out.push(list([
        "Transmission U·A·Δθ: U of layers by ISO 6946 (films by direction, mean of upper and lower limit where studs cross a layer), windows and doors by their typed U. Each figure toward outdoors holds the surcharge for bridges, where that is the way.",
        "Air ρ·c·n·V·Δθ with the density of air at the site's altitude (ISO 2533). Extract that supply makes up for comes over from the rooms supplied.",
        "Unheated rooms find their temperature by their own balance; heat through a partition leaves one room and enters the other.",
        "The downward loss of a heated floor, and what is lost at the back of a wall or ceiling field, is no need of its room: it stands in the sum for the source, as far as no heated room on the other side has it.",
        "Frame: EN 12831-1. Sun, people and machines are left out; no addition for heating up again after a set-back.",
    ]));
    out.push(note("Figures are design aids: follow local code, and makers' declared values rather than the library's. Whoever signs this report has checked the survey behind it."));
    out.push(Block::Facts(vec![("Checked by".into(), "_".repeat(34)), ("Date".into(), "_".repeat(16))]));
    out
}

fn rooms(of: &Papers) -> Table {
    let design = of.design;
    let heads = [
        words("Room"),
        words("Level"),
        words("Use"),
        figures("Design temp."),
        figures("Floor"),
        figures("Air"),
        figures("Loss"),
        figures("of heatable floor"),
    ];
    let row = |r: &RoomDesign| {
        let room = of.job.room(&r.id);
        let level = room.and_then(|x| of.job.levels.iter().find(|l| l.id == x.level_id)).map_or("", |l| &l.name);
        let air = format!("{} {}", of.s(Q::Rate, r.air_changes_per_h), word("air_by", r.air_by));
        let temperature = of.s(Q::Temperature, r.temperature_c);
        let mut row: Vec<Cell> = vec![r.name.as_str().into(), level.into()];
        if r.heated {
            row.extend([room.map_or_else(String::new, |x| word("uses", x.usage)).into(), temperature.into()]);
        } else {
            row.extend(["unheated".into(), format!("settles at {temperature}").into()]);
        }
        row.extend([of.s(Q::Area, r.area_m2).into(), air.into()]);
        if r.heated {
            row.extend([bold(of.s(Q::Heat, r.heat_loss_w)).into(), of.s(Q::Flux, r.flux_needed_w_m2).into()]);
        }
        row
    };
    let (warm, cold): (Vec<_>, Vec<_>) = design.rooms.iter().partition(|r| r.heated);
    let mut table = Table::new(heads).rows(warm.into_iter().chain(cold).map(row)).size(8.5);
    // half a watt is nothing on paper
    if design.building.windward_w > 0.5 {
        table = table.foot(vec![Cell::over(6, "Rooms"), of.s(Q::Heat, design.totals.heat_loss_w).into()]).foot(vec![
            Cell::over(6, "Less: wind does not blow on all sides at once (EN 12831-1)"),
            of.s(Q::Heat, -design.building.windward_w).into(),
        ]);
    }
    table.foot(vec![Cell::over(6, "Building"), bold(of.s(Q::Heat, design.building.heat_w)).into()])
}

fn part(of: &Papers, r: &RoomDesign, p: &LossPart) -> Vec<Cell> {
    let room = of.job.room(&r.id);
    let opening = room.and_then(|x| x.openings.iter().find(|o| Some(&o.id) == p.subject.as_ref()));
    let edge = p.edge.and_then(|k| fuoco_core::plan::edges(room?).into_iter().find(|e| e.index == k));
    let name = p.construction_id.as_deref().and_then(|id| of.job.construction(id)).map(|c| c.name.clone());
    let name = name.or_else(|| match (p.cause, p.measure) {
        (Cause::Bridge, _) => p.subject.clone(),
        (_, Measure::Area) if p.construction_id.is_none() => Some("typed U".into()),
        _ => None,
    });
    let size = opening.map(|o| format!("{} × {}", of.s(Q::Length, o.width_m), of.s(Q::Length, o.height_m)));
    let place = match (edge, p.cause) {
        (Some(e), _) => Some(wall_name(&e, of.job.site.north_deg)),
        (None, Cause::Roof) => Some("above".into()),
        (None, Cause::Floor) => Some("below".into()),
        _ => None,
    };
    let what = [name, size, place].into_iter().flatten().collect::<Vec<_>>().join(", ");
    let beside = p
        .subject
        .as_deref()
        .and_then(|id| of.job.room(id))
        .map_or_else(|| word("other_sides", p.other), |x| x.name.clone());
    let (amount, each) = match p.measure {
        Measure::Area => (Q::Area, Q::Transmittance),
        Measure::Length => (Q::Length, Q::Linear),
        Measure::Air => (Q::Volume, Q::Volumetric),
    };
    vec![
        word("causes", p.cause).into(),
        what.into(),
        format!("{beside}, {}", of.s(Q::Temperature, p.other_c)).into(),
        of.s(amount, p.amount).into(),
        of.s(each, p.per_kelvin).into(),
        of.s(Q::Difference, p.difference_k).into(),
        of.s(Q::Heat, p.heat_w).into(),
    ]
}

fn used<'a>(of: &Papers<'a>) -> Vec<&'a Construction> {
    let ids: BTreeSet<&str> =
        of.design.rooms.iter().flat_map(|r| &r.loss_parts).filter_map(|p| p.construction_id.as_deref()).collect();
    ids.into_iter().filter_map(|id| of.job.construction(id)).collect()
}

fn u(of: &Papers, c: &Construction) -> String {
    let own = of.design.constructions.iter().find(|d| d.id == c.id).map(|d| d.u);
    of.o(Q::Transmittance, own.or_else(|| library::library().u_values.get(&c.id).copied()))
}

fn layers(of: &Papers, c: &Construction) -> String {
    if c.u.is_some() || c.layers.is_empty() {
        return "U by its maker or typed".into();
    }
    let name = |id: &str| {
        let own = of.job.materials.iter().find(|m| m.id == id);
        own.or_else(|| library::material(id)).map_or_else(|| id.to_owned(), |m| m.name.clone())
    };
    let layer = |l: &fuoco_core::job::ConstructionLayer| {
        let studs = l.bridge.as_ref().map(|b| format!(" ({} {})", of.s(Q::Share, b.share), name(&b.material_id)));
        format!("{} {}{}", of.s(Q::Size, l.thickness_m), name(&l.material_id), studs.unwrap_or_default())
    };
    c.layers.iter().map(layer).collect::<Vec<_>>().join(" · ")
}

fn inputs(of: &Papers) -> Vec<(String, String)> {
    let (job, design) = (of.job, of.design);
    let mut out = vec![];
    let mut say = |name: &str, said: String| out.push((name.to_owned(), said));
    let weather = job.site.weather.as_ref().map_or_else(String::new, |w| {
        format!(
            "; weather file {} ({}): 99.6 % {}, 99 % {}",
            w.name,
            w.source,
            of.s(Q::Temperature, w.p99_6_c),
            of.s(Q::Temperature, w.p99_c)
        )
    });
    say("Outdoors on the design day", format!("{}{weather}", of.s(Q::Temperature, job.site.outdoor_c)));
    say("Altitude", of.s(Q::Tube, job.site.altitude_m));
    say(
        "Areas",
        match job.envelope.dimensions {
            Dimensions::Inside => "from inside faces, as a tape measures".into(),
            Dimensions::Outside => "outside surfaces from outside faces; floors from inside faces".into(),
        },
    );
    say(
        "Thermal bridges",
        match &job.envelope.bridges {
            Bridges::Surcharge { delta_u } => {
                format!("{} on every surface to the outside", of.s(Q::Transmittance, *delta_u))
            }
            Bridges::Linear { reveal_psi, corner_psi, roof_edge_psi, floor_edge_psi, storey_psi } => {
                let l = |v: &f64| of.s(Q::Linear, *v);
                format!(
                    "ψ times length off the plan: reveals {}, corners {}, roof edge {}, floor edge {}, ceilings {}",
                    l(reveal_psi),
                    l(corner_psi),
                    l(roof_edge_psi),
                    l(floor_edge_psi),
                    l(storey_psi)
                )
            }
        },
    );
    let g = &job.envelope.ground;
    let edge = match g.edge {
        EdgeInsulation::None => String::new(),
        EdgeInsulation::Vertical { depth_m, resistance_m2k_w, .. } => {
            format!(", edge insulation {} to {} deep", of.s(Q::Resistance, resistance_m2k_w), of.s(Q::Length, depth_m))
        }
        EdgeInsulation::Horizontal { width_m, resistance_m2k_w, .. } => {
            format!(", edge insulation {} for {}", of.s(Q::Resistance, resistance_m2k_w), of.s(Q::Length, width_m))
        }
    };
    say(
        "Ground",
        match g.method {
            GroundMethod::GroundTemperature => {
                format!("U of the floor toward {}", of.s(Q::Temperature, job.site.ground_c))
            }
            GroundMethod::PerimeterFactor => {
                format!("{} along the exposed edge, toward outdoors", of.s(Q::Linear, g.perimeter_w_mk))
            }
            GroundMethod::Iso13370 => format!(
                "ISO 13370, ground {}, B′ {}{edge}; toward the mean of the year {}, times 1.45 for the season (EN 12831-1)",
                of.s(Q::Linear, g.soil_w_mk),
                of.o(Q::Length, design.building.ground_dimension_m),
                of.s(Q::Temperature, design.climate.annual_mean_c)
            ),
        },
    );
    let a = &job.air;
    let least = of.s(Q::Rate, a.least_per_h);
    let n50 = of.s(Q::Rate, a.n50_per_h);
    let shielding = match a.shielding {
        Shielding::None => "no",
        Shielding::Moderate => "moderate",
        Shielding::Heavy => "heavy",
    };
    let windward = if (a.direction_factor - 1.0).abs() > 1e-9 {
        format!(", times {} windward", a.direction_factor)
    } else {
        String::new()
    };
    say(
        "Air change",
        match a.method {
            AirMethod::Typed => format!("typed by room, else {least}"),
            AirMethod::BlowerDoor => {
                format!("{n50} at 50 Pa (n50·e·ε, EN 12831-1, {shielding} shielding{windward}), at least {least}")
            }
            AirMethod::Divided => format!("{n50} at 50 Pa (n50 divided by {}{windward}), at least {least}", a.divisor),
        },
    );
    if a.recovery > 0.0 {
        say("Ventilation", format!("{} of the heat recovered", of.s(Q::Share, a.recovery)));
    }
    out
}

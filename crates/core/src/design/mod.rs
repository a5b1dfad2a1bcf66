//! The whole design of a job: heat loss → floor → loops → water, and what is to be said about it.
//!
//! `design` is a pure function: the same job gives the same design.

pub mod compare;
pub mod floor_map;
pub(crate) mod heating;
pub mod picture;
pub mod remedy;
mod supply;
mod types;

pub use types::{
    ClimateDesign, ColdSpot, ColdestGround, ConstructionDesign, DegreeDays, Design, FieldDesign, FlatRateHeat,
    FloorDesign, LoopDesign, ManifoldDesign, PatchDesign, RoomDesign, RoomOutline, Totals, TurnDesign, WallDesign,
    WarmSpot,
};

use crate::climate::Weather;
use crate::construction;
use crate::error::FieldError;
use crate::fluid;
use crate::geometry;
use crate::heat_loss;
use crate::job::{Beyond, Job, Room};
use crate::plan::Plan;
use crate::plan::storeys::Storey;
use crate::plan::walls::Behind;
use crate::layout::score::{self, Score};
use crate::layout::{self, Layout, audit};
use crate::library;
use crate::plan;
use crate::verdict;
use crate::water;
use heating::Heating;
use supply::{RoomWater, Water};

/// What a leader in an insulating sleeve gives of what it would give bare: 9 mm of 0.04 W/mK round a tube of 16 mm is
/// ln(34/16)/(2π·0.04) = 3.0 mK/W, about as much as floor over a bundle has at 50 mm of it, 1/(7 W/m²K · 0.05 m).
pub(crate) const SLEEVED: f64 = 0.5;

/// Designs a job.
///
/// # Errors
/// As [`Job::check`], and when the fluid has no properties at the temperatures of the design.
pub fn design(job: &Job) -> Result<Design, FieldError> {
    job.check()?;
    let Solved { plan, heat, layout, heating, water } = solved(job)?;
    let losses = &heat.rooms;
    let breaches = audit::audit(job, &plan, &layout.loops);
    let coverage = audit::coverage(job, &layout.loops);
    let score = score::score_with(job, &plan, &layout, &coverage, breaches.len());

    let loops = loop_designs(job, &layout, &water)?;
    let mut rooms: Vec<RoomDesign> = job
        .rooms
        .iter()
        .enumerate()
        .map(|(i, room)| {
            let mut d = room_design(job, &plan, room, i, &losses[i], &heating[i], &water, &coverage);
            d.coldest = coverage.iter().find(|c| c.room == i).map(floor_map::coldest);
            let holes = layout.loops.iter().flat_map(|l| audit::holes(job, l, i));
            d.joist_holes = holes.map(|p| p.map(|v| round(v, 10_000.0))).collect();
            d.warmest = heating[i].floor.as_ref().and_then(|state| floor_map::warmest(job, i, state, &loops));
            d.density = score.rooms.iter().find(|s| s.room == i && s.loops > 0).map(score::RoomScore::density);
            d
        })
        .collect();
    let manifolds = manifold_designs(job, &loops, &rooms, &score);
    let conflict = remedy::conflict(job, &plan, &heat, &mut rooms, &water);
    let totals = totals(job, &rooms, &loops, &water);
    let mut design = Design {
        rooms,
        loops,
        manifolds,
        walls: wall_designs(job, &plan),
        outlines: outlines(job, &plan),
        constructions: constructions(job),
        building: heat.building,
        climate: climate(job),
        totals,
        conflict,
        findings: vec![],
    };
    design.findings = verdict::judge(job, &plan, &design, &layout, &breaches, &coverage);
    Ok(design)
}

/// What is solved before it is told: losses, loops, floors and water.
struct Solved {
    plan: Plan,
    heat: heat_loss::HeatLoss,
    layout: Layout,
    heating: Vec<Heating>,
    water: Water,
}

fn solved(job: &Job) -> Result<Solved, FieldError> {
    let plan = Plan::of(job);
    let heat = heat_loss::heat_loss(job, &plan);
    let layout = layout::lay_out(job, &plan);
    let (heating, water) = Water::settle(job, &plan, &heat, &layout)?;
    Ok(Solved { plan, heat, layout, heating, water })
}

fn room_design(
    job: &Job,
    plan: &Plan,
    room: &Room,
    index: usize,
    loss: &heat_loss::RoomLoss,
    heating: &Heating,
    water: &Water,
    coverage: &[audit::Coverage],
) -> RoomDesign {
    let heatable = plan.heatable_m2[index];
    let area = plan::area(room);
    let w = &water.rooms[index];
    let per_area = |heat: f64| if heatable > 0.0 { heat / heatable } else { 0.0 };
    let mut out = RoomDesign {
        id: room.id.clone(),
        name: room.name.clone(),
        area_m2: area,
        heatable_area_m2: heatable,
        heated: loss.heated,
        temperature_c: loss.temperature_c,
        volume_m3: loss.volume_m3,
        air_changes_per_h: loss.air_changes_per_h,
        heat_loss_w: loss.heat_w,
        loss_parts: loss.parts.clone(),
        savings: loss.savings.clone(),
        flat_rates_w: job.rules.flat_rates.iter().map(|r| if loss.heated { r.w_m2 * area } else { 0.0 }).collect(),
        flux_needed_w_m2: per_area(loss.heat_w),
        flux_given_w_m2: 0.0,
        flux_limit_w_m2: None,
        surface_mean_c: None,
        surface_max_c: None,
        surface_min_c: None,
        surface_limit_c: None,
        striping_k: None,
        k_up_w_m2k: None,
        supply_needed_c: w.needed,
        supply_limit_c: heating.is_any().then(|| heating.supply_limit_c()),
        drop_k: w.drop_k,
        down_w: 0.0,
        leader_heat_w: w.leader_heat,
        coverage: coverage.iter().find(|c| c.room == index).map(|c| c.share),
        coldest: None,
        warmest: None,
        density: None,
        joist_holes: vec![],
        floor: None,
        fields: field_designs(job, room, heating, w),
        supplement_w: 0.0,
        remedies: vec![],
    };
    let fields_w: f64 = out.fields.iter().map(|f| f.heat_w).sum();
    let mut given = fields_w + w.leader_heat;
    if let Some(f) = &heating.floor {
        let excess = w.floor_excess_k;
        let flux = f.flux_up(excess);
        given += flux * w.field_area;
        out.flux_given_w_m2 = per_area(flux * w.field_area + w.leader_heat);
        out.flux_limit_w_m2 = Some(f.flux_up(f.excess_limit_k));
        let surface = f.surface(excess);
        out.surface_mean_c = Some(f.core().surface_mean(flux));
        out.surface_max_c = Some(surface.max_c);
        out.surface_min_c = Some(surface.min_c);
        out.surface_limit_c = Some(f.surface_limit_c);
        out.striping_k = Some(surface.striping_k);
        out.k_up_w_m2k = Some(f.k_up(excess));
        out.down_w = f.flux_down(excess) * w.field_area;
        let core = f.core();
        out.floor = Some(FloorDesign {
            excess_k: excess,
            flux_up_w_m2: flux,
            flux_down_w_m2: f.flux_down(excess),
            underside_c: core.underside(excess),
            below_c: core.duty().below_c,
            below_m2k_w: core.duty().below_m2k_w,
            water_film_w_m2k: core.duty().water_film_w_m2k,
            edge_share: f.edge_share,
            height_m: f.height_m,
            weight_kg_m2: f.weight_kg_m2,
            heat_content_j_m2k: core.heat_content_j_m2k,
            time_constant_s: core.time_constant_s,
            grid_error: core.grid_error,
            under_m2k_w: f.under_m2k_w,
            patches: patch_designs(room, f, excess),
        });
    }
    if heating.is_any() {
        let short = loss.heat_w - given;
        out.supplement_w = if short > 0.002 * loss.heat_w.max(1.0) { short } else { 0.0 };
    }
    out
}

fn patch_designs(room: &Room, state: &heating::FloorState, excess: f64) -> Vec<PatchDesign> {
    let patches = room.heated_floor().map_or(&[][..], |f| &f.patches);
    patches
        .iter()
        .zip(state.patches())
        .map(|(patch, zone)| {
            let flux = if excess > 0.0 { zone.curve.flux_up(excess) } else { 0.0 };
            let surface_mean_c = zone.curve.surface_mean(flux);
            let covering_c = surface_mean_c + flux.max(0.0) * patch.rug_m2k_w.unwrap_or(0.0);
            PatchDesign { flux_w_m2: flux, surface_mean_c, covering_c }
        })
        .collect()
}

fn field_designs(job: &Job, room: &Room, heating: &Heating, water: &RoomWater) -> Vec<FieldDesign> {
    room.heated_fields()
        .iter()
        .zip(&heating.fields)
        .zip(&water.fields)
        .map(|((field, state), w)| {
            let excess = w.excess_k;
            let flux = heating::field_flux(state, excess);
            let (surface_max_c, _) = state.curve.surface_range(excess);
            FieldDesign {
                id: field.id.clone(),
                area_m2: state.area_m2,
                heat_w: flux * state.area_m2,
                back_w: w.back_w,
                flux_w_m2: flux,
                surface_mean_c: state.curve.surface_mean(flux),
                surface_max_c,
                surface_limit_c: state.surface_limit_c,
                supply_limit_c: state.supply_limit_c,
                tube_m: w.tube_m,
                circuits: w.circuits,
                circuit_m: w.circuit_m,
                manifold_id: w.manifold.map(|m| job.manifolds[m].id.clone()),
                drop_k: w.drop_k,
                flow_l_min: w.flow_l_min,
                velocity_m_s: w.velocity_m_s,
                head_loss_pa: w.head_loss_pa,
            }
        })
        .collect()
}

fn loop_designs(job: &Job, layout: &Layout, water: &Water) -> Result<Vec<LoopDesign>, FieldError> {
    let mut out = Vec::with_capacity(layout.loops.len());
    for (l, heat) in layout.loops.iter().zip(&water.loops) {
        let room = &job.rooms[l.room];
        let manifold = &job.manifolds[l.manifold];
        let Some(tube) = room.heated_floor().and_then(|f| library::tube(&f.tube_id)) else { continue };
        let supply_c = water.supply_c.unwrap_or(room.room_c);
        let drop = water.rooms[l.room].drop_k.unwrap_or(0.0);
        let return_c = supply_c - drop;
        let properties = fluid::properties(&job.fluid, (supply_c + return_c) / 2.0)?;
        let total = heat.field + heat.leaders + heat.down;
        let flow_kg_s = if drop > 0.0 { total / (properties.specific_heat * drop) } else { 0.0 };
        let flow = water::flow(flow_kg_s, tube.bore_m(), l.length_m, l.quarter_turns, &properties);
        let mut along = 0.0;
        let mut last = l.points.first().copied().unwrap_or_default();
        let path_c = l
            .points
            .iter()
            .map(|&p| {
                along += geometry::distance(last, p);
                last = p;
                round(water::along(room.room_c, supply_c, return_c, along / l.length_m.max(1e-9)), 100.0)
            })
            .collect();
        let kept = l.kept.and_then(|k| job.loops.get(k));
        out.push(LoopDesign {
            id: kept.map_or_else(|| format!("{}/{}", room.id, l.piece + 1), |k| k.id.clone()),
            tag: format!("{}{}", manifold.letter, l.port),
            manifold_id: manifold.id.clone(),
            port: l.port,
            room_ids: l.stretches.iter().map(|s| job.rooms[s.room].id.clone()).collect(),
            tube_id: tube.id.clone(),
            length_m: l.length_m,
            leader_length_m: l.leader_length_m,
            limit_m: layout::longest_loop(job, tube),
            path: l.points.iter().map(|p| p.map(|v| round(v, 10_000.0))).collect(),
            path_c,
            corners: l.corners.iter().map(|p| p.map(|v| round(v, 1e6))).collect(),
            turns: turns(l),
            locked: kept.is_some(),
            by_hand: kept.is_some_and(|k| k.by_hand),
            spacing_m: l.spacing_m,
            flow_l_min: flow_kg_s / properties.density * 60_000.0,
            velocity_m_s: flow.velocity_m_s,
            reynolds: flow.reynolds,
            supply_c,
            return_c,
            output_up_w: heat.field + heat.leaders,
            output_down_w: heat.down,
            head_loss_pa: flow.head_pa,
            balancing_pa: 0.0,
        });
    }
    for manifold in &job.manifolds {
        let worst = out.iter().filter(|l| l.manifold_id == manifold.id).map(|l| l.head_loss_pa).fold(0.0, f64::max);
        for l in out.iter_mut().filter(|l| l.manifold_id == manifold.id) {
            l.balancing_pa = worst - l.head_loss_pa;
        }
    }
    Ok(out)
}

fn turns(l: &layout::LaidLoop) -> Vec<TurnDesign> {
    let bends = layout::curve::bends(&l.curve).into_iter();
    let end = l.points.last().map(|&p| (p, l.length_m, 0.0));
    bends
        .chain(end)
        .map(|(at, along_m, turn)| TurnDesign {
            at: at.map(|v| round(v, 10_000.0)),
            along_m: round(along_m, 1000.0),
            turn_deg: round(turn.to_degrees(), 10.0),
        })
        .collect()
}

fn round(v: f64, per_unit: f64) -> f64 {
    (v * per_unit).round() / per_unit
}

fn mixed_return<'a>(loops: impl Iterator<Item = &'a LoopDesign>) -> Option<f64> {
    let (mut flow, mut sum) = (0.0, 0.0);
    for l in loops {
        flow += l.flow_l_min;
        sum += l.flow_l_min * l.return_c;
    }
    (flow > 0.0).then(|| sum / flow)
}

fn manifold_designs(job: &Job, loops: &[LoopDesign], rooms: &[RoomDesign], score: &Score) -> Vec<ManifoldDesign> {
    job.manifolds
        .iter()
        .enumerate()
        .map(|(i, m)| {
            let place = layout::manifold_place(job, i);
            let scored = score.manifolds.iter().find(|s| s.manifold == i);
            let own = || loops.iter().filter(|l| l.manifold_id == m.id);
            let fields = || {
                let all = rooms.iter().flat_map(|r| &r.fields);
                all.filter(|f| f.manifold_id.as_deref() == Some(m.id.as_str()))
            };
            ManifoldDesign {
                id: m.id.clone(),
                letter: m.letter.clone(),
                level_id: job.room(&m.room_id).map(|r| r.level_id.clone()).unwrap_or_default(),
                position: place.map(|p| p.1),
                inward: place.map(|p| p.2),
                ports: m.ports,
                ports_used: own().count() as u32 + fields().map(|f| f.circuits).sum::<u32>(),
                flow_l_min: own().map(|l| l.flow_l_min).chain(fields().map(|f| f.flow_l_min)).sum(),
                head_needed_pa: own()
                    .map(|l| l.head_loss_pa)
                    .chain(fields().map(|f| f.head_loss_pa))
                    .fold(0.0, f64::max),
                return_c: mixed_return(own()),
                tube_m: own().map(|l| l.length_m).sum(),
                spread: scored.map_or(0.0, |s| s.spread),
                of_limit: scored.map_or(0.0, |s| s.of_limit),
                leaders: scored.map_or(0.0, |s| s.leaders),
                bends: scored.map_or(0.0, |s| s.bends),
            }
        })
        .collect()
}

fn wall_designs(job: &Job, plan: &Plan) -> Vec<WallDesign> {
    let mut out = Vec::new();
    for (i, room) in job.rooms.iter().enumerate() {
        for piece in &plan.at_the_floor[i] {
            let Some(edge) = plan.edge(i, piece.edge) else { continue };
            let (beyond, beyond_room_id) = match &piece.behind {
                Behind::Room { index, .. } => ("room", Some(job.rooms[*index].id.clone())),
                Behind::Other(b) => (
                    match b {
                        Beyond::Outside => "outside",
                        Beyond::Ground => "ground",
                        Beyond::Heated => "heated",
                        _ => "unheated",
                    },
                    None,
                ),
            };
            out.push(WallDesign {
                room_id: room.id.clone(),
                edge: piece.edge,
                ends: [edge.at(piece.from_m), edge.at(piece.to_m)],
                beyond: beyond.into(),
                beyond_room_id,
            });
        }
    }
    out
}

fn totals(job: &Job, rooms: &[RoomDesign], loops: &[LoopDesign], water: &Water) -> Totals {
    let heat_loss_w: f64 = rooms.iter().map(|r| r.heat_loss_w).sum();
    let fields = || rooms.iter().flat_map(|r| &r.fields);
    let down_w: f64 = loops.iter().map(|l| l.output_down_w).chain(fields().map(|f| f.back_w)).sum();
    let source_w = heat_loss_w + down_w;
    let over = |w: f64| if w > 0.0 { w } else { f64::INFINITY };
    let old = job.old_source.as_ref();
    let old_output = old.and_then(|o| o.output_w.or(o.input_w)).filter(|w| *w > 0.0 && source_w > 0.0);
    Totals {
        heat_loss_w,
        down_w,
        source_w,
        old_source_ratio: old_output.map(|w| w / source_w),
        flat_rates: job
            .rules
            .flat_rates
            .iter()
            .enumerate()
            .map(|(k, rate)| {
                let heat_w = rooms.iter().map(|r| r.flat_rates_w[k]).sum();
                FlatRateHeat { name: rate.name.clone(), w_m2: rate.w_m2, heat_w, ratio: heat_w / over(heat_loss_w) }
            })
            .collect(),
        loops_w: loops
            .iter()
            .map(|l| l.output_up_w + l.output_down_w)
            .chain(fields().map(|f| f.heat_w + f.back_w))
            .sum(),
        supply_c: water.supply_c,
        return_c: mixed_return(loops.iter()),
        hardest_room_id: water.hardest.map(|r| job.rooms[r].id.clone()),
        flow_l_min: loops.iter().map(|l| l.flow_l_min).chain(fields().map(|f| f.flow_l_min)).sum(),
        tube_m: loops.iter().map(|l| l.length_m).chain(fields().map(|f| f.tube_m)).sum(),
    }
}

fn outlines(job: &Job, plan: &Plan) -> Vec<RoomOutline> {
    let outer = |s: &Storey| s.outer.iter().map(|p| p.map(|v| round(v, 1e4))).collect();
    let rooms = job.rooms.iter().zip(&plan.storeys);
    rooms.map(|(r, s)| RoomOutline { room_id: r.id.clone(), outer: outer(s) }).collect()
}

fn climate(job: &Job) -> ClimateDesign {
    let weather = job.site.weather.as_ref();
    let degree_days = |w: &Weather| [15.0, 18.0, 20.0].map(|base_c| DegreeDays { base_c, k_d: w.degree_days(base_c) });
    ClimateDesign {
        annual_mean_c: job.site.annual_mean(),
        degree_days: weather.map(|w| degree_days(w).to_vec()).unwrap_or_default(),
        colder_days: weather.map(|w| w.days.iter().filter(|d| d[0] < job.site.outdoor_c).count()),
        coldest_ground: weather
            .and_then(Weather::coldest_ground)
            .map(|(depth_m, temperature_c)| ColdestGround { depth_m, temperature_c }),
    }
}

fn constructions(job: &Job) -> Vec<ConstructionDesign> {
    job.constructions
        .iter()
        .map(|c| {
            let u = construction::u_in_place(c, c.position, |id| job.material(id));
            ConstructionDesign { id: c.id.clone(), u, thickness_m: construction::thickness(c) }
        })
        .collect()
}

//! The whole design of a job: heat loss → floor → loops → water, and what is to be said about it.
//!
//! `design` is a pure function: the same job gives the same design.

mod types;

pub use types::{
    ClimateDesign, ColdestGround, ConstructionDesign, DegreeDays, Design, FlatRateHeat, LoopDesign, ManifoldDesign,
    RoomDesign, RoomOutline, Totals, WallDesign,
};

use crate::climate::Weather;
use crate::construction;
use crate::error::FieldError;
use crate::floor::{self, Curve, Section};
use crate::fluid;
use crate::heat_loss;
use crate::job::{Floor, Job, Room, Usage};
use crate::layout::{self, Layout, audit};
use crate::library;
use crate::plan;
use crate::verdict;
use crate::water;

/// The floor of a room as the later stages see it.
struct FloorState {
    pub core: Curve,
    pub edge: Curve,
    /// Share of the heatable area in the edge band, 0…1.
    pub edge_share: f64,
    pub surface_limit_c: f64,
    pub supply_limit_c: f64,
    /// Excess at which a surface limit is reached, K.
    pub excess_limit_k: f64,
    pub below_c: f64,
    pub below_m2k_w: f64,
}

impl FloorState {
    fn k(&self) -> f64 {
        self.core.k_up_w_m2k * (1.0 - self.edge_share) + self.edge.k_up_w_m2k * self.edge_share
    }
}

/// Designs a job.
///
/// # Errors
/// As [`Job::check`], and when the fluid has no properties at the temperatures of the design.
pub fn design(job: &Job) -> Result<Design, FieldError> {
    job.check()?;
    let faces = plan::faces::faces(job);
    let heat = heat_loss::heat_loss(job);
    let losses = &heat.rooms;
    let layout = layout::lay_out(job);
    let breaches = audit::audit(job, &layout.loops);
    let coverage = audit::coverage(job, &layout.loops);
    let floors: Vec<Option<FloorState>> = (0..job.rooms.len()).map(|i| floor_state(job, i, &heat.below[i])).collect();
    let water = Water::solve(job, losses, &layout, &floors)?;

    let rooms: Vec<RoomDesign> = job
        .rooms
        .iter()
        .enumerate()
        .map(|(i, room)| room_design(job, room, i, &losses[i], floors[i].as_ref(), &water, &coverage))
        .collect();
    let loops = loop_designs(job, &layout, &water)?;
    let manifolds = manifold_designs(job, &loops);
    let totals = totals(job, &rooms, &loops, &water);
    let mut design = Design {
        rooms,
        loops,
        manifolds,
        walls: wall_designs(job),
        outlines: outlines(job, &faces),
        constructions: constructions(job),
        building: heat.building,
        climate: climate(job),
        totals,
        findings: vec![],
    };
    design.findings = verdict::judge(job, &design, &faces, &layout, &breaches, &coverage);
    Ok(design)
}

/// Mean surface that the rules allow in the room itself, covering aside, °C.
fn usage_limit(job: &Job, room: &Room) -> f64 {
    match room.usage {
        Usage::Bath => room.room_c + job.rules.surface_limit_bath_over_room_k,
        _ => job.rules.surface_limit_c,
    }
}

fn floor_state(job: &Job, index: usize, below: &heat_loss::Below) -> Option<FloorState> {
    let room = &job.rooms[index];
    let f: &Floor = room.heated_floor()?;
    let (build_up, covering, tube) =
        (library::build_up(&f.build_up_id)?, library::covering(&f.covering_id)?, library::tube(&f.tube_id)?);
    let insulation_m2k_w = f.insulation_m2k_w.unwrap_or(build_up.insulation_m2k_w);
    let below_m2k_w = below.resistance(job, insulation_m2k_w);
    let at =
        |spacing_m: f64| floor::curve(&Section { build_up, covering, tube, spacing_m, insulation_m2k_w, below_m2k_w });
    let (core, edge) = (at(f.spacing_core_m), at(f.spacing_edge_m));
    let area = plan::heatable_area(room);
    let edge_share = if f.spacing_edge_m < f.spacing_core_m && area > 0.0 {
        let outside: f64 =
            plan::wall_pieces(job, index).iter().filter(|p| p.is_outside()).map(plan::WallPiece::length).sum();
        (outside * job.rules.edge_band_m / area).min(1.0)
    } else {
        0.0
    };
    let surface_limit_c = usage_limit(job, room).min(covering.surface_limit_c);
    let edge_limit_c = job.rules.surface_limit_edge_c.max(usage_limit(job, room)).min(covering.surface_limit_c);
    let excess = |limit: f64, c: &Curve| floor::flux_of_surface_excess(limit - room.room_c) / c.k_up_w_m2k;
    let mut excess_limit_k = excess(surface_limit_c, &core);
    if edge_share > 0.0 {
        excess_limit_k = excess_limit_k.min(excess(edge_limit_c, &edge));
    }
    Some(FloorState {
        core,
        edge,
        edge_share,
        surface_limit_c,
        supply_limit_c: covering.supply_limit_c.min(build_up.supply_limit_c),
        excess_limit_k,
        below_c: below.temperature_c,
        below_m2k_w,
    })
}

/// Temperatures and heats that belong together: the supply temperature, each room's excess and drop, the heat of
/// fields and leaders.
struct Water {
    supply_c: Option<f64>,
    hardest: Option<usize>,
    /// By room.
    rooms: Vec<RoomWater>,
    /// By loop: heat upward in its own room, upward from leaders elsewhere, downward, W.
    loops: Vec<LoopHeat>,
}

#[derive(Clone, Default)]
struct RoomWater {
    needed: Option<f64>,
    excess_k: f64,
    drop_k: Option<f64>,
    field_area: f64,
    leader_heat: f64,
}

#[derive(Clone, Copy, Default)]
struct LoopHeat {
    field: f64,
    leaders: f64,
    down: f64,
}

impl Water {
    fn solve(
        job: &Job,
        losses: &[heat_loss::RoomLoss],
        layout: &Layout,
        floors: &[Option<FloorState>],
    ) -> Result<Water, FieldError> {
        let n = job.rooms.len();
        let lane = job.rules.lane_spacing_m;
        let heatable: Vec<f64> = job.rooms.iter().map(plan::heatable_area).collect();
        // floor under leaders of other rooms is theirs, not the field's; they never take more than half a room
        let strips: Vec<f64> =
            (0..n).map(|r| layout.loops.iter().filter_map(|l| l.leaders_in.get(&r)).sum::<f64>() * lane).collect();
        let mut water = Water {
            supply_c: None,
            hardest: None,
            rooms: vec![RoomWater::default(); n],
            loops: vec![LoopHeat::default(); layout.loops.len()],
        };
        for r in 0..n {
            water.rooms[r].field_area = (heatable[r] - strips[r]).max(0.5 * heatable[r]);
        }
        // The heat of leaders depends on the water, the water on what leaders leave to be given: two rounds settle it
        // to well below a watt, since leaders are a small part.
        for _ in 0..3 {
            water.supply_c = None;
            water.hardest = None;
            for r in 0..n {
                let Some(f) = &floors[r] else { continue };
                let room = &mut water.rooms[r];
                if room.field_area <= 0.0 {
                    continue;
                }
                let flux = ((losses[r].heat_w - room.leader_heat) / room.field_area).max(0.0);
                room.excess_k = (flux / f.k()).min(f.excess_limit_k.max(0.0));
                let needed = water::supply_for(job.rooms[r].room_c, room.excess_k, job.rules.temperature_drop_k);
                room.needed = (room.excess_k > 0.0).then_some(needed);
                let supply = needed.min(f.supply_limit_c);
                if room.excess_k > 0.0 && water.supply_c.is_none_or(|s| supply > s) {
                    water.supply_c = Some(supply);
                    water.hardest = Some(r);
                }
            }
            let Some(supply) = water.supply_c else { break };
            for r in 0..n {
                let room = &mut water.rooms[r];
                if room.needed.is_none() {
                    continue;
                }
                let room_c = job.rooms[r].room_c;
                match water::drop_for(room_c, supply, room.excess_k) {
                    Some(drop) if drop >= job.rules.temperature_drop_k - 1e-6 => room.drop_k = Some(drop),
                    // not hot enough for what it wants: it gets what the ordinary drop leaves it
                    _ => {
                        room.drop_k = Some(job.rules.temperature_drop_k);
                        room.excess_k = water::mean_excess(room_c, supply, job.rules.temperature_drop_k);
                    }
                }
            }
            water.share(job, layout, floors, supply);
        }
        Ok(water)
    }

    /// Heat of every loop and of leaders in the rooms they cross.
    fn share(&mut self, job: &Job, layout: &Layout, floors: &[Option<FloorState>], supply: f64) {
        let lane = job.rules.lane_spacing_m;
        let mut credit = vec![0.0; job.rooms.len()];
        let field = |l: &layout::LaidLoop| (l.length_m - l.leader_length_m).max(0.0);
        for (i, l) in layout.loops.iter().enumerate() {
            let (Some(f), room) = (&floors[l.room], &self.rooms[l.room]) else { continue };
            let all: f64 = layout.loops.iter().filter(|m| m.room == l.room).map(field).sum();
            let share = if all > 0.0 { field(l) / all } else { 0.0 };
            let room_c = job.rooms[l.room].room_c;
            let flux = f.k() * room.excess_k;
            let area = room.field_area * share;
            let mut heat = LoopHeat { field: flux * area, leaders: 0.0, down: 0.0 };
            if room.excess_k > 0.0 {
                heat.down = f.core.flux_down(flux, room_c, f.below_c) * area;
                let mean = supply - room.drop_k.unwrap_or(0.0) / 2.0;
                for (&crossed, &length) in &l.leaders_in {
                    let other = &job.rooms[crossed];
                    // under the other room's own floor, or the loop's where it has none
                    let (state, floor) = match (&floors[crossed], other.heated_floor()) {
                        (Some(s), Some(floor)) => (s, floor),
                        _ => (f, job.rooms[l.room].heated_floor().expect("a laid room has a floor")),
                    };
                    let curve = lane_curve(floor, lane, state.below_m2k_w).unwrap_or(state.core);
                    let up = curve.flux_up((mean - other.room_c).max(0.0)) * lane * length;
                    heat.leaders += up;
                    heat.down +=
                        curve.flux_down(up / (lane * length).max(1e-9), other.room_c, state.below_c) * lane * length;
                    credit[crossed] += up;
                }
            }
            self.loops[i] = heat;
        }
        for (room, credit) in self.rooms.iter_mut().zip(credit) {
            room.leader_heat = credit;
        }
    }
}

/// The floor over a bundle of leaders: as the room's, at the spacing of the lanes.
fn lane_curve(f: &Floor, lane: f64, below_m2k_w: f64) -> Option<Curve> {
    let (build_up, covering, tube) =
        (library::build_up(&f.build_up_id)?, library::covering(&f.covering_id)?, library::tube(&f.tube_id)?);
    let insulation_m2k_w = f.insulation_m2k_w.unwrap_or(build_up.insulation_m2k_w);
    Some(floor::curve(&Section { build_up, covering, tube, spacing_m: lane.max(0.05), insulation_m2k_w, below_m2k_w }))
}

fn room_design(
    job: &Job,
    room: &Room,
    index: usize,
    loss: &heat_loss::RoomLoss,
    floor: Option<&FloorState>,
    water: &Water,
    coverage: &[audit::Coverage],
) -> RoomDesign {
    let heatable = plan::heatable_area(room);
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
        surface_limit_c: None,
        striping_k: None,
        k_up_w_m2k: None,
        supply_needed_c: None,
        supply_limit_c: None,
        drop_k: w.drop_k,
        down_w: 0.0,
        leader_heat_w: w.leader_heat,
        coverage: coverage.iter().find(|c| c.room == index).map(|c| c.share),
    };
    if let Some(f) = floor {
        let flux = f.k() * w.excess_k;
        let core = f.core.flux_up(w.excess_k);
        out.flux_given_w_m2 = per_area(flux * w.field_area + w.leader_heat);
        out.flux_limit_w_m2 = Some(f.k() * f.excess_limit_k);
        out.surface_mean_c = Some(f.core.surface_mean(flux, room.room_c));
        let mut crest = f.core.surface_max(core, room.room_c);
        if f.edge_share > 0.0 {
            crest = crest.max(f.edge.surface_max(f.edge.flux_up(w.excess_k), room.room_c));
        }
        out.surface_max_c = Some(crest);
        out.surface_limit_c = Some(f.surface_limit_c);
        out.striping_k = Some(2.0 * f.core.ripple_m2k_w * core);
        out.k_up_w_m2k = Some(f.k());
        out.supply_needed_c = w.needed;
        out.supply_limit_c = Some(f.supply_limit_c);
        if w.excess_k > 0.0 {
            out.down_w = f.core.flux_down(flux, room.room_c, f.below_c) * w.field_area;
        }
    }
    out
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
                along += plan::distance(last, p);
                last = p;
                round(water::along(room.room_c, supply_c, return_c, along / l.length_m.max(1e-9)), 100.0)
            })
            .collect();
        out.push(LoopDesign {
            id: format!("{}/{}", room.id, l.piece + 1),
            tag: format!("{}{}", manifold.letter, l.port),
            manifold_id: manifold.id.clone(),
            port: l.port,
            room_ids: vec![room.id.clone()],
            tube_id: tube.id.clone(),
            length_m: l.length_m,
            leader_length_m: l.leader_length_m,
            limit_m: layout::longest_loop(job, tube),
            path: l.points.iter().map(|p| p.map(|v| round(v, 10_000.0))).collect(),
            path_c,
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

fn manifold_designs(job: &Job, loops: &[LoopDesign]) -> Vec<ManifoldDesign> {
    job.manifolds
        .iter()
        .enumerate()
        .map(|(i, m)| {
            let place = layout::manifold_place(job, i);
            let own = || loops.iter().filter(|l| l.manifold_id == m.id);
            ManifoldDesign {
                id: m.id.clone(),
                letter: m.letter.clone(),
                level_id: job.room(&m.room_id).map(|r| r.level_id.clone()).unwrap_or_default(),
                position: place.map(|p| p.1),
                inward: place.map(|p| p.2),
                ports: m.ports,
                ports_used: own().count() as u32,
                flow_l_min: own().map(|l| l.flow_l_min).sum(),
                head_needed_pa: own().map(|l| l.head_loss_pa).fold(0.0, f64::max),
                return_c: mixed_return(own()),
            }
        })
        .collect()
}

fn wall_designs(job: &Job) -> Vec<WallDesign> {
    let mut out = Vec::new();
    for (i, room) in job.rooms.iter().enumerate() {
        let edges = plan::edges(room);
        for piece in plan::wall_pieces(job, i) {
            let Some(edge) = edges.iter().find(|e| e.index == piece.edge) else { continue };
            let (beyond, beyond_room_id) = match &piece.behind {
                plan::Behind::Room { index, .. } => ("room", Some(job.rooms[*index].id.clone())),
                plan::Behind::Other(b) => (
                    match b {
                        crate::job::Beyond::Outside => "outside",
                        crate::job::Beyond::Ground => "ground",
                        crate::job::Beyond::Heated => "heated",
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
    let down_w: f64 = loops.iter().map(|l| l.output_down_w).sum();
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
        loops_w: loops.iter().map(|l| l.output_up_w + l.output_down_w).sum(),
        supply_c: water.supply_c,
        return_c: mixed_return(loops.iter()),
        hardest_room_id: water.hardest.map(|r| job.rooms[r].id.clone()),
        flow_l_min: loops.iter().map(|l| l.flow_l_min).sum(),
        tube_m: loops.iter().map(|l| l.length_m).sum(),
    }
}

fn outlines(job: &Job, faces: &[Vec<plan::faces::Face>]) -> Vec<RoomOutline> {
    job.rooms
        .iter()
        .enumerate()
        .map(|(i, r)| RoomOutline {
            room_id: r.id.clone(),
            outer: plan::storeys::outer_outline(job, i, &faces[i]).iter().map(|p| p.map(|v| round(v, 1e4))).collect(),
        })
        .collect()
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

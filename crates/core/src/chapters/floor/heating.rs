//! What heats each room, as curves: the zones of its floor, and fields in walls and ceiling.

use super::assembly::{self, Parts};
use super::curve::{Curve, Duty};
use crate::error::FieldError;
use crate::flow;
use crate::fluid;
use crate::heat_loss::below::{Below, open_c};
use crate::heat_loss::losses::HeatLoss;
use crate::job::{Beyond, Field, Floor, Job, Room, Usage};
use crate::layout::{LaidLoop, Layout};
use crate::library;
use crate::outdoors::load;
use crate::plan::Plan;
use crate::plan::storeys::Shared;
use crate::plan::walls::Behind;
use crate::section::Section;
use crate::section::film::{self, Face};
use std::collections::BTreeSet;

/// Film of the water before its flow is known, W/m²K: turbulent.
pub(crate) const FIRST_FILM_W_M2K: f64 = 1500.0;

/// What a leader in an insulating sleeve gives of what it would give bare: 9 mm of 0.04 W/mK round a tube of 16 mm is
/// ln(34/16)/(2π·0.04) = 3.0 mK/W, about as much as floor over a bundle has at 50 mm of it, 1/(7 W/m²K · 0.05 m).
pub(crate) const SLEEVED: f64 = 0.5;

/// Film to the outside air, m²K/W (ISO 6946).
const FILM_OUTSIDE_M2K_W: f64 = 0.04;

/// A zone of a floor: perimeter zone, core, or a patch.
pub(crate) struct Zone {
    /// Of the heated floor, 0…1.
    pub share: f64,
    pub curve: Curve,
    pub surface_limit_c: f64,
}

/// The heated floor of a room.
pub(crate) struct FloorState {
    /// The core first, always there; then the edge, where there is one; then patches.
    pub zones: Vec<Zone>,
    pub edge_share: f64,
    /// Of the core.
    pub surface_limit_c: f64,
    pub supply_limit_c: f64,
    /// Excess at which a surface limit is reached, K.
    pub excess_limit_k: f64,
    /// Floor under a bundle of leaders.
    pub lanes: Option<Curve>,
    pub height_m: f64,
    pub weight_kg_m2: f64,
    pub under_m2k_w: f64,
}

/// A field in a wall or the ceiling.
#[derive(Clone)]
pub(crate) struct FieldState {
    pub area_m2: f64,
    pub curve: Curve,
    pub surface_limit_c: f64,
    pub supply_limit_c: f64,
    pub excess_limit_k: f64,
}

/// All that heats a room by tube.
#[derive(Default)]
pub(crate) struct Heating {
    pub floor: Option<FloorState>,
    pub fields: Vec<FieldState>,
}

impl FloorState {
    pub fn core(&self) -> &Curve {
        &self.zones[0].curve
    }

    /// The perimeter zone, where there is one.
    pub fn edge(&self) -> Option<&Curve> {
        (self.edge_share > 0.0).then(|| &self.zones[1].curve)
    }

    fn sum(&self, of: impl Fn(&Curve) -> f64) -> f64 {
        self.zones.iter().map(|z| z.share * of(&z.curve)).sum()
    }

    /// Mean upward flux, W/m²; none without water.
    pub fn flux_up(&self, excess_k: f64) -> f64 {
        if excess_k <= 0.0 { 0.0 } else { self.sum(|c| c.flux_up(excess_k)).max(0.0) }
    }

    /// The zones of patches, in the job's order.
    pub fn patches(&self) -> &[Zone] {
        &self.zones[if self.edge_share > 0.0 { 2 } else { 1 }..]
    }

    pub fn flux_down(&self, excess_k: f64) -> f64 {
        if excess_k <= 0.0 { 0.0 } else { self.sum(|c| c.flux_down(excess_k)) }
    }

    /// Downward flux into a room below of that temperature, W/m²; none without water.
    pub fn flux_down_to(&self, excess_k: f64, below_c: f64) -> f64 {
        if excess_k <= 0.0 { 0.0 } else { self.sum(|c| c.flux_down_to(excess_k, below_c)) }
    }

    pub fn k_up(&self, excess_k: f64) -> f64 {
        self.sum(|c| c.k_up(excess_k))
    }

    /// Warmest line, coolest line, and the largest difference within one zone.
    pub fn surface(&self, excess_k: f64) -> Surface {
        let ranges = self.zones.iter().filter(|z| z.share > 0.0).map(|z| z.curve.surface_range(excess_k));
        ranges.fold(Surface { max_c: f64::NEG_INFINITY, min_c: f64::INFINITY, striping_k: 0.0 }, |s, (warm, cool)| {
            Surface { max_c: s.max_c.max(warm), min_c: s.min_c.min(cool), striping_k: s.striping_k.max(warm - cool) }
        })
    }
}

/// The surface of a floor.
pub(crate) struct Surface {
    pub max_c: f64,
    pub min_c: f64,
    pub striping_k: f64,
}

/// Film of the water in each of so many loops that share that heat, W/m²K; none without flow.
pub(crate) fn water_film(
    job: &Job,
    tube: &library::Tube,
    heat_w: f64,
    loops: f64,
    supply_c: f64,
    drop_k: f64,
) -> Result<Option<f64>, FieldError> {
    if heat_w <= 0.0 || drop_k <= 0.0 {
        return Ok(None);
    }
    let properties = fluid::properties(&job.fluid, supply_c - drop_k / 2.0)?;
    let flow_m3_s = heat_w / loops / drop_k / properties.specific_heat / properties.density;
    Ok(Some(film::water(tube.bore_m(), flow::velocity(flow_m3_s, tube.bore_m()), &properties)))
}

impl Heating {
    pub fn is_any(&self) -> bool {
        self.floor.is_some() || !self.fields.is_empty()
    }

    /// Highest supply temperature that all of it stands, °C.
    pub fn supply_limit_c(&self) -> f64 {
        let floor = self.floor.iter().map(|f| f.supply_limit_c);
        floor.chain(self.fields.iter().map(|f| f.supply_limit_c)).fold(f64::INFINITY, f64::min)
    }

    /// Highest excess at which any of it still gives more, K.
    pub fn excess_limit_k(&self) -> f64 {
        let floor = self.floor.iter().map(|f| f.excess_limit_k);
        floor.chain(self.fields.iter().map(|f| f.excess_limit_k)).fold(0.0, f64::max)
    }

    /// Heat into the room, W: each part throttled where its surface reaches its limit.
    pub fn heat(&self, floor_area_m2: f64, excess_k: f64) -> f64 {
        let floor = self.floor.as_ref().map_or(0.0, |f| f.flux_up(excess_k.min(f.excess_limit_k)) * floor_area_m2);
        floor + self.fields_heat(excess_k)
    }

    /// Heat of the fields alone, W.
    pub fn fields_heat(&self, excess_k: f64) -> f64 {
        self.fields.iter().map(|f| field_flux(f, excess_k) * f.area_m2).sum()
    }

    /// Excess that gives that heat, K; the highest useful one where none does; 0 for none.
    pub fn excess_for(&self, floor_area_m2: f64, heat_w: f64) -> f64 {
        if heat_w <= 0.0 {
            return 0.0;
        }
        let (mut low, mut high) = (0.0, self.excess_limit_k());
        if self.heat(floor_area_m2, high) <= heat_w {
            return high;
        }
        // false position with a bisection now and then: the curve is almost straight
        let (mut at_low, mut at_high) = (self.heat(floor_area_m2, low), self.heat(floor_area_m2, high));
        for round in 0..40 {
            let part = if round % 3 == 2 { 0.5 } else { ((heat_w - at_low) / (at_high - at_low)).clamp(0.001, 0.999) };
            let middle = low + (high - low) * part;
            let at = self.heat(floor_area_m2, middle);
            if (at - heat_w).abs() < 1e-7 * heat_w {
                return middle;
            }
            if at < heat_w {
                (low, at_low) = (middle, at);
            } else {
                (high, at_high) = (middle, at);
            }
        }
        0.5 * (low + high)
    }
}

/// Flux of a field, throttled at its limit, W/m².
pub(crate) fn field_flux(field: &FieldState, excess_k: f64) -> f64 {
    let excess = excess_k.min(field.excess_limit_k);
    if excess <= 0.0 { 0.0 } else { field.curve.flux_up(excess).max(0.0) }
}

/// Mean surface that the rules allow in the room itself, covering aside, °C.
pub(crate) fn usage_limit(job: &Job, room: &Room) -> f64 {
    match room.usage {
        Usage::Bath => room.room_c + job.rules.surface_limit_bath_over_room_k,
        _ => job.rules.surface_limit_c,
    }
}

/// Surface limit of the perimeter zone under that covering, °C.
pub(crate) fn edge_limit(job: &Job, room: &Room, covering: &library::Covering) -> f64 {
    job.rules.surface_limit_edge_c.max(usage_limit(job, room)).min(covering.surface_limit_c)
}

/// Part of a room's heatable floor that lies in its perimeter zone.
pub(crate) fn edge_share(plan: &Plan, index: usize, floor: &Floor) -> f64 {
    let area = plan.heatable_m2[index];
    if floor.spacing_edge_m >= floor.spacing_core_m || area <= 0.0 {
        return 0.0;
    }
    (plan.perimeter_m2[index] / area).min(1.0)
}

/// What surrounds a section under a room's floor.
pub(crate) fn floor_duty(job: &Job, index: usize, below: &Below, section: &Section, water_film_w_m2k: f64) -> Duty {
    Duty {
        face: Face::Floor,
        room_c: job.rooms[index].room_c,
        below_c: below.temperature_c,
        below_m2k_w: below.resistance(job, assembly::under_m2k_w(section)),
        water_film_w_m2k,
        film_up_w_m2k: load::duty(job, index).map(|d| d.film_w_m2k),
    }
}

/// The parts of a room's floor, by the library and the job's own.
pub(crate) fn floor_parts<'a>(job: &'a Job, floor: &Floor) -> Option<Parts<'a>> {
    Some(Parts {
        build_up: job.build_up(&floor.build_up_id)?,
        covering: job.covering(&floor.covering_id),
        rug_m2k_w: 0.0,
        tube: job.tube(&floor.tube_id)?,
        spacing_m: floor.spacing_core_m,
        insulation_m2k_w: floor.insulation_m2k_w,
    })
}

/// What heats every room. `films`: of the water in each room's floor, W/m²K.
pub(crate) fn heating(
    job: &Job,
    plan: &Plan,
    heat: &HeatLoss,
    layout: &Layout,
    films: &[f64],
) -> Result<Vec<Heating>, FieldError> {
    let crossed: BTreeSet<usize> = layout.loops.iter().flat_map(LaidLoop::rooms).collect();
    (0..job.rooms.len())
        .map(|i| {
            let room = &job.rooms[i];
            let floor = match room.heated_floor() {
                Some(f) => floor_parts(job, f)
                    .map(|parts| {
                        floor_state(
                            RoomOf { job, plan, index: i },
                            f,
                            &parts,
                            &heat.below[i],
                            films[i],
                            crossed.contains(&i),
                        )
                    })
                    .transpose()
                    .map_err(|e| FieldError::new(format!("rooms[{i}].floor"), e.reason))?,
                None => None,
            };
            let mut fields = Vec::new();
            for (k, field) in room.heated_fields().iter().enumerate() {
                let state = field_state(job, plan, i, field, heat)
                    .map_err(|e| FieldError::new(format!("rooms[{i}].fields[{k}]"), e.reason))?;
                fields.extend(state);
            }
            Ok(Heating { floor, fields })
        })
        .collect()
}

/// A room of a job whose plan is read.
#[derive(Clone, Copy)]
pub(crate) struct RoomOf<'a> {
    pub job: &'a Job,
    pub plan: &'a Plan,
    pub index: usize,
}

/// The floor of a room made of those parts, its spacings and patches by `floor`.
pub(crate) fn floor_state(
    RoomOf { job, plan, index }: RoomOf,
    floor: &Floor,
    parts: &Parts,
    below: &Below,
    film: f64,
    crossed: bool,
) -> Result<FloorState, FieldError> {
    let room = &job.rooms[index];
    let covering = parts.covering.ok_or_else(|| FieldError::new("covering_id", "is not in the library"))?;
    let materials = |id: &str| job.material(id);
    let curve = |parts: &Parts| -> Result<Curve, FieldError> {
        let section = assembly::section(parts, &materials)?;
        Curve::new(&section, floor_duty(job, index, below, &section, film))
    };
    let limit = usage_limit(job, room);
    let edge_share = edge_share(plan, index, floor);
    let area = plan.heatable_m2[index];
    let patch_share = |m2: f64| if area > 0.0 { (m2 / area).min(1.0) } else { 0.0 };
    let patched: f64 = floor.patches.iter().map(|p| patch_share(p.area_m2)).sum::<f64>();
    // more patches than floor: they are all there is, and a finding says so
    let (scale, rest) = if patched > 1.0 { (1.0 / patched, 0.0) } else { (1.0, 1.0 - patched) };
    let core = curve(parts)?;
    let mut zones = vec![Zone {
        share: rest * (1.0 - edge_share),
        curve: core,
        surface_limit_c: limit.min(covering.surface_limit_c),
    }];
    if edge_share > 0.0 {
        let edge = Parts { spacing_m: floor.spacing_edge_m, ..*parts };
        zones.push(Zone {
            share: rest * edge_share,
            curve: curve(&edge)?,
            surface_limit_c: edge_limit(job, room, covering),
        });
    }
    let mut supply_limit_c = covering.supply_limit_c.min(parts.build_up.supply_limit_c);
    for patch in &floor.patches {
        let own = patch.covering_id.as_deref().and_then(|id| job.covering(id)).unwrap_or(covering);
        let rug_m2k_w = patch.rug_m2k_w.unwrap_or(0.0);
        let curve = curve(&Parts { covering: Some(own), rug_m2k_w, ..*parts })?;
        supply_limit_c = supply_limit_c.min(own.supply_limit_c);
        zones.push(Zone {
            share: scale * patch_share(patch.area_m2),
            curve,
            surface_limit_c: limit.min(own.surface_limit_c),
        });
    }
    let at_limit =
        zones.iter().filter(|z| z.share > 0.0).map(|z| z.curve.excess_for(z.curve.flux_at_surface(z.surface_limit_c)));
    let excess_limit_k = at_limit.fold(f64::INFINITY, f64::min).max(0.0);
    let lanes =
        if crossed { curve(&Parts { spacing_m: job.rules.lane_spacing_m.max(0.05), ..*parts }).ok() } else { None };
    let under_m2k_w = assembly::under_m2k_w(&assembly::section(parts, &materials)?);
    let (height_m, weight_kg_m2) = assembly::added(parts, &materials);
    Ok(FloorState {
        edge_share,
        surface_limit_c: zones[0].surface_limit_c,
        supply_limit_c,
        excess_limit_k: if excess_limit_k.is_finite() { excess_limit_k } else { 0.0 },
        zones,
        lanes,
        height_m,
        weight_kg_m2,
        under_m2k_w,
    })
}

/// Temperature and film behind a wall field: of what is behind the greater part of its wall; over a ceiling field, of what
/// is above.
fn behind(job: &Job, plan: &Plan, index: usize, field: &Field, heat: &HeatLoss) -> (f64, f64) {
    let film = film::back_m2k_w(field.face());
    let Some(edge) = field.edge else { return (heat.above_c[index], film) };
    match plan.piece_of_fields(index, edge).map(|p| &p.behind) {
        Some(Behind::Room { index, .. }) => (heat.rooms[*index].temperature_c, film),
        Some(Behind::Other(Beyond::Outside)) => (job.site.outdoor_c, FILM_OUTSIDE_M2K_W),
        Some(Behind::Other(beyond)) => (open_c(job, beyond, job.rooms[index].room_c), film),
        None => (job.rooms[index].room_c, film),
    }
}

/// The heated rooms into which the backs of a field give their heat, each with its share.
pub(crate) fn rooms_behind(job: &Job, plan: &Plan, index: usize, field: &Field) -> Vec<(usize, f64)> {
    match field.edge {
        Some(edge) => match plan.piece_of_fields(index, edge).map(|p| &p.behind) {
            Some(Behind::Room { index: other, .. }) if job.rooms[*other].is_heated() => vec![(*other, 1.0)],
            _ => vec![],
        },
        None => shares(job, &plan.storeys[index].above, plan.storeys[index].open_above_m2),
    }
}

/// The heated rooms below a floor, each with its share of it.
pub(crate) fn rooms_below(job: &Job, plan: &Plan, index: usize) -> Vec<(usize, f64)> {
    shares(job, &plan.storeys[index].below, plan.storeys[index].open_below_m2)
}

fn shares(job: &Job, rooms: &[Shared], open_m2: f64) -> Vec<(usize, f64)> {
    let all = rooms.iter().map(|s| s.area_m2).sum::<f64>() + open_m2;
    let heated = rooms.iter().filter(|s| job.rooms[s.room].is_heated() && all > 0.0);
    heated.map(|s| (s.room, s.area_m2 / all)).collect()
}

pub(crate) fn field_state(
    job: &Job,
    plan: &Plan,
    index: usize,
    field: &Field,
    heat: &HeatLoss,
) -> Result<Option<FieldState>, FieldError> {
    let room = &job.rooms[index];
    let (Some(build_up), Some(tube)) = (job.build_up(&field.build_up_id), job.tube(&field.tube_id)) else {
        return Ok(None);
    };
    let parts =
        Parts { build_up, covering: None, rug_m2k_w: 0.0, tube, spacing_m: field.spacing_m, insulation_m2k_w: None };
    let section = assembly::section(&parts, &|id: &str| job.material(id))?;
    let face = field.face();
    let (below_c, below_m2k_w) = behind(job, plan, index, field, heat);
    let (water_film_w_m2k, film_up_w_m2k) = (FIRST_FILM_W_M2K, None);
    let duty = Duty { face, room_c: room.room_c, below_c, below_m2k_w, water_film_w_m2k, film_up_w_m2k };
    let curve = Curve::new(&section, duty)?;
    let surface_limit_c =
        if face == Face::Wall { job.rules.surface_limit_wall_c } else { job.rules.surface_limit_ceiling_c };
    let excess_limit_k = curve.excess_for(curve.flux_at_surface(surface_limit_c)).max(0.0);
    Ok(Some(FieldState {
        area_m2: field.area_m2(),
        curve,
        surface_limit_c,
        supply_limit_c: build_up.supply_limit_c,
        excess_limit_k,
    }))
}

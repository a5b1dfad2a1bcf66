//! A floor tried in a room: what it does there, judged against the room's load and the house rules.

use super::assembly::Parts;
use super::heating::{
    FIRST_FILM_W_M2K, FieldState, FloorState, Heating, RoomOf, edge_share, field_state, floor_state, water_film,
};
use crate::error::FieldError;
use crate::flow::{self, Part};
use crate::heat_loss::losses::HeatLoss;
use crate::job::{Floor, Job};
use crate::layout::{self, Layout};
use crate::plan::Plan;
use crate::section::film;
use crate::water::circuit::Water;
use serde::{Deserialize, Serialize};

/// A house rule or limit that a variant breaks.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum BrokenLimit {
    /// It does not meet the load within its surface limit.
    Surface,
    /// The water it needs (or is given) is more than covering or build-up stand.
    Supply,
    /// It does not meet the load at the supply temperature asked for.
    Short,
    /// Bare feet feel the tubes.
    Striping,
    /// The firm does not lay that spacing.
    Spacing,
    /// The covering holds back more than 0.15 m²K/W.
    Covering,
}

/// What a variant does in its room.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Outcome {
    /// Whether it gives what the room needs within every limit of surface and water.
    pub carries: bool,
    /// Supply temperature it needs, or the one asked for, °C.
    pub supply_c: f64,
    /// Heat into the room, fields included, W.
    pub given_w: f64,
    /// What it gives less than the room needs, W.
    pub short_w: f64,
    /// Heat into the room, W/m².
    pub flux_w_m2: f64,
    /// The most it gives within its surface limit, W/m².
    pub flux_limit_w_m2: f64,
    /// Heat to below, W/m².
    pub down_w_m2: f64,
    /// Mean surface, °C.
    pub surface_mean_c: f64,
    /// Warmest line, °C.
    pub surface_max_c: f64,
    /// Surface ripple, K.
    pub striping_k: f64,
    /// Tube in the field, without leaders, m.
    pub tube_m: f64,
    /// Height it adds, m.
    pub height_m: f64,
    /// Weight it adds, kg/m².
    pub weight_kg_m2: f64,
    /// Mean delay of the heat after a step of the water, s.
    pub time_constant_s: f64,
    /// What it breaks.
    pub breaches: Vec<BrokenLimit>,
}

/// A room to be heated, with all that does not change from floor to floor.
pub struct FloorTrial<'a> {
    pub(super) job: &'a Job,
    plan: &'a Plan,
    index: usize,
    heat: &'a HeatLoss,
    /// Floor under the field of its own loops, m².
    area_m2: f64,
    need_w: f64,
    /// Its loops as they are laid, and at what spacing.
    loops: usize,
    spacing_m: f64,
    parts: Vec<Part>,
    /// The circuit's supply temperature, and the drop at which the house rules hold its loops open, where they do.
    supply_c: Option<f64>,
    held_k: Option<f64>,
    fields: Vec<FieldState>,
}

impl<'a> FloorTrial<'a> {
    /// The task of that room as the study has it: what leaders, neighbours and emitters give it counts as it is now.
    ///
    /// # Errors
    /// As the design of the room's fields.
    pub(crate) fn new(
        job: &'a Job,
        plan: &'a Plan,
        index: usize,
        heat: &'a HeatLoss,
        water: &Water,
        layout: &Layout,
    ) -> Result<FloorTrial<'a>, FieldError> {
        let supply_c = water.supply_of(index);
        let (room, water) = (&job.rooms[index], &water.rooms[index]);
        let mut fields = Vec::new();
        for field in room.heated_fields() {
            fields.extend(field_state(job, plan, index, field, heat)?);
        }
        Ok(FloorTrial {
            job,
            plan,
            index,
            heat,
            area_m2: water.field_area,
            need_w: (heat.rooms[index].heat_w - water.credit()).max(0.0),
            loops: layout.loops.iter().filter(|l| l.heats(index)).count(),
            spacing_m: room.heated_floor().map_or(1.0, |f| f.spacing_core_m),
            parts: water.parts.clone(),
            supply_c,
            held_k: water.drop_k.filter(|_| water.held_open),
            fields,
        })
    }

    /// What a floor of those parts does here, at the supply temperature asked for or at the one it needs, with the film of
    /// the flow that comes out.
    ///
    /// # Errors
    /// When the parts do not go together, or the fluid has no properties at that temperature.
    pub fn outcome(&self, floor: &Floor, parts: &Parts, asked: Option<f64>) -> Result<Outcome, FieldError> {
        let loops = self.loops_of(floor, parts);
        let part: f64 = self.parts.iter().map(|p| p.share * (p.to - p.from)).sum();
        let mut film = FIRST_FILM_W_M2K;
        let mut round = 0;
        let (state, water) = loop {
            let (state, water) = self.run(floor, parts, asked, film)?;
            let heat = (state.flux_up(water.own) + state.flux_down(water.own)) * self.area_m2 / part.max(1e-3);
            let (supply_c, drop) = self.flowing(&water, asked.is_some());
            let wanted = water_film(self.job, parts.tube, heat, loops, supply_c, drop)?;
            let next = film::nearer(film, wanted.unwrap_or(FIRST_FILM_W_M2K), round);
            round += 1;
            if next == film || round == film::MOST_ROUNDS {
                break (state, water);
            }
            film = next;
        };
        Ok(self.judge(floor, parts, &state, &water, asked.is_some()))
    }

    /// The supply temperature and the drop of its water: on a warmer circuit its loops are throttled, as far as the house
    /// rules have it.
    fn flowing(&self, water: &Supplied, asked: bool) -> (f64, f64) {
        let rules = &self.job.rules;
        let ordinary = (water.supply_c, rules.temperature_drop_k);
        let Some(supply_c) = self.supply_c.filter(|s| !asked && *s > water.supply_c) else { return ordinary };
        let room_c = self.job.rooms[self.index].room_c;
        let throttled = flow::drop_for_parts(room_c, supply_c, water.own, &self.parts).unwrap_or(ordinary.1);
        let most = self.held_k.unwrap_or(f64::INFINITY).min(rules.largest_drop_k).max(ordinary.1);
        (supply_c, throttled.clamp(ordinary.1, most))
    }

    /// Its loops with that floor: as they are laid where the spacing stays, else as many as the longest loop allows.
    fn loops_of(&self, floor: &Floor, parts: &Parts) -> f64 {
        if self.loops > 0 && (floor.spacing_core_m - self.spacing_m).abs() < 1e-6 {
            return self.loops as f64;
        }
        (self.tube_m(floor) / layout::longest_loop(self.job, parts.tube)).ceil().max(1.0)
    }

    /// The floor under that film of water, and the water that runs in it.
    fn run(
        &self,
        floor: &Floor,
        parts: &Parts,
        asked: Option<f64>,
        film: f64,
    ) -> Result<(FloorState, Supplied), FieldError> {
        let drop = self.job.rules.temperature_drop_k;
        let room_c = self.job.rooms[self.index].room_c;
        let state = floor_state(
            RoomOf { job: self.job, plan: self.plan, index: self.index },
            floor,
            parts,
            &self.heat.below[self.index],
            film,
            false,
        )?;
        let limit = state.excess_limit_k;
        let heating = Heating { floor: Some(state), fields: self.fields.clone() };
        let excess = match asked {
            Some(supply) => flow::mean_excess_of(room_c, supply, drop, &self.parts),
            None => heating.excess_for(self.area_m2, self.need_w),
        };
        let supply_c = asked.unwrap_or_else(|| flow::supply_for_parts(room_c, excess, drop, &self.parts));
        let supply_limit_c = heating.supply_limit_c();
        // a floor that needs warmer water than it stands is given what it stands
        let given = if asked.is_none() && supply_c > supply_limit_c {
            excess.min(flow::mean_excess_of(room_c, supply_limit_c, drop, &self.parts))
        } else {
            excess
        };
        let water = Supplied {
            supply_c,
            supply_limit_c,
            own: if asked.is_some() { given } else { given.min(limit) },
            fields_w: heating.fields_heat(given),
            surface_carries: heating.heat(self.area_m2, excess) >= 0.998 * self.need_w,
        };
        let state = heating.floor.ok_or_else(|| FieldError::new("floor", "cannot be solved"))?;
        Ok((state, water))
    }

    fn tube_m(&self, floor: &Floor) -> f64 {
        let edge = edge_share(self.plan, self.index, floor);
        self.area_m2 * (edge / floor.spacing_edge_m + (1.0 - edge) / floor.spacing_core_m)
    }

    fn judge(&self, floor: &Floor, parts: &Parts, state: &FloorState, w: &Supplied, asked: bool) -> Outcome {
        let rules = &self.job.rules;
        let flux = state.flux_up(w.own);
        let given_w = flux * self.area_m2 + w.fields_w;
        let short_w = (self.need_w - given_w).max(0.0);
        let over_surface = w.own > state.excess_limit_k * 1.001 + 1e-6;
        let surface = state.surface(w.own);
        let is_short = short_w > 0.002 * self.need_w.max(1.0);
        let mut breaches = Vec::new();
        let mut breach = |broken: bool, what| broken.then(|| breaches.push(what));
        breach(if asked { over_surface } else { !w.surface_carries }, BrokenLimit::Surface);
        breach(w.supply_c > w.supply_limit_c + 0.05, BrokenLimit::Supply);
        breach(asked && is_short, BrokenLimit::Short);
        breach(surface.striping_k > rules.striping_limit_k, BrokenLimit::Striping);
        let offered = |s: f64| rules.spacings_m.iter().any(|o| (o - s).abs() < 1e-6);
        breach(!offered(floor.spacing_core_m) || !offered(floor.spacing_edge_m), BrokenLimit::Spacing);
        breach(parts.covering.is_some_and(|c| c.resistance_m2k_w > 0.15 + 1e-9), BrokenLimit::Covering);
        let carries =
            !breaches.iter().any(|b| matches!(b, BrokenLimit::Surface | BrokenLimit::Supply | BrokenLimit::Short));
        Outcome {
            carries,
            supply_c: w.supply_c,
            given_w,
            short_w: if is_short { short_w } else { 0.0 },
            flux_w_m2: flux,
            flux_limit_w_m2: state.flux_up(state.excess_limit_k),
            down_w_m2: state.flux_down(w.own),
            surface_mean_c: state.core().surface_mean(flux),
            surface_max_c: surface.max_c,
            striping_k: surface.striping_k,
            tube_m: self.tube_m(floor),
            height_m: state.height_m,
            weight_kg_m2: state.weight_kg_m2,
            time_constant_s: state.core().time_constant_s,
            breaches,
        }
    }
}

/// The water of a variant.
struct Supplied {
    supply_c: f64,
    /// Highest that floor and fields stand, °C.
    supply_limit_c: f64,
    /// Excess in the floor, K.
    own: f64,
    /// Heat of the room's fields, W.
    fields_w: f64,
    /// Whether the surfaces could give what the room needs, with water as warm as it takes.
    surface_carries: bool,
}

//! Temperatures and heats that belong together: the supply temperature, each room's excess and drop, the heat of loops,
//! leaders and fields.

use crate::error::FieldError;
use crate::floor::heating::{
    FIRST_FILM_W_M2K, Heating, SLEEVED, field_flux, heating, rooms_behind, rooms_below, water_film,
};
use crate::flow::{self, Part};
use crate::fluid;
use crate::heat_loss::losses::HeatLoss;
use crate::job::{Job, Room, Usage};
use crate::layout::{self, Layout, Problem};
use crate::plan::Plan;
use crate::section::film;

/// Less floor than this does not set the water of a house, m².
const SMALLEST_M2: f64 = 0.5;
/// Heat of leaders is settled when no room's changes by more than this from one round to the next, W.
const SETTLED_W: f64 = 1e-3;
/// Leaders are a small part: each round is about ten times nearer. So many rounds at most.
const MOST_ROUNDS: usize = 40;

/// What a circuit is fed with.
#[derive(Clone, Copy, Default)]
pub(crate) struct Supply {
    /// Supply temperature, °C; none where nothing wants heat.
    pub supply_c: Option<f64>,
    /// The room that sets it; none where its valve is set by hand.
    pub governing: Option<usize>,
}

/// The water of a job, circuit by circuit.
pub(crate) struct Water {
    /// By circuit; a job that names none has one.
    pub supplies: Vec<Supply>,
    /// The circuit of each room.
    pub of_room: Vec<usize>,
    /// What heats every room by tube.
    pub heating: Vec<Heating>,
    /// By room.
    pub rooms: Vec<RoomWater>,
    /// By loop: heat upward in its own room, upward from leaders elsewhere, downward, W.
    pub loops: Vec<LoopHeat>,
    /// By room: heat that leaves its floor downward, of its own loops and of leaders that cross it, W.
    pub down: Vec<f64>,
}

#[derive(Clone, Default)]
pub(crate) struct RoomWater {
    /// Supply temperature that gives the room what it needs, °C.
    pub needed: Option<f64>,
    /// Excess of the water that the room wants, K.
    pub excess_k: f64,
    /// Excess in its floor: no more than its surface stands, K.
    pub floor_excess_k: f64,
    pub drop_k: Option<f64>,
    /// Where it lies on the way of the water.
    pub parts: Vec<Part>,
    pub field_area: f64,
    pub leader_heat: f64,
    /// From the undersides of heated floors above and the backs of neighbours' fields, W.
    pub from_neighbours: f64,
    /// Of its emitters beside the tubes, W.
    pub beside: f64,
    /// Its loops have more water than it needs: the largest drop or the least flow says so.
    pub held_open: bool,
    pub fields: Vec<FieldWater>,
}

impl RoomWater {
    /// Heat that the room's own floor and fields need not give, W.
    pub fn credit(&self) -> f64 {
        self.leader_heat + self.from_neighbours + self.beside
    }
}

/// The circuits of a field in a wall or ceiling.
#[derive(Clone, Default)]
pub(crate) struct FieldWater {
    pub excess_k: f64,
    pub drop_k: Option<f64>,
    pub back_w: f64,
    pub tube_m: f64,
    pub circuits: u32,
    pub circuit_m: f64,
    pub manifold: Option<usize>,
    pub flow_l_min: f64,
    pub velocity_m_s: f64,
    pub head_loss_pa: f64,
    pub return_c: f64,
}

#[derive(Clone, Copy, Default)]
pub(crate) struct LoopHeat {
    pub field: f64,
    pub leaders: f64,
    pub down: f64,
}

impl Water {
    /// The heating of every room and its water: with turbulent water first, then with the films of the flow that came out,
    /// until no film is off by more than [`film::SETTLED`].
    pub fn settle(job: &Job, plan: &Plan, heat: &HeatLoss, layout: &Layout) -> Result<Water, FieldError> {
        let mut films = vec![FIRST_FILM_W_M2K; job.rooms.len()];
        let mut round = 0;
        let (heating, mut circuit) = loop {
            let heating = heating(job, plan, heat, layout, &films)?;
            let circuit = Water::solve(job, plan, heat, layout, &heating);
            let wanted = circuit.films(job, layout, &heating)?;
            let next: Vec<f64> = films.iter().zip(wanted).map(|(now, h)| film::nearer(*now, h, round)).collect();
            round += 1;
            if next == films || round == film::MOST_ROUNDS {
                break (heating, circuit);
            }
            films = next;
        };
        circuit.field_circuits(job, &heating)?;
        circuit.heating = heating;
        Ok(circuit)
    }

    fn solve(job: &Job, plan: &Plan, heat: &HeatLoss, layout: &Layout, heating: &[Heating]) -> Water {
        let n = job.rooms.len();
        let lane = job.rules.lane_spacing_m;
        let heatable = &plan.heatable_m2;
        // floor under leaders of other rooms is theirs, not the field's; they never take more than half a room
        let strips: Vec<f64> =
            (0..n).map(|r| layout.loops.iter().filter_map(|l| l.leaders_in.get(&r)).sum::<f64>() * lane).collect();
        let of_room = circuits_of_rooms(job, layout);
        let mut water = Water {
            supplies: vec![Supply::default(); job.circuits.len().max(1)],
            of_room,
            heating: vec![],
            rooms: vec![RoomWater::default(); n],
            loops: vec![LoopHeat::default(); layout.loops.len()],
            down: vec![0.0; n],
        };
        for r in 0..n {
            // a room without a loop of its own has what the leaders give it
            let by_leaders = layout.problems.contains(&Problem::ByLeaders { room: r });
            water.rooms[r].field_area = if by_leaders { 0.0 } else { (heatable[r] - strips[r]).max(0.5 * heatable[r]) };
            water.rooms[r].parts = parts(layout, r);
            water.rooms[r].beside = job.rooms[r].beside_w();
            water.rooms[r].fields = vec![FieldWater::default(); heating[r].fields.len()];
        }
        let in_series = in_series(layout, n);
        let neighbours = Neighbours::of(job, plan);
        // The heat of leaders, and what comes down from a floor above, depends on the water; the water on what they leave to be
        // given
        for _ in 0..MOST_ROUNDS {
            let before: Vec<f64> = water.rooms.iter().map(RoomWater::credit).collect();
            water.supplies.fill(Supply::default());
            let mut others: Vec<Option<(f64, usize)>> = vec![None; water.supplies.len()];
            for (r, state) in heating.iter().enumerate() {
                let room = &mut water.rooms[r];
                // nothing of an earlier round stays where leaders alone turn out to be enough
                (room.needed, room.excess_k, room.floor_excess_k, room.drop_k) = (None, 0.0, 0.0, None);
                room.held_open = false;
                room.fields.iter_mut().for_each(|f| (f.excess_k, f.drop_k, f.back_w) = (0.0, None, 0.0));
                if !state.is_any() || room.field_area <= 0.0 && state.fields.is_empty() {
                    continue;
                }
                let need = heat.rooms[r].heat_w - room.credit();
                room.excess_k = state.excess_for(room.field_area, need);
                let drop_k = job.rules.temperature_drop_k;
                let needed = flow::supply_for_parts(job.rooms[r].room_c, room.excess_k, drop_k, &room.parts);
                room.needed = (room.excess_k > 0.0).then_some(needed);
                let supply = needed.min(state.supply_limit_c());
                if room.excess_k <= 0.0 {
                    continue;
                }
                let of = water.of_room[r];
                let now = &mut water.supplies[of];
                if !governs(&job.rooms[r]) || room.field_area < SMALLEST_M2 && state.fields.is_empty() {
                    others[of] = others[of].filter(|o| o.0 >= supply).or(Some((supply, r)));
                } else if now.supply_c.is_none_or(|s| supply > s) {
                    *now = Supply { supply_c: Some(supply), governing: Some(r) };
                }
            }
            for (c, (now, other)) in water.supplies.iter_mut().zip(others).enumerate() {
                // where only such rooms want heat, one of them does
                if let (None, Some((supply, r))) = (now.supply_c, other) {
                    *now = Supply { supply_c: Some(supply), governing: Some(r) };
                }
                // a valve that is set by hand asks no room
                if let (Some(_), Some(set)) = (now.supply_c, job.circuits.get(c).and_then(|c| c.supply_c)) {
                    *now = Supply { supply_c: Some(set), governing: None };
                }
            }
            if water.supplies.iter().all(|s| s.supply_c.is_none()) {
                break;
            }
            for (r, state) in heating.iter().enumerate() {
                let Some(supply) = water.supply_of(r) else { continue };
                water.throttle(job, state, r, supply);
                water.hold_open(job, layout, state, r, supply);
            }
            for rooms in &in_series {
                // rooms on one loop are on one circuit
                let Some(supply) = rooms.first().and_then(|r| water.supply_of(*r)) else { continue };
                water.throttle_together(job, heating, rooms, supply);
            }
            water.share(job, layout, heating);
            water.pass_on(heat, heating, &neighbours);
            let off = before.iter().zip(&water.rooms).map(|(b, r)| (r.credit() - b).abs()).fold(0.0, f64::max);
            if off < SETTLED_W {
                break;
            }
        }
        water
    }

    /// Supply temperature of a room's circuit, °C.
    pub fn supply_of(&self, room: usize) -> Option<f64> {
        self.supplies[self.of_room[room]].supply_c
    }

    /// The circuit with the warmest supply.
    pub fn warmest(&self) -> Supply {
        let warm = self.supplies.iter().filter(|s| s.supply_c.is_some());
        warm.max_by(|a, b| a.supply_c.unwrap_or(0.0).total_cmp(&b.supply_c.unwrap_or(0.0))).copied().unwrap_or_default()
    }

    /// Drop and excess of a room's floor and fields at that supply temperature.
    fn throttle(&mut self, job: &Job, heating: &Heating, r: usize, supply: f64) {
        let room = &mut self.rooms[r];
        if room.needed.is_none() {
            return;
        }
        let room_c = job.rooms[r].room_c;
        let ordinary = job.rules.temperature_drop_k;
        let settle = |wanted: f64, parts: &[Part]| match flow::drop_for_parts(room_c, supply, wanted, parts) {
            Some(drop) if drop >= ordinary - 1e-6 => (wanted, drop),
            // not hot enough for what it wants: it gets what the ordinary drop leaves it
            _ => (flow::mean_excess_of(room_c, supply, ordinary, parts).min(wanted), ordinary),
        };
        if let Some(floor) = &heating.floor {
            let (excess, drop) = settle(room.excess_k.min(floor.excess_limit_k), &room.parts);
            room.floor_excess_k = excess;
            room.drop_k = Some(drop);
        }
        for (w, field) in room.fields.iter_mut().zip(&heating.fields) {
            let (excess, drop) = settle(room.excess_k.min(field.excess_limit_k), &[Part::WHOLE]);
            w.excess_k = excess;
            w.drop_k = Some(drop);
            w.back_w = if excess > 0.0 { field.curve.flux_down(excess) * field.area_m2 } else { 0.0 };
        }
    }

    /// No drop beyond the house rule's, and no flow below the least: an easy room then gets more than it needs, as far as
    /// its surface stands it. The heat of the field alone is taken for the flow: leaders add to it.
    fn hold_open(&mut self, job: &Job, layout: &Layout, heating: &Heating, r: usize, supply: f64) {
        let room = &mut self.rooms[r];
        let loops = layout.loops.iter().filter(|l| l.heats(r)).count();
        let (Some(floor), Some(wanted)) = (&heating.floor, room.drop_k) else { return };
        if room.floor_excess_k <= 0.0 || loops == 0 {
            return;
        }
        let (room_c, least) = (job.rooms[r].room_c, job.rules.temperature_drop_k);
        let Ok(water) = fluid::properties(&job.fluid, supply - least / 2.0) else { return };
        let part: f64 = room.parts.iter().map(|p| p.share * (p.to - p.from)).sum();
        let area = room.field_area / part.max(1e-3) / loops as f64;
        let excess = |drop: f64| flow::mean_excess_of(room_c, supply, drop, &room.parts);
        let l_min = |drop: f64| {
            let flux = floor.flux_up(excess(drop)) + floor.flux_down(excess(drop));
            flux * area / (water.specific_heat * water.density * drop) * 60_000.0
        };
        let mut drop = wanted.min(job.rules.largest_drop_k.max(least));
        if l_min(drop) < job.rules.least_flow_l_min {
            // the flow falls as the drop grows
            let (mut low, mut high) = (least, drop);
            for _ in 0..40 {
                let middle = f64::midpoint(low, high);
                if l_min(middle) < job.rules.least_flow_l_min { high = middle } else { low = middle }
            }
            drop = low;
        }
        // what the surface stands comes before
        if excess(drop) > floor.excess_limit_k {
            drop = flow::drop_for_parts(room_c, supply, floor.excess_limit_k, &room.parts).unwrap_or(wanted);
        }
        if drop < wanted - 1e-6 {
            (room.floor_excess_k, room.drop_k, room.held_open) = (excess(drop), Some(drop), true);
        }
    }

    /// One drop for the floors of rooms that share loops: small enough for the room that wants most, but so large that no
    /// surface is too warm. The others get more than they want.
    fn throttle_together(&mut self, job: &Job, heating: &[Heating], rooms: &[usize], supply: f64) {
        let ordinary = job.rules.temperature_drop_k;
        let own = |r: &usize| self.rooms[*r].drop_k.filter(|_| self.rooms[*r].floor_excess_k > 0.0);
        let Some(wanted) = rooms.iter().filter_map(own).min_by(f64::total_cmp) else { return };
        let stood = |r: &usize| {
            let limit = heating[*r].floor.as_ref()?.excess_limit_k;
            let (room_c, parts) = (job.rooms[*r].room_c, &self.rooms[*r].parts);
            let too_warm = flow::mean_excess_of(room_c, supply, wanted, parts) > limit;
            too_warm.then(|| flow::drop_for_parts(room_c, supply, limit, parts))?
        };
        let drop = rooms.iter().filter_map(stood).fold(wanted, f64::max).max(ordinary);
        for &r in rooms.iter().filter(|&&r| heating[r].floor.is_some()) {
            let room = &mut self.rooms[r];
            room.floor_excess_k = flow::mean_excess_of(job.rooms[r].room_c, supply, drop, &room.parts);
            // another room of the loop may want more flow still: then that is why
            room.held_open &= room.drop_k == Some(drop);
            room.drop_k = Some(drop);
        }
    }

    /// Heat of every loop and of leaders in the rooms they cross.
    fn share(&mut self, job: &Job, layout: &Layout, heating: &[Heating]) {
        let lane = job.rules.lane_spacing_m;
        let mut credit = vec![0.0; job.rooms.len()];
        // before there are loops, by the floor that they will heat
        let fields = heating.iter().zip(&self.rooms).map(|(h, r)| (h.floor.as_ref(), r)).enumerate();
        self.down = fields
            .map(|(r, (floor, room))| match floor {
                Some(f) if !layout.loops.iter().any(|l| l.heats(r)) => {
                    f.flux_down(room.floor_excess_k) * room.field_area
                }
                _ => 0.0,
            })
            .collect();
        for (i, l) in layout.loops.iter().enumerate() {
            let Some(f) = &heating[l.room].floor else { continue };
            let mut heat = LoopHeat::default();
            for s in &l.stretches {
                let (Some(f), room) = (&heating[s.room].floor, &self.rooms[s.room]) else { continue };
                let all = field_m(layout, s.room);
                let area = if all > 0.0 { room.field_area * s.field_m / all } else { 0.0 };
                heat.field += f.flux_up(room.floor_excess_k) * area;
                let down = f.flux_down(room.floor_excess_k) * area;
                heat.down += down;
                self.down[s.room] += down;
            }
            let room = &self.rooms[l.room];
            let excess = room.floor_excess_k;
            if let (Some(supply), true) = (self.supply_of(l.room), excess > 0.0) {
                let mean = supply - room.drop_k.unwrap_or(0.0) / 2.0;
                for (&crossed, &length) in &l.leaders_in {
                    let other = &job.rooms[crossed];
                    // under the other room's own floor, or the loop's where it has none
                    let state = heating[crossed].floor.as_ref().unwrap_or(f);
                    let curve = state.lanes.as_ref().unwrap_or(state.core());
                    let over = (mean - other.room_c).max(0.0);
                    let length = if job.rules.insulated_leaders { length * SLEEVED } else { length };
                    let up = curve.flux_up(over).max(0.0) * lane * length;
                    heat.leaders += up;
                    let down = if over > 0.0 { curve.flux_down(over) * lane * length } else { 0.0 };
                    heat.down += down;
                    self.down[crossed] += down;
                    credit[crossed] += up;
                }
            }
            self.loops[i] = heat;
        }
        for (room, credit) in self.rooms.iter_mut().zip(credit) {
            room.leader_heat = credit;
        }
    }

    /// What leaves downward and backward comes to the heated rooms on the other side.
    fn pass_on(&mut self, heat: &HeatLoss, heating: &[Heating], neighbours: &Neighbours) {
        let mut credit = vec![0.0; self.rooms.len()];
        for (r, state) in heating.iter().enumerate() {
            let (Some(floor), room) = (&state.floor, &self.rooms[r]) else { continue };
            for &(below, share) in &neighbours.below[r] {
                // the floor's own figure is toward the mean of all that is below it
                let excess = room.floor_excess_k;
                let to_room = floor.flux_down_to(excess, heat.rooms[below].temperature_c) - floor.flux_down(excess);
                credit[below] += share * (self.down[r] + to_room * room.field_area);
            }
        }
        for (room, behind) in self.rooms.iter().zip(&neighbours.behind) {
            for (field, behind) in room.fields.iter().zip(behind) {
                behind.iter().for_each(|&(other, share)| credit[other] += share * field.back_w);
            }
        }
        self.rooms.iter_mut().zip(credit).for_each(|(room, credit)| room.from_neighbours = credit);
    }

    /// Films of the water by the flow in each room's loops, W/m²K.
    fn films(&self, job: &Job, layout: &Layout, heating: &[Heating]) -> Result<Vec<f64>, FieldError> {
        let mut out = vec![FIRST_FILM_W_M2K; job.rooms.len()];
        for (r, room) in self.rooms.iter().enumerate() {
            let (Some(supply), Some(state), Some(drop)) = (self.supply_of(r), &heating[r].floor, room.drop_k) else {
                continue;
            };
            let Some(floor) = job.rooms[r].heated_floor() else { continue };
            let Some(tube) = job.tube(&floor.tube_id) else { continue };
            let laid = layout.loops.iter().filter(|l| l.heats(r)).count();
            let expected = (room.field_area / floor.spacing_core_m / layout::longest_loop(job, tube)).ceil();
            let loops = if laid > 0 { laid as f64 } else { expected.max(1.0) };
            let own = (state.flux_up(room.floor_excess_k) + state.flux_down(room.floor_excess_k)) * room.field_area;
            // a loop in series carries the heat of all its rooms
            let part: f64 = room.parts.iter().map(|p| p.share * (p.to - p.from)).sum();
            let heat = own / part.max(1e-3);
            out[r] = water_film(job, tube, heat, loops, supply, drop)?.unwrap_or(FIRST_FILM_W_M2K);
        }
        Ok(out)
    }

    /// Tube, flow and head of the fields' circuits, hung on the nearest manifold of the level (or of all).
    fn field_circuits(&mut self, job: &Job, heating: &[Heating]) -> Result<(), FieldError> {
        for (r, room) in job.rooms.iter().enumerate() {
            let Some(supply) = self.supply_of(r) else { continue };
            for (k, field) in room.heated_fields().iter().enumerate() {
                let (Some(tube), Some(state)) = (job.tube(&field.tube_id), heating[r].fields.get(k)) else {
                    continue;
                };
                let w = &mut self.rooms[r].fields[k];
                let (manifold, way) = nearest_manifold(job, r, field.edge);
                w.manifold = manifold;
                let leaders = 2.0 * way;
                let longest = layout::longest_loop(job, tube);
                let own = state.area_m2 / field.spacing_m;
                w.circuits = (own / (longest - leaders).max(0.25 * longest)).ceil().clamp(1.0, 1000.0) as u32;
                w.circuit_m = own / f64::from(w.circuits) + leaders;
                w.tube_m = w.circuit_m * f64::from(w.circuits);
                let heat = field_flux(state, w.excess_k) * state.area_m2 + w.back_w;
                let drop = w.drop_k.unwrap_or(0.0);
                if heat > 0.0 && drop > 0.0 {
                    let properties = fluid::properties(&job.fluid, supply - drop / 2.0)?;
                    let flow_kg_s = heat / (properties.specific_heat * drop);
                    let runs = own / f64::from(w.circuits) / field.height_m.max(field.spacing_m);
                    let each = flow_kg_s / f64::from(w.circuits);
                    let flow = flow::flow(each, tube.bore_m(), w.circuit_m, 2.0 * runs, &properties);
                    w.return_c = supply - drop;
                    w.flow_l_min = flow_kg_s / properties.density * 60_000.0;
                    w.velocity_m_s = flow.velocity_m_s;
                    w.head_loss_pa = flow.head_pa;
                }
            }
        }
        Ok(())
    }
}

/// The heated rooms on the other side of floors and fields, each with its share.
struct Neighbours {
    /// Below each room's floor.
    below: Vec<Vec<(usize, f64)>>,
    /// Behind each of its fields.
    behind: Vec<Vec<Vec<(usize, f64)>>>,
}

impl Neighbours {
    fn of(job: &Job, plan: &Plan) -> Neighbours {
        let rooms = || job.rooms.iter().enumerate();
        let behind =
            |(r, room): (usize, &Room)| room.heated_fields().iter().map(|f| rooms_behind(job, plan, r, f)).collect();
        Neighbours {
            below: rooms().map(|(r, _)| rooms_below(job, plan, r)).collect(),
            behind: rooms().map(behind).collect(),
        }
    }
}

/// The circuit of each room: that of the manifold on which its loops hang, or would hang.
fn circuits_of_rooms(job: &Job, layout: &Layout) -> Vec<usize> {
    if job.circuits.len() < 2 {
        return vec![0; job.rooms.len()];
    }
    let of_manifold = |m: usize| circuit_of_manifold(job, &job.manifolds[m].id);
    let of = |r: usize| {
        let laid = layout.loops.iter().find(|l| l.heats(r)).map(|l| l.manifold);
        let wished = job.rooms[r].floor.as_ref().and_then(|f| f.manifold_id.as_ref());
        let wished = wished.and_then(|id| job.manifolds.iter().position(|m| m.id == *id));
        laid.or(wished).or_else(|| nearest_manifold(job, r, None).0).map_or(0, of_manifold)
    };
    (0..job.rooms.len()).map(of).collect()
}

/// The circuit that names a manifold, or the first.
pub(crate) fn circuit_of_manifold(job: &Job, id: &str) -> usize {
    job.circuits.iter().position(|c| c.manifold_ids.iter().any(|m| m == id)).unwrap_or(0)
}

/// Whether a room may set the supply temperature: a bath wants more than the house and has less floor for it (EN 1264-3
/// leaves it out of the design supply temperature), unless it says otherwise.
pub(crate) fn governs(room: &Room) -> bool {
    room.governs.unwrap_or(room.usage != Usage::Bath)
}

/// Tube of a room's fields, m.
fn field_m(layout: &Layout, room: usize) -> f64 {
    layout.loops.iter().flat_map(|l| &l.stretches).filter(|s| s.room == room).map(|s| s.field_m).sum()
}

/// Where a room lies on the way of the water in each of its loops: the water cools evenly along the tube of the fields.
fn parts(layout: &Layout, room: usize) -> Vec<Part> {
    let own: Vec<_> = layout.loops.iter().filter(|l| l.heats(room)).collect();
    let all = field_m(layout, room);
    if own.iter().all(|l| l.stretches.len() == 1) || all <= 0.0 {
        return vec![Part::WHOLE];
    }
    let mut out = Vec::new();
    for l in own {
        let whole: f64 = l.stretches.iter().map(|s| s.field_m).sum();
        let mut along = 0.0;
        for s in &l.stretches {
            let from = along;
            along += s.field_m;
            if s.room == room {
                out.push(Part { share: s.field_m / all, from: from / whole, to: along / whole });
            }
        }
    }
    out
}

/// Rooms that have one flow since they share loops: sets of two or more.
fn in_series(layout: &Layout, rooms: usize) -> Vec<Vec<usize>> {
    let mut set: Vec<usize> = (0..rooms).collect();
    for l in &layout.loops {
        for s in &l.stretches {
            let (a, b) = (set[l.room], set[s.room]);
            set.iter_mut().filter(|x| **x == b).for_each(|x| *x = a);
        }
    }
    let of = |k: usize| (0..rooms).filter(|&r| set[r] == k).collect::<Vec<_>>();
    (0..rooms).map(of).filter(|s| s.len() > 1).collect()
}

/// The manifold nearest to a room's wall (its middle for a ceiling) on the same level, or else on any, and the way there
/// along the walls, m.
fn nearest_manifold(job: &Job, room: usize, edge: Option<usize>) -> (Option<usize>, f64) {
    let of = &job.rooms[room];
    let n = of.outline.len();
    let from = match edge {
        Some(e) => {
            let (a, b) = (of.outline[e], of.outline[(e + 1) % n]);
            [(a[0] + b[0]) / 2.0, (a[1] + b[1]) / 2.0]
        }
        None => [0, 1].map(|k| of.outline.iter().map(|p| p[k]).sum::<f64>() / n as f64),
    };
    let places = (0..job.manifolds.len()).filter_map(|m| {
        let (_, at, _) = layout::manifold_place(job, m)?;
        let level = job.room(&job.manifolds[m].room_id).map(|r| &r.level_id);
        let other_level = level != Some(&of.level_id);
        Some((other_level, (at[0] - from[0]).abs() + (at[1] - from[1]).abs(), m))
    });
    let best = places.min_by(|a, b| a.0.cmp(&b.0).then(a.1.total_cmp(&b.1)));
    best.map_or((None, 0.0), |(_, way, m)| (Some(m), way))
}

//! What each circuit and user needs of its supply at an outdoor temperature, in the order in which the water meets them.

use super::emitters::{Rating, excess_for, rating};
use super::part::{HeatUser, Plant, Takes};
use crate::flow;
use crate::fluid::Properties;
use crate::study::solved::Solved;
use crate::water::part::Feed;
use crate::water::pipework::{feed_of, floor_duty, mains_pa, ua};
use crate::water::rooms::need_share;
use crate::water::trial::per_l_min_k;

/// What radiators with their valves, coils and typed users take at their design flow, Pa.
pub(crate) const USER_PA: f64 = 5000.0;
/// Users whose supplies differ by less are of one temperature, K.
const SAME_K: f64 = 1.0;
/// What typed users with the weather are taken to keep, °C.
const INDOORS_C: f64 = 20.0;

/// Who takes heat.
#[derive(Clone, Copy)]
pub(crate) enum Who<'a> {
    /// A circuit of floors, by number.
    Floors(usize),
    User(&'a HeatUser),
}

/// A circuit or user at an outdoor temperature.
pub(crate) struct Consumer<'a> {
    pub who: Who<'a>,
    pub id: &'a str,
    pub name: &'a str,
    pub feed: Feed,
    /// Supply temperature that it needs, °C; none where it wants no heat.
    pub needs_c: Option<f64>,
    /// The same on the design day: by it piping is laid out, which no weather changes.
    pub design_c: Option<f64>,
    /// On the design day, K.
    pub drop_k: f64,
    /// On the design day, L/min.
    pub flow_l_min: f64,
    /// On the design day, W.
    pub design_w: f64,
    /// At the outdoor temperature, W.
    pub heat_w: f64,
    /// Of its mains and of what hangs on them, Pa.
    pub head_pa: f64,
    /// Domestic hot water: heated before all else, and not added to it.
    pub first: bool,
    /// It wants the same in all weather.
    pub always: bool,
}

/// The emitters of a user in one room.
pub(crate) struct RoomEmitters {
    pub room: usize,
    pub ratings: Vec<Rating>,
    /// What they have to give on the design day, W.
    pub need_w: f64,
}

impl RoomEmitters {
    /// Heat per kelvin of mean excess about there, W/K.
    pub fn ua_w_k(&self, excess_k: f64) -> f64 {
        let excess = excess_k.max(0.5);
        self.ratings.iter().map(|r| r.output_w(excess)).sum::<f64>() / excess
    }
}

/// The rooms of those emitters, rated ones only.
pub(crate) fn emitters_by_room(study: &Solved, ids: &[String]) -> Vec<RoomEmitters> {
    let of = |(r, room): (usize, &crate::job::Room)| {
        let own = || room.emitters.iter().filter(|e| ids.contains(&e.id));
        let ratings: Vec<Rating> = own().filter_map(rating).collect();
        if ratings.is_empty() {
            return None;
        }
        let d = &study.rooms[r];
        let tube = d.floor.is_some() || !d.fields.is_empty();
        let beside = |mine: bool| {
            let some = room.emitters.iter().filter(|e| ids.contains(&e.id) == mine);
            some.filter_map(|e| e.beside_w).sum::<f64>()
        };
        // beside tube they give what they were counted for, elsewhere what the room needs
        let need_w = if tube { beside(true) } else { (d.heat_loss_w - beside(false) - d.neighbour_heat_w).max(0.0) };
        Some(RoomEmitters { room: r, ratings, need_w })
    };
    study.job.rooms.iter().enumerate().filter_map(of).collect()
}

/// Supply temperature of a circuit of floors at an outdoor temperature, °C: its governing room's, at the design's flow.
pub(crate) fn floor_supply_c(study: &Solved, circuit: usize, outdoor_c: f64) -> Option<f64> {
    let supply = study.water.supplies[circuit];
    let design_c = supply.supply_c?;
    let Some(g) = supply.governing else { return Some(design_c) };
    let (job, w) = (&study.job, &study.water.rooms[g]);
    let share = need_share(job, g, outdoor_c);
    if share <= 0.0 {
        return None;
    }
    if (outdoor_c - job.site.outdoor_c).abs() < 1e-9 {
        return Some(design_c);
    }
    let heating = &study.water.heating[g];
    let need = (study.rooms[g].heat_loss_w - w.credit()) * share;
    let excess = heating.excess_for(w.field_area, need);
    let drop = w.drop_k.unwrap_or(job.rules.temperature_drop_k) * share;
    let needed = flow::supply_for_parts(job.rooms[g].room_c, excess, drop, &w.parts);
    Some(needed.min(heating.supply_limit_c()))
}

/// Excess that rooms of a user need at an outdoor temperature, and the supply temperature, °C, for the hardest of them.
pub(crate) fn emitters_supply_c(study: &Solved, rooms: &[RoomEmitters], drop_k: f64, outdoor_c: f64) -> Option<f64> {
    let of = |e: &RoomEmitters| {
        let share = need_share(&study.job, e.room, outdoor_c);
        let excess = excess_for(&e.ratings, e.need_w * share)?;
        Some(flow::supply_for(study.job.rooms[e.room].room_c, excess, drop_k * share))
    };
    rooms.iter().filter_map(of).reduce(f64::max)
}

/// All of them, in no order.
pub(crate) fn unordered<'a>(
    study: &'a Solved,
    plant: &'a Plant,
    outdoor_c: f64,
    water: &Properties,
) -> Vec<Consumer<'a>> {
    let floors = (0..study.circuits.len()).filter_map(|c| floors(study, plant, c, outdoor_c, water));
    floors.chain(plant.users.iter().map(|u| user(study, plant, u, outdoor_c, water))).collect()
}

/// All of them as the water meets them: by the plant's order, the others by what they need on the design day, the hottest
/// first, of equal temperature the smaller load first.
pub(crate) fn consumers<'a>(
    study: &'a Solved,
    plant: &'a Plant,
    outdoor_c: f64,
    water: &Properties,
) -> Vec<Consumer<'a>> {
    let mut all = unordered(study, plant, outdoor_c, water);
    let design = unordered(study, plant, study.job.site.outdoor_c, water);
    for (c, d) in all.iter_mut().zip(&design) {
        c.design_c = d.needs_c;
    }
    let hottest = |c: &Consumer| c.design_c.unwrap_or(0.0);
    all.sort_by(|a, b| hottest(b).total_cmp(&hottest(a)));
    // temperatures that are nearly the same, counted from the hottest of them
    let mut from = 0;
    for i in 1..=all.len() {
        if i == all.len() || hottest(&all[from]) - hottest(&all[i]) > SAME_K {
            all[from..i].sort_by(|a, b| a.design_w.total_cmp(&b.design_w));
            from = i;
        }
    }
    let place = |c: &Consumer| plant.order.iter().position(|id| id == c.id).unwrap_or(usize::MAX);
    all.sort_by_key(place);
    all
}

fn floors<'a>(
    study: &'a Solved,
    plant: &Plant,
    circuit: usize,
    outdoor_c: f64,
    water: &Properties,
) -> Option<Consumer<'a>> {
    let design = &study.circuits[circuit];
    if design.flow_l_min <= 0.0 {
        return None;
    }
    let duty = floor_duty(study, circuit, water);
    let rooms = || study.rooms.iter().enumerate().filter(|(_, d)| design.room_ids.contains(&d.id));
    let whole: f64 = rooms().map(|(_, d)| d.heat_loss_w).sum();
    let now: f64 = rooms().map(|(r, d)| d.heat_loss_w * need_share(&study.job, r, outdoor_c)).sum();
    let cold = outdoor_c < plant.warm_weather_c;
    Some(Consumer {
        who: Who::Floors(circuit),
        id: &design.id,
        name: &design.name,
        feed: feed_of(&study.job, circuit),
        needs_c: floor_supply_c(study, circuit, outdoor_c).filter(|_| cold),
        design_c: None,
        drop_k: duty.drop_k,
        flow_l_min: duty.flow_l_min,
        design_w: design.heat_w,
        heat_w: if whole > 0.0 && cold { design.heat_w * now / whole } else { 0.0 },
        head_pa: duty.head_pa,
        first: false,
        always: false,
    })
}

fn user<'a>(study: &'a Solved, plant: &Plant, u: &'a HeatUser, outdoor_c: f64, water: &Properties) -> Consumer<'a> {
    let per = per_l_min_k(water);
    let cold = outdoor_c < plant.warm_weather_c;
    let mut out = Consumer {
        who: Who::User(u),
        id: &u.id,
        name: &u.name,
        feed: u.feed.clone(),
        needs_c: None,
        design_c: None,
        drop_k: 0.0,
        flow_l_min: 0.0,
        design_w: 0.0,
        heat_w: 0.0,
        head_pa: 0.0,
        first: false,
        always: false,
    };
    match &u.takes {
        Takes::Emitters { emitter_ids, drop_k } => {
            let rooms = emitters_by_room(study, emitter_ids);
            out.drop_k = *drop_k;
            out.design_w = rooms.iter().map(|e| e.need_w).sum();
            out.flow_l_min = out.design_w / (per * drop_k);
            if cold {
                out.needs_c = emitters_supply_c(study, &rooms, *drop_k, outdoor_c);
                out.heat_w = rooms.iter().map(|e| e.need_w * need_share(&study.job, e.room, outdoor_c)).sum();
            }
        }
        Takes::Tank { coil_w, coil_supply_c, coil_flow_l_min, .. } => {
            out.needs_c = Some(*coil_supply_c);
            out.flow_l_min = *coil_flow_l_min;
            out.drop_k = coil_w / (per * coil_flow_l_min);
            (out.design_w, out.heat_w) = (*coil_w, *coil_w);
            (out.first, out.always) = (true, true);
        }
        Takes::Typed { heat_w, supply_c, return_c, around_c, always } => {
            out.drop_k = supply_c - return_c;
            out.design_w = *heat_w;
            out.flow_l_min = heat_w / (per * out.drop_k);
            out.always = *always;
            if *always {
                (out.needs_c, out.heat_w) = (Some(*supply_c), *heat_w);
            } else if cold {
                let share = (INDOORS_C - outdoor_c) / (INDOORS_C - study.job.site.outdoor_c).max(1.0);
                let share = share.max(0.0);
                let excess = flow::mean_excess(*around_c, *supply_c, out.drop_k);
                out.heat_w = heat_w * share;
                out.needs_c = (share > 0.0).then(|| flow::supply_for(*around_c, excess * share, out.drop_k * share));
            }
        }
    }
    out.head_pa = USER_PA + mains_pa(&out.feed, out.flow_l_min, water);
    out
}

/// Heat per kelvin that a tank's coil or a typed user takes, W/K.
pub(crate) fn user_ua(takes: &Takes, water: &Properties) -> Option<(f64, f64)> {
    match takes {
        Takes::Emitters { .. } => None,
        Takes::Tank { store_c, coil_w, coil_supply_c, coil_flow_l_min, .. } => {
            let drop = coil_w / (per_l_min_k(water) * coil_flow_l_min);
            // a coil cannot cool its water below its store
            let return_c = (coil_supply_c - drop).max(store_c + 0.5);
            Some((ua([*coil_supply_c, return_c], *store_c, *coil_w), *store_c))
        }
        Takes::Typed { heat_w, supply_c, return_c, around_c, .. } => {
            Some((ua([*supply_c, *return_c], *around_c, *heat_w), *around_c))
        }
    }
}

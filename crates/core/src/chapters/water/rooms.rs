//! What rooms make of the heat they get: the temperature at which what they lose is what they are given. Steady, and without
//! a thermostat's hand.

use crate::job::Job;
use crate::loops::report::LoopDesign;
use crate::study::solved::Solved;

/// A room that loses less than this is as warm as its design says, W/K.
const LEAST_W_K: f64 = 0.5;
/// Rooms are told within these, °C.
const SENSIBLE_C: std::ops::RangeInclusive<f64> = -40.0..=60.0;

struct RoomState {
    /// What it loses per kelvin over outdoors, W/K; none where nothing is known to change.
    loses_w_k: Option<f64>,
    /// Heat of neighbours and emitters that are not part of the network, W.
    other_w: f64,
    now_c: f64,
}

/// Rooms at an outdoor temperature.
pub(crate) struct RoomsHeat<'s> {
    study: &'s Solved,
    outdoor_c: f64,
    rooms: Vec<RoomState>,
    /// Where each loop's heat goes: room and share.
    goes: Vec<Vec<(usize, f64)>>,
}

/// Share of the design day's need that a room has at an outdoor temperature, 0 and more.
pub(crate) fn need_share(job: &Job, room: usize, outdoor_c: f64) -> f64 {
    let room_c = job.rooms[room].room_c;
    let design = room_c - job.site.outdoor_c;
    if design > 1.0 { ((room_c - outdoor_c) / design).max(0.0) } else { 0.0 }
}

impl<'s> RoomsHeat<'s> {
    pub fn at(study: &'s Solved, outdoor_c: f64) -> RoomsHeat<'s> {
        let job = &study.job;
        let state = |(r, d): (usize, &crate::study::room::RoomDesign)| {
            let room_c = job.rooms[r].room_c;
            let loses = d.heat_loss_w / (room_c - job.site.outdoor_c).max(1.0);
            RoomState {
                loses_w_k: (d.heated && loses > LEAST_W_K).then_some(loses),
                other_w: (d.neighbour_heat_w + d.beside_w) * need_share(job, r, outdoor_c),
                now_c: room_c,
            }
        };
        RoomsHeat {
            outdoor_c,
            rooms: study.rooms.iter().enumerate().map(state).collect(),
            goes: study.loops.iter().enumerate().map(|(i, l)| goes(study, i, l)).collect(),
            study,
        }
    }

    pub fn room_c(&self, room: usize) -> f64 {
        self.rooms[room].now_c
    }

    /// Something else keeps rooms within that range, °C, by room: thermostats, or heat that is not this network's. Returns by how
    /// much the temperature of a room differs at most from `before`, K.
    pub fn hold(&mut self, within_c: &[[f64; 2]], before: &[f64]) -> f64 {
        let mut moved = 0.0_f64;
        for ((room, [least, most]), before) in self.rooms.iter_mut().zip(within_c).zip(before) {
            room.now_c = room.now_c.max(*least).min(*most);
            moved = moved.max((room.now_c - before).abs());
        }
        moved
    }

    /// All of them, °C.
    pub fn all_c(&self) -> Vec<f64> {
        self.rooms.iter().map(|r| r.now_c).collect()
    }

    fn mean(&self, l: &LoopDesign, of: impl Fn(usize) -> f64) -> f64 {
        let rooms = l.room_ids.iter().filter_map(|id| self.study.rooms.iter().position(|d| d.id == *id));
        let (sum, count) = rooms.fold((0.0, 0.0), |(s, n), r| (s + of(r), n + 1.0));
        if count > 0.0 { sum / count } else { 20.0 }
    }

    /// Temperature that a loop's rooms should have, °C.
    pub fn set_c(&self, l: &LoopDesign) -> f64 {
        self.mean(l, |r| self.study.job.rooms[r].room_c)
    }

    /// Temperature that they have, °C.
    pub fn around_c(&self, l: &LoopDesign) -> f64 {
        self.mean(l, |r| self.rooms[r].now_c)
    }

    /// Takes what loops give as shares of their design's heat, and what else each room is given, W. Returns by how much the
    /// temperature of a room changed at most, K; what a room is given falls to nothing where it is as warm as its supply, by room.
    pub fn take(&mut self, loops: &[f64], more_w: &[f64], supply_c: &[f64]) -> f64 {
        let given = self.given(loops, more_w);
        let mut most = 0.0_f64;
        for ((room, given), supply_c) in self.rooms.iter_mut().zip(given).zip(supply_c) {
            let Some(loses) = room.loses_w_k else { continue };
            // Newton: what the room loses grows with its temperature, what it is given falls
            let falls = given / (supply_c - room.now_c).max(1.0);
            let short = given + room.other_w - loses * (room.now_c - self.outdoor_c);
            let next = (room.now_c + short / (loses + falls)).clamp(*SENSIBLE_C.start(), *SENSIBLE_C.end());
            most = most.max((next - room.now_c).abs());
            room.now_c = next;
        }
        most
    }

    /// Heat that each room is given, W.
    pub fn given(&self, loops: &[f64], more_w: &[f64]) -> Vec<f64> {
        let mut given = more_w.to_vec();
        for ((share, goes), l) in loops.iter().zip(&self.goes).zip(&self.study.loops) {
            goes.iter().for_each(|(r, part)| given[*r] += share * part * l.output_up_w);
        }
        given
    }
}

/// Shares of a loop's upward heat by room: its field where it lies, its leaders where they cross.
fn goes(study: &Solved, index: usize, l: &LoopDesign) -> Vec<(usize, f64)> {
    let whole = || study.rooms.iter().position(|d| l.room_ids.first() == Some(&d.id)).map(|r| (r, 1.0));
    let laid = study.layout.loops.get(index).zip(study.water.loops.get(index));
    let Some((laid, heat)) = laid.filter(|(_, h)| h.field + h.leaders > 0.0) else {
        return whole().into_iter().collect();
    };
    let up = heat.field + heat.leaders;
    let field_m: f64 = laid.stretches.iter().map(|s| s.field_m).sum();
    let leaders_m: f64 = laid.leaders_in.values().sum();
    let fields =
        laid.stretches.iter().filter(|_| field_m > 0.0).map(|s| (s.room, heat.field / up * s.field_m / field_m));
    let crossed = laid.leaders_in.iter().filter(|_| leaders_m > 0.0);
    fields.chain(crossed.map(|(r, m)| (*r, heat.leaders / up * m / leaders_m))).collect()
}

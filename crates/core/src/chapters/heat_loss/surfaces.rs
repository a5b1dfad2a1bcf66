//! A job read into conductances: every surface of every room with its area, its transmittance and what is on its other
//! side.

use super::air::AirBy;
use super::construction::{self, Direction, Side};
use super::ground;
use super::report::{Cause, Measure};
use crate::geometry;
use crate::job::{Beyond, Bridges, Dimensions, Field, GroundMethod, Job, Opening, OpeningKind, Room};
use crate::plan::Plan;
use crate::plan::walls::{Behind, WallPiece};

/// The other side of a conductance.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum Other {
    Outdoors,
    /// The mean of the year, for the ground by ISO 13370.
    Mean,
    /// The ground's typed temperature.
    Ground,
    Fixed(f64),
    Room(usize),
    Same,
    Reduced(f64),
    /// Outdoors, through a crawl space.
    CrawlSpace,
}

#[derive(Debug, Clone)]
pub(super) struct Conductance {
    pub cause: Cause,
    pub measure: Measure,
    pub edge: Option<usize>,
    pub subject: Option<String>,
    pub construction_id: Option<String>,
    pub other: Other,
    pub amount: f64,
    pub per_kelvin: f64,
}

#[derive(Debug, Clone, Default)]
pub(super) struct RoomReading {
    pub conductances: Vec<Conductance>,
    pub volume_m3: f64,
    pub air_changes_per_h: f64,
    pub air_by: AirBy,
    /// Outdoor air that only the windward factor brings, which the building as a whole does not have, W/K.
    pub windward_w_k: f64,
}

#[derive(Debug, Clone, Default)]
pub(super) struct Reading {
    pub rooms: Vec<RoomReading>,
    /// Characteristic dimension of the floor on ground of each room's level, m.
    pub dimensions: Vec<f64>,
    /// Transmittance of each room's floor by the perimeter factor, W/m²K.
    pub edge_u: Vec<f64>,
    pub ground_dimension_m: Option<f64>,
    pub ground_u: Option<f64>,
}

pub(super) struct Reader<'a> {
    pub job: &'a Job,
    pub plan: &'a Plan,
    /// Surcharge for thermal bridges, W/m²K.
    surcharge: f64,
    dimensions: Vec<f64>,
    pub out: Vec<RoomReading>,
}

/// Reads the job.
pub(super) fn read(job: &Job, plan: &Plan) -> Reading {
    let n = job.rooms.len();
    let mut r = Reader {
        job,
        plan,
        surcharge: match job.envelope.bridges {
            Bridges::Surcharge { delta_u } => delta_u,
            Bridges::Linear { .. } => 0.0,
        },
        dimensions: vec![0.0; n],
        out: vec![RoomReading::default(); n],
    };
    let ground = r.ground_dimensions();
    for i in 0..n {
        r.walls(i);
    }
    for i in 0..n {
        r.above(i);
        r.below(i);
        r.bridges(i);
    }
    r.air();
    let ground_u = ground.map(|(b, depth)| {
        let c = job.construction(&job.envelope.floor_id);
        let resistance = c.map_or(0.0, |c| construction::resistance(&|id| job.material(id), c, Direction::Downward));
        ground::slab_u(&job.envelope.ground, b, resistance, depth)
    });
    let edge_u = |i| {
        let area = r.floor_area(i);
        if area > 0.0 { job.envelope.ground.perimeter_w_mk * r.exposed_edge(i) / area } else { 0.0 }
    };
    let edge_u = (0..n).map(edge_u).collect();
    Reading { rooms: r.out, dimensions: r.dimensions, edge_u, ground_dimension_m: ground.map(|g| g.0), ground_u }
}

impl Reader<'_> {
    fn construction_u(&self, id: &str, direction: Direction, side: Side) -> f64 {
        self.job
            .construction(id)
            .map_or(0.0, |c| construction::u_value(&|id| self.job.material(id), c, direction, side))
    }

    pub fn push(&mut self, room: usize, c: Conductance) {
        if c.amount > 1e-9 {
            self.out[room].conductances.push(c);
        }
    }

    fn other(&self, beyond: Beyond) -> Other {
        match beyond {
            Beyond::Outside => Other::Outdoors,
            Beyond::Ground => Other::Ground,
            Beyond::Heated => Other::Same,
            Beyond::Unheated { temperature_c } => Other::Fixed(temperature_c),
            Beyond::Reduced { b } => Other::Reduced(b),
            Beyond::CrawlSpace => Other::CrawlSpace,
        }
    }

    /// B′ of the floor on ground of each level: all its heated rooms on ground together, their edges to the outside and to
    /// unheated rooms exposed (ISO 13370 leaves those rooms out); the unheated ones among themselves. Returns that of the largest, with its depth.
    fn ground_dimensions(&mut self) -> Option<(f64, f64)> {
        let job = self.job;
        let mut largest: Option<(f64, f64, f64)> = None;
        for (level, heated) in job.levels.iter().flat_map(|l| [(l, true), (l, false)]) {
            let rooms: Vec<usize> = (0..job.rooms.len())
                .filter(|&i| {
                    let r = &job.rooms[i];
                    r.level_id == level.id
                        && r.is_heated() == heated
                        && matches!(r.below, Beyond::Ground | Beyond::CrawlSpace)
                        && self.plan.storeys[i].open_below_m2 > 0.0
                })
                .collect();
            let area: f64 = rooms.iter().map(|&i| self.floor_area(i)).sum();
            let perimeter: f64 = rooms.iter().map(|&i| self.exposed_edge(i)).sum();
            let b = ground::characteristic_dimension(area, perimeter);
            for &i in &rooms {
                self.dimensions[i] = b;
            }
            if heated && largest.is_none_or(|l| area > l.0) && area > 0.0 {
                largest = Some((area, b, (-level.floor_m).max(0.0)));
            }
        }
        largest.map(|l| (l.1, l.2))
    }

    /// Floor area that the method counts, without what stands on rooms below, m².
    fn floor_area(&self, room: usize) -> f64 {
        match self.job.envelope.dimensions {
            Dimensions::Inside => self.plan.storeys[room].open_below_m2,
            Dimensions::Outside => self.plan.storeys[room].outer_open_below_m2,
        }
    }

    /// Length of wall at the floor that stands to the outside, the ground or an unheated space, m.
    fn exposed_edge(&self, room: usize) -> f64 {
        self.plan.walls[room]
            .iter()
            .filter(|f| f.low_m < 0.05)
            .filter(|f| match f.behind {
                Behind::Room { index, .. } => !self.job.rooms[index].is_heated() && self.job.rooms[room].is_heated(),
                Behind::Other(Beyond::Heated) => false,
                Behind::Other(_) => true,
            })
            .map(|f| f.length() * self.stretch(room, f.edge))
            .sum()
    }

    /// Outside length of a wall over its inside length, where outside dimensions count.
    fn stretch(&self, room: usize, edge: usize) -> f64 {
        if self.job.envelope.dimensions == Dimensions::Inside {
            return 1.0;
        }
        let (outer, inner) = (&self.plan.storeys[room].outer, &self.job.rooms[room].outline);
        let n = inner.len();
        let length = |o: &[crate::job::Point]| geometry::distance(o[edge], o[(edge + 1) % n]);
        let inside = length(inner);
        if inside > 0.0 { length(outer) / inside } else { 1.0 }
    }

    /// Height that the outside face adds to a room's, m: ceiling or roof above, and the lowest floor.
    fn extra_height(&self, room: usize) -> f64 {
        if self.job.envelope.dimensions == Dimensions::Inside {
            return 0.0;
        }
        let (r, s) = (&self.job.rooms[room], &self.plan.storeys[room]);
        let of = |own: &Option<String>, usual: &str| {
            let id = own.as_deref().unwrap_or(usual);
            self.job.construction(id).and_then(construction::thickness).unwrap_or(0.3)
        };
        let above = match s.above.first() {
            Some(above) => above.thickness_m,
            None => of(&r.roof_id, &self.job.envelope.roof_id),
        };
        above + if s.below.is_empty() { of(&r.floor_id, &self.job.envelope.floor_id) } else { 0.0 }
    }

    fn opening_u(&self, o: &Opening) -> (f64, Option<String>) {
        if let Some(u) = o.u {
            return (u, None);
        }
        let e = &self.job.envelope;
        let usual = if o.kind.is_window() { &e.window_id } else { &e.outside_door_id };
        let id = o.construction_id.as_ref().unwrap_or(usual);
        (self.construction_u(id, Direction::Horizontal, Side::Outdoors), Some(id.clone()))
    }

    /// U of a wall and the construction it comes from.
    fn wall_u(&self, room: usize, edge: usize, side: Side) -> (f64, Option<String>) {
        let e = &self.job.envelope;
        let usual = if side == Side::Indoors { &e.partition_id } else { &e.outside_wall_id };
        let wall = self.job.rooms[room].walls.iter().find(|w| w.edge == edge);
        if let Some(u) = wall.and_then(|w| w.u) {
            return (u, None);
        }
        let id = wall.and_then(|w| w.construction_id.as_ref()).unwrap_or(usual);
        (self.construction_u(id, Direction::Horizontal, side), Some(id.clone()))
    }

    fn walls(&mut self, room: usize) {
        for k in 0..self.plan.walls[room].len() {
            let face = self.plan.walls[room][k].clone();
            match face.behind {
                Behind::Room { index: other, .. } => {
                    // calculated once for both sides, from the room that comes first; from the other where that does not see it
                    let seen_back = self.plan.walls[other]
                        .iter()
                        .any(|f| matches!(f.behind, Behind::Room { index, .. } if index == room));
                    if room < other || !seen_back {
                        self.partition(room, other, &face);
                    }
                }
                Behind::Other(beyond) => self.outer_wall(room, &face, beyond),
            }
        }
    }

    /// Openings of `owner`'s wall `edge` that lie in a face of `room`: their area within it, m².
    fn openings_in(&self, room: usize, face: &WallPiece, owner: usize, edge: usize) -> Vec<(usize, f64)> {
        let Some(own) = self.plan.edges[room].iter().find(|e| e.index == face.edge) else { return vec![] };
        let Some(wall) = self.plan.edges[owner].iter().find(|e| e.index == edge) else { return vec![] };
        let d = own.direction();
        let along = |p: crate::job::Point| (p[0] - own.a[0]) * d[0] + (p[1] - own.a[1]) * d[1];
        let rise = self.plan.floor_m[owner] - self.plan.floor_m[room];
        let mut out = Vec::new();
        for (k, o) in self.job.rooms[owner].openings.iter().enumerate() {
            if o.edge != edge || !matches!(o.kind, OpeningKind::Window | OpeningKind::OutsideDoor) {
                continue;
            }
            let (s, t) = wall.stretch(o.offset_m, o.width_m);
            let (s, t) = (along(wall.at(s)), along(wall.at(t)));
            let width = s.max(t).min(face.to_m) - s.min(t).max(face.from_m);
            let (low, high) = (rise + o.sill_m, rise + o.sill_m + o.height_m);
            let height = high.min(face.high_m) - low.max(face.low_m);
            if width > 0.0 && height > 0.0 {
                out.push((k, width * height));
            }
        }
        out
    }

    fn opaque(&self, room: usize, face: &WallPiece) -> f64 {
        let Some(own) = self.plan.edges[room].iter().find(|e| e.index == face.edge) else { return 0.0 };
        self.plan.ceilings[room].wall_area(own, face.from_m, face.to_m, face.low_m, face.high_m)
    }

    /// Area of a piece of wall that is covered by fields, m²: what leaves at their backs is theirs, not the room's need.
    fn tubed(&self, room: usize, face: &WallPiece) -> f64 {
        let fields = self.job.rooms[room].heated_fields().iter().filter(|f| f.edge == Some(face.edge));
        let area: f64 = fields.map(Field::area_m2).sum();
        if area > 0.0 && self.plan.piece_of_fields(room, face.edge) == Some(face) { area } else { 0.0 }
    }

    fn partition(&mut self, room: usize, other: usize, face: &WallPiece) {
        // tube in either face carries the heat to the other side by itself
        let there = face.other_edge.and_then(|e| self.plan.piece_of_fields(other, e));
        let there = there.filter(|p| p.other_edge == Some(face.edge)).map_or(0.0, |p| self.tubed(other, p));
        let mut opaque = (self.opaque(room, face) - self.tubed(room, face).max(there)).max(0.0);
        let mut holes = self.openings_in(room, face, room, face.edge);
        let mine = holes.len();
        if let Some(edge) = face.other_edge {
            holes.extend(self.openings_in(room, face, other, edge));
        }
        let both = |r: &mut Self, cause, subject: [Option<String>; 2], construction_id: Option<String>, amount, u| {
            let [here, there] = subject;
            for (from, to, subject, edge) in
                [(room, other, here, Some(face.edge)), (other, room, there, face.other_edge)]
            {
                r.push(
                    from,
                    Conductance {
                        cause,
                        measure: Measure::Area,
                        edge,
                        subject,
                        construction_id: construction_id.clone(),
                        other: Other::Room(to),
                        amount,
                        per_kelvin: u,
                    },
                );
            }
        };
        for (i, (k, area)) in holes.into_iter().enumerate() {
            let o = &self.job.rooms[if i < mine { room } else { other }].openings[k];
            let (u, id) = self.opening_u(o);
            let cause = if o.kind == OpeningKind::Window { Cause::Window } else { Cause::OutsideDoor };
            let area = area.min(opaque);
            opaque -= area;
            let subject = Some(o.id.clone());
            both(self, cause, [subject.clone(), subject], id, area, u);
        }
        // the first room's word on the wall counts for both sides, else the other's
        let own = |r: usize, e: usize| {
            self.job.rooms[r].walls.iter().any(|w| w.edge == e && (w.u.is_some() || w.construction_id.is_some()))
        };
        let (u, id) = match face.other_edge {
            Some(e) if !own(room, face.edge) && own(other, e) => self.wall_u(other, e, Side::Indoors),
            _ => self.wall_u(room, face.edge, Side::Indoors),
        };
        let names = [other, room].map(|r| Some(self.job.rooms[r].id.clone()));
        both(self, Cause::Partition, names, id, opaque, u);
    }

    fn outer_wall(&mut self, room: usize, face: &WallPiece, beyond: Beyond) {
        // the end of a wall between two neighbours, unless it is the surveyor who says that it is warm behind
        let said = self.job.rooms[room].walls.iter().any(|w| w.edge == face.edge && w.beyond.is_some());
        if beyond == Beyond::Heated && !said {
            return;
        }
        let outside = beyond == Beyond::Outside;
        let surcharge = if outside { self.surcharge } else { 0.0 };
        let mut opaque = self.opaque(room, face);
        if outside {
            let r = &self.job.rooms[room];
            let top = face.high_m >= r.height_m - 1e-6;
            let stretch = self.stretch(room, face.edge);
            opaque = opaque * stretch + if top { face.length() * stretch * self.extra_height(room) } else { 0.0 };
        }
        opaque = (opaque - self.tubed(room, face)).max(0.0);
        for (k, area) in self.openings_in(room, face, room, face.edge) {
            if beyond == Beyond::Heated {
                continue;
            }
            let o = &self.job.rooms[room].openings[k];
            let (u, construction_id) = self.opening_u(o);
            let (cause, subject) = match o.kind {
                OpeningKind::Window => (Cause::Window, o.id.clone()),
                _ => (Cause::OutsideDoor, o.id.clone()),
            };
            let amount = area.min(opaque);
            opaque -= amount;
            // a cellar window looks into its light well
            let other = if beyond == Beyond::Ground { Other::Outdoors } else { self.other(beyond) };
            let subject = Some(subject);
            let per_kelvin = u + if other == Other::Outdoors { self.surcharge } else { 0.0 };
            let (measure, edge) = (Measure::Area, Some(face.edge));
            self.push(room, Conductance { cause, measure, edge, subject, construction_id, other, amount, per_kelvin });
        }
        let (cause, side) = match beyond {
            Beyond::Outside => (Cause::OutsideWall, Side::Outdoors),
            Beyond::Ground => (Cause::OutsideWall, Side::Ground),
            _ => (Cause::Partition, Side::Indoors),
        };
        let (mut u, construction_id) = self.wall_u(room, face.edge, side);
        let mut other = self.other(beyond);
        let depth = (-self.plan.floor_m[room]).max(0.0);
        if beyond == Beyond::Ground && self.job.envelope.ground.method == GroundMethod::Iso13370 && depth > 0.0 {
            let wall = (1.0 / u - Direction::Horizontal.film()).max(0.0);
            let floor = self.floor_resistance(room);
            u = ground::YEARLY_SWING * ground::basement_wall_u(&self.job.envelope.ground, wall, floor, depth);
            other = Other::Mean;
        }
        self.push(
            room,
            Conductance {
                cause,
                measure: Measure::Area,
                edge: Some(face.edge),
                subject: None,
                construction_id,
                other,
                amount: opaque,
                per_kelvin: u + surcharge,
            },
        );
    }

    fn floor_resistance(&self, room: usize) -> f64 {
        let id = self.job.rooms[room].floor_id.as_ref().unwrap_or(&self.job.envelope.floor_id);
        self.job
            .construction(id)
            .map_or(0.0, |c| construction::resistance(&|id| self.job.material(id), c, Direction::Downward))
    }

    /// Slopes, rooms upstairs, and what is left to the roof.
    fn above(&mut self, room: usize) {
        let r: &Room = &self.job.rooms[room];
        let id = r.roof_id.clone().unwrap_or_else(|| self.job.envelope.roof_id.clone());
        let roof = |other, amount, per_kelvin, edge| Conductance {
            cause: Cause::Roof,
            measure: Measure::Area,
            edge,
            subject: None,
            construction_id: Some(id.clone()),
            other,
            amount,
            per_kelvin,
        };
        let u_roof = self.construction_u(&id, Direction::Upward, Side::Outdoors) + self.surcharge;
        let parts = self.plan.ceilings[room].parts();
        let storey = &self.plan.storeys[room];
        let (shared, bare) = (storey.above.iter().map(|s| s.area_m2).sum::<f64>(), storey.open_above_m2);
        // fields in the ceiling take their share of all that is above it
        let fields = r.heated_fields().iter().filter(|f| f.edge.is_none()).map(Field::area_m2).sum::<f64>();
        let untubed = if shared + bare > 0.0 { (1.0 - fields / (shared + bare)).max(0.0) } else { 1.0 };
        let mut flat = f64::MAX;
        if !self.plan.ceilings[room].is_flat() {
            flat = parts[0].1;
            for &(edge, _, _, area) in &parts[1..] {
                let area = self.roof_windows(room, &Other::Outdoors, area, |o| Some(o.edge) == edge);
                self.push(room, roof(Other::Outdoors, area, u_roof, edge));
            }
        }
        self.storey_above(room, flat, untubed);
        let storey = &self.plan.storeys[room];
        let open = match self.job.envelope.dimensions {
            Dimensions::Inside => storey.open_above_m2,
            Dimensions::Outside => storey.outer_open_above_m2,
        };
        let other = self.other(r.above);
        let slopes: Vec<_> = parts[1..].iter().map(|p| p.0).collect();
        let open = self.roof_windows(room, &other, open.min(flat) * untubed, |o| !slopes.contains(&Some(o.edge)));
        let r: &Room = &self.job.rooms[room];
        let conductance = match r.above {
            Beyond::Outside => roof(Other::Outdoors, open, u_roof, None),
            beyond => {
                // an attic or a cold loft is still air on its other side
                let u = self.construction_u(&id, Direction::Upward, Side::Indoors);
                roof(self.other(beyond), open, u, None)
            }
        };
        self.push(room, conductance);
    }

    /// Those roof windows of a room, as far as that much roof holds them; the roof that is left, m².
    fn roof_windows(&mut self, room: usize, other: &Other, roof_m2: f64, here: impl Fn(&Opening) -> bool) -> f64 {
        let mut left = roof_m2;
        let windows = self.job.rooms[room].openings.iter().filter(|o| o.kind == OpeningKind::RoofWindow && here(o));
        for o in windows {
            let (u, construction_id) = self.opening_u(o);
            let amount = (o.width_m * o.height_m).min(left);
            left -= amount;
            let per_kelvin = u + if *other == Other::Outdoors { self.surcharge } else { 0.0 };
            let (cause, measure, subject) = (Cause::Window, Measure::Area, Some(o.id.clone()));
            let (edge, other) = (Some(o.edge), other.clone());
            self.push(room, Conductance { cause, measure, edge, subject, construction_id, other, amount, per_kelvin });
        }
        left
    }

    /// Ceilings to the rooms above, for both of their sides.
    fn storey_above(&mut self, room: usize, flat: f64, untubed: f64) {
        let id = &self.job.envelope.ceiling_id;
        let mut left = flat;
        for shared in self.plan.storeys[room].above.clone() {
            let amount = shared.area_m2.min(left);
            left -= amount;
            let amount = amount * untubed;
            let (low, high) = (self.temperature_guess(room), self.temperature_guess(shared.room));
            let direction = if low >= high { Direction::Upward } else { Direction::Downward };
            let upstairs = &self.job.rooms[shared.room];
            // between heated rooms, the water under the floor upstairs decides what comes down: the floor stage's
            let tube_above = upstairs.heated_floor().is_some();
            if tube_above && self.job.rooms[room].is_heated() {
                continue;
            }
            let u = self.construction_u(id, direction, Side::Indoors);
            for (from, to) in [(room, shared.room), (shared.room, room)] {
                // and into an unheated one it is the floor's loss
                if tube_above && from == shared.room {
                    continue;
                }
                let subject = Some(self.job.rooms[to].id.clone());
                self.push(
                    from,
                    Conductance {
                        cause: Cause::Partition,
                        measure: Measure::Area,
                        edge: None,
                        subject,
                        construction_id: Some(id.clone()),
                        other: Other::Room(to),
                        amount,
                        per_kelvin: u,
                    },
                );
            }
        }
    }

    /// For the direction of heat only: an unheated room without a typed temperature is colder than any heated one.
    fn temperature_guess(&self, room: usize) -> f64 {
        let r = &self.job.rooms[room];
        match r.unheated {
            None => r.room_c,
            Some(u) => u.temperature_c.unwrap_or(self.job.site.outdoor_c),
        }
    }

    fn below(&mut self, room: usize) {
        let r: &Room = &self.job.rooms[room];
        if r.heated_floor().is_some() {
            return;
        }
        let id = r.floor_id.clone().unwrap_or_else(|| self.job.envelope.floor_id.clone());
        let g = &self.job.envelope.ground;
        let area = self.floor_area(room);
        let resistance = self.floor_resistance(room);
        let u = |side| self.construction_u(&id, Direction::Downward, side);
        let depth = (-self.plan.floor_m[room]).max(0.0);
        let (measure, other, amount, per_kelvin) = match r.below {
            Beyond::Ground => match g.method {
                GroundMethod::Iso13370 => {
                    let u = ground::slab_u(g, self.dimensions[room], resistance, depth);
                    (Measure::Area, Other::Mean, area, ground::YEARLY_SWING * u)
                }
                GroundMethod::PerimeterFactor => {
                    (Measure::Length, Other::Outdoors, self.exposed_edge(room), g.perimeter_w_mk)
                }
                GroundMethod::GroundTemperature => (Measure::Area, Other::Ground, area, u(Side::Ground)),
            },
            Beyond::CrawlSpace => {
                let u = ground::crawl_space_u(g, self.dimensions[room].max(0.1), u(Side::Indoors));
                (Measure::Area, Other::CrawlSpace, area, u)
            }
            Beyond::Outside => (Measure::Area, Other::Outdoors, area, u(Side::Outdoors) + self.surcharge),
            beyond => (Measure::Area, self.other(beyond), area, u(Side::Indoors)),
        };
        self.push(
            room,
            Conductance {
                cause: Cause::Floor,
                measure,
                edge: None,
                subject: None,
                construction_id: (measure == Measure::Area).then_some(id),
                other,
                amount,
                per_kelvin,
            },
        );
    }
}

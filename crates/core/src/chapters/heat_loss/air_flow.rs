//! Air through the rooms: leaks and windows, supply and extract of a ventilation, and what comes over from other rooms.

use super::air::{self, AirBy};
use super::report::{Cause, Measure};
use super::surfaces::{Conductance, Other, Reader};
use crate::job::Beyond;
use crate::plan::ceiling::Ceiling;
use crate::plan::walls::Behind;

impl Reader<'_> {
    pub fn air(&mut self) {
        let job = self.job;
        let heat = air::volumetric_heat(job.site.altitude_m);
        let volumes: Vec<f64> = self.plan.ceilings.iter().map(Ceiling::volume).collect();
        let heated = |i: usize| job.rooms[i].is_heated();
        let all: f64 = (0..volumes.len()).filter(|&i| heated(i)).map(|i| volumes[i]).sum();
        // extract that no supply makes up for is drawn in through all leaks
        let surplus: f64 = job.rooms.iter().map(|r| r.extract_m3_h - r.supply_m3_h).sum::<f64>().max(0.0);
        // the rest of it comes over from the rooms that are supplied more than they give
        let giving: Vec<f64> = job.rooms.iter().map(|r| (r.supply_m3_h - r.extract_m3_h).max(0.0)).collect();
        let taking: f64 = job.rooms.iter().map(|r| (r.extract_m3_h - r.supply_m3_h).max(0.0)).sum();
        let given: f64 = giving.iter().sum();
        for (i, room) in job.rooms.iter().enumerate() {
            let volume = volumes[i];
            let middle = self.plan.floor_m[i] + room.height_m / 2.0;
            let takes = (room.extract_m3_h - room.supply_m3_h).max(0.0);
            let over = if takes > 0.0 { takes / taking * taking.min(given) } else { 0.0 };
            let drawn_in = if heated(i) && all > 0.0 { surplus * volume / all } else { 0.0 };
            // what is typed for a room is all of its outdoor air
            let typed = room.air_changes_per_h;
            let leaks =
                if typed.is_some() { 0.0 } else { air::leaks(&job.air, self.exposed_sides(i), middle) } * volume;
            let needed = typed.unwrap_or(job.air.least_per_h);
            let moved = (room.supply_m3_h + over).max(room.extract_m3_h);
            let (outdoor, air_by) = air::outdoor_m3_h(leaks, drawn_in, needed * volume, moved);
            let even = air::outdoor_m3_h(leaks / job.air.direction_factor, drawn_in, needed * volume, moved).0;
            // what is typed, be it nothing, is typed
            let air_by = if typed.is_some() && air_by != AirBy::Extract { AirBy::Typed } else { air_by };
            self.out[i].volume_m3 = volume;
            self.out[i].air_changes_per_h = if volume > 0.0 { outdoor / volume } else { 0.0 };
            (self.out[i].air_by, self.out[i].windward_w_k) = (air_by, heat * (outdoor - even));
            let air = |cause, amount, per_kelvin| Conductance {
                cause,
                measure: Measure::Air,
                edge: None,
                subject: None,
                construction_id: None,
                other: Other::Outdoors,
                amount,
                per_kelvin,
            };
            self.push(i, air(Cause::Air, outdoor - drawn_in, heat));
            self.push(i, air(Cause::Ventilation, room.supply_m3_h, heat * (1.0 - job.air.recovery)));
            if over > 0.0 {
                for (from, share) in giving.iter().enumerate().filter(|g| *g.1 > 0.0) {
                    let subject = Some(job.rooms[from].id.clone());
                    let amount = over * share / given;
                    let air = air(Cause::Ventilation, amount, heat);
                    self.push(i, Conductance { other: Other::Room(from), subject, ..air });
                }
            }
            if drawn_in > 0.0 {
                self.push(i, air(Cause::Ventilation, drawn_in, heat));
            }
        }
    }

    /// Directions, by quarters, to which a room has outside walls.
    fn exposed_sides(&self, room: usize) -> usize {
        let mut sides = [0.0; 4];
        for f in self.plan.walls[room].iter().filter(|f| f.behind == Behind::Other(Beyond::Outside)) {
            let Some(e) = self.plan.edges[room].iter().find(|e| e.index == f.edge) else { continue };
            let inward = e.inward();
            let quarter = if inward[0].abs() > inward[1].abs() {
                usize::from(inward[0] > 0.0)
            } else {
                2 + usize::from(inward[1] > 0.0)
            };
            sides[quarter] += f.length() * (f.high_m - f.low_m);
        }
        sides.iter().filter(|&&area| area > 0.5).count()
    }
}

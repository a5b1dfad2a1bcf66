//! Where the sun shines through windows onto the floors of a level.

use crate::cooling::gains::{at_outside, bearing, lets_in};
use crate::cooling::sun::Sky;
use crate::geometry::Point;
use crate::study::Study;
use crate::thermal::SunPatch;

/// Of the sun that falls onto a floor so much stays there; a carpet or dark stone takes more, pale wood less.
pub(super) const STAYS: f64 = 0.6;
/// A lower sun hardly comes in, degrees.
const LEAST_ELEVATION_DEG: f64 = 3.0;

/// A window in an outside wall.
#[derive(Debug, Clone, Copy)]
struct Pane {
    /// The room's place in the list that was asked for: its floor on the level.
    seat: usize,
    /// Its ends on the wall, m.
    ends: [Point; 2],
    /// Lower and upper edge over the floor, m.
    heights_m: [f64; 2],
    bearing_deg: f64,
    lets_in: f64,
}

/// The windows of a level's rooms.
pub(super) struct Sunlight {
    panes: Vec<Pane>,
    north_deg: f64,
}

impl Sunlight {
    /// Those of the rooms with these indices in the job. (Windows in the roof light the room, not a patch that is followed.)
    pub fn of(study: &Study, rooms: &[usize]) -> Sunlight {
        let (job, plan) = (&study.job, &study.plan);
        let mut panes = vec![];
        for (seat, &r) in rooms.iter().enumerate() {
            let upright = |o: &&crate::job::Opening| {
                o.kind.is_window() && o.kind != crate::job::OpeningKind::RoofWindow && at_outside(plan, r, o.edge)
            };
            for o in job.rooms[r].openings.iter().filter(upright) {
                let (Some(edge), Some(bearing_deg)) = (plan.edge(r, o.edge), bearing(job, plan, r, o.edge)) else {
                    continue;
                };
                let [from, to] = if edge.reversed { [edge.b, edge.a] } else { [edge.a, edge.b] };
                let length = crate::geometry::distance(from, to).max(1e-9);
                let at = |s: f64| [0, 1].map(|k| from[k] + (to[k] - from[k]) * (s / length).clamp(0.0, 1.0));
                panes.push(Pane {
                    seat,
                    ends: [at(o.offset_m), at(o.offset_m + o.width_m)],
                    heights_m: [o.sill_m, o.sill_m + o.height_m],
                    bearing_deg,
                    lets_in: lets_in(job, o),
                });
            }
        }
        Sunlight { panes, north_deg: job.site.north_deg }
    }

    /// The patches under that sky: each the window thrown along the rays onto the floor.
    pub fn patches(&self, sky: &Sky) -> Vec<SunPatch> {
        if sky.elevation_deg() < LEAST_ELEVATION_DEG {
            return vec![];
        }
        // on the plan: away from the sun, per metre of height
        let turn = (sky.azimuth_deg() + self.north_deg).to_radians();
        let far = 1.0 / sky.elevation_deg().to_radians().tan();
        let along = [-turn.sin() * far, -turn.cos() * far];
        let seen = self.panes.iter().filter(|p| sky.faces(p.bearing_deg));
        seen.map(|p| {
            let thrown = |end: usize, height: usize| [0, 1].map(|k| p.ends[end][k] + along[k] * p.heights_m[height]);
            SunPatch {
                floor: p.seat,
                corners: [thrown(0, 0), thrown(1, 0), thrown(1, 1), thrown(0, 1)],
                takes_w_m2: sky.direct_on_level() * p.lets_in * STAYS,
            }
        })
        .collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cooling::sun::Place;
    use crate::geometry::outline::signed_area;
    use crate::samples::{box_room, job_of, manifold, studied, window};

    /// A window of 2 by 1.5 m, 0.5 m over the floor, in the south wall of a room of 6 by 5 m.
    fn study(north_deg: f64) -> std::sync::Arc<Study> {
        let mut a = box_room("a", 0.0, 0.0, 6.0, 5.0);
        a.openings.push(crate::job::Opening { sill_m: 0.5, ..window("w", 0, 2.0, 2.0, 1.5) });
        let mut job = job_of(vec![a]);
        job.manifolds.push(manifold("m", "A", "a", 2, 3.0));
        job.site.north_deg = north_deg;
        studied(&job).expect("solves")
    }

    #[test]
    fn at_noon_it_shines_straight_in_as_far_as_the_height_says() {
        let place = Place { latitude_deg: 48.0, longitude_deg: 0.0 };
        let light = Sunlight::of(&study(0.0), &[0]);
        // 21 March: the sun stands 90° − 48° high at noon
        let sky = Sky::at_moment(place, 79.0 * 24.0 + 12.12, None, None, Some(0.0));
        let patches = light.patches(&sky);
        let [patch] = &patches[..] else { panic!("one window, one patch: {patches:?}") };
        let far = 1.0 / 42.0_f64.to_radians().tan();
        let [a, b, c, d] = patch.corners;
        for (got, want) in [(a, [2.0, 0.5 * far]), (b, [4.0, 0.5 * far]), (c, [4.0, 2.0 * far]), (d, [2.0, 2.0 * far])]
        {
            // half a degree of declination, some minutes of the equation of time
            assert!((got[0] - want[0]).abs() < 0.06 && (got[1] - want[1]).abs() < 0.06, "{got:?} for {want:?}");
        }
        // what falls onto the patch came through the window
        let through = sky.direct_on(180.0) * 2.0 * 1.5;
        let lets_in = patch.takes_w_m2 / STAYS / sky.direct_on_level();
        assert!(
            (signed_area(&patch.corners).abs() * patch.takes_w_m2 / STAYS - through * lets_in).abs() < 1e-6 * through
        );
    }

    #[test]
    fn it_moves_with_the_day_and_turns_with_the_house() {
        let place = Place { latitude_deg: 48.0, longitude_deg: 0.0 };
        let sky = |h: f64| Sky::at_moment(place, 79.0 * 24.0 + h, None, None, Some(0.0));
        let middle = |light: &Sunlight, h: f64| {
            light.patches(&sky(h)).first().map(|p| (p.corners[2][0] + p.corners[3][0]) / 2.0)
        };
        let light = Sunlight::of(&study(0.0), &[0]);
        let (morning, evening) = (middle(&light, 9.0).expect("sun"), middle(&light, 15.0).expect("sun"));
        assert!(morning < 2.0 && evening > 4.0, "it comes from the east: {morning} {evening}");
        assert_eq!((middle(&light, 3.0), middle(&light, 22.0)), (None, None));
        // plan up is south: the window looks north, the equinox sun never comes in
        assert_eq!(middle(&Sunlight::of(&study(180.0), &[0]), 12.0), None);
        // plan up is west: the window looks east, and has the morning
        let east = Sunlight::of(&study(90.0), &[0]);
        assert!(middle(&east, 9.0).is_some() != middle(&east, 15.0).is_some());
    }
}

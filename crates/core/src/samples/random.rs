//! Plans by number, none like another: single rooms of many shapes, houses along a hall, houses traced off a picture
//! with walls on no grid. A layout that suits only the plans it was made with is found out by these.
//!
//! ```
//! use fuoco_core::samples::random::plan;
//! assert_eq!(plan(7), plan(7));
//! assert_ne!(plan(7), plan(8));
//! assert!(plan(7).check().is_ok());
//! ```

use super::{box_room, cabinet, doorway, job_of, manifold, shaped_room, window};
use crate::geometry::distance;
use crate::geometry::outline::{to_sides, within};
use crate::job::{Job, KeepOut, Pattern, Point, Room};

/// Wall between two rooms, m.
const WALL_M: f64 = 0.12;

/// Between things, and between a thing and a wall, there is so much room, m.
const PASS_M: f64 = 0.75;

/// The generator SplitMix64 (Steele, Lea and Flood, OOPSLA 2014): plain, and the same on every machine.
pub(super) struct Dice(pub(super) u64);

impl Dice {
    pub(super) fn next(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        z ^ (z >> 31)
    }

    pub(super) fn between(&mut self, low: f64, high: f64) -> f64 {
        low + (high - low) * ((self.next() >> 11) as f64 / (1u64 << 53) as f64)
    }

    pub(super) fn below(&mut self, n: usize) -> usize {
        (self.next() % n as u64) as usize
    }

    pub(super) fn pick<T: Copy>(&mut self, of: &[T]) -> T {
        of[self.below(of.len())]
    }

    /// A size as people measure it, in centimetres.
    fn size(&mut self, low: f64, high: f64) -> f64 {
        (self.between(low, high) * 100.0).round() / 100.0
    }
}

/// The plan of that number. Every tenth is a house traced off a picture, three of ten are houses, the others are single rooms.
pub fn plan(number: u64) -> Job {
    let mut dice = Dice(number.wrapping_mul(0x2545_f491_4f6c_dd1d));
    let mut job = match number % 10 {
        6..=8 => house(&mut dice, 0.0),
        9 => house(&mut dice, 0.02),
        kind => room_alone(&mut dice, kind),
    };
    job.name = format!("Plan {number}");
    let (core, tight) = (dice.pick(&[0.1_f64, 0.15, 0.2, 0.2, 0.25, 0.3]), dice.below(3) == 0);
    for room in &mut job.rooms {
        if let Some(floor) = &mut room.floor {
            // baths are laid closer
            let core = if room.id.starts_with("bath") { core.min(0.15) } else { core };
            (floor.spacing_core_m, floor.spacing_edge_m) = (core, if tight { core.min(0.15) } else { core });
        }
    }
    job.rules.equal_loops = dice.below(2) == 0;
    job
}

/// One room with cabinets and its manifold on a wall.
fn room_alone(dice: &mut Dice, kind: u64) -> Job {
    let (w, h) = (dice.size(2.4, 9.0), dice.size(2.2, 7.0));
    let (a, b) = (dice.size(0.3, 0.7) * w, dice.size(0.3, 0.7) * h);
    let outline: Vec<Point> = match kind {
        0 => vec![[0.0, 0.0], [w, 0.0], [w, h], [0.0, h]],
        1 => vec![[0.0, 0.0], [w, 0.0], [w, b], [a, b], [a, h], [0.0, h]],
        2 => {
            let (l, r) = (0.3 * w, 0.3 * w + 0.4 * w);
            vec![[0.0, 0.0], [w, 0.0], [w, b], [r, b], [r, h], [l, h], [l, b], [0.0, b]]
        }
        3 => {
            let (l, r) = (0.33 * w, 0.68 * w);
            vec![[0.0, 0.0], [w, 0.0], [w, h], [r, h], [r, b], [l, b], [l, h], [0.0, h]]
        }
        4 => {
            let out = (0.2 * w).min(1.1);
            let (l, r) = (0.25 * w, 0.75 * w);
            vec![[0.0, 0.0], [w, 0.0], [w, h], [r, h], [r - out, h + out], [l + out, h + out], [l, h], [0.0, h]]
        }
        _ if dice.below(2) == 0 => {
            let mut lean = || dice.between(-0.08, 0.12) * h.min(w);
            vec![[0.0, 0.0], [w, lean()], [w + lean(), h + lean()], [lean(), h]]
        }
        _ => {
            // an apse of eight straights at the east end
            let r = h / 2.0;
            let arc = (0..=8).map(|k| std::f64::consts::PI * (f64::from(k) / 8.0 - 0.5));
            let arc = arc.map(|t| [w + r * t.cos(), r + r * t.sin()]);
            [[0.0, h], [0.0, 0.0]].into_iter().chain(arc).collect()
        }
    };
    let mut room = shaped_room("room", rounded(outline));
    let n = room.outline.len();
    let wall = (0..n).map(|_| dice.below(n)).find(|&e| wall_length(&room, e) > 1.0).unwrap_or(0);
    let along = dice.between(0.2, 0.8) * wall_length(&room, wall);
    let before = at_wall(&room, wall, along);
    for k in 0..dice.below(4) {
        let [a, b] = if dice.below(2) == 0 { island(dice, [w, h]) } else { at_a_wall(dice, &room) };
        let [x0, y0, x1, y1] = crate::geometry::outline::bounds(&rounded(vec![a, b]));
        // people pass between things, and so does tube
        let clear = |p: Point| within(&room.outline, p);
        let around = [[x0 - PASS_M, y0], [x1 + PASS_M, y1], [x0, y0 - PASS_M], [x1, y1 + PASS_M]];
        let beside =
            |o: &KeepOut| x0 < o.x1_m + PASS_M && o.x0_m < x1 + PASS_M && y0 < o.y1_m + PASS_M && o.y0_m < y1 + PASS_M;
        let before_it =
            (x0 - PASS_M..x1 + PASS_M).contains(&before[0]) && (y0 - PASS_M..y1 + PASS_M).contains(&before[1]);
        let passable = around.into_iter().filter(|&p| clear(p)).count() >= 3 || to_sides(&room.outline, a) > PASS_M;
        let inside = [[x0, y0], [x1, y0], [x1, y1], [x0, y1]].into_iter().filter(|&p| clear(p)).count() >= 2;
        if inside && passable && !before_it && !room.keep_outs.iter().any(beside) {
            room.keep_outs.push(cabinet(&format!("k{k}"), x0, y0, x1, y1));
        }
    }
    room.openings.push(window("w", (wall + 1) % n, 0.1, 0.3, 1.2));
    room.floor.iter_mut().for_each(|f| f.pattern = dice.pick(&[Pattern::Auto, Pattern::Auto, Pattern::Serpentine]));
    let mut job = job_of(vec![room]);
    job.manifolds.push(manifold("m", "A", "room", wall, along));
    job
}

/// Two corners of something that stands anywhere on the floor.
fn island(dice: &mut Dice, size: [f64; 2]) -> [Point; 2] {
    let at = [dice.between(0.0, size[0]), dice.between(0.0, size[1])];
    [at, [at[0] + dice.size(0.2, 1.2), at[1] + dice.size(0.2, 0.7)]]
}

/// Two corners of something that stands at a wall.
fn at_a_wall(dice: &mut Dice, room: &Room) -> [Point; 2] {
    let wall = dice.below(room.outline.len());
    let l = wall_length(room, wall);
    let (from, depth) = (dice.between(0.0, 0.8) * l, dice.size(0.25, 0.65));
    let (a, b) = (at_wall(room, wall, from), at_wall(room, wall, (from + dice.size(0.4, 1.8)).min(l)));
    let left = [(a[1] - b[1]), (b[0] - a[0])].map(|v| v / distance(a, b).max(1e-9) * depth);
    [a, [b[0] + left[0], b[1] + left[1]]]
}

/// Rooms on both sides of a hall, the largest an L round its end; `off` moves every corner, as tracing does, m.
fn house(dice: &mut Dice, off: f64) -> Job {
    let hall_m = dice.size(1.1, 2.2);
    let mut widths = [vec![], vec![]];
    let length = dice.size(6.0, 13.0);
    for side in &mut widths {
        let mut left = length;
        while left > 5.0 {
            let w = dice.size(1.8, (left - 2.0).min(4.8));
            side.push(w);
            left -= w + WALL_M;
        }
        side.push((left * 100.0).round() / 100.0);
    }
    let depths = [dice.size(2.2, 4.6), dice.size(2.2, 4.6)];
    let mut rooms: Vec<Room> = vec![box_room("hall", 0.0, 0.0, length, hall_m)];
    for (side, widths) in widths.iter().enumerate() {
        let mut x = 0.0;
        for (k, &w) in widths.iter().enumerate() {
            let (y0, y1) =
                if side == 0 { (hall_m + WALL_M, hall_m + WALL_M + depths[0]) } else { (-WALL_M - depths[1], -WALL_M) };
            let bath = w < 2.6 && dice.below(2) == 0;
            let mut room = box_room(&format!("{}-{side}-{k}", if bath { "bath" } else { "room" }), x, y0, x + w, y1);
            room.openings.push(window(&format!("w-{side}-{k}"), if side == 0 { 2 } else { 0 }, 0.3 * w, 0.4 * w, 1.3));
            if dice.below(2) == 0 {
                let (dx, dy) = (dice.size(0.5, 0.6 * w), dice.size(0.3, 0.7));
                let y = if side == 0 { y1 - dy } else { y0 };
                room.keep_outs.push(cabinet(&format!("k-{side}-{k}"), x, y, x + dx, y + dy));
            }
            let door = dice.size(0.7, 0.95);
            let at = x + dice.between(0.1, 0.9) * (w - door - 0.1) + 0.05;
            let (edge, offset) = if side == 0 { (2, length - at - door) } else { (0, at) };
            rooms[0].openings.push(doorway(&format!("d-{side}-{k}"), edge, offset, door));
            rooms.push(room);
            x += w + WALL_M;
        }
    }
    // the living room goes on round the end of the hall
    if dice.below(2) == 0 {
        let (deep, last) = (dice.size(1.6, 3.2), rooms.len() - 1);
        let [x0, y0, _, y1] = crate::geometry::outline::bounds(&rooms[last].outline);
        let x = length + WALL_M;
        rooms[last].outline = vec![[x0, y0], [x + deep, y0], [x + deep, hall_m], [x, hall_m], [x, y1], [x0, y1]];
        rooms[last].keep_outs.clear();
    }
    if off > 0.0 {
        // every corner where the pointer happened to be; walls common to two rooms stay about parallel
        for room in &mut rooms {
            room.outline.iter_mut().flatten().for_each(|v| *v += dice.between(-off, off));
            room.outline = rounded(std::mem::take(&mut room.outline));
        }
    }
    let (wall, along) = match dice.below(3) {
        0 => (3, hall_m / 2.0),
        1 => (0, dice.between(0.3, 0.7) * length),
        _ => (2, dice.between(0.3, 0.7) * length),
    };
    // a manifold hangs beside doors, not in them
    let clear = |s: f64| {
        rooms[0]
            .openings
            .iter()
            .filter(|o| o.edge == wall)
            .all(|o| s < o.offset_m - 0.8 || s > o.offset_m + o.width_m + 0.8)
    };
    let free =
        (0..60).map(|k| (along + 0.2 * f64::from(k) - 0.3) % (length - 0.6) + 0.3).find(|&s| wall == 3 || clear(s));
    let mut job = job_of(rooms.clone());
    let (wall, along) = free.map_or((3, hall_m / 2.0), |s| (wall, if wall == 3 { along } else { s }));
    job.manifolds.push(manifold("m", "A", "hall", wall, along));
    job
}

fn rounded(outline: Vec<Point>) -> Vec<Point> {
    outline.into_iter().map(|p| p.map(|v| (v * 1000.0).round() / 1000.0)).collect()
}

fn wall_length(room: &Room, edge: usize) -> f64 {
    let n = room.outline.len();
    distance(room.outline[edge], room.outline[(edge + 1) % n])
}

fn at_wall(room: &Room, edge: usize, along: f64) -> Point {
    let (a, b) = (room.outline[edge], room.outline[(edge + 1) % room.outline.len()]);
    let l = distance(a, b).max(1e-9);
    [0, 1].map(|k| a[k] + (b[k] - a[k]) / l * along)
}

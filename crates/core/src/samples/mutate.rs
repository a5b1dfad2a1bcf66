//! Jobs made wrong by number: figures at and beyond their ranges, ids that collide, outlines that are none, scribbled loops,
//! fields and lattices anywhere, two hundred rooms. What a program must not break on.
//!
//! ```
//! use fuoco_core::samples::{building, mutate::mutated};
//! let text = mutated(3, &building(1, 4));
//! assert_eq!(text, mutated(3, &building(1, 4)));
//! assert!(serde_json::from_str::<serde_json::Value>(&text).is_ok());
//! ```

use super::random::Dice;
use super::{cabinet, manifold};
use crate::geometry::Point;
use crate::geometry::outline::bounds;
use crate::job::*;
use serde_json::{Number, Value};

type Change = fn(&mut Dice, &mut Job);

/// Changes that leave a job that may well pass its check.
const CHANGES: [Change; 16] = [
    repeat_a_corner,
    nudge_a_corner,
    add_a_corner_on_a_wall,
    fold_the_outline,
    copy_a_room,
    many_rooms,
    shrink_a_room,
    scribble_a_loop,
    add_a_field,
    set_a_lattice,
    split_a_room,
    move_a_manifold,
    add_a_manifold,
    add_keep_outs,
    set_spacings,
    set_the_house_rules,
];

/// A job of that number as JSON: some changes to the base, and now and then raw damage to its document.
pub fn mutated(number: u64, base: &Job) -> String {
    let mut dice = Dice(number.wrapping_mul(0x9e6c_63d0_876a_4c15));
    let mut job = base.clone();
    for _ in 0..=dice.below(4) {
        let change = dice.pick(&CHANGES);
        change(&mut dice, &mut job);
    }
    let mut document = serde_json::to_value(&job).unwrap_or_default();
    if dice.below(3) == 0 {
        damage(&mut dice, &mut document);
    }
    document.to_string()
}

/// What people's programs, broken disks and bad will put into files.
const SNIPPETS: [&str; 14] =
    ["", "\n", "\r\n", ",", ";", "\"", "1e308", "-0", "NaN", "999999999999999999999", "\u{0}", "\u{feff}", "ü", "=1+1"];

/// A file of that number: bytes changed, left out, repeated, cut off, snippets and figures put in where others stood.
pub fn garbled(number: u64, file: &[u8]) -> Vec<u8> {
    let mut dice = Dice(number.wrapping_mul(0xd134_2543_de82_ef95));
    let mut out = file.to_vec();
    for _ in 0..=dice.below(6) {
        let at = dice.below(out.len() + 1);
        let end = (at + dice.below(40)).min(out.len());
        match dice.below(7) {
            0 if at < out.len() => out[at] = dice.below(256) as u8,
            1 => drop(out.drain(at..end)),
            2 => {
                let again = out[at..end].repeat(1 + dice.below(300));
                out.splice(at..at, again);
            }
            3 => out.truncate(at),
            4 => drop(out.splice(at..end, dice.pick(&SNIPPETS).bytes())),
            5 => drop(out.splice(at..end, dice.pick(&SNIPPETS).bytes().cycle().take(dice.below(5000)))),
            _ => {
                // another figure in the place of one
                let digit = |k: &usize| out.get(*k).is_some_and(u8::is_ascii_digit);
                if let Some(from) = (at..out.len()).find(digit) {
                    let to = (from..out.len()).find(|k| !digit(k)).unwrap_or(out.len());
                    drop(out.splice(from..to, extreme(&mut dice, 7.0).to_string().bytes()));
                }
            }
        }
    }
    out
}

/// A figure as nobody measures it.
fn extreme(dice: &mut Dice, usual: f64) -> f64 {
    let shift = dice.between(-1.0, 1.0);
    dice.pick(&[
        0.0,
        -0.0,
        -usual,
        usual * 2.0,
        usual * 1e3,
        usual * 1e-3,
        usual + 1e-9,
        usual + shift,
        1e-12,
        1e9,
        -1e9,
        1e300,
        f64::MIN_POSITIVE,
    ])
}

fn room<'a>(dice: &mut Dice, job: &'a mut Job) -> Option<&'a mut Room> {
    let n = job.rooms.len();
    if n == 0 { None } else { job.rooms.get_mut(dice.below(n)) }
}

fn corner(dice: &mut Dice, room: &Room) -> usize {
    dice.below(room.outline.len().max(1))
}

fn repeat_a_corner(dice: &mut Dice, job: &mut Job) {
    let off = dice.pick(&[0.0, 1e-12, 1e-7, 1e-4, 0.01]);
    let Some(room) = room(dice, job) else { return };
    let i = corner(dice, room);
    let p = room.outline[i];
    room.outline.insert(i, [p[0] + off, p[1]]);
}

fn nudge_a_corner(dice: &mut Dice, job: &mut Job) {
    let Some(room) = room(dice, job) else { return };
    let (i, k) = (corner(dice, room), dice.below(2));
    room.outline[i][k] = extreme(dice, room.outline[i][k]).clamp(-999.0, 999.0);
}

fn add_a_corner_on_a_wall(dice: &mut Dice, job: &mut Job) {
    let off = dice.pick(&[0.0, 1e-9, 0.003, 0.02, -0.02]);
    let Some(room) = room(dice, job) else { return };
    let i = corner(dice, room);
    let (a, b) = (room.outline[i], room.outline[(i + 1) % room.outline.len()]);
    room.outline.insert(i + 1, [f64::midpoint(a[0], b[0]) + off, f64::midpoint(a[1], b[1]) + off]);
}

fn fold_the_outline(dice: &mut Dice, job: &mut Job) {
    let Some(room) = room(dice, job) else { return };
    let (i, j) = (corner(dice, room), corner(dice, room));
    match dice.below(3) {
        0 => room.outline.swap(i, j),
        1 => room.outline.reverse(),
        _ => room.outline[i] = room.outline[j],
    }
}

fn copy_a_room(dice: &mut Dice, job: &mut Job) {
    let by = [dice.pick(&[0.0, 0.01, 5.0, 40.0]), dice.pick(&[0.0, -0.01, 7.0])];
    let keep_ids = dice.below(4) == 0;
    let Some(copy) = room(dice, job).map(|r| r.clone()) else { return };
    job.rooms.push(shifted(&copy, by, if keep_ids { None } else { Some(dice.next()) }));
}

/// A room beside itself; `number` makes its ids new.
fn shifted(room: &Room, by: Point, number: Option<u64>) -> Room {
    let mut out = room.clone();
    out.outline.iter_mut().for_each(|p| *p = [p[0] + by[0], p[1] + by[1]]);
    for k in &mut out.keep_outs {
        (k.x0_m, k.x1_m, k.y0_m, k.y1_m) = (k.x0_m + by[0], k.x1_m + by[0], k.y0_m + by[1], k.y1_m + by[1]);
    }
    if let Some(n) = number {
        out.id = format!("{}-{n}", out.id);
        out.openings.iter_mut().for_each(|o| o.id = format!("{}-{n}", o.id));
        out.keep_outs.iter_mut().for_each(|k| k.id = format!("{}-{n}", k.id));
        out.fields.iter_mut().for_each(|f| f.id = format!("{}-{n}", f.id));
        out.emitters.iter_mut().for_each(|e| e.id = format!("{}-{n}", e.id));
    }
    out
}

fn many_rooms(dice: &mut Dice, job: &mut Job) {
    // seldom: these take the longest
    if dice.below(6) > 0 {
        return;
    }
    let Some(one) = room(dice, job).map(|r| r.clone()) else { return };
    let [x0, y0, x1, y1] = bounds(&one.outline);
    let (w, h) = (x1 - x0 + 0.12, y1 - y0 + 0.12);
    for k in 0..(MAX_ROOMS + 1).saturating_sub(job.rooms.len() + dice.below(3)) {
        let by = [200.0 + (k % 14) as f64 * w, (k / 14) as f64 * h];
        job.rooms.push(shifted(&one, by, Some(k as u64)));
    }
}

fn shrink_a_room(dice: &mut Dice, job: &mut Job) {
    let by = dice.pick(&[1e-6, 0.01, 0.1, 0.3, 3.0]);
    let Some(room) = room(dice, job) else { return };
    let o = room.outline[0];
    room.outline.iter_mut().for_each(|p| *p = [0, 1].map(|k| o[k] + (p[k] - o[k]) * by));
}

fn scribble_a_loop(dice: &mut Dice, job: &mut Job) {
    let n = dice.pick(&[2, 3, 12, 60, 400]);
    let Some((id, [x0, y0, x1, y1])) = room(dice, job).map(|r| (r.id.clone(), bounds(&r.outline))) else { return };
    if job.manifolds.is_empty() {
        return;
    }
    let hung = dice.below(job.manifolds.len());
    let place = |dice: &mut Dice| [dice.between(x0 - 0.3, x1 + 0.3), dice.between(y0 - 0.3, y1 + 0.3)];
    let mut corners: Vec<Point> = (0..n).map(|_| place(dice)).collect();
    if dice.below(2) == 0 {
        // right angles, as the tools draw them
        (1..n).for_each(|i| corners[i][i % 2] = corners[i - 1][i % 2]);
    }
    job.loops.push(KeptLoop {
        id: format!("scribbled-{}", job.loops.len()),
        manifold_id: job.manifolds[hung].id.clone(),
        port: 1 + dice.below(12) as u32,
        room_id: id,
        also_room_ids: vec![],
        corners,
        leaders_m: dice.pick(&[0.0, 2.0, 250.0]),
        by_hand: true,
    });
}

fn add_a_field(dice: &mut Dice, job: &mut Job) {
    let edge = (dice.below(2) == 0).then(|| dice.below(5));
    let size = |dice: &mut Dice| dice.pick(&[0.1, 0.6, 2.0, 12.0, 200.0]);
    let (width_m, height_m, spacing_m) = (size(dice), size(dice), dice.pick(&[0.05, 0.15, 0.6]));
    let id = format!("field-{}", dice.next());
    let build_up_id = if edge.is_some() { "wall-board" } else { "ceiling-board" }.to_owned();
    let Some(room) = room(dice, job) else { return };
    room.fields.push(Field { id, edge, width_m, height_m, build_up_id, tube_id: "pex-16x2".into(), spacing_m });
}

fn set_a_lattice(dice: &mut Dice, job: &mut Job) {
    let at = dice.between(-3.0, 3.0);
    let lattice = match dice.below(3) {
        0 => FloorLattice::Squares { side_m: dice.pick(&[0.02, 0.075, 0.1, 0.15, 0.4]), cross: [at, -at] },
        n => FloorLattice::Joists {
            along: if n == 1 { Axis::X } else { Axis::Y },
            centres_m: dice.pick(&[0.2, 0.4, 0.6, 1.5]),
            width_m: dice.pick(&[0.02, 0.045, 0.2]),
            one_m: at,
        },
    };
    if let Some(floor) = room(dice, job).and_then(|r| r.floor.as_mut()) {
        floor.lattice = Some(lattice);
    }
}

fn split_a_room(dice: &mut Dice, job: &mut Job) {
    let n = 1 + dice.below(3);
    let Some(room) = room(dice, job) else { return };
    let [x0, y0, x1, y1] = bounds(&room.outline);
    let mut end = || [dice.between(x0, x1), dice.between(y0, y1)];
    let splits: Vec<[Point; 2]> = (0..n).map(|_| [end(), end()]).collect();
    if let Some(floor) = &mut room.floor {
        floor.splits = splits;
    }
}

fn move_a_manifold(dice: &mut Dice, job: &mut Job) {
    let n = job.manifolds.len();
    if n == 0 {
        return;
    }
    let (i, edge, offset) = (dice.below(n), dice.below(4), dice.pick(&[0.0, 0.01, 0.5, 1.7, 3.0, 199.0]));
    let letter = job.manifolds[dice.below(n)].letter.clone();
    let m = &mut job.manifolds[i];
    (m.edge, m.offset_m, m.letter, m.ports) = (edge, offset, letter, dice.pick(&[1, 2, 12, 24]));
}

fn add_a_manifold(dice: &mut Dice, job: &mut Job) {
    let (id, edge, offset) = (format!("m-{}", dice.next()), dice.below(4), dice.between(0.2, 3.0));
    if let Some(room_id) = room(dice, job).map(|r| r.id.clone()) {
        job.manifolds.push(manifold(&id, "Z", &room_id, edge, offset));
    }
}

fn add_keep_outs(dice: &mut Dice, job: &mut Job) {
    let n = dice.pick(&[1, 3, 12]);
    let id = dice.next();
    let Some(room) = room(dice, job) else { return };
    let [x0, y0, x1, y1] = bounds(&room.outline);
    for k in 0..n {
        let (x, y) = (dice.between(x0 - 0.5, x1), dice.between(y0 - 0.5, y1));
        let (w, h) = (dice.pick(&[0.01, 0.1, 0.6, 3.0]), dice.pick(&[0.01, 0.1, 0.6, 3.0]));
        room.keep_outs.push(cabinet(&format!("k-{id}-{k}"), x, y, x + w, y + h));
    }
}

fn set_spacings(dice: &mut Dice, job: &mut Job) {
    let (core, edge): (f64, f64) = (dice.pick(&[0.05, 0.1, 0.2, 0.3, 0.6]), dice.pick(&[0.05, 0.1, 0.2]));
    let loops = dice.pick(&[None, None, Some(1), Some(5), Some(16)]);
    if let Some(floor) = room(dice, job).and_then(|r| r.floor.as_mut()) {
        (floor.spacing_core_m, floor.spacing_edge_m, floor.loops) = (core, edge.min(core), loops);
    }
}

fn set_the_house_rules(dice: &mut Dice, job: &mut Job) {
    let rules = &mut job.rules;
    match dice.below(9) {
        0 => rules.edge_band_m = dice.pick(&[0.0, 3.0]),
        1 => rules.wall_clearance_m = dice.pick(&[0.05, 0.5]),
        2 => rules.lane_spacing_m = dice.pick(&[0.03, 0.3]),
        3 => rules.min_gap_m = dice.pick(&[0.02, 0.2]),
        4 => rules.temperature_drop_k = dice.pick(&[1.0, 25.0]),
        5 => rules.largest_drop_k = dice.pick(&[1.0, 40.0]),
        6 => rules.least_flow_l_min = dice.pick(&[0.0, 5.0]),
        7 => rules.equal_loops = true,
        _ => job.site.outdoor_c = dice.pick(&[-60.0, 19.9, 20.0, 25.0]),
    }
}

/// One value of a document replaced, doubled or taken out, whatever it means.
fn damage(dice: &mut Dice, document: &mut Value) {
    let mut at = document;
    loop {
        let deeper = match at {
            Value::Object(map) => !map.is_empty() && dice.below(6) > 0,
            Value::Array(items) => !items.is_empty() && dice.below(6) > 0,
            _ => false,
        };
        if !deeper {
            break;
        }
        at = match at {
            Value::Object(map) => {
                let k = dice.below(map.len());
                map.values_mut().nth(k).unwrap_or_else(|| unreachable!("within the map"))
            }
            Value::Array(items) => {
                let k = dice.below(items.len());
                &mut items[k]
            }
            _ => break,
        };
    }
    match at {
        Value::Number(n) => {
            let to = extreme(dice, n.as_f64().unwrap_or_default());
            *at = Number::from_f64(to).map_or(Value::Null, Value::Number);
        }
        Value::Array(items) if !items.is_empty() => {
            let k = dice.below(items.len());
            if dice.below(2) == 0 {
                items.push(items[k].clone());
            } else {
                items.remove(k);
            }
        }
        Value::String(text) => *text = dice.pick(&["", "ground", "A", "\u{0}", "=1+1", "ß"]).to_owned(),
        Value::Bool(b) => *b = !*b,
        other => *other = Value::Null,
    }
}

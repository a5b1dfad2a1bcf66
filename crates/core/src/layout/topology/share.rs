//! Small rooms of one thermostat zone on one loop.
//!
//! Loops that are neighbours at the manifold part from each other somewhere on their ways. There the right tube of the
//! one becomes the left tube of the other: water runs through the one field and then through the other, and the two
//! tubes that went back to the manifold beside each other are saved. No tube crosses another by that.

use crate::geometry::distance;
use crate::geometry::segment;
use crate::job::{Job, Point};
use crate::layout::rules::audit;
use crate::layout::topology::parts::Parted;
use crate::layout::topology::task::LoopKey;
use crate::layout::topology::tree::Tree;
use crate::layout::{LaidLoop, Layout, limit_of};
use crate::plan::Plan;
use std::collections::BTreeSet;

/// So many times at most joints that do not turn out are given up.
const MOST_TRIES: usize = 4;
/// Of the limit so much is used: lengths of joint loops are calculated before they are laid.
const OF_LIMIT: f64 = 0.99;
/// Tubes that run beside each other are nearer than so many lanes.
const BESIDE_LANES: f64 = 3.5;
/// Step along tubes beside each other, m.
const STEP_M: f64 = 0.1;

/// The layout with as few loops as the zones allow, or as it was where nothing can be shared.
pub(crate) fn share(parted: &Parted, tree: &mut Tree, counts: &[usize], alone: Layout) -> Layout {
    let job = &parted.job;
    let mut joins = wanted(job, &parted.rooms, &alone);
    for _ in 0..MOST_TRIES {
        if joins.is_empty() {
            break;
        }
        tree.join(joins.clone());
        let shared = tree.lay(job, counts);
        let failed = failed(job, parted.plan(), &shared);
        if failed.is_empty() && shared.problems.iter().all(|p| alone.problems.contains(p)) {
            return shared;
        }
        let before = joins.len();
        joins.retain(|(a, b)| !failed.iter().any(|l| l.heats(a.room) && l.heats(b.room)));
        if joins.len() == before {
            break;
        }
    }
    alone
}

/// Whether a loop that the layout let rooms share violates the layout rules.
pub(crate) fn any_invalid(job: &Job, plan: &Plan, layout: &Layout) -> bool {
    let automatic = |l: &LaidLoop| l.kept.is_none() && l.stretches.len() > 1;
    layout.loops.iter().any(automatic) && failed(job, plan, layout).into_iter().any(automatic)
}

/// Shared loops that came out invalid.
fn failed<'a>(job: &Job, plan: &Plan, layout: &'a Layout) -> Vec<&'a LaidLoop> {
    let mut bad: BTreeSet<usize> =
        audit::audit(job, plan, &layout.loops).iter().flat_map(|b| b.loops.iter().copied()).collect();
    bad.extend((0..layout.loops.len()).filter(|&i| layout.loops[i].length_m > limit_of(job, layout.loops[i].room)));
    bad.into_iter().map(|i| &layout.loops[i]).filter(|l| l.stretches.len() > 1).collect()
}

/// Which neighbours become one loop.
fn wanted(job: &Job, original: &[usize], alone: &Layout) -> BTreeSet<(LoopKey, LoopKey)> {
    let mut out = BTreeSet::new();
    if job.rules.share_below_m <= 0.0 || job.rooms.iter().all(|r| r.zone.is_none()) {
        return out;
    }
    for manifold in 0..job.manifolds.len() {
        // from left to right: against the ports
        let mut row: Vec<&LaidLoop> = alone.loops.iter().filter(|l| l.manifold == manifold).collect();
        row.sort_by_key(|l| std::cmp::Reverse(l.port));
        let saved: Vec<f64> = row.windows(2).map(|w| beside(w[0], w[1], job.rules.lane_spacing_m)).collect();
        for group in grouped(row.len(), |from, to| together(job, original, &row[from..to], &saved[from..to - 1])) {
            let keys: Vec<LoopKey> = row[group].iter().map(|l| LoopKey { room: l.room, piece: l.piece }).collect();
            out.extend(keys.windows(2).map(|w| (w[0], w[1])));
        }
    }
    out
}

/// Length of neighbours as one loop, if they may be one.
fn together(job: &Job, original: &[usize], row: &[&LaidLoop], saved: &[f64]) -> Option<f64> {
    let first = row.first()?;
    let length = row.iter().map(|l| l.length_m).sum::<f64>() - saved.iter().sum::<f64>();
    if row.len() == 1 {
        return Some(length);
    }
    let zone = |l: &LaidLoop| job.rooms[l.room].zone.as_deref();
    let tube = |l: &LaidLoop| job.rooms[l.room].heated_floor().map(|f| f.tube_id.as_str());
    let rooms: BTreeSet<usize> = row.iter().map(|l| original[l.room]).collect();
    let long = row.iter().filter(|l| l.length_m >= job.rules.share_below_m).count();
    let one = zone(first).is_some() && row.iter().all(|l| zone(l) == zone(first) && tube(l) == tube(first));
    (one && rooms.len() == row.len() && long < 2 && length <= OF_LIMIT * limit_of(job, first.room)).then_some(length)
}

/// Cuts a row into the fewest groups that are allowed, and among those into the most even. `length` of a range is none
/// where it is not allowed; a group of one always is.
fn grouped(n: usize, length: impl Fn(usize, usize) -> Option<f64>) -> Vec<std::ops::Range<usize>> {
    // best way to cut the first `to`: groups, sum of the squares of their lengths, where the last one begins
    let mut best: Vec<(usize, f64, usize)> = vec![(0, 0.0, 0)];
    for to in 1..=n {
        let ways = (0..to).rev().map_while(|from| {
            let l = length(from, to)?;
            Some((best[from].0 + 1, best[from].1 + l * l, from))
        });
        let way = ways.min_by(|a, b| a.0.cmp(&b.0).then(a.1.total_cmp(&b.1)));
        best.push(way.unwrap_or((to, f64::INFINITY, to - 1)));
    }
    let mut out = Vec::new();
    let mut to = n;
    while to > 0 {
        out.push(best[to].2..to);
        to = best[to].2;
    }
    out.reverse();
    out
}

/// Tube that two neighbours have beside each other from the manifold on, both ways, m.
fn beside(a: &LaidLoop, b: &LaidLoop, lane_m: f64) -> f64 {
    let ends = |l: &LaidLoop| [l.points.clone(), l.points.iter().rev().copied().collect::<Vec<Point>>()];
    let (of_a, of_b) = (ends(a), ends(b));
    let pairs = of_a.iter().flat_map(|p| of_b.iter().map(move |q| (p, q)));
    let apart =
        |(p, q): &(&Vec<Point>, &Vec<Point>)| p.first().zip(q.first()).map_or(f64::MAX, |(p, q)| distance(*p, *q));
    let Some((p, q)) = pairs.min_by(|x, y| apart(x).total_cmp(&apart(y))) else { return 0.0 };
    let mut along = 0.0;
    for w in p.windows(2) {
        let n = (distance(w[0], w[1]) / STEP_M).ceil().max(1.0);
        for k in 0..n as usize {
            let at = [0, 1].map(|i| w[0][i] + (w[1][i] - w[0][i]) * (k as f64 + 0.5) / n);
            let mut way = 0.0;
            let near = q.windows(2).take_while(|v| {
                way += distance(v[0], v[1]);
                way < along + 2.0
            });
            let gap = near.map(|v| segment::to_segment(at, v[0], v[1])).fold(f64::MAX, f64::min);
            // the first steps at the manifold always lie beside each other
            if gap > BESIDE_LANES * lane_m && along > 0.5 {
                return 2.0 * along;
            }
            along += distance(w[0], w[1]) / n;
        }
    }
    2.0 * along
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_row_is_cut_into_few_even_groups() {
        let lengths = [30.0, 30.0, 30.0, 30.0, 90.0, 20.0];
        let sum = |from: usize, to: usize| {
            let l: f64 = lengths[from..to].iter().sum();
            (to - from == 1 || l <= 100.0).then_some(l)
        };
        // four groups are the fewest; the first four loops are halved evenly rather than three and one
        assert_eq!(grouped(6, sum), [0..2, 2..4, 4..5, 5..6]);
        assert_eq!(grouped(0, sum), []);
        assert_eq!(grouped(3, |from, to| (to - from == 1).then_some(1.0)), [0..1, 1..2, 2..3]);
    }

    use crate::samples::{box_room, doorway, job_of, manifold};

    fn zoned(job: &mut Job, zone: &str, rooms: &[usize]) {
        rooms.iter().for_each(|&r| job.rooms[r].zone = Some(zone.into()));
    }

    /// Six offices along a corridor with the manifold in its south wall.
    fn offices(heated_corridor: bool) -> Job {
        let mut corridor = box_room("corridor", 0.0, 0.0, 15.4, 1.8);
        corridor.openings = (0..6).map(|k| doorway(&format!("d{k}"), 2, 13.6 - 2.6 * f64::from(k), 0.9)).collect();
        if !heated_corridor {
            corridor.floor = None;
        }
        let mut rooms = vec![corridor];
        for k in 0..6 {
            let x = 2.6 * f64::from(k);
            let depth = if k % 2 == 0 { 2.6 } else { 3.8 };
            rooms.push(box_room(&format!("o{k}"), x, 1.9, x + 2.4, 1.9 + depth));
        }
        let mut job = job_of(rooms);
        job.manifolds.push(manifold("m", "A", "corridor", 0, 7.7));
        job
    }

    fn valid(job: &Job) -> Layout {
        let layout = crate::layout::lay_out(job, &Plan::of(job));
        assert_eq!(layout.problems, []);
        let violations: Vec<_> = audit::audit(job, &Plan::of(job), &layout.loops).iter().map(|b| b.kind).collect();
        assert_eq!(violations, []);
        for l in &layout.loops {
            let field: f64 = l.stretches.iter().map(|s| s.field_m).sum();
            assert!((field + l.leader_length_m - l.length_m).abs() < 1e-6);
        }
        layout
    }
    fn rooms(l: &LaidLoop) -> Vec<usize> {
        l.stretches.iter().map(|s| s.room).collect()
    }

    #[test]
    fn neighbours_of_a_zone_share_within_the_limit() {
        for heated in [false, true] {
            let mut job = offices(heated);
            let alone = valid(&job);
            job.rules.share_below_m = 100.0;
            zoned(&mut job, "offices", &[1, 2, 3, 4, 5, 6]);
            let shared = valid(&job);
            assert_eq!(shared.loops.len(), alone.loops.len() - 2);
            let metres = |l: &Layout| l.loops.iter().map(|l| l.length_m).sum::<f64>();
            assert!(metres(&shared) < metres(&alone) - 5.0, "leaders are saved");
            assert!(shared.loops.iter().all(|l| l.length_m <= 100.0));
            assert!((1..7).all(|r| shared.loops.iter().any(|l| l.heats(r))));
            let ports: Vec<u32> = shared.loops.iter().map(|l| l.port).collect();
            assert_eq!(ports, (1..=ports.len() as u32).collect::<Vec<_>>());
            // two zones: no loop serves both, and what has no zone has loops of its own
            zoned(&mut job, "others", &[2, 5]);
            job.rooms[3].zone = None;
            let mixed = valid(&job);
            for l in &mixed.loops {
                let zones: BTreeSet<_> = rooms(l).into_iter().map(|r| job.rooms[r].zone.clone()).collect();
                assert_eq!(zones.len(), 1, "{:?}", rooms(l));
            }
            // nothing is shared where the firm does not want it
            zoned(&mut job, "offices", &[1, 2, 3, 4, 5, 6]);
            job.rules.share_below_m = 0.0;
            assert_eq!(valid(&job).loops, alone.loops);
        }
    }

    #[test]
    fn a_room_shares_with_what_lies_beside_or_before_it() {
        let beside_hall = |heated: bool, doors: &[usize]| {
            let mut hall = box_room("hall", 0.0, 0.0, 3.0, 3.6);
            hall.openings = doors.iter().map(|&e| doorway(&format!("d{e}"), e, 1.4, 0.9)).collect();
            hall.floor = hall.floor.filter(|_| heated);
            let (east, west) = (box_room("east", 3.1, 0.0, 4.6, 3.6), box_room("west", -1.6, 0.0, -0.1, 3.6));
            let mut job = job_of(vec![hall, east, west]);
            job.rooms.retain(|r| r.id == "hall" || doors.contains(&if r.id == "east" { 1 } else { 3 }));
            job.manifolds.push(manifold("m", "A", "hall", 0, 1.5));
            let all: Vec<usize> = (0..job.rooms.len()).collect();
            zoned(&mut job, "flat", &all);
            valid(&job).loops
        };
        // the hall's own loop with the room on its right, on its left; two rooms past a hall without a loop of its own
        for (heated, doors, expected) in [(true, &[1][..], 2), (true, &[3], 2), (false, &[1, 3], 2)] {
            let loops = beside_hall(heated, doors);
            assert_eq!((loops.len(), loops[0].stretches.len()), (1, expected), "{doors:?}");
        }
        // three are too long for one: two of them share
        let three = beside_hall(true, &[1, 3]);
        assert_eq!(three.iter().flat_map(rooms).collect::<BTreeSet<_>>(), BTreeSet::from([0, 1, 2]));
        assert!(three.len() == 2 && three.iter().any(|l| l.stretches.len() > 1));
    }

    #[test]
    fn a_locked_shared_loop_stays_shared() {
        let mut job = offices(false);
        job.rules.share_below_m = 100.0;
        zoned(&mut job, "offices", &[1, 2, 3, 4, 5, 6]);
        let before = valid(&job);
        let shared = before.loops.iter().find(|l| l.stretches.len() == 2).expect("one is shared");
        job.loops.push(crate::layout::edit::hand::locked(&job, shared, "kept"));
        job.check().expect("sound");
        let after = crate::layout::lay_out(&job, &Plan::of(&job));
        let kept = after.loops.iter().find(|l| l.kept.is_some()).expect("it lies");
        assert_eq!((&kept.points, rooms(kept)), (&shared.points, rooms(shared)));
        for (a, b) in kept.stretches.iter().zip(&shared.stretches) {
            // by the metres in each room, leaders within them shared out
            assert!((a.field_m / b.field_m - 1.0).abs() < 0.1, "{} {}", a.field_m, b.field_m);
        }
    }
}

//! Where neighbouring loops become one: the right tube of the left one goes on as the left tube of the right one in the
//! room where their ways part. Which neighbours do is for [`share`](crate::layout::topology::share) to say.

use crate::job::Point;
use crate::layout::topology::lanes::{Hugged, LaneSide};
use crate::layout::topology::task::{Chain, Lane, LanePath, LoopKey, Own, RoomRoute, RoomTask, Run};

/// A tube in the room that is routed, in job coordinates, m.
pub(crate) struct RoutedTube {
    pub lane: Lane,
    /// Its way in the room, from the entry or from the tube to which it is tied.
    pub way: Vec<Point>,
    /// What is routed beyond.
    pub beyond: Vec<Point>,
}

/// Which of the tubes nearest to the entry are one with their neighbours. (Those that leave by two doors on one side are
/// known to their [`LaneSide`].)
#[derive(Debug, Clone, Copy)]
pub(crate) struct Ties {
    /// The innermost one that passes on the left with the first own one.
    left: bool,
    /// The last own one with the innermost one that passes on the right.
    right: bool,
    /// The two innermost that pass, where no own one lies between them.
    across: bool,
}

impl RoomTask<'_> {
    /// The lanes of the doors on one side, from the outermost inwards.
    pub(crate) fn side(&self, exits: &[usize], on_right: bool) -> LaneSide {
        let mut keys: Vec<(LoopKey, usize)> = Vec::new();
        for &e in exits {
            let lanes = self.exits[e].route.lanes.iter().map(|l| (l.lane.key, e));
            if on_right { keys.extend(lanes.rev()) } else { keys.extend(lanes) }
        }
        let wanted = |a: LoopKey, b: LoopKey| self.joins.contains(&if on_right { (b, a) } else { (a, b) });
        let tied = (0..keys.len())
            .map(|k| keys.get(k + 1).is_some_and(|next| next.1 != keys[k].1 && wanted(keys[k].0, next.0)))
            .collect();
        LaneSide { exits: exits.to_vec(), tied, inner: None }
    }

    pub(crate) fn ties(&self, left: &LaneSide, right: &LaneSide) -> Ties {
        let innermost = |side: &LaneSide, on_right: bool| {
            let lanes = &self.exits[*side.exits.last()?].route.lanes;
            Some(if on_right { lanes.first()? } else { lanes.last()? }.lane.key)
        };
        let (l, r) = (innermost(left, false), innermost(right, true));
        let own = |piece: usize| (self.loops > 0).then_some(LoopKey { room: self.index, piece });
        let wanted = |a: Option<LoopKey>, b: Option<LoopKey>| a.zip(b).is_some_and(|pair| self.joins.contains(&pair));
        Ties {
            left: wanted(l, own(0)),
            right: wanted(own(self.loops.saturating_sub(1)), r),
            across: self.loops == 0 && wanted(l, r),
        }
    }
}

impl Ties {
    /// Lets tied lanes end at the entry, as long as it is not known where the others lie.
    pub fn guess(&self, left: &mut LaneSide, right: &mut LaneSide, middle: f64) {
        let there = Some((middle, f64::NEG_INFINITY));
        left.inner = there.filter(|_| self.left || self.across);
        right.inner = there.filter(|_| self.right || self.across);
    }

    /// Where tied lanes leave the entry's wall: at the last leg of the own one; two that pass the entry at the height of the
    /// higher. Returns the ties that can be made.
    pub fn meet(
        self,
        left: &mut LaneSide,
        right: &mut LaneSide,
        own: Option<&Own>,
        guessed: (&Hugged, &Hugged),
        middle: f64,
    ) -> Ties {
        if self.across {
            let height = |h: &Hugged| h.paths.last().and_then(|p| p.first()).map_or(f64::MIN, |p| p[1]);
            let there = Some((middle, height(guessed.0).max(height(guessed.1))));
            (left.inner, right.inner) = (there, there);
            return self;
        }
        let lanes = own.map_or(&[][..], |o| &o.lanes);
        left.inner = lanes.first().filter(|_| self.left).and_then(|l| last_leg(&l.1, 1.0));
        right.inner = lanes.last().filter(|_| self.right).and_then(|l| last_leg(&l.1, -1.0));
        Ties { left: left.inner.is_some(), right: right.inner.is_some(), across: false }
    }
}

/// Where the last leg of an own lane stands, if it goes straight into the room, and the height of its track along the
/// entry's wall if that leads away from the tube that is tied to it.
fn last_leg(lane: &[Point], away: f64) -> Option<(f64, f64)> {
    let [.., before, last] = lane else { return None };
    let start = lane.iter().rev().nth(2);
    let track = start.filter(|p| (last[0] - p[0]) * away > 1e-6).map_or(f64::MIN, |_| before[1]);
    ((before[0] - last[0]).abs() < 1e-6).then_some((last[0], track))
}

/// The route of a room from its tubes and chains, both from left to right, with neighbours joined where they are tied.
pub(crate) fn joined_up(task: &RoomTask, ties: &Ties, tubes: &[RoutedTube], mut chains: Vec<Chain>) -> RoomRoute {
    // the way between two neighbours, from the left one's field to the right one's
    let between = |a: &RoutedTube, b: &RoutedTube| -> Option<Vec<Point>> {
        if !a.lane.right || !task.joins.contains(&(a.lane.key, b.lane.key)) {
            return None;
        }
        let own = |t: &RoutedTube| t.lane.key.room == task.index && t.beyond.is_empty();
        let here: Vec<Point> = match (a.way.is_empty(), b.way.is_empty()) {
            (true, _) => b.way.clone(),
            (_, true) => a.way.iter().rev().copied().collect(),
            _ if own(b) && ties.left => a.way.iter().rev().chain(b.way.last()).copied().collect(),
            _ if own(a) && ties.right => a.way.last().into_iter().chain(&b.way).copied().collect(),
            _ if ties.across => a.way.iter().rev().chain(&b.way).copied().collect(),
            _ => return None,
        };
        Some(a.beyond.iter().rev().chain(&here).chain(&b.beyond).copied().collect())
    };
    let mut lanes = Vec::new();
    let mut i = 0;
    while i < tubes.len() {
        let t = &tubes[i];
        let Some(leader) = tubes.get(i + 1).and_then(|next| between(t, next)) else {
            let points = t.way.iter().chain(&t.beyond).copied().collect();
            lanes.push(LanePath { lane: t.lane, points });
            i += 1;
            continue;
        };
        // each chain's right lane is followed by the next one's left lane: so are the chains
        let ends = |c: &Chain| c.keys().next_back() == Some(t.lane.key);
        if let Some(first) = chains.iter().position(ends).filter(|f| f + 1 < chains.len()) {
            let second = chains.remove(first + 1);
            chains[first].runs.push(Run { field: None, points: leader });
            chains[first].runs.extend(second.runs);
        }
        i += 2;
    }
    RoomRoute { lanes, chains }
}

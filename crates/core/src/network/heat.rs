//! Temperatures by the heat that flows carry: each node has the mean of what flows into it, each part changes what flows
//! through it. One sparse linear system; what a part can give at most is settled by passes.

use faer::Col;
use faer::linalg::solvers::Solve;
use faer::sparse::linalg::solvers::{Lu, SymbolicLu};
use faer::sparse::{SparseColMat, Triplet};

/// Flows below this share of the largest carry no heat worth telling: what leaks through shut valves.
const STILL: f64 = 1e-7;

/// What a part does to the water that flows through it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Exchange {
    /// Nothing.
    None,
    /// It leaves at that temperature, °C; heat up to so much, W.
    Leaves { leaves_c: f64, most_w: f64 },
    /// It takes up so much heat, W; less than nothing is given off.
    Heat(f64),
    /// It gives heat to surroundings, W/K and °C.
    Toward { ua_w_k: f64, around_c: f64 },
    /// It exchanges heat with the water of another way, in counterflow, W/K.
    With { way: usize, ua_w_k: f64 },
}

/// A way with its flow.
#[derive(Debug, Clone, Copy)]
pub(super) struct Carrying {
    pub from: usize,
    pub to: usize,
    /// m³/s, against `from → to` below nought.
    pub flow: f64,
    pub exchange: Exchange,
}

/// Temperatures.
#[derive(Debug, Clone)]
pub(super) struct Temperatures {
    /// Of every node that water flows through, °C.
    pub nodes: Vec<Option<f64>>,
    /// At the beginning and at the end of every way through which water flows, °C.
    pub ways: Vec<Option<[f64; 2]>>,
}

/// Why there are none.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum NoLevel {
    /// Heat goes in and out of the water at this node, and nothing says how warm it is.
    At(usize),
    /// The system has no answer.
    Unsolved,
}

/// The outlet temperature of a part as `share · inlet + more`; `limited` for a source at its most.
fn outlet(exchange: Exchange, capacity: f64, limited: Limit) -> (f64, f64) {
    match exchange {
        // what an exchanger takes from the other way is added by `partner`
        Exchange::None | Exchange::With { .. } => (1.0, 0.0),
        Exchange::Heat(w) => (1.0, w / capacity),
        Exchange::Toward { ua_w_k, around_c } => {
            let kept = (-ua_w_k / capacity).exp();
            (kept, (1.0 - kept) * around_c)
        }
        Exchange::Leaves { leaves_c, most_w } => match limited {
            Limit::Free => (0.0, leaves_c),
            Limit::Most => (1.0, most_w / capacity),
            Limit::Off => (1.0, 0.0),
        },
    }
}

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Limit {
    /// It gives what brings the water to its temperature.
    Free,
    /// It gives all it can.
    Most,
    /// Its water comes warmer than it leaves.
    Off,
}

/// Share of the way from its own inlet's temperature to the other's that water in an exchanger goes, and the node from which
/// the other water comes: effectiveness of counterflow (W. M. Kays, A. L. London, Compact Heat Exchangers, 1984).
fn partner(w: &Carrying, ways: &[Carrying], moves: &impl Fn(&Carrying) -> bool, per_m3_k: f64) -> Option<(f64, usize)> {
    let Exchange::With { way, ua_w_k } = w.exchange else { return None };
    let other = ways.get(way).filter(|o| moves(o))?;
    let (own_w_k, other_w_k) = (w.flow.abs() * per_m3_k, other.flow.abs() * per_m3_k);
    let least = own_w_k.min(other_w_k);
    let (ratio, units) = (least / own_w_k.max(other_w_k), ua_w_k / least);
    let effective = if 1.0 - ratio < 1e-9 {
        units / (1.0 + units)
    } else {
        let e = (-units * (1.0 - ratio)).exp();
        (1.0 - e) / (1.0 - ratio * e)
    };
    Some((effective * least / own_w_k, if other.flow > 0.0 { other.from } else { other.to }))
}

/// Temperatures at those flows. `per_m3_k`: heat that a cubic metre carries per kelvin, J/m³K; `else_c`: of water that only
/// goes round, °C.
pub(super) fn temperatures(
    nodes: usize,
    ways: &[Carrying],
    per_m3_k: f64,
    else_c: f64,
) -> Result<Temperatures, NoLevel> {
    let most = ways.iter().map(|w| w.flow.abs()).fold(0.0, f64::max);
    let moves = |w: &Carrying| w.flow.abs() > STILL * most;
    let upstream = |w: &Carrying| if w.flow > 0.0 { (w.from, w.to) } else { (w.to, w.from) };
    let mut inflow = vec![0.0; nodes];
    for w in ways.iter().filter(|w| moves(w)) {
        inflow[upstream(w).1] += w.flow.abs();
    }
    let unknown: Vec<usize> = (0..nodes).filter(|n| inflow[*n] > 0.0).collect();
    if unknown.is_empty() {
        return Ok(Temperatures { nodes: vec![None; nodes], ways: vec![None; ways.len()] });
    }
    let mut index = vec![usize::MAX; nodes];
    unknown.iter().enumerate().for_each(|(k, n)| index[*n] = k);
    let count = unknown.len();

    let mut limits = vec![Limit::Free; ways.len()];
    let mut symbolic = None;
    let mut found = vec![0.0; nodes];
    for _ in 0..20 {
        if let Some(lost) = without_level(nodes, ways, &limits, &moves, &upstream, &inflow) {
            return Err(NoLevel::At(lost));
        }
        let mut entries = Vec::with_capacity(count + ways.len());
        let mut right = vec![0.0; count];
        // water that only goes round has no level of its own
        let slack = STILL * 1e-3 * most;
        for (k, n) in unknown.iter().enumerate() {
            entries.push(Triplet::new(k, k, inflow[*n] + slack));
            right[k] += slack * else_c;
        }
        for (w, limit) in ways.iter().zip(&limits).filter(|(w, _)| moves(w)) {
            let (up, down) = upstream(w);
            let flow = w.flow.abs();
            let (share, more) = outlet(w.exchange, flow * per_m3_k, *limit);
            let mut share = share;
            if let Some((toward, other)) = partner(w, ways, &moves, per_m3_k) {
                share = 1.0 - toward;
                if index[other] == usize::MAX {
                    right[index[down]] += flow * toward * else_c;
                } else {
                    entries.push(Triplet::new(index[down], index[other], -flow * toward));
                }
            }
            // what leaves a node that nothing enters leaks from somewhere: it is as warm as all
            if index[up] == usize::MAX {
                right[index[down]] += flow * (share * else_c + more);
            } else {
                entries.push(Triplet::new(index[down], index[up], -flow * share));
                right[index[down]] += flow * more;
            }
        }
        let matrix = SparseColMat::try_new_from_triplets(count, count, &entries).map_err(|_| NoLevel::Unsolved)?;
        let pattern = match symbolic.take() {
            Some(s) => s,
            None => SymbolicLu::try_new(matrix.symbolic()).map_err(|_| NoLevel::Unsolved)?,
        };
        let lu = Lu::try_new_with_symbolic(pattern.clone(), matrix.as_ref()).map_err(|_| NoLevel::Unsolved)?;
        symbolic = Some(pattern);
        let solved = lu.solve(Col::from_fn(count, |i| right[i]));
        for (k, n) in unknown.iter().enumerate() {
            found[*n] = solved[k];
        }
        if !unknown.iter().all(|n| found[*n].is_finite()) {
            return Err(NoLevel::Unsolved);
        }
        let mut changed = false;
        for (w, limit) in ways.iter().zip(&mut limits).filter(|(w, _)| moves(w)) {
            let Exchange::Leaves { leaves_c, most_w } = w.exchange else { continue };
            let asked = (leaves_c - found[upstream(w).0]) * w.flow.abs() * per_m3_k;
            let now = if asked < 0.0 {
                Limit::Off
            } else if asked > most_w {
                Limit::Most
            } else {
                Limit::Free
            };
            // a source off keeps off only while its water comes warmer
            changed |= now != *limit;
            *limit = now;
        }
        if !changed {
            break;
        }
    }
    let along = |w: &Carrying, limit: Limit| {
        moves(w).then(|| {
            let (up, _) = upstream(w);
            let at = |node: usize| if index[node] == usize::MAX { else_c } else { found[node] };
            let inlet = at(up);
            let leaves = match partner(w, ways, &moves, per_m3_k) {
                Some((toward, other)) => inlet + toward * (at(other) - inlet),
                None => {
                    let (share, more) = outlet(w.exchange, w.flow.abs() * per_m3_k, limit);
                    share * inlet + more
                }
            };
            if w.flow > 0.0 { [inlet, leaves] } else { [leaves, inlet] }
        })
    };
    Ok(Temperatures {
        nodes: (0..nodes).map(|n| (inflow[n] > 0.0).then_some(found[n])).collect(),
        ways: ways.iter().zip(&limits).map(|(w, limit)| along(w, *limit)).collect(),
    })
}

/// A node whose water is heated or cooled by a given amount, while nothing upstream says how warm it is.
fn without_level(
    nodes: usize,
    ways: &[Carrying],
    limits: &[Limit],
    moves: &impl Fn(&Carrying) -> bool,
    upstream: &impl Fn(&Carrying) -> (usize, usize),
    inflow: &[f64],
) -> Option<usize> {
    let sets = |w: &Carrying, limit: Limit| match w.exchange {
        Exchange::Leaves { .. } => limit == Limit::Free,
        Exchange::Toward { ua_w_k, .. } => ua_w_k > 0.0,
        // the other water says
        Exchange::With { ua_w_k, .. } => ua_w_k > 0.0,
        Exchange::None | Exchange::Heat(_) => false,
    };
    let mut level = vec![false; nodes];
    let mut next: Vec<usize> = Vec::new();
    let mut downstream = vec![Vec::new(); nodes];
    for (w, limit) in ways.iter().zip(limits).filter(|(w, _)| moves(w)) {
        let (up, down) = upstream(w);
        downstream[up].push(down);
        if (sets(w, *limit) || inflow[up] == 0.0) && !level[down] {
            level[down] = true;
            next.push(down);
        }
    }
    while let Some(n) = next.pop() {
        for down in &downstream[n] {
            if !level[*down] {
                level[*down] = true;
                next.push(*down);
            }
        }
    }
    let heats = |w: &Carrying| matches!(w.exchange, Exchange::Heat(q) if q != 0.0);
    ways.iter().filter(|w| moves(w) && heats(w)).map(|w| upstream(w).0).find(|up| !level[*up] && inflow[*up] > 0.0)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn way(from: usize, to: usize, flow: f64, exchange: Exchange) -> Carrying {
        Carrying { from, to, flow, exchange }
    }
    const WATER: f64 = 4.15e6;

    #[test]
    fn two_streams_mix_by_their_flows() {
        // a source at 60 °C, two thirds of its flow through a load that takes it to 30 °C
        let q = 1e-4;
        let load = 2.0 / 3.0 * q * WATER * 30.0;
        let ways = [
            way(0, 1, q, Exchange::Leaves { leaves_c: 60.0, most_w: f64::INFINITY }),
            way(1, 0, 2.0 / 3.0 * q, Exchange::Heat(-load)),
            way(1, 0, 1.0 / 3.0 * q, Exchange::None),
        ];
        let t = temperatures(2, &ways, WATER, 20.0).expect("solved");
        assert!((t.nodes[0].expect("warm") - 40.0).abs() < 1e-6, "{t:?}");
        assert!((t.ways[1].expect("warm")[1] - 30.0).abs() < 1e-6);
    }

    #[test]
    fn a_source_gives_no_more_than_it_can_and_nothing_to_warmer_water() {
        let q = 1e-4;
        let around = Exchange::Toward { ua_w_k: 100.0, around_c: 20.0 };
        let run = |leaves_c, most_w| {
            let ways = [way(0, 1, q, Exchange::Leaves { leaves_c, most_w }), way(1, 0, q, around)];
            temperatures(2, &ways, WATER, 20.0).expect("solved")
        };
        let gives = |t: &Temperatures| t.ways[0].map(|[a, b]| (b - a) * q * WATER).expect("flows");
        assert!((gives(&run(60.0, 1000.0)) - 1000.0).abs() < 1e-3);
        // the slack that gives water a level weighs a thousand millionth
        assert!((run(60.0, f64::INFINITY).nodes[1].expect("warm") - 60.0).abs() < 1e-6);
        // surroundings warmer than the source: it is off
        assert!(gives(&run(10.0, 1000.0)).abs() < 1e-3);
    }

    #[test]
    fn an_exchanger_gives_one_water_what_it_takes_from_the_other() {
        // counterflow, equal flows: effectiveness N/(1 + N), N = UA/C; 2 here, so two thirds of the way
        let q = 1e-4;
        let ua_w_k = 2.0 * q * WATER;
        let with = |way| Exchange::With { way, ua_w_k };
        let ways = [
            way(0, 1, q, Exchange::Leaves { leaves_c: 60.0, most_w: f64::INFINITY }),
            way(1, 0, q, with(2)),
            way(2, 3, q, with(1)),
            way(3, 2, q, Exchange::Toward { ua_w_k: 1e9, around_c: 30.0 }),
        ];
        let t = temperatures(4, &ways, WATER, 20.0).expect("solved");
        let [hot, cooled] = t.ways[1].expect("warm");
        let [cold, warmed] = t.ways[2].expect("warm");
        assert!((hot - 60.0).abs() < 1e-6 && (cold - 30.0).abs() < 1e-6, "{t:?}");
        assert!((cooled - 40.0).abs() < 1e-4 && (warmed - 50.0).abs() < 1e-4, "{cooled} {warmed}");
        // unequal flows: what one loses the other gains
        let slow = [ways[0], ways[1], way(2, 3, 0.3 * q, with(1)), way(3, 2, 0.3 * q, ways[3].exchange)];
        let t = temperatures(4, &slow, WATER, 20.0).expect("solved");
        let ([a, b], [c, d]) = (t.ways[1].expect("warm"), t.ways[2].expect("warm"));
        assert!(((a - b) - 0.3 * (d - c)).abs() < 1e-6 && d < a && b > c, "{t:?}");
        // nothing is exchanged with water that stands
        let still = [ways[0], ways[1], way(2, 3, 0.0, with(1)), way(3, 2, 0.0, ways[3].exchange)];
        let t = temperatures(4, &still, WATER, 20.0).expect("solved");
        assert!((t.ways[1].expect("warm")[1] - 60.0).abs() < 1e-6);
    }

    #[test]
    fn heat_without_a_level_is_told() {
        let q = 1e-4;
        let ways = [way(0, 1, q, Exchange::Heat(500.0)), way(1, 0, q, Exchange::Heat(-500.0))];
        assert!(matches!(temperatures(2, &ways, WATER, 20.0), Err(NoLevel::At(_))));
        // water that only goes round is as warm as it was; the slack weighs so little that rounding is seen beside it
        let round = [way(0, 1, q, Exchange::None), way(1, 0, q, Exchange::None)];
        assert!((temperatures(2, &round, WATER, 35.0).expect("solved").nodes[0].expect("moves") - 35.0).abs() < 1e-3);
    }
}

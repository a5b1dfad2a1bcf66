//! Routes whose corners are too close for their tube, eased: corners are moved or taken out, never so that tube comes to tube.

use crate::geometry::distance;
use crate::geometry::segment::between_segments;
use crate::job::Point;
use crate::layout::curve::{bend, tighter_than};

/// So many bends that are too tight are mended.
const MOST_MENDS: usize = 24;
/// So many places are tried for one that can be mended.
const MOST_TRIED: usize = 8;
/// Corners to either side that are looked at when one is moved.
const WINDOW: usize = 8;

/// Where a route, bent for a tube of that radius, still bends tighter.
pub(crate) fn tight_places(route: &[Point], radius: f64) -> Vec<Point> {
    tighter_than(&bend(route, radius, radius), radius).collect()
}

/// Moves or takes out corners near bends that are too tight, one or two at a time, as long as the route then keeps `gap`
/// from itself and fewer such bends are left. So many corners at the two ends stay (one at least).
pub fn relax(route: &[Point], radius: f64, gap: f64, fixed: [usize; 2]) -> Vec<Point> {
    let mut route = route.to_vec();
    for _ in 0..MOST_MENDS {
        let tight = tight_places(&route, radius);
        let better = tight.iter().take(MOST_TRIED).find_map(|at| {
            // the nearest corner may belong to another stretch that passes close by
            let mut near: Vec<usize> = (0..route.len()).collect();
            near.sort_by(|&a, &b| distance(route[a], *at).total_cmp(&distance(route[b], *at)));
            let other = near.iter().copied().find(|i| i.abs_diff(near[0]) > WINDOW);
            [Some(near[0]), other]
                .into_iter()
                .flatten()
                .find_map(|i| mended(&route, i, tight.len(), radius, gap, fixed))
        });
        let Some(better) = better else { break };
        route = better;
    }
    route
}

/// The route, `all` of whose bends are too tight, with one about the corner `middle` mended; most attempts are judged by
/// the corners around it alone.
fn mended(whole: &[Point], middle: usize, all: usize, radius: f64, gap: f64, fixed: [usize; 2]) -> Option<Vec<Point>> {
    let (from, to) = (middle.saturating_sub(WINDOW), (middle + WINDOW + 1).min(whole.len()));
    let route = &whole[from..to];
    let tight = tight_places(route, radius).len();
    let movable = fixed[0].max(1)..whole.len().saturating_sub(fixed[1].max(1));
    let mut near: Vec<usize> = (1..route.len().saturating_sub(1)).filter(|i| movable.contains(&(from + i))).collect();
    near.sort_by_key(|i| (from + i).abs_diff(middle));
    near.truncate(5);
    let singles = near.iter().map(|&i| vec![i]);
    let pairs =
        near.iter().map(|&i| vec![i, i + 1]).filter(|p| movable.contains(&(from + p[1])) && p[1] + 1 < route.len());
    let merged = near.iter().filter(|&&i| movable.contains(&(from + i + 1)) && i + 2 < route.len()).map(|&i| {
        // two corners become one halfway
        let mut out = route.to_vec();
        out[i] = [(route[i][0] + route[i + 1][0]) / 2.0, (route[i][1] + route[i + 1][1]) / 2.0];
        out.remove(i + 1);
        out
    });
    let nudged = near.iter().flat_map(|&i| {
        let toward = move |j: usize, by: f64| {
            let l = distance(route[i], route[j]).max(1e-9);
            let mut out = route.to_vec();
            out[i] = [0, 1].map(|k| route[i][k] + (route[j][k] - route[i][k]) / l * by);
            out
        };
        [0.02, 0.05, 0.09]
            .into_iter()
            .flat_map(move |by| [toward(i - 1, by), toward(i + 1, by), toward(i - 1, -by), toward(i + 1, -by)])
    });
    let without = |gone: Vec<usize>| -> Vec<Point> {
        route.iter().enumerate().filter(|(i, _)| !gone.contains(i)).map(|(_, p)| *p).collect()
    };
    nudged
        .chain(singles.chain(pairs).map(without))
        .chain(merged)
        .filter(|r| tight_places(r, radius).len() < tight)
        .map(|r| whole[..from].iter().chain(&r).chain(&whole[to..]).copied().collect::<Vec<Point>>())
        .filter(|r| tight_places(r, radius).len() < all)
        .find(|r| keeps_gap(r, middle.saturating_sub(5), middle + 5, gap))
}

/// Whether the stretches of a route between two of its corners keep their distance from the rest of it.
fn keeps_gap(route: &[Point], from: usize, to: usize, gap: f64) -> bool {
    let n = route.len() - 1;
    let along: Vec<f64> = std::iter::once(0.0)
        .chain(route.windows(2).scan(0.0, |sum, w| {
            *sum += distance(w[0], w[1]);
            Some(*sum)
        }))
        .collect();
    (from..to.min(n)).all(|a| {
        let (p, q) = (route[a], route[a + 1]);
        (0..n).filter(|&b| b + 1 < a || b > a + 1).all(|b| {
            let (r, s) = (route[b], route[b + 1]);
            let far = (0..2).any(|k| p[k].min(q[k]) > r[k].max(s[k]) + gap || r[k].min(s[k]) > p[k].max(q[k]) + gap);
            // stretches that follow each other closely turn about one bend
            let between = if a < b { along[b] - along[a + 1] } else { along[a] - along[b + 1] };
            far || between < 3.0 * gap || between_segments(p, q, r, s) >= gap - 1e-6
        })
    })
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;
    use crate::geometry::segment::to_segment;

    /// Least distance of stretches of a route that are not neighbours.
    pub(crate) fn least_gap(route: &[Point]) -> f64 {
        let mut least = f64::INFINITY;
        for i in 0..route.len() - 1 {
            for j in i + 2..route.len() - 1 {
                // what follows closely belongs to one bend
                if crate::layout::curve::straighten(&route[i + 1..=j])
                    .windows(2)
                    .map(|w| distance(w[0], w[1]))
                    .sum::<f64>()
                    < 0.2
                {
                    continue;
                }
                let (a, b, c, d) = (route[i], route[i + 1], route[j], route[j + 1]);
                let near =
                    to_segment(a, c, d).min(to_segment(b, c, d)).min(to_segment(c, a, b)).min(to_segment(d, a, b));
                least = least.min(near);
            }
        }
        least
    }

    #[test]
    fn a_jog_too_tight_for_the_tube_is_smoothed_and_the_ends_stay() {
        let route = [[0.0, 0.0], [1.0, 0.0], [1.0, 0.06], [1.05, 0.06], [1.05, 0.1], [2.0, 0.1]];
        assert!(!tight_places(&route, 0.08).is_empty());
        let smooth = relax(&route, 0.08, 0.04, [1, 1]);
        assert!(tight_places(&smooth, 0.08).is_empty(), "{smooth:?}");
        assert_eq!((smooth[0], smooth[smooth.len() - 1]), (route[0], route[5]));
        // where all corners are fixed nothing may move
        assert_eq!(relax(&route, 0.08, 0.04, [3, 3]), route);
    }

    #[test]
    fn a_mend_does_not_bring_tube_to_tube() {
        // the way round a tongue of tube: taking its corners out would lead straight through
        let tongue = [[0.5, -1.0], [0.5, 0.3], [0.56, 0.3], [0.56, -1.0]];
        let mut route: Vec<Point> = vec![[0.0, 0.0], [0.4, 0.0], [0.4, 0.4], [0.7, 0.4], [0.7, -1.2], [0.5, -1.2]];
        route.extend(tongue);
        let mended = relax(&route, 0.08, 0.04, [1, 1]);
        assert!(least_gap(&mended) >= 0.04, "{mended:?}");
    }
}

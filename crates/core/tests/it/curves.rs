//! Bends of random routes: whatever the corners, the tube's centre line is one smooth curve from end to end.

use fuoco_core::geometry::distance;
use fuoco_core::job::Point;
use fuoco_core::layout::curve::{Segment, bend, length, points, straighten};
use proptest::prelude::*;

/// Square routes as the router makes them: legs of some length, turning left, right or not at all.
fn route() -> impl Strategy<Value = Vec<Point>> {
    prop::collection::vec((0.05..2.5f64, 0usize..3), 2..24).prop_map(|legs| {
        let (mut at, mut heading) = ([0.0, 0.0], 0usize);
        let mut out = vec![at];
        for (leg, turn) in legs {
            heading = (heading + [1, 3, 0][turn]) % 4;
            let d = [[1.0, 0.0], [0.0, 1.0], [-1.0, 0.0], [0.0, -1.0]][heading];
            at = [at[0] + d[0] * leg, at[1] + d[1] * leg];
            out.push(at);
        }
        out
    })
}

fn heading(a: Point, b: Point) -> f64 {
    (b[1] - a[1]).atan2(b[0] - a[0])
}

fn turn(a: f64, b: f64) -> f64 {
    let d = (b - a).abs() % std::f64::consts::TAU;
    d.min(std::f64::consts::TAU - d)
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 500, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn a_bent_route_is_one_smooth_curve(route in route(), least in 0.05..0.15f64, more in 0.0..0.1f64) {
        let curve = bend(&route, least + more, least);
        let line = points(&curve, 1e-5);
        prop_assert!(distance(line[0], route[0]) < 1e-9);
        prop_assert!(distance(line[line.len() - 1], route[route.len() - 1]) < 1e-6);
        // pieces join end to start
        let mut pen = route[0];
        for piece in &curve {
            let ends = points(&[*piece], 1e-3);
            prop_assert!(distance(ends[0], pen) < 1e-6, "a gap before {piece:?}");
            pen = ends[ends.len() - 1];
        }
        // no kink: neighbouring chords of an arc at that sagitta turn by little, whatever its radius above a millimetre
        for w in line.windows(3) {
            if distance(w[0], w[1]) > 1e-4 && distance(w[1], w[2]) > 1e-4 {
                prop_assert!(turn(heading(w[0], w[1]), heading(w[1], w[2])) < 0.35, "a kink at {:?}", w[1]);
            }
        }
    }

    #[test]
    fn bending_shortens_a_route_but_for_bulbs(route in route(), least in 0.05..0.15f64) {
        let straight: f64 = route.windows(2).map(|w| distance(w[0], w[1])).sum();
        let curve = bend(&route, least, least);
        // a bulb turns by at most three half circles of the least radius more than its corners
        let bulbs = route.len() as f64 / 2.0;
        prop_assert!(length(&curve) <= straight + bulbs * 3.0 * std::f64::consts::PI * least + 1e-9);
        prop_assert!(length(&curve) > 0.0);
    }

    /// Where every leg leaves room for its two turns, no arc is tighter than the tube wants.
    #[test]
    fn with_room_the_radius_is_kept(route in route(), least in 0.05..0.12f64) {
        let legs = straighten(&route);
        let roomy = legs.windows(2).all(|w| distance(w[0], w[1]) >= 2.0 * least);
        if roomy {
            for piece in bend(&route, least, least) {
                if let Segment::Arc { radius_m, .. } = piece {
                    prop_assert!(radius_m >= least - 1e-9);
                }
            }
        }
    }

    #[test]
    fn straightening_changes_no_place(route in route()) {
        let legs = straighten(&route);
        prop_assert!(legs.len() <= route.len());
        prop_assert_eq!(legs[0], route[0]);
        for w in legs.windows(3) {
            prop_assert!(turn(heading(w[0], w[1]), heading(w[1], w[2])) > 1e-6, "a corner that is none");
        }
    }
}

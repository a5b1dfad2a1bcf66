//! Fixings and heat-transfer plates along a straight.
//!
//! ```
//! use fuoco_core::job::FixingRules;
//! use fuoco_core::materials::fixing::{fixings, plates};
//! let rules = FixingRules { straight_m: 0.5, at_turn: 3, ..FixingRules::default() };
//! // 4 m from turn to turn: three at the turn at its end, and one every half metre between
//! assert_eq!(fixings(4.0, true, &rules), 7 + 3);
//! // 3.5 m less 0.15 m at either end: two plates of 1.2 m and a piece of what is left beside their gaps
//! let laid = plates(3.5, 0.15, 0.15, &rules);
//! assert_eq!(laid.whole, 2);
//! assert!((laid.piece_m.unwrap() - 0.7).abs() < 1e-9);
//! ```

use super::part::FixingRules;

/// Short of this between two turns they are one: a tube that goes back beside itself, m.
const ONE_TURN_M: f64 = 0.4;
/// Arithmetic only, m.
const EXACT: f64 = 1e-9;

/// Fixings of a straight of that length (m) and of the turn at its end.
pub fn fixings(length_m: f64, turns: bool, rules: &FixingRules) -> u32 {
    let between = ((length_m / rules.straight_m - EXACT).ceil() as u32).saturating_sub(1);
    // the second turn of a way back shares the fixings of the first
    between + if turns && length_m >= ONE_TURN_M { rules.at_turn } else { 0 }
}

/// Plates along a straight.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Plates {
    /// Whole ones.
    pub whole: u32,
    /// One that is cut, m; none where too little is left for a piece.
    pub piece_m: Option<f64>,
}

/// Plates along a straight of that length (m), of which so much at either end stays free (m).
pub fn plates(length_m: f64, free_before_m: f64, free_after_m: f64, rules: &FixingRules) -> Plates {
    let room = length_m - free_before_m - free_after_m;
    let step = rules.plate_m + rules.plate_gap_m;
    let whole = ((room + rules.plate_gap_m) / step + EXACT).floor().max(0.0);
    let left = room - whole * step;
    Plates { whole: whole as u32, piece_m: (left >= rules.plate_least_m - EXACT).then_some(left) }
}

/// Whole plates from which pieces (m) are cut, the longest first, each from the fullest plate that has enough left. Never more
/// than 11/9 of the fewest and one (Johnson 1973).
pub fn plates_for(pieces: &[f64], plate_m: f64) -> u32 {
    let mut pieces = pieces.to_vec();
    pieces.sort_by(|a, b| b.total_cmp(a));
    let mut left: Vec<f64> = vec![];
    for piece in pieces {
        let fits = left.iter_mut().filter(|l| **l >= piece - EXACT).min_by(|a, b| a.total_cmp(b));
        match fits {
            Some(l) => *l -= piece,
            None => left.push(plate_m - piece),
        }
    }
    left.len() as u32
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_straight_is_held_at_every_interval_and_at_its_turn() {
        let rules = FixingRules::default();
        assert_eq!(fixings(0.5, false, &rules), 0, "its ends are held by what is before and after");
        assert_eq!(fixings(0.51, false, &rules), 1);
        assert_eq!(fixings(1.0, true, &rules), 1 + 3);
        // the way back at a spacing of 0.2 m: three fixings for both turns
        assert_eq!(fixings(3.0, true, &rules) + fixings(0.2, true, &rules), 5 + 3);
    }

    #[test]
    fn plates_fill_a_straight_but_for_its_bends_and_gaps() {
        let rules = FixingRules { plate_m: 1.2, plate_gap_m: 0.05, plate_least_m: 0.3, ..FixingRules::default() };
        let laid = |length| {
            let p = plates(length, 0.15, 0.15, &rules);
            (p.whole, p.piece_m.map_or(0.0, |m| (m * 1000.0).round()))
        };
        // 2 × 1.2 + one gap fill 2.45 m exactly
        assert_eq!(laid(2.75), (2, 0.0));
        assert_eq!(laid(2.74), (1, 1190.0));
        assert_eq!(laid(0.5), (0, 0.0));
        assert_eq!(laid(0.6), (0, 300.0));
        assert_eq!(laid(0.1), (0, 0.0), "shorter than its bends");
    }

    #[test]
    fn pieces_come_out_of_whole_plates() {
        assert_eq!(plates_for(&[], 1.2), 0);
        assert_eq!(plates_for(&[0.6, 0.6, 0.6], 1.2), 2);
        assert_eq!(plates_for(&[0.4; 7], 1.2), 3);
        assert_eq!(plates_for(&[0.7, 0.5, 0.7, 0.5], 1.2), 2);
    }
}

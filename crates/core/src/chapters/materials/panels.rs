//! Grooved panels laid on a room's floor: row by row along the runs, cut at the walls, the rest of a row beginning the next.
//!
//! ```
//! use fuoco_core::job::FixingRules;
//! use fuoco_core::materials::panels::{PanelKind, lay};
//! // 3.0 × 1.2 m: two rows of 0.6 m, each of two and a half panels; the half that is left begins the second row
//! let rules = FixingRules { panel_length_m: 1.2, panel_width_m: 0.6, panel_least_m: 0.3, ..FixingRules::default() };
//! let laid = lay(&[[0.0, 0.0], [3.0, 0.0], [3.0, 1.2], [0.0, 1.2]], 0.0, &[], &[], &rules);
//! assert_eq!(laid.bought, 5);
//! assert!(laid.panels.iter().all(|p| p.kind == PanelKind::Straight));
//! ```

use super::part::FixingRules;
use crate::geometry::Point;
use crate::geometry::outline::within;
use serde::{Deserialize, Serialize};

/// Pieces shorter than this are saw dust, m.
const LEAST_M: f64 = 0.005;

/// What a panel is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum PanelKind {
    /// Straight grooves.
    Straight,
    /// The tube turns on it.
    Return,
    /// No tube comes there: a plain board of the same height.
    Plain,
}

/// A panel, or a piece of one, where it lies.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Panel {
    /// Its corners, m.
    #[cfg_attr(feature = "schema", schema(value_type = [[f64; 2]; 4]))]
    pub corners: [Point; 4],
    /// What it is for.
    pub kind: PanelKind,
    /// Cut to that length, m; none where it is whole.
    pub cut_m: Option<f64>,
    /// It is the rest of a row before.
    pub from_rest: bool,
}

/// Panels of a floor.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Laid {
    /// All of them, row by row.
    pub panels: Vec<Panel>,
    /// Whole grooved panels that are opened for it.
    pub bought: u32,
    /// Of those, return panels.
    pub returns: u32,
    /// Plain board, m².
    pub plain_m2: f64,
    /// Panel cut off and not used, m².
    pub waste_m2: f64,
}

/// Lays panels on an outline, their grooves along a direction (degrees anticlockwise from the sheet's x). Where a tube turns
/// (`turns`) lies a return panel; where a panel's middle lies in one of `bare` no tube comes, and it is a plain board.
pub fn lay(outline: &[Point], along_deg: f64, turns: &[Point], bare: &[Vec<Point>], rules: &FixingRules) -> Laid {
    let (sin, cos) = along_deg.to_radians().sin_cos();
    let turned = |p: &Point| [cos * p[0] + sin * p[1], cos * p[1] - sin * p[0]];
    let back = |p: Point| [cos * p[0] - sin * p[1], sin * p[0] + cos * p[1]];
    let shape: Vec<Point> = outline.iter().map(turned).collect();
    let turns: Vec<Point> = turns.iter().map(turned).collect();
    let mut out = Laid::default();
    let (low, high) = shape.iter().fold((f64::MAX, f64::MIN), |(a, b), p| (a.min(p[1]), b.max(p[1])));
    let (length, width) = (rules.panel_length_m, rules.panel_width_m);
    // what was cut off the row before, of either kind
    let mut rest = [0.0_f64; 2];
    let mut y = low;
    while y < high - LEAST_M {
        let top = (y + width).min(high);
        for [from, to] in reach(&shape, y, top) {
            let mut x = from;
            let mut begins = true;
            while x < to - LEAST_M {
                let wanted = (to - x).min(length);
                let has_turn =
                    |until: f64| turns.iter().any(|t| (x..=until).contains(&t[0]) && (y..=top).contains(&t[1]));
                let middle = back([x + wanted / 2.0, f64::midpoint(y, top)]);
                let kind = if bare.iter().any(|b| within(b, middle)) {
                    PanelKind::Plain
                } else if has_turn(x + wanted) {
                    PanelKind::Return
                } else {
                    PanelKind::Straight
                };
                let k = usize::from(kind == PanelKind::Return);
                // a row begins with the rest of the one before where that is long enough
                let from_rest = begins && kind != PanelKind::Plain && rest[k] >= rules.panel_least_m.min(wanted);
                let laid = if from_rest { wanted.min(rest[k]) } else { wanted };
                match kind {
                    PanelKind::Plain => out.plain_m2 += laid * (top - y),
                    _ if from_rest => rest[k] -= laid,
                    // the piece at a row's end may come out of a rest too
                    _ if laid < length && rest[k] >= laid => rest[k] -= laid,
                    _ => {
                        out.waste_m2 += rest[k] * width;
                        rest[k] = length - laid;
                        out.bought += 1;
                        out.returns += u32::from(kind == PanelKind::Return);
                    }
                }
                let corners = [[x, y], [x + laid, y], [x + laid, top], [x, top]].map(back);
                let cut_m = (laid < length - LEAST_M).then_some(laid);
                out.panels.push(Panel { corners, kind, cut_m, from_rest });
                x += laid;
                begins = false;
            }
        }
        y = top;
    }
    out.waste_m2 += rest.iter().sum::<f64>() * width;
    out
}

/// Where an outline is between two heights: stretches along x, left to right.
fn reach(shape: &[Point], low: f64, high: f64) -> Vec<[f64; 2]> {
    let inset = 1e-6;
    let mut heights = vec![low + inset, high - inset];
    for p in shape.iter().filter(|p| p[1] > low + inset && p[1] < high - inset) {
        heights.extend([p[1] - inset, p[1] + inset]);
    }
    let mut found: Vec<[f64; 2]> = vec![];
    for y in heights {
        let mut crossed: Vec<f64> = (0..shape.len())
            .filter_map(|i| {
                let (a, b) = (shape[i], shape[(i + 1) % shape.len()]);
                ((a[1] > y) != (b[1] > y)).then(|| a[0] + (y - a[1]) / (b[1] - a[1]) * (b[0] - a[0]))
            })
            .collect();
        crossed.sort_by(f64::total_cmp);
        found.extend(crossed.chunks_exact(2).map(|c| [c[0], c[1]]));
    }
    found.sort_by(|a, b| a[0].total_cmp(&b[0]));
    let mut out: Vec<[f64; 2]> = vec![];
    for [from, to] in found {
        match out.last_mut() {
            Some(last) if from <= last[1] + inset => last[1] = last[1].max(to),
            _ => out.push([from, to]),
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::geometry::outline::signed_area;

    fn rules() -> FixingRules {
        FixingRules { panel_length_m: 1.2, panel_width_m: 0.6, panel_least_m: 0.3, ..FixingRules::default() }
    }

    fn rectangle(w: f64, h: f64) -> Vec<Point> {
        vec![[0.0, 0.0], [w, 0.0], [w, h], [0.0, h]]
    }

    fn area(laid: &Laid) -> f64 {
        laid.panels.iter().map(|p| signed_area(&p.corners).abs()).sum()
    }

    #[test]
    fn panels_cover_the_floor_once_and_what_is_bought_is_laid_or_wasted() {
        for (w, h) in [(3.0, 1.2), (4.0, 3.0), (5.3, 2.9), (1.1, 0.5)] {
            let laid = lay(&rectangle(w, h), 0.0, &[], &[], &rules());
            assert!((area(&laid) - w * h).abs() < 1e-9, "{w} × {h}: {}", area(&laid));
            // the last row is ripped to its width: what falls off along it is no piece of a row
            let full_rows = (h / 0.6_f64).ceil() * 0.6 * w;
            let bought = f64::from(laid.bought) * 1.2 * 0.6;
            assert!((bought - laid.waste_m2 - full_rows).abs() < 1e-9, "{w} × {h}");
        }
    }

    #[test]
    fn grooves_go_the_way_of_the_runs() {
        let across = lay(&rectangle(4.0, 3.0), 90.0, &[], &[], &rules());
        let first = &across.panels[0].corners;
        assert!((first[0][0] - first[1][0]).abs() < 1e-9, "its long side goes up the sheet: {first:?}");
        assert!((area(&across) - 12.0).abs() < 1e-9);
    }

    #[test]
    fn turns_want_return_panels_and_cabinets_plain_board() {
        let cabinet = vec![rectangle(0.9, 0.6)];
        let laid = lay(&rectangle(3.6, 1.2), 0.0, &[[3.5, 0.3], [3.5, 0.9]], &cabinet, &rules());
        let count = |kind| laid.panels.iter().filter(|p| p.kind == kind).count();
        assert_eq!((count(PanelKind::Return), count(PanelKind::Plain)), (2, 1));
        assert!((laid.plain_m2 - 0.72).abs() < 1e-9);
        assert_eq!((laid.bought, laid.returns), (5, 2));
    }

    #[test]
    fn an_l_is_covered_in_both_its_arms() {
        let l = [[0.0, 0.0], [4.0, 0.0], [4.0, 1.2], [1.5, 1.2], [1.5, 3.0], [0.0, 3.0]];
        let laid = lay(&l, 0.0, &[], &[], &rules());
        assert!((area(&laid) - signed_area(&l)).abs() < 1e-9);
    }
}

//! What a source gives: a heat pump by its table.

use super::part::{HeatPumpPoint, HeatSource};

/// A heat pump without figures of its own has this share of Carnot's efficiency …
const CARNOT_SHARE: f64 = 0.45;
/// … between temperatures so much beyond those of its water and its air or ground, K.
const APPROACH_K: f64 = 5.0;

/// What a source gives at most with such water in such weather, W, and a heat pump's coefficient of performance.
pub fn source_at(source: &HeatSource, outdoor_c: f64, water_c: f64) -> (f64, Option<f64>) {
    if !source.kind.is_heat_pump() {
        return (source.most_w, None);
    }
    let points = &source.points;
    if points.is_empty() {
        let [warm, cold] = [water_c + APPROACH_K, outdoor_c - APPROACH_K];
        let cop = CARNOT_SHARE * (warm + 273.15) / (warm - cold).max(5.0);
        return (source.most_w, Some(cop.max(1.0)));
    }
    // by the water at each outdoor temperature of the table, then between these; never beyond its ends
    let at_water = |outdoor: f64| {
        let mut row: Vec<_> = points.iter().filter(|p| p.outdoor_c == outdoor).collect();
        row.sort_by(|a, b| a.water_c.total_cmp(&b.water_c));
        let between = |of: fn(&HeatPumpPoint) -> f64| {
            between(&row.iter().map(|p| (p.water_c, of(p))).collect::<Vec<_>>(), water_c)
        };
        (between(|p| p.output_w), between(|p| p.cop))
    };
    let mut outdoors: Vec<f64> = points.iter().map(|p| p.outdoor_c).collect();
    outdoors.sort_by(f64::total_cmp);
    outdoors.dedup();
    let rows: Vec<(f64, (f64, f64))> = outdoors.iter().map(|o| (*o, at_water(*o))).collect();
    let of =
        |pick: fn(&(f64, f64)) -> f64| between(&rows.iter().map(|(o, v)| (*o, pick(v))).collect::<Vec<_>>(), outdoor_c);
    (of(|v| v.0), Some(of(|v| v.1)))
}

/// Straight between points that grow in x, held at the ends.
fn between(points: &[(f64, f64)], x: f64) -> f64 {
    let Some(next) = points.iter().position(|p| p.0 >= x) else { return points.last().map_or(0.0, |p| p.1) };
    if next == 0 {
        return points[0].1;
    }
    let ((x0, y0), (x1, y1)) = (points[next - 1], points[next]);
    y0 + (y1 - y0) * (x - x0) / (x1 - x0)
}

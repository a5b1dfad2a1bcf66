//! A floor as a sheet: in the plane of the tubes heat spreads, from there it goes up and down through the layers, and a tube gives it
//! its heat through a resistance of its own. Star and spread are fitted so that an even field answers as its section does.
//!
//! The section's three conductances between water, room and below make a star whose middle is the mean of the tubes' plane: arms
//! up, down and to the water. Between the tubes the plane is a fin; its conduction `K` is the one that gives the section's difference
//! between the surface's warmest and coolest line, and the tube's own conductance `g` the one that, with it, gives the arm to the water.

use crate::floor::curve::Curve;
use crate::section::Section;

/// Cells of the grid, m.
pub(crate) const STEP_M: f64 = 0.05;
/// Slices of the layers above and below the tubes' plane.
pub(crate) const SLICES: usize = 5;
/// The plane's conduction is looked for so far to both sides of that of its layers.
const SPREADS_BY: f64 = 30.0;
/// The fin takes no more than this of the resistance from water to plane: the rest is tube, film and the way out of it.
const OF_FIN: f64 = 0.95;
/// An even field for fitting has so many tubes, and cells of its grid.
const FITTED_TUBES: usize = 24;
/// Conductance of an insulating sleeve over a tube, W/mK: 9 mm of 0.04 W/mK round 16 mm (see `floor::heating::SLEEVED`).
const SLEEVE_W_MK: f64 = 0.33;

/// From one node to the next, from the tubes' plane outward.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Slice {
    /// Conductance between the two, W/m²K.
    pub conducts: f64,
    /// Heat held at the outer one, J/m²K.
    pub holds: f64,
}

/// A floor as a sheet.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Sheet {
    pub room_c: f64,
    pub below_c: f64,
    /// Between surface and room, W/m²K.
    pub film_up: f64,
    /// Beyond the underside, W/m²K.
    pub film_down: f64,
    /// Along the plane, W/K.
    pub plane_w_k: f64,
    /// From the water of a metre of tube to the plane, W/mK.
    pub tube_w_mk: f64,
    /// Heat held in the plane itself, J/m²K.
    pub holds: f64,
    pub above: [Slice; SLICES],
    pub below: [Slice; SLICES],
}

impl Sheet {
    /// A floor whose section answers by that curve, at the excess of its water. None where the section gives nothing.
    pub fn new(section: &Section, curve: &Curve, excess_k: f64) -> Option<Sheet> {
        let [film_up, up, through, down] = curve.network(excess_k);
        let duty = curve.duty();
        if !(up > 1e-6 && down > 1e-9 && film_up > 1e-6) {
            return None;
        }
        // no path between room and below but by the plane: the star's arm to the water is without end
        let through = through.max(1e-9);
        let sum = up * down + up * through + down * through;
        let arm_up = (sum / down).min(0.999 * film_up);
        let arm_down = sum / up;
        let whole = arm_up + arm_down;
        // from water to what the plane would be without it
        let given = up + down;
        let even = given.min(0.999 * whole);
        let (warm, cool) = curve.surface_range(excess_k);
        let rests_k = {
            let rests_c = (arm_up * duty.room_c + arm_down * duty.below_c) / whole;
            duty.room_c + excess_k - rests_c
        };
        let ripple = ((warm - cool) / rests_k.max(1.0) * film_up / arm_up).max(0.0);
        let spacing_m = section.spacing_m;
        let plane_w_k = plane(section, whole, even, ripple);
        let tube_w_mk = tube(spacing_m, plane_w_k, whole, even);
        let depth = section.tube.axis_depth_m;
        let total: f64 = section.layers.iter().map(|l| l.thickness_m).sum();
        let above = slices(section, [depth, 0.0]);
        let below = slices(section, [depth, total]);
        let film_down = duty.film_down();
        let rest = (1.0 / arm_down - 1.0 / film_down).max(1e-4);
        let mut sheet = Sheet {
            room_c: duty.room_c,
            below_c: duty.below_c,
            film_up,
            // ground that counts for more than the star leaves has less of it
            film_down: 1.0 / (1.0 / arm_down - rest).max(1e-6),
            plane_w_k,
            tube_w_mk,
            holds: 0.5 * (above[0].holds + below[0].holds),
            above: outward(above, 1.0 / arm_up - 1.0 / film_up),
            below: outward(below, rest),
        };
        // a mean of the layers knows nothing of short ways along metal: all of it is as quick as the section is
        let slow = sheet.delay_s(even / (1.0 - even / whole));
        if slow > 0.0 && curve.time_constant_s > 0.0 {
            let quick = curve.time_constant_s / slow;
            sheet.holds *= quick;
            sheet.above.iter_mut().chain(&mut sheet.below).for_each(|s| s.holds *= quick);
        }
        Some(sheet)
    }

    /// Mean delay of the heat into the room after a step of the water's temperature, s: its first moment, from two steady fields of the
    /// column. `arm`: from the water to the plane, W/m²K.
    fn delay_s(&self, arm: f64) -> f64 {
        const N: usize = 2 * SLICES + 1;
        // from the surface to the underside, the plane in the middle; between each and the next
        let mut between = [0.0; N - 1];
        let mut holds = [self.holds; N];
        for k in 0..SLICES {
            (between[SLICES - 1 - k], holds[SLICES - 1 - k]) = (self.above[k].conducts, self.above[k].holds);
            (between[SLICES + k], holds[SLICES + 1 + k]) = (self.below[k].conducts, self.below[k].holds);
        }
        let solve = |side: [f64; N]| {
            let (mut c, mut d) = ([0.0; N], [0.0; N]);
            for i in 0..N {
                let before = if i > 0 { between[i - 1] } else { self.film_up };
                let after = if i + 1 < N { between[i] } else { self.film_down };
                let (c0, d0) = if i > 0 { (c[i - 1], d[i - 1]) } else { (0.0, 0.0) };
                let pivot = before + after + if i == SLICES { arm } else { 0.0 } - before * c0;
                c[i] = if i + 1 < N { after / pivot } else { 0.0 };
                d[i] = (side[i] + if i > 0 { before * d0 } else { 0.0 }) / pivot;
            }
            for i in (0..N - 1).rev() {
                d[i] += c[i] * d[i + 1];
            }
            d
        };
        let steady = solve(std::array::from_fn(|i| if i == SLICES { arm } else { 0.0 }));
        let moment = solve(std::array::from_fn(|i| holds[i] * steady[i]));
        moment[0] / steady[0].max(1e-12)
    }

    /// From the water of a metre of tube in an insulating sleeve, W/mK.
    pub fn sleeved_w_mk(&self) -> f64 {
        1.0 / (1.0 / self.tube_w_mk + 1.0 / SLEEVE_W_MK)
    }
}

/// The fin between two tubes: conductance from the tube's line, W/mK, and what of its excess is lost midway.
fn fin(spacing_m: f64, plane_w_k: f64, whole: f64) -> (f64, f64) {
    let m = (whole / plane_w_k).sqrt();
    let half = m * spacing_m / 2.0;
    (2.0 * plane_w_k * m * half.tanh(), 1.0 - 1.0 / half.cosh())
}

/// Conduction along the plane by which the surface's lines differ as in the section.
fn plane(section: &Section, whole: f64, even: f64, ripple: f64) -> f64 {
    let layers: f64 = section.layers.iter().map(|l| l.conductivity_w_mk * l.thickness_m).sum();
    let metal = section.plate.as_ref().map_or(0.0, |p| p.conductivity_w_mk * p.thickness_m);
    let guess = (layers + metal).max(1e-4);
    let spacing_m = section.spacing_m;
    let per_m = even * spacing_m;
    let differs = |k: f64| {
        let (to_tube, lost) = fin(spacing_m, k, whole);
        per_m / to_tube * lost
    };
    let mut ends = [guess / SPREADS_BY, guess * SPREADS_BY];
    for _ in 0..50 {
        let middle = (ends[0] * ends[1]).sqrt();
        let too_steep = differs(middle) > ripple || per_m > OF_FIN * fin(spacing_m, middle, whole).0;
        ends[usize::from(!too_steep)] = middle;
    }
    ends[1]
}

/// Conductance of a metre of tube by which an even field on the grid takes the section's heat.
fn tube(spacing_m: f64, plane_w_k: f64, whole: f64, even: f64) -> f64 {
    let cells = ((FITTED_TUBES as f64 * spacing_m / STEP_M).round() as usize).max(FITTED_TUBES / 2);
    let wide = cells as f64 / FITTED_TUBES as f64;
    let mut tubes = vec![0.0; cells];
    for k in 0..FITTED_TUBES {
        tubes[(((k as f64 + 0.5) * wide + 1e-6) as usize).min(cells - 1)] += 1.0;
    }
    // plane over its rest, water one kelvin over it: mean heat
    let takes = |g: f64| {
        let along = plane_w_k / STEP_M;
        let (mut c, mut d) = (vec![0.0; cells], vec![0.0; cells]);
        for i in 0..cells {
            let sides = f64::from(u8::from(i > 0)) + f64::from(u8::from(i + 1 < cells));
            let diagonal = sides * along + whole * STEP_M + g * tubes[i];
            let (before, from) = if i > 0 { (c[i - 1], d[i - 1]) } else { (0.0, 0.0) };
            let pivot = diagonal - if i > 0 { along * before } else { 0.0 };
            c[i] = along / pivot;
            d[i] = (g * tubes[i] + if i > 0 { along * from } else { 0.0 }) / pivot;
        }
        for i in (0..cells - 1).rev() {
            d[i] += c[i] * d[i + 1];
        }
        whole * d.iter().sum::<f64>() / cells as f64
    };
    let wanted = even * spacing_m / (cells as f64 * STEP_M / FITTED_TUBES as f64);
    let mut ends = [1e-4, 1e4];
    for _ in 0..60 {
        let middle = f64::sqrt(ends[0] * ends[1]);
        ends[usize::from(takes(middle) > wanted)] = middle;
    }
    ends[0]
}

/// The layers from one depth to another in even slices: resistance and heat held.
fn slices(section: &Section, [from, to]: [f64; 2]) -> [Slice; SLICES] {
    let mut out = [Slice { conducts: 0.0, holds: 0.0 }; SLICES];
    let thick = (to - from) / SLICES as f64;
    for (k, slice) in out.iter_mut().enumerate() {
        let a = from + thick * k as f64;
        let (top, bottom) = (a.min(a + thick), a.max(a + thick));
        let mut depth = 0.0;
        let mut resists = 0.0;
        for l in &section.layers {
            let within = ((depth + l.thickness_m).min(bottom) - depth.max(top)).max(0.0);
            depth += l.thickness_m;
            let rib = l.rib.map_or(0.0, |r| (r.width_m / section.spacing_m).clamp(0.0, 1.0));
            let mixed = |own: f64, of_rib: f64| own * (1.0 - rib) + of_rib * rib;
            resists += within / mixed(l.conductivity_w_mk, l.rib.map_or(0.0, |r| r.conductivity_w_mk)).max(1e-6);
            slice.holds += within * mixed(l.heat_j_m3k, l.rib.map_or(0.0, |r| r.heat_j_m3k));
        }
        slice.conducts = 1.0 / resists.max(1e-9);
    }
    out
}

/// Slices made into nodes: their resistances add up to what the star has, heat lies half at both ends of each.
fn outward(slices: [Slice; SLICES], resists: f64) -> [Slice; SLICES] {
    let sum: f64 = slices.iter().map(|s| 1.0 / s.conducts).sum();
    let scale = resists.max(1e-6) / sum.max(1e-12);
    std::array::from_fn(|k| {
        let next = slices.get(k + 1).map_or(0.0, |s| s.holds);
        Slice { conducts: slices[k].conducts / scale, holds: 0.5 * (slices[k].holds + next) }
    })
}

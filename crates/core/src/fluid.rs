//! Properties of water and glycol solutions, from the table in `data/fluids.csv` (CoolProp 8.0.0; glycols after
//! Melinder), interpolated linearly in temperature and concentration, viscosity in its logarithm. Outside the
//! table, below freezing included, there is no figure: never an extrapolation.
//!
//! ```
//! use fuoco_core::fluid::properties;
//! use fuoco_core::job::Fluid;
//! let water = properties(&Fluid::default(), 40.0)?;
//! // IAPWS-95 has 992.2 kg/m³ at 40 °C
//! assert!((water.density - 992.2).abs() < 0.5);
//! assert!(properties(&Fluid::default(), 150.0).is_err());
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use crate::error::FieldError;
use crate::water::part::{Fluid, FluidKind};
use std::collections::BTreeMap;
use std::sync::LazyLock;

/// What the flow needs to know of its fluid.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Properties {
    /// kg/m³.
    pub density: f64,
    /// J/kgK.
    pub specific_heat: f64,
    /// W/mK.
    pub conductivity: f64,
    /// Pa·s.
    pub viscosity: f64,
}

type Rows = BTreeMap<i64, Properties>;

/// By fluid, then mass percent; each the rows by whole degree.
static TABLE: LazyLock<BTreeMap<&'static str, Vec<(f64, Rows)>>> = LazyLock::new(|| {
    let mut table: BTreeMap<&'static str, Vec<(f64, Rows)>> = BTreeMap::new();
    for line in include_str!("../data/fluids.csv").lines().filter(|l| !l.starts_with('#')).skip(1) {
        let cells: Vec<&'static str> = line.split(',').collect();
        let number = |i: usize| cells[i].parse::<f64>().expect("the built-in table holds numbers");
        let properties =
            Properties { density: number(3), specific_heat: number(4), conductivity: number(5), viscosity: number(6) };
        let mixes = table.entry(cells[0]).or_default();
        if mixes.last().is_none_or(|m| m.0 != number(1)) {
            mixes.push((number(1), Rows::new()));
        }
        if let Some(mix) = mixes.last_mut() {
            mix.1.insert(number(2).round() as i64, properties);
        }
    }
    table
});

/// Properties of the job's fluid at that temperature, °C.
///
/// # Errors
/// Names `fluid.mass_fraction` when the table does not hold that mix at that temperature.
pub fn properties(fluid: &Fluid, temperature_c: f64) -> Result<Properties, FieldError> {
    let percent = fluid.mass_fraction * 100.0;
    let out_of_range = || {
        FieldError::new(
            "fluid.mass_fraction",
            format!("no properties are known for {percent:.0} % at {temperature_c:.1} °C (frozen or out of the table)"),
        )
    };
    let name = match fluid.kind {
        // a table without glycol is water
        _ if percent == 0.0 => "water",
        FluidKind::Water => "water",
        FluidKind::PropyleneGlycol => "propylene_glycol",
        FluidKind::EthyleneGlycol => "ethylene_glycol",
    };
    let mixes = TABLE.get(name).ok_or_else(out_of_range)?;
    // below the first glycol column, mix towards pure water
    let water = &TABLE["water"][0];
    let high = mixes.iter().find(|m| m.0 >= percent).ok_or_else(out_of_range)?;
    let low = mixes.iter().rev().find(|m| m.0 <= percent).unwrap_or(water);
    let (a, b) = (at(&low.1, temperature_c), at(&high.1, temperature_c));
    let (a, b) = (a.ok_or_else(out_of_range)?, b.ok_or_else(out_of_range)?);
    let x = if high.0 > low.0 { (percent - low.0) / (high.0 - low.0) } else { 0.0 };
    Ok(between(a, b, x))
}

fn at(rows: &Rows, t: f64) -> Option<Properties> {
    if !t.is_finite() {
        return None;
    }
    let (t0, low) = rows.range(..=(t.floor() as i64)).next_back()?;
    let (t1, high) = rows.range((t.ceil() as i64)..).next()?;
    let x = if t1 > t0 { (t - *t0 as f64) / (t1 - t0) as f64 } else { 0.0 };
    Some(between(*low, *high, x))
}

fn between(a: Properties, b: Properties, x: f64) -> Properties {
    let mix = |p: f64, q: f64| p + (q - p) * x;
    Properties {
        density: mix(a.density, b.density),
        specific_heat: mix(a.specific_heat, b.specific_heat),
        conductivity: mix(a.conductivity, b.conductivity),
        viscosity: mix(a.viscosity.ln(), b.viscosity.ln()).exp(),
    }
}

/// By fluid: mass percent, freezing temperature in °C, percent by volume as it is poured.
static FREEZING: LazyLock<BTreeMap<&'static str, Vec<[f64; 3]>>> = LazyLock::new(|| {
    let mut table: BTreeMap<&'static str, Vec<[f64; 3]>> = BTreeMap::new();
    for line in include_str!("../data/freezing.csv").lines().filter(|l| !l.starts_with('#')).skip(1) {
        let cells: Vec<&'static str> = line.split(',').collect();
        let number = |i: usize| cells[i].parse::<f64>().expect("the built-in table holds numbers");
        table.entry(cells[0]).or_default().push([number(1), number(2), number(3)]);
    }
    table
});

/// Column `want` where column `by` has that value; the ends of the table beyond them.
fn freezing_row(kind: FluidKind, by: usize, want: usize, value: f64) -> f64 {
    let name = match kind {
        FluidKind::Water => return 0.0,
        FluidKind::PropyleneGlycol => "propylene_glycol",
        FluidKind::EthyleneGlycol => "ethylene_glycol",
    };
    let rows = &FREEZING[name];
    // freezing temperatures fall with the share
    let at = |row: &[f64; 3]| if by == 1 { -row[1] } else { row[by] };
    let value = if by == 1 { -value } else { value };
    let k = rows.iter().position(|r| at(r) >= value).unwrap_or(rows.len() - 1).max(1);
    let (a, b) = (&rows[k - 1], &rows[k]);
    let t = ((value - at(a)) / (at(b) - at(a))).clamp(0.0, 1.0);
    a[want] + t * (b[want] - a[want])
}

/// Temperature at which a fluid begins to freeze, °C; linear between the rows of `data/freezing.csv`, up to 60 % by mass.
///
/// ```
/// use fuoco_core::fluid::{freezing_c, mass_fraction_for};
/// use fuoco_core::job::{Fluid, FluidKind};
/// let third = Fluid { kind: FluidKind::PropyleneGlycol, mass_fraction: 0.35 };
/// // the ASHRAE fit has -16.2 °C
/// assert!((freezing_c(&third) + 16.2).abs() < 0.3);
/// assert!((mass_fraction_for(FluidKind::PropyleneGlycol, freezing_c(&third)) - 0.35).abs() < 1e-9);
/// assert_eq!(freezing_c(&Fluid::default()), 0.0);
/// ```
pub fn freezing_c(fluid: &Fluid) -> f64 {
    freezing_row(fluid.kind, 0, 1, fluid.mass_fraction * 100.0)
}

/// Share by mass that freezes at that temperature, °C (0 down to -50); 0 for water.
pub fn mass_fraction_for(kind: FluidKind, freezing_c: f64) -> f64 {
    freezing_row(kind, 1, 0, freezing_c) / 100.0
}

/// Share by volume, as glycol and water are measured out, of a share by mass.
pub fn volume_fraction(fluid: &Fluid) -> f64 {
    freezing_row(fluid.kind, 0, 2, fluid.mass_fraction * 100.0) / 100.0
}

#[cfg(test)]
mod tests {
    use super::*;

    fn glycol(mass_fraction: f64) -> Fluid {
        Fluid { kind: FluidKind::PropyleneGlycol, mass_fraction }
    }

    #[test]
    fn water_meets_published_values() {
        // IAPWS-97 at 1 bar, 40 °C: 992.2 kg/m³, 4179 J/kgK, 0.653 mPa·s; the table is for a few bar, which adds 0.1 kg/m³
        let w = properties(&Fluid::default(), 40.0).expect("in range");
        assert!((w.density - 992.2).abs() < 0.2);
        assert!((w.specific_heat - 4179.0).abs() < 2.0);
        assert!((w.viscosity - 0.653e-3).abs() < 2e-6);
    }

    #[test]
    fn interpolation_lies_between_its_neighbours_and_is_monotone() {
        let mut last = f64::INFINITY;
        for t in 10..=800 {
            let v = properties(&Fluid::default(), f64::from(t) / 10.0).expect("in range").viscosity;
            assert!(v < last);
            last = v;
        }
        for percent in 1..50 {
            let a = properties(&glycol(f64::from(percent) / 100.0), 30.0).expect("in range").viscosity;
            let b = properties(&glycol(f64::from(percent + 1) / 100.0), 30.0).expect("in range").viscosity;
            assert!(b > a, "{percent}");
        }
    }

    #[test]
    fn ice_and_steam_have_no_figures() {
        for (fluid, t) in
            [(Fluid::default(), -5.0), (Fluid::default(), 120.0), (glycol(0.2), -25.0), (Fluid::default(), f64::NAN)]
        {
            assert_eq!(properties(&fluid, t).expect_err("out of range").field, "fluid.mass_fraction");
        }
    }
}

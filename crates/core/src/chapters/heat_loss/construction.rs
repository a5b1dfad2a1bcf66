//! Transmittance of layered building parts by ISO 6946: films by direction of heat flow, air layers by thickness and
//! direction, and the combined method (mean of the upper and lower limit) for layers bridged by studs or joists.
//!
//! | symbol | here |
//! |---|---|
//! | R_si, R_se | films inside and outside, m²K/W |
//! | R'_T, R''_T | upper and lower limit of the total resistance |
//! | f | share of a stud in its layer |
//!
//! ```
//! use fuoco_core::heat_loss::construction::{Direction, Side, u_value};
//! use fuoco_core::library;
//! let wall = library::construction("wall-brick-foam-100").unwrap();
//! let u = u_value(&library::material, wall, Direction::Horizontal, Side::Outdoors);
//! assert!((0.2..0.4).contains(&u));
//! ```

use super::part::{Construction, ConstructionLayer, Material, Position};
use serde::{Deserialize, Serialize};

/// Film outside, m²K/W.
pub const FILM_OUTSIDE: f64 = 0.04;

/// Where a material is looked up.
pub type Materials<'m> = dyn Fn(&str) -> Option<&'m Material> + 'm;

/// Which way heat flows through a part.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Direction {
    Horizontal,
    Upward,
    Downward,
}

impl Direction {
    /// Film inside, m²K/W (ISO 6946, table 7).
    pub fn film(self) -> f64 {
        match self {
            Direction::Horizontal => 0.13,
            Direction::Upward => 0.10,
            Direction::Downward => 0.17,
        }
    }
}

/// What is on the other side of a part, as far as its film goes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Side {
    /// Weather.
    Outdoors,
    /// Still air: a room, an attic, a crawl space; the film is that of the inside.
    Indoors,
    /// Ground: no film.
    Ground,
}

/// Resistance of an unventilated air layer, m²K/W, linear between the rows of ISO 6946, table 8.
///
/// `thickness_m` from 0 on; beyond 0.3 m the last row holds.
pub fn air_layer(thickness_m: f64, direction: Direction) -> f64 {
    const ROWS: [(f64, f64, f64, f64); 9] = [
        // thickness, upward, horizontal, downward
        (0.0, 0.0, 0.0, 0.0),
        (0.005, 0.11, 0.11, 0.11),
        (0.007, 0.13, 0.13, 0.13),
        (0.010, 0.15, 0.15, 0.15),
        (0.015, 0.16, 0.17, 0.17),
        (0.025, 0.16, 0.18, 0.19),
        (0.050, 0.16, 0.18, 0.21),
        (0.100, 0.16, 0.18, 0.22),
        (0.300, 0.16, 0.18, 0.23),
    ];
    let value = |row: &(f64, f64, f64, f64)| match direction {
        Direction::Upward => row.1,
        Direction::Horizontal => row.2,
        Direction::Downward => row.3,
    };
    for pair in ROWS.windows(2) {
        if thickness_m <= pair[1].0 {
            let share = (thickness_m - pair[0].0) / (pair[1].0 - pair[0].0);
            return value(&pair[0]) + share.max(0.0) * (value(&pair[1]) - value(&pair[0]));
        }
    }
    value(&ROWS[ROWS.len() - 1])
}

fn layer_resistance(material: &Material, thickness_m: f64, direction: Direction) -> f64 {
    if material.conductivity_w_mk == 0.0 {
        air_layer(thickness_m, direction)
    } else {
        thickness_m / material.conductivity_w_mk
    }
}

/// Resistance of the layers from surface to surface, m²K/W, films left out but used for the combined method.
fn layers_resistance<'a>(
    layers: &[ConstructionLayer],
    direction: Direction,
    films: f64,
    material: impl Fn(&str) -> Option<&'a Material>,
) -> f64 {
    // each layer: resistance of its main part and of its studs with their share
    let parts: Vec<(f64, Option<(f64, f64)>)> = layers
        .iter()
        .map(|l| {
            let of = |id: &str| material(id).map_or(0.0, |m| layer_resistance(m, l.thickness_m, direction));
            (of(&l.material_id), l.bridge.as_ref().map(|b| (b.share, of(&b.material_id))))
        })
        .collect();
    let bridged: Vec<usize> = (0..parts.len()).filter(|&i| parts[i].1.is_some()).collect();
    if bridged.is_empty() {
        return parts.iter().map(|p| p.0).sum();
    }
    // upper limit: parallel sections through all layers; studs of several layers cross each other at random.
    // More than eight bridged layers are taken by the lower limit alone: 2^n sections are no use to anyone.
    let lower: f64 = parts
        .iter()
        .map(|&(main, bridge)| match bridge {
            Some((share, stud)) if main > 0.0 && stud > 0.0 => 1.0 / ((1.0 - share) / main + share / stud),
            _ => main,
        })
        .sum();
    if bridged.len() > 8 {
        return lower;
    }
    let mut conductance = 0.0;
    for mask in 0..1_u32 << bridged.len() {
        let (mut share, mut resistance) = (1.0, films);
        for (i, &(main, bridge)) in parts.iter().enumerate() {
            let studs = bridged.iter().position(|&b| b == i).is_some_and(|k| mask & (1 << k) != 0);
            match bridge {
                Some((f, stud)) if studs => {
                    share *= f;
                    resistance += stud;
                }
                Some((f, _)) => {
                    share *= 1.0 - f;
                    resistance += main;
                }
                None => resistance += main,
            }
        }
        conductance += share / resistance.max(1e-9);
    }
    let upper = 1.0 / conductance - films;
    f64::midpoint(upper, lower)
}

/// Transmittance of a construction, W/m²K, with heat flowing in `direction` to what is on the other `side`.
///
/// A typed U is taken as it is. An unknown material counts as no layer.
pub fn u_value(materials: &Materials, construction: &Construction, direction: Direction, side: Side) -> f64 {
    u_of(construction, direction, side, materials)
}

/// Resistance of the layers alone, m²K/W; of a typed U what is left without its films.
pub fn resistance(materials: &Materials, construction: &Construction, direction: Direction) -> f64 {
    match construction.u {
        Some(u) => (1.0 / u - direction.film() - FILM_OUTSIDE).max(0.0),
        None => layers_resistance(&construction.layers, direction, direction.film() + FILM_OUTSIDE, materials),
    }
}

/// Thickness of the layers, m; none for a typed U.
pub fn thickness(construction: &Construction) -> Option<f64> {
    (!construction.layers.is_empty()).then(|| construction.layers.iter().map(|l| l.thickness_m).sum())
}

fn u_of<'a>(
    construction: &Construction,
    direction: Direction,
    side: Side,
    material: impl Fn(&str) -> Option<&'a Material>,
) -> f64 {
    if let Some(u) = construction.u {
        return u;
    }
    let films = direction.film()
        + match side {
            Side::Outdoors => FILM_OUTSIDE,
            Side::Indoors => direction.film(),
            Side::Ground => 0.0,
        };
    1.0 / (layers_resistance(&construction.layers, direction, films, material) + films)
}

/// Transmittance in the place that a construction is made for, W/m²K: what a list shows beside its name.
pub fn u_in_place<'a>(
    construction: &Construction,
    position: Position,
    material: impl Fn(&str) -> Option<&'a Material>,
) -> f64 {
    let (direction, side) = match position {
        Position::Wall | Position::Window | Position::Door => (Direction::Horizontal, Side::Outdoors),
        Position::Roof => (Direction::Upward, Side::Outdoors),
        Position::Partition => (Direction::Horizontal, Side::Indoors),
        Position::Ceiling => (Direction::Upward, Side::Indoors),
        Position::Floor => (Direction::Downward, Side::Outdoors),
    };
    u_of(construction, direction, side, material)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::job::LayerBridge;

    fn layer(material: &str, thickness_m: f64) -> ConstructionLayer {
        ConstructionLayer { material_id: material.into(), thickness_m, bridge: None }
    }

    fn of(layers: Vec<ConstructionLayer>) -> Construction {
        let position = Position::Wall;
        let (id, name, class, source) = ("c".into(), "C".into(), String::new(), String::new());
        Construction { id, name, position, u: None, g: None, layers, class, source }
    }

    fn u(c: &Construction, direction: Direction, side: Side) -> f64 {
        u_value(&crate::library::material, c, direction, side)
    }

    /// 15 mm gypsum plaster 0.4, 175 mm brick 0.5, 100 mm foam 0.035, 8 mm render 1.0:
    /// 0.13 + 0.0375 + 0.35 + 2.857143 + 0.008 + 0.04 = 3.422643 m²K/W, U = 0.292172.
    #[test]
    fn a_plain_wall_by_hand() {
        let wall = crate::library::construction("wall-brick-foam-100").expect("in the library");
        assert!((u(wall, Direction::Horizontal, Side::Outdoors) - 0.292_172).abs() < 1e-6);
        // against ground there is no outside film, between rooms two inside films
        assert!((1.0 / u(wall, Direction::Horizontal, Side::Ground) - 3.382_643).abs() < 1e-6);
        assert!((1.0 / u(wall, Direction::Horizontal, Side::Indoors) - 3.512_643).abs() < 1e-6);
    }

    /// Studs by hand: plasterboard 12.5 mm (0.05 m²K/W), 140 mm wool 0.04 (3.5) with 15 % timber 0.12 (1.166667),
    /// 11 mm strand board (0.084615). Films 0.17.
    /// Upper: wool 3.804615, timber 1.471282; 1/(0.85/3.804615 + 0.15/1.471282) = 3.073...
    /// Lower: 0.17 + 0.05 + 0.084615 + 1/(0.85/3.5 + 0.15/1.166667) = 0.304615 + 2.692308 = 2.996923.
    #[test]
    fn a_stud_wall_by_the_combined_method() {
        let mut wool = layer("mineral-wool-040", 0.14);
        wool.bridge = Some(LayerBridge { material_id: "timber-450".into(), share: 0.15 });
        let wall = of(vec![layer("gypsum-board", 0.0125), wool, layer("osb", 0.011)]);
        let upper = 1.0 / (0.85 / 3.804_615 + 0.15 / 1.471_282);
        let expected = 2.0 / (upper + 2.996_923);
        assert!((u(&wall, Direction::Horizontal, Side::Outdoors) - expected).abs() < 1e-6);
    }

    #[test]
    fn films_and_air_layers_follow_the_direction() {
        let slab = of(vec![layer("concrete-2200", 0.165), layer("air", 0.05)]);
        let r = |d| 1.0 / u(&slab, d, Side::Outdoors);
        assert!((r(Direction::Upward) - (0.10 + 0.1 + 0.16 + 0.04)).abs() < 1e-9);
        assert!((r(Direction::Horizontal) - (0.13 + 0.1 + 0.18 + 0.04)).abs() < 1e-9);
        assert!((r(Direction::Downward) - (0.17 + 0.1 + 0.21 + 0.04)).abs() < 1e-9);
        // between rows: 20 mm, halfway from 0.17 to 0.18
        assert!((air_layer(0.02, Direction::Horizontal) - 0.175).abs() < 1e-12);
        assert!((air_layer(2.0, Direction::Downward) - 0.23).abs() < 1e-12);
    }

    #[test]
    fn twice_the_insulation_never_loses_more() {
        let mut last = f64::MAX;
        for mm in [10, 20, 40, 80, 160, 320] {
            let now = u(
                &of(vec![layer("brick-1800", 0.24), layer("eps-035", f64::from(mm) / 1000.0)]),
                Direction::Horizontal,
                Side::Outdoors,
            );
            assert!(now < last);
            last = now;
        }
    }

    #[test]
    fn a_typed_u_is_taken_as_it_is() {
        let mut typed = of(vec![]);
        typed.u = Some(1.3);
        assert_eq!(u(&typed, Direction::Upward, Side::Ground), 1.3);
    }
}

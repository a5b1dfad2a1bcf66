//! The products that ship with Fuoco, described by what they are: tubes, coverings, build-ups, materials,
//! constructions.
//!
//! Tube sizes: metric tubes by outside diameter × wall; North American by nominal size, outside diameter
//! nominal + 1/8 in, wall one ninth of it. Bend radius 5 diameters (metric) and 6 diameters (North American,
//! cold, by hand); the manufacturer's figure comes first. Resistances of coverings are thickness over
//! conductivity of ordinary products.
//!
//! ```
//! use fuoco_core::library;
//! let tube = library::tube("pex-16x2").unwrap();
//! assert!((tube.bore_m() - 0.012).abs() < 1e-12);
//! assert!(library::covering("gold").is_none());
//! ```

use crate::cooling::part::SummerUse;
use crate::floor::part::BuildUp;
use crate::heat_loss::construction;
use crate::heat_loss::part::{Construction, Material};
use crate::job::Usage;
use crate::job::usual::UsualBoth;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::LazyLock;

pub use crate::floor::part::{Covering, CoveringKind, Tube};
pub use crate::water::part::PumpModel;

/// A rug on a covering.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Rug {
    pub name: String,
    pub resistance_m2k_w: f64,
}

/// A use of rooms, with the temperature for which it is designed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoomUse {
    /// The use.
    #[serde(rename = "use")]
    pub usage: Usage,
    /// Design temperature, °C.
    pub room_c: f64,
    /// Who and what is in it in summer.
    pub summer: SummerUse,
}

/// Everything a floor can be made of.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Library {
    pub tubes: Vec<Tube>,
    pub coverings: Vec<Covering>,
    pub rugs: Vec<Rug>,
    /// Pumps, the smallest first.
    pub pumps: Vec<PumpModel>,
    #[serde(default)]
    pub build_ups: Vec<BuildUp>,
    #[serde(default)]
    pub materials: Vec<Material>,
    #[serde(default)]
    pub constructions: Vec<Construction>,
    /// U of every construction in its own place, W/m²K.
    #[serde(default)]
    pub u_values: BTreeMap<String, f64>,
    /// Every use of rooms.
    #[serde(default)]
    pub uses: Vec<RoomUse>,
    /// What things start with when they are added.
    #[serde(default)]
    pub usual: UsualBoth,
}

static LIBRARY: LazyLock<Library> = LazyLock::new(|| {
    let mut library: Library =
        serde_json::from_str(include_str!("../data/library.json")).expect("the built-in library is well-formed");
    library.build_ups =
        serde_json::from_str(include_str!("../data/build_ups.json")).expect("the built-in build-ups are well-formed");
    library.materials =
        serde_json::from_str(include_str!("../data/materials.json")).expect("the built-in materials are well-formed");
    library.constructions = serde_json::from_str(include_str!("../data/constructions.json"))
        .expect("the built-in constructions are well-formed");
    let material = |id: &str| library.materials.iter().find(|m| m.id == id);
    let u_values =
        library.constructions.iter().map(|c| (c.id.clone(), construction::u_in_place(c, c.position, material)));
    library.u_values = u_values.collect();
    library.uses =
        Usage::ALL.map(|usage| RoomUse { usage, room_c: usage.usual_room_c(), summer: SummerUse::of(usage) }).to_vec();
    library
});

/// The whole library.
pub fn library() -> &'static Library {
    &LIBRARY
}

/// The tube of that id.
pub fn tube(id: &str) -> Option<&'static Tube> {
    LIBRARY.tubes.iter().find(|t| t.id == id)
}

/// The covering of that id.
pub fn covering(id: &str) -> Option<&'static Covering> {
    LIBRARY.coverings.iter().find(|c| c.id == id)
}

/// The pump of that id.
pub fn pump(id: &str) -> Option<&'static PumpModel> {
    LIBRARY.pumps.iter().find(|p| p.id == id)
}

/// The build-up of that id.
pub fn build_up(id: &str) -> Option<&'static BuildUp> {
    LIBRARY.build_ups.iter().find(|b| b.id == id)
}

/// The material of that id.
pub fn material(id: &str) -> Option<&'static Material> {
    LIBRARY.materials.iter().find(|m| m.id == id)
}

/// The construction of that id.
pub fn construction(id: &str) -> Option<&'static Construction> {
    LIBRARY.constructions.iter().find(|c| c.id == id)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_tube_can_be_bent_and_carries_water() {
        for tube in &library().tubes {
            assert!(tube.bore_m() > 0.5 * tube.od_m, "{}", tube.id);
            assert!(tube.bend_radius_m >= 5.0 * tube.od_m - 1e-9, "{}", tube.id);
        }
    }

    #[test]
    fn north_american_sizes_follow_their_series() {
        // outside diameter = nominal + 1/8 in; wall = diameter / 9 but at least 0.070 in (1.78 mm)
        for (id, nominal_in) in
            [("pex-3/8", 0.375), ("pex-1/2", 0.5), ("pex-5/8", 0.625), ("pex-3/4", 0.75), ("pex-1", 1.0)]
        {
            let tube = tube(id).expect(id);
            let od = (nominal_in + 0.125) * 0.0254;
            assert!((tube.od_m - od).abs() < 1e-9, "{id}");
            assert!((tube.wall_m - (od / 9.0).max(0.00178)).abs() < 1e-5, "{id}");
        }
    }

    #[test]
    fn every_build_up_can_be_built_and_says_what_must_be_known() {
        for b in &library().build_ups {
            let tube = tube(if b.face == crate::section::film::Face::Floor { "pex-16x2" } else { "pex-12x1.3" })
                .expect("tube");
            let parts = crate::floor::Parts {
                build_up: b,
                covering: covering("tile"),
                rug_m2k_w: 0.0,
                tube,
                spacing_m: 0.2,
                insulation_m2k_w: None,
            };
            let section = crate::floor::section(&parts, &material).unwrap_or_else(|e| panic!("{}: {e}", b.id));
            section.check().unwrap_or_else(|e| panic!("{}: {e}", b.id));
            for text in [&b.fastening, &b.note, &b.before, &b.cautions] {
                assert!(!text.is_empty(), "{}", b.id);
            }
        }
    }

    #[test]
    fn every_construction_has_its_materials_and_a_sensible_u() {
        for c in &library().constructions {
            for layer in &c.layers {
                assert!(material(&layer.material_id).is_some(), "{}: {}", c.id, layer.material_id);
            }
            let u = library().u_values[&c.id];
            let range = match c.class.as_str() {
                "good" => 0.08..0.95,
                "ordinary" => 0.1..2.9,
                _ => 0.3..6.0,
            };
            assert!(range.contains(&u), "{}: {u}", c.id);
        }
    }

    #[test]
    fn a_good_part_is_better_than_an_ordinary_one_and_that_than_an_old_one() {
        use crate::job::Position;
        let worst = |position, class: &str| {
            let of = library().constructions.iter().filter(|c| c.position == position && c.class == class);
            of.map(|c| library().u_values[&c.id]).fold(0.0, f64::max)
        };
        for position in [Position::Wall, Position::Window, Position::Roof, Position::Floor] {
            assert!(worst(position, "good") < worst(position, "ordinary"), "{position:?}");
            assert!(worst(position, "ordinary") < worst(position, "old"), "{position:?}");
        }
    }
}

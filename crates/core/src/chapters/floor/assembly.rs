//! Build-ups made into sections: a build-up with covering and tube at a spacing becomes a [`Section`], its layers as they are
//! drawn, the height and weight it adds.
//!
//! ```
//! use fuoco_core::floor::assembly::{Parts, added, drawn};
//! use fuoco_core::library;
//! let parts = Parts {
//!     build_up: library::build_up("slab").unwrap(),
//!     covering: library::covering("tile"),
//!     rug_m2k_w: 0.0,
//!     tube: library::tube("pex-16x2").unwrap(),
//!     spacing_m: 0.2,
//!     insulation_m2k_w: None,
//! };
//! let (section, layers) = drawn(&parts, &library::material)?;
//! assert_eq!(layers[0].material_id, "covering");
//! assert!(section.tube.axis_depth_m > layers[0].bottom_m);
//! let (height_m, _) = added(&parts, &library::material);
//! assert!(height_m > 0.1);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::part::{BuildLayer, BuildUp, TubeFrom};
use crate::error::FieldError;
use crate::heat_loss::construction::{Direction, Materials, air_layer};
use crate::heat_loss::part::Material;
use crate::library::{Covering, CoveringKind, Tube};
use crate::section::{self, Layer, Plate, Rib, Section, Wrap};

/// Conductivity of cross-linked polyethylene tube, W/mK (EN 1264-2, table A.13).
pub const TUBE_W_MK: f64 = 0.35;

/// What one zone of a floor (wall, ceiling) is made of.
#[derive(Debug, Clone, Copy)]
pub struct Parts<'a> {
    /// The build-up.
    pub build_up: &'a BuildUp,
    /// The covering, if any.
    pub covering: Option<&'a Covering>,
    /// A rug on top, m²K/W, from 0.
    pub rug_m2k_w: f64,
    /// The tube.
    pub tube: &'a Tube,
    /// Spacing, m.
    pub spacing_m: f64,
    /// Insulation instead of the build-up's, m²K/W.
    pub insulation_m2k_w: Option<f64>,
}

/// A layer as it is drawn: what it is called, and where it lies below the finished surface, m.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub struct DrawnLayer {
    /// `covering`, `rug` or the material's id.
    pub material_id: String,
    /// Index in the build-up; none of covering and rug.
    pub index: Option<usize>,
    pub top_m: f64,
    pub bottom_m: f64,
}

/// Equivalent conductivity of a still cavity, W/mK: ISO 6946 has its resistance by direction; heat from a tube in it goes
/// all ways, so that for level heat flow is taken. It is the least certain figure of a section.
fn cavity_w_mk(thickness_m: f64) -> f64 {
    thickness_m / air_layer(thickness_m, Direction::Horizontal).max(1e-3)
}

fn conductivity(material: &Material, thickness_m: f64) -> f64 {
    if material.conductivity_w_mk > 0.0 { material.conductivity_w_mk } else { cavity_w_mk(thickness_m) }
}

/// Layers put one under the other.
#[derive(Default)]
struct Stack {
    layers: Vec<Layer>,
    drawn: Vec<DrawnLayer>,
    depth_m: f64,
}

impl Stack {
    /// Puts a layer under all others; the depth of its upper face, m.
    fn put(&mut self, name: &str, index: Option<usize>, layer: Layer) -> f64 {
        let top_m = self.depth_m;
        self.depth_m += layer.thickness_m;
        self.layers.push(layer);
        self.drawn.push(DrawnLayer { material_id: name.to_owned(), index, top_m, bottom_m: self.depth_m });
        top_m
    }
}

fn covering_layer(c: &Covering) -> Layer {
    let thickness_m = c.thickness_m.max(0.001);
    let heat_j_m3k = match c.kind {
        CoveringKind::Hard => 2e6,
        CoveringKind::Soft => 1.2e6,
        CoveringKind::Timber => 8e5,
    };
    Layer { thickness_m, conductivity_w_mk: thickness_m / c.resistance_m2k_w, heat_j_m3k, rib: None }
}

/// A layer of the build-up; none where the room's own insulation leaves nothing of it. The layer that holds the tube never
/// gets thinner than it is.
fn build_layer(
    parts: &Parts,
    index: usize,
    l: &BuildLayer,
    holds_tube: bool,
    materials: &Materials,
) -> Result<Option<Layer>, FieldError> {
    let unknown = |field: &str| FieldError::new(format!("layers[{index}].{field}"), "is unknown");
    let material = materials(&l.material_id).ok_or_else(|| unknown("material_id"))?;
    let mut thickness_m = l.thickness_m;
    if let (true, Some(r)) = (l.insulation, parts.insulation_m2k_w) {
        thickness_m = r * conductivity(material, l.thickness_m);
    }
    if holds_tube {
        thickness_m = thickness_m.max(l.thickness_m);
    } else if thickness_m < 0.0001 {
        return Ok(None);
    }
    let rib = match &l.rib {
        None => None,
        Some(r) => {
            let m = materials(&r.material_id).ok_or_else(|| unknown("rib.material_id"))?;
            let heat_j_m3k = m.density_kg_m3 * m.heat_capacity_j_kgk;
            Some(Rib { width_m: r.width_m, conductivity_w_mk: m.conductivity_w_mk, heat_j_m3k })
        }
    };
    Ok(Some(Layer {
        thickness_m,
        conductivity_w_mk: conductivity(material, thickness_m),
        heat_j_m3k: material.density_kg_m3 * material.heat_capacity_j_kgk,
        rib,
    }))
}

/// The depth of the tube's axis in a layer between two depths, m.
fn tube_axis(parts: &Parts, top: f64, bottom: f64) -> Result<f64, FieldError> {
    let radius = parts.tube.od_m / 2.0;
    let gap = parts.build_up.tube_gap_m;
    let axis_depth_m = match parts.build_up.tube_from {
        // a plate over the tube lies between it and the layer's upper face
        TubeFrom::Top => {
            let plate = parts.build_up.plate.as_ref().filter(|p| p.wrap != Wrap::Lower);
            top + gap.max(plate.map_or(0.0, |p| p.thickness_m)) + radius
        }
        TubeFrom::Bottom => bottom - gap - radius,
    };
    if parts.tube.od_m > bottom - top + 1e-9 {
        let reason = format!(
            "a tube of {:.1} mm does not fit into its layer of {:.1} mm",
            parts.tube.od_m * 1e3,
            (bottom - top) * 1e3
        );
        return Err(FieldError::new("tube.od_m", reason));
    }
    if axis_depth_m - radius < top - 1e-9 || axis_depth_m + radius > bottom + 1e-9 {
        return Err(FieldError::new("tube_gap_m", "puts the tube outside its layer"));
    }
    Ok(axis_depth_m)
}

/// The section and its layers as they are drawn.
///
/// # Errors
/// Names the field of the build-up, `tube.od_m` or `spacing_m`, where the parts do not go together.
pub fn drawn(parts: &Parts, materials: &Materials) -> Result<(Section, Vec<DrawnLayer>), FieldError> {
    let mut stack = Stack::default();
    if parts.rug_m2k_w > 0.0 {
        let thickness_m = 0.01;
        let layer = Layer { thickness_m, conductivity_w_mk: thickness_m / parts.rug_m2k_w, heat_j_m3k: 3e5, rib: None };
        stack.put("rug", None, layer);
    }
    if let Some(c) = parts.covering.filter(|c| c.resistance_m2k_w > 0.0) {
        stack.put("covering", None, covering_layer(c));
    }
    let mut holder = None;
    for (i, l) in parts.build_up.layers.iter().enumerate() {
        let holds_tube = i == parts.build_up.tube_layer;
        let Some(layer) = build_layer(parts, i, l, holds_tube, materials)? else { continue };
        let top = stack.put(&l.material_id, Some(i), layer);
        if holds_tube {
            holder = Some((top, stack.depth_m));
        }
    }
    let (top, bottom) = holder.ok_or_else(|| FieldError::new("tube_layer", "names no layer"))?;
    let axis_depth_m = tube_axis(parts, top, bottom)?;
    let Stack { layers, drawn, .. } = stack;
    let plate = parts.build_up.plate.as_ref();
    let section = Section {
        spacing_m: parts.spacing_m,
        layers,
        tube: section::SectionTube {
            od_m: parts.tube.od_m,
            wall_m: parts.tube.wall_m,
            conductivity_w_mk: TUBE_W_MK,
            axis_depth_m,
            density_kg_m3: None,
            heat_capacity_j_kgk: None,
        },
        plate: plate.map(|p| Plate {
            depth_m: top,
            thickness_m: p.thickness_m,
            width_m: p.width_m.min(parts.spacing_m),
            conductivity_w_mk: p.conductivity_w_mk,
            wrap: p.wrap,
            contact_w_m2k: p.contact_w_m2k,
            density_kg_m3: None,
            heat_capacity_j_kgk: None,
        }),
        imposed_bore: false,
    };
    Ok((section, drawn))
}

/// The section of the parts.
///
/// # Errors
/// As [`drawn`].
pub fn section(parts: &Parts, materials: &Materials) -> Result<Section, FieldError> {
    drawn(parts, materials).map(|d| d.0)
}

/// Resistance of the layers below the tube's, m²K/W, for the ground under them.
pub fn under_m2k_w(section: &Section) -> f64 {
    let first = section.tube_layer() + 1;
    section.layers.iter().skip(first).map(|l| l.thickness_m / l.conductivity_w_mk).sum()
}

/// Height and weight that a build-up adds with its covering, m and kg/m².
pub fn added(parts: &Parts, materials: &Materials) -> (f64, f64) {
    let mut height = 0.0;
    let mut weight = 0.0;
    if let Some(c) = parts.covering {
        height += c.thickness_m;
        // hard coverings as ceramic, others as timber
        weight += c.thickness_m * if c.kind == CoveringKind::Hard { 2300.0 } else { 600.0 };
    }
    for l in parts.build_up.layers.iter().filter(|l| !l.existing) {
        let Some(m) = materials(&l.material_id) else { continue };
        let thickness = match parts.insulation_m2k_w {
            Some(r) if l.insulation => r * conductivity(m, l.thickness_m),
            _ => l.thickness_m,
        };
        height += thickness;
        weight += thickness * m.density_kg_m3;
    }
    (height, weight)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::job::LayerRib;
    use crate::library;

    fn build(id: &str) -> BuildUp {
        library::build_up(id).expect("there").clone()
    }

    fn of(build_up: &BuildUp, change: impl FnOnce(&mut Parts)) -> Result<(Section, Vec<DrawnLayer>), FieldError> {
        let tube = library::tube("pex-16x2").expect("tube");
        let covering = library::covering("tile");
        let mut parts = Parts { build_up, covering, rug_m2k_w: 0.0, tube, spacing_m: 0.2, insulation_m2k_w: None };
        change(&mut parts);
        drawn(&parts, &library::material)
    }

    #[test]
    fn layers_stack_and_the_tube_keeps_its_distance() {
        let (s, drawn) = of(&build("slab-mesh"), |p| p.rug_m2k_w = 0.1).expect("builds");
        let names: Vec<&str> = drawn.iter().map(|d| d.material_id.as_str()).collect();
        assert_eq!(names, ["rug", "covering", "concrete-2200", "xps-035"]);
        assert_eq!(drawn.iter().map(|d| d.index).collect::<Vec<_>>(), [None, None, Some(0), Some(1)]);
        // 10 rug + 13 tile + 100 slab − 25 above the foam − 8
        assert!((s.tube.axis_depth_m - 0.090).abs() < 1e-12, "{}", s.tube.axis_depth_m);
        assert!((s.layers[0].thickness_m / s.layers[0].conductivity_w_mk - 0.1).abs() < 1e-12);
        assert!(drawn.windows(2).all(|w| (w[0].bottom_m - w[1].top_m).abs() < 1e-12));
        assert!((under_m2k_w(&s) - 2.0).abs() < 1e-9);
    }

    #[test]
    fn a_rooms_own_insulation_takes_the_place_of_the_build_ups() {
        let thick = of(&build("slab"), |p| p.insulation_m2k_w = Some(4.0)).expect("builds").0;
        assert!((thick.layers[2].thickness_m - 0.14).abs() < 1e-12);
        assert_eq!(of(&build("slab"), |p| p.insulation_m2k_w = Some(0.0)).expect("builds").0.layers.len(), 2);
        // the layer that holds the tube never gets thinner than it is
        let panel = of(&build("panel-slab"), |p| p.insulation_m2k_w = Some(0.1)).expect("builds").0;
        assert!((panel.layers[2].thickness_m - 0.025).abs() < 1e-12);
    }

    #[test]
    fn a_sheet_over_the_tube_lies_between_it_and_the_deck() {
        let mut b = build("joist-extruded");
        b.tube_gap_m = 0.0;
        let (s, drawn) = of(&b, |_| ()).expect("builds");
        let deck = drawn[1].bottom_m;
        let plate = s.plate.expect("a sheet");
        assert!((plate.depth_m - deck).abs() < 1e-12);
        assert!((s.tube.axis_depth_m - 0.008 - 0.0013 - deck).abs() < 1e-12);
        // no wider than the spacing
        assert!(
            (of(&b, |p| p.spacing_m = 0.08).expect("builds").0.plate.expect("a sheet").width_m - 0.08).abs() < 1e-12
        );
        // in a groove it stands flush
        let (panel, drawn) = of(&build("panel-board"), |_| ()).expect("builds");
        assert!((panel.tube.axis_depth_m - 0.008 - drawn[1].top_m).abs() < 1e-12);
    }

    /// 50 mm of still air: 0.18 m²K/W by ISO 6946, heat flowing level.
    #[test]
    fn a_cavity_conducts_as_its_resistance_says() {
        let (s, drawn) = of(&build("joist-bare"), |_| ()).expect("builds");
        let air = drawn.iter().position(|d| d.material_id == "air").expect("a cavity");
        assert!((s.layers[air].conductivity_w_mk - 0.05 / 0.18).abs() < 1e-9);
        assert!(s.layers[air].rib.is_some_and(|r| (r.width_m - 0.0225).abs() < 1e-12));
    }

    #[test]
    fn what_is_there_already_adds_neither_height_nor_weight() {
        let tube = library::tube("pex-16x2").expect("tube");
        let b = build("overlay");
        let parts =
            |covering| Parts { build_up: &b, covering, rug_m2k_w: 0.0, tube, spacing_m: 0.2, insulation_m2k_w: None };
        let (height, weight) = added(&parts(None), &library::material);
        assert!((height - 0.038).abs() < 1e-12 && (weight - 0.038 * 1850.0).abs() < 1e-9);
        let (tiled, heavier) = added(&parts(library::covering("tile")), &library::material);
        assert!((tiled - 0.051).abs() < 1e-12 && heavier > weight + 20.0);
    }

    #[test]
    fn what_does_not_go_together_is_named() {
        let refused = |change: fn(&mut BuildUp)| {
            let mut b = build("slab");
            change(&mut b);
            of(&b, |_| ()).map(|d| d.0.check()).map_or_else(|e| e.field, |c| c.expect_err("refused").field)
        };
        assert_eq!(refused(|b| b.layers[0].thickness_m = 0.015), "tube.od_m");
        assert_eq!(refused(|b| b.tube_gap_m = 0.055), "tube_gap_m");
        assert_eq!(refused(|b| b.tube_layer = 7), "tube_layer");
        assert_eq!(refused(|b| b.layers[1].material_id = "straw".into()), "layers[1].material_id");
        let rib = |material_id: &str, width_m| Some(LayerRib { material_id: material_id.into(), width_m });
        let mut b = build("slab");
        b.layers[0].rib = rib("straw", 0.02);
        assert_eq!(of(&b, |_| ()).expect_err("refused").field, "layers[0].rib.material_id");
        b.layers[0].rib = rib("timber-450", 0.19);
        assert_eq!(of(&b, |_| ()).expect("builds").0.check().expect_err("no room").field, "layers[1].rib.width_m");
    }
}

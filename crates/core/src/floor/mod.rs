//! The floor stage: a build-up with covering and tube becomes a [`Section`], its solution a [`Curve`] of what one zone
//! of a floor, wall or ceiling does at a water temperature, which is all that the rest of the design sees.

pub mod en1264;

use crate::construction::{Direction, air_layer};
use crate::error::FieldError;
use crate::job::{BuildUp, Material, TubeFrom};
use crate::library::{Covering, CoveringKind, Tube};
use crate::section::film::{self, Face, Mode};
use crate::section::{self, Films, Layer, Plate, Rib, Section, Solution, Wrap};
use std::sync::Arc;

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

/// Where a material is looked up.
pub type Materials<'m> = dyn Fn(&str) -> Option<&'m Material> + 'm;

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

/// The section and its layers as they are drawn.
///
/// # Errors
/// Names the field of the build-up, `tube.od_m` or `spacing_m`, where the parts do not go together.
pub fn drawn(parts: &Parts, materials: &Materials) -> Result<(Section, Vec<DrawnLayer>), FieldError> {
    let mut layers = Vec::new();
    let mut drawn: Vec<DrawnLayer> = Vec::new();
    let mut depth = 0.0;
    let mut put = |name: &str, index: Option<usize>, layer: Layer, drawn: &mut Vec<DrawnLayer>| {
        let top_m = depth;
        depth += layer.thickness_m;
        layers.push(layer);
        drawn.push(DrawnLayer { material_id: name.to_owned(), index, top_m, bottom_m: depth });
        top_m
    };
    if parts.rug_m2k_w > 0.0 {
        let thickness_m = 0.01;
        let layer = Layer { thickness_m, conductivity_w_mk: thickness_m / parts.rug_m2k_w, heat_j_m3k: 3e5, rib: None };
        put("rug", None, layer, &mut drawn);
    }
    if let Some(c) = parts.covering.filter(|c| c.resistance_m2k_w > 0.0) {
        let thickness_m = c.thickness_m.max(0.001);
        let heat_j_m3k = match c.kind {
            CoveringKind::Hard => 2e6,
            CoveringKind::Soft => 1.2e6,
            CoveringKind::Timber => 8e5,
        };
        let conductivity_w_mk = thickness_m / c.resistance_m2k_w;
        put("covering", None, Layer { thickness_m, conductivity_w_mk, heat_j_m3k, rib: None }, &mut drawn);
    }
    let mut holder = None;
    for (i, l) in parts.build_up.layers.iter().enumerate() {
        let unknown = |field: &str| FieldError::new(format!("layers[{i}].{field}"), "is unknown");
        let material = materials(&l.material_id).ok_or_else(|| unknown("material_id"))?;
        let mut thickness_m = l.thickness_m;
        if let (true, Some(r)) = (l.insulation, parts.insulation_m2k_w) {
            thickness_m = r * conductivity(material, l.thickness_m);
        }
        if i == parts.build_up.tube_layer {
            thickness_m = thickness_m.max(l.thickness_m);
        } else if thickness_m < 0.0001 {
            continue;
        }
        let rib = match &l.rib {
            None => None,
            Some(r) => {
                let m = materials(&r.material_id).ok_or_else(|| unknown("rib.material_id"))?;
                let heat_j_m3k = m.density_kg_m3 * m.heat_capacity_j_kgk;
                Some(Rib { width_m: r.width_m, conductivity_w_mk: m.conductivity_w_mk, heat_j_m3k })
            }
        };
        let layer = Layer {
            thickness_m,
            conductivity_w_mk: conductivity(material, thickness_m),
            heat_j_m3k: material.density_kg_m3 * material.heat_capacity_j_kgk,
            rib,
        };
        let top = put(&l.material_id, Some(i), layer, &mut drawn);
        if i == parts.build_up.tube_layer {
            holder = Some((top, top + thickness_m));
        }
    }
    let (top, bottom) = holder.ok_or_else(|| FieldError::new("tube_layer", "names no layer"))?;
    let radius = parts.tube.od_m / 2.0;
    let gap = parts.build_up.tube_gap_m;
    let plate = parts.build_up.plate.as_ref();
    let axis_depth_m = match parts.build_up.tube_from {
        // a sheet over the tube lies between it and the layer's upper face
        TubeFrom::Top => {
            let over = plate.filter(|p| p.wrap != Wrap::Lower).map_or(0.0, |p| p.thickness_m);
            top + gap.max(over) + radius
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
    let section = Section {
        spacing_m: parts.spacing_m,
        layers,
        tube: section::Tube {
            od_m: parts.tube.od_m,
            wall_m: parts.tube.wall_m,
            conductivity_w_mk: TUBE_W_MK,
            axis_depth_m,
        },
        plate: plate.map(|p| Plate {
            depth_m: top,
            thickness_m: p.thickness_m,
            width_m: p.width_m.min(parts.spacing_m),
            conductivity_w_mk: p.conductivity_w_mk,
            wrap: p.wrap,
            contact_w_m2k: p.contact_w_m2k,
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

/// What surrounds a zone.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Duty {
    /// Which way it looks.
    pub face: Face,
    /// Room, °C.
    pub room_c: f64,
    /// Below (behind), °C.
    pub below_c: f64,
    /// From the underside to what is below, m²K/W: a film, or the ground.
    pub below_m2k_w: f64,
    /// Film of the water, W/m²K of bore.
    pub water_film_w_m2k: f64,
}

impl Duty {
    /// Conductance from the underside to what is below, W/m²K, above zero and finite whatever the ground.
    pub fn film_down(&self) -> f64 {
        (1.0 / self.below_m2k_w).clamp(1e-3, 1e6)
    }
}

/// What a section does under one upper film.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Row {
    film: f64,
    up: f64,
    through: f64,
    down: f64,
    /// Warmth of the surface's warmest and coolest line per kelvin of water, of below.
    crest: [f64; 2],
    trough: [f64; 2],
}

impl Row {
    fn values(&self) -> [f64; 7] {
        let Row { up, through, down, crest, trough, .. } = *self;
        [up, through, down, crest[0], crest[1], trough[0], trough[1]]
    }
}

/// What a zone does at a water temperature: the plain interface between the floor stage and all others.
///
/// A table over the film between surface and room, which depends on the flux; between its rows a polynomial. The tests
/// compare it with the solution itself.
#[derive(Debug, Clone)]
pub struct Curve {
    rows: Vec<Row>,
    duty: Duty,
    /// Estimated error of the grid, relative.
    pub grid_error: f64,
    /// Heat held in the steady state per kelvin of water over room, J/m²K.
    pub heat_content_j_m2k: f64,
    /// Mean delay of the heat into the room after a step of the water's temperature, s.
    pub time_constant_s: f64,
}

/// Films of a heated floor from next to nothing to 400 W/m².
const FILM_NODES: [f64; 4] = [5.0, 7.5, 10.0, 12.6];
/// The flux changes with the tenth power of its film: each round gains a digit.
const ROUNDS: usize = 7;

impl Curve {
    /// The curve of a section at its duty.
    ///
    /// # Errors
    /// As [`Section::check`].
    pub fn new(section: &Section, duty: Duty) -> Result<Curve, FieldError> {
        let solution: Arc<Solution> = section::solve(section)?;
        let floor = duty.face == Face::Floor;
        let nodes: Vec<f64> = if floor { FILM_NODES.to_vec() } else { vec![film::film(duty.face, Mode::Heating, 1.0)] };
        let responses: Vec<_> = nodes
            .iter()
            .map(|&up| solution.respond(&Films { up, down: duty.film_down(), water: duty.water_film_w_m2k }))
            .collect();
        let rows = nodes.iter().zip(&responses).map(|(&film, (c, p))| {
            let line = |better: fn(&f64, &f64) -> bool| {
                let i =
                    (1..p.water.len()).fold(0, |best, i| if better(&p.water[i], &p.water[best]) { i } else { best });
                [p.water[i], p.below[i]]
            };
            let (crest, trough) = (line(f64::gt), line(f64::lt));
            Row { film, up: c.up_w_m2k, through: c.through_w_m2k, down: c.down_w_m2k, crest, trough }
        });
        // delay and heat held hardly change with the film: those of an ordinary day
        let ordinary = responses[nodes.len() / 2].0;
        Ok(Curve {
            rows: rows.collect(),
            duty,
            grid_error: ordinary.grid_error,
            heat_content_j_m2k: ordinary.heat_content_j_m2k,
            time_constant_s: ordinary.time_constant_s,
        })
    }

    /// What surrounds it.
    pub fn duty(&self) -> &Duty {
        &self.duty
    }

    fn row(&self, film: f64) -> Row {
        let mut out = [0.0; 7];
        for (i, node) in self.rows.iter().enumerate() {
            let others = self.rows.iter().enumerate().filter(|(j, _)| *j != i);
            let weight: f64 = others.map(|(_, o)| (film - o.film) / (node.film - o.film)).product();
            out.iter_mut().zip(node.values()).for_each(|(a, v)| *a += weight * v);
        }
        let [up, through, down, c0, c1, t0, t1] = out;
        Row { film, up, through, down, crest: [c0, c1], trough: [t0, t1] }
    }

    fn film(&self, flux_w_m2: f64) -> f64 {
        let film = film::film(self.duty.face, Mode::Heating, flux_w_m2);
        if self.rows.len() > 1 { film.clamp(FILM_NODES[0], FILM_NODES[3]) } else { film }
    }

    fn flux_of(&self, row: &Row, excess_k: f64) -> f64 {
        row.up * excess_k + row.through * (self.duty.below_c - self.duty.room_c)
    }

    fn at(&self, excess_k: f64) -> Row {
        let mut row = self.row(self.film(50.0));
        if self.rows.len() > 1 {
            for _ in 0..ROUNDS {
                row = self.row(self.film(self.flux_of(&row, excess_k)));
            }
        }
        row
    }

    /// Upward flux at that mean excess of water over room, W/m²; below zero where the water is too cool to keep what is
    /// below from cooling the room.
    pub fn flux_up(&self, excess_k: f64) -> f64 {
        self.flux_of(&self.at(excess_k), excess_k)
    }

    /// Mean excess of water over room that gives that flux, K. Exact without iteration: the flux tells the film.
    pub fn excess_for(&self, flux_w_m2: f64) -> f64 {
        let row = self.row(self.film(flux_w_m2));
        (flux_w_m2 - row.through * (self.duty.below_c - self.duty.room_c)) / row.up
    }

    /// Downward flux at that excess, W/m². Never negative: heat that comes up from a warmer room below is not the water's.
    pub fn flux_down(&self, excess_k: f64) -> f64 {
        let row = self.at(excess_k);
        let Duty { room_c, below_c, .. } = self.duty;
        (row.down * (room_c + excess_k - below_c) - row.through * (below_c - room_c)).max(0.0)
    }

    /// Upward flux per kelvin of water over room at that excess, W/m²K.
    pub fn k_up(&self, excess_k: f64) -> f64 {
        self.at(excess_k).up
    }

    /// Mean surface temperature at that flux, °C.
    pub fn surface_mean(&self, flux_w_m2: f64) -> f64 {
        self.duty.room_c + film::excess(self.duty.face, Mode::Heating, flux_w_m2)
    }

    /// Flux at which the mean surface has that temperature, W/m².
    pub fn flux_at_surface(&self, surface_c: f64) -> f64 {
        film::flux(self.duty.face, Mode::Heating, surface_c - self.duty.room_c)
    }

    /// Warmest and coolest line of the surface at that excess, °C.
    pub fn surface_range(&self, excess_k: f64) -> (f64, f64) {
        let row = self.at(excess_k);
        let Duty { room_c, below_c, .. } = self.duty;
        let line = |w: [f64; 2]| room_c + w[0] * excess_k + w[1] * (below_c - room_c);
        (line(row.crest), line(row.trough))
    }

    /// Mean of the underside at that excess, °C.
    pub fn underside(&self, excess_k: f64) -> f64 {
        self.duty.below_c + self.flux_down(excess_k) * self.duty.below_m2k_w
    }

    /// Film between surface and room at that excess, W/m²K.
    pub fn film_at(&self, excess_k: f64) -> f64 {
        self.at(excess_k).film
    }
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

    /// Films at the back by where heat flows, and a ground of no resistance that still gives a figure.
    #[test]
    fn a_curve_stands_any_ground() {
        let (section, _) = of(&build("slab"), |_| ()).expect("builds");
        let at = |below_m2k_w: f64| {
            let duty = Duty { face: Face::Floor, room_c: 20.0, below_c: 10.0, below_m2k_w, water_film_w_m2k: 1500.0 };
            Curve::new(&section, duty).expect("solves").flux_down(15.0)
        };
        assert!(at(0.0) > at(0.17) && at(0.17) > at(3.0) && at(3.0) > at(1e9) && at(1e9) >= 0.0);
    }
}

//! A mesh that fits: lines of a rectangular grid laid so that the circle of the tube passes through their crossings.
//!
//! With `x = R·sin φ` and `z = axis − R·cos φ` for a set of angles that mirrors itself about the tube's axis, the circle
//! runs along diagonals of grid cells: cut there, they leave triangles that fit it. Every face of a layer, plate or rib
//! is a grid line, and adds its angle to the set where it meets the circle. The tube's wall, and the part of a plate that
//! embraces it, are rings of quadrilaterals inside that circle.

use super::{Plate, Section, TINY, Wrap};
use std::f64::consts::{FRAC_PI_2, PI};

/// Steps of the coarse mesh around a quarter of the tube.
const QUARTER: f64 = 3.4;
/// How much a step may grow per metre away from what it resolves.
const GROWTH: f64 = 1.3;
/// A joint that is perfect, W/m²K.
const PERFECT: f64 = 1e7;

/// What an element is made of.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct CellMaterial {
    pub conductivity: f64,
    pub heat: f64,
    pub is_plate: bool,
}

/// A triangle (last corner repeated) or quadrilateral, corners in order.
#[derive(Debug, Clone, Copy)]
pub(super) struct Element {
    pub corners: [u32; 4],
    pub triangle: bool,
    pub material: CellMaterial,
}

/// A joint between two rows of nodes at the same places.
#[derive(Debug, Clone, Copy)]
pub(super) struct Joint {
    pub inner: [u32; 2],
    pub outer: [u32; 2],
    pub conductance: f64,
}

#[derive(Debug, Default)]
pub(super) struct Mesh {
    /// Distance from the axis of the tube and depth, m.
    pub nodes: Vec<[f64; 2]>,
    pub elements: Vec<Element>,
    pub joints: Vec<Joint>,
    /// From above the tube to midway.
    pub surface: Vec<u32>,
    pub underside: Vec<u32>,
    /// From crown to base.
    pub bore: Vec<u32>,
}

/// A place that wants short steps near it.
struct Focus {
    at: f64,
    step: f64,
}

/// Points from the first to the last break, all breaks among them, in steps that suit the foci; `refine` times as many
/// as the coarsest would take, every coarse point among them.
fn spread(breaks: &[f64], foci: &[Focus], longest: f64, refine: usize) -> Vec<f64> {
    const SAMPLES: usize = 32;
    let step = |s: f64| foci.iter().map(|f| f.step + GROWTH * (s - f.at).abs()).fold(longest, f64::min);
    let mut out = vec![breaks[0]];
    for pair in breaks.windows(2) {
        let (a, b) = (pair[0], pair[1]);
        let at = |k: usize| a + (b - a) * k as f64 / SAMPLES as f64;
        let mut sum = [0.0; SAMPLES + 1];
        let mut last = 1.0 / step(a);
        for k in 1..=SAMPLES {
            let here = 1.0 / step(at(k));
            sum[k] = sum[k - 1] + 0.5 * (last + here) * (b - a) / SAMPLES as f64;
            last = here;
        }
        let n = (sum[SAMPLES].ceil() as usize).clamp(1, 64) * refine;
        let mut k = 0;
        for i in 1..n {
            let want = sum[SAMPLES] * i as f64 / n as f64;
            while sum[k + 1] < want {
                k += 1;
            }
            let part = (want - sum[k]) / (sum[k + 1] - sum[k]);
            out.push(at(k) + (at(k + 1) - at(k)) * part);
        }
        out.push(b);
    }
    out
}

/// Sorted, without doubles.
fn tidy(mut values: Vec<f64>, least: f64) -> Vec<f64> {
    values.sort_by(f64::total_cmp);
    values.dedup_by(|b, a| *b - *a < least);
    values
}

struct TubePlace<'a> {
    section: &'a Section,
    plate: Option<&'a Plate>,
    radius: f64,
    /// Of the circle that the grid fits: the tube's, or that of the plate around it.
    outer: f64,
    axis: f64,
    half: f64,
    faces: Vec<f64>,
}

impl TubePlace<'_> {
    /// Depths between which the legs of a plate run, if it needs any.
    fn legs(&self) -> Option<(f64, f64)> {
        let plate = self.plate?;
        let (top, bottom) = (plate.depth_m, plate.depth_m + plate.thickness_m);
        let (from, to) = match plate.wrap {
            Wrap::Upper => (self.axis - self.outer, self.axis),
            Wrap::Lower => (self.axis, self.axis + self.outer),
            Wrap::None => return None,
        };
        if bottom < from - TINY {
            Some((top, self.axis))
        } else if top > to + TINY {
            Some((self.axis, bottom))
        } else {
            None
        }
    }

    /// Whether the flat part stops at the tube: the groove is open on that side.
    fn open(&self) -> bool {
        self.plate.is_some_and(|p| match p.wrap {
            Wrap::Lower => p.depth_m < self.axis,
            Wrap::Upper => p.depth_m > self.axis - TINY,
            Wrap::None => false,
        })
    }

    fn material(&self, x: f64, z: f64) -> CellMaterial {
        if let Some(plate) = self.plate {
            let flat = z > plate.depth_m && z < plate.depth_m + plate.thickness_m && x < plate.width_m / 2.0;
            let open = self.open() && x < self.radius;
            let leg = self.legs().is_some_and(|(a, b)| z > a && z < b && x > self.radius && x < self.outer);
            if (flat && !open) || leg {
                return self.metal();
            }
        }
        self.layer(x, z)
    }

    /// What is there without the plate.
    fn layer(&self, x: f64, z: f64) -> CellMaterial {
        let i = self.faces.partition_point(|f| *f < z).clamp(1, self.section.layers.len()) - 1;
        let layer = &self.section.layers[i];
        match layer.rib {
            Some(r) if x > self.half - r.width_m / 2.0 => {
                CellMaterial { conductivity: r.conductivity_w_mk, heat: r.heat_j_m3k, is_plate: false }
            }
            _ => CellMaterial { conductivity: layer.conductivity_w_mk, heat: layer.heat_j_m3k, is_plate: false },
        }
    }

    /// Whether the plate embraces the tube at that angle.
    fn wrapped(&self, angle: f64) -> bool {
        match self.plate.map(|p| p.wrap) {
            Some(Wrap::Upper) => angle < FRAC_PI_2,
            Some(Wrap::Lower) => angle > FRAC_PI_2,
            _ => false,
        }
    }

    /// Within the ring around the tube, at that angle. What is not wrapped is as just outside the ring, so that a finer
    /// mesh sees the same parts.
    fn ring(&self, angle: f64) -> CellMaterial {
        if self.wrapped(angle) {
            return self.metal();
        }
        let (x, z) = self.on(self.outer, angle);
        self.material(x, z)
    }

    fn on(&self, r: f64, angle: f64) -> (f64, f64) {
        (r * angle.sin(), self.axis - r * angle.cos())
    }

    /// In a ring with legs, the radius at that angle where its outer part ends: at the leg's inner side beside the tube; at
    /// the face of a layer that crosses the ring over the crown; at the tube where the plate touches it.
    fn ring_parting(&self, angle: f64) -> f64 {
        if self.wrapped(angle) || (angle - FRAC_PI_2).abs() < 1e-9 {
            return self.radius;
        }
        let (sin, cos) = (angle.sin(), angle.cos().abs());
        let own_side = |f: &f64| (self.axis - f) * angle.cos() > 0.0;
        let face = self.faces.iter().filter(|f| own_side(f)).map(|f| (self.axis - f).abs());
        let crossing = face.filter(|d| (self.radius - 1e-9..self.outer).contains(d)).fold(self.outer, f64::min);
        let parting = if sin < cos { crossing / cos } else { self.radius / sin };
        parting.clamp(self.radius, self.outer)
    }

    fn metal(&self) -> CellMaterial {
        let (conductivity, heat) = self.plate.map_or((0.0, 0.0), |p| (p.conductivity_w_mk, p.heat_j_m3k()));
        CellMaterial { conductivity, heat, is_plate: true }
    }

    /// Angles from crown to base at which the grid meets the circle: mirrored about the axis.
    fn angles(&self, refine: usize) -> Vec<f64> {
        let mut marks = vec![0.0, FRAC_PI_2];
        let mut level = |z: f64| {
            let c = ((self.axis - z) / self.outer).abs();
            if c < 1.0 {
                marks.push(c.acos());
            }
        };
        self.faces.iter().for_each(|f| level(*f));
        if let Some(p) = self.plate {
            level(p.depth_m);
            level(p.depth_m + p.thickness_m);
        }
        let mut upright = |x: f64| {
            if x > 0.0 && x < self.outer {
                marks.push((x / self.outer).asin());
            }
        };
        if self.legs().is_some() || self.open() {
            upright(self.radius);
        }
        if let Some(p) = self.plate {
            upright(p.width_m / 2.0);
            let tangent = |z: f64| ((self.axis - z).abs() - self.outer).abs() < 1e-6;
            if p.wrap == Wrap::None && (tangent(p.depth_m) || tangent(p.depth_m + p.thickness_m)) {
                // the thin wedge beside the line of contact
                marks.extend([0.02, 0.05, 0.11, 0.22]);
            }
        }
        if self.plate.is_some_and(|p| p.contact_w_m2k.is_some() && p.wrap != Wrap::None) {
            // where the contact ends heat crowds around it
            marks.extend([0.05, 0.18].map(|step| FRAC_PI_2 - step));
        }
        marks.retain(|m| *m <= FRAC_PI_2);
        let marks = tidy(marks, 1e-4);
        let mut quarter = vec![0.0];
        for pair in marks.windows(2) {
            let n = ((pair[1] - pair[0]) / (FRAC_PI_2 / QUARTER) - 1e-6).ceil().max(1.0) as usize * refine;
            quarter.extend((1..=n).map(|i| pair[0] + (pair[1] - pair[0]) * i as f64 / n as f64));
        }
        let mirrored: Vec<f64> = quarter.iter().rev().skip(1).map(|a| PI - a).collect();
        quarter.extend(mirrored);
        quarter
    }
}

impl Mesh {
    /// The mesh of a checked section, every step of the coarsest one divided by `refine`.
    pub fn new(section: &Section, refine: usize) -> Mesh {
        let plate = section.plate.as_ref().filter(|p| p.conductivity_w_mk > 0.0);
        let radius = section.tube.od_m / 2.0;
        let wrap = plate.filter(|p| p.wrap != Wrap::None).map_or(0.0, |p| p.thickness_m);
        let mut faces = vec![0.0];
        faces.extend(section.layers.iter().scan(0.0, |z, l| {
            *z += l.thickness_m;
            Some(*z)
        }));
        let place = TubePlace {
            section,
            plate,
            radius,
            outer: radius + wrap,
            axis: section.tube.axis_depth_m,
            half: section.spacing_m / 2.0,
            faces,
        };
        let angles = place.angles(refine);
        let mut mesh = Mesh::default();
        let circle = mesh.grid(&place, &angles, refine);
        mesh.rings(&place, &angles, circle, refine);
        mesh
    }

    fn node(&mut self, x: f64, z: f64) -> u32 {
        self.nodes.push([x, z]);
        (self.nodes.len() - 1) as u32
    }

    /// The rectangular grid outside the circle; gives the nodes on the circle.
    fn grid(&mut self, place: &TubePlace, angles: &[f64], refine: usize) -> Vec<u32> {
        let TubePlace { outer, axis, half, .. } = *place;
        let plate = place.plate;
        let height = *place.faces.last().unwrap_or(&0.0);
        let quarter = angles.len() / 2;
        let near = outer * FRAC_PI_2 / QUARTER;

        let mut breaks = vec![outer, half];
        let mut foci = vec![Focus { at: outer, step: 0.8 * near }];
        if let Some(p) = plate {
            let edge = p.width_m / 2.0;
            if edge > outer && edge < half - TINY {
                breaks.push(edge);
                foci.push(Focus { at: edge, step: 0.003 });
            }
        }
        for layer in &place.section.layers {
            if let Some(edge) = layer.rib.map(|r| half - r.width_m / 2.0).filter(|e| *e > outer + TINY && *e < half) {
                breaks.push(edge);
                foci.push(Focus { at: edge, step: 0.004 });
            }
        }
        let mut xs: Vec<f64> = angles[..=quarter].iter().map(|a| outer * a.sin()).collect();
        xs.extend(&spread(&tidy(breaks, TINY), &foci, half / 4.0, refine)[1..]);

        let mut foci = vec![Focus { at: axis - outer, step: 0.8 * near }, Focus { at: axis + outer, step: 0.8 * near }];
        let mut levels = place.faces.clone();
        if let Some(p) = plate {
            levels.extend([p.depth_m, p.depth_m + p.thickness_m]);
            foci.push(Focus { at: p.depth_m, step: 0.002 });
        }
        let mut zs = Vec::new();
        let above: Vec<f64> =
            levels.iter().copied().filter(|z| *z < axis - outer - TINY).chain([axis - outer]).collect();
        let below: Vec<f64> =
            levels.iter().copied().filter(|z| *z > axis + outer + TINY).chain([axis + outer]).collect();
        let longest = 0.05_f64.max(height / 8.0);
        zs.extend(spread(&tidy(above, TINY), &foci, longest, refine));
        let first = zs.len() - 1;
        zs.pop();
        zs.extend(angles.iter().map(|a| axis - outer * a.cos()));
        zs.pop();
        zs.extend(spread(&tidy(below, TINY), &foci, longest, refine));
        let last = first + angles.len() - 1;

        // grid line i < quarter meets the circle at levels first + i and last − i
        let nothing = u32::MAX;
        let inside = |i: usize, j: usize| i < quarter && j > first + i && j < last - i;
        let mut ids = vec![nothing; xs.len() * zs.len()];
        let at = |i: usize, j: usize| i * zs.len() + j;
        for (i, &x) in xs.iter().enumerate() {
            for (j, &z) in zs.iter().enumerate() {
                if !inside(i, j) {
                    ids[at(i, j)] = self.node(x, z);
                }
            }
        }
        for i in 0..xs.len() - 1 {
            for j in 0..zs.len() - 1 {
                let (x, z) = (0.5 * (xs[i] + xs[i + 1]), 0.5 * (zs[j] + zs[j + 1]));
                let corners = [(i, j), (i + 1, j), (i + 1, j + 1), (i, j + 1)];
                let held: Vec<u32> = corners.iter().map(|&(i, j)| ids[at(i, j)]).filter(|id| *id != nothing).collect();
                // a cell that the circle halves has one corner inside it; one within it has two or more
                let material = place.material(x, z);
                match held[..] {
                    [a, b, c, d] => self.elements.push(Element { corners: [a, b, c, d], triangle: false, material }),
                    [a, b, c] => self.elements.push(Element { corners: [a, b, c, c], triangle: true, material }),
                    _ => {}
                }
            }
        }
        self.surface = (0..xs.len()).map(|i| ids[at(i, 0)]).collect();
        self.underside = (0..xs.len()).map(|i| ids[at(i, zs.len() - 1)]).collect();
        (0..angles.len()).map(|k| ids[at(k.min(angles.len() - 1 - k), first + k)]).collect()
    }

    /// The plate's ring and the tube's wall, from the circle inward.
    fn rings(&mut self, place: &TubePlace, angles: &[f64], circle: Vec<u32>, refine: usize) {
        let TubePlace { radius, outer, .. } = *place;
        let tube = &place.section.tube;
        let bore = radius - tube.wall_m;
        let mut row = circle;
        if outer > radius && place.legs().is_some() {
            row = self.ring(
                place,
                angles,
                row,
                |a| (outer, place.ring_parting(a)),
                refine,
                |a| {
                    let leg = a.sin() > a.cos().abs() && place.ring_parting(a) < outer;
                    if leg { place.metal() } else { place.ring(a) }
                },
            );
            row = self.ring(
                place,
                angles,
                row,
                |a| (place.ring_parting(a), radius),
                refine,
                |a| {
                    let (x, z) = place.on(radius * (1.0 + 1e-6), a);
                    place.layer(x, z)
                },
            );
        } else if outer > radius {
            row = self.ring(place, angles, row, |_| (outer, radius), refine, |a| place.ring(a));
        }
        if let Some(contact) = place.plate.and_then(|p| p.contact_w_m2k) {
            let inner: Vec<u32> = angles.iter().map(|&a| place.on(radius, a)).map(|(x, z)| self.node(x, z)).collect();
            for k in 0..angles.len() - 1 {
                let angle = 0.5 * (angles[k] + angles[k + 1]);
                let (x, z) = place.on(radius * (1.0 + 1e-4), angle);
                let touches = place.wrapped(angle) || place.legs().is_none() && place.material(x, z).is_plate;
                self.joints.push(Joint {
                    inner: [inner[k], inner[k + 1]],
                    outer: [row[k], row[k + 1]],
                    conductance: if touches { contact } else { PERFECT },
                });
            }
            row = inner;
        }
        // even steps in the logarithm of the radius, as the temperature falls; twice as many where heat enters the tube
        // on one side only and has to run along its wall
        let steps = if place.plate.is_some_and(|p| p.contact_w_m2k.is_some()) { 2 * refine } else { refine };
        let wall = CellMaterial { conductivity: tube.conductivity_w_mk, heat: tube.heat_j_m3k(), is_plate: false };
        self.bore = self.ring(place, angles, row, |_| (radius, bore), steps, |_| wall);
    }

    /// Rows of quadrilaterals from an outer row of nodes inward between two radii by angle; gives the innermost row.
    /// Where the two radii meet the rows share their nodes.
    fn ring(
        &mut self,
        place: &TubePlace,
        angles: &[f64],
        mut row: Vec<u32>,
        radii: impl Fn(f64) -> (f64, f64),
        steps: usize,
        material: impl Fn(f64) -> CellMaterial,
    ) -> Vec<u32> {
        for k in 1..=steps {
            let mut next = Vec::with_capacity(angles.len());
            for (i, &angle) in angles.iter().enumerate() {
                let (from, to) = radii(angle);
                if from - to < 1e-9 {
                    next.push(row[i]);
                } else {
                    let (x, z) = place.on(from * (to / from).powf(k as f64 / steps as f64), angle);
                    next.push(self.node(x, z));
                }
            }
            for i in 0..angles.len() - 1 {
                let mut corners = vec![row[i], row[i + 1], next[i + 1], next[i]];
                corners.dedup();
                if corners.first() == corners.last() {
                    corners.pop();
                }
                let material = material(0.5 * (angles[i] + angles[i + 1]));
                match corners[..] {
                    [a, b, c, d] => self.elements.push(Element { corners: [a, b, c, d], triangle: false, material }),
                    [a, b, c] => self.elements.push(Element { corners: [a, b, c, c], triangle: true, material }),
                    _ => {}
                }
            }
            row = next;
        }
        row
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::section::{Layer, Rib, SectionTube};

    fn section(plate: Option<Plate>, rib: Option<Rib>) -> Section {
        let layer = |thickness_m, conductivity_w_mk| Layer { thickness_m, conductivity_w_mk, heat_j_m3k: 1e6, rib };
        Section {
            spacing_m: 0.2,
            layers: vec![layer(0.014, 0.13), layer(0.03, 0.04), layer(0.05, 0.2)],
            tube: SectionTube {
                od_m: 0.016,
                wall_m: 0.002,
                conductivity_w_mk: 0.35,
                axis_depth_m: 0.0235,
                density_kg_m3: None,
                heat_capacity_j_kgk: None,
            },
            plate,
            imposed_bore: false,
        }
    }

    fn plate(wrap: Wrap, depth_m: f64) -> Plate {
        let (thickness_m, width_m, conductivity_w_mk) = (0.001, 0.12, 200.0);
        Plate {
            depth_m,
            thickness_m,
            width_m,
            conductivity_w_mk,
            wrap,
            contact_w_m2k: None,
            density_kg_m3: None,
            heat_capacity_j_kgk: None,
        }
    }

    fn area(mesh: &Mesh, which: impl Fn(&Element) -> bool) -> f64 {
        let of = |e: &Element| {
            let p = e.corners.map(|c| mesh.nodes[c as usize]);
            let cross = |i: usize, j: usize| p[i][0] * p[j][1] - p[j][0] * p[i][1];
            0.5 * (cross(0, 1) + cross(1, 2) + cross(2, 3) + cross(3, 0)).abs()
        };
        mesh.elements.iter().filter(|e| which(e)).map(of).sum()
    }

    fn sheets() -> Vec<Option<Plate>> {
        vec![
            None,
            Some(plate(Wrap::None, 0.0145)),
            Some(plate(Wrap::None, 0.023)),
            Some(plate(Wrap::Upper, 0.0145)),
            Some(plate(Wrap::Upper, 0.0235)),
            Some(plate(Wrap::Lower, 0.014)),
            Some(plate(Wrap::Lower, 0.0225)),
        ]
    }

    /// The elements fill the cell outside the bore, once: to what a polygon of so many corners leaves of a circle.
    #[test]
    fn elements_fill_the_cell_whatever_the_sheet() {
        let rib = Rib { width_m: 0.04, conductivity_w_mk: 0.13, heat_j_m3k: 7e5 };
        for plate in sheets() {
            for rib in [None, Some(rib)] {
                let s = section(plate, rib);
                let whole = 0.1 * 0.094 - PI * 0.006_f64.powi(2) / 2.0;
                for refine in [1, 2, 4] {
                    let mesh = Mesh::new(&s, refine);
                    let got = area(&mesh, |_| true);
                    let bore = PI * 0.006_f64.powi(2) / 2.0;
                    // a polygon with steps of 26° has 3.5 % less than its circle, with half the steps a quarter of that
                    let lost = 0.04 * bore / (refine * refine) as f64;
                    assert!(
                        (got - whole).abs() < lost,
                        "{:?} {refine}: {got} {whole}",
                        plate.map(|p| (p.wrap, p.depth_m))
                    );
                }
            }
        }
    }

    /// Metal: the flat part, the half ring, and straight legs where the two lie apart.
    #[test]
    fn a_sheet_has_its_own_area() {
        let (t, r) = (0.001, 0.008);
        let half_ring = PI * ((r + t) * (r + t) - r * r) / 4.0;
        for (p, want) in [
            (plate(Wrap::None, 0.0135), 0.06 * t),
            // the ring's crown lies within the flat part: what they share counts once, less than its thickness squared
            (plate(Wrap::Upper, 0.0145), 0.06 * t + half_ring),
            (plate(Wrap::Lower, 0.014), (0.06 - r) * t + half_ring + (0.0235 - 0.014 - t) * t),
        ] {
            let mesh = Mesh::new(&section(Some(p), None), 4);
            let got = area(&mesh, |e| e.material.is_plate);
            let shared = if p.wrap == Wrap::Upper { 4.5e-6 } else { 0.02 * want };
            assert!(got <= want * 1.01 && got > want - shared, "{:?}: {got} of {want}", p.wrap);
        }
    }

    #[test]
    fn a_finer_mesh_has_every_node_of_the_coarser_on_its_surface() {
        for plate in sheets() {
            let s = section(plate, None);
            let (coarse, fine) = (Mesh::new(&s, 1), Mesh::new(&s, 2));
            let xs = |m: &Mesh| m.surface.iter().map(|&i| m.nodes[i as usize][0]).collect::<Vec<_>>();
            let (c, f) = (xs(&coarse), xs(&fine));
            assert_eq!(f.len(), 2 * c.len() - 1);
            assert!(c.iter().enumerate().all(|(k, x)| (x - f[2 * k]).abs() < 1e-9));
            assert!(f.windows(2).all(|w| w[1] > w[0]) && f[0] == 0.0 && (f[f.len() - 1] - 0.1).abs() < 1e-12);
            let on_bore = |&i: &u32| {
                let [x, z] = fine.nodes[i as usize];
                (x.hypot(z - 0.0235) - 0.006).abs() < 1e-9
            };
            assert!(fine.bore.iter().all(on_bore));
        }
    }

    #[test]
    fn a_contact_parts_tube_and_sheet_only_where_they_touch() {
        let contact = |wrap, depth| Plate { contact_w_m2k: Some(100.0), ..plate(wrap, depth) };
        for (p, touching) in [(contact(Wrap::Upper, 0.0145), 0.5), (contact(Wrap::Lower, 0.014), 0.5)] {
            let mesh = Mesh::new(&section(Some(p), None), 2);
            let length = |want: f64| -> f64 {
                let of = |j: &Joint| {
                    let [a, b] = j.inner.map(|i| mesh.nodes[i as usize]);
                    (a[0] - b[0]).hypot(a[1] - b[1])
                };
                mesh.joints.iter().filter(|j| j.conductance == want).map(of).sum()
            };
            let share = length(100.0) / (length(100.0) + length(PERFECT));
            assert!((share - touching).abs() < 0.01, "{:?}: {share}", p.wrap);
        }
        assert!(Mesh::new(&section(Some(plate(Wrap::Upper, 0.0145)), None), 1).joints.is_empty());
    }

    #[test]
    fn steps_grow_away_from_what_they_resolve_and_keep_every_break() {
        let foci = [Focus { at: 0.0, step: 0.001 }];
        let at = spread(&[0.0, 0.02, 0.1], &foci, 0.05, 1);
        assert!(at.iter().any(|x| (x - 0.02).abs() < 1e-12) && at[0] == 0.0 && at[at.len() - 1] == 0.1);
        let steps: Vec<f64> = at.windows(2).map(|w| w[1] - w[0]).collect();
        assert!(steps[0] < 0.0025 && steps[steps.len() - 1] > 5.0 * steps[0]);
        let finer = spread(&[0.0, 0.02, 0.1], &foci, 0.05, 3);
        assert_eq!(finer.len(), 3 * (at.len() - 1) + 1);
    }
}

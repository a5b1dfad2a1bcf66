//! What the solver is checked against, as tables in Markdown: `fuoco validate` prints them, `docs/physics.md` holds them.
//!
//! ```
//! use fuoco_core::floor::validation::{iso_11855, thick_slab};
//! use fuoco_core::section::{Films, solve};
//! // the closed solution of ISO 11855-2 for tube in the middle of a slab, and ours
//! let slab = thick_slab(0.2, 0.2, 0.02);
//! let films = Films { up: 10.8, down: 6.0, water: 1500.0 };
//! assert!(iso_11855(&slab, &films) > 0.0 && solve(&slab)?.at(&films).up_w_m2k > 0.0);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::en1264;
use crate::section::file::SectionFile;
use crate::section::film::REFERENCE;
use crate::section::{Conductances, Films, Layer, Plate, Section, SectionTube, Wrap, solve, solve_anew};
use serde::Deserialize;
use std::f64::consts::PI;
use std::fmt::Write;

/// A section solved by an independent finite-element program.
#[derive(Debug, Clone, Deserialize)]
#[allow(missing_docs)]
pub struct Independent {
    pub name: String,
    pub section: SectionFile,
    pub nodes: usize,
    pub k_up_w_m2k: f64,
    pub k_below_w_m2k: f64,
    pub k_down_w_m2k: f64,
    pub crest: f64,
    pub trough: f64,
}

/// The independent solutions and how they were made.
#[derive(Debug, Clone, Deserialize)]
#[allow(missing_docs)]
pub struct Reference {
    pub provenance: String,
    pub sections: Vec<Independent>,
}

/// The committed reference.
pub fn reference() -> Reference {
    serde_json::from_str(include_str!("../../../data/section_fem.json")).expect("the built-in reference is well-formed")
}

fn layer(thickness_m: f64, conductivity_w_mk: f64) -> Layer {
    Layer { thickness_m, conductivity_w_mk, heat_j_m3k: 2e6, rib: None }
}

fn tube(od_m: f64, axis_depth_m: f64) -> SectionTube {
    SectionTube {
        od_m,
        wall_m: 0.002,
        conductivity_w_mk: 0.35,
        axis_depth_m,
        density_kg_m3: None,
        heat_capacity_j_kgk: None,
    }
}

/// The floor of EN 1264-2 type A: tube on the insulation, screed of 1.0 W/mK over it.
pub fn type_a(spacing_m: f64, covering_m2k_w: f64, cover_m: f64, od_m: f64) -> Section {
    let mut layers = vec![layer(cover_m + od_m, 1.0), layer(0.08, 0.035)];
    let mut axis = cover_m + od_m / 2.0;
    if covering_m2k_w > 0.0 {
        layers.insert(0, layer(0.01, 0.01 / covering_m2k_w));
        axis += 0.01;
    }
    Section { spacing_m, layers, tube: tube(od_m, axis), plate: None, imposed_bore: true }
}

/// A tube in the middle of a thick slab.
pub fn thick_slab(spacing_m: f64, thickness_m: f64, od_m: f64) -> Section {
    Section {
        spacing_m,
        layers: vec![layer(thickness_m, 1.8)],
        tube: tube(od_m, thickness_m / 2.0),
        plate: None,
        imposed_bore: true,
    }
}

/// The same by the resistances of ISO 11855-2: heat into the room per kelvin of water over room, below at room
/// temperature, W/m²K.
pub fn iso_11855(section: &Section, films: &Films) -> f64 {
    let (t, d, s) = (section.spacing_m, section.tube.od_m, section.tube.wall_m);
    let slab = section.layers[0];
    let wall = t * (d / (d - 2.0 * s)).ln() / (2.0 * PI * section.tube.conductivity_w_mk);
    let field = t * (t / (PI * d)).ln() / (2.0 * PI * slab.conductivity_w_mk);
    let up = section.tube.axis_depth_m / slab.conductivity_w_mk + 1.0 / films.up;
    let down = (slab.thickness_m - section.tube.axis_depth_m) / slab.conductivity_w_mk + 1.0 / films.down;
    1.0 / (wall + field + up * down / (up + down)) * down / (up + down)
}

/// Turned upside down.
pub fn upside_down(section: &Section) -> Section {
    let height = section.height_m();
    Section {
        layers: section.layers.iter().rev().copied().collect(),
        tube: SectionTube { axis_depth_m: height - section.tube.axis_depth_m, ..section.tube },
        plate: section.plate.map(|p| Plate {
            depth_m: height - p.depth_m - p.thickness_m,
            wrap: match p.wrap {
                Wrap::Upper => Wrap::Lower,
                Wrap::Lower => Wrap::Upper,
                Wrap::None => Wrap::None,
            },
            ..p
        }),
        ..section.clone()
    }
}

const FILMS: Films = Films { up: REFERENCE, down: 1.0 / 0.17, water: 1500.0 };

fn conductances(section: &Section, films: &Films) -> Conductances {
    solve(section).expect("the sections of the validation are sound").at(films)
}

fn percent(value: f64, other: f64) -> f64 {
    (value / other - 1.0) * 100.0
}

/// All tables.
pub fn tables() -> String {
    let mut out = String::new();
    let o = &mut out;
    en_1264(o);
    iso(o);
    independent(o);
    invariants(o);
    out
}

fn en_1264(o: &mut String) {
    let _ = writeln!(o, "### EN 1264-2, type A\n");
    let _ = writeln!(
        o,
        "W/m²K of water over room; solver, and by how many per cent the standard's formula lies above it. Screed 1.0 W/mK, \
         film {REFERENCE}, tube wall 2 mm of 0.35 W/mK, bore as warm as the water, 80 mm of 0.035 W/mK below.\n"
    );
    let _ = writeln!(o, "| cover, tube | spacing | R 0 | R 0.05 | R 0.10 | R 0.15 |\n|---|---|---|---|---|---|");
    for cover in [0.045, 0.065] {
        for od in [0.016, 0.020] {
            for spacing in [0.10, 0.15, 0.20, 0.25, 0.30] {
                let _ = write!(o, "| {:.0} mm, {:.0} × 2 | {:.0} mm |", cover * 1e3, od * 1e3, spacing * 1e3);
                for r in [0.0, 0.05, 0.10, 0.15] {
                    let k = conductances(&type_a(spacing, r, cover, od), &FILMS).up_w_m2k;
                    let standard = en1264::k(&en1264::TypeA {
                        spacing_m: spacing,
                        covering_m2k_w: r,
                        cover_m: cover,
                        screed_w_mk: 1.0,
                        od_m: od,
                        wall_m: 0.002,
                    });
                    let _ = write!(o, " {k:.3} {:+.1} |", percent(standard, k));
                }
                let _ = writeln!(o);
            }
        }
    }
    let one = conductances(&type_a(0.2, 0.0, 0.045, 0.020), &FILMS).up_w_m2k;
    let two = conductances(&type_a(0.2, 0.15, 0.045, 0.020), &FILMS).up_w_m2k;
    let _ = writeln!(
        o,
        "\nAdding a covering of 0.15 m²K/W adds {:.3} m²K/W to 1/k (spacing 200 mm, cover 45 mm, 20 × 2); the standard's \
         formula adds {:.3}.\n",
        1.0 / two - 1.0 / one,
        {
            let k = |r| {
                1.0 / en1264::k(&en1264::TypeA {
                    spacing_m: 0.2,
                    covering_m2k_w: r,
                    cover_m: 0.045,
                    screed_w_mk: 1.0,
                    od_m: 0.020,
                    wall_m: 0.002,
                })
            };
            k(0.15) - k(0.0)
        }
    );
}

fn iso(o: &mut String) {
    let _ = writeln!(o, "### ISO 11855-2, tube in the middle of a thick slab of 1.8 W/mK\n");
    let _ = writeln!(
        o,
        "| slab | tube | spacing | s_u/T | d_a/T | solver | standard | difference |\n|---|---|---|---|---|---|---|---|"
    );
    for (thickness, od, spacing) in [
        (0.20, 0.020, 0.15),
        (0.20, 0.020, 0.20),
        (0.30, 0.020, 0.30),
        (0.20, 0.016, 0.15),
        (0.30, 0.025, 0.20),
        (0.25, 0.017, 0.25),
    ] {
        let s = thick_slab(spacing, thickness, od);
        let (k, standard) = (conductances(&s, &FILMS).up_w_m2k, iso_11855(&s, &FILMS));
        let _ = writeln!(
            o,
            "| {:.0} mm | {:.0} × 2 | {:.0} mm | {:.2} | {:.3} | {k:.4} | {standard:.4} | {:+.2} % |",
            thickness * 1e3,
            od * 1e3,
            spacing * 1e3,
            (thickness / 2.0 - od / 2.0) / spacing,
            od / spacing,
            percent(k, standard)
        );
    }
    let _ = writeln!(o);
}

fn independent(o: &mut String) {
    let reference = reference();
    let _ = writeln!(o, "### An independent finite-element solution\n\n{}\n", reference.provenance);
    let _ = writeln!(
        o,
        "Difference of each conductance and of the warmth of the surface's crest and trough; last two columns: the grid's \
         error as estimated, and against a mesh with a quarter of the steps.\n"
    );
    let _ = writeln!(
        o,
        "| section | k up | independent | up | through | down | crest | trough | estimate | finer mesh |\n|---|---|---|---|---|---|---|---|---|---|"
    );
    for r in reference.sections {
        let section = r.section.section().expect("the built-in reference is sound");
        let films = Films {
            up: r.section.film_up_w_m2k.unwrap_or(0.0),
            down: r.section.film_down_w_m2k.unwrap_or(0.0),
            water: r.section.water_film_w_m2k.unwrap_or(0.0),
        };
        let solution = solve(&section).expect("the built-in reference is sound");
        let (c, profile) = (solution.at(&films), solution.profile(&films));
        let finer = solve_anew(&section, 4).expect("the built-in reference is sound").at(&films);
        let crest = profile.water.iter().copied().fold(0.0, f64::max);
        let trough = profile.water.iter().copied().fold(1.0, f64::min);
        let _ = writeln!(
            o,
            "| {} | {:.4} | {:.4} | {:+.2} % | {:+.2} % | {:+.2} % | {:+.2} % | {:+.2} % | {:.2} % | {:+.3} % |",
            r.name,
            c.up_w_m2k,
            r.k_up_w_m2k,
            percent(c.up_w_m2k, r.k_up_w_m2k),
            percent(c.through_w_m2k, r.k_below_w_m2k),
            percent(c.down_w_m2k, r.k_down_w_m2k),
            percent(crest, r.crest),
            percent(trough, r.trough),
            c.grid_error * 100.0,
            percent(c.up_w_m2k, finer.up_w_m2k)
        );
    }
    let _ = writeln!(o);
}

fn invariants(o: &mut String) {
    let _ = writeln!(o, "### Balance, symmetry, plates that do nothing\n");
    let _ = writeln!(
        o,
        "Balance: heat out of the water against heat up and down, relative. Upside down: the same section turned over, \
         its two films changed over. Plates that do nothing, against none, k up: one of the layer's own conductivity, \
         and one of 0.02 mm of 0.05 W/mK.\n"
    );
    let _ = writeln!(
        o,
        "| section | balance | upside down | plate of the layer | plate of next to nothing |\n|---|---|---|---|---|"
    );
    for r in reference().sections {
        let section = r.section.section().expect("the built-in reference is sound");
        let c = conductances(&section, &FILMS);
        let turned = Films { up: FILMS.down, down: FILMS.up, ..FILMS };
        let t = conductances(&upside_down(&section), &turned);
        let mut plain = section.clone();
        plain.plate = None;
        let bare = conductances(&plain, &FILMS).up_w_m2k;
        let with = |thickness_m: f64, conductivity_w_mk: f64, depth_m: f64| {
            let mut s = plain.clone();
            let width_m = 0.6 * s.spacing_m;
            s.plate = Some(Plate {
                depth_m,
                thickness_m,
                width_m,
                conductivity_w_mk,
                wrap: Wrap::None,
                contact_w_m2k: None,
                density_kg_m3: None,
                heat_capacity_j_kgk: None,
            });
            percent(conductances(&s, &FILMS).up_w_m2k, bare)
        };
        let i = section.tube_layer();
        let top: f64 = section.layers[..i].iter().map(|l| l.thickness_m).sum();
        let own = section.layers[i].conductivity_w_mk;
        let _ = writeln!(
            o,
            "| {} | {:.0e} | {:+.3} % | {:+.3} % | {:+.3} % |",
            r.name,
            c.balance_error,
            percent(t.down_w_m2k, c.up_w_m2k),
            with(0.001, own, top),
            with(0.000_02, 0.05, top),
        );
    }
    let _ = writeln!(o);
}

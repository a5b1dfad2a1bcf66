//! What a thing starts with when it is added to a job: sizes that are common, figures that are usual for its kind. Each of
//! them can be changed, and is shown.
//!
//! ```
//! use fuoco_core::job::Usual;
//! use fuoco_core::units::Units;
//! let door = Usual::in_units(Units::Us).openings[1];
//! assert!((door.width_m - 36.0 * 0.0254).abs() < 1e-12);
//! ```

use super::start::{INCH_M, first_room};
use super::{
    Axis, Bridges, BuildPlate, Cooling, EdgeInsulation, Field, Floor, FloorLattice, HeatSource, HeatUser, JobKind,
    Melt, MeltUse, OpeningKind, Patch, RoomBridge, SourceKind,
};
use crate::plant::usual as plant;
use crate::section::Wrap;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Output of the sources that ship, W.
const USUAL_SOURCE_W: f64 = 10_000.0;

/// Width, height and sill of a new opening.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OpeningSize {
    /// Its kind.
    pub kind: OpeningKind,
    /// Clear width, m
    pub width_m: f64,
    /// Clear height, m
    pub height_m: f64,
    /// From the floor to its lower edge, m
    pub sill_m: f64,
}

/// How well a heat-transfer plate touches its tube.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlateContact {
    /// What it is like.
    pub name: String,
    /// Conductance of the contact over the tube's outside, W/m²K
    pub contact_w_m2k: f64,
}

/// What things start with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Usual {
    /// A floor where no other of the job shows what it is like.
    pub floor: Floor,
    /// Every kind of opening.
    pub openings: Vec<OpeningSize>,
    /// Surcharge for thermal bridges.
    pub surcharge: Bridges,
    /// Thermal bridges by their length.
    pub bridges: Bridges,
    /// The bridge of a single room.
    pub bridge: RoomBridge,
    /// Insulation lying under the slab's edge.
    pub edge_horizontal: EdgeInsulation,
    /// Insulation standing along the foundation.
    pub edge_vertical: EdgeInsulation,
    /// A heat-transfer plate.
    pub plate: BuildPlate,
    /// Contacts of plate and tube, best first.
    pub contacts: Vec<PlateContact>,
    /// A part of a floor under a rug.
    pub patch: Patch,
    /// Tube in a wall; its id and wall are given when it is added.
    pub wall_field: Field,
    /// Tube in a ceiling.
    pub ceiling_field: Field,
    /// Tube tied to mesh or held by studs; from the room's lower left corner.
    pub squares: FloorLattice,
    /// Tube in joist bays; from the room's lower left corner.
    pub joists: FloorLattice,
    /// Share of glycol where there is some, by mass.
    pub glycol: f64,
    /// A heat source of each kind, of 10 kW.
    pub sources: Vec<HeatSource>,
    /// A user of each kind.
    pub users: Vec<HeatUser>,
    /// A house that is cooled too.
    pub cooling: Cooling,
    /// An area outdoors of each use.
    pub melts: Vec<Melt>,
}

/// The usual in both systems of units.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct UsualBoth {
    /// Whole metric sizes.
    pub metric: Usual,
    /// Whole inches.
    pub us: Usual,
}

impl UsualBoth {
    /// Of both.
    pub fn new() -> UsualBoth {
        UsualBoth { metric: Usual::in_units(Units::Metric), us: Usual::in_units(Units::Us) }
    }
}

impl Default for UsualBoth {
    fn default() -> Self {
        UsualBoth::new()
    }
}

impl Usual {
    /// In whole sizes of a job's units.
    ///
    /// Bridges: ψ of ordinary details by inside dimensions, rounded from the default values of ISO 14683. Contacts: from
    /// measured plates, 0.2 and 0.5 mm of air by its conductivity (0.026 W/mK) as in the comparison of plates.
    pub fn in_units(units: Units) -> Usual {
        let us = units == Units::Us;
        let size = |inches: f64, metric: f64| if us { inches * INCH_M } else { metric };
        let opening = |kind, inches: [f64; 3], metric: [f64; 3]| {
            let [width_m, height_m, sill_m] = if us { inches.map(|v| v * INCH_M) } else { metric };
            OpeningSize { kind, width_m, height_m, sill_m }
        };
        let edge_m2k_w = 2.0;
        let edge_thick = size(3.0, 0.08);
        let tube = if us { "pex-3/8" } else { "pex-12x1.3" };
        let field = |build_up: &str, height_m| Field {
            id: String::new(),
            edge: None,
            width_m: size(80.0, 2.0),
            height_m,
            build_up_id: build_up.into(),
            tube_id: tube.into(),
            spacing_m: size(6.0, 0.15),
        };
        let contact = |name: &str, contact_w_m2k| PlateContact { name: name.into(), contact_w_m2k };
        Usual {
            floor: first_room(JobKind::HouseOnSlab, us).floor,
            openings: vec![
                opening(OpeningKind::Window, [48.0, 48.0, 36.0], [1.2, 1.2, 0.9]),
                opening(OpeningKind::OutsideDoor, [36.0, 80.0, 0.0], [1.0, 2.1, 0.0]),
                opening(OpeningKind::Doorway, [32.0, 80.0, 0.0], [0.9, 2.05, 0.0]),
                opening(OpeningKind::Sleeve, [20.0, 4.0, 0.0], [0.5, 0.1, 0.0]),
                opening(OpeningKind::RoofWindow, [30.0, 46.0, 0.0], [0.78, 1.18, 0.0]),
            ],
            surcharge: Bridges::Surcharge { delta_u: 0.05 },
            bridges: Bridges::Linear {
                reveal_psi: 0.1,
                corner_psi: -0.05,
                roof_edge_psi: 0.08,
                floor_edge_psi: 0.2,
                storey_psi: 0.1,
            },
            bridge: RoomBridge { name: "Balcony slab".into(), psi_w_mk: 0.7, length_m: size(80.0, 2.0) },
            edge_horizontal: EdgeInsulation::Horizontal {
                width_m: size(48.0, 1.0),
                resistance_m2k_w: edge_m2k_w,
                thickness_m: edge_thick,
            },
            edge_vertical: EdgeInsulation::Vertical {
                depth_m: size(24.0, 0.8),
                resistance_m2k_w: edge_m2k_w,
                thickness_m: edge_thick,
            },
            plate: BuildPlate {
                thickness_m: 0.0005,
                width_m: size(6.0, 0.15),
                conductivity_w_mk: 200.0,
                wrap: Wrap::None,
                contact_w_m2k: Some(500.0),
            },
            contacts: vec![
                contact("bead of sealant", 1000.0),
                contact("pressed in", 500.0),
                contact("snapped in", 250.0),
                contact("loose, a thin gap of air", 130.0),
                contact("loose, a wide gap of air", 52.0),
            ],
            patch: Patch { covering_id: None, rug_m2k_w: Some(0.1), area_m2: 2.0 },
            wall_field: field("wall-board", size(40.0, 1.0)),
            ceiling_field: field("ceiling-board", size(80.0, 2.0)),
            squares: FloorLattice::Squares { side_m: size(6.0, 0.15), cross: [size(6.0, 0.15); 2] },
            joists: FloorLattice::Joists {
                along: Axis::Y,
                centres_m: size(16.0, 0.4),
                one_m: 0.0,
                width_m: size(1.5, 0.045),
            },
            glycol: 0.3,
            sources: SourceKind::ALL.map(|kind| plant::source(kind, USUAL_SOURCE_W)).to_vec(),
            users: plant::users(),
            cooling: Cooling::default(),
            melts: MeltUse::ALL.map(Melt::of).to_vec(),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::job::{CheckedJob, Job};
    use crate::samples::{box_room, job_of};

    /// Everything usual, put into one job.
    fn filled(usual: &Usual, bridges: Bridges, edge: EdgeInsulation, lattice: FloorLattice) -> Job {
        let mut room = box_room("a", 0.0, 0.0, 6.0, 5.0);
        room.floor = Some(Floor { lattice: Some(lattice), patches: vec![usual.patch.clone()], ..usual.floor.clone() });
        room.bridges.push(usual.bridge.clone());
        let named = |field: &Field, id: &str, edge| Field { id: id.into(), edge, ..field.clone() };
        room.fields = vec![named(&usual.wall_field, "w", Some(0)), named(&usual.ceiling_field, "c", None)];
        let mut job = job_of(vec![room]);
        job.envelope.bridges = bridges;
        job.envelope.ground.edge = edge;
        job
    }

    #[test]
    fn all_of_it_is_taken_in_both_systems() {
        for units in [Units::Metric, Units::Us] {
            let usual = Usual::in_units(units);
            for (bridges, edge, lattice) in [
                (usual.bridges.clone(), usual.edge_horizontal, usual.squares),
                (usual.surcharge.clone(), usual.edge_vertical, usual.joists),
            ] {
                let job = filled(&usual, bridges, edge, lattice);
                CheckedJob::new(job).unwrap_or_else(|e| panic!("{units:?}: {e}"));
            }
        }
    }

    #[test]
    fn every_kind_of_opening_has_its_size_in_whole_units() {
        for kind in [
            OpeningKind::Window,
            OpeningKind::OutsideDoor,
            OpeningKind::Doorway,
            OpeningKind::Sleeve,
            OpeningKind::RoofWindow,
        ] {
            for (units, step) in [(Units::Metric, 0.01), (Units::Us, INCH_M)] {
                let all = Usual::in_units(units).openings;
                let o = all.iter().find(|o| o.kind == kind).expect("a size");
                for v in [o.width_m, o.height_m, o.sill_m] {
                    let steps = v / step;
                    assert!((steps - steps.round()).abs() < 1e-9, "{kind:?}: {v}");
                }
            }
        }
    }

    #[test]
    fn contacts_are_told_best_first() {
        let contacts = Usual::in_units(Units::Metric).contacts;
        assert!(contacts.is_sorted_by(|a, b| a.contact_w_m2k > b.contact_w_m2k));
    }
}

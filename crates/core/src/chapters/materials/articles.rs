//! Articles: what a take-off counts and a price list names, by a code that says what it is.
//!
//! ```
//! use fuoco_core::materials::articles::{Article, Unit};
//! use fuoco_core::samples::{box_room, job_of};
//! let job = job_of(vec![box_room("Hall", 0.0, 0.0, 5.0, 4.0)]);
//! let coil = Article::of_job("coil/pex-16x2/240", &job).unwrap();
//! assert_eq!((coil.unit, coil.name.as_str()), (Unit::Piece, "Coil of 240 m, 16 × 2 mm"));
//! assert!(Article::of_job("coil/gold/240", &job).is_none());
//! ```

use super::part::Group;
use crate::job::Job;
use crate::library;
use crate::units::{Quantity, Units};
use serde::{Deserialize, Serialize};

/// What an article is counted in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Unit {
    Piece,
    Metre,
    SquareMetre,
    Litre,
}

impl Unit {
    /// What it measures.
    pub fn quantity(self) -> Quantity {
        match self {
            Unit::Piece => Quantity::Count,
            Unit::Metre => Quantity::Tube,
            Unit::SquareMetre => Quantity::Area,
            Unit::Litre => Quantity::Content,
        }
    }

    /// A unit of a price list: what it counts, and how many of it one SI unit is. `pc`, `m`, `m2`, `L`, and `ft`, `ft2`, `gal`.
    pub fn of_word(word: &str) -> Option<(Unit, f64)> {
        let per = |unit: Unit| (unit, Units::Us.convert(unit.quantity(), 1.0));
        Some(match word.trim().to_lowercase().as_str() {
            "pc" | "pcs" | "piece" | "ea" | "each" => (Unit::Piece, 1.0),
            "m" => (Unit::Metre, 1.0),
            "m2" | "m²" => (Unit::SquareMetre, 1.0),
            "l" => (Unit::Litre, 1.0),
            "ft" => per(Unit::Metre),
            "ft2" | "ft²" | "sq ft" => per(Unit::SquareMetre),
            "gal" => per(Unit::Litre),
            _ => return None,
        })
    }

    /// As a price list writes it.
    pub fn word(self) -> &'static str {
        match self {
            Unit::Piece => "pc",
            Unit::Metre => "m",
            Unit::SquareMetre => "m2",
            Unit::Litre => "L",
        }
    }
}

/// Something that can be bought.
#[derive(Debug, Clone, PartialEq)]
pub struct Article {
    /// Its code: a word, or words parted by strokes.
    pub code: String,
    /// Its name.
    pub name: String,
    /// What it is counted in.
    pub unit: Unit,
    /// Where it stands in the lists.
    pub group: Group,
}

/// Code, name, unit and group of what has no figures in its code.
const PLAIN: &[(&str, &str, Unit, Group)] = &[
    ("staple", "Staple for tube", Unit::Piece, Group::Fixing),
    ("tie", "Tie for tube", Unit::Piece, Group::Fixing),
    ("clip", "Clip under the subfloor", Unit::Piece, Group::Fixing),
    ("rail", "Clip rail", Unit::Metre, Group::Fixing),
    ("plate-extruded", "Heat-transfer plate, extruded", Unit::Piece, Group::Fixing),
    ("plate-stamped", "Heat-transfer plate, stamped", Unit::Piece, Group::Fixing),
    ("plate-screw", "Screw for a plate", Unit::Piece, Group::Fixing),
    ("plate-staple", "Staple for a plate", Unit::Piece, Group::Fixing),
    ("grommet", "Grommet for a hole in a joist", Unit::Piece, Group::Fixing),
    ("saw-sleeve", "Sleeve at a saw cut", Unit::Piece, Group::Fixing),
    ("wall-sleeve", "Sleeve through a wall", Unit::Piece, Group::Fixing),
    ("bend-support", "Bend support", Unit::Piece, Group::Fixing),
    ("panel-straight", "Grooved panel, straight", Unit::Piece, Group::Floor),
    ("panel-return", "Grooved panel, return", Unit::Piece, Group::Floor),
    ("panel-plain", "Plain board beside grooved panels", Unit::SquareMetre, Group::Floor),
    ("panel-screw", "Screw for a panel", Unit::Piece, Group::Floor),
    ("sealant", "Sealant bead in the groove", Unit::Metre, Group::Floor),
    ("stud-sheet", "Studded sheet", Unit::SquareMetre, Group::Floor),
    ("mesh", "Mesh for ties", Unit::SquareMetre, Group::Floor),
    ("barrier", "Vapour barrier or slip sheet", Unit::SquareMetre, Group::Floor),
    ("edge-strip", "Edge strip", Unit::Metre, Group::Floor),
    ("leader-sleeve", "Insulating sleeve on leaders", Unit::Metre, Group::Manifold),
    ("cabinet", "Manifold cabinet", Unit::Piece, Group::Manifold),
    ("ball-valve", "Ball valve on a manifold", Unit::Piece, Group::Manifold),
    ("actuator", "Actuator", Unit::Piece, Group::Manifold),
    ("label", "Label of a tube end", Unit::Piece, Group::Manifold),
    ("separator", "Hydraulic separator", Unit::Piece, Group::Plant),
    ("exchanger", "Heat exchanger", Unit::Piece, Group::Plant),
    ("relief", "Relief valve", Unit::Piece, Group::Plant),
    ("air-separator", "Air separator", Unit::Piece, Group::Plant),
    ("dirt-separator", "Dirt separator", Unit::Piece, Group::Plant),
    ("fill-set", "Filling set", Unit::Piece, Group::Plant),
    ("closely-spaced-tees", "Pair of closely spaced tees", Unit::Piece, Group::Plant),
    ("mixing/thermostatic", "Thermostatic mixing valve", Unit::Piece, Group::Plant),
    ("mixing/three_way", "Three-way mixing valve with motor", Unit::Piece, Group::Plant),
    ("mixing/injection", "Injection pump with its valve", Unit::Piece, Group::Plant),
    ("glycol/propylene_glycol", "Propylene glycol", Unit::Litre, Group::Fluid),
    ("glycol/ethylene_glycol", "Ethylene glycol", Unit::Litre, Group::Fluid),
    ("source/condensing_gas", "Condensing gas boiler", Unit::Piece, Group::Plant),
    ("source/condensing_oil", "Condensing oil boiler", Unit::Piece, Group::Plant),
    ("source/boiler", "Boiler", Unit::Piece, Group::Plant),
    ("source/electric", "Electric boiler", Unit::Piece, Group::Plant),
    ("source/tank_heater", "Tank water heater", Unit::Piece, Group::Plant),
    ("source/combined", "Combined boiler", Unit::Piece, Group::Plant),
    ("source/solid_fuel", "Solid-fuel boiler", Unit::Piece, Group::Plant),
    ("source/heat_pump_air", "Air-source heat pump", Unit::Piece, Group::Plant),
    ("source/heat_pump_ground", "Ground-source heat pump", Unit::Piece, Group::Plant),
];

impl Article {
    /// The article of a code in a job: its name in the job's units, the job's own products and materials too; none where the code
    /// means nothing.
    pub fn of_job(code: &str, job: &Job) -> Option<Article> {
        let units = job.site.units;
        if let Some((code, name, unit, group)) = PLAIN.iter().find(|p| p.0 == code) {
            return Some(Article { code: (*code).into(), name: (*name).into(), unit: *unit, group: *group });
        }
        let figure = |text: &str, low: f64, high: f64| text.parse().ok().filter(|v: &f64| (low..=high).contains(v));
        let (kind, rest) = code.split_once('/')?;
        let (name, unit, group) = match kind {
            "coil" => {
                // North American sizes have a stroke of their own
                let (tube_id, length) = rest.rsplit_once('/')?;
                let tube = job.tube(tube_id)?;
                let length = units.convert(Quantity::Tube, figure(length, 1.0, 5000.0)?);
                let length = (length * 10.0).round() / 10.0;
                let symbol = units.symbol(Quantity::Tube);
                (format!("Coil of {length} {symbol}, {}", tube.name), Unit::Piece, Group::Tube)
            }
            "tube" => (format!("Tube by length, {}", job.tube(rest)?.name), Unit::Metre, Group::Tube),
            "adapter" => (format!("Adapter for {}", job.tube(rest)?.name), Unit::Piece, Group::Manifold),
            "manifold" => {
                let ports: u32 = rest.parse().ok().filter(|p| (1..=24).contains(p))?;
                (format!("Manifold with {ports} port pairs"), Unit::Piece, Group::Manifold)
            }
            "insulation" => {
                let (material_id, mm) = rest.rsplit_once('/')?;
                let thickness = units.show(Quantity::Size, figure(mm, 1.0, 2000.0)? / 1000.0);
                (format!("{}, {thickness}", job.material(material_id)?.name), Unit::SquareMetre, Group::Floor)
            }
            "pump" => (job.pump(rest)?.name.clone(), Unit::Piece, Group::Plant),
            "pipe" => {
                let bore = units.show(Quantity::Size, figure(rest, 6.0, 200.0)? / 1000.0);
                (format!("Pipe of {bore} bore"), Unit::Metre, Group::Plant)
            }
            "vessel" => {
                let content = units.show(Quantity::Content, figure(rest, 1.0, 10_000.0)?);
                (format!("Expansion vessel of {content}"), Unit::Piece, Group::Plant)
            }
            "buffer" => {
                let content = units.show(Quantity::Content, figure(rest, 1.0, 100_000.0)?);
                (format!("Buffer tank of {content}"), Unit::Piece, Group::Plant)
            }
            _ => return None,
        };
        Some(Article { code: code.into(), name, unit, group })
    }
}

/// A figure as a code has it: no more digits than it needs.
pub(crate) fn plain_figure(v: f64) -> String {
    format!("{}", (v * 1000.0).round() / 1000.0)
}

/// The code of a coil.
pub fn coil_code(tube_id: &str, length_m: f64) -> String {
    format!("coil/{tube_id}/{}", plain_figure(length_m))
}

/// Lengths in which a tube usually comes, m: metric tubes in metres, North American ones in feet, the job's own in the job's units.
pub fn usual_coils_m(job: &Job, tube_id: &str) -> Vec<f64> {
    const METRES: [f64; 8] = [60.0, 90.0, 120.0, 200.0, 240.0, 300.0, 500.0, 600.0];
    const FEET: [f64; 4] = [250.0, 300.0, 500.0, 1000.0];
    let american = match library::tube(tube_id) {
        Some(tube) => tube.name.contains(" in "),
        None => job.site.units == Units::Us,
    };
    if american { FEET.map(|f| f * 0.3048).to_vec() } else { METRES.to_vec() }
}

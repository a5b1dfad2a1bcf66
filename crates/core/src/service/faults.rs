//! What can be wrong with a floor that was once right, where, how much, and what one looks at next.

use crate::study::Study;
use crate::water::part::Mixing;
use crate::water::pipework::feed_of;
use serde::{Deserialize, Serialize};

/// A kind of fault.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Fault {
    /// All is as designed.
    Nothing,
    /// Nothing is broken: the mass of the floor is still on its way up.
    WarmingUp,
    /// A loop lets too little water through: dented, kinked, dirt, its valve throttled.
    LoopBlocked,
    /// Air stands in a loop.
    AirLock,
    /// A loop's valve is shut by hand.
    ValveShut,
    /// A loop's actuator does not open.
    ActuatorDead,
    /// Two neighbouring loops hang at each other's ports.
    LoopsSwapped,
    /// Supply and return of a manifold are exchanged.
    ManifoldReversed,
    /// A pump is set too low or is worn.
    PumpLow,
    /// A pump stands.
    PumpOff,
    /// A mixing valve sticks, or is set wrong.
    MixingStuck,
    /// The source does not make the heat that is asked of it.
    SourceWeak,
    /// The reset line is set wrong.
    ResetWrong,
    /// A floor has a covering or rugs that let less heat through than the design's.
    CoveringInsulating,
    /// The insulation below a floor is missing or wet.
    InsulationWet,
    /// A floor's tube lies wider than drawn.
    SpacingWide,
    /// A room's thermostat reads wrong.
    SensorOff,
    /// More glycol than the design has.
    GlycolStrong,
    /// The expansion vessel has lost its air.
    VesselFlat,
}

/// Where it is, by number in the study.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Place {
    House,
    Circuit(usize),
    Manifold(usize),
    Loop(usize),
    /// Two loops on neighbouring ports.
    Pair(usize, usize),
    Room(usize),
}

/// A fault at a place, with how bad it may be.
#[derive(Debug, Clone)]
pub(super) struct Suspect {
    pub fault: Fault,
    pub place: Place,
    /// How bad, each as likely as the others; what the figure means is the house's to know.
    pub degrees: &'static [f64],
    /// How likely before anything is read, against the other suspects.
    pub prior: f64,
}

impl Fault {
    /// All of them.
    pub const ALL: [Fault; 19] = [
        Fault::Nothing,
        Fault::WarmingUp,
        Fault::LoopBlocked,
        Fault::AirLock,
        Fault::ValveShut,
        Fault::ActuatorDead,
        Fault::LoopsSwapped,
        Fault::ManifoldReversed,
        Fault::PumpLow,
        Fault::PumpOff,
        Fault::MixingStuck,
        Fault::SourceWeak,
        Fault::ResetWrong,
        Fault::CoveringInsulating,
        Fault::InsulationWet,
        Fault::SpacingWide,
        Fault::SensorOff,
        Fault::GlycolStrong,
        Fault::VesselFlat,
    ];

    /// How bad it may be: share of the bore that is open, kelvins, hours, shares, as the fault has it.
    pub(super) fn degrees(self) -> &'static [f64] {
        match self {
            Fault::WarmingUp => &[3.0, 8.0, 16.0, 30.0],
            Fault::LoopBlocked => &[0.12, 0.08, 0.055, 0.04],
            Fault::AirLock => &[0.012, 0.004],
            Fault::PumpLow => &[0.85, 0.7, 0.55, 0.4],
            Fault::MixingStuck => &[-14.0, -9.0, -6.0, -3.5, 4.0, 8.0],
            Fault::SourceWeak => &[3.0, 6.0, 10.0, 15.0],
            Fault::ResetWrong => &[-9.0, -6.0, -3.5, 4.0, 7.0],
            Fault::CoveringInsulating => &[0.06, 0.11, 0.18],
            Fault::InsulationWet => &[0.25, 0.45, 0.8],
            Fault::SpacingWide => &[1.25, 1.5, 2.0],
            Fault::SensorOff => &[-3.0, -1.8, 1.8, 3.0],
            Fault::GlycolStrong => &[0.15, 0.25, 0.35],
            _ => &[1.0],
        }
    }

    /// How common it is among visits, against the others: what technicians find, not a statistic.
    fn common(self) -> f64 {
        match self {
            Fault::Nothing => 0.09,
            Fault::WarmingUp => 0.06,
            Fault::AirLock | Fault::ActuatorDead | Fault::MixingStuck => 0.08,
            Fault::LoopBlocked | Fault::ValveShut | Fault::PumpLow | Fault::ResetWrong | Fault::CoveringInsulating => {
                0.06
            }
            Fault::SensorOff | Fault::SourceWeak | Fault::PumpOff => 0.05,
            Fault::LoopsSwapped | Fault::GlycolStrong | Fault::VesselFlat => 0.03,
            Fault::ManifoldReversed | Fault::InsulationWet | Fault::SpacingWide => 0.02,
        }
    }

    /// What one calls it.
    pub fn name(self) -> &'static str {
        match self {
            Fault::Nothing => "Nothing is wrong",
            Fault::WarmingUp => "Still warming up",
            Fault::LoopBlocked => "Loop lets too little through",
            Fault::AirLock => "Air in a loop",
            Fault::ValveShut => "Valve shut by hand",
            Fault::ActuatorDead => "Actuator does not open",
            Fault::LoopsSwapped => "Two loops at each other's ports",
            Fault::ManifoldReversed => "Supply and return exchanged",
            Fault::PumpLow => "Pump too weak or set too low",
            Fault::PumpOff => "Pump stands",
            Fault::MixingStuck => "Mixing valve sticks or is set wrong",
            Fault::SourceWeak => "Source does not make its heat",
            Fault::ResetWrong => "Reset line set wrong",
            Fault::CoveringInsulating => "Covering or rugs hold the heat back",
            Fault::InsulationWet => "Insulation below missing or wet",
            Fault::SpacingWide => "Tube lies wider than drawn",
            Fault::SensorOff => "Thermostat reads wrong",
            Fault::GlycolStrong => "Too much glycol",
            Fault::VesselFlat => "Expansion vessel flat",
        }
    }

    /// What to look at next, the easiest first.
    pub fn check(self) -> &'static str {
        match self {
            Fault::Nothing => "Show the customer what is normal: a floor is rarely warm to the hand, and slow.",
            Fault::WarmingUp => "Come back after two days of steady heat before anything is changed.",
            Fault::LoopBlocked => {
                "Open its flow meter fully, then flush the loop alone; look along it for a repair, screws or a kink."
            }
            Fault::AirLock => "Purge the loop alone towards the drain until no bubbles come, the other ports shut.",
            Fault::ValveShut => "Turn its hand wheel or flow meter open and count the turns.",
            Fault::ActuatorDead => {
                "Take the actuator off: if water comes, test its voltage at the terminals, then the actuator itself. \
                 Wiring at mains voltage is an electrician's work."
            }
            Fault::LoopsSwapped => {
                "Warm one loop alone and feel which floor gets warm; swap labels, settings and thermostats."
            }
            Fault::ManifoldReversed => {
                "Feel both bars: the meters belong in the direction of their arrow. Exchange the mains."
            }
            Fault::PumpLow => "Read the pump's setting and power; clean the strainer; compare its head with the curve.",
            Fault::PumpOff => {
                "Is there voltage, does the relay call, is the shaft free? Wiring is an electrician's work."
            }
            Fault::MixingStuck => "Turn the valve by hand and watch the supply; then its actuator and its sensor.",
            Fault::SourceWeak => {
                "Read error store and fuel or heat pump; is the flow through it enough, its setting high enough?"
            }
            Fault::ResetWrong => {
                "Read the line at the controller: two points, room offset, setback, sensor outdoors in the sun?"
            }
            Fault::CoveringInsulating => {
                "Look at what lies on the floor: carpet, rugs, mattresses, furniture without feet."
            }
            Fault::InsulationWet => {
                "Look from below, or measure the ceiling below; look for a leak before anything else."
            }
            Fault::SpacingWide => "Take a thermal picture while the floor warms, and compare the lines with the plan.",
            Fault::SensorOff => {
                "Hang a second thermometer beside the thermostat, away from sun and draught, for an hour."
            }
            Fault::GlycolStrong => "Draw a sample and read it with a refractometer made for that glycol.",
            Fault::VesselFlat => {
                "Read the vessel's air pressure with its water side emptied; if water comes out of the air valve, replace it."
            }
        }
    }

    /// What it costs to be wrong about it.
    pub fn if_wrong(self) -> &'static str {
        match self {
            Fault::Nothing | Fault::WarmingUp => "A second visit.",
            Fault::SpacingWide | Fault::InsulationWet => "A floor opened for nothing: have a thermal picture first.",
            Fault::LoopBlocked => "Never cut a floor before the loop has been flushed alone.",
            Fault::SourceWeak | Fault::ManifoldReversed => "Half a day, and the system drained.",
            Fault::GlycolStrong => "Water drained, and the frost protection with it.",
            Fault::VesselFlat => "A vessel; but a safety valve that drips ruins the source if nobody looks.",
            _ => "Little: it is seen within the hour.",
        }
    }
}

/// All that could be wrong with this job.
pub(super) fn suspects(study: &Study) -> Vec<Suspect> {
    let runs = |l: &crate::loops::report::LoopDesign| l.flow_l_min > 0.0;
    let loops: Vec<usize> = (0..study.loops.len()).filter(|i| runs(&study.loops[*i])).collect();
    let circuits: Vec<usize> = (0..study.circuits.len()).filter(|c| study.circuits[*c].flow_l_min > 0.0).collect();
    let used = |m: &usize| loops.iter().any(|i| study.loops[*i].manifold_id == study.manifolds[*m].id);
    let manifolds: Vec<usize> = (0..study.manifolds.len()).filter(used).collect();
    let own = |r: &usize| loops.iter().any(|i| study.loops[*i].room_ids.contains(&study.rooms[*r].id));
    let rooms: Vec<usize> = (0..study.rooms.len()).filter(own).collect();
    let mixed = |c: &usize| feed_of(&study.job, *c).mixing != Mixing::None;
    let pairs = || {
        let beside = |a: usize| loops.iter().map(move |b| (a, *b));
        loops.iter().flat_map(move |a| beside(*a)).filter(|(a, b)| {
            let (a, b) = (&study.loops[*a], &study.loops[*b]);
            a.manifold_id == b.manifold_id && a.port + 1 == b.port
        })
    };
    let at = |fault: Fault| -> Vec<Place> {
        match fault {
            Fault::LoopBlocked | Fault::AirLock | Fault::ValveShut | Fault::ActuatorDead => {
                loops.iter().map(|l| Place::Loop(*l)).collect()
            }
            Fault::LoopsSwapped => pairs().map(|(a, b)| Place::Pair(a, b)).collect(),
            Fault::ManifoldReversed => manifolds.iter().map(|m| Place::Manifold(*m)).collect(),
            Fault::PumpLow | Fault::PumpOff => circuits.iter().map(|c| Place::Circuit(*c)).collect(),
            Fault::MixingStuck => circuits.iter().filter(|c| mixed(c)).map(|c| Place::Circuit(*c)).collect(),
            Fault::CoveringInsulating | Fault::InsulationWet | Fault::SpacingWide | Fault::SensorOff => {
                rooms.iter().map(|r| Place::Room(*r)).collect()
            }
            _ => vec![Place::House],
        }
    };
    let of = |fault: Fault| {
        let places = at(fault);
        let prior = fault.common() / places.len().max(1) as f64;
        places.into_iter().map(move |place| Suspect { fault, place, degrees: fault.degrees(), prior })
    };
    Fault::ALL.into_iter().flat_map(of).collect()
}

/// What people call the place.
pub(super) fn place_name(study: &Study, place: Place) -> String {
    match place {
        Place::House => String::new(),
        Place::Circuit(c) => study.circuits[c].name.clone(),
        Place::Manifold(m) => study.manifolds[m].letter.clone(),
        Place::Loop(l) => study.loops[l].tag.clone(),
        Place::Pair(a, b) => format!("{} and {}", study.loops[a].tag, study.loops[b].tag),
        Place::Room(r) => study.rooms[r].name.clone(),
    }
}

//! The ten lessons: what is wrong, what is wanted, hints from the loosest to the plainest, what the physics did.

use serde::{Deserialize, Serialize};

/// A lesson, from the easiest.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Lesson {
    /// A pump that is set too low.
    PumpSetting,
    /// A reset line that is too low.
    ResetLow,
    /// Six loops to be set by screw and meter.
    Balance,
    /// Supply and return of the manifold exchanged.
    Reversed,
    /// Air in one loop.
    AirLock,
    /// A mixing valve that sticks.
    MixingStuck,
    /// A valve that hisses when only one zone calls.
    NoisyZone,
    /// A source with too little flow.
    StarvedSource,
    /// Cold glycol that hardly flows.
    ColdGlycol,
    /// A gauge that falls: a leak, or only the night?
    LeakOrTemperature,
}

/// What the people of a lesson read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LessonText {
    /// Which.
    pub lesson: Lesson,
    /// What it is called.
    pub name: String,
    /// How hard, 1 to 3.
    pub grade: u8,
    /// What one is told on arriving.
    pub story: String,
    /// When it is done.
    pub aim: String,
    /// Three hints, each plainer than the one before.
    pub hints: Vec<String>,
    /// What the hands may move.
    pub tools: Vec<Tool>,
    /// It is played on the job at hand too.
    pub on_own_job: bool,
}

/// What hands move.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Tool {
    Valves,
    Actuators,
    PumpHead,
    PumpControl,
    Line,
    Mixer,
    Tails,
    Bypass,
    Vent,
    Verdict,
}

impl Lesson {
    /// All of them, in the order in which they are best taken.
    pub const ALL: [Lesson; 10] = [
        Lesson::PumpSetting,
        Lesson::ResetLow,
        Lesson::Balance,
        Lesson::Reversed,
        Lesson::AirLock,
        Lesson::MixingStuck,
        Lesson::NoisyZone,
        Lesson::StarvedSource,
        Lesson::ColdGlycol,
        Lesson::LeakOrTemperature,
    ];

    /// Whether it is played on any job with a manifold of loops; the others need the practice house's own plant or fluid.
    pub fn on_own_job(self) -> bool {
        !matches!(self, Lesson::StarvedSource | Lesson::ColdGlycol | Lesson::LeakOrTemperature)
    }

    pub(super) fn tools(self) -> &'static [Tool] {
        use Tool as T;
        match self {
            Lesson::LeakOrTemperature => &[T::Verdict],
            // the right tool stands among others that would be taken for it
            Lesson::Balance | Lesson::PumpSetting => &[T::Valves, T::Actuators, T::PumpHead, T::Line],
            Lesson::Reversed => &[T::Valves, T::Actuators, T::PumpHead, T::Line, T::Tails],
            Lesson::AirLock => &[T::Valves, T::Actuators, T::PumpHead, T::Vent],
            Lesson::ResetLow | Lesson::MixingStuck => &[T::Valves, T::Actuators, T::PumpHead, T::Line, T::Mixer],
            Lesson::NoisyZone => &[T::Valves, T::Actuators, T::PumpHead, T::PumpControl],
            Lesson::StarvedSource | Lesson::ColdGlycol => &[T::Valves, T::Actuators, T::PumpHead, T::Bypass],
        }
    }

    fn grade(self) -> u8 {
        match self {
            Lesson::PumpSetting | Lesson::ResetLow | Lesson::Balance => 1,
            Lesson::Reversed | Lesson::AirLock | Lesson::MixingStuck => 2,
            _ => 3,
        }
    }

    fn words(self) -> [&'static str; 6] {
        match self {
            Lesson::PumpSetting => [
                "Every room is a little cool",
                "Nobody freezes, nobody is warm. The owner has turned every thermostat up, and it made no difference.",
                "Every meter within a tenth of its figure.",
                "Look at all meters together: are they off alike, or each in its own way?",
                "All are low by about the same share. That is nothing at one loop: what do all loops have in common?",
                "Raise the pump's head until the meters show their figures.",
            ],
            Lesson::ResetLow => [
                "Warm in autumn, cool in frost",
                "In mild weather all was well. Since the frost came, every room has lost a degree or two.",
                "Every room within half a kelvin of its thermostat, with water no warmer than needed.",
                "Are the flows right? Then the water itself is to be looked at.",
                "The mixed water has what the controller asks for. Does the controller ask for enough at this outdoor temperature?",
                "Raise the reset line by a few kelvins, and give the floors time: speed the clock up.",
            ],
            Lesson::Balance => [
                "Six loops, all wide open",
                "The manifold has been filled and purged. All screws are open, and the shortest loop drinks what the longest lacks.",
                "Every meter within a tenth of its figure.",
                "Begin with the loop that has most over its figure.",
                "Closing one loop gives its water to all others: set it a little under its figure now, and it ends right.",
                "Leave the longest loop wide open, close the shortest most. A second pass over all six ends it.",
            ],
            Lesson::Reversed => [
                "Meters that show nothing",
                "A new manifold. The pump runs, the source is hot, and no meter shows any water at all.",
                "Water goes the way that is drawn, and every meter shows it.",
                "Does no water flow, or do only the meters show none? Feel the two bars.",
                "The return bar is warmer than the supply bar: water comes from behind, and a meter shows only one way.",
                "Exchange supply and return at the manifold.",
            ],
            Lesson::AirLock => [
                "One cold room after the purge",
                "Filled last week. One room is cold, its actuator is open, and there is a gurgle now and then.",
                "No air, and every meter within a tenth of its figure.",
                "Which meter shows next to nothing while its valve is open?",
                "A bubble stands in a high spot. Water takes it along only where the pump lifts it higher than the bubble stands.",
                "Raise the pump for a moment, open the vent of that loop, then put the pump back.",
            ],
            Lesson::MixingStuck => [
                "The controller says it is right",
                "The controller's display shows a good target. The rooms are cool all the same, and raising the line did nothing.",
                "The mixed water within a kelvin of what is asked for.",
                "Compare three temperatures: source, asked for, and mixed.",
                "The source is hot enough and the mixed water is far below what is asked: what stands between the two?",
                "Turn the mixing valve by its knob from end to end until it is free.",
            ],
            Lesson::NoisyZone => [
                "It hisses at night",
                "When the last zone is alone, its valve hisses so that nobody sleeps. With all zones open it is quiet.",
                "Quiet with one zone open, and that zone has its water.",
                "What does the pump do when five of six loops shut?",
                "At one speed its head rises as the flow falls, and one valve has to take all of it.",
                "Let the pump keep its pressure instead of its speed, at the head that the loops need.",
            ],
            Lesson::StarvedSource => [
                "The source trips when one room calls",
                "As long as several rooms call, all is well. When one is alone, the source shuts down and its light blinks.",
                "The source runs with one zone open.",
                "How much water does the source need, and how much does one loop take?",
                "What one loop takes is less than the source's least flow. Something else has to let the rest through.",
                "Open the bypass until the source has its flow, and no further.",
            ],
            Lesson::ColdGlycol => [
                "A cold start with glycol",
                "The plant stood a winter week without power. The mix is well below freezing, and the source trips at once.",
                "The source runs, the mix is warm, and the pump is back at its setting.",
                "Cold glycol is thick: look at the flow, not at the temperatures.",
                "The flow is under the source's least. It needs more head now, and not for long.",
                "Raise the pump until the source stays on; when the mix is warm, put the pump back.",
            ],
            Lesson::LeakOrTemperature => [
                "The gauge has fallen overnight",
                "Tubes under air since the evening, poured tomorrow. By the morning the gauge shows less. The builder wants an answer.",
                "The right verdict, and readings that prove it.",
                "Air loses pressure when it cools, with nothing lost. What did the slab do?",
                "Correct the gauge by the absolute temperatures, and ask how small a leak it could show in that time.",
                "Wait until the temperature has come back near where it was, and the corrected drop is larger or smaller than the doubt.",
            ],
        }
    }

    /// What people read.
    pub fn text(self) -> LessonText {
        let [name, story, aim, a, b, c] = self.words();
        LessonText {
            lesson: self,
            name: name.into(),
            grade: self.grade(),
            story: story.into(),
            aim: aim.into(),
            hints: [a, b, c].map(str::to_owned).to_vec(),
            tools: self.tools().to_vec(),
            on_own_job: self.on_own_job(),
        }
    }

    /// What the physics did, told when it is over.
    pub(super) fn debrief(self) -> &'static str {
        match self {
            Lesson::PumpSetting => {
                "Flow in a loop follows the head about by its root: a quarter of the head is half of the water, in every loop alike. Half of the water comes back cooler, so that the floor's mean falls by far less than half, and rooms are only a little cool. That is why it goes unseen."
            }
            Lesson::ResetLow => {
                "The reset line sets the water by the weather. Too flat or too low, it is right in mild weather and wrong in frost. A slab follows in hours, a house in a day: who moves the line again before that overshoots."
            }
            Lesson::Balance => {
                "All loops hang between the same two bars. Closing one leaves more head for the others, so that each that was set before rises a little. Setting the most generous first, each a little under its figure, ends in one pass and a half; the longest loop stays open, or all head is throttled away."
            }
            Lesson::Reversed => {
                "Heat came into the rooms all the time: a loop does not care which end is warm. But meters show one way only, actuators shut against the flow chatter, and the warm end of a spiral lies where the cool one should."
            }
            Lesson::AirLock => {
                "A bubble in a high spot holds back as much head as it is high. Below that head the loop stands; above it water takes the bubble along. After that the pump is put back: a pump left high hisses and costs money."
            }
            Lesson::MixingStuck => {
                "A controller shows what it asks for, not what comes. Between source and floor the mixing valve decided: it stood where it was, and all that was asked of it changed nothing. Measured behind the valve, the fault is found in a minute."
            }
            Lesson::NoisyZone => {
                "A pump at one speed lifts more where less flows. With one loop open nearly all of it falls at one valve, and above about two metres a valve hisses. A pump that keeps its pressure gives the last zone no more than it gives all."
            }
            Lesson::StarvedSource => {
                "A source needs its least flow, or it boils at one spot and shuts down. One loop takes a fraction of it. The bypass lets the rest go round; opened wider than needed, it warms the return and costs condensing or a heat pump's efficiency."
            }
            Lesson::ColdGlycol => {
                "At frost a strong mix is ten times as thick as warm water. The flow becomes laminar and falls with the thickness, below what the source needs. As soon as the mix is warm it is thin again, and the head of the cold start would be noise and waste."
            }
            Lesson::LeakOrTemperature => {
                "Air at constant volume follows the absolute temperature: five kelvins are nearly two per cent of the absolute pressure, more than most leaks show in a night. Only a corrected drop that is larger than the doubt of gauge and thermometer says that something is lost; and only a time in which a leak would have shown says that nothing is."
            }
        }
    }
}

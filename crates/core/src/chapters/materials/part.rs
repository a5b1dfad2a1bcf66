//! Materials' part of the job: how coils are bought, how tube is held, prices, labour, the quote.

use crate::coils::{Objective, Reserve};
use crate::ranges::ranges;
use serde::{Deserialize, Serialize};

/// Most rows of a price list: more than a wholesaler's list of what floor heating takes.
pub const MAX_PRICES: usize = 2000;

/// What is bought for a job and what it costs.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct Purchasing {
    /// Which coils are bought.
    pub coils: CoilChoice,
    /// How tube is held to what carries it.
    pub fixing: FixingRules,
    /// What things cost the firm.
    pub prices: PriceList,
    /// What work takes.
    pub labour: LabourRates,
    /// What the customer reads.
    pub quote: Quote,
}

impl Purchasing {
    /// Whether it says nothing that a new one does not.
    pub fn is_usual(&self) -> bool {
        *self == Purchasing::default()
    }
}

/// Which coils are bought, and which loops are cut from them.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct CoilChoice {
    /// Long coils cut as needed, or one coil a loop.
    pub school: CoilSchool,
    /// What the plan has least of; where prices of coils are missing, waste.
    pub objective: Objective,
    /// What is cut beyond the loops' lengths.
    pub reserve: Reserve,
    /// Coils that can be had; a tube of which none is listed comes in its usual lengths.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub stocked: Vec<StockedCoil>,
    /// Coils whose loops were put on them by hand; the loops that are on none are planned.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub by_hand: Vec<HandCoil>,
}

/// How loops come out of coils.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CoilSchool {
    /// Long coils, cut as needed.
    #[default]
    CutAsNeeded,
    /// Every loop its own coil: nothing to plan on site, and the rest of each is waste.
    OnePerLoop,
}

/// A coil that can be had.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct StockedCoil {
    /// Its tube, an id of the library.
    pub tube_id: String,
    /// Tube on it, m
    pub length_m: f64,
    /// So many are there; as many as it takes when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stock: Option<u32>,
}

/// A coil with the loops that are cut from it, in the order of cutting.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct HandCoil {
    /// Its tube, an id of the library.
    pub tube_id: String,
    /// Tube on it, m
    pub length_m: f64,
    /// Ids of the loops; what names none any more is passed over.
    pub loop_ids: Vec<String>,
}

/// How tube is held to what carries it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct FixingRules {
    /// From one fixing to the next on a straight, m
    pub straight_m: f64,
    /// Fixings at a turn: one before, one in it, one after.
    pub at_turn: u32,
    /// Length of a heat-transfer plate, m
    pub plate_m: f64,
    /// Between two plates, m
    pub plate_gap_m: f64,
    /// Tube left free of plates before and after a turn, m
    pub plate_clear_m: f64,
    /// Shortest piece of a plate worth cutting, m
    pub plate_least_m: f64,
    /// Length of a grooved panel, m
    pub panel_length_m: f64,
    /// Width of a grooved panel, across its grooves, m
    pub panel_width_m: f64,
    /// Shortest piece of a panel that begins another row, m
    pub panel_least_m: f64,
    /// Hole through a joist beyond the tube's diameter, m
    pub hole_over_m: f64,
    /// Depth of the saw in a slab, m; absent: a quarter of the slab.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub saw_depth_m: Option<f64>,
    /// Concrete between the bottom of a saw cut and the tube, m
    pub saw_cover_m: f64,
}

impl Default for FixingRules {
    fn default() -> Self {
        FixingRules {
            straight_m: 0.5,
            at_turn: 3,
            plate_m: 1.2,
            plate_gap_m: 0.05,
            plate_clear_m: 0.15,
            plate_least_m: 0.3,
            panel_length_m: 1.2,
            panel_width_m: 0.6,
            panel_least_m: 0.3,
            hole_over_m: 0.006,
            saw_depth_m: None,
            saw_cover_m: 0.02,
        }
    }
}

/// What things cost the firm, tax left out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct PriceList {
    /// Whose list, of when.
    pub name: String,
    /// Its currency, 1 to 3 characters.
    pub currency: String,
    /// Its rows; what it does not have is missing, not free.
    pub rows: Vec<PriceRow>,
}

impl Default for PriceList {
    fn default() -> Self {
        PriceList { name: String::new(), currency: "€".into(), rows: vec![] }
    }
}

/// The price of an article.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PriceRow {
    /// The article, by its code in the take-off.
    pub article: String,
    /// Price of one unit of it.
    pub price: f64,
    /// Units in a pack that is not opened; absent: any number is sold.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pack: Option<f64>,
}

/// What work takes, by task. Times are of one person.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct LabourRates {
    /// Floor made ready: swept, strips, insulation, s for a square metre
    pub prepare_s_m2: f64,
    /// A manifold hung and piped, s
    pub manifold_s: f64,
    /// Tube stapled, clipped or pressed in, s for a metre
    pub lay_s_m: f64,
    /// Tube tied to mesh or bar, s for a metre
    pub tie_s_m: f64,
    /// Tube hung from below, plates left out, s for a metre
    pub below_s_m: f64,
    /// A loop begun, cut, labelled and connected, s
    pub loop_s: f64,
    /// A plate placed, s
    pub plate_s: f64,
    /// A grooved panel laid and screwed, s
    pub panel_s: f64,
    /// A hole drilled through a joist, s
    pub hole_s: f64,
    /// Pressure test set up, read and written down, s for a manifold
    pub test_s: f64,
    /// A loop flushed, purged and set, s
    pub start_loop_s: f64,
    /// A circuit's pump and mixing device piped, s
    pub circuit_s: f64,
    /// Heat source set and piped, s
    pub source_s: f64,
    /// Persons at work
    pub crew: u32,
    /// Working day, s
    pub day_s: f64,
    /// Cost of an hour of one person
    #[serde(skip_serializing_if = "Option::is_none")]
    pub hour_price: Option<f64>,
    /// First day of work, as 2026-12-31.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub first_day: Option<String>,
}

impl Default for LabourRates {
    fn default() -> Self {
        let minutes = |m: f64| m * 60.0;
        LabourRates {
            prepare_s_m2: minutes(4.0),
            manifold_s: minutes(90.0),
            lay_s_m: minutes(0.5),
            tie_s_m: minutes(0.8),
            below_s_m: minutes(1.2),
            loop_s: minutes(12.0),
            plate_s: minutes(2.0),
            panel_s: minutes(4.0),
            hole_s: minutes(2.0),
            test_s: minutes(60.0),
            start_loop_s: minutes(10.0),
            circuit_s: minutes(240.0),
            source_s: minutes(480.0),
            crew: 2,
            day_s: minutes(480.0),
            hour_price: None,
            first_day: None,
        }
    }
}

/// What the customer reads.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct Quote {
    /// Added to what materials cost the firm, share
    pub margin: f64,
    /// Added to what labour costs the firm, share
    pub labour_margin: f64,
    /// Tax on the sum, share
    pub tax: f64,
    /// Days for which it holds
    pub valid_days: u32,
    /// What it does not contain.
    pub exclusions: Vec<String>,
    /// Lines beside the take-off.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub extras: Vec<QuoteExtra>,
    /// Options side by side; none: all of the take-off.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub options: Vec<QuoteOption>,
}

impl Default for Quote {
    fn default() -> Self {
        let exclusions = [
            "Gas, electrical and flue work: by licensed trades.",
            "Screed, concrete and floor coverings.",
            "Permits and inspection fees.",
        ];
        Quote {
            margin: 0.25,
            labour_margin: 0.25,
            tax: 0.0,
            valid_days: 30,
            exclusions: exclusions.map(str::to_owned).to_vec(),
            extras: vec![],
            options: vec![],
        }
    }
}

/// A line of a quote that no count gives.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct QuoteExtra {
    /// Stable id, unique in the job.
    pub id: String,
    /// What it is.
    pub name: String,
    /// What the customer pays for it, tax left out.
    pub price: f64,
}

/// One of several offers on the same page.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct QuoteOption {
    /// Stable id, unique in the job.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Groups of the take-off that it leaves out, with their work.
    #[serde(default)]
    pub without: Vec<Group>,
    /// Extra lines that it leaves out, by their ids.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub without_extras: Vec<String>,
}

/// Groups of articles, in the order of the lists.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Group {
    /// Coils of tube.
    Tube,
    /// What holds the tube.
    Fixing,
    /// Insulation, panels, plates, strips: what the floor is made of.
    Floor,
    /// Manifolds with what belongs to them.
    Manifold,
    /// Source, pumps, mixing devices, vessel, mains.
    Plant,
    /// What is filled in.
    Fluid,
}

impl Group {
    /// In the order of the lists.
    pub const ALL: [Group; 6] = [Self::Tube, Self::Fixing, Self::Floor, Self::Manifold, Self::Plant, Self::Fluid];
}

ranges! {
    of CoilChoice { stocked: items 0..=100, by_hand: items 0..=600 }
    of StockedCoil { length_m: Tube 1.0..=5000.0, stock: Count 0..=1000 }
    of HandCoil { length_m: Tube 1.0..=5000.0, loop_ids: items 0..=100 }
    of FixingRules {
        straight_m: Length 0.1..=3.0,
        at_turn: Count 0..=10,
        plate_m: Length 0.1..=5.0,
        plate_gap_m: Size 0.0..=0.5,
        plate_clear_m: Size 0.0..=1.0,
        plate_least_m: Size 0.05..=1.0,
        panel_length_m: Length 0.2..=5.0,
        panel_width_m: Length 0.1..=2.5,
        panel_least_m: Size 0.05..=2.0,
        hole_over_m: Size 0.001..=0.05,
        saw_depth_m: Size 0.005..=0.3,
        saw_cover_m: Size 0.0..=0.2,
    }
    of PriceList { rows: items 0..=2000 }
    of PriceRow { price: Factor 0.0..=1_000_000.0, pack: Factor 0.001..=100_000.0 }
    of LabourRates {
        prepare_s_m2: Areapace 0.0..=36_000.0,
        manifold_s: Minutes 0.0..=360_000.0,
        lay_s_m: Pace 0.0..=3600.0,
        tie_s_m: Pace 0.0..=3600.0,
        below_s_m: Pace 0.0..=3600.0,
        loop_s: Minutes 0.0..=36_000.0,
        plate_s: Minutes 0.0..=3600.0,
        panel_s: Minutes 0.0..=3600.0,
        hole_s: Minutes 0.0..=3600.0,
        test_s: Minutes 0.0..=360_000.0,
        start_loop_s: Minutes 0.0..=36_000.0,
        circuit_s: Minutes 0.0..=360_000.0,
        source_s: Minutes 0.0..=3_600_000.0,
        crew: Count 1..=50,
        day_s: Time 3600.0..=57_600.0,
        hour_price: Factor 0.0..=10_000.0,
    }
    of Quote {
        margin: Share 0.0..=5.0,
        labour_margin: Share 0.0..=5.0,
        tax: Share 0.0..=1.0,
        valid_days: Count 1..=365,
        exclusions: items 0..=30,
        extras: items 0..=100,
        options: items 0..=6,
    }
    of QuoteExtra { price: Factor 0.0..=10_000_000.0 }
    of QuoteOption { without: items 0..=6, without_extras: items 0..=100 }
}

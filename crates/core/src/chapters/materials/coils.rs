//! Which loops of the job come out of which coil: planned, or put there by hand.

use super::articles::{coil_code, plain_figure, usual_coils_m};
use super::part::{CoilChoice, CoilSchool, PriceList};
use crate::coils::{Coil, CoilTask, LoopToCut, Objective, Reserve};
use crate::job::Job;
use crate::study::Study;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// Lengths differ from each other by more than this, m.
const SAME_M: f64 = 0.005;

/// The coils of one tube.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TubeCoils {
    /// The tube.
    pub tube_id: String,
    /// Its name.
    pub name: String,
    /// Coils that can be had.
    pub offered: Vec<OfferedCoil>,
    /// What the plan has least of: as asked, or waste where prices of coils are missing.
    pub objective: Objective,
    /// The coils: those filled by hand first.
    pub coils: Vec<CoilDesign>,
    /// Tube as drawn, m.
    pub drawn_m: f64,
    /// By the rule of thumb, heated floor over spacing, m.
    pub thumb_m: f64,
    /// As drawn with reserves, m.
    pub cut_m: f64,
    /// Tube bought, m.
    pub bought_m: f64,
    /// Price of the coils; none where one has none.
    pub price: Option<f64>,
    /// What the planned coils come to in the objective.
    pub planned: f64,
    /// No plan of the same loops can have less of it.
    pub bound: f64,
    /// The plan is proved to be as good as any.
    pub optimal: bool,
    /// Loops that no coil is long enough for.
    pub too_long: Vec<TooLong>,
    /// Why the rest of the loops has no plan.
    pub refused: Option<String>,
    /// Cheaper coils that would do without reserves.
    pub on_paper: Option<OnPaper>,
}

/// A coil that can be had.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OfferedCoil {
    /// Tube on it, m.
    pub length_m: f64,
    /// Its price; none where the list has none.
    pub price: Option<f64>,
    /// So many are there; none: any number.
    pub stock: Option<u32>,
}

/// A coil with the loops cut from it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CoilDesign {
    /// Its number in the plan: K1, K2 and so on.
    pub coil: String,
    /// Tube on it, m.
    pub length_m: f64,
    /// Its price.
    pub price: Option<f64>,
    /// Filled by hand.
    pub by_hand: bool,
    /// Its loops in the order of cutting.
    pub cuts: Vec<CutDesign>,
    /// What is left of it, m.
    pub left_m: f64,
    /// What it is short of, m.
    pub missing_m: f64,
    /// Short with reserves, long enough for the loops as drawn.
    pub on_paper: bool,
}

/// A loop on its coil.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CutDesign {
    /// The loop, or the circuit of a field in wall or ceiling.
    pub loop_id: String,
    /// As it is called.
    pub tag: String,
    /// As drawn, m.
    pub drawn_m: f64,
    /// The mark at which it begins, from the coil's free end, m.
    pub from_m: f64,
    /// The mark that is read at its supply port: half of its tails lies before, m.
    pub port_m: f64,
    /// The mark at which it is cut, m.
    pub to_m: f64,
}

/// A loop longer than any coil.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TooLong {
    /// The loop.
    pub loop_id: String,
    /// As it is called.
    pub tag: String,
    /// With its reserve, m.
    pub cut_m: f64,
    /// By which the longest coil is short, m.
    pub missing_m: f64,
}

/// Coils that fit on paper only.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OnPaper {
    /// With reserves they are short of, m.
    pub missing_m: f64,
    /// The loops on the coil that is short of most.
    pub tags: Vec<String>,
    /// That coil, m.
    pub length_m: f64,
}

/// A piece to be cut.
#[derive(Debug, Clone)]
pub(crate) struct Piece {
    pub id: String,
    pub tag: String,
    pub length_m: f64,
    /// Of its leaders, m: how far from the manifold it lies.
    pub far_m: f64,
}

/// The pieces of every tube: loops as drawn, circuits of fields by their tube.
pub(crate) fn pieces(study: &Study) -> BTreeMap<String, Vec<Piece>> {
    let mut out: BTreeMap<String, Vec<Piece>> = BTreeMap::new();
    for l in &study.loops {
        let piece = Piece { id: l.id.clone(), tag: l.tag.clone(), length_m: l.length_m, far_m: l.leader_length_m };
        out.entry(l.tube_id.clone()).or_default().push(piece);
    }
    for (room, design) in study.job.rooms.iter().zip(&study.rooms) {
        for (field, d) in room.fields.iter().zip(&design.fields) {
            for n in 1..=d.circuits {
                let piece = Piece {
                    id: format!("{}/{n}", field.id),
                    tag: format!("{} {n}", room.name),
                    length_m: d.circuit_m,
                    far_m: 0.0,
                };
                out.entry(field.tube_id.clone()).or_default().push(piece);
            }
        }
    }
    out
}

/// Price of a coil: its own, or that of its metres.
fn coil_price(prices: &PriceList, tube_id: &str, length_m: f64) -> Option<f64> {
    let of = |code: &str| prices.rows.iter().find(|r| r.article == code).map(|r| r.price);
    of(&coil_code(tube_id, length_m)).or_else(|| of(&format!("tube/{tube_id}")).map(|p| p * length_m))
}

/// The coils of a tube that can be had.
pub(crate) fn offered(job: &Job, tube_id: &str) -> Vec<OfferedCoil> {
    let price = |length_m| coil_price(&job.purchasing.prices, tube_id, length_m);
    let stocked = &job.purchasing.coils.stocked;
    let listed: Vec<OfferedCoil> = stocked
        .iter()
        .filter(|s| s.tube_id == tube_id)
        .map(|s| OfferedCoil { length_m: s.length_m, price: price(s.length_m), stock: s.stock })
        .collect();
    if !listed.is_empty() {
        return listed;
    }
    let usual = usual_coils_m(job, tube_id).into_iter();
    usual.map(|length_m| OfferedCoil { length_m, price: price(length_m), stock: None }).collect()
}

/// The plan of every tube of a study.
pub(crate) fn tube_coils(study: &Study) -> Vec<TubeCoils> {
    let of_tube = |(tube_id, pieces): (String, Vec<Piece>)| {
        let mut of = plan(&study.job, &tube_id, &pieces);
        of.thumb_m = thumb_m(study, &tube_id);
        of
    };
    let mut out: Vec<TubeCoils> = pieces(study).into_iter().map(of_tube).collect();
    // numbered through, so that a crew has one K1
    for (i, coil) in out.iter_mut().flat_map(|t| &mut t.coils).enumerate() {
        coil.coil = format!("K{}", i + 1);
    }
    out
}

/// Heated floor over field spacing: what a tape and a flyer give, leaders left out, m.
fn thumb_m(study: &Study, tube_id: &str) -> f64 {
    let rooms = study.job.rooms.iter().zip(&study.rooms);
    let floors = rooms.filter_map(|(r, d)| Some((r.heated_floor()?, d.heatable_area_m2)));
    floors.filter(|(f, _)| f.tube_id == tube_id).map(|(f, area)| area / f.spacing_core_m).sum()
}

fn plan(job: &Job, tube_id: &str, pieces: &[Piece]) -> TubeCoils {
    let (choice, prices) = (&job.purchasing.coils, &job.purchasing.prices);
    let mut kinds = offered(job, tube_id);
    let offered = kinds.clone();
    let reserve = choice.reserve;
    let mut coils = by_hand(choice, prices, tube_id, pieces, &mut kinds);
    let placed: BTreeSet<&str> = coils.iter().flat_map(|c| &c.cuts).map(|c| c.loop_id.as_str()).collect();
    let longest = kinds.iter().filter(|k| k.stock != Some(0)).map(|k| k.length_m).fold(0.0, f64::max);
    let (rest, long): (Vec<&Piece>, Vec<&Piece>) = pieces
        .iter()
        .filter(|p| !placed.contains(p.id.as_str()))
        .partition(|p| longest == 0.0 || reserve.cut_m(p.length_m) <= longest + SAME_M);
    let too_long = long
        .iter()
        .map(|p| {
            let cut_m = reserve.cut_m(p.length_m);
            TooLong { loop_id: p.id.clone(), tag: p.tag.clone(), cut_m, missing_m: cut_m - longest }
        })
        .collect();
    let priced = kinds.iter().all(|k| k.price.is_some());
    let objective = if choice.objective == Objective::Price && !priced { Objective::Waste } else { choice.objective };
    let mut out = TubeCoils {
        tube_id: tube_id.into(),
        name: job.tube(tube_id).map_or(tube_id.to_owned(), |t| t.name.clone()),
        offered,
        objective,
        coils: vec![],
        drawn_m: pieces.iter().map(|p| p.length_m).sum(),
        thumb_m: 0.0,
        cut_m: pieces.iter().map(|p| reserve.cut_m(p.length_m)).sum(),
        bought_m: 0.0,
        price: None,
        planned: 0.0,
        bound: 0.0,
        optimal: true,
        too_long,
        refused: None,
        on_paper: None,
    };
    if !rest.is_empty() {
        match choice.school {
            CoilSchool::OnePerLoop => one_per_loop(&mut out, &rest, &kinds, reserve, &mut coils),
            CoilSchool::CutAsNeeded => cut_as_needed(&mut out, &rest, &kinds, reserve, &mut coils),
        }
    }
    out.bought_m = coils.iter().map(|c| c.length_m).sum();
    out.price = coils.iter().map(|c| c.price).sum();
    out.coils = coils;
    out
}

/// A coil with its loops; what they take too much is missing.
fn filled(length_m: f64, price: Option<f64>, by_hand: bool, pieces: &[&Piece], reserve: Reserve) -> CoilDesign {
    let mut at = 0.0;
    let cuts: Vec<CutDesign> = pieces
        .iter()
        .map(|p| {
            let from_m = at;
            at += reserve.cut_m(p.length_m);
            CutDesign {
                loop_id: p.id.clone(),
                tag: p.tag.clone(),
                drawn_m: p.length_m,
                from_m,
                port_m: from_m + reserve.per_loop_m / 2.0,
                to_m: at,
            }
        })
        .collect();
    let missing_m = if at > length_m + SAME_M { at - length_m } else { 0.0 };
    let drawn: f64 = pieces.iter().map(|p| p.length_m).sum();
    CoilDesign {
        coil: String::new(),
        length_m,
        price,
        by_hand,
        cuts,
        left_m: (length_m - at).max(0.0),
        missing_m,
        on_paper: missing_m > 0.0 && drawn <= length_m,
    }
}

/// Coils filled by hand, taken from the stock.
fn by_hand(
    choice: &CoilChoice,
    prices: &PriceList,
    tube_id: &str,
    pieces: &[Piece],
    kinds: &mut [OfferedCoil],
) -> Vec<CoilDesign> {
    let mut out = vec![];
    for hand in choice.by_hand.iter().filter(|h| h.tube_id == tube_id) {
        let own: Vec<&Piece> = hand.loop_ids.iter().filter_map(|id| pieces.iter().find(|p| p.id == *id)).collect();
        if own.is_empty() {
            continue;
        }
        let kind = kinds.iter_mut().find(|k| (k.length_m - hand.length_m).abs() < SAME_M);
        if let Some(stock) = kind.and_then(|k| k.stock.as_mut()) {
            *stock = stock.saturating_sub(1);
        }
        let price = coil_price(prices, tube_id, hand.length_m);
        out.push(filled(hand.length_m, price, true, &own, choice.reserve));
    }
    out
}

/// The cheapest coil that is long enough for each loop, or the shortest where prices are missing.
fn one_per_loop(
    out: &mut TubeCoils,
    rest: &[&Piece],
    kinds: &[OfferedCoil],
    reserve: Reserve,
    coils: &mut Vec<CoilDesign>,
) {
    let mut kinds = kinds.to_vec();
    let cost = |k: &OfferedCoil| match out.objective {
        Objective::Price => k.price.unwrap_or(f64::MAX),
        _ => k.length_m,
    };
    kinds.sort_by(|a, b| cost(a).total_cmp(&cost(b)));
    // the longest loops choose first
    let mut order = rest.to_vec();
    order.sort_by(|a, b| b.length_m.total_cmp(&a.length_m));
    for piece in order {
        let enough = |k: &&mut OfferedCoil| k.stock != Some(0) && reserve.cut_m(piece.length_m) <= k.length_m + SAME_M;
        let Some(kind) = kinds.iter_mut().find(enough) else {
            out.refused = Some(format!("no coil is left for loop {}", piece.tag));
            continue;
        };
        if let Some(stock) = &mut kind.stock {
            *stock -= 1;
        }
        out.planned += match out.objective {
            Objective::Price => kind.price.unwrap_or(0.0),
            Objective::Waste => kind.length_m - reserve.cut_m(piece.length_m),
            Objective::Coils => 1.0,
        };
        coils.push(filled(kind.length_m, kind.price, false, &[piece], reserve));
    }
    out.bound = out.planned;
}

fn cut_as_needed(
    out: &mut TubeCoils,
    rest: &[&Piece],
    kinds: &[OfferedCoil],
    reserve: Reserve,
    coils: &mut Vec<CoilDesign>,
) {
    let task = |reserve: Reserve| CoilTask {
        coils: kinds
            .iter()
            .map(|k| Coil { id: plain_figure(k.length_m), length_m: k.length_m, price: k.price, stock: k.stock })
            .collect(),
        loops: rest.iter().map(|p| LoopToCut { id: p.id.clone(), length_m: p.length_m }).collect(),
        reserve,
        objective: out.objective,
    };
    // the pieces on each coil of a plan
    let filled_coils = |plan: &crate::coils::CoilPlan| -> Vec<CoilDesign> {
        let of = |bought: &crate::coils::BoughtCoil| {
            let kind = kinds.iter().find(|k| plain_figure(k.length_m) == bought.coil_id)?;
            let cuts = plan.cuts.iter().filter(|c| c.coil == bought.coil);
            let mut own: Vec<&Piece> = cuts.filter_map(|c| rest.iter().find(|p| p.id == c.loop_id).copied()).collect();
            // cut as they are laid: the farthest first, so that nobody kneels on tube
            own.sort_by(|a, b| b.far_m.total_cmp(&a.far_m));
            Some(filled(kind.length_m, kind.price, false, &own, reserve))
        };
        plan.bought.iter().filter_map(of).collect()
    };
    match task(reserve).plan() {
        Ok(plan) => {
            coils.extend(filled_coils(&plan));
            (out.planned, out.bound, out.optimal) = (plan.total, plan.bound, plan.optimal);
            let paper = task(Reserve { per_loop_m: 0.0, share: 0.0 }).plan().ok();
            let bought = |plan: &crate::coils::CoilPlan| {
                plan.bought.iter().filter_map(|b| b.coil_id.parse::<f64>().ok()).sum::<f64>()
            };
            // waste of plans with and without reserves cannot be compared: tube bought can
            let cheaper = |p: &crate::coils::CoilPlan| match out.objective {
                Objective::Waste => bought(p) + SAME_M < bought(&plan),
                _ => p.total + SAME_M < plan.total,
            };
            if let Some(paper) = paper.filter(cheaper) {
                let short = filled_coils(&paper);
                let worst = short.iter().max_by(|a, b| a.missing_m.total_cmp(&b.missing_m));
                out.on_paper = worst.filter(|w| w.missing_m > 0.0).map(|w| OnPaper {
                    missing_m: short.iter().map(|c| c.missing_m).sum(),
                    tags: w.cuts.iter().map(|c| c.tag.clone()).collect(),
                    length_m: w.length_m,
                });
            }
        }
        Err(e) => out.refused = Some(format!("{}: {}", e.field, e.reason)),
    }
}

#[cfg(test)]
mod tests {
    use super::super::part::{HandCoil, PriceRow, StockedCoil};
    use super::*;

    const TUBE: &str = "pex-16x2";

    fn pieces(lengths: &[f64]) -> Vec<Piece> {
        let piece = |(i, l): (usize, &f64)| Piece {
            id: format!("l{i}"),
            tag: format!("A{}", i + 1),
            length_m: *l,
            far_m: i as f64,
        };
        lengths.iter().enumerate().map(piece).collect()
    }

    fn coil(length_m: f64, stock: Option<u32>) -> StockedCoil {
        StockedCoil { tube_id: TUBE.into(), length_m, stock }
    }

    fn choice(stocked: Vec<StockedCoil>) -> CoilChoice {
        CoilChoice { stocked, reserve: Reserve { per_loop_m: 1.0, share: 0.01 }, ..CoilChoice::default() }
    }

    fn planned(choice: CoilChoice, lengths: &[f64]) -> TubeCoils {
        let mut job = Job::new("Annex");
        job.purchasing.coils = choice;
        plan(&job, TUBE, &pieces(lengths))
    }

    #[test]
    fn four_equal_loops_fit_a_coil_on_paper_only() {
        let of = planned(choice(vec![coil(240.0, None), coil(300.0, None)]), &[60.0; 4]);
        // 4 × (60 · 1.01 + 1) = 246.4 m
        assert_eq!(of.coils.len(), 1);
        assert!((of.coils[0].length_m - 300.0).abs() < 1e-9 && of.optimal);
        let paper = of.on_paper.expect("240 m would do without reserves");
        assert!((paper.missing_m - 6.4).abs() < 1e-9 && (paper.length_m - 240.0).abs() < 1e-9);
        assert_eq!(paper.tags.len(), 4);
    }

    #[test]
    fn what_is_on_a_coil_by_hand_stays_there_and_what_it_lacks_is_told() {
        let mut c = choice(vec![coil(120.0, Some(2))]);
        c.by_hand = vec![HandCoil {
            tube_id: TUBE.into(),
            length_m: 120.0,
            loop_ids: vec!["l0".into(), "l1".into(), "gone".into()],
        }];
        let of = planned(c.clone(), &[60.0, 59.5, 50.0]);
        assert_eq!(of.coils.len(), 2);
        assert!(of.coils[0].by_hand && of.coils[0].on_paper, "119.5 m drawn on 120 m");
        assert!((of.coils[0].missing_m - (119.5 * 1.01 + 2.0 - 120.0)).abs() < 1e-9);
        assert_eq!(of.coils[1].cuts[0].loop_id, "l2");
        // the second coil is the last
        let none = planned(c.clone(), &[60.0, 59.5, 80.0, 80.0]);
        assert!(none.refused.is_some_and(|r| r.contains("short")), "one coil of 120 m for twice 80 m");
    }

    #[test]
    fn a_planned_coil_is_cut_in_the_order_of_laying_the_farthest_first() {
        let of = planned(choice(vec![coil(240.0, None)]), &[60.0, 70.0, 50.0]);
        let tags: Vec<&str> = of.coils[0].cuts.iter().map(|c| c.tag.as_str()).collect();
        assert_eq!(tags, ["A3", "A2", "A1"]);
        // marks follow: 50 · 1.01 + 1 = 51.5 m, then 70 · 1.01 + 1 = 71.7 m
        let marks: Vec<f64> = of.coils[0].cuts.iter().map(|c| (c.to_m * 10.0).round() / 10.0).collect();
        assert_eq!(marks, [51.5, 123.2, 184.8]);
    }

    #[test]
    fn a_loop_longer_than_any_coil_is_named_and_the_rest_planned() {
        let of = planned(choice(vec![coil(100.0, None)]), &[120.0, 60.0]);
        assert_eq!((of.too_long.len(), of.coils.len()), (1, 1));
        assert_eq!(of.too_long[0].tag, "A1");
        assert!((of.too_long[0].missing_m - 22.2).abs() < 1e-9);
        assert!(of.refused.is_none());
    }

    #[test]
    fn the_price_of_a_coil_is_its_own_or_that_of_its_metres() {
        let row = |article: &str, price| PriceRow { article: article.into(), price, pack: None };
        let prices = PriceList {
            rows: vec![row("coil/pex-16x2/240", 200.0), row("tube/pex-16x2", 1.0)],
            ..PriceList::default()
        };
        let mut job = Job::new("Annex");
        job.purchasing.coils = choice(vec![coil(240.0, None), coil(120.0, None)]);
        job.purchasing.prices = prices;
        let of = plan(&job, TUBE, &pieces(&[100.0]));
        assert_eq!(of.objective, Objective::Price);
        assert_eq!((of.price, of.planned, of.bound), (Some(120.0), 120.0, 120.0));
        let missing = planned(choice(vec![coil(240.0, None), coil(120.0, None)]), &[100.0]);
        assert_eq!((missing.objective, missing.price), (Objective::Waste, None), "no price is not a price of nothing");
    }

    #[test]
    fn one_coil_a_loop_takes_the_shortest_that_is_long_enough() {
        let c = CoilChoice { school: CoilSchool::OnePerLoop, ..choice(vec![coil(60.0, None), coil(90.0, Some(1))]) };
        let of = planned(c.clone(), &[50.0, 70.0, 80.0]);
        let lengths: Vec<f64> = of.coils.iter().map(|c| c.length_m).collect();
        assert_eq!(lengths, [90.0, 60.0], "the longest chose first, nothing is left for A2");
        assert!(of.refused.is_some_and(|r| r.contains("A2")));
    }
}

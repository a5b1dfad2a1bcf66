//! The take-off: every article counted from the drawn design, with where each count comes from and the rule of thumb beside it.

use super::articles::{Article, Unit, coil_code};
use super::cautions::{Caution, CautionKind};
use super::coils::TubeCoils;
use super::drilling::DrilledJoist;
use super::fixing::{Plates, fixings, plates, plates_for};
use super::panels::{self, Laid};
use super::part::{FixingRules, Group, PriceList};
use super::runs::Run;
use super::saw_cuts::SawCrossing;
use crate::findings::{Subject, SubjectKind};
use crate::floor::part::{BuildUp, Laying};
use crate::geometry::{Point, distance};
use crate::job::{Floor, KeepOut, Room};
use crate::study::Study;
use crate::units::{Quantity as Q, Units};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// A barrier is turned up at the walls by that, m.
const UPSTAND_M: f64 = 0.15;
/// Screws of an extruded plate, staples of a stamped one, screws of a panel.
const PLATE_SCREWS: f64 = 8.0;
const PLATE_STAPLES: f64 = 10.0;
const PANEL_SCREWS: f64 = 10.0;
/// A plate from this thickness on is an extruded one, m.
const EXTRUDED_M: f64 = 0.001;
/// Between two fixings by the rule of thumb: two for each metre.
const THUMB_FIXINGS_M: f64 = 2.0;
/// From one rail to the next on a wall, m.
const RAILS_M: f64 = 0.5;
/// Waste of panels by the rule of thumb, as share.
const THUMB_PANELS: f64 = 0.02;

/// An article with its count.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TakeOffLine {
    /// Its code, as price lists name it.
    pub article: String,
    /// Its name.
    pub name: String,
    /// Where it stands.
    pub group: Group,
    /// What it is counted in.
    pub unit: Unit,
    /// Counted.
    pub quantity: f64,
    /// To be ordered: whole pieces, whole packs.
    pub order: f64,
    /// By a rule of thumb, where the trade has one.
    pub thumb: Option<f64>,
    /// What that rule says.
    pub thumb_how: String,
    /// Where the count comes from.
    pub parts: Vec<CountPart>,
    /// Of one unit; none where the list has none.
    pub unit_price: Option<f64>,
    /// Of what is ordered; none where the list has none.
    pub price: Option<f64>,
}

/// A part of a count.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CountPart {
    /// What it is for.
    pub subject: Subject,
    /// Its name.
    pub name: String,
    /// So many of the line's unit.
    pub quantity: f64,
    /// How it is counted.
    pub how: String,
}

/// A room's panels.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoomPanels {
    /// The room.
    pub room_id: String,
    /// Row by row.
    pub panels: Vec<panels::Panel>,
    /// Whole panels bought.
    pub bought: u32,
    /// Cut off and not used, m².
    pub waste_m2: f64,
}

/// A heat-transfer plate where it lies.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlacedPlate {
    /// The loop on which it is.
    pub loop_id: String,
    /// Its place in the order of fixing: from the return end back to the coil.
    pub number: u32,
    /// Its ends, m.
    #[cfg_attr(feature = "schema", schema(value_type = [[f64; 2]; 2]))]
    pub ends: [Point; 2],
    /// It is cut.
    pub cut: bool,
}

/// What is counted along the way, for lists, pictures and labour.
#[derive(Default)]
pub(crate) struct Counted {
    pub lines: Vec<TakeOffLine>,
    pub panels: Vec<RoomPanels>,
    pub plates: Vec<PlacedPlate>,
    pub amounts: Amounts,
}

/// What labour is counted by.
#[derive(Default)]
pub(crate) struct Amounts {
    pub floor_m2: f64,
    pub laid_m: f64,
    pub tied_m: f64,
    pub below_m: f64,
    pub plates: f64,
    pub panels: f64,
    pub holes: f64,
}

/// What the take-off reads.
pub(crate) struct Basis<'a> {
    pub study: &'a Study,
    pub runs: &'a [Run],
    pub coils: &'a [TubeCoils],
    pub joists: &'a [DrilledJoist],
    pub saw_cuts: &'a [SawCrossing],
    pub cautions: &'a [Caution],
}

pub(crate) fn take_off(basis: &Basis) -> Counted {
    let mut count = Count { basis, units: basis.study.job.site.units, out: Counted::default() };
    count.tube();
    for i in 0..basis.study.job.rooms.len() {
        count.room(i);
    }
    count.joist_holes();
    count.saw_sleeves();
    count.wall_sleeves();
    count.manifolds();
    count.plant();
    count.fluid();
    count.done()
}

/// How a room is laid.
struct LaidRoom<'a> {
    index: usize,
    room: &'a Room,
    floor: &'a Floor,
    build_up: &'a BuildUp,
    runs: Vec<&'a Run>,
    tube_m: f64,
}

pub(super) struct Count<'a> {
    basis: &'a Basis<'a>,
    pub(super) units: Units,
    out: Counted,
}

impl<'a> Count<'a> {
    pub(super) fn study(&self) -> &'a Study {
        self.basis.study
    }

    fn rules(&self) -> &'a FixingRules {
        &self.study().job.purchasing.fixing
    }

    /// So many more of an article; nothing is no line.
    pub(super) fn add(&mut self, code: &str, quantity: f64, subject: Subject, name: &str, how: String) {
        if quantity <= 0.0 {
            return;
        }
        let part = CountPart { subject, name: name.into(), quantity, how };
        if let Some(line) = self.out.lines.iter_mut().find(|l| l.article == code) {
            line.quantity += quantity;
            line.parts.push(part);
            return;
        }
        let Some(article) = Article::of_job(code, &self.study().job) else { return };
        self.out.lines.push(TakeOffLine {
            article: article.code,
            name: article.name,
            group: article.group,
            unit: article.unit,
            quantity,
            order: 0.0,
            thumb: None,
            thumb_how: String::new(),
            parts: vec![part],
            unit_price: None,
            price: None,
        });
    }

    fn of_room(&mut self, code: &str, quantity: f64, room: &Room, how: String) {
        self.add(code, quantity, Subject::room(room), &room.name, how);
    }

    /// The rule of thumb of a line, added up room by room.
    fn thumb(&mut self, code: &str, more: f64, how: &str) {
        if let Some(line) = self.out.lines.iter_mut().find(|l| l.article == code) {
            line.thumb = Some(line.thumb.unwrap_or(0.0) + more);
            how.clone_into(&mut line.thumb_how);
        }
    }

    fn tube(&mut self) {
        for of in self.basis.coils {
            for coil in &of.coils {
                let tags: Vec<&str> = coil.cuts.iter().map(|c| c.tag.as_str()).collect();
                let code = coil_code(&of.tube_id, coil.length_m);
                self.add(&code, 1.0, Subject::job(), &coil.coil, tags.join(", "));
            }
        }
    }

    fn room(&mut self, index: usize) {
        let study = self.study();
        let room = &study.job.rooms[index];
        self.fields(index);
        let Some(floor) = room.heated_floor() else { return };
        let Some(build_up) = study.job.build_up(&floor.build_up_id) else { return };
        let runs: Vec<&Run> = self.basis.runs.iter().filter(|r| r.room == Some(index)).collect();
        let tube_m: f64 = runs.iter().map(|r| r.length_m).sum();
        if tube_m <= 0.0 {
            return;
        }
        let laid = LaidRoom { index, room, floor, build_up, runs, tube_m };
        self.out.amounts.floor_m2 += study.rooms[index].area_m2;
        match build_up.laying {
            Laying::Staples => self.held(&laid, "staple"),
            Laying::Ties => self.held(&laid, "tie"),
            Laying::Hung => self.held(&laid, "clip"),
            Laying::Rails => {}
            Laying::Studs => {
                let area = study.rooms[index].area_m2;
                self.of_room("stud-sheet", area, room, "Floor of the room".into());
                self.out.amounts.laid_m += laid.tube_m;
            }
            Laying::Grooves => self.panels(&laid),
            Laying::Plates => self.plates(&laid),
        }
        self.under(&laid);
    }

    /// Staples, ties, clips: straight by straight, turn by turn.
    fn held(&mut self, laid: &LaidRoom, code: &str) {
        let rules = self.rules();
        let all: u32 = laid.runs.iter().map(|r| fixings(r.length_m, r.turns, rules)).sum();
        let turns = laid.runs.iter().filter(|r| r.turns).count();
        let how = format!(
            "{} of tube in {} straights, one every {}; {turns} turns, {} each",
            self.units.show(Q::Tube, laid.tube_m),
            laid.runs.len(),
            self.units.show(Q::Length, rules.straight_m),
            rules.at_turn,
        );
        self.of_room(code, f64::from(all), laid.room, how);
        self.thumb(code, laid.tube_m * THUMB_FIXINGS_M, "Two for each metre of tube");
        match code {
            "tie" => {
                let area = self.study().rooms[laid.index].area_m2;
                self.of_room("mesh", area, laid.room, "Floor of the room".into());
                self.out.amounts.tied_m += laid.tube_m;
            }
            "clip" => self.out.amounts.below_m += laid.tube_m,
            _ => self.out.amounts.laid_m += laid.tube_m,
        }
    }

    fn panels(&mut self, laid: &LaidRoom) {
        let rules = self.rules();
        let turns: Vec<Point> = laid.runs.iter().filter(|r| r.turns).map(|r| r.to).collect();
        let bare: Vec<Vec<Point>> = laid.room.keep_outs.iter().map(corners).collect();
        let of = panels::lay(&laid.room.outline, along_deg(&laid.runs), &turns, &bare, rules);
        let Laid { bought, returns, plain_m2, waste_m2, .. } = of;
        let cut = of.panels.iter().filter(|p| p.cut_m.is_some()).count();
        let how = format!(
            "{} pieces laid, {cut} of them cut; the rest of a row begins the next; {} left over",
            of.panels.len(),
            self.units.show(Q::Area, waste_m2)
        );
        self.of_room("panel-straight", f64::from(bought - returns), laid.room, how);
        let area = self.study().rooms[laid.index].area_m2;
        let one = rules.panel_length_m * rules.panel_width_m;
        self.thumb(
            "panel-straight",
            (area / one * (1.0 + THUMB_PANELS)).ceil(),
            "Floor ÷ panel and 2 %, returns included",
        );
        self.of_room("panel-return", f64::from(returns), laid.room, "Panels on which the tube turns".into());
        self.of_room("panel-plain", plain_m2, laid.room, "Where no tube comes".into());
        let screws = f64::from(bought) * PANEL_SCREWS;
        self.of_room("panel-screw", screws, laid.room, format!("{PANEL_SCREWS} a panel"));
        self.of_room("sealant", laid.tube_m, laid.room, "All grooves with tube".into());
        self.out.amounts.panels += of.panels.len() as f64;
        self.out.amounts.laid_m += laid.tube_m;
        self.out.panels.push(RoomPanels { room_id: laid.room.id.clone(), panels: of.panels, bought, waste_m2 });
    }

    fn plates(&mut self, laid: &LaidRoom) {
        let rules = self.rules();
        let extruded = laid.build_up.plate.is_some_and(|p| p.thickness_m >= EXTRUDED_M);
        let code = if extruded { "plate-extruded" } else { "plate-stamped" };
        let (mut whole, mut pieces) = (0, vec![]);
        // from the return end back to the coil
        for run in laid.runs.iter().rev() {
            let free = |bend: bool| if bend { rules.plate_clear_m } else { 0.0 };
            let Plates { whole: n, piece_m } = plates(run.length_m, free(run.turned), free(run.turns), rules);
            whole += n;
            pieces.extend(piece_m);
            self.place(run, n, piece_m);
        }
        let cut_from = plates_for(&pieces, rules.plate_m);
        let how = format!(
            "{whole} whole, and {} pieces out of {cut_from}; {} between them, {} free at a turn",
            pieces.len(),
            self.units.show(Q::Size, rules.plate_gap_m),
            self.units.show(Q::Size, rules.plate_clear_m)
        );
        let bought = f64::from(whole + cut_from);
        self.of_room(code, bought, laid.room, how);
        self.thumb(code, (laid.tube_m / rules.plate_m).ceil(), "Tube ÷ length of a plate");
        let placed = f64::from(whole) + pieces.len() as f64;
        let (held, each) = if extruded { ("plate-screw", PLATE_SCREWS) } else { ("plate-staple", PLATE_STAPLES) };
        self.of_room(held, placed * each, laid.room, format!("{each} a plate"));
        self.out.amounts.plates += placed;
        self.out.amounts.below_m += laid.tube_m;
    }

    /// Plates of a straight on the plan, the last one first.
    fn place(&mut self, run: &Run, whole: u32, piece_m: Option<f64>) {
        let rules = self.rules();
        let loop_id = &self.study().loops[run.of_loop].id;
        let first = self.out.plates.iter().filter(|p| p.loop_id == *loop_id).count() as u32;
        let lengths: Vec<f64> = (0..whole).map(|_| rules.plate_m).chain(piece_m).collect();
        let reach = distance(run.from, run.to).max(1e-9);
        let at = |m: f64| [0, 1].map(|k| run.from[k] + (run.to[k] - run.from[k]) * (m / reach).min(1.0));
        let mut from = if run.turned { rules.plate_clear_m } else { 0.0 };
        let mut placed = vec![];
        for length in lengths {
            placed.push(([at(from), at(from + length)], length < rules.plate_m - 1e-9));
            from += length + rules.plate_gap_m;
        }
        for (number, (ends, cut)) in (first + 1..).zip(placed.into_iter().rev()) {
            self.out.plates.push(PlacedPlate { loop_id: loop_id.clone(), number, ends, cut });
        }
    }

    /// What lies under and beside the tube: insulation that is added, strips, barriers.
    fn under(&mut self, laid: &LaidRoom) {
        let study = self.study();
        let area = study.rooms[laid.index].area_m2;
        for layer in laid.build_up.layers.iter().filter(|l| l.insulation && !l.existing) {
            let Some(material) = study.job.material(&layer.material_id) else { continue };
            let thickness_m = match laid.floor.insulation_m2k_w {
                Some(r) => r * material.conductivity_w_mk,
                None => layer.thickness_m,
            };
            let mm = (thickness_m * 1000.0).round();
            if mm < 1.0 {
                continue;
            }
            let code = format!("insulation/{}/{mm}", layer.material_id);
            self.of_room(&code, area, laid.room, "Floor of the room".into());
        }
        // what is poured keeps off the walls and off what lies under it
        if laid.build_up.laying.is_poured() {
            let walls: f64 = crate::geometry::outline::sides(&laid.room.outline).map(|(a, b)| distance(a, b)).sum();
            self.of_room("edge-strip", walls, laid.room, "Along all walls".into());
            let how = format!("Floor, turned up {} at the walls", self.units.show(Q::Size, UPSTAND_M));
            self.of_room("barrier", area + walls * UPSTAND_M, laid.room, how);
        }
    }

    /// Fields in walls and ceiling: their loops are not drawn, their tube is known.
    fn fields(&mut self, index: usize) {
        let study = self.study();
        let room = &study.job.rooms[index];
        for (field, d) in room.fields.iter().zip(&study.rooms[index].fields) {
            let Some(build_up) = study.job.build_up(&field.build_up_id) else { continue };
            let tube = self.units.show(Q::Tube, d.tube_m);
            match build_up.laying {
                Laying::Rails => {
                    // a rail across the runs every half metre
                    let rails = field.area_m2() / RAILS_M;
                    self.of_room(
                        "rail",
                        rails,
                        room,
                        format!(
                            "Field of {}: one every {}",
                            self.units.show(Q::Area, d.area_m2),
                            self.units.show(Q::Length, RAILS_M)
                        ),
                    );
                    self.out.amounts.laid_m += d.tube_m;
                }
                Laying::Plates => {
                    let n = (d.tube_m / (self.rules().plate_m + self.rules().plate_gap_m)).floor();
                    self.of_room("plate-stamped", n, room, format!("Field with {tube} of tube"));
                    self.out.amounts.plates += n;
                    self.out.amounts.laid_m += d.tube_m;
                }
                _ => self.out.amounts.laid_m += d.tube_m,
            }
        }
    }

    fn joist_holes(&mut self) {
        for joist in self.basis.joists {
            let n = joist.holes.len() as f64;
            self.out.amounts.holes += n;
            if let Some(room) = self.study().job.room(&joist.room_id) {
                let how =
                    format!("Joist {}: {n} holes of {}", joist.number, self.units.show(Q::Thickness, joist.diameter_m));
                self.of_room("grommet", n, room, how);
            }
        }
    }

    fn saw_sleeves(&mut self) {
        for cut in self.basis.saw_cuts {
            let Some(l) = self.study().loops.iter().find(|l| l.id == cut.loop_id) else { continue };
            let how = format!("Loop {} under a saw cut at {}", l.tag, self.units.show(Q::Tube, cut.along_m));
            self.add("saw-sleeve", 1.0, Subject::of(SubjectKind::Loop, &l.id).at(cut.at), &l.tag, how);
        }
    }

    fn wall_sleeves(&mut self) {
        for place in self.basis.cautions.iter().filter(|c| c.kind == CautionKind::WallSleeve) {
            let Some(l) = self.study().loops.iter().find(|l| l.id == place.loop_id) else { continue };
            let how = format!("Loop {} through a wall at {}", l.tag, self.units.show(Q::Tube, place.along_m));
            self.add("wall-sleeve", 1.0, Subject::of(SubjectKind::Loop, &l.id).at(place.at), &l.tag, how);
        }
    }

    fn done(mut self) -> Counted {
        let prices = &self.study().job.purchasing.prices;
        for line in &mut self.out.lines {
            priced(line, prices, self.basis.coils);
        }
        // groups in their order; within them as counted
        self.out.lines.sort_by_key(|l| l.group);
        self.out
    }
}

fn corners(k: &KeepOut) -> Vec<Point> {
    vec![[k.x0_m, k.y0_m], [k.x1_m, k.y0_m], [k.x1_m, k.y1_m], [k.x0_m, k.y1_m]]
}

/// What is ordered and what that costs.
fn priced(line: &mut TakeOffLine, prices: &PriceList, coils: &[TubeCoils]) {
    let row = prices.rows.iter().find(|r| r.article == line.article);
    let step = row.and_then(|r| r.pack).unwrap_or(match line.unit {
        Unit::Piece => 1.0,
        _ => 0.1,
    });
    line.order = ((line.quantity / step - 1e-9).ceil() * step * 1e6).round() / 1e6;
    line.unit_price = row.map(|r| r.price).or_else(|| {
        // a coil may be priced by its metres
        let all = coils.iter().flat_map(|t| t.coils.iter().map(move |c| (coil_code(&t.tube_id, c.length_m), c.price)));
        all.into_iter().find(|(code, _)| *code == line.article).and_then(|c| c.1)
    });
    line.price = line.unit_price.map(|p| p * line.order);
}

/// The direction in which most of a room's tube runs, degrees anticlockwise from the sheet's x, from 0 to 180.
fn along_deg(runs: &[&Run]) -> f64 {
    let mut by_degree: BTreeMap<i64, f64> = BTreeMap::new();
    for run in runs {
        let (dx, dy) = (run.to[0] - run.from[0], run.to[1] - run.from[1]);
        let degrees = dy.atan2(dx).to_degrees().round() as i64;
        *by_degree.entry(degrees.rem_euclid(180)).or_default() += run.length_m;
    }
    by_degree.into_iter().max_by(|a, b| a.1.total_cmp(&b.1)).map_or(0.0, |(d, _)| d as f64)
}

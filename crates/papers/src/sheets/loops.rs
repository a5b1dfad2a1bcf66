//! The plan of every level with its loops, to scale, and the table of all loops.

use super::{scale, stop};
use crate::typeset::block::{Block, Drawing, list, note};
use crate::typeset::table::{Cell, Table, figures, words};
use crate::typeset::text::bold;
use crate::words::{circuits, valve};
use crate::{Papers, Part};
use fuoco_core::units::Quantity as Q;
use fuoco_documents::plan_svg::{Drawn, View, draw, extent};

/// What stands above and below a drawing on its page, mm.
const ABOVE: f64 = 31.0;
const BELOW: f64 = 11.0;

pub fn parts(of: &Papers) -> Vec<Part> {
    let mut out: Vec<Part> = of
        .job
        .levels
        .iter()
        .filter(|l| of.job.rooms.iter().any(|r| r.level_id == l.id))
        .map(|l| {
            let stop = stop(of, "Do not lay from this sheet:");
            // the frame takes its lines off the drawing
            let space = if stop.is_some() { 14.0 } else { 0.0 };
            let (sheet, drawing, scale) = level(of, &l.id, space);
            let mut blocks = vec![Block::Title(l.name.clone(), of.whom(of.day))];
            blocks.extend(stop);
            blocks.push(Block::Facts(vec![
                ("Supply".into(), supply(of)),
                ("Return".into(), of.o(Q::Temperature, of.design.totals.return_c)),
                ("Flow".into(), of.s(Q::Flow, of.design.totals.flow_l_min)),
                ("Tube".into(), of.s(Q::Tube, of.design.totals.tube_m)),
                ("Scale".into(), scale::named(of.units(), scale)),
                ("North".into(), format!("{} from the top", of.s(Q::Angle, of.job.site.north_deg))),
            ]));
            blocks.push(drawing);
            blocks.push(note("Violet the coolest water, red the hottest. Print at 100 %: the scale holds only then."));
            Part { sheet, blocks }
        })
        .collect();
    out.push(Part { sheet: of.format.lying(), blocks: table(of) });
    out
}

/// A level's drawing as large as a page takes it, with the page that suits it and its scale.
pub fn level(of: &Papers, level_id: &str, less: f64) -> (crate::typeset::flow::Sheet, Block, f64) {
    let [lo, hi] = extent(of.job, level_id, None);
    let size = [hi[0] - lo[0], hi[1] - lo[1]];
    let sheet = if size[1] > 0.9 * size[0] { of.format.upright() } else { of.format.lying() };
    let [wide, high] = sheet.body();
    let scale = scale::largest(of.units(), size, [wide, high - ABOVE - BELOW - less]);
    let drawn = draw(of.job, of.design, View { level_id, scale, only: None });
    (sheet, drawing(drawn), scale)
}

pub fn drawing(of: Drawn) -> Block {
    Block::Drawing(Drawing { svg: of.svg, width: of.size_mm[0], height: of.size_mm[1] })
}

/// Of each circuit where there are several.
pub fn supply(of: &Papers) -> String {
    let with: Vec<_> = of.design.circuits.iter().filter_map(|c| Some((&c.name, c.supply_c?))).collect();
    if with.len() < 2 {
        return of.o(Q::Temperature, of.design.totals.supply_c);
    }
    with.into_iter().map(|(name, c)| format!("{name} {}", of.s(Q::Temperature, c))).collect::<Vec<_>>().join(", ")
}

fn table(of: &Papers) -> Vec<Block> {
    let heads = ["Loop", "Rooms", "Tube"].map(words).into_iter().chain(
        ["Length", "Leaders", "Spacing", "Flow", "Return", "Pressure drop", "Valve closes"]
            .map(|h| figures(of.units().words(h))),
    );
    let all = circuits(of.job, of.design);
    let rows = all.iter().enumerate().map(|(k, c)| {
        // loops come first, in the design's order
        let l = of.design.loops.get(k);
        vec![
            bold(c.tag.as_str()).into(),
            c.heats.as_str().into(),
            c.tube.as_str().into(),
            of.s(Q::Tube, c.length_m).into(),
            of.o(Q::Tube, l.map(|l| l.leader_length_m)).into(),
            of.o(Q::Size, l.map(|l| l.spacing_m)).into(),
            of.s(Q::Flow, c.flow_l_min).into(),
            of.o(Q::Temperature, c.return_c).into(),
            of.s(Q::Head, c.head_loss_pa).into(),
            valve(of.units(), c.balancing_pa, c.valve).into(),
        ]
    });
    let sum = |f: &dyn Fn(&crate::words::Circuit) -> f64| all.iter().map(f).sum::<f64>();
    let leaders: f64 = of.design.loops.iter().map(|l| l.leader_length_m).sum();
    let foot: Vec<Cell> = vec![
        Cell::over(3, bold("Together")),
        bold(of.s(Q::Tube, sum(&|c| c.length_m))).into(),
        of.s(Q::Tube, leaders).into(),
        "".into(),
        bold(of.s(Q::Flow, sum(&|c| c.flow_l_min))).into(),
    ];
    vec![
        Block::Title("Loops".into(), of.whom(of.day)),
        Block::Table(Table::new(heads.collect::<Vec<_>>()).rows(rows).foot(foot)),
        Block::Heading("Cautions".into()),
        cautions(),
    ]
}

/// What everybody who lays tube has to know.
pub fn cautions() -> Block {
    list([
        "Figures are design aids. Follow local code and the manufacturer's instructions.",
        "Ports count from the left as you face the manifold. Read the marks on the tube at the start, the corners and the end of each loop; no splice in the floor.",
        "Pressure-test before the pour, watch the gauge through it. Air under pressure stores energy: keep the pressure low and people away from the ends.",
        "Limit the supply temperature at the mixing valve so that nobody is scalded and no covering harmed. Heat screed and timber up slowly.",
        "Joists are drilled or notched only as the structural rules allow. Gas, flue and electric work belongs to licensed trades.",
        "Tubes are hidden under this floor: keep the sheet in the manifold cupboard and do not drill where it shows tube.",
    ])
}

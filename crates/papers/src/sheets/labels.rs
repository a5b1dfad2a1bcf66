//! Labels for both ends of every loop and for the cabinets, with a code that opens the loop.

use crate::Papers;
use crate::drawing::square;
use crate::typeset::block::{Block, Label, note};
use crate::words::rooms;
use fuoco_core::units::Quantity as Q;

pub fn blocks(of: &Papers) -> Vec<Block> {
    let job = of.job;
    let code = |said: &str, leads: &str| {
        // without an address the code tells what stands on the label
        square::of(&of.address.map_or_else(|| format!("{}: {said}", job.name), |a| format!("{a}/{leads}")))
    };
    let (mut cabinets, mut labels) = (vec![], vec![]);
    for m in &of.design.manifolds {
        let on: Vec<_> = of.design.loops.iter().filter(|l| l.manifold_id == m.id).collect();
        if on.is_empty() {
            continue;
        }
        let said = format!("manifold {}", m.letter);
        cabinets.push(Label {
            large: m.letter.clone(),
            lines: vec![
                format!("Manifold, {} loops", on.len()).into(),
                format!("{} at {}", of.s(Q::Flow, m.flow_l_min), of.s(Q::Head, m.head_needed_pa)).into(),
                job.name.as_str().into(),
            ],
            square: code(&said, "papers?sheet=manifold-charts"),
        });
        for l in on {
            for (end, letter) in [("supply", "S"), ("return", "R")] {
                labels.push(Label {
                    large: format!("{} {letter}", l.tag),
                    lines: vec![
                        format!("{end}, port {}", l.port).into(),
                        rooms(job, &l.room_ids).into(),
                        of.s(Q::Tube, l.length_m).into(),
                    ],
                    square: code(&format!("loop {} {end}", l.tag), &format!("papers?sheet=loop&loop={}", l.tag)),
                });
            }
        }
    }
    // first the pairs, side by side
    labels.append(&mut cabinets);
    vec![
        Block::Title("Tube labels".into(), of.whom(of.day)),
        note(
            "One pair for each loop, S for supply, R for return, and one for each cabinet. Cut out, and under clear tape at the tube's end before it is cut.",
        ),
        Block::Labels(labels),
    ]
}

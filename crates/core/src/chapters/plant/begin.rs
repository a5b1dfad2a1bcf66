//! A plant to begin with, sized for a job.

use super::emitters::rating;
use super::part::{Arrangement, Plant, SourceKind, Takes};
use super::usual::{source, users};
use crate::job::EmitterKind;
use crate::study::solved::Solved;

/// Sources are sized in steps of this, W.
const SIZE_STEP_W: f64 = 1000.0;
/// The smallest that is offered, W.
const SMALLEST_W: f64 = 4000.0;

/// A plant for a job that has none: a source for its load, radiators as the survey has them, the simplest arrangement that
/// gives each circuit its own temperature. None for a job without a load.
pub(crate) fn suggested(study: &Solved) -> Option<Plant> {
    let load = study.totals.source_w;
    if load <= 0.0 {
        return None;
    }
    let most_w = ((load / SIZE_STEP_W).ceil() * SIZE_STEP_W).max(SMALLEST_W);
    let hydronic = |e: &&crate::job::Emitter| e.kind != EmitterKind::ElectricHeater && rating(e).is_some();
    let emitters = study.job.rooms.iter().flat_map(|r| &r.emitters).filter(hydronic);
    let emitter_ids: Vec<String> = emitters.map(|e| e.id.clone()).collect();
    let mut users = users();
    users.truncate(1);
    users.retain(|_| !emitter_ids.is_empty());
    for user in &mut users {
        user.id = crate::job::ids::free(&study.job, "user");
        user.takes = Takes::Emitters { emitter_ids: emitter_ids.clone(), drop_k: 12.0 };
    }
    let simple = users.is_empty() && study.circuits.len() < 2;
    let arrangement = match simple {
        // glycol stays on its side
        _ if study.job.outdoors.is_some() => Arrangement::Exchanger,
        true => Arrangement::Direct,
        false => Arrangement::TeesWithHeaders,
    };
    Some(Plant { arrangement, users, ..Plant::of(source(SourceKind::CondensingGas, most_w)) })
}

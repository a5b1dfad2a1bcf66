//! Whether what a job says of its areas outdoors goes together: areas only in such a job, and nothing in it that has a roof.

use crate::error::FieldError;
use crate::job::Job;
use crate::ranges::Ranged;

pub(crate) fn check(job: &Job) -> Result<(), FieldError> {
    let bad = |field: String, reason: &str| Err(FieldError::new(field, reason));
    if let Some(outdoors) = &job.outdoors {
        outdoors.check_ranges("outdoors")?;
        outdoors.storm.check_ranges("outdoors.storm")?;
        outdoors.house.map_or(Ok(()), |h| h.check_ranges("outdoors.house"))?;
    }
    for (i, room) in job.rooms.iter().enumerate() {
        let path = format!("rooms[{i}]");
        if let Some(melt) = &room.melt {
            if job.outdoors.is_none() {
                return bad(format!("{path}.melt"), "is for jobs of areas outdoors only");
            }
            melt.check_ranges(&format!("{path}.melt"))?;
        }
        if job.outdoors.is_some() && !room.fields.is_empty() {
            return bad(format!("{path}.fields"), "has no wall or ceiling to lie in outdoors");
        }
    }
    Ok(())
}

//! Whether what a job says of its summer goes together.

use crate::error::FieldError;
use crate::job::Job;
use crate::ranges::Ranged;

pub(crate) fn check(job: &Job) -> Result<(), FieldError> {
    if let Some(cooling) = &job.cooling {
        if job.outdoors.is_some() {
            return Err(FieldError::new("cooling", "is for jobs with a roof"));
        }
        cooling.check_ranges("cooling")?;
    }
    for (i, room) in job.rooms.iter().enumerate() {
        if let Some(summer) = &room.summer {
            let path = format!("rooms[{i}].summer");
            summer.check_ranges(&path)?;
            if summer.from_h >= summer.to_h {
                return Err(FieldError::new(format!("{path}.to_h"), "must be later than from_h"));
            }
        }
    }
    Ok(())
}

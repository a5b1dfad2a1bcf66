//! Whether what flows in the tubes is one of the fluids.

use crate::error::FieldError;
use crate::job::{FluidKind, Job};
use crate::ranges::Ranged;

pub(crate) fn check(job: &Job) -> Result<(), FieldError> {
    job.fluid.check_ranges("fluid")?;
    if job.fluid.kind == FluidKind::Water && job.fluid.mass_fraction != 0.0 {
        return Err(FieldError::new("fluid.mass_fraction", "must be 0 for water"));
    }
    Ok(())
}

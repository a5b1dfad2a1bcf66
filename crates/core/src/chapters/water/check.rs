//! Whether what flows in the tubes is one of the fluids, and what circuits say of themselves.

use crate::check::text;
use crate::error::FieldError;
use crate::job::{FluidKind, Job};
use crate::ranges::Ranged;

pub(crate) fn check(job: &Job) -> Result<(), FieldError> {
    job.fluid.check_ranges("fluid")?;
    if job.fluid.kind == FluidKind::Water && job.fluid.mass_fraction != 0.0 {
        return Err(FieldError::new("fluid.mass_fraction", "must be 0 for water"));
    }
    for (i, circuit) in job.circuits.iter().enumerate() {
        let path = format!("circuits[{i}]");
        text(&format!("{path}.name"), &circuit.name, 0)?;
        circuit.check_ranges(&path)?;
    }
    Ok(())
}

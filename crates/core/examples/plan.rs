//! Prints a plan made up by number as a job file: `cargo run -p fuoco-core --example plan -- 9 > plan-9.json`.

use fuoco_core::job::CheckedJob;
use fuoco_core::samples::random::plan;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let number = std::env::args().nth(1).ok_or("which plan? a number")?.parse()?;
    println!("{}", serde_json::to_string_pretty(&CheckedJob::new(plan(number))?)?);
    Ok(())
}

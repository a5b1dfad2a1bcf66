//! What the work takes, task by task, and when it is done.

use super::part::Group;
use crate::units::{Quantity, Units};
use chrono::{Datelike, Days, NaiveDate, Weekday};
use serde::{Deserialize, Serialize};

/// A task.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TaskDesign {
    /// What is done.
    pub name: String,
    /// The group of articles that it goes with.
    pub group: Group,
    /// How it is calculated.
    pub how: String,
    /// Of one person, s.
    pub time_s: f64,
}

/// All work of a job.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WorkDesign {
    /// In the order in which it is done.
    pub tasks: Vec<TaskDesign>,
    /// Of one person, s.
    pub time_s: f64,
    /// Working days of the crew.
    pub days: f64,
    /// The day on which it is done, where a first day is set.
    pub done: Option<String>,
    /// What it costs the firm; none where an hour has no price.
    pub cost: Option<f64>,
}

/// A task of so many things of so much time each (s); none where there is nothing to do.
pub(crate) fn task(
    name: &str,
    group: Group,
    quantity: Quantity,
    amount: f64,
    each_s: f64,
    units: Units,
) -> Option<TaskDesign> {
    let each = match quantity {
        Quantity::Count => format!("{} × {}", units.figure(quantity, amount), units.show(Quantity::Minutes, each_s)),
        Quantity::Area => format!("{} × {}", units.show(quantity, amount), units.show(Quantity::Areapace, each_s)),
        _ => format!("{} × {}", units.show(quantity, amount), units.show(Quantity::Pace, each_s)),
    };
    (amount > 0.0 && each_s > 0.0).then(|| TaskDesign { name: name.into(), group, how: each, time_s: amount * each_s })
}

/// The last of so many working days, Monday to Friday, the first of which is that day or the next working day.
///
/// ```
/// use fuoco_core::materials::labour::last_day;
/// // two and a half days from a Thursday: Thursday, Friday, Monday
/// assert_eq!(last_day("2026-12-03", 2.5).unwrap(), "2026-12-07");
/// assert_eq!(last_day("2026-12-05", 1.0).unwrap(), "2026-12-07", "nobody works on a Saturday");
/// assert!(last_day("3 December", 1.0).is_none());
/// ```
pub fn last_day(first: &str, days: f64) -> Option<String> {
    let mut day: NaiveDate = first.parse().ok()?;
    // whatever takes longer than a working life has no day
    let mut left = (days.ceil() as u64).clamp(1, 10_000);
    loop {
        if !matches!(day.weekday(), Weekday::Sat | Weekday::Sun) {
            left -= 1;
            if left == 0 {
                return Some(day.to_string());
            }
        }
        day = day.checked_add_days(Days::new(1))?;
    }
}

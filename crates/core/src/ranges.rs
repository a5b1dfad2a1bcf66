//! The range of every figure of a job, once: the check reads it, and so does the JSON Schema, where it becomes `minimum`,
//! `maximum`, the lengths of lists, and the quantity that the figure measures (`x-quantity`).
//!
//! Each chapter's part of the job ends with a table of them, made by the macro `ranges!`:
//!
//! ```text
//! ranges! {
//!     Patch { rug_m2k_w: Resistance 0.0..=1.0, area_m2: Area 0.01..=10_000.0 }
//! }
//! ```
//!
//! A figure may be missing (`Option`), a list of figures or points (each of them lies within), or a list of anything, whose
//! length is meant (`: items 1..=20`).
//!
//! ```
//! use fuoco_core::job::Room;
//! let height = Room::RANGES.iter().find(|r| r.field == "height_m").unwrap();
//! assert_eq!((height.least, height.most), (1.5, 20.0));
//! ```

use crate::error::FieldError;
use crate::units::Quantity;
use std::collections::BTreeMap;

/// What a range bounds.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Bounds {
    /// A figure, or each figure of a list, that measures that.
    Figure(Quantity),
    /// The number of entries of a list.
    Items,
}

/// The range of one field.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Range {
    /// The field's name.
    pub field: &'static str,
    /// What is bounded.
    pub bounds: Bounds,
    /// The least value, included.
    pub least: f64,
    /// The greatest value, included.
    pub most: f64,
}

/// The ranges of one type of the job, by its name in the JSON Schema.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TypeRanges {
    /// The type's name.
    pub name: &'static str,
    /// Those of its fields.
    pub ranges: &'static [Range],
}

/// A type whose figures have ranges.
pub(crate) trait Ranged {
    /// That every figure lies within its range.
    fn check_ranges(&self, path: &str) -> Result<(), FieldError>;
}

/// What a range can bound.
pub(crate) trait Bounded {
    /// Calls `each` with every figure and the rest of its path after the field's name.
    fn figures(&self, each: &mut dyn FnMut(&str, f64) -> Result<(), FieldError>) -> Result<(), FieldError>;
    /// Number of entries; 0 for a figure.
    fn items(&self) -> usize {
        0
    }
}

impl Bounded for f64 {
    fn figures(&self, each: &mut dyn FnMut(&str, f64) -> Result<(), FieldError>) -> Result<(), FieldError> {
        each("", *self)
    }
}

impl Bounded for u32 {
    fn figures(&self, each: &mut dyn FnMut(&str, f64) -> Result<(), FieldError>) -> Result<(), FieldError> {
        each("", f64::from(*self))
    }
}

impl<T: Bounded> Bounded for Option<T> {
    fn figures(&self, each: &mut dyn FnMut(&str, f64) -> Result<(), FieldError>) -> Result<(), FieldError> {
        self.as_ref().map_or(Ok(()), |v| v.figures(each))
    }
}

/// Of a point the point is named, not the coordinate.
impl<const N: usize> Bounded for [f64; N] {
    fn figures(&self, each: &mut dyn FnMut(&str, f64) -> Result<(), FieldError>) -> Result<(), FieldError> {
        self.iter().try_for_each(|v| each("", *v))
    }
}

/// Of a straight the straight is named.
impl Bounded for [[f64; 2]; 2] {
    fn figures(&self, each: &mut dyn FnMut(&str, f64) -> Result<(), FieldError>) -> Result<(), FieldError> {
        self.iter().flatten().try_for_each(|v| each("", *v))
    }
}

impl<T: Bounded> Bounded for Vec<T> {
    fn figures(&self, each: &mut dyn FnMut(&str, f64) -> Result<(), FieldError>) -> Result<(), FieldError> {
        self.iter().enumerate().try_for_each(|(i, v)| v.figures(&mut |rest, v| each(&format!("[{i}]{rest}"), v)))
    }

    fn items(&self) -> usize {
        self.len()
    }
}

impl Bounded for BTreeMap<String, f64> {
    fn figures(&self, each: &mut dyn FnMut(&str, f64) -> Result<(), FieldError>) -> Result<(), FieldError> {
        self.iter().try_for_each(|(key, v)| each(&format!(".{key}"), *v))
    }

    fn items(&self) -> usize {
        self.len()
    }
}

/// A list of which only the length is bounded.
pub(crate) struct Length(pub usize);

impl Bounded for Length {
    fn figures(&self, _: &mut dyn FnMut(&str, f64) -> Result<(), FieldError>) -> Result<(), FieldError> {
        Ok(())
    }

    fn items(&self) -> usize {
        self.0
    }
}

impl Range {
    /// That a value of the field lies within.
    ///
    /// # Errors
    /// Names the field, or the entry of a list.
    pub(crate) fn check(&self, path: &str, value: &impl Bounded) -> Result<(), FieldError> {
        let Range { field, least, most, .. } = self;
        match self.bounds {
            Bounds::Items if !(*least..=*most).contains(&(value.items() as f64)) => {
                let reason = format!("must have {least} to {most} entries, not {}", value.items());
                Err(FieldError::new(format!("{path}.{field}"), reason))
            }
            Bounds::Items => Ok(()),
            Bounds::Figure(_) => value.figures(&mut |rest, v| {
                if v.is_finite() && (*least..=*most).contains(&v) {
                    Ok(())
                } else {
                    let reason = format!("must be between {least} and {most}, not {v}");
                    Err(FieldError::new(format!("{path}.{field}{rest}"), reason))
                }
            }),
        }
    }
}

/// Tables of ranges: a check for each type, and `RANGES` for the schema.
macro_rules! ranges {
    ($($kind:ident $type:ident { $($fields:tt)* })*) => {
        $($crate::ranges::of_type!($kind $type { $($fields)* });)*
        /// The ranges of this part's types.
        pub(crate) const RANGES: &[$crate::ranges::TypeRanges] =
            &[$($crate::ranges::TypeRanges { name: stringify!($type), ranges: <$type>::RANGES }),*];
    };
}

macro_rules! of_type {
    (of $type:ident { $($field:ident: $bounds:ident $least:literal..=$most:literal),* $(,)? }) => {
        impl $type {
            /// The ranges of its figures and lists.
            pub const RANGES: &[$crate::ranges::Range] =
                &[$($crate::ranges::range!($field $bounds $least $most)),*];
        }
        impl $crate::ranges::Ranged for $type {
            fn check_ranges(&self, path: &str) -> Result<(), $crate::error::FieldError> {
                $($crate::ranges::range!($field $bounds $least $most)
                    .check(path, $crate::ranges::bounded!($bounds self.$field))?;)*
                Ok(())
            }
        }
    };
    // an enum whose variants have figures
    (either $type:ident { $($variant:ident { $($field:ident: $bounds:ident $least:literal..=$most:literal),* $(,)? })* }) => {
        impl $type {
            /// The ranges of its variants' figures.
            pub const RANGES: &[$crate::ranges::Range] =
                &[$($($crate::ranges::range!($field $bounds $least $most)),*),*];
        }
        impl $crate::ranges::Ranged for $type {
            fn check_ranges(&self, path: &str) -> Result<(), $crate::error::FieldError> {
                match self {
                    $($type::$variant { $($field,)* .. } => {
                        $($crate::ranges::range!($field $bounds $least $most).check(path, $field)?;)*
                        Ok(())
                    })*
                    #[allow(unreachable_patterns, reason = "where every variant has figures")]
                    _ => Ok(()),
                }
            }
        }
    };
}

macro_rules! range {
    ($field:ident items $least:literal $most:literal) => {
        $crate::ranges::Range {
            field: stringify!($field),
            bounds: $crate::ranges::Bounds::Items,
            least: $least as f64,
            most: $most as f64,
        }
    };
    ($field:ident $quantity:ident $least:literal $most:literal) => {
        $crate::ranges::Range {
            field: stringify!($field),
            bounds: $crate::ranges::Bounds::Figure($crate::units::Quantity::$quantity),
            least: $least as f64,
            most: $most as f64,
        }
    };
}

macro_rules! bounded {
    (items $value:expr) => {
        &$crate::ranges::Length($value.len())
    };
    ($quantity:ident $value:expr) => {
        &$value
    };
}

pub(crate) use {bounded, of_type, range, ranges};

#[cfg(test)]
mod tests {
    use super::*;

    struct Thing {
        size: Option<f64>,
        points: Vec<[f64; 2]>,
    }
    enum Way {
        Up { far_m: f64 },
        Down,
    }
    ranges! {
        of Thing { size: Length 0.5..=2.0, points: items 1..=2, points: Length -10.0..=10.0 }
        either Way { Up { far_m: Length 0.0..=1.0 } }
    }

    #[test]
    fn each_range_is_checked_and_names_its_field() {
        let refused = |size, points: &[[f64; 2]]| {
            Thing { size, points: points.to_vec() }.check_ranges("a").map_or_else(|e| e.field, |()| String::new())
        };
        assert_eq!(refused(None, &[[0.0, 0.0]]), "");
        assert_eq!(refused(Some(2.0), &[[0.0, 0.0]]), "", "bounds are included");
        assert_eq!(refused(Some(2.1), &[[0.0, 0.0]]), "a.size");
        assert_eq!(refused(Some(f64::NAN), &[[0.0, 0.0]]), "a.size");
        assert_eq!(refused(None, &[]), "a.points");
        assert_eq!(refused(None, &[[0.0, 0.0], [0.0, 11.0]]), "a.points[1]");
        assert_eq!(Way::Up { far_m: 2.0 }.check_ranges("w").expect_err("too far").field, "w.far_m");
        assert!(Way::Down.check_ranges("w").is_ok());
        let names: Vec<_> = RANGES.iter().map(|t| (t.name, t.ranges.len())).collect();
        assert_eq!(names, [("Thing", 3), ("Way", 1)]);
    }
}

//! Checks of single figures, each with the path of its field.

use crate::error::FieldError;
use serde::Deserialize;
use std::collections::BTreeSet;

/// That a figure is finite and within bounds.
pub(crate) fn range(field: &str, value: f64, low: f64, high: f64) -> Result<(), FieldError> {
    if value.is_finite() && (low..=high).contains(&value) {
        Ok(())
    } else {
        Err(FieldError::new(field, format!("must be between {low} and {high}, not {value}")))
    }
}

/// That a text has at least so many characters beside blanks, and no more than 2000.
pub(crate) fn text(field: &str, value: &str, least: usize) -> Result<(), FieldError> {
    let n = value.trim().chars().count();
    if n < least {
        return Err(FieldError::new(field, "must not be empty"));
    }
    if value.chars().count() > 2000 {
        return Err(FieldError::new(field, "must not be longer than 2000 characters"));
    }
    Ok(())
}

/// That an id is one, and new.
pub(crate) fn unique<'a>(seen: &mut BTreeSet<&'a str>, field: &str, id: &'a str) -> Result<(), FieldError> {
    if id.is_empty() || id.len() > 64 {
        return Err(FieldError::new(field, "must have 1 to 64 characters"));
    }
    if seen.insert(id) { Ok(()) } else { Err(FieldError::new(field, format!("\"{id}\" is used twice"))) }
}

/// That a job's own product has an id that neither another of its kind nor the library has, and a name.
pub(crate) fn own<'a>(
    seen: &mut BTreeSet<&'a str>,
    path: &str,
    (id, name): (&'a str, &str),
    in_library: bool,
) -> Result<(), FieldError> {
    unique(seen, &format!("{path}.id"), id)?;
    if in_library {
        return Err(FieldError::new(format!("{path}.id"), "is taken by the library"));
    }
    text(&format!("{path}.name"), name, 1)
}

/// Reads a JSON document; nothing may follow it.
///
/// # Errors
/// Names the field that does not read.
pub(crate) fn read<'a, T: Deserialize<'a>>(text: &'a str) -> Result<T, FieldError> {
    let mut json = serde_json::Deserializer::from_str(text);
    let value = serde_path_to_error::deserialize(&mut json).map_err(|e| {
        let path = e.path().to_string();
        let field = if path == "." || path == "?" { "document".to_owned() } else { path };
        FieldError::new(field, e.inner().to_string())
    })?;
    json.end().map_err(|e| FieldError::new("document", e.to_string()))?;
    Ok(value)
}

/// A stored file is named by the SHA-256 of what is in it.
pub(crate) fn file_id(field: &str, id: Option<&str>) -> Result<(), FieldError> {
    match id {
        Some(id) if id.len() != 64 || !id.bytes().all(|b| b.is_ascii_hexdigit() && !b.is_ascii_uppercase()) => {
            Err(FieldError::new(field, "must be the id of a stored file: 64 hexadecimal digits"))
        }
        _ => Ok(()),
    }
}

//! Checks of single figures, each with the path of its field.

use super::Room;
use crate::error::FieldError;
use serde::Deserialize;
use std::collections::BTreeSet;

pub(crate) fn range(field: &str, value: f64, low: f64, high: f64) -> Result<(), FieldError> {
    if value.is_finite() && (low..=high).contains(&value) {
        Ok(())
    } else {
        Err(FieldError::new(field, format!("must be between {low} and {high}, not {value}")))
    }
}

pub(super) fn count(field: &str, n: usize, low: usize, high: usize) -> Result<(), FieldError> {
    if (low..=high).contains(&n) {
        Ok(())
    } else {
        Err(FieldError::new(field, format!("must have {low} to {high} entries, not {n}")))
    }
}

pub(super) fn text(field: &str, value: &str, least: usize) -> Result<(), FieldError> {
    let n = value.trim().chars().count();
    if n < least {
        return Err(FieldError::new(field, "must not be empty"));
    }
    if value.chars().count() > 2000 {
        return Err(FieldError::new(field, "must not be longer than 2000 characters"));
    }
    Ok(())
}

pub(super) fn unique<'a>(seen: &mut BTreeSet<&'a str>, field: &str, id: &'a str) -> Result<(), FieldError> {
    if id.is_empty() || id.len() > 64 {
        return Err(FieldError::new(field, "must have 1 to 64 characters"));
    }
    if seen.insert(id) { Ok(()) } else { Err(FieldError::new(field, format!("\"{id}\" is used twice"))) }
}

pub(super) fn wall_index(field: &str, edge: usize, room: &Room) -> Result<(), FieldError> {
    if edge < room.outline.len() {
        Ok(())
    } else {
        Err(FieldError::new(field, format!("there are only {} walls", room.outline.len())))
    }
}

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

pub(super) fn optional(field: &str, value: Option<f64>, low: f64, high: f64) -> Result<(), FieldError> {
    value.map_or(Ok(()), |v| range(field, v, low, high))
}

/// A stored file is named by the SHA-256 of what is in it.
pub(super) fn file_id(field: &str, id: Option<&str>) -> Result<(), FieldError> {
    match id {
        Some(id) if id.len() != 64 || !id.bytes().all(|b| b.is_ascii_hexdigit() && !b.is_ascii_uppercase()) => {
            Err(FieldError::new(field, "must be the id of a stored file: 64 hexadecimal digits"))
        }
        _ => Ok(()),
    }
}

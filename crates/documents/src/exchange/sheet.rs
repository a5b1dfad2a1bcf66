//! A table of a spreadsheet as CSV: comma or semicolon, units in the headings, figures in either system.

use crate::csv_text::plain;
use fuoco_core::error::FieldError;
use fuoco_core::units::{Quantity, Units};

/// A heading known to an import: its name and what its figures measure; words have no quantity.
pub type Heading = (&'static str, Option<Quantity>);

/// A table read: rows of cells with the line of each.
pub struct Sheet {
    /// For each column of the file: the heading known by that name, with factor and offset to SI.
    columns: Vec<Option<(&'static str, f64, f64)>>,
    rows: Vec<(usize, csv::StringRecord)>,
    decimal_comma: bool,
}

/// One row.
pub struct Row<'a> {
    sheet: &'a Sheet,
    /// Line of the file.
    pub line: usize,
    cells: &'a csv::StringRecord,
}

const MOST_ROWS: usize = 5000;
/// More columns has no table of rooms or openings.
const MOST_COLUMNS: usize = 200;

impl Sheet {
    /// Reads a table. Columns without a known heading are left out; `needed` ones must be there.
    pub fn read(text: &str, headings: &[Heading], needed: &[&str], units: Units) -> Result<Sheet, FieldError> {
        let text = text.trim_start_matches('\u{feff}');
        let first = text.lines().next().unwrap_or_default();
        if first.trim().is_empty() {
            return Err(FieldError::new("line 1", "must hold the headings of the columns"));
        }
        let semicolon = first.matches(';').count() > first.matches(',').count();
        let mut reader = csv::ReaderBuilder::new()
            .delimiter(if semicolon { b';' } else { b',' })
            .flexible(true)
            .trim(csv::Trim::All)
            .from_reader(text.as_bytes());
        let head = reader.headers().map_err(|e| FieldError::new("line 1", e.to_string()))?.clone();
        if head.len() > MOST_COLUMNS {
            return Err(FieldError::new("line 1", format!("must not have more than {MOST_COLUMNS} columns")));
        }
        let mut columns = Vec::new();
        for cell in &head {
            let (name, unit) = match cell.split_once('(') {
                Some((name, unit)) => (name.trim(), Some(unit.trim_end_matches(')').trim())),
                None => (cell.trim(), None),
            };
            let known = headings.iter().find(|h| h.0.eq_ignore_ascii_case(name));
            columns.push(match known {
                None => None,
                Some((name, None)) => Some((*name, 1.0, 0.0)),
                Some((name, Some(quantity))) => {
                    let (factor, offset) = to_si(*quantity, unit, units).ok_or_else(|| {
                        FieldError::new(
                            "line 1",
                            format!("\"{cell}\": the unit \"{}\" is none of this column", unit.unwrap_or_default()),
                        )
                    })?;
                    Some((*name, factor, offset))
                }
            });
        }
        for name in needed {
            if !columns.iter().flatten().any(|c| c.0 == *name) {
                return Err(FieldError::new("line 1", format!("has no column \"{name}\"")));
            }
        }
        let mut rows = Vec::new();
        for record in reader.records() {
            let record = record.map_err(|e| FieldError::new("file", format!("is no table that reads: {e}")))?;
            let line = record.position().map_or(0, |p| p.line() as usize);
            if record.iter().all(str::is_empty) {
                continue;
            }
            if rows.len() == MOST_ROWS {
                return Err(FieldError::new(format!("line {line}"), format!("a table has at most {MOST_ROWS} rows")));
            }
            rows.push((line, record));
        }
        Ok(Sheet { columns, rows, decimal_comma: semicolon })
    }

    pub fn rows(&self) -> impl Iterator<Item = Row<'_>> {
        self.rows.iter().map(|(line, cells)| Row { sheet: self, line: *line, cells })
    }
}

impl Row<'_> {
    /// The cell under a heading, empty where there is none.
    pub fn text(&self, heading: &str) -> &str {
        let at = self.sheet.columns.iter().position(|c| c.is_some_and(|c| c.0 == heading));
        plain(at.and_then(|i| self.cells.get(i)).unwrap_or_default())
    }

    /// Factor and offset of a column's unit to SI.
    fn unit(&self, heading: &str) -> (f64, f64) {
        self.sheet.columns.iter().flatten().find(|c| c.0 == heading).map_or((1.0, 0.0), |c| (c.1, c.2))
    }

    /// The SI figure under a heading; none where the cell is empty.
    pub fn figure(&self, heading: &str) -> Result<Option<f64>, String> {
        let text = self.text(heading);
        if text.is_empty() {
            return Ok(None);
        }
        let (factor, offset) = self.unit(heading);
        let number = if self.sheet.decimal_comma { text.replace(',', ".") } else { text.to_owned() };
        match number.parse::<f64>() {
            Ok(v) if v.is_finite() => Ok(Some(v * factor + offset)),
            _ => Err(format!("{heading} \"{text}\" is no number")),
        }
    }

    /// As [`Row::figure`], kept within a range.
    pub fn within(&self, heading: &str, low: f64, high: f64) -> Result<Option<f64>, String> {
        match self.figure(heading)? {
            Some(v) if !(low - 1e-9..=high + 1e-9).contains(&v) => {
                // the range in the unit of the column, as the reader sees it
                let (factor, offset) = self.unit(heading);
                let shown = |si: f64| format!("{}", ((si - offset) / factor * 100.0).round() / 100.0);
                Err(format!("{heading} \"{}\" must be between {} and {}", self.text(heading), shown(low), shown(high)))
            }
            v => Ok(v.map(|v| (v * 1e6).round() / 1e6)),
        }
    }
}

/// Factor and offset that bring a figure in that unit to SI.
fn to_si(quantity: Quantity, unit: Option<&str>, usual: Units) -> Option<(f64, f64)> {
    let Some(unit) = unit else {
        let factor = usual.convert(quantity, 1.0) - usual.convert(quantity, 0.0);
        let offset = usual.convert(quantity, 0.0);
        return Some((1.0 / factor, -offset / factor));
    };
    let plain = |s: &str| s.to_lowercase().replace(['°', ' ', '·'], "").replace('²', "2").replace('³', "3");
    if quantity == Quantity::Length {
        let factor = match plain(unit).as_str() {
            "mm" => 0.001,
            "cm" => 0.01,
            "m" => 1.0,
            "in" | "inch" => 0.0254,
            "ft" | "feet" => 0.3048,
            _ => return None,
        };
        return Some((factor, 0.0));
    }
    [Units::Metric, Units::Us].into_iter().find(|u| plain(u.symbol(quantity)) == plain(unit)).map(|u| {
        let factor = u.convert(quantity, 1.0) - u.convert(quantity, 0.0);
        (1.0 / factor, -u.convert(quantity, 0.0) / factor)
    })
}

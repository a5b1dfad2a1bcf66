//! Tables written as CSV (RFC 4180) that no spreadsheet takes for formulas.
//!
//! ```
//! use fuoco_documents::csv_text::{plain, word};
//! assert_eq!(word("=HYPERLINK(1)"), "'=HYPERLINK(1)");
//! assert_eq!(word("Studio 1"), "Studio 1");
//! assert_eq!(plain(&word("-2 Cellar")), "-2 Cellar");
//! ```

/// With one of these at its beginning a spreadsheet takes a cell for a formula.
const FORMULA: [char; 6] = ['=', '+', '-', '@', '\t', '\r'];

/// Words of the user as a cell: an apostrophe keeps a spreadsheet from calculating with them.
pub fn word(text: &str) -> String {
    if text.starts_with(FORMULA) { format!("'{text}") } else { text.to_owned() }
}

/// A cell read back without that apostrophe.
pub fn plain(cell: &str) -> &str {
    cell.strip_prefix('\'').filter(|rest| rest.starts_with(FORMULA)).unwrap_or(cell)
}

/// The table of those records, the first of them its heading.
pub(crate) fn table(records: impl IntoIterator<Item = Vec<String>>) -> String {
    let mut out = csv::Writer::from_writer(Vec::new());
    for record in records {
        out.write_record(&record).expect("memory takes any record");
    }
    String::from_utf8(out.into_inner().expect("memory can be flushed")).expect("only text was written")
}

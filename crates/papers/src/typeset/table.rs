//! Tables: how wide each column is.

use super::text::{Span, extent};

/// A cell: its text, and over how many columns it reaches.
#[derive(Debug, Clone, PartialEq)]
pub struct Cell {
    /// What stands in it.
    pub spans: Vec<Span>,
    /// Columns, from its own on.
    pub over: usize,
}

impl<T: Into<Span>> From<T> for Cell {
    fn from(span: T) -> Cell {
        Cell { spans: vec![span.into()], over: 1 }
    }
}

impl Cell {
    /// A cell that reaches over several columns.
    pub fn over(columns: usize, text: impl Into<Span>) -> Cell {
        Cell { spans: vec![text.into()], over: columns }
    }
}

/// A column: its heading, and whether it holds figures, which stand at its right edge.
#[derive(Debug, Clone, PartialEq)]
pub struct Column {
    /// Its heading; all empty leaves the head out.
    pub head: Span,
    /// It holds figures.
    pub figures: bool,
}

/// A column of words.
pub fn words(head: impl Into<String>) -> Column {
    Column { head: Span::from(head.into()), figures: false }
}

/// A column of figures.
pub fn figures(head: impl Into<String>) -> Column {
    Column { head: Span::from(head.into()), figures: true }
}

/// Rows and columns.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Table {
    /// From the left on.
    pub columns: Vec<Column>,
    /// Its rows.
    pub rows: Vec<Vec<Cell>>,
    /// Rows under a heavier line.
    pub foot: Vec<Vec<Cell>>,
    /// No wider than its text; else as wide as the page.
    pub narrow: bool,
    /// Not parted where it fits on a page.
    pub whole: bool,
    /// Size of type, points.
    pub size: f64,
}

/// Blank at the left and right of a cell, ems.
pub const PAD: f64 = 0.45;

impl Table {
    /// A table without rows.
    pub fn new(columns: impl Into<Vec<Column>>) -> Table {
        Table { columns: columns.into(), size: 9.0, ..Table::default() }
    }

    /// With these rows.
    pub fn rows(mut self, rows: impl IntoIterator<Item = Vec<Cell>>) -> Table {
        self.rows.extend(rows);
        self
    }

    /// With a row under a heavier line.
    pub fn foot(mut self, row: Vec<Cell>) -> Table {
        self.foot.push(row);
        self
    }

    /// No wider than its text.
    pub fn narrow(mut self) -> Table {
        self.narrow = true;
        self
    }

    /// Not parted where it fits on a page.
    pub fn whole(mut self) -> Table {
        self.whole = true;
        self
    }

    /// Set in another size.
    pub fn size(mut self, points: f64) -> Table {
        self.size = points;
        self
    }

    /// The widths of its columns in ems within `room`: each as wide as its text as far as that goes; what is short is taken
    /// from the widest that can break between words, and only then words are broken.
    pub fn widths(&self, room: f64) -> Vec<f64> {
        let n = self.columns.len();
        let mut least = vec![0.0; n];
        let mut most = vec![0.0; n];
        let mut see = |k: usize, spans: &[Span]| {
            let [a, b] = extent(spans);
            least[k] = f64::max(least[k], a + 2.0 * PAD);
            most[k] = f64::max(most[k], b + 2.0 * PAD);
        };
        for (k, c) in self.columns.iter().enumerate() {
            see(k, std::slice::from_ref(&Span { bold: true, ..c.head.clone() }));
        }
        for row in self.rows.iter().chain(&self.foot) {
            for (k, cell) in placed(row).filter(|(k, c)| c.over == 1 && *k < n) {
                see(k, &cell.spans);
            }
        }
        let (least_sum, most_sum): (f64, f64) = (least.iter().sum(), most.iter().sum());
        if most_sum <= room {
            // what is left over goes to the words, which read better with air after them than figures do
            let of_words = |k: usize| if self.columns[k].figures { 0.25 * most[k] } else { most[k] };
            let sum: f64 = (0..n).map(of_words).sum();
            let spare = if self.narrow || sum <= 0.0 { 0.0 } else { (room - most_sum) / sum };
            (0..n).map(|k| most[k] + spare * of_words(k)).collect()
        } else if least_sum <= room {
            // a long remark breaks its lines, a short name does not
            levelled(room, |level| (0..n).map(|k| level.clamp(least[k], most[k])).collect())
        } else {
            // the longest words are broken, the others stay whole
            levelled(room, |level| least.iter().map(|l| l.min(level)).collect())
        }
    }
}

/// Columns up to one level, which is as high as `room` allows.
fn levelled(room: f64, at: impl Fn(f64) -> Vec<f64>) -> Vec<f64> {
    let (mut low, mut high) = (0.0, room);
    // as fine as a double tells
    for _ in 0..60 {
        let middle = (low + high) / 2.0;
        if at(middle).iter().sum::<f64>() > room { high = middle } else { low = middle }
    }
    at(low)
}

/// The cells of a row with the column at which each begins.
pub fn placed(row: &[Cell]) -> impl Iterator<Item = (usize, &Cell)> {
    row.iter().scan(0, |at, cell| {
        let from = *at;
        *at += cell.over.max(1);
        Some((from, cell))
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn table() -> Table {
        Table::new([words("Room"), figures("Loss")])
            .rows([vec!["Changing room of the dancers".into(), "1200 W".into()], vec!["Hall".into(), "9 W".into()]])
    }

    #[test]
    fn columns_fill_the_page_and_a_narrow_table_only_what_it_needs() {
        for room in [60.0, 30.0, 22.0, 12.0, 3.0] {
            assert!((table().widths(room).iter().sum::<f64>() - room).abs() < 1e-9, "{room}");
        }
        let narrow = table().narrow().widths(60.0);
        assert!(narrow.iter().sum::<f64>() < 30.0);
        // the figures keep their line where words can be broken
        assert!(table().widths(12.0)[1] >= extent(&["1200".into()])[0] + 2.0 * PAD);
    }

    #[test]
    fn a_cell_over_several_columns_makes_none_of_them_wider() {
        let plain = table().narrow().widths(60.0);
        let with =
            table().narrow().foot(vec![Cell::over(2, "A very long remark under the whole of the table")]).widths(60.0);
        assert_eq!(plain, with);
        let row = vec![Cell::over(3, "a"), "b".into()];
        assert_eq!(placed(&row).map(|(k, _)| k).collect::<Vec<_>>(), [0, 3]);
    }
}

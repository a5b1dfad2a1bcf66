//! Lays the blocks of a paper on pages, from the top down.

use super::block::{Block, Drawing, Label};
use super::table::{PAD, Table, placed};
use super::text::{Line, Span, bold, extent, lines, width};
use super::{Ink, POINT};

/// A page's size and the blank round what stands on it, mm.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sheet {
    /// Across.
    pub width: f64,
    /// Down.
    pub height: f64,
    /// Blank on every side; running head and foot stand in it.
    pub margin: f64,
}

impl Sheet {
    /// What is left inside the margins, mm.
    pub fn body(self) -> [f64; 2] {
        [self.width - 2.0 * self.margin, self.height - 2.0 * self.margin]
    }
}

/// One thing on a page.
#[derive(Debug, Clone, PartialEq)]
pub enum Mark {
    /// Words on a line; `at` is where its baseline begins.
    Words {
        /// mm
        at: [f64; 2],
        /// Points.
        size: f64,
        /// Each with its width in ems.
        line: Line,
        /// Shade.
        ink: Ink,
    },
    /// A line, or a frame where `frame`.
    Rule {
        /// mm
        from: [f64; 2],
        /// mm
        to: [f64; 2],
        /// mm
        thick: f64,
        /// Shade.
        ink: Ink,
        /// The frame between the two corners instead.
        frame: bool,
    },
    /// A drawing; `at` is its upper left corner.
    Drawing {
        /// mm
        at: [f64; 2],
        /// What is drawn, with its size.
        of: Drawing,
    },
}

/// A page that has been laid.
#[derive(Debug, Clone, PartialEq)]
pub struct Page {
    /// Its size.
    pub sheet: Sheet,
    /// What stands on it.
    pub marks: Vec<Mark>,
}

/// Of a line's height over its type's size: Source Sans reads well so.
const LEADING: f64 = 1.28;
/// Where the baseline is, from the top of a line, over its type's size.
const BASE: f64 = 0.97;
/// Air above and below a table's cell, mm.
const CELL_AIR: f64 = 0.55;
const TITLE: f64 = 17.0;
const HEADING: f64 = 12.0;
const MINOR: f64 = 10.0;
const TEXT: f64 = 9.5;
const NOTE: f64 = 8.0;
const HAIR: f64 = 0.1;
/// A label's height, mm.
const LABEL: f64 = 33.0;

/// Lays `blocks` on pages of one size.
pub fn pages(sheet: Sheet, blocks: &[Block]) -> Vec<Page> {
    let mut flow = Flow { sheet, pages: vec![Page { sheet, marks: vec![] }], y: sheet.margin };
    for (k, block) in blocks.iter().enumerate() {
        flow.block(block, blocks.get(k + 1));
    }
    // a paper may end with a wish for a new page
    if flow.pages.len() > 1 && flow.pages.last().is_some_and(|p| p.marks.is_empty()) {
        flow.pages.pop();
    }
    flow.pages
}

struct Flow {
    sheet: Sheet,
    pages: Vec<Page>,
    y: f64,
}

impl Flow {
    fn left(&self) -> f64 {
        self.sheet.margin
    }

    fn bottom(&self) -> f64 {
        self.sheet.height - self.sheet.margin
    }

    fn at_top(&self) -> bool {
        self.pages.last().is_none_or(|p| p.marks.is_empty())
    }

    fn new_page(&mut self) {
        self.pages.push(Page { sheet: self.sheet, marks: vec![] });
        self.y = self.sheet.margin;
    }

    fn put(&mut self, mark: Mark) {
        if let Some(page) = self.pages.last_mut() {
            page.marks.push(mark);
        }
    }

    /// Room for `height`, on this page or the next.
    fn need(&mut self, height: f64) {
        if self.y + height > self.bottom() + 1e-6 && !self.at_top() {
            self.new_page();
        }
    }

    /// Air before a block; none at the top of a page.
    fn air(&mut self, mm: f64) {
        if !self.at_top() {
            self.y += mm;
        }
    }

    fn words(&mut self, x: f64, y: f64, size: f64, line: Line, ink: Ink) {
        if !line.spans.is_empty() {
            self.put(Mark::Words { at: [x, y + BASE * size * POINT], size, line, ink });
        }
    }

    fn rule(&mut self, from: [f64; 2], to: [f64; 2], thick: f64, ink: Ink) {
        self.put(Mark::Rule { from, to, thick, ink, frame: false });
    }

    /// Lines one below the other, over pages where there are many.
    fn text(&mut self, x: f64, wide: f64, size: f64, spans: &[Span], ink: Ink) {
        let high = LEADING * size * POINT;
        for line in lines(spans, wide / (size * POINT)) {
            self.need(high);
            let y = self.y;
            self.words(x, y, size, line, ink);
            self.y += high;
        }
    }

    /// The least that should stand under a heading on its page.
    fn least(block: Option<&Block>) -> f64 {
        match block {
            Some(Block::Drawing(d)) => d.height,
            Some(Block::Heading(_) | Block::Minor(_)) => 20.0,
            Some(Block::NewPage) | None => 0.0,
            // a table that stays whole takes its heading along
            Some(Block::Table(t)) if t.whole => (t.rows.len() + 2) as f64 * (LEADING * t.size * POINT + 2.0 * CELL_AIR),
            Some(Block::Table(_)) => 14.0,
            Some(_) => 9.0,
        }
    }

    fn block(&mut self, block: &Block, next: Option<&Block>) {
        let [wide, _] = self.sheet.body();
        let left = self.left();
        match block {
            Block::Title(title, under) => {
                self.need(20.0);
                self.text(left, wide, TITLE, &[bold(title.as_str())], Ink::Dark);
                if !under.is_empty() {
                    self.text(left, wide, TEXT, &[under.as_str().into()], Ink::Soft);
                }
                self.y += 1.0;
                let y = self.y;
                self.rule([left, y], [left + wide, y], 0.25, Ink::Dark);
                self.y += 2.5;
            }
            Block::Heading(text) | Block::Minor(text) => {
                let size = if matches!(block, Block::Heading(_)) { HEADING } else { MINOR };
                self.air(if size == HEADING { 4.0 } else { 2.5 });
                self.need(LEADING * size * POINT + 1.0 + Self::least(next));
                self.text(left, wide, size, &[bold(text.as_str())], Ink::Dark);
                self.y += 0.8;
            }
            Block::Text(spans) => {
                self.text(left, wide, TEXT, spans, Ink::Dark);
                self.y += 1.6;
            }
            Block::Note(spans) => {
                self.text(left, wide, NOTE, spans, Ink::Soft);
                self.y += 1.4;
            }
            Block::List(items) => {
                for item in items {
                    self.need(LEADING * TEXT * POINT);
                    let y = self.y;
                    self.words(left + 0.8, y, TEXT, one("·"), Ink::Dark);
                    self.text(left + 4.0, wide - 4.0, TEXT, item, Ink::Dark);
                    self.y += 0.6;
                }
                self.y += 1.0;
            }
            Block::Facts(facts) => self.facts(facts, wide),
            Block::Pairs(pairs) => self.pairs(pairs, wide),
            Block::Table(table) => self.table(table, wide),
            Block::Drawing(drawing) => {
                self.need(drawing.height);
                let at = [left, self.y];
                self.put(Mark::Drawing { at, of: drawing.clone() });
                self.y += drawing.height + 2.0;
            }
            Block::Stop(first, rest) => self.stop(first, rest, wide),
            Block::Labels(labels) => self.labels(labels, wide),
            Block::NewPage => {
                if !self.at_top() {
                    self.new_page();
                }
            }
        }
    }

    /// Names over values, as many side by side as there is room for.
    fn facts(&mut self, facts: &[(String, String)], wide: f64) {
        let high = LEADING * (NOTE + TEXT) * POINT + 1.2;
        let mut x = self.left();
        self.need(high);
        for (name, value) in facts {
            let of = f64::max(width(name, false) * NOTE, width(value, true) * TEXT) * POINT + 6.0;
            if x + of - 6.0 > self.left() + wide && x > self.left() {
                x = self.left();
                self.y += high;
                self.need(high);
            }
            let y = self.y;
            self.words(x, y, NOTE, one(name.as_str()), Ink::Soft);
            self.words(x, y + LEADING * NOTE * POINT, TEXT, one(bold(value.as_str())), Ink::Dark);
            x += of;
        }
        self.y += high + 1.0;
    }

    fn pairs(&mut self, pairs: &[(String, String)], wide: f64) {
        let names = pairs.iter().map(|(n, _)| width(n, true)).fold(0.0, f64::max) * TEXT * POINT;
        let column = f64::min(names + 4.0, 0.35 * wide);
        for (name, said) in pairs {
            let heads = lines(&[bold(name.as_str())], (column - 3.0) / (TEXT * POINT));
            let high = LEADING * TEXT * POINT;
            self.need(high * heads.len() as f64);
            let (page, y) = (self.pages.len(), self.y);
            let deep = y + high * heads.len() as f64;
            for (k, line) in heads.into_iter().enumerate() {
                self.words(self.left(), y + high * k as f64, TEXT, line, Ink::Dark);
            }
            self.text(self.left() + column, wide - column, TEXT, &[said.as_str().into()], Ink::Dark);
            if self.pages.len() == page {
                self.y = self.y.max(deep);
            }
            self.y += 0.6;
        }
        self.y += 1.2;
    }

    fn stop(&mut self, first: &str, rest: &str, wide: f64) {
        let spans = [bold(first), format!(" {rest}").into()];
        let broken = lines(&spans, (wide - 8.0) / (TEXT * POINT));
        // what is longer than a page is no caution any more; it goes on without its frame
        let high = broken.len() as f64 * LEADING * TEXT * POINT + 4.0;
        let framed = high <= self.sheet.body()[1];
        self.need(if framed { high } else { 0.0 });
        let (left, y) = (self.left(), self.y);
        if framed {
            self.put(Mark::Rule {
                from: [left, y],
                to: [left + wide, y + high],
                thick: 0.6,
                ink: Ink::Alarm,
                frame: true,
            });
        }
        self.y += 2.0;
        self.text(left + 4.0, wide - 8.0, TEXT, &spans, Ink::Alarm);
        self.y += 4.0;
    }

    fn table(&mut self, table: &Table, wide: f64) {
        let em = table.size * POINT;
        let widths: Vec<f64> = table.widths(wide / em).into_iter().map(|w| w * em).collect();
        let all: f64 = widths.iter().sum();
        let head: Vec<super::table::Cell> =
            table.columns.iter().map(|c| super::table::Cell::from(Span { bold: true, ..c.head.clone() })).collect();
        let headed = table.columns.iter().any(|c| !c.head.text.is_empty());
        let edges: Vec<f64> = widths
            .iter()
            .scan(self.left(), |x, w| {
                let from = *x;
                *x += w;
                Some(from)
            })
            .collect();
        let set = |row: &[super::table::Cell]| -> Vec<(usize, f64, Vec<Line>)> {
            placed(row)
                .filter(|(k, _)| *k < widths.len())
                .map(|(k, c)| {
                    let to = (k + c.over.max(1)).min(widths.len());
                    let room: f64 = widths[k..to].iter().sum();
                    (k, room, lines(&c.spans, room / em - 2.0 * PAD))
                })
                .collect()
        };
        let head = set(&head);
        let high = LEADING * em;
        let height = |row: &[(usize, f64, Vec<Line>)]| {
            row.iter().map(|(_, _, l)| l.len()).max().unwrap_or(1) as f64 * high + 2.0 * CELL_AIR
        };
        let body = self.sheet.body()[1];
        let draw = |flow: &mut Flow, row: &[(usize, f64, Vec<Line>)], from: usize, to: usize, ink: Ink| {
            for (k, room, broken) in row {
                for (n, line) in broken.iter().enumerate().take(to).skip(from) {
                    let x = if table.columns[*k].figures {
                        edges[*k] + room - (PAD + line.width()) * em
                    } else {
                        edges[*k] + PAD * em
                    };
                    let y = flow.y + CELL_AIR + (n - from) as f64 * high;
                    flow.words(x, y, table.size, line.clone(), ink);
                }
            }
        };
        let begin = |flow: &mut Flow| {
            if headed {
                draw(flow, &head, 0, usize::MAX, Ink::Soft);
                flow.y += height(&head);
                let y = flow.y;
                flow.rule([flow.left(), y], [flow.left() + all, y], 0.25, Ink::Dark);
            }
        };
        let rows = || table.rows.iter().chain(&table.foot);
        let least: f64 = rows().take(if table.whole { usize::MAX } else { 1 }).map(|r| height(&set(r))).sum();
        let least = if headed { least + height(&head) } else { least };
        if least <= body {
            self.need(least);
        }
        begin(self);
        let rows = table.rows.iter().map(|r| (r, false)).chain(table.foot.iter().map(|r| (r, true)));
        for (k, (row, foot)) in rows.enumerate() {
            let row = set(row);
            let of = height(&row);
            if foot && k == table.rows.len() {
                let y = self.y;
                self.rule([self.left(), y], [self.left() + all, y], 0.25, Ink::Dark);
            }
            // a row that is longer than a page is told over several
            let mut from = 0;
            let count = row.iter().map(|(_, _, l)| l.len()).max().unwrap_or(1);
            while from < count {
                let left = (count - from) as f64 * high + 2.0 * CELL_AIR;
                if self.y + left > self.bottom() + 1e-6
                    && (of <= body - height(&head) || self.y + 3.0 * high > self.bottom())
                {
                    self.new_page();
                    begin(self);
                }
                let fit = ((self.bottom() - self.y - 2.0 * CELL_AIR) / high + 1e-6).floor().max(1.0) as usize;
                let to = (from + fit).min(count);
                draw(self, &row, from, to, Ink::Dark);
                self.y += (to - from) as f64 * high + 2.0 * CELL_AIR;
                from = to;
            }
            let y = self.y;
            self.rule([self.left(), y], [self.left() + all, y], HAIR, Ink::Soft);
        }
        self.y += 2.5;
    }

    fn labels(&mut self, labels: &[Label], wide: f64) {
        let cell = wide / 2.0;
        for (k, label) in labels.iter().enumerate() {
            if k % 2 == 0 {
                self.need(LABEL);
            }
            let (x, y) = (self.left() + (k % 2) as f64 * cell, self.y);
            self.put(Mark::Rule { from: [x, y], to: [x + cell, y + LABEL], thick: HAIR, ink: Ink::Soft, frame: true });
            let square = LABEL - 8.0;
            let of = Drawing { svg: label.square.clone(), width: square, height: square };
            self.put(Mark::Drawing { at: [x + cell - square - 3.0, y + 4.0], of });
            let room = cell - square - 10.0;
            // a long tag becomes smaller, so that it stays on its label
            let large = f64::min(26.0, room / POINT / extent(&[bold(label.large.as_str())])[1].max(0.1));
            self.words(x + 4.0, y + 3.0, large, one(bold(label.large.as_str())), Ink::Dark);
            let mut down = y + 15.0;
            for line in label.lines.iter().flat_map(|l| lines(std::slice::from_ref(l), room / (NOTE * POINT))).take(4) {
                self.words(x + 4.0, down, NOTE, line, Ink::Dark);
                down += LEADING * NOTE * POINT;
            }
            if k % 2 == 1 || k + 1 == labels.len() {
                self.y += LABEL;
            }
        }
    }
}

/// A line of one span.
pub fn one(span: impl Into<Span>) -> Line {
    let span = span.into();
    let wide = width(&span.text, span.bold);
    Line { spans: vec![(span, wide)] }
}

#[cfg(test)]
mod tests {
    use super::super::table::{figures, words};
    use super::*;

    const SHEET: Sheet = Sheet { width: 210.0, height: 297.0, margin: 14.0 };

    fn said(page: &Page) -> Vec<String> {
        page.marks
            .iter()
            .filter_map(|m| match m {
                Mark::Words { line, .. } => Some(line.spans.iter().map(|(s, _)| s.text.as_str()).collect()),
                _ => None,
            })
            .collect()
    }

    fn inside(pages: &[Page]) {
        for m in pages.iter().flat_map(|p| &p.marks) {
            if let Mark::Words { at, size, line, .. } = m {
                let right = at[0] + line.width() * size * POINT;
                assert!(at[0] >= 14.0 - 1e-6 && right <= 196.0 + 1e-6 && at[1] <= 283.0, "{m:?}");
            }
        }
    }

    #[test]
    fn a_long_table_repeats_its_head_and_loses_no_row() {
        let rows = (0..200).map(|k| vec![format!("Room {k}").into(), format!("{k} W").into()]);
        let made = pages(SHEET, &[Block::Table(Table::new([words("Room"), figures("Loss")]).rows(rows))]);
        assert!(made.len() >= 3);
        assert!(made.iter().all(|p| said(p)[..2] == ["Room".to_owned(), "Loss".to_owned()]));
        let all: Vec<String> = made.iter().flat_map(said).collect();
        assert!((0..200).all(|k| all.iter().filter(|t| **t == format!("Room {k}")).count() == 1));
        inside(&made);
    }

    #[test]
    fn a_heading_stays_with_what_it_heads() {
        let filler = Block::Text(vec!["word ".repeat(40).trim_end().into()]);
        for n in 1..40 {
            let mut blocks = vec![filler.clone(); n];
            blocks.extend([
                Block::Heading("Rooms".into()),
                Block::Table(Table::new([words("Room")]).rows([vec!["Hall".into()]])),
            ]);
            let made = pages(SHEET, &blocks);
            let on = made.iter().find(|p| said(p).contains(&"Rooms".to_owned())).expect("a page has it");
            assert!(said(on).contains(&"Hall".to_owned()), "{n}");
        }
    }

    #[test]
    fn a_row_longer_than_a_page_is_told_over_several() {
        let long = (0..2000).map(|k| k.to_string()).collect::<Vec<_>>().join(" ");
        let made = pages(
            SHEET,
            &[Block::Table(Table::new([words("What"), words("Said")]).rows([vec!["x".into(), long.clone().into()]]))],
        );
        assert!(made.len() > 1);
        let all: Vec<String> =
            made.iter().flat_map(said).filter(|t| t.chars().all(|c| c.is_ascii_digit() || c == ' ')).collect();
        assert_eq!(all.join(" "), long);
        inside(&made);
    }

    #[test]
    fn drawings_labels_and_stops_stay_within_their_page() {
        let drawing = Block::Drawing(Drawing { svg: String::new(), width: 100.0, height: 200.0 });
        let label = Label {
            large: "A12 return".into(),
            lines: vec!["Hall".into(), "long ".repeat(60).into()],
            square: String::new(),
        };
        let blocks = [
            drawing.clone(),
            drawing,
            Block::Labels(vec![label; 17]),
            Block::Stop("Stop.".into(), "because ".repeat(30)),
            Block::NewPage,
        ];
        let made = pages(SHEET, &blocks);
        assert_eq!(made.iter().flat_map(|p| &p.marks).filter(|m| matches!(m, Mark::Drawing { .. })).count(), 19);
        for m in made.iter().flat_map(|p| &p.marks) {
            match m {
                Mark::Drawing { at, of } => assert!(at[1] + of.height <= 283.0 + 1e-6),
                Mark::Rule { to, .. } => assert!(to[1] <= 283.0 + 1e-6 && to[0] <= 196.0 + 1e-6),
                Mark::Words { .. } => {}
            }
        }
        inside(&made);
        assert!(!made.last().expect("pages").marks.is_empty());
    }
}

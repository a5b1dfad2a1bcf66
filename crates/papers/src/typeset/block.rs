//! What a paper is made of, before it is on pages.

use super::table::Table;
use super::text::Span;

/// A drawing with its size on paper, mm.
#[derive(Debug, Clone, PartialEq)]
pub struct Drawing {
    /// As SVG.
    pub svg: String,
    /// Across.
    pub width: f64,
    /// Down.
    pub height: f64,
}

/// One part of a paper.
#[derive(Debug, Clone, PartialEq)]
pub enum Block {
    /// The large line at the top of a page, and what stands under it.
    Title(String, String),
    /// A heading; what follows stays with it.
    Heading(String),
    /// A heading within one.
    Minor(String),
    /// A paragraph.
    Text(Vec<Span>),
    /// A paragraph in smaller, softer type.
    Note(Vec<Span>),
    /// Paragraphs with a dot before each.
    List(Vec<Vec<Span>>),
    /// Short names over bold values, side by side.
    Facts(Vec<(String, String)>),
    /// Names, and what is said to each beside it.
    Pairs(Vec<(String, String)>),
    /// Rows and columns; its head is repeated on every page.
    Table(Table),
    /// A drawing, from the left margin.
    Drawing(Drawing),
    /// A frame that nobody overlooks: bold words first, then the rest.
    Stop(String, String),
    /// Cells of one size side by side and down the page, each with a drawing at its right: labels to be cut out.
    Labels(Vec<Label>),
    /// What follows begins on a new page.
    NewPage,
}

/// A label to be cut out.
#[derive(Debug, Clone, PartialEq)]
pub struct Label {
    /// Large, at the left.
    pub large: String,
    /// Lines beside it.
    pub lines: Vec<Span>,
    /// A square drawing at its right, as SVG.
    pub square: String,
}

/// A paragraph of what can be written as spans.
pub fn text<const N: usize>(spans: [Span; N]) -> Block {
    Block::Text(spans.into())
}

/// A paragraph in one cut.
pub fn plain(text: impl Into<String>) -> Block {
    Block::Text(vec![Span::from(text.into())])
}

/// A small paragraph.
pub fn note(text: impl Into<String>) -> Block {
    Block::Note(vec![Span::from(text.into())])
}

/// Paragraphs with a dot before each.
pub fn list<T: Into<String>>(lines: impl IntoIterator<Item = T>) -> Block {
    Block::List(lines.into_iter().map(|l| vec![Span::from(l.into())]).collect())
}

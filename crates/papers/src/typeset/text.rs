//! Words in the papers' typeface: how wide they are, where a line ends.

use rustybuzz::{Direction, Face, ShapePlan, UnicodeBuffer, script};
use std::sync::LazyLock;

/// The two cuts in which papers are set; they ship with the program and are embedded in every file.
static CUTS: LazyLock<[Cut; 2]> = LazyLock::new(|| {
    [
        Cut::of(include_bytes!("../../fonts/SourceSans3-Regular.ttf")),
        Cut::of(include_bytes!("../../fonts/SourceSans3-Semibold.ttf")),
    ]
});

/// One cut of the typeface, for measuring and for drawing.
pub struct Cut {
    face: Face<'static>,
    /// How letters become signs; made once, because making it takes longer than using it.
    plan: ShapePlan,
    /// As the PDF takes it.
    pub font: krilla::text::Font,
    /// The file itself.
    pub bytes: &'static [u8],
}

impl Cut {
    fn of(bytes: &'static [u8]) -> Cut {
        let face = Face::from_slice(bytes, 0).expect("the typeface that ships is sound");
        let font = krilla::text::Font::new(bytes.into(), 0).expect("the typeface that ships is sound");
        let plan = ShapePlan::new(&face, Direction::LeftToRight, Some(script::LATIN), None, &[]);
        Cut { face, plan, font, bytes }
    }

    /// The regular cut, or the bold one.
    pub fn get(bold: bool) -> &'static Cut {
        &CUTS[usize::from(bold)]
    }
}

/// One sign on its way: its number in the typeface, the bytes of the text that it stands for, and lengths in ems.
#[derive(Debug, Clone, PartialEq)]
pub struct Sign {
    /// Number in the typeface; 0 is the box for what it does not have.
    pub id: u16,
    /// Its bytes of the text.
    pub bytes: std::ops::Range<usize>,
    /// How far the next one is, ems.
    pub advance: f64,
    /// Where it is drawn from there, ems.
    pub offset: [f64; 2],
}

/// A text as signs, with kerning and ligatures.
pub fn shape(text: &str, bold: bool) -> Vec<Sign> {
    let Cut { face, plan, .. } = Cut::get(bold);
    let em = f64::from(face.units_per_em());
    let mut buffer = UnicodeBuffer::new();
    buffer.push_str(text);
    // the typeface has the scripts that are written so
    buffer.set_direction(Direction::LeftToRight);
    buffer.set_script(script::LATIN);
    let glyphs = rustybuzz::shape_with_plan(face, plan, buffer);
    let starts: Vec<usize> = glyphs.glyph_infos().iter().map(|i| i.cluster as usize).collect();
    // several signs may stand for one cluster: it ends where the next one begins
    let end = |at: usize| starts.iter().copied().filter(|&s| s > at).min().unwrap_or(text.len());
    let mut out = Vec::with_capacity(starts.len());
    for (info, place) in glyphs.glyph_infos().iter().zip(glyphs.glyph_positions()) {
        let at = info.cluster as usize;
        out.push(Sign {
            id: u16::try_from(info.glyph_id).unwrap_or(0),
            bytes: at..end(at),
            advance: f64::from(place.x_advance) / em,
            offset: [f64::from(place.x_offset) / em, f64::from(place.y_offset) / em],
        });
    }
    out
}

/// Width of a text, ems.
pub fn width(text: &str, bold: bool) -> f64 {
    shape(text, bold).iter().map(|s| s.advance).sum()
}

/// A stretch of text in one cut.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Span {
    /// What it says.
    pub text: String,
    /// In the bold cut.
    pub bold: bool,
}

impl<T: Into<String>> From<T> for Span {
    fn from(text: T) -> Span {
        Span { text: clean(text.into()), bold: false }
    }
}

/// A stretch in the bold cut.
pub fn bold(text: impl Into<String>) -> Span {
    Span { bold: true, ..Span::from(text.into()) }
}

/// What people have typed may hold anything; on paper it is one line without controls.
fn clean(text: String) -> String {
    let joined = text.split(|c: char| c.is_control()).filter(|p| !p.is_empty()).collect::<Vec<_>>().join(" ");
    joined
        .chars()
        .filter(|c| !matches!(c, '\u{200e}' | '\u{200f}' | '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}'))
        .collect()
}

/// A piece of a line: a word, or the part of it that is in one cut.
#[derive(Debug, Clone, PartialEq)]
struct Piece {
    span: Span,
    width: f64,
    /// A blank stands before it.
    blank: bool,
}

/// A line that has been broken: its spans, each with its width in ems.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Line {
    /// From the left on.
    pub spans: Vec<(Span, f64)>,
}

impl Line {
    /// Its width, ems.
    pub fn width(&self) -> f64 {
        self.spans.iter().map(|(_, w)| w).sum()
    }

    fn push(&mut self, piece: &Piece) {
        let text = if piece.blank && !self.spans.is_empty() {
            format!(" {}", piece.span.text)
        } else {
            piece.span.text.clone()
        };
        let advance = if text.len() > piece.span.text.len() { piece.width + blank() } else { piece.width };
        match self.spans.last_mut() {
            Some((last, w)) if last.bold == piece.span.bold => {
                last.text.push_str(&text);
                *w += advance;
            }
            _ => self.spans.push((Span { text, bold: piece.span.bold }, advance)),
        }
    }
}

fn blank() -> f64 {
    static BLANK: LazyLock<f64> = LazyLock::new(|| width(" ", false));
    *BLANK
}

/// The words of a text; a blank parts them, a no-break space does not. A word whose cut changes is held together.
fn words(spans: &[Span]) -> Vec<Vec<Piece>> {
    let mut words: Vec<Vec<Piece>> = Vec::new();
    let mut blank = false;
    for span in spans {
        for (k, part) in span.text.split(' ').enumerate() {
            blank |= k > 0;
            if part.is_empty() {
                continue;
            }
            let piece =
                Piece { width: width(part, span.bold), span: Span { text: part.into(), bold: span.bold }, blank };
            match words.last_mut() {
                Some(word) if !blank => word.push(piece),
                _ => words.push(vec![piece]),
            }
            blank = false;
        }
    }
    words
}

/// The narrowest column that breaks no word, and the width of the whole on one line, ems.
pub fn extent(spans: &[Span]) -> [f64; 2] {
    let words = words(spans);
    let of = |w: &Vec<Piece>| w.iter().map(|p| p.width).sum::<f64>();
    let whole: f64 = words.iter().map(of).sum();
    [words.iter().map(of).fold(0.0, f64::max), whole + blank() * words.len().saturating_sub(1) as f64]
}

/// Breaks a text into lines no wider than `room`, ems. A word that is wider than a line alone is broken between letters.
pub fn lines(spans: &[Span], room: f64) -> Vec<Line> {
    let mut out = vec![Line::default()];
    for word in words(spans) {
        let wide: f64 = word.iter().map(|p| p.width).sum();
        let line = out.last_mut().expect("there is always a line");
        let gap = if word[0].blank && !line.spans.is_empty() { blank() } else { 0.0 };
        // a hair's breadth is forgiven: columns are made just as wide as their text
        if line.width() + gap + wide > room + 1e-6 && !line.spans.is_empty() {
            out.push(Line::default());
        }
        if wide <= room + 1e-6 {
            let line = out.last_mut().expect("there is always a line");
            word.iter().for_each(|p| line.push(p));
        } else {
            broken(&word, room, &mut out);
        }
    }
    out
}

fn broken(word: &[Piece], room: f64, out: &mut Vec<Line>) {
    for piece in word {
        for c in piece.span.text.chars() {
            let text = c.to_string();
            let one = Piece {
                width: width(&text, piece.span.bold),
                span: Span { text, bold: piece.span.bold },
                blank: false,
            };
            let line = out.last_mut().expect("there is always a line");
            if line.width() + one.width > room && !line.spans.is_empty() {
                out.push(Line::default());
            }
            out.last_mut().expect("there is always a line").push(&one);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Advances as the file's own table `hmtx` has them, per mille: read with an independent tool.
    #[test]
    fn widths_are_those_of_the_typeface() {
        for (text, units) in [("H", 652.0), ("e", 496.0), (" ", 200.0), ("0", 497.0)] {
            assert!((width(text, false) * 1000.0 - units).abs() < 0.5, "{text}: {}", width(text, false) * 1000.0);
        }
    }

    #[test]
    fn every_sign_that_papers_use_is_in_both_cuts() {
        for c in "☐→←↑↓↗↘↙↖′″θΔψρε·½¼¾⅛×÷−–—…°²³≥≤ÄÖÜäöüßéñłšžőçø€£$⌀".chars().filter(|c| *c != '⌀')
        {
            for bold in [false, true] {
                assert_ne!(shape(&c.to_string(), bold)[0].id, 0, "{c}");
            }
        }
    }

    #[test]
    fn lines_hold_every_word_once_and_are_no_wider_than_asked() {
        let spans = [
            Span::from("Tubes stay under pressure while anything is "),
            bold("poured"),
            Span::from("; the gauge in sight at 3\u{a0}bar."),
        ];
        for room in [4.0, 6.5, 9.0, 20.0, 80.0] {
            let set = lines(&spans, room);
            let text = set
                .iter()
                .map(|l| l.spans.iter().map(|(s, _)| s.text.as_str()).collect::<String>())
                .collect::<Vec<_>>();
            assert_eq!(
                text.join(" "),
                "Tubes stay under pressure while anything is poured; the gauge in sight at 3\u{a0}bar."
            );
            assert!(set.iter().all(|l| l.width() <= room + 1e-6), "{room}: {text:?}");
        }
        assert_eq!(lines(&spans, 200.0).len(), 1);
        assert!((lines(&spans, 200.0)[0].width() - extent(&spans)[1]).abs() < 1e-9);
    }

    #[test]
    fn a_word_wider_than_its_line_is_broken_and_nothing_is_lost() {
        let set = lines(&[Span::from("W".repeat(40))], 5.0);
        assert!(set.len() > 5 && set.iter().all(|l| l.width() <= 5.0));
        assert_eq!(set.iter().flat_map(|l| &l.spans).map(|(s, _)| s.text.len()).sum::<usize>(), 40);
        assert_eq!(lines(&[], 5.0).len(), 1);
        // narrower than a letter: a letter a line
        assert_eq!(lines(&[Span::from("abc")], 0.01).len(), 3);
    }

    #[test]
    fn what_was_typed_is_one_line_without_controls() {
        assert_eq!(Span::from("a\r\nb\u{202e}c\t").text, "a bc");
    }
}

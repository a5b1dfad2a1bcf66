//! Pages as a PDF: type is embedded as the signs that are used, text can be selected, drawings stay drawings.

use super::flow::{Mark, Page};
use super::text::{Cut, shape};
use super::{Ink, POINT};
use krilla::color::rgb;
use krilla::destination::XyzDestination;
use krilla::geom::{Path, PathBuilder, Point, Rect, Size, Transform};
use krilla::metadata::Metadata;
use krilla::num::NormalizedF32;
use krilla::outline::{Outline, OutlineNode};
use krilla::page::PageSettings;
use krilla::paint::{Fill, Stroke};
use krilla::surface::Surface;
use krilla::text::{GlyphId, KrillaGlyph};
use krilla_svg::{SurfaceExt, SvgSettings};
use std::sync::{Arc, LazyLock};

/// Why a PDF was not written.
#[derive(Debug)]
pub struct NotWritten(pub String);

impl std::fmt::Display for NotWritten {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "the PDF was not written: {}", self.0)
    }
}

impl std::error::Error for NotWritten {}

/// The typeface for the text in drawings.
static DRAWN_TYPE: LazyLock<Arc<usvg::fontdb::Database>> = LazyLock::new(|| {
    let mut fonts = usvg::fontdb::Database::new();
    for bold in [false, true] {
        fonts.load_font_data(Cut::get(bold).bytes.to_vec());
    }
    let family =
        fonts.faces().next().and_then(|f| f.families.first().map(|(name, _)| name.clone())).unwrap_or_default();
    fonts.set_sans_serif_family(family);
    Arc::new(fonts)
});

/// Writes pages as one PDF with a title; `chapters` are its bookmarks: a name, and the page from 0 on at which it begins.
///
/// # Errors
/// When a drawing is no SVG, or a page has no size.
pub fn write(title: &str, pages: &[Page], chapters: &[(String, usize)]) -> Result<Vec<u8>, NotWritten> {
    let mut document = krilla::Document::new();
    document
        .set_metadata(Metadata::new().title(title.to_owned()).creator("Fuoco".to_owned()).language("en".to_owned()));
    for page in pages {
        let size = PageSettings::from_wh(points(page.sheet.width), points(page.sheet.height));
        let mut on = document.start_page_with(size.ok_or_else(|| NotWritten("a page without size".into()))?);
        let mut surface = on.surface();
        for mark in &page.marks {
            draw(&mut surface, mark)?;
        }
        surface.finish();
        on.finish();
    }
    let mut outline = Outline::new();
    for (name, page) in chapters {
        outline.push_child(OutlineNode::new(name.clone(), XyzDestination::new(*page, Point::from_xy(0.0, 0.0))));
    }
    document.set_outline(outline);
    document.finish().map_err(|e| NotWritten(format!("{e:?}")))
}

fn points(mm: f64) -> f32 {
    (mm / POINT) as f32
}

fn at(p: [f64; 2]) -> Point {
    Point::from_xy(points(p[0]), points(p[1]))
}

fn paint(ink: Ink) -> krilla::paint::Paint {
    let [r, g, b] = ink.rgb();
    rgb::Color::new(r, g, b).into()
}

fn filled(ink: Ink) -> Fill {
    Fill { paint: paint(ink), opacity: NormalizedF32::ONE, ..Fill::default() }
}

fn draw(surface: &mut Surface, mark: &Mark) -> Result<(), NotWritten> {
    match mark {
        Mark::Words { at: [x, y], size, line, ink } => {
            surface.set_stroke(None);
            surface.set_fill(Some(filled(*ink)));
            let mut x = *x;
            for (span, width) in &line.spans {
                let glyphs: Vec<KrillaGlyph> = shape(&span.text, span.bold)
                    .into_iter()
                    .map(|s| {
                        let [dx, dy] = s.offset.map(|v| v as f32);
                        KrillaGlyph::new(GlyphId::new(u32::from(s.id)), s.advance as f32, dx, dy, 0.0, s.bytes, None)
                    })
                    .collect();
                let font = Cut::get(span.bold).font.clone();
                surface.draw_glyphs(at([x, *y]), &glyphs, font, &span.text, *size as f32, false);
                x += width * size * POINT;
            }
        }
        Mark::Rule { from, to, thick, ink, frame } => {
            surface.set_fill(None);
            surface.set_stroke(Some(Stroke { paint: paint(*ink), width: points(*thick), ..Stroke::default() }));
            if let Some(path) = rule(*from, *to, *frame) {
                surface.draw_path(&path);
            }
        }
        Mark::Drawing { at: [x, y], of } => {
            if of.svg.is_empty() {
                return Ok(());
            }
            let options = usvg::Options {
                fontdb: DRAWN_TYPE.clone(),
                font_family: "sans-serif".into(),
                ..usvg::Options::default()
            };
            let tree = usvg::Tree::from_str(&of.svg, &options)
                .map_err(|e| NotWritten(format!("a drawing is damaged: {e}")))?;
            let Some(size) = Size::from_wh(points(of.width), points(of.height)) else { return Ok(()) };
            surface.push_transform(&Transform::from_translate(points(*x), points(*y)));
            let drawn = surface.draw_svg(&tree, size, SvgSettings::default());
            surface.pop();
            drawn.ok_or_else(|| NotWritten("a drawing could not be placed".into()))?;
        }
    }
    Ok(())
}

fn rule(from: [f64; 2], to: [f64; 2], frame: bool) -> Option<Path> {
    let mut path = PathBuilder::new();
    if frame {
        let (a, b) = (at(from), at(to));
        path.push_rect(Rect::from_ltrb(a.x, a.y, b.x, b.y)?);
    } else {
        let (a, b) = (at(from), at(to));
        path.move_to(a.x, a.y);
        path.line_to(b.x, b.y);
    }
    path.finish()
}

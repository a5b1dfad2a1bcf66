//! A text as a square code that a phone reads (QR, ISO/IEC 18004).

use qrcode::{Color, EcLevel, QrCode};
use std::fmt::Write;

/// Blank round the code, in its squares, as the standard asks for.
const QUIET: usize = 4;

/// The code as SVG; empty where the text is longer than any code takes.
pub fn of(text: &str) -> String {
    // labels get dirty: a quarter of the code may be lost
    let code =
        [EcLevel::Q, EcLevel::L].into_iter().find_map(|level| QrCode::with_error_correction_level(text, level).ok());
    let Some(code) = code else { return String::new() };
    let n = code.width();
    let side = n + 2 * QUIET;
    let mut path = String::new();
    for (k, _) in code.to_colors().iter().enumerate().filter(|(_, c)| **c == Color::Dark) {
        let _ = write!(path, "M{},{}h1v1h-1z", k % n + QUIET, k / n + QUIET);
    }
    format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{side}\" height=\"{side}\" viewBox=\"0 0 {side} {side}\"><path fill=\"#000\" d=\"{path}\"/></svg>"
    )
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_code_has_the_three_finders_and_what_is_too_long_has_none() {
        let svg = of("http://127.0.0.1:8642/jobs/a/papers?sheet=loop&loop=A1");
        // the dark corner of each finder, just inside the blank
        for corner in ["M4,4h1", "M10,4h1", "M4,10h1"] {
            assert!(svg.contains(corner), "{corner}");
        }
        assert!(!svg.contains("M3,") && !svg.contains("M11,4h1"));
        assert_eq!(of(&"x".repeat(8000)), "");
    }
}

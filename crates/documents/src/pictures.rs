//! Pictures that are kept with a job: what they are is read from their bytes, not from what their sender says.

use fuoco_core::error::FieldError;
use image::{ImageFormat, ImageReader};
use std::io::Cursor;

/// A larger picture is refused, bytes.
pub const LARGEST_FILE: usize = 24 << 20;
/// Pixels along one side.
const LONGEST_SIDE: u32 = 20_000;
/// Pixels in all.
const MOST_PIXELS: u64 = 120_000_000;

/// A picture known by its bytes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Picture {
    /// `image/png` or `image/jpeg`.
    pub media_type: &'static str,
    /// Pixels across.
    pub width_px: u32,
    /// Pixels down.
    pub height_px: u32,
}

/// Recognises a PNG or JPEG by its bytes.
///
/// # Errors
/// When it is neither, is cut off in its head, or larger than the sheet takes.
pub fn recognise(bytes: &[u8]) -> Result<Picture, FieldError> {
    let wrong = |reason: String| Err(FieldError::new("file", reason));
    if bytes.len() > LARGEST_FILE {
        return wrong(format!("must not be larger than {} MB", LARGEST_FILE >> 20));
    }
    let reader = ImageReader::new(Cursor::new(bytes)).with_guessed_format();
    let Ok(reader) = reader else { return wrong("does not read".into()) };
    let media_type = match reader.format() {
        Some(ImageFormat::Png) => "image/png",
        Some(ImageFormat::Jpeg) => "image/jpeg",
        _ => return wrong("must be a picture as PNG or JPEG".into()),
    };
    match reader.into_dimensions() {
        Ok((width_px, height_px)) => {
            let pixels = u64::from(width_px) * u64::from(height_px);
            if width_px == 0 || height_px == 0 || width_px.max(height_px) > LONGEST_SIDE || pixels > MOST_PIXELS {
                return wrong(format!(
                    "is {width_px} × {height_px} pixels; the sheet takes up to {LONGEST_SIDE} along a side and {} million in all",
                    MOST_PIXELS / 1_000_000
                ));
            }
            Ok(Picture { media_type, width_px, height_px })
        }
        Err(e) => wrong(format!("is a damaged picture: {e}")),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn png(width: u32, height: u32) -> Vec<u8> {
        let mut out = Cursor::new(Vec::new());
        image::GrayImage::new(width, height).write_to(&mut out, ImageFormat::Png).expect("writes");
        out.into_inner()
    }

    #[test]
    fn pictures_are_known_by_their_bytes() {
        assert_eq!(recognise(&png(30, 20)), Ok(Picture { media_type: "image/png", width_px: 30, height_px: 20 }));
        let mut jpeg = Cursor::new(Vec::new());
        image::RgbImage::new(8, 4).write_to(&mut jpeg, ImageFormat::Jpeg).expect("writes");
        assert_eq!(recognise(&jpeg.into_inner()).expect("jpeg").media_type, "image/jpeg");
    }

    #[test]
    fn what_is_no_picture_or_too_large_is_refused() {
        let reason = |b: &[u8]| recognise(b).expect_err("refused").reason;
        assert!(reason(b"%PDF-1.7 ...").contains("PNG or JPEG"));
        assert!(reason(b"<svg xmlns='http://www.w3.org/2000/svg'/>").contains("PNG or JPEG"));
        assert!(reason(b"").contains("PNG or JPEG"));
        assert!(reason(&png(30, 20)[..20]).contains("damaged"));
        assert!(reason(&png(20_001, 1)).contains("20001"));
        // a head that claims more than there is: width and height stand at bytes 16 to 24, then their checksum is wrong
        let mut liar = png(30, 20);
        liar[16..20].copy_from_slice(&u32::MAX.to_be_bytes());
        assert!(recognise(&liar).is_err());
        assert!(reason(&vec![0; LARGEST_FILE + 1]).contains("MB"));
    }
}

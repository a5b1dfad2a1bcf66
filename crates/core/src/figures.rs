//! Figures as JSON, as everybody reads them: without the sign that a computer gives to nothing.
//!
//! ```
//! assert_eq!(fuoco_core::figures::json(&[-0.0, 1.5]).unwrap(), "[0.0,1.5]");
//! ```

use serde::Serialize;
use serde_json::ser::{CompactFormatter, Formatter, Serializer};
use std::io::{self, Write};

struct Plain(CompactFormatter);

impl Formatter for Plain {
    fn write_f64<W: ?Sized + Write>(&mut self, writer: &mut W, value: f64) -> io::Result<()> {
        // minus nothing and nothing make nothing
        self.0.write_f64(writer, value + 0.0)
    }
}

/// A value as JSON without spaces.
///
/// # Errors
/// When the value is none that JSON has, which the types of this crate never are.
pub fn json<T: Serialize + ?Sized>(value: &T) -> serde_json::Result<String> {
    let mut out = Vec::with_capacity(1024);
    value.serialize(&mut Serializer::with_formatter(&mut out, Plain(CompactFormatter)))?;
    String::from_utf8(out).map_err(serde::ser::Error::custom)
}

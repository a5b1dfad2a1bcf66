//! A job with its records, pictures and weather file in one ZIP: `job.json`, `records.json` where the site has written something
//! down, and `files/<id>`, so that nothing is left behind when a job is handed on.

use fuoco_core::error::FieldError;
use fuoco_core::job::{CheckedJob, LARGEST_TEXT};
use fuoco_core::records::{Entry, read_entries};
use sha2::{Digest, Sha256};
use std::io::{Cursor, Read, Write};
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipArchive, ZipWriter};

/// A file in it larger than this is refused, bytes.
const LARGEST_PART: u64 = 25 << 20;
/// A bundle larger than this is refused, bytes; unpacked as well.
pub const LARGEST_FILE: usize = 200 << 20;
const MOST_FILES: usize = 2000;
/// Left for the job and its records beside pictures, bytes.
const ROOM: usize = 40 << 20;

/// What a bundle holds.
#[derive(Debug, Clone, PartialEq)]
pub struct Bundle {
    /// The job.
    pub job: CheckedJob,
    /// What the site wrote down, in the order in which it came.
    pub records: Vec<Entry>,
    /// Pictures and weather files.
    pub files: Vec<Vec<u8>>,
}

/// Packs a job, its records and its files, each by its id.
///
/// # Errors
/// When it would hold more than can be read again.
pub fn write(job: &CheckedJob, records: &[Entry], files: &[(String, Vec<u8>)]) -> Result<Vec<u8>, FieldError> {
    let failed = |e: &dyn std::fmt::Display| FieldError::new("bundle", format!("cannot be packed: {e}"));
    let bytes: usize = files.iter().map(|(_, b)| b.len()).sum();
    if files.len() + 2 > MOST_FILES || bytes + ROOM > LARGEST_FILE {
        let reason = format!(
            "would hold {} pictures and {} MB, and holds {} and {} MB at most: a backup of the server takes everything",
            files.len(),
            bytes >> 20,
            MOST_FILES - 2,
            (LARGEST_FILE - ROOM) >> 20
        );
        return Err(FieldError::new("bundle", reason));
    }
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    let packed = SimpleFileOptions::default().compression_method(CompressionMethod::Deflated);
    zip.start_file("job.json", packed).map_err(|e| failed(&e))?;
    zip.write_all(job.text()?.as_bytes()).map_err(|e| failed(&e))?;
    if !records.is_empty() {
        zip.start_file("records.json", packed).map_err(|e| failed(&e))?;
        let text = serde_json::to_string(records).map_err(|e| failed(&e))?;
        zip.write_all(text.as_bytes()).map_err(|e| failed(&e))?;
    }
    for (id, bytes) in files {
        // pictures are packed already
        let stored = SimpleFileOptions::default().compression_method(CompressionMethod::Stored);
        let options = if bytes.starts_with(b"LOCATION") { packed } else { stored };
        zip.start_file(format!("files/{id}"), options).map_err(|e| failed(&e))?;
        zip.write_all(bytes).map_err(|e| failed(&e))?;
    }
    Ok(zip.finish().map_err(|e| failed(&e))?.into_inner())
}

/// Unpacks a job, its records and its files.
///
/// # Errors
/// When it is no bundle, its job or a record does not read, a file is not what its name says, or it unpacks to more than the limit.
pub fn read(bytes: &[u8]) -> Result<Bundle, FieldError> {
    let failed = |e: &dyn std::fmt::Display| FieldError::new("bundle", format!("does not read: {e}"));
    let mut zip = ZipArchive::new(Cursor::new(bytes)).map_err(|e| failed(&e))?;
    if zip.len() > MOST_FILES {
        return Err(FieldError::new("bundle", format!("must not hold more than {MOST_FILES} files")));
    }
    let (mut job, mut records, mut files, mut left) = (None, Vec::new(), Vec::new(), LARGEST_FILE as u64);
    for i in 0..zip.len() {
        let entry = zip.by_index(i).map_err(|e| failed(&e))?;
        let name = entry.name().to_owned();
        if name != "job.json" && name != "records.json" && !name.starts_with("files/") {
            continue;
        }
        let largest = if name == "job.json" { LARGEST_TEXT as u64 } else { LARGEST_PART };
        if entry.size() > largest {
            let mb = largest >> 20;
            return Err(FieldError::new("bundle", format!("\"{name}\" in it must not be larger than {mb} MB")));
        }
        let mut content = Vec::new();
        entry.take(largest.min(left) + 1).read_to_end(&mut content).map_err(|e| failed(&e))?;
        // whatever it says of its own size
        if content.len() as u64 > largest.min(left) {
            return Err(FieldError::new("bundle", format!("must not unpack to more than {} MB", LARGEST_FILE >> 20)));
        }
        left -= content.len() as u64;
        if name == "job.json" {
            let text = String::from_utf8(content).map_err(|e| failed(&e))?;
            job = Some(CheckedJob::from_json(&text)?);
        } else if name == "records.json" {
            let text = String::from_utf8(content).map_err(|e| failed(&e))?;
            let inside = |e: FieldError| FieldError::new(format!("records.json{}", e.field), e.reason);
            records = read_entries(&text).map_err(inside)?;
        } else if !content.is_empty() {
            let id: String = Sha256::digest(&content).iter().map(|b| format!("{b:02x}")).collect();
            if name.strip_prefix("files/") != Some(&id) {
                let reason = format!("\"{name}\" in it is not what was packed under that name: the bundle is damaged");
                return Err(FieldError::new("bundle", reason));
            }
            files.push(content);
        }
    }
    let job = job.ok_or_else(|| FieldError::new("bundle", "holds no job.json"))?;
    Ok(Bundle { job, records, files })
}

#[cfg(test)]
mod tests {
    use super::*;
    use fuoco_core::job::Job;
    use fuoco_core::records::Record;

    #[test]
    fn a_bundle_unpacks_to_what_was_packed() {
        let job = CheckedJob::new(Job::new("Packed")).expect("sound");
        // SHA-256 of the bytes 1, 2, 3
        let three = "039058c6f2c0cb492c533b0a4d14ef77cc0f78abccced5287d84a1a2011cfb81";
        let text = b"LOCATION,x".repeat(50);
        let of_text = Sha256::digest(&text).iter().map(|b| format!("{b:02x}")).collect::<String>();
        let files = vec![(three.to_owned(), vec![1, 2, 3]), (of_text, text)];
        let note = |number| {
            let record = format!(
                r#"{{"id": "record-{number}", "at": "2026-11-30T07:12:00Z", "fact": {{"kind": "note"}}, "note": "wet"}}"#
            );
            let record = Record::from_json(&record).expect("a record");
            Entry { number, received_at: "2026-11-30T18:00:00Z".into(), who: "Ada".into(), record }
        };
        let records = vec![note(1), note(2)];
        let bytes = write(&job, &records, &files).expect("packs");
        let back = read(&bytes).expect("reads");
        assert_eq!(back, Bundle { job: job.clone(), records, files: files.into_iter().map(|f| f.1).collect() });
        let long = Entry { record: Record { note: "x".repeat(100_000), ..note(1).record }, ..note(1) };
        let refused = read(&write(&job, &[long], &[]).expect("packs")).expect_err("refused");
        assert_eq!(refused.field, "records.json[0].record.note");
        // what could not be opened again is not packed
        let many: Vec<(String, Vec<u8>)> = (0..2000).map(|k| (k.to_string(), vec![1])).collect();
        assert!(write(&job, &[], &many).expect_err("refused").reason.contains("2000 pictures"));
        // another file under that name
        let swapped = write(&job, &[], &[(three.to_owned(), vec![1, 2, 4])]).expect("packs");
        assert!(read(&swapped).expect_err("refused").reason.contains("is not what was packed"));
    }

    #[test]
    fn what_is_no_bundle_is_refused() {
        assert_eq!(read(b"not a zip").expect_err("refused").field, "bundle");
        let mut empty = ZipWriter::new(Cursor::new(Vec::new()));
        empty.start_file("else.txt", SimpleFileOptions::default()).expect("starts");
        let bytes = empty.finish().expect("ends").into_inner();
        assert!(read(&bytes).expect_err("refused").reason.contains("job.json"));
        let whole = write(&CheckedJob::new(Job::new("x")).expect("sound"), &[], &[]).expect("packs");
        assert!(read(&whole[..whole.len() / 2]).is_err());
    }
}

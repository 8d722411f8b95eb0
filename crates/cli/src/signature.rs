//! How files tell that we wrote them: in their first line or, where the format begins
//! otherwise, at the first place for a remark.

use std::fs;
use std::io::Read as _;
use std::path::Path;

/// What every remark of ours says.
const MADE: &str = "Made by tidy-lattice";

/// How many bytes from the start tell.
const TELLING: usize = 400;

/// The eight bytes of PNG, its header, and the head of the chunk behind.
const PNG: &[u8] = b"\x89PNG\r\n\x1a\n";
const PNG_TEXT_AT: usize = 8 + 25 + 4;
const PNG_TEXT: &[u8] = b"tEXtSoftware\0Made by tidy-lattice";

/// The chunk that signs a picture: its length, its name and text, its sum.
const PNG_CHUNK: &[u8] = b"\0\0\0\x1dtEXtSoftware\0Made by tidy-lattice\x75\x41\x16\x91";

/// A picture that a browser made, signed as ours behind its header; what is no PNG stays as
/// it is.
pub fn signed_png(picture: &[u8]) -> Vec<u8> {
    let at = PNG_TEXT_AT - 4;
    if !picture.starts_with(PNG) || picture.len() < at {
        return picture.to_vec();
    }
    [&picture[..at], PNG_CHUNK, &picture[at..]].concat()
}

/// Whether the file at `path` holds `contents`, or says that we wrote it.
pub fn is_ours(path: &Path, contents: &[u8]) -> bool {
    // Only as much is read as tells the two apart.
    let most = contents.len().max(TELLING) as u64 + 1;
    let mut existing = Vec::new();
    let read = fs::File::open(path).and_then(|file| file.take(most).read_to_end(&mut existing));
    read.is_ok() && (existing == contents || is_signed(&existing[..existing.len().min(TELLING)]))
}

/// Whether a file that begins with `start` is signed.
fn is_signed(start: &[u8]) -> bool {
    if start.starts_with(PNG) {
        return start
            .get(PNG_TEXT_AT..)
            .is_some_and(|rest| rest.starts_with(PNG_TEXT));
    }
    let text = String::from_utf8_lossy(start);
    let (first, rest) = text.split_once('\n').unwrap_or((&text, ""));
    let remark = |line: &str| line.starts_with(&format!("<!-- {MADE}"));
    match first {
        "{" => {
            let next = rest.lines().next().unwrap_or_default().trim_start();
            next.starts_with("\"schema\": \"tidy-lattice/")
                || next.starts_with(&format!("\"$description\": \"{MADE} "))
                // SARIF names its maker.
                || (next.starts_with("\"$schema\": ") && rest.contains("\"name\": \"tidy-lattice\""))
        }
        _ if first.starts_with("<svg ") || first.starts_with("<?xml ") => remark(rest),
        _ => {
            first.starts_with(&format!("/* {MADE}"))
                || first.starts_with(&format!("# {MADE}:"))
                || remark(first)
        }
    }
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::{is_signed, signed_png};

    #[test]
    fn a_signed_picture_is_ours_and_still_one() {
        let mut plain = Vec::new();
        let mut encoder = png::Encoder::new(&mut plain, 2, 1);
        encoder.set_color(png::ColorType::Grayscale);
        let mut writer = encoder.write_header().expect("a header");
        writer.write_image_data(&[7, 9]).expect("two pixels");
        writer.finish().expect("an end");
        assert!(!is_signed(&plain));
        let signed = signed_png(&plain);
        assert!(is_signed(&signed));
        // The decoder checks the sums of all chunks.
        let mut reader = png::Decoder::new(std::io::Cursor::new(&signed));
        reader.set_ignore_text_chunk(false);
        let mut reader = reader.read_info().expect("a picture");
        let mut pixels = [0; 2];
        reader.next_frame(&mut pixels).expect("its pixels");
        assert_eq!(pixels, [7, 9]);
        let texts = &reader.info().uncompressed_latin1_text;
        assert_eq!(texts[0].text, "Made by tidy-lattice");
        assert_eq!(signed_png(b"none"), b"none");
    }

    #[rstest]
    #[case::sheet("/* Made by tidy-lattice: Brand.", true)]
    #[case::report("<!-- Made by tidy-lattice -->\n# Fonts", true)]
    #[case::platform("# Made by tidy-lattice: measured.\ntitle", true)]
    #[case::heading("# Made by tidy-lattice and us", false)]
    #[case::result("{\n \"schema\": \"tidy-lattice/card/1\",", true)]
    #[case::tokens("{\n  \"$description\": \"Made by tidy-lattice 0.1.0\",", true)]
    #[case::picture("<svg xmlns=\"a\">\n<!-- Made by tidy-lattice -->", true)]
    #[case::junit("<?xml version=\"1.0\"?>\n<!-- Made by tidy-lattice -->", true)]
    #[case::sarif("{\n  \"$schema\": \"x\",\n  \"name\": \"tidy-lattice\"", true)]
    #[case::said_later("p {}\n/* Made by tidy-lattice */", false)]
    #[case::said_in_passing("/* Not Made by tidy-lattice */", false)]
    #[case::quoted("# We use a sheet Made by tidy-lattice", false)]
    #[case::key_of_another("{\n \"a\": 1, \"schema\": \"tidy-lattice/card/1\"", false)]
    #[case::empty("", false)]
    fn a_file_is_ours_by_its_first_line(#[case] start: &str, #[case] ours: bool) {
        assert_eq!(is_signed(start.as_bytes()), ours);
    }
}

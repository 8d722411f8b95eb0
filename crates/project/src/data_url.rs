//! What is in `data:` URLs (RFC 2397; URL Standard, "data: URL processor").

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD_NO_PAD;

/// Whether a URL holds its own data.
pub(super) fn is_data(url: &str) -> bool {
    let start = url.trim_start().get(..5);
    start.is_some_and(|start| start.eq_ignore_ascii_case("data:"))
}

/// The bytes that a `data:` URL holds; nothing of one that is not well formed.
pub(super) fn bytes_of(url: &str) -> Option<Vec<u8>> {
    let (kind, data) = url.trim().split_once(',')?;
    let bytes: Vec<u8> = percent_encoding::percent_decode_str(data).collect();
    if !kind.to_ascii_lowercase().ends_with(";base64") {
        return Some(bytes);
    }
    let plain: Vec<u8> = bytes
        .into_iter()
        .filter(|byte| !byte.is_ascii_whitespace() && *byte != b'=')
        .collect();
    STANDARD_NO_PAD.decode(plain).ok()
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    #[rstest]
    #[case::base64("data:image/gif;base64,R0lGODlh", Some("GIF89a"))]
    #[case::base64_with_blanks(" DATA:;BASE64,R0lG ODlh", Some("GIF89a"))]
    #[case::plain("data:text/css,a%7Bb%7D", Some("a{b}"))]
    #[case::no_base64("data:;base64,é", None)]
    #[case::no_comma("data:text/css", None)]
    fn bytes(#[case] url: &str, #[case] held: Option<&str>) {
        assert!(is_data(url));
        assert_eq!(bytes_of(url), held.map(|held| held.as_bytes().to_vec()));
        assert!(!is_data("dat"));
    }
}

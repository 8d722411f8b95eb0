//! Requests and answers of the server.

/// What a path is answered with.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Answer {
    /// The media type.
    pub kind: String,
    /// The content.
    pub content: Vec<u8>,
}

/// A request that was answered.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Request {
    /// The path, from `/` on, as it was asked for.
    pub path: String,
    /// The status of the answer.
    pub status: u16,
    /// How many bytes the content has.
    pub bytes: usize,
    /// Whether it was a font, by its media type.
    pub font: bool,
}

/// The media type of a file of this name.
pub(crate) fn kind_of(path: &str) -> &'static str {
    let ending = path.rsplit('.').next().unwrap_or_default();
    match ending.to_ascii_lowercase().as_str() {
        "html" | "htm" => "text/html; charset=utf-8",
        "css" => "text/css; charset=utf-8",
        "js" | "mjs" => "text/javascript; charset=utf-8",
        "json" => "application/json",
        "svg" => "image/svg+xml",
        "png" => "image/png",
        "jpg" | "jpeg" => "image/jpeg",
        "gif" => "image/gif",
        "webp" => "image/webp",
        "avif" => "image/avif",
        "ico" => "image/x-icon",
        "woff2" => "font/woff2",
        "woff" => "font/woff",
        "ttf" | "ttc" => "font/ttf",
        "otf" | "otc" => "font/otf",
        _ => "application/octet-stream",
    }
}

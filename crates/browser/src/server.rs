//! A server on this machine for pages and fonts, which can hold fonts back.
//!
//! Other programs of this machine, and pages of other sites in any browser on it, can
//! reach the port. So files are served to those only who know the host name, which has a
//! random part; nobody else's scripts may read them; and nothing that is hidden or lies
//! outside of the folders, through whatever links, is a file here.
//!
//! One thread and one answer for each connection. Browsers open few connections to
//! one host and wait for the rest, so a held font must not keep one: every font is
//! sent on to a port of its own, where it waits.

use std::collections::HashMap;
use std::hash::{BuildHasher as _, Hasher as _, RandomState};
use std::io::{self, BufRead as _, BufReader, Read as _, Write as _};
use std::net::{TcpListener, TcpStream};
use std::path::{Component, Path, PathBuf};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Condvar, Mutex, PoisonError};
use std::thread;
use std::time::Duration;

use percent_encoding::percent_decode_str;

use super::network::{Answer, Request, kind_of};

/// The longest line of a request, in bytes, and the most lines.
const LONGEST_LINE: u64 = 16 * 1024;
const MOST_LINES: usize = 200;

/// The largest file that is served, in bytes.
const LARGEST: u64 = 256 * 1024 * 1024;

/// The server; it goes on until the program ends.
pub struct Server {
    shared: Arc<Shared>,
}

#[derive(Default)]
struct Shared {
    /// Whether pages may run scripts.
    silent: AtomicBool,
    /// The host name that was announced, and the port.
    host: String,
    port: u16,
    /// Answers by path.
    files: Mutex<HashMap<String, Answer>>,
    /// Folders whose files are served, too; the first that has one counts.
    roots: Vec<PathBuf>,
    /// What stands in for the network: beginnings of URLs, with files or folders.
    maps: Vec<(String, PathBuf)>,
    /// Whether fonts go through, and how many wait.
    gate: Mutex<Gate>,
    changed: Condvar,
    requests: Mutex<Vec<Request>>,
}

#[derive(Default)]
struct Gate {
    closed: bool,
    /// Grows with every opening, so that what waited goes through even if the gate
    /// is closed again at once.
    opened: u64,
    waiting: usize,
}

impl Server {
    /// Starts on a free port of 127.0.0.1; files of `roots` are served from `/` on,
    /// of the first that has them.
    ///
    /// # Errors
    ///
    /// Where no port can be had.
    pub fn start(roots: &[PathBuf]) -> io::Result<Self> {
        Self::start_mapped(roots, &[])
    }

    /// Like [`Server::start`]; URLs in pages and style sheets that begin as `maps` say
    /// lead to the files and folders there.
    ///
    /// # Errors
    ///
    /// Where no port can be had.
    pub fn start_mapped(roots: &[PathBuf], maps: &[(String, PathBuf)]) -> io::Result<Self> {
        let listener = TcpListener::bind("127.0.0.1:0")?;
        let shared = Arc::new(Shared {
            host: host_name(),
            port: listener.local_addr()?.port(),
            roots: roots.to_vec(),
            maps: maps.to_vec(),
            ..Shared::default()
        });
        let server = Server {
            shared: shared.clone(),
        };
        thread::spawn(move || listen(&listener, &shared, true));
        Ok(server)
    }

    /// The address of `path`.
    pub fn url(&self, path: &str) -> String {
        format!("{}{path}", self.shared.origin())
    }

    /// Serves `content` at `path`.
    pub fn put(&self, path: &str, kind: &str, content: impl Into<Vec<u8>>) {
        let mut files = lock(&self.shared.files);
        files.insert(
            path.to_owned(),
            Answer {
                kind: kind.to_owned(),
                content: content.into(),
            },
        );
    }

    /// From now on, pages run no scripts: browsers are told so by a policy (CSP 3,
    /// `script-src`), which does not hold for what drives them.
    pub fn forbid_scripts(&self) {
        self.shared.silent.store(true, Ordering::Relaxed);
    }

    /// Holds fonts back from now on.
    pub fn hold_fonts(&self) {
        lock(&self.shared.gate).closed = true;
    }

    /// Lets all fonts go.
    pub fn let_go(&self) {
        let mut gate = lock(&self.shared.gate);
        gate.closed = false;
        gate.opened += 1;
        drop(gate);
        self.shared.changed.notify_all();
    }

    /// How many fonts wait.
    pub fn waiting(&self) -> usize {
        lock(&self.shared.gate).waiting
    }

    /// The requests since the last call, in the order in which they were answered;
    /// those that only send a font on are left out.
    pub fn take_requests(&self) -> Vec<Request> {
        std::mem::take(&mut lock(&self.shared.requests))
    }
}

impl Shared {
    /// What all addresses begin with.
    fn origin(&self) -> String {
        format!("http://{}:{}", self.host, self.port)
    }
}

/// A name that leads to this machine in every browser (RFC 6761, §6.3) and that nobody
/// can guess: 128 bits.
fn host_name() -> String {
    let part = || RandomState::new().build_hasher().finish();
    format!("{:016x}{:016x}.localhost", part(), part())
}

fn lock<T>(mutex: &Mutex<T>) -> std::sync::MutexGuard<'_, T> {
    // A thread that failed leaves nothing half done here.
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

fn listen(listener: &TcpListener, shared: &Arc<Shared>, front: bool) {
    for connection in listener.incoming().flatten() {
        let shared = shared.clone();
        // A browser that goes away early is no failure of the server.
        thread::spawn(move || answer(&connection, &shared, front).unwrap_or_default());
        if !front {
            return;
        }
    }
}

/// Where a font waits: a port that answers once.
fn waiting_room(shared: &Arc<Shared>) -> io::Result<u16> {
    let listener = TcpListener::bind("127.0.0.1:0")?;
    let port = listener.local_addr()?.port();
    let shared = shared.clone();
    thread::spawn(move || listen(&listener, &shared, false));
    Ok(port)
}

fn answer(connection: &TcpStream, shared: &Arc<Shared>, front: bool) -> io::Result<()> {
    connection.set_read_timeout(Some(Duration::from_secs(60)))?;
    let mut reader = BufReader::new(connection);
    let request = line(&mut reader)?;
    // The headers must be read, or closing would reset the connection.
    let mut host = None;
    for _ in 0..MOST_LINES {
        let line = line(&mut reader)?;
        if line.is_empty() {
            break;
        }
        if let Some((name, value)) = line.split_once(':')
            && name.eq_ignore_ascii_case("host")
        {
            host = Some(value.trim().to_ascii_lowercase());
        }
    }
    let announced = format!("{}:{}", shared.host, connection.local_addr()?.port());
    if host.as_deref() != Some(announced.as_str()) {
        // Whoever does not know the name gets nothing, and is no visitor of the page.
        return write!(
            &mut &*connection,
            "HTTP/1.1 421 Misdirected Request\r\nContent-Length: 0\r\nConnection: close\r\n\r\n"
        );
    }
    let target = request.split(' ').nth(1).unwrap_or("/");
    let path = target.split(['?', '#']).next().unwrap_or("/").to_owned();
    let found = find(shared, &path);
    let font = found
        .as_ref()
        .is_some_and(|answer| answer.kind.starts_with("font/"));
    let mut connection = connection;
    if font && front && lock(&shared.gate).closed {
        let room = waiting_room(shared)?;
        return write!(
            connection,
            "HTTP/1.1 307 Temporary Redirect\r\nLocation: http://{}:{room}{path}\r\n\
             Content-Length: 0\r\nCache-Control: no-store\r\nConnection: close\r\n\r\n",
            shared.host
        );
    }
    if font {
        wait(shared);
    }
    let (status, answer) = match found {
        Some(answer) => ((200, "OK"), answer),
        None => (
            (404, "Not Found"),
            Answer {
                kind: "text/plain".to_owned(),
                content: Vec::new(),
            },
        ),
    };
    lock(&shared.requests).push(Request {
        path,
        status: status.0,
        bytes: answer.content.len(),
        font,
    });
    write!(
        connection,
        "HTTP/1.1 {} {}\r\nContent-Type: {}\r\nContent-Length: {}\r\n\
         {}{}Cache-Control: no-store\r\nX-Content-Type-Options: nosniff\r\n\
         Connection: close\r\n\r\n",
        status.0,
        status.1,
        answer.kind,
        answer.content.len(),
        // A font that waited comes from another port, so from another origin.
        if front {
            String::new()
        } else {
            format!("Access-Control-Allow-Origin: {}\r\n", shared.origin())
        },
        if shared.silent.load(Ordering::Relaxed) && answer.kind.starts_with("text/html") {
            "Content-Security-Policy: script-src 'none'\r\n"
        } else {
            ""
        }
    )?;
    connection.write_all(&answer.content)
}

fn wait(shared: &Shared) {
    let mut gate = lock(&shared.gate);
    let before = gate.opened;
    gate.waiting += 1;
    while gate.closed && gate.opened == before {
        gate = shared
            .changed
            .wait(gate)
            .unwrap_or_else(PoisonError::into_inner);
    }
    gate.waiting -= 1;
}

fn line(reader: &mut BufReader<&TcpStream>) -> io::Result<String> {
    let mut line = String::new();
    reader.by_ref().take(LONGEST_LINE).read_line(&mut line)?;
    Ok(line.trim_end().to_owned())
}

fn find(shared: &Shared, path: &str) -> Option<Answer> {
    if let Some(known) = lock(&shared.files).get(path) {
        return Some(known.clone());
    }
    let decoded = percent_decode_str(path).decode_utf8_lossy();
    let below = Path::new(decoded.trim_start_matches('/'));
    // Nothing above the folder, and nothing that is hidden.
    if !below.components().all(|part| match part {
        Component::Normal(name) => {
            let name = name.to_string_lossy();
            !name.starts_with('.') || name == WELL_KNOWN
        }
        _ => false,
    }) {
        return None;
    }
    if let Some((around, file)) = mapped(shared, below) {
        return served(shared, &inside(&around, file)?);
    }
    let file = shared
        .roots
        .iter()
        .find_map(|root| inside(root, root.join(below)))?;
    served(shared, &file)
}

/// The hidden folder that servers show (RFC 8615).
const WELL_KNOWN: &str = ".well-known";

/// The file, or the index of the folder, if it lies in `around` whatever links lead to it,
/// is a file, and not too large.
fn inside(around: &Path, mut file: PathBuf) -> Option<PathBuf> {
    if file.is_dir() {
        file = file.join("index.html");
    }
    let around = if around.as_os_str().is_empty() {
        Path::new(".")
    } else {
        around
    };
    let (real, around) = (
        std::fs::canonicalize(&file).ok()?,
        std::fs::canonicalize(around).ok()?,
    );
    let hidden = |part: Component<'_>| {
        let name = part.as_os_str().to_string_lossy();
        name.starts_with('.') && name != WELL_KNOWN
    };
    let below = real.strip_prefix(around).ok()?;
    if below.components().any(hidden) {
        return None;
    }
    let metadata = std::fs::metadata(&real).ok()?;
    (metadata.is_file() && metadata.len() <= LARGEST).then_some(file)
}

/// The folder, from `/`, that mapped files are served from.
const MAPPED: &str = "-mapped-";

/// The URL on the network whose place a path of the server takes; `None` for other paths.
pub fn url_of_request(maps: &[(String, PathBuf)], path: &str) -> Option<String> {
    let (first, rest) = path.trim_start_matches('/').split_once('/')?;
    let number: usize = first.strip_prefix(MAPPED)?.parse().ok()?;
    Some(url_beside(maps.get(number)?, rest))
}

/// The URL on the network that `file` is a copy of; `None` for other files.
pub fn url_of_copy(maps: &[(String, PathBuf)], file: &Path) -> Option<String> {
    let whole = |path: &Path| std::fs::canonicalize(path).unwrap_or_else(|_| path.to_owned());
    let file = whole(file);
    maps.iter().find_map(|map| {
        let path = whole(&map.1);
        // What a sheet names stands beside it.
        let folder = if path.is_dir() { &path } else { path.parent()? };
        let below = file.strip_prefix(folder).ok()?;
        let parts: Vec<String> = below
            .components()
            .map(|part| part.as_os_str().to_string_lossy().into_owned())
            .collect();
        Some(url_beside(map, &parts.join("/")))
    })
}

/// The URL of `rest`, a path in the folder of `map`, or beside its file.
fn url_beside((prefix, path): &(String, PathBuf), rest: &str) -> String {
    if path.is_dir() {
        return format!("{}/{rest}", prefix.trim_end_matches('/'));
    }
    let folder = prefix.rsplit_once('/').map_or("", |(folder, _)| folder);
    format!("{folder}/{rest}")
}

/// The file in place of one on the network, and the folder that it must be in.
fn mapped(shared: &Shared, below: &Path) -> Option<(PathBuf, PathBuf)> {
    let mut parts = below.components();
    let first = parts.next()?.as_os_str().to_str()?;
    let number: usize = first.strip_prefix(MAPPED)?.parse().ok()?;
    let (_, path) = shared.maps.get(number)?;
    let rest = parts.as_path();
    if !path.is_dir() {
        // What a sheet names stands beside it.
        let beside = path.parent().unwrap_or(Path::new(""));
        return Some((beside.to_owned(), beside.join(rest)));
    }
    let file = if rest.as_os_str().is_empty() {
        path.join("index.css")
    } else {
        path.join(rest)
    };
    Some((path.clone(), file))
}

/// The file, with what lies on the network put where it can be had.
fn served(shared: &Shared, file: &Path) -> Option<Answer> {
    let kind = kind_of(&file.to_string_lossy()).to_owned();
    let mut content = std::fs::read(file).ok()?;
    let names_files = kind.starts_with("text/html") || kind.starts_with("text/css");
    if names_files
        && !shared.maps.is_empty()
        && let Ok(text) = std::str::from_utf8(&content)
    {
        let mut text = text.to_owned();
        for (number, (prefix, path)) in shared.maps.iter().enumerate() {
            let here = format!("/{MAPPED}{number}/");
            let bare = prefix.split_once(':').map_or("", |(_, bare)| bare);
            let escaped = prefix.replace('&', "&amp;");
            for url in [prefix.as_str(), escaped.as_str(), bare] {
                if url.is_empty() {
                    continue;
                }
                // A file has its own name there, so that what it names is found.
                let name = path.file_name().filter(|_| path.is_file());
                let name = name.map(|name| name.to_string_lossy().into_owned());
                text = text.replace(url, &format!("{here}{}", name.unwrap_or_default()));
            }
        }
        content = text.into_bytes();
    }
    Some(Answer { kind, content })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn copies_of_what_lies_on_the_network_are_called_by_its_urls() {
        let folder = tempfile::tempdir().expect("a folder");
        let inside = |name: &str| folder.path().join(name);
        std::fs::create_dir(inside("service")).expect("a folder");
        for name in ["service/a.woff2", "sheet.css", "b.woff2", "other.txt"] {
            std::fs::write(inside(name), "").expect("a file");
        }
        let maps = [
            ("https://fonts.invalid/".to_owned(), inside("service")),
            (
                "https://more.invalid/css?of=b".to_owned(),
                inside("sheet.css"),
            ),
        ];
        for (request, file, url) in [
            (
                "/-mapped-0/a.woff2",
                "service/a.woff2",
                "https://fonts.invalid/a.woff2",
            ),
            (
                "/-mapped-1/b.woff2",
                "b.woff2",
                "https://more.invalid/b.woff2",
            ),
        ] {
            assert_eq!(url_of_request(&maps, request).as_deref(), Some(url));
            assert_eq!(url_of_copy(&maps, &inside(file)).as_deref(), Some(url));
        }
        for request in ["/a.woff2", "/-mapped-2/a.woff2", "/-mapped-x/a"] {
            assert_eq!(url_of_request(&maps, request), None);
        }
        assert_eq!(url_of_copy(&maps[..1], &inside("other.txt")), None);
    }
}

//! A server on this machine for pages and fonts, which can hold fonts back.
//!
//! One thread and one answer for each connection. Browsers open few connections to
//! one host and wait for the rest, so a held font must not keep one: every font is
//! sent on to a port of its own, where it waits.

use std::collections::HashMap;
use std::io::{self, BufRead as _, BufReader, Read as _, Write as _};
use std::net::{SocketAddr, TcpListener, TcpStream};
use std::path::{Component, Path, PathBuf};
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
    address: SocketAddr,
    shared: Arc<Shared>,
}

#[derive(Default)]
struct Shared {
    /// Answers by path.
    files: Mutex<HashMap<String, Answer>>,
    /// Folders whose files are served, too; the first that has one counts.
    roots: Vec<PathBuf>,
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
        let listener = TcpListener::bind("127.0.0.1:0")?;
        let shared = Arc::new(Shared {
            roots: roots.to_vec(),
            ..Shared::default()
        });
        let server = Server {
            address: listener.local_addr()?,
            shared: shared.clone(),
        };
        thread::spawn(move || listen(&listener, &shared, true));
        Ok(server)
    }

    /// The address of `path`.
    pub fn url(&self, path: &str) -> String {
        format!("http://{}{path}", self.address)
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
fn waiting_room(shared: &Arc<Shared>) -> io::Result<SocketAddr> {
    let listener = TcpListener::bind("127.0.0.1:0")?;
    let address = listener.local_addr()?;
    let shared = shared.clone();
    thread::spawn(move || listen(&listener, &shared, false));
    Ok(address)
}

fn answer(connection: &TcpStream, shared: &Arc<Shared>, front: bool) -> io::Result<()> {
    connection.set_read_timeout(Some(Duration::from_secs(60)))?;
    let mut reader = BufReader::new(connection);
    let request = line(&mut reader)?;
    // The headers must be read, or closing would reset the connection.
    for _ in 0..MOST_LINES {
        if line(&mut reader)?.is_empty() {
            break;
        }
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
            "HTTP/1.1 307 Temporary Redirect\r\nLocation: http://{room}{path}\r\n\
             Access-Control-Allow-Origin: *\r\nContent-Length: 0\r\n\
             Cache-Control: no-store\r\nConnection: close\r\n\r\n"
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
         Access-Control-Allow-Origin: *\r\nCache-Control: no-store\r\nConnection: close\r\n\r\n",
        status.0,
        status.1,
        answer.kind,
        answer.content.len()
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
    // Nothing above the folder.
    if !below
        .components()
        .all(|part| matches!(part, Component::Normal(_)))
    {
        return None;
    }
    let file = shared.roots.iter().find_map(|root| {
        let mut file = root.join(below);
        if file.is_dir() {
            file = file.join("index.html");
        }
        let metadata = std::fs::metadata(&file).ok()?;
        (metadata.is_file() && metadata.len() <= LARGEST).then_some(file)
    })?;
    Some(Answer {
        kind: kind_of(&file.to_string_lossy()).to_owned(),
        content: std::fs::read(&file).ok()?,
    })
}

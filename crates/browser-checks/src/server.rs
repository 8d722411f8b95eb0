//! A server on this machine for pages and fonts, which can hold fonts back.
//!
//! One thread and one answer for each connection: browsers open many at a time,
//! and a held answer must not hold the others.

use std::collections::HashMap;
use std::io::{self, BufRead as _, BufReader, Write as _};
use std::net::{SocketAddr, TcpListener, TcpStream};
use std::sync::{Arc, Condvar, Mutex};
use std::thread;

/// Whether held fonts are let go.
type Gate = Arc<(Mutex<bool>, Condvar)>;

/// Kind and content by path.
type Files = Arc<Mutex<HashMap<String, (String, Vec<u8>)>>>;

/// The server; it goes on until the checks end.
pub struct Server {
    address: SocketAddr,
    files: Files,
    gate: Gate,
}

/// Where fonts under `/held/` wait until they are let go.
pub struct HeldBack<'a>(&'a Gate);

impl Default for Server {
    fn default() -> Self {
        Self::new()
    }
}

impl Server {
    /// Starts on a free port of 127.0.0.1.
    ///
    /// # Panics
    ///
    /// Where no port can be had.
    pub fn new() -> Self {
        let listener = TcpListener::bind("127.0.0.1:0").expect("a port");
        let server = Server {
            address: listener.local_addr().expect("an address"),
            files: Files::default(),
            gate: Gate::default(),
        };
        let (files, gate) = (server.files.clone(), server.gate.clone());
        thread::spawn(move || {
            for connection in listener.incoming().flatten() {
                let (files, gate) = (files.clone(), gate.clone());
                // A browser that goes away early is no failure of the server.
                thread::spawn(move || answer(&connection, &files, &gate).unwrap_or_default());
            }
        });
        server
    }

    /// The address of `path`.
    pub fn url(&self, path: &str) -> String {
        format!("http://{}{path}", self.address)
    }

    /// Serves `content` at `path`; under `/held/` only once it is let go.
    ///
    /// # Panics
    ///
    /// Never, unless a thread of the server did.
    pub fn put(&self, path: &str, kind: &str, content: impl Into<Vec<u8>>) {
        let mut files = self.files.lock().expect("the files");
        files.insert(path.to_owned(), (kind.to_owned(), content.into()));
    }

    /// Holds back everything under `/held/` from now on.
    ///
    /// # Panics
    ///
    /// Never, unless a thread of the server did.
    pub fn hold(&self) -> HeldBack<'_> {
        *self.gate.0.lock().expect("the gate") = false;
        HeldBack(&self.gate)
    }
}

impl HeldBack<'_> {
    /// Lets everything go.
    ///
    /// # Panics
    ///
    /// Never, unless a thread of the server did.
    pub fn let_go(self) {
        *self.0.0.lock().expect("the gate") = true;
        self.0.1.notify_all();
    }
}

fn answer(connection: &TcpStream, files: &Files, gate: &Gate) -> io::Result<()> {
    let mut lines = BufReader::new(connection).lines();
    let request = lines.next().unwrap_or_else(|| Ok(String::new()))?;
    // The headers must be read, or closing would reset the connection.
    while lines
        .next()
        .transpose()?
        .is_some_and(|line| !line.is_empty())
    {}
    let path = request.split(' ').nth(1).unwrap_or("/").to_owned();
    if path.starts_with("/held/") {
        let open = gate.0.lock().expect("the gate");
        let _open = gate.1.wait_while(open, |open| !*open).expect("the gate");
    }
    let file = files.lock().expect("the files").get(&path).cloned();
    let (status, kind, content) = match file {
        Some((kind, content)) => ("200 OK", kind, content),
        None => ("404 Not Found", "text/plain".to_owned(), Vec::new()),
    };
    let mut connection = connection;
    write!(
        connection,
        "HTTP/1.1 {status}\r\nContent-Type: {kind}\r\nContent-Length: {}\r\n\
         Cache-Control: no-store\r\nConnection: close\r\n\r\n",
        content.len()
    )?;
    connection.write_all(&content)
}

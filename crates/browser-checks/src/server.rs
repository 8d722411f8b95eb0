//! A server on this machine for pages and fonts, which can hold fonts back.

use std::collections::HashMap;
use std::sync::{Arc, Condvar, Mutex};
use std::thread;

use tiny_http::{Header, Response};

/// Whether held fonts are let go.
type Gate = Arc<(Mutex<bool>, Condvar)>;

/// Content of the server by path.
type Files = Arc<Mutex<HashMap<String, (String, Vec<u8>)>>>;

/// The server; it ends when this is dropped.
pub struct Server {
    server: Arc<tiny_http::Server>,
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
        let server = Arc::new(tiny_http::Server::http("127.0.0.1:0").expect("a port"));
        let files = Files::default();
        let gate = Gate::default();
        {
            let (server, files, gate) = (server.clone(), files.clone(), gate.clone());
            thread::spawn(move || {
                for request in server.incoming_requests() {
                    let (files, gate) = (files.clone(), gate.clone());
                    thread::spawn(move || answer(request, &files, &gate));
                }
            });
        }
        Server {
            server,
            files,
            gate,
        }
    }

    /// The address of `path`.
    pub fn url(&self, path: &str) -> String {
        format!("http://{}{path}", self.server.server_addr())
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

impl Drop for Server {
    fn drop(&mut self) {
        self.server.unblock();
    }
}

fn answer(request: tiny_http::Request, files: &Files, gate: &Gate) {
    let path = request.url().to_owned();
    if path.starts_with("/held/") {
        let open = gate.0.lock().expect("the gate");
        let _open = gate.1.wait_while(open, |open| !*open).expect("the gate");
    }
    let file = files.lock().expect("the files").get(&path).cloned();
    // A browser that has gone away is no failure of the server.
    let _ = match file {
        Some((kind, content)) => {
            let header =
                |name: &str, value: &str| Header::from_bytes(name, value).expect("a valid header");
            request.respond(
                Response::from_data(content)
                    .with_header(header("Content-Type", &kind))
                    .with_header(header("Cache-Control", "no-store")),
            )
        }
        None => request.respond(Response::from_string("not here").with_status_code(404)),
    };
}

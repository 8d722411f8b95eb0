//! A server for checks: what goes wrong ends the check.

/// The server; it goes on until the checks end.
pub struct Server(tidy_lattice_browser::Server);

/// Fonts that wait until they are let go.
pub struct HeldBack<'a>(&'a tidy_lattice_browser::Server);

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
        Server(tidy_lattice_browser::Server::start(&[]).expect("a port"))
    }

    /// The address of `path`.
    pub fn url(&self, path: &str) -> String {
        self.0.url(path)
    }

    /// Serves `content` at `path`.
    pub fn put(&self, path: &str, kind: &str, content: impl Into<Vec<u8>>) {
        self.0.put(path, kind, content);
    }

    /// Holds all fonts back from now on.
    pub fn hold(&self) -> HeldBack<'_> {
        self.0.hold_fonts();
        HeldBack(&self.0)
    }

    /// Pages run no scripts from now on.
    pub fn forbid_scripts(&self) {
        self.0.forbid_scripts();
    }
}

impl HeldBack<'_> {
    /// Lets everything go.
    pub fn let_go(self) {
        self.0.let_go();
    }
}

//! A real browser for checks: as [`Session`], but what goes wrong ends the check.

use std::cell::RefCell;

use serde::de::DeserializeOwned;
use serde_json::Value;
use tidy_lattice_browser::{BrowserError, Engine, Fonts, Launch, Session};

/// A running browser; it ends when this is dropped.
pub struct Browser(RefCell<Session>);

impl Browser {
    /// Starts `engine` without a window.
    ///
    /// # Panics
    ///
    /// Where the browser or its driver is missing or does not start: the
    /// checks cannot go on then.
    pub fn start(engine: Engine) -> Self {
        Self::start_with_fonts(engine, &[])
    }

    /// Starts `engine` where these font files are installed too, by name and
    /// bytes.
    ///
    /// # Panics
    ///
    /// As [`Browser::start`].
    pub fn start_with_fonts(engine: Engine, fonts: &[(&str, &[u8])]) -> Self {
        Self::start_patiently(engine, fonts, 120)
    }

    /// As [`Browser::start_with_fonts`], where a script may take so many seconds.
    ///
    /// # Panics
    ///
    /// As [`Browser::start`].
    pub fn start_patiently(engine: Engine, fonts: &[(&str, &[u8])], seconds: u64) -> Self {
        let fonts = Fonts {
            files: fonts
                .iter()
                .map(|(name, bytes)| ((*name).to_owned(), bytes.to_vec()))
                .collect(),
            ..Fonts::default()
        };
        let launch = Launch {
            fonts: Some(&fonts),
            timeout: std::time::Duration::from_secs(seconds),
            ..Launch::of(engine)
        };
        Browser(RefCell::new(sure(Session::start(&launch))))
    }

    /// Opens a page and waits until it is read.
    ///
    /// # Panics
    ///
    /// Where the page cannot be opened.
    pub fn open(&self, url: &str) {
        self.ask(|session| session.open(url));
    }

    /// Runs the body of an asynchronous function in the page and returns what
    /// it returns.
    ///
    /// # Panics
    ///
    /// Where the script fails or returns something else than a `T`.
    pub fn run<T: DeserializeOwned>(&self, body: &str) -> T {
        self.ask(|session| session.run(body))
    }

    /// Sends a command of the DevTools protocol; Chromium only.
    ///
    /// # Panics
    ///
    /// Where the browser refuses it.
    #[allow(clippy::needless_pass_by_value)]
    pub fn devtools(&self, command: &'static str, parameters: Value) -> Value {
        self.ask(|session| session.devtools(command, &parameters))
    }

    /// Sets the inner size of the window, in px.
    ///
    /// # Panics
    ///
    /// Where the browser refuses.
    pub fn resize(&self, width: u32, height: u32) {
        self.ask(|session| session.view(width, height));
    }

    /// Asks the session for something.
    ///
    /// # Panics
    ///
    /// Where it does not answer as it should.
    pub fn ask<T>(&self, ask: impl FnOnce(&mut Session) -> Result<T, BrowserError>) -> T {
        sure(ask(&mut self.0.borrow_mut()))
    }
}

fn sure<T>(answer: Result<T, BrowserError>) -> T {
    answer.unwrap_or_else(|error| panic!("{error}"))
}

//! How browsers are started.

use std::path::{Path, PathBuf};
use std::time::Duration;

use super::{BrowserError, Engine};

/// How a browser is started.
#[derive(Debug, Clone)]
pub struct Launch<'a> {
    /// Which.
    pub engine: Engine,
    /// The driver; the one on PATH by default.
    pub driver: Option<PathBuf>,
    /// The browser itself; the one that its driver finds by default.
    pub binary: Option<PathBuf>,
    /// The address of a driver that runs already.
    pub endpoint: Option<String>,
    /// How long any answer may take.
    pub timeout: Duration,
    /// Fonts that are installed for this browser only.
    pub fonts: Option<&'a Fonts>,
}

/// Fonts that a browser finds installed (where fontconfig tells it).
#[derive(Debug, Clone, Default)]
pub struct Fonts {
    /// File names and contents.
    pub files: Vec<(String, Vec<u8>)>,
    /// Generic families and what they stand for.
    pub generics: Vec<(String, String)>,
    /// Whether there are no others.
    pub alone: bool,
    /// The size that Firefox gives `monospace` where these are installed, in px; its own for
    /// this system by default.
    pub fixed_size: Option<u32>,
}

impl Launch<'_> {
    /// `engine` as it is found on PATH.
    pub fn of(engine: Engine) -> Self {
        Launch {
            engine,
            driver: None,
            binary: None,
            endpoint: None,
            timeout: Duration::from_secs(60),
            fonts: None,
        }
    }

    /// Whether its driver is there at all, as long work before it would be lost.
    ///
    /// # Errors
    ///
    /// [`BrowserError::NoDriver`] where there is none by its name on PATH.
    pub fn check(&self) -> Result<(), BrowserError> {
        if self.endpoint.is_some() || self.driver.is_some() {
            // What was named is tried, and told as it fails.
            return Ok(());
        }
        let driver = self.engine.driver();
        let path = std::env::var_os("PATH").unwrap_or_default();
        let is_there = |folder: &Path| {
            folder
                .join(driver)
                .with_extension(std::env::consts::EXE_EXTENSION)
                .is_file()
        };
        if std::env::split_paths(&path).any(|folder| is_there(&folder)) {
            return Ok(());
        }
        Err(BrowserError::NoDriver {
            browser: self.engine.label(),
            driver: driver.to_owned(),
            remedy: self.engine.remedy().to_owned(),
        })
    }
}

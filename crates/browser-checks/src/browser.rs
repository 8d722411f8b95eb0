//! A real browser, driven over WebDriver.

use std::io;
use std::net::TcpListener;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

use fantoccini::wd::WebDriverCompatibleCommand;
use fantoccini::{Client, ClientBuilder};
use http::Method;
use hyper_util::client::legacy::connect::HttpConnector;
use serde::de::DeserializeOwned;
use serde_json::{Value, json};
use tempfile::TempDir;
use tokio::runtime::{Builder, Runtime};
use url::{ParseError, Url};

/// Which browser.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Engine {
    /// Chromium, by `chromedriver`.
    Chromium,
    /// Firefox, by `geckodriver`.
    Firefox,
}

/// A running browser; it ends when this is dropped.
pub struct Browser {
    runtime: Runtime,
    client: Option<Client>,
    driver: Child,
    _profile: TempDir,
}

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
        let port = free_port();
        let profile = tempfile::tempdir().expect("a temporary folder");
        // Where fontconfig looks for the fonts of a user.
        let installed = profile.path().join(".local/share/fonts");
        std::fs::create_dir_all(&installed).expect("a folder for fonts");
        for (name, bytes) in fonts {
            std::fs::write(installed.join(name), bytes).expect("a font");
        }
        let mut command = match engine {
            Engine::Chromium => Command::new("chromedriver"),
            Engine::Firefox => Command::new("geckodriver"),
        };
        let driver = command
            .arg(format!("--port={port}"))
            .env("HOME", profile.path())
            .env("XDG_DATA_HOME", profile.path().join(".local/share"))
            .env("MOZ_HEADLESS", "1")
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .unwrap_or_else(|error| panic!("the driver of {engine:?} does not start: {error}"));
        let runtime = Builder::new_current_thread()
            .enable_all()
            .build()
            .expect("a runtime");
        let mut browser = Browser {
            runtime,
            client: None,
            driver,
            _profile: profile,
        };
        let capabilities = capabilities(engine, browser._profile.path().to_string_lossy().as_ref());
        let Value::Object(capabilities) = capabilities else {
            unreachable!("capabilities are an object");
        };
        let address = format!("http://127.0.0.1:{port}");
        let deadline = Instant::now() + Duration::from_secs(60);
        let client = loop {
            let attempt = browser.runtime.block_on(
                ClientBuilder::new(HttpConnector::new())
                    .capabilities(capabilities.clone())
                    .connect(&address),
            );
            match attempt {
                Ok(client) => break client,
                Err(error) if Instant::now() > deadline => {
                    panic!("{engine:?} does not start: {error}")
                }
                Err(_) => std::thread::sleep(Duration::from_millis(300)),
            }
        };
        browser.client = Some(client);
        browser
    }

    fn client(&self) -> &Client {
        self.client.as_ref().expect("the browser is running")
    }

    /// Opens a page and waits for its `load` event.
    ///
    /// # Panics
    ///
    /// Where the page cannot be opened.
    pub fn open(&self, url: &str) {
        self.runtime
            .block_on(self.client().goto(url))
            .expect("the page opens");
    }

    /// Runs the body of an asynchronous function in the page and returns what
    /// it returns.
    ///
    /// # Panics
    ///
    /// Where the script fails or returns something else than a `T`.
    pub fn run<T: DeserializeOwned>(&self, body: &str) -> T {
        let script = format!(
            "const done = arguments[arguments.length - 1]; \
             (async () => {{ {body} }})().then(done, error => done({{failed: String(error)}}));"
        );
        let value = self
            .runtime
            .block_on(self.client().execute_async(&script, Vec::new()))
            .expect("the script runs");
        serde_json::from_value(value.clone())
            .unwrap_or_else(|error| panic!("the script returned {value}: {error}"))
    }

    /// Sends a command of the DevTools protocol; Chromium only.
    ///
    /// # Panics
    ///
    /// Where the browser refuses it.
    pub fn devtools(&self, command: &'static str, parameters: Value) -> Value {
        let command = DevTools {
            command,
            parameters,
        };
        self.runtime
            .block_on(self.client().issue_cmd(command))
            .expect("the DevTools command runs")
    }

    /// Sets the inner size of the window, in px.
    ///
    /// # Panics
    ///
    /// Where the browser refuses.
    pub fn resize(&self, width: u32, height: u32) {
        self.runtime
            .block_on(self.client().set_window_size(width, height))
            .expect("the window takes a size");
    }
}

/// chromedriver's way to the DevTools protocol.
#[derive(Debug)]
struct DevTools {
    command: &'static str,
    parameters: Value,
}

impl WebDriverCompatibleCommand for DevTools {
    fn endpoint(&self, base: &Url, session: Option<&str>) -> Result<Url, ParseError> {
        base.join(&format!(
            "session/{}/goog/cdp/execute",
            session.unwrap_or_default()
        ))
    }

    fn method_and_body(&self, _: &Url) -> (Method, Option<String>) {
        let body = json!({"cmd": self.command, "params": self.parameters});
        (Method::POST, Some(body.to_string()))
    }
}

impl Drop for Browser {
    fn drop(&mut self) {
        if let Some(client) = self.client.take() {
            // The driver is ended below in any case.
            let _ = self.runtime.block_on(client.close());
        }
        let _ = self.driver.kill();
        let _ = self.driver.wait();
    }
}

fn free_port() -> u16 {
    let listener: io::Result<TcpListener> = TcpListener::bind(("127.0.0.1", 0));
    listener
        .and_then(|listener| listener.local_addr())
        .expect("a free port")
        .port()
}

fn capabilities(engine: Engine, profile: &str) -> Value {
    let timeouts = json!({"script": 120_000, "pageLoad": 120_000});
    match engine {
        Engine::Chromium => json!({
            "timeouts": timeouts,
            "pageLoadStrategy": "eager",
            "goog:chromeOptions": {"binary": "/usr/bin/chromium", "args": [
                "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
                "--disable-background-networking", "--disable-component-update", "--disable-sync",
                "--hide-scrollbars", format!("--user-data-dir={profile}/chromium"),
            ]},
        }),
        Engine::Firefox => json!({
            "timeouts": timeouts,
            "pageLoadStrategy": "eager",
            "moz:firefoxOptions": {"args": ["-headless"], "prefs": {
                "app.update.enabled": false,
                "network.captive-portal-service.enabled": false,
                "network.connectivity-service.enabled": false,
            }},
        }),
    }
}

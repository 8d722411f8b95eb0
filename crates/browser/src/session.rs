//! A browser under WebDriver.

use std::path::PathBuf;
use std::time::{Duration, Instant};

use fantoccini::error::CmdError;
use fantoccini::wd::WebDriverCompatibleCommand;
use fantoccini::{Client, ClientBuilder};
use http::Method;
use hyper_util::client::legacy::connect::HttpConnector;
use serde::de::DeserializeOwned;
use serde_json::{Value, json};
use tokio::runtime::{Builder, Runtime};
use url::{ParseError, Url};

use super::driver::Driver;
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
}

/// A running browser; it ends when this is dropped.
pub struct Session {
    engine: Engine,
    version: String,
    timeout: Duration,
    runtime: Runtime,
    client: Option<Client>,
    driver: Driver,
}

impl Session {
    /// Starts a browser without a window.
    ///
    /// # Errors
    ///
    /// [`BrowserError`]; nothing is left running then.
    pub fn start(launch: &Launch<'_>) -> Result<Self, BrowserError> {
        super::tidy::on_interrupt();
        let mut driver = Driver::start(launch)?;
        let runtime = Builder::new_current_thread()
            .enable_all()
            .build()
            .map_err(|reason| BrowserError::NoRoom {
                what: "a thread for the browser",
                reason,
            })?;
        let engine = launch.engine;
        let milliseconds = u64::try_from(launch.timeout.as_millis()).unwrap_or(u64::MAX);
        let capabilities =
            engine.capabilities(driver.folder(), launch.binary.as_deref(), milliseconds);
        let Value::Object(capabilities) = capabilities else {
            unreachable!("capabilities are an object");
        };
        let deadline = Instant::now() + launch.timeout;
        let mut last = String::new();
        let client = loop {
            let left = deadline.saturating_duration_since(Instant::now());
            if left.is_zero() {
                return Err(if last.is_empty() {
                    BrowserError::TimedOut {
                        browser: engine.label(),
                        what: "to start",
                        seconds: launch.timeout.as_secs(),
                    }
                } else {
                    BrowserError::NoSession {
                        browser: engine.label(),
                        reason: last,
                    }
                });
            }
            if let Some(reason) = driver.ended() {
                return Err(BrowserError::Gone {
                    browser: engine.label(),
                    what: "to start",
                    reason,
                });
            }
            let mut builder = ClientBuilder::new(HttpConnector::new());
            let connect = builder
                .capabilities(capabilities.clone())
                .connect(&driver.address);
            let attempt = runtime.block_on(async { tokio::time::timeout(left, connect).await });
            match attempt {
                Ok(Ok(client)) => break client,
                Ok(Err(error)) => {
                    use fantoccini::error::NewSessionError as Refused;
                    last = first_line(&error.to_string());
                    let silent = matches!(
                        error,
                        Refused::Failed(_) | Refused::FailedC(_) | Refused::Lost(_)
                    );
                    // A driver that was just started may not listen yet; one that
                    // answers will not think otherwise.
                    if !silent || launch.endpoint.is_some() {
                        return Err(BrowserError::NoSession {
                            browser: engine.label(),
                            reason: last,
                        });
                    }
                    std::thread::sleep(Duration::from_millis(100));
                }
                Err(_) => {}
            }
        };
        let mut session = Session {
            engine,
            version: String::new(),
            timeout: launch.timeout,
            runtime,
            client: Some(client),
            driver,
        };
        session.version = session.read_version();
        // Scripts run in pages only, and some browsers begin without one.
        session.open("data:text/html,tidy-lattice")?;
        Ok(session)
    }

    /// The engine.
    pub fn engine(&self) -> Engine {
        self.engine
    }

    /// The browser's version, as it says.
    pub fn version(&self) -> &str {
        &self.version
    }

    fn read_version(&self) -> String {
        let said = self.client.as_ref().and_then(|client| {
            let capabilities = client.capabilities()?;
            let version = capabilities.get("browserVersion")?.as_str()?;
            Some(version.to_owned())
        });
        said.unwrap_or_default()
    }

    /// Opens a page and waits until it is read, not until all that it loads is
    /// there.
    ///
    /// # Errors
    ///
    /// [`BrowserError`] where the page cannot be opened in time.
    pub fn open(&mut self, url: &str) -> Result<(), BrowserError> {
        self.ask("to open a page", &async |client| client.goto(url).await)?;
        if self.engine != Engine::Webkit {
            return Ok(());
        }
        // It does not wait by itself.
        let deadline = Instant::now() + self.timeout;
        loop {
            let there: Result<(String, String), BrowserError> =
                self.run("return [location.href, document.readyState];");
            match there {
                Ok((at, state)) if at == url && state != "loading" => return Ok(()),
                Err(error @ BrowserError::Gone { .. }) => return Err(error),
                _ if Instant::now() > deadline => {
                    return Err(BrowserError::TimedOut {
                        browser: self.engine.label(),
                        what: "to open a page",
                        seconds: self.timeout.as_secs(),
                    });
                }
                _ => std::thread::sleep(Duration::from_millis(50)),
            }
        }
    }

    /// Runs the body of an asynchronous function in the page and returns what
    /// it returns.
    ///
    /// # Errors
    ///
    /// [`BrowserError`] where the script fails, takes too long, or returns
    /// something else than a `T`.
    pub fn run<T: DeserializeOwned>(&mut self, body: &str) -> Result<T, BrowserError> {
        let script = format!(
            "const done = arguments[arguments.length - 1]; \
             (async () => {{ {body} }})().then(done, error => done({{failed: String(error)}}));"
        );
        let value = self.ask("to run a script", &async |client| {
            client.execute_async(&script, Vec::new()).await
        })?;
        let odd = |reason: String| BrowserError::Odd {
            browser: self.engine.label(),
            what: "to run a script",
            reason,
        };
        if let Some(failed) = value.get("failed").and_then(Value::as_str) {
            return Err(odd(failed.to_owned()));
        }
        serde_json::from_value(value).map_err(|error| odd(error.to_string()))
    }

    /// Sends a command of the DevTools protocol; Chromium only.
    ///
    /// # Errors
    ///
    /// [`BrowserError`] where the browser refuses it.
    pub fn devtools(
        &mut self,
        command: &'static str,
        parameters: &Value,
    ) -> Result<Value, BrowserError> {
        self.issue(
            "a command of its developer tools",
            &Raw {
                path: "goog/cdp/execute",
                body: Some(json!({"cmd": command, "params": parameters})),
            },
        )
    }

    /// What the page wrote to its console since the last call; Chromium only, the
    /// others do not tell.
    ///
    /// # Errors
    ///
    /// [`BrowserError`] where the browser refuses.
    pub fn console(&mut self) -> Result<Option<Vec<String>>, BrowserError> {
        if self.engine != Engine::Chromium {
            return Ok(None);
        }
        let log = self.issue(
            "its console",
            &Raw {
                path: "se/log",
                body: Some(json!({"type": "browser"})),
            },
        )?;
        let entries = log.as_array().cloned().unwrap_or_default();
        let message = |entry: &Value| Some(entry.get("message")?.as_str()?.to_owned());
        Ok(Some(entries.iter().filter_map(message).collect()))
    }

    /// Gives the page a viewport of this size, in px, and returns the size that it
    /// has then: some browsers have a least width.
    ///
    /// # Errors
    ///
    /// [`BrowserError`] where the browser refuses.
    pub fn view(&mut self, width: u32, height: u32) -> Result<(u32, u32), BrowserError> {
        if self.engine == Engine::Chromium {
            self.devtools(
                "Emulation.setDeviceMetricsOverride",
                &json!({"width": width, "height": height, "deviceScaleFactor": 1, "mobile": false}),
            )?;
        } else {
            let (mut outer_width, mut outer_height) = (width, height);
            // What the window's frame takes is known only once there is one.
            for _ in 0..3 {
                self.ask("a size", &async |client| {
                    client.set_window_size(outer_width, outer_height).await
                })?;
                let (inner_width, inner_height): (u32, u32) = self.run(
                    "for (let i = 0; i < 3; i++) await Promise.race([
                         new Promise(requestAnimationFrame),
                         new Promise(done => setTimeout(done, 100))]);
                     return [innerWidth, innerHeight];",
                )?;
                if (inner_width, inner_height) == (width, height) {
                    break;
                }
                outer_width = (outer_width + width).saturating_sub(inner_width);
                outer_height = (outer_height + height).saturating_sub(inner_height);
            }
        }
        self.run("return [innerWidth, innerHeight];")
    }

    /// A picture of the viewport, as PNG.
    ///
    /// # Errors
    ///
    /// [`BrowserError`] where the browser gives none.
    pub fn screenshot(&mut self) -> Result<Vec<u8>, BrowserError> {
        self.ask("a picture", &async |client| client.screenshot().await)
    }

    fn issue(&mut self, what: &'static str, command: &Raw) -> Result<Value, BrowserError> {
        self.ask(what, &async |client| {
            client.issue_cmd(command.clone()).await
        })
    }

    /// Asks the browser for something and waits no longer than it may take.
    fn ask<T>(
        &mut self,
        what: &'static str,
        ask: &impl AsyncFn(&Client) -> Result<T, CmdError>,
    ) -> Result<T, BrowserError> {
        let browser = self.engine.label();
        let Some(client) = &self.client else {
            return Err(BrowserError::Gone {
                browser,
                what,
                reason: "it was closed".to_owned(),
            });
        };
        // A little longer than the browser itself waits, so that its own words come
        // first.
        let patience = self.timeout + Duration::from_secs(5);
        let mut answer = self
            .runtime
            .block_on(async { tokio::time::timeout(patience, ask(client)).await });
        // A driver may close a connection that was kept for the next command; then
        // the command never reached it.
        for _ in 0..RETRIES {
            if !matches!(answer, Ok(Err(CmdError::FailedC(_)))) || self.driver.ended().is_some() {
                break;
            }
            answer = self
                .runtime
                .block_on(async { tokio::time::timeout(patience, ask(client)).await });
        }
        match answer {
            Ok(Ok(value)) => Ok(value),
            Ok(Err(error)) => {
                let reason = first_line(&error.to_string());
                let timed_out = reason.contains("timeout")
                    || matches!(&error, CmdError::Standard(said) if said.error().contains("timeout"))
                    || reason.contains("timed out");
                let lost = matches!(
                    error,
                    CmdError::Lost(_) | CmdError::Failed(_) | CmdError::FailedC(_)
                ) || reason.contains("not reachable")
                    || reason.contains("disconnected")
                    || reason.contains("invalid session");
                Err(if timed_out {
                    BrowserError::TimedOut {
                        browser,
                        what,
                        seconds: self.timeout.as_secs(),
                    }
                } else if lost || self.driver.ended().is_some() {
                    self.client = None;
                    BrowserError::Gone {
                        browser,
                        what,
                        reason,
                    }
                } else {
                    BrowserError::Odd {
                        browser,
                        what,
                        reason,
                    }
                })
            }
            Err(_) => {
                self.client = None;
                Err(BrowserError::TimedOut {
                    browser,
                    what,
                    seconds: self.timeout.as_secs(),
                })
            }
        }
    }
}

impl Drop for Session {
    fn drop(&mut self) {
        if let Some(client) = self.client.take() {
            // The driver and all that it started are ended in any case.
            let close = client.close();
            let _ = self
                .runtime
                .block_on(async { tokio::time::timeout(Duration::from_secs(10), close).await });
        }
    }
}

/// How often a command is sent anew that did not reach the driver.
const RETRIES: usize = 3;

/// The longest reason that is told, in characters.
const LONGEST_REASON: usize = 300;

/// A command of a driver that the protocol itself does not have.
#[derive(Debug, Clone)]
struct Raw {
    path: &'static str,
    body: Option<Value>,
}

impl WebDriverCompatibleCommand for Raw {
    fn endpoint(&self, base: &Url, session: Option<&str>) -> Result<Url, ParseError> {
        base.join(&format!(
            "session/{}/{}",
            session.unwrap_or_default(),
            self.path
        ))
    }

    fn method_and_body(&self, _: &Url) -> (Method, Option<String>) {
        let body = self.body.as_ref().map(Value::to_string);
        (Method::POST, body)
    }
}

/// What a driver said, in one line.
fn first_line(text: &str) -> String {
    let words: Vec<&str> = text.split_whitespace().collect();
    words.join(" ").chars().take(LONGEST_REASON).collect()
}

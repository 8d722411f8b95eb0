//! A browser under WebDriver.

use std::time::{Duration, Instant};

use serde::de::DeserializeOwned;
use serde_json::{Value, json};

use super::driver::Driver;
use super::launch::Launch;
use super::wire::{Wire, WireError};
use super::{BrowserError, Engine};

/// A running browser; it ends when this is dropped.
pub struct Session {
    engine: Engine,
    version: String,
    timeout: Duration,
    wire: Option<Wire>,
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
        let engine = launch.engine;
        let milliseconds = u64::try_from(launch.timeout.as_millis()).unwrap_or(u64::MAX);
        let capabilities = engine.capabilities(
            driver.folder(),
            launch.binary.as_deref(),
            milliseconds,
            launch.fonts.and_then(|fonts| fonts.fixed_size),
        );
        let deadline = Instant::now() + launch.timeout;
        let mut last = String::new();
        let wire = loop {
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
            match Wire::connect(&driver.address, &capabilities, left) {
                Ok(wire) => break wire,
                Err(WireError::TimedOut) => {}
                Err(error) => {
                    last = first_line(&error.said());
                    let silent = matches!(error, WireError::Silent(_) | WireError::Lost(_));
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
            }
        };
        let mut session = Session {
            engine,
            version: wire.version().unwrap_or_default().to_owned(),
            timeout: launch.timeout,
            wire: Some(wire),
            driver,
        };
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

    /// Opens a page and waits until it is read, not until all that it loads is
    /// there.
    ///
    /// # Errors
    ///
    /// [`BrowserError`] where the page cannot be opened in time.
    pub fn open(&mut self, url: &str) -> Result<(), BrowserError> {
        self.command("to open a page", "url", &json!({"url": url}))?;
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
        let value = self.command(
            "to run a script",
            "execute/async",
            &json!({"script": script, "args": []}),
        )?;
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
        self.command(
            "a command of its developer tools",
            "goog/cdp/execute",
            &json!({"cmd": command, "params": parameters}),
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
        let log = self.command("its console", "se/log", &json!({"type": "browser"}))?;
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
                self.command(
                    "a size",
                    "window/rect",
                    &json!({"width": outer_width, "height": outer_height}),
                )?;
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
        self.ask("a picture", &Wire::screenshot)
    }

    fn command(
        &mut self,
        what: &'static str,
        command: &str,
        parameters: &Value,
    ) -> Result<Value, BrowserError> {
        self.ask(what, &|wire, patience| {
            wire.post(command, parameters, patience)
        })
    }

    /// Asks the browser for something and waits no longer than it may take.
    fn ask<T>(
        &mut self,
        what: &'static str,
        ask: &impl Fn(&Wire, Duration) -> Result<T, WireError>,
    ) -> Result<T, BrowserError> {
        let browser = self.engine.label();
        let Some(wire) = &self.wire else {
            return Err(BrowserError::Gone {
                browser,
                what,
                reason: "it was closed".to_owned(),
            });
        };
        // A little longer than the browser itself waits, so that its own words come
        // first.
        let patience = self.timeout + Duration::from_secs(5);
        let error = match ask(wire, patience) {
            Ok(answer) => return Ok(answer),
            Err(error) => error,
        };
        let reason = first_line(&error.said());
        let timed_out = reason.contains("timeout") || reason.contains("timed out");
        let lost = matches!(error, WireError::Lost(_) | WireError::Silent(_))
            || reason.contains("not reachable")
            || reason.contains("disconnected")
            || reason.contains("invalid session");
        if matches!(error, WireError::TimedOut) || lost {
            self.wire = None;
        }
        Err(if timed_out {
            BrowserError::TimedOut {
                browser,
                what,
                seconds: self.timeout.as_secs(),
            }
        } else if lost || self.driver.ended().is_some() {
            self.wire = None;
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
}

impl Drop for Session {
    fn drop(&mut self) {
        if let Some(wire) = self.wire.take() {
            wire.close(Duration::from_secs(10));
        }
    }
}

/// The longest reason that is told, in characters.
const LONGEST_REASON: usize = 300;

/// What a driver said, in one line.
fn first_line(text: &str) -> String {
    let words: Vec<&str> = text.split_whitespace().collect();
    words.join(" ").chars().take(LONGEST_REASON).collect()
}

//! The W3C WebDriver protocol, as far as it is needed here: commands go to the
//! driver as JSON over HTTP, one at a time.

use std::time::Duration;

use base64::Engine as _;
use base64::prelude::BASE64_STANDARD;
use serde_json::{Value, json};
use ureq::Agent;

/// Answers beyond this size are not read, in bytes: 512 MiB.
const LARGEST: u64 = 512 << 20;

/// A session with a driver.
#[derive(Debug)]
pub(crate) struct Wire {
    agent: Agent,
    /// The address of the session, without a slash at the end.
    session: String,
    /// What the browser says that it is.
    capabilities: Value,
}

/// Why a driver did not do what it was asked for.
#[derive(Debug)]
pub(crate) enum WireError {
    /// Nobody listens at its address.
    Silent(String),
    /// The connection ended before there was an answer.
    Lost(String),
    /// There was no answer in time.
    TimedOut,
    /// It answers that it cannot (WebDriver, §6.6): the error's code and what it
    /// says of it.
    Refused { code: String, message: String },
    /// What it answers is not of the protocol.
    Odd(String),
}

impl WireError {
    /// What was heard, in words.
    pub fn said(&self) -> String {
        match self {
            WireError::Silent(reason) | WireError::Lost(reason) | WireError::Odd(reason) => {
                reason.clone()
            }
            WireError::TimedOut => "it timed out".to_owned(),
            WireError::Refused { code, message } if message.is_empty() => code.clone(),
            WireError::Refused { code, message } => format!("{code}: {message}"),
        }
    }
}

impl Wire {
    /// Asks the driver at `address` for a new session.
    pub fn connect(
        address: &str,
        capabilities: &Value,
        patience: Duration,
    ) -> Result<Self, WireError> {
        // Drivers may close a connection that was kept for the next command, and a
        // driver on this machine is never behind a proxy.
        let agent = Agent::config_builder()
            .http_status_as_error(false)
            .max_idle_connections(0)
            .proxy(None)
            .build()
            .new_agent();
        let wanted = json!({"capabilities": {"alwaysMatch": capabilities}});
        let answer = post(&agent, &format!("{address}/session"), &wanted, patience)?;
        let id = answer.get("sessionId").and_then(Value::as_str);
        let Some(id) = id.filter(|id| is_plain(id)) else {
            return Err(WireError::Odd("it names no session".to_owned()));
        };
        Ok(Wire {
            session: format!("{address}/session/{id}"),
            capabilities: answer.get("capabilities").cloned().unwrap_or_default(),
            agent,
        })
    }

    /// The browser's version, as it says.
    pub fn version(&self) -> Option<&str> {
        self.capabilities.get("browserVersion")?.as_str()
    }

    /// Sends a command with parameters.
    pub fn post(
        &self,
        command: &str,
        parameters: &Value,
        patience: Duration,
    ) -> Result<Value, WireError> {
        let address = format!("{}/{command}", self.session);
        post(&self.agent, &address, parameters, patience)
    }

    /// A picture of the viewport, as PNG.
    pub fn screenshot(&self, patience: Duration) -> Result<Vec<u8>, WireError> {
        let address = format!("{}/screenshot", self.session);
        let request = self.agent.get(&address).config();
        let response = request.timeout_global(Some(patience)).build().call();
        let answer = value(response)?;
        let text = answer.as_str().unwrap_or_default();
        let picture = BASE64_STANDARD.decode(text);
        picture.map_err(|error| WireError::Odd(error.to_string()))
    }

    /// Ends the session.
    pub fn close(self, patience: Duration) {
        let request = self.agent.delete(&self.session).config();
        // The driver and all that it started are ended in any case.
        let _ = request.timeout_global(Some(patience)).build().call();
    }
}

/// Whether an identifier can stand in an address as it is.
fn is_plain(id: &str) -> bool {
    !id.is_empty()
        && id
            .bytes()
            .all(|byte| byte.is_ascii_alphanumeric() || b"-_.".contains(&byte))
}

fn post(
    agent: &Agent,
    address: &str,
    parameters: &Value,
    patience: Duration,
) -> Result<Value, WireError> {
    let request = agent.post(address).config().timeout_global(Some(patience));
    let request = request
        .build()
        .header("content-type", "application/json; charset=utf-8");
    value(request.send(parameters.to_string()))
}

/// The value of an answer.
fn value(answer: Result<http::Response<ureq::Body>, ureq::Error>) -> Result<Value, WireError> {
    let answer = answer.and_then(|mut response| {
        let body = response.body_mut().with_config().limit(LARGEST);
        let text = body.read_to_string()?;
        Ok((response.status().is_success(), text))
    });
    let (done, text) = answer.map_err(|error| match error {
        ureq::Error::Timeout(_) => WireError::TimedOut,
        ureq::Error::ConnectionFailed | ureq::Error::HostNotFound => {
            WireError::Silent(error.to_string())
        }
        ureq::Error::Io(reason) if reason.kind() == std::io::ErrorKind::ConnectionRefused => {
            WireError::Silent(reason.to_string())
        }
        error => WireError::Lost(error.to_string()),
    })?;
    let answer: Value = serde_json::from_str(&text)
        .map_err(|error| WireError::Odd(format!("it answers no JSON ({error})")))?;
    let Some(value) = answer.get("value") else {
        return Err(WireError::Odd("it answers without a value".to_owned()));
    };
    if done {
        return Ok(value.clone());
    }
    let word = |name: &str| value.get(name).and_then(Value::as_str).unwrap_or_default();
    Err(WireError::Refused {
        code: word("error").to_owned(),
        message: word("message").to_owned(),
    })
}

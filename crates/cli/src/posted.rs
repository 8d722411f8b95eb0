//! A page that is shown once at an address that cannot be guessed, and one result that it
//! sends back.

use std::hash::{BuildHasher as _, Hasher as _, RandomState};
use std::io::Read as _;
use std::net::SocketAddr;

use tiny_http::{Header, Method, Request, Response, Server};

use crate::error::CliError;

/// Shows the page that `page` makes for the path that results are sent to; `told` gets its
/// address. Ends with the first result of at most `largest` bytes that `read` takes, and
/// with what it came from.
///
/// # Errors
///
/// [`CliError`] where the address cannot be had.
pub fn one<T>(
    address: SocketAddr,
    page: impl Fn(&str) -> String,
    say: impl Fn(&str),
    largest: u64,
    read: impl Fn(&[u8]) -> Result<T, String>,
) -> Result<(String, T), CliError> {
    let cannot = |reason: String| {
        CliError::Usage(format!(
            "--serve {address}: {reason}; name an address of this machine and a free port"
        ))
    };
    let server = Server::http(address).map_err(|error| cannot(error.to_string()))?;
    let Some(at) = server.server_addr().to_ip() else {
        return Err(cannot("this is no address".to_owned()));
    };
    let path = format!("/{}", secret());
    let send_to = format!("{path}/result");
    let url = format!("http://{at}{path}");
    let page = page(&send_to);
    say(&url);
    loop {
        let Ok(mut request) = server.recv() else {
            return Err(cannot("the connection was lost".to_owned()));
        };
        match (request.method(), request.url()) {
            (Method::Get, asked) if asked == path => answer(request, 200, "text/html", &page),
            (Method::Post, asked) if asked == send_to => {
                let mut bytes = Vec::new();
                let whole = request
                    .as_reader()
                    .take(largest + 1)
                    .read_to_end(&mut bytes);
                let result = match whole {
                    Err(_) => Err("the result did not arrive whole".to_owned()),
                    Ok(_) if bytes.len() as u64 > largest => {
                        Err(format!("a result may have {largest} bytes at most"))
                    }
                    Ok(_) => read(&bytes),
                };
                match result {
                    Ok(result) => {
                        answer(request, 200, "text/plain", "taken");
                        return Ok((url, result));
                    }
                    Err(reason) => answer(request, 400, "text/plain", &reason),
                }
            }
            _ => answer(request, 404, "text/plain", "there is nothing here"),
        }
    }
}

fn answer(request: Request, status: u16, kind: &str, content: &str) {
    let header = |name: &str, value: &str| Header::from_bytes(name, value).ok();
    let mut response = Response::from_string(content).with_status_code(status);
    let headers = [
        header("Content-Type", &format!("{kind}; charset=utf-8")),
        header("Cache-Control", "no-store"),
        header("Referrer-Policy", "no-referrer"),
        header("X-Content-Type-Options", "nosniff"),
    ];
    for header in headers.into_iter().flatten() {
        response.add_header(header);
    }
    // Whoever went away does not need an answer.
    let _ = request.respond(response);
}

/// 128 bits that nobody outside of this process knows: keys of hash maps are random.
fn secret() -> String {
    let number = || RandomState::new().build_hasher().finish();
    format!("{:016x}{:016x}", number(), number())
}

//! The server of files.

use std::io::{Read as _, Write as _};
use std::net::TcpStream;
use std::path::PathBuf;
use std::time::{Duration, Instant};

use rstest::rstest;
use tempfile::TempDir;
use tidy_lattice_browser::Server;

/// A folder with a site in it, and a file beside the site.
fn site() -> (TempDir, Vec<PathBuf>) {
    let folder = tempfile::tempdir().expect("a folder");
    let root = folder.path().join("site");
    std::fs::create_dir_all(root.join("fonts")).expect("a folder");
    std::fs::create_dir_all(root.join(".well-known")).expect("a folder");
    for (name, content) in [
        ("site/index.html", "index"),
        ("site/a b.css", "css"),
        ("site/fonts/f.woff2", "font"),
        ("site/.env", "secret"),
        ("site/.well-known/x.css", "known"),
        ("beside.txt", "secret"),
    ] {
        std::fs::write(folder.path().join(name), content).expect("a file");
    }
    (folder, vec![root])
}

/// The head and the content of the answer at an address.
fn ask(url: &str) -> (String, String) {
    let rest = url.strip_prefix("http://").expect("an address");
    let (host, _) = rest.split_once('/').expect("a path");
    ask_as(url, host)
}

/// Like [`ask`], but as somebody who takes the host for `host`.
fn ask_as(url: &str, host: &str) -> (String, String) {
    let rest = url.strip_prefix("http://").expect("an address");
    let (name, path) = rest.split_once('/').expect("a path");
    let (_, port) = name.split_once(':').expect("a port");
    // Browsers take all names below `localhost` for this machine; others ask around.
    let mut connection = TcpStream::connect(format!("127.0.0.1:{port}")).expect("a connection");
    let wait = Some(Duration::from_secs(10));
    connection.set_read_timeout(wait).expect("a time-out");
    write!(connection, "GET /{path} HTTP/1.1\r\nHost: {host}\r\n\r\n").expect("a request");
    let mut answer = String::new();
    connection.read_to_string(&mut answer).expect("an answer");
    let (head, content) = answer.split_once("\r\n\r\n").expect("a head");
    (head.to_owned(), content.to_owned())
}

#[rstest]
#[case::index("/", "200", "text/html", "index")]
#[case::encoded("/a%20b.css", "200", "text/css", "css")]
#[case::query("/index.html?x=1", "200", "text/html", "index")]
#[case::font("/fonts/f.woff2", "200", "font/woff2", "font")]
#[case::missing("/none.css", "404", "text/plain", "")]
#[case::above("/../beside.txt", "404", "text/plain", "")]
#[case::above_encoded("/%2e%2e/beside.txt", "404", "text/plain", "")]
#[case::rooted("//etc/passwd", "404", "text/plain", "")]
#[case::hidden("/.env", "404", "text/plain", "")]
#[case::hidden_encoded("/%2eenv", "404", "text/plain", "")]
#[case::well_known("/.well-known/x.css", "200", "text/css", "known")]
fn files_of_the_folder_are_served_and_no_others(
    #[case] path: &str,
    #[case] status: &str,
    #[case] kind: &str,
    #[case] content: &str,
) {
    let (_folder, roots) = site();
    let server = Server::start(&roots).expect("a port");
    let (head, answer) = ask(&server.url(path));
    assert!(head.contains(status) && head.contains(kind), "{head}");
    assert_eq!(answer, content);
    let requests = server.take_requests();
    assert_eq!(requests.len(), 1);
    assert_eq!(requests[0].status.to_string(), status);
    assert_eq!(requests[0].bytes, content.len());
}

#[cfg(unix)]
#[test]
fn links_out_of_the_folder_lead_nowhere() {
    let (folder, roots) = site();
    let link = |to: &str, name: &str| {
        std::os::unix::fs::symlink(to, roots[0].join(name)).expect("a link");
    };
    link("../beside.txt", "out.txt");
    link("..", "up");
    link(".env", "shown.txt");
    link("index.html", "in.html");
    let server = Server::start(&roots).expect("a port");
    for path in ["/out.txt", "/up/beside.txt", "/shown.txt"] {
        assert!(ask(&server.url(path)).0.contains("404"), "{path}");
    }
    assert_eq!(ask(&server.url("/in.html")).1, "index");
    drop(folder);
}

#[rstest]
#[case::number("127.0.0.1")]
#[case::plain("localhost")]
#[case::guess("0000000000000000.localhost")]
#[case::other("evil.invalid")]
fn whoever_does_not_know_the_name_gets_nothing(#[case] host: &str) {
    let (_folder, roots) = site();
    let server = Server::start(&roots).expect("a port");
    let url = server.url("/index.html");
    let port = url
        .split(':')
        .nth(2)
        .and_then(|rest| rest.split('/').next());
    let (head, content) = ask_as(&url, &format!("{host}:{}", port.expect("a port")));
    assert!(head.contains("421"), "{head}");
    assert!(
        content.is_empty() && !head.contains("Access-Control"),
        "{head}"
    );
    assert!(server.take_requests().is_empty(), "no visitor of the page");
    assert_eq!(ask(&url).1, "index");
}

#[test]
fn no_two_servers_have_one_name() {
    let name = |server: &Server| server.url("").split(':').nth(1).map(str::to_owned);
    let servers = [Server::start(&[]), Server::start(&[])].map(|server| server.expect("a port"));
    assert_ne!(name(&servers[0]), name(&servers[1]));
}

#[test]
fn the_first_folder_that_has_a_file_counts() {
    let (folder, mut roots) = site();
    roots.push(folder.path().to_owned());
    let server = Server::start(&roots).expect("a port");
    assert_eq!(ask(&server.url("/index.html")).1, "index");
    assert_eq!(ask(&server.url("/beside.txt")).1, "secret");
    server.put("/index.html", "text/html", "put");
    assert_eq!(ask(&server.url("/index.html")).1, "put");
}

#[test]
fn fonts_wait_on_ports_of_their_own_until_they_are_let_go() {
    let (_folder, roots) = site();
    let server = Server::start(&roots).expect("a port");
    server.hold_fonts();
    let (head, _) = ask(&server.url("/fonts/f.woff2"));
    assert!(head.contains("307"), "{head}");
    let place = head
        .lines()
        .find_map(|line| line.strip_prefix("Location: "))
        .expect("a place")
        .to_owned();
    let waits = std::thread::spawn(move || ask(&place));
    let deadline = Instant::now() + Duration::from_secs(5);
    while server.waiting() == 0 && Instant::now() < deadline {
        std::thread::sleep(Duration::from_millis(10));
    }
    assert_eq!(server.waiting(), 1);
    assert!(!head.contains("Access-Control"), "{head}");
    // What is no font does not wait.
    assert_eq!(ask(&server.url("/index.html")).1, "index");
    assert!(server.take_requests().iter().all(|request| !request.font));
    server.let_go();
    let (head, content) = waits.join().expect("an answer");
    assert_eq!(content, "font");
    let grant = format!("Access-Control-Allow-Origin: {}\r\n", server.url(""));
    assert!(head.contains(&grant), "the page's own origin alone: {head}");
    assert!(server.take_requests().iter().any(|request| request.font));
}

#[test]
fn pages_alone_are_told_that_they_run_no_scripts() {
    let (_folder, roots) = site();
    let server = Server::start(&roots).expect("a port");
    let policy = "Content-Security-Policy: script-src 'none'\r\n";
    assert!(!ask(&server.url("/index.html")).0.contains(policy));
    server.forbid_scripts();
    let (head, content) = ask(&server.url("/index.html"));
    assert!(head.contains(policy) && content == "index", "{head}");
    assert!(!ask(&server.url("/a%20b.css")).0.contains(policy));
}

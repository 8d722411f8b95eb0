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
    for (name, content) in [
        ("site/index.html", "index"),
        ("site/a b.css", "css"),
        ("site/fonts/f.woff2", "font"),
        ("beside.txt", "secret"),
    ] {
        std::fs::write(folder.path().join(name), content).expect("a file");
    }
    (folder, vec![root])
}

/// The head and the content of the answer at an address.
fn ask(url: &str) -> (String, String) {
    let rest = url.strip_prefix("http://").expect("an address");
    let (host, path) = rest.split_once('/').expect("a path");
    let mut connection = TcpStream::connect(host).expect("a connection");
    let wait = Some(Duration::from_secs(10));
    connection.set_read_timeout(wait).expect("a time-out");
    write!(connection, "GET /{path} HTTP/1.1\r\nHost: x\r\n\r\n").expect("a request");
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
    // What is no font does not wait.
    assert_eq!(ask(&server.url("/index.html")).1, "index");
    assert!(server.take_requests().iter().all(|request| !request.font));
    server.let_go();
    assert_eq!(waits.join().expect("an answer").1, "font");
    assert!(server.take_requests().iter().any(|request| request.font));
}

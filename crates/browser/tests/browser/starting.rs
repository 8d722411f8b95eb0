//! Browsers that cannot be started.

use std::path::PathBuf;
use std::time::{Duration, Instant};

use rstest::rstest;
use tidy_lattice_browser::{BrowserError, Engine, Launch, Session};

fn refused(launch: &Launch<'_>) -> BrowserError {
    match Session::start(launch) {
        Ok(_) => panic!("a browser started"),
        Err(error) => error,
    }
}

#[rstest]
#[case(Engine::Chromium)]
#[case(Engine::Firefox)]
#[case(Engine::Webkit)]
fn a_driver_that_is_not_there_is_named(#[case] engine: Engine) {
    let launch = Launch {
        driver: Some(PathBuf::from("/nowhere/driver")),
        ..Launch::of(engine)
    };
    let error = refused(&launch).to_string();
    assert!(
        error.contains("driver does not start") || error.contains("Xvfb does not start"),
        "{error}"
    );
}

#[cfg(unix)]
#[test]
fn a_driver_that_ends_at_once_is_told() {
    let launch = Launch {
        driver: Some(PathBuf::from("/bin/true")),
        ..Launch::of(Engine::Chromium)
    };
    let error = refused(&launch);
    assert!(matches!(error, BrowserError::Gone { .. }), "{error}");
}

#[cfg(unix)]
#[test]
fn a_driver_that_does_not_listen_is_waited_for_no_longer_than_allowed() {
    use std::os::unix::fs::PermissionsExt as _;
    let folder = tempfile::tempdir().expect("a folder");
    let driver = folder.path().join("driver");
    std::fs::write(&driver, "#!/bin/sh\nexec sleep 60\n").expect("a script");
    let executable = std::fs::Permissions::from_mode(0o755);
    std::fs::set_permissions(&driver, executable).expect("a script");
    let launch = Launch {
        driver: Some(driver),
        timeout: Duration::from_secs(1),
        ..Launch::of(Engine::Chromium)
    };
    let started = Instant::now();
    let error = refused(&launch);
    assert!(started.elapsed() < Duration::from_secs(10), "{error}");
}

#[test]
fn an_endpoint_that_nobody_listens_at_is_told_at_once() {
    let launch = Launch {
        endpoint: Some("http://127.0.0.1:9".to_owned()),
        ..Launch::of(Engine::Firefox)
    };
    let error = refused(&launch);
    assert!(matches!(error, BrowserError::NoSession { .. }), "{error}");
}

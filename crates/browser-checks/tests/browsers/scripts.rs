//! Pages that run no scripts still answer whoever drives the browser.

use tidy_lattice_browser_checks::{Browser, Engine, Server};

const PAGE: &str = "<!doctype html><body onload='add()'><p>One
    <script>function add() { document.body.append(document.createElement('p')); } add();</script>";

#[test]
#[ignore = "needs three browsers; .ci/run has them"]
fn scripts_of_pages_are_kept_out_and_ours_are_not() {
    for engine in [Engine::Chromium, Engine::Firefox, Engine::Webkit] {
        for (forbidden, paragraphs) in [(false, 3), (true, 1)] {
            let server = Server::new();
            server.put("/page.html", "text/html; charset=utf-8", PAGE);
            if forbidden {
                server.forbid_scripts();
            }
            let browser = Browser::start(engine);
            browser.open(&server.url("/page.html"));
            let found: usize = browser.run("return document.querySelectorAll('p').length;");
            assert_eq!(found, paragraphs, "{engine:?}, forbidden: {forbidden}");
        }
    }
}

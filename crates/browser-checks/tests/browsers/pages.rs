//! Every text of the demo's pages has the style that Chromium computes for it.

use tidy_lattice_browser_checks::{Browser, Engine, Server};
use tidy_lattice_core::page::{Files, OpenedFile, TextOrigin, Unread, read};
use tidy_lattice_core::style::read::Viewport;

use crate::computed::{COLLECT, Computed, differences};

/// The demo's site, as a server has it: `site/` at the root.
struct Site;

impl Files for Site {
    fn read(&self, url: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
        if url.contains("//") {
            return Err(Unread::Remote);
        }
        let name = url.trim_start_matches('/').to_owned();
        let bytes = tidy_lattice_demo::file(&format!("site/{name}"))
            .ok_or_else(|| Unread::Unreadable("missing".to_owned()))?;
        Ok(OpenedFile {
            name,
            bytes: bytes.to_vec(),
        })
    }
}

/// Pages that ask for what the demo's do not.
const HARDER: [(&str, &str); 3] = [
    ("/harder.html", include_str!("pages/harder.html")),
    ("/forms.html", include_str!("pages/forms.html")),
    ("/quirks.html", include_str!("pages/quirks.html")),
];

#[test]
#[ignore = "needs Chromium; .ci/run installs it"]
fn texts_have_the_styles_that_the_browser_computes() {
    let server = Server::new();
    let mut pages = Vec::new();
    for (path, html) in HARDER {
        pages.push(path.to_owned());
        server.put(path, "text/html; charset=utf-8", html);
    }
    for (path, bytes) in tidy_lattice_demo::files() {
        let (kind, path) = match path.rsplit('.').next() {
            Some("html") => ("text/html; charset=utf-8", path),
            Some("css") => ("text/css; charset=utf-8", path),
            Some("ttf") => ("font/ttf", path),
            _ => continue,
        };
        let of_site = path.strip_prefix("site");
        let at = of_site.map_or_else(|| format!("/{path}"), str::to_owned);
        // The old pages of the archive are there for their faults.
        if kind.starts_with("text/html") && of_site.is_some() {
            pages.push(at.clone());
        }
        server.put(&at, kind, bytes);
    }
    assert!(pages.len() >= 2);
    let browser = Browser::start(Engine::Chromium);
    let (mut texts, mut faults) = (0, Vec::new());
    for (width, height) in [(1280, 800), (600, 800)] {
        browser.resize(width, height);
        for page in &pages {
            browser.open(&server.url(page));
            let size: (f32, f32) = browser.run("return [innerWidth, innerHeight];");
            let computed: Vec<Computed> = browser.run(COLLECT);
            let harder = HARDER.iter().find(|(path, _)| path == page);
            let html = harder.map_or_else(
                || tidy_lattice_demo::file(&format!("site{page}")).unwrap_or_default(),
                |(_, html)| html.as_bytes(),
            );
            let html = std::str::from_utf8(html).expect("UTF-8");
            let (ours, dom) = read(html, page, &Site, Viewport::screen(size.0, size.1));
            let content: Vec<_> = ours
                .texts
                .iter()
                .filter(|text| text.origin == TextOrigin::Content && dom.text(text.node).is_some())
                .collect();
            assert_eq!(content.len(), computed.len(), "{page}: as many texts");
            for (text, computed) in content.iter().zip(&computed) {
                texts += 1;
                assert_eq!(dom.text(text.node), Some(computed.text.as_str()), "{page}");
                faults.extend(differences(&ours, text.style, computed).map(|fault| {
                    format!(
                        "{page} at {width} px, {:?} in {}: {fault}",
                        computed.text, text.element
                    )
                }));
                if text.language.as_deref().unwrap_or_default() != computed.language {
                    faults.push(format!("{page}: {:?} is {}", text.text, computed.language));
                }
            }
        }
    }
    println!(
        "{texts} texts of {} pages, {} styled otherwise than said",
        pages.len(),
        faults.len()
    );
    assert!(texts > 100);
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

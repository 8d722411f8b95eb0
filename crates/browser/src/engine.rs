//! The browsers that can be driven, and how.

use std::path::Path;

use serde_json::{Value, json};

/// A browser, by its engine.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Engine {
    /// Chromium, by `chromedriver`.
    Chromium,
    /// Firefox, by `geckodriver`.
    Firefox,
    /// WebKit as GTK ships it, by `WebKitWebDriver`.
    Webkit,
}

/// The groups of languages for which Firefox keeps standard sizes, as its settings call them.
const FIREFOX_SCRIPTS: [&str; 29] = [
    "ar",
    "el",
    "he",
    "ja",
    "ko",
    "th",
    "x-armn",
    "x-beng",
    "x-cans",
    "x-cyrillic",
    "x-devanagari",
    "x-ethi",
    "x-geor",
    "x-gujr",
    "x-guru",
    "x-khmr",
    "x-knda",
    "x-math",
    "x-mlym",
    "x-orya",
    "x-sinh",
    "x-tamil",
    "x-telu",
    "x-tibt",
    "x-unicode",
    "x-western",
    "zh-CN",
    "zh-HK",
    "zh-TW",
];

impl Engine {
    /// All of them.
    pub const ALL: [Engine; 3] = [Engine::Chromium, Engine::Firefox, Engine::Webkit];

    /// The name for people.
    pub fn label(self) -> &'static str {
        self.model().label()
    }

    /// The engine whose layout the core foretells.
    pub fn model(self) -> tidy_lattice_core::layout::Engine {
        use tidy_lattice_core::layout::Engine as Model;
        match self {
            Engine::Chromium => Model::Chromium,
            Engine::Firefox => Model::Firefox,
            Engine::Webkit => Model::Webkit,
        }
    }

    /// The program that drives it.
    pub fn driver(self) -> &'static str {
        match self {
            Engine::Chromium => "chromedriver",
            Engine::Firefox => "geckodriver",
            Engine::Webkit => "WebKitWebDriver",
        }
    }

    /// Where the program comes from.
    pub(crate) fn remedy(self) -> &'static str {
        match self {
            Engine::Chromium => {
                "install it (Debian: chromium-driver), name it with --driver, or name a running \
                 one with --endpoint"
            }
            Engine::Firefox => {
                "install it (cargo install geckodriver), name it with --driver, or name a running \
                 one with --endpoint"
            }
            Engine::Webkit => {
                "install it (Debian: webkit2gtk-driver), name it with --driver, or name a running \
                 one with --endpoint"
            }
        }
    }

    /// Whether it needs a display even where nothing is to be seen.
    pub(crate) fn needs_display(self) -> bool {
        self == Engine::Webkit
    }

    /// What a session is asked for; `profile` is a folder for the browser's own
    /// files; `fixed_size`: what Firefox gives `monospace`, in px, where it is told.
    pub(crate) fn capabilities(
        self,
        profile: &Path,
        binary: Option<&Path>,
        script_timeout: u64,
        fixed_size: Option<u32>,
    ) -> Value {
        let timeouts = json!({"script": script_timeout, "pageLoad": script_timeout});
        let binary = binary.map(|path| path.to_string_lossy().into_owned());
        match self {
            Engine::Chromium => {
                let mut options = json!({"args": [
                    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic",
                    "--no-first-run", "--disable-background-networking",
                    "--disable-component-update", "--disable-sync", "--hide-scrollbars",
                    "--force-device-scale-factor=1",
                    format!("--user-data-dir={}", profile.join("chromium").display()),
                ]});
                if let Some(binary) = binary.or_else(|| known(&["/usr/bin/chromium"])) {
                    options["binary"] = binary.into();
                }
                json!({
                    "timeouts": timeouts,
                    "pageLoadStrategy": "eager",
                    "goog:chromeOptions": options,
                    "goog:loggingPrefs": {"browser": "ALL"},
                })
            }
            Engine::Firefox => {
                let mut options = json!({"args": ["-headless"], "prefs": {
                    // Scroll bars take no room, as in the other engines without a window.
                    "ui.useOverlayScrollbars": 1,
                    "widget.gtk.overlay-scrollbars.enabled": true,
                    "app.update.enabled": false,
                    "network.captive-portal-service.enabled": false,
                    "network.connectivity-service.enabled": false,
                    "browser.shell.checkDefaultBrowser": false,
                }});
                for script in fixed_size.iter().flat_map(|_| FIREFOX_SCRIPTS) {
                    options["prefs"][format!("font.size.monospace.{script}")] = fixed_size.into();
                }
                if let Some(binary) = binary {
                    options["binary"] = binary.into();
                }
                json!({
                    "timeouts": timeouts,
                    "pageLoadStrategy": "eager",
                    "moz:firefoxOptions": options,
                })
            }
            Engine::Webkit => {
                let binary = binary.or_else(|| known(&MINI_BROWSERS));
                let mut options = json!({"args": ["--automation"]});
                if let Some(binary) = binary {
                    options["binary"] = binary.into();
                }
                // With any other strategy it runs no scripts while fonts are held back.
                json!({
                    "timeouts": timeouts,
                    "pageLoadStrategy": "none",
                    "webkitgtk:browserOptions": options,
                })
            }
        }
    }
}

/// Where distributions put the browser that comes with WebKitGTK.
const MINI_BROWSERS: [&str; 4] = [
    "/usr/lib/x86_64-linux-gnu/webkit2gtk-4.1/MiniBrowser",
    "/usr/lib/aarch64-linux-gnu/webkit2gtk-4.1/MiniBrowser",
    "/usr/libexec/webkit2gtk-4.1/MiniBrowser",
    "/usr/lib/webkit2gtk-4.1/MiniBrowser",
];

fn known(paths: &[&str]) -> Option<String> {
    let found = paths.iter().find(|path| Path::new(path).exists())?;
    Some((*found).to_owned())
}

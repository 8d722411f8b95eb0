//! The program that drives a browser, and what it runs in: a home and profile of
//! its own, fonts of its own, a display where it needs one.

use std::fmt::Write as _;
use std::io::{self, BufRead as _, BufReader};
use std::net::TcpListener;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::sync::mpsc;
use std::time::Duration;

use tempfile::TempDir;

use super::launch::Launch;
use super::tidy::Started;
use super::{BrowserError, Engine};

/// How long a display may take to start.
const DISPLAY_START: Duration = Duration::from_secs(10);

/// A running driver; it and its folder are gone once this is dropped.
#[derive(Debug)]
pub(crate) struct Driver {
    /// The address.
    pub address: String,
    // The order matters: processes end before their folder goes.
    process: Option<Started>,
    _display: Option<Started>,
    folder: TempDir,
}

impl Driver {
    /// Starts the driver of `launch`, or takes its endpoint.
    pub fn start(launch: &Launch<'_>) -> Result<Self, BrowserError> {
        let no_room = |what| move |reason| BrowserError::NoRoom { what, reason };
        let folder = tempfile::Builder::new()
            .prefix("tidy-lattice-")
            .tempdir()
            .map_err(no_room("a temporary folder"))?;
        if let Some(endpoint) = &launch.endpoint {
            return Ok(Driver {
                address: endpoint.trim_end_matches('/').to_owned(),
                process: None,
                _display: None,
                folder,
            });
        }
        let home = folder.path();
        install_fonts(launch, home).map_err(no_room("a folder for fonts"))?;
        let port = free_port().map_err(no_room("a port"))?;
        let program = launch
            .driver
            .clone()
            .unwrap_or_else(|| PathBuf::from(launch.engine.driver()));
        let temporary = home.join("tmp");
        std::fs::create_dir_all(&temporary).map_err(no_room("a temporary folder"))?;
        let mut command = Command::new(&program);
        command
            .arg(format!("--port={port}"))
            .env("HOME", home)
            .env("XDG_DATA_HOME", home.join(".local/share"))
            .env("XDG_CONFIG_HOME", home.join(".config"))
            .env("XDG_CACHE_HOME", home.join(".cache"))
            .env("TMPDIR", &temporary)
            .env("MOZ_HEADLESS", "1")
            // Its sandbox asks for what containers do not allow.
            .env("WEBKIT_DISABLE_SANDBOX_THIS_IS_DANGEROUS", "1")
            .stdin(Stdio::null())
            .stdout(Stdio::null())
            .stderr(Stdio::null());
        if launch.fonts.is_some_and(|fonts| fonts.alone) {
            command.env("FONTCONFIG_FILE", home.join("fonts.conf"));
        }
        let display = if launch.engine.needs_display() && std::env::var_os("DISPLAY").is_none() {
            let (display, name) = start_display(home)?;
            command.env("DISPLAY", name);
            Some(display)
        } else {
            None
        };
        let process = Started::start(command, home).map_err(|error| {
            if error.kind() == io::ErrorKind::NotFound && launch.driver.is_none() {
                BrowserError::NoDriver {
                    browser: launch.engine.label(),
                    driver: program.display().to_string(),
                    remedy: launch.engine.remedy().to_owned(),
                }
            } else {
                BrowserError::NotStarted {
                    program: program.clone(),
                    reason: error.to_string(),
                }
            }
        })?;
        Ok(Driver {
            address: format!("http://127.0.0.1:{port}"),
            process: Some(process),
            _display: display,
            folder,
        })
    }

    /// The folder of the browser's own files.
    pub fn folder(&self) -> &Path {
        self.folder.path()
    }

    /// How the driver ended, where it did.
    pub fn ended(&mut self) -> Option<String> {
        let status = self.process.as_mut()?.ended()?;
        Some(format!("its driver ended ({status})"))
    }
}

/// Where people keep fonts, and what they told fontconfig, from their home folder.
#[cfg(unix)]
const OWN: [(&str, &str); 4] = [
    (".fonts", ".fonts"),
    (".fonts.conf", ".fonts.conf"),
    // Beside those that are put there for the browser alone.
    (".local/share/fonts", ".local/share/fonts/own"),
    (".config/fontconfig", ".config/fontconfig"),
];

/// Lets the browser, which has a home of its own, find the fonts of the user's.
#[cfg(unix)]
fn link_own_fonts(home: &Path) -> io::Result<()> {
    let Some(user_home) = std::env::var_os("HOME").map(PathBuf::from) else {
        return Ok(());
    };
    let moved = |name: &str, usual: &str| {
        let set = std::env::var_os(name).filter(|set| !set.is_empty());
        set.map_or_else(|| user_home.join(usual), PathBuf::from)
    };
    let (data, config) = (
        moved("XDG_DATA_HOME", ".local/share"),
        moved("XDG_CONFIG_HOME", ".config"),
    );
    for (from, to) in OWN {
        let from = match from.strip_prefix(".local/share/") {
            Some(rest) => data.join(rest),
            None => match from.strip_prefix(".config/") {
                Some(rest) => config.join(rest),
                None => user_home.join(from),
            },
        };
        let to = home.join(to);
        if from.exists() {
            to.parent().map_or(Ok(()), std::fs::create_dir_all)?;
            std::os::unix::fs::symlink(std::fs::canonicalize(from)?, to)?;
        }
    }
    Ok(())
}

/// On other systems fonts are not found by the home folder.
#[cfg(not(unix))]
fn link_own_fonts(_home: &Path) -> io::Result<()> {
    Ok(())
}

/// Puts the fonts of a device where the browser finds them.
fn install_fonts(launch: &Launch<'_>, home: &Path) -> io::Result<()> {
    if launch.fonts.is_none_or(|fonts| !fonts.alone) {
        link_own_fonts(home)?;
    }
    let Some(fonts) = launch.fonts else {
        return Ok(());
    };
    let folder = home.join(".local/share/fonts");
    std::fs::create_dir_all(&folder)?;
    for (name, bytes) in &fonts.files {
        std::fs::write(folder.join(name), bytes)?;
    }
    if !fonts.alone {
        return Ok(());
    }
    let mut config = format!(
        "<?xml version=\"1.0\"?>\n<!DOCTYPE fontconfig SYSTEM \"fonts.dtd\">\n<fontconfig>\n\
         <dir>{}</dir>\n<cachedir>{}</cachedir>\n\
         <match target=\"pattern\"><edit name=\"hinting\" mode=\"assign\"><bool>false</bool>\
         </edit><edit name=\"hintstyle\" mode=\"assign\"><const>hintnone</const></edit>\
         </match>\n",
        escaped(&folder.to_string_lossy()),
        escaped(&home.join(".cache/fontconfig").to_string_lossy())
    );
    let of = |wanted: &str| {
        let mut known = fonts.generics.iter();
        let found = known.find(|(keyword, _)| keyword == wanted);
        found.map(|(_, family)| family.as_str())
    };
    // The names that Chromium asks for its standard font and for `system-ui` by.
    let plain = of("system-ui").or(of("sans-serif"));
    // Without a font for code its standard font shows.
    let code = of("serif").filter(|_| of("monospace").is_none());
    let named = [
        ("Times New Roman", of("serif")),
        ("sans", plain),
        ("monospace", code),
    ];
    let named = named
        .into_iter()
        .filter_map(|(name, family)| Some((name, family?)));
    let generics = fonts.generics.iter();
    let generics = generics.map(|(keyword, family)| (keyword.as_str(), family.as_str()));
    for (asked, family) in generics.chain(named) {
        let _ = writeln!(
            config,
            "<match target=\"pattern\"><test name=\"family\" qual=\"any\"><string>{}</string>\
             </test><edit name=\"family\" mode=\"assign\" binding=\"strong\"><string>{}</string>\
             </edit></match>",
            escaped(asked),
            escaped(family)
        );
    }
    if let Some(family) = plain {
        // Until it knows its own font it asks without a name.
        let _ = writeln!(
            config,
            "<match target=\"pattern\"><edit name=\"family\" mode=\"append_last\">\
             <string>{}</string></edit></match>",
            escaped(family)
        );
    }
    config.push_str("</fontconfig>\n");
    std::fs::write(home.join("fonts.conf"), config)
}

/// Text as XML has it.
fn escaped(text: &str) -> String {
    text.replace('&', "&amp;")
        .replace('<', "&lt;")
        .replace('>', "&gt;")
}

/// Starts a display that nobody sees.
fn start_display(home: &Path) -> Result<(Started, String), BrowserError> {
    let not_started = |reason: String| BrowserError::NotStarted {
        program: PathBuf::from("Xvfb"),
        reason: format!("{reason}; WebKit needs a display: set DISPLAY, or install xvfb"),
    };
    let mut command = Command::new("Xvfb");
    // It takes a number that is free, and writes it once it is ready.
    command
        .args(["-displayfd", "1", "-screen", "0", "2600x2000x24"])
        .args(["-nolisten", "tcp"])
        .env("HOME", home)
        .stdin(Stdio::null())
        .stdout(Stdio::piped())
        .stderr(Stdio::null());
    let mut display =
        Started::start(command, home).map_err(|error| not_started(error.to_string()))?;
    let output = display.output();
    let (tell, lines) = mpsc::channel();
    std::thread::spawn(move || {
        let mut line = String::new();
        if let Some(output) = output {
            let _ = BufReader::new(output).read_line(&mut line);
        }
        let _ = tell.send(line);
    });
    let line = lines.recv_timeout(DISPLAY_START).unwrap_or_default();
    let number: u32 = line
        .trim()
        .parse()
        .map_err(|_| not_started("it does not say which display it is".to_owned()))?;
    display.makes(vec![
        PathBuf::from(format!("/tmp/.X{number}-lock")),
        PathBuf::from(format!("/tmp/.X11-unix/X{number}")),
    ]);
    Ok((display, format!(":{number}")))
}

fn free_port() -> io::Result<u16> {
    let listener = TcpListener::bind(("127.0.0.1", 0))?;
    Ok(listener.local_addr()?.port())
}

impl Engine {
    /// The program that drives it, where it is on PATH.
    pub fn find(self) -> Option<PathBuf> {
        let path = std::env::var_os("PATH")?;
        std::env::split_paths(&path)
            .map(|folder| folder.join(self.driver()))
            .find(|program| program.is_file())
    }
}

//! A face in slices gets stand-ins as good as the same face in one file: in Chromium no more
//! paragraphs break elsewhere.

use std::path::Path;
use std::process::Command;

use tidy_lattice_browser_checks::{Browser, Engine, Server, fonts};
use tidy_lattice_core::text::samples;

use crate::breaks::count;
use crate::looks::program;
use crate::pairs::{FAMILY, widths};

/// Faces with Latin, Cyrillic and Vietnamese letters, and what stands in for them.
const FACES: [(&str, &str); 4] = [
    ("OpenSans-Regular.ttf", "LiberationSans-Regular.ttf"),
    ("NotoSerif-Regular.ttf", "LiberationSerif-Regular.ttf"),
    ("Roboto-Regular.ttf", "DejaVuSans.ttf"),
    ("Carlito-Regular.ttf", "NotoSans-Regular.ttf"),
];

const LANGUAGES: [&str; 3] = ["en", "ru", "vi"];

/// The slices, as packages of fonts have them: Cyrillic, Vietnamese, more Latin, Latin.
const RANGES: [&str; 4] = [
    "U+301,U+400-45F,U+490-491,U+4B0-4B1,U+2116",
    "U+102-103,U+110-111,U+128-129,U+168-169,U+1A0-1A1,U+1AF-1B0,U+300-301,U+303-304,U+308-309,\
     U+323,U+329,U+1EA0-1EF9,U+20AB",
    "U+100-101,U+104-10F,U+112-127,U+12A-167,U+16A-19F",
    "U+0-FF,U+131,U+152-153,U+2BB-2BC,U+2C6,U+2DA,U+2DC,U+2000-206F,U+20AC,U+2122,U+2191",
];

/// Of all layouts, so many may differ more: slices cut kerning between them. Of one face,
/// which has few layouts, some more.
const MORE: f64 = 0.005;
const MORE_OF_ONE: f64 = 0.05;

fn said(folder: &Path, arguments: &[&str]) -> String {
    let program = program();
    let run = Command::new(&program)
        .args(arguments)
        .current_dir(folder)
        .output()
        .unwrap_or_else(|error| panic!("{}: {error}; build it first", program.display()));
    let told = String::from_utf8_lossy(&run.stderr);
    assert!(run.status.code().is_some_and(|code| code < 2), "{told}");
    String::from_utf8(run.stdout).expect("UTF-8")
}

/// How many layouts of the texts break elsewhere with the stand-in that `build` makes of
/// `web`, and how many there are.
fn broken(
    (browser, server): (&Browser, &Server),
    folder: &Path,
    web: &str,
    local: &str,
) -> (u64, u64) {
    let mut sums = (0, 0);
    for language in LANGUAGES {
        let text = samples::of(language).expect("a text").text;
        let file = format!("{language}.txt");
        std::fs::write(folder.join(&file), &text).expect("a text");
        let base = server.url("/whole");
        let css = said(
            folder,
            &[
                "build",
                "--web",
                web,
                "--local",
                local,
                "--family",
                FAMILY,
                "--slices",
                "6",
                "--url-base",
                &base,
                &file,
            ],
        );
        for entry in std::fs::read_dir(folder).expect("the folder") {
            let path = entry.expect("an entry").path();
            let name = path
                .file_name()
                .unwrap_or_default()
                .to_string_lossy()
                .into_owned();
            if name.ends_with("woff2") || name.ends_with("ttf") {
                let bytes = std::fs::read(&path).expect("a font");
                server.put(&format!("/whole/{name}"), "font/woff2", bytes);
            }
        }
        let names = css.lines().filter_map(|line| {
            let name = line
                .trim()
                .strip_prefix("font-family: \"")?
                .strip_suffix("\";")?;
            name.contains(" via ").then(|| name.to_owned())
        });
        let stand_in = names.into_iter().next().expect("a stand-in");
        let counted = count(
            browser,
            server,
            &css,
            "font-weight: 400",
            &[FAMILY, &stand_in],
            &text,
            &widths(),
        );
        sums.0 += counted[0].any;
        sums.1 += counted[0].layouts;
    }
    sums
}

#[test]
#[ignore = "needs Chromium, Debian's fonts and the built program; .ci/run has them"]
fn slices_break_no_more_lines_than_the_whole_file() {
    let server = Server::new();
    let browser = Browser::start(Engine::Chromium);
    browser.resize(1280, 800);
    let mut faults = Vec::new();
    let mut sums = [0, 0, 0];
    for (web, local) in FACES {
        let folder = tempfile::tempdir().expect("a folder");
        let folder = folder.path();
        let local = fonts::named(local).display().to_string();
        std::fs::copy(fonts::named(web), folder.join(web)).expect("a font");
        let mut cut = vec!["trim", web, "-o", ".", "--feature", "all"];
        cut.extend(RANGES.iter().flat_map(|range| ["--range", range]));
        said(folder, &cut);
        let sheet = std::fs::read_dir(folder)
            .expect("the folder")
            .find_map(|entry| {
                let name = entry.ok()?.file_name().to_string_lossy().into_owned();
                name.ends_with(".css").then_some(name)
            });
        let sheet = sheet.expect("a style sheet");
        let whole = broken((&browser, &server), folder, web, &local);
        let sliced = broken((&browser, &server), folder, &sheet, &local);
        println!("{web:<24} whole {whole:?} sliced {sliced:?}");
        assert_eq!(whole.1, sliced.1);
        if (sliced.0 as f64) > whole.0 as f64 + MORE_OF_ONE * whole.1 as f64 {
            faults.push(format!("{web}: {sliced:?} against {whole:?}"));
        }
        sums = [sums[0] + whole.0, sums[1] + sliced.0, sums[2] + whole.1];
    }
    let [whole, sliced, all] = sums;
    println!("of {all} layouts {whole} break elsewhere with whole files, {sliced} with slices");
    if (sliced as f64) > whole as f64 + MORE * all as f64 {
        faults.push(format!("{sliced} against {whole} of {all}"));
    }
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

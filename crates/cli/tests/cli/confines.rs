//! Pages and style sheets read what lies in their project, and nothing else.

use rstest::rstest;

use crate::workshop::Workshop;

/// What no output may hold.
const SECRET: &str = "SWORDFISH";

/// A project with a page that has `head`; a style sheet and a font lie beside the project.
fn shop(head: &str) -> Workshop {
    let shop = Workshop::new();
    for folder in ["beside", "project/sub", "project/.git", "project/.private"] {
        std::fs::create_dir_all(shop.path(folder)).expect("a folder");
    }
    let secret = format!("{SECRET} !! {{\np {{font-family: Seaglass}}");
    for path in [
        "beside/secret.css",
        "beside/.env",
        "project/.env",
        "project/.git/config",
        "project/.private/secret.css",
        "project/notes.yml",
    ] {
        shop.write(path, &secret);
    }
    shop.write("project/sub/fine.css", "p {font-family: Driftglass}");
    std::fs::copy(shop.path("sans.ttf"), shop.path("beside/font.ttf")).expect("a copy");
    let here = shop.path("").display().to_string();
    let head = head.replace("HERE", here.trim_end_matches('/'));
    shop.write(
        "project/sub/import.css",
        "@import url(../../beside/secret.css);",
    );
    shop.write(
        "project/sub/page.html",
        format!("<!doctype html>{head}<p>Tide</p>"),
    );
    #[cfg(unix)]
    {
        let link = |to: &str, name: &str| {
            std::os::unix::fs::symlink(shop.path(to), shop.path(name)).expect("a link");
        };
        link("beside/secret.css", "project/sub/linked.css");
        link("beside", "project/sub/folder");
        link("beside/font.ttf", "project/sub/linked.ttf");
        link("project/.env", "project/sub/shown.css");
    }
    shop
}

const COMMANDS: [&str; 6] = [
    "cover project/sub/page.html -p windows",
    "cover project/sub/page.html -p windows --json",
    "shift project/sub/page.html -p windows --viewport phone",
    "check project/sub/page.html -p windows --level advice",
    "check project/sub/page.html --json",
    "forecast project/sub/page.html -p windows --viewport phone",
];

#[rstest]
#[case::above("<link rel=stylesheet href=../../beside/secret.css>")]
#[case::encoded("<link rel=stylesheet href=%2e%2e/%2e%2e/beside/secret.css>")]
#[case::absolute("<link rel=stylesheet href=HERE/beside/secret.css>")]
#[case::file("<link rel=stylesheet href=file://HERE/beside/secret.css>")]
#[case::upper_case("<link rel=stylesheet href=FILE://HERE/beside/secret.css>")]
#[case::base("<base href=HERE/beside/><link rel=stylesheet href=secret.css>")]
#[case::base_above("<base href=../../beside/><link rel=stylesheet href=secret.css>")]
#[case::import("<style>@import url(../../beside/secret.css);</style>")]
#[case::import_of_a_sheet("<link rel=stylesheet href=import.css>")]
#[case::hidden("<link rel=stylesheet href=../.env>")]
#[case::hidden_folder("<link rel=stylesheet href=../.private/secret.css>")]
#[case::repository("<link rel=stylesheet href=../.git/config>")]
#[case::hidden_above("<link rel=stylesheet href=../../beside/.env>")]
#[case::system("<link rel=stylesheet href=/etc/passwd>")]
#[case::no_sheet("<link rel=stylesheet href=../notes.yml>")]
#[cfg_attr(unix, case::link("<link rel=stylesheet href=linked.css>"))]
#[cfg_attr(
    unix,
    case::folder_link("<link rel=stylesheet href=folder/secret.css>")
)]
#[cfg_attr(unix, case::link_to_hidden("<link rel=stylesheet href=shown.css>"))]
fn what_lies_outside_is_not_quoted_and_does_not_count(#[case] head: &str) {
    let shop = shop(head);
    for command in COMMANDS {
        let run = shop.run(command);
        assert!(run.status < 2, "{command}: {}", run.err);
        let all = format!("{}{}", run.out, run.err);
        assert!(
            !all.contains(SECRET) && !all.contains("root:x"),
            "{command}: {all}"
        );
        let counted = head.contains("notes.yml") || !all.contains("Seaglass");
        assert!(counted, "{command}: {all}");
    }
}

#[rstest]
#[case::above("../../beside/font.ttf", "--may-read", "file-outside")]
#[case::absolute("HERE/beside/font.ttf", "--root", "leads to no file")]
#[cfg_attr(unix, case::link("linked.ttf", "--may-read", "file-outside"))]
fn a_font_outside_is_none(#[case] url: &str, #[case] way_out: &str, #[case] code: &str) {
    let head =
        format!("<style>@font-face{{font-family:A;src:url({url})}}p{{font-family:A}}</style>");
    let shop = shop(&head);
    let run = shop.run("cover project/sub/page.html -p windows --json");
    let said = format!("{}{}", run.out, run.err);
    assert!(said.contains(way_out), "{said}");
    assert_eq!(run.json()["gap_clusters"], 4, "{said}");
    let found = shop.run("check project/sub/page.html");
    assert!(found.out.contains(code), "{}", found.out);
}

#[test]
fn what_the_user_names_may_be_read() {
    let shop = shop("<link rel=stylesheet href=../../beside/plain.css>");
    shop.write("beside/plain.css", "p {font-family: Seaglass}");
    let run = shop.run("cover project/sub/page.html -p windows --styles --json");
    assert!(
        run.out.contains("--may-read") && !run.out.contains("Seaglass"),
        "{}",
        run.out
    );
    let run = shop.run("cover project/sub/page.html -p windows --styles --json --may-read beside");
    assert!(
        run.out.contains("Seaglass") && !run.out.contains("--may-read"),
        "{}",
        run.out
    );
    shop.run("cover project/sub/page.html --may-read lost")
        .failed(2, &["--may-read lost", "no such folder"]);
    shop.write(
        "project/tidy-lattice.toml",
        "may_read = [\"../beside\"]\nplatforms = [\"windows\"]\n[[content]]\nfiles = [\"sub/*.html\"]\n",
    );
    let run = shop.run("cover --project project/tidy-lattice.toml --styles --json");
    assert!(run.out.contains("Seaglass"), "{}{}", run.out, run.err);
}

#[test]
fn packages_are_read_wherever_they_are_installed() {
    let shop = shop("<link rel=stylesheet href=../node_modules/.store/kit/a.css>");
    let folder = shop.path("project/node_modules/.store/kit");
    std::fs::create_dir_all(&folder).expect("a folder");
    std::fs::write(folder.join("a.css"), "p {font-family: Seaglass}").expect("a sheet");
    let run = shop.run("cover project/sub/page.html -p windows --styles --json");
    assert!(run.out.contains("Seaglass"), "{}{}", run.out, run.err);
}

#[test]
fn packages_of_folders_above_are_read_too() {
    let shop = Workshop::new();
    for folder in ["mono/site", "mono/node_modules/kit", "mono/other"] {
        std::fs::create_dir_all(shop.path(folder)).expect("a folder");
    }
    shop.write("mono/site/package.json", "{}");
    shop.write("mono/node_modules/kit/a.css", "p {font-family: Seaglass}");
    shop.write("mono/other/b.css", "p {font-style: italic}");
    shop.write(
        "mono/site/page.html",
        "<!doctype html><link rel=stylesheet href=../node_modules/kit/a.css><link \
         rel=stylesheet href=../other/b.css><p>Tide",
    );
    let run = shop.run("cover mono/site/page.html -p windows --styles --json");
    assert!(run.out.contains("Seaglass"), "{}{}", run.out, run.err);
    let problems = run.json()["problems"].clone();
    let problems = problems.as_array().expect("problems");
    assert_eq!(problems.len(), 1, "{problems:?}");
    assert!(
        problems[0]["what"].to_string().contains("../other/b.css"),
        "{problems:?}"
    );
}

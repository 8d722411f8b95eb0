//! The rules of `check`, each with its examples, and what is not to be found.

mod material;
mod random_sheets;

use std::collections::BTreeSet;
use std::path::PathBuf;

use rstest::rstest;
use tidy_lattice_checks::catalogue::{self, Rule};
use tidy_lattice_checks::{Finding, check, mend};
use tidy_lattice_project::Access;
use tidy_lattice_project::checking::{CheckRequest, gather};

use crate::material::{folder, found};

fn codes(findings: &[Finding]) -> BTreeSet<&str> {
    findings.iter().map(|finding| finding.code).collect()
}

fn file_of(rule: &Rule) -> &'static str {
    if rule.page { "page.html" } else { "sheet.css" }
}

#[test]
fn each_rule_finds_its_wrong_example_and_passes_its_right_one() {
    let folder = folder();
    let mut tried = 0;
    for rule in catalogue::rules()
        .iter()
        .filter(|rule| !rule.wrong.is_empty())
    {
        // A sheet by itself lies in no project that it could lead out of.
        if rule.code == "file-outside" {
            continue;
        }
        let name = file_of(rule);
        let wrong = found(folder.path(), name, &rule.wrong);
        assert!(
            codes(&wrong).contains(rule.code.as_str()),
            "{}: {:?}",
            rule.code,
            codes(&wrong)
        );
        let right = found(folder.path(), name, &rule.right);
        assert!(
            !codes(&right).contains(rule.code.as_str()),
            "{}: {right:?}",
            rule.code
        );
        tried += 1;
    }
    assert!(tried >= 35, "{tried}");
}

#[test]
fn right_examples_have_nothing_else_wrong() {
    let folder = folder();
    for rule in catalogue::rules()
        .iter()
        .filter(|rule| !rule.right.is_empty())
    {
        let right = found(folder.path(), file_of(rule), &rule.right);
        let other: Vec<&Finding> = right.iter().collect();
        assert!(other.is_empty(), "{}: {other:#?}", rule.code);
    }
}

#[test]
fn what_a_rule_mends_is_not_found_again() {
    let folder = folder();
    let mut tried = 0;
    for rule in catalogue::rules()
        .iter()
        .filter(|rule| rule.mended && !rule.wrong.is_empty())
    {
        let name = file_of(rule);
        let wrong = found(folder.path(), name, &rule.wrong);
        let ours: Vec<Finding> = wrong
            .into_iter()
            .filter(|one| one.code == rule.code && !one.mend.is_empty())
            .collect();
        if ours.is_empty() {
            // A mistyped family is not put right by guessing, a path only where the file
            // lies in the project.
            assert!(
                ["name-mistyped", "file-not-found"].contains(&rule.code.as_str()),
                "{}",
                rule.code
            );
            continue;
        }
        let read = |file: &str| std::fs::read_to_string(file).ok();
        let mended = mend::mended(&ours, read);
        let text = &mended
            .values()
            .next()
            .unwrap_or_else(|| panic!("{}", rule.code))
            .text;
        assert_ne!(text, &rule.wrong);
        let again = found(folder.path(), name, text);
        assert!(
            !codes(&again).contains(rule.code.as_str()),
            "{}: {text}: {again:?}",
            rule.code
        );
        tried += 1;
    }
    assert!(tried >= 14, "{tried}");
}

#[rstest]
#[case::normalise("pre { font-family: monospace, monospace }")]
#[case::framework(
    "body { font-family: system-ui, -apple-system, \"Segoe UI\", Roboto, \"Helvetica Neue\", \"Noto Sans\", \"Liberation Sans\", Arial, sans-serif, \"Apple Color Emoji\", \"Segoe UI Emoji\" }"
)]
#[case::utility(
    "html { font-family: ui-sans-serif, system-ui, sans-serif, \"Apple Color Emoji\" }"
)]
#[case::icons("i { font-family: \"Some Icons\" }")]
#[case::variable(
    ":root { --x: Arial } p { font-family: var(--x) } b { font: inherit } i { font-family: var(--x), Other }"
)]
#[case::shorthand(
    "p { font: italic bold 12px/1.5 Georgia, serif } b { font: 12px/1 var(--f) } i { font: caption }"
)]
#[case::own_words(
    "p { font-family: -apple-system, sans-serif; line-height: 0 } sup { line-height: .5 }"
)]
#[case::stand_in(
    "@font-face { font-family: X; src: local('Arial'), local('Liberation Sans'); size-adjust: 97% }"
)]
#[case::nested("@media print { .a { &:hover { font-family: Arial, sans-serif } } }")]
#[case::plus("p { font-family: \"M+ 1p\", sans-serif }")]
#[case::hidden(
    ".a { font: 0/0 a; } .b { height: 50%; line-height: 50% } .c-lg { line-height: .75em; vertical-align: -15% }"
)]
#[case::marked(
    "\u{feff}@font-face { font-family: X; src: local('Arial') } p { font-family: Arial, sans-serif }"
)]
#[case::template(
    "@font-face { font-family: X; src: url({{ path }}/x.woff2); font-display: swap } @font-face { font-family: Y; src: url(@@path/y.woff2); font-display: swap }"
)]
fn nothing_is_wrong_with(#[case] css: &str) {
    let folder = folder();
    let findings = found(folder.path(), "sheet.css", css);
    let unknown = |one: &Finding| one.code == "family-unknown";
    let findings: Vec<&Finding> = findings.iter().filter(|one| !unknown(one)).collect();
    assert!(findings.is_empty(), "{findings:#?}");
}

#[rstest]
#[case("a {\n  font-family: Arial;\n}", "generic-missing", (2, 16), "font-family: Arial;")]
#[case("a{b:c}p{font:12px Source Sans 3,serif}", "name-needs-quotes", (1, 19), "a{b:c}p{font:12px Source Sans 3,serif}")]
#[case("/* é */ p { font-family: 'A+B', serif }", "name-encoded", (1, 26), "/* é */ p { font-family: 'A+B', serif }")]
fn places_are_those_of_the_part_that_is_wrong(
    #[case] css: &str,
    #[case] code: &str,
    #[case] place: (u32, u32),
    #[case] line: &str,
) {
    let folder = folder();
    let findings = found(folder.path(), "sheet.css", css);
    let one = findings
        .iter()
        .find(|one| one.code == code)
        .unwrap_or_else(|| panic!("{findings:?}"));
    assert_eq!((one.place.line, one.place.column), place);
    let excerpt = one.excerpt.as_ref().expect("an excerpt");
    assert_eq!(excerpt.text, line);
    let meant: String = excerpt
        .text
        .chars()
        .skip(excerpt.start)
        .take(excerpt.length)
        .collect();
    assert!(!meant.is_empty() && css.contains(&meant), "{meant:?}");
}

#[test]
fn a_comment_with_a_reason_silences_a_rule_where_it_stands() {
    let folder = folder();
    let css = "/* tidy-lattice: allow generic-missing, because the kiosk has this font */\n\
               p { font-family: Arial }\n\
               b { font-family: Arial }\n";
    let findings = found(folder.path(), "sheet.css", css);
    let lines: Vec<u32> = findings.iter().map(|one| one.place.line).collect();
    assert_eq!((codes(&findings).len(), lines), (1, vec![3]));
}

#[test]
fn files_that_moved_within_the_project_are_found() {
    let folder = folder();
    std::fs::create_dir(folder.path().join("css")).expect("a folder");
    let css = "@font-face { font-family: Brand; src: url(SkerrymarkSans-Regular.ttf?v=1); font-display: swap }";
    std::fs::write(folder.path().join("css/site.css"), css).expect("a file");
    let request = CheckRequest {
        paths: vec![folder.path().to_owned()],
        ..CheckRequest::default()
    };
    let inputs = gather(&request, None, &[], Access::of_machine()).expect("inputs");
    let findings = check(&inputs);
    let one = findings
        .iter()
        .find(|one| one.code == "file-not-found")
        .expect("a finding");
    assert_eq!(one.mend[0].text, "../fonts/SkerrymarkSans-Regular.ttf?v=1");
    // What leads out of the folder is told as that.
    let out = css.replace("SkerrymarkSans", "../../../SkerrymarkSans");
    std::fs::write(folder.path().join("css/site.css"), out).expect("a file");
    let inputs = gather(&request, None, &[], Access::of_machine()).expect("inputs");
    assert!(codes(&check(&inputs)).contains("file-outside"));
}

#[rstest]
#[case("")]
#[case("@font-face")]
#[case("@font-face {")]
#[case("p { font-family: ,,, ; src: ; }}}} @import")]
#[case("p { font: / / , ; --x: {{{{ ; font-family: \"\\")]
#[case("@font-face { src: url(, format(; unicode-range: U+??????????? } \u{0} /*")]
fn broken_sheets_do_no_harm(#[case] css: &str) {
    let folder = folder();
    let _ = found(folder.path(), "sheet.css", css);
    let deep = format!("{css}{}", "a{".repeat(5000));
    let _ = found(folder.path(), "sheet.css", &deep);
}

#[test]
fn every_path_is_checked_or_told() {
    let request = CheckRequest {
        paths: vec![PathBuf::from("none.css")],
        ..CheckRequest::default()
    };
    let error = gather(&request, None, &[], Access::of_machine())
        .err()
        .expect("an error");
    assert!(error.to_string().contains("none.css"), "{error}");
}

#[test]
fn one_broken_file_of_many_is_a_finding() {
    let folder = folder();
    std::fs::write(
        folder.path().join("a.html"),
        b"<html lang=en><p>\xff\xfe broken",
    )
    .expect("a file");
    std::fs::write(folder.path().join("b.css"), "p { font-family: Arial }").expect("a file");
    let request = CheckRequest {
        paths: vec![folder.path().to_owned()],
        ..CheckRequest::default()
    };
    let inputs = gather(&request, None, &[], Access::of_machine()).expect("inputs");
    let findings = check(&inputs);
    let one = findings
        .iter()
        .find(|one| one.code == "unread")
        .expect("a finding");
    assert!(
        one.place.file.ends_with("a.html") && one.what.contains("UTF-8"),
        "{one:?}"
    );
    assert!(
        codes(&findings).contains("generic-missing"),
        "the others are checked"
    );
}

#[test]
fn of_a_line_of_thousands_of_letters_a_part_is_told() {
    let folder = folder();
    let css = format!(
        "{} p {{ font-family: Arial }} {}",
        "a{b:c}".repeat(900),
        "d{e:f}".repeat(900)
    );
    let findings = found(folder.path(), "sheet.css", &css);
    let excerpt = findings[0].excerpt.as_ref().expect("an excerpt");
    assert!(excerpt.text.starts_with('…') && excerpt.text.chars().count() <= 160);
    let meant: String = excerpt
        .text
        .chars()
        .skip(excerpt.start)
        .take(excerpt.length)
        .collect();
    assert_eq!(meant, "Arial");
}

#[test]
fn places_in_a_page_with_a_mark_of_its_encoding_are_right() {
    let folder = folder();
    let html = "\u{feff}<html lang=en><style>p { font-family: Arial }</style><p>Ferries";
    let findings = found(folder.path(), "page.html", html);
    let mended = mend::mended(&findings, |_| Some(html.to_owned()));
    let text = &mended.values().next().expect("a file").text;
    assert!(text.contains("font-family: Arial, sans-serif }"), "{text}");
}

#[test]
fn colours_that_an_engine_cannot_draw_are_told() {
    let folder = folder();
    std::fs::write(folder.path().join("colr.ttf"), font_test_data::COLRV0V1).expect("a file");
    let css = "@font-face { font-family: Lamps; src: url(colr.ttf); font-display: swap }";
    let findings = found(folder.path(), "sheet.css", css);
    let one = findings
        .iter()
        .find(|one| one.code == "colour-not-everywhere")
        .expect("a finding");
    assert_eq!(
        one.what,
        "WebKit cannot draw the colours of this font (COLR v1)"
    );
}

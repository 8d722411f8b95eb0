//! Inputs that once hung the program, broke it, or ate its memory: each ends in an answer
//! within bounds. The files lie in `tests/hostile`; what is large is made here.

use std::time::{Duration, Instant};

use rstest::rstest;

use crate::workshop::Workshop;

/// What any command may take on such a file, in a build without optimisation and with other
/// tests beside; those that hung took minutes and more.
const PATIENCE: Duration = Duration::from_secs(60);

const OVERLAPPING: &[u8] = include_bytes!("../hostile/overlapping-lookups.ttf");

fn in_time(shop: &Workshop, command: &str) -> String {
    let since = Instant::now();
    let run = shop.run(command);
    let all = format!("{}{}", run.out, run.err);
    assert!(since.elapsed() < PATIENCE, "{command}");
    assert!(
        !all.contains("panicked") && !all.contains("overflow"),
        "{all}"
    );
    all
}

#[rstest]
#[case("describe f.ttf", "lists of scripts and features cannot be read")]
#[case("cover -f f.ttf -t Tide", "")]
#[case("build -w f.ttf -p windows", "")]
#[case("rank f.ttf -p windows", "")]
#[case("compare f.ttf sans.ttf", "")]
#[case("record f.ttf -o f.card.json", "")]
#[case("trim f.ttf --text Tide -o out", "overlap or repeat each other")]
fn tables_that_overlap_are_walked_once(#[case] command: &str, #[case] says: &str) {
    let shop = Workshop::new();
    shop.write("f.ttf", OVERLAPPING);
    let all = in_time(&shop, command);
    assert!(all.contains(says), "{all}");
}

#[test]
fn one_bad_font_does_not_stop_a_folder() {
    let shop = Workshop::new();
    shop.write("f.ttf", OVERLAPPING);
    shop.write("empty.ttf", "");
    let all = in_time(&shop, "describe .");
    assert!(
        all.contains("Skerrymark Sans") && all.contains("the file is empty"),
        "{all}"
    );
}

#[test]
fn a_folder_of_bad_fonts_tells_every_reason() {
    let shop = Workshop::new();
    std::fs::create_dir(shop.path("bad")).expect("a folder");
    for name in ["a", "b", "c", "d"] {
        shop.write(&format!("bad/{name}.ttf"), "");
    }
    shop.write("bad/page.ttf", "<!doctype html><p>Not found");
    shop.run("describe bad").failed(
        3,
        &[
            "none of 5 files can be read",
            "a.ttf, b.ttf, c.ttf and 1 more: the file is empty",
            "page.ttf: this is a web page",
        ],
    );
}

/// The demo's font with the `fvar` table of an axis that runs backwards.
fn backwards() -> Vec<u8> {
    let mut font = font_test_data::VAZIRMATN_VAR.to_vec();
    let table = font
        .windows(4)
        .position(|tag| tag == b"fvar")
        .expect("the table's record");
    let at = u32::from_be_bytes(font[table + 8..table + 12].try_into().expect("an offset"));
    // Header, then tag, least, default and greatest value of the first axis.
    let axis = at as usize + 16 + 4;
    font[axis..axis + 4].copy_from_slice(&(2000_i32 << 16).to_be_bytes());
    font
}

#[rstest]
#[case("describe f.ttf", "backwards")]
#[case("build -w f.ttf -p windows --weight 400 --weight 700", "")]
#[case("build -w f.css -p windows --weight 700", "")]
#[case("rank f.ttf -p windows", "")]
#[case("trim f.ttf --text Tide -o out", "")]
#[case("shift page.html -p windows --viewport phone", "")]
fn an_axis_may_run_backwards(#[case] command: &str, #[case] says: &str) {
    let shop = Workshop::new();
    shop.write("f.ttf", backwards());
    shop.write(
        "f.css",
        "@font-face {font-family: F; src: url(f.ttf); font-weight: 900 100}",
    );
    shop.write(
        "page.html",
        "<link rel=stylesheet href=f.css><p style='font: 700 1em F'>Tide",
    );
    let all = in_time(&shop, command);
    assert!(all.contains(says), "{all}");
}

fn nested(open: &str, depth: usize, close: &str) -> String {
    format!("{}x{}", open.repeat(depth), close.repeat(depth))
}

#[rstest]
#[case::divisions(nested("<div>", 30_000, ""), "elements are open here")]
#[case::closed(nested("<div>", 5_000, "</div>"), "elements are open here")]
#[case::inline(nested("<b>", 3_000, "</b>"), "")]
#[case::spans(nested("<span>", 2_000, "</span>"), "")]
#[case::tables(nested("<table><tr><td>", 700, ""), "")]
#[case::flexible(nested("<div style=display:flex>", 400, ""), "")]
#[case::grids(nested("<div style=display:grid>", 400, ""), "")]
#[case::lists(nested("<ul><li>", 800, ""), "")]
#[case::moved("<a><p>".repeat(3_000), "")]
#[case::attributes(
    format!("<p {}>x", (0..50_000).map(|n| format!("a{n}=1 ")).collect::<String>()),
    "more than 4096 attributes"
)]
#[case::slashes(
    format!("<p {}>x", (0..50_000).map(|n| format!("a{n}/")).collect::<String>()),
    "more than 4096 attributes"
)]
#[case::no_blanks(
    format!("<p {}>x", (0..50_000).map(|n| format!("a{n}=\"\"")).collect::<String>()),
    "more than 4096 attributes"
)]
#[case::an_apostrophe(
    format!("<p it=isn't {}>x", (0..50_000).map(|n| format!("a{n} ")).collect::<String>()),
    "more than 4096 attributes"
)]
#[case::long_values(format!("<p title='{}' alt=\"{}\">x", "a ".repeat(9_000), "b/".repeat(9_000)), "")]
fn nesting_has_an_end(#[case] body: String, #[case] says: &str) {
    let shop = Workshop::new();
    shop.write("page.html", format!("<!doctype html>{body}"));
    for command in [
        "cover page.html -p windows",
        "shift page.html -p windows --viewport phone",
    ] {
        let all = in_time(&shop, command);
        assert!(all.contains(says), "{command}: {all}");
        assert!(
            !says.is_empty() || !all.contains("more than"),
            "{command}: {all}"
        );
    }
}

#[test]
fn what_multiplies_is_left_out_and_told() {
    let shop = Workshop::new();
    let list = "&,&,&,&,&,&,&,& {".repeat(10);
    shop.write(
        "page.html",
        format!(
            "<!doctype html><style>{list}font-size: 10px{}p {{font-family: Seaglass}}</style>\
             <div><p>Tide</div>",
            "}".repeat(10)
        ),
    );
    let all = in_time(&shop, "cover page.html -p windows --styles --json");
    assert!(all.contains("the selectors of this rule"), "{all}");
    assert!(all.contains("Seaglass"), "the rules behind hold: {all}");
    let doubling: String = (0..40)
        .map(|n| format!("--a{}: var(--a{n}) var(--a{n});", n + 1))
        .collect();
    for css in [
        format!("* {{--a0: aaaaaaaaaa; {doubling} font-family: var(--a40)}}"),
        format!(
            "p {{font-family: {}serif{}}}",
            "var(--x,".repeat(5_000),
            ")".repeat(5_000)
        ),
        format!(
            "{}q{} {{font-size: 9px}}",
            ":is(* ".repeat(16),
            ")".repeat(16)
        ),
    ] {
        let body = "<div>Tide".repeat(300);
        shop.write(
            "page.html",
            format!("<!doctype html><style>{css}</style>{body}"),
        );
        in_time(&shop, "cover page.html -p windows");
    }
}

#[test]
fn names_cannot_turn_reports_round() {
    let shop = Workshop::new();
    shop.write(
        "page.html",
        "<!doctype html><title>a\u{202e}b</title><p id='x\u{2066}y' \
         style='font-family: \"Sea\u{202e}ssalg\", serif'>Ti\u{200f}de \u{2028} \u{2192}",
    );
    shop.write("sea\u{202e}ssalg.txt", "Tide");
    let turning = |text: &str| {
        text.contains([
            '\u{202e}', '\u{2066}', '\u{2067}', '\u{200f}', '\u{2028}', '\u{2029}',
        ])
    };
    for command in [
        "cover page.html -p windows",
        "cover page.html -p windows --json",
        "check page.html --level advice",
        "check page.html --level advice --as sarif",
        "check page.html --level advice --as junit",
        "check page.html --level advice --as markdown",
        "shift page.html -p windows --viewport phone",
        "cover -f sans.ttf sea\u{202e}ssalg.txt",
        "trace a\u{202e}b -f sans.ttf",
    ] {
        let run = shop.run(command);
        assert!(
            !turning(&run.out) && !turning(&run.err),
            "{command}: {}{}",
            run.out,
            run.err
        );
    }
    let run = shop.run_with(
        [
            "build",
            "-w",
            "sans.ttf",
            "-p",
            "windows",
            "--family",
            "Sea\u{202e}ssalg",
        ],
        "",
    );
    assert!(
        !turning(&run.out) && run.out.contains("\\202e "),
        "{}",
        run.out
    );
}

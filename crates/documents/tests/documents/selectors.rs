//! Selectors as Chromium parses and matches them in a page at rest.

use rstest::rstest;
use tidy_lattice_documents::page::{Files, OpenedFile, Page, Unread, read};
use tidy_lattice_documents::style::read::Viewport;

struct NoFiles;

impl Files for NoFiles {
    fn read(&self, _: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
        Err(Unread::Remote)
    }
}

fn page(css: &str, body: &str) -> Page {
    let html = format!("<!doctype html><style>{css}</style>{body}");
    read(
        &html,
        "page.html",
        &NoFiles,
        Viewport::screen(1280.0, 800.0),
    )
    .0
}

/// The size of the text that holds an X.
fn size(css: &str, body: &str) -> f32 {
    let page = page(css, body);
    let text = page.texts.iter().find(|text| text.text.contains('X'));
    page.styles[text.expect("a text with an X").style].size
}

/// Whether a rule with this selector sets the text.
fn sets(selector: &str, body: &str) -> bool {
    size(&format!("{selector} {{font-size: 40px}}"), body) == 40.0
}

#[rstest]
#[case::host_beside_root(":root, :host", "<p>X", true)]
#[case::host_alone(":host", "<p>X", false)]
#[case::host_with_argument(":host(.a), p", "<p>X", true)]
#[case::valid_beside(".a:valid, p", "<p>X", true)]
#[case::autofill_beside("input:-webkit-autofill, p", "<p>X", true)]
#[case::user_states("b:user-valid, b:user-invalid, p", "<p>X", true)]
#[case::unknown_of_webkit("a::-webkit-foo, p", "<p>X", true)]
#[case::unknown_of_gecko("a::-moz-foo, p", "<p>X", false)]
#[case::class_of_gecko("a:-moz-focusring, p", "<p>X", false)]
#[case::unknown_drops_the_rule("a:foo, p", "<p>X", false)]
#[case::forgiven_in_is(":is(:foo, p)", "<p>X", true)]
#[case::forgiven_in_where("p:where(:foo, p)", "<p>X", true)]
#[case::not_forgiven_in_not("p:not(:foo)", "<p>X", false)]
#[case::old_alias(":-webkit-any(h1, p)", "<p>X", true)]
#[case::part_and_slot("a::part(x):hover, ::slotted(b), p", "<p>X", true)]
#[case::state_behind_scroll_bar("::-webkit-scrollbar-thumb:window-inactive, p", "<p>X", true)]
#[case::state_behind_before("a::before:hover, p", "<p>X", false)]
#[case::language_by_word("p:lang(de)", "<p lang=de>X", true)]
#[case::hover_never("p:hover", "<p>X", false)]
fn selectors_that_are_valid(#[case] selector: &str, #[case] body: &str, #[case] sets: bool) {
    assert_eq!(self::sets(selector, body), sets, "{selector}");
}

#[rstest]
#[case::valid("input:valid ~ p", "<input><p>X", true)]
#[case::missing("input:valid ~ p", "<input required><p>X", false)]
#[case::invalid("input:invalid ~ p", "<input required><p>X", true)]
#[case::filled("input:invalid ~ p", "<input required value=a><p>X", false)]
#[case::mail("input:invalid ~ p", "<input type=email value=a><p>X", true)]
#[case::mail_right("input:valid ~ p", "<input type=email value=a@b><p>X", true)]
#[case::paragraph("p:valid", "<p>X", false)]
#[case::disabled_is_not_checked("input:valid ~ p", "<input disabled><p>X", false)]
#[case::unticked("input:invalid ~ p", "<input type=checkbox required><p>X", true)]
#[case::form("form:invalid", "<form><input required><p>X</form>", true)]
#[case::form_valid("form:valid", "<form><input><p>X</form>", true)]
#[case::disabled_by_group(
    "button:disabled",
    "<fieldset disabled><button>X</button></fieldset>",
    true
)]
#[case::first_legend(
    "button:enabled",
    "<fieldset disabled><legend><button>X</button></legend></fieldset>",
    true
)]
#[case::out_of_range(
    "input:out-of-range ~ p",
    "<input type=number max=3 value=4><p>X",
    true
)]
#[case::in_range("input:in-range ~ p", "<input type=number max=3 value=2><p>X", true)]
#[case::no_range("input:in-range ~ p", "<input type=number value=2><p>X", false)]
#[case::read_only("p:read-only", "<p>X", true)]
#[case::read_write("p:read-write", "<p contenteditable>X", true)]
#[case::default_button(
    "button:default",
    "<form><button type=button>a</button><button>X</button></form>",
    true
)]
#[case::indeterminate("progress:indeterminate + p", "<progress></progress><p>X", true)]
#[case::custom("x-a:not(:defined)", "<x-a>X</x-a>", true)]
#[case::known("p:defined", "<p>X", true)]
#[case::open("details:open > p", "<details open><p>X</details>", true)]
fn states_of_a_page_at_rest(#[case] selector: &str, #[case] body: &str, #[case] sets: bool) {
    assert_eq!(self::sets(selector, body), sets, "{selector}");
}

#[rstest]
#[case::empty("--f: ", 20.0)]
#[case::set("--f: 30px", 30.0)]
#[case::invalid("--f: solid", 20.0)]
#[case::missing("--g: 30px", 20.0)]
fn empty_and_wrong_values_of_custom_properties_inherit(#[case] set: &str, #[case] expected: f32) {
    let css = format!("div {{font-size: 20px}} p {{{set}; font-size: var(--f)}}");
    assert_eq!(size(&css, "<div><p>X</div>"), expected);
}

#[rstest]
#[case::inherits("true", 30.0)]
#[case::does_not("false", 25.0)]
fn registered_properties_inherit_as_they_say(#[case] inherits: &str, #[case] expected: f32) {
    let css = format!(
        "@property --s {{syntax: '<length>'; inherits: {inherits}; initial-value: 25px}} \
         div {{--s: 30px}} p {{font-size: var(--s)}}"
    );
    assert_eq!(size(&css, "<div><p>X</div>"), expected);
}

#[test]
fn a_size_of_nothing_needs_no_unit() {
    assert_eq!(size("p {font: 0/0 a}", "<p>X"), 0.0);
}

#[test]
fn rules_for_other_engines_are_dropped_without_a_word() {
    let css =
        "::-moz-focus-inner {border: 0} :-ms-input-placeholder {color: red} p:foo {color: red}";
    let problems = page(css, "<p>X").problems;
    assert_eq!(problems.len(), 1, "{problems:?}");
    assert!(problems[0].what.contains("p:foo"));
}

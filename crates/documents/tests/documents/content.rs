//! What readers of content hand over.

use rstest::rstest;
use tidy_lattice_documents::content::message::{Kind, brought};
use tidy_lattice_documents::content::{Format, Part, Reading, is_language, language_of_path, read};

/// Texts with line and language.
fn shown(name: &str, bytes: &[u8], language: Option<&str>) -> Vec<(String, u32, String)> {
    let mut all = Vec::new();
    read(
        bytes,
        Format::of(name),
        Reading { language },
        &mut |piece| {
            if piece.part != Part::Brought {
                let language = piece.language.unwrap_or("-").to_owned();
                all.push((piece.text.to_owned(), piece.line, language));
            }
        },
    )
    .unwrap_or_else(|error| panic!("{name}: {error}"));
    all
}

fn text(name: &str, content: &str) -> String {
    let pieces = shown(name, content.as_bytes(), Some("en"));
    let texts: Vec<String> = pieces.into_iter().map(|(text, ..)| text).collect();
    texts.join("|")
}

#[rstest]
#[case::plain(
    "a.json",
    r#"{"a": "Hello", "b": {"c": ["x", "y\u0301"]}, "n": 5}"#,
    "Hello|x|y\u{301}"
)]
#[case::icu(
    "a.json",
    r#"{"a": "Hi {name}, it''s {n, plural, one {# day} few {no} other {# days}}"}"#,
    "Hi |, it's | day| days"
)]
#[case::select(
    "a.json",
    r#"{"a": "{g, select, male {he} female {she} other {they}} won"}"#,
    "he|she|they| won"
)]
#[case::escaped_letters("a.strings", r#""a" = "caf\U00e9 \u2192";"#, "caf\u{e9} \u{2192}")]
#[case::quoted_braces("a.json", r#"{"a": "use '{braces}' {x}"}"#, "use {braces} ")]
#[case::double_braces("a.json", r#"{"a": "{{count}} of {{total}}: $t(rest)"}"#, " of |: ")]
#[case::tags(
    "a.json",
    r#"{"a": "<b class='x'>5&nbsp;min</b> &lt; 3 < 4 & so"}"#,
    "5|\u{a0}|min| |<| 3 <| 4 &| so"
)]
#[case::printf(
    "a.po",
    "msgid \"x\"\nmsgstr \"%1$s: 100%% of %d ft, 5 % off %(what)s.\"\n",
    ": 100% of | ft, 5 % off |."
)]
#[case::plural_object(
    "a.json",
    r#"{"a": {"one": "1 day", "few": "no", "other": "days"}}"#,
    "1 day|days"
)]
#[case::arb(
    "a.arb",
    r#"{"@@locale": "uk", "t": "Привіт", "@t": {"description": "no"}}"#,
    "Привіт"
)]
#[case::yaml(
    "a.yml",
    "en:\n  a: Hello\n  b:\n    - \"x: %{name}\"\n    - 5\n  c: |\n    two\n    lines\n",
    "Hello|x: |two\nlines\n"
)]
#[case::po_untranslated(
    "a.po",
    "msgid \"\"\nmsgstr \"Language: uk\\n\"\n\n#, fuzzy\nmsgid \"old\"\nmsgstr \"no\"\n\nmsgid \"kept\"\nmsgstr \"\"\n\nmsgid \"a\"\n\"b\"\nmsgstr \"в\"\n\"г\"\n\n#~ msgid \"gone\"\n#~ msgstr \"gone\"\n",
    "old|kept|вг"
)]
#[case::xliff1(
    "a.xlf",
    "<xliff version='1.2'><file source-language='en' target-language='uk'><body><trans-unit id='1'><source>Hi <g id='1'>you</g></source><target>Вітаю <g id='1'>тебе</g><ph id='2'>{0}</ph></target><note>no</note></trans-unit><trans-unit id='2'><source>left</source><target/></trans-unit></body></file></xliff>",
    "Вітаю тебе|left"
)]
#[case::xliff2(
    "a.xliff",
    "<xliff version='2.0' srcLang='en' trgLang='uk'><file><unit><notes><note>no</note></notes><segment><source>a</source><target>б&amp;<pc id='1'>в</pc></target></segment></unit></file></xliff>",
    "б&|в"
)]
#[case::properties(
    "a.properties",
    "# no\na = one \\\n    two\nb: \\u0414a\n",
    "one two|Дa"
)]
#[case::resources(
    "values/strings.xml",
    "<resources><string name='a'>It\\'s <b>%1$d</b> \\u2192</string><plurals name='p'><item quantity='one'>one</item><item quantity='many'>no</item></plurals></resources>",
    "It's | →|one"
)]
#[case::strings(
    "a.strings",
    "/* no */ \"key\" = \"It is \\U2192 %@\"; // no\nb = \"c\";",
    "It is → |c"
)]
#[case::csv("a.csv", "key,en,uk\na,\"Hello, you\",Привіт\n", "Hello, you|Привіт")]
#[case::csv_without_heading("a.csv", "Hello,you\n", "Hello|you")]
#[case::markdown(
    "a.md",
    "---\ntitle: no\n---\n# Head\n\nText **bold** `code` [link](x \"tip\")\n\n| a |\n|---|\n| b |\n",
    "Head|Text |bold| |code| |tip|link|a|b"
)]
#[case::html("a.html", "<!doctype html><p>a &amp; b<script>no</script>", "a & b")]
fn formats(#[case] name: &str, #[case] content: &str, #[case] expected: &str) {
    let joined = text(name, content);
    assert_eq!(joined, expected);
}

#[test]
fn lines_and_languages_are_told() {
    let json = "{\n  \"uk\": {\n    \"a\": \"один\"\n  },\n  \"vi\": {\"a\":\n \"hai\"}\n}";
    assert_eq!(
        shown("m.json", json.as_bytes(), None),
        [
            ("один".to_owned(), 3, "uk".to_owned()),
            ("hai".to_owned(), 6, "vi".to_owned())
        ]
    );
    let csv = "id,pl,el\nx,raz,ένα\ny,dwa,δύο\n";
    let last = shown("m.csv", csv.as_bytes(), None).pop();
    assert_eq!(last, Some(("δύο".to_owned(), 3, "el".to_owned())));
    let po = "msgid \"\"\nmsgstr \"\"\n\"Language: pt_BR\\n\"\n\nmsgid \"a\"\nmsgstr \"é\"\n";
    assert_eq!(
        shown("m.po", po.as_bytes(), None),
        [("é".to_owned(), 6, "pt-BR".to_owned())]
    );
    let utf16: Vec<u8> = [0xff, 0xfe]
        .into_iter()
        .chain(
            "\"a\" = \"\n д\";"
                .encode_utf16()
                .flat_map(u16::to_le_bytes),
        )
        .collect();
    assert_eq!(shown("m.strings", &utf16, Some("uk"))[0].0, "\n д");
}

#[rstest]
#[case("a.json", "{\n\"a\": \"b\"", "line 2")]
#[case("a.po", "msgid \"a\"\nmsgstr \"b\n", "line 2")]
#[case("a.xlf", "<xliff>\n<file></xliff>", "line 2")]
#[case("a.strings", "\"a\" = \"b\"\n\"c\"", "line")]
#[case("strings.xml", "<plist/>", "resources")]
#[case("a.yml", "a: [\n", "line")]
fn faults_name_the_line(#[case] name: &str, #[case] content: &str, #[case] part: &str) {
    let error = read(
        content.as_bytes(),
        Format::of(name),
        Reading::default(),
        &mut |_| {},
    )
    .expect_err("a fault")
    .to_string();
    assert!(error.contains(part), "{error}");
}

#[rstest]
#[case(Kind::Integer, "en", "0123456789,-", "٠")]
#[case(Kind::Integer, "fa", "۰۱۲۳۴۵۶۷۸۹", "0")]
#[case(Kind::Number, "de", "0123456789.,-", "٠")]
#[case(Kind::Percent, "ar-EG", "٠٩٪", "%")]
#[case(Kind::Currency, "uk", "₴0", "$")]
#[case(Kind::FullDate, "pl", "ąłśźw", "й")]
#[case(Kind::LongDate, "ja", "年月日", "a")]
#[case(Kind::Time, "en", "AMP:", "я")]
fn placeholders_bring_what_the_language_has(
    #[case] kind: Kind,
    #[case] language: &str,
    #[case] has: &str,
    #[case] lacks: &str,
) {
    let brought = brought(kind, Some(language));
    for character in has.chars() {
        assert!(
            brought.contains(character),
            "{brought:?} lacks {character:?}"
        );
    }
    assert!(!brought.contains(lacks), "{brought:?}");
}

#[rstest]
#[case("locales/uk/app.json", "uk")]
#[case("locales/is.json", "is")]
#[case("messages_pt_BR.properties", "pt-BR")]
#[case("app/src/main/res/values-uk/strings.xml", "uk")]
#[case("res/values-b+sr+Latn/strings.xml", "sr-Latn")]
#[case("res/values-pt-rBR/strings.xml", "pt-BR")]
#[case("App/vi.lproj/Localizable.strings", "vi")]
#[case("lib/l10n/app_uk.arb", "uk")]
#[case("texts/el.txt", "el")]
#[case("po/iw.po", "he")]
#[case("res/values-in-rID/strings.xml", "id-ID")]
#[case("locales/ji/app.json", "yi")]
#[case("site/pl/index.html", "pl")]
#[case("index.html", "")]
#[case("docs/is/it.txt", "")]
#[case("my/notes.txt", "")]
fn paths_tell_languages(#[case] path: &str, #[case] language: &str) {
    assert_eq!(language_of_path(path).unwrap_or_default(), language);
}

#[test]
fn tags_are_told_from_words() {
    assert!(
        ["uk", "pt-BR", "zh_Hans", "es-419"]
            .iter()
            .all(|tag| is_language(tag))
    );
    assert!(
        !["key", "title", "en-", "x", "body"]
            .iter()
            .any(|tag| is_language(tag))
    );
}

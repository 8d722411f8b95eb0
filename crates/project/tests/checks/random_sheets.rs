//! What is found in random sheets, and how it is mended: as it was when somebody last looked.

use std::fmt::Write as _;

use tidy_lattice_checks::{Finding, mend};

use crate::material::{folder, found};

/// How many sheets are made.
const SHEETS: u32 = 300;

const FAMILIES: &[&str] = &[
    "\"Skerrymark Sans\"",
    "Skerrymark Sans",
    "'Skerrymark Text'",
    "Skerrymark Text, serif",
    "Tern 2",
    "\"Tern+2\"",
    "Arial",
    "serif",
    "\"sans-serif\"",
    "Material Icons",
    "\"Skerrymark Sans Bold\"",
];

const SOURCES: &[&str] = &[
    "url(fonts/SkerrymarkSans-Regular.ttf)",
    "url(\"fonts/SkerrymarkSans-Regular.ttf\") format(\"truetype\")",
    "url(fonts/SkerrymarkSans-Bold.ttf) format('woff2')",
    "url(fonts/SkerrymarkText-Regular.ttf) format(truetype)",
    "url(fonts/Skerrymarktext-Regular.ttf)",
    "url(fonts/HarbourlineVF.ttf) format(\"truetype-variations\")",
    "url(brand.woff) format('woff')",
    "url(brand.woff) tech(variations)",
    "url(broken.woff2) format(\"woff2\")",
    "url(missing.woff2) format(\"woff2\")",
    "url(fonts/Lanternsign.ttf)",
    "local(\"Arial\")",
    "local(Skerrymark Sans)",
    "local('☺')",
    "url(/fonts/SkerrymarkSans-Regular.ttf)",
    "url(data:font/ttf;base64,AAEAAAA=)",
    "url(brand.eot?#iefix) format('embedded-opentype')",
    "url(\"\")",
    "format('woff2')",
    "brand.woff",
];

const DESCRIPTORS: &[&str] = &[
    "font-weight: 400",
    "font-weight: bold",
    "font-weight: 300 700",
    "font-weight: 700 300",
    "font-weight: 100 1200",
    "font-weight: bolder",
    "font-weight: 0",
    "font-style: italic",
    "font-style: oblique 4deg 12deg",
    "font-style: oblique 95deg",
    "font-stretch: 75% 100%",
    "font-width: condensed",
    "font-display: swap",
    "font-display: optional",
    "font-display: swapped",
    "unicode-range: U+0-7F",
    "unicode-range: U+0-7F, U+30??",
    "unicode-range: U+4E00-4DFF",
    "unicode-range: U+0041-005A, U+0-FF, U+110000",
    "unicode-range: 0041",
    "size-adjust: 104%",
    "size-adjust: 1.04",
    "ascent-override: 92%",
    "ascent-override: -3%",
    "descent-override: normal",
    "line-gap-override: 0",
    "font-feature-settings: \"tnum\" on, \"ss01\"",
    "font-variation-settings: \"wght\" 850",
    "font-named-instance: auto",
    "font-weigth: 400",
    "color: red",
];

const STACKS: &[&str] = &[
    "\"Skerrymark Sans\", Arial, sans-serif",
    "Skerrymark Sans, Arial",
    "'Skerrymark Text', \"serif\"",
    "Skerrymark Sans 2, sans-serif",
    "serif, Arial",
    "Arial, Arial, sans-serif",
    "-apple-system, BlinkMacSystemFont, \"Segoe UI\"",
    "system-ui",
    "Helvetica Neue, Helvetica, Arial, sans-serif",
    "Skerrymark%20Sans, sans-serif",
    "Skerrymark+Sans:400,700, sans-serif",
    "\"Skerrymark Sans, sans-serif\"",
    "monospace, monospace",
    "var(--body), serif",
    "\"Apple Color Emoji\", \"Segoe UI\", sans-serif",
    "Tern 2, 'Noto Color Emoji'",
    "inherit, serif",
    ", sans-serif",
    "",
];

const RULES: &[&str] = &[
    "p { font-family: % }",
    "p, .lead { font-weight: 600; font-family: % }",
    ".a { font: 16px/1.5 % }",
    ".b { font: italic 700 1rem % }",
    ".c { font: 16px / %; }",
    ".d { font: bold % }",
    "@media print { h1 { font-family: % } }",
    ":root { --body: % }",
    ".e { --brand: %; font-family: var(--brand) }",
    ".f { font-family: % !important; font-style: italic; font-weight: 900 }",
    ".g { font-family: %; font-synthesis: none; font-weight: bold }",
    ".h { font-feature-settings: 'smcp'; font-family: % }",
    ".i { font-variation-settings: 'wght' 250; font-family: % }",
];

const STATEMENTS: &[&str] = &[
    "@import \"empty.css\";",
    "@import url(importing.css);",
    "@import url(missing.css) screen;",
    "@import 'https://fonts.example/css?family=Skerrymark+Sans:400,700';",
    "@charset \"utf-8\";",
    "@layer base;",
    "/* é, a note */",
    "@font-feature-values \"Skerrymark Sans\" { @styleset { neat: 1 } }",
];

/// Numbers that come out the same everywhere (PCG's multiplier, the upper bits).
struct Dice(u64);

impl Dice {
    fn below(&mut self, most: usize) -> usize {
        self.0 = self
            .0
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 33) as usize % most
    }

    fn of<'a>(&mut self, all: &[&'a str]) -> &'a str {
        all[self.below(all.len())]
    }

    /// So many of them at most, in any order, repeats included.
    fn some<'a>(&mut self, all: &[&'a str], most: usize) -> Vec<&'a str> {
        (0..=self.below(most)).map(|_| self.of(all)).collect()
    }
}

/// A sheet with up to four faces and three rules, on some lines or on one.
fn sheet(number: u32) -> String {
    let mut dice = Dice(u64::from(number));
    dice.below(2);
    let mut parts = Vec::new();
    for _ in 0..dice.below(2) {
        parts.push(dice.of(STATEMENTS).to_owned());
    }
    // Most faces of a sheet are of one family.
    let family = dice.of(FAMILIES);
    for _ in 0..dice.below(5) {
        let family = if dice.below(3) == 0 {
            dice.of(FAMILIES)
        } else {
            family
        };
        let sources = dice.some(SOURCES, 2).join(", ");
        let mut declarations = vec![format!("font-family: {family}"), format!("src: {sources}")];
        declarations.extend(dice.some(DESCRIPTORS, 3).into_iter().map(str::to_owned));
        if dice.below(8) == 0 {
            let gone = dice.below(2);
            declarations.remove(gone);
        }
        let between = if dice.below(2) == 0 { ";\n  " } else { ";" };
        parts.push(format!(
            "@font-face {{\n  {}\n}}",
            declarations.join(between)
        ));
    }
    for _ in 0..=dice.below(3) {
        let stack = dice.of(STACKS);
        parts.push(dice.of(RULES).replace('%', stack));
    }
    parts.join(if dice.below(4) == 0 { " " } else { "\n" })
}

/// All that is told, and the sheet as it is mended.
fn told(findings: &[Finding], folder: &str, sheet: &str) -> String {
    let mut told = String::new();
    for finding in findings {
        let _ = writeln!(told, "{finding:#?}");
    }
    let mended = mend::mended(findings, |_| Some(sheet.to_owned()));
    for (file, mended) in mended {
        let _ = writeln!(told, "{file}:\n{}", mended.text);
    }
    told.replace(folder, "FOLDER")
}

#[test]
fn random_sheets_have_the_mistakes_that_they_had() {
    let recorded = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/data/random-sheets.tsv");
    let before = std::fs::read_to_string(recorded).unwrap_or_default();
    let folder = folder();
    let path = folder.path().to_string_lossy().into_owned();
    let mut now = String::new();
    let mut changed = Vec::new();
    for number in 0..SHEETS {
        let sheet = sheet(number);
        let findings = found(folder.path(), "sheet.css", &sheet);
        let told = told(&findings, &path, &sheet);
        let codes: Vec<&str> = findings.iter().map(|finding| finding.code).collect();
        let row = format!(
            "{number}\t{:08x}\t{}",
            crc32fast::hash(told.as_bytes()),
            codes.join(" ")
        );
        if !before.lines().any(|known| known == row) {
            changed.push(format!("{number}: {sheet}\n{told}"));
        }
        let _ = writeln!(now, "{row}");
    }
    if std::env::var_os("TIDY_LATTICE_WRITE").is_some() {
        std::fs::write(recorded, now).expect("a file");
        return;
    }
    assert!(
        changed.is_empty(),
        "in {} sheets other things are found than before; the first:\n{}\n\
         TIDY_LATTICE_WRITE=1 records them anew",
        changed.len(),
        changed[0]
    );
}

//! The mistakes that are planted in the demo: characters of its texts that its stacks do
//! not show, and faults of its old pages; the same of its shop. Checks hold `cover` and
//! `check` to them.

/// A gap on purpose.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Planted {
    /// The file, from the project's folder.
    pub file: &'static str,
    /// The line, counted from 1.
    pub line: u32,
    /// The cluster that no font of its stack shows.
    pub cluster: &'static str,
    /// How it hides.
    pub how: &'static str,
}

const fn planted(
    file: &'static str,
    line: u32,
    cluster: &'static str,
    how: &'static str,
) -> Planted {
    Planted {
        file,
        line,
        cluster,
        how,
    }
}

/// All of them, each in the first line that has it.
pub const PLANTED: &[Planted] = &[
    planted(
        "site/index.html",
        33,
        "⇢",
        "in a placeholder; form fields have a stack of their own",
    ),
    planted(
        "site/index.html",
        34,
        "⌕",
        "in a tooltip, which the system draws",
    ),
    planted(
        "site/index.html",
        39,
        "🛟",
        "in the alternative of a picture",
    ),
    planted(
        "site/fares.html",
        20,
        "₤",
        "in a cell whose stack lacks the old pound sign",
    ),
    planted(
        "site/fares.html",
        24,
        "ट",
        "a language that no font of the company has",
    ),
    planted("site/fares.html", 25, "切", "the same"),
    planted("messages/en.json", 8, "⇒", "in a nested message"),
    planted(
        "messages/ar.arb",
        3,
        "ت",
        "letters are there, but do not join",
    ),
    planted("messages/vi.po", 12, "⌛", "behind a placeholder"),
    planted(
        "messages/hi.xlf",
        11,
        "☸",
        "in the source, which shows as nothing is translated",
    ),
    planted("messages/pl.csv", 3, "≈", "in a cell of a table"),
    planted(
        "messages/ja.yml",
        2,
        "乗",
        "in a message under the key of its language",
    ),
    planted("texts/en.txt", 13, "🚢", "in running text"),
];

/// Characters of the demo's texts that never show: in comments, notes, forms of
/// plurals that the language does not have.
pub const NEVER_SHOWN: &str = "✗";

/// The faults of the old pages in `archive`: rule, file, line.
pub const FAULTS: &[(&str, &str, u32)] = &[
    ("name-encoded", "archive/ferries.css", 3),
    ("name-needs-quotes", "archive/ferries.css", 4),
    ("generic-missing", "archive/ferries.css", 5),
    ("generic-too-early", "archive/ferries.css", 6),
    ("generic-quoted", "archive/ferries.css", 7),
    ("name-mistyped", "archive/ferries.css", 8),
    ("entry-repeated", "archive/ferries.css", 9),
    ("family-unknown", "archive/ferries.css", 10),
    ("generic-of-other-class", "archive/ferries.css", 11),
    ("weight-not-of-file", "archive/ferries.css", 12),
    ("style-not-of-file", "archive/ferries.css", 13),
    ("file-not-found", "archive/ferries.css", 14),
    ("file-case-differs", "archive/ferries.css", 15),
    ("format-not-of-file", "archive/ferries.css", 16),
    ("source-for-no-browser", "archive/ferries.css", 17),
    ("face-lacking", "archive/ferries.css", 18),
    ("same-bytes-twice", "archive/ferries.css", 18),
    ("display-missing", "archive/ferries.css", 19),
    ("face-hidden", "archive/ferries.css", 19),
    ("range-of-nothing", "archive/ferries.css", 21),
    ("declaration-dropped", "archive/ferries.css", 22),
    ("face-unused", "archive/ferries.css", 22),
    ("partial-font-hides-installed", "archive/ferries.css", 23),
    ("local-unknown", "archive/ferries.css", 24),
    ("ligatures-with-spacing", "archive/ferries.css", 25),
    ("ligatures-on-small-text", "archive/ferries.css", 26),
    ("line-height-below-one", "archive/ferries.css", 27),
    ("feature-has-property", "archive/ferries.css", 28),
    ("import-late", "archive/ferries.css", 29),
    ("fallback-is-loaded", "archive/ferries.css", 30),
    ("preload-without-crossorigin", "archive/index.html", 6),
    ("preload-of-no-face", "archive/index.html", 7),
    ("unread", "archive/index.html", 9),
    ("text-falls-through", "archive/index.html", 12),
    ("text-falls-through", "archive/index.html", 12),
    ("feature-lacking", "archive/index.html", 14),
    ("feature-lacking", "archive/index.html", 14),
    ("feature-lacking", "archive/index.html", 18),
];

/// The gaps of the shop in `shop/`; files from that folder.
pub const SHOP_GAPS: &[Planted] = &[
    planted(
        "public/index.html",
        13,
        "🧳",
        "a font has it, in colours that Chromium does not draw",
    ),
    planted(
        "public/index.html",
        14,
        "В",
        "no slice of the text's family is for it, and one device has no other font",
    ),
    planted(
        "public/index.html",
        15,
        "✓",
        "made by the style sheet, for a font whose file is gone",
    ),
    planted(
        "public/index.html",
        15,
        "€",
        "the font has it, but no slice's range",
    ),
    planted(
        "public/hi/index.html",
        11,
        "त्र",
        "letters are there, but form no conjuncts",
    ),
];

/// The faults of the shop: rule, file, line.
pub const SHOP_FAULTS: &[(&str, &str, u32)] = &[
    ("file-not-found", "public/assets/app.css", 25),
    ("text-falls-through", "public/index.html", 13),
    ("text-falls-through", "public/index.html", 14),
    ("text-falls-through", "public/index.html", 15),
    ("text-falls-through", "public/index.html", 15),
    ("text-falls-through", "public/hi/index.html", 11),
    ("colour-not-everywhere", "hosted/lamp.css", 5),
    ("face-lacking", "public/assets/app.css", 6),
    ("fallback-is-loaded", "public/assets/app.css", 59),
    (
        "range-leaves-out",
        "public/assets/mooringlight/mooringlight.css",
        24,
    ),
    ("variable-held-to-one-weight", "public/assets/app.css", 8),
    ("line-height-fixed", "public/assets/app.css", 49),
];

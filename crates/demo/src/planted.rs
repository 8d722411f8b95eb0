//! The mistakes that are planted in the demo's texts: characters that its stacks
//! do not show. Checks hold `cover` to them.

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

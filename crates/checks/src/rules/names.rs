//! Family names and lists of them, as they are written.

use cssparser::{Parser, Token};
use tidy_lattice_documents::style::read::{FamilyName, families};
use tidy_lattice_documents::style::{is_generic, quoted};

use crate::inputs::SheetInput;
use crate::raw::{RawDeclaration, Span, by_commas};

/// An entry of a list of families.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Entry {
    /// Where it stands.
    pub span: Span,
    /// What it is.
    pub kind: Kind,
}

/// What an entry is.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Kind {
    /// A name, and whether it is quoted.
    Named(String, bool),
    /// A generic family.
    Generic(String),
    /// Something that only the cascade knows.
    Unknown,
    /// No valid entry.
    Invalid,
}

/// A list of families in a sheet.
pub struct Stack {
    /// Its entries, in order.
    pub entries: Vec<Entry>,
    /// Where the list stands.
    pub span: Span,
    /// Whether it is the value of a custom property, and so perhaps a part only.
    pub custom: bool,
}

/// Values that are no list.
const WORDS: [&str; 6] = [
    "inherit",
    "initial",
    "unset",
    "revert",
    "revert-layer",
    "normal",
];

/// Values of `font` that name a font of the system (CSS Fonts 4, §2.7).
const SYSTEM: [&str; 6] = [
    "caption",
    "icon",
    "menu",
    "message-box",
    "small-caption",
    "status-bar",
];

impl Stack {
    /// The list in `declaration`; `None` where there is none.
    pub fn of(sheet: &SheetInput, declaration: &RawDeclaration) -> Option<Self> {
        let (value, span) = declaration.value(&sheet.source.text);
        let custom = declaration.name.starts_with("--");
        let span = match declaration.name.as_str() {
            "font-family" => span,
            "font" => families_of_font(value, &span)?,
            _ if custom && looks_like_families(value) => span,
            _ => return None,
        };
        let value = sheet.text(&span);
        if value.is_empty() || WORDS.iter().any(|word| value.eq_ignore_ascii_case(word)) {
            return None;
        }
        let parts = by_commas(&sheet.source.text, &span);
        let entries = parts
            .into_iter()
            .map(|span| Entry {
                kind: kind(sheet.text(&span)),
                span,
            })
            .collect();
        Some(Stack {
            entries,
            span,
            custom,
        })
    }

    /// The names of its families, with their entries.
    pub fn names(&self) -> impl Iterator<Item = (&str, &Entry)> {
        self.entries.iter().filter_map(|entry| match &entry.kind {
            Kind::Named(name, _) => Some((name.as_str(), entry)),
            _ => None,
        })
    }
}

fn kind(text: &str) -> Kind {
    if text.contains('(') {
        return Kind::Unknown;
    }
    match families(text).as_deref() {
        Some([FamilyName::Generic(word)]) => Kind::Generic(word.clone()),
        Some([FamilyName::Named(name)]) => {
            let quotes = text.starts_with(['"', '\'']);
            Kind::Named(name.clone(), quotes)
        }
        _ => Kind::Invalid,
    }
}

/// Whether the value of a custom property is a list of families: it has commas, and a
/// generic family or a quoted name among its entries, and nothing that is no family.
fn looks_like_families(value: &str) -> bool {
    let parts = by_commas(value, &(0..value.len()));
    let kinds: Vec<Kind> = parts
        .iter()
        .map(|span| kind(&value[span.clone()]))
        .collect();
    let plain = |kind: &Kind| matches!(kind, Kind::Named(..) | Kind::Generic(_) | Kind::Unknown);
    let generic = |kind: &Kind| matches!(kind, Kind::Generic(word) if word != "math");
    parts.len() > 1 && kinds.iter().all(plain) && kinds.iter().any(generic)
}

/// Where the families of a `font` shorthand stand: behind the size and the line height.
fn families_of_font(value: &str, span: &Span) -> Option<Span> {
    if SYSTEM.iter().any(|word| value.eq_ignore_ascii_case(word)) {
        return None;
    }
    let mut input = Parser::new(value);
    let mut after = None;
    let mut slash = false;
    loop {
        match input.next().cloned() {
            // Text of no size is hidden, whatever its family.
            Ok(Token::Number { value: 0.0, .. }) if !slash && after.is_none() => return None,
            Ok(Token::Dimension { value: 0.0, .. }) if !slash => return None,
            Ok(Token::Dimension { .. } | Token::Percentage { .. }) => {
                after = Some(input.position().byte_index());
            }
            Ok(Token::Number { .. }) if slash => after = Some(input.position().byte_index()),
            Ok(Token::Ident(word)) => {
                const SIZES: [&str; 10] = [
                    "xx-small",
                    "x-small",
                    "small",
                    "medium",
                    "large",
                    "x-large",
                    "xx-large",
                    "xxx-large",
                    "smaller",
                    "larger",
                ];
                let size = SIZES.iter().any(|size| word.eq_ignore_ascii_case(size));
                if slash || (size && after.is_none()) {
                    after = Some(input.position().byte_index());
                }
            }
            Ok(Token::Function(_)) => {
                // The rest of a function is passed over with the next token.
                let state = input.position().byte_index();
                let end = end_of_function(value, state)?;
                after = Some(end);
            }
            Ok(Token::Comma) | Err(_) => break,
            Ok(Token::Delim('/')) => {
                slash = true;
                continue;
            }
            Ok(_) => {}
        }
        slash = false;
    }
    let after = after?;
    let rest = &value[after..];
    let blank = rest.len() - rest.trim_start().len();
    let start = span.start + after + blank;
    (!rest.trim().is_empty()).then(|| start..span.start + value.trim_end().len())
}

/// Where the brackets close that were opened before `from`.
fn end_of_function(value: &str, from: usize) -> Option<usize> {
    let mut depth = 1;
    for (at, c) in value[from..].char_indices() {
        match c {
            '(' => depth += 1,
            ')' => depth -= 1,
            _ => {}
        }
        if depth == 0 {
            return Some(from + at + 1);
        }
    }
    None
}

/// The name as CSS takes it whatever it holds.
pub fn in_quotes(name: &str) -> String {
    quoted(name)
}

/// What a name was meant to be that was copied from a URL or has quotes within; `None`
/// where it is fine.
pub fn decoded(name: &str) -> Option<String> {
    let bare = name.trim_matches(['"', '\'', ' ']);
    let blank = bare.replace("%20", " ");
    let parts: Vec<&str> = blank.split('+').collect();
    let is_word = |part: &&str| part.starts_with(char::is_alphanumeric);
    // "M+ 1p" has a sign of its own; "Open+Sans" has one in place of each blank.
    let joined = parts.len() > 1 && !blank.contains(' ') && parts.iter().all(is_word);
    let plain = if joined {
        parts.join(" ")
    } else {
        blank.clone()
    };
    (plain != name && !plain.is_empty()).then_some(plain)
}

/// The words of an invalid entry, as a name.
pub fn meant(text: &str) -> Option<String> {
    let name: Vec<&str> = text.split_whitespace().collect();
    let name = name.join(" ");
    let plain = |c: char| c.is_alphanumeric() || " -_.+%&/".contains(c);
    (!name.is_empty() && name.chars().all(plain) && !is_generic(&name)).then_some(name)
}

/// Whether two names differ by one letter that is missing, too many, another, or swapped
/// with its neighbour; case and blanks do not count.
pub fn nearly(a: &str, b: &str) -> bool {
    let plain = |name: &str| -> Vec<char> { name.to_lowercase().chars().collect() };
    // "YuGothic" and "Yu Gothic" are names of two systems for one family.
    let solid = |name: &str| name.to_lowercase().replace([' ', '-'], "");
    if solid(a) == solid(b) {
        return false;
    }
    let (a, b) = (plain(a), plain(b));
    if a == b || a.len() < 4 || b.len() < 4 || a.len().abs_diff(b.len()) > 1 {
        return false;
    }
    let same = a.iter().zip(&b).take_while(|(x, y)| x == y).count();
    let (a, b) = (&a[same..], &b[same..]);
    let behind = |list: &[char], skip: usize| list.get(skip..).map(<[char]>::to_vec);
    // Figures tell families apart: "Source Sans 3" is not "Source Sans 4".
    let figure = |list: &[char]| list.first().is_some_and(char::is_ascii_digit);
    if figure(a) || figure(b) {
        return false;
    }
    behind(a, 1) == behind(b, 1)
        || behind(a, 1).as_deref() == Some(b)
        || behind(b, 1).as_deref() == Some(a)
        || (a.len() > 1 && b.len() > 1 && (a[0], a[1]) == (b[1], b[0]) && a[2..] == b[2..])
}

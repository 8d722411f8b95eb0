//! ICU messages: `{name}`, `{n, number}`, `{d, date, long}`, and plural and
//! select forms, with the apostrophe rules of ICU ("doubling optional").

use super::brought::{Kind, brought};
use super::{Parts, markup, plural_shows};

/// How deep forms may nest.
const DEEPEST: usize = 24;

/// A part of a message.
#[derive(Debug, PartialEq)]
pub(super) enum Node {
    Text(String),
    /// A placeholder whose text is not known.
    Unknown,
    /// A placeholder for a number or a date.
    Brings(Kind),
    /// Forms by their keywords.
    Forms {
        plural: bool,
        forms: Vec<(String, Vec<Node>)>,
    },
}

/// The parts of `message`; `None` where it is not well formed.
pub(super) fn read(message: &str) -> Option<Vec<Node>> {
    let characters: Vec<char> = message.chars().collect();
    let mut reader = Reader {
        characters: &characters,
        at: 0,
    };
    let nodes = reader.nodes(false, 0)?;
    (reader.at == characters.len()).then_some(nodes)
}

/// Hands over what shows of `nodes`.
pub(super) fn show(nodes: &[Node], language: Option<&str>, parts: &mut Parts<'_>) {
    for node in nodes {
        match node {
            Node::Text(text) => markup::show(text, parts),
            Node::Unknown => {}
            Node::Brings(kind) => parts(&brought(*kind, language), true),
            Node::Forms { plural, forms } => {
                for (keyword, nodes) in forms {
                    if !plural || plural_shows(keyword, language) {
                        show(nodes, language, parts);
                    }
                }
            }
        }
    }
}

struct Reader<'c> {
    characters: &'c [char],
    at: usize,
}

impl Reader<'_> {
    fn peek(&self) -> Option<char> {
        self.characters.get(self.at).copied()
    }

    fn skip_white_space(&mut self) {
        while self.peek().is_some_and(char::is_whitespace) {
            self.at += 1;
        }
    }

    fn take(&mut self, sign: char) -> bool {
        self.skip_white_space();
        let found = self.peek() == Some(sign);
        self.at += usize::from(found);
        found
    }

    /// Up to a sign that ends a word.
    fn word(&mut self) -> String {
        self.skip_white_space();
        let start = self.at;
        while self
            .peek()
            .is_some_and(|c| !c.is_whitespace() && !"{},#'".contains(c))
        {
            self.at += 1;
        }
        self.characters[start..self.at].iter().collect()
    }

    fn nodes(&mut self, in_plural: bool, depth: usize) -> Option<Vec<Node>> {
        if depth > DEEPEST {
            return None;
        }
        let mut nodes = Vec::new();
        let mut text = String::new();
        while let Some(character) = self.peek() {
            match character {
                '}' if depth > 0 => break,
                '}' => return None,
                '{' => {
                    self.at += 1;
                    if !text.is_empty() {
                        nodes.push(Node::Text(std::mem::take(&mut text)));
                    }
                    nodes.push(self.argument(depth)?);
                }
                '#' if in_plural => {
                    self.at += 1;
                    if !text.is_empty() {
                        nodes.push(Node::Text(std::mem::take(&mut text)));
                    }
                    nodes.push(Node::Brings(Kind::Integer));
                }
                '\'' => {
                    self.at += 1;
                    self.apostrophe(in_plural, &mut text);
                }
                other => {
                    self.at += 1;
                    text.push(other);
                }
            }
        }
        if !text.is_empty() {
            nodes.push(Node::Text(text));
        }
        Some(nodes)
    }

    /// Behind an apostrophe: a second one is one, before a brace it quotes.
    fn apostrophe(&mut self, in_plural: bool, text: &mut String) {
        match self.peek() {
            Some('\'') => {
                self.at += 1;
                text.push('\'');
            }
            Some(next) if "{}".contains(next) || (in_plural && next == '#') => {
                while let Some(quoted) = self.peek() {
                    self.at += 1;
                    if quoted == '\'' {
                        if self.peek() != Some('\'') {
                            return;
                        }
                        self.at += 1;
                    }
                    text.push(quoted);
                }
            }
            _ => text.push('\''),
        }
    }

    fn argument(&mut self, depth: usize) -> Option<Node> {
        let name = self.word();
        if name.is_empty()
            || !name
                .chars()
                .all(|c| c.is_alphanumeric() || "_-.$@".contains(c))
        {
            return None;
        }
        if self.take('}') {
            return Some(Kind::by_name(&name).map_or(Node::Unknown, Node::Brings));
        }
        if !self.take(',') {
            return None;
        }
        let kind = self.word();
        match kind.as_str() {
            "plural" | "selectordinal" | "select" => {
                self.take(',').then_some(())?;
                let plural = kind != "select";
                let forms = self.forms(plural, depth)?;
                Some(Node::Forms { plural, forms })
            }
            _ => {
                let style = if self.take(',') {
                    self.style()
                } else {
                    String::new()
                };
                self.take('}').then_some(())?;
                Some(Kind::of(&kind, style.trim()).map_or(Node::Unknown, Node::Brings))
            }
        }
    }

    /// Everything up to the brace that ends the argument.
    fn style(&mut self) -> String {
        let start = self.at;
        let mut depth = 0_usize;
        while let Some(character) = self.peek() {
            match character {
                '{' => depth += 1,
                '}' if depth == 0 => break,
                '}' => depth -= 1,
                _ => {}
            }
            self.at += 1;
        }
        self.characters[start..self.at].iter().collect()
    }

    fn forms(&mut self, plural: bool, depth: usize) -> Option<Vec<(String, Vec<Node>)>> {
        let mut forms = Vec::new();
        loop {
            if self.take('}') {
                return (!forms.is_empty()).then_some(forms);
            }
            let keyword = self.word();
            if keyword.starts_with("offset:") {
                if keyword == "offset:" {
                    self.word();
                }
                continue;
            }
            if keyword.is_empty() || !self.take('{') {
                return None;
            }
            let nodes = self.nodes(plural, depth + 1)?;
            self.take('}').then_some(())?;
            forms.push((keyword, nodes));
        }
    }
}

//! CSS as it stands: rules and declarations with their places, whatever browsers make of
//! them (CSS Syntax 3, §5). What it means is read elsewhere.

use std::ops::Range;

use cssparser::{Parser, Token};

/// How deep blocks are followed.
const DEEPEST: usize = 32;

/// The most declarations of a sheet.
const MOST: usize = 400_000;

/// A stretch of bytes of the text.
pub type Span = Range<usize>;

/// A style sheet as it stands.
#[derive(Debug, Clone, Default)]
pub struct RawSheet {
    /// Rules with blocks, in order of their starts.
    pub blocks: Vec<RawBlock>,
    /// Statements that end in a semicolon: `@import` and the like.
    pub statements: Vec<RawStatement>,
    /// Comments.
    pub comments: Vec<Span>,
}

/// A rule with a block.
#[derive(Debug, Clone, Default)]
pub struct RawBlock {
    /// What stands before the block.
    pub prelude: Span,
    /// The block without its brackets.
    pub body: Span,
    /// The declarations of the block itself.
    pub declarations: Vec<RawDeclaration>,
}

/// A declaration.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RawDeclaration {
    /// The property or descriptor, in lower case.
    pub name: String,
    /// The declaration without its semicolon.
    pub whole: Span,
    /// Its value without `!important`.
    pub value: Span,
}

/// A statement.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RawStatement {
    /// Its word, in lower case, without the `@`.
    pub word: String,
    /// The statement with its semicolon.
    pub whole: Span,
    /// How many rules stand before it at the top of the sheet, `@charset`, `@import` and
    /// `@layer` statements not counted.
    pub rules_before: usize,
    /// Whether it stands at the top of the sheet.
    pub top: bool,
}

impl RawSheet {
    /// Reads `part` of `text`; places are those in `text`.
    pub fn read(text: &str, part: Span) -> Self {
        let css = text.get(part.clone()).unwrap_or_default();
        let mut reader = Reader::at_offset(part.start);
        reader.body(&mut Parser::new(css), None, 0);
        let mut sheet = reader.sheet;
        sheet.blocks.sort_by_key(|block| block.prelude.start);
        sheet
    }
}

impl RawSheet {
    /// Reads `part` of `text` as the declarations of a `style` attribute.
    pub fn attribute(text: &str, part: Span) -> Self {
        let css = text.get(part.clone()).unwrap_or_default();
        let mut reader = Reader::at_offset(part.start);
        let mut block = RawBlock {
            prelude: part.start..part.start,
            body: part,
            declarations: Vec::new(),
        };
        reader.body(&mut Parser::new(css), Some(&mut block), 1);
        reader.sheet.blocks.push(block);
        reader.sheet
    }
}

struct Reader {
    sheet: RawSheet,
    offset: usize,
    rules: usize,
    count: usize,
}

impl Reader {
    /// A reader of a text that starts at this byte of its file.
    fn at_offset(offset: usize) -> Self {
        Reader {
            sheet: RawSheet::default(),
            offset,
            rules: 0,
            count: 0,
        }
    }

    fn at(&self, input: &Parser<'_>) -> usize {
        self.offset + input.position().byte_index()
    }

    /// Reads statements up to the end of `input`; declarations go to `block`.
    fn body(&mut self, input: &mut Parser<'_>, mut block: Option<&mut RawBlock>, depth: usize) {
        loop {
            let Some(start) = self.start(input) else {
                return;
            };
            // A name and a colon at the start make a declaration, unless a block follows.
            let mut word: Option<(String, bool)> = None;
            let mut colon = None;
            let mut first = true;
            loop {
                let before = self.at(input);
                let token = match input.next_including_whitespace_and_comments() {
                    Ok(token) => token.clone(),
                    Err(_) => {
                        self.finish(
                            input,
                            start,
                            before,
                            (&word, colon),
                            block.as_deref_mut(),
                            depth,
                        );
                        return;
                    }
                };
                match token {
                    Token::Semicolon => {
                        self.finish(
                            input,
                            start,
                            before,
                            (&word, colon),
                            block.as_deref_mut(),
                            depth,
                        );
                        break;
                    }
                    Token::CurlyBracketBlock => {
                        self.block(input, start..before, depth);
                        break;
                    }
                    Token::Function(_) | Token::ParenthesisBlock | Token::SquareBracketBlock => {
                        pass(input);
                    }
                    Token::Ident(name) if first => word = Some((name.to_ascii_lowercase(), false)),
                    Token::AtKeyword(name) if first => {
                        word = Some((name.to_ascii_lowercase(), true));
                    }
                    Token::Colon if word.is_some() && colon.is_none() => {
                        colon = Some(self.at(input));
                    }
                    _ => {}
                }
                first = false;
            }
            if self.count > MOST {
                return;
            }
        }
    }

    /// Passes over blanks and comments; where the next statement starts.
    fn start(&mut self, input: &mut Parser<'_>) -> Option<usize> {
        loop {
            let state = input.state();
            let before = self.at(input);
            let token = input.next_including_whitespace_and_comments().ok()?.clone();
            match token {
                Token::Comment(_) => self.sheet.comments.push(before..self.at(input)),
                Token::WhiteSpace(_) | Token::Semicolon | Token::CDO | Token::CDC => {}
                _ => {
                    input.reset(&state);
                    return Some(before);
                }
            }
        }
    }

    fn block(&mut self, input: &mut Parser<'_>, prelude: Span, depth: usize) {
        self.count += 1;
        if depth == 0 {
            self.rules += 1;
        }
        let body = self.at(input);
        let mut block = RawBlock {
            prelude,
            body: body..body,
            declarations: Vec::new(),
        };
        if depth < DEEPEST {
            let inside: Result<(), cssparser::ParseError<()>> = input.parse_nested_block(|input| {
                self.body(input, Some(&mut block), depth + 1);
                block.body.end = self.at(input);
                Ok(())
            });
            let _ = inside;
        }
        self.sheet.blocks.push(block);
    }

    fn finish(
        &mut self,
        input: &Parser<'_>,
        start: usize,
        end: usize,
        (word, colon): (&Option<(String, bool)>, Option<usize>),
        block: Option<&mut RawBlock>,
        depth: usize,
    ) {
        self.count += 1;
        match (word, colon, block) {
            (Some((word, true)), ..) => {
                let counts = !["charset", "import", "layer"].contains(&word.as_str());
                self.sheet.statements.push(RawStatement {
                    word: word.clone(),
                    whole: start..self.at(input),
                    rules_before: self.rules,
                    top: depth == 0,
                });
                self.rules += usize::from(counts && depth == 0);
            }
            (Some((name, false)), Some(colon), Some(block)) => {
                block.declarations.push(RawDeclaration {
                    name: name.clone(),
                    whole: start..end,
                    value: colon..end,
                });
            }
            _ => {}
        }
    }
}

/// Passes over the brackets that have just been opened.
fn pass(input: &mut Parser<'_>) {
    let inside: Result<(), cssparser::ParseError<()>> = input.parse_nested_block(|input| {
        while input.next().is_ok() {}
        Ok(())
    });
    let _ = inside;
}

impl RawDeclaration {
    /// The value's text without blanks around it and without `!important`, and its place.
    pub fn value<'t>(&self, text: &'t str) -> (&'t str, Span) {
        let value = text.get(self.value.clone()).unwrap_or_default();
        let value = match value.rfind('!') {
            Some(at) if value[at + 1..].trim().eq_ignore_ascii_case("important") => &value[..at],
            _ => value,
        };
        let start = self.value.start + (value.len() - value.trim_start().len());
        let value = value.trim();
        (value, start..start + value.len())
    }
}

/// The parts of a list that commas part, each with its place; commas in brackets and
/// strings part nothing.
pub fn by_commas(text: &str, span: &Span) -> Vec<Span> {
    let value = text.get(span.clone()).unwrap_or_default();
    let mut input = Parser::new(value);
    let mut parts = Vec::new();
    let mut start = 0;
    let mut push = |from: usize, to: usize| {
        let part = &value[from..to];
        let blank = part.len() - part.trim_start().len();
        let begin = span.start + from + blank;
        parts.push(begin..begin + part.trim().len());
    };
    loop {
        let before = input.position().byte_index();
        match input.next_including_whitespace_and_comments() {
            Ok(Token::Comma) => {
                push(start, before);
                start = input.position().byte_index();
            }
            Ok(
                Token::Function(_)
                | Token::ParenthesisBlock
                | Token::SquareBracketBlock
                | Token::CurlyBracketBlock,
            ) => pass(&mut input),
            Ok(_) => {}
            Err(_) => {
                push(start, value.len());
                return parts;
            }
        }
    }
}

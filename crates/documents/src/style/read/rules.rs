//! Rules and declarations, read with cssparser.

use cssparser::{
    AtRuleParser, BasicParseErrorKind, CowRcStr, DeclarationParser, ParseError, Parser,
    ParserState, QualifiedRuleParser, RuleBodyItemParser, RuleBodyParser, StyleSheetParser, Token,
    parse_important,
};
use selectors::SelectorList;
use selectors::parser::{Component, ParseRelative, Selector};

use super::selector::{Css, SelectorReader};
use super::{
    Condition, Declaration, FontFace, Item, MediaList, Problem, RegisteredProperty, Rule, Sheet,
    Supports,
};

/// How deep rules may nest.
const DEEPEST: usize = 16;

/// The most parts that the selectors of a rule may have, with those around it put in.
const LARGEST_SELECTOR: usize = 1 << 14;

type Error = ParseError<selectors::parser::SelectorParseErrorKind>;

/// Reads rules into a sheet, with what stands around the current one.
pub(super) struct Reader<'s> {
    sheet: &'s mut Sheet,
    conditions: Vec<Condition>,
    layer: Vec<String>,
    anonymous: usize,
    depth: usize,
    /// The selectors around a nested rule, and the declarations of the rule
    /// being read.
    parents: Vec<SelectorList<Css>>,
    declarations: Vec<Declaration>,
}

impl<'s> Reader<'s> {
    pub(super) fn new(sheet: &'s mut Sheet) -> Self {
        Reader {
            sheet,
            conditions: Vec::new(),
            layer: Vec::new(),
            anonymous: 0,
            depth: 0,
            parents: Vec::new(),
            declarations: Vec::new(),
        }
    }

    fn add(&mut self, rule: Rule, line: u32) {
        self.sheet.items.push(Item {
            rule,
            conditions: self.conditions.clone(),
            layer: self.layer.clone(),
            line,
        });
    }

    fn problem(&mut self, line: u32, what: String) {
        self.sheet.problems.push(Problem { line, what });
    }

    /// Reads what is inside of a block: of a style rule, or of a rule that only
    /// groups others.
    fn body(&mut self, input: &mut Parser<'_>) -> Result<(), Error> {
        if self.depth >= DEEPEST {
            return Err(invalid());
        }
        self.depth += 1;
        if self.parents.is_empty() {
            StyleSheetParser::new(input, self).for_each(drop);
        } else {
            RuleBodyParser::<_, (), _>::new(input, self).for_each(drop);
        }
        self.depth -= 1;
        Ok(())
    }

    /// Reads a block whose declarations belong to the innermost selectors.
    fn styled_body(&mut self, input: &mut Parser<'_>, line: u32) -> Result<(), Error> {
        let outer = std::mem::take(&mut self.declarations);
        // The rule stands before the rules nested in it.
        let place = self.sheet.items.len();
        let result = self.body(input);
        let declarations = std::mem::replace(&mut self.declarations, outer);
        if let (Some(selectors), false) = (self.parents.last(), declarations.is_empty()) {
            let selectors = selectors.clone();
            let item = Item {
                rule: Rule::Style {
                    selectors,
                    declarations,
                },
                conditions: self.conditions.clone(),
                layer: self.layer.clone(),
                line,
            };
            self.sheet.items.insert(place, item);
        }
        result
    }
}

/// What stands before the block of an at-rule.
pub(super) enum Prelude {
    Media(MediaList),
    Supports(Supports),
    Layer(Vec<Vec<String>>),
    FontFace,
    Property(String),
    Import {
        url: String,
        conditions: Vec<Condition>,
        layer: Option<Vec<String>>,
    },
    /// Known to have nothing to do with fonts, or not evaluated.
    Skipped,
}

fn invalid<T>() -> ParseError<T> {
    ParseError::from_basic_kind(BasicParseErrorKind::AtRuleInvalid)
}

impl<'i> AtRuleParser<'i> for Reader<'_> {
    type Prelude = Prelude;
    type AtRule = ();
    type Error = selectors::parser::SelectorParseErrorKind;

    fn parse_prelude(
        &mut self,
        name: CowRcStr<'i>,
        input: &mut Parser<'i>,
    ) -> Result<Prelude, Error> {
        let line = input.current_source_location().line + 1;
        match name.to_ascii_lowercase().as_str() {
            "media" => Ok(Prelude::Media(MediaList::read(rest(input)))),
            "supports" => Ok(Prelude::Supports(Supports::read(rest(input)))),
            "layer" => Ok(Prelude::Layer(layer_names(rest(input)))),
            "font-face" => Ok(Prelude::FontFace),
            "property" => property_name(input),
            "import" => import(input),
            other @ ("container" | "scope" | "starting-style") => {
                self.problem(
                    line,
                    format!("@{other} is not evaluated; its rules are left out"),
                );
                rest(input);
                Ok(Prelude::Skipped)
            }
            _ => {
                rest(input);
                Ok(Prelude::Skipped)
            }
        }
    }

    fn rule_without_block(&mut self, prelude: Prelude, start: &ParserState) -> Result<(), ()> {
        let line = start.source_location().line + 1;
        match prelude {
            Prelude::Layer(names) if !names.is_empty() => {
                let inside = |name: Vec<String>| [self.layer.clone(), name].concat();
                let names = names.into_iter().map(inside).collect();
                self.add(Rule::Layers(names), line);
            }
            Prelude::Import {
                url,
                conditions,
                layer,
            } => {
                let late = self
                    .sheet
                    .items
                    .iter()
                    .any(|item| !matches!(item.rule, Rule::Import { .. } | Rule::Layers(_)));
                if late || self.depth > 0 {
                    let what = format!(
                        "@import of {url} stands behind other rules, so browsers ignore it; move \
                         it to the top"
                    );
                    self.problem(line, what);
                    return Ok(());
                }
                let layer = layer.map_or_else(Vec::new, |name| {
                    if name.is_empty() {
                        self.anonymous += 1;
                        vec![format!("({line}.{})", self.anonymous)]
                    } else {
                        name
                    }
                });
                self.sheet.items.push(Item {
                    rule: Rule::Import { url },
                    conditions,
                    layer,
                    line,
                });
            }
            _ => {}
        }
        Ok(())
    }

    fn parse_block(
        &mut self,
        prelude: Prelude,
        start: &ParserState,
        input: &mut Parser<'i>,
    ) -> Result<(), Error> {
        let line = start.source_location().line + 1;
        match prelude {
            Prelude::Media(media) => self.conditional(Condition::Media(media), input, line),
            Prelude::Supports(supports) => {
                self.conditional(Condition::Supports(supports), input, line)
            }
            Prelude::Layer(names) => {
                let outer = self.layer.len();
                match names.into_iter().next() {
                    Some(name) => self.layer.extend(name),
                    None => {
                        self.anonymous += 1;
                        self.layer.push(format!("({line}.{})", self.anonymous));
                    }
                }
                let named = self.layer.clone();
                self.add(Rule::Layers(vec![named]), line);
                let result = self.grouped(input, line);
                self.layer.truncate(outer);
                result
            }
            Prelude::FontFace => {
                let mut problems = Vec::new();
                let face = FontFace::read(input, &mut problems);
                self.sheet.problems.append(&mut problems);
                self.add(Rule::FontFace(Box::new(face)), line);
                Ok(())
            }
            Prelude::Property(name) => {
                if let Some(property) = registered(name, &attribute_of(input)) {
                    self.add(Rule::Property(property), line);
                }
                Ok(())
            }
            Prelude::Import { .. } | Prelude::Skipped => {
                rest(input);
                Ok(())
            }
        }
    }
}

impl Reader<'_> {
    fn conditional(
        &mut self,
        condition: Condition,
        input: &mut Parser<'_>,
        line: u32,
    ) -> Result<(), Error> {
        self.conditions.push(condition);
        let result = self.grouped(input, line);
        self.conditions.pop();
        result
    }

    fn grouped(&mut self, input: &mut Parser<'_>, line: u32) -> Result<(), Error> {
        if self.parents.is_empty() {
            self.body(input)
        } else {
            self.styled_body(input, line)
        }
    }
}

impl<'i> QualifiedRuleParser<'i> for Reader<'_> {
    type Prelude = SelectorList<Css>;
    type QualifiedRule = ();
    type Error = selectors::parser::SelectorParseErrorKind;

    fn parse_prelude(&mut self, input: &mut Parser<'i>) -> Result<SelectorList<Css>, Error> {
        let relative = if self.parents.is_empty() {
            ParseRelative::No
        } else {
            ParseRelative::ForNesting
        };
        let selectors = SelectorList::parse(&SelectorReader, input, relative)?;
        let selectors = match self.parents.last() {
            Some(parent) => selectors.replace_parent_selector(parent),
            None => selectors,
        };
        // Each `&` stands for all selectors around, so that nested lists multiply.
        if size(selectors.slice(), LARGEST_SELECTOR) > LARGEST_SELECTOR {
            let what = format!(
                "the selectors of this rule, with those around it put in, have more than \
                 {LARGEST_SELECTOR} parts; the rule is left out"
            );
            self.problem(input.current_source_location().line + 1, what);
            return Err(ParseError::unexpected_token());
        }
        Ok(selectors)
    }

    fn parse_block(
        &mut self,
        selectors: SelectorList<Css>,
        start: &ParserState,
        input: &mut Parser<'i>,
    ) -> Result<(), Error> {
        self.parents.push(selectors);
        let result = self.styled_body(input, start.source_location().line + 1);
        self.parents.pop();
        result
    }
}

impl<'i> DeclarationParser<'i> for Reader<'_> {
    type Declaration = ();
    type Error = selectors::parser::SelectorParseErrorKind;

    fn parse_value(
        &mut self,
        name: CowRcStr<'i>,
        input: &mut Parser<'i>,
        _: &ParserState,
    ) -> Result<(), Error> {
        let read = declaration(&name, input)?;
        self.declarations.extend(read);
        Ok(())
    }
}

impl RuleBodyItemParser<'_, (), selectors::parser::SelectorParseErrorKind> for Reader<'_> {
    fn parse_declarations(&self) -> bool {
        true
    }

    fn parse_qualified(&self) -> bool {
        true
    }
}

/// How many parts `selectors` have, those in `:is()` and the like included; counting
/// ends beyond `most`.
fn size(selectors: &[Selector<Css>], most: usize) -> usize {
    let mut sum = 0;
    for part in selectors.iter().flat_map(Selector::iter_raw_match_order) {
        sum += 1;
        if sum > most {
            break;
        }
        let left = most - sum;
        sum += match part {
            Component::Is(list) | Component::Where(list) | Component::Negation(list) => {
                size(list.slice(), left)
            }
            Component::NthOf(nth) => size(nth.selectors(), left),
            Component::Has(list) => list
                .iter()
                .map(|relative| size(std::slice::from_ref(&relative.selector), left))
                .sum(),
            _ => 0,
        };
    }
    sum
}

/// One declaration; `None` where the property does not matter.
fn declaration(name: &str, input: &mut Parser<'_>) -> Result<Option<Declaration>, Error> {
    let custom = name.starts_with("--");
    let start = input.position();
    let mut important = false;
    let end = loop {
        let here = input.position();
        if input.try_parse(parse_important).is_ok() {
            important = true;
            break here;
        }
        match input.next_including_whitespace_and_comments() {
            // A block as a value: this was a nested rule after all.
            Ok(Token::CurlyBracketBlock) if !custom => return Err(ParseError::unexpected_token()),
            Ok(
                Token::Function(_)
                | Token::ParenthesisBlock
                | Token::SquareBracketBlock
                | Token::CurlyBracketBlock,
            ) => input.parse_nested_block(|input| {
                while input.next().is_ok() {}
                Ok::<_, Error>(())
            })?,
            Ok(_) => {}
            Err(_) => break input.position(),
        }
    };
    let known = if custom {
        Some(name)
    } else {
        crate::style::properties::known(name)
    };
    let Some(known) = known else {
        return Ok(None);
    };
    Ok(Some(Declaration {
        name: known.to_owned(),
        value: input.slice(start..end).trim().to_owned(),
        important,
    }))
}

/// The declarations of a `style` attribute.
pub(super) fn attribute(css: &str) -> Vec<Declaration> {
    struct Attribute(Vec<Declaration>);
    type Kind = selectors::parser::SelectorParseErrorKind;
    impl<'i> DeclarationParser<'i> for Attribute {
        type Declaration = ();
        type Error = Kind;

        fn parse_value(
            &mut self,
            name: CowRcStr<'i>,
            input: &mut Parser<'i>,
            _: &ParserState,
        ) -> Result<(), Error> {
            self.0.extend(declaration(&name, input)?);
            Ok(())
        }
    }
    impl AtRuleParser<'_> for Attribute {
        type Prelude = ();
        type AtRule = ();
        type Error = Kind;
    }
    impl QualifiedRuleParser<'_> for Attribute {
        type Prelude = ();
        type QualifiedRule = ();
        type Error = Kind;
    }
    impl RuleBodyItemParser<'_, (), Kind> for Attribute {
        fn parse_declarations(&self) -> bool {
            true
        }

        fn parse_qualified(&self) -> bool {
            false
        }
    }
    let mut input = Parser::new(css);
    let mut read = Attribute(Vec::new());
    RuleBodyParser::<_, (), _>::new(&mut input, &mut read).for_each(drop);
    read.0
}

/// The name of an `@property` rule.
fn property_name(input: &mut Parser<'_>) -> Result<Prelude, Error> {
    let name = input.expect_ident_cloned()?.to_string();
    if name.starts_with("--") {
        Ok(Prelude::Property(name))
    } else {
        Err(invalid())
    }
}

/// The descriptors of an `@property` rule, names in lower case.
fn attribute_of(input: &mut Parser<'_>) -> Vec<(String, String)> {
    let text = rest(input);
    let descriptors = text.split(';').filter_map(|part| {
        let (name, value) = part.split_once(':')?;
        Some((name.trim().to_ascii_lowercase(), value.trim().to_owned()))
    });
    descriptors.collect()
}

/// The property that the descriptors register; `None` where one that must be there is
/// not.
fn registered(name: String, descriptors: &[(String, String)]) -> Option<RegisteredProperty> {
    let find = |wanted: &str| {
        let found = descriptors.iter().rev().find(|(name, _)| name == wanted);
        found.map(|(_, value)| value.clone())
    };
    let syntax = find("syntax")?;
    let inherits = match find("inherits")?.as_str() {
        "true" => true,
        "false" => false,
        _ => return None,
    };
    let initial = find("initial-value");
    let universal = syntax.trim_matches(['"', '\'']) == "*";
    (universal || initial.is_some()).then_some(RegisteredProperty {
        name,
        inherits,
        initial,
    })
}

/// Everything that is left of the input, as text.
fn rest<'i>(input: &mut Parser<'i>) -> &'i str {
    let start = input.position();
    while input.next().is_ok() {}
    input.slice_from(start).trim()
}

/// `reset, theme.dark` as paths.
fn layer_names(text: &str) -> Vec<Vec<String>> {
    text.split(',')
        .map(str::trim)
        .filter(|name| !name.is_empty())
        .map(|name| name.split('.').map(|part| part.trim().to_owned()).collect())
        .collect()
}

/// `@import URL [layer | layer(name)] [supports(…)] [media]` (CSS Cascade 5, §2).
fn import(input: &mut Parser<'_>) -> Result<Prelude, Error> {
    let url = input
        .expect_url_or_string()
        .map_err(Error::from)?
        .to_string();
    let mut layer = None;
    let mut conditions = Vec::new();
    if input
        .try_parse(|input| input.expect_ident_matching("layer"))
        .is_ok()
    {
        layer = Some(Vec::new());
    } else if let Ok(name) = input.try_parse(|input| {
        input.expect_function_matching("layer")?;
        input.parse_nested_block(|input| Ok::<_, ParseError<()>>(rest(input).to_owned()))
    }) {
        layer = layer_names(&name).into_iter().next();
    }
    if let Ok(text) = input.try_parse(|input| {
        input.expect_function_matching("supports")?;
        input.parse_nested_block(|input| Ok::<_, ParseError<()>>(rest(input).to_owned()))
    }) {
        conditions.push(Condition::Supports(Supports::read(&format!("({text})"))));
    }
    let media = rest(input);
    if !media.is_empty() {
        conditions.push(Condition::Media(MediaList::read(media)));
    }
    Ok(Prelude::Import {
        url,
        conditions,
        layer,
    })
}

//! The style sheets of a page, in the order of the cascade.

use std::sync::LazyLock;

use super::dom::Dom;
use crate::style::read::{FontFace, Item, MediaList, Rule, Sheet, Viewport};

/// How deep `@import` may nest.
const DEEPEST_IMPORT: usize = 8;

/// The most sheets that a page may bring, imports included.
const MOST_SHEETS: usize = 500;

/// Where the files are that a page names.
pub trait Files {
    /// Reads what `url` means from the place `base`, which is the file called `named_in`
    /// that names it, or what a `base` element there says.
    ///
    /// # Errors
    ///
    /// [`Unread`], which says why it cannot be read.
    fn read(&self, url: &str, base: &str, named_in: &str) -> Result<OpenedFile, Unread>;
}

/// A file that a page names.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct OpenedFile {
    /// Its name for people, and the base of what it names in turn.
    pub name: String,
    /// What is in it.
    pub bytes: Vec<u8>,
}

/// Why a file that a page names is not read.
#[derive(Debug, Clone, PartialEq, Eq, serde::Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case", tag = "why", content = "reason")]
pub enum Unread {
    /// It lies on the network, from where nothing is fetched.
    Remote,
    /// There is no such file, or it cannot be read.
    Unreadable(String),
    /// It is none of the files that a page may read.
    Outside(String),
}

/// Something of a page that is left out.
#[derive(Debug, Clone, PartialEq, Eq, serde::Serialize, schemars::JsonSchema)]
pub struct PageProblem {
    /// The file.
    pub file: String,
    /// The line, counted from 1.
    pub line: u32,
    /// What, in words.
    pub what: String,
    /// Why a file that is named there is not read.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub unread: Option<Unread>,
}

/// An `@font-face` rule and where it stands.
#[derive(Debug, Clone, PartialEq)]
pub struct PlacedFace {
    /// The rule.
    pub face: FontFace,
    /// The file that it stands in, which its URLs are relative to.
    pub file: String,
    /// The line, counted from 1.
    pub line: u32,
    /// How many files lead from the page to it: none in the page itself, one in a sheet that
    /// the page links, two in one that this imports, and so on.
    pub depth: usize,
}

/// A rule with selectors, ready for the cascade.
#[derive(Debug, Clone)]
pub(super) struct PlacedRule {
    pub item: Item,
    /// Whether it is the browser's own.
    pub browser: bool,
}

/// All rules that hold for a page.
#[derive(Debug, Default)]
pub(super) struct Gathered {
    pub rules: Vec<PlacedRule>,
    pub faces: Vec<PlacedFace>,
    pub problems: Vec<PageProblem>,
    sheets: usize,
}

/// The browser's own rules, and those of quirks mode besides.
static BROWSER: LazyLock<Sheet> =
    LazyLock::new(|| Sheet::read(include_str!("../../data/browser.css")));
static QUIRKS: LazyLock<Sheet> =
    LazyLock::new(|| Sheet::read(include_str!("../../data/browser-quirks.css")));

impl Gathered {
    /// The browser's own rules alone; those of quirks mode where `quirks`.
    pub fn new(quirks: bool) -> Self {
        let more = quirks.then_some(&QUIRKS.items).into_iter().flatten();
        let rules = BROWSER.items.iter().chain(more);
        Gathered {
            rules: rules
                .map(|item| PlacedRule {
                    item: item.clone(),
                    browser: true,
                })
                .collect(),
            ..Gathered::default()
        }
    }

    /// Takes in the sheets of `dom`, the page called `page`.
    pub fn page(&mut self, dom: &Dom, page: &str, files: &dyn Files, viewport: Viewport) {
        let mut next = Some(dom.document());
        let mut moved = None;
        while let Some(node) = next {
            let line = dom.line(node);
            if moved.is_none() && dom.tag(node) == Some("base") {
                moved = dom
                    .attribute(node, "href")
                    .map(|href| moved_base(page, href));
            }
            let media = dom.attribute(node, "media").unwrap_or_default();
            let holds = media.is_empty() || MediaList::read(media).holds(viewport);
            match dom.tag(node) {
                Some("style") if holds => {
                    // The text begins right behind the tag.
                    let text = dom.own_text(node);
                    self.sheet(&text, page, line, &[], files, viewport, 0);
                }
                Some("link") if holds && is_stylesheet(dom, node) => {
                    let url = dom.attribute(node, "href").unwrap_or_default();
                    let base = moved.as_deref().unwrap_or(page);
                    self.linked(url, base, page, line, files, viewport);
                }
                _ => {}
            }
            next = following(dom, node);
        }
    }

    /// Takes in a sheet by itself.
    pub fn file(&mut self, css: &str, name: &str, files: &dyn Files, viewport: Viewport) {
        self.sheet(css, name, 1, &[], files, viewport, 0);
    }

    /// Takes in the sheet at `url` from `base`, which `page` names in this line.
    fn linked(
        &mut self,
        url: &str,
        base: &str,
        page: &str,
        line: u32,
        files: &dyn Files,
        viewport: Viewport,
    ) {
        self.named(url, base, (page, line), &[], files, viewport, 1);
    }

    #[allow(clippy::too_many_arguments)]
    fn named(
        &mut self,
        url: &str,
        base: &str,
        (named_in, line): (&str, u32),
        layer: &[String],
        files: &dyn Files,
        viewport: Viewport,
        depth: usize,
    ) {
        if depth > DEEPEST_IMPORT + 1 || self.sheets >= MOST_SHEETS {
            self.problem(
                named_in,
                line,
                format!("{url}: too many style sheets"),
                None,
            );
            return;
        }
        match files.read(url, base, named_in) {
            Ok(file) => {
                let css = String::from_utf8_lossy(&file.bytes).into_owned();
                self.sheet(&css, &file.name, 1, layer, files, viewport, depth);
            }
            Err(unread) => {
                let what = match &unread {
                    Unread::Remote => format!("{url} lies on the network and was not read"),
                    Unread::Unreadable(reason) => format!("{url} cannot be read: {reason}"),
                    Unread::Outside(reason) => format!("{url} was not read: {reason}"),
                };
                self.problem(named_in, line, what, Some(unread));
            }
        }
    }

    #[allow(clippy::too_many_arguments)]
    fn sheet(
        &mut self,
        css: &str,
        name: &str,
        first_line: u32,
        layer: &[String],
        files: &dyn Files,
        viewport: Viewport,
        depth: usize,
    ) {
        self.sheets += 1;
        let sheet = Sheet::read(css.trim_start_matches('\u{feff}'));
        let quotes = may_be_quoted(name);
        for problem in sheet.problems {
            let what = if quotes {
                problem.what
            } else {
                "something that is no valid CSS".to_owned()
            };
            self.problem(name, first_line + problem.line - 1, what, None);
        }
        for mut item in sheet.items {
            if !item
                .conditions
                .iter()
                .all(|condition| condition.holds(viewport))
            {
                continue;
            }
            item.line += first_line - 1;
            item.layer.splice(0..0, layer.iter().cloned());
            match &mut item.rule {
                Rule::Import { url } => {
                    let (url, line, layer) = (url.clone(), item.line, item.layer.clone());
                    if !layer.is_empty() {
                        let rule = Rule::Layers(vec![layer.clone()]);
                        self.rule(Item { rule, ..item });
                    }
                    self.named(&url, name, (name, line), &layer, files, viewport, depth + 1);
                }
                Rule::FontFace(face) => self.faces.push(PlacedFace {
                    face: (**face).clone(),
                    file: name.to_owned(),
                    line: item.line,
                    depth,
                }),
                Rule::Layers(names) => {
                    for inside in names {
                        inside.splice(0..0, layer.iter().cloned());
                    }
                    self.rule(item);
                }
                Rule::Style { .. } | Rule::Property(_) => self.rule(item),
            }
        }
    }

    fn rule(&mut self, item: Item) {
        self.rules.push(PlacedRule {
            item,
            browser: false,
        });
    }

    fn problem(&mut self, file: &str, line: u32, what: String, unread: Option<Unread>) {
        self.problems.push(PageProblem {
            file: file.to_owned(),
            line,
            what,
            unread,
        });
    }
}

/// Whether a file that a page names as its style sheet may be quoted where it is no valid
/// CSS, by the ending of its name: others are read as browsers read them, but whatever they
/// hold is not to stand in a log.
pub fn may_be_quoted(name: &str) -> bool {
    let ending = |known: &&str| {
        let start = name.len().checked_sub(known.len());
        start.is_some_and(|at| name.is_char_boundary(at) && name[at..].eq_ignore_ascii_case(known))
    };
    let endings = [".css", ".html", ".htm", ".xhtml", ".xht"];
    endings.iter().any(ending)
}

/// The `@font-face` rules of a sheet and of all that it imports, and what could
/// not be read of them.
pub fn font_faces(
    css: &str,
    name: &str,
    files: &dyn Files,
    viewport: Viewport,
) -> (Vec<PlacedFace>, Vec<PageProblem>) {
    let mut gathered = Gathered::new(false);
    gathered.file(css, name, files, viewport);
    (gathered.faces, gathered.problems)
}

/// What relative URLs of `page` are relative to, where it has a `base` of this
/// address: a path from the page, or from the root of the site, whatever host the
/// address names.
fn moved_base(page: &str, href: &str) -> String {
    let href = href.trim();
    let path = match href.split_once("//") {
        Some((_, address)) => match address.find('/') {
            Some(start) => &address[start..],
            None => "/",
        },
        None => href,
    };
    if path.starts_with('/') {
        return path.to_owned();
    }
    match page.rsplit_once('/') {
        Some((folder, _)) => format!("{folder}/{path}"),
        None => path.to_owned(),
    }
}

fn is_stylesheet(dom: &Dom, node: usize) -> bool {
    let rel = dom
        .attribute(node, "rel")
        .unwrap_or_default()
        .to_ascii_lowercase();
    let kind = dom.attribute(node, "type").unwrap_or("text/css");
    let mut words = rel.split_ascii_whitespace();
    words.any(|word| word == "stylesheet")
        && !rel.contains("alternate")
        && kind.eq_ignore_ascii_case("text/css")
        && dom.attribute(node, "disabled").is_none()
}

/// The node behind `node` in the order of the page.
pub fn following(dom: &Dom, node: usize) -> Option<usize> {
    if let Some(child) = dom.children(node).next() {
        return Some(child);
    }
    let mut node = node;
    loop {
        if let Some(next) = dom.next(node) {
            return Some(next);
        }
        node = dom.parent(node)?;
    }
}

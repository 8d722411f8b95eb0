//! What is checked, gathered by the caller.

use std::collections::BTreeSet;
use std::sync::Arc;

use tidy_lattice_documents::page::Page;
use tidy_lattice_documents::style::read::{FontFace, Sheet};
use tidy_lattice_glyphs::font::{Class, Container, Face};

use crate::raw::{RawBlock, RawSheet, Span};
use crate::source::SourceText;

/// Everything that is checked.
#[derive(Default)]
pub struct Inputs {
    /// Style sheets, those within pages too.
    pub sheets: Vec<SheetInput>,
    /// Pages.
    pub pages: Vec<PageInput>,
    /// The `@font-face` rules of the sheets.
    pub faces: Vec<FaceRule>,
    /// Families of the platforms.
    pub installed: Vec<InstalledFamily>,
    /// Whether somebody said which platforms count.
    pub platforms_named: bool,
    /// Whether style sheets that may declare families lie on the network.
    pub hosted: bool,
    /// The values of `font-display` that serve the aim of the project, the best first; none
    /// where it has no aim.
    pub displays: &'static [&'static str],
    /// Whether each web font is to have a stand-in, as the project builds some.
    pub wants_stand_ins: bool,
    /// Texts that get another weight or style than they ask for.
    pub faked: Vec<FakedUse>,
    /// Stand-ins whose lines are not as high as those of their web fonts.
    pub lines_off: Vec<LinesOff>,
    /// Features that are asked for in vain.
    pub features: Vec<FeatureAsked>,
    /// Characters that no font of their stack has.
    pub gaps: Vec<TextGap>,
    /// Pages and sheets of folders that cannot be read, and why.
    pub unread: Vec<(String, String)>,
    /// The rules that give texts their fonts which are no pages: file and line.
    pub used: BTreeSet<(String, u32)>,
}

/// A style sheet.
pub struct SheetInput {
    /// Its text, or that of the page which it is in.
    pub source: Arc<SourceText>,
    /// What it is made of.
    pub raw: RawSheet,
    /// Whether it is the `style` attribute of an element.
    pub attribute: bool,
    /// Whether another sheet imports it.
    pub imported: bool,
    /// Where the sheets that it imports are, by the place of the statement.
    pub imports: Vec<(Span, Found)>,
}

/// A page.
pub struct PageInput {
    /// Its text.
    pub source: Arc<SourceText>,
    /// Its texts and styles.
    pub page: Page,
    /// Where its root element starts, and the language that this states.
    pub root: (u32, Option<String>),
    /// Its links to sheets and fonts.
    pub links: Vec<LinkInput>,
    /// The rules that give its texts their fonts: file and line.
    pub used: BTreeSet<(String, u32)>,
    /// The rules that its sheets have: file and line.
    pub declared: BTreeSet<(String, u32)>,
}

/// A `link` element.
#[derive(Clone)]
pub struct LinkInput {
    /// `rel`, in lower case.
    pub rel: String,
    /// `href`.
    pub href: String,
    /// `as`, in lower case.
    pub kind: String,
    /// Whether it has `crossorigin`.
    pub crossorigin: bool,
    /// The line that it starts in.
    pub line: u32,
    /// What it leads to.
    pub found: Found,
}

/// An `@font-face` rule.
pub struct FaceRule {
    /// Its sheet, by number.
    pub sheet: usize,
    /// Its block in the sheet, by number.
    pub block: usize,
    /// The rule as browsers read it.
    pub face: FontFace,
    /// The entries of `src`.
    pub sources: Vec<SourceEntry>,
}

/// An entry of `src`.
pub struct SourceEntry {
    /// Where it stands.
    pub span: Span,
    /// Which `src` of the block it is in, by number among the declarations.
    pub declaration: usize,
    /// The URL as written; `None` for `local()`.
    pub url: Option<String>,
    /// The name in `local()`.
    pub local: Option<String>,
    /// The word in `format()`, in lower case, and where it stands with its quotes.
    pub format: Option<(String, Span)>,
    /// What it leads to.
    pub found: Found,
}

/// What a URL leads to.
#[derive(Clone, Default)]
pub enum Found {
    /// A file.
    File(Arc<FoundFile>),
    /// A file whose name has letters of another case: the URL as it should be.
    OtherCase(String),
    /// No file; the URL of the only file of that name that there is elsewhere.
    Missing(Option<String>),
    /// A file outside of the project.
    Outside,
    /// Something on the network.
    Remote,
    /// Nothing that is looked at: `local()`, `data:`.
    #[default]
    Unknown,
}

/// The path of fonts that stand in their style sheet (`data:`).
pub const EMBEDDED: &str = "data:";

/// A file that a URL leads to.
pub struct FoundFile {
    /// Its path.
    pub path: String,
    /// Its size in bytes.
    pub bytes: u64,
    /// What tells that two files hold the same bytes.
    pub digest: u64,
    /// How it is packed, where it is a font.
    pub container: Option<Container>,
    /// Its face; why browsers refuse it.
    pub face: Result<Arc<Face>, String>,
}

/// A family that platforms have.
#[derive(Debug, Clone, PartialEq)]
pub struct InstalledFamily {
    /// Its name.
    pub name: String,
    /// Its class.
    pub class: Class,
    /// The names of its faces, as `local()` takes them; none where they are not known.
    pub locals: Vec<String>,
}

/// Text that gets another weight or style than it asks for.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub struct FakedUse {
    /// The family.
    pub family: String,
    /// What is asked for: `weight 700 italic`.
    pub asked: String,
    /// What comes: `weight 400, faked bold`.
    pub gets: String,
    /// The rule that gives it: file and line.
    pub rule: (String, u32),
}

/// A stand-in whose lines are not as high as those of its web font at a size in use.
#[derive(Debug, Clone, PartialEq)]
pub struct LinesOff {
    /// Its rule: file and line.
    pub rule: (String, u32),
    /// The family of the web font.
    pub family: String,
    /// The size of the text, in px.
    pub size: f32,
    /// How high the web font's lines are, in px.
    pub wanted: f64,
    /// How high the stand-in's are.
    pub gets: f64,
    /// The platforms on which it stands in.
    pub platforms: Vec<String>,
}

/// A feature that is asked for in vain.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct FeatureAsked {
    /// The CSS that asks.
    pub css: String,
    /// The fonts of the text that lack it.
    pub fonts: Vec<String>,
    /// Where the text is: file and line.
    pub place: (String, u32),
}

/// Characters of a text that no font of its stack has.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct TextGap {
    /// Where the first of them stands: file, line, cluster in the line.
    pub place: (String, u32, u32),
    /// The script, or what kind of signs they are.
    pub group: String,
    /// The clusters, most frequent first.
    pub clusters: Vec<String>,
    /// How often they occur.
    pub count: u64,
    /// The platforms on which it is so; all where there is none.
    pub platforms: Vec<String>,
}

impl SheetInput {
    /// A sheet called `name`, whose imports are not followed.
    pub fn of(name: &str, css: &str) -> Self {
        Self::within(
            Arc::new(SourceText::new(name.to_owned(), css.to_owned())),
            0..css.len(),
        )
    }

    /// A sheet that is a part of a text.
    pub fn within(source: Arc<SourceText>, part: Span) -> Self {
        SheetInput {
            raw: RawSheet::read(&source.text, part),
            source,
            attribute: false,
            imported: false,
            imports: Vec::new(),
        }
    }

    /// The text of a stretch.
    pub fn text(&self, span: &Span) -> &str {
        self.source.text.get(span.clone()).unwrap_or_default()
    }

    /// Whether a block is an `@font-face` rule.
    pub fn is_font_face(&self, block: &RawBlock) -> bool {
        let prelude = self.text(&block.prelude);
        let prelude = prelude.trim_matches(|c: char| c.is_whitespace() || c == '\u{feff}');
        prelude.eq_ignore_ascii_case("@font-face")
    }

    /// The rule of a block as browsers read it; `None` where it is no `@font-face`.
    pub fn font_face(&self, block: &RawBlock) -> Option<FontFace> {
        if !self.is_font_face(block) {
            return None;
        }
        let css = format!("@font-face {{{}}}", self.text(&block.body));
        let sheet = Sheet::read(&css);
        sheet.font_faces().next().map(|(face, _)| face.clone())
    }
}

impl FaceRule {
    /// Its block.
    pub fn block<'a>(&self, inputs: &'a Inputs) -> (&'a SheetInput, &'a RawBlock) {
        let sheet = &inputs.sheets[self.sheet];
        (sheet, &sheet.raw.blocks[self.block])
    }

    /// Its file and line, as pages name the rules that they use.
    pub fn key(&self, inputs: &Inputs) -> (String, u32) {
        let (sheet, block) = self.block(inputs);
        (
            sheet.source.name.clone(),
            sheet.source.position(block.prelude.start).0,
        )
    }

    /// The first font that can be read of its sources.
    pub fn font(&self) -> Option<&Arc<Face>> {
        self.files().find_map(|file| file.face.as_ref().ok())
    }

    /// Its files.
    pub fn files(&self) -> impl Iterator<Item = &FoundFile> {
        self.sources
            .iter()
            .filter_map(|source| match &source.found {
                Found::File(file) => Some(&**file),
                _ => None,
            })
    }

    /// Its family; empty where it has none.
    pub fn family(&self) -> &str {
        self.face.family.as_deref().unwrap_or_default()
    }

    /// Whether its font is one of signs, by its letters or by its name.
    pub fn is_signs(&self) -> bool {
        match self.font() {
            Some(face) => !writes_latin(face) && !writes(face),
            None => named_like_signs(self.family()),
        }
    }
}

/// Whether a face has the letters of ASCII, nearly all.
pub fn writes_latin(face: &Face) -> bool {
    ('a'..='z')
        .chain('A'..='Z')
        .filter(|letter| face.maps(*letter))
        .count()
        >= 48
}

/// Whether a face has many letters of any script.
fn writes(face: &Face) -> bool {
    let letters = |point: &u32| char::from_u32(*point).is_some_and(char::is_alphabetic);
    face.characters().iter().filter(letters).count() >= 48
}

/// Whether a family is one of signs, as far as its name tells.
pub fn named_like_signs(family: &str) -> bool {
    let lower = family.to_ascii_lowercase();
    [
        "icon", "awesome", "symbol", "glyph", "emoji", "dingbat", "wingding", "material", "katex",
        "mathjax", "fa-", "fontello", "icomoon", "remix", "ionic", "feather", "marker",
    ]
    .iter()
    .any(|word| lower.contains(word))
}

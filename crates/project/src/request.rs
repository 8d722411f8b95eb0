//! What is asked for besides, or in place of, what a project says.

use std::path::PathBuf;

use tidy_lattice_core::font::Class;
use tidy_lattice_core::stack::of_devices::TextUse;
use tidy_lattice_core::text::Source;

/// Where the files of a site are.
#[derive(Debug, Clone, Default)]
pub struct SiteRequest {
    /// The folder that URLs starting with `/` mean.
    pub root: Option<PathBuf>,
    /// `URL-PREFIX=PATH`: what is read in place of what lies on the network.
    pub maps: Vec<String>,
    /// What stands for the style sheet of `build` where that is not there yet
    /// ([`building::stand_for_missing`](super::building::stand_for_missing)).
    pub made: Option<String>,
}

/// Which fonts there are, in what order.
#[derive(Debug, Clone, Default)]
pub struct StackRequest {
    /// Fonts by themselves, in stack order.
    pub fonts: Vec<PathBuf>,
    /// The stack, as `font-family` takes it.
    pub stack: Option<String>,
    /// Style sheets with `@font-face` rules.
    pub sheets: Vec<PathBuf>,
    /// The role of the project whose stack and style it is.
    pub role: Option<String>,
    /// Platforms, by name or as TOML files; `here` is this device.
    pub platforms: Vec<String>,
    /// Where the files of pages and sheets are.
    pub site: SiteRequest,
}

/// Where text comes from.
#[derive(Debug, Clone, Default)]
pub struct TextRequest {
    /// Text files, pages, message catalogues, folders; `-` is what was piped in.
    pub files: Vec<PathBuf>,
    /// Texts as they are.
    pub texts: Vec<String>,
    /// What was piped in.
    pub piped: Option<Source>,
}

impl TextRequest {
    /// Whether no text is named.
    pub fn is_empty(&self) -> bool {
        self.files.is_empty() && self.texts.is_empty()
    }
}

/// What texts need, against what.
#[derive(Debug, Clone, Default)]
pub struct SurveyRequest {
    /// The texts.
    pub text: TextRequest,
    /// The stack.
    pub stack: StackRequest,
    /// Languages that are needed too (BCP 47 tags).
    pub languages: Vec<String>,
    /// Fonts, or folders of them, that might fill gaps.
    pub known: Vec<PathBuf>,
    /// Gaps that are accepted.
    pub allow: Vec<String>,
}

/// What stacks are built from.
#[derive(Debug, Clone, Default)]
pub struct BuildParts {
    /// Files of the web font.
    pub web: Vec<PathBuf>,
    /// Local fonts that stand in, in order.
    pub locals: Vec<PathBuf>,
    /// Platforms whose closest families stand in.
    pub platforms: Vec<String>,
    /// Sign fonts: `FONT=SIGNS`, or `FONT`.
    pub signs: Vec<String>,
    /// Web fonts for other scripts.
    pub scripts: Vec<PathBuf>,
    /// Only this role of the project; the name of the role of `web`.
    pub role: Option<String>,
    /// The pages that stacks are fitted on, in place of the project's.
    pub pages: Vec<PathBuf>,
    /// The text that widths are fitted on.
    pub text: TextRequest,
    /// The language whose sample stands for a text.
    pub language: String,
    /// What the text is for, where no web font is wanted.
    pub text_use: Option<TextUse>,
    /// The class of such a stack.
    pub class: Option<Class>,
    /// A font whose look it comes close to.
    pub like: Option<PathBuf>,
    /// Whether its families are brought to the size and line of that font.
    pub resize: bool,
    /// Its languages (BCP 47).
    pub languages: Vec<String>,
    /// Sizes in use, in px.
    pub sizes: Vec<f32>,
    /// Widths of columns in use, in px.
    pub widths: Vec<f64>,
    /// The `line-height` that style sheets state for the text, as a multiple of its size.
    pub line_height: Option<f32>,
    /// Weights in use, of a variable web font.
    pub weights: Vec<f32>,
    /// The generic family at the end.
    pub generic: Option<String>,
    /// The family name in the CSS.
    pub family: Option<String>,
    /// The URL of the web font in the CSS.
    pub url: Option<String>,
    /// What URLs of font files begin with, in place of paths from the style sheet.
    pub url_base: Option<String>,
    /// Where the files of pages and sheets are.
    pub site: SiteRequest,
}

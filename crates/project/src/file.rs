//! The project file, `tidy-lattice.toml`: what flags say, for a whole site or app.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use serde::Deserialize;
use tidy_lattice_core::font::Class;
use tidy_lattice_core::stack::of_devices::TextUse;

use super::patterns::expanded;
use super::trim_rules::TrimRules;
use super::{Access, ProjectError};

/// The name of project files.
pub const NAME: &str = "tidy-lattice.toml";

/// Project files beyond this size are refused, in bytes.
const LARGEST: u64 = 4 * 1024 * 1024;

/// A project.
#[derive(Debug, Clone, Default, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Project {
    /// The folder that paths are relative to: that of the file.
    #[serde(skip)]
    pub folder: PathBuf,
    /// The name for people.
    #[serde(default)]
    pub title: String,
    /// The folder that URLs starting with `/` mean, from that of the file.
    #[serde(default)]
    pub root: Option<PathBuf>,
    /// What is read in place of what lies on the network: beginnings of URLs, with
    /// files or folders.
    #[serde(default)]
    pub map: BTreeMap<String, PathBuf>,
    /// Folders that pages and style sheets may read although they lie outside of the
    /// project.
    #[serde(default)]
    pub may_read: Vec<PathBuf>,
    /// Platforms, by name or as TOML files; all built-in ones by default.
    #[serde(default)]
    pub platforms: Vec<String>,
    /// Cards, and folders of them, that were measured on devices: they take their places on
    /// the built-in platforms.
    #[serde(default)]
    pub cards: Vec<PathBuf>,
    /// Style sheets with the `@font-face` rules that hold for all texts; patterns, too.
    #[serde(default)]
    pub sheets: Vec<PathBuf>,
    /// Font files that may fill gaps; told as remedies; patterns, too.
    #[serde(default)]
    pub known_fonts: Vec<PathBuf>,
    /// Texts.
    #[serde(default)]
    pub content: Vec<Content>,
    /// How texts that are no pages are set, by name.
    #[serde(default)]
    pub role: BTreeMap<String, Role>,
    /// What `cover` lets pass.
    #[serde(default)]
    pub cover: CoverRules,
    /// How `build` builds.
    #[serde(default)]
    pub build: BuildRules,
    /// What `shift` lets pass, and what it looks at.
    #[serde(default)]
    pub shift: ShiftRules,
    /// What pages may fetch of fonts.
    #[serde(default)]
    pub forecast: ForecastRules,
    /// How fonts are cut.
    pub trim: Option<TrimRules>,
    /// What `check` lets pass.
    #[serde(default)]
    pub check: CheckRules,
    /// The fonts of an app that has no style sheets.
    #[serde(default)]
    pub app: AppFonts,
}

/// The fonts of an app that has no style sheets, as its manifest has them.
#[derive(Debug, Clone, Default, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct AppFonts {
    /// The faces that it declares.
    #[serde(default)]
    pub faces: Vec<AppFace>,
    /// Patterns of the files that are packed with it, from the project's folder.
    #[serde(default)]
    pub packed: Vec<String>,
}

/// A face that an app declares.
#[derive(Debug, Clone, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct AppFace {
    /// The family, by which the app asks for it.
    pub family: String,
    /// The file.
    pub file: PathBuf,
    /// The weight, 1 to 1000.
    pub weight: Option<f32>,
    /// `normal` or `italic`.
    pub style: Option<String>,
}

/// What `check` lets pass.
#[derive(Debug, Clone, Default, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct CheckRules {
    /// The level from which on a finding fails: `advice`, `warning` (the default) or
    /// `error`.
    pub fail_on: Option<tidy_lattice_checks::Level>,
    /// Findings that are meant to be so.
    #[serde(default)]
    pub allow: Vec<AllowedRule>,
}

/// Findings of a rule that are meant to be so.
#[derive(Debug, Clone, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct AllowedRule {
    /// The code of the rule.
    pub code: String,
    /// Patterns of files, from the project's folder; all where there are none.
    #[serde(default)]
    pub files: Vec<String>,
    /// Why.
    pub because: String,
}

/// What `shift` lets pass, and what it looks at.
#[derive(Debug, Clone, Default, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct ShiftRules {
    /// The highest layout-shift score that passes.
    pub budget: Option<f64>,
    /// Windows: `phone`, `tablet`, `desktop`, `WIDTHxHEIGHT`; these three by default.
    #[serde(default)]
    pub viewports: Vec<String>,
}

/// What pages may fetch of fonts.
#[derive(Debug, Clone, Default, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct ForecastRules {
    /// The most that a page may fetch, in bytes, or as `100k`, `1m`.
    pub budget: Option<String>,
    /// The most font files that a page may fetch.
    pub files: Option<usize>,
    /// The most families that these may be of.
    pub families: Option<usize>,
}

/// How stacks are built.
#[derive(Debug, Clone, Default, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct BuildRules {
    /// The style sheet to write; standard output where there is none.
    pub output: Option<PathBuf>,
    /// What URLs of font files begin with, such as `/` or `https://static.example/`, before
    /// their path from the root; paths from the style sheet where it is not said.
    pub url_base: Option<String>,
    /// What matters while fonts load.
    pub aim: Option<Aim>,
    /// What stand-ins are made for; it decides about slices and spread where these are not
    /// said.
    #[serde(rename = "for")]
    pub purpose: Option<Purpose>,
    /// How many slices of letters have a size of their own: a number, `auto`,
    /// `off`.
    pub slices: Option<SlicesChoice>,
    /// How uneven letters may become, in %.
    pub most_spread: Option<f64>,
    /// What the fit makes small.
    pub minimise: Option<Minimise>,
    /// How much taller lines may be pinned, in % of an em.
    pub taller: Option<f64>,
    /// Whether web fonts state their own line metrics; they do by default.
    pub pin: Option<bool>,
    /// Whether the style sheet says why each entry is there; it does by default.
    pub comments: Option<bool>,
}

/// How many slices.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, schemars::JsonSchema)]
#[serde(try_from = "SlicesText")]
#[schemars(with = "SlicesText")]
pub enum SlicesChoice {
    /// One size for all letters.
    Off,
    /// As many as gain more than they cost in looks.
    Auto,
    /// This many.
    Exactly(u8),
}

/// `slices` of a project file: a number, or `auto` or `off`.
#[derive(Debug, Deserialize, schemars::JsonSchema)]
#[serde(untagged)]
pub enum SlicesText {
    /// How many.
    Number(u8),
    /// `auto` or `off`.
    Word(String),
}

impl TryFrom<SlicesText> for SlicesChoice {
    type Error = String;

    fn try_from(text: SlicesText) -> Result<Self, String> {
        match text {
            SlicesText::Number(number) => number.to_string().parse(),
            SlicesText::Word(word) => word.parse(),
        }
    }
}

impl std::str::FromStr for SlicesChoice {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        match text {
            "off" => Ok(SlicesChoice::Off),
            "auto" => Ok(SlicesChoice::Auto),
            number => match number.parse() {
                Ok(number @ 1..=12) => Ok(SlicesChoice::Exactly(number)),
                _ => Err("slices are off, auto, or a number from 1 to 12".to_owned()),
            },
        }
    }
}

/// What a fit makes small.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Minimise {
    /// Lines that break differently
    Lines,
    /// The mean error of words
    Words,
}

/// What stand-ins are made for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Deserialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Purpose {
    /// Little moves, and letters look even: slices with a spread of at most 4 %.
    #[default]
    Shift,
    /// Lines end where they did, though letters may look uneven: up to 10 %.
    Lines,
    /// All letters have one size.
    Looks,
}

impl Purpose {
    /// How many slices it takes.
    pub fn slices(self) -> SlicesChoice {
        match self {
            Purpose::Shift | Purpose::Lines => SlicesChoice::Auto,
            Purpose::Looks => SlicesChoice::Off,
        }
    }

    /// How uneven letters may become, in %; `None` for what is usual.
    pub fn most_spread(self) -> Option<f64> {
        (self == Purpose::Lines).then_some(10.0)
    }
}

/// What matters while a web font loads.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Aim {
    /// Text shows at once, and changes when the font arrives
    TextFirst,
    /// Text waits up to 3 s for the font
    BrandFirst,
    /// Text shows at once and stays as it is, unless the font is there already
    NoLateChange,
}

/// Texts of a project.
#[derive(Debug, Clone, Default, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Content {
    /// Paths and patterns (`messages/**/*.json`), from the project's folder.
    pub files: Vec<String>,
    /// Patterns of files that are left out.
    #[serde(default)]
    pub except: Vec<String>,
    /// The role that these texts are set in; pages have styles of their own.
    pub role: Option<String>,
    /// Their language, where files and paths do not tell.
    pub language: Option<String>,
    /// Languages that are needed, whatever the texts hold now.
    #[serde(default)]
    pub languages: Vec<String>,
}

/// How texts are set.
#[derive(Debug, Clone, Default, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Role {
    /// The families, as `font-family` takes them, as the style sheets have them
    /// now; what `build` makes of `web` where there are none.
    #[serde(default)]
    pub stack: String,
    /// Files of the web font, the one for most of the text first, or style sheets that
    /// declare them; patterns, too; for `build`.
    #[serde(default)]
    pub web: Vec<PathBuf>,
    /// What its texts are for, where it has no web font: `interface`, `reading` or `code`.
    /// `build` then makes a stack of the families that devices have.
    #[serde(default, rename = "use")]
    pub text_use: Option<TextUse>,
    /// The class of such a stack: `sans`, `serif`, `monospace` or `script`; by what it is for
    /// by default.
    #[serde(default)]
    pub class: Option<Class>,
    /// A font whose look such a stack comes close to: a file, a card or `PLATFORM:FACE`.
    #[serde(default)]
    pub like: Option<PathBuf>,
    /// Whether the families of such a stack are brought to the size and line of that font, so
    /// that texts keep their lines from device to device.
    #[serde(default)]
    pub resize: bool,
    /// The family name of the web font in the style sheet; its own by default.
    pub family: Option<String>,
    /// Fonts for some signs.
    #[serde(default)]
    pub signs: Vec<SignRule>,
    /// Web fonts for other scripts; patterns, too.
    #[serde(default)]
    pub scripts: Vec<PathBuf>,
    /// Further web fonts that stay in the stack behind the main one, as the project's own
    /// sheets declare them.
    #[serde(default)]
    pub keep: Vec<KeepRule>,
    /// Local fonts that stand in, in order; by default the closest families of the
    /// project's platforms.
    #[serde(default)]
    pub locals: Vec<PathBuf>,
    /// Weights in use, of a variable web font.
    #[serde(default)]
    pub weights: Vec<f32>,
    /// Sizes in use, in px, besides `size`.
    #[serde(default)]
    pub sizes: Vec<f32>,
    /// Widths of columns in use, in px.
    #[serde(default)]
    pub widths: Vec<f64>,
    /// The generic family at the end.
    pub generic: Option<String>,
    /// The weight, 1 to 1000.
    #[serde(default)]
    pub weight: Option<f32>,
    /// `normal`, `italic` or `oblique`.
    #[serde(default)]
    pub style: Option<String>,
    /// The size in px.
    #[serde(default)]
    pub size: Option<f32>,
    /// The `line-height` that style sheets state for it, as a multiple of the size; no face
    /// then decides how high its lines are.
    #[serde(default)]
    pub line_height: Option<f32>,
    /// OpenType features that are turned on.
    #[serde(default)]
    pub features: Vec<String>,
    /// Languages that the role must be able to write, whatever the texts hold
    /// now.
    #[serde(default)]
    pub languages: Vec<String>,
}

impl Role {
    /// Whether `build` makes its stack.
    pub fn is_built(&self) -> bool {
        !self.web.is_empty() || self.text_use.is_some()
    }
}

/// A further web font that stays in a stack.
#[derive(Debug, Clone, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct KeepRule {
    /// The family.
    pub family: String,
    /// The style sheet or page that declares it.
    pub from: PathBuf,
}

/// A font for some signs.
#[derive(Debug, Clone, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct SignRule {
    /// The file.
    pub font: PathBuf,
    /// The signs, as characters; those of the texts that the web font lacks where
    /// there are none.
    #[serde(default)]
    pub signs: String,
}

/// What `cover` lets pass.
#[derive(Debug, Clone, Default, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct CoverRules {
    /// Gaps that are known and accepted: characters, `U+20B4`, ranges
    /// `U+1F300-1FAFF`, or names of scripts.
    #[serde(default)]
    pub allow: Vec<String>,
    /// How many clusters, repeats included, may fall through besides.
    #[serde(default)]
    pub most_gaps: u64,
}

impl Role {
    fn check(&self, name: &str) -> Result<(), String> {
        if self.stack.is_empty() && !self.is_built() {
            return Err(format!(
                "role.{name} has neither a stack (for cover and trace) nor a web font (for \
                 build), nor a use (interface, reading or code) for which build makes a stack \
                 of installed families"
            ));
        }
        if let (Some(text_use), false) = (self.text_use, self.web.is_empty()) {
            return Err(format!(
                "role.{name} has a web font and use = \"{}\"; that is for stacks of installed \
                 families alone: leave one of them out",
                text_use.label()
            ));
        }
        if self.text_use.is_none() && (self.class.is_some() || self.like.is_some()) {
            return Err(format!(
                "role.{name} has a class or a look that is wanted; that goes with use = \
                 \"interface\", \"reading\" or \"code\""
            ));
        }
        if self.resize && self.like.is_none() {
            return Err(format!(
                "role.{name}.resize: families are brought to the size of a font; name it with \
                 like = \"FONT\""
            ));
        }
        if (self.class).is_some_and(|class| class.generic().is_none()) {
            return Err(format!(
                "role.{name}.class: stacks are made of sans, serif, monospace or script"
            ));
        }
        if !self.stack.is_empty() && tidy_lattice_core::style::read::families(&self.stack).is_none()
        {
            return Err(format!(
                "role.{name}.stack: {:?} is no list of families as font-family takes it; \
                 quote names that hold signs",
                self.stack
            ));
        }
        if self
            .weight
            .is_some_and(|weight| !(1.0..=1000.0).contains(&weight))
        {
            return Err(format!("role.{name}.weight: weights go from 1 to 1000"));
        }
        let sizes = self.sizes.iter().chain(&self.size);
        if sizes.into_iter().any(|size| !(1.0..=1000.0).contains(size)) {
            return Err(format!("role.{name}: sizes are in px, from 1 to 1000"));
        }
        if self
            .widths
            .iter()
            .any(|width| !(20.0..=10_000.0).contains(width))
        {
            return Err(format!(
                "role.{name}.widths: widths of columns are in px, from 20 to 10000"
            ));
        }
        if self
            .weights
            .iter()
            .any(|weight| !(1.0..=1000.0).contains(weight))
        {
            return Err(format!("role.{name}.weights: weights go from 1 to 1000"));
        }
        let styles = ["normal", "italic", "oblique"];
        if self
            .style
            .as_ref()
            .is_some_and(|style| !styles.contains(&style.as_str()))
        {
            return Err(format!(
                "role.{name}.style: it is normal, italic or oblique"
            ));
        }
        Ok(())
    }
}

impl AppFace {
    fn check(&self) -> Result<(), String> {
        let weight = self.weight;
        if weight.is_some_and(|weight| !(1.0..=1000.0).contains(&weight)) {
            return Err(format!(
                "app.faces, {:?}: weights go from 1 to 1000",
                self.family
            ));
        }
        let styles = ["normal", "italic", "oblique"];
        if (self.style.as_ref()).is_some_and(|style| !styles.contains(&style.as_str())) {
            return Err(format!(
                "app.faces, {:?}: the style is normal, italic or oblique",
                self.family
            ));
        }
        Ok(())
    }
}

impl Project {
    /// The project file that `named` names, or that lies here or in a folder
    /// above; `None` where there is none.
    pub fn find(named: Option<&Path>, access: Access<'_>) -> Result<Option<Self>, ProjectError> {
        if let Some(path) = named {
            return Self::read(path, access).map(Some);
        }
        let Ok(here) = std::env::current_dir() else {
            return Ok(None);
        };
        let mut around = Some(here.as_path());
        while let Some(folder) = around {
            let path = folder.join(NAME);
            if access.exists(&path) && !access.is_folder(&path) {
                let shown = pathdiff::diff_paths(&path, &here).unwrap_or(path);
                return Self::read(&shown, access).map(Some);
            }
            around = folder.parent();
        }
        Ok(None)
    }

    fn read(path: &Path, access: Access<'_>) -> Result<Self, ProjectError> {
        let unreadable = |reason: String| ProjectError::Unreadable {
            path: path.to_owned(),
            reason,
        };
        let bytes = access.read(path, LARGEST)?;
        let text = String::from_utf8(bytes)
            .map_err(|_| unreadable("the file is not UTF-8 text".to_owned()))?;
        let mut project: Project = toml::from_str(&text).map_err(|error| {
            let line = error.span().map(|span| {
                let before = text.get(..span.start).unwrap_or_default();
                before.matches('\n').count() + 1
            });
            let message = error.message().replace('\n', " ");
            unreadable(match line {
                Some(line) => format!("line {line}: {message}"),
                None => message,
            })
        })?;
        project.folder = path.parent().map(Path::to_owned).unwrap_or_default();
        project.check().map_err(unreadable)?;
        project.expand(access)?;
        Ok(project)
    }

    /// Puts files in place of patterns.
    fn expand(&mut self, access: Access<'_>) -> Result<(), ProjectError> {
        let folder = self.folder.clone();
        let roles = self.role.values_mut();
        let of_roles = roles.flat_map(|role| [&mut role.web, &mut role.scripts, &mut role.locals]);
        for paths in [&mut self.sheets, &mut self.known_fonts]
            .into_iter()
            .chain(of_roles)
        {
            *paths = expanded(paths, &folder, access)?;
        }
        Ok(())
    }

    fn check(&self) -> Result<(), String> {
        let percents = [
            ("taller", self.build.taller),
            ("most_spread", self.build.most_spread),
        ];
        for (name, value) in percents {
            if value.is_some_and(|value| !(0.0..=100.0).contains(&value)) {
                return Err(format!("build.{name}: it is in %, from 0 to 100"));
            }
        }
        if self
            .shift
            .budget
            .is_some_and(|budget| !(0.0..=100.0).contains(&budget))
        {
            return Err("shift.budget: scores are 0 or more".to_owned());
        }
        if let Some(trim) = &self.trim {
            trim.check()?;
        }
        for face in &self.app.faces {
            face.check()?;
        }
        for content in &self.content {
            if let Some(role) = content
                .role
                .as_ref()
                .filter(|role| !self.role.contains_key(*role))
            {
                return Err(format!(
                    "content names the role {role:?}, but there is no [role.{role}]"
                ));
            }
        }
        for (name, role) in &self.role {
            role.check(name)?;
        }
        Ok(())
    }

    /// A path of the project.
    pub fn path(&self, path: impl AsRef<Path>) -> PathBuf {
        self.folder.join(path)
    }

    /// The paths of `cards`.
    pub fn own_cards(&self) -> Vec<PathBuf> {
        let cards = self.cards.iter();
        cards.map(|card| self.path(card)).collect()
    }

    /// A name of a platform, where it is a file as its path.
    pub fn platform(&self, name: &str) -> String {
        if Path::new(name)
            .extension()
            .is_some_and(|ending| ending == "toml")
        {
            self.path(name).display().to_string()
        } else {
            name.to_owned()
        }
    }
}

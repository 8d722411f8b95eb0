//! Arguments of `build`.

use std::path::PathBuf;

use clap::{Args as ClapArgs, ValueEnum};
use tidy_lattice_core::font::Class;
use tidy_lattice_core::stack::of_devices::TextUse;
use tidy_lattice_project::file::{Aim, Minimise, Purpose, SlicesChoice};

use super::shared::{LimitArgs, SiteArgs, TextArgs};

const BUILD_EXAMPLES: &str = "\
Examples:
  tidy-lattice build                         every role of tidy-lattice.toml
  tidy-lattice build site/ -o site/stacks.css  the stacks of these pages, and how to put
                                             them in
  tidy-lattice build --web Brand.woff2 --web Brand-Bold.woff2 texts/en.txt
  tidy-lattice build --web Brand.woff2 --local Arial.ttf --local Roboto.ttf \\
      --language pl --size 16 --size 20.5 -o css/brand.css
  tidy-lattice build --web Brand.woff2 --platform windows,android --slices auto
  tidy-lattice build --web Brand.woff2 --sign 'Garamond.woff2=&' --script Naskh.woff2
  tidy-lattice build --as tokens -o tokens.json
  tidy-lattice build --use reading --language pl,el   families that devices have, in order

The result goes to standard output or to -o; the report goes beside it. Exit
status 1 where lines differ at a size in use, or something needed is not served.";

/// Arguments of `build`.
#[derive(Debug, ClapArgs)]
#[command(after_help = BUILD_EXAMPLES)]
pub struct BuildArgs {
    /// A file of the web font, one a face; the one for most of the text first
    ///
    /// FILE, FILE#2, FILE@Bold, FILE@wght=650. A variable font is taken with all
    /// its weights.
    #[arg(short, long = "web", value_name = "FONT", help_heading = "Fonts")]
    pub web: Vec<PathBuf>,

    /// A locally installed font to stand in, as a file, a card or PLATFORM:FACE;
    /// repeat in stack order, faces of one family together
    #[arg(short, long = "local", value_name = "FONT", help_heading = "Fonts")]
    pub locals: Vec<PathBuf>,

    /// Platforms whose closest families stand in (all by default, without --local)
    #[arg(
        short,
        long = "platform",
        value_name = "PLATFORM",
        value_delimiter = ',',
        help_heading = "Fonts"
    )]
    pub platforms: Vec<String>,

    /// A font for some signs, which comes first: FONT=SIGNS, or FONT for those of
    /// the text that the web font lacks
    #[arg(long = "sign", value_name = "FONT[=SIGNS]", help_heading = "Fonts")]
    pub signs: Vec<String>,

    /// A web font for other scripts
    #[arg(long = "script", value_name = "FONT", help_heading = "Fonts")]
    pub scripts: Vec<PathBuf>,

    /// Only this role of the project file
    #[arg(long, value_name = "NAME", help_heading = "Fonts")]
    pub role: Option<String>,

    /// The project file (tidy-lattice.toml here or above by default)
    #[arg(long, value_name = "FILE", help_heading = "Fonts")]
    pub project: Option<PathBuf>,

    /// The text that widths are fitted on
    #[command(flatten)]
    pub text: TextArgs,

    /// Where the files of pages and sheets are
    #[command(flatten)]
    pub site: SiteArgs,

    /// Without text: fit on the most frequent words of this language [default: en]
    ///
    /// With --use: the languages that the stack must write.
    #[arg(long = "language", value_name = "TAG", value_delimiter = ',')]
    pub languages: Vec<String>,

    /// Without a web font: a stack of the families that devices have, for this
    #[arg(
        long = "use",
        value_name = "USE",
        conflicts_with_all = ["web", "locals", "signs", "scripts", "picture"],
        help_heading = "Installed families alone"
    )]
    pub text_use: Option<UseArg>,

    /// Their class (sans for an interface, serif for reading, monospace for code by default)
    #[arg(long, value_name = "CLASS", help_heading = "Installed families alone")]
    pub class: Option<ClassArg>,

    /// A font that they are to look like: a file, a card or PLATFORM:FACE
    #[arg(long, value_name = "FONT", help_heading = "Installed families alone")]
    pub like: Option<PathBuf>,

    /// Bring them to the size and line of --like, so that texts keep their lines from
    /// device to device
    #[arg(long, requires = "like", help_heading = "Installed families alone")]
    pub resize: bool,

    /// A font size in use, in px; repeat, or separate with commas [default: 16]
    #[arg(short, long = "size", value_name = "PX", value_delimiter = ',')]
    pub sizes: Vec<f32>,

    /// A width of a column in use, in px (200 to 800 by 20 by default)
    #[arg(long = "width", value_name = "PX", value_delimiter = ',')]
    pub widths: Vec<f64>,

    /// The line-height that style sheets state for the text, such as 1.5
    ///
    /// Then no font decides how high lines are, and letters may be resized as far as it
    /// helps. Pages of a project tell it by themselves.
    #[arg(long, value_name = "NUMBER")]
    pub line_height: Option<f32>,

    /// A weight in use, of a variable web font [default: 400]
    #[arg(long = "weight", value_name = "WEIGHT", value_delimiter = ',')]
    pub weights: Vec<f32>,

    /// Tell every fit, size and note
    #[arg(short, long)]
    pub all: bool,

    /// What stand-ins are made for [default: shift]
    ///
    /// shift: little moves, and letters look even (--slices auto --most-spread 4). lines:
    /// lines end where they did, though letters may look uneven (--most-spread 10). looks:
    /// all letters have one size (--slices off).
    #[arg(long = "for", value_name = "WHAT", help_heading = "Fit")]
    pub purpose: Option<PurposeArg>,

    /// How many slices of letters have a size of their own
    ///
    /// off is one size for all; auto weighs lines kept against letters that look
    /// uneven; a number from 1 to 12 is taken as it is.
    #[arg(long, value_name = "N|auto|off", help_heading = "Fit")]
    pub slices: Option<SlicesChoice>,

    /// How uneven letters may become: the standard deviation of their sizes, in %
    #[arg(long, value_name = "PERCENT", help_heading = "Fit")]
    pub most_spread: Option<f64>,

    /// What the fit makes small [default: lines]
    #[arg(long, value_name = "WHAT", help_heading = "Fit")]
    pub minimise: Option<MinimiseArg>,

    /// How much taller the web font's line may be pinned, in % of an em
    #[arg(long, value_name = "PERCENT", help_heading = "Fit")]
    pub taller: Option<f64>,

    /// Leave the web font's own rules without line metrics
    ///
    /// Its lines then stay exactly as they are in every browser, but Firefox
    /// rounds them in another way than those of the stand-ins.
    #[arg(long, help_heading = "Fit")]
    pub no_pin: bool,

    /// The generic family at the end (judged from the web font by default)
    #[arg(long, value_name = "FAMILY", help_heading = "Style sheet")]
    pub generic: Option<String>,

    /// The family name in the CSS (the font's own by default)
    #[arg(long, value_name = "NAME", help_heading = "Style sheet")]
    pub family: Option<String>,

    /// The URL of the web font in the CSS, where there is one file (its path by
    /// default)
    #[arg(long, value_name = "URL", help_heading = "Style sheet")]
    pub url: Option<String>,

    /// What URLs of font files begin with, before their path from the root of the site
    /// (paths from the style sheet by default)
    #[arg(
        long,
        value_name = "URL",
        conflicts_with = "url",
        help_heading = "Style sheet"
    )]
    pub url_base: Option<String>,

    /// What matters while the font loads
    #[arg(long, value_name = "AIM", help_heading = "Style sheet")]
    pub aim: Option<AimArg>,

    /// font-display of web fonts, where no aim says it
    #[arg(
        long,
        value_name = "VALUE",
        conflicts_with = "aim",
        help_heading = "Style sheet"
    )]
    pub display: Option<Display>,

    /// Leave out the comments that say why each entry is there
    #[arg(long, help_heading = "Style sheet")]
    pub no_comments: bool,

    /// The form of the result
    #[arg(
        long = "as",
        value_name = "FORM",
        default_value = "css",
        help_heading = "Output"
    )]
    pub form: BuildForm,

    /// Write the result to this file
    #[arg(short, long, value_name = "FILE", help_heading = "Output")]
    pub output: Option<PathBuf>,

    /// Write rules.css, properties.css and classes.css into this folder
    #[arg(
        long,
        value_name = "FOLDER",
        conflicts_with = "output",
        help_heading = "Output"
    )]
    pub apart: Option<PathBuf>,

    /// Write nothing; exit status 1 where the output is not what would be written
    #[arg(long, help_heading = "Output", conflicts_with_all = ["picture", "force"])]
    pub check: bool,

    /// Build again whenever something that was read changes
    #[arg(long, help_heading = "Output", conflicts_with = "check")]
    pub watch: bool,

    /// Draw a paragraph in web font, plain fallback and stand-in (.svg or .png)
    #[arg(long, value_name = "FILE", help_heading = "Output")]
    pub picture: Option<PathBuf>,

    /// Overwrite outputs even if tidy-lattice did not write them
    #[arg(long, help_heading = "Output")]
    pub force: bool,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

/// What a text is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum UseArg {
    /// Buttons, menus and forms, as the system's own
    Interface,
    /// Running text
    Reading,
    /// Code
    Code,
}

impl From<UseArg> for TextUse {
    fn from(arg: UseArg) -> Self {
        match arg {
            UseArg::Interface => TextUse::Interface,
            UseArg::Reading => TextUse::Reading,
            UseArg::Code => TextUse::Code,
        }
    }
}

/// Classes of fonts that have a generic family.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum ClassArg {
    /// Strokes end without serifs
    Sans,
    /// Strokes end in serifs
    Serif,
    /// Every letter has the same width
    Monospace,
    /// Drawn like handwriting
    Script,
}

impl From<ClassArg> for Class {
    fn from(arg: ClassArg) -> Self {
        match arg {
            ClassArg::Sans => Class::Sans,
            ClassArg::Serif => Class::Serif,
            ClassArg::Monospace => Class::Monospace,
            ClassArg::Script => Class::Script,
        }
    }
}

/// What a fit makes small.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum MinimiseArg {
    /// Lines that break differently
    Lines,
    /// The mean error of words
    Words,
}

/// What matters while a web font loads.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum AimArg {
    /// Text shows at once, and changes when the font arrives
    TextFirst,
    /// Text waits up to 3 s for the font
    BrandFirst,
    /// Text shows at once and stays as it is, unless the font is there already
    NoLateChange,
}

/// What stand-ins are made for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum PurposeArg {
    /// Little moves, and letters look even
    Shift,
    /// Lines end where they did
    Lines,
    /// All letters have one size
    Looks,
}

impl From<PurposeArg> for Purpose {
    fn from(arg: PurposeArg) -> Self {
        match arg {
            PurposeArg::Shift => Purpose::Shift,
            PurposeArg::Lines => Purpose::Lines,
            PurposeArg::Looks => Purpose::Looks,
        }
    }
}

impl From<MinimiseArg> for Minimise {
    fn from(arg: MinimiseArg) -> Self {
        match arg {
            MinimiseArg::Lines => Minimise::Lines,
            MinimiseArg::Words => Minimise::Words,
        }
    }
}

impl From<AimArg> for Aim {
    fn from(arg: AimArg) -> Self {
        match arg {
            AimArg::TextFirst => Aim::TextFirst,
            AimArg::BrandFirst => Aim::BrandFirst,
            AimArg::NoLateChange => Aim::NoLateChange,
        }
    }
}

/// Forms of what is built.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum BuildForm {
    /// A style sheet
    Css,
    /// Design tokens (Design Tokens Community Group format)
    Tokens,
    /// Data for apps that draw their own text
    App,
    /// The stack without @font-face, and how far each family is off
    Plain,
}

/// Values of `font-display` (CSS Fonts 4, §11).
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Display {
    /// The browser decides
    Auto,
    /// Hide the text for up to 3 s
    Block,
    /// Show the fallback at once, swap whenever the font arrives
    Swap,
    /// Show the fallback at once, swap only soon
    Fallback,
    /// Show the fallback at once, use the font if it is there already
    Optional,
}

impl Display {
    /// The keyword.
    pub fn css(self) -> &'static str {
        match self {
            Display::Auto => "auto",
            Display::Block => "block",
            Display::Swap => "swap",
            Display::Fallback => "fallback",
            Display::Optional => "optional",
        }
    }
}

impl BuildArgs {
    /// The language of a text of which nothing is said.
    pub fn main_language(&self) -> &str {
        self.languages.first().map_or("en", String::as_str)
    }

    /// `build` of a project, without anything else said.
    pub fn of_project(path: PathBuf) -> Self {
        BuildArgs {
            web: Vec::new(),
            locals: Vec::new(),
            platforms: Vec::new(),
            signs: Vec::new(),
            scripts: Vec::new(),
            role: None,
            project: Some(path),
            text: TextArgs::default(),
            site: SiteArgs::default(),
            languages: Vec::new(),
            text_use: None,
            class: None,
            like: None,
            resize: false,
            sizes: Vec::new(),
            widths: Vec::new(),
            line_height: None,
            weights: Vec::new(),
            purpose: None,
            all: false,
            slices: None,
            most_spread: None,
            minimise: None,
            taller: None,
            no_pin: false,
            generic: None,
            family: None,
            url: None,
            url_base: None,
            aim: None,
            display: None,
            no_comments: false,
            form: BuildForm::Css,
            output: None,
            apart: None,
            check: false,
            watch: false,
            picture: None,
            force: false,
            limits: LimitArgs { font_limit: 64 },
        }
    }
}

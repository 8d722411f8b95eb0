//! Arguments of the commands that build.

use std::path::PathBuf;

use clap::{Args as ClapArgs, ValueEnum};
use tidy_lattice_project::file::{Aim, Minimise, Purpose, SlicesChoice};

use super::shared::{DrawingArgs, LimitArgs, SiteArgs, TextArgs};

const RANK_EXAMPLES: &str = "\
Examples:
  tidy-lattice rank Brand.woff2 Arial.ttf Roboto.ttf cards/
  tidy-lattice rank Brand.woff2 --platform windows,android texts/en.txt
  tidy-lattice rank Brand.woff2 --platform here --weigh x-height=5,features=0
  tidy-lattice rank Brand.woff2 --platform windows --picture ranked.png

Closest first; what cannot serve at all comes last, with the reason.";

/// Arguments of `rank`.
#[derive(Debug, ClapArgs)]
#[command(after_help = RANK_EXAMPLES)]
pub struct RankArgs {
    /// The font that fallbacks are wanted for
    #[arg(value_name = "FONT")]
    pub web: PathBuf,

    /// Candidates: font files, cards, folders of them, PLATFORM:FACE
    #[arg(value_name = "CANDIDATE")]
    pub candidates: Vec<PathBuf>,

    /// All measured families of a platform (TOML file or name); `here` is this
    /// device
    #[arg(
        short,
        long = "platform",
        value_name = "PLATFORM",
        value_delimiter = ','
    )]
    pub platforms: Vec<String>,

    /// Measure on this text; may be repeated
    #[arg(short, long = "text", value_name = "TEXT", allow_hyphen_values = true)]
    pub texts: Vec<String>,

    /// Measure on this text file; may be repeated
    #[arg(short = 'f', long = "text-file", value_name = "TEXT_FILE")]
    pub text_files: Vec<PathBuf>,

    /// Languages that fallbacks should keep (BCP 47 tags); without text the first
    /// one's most frequent words are measured
    #[arg(
        long = "language",
        value_name = "TAG",
        value_delimiter = ',',
        default_value = "en"
    )]
    pub languages: Vec<String>,

    /// A font size in use, in px
    #[arg(
        short,
        long = "size",
        value_name = "PX",
        value_delimiter = ',',
        default_value = "16"
    )]
    pub sizes: Vec<f32>,

    /// A width of a column in use, in px (200 to 800 by 20 by default)
    #[arg(long = "width", value_name = "PX", value_delimiter = ',')]
    pub widths: Vec<f64>,

    /// How much a part of the score counts (class, words, lines, size,
    /// x-height, cap-height, stroke, contrast, slope, coverage, languages, features)
    #[arg(long = "weigh", value_name = "PART=WEIGHT", value_delimiter = ',')]
    pub weigh: Vec<String>,

    /// Show all candidates, not only the first twelve
    #[arg(long)]
    pub all: bool,

    /// A picture of the font and its closest candidates on one line
    #[command(flatten)]
    pub drawing: DrawingArgs,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

const BUILD_EXAMPLES: &str = "\
Examples:
  tidy-lattice build                         every role of tidy-lattice.toml
  tidy-lattice build --web Brand.woff2 --web Brand-Bold.woff2 texts/en.txt
  tidy-lattice build --web Brand.woff2 --local Arial.ttf --local Roboto.ttf \\
      --language pl --size 16 --size 20.5 -o css/brand.css
  tidy-lattice build --web Brand.woff2 --platform windows,android --slices auto
  tidy-lattice build --web Brand.woff2 --sign 'Garamond.woff2=&' --script Naskh.woff2
  tidy-lattice build --as tokens -o tokens.json

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

    /// Without text: fit on the most frequent words of this language
    #[arg(long, value_name = "TAG", default_value = "en")]
    pub language: String,

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
            language: "en".to_owned(),
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
            aim: None,
            display: None,
            no_comments: false,
            form: BuildForm::Css,
            output: None,
            apart: None,
            picture: None,
            force: false,
            limits: LimitArgs { font_limit: 64 },
        }
    }
}

const TRIM_EXAMPLES: &str = "\
Examples:
  tidy-lattice trim                             the project's web fonts, for its texts
  tidy-lattice trim -o fonts/small              and write them, with their style sheet
  tidy-lattice trim Brand.woff2 --text 'Harbour Company' --margin text -o out
  tidy-lattice trim Brand.ttf --language pl,en -o out
  tidy-lattice trim Brand.ttf --range U+0-FF,U+131,U+2000-206F -o out
  tidy-lattice trim Mincho.otf --language ja --slices 60k -o out
  tidy-lattice trim Garamond.woff2 --sign '&' --family 'Brand Ampersand' -o out
  tidy-lattice trim fonts.css site/index.html -o out

Nothing is written without -o. What is written was compared with its source first: every
outline, and every letter beside others, shaped with both. Exit status 1 where a face
lacks something that is needed.";

/// Arguments of `trim`.
#[derive(Debug, ClapArgs)]
#[command(after_help = TRIM_EXAMPLES)]
pub struct TrimArgs {
    /// Faces: font files, folders of them, style sheets that declare them; and texts
    /// that they are to show: text files, pages, message catalogues
    #[arg(value_name = "FONT_OR_TEXT")]
    pub named: Vec<PathBuf>,

    /// Text as it is; may be repeated
    #[arg(
        short,
        long = "text",
        value_name = "TEXT",
        allow_hyphen_values = true,
        help_heading = "What is needed"
    )]
    pub texts: Vec<String>,

    /// Languages that are to be written (BCP 47 tags)
    #[arg(
        short,
        long = "language",
        value_name = "TAG",
        value_delimiter = ',',
        help_heading = "What is needed"
    )]
    pub languages: Vec<String>,

    /// Characters, as unicode-range has them; may be repeated, then each is a file
    #[arg(
        long = "range",
        value_name = "UNICODE_RANGE",
        help_heading = "What is needed"
    )]
    pub ranges: Vec<String>,

    /// One sign, in a family of its own (--family)
    #[arg(long, value_name = "SIGN", conflicts_with_all = ["texts", "languages", "ranges"], help_heading = "What is needed")]
    pub sign: Option<String>,

    /// Of a project, only this role
    #[arg(long, value_name = "NAME", help_heading = "What is needed")]
    pub role: Option<String>,

    /// How much more than the text has stays
    #[arg(
        long,
        value_name = "MARGIN",
        default_value = "languages",
        help_heading = "What is needed"
    )]
    pub margin: MarginArg,

    /// Features to keep besides those that CSS turns on by default and those that the
    /// styles of the texts ask for; `all`: everything
    #[arg(
        long = "feature",
        value_name = "TAG",
        value_delimiter = ',',
        help_heading = "What stays"
    )]
    pub features: Vec<String>,

    /// Instructions for small sizes on screens of few pixels
    #[arg(
        long,
        value_name = "KEEP",
        default_value = "keep",
        help_heading = "What stays"
    )]
    pub hints: HintsArg,

    /// Another name for the family, in the files and in the sheet
    #[arg(long, value_name = "NAME", help_heading = "What stays")]
    pub family: Option<String>,

    /// Cut even what the file says may not be cut or embedded: a licence allows it
    #[arg(long, help_heading = "What stays")]
    pub licence_allows: bool,

    /// Into how many files: whole, text (what the texts have, and the rest), a number, or
    /// the largest size of a file (60k)
    #[arg(
        long,
        value_name = "SLICES",
        default_value = "whole",
        help_heading = "Files"
    )]
    pub slices: String,

    /// Forms of the files
    #[arg(
        long = "format",
        value_name = "FORMAT",
        value_delimiter = ',',
        default_value = "woff2",
        help_heading = "Files"
    )]
    pub formats: Vec<FormatArg>,

    /// `font-display` of the rules
    #[arg(
        long,
        value_name = "VALUE",
        default_value = "swap",
        help_heading = "Files"
    )]
    pub display: Display,

    /// The folder that the files and their style sheet go to
    #[arg(short, long, value_name = "FOLDER", help_heading = "Files")]
    pub output: Option<PathBuf>,

    /// Overwrite files that tidy-lattice did not write
    #[arg(long, requires = "output", help_heading = "Files")]
    pub force: bool,

    /// The project file (tidy-lattice.toml here or above by default)
    #[arg(long, value_name = "FILE")]
    pub project: Option<PathBuf>,

    /// Tell what each file is made of
    #[arg(long)]
    pub all: bool,

    /// Where the files of pages and sheets are
    #[command(flatten)]
    pub site: SiteArgs,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

/// How much more than the text has stays.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum MarginArg {
    /// Nothing
    Text,
    /// Everything that its languages need: letters, digits, punctuation, quotes, currency;
    /// and ASCII
    Languages,
    /// That, and common signs
    Signs,
}

impl From<MarginArg> for tidy_lattice_core::trim::Margin {
    fn from(margin: MarginArg) -> Self {
        match margin {
            MarginArg::Text => Self::Text,
            MarginArg::Languages => Self::Languages,
            MarginArg::Signs => Self::Signs,
        }
    }
}

/// Whether instructions for small sizes stay.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum HintsArg {
    /// They stay
    Keep,
    /// They go, which is smaller; text of few pixels looks softer on Windows
    Drop,
}

/// The form of a font file.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum FormatArg {
    /// WOFF 2.0
    Woff2,
    /// WOFF 1.0
    Woff,
    /// TrueType or OpenType, not packed
    Sfnt,
}

impl From<FormatArg> for tidy_lattice_core::trim::Packing {
    fn from(format: FormatArg) -> Self {
        match format {
            FormatArg::Woff2 => Self::Woff2,
            FormatArg::Woff => Self::Woff,
            FormatArg::Sfnt => Self::Sfnt,
        }
    }
}

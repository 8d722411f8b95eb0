//! Arguments of `trim`.

use std::path::PathBuf;

use clap::{Args as ClapArgs, ValueEnum};

use super::build::Display;
use super::shared::{LimitArgs, SiteArgs};

const TRIM_EXAMPLES: &str = "\
Examples:
  tidy-lattice trim                             the project's web fonts, for its texts
  tidy-lattice trim -o fonts/small              and write them, with their style sheet
  tidy-lattice trim Brand.woff2 --text 'Harbour Company' --margin text -o out
  tidy-lattice trim Brand.ttf --language pl,en -o out
  tidy-lattice trim Brand.ttf --range U+0-FF,U+131,U+2000-206F -o out
  tidy-lattice trim Brand.ttf --language en --axis wght=400..700 -o out
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

    /// How much more than the text has stays [default: languages]
    #[arg(long, value_name = "MARGIN", help_heading = "What is needed")]
    pub margin: Option<MarginArg>,

    /// Features to keep besides those that CSS turns on by default and those that the
    /// styles of the texts ask for; `all`: everything
    #[arg(
        long = "feature",
        value_name = "TAG",
        value_delimiter = ',',
        help_heading = "What stays"
    )]
    pub features: Vec<String>,

    /// Instructions for small sizes on screens of few pixels [default: keep]
    #[arg(long, value_name = "KEEP", help_heading = "What stays")]
    pub hints: Option<HintsArg>,

    /// What is left of an axis of a variable font: `wght=400..700`, or `wght=400` to pin it;
    /// others stay whole; may be repeated
    #[arg(
        long = "axis",
        value_name = "AXIS=FROM..TO",
        value_delimiter = ',',
        help_heading = "What stays"
    )]
    pub axes: Vec<String>,

    /// Another name for the family, in the files and in the sheet
    #[arg(long, value_name = "NAME", help_heading = "What stays")]
    pub family: Option<String>,

    /// Cut even what the file says may not be cut or embedded: a licence allows it
    #[arg(long, help_heading = "What stays")]
    pub licence_allows: bool,

    /// Into how many files: whole, text (what the texts have, and the rest), a number, or
    /// the largest size of a file (60k) [default: whole]
    #[arg(long, value_name = "SLICES", help_heading = "Files")]
    pub slices: Option<String>,

    /// Forms of the files [default: woff2]
    #[arg(
        long = "format",
        value_name = "FORMAT",
        value_delimiter = ',',
        help_heading = "Files"
    )]
    pub formats: Vec<FormatArg>,

    /// What goes with the files: their style sheet, or a list of them in the order in which
    /// they are to be asked, for what draws without CSS
    #[arg(
        long = "as",
        value_name = "FORM",
        default_value = "css",
        help_heading = "Files"
    )]
    pub form: ListForm,

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

/// What goes with the files.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum ListForm {
    /// fonts.css: `@font-face` rules
    Css,
    /// fonts.json: family, file, weight, style and characters of each, in order
    App,
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

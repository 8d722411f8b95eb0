//! Arguments of the commands that check texts.

use std::path::PathBuf;

use clap::{Args as ClapArgs, ValueEnum};

use super::shared::{LimitArgs, StackArgs, TextArgs};

const COVER_EXAMPLES: &str = "\
Examples:
  tidy-lattice cover                                    what tidy-lattice.toml names
  tidy-lattice cover site/                              pages with their style sheets
  tidy-lattice cover --font Brand.woff2 --font Text.ttf messages/*.json
  tidy-lattice cover --css site.css --stack 'Brand, Arial, sans-serif' app.po
  tidy-lattice cover --font Brand.woff2 --text 'Łódź → Αθήνα'
  tidy-lattice cover --font Brand.woff2 --language uk,vi
  git diff | tidy-lattice cover --font Brand.woff2 -

Texts are read from plain text, Markdown, HTML with its style sheets, CSV, and
message catalogues (JSON, ARB, YAML, PO, XLIFF, .properties, string XML,
.strings). A cluster (a letter with its marks, a flag, an emoji sequence) is
served by the first font that can show all of it. Exit status 1 where there are
more gaps than allowed.";

/// Arguments of `cover`.
#[derive(Debug, ClapArgs)]
#[command(after_help = COVER_EXAMPLES)]
pub struct CoverArgs {
    /// The text
    #[command(flatten)]
    pub text: TextArgs,

    /// The stack
    #[command(flatten)]
    pub stack: StackArgs,

    /// What these languages are written with is needed too (BCP 47 tags)
    #[arg(short, long = "language", value_name = "TAG", value_delimiter = ',')]
    pub languages: Vec<String>,

    /// Fonts, or folders of them, that might fill gaps
    #[arg(long, value_name = "FONT")]
    pub known: Vec<PathBuf>,

    /// A gap that is accepted: characters, U+20B4, U+1F300-1FAFF, a script
    #[arg(long, value_name = "GAP")]
    pub allow: Vec<String>,

    /// How many clusters may fall through besides
    #[arg(long, value_name = "COUNT")]
    pub most_gaps: Option<u64>,

    /// List what the texts need, by role, language and style
    #[arg(long)]
    pub need: bool,

    /// List every text of the pages with its style
    #[arg(long)]
    pub styles: bool,

    /// Show all gaps, not only the most frequent
    #[arg(long)]
    pub all: bool,

    /// Look again whenever something that was read changes
    #[arg(long)]
    pub watch: bool,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

const TRACE_EXAMPLES: &str = "\
Examples:
  tidy-lattice trace 'Łódź → Αθήνα' --font Brand.woff2 --font Text.ttf
  tidy-lattice trace 'Łódź → Αθήνα' --css site.css --stack 'Brand, Arial, sans-serif'
  tidy-lattice trace 'मुंबई 5:30' --css site.css --stack 'Brand, serif' --platform windows,android
  tidy-lattice trace 'Hello' --css site.css --stack 'Brand, serif' --before-load
  tidy-lattice trace 'Hello' --role headings

Pieces are told in the order in which the text is stored. What no font of the
stack has is left to the browser, which then looks among all fonts of the system.
Exit status 1 where a piece is left, or shown with a flaw.";

/// Arguments of `trace`.
#[derive(Debug, ClapArgs)]
#[command(after_help = TRACE_EXAMPLES)]
pub struct TraceArgs {
    /// The text; `-` reads standard input
    #[arg(value_name = "TEXT")]
    pub text: String,

    /// The stack
    #[command(flatten)]
    pub stack: StackArgs,

    /// The weight that the text is set in, 1 to 1000
    #[arg(long, value_name = "WEIGHT")]
    pub weight: Option<f32>,

    /// The slope that the text is set in
    #[arg(long, value_name = "STYLE")]
    pub style: Option<SlopeArg>,

    /// The width (font-stretch) that the text is set in, in %
    #[arg(long, value_name = "PERCENT")]
    pub width: Option<f32>,

    /// The language that the page states for the text (BCP 47); some have generic
    /// families of their own
    #[arg(long, value_name = "TAG")]
    pub language: Option<String>,

    /// What font-variant-emoji says
    #[arg(long, value_name = "VALUE", default_value = "normal")]
    pub emoji: EmojiArg,

    /// What shows while web fonts are still on their way
    #[arg(long)]
    pub before_load: bool,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

/// Slopes of text.
#[derive(Debug, Clone, Copy, ValueEnum)]
pub enum SlopeArg {
    /// Upright
    Normal,
    /// Italic
    Italic,
    /// Slanted
    Oblique,
}

/// Values of `font-variant-emoji` (CSS Fonts 4, §6.13).
#[derive(Debug, Clone, Copy, ValueEnum)]
pub enum EmojiArg {
    /// The characters decide
    Normal,
    /// As text
    Text,
    /// As emoji
    Emoji,
}

impl CoverArgs {
    /// `cover` of a project, without anything else said.
    pub fn of_project(path: PathBuf) -> Self {
        CoverArgs {
            text: TextArgs::default(),
            stack: StackArgs {
                project: Some(path),
                ..StackArgs::default()
            },
            languages: Vec::new(),
            known: Vec::new(),
            allow: Vec::new(),
            most_gaps: None,
            need: false,
            styles: false,
            watch: false,
            all: false,
            limits: LimitArgs { font_limit: 64 },
        }
    }
}

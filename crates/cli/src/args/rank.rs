//! Arguments of `rank`.

use std::path::PathBuf;

use clap::Args as ClapArgs;

use super::shared::{DrawingArgs, LimitArgs};

const RANK_EXAMPLES: &str = "\
Examples:
  tidy-lattice rank Brand.woff2 Arial.ttf Roboto.ttf cards/
  tidy-lattice rank Brand.woff2 --platform windows,android --text-file texts/en.txt
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

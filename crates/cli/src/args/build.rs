//! Arguments of the commands that build.

use std::path::PathBuf;

use clap::{Args as ClapArgs, ValueEnum};

use super::shared::{LimitArgs, TextArgs};

const BUILD_EXAMPLES: &str = "\
Examples:
  tidy-lattice build --web Brand.woff2 --local Arial.ttf texts/en.txt > brand.css
  tidy-lattice build --web Brand.woff2 --local Arial.ttf --local Roboto.ttf \\
      --language pl --size 16 --size 20.5 -o css/brand.css

The CSS goes to standard output or to -o; the report goes beside it. Exit status
1 where lines differ at a size that you named.";

/// Arguments of `build`.
#[derive(Debug, ClapArgs)]
#[command(after_help = BUILD_EXAMPLES)]
pub struct BuildArgs {
    /// The web font (FILE, FILE#2, FILE@Bold, FILE@wght=650)
    #[arg(short, long, value_name = "FONT")]
    pub web: PathBuf,

    /// A locally installed font to stand in, as a file; repeat in stack order
    #[arg(short, long = "local", value_name = "FONT", required = true)]
    pub locals: Vec<PathBuf>,

    /// The text that widths are fitted on
    #[command(flatten)]
    pub text: TextArgs,

    /// Without text: fit on the built-in sample of this language
    #[arg(long, value_name = "TAG", default_value = "en")]
    pub language: String,

    /// A font size in use, in px; repeat, or separate with commas
    #[arg(
        short,
        long = "size",
        value_name = "PX",
        value_delimiter = ',',
        default_value = "16"
    )]
    pub sizes: Vec<f32>,

    /// The generic family at the end (judged from the web font by default)
    #[arg(long, value_name = "FAMILY")]
    pub generic: Option<String>,

    /// The family name in the CSS (the font's own by default)
    #[arg(long, value_name = "NAME")]
    pub family: Option<String>,

    /// The URL in the CSS (the path of the file by default)
    #[arg(long, value_name = "URL")]
    pub url: Option<String>,

    /// font-display of the web font
    #[arg(long, value_name = "VALUE", default_value = "swap")]
    pub display: Display,

    /// Leave the web font's own rule without line metrics
    ///
    /// Its lines then stay exactly as they are in every browser, but Firefox
    /// rounds them in another way than those of the stand-ins.
    #[arg(long)]
    pub no_pin: bool,

    /// Write the CSS (or the JSON) to this file
    #[arg(short, long, value_name = "FILE")]
    pub output: Option<PathBuf>,

    /// Overwrite the output even if tidy-lattice did not write it
    #[arg(long)]
    pub force: bool,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

/// Values of `font-display` (CSS Fonts 4, §11).
#[derive(Debug, Clone, Copy, ValueEnum)]
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

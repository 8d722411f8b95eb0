//! Arguments of the commands that foretell movement, and prove it.

use std::path::PathBuf;

use clap::{Args as ClapArgs, ValueEnum};

use super::shared::{DrawingArgs, LimitArgs, SiteArgs, StackArgs, TextArgs};

const SHIFT_EXAMPLES: &str = "\
Examples:
  tidy-lattice shift                                    the pages that tidy-lattice.toml names
  tidy-lattice shift site/index.html --platform windows,android
  tidy-lattice shift site/ --variants                   the same page served in other ways
  tidy-lattice shift site/index.html --variant fallback=Georgia --variant display=optional
  tidy-lattice shift article.txt --css site.css --stack 'Brand, Arial' --size 18 --width 320,640
  tidy-lattice shift site/index.html --viewport phone --picture shift.png

A page is laid out twice, before and after its web fonts arrive, in this program's own
layout. Scores are those of the Layout Instability specification for one arrival of all
web fonts at once. What cannot be laid out is named, and left out of the figures. Exit
status 1 where a score is above the budget (--budget, or shift.budget of the project).";

/// Arguments of `shift`.
#[derive(Debug, ClapArgs)]
#[command(after_help = SHIFT_EXAMPLES)]
pub struct ShiftArgs {
    /// Pages, folders of pages, or texts
    #[command(flatten)]
    pub text: TextArgs,

    /// The stack
    #[command(flatten)]
    pub stack: StackArgs,

    /// How big the window is
    #[command(flatten)]
    pub view: ViewArgs,

    /// The engine whose layout is predicted
    #[arg(long, value_name = "ENGINE", default_value = "chromium")]
    pub engine: EngineArg,

    /// Of texts, the size in px
    #[arg(long, value_name = "PX", help_heading = "Texts")]
    pub size: Option<f32>,

    /// Of texts, the line height: a number, a length in px, or `normal`
    #[arg(long, value_name = "HEIGHT", help_heading = "Texts")]
    pub line_height: Option<String>,

    /// Of texts, widths of columns in px, in place of viewports
    #[arg(
        long = "width",
        value_name = "PX",
        value_delimiter = ',',
        help_heading = "Texts"
    )]
    pub widths: Vec<f64>,

    /// Of texts, the language (BCP 47)
    #[arg(short, long, value_name = "TAG", help_heading = "Texts")]
    pub language: Option<String>,

    /// Compare with the same pages served in other ways
    #[arg(long, help_heading = "Variants")]
    pub variants: bool,

    /// One way more: built (with the project's stacks), plain, one-factor, slices=N,
    /// no-line-metrics, webkit, fallback=FAMILY, display=VALUE
    #[arg(long = "variant", value_name = "VARIANT", help_heading = "Variants")]
    pub more_variants: Vec<String>,

    /// The highest score that passes
    #[arg(long, value_name = "SCORE")]
    pub budget: Option<f64>,

    /// With a budget, let scores pass that are not known
    #[arg(long)]
    pub pass_unknown: bool,

    /// Show every box that changes, not only the worst
    #[arg(long)]
    pub all: bool,

    /// A picture
    #[command(flatten)]
    pub drawing: DrawingArgs,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

/// Which windows pages are looked at in.
#[derive(Debug, Default, ClapArgs)]
pub struct ViewArgs {
    /// Windows: phone (390 by 844), tablet (820 by 1180), desktop (1280 by 800), or
    /// WIDTHxHEIGHT in px; all three by default
    #[arg(
        long = "viewport",
        value_name = "VIEWPORT",
        value_delimiter = ',',
        help_heading = "Windows"
    )]
    pub viewports: Vec<String>,
}

/// Engines whose layout can be predicted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum EngineArg {
    /// Chrome, Edge, and others
    Chromium,
    /// Firefox
    Firefox,
    /// Safari, and others
    Webkit,
}

impl From<EngineArg> for tidy_lattice_core::layout::Engine {
    fn from(engine: EngineArg) -> Self {
        match engine {
            EngineArg::Chromium => Self::Chromium,
            EngineArg::Firefox => Self::Firefox,
            EngineArg::Webkit => Self::Webkit,
        }
    }
}

impl From<EngineArg> for tidy_lattice_browser::Engine {
    fn from(engine: EngineArg) -> Self {
        match engine {
            EngineArg::Chromium => Self::Chromium,
            EngineArg::Firefox => Self::Firefox,
            EngineArg::Webkit => Self::Webkit,
        }
    }
}

const FORECAST_EXAMPLES: &str = "\
Examples:
  tidy-lattice forecast                                 the pages that tidy-lattice.toml names
  tidy-lattice forecast site/index.html --platform windows,android
  tidy-lattice forecast site/ --viewport phone --engine firefox
  tidy-lattice forecast site/ --budget 100k

A file is fetched where a text's style picks its rule and the rule's unicode-range holds
a character of the text, whether the file has it or not; not where an installed font that
local() names, or one before it in the stack, shows the character. Exit status 1 where a
page fetches more than the budget (--budget, or forecast.budget of the project).";

/// Arguments of `forecast`.
#[derive(Debug, ClapArgs)]
#[command(after_help = FORECAST_EXAMPLES)]
pub struct ForecastArgs {
    /// Pages, or folders of pages
    #[arg(value_name = "PAGE")]
    pub pages: Vec<PathBuf>,

    /// Where the files of pages and sheets are
    #[command(flatten)]
    pub site: SiteArgs,

    /// The project file (tidy-lattice.toml here or above by default)
    #[arg(long, value_name = "FILE")]
    pub project: Option<PathBuf>,

    /// Platforms, by name or as a TOML file; `here` is this device
    #[arg(
        short,
        long = "platform",
        value_name = "PLATFORM",
        value_delimiter = ','
    )]
    pub platforms: Vec<String>,

    /// How big the window is
    #[command(flatten)]
    pub view: ViewArgs,

    /// The engine that fetches
    #[arg(long, value_name = "ENGINE", default_value = "chromium")]
    pub engine: EngineArg,

    /// Tell, too, what pages fetch once `trim` has cut the project's fonts
    #[arg(long, conflicts_with = "app")]
    pub after_trim: bool,

    /// In place of pages: what fonts take in an app, by face and language of its texts
    #[arg(long, conflicts_with_all = ["pages", "budget"])]
    pub app: bool,

    /// The most that a page may fetch of fonts: bytes, or as 100k, 1m
    #[arg(long, value_name = "BYTES")]
    pub budget: Option<String>,

    /// Show the files of every page, and all that nobody fetches
    #[arg(long)]
    pub all: bool,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

const PROVE_EXAMPLES: &str = "\
Examples:
  tidy-lattice prove                                    the project's pages, in Chromium
  tidy-lattice prove site/index.html --browser chromium,firefox,webkit
  tidy-lattice prove site/index.html --platform kiosk.toml --viewport phone
  tidy-lattice prove site/index.html --endpoint http://127.0.0.1:4444 --browser firefox
  tidy-lattice prove site/ --screenshots shots/

The site is served on a port of this machine; web fonts are held back until the page has
been measured, then let through, and it is measured again. Browsers are driven over
WebDriver (chromedriver, geckodriver, WebKitWebDriver). With --platform the browser finds
exactly that platform's fonts installed, where all of them are files. Exit status 1 where
browser and prediction differ by more than the tolerances.";

/// Arguments of `prove`.
#[derive(Debug, ClapArgs)]
#[command(after_help = PROVE_EXAMPLES)]
pub struct ProveArgs {
    /// Pages, or folders of pages
    #[arg(value_name = "PAGE")]
    pub pages: Vec<PathBuf>,

    /// Where the files of pages and sheets are; the root is served
    #[command(flatten)]
    pub site: SiteArgs,

    /// The project file (tidy-lattice.toml here or above by default)
    #[arg(long, value_name = "FILE")]
    pub project: Option<PathBuf>,

    /// The platform whose fonts are installed for the browser: a TOML file whose faces
    /// are all font files; this device by default
    #[arg(short, long, value_name = "PLATFORM")]
    pub platform: Option<String>,

    /// How big the window is
    #[command(flatten)]
    pub view: ViewArgs,

    /// Browsers
    #[arg(
        short,
        long = "browser",
        value_name = "BROWSER",
        value_delimiter = ',',
        default_value = "chromium",
        help_heading = "Browsers"
    )]
    pub browsers: Vec<EngineArg>,

    /// The program that drives the browser
    #[arg(long, value_name = "PROGRAM", help_heading = "Browsers")]
    pub driver: Option<PathBuf>,

    /// The browser itself
    #[arg(long, value_name = "PROGRAM", help_heading = "Browsers")]
    pub binary: Option<PathBuf>,

    /// The address of a driver that runs already
    #[arg(long, value_name = "URL", conflicts_with_all = ["driver", "binary"], help_heading = "Browsers")]
    pub endpoint: Option<String>,

    /// How long any answer of the browser may take, in s
    #[arg(
        long,
        value_name = "SECONDS",
        default_value_t = 60,
        help_heading = "Browsers"
    )]
    pub timeout: u64,

    /// The share of blocks, in %, whose number of lines may differ
    #[arg(
        long,
        value_name = "PERCENT",
        default_value_t = 0.2,
        help_heading = "Tolerances"
    )]
    pub lines_off: f64,

    /// How far heights of boxes with the same lines may differ, in px (0.02 in Chromium,
    /// 0.6 in Firefox, 1 in WebKit by default)
    #[arg(long, value_name = "PX", help_heading = "Tolerances")]
    pub height_off: Option<f64>,

    /// How far scores may differ, where that is more than 10 %
    #[arg(
        long,
        value_name = "SCORE",
        default_value_t = 0.002,
        help_heading = "Tolerances"
    )]
    pub score_off: f64,

    /// Fail on heights, widths and places of boxes that differ, too; without, they are listed
    #[arg(long, help_heading = "Tolerances")]
    pub strict: bool,

    /// Let pages run no scripts, as the prediction runs none
    #[arg(long)]
    pub no_scripts: bool,

    /// Save pictures of the page before and after into this folder
    #[arg(long, value_name = "FOLDER")]
    pub screenshots: Option<PathBuf>,

    /// Overwrite pictures even if tidy-lattice did not write them
    #[arg(long, requires = "screenshots")]
    pub force: bool,

    /// List everything that differs, not only the first
    #[arg(long)]
    pub all: bool,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

//! Arguments of the commands that look at fonts and platforms.

use std::path::PathBuf;

use clap::{Args as ClapArgs, ValueEnum};

use super::shared::{DrawingArgs, LimitArgs};

const DESCRIBE_EXAMPLES: &str = "\
Examples:
  tidy-lattice describe Brand.woff2
  tidy-lattice describe Brand.woff2 --language uk,vi,hi
  tidy-lattice describe fonts/ 'Noto Sans'
  tidy-lattice describe site/fonts.css --language pl,vi
  tidy-lattice describe Brand.ttf@wght=650 --all
  tidy-lattice describe Brand.woff2 --picture specimen.png

Exit status 1 where a font cannot write a language that you asked for, or is
damaged.";

/// Arguments of `describe`.
#[derive(Debug, ClapArgs)]
#[command(after_help = DESCRIBE_EXAMPLES)]
pub struct DescribeArgs {
    /// Font files, folders of them, style sheets that declare them, or names of installed
    /// families
    ///
    /// FILE, FILE#2 for a font of a collection (counted from 0), FILE@Bold or
    /// FILE@wght=650 for a position of a variable font.
    #[arg(value_name = "FONT", required = true)]
    pub fonts: Vec<PathBuf>,

    /// Judge these languages only (BCP 47 tags, separated by commas)
    #[arg(short, long = "language", value_name = "TAG", value_delimiter = ',')]
    pub languages: Vec<String>,

    /// Tell everything: all characters, features, languages, tables
    #[arg(long)]
    pub all: bool,

    /// How deep to look: summary reads tables, full shapes text too
    ///
    /// By default full for one face and summary for several.
    #[arg(long, value_name = "LEVEL")]
    pub detail: Option<Detail>,

    /// The language whose sample stands for running text
    #[arg(long, value_name = "TAG", default_value = "en")]
    pub text_language: String,

    /// A picture
    #[command(flatten)]
    pub drawing: DrawingArgs,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

/// How deep `describe` looks.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Detail {
    /// What tables state
    Summary,
    /// Outlines measured and text shaped too
    Full,
}

const COMPARE_EXAMPLES: &str = "\
Examples:
  tidy-lattice compare Brand.woff2 Arial.ttf cards/Georgia.card.json
  tidy-lattice compare Brand.woff2 windows:Arial android:Roboto
  tidy-lattice compare Brand.ttf@wght=400 Brand.ttf@wght=700 --text-file en.txt
  tidy-lattice compare Brand.woff2 Arial.ttf --picture both.png

Widths are told against the first face.";

/// Arguments of `compare`.
#[derive(Debug, ClapArgs)]
#[command(after_help = COMPARE_EXAMPLES)]
pub struct CompareArgs {
    /// Font files, cards, or faces of a platform (PLATFORM:FACE)
    ///
    /// FILE, FILE#2 for a font of a collection (counted from 0), FILE@Bold or
    /// FILE@wght=650 for a position of a variable font.
    #[arg(value_name = "FACE", required = true)]
    pub faces: Vec<PathBuf>,

    /// Measure widths on this text; may be repeated
    #[arg(short, long = "text", value_name = "TEXT")]
    pub texts: Vec<String>,

    /// Measure widths on this text file; may be repeated
    #[arg(short = 'f', long = "text-file", value_name = "TEXT_FILE")]
    pub text_files: Vec<PathBuf>,

    /// Without text: measure on the most frequent words of this language
    #[arg(long, value_name = "TAG", default_value = "en")]
    pub text_language: String,

    /// Compare these languages only (BCP 47 tags, separated by commas)
    #[arg(short, long = "language", value_name = "TAG", value_delimiter = ',')]
    pub languages: Vec<String>,

    /// Tell every language and feature that differs
    #[arg(long)]
    pub all: bool,

    /// A picture
    #[command(flatten)]
    pub drawing: DrawingArgs,

    /// The word that the picture shows
    #[arg(long, value_name = "WORD", requires = "picture")]
    pub word: Option<String>,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

const PLATFORMS_EXAMPLES: &str = "\
Examples:
  tidy-lattice platforms
  tidy-lattice platforms windows --faces
  tidy-lattice platforms macos --version-of-system 12
  tidy-lattice platforms kiosk.toml
  tidy-lattice platforms --common windows macos ios
  tidy-lattice platforms windows --merge cards/
  tidy-lattice platforms --export my-catalogue

A platform of your own is a TOML file:
  title = \"Ticket kiosk\"
  fonts = [\"fonts/\", \"cards/Arial.card.json\"]
  [generic]
  sans-serif = \"Arial\"

One that adds your own cards to a built-in platform:
  extends = \"windows\"
  fonts = [\"cards/\"]";

/// Arguments of `platforms`.
#[derive(Debug, ClapArgs)]
#[command(after_help = PLATFORMS_EXAMPLES)]
pub struct PlatformsArgs {
    /// Platforms to show, by name or as a TOML file; all by default
    #[arg(value_name = "PLATFORM")]
    pub names: Vec<String>,

    /// List every face with the names that local() matches
    #[arg(long)]
    pub faces: bool,

    /// The families that several of them have, those of most first
    #[arg(long, conflicts_with_all = ["faces", "version"])]
    pub common: bool,

    /// Only families that this version of the system ships
    #[arg(long = "version-of-system", value_name = "VERSION", requires = "names")]
    pub version: Option<String>,

    /// Put cards of your own in their places first: cards, or folders of them; may be repeated
    ///
    /// In a project, `cards = ["cards/"]` does so for all commands.
    #[arg(long, value_name = "CARDS")]
    pub merge: Vec<PathBuf>,

    /// Use the platforms in this folder instead of the built-in ones
    #[arg(long, value_name = "FOLDER")]
    pub catalogue: Option<PathBuf>,

    /// Write the built-in platforms and cards into this folder
    #[arg(long, value_name = "FOLDER", conflicts_with_all = ["names", "catalogue", "merge"])]
    pub export: Option<PathBuf>,

    /// Overwrite files even if tidy-lattice did not write them
    #[arg(long, requires = "export")]
    pub force: bool,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

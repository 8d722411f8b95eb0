//! Arguments of `record`.

use std::path::PathBuf;

use clap::Args as ClapArgs;

use super::shared::LimitArgs;

const RECORD_EXAMPLES: &str = "\
Examples:
  tidy-lattice record Arial.ttf > arial.card.json
  tidy-lattice record 'Segoe UI' Georgia -o cards/
  tidy-lattice record --installed -o cards/
  tidy-lattice build --web Brand.woff2 --local cards/Georgia.card.json

On a device without this program:
  tidy-lattice record --page measure.html --language en,pl,el
  tidy-lattice record windows-chromium.cards.json -o cards/
  tidy-lattice record windows-chromium.cards.json --platform office.toml
  tidy-lattice record --serve 192.168.0.12:8090 -o cards/

A card holds names, metrics, characters, advances and kerning of a face, and no
outlines: commit it, share it, and name it wherever a font file goes.
`tidy-lattice schema card` describes the format.";

/// Arguments of `record`.
#[derive(Debug, ClapArgs)]
#[command(after_help = RECORD_EXAMPLES)]
pub struct RecordArgs {
    /// Font files, folders of them, names of installed families, or what a measuring page
    /// saved (.cards.json)
    ///
    /// FILE, FILE#2 for a font of a collection (counted from 0), FILE@Bold or
    /// FILE@wght=650 for a position of a variable font.
    #[arg(value_name = "FONT", required_unless_present_any = ["installed", "page", "serve"])]
    pub fonts: Vec<PathBuf>,

    /// Record every installed face
    #[arg(long, conflicts_with = "fonts")]
    pub installed: bool,

    /// Record the named positions of variable fonts too
    #[arg(long)]
    pub positions: bool,

    /// Write to this file, or one file a face into this folder
    #[arg(short, long, value_name = "PATH")]
    pub output: Option<PathBuf>,

    /// The package that the fonts came in, as the cards state it
    #[arg(long, value_name = "NAME")]
    pub package: Option<String>,

    /// The version of that package
    #[arg(long, value_name = "VERSION", requires = "package")]
    pub package_version: Option<String>,

    /// Write a page that measures the fonts of any device in its browser
    #[arg(
        long,
        value_name = "FILE",
        conflicts_with_all = ["fonts", "installed", "serve", "output", "platform"],
        help_heading = "In a browser"
    )]
    pub page: Option<PathBuf>,

    /// Show that page at this address, take one result, and end; 127.0.0.1 and any free port
    /// by default
    #[arg(
        long,
        value_name = "ADDRESS:PORT",
        num_args = 0..=1,
        default_missing_value = "127.0.0.1:0",
        conflicts_with_all = ["fonts", "installed"],
        help_heading = "In a browser"
    )]
    pub serve: Option<std::net::SocketAddr>,

    /// Languages whose letters the page measures in pairs and words (BCP 47 tags, separated
    /// by commas); all that can be by default
    #[arg(
        short,
        long = "language",
        value_name = "TAG",
        value_delimiter = ',',
        help_heading = "In a browser"
    )]
    pub languages: Vec<String>,

    /// A family for the page to look for besides those of the platforms; may be repeated
    #[arg(long = "family", value_name = "NAME", help_heading = "In a browser")]
    pub families: Vec<String>,

    /// Write the measured families as a platform, with their cards beside it
    #[arg(
        long,
        value_name = "FILE.toml",
        conflicts_with_all = ["output", "installed"],
        help_heading = "In a browser"
    )]
    pub platform: Option<PathBuf>,

    /// Overwrite files even if tidy-lattice did not write them
    #[arg(long)]
    pub force: bool,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

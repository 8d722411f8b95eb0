//! Arguments that several commands take.

use std::path::PathBuf;

use clap::Args as ClapArgs;

/// Which fonts there are, in what order.
#[derive(Debug, Default, ClapArgs)]
pub struct StackArgs {
    /// A font of the stack; repeat it in stack order
    ///
    /// FILE, FILE#2 for a font of a collection (counted from 0), FILE@Bold or
    /// FILE@wght=650 for a position of a variable font, PLATFORM:FACE, a card.
    #[arg(short, long = "font", value_name = "FONT", help_heading = "Stack")]
    pub fonts: Vec<PathBuf>,

    /// The stack, as font-family takes it
    #[arg(
        long,
        value_name = "FAMILIES",
        allow_hyphen_values = true,
        conflicts_with = "fonts",
        help_heading = "Stack"
    )]
    pub stack: Option<String>,

    /// A style sheet with @font-face rules; may be repeated
    #[arg(long = "css", value_name = "FILE", help_heading = "Stack")]
    pub sheets: Vec<PathBuf>,

    /// The stack and style of a role of the project file
    #[arg(long, value_name = "NAME", conflicts_with_all = ["fonts", "stack"], help_heading = "Stack")]
    pub role: Option<String>,

    /// Platforms, by name or as a TOML file; `here` is this device
    #[arg(
        short,
        long = "platform",
        value_name = "PLATFORM",
        value_delimiter = ',',
        help_heading = "Stack"
    )]
    pub platforms: Vec<String>,

    /// The project file (tidy-lattice.toml here or above by default)
    #[arg(long, value_name = "FILE", help_heading = "Stack")]
    pub project: Option<PathBuf>,

    /// Where the files of pages and sheets are
    #[command(flatten)]
    pub site: SiteArgs,
}

/// Where the files of pages and sheets are.
#[derive(Debug, Clone, Default, ClapArgs)]
pub struct SiteArgs {
    /// The folder that URLs starting with / mean (found by what pages name by default)
    #[arg(long, value_name = "FOLDER", help_heading = "Site")]
    pub root: Option<PathBuf>,

    /// Read a file or folder in place of what lies on the network; may be repeated
    #[arg(long = "map", value_name = "URL_PREFIX=PATH", help_heading = "Site")]
    pub maps: Vec<String>,

    /// What stands for the style sheet of `build`, where that was made already
    #[arg(skip)]
    pub made: Option<String>,
}

/// Where text comes from.
#[derive(Debug, Default, ClapArgs)]
pub struct TextArgs {
    /// Text files, pages, message catalogues, folders; `-` is standard input
    #[arg(value_name = "TEXT_FILE")]
    pub files: Vec<PathBuf>,

    /// Text as it is; may be repeated
    #[arg(short, long = "text", value_name = "TEXT", allow_hyphen_values = true)]
    pub texts: Vec<String>,
}

/// Bounds on inputs.
#[derive(Debug, ClapArgs)]
pub struct LimitArgs {
    /// The largest size of a font once unpacked, in MiB (WOFF2: at most 128)
    #[arg(
        long,
        value_name = "MIB",
        default_value_t = 64,
        help_heading = "Limits"
    )]
    pub font_limit: u32,
}

/// A picture of the result.
#[derive(Debug, ClapArgs)]
pub struct DrawingArgs {
    /// Draw a picture into this file (.svg or .png)
    #[arg(long, value_name = "FILE")]
    pub picture: Option<PathBuf>,

    /// Overwrite the picture even if tidy-lattice did not write it
    #[arg(long, requires = "picture")]
    pub force: bool,
}

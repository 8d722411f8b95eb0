//! The command line.

use std::path::PathBuf;

use clap::{Args as ClapArgs, CommandFactory as _, Parser, Subcommand, ValueEnum};

/// Groups of commands in `--help`, in the order in which people work.
const GROUPS: [(&str, &[&str]); 4] = [
    ("Look", &["describe", "compare", "platforms", "record"]),
    ("Check", &["cover", "trace"]),
    ("Build", &["build"]),
    ("Project", &["demo", "schema", "completions", "man"]),
];

const STATUS: &str = "\
Exit status:
  0  nothing to report
  1  there are findings (gaps, lines that differ)
  2  wrong usage
  3  an input could not be read
  4  an output could not be written";

const TEMPLATE: &str = "{about-with-newline}\n{usage-heading} {usage}\n{before-help}Options:\n{options}\n{after-help}\n";

/// Will every character show, and will anything jump?
///
/// Checks which font of a stack shows each piece of your text, and builds
/// stacks whose local fallbacks are measured so that nothing moves when the
/// web font arrives.
#[derive(Debug, Parser)]
#[command(name = "tidy-lattice", version, arg_required_else_help = true)]
#[command(help_template = TEMPLATE, before_help = groups(), after_help = STATUS)]
#[command(disable_help_subcommand = true)]
pub struct Args {
    /// When to use colour: auto, always or never
    #[arg(
        long,
        global = true,
        value_name = "WHEN",
        default_value = "auto",
        hide_possible_values = true,
        hide_default_value = true,
        help_heading = "General"
    )]
    pub colour: Colour,

    /// Print the result as JSON (see `schema`)
    #[arg(long, global = true, help_heading = "General")]
    pub json: bool,

    /// What to do
    #[command(subcommand)]
    pub command: Command,
}

/// When to use colour.
#[derive(Debug, Clone, Copy, ValueEnum)]
pub enum Colour {
    /// On a terminal that wants it
    Auto,
    /// Always
    Always,
    /// Never
    Never,
}

impl Colour {
    /// Makes the choice for the whole program.
    pub fn apply(self) {
        match self {
            Colour::Auto => anstream::ColorChoice::Auto,
            Colour::Always => anstream::ColorChoice::AlwaysAnsi,
            Colour::Never => anstream::ColorChoice::Never,
        }
        .write_global();
    }
}

/// The commands.
#[derive(Debug, Subcommand)]
pub enum Command {
    /// What a font file holds: languages, features, line, rights, bytes
    Describe(DescribeArgs),
    /// Two or more faces side by side
    Compare(CompareArgs),
    /// What each platform has installed, and how well it is known
    Platforms(PlatformsArgs),
    /// Make cards: measurements of faces, for where they are not installed
    Record(RecordArgs),
    /// What the text needs against what the stack covers, and the gaps
    Cover(CoverArgs),
    /// Which font shows each piece of a text, platform by platform, and why
    Trace(TraceArgs),
    /// A stack with stand-ins that keep every line where it is, as CSS
    Build(BuildArgs),
    /// Run a full example on made-up fonts and texts
    Demo(DemoArgs),
    /// The JSON schema of a command's --json output
    Schema(SchemaArgs),
    /// Completions for a shell
    Completions(CompletionsArgs),
    /// The manual page, of the program or of one command
    Man(ManArgs),
}

const DESCRIBE_EXAMPLES: &str = "\
Examples:
  tidy-lattice describe Brand.woff2
  tidy-lattice describe Brand.woff2 --language uk,vi,hi
  tidy-lattice describe fonts/ 'Noto Sans'
  tidy-lattice describe Brand.ttf@wght=650 --all
  tidy-lattice describe Brand.woff2 --picture specimen.png

Exit status 1 where a font cannot write a language that you asked for, or is
damaged.";

/// Arguments of `describe`.
#[derive(Debug, ClapArgs)]
#[command(after_help = DESCRIBE_EXAMPLES)]
pub struct DescribeArgs {
    /// Font files, folders of them, or names of installed families
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

    /// Without text: measure on the built-in sample of this language
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

const PLATFORMS_EXAMPLES: &str = "\
Examples:
  tidy-lattice platforms
  tidy-lattice platforms windows --faces
  tidy-lattice platforms macos --version-of-system 12
  tidy-lattice platforms kiosk.toml
  tidy-lattice platforms --export my-catalogue

A platform of your own is a TOML file:
  title = \"Ticket kiosk\"
  fonts = [\"fonts/\", \"cards/Arial.card.json\"]
  [generic]
  sans-serif = \"Arial\"";

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

    /// Only families that this version of the system ships
    #[arg(long = "version-of-system", value_name = "VERSION", requires = "names")]
    pub version: Option<String>,

    /// Use the platforms in this folder instead of the built-in ones
    #[arg(long, value_name = "FOLDER")]
    pub catalogue: Option<PathBuf>,

    /// Write the built-in platforms and cards into this folder
    #[arg(long, value_name = "FOLDER", conflicts_with_all = ["names", "catalogue"])]
    pub export: Option<PathBuf>,

    /// Overwrite files even if tidy-lattice did not write them
    #[arg(long, requires = "export")]
    pub force: bool,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

const RECORD_EXAMPLES: &str = "\
Examples:
  tidy-lattice record Arial.ttf > arial.card.json
  tidy-lattice record 'Segoe UI' Georgia -o cards/
  tidy-lattice record --installed -o cards/
  tidy-lattice build --web Brand.woff2 --local cards/Georgia.card.json

A card holds names, metrics, characters, advances and kerning of a face, and no
outlines: commit it, share it, and name it wherever a font file goes.
`tidy-lattice schema card` describes the format.";

/// Arguments of `record`.
#[derive(Debug, ClapArgs)]
#[command(after_help = RECORD_EXAMPLES)]
pub struct RecordArgs {
    /// Font files, folders of them, or names of installed families
    ///
    /// FILE, FILE#2 for a font of a collection (counted from 0), FILE@Bold or
    /// FILE@wght=650 for a position of a variable font.
    #[arg(value_name = "FONT", required_unless_present = "installed")]
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

    /// Overwrite files even if tidy-lattice did not write them
    #[arg(long)]
    pub force: bool,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

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

/// Where text comes from.
#[derive(Debug, Default, ClapArgs)]
pub struct TextArgs {
    /// Text files, pages, message catalogues, folders; `-` is standard input
    #[arg(value_name = "TEXT_FILE")]
    pub files: Vec<PathBuf>,

    /// Text as it is; may be repeated
    #[arg(short, long = "text", value_name = "TEXT")]
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
            all: false,
            limits: LimitArgs { font_limit: 64 },
        }
    }
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

/// Arguments of `demo`.
#[derive(Debug, ClapArgs)]
pub struct DemoArgs {
    /// Where to write the demo project; a temporary folder by default
    #[arg(value_name = "FOLDER")]
    pub folder: Option<PathBuf>,

    /// Overwrite files of the folder that differ
    #[arg(long)]
    pub force: bool,
}

/// Arguments of `schema`.
#[derive(Debug, ClapArgs)]
pub struct SchemaArgs {
    /// The command whose output to describe
    #[arg(value_name = "COMMAND")]
    pub of: SchemaOf,
}

/// Commands with a schema.
#[derive(Debug, Clone, Copy, ValueEnum)]
pub enum SchemaOf {
    /// `describe --json`
    Describe,
    /// `compare --json`
    Compare,
    /// `platforms --json`
    Platforms,
    /// `record --json`
    Record,
    /// A card, as `record` writes it
    Card,
    /// `cover --json`
    Cover,
    /// `trace --json`
    Trace,
    /// The project file, tidy-lattice.toml
    Project,
    /// `build --json`
    Build,
    /// `demo --json`
    Demo,
}

/// Arguments of `completions`.
#[derive(Debug, ClapArgs)]
pub struct CompletionsArgs {
    /// The shell
    pub shell: clap_complete::Shell,
}

/// Arguments of `man`.
#[derive(Debug, ClapArgs)]
pub struct ManArgs {
    /// A command; the program itself by default
    pub page: Option<String>,
}

/// The commands by group, for `--help`.
fn groups() -> String {
    use std::fmt::Write as _;
    // Asking the derived command for its help here would never end.
    let command = Command::augment_subcommands(clap::Command::new(""));
    let mut text = String::new();
    for (group, names) in GROUPS {
        let _ = writeln!(text, "\n{group}:");
        for name in names {
            let about = command.find_subcommand(name).and_then(|c| c.get_about());
            let _ = writeln!(
                text,
                "  {name:<12} {}",
                about.map(ToString::to_string).unwrap_or_default()
            );
        }
    }
    text
}

/// The whole command line, for completions and manual pages.
pub fn command() -> clap::Command {
    Args::command()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_command_line_is_consistent() {
        command().debug_assert();
    }

    #[test]
    fn every_command_stands_in_one_group() {
        let mut grouped: Vec<&str> = GROUPS
            .iter()
            .flat_map(|(_, names)| names.iter().copied())
            .collect();
        let mut known: Vec<String> = command()
            .get_subcommands()
            .map(|c| c.get_name().to_owned())
            .collect();
        grouped.sort_unstable();
        known.sort_unstable();
        assert_eq!(grouped, known);
    }
}

//! Inputs that mean harm. They come from packages and from pull requests of strangers; whatever
//! they hold, each ends in an answer or in an error, soon, and within bounded memory.
//!
//! [`Target::strike`] does with bytes what the commands do with such a file, through the
//! same libraries, in a project that lies in memory. The campaign (`campaign`) mutates
//! files of folders and strikes with each; the fuzz targets in `fuzz/` strike with what
//! libFuzzer makes up.

mod laps;
mod mutate;
mod strike;

pub use laps::Laps;
pub use mutate::mutated;
pub use tidy_lattice_core::text::Dice;

/// What an attack is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Target {
    /// A font: described, covered, recorded, built and laid out with, cut.
    Font,
    /// A style sheet: of a page, and by itself.
    Sheet,
    /// A page: covered, laid out, checked.
    Page,
    /// A message catalogue or another text.
    Message,
    /// A card: of a font of a stack, and of a fallback.
    Card,
    /// What a measuring page saved.
    Measured,
    /// A platform file.
    Platform,
    /// A project file.
    Project,
}

impl Target {
    /// All of them.
    pub const ALL: [Self; 8] = [
        Target::Font,
        Target::Sheet,
        Target::Page,
        Target::Message,
        Target::Card,
        Target::Measured,
        Target::Platform,
        Target::Project,
    ];

    /// What a file of this name is good for; `None` where nothing reads it.
    pub fn of(name: &str) -> Option<Self> {
        let name = name.to_ascii_lowercase();
        let ends = |endings: &[&str]| endings.iter().any(|ending| name.ends_with(ending));
        Some(if ends(&[".ttf", ".otf", ".ttc", ".woff", ".woff2"]) {
            Target::Font
        } else if ends(&[".css"]) {
            Target::Sheet
        } else if ends(&[".html", ".htm", ".xhtml"]) {
            Target::Page
        } else if ends(&[".card.json"]) {
            Target::Card
        } else if ends(&[".cards.json"]) {
            Target::Measured
        } else if ends(&["tidy-lattice.toml"]) {
            Target::Project
        } else if ends(&[".toml"]) {
            Target::Platform
        } else if ends(&[
            ".json",
            ".po",
            ".pot",
            ".xlf",
            ".xliff",
            ".yml",
            ".yaml",
            ".properties",
            ".strings",
            ".arb",
            ".resx",
            ".xml",
            ".csv",
            ".tsv",
            ".md",
            ".txt",
        ]) {
            Target::Message
        } else {
            return None;
        })
    }

    /// Does with `bytes`, a file called `name`, what the commands do. `thorough` also
    /// builds stacks, which takes longest. Whether they were taken for what they are
    /// meant to be, and the command that took longest.
    pub fn strike(self, name: &str, bytes: &[u8], thorough: bool) -> (bool, Laps) {
        let mut laps = Laps::default();
        let taken = self.strike_timed(name, bytes, thorough, &mut laps);
        (taken, laps)
    }

    fn strike_timed(self, name: &str, bytes: &[u8], thorough: bool, laps: &mut Laps) -> bool {
        match self {
            Target::Font => strike::font(bytes, thorough, laps),
            Target::Sheet => strike::sheet(bytes, thorough, laps),
            Target::Page => strike::page(bytes, laps),
            Target::Message => strike::message(name, bytes, laps),
            Target::Card => strike::card(bytes, thorough, laps),
            Target::Measured => strike::measured(bytes, laps),
            Target::Platform => strike::platform(bytes, laps),
            Target::Project => strike::project(name, bytes, laps),
        }
    }
}

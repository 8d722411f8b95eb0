//! Arguments of the commands around a project.

use std::path::PathBuf;

use clap::{Args as ClapArgs, ValueEnum};

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
    /// `rank --json`
    Rank,
    /// `build --json`
    Build,
    /// `build --as app`
    App,
    /// `shift --json`
    Shift,
    /// `prove --json`
    Prove,
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

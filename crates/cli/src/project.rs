//! The project file, `tidy-lattice.toml`: what flags say, for a whole site or app.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use serde::Deserialize;

use crate::error::CliError;
use crate::input::read_bounded;

/// The name of project files.
pub const NAME: &str = "tidy-lattice.toml";

/// Project files beyond this size are refused, in bytes.
const LARGEST: u64 = 4 * 1024 * 1024;

/// A project.
#[derive(Debug, Clone, Default, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Project {
    /// The folder that paths are relative to: that of the file.
    #[serde(skip)]
    pub folder: PathBuf,
    /// The name for people.
    #[serde(default)]
    pub title: String,
    /// The folder that URLs starting with `/` mean, from that of the file.
    #[serde(default)]
    pub root: Option<PathBuf>,
    /// Platforms, by name or as TOML files; all built-in ones by default.
    #[serde(default)]
    pub platforms: Vec<String>,
    /// Style sheets with the `@font-face` rules that hold for all texts.
    #[serde(default)]
    pub sheets: Vec<PathBuf>,
    /// Font files that may fill gaps; told as remedies.
    #[serde(default)]
    pub known_fonts: Vec<PathBuf>,
    /// Texts.
    #[serde(default)]
    pub content: Vec<Content>,
    /// How texts that are no pages are set, by name.
    #[serde(default)]
    pub role: BTreeMap<String, Role>,
    /// What `cover` lets pass.
    #[serde(default)]
    pub cover: CoverRules,
}

/// Texts of a project.
#[derive(Debug, Clone, Default, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Content {
    /// Paths and patterns (`messages/**/*.json`), from the project's folder.
    pub files: Vec<String>,
    /// Patterns of files that are left out.
    #[serde(default)]
    pub except: Vec<String>,
    /// The role that these texts are set in; pages have styles of their own.
    pub role: Option<String>,
    /// Their language, where files and paths do not tell.
    pub language: Option<String>,
    /// Languages that are needed, whatever the texts hold now.
    #[serde(default)]
    pub languages: Vec<String>,
}

/// How texts are set.
#[derive(Debug, Clone, Default, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Role {
    /// The families, as `font-family` takes them.
    pub stack: String,
    /// The weight, 1 to 1000.
    #[serde(default)]
    pub weight: Option<f32>,
    /// `normal`, `italic` or `oblique`.
    #[serde(default)]
    pub style: Option<String>,
    /// The size in px.
    #[serde(default)]
    pub size: Option<f32>,
    /// OpenType features that are turned on.
    #[serde(default)]
    pub features: Vec<String>,
    /// Languages that the role must be able to write, whatever the texts hold
    /// now.
    #[serde(default)]
    pub languages: Vec<String>,
}

/// What `cover` lets pass.
#[derive(Debug, Clone, Default, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct CoverRules {
    /// Gaps that are known and accepted: characters, `U+20B4`, ranges
    /// `U+1F300-1FAFF`, or names of scripts.
    #[serde(default)]
    pub allow: Vec<String>,
    /// How many clusters, repeats included, may fall through besides.
    #[serde(default)]
    pub most_gaps: u64,
}

impl Project {
    /// The project file that `named` names, or that lies here or in a folder
    /// above; `None` where there is none.
    pub fn find(named: Option<&Path>) -> Result<Option<Self>, CliError> {
        if let Some(path) = named {
            return Self::read(path).map(Some);
        }
        let Ok(here) = std::env::current_dir() else {
            return Ok(None);
        };
        let mut around = Some(here.as_path());
        while let Some(folder) = around {
            let path = folder.join(NAME);
            if path.is_file() {
                let shown = pathdiff::diff_paths(&path, &here).unwrap_or(path);
                return Self::read(&shown).map(Some);
            }
            around = folder.parent();
        }
        Ok(None)
    }

    fn read(path: &Path) -> Result<Self, CliError> {
        let unreadable = |reason: String| CliError::Unreadable {
            path: path.to_owned(),
            reason,
        };
        let bytes = read_bounded(path, LARGEST)?;
        let text = String::from_utf8(bytes)
            .map_err(|_| unreadable("the file is not UTF-8 text".to_owned()))?;
        let mut project: Project = toml::from_str(&text).map_err(|error| {
            let line = error.span().map(|span| {
                let before = text.get(..span.start).unwrap_or_default();
                before.matches('\n').count() + 1
            });
            let message = error.message().replace('\n', " ");
            unreadable(match line {
                Some(line) => format!("line {line}: {message}"),
                None => message,
            })
        })?;
        project.folder = path.parent().map(Path::to_owned).unwrap_or_default();
        project.check().map_err(unreadable)?;
        Ok(project)
    }

    fn check(&self) -> Result<(), String> {
        for content in &self.content {
            if let Some(role) = content
                .role
                .as_ref()
                .filter(|role| !self.role.contains_key(*role))
            {
                return Err(format!(
                    "content names the role {role:?}, but there is no [role.{role}]"
                ));
            }
        }
        for (name, role) in &self.role {
            if tidy_lattice_core::style::read::families(&role.stack).is_none() {
                return Err(format!(
                    "role.{name}.stack: {:?} is no list of families as font-family takes it; \
                     quote names that hold signs",
                    role.stack
                ));
            }
            if role
                .weight
                .is_some_and(|weight| !(1.0..=1000.0).contains(&weight))
            {
                return Err(format!("role.{name}.weight: weights go from 1 to 1000"));
            }
            let styles = ["normal", "italic", "oblique"];
            if role
                .style
                .as_ref()
                .is_some_and(|style| !styles.contains(&style.as_str()))
            {
                return Err(format!(
                    "role.{name}.style: it is normal, italic or oblique"
                ));
            }
        }
        Ok(())
    }

    /// A path of the project.
    pub fn path(&self, path: impl AsRef<Path>) -> PathBuf {
        self.folder.join(path)
    }

    /// A name of a platform, where it is a file as its path.
    pub fn platform(&self, name: &str) -> String {
        if Path::new(name)
            .extension()
            .is_some_and(|ending| ending == "toml")
        {
            self.path(name).display().to_string()
        } else {
            name.to_owned()
        }
    }
}

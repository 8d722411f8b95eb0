//! Gathers what a project names, from files of this machine or from wherever a
//! [`Disk`] has them: the one room between the computation of `tidy-lattice-core`
//! and programs.
//!
//! - [`mod@file`], [`starting`]: the project file, `tidy-lattice.toml`, and one for a folder as
//!   it is found
//! - [`patterns`], [`files`], [`texts`], [`fonts`], [`faces`], [`folders`], [`installed`]: texts and fonts by
//!   the names that people give them
//! - [`web`], [`declared`], [`web_family`], [`families`]: the files of a site, the fonts that
//!   its rules load, faces and families in one file or in many
//! - [`survey`]: all texts with their roles and stacks, for a lattice
//! - [`stack`], [`platforms`]: a stack, and the devices to look at it on
//! - [`pages`], [`set_pages`], [`variants`]: pages for layout, how they set their texts, and
//!   other ways to serve them
//! - [`checking`], [`uses`], [`face_sources`]: style sheets and pages with all that they name, to be checked
//! - [`ingredients`], [`sampling`], [`building`], [`built`]: what stacks are built from, the text
//!   that they are fitted on, the stacks, and their style sheet as the rest of a project has it
//! - [`device_stacks`]: stacks of installed families, where there is no web font
//! - [`trimming`]: faces to be cut, what texts ask of them, and the style sheet of what is left
//!
//! A project covered in a few lines:
//!
//! ```
//! use tidy_lattice_project::file::Project;
//! use tidy_lattice_project::request::SurveyRequest;
//! use tidy_lattice_project::{Access, stack, survey};
//!
//! # fn main() -> Result<(), Box<dyn std::error::Error>> {
//! # let temporary = tempfile::tempdir()?;
//! # let folder = temporary.path();
//! # for (path, bytes) in tidy_lattice_demo::files() {
//! #     let file = folder.join(path);
//! #     std::fs::create_dir_all(file.parent().unwrap())?;
//! #     std::fs::write(file, bytes)?;
//! # }
//! let access = Access::of_machine();
//! let project = Project::find(Some(&folder.join("tidy-lattice.toml")), access)?;
//! let texts = survey::gather(&SurveyRequest::default(), project.as_ref(), access)?;
//! let platforms = stack::named_platforms(&[], project.as_ref(), access)?;
//! let devices: Vec<_> = platforms.iter().map(|one| one.device(access)).collect();
//! let surveyed = tidy_lattice_core::lattice::survey::survey(&texts.survey, &devices);
//! assert!(surveyed.gap_clusters > 0);
//! # Ok(())
//! # }
//! ```

mod access;
pub mod app_faces;
pub mod building;
pub mod built;
pub mod checking;
mod confines;
mod counting;
mod data_url;
pub mod declared;
pub mod device_stacks;
mod error;
pub mod face_sources;
pub mod faces;
pub mod families;
pub mod file;
pub mod files;
pub mod folders;
pub mod fonts;
pub mod in_place;
pub mod ingredients;
pub mod installed;
pub mod languages;
mod machine;
mod memory;
pub mod of_pages;
mod page_stacks;
pub mod pages;
pub mod patterns;
pub mod platforms;
pub mod put_in;
pub mod request;
pub mod sampling;
pub mod set_pages;
pub mod stack;
mod stand_in_lines;
pub mod starting;
pub mod survey;
pub mod texts;
pub mod trim_rules;
pub mod trimming;
pub mod uses;
pub mod variants;
pub mod web;
pub mod web_family;

pub use access::{Access, Disk, Kind, Quiet, Steps, Watch};
pub use error::{ProjectError, reason};
pub use machine::{Machine, read_at_most};
pub use memory::{Memory, Over};

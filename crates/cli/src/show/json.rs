//! JSON: every document names its schema and its version.

use std::fmt::Write as _;

use schemars::JsonSchema;
use schemars::generate::SchemaSettings;
use serde::Serialize;
use tidy_lattice_core::font::Card;
use tidy_lattice_core::text::is_steering;

use tidy_lattice_project::file::Project;

/// The version of a command's schema; it grows when a field changes its meaning
/// or goes away, not when one is added.
fn version(command: &str) -> u32 {
    match command {
        // Since one run builds the stacks of several roles.
        "build" | "demo" => 2,
        _ => 1,
    }
}

/// A result as it stands in a file.
#[derive(Debug, Serialize, JsonSchema)]
struct Document<T> {
    /// `tidy-lattice/<command>/<schema version>`.
    schema: String,
    /// The version of the program.
    version: &'static str,
    /// The result.
    #[serde(flatten)]
    body: T,
}

/// `body` as the JSON document of `command`.
pub fn document<T: Serialize>(command: &str, body: &T) -> String {
    let document = Document {
        schema: format!("tidy-lattice/{command}/{}", version(command)),
        version: env!("CARGO_PKG_VERSION"),
        body,
    };
    pretty(&document)
}

/// The JSON schema (2020-12) of the documents of `command`.
pub fn schema<T: JsonSchema>(command: &str) -> String {
    // What is left out when it is empty is not required.
    let settings = SchemaSettings::draft2020_12().for_serialize();
    let mut schema = settings
        .into_generator()
        .into_root_schema_for::<Document<T>>();
    let id = format!("tidy-lattice/{command}/{}", version(command));
    named(&mut schema, &id, &format!("tidy-lattice {command} --json"))
}

/// The JSON schema (2020-12) of cards.
pub fn card_schema() -> String {
    named(
        &mut schemars::schema_for!(Card),
        Card::SCHEMA,
        "A card of tidy-lattice",
    )
}

/// The JSON schema (2020-12) of project files.
pub fn project_schema() -> String {
    let id = format!("tidy-lattice/project/{}", version("project"));
    let title = "A project of tidy-lattice (tidy-lattice.toml)";
    named(&mut schemars::schema_for!(Project), &id, title)
}

/// Design tokens; the format has a place for a description of the whole.
pub fn tokens(tokens: &serde_json::Value) -> String {
    let mut whole = serde_json::Map::new();
    whole.insert(
        "$description".to_owned(),
        format!("Made by tidy-lattice {}", env!("CARGO_PKG_VERSION")).into(),
    );
    if let serde_json::Value::Object(groups) = tokens {
        whole.extend(groups.clone());
    }
    pretty(&whole)
}

fn named(schema: &mut schemars::Schema, id: &str, title: &str) -> String {
    schema.insert("$id".to_owned(), id.into());
    schema.insert("title".to_owned(), title.into());
    pretty(schema)
}

pub fn pretty<T: Serialize>(value: &T) -> String {
    // Our own structs have string keys only, so this does not fail.
    let mut text = serde_json::to_string_pretty(value).unwrap_or_default();
    text.push('\n');
    if text.contains(is_steering) {
        text = text.chars().fold(String::new(), |mut text, c| {
            if is_steering(c) {
                // They stand in strings only.
                let _ = write!(text, "\\u{:04x}", u32::from(c));
            } else {
                text.push(c);
            }
            text
        });
    }
    text
}

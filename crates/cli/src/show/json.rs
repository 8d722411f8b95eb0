//! JSON: every document names its schema and its version.

use schemars::JsonSchema;
use serde::Serialize;

/// The version of all schemas; it grows when a field changes its meaning or
/// goes away, not when one is added.
const VERSION: u32 = 1;

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
        schema: format!("tidy-lattice/{command}/{VERSION}"),
        version: env!("CARGO_PKG_VERSION"),
        body,
    };
    pretty(&document)
}

/// The JSON schema (2020-12) of the documents of `command`.
pub fn schema<T: JsonSchema>(command: &str) -> String {
    let mut schema = schemars::schema_for!(Document<T>);
    schema.insert(
        "$id".to_owned(),
        format!("tidy-lattice/{command}/{VERSION}").into(),
    );
    schema.insert(
        "title".to_owned(),
        format!("tidy-lattice {command} --json").into(),
    );
    pretty(&schema)
}

fn pretty<T: Serialize>(value: &T) -> String {
    // Our own structs have string keys only, so this does not fail.
    let mut text = serde_json::to_string_pretty(value).unwrap_or_default();
    text.push('\n');
    text
}

//! The page that measures the fonts of a device: one file that needs no network.

use maud::{DOCTYPE, PreEscaped, html};
use serde::Serialize;
use tidy_lattice_core::record::device::{MEASURE, Plan};

/// How the page looks.
const STYLE: &str = include_str!("page.css");

/// What stands on it.
const BODY: &str = include_str!("page.html");

/// What its buttons do.
const SCRIPT: &str = include_str!("page.js");

/// What its script reads.
#[derive(Serialize)]
struct Read<'a> {
    #[serde(flatten)]
    plan: &'a Plan,
    /// Where the result may be sent, below the page's own address.
    send_to: Option<&'a str>,
}

/// The page for `plan`. It may send its result to `send_to` where it is served, and else
/// reaches nothing.
pub fn page(plan: &Plan, send_to: Option<&str>) -> String {
    let read = Read { plan, send_to };
    // Our own structs have string keys only, so this does not fail. Nothing in a script
    // element may look like its end.
    let json = serde_json::to_string(&read).unwrap_or_default();
    let json = json.replace('<', "\\u003c");
    let connect = send_to.map_or("'none'", |_| "'self'");
    let policy = format!(
        "default-src 'none'; script-src 'unsafe-inline'; style-src 'unsafe-inline'; \
         font-src data:; connect-src {connect}; base-uri 'none'; form-action 'none'"
    );
    let page = html! {
        (PreEscaped("<!-- Made by tidy-lattice -->\n"))
        (DOCTYPE)
        html lang="en" {
            head {
                meta charset="utf-8";
                meta http-equiv="Content-Security-Policy" content=(policy);
                meta name="viewport" content="width=device-width, initial-scale=1";
                meta name="color-scheme" content="light dark";
                title { "Measure the fonts of this device" }
                style { (PreEscaped(STYLE)) }
            }
            body {
                (PreEscaped(BODY))
                script id="plan" type="application/json" { (PreEscaped(json)) }
                script { (PreEscaped(MEASURE)) }
                script { (PreEscaped(SCRIPT)) }
            }
        }
    };
    page.into_string()
}

//! `cover`: what the text needs against what the stack covers.

use tidy_lattice_core::font::{Body, Face};
use tidy_lattice_core::lattice;
use tidy_lattice_core::need::Need;

use crate::args::CoverArgs;
use crate::error::{CliError, Outcome};
use crate::progress::while_working;
use crate::show::{self, GapLimit};
use crate::{input, output};

/// Runs the command.
pub fn run(args: &CoverArgs, json: bool) -> Result<Outcome, CliError> {
    let sources = input::some_text(&args.text)?;
    let stack = input::faces(&args.fonts, (&args.limits).into())?;
    for face in stack.iter().filter(|face| !face.has_characters()) {
        output::note(&format!(
            "{} has no Unicode character map, so it can serve nothing",
            face.names().label()
        ));
    }
    for (face, other) in stack.iter().filter_map(measured_on_another) {
        output::note(&format!(
            "{face} was measured on {other}, so it is the characters of {other} that count here"
        ));
    }
    let coverage = while_working("Crossing text and fonts", || {
        lattice::cover(&Need::gather(&sources), &stack)
    });
    output::print(&if json {
        show::json::document("cover", &coverage)
    } else {
        show::cover::view(
            &coverage,
            if args.all {
                GapLimit::All
            } else {
                GapLimit::Most(20)
            },
        )
    })?;
    Ok(Outcome::of(!coverage.gaps.is_empty()))
}

/// A face whose card was made from another one of the same widths, and that one.
fn measured_on_another(face: &Face) -> Option<(String, String)> {
    match face.body() {
        Body::Card(card) => {
            let other = card.card().measured_on.clone()?;
            Some((face.names().label(), other))
        }
        Body::Font(_) => None,
    }
}

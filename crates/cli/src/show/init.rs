//! `init` for people.

use std::fmt::Write as _;
use std::path::Path;

use super::text::{GOOD, TITLE, safe, styled};
use crate::results::Started;

/// What was written, what was taken for what, what to run next.
pub fn view(started: &Started, folder: &Path) -> String {
    let file = started.file.as_deref().unwrap_or_default();
    let mut view = format!(
        "{}\n\n",
        styled(GOOD, &format!("{} is written.", safe(file)))
    );
    let _ = writeln!(view, "{}", styled(TITLE, "Taken"));
    for line in &started.start.took {
        let _ = writeln!(view, "  {}", safe(line));
    }
    let _ = writeln!(view, "\n{}", styled(TITLE, "Next"));
    if folder != Path::new(".") {
        let _ = writeln!(view, "  cd {}", safe(&folder.display().to_string()));
    }
    for command in &started.next {
        let _ = writeln!(view, "  {command}");
    }
    view
}

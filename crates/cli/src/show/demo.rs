//! `demo` for people: a story in three parts.

use std::fmt::Write as _;

use super::text::{FAINT, TITLE, styled};
use super::{GapLimit, build, cover};
use crate::commands::Demo;

/// Command lines that do by hand what the demo does.
pub struct Commands {
    /// Enter the folder.
    pub enter: String,
    /// The first question.
    pub cover: String,
    /// The second question.
    pub build: String,
}

/// What was done, what came out, what to try next.
pub fn view(demo: &Demo, commands: &Commands) -> String {
    let mut view = format!(
        "Tern & Skerry Lines is a made-up ferry company: notices in eight languages, a brand font\n\
         for Western Latin, a text font for more, a sign font. Project written to {}\n",
        demo.folder
    );
    let mut part = |title: &str, command: &str, result: &str| {
        let _ = write!(
            view,
            "\n{}\n{}\n\n{result}",
            styled(TITLE, title),
            styled(FAINT, &format!("$ {command}"))
        );
    };
    part(
        "1. Will every character show?",
        &commands.cover,
        &cover::view(&demo.cover, GapLimit::Most(4)),
    );
    part(
        "2. Will anything jump?",
        &commands.build,
        &build::view(&demo.build),
    );
    let _ = write!(
        view,
        "\n{}\n  {}\n  less stack.css\n  \
         tidy-lattice describe installed/Driftplain-Regular.ttf --language ar\n  \
         tidy-lattice compare fonts/SkerrymarkSans-Regular.ttf windows:Arial --picture both.png\n  \
         tidy-lattice cover --font fonts/SkerrymarkText-Regular.ttf texts/vi.txt\n  \
         tidy-lattice cover --font YOUR-FONT.woff2 YOUR-TEXT.txt\n",
        styled(TITLE, "Try next"),
        commands.enter,
    );
    view
}

//! `demo` for people: a story in eight parts.

use std::fmt::Write as _;

use super::text::{FAINT, TITLE, styled};
use super::{build, check, forecast, shift, survey, trace, trim};
use crate::results::Demo;

/// Command lines that do by hand what the demo does.
pub struct Commands {
    /// Enter the folder.
    pub enter: String,
    /// The first question.
    pub cover: String,
    /// The same for one text.
    pub trace: String,
    /// The second question.
    pub build: String,
    /// The same for the pages as they are now.
    pub shift: String,
    /// What is wrong in old pages.
    pub check: String,
    /// Smaller font files.
    pub trim: String,
    /// What pages fetch.
    pub forecast: String,
    /// What is wrong in the shop.
    pub shop: String,
}

/// What was done, what came out, what to try next.
pub fn view(demo: &Demo, commands: &Commands) -> String {
    let mut view = format!(
        "Tern & Skerry Lines is a made-up ferry company: pages, a ticket app and notices in eight\n\
         languages, a brand font for Western Latin, a text font for more, a sign font; a shop\n\
         with fonts in slices; and five made-up devices. Project written to {}\n",
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
        &survey::brief(&demo.cover),
    );
    part(
        "2. Which font shows it?",
        &commands.trace,
        &trace::view(&demo.trace),
    );
    part(
        "3. Will anything jump?",
        &commands.build,
        &build::view(&demo.build, false),
    );
    part(
        "4. What moves on the pages now?",
        &commands.shift,
        &shift::brief(&demo.shift),
    );
    part(
        "5. What is wrong in the old pages?",
        &commands.check,
        &check::brief(&demo.check),
    );
    part(
        "6. How small can the fonts be?",
        &commands.trim,
        &trim::brief(&demo.trim),
    );
    part(
        "7. What do the pages fetch now?",
        &commands.forecast,
        &forecast::brief(&demo.forecast),
    );
    part(
        "8. And the shop, made with a framework, its fonts in slices?",
        &commands.shop,
        &check::brief(&demo.shop),
    );
    let _ = write!(
        view,
        "\n{}\n  {}\n  tidy-lattice cover\n  tidy-lattice trace 'Łeba → Ψαρά' --role ticket\n  \
         less site/stacks.css\n  \
         tidy-lattice trim -o small\n  \
         tidy-lattice check archive --diff\n  \
         tidy-lattice explain face-hidden\n  \
         tidy-lattice shift site/index.html --variants --picture shift.png\n  \
         tidy-lattice prove --platform platforms/quaykiosk.toml --browser chromium,firefox\n  \
         tidy-lattice rank fonts/SkerrymarkSans-Regular.ttf --platform platforms/tidetab.toml\n  \
         tidy-lattice describe installed/Driftplain-Regular.ttf --language ar\n  \
         tidy-lattice compare fonts/SkerrymarkSans-Regular.ttf windows:Arial --picture both.png\n  \
         tidy-lattice describe shop/public/assets/mooringlight/mooringlight.css\n  \
         tidy-lattice cover --font fonts/SkerrymarkText-Regular.ttf texts/vi.txt\n  \
         tidy-lattice cover --font YOUR-FONT.woff2 YOUR-TEXT.txt\n",
        styled(TITLE, "Try next"),
        commands.enter,
    );
    view
}

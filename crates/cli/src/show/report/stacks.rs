//! Each role's stack as people see it.

use maud::{Markup, html};
use tidy_lattice_core::stack::of_devices::DeviceStack;
use tidy_lattice_core::stack::{Built, Note};
use tidy_lattice_core::style::quoted;

use super::parts::scrolled;
use crate::results::{Drawn, Report};

/// What is set where the reader has not written a text: letters that cut fonts have, too.
const SAMPLE: &str = "Quay 7, 18:45: the ferry to the outer islands waits for nobody.";

/// What is set as a paragraph, to see where its lines end.
const PARAGRAPH: &str = "Quay 7, 18:45: the ferry to the outer islands waits for nobody. Bicycles travel \
    free; ask the crew for a strap. In fog the boat leaves when the pilot says so, and the bar \
    on the upper deck stays open until then.";

/// The sizes of the waterfall, in px.
const SIZES: [u32; 6] = [12, 14, 16, 20, 26, 32];

/// All roles.
pub fn section(report: &Report, drawn: &Drawn) -> Markup {
    if report.stacks.is_empty() && report.of_devices.is_empty() {
        return html! { p { "No role has a web font or a use, so there is no stack to build." } };
    }
    html! {
        p.tool {
            label for="own-text" { "Set a text of your own in all of them" }
            " " input id="own-text" type="text" value=(SAMPLE);
        }
        p.hint {
            "Web fonts are embedded, cut to the project's texts: other letters show in another \
             font. Stand-ins are fonts of the device that this page is read on; where one is not \
             installed, that is said."
        }
        @for built in &report.stacks { (role(built, drawn)) }
        @for stack in &report.of_devices { (of_devices(stack)) }
    }
}

fn role(built: &Built, drawn: &Drawn) -> Markup {
    let picture = drawn.stand_ins.iter().find(|(role, _)| *role == built.role);
    html! {
        article.role {
            h3 { (built.role) }
            p { code.stack { (built.font_family) } }
            (samples(built, drawn))
            (entries(built))
            @if let Some((_, None)) = picture {
                p.note { "The picture of a paragraph would make this page too large; build --picture draws it." }
            }
            @if let Some((_, Some(svg))) = picture {
                (super::parts::picture(
                    "A paragraph before and after the web font arrives: blue is the web font, red \
                     what shows before, as it is and as a stand-in.",
                    &format!("Lines of {} in the web font, in a fallback and in its stand-in", built.role),
                    svg
                ))
            }
            (notes(&built.notes))
        }
    }
}

/// The web font and each stand-in on one line, over each other, and at several sizes.
fn samples(built: &Built, drawn: &Drawn) -> Markup {
    let web = &built.web.family;
    if !drawn.embedded.contains(web) {
        return html! {
            p.note { (web) " is not embedded in this page: it could not be cut, or is too large." }
        };
    }
    let in_font = |family: &str| format!("font-family: {}, monospace", quoted(family));
    html! {
        div.samples {
            p.sample style=(in_font(web)) { span.line data-sample="" { (SAMPLE) } span.who { (web) } }
            @for stand_in in &built.stand_ins {
                p.sample data-local=(stand_in.family) style=(in_font(&stand_in.family)) {
                    span.line data-sample="" { (SAMPLE) }
                    span.who { (stand_in.family) }
                }
            }
        }
        @for (number, stand_in) in built.stand_ins.iter().enumerate() {
            @let id = format!("over-{}-{number}", built.class_name);
            @let (above, below) = (in_font(web), in_font(&stand_in.family));
            details data-local=(stand_in.family) {
                summary { (web) " over " (stand_in.family) ", and at several sizes" }
                p.tool {
                    label for=(id) { "blue is the web font, red the stand-in; wipe the web font away" }
                    " " input id=(id) type="range" min="0" max="100" value="100" data-over="";
                }
                div.over {
                    p.below style=(below) data-sample="" { (SAMPLE) }
                    p.above style=(above) data-sample="" aria-hidden="true" { (SAMPLE) }
                }
                div.ends {
                    div {
                        p.who { (web) }
                        p style=(above) data-sample="" data-ends="" { (PARAGRAPH) }
                    }
                    div {
                        p.who { (stand_in.family) }
                        p style=(below) data-sample="" data-ends="" { (PARAGRAPH) }
                    }
                }
                p.hint.told aria-live="polite" {}
                div.waterfall {
                    @for size in SIZES {
                        p { span.size { (size) " px" }
                            span style={ (above) "; font-size: " (size) "px" } data-sample="" { (SAMPLE) } }
                        p.second { span.size {}
                            span style={ (below) "; font-size: " (size) "px" } data-sample="" { (SAMPLE) } }
                    }
                }
            }
        }
    }
}

fn entries(built: &Built) -> Markup {
    let table = html! {
        table {
            caption { "Families in order" }
            thead { tr {
                th.number scope="col" { "" span.unseen { "Place" } }
                th scope="col" { "Family" }
                th scope="col" { "Why it is there" }
                th scope="col" { "On" }
                th.number scope="col" { "Letter sizes" }
                th.number scope="col" { "Paragraphs that wrap differently" }
            } }
            tbody {
                @for (place, entry) in built.stack.iter().enumerate() {
                    tr {
                        td.number { (place + 1) }
                        th scope="row" { (entry.family) }
                        td { (entry.why) }
                        td { (entry.platforms.join(", ")) }
                        td.number { (letter_sizes(built, &entry.family)) }
                        td.number { (wraps(built, &entry.family)) }
                    }
                }
            }
        }
    };
    scrolled(&format!("Families of {}", built.role), &table)
}

/// The sizes that a stand-in's letters have, in % of the text's, and how far they lie apart.
fn letter_sizes(built: &Built, family: &str) -> String {
    let stand_in = built.stand_ins.iter().find(|one| one.family == family);
    let Some(face) = stand_in.and_then(|one| one.faces.first()) else {
        return String::new();
    };
    let sizes = face.width.slices.iter().map(|slice| slice.size_adjust);
    let (least, most) = sizes.fold((f64::INFINITY, 0.0_f64), |(least, most), size| {
        (least.min(size), most.max(size))
    });
    match face.width.slices.len() {
        1 => format!("{most} %"),
        _ => format!(
            "{least:.1} to {most:.1} %, spread {:.1} %",
            face.width.spread
        ),
    }
}

/// How many paragraphs wrap differently with a stand-in, at worst of its faces.
fn wraps(built: &Built, family: &str) -> String {
    let stand_in = built.stand_ins.iter().find(|one| one.family == family);
    let faces = stand_in.into_iter().flat_map(|one| &one.faces);
    let breaks = faces.filter_map(|face| {
        let (before, after) = (face.width.breaks_before?, face.width.breaks_after?);
        Some((after.share(), before.share()))
    });
    let worst = breaks.max_by(|a, b| a.0.total_cmp(&b.0));
    worst.map_or(String::new(), |(after, before)| {
        format!("{after:.1} % ({before:.1} % as it is)")
    })
}

fn of_devices(stack: &DeviceStack) -> Markup {
    let table = html! {
        table {
            caption { "Installed families for " (stack.text_use.label()) }
            thead { tr {
                th scope="col" { "On" }
                th scope="col" { "Shows" }
                th scope="col" { "Left to the browser" }
            } }
            tbody {
                @for on in &stack.platforms {
                    tr {
                        th scope="row" { (on.title) }
                        td {
                            @for served in &on.served {
                                div {
                                    (served.family)
                                    " " span.hint {
                                        @if let Some(language) = &served.language { (language) " " }
                                        (served.groups.join(", "))
                                        @if !served.certain { ", by name only" }
                                    }
                                }
                            }
                        }
                        td {
                            @for left in on.unserved.iter().filter(|left| left.by_system.is_none()) {
                                div { (left.group) }
                            }
                        }
                    }
                }
            }
        }
    };
    html! {
        article.role {
            h3 { (stack.role) }
            p { code.stack { (stack.font_family) } }
            (scrolled(&format!("Who shows what of {}", stack.role), &table))
            (notes(&stack.notes))
        }
    }
}

fn notes(notes: &[Note]) -> Markup {
    if notes.is_empty() {
        return html! {};
    }
    let (findings, remarks): (Vec<&Note>, Vec<&Note>) = notes.iter().partition(|note| note.finding);
    html! {
        @if !findings.is_empty() {
            ul.bad { @for note in &findings { li { (note.text) } } }
        }
        @if !remarks.is_empty() {
            details {
                summary { (crate::show::count(remarks.len() as u64, "note", "notes")) }
                ul { @for note in &remarks { li { (note.text) } } }
            }
        }
    }
}

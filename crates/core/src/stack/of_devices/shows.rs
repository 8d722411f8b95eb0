//! Whether a family by itself shows something on a device, as serving judges it.

use tidy_lattice_coverage::lattice::{Arrival, Fonts, Judge, Request, Resolved, resolve};
use tidy_lattice_coverage::need::ClusterNeed;
use tidy_lattice_coverage::platform::Device;
use tidy_lattice_documents::page::TextStyle;
use tidy_lattice_documents::style::is_generic;
use tidy_lattice_documents::style::read::FamilyName;

/// The text of a stack in plain style.
pub fn in_style(families: Vec<FamilyName>) -> TextStyle {
    let mut style = TextStyle::default();
    style.families = families;
    style
}

/// What `style` comes down to on a device, for a text in `language`.
pub fn resolved(style: &TextStyle, device: &Device<'_>, language: Option<&str>) -> Resolved {
    let asked = Request::of(style).in_language(language, Some(device));
    let fonts = Fonts {
        web: &[],
        device: Some(device),
        arrival: Arrival::Here,
        hosted: false,
    };
    resolve(&asked, fonts)
}

/// Whether the family, or what the keyword stands for, shows all of `clusters`, whatever the
/// language.
pub fn shows(device: &Device<'_>, family: &str, clusters: &[&ClusterNeed]) -> bool {
    share(device, family, clusters) == 1.0
}

/// How much of `clusters` the family, or what the keyword stands for, shows, whatever the
/// language: from 0 to 1, each as often as it occurs.
pub fn share(device: &Device<'_>, family: &str, clusters: &[&ClusterNeed]) -> f64 {
    let name = if is_generic(family) {
        FamilyName::Generic(family.to_owned())
    } else {
        FamilyName::Named(family.to_owned())
    };
    let resolved = resolved(&in_style(vec![name]), device, None);
    let mut judge = Judge::new(&resolved.candidates).in_engines(resolved.engines);
    let faces = 0..resolved.candidates.len();
    let (mut shown, mut all) = (0, 0);
    for cluster in clusters {
        let mut faces = faces.clone();
        all += cluster.count;
        if faces.any(|number| judge.could_serve(number, &cluster.text)) {
            shown += cluster.count;
        }
    }
    if all == 0 {
        1.0
    } else {
        shown as f64 / all as f64
    }
}

//! `record` for people: what each card holds and weighs.

use super::table::{lines, table};
use super::text::{FAINT, count, kilobytes, paragraph, safe, styled, thousands, unreadable};
use crate::results::{MeasuredDevice, Recorded};

/// What a measuring page is for, and what to do with it.
pub fn page(recorded: &Recorded) -> String {
    let Some(page) = &recorded.page else {
        return String::new();
    };
    let families = count(page.families as u64, "family", "families");
    let languages = count(page.languages.len() as u64, "language", "languages");
    format!(
        "{}: {} KB, looks for {families}, measures {languages}\n\
         Open it in a browser on the device, press Measure, save the result; then\n  \
         tidy-lattice record RESULT.cards.json --platform device.toml\n",
        safe(&page.file),
        kilobytes(page.bytes)
    )
}

/// What a measuring page found, besides the cards.
fn device(device: &MeasuredDevice) -> String {
    let mut text = format!("Measured in {}.", device.browser.label());
    let generics: Vec<String> = device
        .generics
        .iter()
        .filter_map(|generic| {
            Some(format!(
                "{} is {}",
                generic.keyword,
                generic.families.first()?
            ))
        })
        .collect();
    if !generics.is_empty() {
        text.push_str(&format!(" Generic families: {}.", generics.join(", ")));
    }
    if !device.unmeasured.is_empty() {
        text.push_str(&format!(
            " Installed, but the names of the faces are not known: {}.",
            device.unmeasured.join(", ")
        ));
    }
    if device.absent > 0 {
        text.push_str(&format!(
            " {} looked for {} not there.",
            count(device.absent as u64, "family", "families"),
            if device.absent == 1 { "is" } else { "are" },
        ));
    }
    text.push_str(&format!(
        " Not known of these cards: {}.",
        device.not_known.join(", ")
    ));
    paragraph(&safe(&text))
}

/// The view.
pub fn view(recorded: &Recorded) -> String {
    let header = [
        "Face",
        "characters",
        "KB",
        "packed",
        "file",
        "widths not known",
    ];
    let mut table = table(&header, &[1, 2, 3]);
    for card in &recorded.cards {
        table.add_row([
            safe(&card.face),
            thousands(card.characters),
            kilobytes(card.bytes),
            kilobytes(card.packed_bytes),
            safe(&card.file),
            card.unknown_widths.join(", "),
        ]);
    }
    let mut view = lines(&table);
    view.push_str(&unreadable(&recorded.unreadable));
    for found in &recorded.measured {
        view.push_str(&device(found));
    }
    if let Some(platform) = &recorded.platform {
        view.push_str(&format!(
            "{} lists them; name it wherever a platform goes: --platform {}\n",
            safe(platform),
            safe(platform)
        ));
    }
    let total: u64 = recorded.cards.iter().map(|card| card.bytes).sum();
    let cards = count(recorded.cards.len() as u64, "card", "cards");
    let note = format!(
        " {cards}, {} KB; name one wherever a font file goes",
        kilobytes(total)
    );
    view.push_str(&styled(FAINT, &note));
    view.push('\n');
    view
}

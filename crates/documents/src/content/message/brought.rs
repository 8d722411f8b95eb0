//! What a placeholder for a number, an amount or a date brings in a language:
//! digits, signs, names of months and days (CLDR, by ICU4X).

use std::cell::RefCell;
use std::collections::{BTreeSet, HashMap};
use std::sync::Arc;

use icu_calendar::Date;
use icu_datetime::fieldsets::{T, YMD, YMDE};
use icu_datetime::input::Time;
use icu_datetime::{DateTimeFormatter, NoCalendarFormatter};
use icu_decimal::DecimalFormatter;
use icu_decimal::input::Decimal;
use icu_locale::Locale;
use tidy_lattice_glyphs::text::signs;

use super::locale;

/// What a placeholder stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Kind {
    /// A whole number.
    Integer,
    /// A number with a fraction.
    Number,
    /// A share in per cent.
    Percent,
    /// An amount of money.
    Currency,
    /// A date in figures.
    ShortDate,
    /// A date with the month's name.
    LongDate,
    /// A date with the day's name too.
    FullDate,
    /// A time of day.
    Time,
}

impl Kind {
    /// The kind of an ICU argument of this type and style.
    pub(super) fn of(kind: &str, style: &str) -> Option<Self> {
        let skeleton = style.trim_start_matches("::");
        match kind {
            "number" if style.contains("percent") => Some(Kind::Percent),
            "number" if style.contains("currency") || style.contains('¤') => Some(Kind::Currency),
            "number" if style == "integer" => Some(Kind::Integer),
            "number" => Some(Kind::Number),
            "ordinal" => Some(Kind::Integer),
            "date" => Some(match style {
                "short" => Kind::ShortDate,
                "full" => Kind::FullDate,
                _ if skeleton.contains("EEE") => Kind::FullDate,
                _ if style.starts_with("::") && !skeleton.contains("MMM") => Kind::ShortDate,
                _ => Kind::LongDate,
            }),
            "time" => Some(Kind::Time),
            _ => None,
        }
    }

    /// The kind of a placeholder by a name that says so.
    pub(super) fn by_name(name: &str) -> Option<Self> {
        let name = name.to_ascii_lowercase();
        ["count", "n", "num", "number", "quantity", "total"]
            .contains(&name.as_str())
            .then_some(Kind::Integer)
    }
}

/// Every character that a placeholder of this kind may bring in `language`, each
/// once; English where the language is not known.
pub fn brought(kind: Kind, language: Option<&str>) -> Arc<str> {
    thread_local! {
        static KNOWN: RefCell<HashMap<(Kind, String), Arc<str>>> = RefCell::default();
    }
    let language = language.unwrap_or("en");
    KNOWN.with_borrow_mut(|known| {
        let key = (kind, language.to_owned());
        known
            .entry(key)
            .or_insert_with(|| gather(kind, language).into())
            .clone()
    })
}

fn gather(kind: Kind, language: &str) -> String {
    let locale = locale(language).unwrap_or(Locale::UNKNOWN);
    let mut all = match kind {
        Kind::Integer | Kind::Number | Kind::Percent | Kind::Currency => numbers(kind, &locale),
        Kind::ShortDate | Kind::LongDate | Kind::FullDate => dates(kind, &locale),
        Kind::Time => times(&locale),
    };
    match kind {
        // CLDR has a sign of its own where digits are Arabic.
        Kind::Percent if all.contains('٠') => all.push('٪'),
        Kind::Percent => all.push('%'),
        Kind::Currency => {
            all.push_str(signs(language).map_or("¤", |signs| signs.currency_signs.0));
        }
        _ => {}
    }
    each_once(&all)
}

/// The characters of `text` that show, each once, in order of code points.
fn each_once(text: &str) -> String {
    let all: BTreeSet<char> = text
        .chars()
        .filter(|c| tidy_lattice_glyphs::text::is_shown(*c))
        .collect();
    all.into_iter().collect()
}

fn numbers(kind: Kind, locale: &Locale) -> String {
    let Ok(formatter) = DecimalFormatter::try_new(locale.into(), Default::default()) else {
        return "0123456789-".to_owned();
    };
    let mut text = String::new();
    for number in [-1_234_567_890_i64, 9_876_543_210] {
        let mut decimal = Decimal::from(number);
        if kind != Kind::Integer {
            decimal.multiply_pow10(-2);
        }
        text.push_str(&formatter.format(&decimal).to_string());
    }
    text
}

fn dates(kind: Kind, locale: &Locale) -> String {
    // Twelve months, all days of the week, all digits.
    let days = (1..=12).flat_map(|month| {
        [(2019, 3), (2024, 18), (2026, 27)].map(|(year, day)| (year, month, day + month % 2))
    });
    let dates: Vec<_> = days
        .filter_map(|(year, month, day)| Date::try_new_iso(year, month, day).ok())
        .collect();
    let mut text = String::new();
    macro_rules! format_all {
        ($fields:expr) => {
            if let Ok(formatter) = DateTimeFormatter::try_new(locale.into(), $fields) {
                for date in &dates {
                    text.push_str(&formatter.format(date).to_string());
                }
            }
        };
    }
    match kind {
        Kind::ShortDate => format_all!(YMD::short()),
        Kind::FullDate => format_all!(YMDE::long()),
        _ => {
            format_all!(YMD::medium());
            format_all!(YMD::long());
        }
    }
    text
}

fn times(locale: &Locale) -> String {
    let Ok(formatter) = NoCalendarFormatter::try_new(locale.into(), T::hm()) else {
        return "0123456789:".to_owned();
    };
    (0..24)
        .filter_map(|hour| Time::try_new(hour, (hour * 7) % 60, 0, 0).ok())
        .map(|time| formatter.format(&time).to_string())
        .collect()
}

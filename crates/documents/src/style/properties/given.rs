//! A value as a sheet gives it, and the kinds of values that many properties take.

use std::sync::Arc;

use cssparser::Parser;

use crate::style::computed::{Length, Relative, TextStyle};
use crate::style::read::{FontUnits, LengthContext, Quantity, Viewport, length};

/// Where a declaration is computed.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Surroundings<'a> {
    /// The style of the parent element.
    pub parent: &'a TextStyle,
    /// The font size of the root element, in px.
    pub root: f32,
    /// The viewport.
    pub viewport: Viewport,
}

/// A value that is put to a style.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Given<'a> {
    /// As it is written, without blanks around it.
    pub text: &'a str,
    /// In lower case.
    pub lower: &'a str,
    /// The font size that `em` means, in px.
    pub em: f32,
    /// Whether `direction` is `rtl`.
    pub rtl: bool,
    /// What is around.
    pub around: Surroundings<'a>,
}

/// What sizes of boxes take besides lengths (CSS Sizing 3, §3.2).
pub(super) const CONTENT_SIZES: [(&str, Length); 5] = [
    ("min-content", Length::MinContent),
    ("max-content", Length::MaxContent),
    ("fit-content", Length::FitContent),
    ("stretch", Length::Auto),
    ("-webkit-fill-available", Length::Auto),
];

impl<'a> Given<'a> {
    /// The same, of a part of the value.
    pub fn part<'b>(&self, lower: &'b str) -> Given<'b>
    where
        'a: 'b,
    {
        Given {
            text: lower,
            lower,
            ..*self
        }
    }

    /// What one of these keywords stands for.
    pub fn keyword<T: Clone>(&self, keywords: &[(&str, T)]) -> Option<T> {
        let found = keywords.iter().find(|(word, _)| *word == self.lower);
        found.map(|(_, value)| value.clone())
    }

    /// A length or a percentage; negative ones only where that is said.
    pub fn length_or_percentage(&self, negative: bool) -> Option<Length> {
        let px = match self.quantity(100.0)? {
            Quantity::Px(px) => px,
            // Without a unit only 0 is a length.
            Quantity::Number(0.0) if !self.lower.contains('(') => 0.0,
            Quantity::Number(_) => return None,
        };
        // What is computed is cut to what is allowed (CSS Values 4, §10.12).
        let computed = self.lower.contains('(');
        if px < 0.0 && !negative && !computed {
            return None;
        }
        if self.lower.contains('%') || FontUnits::are_in(self.lower) {
            return Some(Length::Relative(Arc::new(Relative {
                text: self.lower.to_owned(),
                em: self.em,
                rem: self.around.root,
                viewport: self.around.viewport,
                font: None,
            })));
        }
        Some(Length::Px(if negative { px } else { px.max(0.0) }))
    }

    /// A length or percentage from 0, or one of these keywords.
    pub fn length_or(&self, keywords: &[(&str, Length)]) -> Option<Length> {
        self.keyword(keywords)
            .or_else(|| self.length_or_percentage(false))
    }

    /// A length or percentage, `auto` for none.
    pub fn length_or_auto(&self, negative: bool) -> Option<Length> {
        self.keyword(&[("auto", Length::Auto)])
            .or_else(|| self.length_or_percentage(negative))
    }

    /// The size of a box, or a limit of one, with `none` for none.
    pub fn size(&self, none: &str) -> Option<Length> {
        if self.lower == none {
            return Some(Length::Auto);
        }
        self.length_or(&CONTENT_SIZES)
    }

    /// A length from 0 in px; no percentages.
    pub fn px(&self) -> Option<f32> {
        if self.lower.contains('%') {
            return None;
        }
        match self.length_or_percentage(false)? {
            Length::Px(px) => Some(px),
            // In units of a font that is not known yet.
            Length::Relative(relative) => relative.px(0.0, None).map(|px| px as f32),
            _ => None,
        }
    }

    /// A number or a length, where 100 % are `percent` px.
    pub fn quantity(&self, percent: f32) -> Option<Quantity> {
        let context = LengthContext {
            em: self.em,
            rem: self.around.root,
            percent,
            viewport: self.around.viewport,
            font: None,
        };
        let mut input = Parser::new(self.lower);
        let value = length(&mut input, &context).ok()?;
        input.is_exhausted().then_some(value)
    }

    /// A number, computed or not.
    pub fn number(&self) -> Option<f32> {
        match self.quantity(0.0)? {
            Quantity::Number(number) => Some(number),
            Quantity::Px(_) => None,
        }
    }

    /// A number from 0.
    pub fn positive_number(&self) -> Option<f32> {
        let number = self.number()?;
        let computed = self.lower.contains('(');
        (number >= 0.0 || computed).then_some(number.max(0.0))
    }

    /// A percentage and nothing else, in %.
    pub fn percentage(&self) -> Option<f32> {
        let of = |whole| match self.quantity(whole)? {
            Quantity::Px(px) if self.lower.contains('%') => Some(px),
            _ => None,
        };
        // With a length in it, it does not grow with the whole.
        let percent = of(100.0)?;
        let grows = (of(10_000.0)? - 100.0 * percent).abs() <= 0.01 * percent.abs().max(1.0);
        (of(0.0)? == 0.0 && grows).then_some(percent)
    }

    /// A whole number from 1.
    pub fn count(&self) -> Option<u32> {
        let number = self.integer()?;
        let computed = self.lower.contains('(');
        u32::try_from(if computed { number.max(1) } else { number })
            .ok()
            .filter(|count| *count > 0)
    }

    /// A whole number.
    pub fn integer(&self) -> Option<i32> {
        if self.lower.contains('(') {
            return self.number().map(|number| number.round() as i32);
        }
        self.lower.parse().ok()
    }

    /// The arguments of the function `name`, where the value is one.
    pub fn inside(&self, name: &str) -> Option<&'a str> {
        let inside = self.lower.strip_prefix(name)?.strip_prefix('(')?;
        Some(inside.strip_suffix(')')?.trim())
    }

    /// The width of a border: cut to whole px, but at least one (CSS Backgrounds 3, §3.3, as
    /// engines snap it).
    pub fn line_width(&self) -> Option<f32> {
        let px = match self.keyword(&[("thin", 1.0), ("medium", 3.0), ("thick", 5.0)]) {
            Some(px) => px,
            None => self.px()?,
        };
        Some(if px > 0.0 { px.floor().max(1.0) } else { 0.0 })
    }
}

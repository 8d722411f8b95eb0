//! Selectors 4: what the `selectors` crate needs to know of our pages.

use std::borrow::Borrow;
use std::fmt;

use cssparser::{CowRcStr, ParseError, Parser, ToCss};
use precomputed_hash::PrecomputedHash;
use selectors::parser::{
    NonTSPseudoClass, PseudoElement as PseudoElementTrait, SelectorImpl, SelectorParseErrorKind,
};

/// Names and values in selectors.
#[derive(Debug, Clone, Default, PartialEq, Eq, Hash)]
pub struct SelectorText(pub String);

impl From<&str> for SelectorText {
    fn from(text: &str) -> Self {
        SelectorText(text.to_owned())
    }
}

impl AsRef<str> for SelectorText {
    fn as_ref(&self) -> &str {
        &self.0
    }
}

impl Borrow<str> for SelectorText {
    fn borrow(&self) -> &str {
        &self.0
    }
}

impl ToCss for SelectorText {
    fn to_css<W: fmt::Write>(&self, dest: &mut W) -> fmt::Result {
        cssparser::serialize_identifier(&self.0, dest)
    }
}

impl PrecomputedHash for SelectorText {
    fn precomputed_hash(&self) -> u32 {
        // FNV-1a: only used to reject early.
        self.0.bytes().fold(0x811c_9dc5, |hash: u32, byte| {
            (hash ^ u32::from(byte)).wrapping_mul(0x0100_0193)
        })
    }
}

/// The selectors of our style sheets.
#[derive(Debug, Clone)]
pub struct Css;

impl SelectorImpl for Css {
    type ExtraMatchingData<'a> = ();
    type AttrValue = SelectorText;
    type Identifier = SelectorText;
    type LocalName = SelectorText;
    type NamespaceUrl = SelectorText;
    type NamespacePrefix = SelectorText;
    type BorrowedNamespaceUrl = str;
    type BorrowedLocalName = str;
    type NonTSPseudoClass = StateClass;
    type PseudoElement = PseudoElement;
}

/// Pseudo-classes beyond the structure of the tree.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum StateClass {
    /// `:link` and `:any-link`.
    Link,
    /// `:lang()` with its ranges.
    Lang(Vec<String>),
    /// `:dir(rtl)` or `:dir(ltr)`.
    Dir {
        /// Whether right to left.
        rtl: bool,
    },
    /// `:checked`.
    Checked,
    /// `:disabled`.
    Disabled,
    /// `:enabled`.
    Enabled,
    /// `:required`.
    Required,
    /// `:optional`.
    Optional,
    /// `:placeholder-shown`.
    PlaceholderShown,
    /// `:open`.
    Open,
    /// `:defined`.
    Defined,
    /// States that a page at rest is not in: `:hover`, `:focus`, `:visited` …
    Never(String),
}

impl ToCss for StateClass {
    fn to_css<W: fmt::Write>(&self, dest: &mut W) -> fmt::Result {
        match self {
            StateClass::Link => dest.write_str(":link"),
            StateClass::Lang(ranges) => write!(dest, ":lang({})", ranges.join(", ")),
            StateClass::Dir { rtl } => write!(dest, ":dir({})", if *rtl { "rtl" } else { "ltr" }),
            StateClass::Checked => dest.write_str(":checked"),
            StateClass::Disabled => dest.write_str(":disabled"),
            StateClass::Enabled => dest.write_str(":enabled"),
            StateClass::Required => dest.write_str(":required"),
            StateClass::Optional => dest.write_str(":optional"),
            StateClass::PlaceholderShown => dest.write_str(":placeholder-shown"),
            StateClass::Open => dest.write_str(":open"),
            StateClass::Defined => dest.write_str(":defined"),
            StateClass::Never(name) => write!(dest, ":{name}"),
        }
    }
}

impl NonTSPseudoClass for StateClass {
    fn is_active_or_hover(&self) -> bool {
        matches!(self, StateClass::Never(name) if name == "active" || name == "hover")
    }

    fn is_user_action_state(&self) -> bool {
        matches!(self, StateClass::Never(name)
            if ["active", "hover", "focus", "focus-within", "focus-visible"].contains(&name.as_str()))
    }
}

/// Pseudo-elements that show text, and all others.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum PseudoElement {
    /// `::before`.
    Before,
    /// `::after`.
    After,
    /// `::marker`.
    Marker,
    /// `::placeholder`.
    Placeholder,
    /// `::first-letter`.
    FirstLetter,
    /// `::first-line`.
    FirstLine,
    /// Others, which are not looked at.
    Other,
}

impl ToCss for PseudoElement {
    fn to_css<W: fmt::Write>(&self, dest: &mut W) -> fmt::Result {
        dest.write_str(match self {
            PseudoElement::Before => "::before",
            PseudoElement::After => "::after",
            PseudoElement::Marker => "::marker",
            PseudoElement::Placeholder => "::placeholder",
            PseudoElement::FirstLetter => "::first-letter",
            PseudoElement::FirstLine => "::first-line",
            PseudoElement::Other => "::other",
        })
    }
}

impl PseudoElementTrait for PseudoElement {
    fn accepts_state_pseudo_classes(&self) -> bool {
        true
    }

    fn is_before_or_after(&self) -> bool {
        matches!(self, PseudoElement::Before | PseudoElement::After)
    }

    fn valid_after_before_or_after(&self) -> bool {
        matches!(self, PseudoElement::Marker)
    }
}

/// Reads selectors.
pub(super) struct SelectorReader;

type Error = ParseError<SelectorParseErrorKind>;

fn unsupported() -> Error {
    ParseError::custom(SelectorParseErrorKind::UnsupportedPseudoClassOrElement)
}

impl<'i> selectors::Parser<'i> for SelectorReader {
    type Impl = Css;
    type Error = SelectorParseErrorKind;

    fn parse_nth_child_of(&self) -> bool {
        true
    }

    fn parse_is_and_where(&self) -> bool {
        true
    }

    fn parse_has(&self) -> bool {
        true
    }

    fn parse_parent_selector(&self) -> bool {
        true
    }

    fn parse_non_ts_pseudo_class(&self, name: &str) -> Result<StateClass, Error> {
        let name = name.to_ascii_lowercase();
        Ok(match name.as_str() {
            "link" | "any-link" => StateClass::Link,
            "checked" => StateClass::Checked,
            "disabled" => StateClass::Disabled,
            "enabled" => StateClass::Enabled,
            "required" => StateClass::Required,
            "optional" => StateClass::Optional,
            "placeholder-shown" => StateClass::PlaceholderShown,
            "open" => StateClass::Open,
            "defined" => StateClass::Defined,
            "active" | "hover" | "focus" | "focus-within" | "focus-visible" | "visited"
            | "target" | "target-within" | "indeterminate" | "invalid" | "user-invalid"
            | "user-valid" | "autofill" | "fullscreen" | "modal" | "popover-open" | "playing"
            | "paused" | "out-of-range" | "current" | "past" | "future" => StateClass::Never(name),
            _ => return Err(unsupported()),
        })
    }

    fn parse_non_ts_functional_pseudo_class(
        &self,
        name: &str,
        input: &mut Parser<'i>,
        _: bool,
    ) -> Result<StateClass, Error> {
        if name.eq_ignore_ascii_case("lang") {
            let ranges = input.parse_comma_separated(|input| {
                Ok::<_, Error>(input.expect_ident_or_string()?.to_string())
            })?;
            return Ok(StateClass::Lang(ranges));
        }
        if name.eq_ignore_ascii_case("dir") {
            let side: CowRcStr<'i> = input.expect_ident_cloned()?;
            return Ok(StateClass::Dir {
                rtl: side.eq_ignore_ascii_case("rtl"),
            });
        }
        Err(unsupported())
    }

    fn parse_pseudo_element(&self, name: &str) -> Result<PseudoElement, Error> {
        let name = name.to_ascii_lowercase();
        Ok(match name.as_str() {
            "before" => PseudoElement::Before,
            "after" => PseudoElement::After,
            "marker" => PseudoElement::Marker,
            "placeholder" => PseudoElement::Placeholder,
            "first-letter" => PseudoElement::FirstLetter,
            "first-line" => PseudoElement::FirstLine,
            "selection"
            | "backdrop"
            | "file-selector-button"
            | "cue"
            | "details-content"
            | "spelling-error"
            | "grammar-error"
            | "target-text" => PseudoElement::Other,
            name if name.starts_with('-') => PseudoElement::Other,
            _ => return Err(unsupported()),
        })
    }
}

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
    /// `:default`.
    Default,
    /// `:indeterminate`.
    Indeterminate,
    /// `:read-only`; `:read-write` where not.
    ReadOnly(bool),
    /// `:valid`; `:invalid` where not.
    Valid(bool),
    /// `:in-range`; `:out-of-range` where not.
    InRange(bool),
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
            StateClass::Default => dest.write_str(":default"),
            StateClass::Indeterminate => dest.write_str(":indeterminate"),
            StateClass::ReadOnly(true) => dest.write_str(":read-only"),
            StateClass::ReadOnly(false) => dest.write_str(":read-write"),
            StateClass::Valid(true) => dest.write_str(":valid"),
            StateClass::Valid(false) => dest.write_str(":invalid"),
            StateClass::InRange(true) => dest.write_str(":in-range"),
            StateClass::InRange(false) => dest.write_str(":out-of-range"),
            StateClass::Never(name) => write!(dest, ":{name}"),
        }
    }
}

impl NonTSPseudoClass for StateClass {
    fn is_active_or_hover(&self) -> bool {
        matches!(self, StateClass::Never(name) if name == "active" || name == "hover")
    }

    fn is_user_action_state(&self) -> bool {
        // Those of scroll bars stand behind pseudo-elements too.
        matches!(self, StateClass::Never(_))
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
        *self == PseudoElement::Other
    }

    fn is_before_or_after(&self) -> bool {
        matches!(self, PseudoElement::Before | PseudoElement::After)
    }

    fn valid_after_before_or_after(&self) -> bool {
        matches!(self, PseudoElement::Marker)
    }
}

/// Pseudo-classes that Chromium 156 knows, of states that a page at rest is not in, or
/// of things that show no text (scroll bars, view transitions); in order.
const NEVER: [&str; 41] = [
    "-internal-autofill-previewed",
    "-webkit-autofill",
    "-webkit-drag",
    "-webkit-full-page-media",
    "-webkit-full-screen",
    "-webkit-full-screen-ancestor",
    "active",
    "active-view-transition",
    "autofill",
    "corner-present",
    "current",
    "decrement",
    "double-button",
    "end",
    "focus",
    "focus-visible",
    "focus-within",
    "fullscreen",
    "future",
    "horizontal",
    "hover",
    "increment",
    "interest-source",
    "interest-target",
    "modal",
    "no-button",
    "past",
    "picture-in-picture",
    "popover-open",
    "single-button",
    "start",
    "target",
    "target-after",
    "target-before",
    "target-current",
    "user-invalid",
    "user-valid",
    "vertical",
    "visited",
    "window-inactive",
    "xr-overlay",
];

/// The same with arguments.
const NEVER_OF: [&str; 3] = ["active-view-transition-type", "host-context", "state"];

/// Pseudo-elements that are not looked at, but known to Chromium 156.
const OTHER_ELEMENTS: [&str; 16] = [
    "backdrop",
    "checkmark",
    "column",
    "cue",
    "details-content",
    "file-selector-button",
    "grammar-error",
    "permission-icon",
    "picker-icon",
    "scroll-marker",
    "scroll-marker-group",
    "search-text",
    "selection",
    "spelling-error",
    "target-text",
    "view-transition",
];

/// The same with arguments.
const FUNCTIONAL_ELEMENTS: [&str; 10] = [
    "cue",
    "highlight",
    "part",
    "picker",
    "scroll-button",
    "slotted",
    "view-transition-group",
    "view-transition-image-pair",
    "view-transition-new",
    "view-transition-old",
];

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

    fn parse_host(&self) -> bool {
        true
    }

    fn is_is_alias(&self, name: &str) -> bool {
        name.eq_ignore_ascii_case("-webkit-any")
    }

    fn parse_parent_selector(&self) -> bool {
        true
    }

    fn parse_non_ts_pseudo_class(&self, name: &str) -> Result<StateClass, Error> {
        let name = name.to_ascii_lowercase();
        Ok(match name.as_str() {
            "link" | "any-link" | "-webkit-any-link" => StateClass::Link,
            "checked" => StateClass::Checked,
            "disabled" => StateClass::Disabled,
            "enabled" => StateClass::Enabled,
            "required" => StateClass::Required,
            "optional" => StateClass::Optional,
            "placeholder-shown" => StateClass::PlaceholderShown,
            "open" => StateClass::Open,
            "defined" => StateClass::Defined,
            "default" => StateClass::Default,
            "indeterminate" => StateClass::Indeterminate,
            "read-only" => StateClass::ReadOnly(true),
            "read-write" => StateClass::ReadOnly(false),
            "valid" => StateClass::Valid(true),
            "invalid" => StateClass::Valid(false),
            "in-range" => StateClass::InRange(true),
            "out-of-range" => StateClass::InRange(false),
            known if NEVER.binary_search(&known).is_ok() => StateClass::Never(name),
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
                // Chromium takes no strings here.
                Ok::<_, Error>(input.expect_ident()?.to_string())
            })?;
            return Ok(StateClass::Lang(ranges));
        }
        if name.eq_ignore_ascii_case("dir") {
            let side: CowRcStr<'i> = input.expect_ident_cloned()?;
            return Ok(StateClass::Dir {
                rtl: side.eq_ignore_ascii_case("rtl"),
            });
        }
        let name = name.to_ascii_lowercase();
        if NEVER_OF.contains(&name.as_str()) {
            while input.next().is_ok() {}
            return Ok(StateClass::Never(name));
        }
        Err(unsupported())
    }

    fn parse_functional_pseudo_element(
        &self,
        name: &str,
        arguments: &mut Parser<'i>,
    ) -> Result<PseudoElement, Error> {
        let name = name.to_ascii_lowercase();
        if !FUNCTIONAL_ELEMENTS.contains(&name.as_str()) {
            return Err(unsupported());
        }
        while arguments.next().is_ok() {}
        Ok(PseudoElement::Other)
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
            // Unknown ones of WebKit are valid everywhere (Selectors 4, §3.5).
            name if name.starts_with("-webkit-") => PseudoElement::Other,
            name if OTHER_ELEMENTS.contains(&name) => PseudoElement::Other,
            _ => return Err(unsupported()),
        })
    }
}

#[cfg(test)]
mod tests {
    use super::NEVER;

    #[test]
    fn states_are_in_order() {
        assert!(NEVER.is_sorted());
    }
}

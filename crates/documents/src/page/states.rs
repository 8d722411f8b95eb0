//! States of elements in a page at rest: nothing is typed, pressed or pointed at, no
//! script has run (Selectors 4, §11 to §14; HTML, §4.16).

use super::dom::{Dom, NodeId};
use crate::style::read::StateClass;

/// Whether `node` is in `state`.
pub(super) fn is_in(dom: &Dom, node: NodeId, state: &StateClass) -> bool {
    let element = Field { dom, node };
    let has = |name: &str| dom.attribute(node, name).is_some();
    match state {
        StateClass::Checked => match element.tag() {
            "input" => element.is_tick() && has("checked"),
            "option" => has("selected"),
            _ => false,
        },
        StateClass::Disabled => element.can_be_disabled() && element.is_disabled(),
        StateClass::Enabled => element.can_be_disabled() && !element.is_disabled(),
        StateClass::Required => element.can_be_required() && has("required"),
        StateClass::Optional => element.can_be_required() && !has("required"),
        StateClass::PlaceholderShown => {
            ["input", "textarea"].contains(&element.tag())
                && has("placeholder")
                && element.value().is_empty()
        }
        StateClass::Open => ["details", "dialog"].contains(&element.tag()) && has("open"),
        StateClass::Defined => !element.is_custom(),
        StateClass::Default => match element.tag() {
            "input" if element.is_tick() => has("checked"),
            "option" => has("selected"),
            "button" | "input" => element.is_first_submitter(),
            _ => false,
        },
        StateClass::Indeterminate => element.tag() == "progress" && !has("value"),
        StateClass::ReadOnly(wanted) => element.is_writable() != *wanted,
        StateClass::Valid(wanted) => element.is_valid() == Some(*wanted),
        StateClass::InRange(wanted) => element.is_in_range() == Some(*wanted),
        StateClass::Link | StateClass::Lang(_) | StateClass::Dir { .. } | StateClass::Never(_) => {
            false
        }
    }
}

/// An element, looked at as a part of a form.
#[derive(Clone, Copy)]
struct Field<'d> {
    dom: &'d Dom,
    node: NodeId,
}

/// Kinds of `input` that have no text of their own, or take none.
const NO_TEXT: [&str; 10] = [
    "button", "checkbox", "color", "file", "hidden", "image", "radio", "range", "reset", "submit",
];

/// Names with a hyphen that are no custom elements (HTML, §4.13.3).
const HYPHENATED: [&str; 8] = [
    "annotation-xml",
    "color-profile",
    "font-face",
    "font-face-src",
    "font-face-uri",
    "font-face-format",
    "font-face-name",
    "missing-glyph",
];

impl<'d> Field<'d> {
    fn tag(self) -> &'d str {
        self.dom.tag(self.node).unwrap_or_default()
    }

    fn attribute(self, name: &str) -> Option<&'d str> {
        self.dom.attribute(self.node, name)
    }

    fn has(self, name: &str) -> bool {
        self.attribute(name).is_some()
    }

    /// The kind of an `input` or `button`, in lower case.
    fn kind(self) -> String {
        let declared = self.attribute("type").unwrap_or_default().trim();
        let usual = if self.tag() == "button" {
            "submit"
        } else {
            "text"
        };
        if declared.is_empty() { usual } else { declared }.to_ascii_lowercase()
    }

    fn is_tick(self) -> bool {
        ["checkbox", "radio"].contains(&self.kind().as_str())
    }

    fn is_custom(self) -> bool {
        self.tag().contains('-') && !HYPHENATED.contains(&self.tag())
    }

    fn can_be_disabled(self) -> bool {
        [
            "input", "select", "textarea", "button", "option", "optgroup", "fieldset",
        ]
        .contains(&self.tag())
    }

    /// Whether it, or a group around it, is disabled (HTML, §4.16.3).
    fn is_disabled(self) -> bool {
        if self.has("disabled") {
            return true;
        }
        let mut inside = self.node;
        let mut around = self.dom.parent(self.node);
        while let Some(node) = around {
            let group = Field { node, ..self };
            let disables = match (group.tag(), self.tag()) {
                ("optgroup", "option") => true,
                ("fieldset", tag) => {
                    !["option", "optgroup"].contains(&tag)
                    // What is in its first legend stays enabled.
                    && group.first_legend() != Some(inside)
                }
                _ => false,
            };
            if disables && group.has("disabled") {
                return true;
            }
            inside = node;
            around = self.dom.parent(node);
        }
        false
    }

    fn first_legend(self) -> Option<NodeId> {
        let mut children = self.dom.children(self.node);
        children.find(|child| self.dom.tag(*child) == Some("legend"))
    }

    fn can_be_required(self) -> bool {
        match self.tag() {
            "select" | "textarea" => true,
            "input" => ![
                "hidden", "range", "color", "submit", "image", "reset", "button",
            ]
            .contains(&self.kind().as_str()),
            _ => false,
        }
    }

    /// The text that is in it.
    fn value(self) -> String {
        if self.tag() != "textarea" {
            return self.attribute("value").unwrap_or_default().to_owned();
        }
        let texts = self
            .dom
            .children(self.node)
            .filter_map(|node| self.dom.text(node));
        texts.collect()
    }

    /// Whether it takes what is typed (HTML, §4.16.3).
    fn is_writable(self) -> bool {
        match self.tag() {
            "textarea" => !self.has("readonly") && !self.is_disabled(),
            "input" => {
                !NO_TEXT.contains(&self.kind().as_str())
                    && !self.has("readonly")
                    && !self.is_disabled()
            }
            _ => {
                let mut around = Some(self.node);
                while let Some(node) = around {
                    match self.dom.attribute(node, "contenteditable") {
                        Some("" | "true" | "plaintext-only") => return true,
                        Some("false") => return false,
                        _ => around = self.dom.parent(node),
                    }
                }
                false
            }
        }
    }

    /// The form that it stands in, as the tree has it.
    fn form(self) -> Option<NodeId> {
        let mut around = self.dom.parent(self.node);
        while let Some(node) = around {
            if self.dom.tag(node) == Some("form") {
                return Some(node);
            }
            around = self.dom.parent(node);
        }
        None
    }

    fn is_submitter(self) -> bool {
        let kind = self.kind();
        match self.tag() {
            "button" => !["button", "reset"].contains(&kind.as_str()),
            "input" => ["submit", "image"].contains(&kind.as_str()),
            _ => false,
        }
    }

    fn is_first_submitter(self) -> bool {
        let Some(form) = self.form().filter(|_| self.is_submitter()) else {
            return false;
        };
        let mut inside = self.inside(form);
        inside
            .find(|field| field.is_submitter())
            .map(|field| field.node)
            == Some(self.node)
    }

    /// All elements in `around`, in order.
    fn inside(self, around: NodeId) -> impl Iterator<Item = Field<'d>> {
        let dom = self.dom;
        let mut left: Vec<NodeId> = vec![around];
        std::iter::from_fn(move || {
            let node = left.pop()?;
            let mut children: Vec<NodeId> = dom.children(node).collect();
            children.reverse();
            left.append(&mut children);
            Some(Field { dom, node })
        })
        .skip(1)
        .filter(|field| !field.tag().is_empty())
    }

    /// Whether what it holds is as it must be; `None` where nothing is asked of it
    /// (HTML, §4.10.20). Patterns and URLs are taken to be met.
    fn is_valid(self) -> Option<bool> {
        match self.tag() {
            "form" | "fieldset" => Some(
                self.inside(self.node)
                    .all(|field| field.tag() == "fieldset" || field.is_valid() != Some(false)),
            ),
            "button" => (self.is_submitter() && !self.is_disabled()).then_some(true),
            "select" | "textarea" | "input" if self.is_checked_at_all() => {
                Some(!self.is_missing() && !self.is_mistyped() && self.is_in_range() != Some(false))
            }
            _ => None,
        }
    }

    /// Whether constraints count for it.
    fn is_checked_at_all(self) -> bool {
        let kind = self.kind();
        let barred =
            self.tag() == "input" && ["hidden", "button", "reset"].contains(&kind.as_str());
        let fixed = self.tag() != "select" && self.has("readonly");
        !(barred || fixed || self.is_disabled())
    }

    fn is_missing(self) -> bool {
        if !self.has("required") || !self.can_be_required() {
            return false;
        }
        match self.tag() {
            "select" => {
                let options = || {
                    self.inside(self.node)
                        .filter(|field| field.tag() == "option")
                };
                let chosen = options().find(|option| option.has("selected"));
                let chosen = chosen.or_else(|| options().find(|option| !option.is_disabled()));
                chosen.is_none_or(|option| option.attribute("value") == Some(""))
            }
            "input" if self.is_tick() => !self.has("checked"),
            _ => self.value().is_empty(),
        }
    }

    fn is_mistyped(self) -> bool {
        let value = self.value();
        if self.tag() != "input" || value.is_empty() {
            return false;
        }
        match self.kind().as_str() {
            "email" => {
                let parts = value.trim().split_once('@');
                !parts.is_some_and(|(name, host)| {
                    !name.is_empty()
                        && !host.is_empty()
                        && !host.contains('@')
                        && !value.trim().contains(char::is_whitespace)
                })
            }
            _ => false,
        }
    }

    /// Whether its number is within its bounds; `None` where it has none.
    fn is_in_range(self) -> Option<bool> {
        let kinds = ["number", "range"];
        if self.tag() != "input" || !kinds.contains(&self.kind().as_str()) {
            return None;
        }
        let number = |name: &str| self.attribute(name)?.trim().parse::<f64>().ok();
        let (least, most) = (number("min"), number("max"));
        if self.kind() == "number" && least.is_none() && most.is_none() {
            return None;
        }
        let Some(value) = number("value").filter(|_| self.kind() == "number") else {
            // A slider stays within by itself.
            return Some(true);
        };
        Some(least.is_none_or(|least| value >= least) && most.is_none_or(|most| value <= most))
    }
}

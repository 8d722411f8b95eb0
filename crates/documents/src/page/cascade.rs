//! The cascade (CSS Cascade 5, §6): which declarations win for an element, and
//! the style that they compute to.

use std::cell::RefCell;
use std::collections::{HashMap, HashSet};
use std::sync::Arc;

use selectors::context::{
    MatchingContext, MatchingForInvalidation, MatchingMode, NeedsSelectorFlags, QuirksMode,
    SelectorCaches,
};
use selectors::matching::matches_selector;
use selectors::parser::{Component, Selector};

use super::dom::{Dom, NodeId};
use super::element::Element;
use super::sheets::PlacedRule;
use super::variables::{LONGEST, Variables, refers, substitute};
use super::work::{DECLARATION, Work};
use crate::style::computed::{BoxStyle, CounterChanges, Display, LineHeight, Outer, TextStyle};
use crate::style::properties::{
    Given, Id, Parent, Style, Surroundings, all, for_child, is_wide, split,
};
use crate::style::read::{
    Css, Declaration, FontUnits, PseudoElement, RegisteredProperty, Rule, Sheet, Viewport,
};

/// All rules of a page, ordered for looking up.
pub(super) struct Cascade {
    rules: Vec<Candidate>,
    /// Rules by the id, class or tag of what they select; and all others.
    by_id: HashMap<String, Vec<usize>>,
    by_class: HashMap<String, Vec<usize>>,
    by_tag: HashMap<String, Vec<usize>>,
    others: Vec<usize>,
    /// Pseudo-elements that any rule is about.
    pseudos: HashSet<PseudoElement>,
    viewport: Viewport,
    quirks: bool,
    /// Whether boxes are computed too.
    boxes: bool,
    /// Custom properties with rules of their own.
    registered: Vec<RegisteredProperty>,
    /// What computing may still cost.
    pub work: Work,
    /// What selectors found of the tree, kept from element to element.
    caches: RefCell<SelectorCaches>,
    /// What was computed for elements that the same rules match in the same parent.
    shared: RefCell<HashMap<Alike, (Computed, Computed)>>,
}

/// The most computed styles that are kept at hand.
const MOST_SHARED: usize = 1024;

/// What elements have in common that compute to the same: the rules that match, and what
/// they inherit, by address.
#[derive(PartialEq, Eq, Hash)]
struct Alike {
    rules: Vec<usize>,
    parent: [usize; 3],
    root: u32,
    top: bool,
    menu: bool,
    pseudo: Option<PseudoElement>,
}

struct Candidate {
    selector: Selector<Css>,
    pseudo: Option<PseudoElement>,
    declarations: Arc<Vec<Declaration>>,
    /// Origin, layer, specificity; the order is that of the list.
    browser: bool,
    layer: usize,
}

/// What is computed for an element.
#[derive(Debug, Clone)]
pub(super) struct Computed {
    pub style: Arc<TextStyle>,
    pub variables: Arc<Variables>,
    /// `content`, for pseudo-elements; `None` where it is not set.
    pub content: Option<String>,
    /// What happens to counters.
    pub counters: CounterChanges,
    /// `display`.
    pub display: (Display, Outer),
    /// The box; the initial one where none are asked for.
    pub boxes: Arc<BoxStyle>,
}

impl Computed {
    /// What the root element inherits.
    pub fn initial() -> Self {
        Computed {
            style: Arc::new(TextStyle::default()),
            variables: Arc::default(),
            content: None,
            counters: CounterChanges::default(),
            display: (Display::Block, Outer::Block),
            boxes: Arc::default(),
        }
    }
}

impl Cascade {
    /// The cascade of these rules; with boxes where `boxes`.
    pub fn new(rules: Vec<PlacedRule>, viewport: Viewport, quirks: bool, boxes: bool) -> Self {
        let layers = Layers::of(&rules);
        let mut cascade = Cascade {
            rules: Vec::new(),
            by_id: HashMap::new(),
            by_class: HashMap::new(),
            by_tag: HashMap::new(),
            others: Vec::new(),
            pseudos: HashSet::new(),
            viewport,
            quirks,
            boxes,
            registered: Vec::new(),
            work: Work::default(),
            caches: RefCell::default(),
            shared: RefCell::default(),
        };
        for PlacedRule { item, browser } in rules {
            let (selectors, declarations) = match item.rule {
                Rule::Style {
                    selectors,
                    declarations,
                } => (selectors, declarations),
                Rule::Property(property) => {
                    // The last one counts.
                    cascade
                        .registered
                        .retain(|known| known.name != property.name);
                    cascade.registered.push(property);
                    continue;
                }
                _ => continue,
            };
            let declarations = Arc::new(declarations);
            for selector in selectors.slice() {
                cascade.add(Candidate {
                    pseudo: selector.pseudo_element().copied(),
                    selector: selector.clone(),
                    declarations: declarations.clone(),
                    browser,
                    layer: layers.rank(&item.layer),
                });
            }
        }
        cascade
    }

    fn add(&mut self, candidate: Candidate) {
        let number = self.rules.len();
        let bucket = match key(&candidate.selector, self.quirks) {
            Some(Key::Id(id)) => self.by_id.entry(id).or_default(),
            Some(Key::Class(class)) => self.by_class.entry(class).or_default(),
            Some(Key::Tag(tag)) => self.by_tag.entry(tag).or_default(),
            None => &mut self.others,
        };
        bucket.push(number);
        self.pseudos.extend(candidate.pseudo);
        self.rules.push(candidate);
    }

    /// Whether any rule is about this pseudo-element of `node`.
    pub fn has(&self, dom: &Dom, node: NodeId, pseudo: PseudoElement) -> bool {
        self.pseudos.contains(&pseudo) && !self.matching(dom, node, Some(pseudo)).is_empty()
    }

    /// The style of `node`, or of its pseudo-element, in a parent of the style
    /// `parent`; `root` is the root element's font size in px.
    pub fn compute(
        &self,
        dom: &Dom,
        node: NodeId,
        pseudo: Option<PseudoElement>,
        parent: &Computed,
        root: f32,
    ) -> Computed {
        let rules = self.matching(dom, node, pseudo);
        let attribute = match (pseudo, dom.attribute(node, "style")) {
            (None, Some(css)) => Sheet::read_attribute(css),
            _ => Vec::new(),
        };
        let hints = if pseudo.is_none() {
            super::hints::hints(dom, node)
        } else {
            Vec::new()
        };
        let top = pseudo.is_none() && dom.parent(node) == Some(dom.document());
        let menu = pseudo.is_none() && dom.tag(node) == Some("select");
        if !attribute.is_empty() || !hints.is_empty() {
            return self.settle(&rules, &hints, &attribute, parent, (root, top, menu));
        }
        let address = |address: *const ()| address.addr();
        let alike = Alike {
            parent: [
                address(Arc::as_ptr(&parent.style).cast()),
                address(Arc::as_ptr(&parent.variables).cast()),
                address(Arc::as_ptr(&parent.boxes).cast()),
            ],
            root: root.to_bits(),
            top,
            menu,
            pseudo,
            rules,
        };
        if let Some((computed, _)) = self.shared.borrow().get(&alike) {
            return computed.clone();
        }
        let computed = self.settle(&alike.rules, &[], &[], parent, (root, top, menu));
        let mut shared = self.shared.borrow_mut();
        if shared.len() >= MOST_SHARED {
            shared.clear();
        }
        // The parent is kept, so that nothing else comes to lie at its address.
        shared.insert(alike, (computed.clone(), parent.clone()));
        computed
    }

    /// The numbers of the rules that match `node`, or its pseudo-element, in order.
    fn matching(&self, dom: &Dom, node: NodeId, pseudo: Option<PseudoElement>) -> Vec<usize> {
        if self.work.is_spent() {
            return Vec::new();
        }
        let fold = |name: &str| {
            if self.quirks {
                name.to_ascii_lowercase()
            } else {
                name.to_owned()
            }
        };
        let mut numbers: Vec<usize> = self.others.clone();
        let mut look = |bucket: Option<&Vec<usize>>| numbers.extend(bucket.into_iter().flatten());
        look(
            dom.attribute(node, "id")
                .and_then(|id| self.by_id.get(&fold(id))),
        );
        let classes = dom.attribute(node, "class").unwrap_or_default();
        for class in classes.split_ascii_whitespace() {
            look(self.by_class.get(&fold(class)));
        }
        look(dom.tag(node).and_then(|tag| self.by_tag.get(tag)));
        numbers.sort_unstable();
        numbers.dedup();
        let mut caches = self.caches.borrow_mut();
        let mode = if pseudo.is_some() {
            MatchingMode::ForStatelessPseudoElement
        } else {
            MatchingMode::Normal
        };
        let quirks = if self.quirks {
            QuirksMode::Quirks
        } else {
            QuirksMode::NoQuirks
        };
        let mut context = MatchingContext::new(
            mode,
            None,
            &mut caches,
            quirks,
            NeedsSelectorFlags::No,
            MatchingForInvalidation::No,
        );
        let element = Element::new(dom, node, &self.work);
        numbers.retain(|number| {
            let rule = &self.rules[*number];
            rule.pseudo == pseudo
                && self.work.pay(1)
                && matches_selector(&rule.selector, 0, None, element, &mut context)
        });
        numbers
    }

    /// The style that `rules`, the presentational attributes `hints` and the `style`
    /// attribute make of a child of `parent`.
    fn settle(
        &self,
        rules: &[usize],
        hints: &[Declaration],
        attribute: &[Declaration],
        parent: &Computed,
        (root, top, menu): (f32, bool, bool),
    ) -> Computed {
        // Presentational attributes come before all other rules of the page.
        let mut winners: Vec<Ranked<'_>> = hints
            .iter()
            .map(|declaration| Ranked {
                declaration,
                browser: false,
                layer: 0,
                specificity: 0,
            })
            .collect();
        for rule in rules.iter().map(|number| &self.rules[*number]) {
            if !self.work.pay(rule.declarations.len() as u64 * DECLARATION) {
                break;
            }
            winners.extend(rule.declarations.iter().map(|declaration| Ranked {
                declaration,
                browser: rule.browser,
                layer: rule.layer,
                specificity: rule.selector.specificity(),
            }));
        }
        winners.extend(attribute.iter().map(|declaration| Ranked {
            declaration,
            browser: false,
            // The attribute counts as unlayered, above all selectors.
            layer: usize::MAX,
            specificity: u32::MAX,
        }));
        winners.sort_by_key(Ranked::key);
        let mut computed = self.decide(&winners, parent, root, top);
        if menu && !is_plain(&winners) {
            // Chromium draws menus in lines of their own, whatever is stated.
            Arc::make_mut(&mut computed.style).line_height = LineHeight::Normal;
        }
        computed
    }

    fn decide(&self, winners: &[Ranked<'_>], parent: &Computed, root: f32, top: bool) -> Computed {
        let rtl = self.boxes && right_to_left(winners, parent.boxes.rtl);
        let variables = variables(winners, &parent.variables, &self.registered, &self.work);
        let from = Parent {
            text: &parent.style,
            boxes: &parent.boxes,
            display: parent.display,
            content: &parent.content,
            counters: &parent.counters,
        };
        let around = Surroundings {
            parent: &parent.style,
            root,
            viewport: self.viewport,
        };
        let mut style = for_child(&from, self.boxes);
        let mut declared: Vec<Vec<Declared>> = Vec::new();
        declared.resize_with(all().len(), Vec::new);
        // Values are tried on a style that is thrown away.
        let mut scratch = style.clone();
        for ranked in winners {
            self.state(ranked, &variables, rtl, &mut scratch, around, &mut declared);
        }
        for id in all() {
            let longhand = id.longhand();
            if longhand.of_boxes && !self.boxes {
                continue;
            }
            let around = Surroundings {
                // Lengths of the root's own box are in its own size.
                root: if top && longhand.of_boxes {
                    style.text.size
                } else {
                    root
                },
                ..around
            };
            settle(id, &declared[id.place()], &mut style, &from, around);
            if longhand.name == "font-size" {
                let fixed_size = around.viewport.fixed_size;
                (style.text).settle_size(&parent.style, self.quirks, fixed_size);
            }
        }
        let Style {
            text,
            mut boxes,
            display,
            content,
            counters,
        } = style;
        let boxes = if self.boxes {
            (boxes.display, boxes.outer) = display;
            boxes.settle(top);
            Arc::new(boxes)
        } else {
            parent.boxes.clone()
        };
        Computed {
            style: Arc::new(text),
            variables,
            content,
            counters,
            display,
            boxes,
        }
    }

    /// Puts what a declaration says of each longhand behind what weaker ones say of it.
    fn state(
        &self,
        ranked: &Ranked<'_>,
        variables: &Variables,
        rtl: bool,
        scratch: &mut Style,
        around: Surroundings<'_>,
        declared: &mut [Vec<Declared>],
    ) {
        let Declaration { name, value, .. } = ranked.declaration;
        if name.starts_with("--") {
            return;
        }
        let referring = refers(value);
        let substituted = substitute(value, variables, &self.work);
        // Nothing is no value of any property.
        let substituted = substituted.filter(|value| !value.trim().is_empty());
        // What cannot be computed counts as `unset` (CSS Variables 1, §3.1), and so does what
        // turns out to be wrong once references are replaced.
        let text = substituted.as_deref().unwrap_or("unset");
        let set = match split(name, text.trim(), rtl) {
            Some(set) if Id::of(name).is_some() => Some(set),
            // A shorthand is invalid where any part of it is.
            Some(set) => set
                .iter()
                .all(|(id, value)| self.is_valid(*id, value, scratch, around))
                .then_some(set),
            None => None,
        };
        let set = match set {
            None if referring => split(name, "unset", rtl),
            set => set,
        };
        for (id, value) in set.into_iter().flatten() {
            declared[id.place()].push(Declared {
                value,
                referring,
                browser: ranked.browser,
                layer: ranked.layer,
            });
        }
    }

    fn is_valid(&self, id: Id, value: &str, scratch: &mut Style, around: Surroundings<'_>) -> bool {
        let longhand = id.longhand();
        if is_wide(value) || (longhand.of_boxes && !self.boxes) {
            return true;
        }
        let valid = put(id, value, scratch, around).is_some();
        scratch.boxes.unsupported.clear();
        valid
    }
}

/// What a declaration says of a longhand.
struct Declared {
    value: String,
    /// Whether it referred to custom properties.
    referring: bool,
    browser: bool,
    layer: usize,
}

/// Puts a value to a style; `None` where it is invalid.
fn put(id: Id, value: &str, style: &mut Style, around: Surroundings<'_>) -> Option<()> {
    let lower = value.to_ascii_lowercase();
    let given = Given {
        text: value,
        lower: &lower,
        em: style.text.size,
        rtl: style.boxes.rtl,
        around,
    };
    let longhand = id.longhand();
    (longhand.set)(style, &given)?;
    style.boxes.in_font_units |= longhand.of_boxes && FontUnits::are_in(&lower);
    Some(())
}

/// Gives a longhand the strongest of the values that are valid; `declared` from the weakest on.
fn settle(
    id: Id,
    declared: &[Declared],
    style: &mut Style,
    parent: &Parent<'_>,
    around: Surroundings<'_>,
) {
    let longhand = id.longhand();
    let (mut of_browser, mut below) = (false, usize::MAX);
    for (at, one) in declared.iter().enumerate().rev() {
        if (of_browser && !one.browser) || at >= below {
            continue;
        }
        let lower = one.value.to_ascii_lowercase();
        let unset = if longhand.inherited {
            "inherit"
        } else {
            "initial"
        };
        let wide = match lower.as_str() {
            "unset" => unset,
            other => other,
        };
        match wide {
            "inherit" => return (longhand.copy)(style, parent),
            "initial" => {
                let _ = put(id, longhand.initial, style, around);
                return;
            }
            // What other origins say (CSS Cascade 5, §7.3.3).
            "revert" if one.browser => break,
            "revert" => of_browser = true,
            // What weaker layers say.
            "revert-layer" => {
                let same =
                    |other: &Declared| other.layer == one.layer && other.browser == one.browser;
                below = declared[..at]
                    .iter()
                    .rposition(|other| !same(other))
                    .map_or(0, |at| at + 1);
            }
            _ => {
                if put(id, &one.value, style, around).is_some() {
                    return;
                }
                if one.referring {
                    if unset == "inherit" {
                        (longhand.copy)(style, parent);
                    } else {
                        let _ = put(id, longhand.initial, style, around);
                    }
                    return;
                }
            }
        }
    }
}

/// Whether a control is drawn without its native looks (CSS UI 4, §8.1).
fn is_plain(winners: &[Ranked<'_>]) -> bool {
    let declared = winners.iter().rev().find(|ranked| {
        ["appearance", "-webkit-appearance"].contains(&ranked.declaration.name.as_str())
    });
    declared.is_some_and(|ranked| ranked.declaration.value.eq_ignore_ascii_case("none"))
}

/// `direction` of an element, which decides where the starts of its sides are.
fn right_to_left(winners: &[Ranked<'_>], inherited: bool) -> bool {
    let declared = winners
        .iter()
        .rev()
        .find(|ranked| ranked.declaration.name == "direction");
    match declared.map(|ranked| ranked.declaration.value.to_ascii_lowercase()) {
        Some(value) if value == "rtl" => true,
        Some(value) if value == "ltr" || value == "initial" => false,
        _ => inherited,
    }
}

/// How long the custom properties that an element sets may become in all, in
/// bytes; what is beyond counts as invalid.
const MOST_SUBSTITUTED: usize = 1 << 20;

/// The custom properties of an element: its own over those of its parent.
fn variables(
    winners: &[Ranked<'_>],
    inherited: &Arc<Variables>,
    registered: &[RegisteredProperty],
    work: &Work,
) -> Arc<Variables> {
    let initial = |name: &str| {
        let known = registered.iter().find(|property| property.name == name);
        known.and_then(|property| property.initial.clone())
    };
    let anew: Vec<&RegisteredProperty> = registered
        .iter()
        .filter(|property| {
            let inherited = inherited.get(&property.name);
            inherited != property.initial.as_ref() && (!property.inherits || inherited.is_none())
        })
        .collect();
    let declared = winners
        .iter()
        .filter(|ranked| ranked.declaration.name.starts_with("--"));
    let mut declared = declared.peekable();
    if (declared.peek().is_none() && anew.is_empty()) || work.is_spent() {
        return inherited.clone();
    }
    let mut all = (**inherited).clone();
    for property in anew {
        match &property.initial {
            Some(value) => all.insert(property.name.clone(), value.clone()),
            None => all.remove(&property.name),
        };
    }
    let inherits = |name: &str| {
        let known = registered.iter().find(|property| property.name == name);
        known.is_none_or(|property| property.inherits)
    };
    let mut changed = Vec::new();
    for ranked in declared {
        let Declaration { name, value, .. } = ranked.declaration;
        match value.to_ascii_lowercase().as_str() {
            "initial" => match initial(name) {
                Some(value) => {
                    all.insert(name.clone(), value);
                }
                None => {
                    all.remove(name);
                }
            },
            "unset" if !inherits(name) => match initial(name) {
                Some(value) => {
                    all.insert(name.clone(), value);
                }
                None => {
                    all.remove(name);
                }
            },
            "inherit" | "unset" => match inherited.get(name) {
                Some(value) => {
                    all.insert(name.clone(), value.clone());
                }
                None => {
                    all.remove(name);
                }
            },
            _ if value.len() > LONGEST => {
                all.remove(name);
            }
            _ => {
                work.pay(value.len() as u64 / 8);
                all.insert(name.clone(), value.clone());
                changed.push(name.clone());
            }
        }
    }
    // References mean the values on this element, not on those that inherit.
    let mut settled = all.clone();
    let mut room = MOST_SUBSTITUTED;
    for name in changed {
        if let Some(value) = all.get(&name) {
            let value = substitute(value, &all, work).filter(|value| value.len() <= room);
            match value {
                Some(value) => {
                    room -= value.len();
                    settled.insert(name, value);
                }
                None => {
                    settled.remove(&name);
                }
            }
        }
    }
    // Most elements that a reset sets them for set what they inherit.
    if settled == **inherited {
        return inherited.clone();
    }
    Arc::new(settled)
}

/// A declaration with what decides over it.
struct Ranked<'a> {
    declaration: &'a Declaration,
    browser: bool,
    layer: usize,
    specificity: u32,
}

impl Ranked<'_> {
    /// From the weakest to the strongest; the sort is stable, so the order of
    /// the sheets decides the rest.
    fn key(&self) -> (u8, usize, u32) {
        let (stage, layer) = match (self.browser, self.declaration.important) {
            (true, false) => (0, self.layer),
            (false, false) => (1, self.layer),
            // Among important declarations the earlier layer is stronger.
            (false, true) => (2, usize::MAX - self.layer),
            (true, true) => (3, usize::MAX - self.layer),
        };
        let inline_important =
            self.specificity == u32::MAX && self.declaration.important && !self.browser;
        let layer = if inline_important { usize::MAX } else { layer };
        (stage, layer, self.specificity)
    }
}

enum Key {
    Id(String),
    Class(String),
    Tag(String),
}

/// What an element must have to be selected at all.
fn key(selector: &Selector<Css>, quirks: bool) -> Option<Key> {
    let fold = |name: &str| {
        if quirks {
            name.to_ascii_lowercase()
        } else {
            name.to_owned()
        }
    };
    let mut best = None;
    // The compound of a pseudo-element stands apart from that of its element.
    let mut parts = selector.iter();
    loop {
        for part in parts.by_ref() {
            match part {
                Component::ID(id) => return Some(Key::Id(fold(&id.0))),
                Component::Class(class) => best = Some(Key::Class(fold(&class.0))),
                Component::LocalName(name) if best.is_none() => {
                    best = Some(Key::Tag(name.lower_name.0.clone()));
                }
                _ => {}
            }
        }
        match parts.next_sequence() {
            Some(combinator) if combinator.is_pseudo_element() => {}
            _ => return best,
        }
    }
}

/// The order of cascade layers (CSS Cascade 5, §6.4.3): by first appearance,
/// nested ones before what stands in their layer directly.
struct Layers(Vec<Vec<String>>);

impl Layers {
    fn of(rules: &[PlacedRule]) -> Self {
        let mut known: Vec<Vec<String>> = Vec::new();
        let mut note = |path: &[String]| {
            for length in 1..=path.len() {
                if !known.iter().any(|known| known == &path[..length]) {
                    known.push(path[..length].to_vec());
                }
            }
        };
        for rule in rules {
            if let Rule::Layers(names) = &rule.item.rule {
                names.iter().for_each(|name| note(name));
            }
            note(&rule.item.layer);
        }
        let mut ordered = Vec::new();
        place(&known, &[], &mut ordered);
        Layers(ordered)
    }

    /// Unlayered rules come last, so they win.
    fn rank(&self, layer: &[String]) -> usize {
        if layer.is_empty() {
            return usize::MAX;
        }
        self.0
            .iter()
            .position(|known| known == layer)
            .map_or(usize::MAX, |place| place + 1)
    }
}

fn place(known: &[Vec<String>], around: &[String], ordered: &mut Vec<Vec<String>>) {
    let inside = |path: &&Vec<String>| path.len() == around.len() + 1 && path.starts_with(around);
    for path in known.iter().filter(inside) {
        place(known, path, ordered);
        ordered.push(path.clone());
    }
}

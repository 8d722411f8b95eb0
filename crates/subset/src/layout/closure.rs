//! Which glyphs the substitutions of the features that stay can lead to.

use std::collections::BTreeSet;

use super::context::{Classes, Context, Record, Rule, Rules};
use super::substitution::Substitution;
use super::table::{Features, Layout};
use crate::CutError;
use crate::bytes::Budget;
use crate::glyphs::GlyphSet;

/// Contexts that apply contexts, at most: as deep as shapers go.
const DEEPEST: usize = 64;

/// Adds to `set` every glyph that the features which stay can make of its glyphs.
pub(crate) fn close_over_substitutions(
    layout: &Layout<Substitution>,
    features: &Features,
    set: &mut GlyphSet,
    budget: &Budget,
) -> Result<(), CutError> {
    let entries = layout.entry_lookups(features);
    loop {
        let before = set.len();
        let mut closure = Closure {
            layout,
            set,
            budget,
            done: BTreeSet::new(),
        };
        for lookup in &entries {
            closure.apply(*lookup, None, 0)?;
        }
        if set.len() == before {
            return Ok(());
        }
    }
}

struct Closure<'a> {
    layout: &'a Layout<Substitution>,
    set: &'a mut GlyphSet,
    budget: &'a Budget,
    /// Lookups that were applied to all glyphs in this round.
    done: BTreeSet<u16>,
}

/// Glyphs that may stand where a lookup is applied; `None`: any.
type Active<'g> = Option<&'g BTreeSet<u16>>;

impl Closure<'_> {
    fn stands(&self, glyph: u16, active: Active<'_>) -> bool {
        self.set.contains(glyph) && active.is_none_or(|active| active.contains(&glyph))
    }

    fn any(&self, set: &[u16]) -> Result<bool, CutError> {
        self.budget.spend(set.len() as u64)?;
        Ok(set.iter().any(|glyph| self.set.contains(*glyph)))
    }

    fn all(&self, glyphs: &[u16]) -> bool {
        glyphs.iter().all(|glyph| self.set.contains(*glyph))
    }

    fn apply(&mut self, lookup: u16, active: Active<'_>, depth: usize) -> Result<(), CutError> {
        if depth > DEEPEST || active.is_none() && !self.done.insert(lookup) {
            return Ok(());
        }
        let layout = self.layout;
        let Some(lookup) = layout.lookups.get(usize::from(lookup)) else {
            return Ok(());
        };
        for subtable in &lookup.subtables {
            self.budget.spend(1)?;
            match subtable {
                Substitution::Single(pairs) => {
                    self.budget.spend(pairs.len() as u64)?;
                    for (from, to) in pairs {
                        if self.stands(*from, active) {
                            self.set.insert(*to);
                        }
                    }
                }
                Substitution::Multiple(of) | Substitution::Alternate(of) => {
                    for (from, to) in of {
                        self.budget.spend(1 + to.len() as u64)?;
                        if self.stands(*from, active) {
                            for glyph in to {
                                self.set.insert(*glyph);
                            }
                        }
                    }
                }
                Substitution::Ligature(of) => {
                    for (first, ligatures) in of {
                        self.budget.spend(1)?;
                        if !self.stands(*first, active) {
                            continue;
                        }
                        for ligature in ligatures {
                            self.budget.spend(1 + ligature.parts.len() as u64)?;
                            if self.all(&ligature.parts) {
                                self.set.insert(ligature.glyph);
                            }
                        }
                    }
                }
                Substitution::Context(context) => self.context(context, active, depth)?,
                Substitution::Reverse {
                    pairs,
                    backtrack,
                    lookahead,
                } => {
                    let mut possible = true;
                    for around in backtrack.iter().chain(lookahead) {
                        possible &= self.any(around)?;
                    }
                    self.budget.spend(pairs.len() as u64)?;
                    for (from, to) in pairs {
                        if possible && self.stands(*from, active) {
                            self.set.insert(*to);
                        }
                    }
                }
            }
        }
        Ok(())
    }

    fn context(
        &mut self,
        context: &Context,
        active: Active<'_>,
        depth: usize,
    ) -> Result<(), CutError> {
        match &context.rules {
            Rules::Glyphs(sets) => self.glyph_rules(sets, active, depth),
            Rules::Classes { .. } => self.class_rules(&context.rules, active, depth),
            Rules::Sets { .. } => self.set_rule(&context.rules, active, depth),
        }
    }

    /// Rules for glyphs, by their first one.
    fn glyph_rules(
        &mut self,
        sets: &[(u16, Vec<Rule>)],
        active: Active<'_>,
        depth: usize,
    ) -> Result<(), CutError> {
        for (first, rules) in sets {
            self.budget.spend(1)?;
            if !self.stands(*first, active) {
                continue;
            }
            for rule in rules {
                self.spend_rule(rule)?;
                if self.all(&rule.backtrack) && self.all(&rule.input) && self.all(&rule.lookahead) {
                    let at = |position: usize| match position {
                        0 => Some(BTreeSet::from([*first])),
                        _ => rule.input.get(position - 1).map(|g| BTreeSet::from([*g])),
                    };
                    self.records(&rule.records, &at, depth)?;
                }
            }
        }
        Ok(())
    }

    /// Rules for classes of glyphs.
    fn class_rules(
        &mut self,
        rules: &Rules,
        active: Active<'_>,
        depth: usize,
    ) -> Result<(), CutError> {
        let Rules::Classes {
            first,
            backtrack,
            input,
            lookahead,
            sets,
        } = rules
        else {
            return Ok(());
        };
        let present = |classes: &Classes, closure: &Self| -> Result<BTreeSet<u16>, CutError> {
            closure.budget.spend(classes.len() as u64)?;
            let here = classes.iter().filter(|(g, _)| closure.set.contains(**g));
            Ok(here.map(|(_, class)| *class).chain([0]).collect())
        };
        let back = present(backtrack, self)?;
        let inner = present(input, self)?;
        let ahead = present(lookahead, self)?;
        self.budget.spend(first.len() as u64)?;
        let class = |glyph: &u16| input.get(glyph).copied().unwrap_or(0);
        let starts: Vec<u16> = (first.iter().copied())
            .filter(|glyph| self.stands(*glyph, active))
            .collect();
        for (of, rules) in (0u16..).zip(sets) {
            let here: BTreeSet<u16> = if rules.is_empty() {
                continue;
            } else {
                self.budget.spend(starts.len() as u64)?;
                (starts.iter().copied())
                    .filter(|glyph| class(glyph) == of)
                    .collect()
            };
            if here.is_empty() {
                continue;
            }
            for rule in rules {
                self.spend_rule(rule)?;
                let known = |classes: &[u16], present: &BTreeSet<u16>| {
                    classes.iter().all(|class| present.contains(class))
                };
                if known(&rule.backtrack, &back)
                    && known(&rule.input, &inner)
                    && known(&rule.lookahead, &ahead)
                {
                    let at = |position: usize| match position {
                        0 => Some(here.clone()),
                        _ => (rule.input.get(position - 1))
                            .filter(|class| **class != 0)
                            .map(|of| {
                                let of_class = input.iter().filter(|(_, c)| *c == of);
                                of_class.map(|(glyph, _)| *glyph).collect()
                            }),
                    };
                    self.records(&rule.records, &at, depth)?;
                }
            }
        }
        Ok(())
    }

    /// A rule of one set of glyphs for each position.
    fn set_rule(
        &mut self,
        rules: &Rules,
        active: Active<'_>,
        depth: usize,
    ) -> Result<(), CutError> {
        let Rules::Sets {
            backtrack,
            input,
            lookahead,
            records,
        } = rules
        else {
            return Ok(());
        };
        for set in backtrack.iter().chain(input).chain(lookahead) {
            if !self.any(set)? {
                return Ok(());
            }
        }
        let Some(first) = input.first() else {
            return Ok(());
        };
        let first: BTreeSet<u16> = (first.iter().copied())
            .filter(|glyph| self.stands(*glyph, active))
            .collect();
        if first.is_empty() {
            return Ok(());
        }
        let at = |position: usize| match position {
            0 => Some(first.clone()),
            _ => input.get(position).map(|set| set.iter().copied().collect()),
        };
        self.records(records, &at, depth)?;
        Ok(())
    }

    fn spend_rule(&self, rule: &Rule) -> Result<(), CutError> {
        let glyphs = rule.backtrack.len() + rule.input.len() + rule.lookahead.len();
        self.budget.spend(1 + glyphs as u64)
    }

    /// Applies the lookups of a rule that matches, each to the glyphs that may stand at
    /// its position: those of the rule, as long as nothing before has changed them.
    fn records(
        &mut self,
        records: &[Record],
        at: &dyn Fn(usize) -> Option<BTreeSet<u16>>,
        depth: usize,
    ) -> Result<(), CutError> {
        let mut touched = BTreeSet::new();
        let mut moved = false;
        for record in records {
            let fresh = touched.insert(record.position) && !moved;
            let glyphs = if fresh {
                at(usize::from(record.position))
            } else {
                None
            };
            self.budget
                .spend(glyphs.as_ref().map_or(1, BTreeSet::len) as u64)?;
            self.apply(record.lookup, glyphs.as_ref(), depth + 1)?;
            let lookup = self.layout.lookups.get(usize::from(record.lookup));
            moved |= lookup.is_none_or(|lookup| {
                let keeps = |of: &Substitution| {
                    matches!(of, Substitution::Single(_) | Substitution::Alternate(_))
                };
                !lookup.subtables.iter().all(keeps)
            });
        }
        Ok(())
    }
}

//! The values of counters on the way through a page (CSS Lists 3, §4).

use std::collections::HashMap;

use crate::style::computed::CounterChanges;

/// The most counters of one name around an element that `counters()` tells.
const MOST_AROUND: usize = 256;

/// A counter that an element made.
#[derive(Debug, Clone, Copy)]
struct Instance {
    /// How deep the element is.
    depth: usize,
    value: i32,
}

/// All counters where the way leads, and how deep it is.
#[derive(Debug, Default)]
pub(super) struct Counters {
    depth: usize,
    /// By name, the outermost first.
    known: HashMap<String, Vec<Instance>>,
    /// The names that elements at each depth made, the outermost first.
    made: Vec<Vec<String>>,
}

impl Counters {
    /// Goes into an element, which changes them; nothing changes them where it has no box.
    pub fn enter(&mut self, changes: Option<&CounterChanges>) {
        self.depth += 1;
        if let Some(changes) = changes {
            self.change(changes);
        }
    }

    /// Goes out of an element: what is in it is no longer seen.
    pub fn leave(&mut self) {
        for names in self.made.drain(self.made.len().min(self.depth + 1)..) {
            for name in names {
                if let Some(instances) = self.known.get_mut(&name) {
                    while instances.last().is_some_and(|last| last.depth > self.depth) {
                        instances.pop();
                    }
                }
            }
        }
        self.depth = self.depth.saturating_sub(1);
    }

    /// Goes past a pseudo-element of the element that was entered last.
    pub fn pass(&mut self, changes: &CounterChanges) {
        self.depth += 1;
        self.change(changes);
        self.depth -= 1;
    }

    /// The number of a list item, which is a counter too.
    pub fn item(&mut self, number: usize) {
        self.start("list-item", i32::try_from(number).unwrap_or(i32::MAX));
    }

    /// The value of the innermost counter of a name; 0 where there is none.
    pub fn value(&self, name: &str) -> i32 {
        let innermost = self.known.get(name).and_then(|known| known.last());
        innermost.map_or(0, |instance| instance.value)
    }

    /// The values of all counters of a name, the outermost first; 0 where there is none.
    pub fn values(&self, name: &str) -> Vec<i32> {
        match self.known.get(name).filter(|known| !known.is_empty()) {
            Some(known) => {
                let skipped = known.len().saturating_sub(MOST_AROUND);
                known[skipped..].iter().map(|one| one.value).collect()
            }
            None => vec![0],
        }
    }

    fn change(&mut self, changes: &CounterChanges) {
        for (name, number) in &changes.reset {
            self.start(name, *number);
        }
        for (name, by) in &changes.increment {
            let value = self.found(name);
            // One that would leave the whole numbers stays (CSS Lists 3, §4.2).
            *value = value.checked_add(*by).unwrap_or(*value);
        }
        for (name, number) in &changes.set {
            *self.found(name) = *number;
        }
    }

    /// Makes a counter; it takes the place of one that a sibling made.
    fn start(&mut self, name: &str, value: i32) {
        let instances = self.known.entry(name.to_owned()).or_default();
        let made = Instance {
            depth: self.depth,
            value,
        };
        match instances.last_mut() {
            Some(last) if last.depth == self.depth => *last = made,
            _ => {
                instances.push(made);
                let depth = self.depth.max(1);
                self.made
                    .resize_with(self.made.len().max(depth + 1), Vec::new);
                self.made[depth].push(name.to_owned());
            }
        }
    }

    /// The innermost counter of a name, which is made where there is none.
    fn found(&mut self, name: &str) -> &mut i32 {
        if self.known.get(name).is_none_or(Vec::is_empty) {
            self.start(name, 0);
        }
        let known = self.known.entry(name.to_owned()).or_default();
        if known.is_empty() {
            known.push(Instance { depth: 0, value: 0 });
        }
        let last = known.len() - 1;
        &mut known[last].value
    }
}

//! Families of the same metrics: which of them stands for one that is not there.

use super::device::same_name;
use super::{Family, Platform};

/// Families of the same metrics, which Chromium takes for each other where the system offers one;
/// the free ones come after the first.
pub const SAME_METRICS: [&[&str]; 6] = [
    &["Arial", "Arimo", "Liberation Sans"],
    &["Times New Roman", "Liberation Serif", "Tinos"],
    &["Courier New", "Cousine", "Liberation Mono"],
    &["Calibri", "Carlito"],
    &["Cambria", "Caladea"],
    &["Georgia", "Gelasio"],
];

/// The names that Chromium asks for in place of generic families on Linux.
const ASKED_FOR: [(&str, &str); 2] = [("Arial", "sans-serif"), ("Times New Roman", "serif")];

/// The free families that systems which have them take for the one called `name`. Not the other
/// way: systems with the first of each have no such table.
fn same_metrics(name: &str) -> impl Iterator<Item = &'static str> {
    let is_it = |alike: &&&[&str]| alike[0].eq_ignore_ascii_case(name);
    let alike = SAME_METRICS.iter().find(is_it);
    alike
        .into_iter()
        .flat_map(|alike| alike[1..].iter().copied())
}

impl Platform {
    /// The family called `name`, whatever its case, or taken for one of that name.
    pub(super) fn called(&self, name: &str) -> Option<&Family> {
        let of_name = |name: &str| {
            self.families
                .iter()
                .find(|family| same_name(&family.name, name))
        };
        of_name(name).or_else(|| {
            let alias = self
                .aliases
                .iter()
                .find(|(alias, _)| same_name(alias, name));
            alias.and_then(|(_, family)| of_name(family))
        })
    }

    /// The free family that stands for the one called `name`, of which it has the metrics.
    pub(super) fn stand_in(&self, name: &str) -> Option<&Family> {
        let family = same_metrics(name).find_map(|other| self.called(other))?;
        (!self.contradicts(name, &family.name)).then_some(family)
    }

    /// Names that families stand for here, each with its family: aliases, and those of the same
    /// metrics. None is among them that would make a generic family another than it is here.
    pub fn other_names(&self) -> Vec<(&str, &str)> {
        let aliases = (self.aliases.iter()).map(|(name, family)| (name.as_str(), family.as_str()));
        let aliases = aliases.filter(|(name, family)| !self.contradicts(name, family));
        let names = SAME_METRICS.iter().map(|alike| alike[0]);
        let missing = names.filter(|name| self.called(name).is_none());
        let found = missing.filter_map(|name| Some((name, self.stand_in(name)?.name.as_str())));
        aliases.chain(found).collect()
    }

    /// Whether `family` in place of `name` would be another one than the generic family that
    /// browsers ask for by that name.
    fn contradicts(&self, name: &str, family: &str) -> bool {
        let asked = ASKED_FOR.iter().find(|(asked, _)| same_name(asked, name));
        let generic = asked.and_then(|(_, keyword)| self.generic.get(*keyword));
        generic.is_some_and(|generic| !same_name(generic, family))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn free_families_stand_for_others_and_not_the_other_way() {
        let stand = |name: &str| same_metrics(name).collect::<Vec<_>>();
        assert_eq!(stand("arial"), ["Arimo", "Liberation Sans"]);
        assert!(stand("Liberation Sans").is_empty());
        assert!(stand("Skerrymark Sans").is_empty());
    }
}

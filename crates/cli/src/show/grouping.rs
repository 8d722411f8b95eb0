//! Many alike as one line of a list.

use std::cmp::Reverse;

/// From how many on alike ones stand in one line.
const MANY: usize = 6;

/// `all` as lines, those that occur most first: alike ones together where they are many,
/// else each by itself.
pub fn grouped<'a, T>(
    all: &[&'a T],
    alike: impl Fn(&T, &T) -> bool,
    times: impl Fn(&T) -> u64,
) -> Vec<Vec<&'a T>> {
    let mut groups: Vec<Vec<&T>> = Vec::new();
    for one in all {
        match groups.iter_mut().find(|group| alike(group[0], one)) {
            Some(group) => group.push(one),
            None => groups.push(vec![one]),
        }
    }
    let mut lines: Vec<Vec<&T>> = Vec::new();
    for group in groups {
        if group.len() >= MANY {
            lines.push(group);
        } else {
            lines.extend(group.into_iter().map(|one| vec![one]));
        }
    }
    // A stable sort: of equals the first stays first.
    lines.sort_by_key(|line| Reverse(line.iter().map(|one| times(one)).sum::<u64>()));
    lines
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn many_alike_are_one_line_and_few_are_not() {
        let all: Vec<(char, u64)> = "aaaaaabbccccccc".chars().zip(1..).collect();
        let all: Vec<&(char, u64)> = all.iter().collect();
        let lines = grouped(&all, |a, b| a.0 == b.0, |one| one.1);
        let heads: Vec<(char, usize)> = lines.iter().map(|line| (line[0].0, line.len())).collect();
        // 9 to 15 is more than 1 to 6; single ones come where their own number says.
        assert_eq!(heads, [('c', 7), ('a', 6), ('b', 1), ('b', 1)]);
        assert_eq!((lines[2][0].1, lines[3][0].1), (8, 7));
    }
}

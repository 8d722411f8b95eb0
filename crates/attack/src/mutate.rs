//! Files with a few changes, the same in every run.

use tidy_lattice_core::text::Dice;

/// Signs that formats of texts give a meaning.
const SIGNS: &[u8] = b"{}[]()<>\"'\\/*:;,.#@&%=!-|+~^$ \n\t\0\xff\xc3";

/// Numbers at which arithmetic turns.
const EDGES: [u16; 8] = [0, 1, 0x7f, 0xff, 0x7fff, 0x8000, 0xfffe, 0xffff];

/// The file with one to eight changes, three where it is a text, which fewer break: bytes, numbers and stretches of it replaced,
/// doubled, moved or cut off. Of a binary file the head, where tables are listed, is hit as
/// often as all the rest.
pub fn mutated(bytes: &[u8], binary: bool, dice: &mut Dice) -> Vec<u8> {
    let mut new = bytes.to_vec();
    for _ in 0..=dice.roll(if binary { 8 } else { 3 }) {
        if new.is_empty() {
            break;
        }
        let reach = if binary && dice.roll(2) == 0 {
            new.len().min(2048)
        } else {
            new.len()
        };
        let place = dice.roll(reach);
        let end = (place + 1 + dice.roll(64)).min(new.len());
        match dice.roll(8) {
            0 if binary => new[place] = dice.roll(256) as u8,
            0 => new[place] = SIGNS[dice.roll(SIGNS.len())],
            1 if binary => {
                let edge = EDGES[dice.roll(EDGES.len())].to_be_bytes();
                let end = (place + 2).min(new.len());
                new[place..end].copy_from_slice(&edge[..end - place]);
            }
            1 => new.insert(place, SIGNS[dice.roll(SIGNS.len())]),
            // What lies elsewhere in the file comes here, over it or between.
            2 | 3 => {
                let from = dice.roll(new.len());
                let part: Vec<u8> = new[from..(from + end - place).min(new.len())].to_vec();
                if binary {
                    let end = place + part.len().min(new.len() - place);
                    new[place..end].copy_from_slice(&part[..end - place]);
                } else {
                    new.splice(place..place, part);
                }
            }
            4 if binary => new[place..end].fill([0, 0xff][dice.roll(2)]),
            4 => drop(new.drain(place..end)),
            // The same again and again.
            5 if !binary => {
                let part = new[place..end].repeat(1 + dice.roll(40));
                new.splice(place..place, part);
            }
            6 if dice.roll(8) == 0 => new.truncate(place),
            _ => new[place] = new[place].wrapping_add([1, 255][dice.roll(2)]),
        }
    }
    new
}

#[cfg(test)]
mod tests {
    use tidy_lattice_core::text::Dice;

    use super::mutated;

    #[test]
    fn mutations_are_the_same_in_every_run_and_change_something() {
        let file: Vec<u8> = (0..=255).cycle().take(5000).collect();
        for binary in [false, true] {
            let all = || {
                let mut dice = Dice::new(3);
                (0..50)
                    .map(|_| mutated(&file, binary, &mut dice))
                    .collect::<Vec<_>>()
            };
            assert_eq!(all(), all());
            let changed = all().iter().filter(|new| **new != file).count();
            assert!(changed > 45, "{changed}");
            if binary {
                assert!(all().iter().all(|new| new.len() <= file.len()));
            }
        }
    }

    #[test]
    fn nothing_stays_nothing() {
        assert!(mutated(&[], true, &mut Dice::new(1)).is_empty());
    }
}

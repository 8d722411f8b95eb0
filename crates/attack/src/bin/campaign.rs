//! Mutates files and strikes with each: counts panics, inputs that take too long, and inputs
//! that take too much memory.
//!
//! `campaign [--rounds N] [--seconds N] [--seed N] [--keep FOLDER] FILE-OR-FOLDER...`
//!
//! The demo's files are always among the seeds. Each kind of file has the same share of the
//! rounds. Files that fail are kept, if a folder for them is named. Exit status 1 where
//! any did.

use std::collections::BTreeMap;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use std::sync::mpsc;
use std::time::{Duration, Instant};

use tidy_lattice_attack::{Dice, Laps, Target, mutated};

/// The most that a command may take with an input, in seconds of all processors together.
const MOST_SECONDS: f64 = 2.0;

/// The most memory that the program may come to hold on an input, in MB.
const MOST_MEMORY: u64 = 500;

/// How long an input is waited for before it is said to hang, in seconds of the clock.
const HANGS: Duration = Duration::from_secs(60);

/// Every so many rounds all is done with an input.
const THOROUGH: usize = 8;

/// Seeds beyond this size are left out, in bytes: mutating one takes longer than reading it.
const LARGEST: u64 = 3 << 20;

/// The most seeds of a kind.
const MOST_SEEDS: usize = 400;

/// The most of them that are packed: whatever is changed in these, most no longer unpack.
const MOST_PACKED: usize = 40;

struct Options {
    rounds: usize,
    seconds: u64,
    seed: u64,
    keep: Option<PathBuf>,
    seeds: Vec<PathBuf>,
}

type Seeds = BTreeMap<Target, Vec<(String, Vec<u8>)>>;

fn options() -> Result<Options, String> {
    let mut options = Options {
        rounds: 10_000,
        seconds: 3600,
        seed: 1,
        keep: None,
        seeds: Vec::new(),
    };
    let mut words = std::env::args().skip(1);
    while let Some(word) = words.next() {
        let mut number = || {
            let value = words.next().and_then(|value| value.parse().ok());
            value.ok_or_else(|| format!("{word} wants a number"))
        };
        match word.as_str() {
            "--rounds" => options.rounds = number()? as usize,
            "--seconds" => options.seconds = number()?,
            "--seed" => options.seed = number()?,
            "--keep" => options.keep = words.next().map(PathBuf::from),
            other if other.starts_with("--") => return Err(format!("there is no option {other}")),
            path => options.seeds.push(PathBuf::from(path)),
        }
    }
    Ok(options)
}

fn main() -> ExitCode {
    let options = match options() {
        Ok(options) => options,
        Err(error) => {
            eprintln!("{error}");
            return ExitCode::from(2);
        }
    };
    let seeds = seeds(&options.seeds);
    for (target, seeds) in &seeds {
        println!("{target:?}: {} seeds", seeds.len());
    }
    // Panics are counted, not printed each.
    std::panic::set_hook(Box::new(|_| {}));
    let (asks, asked) = mpsc::channel::<Strike>();
    let (answers, answered) = mpsc::channel();
    std::thread::spawn(move || {
        for strike in asked {
            if answers.send(strike.judged()).is_err() {
                return;
            }
        }
    });
    let begun = Instant::now();
    let mut dice = Dice::new(options.seed);
    let mut tally = Tally::default();
    for round in 0..options.rounds {
        if begun.elapsed() > Duration::from_secs(options.seconds) {
            break;
        }
        let strike = Strike::new(round, &seeds, &mut dice);
        if asks.send(strike.clone()).is_err() {
            break;
        }
        let outcome = answered.recv_timeout(HANGS);
        let hangs = outcome.is_err();
        tally.add(
            &strike,
            &outcome.unwrap_or(Outcome::Hangs),
            options.keep.as_deref(),
        );
        if hangs {
            // The thread cannot be stopped, so nothing after it would be measured.
            break;
        }
    }
    tally.print(begun.elapsed());
    if tally.failed == 0 {
        ExitCode::SUCCESS
    } else {
        ExitCode::FAILURE
    }
}

/// The files of folders and of the demo, by what they are good for.
fn seeds(named: &[PathBuf]) -> Seeds {
    let mut seeds = Seeds::new();
    let mut packed = 0;
    let mut add = |name: &str, bytes: Vec<u8>| {
        if let Some(target) = Target::of(name) {
            let seeds = seeds.entry(target).or_default();
            packed += usize::from(bytes.starts_with(b"wOF"));
            let fits = packed <= MOST_PACKED || !bytes.starts_with(b"wOF");
            if seeds.len() < MOST_SEEDS && fits {
                seeds.push((name.to_owned(), bytes));
            }
        }
    };
    for (path, bytes) in tidy_lattice_demo::files() {
        add(&path, bytes.to_vec());
    }
    let mut next: Vec<PathBuf> = named.to_vec();
    while let Some(path) = next.pop() {
        if path.is_symlink() && !named.contains(&path) {
            continue;
        }
        if let Ok(entries) = std::fs::read_dir(&path) {
            let mut inside: Vec<PathBuf> = entries.flatten().map(|entry| entry.path()).collect();
            inside.sort();
            next.extend(inside);
        } else if Target::of(&path.to_string_lossy()).is_some()
            && path.metadata().is_ok_and(|file| file.len() <= LARGEST)
            && let Ok(bytes) = std::fs::read(&path)
        {
            add(&path.to_string_lossy(), bytes);
        }
    }
    let card = seeds
        .get(&Target::Font)
        .and_then(|fonts| card_of(&fonts[0].1));
    if let Some(measured) = tidy_lattice_demo::file(MEASURED) {
        seeds
            .entry(Target::Measured)
            .or_default()
            .push(("a.cards.json".to_owned(), measured.to_vec()));
    }
    if let Some(card) = card {
        seeds
            .entry(Target::Card)
            .or_default()
            .push(("a.card.json".to_owned(), card));
    }
    seeds
}

/// What a page measured on one of the demo's devices.
const MEASURED: &str = "platforms/harbourdesk.cards.json";

/// The card of a font, as a seed.
fn card_of(bytes: &[u8]) -> Option<Vec<u8>> {
    use tidy_lattice_core::font::{CardSource, Face, FacePick, FontFile, Limits};
    let file = FontFile::read(bytes.to_vec(), Limits::DEFAULT).ok()?;
    let face = Face::open(&file, &FacePick::default()).ok()?;
    let card = tidy_lattice_core::record::record(&face, CardSource::default())?;
    Some(card.json().into_bytes())
}

/// One input.
#[derive(Clone)]
struct Strike {
    target: Target,
    name: String,
    bytes: Vec<u8>,
    thorough: bool,
}

#[derive(Debug)]
enum Outcome {
    Done {
        taken: bool,
        laps: Laps,
        memory: u64,
    },
    Panics(String),
    Hangs,
}

impl Strike {
    fn new(round: usize, seeds: &Seeds, dice: &mut Dice) -> Self {
        let targets: Vec<&Target> = seeds.keys().collect();
        let target = *targets[round % targets.len()];
        let seeds = &seeds[&target];
        let (name, seed) = &seeds[dice.roll(seeds.len())];
        Strike {
            target,
            name: name.clone(),
            bytes: mutated(seed, target == Target::Font, dice),
            thorough: (round / targets.len()).is_multiple_of(THOROUGH),
        }
    }

    fn run(&self) -> Outcome {
        reset_memory();
        let strike = || self.target.strike(&self.name, &self.bytes, self.thorough);
        match catch_unwind(AssertUnwindSafe(strike)) {
            Ok((taken, laps)) => Outcome::Done {
                taken,
                laps,
                memory: most_memory(),
            },
            Err(panic) => {
                let text = panic.downcast_ref::<String>().cloned();
                let text = text.or_else(|| panic.downcast_ref::<&str>().map(|s| (*s).to_owned()));
                Outcome::Panics(text.unwrap_or_default())
            }
        }
    }
}

impl Strike {
    /// What it comes to; an input that takes too long is tried again, since what else runs on
    /// the machine slows the processors for all.
    fn judged(&self) -> Outcome {
        const TRIES: usize = 3;
        let mut outcome = self.run();
        for _ in 1..TRIES {
            let Outcome::Done { laps, .. } = &outcome else {
                break;
            };
            if laps.seconds <= MOST_SECONDS {
                break;
            }
            match self.run() {
                Outcome::Done { laps: again, .. } if again.seconds >= laps.seconds => {}
                other => outcome = other,
            }
        }
        outcome
    }
}

/// Has the system forget the most that the program held so far.
fn reset_memory() {
    // Where it cannot, the most of all inputs so far is told of each.
    let _ = std::fs::write("/proc/self/clear_refs", "5");
}

/// The most that the program held since, in MB; 0 where that is not known.
fn most_memory() -> u64 {
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    let line = status.lines().find_map(|line| line.strip_prefix("VmHWM:"));
    let kilobytes = line.and_then(|line| line.split_whitespace().next()?.parse::<u64>().ok());
    kilobytes.unwrap_or(0) / 1024
}

#[derive(Default)]
struct Tally {
    rounds: BTreeMap<Target, (usize, usize)>,
    slowest: BTreeMap<Target, (f64, String)>,
    largest: u64,
    failed: usize,
}

impl Tally {
    fn add(&mut self, strike: &Strike, outcome: &Outcome, keep: Option<&Path>) {
        let rounds = self.rounds.entry(strike.target).or_default();
        rounds.0 += 1;
        let why = match outcome {
            Outcome::Done {
                taken,
                laps: Laps { command, seconds },
                memory,
            } => {
                rounds.1 += usize::from(*taken);
                self.largest = self.largest.max(*memory);
                let slowest = self.slowest.entry(strike.target).or_default();
                if *seconds > slowest.0 {
                    *slowest = (*seconds, strike.name.clone());
                }
                if *seconds > MOST_SECONDS {
                    format!("takes {seconds:.1} s in `{command}`")
                } else if *memory > MOST_MEMORY {
                    format!("holds {memory} MB")
                } else {
                    return;
                }
            }
            Outcome::Panics(text) => format!("panics: {text}"),
            Outcome::Hangs => format!("is not done after {} s", HANGS.as_secs()),
        };
        self.failed += 1;
        println!("{:?} from {} {why}", strike.target, strike.name);
        if let Some(folder) = keep {
            let name = Path::new(&strike.name).file_name().unwrap_or_default();
            let name = format!("{}-{}", self.failed, name.to_string_lossy());
            let kept = std::fs::create_dir_all(folder)
                .and_then(|()| std::fs::write(folder.join(name), &strike.bytes));
            if let Err(error) = kept {
                println!("  it cannot be kept in {}: {error}", folder.display());
            }
        }
    }

    fn print(&self, time: Duration) {
        println!("target    rounds  taken for one  slowest, s");
        for (target, (rounds, taken)) in &self.rounds {
            let slowest = self.slowest.get(target).map_or(0.0, |slowest| slowest.0);
            let name = format!("{target:?}");
            println!("{name:<9} {rounds:>6} {taken:>14} {slowest:>11.2}");
        }
        let all: usize = self.rounds.values().map(|(rounds, _)| rounds).sum();
        println!(
            "{all} inputs in {} s, {} MB at most: {} failed",
            time.as_secs(),
            self.largest,
            self.failed
        );
    }
}

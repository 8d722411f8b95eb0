//! Counting what a file of texts shows. Reading and counting take about as long,
//! so of large files each has a thread of its own.

use std::sync::mpsc::{Receiver, SyncSender, sync_channel};
use std::thread;

use tidy_lattice_core::content::{ContentError, Format, Part, Reading, Shown, read};
use tidy_lattice_core::need::Counter;

/// Files beyond this size are read and counted at the same time, in bytes.
const LARGE: usize = 4 << 20;

/// How much text goes from one thread to the other at once, in bytes.
const BATCH: usize = 256 << 10;

/// How many batches may wait.
const WAITING: usize = 4;

/// Language and part of texts.
pub type Kind = (Option<String>, Part);

/// Counters by language and part, in the order in which these occur.
pub type Counted = Vec<(Kind, Counter)>;

/// Counts what `bytes`, a file called `name`, shows.
pub fn count(
    bytes: &[u8],
    format: Format,
    reading: Reading<'_>,
    name: &str,
) -> Result<Counted, ContentError> {
    let mut counting = Counting::new(name);
    if bytes.len() < LARGE {
        read(bytes, format, reading, &mut |shown| counting.add(&shown))?;
        return Ok(counting.counted);
    }
    thread::scope(|scope| {
        let (sender, batches) = sync_channel(WAITING);
        let counter = scope.spawn(move || {
            counting.batches(&batches);
            counting.counted
        });
        let mut batch = Batch::default();
        let result = read(bytes, format, reading, &mut |shown| {
            batch.add(&shown);
            if batch.text.len() > BATCH {
                send(&sender, &mut batch);
            }
        });
        send(&sender, &mut batch);
        drop(sender);
        let counted = counter.join().unwrap_or_default();
        result.map(|()| counted)
    })
}

/// Hands a batch over. The other side only goes away if it panics, and then its
/// counters are missed soon enough.
fn send(sender: &SyncSender<Batch>, batch: &mut Batch) {
    let _ = sender.send(std::mem::take(batch));
}

/// Pieces of text on their way.
#[derive(Default)]
struct Batch {
    text: String,
    pieces: Vec<Piece>,
    /// Languages of this batch.
    languages: Vec<Option<String>>,
}

struct Piece {
    end: usize,
    line: u32,
    column: u32,
    language: usize,
    part: Part,
}

impl Batch {
    fn add(&mut self, shown: &Shown<'_>) {
        let same = |known: &Option<String>| known.as_deref() == shown.language;
        let language = self.languages.iter().position(same).unwrap_or_else(|| {
            self.languages.push(shown.language.map(str::to_owned));
            self.languages.len() - 1
        });
        self.text.push_str(shown.text);
        self.pieces.push(Piece {
            end: self.text.len(),
            line: shown.line,
            column: shown.column,
            language,
            part: shown.part,
        });
    }
}

struct Counting<'n> {
    name: &'n str,
    counted: Counted,
    last: usize,
}

impl<'n> Counting<'n> {
    fn new(name: &'n str) -> Self {
        Counting {
            name,
            counted: Vec::new(),
            last: 0,
        }
    }

    fn add(&mut self, shown: &Shown<'_>) {
        let same = |((language, part), _): &(Kind, Counter)| {
            language.as_deref() == shown.language && *part == shown.part
        };
        // Neighbours are mostly of one kind.
        if !self.counted.get(self.last).is_some_and(same) {
            self.last = self.counted.iter().position(same).unwrap_or_else(|| {
                let kind = (shown.language.map(str::to_owned), shown.part);
                self.counted.push((kind, Counter::default()));
                self.counted.len() - 1
            });
        }
        let counter = &mut self.counted[self.last].1;
        let source = counter.source(self.name);
        counter.add(shown.text, source, shown.line, shown.column);
    }

    fn batches(&mut self, batches: &Receiver<Batch>) {
        for batch in batches {
            let mut start = 0;
            for piece in &batch.pieces {
                self.add(&Shown {
                    text: &batch.text[start..piece.end],
                    line: piece.line,
                    column: piece.column,
                    language: batch.languages[piece.language].as_deref(),
                    part: piece.part,
                });
                start = piece.end;
            }
        }
    }
}

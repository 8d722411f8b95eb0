//! Pages as browsers show them, several browsers side by side: most of a visit is waiting.

use std::collections::BTreeMap;
use std::num::NonZero;
use std::path::PathBuf;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::mpsc::{self, Sender};
use std::thread;
use std::time::{Duration, Instant};

use tidy_lattice_browser::{
    BrowserError, Launch, Measured, MeasuredShift, Request, Server, Session, ShownFont,
};

/// How long a page is left alone before it is measured, in ms: longer than the
/// block period of `font-display: fallback`, shorter than its swap period.
const FIRST_REST: u32 = 400;

/// How long it is left alone after fonts came, in ms.
const SECOND_REST: u32 = 400;

/// How long after the page began its fonts may come at the latest, in ms: text that waits for
/// its font is not seen for 3 s (CSS Fonts 4, §4.9), and what is not seen counts for no shift.
const LATEST: f64 = 2_800.0;

/// How often a page is opened that took longer, as other programs kept the processor.
const MOST_TRIES: usize = 3;

/// The most elements whose fonts are asked for.
const MOST_ASKED: usize = 300;

/// How many visits are worth a browser of their own, which takes seconds to start.
const WORTH_ONE: usize = 4;

/// How many browsers are run for each processor: while one waits, another works.
const FOR_EACH_PROCESSOR: usize = 2;

/// The most browsers at once; each takes some hundred MB.
const MOST_BROWSERS: usize = 8;

/// What pages are served from.
#[derive(Debug)]
pub(super) struct Served<'a> {
    pub roots: &'a [PathBuf],
    pub maps: &'a [(String, PathBuf)],
    pub no_scripts: bool,
}

/// A page in a window.
#[derive(Debug, Clone)]
pub(super) struct Visit {
    /// Its path on the server.
    pub path: String,
    /// The width and height of the viewport, in px.
    pub size: (u32, u32),
}

/// Fonts by element.
pub(super) type Shown = BTreeMap<usize, Vec<ShownFont>>;

/// What was seen of a page.
#[derive(Debug)]
pub(super) struct Visited {
    /// The viewport that the browser really had.
    pub viewport: (u32, u32),
    pub before: Measured,
    pub after: Measured,
    pub shifts: Option<Vec<MeasuredShift>>,
    pub pictures: (Vec<u8>, Vec<u8>),
    /// The fonts of its blocks, where the browser tells.
    pub shown: Option<Shown>,
    pub requests: Vec<Request>,
    pub console: Vec<String>,
    /// What all addresses of the server began with.
    pub origin: String,
    pub took: Duration,
}

/// Makes all visits and gives each to `each`, in their order; the browser's version.
pub(super) fn make<E: From<BrowserError>>(
    launch: &Launch<'_>,
    served: &Served<'_>,
    visits: &[Visit],
    mut each: impl FnMut(usize, Visited) -> Result<(), E>,
) -> Result<String, E> {
    let next = AtomicUsize::new(0);
    // Nothing more is begun once anything failed.
    let stop = || next.store(visits.len(), Ordering::SeqCst);
    thread::scope(|scope| {
        let (tell, messages) = mpsc::channel();
        let next = &next;
        let start = |tell: Sender<Told>| {
            scope.spawn(move || {
                if let Err(error) = visit_in_turn(launch, served, visits, next, &tell) {
                    let _ = tell.send(Told::Failed(error));
                }
            });
        };
        let processors = thread::available_parallelism().map_or(1, NonZero::get);
        // A driver that runs already may have one browser alone.
        let alone = launch.endpoint.is_some();
        let mut more = if alone {
            0
        } else {
            browsers(visits.len(), processors) - 1
        };
        let mut spare = (more > 0).then(|| tell.clone());
        start(tell);
        let mut version = String::new();
        let mut waiting = BTreeMap::new();
        let mut wanted = 0;
        for message in messages {
            match message {
                Told::Started(started) => {
                    version = started;
                    // One after another: starting is what takes most.
                    if let Some(tell) = &spare {
                        start(tell.clone());
                        more -= 1;
                    }
                    if more == 0 {
                        spare = None;
                    }
                }
                Told::Visited(number, seen) => {
                    waiting.insert(number, *seen);
                }
                Told::Failed(error) => {
                    stop();
                    return Err(error.into());
                }
            }
            while let Some(seen) = waiting.remove(&wanted) {
                each(wanted, seen).inspect_err(|_| stop())?;
                wanted += 1;
            }
        }
        Ok(version)
    })
}

/// What a browser's thread tells.
enum Told {
    Started(String),
    Visited(usize, Box<Visited>),
    Failed(BrowserError),
}

/// How many browsers make so many visits with so many processors.
fn browsers(visits: usize, processors: usize) -> usize {
    let most = (processors * FOR_EACH_PROCESSOR).min(MOST_BROWSERS);
    visits.div_ceil(WORTH_ONE).clamp(1, most)
}

/// Starts a browser and makes one visit after another, while there are any.
fn visit_in_turn(
    launch: &Launch<'_>,
    served: &Served<'_>,
    visits: &[Visit],
    next: &AtomicUsize,
    tell: &Sender<Told>,
) -> Result<(), BrowserError> {
    let mut session = Session::start(launch)?;
    let mut messages = tell.send(Told::Started(session.version().to_owned()));
    while messages.is_ok() {
        let number = next.fetch_add(1, Ordering::SeqCst);
        let Some(visit) = visits.get(number) else {
            break;
        };
        let seen = make_one(&mut session, served, visit)?;
        messages = tell.send(Told::Visited(number, Box::new(seen)));
    }
    Ok(())
}

fn make_one(
    session: &mut Session,
    served: &Served<'_>,
    visit: &Visit,
) -> Result<Visited, BrowserError> {
    let mut tries = 1;
    loop {
        let (seen, begun) = try_one(session, served, visit)?;
        if begun <= LATEST || tries == MOST_TRIES {
            return Ok(seen);
        }
        tries += 1;
    }
}

/// What is seen of a page, and when its fonts came, in ms since it began.
fn try_one(
    session: &mut Session,
    served: &Served<'_>,
    visit: &Visit,
) -> Result<(Visited, f64), BrowserError> {
    // Firefox keeps web fonts by their address, so every visit has one of its own.
    let server =
        Server::start_mapped(served.roots, served.maps).map_err(|reason| BrowserError::NoRoom {
            what: "a port for the pages",
            reason,
        })?;
    if served.no_scripts {
        server.forbid_scripts();
    }
    let started = Instant::now();
    let viewport = session.view(visit.size.0, visit.size.1)?;
    session.console()?;
    server.hold_fonts();
    let seen = watch(session, &server, &server.url(&visit.path));
    // Whatever happens, nothing goes on waiting.
    server.let_go();
    let Seen {
        before,
        after,
        shifts,
        pictures,
        begun,
    } = seen?;
    let requests = server.take_requests();
    let took = started.elapsed();
    let blocks = after.blocks.iter().map(|block| block.number);
    let blocks: Vec<usize> = blocks.take(MOST_ASKED).collect();
    let visited = Visited {
        viewport,
        shown: session.shown_fonts(&blocks, &after.numbers)?,
        before,
        after,
        shifts,
        pictures,
        requests,
        console: session.console()?.unwrap_or_default(),
        origin: server.url(""),
        took,
    };
    Ok((visited, begun))
}

/// A page before and after its fonts came.
struct Seen {
    before: Measured,
    after: Measured,
    shifts: Option<Vec<MeasuredShift>>,
    pictures: (Vec<u8>, Vec<u8>),
    /// When its fonts came, in ms since it began.
    begun: f64,
}

/// Opens the page and measures it before and after fonts come.
fn watch(session: &mut Session, server: &Server, url: &str) -> Result<Seen, BrowserError> {
    session.open(url)?;
    session.settle(FIRST_REST)?;
    let before = session.measure()?;
    let first = session.screenshot()?;
    session.hold_drawing()?;
    // What moved while the page was read, as its parts came, did so without any font.
    let begun = session.now()?;
    server.let_go();
    session.faces_ready()?;
    session.settle(SECOND_REST)?;
    let after = session.measure()?;
    let mut shifts = session.shifts()?;
    if let Some(shifts) = &mut shifts {
        shifts.retain(|shift| shift.time >= begun);
    }
    let second = session.screenshot()?;
    Ok(Seen {
        before,
        after,
        shifts,
        pictures: (first, second),
        begun,
    })
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    #[rstest]
    #[case::one_page_in_three_windows(3, 2, 1)]
    #[case::two_pages(6, 2, 2)]
    #[case::many(100, 2, 4)]
    #[case::many_on_one_processor(100, 1, 2)]
    #[case::many_on_a_large_machine(1000, 64, 8)]
    #[case::none(0, 2, 1)]
    fn browsers_by_visits(
        #[case] visits: usize,
        #[case] processors: usize,
        #[case] expected: usize,
    ) {
        assert_eq!(browsers(visits, processors), expected);
    }
}

//! Progress bars, for work that takes over half a second, on a terminal; elsewhere a line where
//! it takes long.

use std::io::IsTerminal as _;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{self, RecvTimeoutError};
use std::thread;
use std::time::{Duration, Instant};

use indicatif::{ProgressBar, ProgressDrawTarget, ProgressStyle};

use crate::output;

/// Work shorter than this shows no bar.
const PATIENCE: Duration = Duration::from_millis(500);

/// Work longer than this is told where no bar shows.
const LONG: Duration = Duration::from_secs(5);

/// Says that work takes long, where no bar says it.
fn tell_long(label: &str) {
    if !std::io::stderr().is_terminal() {
        output::note(&format!("{label}: this takes a while"));
    }
}

/// A bar that shows itself only once the work has taken a while.
pub struct Progress {
    bar: ProgressBar,
    label: &'static str,
    started: Instant,
    shown: AtomicBool,
    announced: AtomicBool,
}

impl Progress {
    /// Starts counting `total` steps of work called `label`.
    pub fn start(label: &'static str, total: usize) -> Self {
        let bar = ProgressBar::with_draw_target(Some(total as u64), ProgressDrawTarget::hidden());
        if let Ok(style) = ProgressStyle::with_template("{msg} {wide_bar} {pos} of {len}") {
            bar.set_style(style);
        }
        bar.set_message(label);
        Progress {
            bar,
            label,
            started: Instant::now(),
            shown: AtomicBool::new(false),
            announced: AtomicBool::new(false),
        }
    }

    /// One step is done.
    pub fn step(&self) {
        if self.started.elapsed() > PATIENCE && !self.shown.swap(true, Ordering::Relaxed) {
            // This target draws nothing where standard error is no terminal.
            self.bar.set_draw_target(ProgressDrawTarget::stderr());
        }
        if self.started.elapsed() > LONG && !self.announced.swap(true, Ordering::Relaxed) {
            tell_long(self.label);
        }
        self.bar.inc(1);
    }
}

/// Does `work`, and turns a spinner called `label` while it takes long.
pub fn while_working<T>(label: &'static str, work: impl FnOnce() -> T) -> T {
    thread::scope(|scope| {
        let (working, done) = mpsc::channel::<()>();
        scope.spawn(move || {
            if done.recv_timeout(PATIENCE) == Err(RecvTimeoutError::Timeout) {
                let spinner = ProgressBar::new_spinner().with_message(label);
                spinner.enable_steady_tick(Duration::from_millis(100));
                // Ends when the other side is dropped, by a panic of the work too.
                if done.recv_timeout(LONG - PATIENCE) == Err(RecvTimeoutError::Timeout) {
                    tell_long(label);
                    let _ = done.recv();
                }
                spinner.finish_and_clear();
            }
        });
        let result = work();
        drop(working);
        result
    })
}

impl Drop for Progress {
    fn drop(&mut self) {
        self.bar.finish_and_clear();
    }
}

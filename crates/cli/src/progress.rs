//! Progress bars, for work that takes over half a second, on a terminal only.

use std::cell::Cell;
use std::time::{Duration, Instant};

use indicatif::{ProgressBar, ProgressDrawTarget, ProgressStyle};

/// Work shorter than this shows no bar.
const PATIENCE: Duration = Duration::from_millis(500);

/// A bar that shows itself only once the work has taken a while.
pub struct Progress {
    bar: ProgressBar,
    started: Instant,
    shown: Cell<bool>,
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
            started: Instant::now(),
            shown: Cell::new(false),
        }
    }

    /// One step is done.
    pub fn step(&self) {
        if !self.shown.get() && self.started.elapsed() > PATIENCE {
            self.shown.set(true);
            // This target draws nothing where standard error is no terminal.
            self.bar.set_draw_target(ProgressDrawTarget::stderr());
        }
        self.bar.inc(1);
    }
}

impl Drop for Progress {
    fn drop(&mut self) {
        self.bar.finish_and_clear();
    }
}

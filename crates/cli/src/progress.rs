//! Progress bars, for work that takes over half a second, on a terminal only.

use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{self, RecvTimeoutError};
use std::thread;
use std::time::{Duration, Instant};

use indicatif::{ProgressBar, ProgressDrawTarget, ProgressStyle};

/// Work shorter than this shows no bar.
const PATIENCE: Duration = Duration::from_millis(500);

/// A bar that shows itself only once the work has taken a while.
pub struct Progress {
    bar: ProgressBar,
    started: Instant,
    shown: AtomicBool,
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
            shown: AtomicBool::new(false),
        }
    }

    /// One step is done.
    pub fn step(&self) {
        if self.started.elapsed() > PATIENCE && !self.shown.swap(true, Ordering::Relaxed) {
            // This target draws nothing where standard error is no terminal.
            self.bar.set_draw_target(ProgressDrawTarget::stderr());
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
                let _ = done.recv();
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

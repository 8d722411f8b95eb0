//! What each command takes of the processors.

use rustix::time::{ClockId, clock_gettime};

/// The command that took longest of those that an input went through.
#[derive(Debug, Clone, Copy, Default)]
pub struct Laps {
    /// Which.
    pub command: &'static str,
    /// In seconds of all processors together.
    pub seconds: f64,
}

impl Laps {
    /// Does what `command` does.
    pub fn time<T>(&mut self, command: &'static str, work: impl FnOnce() -> T) -> T {
        let before = processor_seconds();
        let done = work();
        let seconds = processor_seconds() - before;
        if seconds > self.seconds {
            *self = Laps { command, seconds };
        }
        done
    }
}

/// What all threads of the program have used, in seconds.
fn processor_seconds() -> f64 {
    let time = clock_gettime(ClockId::ProcessCPUTime);
    time.tv_sec as f64 + time.tv_nsec as f64 / 1e9
}

//! `tidy-lattice`: will every character show, and will anything jump?

mod args;
mod commands;
mod error;
mod glossary;
mod input;
mod kept;
mod output;
mod posted;
mod progress;
mod recording;
mod results;
mod screen;
mod show;
mod signature;
mod watching;
mod writing;

use std::process::ExitCode;

use clap::Parser as _;

/// Pages and sheets make many small things: they take a third less time so.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

fn main() -> ExitCode {
    quiet_shielded_panics();
    tidy_on_interrupt();
    let args = args::Args::parse();
    args.colour.apply();
    let run = input::let_read(&args.may_read).and_then(|()| commands::run(&args));
    match run {
        Ok(outcome) => outcome.into(),
        Err(error) => {
            output::complain(&error);
            error.exit_code()
        }
    }
}

/// The exit status of a program that Ctrl-C ended.
const INTERRUPTED: i32 = 130;

/// Ctrl-C, and a request to end, first take away what is half done.
fn tidy_on_interrupt() {
    let handled = ctrlc::set_handler(|| {
        tidy_lattice_browser::end_all();
        writing::abandon();
        std::process::exit(INTERRUPTED);
    });
    // There is one handler, set once; without it the program just ends.
    let _ = handled;
}

/// The core shields itself against panics of font decoders on hostile files
/// and reports them as damaged fonts; the default hook would print them too.
fn quiet_shielded_panics() {
    let print = std::panic::take_hook();
    std::panic::set_hook(Box::new(move |panic| {
        let in_decoder = panic.location().is_some_and(|place| {
            ["wuff", "brotli", "flate2", "bytes-"]
                .iter()
                .any(|name| place.file().contains(name))
        });
        if !in_decoder {
            print(panic);
        }
    }));
}

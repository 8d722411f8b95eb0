//! `trace`: which font shows each piece of a text.

use std::path::Path;

use tidy_lattice_core::lattice::{Presentation, trace};
use tidy_lattice_core::page::StyleValue;
use tidy_lattice_core::platform::is_language_tag;
use tidy_lattice_project::Access;
use tidy_lattice_project::building::stand_for_missing;
use tidy_lattice_project::file::Project;
use tidy_lattice_project::request::StackRequest;
use tidy_lattice_project::stack::NamedStack;

use crate::args::{EmojiArg, SlopeArg, TraceArgs};
use crate::error::{CliError, Outcome};
use crate::progress::while_working;
use crate::results::{PlatformTrace, Traced};
use crate::{input, output, show};

/// The most text that is traced, in bytes.
const LONGEST: usize = 1 << 20;

/// Runs the command.
pub fn run(args: &TraceArgs, json: bool) -> Result<Outcome, CliError> {
    let access = input::access(&args.limits);
    let text = text(&args.text)?;
    let project = Project::find(args.stack.project.as_deref(), access)?;
    let mut request = args.stack.request();
    if request.fonts.is_empty() && request.stack.is_none() {
        stand_for_missing(&mut request.site, project.as_ref(), access)?;
    }
    let mut stack = NamedStack::read(&request, project.as_ref(), access)?;
    set(&mut stack, args)?;
    let presentation = match args.emoji {
        EmojiArg::Normal => Presentation::Normal,
        EmojiArg::Text => Presentation::Text,
        EmojiArg::Emoji => Presentation::Emoji,
    };
    let traced = while_working("Tracing", || {
        traced(text, &stack, presentation, args.before_load, access)
    });
    super::tell(json, "trace", &traced, || show::trace::view(&traced))?;
    Ok(Outcome::of(traced.platforms.iter().any(|platform| {
        platform.trace.left > 0
            || platform
                .trace
                .pieces
                .iter()
                .any(|piece| piece.flaw.is_some())
    })))
}

/// A text in a role of a project, as `trace --role` tells it.
pub fn trace_role(project: &Path, text: &str, role: &str) -> Result<Traced, CliError> {
    let access = input::plain_access();
    let request = StackRequest {
        role: Some(role.to_owned()),
        ..StackRequest::default()
    };
    let project = Project::find(Some(project), access)?;
    let stack = NamedStack::read(&request, project.as_ref(), access)?;
    let text = text.to_owned();
    Ok(traced(text, &stack, Presentation::Normal, false, access))
}

/// The text on each platform.
fn traced(
    text: String,
    stack: &NamedStack,
    presentation: Presentation,
    before_load: bool,
    access: Access<'_>,
) -> Traced {
    let platforms = if stack.platforms.is_empty() {
        let resolved = stack.resolve(None, before_load);
        vec![PlatformTrace {
            platform: None,
            title: None,
            trace: trace(&text, &resolved, presentation),
        }]
    } else {
        let traces = stack.platforms.iter().map(|named| {
            let device = named.device(access);
            let resolved = stack.resolve(Some(&device), before_load);
            PlatformTrace {
                platform: Some(named.platform.name.clone()),
                title: Some(named.platform.title.clone()),
                trace: trace(&text, &resolved, presentation),
            }
        });
        traces.collect()
    };
    Traced {
        text,
        before_load,
        platforms,
    }
}

fn text(named: &str) -> Result<String, CliError> {
    let text = if named == "-" {
        input::standard_input()?.text
    } else {
        named.to_owned()
    };
    if text.trim().is_empty() {
        return Err(CliError::Usage(
            "the text is empty; nothing to trace".to_owned(),
        ));
    }
    if text.len() > LONGEST {
        return Err(CliError::Usage(format!(
            "the text is longer than {} KiB; `cover` takes texts of any length",
            LONGEST >> 10
        )));
    }
    if Path::new(&text).is_file() {
        output::note(&format!(
            "{text} is traced as text, though there is a file of that name; `cover` reads files"
        ));
    }
    Ok(text)
}

/// What the flags say of the style.
fn set(stack: &mut NamedStack, args: &TraceArgs) -> Result<(), CliError> {
    if let Some(weight) = args.weight {
        if !(1.0..=1000.0).contains(&weight) {
            return Err(CliError::Usage(format!(
                "--weight {weight}: weights go from 1 to 1000"
            )));
        }
        stack.style.weight = weight;
    }
    if let Some(tag) = &args.language {
        if !is_language_tag(tag) {
            return Err(CliError::Usage(format!(
                "--language {tag:?}: this is no language tag (BCP 47), such as ja, zh-Hant or hi"
            )));
        }
        stack.language = Some(tag.clone());
    }
    if let Some(width) = args.width {
        stack.style.stretch = width;
    }
    match args.style {
        Some(SlopeArg::Normal) => stack.style.style = StyleValue::Normal,
        Some(SlopeArg::Italic) => stack.style.style = StyleValue::Italic,
        Some(SlopeArg::Oblique) => stack.style.style = StyleValue::Oblique(14.0),
        None => {}
    }
    Ok(())
}

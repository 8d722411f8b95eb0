//! The commands, a line each; everything that must know them all asks here.

/// Hands every command to the macro `$with`: its group in `--help`, its name, its
/// arguments, what it answers, and the type of its `--json`, where it has one.
macro_rules! commands {
    ($with:ident) => {
        $with! {
            "Look" describe Describe(DescribeArgs)
                "What a font file holds: languages, features, line, rights, bytes" => Described;
            "Look" compare Compare(CompareArgs)
                "Two or more faces side by side" => Compared;
            "Look" platforms Platforms(PlatformsArgs)
                "What each platform has installed, and how well it is known" => Platforms;
            "Look" record Record(RecordArgs)
                "Make cards: measurements of faces, for where they are not installed" => Recorded;
            "Check" cover Cover(CoverArgs)
                "What the text needs against what the stack covers, and the gaps" => Covered;
            "Check" trace Trace(TraceArgs)
                "Which font shows each piece of a text, platform by platform, and why" => Traced;
            "Check" check Check(Box<CheckArgs>)
                "Font mistakes in style sheets and pages, and what to do about them" => Checked;
            "Check" explain Explain(ExplainArgs)
                "A rule of `check` with examples, or a word of the answers and its meaning" => Explained;
            "Build" rank Rank(RankArgs)
                "Candidates for a fallback, closest first, and why" => RankedFaces;
            "Build" build Build(Box<BuildArgs>)
                "A stack with stand-ins that keep every line where it is, as CSS" => BuiltStacks;
            "Build" trim Trim(Box<TrimArgs>)
                "Smaller font files: what is needed of them, with their CSS" => TrimmedFaces;
            "Verify" shift Shift(Box<ShiftArgs>)
                "What moves when web fonts arrive, predicted" => Shifts;
            "Verify" forecast Forecast(Box<ForecastArgs>)
                "Which font files each page fetches, and which of them are hardly needed" => Forecasts;
            "Verify" prove Prove(Box<ProveArgs>)
                "The same in a real browser, beside the prediction" => Proved;
            "Project" report Report(ReportArgs)
                "Everything that is known of a project, on one page to look at" => Report;
            "Project" init Init(InitArgs)
                "A project file for a folder as it is found" => Started;
            "Project" demo Demo(DemoArgs)
                "Run a full example on made-up fonts and texts" => Demo;
            "Project" schema Schema(SchemaArgs)
                "The JSON schema of a command's --json output";
            "Project" completions Completions(CompletionsArgs)
                "Completions for a shell";
            "Project" man Man(ManArgs)
                "The manual page, of the program or of one command";
        }
    };
}

pub(crate) use commands;

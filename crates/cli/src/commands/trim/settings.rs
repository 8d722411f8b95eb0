//! How `trim` cuts: what the arguments say, else the project.

use tidy_lattice_core::trim::subset::AxisLimit;
use tidy_lattice_core::trim::{Margin, Packing, Slicing};
use tidy_lattice_project::trim_rules::{TrimRules, axis_limits, slicing};

use crate::args::{HintsArg, TrimArgs};
use crate::error::CliError;

/// How faces are cut.
pub struct Settings {
    /// How much more than the text has stays.
    pub margin: Margin,
    /// Tags of features that stay; `all`: everything.
    pub features: Vec<String>,
    /// Whether instructions for small sizes stay.
    pub hints: bool,
    /// What is left of axes.
    pub axes: Vec<AxisLimit>,
    /// Where that was said.
    pub axes_of: &'static str,
    /// Whether a licence allows what the files forbid.
    pub licence_allows: bool,
    /// Into how many files, as it was said.
    pub slices: String,
    /// The same, read.
    pub slicing: Slicing,
    /// The forms, the best first.
    pub packings: Vec<Packing>,
}

impl Settings {
    /// What `args` say, else `rules`, else what is usual.
    ///
    /// # Errors
    ///
    /// [`CliError::Usage`] where an argument cannot be.
    pub fn of(args: &TrimArgs, rules: Option<&TrimRules>) -> Result<Self, CliError> {
        let none = TrimRules::default();
        let rules = rules.unwrap_or(&none);
        let usage = |option: &'static str| {
            move |reason: String| CliError::Usage(format!("{option} {reason}"))
        };
        let of_rules = rules.slices.as_ref().map(|slices| slices.text());
        let slices = args.slices.clone().or(of_rules);
        let slices = slices.unwrap_or_else(|| "whole".to_owned());
        let given = |asked: &[String], of_rules: &[String]| {
            if asked.is_empty() { of_rules } else { asked }.to_vec()
        };
        let mut packings: Vec<Packing> = args.formats.iter().map(|form| (*form).into()).collect();
        if packings.is_empty() {
            packings.clone_from(&rules.formats);
        }
        if packings.is_empty() {
            packings.push(Packing::Woff2);
        }
        // The best comes first in `src`.
        packings.sort_unstable();
        packings.dedup();
        Ok(Settings {
            margin: args
                .margin
                .map(Margin::from)
                .or(rules.margin)
                .unwrap_or_default(),
            features: given(&args.features, &rules.features),
            hints: args
                .hints
                .map(|hints| hints == HintsArg::Keep)
                .or(rules.hints)
                .unwrap_or(true),
            axes: axis_limits(&given(&args.axes, &rules.axes)).map_err(usage("--axis"))?,
            axes_of: if args.axes.is_empty() {
                "trim.axes"
            } else {
                "--axis"
            },
            licence_allows: args.licence_allows || rules.licence_allows,
            slicing: slicing(&slices).map_err(usage("--slices"))?,
            slices,
            packings,
        })
    }
}

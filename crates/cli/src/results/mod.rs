//! What commands give: plain structs, which `--json` prints as they are and
//! `show` lays out for people.

mod build;
mod check;
mod compare;
mod cover;
mod demo;
mod describe;
mod forecast;
mod init;
mod platforms;
mod prove;
mod rank;
mod record;
mod report;
mod shift;
mod trace;
mod trim;

pub use build::{AppStacks, BuiltStacks};
pub use check::{Change, Checked, Explained};
pub use compare::Compared;
pub use cover::{Covered, StyledText};
pub use demo::Demo;
pub use describe::{Described, DescribedFace};
pub use forecast::{
    AfterTrim, AppFaceBytes, AppForecast, AppLanguage, Forecasts, LanguageBytes, NeverFetched,
    PageForecast, PageSum, Preload, UnpackedFile,
};
pub use init::Started;
pub use platforms::{Merged, Platforms};
pub use prove::{Fetched, Proved, ProvedBrowser, ProvedRun, ShownIn, Tolerances};
pub use rank::RankedFaces;
pub use record::{MeasuredDevice, MeasuringPage, Recorded, RecordedCard};
pub use report::{Drawn, DrawnGap, NotDone, Report};
pub use shift::{ShiftCell, Shifts, VariantRow};
pub use trace::{PlatformTrace, Traced};
pub use trim::{FontList, ListedFont, NotNeeded, TrimmedFace, TrimmedFaces, WrittenFile};

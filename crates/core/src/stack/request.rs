//! What a stack is built from.

use tidy_lattice_coverage::need::Need;
use tidy_lattice_coverage::platform::Device;
use tidy_lattice_glyphs::font::{CharacterSet, Face};

use super::SampleKind;
use super::result::WebSlice;
use tidy_lattice_standin::{FitOptions, SetText, TextSample};

/// What a stack is built from.
pub struct BuildRequest<'a> {
    /// The role that it is for.
    pub role: String,
    /// The family name for the style sheet.
    pub family: String,
    /// The files of the web font; the one for most of the text first.
    pub web: Vec<WebSource<'a>>,
    /// `font-display`.
    pub display: String,
    /// Faces that are wanted for some signs only.
    pub signs: Vec<SignSource<'a>>,
    /// Web fonts for other scripts.
    pub scripts: Vec<ScriptSource<'a>>,
    /// Further web fonts of the stack, which the page declares and which stay as they are.
    pub kept: Vec<KeptFamily<'a>>,
    /// Families that are installed somewhere.
    pub locals: Vec<LocalFamily<'a>>,
    /// Whether [`BuildRequest::locals`] stay in their order and are all used;
    /// else the closest of each platform is, the closest of all first.
    pub keep_order: bool,
    /// The devices whose families serve other scripts, signs and emoji.
    pub devices: &'a [Device<'a>],
    /// The text that widths are fitted on.
    pub sample: &'a TextSample,
    /// What the sample is, for the reader of the result.
    pub sample_kind: SampleKind,
    /// The texts of the family as pages set them; none where there are no pages.
    pub set: &'a [SetText],
    /// Whether the style sheet states the `line-height` of all text, so that no face
    /// decides how high lines are.
    pub line_height_specified: bool,
    /// What the texts of the role ask for.
    pub need: &'a Need,
    /// Sizes in use, in px.
    pub sizes: Vec<f32>,
    /// Widths of columns in use, in px.
    pub widths: Vec<f64>,
    /// The generic family at the end; judged from the web font where `None`.
    pub generic: Option<String>,
    /// Whether the web font's rules state their line metrics.
    pub pin: bool,
    /// How much taller than its designer's the line may be pinned, in % of an em.
    pub taller: f64,
    /// How stand-ins are fitted.
    pub fit: FitOptions,
    /// Whether the style sheet says why each entry is there.
    pub comments: bool,
}

/// A file of the web font.
pub struct WebSource<'a> {
    /// The face; of a variable font at each weight in use, lightest first.
    pub faces: Vec<&'a Face>,
    /// The URL of the file, encoded.
    pub url: String,
    /// The weights that the file has, of a variable font.
    pub weights: Option<(f32, f32)>,
    /// The widths that it has in %, of a variable font.
    pub widths: Option<(f32, f32)>,
    /// The files of a face that is several, in the order of their rules; none of a
    /// face in one file.
    pub slices: Vec<WebSlice>,
}

/// A face that is wanted for some signs only.
pub struct SignSource<'a> {
    /// The face.
    pub face: &'a Face,
    /// The URL of the file, encoded.
    pub url: String,
    /// The signs; `None` for those of the text that the web font lacks.
    pub wanted: Option<CharacterSet>,
}

/// A web font for other scripts.
pub struct ScriptSource<'a> {
    /// The face.
    pub face: &'a Face,
    /// The URL of the file, encoded.
    pub url: String,
}

/// A web font that the page declares and that stays in the stack behind the main one.
pub struct KeptFamily<'a> {
    /// The family, as its rules name it.
    pub name: String,
    /// Its upright face nearest to weight 400.
    pub face: &'a Face,
}

/// A family that is installed somewhere.
pub struct LocalFamily<'a> {
    /// Its name.
    pub name: String,
    /// Its faces.
    pub faces: Vec<&'a Face>,
    /// The platforms that have it.
    pub platforms: Vec<String>,
}

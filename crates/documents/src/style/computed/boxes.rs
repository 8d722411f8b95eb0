//! The box of an element: computed values of the properties that block and
//! inline layout need (CSS Box 4, CSS Sizing 3, CSS Text 4, CSS Display 3).

use std::fmt;
use std::sync::Arc;

use cssparser::Parser;

use super::tracks::{Line, Track, TrackSize, Tracks};
use crate::style::read::{FontUnits, LengthContext, Quantity, Viewport, length};

/// Computed values of what makes a box.
#[derive(Debug, Clone, PartialEq)]
pub struct BoxStyle {
    /// `display`: what it is inside.
    pub display: Display,
    /// `display`: how it stands among others.
    pub outer: Outer,
    /// `position`.
    pub position: Position,
    /// `top`, `right`, `bottom`, `left`.
    pub inset: Sides<Length>,
    /// `float`.
    pub float: Option<Side>,
    /// Of what is out of flow, whether it would stand in a line were it in flow.
    pub from_line: bool,
    /// `clear`: floats on the left and on the right.
    pub clear: (bool, bool),
    /// `margin`.
    pub margin: Sides<Length>,
    /// `padding`.
    pub padding: Sides<Length>,
    /// Used widths of the borders, in px.
    pub border: Sides<f32>,
    /// Whether `border-style` draws them.
    pub(crate) drawn: Sides<bool>,
    /// `width`, `min-width`, `max-width`; `Auto` also for `none`.
    pub width: Extent,
    /// `height`, `min-height`, `max-height`.
    pub height: Extent,
    /// Whether `box-sizing` is `border-box`.
    pub border_box: bool,
    /// `aspect-ratio`: width by height.
    pub ratio: Option<f32>,
    /// Whether a natural ratio goes before it (`aspect-ratio: auto …`).
    pub ratio_yields: bool,
    /// `content-visibility`.
    pub skipped: Skipped,
    /// `contain-intrinsic-width` and `-height` in px; 0 for `none`.
    pub intrinsic: (f32, f32),
    /// Whether `overflow` clips.
    pub clips: bool,
    /// Whether `overflow-x` and `overflow-y` are `visible`.
    pub(crate) overflows: (bool, bool),
    /// Whether the element is visible.
    pub visible: bool,
    /// `text-align`.
    pub align: Align,
    /// `text-indent`.
    pub indent: Length,
    /// What becomes of blanks.
    pub white_space_collapse: WhiteSpaceCollapse,
    /// Whether lines may end where text allows it.
    pub wraps: bool,
    /// Whether lines are made about equally long (`text-wrap: balance`).
    pub balanced: bool,
    /// `overflow-wrap`.
    pub overflow_wrap: OverflowWrap,
    /// `word-break`.
    pub word_break: WordBreak,
    /// `line-break`.
    pub line_break: LineBreak,
    /// `hyphens`.
    pub hyphens: Hyphens,
    /// `tab-size`.
    pub tab_size: TabSize,
    /// Whether `direction` is `rtl`.
    pub rtl: bool,
    /// `unicode-bidi`.
    pub bidi: Bidi,
    /// `vertical-align`.
    pub vertical: Vertical,
    /// Whether `list-style-position` is `inside`.
    pub marker_inside: bool,
    /// `border-spacing` in px: between columns, between rows; none where borders
    /// collapse.
    pub spacing: (f32, f32),
    /// Whether a control is drawn without what the browser adds (`appearance: none`).
    pub plain_control: bool,
    /// The most lines that show (`-webkit-line-clamp`).
    pub most_lines: Option<u32>,
    /// Whether `border-collapse` is `collapse`.
    pub collapse: bool,
    /// Whether `table-layout` is `fixed`.
    pub fixed_table: bool,
    /// Whether `caption-side` is `bottom`.
    pub caption_below: bool,
    /// `column-gap`, `row-gap`; `Auto` for `normal`.
    pub gap: (Length, Length),
    /// Of a flex container and its items.
    pub flex: Flex,
    /// Of a grid container and its items.
    pub grid: Grid,
    /// Whether any length may be in a unit of the first font.
    pub(crate) in_font_units: bool,
    /// What the element asks for that layout does not do.
    pub unsupported: Vec<Unsupported>,
}

/// A declaration that layout does not do.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Unsupported {
    /// The property, or the pseudo-element.
    pub property: &'static str,
    /// What it is set to.
    pub value: String,
}

impl Unsupported {
    /// Whether lines are what they are without it: what is moved as a whole keeps its lines,
    /// and hyphenation takes dictionaries, which few browsers have for few languages.
    pub fn keeps_lines(&self) -> bool {
        self.is_hyphenation() || self.property == "transform"
    }

    /// Whether it is `hyphens: auto`, which takes patterns of the language.
    pub fn is_hyphenation(&self) -> bool {
        self.property == "hyphens"
    }
}

impl fmt::Display for Unsupported {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.value.as_str() {
            "" => f.write_str(self.property),
            value => write!(f, "{}: {value}", self.property),
        }
    }
}

/// `display`, as far as layout goes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Display {
    /// In a line.
    Inline,
    /// A block; a list item too, whose marker is a node of its own.
    Block,
    /// A block that contains its margins.
    FlowRoot,
    /// A block in a line.
    InlineBlock,
    /// `flex` and `inline-flex`.
    Flex {
        /// Whether it stands in a line.
        inline: bool,
    },
    /// `grid` and `inline-grid`.
    Grid {
        /// Whether it stands in a line.
        inline: bool,
    },
    /// A part of a table.
    Table(TablePart),
    /// No box of its own; its content counts as that of its parent.
    Contents,
    /// Nothing.
    None,
}

/// How a box stands among others (the outer part of `display`).
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Outer {
    /// In a line.
    Inline,
    /// Below others.
    Block,
    /// With a marker.
    ListItem,
    /// As boxes of old did, whose lines may be clamped (`-webkit-box`).
    Legacy,
}

/// `tab-size`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum TabSize {
    /// In blanks.
    Spaces(f32),
    /// In px.
    Px(f32),
}

/// Parts of a table.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum TablePart {
    /// `table`, and `inline-table`.
    Whole,
    /// Row groups of any kind.
    Group,
    /// A row.
    Row,
    /// A cell.
    Cell,
    /// A caption.
    Caption,
    /// Columns and their groups.
    Column,
}

/// When the content of a box is skipped (`content-visibility`, CSS Containment 2, §4).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Skipped {
    /// `visible`.
    #[default]
    Never,
    /// `auto`: while it is far from what is seen.
    Far,
    /// `hidden`.
    Always,
}

/// `position`.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Position {
    /// In flow.
    Static,
    /// In flow, and moved.
    Relative,
    /// In flow, and moved while the page is scrolled.
    Sticky,
    /// Out of flow, placed in the nearest box around it that is positioned.
    Absolute,
    /// Out of flow, placed in the viewport.
    Fixed,
}

impl Position {
    /// Whether it is out of flow: what is around it is laid out as if it were not there.
    pub fn is_out(self) -> bool {
        matches!(self, Position::Absolute | Position::Fixed)
    }
}

/// An edge that a float goes to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Side {
    /// The left one.
    Left,
    /// The right one.
    Right,
}

/// Four sides.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Sides<T> {
    /// Above.
    pub top: T,
    /// On the right.
    pub right: T,
    /// Below.
    pub bottom: T,
    /// On the left.
    pub left: T,
}

/// A size and its limits.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Extent {
    /// The preferred size.
    pub preferred: Length,
    /// The least.
    pub min: Length,
    /// The most.
    pub max: Length,
}

/// A length that may depend on the size of the containing block.
#[derive(Debug, Clone, PartialEq, Default)]
pub enum Length {
    /// `auto`, `none`, `normal`: none specified.
    #[default]
    Auto,
    /// In px.
    Px(f32),
    /// With percentages, settled once 100 % is known; or in units of a font, settled
    /// by [`BoxStyle::in_font`].
    Relative(Arc<Relative>),
    /// `min-content`.
    MinContent,
    /// `max-content`.
    MaxContent,
    /// `fit-content`.
    FitContent,
}

/// A length with percentages.
#[derive(Debug, Clone, PartialEq)]
pub struct Relative {
    pub(in crate::style) text: String,
    pub(in crate::style) em: f32,
    pub(in crate::style) rem: f32,
    pub(in crate::style) viewport: Viewport,
    pub(in crate::style) font: Option<FontUnits>,
}

/// `text-align`.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Align {
    /// Where the direction starts.
    Start,
    /// Where it ends.
    End,
    /// Left.
    Left,
    /// Right.
    Right,
    /// In the middle.
    Center,
    /// Both edges.
    Justify,
}

/// What becomes of blanks (CSS Text 4, §3.1).
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum WhiteSpaceCollapse {
    /// Runs become one.
    Collapse,
    /// All stay.
    Preserve,
    /// Runs become one, line breaks stay.
    PreserveBreaks,
    /// All stay and take room at line ends.
    BreakSpaces,
}

/// `overflow-wrap`.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum OverflowWrap {
    /// Words stick out.
    Normal,
    /// Words break; their least width does not mind.
    BreakWord,
    /// Words break; their least width minds.
    Anywhere,
}

/// `word-break`.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum WordBreak {
    /// By the rules of the language.
    Normal,
    /// Between all letters.
    BreakAll,
    /// Not between any.
    KeepAll,
}

/// `line-break`.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LineBreak {
    /// As the browser likes.
    Auto,
    /// `loose`.
    Loose,
    /// `normal`.
    Normal,
    /// `strict`.
    Strict,
    /// `anywhere`.
    Anywhere,
}

/// `hyphens` (CSS Text 3, §5.4).
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Hyphens {
    /// `none`: soft hyphens do not count.
    None,
    /// `manual`: they do.
    Manual,
    /// `auto`: words end lines where the language allows it, too.
    Auto,
}

/// `unicode-bidi`.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Bidi {
    /// Nothing.
    Normal,
    /// An embedding.
    Embed,
    /// An isolate.
    Isolate,
    /// An override.
    Override,
    /// The text decides.
    Plaintext,
}

/// `vertical-align`.
#[derive(Debug, Clone, PartialEq)]
pub enum Vertical {
    /// On the baseline.
    Baseline,
    /// Lowered.
    Sub,
    /// Raised.
    Super,
    /// Middle at half an x-height above the parent's baseline.
    Middle,
    /// At the top of the parent's text.
    TextTop,
    /// At the bottom of the parent's text.
    TextBottom,
    /// At the top of the line.
    Top,
    /// At the bottom of the line.
    Bottom,
    /// Raised by a length; percentages are of the line height.
    By(Length),
}

/// Properties of flex containers and their items (CSS Flexbox 1).
#[derive(Debug, Clone, PartialEq)]
pub struct Flex {
    /// Whether items stand below one another.
    pub column: bool,
    /// `flex-wrap`.
    pub wrap: FlexWrap,
    /// Whether the order is turned round.
    pub reverse: bool,
    /// `flex-grow`.
    pub grow: f32,
    /// `flex-shrink`.
    pub shrink: f32,
    /// `flex-basis`; `Auto` for the width.
    pub basis: Length,
    /// `justify-content`.
    pub justify: Placement,
    /// `align-items`.
    pub align_items: Placement,
    /// `align-self`; nothing for `auto`.
    pub align_self: Option<Placement>,
    /// `justify-items`.
    pub justify_items: Placement,
    /// `justify-self`.
    pub justify_self: Option<Placement>,
    /// `align-content`.
    pub align_content: Placement,
    /// `order`.
    pub order: i32,
}

/// `flex-wrap` (CSS Flexbox 1, §5.2).
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum FlexWrap {
    /// One line.
    Nowrap,
    /// As many lines as are needed, each below the one before.
    Wrap,
    /// Each above the one before: start and end of the cross axis change places.
    WrapReverse,
}

/// Where something stands in the room that it has.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Placement {
    /// `normal` and `stretch`.
    Stretch,
    /// At the start.
    Start,
    /// In the middle.
    Center,
    /// At the end.
    End,
    /// Baselines in one line.
    Baseline,
    /// Room between.
    SpaceBetween,
    /// Room around.
    SpaceAround,
    /// Room everywhere.
    SpaceEvenly,
}

/// Properties of grid containers and their items (CSS Grid 2).
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Grid {
    /// `grid-template-columns`.
    pub columns: Tracks,
    /// `grid-template-rows`.
    pub rows: Tracks,
    /// `grid-auto-columns`: tracks in turn; none for `auto`.
    pub auto_columns: Vec<Track>,
    /// `grid-auto-rows`.
    pub auto_rows: Vec<Track>,
    /// `grid-template-areas`: rows of names.
    pub areas: Vec<Vec<Arc<str>>>,
    /// Whether items go below one another first (`grid-auto-flow: column`).
    pub by_columns: bool,
    /// Whether later items fill holes (`dense`).
    pub dense: bool,
    /// `grid-column`.
    pub column: Line,
    /// `grid-row`.
    pub row: Line,
}

impl Length {
    /// In px where 100 % are `whole` px; nothing where none is stated, or it
    /// depends on content, or on what is not known.
    pub fn px(&self, whole: Option<f64>) -> Option<f64> {
        match self {
            Length::Px(px) => Some(f64::from(*px)),
            Length::Relative(relative) => relative.px(whole?, None),
            _ => None,
        }
    }

    fn settle(&mut self, font: FontUnits) {
        if let Length::Relative(relative) = self
            && FontUnits::are_in(&relative.text)
        {
            *self = if relative.text.contains('%') {
                Length::Relative(Arc::new(Relative {
                    font: Some(font),
                    ..(**relative).clone()
                }))
            } else {
                relative
                    .px(0.0, Some(font))
                    .map_or(Length::Auto, |px| Length::Px(px as f32))
            };
        }
    }
}

impl Relative {
    pub(in crate::style) fn px(&self, whole: f64, font: Option<FontUnits>) -> Option<f64> {
        let context = LengthContext {
            em: self.em,
            rem: self.rem,
            percent: whole as f32,
            viewport: self.viewport,
            font: font.or(self.font),
        };
        match length(&mut Parser::new(&self.text), &context).ok()? {
            Quantity::Px(px) | Quantity::Number(px) => Some(f64::from(px)),
        }
    }
}

impl BoxStyle {
    /// The box where units of its first font come to `font`; nothing where it has
    /// none.
    pub fn in_font(&self, font: impl FnOnce() -> FontUnits) -> Option<Self> {
        if !self.in_font_units {
            return None;
        }
        let mut with = self.clone();
        let font = font();
        with.each_length(&mut |length| length.settle(font));
        Some(with)
    }

    /// Notes that layout does not do what is asked for, unless it changes nothing.
    pub(in crate::style) fn note_unsupported(
        &mut self,
        harmless: bool,
        property: &'static str,
        value: &str,
    ) {
        if !harmless {
            self.unsupported.push(Unsupported {
                property,
                value: value.to_owned(),
            });
        }
    }

    /// The box before anything is declared for it: as wide borders as there would be, were
    /// they drawn.
    pub(in crate::style) fn undeclared() -> Self {
        const MEDIUM: f32 = 3.0;
        BoxStyle {
            border: Sides {
                top: MEDIUM,
                right: MEDIUM,
                bottom: MEDIUM,
                left: MEDIUM,
            },
            ..BoxStyle::default()
        }
    }

    /// Settles what follows from several properties together; `root` for the root element.
    pub(crate) fn settle(&mut self, root: bool) {
        self.clips = self.overflows != (true, true);
        // With lines clamped it is a block (CSS Overflow 4, §5.2), and else none are.
        if self.outer != Outer::Legacy {
            self.most_lines = None;
        } else if self.most_lines.is_some() {
            self.display = match self.display {
                Display::Flex { inline: true } => Display::InlineBlock,
                _ => Display::FlowRoot,
            };
        }
        // Floats and what is out of flow are blocks (CSS Display 3, §2.7).
        if self.position.is_out() {
            self.float = None;
            self.from_line = self.outer == Outer::Inline
                || matches!(
                    self.display,
                    Display::Inline | Display::Flex { inline: true }
                );
        }
        if root || self.position.is_out() || self.float.is_some() {
            self.display = match self.display {
                Display::Inline | Display::InlineBlock => Display::Block,
                Display::Flex { .. } => Display::Flex { inline: false },
                Display::Grid { .. } => Display::Grid { inline: false },
                other => other,
            };
            if self.outer == Outer::Inline {
                self.outer = Outer::Block;
            }
        }
        let Sides {
            top,
            right,
            bottom,
            left,
        } = &mut self.border;
        for (width, drawn) in [
            (top, self.drawn.top),
            (right, self.drawn.right),
            (bottom, self.drawn.bottom),
            (left, self.drawn.left),
        ] {
            if !drawn {
                *width = 0.0;
            }
        }
    }

    pub(in crate::style) fn each_length(&mut self, visit: &mut dyn FnMut(&mut Length)) {
        for sides in [&mut self.inset, &mut self.margin, &mut self.padding] {
            for side in [
                &mut sides.top,
                &mut sides.right,
                &mut sides.bottom,
                &mut sides.left,
            ] {
                visit(side);
            }
        }
        for extent in [&mut self.width, &mut self.height] {
            for length in [&mut extent.preferred, &mut extent.min, &mut extent.max] {
                visit(length);
            }
        }
        visit(&mut self.indent);
        visit(&mut self.gap.0);
        visit(&mut self.gap.1);
        visit(&mut self.flex.basis);
        if let Vertical::By(length) = &mut self.vertical {
            visit(length);
        }
        let grid = &mut self.grid;
        for tracks in [
            &mut grid.columns.tracks,
            &mut grid.rows.tracks,
            &mut grid.auto_columns,
            &mut grid.auto_rows,
        ] {
            let sizes = tracks
                .iter_mut()
                .flat_map(|track| [&mut track.min, &mut track.max]);
            for size in sizes {
                if let TrackSize::Fixed(length) | TrackSize::FitContent(length) = size {
                    visit(length);
                }
            }
        }
    }
}

impl Default for BoxStyle {
    fn default() -> Self {
        BoxStyle {
            display: Display::Inline,
            outer: Outer::Inline,
            position: Position::Static,
            inset: Sides::default(),
            float: None,
            from_line: false,
            clear: (false, false),
            margin: Sides {
                top: Length::Px(0.0),
                right: Length::Px(0.0),
                bottom: Length::Px(0.0),
                left: Length::Px(0.0),
            },
            padding: Sides {
                top: Length::Px(0.0),
                right: Length::Px(0.0),
                bottom: Length::Px(0.0),
                left: Length::Px(0.0),
            },
            border: Sides::default(),
            drawn: Sides::default(),
            width: Extent::default(),
            height: Extent::default(),
            border_box: false,
            ratio: None,
            ratio_yields: true,
            skipped: Skipped::Never,
            intrinsic: (0.0, 0.0),
            clips: false,
            overflows: (true, true),
            visible: true,
            align: Align::Start,
            indent: Length::Px(0.0),
            white_space_collapse: WhiteSpaceCollapse::Collapse,
            wraps: true,
            balanced: false,
            overflow_wrap: OverflowWrap::Normal,
            word_break: WordBreak::Normal,
            line_break: LineBreak::Auto,
            hyphens: Hyphens::Manual,
            tab_size: TabSize::Spaces(8.0),
            rtl: false,
            bidi: Bidi::Normal,
            vertical: Vertical::Baseline,
            marker_inside: false,
            spacing: (0.0, 0.0),
            plain_control: true,
            most_lines: None,
            collapse: false,
            fixed_table: false,
            caption_below: false,
            gap: (Length::Auto, Length::Auto),
            flex: Flex {
                column: false,
                wrap: FlexWrap::Nowrap,
                reverse: false,
                grow: 0.0,
                shrink: 1.0,
                basis: Length::Auto,
                justify: Placement::Stretch,
                align_items: Placement::Stretch,
                align_self: None,
                justify_items: Placement::Stretch,
                justify_self: None,
                align_content: Placement::Stretch,
                order: 0,
            },
            grid: Grid::default(),
            in_font_units: false,
            unsupported: Vec::new(),
        }
    }
}

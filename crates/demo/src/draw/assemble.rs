//! The tables of a font file.

use std::collections::BTreeMap;

use kurbo::BezPath;
use write_fonts::FontBuilder;
use write_fonts::tables::cmap::Cmap;
use write_fonts::tables::glyf::{
    Anchor, Bbox, Component, ComponentFlags, CompositeGlyph, GlyfLocaBuilder, Glyph, SimpleGlyph,
    Transform,
};
use write_fonts::tables::head::{Flags, Head, MacStyle};
use write_fonts::tables::hhea::Hhea;
use write_fonts::tables::hmtx::{Hmtx, LongMetric};
use write_fonts::tables::loca::LocaFormat;
use write_fonts::tables::maxp::Maxp;
use write_fonts::tables::name::{Name, NameRecord};
use write_fonts::tables::os2::{Os2, SelectionFlags};
use write_fonts::tables::post::Post;
use write_fonts::types::{FWord, Fixed, GlyphId, LongDateTime, NameId, UfWord};

use super::arabic;
use super::devanagari;
use super::fonts::{Design, Shaping};
use super::layout;
use super::pen::Drawn;
use super::pictures::{PICTURES, add_pictures};
use super::repertoire::{Recipe, recipe, recipes};
use super::skeleton::{Kind, Skeleton, Skeletons};
use super::variable::{self, add_weights};

/// Ligatures of the fonts that have them.
const LIGATURES: [&str; 5] = ["ffi", "ffl", "ff", "fi", "fl"];

/// Glyphs on their way into a font.
struct Glyphs<'a> {
    design: &'a Design,
    skeletons: &'a Skeletons,
    glyphs: Vec<Glyph>,
    advances: Vec<u16>,
    /// Glyph and the height that marks are put on, by character.
    known: BTreeMap<char, (u16, f64)>,
    /// Points and contours of each glyph once its components are resolved.
    sizes: Vec<(u16, u16)>,
    depth: u16,
}

/// What [`Glyphs::arabic`] made.
#[derive(Default)]
struct ArabicGlyphs {
    letters: Vec<char>,
    /// Feature, single form, joined form.
    joined: Vec<(&'static str, u16, u16)>,
}

/// What [`Glyphs::devanagari`] made: sequences of glyphs and what is put for them.
#[derive(Default)]
struct DevanagariGlyphs {
    letters: Vec<char>,
    halves: Vec<(Vec<u16>, u16)>,
    reph: Vec<(Vec<u16>, u16)>,
}

/// Draws `design` and returns its TrueType file.
///
/// # Panics
///
/// Where a glyph cannot be written: everything drawn is part of this crate.
pub fn font_file(design: &Design, skeletons: &Skeletons) -> Vec<u8> {
    let mut glyphs = Glyphs {
        design,
        skeletons,
        glyphs: Vec::new(),
        advances: Vec::new(),
        known: BTreeMap::new(),
        sizes: Vec::new(),
        depth: 1,
    };
    glyphs.notdef();
    let mut wanted: Vec<char> = recipes(design.sets, skeletons)
        .into_iter()
        .map(|(c, _)| c)
        .collect();
    for character in &wanted {
        glyphs.add(*character);
    }
    let mut builder = FontBuilder::new();
    if design.features {
        let ligatures = glyphs.ligatures();
        let singles = [
            ("smcp", glyphs.small_capitals()),
            ("tnum", glyphs.tabular_figures()),
        ];
        add(&mut builder, &layout::substitutions(&ligatures, &singles));
    }
    let mut placed = layout::Placed::default();
    if design.arabic != Shaping::None {
        let forms = glyphs.arabic(&mut placed);
        wanted.extend(forms.letters);
        wanted.sort_unstable();
        if design.arabic == Shaping::Shaped {
            add(&mut builder, &layout::joined_forms(&forms.joined));
        }
    }
    if design.devanagari != Shaping::None {
        let shaped = design.devanagari == Shaping::Shaped;
        let forms = glyphs.devanagari(shaped, &mut placed);
        wanted.extend(forms.letters);
        wanted.sort_unstable();
        if shaped {
            add(&mut builder, &layout::conjuncts(&forms.halves, &forms.reph));
        }
    }
    if design.pictures {
        let pictures = PICTURES.map(|(character, _)| {
            let glyph = glyphs.push(Glyph::Empty, 1000, (0, 0));
            glyphs.known.insert(character, (glyph, 0.0));
            wanted.push(character);
            glyph
        });
        wanted.sort_unstable();
        add_pictures(&mut builder, &pictures);
    } else if design.hand.fixed_advance.is_none() && design.devanagari != Shaping::Letters {
        let shaped = [design.arabic, design.devanagari].contains(&Shaping::Shaped);
        let glyph = |c| glyphs.known.get(&c).map(|(glyph, _)| *glyph);
        let scripts = match design.devanagari {
            Shaping::Shaped => layout::DEVANAGARI,
            _ => layout::EUROPEAN,
        };
        let positions = layout::positions(glyph, shaped.then_some(&placed), scripts);
        add(&mut builder, &positions);
    }
    if design.weights {
        add_weights(&mut builder, &glyphs.glyphs, &glyphs.advances);
    }
    glyphs.write(&mut builder, &wanted);
    builder.build()
}

/// Adds a table.
///
/// # Panics
///
/// Where it cannot be written: everything drawn is part of this crate.
pub fn add<T>(builder: &mut FontBuilder<'_>, table: &T)
where
    T: write_fonts::FontWrite + write_fonts::validate::Validate + read_fonts::TopLevelTable,
{
    if let Err(error) = builder.add_table(table) {
        panic!("a table of the demo fonts cannot be written: {error}");
    }
}

impl Glyphs<'_> {
    /// A box, as glyph 0.
    fn notdef(&mut self) {
        let height = self.design.hand.cap_height;
        let strokes = BezPath::from_svg("M0,0 H400 V700 H0 Z").unwrap_or_default();
        let mut thin = self.design.hand;
        thin.weight = 50.0;
        thin.contrast = 1.0;
        thin.cap_height = height;
        let skeleton = Skeleton {
            kind: Kind::Capital,
            width: 400.0,
            strokes,
        };
        let drawn = thin.draw(&skeleton, false);
        self.push_drawn(&drawn);
    }

    /// Adds the glyph of `character` and of what it is made of.
    fn add(&mut self, character: char) -> (u16, f64) {
        if let Some(known) = self.known.get(&character) {
            return *known;
        }
        let Some(recipe) = recipe(character, self.skeletons) else {
            panic!("there is no recipe for {character}");
        };
        let made = match recipe {
            Recipe::Space(thousandths) => {
                let width = self.design.hand.fixed_advance;
                let width = width.unwrap_or(f64::from(thousandths) * self.design.hand.width);
                (
                    self.push(Glyph::Empty, width.round() as u16, (0, 0)),
                    self.design.hand.x_height,
                )
            }
            Recipe::Strokes(drawn_as, small) => {
                let drawn = self.design.hand.draw(&self.skeletons[&drawn_as], small);
                (self.push_drawn(&drawn), drawn.top)
            }
            Recipe::Marked(letter, mark) => self.push_marked(letter, mark),
        };
        self.known.insert(character, made);
        made
    }

    /// A letter with a mark, as a composite of two glyphs.
    fn push_marked(&mut self, letter: char, mark: char) -> (u16, f64) {
        let (letter_glyph, top) = self.add(letter);
        let (mark_glyph, _) = self.add(mark);
        let advance = self.advances[usize::from(letter_glyph)];
        let above = self
            .skeletons
            .get(&mark)
            .is_none_or(|mark| mark.kind == Kind::MarkAbove);
        let lift = if above { top + 40.0 } else { 0.0 };
        let lean = (self.design.hand.slant * lift).round() as i16;
        let (dx, dy) = (advance as i16 / 2 + lean, lift.round() as i16);
        let flags = |use_my_metrics| ComponentFlags {
            round_xy_to_grid: true,
            use_my_metrics,
            ..Default::default()
        };
        let part = |glyph, x, y, metrics| {
            let anchor = Anchor::Offset { x, y };
            Component::new(
                GlyphId::new(u32::from(glyph)),
                anchor,
                Transform::default(),
                flags(metrics),
            )
        };
        let mark_box = self.bbox(mark_glyph);
        let moved = Bbox {
            x_min: mark_box.x_min + dx,
            x_max: mark_box.x_max + dx,
            y_min: mark_box.y_min + dy,
            y_max: mark_box.y_max + dy,
        };
        let letter_box = self.bbox(letter_glyph);
        let first = if self.sizes[usize::from(letter_glyph)].0 == 0 {
            moved
        } else {
            letter_box
        };
        let mut composite = CompositeGlyph::new(part(letter_glyph, 0, 0, true), first);
        composite.add_component(part(mark_glyph, dx, dy, false), moved);
        let (a, b) = (
            self.sizes[usize::from(letter_glyph)],
            self.sizes[usize::from(mark_glyph)],
        );
        if matches!(self.glyphs[usize::from(letter_glyph)], Glyph::Composite(_)) {
            self.depth = self.depth.max(2);
        }
        let glyph = self.push(Glyph::Composite(composite), advance, (a.0 + b.0, a.1 + b.1));
        let top = if above {
            f64::from(moved.y_max) - 20.0
        } else {
            top
        };
        (glyph, top)
    }

    fn push_drawn(&mut self, drawn: &Drawn) -> u16 {
        self.push_outline(&drawn.outline, drawn.advance)
    }

    fn push_outline(&mut self, outline: &BezPath, advance: u16) -> u16 {
        let simple = SimpleGlyph::from_bezpath(outline)
            .unwrap_or_else(|error| panic!("an outline cannot be written: {error:?}"));
        let points = simple
            .contours
            .iter()
            .map(|contour| contour.len())
            .sum::<usize>();
        let size = (points as u16, simple.contours.len() as u16);
        self.push(Glyph::Simple(simple), advance, size)
    }

    fn push(&mut self, glyph: Glyph, advance: u16, size: (u16, u16)) -> u16 {
        self.glyphs.push(glyph);
        self.advances.push(advance);
        self.sizes.push(size);
        (self.glyphs.len() - 1) as u16
    }

    fn bbox(&self, glyph: u16) -> Bbox {
        self.glyphs[usize::from(glyph)].bbox().unwrap_or_default()
    }

    /// Ligatures, drawn as their letters a little closer together.
    fn ligatures(&mut self) -> Vec<(Vec<u16>, u16)> {
        let mut ligatures = Vec::new();
        for letters in LIGATURES {
            let mut outline = BezPath::new();
            let mut pen = 0.0;
            let mut components = Vec::new();
            for letter in letters.chars() {
                let drawn = self.design.hand.draw(&self.skeletons[&letter], false);
                let placed = kurbo::Affine::translate((pen, 0.0)) * drawn.outline;
                outline.extend(placed.elements().iter().copied());
                pen += f64::from(drawn.advance) - 34.0;
                components.push(self.known[&letter].0);
            }
            ligatures.push((components, self.push_outline(&outline, (pen + 34.0) as u16)));
        }
        ligatures
    }

    /// Capitals at the height of small letters, for the small letters.
    fn small_capitals(&mut self) -> Vec<(u16, u16)> {
        ('a'..='z')
            .map(|letter| {
                let capital = letter.to_ascii_uppercase();
                let drawn = self.design.hand.draw(&self.skeletons[&capital], true);
                (self.known[&letter].0, self.push_drawn(&drawn))
            })
            .collect()
    }

    /// Arabic letters and marks; where they place marks goes into `placed`.
    fn arabic(&mut self, placed: &mut layout::Placed) -> ArabicGlyphs {
        let hand = self.design.hand;
        let mut made = ArabicGlyphs::default();
        for letter in arabic::read() {
            let mut glyphs = [0; 4];
            for form in letter.forms() {
                let shape = letter.form(*form, hand.side);
                let outline = hand.stroke(&shape.strokes);
                let glyph = self.push_outline(&outline, shape.advance.round() as u16);
                placed.bases.push((glyph, shape.anchor));
                glyphs[*form] = glyph;
            }
            self.known
                .insert(letter.character, (glyphs[0], hand.x_height));
            made.letters.push(letter.character);
            for form in letter.forms().iter().skip(1) {
                made.joined
                    .push((arabic::FORMS[*form], glyphs[0], glyphs[*form]));
            }
        }
        for (mark, above, strokes) in arabic::MARKS {
            let strokes = BezPath::from_svg(strokes).unwrap_or_default();
            let glyph = self.push_outline(&hand.stroke(&strokes), 0);
            placed.marks.push((glyph, above));
            self.known.insert(mark, (glyph, hand.x_height));
            made.letters.push(mark);
        }
        made
    }

    /// Devanagari letters and marks, with half forms where they are `shaped`; where they
    /// place marks goes into `placed`.
    fn devanagari(&mut self, shaped: bool, placed: &mut layout::Placed) -> DevanagariGlyphs {
        let hand = self.design.hand;
        let mut made = DevanagariGlyphs::default();
        let letters = devanagari::read();
        for letter in &letters {
            let glyph = if letter.is_mark() {
                let above = letter.kind == devanagari::Kind::Above;
                let lift = if above {
                    devanagari::HEADLINE + 60.0
                } else {
                    0.0
                };
                // Without tables that place it, a mark stands above or below its letter's end.
                let at = if shaped { (0.0, 0.0) } else { (-200.0, lift) };
                let strokes = kurbo::Affine::translate(at) * letter.mark().clone();
                let glyph = self.push_outline(&hand.stroke(&strokes), 0);
                placed.marks.push((glyph, above));
                glyph
            } else {
                let form = letter.whole();
                let outline = hand.stroke(&form.strokes);
                let glyph = self.push_outline(&outline, form.advance.round() as u16);
                placed.bases.push((glyph, form.anchor));
                glyph
            };
            self.known.insert(letter.character, (glyph, hand.x_height));
            made.letters.push(letter.character);
        }
        if shaped {
            let virama = self.known[&'\u{94d}'].0;
            for letter in &letters {
                let Some(form) = letter.half() else { continue };
                let outline = hand.stroke(&form.strokes);
                let half = self.push_outline(&outline, form.advance.round() as u16);
                let whole = self.known[&letter.character].0;
                made.halves.push((vec![whole, virama], half));
            }
            let strokes = BezPath::from_svg(devanagari::REPH).unwrap_or_default();
            let reph = self.push_outline(&hand.stroke(&strokes), 0);
            placed.marks.push((reph, true));
            made.reph.push((vec![self.known[&'र'].0, virama], reph));
        }
        made
    }

    /// Figures of one width, by the widest of them.
    fn tabular_figures(&mut self) -> Vec<(u16, u16)> {
        let figures: Vec<(u16, Drawn)> = ('0'..='9')
            .map(|figure| {
                let drawn = self.design.hand.draw(&self.skeletons[&figure], false);
                (self.known[&figure].0, drawn)
            })
            .collect();
        let widest = figures
            .iter()
            .map(|(_, drawn)| drawn.advance)
            .max()
            .unwrap_or_default();
        figures
            .into_iter()
            .map(|(glyph, drawn)| {
                let shift = (f64::from(widest) / 2.0 - drawn.middle).round();
                let outline = kurbo::Affine::translate((shift, 0.0)) * drawn.outline;
                (glyph, self.push_outline(&outline, widest))
            })
            .collect()
    }

    fn write(&self, builder: &mut FontBuilder<'_>, wanted: &[char]) {
        let design = self.design;
        let mut glyf_loca = GlyfLocaBuilder::new();
        for glyph in &self.glyphs {
            if let Err(error) = glyf_loca.add_glyph(glyph) {
                panic!("a glyph cannot be written: {error}");
            }
        }
        let (glyf, loca, format) = glyf_loca.build();
        let boxes: Vec<Bbox> = self
            .glyphs
            .iter()
            .map(|g| g.bbox().unwrap_or_default())
            .collect();
        let most = |pick: fn(&Bbox) -> i16| boxes.iter().map(pick).max().unwrap_or_default();
        let least = |pick: fn(&Bbox) -> i16| boxes.iter().map(pick).min().unwrap_or_default();
        let metrics: Vec<LongMetric> = self
            .advances
            .iter()
            .zip(&boxes)
            .map(|(advance, bbox)| LongMetric::new(*advance, bbox.x_min))
            .collect();
        let advance_max = self.advances.iter().copied().max().unwrap_or_default();

        add(
            builder,
            &Head {
                font_revision: Fixed::from_f64(1.0),
                flags: Flags::from_bits_truncate(0b1011),
                units_per_em: 1000,
                created: LongDateTime::new(3_800_000_000),
                modified: LongDateTime::new(3_800_000_000),
                x_min: least(|b| b.x_min),
                y_min: least(|b| b.y_min),
                x_max: most(|b| b.x_max),
                y_max: most(|b| b.y_max),
                mac_style: match (design.bold, design.italic) {
                    (true, _) => MacStyle::BOLD,
                    (_, true) => MacStyle::ITALIC,
                    _ => MacStyle::empty(),
                },
                lowest_rec_ppem: 8,
                font_direction_hint: 2,
                index_to_loc_format: i16::from(format == LocaFormat::Long),
                ..Default::default()
            },
        );
        add(
            builder,
            &Hhea {
                ascender: FWord::new(design.line.0),
                descender: FWord::new(-design.line.1),
                line_gap: FWord::new(design.line.2),
                advance_width_max: UfWord::new(advance_max),
                min_left_side_bearing: FWord::new(least(|b| b.x_min)),
                x_max_extent: FWord::new(most(|b| b.x_max)),
                caret_slope_rise: if design.italic { 1000 } else { 1 },
                caret_slope_run: (design.hand.slant * 1000.0).round() as i16,
                number_of_h_metrics: metrics.len() as u16,
                ..Default::default()
            },
        );
        add(builder, &Hmtx::new(metrics, Vec::new()));
        add(builder, &self.maxp());
        add(builder, &glyf);
        add(builder, &loca);
        let mappings = wanted
            .iter()
            .map(|c| (*c, GlyphId::new(u32::from(self.known[c].0))));
        match Cmap::from_mappings(mappings) {
            Ok(cmap) => add(builder, &cmap),
            Err(error) => panic!("the characters cannot be mapped: {error}"),
        }
        add(builder, &self.os2(wanted));
        add(builder, &names(design));
        add(
            builder,
            &Post {
                italic_angle: Fixed::from_f64(-design.hand.slant.atan().to_degrees()),
                underline_position: FWord::new(-110),
                underline_thickness: FWord::new((design.hand.weight * 0.8) as i16),
                is_fixed_pitch: u32::from(design.hand.fixed_advance.is_some()),
                version: write_fonts::types::Version16Dot16::VERSION_3_0,
                ..Default::default()
            },
        );
    }

    fn maxp(&self) -> Maxp {
        let outline_sizes = |composite: bool| {
            let picked = self
                .glyphs
                .iter()
                .zip(&self.sizes)
                .filter(move |(glyph, _)| matches!(glyph, Glyph::Composite(_)) == composite);
            picked.fold((0, 0), |most, (_, size)| {
                (most.0.max(size.0), most.1.max(size.1))
            })
        };
        let (simple, composite) = (outline_sizes(false), outline_sizes(true));
        Maxp {
            num_glyphs: self.glyphs.len() as u16,
            max_points: Some(simple.0),
            max_contours: Some(simple.1),
            max_composite_points: Some(composite.0),
            max_composite_contours: Some(composite.1),
            max_zones: Some(1),
            max_twilight_points: Some(0),
            max_storage: Some(0),
            max_function_defs: Some(0),
            max_instruction_defs: Some(0),
            max_stack_elements: Some(0),
            max_size_of_instructions: Some(0),
            max_component_elements: Some(2),
            max_component_depth: Some(self.depth),
        }
    }

    fn os2(&self, wanted: &[char]) -> Os2 {
        let design = self.design;
        let low = |c: Option<&char>| c.map_or(0, |c| u32::from(*c).min(0xffff) as u16);
        let mut selection = match (design.bold, design.italic) {
            (true, _) => SelectionFlags::BOLD,
            (_, true) => SelectionFlags::ITALIC,
            _ => SelectionFlags::REGULAR,
        };
        if design.use_typo_metrics {
            selection |= SelectionFlags::USE_TYPO_METRICS;
        }
        let mean =
            self.advances.iter().map(|a| u32::from(*a)).sum::<u32>() / self.advances.len() as u32;
        Os2 {
            x_avg_char_width: mean as i16,
            us_weight_class: if design.bold { 700 } else { 400 },
            us_width_class: 5,
            y_subscript_x_size: 650,
            y_subscript_y_size: 600,
            y_subscript_y_offset: 75,
            y_superscript_x_size: 650,
            y_superscript_y_size: 600,
            y_superscript_y_offset: 350,
            y_strikeout_size: 50,
            y_strikeout_position: (design.hand.x_height / 2.0) as i16,
            panose_10: design.panose,
            ach_vend_id: write_fonts::types::Tag::new(b"TERN"),
            fs_selection: selection,
            us_first_char_index: low(wanted.first()),
            us_last_char_index: low(wanted.last()),
            s_typo_ascender: design.line.0,
            s_typo_descender: -design.line.1,
            s_typo_line_gap: design.line.2,
            us_win_ascent: design.line.0 as u16 + 60,
            us_win_descent: design.line.1 as u16 + 40,
            ul_code_page_range_1: Some(1),
            ul_code_page_range_2: Some(0),
            sx_height: Some(design.hand.x_height as i16),
            s_cap_height: Some(design.hand.cap_height as i16),
            us_default_char: Some(0),
            us_break_char: Some(32),
            us_max_context: Some(3),
            ..Default::default()
        }
    }
}

fn names(design: &Design) -> Name {
    let style = match (design.bold, design.italic) {
        (true, _) => "Bold",
        (_, true) => "Italic",
        _ => "Regular",
    };
    let full = match style {
        "Regular" => design.family.to_owned(),
        style => format!("{} {style}", design.family),
    };
    let postscript = format!("{}-{style}", design.family.replace(' ', ""));
    let texts = [
        (
            NameId::COPYRIGHT_NOTICE,
            "Drawn by tidy-lattice for its demo.".to_owned(),
        ),
        (NameId::FAMILY_NAME, design.family.to_owned()),
        (NameId::SUBFAMILY_NAME, style.to_owned()),
        (NameId::UNIQUE_ID, format!("1.0;TERN;{postscript}")),
        (NameId::FULL_NAME, full),
        (NameId::VERSION_STRING, "Version 1.0".to_owned()),
        (NameId::POSTSCRIPT_NAME, postscript),
        (NameId::LICENSE_DESCRIPTION, "MIT OR Apache-2.0".to_owned()),
    ];
    let axis = design
        .weights
        .then(|| (variable::AXIS_NAME, "Weight".to_owned()));
    let records = texts.into_iter().chain(axis);
    let records = records.map(|(id, text)| NameRecord::new(3, 1, 0x409, id, text.into()));
    Name::new(records.collect())
}

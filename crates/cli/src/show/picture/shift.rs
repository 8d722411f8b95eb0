//! A page before and after its web fonts arrive, in outline: boxes that move are
//! coloured, and the lines that break elsewhere laid over each other.

use tidy_lattice_core::lattice::WebFace;
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::page::Flow;
use tidy_lattice_core::platform::Device;
use tidy_lattice_core::shaping::Shapers;
use tidy_lattice_core::shift::{MOVED, Rect, Scene, Setting, SettingFonts, Shape, Shapes, Stand};

use super::canvas::{Canvas, FACES, INK, RULE, SOFT, WIDTH};
use super::lettering::{LabelFaces, Labels};
use crate::results::ShiftCell;
use crate::show::shift::{px, worst};

const MARGIN: f64 = 48.0;
/// The columns: before, after; their left edges and width, in px.
const COLUMNS: [f64; 2] = [MARGIN, 452.0];
const COLUMN: f64 = 372.0;
/// The top of the outlines.
const TOP: f64 = 140.0;
/// How high they are at most.
const TALLEST: f64 = 640.0;
/// The column of what is told.
const TOLD: f64 = 872.0;

/// What does not move.
const STILL: &str = "#c3c9d6";
/// What moves, and where it was.
const GONE: &str = FACES[1];
/// Where it is then.
const CAME: &str = FACES[0];

/// Draws a page.
pub fn shift_picture(
    cell: &ShiftCell,
    flow: &Flow,
    web: &[WebFace],
    device: &Device<'_>,
    engine: Engine,
) -> String {
    let setting = Setting {
        flow,
        web,
        device: Some(device),
        engine,
        viewport: cell.window.viewport(),
    };
    let shapers = Shapers::default();
    let fonts = SettingFonts::of(&setting);
    let scene = Scene::new(setting, &fonts, &shapers);
    let pages = [Stand::Before, Stand::After].map(|stand| scene.lay_out(stand));
    let shapes = [0, 1].map(|page| Shapes::of(&pages[page], flow));

    let mut canvas = Canvas::new();
    let Some(label_faces) = LabelFaces::open() else {
        return canvas.svg();
    };
    let mut labels = label_faces.labels();
    let title = format!("What moves on {}", cell.page);
    labels.title(&mut canvas, &title, (MARGIN, 60.0), 26.0, INK);
    let caption = format!(
        "{} in a window of {} by {} px; score {:.4}",
        cell.title,
        cell.window.width,
        cell.window.height,
        cell.shift.value().unwrap_or_default()
    );
    labels.label(&mut canvas, &caption, (MARGIN, 86.0), 14.0, SOFT);

    let tall = pages[0].root.height.max(pages[1].root.height).max(1.0);
    let scale = (COLUMN / cell.window.width).min(TALLEST / tall);
    let fold = TOP + cell.window.height * scale;
    for (page, heading) in ["before the web fonts", "with the web fonts"]
        .iter()
        .enumerate()
    {
        let left = COLUMNS[page];
        labels.label(&mut canvas, heading, (left, TOP - 16.0), 14.0, INK);
        outline(&mut canvas, &shapes, page, flow, (left, scale));
        let frame = Rect {
            x: left,
            y: TOP,
            width: cell.window.width * scale,
            height: tall * scale,
        };
        canvas.frame(frame.x, frame.y, frame.width, frame.height, RULE);
        if fold < TOP + tall * scale {
            canvas.rule(left, fold, frame.width, SOFT, true);
            labels.label(
                &mut canvas,
                "end of the window",
                (left, fold - 5.0),
                11.0,
                SOFT,
            );
        }
    }
    canvas.reach(TOP + tall * scale + 24.0);
    tell(&mut canvas, &mut labels, cell, &shapes, flow);
    canvas.reach(TOP + 120.0);
    canvas.svg()
}

/// The lines of a page, in the colour of whether their box moves.
fn outline(
    canvas: &mut Canvas,
    shapes: &[Shapes; 2],
    page: usize,
    flow: &Flow,
    (left, scale): (f64, f64),
) {
    let at = |rect: Rect| Rect {
        x: left + rect.x * scale,
        y: TOP + rect.y * scale,
        width: rect.width * scale,
        height: rect.height * scale,
    };
    for (node, shape) in &shapes[page].boxes {
        if shapes[page].lines.contains_key(node) || !flow.nodes[*node].children.is_empty() {
            continue;
        }
        let rect = at(shape.rect);
        canvas.fill(rect.x, rect.y, rect.width, rect.height, STILL, 0.35);
    }
    for (node, texts) in &shapes[page].lines {
        let moves = moved(shapes, *node);
        let colour = match (moves, page) {
            (false, _) => STILL,
            (true, 0) => GONE,
            (true, _) => CAME,
        };
        if moves {
            // Where it was, or will be, on the other page.
            if let Some(other) = shapes[1 - page].boxes.get(node) {
                let rect = at(other.rect);
                canvas.frame(rect.x, rect.y, rect.width, rect.height, RULE);
            }
            if let Some(of_node) = shapes[page].boxes.get(node) {
                let rect = at(of_node.rect);
                canvas.fill(rect.x, rect.y, rect.width, rect.height, colour, 0.12);
            }
        }
        for line in texts.iter().flat_map(|text| &text.lines) {
            for piece in &line.pieces {
                let rect = at(Rect {
                    x: piece.x,
                    y: piece.top,
                    width: piece.width,
                    height: piece.height,
                });
                let colour = match (moves || text_moved(shapes, piece.node), page) {
                    (false, _) => STILL,
                    (true, 0) => GONE,
                    (true, _) => CAME,
                };
                // About as dark as a line of letters.
                let thin = rect.height * 0.45;
                let down = (rect.height - thin) / 2.0;
                canvas.fill(rect.x, rect.y + down, rect.width, thin, colour, 0.75);
            }
        }
    }
}

/// Whether a text starts elsewhere.
fn text_moved(shapes: &[Shapes; 2], node: usize) -> bool {
    let both = (shapes[0].texts.get(&node), shapes[1].texts.get(&node));
    matches!(both, (Some(a), Some(b)) if far(a, b))
}

fn far(a: &Shape, b: &Shape) -> bool {
    (a.start.0 - b.start.0).abs() >= MOVED || (a.start.1 - b.start.1).abs() >= MOVED
}

/// Whether a box counts as moved, or changes its height.
fn moved(shapes: &[Shapes; 2], node: usize) -> bool {
    let (Some(a), Some(b)) = (shapes[0].boxes.get(&node), shapes[1].boxes.get(&node)) else {
        return false;
    };
    far(a, b) || (a.rect.height - b.rect.height).abs() >= MOVED
}

/// The worst box in words, and its lines over each other.
fn tell(
    canvas: &mut Canvas,
    labels: &mut Labels<'_>,
    cell: &ShiftCell,
    shapes: &[Shapes; 2],
    flow: &Flow,
) {
    let mut y = TOP - 16.0;
    let shift = &cell.shift;
    let Some(score) = &shift.score else {
        return;
    };
    let facts = [
        format!("{:.0} % of the window moved", score.impact * 100.0),
        format!("the farthest {} px", px(score.distance)),
        format!(
            "{} of {} lines end elsewhere",
            shift.lines_broken, shift.lines.0
        ),
        format!(
            "page {} px high, then {} px",
            px(shift.page_height.0),
            px(shift.page_height.1)
        ),
    ];
    for fact in facts {
        labels.label(canvas, &fact, (TOLD, y), 14.0, INK);
        y += 22.0;
    }
    let Some(block) = worst(&shift.blocks) else {
        labels.label(
            canvas,
            "No box changes anywhere.",
            (TOLD, y + 10.0),
            14.0,
            SOFT,
        );
        return;
    };
    y += 20.0;
    labels.label(
        canvas,
        &format!("the worst box: {}", block.element),
        (TOLD, y),
        14.0,
        INK,
    );
    y += 22.0;
    let caption = format!(
        "{} px high, then {} px; {} lines, then {}",
        px(block.height.0),
        px(block.height.1),
        block.lines.0,
        block.lines.1
    );
    for line in labels.lines(&caption, 12.0, WIDTH - MARGIN - TOLD) {
        labels.label(canvas, &line, (TOLD, y), 12.0, SOFT);
        y += 16.0;
    }
    y += 14.0;
    let Some(bottom) = overlaid(canvas, block.number, y, shapes, flow) else {
        return;
    };
    y = bottom + 18.0;
    for (words, colour) in [
        ("before", GONE),
        ("with the web fonts", CAME),
        ("does not move", STILL),
    ] {
        canvas.fill(TOLD, y - 9.0, 18.0, 9.0, colour, 0.8);
        labels.label(canvas, words, (TOLD + 26.0, y), 12.0, SOFT);
        y += 18.0;
    }
    if let Some(broken) = block.broken.first() {
        y += 12.0;
        let caption = [
            Some(format!("line {} before: {}", broken.number, broken.before)),
            broken.after.as_ref().map(|after| format!("after: {after}")),
        ];
        for caption in caption.into_iter().flatten() {
            for line in labels.lines(&caption, 12.0, WIDTH - MARGIN - TOLD) {
                labels.label(canvas, &line, (TOLD, y), 12.0, INK);
                y += 16.0;
            }
            y += 4.0;
        }
    }
    canvas.reach(y + 12.0);
}

/// The lines of an element before and after, one above the other, from `y` on; gives where
/// they end.
fn overlaid(
    canvas: &mut Canvas,
    element: usize,
    y: f64,
    shapes: &[Shapes; 2],
    flow: &Flow,
) -> Option<f64> {
    let node = (0..flow.nodes.len())
        .find(|node| flow.nodes[*node].element == element && shapes[0].lines.contains_key(node))?;
    let room = WIDTH - MARGIN - TOLD;
    let place = shapes[0].boxes.get(&node)?;
    let scale = (room / place.rect.width.max(1.0)).min(1.0);
    let mut bottom = y;
    for (page, colour) in [GONE, CAME].into_iter().enumerate() {
        let Some(here) = shapes[page].boxes.get(&node) else {
            continue;
        };
        for text in shapes[page].lines.get(&node).into_iter().flatten() {
            for piece in text.lines.iter().flat_map(|line| &line.pieces) {
                let x = TOLD + (piece.x - here.rect.x) * scale;
                let top = y + (piece.top - here.rect.y) * scale;
                let height = piece.height * scale;
                // One above the other, so that both show where they agree.
                let half = height * 0.3;
                let top = top + height * 0.15 + page as f64 * (half + height * 0.06);
                canvas.fill(x, top, piece.width * scale, half, colour, 0.8);
                bottom = bottom.max(top + height);
            }
        }
    }
    Some(bottom)
}

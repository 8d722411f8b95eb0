//! What a browser made of a page.

use std::collections::{BTreeMap, HashMap};

use serde::Deserialize;
use serde_json::{Value, json};

use super::{BrowserError, Engine, Session};

/// A page as it looks at one moment; lengths in px, from the top left corner of the
/// page.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct Measured {
    /// The width of the viewport.
    pub width: f64,
    /// Its height.
    pub height: f64,
    /// The height of the root element.
    pub page_height: f64,
    /// Elements that have a box, in the order of the page.
    pub elements: Vec<MeasuredElement>,
    /// Blocks that hold lines of text.
    pub blocks: Vec<MeasuredBlock>,
    /// The faces of `@font-face` rules.
    pub faces: Vec<FaceState>,
    /// Elements of the page's file that scripts took away, by number.
    pub gone: Vec<usize>,
    /// How many elements scripts added.
    pub added: usize,
    /// For each element that there is, its number in the page's file; nothing for those
    /// that scripts added.
    pub numbers: Vec<Option<usize>>,
}

/// The box of an element.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct MeasuredElement {
    /// Its place among all elements of the page's file, from 0.
    pub number: usize,
    /// Its tag.
    pub tag: String,
    /// The place of the element around it, as its own is counted; nothing of the outermost, and
    /// where a script put that there.
    pub parent: Option<usize>,
    /// The left edge of its border box.
    pub x: f64,
    /// Its top.
    pub y: f64,
    /// Its width.
    pub width: f64,
    /// Its height.
    pub height: f64,
    /// The computed line height: in px, or `normal`.
    pub line_height: String,
}

/// A block and its lines of text.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct MeasuredBlock {
    /// The place of the element among all elements of the page, from 0.
    pub number: usize,
    /// Its lines, from the top.
    pub lines: Vec<MeasuredLine>,
}

/// A line of text.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct MeasuredLine {
    /// Its text without blanks.
    pub text: String,
    /// The left edge of what is written.
    pub x: f64,
    /// Its top.
    pub y: f64,
    /// Its width.
    pub width: f64,
    /// Its height.
    pub height: f64,
}

/// A face of an `@font-face` rule.
#[derive(Debug, Clone, PartialEq, Eq, Deserialize)]
pub struct FaceState {
    /// `font-family`.
    pub family: String,
    /// `font-weight`.
    pub weight: String,
    /// `font-style`.
    pub style: String,
    /// `unicode-range`.
    pub range: String,
    /// `unloaded`, `loading`, `loaded` or `error`.
    pub status: String,
}

/// A layout shift that the browser counted.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct MeasuredShift {
    /// When, in ms since the page began.
    pub time: f64,
    /// The score.
    pub value: f64,
    /// What moved most; of texts their element.
    pub sources: Vec<ShiftSource>,
}

/// Something that moved.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct ShiftSource {
    /// The place of the element among all elements of the page, from 0; nothing where
    /// it is gone.
    pub number: Option<usize>,
    /// Whether it is a text in the element.
    pub text: bool,
    /// Left, top, width and height before, in px of the viewport.
    pub before: (f64, f64, f64, f64),
    /// The same after.
    pub after: (f64, f64, f64, f64),
}

/// A font that shows a text.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ShownFont {
    /// The family.
    pub family: String,
    /// The PostScript name.
    pub postscript: String,
    /// Whether a rule loaded it.
    pub web: bool,
    /// How many glyphs it shows.
    pub glyphs: u64,
}

impl Session {
    /// Measures the page as it is now.
    ///
    /// # Errors
    ///
    /// [`BrowserError`] where the browser does not answer.
    pub fn measure(&mut self) -> Result<Measured, BrowserError> {
        self.run(include_str!("measure.js"))
    }

    /// Waits until nothing of the page is drawn anew for a moment.
    ///
    /// # Errors
    ///
    /// [`BrowserError`] where the browser does not answer.
    pub fn settle(&mut self, milliseconds: u32) -> Result<(), BrowserError> {
        // Pages that are not seen may draw no frames, so time ends the wait, too.
        let _: bool = self.run(&format!(
            "for (let i = 0; i < 4; i++) await Promise.race([
                 new Promise(requestAnimationFrame), new Promise(done => setTimeout(done, 200))]);
             await new Promise(done => setTimeout(done, {milliseconds}));
             return true;"
        ))?;
        Ok(())
    }

    /// Asks the page to draw nothing until all faces that it waits for are there, so
    /// that they take effect at once: by themselves they do so one after another, as
    /// each is decoded. A view transition does that; where there is none, nothing
    /// changes.
    ///
    /// # Errors
    ///
    /// [`BrowserError`] where the browser does not answer.
    pub fn hold_drawing(&mut self) -> Result<(), BrowserError> {
        // Firefox does not load fonts meanwhile, and counts no shifts either.
        if self.engine() != Engine::Chromium {
            return Ok(());
        }
        let _: bool = self.run(
            "if (!document.startViewTransition) return false;
             let holds = false;
             const transition = document.startViewTransition(async () => {
                 holds = true;
                 await Promise.race([document.fonts.ready,
                                     new Promise(done => setTimeout(done, 3500))]);
             });
             transition.updateCallbackDone.then(() => transition.skipTransition(), () => 0);
             transition.ready.catch(() => 0);
             transition.finished.catch(() => 0);
             for (let i = 0; i < 100 && !holds; i++)
                 await new Promise(done => setTimeout(done, 10));
             return holds;",
        )?;
        Ok(())
    }

    /// How long the page has been there by its own clock, in ms, as times of layout shifts
    /// are told (High Resolution Time, §3).
    ///
    /// # Errors
    ///
    /// [`BrowserError`] where the browser does not answer.
    pub fn now(&mut self) -> Result<f64, BrowserError> {
        self.run("return performance.now();")
    }

    /// Waits until every face that the page asked for has come, or failed.
    ///
    /// # Errors
    ///
    /// [`BrowserError`] where the browser does not answer.
    pub fn faces_ready(&mut self) -> Result<(), BrowserError> {
        let _: bool = self.run(
            "await Promise.race([document.fonts.ready,
                                 new Promise(done => setTimeout(done, 10000))]);
             return true;",
        )?;
        Ok(())
    }

    /// The layout shifts of the page so far; nothing where the engine does not count
    /// them.
    ///
    /// # Errors
    ///
    /// [`BrowserError`] where the browser does not answer.
    pub fn shifts(&mut self) -> Result<Option<Vec<MeasuredShift>>, BrowserError> {
        self.run(
            "if (!(PerformanceObserver.supportedEntryTypes || []).includes('layout-shift'))
                 return null;
             const entries = await new Promise(done => {
                 const all = [];
                 const observer = new PerformanceObserver(list => all.push(...list.getEntries()));
                 observer.observe({type: 'layout-shift', buffered: true});
                 setTimeout(() => { observer.disconnect(); done(all); }, 100);
             });
             const all = [...document.querySelectorAll('*')];
             const rect = r => [r.x, r.y, r.width, r.height];
             const source = s => {
                 const text = !!s.node && s.node.nodeType == 3;
                 const number = all.indexOf(text ? s.node.parentElement : s.node);
                 return {number: number < 0 ? null : number, text,
                         before: rect(s.previousRect), after: rect(s.currentRect)};
             };
             return entries.filter(entry => !entry.hadRecentInput)
                           .map(entry => ({time: entry.startTime, value: entry.value,
                                           sources: entry.sources.map(source)}));",
        )
    }

    /// The fonts that show the texts of elements, by their numbers ([`Measured::numbers`]
    /// has them by place); nothing where the engine does not tell.
    ///
    /// # Errors
    ///
    /// [`BrowserError`] where the browser does not answer.
    pub fn shown_fonts(
        &mut self,
        elements: &[usize],
        numbers: &[Option<usize>],
    ) -> Result<Option<BTreeMap<usize, Vec<ShownFont>>>, BrowserError> {
        if self.engine() != Engine::Chromium {
            return Ok(None);
        }
        for domain in ["DOM.enable", "CSS.enable"] {
            self.devtools(domain, &json!({}))?;
        }
        self.devtools("DOM.getDocument", &json!({"depth": 0}))?;
        let root = self.devtools("DOM.getDocument", &json!({"depth": 0}))?;
        let nodes = self.devtools(
            "DOM.querySelectorAll",
            &json!({"nodeId": root["root"]["nodeId"], "selector": "*"}),
        )?;
        let nodes = nodes["nodeIds"].as_array().cloned().unwrap_or_default();
        let places: HashMap<usize, usize> = (numbers.iter().enumerate())
            .filter_map(|(place, number)| Some(((*number)?, place)))
            .collect();
        let mut shown = BTreeMap::new();
        for number in elements {
            let place = places.get(number);
            let Some(node) = place.and_then(|place| nodes.get(*place)) else {
                continue;
            };
            let answer = self.devtools("CSS.getPlatformFontsForNode", &json!({"nodeId": node}))?;
            let fonts = answer["fonts"].as_array().cloned().unwrap_or_default();
            shown.insert(*number, fonts.iter().map(ShownFont::of).collect());
        }
        Ok(Some(shown))
    }
}

impl ShownFont {
    fn of(answer: &Value) -> Self {
        let text = |name: &str| answer[name].as_str().unwrap_or_default().to_owned();
        ShownFont {
            family: text("familyName"),
            postscript: text("postScriptName"),
            web: answer["isCustomFont"].as_bool().unwrap_or(false),
            glyphs: answer["glyphCount"].as_u64().unwrap_or(0),
        }
    }
}

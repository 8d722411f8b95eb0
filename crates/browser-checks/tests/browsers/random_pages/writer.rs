//! Pages of nested boxes, made at random and the same in every run.

use std::fmt::Write as _;

use proptest::prelude::RngExt as _;
use proptest::test_runner::{RngAlgorithm, TestRng};

/// What kinds of boxes pages are made of, beside blocks.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Kind {
    Blocks,
    Floats,
    Flexes,
    Grids,
    All,
    Positioned,
    /// Text of many kinds, and what stands in it.
    Lines,
    Tables,
    /// What forms and lists are made of.
    Controls,
}

const WORDS: [&str; 13] = [
    "Tide", "turns", "every", "day", "of", "the", "year", "and", "boats", "x", "harbour", "sea",
    "Skerry",
];

/// The numbers that pages are made of.
struct Dice(TestRng);

impl Dice {
    fn number(&mut self, from: u64, to: u64) -> u64 {
        self.0.random_range(from..=to)
    }

    fn chance(&mut self, percent: u64) -> bool {
        self.number(0, 99) < percent
    }

    fn pick<'a>(&mut self, from: &[&'a str]) -> &'a str {
        from[self.number(0, from.len() as u64 - 1) as usize]
    }

    fn px(&mut self, from: u64, to: u64) -> String {
        format!("{}px", self.number(from, to))
    }

    fn some_px(&mut self, to: u64, most: u64) -> String {
        let count = self.number(1, most);
        let all: Vec<String> = (0..count).map(|_| self.px(0, to)).collect();
        all.join(" ")
    }

    fn words(&mut self) -> String {
        let count = self.number(1, 6);
        let all: Vec<&str> = (0..count).map(|_| self.pick(&WORDS)).collect();
        all.join(" ")
    }
}

/// A page on the way.
pub struct Writer {
    dice: Dice,
    kind: Kind,
    count: usize,
}

impl Writer {
    /// One that writes the same pages in every run.
    pub fn new(kind: Kind) -> Self {
        let seed = [0x5e, kind as u8].repeat(16);
        Self {
            dice: Dice(TestRng::from_seed(RngAlgorithm::ChaCha, &seed)),
            kind,
            count: 0,
        }
    }

    /// The body of the next page: boxes with `id`s.
    pub fn page(&mut self) -> String {
        self.count = 0;
        match self.kind {
            Kind::Lines => self.texts(),
            Kind::Tables => self.table() + &self.table(),
            Kind::Controls => self.controls(),
            _ => self.node("block", 0) + &self.node("block", 1),
        }
    }

    /// The next number of an element.
    fn id(&mut self) -> usize {
        self.count += 1;
        self.count
    }

    /// Some of these declarations, each with its chance in % and its values.
    fn some(&mut self, of: &[(u64, &str, &[&str])]) -> String {
        let mut style = String::new();
        for (percent, name, values) in of {
            if self.dice.chance(*percent) {
                let _ = write!(style, "{name}:{};", self.dice.pick(values));
            }
        }
        style
    }

    /// Blocks of text: parts of other sizes, boxes in lines, breaks, blanks.
    fn texts(&mut self) -> String {
        let mut body = String::new();
        for _ in 0..self.dice.number(1, 3) {
            let style = self.some(&[
                (60, "width", &["90px", "140px", "211px", "50%", "22em"]),
                (40, "text-align", &["center", "right", "justify", "end"]),
                (25, "text-indent", &["20px", "-7px", "10%"]),
                (25, "line-height", &["1.2", "normal", "17px", "150%"]),
                (
                    25,
                    "white-space",
                    &["nowrap", "pre-wrap", "pre-line", "break-spaces"],
                ),
                (20, "letter-spacing", &["1px", "-.4px", ".1em"]),
                (20, "word-spacing", &["5px", "-1px", ".3em"]),
                (20, "overflow-wrap", &["anywhere", "break-word"]),
                (15, "word-break", &["break-all", "keep-all"]),
                (15, "direction", &["rtl"]),
                (15, "text-transform", &["uppercase", "capitalize"]),
                (10, "text-wrap", &["balance", "nowrap"]),
                (10, "display", &["inline-block", "table", "flow-root"]),
                (
                    10,
                    "-webkit-line-clamp",
                    &["2;display:-webkit-box;-webkit-box-orient:vertical;overflow:hidden"],
                ),
            ]);
            let id = self.id();
            let content = self.inlines(0);
            let _ = write!(body, "<div id=e{id} style=\"{style}\">{content}</div>");
        }
        body
    }

    fn inlines(&mut self, depth: u64) -> String {
        let mut content = String::new();
        for _ in 0..self.dice.number(1, 4) {
            let style = self.some(&[
                (30, "font-size", &["13px", "31px", "80%", "1.5em"]),
                (
                    30,
                    "vertical-align",
                    &[
                        "top",
                        "bottom",
                        "middle",
                        "super",
                        "sub",
                        "-3px",
                        "40%",
                        "text-top",
                        "text-bottom",
                    ],
                ),
                (20, "line-height", &["1", "40px", "normal"]),
                (20, "padding", &["0 5px", "3px", "1px 0 2px 9px"]),
                (20, "margin", &["0 4px", "-2px", "2px 7px 3px 0"]),
                (20, "border", &["1px solid", "3px solid"]),
                (10, "letter-spacing", &["2px"]),
            ]);
            match self.dice.number(0, 7) {
                0 if depth < 2 => {
                    let inner = self.inlines(depth + 1);
                    let _ = write!(content, "<span style=\"{style}\">{inner}</span> ");
                }
                1 | 2 => {
                    let (id, words) = (self.id(), self.dice.words());
                    let more = self.some(&[
                        (40, "width", &["40px", "90px", "50%"]),
                        (30, "height", &["20px", "55px"]),
                        (15, "overflow", &["hidden"]),
                        (15, "min-width", &["60px", "100%"]),
                        (15, "max-height", &["25px"]),
                    ]);
                    let _ = write!(
                        content,
                        "<div id=e{id} style=\"display:inline-block;{style}{more}\">{words}</div> "
                    );
                }
                3 => content.push_str("<br>"),
                4 => content.push_str(self.dice.pick(&[
                    "no\u{a0}break ",
                    "far-away ",
                    "soft\u{ad}ened ",
                    "tab\tand  blanks ",
                    "line\nfeed ",
                    "and/or ",
                    "zero\u{200b}width ",
                    "<wbr>",
                    "(1,234.5) ",
                ])),
                5 => {
                    let id = self.id();
                    let size = self.some(&[
                        (60, "width", &["17px", "40px"]),
                        (60, "height", &["12px", "45px"]),
                    ]);
                    let _ = write!(
                        content,
                        "<img id=e{id} width=30 height=20 style=\"{style}{size}\" \
                         src=\"data:image/gif;base64,R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7\">"
                    );
                }
                _ => {
                    content.push_str(&self.dice.words());
                    content.push(' ');
                }
            }
        }
        content
    }

    /// A table: sizes, spans, borders, places of its content.
    fn table(&mut self) -> String {
        let style = self.some(&[
            (40, "border-collapse", &["collapse"]),
            (40, "border-spacing", &["0", "5px", "3px 9px"]),
            (40, "width", &["200px", "100%", "320px", "60px"]),
            (15, "height", &["150px", "40px"]),
            (25, "table-layout", &["fixed"]),
            (20, "border", &["1px solid", "4px solid"]),
            (20, "margin", &["5px", "0 auto", "10px 0"]),
            (10, "padding", &["4px", "3px 8px"]),
            (10, "direction", &["rtl"]),
            (10, "caption-side", &["bottom"]),
        ]);
        let id = self.id();
        let mut rows = String::new();
        if self.dice.chance(20) {
            let (id, words) = (self.id(), self.dice.words());
            let _ = write!(rows, "<caption id=e{id}>{words}</caption>");
        }
        if self.dice.chance(20) {
            let width = self.dice.pick(&["40px", "30%", "120px"]);
            let _ = write!(rows, "<col style=\"width:{width}\"><col>");
        }
        let columns = self.dice.number(1, 4);
        for _ in 0..self.dice.number(1, 4) {
            let row = self.some(&[
                (15, "height", &["50px", "20px"]),
                (10, "vertical-align", &["top", "bottom"]),
            ]);
            let _ = write!(rows, "<tr style=\"{row}\">");
            for _ in 0..self.dice.number(1, columns) {
                rows.push_str(&self.cell());
            }
            rows.push_str("</tr>");
        }
        format!("<table id=e{id} style=\"{style}\">{rows}</table>")
    }

    fn cell(&mut self) -> String {
        let style = self.some(&[
            (25, "width", &["30px", "100px", "25%", "60%"]),
            (20, "height", &["40px", "12px", "70px"]),
            (30, "padding", &["0", "6px", "2px 11px 5px"]),
            (30, "border", &["1px solid", "5px solid", "2px dashed"]),
            (
                30,
                "vertical-align",
                &["top", "middle", "bottom", "baseline"],
            ),
            (20, "text-align", &["center", "right"]),
            (15, "white-space", &["nowrap"]),
            (10, "min-width", &["80px"]),
            (10, "font-size", &["14px", "30px"]),
        ]);
        let mut spans = String::new();
        for (percent, name) in [(15, "colspan"), (12, "rowspan")] {
            if self.dice.chance(percent) {
                let _ = write!(spans, " {name}={}", self.dice.number(2, 3));
            }
        }
        let tag = if self.dice.chance(15) { "th" } else { "td" };
        let id = self.id();
        let mut content = self.dice.words();
        if self.dice.chance(20) {
            let (inner, more) = (self.id(), self.dice.words());
            let height = self.some(&[
                (40, "height", &["30px", "50%", "100%"]),
                (40, "margin", &["5px", "0 0 8px"]),
                (40, "width", &["70%", "50px"]),
            ]);
            let _ = write!(content, "<div id=e{inner} style=\"{height}\">{more}</div>");
        }
        if self.dice.chance(8) {
            content.clear();
        }
        format!("<{tag} id=e{id}{spans} style=\"{style}\">{content}</{tag}>")
    }

    /// Fields, buttons, lists, rules, groups with their legends.
    fn controls(&mut self) -> String {
        let mut body = String::new();
        for _ in 0..self.dice.number(2, 5) {
            let style = self.some(&[
                (25, "width", &["60px", "50%", "150px"]),
                (20, "height", &["18px", "44px"]),
                (25, "padding", &["0", "7px", "2px 12px"]),
                (20, "border", &["1px solid", "6px solid", "0"]),
                (25, "margin", &["3px", "0 8px", "0"]),
                (20, "vertical-align", &["top", "middle", "4px"]),
                (20, "box-sizing", &["border-box", "content-box"]),
                (15, "line-height", &["1", "2.2"]),
                (15, "font-size", &["14px", "27px"]),
                (15, "display", &["block", "inline-block"]),
            ]);
            let (id, words) = (self.id(), self.dice.words());
            let of = format!("id=e{id} style=\"font-family:F;{style}\"");
            let element = match self.dice.number(0, 9) {
                0 => format!("<input {of} value=\"{words}\">"),
                1 => format!("<input {of} size={}>", self.dice.number(2, 30)),
                2 | 3 => format!("<button {of}>{words}</button>"),
                4 => format!(
                    "<textarea {of} rows={} cols={}>{words}</textarea>",
                    self.dice.number(1, 5),
                    self.dice.number(4, 25)
                ),
                5 => {
                    let kind = self
                        .dice
                        .pick(&["checkbox", "radio", "submit", "range", "color"]);
                    format!("<input type={kind} {of}>")
                }
                6 => {
                    let (item, list) = (self.id(), self.dice.pick(&["ul", "ol", "dl"]));
                    format!("<{list} {of}><li id=e{item}>{words}<li>{words}</{list}>")
                }
                7 => format!("<hr {of}>"),
                8 => {
                    let inner = self.id();
                    format!("<fieldset {of}><legend id=e{inner}>{words}</legend>{words}</fieldset>")
                }
                _ => format!("<div {of}>{words}</div>"),
            };
            let _ = write!(body, "{element} {} ", self.dice.words());
        }
        body
    }

    fn has(&self, kind: Kind) -> bool {
        self.kind == kind || self.kind == Kind::All
    }

    fn node(&mut self, parent: &str, depth: u64) -> String {
        self.count += 1;
        let id = self.count;
        let display = self.display(depth);
        let mut style = self.style(parent);
        style.push_str(&self.container(display));
        let inside = if ["flex", "grid"].contains(&display) {
            display
        } else {
            "block"
        };
        let mut content = String::new();
        if depth < 3 && self.dice.chance(75) {
            for _ in 0..self.dice.number(1, 4) {
                if self.dice.chance(30) {
                    content.push_str(&self.dice.words());
                    content.push(' ');
                } else {
                    content.push_str(&self.node(inside, depth + 1));
                }
            }
        } else {
            content = self.dice.words();
        }
        format!("<div id=e{id} style=\"{style}\">{content}</div>")
    }

    fn display(&mut self, depth: u64) -> &'static str {
        if depth >= 3 || self.dice.chance(45) {
            return "block";
        }
        let mut all = vec!["block"];
        if self.has(Kind::Floats) {
            all.extend(["flow-root", "inline-block"]);
        }
        if self.kind == Kind::Positioned {
            all.extend(["inline-block", "flex"]);
        }
        if self.has(Kind::Flexes) {
            all.extend(["flex", "flex"]);
        }
        if self.has(Kind::Grids) {
            all.extend(["grid", "grid"]);
        }
        self.dice.pick(&all)
    }

    fn style(&mut self, parent: &str) -> String {
        let dice = &mut self.dice;
        let mut style = String::new();
        let mut put =
            |dice: &mut Dice, percent, name: &str, value: &dyn Fn(&mut Dice) -> String| {
                if dice.chance(percent) {
                    let _ = write!(style, "{name}:{};", value(dice));
                }
            };
        put(dice, 35, "width", &|dice| match dice.number(0, 2) {
            0 => dice.px(20, 300),
            1 => format!("{}%", dice.number(10, 100)),
            _ => "auto".to_owned(),
        });
        put(dice, 15, "height", &|dice| dice.px(10, 120));
        put(dice, 12, "min-width", &|dice| dice.px(20, 200));
        put(dice, 12, "max-width", &|dice| dice.px(50, 300));
        put(dice, 10, "min-height", &|dice| dice.px(10, 90));
        put(dice, 35, "margin", &|dice| dice.some_px(20, 4));
        put(dice, 30, "padding", &|dice| dice.some_px(12, 4));
        put(dice, 20, "border", &|dice| {
            format!("{} solid", dice.px(1, 5))
        });
        put(dice, 20, "box-sizing", &|_| "border-box".to_owned());
        put(dice, 10, "overflow", &|_| "hidden".to_owned());
        put(dice, 8, "margin-top", &|dice| {
            format!("-{}", dice.px(1, 20))
        });
        put(dice, 8, "margin-left", &|_| "auto".to_owned());
        put(dice, 10, "text-align", &|dice| {
            dice.pick(&["center", "right", "justify"]).to_owned()
        });
        put(dice, 6, "position", &|dice| {
            format!("relative;left:{};top:{}", dice.px(0, 10), dice.px(0, 10))
        });
        put(dice, 6, "direction", &|_| "rtl".to_owned());
        if self.kind == Kind::Positioned {
            put(dice, 25, "position", &|_| "relative".to_owned());
            put(dice, 30, "position", &|dice| {
                let mut place = if dice.chance(15) { "fixed" } else { "absolute" }.to_owned();
                for side in ["left", "right", "top", "bottom"] {
                    if dice.chance(35) {
                        let length = match dice.number(0, 2) {
                            0 => format!("{}%", dice.number(0, 60)),
                            1 => format!("-{}", dice.px(0, 30)),
                            _ => dice.px(0, 80),
                        };
                        let _ = write!(place, ";{side}:{length}");
                    }
                }
                place
            });
            put(dice, 10, "margin-right", &|_| "auto".to_owned());
        }
        let mut choose = |dice: &mut Dice, percent, name: &str, from: &[&str]| {
            put(dice, percent, name, &|dice| dice.pick(from).to_owned());
        };
        match parent {
            "flex" => {
                let flexes = ["1", "0 0 auto", "1 1 0", "2 1 50px", "0 1 120px", "none"];
                choose(dice, 40, "flex", &flexes);
                let places = ["center", "flex-end", "flex-start", "stretch"];
                choose(dice, 20, "align-self", &places);
                choose(dice, 10, "order", &["-1", "0", "1", "2"]);
            }
            "grid" => {
                choose(dice, 25, "grid-column", &["span 2", "1 / 3", "2", "1 / -1"]);
                choose(dice, 12, "grid-row", &["span 2", "1", "2"]);
                choose(dice, 15, "justify-self", &["center", "end", "start"]);
                choose(dice, 15, "align-self", &["center", "end", "start"]);
            }
            _ if self.kind == Kind::Floats || self.kind == Kind::All => {
                choose(dice, 25, "float", &["left", "right"]);
                choose(dice, 12, "clear", &["left", "right", "both"]);
            }
            _ => {}
        }
        style
    }

    fn container(&mut self, display: &str) -> String {
        let dice = &mut self.dice;
        let mut style = format!("display:{display};");
        let mut choose = |dice: &mut Dice, percent, name: &str, from: &[&str]| {
            if dice.chance(percent) {
                let _ = write!(style, "{name}:{};", dice.pick(from));
            }
        };
        let gaps = ["4px", "11px 3px", "0 14px", "7px"];
        match display {
            "flex" => {
                let directions = ["column", "row-reverse", "column-reverse", "row"];
                choose(dice, 30, "flex-direction", &directions);
                choose(dice, 25, "flex-wrap", &["wrap"]);
                let justify = ["center", "space-between", "flex-end", "space-around"];
                choose(dice, 40, "justify-content", &justify);
                let align = ["center", "flex-end", "flex-start", "baseline"];
                choose(dice, 40, "align-items", &align);
                choose(dice, 40, "gap", &gaps);
            }
            "grid" => {
                let columns = [
                    "1fr 1fr",
                    "100px 1fr",
                    "repeat(3, 1fr)",
                    "auto 1fr",
                    "auto auto",
                    "repeat(auto-fit, minmax(90px, 1fr))",
                    "minmax(0, 1fr) 2fr",
                    "30% auto",
                    "max-content 1fr",
                ];
                choose(dice, 80, "grid-template-columns", &columns);
                let rows = ["40px auto", "auto 1fr", "1fr 1fr", "minmax(30px, auto)"];
                choose(dice, 25, "grid-template-rows", &rows);
                choose(dice, 40, "gap", &gaps);
                choose(dice, 20, "justify-items", &["center", "end", "start"]);
                choose(dice, 20, "align-items", &["center", "end", "start"]);
                let content = ["center", "space-between", "end"];
                choose(dice, 15, "justify-content", &content);
                choose(dice, 15, "align-content", &content);
            }
            _ => {}
        }
        style
    }
}

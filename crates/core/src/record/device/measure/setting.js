// Measures the faces of this device by what the browser shows of them. All widths are in
// thousandths of an em, as text is set at 1000 px.
"use strict";

const SIZE = 1000;
const PROBE = "tidy-lattice-probe";
// The width of every character in the probe font.
const PROBE_WIDTH = 7319;
// Widths that differ by less are the same: a quarter of what most fonts count in.
const SAME = 0.2;
const JOINER = "\u200d";

const ignorable = /\p{Default_Ignorable_Code_Point}/u;
const mark = /\p{M}/u;
const nonspacing = /\p{Mn}/u;
const letter = /\p{L}/u;
const emojiFirst = /\p{Emoji_Presentation}/u;
const emoji = /\p{Extended_Pictographic}|\p{Regional_Indicator}/u;
const jamo = /[\u1161-\u11ff]/u;
// Browsers draw something of their own for U+FFFC.
const unassigned = /[\ufffc\p{Cn}\p{Cs}\p{Cc}\p{Co}\p{Zl}\p{Zp}]/u;
const transparent = /[\p{Mn}\p{Me}\p{Cf}]/u;

// Whether the browser takes emoji from a font of its own choice.
const ownEmoji = /Firefox\//.test(navigator.userAgent);

// The script runs on the page and in workers, which measure while the page stays alive.
const inWorker = typeof document === "undefined";
const source = inWorker ? "" : document.currentScript.textContent;
const canvas = inWorker ? new OffscreenCanvas(1, 1) : document.createElement("canvas");
const fonts = inWorker ? self.fonts : document.fonts;
const pen = canvas.getContext("2d", { willReadFrequently: true });

const hex = (point) => point.toString(16).toUpperCase();

// Lets the browser draw and listen every now and then.
// A message comes back sooner than any timer may.
const { port1: near, port2: far } = new MessageChannel();
let rested = performance.now();
async function rest() {
  if (inWorker || performance.now() - rested < 30) return;
  await new Promise((done) => {
    near.onmessage = done;
    far.postMessage(0);
  });
  rested = performance.now();
}

class Setting {
  // `font` is a family with quotes, with style and weight before the size where it has them.
  // Behind it stands the probe, where it is to be told what the family lacks.
  constructor(family, before = "", probed = true) {
    this.before = before;
    this.family = family;
    this.probed = probed;
  }

  css(size = SIZE) {
    return `${this.before} ${size}px ${this.family}${this.probed ? `, ${PROBE}` : ""}`;
  }

  width(text) {
    const font = this.css();
    if (Setting.last !== font) {
      pen.font = font;
      Setting.last = font;
    }
    return pen.measureText(text).width;
  }

  // The ink of `text` at `size` px: coverage by rows, 0 to 1, around a baseline.
  ink(text, size) {
    const wide = Math.min(2000, Math.ceil(size * (1 + text.length)));
    const high = Math.ceil(size * 1.8);
    canvas.width = wide;
    canvas.height = high;
    Setting.last = null;
    pen.font = this.css(size);
    pen.fillStyle = "#000";
    const baseline = Math.ceil(size * 1.3);
    const start = Math.ceil(size / 4);
    pen.fillText(text, start, baseline);
    return { data: pen.getImageData(0, 0, wide, high).data, wide, high, baseline, size };
  }
}


// ---- characters and their advances ----

// Stretches of which a face has many characters or none: some of each are looked at first,
// one of so many. A face that has a handful of them may lose these.
const STRETCHES = [
  [0x20, 0x33ff, 1],
  [0x3400, 0x9fff, 8],
  [0xa000, 0xabff, 1],
  [0xac00, 0xd7ff, 8],
  [0xe000, 0xf8ff, 1],
  [0xf900, 0xffff, 1],
  [0x10000, 0x1cfff, 4],
  [0x1d000, 0x1d7ff, 1],
  [0x1d800, 0x1efff, 4],
  [0x1f000, 0x1fbff, 1],
  [0x20000, 0x323af, 16],
];

function stretch([start, end, every], probe) {
  const blocks = [];
  let tried = "";
  for (let from = start; from <= end; from += 64) {
    const plain = [];
    const marks = [];
    for (let point = from; point < from + 64 && point <= end; point++) {
      const one = String.fromCodePoint(point);
      // What the browser's Unicode does not know may still be in fonts that are newer.
      const own = start === 0xe000 || (start === 0x20 && !/[\p{Cc}\p{Zl}\p{Zp}]/u.test(one));
      if ((unassigned.test(one) && !own) || ignorable.test(one)) continue;
      // Firefox takes these from the system's emoji, whatever is asked for.
      if (ownEmoji && emojiFirst.test(one)) continue;
      (mark.test(one) ? marks : plain).push(one);
    }
    if (plain.length || marks.length) blocks.push({ plain, marks, text: plain.join("") });
    for (let i = 0; i < plain.length; i += every) tried += plain[i];
  }
  const sample = every > 1 ? tried : "";
  return { blocks, sample, missing: sample ? probe.width(sample) : 0 };
}

// What there is to look for, once for all faces.
let known_ = null;
function candidates() {
  if (!known_) {
    const probe = new Setting(PROBE);
    known_ = STRETCHES.map((one) => stretch(one, probe));
  }
  return known_;
}

const inProbe = new Map();
function aloneIn(one, probe) {
  if (!inProbe.has(one)) inProbe.set(one, probe.width(one));
  return inProbe.get(one);
}

// How wide a block is where all of it is missing; only needed where something may be there.
function missing(block, probe) {
  block.missing ??= probe.width(block.text);
  return block.missing;
}

const scripts = new Map();
function scriptOf(one, plan) {
  let known = scripts.get(one);
  if (known === undefined) {
    known = plan.script_names.find((name) => scriptPattern(name).test(one)) ?? "";
    scripts.set(one, known);
  }
  return known;
}

const patterns = new Map();
function scriptPattern(name) {
  if (!patterns.has(name)) {
    patterns.set(name, new RegExp(`\\p{Script=${name.replaceAll(" ", "_")}}`, "u"));
  }
  return patterns.get(name);
}

async function characters(setting, model, plan) {
  const probe = new Setting(PROBE);
  const marks = [];
  for (const { blocks, sample, missing: absent } of candidates()) {
    if (sample && Math.abs(setting.width(sample) - absent) <= SAME) continue;
    for (const block of blocks) {
      if (block.text && Math.abs(setting.width(block.text) - missing(block, probe)) > SAME) {
        const first = setting.width(block.plain[0]);
        // Ideographs and syllables that are all as wide as the first need not be asked.
        const even =
          sample &&
          Math.abs(first - PROBE_WIDTH) > SAME &&
          Math.abs(setting.width(block.text) - first * block.plain.length) <= SAME;
        for (const one of block.plain) {
          const alone = even ? first : setting.width(one);
          // What is as wide as in the probe comes from it, in one glyph or in two; some
          // browsers show other emoji than those that were asked for.
          if (Math.abs(alone - PROBE_WIDTH) <= SAME) continue;
          const odd = alone <= SAME || alone > PROBE_WIDTH / 2 || emoji.test(one);
          if (odd && Math.abs(alone - aloneIn(one, probe)) <= SAME) continue;
          model.advances.set(one, alone);
        }
      }
      marks.push(...block.marks);
      await rest();
    }
  }
  // Marks stand on a letter of their script, others on one that composes with none.
  const bases = new Map();
  for (const one of model.advances.keys()) {
    if (!letter.test(one)) continue;
    const script = scriptOf(one, plan);
    if (script && !bases.has(script)) bases.set(script, one);
  }
  const any = ["q", "\u25cc", "ο", "о"].find((one) => model.has(one)) ?? [...bases.values()][0];
  if (!any) return { marks_told: false };
  // Whether a mark that only the probe has can be told: it takes room there.
  const told = new Setting(PROBE).width("q\u0323\u0f71") > 2.5 * PROBE_WIDTH;
  for (const one of marks) {
    for (const base of [bases.get(scriptOf(one, plan)), any, "\u25cc"]) {
      if (!base || !model.has(base)) continue;
      const wide = setting.width(base + one) - model.advances.get(base);
      if (Math.abs(wide) > PROBE_WIDTH / 2) continue;
      model.advances.set(one, wide);
      break;
    }
    await rest();
  }
  return { marks_told: told };
}

async function forms(setting, model) {
  for (const one of [...model.dual, ...model.right]) {
    if (!model.has(one)) continue;
    const alone = model.advances.get(one);
    const last = setting.width(JOINER + one);
    const both = model.dual.has(one);
    const initial = both ? setting.width(one + JOINER) : alone;
    const medial = both ? setting.width(JOINER + one + JOINER) : last;
    if ([initial, medial, last].some((wide) => Math.abs(wide - alone) > SAME)) {
      model.forms.set(one, [initial, medial, last]);
    }
    await rest();
  }
}


// ---- a face ----

// Ascent, descent and gap as this browser counts them, in em.
function line(setting) {
  const box = document.createElement("span");
  box.style.cssText = "position:absolute;visibility:hidden;white-space:pre;line-height:normal";
  box.textContent = "x";
  document.body.append(box);
  // Browsers have sizes of at most 10,000 px, some of 2,000.
  box.style.font = setting.css(10000);
  box.style.lineHeight = "normal";
  const size = parseFloat(getComputedStyle(box).fontSize);
  const used = engine().name === "Firefox" ? Math.min(size, 2000) : size;
  const high = box.getBoundingClientRect().height;
  box.remove();
  Setting.last = null;
  pen.font = setting.css(used);
  const metrics = pen.measureText("x");
  const ascent = metrics.fontBoundingBoxAscent / used;
  const descent = metrics.fontBoundingBoxDescent / used;
  return { ascent, descent, line_gap: Math.max(0, high / used - ascent - descent) };
}

// What the face counts in: the first usual number of units per em in which all advances
// are whole, else the finest.
function unitsPerEm(advances) {
  const usual = [1000, 2048, 1024, 2000, 1200, 2500, 4096, 2200, 1500, 3000, 1082, 512, 256];
  const some = [...new Set(advances)].slice(0, 400);
  for (const units of usual) {
    const off = some.filter((wide) => {
      const counted = (wide * units) / SIZE;
      return Math.abs(counted - Math.round(counted)) > 0.02 + 0.02 * (units / SIZE);
    });
    if (off.length <= some.length / 100) return units;
  }
  return 16384;
}

function ranges(points) {
  const parts = [];
  for (let i = 0; i < points.length; ) {
    let end = i;
    while (end + 1 < points.length && points[end + 1] === points[end] + 1) end++;
    parts.push(end > i ? `U+${hex(points[i])}-${hex(points[end])}` : `U+${hex(points[i])}`);
    i = end + 1;
  }
  return parts.join(", ");
}

function repeated(values) {
  const parts = [];
  for (let i = 0; i < values.length; ) {
    let end = i;
    while (values[end + 1] === values[i]) end++;
    parts.push(end > i ? `${values[i]}*${end - i + 1}` : `${values[i]}`);
    i = end + 1;
  }
  return parts.join(" ");
}

// By what comes before, then by value, what comes last.
function table(entries, units) {
  const rows = {};
  for (const [text, value] of [...entries].sort(([a], [b]) => (a < b ? -1 : 1))) {
    const letters = [...text];
    const last = letters.pop();
    const counted = Math.round((value * units) / SIZE);
    if (counted === 0) continue;
    const before = (rows[letters.join("")] ??= {});
    before[counted] = (before[counted] ?? "") + last;
  }
  return rows;
}

async function measureFace(setting, plan) {
  const model = new Model(plan);
  const { marks_told } = await characters(setting, model, plan);
  if (model.advances.size === 0) return null;
  const units = unitsPerEm(model.advances.values());
  const wide = (one) => model.advances.get(one);
  const fixed = ["i", "l", "m", "W", "1", "."].every((one) => model.has(one) && wide(one) === wide("m"));
  model.fixed = fixed;
  await forms(setting, model);
  const done = new Set();
  let first = true;
  for (const script of plan.scripts) {
    const there = [...script.letters].filter((one) => model.has(one)).length;
    if (there * 4 < [...script.letters].length) continue;
    await pairs(setting, model, script, plan, done);
    await runs(setting, model, { ...plan, figures_done: !first }, script);
    first = false;
  }
  const widths = {};
  for (const language of plan.languages) {
    if (!language.check.every((word) => model.hasAll(word))) continue;
    // By thirds, so that what is too wide in one does not make up for another.
    const third = Math.ceil(language.check.length / 3);
    widths[language.tag] = [];
    for (let i = 0; i < language.check.length; i += third) {
      let sum = 0;
      for (const word of language.check.slice(i, i + third)) sum += setting.width(word);
      widths[language.tag].push(Math.round((sum * units) / SIZE));
    }
    await rest();
  }
  const x = model.has("x") ? height(setting, "x") : null;
  const picture = ["\u{1f600}", "\u2764", "\u{1f1e9}"].find((one) => model.has(one));
  const count = (wide) => Math.round((wide * units) / SIZE);
  const points = [...model.advances.keys()].map((one) => one.codePointAt(0)).sort((a, b) => a - b);
  const joined = {};
  for (const [one, wides] of [...model.forms].sort(([a], [b]) => (a < b ? -1 : 1))) {
    const key = wides.map(count).join(" ");
    joined[key] = (joined[key] ?? "") + one;
  }
  const followers = {};
  for (const [one, base] of [...model.first].sort(([a], [b]) => (a < b ? -1 : 1))) {
    followers[base] = (followers[base] ?? "") + one;
  }
  return {
    units_per_em: units,
    x_height: x,
    cap_height: model.has("H") ? height(setting, "H") : null,
    strokes: x && model.has("n") && model.has("o") ? strokes(setting, x) : null,
    stems: model.has("l") ? stems(setting) : { feet: null, lean: null },
    fixed,
    colour: picture !== undefined && coloured(setting, picture),
    marks_told,
    shaping: await shaping(setting, model, plan),
    characters: ranges(points),
    advances: repeated(points.map((point) => count(wide(String.fromCodePoint(point))))),
    joined,
    followers,
    pairs: table(model.pairs, units),
    runs: table(model.runs, units),
    widths,
  };
}

// Characters that this browser shows in other fonts than those that were asked for, or not
// at all: in the probe they are not as wide as it has them.
function untold() {
  const probe = new Setting(PROBE);
  const points = [];
  for (let point = 0x2000; ownEmoji && point < 0x1fb00; point++) {
    if (emojiFirst.test(String.fromCodePoint(point))) points.push(point);
  }
  for (const { blocks, sample, missing: absent } of candidates()) {
    if (sample && Math.abs(absent - [...sample].length * PROBE_WIDTH) <= 2 * SAME) continue;
    for (const block of blocks) {
      if (Math.abs(missing(block, probe) - block.plain.length * PROBE_WIDTH) <= 2 * SAME) continue;
      for (const one of block.plain) {
        const wide = aloneIn(one, probe);
        // Some letters are drawn as two.
        if (Math.abs(wide - PROBE_WIDTH) > SAME && wide < 1.5 * PROBE_WIDTH) {
          points.push(one.codePointAt(0));
        }
      }
    }
  }
  return ranges([...new Set(points)].sort((a, b) => a - b));
}


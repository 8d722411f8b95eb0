// ---- what a picture shows ----

const alpha = (ink, x, y) => ink.data[(y * ink.wide + x) * 4 + 3] / 255;

function row(ink, y) {
  let sum = 0;
  for (let x = 0; x < ink.wide; x++) sum += alpha(ink, x, y);
  return sum;
}

// How far ink reaches above the baseline, in em.
function height(setting, text) {
  const ink = setting.ink(text, 400);
  let top = 0;
  while (top < ink.high && row(ink, top) < 0.5) top++;
  if (top === ink.high) return null;
  // The first row is partly covered: compared with the next one, as far as that tells.
  const next = row(ink, top + 1);
  const part = next > 0 ? Math.min(1, row(ink, top) / next) : 1;
  return (ink.baseline - top - part) / ink.size;
}

// Lengths of the stretches of ink in a row or a column.
function stretches(ink, at, along) {
  const lengths = [];
  let now = 0;
  const end = along === "row" ? ink.wide : ink.high;
  for (let i = 0; i <= end; i++) {
    const there = i < end ? (along === "row" ? alpha(ink, i, at) : alpha(ink, at, i)) : 0;
    if (there > 0.02) now += there;
    else if (now > 0) {
      lengths.push(now);
      now = 0;
    }
  }
  return lengths;
}

// Thicknesses as drawn, in em: the stem of n, side and bottom of o.
function strokes(setting, xHeight) {
  const n = setting.ink("n", 400);
  const stem = stretches(n, Math.round(n.baseline - 0.4 * xHeight * n.size), "row")[0];
  const o = setting.ink("o", 400);
  const side = stretches(o, Math.round(o.baseline - 0.5 * xHeight * o.size), "row")[0];
  let left = o.wide;
  let right = 0;
  for (let x = 0; x < o.wide; x++) {
    if (stretches(o, x, "column").length > 0) {
      left = Math.min(left, x);
      right = x;
    }
  }
  const bottom = stretches(o, Math.round((left + right) / 2), "column").pop();
  if (!(stem > 0 && side > 0 && bottom > 0)) return null;
  const size = n.size;
  return { stem: stem / size, side: side / size, bottom: bottom / size };
}

// Whether stems stand on feet, and how far they lean, in degrees.
function stems(setting) {
  const ink = setting.ink("l", 400);
  const at = (share) => {
    const y = Math.round(ink.baseline - share * ink.size);
    let first = null;
    for (let x = 0; x < ink.wide && first === null; x++) if (alpha(ink, x, y) > 0.5) first = x;
    return { first, long: stretches(ink, y, "row").reduce((a, b) => a + b, 0) };
  };
  const [foot, low, high] = [at(0.01), at(0.2), at(0.45)];
  if (low.first === null || high.first === null) return { feet: null, lean: null };
  const lean = (Math.atan2(high.first - low.first, 0.25 * ink.size) * 180) / Math.PI;
  return { feet: foot.long > 1.5 * low.long, lean: Math.round(lean * 10) / 10 };
}

function coloured(setting, text) {
  const { data } = setting.ink(text, 60);
  for (let i = 0; i < data.length; i += 4) {
    if (data[i + 3] > 128 && Math.max(data[i], data[i + 1], data[i + 2]) > 40) return true;
  }
  return false;
}

function samePicture(setting, a, b) {
  const [one, other] = [setting.ink(a, 60), setting.ink(b, 60)];
  const shift = Math.min(one.data.length, other.data.length);
  if (one.wide === other.wide) {
    for (let i = 3; i < shift; i += 4) if (Math.abs(one.data[i] - other.data[i]) > 60) return false;
    return true;
  }
  // Rows are compared as wide as the smaller one.
  const wide = Math.min(one.wide, other.wide);
  for (let y = 0; y < one.high; y++) {
    for (let x = 0; x < wide; x++) {
      if (Math.abs(alpha(one, x, y) - alpha(other, x, y)) > 0.25) return false;
    }
  }
  return true;
}


// ---- the browser and its families ----

function engine() {
  const agent = navigator.userAgent;
  const of = (pattern) => (agent.match(pattern) ?? [])[1] ?? "";
  if (/Firefox\//.test(agent)) return { name: "Firefox", version: of(/Firefox\/([\d.]+)/) };
  if (/Chrom(e|ium)\//.test(agent)) return { name: "Chromium", version: of(/Chrom(?:e|ium)\/([\d.]+)/) };
  return { name: "WebKit", version: of(/Version\/([\d.]+)/) || of(/AppleWebKit\/([\d.]+)/) };
}

function system() {
  const agent = navigator.userAgent;
  if (/Android/.test(agent)) return "Android";
  if (/iPhone|iPad|iPod/.test(agent)) return "iOS";
  // iPads call themselves Macs, but are touched.
  if (/Macintosh/.test(agent)) return navigator.maxTouchPoints > 1 ? "iOS" : "macOS";
  if (/Windows/.test(agent)) return "Windows";
  return /Linux|X11/.test(agent) ? "Linux" : "";
}

// How long a face may take to load, in ms: a browser now and then never answers.
const LOADING = 10000;

// Loads a face, with a second try where there is no answer; fails where there is none of it.
async function load(family, source) {
  for (let attempt = 0; attempt < 2; attempt++) {
    const late = new Promise((done) => setTimeout(done, LOADING, null));
    const face = await Promise.race([new FontFace(family, source).load(), late]);
    if (face) return face;
  }
  throw new Error("a face that does not load");
}

async function startProbe(plan) {
  fonts.add(await load(PROBE, `url(data:font/ttf;base64,${plan.probe})`));
}

let loaded = 0;
async function local(names) {
  for (const name of names) {
    if (!name) continue;
    const family = `tidy-lattice-${(loaded += 1)}`;
    try {
      const face = await load(family, `local(${JSON.stringify(name)})`);
      fonts.add(face);
      return { family, face };
    } catch {
      // There is none of this name.
    }
  }
  return null;
}

const SHOWN = ["Hamburgefonstiv", "qwxyzkj QWXYZ", "0123456789", "fiAVTo.,", "Δδλω", "Жщюя", "سلام", "कखग", "ไทย", "日本語", "한국어", "😀❤"];
const shown = (setting) => SHOWN.map((text) => setting.width(text));
const same = (a, b) => a.every((wide, index) => Math.abs(wide - b[index]) <= SAME);

// Whether style sheets reach a family by its name: something of it is not the probe's.
function reached(name) {
  return !same(shown(new Setting(JSON.stringify(name))), shown(new Setting(PROBE)));
}

function wanted(face) {
  return `${face.style === "normal" ? "" : face.style} ${face.weight}`.trim();
}

// The faces of a family that are here, by their own names.
async function localFaces(family) {
  const found = [];
  for (const face of family.faces) {
    const own = await local([face.full, face.postscript]);
    if (own) {
      // A guessed name may be that of no face.
      const sure = !face.guessed || (await local([face.postscript]));
      const named = sure ? face : { ...face, postscript: null };
      if (sure?.face) fonts.delete(sure.face);
      found.push({ face: named, setting: new Setting(own.family), by: "local", loaded: own.face });
      continue;
    }
    // Names that were only guessed: the one that is found is the face's.
    for (const name of face.guessed ?? []) {
      const other = await local([name]);
      if (!other) continue;
      const named = { ...face, full: name, postscript: null };
      found.push({ face: named, setting: new Setting(other.family), by: "local", loaded: other.face });
      break;
    }
  }
  return found;
}

// Further ones by the family's name with weight and style, as far as these show apart: bold
// and slanted faces that a browser makes itself are as wide as those that they are of.
function familyFaces(family, found) {
  const known = found.map((one) => shown(one.setting));
  for (const face of family.faces) {
    if (found.some((one) => one.face === face)) continue;
    const setting = new Setting(JSON.stringify(family.name), wanted(face));
    const now = shown(setting);
    if (known.some((other) => same(other, now))) continue;
    known.push(now);
    found.push({ face, setting, by: "family" });
  }
}

// Which installed family a generic one is, where widths give it away.
function genericsOf(plan, families) {
  const letters = SHOWN.map((text) => [...text]);
  const widths = (setting) => ({
    texts: shown(setting),
    letters: letters.map((of) => of.map((letter) => setting.width(letter))),
  });
  const probe = widths(new Setting(PROBE));
  const known = families.map((name) => ({ name, wide: widths(new Setting(JSON.stringify(name))) }));
  const apart = (a, b) => Math.abs(a - b) > SAME;
  return plan.generics.map((keyword) => {
    // Behind a generic family nothing is asked for.
    const wide = widths(new Setting(keyword, "", false));
    // How many letters of each family are those that show; nothing where any is another one.
    const counts = known.map((family) => {
      // Letters that a family lacks are left to whatever is behind it.
      let own = 0;
      for (let i = 0; i < SHOWN.length; i++) {
        const has = letters[i].map((_, at) => apart(family.wide.letters[i][at], probe.letters[i][at]));
        const differs = has.some((has, at) => has && apart(family.wide.letters[i][at], wide.letters[i][at]));
        const whole = has.every(Boolean);
        if (differs || (whole && apart(family.wide.texts[i], wide.texts[i]))) return 0;
        own += has.filter(Boolean).length;
      }
      return own;
    });
    // Those with the letters of one script only are parts of another family.
    const most = Math.max(0, ...counts);
    const fits = known.filter((_, at) => most > 0 && counts[at] === most);
    return { keyword, families: fits.map((family) => family.name) };
  });
}

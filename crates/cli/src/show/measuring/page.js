// The page around the measuring: what the user picks, what was found, where it goes.
"use strict";

const plan = JSON.parse(document.getElementById("plan").textContent);
const part = (id) => document.getElementById(id);
// Beginnings of the titles of platforms, by what the browser calls its system.
const systems = {
  Windows: ["Windows"],
  macOS: ["macOS"],
  iOS: ["iOS"],
  Android: ["Android"],
  Linux: ["GNOME", "KDE"],
};

const isHere = (family) => {
  const titles = systems[system()] ?? [];
  const named = (place) => titles.some((title) => plan.platforms[place].startsWith(title));
  return family.on.length === 0 || family.on.some(named);
};

function start() {
  const own = plan.families.filter(isHere);
  const known = own.length > 0 && system() !== "";
  part("own").querySelector("span").textContent = `the ${own.length} families of ${system() || "this system"}`;
  part("every").textContent = `all ${plan.families.length} families of the list`;
  if (!known) {
    part("own").hidden = true;
    document.querySelector("[value=all]").checked = true;
  }
  part("form").addEventListener("submit", (event) => {
    event.preventDefault();
    measure().catch((error) => {
      part("doing").textContent = `This browser cannot measure: ${error.message ?? error}`;
      part("doing").className = "bad";
      part("start").disabled = false;
    });
  });
}

// Usual names of the faces of a family that nothing is known of.
function usualFaces(name) {
  const joined = name.replaceAll(/[^\p{L}\p{N}]/gu, "");
  const face = (words, weight, style) => ({
    full: [name, ...words].join(" "),
    postscript: `${joined}-${words.join("") || "Regular"}`,
    // Which of these the face has is only known once one is found.
    guessed: words.length ? [] : [`${name} Regular`, joined],
    weight,
    style,
  });
  return [
    face([], 400, "normal"),
    face(["Italic"], 400, "italic"),
    face(["Bold"], 700, "normal"),
    face(["Bold", "Italic"], 700, "italic"),
  ];
}

function picked() {
  const which = document.querySelector("[name=which]:checked").value;
  const of = { own: isHere, all: () => true, none: () => false };
  const families = plan.families.filter(of[which]);
  for (const name of part("names").value.split("\n").map((line) => line.trim())) {
    const same = (family) => family.name.toLowerCase() === name.toLowerCase();
    if (name && name.length <= 200 && !families.some(same)) {
      families.push(plan.families.find(same) ?? { name, class: null, on: [], faces: [] });
    }
  }
  return families.map((family) =>
    family.faces.length ? family : { ...family, faces: usualFaces(family.name) },
  );
}

function cells(row, ...texts) {
  for (const [index, text] of texts.entries()) {
    const cell = row.insertCell();
    cell.textContent = text;
    if (row.numbers?.includes(index)) cell.className = "number";
  }
}

const counted = (number, one, many) => `${number.toLocaleString("en")} ${number === 1 ? one : many}`;

function sizeOf(list) {
  return [...list.matchAll(/U\+([0-9A-F]+)(?:-([0-9A-F]+))?/g)].reduce(
    (sum, [, from, to]) => sum + (parseInt(to ?? from, 16) - parseInt(from, 16) + 1),
    0,
  );
}

async function measure() {
  part("start").disabled = true;
  part("work").hidden = false;
  part("result").hidden = true;
  part("doing").className = "";
  part("doing").textContent = "Looking for the families";
  part("progress").removeAttribute("value");
  // So that this is seen before the work begins.
  await new Promise((done) => requestAnimationFrame(() => setTimeout(done)));
  const families = picked();
  const begun = performance.now();
  const result = await measureDevice(plan, families, ({ doing, finished, all }) => {
    part("progress").max = Math.max(1, all);
    part("progress").value = finished;
    part("doing").textContent = doing ? `${doing} (${finished + 1} of ${all})` : "";
  });
  const took = Math.round((performance.now() - begun) / 100) / 10;
  part("work").hidden = true;
  part("start").disabled = false;
  show(result, took);
}

function show(result, took) {
  part("result").hidden = false;
  part("sum").textContent =
    `${counted(result.faces.length, "face", "faces")} of ${counted(result.families.length, "family", "families")} ` +
    `in ${result.browser.engine} ${result.browser.version}${result.browser.system && ` on ${result.browser.system}`}` +
    (took > 0 ? `, ${took} s.` : ".");
  const families = part("families");
  families.textContent = "";
  for (const family of result.families) {
    const faces = result.faces.filter((face) => face.family === family.name);
    const most = Math.max(0, ...faces.map((face) => sizeOf(face.characters)));
    const pairs = Math.max(
      0,
      ...faces.map((face) =>
        Object.values(face.pairs).reduce(
          (sum, row) => sum + Object.values(row).reduce((all, ends) => all + [...ends].length, 0),
          0,
        ),
      ),
    );
    const reached = [
      family.by_name ? "by its name" : "",
      faces.some((face) => face.by === "local") ? "by local()" : "",
    ];
    const row = families.insertRow();
    row.numbers = [2, 3];
    const none = "none: the names of its faces are not known";
    cells(row, family.name, faces.map((face) => face.full).join(", ") || none, most.toLocaleString("en"), pairs.toLocaleString("en"), reached.filter(Boolean).join(" and ") || "not as a whole");
  }
  const generics = part("generics");
  generics.textContent = "";
  for (const generic of result.generics) {
    cells(generics.insertRow(), generic.keyword, generic.families.join(", ") || "none of these families");
  }
  const unknown = [
    "Underlines, which Firefox counts in lines that are set close.",
    "Features that are off until a style sheet turns them on, such as small capitals.",
    "Variants that variation selectors ask for, and sequences of emoji that are one picture.",
    "Blanks other than the space: browsers make them of it where a font has none.",
  ];
  if (result.browser.engine === "Firefox") {
    unknown.push("The gap between lines is Firefox’s own: other browsers may take another one from the same font.");
  }
  if (result.untold) {
    unknown.push(`${sizeOf(result.untold).toLocaleString("en")} characters, most of them emoji or rare scripts, that this browser shows in fonts of its own choice.`);
  }
  if (result.faces.some((face) => !face.marks_told)) {
    unknown.push("Which combining marks the fonts have: this browser does not let them be told.");
  }
  if (result.faces.some((face) => face.by === "family")) {
    unknown.push("Which weights there are beyond those whose letters have other widths: this browser does not reach all faces by their own names.");
  }
  part("unknown").replaceChildren(
    ...unknown.map((text) => Object.assign(document.createElement("li"), { textContent: text })),
  );
  part("absent-title").hidden = result.absent.length === 0;
  part("absent").textContent = result.absent.join(", ");
  give(result);
  part("found").focus();
}

function give(result) {
  const text = JSON.stringify(result);
  const name = `${result.browser.system || "device"}-${result.browser.engine}.cards.json`.toLowerCase();
  const went = (what, bad = false) => {
    part("went").textContent = what;
    part("went").className = bad ? "bad" : "good";
  };
  const size = `${Math.ceil(text.length / 1000).toLocaleString("en")} KB`;
  part("save").onclick = () => {
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([text], { type: "application/json" }));
    link.download = name;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 60000);
    went(`Saved as ${name}, ${size}.`);
  };
  part("copy").onclick = async () => {
    try {
      await navigator.clipboard.writeText(text);
      went(`${size} copied: paste them into a file ${name}.`);
    } catch {
      went("This browser does not let pages copy here; save the file instead.", true);
    }
  };
  const file = typeof File === "function" ? new File([text], name, { type: "application/json" }) : null;
  part("share").hidden = !(file && navigator.canShare?.({ files: [file] }));
  part("share").onclick = () => navigator.share({ files: [file] }).then(() => went("Shared."), () => {});
  part("send").hidden = !plan.send_to;
  part("send").onclick = async () => {
    part("send").disabled = true;
    try {
      const answer = await fetch(plan.send_to, { method: "POST", headers: { "Content-Type": "application/json" }, body: text });
      if (!answer.ok) throw new Error(await answer.text());
      went(`Sent, ${size}; the program goes on by itself.`);
    } catch (error) {
      part("send").disabled = false;
      went(`It could not be sent: ${error.message}`, true);
    }
  };
}

start();
// For devices that nobody can press a button on.
if (location.hash === "#measure") part("form").requestSubmit();

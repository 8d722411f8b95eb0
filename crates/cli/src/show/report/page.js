"use strict";
// Tables sort by the heading that is pressed.
for (const table of document.querySelectorAll("table.sorted")) {
  const body = table.tBodies[0];
  table.querySelectorAll("thead th").forEach((heading, column) => {
    const button = document.createElement("button");
    button.type = "button";
    button.append(...heading.childNodes);
    heading.append(button);
    button.addEventListener("click", () => {
      const down = heading.getAttribute("aria-sort") !== "ascending";
      table.querySelectorAll("thead th").forEach((other) => other.removeAttribute("aria-sort"));
      heading.setAttribute("aria-sort", down ? "ascending" : "descending");
      const value = (row) => {
        const text = row.cells[column] ? row.cells[column].textContent.trim() : "";
        const number = parseFloat(text.replace(/[(,]/g, ""));
        return heading.classList.contains("number") ? (isNaN(number) ? -1 : number) : text.toLowerCase();
      };
      const rows = [...body.rows].map((row) => [value(row), row]);
      rows.sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0) * (down ? 1 : -1));
      body.append(...rows.map(([, row]) => row));
    });
  });
}
// Rows of the lattice that hold a word.
const filter = document.getElementById("filter");
if (filter) {
  filter.addEventListener("input", () => {
    const word = filter.value.trim().toLowerCase();
    for (const set of document.querySelectorAll(".set")) {
      const whole = set.dataset.roles.toLowerCase().includes(word);
      let any = false;
      for (const row of set.querySelectorAll("tbody tr")) {
        row.hidden = !whole && !row.textContent.toLowerCase().includes(word);
        any = any || !row.hidden;
      }
      set.hidden = !any;
      for (const more of set.querySelectorAll("details")) more.open = word !== "";
    }
  });
}
// A paragraph in the web font and in its stand-in: words that end a line in one of them only.
const lineEnds = (place) => {
  const words = place.textContent.trim().split(/\s+/).map((word) => {
    const span = document.createElement("span");
    span.textContent = word;
    return span;
  });
  place.replaceChildren(...words.flatMap((word, number) => (number ? [" ", word] : [word])));
  const ends = new Set();
  words.forEach((word, number) => {
    const next = words[number + 1];
    if (!next || next.offsetTop > word.offsetTop + word.offsetHeight / 2) ends.add(number);
  });
  return { words, ends };
};
const compareEnds = (place) => {
  const [web, local] = [...place.querySelectorAll("[data-ends]")].map(lineEnds);
  for (const [one, other] of [[web, local], [local, web]]) {
    one.words.forEach((word, number) => {
      word.classList.toggle("end", one.ends.has(number) && !other.ends.has(number));
    });
  }
  const off = [...web.ends].filter((number) => !local.ends.has(number)).length;
  place.closest("details").querySelector(".told").textContent = off
    ? `${off} of ${web.ends.size} lines end elsewhere in the stand-in; the words are underlined.`
    : `All ${web.ends.size} lines end at the same words.`;
};
const seen = (place) => place.closest("details").open;
const compareAll = () => {
  for (const place of document.querySelectorAll(".ends")) if (seen(place)) compareEnds(place);
};
for (const place of document.querySelectorAll(".ends")) {
  place.closest("details").addEventListener("toggle", () => {
    if (seen(place)) document.fonts.ready.then(() => compareEnds(place));
  });
}
addEventListener("resize", compareAll);
// A text of the reader's own.
const own = document.getElementById("own-text");
if (own) {
  own.addEventListener("input", () => {
    for (const sample of document.querySelectorAll("[data-sample]")) sample.textContent = own.value;
    compareAll();
  });
}
// The web font over a stand-in, wiped away from the right.
for (const slider of document.querySelectorAll("[data-over]")) {
  const above = slider.closest("details").querySelector(".above");
  slider.addEventListener("input", () => { above.style.clipPath = `inset(0 ${100 - slider.value}% 0 0)`; });
}
// Stand-ins are fonts of this device: those that are not here are told, and not shown.
const toldOf = (place) => {
  const family = place.dataset.local;
  const role = place.closest(".role");
  let told = role.querySelector(".not-here");
  if (!told) {
    told = document.createElement("p");
    told.className = "not-here hint";
    told.textContent = "Not installed on this device, so not shown: ";
    role.querySelector(".samples").after(told);
  }
  if (place.matches(".sample")) {
    told.textContent += (told.textContent.endsWith(": ") ? "" : ", ") + family;
  }
  place.hidden = true;
};
for (const place of document.querySelectorAll("[data-local]")) {
  document.fonts.load(`16px ${JSON.stringify(place.dataset.local)}`)
    .then((faces) => { if (!faces.length) toldOf(place); }, () => toldOf(place));
}

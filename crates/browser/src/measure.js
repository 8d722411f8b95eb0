// What the page looks like now: boxes of elements, lines of blocks, states of faces.
const all = [...document.querySelectorAll('*')];

// Elements are numbered as the page's file has them: scripts may have added some, and taken
// others away. The file is parsed once more, and both trees are paired from the top.
const numbers = new Map();
const gone = [];
const alike = (a, b) => a.localName == b.localName && (!a.id || a.id == b.id);
// Longer lists than this many pairs are paired from both ends only.
const MOST = 250000;
const pairs = (a, b) => {
  const found = [];
  let from = 0;
  while (from < a.length && from < b.length && alike(a[from], b[from])) {
    found.push([a[from], b[from]]);
    from++;
  }
  let [endA, endB] = [a.length, b.length];
  while (endA > from && endB > from && alike(a[endA - 1], b[endB - 1])) {
    found.push([a[--endA], b[--endB]]);
  }
  const [rows, columns] = [endA - from, endB - from];
  if (rows == 0 || columns == 0 || rows * columns > MOST) return found;
  // The longest sequence that both have.
  const best = Array.from({length: rows + 1}, () => new Uint32Array(columns + 1));
  for (let i = rows - 1; i >= 0; i--)
    for (let j = columns - 1; j >= 0; j--)
      best[i][j] = alike(a[from + i], b[from + j]) ? best[i + 1][j + 1] + 1
        : Math.max(best[i + 1][j], best[i][j + 1]);
  for (let i = 0, j = 0; i < rows && j < columns;) {
    if (alike(a[from + i], b[from + j]) && best[i][j] == best[i + 1][j + 1] + 1) {
      found.push([a[from + i++], b[from + j++]]);
    } else if (best[i + 1][j] >= best[i][j + 1]) i++;
    else j++;
  }
  return found;
};
const source = (() => {
  try {
    const request = new XMLHttpRequest();
    request.open('GET', location.href, false);
    request.send();
    if (request.status != 200) return null;
    return new DOMParser().parseFromString(request.responseText, 'text/html');
  } catch { return null; }
})();
if (source) {
  // Without scripts, what is in `noscript` would be elements.
  for (const element of source.querySelectorAll('noscript')) element.textContent = '';
  const places = new Map([...source.querySelectorAll('*')].map((one, place) => [one, place]));
  const left = new Set(places.values());
  const open = [[source.documentElement, document.documentElement]];
  while (open.length) {
    const [parsed, live] = open.pop();
    numbers.set(live, places.get(parsed));
    left.delete(places.get(parsed));
    open.push(...pairs([...parsed.children], [...live.children]));
  }
  gone.push(...left);
} else {
  for (const [place, element] of all.entries()) numbers.set(element, place);
}
const added = all.filter(element => !numbers.has(element) && document.body?.contains(element));

// What is turned, resized or moved as a whole is looked at as it is laid out: lines of
// turned text have no tops. Nothing is drawn before it is put back.
const turned = [];
for (const element of all) {
  const style = getComputedStyle(element);
  if (!element.style || [style.transform, style.rotate, style.scale, style.translate]
      .every(value => !value || value == 'none')) continue;
  turned.push([element, element.getAttribute('style')]);
}
for (const [element] of turned) {
  element.style.setProperty('transition', 'none', 'important');
  // It stays the containing block of what is in it.
  element.style.setProperty('transform', 'translateX(0px)', 'important');
  for (const name of ['rotate', 'scale', 'translate'])
    element.style.setProperty(name, 'none', 'important');
}

const elements = [];
for (const element of all) {
  const number = numbers.get(element);
  if (number === undefined) continue;
  if (element != document.documentElement && !document.body?.contains(element)) continue;
  const box = element.getBoundingClientRect();
  if (element.getClientRects().length == 0) continue;
  const style = getComputedStyle(element);
  elements.push({
    number, tag: element.localName, parent: numbers.get(element.parentElement) ?? null,
    x: box.x + scrollX, y: box.y + scrollY, width: box.width, height: box.height,
    line_height: style.lineHeight,
  });
}

// Blocks that hold texts in lines: the nearest element around a text that is not
// itself in a line.
const blockOf = node => {
  let around = node.parentElement;
  while (around) {
    const display = getComputedStyle(around).display;
    // Buttons are boxes whatever their style says.
    if (display != 'inline' && display != 'contents' || around.localName == 'button') return around;
    around = around.parentElement;
  }
  return null;
};
const blocks = new Map();
const walker = document.createTreeWalker(document.body || document, NodeFilter.SHOW_TEXT);
while (walker.nextNode()) {
  const node = walker.currentNode;
  if (!node.data.trim() || !node.parentElement) continue;
  if (['script', 'style', 'noscript', 'template', 'textarea', 'option', 'title']
      .includes(node.parentElement.localName)) continue;
  const block = blockOf(node);
  if (!numbers.has(block)) continue;
  if (!blocks.has(block)) blocks.set(block, []);
  blocks.get(block).push(node);
}

// Scripts whose words are not told apart by blanks are looked at letter by letter.
const dense = /[\u0e00-\u0eff\u1000-\u109f\u1780-\u17ff\u2e80-\u9fff\uac00-\ud7af\uf900-\ufaff\uff00-\uffef]/;
const lines = [];
const range = document.createRange();
for (const [block, nodes] of blocks) {
  const rows = [];
  // What stands at the height of a row that there is belongs to it, unless it is
  // set above or below it by more than half of the smaller.
  const rowOf = (rect, from) => {
    const middle = rect.top + rect.height / 2;
    for (let i = rows.length - 1; i >= from; i--) {
      const row = rows[i];
      if (Math.abs(row.middle - middle) < Math.min(row.height, rect.height) / 2 - 0.01) return row;
    }
    const row = {middle, height: rect.height, top: rect.top, bottom: rect.bottom,
                 left: rect.left, right: rect.right, text: ''};
    rows.push(row);
    return row;
  };
  const put = (rect, text) => {
    const row = rowOf(rect, 0);
    row.top = Math.min(row.top, rect.top);
    row.bottom = Math.max(row.bottom, rect.bottom);
    row.left = Math.min(row.left, rect.left);
    row.right = Math.max(row.right, rect.right);
    row.text += text;
  };
  for (const node of nodes) {
    for (const match of node.data.matchAll(/\S+/g)) {
      const word = match[0];
      range.setStart(node, match.index);
      range.setEnd(node, match.index + word.length);
      const rects = [...range.getClientRects()].filter(rect => rect.height > 0);
      if (rects.length == 0) continue;
      const spread = rects.some(rect => Math.abs(rect.top - rects[0].top) > 1);
      if (!spread && !dense.test(word)) {
        const left = Math.min(...rects.map(rect => rect.left));
        const right = Math.max(...rects.map(rect => rect.right));
        put({top: rects[0].top, bottom: rects[0].bottom, height: rects[0].height, left, right},
            word);
        continue;
      }
      let at = match.index;
      for (const letter of word) {
        range.setStart(node, at);
        range.setEnd(node, at + letter.length);
        at += letter.length;
        const own = [...range.getClientRects()].filter(rect => rect.height > 0);
        // A letter that is part of another has no box of its own.
        if (own.length == 0) {
          if (rows.length) rows[rows.length - 1].text += letter;
          continue;
        }
        put(own[own.length - 1], letter);
      }
    }
  }
  rows.sort((a, b) => a.middle - b.middle);
  lines.push({
    number: numbers.get(block),
    lines: rows.map(row => ({text: row.text, x: row.left + scrollX, y: row.top + scrollY,
                             width: row.right - row.left, height: row.bottom - row.top})),
  });
}

// Texts by themselves: where each begins, and how far it reaches.
const faces = [...document.fonts].map(face => ({
  family: face.family.replace(/^["']|["']$/g, ''), weight: face.weight, style: face.style,
  range: face.unicodeRange, status: face.status,
}));
const page_height = document.documentElement.getBoundingClientRect().height;
for (const [element, style] of turned) {
  if (style === null) element.removeAttribute('style');
  else element.setAttribute('style', style);
}
return {
  width: innerWidth, height: innerHeight,
  page_height, gone, added: added.length,
  // Numbers by places among all elements.
  numbers: all.map(element => numbers.get(element) ?? null),
  elements, blocks: lines, faces,
};

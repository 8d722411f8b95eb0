// What the page looks like now: boxes of elements, lines of blocks, states of faces.
const all = [...document.querySelectorAll('*')];
const numbers = new Map(all.map((element, number) => [element, number]));
const elements = [];
for (const [number, element] of all.entries()) {
  if (element != document.documentElement && !document.body?.contains(element)) continue;
  const box = element.getBoundingClientRect();
  if (element.getClientRects().length == 0) continue;
  const style = getComputedStyle(element);
  elements.push({
    number, tag: element.localName,
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
  if (!block) continue;
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
return {
  width: innerWidth, height: innerHeight,
  page_height: document.documentElement.getBoundingClientRect().height,
  elements, blocks: lines, faces,
};

// ---- pairs and runs ----

const cased = (one) => one.toUpperCase() !== one;

// Takes down what `a` and `b` in a row differ from their advances. A capital behind a small
// letter is rare, and cards leave such pairs out.
function learnPair(setting, model, a, b) {
  if (cased(a) && b.toLowerCase() !== b) return;
  const off = setting.width(a + b) - model.width(a + b);
  if (Math.abs(off) > SAME) model.pairs.set(a + b, off);
}

// Pairs of `a` with each of `others`, in both orders: all at once, since most have none, then
// by twelves, then one by one. Where letters join, a space stands between two pairs.
function searchPairs(setting, model, a, others, joins) {
  const plain = (one) => !model.spell(one).composes;
  const differ = (some) => {
    const text = joins
      ? some.map((b) => `${a + b} ${b + a}`).join(" ")
      : some.map((b) => a + b).join("") + a;
    const own = model.advances.get(a);
    const known =
      joins || !plain(a) || !some.every(plain)
        ? model.width(text)
        : some.reduce((sum, b) => sum + own + model.advances.get(b), own);
    return Math.abs(setting.width(text) - known) > SAME;
  };
  if (others.length === 0 || !differ(others)) return;
  for (let i = 0; i < others.length; i += 12) {
    const some = others.slice(i, i + 12);
    if (!differ(some)) continue;
    for (const b of some) {
      learnPair(setting, model, a, b);
      if (a !== b) learnPair(setting, model, b, a);
    }
  }
}

// How wide `one` is beside the letters that are kerned most, before and behind them.
const besides = (setting, one, beside) => [
  setting.width(beside.map((b) => one + b).join(" ")),
  setting.width(beside.map((b) => b + one).join(" ")),
];

// Whether letters are as wide beside each other as alone, in a few orders.
function even(setting, model, letters) {
  return [1, 3, 7, 11, 17].every((step) => {
    const text = letters.map((_, index) => letters[(index * step) % letters.length]).join("");
    return Math.abs(setting.width(text) - model.width(text)) <= SAME;
  });
}

async function pairs(setting, model, script, plan, done) {
  const has = (list) => [...list].filter((one) => model.has(one));
  const letters = has(script.letters);
  const shared = has(plan.shared);
  const beside = has(script.letters + plan.shared).filter((one) => plan.kerned.includes(one));
  const space = model.has(" ");
  const own = [];
  const followers = [];
  const bases = new Map();
  for (const one of letters) {
    const base = [...one.normalize("NFD")][0];
    const plain = base !== one && letters.includes(base);
    if (plain && beside.length) {
      if (!bases.has(base)) bases.set(base, besides(setting, base, beside));
      const more = (model.advances.get(one) - model.advances.get(base)) * beside.length;
      const its = bases.get(base);
      const here = besides(setting, one, beside);
      if (here.every((wide, index) => Math.abs(wide - its[index] - more) <= 2 * SAME)) {
        followers.push([one, base]);
        continue;
      }
    }
    own.push(one);
    await rest();
  }
  // Spaces first: rows have them between their pairs.
  if (space) {
    const all = [...own, ...shared].filter((one) => one !== " " && !done.has(one));
    const text = ` ${all.join(" ")} `;
    const kerned = Math.abs(setting.width(text) - model.width(text)) > SAME;
    for (const one of kerned ? all : []) {
      for (const pair of [`${one} `, ` ${one}`]) {
        const differs = setting.width(pair) - model.width(pair);
        if (Math.abs(differs) > SAME) model.pairs.set(pair, differs);
      }
      await rest();
    }
  }
  for (const [one, base] of followers) {
    model.first.set(one, base);
    model.second.set(one, base);
  }
  const signs = shared.filter((one) => one !== " " && plan.usual.includes(one));
  const joins = own.some((one) => model.dual.has(one));
  // Letters of one width are not kerned; a few strings tell whether that holds.
  if (model.fixed && even(setting, model, [...own, ...signs])) {
    for (const one of signs) done.add(one);
    return;
  }
  for (const [place, a] of own.entries()) {
    searchPairs(setting, model, a, [...own.slice(place), ...signs], joins);
    await rest();
  }
  for (const [place, a] of signs.entries()) {
    if (!done.has(a)) searchPairs(setting, model, a, signs.slice(place), false);
    done.add(a);
    await rest();
  }
}

async function runs(setting, model, plan, script) {
  if (!plan.figures_done) {
    for (const run of plan.runs) if (model.hasAll(run)) model.learn(setting, run);
    for (const sign of plan.signs) {
      if (!model.has(sign) || !model.has("1")) continue;
      const text = [..."0123456789"].map((one) => `1${sign}${one}`).join(" ");
      if (Math.abs(setting.width(text) - model.width(text)) <= SAME) continue;
      for (const a of "0123456789") {
        for (const b of "0123456789") model.learn(setting, a + sign + b);
      }
      await rest();
    }
  }
  if (script.viramas) {
    const consonants = [...script.letters].filter((one) => letter.test(one) && model.has(one));
    for (const virama of script.viramas) {
      if (!model.has(virama)) continue;
      for (const a of consonants) {
        for (const b of consonants) model.learn(setting, a + virama + b);
        await rest();
      }
    }
  }
  // Ligatures of joining scripts after a letter that joins.
  const before = [...model.dual].filter((one) => model.has(one) && script.letters.includes(one));
  if (before.length) {
    const joined = [...model.pairs.keys()].filter((pair) =>
      [...pair].every((one) => script.letters.includes(one)),
    );
    for (const pair of joined.slice(0, 200)) {
      if (!model.dual.has([...pair][0])) continue;
      for (const one of before) model.learn(setting, one + pair);
      await rest();
    }
  }
  for (const language of plan.languages) {
    if (language.script !== script.name) continue;
    for (const word of language.learn) {
      if (!model.hasAll(word)) continue;
      if (Math.abs(setting.width(word) - model.width(word)) <= SAME) continue;
      const letters = [...word];
      for (const long of [3, 4]) {
        for (let i = 0; i + long <= letters.length; i++) {
          model.learn(setting, letters.slice(i, i + long).join(""));
        }
      }
      await rest();
    }
  }
}


// ---- how scripts are shaped ----

function meets(setting, model, need, text) {
  const letters = [...text];
  switch (need) {
    case "joining":
      return !samePicture(setting, text, JOINER + text + JOINER);
    case "conjuncts": {
      const apart = letters.map((one) => (virama.test(one) ? `${one}\u200c` : one)).join("");
      const differs = Math.abs(setting.width(text) - setting.width(apart)) > SAME;
      return differs || !samePicture(setting, text, apart);
    }
    case "reordering": {
      const sum = letters.reduce((all, one) => all + (model.advances.get(one) ?? 0), 0);
      return setting.width(text) < sum + 500 && !samePicture(setting, letters[0], text);
    }
    default: {
      const alone = model.advances.get(letters[0]) ?? 0;
      const spacing = letters.slice(1).some((one) => !nonspacing.test(one));
      return spacing || setting.width(text) - alone < 150;
    }
  }
}

const virama = /[\u094d\u09cd\u0a4d\u0acd\u0b4d\u0bcd\u0c4d\u0ccd\u0d4d\u0dca\u1039\u17d2]/u;

async function shaping(setting, model, plan) {
  const works = {};
  for (const probes of plan.probes) {
    let [tried, good] = [0, 0];
    let worst = null;
    for (const [need, texts] of probes.needs) {
      [tried, good] = [0, 0];
      for (const text of texts) {
        if (![...text].every((one) => one === JOINER || model.has(one))) continue;
        tried += 1;
        if (meets(setting, model, need, text)) good += 1;
        await rest();
      }
      if (tried === 0) continue;
      const here = good === tried ? 2 : good > 0 ? 1 : 0;
      worst = worst === null ? here : Math.min(worst, here);
    }
    if (worst !== null) works[probes.script] = ["missing", "partly", "works"][worst];
  }
  return works;
}


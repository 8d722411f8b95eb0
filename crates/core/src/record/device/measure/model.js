// ---- widths as a card knows them ----

class Model {
  constructor(plan) {
    this.advances = new Map();
    this.forms = new Map();
    this.first = new Map();
    this.second = new Map();
    this.pairs = new Map();
    this.runs = new Map();
    this.longest = 0;
    this.spelled = new Map();
    this.dual = new Set([...plan.dual]);
    this.right = new Set([...plan.right]);
  }

  has(character) {
    return this.advances.has(character);
  }

  hasAll(text) {
    return this.letters(text).every((one) => this.has(one));
  }

  // The letters that a character is drawn as, and whether the last of them may become one
  // with what is before it.
  spell(one) {
    let known = this.spelled.get(one);
    if (known === undefined) {
      const letters = ignorable.test(one) ? [] : this.has(one) ? [one] : [...one.normalize("NFD")];
      known = { letters, composes: letters.some((part) => mark.test(part) || jamo.test(part)) };
      this.spelled.set(one, known);
    }
    return known;
  }

  letters(text) {
    const letters = [];
    for (const one of text) {
      const { letters: parts, composes } = this.spell(one);
      if (!composes) {
        letters.push(...parts);
        continue;
      }
      for (const part of parts) {
        const last = letters.length - 1;
        const whole = last >= 0 ? (letters[last] + part).normalize("NFC") : "";
        if (whole && [...whole].length === 1 && this.has(whole)) letters[last] = whole;
        else letters.push(part);
      }
    }
    return letters;
  }

  joinsLeft(one) {
    return this.dual.has(one) || one === "\u0640";
  }

  joinsRight(one) {
    return this.dual.has(one) || this.right.has(one) || one === "\u0640";
  }

  form(letters, index) {
    const one = letters[index];
    const forms = this.forms.get(one);
    if (forms) {
      let before = index - 1;
      while (before >= 0 && transparent.test(letters[before])) before--;
      let after = index + 1;
      while (after < letters.length && transparent.test(letters[after])) after++;
      const joinedBefore = before >= 0 && this.joinsRight(one) && this.joinsLeft(letters[before]);
      const joinedAfter =
        after < letters.length && this.joinsLeft(one) && this.joinsRight(letters[after]);
      if (joinedBefore && joinedAfter) return forms[1];
      if (joinedBefore) return forms[2];
      if (joinedAfter) return forms[0];
    }
    return this.advances.get(one) ?? 0;
  }

  pair(a, b) {
    return this.pairs.get((this.first.get(a) ?? a) + (this.second.get(b) ?? b)) ?? 0;
  }

  width(text) {
    const letters = this.letters(text);
    let sum = 0;
    let next = 0;
    for (let i = 0; i < letters.length; i++) {
      sum += this.form(letters, i);
      if (i + 1 < letters.length) sum += this.pair(letters[i], letters[i + 1]);
      if (i < next) continue;
      for (let long = Math.min(this.longest, letters.length - i); long > 2; long--) {
        const run = this.runs.get(letters.slice(i, i + long).join(""));
        if (run !== undefined) {
          sum += run;
          next = i + long - 1;
          break;
        }
      }
    }
    return sum;
  }

  // Takes a run of three and more letters down where the rest measures it wrongly.
  learn(setting, text) {
    const letters = this.letters(text);
    if (letters.length < 3 || letters.length > 6 || this.runs.size > 3000) return;
    const run = letters.join("");
    const shaped = setting.width(text);
    if (Math.abs(shaped - this.width(text)) <= SAME) return;
    this.longest = Math.max(this.longest, letters.length);
    this.runs.set(run, 0);
    this.runs.set(run, shaped - this.width(text));
  }
}


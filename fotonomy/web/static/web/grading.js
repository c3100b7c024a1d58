// An answer graded without the server, by the rules that were taken along with its exercise.
window.fotonomy = window.fotonomy || {};

(() => {
  /** @typedef {"right" | "close" | "off"} Mark */
  /** @typedef {{mark?: Mark, error?: string}} Graded */
  // The units that a number may be typed in, as everywhere else.
  const UNITS = {
    s: { s: 1, sec: 1, ms: 0.001, min: 60, h: 3600 },
    stops: { stop: 1, stops: 1, st: 1, ev: 1 },
    GB: { gb: 1, mb: 0.001, tb: 1000 },
    "%": { "%": 1, percent: 1 },
    EV: { ev: 1 },
    frames: { frame: 1, frames: 1 },
  };

  /** @returns {Mark} */
  function by(wrong, forgives) {
    return wrong === 0 ? "right" : wrong <= forgives ? "close" : "off";
  }

  /** @returns {Mark} */
  function within(value, [close, right, last, farthest]) {
    if (value >= right && value <= last) return "right";
    return value >= close && value <= farthest ? "close" : "off";
  }

  /** @returns {Graded} */
  function keys(guess, rules) {
    const chosen = guess.answer.split(",").filter(Boolean);
    if (!chosen.length) return { error: "Needs an answer." };
    const off =
      chosen.filter((one) => !rules.right.includes(one)).length +
      rules.right.filter((one) => !chosen.includes(one)).length;
    return { mark: by(off, rules.forgives) };
  }

  /** @returns {Graded} */
  function order(guess, rules) {
    const mine = guess.answer.split(",");
    let wrong = 0;
    rules.right.forEach((one, k) => {
      for (const later of rules.right.slice(k + 1)) wrong += mine.indexOf(one) > mine.indexOf(later) ? 1 : 0;
    });
    return { mark: by(wrong, 1) };
  }

  /** @returns {Graded} */
  function settings(guess, rules) {
    let stops = rules.base;
    for (const [name, marks] of Object.entries(rules.turns)) stops += marks[guess[name]];
    return { mark: within(stops, rules.edges) };
  }

  /** @returns {Graded} */
  function amount(guess, rules) {
    const marks = [];
    for (const [name, rule] of Object.entries({ answer: rules, zebra: rules.zebra })) {
      if (!rule) continue;
      const value = read(guess[name], rule);
      if (!(value >= rule.low && value <= rule.high)) {
        const what = name === "zebra" ? "Zebra 2: a" : "A";
        return { error: `${what} number from ${short(rule.low)} to ${short(rule.high)} ${rule.unit}.` };
      }
      marks.push(within(value, rule.edges));
    }
    return { mark: marks.includes("off") ? "off" : marks.includes("close") ? "close" : "right" };
  }

  function short(value) {
    return Number(value.toPrecision(4));
  }

  /** A number as it was typed; NaN for what is none.
   * @param {string} typed
   * @param {{unit: string, glass?: boolean}} rule
   * @returns {number}
   */
  function read(typed, rule) {
    const text = typed
      .trim()
      .replace(",", ".")
      .replace("−", "-")
      .replace(/^(ev|iso)\b\s*/i, "")
      .toLowerCase();
    if (rule.glass && /nd|^[0-4]\.\d\d?$/.test(text)) return glass(text);
    const part = /^(-?)(?:(\d+)\s+)?(\d+)\s*\/\s*(\d+(?:\.\d+)?)\s*([a-z]*)$/.exec(text);
    if (part && (rule.unit === "stops" || rule.unit === "s")) {
      const size = Number(part[2] || 0) + Number(part[3]) / Number(part[4]);
      return part[1] ? -size : size;
    }
    const found = /^(-?(?:\d+\.?\d*|\.\d+))\s*([a-z%]*)$/.exec(text);
    if (!found) return Number.NaN;
    const factor = found[2] === "" ? 1 : UNITS[rule.unit][found[2]];
    return factor === undefined ? Number.NaN : Number(found[1]) * factor;
  }

  // A filter by its name: a factor (ND64), a density (0.9), or stops.
  function glass(text) {
    const found = /^(?:nd\s*)?(\d+(?:\.\d+)?)\s*(stops?|st)?$/.exec(text);
    if (!found) return Number.NaN;
    const value = Number(found[1]);
    if (found[2]) return value;
    return found[1].includes(".") ? value / Math.log10(2) : Math.log2(value);
  }

  const sorts = { keys, order, amount, settings };
  fotonomy.grading = {
    /** What a guess, by field, is worth, or what is wrong with it.
     * @param {Record<string, string>} guess
     * @param {any} rules
     * @returns {Graded}
     */
    graded: (guess, rules) => sorts[rules.sort](guess, rules),
    read,
  };
})();

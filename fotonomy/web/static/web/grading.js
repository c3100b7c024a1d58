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
    if (!chosen.length) return { error: "Give an answer first." };
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

  // What follows is the core's own reading (core/notation/reading.py), rule by rule: a corpus of typed
  // texts holds the one against the other.
  const NUMBER = "[-+−]?(?:\\d[\\d \\u00a0\\u202f]*(?:[.,]\\d+)?|[.,]\\d+)";
  const QUANTITY = new RegExp(`^(${NUMBER})\\s*([^\\d\\s].*)?$`);
  const PART = /^([-+−]?)\s*(?:(\d+)\s+)?([1-5])\/([2346])\s*(?:stops?|st|ev)?$/i;
  const OF_A_SECOND = /^\s*1\s*\/\s*(\d+(?:\.\d+)?)\s*s?\s*$/;
  const IS_FILTER = /nd|^\s*[0-4][.,]\d\d?\s*$/i;
  const FILTER_STOPS = new RegExp(`^(?:nd\\s*)?(${NUMBER})\\s*(?:stops?|st)$`, "i");
  const FILTER_FACTOR = /^(?:nd\s*(\d+)x?|1\s*\/\s*(\d+))$/i;
  const FILTER_DENSITY = new RegExp(`^(?:nd\\s*)?(${NUMBER})$`, "i");
  const LONGEST = 80,
    LOG10_2 = Math.log10(2),
    DENSEST = 8;

  function cleaned(typed) {
    const text = typed.replaceAll("\u00a0", " ").split(/\s+/).join(" ").trim();
    return text.length <= LONGEST ? text : "";
  }

  function number(digits) {
    const value = Number(
      digits
        .replaceAll(/[ \u00a0\u202f]/g, "")
        .replaceAll("−", "-")
        .replaceAll(",", "."),
    );
    return Number.isFinite(value) ? value : Number.NaN;
  }

  /** A number as it was typed; NaN for what is none.
   * @param {string} typed
   * @param {{unit: string, glass?: boolean}} rule
   * @returns {number}
   */
  function read(typed, rule) {
    let text = typed.replace(/^\s*(EV|ISO)\b/i, "");
    const time = rule.unit === "s" ? OF_A_SECOND.exec(text) : null;
    if (time) text = Number(time[1]) ? (1 / Number(time[1])).toFixed(6) : "";
    if (rule.glass && IS_FILTER.test(text)) return density(cleaned(text)) / LOG10_2;
    const said = cleaned(text);
    const part = rule.unit === "stops" ? PART.exec(said) : null;
    if (part) {
      const size = Number(part[2] || 0) + Number(part[3]) / Number(part[4]);
      return part[1] === "-" || part[1] === "−" ? -size : size;
    }
    const found = QUANTITY.exec(said);
    if (!found) return Number.NaN;
    const unit = (found[2] || "").trim().toLowerCase();
    const factor = unit === "" ? 1 : UNITS[rule.unit][unit];
    return factor === undefined ? Number.NaN : number(found[1]) * factor;
  }

  // A filter by its name: stops, a factor (ND64), or a density (0.9).
  function density(said) {
    const stops = FILTER_STOPS.exec(said),
      factor = FILTER_FACTOR.exec(said),
      plain = FILTER_DENSITY.exec(said);
    let value = Number.NaN;
    if (["none", "no", "off", "clear", "nd none", "-"].includes(said.toLowerCase())) value = 0;
    else if (stops) value = Math.round(number(stops[1]) * LOG10_2 * 10) / 10;
    else if (factor) {
      // Factors name the power of two, or the third of a stop, that they are meant for.
      const thirds = Math.round(Math.log2(Number(factor[1] || factor[2])) * 3);
      value = Math.round(((0.3 * thirds) / 3) * 100) / 100;
    } else if (plain && (/[.,]/.test(plain[1]) || number(plain[1]) === 0)) value = number(plain[1]);
    return value >= 0 && value <= DENSEST ? value : Number.NaN;
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

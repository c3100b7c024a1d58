// Exercises that are taken along: graded here, kept in this browser, sent when there is a network.
(() => {
  const KEPT = "fotonomy-drill-answers";
  const SIGNS = { right: "●", close: "▲", off: "✕" };
  const page = document.querySelector("[data-ahead]");
  if (!page) return;
  // As it came, before anything is answered on it.
  const served = `<!DOCTYPE html>${document.documentElement.outerHTML}`;

  for (const form of page.querySelectorAll(".drill-taken")) {
    form.addEventListener("submit", (event) => {
      event.preventDefault();
      if (form.dataset.done) return;
      const wrong = form.querySelector("[data-wrong]");
      const found = graded(form);
      wrong.hidden = !found.error;
      wrong.textContent = found.error || "";
      if (found.error) return;
      form.dataset.done = "1";
      form.querySelector("[data-sign]").textContent = SIGNS[found.mark];
      form.querySelector("[data-mark]").textContent = found.mark[0].toUpperCase() + found.mark.slice(1);
      const result = form.querySelector("[data-graded]");
      result.classList.add({ right: "is-good", close: "is-warn", off: "is-bad" }[found.mark]);
      result.hidden = false;
      form.querySelector("button[type=submit]").disabled = true;
      keep({
        uid: crypto.randomUUID(), kind: form.dataset.kind, level: Number(form.dataset.level),
        seed: Number(form.dataset.seed), at: new Date().toISOString(), guess: found.guess,
      });
      send();
    });
  }

  // What was answered, by field, and its mark, or what is wrong with it.
  function graded(form) {
    const rules = JSON.parse(form.dataset.rules);
    return { keys, order, amount, settings }[rules.sort](form, rules);
  }

  function keys(form, rules) {
    const chosen = [...form.querySelectorAll("input:checked")].map((one) => one.value);
    if (!chosen.length) return { error: "Needs an answer." };
    const off = chosen.filter((one) => !rules.right.includes(one)).length
      + rules.right.filter((one) => !chosen.includes(one)).length;
    return { mark: by(off, rules.forgives), guess: { answer: chosen.join(",") } };
  }

  function order(form, rules) {
    const rows = [...form.querySelectorAll("[data-order] li")].sort(
      (a, b) => a.querySelector("select").value - b.querySelector("select").value,
    );
    const mine = rows.map((one) => one.dataset.key);
    let wrong = 0;
    rules.right.forEach((one, k) => {
      for (const later of rules.right.slice(k + 1)) wrong += mine.indexOf(one) > mine.indexOf(later);
    });
    return { mark: by(wrong, 1), guess: { answer: mine.join(",") } };
  }

  function by(wrong, forgives) {
    return wrong === 0 ? "right" : wrong <= forgives ? "close" : "off";
  }

  function within(value, [close, right, last, farthest]) {
    if (value >= right && value <= last) return "right";
    return value >= close && value <= farthest ? "close" : "off";
  }

  function settings(form, rules) {
    const guess = {};
    let stops = rules.base;
    for (const [name, marks] of Object.entries(rules.turns)) {
      guess[name] = form.querySelector(`select[name=${name}]`).value;
      stops += marks[guess[name]];
    }
    return { mark: within(stops, rules.edges), guess };
  }

  function amount(form, rules) {
    const guess = {}, marks = [];
    for (const [name, rule] of [["answer", rules], ["zebra", rules.zebra]]) {
      if (!rule) continue;
      guess[name] = form.querySelector(`input[name=${name}]`).value;
      const value = read(guess[name], rule);
      if (!(value >= rule.low && value <= rule.high)) {
        const what = name === "zebra" ? "Zebra 2: a" : "A";
        return { error: `${what} number from ${short(rule.low)} to ${short(rule.high)} ${rule.unit}.` };
      }
      marks.push(within(value, rule.edges));
    }
    const worst = ["off", "close", "right"].find((one) => marks.includes(one));
    return { mark: worst, guess };
  }

  function short(value) {
    return Number(value.toPrecision(4));
  }

  // The units that a number may be typed in, as everywhere else; NaN for what is none.
  const UNITS = {
    s: { s: 1, sec: 1, ms: 0.001, min: 60, h: 3600 },
    stops: { stop: 1, stops: 1, st: 1, ev: 1 },
    GB: { gb: 1, mb: 0.001, tb: 1000 },
    "%": { "%": 1, percent: 1 },
    EV: { ev: 1 },
    frames: { frame: 1, frames: 1 },
  };

  function read(typed, rule) {
    const text = typed.trim().replace(",", ".").replace("−", "-").replace(/^(ev|iso)\b\s*/i, "").toLowerCase();
    if (rule.glass && /nd|^[0-4]\.\d\d?$/.test(text)) return glass(text);
    const part = /^(-?)(?:(\d+)\s+)?(\d+)\s*\/\s*(\d+(?:\.\d+)?)\s*([a-z]*)$/.exec(text);
    if (part && (rule.unit === "stops" || rule.unit === "s")) {
      const size = Number(part[2] || 0) + part[3] / part[4];
      return part[1] ? -size : size;
    }
    const found = /^(-?(?:\d+\.?\d*|\.\d+))\s*([a-z%]*)$/.exec(text);
    if (!found) return Number.NaN;
    const factor = found[2] === "" ? 1 : UNITS[rule.unit][found[2]];
    return factor === undefined ? Number.NaN : Number(found[1]) * factor;
  }

  // Glass by its name: a factor (ND64), a density (0.9), or stops.
  function glass(text) {
    const found = /^(?:nd\s*)?(\d+(?:\.\d+)?)\s*(stops?|st)?$/.exec(text);
    if (!found) return Number.NaN;
    const value = Number(found[1]);
    if (found[2]) return value;
    return found[1].includes(".") ? value / Math.log10(2) : Math.log2(value);
  }

  function kept() {
    try {
      return JSON.parse(localStorage.getItem(KEPT) || "[]");
    } catch {
      return [];
    }
  }

  function keep(one) {
    localStorage.setItem(KEPT, JSON.stringify([...kept(), one]));
    say();
  }

  function say() {
    const count = kept().length;
    page.querySelector("[data-kept]").textContent = count
      ? `${count} answer${count === 1 ? "" : "s"} not sent yet.` : "";
  }

  async function send() {
    const answers = kept();
    if (!answers.length) return say();
    const token = document.querySelector("[name=csrfmiddlewaretoken]").value;
    try {
      const answer = await fetch(page.dataset.send, {
        method: "POST", headers: { "Content-Type": "application/json", "X-CSRFToken": token },
        body: JSON.stringify({ answers }),
      });
      if (answer.ok) {
        const { kept: done, refused } = await answer.json();
        const gone = new Set([...done, ...refused]);
        localStorage.setItem(KEPT, JSON.stringify(kept().filter((one) => !gone.has(one.uid))));
      }
    } catch {
      // No network: they stay where they are.
    }
    say();
  }

  // The page itself is kept by the worker of the field pages, once it is there to fetch it.
  navigator.serviceWorker?.register(page.dataset.worker, { scope: "/" }).then(async () => {
    await navigator.serviceWorker.ready;
    const pages = await caches.open("field-pages");
    await pages.put(location.pathname, new Response(served, {
      headers: { "Content-Type": "text/html; charset=utf-8" },
    }));
  }).catch(() => null);
  window.addEventListener("online", send);
  send();
})();

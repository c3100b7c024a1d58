// Exercises that are taken along: graded here, kept in this browser, sent when there is a network.
(() => {
  const KEPT = "fotonomy-drill-answers";
  const RIGHT = 1 / 3 + 0.02, CLOSE = 1.02;
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
        seed: Number(form.dataset.seed), at: new Date().toISOString(), guess: { answer: found.answer },
      });
      send();
    });
  }

  function graded(form) {
    const field = form.querySelector("input[data-value]");
    if (field) return amount(field);
    const chosen = [...form.querySelectorAll("input:checked")].map((one) => one.value);
    if (!chosen.length) return { error: "Needs an answer." };
    const right = new Set(form.querySelector("[data-right]").dataset.right.split(","));
    const off = chosen.filter((one) => !right.has(one)).length
      + [...right].filter((one) => !chosen.includes(one)).length;
    const many = form.querySelector("input[type=checkbox]");
    const mark = off === 0 ? "right" : off === 1 && many ? "close" : "off";
    return { mark, answer: chosen.join(",") };
  }

  function amount(field) {
    const text = field.value.trim().replace(",", ".").replace("−", "-").replace(/^(ev|iso)\s*/i, "");
    const { low, high, value, to, scale } = field.dataset;
    const found = /^1\s*\/\s*\d/.test(text) ? 1 / Number.parseFloat(text.split("/")[1]) : Number.parseFloat(text) * factor(text);
    if (!(found >= Number(low) && found <= Number(high))) {
      return { error: `A number from ${Number(low)} to ${Number(high)}.` };
    }
    let off = 0;
    const edge = found < Number(value) ? Number(value) : found > Number(to) ? Number(to) : found;
    if (edge !== found) off = scale === "ratio" ? Math.log2(found / edge) : found - edge;
    const size = Math.abs(off);
    return { mark: size <= RIGHT ? "right" : size <= CLOSE ? "close" : "off", answer: field.value };
  }

  function factor(text) {
    if (/\dmin|\d min/.test(text)) return 60;
    return /\d ?h$/.test(text) ? 3600 : 1;
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

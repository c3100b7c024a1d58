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
      const rules = JSON.parse(form.dataset.rules);
      const guess = guessed(form, rules);
      const found = fotonomy.grading.graded(guess, rules);
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
        uid: crypto.randomUUID(),
        kind: form.dataset.kind,
        level: Number(form.dataset.level),
        seed: Number(form.dataset.seed),
        at: new Date().toISOString(),
        guess,
      });
      send();
    });
  }

  // What was answered, by field.
  function guessed(form, rules) {
    if (rules.sort === "order") {
      const rows = [...form.querySelectorAll("[data-order] li")].sort(
        (a, b) => a.querySelector("select").value - b.querySelector("select").value,
      );
      return { answer: rows.map((one) => one.dataset.key).join(",") };
    }
    if (rules.sort === "keys") {
      return { answer: [...form.querySelectorAll("input:checked")].map((one) => one.value).join(",") };
    }
    const names = rules.turns ? Object.keys(rules.turns) : rules.zebra ? ["answer", "zebra"] : ["answer"];
    return Object.fromEntries(names.map((name) => [name, form.elements.namedItem(name).value]));
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
      ? `${count} answer${count === 1 ? "" : "s"} not sent yet.`
      : "";
  }

  async function send() {
    const answers = kept();
    if (!answers.length) return say();
    const token = document.querySelector("[name=csrfmiddlewaretoken]").value;
    try {
      const answer = await fetch(page.dataset.send, {
        method: "POST",
        headers: { "Content-Type": "application/json", "X-CSRFToken": token },
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
  navigator.serviceWorker
    ?.register(page.dataset.worker, { scope: "/" })
    .then(async () => {
      await navigator.serviceWorker.ready;
      const pages = await caches.open("field-pages");
      await pages.put(
        location.pathname,
        new Response(served, {
          headers: { "Content-Type": "text/html; charset=utf-8" },
        }),
      );
    })
    .catch(() => null);
  window.addEventListener("online", send);
  send();
})();

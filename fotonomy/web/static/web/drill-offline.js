// Exercises that are taken along: graded here, kept in this browser, sent when there is a network.
(() => {
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
      const result = form.querySelector("[data-graded]");
      form.querySelector("[data-mark]").textContent = result.dataset[found.mark];
      result.classList.add({ right: "is-good", close: "is-warn", off: "is-bad" }[found.mark]);
      result.hidden = false;
      form.querySelector("button[type=submit]").disabled = true;
      keep({
        uid: crypto.randomUUID(),
        kind: form.dataset.kind,
        name_of_kind: form.querySelector("h2").firstChild.textContent.trim(),
        level: Number(form.dataset.level),
        seed: Number(form.dataset.seed),
        at: new Date().toISOString(),
        guess,
      });
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

  const outbox = new fotonomy.Outbox("drill");
  let token = "";
  const sender = new fotonomy.BatchSender(outbox, { batch: Number(page.dataset.batch), token: () => token });
  let failures = 0,
    clock = 0;

  async function keep(one) {
    try {
      await outbox.keep({ ...one, send: page.dataset.send });
    } catch {
      page.querySelector("[data-kept]").textContent = "No room in this browser: this answer is not kept.";
    }
    await send();
  }

  const called = (entry) => `${entry.name_of_kind || entry.kind}, level ${entry.level}`;
  async function say(signedOut = false) {
    const mine = await outbox.draw(page.querySelector("[data-waiting]"), {
      words: called,
      pressed: () => send(),
      only: (entry) => Boolean(entry.refused || entry.closed),
    });
    const all = await outbox.mine(),
      count = all.length - mine.length;
    const log = signedOut && count ? " They go out when you are logged in again." : "";
    page.querySelector("[data-kept]").textContent = count
      ? `${count} answer${count === 1 ? "" : "s"} not sent yet.${log}`
      : "";
  }

  // The page was kept, its token is old: a fresh one is asked for.
  async function fresh() {
    const answer = await fetch(page.dataset.token, { headers: { "X-Fotonomy-Person": fotonomy.person() } });
    if (!answer.ok || answer.redirected) return false;
    token = (await answer.json()).token;
    return true;
  }

  async function send() {
    clearTimeout(clock);
    await say();
    if (!(await outbox.mine()).some((entry) => !entry.refused)) return;
    const came = await fresh().then(
      (there) => (there ? sender.send(true) : { signedOut: true, later: false }),
      () => ({ signedOut: false, later: true }),
    );
    failures = came.later ? failures + 1 : 0;
    if (came.later) clock = setTimeout(send, fotonomy.waitAfter(failures));
    await say(came.signedOut);
  }

  // The page itself is kept by the worker of the field pages, once it is there to fetch it.
  fotonomy.keptDays.worker(page.dataset.worker).then(async (worker) => {
    if (!worker) return;
    const pages = await caches.open(`field-pages-${fotonomy.person()}`);
    const headers = { "Content-Type": "text/html; charset=utf-8", "X-Fotonomy-Person": fotonomy.person() };
    await pages.put(location.pathname, new Response(served, { headers }));
  });
  addEventListener("online", send);
  send();
})();

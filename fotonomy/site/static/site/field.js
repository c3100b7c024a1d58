// Field pages: swipe to the next setup, keep the screen awake, step a value, a watch for the length.
(() => {
  const one = (selector) => document.querySelector(selector);

  // A swipe across goes to the setup before or after; down and up stay scrolling.
  let from = null;
  addEventListener("touchstart", (event) => {
    const touch = event.changedTouches[0];
    from = event.touches.length === 1 && !event.target.closest("input, textarea, button") ? touch : null;
  }, { passive: true });
  addEventListener("touchend", (event) => {
    if (!from) return;
    const to = event.changedTouches[0];
    const across = to.clientX - from.clientX, down = to.clientY - from.clientY;
    if (Math.abs(across) < 80 || Math.abs(across) < 2 * Math.abs(down)) return;
    one(across < 0 ? "[data-after]" : "[data-before]")?.click();
  }, { passive: true });

  // The screen stays on while a card is looked at, where the browser allows it.
  const awake = async () => {
    if (document.visibilityState !== "visible" || !navigator.wakeLock) return;
    try {
      await navigator.wakeLock.request("screen");
    } catch {
      // A battery that is low may forbid it: the page works all the same.
    }
  };
  if (one(".values, [data-awake]")) {
    awake();
    document.addEventListener("visibilitychange", awake);
  }

  // What is ticked before a take stays ticked on this device until the next day.
  const checks = one("[data-checks]");
  if (checks) {
    const key = `checks-${checks.dataset.checks}-${new Date().toDateString()}`;
    const kept = new Set((localStorage.getItem(key) || "").split(",").filter(Boolean));
    for (const box of checks.querySelectorAll("input")) {
      box.checked = kept.has(box.name);
      box.addEventListener("change", () => {
        if (box.checked) kept.add(box.name);
        else kept.delete(box.name);
        localStorage.setItem(key, [...kept].join(","));
      });
    }
  }

  // A run under way counts down to its last frame.
  const ends = one("[data-ends]");
  if (ends) {
    const count = () => {
      const left = Math.round((new Date(ends.dataset.ends) - new Date()) / 1000);
      const hours = Math.floor(left / 3600), minutes = Math.floor((left % 3600) / 60);
      ends.textContent = left > 0 && left < 86400 ? `· ${hours ? `${hours} h ` : ""}${minutes} min left` : "";
    };
    count();
    setInterval(count, 15000);
  }

  for (const stepper of document.querySelectorAll(".stepper")) {
    const steps = stepper.dataset.steps.split("|"), input = stepper.querySelector("input");
    const mark = () => stepper.classList.toggle("is-other", input.value !== stepper.dataset.planned);
    stepper.addEventListener("click", (event) => {
      const step = Number(event.target.dataset?.step);
      if (!step) return;
      const at = steps.indexOf(input.value);
      const next = at < 0 ? steps.indexOf(stepper.dataset.planned) : at + step;
      if (steps[next] !== undefined) input.value = steps[next];
      mark();
    });
    input.addEventListener("input", mark);
    mark();
  }

  const form = one("[data-take]");
  if (!form) return;
  const opened = new Date();
  form.addEventListener("submit", () => {
    form.elements.at.value = (stopped || opened).toISOString();
    form.elements.sent_at.value = new Date().toISOString();
    // A second tap sends nothing new: the take has its id already.
    setTimeout(() => document.querySelectorAll("[type=submit]").forEach((button) => (button.disabled = true)));
  });
  const watch = one("[data-watch]");
  let started = null, ticking = null, stopped = null;
  const said = () => {
    const seconds = Math.round((new Date() - started) / 1000);
    return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
  };
  watch.hidden = false;
  watch.addEventListener("click", () => {
    if (started) {
      clearInterval(ticking);
      form.elements.namedItem("length").value = said();
      stopped = started;
      started = null;
      watch.textContent = "Start the watch again";
      return;
    }
    started = new Date();
    ticking = setInterval(() => (watch.textContent = `Stop at ${said()}`), 250);
  });
})();

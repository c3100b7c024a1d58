// Field pages: swipe to the next setup, keep the screen awake, step a value, a watch for the length.
(() => {
  const one = (selector) => document.querySelector(selector);

  // A swipe across goes to the setup before or after; down and up stay scrolling.
  let from = null;
  addEventListener(
    "touchstart",
    (event) => {
      const touch = event.changedTouches[0];
      from = event.touches.length === 1 && !event.target.closest("input, textarea, button") ? touch : null;
    },
    { passive: true },
  );
  addEventListener(
    "touchend",
    (event) => {
      if (!from) return;
      const to = event.changedTouches[0];
      const across = to.clientX - from.clientX,
        down = to.clientY - from.clientY;
      if (Math.abs(across) < 80 || Math.abs(across) < 2 * Math.abs(down)) return;
      one(across < 0 ? "[data-after]" : "[data-before]")?.click();
    },
    { passive: true },
  );

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
      const left = Math.round((Date.parse(ends.dataset.ends) - Date.now()) / 1000);
      const hours = Math.floor(left / 3600),
        minutes = Math.floor((left % 3600) / 60);
      ends.textContent = left > 0 && left < 86400 ? `· ${hours ? `${hours} h ` : ""}${minutes} min left` : "";
    };
    count();
    setInterval(count, 15000);
  }

  // A watch that was started goes on over pages and a browser that was closed: its start is kept on
  // this device. Of an interval run it says when the last frame is due, and counts down to it.
  const watchKey = (setup) => `field-watch-${setup}`;
  const startedAt = (setup) => {
    const kept = new Date(localStorage.getItem(watchKey(setup)) || NaN);
    const hours = (Date.now() - kept.getTime()) / 3600000;
    return hours >= 0 && hours < 48 ? kept : null;
  };
  const clock = (date) => date.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });
  const spoken = (seconds) => {
    const hours = Math.floor(seconds / 3600),
      minutes = Math.floor((seconds % 3600) / 60);
    const rest = String(Math.floor(seconds % 60)).padStart(2, "0");
    return hours ? `${hours}:${String(minutes).padStart(2, "0")}:${rest}` : `${minutes}:${rest}`;
  };
  const underWay = one("[data-under-way]");
  const showRun = () => {
    const start = startedAt(underWay.dataset.underWay),
      lasts = Number(underWay.dataset.lasts);
    underWay.hidden = !start || !lasts;
    if (underWay.hidden) return;
    const ends = new Date(start.getTime() + lasts * 1000),
      left = (ends.getTime() - Date.now()) / 1000;
    const due = left > 0 ? `${spoken(left)} left` : `done for ${spoken(-left)}: stop it`;
    underWay.textContent = `Run started ${clock(start)}, last frame ${clock(ends)}: ${due}`;
  };
  if (underWay) {
    showRun();
    setInterval(showRun, 1000);
  }

  // What is set now of a ramp, what comes next, and in how long: by the run as it was started on this
  // device, else by the planned clock.
  const ramp = one("[data-ramp]");
  if (ramp) {
    const lines = [...ramp.querySelectorAll("li")].map((line) => ({
      line,
      press: Number(line.dataset.press),
      planned: Date.parse(line.dataset.at),
      clock: line.querySelector("b").textContent,
      words: line.querySelector("span").textContent,
    }));
    const now = ramp.querySelector("[data-ramp-now]"),
      next = ramp.querySelector("[data-ramp-next]");
    const showRamp = () => {
      const start = startedAt(ramp.dataset.ramp);
      const due = (one) => (start ? start.getTime() + one.press * 1000 : one.planned);
      const passed = lines.filter((one) => due(one) <= Date.now());
      const at = passed.length - 1,
        coming = lines[at + 1];
      // Days before or after, the list alone is of use.
      const near = start || Math.abs(due(lines[0]) - Date.now()) < 86400000;
      for (const [k, one] of lines.entries()) one.line.classList.toggle("is-now", near && k === at);
      if (!near) return;
      now.textContent = at < 0 ? `First: ${lines[0].words}` : `Now: ${lines[at].words}`;
      if (!coming) next.textContent = "Nothing more to change";
      else if (at < 0) next.textContent = `then ${lines[1].clock}: ${lines[1].words}`;
      else {
        const when = start ? clock(new Date(due(coming))) : coming.clock;
        next.textContent = `In ${spoken((due(coming) - Date.now()) / 1000)}, at ${when}: ${coming.words}`;
      }
    };
    showRamp();
    setInterval(showRamp, 1000);
  }

  for (const stepper of document.querySelectorAll(".stepper")) {
    const steps = stepper.dataset.steps.split("|"),
      input = stepper.querySelector("input");
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
  const watch = one("[data-watch]"),
    setup = form.dataset.take,
    ofRun = "lasts" in form.dataset;
  let ticking = null,
    stopped = null;
  const passed = () => spoken((Date.now() - Number(startedAt(setup))) / 1000);
  const tick = () => (watch.textContent = `${ofRun ? "Run stopped" : "Stop"} at ${passed()}`);
  const run = () => {
    tick();
    ticking = setInterval(tick, 250);
    if (underWay) showRun();
  };
  watch.hidden = false;
  if (startedAt(setup)) run();
  watch.addEventListener("click", () => {
    const start = startedAt(setup);
    if (start) {
      clearInterval(ticking);
      form.elements.namedItem("length").value = passed();
      stopped = start;
      localStorage.removeItem(watchKey(setup));
      watch.textContent = ofRun ? "Run started again" : "Start the watch again";
      if (underWay) showRun();
      return;
    }
    localStorage.setItem(watchKey(setup), new Date().toISOString());
    run();
  });
})();

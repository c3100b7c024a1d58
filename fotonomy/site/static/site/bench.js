// The bench in the browser: send what changed, morph in what came back. No figures are
// worked out here; a scale only picks the next of the values the server offers.
document.addEventListener("alpine:init", () => {
  Alpine.data("bench", () => ({
    init() {
      this.page = this.$root;
      this.changed = new Set(); // names changed since they were last sent
      this.extra = null; // a fix to apply
      this.queue = Promise.resolve();
      this.waiting = false; // a send stands in the queue
      this.gesture = ""; // what a drag is doing now
      this.sending = ""; // the gesture the unsent changes belong to
      listen(this);
      order(this);
      const row = this.page.querySelector(".row[aria-current]");
      if (row) row.parentElement.scrollLeft = row.offsetLeft - row.parentElement.offsetLeft;
      this.page.dataset.ready = ""; // keys are heard from here on
    },

    get form() {
      return document.getElementById("bench");
    },

    // Note a change and send it, at once or when what is under way has been answered.
    change(...names) {
      this.asking?.abort();
      clearTimeout(this.resting);
      this.sending = this.gesture;
      names.forEach((name) => this.changed.add(name));
      this.send();
    },

    // One exchange with the server at a time, in the order of the presses.
    enqueue(task) {
      this.queue = this.queue.then(task, task);
    },

    send() {
      if (this.waiting) return;
      this.waiting = true;
      this.enqueue(() => {
        this.waiting = false;
        return this.exchange();
      });
    },

    async exchange() {
      if (!this.changed.size && !this.extra && !this.recut && !this.nudges) return;
      this.recut = false;
      const fix = this.extra;
      // A fix goes alone; changes made before it are sent with the next answer.
      const sent = new Set(fix ? [] : this.changed);
      const body = this.payload(sent);
      sent.forEach((name) => this.changed.delete(name));
      this.extra = null;
      const nudges = fix ? null : this.nudges;
      if (nudges) {
        body.set("reading_nudge", `${nudges.index}:${nudges.tenths}`);
        this.nudges = null;
      }
      try {
        const answer = await post(this.form.action, body);
        if (answer.redirected) return location.assign(answer.url);
        if (!answer.ok) throw new Error(String(answer.status));
        this.show(await answer.text());
        document.getElementById("trouble").hidden = true;
        if (this.changed.size || this.extra || this.nudges) this.send();
      } catch (error) {
        sent.forEach((name) => this.changed.add(name));
        this.extra = this.extra || fix;
        this.nudges = this.nudges || nudges;
        document.getElementById("trouble").hidden = false;
      }
    },

    // The changed fields, and those in error, whose typed text only the page knows.
    payload(names) {
      const body = new URLSearchParams();
      const all = new FormData(this.form);
      body.set("csrfmiddlewaretoken", all.get("csrfmiddlewaretoken"));
      if (this.sending) body.set("gesture", this.sending);
      if (this.extra) {
        body.set("fix", this.extra);
        return body;
      }
      const wrong = new Set(
        [...this.form.querySelectorAll("[aria-invalid=true]")].map((field) => field.name),
      );
      for (const [name, value] of all) {
        if (names.has(name) || wrong.has(name)) body.append(name, value);
      }
      return body;
    },

    // Undo or redo without leaving the place, unless it reaches beyond this setup.
    takeStep(id) {
      this.enqueue(() => this.undoOrRedo(document.getElementById(id)));
    },

    async undoOrRedo(form) {
      const answer = await post(form.action, new URLSearchParams(new FormData(form))).catch(() => null);
      if (!answer?.ok) document.getElementById("trouble").hidden = false;
      else if (answer.redirected) location.assign(answer.url);
      else this.show(await answer.text());
    },

    show(html) {
      const fresh = new DOMParser().parseFromString(html, "text/html");
      for (const part of [...fresh.body.children]) {
        const present = part.id && document.getElementById(part.id);
        if (present) Alpine.morph(present, document.adoptNode(part), { updating: this.guard.bind(this) });
      }
      this.settle();
      if (this.openPanel()) this.panelSoon();
      document.getElementById("said").textContent =
        document.querySelector(".strip-findings")?.textContent.replace(/\s+/g, " ") || "";
    },

    // Keep what the person has in hand: open folds, and drawings swapped whole.
    guard(from, to, childrenOnly, skip) {
      if (from.nodeType !== 1) return;
      // Most of the bench stays as it was; a native comparison is far cheaper than a walk.
      // A field in the middle of typing is left alone altogether: its mark would be morphed away.
      if ("stays" in to.dataset || from.dataset.typing || from.isEqualNode(to)) skip();
      else if (from.matches("figure.drawing")) {
        from.innerHTML = to.innerHTML;
        skip();
      } else if (from.matches("details") && from.open) {
        to.setAttribute("open", "");
      }
    },

    // Attributes say what the server knows; a field's own value follows unless it changed since.
    settle() {
      for (const field of this.form.querySelectorAll("input, select, textarea")) {
        if (!field.name || this.changed.has(field.name) || field.dataset.typing) continue;
        if (field.type === "checkbox") field.checked = field.defaultChecked;
        else if (field.tagName === "SELECT") {
          const chosen = field.querySelector("option[selected]");
          if (chosen) field.value = chosen.value;
        } else if (field.type !== "hidden" && field.value !== field.defaultValue) {
          field.value = field.defaultValue;
        }
      }
      const open = this.page.classList.contains("show-findings");
      document.querySelector("[data-toggle-findings]").setAttribute("aria-expanded", open);
    },

    // The plans of what stands now. They wait until the hand rests, and never hold up the lanes.
    panelSoon() {
      clearTimeout(this.resting);
      this.resting = setTimeout(() => this.loadPanel(), RESTING_MS);
    },

    openPanel() {
      return PANELS.find((name) => this.page.classList.contains(`show-${name}`));
    },

    async loadPanel() {
      const name = this.openPanel();
      if (!name) return;
      this.asking?.abort();
      this.asking = new AbortController();
      const panel = document.getElementById(name);
      const answer = await ask(panel.dataset.address, this.asking.signal);
      if (answer !== null) panel.innerHTML = answer;
    },

    // The panels over the lanes: plans, and schools of exposing; one at a time.
    togglePanel(name) {
      const open = this.page.classList.toggle(`show-${name}`);
      if (open) {
        this.page.classList.remove("show-findings", ...PANELS.filter((p) => p !== name).map((p) => `show-${p}`));
        this.loadPanel();
      }
      this.settle();
    },

    async play(against = "") {
      const dialog = document.getElementById("play");
      const answer = await ask(`${dialog.dataset.address}?against=${encodeURIComponent(against)}`);
      if (answer === null) return;
      delete dialog.dataset.ready;
      dialog.innerHTML = answer;
      if (!dialog.open) dialog.showModal();
      setUpPlaying();
    },

    toggleFindings() {
      this.page.classList.remove(...PANELS.map((name) => `show-${name}`));
      this.page.classList.toggle("show-findings");
      this.settle();
    },

    // Move a reading by tenths of a stop; what is not sent yet adds up.
    nudge(index, tenths) {
      const waiting = this.nudges?.index === index ? this.nudges.tenths : 0;
      if (this.nudges && this.nudges.index !== index) this.send();
      this.nudges = { index, tenths: waiting + tenths };
      this.asking?.abort();
      this.sending = this.gesture;
      this.send();
    },

    // Move a scale by marks and send; ends are ends.
    step(scale, marks) {
      const options = JSON.parse(scale.dataset.options);
      if (!options.length) return;
      const input = scale.querySelector("input[name]");
      const at = options.findIndex(([text]) => text === input.value);
      const start = at >= 0 ? at : Number(scale.dataset.index);
      this.choose(scale, Math.max(0, Math.min(options.length - 1, start + marks)));
    },

    choose(scale, index) {
      const options = JSON.parse(scale.dataset.options);
      const input = scale.querySelector("input[name]");
      const picked = options[index];
      if (!picked || picked[0] === input.value) return;
      input.value = picked[0];
      scale.querySelector(".track").setAttribute("aria-valuetext", picked[0]);
      scale.querySelectorAll(".mark").forEach((mark, k) => {
        const around = options[index + k - 2];
        mark.textContent = around ? around[1] : "";
        mark.dataset.value = around ? around[0] : "";
        mark.classList.toggle("is-present", k === 2);
      });
      this.change(input.name);
    },
  }));
});

// A part of a page; null where it was called off on the way, or did not come.
async function ask(address, signal) {
  const headers = { "X-Fotonomy-Fragment": THIN.matches ? "thin" : "wide" };
  let answer = null;
  let text = null;
  try {
    answer = await fetch(address, { headers, signal });
    text = await answer.text();
  } catch (error) {
    if (signal?.aborted) return null;
  }
  document.getElementById("trouble").hidden = Boolean(answer?.ok);
  if (answer?.redirected) location.assign(answer.url);
  return answer?.ok && !answer.redirected ? text : null;
}

function post(address, body) {
  const cut = THIN.matches ? "thin" : "wide";
  return fetch(address, { method: "POST", body, headers: { "X-Fotonomy-Fragment": cut } });
}

// Only the cut of the drawings in use is asked for; another width asks for the other one.
const THIN = matchMedia("(max-width: 620px)");
const MARK_PX = 34;
const RESTING_MS = 120;
const PANELS = ["plans", "schools"];

function listen(bench) {
  const page = bench.page;
  document.addEventListener("submit", (event) => {
    if (["undo-form", "redo-form"].includes(event.target.id)) {
      event.preventDefault();
      bench.takeStep(event.target.id);
    }
    if (event.target.id !== "bench") return;
    event.preventDefault();
    const press = event.submitter;
    if (press && press.name === "fix") {
      bench.extra = press.value;
      bench.send();
    } else if (document.activeElement?.form === bench.form && document.activeElement.name) {
      delete document.activeElement.dataset.typing;
      bench.change(document.activeElement.name);
    }
  });
  page.addEventListener("input", (event) => {
    if (event.target.form === bench.form && event.target.matches("input:not([type=checkbox]), textarea"))
      event.target.dataset.typing = "1";
  });
  page.addEventListener("change", (event) => {
    if (event.target.id === "play-against") return bench.play(event.target.value);
    if (event.target.form !== bench.form || !event.target.name) return;
    delete event.target.dataset.typing;
    bench.change(event.target.name);
  });
  page.addEventListener("click", (event) => {
    if (event.target.closest("[data-toggle-findings]")) bench.toggleFindings();
    for (const name of PANELS) {
      if (event.target.closest(`[data-${name}]`)) {
        event.preventDefault();
        bench.togglePanel(name);
      }
      if (event.target.closest(`[data-${name}-close]`)) bench.togglePanel(name);
    }
    if (event.target.closest("[data-play]")) {
      event.preventDefault();
      bench.enqueue(() => bench.play());
    }
    if (event.target.closest("[data-close-dialog]")) event.target.closest("dialog")?.close();
    if (event.target.closest("[data-keys]")) document.getElementById("keys").showModal();
    if (event.target.closest("[data-retry]")) bench.send();
    const bar = event.target.closest("[data-setting]");
    if (bar) track(bar.dataset.setting)?.focus();
  });
  page.addEventListener("wheel", (event) => {
    const held = event.target.closest(".track");
    if (!held || document.activeElement !== held) return;
    event.preventDefault();
    bench.step(held.closest(".scale"), Math.sign(event.deltaY || event.deltaX));
  }, { passive: false });
  drag(bench);
  dragReadings(bench);
  THIN.addEventListener("change", () => {
    bench.recut = true;
    bench.send();
  });
  document.addEventListener("keydown", (event) => keys(bench, event));
}

function track(name) {
  return document.querySelector(`[data-scale="${name}"] .track`);
}

// Drag a track sideways: the ring turns under the finger, one mark every so many pixels.
// A press that does not travel picks the mark under it.
function drag(bench) {
  let hold = null;
  bench.page.addEventListener("pointerdown", (event) => {
    const held = event.target.closest(".track");
    if (!held || event.button) return;
    hold = { scale: held.closest(".scale"), x: event.clientX, moved: 0, id: event.pointerId };
    bench.gesture = `drag-${Date.now()}-${Math.round(performance.now())}`;
    held.setPointerCapture(event.pointerId);
  });
  bench.page.addEventListener("pointermove", (event) => {
    if (!hold || event.pointerId !== hold.id) return;
    const marks = Math.round((hold.x - event.clientX) / MARK_PX);
    if (marks === hold.moved) return;
    bench.step(hold.scale, marks - hold.moved);
    hold.moved = marks;
  });
  const drop = (event) => {
    if (!hold || event.pointerId !== hold.id) return;
    if (!hold.moved && event.type === "pointerup") {
      const under = document.elementsFromPoint(event.clientX, event.clientY)
        .find((element) => element.matches(".mark[data-value]"));
      const options = JSON.parse(hold.scale.dataset.options);
      if (under) bench.choose(hold.scale, options.findIndex(([text]) => text === under.dataset.value));
    }
    hold = null;
    bench.gesture = "";
  };
  bench.page.addEventListener("pointerup", drop);
  bench.page.addEventListener("pointercancel", drop);
}

// Drag a reading along the level drawing: it moves by tenths of a stop, as many as fit into
// the way the finger went. The drawing is swapped on the way, so the figure holds the pointer.
function dragReadings(bench) {
  let hold = null;
  bench.page.addEventListener("pointerdown", (event) => {
    const mark = event.target.closest("[data-reading]");
    if (!mark || event.button) return;
    const svg = mark.ownerSVGElement;
    const tenth = Number(mark.dataset.tenth) * (svg.clientWidth / svg.viewBox.baseVal.width);
    hold = { index: mark.dataset.reading, x: event.clientX, moved: 0, tenth, id: event.pointerId };
    bench.gesture = `reading-${Date.now()}-${Math.round(performance.now())}`;
    mark.closest("figure").setPointerCapture(event.pointerId);
    event.preventDefault();
  });
  bench.page.addEventListener("pointermove", (event) => {
    if (!hold || event.pointerId !== hold.id) return;
    const tenths = Math.round((event.clientX - hold.x) / hold.tenth);
    if (tenths === hold.moved) return;
    bench.nudge(hold.index, tenths - hold.moved);
    hold.moved = tenths;
  });
  const drop = (event) => {
    if (!hold || event.pointerId !== hold.id) return;
    hold = null;
    bench.gesture = "";
  };
  bench.page.addEventListener("pointerup", drop);
  bench.page.addEventListener("pointercancel", drop);
}

// Drag the running order; the server keeps the new one and says what can be undone.
function order(bench) {
  const list = bench.page.querySelector("[data-order]");
  Sortable.create(list, {
    animation: matchMedia("(prefers-reduced-motion: reduce)").matches ? 0 : 120,
    delay: 200,
    delayOnTouchOnly: true,
    onEnd: (event) => {
      if (event.oldIndex !== event.newIndex) bench.enqueue(keep);
    },
  });
  async function keep() {
    const body = new URLSearchParams();
    body.set("csrfmiddlewaretoken", bench.form.querySelector("[name=csrfmiddlewaretoken]").value);
    body.set("setup", list.querySelector("[aria-current]").dataset.setup);
    list.querySelectorAll("[data-setup]").forEach((row) => body.append("order", row.dataset.setup));
    const answer = await post(list.dataset.order, body).catch(() => null);
    if (answer?.ok) bench.show(await answer.text());
    else document.getElementById("trouble").hidden = false;
  }
}

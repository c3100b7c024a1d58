// The day: a setup dragged along the hours or to another place, stretched, or moved by arrow keys.
// Every drop is an action of the queue; what comes back is put in place. Nothing is worked out here
// but minutes from px.
window.fotonomy = window.fotonomy || {};

// Lines of JSON out of a stream of bytes.
fotonomy.linesOf = async function* (stream) {
  const reader = stream.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  for (;;) {
    const { value, done } = await reader.read();
    if (done) return;
    const parts = (rest + value).split("\n");
    rest = parts.pop();
    for (const part of parts) yield JSON.parse(part);
  }
};

document.addEventListener("alpine:init", () => {
  const { Actions, PostAction, server } = fotonomy;
  const SNAP_MIN = 5;
  const FAR_MIN = 30;
  const EDGE_PX = 8; // so near the end of a block it is stretched, not moved
  const AGAIN_MS = 1200; // keys pressed within this time are one step

  Alpine.data("day", () => ({
    init() {
      this.actions = new Actions({
        carryOut: (action) => this.carryOut(action),
        failed: (error) => server.trouble(true, error.status),
        recovered: () => server.trouble(false),
        refused: async (error, action) => {
          await this.edits.refused(error, action);
          // The drawing goes back to what stands.
          this.redraw(location.href);
        },
        kept: (action) => this.keep(action),
        forgotten: (action) => this.edits.forget(action),
        moved: () => (this.$root.dataset.queue = this.actions?.busy ? "busy" : ""),
      });
      this.edits = new fotonomy.Edits(() => this.actions);
      this.takeOver();
      this.listen();
      this.$root.dataset.ready = "";
    },

    get day() {
      return document.getElementById("day");
    },
    get pxMin() {
      return Number(this.day.dataset.pxMin);
    },

    listen() {
      const root = this.$root;
      root.addEventListener("pointerdown", (event) => this.grip(event));
      root.addEventListener("keydown", (event) => this.key(event));
      root.addEventListener("click", (event) => this.click(event), true);
      root.addEventListener("submit", (event) => this.submit(event));
      root.querySelector("[data-retry]").addEventListener("click", () => this.actions.retry());
      addEventListener("online", () => this.actions.retry());
      let wide = innerWidth;
      addEventListener("resize", () => {
        clearTimeout(this.resizing);
        this.resizing = setTimeout(() => {
          if (innerWidth === wide) return;
          wide = innerWidth;
          fotonomy.sayScreen();
          this.redraw(location.href);
        }, 250);
      });
      addEventListener("popstate", () => this.redraw(location.href));
      addEventListener("beforeunload", (event) => {
        if (!this.actions.idle) event.preventDefault();
      });
    },

    // A form of the page: a move, a way out, a step back.
    submit(event) {
      const arranged = event.target.closest("form[data-arrange]");
      if (arranged) {
        event.preventDefault();
        this.arrange(arranged);
        return;
      }
      const form = event.target.closest("form[data-move]");
      if (!form) return;
      event.preventDefault();
      const body = fotonomy.server.fields(form, event.submitter);
      body.delete("csrfmiddlewaretoken");
      this.post(form.getAttribute("action"), body);
    },

    // The search tells of every better order; the last one, or the best when it is stopped, is taken.
    async arrange(form) {
      const query = fotonomy.server.fields(form);
      query.delete("csrfmiddlewaretoken");
      const going = form.querySelector(".arrange-going");
      const count = form.querySelector("[data-count]");
      const stop = new AbortController();
      form.querySelector("[data-stop]").addEventListener("click", () => stop.abort(), { once: true });
      going.hidden = false;
      count.textContent = "Looking for an order";
      let best = null;
      try {
        const go = () => fetch(`${form.dataset.go}?${query}`, { signal: stop.signal });
        let answer = await go();
        while (answer.status === 503 && !stop.signal.aborted) {
          const ahead = answer.headers.get("X-Fotonomy-Ahead");
          count.textContent = ahead ? `In line, ${ahead} before you` : "Three things of yours are worked out already";
          await new Promise((resolve) => setTimeout(resolve, 1000 * Number(answer.headers.get("Retry-After") || 5)));
          answer = await go();
        }
        if (!answer.ok || answer.redirected) throw new Error(String(answer.status));
        for await (const told of fotonomy.linesOf(answer.body)) {
          if (told.failed) throw new Error("failed");
          best = told;
          count.textContent = `${told.placed} of ${told.of} have an hour`;
        }
      } catch {
        if (!stop.signal.aborted) best = null;
      }
      going.hidden = true;
      if (best === null) {
        server.trouble(!stop.signal.aborted);
        return;
      }
      query.set("starts", JSON.stringify(best.starts));
      query.set("said", best.said || "");
      this.post(form.getAttribute("action"), query);
    },

    // A press on a block takes it in hand without leaving the page.
    click(event) {
      const link = event.target.closest(".block, .day-lines a, .unplaced a");
      if (!link || event.ctrlKey || event.metaKey) return;
      event.preventDefault();
      if (this.dragged) {
        this.dragged = false;
        return;
      }
      const address = link.getAttribute("href");
      history.pushState({}, "", address);
      this.redraw(address, link.dataset.setup);
    },

    async redraw(address, focus) {
      const html = await server.part(address);
      if (html !== null) this.show(html, focus);
    },

    post(address, body) {
      this.actions.add(new PostAction(address, body));
    },

    moveTo(setup, what, gesture = "") {
      const body = new URLSearchParams({ setup, ...what, gesture });
      body.set("light", this.keepsLight() ? "keep" : "estimate");
      this.post(this.$root.dataset.address, body);
    },

    keepsLight() {
      return this.day.querySelector("[name=light][value=keep]:checked") !== null;
    },

    async carryOut(action) {
      const again = Boolean(action.tried);
      action.tried = true;
      const [html] = await Promise.all([server.post(action.address, action.body, action.id, again), this.keep(action)]);
      if (html !== null && !action.leftBehind) this.show(html);
    },

    keep(action) {
      return this.edits.keep(action, action);
    },

    async takeOver() {
      if (await this.edits.takeOver()) this.redraw(location.href);
    },

    show(html, focus) {
      const held = focus || document.activeElement?.closest?.(".block")?.dataset.setup;
      const fold = document.getElementById("move-fold")?.open;
      const fresh = new DOMParser().parseFromString(html, "text/html");
      for (const part of [...fresh.body.children])
        if (part.id) document.getElementById(part.id)?.replaceWith(document.adoptNode(part));
      if (fold) document.getElementById("move-fold")?.setAttribute("open", "");
      if (held) this.day.querySelector(`.block[data-setup="${CSS.escape(held)}"]`)?.focus();
      const said = document.querySelector(".message-line")?.textContent.trim();
      document.getElementById("said").textContent =
        said || document.querySelector(".fits")?.textContent.replace(/\s+/g, " ").trim() || "";
    },

    // Arrow keys: along the hours by five minutes, with Shift by thirty; up and down to another
    // place; with Alt the length.
    key(event) {
      if (event.target.matches("input, select, textarea")) return;
      const letter = { z: "undo-form", y: "redo-form" }[event.key];
      if (letter && !event.ctrlKey && !event.metaKey) {
        document.getElementById(letter)?.querySelector("button:enabled")?.click();
        return;
      }
      const block = event.target.closest(".block");
      const ways = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -1, ArrowDown: 1 };
      const way = ways[event.key];
      if (!block || !way) return;
      event.preventDefault();
      const along = event.key === "ArrowLeft" || event.key === "ArrowRight";
      const step = event.shiftKey ? FAR_MIN : SNAP_MIN;
      const gesture = this.gestureOf(block.dataset.setup);
      // What was pressed before and is not answered yet counts.
      const now = this.present(block);
      if (along && event.altKey) {
        now.minutes = Math.max(SNAP_MIN, now.minutes + way * step);
        this.moveTo(block.dataset.setup, { minutes: now.minutes }, gesture);
      } else if (along) {
        now.starts = Math.max(0, now.starts + way * step);
        this.moveTo(block.dataset.setup, { starts: now.starts }, gesture);
      } else {
        const rows = [...this.day.querySelectorAll(".day-row")];
        const at = rows.findIndex((row) => row.dataset.place === now.place);
        const next = rows[at + way];
        if (!next) return;
        now.place = next.dataset.place;
        this.moveTo(block.dataset.setup, { place: now.place }, gesture);
      }
    },

    present(block) {
      const setup = block.dataset.setup;
      if (this.pressed?.setup !== setup || this.actions.idle) {
        const row = this.rowAt(block.getBoundingClientRect());
        this.pressed = {
          setup,
          starts: Number(block.dataset.starts),
          minutes: Number(block.dataset.minutes),
          place: row?.dataset.place,
        };
      }
      return this.pressed;
    },

    gestureOf(setup) {
      const now = Date.now();
      const last = this.lastKeys;
      const going = last && last.setup === setup && now - last.at < AGAIN_MS;
      this.lastKeys = { setup, at: now, name: going ? last.name : `day-${setup}-${now}` };
      return this.lastKeys.name;
    },

    rowAt(box) {
      const middle = (box.top + box.bottom) / 2;
      return [...this.day.querySelectorAll(".day-row")].find((row) => {
        const own = row.getBoundingClientRect();
        return own.top <= middle && middle < own.bottom;
      });
    },

    // A drag: along is the hour, across is the place, at the end of a block its length.
    grip(event) {
      const block = event.target.closest(".block");
      if (!block || event.button !== 0) return;
      this.dragged = false;
      const bar = block.querySelector(".takes-bar");
      const box = bar.getBoundingClientRect();
      const stretches = box.width > 3 * EDGE_PX && event.clientX > box.right - EDGE_PX;
      const starts = Number(block.dataset.starts);
      const minutes = Number(block.dataset.minutes);
      const from = { x: event.clientX, y: event.clientY };
      const wide = bar.width.baseVal.value;
      let target = null;
      let moved = null;
      const snapped = (value) => Math.round(value / SNAP_MIN) * SNAP_MIN;
      const move = (next) => {
        const dx = next.clientX - from.x;
        const dy = next.clientY - from.y;
        if (!this.dragged && Math.hypot(dx, dy) < 4) return;
        this.dragged = true;
        block.classList.add("is-dragged");
        next.preventDefault();
        if (stretches) {
          const long = Math.max(SNAP_MIN, snapped(minutes + dx / this.pxMin));
          bar.setAttribute("width", wide + (long - minutes) * this.pxMin);
          moved = { minutes: long };
          return;
        }
        const at = Math.max(0, snapped(starts + dx / this.pxMin));
        block.setAttribute("transform", `translate(${(at - starts) * this.pxMin} ${dy})`);
        target?.classList.remove("is-target");
        target = this.rowAt(bar.getBoundingClientRect());
        target?.classList.add("is-target");
        moved = { starts: at, ...(target ? { place: target.dataset.place } : {}) };
      };
      const drop = (last) => {
        removeEventListener("pointermove", move);
        removeEventListener("pointerup", drop);
        removeEventListener("pointercancel", drop);
        target?.classList.remove("is-target");
        block.classList.remove("is-dragged");
        if (last.type === "pointerup" && this.dragged && moved) this.moveTo(block.dataset.setup, moved);
        else {
          block.removeAttribute("transform");
          bar.setAttribute("width", wide);
        }
        // The click that follows a drag selects nothing.
        setTimeout(() => (this.dragged = false), 0);
      };
      addEventListener("pointermove", move);
      addEventListener("pointerup", drop);
      addEventListener("pointercancel", drop);
    },
  }));
});

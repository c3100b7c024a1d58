// The bench: what was done goes into the queue, what comes back is morphed in. No figures are
// worked out here; a scale only picks the next of the values the server offers.
document.addEventListener("alpine:init", () => {
  const { Actions, FieldsAction, NudgeAction, PressAction, PostAction, TaskAction } = fotonomy;
  const { server } = fotonomy;
  const NEWS_MS = 5000;
  const PICTURES_MS = 25;

  // What every component of the page does through the one queue.
  Alpine.store("bench", {
    gesture: "", // what a drag is doing now
    actions: null,

    change(...names) {
      this.actions.add(new FieldsAction(names, this.gesture));
    },
    nudge(index, tenths) {
      this.actions.add(new NudgeAction(index, tenths, this.gesture));
    },
    press(name, value) {
      this.actions.add(new PressAction(name, value));
    },
    post(address, body) {
      this.actions.add(new PostAction(address, body));
    },
    task(task) {
      this.actions.add(new TaskAction(task));
    },
    retry() {
      this.actions.retry();
    },
  });

  Alpine.data("bench", () => ({
    init() {
      this.store = Alpine.store("bench");
      this.store.actions = new Actions({
        carryOut: (action) => this.carryOut(action),
        failed: (error) => server.trouble(true, error.status),
        recovered: () => server.trouble(false),
        refused: (error, action) => this.edits.refused(error, action),
        kept: (action) => this.keep(action),
        forgotten: (action) => this.edits.forget(action),
        // busy, waiting (the last one failed), or neither
        moved: () => (this.$root.dataset.queue = this.state()),
      });
      this.edits = new fotonomy.Edits(() => this.store.actions);
      // A page that was just left may still be closing: it is looked for again.
      for (const wait of [0, 1000]) setTimeout(() => this.takeOver(), wait);
      setInterval(() => this.takeOver(), NEWS_MS);
      setInterval(() => this.askForNews(), NEWS_MS);
      this.store.show = (html) => this.show(html);
      this.store.wrong = () => this.payload(new FieldsAction([]));
      this.listen();
      this.store.stage = new fotonomy.Stage(this.store);
      fotonomy.listenForKeys(this.store);
      this.$root.dataset.ready = ""; // keys are heard from here on
    },

    get form() {
      return document.getElementById("bench");
    },

    state() {
      const actions = this.store.actions;
      return actions?.busy ? "busy" : actions?.waiting.length ? "waiting" : "";
    },

    async carryOut(action) {
      if (action instanceof TaskAction) return action.task();
      window.dispatchEvent(new Event("bench:changing"));
      clearTimeout(this.picturing);
      const again = Boolean(action.tried);
      // What was sent once is sent again as it was: later changes are actions of their own.
      if (!again) Object.assign(action, this.request(action), { tried: true });
      // The browser's own store takes them in their order: this one is in before it is taken out.
      const kept = this.keep(action);
      const [html] = await Promise.all([server.post(action.address, action.body, action.id, again), kept]);
      if (html !== null && this.isHere(action)) this.show(html);
    },

    request(action) {
      if (action instanceof PostAction) return { address: action.address, body: action.body };
      if (action instanceof fotonomy.StepAction) {
        const form = document.getElementById(action.form);
        return { address: form.action, body: String(this.fieldsOf(form)) };
      }
      return { address: this.form.action, body: String(this.payload(action)) };
    },

    // An answer about another setup is not shown here.
    isHere(action) {
      const path = new URL(action.address, location.href).pathname;
      return !action.leftBehind || path === new URL(this.form.action).pathname;
    },

    // Kept in the browser until the server has it.
    keep(action) {
      if (action instanceof TaskAction) return null;
      return this.edits.keep(action, action.tried ? action : this.request(action));
    },

    // What a page that is gone did not get through goes first.
    takeOver() {
      return this.edits.takeOver();
    },

    // Ask what other windows did, while nothing of this one's is under way or half typed.
    async askForNews() {
      const rests = () =>
        document.visibilityState === "visible" &&
        this.store.actions.idle &&
        !this.store.gesture &&
        !this.form.querySelector("[data-typing]");
      if (!rests()) return;
      const seen = server.seen;
      const open = new URL(this.form.action).searchParams.get("open") || "";
      const html = await server.news(`${this.$root.dataset.news}?seen=${seen}&open=${open}`);
      if (html !== null && rests() && seen === server.seen) this.show(html);
    },

    // What an action sends: its fields with those in error, whose typed text only the page knows.
    payload(action) {
      const body = new URLSearchParams();
      const all = new FormData(this.form);
      if (action.gesture) body.set("gesture", action.gesture);
      if (action instanceof PressAction) body.set(action.name, action.value);
      if (action instanceof NudgeAction) body.set("reading_nudge", action.text);
      if (!(action instanceof FieldsAction)) return body;
      const wrong = [...this.form.querySelectorAll("[aria-invalid=true]")].map((field) => field.name);
      const names = new Set([...action.names, ...wrong]);
      for (const [name, value] of all) if (names.has(name)) body.append(name, `${value}`);
      return body;
    },

    show(html) {
      const fresh = new DOMParser().parseFromString(html, "text/html");
      const held = document.activeElement,
        room = held?.closest("#bench [id], .bench-side > [id]")?.id,
        id = held?.id;
      for (const part of [...fresh.body.children]) {
        const present = part.id && document.getElementById(part.id);
        if (present) Alpine.morph(present, document.adoptNode(part), { updating: this.guard.bind(this) });
      }
      this.settle();
      this.keepFocus(held, id, room);
      this.askForPictures();
      // With no notice on show everything is read.
      if (!document.querySelector("#news form")) server.read = server.seen;
      window.dispatchEvent(new Event("bench:shown"));
      document.getElementById("said").textContent =
        document.querySelector(".strip-findings")?.textContent.replace(/\s+/g, " ") || "";
    },

    // What had the focus may be gone, such as a way out that was taken: then what took its place has
    // it, else the room that it stood in.
    keepFocus(held, id, room) {
      const seen = (one) => one?.isConnected && one.getClientRects().length > 0;
      if (!held || held === document.body || seen(held)) return;
      const place = room && document.getElementById(room);
      const next = (id && document.getElementById(id)) || place?.querySelector(".fix, button, a[href], input, select");
      if (seen(next)) next.focus();
      else document.querySelector(".strip-findings")?.focus();
    },

    // Keep what the person has in hand: open folds, a field being typed in, drawings swapped whole.
    guard(from, to, _childrenOnly, skip) {
      if (from.nodeType !== 1) return;
      // A setting under the thumb stays there.
      for (const held of ["is-open", "has-open"])
        if (from.matches(`.settings, .scale`) && from.classList.contains(held)) to.classList.add(held);
      // Most of the bench stays as it was; a native comparison is far cheaper than a walk.
      if ("stays" in to.dataset || from.dataset.typing || from.isEqualNode(to)) skip();
      else if (from.matches("figure.drawing")) {
        from.innerHTML = to.innerHTML;
        skip();
      } else if (from.matches(".monitor img") && from.getAttribute("src") !== to.getAttribute("src")) {
        from.dataset.next = to.getAttribute("src");
        to.dataset.next = from.dataset.next;
        to.setAttribute("src", from.getAttribute("src"));
      } else if (from.matches(".tiles") && from.dataset.layout !== to.dataset.layout) {
        this.replaceTiles(from, to);
        skip();
      } else if (from.matches("details") && from.open) {
        to.setAttribute("open", "");
      }
    },

    // The monitor's pictures cost the server more than all the rest: they are asked for once the
    // hand rests, so that they hold up no drawing.
    askForPictures() {
      clearTimeout(this.picturing);
      this.picturing = setTimeout(() => {
        for (const picture of document.querySelectorAll("img[data-next]")) {
          picture.src = picture.dataset.next;
          delete picture.dataset.next;
        }
      }, PICTURES_MS);
    },

    // Another kind, or another tile open: they are put in anew, and the focus goes where its field is.
    replaceTiles(from, to) {
      const held = document.activeElement;
      const id = from.contains(held) ? held.id || held.closest(".scale")?.querySelector("input")?.id : "";
      from.dataset.layout = to.dataset.layout;
      from.className = to.className;
      // With the blanks between them: the next answer is laid beside this one node by node.
      from.replaceChildren(...to.childNodes);
      const again = id && document.getElementById(id);
      if (!again) return;
      const track = held.matches(".track") ? again.closest(".scale")?.querySelector(".track") : null;
      (track || again).focus();
    },

    // Attributes say what the server knows; a field's own value follows unless it changed since.
    settle() {
      const changed = new Set();
      for (const action of this.store.actions.waiting.slice(1))
        if (action instanceof FieldsAction) action.names.forEach((name) => changed.add(name));
      for (const field of this.form.querySelectorAll("input, select, textarea")) {
        if (!field.name || changed.has(field.name) || field.dataset.typing) continue;
        if (field.type === "checkbox") field.checked = field.defaultChecked;
        else if (field.tagName === "SELECT") {
          const chosen = field.querySelector("option[selected]");
          if (chosen) field.value = chosen.value;
        } else if (field.type !== "hidden" && field.value !== field.defaultValue) {
          field.value = field.defaultValue;
        }
      }
    },

    // Undo or redo without leaving the place, unless it reaches beyond this setup. What waits before
    // it may bring another step to take back: the form is read when its turn has come.
    takeStep(form) {
      if (form.id) this.store.actions.add(new fotonomy.StepAction(form.id));
      else this.store.post(form.action, this.fieldsOf(form));
    },

    fieldsOf(form) {
      const body = fotonomy.server.fields(form);
      body.delete("csrfmiddlewaretoken");
      return body;
    },

    listen() {
      document.addEventListener("submit", (event) => this.submitted(event));
      document.addEventListener("visibilitychange", () => this.askForNews());
      window.addEventListener("online", () => this.store.actions.retry());
      window.addEventListener("beforeunload", (event) => {
        if (!this.store.actions.idle) event.preventDefault();
      });
      this.$root.addEventListener("input", (event) => {
        const field = event.target;
        if (field.form === this.form && field.matches("input:not([type=checkbox]), textarea"))
          field.dataset.typing = "1";
      });
      this.$root.addEventListener("change", (event) => {
        if (event.target.form !== this.form || !event.target.name) return;
        delete event.target.dataset.typing;
        this.store.change(event.target.name);
      });
      this.$root.addEventListener("click", (event) => {
        if (event.target.closest("[data-retry]")) this.store.retry();
        if (event.target.closest("[data-clear-news]")) {
          document.getElementById("news").replaceChildren();
          server.read = server.seen;
        }
        if (event.target.closest("[data-keys]")) document.getElementById("keys").showModal();
        if (event.target.closest("[data-close-dialog]")) event.target.closest("dialog")?.close();
        const word = event.target.closest("[data-puts]");
        if (word) this.put(document.getElementById(word.dataset.into), word.dataset.puts);
        const number = event.target.closest("[data-types]");
        if (number) this.type(document.getElementById(number.dataset.types));
        const bar = event.target.closest("[data-setting]");
        if (bar) document.querySelector(`[data-scale="${bar.dataset.setting}"] .track`)?.focus();
      });
    },

    // A word that is pressed is typed into its field.
    put(field, text) {
      field.value = text;
      field.dispatchEvent(new Event("change", { bubbles: true }));
    },

    // A number on request: the field it is typed into comes out.
    type(field) {
      field.closest(".weight").classList.remove("in-words");
      field.focus();
      field.select();
    },

    submitted(event) {
      if (event.target.matches("#undo-form, #redo-form, [data-step]")) {
        event.preventDefault();
        this.takeStep(event.target);
        if (event.target.matches("[data-step]")) event.target.remove();
      }
      if (event.target.id !== "bench") return;
      event.preventDefault();
      const pressed = event.submitter;
      const field = document.activeElement;
      if (pressed?.name) this.store.press(pressed.name, pressed.value);
      else if (field?.form === this.form && field.name) {
        delete field.dataset.typing;
        this.store.change(field.name);
      }
    },
  }));
});

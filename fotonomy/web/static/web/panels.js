// What opens over the lanes: plans, exposure methods, findings, and the cadence.
document.addEventListener("alpine:init", () => {
  const RESTING_MS = 120;
  const LOADED = ["plans", "methods"];

  Alpine.data("panels", () => ({
    open: "", // plans, methods, findings, or nothing

    init() {
      this.store = Alpine.store("bench");
      this.store.toggle = (name) => this.toggle(name);
      this.store.closePanel = () => this.closePanel();
      this.store.openFold = (id, field) => this.openFold(id, field);
      this.store.play = (against) => this.play(against);
      // A link of another page may lead to a fold.
      const fold = location.hash && document.querySelector(`details.about${location.hash}`);
      if (fold) this.openFold(fold.id);
      this.$root.addEventListener("click", (event) => this.clicked(event));
      this.$root.addEventListener("change", (event) => {
        if (event.target.id === "play-against") this.play(event.target.value);
      });
      // What stands in an open panel is of what stood: it is asked for anew once the hand rests,
      // and never holds up the lanes.
      window.addEventListener("bench:changing", () => this.callOff());
      window.addEventListener("bench:shown", () => {
        this.mark();
        if (LOADED.includes(this.open)) this.resting = setTimeout(() => this.load(), RESTING_MS);
      });
    },

    clicked(event) {
      const on = (selector) => event.target.closest(selector);
      if (on("[data-toggle-findings]")) this.toggle("findings");
      for (const name of LOADED) {
        if (!on(`[data-${name}]`) && !on(`[data-${name}-close]`)) continue;
        event.preventDefault();
        this.toggle(name);
      }
      const fold = on("[data-fold]")?.dataset;
      if (fold) {
        event.preventDefault();
        this.closePanel();
        this.openFold(fold.fold, fold.field);
      }
      if (on("[data-play]")) {
        event.preventDefault();
        this.store.task(() => this.play());
      }
    },

    // A panel that opens takes the focus, and gives it back to what had it when it closes.
    toggle(name) {
      this.callOff();
      const opens = this.open !== name;
      if (opens && !this.open) this.before = document.activeElement;
      this.open = opens ? name : "";
      this.mark();
      if (LOADED.includes(this.open)) this.load();
      if (opens) document.getElementById(name).focus();
      else this.giveBack(name);
    },

    closePanel() {
      if (!this.open) return false;
      this.toggle(this.open);
      return true;
    },

    // A fold opens at a field of it, the first where none is named; the field's group is shown.
    openFold(id, field) {
      const fold = document.getElementById(id);
      const first = ".bfield input:not([type=hidden]), .bfield select";
      const found = (field && document.getElementById(field)) || fold.querySelector(first);
      fold.open = true;
      fold.scrollIntoView({ block: "nearest" });
      const group = found?.closest(".about-group")?.dataset.choice;
      if (group) document.getElementById(group).checked = true;
      found?.focus();
    },

    giveBack(name) {
      const opener = document.querySelector(`[aria-controls="${name}"]`);
      const held = this.before?.isConnected && this.before !== document.body && this.before;
      (held || opener)?.focus();
      this.before = null;
    },

    mark() {
      for (const name of [...LOADED, "findings"]) this.$root.classList.toggle(`show-${name}`, this.open === name);
      for (const opener of document.querySelectorAll("[aria-controls][aria-expanded]"))
        opener.setAttribute("aria-expanded", this.open === opener.getAttribute("aria-controls"));
    },

    callOff() {
      clearTimeout(this.resting);
      this.asking?.abort();
    },

    async load() {
      this.callOff();
      this.asking = new AbortController();
      const panel = document.getElementById(this.open);
      const html = await fotonomy.server.part(panel.dataset.address, this.asking.signal);
      if (html === null) return;
      const held = panel.contains(document.activeElement);
      panel.innerHTML = html;
      // A plan that was taken is what stands now: its panel keeps the focus.
      if (held) panel.focus();
    },

    async play(against = "") {
      const dialog = document.getElementById("play");
      const address = `${dialog.dataset.address}?against=${encodeURIComponent(against)}`;
      const html = await fotonomy.server.part(address);
      if (html === null) return;
      delete dialog.dataset.ready;
      dialog.innerHTML = html;
      if (!dialog.open) dialog.showModal();
      fotonomy.setUpPlaying();
    },
  }));
});

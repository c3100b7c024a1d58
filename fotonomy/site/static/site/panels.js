// What opens over the lanes: plans, schools of exposing, findings, and the cadence.
document.addEventListener("alpine:init", () => {
  const RESTING_MS = 120;
  const LOADED = ["plans", "schools"];

  Alpine.data("panels", () => ({
    open: "", // plans, schools, findings, or nothing

    init() {
      this.store = Alpine.store("bench");
      this.store.toggle = (name) => this.toggle(name);
      this.store.play = (against) => this.play(against);
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
      if (on("[data-play]")) {
        event.preventDefault();
        this.store.task(() => this.play());
      }
    },

    toggle(name) {
      this.callOff();
      this.open = this.open === name ? "" : name;
      this.mark();
      if (LOADED.includes(this.open)) this.load();
    },

    mark() {
      for (const name of [...LOADED, "findings"])
        this.$root.classList.toggle(`show-${name}`, this.open === name);
      document
        .querySelector("[data-toggle-findings]")
        .setAttribute("aria-expanded", this.open === "findings");
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
      if (html !== null) panel.innerHTML = html;
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

// The tiles: one has the stage or none, and where another window needs other drawings they are
// asked for anew. What is open stands in the address, so reload and back keep it.
window.fotonomy = window.fotonomy || {};

fotonomy.Stage = class {
  constructor(store) {
    this.store = store;
    this.drawn = fotonomy.sayScreen();
    document.addEventListener("click", (event) => this.clicked(event));
    window.addEventListener("popstate", () => this.fetch(location.href));
    window.addEventListener("resize", () => this.resized());
  }

  // The name of the open tile, or nothing.
  get opened() {
    const link = document.querySelector("#stage [data-open=none]");
    return link?.id.replace("open-", "") || "";
  }

  clicked(event) {
    const link = event.target.closest("a[data-open]");
    if (!link || event.ctrlKey || event.metaKey || event.shiftKey) return;
    event.preventDefault();
    this.open(link.dataset.open);
  }

  // Open a tile, or close the one that is open ("none"); then `field` has the focus, or the stage,
  // or, where one was closed, its name.
  open(name, field = "") {
    const was = this.opened;
    const address = new URL(location.href);
    address.searchParams.set("open", name);
    this.store.task(async () => {
      if (!(await this.show(address.href))) return;
      history.pushState(null, "", address);
      const wanted = document.getElementById(field || (name === "none" ? `open-${was}` : "stage"));
      wanted?.focus();
      if (field) wanted?.select?.();
    });
  }

  close() {
    if (!this.opened) return false;
    this.open("none");
    return true;
  }

  fetch(address) {
    this.store.task(() => this.show(address));
  }

  // What is refused goes along, so that its text and its error come back.
  async show(address) {
    const wrong = this.store.wrong();
    const html = String(wrong) ? await fotonomy.server.post(address, wrong, "") : await fotonomy.server.part(address);
    if (html === null) return false;
    this.store.show(html);
    return true;
  }

  // Drawn anew once the window rests, and nothing half typed would be taken away.
  resized() {
    clearTimeout(this.resting);
    this.resting = setTimeout(() => {
      if (document.querySelector("#bench [data-typing]")) this.resized();
      else if (fotonomy.sayScreen() !== this.drawn) {
        this.drawn = fotonomy.sayScreen();
        this.fetch(location.href);
      }
    }, 200);
  }
};

// Changes the server has not acknowledged, kept in the browser until it has. A page that was closed
// or reloaded leaves its own behind; the next page of the program takes them over and sends them.
window.fotonomy = window.fotonomy || {};

fotonomy.Unsent = class {
  // Every page that is open holds a lock of its name, so that nobody takes over what it still sends.
  constructor(client) {
    this.client = client;
    this.stale_ms = 20000; // without locks: a page that lives writes again within this time
    navigator.locks?.request(`fotonomy:${client}`, () => new Promise(() => {}));
    this.opened = window.indexedDB
      ? idb
          .openDB("fotonomy", 1, {
            upgrade: (base) => base.createObjectStore("unsent", { keyPath: "id" }),
          })
          .catch(() => null)
      : Promise.resolve(null);
  }

  async keep(entry) {
    const base = await this.opened;
    await base?.put("unsent", { ...entry, client: this.client, at: Date.now() });
  }

  async forget(id) {
    const base = await this.opened;
    await base?.delete("unsent", id);
  }

  // What pages left behind that are gone, in the order it was done; from now on it is this page's.
  async takeOver() {
    const base = await this.opened;
    if (!base) return [];
    const living = await this.living();
    const change = base.transaction("unsent", "readwrite");
    const left = (await change.store.getAll()).filter((entry) =>
      living ? !living.has(entry.client) : Date.now() - entry.at > this.stale_ms,
    );
    left.sort((one, two) => one.order - two.order);
    for (const entry of left) change.store.put({ ...entry, client: this.client, at: Date.now() });
    await change.done;
    return left;
  }

  async living() {
    if (!navigator.locks) return null;
    const { held } = await navigator.locks.query();
    return new Set(held.map((lock) => lock.name.replace("fotonomy:", "")));
  }
};

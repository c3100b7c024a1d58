// Days and exercises that are kept on this device, each for one person: who it is, what is kept, how
// far it is; and all of it dropped when they log out. The worker does the keeping (field-worker.js).
window.fotonomy = window.fotonomy || {};

fotonomy.keptDays = {
  // So long without a word from the worker, and it was ended on the way.
  SILENT_MS: 60000,

  /** The worker, once it is there; null where this browser allows none.
   * @param {string} address
   * @returns {Promise<ServiceWorker | null>}
   */
  async worker(address) {
    if (!navigator.serviceWorker) return null;
    try {
      await navigator.serviceWorker.register(address, { scope: "/" });
      const { active } = await navigator.serviceWorker.ready;
      active?.postMessage({ person: fotonomy.person() });
      return active;
    } catch {
      return null;
    }
  },

  /** How far the keeping of a day is: its state with a moment; null where it was never asked for.
   * @param {string} address
   */
  async state(address) {
    if (!window.caches) return null;
    const states = await caches.open(`field-kept-${fotonomy.person()}`);
    const found = await states.match(address);
    return found ? found.json() : null;
  },

  /** A state in words, and whether it goes on.
   * @param {{state: string, at: string, kept?: number, of?: number, why?: string} | null} found
   * @param {number} now in ms
   */
  said(found, now) {
    if (!found) return { words: "", goesOn: false };
    const at = new Date(found.at);
    if (found.state === "kept") return { words: `Kept ${fotonomy.moment(at)}`, goesOn: false };
    if (found.state === "failed") {
      const full = "No room on this device. What you log still goes out.";
      return {
        words: found.why === "full" ? full : "The network went away: nothing changed, try again.",
        goesOn: false,
      };
    }
    if (now - at.getTime() > this.SILENT_MS)
      return { words: "Keeping it was interrupted: press again.", goesOn: false };
    const words = found.of ? `${found.kept} of ${found.of} pages` : "Working the day out …";
    return { words: `${words}. You may leave this page.`, goesOn: true };
  },

  /** Forget what is kept of a person on this device, and what their pages remembered.
   * @param {string} person
   */
  async drop(person) {
    if (window.caches) for (const name of ["field-pages", "field-kept"]) await caches.delete(`${name}-${person}`);
    for (const key of Object.keys(localStorage)) if (/^(field|checks)-/.test(key)) localStorage.removeItem(key);
  },

  /** Nobody is logged in, or it is not known yet who comes: no kept page is shown. */
  nobody() {
    navigator.serviceWorker?.controller?.postMessage({ person: "" });
  },
};

// Light as it is typed at the spot, read without the server: a change in stops, an EV, or a name.
window.fotonomy = window.fotonomy || {};

{
  // A change by more is a slip of the finger.
  const MOST_STOPS = 20;
  // Beyond these no meter reads (core/constants.py).
  const DARKEST = -12,
    BRIGHTEST = 24;

  fotonomy.typedLight = {
    /** Stops that somebody typed with a sign, "+1", "-1 1/3"; null for anything else.
     * @param {string} text
     * @returns {number | null}
     */
    stops(text) {
      const found = /^([+\-−])\s*(\d+(?:[.,]\d+)?)?\s*(?:([1-5])\/([2346]))?\s*(?:stops?|ev)?$/i.exec(text.trim());
      if (!found || !(found[2] || found[3])) return null;
      const size = Number((found[2] || "0").replace(",", ".")) + (found[3] ? Number(found[3]) / Number(found[4]) : 0);
      if (size > MOST_STOPS) return null;
      return found[1] === "+" ? size : -size;
    },

    /** The EV that a text means for a setup; null where the server is needed to read it.
     * @param {string} text
     * @param {number} planned the EV of the plan
     * @param {Record<string, number>} names EV by the name of a light
     * @returns {number | null}
     */
    read(text, planned, names) {
      const moved = this.stops(text);
      if (moved !== null) return planned + moved;
      const typed = text.trim().toLowerCase().split(/\s+/).join(" ");
      const named = Object.entries(names).find(([name]) => name === typed);
      if (named) return named[1];
      // What begins with a sign is a change: light under zero has its unit in front.
      const ev = /^(?:ev\s*([-−]?\d+(?:[.,]\d+)?)|(\d+(?:[.,]\d+)?)\s*(?:ev)?)$/i.exec(text.trim());
      if (!ev) return null;
      const value = Number((ev[1] || ev[2]).replace("−", "-").replace(",", "."));
      return value >= DARKEST && value <= BRIGHTEST ? value : null;
    },
  };
}

// Talking to the server: fragments in the cut of the drawings this window shows.
window.fotonomy = window.fotonomy || {};

fotonomy.server = {
  /** What a form would send, as text: files are sent another way.
   * @param {HTMLFormElement} form
   * @param {HTMLElement} [pressed]
   */
  fields(form, pressed) {
    const all = [...new FormData(form, pressed)];
    return new URLSearchParams(all.filter(([, value]) => typeof value === "string").map(([k, v]) => [k, `${v}`]));
  },

  // The page says which windows are narrow; nobody else does.
  narrow: matchMedia(document.documentElement.dataset.narrow),
  client: [...crypto.getRandomValues(new Uint8Array(12))].map((byte) => byte.toString(16).padStart(2, "0")).join(""),

  // How far this page has seen what was done to the shoot.
  get seen() {
    return document.getElementById("steps")?.dataset.seen || "";
  },

  // How far a person has read what other windows did: notices stay until they are closed.
  read: "",

  get headers() {
    this.read ||= this.seen;
    return {
      "X-Fotonomy-Fragment": this.narrow.matches ? "thin" : "wide",
      "X-Fotonomy-Client": this.client,
      "X-Fotonomy-Seen": this.read,
      "X-Fotonomy-Person": fotonomy.person(),
    };
  },

  // Post a form; follows a redirect to another page, throws NotAnswered where there is no answer.
  // `id` names the change, `again` says that it was sent before and may have been made.
  async post(address, body, id, again = false) {
    const headers = { ...this.headers, "X-Fotonomy-Action": id };
    if (again) headers["X-Fotonomy-Again"] = "1";
    headers["X-CSRFToken"] = document.querySelector("[name=csrfmiddlewaretoken]").value;
    let answer;
    try {
      answer = await fetch(address, { method: "POST", body: new URLSearchParams(body), headers });
    } catch {
      throw new fotonomy.NotAnswered(0);
    }
    const place = answer.headers.get("X-Fotonomy-Go");
    if (place) {
      location.assign(place);
      return null;
    }
    if (answer.redirected) {
      location.assign(answer.url);
      // Logged out: the change waits in the browser until somebody is back on the bench.
      if (new URL(answer.url).pathname.startsWith("/log-in/")) throw new fotonomy.NotAnswered(401);
      return null;
    }
    if (!answer.ok) throw new fotonomy.NotAnswered(answer.status);
    return answer.text();
  },

  // A part of a page; null where it was called off on the way, or did not come.
  async part(address, signal) {
    try {
      const answer = await fetch(address, { headers: this.headers, signal });
      const text = await answer.text();
      if (answer.redirected) location.assign(answer.url);
      else if (answer.ok) {
        this.trouble(false);
        return text;
      }
    } catch {
      if (signal?.aborted) return null;
    }
    this.trouble(true);
    return null;
  },

  // What another window did since; null where it did nothing, or where nobody answers.
  async news(address) {
    try {
      const answer = await fetch(address, { headers: this.headers });
      this.showHands(JSON.parse(answer.headers.get("X-Fotonomy-Hands") || "{}"));
      return answer.status === 200 && !answer.redirected ? await answer.text() : null;
    } catch {
      return null;
    }
  },

  // Who else of the crew has which setup in hand, by its line of the running order.
  showHands(hands) {
    for (const row of document.querySelectorAll(".row[data-setup]")) {
      const line = row.querySelector(".row-hands"),
        names = hands[row.dataset.setup] || [];
      line.textContent = names.length ? `In hand: ${names.join(", ")}` : "";
      line.hidden = !names.length;
    }
  },

  // `status`: what it answered, if it did.
  trouble(shown, status = 0) {
    const notice = document.getElementById("trouble");
    notice.hidden = !shown;
    for (const why of notice.querySelectorAll("[data-why]"))
      why.hidden = why.dataset.why !== (status === 507 ? "full" : "silent");
  },
};

// Talking to the server: fragments in the cut of the drawings this window shows.
window.fotonomy = window.fotonomy || {};

fotonomy.server = {
  // The stylesheet for narrow windows says where they begin; nobody else does.
  narrow: matchMedia(document.getElementById("narrow").media),

  get headers() {
    return { "X-Fotonomy-Fragment": this.narrow.matches ? "thin" : "wide" };
  },

  // Post a form; follows a redirect to another page, throws NotAnswered where there is no answer.
  async post(address, body) {
    let answer;
    try {
      answer = await fetch(address, { method: "POST", body, headers: this.headers });
    } catch {
      throw new fotonomy.NotAnswered("no answer");
    }
    if (answer.redirected) {
      location.assign(answer.url);
      return null;
    }
    if (!answer.ok) throw new fotonomy.NotAnswered(String(answer.status));
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
    } catch (error) {
      if (signal?.aborted) return null;
    }
    this.trouble(true);
    return null;
  },

  trouble(shown) {
    document.getElementById("trouble").hidden = !shown;
  },
};

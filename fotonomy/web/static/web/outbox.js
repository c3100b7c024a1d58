// What was done in this browser and is not at the server yet. Every page that sends later keeps it
// here: changes on the bench and the day, takes and readings, answers of the drill. Each entry is of
// the person who did it and waits for them; what the server refuses stays until somebody drops it.
window.fotonomy = window.fotonomy || {};

/**
 * @typedef {{
 *   uid: string, queue?: string, person?: string, personName?: string, client?: string, touched?: number,
 *   order?: number, refused?: string, [more: string]: any,
 * }} Entry
 */
{
  const STORE = "entries";
  // How a browser says that a store was closed under us.
  const GONE = new Set(["InvalidStateError", "AbortError", "NotFoundError"]);
  const DAYS = ["Sun", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat"];
  const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
  const twoDigits = (number) => String(number).padStart(2, "0");

  fotonomy.TRIES = 3; // of what the server answers with a fault of its own
  fotonomy.LONGEST_WAIT_MS = 15000;
  const FIRST_WAIT_MS = 1000;

  /** How long to wait before the next try, after so many that failed in a row.
   * @param {number} failures
   */
  fotonomy.waitAfter = (failures) => Math.min(fotonomy.LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** Math.max(0, failures - 1));

  /** What an answer of the server means for what was sent.
   *
   * `done`; `signed out`: it waits until its person is back; `closed`: this person may not, or not
   * any more; `refused`: asking again is no use; `later`: no answer, or a fault that may pass.
   * @param {number} status 0 where nobody answered
   * @param {string} [path] where a redirect led to
   * @param {number} [failures] in a row, this one too
   */
  fotonomy.meaningOf = (status, path = "", failures = 1) => {
    if (status === 401 || status === 409 || path.startsWith("/log-in/")) return "signed out";
    if (status === 403) return "closed";
    if ([400, 404, 405, 413, 415, 422].includes(status)) return "refused";
    if (status === 500 && failures >= fotonomy.TRIES) return "refused";
    return status >= 200 && status < 300 ? "done" : "later";
  };

  /** A moment as the program writes it: "Tue 1 Dec, 02:11".
   * @param {Date} at
   */
  fotonomy.moment = (at) =>
    `${DAYS[at.getDay()]} ${at.getDate()} ${MONTHS[at.getMonth()]}, ${twoDigits(at.getHours())}:${twoDigits(at.getMinutes())}`;

  /** Who is logged in on this page, as the server wrote it; empty on pages of nobody. */
  fotonomy.person = () => document.body.dataset.person || "";

  fotonomy.Outbox = class {
    /** Every page that is open holds a lock of its name, so that nobody takes over what it still sends.
     * @param {string} queue what of the outbox this page sends: "edits", "field", "drill"
     * @param {string} [client] the page's own name
     */
    constructor(queue, client = "") {
      this.queue = queue;
      this.client = client;
      this.person = fotonomy.person();
      this.stale_ms = 20000; // without locks: a page that lives writes again within this time
      if (client) navigator.locks?.request(`fotonomy:${client}`, () => new Promise(() => {}));
      this.opened = this.open();
    }

    async open() {
      if (!window.indexedDB) return null;
      try {
        const base = await idb.openDB("fotonomy-outbox", 1, {
          upgrade: (fresh) => fresh.createObjectStore(STORE, { keyPath: "uid" }),
        });
        if (this.person) await fotonomy.moveOldEntries(base, this.person).catch(() => null);
        return base;
      } catch {
        return null;
      }
    }

    /** Do something with the store. Where somebody cleared the site's data meanwhile it is gone: it is
     * opened anew, and what is done from now on is kept there.
     * @template T
     * @param {(base: any) => Promise<T>} act
     * @returns {Promise<T>}
     */
    async with(act) {
      const base = await this.opened;
      try {
        return await act(base);
      } catch (error) {
        if (!base || !GONE.has(error.name)) throw error;
        this.opened = this.open();
        return act(await this.opened);
      }
    }

    /** Keep an entry until it is answered. Throws where this browser has no room, or keeps nothing.
     * @param {Entry} entry
     */
    async keep(entry) {
      await this.with(async (base) => {
        if (!base) throw new Error("this browser keeps nothing");
        await base.put(STORE, {
          order: Date.now(),
          ...entry,
          personName: document.body.dataset.personName || "",
          queue: this.queue,
          person: this.person,
          client: this.client,
          touched: Date.now(),
        });
      });
    }

    /** @param {string} uid */
    async forget(uid) {
      await this.with(async (base) => base?.delete(STORE, uid));
    }

    async all() {
      const found = /** @type {Entry[]} */ ((await this.with(async (base) => base?.getAll(STORE))) || []);
      return found.sort((one, two) => one.order - two.order);
    }

    /** What waits of this person in this queue, the first first; what was refused too. */
    async mine() {
      return (await this.all()).filter((one) => one.queue === this.queue && one.person === this.person);
    }

    /** How many things of other people wait on this device, by their names. */
    async others() {
      const found = new Map();
      for (const one of await this.all())
        if (one.person !== this.person) found.set(one.personName, (found.get(one.personName) || 0) + 1);
      return found;
    }

    /** The server will not have it: it stays, with the words, until somebody drops it or tries again.
     * @param {Entry} entry
     * @param {string} words
     */
    refuse(entry, words) {
      return this.change(entry.uid, (kept) => ({ ...kept, refused: words || "refused" }));
    }

    /** Change an entry where it still is: what somebody dropped meanwhile does not come back.
     * @param {string} uid
     * @param {(kept: Entry) => Entry} made
     */
    async change(uid, made) {
      await this.with(async (base) => {
        if (!base) return;
        const change = base.transaction(STORE, "readwrite");
        const kept = await change.store.get(uid);
        if (kept) change.store.put(made(kept));
        await change.done;
      });
    }

    /** This person may not, or not any more: it waits all the same, and may be dropped.
     * @param {Entry} entry
     * @param {string} words
     */
    close(entry, words) {
      return this.change(entry.uid, (kept) => ({ ...kept, closed: words }));
    }

    /** @param {Entry} entry */
    tryAgain(entry) {
      return this.change(entry.uid, ({ refused: _refused, closed: _closed, ...rest }) => rest);
    }

    /** What pages left behind that are gone, in the order it was done; from now on it is this page's. */
    async takeOver() {
      const living = await this.living();
      return this.with(async (base) => (base ? this.taken(base, living) : []));
    }

    /** @param {any} base
     * @param {Set<string> | null} living
     */
    async taken(base, living) {
      const change = base.transaction(STORE, "readwrite");
      const left = (await change.store.getAll()).filter(
        (entry) =>
          entry.queue === this.queue &&
          entry.person === this.person &&
          !entry.refused &&
          (living ? !living.has(entry.client) : Date.now() - entry.touched > this.stale_ms),
      );
      left.sort((one, two) => one.order - two.order);
      for (const entry of left) change.store.put({ ...entry, client: this.client, touched: Date.now() });
      await change.done;
      return left;
    }

    async living() {
      if (!navigator.locks) return null;
      const { held } = await navigator.locks.query();
      return new Set(held.map((lock) => lock.name.replace("fotonomy:", "")));
    }

    /** Draw what waits into a box, with what can be done about it.
     * @param {HTMLElement} box with a heading; its list comes under that
     * @param {{
     *   words: (entry: Entry) => string, pressed: (again: Entry | null) => void,
     *   only?: (entry: Entry) => boolean, others?: boolean,
     * }} page what an entry is called, what follows a press (with the entry to be tried again), which
     *   entries stand there, and whether those of other people are counted
     * @returns {Promise<Entry[]>} those that are drawn
     */
    async draw(box, page) {
      const mine = (await this.mine()).filter((entry) => !page.only || page.only(entry));
      const others = page.others ? [...(await this.others())] : [];
      // Drawn anew only where it is another: a button stays under the thumb.
      const now = JSON.stringify([mine.map((one) => [one.uid, one.refused, one.closed]), others]);
      if (box.dataset.drawn === now) return mine;
      box.dataset.drawn = now;
      const line = (...parts) => {
        const made = document.createElement("li");
        made.append(...parts);
        return made;
      };
      const button = (text, press, again) => {
        const made = document.createElement("button");
        made.type = "button";
        made.className = "plain";
        made.textContent = text;
        made.addEventListener("click", async () => {
          await press();
          await this.draw(box, page);
          page.pressed(again);
        });
        return made;
      };
      const lines = mine.map((entry) => {
        const why = entry.refused || entry.closed;
        if (!why) return line(page.words(entry));
        const again = button("Try again", () => this.tryAgain(entry), entry);
        const drop = button("Drop", () => this.forget(entry.uid), null);
        return line(`${page.words(entry)} (${why}) `, again, " ", drop);
      });
      for (const [name, count] of others)
        lines.push(
          line(
            `${count} from ${name || "somebody else"}, sent when ${name || "they"} ${name ? "logs" : "log"} in here.`,
          ),
        );
      const list = box.querySelector("ol") || document.createElement("ol");
      if (!list.parentElement) box.firstElementChild.after(list);
      list.replaceChildren(...lines);
      box.hidden = !lines.length;
      return mine;
    }
  };

  /** Sends what waits of a queue in batches, each address for itself: what one refuses stops no other. */
  fotonomy.BatchSender = class {
    /**
     * @param {InstanceType<typeof fotonomy.Outbox>} outbox
     * @param {{
     *   batch: number, token: () => string, stripped?: (entry: Entry) => object,
     *   kept?: (entry: Entry, result: any) => Promise<void>,
     * }} page how a page sends: so many at once, with which token, what of an entry, and what it does
     *   with one that is kept before it is forgotten
     */
    constructor(outbox, page) {
      this.outbox = outbox;
      this.page = page;
      this.failures = new Map(); // of each address, in a row
      this.rests = new Map(); // until when each is left alone, in ms
      this.faulty = new Set(); // those whose last answer was a fault of the server
    }

    /** Send what may go; one run at a time. What it came to: whether somebody is signed out, what is
     * closed to them in words, and whether some of it has to go later.
     * @param {boolean} [now] also to where nobody answered a moment ago
     */
    send(now = false) {
      if (now) this.rests.clear();
      return (this.going ??= this.alone().finally(() => {
        this.going = null;
      }));
    }

    /** One page of a browser sends at a time: the next one finds what is left. */
    alone() {
      const run = () => this.run();
      return navigator.locks ? navigator.locks.request(`fotonomy-send-${this.outbox.queue}`, run) : run();
    }

    async run() {
      const groups = new Map();
      for (const entry of await this.outbox.mine())
        if (!entry.refused) groups.set(entry.send, [...(groups.get(entry.send) || []), entry]);
      const came = { signedOut: false, closed: "", later: false, fault: false };
      for (const [address, entries] of groups) {
        if (Date.now() < (this.rests.get(address) || 0)) {
          came.later = true;
          came.fault ||= this.faulty.has(address);
          continue;
        }
        for (let at = 0; at < entries.length; at += this.page.batch) {
          const meaning = await this.sendPart(address, entries.slice(at, at + this.page.batch));
          came.signedOut ||= meaning === "signed out";
          came.later ||= meaning === "later";
          came.fault ||= meaning === "later" && this.faulty.has(address);
          if (meaning.startsWith("closed: ")) came.closed = meaning.slice("closed: ".length);
          if (meaning !== "done") break;
        }
      }
      return came;
    }

    async sendPart(address, part) {
      const { status, path, data } = await this.post(address, part);
      const failures = status >= 200 && status < 300 ? 0 : (this.failures.get(address) || 0) + 1;
      this.failures.set(address, failures);
      // A server that answers with a fault is there; no answer at all is the line.
      if (status >= 500) this.faulty.add(address);
      else this.faulty.delete(address);
      const meaning = fotonomy.meaningOf(status, path, failures);
      if (meaning === "later") this.rests.set(address, Date.now() + fotonomy.waitAfter(failures));
      if (meaning === "closed") {
        const words = data?.refused || "This is closed to you.";
        for (const entry of part) await this.outbox.close(entry, words);
        return `closed: ${words}`;
      }
      if (meaning === "refused") {
        const words = data?.error || (status === 404 ? "it is not there any more" : `the server refused it, ${status}`);
        for (const entry of part) await this.outbox.refuse(entry, words);
        this.failures.delete(address);
      }
      if (meaning !== "done") return meaning;
      if (!Array.isArray(data?.results)) return "later";
      for (const result of data.results) {
        const entry = part.find(({ uid }) => uid === result.uid);
        if (!entry) continue;
        if (!result.kept) {
          await this.outbox.refuse(entry, result.words);
          continue;
        }
        // What hangs on an entry may fail by itself: it is asked for again with the entry.
        try {
          await this.page.kept?.(entry, result);
        } catch {
          return "later";
        }
        await this.outbox.forget(entry.uid);
      }
      return "done";
    }

    async post(address, part) {
      const ends = new AbortController();
      const clock = setTimeout(() => ends.abort(), 20000);
      try {
        const answer = await fetch(address, {
          method: "POST",
          cache: "no-store",
          signal: ends.signal,
          headers: {
            Accept: "application/json",
            "Content-Type": "application/json",
            "X-CSRFToken": this.page.token(),
            "X-Fotonomy-Person": this.outbox.person,
          },
          body: JSON.stringify({
            sent_at: new Date().toISOString(),
            entries: part.map((entry) => (this.page.stripped ? this.page.stripped(entry) : entry)),
          }),
        });
        const path = answer.redirected ? new URL(answer.url).pathname : "";
        const data = await answer.json().catch(() => null);
        return { status: answer.status, path, data };
      } catch {
        return { status: 0, path: "", data: null };
      } finally {
        clearTimeout(clock);
      }
    }
  };

  /** What versions before this one kept in stores of their own comes along once, as this person's.
   * @param {any} base
   * @param {string} person
   */
  fotonomy.moveOldEntries = async (base, person) => {
    const MOVED = "fotonomy-outbox-moved";
    if (localStorage.getItem(MOVED)) return;
    const more = { person, personName: document.body.dataset.personName || "", client: "", touched: 0 };
    const old = async (name, store, keyPath, made) => {
      const from = await idb.openDB(name, 1, {
        upgrade: (fresh) => fresh.createObjectStore(store, { keyPath }),
      });
      for (const entry of await from.getAll(store)) {
        await base.put(STORE, { ...entry, ...more, ...made(entry) });
        await from.delete(store, entry[keyPath]);
      }
      from.close();
    };
    await old("fotonomy", "unsent", "id", (entry) => ({ uid: entry.id, queue: "edits" }));
    await old("fotonomy-field", "waiting", "uid", () => ({ queue: "field" }));
    const answers = JSON.parse(localStorage.getItem("fotonomy-drill-answers") || "[]");
    for (const [order, one] of answers.entries())
      await base.put(STORE, { ...one, ...more, queue: "drill", order, send: "/drill/send/" });
    localStorage.removeItem("fotonomy-drill-answers");
    localStorage.setItem(MOVED, "1");
  };
}

// The one queue of the bench. Whatever is done is an action: fields changed, a reading nudged, a
// press, a step back, a new order. Actions are carried out one at a time and in their order; one
// that fails stays at the head and is tried again by itself, with the next, or when asked. What was
// not tried yet takes in what continues it, so that a drag is not a request a pixel.
window.fotonomy = window.fotonomy || {};

/**
 * @typedef {{tried?: boolean, takesIn?: (next: Action) => boolean}} Action
 * What a page does: carry an action out, say that it failed, that it goes on again, that it can
 * never be done, that the queue moved; and where an action is kept, and forgotten once it is done.
 * @typedef {{
 *   carryOut: (action: Action) => Promise<void>, failed: (error: Error) => void, recovered: () => void,
 *   refused: (error: Error, action: Action) => void, moved: () => void, kept: (action: Action) => void,
 *   forgotten: (action: Action) => void,
 * }} PageOfActions
 */
fotonomy.Actions = class {
  /** @type {PageOfActions["carryOut"]} */ carryOut;
  /** @type {PageOfActions["failed"]} */ failed;
  /** @type {PageOfActions["recovered"]} */ recovered;
  /** @type {PageOfActions["refused"]} */ refused;
  /** @type {PageOfActions["moved"]} */ moved;
  /** @type {PageOfActions["kept"]} */ kept;
  /** @type {PageOfActions["forgotten"]} */ forgotten;

  /** @param {PageOfActions} page */
  constructor(page) {
    this.waiting = [];
    this.busy = false;
    this.stopped = false; // the last one failed: the clock, the next action, or a person tries again
    this.failures = 0;
    Object.assign(this, page);
  }

  get idle() {
    return !this.busy && !this.waiting.length;
  }

  // Add an action. `takesIn` is asked of the last one still waiting: may it take this one in?
  add(action) {
    const last = this.waiting.at(-1);
    if (!last || last.tried || !last.takesIn?.(action)) this.waiting.push(action);
    this.kept(this.waiting.at(-1));
    this.stopped = false;
    return this.go();
  }

  retry() {
    clearTimeout(this.clock);
    this.stopped = false;
    return this.go();
  }

  async go() {
    if (this.busy) return;
    this.busy = true;
    this.moved();
    while (this.waiting.length && !this.stopped) {
      const action = this.waiting[0];
      try {
        await this.carryOut(action);
        this.done(action);
        this.failures = 0;
        this.recovered();
      } catch (error) {
        this.missed(action, error);
      }
    }
    this.busy = false;
    this.moved();
  }

  done(action) {
    this.waiting.shift();
    this.forgotten(action);
  }

  // No answer: it stays at the head and is sent again, later each time. An answer that says it can
  // never be done takes it out, and the page says so.
  missed(action, error) {
    if (!(error instanceof fotonomy.NotAnswered)) console.error(error);
    this.failures += 1;
    const meaning = fotonomy.meaningOf(error.status || 0, "", this.failures);
    if (meaning === "refused" || meaning === "closed") {
      this.waiting.shift();
      this.failures = 0;
      this.refused(error, action);
      return;
    }
    this.stopped = true;
    this.failed(error);
    clearTimeout(this.clock);
    this.clock = setTimeout(() => this.retry(), fotonomy.waitAfter(this.failures));
  }
};

// The server did not answer, or not with what was asked for; `status` is 0 where it said nothing.
fotonomy.NotAnswered = class extends Error {
  constructor(status) {
    super(String(status || "no answer"));
    this.status = status;
  }
};

// Names of fields changed; what they hold is read when they are sent.
fotonomy.FieldsAction = class {
  constructor(names, gesture = "") {
    this.names = new Set(names);
    this.gesture = gesture;
  }

  takesIn(next) {
    if (!(next instanceof fotonomy.FieldsAction) || next.gesture !== this.gesture) return false;
    next.names.forEach((name) => this.names.add(name));
    return true;
  }
};

// Readings moved by tenths of a stop; nudges of one drag add up, each reading its own.
fotonomy.NudgeAction = class {
  constructor(index, tenths, gesture = "") {
    this.tenths = new Map([[index, tenths]]);
    this.gesture = gesture;
  }

  takesIn(next) {
    if (!(next instanceof fotonomy.NudgeAction) || next.gesture !== this.gesture) return false;
    for (const [index, tenths] of next.tenths) this.tenths.set(index, (this.tenths.get(index) || 0) + tenths);
    return true;
  }

  get text() {
    return [...this.tenths].map(([index, tenths]) => `${index}:${tenths}`).join(",");
  }
};

// A button with a name and a value: a fix, a reading dropped. Each press is its own.
fotonomy.PressAction = class {
  constructor(name, value) {
    Object.assign(this, { name, value });
  }
};

// A form of its own: a step back, a new order, or what a page that is gone left unsent.
fotonomy.PostAction = class {
  constructor(address, body, id) {
    Object.assign(this, { address, body: String(body), id });
  }
};

// A step back or forward, by the form that then names it.
fotonomy.StepAction = class {
  constructor(form) {
    this.form = form;
  }
};

// Anything else that has to wait its turn; it is not kept.
fotonomy.TaskAction = class {
  constructor(task) {
    this.task = task;
  }
};

// What pages of edits share: the actions of their queue, kept in the outbox until the server has them.
fotonomy.Edits = class {
  /** @param {() => InstanceType<typeof fotonomy.Actions>} actions the queue of the page */
  constructor(actions) {
    this.outbox = new fotonomy.Outbox("edits", fotonomy.server.client);
    this.actions = actions;
    this.order = Date.now(); // counts the actions, over pages as well
    this.drawRefused();
  }

  /** The action of an entry that was kept: sent as it was. */
  made(entry) {
    return Object.assign(new fotonomy.PostAction(entry.address, entry.body, entry.uid), {
      order: entry.order,
      tried: true,
      leftBehind: true,
    });
  }

  /** Keep an action in this browser, as it is sent, until the server has it. */
  keep(action, sent) {
    action.id ??= `${fotonomy.server.client}-${(this.order += 1).toString(36).slice(-6)}`.slice(-32);
    action.order ??= this.order;
    // A browser that keeps nothing still sends.
    return this.outbox
      .keep({ uid: action.id, order: action.order, address: sent.address, body: sent.body })
      .catch(() => null);
  }

  forget(action) {
    if (action.id) this.outbox.forget(action.id);
  }

  /** What a page that is gone left behind goes first; true where there was something. */
  async takeOver() {
    const left = await this.outbox.takeOver();
    if (!left.length) return false;
    this.actions().waiting.unshift(...left.map((entry) => this.made(entry)));
    await this.actions().retry();
    return true;
  }

  async refused(error, action) {
    const entry = (await this.outbox.mine()).find(({ uid }) => uid === action.id);
    if (entry) await this.outbox.refuse(entry, `the server refused it, ${error.status || error.message}`);
    fotonomy.server.trouble(false);
    await this.drawRefused();
  }

  /** What was refused stands on the page until it is dropped, or tried again. */
  drawRefused() {
    return this.outbox.draw(document.getElementById("refused"), {
      words: (entry) => fotonomy.wordsOf(entry.body),
      only: (entry) => Boolean(entry.refused),
      pressed: (again) => again && this.actions().add(this.made(again)),
    });
  }
};

/** What a form sent, in words: "iris f/5.6".
 * @param {string} body
 */
fotonomy.wordsOf = (body) => {
  const said = [...new URLSearchParams(body)].filter(([name]) => !["gesture", "seen", "fix"].includes(name));
  const words = said.slice(0, 3).map(([name, value]) => `${name.replaceAll("_", " ")} ${value}`.trim());
  return words.join(", ") || "a change";
};

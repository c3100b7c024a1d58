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
 *   refused: (error: Error) => void, moved: () => void, kept: (action: Action) => void,
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
    if (error.final || (error.status === 500 && this.failures >= fotonomy.TRIES)) {
      this.done(action);
      this.failures = 0;
      this.refused(error);
      return;
    }
    this.stopped = true;
    this.failed(error);
    clearTimeout(this.clock);
    const wait = Math.min(fotonomy.LONGEST_WAIT_MS, 1000 * 2 ** (this.failures - 1));
    this.clock = setTimeout(() => this.retry(), wait);
  }
};

fotonomy.TRIES = 3; // of what the server answers with a fault of its own
fotonomy.LONGEST_WAIT_MS = 15000;

// The server did not answer, or not with what was asked for. `final`: asking again is no use.
fotonomy.NotAnswered = class extends Error {
  constructor(status) {
    super(String(status || "no answer"));
    this.status = status;
    this.final = [400, 404, 405, 413, 422].includes(status);
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

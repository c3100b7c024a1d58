// The one queue of the bench. Whatever is done is an action: fields changed, a reading nudged, a
// press, a step back, a new order. Actions are carried out one at a time and in their order; one
// that fails stays at the head and is tried again with the next, or when asked. What is not
// under way yet takes in what continues it, so that a drag is not a request a pixel.
window.fotonomy = window.fotonomy || {};

fotonomy.Actions = class {
  constructor({ carryOut, failed, recovered, moved }) {
    this.waiting = [];
    this.busy = false;
    this.stopped = false; // the last one failed: the next action, or a person, tries again
    Object.assign(this, { carryOut, failed, recovered, moved });
  }

  get idle() {
    return !this.busy && !this.waiting.length;
  }

  // Add an action. `takesIn` is asked of the last one still waiting: may it take this one in?
  add(action) {
    const last = this.waiting.at(-1);
    const under = this.busy && this.waiting.length === 1;
    if (!last || under || !last.takesIn?.(action)) this.waiting.push(action);
    this.stopped = false;
    return this.go();
  }

  retry() {
    this.stopped = false;
    return this.go();
  }

  async go() {
    if (this.busy) return;
    this.busy = true;
    this.moved();
    while (this.waiting.length && !this.stopped) {
      try {
        await this.carryOut(this.waiting[0]);
        this.waiting.shift();
        this.recovered();
      } catch (error) {
        if (!(error instanceof fotonomy.NotAnswered)) console.error(error);
        this.stopped = true;
        this.failed(error);
      }
    }
    this.busy = false;
    this.moved();
  }
};

// The server did not answer, or not with what was asked for.
fotonomy.NotAnswered = class extends Error {};

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
    for (const [index, tenths] of next.tenths)
      this.tenths.set(index, (this.tenths.get(index) || 0) + tenths);
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

// Anything else that has to wait its turn.
fotonomy.TaskAction = class {
  constructor(task) {
    this.task = task;
  }
};

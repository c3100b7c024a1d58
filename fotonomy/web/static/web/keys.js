// The keys of the bench: a letter goes to the setting or field that carries it, arrows turn it.
(() => {
  const STEPS = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 };

  window.fotonomy = window.fotonomy || {};
  fotonomy.listenForKeys = (bench) => document.addEventListener("keydown", (event) => keys(bench, event));

  function keys(bench, event) {
    const typing = event.target.matches("input:not([type=checkbox]), textarea, select");
    const scale = event.target.closest?.(".scale");
    if (event.altKey && !typing && ["ArrowUp", "ArrowDown"].includes(event.key)) {
      event.preventDefault();
      const to = event.key === "ArrowUp" ? "up" : "down";
      document.querySelector(`.row-actions [value=${to}]`).click();
      return;
    }
    if (event.altKey && event.key.toLowerCase() === "h") return held(event);
    if (event.ctrlKey || event.metaKey || event.altKey) return undone(bench, event, typing);
    if (scale && stepped(bench, event, scale, typing)) return event.preventDefault();
    if (nudged(bench, event)) return event.preventDefault();
    if (typing && event.key === "Escape") return restore(event);
    if (typing || document.querySelector("dialog[open]")) return;
    if (event.key === "Escape") {
      if (bench.closePanel() || bench.putBack() || bench.stage.close()) event.preventDefault();
      return;
    }
    if (pressed(bench, event.key, scale)) event.preventDefault();
  }

  // Up and down in a reading's field: a tenth of a stop, with Shift a stop.
  function nudged(bench, event) {
    const index = event.target.dataset?.nudge;
    const way = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (index === undefined || !way) return false;
    delete event.target.dataset.typing;
    bench.nudge(index, way * (event.shiftKey ? 10 : 1));
    return true;
  }

  // Hold or free what is in hand, a scale or a field.
  function held(event) {
    const box = event.target.closest?.(".scale, .bfield")?.querySelector(".hold input");
    if (!box) return;
    event.preventDefault();
    box.click();
  }

  function undone(_bench, event, typing) {
    if (typing || event.key.toLowerCase() !== "z" || event.altKey) return;
    event.preventDefault();
    press(event.shiftKey ? "redo-form" : "undo-form");
  }

  function stepped(bench, event, scale, typing) {
    const coarse = Number(scale.dataset.coarse);
    const vertical = ["ArrowUp", "ArrowDown"].includes(event.key);
    if (typing && !vertical) return false;
    if (event.key in STEPS) {
      const input = scale.querySelector("input[list]");
      delete input.dataset.typing;
      bench.step(scale, STEPS[event.key] * (event.shiftKey ? coarse : 1));
      return true;
    }
    if (typing) return false;
    const far = { PageUp: coarse, PageDown: -coarse, Home: -9999, End: 9999 }[event.key];
    if (far) bench.step(scale, far);
    const input = scale.querySelector("input[list]");
    if (/^[0-9]$/.test(event.key)) {
      input.value = "";
      input.focus();
      return false;
    }
    if (event.key === "Enter") {
      input.focus();
      input.select();
    }
    return Boolean(far) || event.key === "Enter";
  }

  // Esc in a field takes back what was typed; where nothing was, it leaves the field, so that the
  // next Esc closes what is open.
  function restore(event) {
    const field = event.target;
    const typed = field.defaultValue !== undefined && field.value !== field.defaultValue;
    const scale = field.closest(".scale")?.querySelector(".track");
    if (!typed && !scale) {
      const head = field.closest(".stage, .tile")?.querySelector("[data-open]");
      return head ? head.focus() : field.blur();
    }
    if (field.defaultValue !== undefined) field.value = field.defaultValue;
    delete field.dataset.typing;
    (scale || field).focus();
  }

  function pressed(bench, key, scale) {
    const lower = key.toLowerCase();
    const letter = /^[a-z]$/.test(lower);
    const lettered = letter ? document.querySelector(`[data-key="${lower}"]`) : null;
    const form = document.getElementById("bench");
    const elsewhere = letter && JSON.parse(form.dataset.elsewhere)[lower];
    const numbered = /^[0-9]$/.test(key) && document.querySelector(`[data-number="${key}"]`);
    const fold = lettered?.closest("details.about");
    if (fold) bench.openFold(fold.id, lettered.id);
    else if (lettered) into(lettered);
    else if (elsewhere) bench.stage.open(...elsewhere);
    else if (numbered) bench.stage.open(numbered.dataset.open);
    else if (lower === "p") bench.toggle("plans");
    else if (lower === "x") bench.toggle("methods");
    else if (lower === "w") wants(bench);
    else if (lower === "v" && "plays" in form.dataset) bench.task(() => bench.play());
    else if (lower === "c") document.querySelector("[data-compare]").click();
    else if (lower === "h" && scale) scale.querySelector(".hold input").click();
    else if (key === "[" || key === "]") neighbour(key === "]");
    else if (lower === "z") press("undo-form");
    else if (lower === "y") press("redo-form");
    else if (key === "!") bench.toggle("findings");
    else if (key === "?") document.getElementById("keys").showModal();
    else return false;
    return true;
  }

  // What is under way decides whether there is a step: the queue keeps the order of the presses.
  function press(id) {
    document.getElementById(id).requestSubmit();
  }

  function into(field) {
    field.focus();
    field.select?.();
  }

  function wants(bench) {
    const fold = document.getElementById("wants");
    if (fold.open) fold.open = false;
    else bench.openFold(fold.id);
  }

  function neighbour(following) {
    const row = document.querySelector(".row[aria-current]");
    const other = following ? row?.nextElementSibling : row?.previousElementSibling;
    other?.querySelector("a").click();
  }
})();

// Numbers that are pressed, or focused and "=": how they came about, in a box beside them.
(() => {
  const NUMBER = ".number, [data-working]";
  const PLACES = "[data-numbers]";
  const CONTROLS = "a, button, input, select, textarea, label, summary, option, .hint, .help";
  let box,
    opener,
    trail = [];

  document.addEventListener(
    "click",
    (event) => {
      if (event.ctrlKey || event.metaKey || event.shiftKey) return;
      const number = event.target.closest?.(NUMBER);
      const inside = box?.contains(event.target);
      if (number) {
        const address = number.dataset.working || number.getAttribute("href");
        if (!address || (number.closest("a, button") && !number.matches("a, button"))) return;
        event.preventDefault();
        event.stopPropagation();
        inside ? follow(address) : show(address, number, number);
        return;
      }
      // A number that has no working of its own leads to all those of its place.
      const place = event.target.closest?.(PLACES);
      if (!place || event.target.closest(CONTROLS) || !isNumber(event)) return;
      event.preventDefault();
      show(place.dataset.numbers, event.target, place);
    },
    true,
  );

  // Whether a press met a figure: of a drawing's label, or of the text under the finger.
  function isNumber(event) {
    if (event.target.closest("svg")) {
      return event.target.closest("text") && /\d/.test(event.target.textContent);
    }
    const at = document.caretPositionFromPoint?.(event.clientX, event.clientY);
    const range = !at && document.caretRangeFromPoint?.(event.clientX, event.clientY);
    const node = at?.offsetNode || range?.startContainer;
    const offset = at ? at.offset : range?.startOffset;
    if (node?.nodeType !== Node.TEXT_NODE) return false;
    return /\d/.test((node.textContent || "").slice(Math.max(0, offset - 1), offset + 1));
  }

  document.addEventListener(
    "keydown",
    (event) => {
      if (event.key === "Escape" && box?.matches(":popover-open")) {
        event.preventDefault();
        event.stopPropagation();
        box.hidePopover();
        opener?.focus?.();
        return;
      }
      if (event.key === "Backspace" && box?.contains(document.activeElement) && trail.length > 1) {
        event.preventDefault();
        back();
        return;
      }
      if (event.key !== "=" || event.ctrlKey || event.altKey || event.metaKey) return;
      const from = /** @type {HTMLElement} */ (event.target);
      if (from.matches("textarea, select, input:not([type=checkbox], [type=radio], [type=range])")) return;
      const number = from.closest?.(NUMBER);
      const place = from.closest?.(PLACES) || from.querySelector?.(PLACES);
      const address = number ? number.dataset.working || number.getAttribute("href") : place?.dataset.numbers;
      if (!address) return;
      event.preventDefault();
      event.stopPropagation();
      show(address, number || place, from);
    },
    true,
  );

  async function show(address, beside, from) {
    trail = [];
    const place = beside.getBoundingClientRect();
    if (!(await fill(address))) return;
    opener = from;
    if (!box.matches(":popover-open")) box.showPopover();
    fotonomy.popover.put(box, place);
    box.focus();
  }

  async function follow(address) {
    if (await fill(address)) box.focus();
  }

  async function back() {
    trail.pop();
    const before = trail.pop();
    if (before && (await fill(before))) box.focus();
  }

  async function fill(address) {
    let text;
    try {
      const answer = await fetch(address, { headers: { "X-Fotonomy-Fragment": "working" } });
      text = answer.ok ? await answer.text() : "<p>This number is not there any more.</p>";
    } catch {
      text = "<p>No network: the working is worked out by the server.</p>";
    }
    box ||= fotonomy.popover.make("How this number came about", "working");
    box.innerHTML = text;
    trail.push(address);
    if (trail.length > 1) {
      const way = document.createElement("button");
      way.type = "button";
      way.className = "plain working-back";
      way.textContent = "Back";
      way.addEventListener("click", back);
      box.prepend(way);
    }
    box.scrollTop = 0;
    return true;
  }
})();

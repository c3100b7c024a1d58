// Words with dots under them: the explanation in a little box beside the word, on any page.
(() => {
  let box, opener;

  document.addEventListener(
    "click",
    (event) => {
      const word = event.target.closest?.("[data-word]");
      if (!word || event.ctrlKey || event.metaKey || event.shiftKey) return;
      event.preventDefault();
      // On a phone the first press on a setting brings it under the thumb, wherever it is pressed.
      const small = window.fotonomy?.server?.narrow?.matches;
      if (small && word.closest(".scale:not(.is-open)")) return;
      event.stopPropagation();
      show(word.dataset.word, word, word.closest("label") ? fieldOf(word) || word : word);
    },
    true,
  );

  // Esc closes the box alone, not what is open behind it.
  document.addEventListener(
    "keydown",
    (event) => {
      if (event.key !== "Escape" || !box?.matches(":popover-open")) return;
      event.preventDefault();
      event.stopPropagation();
      box.hidePopover();
      opener?.focus();
    },
    true,
  );

  // F1 in a field explains its label.
  document.addEventListener("keydown", (event) => {
    if (event.key !== "F1" || event.ctrlKey || event.altKey) return;
    const around = event.target.closest?.(".scale, .bfield, .field, .tile");
    const word = around?.querySelector("[data-word]");
    if (!word) return;
    event.preventDefault();
    show(word.dataset.word, word, event.target);
  });

  function fieldOf(word) {
    return document.getElementById(word.closest("label").htmlFor);
  }

  async function show(key, word, back) {
    const place = word.getBoundingClientRect();
    const answer = await fetch(`${word.getAttribute("href").split("#")[0]}${key}/`);
    if (!answer.ok) return;
    opener = back;
    box ||= fotonomy.popover.make("What this word means");
    box.innerHTML = await answer.text();
    if (!box.matches(":popover-open")) box.showPopover();
    fotonomy.popover.put(box, place);
    box.focus();
  }
})();
